"""Faces of a twisted solid moved out or in. The kernel offsets them by surfaces that it can hardly work with; but what lies at a distance from a screw's surface is a
screw's surface again, about the same axis, so its section is reckoned and the solid made anew from that.

With ω the turn for each mm, p the section's curve and t its direction, the surface through p runs along t and along (−ω·y, ω·x, 1); their product is the normal
(t_y, −t_x, ω·t·p). The place at a distance d along it lies d·n_z higher, and is screwed back by that.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.collections import HArray1_gp_Pnt
from OCP.Geom import Geom_BSplineSurface
from OCP.GeomAPI import GeomAPI_Interpolate
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopoDS import TopoDS_Edge

from .frame import Frame, dot, scale, sub, unit
from .kernel import TopoDS, plane, point, raised_by_kernel, vec
from .measure import describe_faces
from .named import NamedSolid
from .twisted import twisted

__all__ = ["moved_on_screw"]

Array = NDArray[np.float64]

#: what is screwed lies on its screw within this, mm
SCREWED_MM = 2e-5
#: places along each curve that the new one goes through
_PLACES = 48


@dataclass(frozen=True)
class _Side:
    """A face that a curve sweeps out; the curve where the screw begins, in the screw's own frame."""

    face: int
    surface: Geom_BSplineSurface
    home: Frame

    def at(self, s: float) -> tuple[Array, Array]:
        """Place and direction (x, y) at a share of the curve; beyond its ends it runs on straight."""
        u, _, first, last = self.surface.Bounds()
        inside = min(max(s, 0.0), 1.0)
        p, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
        self.surface.D1(u, first + inside * (last - first), p, du, dv)
        place = np.array(self.home.to_local(vec(p))[:2])
        along = np.array([dot(vec(dv), self.home.x), dot(vec(dv), self.home.y)]) * (last - first)
        return place + (s - inside) * along, along


@dataclass(frozen=True)
class _Screw:
    axis: Frame
    pitch: float
    length_mm: float
    low: int
    high: int
    sides: list[_Side]


def _screw_of(solid: NamedSolid) -> _Screw | None:
    """How a solid is screwed from end to end, when that is all that it is."""
    info = describe_faces(solid)
    flats = [i for i, f in enumerate(info) if f.kind == "plane"]
    if len(flats) != 2 or any(f.kind not in ("plane", "bsplinesurface") for f in info):
        return None
    surfaces = {i: BRep_Tool.Surface_s(TopoDS.Face(solid.faces[i])) for i in range(len(info)) if i not in flats}
    if any(not isinstance(s, Geom_BSplineSurface) for s in surfaces.values()):
        return None
    begins = gp_Pnt()
    first = next(iter(surfaces.values()))
    first.D0(*first.Bounds()[0::2], begins)
    # the end at which the surfaces begin
    low, high = sorted(flats, key=lambda i: abs(dot(sub(vec(begins), info[i].at), info[i].normal)))
    z = scale(unit(info[low].normal), -1.0)
    length_mm = dot(sub(info[high].at, info[low].at), z)
    if length_mm < 1e-6 or abs(dot(z, info[high].normal) - 1.0) > 1e-9:
        return None
    flat = Frame.on_plane(info[low].at, z)
    base = Frame(info[low].at, flat.x, flat.y)

    def row(surface: Geom_BSplineSurface, share: float) -> Array:
        u, over, v, beyond = surface.Bounds()
        p, out = gp_Pnt(), []
        for k in range(9):
            surface.D0(u + share * (over - u), v + (beyond - v) * k / 8, p)
            out.append(base.to_local(vec(p)))
        return np.array(out)

    # from one row to a near one: a turn about a centre, and a rise
    share = 1.0 / max(1, first.NbUKnots() - 1)
    one, two = row(first, 0.0), row(first, share)
    a, b = (rows[:, :2] - rows[:, :2].mean(axis=0) for rows in (one, two))
    turn = math.atan2(float((a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]).sum()), float((a * b).sum()))
    rise = float((two - one)[:, 2].mean())
    if abs(turn) < 1e-9 or rise < 1e-9:
        return None
    turned = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
    centre = np.linalg.solve(np.eye(2) - turned, two[:, :2].mean(axis=0) - turned @ one[:, :2].mean(axis=0))
    axis = Frame(base.to_world(float(centre[0]), float(centre[1])), base.x, base.y)
    pitch = turn / rise
    for surface in surfaces.values():
        begin = row(surface, 0.0) - [*centre, 0.0]
        if np.abs(begin[:, 2]).max() > SCREWED_MM:
            return None
        for share in (0.3, 0.71, 1.0):
            found = row(surface, share) - [*centre, 0.0]
            angle = pitch * found[:, 2]
            x, y = begin[:, 0], begin[:, 1]
            meant = np.stack([x * np.cos(angle) - y * np.sin(angle), x * np.sin(angle) + y * np.cos(angle)], axis=1)
            if np.abs(found[:, :2] - meant).max() > SCREWED_MM or np.ptp(found[:, 2]) > SCREWED_MM:
                return None
        if abs(found[0, 2] - length_mm) > SCREWED_MM:
            return None
    return _Screw(axis, pitch, length_mm, low, high, [_Side(i, s, axis) for i, s in surfaces.items()])


def _loops(sides: Sequence[_Side]) -> list[list[tuple[_Side, bool]]] | None:
    """The curves of a section in turn, and whether each is run as it goes; material lies to the left."""
    rest, loops = list(sides), []
    while rest:
        chain = [(rest.pop(0), True)]
        while True:
            side, ahead = chain[-1]
            end, start = side.at(1.0 if ahead else 0.0)[0], chain[0][0].at(0.0)[0]
            if np.hypot(*(end - start)) < 1e-4:
                break
            found = [
                (s, way)
                for s in rest
                for way in (True, False)
                if np.hypot(*(s.at(0.0 if way else 1.0)[0] - end)) < 1e-4
            ]
            if not found:
                return None
            chain.append(found[0])
            rest.remove(found[0][0])
        loops.append(chain)

    def area(chain: list[tuple[_Side, bool]]) -> float:
        at = np.array(
            [side.at(t if ahead else 1 - t)[0] for side, ahead in chain for t in np.linspace(0, 1, 24, endpoint=False)]
        )
        x, y = at[:, 0], at[:, 1]
        return float((x * np.roll(y, -1) - y * np.roll(x, -1)).sum()) / 2

    loops.sort(key=lambda c: -abs(area(c)))
    return [c if (area(c) > 0) == (k == 0) else [(s, not w) for s, w in reversed(c)] for k, c in enumerate(loops)]


def _beside(side: _Side, ahead: bool, distance_mm: float, pitch: float) -> Callable[[float], Array]:
    """The curve of the section at a distance (out of the material) from one that is run with material to its left."""

    def at(s: float) -> Array:
        p, t = side.at(s if ahead else 1.0 - s)
        if not ahead:
            t = -t
        normal = np.array([t[1], -t[0], pitch * float(t @ p)])
        normal /= np.linalg.norm(normal)
        q, back = p + distance_mm * normal[:2], -pitch * distance_mm * normal[2]
        return np.array([q[0] * math.cos(back) - q[1] * math.sin(back), q[0] * math.sin(back) + q[1] * math.cos(back)])

    return at


def _met(one: Callable[[float], Array], two: Callable[[float], Array]) -> tuple[float, float] | None:
    """Where the end of a curve meets the beginning of the next, near the corner between them (Newton's method)."""
    s, t = 1.0, 0.0
    for _ in range(40):
        gap = one(s) - two(t)
        if np.hypot(*gap) < 1e-10:
            return (s, t) if s > 0.05 and t < 0.95 else None
        h = 1e-6
        slope = np.stack([(one(s + h) - one(s - h)) / (2 * h), -(two(t + h) - two(t - h)) / (2 * h)], axis=1)
        if abs(np.linalg.det(slope)) < 1e-12:
            return None
        ds, dt = np.linalg.solve(slope, -gap)
        s, t = s + float(np.clip(ds, -0.3, 0.3)), t + float(np.clip(dt, -0.3, 0.3))
    return None


def moved_on_screw(
    solid: NamedSolid, by_mm: Mapping[int, float], names: Callable[[str], str] = str
) -> NamedSolid | None:
    """A twisted solid with some of its faces (0-based) moved out by so much, in where it is below zero. They keep their names, or what ``names`` makes of them.

    ``None`` where the solid is something else too, or the faces cannot move so far.
    """
    screw = _screw_of(solid)
    loops = _loops(screw.sides) if screw is not None else None
    if screw is None or loops is None:
        return None
    edges: list[tuple[TopoDS_Edge, str]] = []
    wires: list[BRepBuilderAPI_MakeWire] = []
    for chain in loops:
        curves = [_beside(side, ahead, by_mm.get(side.face, 0.0), screw.pitch) for side, ahead in chain]
        spans = [[0.0, 1.0] for _ in chain]
        for k, curve in enumerate(curves):
            other = (k + 1) % len(curves)
            if np.hypot(*(curve(1.0) - curves[other](0.0))) > 1e-7:
                met = _met(curve, curves[other]) if len(curves) > 1 else None
                if met is None:
                    return None
                spans[k][1], spans[other][0] = met
        wire = BRepBuilderAPI_MakeWire()
        for (side, ahead), curve, (low, high) in zip(chain, curves, spans, strict=True):
            along = np.linspace(low, high, _PLACES)
            places = np.array([curve(s) for s in along])
            before = np.array([side.at(s if ahead else 1 - s)[1] for s in along]) * (1 if ahead else -1)
            # where it would turn back, it is nearer to the middle of its bend than it may come
            if low >= high or (np.gradient(places, axis=0) * before).sum(axis=1).min() <= 0:
                return None
            edge = _through(places, screw.axis)
            if edge is None:
                return None
            wire.Add(edge)
            edges.append((edge, names(solid.names[side.face][0])))
        wires.append(wire)
    try:
        face = BRepBuilderAPI_MakeFace(plane(screw.axis), wires[0].Wire(), True)
        for hole in wires[1:]:
            face.Add(TopoDS.Wire(hole.Wire()))
        reach = (-by_mm.get(screw.low, 0.0), screw.length_mm + by_mm.get(screw.high, 0.0))
        ends = (names(solid.names[screw.low][0]), names(solid.names[screw.high][0]))
        return twisted(edges, face.Face(), screw.axis, reach, screw.pitch, ends)
    except Exception as error:
        if not raised_by_kernel(error):
            raise
        return None


def _through(places: Array, axis: Frame) -> TopoDS_Edge | None:
    """A smooth curve through places (x, y) of a frame."""
    given = HArray1_gp_Pnt(1, len(places))
    for k, (x, y) in enumerate(places):
        given.SetValue(k + 1, point(axis.to_world(float(x), float(y))))
    maker = GeomAPI_Interpolate(given, False, 1e-9)
    maker.Perform()
    return BRepBuilderAPI_MakeEdge(maker.Curve()).Edge() if maker.IsDone() else None
