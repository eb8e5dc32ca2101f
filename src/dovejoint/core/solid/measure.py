"""What solids measure: mass properties, descriptions of faces and edges, distances, gaps."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from OCP.Bnd import Bnd_Box
from OCP.BOPTools import BOPTools_AlgoTools3D
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepGProp import BRepGProp
from OCP.BRepTools import BRepTools
from OCP.GeomAPI import GeomAPI_ProjectPointOnSurf
from OCP.gp import gp_Dir, gp_Lin, gp_Pnt, gp_Pnt2d, gp_Vec
from OCP.GProp import GProp_GProps
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector
from OCP.IntTools import IntTools_Context
from OCP.TopAbs import TopAbs_FORWARD, TopAbs_IN, TopAbs_REVERSED
from OCP.TopExp import TopExp_Explorer

from .frame import Frame, Vec3, add, cross, dot, length, scale, sub, unit
from .info import BodyInfo, EdgeInfo, FaceInfo
from .kernel import EDGE, BRep_Tool, BRepAdaptor_Curve, BRepAdaptor_Surface, Shape, TopoDS, compound, point, vec
from .named import NamedSolid, edge_name

__all__ = [
    "GapReadings",
    "body_info",
    "bounds",
    "describe_edges",
    "describe_faces",
    "edge_length",
    "exact_distance",
    "free_length",
    "gap_readings",
]


def edge_length(edge: Shape) -> float:
    props = GProp_GProps()
    BRepGProp.LinearProperties_s(edge, props)
    return float(props.Mass())


def bounds(shape: Shape) -> tuple[Vec3, Vec3]:
    """Exact bounding box: low and high corner in mm."""
    box = Bnd_Box()
    BRepBndLib.AddOptimal_s(shape, box, False, False)
    return vec(box.CornerMin()), vec(box.CornerMax())


def body_info(solid: NamedSolid) -> BodyInfo:
    """Mass properties of a part, with the kernel's and our own word on whether it is sound and closed."""
    low, high = bounds(solid.shape)
    closed = all(
        solid.edge_map.FindFromIndex(i).Size() == 2 or BRep_Tool.Degenerated_s(TopoDS.Edge(solid.edge_map.FindKey(i)))
        for i in range(1, solid.edge_map.Extent() + 1)
    )
    return BodyInfo(
        volume_mm3=solid.volume_mm3,
        area_mm2=sum(solid.areas_mm2),
        centre_mm=solid.mass[1],
        low_mm=low,
        high_mm=high,
        closed=closed,
        valid=solid.valid,
        lumps=solid.lumps,
    )


def _normal_at(face: Shape, u: float, v: float, adaptor: Any = None) -> tuple[Vec3, Vec3]:
    """Point and outward unit normal of a face at parameters."""
    surface = adaptor or BRepAdaptor_Surface(face)
    p, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
    surface.D1(u, v, p, du, dv)
    n = cross(vec(du), vec(dv))
    size = length(n)
    n = scale(n, 1 / size) if size > 1e-12 else (0.0, 0.0, 1.0)
    return vec(p), scale(n, -1) if face.Orientation() == TopAbs_REVERSED else n


def _inside_point(face: Shape) -> tuple[Vec3, Vec3]:
    """A point on the trimmed face, the middle if that is on it, and the normal there."""
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    middle = gp_Pnt2d((u0 + u1) / 2, (v0 + v1) / 2)
    if BRepClass_FaceClassifier(face, middle, 1e-7).State() == TopAbs_IN:
        return _normal_at(face, middle.X(), middle.Y())
    at, flat = gp_Pnt(), gp_Pnt2d()
    if BOPTools_AlgoTools3D.PointInFace_s(face, at, flat, IntTools_Context()) == 0:
        return _normal_at(face, flat.X(), flat.Y())
    return _normal_at(face, middle.X(), middle.Y())


def flat_normal(face: Shape) -> tuple[Vec3, Vec3]:
    """A point of a flat face's plane and its outward normal."""
    u0, _, v0, _ = BRepTools.UVBounds_s(face)
    return _normal_at(face, u0, v0)


def _round(surface: Any, kind: str) -> float | None:
    if kind == "cylinder":
        return float(surface.Cylinder().Radius())
    if kind == "sphere":
        return float(surface.Sphere().Radius())
    if kind == "torus":
        return float(surface.Torus().MinorRadius())
    return None


def _axis_point(surface: Any, kind: str, at: Vec3) -> Vec3 | None:
    if kind == "cylinder":
        axis = surface.Cylinder().Axis()
        base, d = vec(axis.Location()), vec(axis.Direction())
        return add(base, scale(d, dot(sub(at, base), d)))
    if kind == "sphere":
        return vec(surface.Sphere().Location())
    return None


def describe_faces(solid: NamedSolid) -> list[FaceInfo]:
    """One description for each face, in the order of the names."""
    around: list[set[str]] = [set() for _ in solid.faces]
    for _, (a, b) in solid.edges:
        if a != b:
            around[a].add(solid.names[b][0])
            around[b].add(solid.names[a][0])
    out = []
    described = zip(solid.faces, solid.names, around, solid.kinds, solid.areas_mm2, strict=True)
    for face, names, neighbours, kind, area in described:
        surface = BRepAdaptor_Surface(face)
        at, normal = _inside_point(face)
        axis = _axis_point(surface, kind, at)
        hollow = axis is not None and dot(sub(axis, at), normal) > 0
        out.append(FaceInfo(names, kind, at, normal, area, _round(surface, kind), hollow, tuple(sorted(neighbours))))
    return out


def describe_edges(solid: NamedSolid) -> list[EdgeInfo]:
    """One description for each edge, in the order of ``solid.edges``."""
    out = []
    sides = _Sides(solid)
    for edge, (a, b) in solid.edges:
        name = edge_name(solid.names[a][0], solid.names[b][0])
        if BRep_Tool.Degenerated_s(TopoDS.Edge(edge)):
            out.append(EdgeInfo(name, "point", (0.0, 0.0, 0.0), (0.0, 0.0, 0.0), 0.0, None, (a, b), True, True))
            continue
        curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
        kind = str(curve.GetType().name).removeprefix("GeomAbs_").lower()
        first, last = curve.FirstParameter(), curve.LastParameter()
        p, d = gp_Pnt(), gp_Vec()
        curve.D1((first + last) / 2, p, d)
        at, along = vec(p), vec(d)
        along = unit(along) if length(along) > 1e-12 else (0.0, 0.0, 0.0)
        radius = float(curve.Circle().Radius()) if kind == "circle" else None
        # lines and circles are parametrised by length and by angle
        size = last - first if kind == "line" else radius * (last - first) if radius is not None else edge_length(edge)
        convex, smooth = sides.fold(edge, (a, b), at, along)
        out.append(EdgeInfo(name, kind, at, along, size, radius, (a, b), convex, smooth))
    return out


class _Sides:
    """Outward normals of a solid's faces beside its edges; what all edges of a face share is found once."""

    def __init__(self, solid: NamedSolid) -> None:
        self.solid = solid
        self.flat: dict[int, Vec3] = {}
        self.axes: dict[int, tuple[Vec3, Vec3, float]] = {}
        self.forward: dict[int, dict[int, bool]] = {}

    def normal(self, face: int, at: Vec3) -> Vec3:
        kind = self.solid.kinds[face]
        if kind == "plane":
            if face not in self.flat:
                self.flat[face] = flat_normal(self.solid.faces[face])[1]
            return self.flat[face]
        if kind == "cylinder":
            if face not in self.axes:
                self.axes[face] = self._axis(self.solid.faces[face])
            base, along, sign = self.axes[face]
            away = sub(at, base)
            radial = sub(away, scale(along, dot(away, along)))
            return scale(unit(radial), sign)
        return _face_normal_near(self.solid.faces[face], at)

    def _axis(self, face: Shape) -> tuple[Vec3, Vec3, float]:
        """Base and direction of a cylinder's axis, and whether its outward normal points from the axis (1) or to it."""
        axis = BRepAdaptor_Surface(face).Cylinder().Axis()
        base, along = vec(axis.Location()), vec(axis.Direction())
        at, normal = flat_normal(face)
        away = sub(at, base)
        radial = sub(away, scale(along, dot(away, along)))
        return base, along, 1.0 if dot(radial, normal) > 0 else -1.0

    def runs_forward(self, face: int, edge: Shape) -> bool:
        """Whether an edge runs forward where it first bounds a face."""
        if face not in self.forward:
            found: dict[int, bool] = {}
            explorer = TopExp_Explorer(self.solid.faces[face], EDGE)
            while explorer.More():
                # the explorer composes the orientation of the face with that of the edge in its wire
                here = explorer.Current()
                found.setdefault(self.solid.edge_map.FindIndex(here), here.Orientation() == TopAbs_FORWARD)
                explorer.Next()
            self.forward[face] = found
        return self.forward[face].get(self.solid.edge_map.FindIndex(edge), True)

    def fold(self, edge: Shape, faces: tuple[int, int], at: Vec3, along: Vec3) -> tuple[bool, bool]:
        """Whether an edge sticks out, and whether its faces run on smoothly (within 0.5 degrees)."""
        a, b = faces
        if a == b:
            return True, True
        first, second = self.normal(a, at), self.normal(b, at)
        bend = cross(first, second)
        if length(bend) < math.sin(math.radians(0.5)) and dot(first, second) > 0:
            return True, True
        # a small step from the edge into the first face goes below the second face where the edge sticks out
        forward = along if self.runs_forward(a, edge) else scale(along, -1)
        into = cross(first, forward)
        return dot(into, second) < 0, False


def _face_normal_near(face: Shape, at: Vec3) -> Vec3:
    projection = GeomAPI_ProjectPointOnSurf(point(at), BRep_Tool.Surface_s(face))
    u, v = projection.LowerDistanceParameters()
    return _normal_at(face, u, v)[1]


def exact_distance(first: Shape, second: Shape) -> tuple[float, Vec3, Vec3]:
    """Least distance of two shapes in mm and a point on each; 0 when they touch or overlap."""
    extrema = BRepExtrema_DistShapeShape(first, second)
    return float(extrema.Value()), vec(extrema.PointOnShape1(1)), vec(extrema.PointOnShape2(1))


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
            _, normal = _normal_at(face, self.tool.UParameter(i), self.tool.VParameter(i), self.adaptors[index])
            out.append((float(self.tool.WParameter(i)), dot(normal, along) < 0))
        return sorted(out)

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
                    p, n = _normal_at(face, u, v, adaptor)
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
