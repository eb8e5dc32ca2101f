"""Probing solids with rays: free ways, the thickness of walls."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.BRepTools import BRepTools
from OCP.gp import gp_Dir, gp_Lin, gp_Pnt2d
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector
from OCP.TopAbs import TopAbs_IN

from .frame import Vec3, add, dot, scale
from .kernel import BRepAdaptor_Surface, TopoDS, point
from .measure import normal_at
from .named import NamedSolid

__all__ = ["Thickness", "free_length", "thickness_at", "thinnest_wall"]


class _Rays:
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
    rays = _Rays(solid)
    nearest: float | None = None
    for place in places:
        for distance, enters in rays.hits(place, along, 1e-4, reach_mm):
            if enters:
                nearest = distance if nearest is None else min(nearest, distance)
                break
    return nearest


@dataclass(frozen=True)
class Thickness:
    """The least thickness of a part's walls, mm, from a point on one side to the one across it."""

    least_mm: float
    at: tuple[Vec3, Vec3]


#: readings along each direction of a face when its wall is probed
WALL_GRID = 4
#: cosine between a ray and the outward normal where it leaves, above which the two faces make a wall
OPPOSITE = 0.9


def thinnest_wall(solid: NamedSolid, most_mm: float) -> Thickness | None:
    """The thinnest place of a part where two faces look away from each other, if it is thinner than ``most_mm``.

    From points on each face a ray goes straight into the material; what counts is where it comes out through a
    face that looks the other way (within 25 degrees), so that the tips of chamfers and corners are no walls.
    """
    rays = _Rays(solid)
    least: Thickness | None = None
    for face in solid.faces:
        u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
        adaptor = BRepAdaptor_Surface(face)
        for a in range(WALL_GRID):
            for b in range(WALL_GRID):
                u, v = u0 + (a + 0.5) / WALL_GRID * (u1 - u0), v0 + (b + 0.5) / WALL_GRID * (v1 - v0)
                if BRepClass_FaceClassifier(face, gp_Pnt2d(u, v), 1e-7).State() != TopAbs_IN:
                    continue
                p, n = normal_at(face, u, v, adaptor)
                inward = scale(n, -1)
                through = rays.through(p, inward, most_mm if least is None else least.least_mm)
                if through is not None:
                    least = Thickness(through, (p, add(p, scale(inward, through))))
    return least


def thickness_at(solid: NamedSolid, at: Vec3, normal: Vec3, most_mm: float = 1e4) -> float | None:
    """How thick a part is straight below a point of its surface; ``None`` where no side lies across."""
    return _Rays(solid).through(at, scale(normal, -1), most_mm)
