"""Wall: ribs and webs of one thickness along the lines of a sketch."""

from __future__ import annotations

from typing import Literal

from .. import solid as kernel
from ..errors import StepError
from ..quantities.markers import Length
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said
from ..recipe.picks.paths import SketchPath
from .result import RESULT_SAID, RESULT_SPECS, ResultFields, finished

#: thinner than this is no wall, mm
LEAST_MM = 0.01


class WallFields(ResultFields):
    lines: SketchPath
    thick: Length = "1.6 mm"
    high: Length = "10 mm"
    direction: Literal["up", "down", "both"] = "up"


def _apply(ctx: StepContext) -> StepOutput:
    fields: WallFields = ctx.fields
    shape = ctx.sketch(fields.lines.step, "lines")
    thick, high = ctx.positive("thick", "The thickness"), ctx.positive("high", "The height")
    if thick < LEAST_MM:
        raise StepError(f"A wall is at least {LEAST_MM:g} mm thick.", field="thick")
    if not shape.curves:
        raise StepError("There is no line in that outline to build a wall along.", field="lines")
    start, end = {"up": (0.0, high), "down": (0.0, -high), "both": (-high / 2, high / 2)}[fields.direction]
    try:
        made = kernel.strips(shape.curves, shape.frame, thick, start, end, ctx.id)
    except StepError as error:
        raise StepError(error.message, field=error.field or "thick") from None
    return finished(ctx, [made])


register(
    StepKind(
        kind="wall",
        title="Wall",
        group="make",
        about="Ribs and webs of one thickness along drawn lines.",
        fields=WallFields,
        specs=(
            FieldSpec("lines", "lines", "lines", missing="the lines of an outline"),
            FieldSpec("thick", "length", "thickness", "1.6 mm"),
            FieldSpec("high", "length", "height", "10 mm"),
            FieldSpec(
                "direction",
                "choice",
                "direction",
                "up",
                (Choice("up", "up"), Choice("down", "down"), Choice("both", "both ways, in all")),
            ),
            *RESULT_SPECS,
        ),
        sentence=said(
            "Wall along ", "{lines}", ", ", "{thick}", " thick, ", "{direction}", " by ", "{high}", ",", *RESULT_SAID
        ),
        apply=_apply,
        words="rib web fin partition thin open line",
    )
)
