"""The arc of a given radius that rounds the corner of two curves, lines or arcs: plane geometry, by the offsets of both."""

from __future__ import annotations

import math
from dataclasses import dataclass

__all__ = ["Leg", "rounding"]

Place = tuple[float, float]


@dataclass(frozen=True)
class Leg:
    """A line or an arc that ends in a corner: its other ``end``, the unit ``way`` in which it leaves the corner, and of an arc its
    ``centre`` and ``radius`` (mm)."""

    end: Place
    way: Place
    centre: Place | None = None
    radius: float = 0.0


def rounding(corner: Place, one: Leg, two: Leg, radius_mm: float) -> tuple[Place, Place, Place] | None:
    """Centre of the arc that touches both legs between them, and where it touches each; ``None`` where it has no room.

    The centre lies as far from both legs as the radius is long: where their offsets meet, next to the corner.
    """
    turn = one.way[0] * two.way[1] - one.way[1] * two.way[0]
    sides = (math.copysign(1.0, turn), -math.copysign(1.0, turn))
    first, second = _offset(corner, one, sides[0] * radius_mm), _offset(corner, two, sides[1] * radius_mm)
    if first is None or second is None:
        return None
    centre = min(_crossings(first, second), key=lambda c: math.dist(c, corner), default=None)
    if centre is None:
        return None
    touches = _foot(corner, one, centre), _foot(corner, two, centre)
    return (centre, *touches) if _within(corner, one, touches[0]) and _within(corner, two, touches[1]) else None


#: a line by a place and its way, or a circle by its centre and radius
_Track = tuple[Place, Place | float]


def _offset(corner: Place, leg: Leg, by: float) -> _Track | None:
    """Where all is that lies so far from a leg, to the left of the way in which it leaves (or right, below zero)."""
    left = (-leg.way[1], leg.way[0])
    if leg.centre is None:
        return (corner[0] + by * left[0], corner[1] + by * left[1]), leg.way
    inward = (leg.centre[0] - corner[0]) * left[0] + (leg.centre[1] - corner[1]) * left[1] > 0
    radius = leg.radius - by if inward else leg.radius + by
    return (leg.centre, radius) if radius > 1e-6 else None


def _crossings(one: _Track, two: _Track) -> list[Place]:
    (px, py), first = one
    (qx, qy), second = two
    if isinstance(first, float) and not isinstance(second, float):
        return _crossings(two, one)
    if isinstance(first, float):
        assert isinstance(second, float)
        gap = math.dist((px, py), (qx, qy))
        if gap < 1e-9 or gap > first + second or gap < abs(first - second):
            return []
        along = (gap**2 + first**2 - second**2) / (2 * gap)
        up = math.sqrt(max(first**2 - along**2, 0.0))
        ux, uy = (qx - px) / gap, (qy - py) / gap
        return [(px + along * ux - s * up * uy, py + along * uy + s * up * ux) for s in (1.0, -1.0)]
    if isinstance(second, float):
        along = (qx - px) * first[0] + (qy - py) * first[1]
        foot = (px + along * first[0], py + along * first[1])
        half = second**2 - math.dist(foot, (qx, qy)) ** 2
        if half < 0:
            return []
        return [
            (foot[0] + s * math.sqrt(half) * first[0], foot[1] + s * math.sqrt(half) * first[1]) for s in (1.0, -1.0)
        ]
    cross = first[0] * second[1] - first[1] * second[0]
    if abs(cross) < 1e-9:
        return []
    t = ((qx - px) * second[1] - (qy - py) * second[0]) / cross
    return [(px + t * first[0], py + t * first[1])]


def _foot(corner: Place, leg: Leg, centre: Place) -> Place:
    """The place of a leg (run on) that is nearest to one."""
    if leg.centre is None:
        along = (centre[0] - corner[0]) * leg.way[0] + (centre[1] - corner[1]) * leg.way[1]
        return corner[0] + along * leg.way[0], corner[1] + along * leg.way[1]
    far = max(math.dist(centre, leg.centre), 1e-12)
    k = leg.radius / far
    return leg.centre[0] + k * (centre[0] - leg.centre[0]), leg.centre[1] + k * (centre[1] - leg.centre[1])


def _within(corner: Place, leg: Leg, place: Place) -> bool:
    """Whether a place of a leg lies between the corner and its other end."""
    if leg.centre is None:
        along = (place[0] - corner[0]) * leg.way[0] + (place[1] - corner[1]) * leg.way[1]
        return 1e-6 < along < math.dist(corner, leg.end) - 1e-6
    left = (corner[0] - leg.centre[0]) * leg.way[1] - (corner[1] - leg.centre[1]) * leg.way[0]
    start, here, last = (math.atan2(p[1] - leg.centre[1], p[0] - leg.centre[0]) for p in (corner, place, leg.end))
    turns = [((a - start) if left > 0 else (start - a)) % (2 * math.pi) for a in (here, last)]
    return 1e-6 < turns[0] < turns[1] - 1e-6
