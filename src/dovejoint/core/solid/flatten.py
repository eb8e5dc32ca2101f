"""Edges, cuts and outlines of a solid, laid flat onto a plane; and places on edges and round sides."""

from __future__ import annotations

import math
from typing import Any, NamedTuple

from OCP.BRepAlgoAPI import BRepAlgoAPI_Section
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.gp import gp_Pnt, gp_Vec

from ..errors import StepError
from .facename import as_part
from .frame import Axis, Frame, Vec3, add, cross, dot, length, scale, unit
from .kernel import EDGE, BRepAdaptor_Curve, BRepAdaptor_Surface, TopoDS, plane, subshapes, vec
from .named import NamedSolid
from .outline import Vec2

__all__ = [
    "Flat",
    "cylinder_of",
    "edge_axis",
    "edge_middle",
    "edge_place",
    "face_axis",
    "face_curves",
    "flat_edge",
    "flat_outline",
    "flat_section",
]

#: a free curve is laid flat as a spline of so many stretches
_STRETCHES = 8


class Flat(NamedTuple):
    """A curve in a plane (mm): ``kind`` and ``places`` as a sketch keeps them, ``radius`` of a circle, or the second half axis."""

    kind: str
    places: tuple[Vec2, ...]
    radius: float = 0.0


def flat_edge(solid: NamedSolid, index: int, frame: Frame) -> Flat:
    """One edge (0-based), seen square onto the plane. Raises StepError when it stands square on it."""
    return _flat(TopoDS.Edge(solid.edges[index][0]), frame)


def face_curves(solid: NamedSolid, index: int, frame: Frame) -> list[tuple[str, Flat]]:
    """What bounds a flat face (0-based), laid onto its plane, each curve with the name of the face beyond. Raises StepError."""
    return [
        (as_part(solid.names[solid.across(edge, index)][0]), _flat(TopoDS.Edge(edge), frame))
        for edge in subshapes(solid.faces[index], EDGE)
    ]


def flat_section(solid: NamedSolid, index: int, frame: Frame) -> list[Flat]:
    """Where a plane cuts one face (0-based), in a stable order. Raises StepError when it does not."""
    cut = BRepAlgoAPI_Section(solid.faces[index], plane(frame), False)
    cut.Build()
    found = [_flat(e, frame) for e in subshapes(cut.Shape(), EDGE)] if cut.IsDone() else []
    if not found:
        raise StepError("The board's plane does not cut that face.")
    return sorted(found, key=lambda f: (tuple(round(v, 6) for p in f.places for v in p), f.radius))


def flat_outline(solid: NamedSolid, index: int, frame: Frame) -> list[Flat]:
    """How far a round face (0-based) reaches to both sides, seen square onto the plane: two lines of a cylinder that lies along it,
    the circle of one that stands on it, the circle of a ball. Raises StepError for other faces."""
    surface = BRepAdaptor_Surface(solid.faces[index])
    kind = surface.GetType().name
    if kind == "GeomAbs_Sphere":
        ball = surface.Sphere()
        return [Flat("circle", (_place(frame, vec(ball.Location())),), float(ball.Radius()))]
    if kind != "GeomAbs_Cylinder":
        raise StepError(
            "Only a round side or a ball has an outline that can be brought in; bring in edges of other faces."
        )
    cylinder = surface.Cylinder()
    axis, foot, radius = (vec(cylinder.Axis().Direction()), vec(cylinder.Axis().Location()), float(cylinder.Radius()))
    across = cross(axis, frame.z)
    if length(across) < 1e-9:
        return [Flat("circle", (_place(frame, foot),), radius)]
    side = scale(unit(across), radius)
    low, high = (
        _place(frame, (foot[0] + axis[0] * v, foot[1] + axis[1] * v, foot[2] + axis[2] * v))
        for v in (surface.FirstVParameter(), surface.LastVParameter())
    )
    dx, dy = dot(side, frame.x), dot(side, frame.y)
    out = []
    for sign in (1, -1):
        ends = tuple((p[0] + sign * dx, p[1] + sign * dy) for p in (low, high))
        out.append(Flat("line", ends))
    return out


def _place(frame: Frame, point: tuple[float, float, float]) -> Vec2:
    x, y, _ = frame.to_local(point)
    return x, y


def _flat(edge: Any, frame: Frame) -> Flat:
    curve = BRepAdaptor_Curve(edge)
    first, last = curve.FirstParameter(), curve.LastParameter()
    start, end = (_place(frame, vec(curve.Value(t))) for t in (first, last))
    kind = curve.GetType().name
    if kind == "GeomAbs_Line":
        if math.dist(start, end) < 1e-6:
            raise StepError("That edge stands square on the board; there it is a point only.")
        return Flat("line", (start, end))
    if kind == "GeomAbs_Circle":
        circle = curve.Circle()
        axis = vec(circle.Axis().Direction())
        facing = dot(axis, frame.z)
        centre, radius = _place(frame, vec(circle.Location())), float(circle.Radius())
        whole = abs(abs(last - first) - 2 * math.pi) < 1e-9
        if abs(facing) > 1 - 1e-9:
            if whole:
                return Flat("circle", (centre,), radius)
            return Flat("arc", (centre, start, end) if facing > 0 else (centre, end, start))
        if whole and abs(facing) > 1e-6:
            long = unit(cross(axis, frame.z))
            major = centre[0] + dot(long, frame.x) * radius, centre[1] + dot(long, frame.y) * radius
            return Flat("ellipse", (centre, major), radius * abs(facing))
        if abs(facing) <= 1e-6:
            return _seen_edge_on(curve, frame, first, last)
    return _spline(curve, frame, first, last)


def _seen_edge_on(curve: Any, frame: Frame, first: float, last: float) -> Flat:
    """A circle seen along its plane is a line between its farthest places."""
    places = [_place(frame, vec(curve.Value(first + (last - first) * k / 720))) for k in range(721)]
    one = max(places, key=lambda p: math.dist(p, places[0]))
    two = max(places, key=lambda p: math.dist(p, one))
    if math.dist(one, two) < 1e-6:
        raise StepError("That edge stands square on the board; there it is a point only.")
    return Flat("line", (min(one, two), max(one, two)))


def _spline(curve: Any, frame: Frame, first: float, last: float) -> Flat:
    """Cubic stretches with the curve's own places and directions at their ends (Hermite): within thousandths of a millimetre."""
    places: list[Vec2] = []
    ways: list[Vec2] = []
    step = (last - first) / _STRETCHES
    for k in range(_STRETCHES + 1):
        point, way = gp_Pnt(), gp_Vec()
        curve.D1(first + k * step, point, way)
        places.append(_place(frame, vec(point)))
        v = vec(way)
        ways.append((dot(v, frame.x) * step / 3, dot(v, frame.y) * step / 3))
    out = [places[0]]
    for k in range(_STRETCHES):
        (ax, ay), (bx, by) = places[k], places[k + 1]
        out += [(ax + ways[k][0], ay + ways[k][1]), (bx - ways[k + 1][0], by - ways[k + 1][1]), (bx, by)]
    return Flat("spline", tuple(out))


def cylinder_of(solid: NamedSolid, index: int) -> tuple[Vec3, Vec3, float] | None:
    """A place on the axis, the axis' direction and the radius (mm) of a round side (0-based); nothing for other faces."""
    surface = BRepAdaptor_Surface(solid.faces[index])
    if surface.GetType().name != "GeomAbs_Cylinder":
        return None
    cylinder = surface.Cylinder()
    foot, way = vec(cylinder.Axis().Location()), vec(cylinder.Axis().Direction())
    middle = (surface.FirstVParameter() + surface.LastVParameter()) / 2
    return add(foot, scale(way, middle)), way, float(cylinder.Radius())


def edge_place(solid: NamedSolid, index: int, share: float) -> tuple[Vec3, Vec3]:
    """The place a share of its length along an edge (0-based), and the edge's direction there."""
    curve = BRepAdaptor_Curve(TopoDS.Edge(solid.edges[index][0]))
    first, last = curve.FirstParameter(), curve.LastParameter()
    whole = GCPnts_AbscissaPoint.Length_s(curve, first, last)
    at = GCPnts_AbscissaPoint(curve, whole * share, first).Parameter()
    point, way = gp_Pnt(), gp_Vec()
    curve.D1(at, point, way)
    return vec(point), unit(vec(way))


def edge_middle(solid: NamedSolid, index: int) -> Vec3:
    """The centre of a round edge (0-based), the middle of any other."""
    curve = BRepAdaptor_Curve(TopoDS.Edge(solid.edges[index][0]))
    if curve.GetType().name == "GeomAbs_Circle":
        return vec(curve.Circle().Location())
    return edge_place(solid, index, 0.5)[0]


def edge_axis(solid: NamedSolid, index: int) -> Axis | None:
    """Along a straight edge (0-based), or through the middle of a round one; ``None`` for others."""
    curve = BRepAdaptor_Curve(TopoDS.Edge(solid.edges[index][0]))
    kind = curve.GetType().name
    if kind == "GeomAbs_Line":
        line = curve.Line()
        return Axis(vec(line.Location()), vec(line.Direction()))
    if kind == "GeomAbs_Circle":
        axis = curve.Circle().Axis()
        return Axis(vec(axis.Location()), vec(axis.Direction()))
    return None


def face_axis(solid: NamedSolid, index: int) -> Axis | None:
    """The axis of a cylinder, a cone or a ring (0-based face); ``None`` for other faces."""
    surface = BRepAdaptor_Surface(solid.faces[index])
    kind = surface.GetType().name
    if kind not in ("GeomAbs_Cylinder", "GeomAbs_Cone", "GeomAbs_Torus"):
        return None
    found = {"GeomAbs_Cylinder": surface.Cylinder, "GeomAbs_Cone": surface.Cone, "GeomAbs_Torus": surface.Torus}[kind]()
    axis = found.Axis()
    return Axis(vec(axis.Location()), vec(axis.Direction()))
