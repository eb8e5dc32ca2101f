"""Axes: through the origin, along a straight edge, about a round edge or a round face, or along a line of a sketch."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from ... import solid as kernel
from ...document.picks import Pick, SeenFace
from ...errors import PickError, StepError
from ...quantities.markers import PartId, StepId
from ...solid import Axis, Vec3
from ...solid.frame import length, sub, unit
from ..names import find_edge, find_face
from .kind import Namer, PickKind, PickRule, Pointing, Ready, Thing, register_pick

if TYPE_CHECKING:
    from ..context import StepContext

__all__ = ["AxisPick", "BaseAxis", "EdgeAxis", "FaceAxis", "LineAxis", "StepAxis", "axis_of"]


class BaseAxis(Pick):
    """Through the origin: across (left to right), deep (front to back) or up."""

    rule: Literal["axis_base"] = "axis_base"
    axis: Literal["across", "deep", "up"]


class EdgeAxis(Pick):
    """Along a straight edge, or through the middle of a round one and square to it."""

    rule: Literal["axis_edge"] = "axis_edge"
    part: PartId
    edge: SeenFace


class FaceAxis(Pick):
    """The axis of a round face: a cylinder, a cone or a ring."""

    rule: Literal["axis_face"] = "axis_face"
    part: PartId
    face: SeenFace


class LineAxis(Pick):
    """A straight line of a sketch, construction lines too; or the axis of the sketch's own directions through its origin."""

    rule: Literal["axis_line"] = "axis_line"
    step: StepId
    line: Annotated[str, Field(max_length=40)]


class StepAxis(Pick):
    """An axis that an earlier step made."""

    rule: Literal["axis_step"] = "axis_step"
    step: StepId


AxisPick = Annotated[BaseAxis | EdgeAxis | FaceAxis | LineAxis | StepAxis, Field(discriminator="rule")]

_DIRECTIONS: dict[str, Vec3] = {"across": (1.0, 0.0, 0.0), "deep": (0.0, 1.0, 0.0), "up": (0.0, 0.0, 1.0)}
_WORDS = {"across": "the left-to-right axis", "deep": "the front-to-back axis", "up": "the upright axis"}
_OF_SKETCH = {"right": "the line to the right through the origin", "up": "the line upwards through the origin"}


def axis_of(ctx: StepContext, pick: BaseAxis | EdgeAxis | FaceAxis | LineAxis | StepAxis, field: str) -> Axis:
    """The axis that a pick means now. Raises PickError, StepError."""
    try:
        if isinstance(pick, BaseAxis):
            return Axis((0.0, 0.0, 0.0), _DIRECTIONS[pick.axis])
        if isinstance(pick, StepAxis):
            made = ctx.earlier(pick.step, field).axis
            if made is None:
                raise PickError("The step picked makes no axis; pick another.")
            return made
        if isinstance(pick, LineAxis):
            return _of_line(ctx, pick, field)
        part = ctx.part(pick.part, field)
        if isinstance(pick, EdgeAxis):
            found = kernel.edge_axis(part.solid, find_edge(part, pick.edge))
            says = "An axis runs along a straight edge or about a round one; the edge picked is neither."
        else:
            found = kernel.face_axis(part.solid, find_face(part, pick.face))
            says = "The face picked has no axis; pick a round one."
    except PickError as error:
        raise PickError(error.message, field=field) from None
    if found is None:
        raise StepError(says, field=field)
    return found


def _of_line(ctx: StepContext, pick: LineAxis, field: str) -> Axis:
    shape = ctx.sketch(pick.step, field)
    if pick.line in _OF_SKETCH:
        return Axis(shape.frame.origin, shape.frame.x if pick.line == "right" else shape.frame.y)
    curve = shape.sketch.curve(pick.line)
    if curve is None or curve.kind != "line":
        raise PickError("The line picked is not there any more; pick another.", field=field)
    ends = [shape.frame.to_world(p.x, p.y) for p in (shape.sketch.point(id) for id in curve.points) if p is not None]
    if length(sub(ends[1], ends[0])) < 1e-6:
        raise StepError("The line picked has no length, so it has no direction.", field=field)
    return Axis(ends[0], unit(sub(ends[1], ends[0])))


def _line_words(namer: Namer, pick: LineAxis) -> str:
    return f"{_OF_SKETCH.get(pick.line) or namer.line(pick.step, pick.line)} of {namer.step(pick.step, 'outline')}"


def _edge_lights(ctx: StepContext, pick: EdgeAxis) -> list[Thing]:
    return [Thing("edge", pick.part, index=find_edge(ctx.part(pick.part), pick.edge))]


def _face_lights(ctx: StepContext, pick: FaceAxis) -> list[Thing]:
    return [Thing("face", pick.part, index=find_face(ctx.part(pick.part), pick.face))]


register_pick(
    PickKind(
        "axis",
        "Point at a line of an outline, an edge, or a round face.",
        ("axis_base", "axis_edge", "axis_face", "axis_line", "axis_step"),
        (
            Pointing("line", "axis_line", "line"),
            Pointing("edge", "axis_edge", "edge", only=("line", "circle")),
            Pointing("face", "axis_face", "face", only=("cylinder", "cone", "torus")),
        ),
        (
            Ready({"rule": "axis_step"}, "{step}", "axis"),
            *(Ready({"rule": "axis_base", "axis": axis}, words) for axis, words in _WORDS.items()),
            *(
                Ready({"rule": "axis_line", "line": line}, f"{words} of {{step}}", "sketch")
                for line, words in _OF_SKETCH.items()
            ),
        ),
    ),
    PickRule("axis_base", BaseAxis, lambda namer, pick: _WORDS[pick.axis], lambda ctx, pick: []),
    PickRule("axis_edge", EdgeAxis, lambda namer, pick: namer.thing(pick.edge, pick.part, "an edge"), _edge_lights),
    PickRule(
        "axis_face",
        FaceAxis,
        lambda namer, pick: f"the axis of {namer.thing(pick.face, pick.part, 'a round face')}",
        _face_lights,
    ),
    PickRule(
        "axis_step",
        StepAxis,
        lambda namer, pick: namer.step(pick.step, "axis"),
        lambda ctx, pick: [Thing("axis", step=pick.step)],
    ),
    PickRule("axis_line", LineAxis, _line_words, lambda ctx, pick: [Thing("line", step=pick.step, name=pick.line)]),
)
