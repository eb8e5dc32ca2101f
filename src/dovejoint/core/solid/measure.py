"""What solids measure: mass properties, descriptions of faces and edges, distances, gaps."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from OCP.Bnd import Bnd_Box
from OCP.BOPTools import BOPTools_AlgoTools3D
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.BRepClass3d import BRepClass3d_SolidClassifier
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepGProp import BRepGProp
from OCP.BRepTools import BRepTools
from OCP.GeomAPI import GeomAPI_ProjectPointOnSurf
from OCP.gp import gp_Pnt, gp_Pnt2d, gp_Vec
from OCP.GProp import GProp_GProps
from OCP.IntTools import IntTools_Context
from OCP.TopAbs import TopAbs_FORWARD, TopAbs_IN, TopAbs_REVERSED
from OCP.TopExp import TopExp_Explorer
from OCP.TopLoc import TopLoc_Location

from .frame import Frame, Vec3, add, cross, dot, length, scale, sub, unit
from .info import BodyInfo, EdgeInfo, FaceInfo
from .kernel import EDGE, BRep_Tool, BRepAdaptor_Curve, BRepAdaptor_Surface, Shape, TopoDS, placement, point, vec
from .named import NamedSolid, edge_name

__all__ = [
    "body_info",
    "bounds",
    "bounds_along",
    "describe_edges",
    "describe_faces",
    "edge_length",
    "exact_distance",
    "extents",
    "in_material",
    "inside_point",
    "middle_of",
    "normal_at",
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


def in_material(solid: NamedSolid, places: Sequence[Vec3]) -> list[bool]:
    """Which places (mm) lie within a solid, more than 1e-7 mm below its skin."""
    classifier = BRepClass3d_SolidClassifier(solid.shape)
    found = []
    for at in places:
        classifier.Perform(point(at), 1e-7)
        found.append(bool(classifier.State() == TopAbs_IN))
    return found


def bounds_along(shape: Shape, frame: Frame) -> tuple[Vec3, Vec3]:
    """Exact bounding box along the axes of a frame: low and high corner in mm from its origin."""
    return bounds(shape.Moved(TopLoc_Location(placement(frame).Inverted())))


def extents(shape: Shape, frame: Frame) -> Vec3:
    """How far a shape goes along the axes of a frame, mm, exactly as :func:`bounds`."""
    low, high = bounds_along(shape, frame)
    return sub(high, low)


def middle_of(faces: Sequence[Shape], frame: Frame) -> tuple[float, float]:
    """The middle of the box round faces along a frame's ``x`` and ``y``, mm from its origin."""
    boxes = [bounds_along(face, frame) for face in faces]
    x, y = ((min(low[k] for low, _ in boxes) + max(high[k] for _, high in boxes)) / 2 for k in (0, 1))
    return x, y


def body_info(solid: NamedSolid) -> BodyInfo:
    """Mass properties of a part, with the kernel's and our own word on whether it is sound and closed."""
    low, high = bounds(solid.shape)
    return BodyInfo(
        volume_mm3=solid.volume_mm3,
        area_mm2=sum(solid.areas_mm2),
        centre_mm=solid.mass[1],
        low_mm=low,
        high_mm=high,
        closed=solid.closed,
        valid=solid.valid,
        lumps=solid.lumps,
    )


def normal_at(face: Shape, u: float, v: float, adaptor: Any = None) -> tuple[Vec3, Vec3]:
    """Point and outward unit normal of a face at parameters."""
    surface = adaptor or BRepAdaptor_Surface(face)
    p, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
    surface.D1(u, v, p, du, dv)
    n = cross(vec(du), vec(dv))
    size = length(n)
    n = scale(n, 1 / size) if size > 1e-12 else (0.0, 0.0, 1.0)
    return vec(p), scale(n, -1) if face.Orientation() == TopAbs_REVERSED else n


def inside_point(face: Shape) -> tuple[Vec3, Vec3]:
    """A point on the trimmed face, the middle if that is on it, and the normal there."""
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    middle = gp_Pnt2d((u0 + u1) / 2, (v0 + v1) / 2)
    if BRepClass_FaceClassifier(face, middle, 1e-7).State() == TopAbs_IN:
        return normal_at(face, middle.X(), middle.Y())
    at, flat = gp_Pnt(), gp_Pnt2d()
    if BOPTools_AlgoTools3D.PointInFace_s(face, at, flat, IntTools_Context()) == 0:
        return normal_at(face, flat.X(), flat.Y())
    return normal_at(face, middle.X(), middle.Y())


def flat_normal(face: Shape) -> tuple[Vec3, Vec3]:
    """A point of a flat face's plane and its outward normal."""
    u0, _, v0, _ = BRepTools.UVBounds_s(face)
    return normal_at(face, u0, v0)


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
    described = zip(solid.faces, solid.names, around, solid.kinds, solid.areas, strict=True)
    for face, names, neighbours, kind, (area, middle) in described:
        surface = BRepAdaptor_Surface(face)
        at, normal = inside_point(face)
        axis = _axis_point(surface, kind, at)
        hollow = axis is not None and dot(sub(axis, at), normal) > 0
        along, turn = None, 0.0
        if kind == "cylinder":
            along, turn = (
                vec(surface.Cylinder().Axis().Direction()),
                surface.LastUParameter() - surface.FirstUParameter(),
            )
        near = tuple(sorted(neighbours))
        out.append(FaceInfo(names, kind, at, normal, area, _round(surface, kind), hollow, near, middle, along, turn))
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
    return normal_at(face, u, v)[1]


def exact_distance(first: Shape, second: Shape) -> tuple[float, Vec3, Vec3]:
    """Least distance of two shapes in mm and a point on each; 0 when they touch or overlap."""
    extrema = BRepExtrema_DistShapeShape(first, second)
    return float(extrema.Value()), vec(extrema.PointOnShape1(1)), vec(extrema.PointOnShape2(1))
