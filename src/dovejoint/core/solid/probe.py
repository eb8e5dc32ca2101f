"""Probing solids with rays: gaps between parts, free ways, the thickness of walls."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.BRepTools import BRepTools
from OCP.gp import gp_Dir, gp_Lin, gp_Pnt2d
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector
from OCP.TopAbs import TopAbs_IN, TopAbs_OUT

from .frame import Frame, Vec3, add, dot, scale
from .info import GapReadings
from .kernel import BRepAdaptor_Surface, Shape, TopoDS, compound, point
from .measure import bounds, exact_distance, normal_at
from .named import NamedSolid

__all__ = ["Thickness", "free_length", "gap_readings", "thickness_at", "thinnest_wall"]

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
class _Sample:
    """A point of a face with its outward normal, and where on the face it lies."""

    at: Vec3
    normal: Vec3
    face: Shape
    place: tuple[float, float]


def _samples(solid: NamedSolid, names: Sequence[str], frame: Frame, low: float, high: float) -> list[_Sample]:
    """Points on the named faces, between two heights over a frame; more of them along the longer way."""
    out = []
    for name in names:
        for index in solid.find(name):
            face = solid.faces[index]
            u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
            adaptor = BRepAdaptor_Surface(face)
            middle = adaptor.Value((u0 + u1) / 2, (v0 + v1) / 2)
            wide = middle.Distance(adaptor.Value(u0, (v0 + v1) / 2))
            deep = middle.Distance(adaptor.Value((u0 + u1) / 2, v0))
            across, along = (2 * GRID, GRID // 2) if wide > deep else (GRID // 2, 2 * GRID)
            for a in range(across):
                for b in range(along):
                    u, v = u0 + (a + 0.5) / across * (u1 - u0), v0 + (b + 0.5) / along * (v1 - v0)
                    p, n = normal_at(face, u, v, adaptor)
                    if not low <= frame.to_local(p)[2] <= high:
                        continue
                    if BRepClass_FaceClassifier(face, gp_Pnt2d(u, v), 1e-7).State() == TopAbs_IN:
                        out.append(_Sample(p, n, face, (u, v)))
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
    Where nothing overlaps, the least is the exact shortest way between the two (see ``_nearest``).

    Parameters
    ----------
    outer_names, inner_names : names of the mating faces.
    frame, low_mm, high_mm : only places between these heights over the frame count (the joint's engaged zone).
    reach_mm : places where the other part is farther away than this have no gap of this joint.
    """
    found: list[tuple[float, Vec3, Vec3]] = []
    tightest: tuple[float, _Sample] | None = None
    for solid, names, other in ((outer, outer_names, inner), (inner, inner_names, outer)):
        rays = _Rays(other)
        for sample in _samples(solid, names, frame, low_mm, high_mm):
            gap = rays.gap(sample.at, sample.normal, reach_mm)
            if gap is None:
                continue
            end = add(sample.at, scale(sample.normal, gap))
            found.append((gap, sample.at, end) if solid is outer else (gap, end, sample.at))
            if solid is outer and (tightest is None or gap < tightest[0]):
                tightest = (gap, sample)
    if not found:
        return None
    found.sort(key=lambda f: f[0])
    least, most = found[0], found[-1]
    others = [f for f in inner.faces if _in_zone(f, frame, low_mm, high_mm)]
    if least[0] > 0 and tightest is not None and others:
        # rays go along the normals; where the faces lean to each other the shortest way is another one, and nearby
        shape = compound(others)
        here, _, _ = exact_distance(BRepBuilderAPI_MakeVertex(point(tightest[1].at)).Vertex(), shape)
        if here < tightest[0] - 1e-7:
            nearest = _nearest(tightest[1].face, tightest[1].place, shape, frame, low_mm, high_mm)
            if nearest is not None and 1e-9 < nearest[0] < least[0]:
                least = nearest
    mean = sum(f[0] for f in found) / len(found)
    return GapReadings(least[0], most[0], mean, (least[1], least[2]), (most[1], most[2]), len(found))


def _nearest(
    face: Shape, at: tuple[float, float], other: Shape, frame: Frame, low: float, high: float
) -> tuple[float, Vec3, Vec3] | None:
    """The shortest way from a face to a shape, looked for round a place on the face (its parameters).

    A grid made finer six times round its best place: the distance is smooth, so what is left is far below a
    thousandth of a millimetre. (The kernel's own extrema know no heights.)
    """
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    adaptor = BRepAdaptor_Surface(face)
    best: tuple[float, Vec3, Vec3] | None = None
    reach = ((u1 - u0) / GRID, (v1 - v0) / GRID)
    for _ in range(7):
        middle = at
        for a in (-1.0, -0.5, 0.0, 0.5, 1.0):
            for b in (-1.0, 0.0, 1.0):
                u = min(max(middle[0] + reach[0] * a, u0), u1)
                v = min(max(middle[1] + reach[1] * b, v0), v1)
                p, _ = normal_at(face, u, v, adaptor)
                if not low <= frame.to_local(p)[2] <= high:
                    continue
                if BRepClass_FaceClassifier(face, gp_Pnt2d(u, v), 1e-7).State() == TopAbs_OUT:
                    continue
                distance, _, q = exact_distance(BRepBuilderAPI_MakeVertex(point(p)).Vertex(), other)
                if best is None or distance < best[0] - 1e-12:
                    best, at = (distance, p, q), (u, v)
        reach = (reach[0] / 2.5, reach[1] / 2.5)
    return best


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
