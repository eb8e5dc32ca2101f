"""Extrude: regions of a sketch become a solid, as a new part or as a change of one."""

from __future__ import annotations

from typing import Literal

from .. import solid as kernel
from ..document import RegionPick
from ..errors import StepError
from ..quantities.markers import Length
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said
from .result import RESULT_SAID, RESULT_SPECS, ResultFields, begin_result, finished


class ExtrudeFields(ResultFields):
    profile: RegionPick
    direction: Literal["up", "down", "both"] = "up"
    extent: Literal["by", "through"] = "by"
    distance: Length = "10 mm"


def _heights(ctx: StepContext, frame: kernel.Frame) -> tuple[float, float]:
    """Start and end over the sketch's plane, mm."""
    fields: ExtrudeFields = ctx.fields
    if fields.extent == "by":
        distance = ctx.positive("distance", "The distance")
        return {"up": (0.0, distance), "down": (0.0, -distance), "both": (-distance / 2, distance / 2)}[
            fields.direction
        ]
    if fields.operation == "new":
        raise StepError("“Through all” needs a part to go through; give a distance.", field="extent")
    low, high = kernel.prism_extent([ctx.part(fields.part).solid], frame)
    # a little beyond on both sides, so that no skin is left standing
    low, high = low - 1.0, high + 1.0
    start, end = {"up": (0.0, high), "down": (0.0, low), "both": (low, high)}[fields.direction]
    if end * (1 if fields.direction == "up" else -1) <= 1.0 and fields.direction != "both":
        raise StepError("There is nothing to go through on that side; turn the direction round.", field="direction")
    return start, end


def _apply(ctx: StepContext) -> StepOutput:
    fields: ExtrudeFields = ctx.fields
    sketch, regions = ctx.regions(fields.profile, "profile")
    start, end = _heights(ctx, sketch.frame)
    several = len(regions) > 1
    tools = [
        kernel.prism(region, sketch.frame, start, end, ctx.id, region.name if several else "") for region in regions
    ]
    return finished(ctx, tools)


register(
    StepKind(
        kind="extrude",
        title="Extrude",
        group="make",
        about="Pull an outline up into a part, or add to one, or cut it.",
        fields=ExtrudeFields,
        specs=(
            FieldSpec("profile", "regions", "outline", missing="an outline"),
            FieldSpec(
                "direction",
                "choice",
                "direction",
                "up",
                (Choice("up", "up"), Choice("down", "down"), Choice("both", "both ways")),
            ),
            FieldSpec("extent", "choice", "how far", "by", (Choice("by", "by"), Choice("through", "through all"))),
            FieldSpec("distance", "length", "distance", "10 mm"),
            *RESULT_SPECS,
        ),
        sentence=said(
            "Extrude ",
            "{profile}",
            " ",
            "{direction}",
            " ",
            "{extent}",
            (" ", {"extent": ["by"]}),
            ("{distance}", {"extent": ["by"]}),
            *RESULT_SAID,
        ),
        apply=_apply,
        suits=("region",),
        words="boss pocket hole bore block plate",
        begin=begin_result,
    )
)
