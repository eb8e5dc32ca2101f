"""What the solver works on: points, lines and rounds by id, and what ties them, apart from where it came from."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from ..errors import StepError
from .model import ORIGIN, Sketch

__all__ = ["VALUED", "Drawing", "Item", "Round", "drawing_of"]

#: kinds of items that hold a value; the others only say how things lie to each other
VALUED = frozenset(
    ["fixed", "distance", "distance_x", "distance_y", "length", "radius", "diameter", "angle", "offset"]
)  # fmt: skip


@dataclass(frozen=True)
class Round:
    """A circle, or an arc from ``start`` to ``end``; ``radius`` in mm is a guess."""

    centre: str
    radius: float
    start: str | None = None
    end: str | None = None

    @property
    def ends(self) -> tuple[str, ...]:
        return (self.start, self.end) if self.start is not None and self.end is not None else ()


@dataclass(frozen=True)
class Item:
    """A constraint or dimension. ``value`` in mm or rad, signed as it is meant; ``at`` is a place; ``other`` a second chain.

    ``turn`` (rad) belongs to how things lie, like a right angle, and is no size.
    """

    id: str
    kind: str
    of: tuple[str, ...]
    value: float | None = None
    at: tuple[float, float] | None = None
    other: tuple[str, ...] = ()
    turn: float = 0.0


@dataclass(frozen=True)
class Drawing:
    """Places in mm. Points in ``held`` and rounds in ``held`` have no freedom."""

    points: Mapping[str, tuple[float, float]]
    lines: Mapping[str, tuple[str, str]]
    rounds: Mapping[str, Round]
    items: Sequence[Item]
    held: frozenset[str] = field(default_factory=frozenset)

    def ends(self, of: Sequence[str]) -> tuple[str, str]:
        """The two points meant by a line or by two points. Raises StepError."""
        if len(of) == 1:
            return self.line(of[0])
        p, q = of[:2]
        return self.point(p), self.point(q)

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


def drawing_of(sketch: Sketch, values: Mapping[str, float]) -> Drawing:
    """A document's sketch for the solver; ``values`` are the signed figures of its dimensions (mm, rad)."""
    points = {ORIGIN: (0.0, 0.0), **{p.id: (p.x, p.y) for p in sketch.points}}
    rounds = {}
    for c in sketch.curves:
        if c.kind == "circle":
            rounds[c.id] = Round(c.points[0], c.radius)
        elif c.kind == "arc":
            centre, start = points.get(c.points[0], (0.0, 0.0)), points.get(c.points[1], (0.0, 0.0))
            radius = ((start[0] - centre[0]) ** 2 + (start[1] - centre[1]) ** 2) ** 0.5
            rounds[c.id] = Round(c.points[0], radius, c.points[1], c.points[2])
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
    items += [Item(d.id, d.kind, tuple(d.of), values[d.id]) for d in sketch.dimensions if d.id in values]
    lines = {c.id: (c.points[0], c.points[1]) for c in sketch.curves if c.kind == "line"}
    return Drawing(points, lines, rounds, items, frozenset([ORIGIN]))
