"""Loft: a solid that goes over from one outline to the next."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import RegionPick
from ..document.picks import Pick
from ..errors import StepError
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, each, register, said
from .result import RESULT_SAID, RESULT_SPECS, ResultFields, finished


class Further(Pick):
    """A further outline on the way."""

    profile: RegionPick


class LoftFields(ResultFields):
    profile: RegionPick
    to: RegionPick
    more: Annotated[list[Further], Field(max_length=40)] = []
    shape: Literal["straight", "smooth"] = "straight"


def _apply(ctx: StepContext) -> StepOutput:
    fields: LoftFields = ctx.fields
    profiles: list[tuple[kernel.Region, kernel.Frame]] = []
    for field, pick in (
        ("profile", fields.profile),
        ("to", fields.to),
        *((f"more.{k}.profile", m.profile) for k, m in enumerate(fields.more)),
    ):
        sketch, regions = ctx.regions(pick, field)
        if len(regions) != 1:
            raise StepError("One area of each outline goes over into the next; point at it.", field=field)
        if any(_same_plane(sketch.frame, frame) for _, frame in profiles):
            raise StepError("Two of the outlines lie on one plane; put them on different ones.", field=field)
        profiles.append((regions[0], sketch.frame))
    try:
        made = kernel.lofted(profiles, ctx.id, ruled=fields.shape == "straight")
    except StepError as error:
        raise StepError(error.message, field=error.field or "to") from None
    return finished(ctx, [made])


def _same_plane(a: kernel.Frame, b: kernel.Frame) -> bool:
    apart = a.to_local(b.origin)[2]
    return abs(apart) < 1e-6 and abs(abs(sum(p * q for p, q in zip(a.z, b.z, strict=True))) - 1) < 1e-9


register(
    StepKind(
        kind="loft",
        title="Loft",
        group="make",
        about="Go over from one outline to another on another plane.",
        fields=LoftFields,
        specs=(
            FieldSpec("profile", "regions", "first outline", missing="an outline"),
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
            " to ",
            "{to}",
            each("more", ", then to ", "{profile}"),
            ",",
            *RESULT_SAID,
        ),
        apply=_apply,
        suits=("region",),
        words="blend transition funnel taper hull",
    )
)
