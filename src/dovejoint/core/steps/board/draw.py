"""Commands that draw on the board."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...document.commands import CommandModel, Outcome, handler
from ...document.model import Project
from ...sketch import (
    add_arc,
    add_arc_about,
    add_arc_slot,
    add_circle,
    add_circle_over,
    add_ellipse,
    add_leaning_rectangle,
    add_line,
    add_point,
    add_polygon,
    add_rectangle,
    add_slot,
    add_spline,
    add_text,
    place_curves,
    reword,
)  # fmt: skip
from ..sources import FlatCurve
from .common import At, Spot, drawn, optional, sketch_of


class DrawRectangle(CommandModel):
    """A rectangle by its centre, or by a corner; ``on`` is a point that it hangs on, ``x`` and ``y`` where that place was written."""

    do: Literal["DrawRectangle"] = "DrawRectangle"
    step: str
    first: At
    corner: At
    by_centre: bool = True
    on: str | None = None
    x: str = Field(default="", max_length=400)
    y: str = Field(default="", max_length=400)
    width: str = Field(default="", max_length=400)
    height: str = Field(default="", max_length=400)


class DrawCircle(CommandModel):
    """A circle by its centre; ``x`` and ``y`` where that was written."""

    do: Literal["DrawCircle"] = "DrawCircle"
    step: str
    centre: At
    radius: float = Field(gt=0, le=1e5)
    on: str | None = None
    x: str = Field(default="", max_length=400)
    y: str = Field(default="", max_length=400)
    diameter: str = Field(default="", max_length=400)


class DrawLine(CommandModel):
    """A line; ``tie`` is what was meant while drawing it (level, upright, or parallel, square or touching with the curve ``to``)."""

    do: Literal["DrawLine"] = "DrawLine"
    step: str
    start: Spot
    end: Spot
    tie: Literal["", "horizontal", "vertical", "parallel", "perpendicular", "tangent"] = ""
    to: str = Field(default="", max_length=40)
    length: str = Field(default="", max_length=400)
    construction: bool = False


class DrawArc(CommandModel):
    """An arc from one spot to another through a place; ``tangent``: the curve that it runs on from smoothly."""

    do: Literal["DrawArc"] = "DrawArc"
    step: str
    start: Spot
    end: Spot
    through: At
    tangent: str = Field(default="", max_length=40)
    construction: bool = False


class DrawSlot(CommandModel):
    do: Literal["DrawSlot"] = "DrawSlot"
    step: str
    start: Spot
    end: Spot
    radius: float = Field(gt=0, le=1e5)
    width: str = Field(default="", max_length=400)
    length: str = Field(default="", max_length=400)


class DrawPolygon(CommandModel):
    """A regular polygon; ``flats`` or ``corners`` is the formula of a diameter, across its flats or its corners."""

    do: Literal["DrawPolygon"] = "DrawPolygon"
    step: str
    centre: Spot
    corner: At
    sides: int = Field(ge=3, le=60)
    flats: str = Field(default="", max_length=400)
    corners: str = Field(default="", max_length=400)


@handler(DrawRectangle)
def _(project: Project, command: DrawRectangle) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    width, height = (optional(project, f) for f in (command.width, command.height))
    grown = add_rectangle(
        sketch, command.first, command.corner, by_centre=command.by_centre, on=command.on, width=width, height=height
    )
    place = Spot(at=command.first, on=command.on, x=command.x, y=command.y)
    return drawn(project, step, grown, "draw a rectangle", [place])


@handler(DrawCircle)
def _(project: Project, command: DrawCircle) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    diameter = optional(project, command.diameter)
    grown = add_circle(sketch, command.centre, command.radius, on=command.on, diameter=diameter)
    place = Spot(at=command.centre, on=command.on, x=command.x, y=command.y)
    return drawn(project, step, grown, "draw a circle", [place])


@handler(DrawLine)
def _(project: Project, command: DrawLine) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    length = optional(project, command.length)
    shape = add_line(
        sketch, command.start.spot, command.end.spot, tie=command.tie, to=command.to, length=length,
        construction=command.construction,
    )  # fmt: skip
    return drawn(project, step, shape, "draw a line", [command.start, command.end])


@handler(DrawArc)
def _(project: Project, command: DrawArc) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    shape = add_arc(
        sketch, command.start.spot, command.end.spot, command.through, tangent=command.tangent,
        construction=command.construction,
    )  # fmt: skip
    return drawn(project, step, shape, "draw an arc", [command.start, command.end])


@handler(DrawSlot)
def _(project: Project, command: DrawSlot) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    width, length = (optional(project, f) for f in (command.width, command.length))
    shape = add_slot(sketch, command.start.spot, command.end.spot, command.radius, width=width, length=length)
    return drawn(project, step, shape, "draw a slot", [command.start, command.end])


@handler(DrawPolygon)
def _(project: Project, command: DrawPolygon) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    flats, corners = (optional(project, f) for f in (command.flats, command.corners))
    shape = add_polygon(sketch, command.centre.spot, command.corner, command.sides, flats=flats, corners=corners)
    return drawn(project, step, shape, "draw a polygon", [command.centre])


class DrawArcAbout(CommandModel):
    """An arc by its centre, its start and the direction of its end."""

    do: Literal["DrawArcAbout"] = "DrawArcAbout"
    step: str
    centre: Spot
    start: Spot
    towards: At
    construction: bool = False


class DrawPoint(CommandModel):
    do: Literal["DrawPoint"] = "DrawPoint"
    step: str
    at: Spot


@handler(DrawPoint)
def _(project: Project, command: DrawPoint) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    return drawn(project, step, add_point(sketch, command.at.spot), "draw a point", [command.at])


class DrawCircleOver(CommandModel):
    """A circle over two opposite places, or over three."""

    do: Literal["DrawCircleOver"] = "DrawCircleOver"
    step: str
    spots: Annotated[list[Spot], Field(min_length=2, max_length=3)]
    construction: bool = False


class DrawLeaning(CommandModel):
    """A rectangle over three places: two corners, and how deep it is."""

    do: Literal["DrawLeaning"] = "DrawLeaning"
    step: str
    start: Spot
    end: Spot
    beside: At
    width: str = Field(default="", max_length=400)
    height: str = Field(default="", max_length=400)


class DrawArcSlot(CommandModel):
    """A slot along an arc from one centre to another over a place."""

    do: Literal["DrawArcSlot"] = "DrawArcSlot"
    step: str
    start: Spot
    end: Spot
    through: At
    radius: float = Field(gt=0, le=1e5)
    width: str = Field(default="", max_length=400)


class DrawEllipse(CommandModel):
    do: Literal["DrawEllipse"] = "DrawEllipse"
    step: str
    centre: Spot
    first: Spot
    beside: At
    construction: bool = False


class DrawSpline(CommandModel):
    """A spline through spots; ``closed`` runs back to the first one."""

    do: Literal["DrawSpline"] = "DrawSpline"
    step: str
    spots: Annotated[list[Spot], Field(min_length=2, max_length=60)]
    closed: bool = False
    construction: bool = False


class DrawText(CommandModel):
    """A line of text as outlines, its capitals ``size`` mm high, or as high as the formula ``height`` says."""

    do: Literal["DrawText"] = "DrawText"
    step: str
    foot: Spot
    text: Annotated[str, Field(max_length=80)]
    size: float = Field(default=10, gt=0, le=1e4)
    height: str = Field(default="", max_length=400)


class PlaceOutline(CommandModel):
    """Curves read from a file, put on the board; ``kept`` holds them as they are, else they can be dragged and tied."""

    do: Literal["PlaceOutline"] = "PlaceOutline"
    step: str
    curves: Annotated[list[FlatCurve], Field(min_length=1, max_length=800)]
    kept: bool = True


@handler(PlaceOutline)
def _(project: Project, command: PlaceOutline) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    shapes = [(c.kind, c.places, c.radius) for c in command.curves]
    return drawn(project, step, place_curves(sketch, shapes, kept=command.kept), "bring in an outline")


@handler(DrawArcAbout)
def _(project: Project, command: DrawArcAbout) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    arc = add_arc_about(
        sketch, command.centre.spot, command.start.spot, command.towards, construction=command.construction
    )
    return drawn(project, step, arc, "draw an arc", [command.centre, command.start])


@handler(DrawCircleOver)
def _(project: Project, command: DrawCircleOver) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    shape = add_circle_over(sketch, [s.spot for s in command.spots], construction=command.construction)
    return drawn(project, step, shape, "draw a circle", command.spots)


@handler(DrawLeaning)
def _(project: Project, command: DrawLeaning) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    width, height = (optional(project, f) for f in (command.width, command.height))
    shape = add_leaning_rectangle(
        sketch, command.start.spot, command.end.spot, command.beside, width=width, height=height
    )
    return drawn(project, step, shape, "draw a rectangle", [command.start, command.end])


@handler(DrawArcSlot)
def _(project: Project, command: DrawArcSlot) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    width = optional(project, command.width)
    shape = add_arc_slot(sketch, command.start.spot, command.end.spot, command.through, command.radius, width=width)
    return drawn(project, step, shape, "draw a round slot", [command.start, command.end])


@handler(DrawEllipse)
def _(project: Project, command: DrawEllipse) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    shape = add_ellipse(
        sketch, command.centre.spot, command.first.spot, command.beside, construction=command.construction
    )
    return drawn(project, step, shape, "draw an ellipse", [command.centre, command.first])


@handler(DrawSpline)
def _(project: Project, command: DrawSpline) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    spots = [s.spot for s in command.spots]
    shape = add_spline(sketch, spots, closed=command.closed, construction=command.construction)
    return drawn(project, step, shape, "draw a spline", command.spots)


@handler(DrawText)
def _(project: Project, command: DrawText) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    height = optional(project, command.height)
    shape = add_text(sketch, command.foot.spot, command.text, command.size, height=height)
    return drawn(project, step, shape, f"write “{command.text}”")


class RewordSketch(CommandModel):
    """Other words for a text."""

    do: Literal["RewordSketch"] = "RewordSketch"
    step: str
    id: str
    text: Annotated[str, Field(max_length=80)]


@handler(RewordSketch)
def _(project: Project, command: RewordSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    return drawn(project, step, reword(sketch, command.id, command.text), f"write “{command.text}” instead")
