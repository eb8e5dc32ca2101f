"""Shell: hollow a part, leaving walls, with faces open."""

from __future__ import annotations

from typing import Annotated, Literal

from .. import solid as kernel
from ..document import FacePick, StepFields
from ..quantities.markers import Changed, Length
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said


class ShellFields(StepFields):
    open: Annotated[FacePick, Changed()]
    wall: Length = "2 mm"
    side: Literal["inward", "outward"] = "inward"


def _apply(ctx: StepContext) -> StepOutput:
    fields: ShellFields = ctx.fields
    wall = ctx.positive("wall", "The wall")
    part, faces = ctx.faces(fields.open, "open")
    result = kernel.shell(part.solid, faces, wall, ctx.id, outward=fields.side == "outward")
    return StepOutput(parts={fields.open.part: result})


register(
    StepKind(
        kind="shell",
        title="Shell",
        group="hollow",
        about="Hollow a part, leaving walls, with some faces open.",
        fields=ShellFields,
        specs=(
            FieldSpec("open", "faces", "open faces", missing="the face to leave open"),
            FieldSpec("wall", "length", "wall", "2 mm"),
            FieldSpec("side", "choice", "side", "inward", (Choice("inward", "inward"), Choice("outward", "outward"))),
        ),
        sentence=said("Shell, open at ", "{open}", ", with a wall of ", "{wall}", " ", "{side}"),
        apply=_apply,
        suits=("face",),
    )
)
