"""Solids from outlines that are carried along a path."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex, BRepBuilderAPI_MakeWire, BRepBuilderAPI_RightCorner
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakePipeShell
from OCP.BRepTools import BRepTools
from OCP.gp import gp_Pnt, gp_Vec
from OCP.Law import Law_Linear
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Wire

from ..errors import StepError
from .by_mesh import unlike_mesh
from .check import accept, judge
from .facename import as_part
from .frame import Frame, Vec3, dot, length, sub, unit
from .guided import scale_law, touches
from .kernel import (
    EDGE,
    FACE,
    WIRE,
    BRepAdaptor_Curve,
    Shape,
    TopoDS,
    as_list,
    direction,
    listed,
    placement,
    point,
    refusing,
    shape_map,
    subshapes,
    vec,
)
from .named import NamedSolid
from .outline import Curve
from .regions import Region, edge_of
from .twisted import twisted_along

__all__ = ["judged", "path_of_curves", "path_of_edges", "piped", "sound", "swept_along"]


#: the rim of an outline lies on a guide within this, mm
ON_GUIDE_MM = 1e-3


def path_of_edges(edges: Sequence[Shape]) -> TopoDS_Wire:
    """One path of edges that meet end to end.

    Raises
    ------
    StepError : they do not form one path.
    """
    maker = BRepBuilderAPI_MakeWire()
    maker.Add(as_list(list(edges)))
    if not maker.IsDone() or len(subshapes(maker.Wire(), EDGE)) != len(edges):
        raise StepError("The path is in pieces; it must run on from end to end.")
    return maker.Wire()


def path_of_curves(curves: Sequence[Curve], frame: Frame) -> TopoDS_Wire:
    """One path of a sketch's curves that meet end to end. Raises StepError."""
    where = TopLoc_Location(placement(frame))
    return path_of_edges([edge_of(c).Moved(where) for c in curves])


def _nearest(path: TopoDS_Wire, region: Region, frame: Frame) -> Vec3:
    """The direction of the path where it is nearest to the middle of the outline."""
    centre = BRepBuilderAPI_MakeVertex(point(frame.to_world(*region.centre))).Vertex()
    found: list[tuple[float, Vec3]] = []
    for edge in subshapes(path, EDGE):
        curve = BRepAdaptor_Curve(edge)
        first, last = curve.FirstParameter(), curve.LastParameter()
        solver = BRepExtrema_DistShapeShape(centre, edge)
        at = solver.PointOnShape2(1)
        # the place along the edge, by halving towards the nearest of samples
        u = min((first + (last - first) * k / 64 for k in range(65)), key=lambda t: curve.Value(t).Distance(at))
        step = (last - first) / 64
        for _ in range(40):
            u = min((max(first, u - step), u, min(last, u + step)), key=lambda t: curve.Value(t).Distance(at))
            step /= 2
        p, d = gp_Pnt(), gp_Vec()
        curve.D1(u, p, d)
        found.append((solver.Value(), unit(vec(d))))
    return min(found)[1]


def swept_along(
    region: Region,
    frame: Frame,
    path: TopoDS_Wire,
    step: str,
    mark: str = "",
    *,
    upright: Vec3 | None = None,
    scale_end: float = 1.0,
    twist_rad: float = 0.0,
    guide: TopoDS_Wire | None = None,
) -> NamedSolid:
    """Carry a region along a path: it turns with the path, or keeps ``upright`` upright; at the end it is ``scale_end`` times as large, and on
    a straight path turned by ``twist_rad`` (the way a right-hand screw goes). With a ``guide`` it grows and shrinks so that its rim
    stays on that.

    Faces are named ``step/side(curve)``, ``step/start`` and ``step/end``; on a path with corners the pieces of a side share its name.

    Raises
    ------
    StepError : the outline lies along the path, its rim is not on the guide, or the result is not sound.
    """
    closed = bool(path.Closed())
    if abs(dot(_nearest(path, region, frame), frame.z)) < 1e-3:
        raise StepError("The outline lies along the path; it must stand across it.")
    if closed and abs(scale_end - 1.0) > 1e-9:
        raise StepError("A closed path ends where it begins, so the outline must end as large as it begins.")
    if abs(twist_rad) > 1e-9:
        if abs(scale_end - 1.0) > 1e-9:
            raise StepError("An outline is twisted or ends in another size, not both in one step.")
        axis, long = _straight(path)
        at = min(max(axis.to_local(frame.to_world(*region.centre))[2], 0.0), long)
        return twisted_along(region, frame, axis, long, at, twist_rad, step, mark)
    where = TopLoc_Location(placement(frame))
    face = TopoDS.Face(region.face.Moved(where))
    outer = BRepTools.OuterWire_s(face)
    law: Any = None
    if abs(scale_end - 1.0) > 1e-9:
        law = Law_Linear()
        law.Set(0.0, 1.0, 1.0, float(scale_end))
    if guide is not None:
        if abs(scale_end - 1.0) > 1e-9:
            raise StepError("An outline is kept on a guide or ends in another size, not both in one step.")
        if len(region.loops) > 1:
            raise StepError("An outline with holes is not kept on a guide; do the holes apart.")
        law = scale_law(path, guide)
        rim = touches(path, guide)
        if (
            rim is None
            or BRepExtrema_DistShapeShape(outer, BRepBuilderAPI_MakeVertex(point(rim)).Vertex()).Value() > ON_GUIDE_MM
        ):
            raise StepError(
                "The guide does not touch the rim of the outline where the path begins; let it begin or end there."
            )
    shells = []
    for wire in [outer] + [w for w in subshapes(face, WIRE) if not w.IsSame(outer)]:
        shells.append(_pipe(region, where, TopoDS.Wire(wire), path, step, mark, upright, law))
    whole = shells[0]
    if len(shells) > 1:
        from .combine import cut

        whole = cut(shells[0], shells[1:], step)
    return whole


def _straight(path: TopoDS_Wire) -> tuple[Frame, float]:
    """A frame at the beginning of a straight path, its z along it, and how long it is. Raises StepError."""
    edges = subshapes(path, EDGE)
    curve = BRepAdaptor_Curve(edges[0])
    if len(edges) != 1 or curve.GetType().name != "GeomAbs_Line":
        raise StepError("Only along one straight line can an outline be twisted.")
    start, end = vec(curve.Value(curve.FirstParameter())), vec(curve.Value(curve.LastParameter()))
    flat = Frame.on_plane(start, unit(sub(end, start)))
    return Frame(start, flat.x, flat.y), length(sub(end, start))


def _pipe(
    region: Region,
    where: TopLoc_Location,
    profile: TopoDS_Wire,
    path: TopoDS_Wire,
    step: str,
    mark: str,
    upright: Vec3 | None,
    law: Any,
) -> NamedSolid:
    refused = StepError(
        "The outline cannot be carried along this path: it would run into itself. Make it smaller, or the bends wider."
    )
    maker = BRepOffsetAPI_MakePipeShell(path)
    with refusing(refused):
        if upright is not None:
            maker.SetMode(direction(upright))
        maker.SetTransitionMode(BRepBuilderAPI_RightCorner)
        if law is not None:
            maker.SetLaw(profile, law, False, False)
        else:
            maker.Add(profile, False, False)
        maker.Build()
        if not maker.IsDone() or not maker.MakeSolid():
            raise refused
        shape = maker.Shape()
    return piped(maker, shape, region, where, step, f"({mark})" if mark else "", refused)


def piped(maker: Any, shape: Shape, region: Region, where: TopLoc_Location, step: str, tail: str, refused: StepError) -> NamedSolid:  # fmt: skip
    """What the kernel's pipe made of a region that lay at ``where``, its faces named ``step/side(curve)``, ``step/start`` and ``step/end``. Raises ``refused``."""
    faces = shape_map(shape, FACE)
    names: dict[int, str] = {}
    for edge, curve in region.edges:
        for made in listed(maker.Generated(edge.Moved(where))):
            for piece in subshapes(made, FACE):
                if faces.FindIndex(piece):
                    names[faces.FindIndex(piece)] = f"{step}/side({as_part(curve)})"
    return judged(maker, shape, names, step, tail, refused)


def judged(maker: Any, shape: Shape, names: dict[int, str], step: str, tail: str, refused: StepError) -> NamedSolid:
    """A solid with its ends named too, and what has no name ``step/side``; looked at by the kernel and by its triangles. Raises ``refused``."""
    faces = shape_map(shape, FACE)
    for end, piece in (("start", maker.FirstShape()), ("end", maker.LastShape())):
        for face in subshapes(piece, FACE) if piece is not None and not piece.IsNull() else []:
            if faces.FindIndex(face):
                names.setdefault(faces.FindIndex(face), f"{step}/{end}{tail}")
    return sound(NamedSolid(shape, [(names.get(i, f"{step}/side"),) for i in range(1, faces.Extent() + 1)]), refused)


def sound(solid: NamedSolid, refused: StepError) -> NamedSolid:
    """The solid, where it is one by the kernel and by its triangles. Raises ``refused``."""
    if accept(solid) or judge(lambda: unlike_mesh(solid)):
        raise refused
    return solid
