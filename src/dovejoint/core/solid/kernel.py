"""Small wrappers over the geometry kernel's binding (facts and traps: static methods end in ``_s``)."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from OCP import __version__ as _version
from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepTools import BRepTools_WireExplorer
from OCP.collections import IndexedDataMap_TopoDS_Shape_List_TopoDS_Shape_TopTools_ShapeMapHasher as AncestorMap
from OCP.collections import IndexedMap_TopoDS_Shape_TopTools_ShapeMapHasher as ShapeMap
from OCP.collections import List_TopoDS_Shape
from OCP.Convert import Convert_ParameterisationType
from OCP.Geom import Geom_BSplineCurve, Geom_Plane, Geom_TrimmedCurve
from OCP.GeomConvert import GeomConvert
from OCP.GeomLib import GeomLib_IsPlanarSurface
from OCP.gp import gp_Ax3, gp_Dir, gp_Pln, gp_Pnt, gp_Trsf, gp_Vec
from OCP.Message import Message
from OCP.TopAbs import TopAbs_EDGE, TopAbs_FACE, TopAbs_SOLID, TopAbs_VERTEX, TopAbs_WIRE
from OCP.TopExp import TopExp
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Compound, TopoDS_Edge, TopoDS_Face, TopoDS_Shape

from ..errors import StepError
from .frame import Frame, Vec3

#: the one modelling tolerance, mm
TOLERANCE_MM = 1e-6
#: part of every step's key: results of another kernel are not reused
KERNEL_VERSION = f"occ-{_version}"

# the kernel writes warnings to standard output unless its printers are taken away
Message.DefaultMessenger_s().RemovePrinters(Message.DefaultMessenger_s().Printers().First().DynamicType()) if (
    Message.DefaultMessenger_s().Printers().Size() > 0
) else None

#: a surface that a plane follows so well is flat, mm
FLAT_MM = 1e-6

FACE, EDGE, SOLID, VERTEX, WIRE = TopAbs_FACE, TopAbs_EDGE, TopAbs_SOLID, TopAbs_VERTEX, TopAbs_WIRE
Shape = Any

__all__ = [
    "EDGE",
    "FACE",
    "KERNEL_VERSION",
    "SOLID",
    "TOLERANCE_MM",
    "VERTEX",
    "WIRE",
    "AncestorMap",
    "BRepAdaptor_Curve",
    "BRepAdaptor_Surface",
    "BRep_Builder",
    "BRep_Tool",
    "Shape",
    "ShapeMap",
    "TopoDS",
    "TopoDS_Shape",
    "ancestors",
    "as_list",
    "compound",
    "direction",
    "flattened",
    "in_turn",
    "listed",
    "placement",
    "plane",
    "point",
    "raised_by_kernel",
    "refusing",
    "shape_map",
    "spline_of",
    "subshapes",
    "vec",
    "vector",
]


def shape_map(shape: Shape, kind: Any) -> Any:
    """Indexed map (1-based) of the sub-shapes of one kind; its order is the order of names."""
    found = ShapeMap()
    TopExp.MapShapes_s(shape, kind, found)
    return found


def subshapes(shape: Shape, kind: Any) -> list[Shape]:
    found = shape_map(shape, kind)
    return [cast(found.FindKey(i), kind) for i in range(1, found.Extent() + 1)]


def cast(shape: Shape, kind: Any) -> Shape:
    if kind == FACE:
        return TopoDS.Face(shape)
    if kind == EDGE:
        return TopoDS.Edge(shape)
    if kind == SOLID:
        return TopoDS.Solid(shape)
    if kind == WIRE:
        return TopoDS.Wire(shape)
    return shape


def ancestors(shape: Shape, kind: Any, above: Any) -> Any:
    """Indexed map from each sub-shape to the list of those that hold it."""
    found = AncestorMap()
    TopExp.MapShapesAndAncestors_s(shape, kind, above, found)
    return found


def listed(items: Any) -> list[Shape]:
    """A kernel list as a Python list. (Iterating over one costs 0.7 ms in this binding; this way 1 to 15 µs.)"""
    size = items.Size()
    if size == 0:
        return []
    if size == 1:
        return [items.First()]
    rest, out = List_TopoDS_Shape(items), []
    while not rest.IsEmpty():
        out.append(rest.First())
        rest.RemoveFirst()
    return out


def as_list(shapes: list[Shape]) -> Any:
    out = List_TopoDS_Shape()
    for shape in shapes:
        out.Append(shape)
    return out


def compound(shapes: list[Shape]) -> Shape:
    out = TopoDS_Compound()
    builder = BRep_Builder()
    builder.MakeCompound(out)
    for shape in shapes:
        builder.Add(out, shape)
    return out


def point(p: Vec3) -> gp_Pnt:
    return gp_Pnt(float(p[0]), float(p[1]), float(p[2]))


def vector(v: Vec3) -> gp_Vec:
    return gp_Vec(float(v[0]), float(v[1]), float(v[2]))


def direction(v: Vec3) -> gp_Dir:
    return gp_Dir(float(v[0]), float(v[1]), float(v[2]))


def vec(p: Any) -> Vec3:
    return (p.X(), p.Y(), p.Z())


def plane(frame: Frame) -> gp_Pln:
    return gp_Pln(gp_Ax3(point(frame.origin), direction(frame.z), direction(frame.x)))


def in_turn(wire: Shape, face: Shape | None = None) -> list[tuple[TopoDS_Edge, Vec3]]:
    """The edges of a wire (of a face) as it is run, each with the corner that it begins at."""
    whole = TopoDS.Wire(wire)
    walk = BRepTools_WireExplorer(whole) if face is None else BRepTools_WireExplorer(whole, TopoDS.Face(face))
    out = []
    while walk.More():
        out.append((walk.Current(), vec(BRep_Tool.Pnt_s(walk.CurrentVertex()))))
        walk.Next()
    return out


def spline_of(edge: TopoDS_Edge) -> Geom_BSplineCurve:
    """The curve of an edge as a spline, from its first parameter to its last; of circles at an even pace, for the usual conversion has kinks at which faces are divided."""
    adaptor = BRepAdaptor_Curve(edge)
    first, last = adaptor.FirstParameter(), adaptor.LastParameter()
    drawn = Geom_TrimmedCurve(BRep_Tool.Curve_s(edge, first, last), first, last)
    return GeomConvert.CurveToBSplineCurve_s(drawn, Convert_ParameterisationType.Convert_QuasiAngular)


def placement(frame: Frame) -> gp_Trsf:
    """The transformation that takes sketch coordinates to the frame in the world."""
    trsf = gp_Trsf()
    trsf.SetTransformation(gp_Ax3(point(frame.origin), direction(frame.z), direction(frame.x)), gp_Ax3())
    return trsf


@contextmanager
def refusing(refused: StepError) -> Iterator[None]:
    """What the kernel raises within this is answered by a refusal with a sentence; mistakes of ours stay what they are."""
    try:
        yield
    except StepError:
        raise
    except Exception as error:
        if not raised_by_kernel(error):
            raise
        raise refused from None


def raised_by_kernel(error: BaseException) -> bool:
    """Whether an exception is one of the kernel's own, not a mistake of ours."""
    return type(error).__module__.startswith("OCP.")


def flattened(face: TopoDS_Face) -> None:
    """Give a face that is flat a plane for its surface, in place: straight loftings and stretched solids come with free surfaces, on which nothing flat can be picked."""
    surface = BRep_Tool.Surface_s(face)
    if not GeomLib_IsPlanarSurface(surface, FLAT_MM).IsPlanar():
        return
    u, v, w, x = surface.Bounds()
    place, along, across = gp_Pnt(), gp_Vec(), gp_Vec()
    surface.D1((u + v) / 2, (w + x) / 2, place, along, across)
    # a plane faces as the surface did; edges need no curves in it
    plane = Geom_Plane(gp_Ax3(place, gp_Dir(along.Crossed(across))))
    BRep_Builder().UpdateFace(face, plane, TopLoc_Location(), FLAT_MM)
