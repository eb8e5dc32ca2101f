"""Loft: a solid that goes over from one outline to the next, runs out into a point or back into the first, is led along a path, or has its rim kept on guides."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import RegionPick
from ..document.picks import Pick
from ..errors import StepError
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, each, register, said, wanted
from ..recipe.picks import PathPick, PlacePick, path_of, place_of
from .result import RESULT_SAID, RESULT_SPECS, ResultFields, finished

#: one is met by growing and turning, two by moving as well, three by leaning; a fourth would not be met by any even change of a section
_MOST_GUIDES = 3


class Further(Pick):
    """A further outline on the way."""

    profile: RegionPick


class Guide(Pick):
    """A line on which its rim is kept."""

    path: PathPick


class LoftFields(ResultFields):
    """``ends``: with an outline, ``to`` or the last of ``more``; in a point, ``tip``, and then ``to`` is none; or where it began. ``path`` leads
    it between the outlines, where it is wanted."""

    profile: RegionPick
    ends: Literal["outline", "point", "closed"] = "outline"
    to: Annotated[RegionPick | None, Field()] = None
    more: Annotated[list[Further], Field(max_length=40)] = []
    tip: PlacePick | None = None
    shape: Literal["straight", "smooth"] = "straight"
    led: Literal["free", "along"] = "free"
    path: Annotated[PathPick | None, Field()] = None
    guides: Annotated[list[Guide], Field(max_length=_MOST_GUIDES)] = []


def _apply(ctx: StepContext) -> StepOutput:
    fields: LoftFields = ctx.fields
    tip = place_of(ctx, fields.tip, "tip") if fields.ends == "point" else None
    if tip is None and fields.to is None:
        raise StepError("Pick the outline that it goes over into.", field="to")
    profiles: list[tuple[kernel.Region, kernel.Frame]] = []
    for field, pick in (
        ("profile", fields.profile),
        ("to", fields.to if tip is None else None),
        *((f"more.{k}.profile", m.profile) for k, m in enumerate(fields.more)),
    ):
        if pick is None:
            continue
        sketch, regions = ctx.regions(pick, field)
        if len(regions) != 1:
            raise StepError("One area of each outline goes over into the next; point at it.", field=field)
        if profiles and _same_plane(sketch.frame, profiles[-1][1]):
            raise StepError(
                "Two outlines that follow each other lie on one plane; put them on different ones.", field=field
            )
        profiles.append((regions[0], sketch.frame))
    if tip is not None and abs(profiles[-1][1].to_local(tip)[2]) < 1e-4:
        raise StepError("The point lies in the outline's own plane; take one over or under it.", field="tip")
    closed = fields.ends == "closed"
    if closed and len(profiles) < 3:
        raise StepError("Back to the first one it goes over two further outlines or more.", field="more")
    led = None
    if fields.led == "along":
        if fields.path is None:
            raise StepError("Pick the edges or the outline along which it is led.", field="path")
        if tip is not None or closed:
            raise StepError("What is led along a path ends with an outline.", field="ends")
        led = path_of(ctx, fields.path, "path")
    if fields.guides and (tip is not None or closed or led is not None):
        raise StepError(
            "Guides go with a loft that ends with an outline and is not led along a path; take one or the other.",
            field="guides",
        )
    guides = [path_of(ctx, guide.path, f"guides.{k}.path") for k, guide in enumerate(fields.guides)]
    try:
        made = kernel.lofted(
            profiles, ctx.id, ruled=fields.shape == "straight", tip=tip, closed=closed, led=led, guides=guides
        )
    except StepError as error:
        field = "path" if led is not None else "to" if tip is None else "tip"
        raise StepError(error.message, field=error.field or field) from None
    return finished(ctx, [made])


def _same_plane(a: kernel.Frame, b: kernel.Frame) -> bool:
    apart = a.to_local(b.origin)[2]
    return abs(apart) < 1e-6 and abs(abs(sum(p * q for p, q in zip(a.z, b.z, strict=True))) - 1) < 1e-9


_FLAT, _POINT = {"ends": ["outline", "closed"]}, {"ends": ["point"]}
_LED = {"led": ["along"]}

register(
    StepKind(
        kind="loft",
        title="Loft",
        group="make",
        about="Go over from outline to outline, or out into a point.",
        fields=LoftFields,
        specs=(
            FieldSpec("profile", "regions", "first outline", missing="an outline"),
            FieldSpec(
                "ends",
                "choice",
                "how it ends",
                "outline",
                (
                    Choice("outline", "ending flat"),
                    Choice("point", "ending in"),
                    Choice("closed", "back into the first"),
                ),
            ),
            FieldSpec("tip", "place", "the point", missing="a corner or a point"),
            FieldSpec("to", "regions", "next outline", missing="another outline"),
            FieldSpec(
                "more",
                "clauses",
                "a further outline",
                [],
                specs=(FieldSpec("profile", "regions", "outline", missing="an outline"),),
            ),
            FieldSpec(
                "shape",
                "choice",
                "how it goes",
                "straight",
                (Choice("straight", "straight"), Choice("smooth", "smoothly")),
            ),
            FieldSpec(
                "led",
                "choice",
                "how it is led",
                "free",
                (Choice("free", "the shortest way"), Choice("along", "led along")),
            ),
            FieldSpec("path", "path", "path", missing="a path"),
            FieldSpec(
                "guides",
                "clauses",
                "a guide for its rim",
                [],
                specs=(FieldSpec("path", "path", "guide", missing="a guide"),),
            ),
            *RESULT_SPECS,
        ),
        sentence=said(
            "Loft ",
            "{shape}",
            " from ",
            "{profile}",
            (" to ", _FLAT),
            ("{to}", _FLAT),
            each("more", ", then to ", "{profile}"),
            *wanted("end in a point or where it began", ", ", "{ends}", (" ", _POINT), ("{tip}", _POINT)),
            *wanted("lead it along a path", ", ", "{led}", (" ", _LED), ("{path}", _LED)),
            each("guides", ", its rim kept on ", "{path}"),
            ",",
            *RESULT_SAID,
        ),
        apply=_apply,
        suits=("region",),
        words="blend transition funnel taper hull closed ring path guide",
    )
)
