"""Flat curves in a sketch's own coordinates (mm). Plain Python."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import StepError

__all__ = ["Arc", "Circle", "Curve", "Line", "Vec2", "extent", "offset_inward", "points_along"]

Vec2 = tuple[float, float]


@dataclass(frozen=True)
class Line:
    id: str
    start: Vec2
    end: Vec2


@dataclass(frozen=True)
class Arc:
    """Runs counter-clockwise from ``start`` to ``end`` about ``centre``."""

    id: str
    centre: Vec2
    radius: float
    start: Vec2
    end: Vec2


@dataclass(frozen=True)
class Circle:
    id: str
    centre: Vec2
    radius: float


Curve = Line | Arc | Circle


def _turn(a: Vec2, b: Vec2) -> float:
    return a[0] * b[1] - a[1] * b[0]


def _directions(curve: Line | Arc) -> tuple[Vec2, Vec2]:
    """Unit directions at the start and the end of a curve."""
    if isinstance(curve, Line):
        size = math.dist(curve.start, curve.end)
        d = ((curve.end[0] - curve.start[0]) / size, (curve.end[1] - curve.start[1]) / size)
        return d, d
    out = []
    for p in (curve.start, curve.end):
        out.append((-(p[1] - curve.centre[1]) / curve.radius, (p[0] - curve.centre[0]) / curve.radius))
    return out[0], out[1]


def offset_inward(loop: Sequence[Curve], distance_mm: float, what: str = "the outline") -> list[Curve]:
    """Offset a convex closed outline, run counter-clockwise, towards its inside (negative: outside).

    Straight stretches move along, rounded corners keep their centre and change their radius, sharp corners
    stay sharp. Each curve keeps its id.

    Raises
    ------
    StepError : the outline is not convex, or a stretch or a corner would vanish; says how much fits.
    """
    if len(loop) == 1 and isinstance(loop[0], Circle):
        circle = loop[0]
        if circle.radius - distance_mm < 0.05:
            raise StepError(
                f"An offset of {distance_mm:.4g} mm leaves nothing of {what}: its radius is {circle.radius:.4g} mm."
            )
        return [Circle(circle.id, circle.centre, circle.radius - distance_mm)]
    chain: list[Line | Arc] = [c for c in loop if not isinstance(c, Circle)]
    moved: list[tuple[Line | Arc, Vec2, Vec2]] = []
    for curve in chain:
        if isinstance(curve, Arc) and distance_mm > 0 and curve.radius - distance_mm < 0.02:
            raise StepError(
                f"A corner of {what} has a radius of {curve.radius:.4g} mm, too small for an offset of "
                f"{distance_mm:.4g} mm: {max(curve.radius - 0.05, 0):.4g} mm is the most, or round the corner more."
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
    for i, (curve, _, end) in enumerate(moved):
        j = (i + 1) % len(moved)
        after = moved[j][0]
        out, into = _directions(curve)[1], _directions(after)[0]
        turn = math.atan2(_turn(out, into), out[0] * into[0] + out[1] * into[1])
        if turn < -1e-6:
            raise StepError(
                f"This joint needs an outline that bulges outwards all round; {what} turns inwards at a corner."
            )
        if turn < 1e-6:
            continue
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
            result.append(Arc(curve.id, curve.centre, curve.radius - distance_mm, start, end))
    if _narrow(result):
        raise StepError(f"An offset of {distance_mm:.4g} mm leaves nothing of {what}; use less.")
    return result


def _narrow(loop: Sequence[Curve]) -> bool:
    """Whether an offset outline has turned inside out (a convex one keeps its area positive)."""
    points = [p for p, _ in points_along(loop, 8)]
    area = sum(_turn(a, b) for a, b in zip(points, points[1:] + points[:1], strict=True)) / 2
    return area <= 1e-6


def extent(loop: Sequence[Curve]) -> tuple[Vec2, Vec2]:
    """How wide a loop is along x and y, and its middle, mm; exact to a hundredth of a millimetre on arcs."""
    if len(loop) == 1 and isinstance(loop[0], Circle):
        return (2 * loop[0].radius, 2 * loop[0].radius), loop[0].centre
    points = [p for p, _ in points_along(loop, 90)]
    low = (min(p[0] for p in points), min(p[1] for p in points))
    high = (max(p[0] for p in points), max(p[1] for p in points))
    return (high[0] - low[0], high[1] - low[1]), ((low[0] + high[0]) / 2, (low[1] + high[1]) / 2)


def points_along(loop: Sequence[Curve], per_curve: int) -> list[tuple[Vec2, str]]:
    """Points along a loop, evenly on each curve, with the curve's id."""
    out: list[tuple[Vec2, str]] = []
    for curve in loop:
        for k in range(per_curve):
            t = k / per_curve
            if isinstance(curve, Line):
                p = (
                    curve.start[0] + t * (curve.end[0] - curve.start[0]),
                    curve.start[1] + t * (curve.end[1] - curve.start[1]),
                )
            else:
                if isinstance(curve, Circle):
                    angle = 2 * math.pi * t
                else:
                    first = math.atan2(curve.start[1] - curve.centre[1], curve.start[0] - curve.centre[0])
                    last = math.atan2(curve.end[1] - curve.centre[1], curve.end[0] - curve.centre[0])
                    angle = first + t * ((last - first) % (2 * math.pi))
                p = (curve.centre[0] + curve.radius * math.cos(angle), curve.centre[1] + curve.radius * math.sin(angle))
            out.append((p, curve.id))
    return out
