"""Round over: a flat strip between two flat sides becomes as round as its sides allow, with no flat left."""

from __future__ import annotations

from typing import Annotated

from .. import solid as kernel
from ..document import FacePick, StepFields
from ..errors import StepError
from ..quantities.markers import Changed
from ..recipe import FieldSpec, StepContext, StepKind, StepOutput, register, said
from .result import one_by_one


class RoundOverFields(StepFields):
    """Each of the faces is rounded over by itself; how round follows from its sides."""

    faces: Annotated[FacePick, Changed()]


def _apply(ctx: StepContext) -> StepOutput:
    parts = {}
    for id, part, faces in ctx.faces_by_part(ctx.fields.faces, "faces"):
        try:
            parts[id] = one_by_one(part.solid, faces, lambda solid, face: kernel.rounded_over(solid, face, ctx.id))
        except StepError as error:
            raise StepError(error.message, field=error.field or "faces") from None
    return StepOutput(parts=parts)


register(
    StepKind(
        kind="round_over",
        title="Round over",
        group="finish edges",
        about="A strip between two sides: no flat is left.",
        fields=RoundOverFields,
        specs=(FieldSpec("faces", "faces", "faces", missing="flat strips"),),
        sentence=said("Round ", "{faces}", " over, from side to side"),
        apply=_apply,
        suits=("plane", "part", "face"),
        words="full round fillet soften rib edge half",
    )
)
