"""What all commands on the board share, and those that tie, size, drag and take away."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ...document import commands as c
from ...document.commands import CommandModel, Outcome, find_step, handler, replace_step, step_title
from ...document.model import Project, Step
from ...errors import CommandError, DoveError, FormulaError
from ...quantities import ANGLE, LENGTH, evaluate, with_unit
from ...recipe.evaluate import within_reach
from ...sketch import (
    ORIGIN,
    Sketch,
    add_reading,
    as_reading,
    at_rest,
    constrain,
    drag,
    goes_back,
    measured,
    remove,
    resize,
    size_up,
)  # fmt: skip
from ...sketch.edit import Ids, grown
from ...sketch.model import DIMENSION_KINDS, Constraint, Coordinate
from ..sketch import SketchFields

__all__ = ["At", "Spot", "checked", "done", "drag_preview", "drawn", "lengths", "optional", "sizes_of", "sketch_of"]


At = tuple[Coordinate, Coordinate]


class Spot(BaseModel):
    """A place on the board, and the point that was pointed at there, if any; or the curve that it ``lies`` on, in its middle or
    anywhere. Where the place was written, ``x`` and ``y`` are its formulas, and stay as sizes from the origin."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    at: At
    on: str | None = None
    lies: Literal["", "point_on", "midpoint"] = ""
    curve: str = Field(default="", max_length=40)
    x: str = Field(default="", max_length=400)
    y: str = Field(default="", max_length=400)

    @property
    def spot(self) -> tuple[tuple[float, float], str | None]:
        return self.at, self.on


def sizes_of(project: Project, sketch: Sketch) -> dict[str, float]:
    """The figures of a sketch's dimensions with the project's values (mm, rad).

    Raises
    ------
    CommandError : a dimension's formula has no figure.
    """
    known = c.known_values(project)
    out = {}
    for dimension in sketch.dimensions:
        if dimension.reading:
            continue
        expect = ANGLE if dimension.kind == "angle" else LENGTH
        try:
            out[dimension.id] = evaluate(dimension.formula, known, expect).value
        except FormulaError as error:
            raise CommandError(error.message, field=dimension.id) from None
    return out


def sketch_of(project: Project, step_id: str) -> tuple[Step, Sketch]:
    step = find_step(project, step_id)
    if step.kind != "sketch":
        raise CommandError("That step is no sketch.")
    return step, SketchFields.model_validate(step.fields).sketch


def done(project: Project, step: Step, sketch: Sketch, sentence: str) -> Outcome:
    old = SketchFields.model_validate(step.fields).sketch.ids()
    # what is taken away follows nothing any more
    left = [s for s in step.fields.get("sources", []) if sketch.curve(s["id"]) is not None]
    fields = {
        **step.fields,
        "sketch": sketch.model_dump(mode="json"),
        **({"sources": left} if left or "sources" in step.fields else {}),
    }
    after = replace_step(project, step.model_copy(update={"fields": fields}))
    new = sorted(sketch.ids() - old)
    return Outcome(after, frozenset({f"step:{step.id}"}), f"{sentence} in {step_title(project, step)}", new)


def drawn(project: Project, step: Step, sketch: Sketch, sentence: str, spots: Sequence[Spot] = ()) -> Outcome:
    """What was drawn comes to rest first; what was pointed at on curves stays on them where it can. Raises CommandError."""
    sizes = sizes_of(project, sketch)
    old = SketchFields.model_validate(step.fields).sketch
    if any(s.x or s.y for s in spots):
        sketch = at_rest(sketch, sizes)
        for spot in spots:
            sketch, sizes = _kept(project, old, sketch, spot, sizes)
    tied = _lying(old, sketch, spots)
    if tied is not sketch:
        try:
            return done(project, step, at_rest(tied, sizes), sentence)
        except CommandError:
            # the hand meant more than can be: what was drawn counts
            pass
    return done(project, step, at_rest(sketch, sizes), sentence)


def lengths(project: Project, formulas: Sequence[str]) -> list[float]:
    """What formulas of lengths come to, mm. Raises CommandError."""
    return [checked(project, formula, False)[1] for formula in formulas]


def _made_at(old: Sketch, sketch: Sketch, spot: Spot, within_mm: float) -> str | None:
    """The point that drawing put at a spot, if it put one there."""
    known = old.ids()
    return next((p.id for p in sketch.points if p.id not in known and math.dist((p.x, p.y), spot.at) < within_mm), None)


def _kept(
    project: Project, old: Sketch, sketch: Sketch, spot: Spot, sizes: dict[str, float]
) -> tuple[Sketch, dict[str, float]]:
    """The sketch with a written place as sizes from the origin, as far as nothing else settles it already."""
    # the sketch has come to rest since it was drawn
    made = _made_at(old, sketch, spot, 1e-6)
    for kind, formula, level in (("distance_x", spot.x, "vertical"), ("distance_y", spot.y, "horizontal")):
        if made is None or not formula.strip():
            continue
        text, figure = checked(project, formula, False)
        try:
            if figure == 0 and text == with_unit("0", LENGTH, project.unit):
                # nothing to measure: it stands in line with the origin
                sketch = constrain(sketch, level, [ORIGIN, made], sizes)
                continue
            grown = size_up(sketch, kind, [ORIGIN, made], text, figure, sizes, signed=True)
        except CommandError:
            # settled by what was drawn before
            continue
        sketch, sizes = grown, {**sizes, grown.dimensions[-1].id: figure}
    return sketch, sizes


def _lying(old: Sketch, sketch: Sketch, spots: Sequence[Spot]) -> Sketch:
    """The sketch with the new points that spots on curves became tied to those."""
    ids, ties = Ids(sketch), []
    for spot in spots:
        if not spot.lies or spot.on is not None or old.curve(spot.curve) is None:
            continue
        made = _made_at(old, sketch, spot, 1e-9)
        if made is not None:
            ties.append(Constraint(id=ids.new("k"), kind=spot.lies, of=[made, spot.curve]))
    return grown(sketch, [], [], ties, []) if ties else sketch


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
    reading: bool = False


class ReadingSketch(CommandModel):
    """Makes a dimension a reading, which drives nothing, or lets a reading drive with what it measures now."""

    do: Literal["ReadingSketch"] = "ReadingSketch"
    step: str
    dimension: str
    on: bool


class ResizeSketch(CommandModel):
    do: Literal["ResizeSketch"] = "ResizeSketch"
    step: str
    dimension: str
    formula: str = Field(max_length=400)


class DragSketch(CommandModel):
    do: Literal["DragSketch"] = "DragSketch"
    step: str
    id: str
    to: At


def checked(project: Project, formula: str, angle: bool) -> tuple[str, float]:
    """A dimension's formula with its unit, and its figure. Raises CommandError."""
    expect = ANGLE if angle else LENGTH
    text = with_unit(formula, expect, project.unit)
    try:
        figure = evaluate(text, c.known_values(project), expect).value
        if not angle:
            within_reach(formula, figure)
    except DoveError as error:
        raise CommandError(error.message) from None
    return text, figure


def optional(project: Project, formula: str) -> str:
    """The formula of a length that may be left out, with its unit. Raises CommandError."""
    return checked(project, formula, False)[0] if formula.strip() else ""


@handler(RemoveFromSketch)
def _(project: Project, command: RemoveFromSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    rest = remove(sketch, command.ids)
    return done(project, step, rest, f"take away {_what_went(sketch, rest, command.ids)}")


def _what_went(before: Sketch, after: Sketch, asked: list[str]) -> str:
    """What was taken away, and what hung on it and went with it."""
    parts = []
    gone = before.ids() - after.ids()
    lists = (("curve", before.curves), ("tie", before.constraints), ("size", before.dimensions))
    for asked_for in (True, False):
        counts = []
        for word, items in lists:
            n = sum(1 for i in items if i.id in gone and (i.id in asked) == asked_for)
            counts += [f"{n} {word}{'s' if n > 1 else ''}"] if n else []
        parts.append(" and ".join(counts))
    return (parts[0] or "points") + (f", with {parts[1]} that hung on it" if parts[1] else "")


@handler(TieSketch)
def _(project: Project, command: TieSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    tied = constrain(sketch, command.kind, command.of, sizes_of(project, sketch))
    return done(project, step, tied, f"tie {command.kind.replace('_', ' ')}")


@handler(SizeSketch)
def _(project: Project, command: SizeSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    if command.kind not in DIMENSION_KINDS:
        raise CommandError(f"There is no dimension called “{command.kind}”.")
    if command.reading:
        return done(project, step, add_reading(sketch, command.kind, command.of), f"read the {_words(command.kind)}")
    formula = command.formula if command.formula.strip() else _now(sketch, command.kind, command.of)
    text, figure = checked(project, formula, command.kind == "angle")
    sized = size_up(sketch, command.kind, command.of, text, figure, sizes_of(project, sketch))
    return done(project, step, sized, f"give {_words(command.kind)} {text}")


def _words(kind: str) -> str:
    return {"distance_x": "width", "distance_y": "height"}.get(kind, kind)


def _now(sketch: Sketch, kind: str, of: list[str]) -> str:
    """The formula of what a dimension would measure now. Raises CommandError."""
    try:
        now = measured(sketch, kind, of, goes_back(sketch, kind, of))
    except (DoveError, IndexError, ValueError, KeyError):
        raise CommandError("That cannot be measured so; point at a line, a circle or two points.") from None
    return f"{round(math.degrees(now), 4):g} deg" if kind == "angle" else f"{round(now, 4):g} mm"


@handler(ReadingSketch)
def _(project: Project, command: ReadingSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    old = next((d for d in sketch.dimensions if d.id == command.dimension), None)
    if old is None or old.reading == command.on:
        raise CommandError("That dimension is not there any more.")
    if command.on:
        return done(project, step, as_reading(sketch, old.id), f"only read the {_words(old.kind)}")
    text, figure = checked(project, _now(sketch, old.kind, old.of), old.kind == "angle")
    rest = remove(sketch, [old.id])
    sized = size_up(rest, old.kind, old.of, text, figure, sizes_of(project, rest))
    return done(project, step, sized, f"give {_words(old.kind)} {text}")


@handler(ResizeSketch)
def _(project: Project, command: ResizeSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    old = next((d for d in sketch.dimensions if d.id == command.dimension), None)
    if old is None:
        raise CommandError("That dimension is not there any more.")
    text, figure = checked(project, command.formula, old.kind == "angle")
    # those that follow it get their figures with it
    others = [d for d in sketch.dimensions if d.id != old.id and d.follows != old.id]
    sizes = {**sizes_of(project, sketch.model_copy(update={"dimensions": others})), old.id: figure}
    return done(project, step, resize(sketch, old.id, text, sizes), f"set {old.kind.replace('_', ' ')} to {text}")


@handler(DragSketch)
def _(project: Project, command: DragSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    moved = drag(sketch, command.id, command.to, sizes_of(project, sketch))
    return done(project, step, moved, "drag")


def drag_preview(project: Project, step_id: str, id: str, to: At) -> dict[str, Any]:
    """Where things go while one drags, without recording it: ``points`` and ``radii`` by id, mm."""
    _, sketch = sketch_of(project, step_id)
    moved = drag(sketch, id, to, sizes_of(project, sketch))
    return {
        "points": {p.id: [p.x, p.y] for p in moved.points},
        "radii": {k.id: k.radius for k in moved.curves if k.sized},
    }
