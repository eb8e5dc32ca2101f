"""Places and directions: three-vectors and the frames of planes. Plain Python, millimetres."""

from __future__ import annotations

import math
from dataclasses import dataclass

__all__ = [
    "FRONT",
    "GROUND",
    "SIDE",
    "Axis",
    "Frame",
    "Vec3",
    "add",
    "box_corners",
    "cross",
    "dot",
    "length",
    "scale",
    "sub",
    "unit",
]

Vec3 = tuple[float, float, float]


def add(a: Vec3, b: Vec3) -> Vec3:
    return (a[0] + b[0], a[1] + b[1], a[2] + b[2])


def sub(a: Vec3, b: Vec3) -> Vec3:
    return (a[0] - b[0], a[1] - b[1], a[2] - b[2])


def scale(a: Vec3, k: float) -> Vec3:
    return (a[0] * k, a[1] * k, a[2] * k)


def dot(a: Vec3, b: Vec3) -> float:
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def cross(a: Vec3, b: Vec3) -> Vec3:
    return (a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])


def length(a: Vec3) -> float:
    return math.sqrt(dot(a, a))


def box_corners(low: Vec3, high: Vec3) -> list[Vec3]:
    """The eight corners of a box between two of them."""
    return [(x, y, z) for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]


def unit(a: Vec3) -> Vec3:
    size = length(a)
    if size < 1e-12:
        raise ValueError("a direction of no length")
    return scale(a, 1.0 / size)


@dataclass(frozen=True)
class Frame:
    """A plane with an origin and directions: ``x`` and ``y`` lie in it, ``z`` stands on it."""

    origin: Vec3
    x: Vec3
    y: Vec3

    @property
    def z(self) -> Vec3:
        return cross(self.x, self.y)

    def shifted(self, distance_mm: float) -> Frame:
        """The parallel frame at a distance along ``z``."""
        return Frame(add(self.origin, scale(self.z, distance_mm)), self.x, self.y)

    def placed(self, u_mm: float, v_mm: float, turn_rad: float) -> Frame:
        """The same plane with its origin elsewhere on it and its directions turned, counter-clockwise."""
        cos, sin = math.cos(turn_rad), math.sin(turn_rad)
        return Frame(
            self.to_world(u_mm, v_mm),
            add(scale(self.x, cos), scale(self.y, sin)),
            add(scale(self.y, cos), scale(self.x, -sin)),
        )

    def to_world(self, u: float, v: float, w: float = 0.0) -> Vec3:
        return add(add(self.origin, scale(self.x, u)), add(scale(self.y, v), scale(self.z, w)))

    def to_local(self, point: Vec3) -> Vec3:
        d = sub(point, self.origin)
        return (dot(d, self.x), dot(d, self.y), dot(d, self.z))

    @staticmethod
    def on_plane(point: Vec3, normal: Vec3) -> Frame:
        """A frame on a plane whose directions do not jump when the plane moves a little.

        ``y`` points as far up as it can; on level planes it points to the back (+Y). The origin is the
        world's origin projected onto the plane, so that it does not move with the outline of a face.
        """
        z = unit(normal)
        guide: Vec3 = (0.0, 1.0, 0.0) if abs(z[2]) > 0.9 else (0.0, 0.0, 1.0)
        x = unit(cross(guide, z))
        return Frame(scale(z, dot(point, z)), x, cross(z, x))


@dataclass(frozen=True)
class Axis:
    """A line with a direction: a place on it, mm, and a unit vector."""

    origin: Vec3
    direction: Vec3

    def away(self, point: Vec3) -> Vec3:
        """From the nearest place on the axis to a point."""
        d = sub(point, self.origin)
        return sub(d, scale(self.direction, dot(d, self.direction)))

    def upward(self) -> Axis:
        """The same axis, pointing up; a level one to the right, or else to the back."""
        x, y, z = self.direction
        facing = next((v for v in (z, x, y) if abs(v) > 1e-9), 1.0)
        return self if facing > 0 else Axis(self.origin, scale(self.direction, -1.0))

    def in_line(self, other: Axis, within_mm: float) -> bool:
        """Whether two axes are one line."""
        return abs(dot(self.direction, other.direction)) > 1 - 1e-8 and length(self.away(other.origin)) <= within_mm

    def frame_at(self, height_mm: float, turned: bool = False) -> Frame:
        """A frame whose ``z`` runs along the axis (``turned``: against it), on it at a height over its origin."""
        at = add(self.origin, scale(self.direction, height_mm))
        flat = Frame.on_plane(at, scale(self.direction, -1.0) if turned else self.direction)
        return Frame(at, flat.x, flat.y)


def meeting(one: Frame, two: Frame, near: Vec3) -> Axis | None:
    """Where two planes meet, its origin as near to a place as the line goes; ``None`` where they run level."""
    line = cross(one.z, two.z)
    size = dot(line, line)
    if size < 1e-12:
        return None
    a, b = dot(one.z, one.origin), dot(two.z, two.origin)
    at = scale(add(scale(cross(two.z, line), a), scale(cross(line, one.z), b)), 1 / size)
    way = unit(line)
    return Axis(add(at, scale(way, dot(sub(near, at), way))), way)


GROUND = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
FRONT = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
SIDE = Frame((0.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
