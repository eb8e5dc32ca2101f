"""Loft: a solid that goes over from one outline to the next, or runs out into a point."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import RegionPick
from ..document.picks import Pick
from ..errors import StepError
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, each, register, said, wanted
from ..recipe.picks import PlacePick, place_of
from .result import RESULT_SAID, RESULT_SPECS, ResultFields, finished


class Further(Pick):
    """A further outline on the way."""

    profile: RegionPick


class LoftFields(ResultFields):
    """``ends``: with an outline, ``to`` or the last of ``more``; or in a point, ``tip``, and then ``to`` is none."""

    profile: RegionPick
    ends: Literal["outline", "point"] = "outline"
    to: Annotated[RegionPick | None, Field()] = None
    more: Annotated[list[Further], Field(max_length=40)] = []
    tip: PlacePick | None = None
    shape: Literal["straight", "smooth"] = "straight"


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
        if any(_same_plane(sketch.frame, frame) for _, frame in profiles):
            raise StepError("Two of the outlines lie on one plane; put them on different ones.", field=field)
        profiles.append((regions[0], sketch.frame))
    if tip is not None and abs(profiles[-1][1].to_local(tip)[2]) < 1e-4:
        raise StepError("The point lies in the outline's own plane; take one over or under it.", field="tip")
    try:
        made = kernel.lofted(profiles, ctx.id, ruled=fields.shape == "straight", tip=tip)
    except StepError as error:
        raise StepError(error.message, field=error.field or ("to" if tip is None else "tip")) from None
    return finished(ctx, [made])


def _same_plane(a: kernel.Frame, b: kernel.Frame) -> bool:
    apart = a.to_local(b.origin)[2]
    return abs(apart) < 1e-6 and abs(abs(sum(p * q for p, q in zip(a.z, b.z, strict=True))) - 1) < 1e-9


_FLAT, _POINT = {"ends": ["outline"]}, {"ends": ["point"]}

register(
    StepKind(
        kind="loft",
        title="Loft",
        group="make",
        about="Go over from one outline to another on another plane, or out into a point.",
        fields=LoftFields,
        specs=(
            FieldSpec("profile", "regions", "first outline", missing="an outline"),
            FieldSpec(
                "ends",
                "choice",
                "how it ends",
                "outline",
                (Choice("outline", "ending flat"), Choice("point", "ending in")),
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
            *wanted("end in a point", ", ", "{ends}", (" ", _POINT), ("{tip}", _POINT)),
            ",",
            *RESULT_SAID,
        ),
        apply=_apply,
        suits=("region",),
        words="blend transition funnel taper hull",
    )
)
