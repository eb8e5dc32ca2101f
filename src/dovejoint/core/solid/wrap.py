"""Flat outlines laid round a cylindrical face, as solids that stand on it or are sunk into it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise
from typing import Any

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve2d
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepLib import BRepLib
from OCP.BRepOffset import BRepOffset_MakeSimpleOffset
from OCP.BRepTools import BRepTools, BRepTools_WireExplorer
from OCP.Geom import Geom_CylindricalSurface, Geom_TrimmedCurve
from OCP.Geom2dConvert import Geom2dConvert
from OCP.GeomAPI import GeomAPI
from OCP.gp import gp_Ax3, gp_Pln, gp_Pnt2d
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopoDS import TopoDS_Wire

from ..errors import StepError
from .check import accept
from .facename import as_part
from .frame import Frame, Vec3, cross, dot, scale, sub
from .kernel import (
    EDGE,
    FACE,
    WIRE,
    BRepAdaptor_Curve,
    Shape,
    ShapeMap,
    TopoDS,
    ancestors,
    direction,
    listed,
    point,
    refusing,
    shape_map,
    subshapes,
)
from .mass import volume
from .named import NamedSolid, Names, solids_of
from .regions import Region
from .turn import RoundFace, round_face

__all__ = ["wrapped"]

#: solids that stand on a face begin so far within its part, and those that are sunk end so far out of it, mm: faces that lie on each other are hard on the kernel
BITE_MM = 0.02
#: so many chords stand for a curve where it is only asked which way round it goes
PIECES = 16


def wrapped(
    solid: NamedSolid, face: int, regions: Sequence[tuple[Region, str]], frame: Frame, by_mm: float, step: str
) -> list[NamedSolid]:
    """Regions of a plane laid round a cylindrical face (0-based), as long round it as they are wide, with solids over them: ``by_mm`` out of its part's
    material, or (below zero) into it.

    The plane runs level with the face's axis; where it is nearest to the axis its drawing touches the face. Faces are named ``step/end`` and
    ``step/side(curve)``, with each region's mark.

    Raises
    ------
    StepError : the face is not cylindrical, the plane runs across its axis, or an outline does not lie wholly on the face.
    """
    found = round_face(solid, face)
    if found is None:
        raise StepError(
            "An outline is laid round a cylindrical face, such as a shaft or a bore; pick one.", field="face"
        )
    if abs(dot(frame.z, found.axis.direction)) > 1e-6:
        raise StepError(
            "The outline's plane runs across the face's axis; draw it on one level with the axis.", field="profile"
        )
    return [_one(found, region, frame, by_mm, step, mark) for region, mark in regions]


def _one(on: RoundFace, region: Region, frame: Frame, by_mm: float, step: str, mark: str) -> NamedSolid:
    # out of the axis to the side where the plane lies; a plane through the axis looks at the side that it faces
    out = frame.z if dot(frame.z, on.axis.away(frame.origin)) > -1e-6 else scale(frame.z, -1.0)
    around = cross(on.axis.direction, out)
    corners = [frame.to_world(*p) for loop in region.loops for p in loop]
    turns = [dot(sub(c, on.axis.origin), around) / on.radius_mm for c in corners]
    heights = [dot(sub(c, on.axis.origin), on.axis.direction) for c in corners]
    if max(turns) - min(turns) > 2 * math.pi - 1e-3 or max(map(abs, turns)) > 2 * math.pi:
        raise StepError(
            f"The outline is longer than the way round the face, {2 * math.pi * on.radius_mm:.4g} mm.", field="profile"
        )
    if min(heights) < on.low_mm - 1e-6 or max(heights) > on.high_mm + 1e-6:
        raise StepError(
            "The outline does not lie wholly on the face; move it along, or draw it smaller.", field="profile"
        )
    # what is away from the axis on a shaft is towards it in a bore
    sign = -1.0 if on.hollow else 1.0
    inner, outer = sorted((on.radius_mm - sign * math.copysign(BITE_MM, by_mm), on.radius_mm + sign * by_mm))
    if inner <= 1e-3:
        raise StepError("It does not reach so deep: the axis is nearer.", field="by")
    refused = StepError(
        "This outline cannot be laid round the face; draw it with fewer or larger pieces.", field="profile"
    )
    # the middle of the outline lies opposite to where the kernel's cylinder begins
    middle = (max(turns) + min(turns)) / 2
    begin = _turned(scale(out, -1.0), on.axis.direction, middle)
    surface = Geom_CylindricalSurface(
        gp_Ax3(point(on.axis.origin), direction(on.axis.direction), direction(begin)), inner
    )
    with refusing(refused):
        names: list[tuple[Shape, str]] = []
        laid = _laid(region, frame, on, around, middle, surface, names)
        maker = BRepOffset_MakeSimpleOffset(laid, outer - inner)
        maker.SetBuildSolidFlag(True)
        maker.Perform()
        bodies = solids_of(maker.GetResultShape()) if maker.IsDone() else []
        if len(bodies) != 1:
            raise refused
        body = bodies[0]
        # the kernel leaves it inside out where it grew inwards
        if volume(body) < 0:
            body = body.Reversed()
    solid = NamedSolid(body, _names(body, maker, laid, names, step, mark, sign * by_mm < 0))
    want = region.area_mm2 / on.radius_mm * (outer**2 - inner**2) / 2
    if accept(solid, want * 1.001, want * 0.999):
        raise refused
    return solid


def _names(
    body: Shape, maker: Any, laid: Shape, edges: list[tuple[Shape, str]], step: str, mark: str, inwards: bool
) -> list[Names]:
    """``inwards``: the end is the face nearer to the axis, which is the one that was laid."""
    tail = f"({mark})" if mark else ""
    faces, around = shape_map(body, FACE), ancestors(body, EDGE, FACE)
    outer = faces.FindIndex(maker.Generated(laid))
    called = {outer: f"{step}/{'start' if inwards else 'end'}{tail}"}
    for edge, curve in edges:
        # a side runs between an edge and what that became at the other end
        index = around.FindIndex(maker.Generated(edge))
        for face in listed(around.FindFromIndex(index)) if index else []:
            called.setdefault(faces.FindIndex(face), f"{step}/side({as_part(curve)})")
    base = f"{step}/{'end' if inwards else 'start'}{tail}"
    return [(called.get(i, base),) for i in range(1, faces.Extent() + 1)]


def _turned(a: Vec3, about: Vec3, angle_rad: float) -> Vec3:
    """A direction square to another one, turned about that."""
    side = cross(about, a)
    cos, sin = math.cos(angle_rad), math.sin(angle_rad)
    return (a[0] * cos + side[0] * sin, a[1] * cos + side[1] * sin, a[2] * cos + side[2] * sin)


def _laid(
    region: Region,
    frame: Frame,
    on: RoundFace,
    around: Vec3,
    middle: float,
    surface: Geom_CylindricalSurface,
    names: list[tuple[Shape, str]],
) -> Shape:
    """The region as a face on the cylinder; its edges and their curves go into ``names``."""
    plane = gp_Pln(gp_Ax3())
    origin = sub(frame.origin, on.axis.origin)

    def place(x: float, y: float) -> gp_Pnt2d:
        at = (
            origin[0] + frame.x[0] * x + frame.y[0] * y,
            origin[1] + frame.x[1] * x + frame.y[1] * y,
            origin[2] + frame.x[2] * x + frame.y[2] * y,
        )
        return gp_Pnt2d(dot(at, around) / on.radius_mm - middle + math.pi, dot(at, on.axis.direction))

    pieces = ShapeMap()
    owners = {pieces.Add(edge): curve for edge, curve in region.edges}
    outline = BRepTools.OuterWire_s(region.face)
    wires: list[TopoDS_Wire] = []
    for wire in [outline] + [w for w in subshapes(region.face, WIRE) if not w.IsSame(outline)]:
        maker = BRepBuilderAPI_MakeWire()
        walk = BRepTools_WireExplorer(TopoDS.Wire(wire))
        while walk.More():
            edge = walk.Current()
            bounds = BRepAdaptor_Curve(edge)
            first, last = bounds.FirstParameter(), bounds.LastParameter()
            flat = GeomAPI.To2d_s(Geom_TrimmedCurve(BRep_Tool.Curve_s(edge, first, last), first, last), plane)
            curve = Geom2dConvert.CurveToBSplineCurve_s(flat)
            # a free curve goes through a map of its plane by its poles
            for k in range(1, curve.NbPoles() + 1):
                pole = curve.Pole(k)
                curve.SetPole(k, place(pole.X(), pole.Y()))
            laid = BRepBuilderAPI_MakeEdge(curve, surface).Edge()
            BRepLib.BuildCurve3d_s(laid)
            maker.Add(laid)
            names.append((maker.Edge(), owners.get(pieces.FindIndex(edge), "?")))
            walk.Next()
        wires.append(maker.Wire())
    face = BRepBuilderAPI_MakeFace(surface, _going(surface, wires[0], hole=False), True)
    for hole in wires[1:]:
        face.Add(_going(surface, hole, hole=True))
    return face.Face()


def _going(surface: Geom_CylindricalSurface, wire: TopoDS_Wire, *, hole: bool) -> TopoDS_Wire:
    """A wire that goes round what it holds counter-clockwise, or clockwise round a hole, by the area within it (shoelace formula)."""
    alone = BRepBuilderAPI_MakeFace(surface, wire, False).Face()
    places: list[tuple[float, float]] = []
    walk = BRepTools_WireExplorer(wire)
    while walk.More():
        edge = walk.Current()
        curve = BRepAdaptor_Curve2d(edge, alone)
        first, last = curve.FirstParameter(), curve.LastParameter()
        if edge.Orientation() == TopAbs_REVERSED:
            first, last = last, first
        for k in range(PIECES):
            at = curve.Value(first + (last - first) * k / PIECES)
            places.append((at.X(), at.Y()))
        walk.Next()
    area = sum(a[0] * b[1] - b[0] * a[1] for a, b in pairwise([*places, places[0]]))
    return wire if (area > 0) != hole else TopoDS.Wire(wire.Reversed())
