"""Wall: ribs and webs of one thickness along the lines of a sketch."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .. import solid as kernel
from ..errors import StepError
from ..quantities.markers import Length
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said
from ..recipe.picks import UntilPick
from ..recipe.picks.paths import SketchPath
from .result import RESULT_SAID, RESULT_SPECS, ResultFields, finished
from .until import until_met

#: thinner than this is no wall, mm
LEAST_MM = 0.01


class WallFields(ResultFields):
    lines: SketchPath
    thick: Length = "1.6 mm"
    high: Length = "10 mm"
    direction: Literal["up", "down", "both"] = "up"
    extent: Literal["by", "to"] = "by"
    until: Annotated[UntilPick | None, Field()] = None


def _apply(ctx: StepContext) -> StepOutput:
    fields: WallFields = ctx.fields
    shape = ctx.sketch(fields.lines.step, "lines")
    thick = ctx.positive("thick", "The thickness")
    if thick < LEAST_MM:
        raise StepError(f"A wall is at least {LEAST_MM:g} mm thick.", field="thick")
    if not shape.curves:
        raise StepError("There is no line in that outline to build a wall along.", field="lines")

    def pulled(region: kernel.Region, mark: str) -> kernel.NamedSolid:
        if fields.extent == "to":
            return until_met(ctx, region, shape.frame, mark)
        high = ctx.positive("high", "The height")
        start, end = {"up": (0.0, high), "down": (0.0, -high), "both": (-high / 2, high / 2)}[fields.direction]
        return kernel.prism(region, shape.frame, start, end, ctx.id, mark)

    try:
        made = kernel.strips(shape.curves, thick, pulled, ctx.id)
    except StepError as error:
        raise StepError(error.message, field=error.field or "thick") from None
    return finished(ctx, [made])


_BY, _TO = {"extent": ["by"]}, {"extent": ["to"]}

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
            FieldSpec("extent", "choice", "how far", "by", (Choice("by", "by"), Choice("to", "until it meets"))),
            FieldSpec("until", "until", "where it ends", missing="a face, a plane or a part"),
            *RESULT_SPECS,
        ),
        sentence=said(
            "Wall along ",
            "{lines}",
            ", ",
            "{thick}",
            " thick, ",
            "{direction}",
            " ",
            "{extent}",
            (" ", _BY),
            ("{high}", _BY),
            (" ", _TO),
            ("{until}", _TO),
            ",",
            *RESULT_SAID,
        ),  # fmt: skip
        apply=_apply,
        words="rib web fin partition thin open line until",
    )
)
