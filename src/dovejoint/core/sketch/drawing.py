"""What the solver works on: points, lines and rounds by id, and what ties them, apart from where it came from."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from ..errors import StepError
from .model import ORIGIN, Constraint, Dimension, Sketch
from .special import length_of

__all__ = ["VALUED", "Drawing", "Item", "Round", "drawing_of"]

#: kinds of items that hold a value; the others only say how things lie to each other
VALUED = frozenset(
    ["fixed", "distance", "distance_x", "distance_y", "length", "radius", "diameter", "ring", "angle", "offset", "perimeter"]
)  # fmt: skip


@dataclass(frozen=True)
class Round:
    """A circle, or an arc from ``start`` to ``end``; ``radius`` in mm is a guess. With ``major``, the end of its first half axis,
    it is an ellipse and ``radius`` its second half axis."""

    centre: str
    radius: float
    start: str | None = None
    end: str | None = None
    major: str | None = None

    @property
    def ends(self) -> tuple[str, ...]:
        return (self.start, self.end) if self.start is not None and self.end is not None else ()


@dataclass(frozen=True)
class Item:
    """A constraint or dimension. ``value`` in mm or rad, signed as it is meant; ``at`` is a place; ``other`` a second chain.

    ``turn`` (rad) belongs to how things lie, like a right angle, and is no size. An angle that goes ``back`` is told to the second line run the other way.
    """

    id: str
    kind: str
    of: tuple[str, ...]
    value: float | None = None
    at: tuple[float, float] | None = None
    other: tuple[str, ...] = ()
    turn: float = 0.0
    back: bool = False


@dataclass(frozen=True)
class Drawing:
    """Places in mm. Points in ``held`` and rounds in ``held`` have no freedom. A spline is (node, handle, handle, node … node)."""

    points: Mapping[str, tuple[float, float]]
    lines: Mapping[str, tuple[str, str]]
    rounds: Mapping[str, Round]
    items: Sequence[Item]
    held: frozenset[str] = field(default_factory=frozenset)
    splines: Mapping[str, tuple[str, ...]] = field(default_factory=dict)

    def ways(self, item: Item) -> tuple[tuple[str, str], tuple[str, str]]:
        """The lines of an angle, each from where it begins for it to where it ends. Raises StepError."""
        first, (a, b) = self.line(item.of[0]), self.line(item.of[1])
        return first, (b, a) if item.back else (a, b)

    def ends(self, of: Sequence[str]) -> tuple[str, str]:
        """The two points meant by a line or by two points. Raises StepError."""
        if len(of) == 1:
            return self.line(of[0])
        if len(of) < 2:
            raise StepError("A tie of this sketch holds on to nothing; take it away.")
        return self.point(of[0]), self.point(of[1])

    def line(self, id: str) -> tuple[str, str]:
        if id not in self.lines:
            raise StepError(f"“{id}” is not a line of this sketch.")
        return self.lines[id]

    def round(self, id: str) -> Round:
        if id not in self.rounds:
            raise StepError(f"“{id}” is not a circle or arc of this sketch.")
        return self.rounds[id]

    def point(self, id: str) -> str:
        if id not in self.points:
            raise StepError(f"The sketch has no point “{id}”.")
        return id

    def pieces(self, id: str) -> list[tuple[str, ...]]:
        """The stretches whose lengths add up to that of a curve: (p, q) of a line, (centre, start, end) of an arc, four poles of a
        stretch of a spline, (circle,) of a circle. Raises StepError."""
        if id in self.lines:
            return [self.lines[id]]
        if id in self.splines:
            poles = self.splines[id]
            return [poles[k : k + 4] for k in range(0, len(poles) - 1, 3)]
        r = self.round(id)
        if r.major is not None:
            raise StepError("The length round an ellipse cannot be a size; size its half axes.")
        return [(r.centre, *r.ends) if r.ends else (id,)]

    def places(self) -> list[float]:
        """Where it stands, as the solver numbers its unknowns: the coordinates of each point, then the radii (mm)."""
        return [v for place in self.points.values() for v in place] + [r.radius for r in self.rounds.values()]

    def measure(self, item: Item) -> float:
        """What a valued item measures where the drawing stands, with its sign (mm or rad). Raises StepError."""
        of, at = item.of, self.points
        if item.kind in ("radius", "diameter"):
            return self.round(of[0]).radius * (2 if item.kind == "diameter" else 1)
        if item.kind == "ring":
            return self.round(of[1]).radius - self.round(of[0]).radius
        if item.kind == "perimeter":
            return sum(self._length(piece) for id in of for piece in self.pieces(id))
        if item.kind == "angle":
            turns = []
            for ends in self.ways(item):
                (ax, ay), (bx, by) = (at[p] for p in ends)
                turns.append(math.atan2(by - ay, bx - ax))
            return (turns[1] - turns[0] + math.pi) % (2 * math.pi) - math.pi
        if item.kind in ("distance", "length") and len(of) == 2 and of[1] in self.lines:
            p = self.lines[of[0]][0] if of[0] in self.lines else of[0]
            (px, py), ((ax, ay), (bx, by)) = at[self.point(p)], (at[e] for e in self.line(of[1]))
            size = max(math.hypot(bx - ax, by - ay), 1e-12)
            return ((bx - ax) * (py - ay) - (by - ay) * (px - ax)) / size
        (ax, ay), (bx, by) = (at[p] for p in self.ends(of))
        if item.kind == "distance_x":
            return bx - ax
        if item.kind == "distance_y":
            return by - ay
        return math.hypot(bx - ax, by - ay)

    def _length(self, piece: tuple[str, ...]) -> float:
        if len(piece) == 1:
            return 2 * math.pi * self.rounds[piece[0]].radius
        return float(length_of(np.array([self.points[p] for p in piece], dtype=float).ravel()))


#: how many points each kind of curve stands on
_STANDS_ON = {"line": 2, "circle": 1, "arc": 3, "ellipse": 2, "text": 2}


def _refuse_damaged(sketch: Sketch) -> None:
    points, curves = [ORIGIN, *(p.id for p in sketch.points)], [c.id for c in sketch.curves]
    known = {*points, *curves}
    if len(known) < len(points) + len(curves):
        raise StepError(
            "The drawing is damaged: two things in it have the same id. Draw it anew, or take an older revision."
        )
    places = set(points)
    for c in sketch.curves:
        fits = (
            len(c.points) % 3 == 1 and len(c.points) > 3 if c.kind == "spline" else len(c.points) == _STANDS_ON[c.kind]
        )
        if not fits or not places.issuperset(c.points):
            raise StepError(
                f"The drawing is damaged: a {c.kind} in it lacks points. Draw it anew, or take an older revision."
            )
    ties: list[Constraint | Dimension] = [*sketch.constraints, *sketch.dimensions]
    for tie in ties:
        if not known.issuperset(tie.of):
            raise StepError(
                f"The drawing is damaged: a {tie.kind.replace('_', ' ')} holds on to what is not there. Take it away, or draw that anew."
            )


def drawing_of(sketch: Sketch, values: Mapping[str, float]) -> Drawing:
    """A document's sketch for the solver; ``values`` are the signed figures of its dimensions (mm, rad). Raises StepError for one that is no
    drawing, as a file may hold that something else wrote."""
    _refuse_damaged(sketch)
    points = {ORIGIN: (0.0, 0.0), **{p.id: (p.x, p.y) for p in sketch.points}}
    rounds = {}
    for c in sketch.curves:
        if c.kind == "circle":
            rounds[c.id] = Round(c.points[0], c.radius)
        elif c.kind == "arc":
            centre, start = points.get(c.points[0], (0.0, 0.0)), points.get(c.points[1], (0.0, 0.0))
            radius = ((start[0] - centre[0]) ** 2 + (start[1] - centre[1]) ** 2) ** 0.5
            rounds[c.id] = Round(c.points[0], radius, c.points[1], c.points[2])
        elif c.kind == "ellipse":
            rounds[c.id] = Round(c.points[0], c.radius, major=c.points[1])
    items = [
        Item(
            k.id,
            k.kind,
            tuple(k.of),
            at=points.get(k.of[0]) if k.kind == "fixed" and k.of else None,
            turn=math.radians(k.turn_deg),
        )
        for k in sketch.constraints
    ]
    items += [Item(d.id, d.kind, tuple(d.of), values[d.id], back=d.back) for d in sketch.dimensions if d.id in values]
    # a text stands on a line from its foot to its top
    lines = {c.id: (c.points[0], c.points[1]) for c in sketch.curves if c.kind in ("line", "text")}
    splines = {c.id: tuple(c.points) for c in sketch.curves if c.kind == "spline"}
    held = {ORIGIN, *(o for c in sketch.curves if c.brought for o in (c.id, *c.points))}
    return Drawing(points, lines, rounds, items, frozenset(held), splines)
