"""Flat curves in a sketch's own coordinates (mm), without the geometry kernel."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..errors import StepError

__all__ = ["Arc", "Bezier", "Circle", "Curve", "Ellipse", "Line", "Vec2", "area_mm2", "ends_of", "extent", "offset_chain", "offset_inward", "place_at",
           "points_along"]  # fmt: skip

Vec2 = tuple[float, float]


@dataclass(frozen=True)
class Line:
    id: str
    start: Vec2
    end: Vec2


@dataclass(frozen=True)
class Arc:
    """Runs about ``centre`` from ``start`` to ``end``, counter-clockwise unless it says otherwise."""

    id: str
    centre: Vec2
    radius: float
    start: Vec2
    end: Vec2
    clockwise: bool = False


@dataclass(frozen=True)
class Circle:
    id: str
    centre: Vec2
    radius: float


@dataclass(frozen=True)
class Bezier:
    """A cubic Bézier by its four poles."""

    id: str
    poles: tuple[Vec2, Vec2, Vec2, Vec2]


@dataclass(frozen=True)
class Ellipse:
    """About ``centre``; ``major`` is the end of its first half axis, ``minor`` the length of the second."""

    id: str
    centre: Vec2
    major: Vec2
    minor: float


Curve = Line | Arc | Circle | Bezier | Ellipse


def ends_of(curve: Curve) -> tuple[Vec2, Vec2] | None:
    """Where a curve begins and ends; nothing when it closes on itself."""
    if isinstance(curve, Circle | Ellipse):
        return None
    return (curve.poles[0], curve.poles[-1]) if isinstance(curve, Bezier) else (curve.start, curve.end)


def place_at(curve: Curve, t: float) -> Vec2:
    """A place on a curve, ``t`` from 0 at its start to 1 at its end."""
    if isinstance(curve, Line):
        return (
            curve.start[0] + t * (curve.end[0] - curve.start[0]),
            curve.start[1] + t * (curve.end[1] - curve.start[1]),
        )
    if isinstance(curve, Bezier):
        s = 1 - t
        shares = (s**3, 3 * s * s * t, 3 * s * t * t, t**3)
        x, y = (sum(b * p[k] for b, p in zip(shares, curve.poles, strict=True)) for k in (0, 1))
        return x, y
    if isinstance(curve, Ellipse):
        ax, ay = curve.major[0] - curve.centre[0], curve.major[1] - curve.centre[1]
        cos, sin = math.cos(2 * math.pi * t), math.sin(2 * math.pi * t) * curve.minor / max(math.hypot(ax, ay), 1e-12)
        return curve.centre[0] + cos * ax - sin * ay, curve.centre[1] + cos * ay + sin * ax
    if isinstance(curve, Circle):
        angle = 2 * math.pi * t
    else:
        first = math.atan2(curve.start[1] - curve.centre[1], curve.start[0] - curve.centre[0])
        last = math.atan2(curve.end[1] - curve.centre[1], curve.end[0] - curve.centre[0])
        sweep = (last - first) % (2 * math.pi)
        angle = first + t * (sweep - 2 * math.pi if curve.clockwise and sweep else sweep)
    return curve.centre[0] + curve.radius * math.cos(angle), curve.centre[1] + curve.radius * math.sin(angle)


def _turn(a: Vec2, b: Vec2) -> float:
    return a[0] * b[1] - a[1] * b[0]


def _directions(curve: Line | Arc) -> tuple[Vec2, Vec2]:
    """Unit directions at the start and the end of a curve."""
    if isinstance(curve, Line):
        size = math.dist(curve.start, curve.end)
        d = ((curve.end[0] - curve.start[0]) / size, (curve.end[1] - curve.start[1]) / size)
        return d, d
    out = []
    k = (-1 if curve.clockwise else 1) / curve.radius
    for p in (curve.start, curve.end):
        out.append((-(p[1] - curve.centre[1]) * k, (p[0] - curve.centre[0]) * k))
    return out[0], out[1]


def offset_inward(loop: Sequence[Curve], distance_mm: float, what: str = "the outline") -> list[Curve]:
    """Offset a closed outline, run counter-clockwise, towards its inside (negative: outside).

    Straight stretches move along, rounded corners keep their centre and change their radius, sharp corners
    stay sharp, whichever way they turn. Each curve keeps its id.

    Raises
    ------
    StepError : a stretch, a corner or a narrow place would vanish; says how much fits.
    """
    return _set_off(loop, distance_mm, what, closed=True)


def offset_chain(chain: Sequence[Curve], distance_mm: float, what: str = "the chain") -> list[Curve]:
    """Offset an open chain of lines and arcs to the left of its run (negative: to its right), as :func:`offset_inward` does a closed one. Its ends move square to it."""
    return _set_off(chain, distance_mm, what, closed=False)


def _set_off(loop: Sequence[Curve], distance_mm: float, what: str, closed: bool) -> list[Curve]:
    if len(loop) == 1 and isinstance(loop[0], Circle):
        circle = loop[0]
        if circle.radius - distance_mm < 0.05:
            raise StepError(
                f"An offset of {distance_mm:.4g} mm leaves nothing of {what}: its radius is {circle.radius:.4g} mm."
            )
        return [Circle(circle.id, circle.centre, circle.radius - distance_mm)]
    if any(isinstance(c, Bezier | Ellipse) for c in loop):
        raise StepError(f"{what.capitalize()} has a free curve; only straight and round sides can be set off.")
    chain: list[Line | Arc] = [c for c in loop if isinstance(c, Line | Arc)]
    moved: list[tuple[Line | Arc, Vec2, Vec2]] = []
    for curve in chain:
        if isinstance(curve, Arc) and _radius(curve, distance_mm) < 0.02:
            raise StepError(
                f"A corner of {what} has a radius of {curve.radius:.4g} mm, too small for an offset of "
                f"{abs(distance_mm):.4g} mm: {max(curve.radius - 0.05, 0):.4g} mm is the most, or round the corner more."
            )
        first, last = _directions(curve)
        moved.append(
            (
                curve,
                (curve.start[0] - first[1] * distance_mm, curve.start[1] + first[0] * distance_mm),
                (curve.end[0] - last[1] * distance_mm, curve.end[1] + last[0] * distance_mm),
            )
        )
    starts, ends = [m[1] for m in moved], [m[2] for m in moved]
    # only where an outline turns inwards can two of its sides come nearer to each other
    folded = any(isinstance(c, Arc) and c.clockwise for c in chain)
    for i, (curve, _, end) in enumerate(moved if closed else moved[:-1]):
        j = (i + 1) % len(moved)
        after = moved[j][0]
        out, into = _directions(curve)[1], _directions(after)[0]
        turn = math.atan2(_turn(out, into), out[0] * into[0] + out[1] * into[1])
        if abs(turn) < 1e-6:
            continue
        folded = folded or turn < 0
        if isinstance(curve, Arc) or isinstance(after, Arc):
            raise StepError(
                f"A sharp corner between a straight and a round side of {what} is not possible here; fillet it."
            )
        # both lines run on to where they meet
        start = starts[j]
        gap = (start[0] - end[0], start[1] - end[1])
        along = _turn(gap, into) / _turn(out, into)
        ends[i] = starts[j] = (end[0] + out[0] * along, end[1] + out[1] * along)
    result: list[Curve] = []
    for (curve, _, _), start, end in zip(moved, starts, ends, strict=True):
        if isinstance(curve, Line):
            d, _ = _directions(curve)
            if (end[0] - start[0]) * d[0] + (end[1] - start[1]) * d[1] <= 1e-6:
                raise StepError(f"An offset of {distance_mm:.4g} mm leaves nothing of a side of {what}; use less.")
            result.append(Line(curve.id, start, end))
        else:
            result.append(replace(curve, radius=_radius(curve, distance_mm), start=start, end=end))
    vanished = closed and area_mm2(result) <= 1e-6
    if vanished or (folded and _nearest(result, chain, closed) < abs(distance_mm) - 0.02):
        raise StepError(
            f"An offset of {abs(distance_mm):.4g} mm leaves nothing of {what} at its narrowest place; use less."
        )
    return result


def _radius(arc: Arc, distance_mm: float) -> float:
    """The radius of an arc that is offset to the left of its run."""
    return arc.radius + distance_mm if arc.clockwise else arc.radius - distance_mm


def area_mm2(loop: Sequence[Curve]) -> float:
    """The area within a loop (arcs sampled), negative when it runs clockwise."""
    points = [p for p, _ in points_along(loop, 8)]
    return sum(_turn(a, b) for a, b in zip(points, points[1:] + points[:1], strict=True)) / 2


def _nearest(loop: Sequence[Curve], other: Sequence[Curve], closed: bool) -> float:
    """The least distance between two loops, or chains, mm. An offset that crosses itself comes nearer than its distance somewhere.

    Arcs are sampled at a 64th of their length, which on a quarter circle of 100 mm is 0.01 mm off.
    """
    p = np.array([q for q, _ in points_along(loop, 64)])[:, None, :]
    a = np.array([q for q, _ in points_along(other, 64)])[None, :, :]
    along = np.roll(a, -1, axis=1) - a
    if not closed:
        a, along = a[:, :-1], along[:, :-1]
    size = np.maximum((along**2).sum(axis=2), 1e-12)
    t = np.clip(((p - a) * along).sum(axis=2) / size, 0.0, 1.0)
    return float(np.linalg.norm(p - a - t[:, :, None] * along, axis=2).min())


def extent(loop: Sequence[Curve]) -> tuple[Vec2, Vec2]:
    """How wide a loop or an open chain is along x and y, and its middle, mm; exact to a hundredth of a millimetre on arcs."""
    if len(loop) == 1 and isinstance(loop[0], Circle):
        return (2 * loop[0].radius, 2 * loop[0].radius), loop[0].centre
    # a line is nowhere further out than at its ends
    points = [
        place_at(curve, k / pieces)
        for curve in loop
        for pieces in (1 if isinstance(curve, Line) else 90,)
        for k in range(pieces + 1)
    ]
    low = (min(p[0] for p in points), min(p[1] for p in points))
    high = (max(p[0] for p in points), max(p[1] for p in points))
    return (high[0] - low[0], high[1] - low[1]), ((low[0] + high[0]) / 2, (low[1] + high[1]) / 2)


def points_along(loop: Sequence[Curve], per_curve: int) -> list[tuple[Vec2, str]]:
    """Points along a loop, evenly on each curve, with the curve's id."""
    out: list[tuple[Vec2, str]] = []
    for curve in loop:
        for k in range(per_curve):
            out.append((place_at(curve, k / per_curve), curve.id))
    return out
