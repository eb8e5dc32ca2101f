"""Sketch: curves with constraints and dimensions on a plane or a flat face."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from .. import solid as kernel
from ..document import PlanePick, StepFields
from ..document import commands as c
from ..document.commands import CommandModel, Outcome, find_step, handler, replace_step, step_title
from ..document.model import Project, Step
from ..document.picks import BasePlane
from ..errors import CommandError, DoveError, FormulaError, StepError
from ..quantities import ANGLE, LENGTH, evaluate, with_unit
from ..quantities import Dimension as QuantityDimension
from ..recipe import FieldSpec, SketchShape, StepContext, StepKind, StepOutput, register, said
from ..sketch import (
    Sketch,
    Solution,
    add_arc,
    add_circle,
    add_line,
    add_polygon,
    add_rectangle,
    add_slot,
    constrain,
    construct,
    drag,
    measured,
    mirror,
    offset_chain,
    remove,
    repeat_in_rows,
    repeat_round,
    resize,
    round_corners,
    size_up,
    solve,
    trim,
)
from ..sketch.model import DIMENSION_KINDS, Coordinate
from ..solid import Arc, Circle, Curve, Line

__all__ = ["SketchFields", "drag_preview", "sizes_of"]


class SketchFields(StepFields):
    plane: PlanePick = BasePlane(plane="ground")
    sketch: Sketch = Sketch()


def _dimension_of(fields: SketchFields, path: str) -> QuantityDimension:
    """The dimension that the formula at ``sketch.dimensions.<id>.formula`` must have."""
    id = path.split(".")[2]
    kind = next(d.kind for d in fields.sketch.dimensions if d.id == id)
    return ANGLE if kind == "angle" else LENGTH


def sketch_curves(sketch: Sketch, solution: Solution) -> list[Curve]:
    """The solved curves that bound regions (construction curves do not)."""
    at = {**solution.points, "origin": (0.0, 0.0)}
    out: list[Curve] = []
    for curve in sketch.curves:
        if curve.construction:
            continue
        if curve.kind == "line":
            out.append(Line(curve.id, at[curve.points[0]], at[curve.points[1]]))
        elif curve.kind == "circle":
            out.append(Circle(curve.id, at[curve.points[0]], solution.radii[curve.id]))
        else:
            centre, start, end = (at[p] for p in curve.points)
            radius = ((start[0] - centre[0]) ** 2 + (start[1] - centre[1]) ** 2) ** 0.5
            out.append(Arc(curve.id, centre, radius, start, end))
    return out


def _apply(ctx: StepContext) -> StepOutput:
    fields: SketchFields = ctx.fields
    frame = ctx.frame(fields.plane, "plane")
    sizes = {d.id: ctx.number(f"sketch.dimensions.{d.id}.formula") for d in fields.sketch.dimensions}
    try:
        solution = solve(fields.sketch, sizes)
    except StepError as error:
        raise StepError(error.message, field="sketch") from None
    if not solution.solved:
        raise StepError(solution.message, field="sketch")
    regions = kernel.find_regions(sketch_curves(fields.sketch, solution))
    return StepOutput(sketch=SketchShape(fields.sketch, solution, sizes, frame, regions), plane=frame)


register(
    StepKind(
        kind="sketch",
        title="Sketch",
        group="make",
        about="Draw an outline on a plane or a flat face.",
        fields=SketchFields,
        specs=(
            FieldSpec(
                "plane",
                "plane",
                "where the sketch lies",
                {"rule": "base", "plane": "ground"},
                missing="a plane or a flat face",
            ),
            FieldSpec("sketch", "sketch", "the outline", {}),
        ),
        sentence=said("Sketch ", "{sketch}", " on ", "{plane}"),
        apply=_apply,
        suits=("face",),
        dimension_of=_dimension_of,
    )
)


# ---- commands on the board ------------------------------------------------------------------------------------


def sizes_of(project: Project, sketch: Sketch) -> dict[str, float]:
    """The figures of a sketch's dimensions with the project's values (mm, rad).

    Raises
    ------
    CommandError : a dimension's formula has no figure.
    """
    known = c.known_values(project)
    out = {}
    for dimension in sketch.dimensions:
        expect = ANGLE if dimension.kind == "angle" else LENGTH
        try:
            out[dimension.id] = evaluate(dimension.formula, known, expect).value
        except FormulaError as error:
            raise CommandError(error.message, field=dimension.id) from None
    return out


def _sketch_of(project: Project, step_id: str) -> tuple[Step, Sketch]:
    step = find_step(project, step_id)
    if step.kind != "sketch":
        raise CommandError("That step is no sketch.")
    return step, SketchFields.model_validate(step.fields).sketch


def _done(project: Project, step: Step, sketch: Sketch, sentence: str) -> Outcome:
    old = SketchFields.model_validate(step.fields).sketch.ids()
    fields = {**step.fields, "sketch": sketch.model_dump(mode="json")}
    after = replace_step(project, step.model_copy(update={"fields": fields}))
    new = sorted(sketch.ids() - old)
    return Outcome(after, frozenset({f"step:{step.id}"}), f"{sentence} in {step_title(project, step)}", new)


_Place = tuple[Coordinate, Coordinate]


class DrawRectangle(CommandModel):
    """A rectangle by its centre, or by a corner; ``on`` is a point that it hangs on."""

    do: Literal["DrawRectangle"] = "DrawRectangle"
    step: str
    first: _Place
    corner: _Place
    by_centre: bool = True
    on: str | None = None
    width: str = Field(default="", max_length=400)
    height: str = Field(default="", max_length=400)


class DrawCircle(CommandModel):
    do: Literal["DrawCircle"] = "DrawCircle"
    step: str
    centre: _Place
    radius: float = Field(gt=0, le=1e5)
    on: str | None = None
    diameter: str = Field(default="", max_length=400)


class _Spot(BaseModel):
    """A place on the board, and the point that was pointed at there, if any."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    at: _Place
    on: str | None = None

    @property
    def spot(self) -> tuple[tuple[float, float], str | None]:
        return self.at, self.on


class DrawLine(CommandModel):
    """A line; ``tie`` is what was meant while drawing it (level, upright, or parallel, square or touching with the curve ``to``)."""

    do: Literal["DrawLine"] = "DrawLine"
    step: str
    start: _Spot
    end: _Spot
    tie: Literal["", "horizontal", "vertical", "parallel", "perpendicular", "tangent"] = ""
    to: str = Field(default="", max_length=40)
    length: str = Field(default="", max_length=400)
    construction: bool = False


class DrawArc(CommandModel):
    """An arc from one spot to another through a place; ``tangent``: the curve that it runs on from smoothly."""

    do: Literal["DrawArc"] = "DrawArc"
    step: str
    start: _Spot
    end: _Spot
    through: _Place
    tangent: str = Field(default="", max_length=40)
    construction: bool = False


class DrawSlot(CommandModel):
    do: Literal["DrawSlot"] = "DrawSlot"
    step: str
    start: _Spot
    end: _Spot
    radius: float = Field(gt=0, le=1e5)
    width: str = Field(default="", max_length=400)
    length: str = Field(default="", max_length=400)


class DrawPolygon(CommandModel):
    """A regular polygon; ``flats`` or ``corners`` is the formula of a diameter, across its flats or its corners."""

    do: Literal["DrawPolygon"] = "DrawPolygon"
    step: str
    centre: _Spot
    corner: _Place
    sides: int = Field(ge=3, le=60)
    flats: str = Field(default="", max_length=400)
    corners: str = Field(default="", max_length=400)


class ConstructSketch(CommandModel):
    """Makes curves construction, or real again."""

    do: Literal["ConstructSketch"] = "ConstructSketch"
    step: str
    ids: list[str]
    on: bool


class MirrorSketch(CommandModel):
    do: Literal["MirrorSketch"] = "MirrorSketch"
    step: str
    ids: list[str]
    axis: str


class RoundSketch(CommandModel):
    """Rounds corners where two lines meet, with one radius for all."""

    do: Literal["RoundSketch"] = "RoundSketch"
    step: str
    corners: list[str]
    radius: str = Field(max_length=400)


class RepeatSketch(CommandModel):
    """Repeats curves in rows: so many across and deep, so far apart by formulas."""

    do: Literal["RepeatSketch"] = "RepeatSketch"
    step: str
    ids: list[str]
    across: int = Field(default=1, ge=1, le=200)
    deep: int = Field(default=1, ge=1, le=200)
    pitch_x: str = Field(default="", max_length=300)
    pitch_y: str = Field(default="", max_length=300)


class OffsetSketch(CommandModel):
    """Sets a chain of lines and arcs off at a distance, on the left of its run or on the other side."""

    do: Literal["OffsetSketch"] = "OffsetSketch"
    step: str
    ids: list[str]
    distance: str = Field(max_length=400)
    other_side: bool = False


class RingSketch(CommandModel):
    """Repeats curves evenly round a point."""

    do: Literal["RingSketch"] = "RingSketch"
    step: str
    ids: list[str]
    centre: str
    count: int = Field(ge=2, le=200)


class TrimSketch(CommandModel):
    """Takes away the stretch of a curve between its crossings on both sides of a place."""

    do: Literal["TrimSketch"] = "TrimSketch"
    step: str
    id: str
    near: _Place


class RemoveFromSketch(CommandModel):
    do: Literal["RemoveFromSketch"] = "RemoveFromSketch"
    step: str
    ids: list[str]


class TieSketch(CommandModel):
    do: Literal["TieSketch"] = "TieSketch"
    step: str
    kind: str
    of: list[str]


class SizeSketch(CommandModel):
    """Adds a dimension; without a formula it takes what it measures now."""

    do: Literal["SizeSketch"] = "SizeSketch"
    step: str
    kind: str
    of: list[str]
    formula: str = Field(default="", max_length=400)


class ResizeSketch(CommandModel):
    do: Literal["ResizeSketch"] = "ResizeSketch"
    step: str
    dimension: str
    formula: str = Field(max_length=400)


class DragSketch(CommandModel):
    do: Literal["DragSketch"] = "DragSketch"
    step: str
    id: str
    to: _Place


def _checked(project: Project, formula: str, angle: bool) -> tuple[str, float]:
    """A dimension's formula with its unit, and its figure. Raises CommandError."""
    expect = ANGLE if angle else LENGTH
    text = with_unit(formula, expect, project.unit)
    try:
        return text, evaluate(text, c.known_values(project), expect).value
    except DoveError as error:
        raise CommandError(error.message) from None


@handler(DrawRectangle)
def _(project: Project, command: DrawRectangle) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    width, height = (_checked(project, f, False)[0] if f.strip() else "" for f in (command.width, command.height))
    grown = add_rectangle(
        sketch, command.first, command.corner, by_centre=command.by_centre, on=command.on, width=width, height=height
    )
    return _done(project, step, _resolved(project, grown), "draw a rectangle")


@handler(DrawCircle)
def _(project: Project, command: DrawCircle) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    diameter = _checked(project, command.diameter, False)[0] if command.diameter.strip() else ""
    grown = add_circle(sketch, command.centre, command.radius, on=command.on, diameter=diameter)
    return _done(project, step, _resolved(project, grown), "draw a circle")


@handler(DrawLine)
def _(project: Project, command: DrawLine) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    length = _checked(project, command.length, False)[0] if command.length.strip() else ""
    drawn = add_line(
        sketch, command.start.spot, command.end.spot, tie=command.tie, to=command.to, length=length,
        construction=command.construction,
    )  # fmt: skip
    return _done(project, step, _resolved(project, drawn), "draw a line")


@handler(DrawArc)
def _(project: Project, command: DrawArc) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    c_ = command
    drawn = add_arc(sketch, c_.start.spot, c_.end.spot, c_.through, tangent=c_.tangent, construction=c_.construction)
    return _done(project, step, _resolved(project, drawn), "draw an arc")


@handler(DrawSlot)
def _(project: Project, command: DrawSlot) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    width, length = (_checked(project, f, False)[0] if f.strip() else "" for f in (command.width, command.length))
    drawn = add_slot(sketch, command.start.spot, command.end.spot, command.radius, width=width, length=length)
    return _done(project, step, _resolved(project, drawn), "draw a slot")


@handler(DrawPolygon)
def _(project: Project, command: DrawPolygon) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    flats, corners = (_checked(project, f, False)[0] if f.strip() else "" for f in (command.flats, command.corners))
    drawn = add_polygon(sketch, command.centre.spot, command.corner, command.sides, flats=flats, corners=corners)
    return _done(project, step, _resolved(project, drawn), "draw a polygon")


@handler(ConstructSketch)
def _(project: Project, command: ConstructSketch) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    words = "make construction" if command.on else "make real"
    return _done(project, step, construct(sketch, command.ids, command.on), words)


@handler(MirrorSketch)
def _(project: Project, command: MirrorSketch) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    return _done(project, step, _resolved(project, mirror(sketch, command.ids, command.axis)), "mirror")


@handler(RoundSketch)
def _(project: Project, command: RoundSketch) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    text, figure = _checked(project, command.radius, False)
    if figure <= 0:
        raise CommandError("A radius must be above zero.", field="radius")
    rounded = round_corners(sketch, command.corners, figure, text)
    return _done(project, step, _resolved(project, rounded), f"round corners by {text}")


@handler(RepeatSketch)
def _(project: Project, command: RepeatSketch) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    counts = (command.across, command.deep)
    pitches, figures = ["", ""], [0.0, 0.0]
    for k, formula in enumerate((command.pitch_x, command.pitch_y)):
        if counts[k] > 1:
            pitches[k], figures[k] = _checked(project, formula, False)
    grid = repeat_in_rows(sketch, command.ids, counts, (pitches[0], pitches[1]), (figures[0], figures[1]))
    return _done(project, step, _resolved(project, grid), "repeat in rows")


@handler(OffsetSketch)
def _(project: Project, command: OffsetSketch) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    text, figure = _checked(project, command.distance, False)
    moved = offset_chain(sketch, command.ids, figure, text, other_side=command.other_side)
    return _done(project, step, _resolved(project, moved), f"set off by {text}")


@handler(RingSketch)
def _(project: Project, command: RingSketch) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    ring = repeat_round(sketch, command.ids, command.centre, command.count)
    return _done(project, step, _resolved(project, ring), f"repeat {command.count} times round a point")


@handler(TrimSketch)
def _(project: Project, command: TrimSketch) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    return _done(project, step, _resolved(project, trim(sketch, command.id, command.near)), "trim")


def _resolved(project: Project, sketch: Sketch) -> Sketch:
    from ..sketch import settle

    sizes = sizes_of(project, sketch)
    try:
        solution = solve(sketch, sizes)
    except StepError as error:
        raise CommandError(error.message) from None
    if not solution.solved:
        raise CommandError(solution.message)
    return settle(sketch, solution)


@handler(RemoveFromSketch)
def _(project: Project, command: RemoveFromSketch) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    return _done(project, step, remove(sketch, command.ids), "take away a part of the drawing")


@handler(TieSketch)
def _(project: Project, command: TieSketch) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    tied = constrain(sketch, command.kind, command.of, sizes_of(project, sketch))
    return _done(project, step, tied, f"tie {command.kind.replace('_', ' ')}")


@handler(SizeSketch)
def _(project: Project, command: SizeSketch) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    if command.kind not in DIMENSION_KINDS:
        raise CommandError(f"There is no dimension called “{command.kind}”.")
    angle = command.kind == "angle"
    formula = command.formula
    if not formula.strip():
        try:
            now = measured(sketch, command.kind, command.of)
        except (DoveError, IndexError, ValueError):
            raise CommandError("That cannot be measured so; point at a line, a circle or two points.") from None
        formula = f"{round(now * 57.29577951308232, 4):g} deg" if angle else f"{round(now, 4):g} mm"
    text, figure = _checked(project, formula, angle)
    sized = size_up(sketch, command.kind, command.of, text, figure, sizes_of(project, sketch))
    return _done(project, step, sized, f"give {command.kind.replace('_', ' ')} {text}")


@handler(ResizeSketch)
def _(project: Project, command: ResizeSketch) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    old = next((d for d in sketch.dimensions if d.id == command.dimension), None)
    if old is None:
        raise CommandError("That dimension is not there any more.")
    text, figure = _checked(project, command.formula, old.kind == "angle")
    # those that follow it get their figures with it
    others = [d for d in sketch.dimensions if d.id != old.id and d.follows != old.id]
    sizes = {**sizes_of(project, sketch.model_copy(update={"dimensions": others})), old.id: figure}
    return _done(project, step, resize(sketch, old.id, text, sizes), f"set {old.kind.replace('_', ' ')} to {text}")


@handler(DragSketch)
def _(project: Project, command: DragSketch) -> Outcome:
    step, sketch = _sketch_of(project, command.step)
    moved = drag(sketch, command.id, command.to, sizes_of(project, sketch))
    return _done(project, step, moved, "drag")


def drag_preview(project: Project, step_id: str, id: str, to: _Place) -> dict[str, Any]:
    """Where things go while one drags, without recording it: ``points`` and ``radii`` by id, mm."""
    _, sketch = _sketch_of(project, step_id)
    moved = drag(sketch, id, to, sizes_of(project, sketch))
    return {
        "points": {p.id: [p.x, p.y] for p in moved.points},
        "radii": {k.id: k.radius for k in moved.curves if k.kind == "circle"},
    }
