"""Axis: a line to turn, repeat or lay things about: through two places, square to a plane, where two planes meet, or beside another."""

from __future__ import annotations

from typing import Literal

from ..document import PlanePick, StepFields
from ..errors import PickError, StepError
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said
from ..recipe.picks import AxisPick, PlacePick, axis_of, place_of
from ..solid import Axis
from ..solid.frame import length, meeting, sub, unit

#: places nearer than this have no direction between them, mm
NEAR_MM = 1e-4
_GROUND = {"rule": "base", "plane": "ground"}


class AxisFields(StepFields):
    how: Literal["through", "square", "meet", "beside"] = "through"
    first: PlacePick | None = None
    second: PlacePick | None = None
    base: PlanePick
    other: PlanePick | None = None
    axis: AxisPick | None = None


def _through(ctx: StepContext) -> Axis:
    """Through two places, from the first to the second."""
    one, two = place_of(ctx, ctx.fields.first, "first"), place_of(ctx, ctx.fields.second, "second")
    way = sub(two, one)
    if length(way) < NEAR_MM:
        raise StepError("The two places are one, so there is no line between them; pick another.", field="second")
    return Axis(one, unit(way))


def _square(ctx: StepContext) -> Axis:
    """Through a place, square to a plane."""
    return Axis(place_of(ctx, ctx.fields.first, "first"), ctx.frame(ctx.fields.base, "base").z)


def _meet(ctx: StepContext) -> Axis:
    """Where two planes meet, as near to the first one's origin as the line goes."""
    if ctx.fields.other is None:
        raise PickError("Pick the second plane or flat face.", field="other")
    one, two = ctx.frame(ctx.fields.base, "base"), ctx.frame(ctx.fields.other, "other")
    found = meeting(one, two, one.origin)
    if found is None:
        raise StepError("The two planes lie level with each other, so they do not meet; pick another.", field="other")
    return found


def _beside(ctx: StepContext) -> Axis:
    """Through a place, the way another axis goes."""
    if ctx.fields.axis is None:
        raise PickError("Pick the axis that it runs beside.", field="axis")
    return Axis(place_of(ctx, ctx.fields.first, "first"), axis_of(ctx, ctx.fields.axis, "axis").direction)


_HOW = {"through": _through, "square": _square, "meet": _meet, "beside": _beside}


def _apply(ctx: StepContext) -> StepOutput:
    return StepOutput(axis=_HOW[ctx.fields.how](ctx))


register(
    StepKind(
        kind="axis",
        title="Axis",
        group="refer",
        about="A line to turn or repeat about: through two places, square to a plane, where planes meet, beside another.",
        fields=AxisFields,
        specs=(
            FieldSpec(
                "how",
                "choice",
                "how it lies",
                "through",
                (
                    Choice("through", "through"),
                    Choice("square", "square to"),
                    Choice("meet", "where planes meet:"),
                    Choice("beside", "beside"),
                ),
            ),
            FieldSpec("first", "place", "place", missing="a place"),
            FieldSpec("second", "place", "second place", missing="another place"),
            FieldSpec("base", "plane", "plane", _GROUND, missing="a plane or a flat face"),
            FieldSpec("other", "plane", "second plane", missing="the other plane or flat face"),
            FieldSpec("axis", "axis", "other axis", missing="an axis"),
        ),
        sentence=said(
            "Axis ",
            "{how}",
            " ",
            ("{base}", {"how": ["square", "meet"]}),
            ("{axis}", {"how": ["beside"]}),
            (" through ", {"how": ["square", "beside"]}),
            ("{first}", {"how": ["through", "square", "beside"]}),
            (" and ", {"how": ["through", "meet"]}),
            ("{second}", {"how": ["through"]}),
            ("{other}", {"how": ["meet"]}),
        ),
        apply=_apply,
        suits=("edge", "plane"),
        words="line reference centre",
    )
)
