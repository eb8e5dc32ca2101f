"""What is known of solids, faces and edges, as plain data that can leave the worker process."""

from __future__ import annotations

from dataclasses import dataclass

from .frame import Vec3

__all__ = ["BodyInfo", "EdgeInfo", "FaceInfo", "GapReadings"]


@dataclass(frozen=True)
class FaceInfo:
    """``at`` is a point on the face, ``normal`` points out of the solid there; ``middle`` is the centre of its area, which for a ring lies beside it;
    radius and axis for round faces, and how far a cylinder goes round, rad."""

    names: tuple[str, ...]
    kind: str
    at: Vec3
    normal: Vec3
    area_mm2: float
    radius_mm: float | None
    hollow: bool
    neighbours: tuple[str, ...]
    middle: Vec3
    axis: Vec3 | None = None
    turn_rad: float = 0.0


@dataclass(frozen=True)
class EdgeInfo:
    """An edge with the indices of the two faces that it lies between."""

    name: str
    kind: str
    at: Vec3
    direction: Vec3
    length_mm: float
    radius_mm: float | None
    faces: tuple[int, int]
    convex: bool
    smooth: bool


@dataclass(frozen=True)
class BodyInfo:
    """Mass properties of a part: mm, mm², mm³."""

    volume_mm3: float
    area_mm2: float
    centre_mm: Vec3
    low_mm: Vec3
    high_mm: Vec3
    closed: bool
    valid: bool
    lumps: int


@dataclass(frozen=True)
class GapReadings:
    """The gap between two halves as it is in the solids, per side, in mm; negative where they overlap.

    ``least_at`` and ``most_at`` are pairs of points, on the outer and on the inner half; ``least_faces`` and ``most_faces`` the names of
    the faces that they lie on. ``ways`` has for each direction (x, y of the zone's frame, a unit vector from the inner half to the
    outer) the least gap in it: (gap, x, y); ``size_mm`` is how large the inner half is in x and y. ``tilt_rad`` is how far the inner half can rock to either side, ``within_mm`` how exact least and
    most are.
    """

    least_mm: float
    most_mm: float
    least_at: tuple[Vec3, Vec3]
    most_at: tuple[Vec3, Vec3]
    least_faces: tuple[str, str]
    most_faces: tuple[str, str]
    ways: tuple[tuple[float, float, float], ...]
    size_mm: tuple[float, float]
    tilt_rad: float
    readings: int
    within_mm: float = 0.005
