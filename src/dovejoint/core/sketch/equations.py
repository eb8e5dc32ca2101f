"""Constraints and dimensions as equations with analytic derivatives.

Every residual is a length in mm, so that one tolerance fits all: angles are multiplied by the length of the
lines that they turn. Which of two solutions is meant (side, sense, 0 or 180 degrees) is taken from where the
sketch stands and kept.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..errors import StepError
from .model import ORIGIN, Constraint, Dimension, Sketch, SketchCurve

__all__ = ["Row", "Unknowns", "equation"]

Vector = NDArray[np.float64]


@dataclass(frozen=True)
class Row:
    """One equation at a state: what is left of it (mm) and its derivatives by unknown."""

    left: float
    by: dict[int, float]


class Unknowns:
    """Where the coordinates and radii of a sketch stand in the solver's vector."""

    def __init__(self, sketch: Sketch) -> None:
        self.sketch = sketch
        self.place = {p.id: 2 * i for i, p in enumerate(sketch.points)}
        first = 2 * len(sketch.points)
        circles = [c for c in sketch.curves if c.kind == "circle"]
        self.radius_place = {c.id: first + i for i, c in enumerate(circles)}
        self.count = first + len(circles)
        self.curves = {c.id: c for c in sketch.curves}
        start = [v for p in sketch.points for v in (p.x, p.y)] + [c.radius for c in circles]
        self.start: Vector = np.array(start, dtype=float)

    def xy(self, x: Vector, point: str) -> tuple[float, float]:
        if point == ORIGIN:
            return 0.0, 0.0
        if point not in self.place:
            raise StepError(f"The sketch has no point “{point}”.")
        k = self.place[point]
        return float(x[k]), float(x[k + 1])

    def put(self, by: dict[int, float], point: str, dx: float, dy: float) -> None:
        if point in self.place:
            k = self.place[point]
            by[k] = by.get(k, 0.0) + dx
            by[k + 1] = by.get(k + 1, 0.0) + dy

    def curve(self, id: str, *kinds: str) -> SketchCurve:
        curve = self.curves.get(id)
        if curve is None or (kinds and curve.kind not in kinds):
            raise StepError(f"“{id}” is not a {' or '.join(kinds) or 'curve'} of this sketch.")
        return curve


def _ends(u: Unknowns, of: Sequence[str]) -> tuple[str, str]:
    """The two points meant by a line or by two points."""
    if len(of) == 1:
        line = u.curve(of[0], "line")
        return line.points[0], line.points[1]
    return of[0], of[1]


def _distance(u: Unknowns, x: Vector, p: str, q: str) -> Row:
    (x1, y1), (x2, y2) = u.xy(x, p), u.xy(x, q)
    d = math.hypot(x2 - x1, y2 - y1)
    cx, cy = ((x2 - x1) / d, (y2 - y1) / d) if d > 1e-12 else (1.0, 0.0)
    by: dict[int, float] = {}
    u.put(by, p, -cx, -cy)
    u.put(by, q, cx, cy)
    return Row(d, by)


def _radius(u: Unknowns, x: Vector, id: str) -> Row:
    curve = u.curve(id, "circle", "arc")
    if curve.kind == "arc":
        return _distance(u, x, curve.points[0], curve.points[1])
    k = u.radius_place[id]
    return Row(float(x[k]), {k: 1.0})


def _plus(a: Row, b: Row, factor: float, constant: float = 0.0) -> Row:
    by = dict(a.by)
    for k, d in b.by.items():
        by[k] = by.get(k, 0.0) + factor * d
    return Row(a.left + factor * b.left + constant, by)


def _direction(u: Unknowns, x: Vector, line: str) -> tuple[float, float, dict[int, float]]:
    """Direction angle (rad), length and derivatives of the angle."""
    p, q = _ends(u, [line])
    (x1, y1), (x2, y2) = u.xy(x, p), u.xy(x, q)
    dx, dy = x2 - x1, y2 - y1
    d2 = max(dx * dx + dy * dy, 1e-18)
    by: dict[int, float] = {}
    u.put(by, p, dy / d2, -dx / d2)
    u.put(by, q, -dy / d2, dx / d2)
    return math.atan2(dy, dx), math.sqrt(d2), by


def _turned(u: Unknowns, x: Vector, of: Sequence[str], angle: float, half_turns: bool) -> Row:
    """Second line's direction minus the first one's minus an angle, times the mean length."""
    a, la, da = _direction(u, x, of[0])
    b, lb, db = _direction(u, x, of[1])
    period = math.pi if half_turns else 2 * math.pi
    left = (b - a - angle + period / 2) % period - period / 2
    scale = (la + lb) / 2
    by = {k: d * scale for k, d in db.items()}
    for k, d in da.items():
        by[k] = by.get(k, 0.0) - d * scale
    return Row(left * scale, by)


def _from_line(u: Unknowns, x: Vector, point: str, line: str) -> Row:
    """Signed distance of a point from a line."""
    p, q = _ends(u, [line])
    (px, py), (x1, y1), (x2, y2) = u.xy(x, point), u.xy(x, p), u.xy(x, q)
    dx, dy = x2 - x1, y2 - y1
    size = max(math.hypot(dx, dy), 1e-9)
    wx, wy = px - x1, py - y1
    h = (dx * wy - dy * wx) / size
    t = (dx * wx + dy * wy) / (size * size)
    nx, ny = -dy / size, dx / size
    by: dict[int, float] = {}
    u.put(by, point, nx, ny)
    u.put(by, p, -nx * (1 - t), -ny * (1 - t))
    u.put(by, q, -nx * t, -ny * t)
    return Row(h, by)


def _along(u: Unknowns, x: Vector, p: str, q: str, axis: int) -> Row:
    a, b = u.xy(x, p), u.xy(x, q)
    by: dict[int, float] = {}
    u.put(by, p, -1.0 if axis == 0 else 0.0, -1.0 if axis == 1 else 0.0)
    u.put(by, q, 1.0 if axis == 0 else 0.0, 1.0 if axis == 1 else 0.0)
    return Row(b[axis] - a[axis], by)


def _middle(u: Unknowns, x: Vector, of: Sequence[str]) -> list[Row]:
    p, q = _ends(u, of[1:])
    rows = []
    for axis in (0, 1):
        unit = (1.0, 0.0) if axis == 0 else (0.0, 1.0)
        by: dict[int, float] = {}
        u.put(by, of[0], *unit)
        u.put(by, p, -unit[0] / 2, -unit[1] / 2)
        u.put(by, q, -unit[0] / 2, -unit[1] / 2)
        rows.append(Row(u.xy(x, of[0])[axis] - (u.xy(x, p)[axis] + u.xy(x, q)[axis]) / 2, by))
    return rows


def _equal(u: Unknowns, x: Vector, of: Sequence[str]) -> Row:
    sizes = []
    for id in of[:2]:
        curve = u.curve(id)
        sizes.append(_distance(u, x, *curve.points) if curve.kind == "line" else _radius(u, x, id))
    return _plus(sizes[0], sizes[1], -1.0)


def _on(u: Unknowns, x: Vector, of: Sequence[str]) -> Row:
    curve = u.curve(of[1])
    if curve.kind == "line":
        return _from_line(u, x, of[0], of[1])
    return _plus(_distance(u, x, curve.points[0], of[0]), _radius(u, x, of[1]), -1.0)


def arc_rows(u: Unknowns, x: Vector) -> list[Row]:
    """Both ends of an arc lie at one distance from its centre."""
    return [
        _plus(_distance(u, x, c.points[0], c.points[2]), _distance(u, x, c.points[0], c.points[1]), -1.0)
        for c in u.sketch.curves
        if c.kind == "arc"
    ]


def equation(u: Unknowns, x: Vector, item: Constraint | Dimension, targets: Mapping[str, float]) -> list[Row]:
    """The equations of one constraint or dimension at a state.

    Parameters
    ----------
    targets : what each dimension must measure, mm or rad; signed as the sketch stands (see ``signed_targets``).

    Raises
    ------
    StepError : it refers to something that is not there or of another kind.
    """
    of = item.of
    try:
        if isinstance(item, Dimension):
            return [_dimension(u, x, item, targets[item.id])]
        match item.kind:
            case "coincident":
                return [_along(u, x, of[0], of[1], 0), _along(u, x, of[0], of[1], 1)]
            case "concentric":
                a, b = (u.curve(c, "circle", "arc").points[0] for c in of[:2])
                return [_along(u, x, a, b, 0), _along(u, x, a, b, 1)]
            case "horizontal":
                return [_along(u, x, *_ends(u, of), 1)]
            case "vertical":
                return [_along(u, x, *_ends(u, of), 0)]
            case "parallel":
                return [_turned(u, x, of, 0.0, True)]
            case "perpendicular":
                return [_turned(u, x, of, math.pi / 2, True)]
            case "equal":
                return [_equal(u, x, of)]
            case "midpoint":
                return _middle(u, x, of)
            case "point_on":
                return [_on(u, x, of)]
    except (IndexError, TypeError, ValueError):
        raise StepError(f"The {item.kind} tie “{item.id}” needs other things to hold on to.") from None


def _dimension(u: Unknowns, x: Vector, item: Dimension, target: float) -> Row:
    of = item.of
    match item.kind:
        case "length":
            row = _distance(u, x, *_ends(u, of))
        case "distance":
            if len(of) == 2 and of[1] in u.curves:
                row = _from_line(u, x, of[0], of[1])
            else:
                row = _distance(u, x, *_ends(u, of))
        case "distance_x":
            row = _along(u, x, *_ends(u, of), 0)
        case "distance_y":
            row = _along(u, x, *_ends(u, of), 1)
        case "radius":
            row = _radius(u, x, of[0])
        case "diameter":
            row = _radius(u, x, of[0])
            return Row(2 * row.left - target, {k: 2 * d for k, d in row.by.items()})
        case "angle":
            return _turned(u, x, of, target, False)
    return Row(row.left - target, row.by)


def value_of(u: Unknowns, x: Vector, item: Dimension) -> float:
    """What a dimension measures at a state, with its sign (mm or rad)."""
    if item.kind == "angle":
        a, _, _ = _direction(u, x, item.of[0])
        b, _, _ = _direction(u, x, item.of[1])
        return (b - a + math.pi) % (2 * math.pi) - math.pi
    return equation(u, x, item, {item.id: 0.0})[0].left
