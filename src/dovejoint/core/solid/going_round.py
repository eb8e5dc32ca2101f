"""Outlines that a loft goes over on its way round: run alike, and begun at corners that answer each other."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.collections import Array1_double, Array1_gp_Pnt, Array1_int, Array2_double, Array2_gp_Pnt
from OCP.Geom import Geom_BSplineCurve, Geom_BSplineSurface
from OCP.GeomFill import GeomFill_Profiler
from OCP.gp import gp_Pnt
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopoDS import TopoDS_Edge, TopoDS_Wire

from ..errors import StepError
from .frame import Frame, Vec3, add, cross, dot, scale, sub
from .kernel import BRepAdaptor_Curve, Shape, TopoDS, in_turn, spline_of, vec
from .sewn import sewn

__all__ = ["SEWN_MM", "alike", "all_round", "begun_near", "homogeneous", "knots_of", "smooth_ring", "surface_across"]

#: faces that are sewn together lie no farther apart, mm
SEWN_MM = 1e-5


def all_round(outlines: Sequence[tuple[TopoDS_Wire, Frame, Vec3]]) -> list[TopoDS_Wire]:
    """Outlines (each with its plane and its middle) that go round, and the first one once more.

    Each is run the same way seen from the one before it, for on the way back a plane shows its other side; and it begins where
    that one would when it is carried on.

    Raises StepError where they have not as many corners each.
    """
    out: list[TopoDS_Wire] = []
    before: tuple[Vec3, Vec3] | None = None
    for k, (wire, frame, middle) in enumerate(outlines):
        on = sub(outlines[(k + 1) % len(outlines)][2], outlines[k - 1][2])
        ahead = dot(on, frame.z) > 0
        way = wire if ahead else TopoDS.Wire(wire.Reversed())
        here = middle, frame.z if ahead else scale(frame.z, -1.0)
        carried = _carried(before, here) if before is not None else lambda place: place
        out.append(begun_near(way, out[-1] if out else way, carried))
        before = here
    return [*out, out[0]]


def _carried(before: tuple[Vec3, Vec3], here: tuple[Vec3, Vec3]) -> Callable[[Vec3], Vec3]:
    """How a place goes on from one outline (middle and direction ahead) to the next: along with the middle, turned as the planes are to each other (Rodrigues)."""
    axis, cos = cross(before[1], here[1]), dot(before[1], here[1])
    if cos < -1 + 1e-9:
        raise StepError("Two outlines that follow each other look at each other; put another between them.")

    def go(place: Vec3) -> Vec3:
        d = sub(place, before[0])
        turned = add(add(scale(d, cos), cross(axis, d)), scale(axis, dot(axis, d) / (1 + cos)))
        return add(here[0], turned)

    return go


def begun_near(wire: TopoDS_Wire, other: TopoDS_Wire, carried: Callable[[Vec3], Vec3]) -> TopoDS_Wire:
    """An outline begun at the corner that is nearest to where another one begins, ``carried`` on to it. Raises StepError where they have not as many corners."""
    mine, theirs = in_turn(wire), [carried(place) for _, place in in_turn(other)]
    if len(mine) != len(theirs):
        raise StepError("The outlines of such a loft have as many corners each.")
    if len(mine) == 1:
        return _closed_begun_near(mine[0][0], theirs[0])

    def far(first: int) -> float:
        return sum(math.dist(mine[(k + first) % len(mine)][1], place) for k, place in enumerate(theirs))

    first = min(range(len(mine)), key=far)
    maker = BRepBuilderAPI_MakeWire()
    for k in range(len(mine)):
        maker.Add(mine[(k + first) % len(mine)][0])
    return maker.Wire()


def _closed_begun_near(edge: TopoDS_Edge, place: Vec3) -> TopoDS_Wire:
    """A circle or an ellipse that begins where it is nearest to a place."""
    adaptor = BRepAdaptor_Curve(edge)
    first, last = adaptor.FirstParameter(), adaptor.LastParameter()
    at = min(
        (first + (last - first) * k / 720 for k in range(720)), key=lambda u: math.dist(vec(adaptor.Value(u)), place)
    )
    curve = BRep_Tool.Curve_s(edge, first, last)
    if edge.Orientation() == TopAbs_REVERSED:
        at, curve = curve.ReversedParameter(at), curve.Reversed()
    return BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(curve, at, at + last - first).Edge()).Wire()


def smooth_ring(wires: Sequence[TopoDS_Wire]) -> tuple[Shape, list[Shape]] | None:
    """A solid that goes smoothly over outlines of :func:`all_round`, and the face that each curve of the first one sweeps out, in turn.

    Across the outlines it is an even periodic cubic spline, so it has no kink anywhere: where it runs through the outline Q_k its poles are (P_{k−1} + 4·P_k + P_{k+1})/6 =
    Q_k. (The kernel's own loft through outlines that close has a kink at the first one.) ``None`` where the faces do not close.
    """
    turns = [in_turn(wire) for wire in wires[:-1]]
    count = len(turns)
    step = np.eye(count) * 4 + np.roll(np.eye(count), 1, axis=0) + np.roll(np.eye(count), -1, axis=0)
    faces: list[Shape] = []
    for j in range(len(turns[0])):
        profiler = alike([edges[j][0] for edges in turns])
        given = homogeneous(profiler, count)
        solved = np.asarray(np.linalg.solve(step / 6, given.reshape(count, -1)), dtype=np.float64).reshape(given.shape)
        faces.append(
            BRepBuilderAPI_MakeFace(
                surface_across(solved, profiler, range(count + 1), [1] * (count + 1), periodic=True), 1e-6
            ).Face()
        )
    return sewn(faces, SEWN_MM)


def alike(edges: Sequence[TopoDS_Edge]) -> GeomFill_Profiler:
    """Edges as splines of one degree, with the same knots."""
    profiler = GeomFill_Profiler()
    for edge in edges:
        profiler.AddCurve(_as_spline(edge))
    profiler.Perform(1e-6)
    return profiler


def homogeneous(profiler: GeomFill_Profiler, count: int) -> NDArray[np.float64]:
    """The poles of ``count`` splines that are alike, times their weights, and the weights: (splines, poles, 4)."""
    size = profiler.NbPoles()
    given = np.zeros((count, size, 4))
    for k in range(count):
        poles, weights = Array1_gp_Pnt(1, size), Array1_double(1, size)
        profiler.Poles(k + 1, poles)
        profiler.Weights(k + 1, weights)
        for i in range(size):
            w = weights.Value(i + 1)
            given[k, i] = (*(w * c for c in vec(poles.Value(i + 1))), w)
    return given


def _as_spline(edge: TopoDS_Edge) -> Geom_BSplineCurve:
    spline = spline_of(edge)
    if edge.Orientation() == TopAbs_REVERSED:
        spline.Reverse()
    return spline


def surface_across(
    poles: NDArray[np.float64], profiler: GeomFill_Profiler, at: Sequence[float], often: Sequence[int], periodic: bool
) -> Geom_BSplineSurface:
    """The surface of homogeneous poles (outlines, along each, 4): along each as splines that are alike, across them cubic with knots ``at``, each so ``often``."""
    count, size = poles.shape[:2]
    places, weights = Array2_gp_Pnt(1, size, 1, count), Array2_double(1, size, 1, count)
    for k in range(count):
        for i in range(size):
            x, y, z, w = (float(c) for c in poles[k, i])
            places.SetValue(i + 1, k + 1, gp_Pnt(x / w, y / w, z / w))
            weights.SetValue(i + 1, k + 1, w)
    knots, mults = knots_of(profiler)
    across, times = Array1_double(1, len(at)), Array1_int(1, len(at))
    for k, (knot, n) in enumerate(zip(at, often, strict=True), 1):
        across.SetValue(k, float(knot))
        times.SetValue(k, int(n))
    return Geom_BSplineSurface(places, weights, knots, across, mults, times, profiler.Degree(), 3, False, periodic)


def knots_of(profiler: GeomFill_Profiler) -> tuple[Array1_double, Array1_int]:
    """The knots of splines that are alike, and how often each counts."""
    knots, mults = Array1_double(1, profiler.NbKnots()), Array1_int(1, profiler.NbKnots())
    profiler.KnotsAndMults(knots, mults)
    return knots, mults
