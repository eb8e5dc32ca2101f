"""Probing solids with rays: gaps between parts, free ways, the thickness of walls."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.BRepTools import BRepTools
from OCP.gp import gp_Dir, gp_Lin, gp_Pnt2d
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector
from OCP.TopAbs import TopAbs_IN

from .frame import Frame, Vec3, add, dot, scale
from .kernel import BRepAdaptor_Surface, Shape, TopoDS, compound, point
from .measure import bounds, exact_distance, normal_at
from .named import NamedSolid

__all__ = ["GapReadings", "Thickness", "free_length", "gap_readings", "thickness_at", "thinnest_wall"]

#: readings along each direction of a mating face
GRID = 8


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

    def gap(self, at: Vec3, along: Vec3, reach: float) -> float | None:
        """Free distance from a point to the solid; negative by how deep the point sits inside it."""
        hits = self.hits(at, along, -reach, reach)
        ahead = [h for h in hits if h[0] >= 0]
        if ahead and ahead[0][1]:
            return ahead[0][0]
        if ahead:
            behind = [h for h in hits if h[0] < 0 and h[1]]
            return behind[-1][0] if behind else None
        return None


@dataclass(frozen=True)
class GapReadings:
    """The gap between two sets of faces as it is in the solids, per side, in mm.

    ``least_at`` and ``most_at`` are pairs of points, one on each part.
    """

    least_mm: float
    most_mm: float
    mean_mm: float
    least_at: tuple[Vec3, Vec3]
    most_at: tuple[Vec3, Vec3]
    readings: int


def _samples(solid: NamedSolid, names: Sequence[str], frame: Frame, low: float, high: float) -> list[tuple[Vec3, Vec3]]:
    """Points with normals on the named faces, between two heights over a frame."""
    out = []
    for name in names:
        for index in solid.find(name):
            face = solid.faces[index]
            u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
            adaptor = BRepAdaptor_Surface(face)
            # a uniform grid in (u, v), the same along both as the walls are long and low or the other way round
            for a in range(GRID):
                for b in range(GRID):
                    u, v = u0 + (a + 0.5) / GRID * (u1 - u0), v0 + (b + 0.5) / GRID * (v1 - v0)
                    p, n = normal_at(face, u, v, adaptor)
                    if not low <= frame.to_local(p)[2] <= high:
                        continue
                    if BRepClass_FaceClassifier(face, gp_Pnt2d(u, v), 1e-7).State() == TopAbs_IN:
                        out.append((p, n))
    return out


def gap_readings(
    outer: NamedSolid,
    outer_names: Sequence[str],
    inner: NamedSolid,
    inner_names: Sequence[str],
    frame: Frame,
    low_mm: float,
    high_mm: float,
    reach_mm: float,
) -> GapReadings | None:
    """Measure the gap between two parts, from each one's mating faces to the other's solid.

    Shooting from both sides finds the gap even where a later step replaced the mating faces of one part.
    The least is checked against the kernel's exact distance where nothing overlaps.

    Parameters
    ----------
    outer_names, inner_names : names of the mating faces.
    frame, low_mm, high_mm : only places between these heights over the frame count (the joint's engaged zone).
    reach_mm : places where the other part is farther away than this have no gap of this joint.
    """
    found: list[tuple[float, Vec3, Vec3]] = []
    for solid, names, other in ((outer, outer_names, inner), (inner, inner_names, outer)):
        rays = _Rays(other)
        for p, n in _samples(solid, names, frame, low_mm, high_mm):
            gap = rays.gap(p, n, reach_mm)
            if gap is not None:
                q = add(p, scale(n, gap))
                found.append((gap, p, q) if solid is outer else (gap, q, p))
    if not found:
        return None
    found.sort(key=lambda f: f[0])
    least, most = found[0], found[-1]
    if least[0] > 0:
        walls = [outer.faces[i] for name in outer_names for i in outer.find(name)]
        others = [f for f in inner.faces if _in_zone(f, frame, low_mm, high_mm)]
        if walls and others:
            distance, p, q = exact_distance(compound(walls), compound(others))
            # a witness outside the engaged zone (say, at the seat) is no gap of this joint
            inside = all(low_mm <= frame.to_local(w)[2] <= high_mm for w in (p, q))
            if inside and 1e-9 < distance < least[0] - 1e-9:
                least = (distance, p, q)
    mean = sum(f[0] for f in found) / len(found)
    return GapReadings(least[0], most[0], mean, (least[1], least[2]), (most[1], most[2]), len(found))


def _in_zone(face: Shape, frame: Frame, low: float, high: float) -> bool:
    """Whether a face reaches into the engaged zone without lying in the seat's plane."""
    a, b = bounds(face)
    heights = [frame.to_local((x, y, z))[2] for x in (a[0], b[0]) for y in (a[1], b[1]) for z in (a[2], b[2])]
    return max(heights) > low and min(heights) < high and max(heights) - min(heights) > 1e-6


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
