"""Solids that go over from one outline to the next: straight, smoothly, into a point, all round, led along a path, or kept on guides."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakePipeShell, BRepOffsetAPI_ThruSections
from OCP.BRepTools import BRepTools
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Wire

from ..errors import StepError
from .along import judged, piped, sound
from .combine import fuse
from .facename import as_part
from .frame import Frame, Vec3
from .going_round import all_round, smooth_ring
from .guided_loft import guided_loft
from .kernel import FACE, TopoDS, flattened, in_turn, placement, point, refusing, shape_map, subshapes
from .named import NamedSolid
from .regions import Region

__all__ = ["lofted"]


def lofted(
    profiles: Sequence[tuple[Region, Frame]],
    step: str,
    *,
    ruled: bool,
    tip: Vec3 | None = None,
    closed: bool = False,
    led: TopoDS_Wire | None = None,
    guides: Sequence[TopoDS_Wire] = (),
) -> NamedSolid:
    """A solid that goes from one region to the next, straight (``ruled``) or smoothly, and runs out into ``tip`` where there is one, or back into
    the first one (``closed``), or has its rim kept on ``guides``. One that is ``led`` along a path keeps each outline where it is nearest to it, and turns with the path in between.

    Faces are named ``step/side(curve)`` by the first outline's curves, ``step/start`` and ``step/end``; what runs out straight into a point beyond
    several outlines ``step/tip(curve)`` by the last one's.

    Raises
    ------
    StepError : too few outlines, outlines with holes, or no sound solid.
    """
    if len(profiles) < (2 if tip is None else 1):
        raise StepError("It needs at least two outlines.")
    if ruled and tip is not None and len(profiles) > 1:
        # at once the kernel divides sides that need not be divided
        body = lofted(profiles, step, ruled=True)
        top = lofted(profiles[-1:], step, ruled=True, tip=tip)
        top = top.renamed(lambda name: name.replace(f"{step}/side(", f"{step}/tip("))
        return fuse(body, [top], step)
    if any(len(region.loops) > 1 for region, _ in profiles):
        raise StepError("An outline with holes does not go over into another; do the holes apart.")
    if guides:
        with refusing(StepError("On these guides no sound solid can be made; let them bend less.", field="guides")):
            return guided_loft(profiles, guides, step, ruled=ruled)
    refused = StepError(
        "These outlines do not go over into each other soundly; give them as many corners, in the same order."
    )
    wheres = [TopLoc_Location(placement(frame)) for _, frame in profiles]
    wires = [
        TopoDS.Wire(BRepTools.OuterWire_s(TopoDS.Face(region.face.Moved(where))))
        for (region, _), where in zip(profiles, wheres, strict=True)
    ]
    if led is not None:
        return _led(profiles[0][0], wheres[0], wires, led, step)
    maker = BRepOffsetAPI_ThruSections(True, ruled, 1e-6)
    with refusing(refused):
        if closed:
            middles = [frame.to_world(*region.centre) for region, frame in profiles]
            wires = all_round([(w, f, m) for w, (_, f), m in zip(wires, profiles, middles, strict=True)])
            if not ruled:
                return _ring(profiles[0][0], wheres[0], wires, step, refused)
        for wire in wires:
            maker.AddWire(wire)
        if tip is not None:
            maker.AddVertex(BRepBuilderAPI_MakeVertex(point(tip)).Vertex())
        # the kernel's own matching of corners spoils what goes round
        maker.CheckCompatibility(not closed)
        maker.Build()
        if not maker.IsDone():
            raise refused
        shape = maker.Shape()
    faces = shape_map(shape, FACE)
    names: dict[int, str] = {}
    # straight ones have a face for each curve from each outline to the next
    for k, ((region, _), where) in enumerate(zip(profiles, wheres, strict=True)):
        for edge, curve in region.edges:
            made = maker.GeneratedFace(edge.Moved(where))
            index = faces.FindIndex(made) if made is not None and not made.IsNull() else 0
            if index:
                names.setdefault(index, f"{step}/side({as_part(curve)})" + (f".{k + 1}" if k else ""))
    if ruled:
        for face in subshapes(shape, FACE):
            flattened(TopoDS.Face(face))
    return judged(maker, shape, names, step, "", refused)


def _ring(
    first: Region, where: TopLoc_Location, wires: Sequence[TopoDS_Wire], step: str, refused: StepError
) -> NamedSolid:
    """Outlines that go over into each other smoothly, all round."""
    found = smooth_ring(wires)
    if found is None:
        raise refused
    shape, made = found
    faces = shape_map(shape, FACE)
    names: dict[int, str] = {}
    for face, (edge, _) in zip(made, in_turn(wires[0]), strict=True):
        # a lone circle was begun elsewhere, so it is another edge by now
        curve = next((c for e, c in first.edges if e.Moved(where).IsSame(edge)), first.edges[0][1])
        names[faces.FindIndex(face)] = f"{step}/side({as_part(curve)})"
    return sound(NamedSolid(shape, [(names.get(i, f"{step}/side"),) for i in range(1, faces.Extent() + 1)]), refused)


def _led(
    first: Region, where: TopLoc_Location, wires: Sequence[TopoDS_Wire], path: TopoDS_Wire, step: str
) -> NamedSolid:
    """Outlines that go over into each other along a path."""
    refused = StepError(
        "The outlines cannot be led along this path: they stand across it one after the other, as many corners in each, and it has no corners itself."
    )
    maker = BRepOffsetAPI_MakePipeShell(path)
    with refusing(refused):
        for wire in wires:
            maker.Add(wire, False, False)
        maker.Build()
        if not maker.IsDone() or not maker.MakeSolid():
            raise refused
        shape = maker.Shape()
    return piped(maker, shape, first, where, step, "", refused)
