"""Lofts whose rim is kept on guides: what lies between the outlines is moved in its plane, at each height, so that it meets them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_CompCurve
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepTools import BRepTools
from OCP.collections import Array1_double, Array1_gp_Pnt
from OCP.Geom import Geom_BSplineCurve, Geom_BSplineSurface
from OCP.GeomAPI import GeomAPI_ProjectPointOnCurve
from OCP.GeomFill import GeomFill_Profiler
from OCP.gp import gp_Pnt
from OCP.TopAbs import TopAbs_VERTEX
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Wire

from ..errors import StepError
from .facename import as_part
from .frame import Frame, Vec3, add, dot, scale, sub
from .going_round import SEWN_MM, alike, begun_near, homogeneous, knots_of, surface_across
from .kernel import Shape, TopoDS, flattened, in_turn, placement, point, subshapes, vec
from .named import NamedSolid
from .regions import Region
from .sewn import sewn_named

__all__ = ["guided_loft"]

#: a guide touches an outline that it comes so near to, mm
_TOUCH_MM = 1e-3
#: sections between two breaks; the spline through them is off by the fourth power of their distance
_SECTIONS = 33

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class _Guide:
    """A guide in the first outline's plane: where it is at a height (complex, mm), and at which heights it has corners."""

    at: Callable[[float], complex]
    corners: tuple[float, ...]


def guided_loft(
    profiles: Sequence[tuple[Region, Frame]], guides: Sequence[TopoDS_Wire], step: str, *, ruled: bool
) -> NamedSolid:
    """A solid that goes over regions (without holes, on planes level with each other) whose rim is kept on one to three guides.

    Without guides a section would be the outlines' own blend: straight (``ruled``, or of two) or a cubic spline's. At each height it is changed evenly: by one guide it grows
    and turns about its middle, z ↦ c + a·(z − c); by two it is moved too, z ↦ a·z + b; by three it also leans (the affine map of three points). So corners stay corners, lines stay
    lines, and with up to two guides circles stay circles.

    Faces are named like those of :func:`~.lofts.lofted`; where guides have corners a side begins anew (``.2``).

    Raises
    ------
    StepError : ``guides.K`` for a guide that does not touch each outline, on the same side of it.
    """
    home = profiles[0][1]
    up = home.z
    heights = [dot(sub(frame.origin, home.origin), up) for _, frame in profiles]
    if any(abs(abs(dot(frame.z, up)) - 1) > 1e-9 for _, frame in profiles):
        raise StepError("Outlines between guides stand on planes that are level with each other.", field="guides")
    if heights[1] < 0:
        up, heights = scale(up, -1.0), [-h for h in heights]
    if any(b - a < 1e-4 for a, b in zip(heights, heights[1:], strict=False)):
        raise StepError("Outlines between guides follow each other one way; put them in their order.", field="guides")
    level = Frame(home.origin, home.x, home.y if up == home.z else scale(home.y, -1.0))
    # a place is told from another by what it is, not by where: edges are the same only under one
    wheres = [TopLoc_Location(placement(frame)) for _, frame in profiles]
    wires = _run_alike(profiles, wheres, up)
    turns = [in_turn(wire) for wire in wires]
    sides = [alike([edges[j][0] for edges in turns]) for j in range(len(turns[0]))]
    given = [_flat(homogeneous(side, len(wires)), level) for side in sides]
    blend = _blended(heights, [*given, _middles(profiles, level)], ruled)
    met = [_guide(wire, level, heights, sides, given, blend, f"guides.{k}.path") for k, wire in enumerate(guides)]
    breaks = sorted(
        {heights[0], heights[-1], *(heights if ruled else ())} | {h for guide, _ in met for h in guide.corners}
    )
    made: list[tuple[Shape, str]] = []
    first, where = profiles[0][0], wheres[0]
    called = [
        next((c for e, c in first.edges if e.Moved(where).IsSame(edge)), first.edges[0][1]) for edge, _ in turns[0]
    ]
    for piece, (low, high) in enumerate(zip(breaks, breaks[1:], strict=False)):
        hs = np.linspace(low, high, _SECTIONS)
        sections = [_changed(blend(float(h)), [(g.at(float(h)), touch(float(h))) for g, touch in met]) for h in hs]
        for j, side in enumerate(sides):
            surface = _surface(np.array([s[j] for s in sections]), hs, side, level)
            face = BRepBuilderAPI_MakeFace(surface, 1e-6).Face()
            flattened(face)
            made.append((face, f"{step}/side({as_part(called[j])})" + (f".{piece + 1}" if piece else "")))
    for k, name in ((0, f"{step}/start"), (-1, f"{step}/end")):
        made.append((profiles[k][0].face.Moved(wheres[k]), name))
    result = sewn_named(made, SEWN_MM)
    if result is None:
        raise StepError("Kept on these guides the loft would run into itself; let them bend less.", field="guides")
    return result


def _run_alike(
    profiles: Sequence[tuple[Region, Frame]], wheres: Sequence[TopLoc_Location], up: Vec3
) -> list[TopoDS_Wire]:
    """The outlines run the same way about ``up``, each begun at the corner that answers the one before."""
    out: list[TopoDS_Wire] = []
    for k, (region, frame) in enumerate(profiles):
        face = TopoDS.Face(region.face.Moved(wheres[k]))
        wire = BRepTools.OuterWire_s(face)
        way = TopoDS.Wire(wire if dot(frame.z, up) > 0 else wire.Reversed())
        if k:
            on = sub(frame.to_world(*region.centre), profiles[k - 1][1].to_world(*profiles[k - 1][0].centre))
            way = begun_near(way, out[-1], partial(add, on))
        out.append(way)
    return out


def _flat(poles: Floats, level: Frame) -> NDArray[np.complex128]:
    """Homogeneous poles (…, 4) as places in the level frame's plane times their weights, and the weights: (…, 2)."""
    x, y, origin = (np.array(v) for v in (level.x, level.y, level.origin))
    away = poles[..., :3] - poles[..., 3:] * origin
    return np.stack([away @ x + 1j * (away @ y), poles[..., 3].astype(np.complex128)], axis=-1)


def _middles(profiles: Sequence[tuple[Region, Frame]], level: Frame) -> NDArray[np.complex128]:
    found = [level.to_local(frame.to_world(*region.centre)) for region, frame in profiles]
    return np.array([[[complex(p[0], p[1]), 1.0]] for p in found])


def _blended(
    heights: Sequence[float], given: Sequence[NDArray[np.complex128]], ruled: bool
) -> Callable[[float], list[NDArray[np.complex128]]]:
    """What lies between the outlines at a height: of each of ``given`` (outlines, poles, 2)."""
    from scipy.interpolate import CubicSpline

    if ruled or len(heights) == 2:

        def straight(h: float) -> list[NDArray[np.complex128]]:
            k = min(max(int(np.searchsorted(heights, h)) - 1, 0), len(heights) - 2)
            t = (h - heights[k]) / (heights[k + 1] - heights[k])
            return [g[k] * (1 - t) + g[k + 1] * t for g in given]

        return straight
    splines = [CubicSpline(heights, g, bc_type="natural") for g in given]
    return lambda h: [np.asarray(spline(h), dtype=np.complex128) for spline in splines]


def _guide(
    wire: TopoDS_Wire,
    level: Frame,
    heights: Sequence[float],
    sides: Sequence[GeomFill_Profiler],
    given: Sequence[NDArray[np.complex128]],
    blend: Callable[[float], list[NDArray[np.complex128]]],
    field: str,
) -> tuple[_Guide, Callable[[float], complex]]:
    """A guide, and where the blend of the outlines would have it at a height. What it misses the outlines by (less than a thousandth) is taken off
    in between, so that they are met exactly."""
    curve = BRepAdaptor_CompCurve(wire)
    first, last = curve.FirstParameter(), curve.LastParameter()

    def local(t: float) -> Vec3:
        return level.to_local(vec(curve.Value(t)))

    ts = np.linspace(first, last, 193)
    rises = np.array([local(float(t))[2] for t in ts])
    if rises[-1] < rises[0]:
        ts, rises = ts[::-1], rises[::-1]
    if np.any(np.diff(rises) <= 0):
        raise StepError("A guide goes on from outline to outline and never back or level.", field=field)
    if rises[0] > heights[0] + _TOUCH_MM or rises[-1] < heights[-1] - _TOUCH_MM:
        raise StepError("A guide goes all the way from the first outline to the last.", field=field)

    def found(h: float) -> complex:
        k = min(max(int(np.searchsorted(rises, h)) - 1, 0), len(ts) - 2)
        low, high = float(ts[k]), float(ts[k + 1])
        for _ in range(50):
            middle = (low + high) / 2
            low, high = (middle, high) if local(middle)[2] < h else (low, middle)
        x, y, _ = local((low + high) / 2)
        return complex(x, y)

    touched: list[dict[int, float]] = []
    for k, height in enumerate(heights):
        here = found(height)
        near = {j: u for j, side in enumerate(sides) if (u := _param(side, given[j][k], here)) is not None}
        if not near:
            raise StepError(
                f"A guide does not touch the {_nth(k, len(heights))} outline; draw it through a place on each of them.",
                field=field,
            )
        touched.append(near)
    common = set(touched[0]).intersection(*touched[1:])
    if not common:
        raise StepError("A guide touches all outlines on the same side of them, or at the same corner.", field=field)
    j = min(common)
    us = np.array([near[j] for near in touched])
    ends = _flat_curve(sides[j], given[j][0])
    begin, round_ = ends.FirstParameter(), ends.LastParameter() - ends.FirstParameter()
    if len(sides) == 1:
        # a circle goes on beyond where it begins
        us = np.unwrap(us, period=round_)

    def touch(h: float) -> complex:
        u = float(np.interp(h, heights, us))
        return _value(sides[j], blend(h)[j], begin + (u - begin) % round_ if len(sides) == 1 else u)

    missed = [found(h) - touch(h) for h in heights]

    def met(h: float) -> complex:
        return found(h) - complex(np.interp(h, heights, missed))

    corners = [level.to_local(vec(BRep_Tool.Pnt_s(TopoDS.Vertex(v))))[2] for v in subshapes(wire, TopAbs_VERTEX)]
    between = tuple(h for h in corners if all(abs(h - e) > _TOUCH_MM for e in heights))
    return _Guide(met, between), touch


def _nth(k: int, count: int) -> str:
    return "first" if k == 0 else "last" if k == count - 1 else f"{k + 1}."


def _flat_curve(side: GeomFill_Profiler, poles: NDArray[np.complex128]) -> Geom_BSplineCurve:
    size = len(poles)
    places, weights = Array1_gp_Pnt(1, size), Array1_double(1, size)
    for i, (z, w) in enumerate(poles):
        z = z / w
        places.SetValue(i + 1, gp_Pnt(float(z.real), float(z.imag), 0.0))
        weights.SetValue(i + 1, float(w.real))
    return Geom_BSplineCurve(places, weights, *knots_of(side), side.Degree())


def _value(side: GeomFill_Profiler, poles: NDArray[np.complex128], u: float) -> complex:
    at = _flat_curve(side, poles).Value(u)
    return complex(at.X(), at.Y())


def _param(side: GeomFill_Profiler, poles: NDArray[np.complex128], at: complex) -> float | None:
    """Where a curve touches a place, if it does."""
    curve = _flat_curve(side, poles)
    here = point((at.real, at.imag, 0.0))
    ends = [(curve.Value(u).Distance(here), u) for u in (curve.FirstParameter(), curve.LastParameter())]
    inner = GeomAPI_ProjectPointOnCurve(here, curve)
    if inner.NbPoints():
        ends.append((inner.LowerDistance(), inner.LowerDistanceParameter()))
    far, u = min(ends)
    return u if far < _TOUCH_MM else None


def _changed(
    blended: Sequence[NDArray[np.complex128]], met: Sequence[tuple[complex, complex]]
) -> list[NDArray[np.complex128]]:
    """The blend's sides, changed evenly so that each touch comes to lie on its guide."""
    *sides, middle = blended
    a, mirror, b = _map(met, complex(middle[0][0]))
    if abs(abs(a) ** 2 - abs(mirror) ** 2) < 1e-6 or abs(a) <= abs(mirror):
        raise StepError("Kept on these guides the loft would shrink to nothing, or turn over.", field="guides")
    out = []
    for poles in sides:
        z, w = poles[:, 0], poles[:, 1]
        out.append(np.stack([a * z + mirror * np.conj(z) + b * w, w], axis=-1))
    return out


def _map(met: Sequence[tuple[complex, complex]], middle: complex) -> tuple[complex, complex, complex]:
    """``a``, ``m`` and ``b`` of z ↦ a·z + m·z̄ + b that takes each touch to its guide."""
    refused = StepError("Guides touch the outlines at places that lie well apart, and not in one line.", field="guides")
    there, here = (np.array(places) for places in zip(*met, strict=True))
    if len(met) == 1:
        there, here = np.append(there, middle), np.append(here, middle)
    if len(here) == 2:
        if abs(here[1] - here[0]) < 1e-3:
            raise refused
        a = complex((there[1] - there[0]) / (here[1] - here[0]))
        return a, 0j, complex(there[0]) - a * complex(here[0])
    known = np.stack([here, np.conj(here), np.ones(3)], axis=1)
    # four times the triangle's area, mm²
    if abs(np.linalg.det(known)) < 1e-2:
        raise refused
    of_three = np.linalg.solve(known, there)
    return complex(of_three[0]), complex(of_three[1]), complex(of_three[2])


def _surface(
    sections: NDArray[np.complex128], heights: Floats, side: GeomFill_Profiler, level: Frame
) -> Geom_BSplineSurface:
    """The cubic spline across sections of flat poles (sections, along each, 2)."""
    from scipy.interpolate import make_interp_spline

    z, w = sections[..., 0], sections[..., 1].real
    rise = heights[:, None] * w
    spline = make_interp_spline(heights, np.stack([z.real, z.imag, rise, w], axis=-1), k=3)
    x, y, up, origin = (np.array(v) for v in (level.x, level.y, level.z, level.origin))
    u, v, h, weight = (spline.c[..., k, None] for k in range(4))
    poles = np.concatenate([u * x + v * y + h * up + weight * origin, weight], axis=-1)
    at, often = np.unique(spline.t, return_counts=True)
    return surface_across(poles, side, at.tolist(), often.tolist(), periodic=False)
