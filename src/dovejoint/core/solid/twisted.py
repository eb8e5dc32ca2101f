"""A solid whose section is the same all along a straight line, and turns evenly: made face by face, for carrying the outline along a helix takes the kernel many
times as long and gives faces that it can hardly cut."""

from __future__ import annotations

import math
from collections.abc import Sequence

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_Transform
from OCP.collections import Array2_double, Array2_gp_Pnt
from OCP.Geom import Geom_BSplineSurface
from OCP.gp import gp_Ax1, gp_Pnt, gp_Trsf
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Edge

from ..errors import StepError
from .facename import as_part
from .frame import Frame, scale
from .helix import DEGREE, SPAN_RAD, clamped_knots, helix_poles
from .kernel import Shape, TopoDS, direction, placement, point, raised_by_kernel, spline_of, vector
from .named import NamedSolid
from .regions import Region
from .sewn import sewn_named

__all__ = ["twisted", "twisted_along"]

#: what is sewn together lies no farther apart, mm
_SEWN_MM = 1e-5


def twisted_along(
    region: Region, frame: Frame, axis: Frame, length_mm: float, at_mm: float, twist_rad: float, step: str, mark: str = ""
) -> NamedSolid:  # fmt: skip
    """An outline screwed along ``axis``'s z over a length, turned by ``twist_rad`` in all (above zero: a right-hand screw); it stands as drawn where the axis has run
    ``at_mm``. Faces are named ``step/side(curve)``, ``step/start`` and ``step/end``.

    Raises StepError where the result is not sound.
    """
    where = TopLoc_Location(placement(frame))
    edges = [(TopoDS.Edge(edge.Moved(where)), f"{step}/side({as_part(curve)})") for edge, curve in region.edges]
    tail = f"({mark})" if mark else ""
    made = twisted(edges, region.face.Moved(where), axis, (-at_mm, length_mm - at_mm), twist_rad / length_mm, (f"{step}/start{tail}", f"{step}/end{tail}"))  # fmt: skip
    if made is None:
        raise StepError("The outline cannot be twisted like this: it would run into itself. Make it smaller.")
    return made


def twisted(
    edges: Sequence[tuple[TopoDS_Edge, str]], face: Shape, axis: Frame, reach_mm: tuple[float, float], pitch: float, ends: tuple[str, str]
) -> NamedSolid | None:  # fmt: skip
    """A flat face screwed along ``axis``'s z, from one height over (or under) where it lies to another, by ``pitch`` radians for each mm. ``edges`` are those around it,
    each with the name of what it sweeps out; ``ends`` are the names of the low and the high end. ``None`` where the result is not sound."""
    low, high = reach_mm
    spans = max(1, math.ceil(abs(pitch) * (high - low) / SPAN_RAD - 1e-9))
    turns = [
        (cos, sin, angle / pitch) for cos, sin, angle in helix_poles(pitch * low, spans, pitch * (high - low) / spans)
    ]
    made: list[tuple[Shape, str]] = []
    try:
        for edge, name in edges:
            made.append((BRepBuilderAPI_MakeFace(_side(edge, axis, turns), 1e-6).Face(), name))
        for height, name in zip(reach_mm, ends, strict=True):
            made.append((BRepBuilderAPI_Transform(face, _screw(axis, pitch * height, height), True).Shape(), name))
        return sewn_named(made, _SEWN_MM)
    except Exception as error:
        if not raised_by_kernel(error):
            raise
        return None


def _screw(axis: Frame, turn_rad: float, rise_mm: float) -> gp_Trsf:
    turn, rise = gp_Trsf(), gp_Trsf()
    turn.SetRotation(gp_Ax1(point(axis.origin), direction(axis.z)), turn_rad)
    rise.SetTranslation(vector(scale(axis.z, rise_mm)))
    return rise.Multiplied(turn)


def _side(edge: TopoDS_Edge, axis: Frame, turns: list[tuple[float, float, float]]) -> Geom_BSplineSurface:
    """What a curve sweeps out: since turning is linear in the poles, those of the surface are the curve's, turned as the helix's are."""
    curve = spline_of(edge)
    home = placement(axis).Inverted()
    count, back = curve.NbPoles(), placement(axis)
    poles, weights = Array2_gp_Pnt(1, len(turns), 1, count), Array2_double(1, len(turns), 1, count)
    for i in range(1, count + 1):
        at = curve.Pole(i).Transformed(home)
        for k, (cos, sin, rise) in enumerate(turns):
            turned = gp_Pnt(at.X() * cos - at.Y() * sin, at.X() * sin + at.Y() * cos, at.Z() + rise)
            poles.SetValue(k + 1, i, turned.Transformed(back))
            weights.SetValue(k + 1, i, curve.Weight(i))
    along, mults = clamped_knots(0.0, len(turns) - DEGREE, 1.0)
    return Geom_BSplineSurface(
        poles, weights, along, curve.Knots(), mults, curve.Multiplicities(), DEGREE, curve.Degree()
    )
