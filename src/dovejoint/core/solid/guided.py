"""How large an outline is along a path when its rim is kept on a guide. The kernel's own way of keeping contact is right for circles on straight lines and fails for others, so the size is
reckoned at places along the path, and carried as a law of scale."""

from __future__ import annotations

import math
from collections.abc import Callable

from OCP.BRepAdaptor import BRepAdaptor_CompCurve
from OCP.collections import Array1_gp_Pnt2d
from OCP.gp import gp_Pnt, gp_Pnt2d, gp_Vec
from OCP.Law import Law_Interpol
from OCP.TopoDS import TopoDS_Wire

from ..errors import StepError
from .frame import Vec3, cross, dot, length, sub, unit
from .kernel import EDGE, subshapes, vec

__all__ = ["scale_law", "touches"]

#: places along the path at which the size is reckoned
_PLACES = 48
#: the guide lies on one side of the path within this cosine's distance from one
_ASIDE = 1e-4


def scale_law(path: TopoDS_Wire, guide: TopoDS_Wire) -> Law_Interpol:
    """The size of an outline along a path, 1 where the path begins: it grows as the guide goes away from the path, square to it.

    Raises
    ------
    StepError : the path is of several pieces, or the guide does not run beside all of it, on one side.
    """
    if len(subshapes(path, EDGE)) != 1:
        raise StepError("A guide goes with a path of one piece; take one line, arc or free curve.")
    along, beside = BRepAdaptor_CompCurve(path), BRepAdaptor_CompCurve(guide)
    low, high = along.FirstParameter(), along.LastParameter()
    places = [_place(along, low + (high - low) * k / (_PLACES - 1)) for k in range(_PLACES)]
    refused = StepError(
        "The guide does not run beside all of the path, on one side of it; draw it from the outline on as far as the path goes."
    )
    bend = _bend(places)
    found: list[tuple[float, float]] = []
    side: Vec3 | None = None
    for at, ahead in places:
        met = _met(beside, at, ahead, found[-1][0] if found else None)
        if met is None:
            raise refused
        t, there = met
        away = sub(there, at)
        far = length(away)
        if far < 1e-4:
            raise refused
        # in a frame that goes along: on a bent path by its plane, on a straight one as it stands
        out = unit(away)
        mine = out if bend is None else (dot(out, unit(cross(bend, ahead))), dot(out, bend), 0.0)
        if side is not None and abs(dot(mine, side) / length(mine) / length(side) - 1) > _ASIDE:
            raise refused
        side = side or mine
        found.append((t, far))
    law, sizes = Law_Interpol(), Array1_gp_Pnt2d(1, _PLACES)
    for k, (_, far) in enumerate(found):
        sizes.SetValue(k + 1, gp_Pnt2d(k / (_PLACES - 1), far / found[0][1]))
    law.Set(sizes, False)
    return law


def touches(path: TopoDS_Wire, guide: TopoDS_Wire) -> Vec3 | None:
    """Where the guide is beside the beginning of the path."""
    along = BRepAdaptor_CompCurve(path)
    met = _met(BRepAdaptor_CompCurve(guide), *_place(along, along.FirstParameter()), None)
    return met[1] if met is not None else None


def _place(curve: BRepAdaptor_CompCurve, t: float) -> tuple[Vec3, Vec3]:
    p, d = gp_Pnt(), gp_Vec()
    curve.D1(t, p, d)
    return vec(p), unit(vec(d))


def _bend(places: list[tuple[Vec3, Vec3]]) -> Vec3 | None:
    """What a path bends about, or ``None`` where it is straight. Raises StepError where it lies in no plane."""
    turns = [cross(places[0][1], ahead) for _, ahead in places]
    most = max(turns, key=length)
    if length(most) < 1e-9:
        return None
    about = unit(most)
    if max(abs(dot(ahead, about)) for _, ahead in places) > 1e-6:
        raise StepError("A guide goes with a path that lies in one plane.")
    return about


def _met(guide: BRepAdaptor_CompCurve, at: Vec3, ahead: Vec3, near: float | None) -> tuple[float, Vec3] | None:
    """Where a guide goes through the plane square to the path at a place: nearest to where it did before, or to the place."""

    def over(t: float) -> float:
        return dot(sub(vec(guide.Value(t)), at), ahead)

    first, last = guide.FirstParameter(), guide.LastParameter()
    ts = [first + (last - first) * k / 96 for k in range(97)]
    heights = [over(t) for t in ts]
    roots = [t for t, h in zip(ts, heights, strict=True) if abs(h) < 1e-7]
    for (a, b), (p, q) in zip(zip(ts, ts[1:], strict=False), zip(heights, heights[1:], strict=False), strict=True):
        if p * q < 0 and min(abs(p), abs(q)) >= 1e-7:
            roots.append(_halved(over, a, b))
    if not roots:
        return None
    best = min(roots, key=lambda t: abs(t - near) if near is not None else math.dist(vec(guide.Value(t)), at))
    return best, vec(guide.Value(best))


def _halved(over: Callable[[float], float], low: float, high: float) -> float:
    sign = over(low)
    for _ in range(60):
        middle = (low + high) / 2
        if over(middle) * sign > 0:
            low = middle
        else:
            high = middle
    return (low + high) / 2
