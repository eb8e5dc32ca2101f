"""What a person does on the board, as pure functions from one sketch to the next."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

from ..errors import CommandError, StepError
from .model import CONSTRAINT_KINDS, DIMENSION_KINDS, ORIGIN, Constraint, Dimension, Point, Repeat, Sketch, SketchCurve
from .solve import SMALLEST_MM, dependent_on, goes_back, measured, pull, settle, solve
from .words import describe, in_words

__all__ = [
    "Ids",
    "Place",
    "add_reading",
    "as_reading",
    "add_circle",
    "anchor",
    "at_rest",
    "grown",
    "join_ends",
    "add_rectangle",
    "constrain",
    "drag",
    "remove",
    "resize",
    "size_up",
    "times_of",
]

Place = tuple[float, float]


class Ids:
    """Hands out short ids that the sketch does not have yet."""

    def __init__(self, sketch: Sketch) -> None:
        self.taken = sketch.ids()

    def new(self, letter: str, wanted: str = "") -> str:
        """The first free id with a letter, or the one that is ``wanted`` when it is free."""
        if wanted and wanted not in self.taken:
            self.taken.add(wanted)
            return wanted
        n = 1
        while f"{letter}{n}" in self.taken:
            n += 1
        self.taken.add(f"{letter}{n}")
        return f"{letter}{n}"


def anchor(sketch: Sketch, ids: Ids, place: Place, points: list[Point], on: str | None) -> str:
    """The point that a shape hangs on: an existing one if it was pointed at, else a new one."""
    if on is not None:
        if sketch.point(on) is None:
            raise CommandError("The point that this was to hang on is not there any more.")
        return on
    points.append(Point(id=ids.new("p"), x=place[0], y=place[1]))
    return points[-1].id


def add_rectangle(
    sketch: Sketch,
    first: Place,
    corner: Place,
    *,
    by_centre: bool,
    on: str | None = None,
    width: str = "",
    height: str = "",
) -> Sketch:
    """A rectangle by its centre or by a corner, and an opposite corner.

    It is four points and four lines held by one level side, one right angle and two parallels, so that taking
    away the right angle lets it shear. ``on`` is an existing point that its centre or first corner hangs on;
    ``width`` and ``height`` are formulas for dimensions that come with it.
    """
    x0, y0 = first
    if on is not None and (point := sketch.point(on)) is not None:
        x0, y0 = point.x, point.y
    dx, dy = corner[0] - x0, corner[1] - y0
    if abs(dx) < SMALLEST_MM or abs(dy) < SMALLEST_MM:
        raise CommandError("A rectangle needs a width and a height; give it two corners apart.")
    left, right = (x0 - abs(dx), x0 + abs(dx)) if by_centre else (min(x0, corner[0]), max(x0, corner[0]))
    low, high = (y0 - abs(dy), y0 + abs(dy)) if by_centre else (min(y0, corner[1]), max(y0, corner[1]))
    ids, points = Ids(sketch), list[Point]()
    hold = anchor(sketch, ids, (x0, y0), points, on) if by_centre else None
    corners = [(left, low), (right, low), (right, high), (left, high)]
    names = []
    for place in corners:
        same = not by_centre and on is not None and place == (x0, y0)
        names.append(on if same and on is not None else anchor(sketch, ids, place, points, None))
    lines = [SketchCurve(id=ids.new("l"), kind="line", points=[names[i], names[(i + 1) % 4]]) for i in range(4)]
    a, b, c, d = (line.id for line in lines)
    ties: list[tuple[Any, list[str]]] = [
        ("horizontal", [a]),
        ("perpendicular", [a, b]),
        ("parallel", [a, c]),
        ("parallel", [b, d]),
    ]
    if hold is not None:
        ties.append(("midpoint", [hold, names[0], names[2]]))
    constraints = [Constraint(id=ids.new("k"), kind=kind, of=of) for kind, of in ties]
    dimensions = [
        Dimension(id=ids.new("d"), kind="length", of=[line], formula=formula)
        for line, formula in ((a, width), (b, height))
        if formula
    ]
    return grown(sketch, points, lines, constraints, dimensions)


def add_circle(sketch: Sketch, centre: Place, radius_mm: float, *, on: str | None = None, diameter: str = "") -> Sketch:
    """A circle by its centre and radius; ``diameter`` is the formula of a dimension that comes with it."""
    if radius_mm < SMALLEST_MM:
        raise CommandError("A circle needs a radius above zero.")
    ids, points = Ids(sketch), list[Point]()
    hold = anchor(sketch, ids, centre, points, on)
    circle = SketchCurve(id=ids.new("c"), kind="circle", points=[hold], radius=radius_mm)
    sizes = [Dimension(id=ids.new("d"), kind="diameter", of=[circle.id], formula=diameter)] if diameter else []
    return grown(sketch, points, [circle], [], sizes)


def grown(
    sketch: Sketch,
    points: Sequence[Point],
    curves: Sequence[SketchCurve],
    constraints: Sequence[Constraint],
    dimensions: Sequence[Dimension],
) -> Sketch:
    return sketch.model_copy(
        update={
            "points": [*sketch.points, *points],
            "curves": [*sketch.curves, *curves],
            "constraints": [*sketch.constraints, *constraints],
            "dimensions": [*sketch.dimensions, *dimensions],
        }
    )


def times_of(formula: str, times: float) -> str:
    """The formula of what is so many times another."""
    return formula if times == 1 else f"{times:g}*({formula})"


def remove(sketch: Sketch, ids: Sequence[str]) -> Sketch:
    """Take things away, with what hangs on them: curves without their points, ties without their curves."""
    gone = set(ids)
    if not gone & sketch.ids() or ORIGIN in gone:
        raise CommandError("There is nothing to take away there.")
    curves = [c for c in sketch.curves if c.id not in gone and not gone & set(c.points)]
    gone |= {c.id for c in sketch.curves} - {c.id for c in curves}
    used = {p for c in curves for p in c.points}
    # points that only the removed curves held go with them
    held_before = {p for c in sketch.curves for p in c.points}
    gone |= {p.id for p in sketch.points if p.id in held_before and p.id not in used}
    keep_ties = [k for k in sketch.constraints if k.id not in gone and not gone & set(k.of)]
    keep_sizes = [d for d in sketch.dimensions if d.id not in gone and not gone & set(d.of)]
    # what followed a size that goes stands for itself from now on
    left = {d.id for d in keep_sizes}
    keep_sizes = [d if d.follows in left or not d.follows else d.model_copy(update={"follows": ""}) for d in keep_sizes]
    # a lone anchor point that ties no longer use goes too
    tied = {o for k in keep_ties for o in k.of} | {o for d in keep_sizes for o in d.of} | used
    touched = {o for k in sketch.constraints if k not in keep_ties for o in k.of}
    gone |= {p.id for p in sketch.points if p.id in touched and p.id not in tied}
    return Sketch(
        points=[p for p in sketch.points if p.id not in gone],
        curves=curves,
        constraints=keep_ties,
        dimensions=keep_sizes,
        repeats=[r for r in (without(r, gone) for r in sketch.repeats) if r is not None],
    )


def without(repeat: Repeat, gone: set[str]) -> Repeat | None:
    """What is left of a repeat when things are taken away: copies that are gone are left out from then on; without its first one
    there is no repeat any more, and its copies are curves like others."""
    if gone & {*repeat.of, repeat.centre}:
        return None
    lost = [c for c in repeat.copies if gone & set(c.names.values())]
    if not lost:
        return repeat
    left = [c for c in repeat.copies if c not in lost]
    return repeat.model_copy(update={"copies": left, "left_out": [*repeat.left_out, *(c.at for c in lost)]})


def _refuse_known(sketch: Sketch, item: Constraint | Dimension, sizes: Mapping[str, float], what: str) -> None:
    missing = [o for o in item.of if o not in sketch.ids()]
    if missing or not item.of:
        raise CommandError("What was to be tied is not on the board any more; point at it anew.")
    try:
        known = dependent_on(sketch, item, sizes)
    except StepError as error:
        raise CommandError(in_words(sketch, error.message), things=error.things) from None
    if known is not None:
        says = " and ".join(describe(sketch, k) for k in known[:4]) or "the rest of the sketch"
        raise CommandError(
            f"This {what} is settled already by {says}; take one of them away first.", things=[*known, *item.of]
        )


def constrain(sketch: Sketch, kind: str, of: Sequence[str], sizes: Mapping[str, float]) -> Sketch:
    """Tie things together. Refuses what is settled already, naming by what."""
    if kind not in CONSTRAINT_KINDS:
        raise CommandError(f"There is no tie called “{kind}”.")
    item = Constraint(id=Ids(sketch).new("k"), kind=kind, of=list(of))  # type: ignore[arg-type]
    _refuse_known(sketch, item, sizes, "tie")
    tied = grown(sketch, [], [], [item], [])
    if kind in ("horizontal", "vertical") and len(of) == 1:
        return at_rest(_turned(tied, of[0], upright=kind == "vertical"), sizes, tied)
    return at_rest(tied, sizes)


def _turned(sketch: Sketch, line: str, *, upright: bool) -> Sketch:
    """The sketch with a line that lies across, and all that hangs together with it, turned about the line's middle.

    Brought there by the equations alone it would be squeezed to nothing: that is the least movement.
    """
    curve = sketch.curve(line)
    if curve is None or curve.kind != "line":
        return sketch
    a, b = (sketch.point(p) for p in curve.points)
    if a is None or b is None:
        return sketch
    dx, dy = b.x - a.x, b.y - a.y
    if abs(dy if upright else dx) >= abs(dx if upright else dy):
        return sketch
    reached = set(curve.points)
    while more := {p for c in sketch.curves if reached & set(c.points) for p in c.points} - reached:
        reached |= more
    now, goal = math.atan2(dy, dx), math.pi / 2 if upright else 0.0
    # the shorter way round: a line has no sense of its own
    turn = (goal - now + math.pi / 2) % math.pi - math.pi / 2
    x, y, cos, sin = (a.x + b.x) / 2, (a.y + b.y) / 2, math.cos(turn), math.sin(turn)

    def moved(p: Point) -> Point:
        u, v = p.x - x, p.y - y
        return p.model_copy(update={"x": x + u * cos - v * sin, "y": y + u * sin + v * cos})

    return sketch.model_copy(update={"points": [moved(p) if p.id in reached else p for p in sketch.points]})


def size_up(
    sketch: Sketch,
    kind: str,
    of: Sequence[str],
    formula: str,
    size: float,
    sizes: Mapping[str, float],
    signed: bool = False,
) -> Sketch:
    """Give a dimension; a ``signed`` width or height is a place along the axis. Refuses one that is settled already, naming by what."""
    if kind not in DIMENSION_KINDS:
        raise CommandError(f"There is no dimension called “{kind}”.")
    back = goes_back(sketch, kind, of)
    item = Dimension(id=Ids(sketch).new("d"), kind=kind, of=list(of), formula=formula, back=back, signed=signed)  # type: ignore[arg-type]
    _refuse_known(sketch, item, sizes, "size")
    return at_rest(grown(sketch, [], [], [], [item]), {**sizes, item.id: size})


def add_reading(sketch: Sketch, kind: str, of: Sequence[str]) -> Sketch:
    """A dimension that drives nothing and shows what it measures. Raises CommandError when there is nothing to measure."""
    if kind not in DIMENSION_KINDS:
        raise CommandError(f"There is no dimension called “{kind}”.")
    try:
        measured(sketch, kind, of)
    except (StepError, IndexError, ValueError, KeyError):
        raise CommandError("That cannot be measured so; point at a line, a circle or two points.") from None
    back = goes_back(sketch, kind, of)
    item = Dimension(id=Ids(sketch).new("d"), kind=kind, of=list(of), formula="", reading=True, back=back)  # type: ignore[arg-type]
    return grown(sketch, [], [], [], [item])


def as_reading(sketch: Sketch, id: str) -> Sketch:
    """A dimension that is from now on only read; what followed it stands for itself."""
    dimensions = [
        d.model_copy(update={"reading": True, "formula": "", "follows": "", "times": 1.0}) if d.id == id
        else d.model_copy(update={"follows": ""}) if d.follows == id else d
        for d in sketch.dimensions
    ]  # fmt: skip
    return sketch.model_copy(update={"dimensions": dimensions})


def resize(sketch: Sketch, id: str, formula: str, sizes: Mapping[str, float]) -> Sketch:
    """Give a dimension another formula; ``sizes`` holds its new figure."""
    if all(d.id != id for d in sketch.dimensions):
        raise CommandError("That dimension is not there any more.")
    dimensions, figures = [], dict(sizes)
    for d in sketch.dimensions:
        if d.id == id:
            dimensions.append(d.model_copy(update={"formula": formula}))
        elif d.follows == id:
            dimensions.append(d.model_copy(update={"formula": times_of(formula, d.times)}))
            figures[d.id] = sizes[id] * d.times
        else:
            dimensions.append(d)
    return at_rest(sketch.model_copy(update={"dimensions": dimensions}), figures)


def join_ends(sketch: Sketch, pairs: Sequence[tuple[str, str]], sizes: Mapping[str, float]) -> Sketch:
    """Ends tied together, two by two. Raises CommandError when one is settled to lie elsewhere."""
    for one, two in pairs:
        sketch = constrain(sketch, "coincident", [one, two], sizes)
    return sketch


def drag(sketch: Sketch, id: str, to: Place, sizes: Mapping[str, float]) -> Sketch:
    """Move what is free towards a place."""
    try:
        return settle(sketch, pull(sketch, sizes, id, to))
    except StepError as error:
        raise CommandError(in_words(sketch, error.message), things=error.things) from None


def at_rest(sketch: Sketch, sizes: Mapping[str, float], seen: Sketch | None = None) -> Sketch:
    """The sketch solved, with its coordinates where it came to rest. Raises CommandError when it cannot be solved, which is told of
    the sketch as it is ``seen`` when it was moved before."""
    try:
        solution = solve(sketch, sizes, seen)
    except StepError as error:
        raise CommandError(in_words(sketch, error.message), things=error.things) from None
    if not solution.solved:
        raise CommandError(solution.message, things=solution.conflicts)
    return settle(sketch, solution)
