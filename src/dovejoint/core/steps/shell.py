"""Shell: hollow a part, leaving walls, with faces open."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import FacePick, StepFields
from ..document.picks import Pick
from ..errors import StepError
from ..quantities.markers import Changed, Length
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, each, register, said


class OwnWall(Pick):
    """Faces whose wall has a thickness of its own."""

    faces: Annotated[FacePick, Changed()]
    wall: Length = "4 mm"


class ShellFields(StepFields):
    open: Annotated[FacePick, Changed()]
    wall: Length = "2 mm"
    more: Annotated[list[OwnWall], Field(max_length=20)] = []
    side: Literal["inward", "outward"] = "inward"


def _apply(ctx: StepContext) -> StepOutput:
    fields: ShellFields = ctx.fields
    wall = ctx.positive("wall", "The wall")
    part, faces = ctx.faces(fields.open, "open")
    own: dict[int, float] = {}
    for k, clause in enumerate(fields.more):
        field = f"more.{k}.faces"
        if clause.faces.part != fields.open.part:
            raise StepError("These faces are of another part than the open ones; pick some of the same.", field=field)
        _, found = ctx.faces(clause.faces, field)
        thick = ctx.positive(f"more.{k}.wall", "The wall")
        if any(abs(own.get(i, thick) - thick) > 1e-9 for i in found):
            raise StepError("A face has two walls here; take it out of one of the two.", field=field)
        own.update(dict.fromkeys(found, thick))
    result = kernel.shell(part.solid, faces, wall, ctx.id, outward=fields.side == "outward", walls_mm=own)
    return StepOutput(parts={fields.open.part: result})


register(
    StepKind(
        kind="shell",
        title="Shell",
        group="hollow",
        about="Hollow a part, leaving walls (some thicker), with some faces open.",
        fields=ShellFields,
        specs=(
            FieldSpec("open", "faces", "open faces", missing="the face to leave open"),
            FieldSpec("wall", "length", "wall", "2 mm"),
            FieldSpec("side", "choice", "side", "inward", (Choice("inward", "inward"), Choice("outward", "outward"))),
            FieldSpec(
                "more",
                "clauses",
                "faces with a wall of their own",
                [],
                specs=(
                    FieldSpec("wall", "length", "wall", "4 mm"),
                    FieldSpec("faces", "faces", "faces", missing="faces"),
                ),
            ),
        ),
        sentence=said(
            "Shell, open at ",
            "{open}",
            ", with a wall of ",
            "{wall}",
            " ",
            "{side}",
            each("more", ", and of ", "{wall}", " at ", "{faces}"),
        ),
        apply=_apply,
        suits=("face",),
    )
)
