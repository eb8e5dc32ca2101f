"""Round between: from one face to another, along all edges that they have in common, or over the strip that lies between them."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from .. import solid as kernel
from ..document import StepFields
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Changed, Length
from ..recipe import FieldSpec, StepContext, StepKind, StepOutput, register, said


class RoundBetweenFields(StepFields):
    """``first`` and ``second`` are faces of one part, of any shape; what lies between them goes."""

    first: Annotated[FlatFace | None, Changed()] = None
    second: Annotated[FlatFace | None, Field()] = None
    radius: Length = "3 mm"


def _apply(ctx: StepContext) -> StepOutput:
    fields: RoundBetweenFields = ctx.fields
    if fields.first is None or fields.second is None:
        raise StepError("Pick two faces of one part.", field="first" if fields.first is None else "second")
    if fields.first.part != fields.second.part:
        raise StepError("The two faces belong to two parts; pick two of one.", field="second")
    part, one = ctx.faces_named(fields.first, "first")
    _, other = ctx.faces_named(fields.second, "second")
    if one == other:
        raise StepError("That is one and the same face; pick another.", field="second")
    radius = ctx.positive("radius", "The radius")
    try:
        made = kernel.rounded_between(part.solid, one, other, radius, ctx.id)
    except StepError as error:
        field = "radius" if "fit" in error.message else "second"
        raise StepError(error.message, field=error.field or field) from None
    return StepOutput(parts={fields.first.part: made})


register(
    StepKind(
        kind="round_between",
        title="Round between faces",
        group="finish edges",
        about="From face to face; a strip between them goes.",
        fields=RoundBetweenFields,
        specs=(
            FieldSpec("first", "any_face", "one face", missing="one face"),
            FieldSpec("second", "any_face", "the other face", missing="another face"),
            FieldSpec("radius", "length", "radius", "3 mm"),
        ),
        sentence=said("Round from ", "{first}", " to ", "{second}", " by ", "{radius}"),
        apply=_apply,
        suits=("plane", "part", "face"),
        words="fillet blend soften between faces rolling",
    )
)
