"""Lay round: an outline or a text laid round a cylindrical face, raised from its part or sunk into it."""

from __future__ import annotations

from typing import Annotated, Literal

from .. import solid as kernel
from ..document import RegionPick, StepFields
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Changed, Length
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, Work, register, said
from .result import changed


class WrapFields(StepFields):
    """The outline's plane lies level with the face's axis; where it is nearest to it the drawing touches the face."""

    profile: RegionPick
    face: Annotated[FlatFace, Changed()]
    way: Literal["raised", "sunk"] = "raised"
    by: Length = "0.6 mm"


def _apply(ctx: StepContext) -> StepOutput:
    fields: WrapFields = ctx.fields
    sketch, regions = ctx.regions(fields.profile, "profile")
    part, index = ctx.faces_named(fields.face, "face")
    by = ctx.positive("by", "The distance")
    marked = [(region, region.name if len(regions) > 1 else "") for region in regions]
    raised = fields.way == "raised"
    tools = kernel.wrapped(part.solid, index, marked, sketch.frame, by if raised else -by, ctx.id)
    work = kernel.fuse if raised else kernel.cut
    try:
        made = work(part.solid, tools, ctx.id)
    except StepError as error:
        raise StepError(error.message, field=error.field or "by") from None
    out = changed(fields.face.part, part.solid, made)
    return StepOutput(
        parts=out.parts, note=out.note, works=(Work(fields.face.part, "add" if raised else "cut", tuple(tools)),)
    )


register(
    StepKind(
        kind="wrap",
        title="Lay round",
        group="make",
        about="An outline or a text round a shaft or in a bore, raised or sunk.",
        fields=WrapFields,
        specs=(
            FieldSpec("profile", "regions", "outline", missing="an outline"),
            FieldSpec("face", "round", "round face", missing="a round face"),
            FieldSpec(
                "way", "choice", "raised or sunk", "raised", (Choice("raised", "raised"), Choice("sunk", "sunk"))
            ),
            FieldSpec("by", "length", "distance", "0.6 mm"),
        ),
        sentence=said("Lay ", "{profile}", " round ", "{face}", ", ", "{way}", " by ", "{by}"),
        apply=_apply,
        suits=("region", "face"),
        words="wrap emboss engrave text letters label scale marks knob dial cylinder",
    )
)
