"""Inner corners of what is milled out of a sheet: where they are, how sharp, and what a round cutter takes to get into them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from .combine import cut
from .facename import as_part
from .finish import fillet
from .frame import Frame, Vec3, add, cross, dot, length, scale, sub, unit
from .info import EdgeInfo, FaceInfo
from .measure import in_material
from .named import NamedSolid
from .turn import bar

__all__ = [
    "InnerCorner",
    "Sheet",
    "edges_in_corners",
    "inner_corners",
    "least_opening",
    "relieved_corners",
    "rounded_corners",
    "sheet_of",
]

#: directions are alike when their product differs from one by no more
ALIKE = 1e-6
#: what stands in a corner is no farther from it, mm: a loose fit's gap on both walls
WITHIN_MM = 1.5
#: a cutter goes so far beyond a sheet's faces, mm
BEYOND_MM = 0.01


@dataclass(frozen=True)
class Sheet:
    """A sheet by its largest flat face: the direction that stands on it, and how thick the part is along it, mm."""

    way: Vec3
    thick_mm: float


@dataclass(frozen=True)
class InnerCorner:
    """A corner that a cutter along the sheet's direction meets: an edge (``edge`` is its index) or a rounding of ``radius_mm``. ``at`` is its middle,
    ``along`` its direction, ``out`` points between its two walls into the open."""

    edge: int
    at: Vec3
    along: Vec3
    out: Vec3
    long_mm: float
    radius_mm: float = 0.0


def sheet_of(faces: Sequence[FaceInfo]) -> Sheet | None:
    """What sheet a part is of, or ``None`` where it has no flat face."""
    flat = [f for f in faces if f.kind == "plane"]
    if not flat:
        return None
    way = max(flat, key=lambda f: f.area_mm2).normal
    heights = [dot(f.at, way) for f in flat if abs(dot(f.normal, way)) > 1 - ALIKE]
    return Sheet(way, max(heights) - min(heights))


def inner_corners(faces: Sequence[FaceInfo], edges: Sequence[EdgeInfo], way: Vec3) -> list[InnerCorner]:
    """All inner corners whose edges run along a direction: sharp ones between two flat walls, and whatever is round between two edges (roundings, notches)."""
    out: list[InnerCorner] = []
    beside: dict[int, list[int]] = {}
    for k, edge in enumerate(edges):
        if edge.kind != "line" or abs(dot(edge.direction, way)) < 1 - ALIKE or edge.faces[0] == edge.faces[1]:
            continue
        a, b = (faces[i] for i in edge.faces)
        if a.kind == b.kind == "plane" and not edge.convex and not edge.smooth:
            out.append(InnerCorner(k, edge.at, edge.direction, unit(add(a.normal, b.normal)), edge.length_mm))
        for i in edge.faces:
            if faces[i].kind == "cylinder" and faces[i].hollow:
                beside.setdefault(i, []).append(k)
    for i, bounds in beside.items():
        face = faces[i]
        # a whole bore has no two edges along it, and a drill makes it
        if len(bounds) == 2 and face.radius_mm is not None:
            first = edges[bounds[0]]
            out.append(InnerCorner(bounds[0], face.at, first.direction, face.normal, first.length_mm, face.radius_mm))
    return out


def relieved_corners(
    solid: NamedSolid, corners: Sequence[InnerCorner], names: Sequence[str], radius_mm: float, step: str
) -> NamedSolid:
    """Cut round notches, as wide as a cutter, so far into sharp corners that their edges are gone: a mate with sharp outer corners goes in.

    Each circle goes through its corner, its middle on the line that halves the two walls. New faces are ``step/relief(edge)``; ``names`` are the
    edges' names. A floor at one end stays whole.

    Raises
    ------
    StepError : the result is not sound.
    """
    tools = []
    for corner, name in zip(corners, names, strict=True):
        across = cross(corner.along, corner.out)
        frame = Frame(add(corner.at, scale(corner.out, radius_mm)), corner.out, across)
        low, high = -corner.long_mm / 2, corner.long_mm / 2
        # beyond an end that is open, and no further than a floor
        low -= BEYOND_MM if _open(solid, corner, low - BEYOND_MM) else 0.0
        high += BEYOND_MM if _open(solid, corner, high + BEYOND_MM) else 0.0
        tools.append(bar(frame, radius_mm, low, high, step, f"relief({as_part(name)})"))
    return cut(solid, tools, step)


def rounded_corners(solid: NamedSolid, corners: Sequence[InnerCorner], radius_mm: float, step: str) -> NamedSolid:
    """Round sharp corners as a cutter leaves them; what goes in there needs as much of a rounding. Raises StepError."""
    return fillet(solid, {c.edge: radius_mm for c in corners}, step)


def edges_in_corners(faces: Sequence[FaceInfo], edges: Sequence[EdgeInfo], corners: Sequence[InnerCorner]) -> list[int]:
    """The sharp outer edges of a part (by index) that stand in inner corners of another: along them, no more than a fit's gap away, beside some of their length."""
    found = []
    for k, edge in enumerate(edges):
        if edge.kind != "line" or not edge.convex or edge.smooth or any(faces[i].kind != "plane" for i in edge.faces):
            continue
        for corner in corners:
            apart = sub(edge.at, corner.at)
            along = dot(apart, corner.along)
            away = length(sub(apart, scale(corner.along, along)))
            beside = abs(along) < (edge.length_mm + corner.long_mm) / 2
            if abs(dot(edge.direction, corner.along)) > 1 - ALIKE and away <= WITHIN_MM and beside:
                found.append(k)
                break
    return found


def least_opening(corners: Sequence[InnerCorner], among: Sequence[InnerCorner]) -> float:
    """The least distance from one of some corners to another in its own opening, mm: so wide a cutter gets in. Infinite where none lies opposite."""
    least = math.inf
    for one in corners:
        for other in among:
            apart = sub(other.at, one.at)
            # corners that look at each other lie in one opening
            if dot(apart, one.out) > 0 > dot(apart, other.out):
                least = min(least, length(sub(apart, scale(one.along, dot(apart, one.along)))))
    return least


def _open(solid: NamedSolid, corner: InnerCorner, height_mm: float) -> bool:
    at = add(add(corner.at, scale(corner.along, height_mm)), scale(corner.out, BEYOND_MM))
    return not any(in_material(solid, [at]))
