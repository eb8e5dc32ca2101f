"""Prisms that end where something else is: at a plane, or at a face of any kind."""

from __future__ import annotations

from OCP.BRepAlgoAPI import BRepAlgoAPI_Splitter
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeOffsetShape
from OCP.gp import gp_Lin
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector
from OCP.TopoDS import TopoDS_Shape

from ..errors import StepError
from .check import accept
from .combine import cut
from .divide import side_of
from .frame import Axis, Frame, add, dot, scale, sub
from .kernel import FACE, Shape, as_list, direction, listed, point, raised_by_kernel, shape_map, subshapes
from .make import prism, prism_extent
from .measure import in_material
from .named import NamedSolid, carry, lumps_of, solids_of
from .regions import Region

__all__ = ["prism_to_face", "prism_to_part", "prism_to_plane"]

#: a prism goes so far beyond what it is to end at, mm
BEYOND_MM = 1.0


def prism_to_plane(
    region: Region, frame: Frame, plane: Frame, up: bool, short_mm: float, step: str, mark: str = ""
) -> NamedSolid:
    """Extrude a region from its plane until it meets another plane, level or slanted; ``short_mm`` before it (less than 0: beyond).

    Faces as of :func:`prism`, the slanted one is ``step/end`` too.

    Raises
    ------
    StepError : the plane lies behind the outline, runs through it, or along the way.
    """
    way = 1.0 if up else -1.0
    slope = dot(frame.z, plane.z) * way
    if abs(slope) < 1e-6:
        raise StepError("That plane runs along the way of the extrusion, so it is never met; pick another.")
    # the plane moves towards the outline by so much, measured square to it
    meets = plane.shifted(-short_mm if slope > 0 else short_mm)
    corners = [frame.to_world(*p) for loop in region.loops for p in loop]
    heights = [dot(sub(meets.origin, c), meets.z) / slope for c in corners]
    if max(heights) <= 1e-4:
        raise StepError("That lies behind the outline; turn the direction round, or pick another.")
    if min(heights) <= 1e-4:
        raise StepError("That runs through the outline, so part of it has nowhere to go; pick another.")
    if max(heights) - min(heights) < 1e-9:
        return prism(region, frame, 0.0, way * heights[0], step, mark)
    longer = prism(region, frame, 0.0, way * (max(heights) + BEYOND_MM), step, mark)
    tail = f"({mark})" if mark else ""
    cut = side_of(longer, meets, step, over=slope < 0)
    return cut.renamed(lambda n: f"{step}/end{tail}" if n == f"{step}/divide" else n)


def prism_to_face(
    region: Region, frame: Frame, other: NamedSolid, face: int, up: bool, short_mm: float, step: str, mark: str = ""
) -> NamedSolid:
    """Extrude a region until it meets a face (0-based) of a solid, flat or not, all over; ``short_mm`` before it.

    Raises
    ------
    StepError : the face does not stand over the whole outline, or cannot be set off so far.
    """
    way = 1.0 if up else -1.0
    target = other.faces[face]
    if abs(short_mm) > 1e-9:
        # towards the outline is out of its solid where the face looks at the outline
        looks = _looks_at(other, face, Axis(frame.to_world(*region.centre), scale(frame.z, way)))
        target = _set_off(target, short_mm if looks else -short_mm)
    low, high = prism_extent([other], frame)
    reach = (high if up else -low) + abs(short_mm) + BEYOND_MM
    nothing = StepError("That face does not stand over the whole outline on this side, so it cannot end there.")
    if reach <= BEYOND_MM + 1e-4:
        raise nothing
    longer = prism(region, frame, 0.0, way * reach, step, mark)
    maker = BRepAlgoAPI_Splitter()
    maker.SetArguments(as_list([longer.shape]))
    maker.SetTools(as_list([target]))
    maker.Build()
    pieces = solids_of(maker.Shape()) if maker.IsDone() else []
    if len(pieces) < 2:
        raise nothing
    tail = f"({mark})" if mark else ""
    first, last = ([longer.faces[i] for i in longer.find(f"{step}/{end}{tail}")] for end in ("start", "end"))
    near = [p for p in pieces if _holds(p, first, maker)]
    if len(near) != 1 or _holds(near[0], last, maker):
        raise nothing
    result = carry(near[0], [longer], maker, rest=f"{step}/end{tail}")
    wrong = accept(result, lambda: longer.volume_mm3)
    if wrong:
        raise StepError(f"Ending there does not give a sound solid: {wrong}.")
    return result


def prism_to_part(region: Region, frame: Frame, other: NamedSolid, up: bool, step: str, mark: str = "") -> NamedSolid:
    """Extrude a region until it meets a solid all over, whatever faces that has there; they give the end its faces and names.

    Raises
    ------
    StepError : the solid does not stand over the whole outline on this side.
    """
    way = 1.0 if up else -1.0
    low, high = prism_extent([other], frame)
    reach = (high if up else -low) + BEYOND_MM
    nothing = StepError("That part does not stand over the whole outline on this side, so it cannot end there.")
    if reach <= BEYOND_MM + 1e-4:
        raise nothing
    longer = prism(region, frame, 0.0, way * reach, step, mark)
    left = cut(longer, [other], step)
    tail = f"({mark})" if mark else ""
    start, end = f"{step}/start{tail}", f"{step}/end{tail}"
    near = [lump for lump in lumps_of(left) if lump.find(start)]
    if len(near) != 1 or near[0].find(end):
        raise nothing
    wrong = accept(near[0], lambda: longer.volume_mm3)
    if wrong:
        raise StepError(f"Ending there does not give a sound solid: {wrong}.")
    return near[0]


def _looks_at(solid: NamedSolid, face: int, along: Axis) -> bool:
    """Whether a face looks at what comes along an axis: just before the face there is no material. True where it is not met."""
    tool = IntCurvesFace_ShapeIntersector()
    tool.Load(solid.faces[face], 1e-7)
    tool.Perform(gp_Lin(point(along.origin), direction(along.direction)), 1e-4, 1e5)
    if not tool.IsDone() or tool.NbPnt() == 0:
        return True
    first = min(float(tool.WParameter(i)) for i in range(1, tool.NbPnt() + 1))
    before = add(along.origin, scale(along.direction, first - 1e-3))
    return not any(in_material(solid, [before]))


def _holds(piece: Shape, faces: list[Shape], maker: BRepAlgoAPI_Splitter) -> bool:
    mine = shape_map(piece, FACE)
    return any(mine.Contains(image) for face in faces for image in (listed(maker.Modified(face)) or [face]))


def _set_off(face: Shape, by_mm: float) -> TopoDS_Shape:
    """A face moved along its own normal (out of its solid where above zero)."""
    maker = BRepOffsetAPI_MakeOffsetShape()
    try:
        maker.PerformBySimple(face, by_mm)
        found = subshapes(maker.Shape(), FACE) if maker.IsDone() else []
    except Exception as error:
        if not raised_by_kernel(error):
            raise
        found = []
    if len(found) != 1:
        raise StepError(f"That face cannot be set off by {abs(by_mm):.4g} mm; take less.")
    return found[0]
