"""The sample feeder's hopper and floor straight from the kernel's calls: what nobody can do without.

With the validity and volume checks after each operation that the kernel needs (it reports success on bad solids),
and with tessellation; without names, picks, reuse or messages. The yardstick for :mod:`bench.run`.
"""

from __future__ import annotations

from typing import Any

from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet
from OCP.BRepGProp import BRepGProp
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepOffset import BRepOffset_Skin
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeThickSolid
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.collections import List_TopoDS_Shape
from OCP.GeomAbs import GeomAbs_Intersection
from OCP.gp import gp_Ax2, gp_Circ, gp_Dir, gp_Pnt, gp_Vec
from OCP.GProp import GProp_GProps
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain
from OCP.TopAbs import TopAbs_EDGE, TopAbs_FACE, TopAbs_SOLID
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS

TALL, RADIUS, LIP, PLATE, DRAWN = 74.0, 9.0, 7.0, 2.4, 0.35


def parts_of(shape: Any, kind: Any) -> list[Any]:
    explorer, out = TopExp_Explorer(shape, kind), []
    while explorer.More():
        if not any(explorer.Current().IsSame(o) for o in out):
            out.append(explorer.Current())
        explorer.Next()
    return out


def checked(shape: Any) -> Any:
    """One solid, valid, with volume."""
    solids = parts_of(shape, TopAbs_SOLID)
    assert len(solids) == 1
    assert BRepCheck_Analyzer(solids[0]).IsValid()
    props = GProp_GProps()
    BRepGProp.VolumeProperties_s(solids[0], props)
    assert props.Mass() > 0
    return solids[0]


def rectangle(x0: float, y0: float, x1: float, y1: float, z: float = 0.0) -> Any:
    corners = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
    wire = BRepBuilderAPI_MakeWire()
    for (a, b), (c, d) in zip(corners, corners[1:] + corners[:1], strict=True):
        wire.Add(BRepBuilderAPI_MakeEdge(gp_Pnt(a, b, z), gp_Pnt(c, d, z)).Edge())
    return wire.Wire()


def rounded(width: float, depth: float, radius: float) -> Any:
    """A rectangle round the middle with round corners, counter-clockwise."""
    x, y, r = width / 2, depth / 2, radius
    wire, up = BRepBuilderAPI_MakeWire(), gp_Dir(0, 0, 1)
    stretches = [
        ((-x + r, -y), (x - r, -y), (x - r, -y + r), (x, -y + r)), ((x, -y + r), (x, y - r), (x - r, y - r), (x - r, y)),
        ((x - r, y), (-x + r, y), (-x + r, y - r), (-x, y - r)), ((-x, y - r), (-x, -y + r), (-x + r, -y + r), (-x + r, -y)),
    ]  # fmt: skip
    for a, b, centre, c in stretches:
        wire.Add(BRepBuilderAPI_MakeEdge(gp_Pnt(*a, 0), gp_Pnt(*b, 0)).Edge())
        circle = gp_Circ(gp_Ax2(gp_Pnt(*centre, 0), up), r)
        wire.Add(BRepBuilderAPI_MakeEdge(circle, gp_Pnt(*b, 0), gp_Pnt(*c, 0)).Edge())
    return wire.Wire()


def prism(outer: Any, height: float, hole: Any = None) -> Any:
    face = BRepBuilderAPI_MakeFace(outer, True)
    if hole is not None:
        face.Add(TopoDS.Wire(hole.Reversed()))
    return checked(BRepPrimAPI_MakePrism(face.Face(), gp_Vec(0, 0, height)).Shape())


def middle_z(shape: Any) -> tuple[float, float]:
    """Lowest and highest of a small shape's box, for telling edges and faces apart."""
    from OCP.Bnd import Bnd_Box
    from OCP.BRepBndLib import BRepBndLib

    box = Bnd_Box()
    BRepBndLib.Add_s(shape, box, False)
    return box.CornerMin().Z(), box.CornerMax().Z()


def hopper(wall: float, inside: float) -> Any:
    width, depth = inside + 2 * wall, inside * 2 / 3 + 2 * wall
    block = prism(rectangle(-width / 2, -depth / 2, width / 2, depth / 2), TALL)
    fillet = BRepFilletAPI_MakeFillet(block)
    for edge in parts_of(block, TopAbs_EDGE):
        low, high = middle_z(edge)
        if high - low > 1:
            fillet.Add(RADIUS, TopoDS.Edge(edge))
    fillet.Build()
    soft = checked(fillet.Shape())
    opening = List_TopoDS_Shape()
    opening.Append(next(f for f in parts_of(soft, TopAbs_FACE) if middle_z(f)[1] < 1e-3))
    shell = BRepOffsetAPI_MakeThickSolid()
    shell.MakeThickSolidByJoin(soft, opening, -wall, 1e-4, BRepOffset_Skin, False, False, GeomAbs_Intersection, False)
    hollow = checked(shell.Shape())
    slot = rectangle(-17, 14.5, 17, 25.5)
    cutter = BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(upright(slot), True).Face(), gp_Vec(0, -width, 0)).Shape()
    cut = BRepAlgoAPI_Cut(hollow, checked(cutter))
    joiner = ShapeUpgrade_UnifySameDomain(cut.Shape(), True, True, False)
    joiner.Build()
    return checked(joiner.Shape())


def upright(wire: Any) -> Any:
    """A ground wire turned up into the front plane."""
    from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
    from OCP.gp import gp_Ax3, gp_Trsf

    turn = gp_Trsf()
    turn.SetTransformation(gp_Ax3(gp_Pnt(0, 0, 0), gp_Dir(0, -1, 0), gp_Dir(1, 0, 0)), gp_Ax3())
    return TopoDS.Wire(BRepBuilderAPI_Transform(wire, turn, True).Shape())


def mouthed(body: Any, wall: float) -> Any:
    """The small chamfer where the opening's walls meet the seat."""
    chamfer = BRepFilletAPI_MakeChamfer(body)
    rim = next(f for f in parts_of(body, TopAbs_FACE) if middle_z(f)[1] < 1e-3)
    from OCP.BRepTools import BRepTools
    from OCP.TopAbs import TopAbs_WIRE

    outer = BRepTools.OuterWire_s(TopoDS.Face(rim))
    for wire in parts_of(rim, TopAbs_WIRE):
        if not wire.IsSame(outer):
            for edge in parts_of(wire, TopAbs_EDGE):
                chamfer.Add(0.3, TopoDS.Edge(edge))
    chamfer.Build()
    return checked(chamfer.Shape())


def floor(wall: float, inside: float) -> Any:
    width, depth = inside + 2 * wall, inside * 2 / 3 + 2 * wall
    plate = prism(rounded(width, depth, RADIUS), -PLATE)
    a, b, r = inside - 2 * DRAWN, inside * 2 / 3 - 2 * DRAWN, RADIUS - wall - DRAWN
    ring = prism(rounded(a, b, r), LIP, rounded(a - 2 * wall, b - 2 * wall, r - wall))
    chamfer = BRepFilletAPI_MakeChamfer(ring)
    top = next(f for f in parts_of(ring, TopAbs_FACE) if middle_z(f)[0] > LIP - 1e-3)
    from OCP.BRepTools import BRepTools

    for edge in parts_of(BRepTools.OuterWire_s(TopoDS.Face(top)), TopAbs_EDGE):
        chamfer.Add(0.6, TopoDS.Edge(edge))
    chamfer.Build()
    return checked(BRepAlgoAPI_Fuse(plate, checked(chamfer.Shape())).Shape())


def feeder(wall: float, inside: float, chord_mm: float, turn_rad: float) -> tuple[Any, Any]:
    """Both parts, meshed as finely as the screen wants them."""
    made = mouthed(hopper(wall, inside), wall), floor(wall, inside)
    for part in made:
        BRepMesh_IncrementalMesh(part, chord_mm, False, turn_rad, False)
    return made
