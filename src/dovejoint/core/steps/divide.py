"""Divide: a part by a plane or a flat face, keeping one side, or both as two parts."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import PlanePick, StepFields
from ..errors import StepError
from ..quantities.markers import PartMark
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said


class DivideFields(StepFields):
    """``keep`` says what stays of ``part``: what lies over the plane (the way it faces), under it, or both, the latter as ``rest``."""

    part: Annotated[str, PartMark("changes"), Field(max_length=40)]
    plane: PlanePick
    keep: Literal["over", "under", "both"] = "over"
    rest: Annotated[str, PartMark("changes", "keep=both"), Field(max_length=40)] = ""


def _apply(ctx: StepContext) -> StepOutput:
    fields: DivideFields = ctx.fields
    frame = ctx.frame(fields.plane, "plane")
    solid = ctx.part(fields.part).solid
    try:
        kept = kernel.side_of(solid, frame, ctx.id, fields.keep != "under")
        rest = kernel.side_of(solid, frame, ctx.id, False) if fields.keep == "both" else None
    except StepError as error:
        raise StepError(error.message, field=error.field or "plane") from None
    parts = {fields.part: kept}
    if rest is not None:
        if ctx.has_part(fields.rest):
            raise StepError(
                "The other side becomes a part of its own; that one is made by an earlier step.", field="rest"
            )
        parts[fields.rest] = rest
    lumps = max(s.lumps for s in parts.values())
    note = f"One of the two sides falls into {lumps} lumps." if lumps > solid.lumps else ""
    return StepOutput(parts=parts, note=note)


register(
    StepKind(
        kind="divide",
        title="Divide",
        group="divide",
        about="A part by a plane, keeping one side, or both as two parts.",
        fields=DivideFields,
        specs=(
            FieldSpec("part", "part", "which part", missing="a part"),
            FieldSpec("plane", "plane", "by", missing="a plane or a flat face"),
            FieldSpec(
                "keep",
                "choice",
                "what stays",
                "over",
                (
                    Choice("over", "one side"),
                    Choice("under", "the other side"),
                    Choice("both", "both, the other side as new part"),
                ),
            ),
            FieldSpec("rest", "part", "new part"),
        ),
        sentence=said(
            "Divide ",
            "{part}",
            " by ",
            "{plane}",
            ", keeping ",
            "{keep}",
            (" ", {"keep": ["both"]}),
            ("{rest}", {"keep": ["both"]}),
        ),
        apply=_apply,
        words="split halve cut in two saw bed",
    )
)
