"""Probing solids with rays: free ways, the thickness of walls."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from OCP.gp import gp_Dir, gp_Lin
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector

from .facets import Array, Facets, facets_between, first_and_back, in_small, nearest, onto
from .frame import GROUND, Vec3, dot, scale
from .kernel import BRepAdaptor_Surface, TopoDS, point
from .measure import normal_at
from .mesh import EXACT_KINDS
from .named import NamedSolid

__all__ = ["Rays", "Thickness", "free_length", "least_thickness", "thickness_at", "thinnest_wall"]


class Rays:
    """Shoots rays at one solid."""

    def __init__(self, solid: NamedSolid) -> None:
        self.tool = IntCurvesFace_ShapeIntersector()
        self.tool.Load(solid.shape, 1e-7)
        self.faces = solid.face_map
        self.adaptors: dict[int, Any] = {}

    def hits(self, at: Vec3, along: Vec3, low: float, high: float) -> list[tuple[float, bool]]:
        """Distances along the ray, sorted, each with whether the ray enters the solid there."""
        self.tool.Perform(gp_Lin(point(at), gp_Dir(*along)), low, high)
        if not self.tool.IsDone():
            return []
        out = []
        for i in range(1, self.tool.NbPnt() + 1):
            face = TopoDS.Face(self.tool.Face(i))
            index = self.faces.FindIndex(face)
            if index not in self.adaptors:
                self.adaptors[index] = BRepAdaptor_Surface(face)
            _, normal = normal_at(face, self.tool.UParameter(i), self.tool.VParameter(i), self.adaptors[index])
            out.append((float(self.tool.WParameter(i)), dot(normal, along) < 0))
        return sorted(out)

    def through(self, at: Vec3, along: Vec3, most: float) -> float | None:
        """How far a ray from a surface point goes through material to a face that looks along it, if less than ``most``."""
        self.tool.Perform(gp_Lin(point(at), gp_Dir(*along)), 1e-4, most)
        if not self.tool.IsDone():
            return None
        best: tuple[float, float] | None = None
        for i in range(1, self.tool.NbPnt() + 1):
            distance = float(self.tool.WParameter(i))
            if best is None or distance < best[0]:
                face = TopoDS.Face(self.tool.Face(i))
                _, normal = normal_at(face, self.tool.UParameter(i), self.tool.VParameter(i))
                best = (distance, dot(normal, along))
        return best[0] if best is not None and best[1] > OPPOSITE else None


def free_length(solid: NamedSolid, places: Sequence[Vec3], along: Vec3, reach_mm: float) -> float | None:
    """How far one can go from some places in a direction before meeting the solid; ``None`` if free all the way."""
    rays = Rays(solid)
    nearest: float | None = None
    for place in places:
        for distance, enters in rays.hits(place, along, 1e-4, reach_mm):
            if enters:
                nearest = distance if nearest is None else min(nearest, distance)
                break
    return nearest


@dataclass(frozen=True)
class Thickness:
    """The least thickness of a part's walls, mm, from a point on one side to the one across it; ``lying`` where it is that of a plate that lies
    in the layers' plane."""

    least_mm: float
    at: tuple[Vec3, Vec3]
    lying: bool = False


#: cosine between outward normals below which two faces make a wall: they look away from each other, within 26 degrees
OPPOSITE = 0.9
#: chord error of the triangles that walls are probed on, mm (their corners lie on the faces, and what is found is brought onto them), and how far points of a flat face lie
#: apart, at first and more closely
WALL_CHORD_MM, WALL_APART_MM = 0.01, (4.0, 0.5, 0.05)
#: the chord error on parts with free surfaces, which take many times as many triangles
FREE_CHORD_MM = 0.03
#: a face looks up or down when its normal lies so near to the print direction
LEVEL = 0.9


def thinnest_wall(solid: NamedSolid, most_mm: float, up: Vec3 | None = None, lying_mm: float = 0.0) -> Thickness | None:
    """The thinnest place of a part where two faces look away from each other with material between, if it is thinner than ``most_mm``.

    From points on all faces the nearest face is looked for that lies behind them and looks the other way (within 26 degrees, so that the
    tips of chamfers and corners are no walls, but the edge of a blade is one). Then the place found is looked at more closely. Of plates
    that lie in the layers' plane (``up`` is the print direction) only those thinner than ``lying_mm`` count.
    """
    chord_mm = WALL_CHORD_MM if all(kind in EXACT_KINDS for kind in solid.kinds) else FREE_CHORD_MM
    facets = facets_between(solid, GROUND, -1e6, 1e6, chord_mm)
    if not len(facets):
        return None
    least: Thickness | None = None
    for lying in (False, True):
        reach = lying_mm if lying else most_mm
        if (lying and up is None) or reach <= 0:
            continue
        found = _thinnest(solid, facets, reach, up, lying)
        # walls and plates have limits of their own: what is told is the one that falls short by more
        if found is not None and (least is None or found.least_mm / reach < least.least_mm / most_mm):
            least = found
    return least


def _thinnest(solid: NamedSolid, facets: Facets, reach: float, up: Vec3 | None, lying: bool) -> Thickness | None:
    """The thinnest place of one kind, and looked at ever more closely round where it was found."""
    near, best = facets, None
    for apart in WALL_APART_MM:
        small = in_small(near, apart)
        points, normals = _corners(small)
        level = np.abs(normals @ np.array(up)) > LEVEL if up is not None else np.zeros(len(points), dtype=bool)
        points, normals = points[level == lying], normals[level == lying]
        found = nearest(points, normals, facets, reach, -OPPOSITE)
        if not len(points) or not np.isfinite(found.deep_mm.min()):
            break
        k = int(found.deep_mm.argmin())
        here, facet = points[k], int(found.deep_at[k])
        there = onto(solid.faces[int(facets.face[facet])], here, found.deep_foot[k])
        thin = float(np.linalg.norm(there - here))
        if best is None or thin < best[0]:
            best = thin, here, there
        low, high = facets.corners.min(axis=1), facets.corners.max(axis=1)
        about = ((low <= here + 2 * apart) & (high >= here - 2 * apart)).all(axis=1)
        near = _within(in_small(facets.chosen(about), apart), here, 2 * apart)
    if best is None or best[0] >= reach:
        return None
    ends = [(float(p[0]), float(p[1]), float(p[2])) for p in best[1:]]
    return Thickness(best[0], (ends[0], ends[1]), lying)


def _corners(facets: Facets) -> tuple[Array, Array]:
    """Each corner of each face once, with the mean normal of the face's triangles there: on a round face six triangles share a corner."""
    points = facets.corners.reshape(-1, 3)
    first, back = first_and_back(np.column_stack([np.round(points * 1e5), np.repeat(facets.face, 3)]))
    normals = np.repeat(facets.normals, 3, axis=0)
    mean = np.column_stack([np.bincount(back, normals[:, k], len(first)) for k in range(3)])
    length = np.linalg.norm(mean, axis=1)
    # where a face folds back upon itself its triangles' normals cancel out: one of them stands for it
    mean[length < 1e-6] = normals[first[length < 1e-6]]
    return points[first], mean / np.where(length < 1e-6, 1.0, length)[:, None]


def _within(facets: Facets, at: Any, far: float) -> Facets:
    """The triangles that reach within so much of a place (by their boxes)."""
    low, high = facets.corners.min(axis=1), facets.corners.max(axis=1)
    return facets.chosen(((low <= at + far) & (high >= at - far)).all(axis=1))


def thickness_at(solid: NamedSolid, at: Vec3, normal: Vec3, most_mm: float = 1e4) -> float | None:
    """How thick a part is straight below a point of its surface; ``None`` where no side lies across."""
    return Rays(solid).through(at, scale(normal, -1), most_mm)


def least_thickness(solid: NamedSolid, places: Sequence[tuple[Vec3, Vec3]], most_mm: float = 1e4) -> float | None:
    """The least thickness straight below several points of a surface, each with its normal; ``None`` where no side lies across any."""
    rays = Rays(solid)
    found = [rays.through(at, scale(normal, -1), most_mm) for at, normal in places]
    return min((f for f in found if f is not None), default=None)
