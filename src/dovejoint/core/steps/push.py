"""Push faces: faces of one part or of several moved out or in together; and faces taken away, what lay around them closing up."""

from __future__ import annotations

from typing import Annotated, Literal

from .. import solid as kernel
from ..document import FacePick, StepFields
from ..errors import StepError
from ..quantities.markers import Changed, Length
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said


class PushFields(StepFields):
    faces: Annotated[FacePick, Changed()]
    way: Literal["out", "in"] = "out"
    distance: Length = "1 mm"


def _push(ctx: StepContext) -> StepOutput:
    fields: PushFields = ctx.fields
    by = ctx.positive("distance", "The distance") * (1 if fields.way == "out" else -1)
    parts = {}
    for id, part, faces in ctx.faces_by_part(fields.faces, "faces"):
        try:
            parts[id] = kernel.pushed(part.solid, faces, by, ctx.id)
        except StepError as error:
            raise StepError(error.message, field=error.field or "distance") from None
    return StepOutput(parts=parts)


register(
    StepKind(
        kind="push",
        title="Move faces",
        group="finish edges",
        about="Faces of one part or of several, out or in together.",
        fields=PushFields,
        specs=(
            FieldSpec("faces", "faces", "faces", missing="faces"),
            FieldSpec("way", "choice", "which way", "out", (Choice("out", "out"), Choice("in", "in"))),
            FieldSpec("distance", "length", "distance", "1 mm"),
        ),
        sentence=said("Move ", "{faces}", " ", "{way}", " by ", "{distance}"),
        apply=_push,
        suits=("face",),
        words="offset push pull thicken widen bore larger smaller",
    )
)


class ClosedFields(StepFields):
    faces: Annotated[FacePick, Changed()]


def _without(ctx: StepContext) -> StepOutput:
    parts = {}
    for id, part, faces in ctx.faces_by_part(ctx.fields.faces, "faces"):
        try:
            parts[id] = kernel.without_faces(part.solid, faces, ctx.id)
        except StepError as error:
            raise StepError(error.message, field=error.field or "faces") from None
    return StepOutput(parts=parts)


register(
    StepKind(
        kind="close_over",
        title="Take faces away",
        group="finish edges",
        about="Holes, roundings or bosses; what lies around closes over them.",
        fields=ClosedFields,
        specs=(FieldSpec("faces", "faces", "faces", missing="faces"),),
        sentence=said("Take ", "{faces}", " away, and close over them"),
        apply=_without,
        suits=("face",),
        words="remove delete heal fill hole unround",
    )
)
