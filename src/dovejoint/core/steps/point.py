"""Point: a place that other steps refer to: at or beside another, halfway between two, along an edge, or where an axis meets a plane."""

from __future__ import annotations

from typing import Literal

from ..document import EdgePick, PlanePick, StepFields
from ..errors import PickError, StepError
from ..quantities.markers import Length, Number
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said, wanted
from ..recipe.picks import AxisPick, PlacePick, along_edge, axis_of, place_of
from ..solid import Vec3
from ..solid.frame import add, dot, scale, sub

_GROUND = {"rule": "base", "plane": "ground"}


class PointFields(StepFields):
    how: Literal["at", "between", "along", "crossing"] = "at"
    first: PlacePick | None = None
    second: PlacePick | None = None
    edge: EdgePick | None = None
    share: Number = "0.5"
    axis: AxisPick | None = None
    base: PlanePick
    right: Length = "0 mm"
    back: Length = "0 mm"
    up: Length = "0 mm"


def _at(ctx: StepContext) -> Vec3:
    return place_of(ctx, ctx.fields.first, "first")


def _between(ctx: StepContext) -> Vec3:
    """A share of the way from one place to another."""
    one, two = place_of(ctx, ctx.fields.first, "first"), place_of(ctx, ctx.fields.second, "second")
    return add(one, scale(sub(two, one), ctx.number("share")))


def _along(ctx: StepContext) -> Vec3:
    """A share of an edge's length along it."""
    pick = ctx.fields.edge
    if pick is None:
        raise PickError("Pick one edge.", field="edge")
    part, found = ctx.edges(pick.model_copy(update={"chain": False}) if pick.rule == "edges" else pick, "edge")
    if len(found) != 1:
        raise StepError(f"A point lies along one edge; {len(found)} are picked.", field="edge")
    return along_edge(ctx, part, found[0])[0]


def _crossing(ctx: StepContext) -> Vec3:
    """Where an axis meets a plane."""
    if ctx.fields.axis is None:
        raise PickError("Pick the axis.", field="axis")
    axis, plane = axis_of(ctx, ctx.fields.axis, "axis"), ctx.frame(ctx.fields.base, "base")
    steep = dot(axis.direction, plane.z)
    if abs(steep) < 1e-9:
        raise StepError("The axis runs level with that plane, so they do not meet; pick another.", field="base")
    return add(axis.origin, scale(axis.direction, dot(sub(plane.origin, axis.origin), plane.z) / steep))


_HOW = {"at": _at, "between": _between, "along": _along, "crossing": _crossing}


def _apply(ctx: StepContext) -> StepOutput:
    moved = (ctx.number("right"), ctx.number("back"), ctx.number("up"))
    return StepOutput(point=add(_HOW[ctx.fields.how](ctx), moved))


_SHARE = {"how": ["between", "along"]}

register(
    StepKind(
        kind="point",
        title="Point",
        group="refer",
        about="A place to refer to: beside a corner or a centre, between two, along an edge, where an axis meets a plane.",
        fields=PointFields,
        specs=(
            FieldSpec(
                "how",
                "choice",
                "where it is",
                "at",
                (
                    Choice("at", "at"),
                    Choice("between", "between"),
                    Choice("along", "along"),
                    Choice("crossing", "where an axis meets a plane:"),
                ),
            ),
            FieldSpec("first", "place", "place", missing="a place"),
            FieldSpec("second", "place", "second place", missing="another place"),
            FieldSpec("edge", "edge", "edge", missing="an edge"),
            FieldSpec("share", "number", "how far along (0 to 1)", "0.5"),
            FieldSpec("axis", "axis", "axis", missing="an axis"),
            FieldSpec("base", "plane", "plane", _GROUND, missing="a plane or a flat face"),
            FieldSpec("right", "length", "to the right", "0 mm"),
            FieldSpec("back", "length", "to the back", "0 mm"),
            FieldSpec("up", "length", "upwards", "0 mm"),
        ),
        sentence=said(
            "Point ",
            "{how}",
            " ",
            ("{first}", {"how": ["at", "between"]}),
            (" and ", {"how": ["between"]}),
            ("{second}", {"how": ["between"]}),
            ("{edge}", {"how": ["along"]}),
            ("{axis}", {"how": ["crossing"]}),
            (" and ", {"how": ["crossing"]}),
            ("{base}", {"how": ["crossing"]}),
            (", ", _SHARE),
            ("{share}", _SHARE),
            (" of the way", _SHARE),
            *wanted("move it", ", moved ", "{right}", " right, ", "{back}", " back and ", "{up}", " up"),
        ),
        apply=_apply,
        suits=("edge",),
        words="reference place corner centre vertex",
    )
)
