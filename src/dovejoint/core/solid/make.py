"""Solids from flat regions."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.BRepLib import BRepLib
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.gp import gp_Ax2, gp_Trsf
from OCP.LocOpe import LocOpe_DPrism
from OCP.TopLoc import TopLoc_Location

from ..errors import StepError
from .by_mesh import unlike_mesh
from .check import accept, judge
from .frame import Frame, Vec3, box_corners, scale
from .kernel import (
    EDGE,
    FACE,
    TopoDS,
    compound,
    direction,
    listed,
    placement,
    point,
    refusing,
    shape_map,
    subshapes,
    vector,
)
from .measure import bounds, exact_distance
from .named import NamedSolid, solids_of
from .regions import Region

__all__ = ["narrowed", "prism", "prism_extent", "swept"]


def prism(
    region: Region, frame: Frame, start_mm: float, end_mm: float, step: str, mark: str = "", check: bool = True
) -> NamedSolid:
    """Extrude a region from one height over its frame to another.

    Faces are named ``step/side(curve)``, ``step/start`` and ``step/end``; ``mark`` tells the regions of
    one step apart (``step/end(mark)``). ``check=False`` is for outlines known to be sound whose prism goes into
    an operation that is checked itself.
    """
    if abs(end_mm - start_mm) < 1e-4:
        raise StepError("An extrusion needs a height; this one is zero.")
    location = TopLoc_Location(placement(frame.shifted(start_mm)))
    face = region.face.Moved(location)
    maker = BRepPrimAPI_MakePrism(face, vector(scale(frame.z, end_mm - start_mm)))
    shape = maker.Shape()
    if shape is None or shape.IsNull():
        raise StepError(f"The region {region.name} does not extrude into a solid.")
    solid = swept(maker, region, location, step, mark)
    wrong = accept(solid) if check else None
    if wrong:
        raise StepError(f"The region {region.name} does not extrude into a solid: {wrong}.")
    return solid


def narrowed(region: Region, frame: Frame, height_mm: float, angle_rad: float, step: str, mark: str = "") -> NamedSolid:
    """Extrude a region without holes from a frame, up (or down where the height is below zero), narrowing by an angle (below zero: widening), whatever curves bound it.

    Named as :func:`prism` does; a curve that goes over into several faces has the others as ``step/side(curve).2`` …

    Raises
    ------
    StepError : it has holes, or narrows so far that its sides meet.
    """
    refused = StepError("The outline does not narrow so far.")
    if len(region.loops) > 1:
        raise refused
    location = TopLoc_Location(placement(frame))
    face = TopoDS.Face(region.face.Moved(location))
    with refusing(refused):
        # the kernel's height is that of its sides
        maker = LocOpe_DPrism(face, abs(height_mm) / math.cos(angle_rad), angle_rad)
        if not maker.IsDone() or len(solids_of(maker.Shape())) != 1:
            raise refused
        shape = solids_of(maker.Shape())[0]
        named = [
            (f"{step}/{end}" + (f"({mark})" if mark else ""), f)
            for end, made in (("start", maker.FirstShape()), ("end", maker.LastShape()))
            for f in subshapes(made, FACE)
        ]
        for edge, curve in region.edges:
            for k, made in enumerate(listed(maker.Shapes(edge.Moved(location)))):
                named.append((f"{step}/side({curve})" + (f".{k + 1}" if k else ""), made))
        # sides that met on their way have run through each other: then the end lies nearer to the outline than it should
        away = abs(height_mm) * math.tan(angle_rad)
        ends = maker.LastShape().Moved(TopLoc_Location(_shift(scale(frame.z, -abs(height_mm)))))
        if (
            away > 0
            and exact_distance(compound(subshapes(ends, EDGE)), compound(subshapes(face, EDGE)))[0] < away - 1e-3
        ):
            raise refused
        if height_mm < 0:
            mirror = gp_Trsf()
            mirror.SetMirror(gp_Ax2(point(frame.origin), direction(frame.z)))
            mover = BRepBuilderAPI_Transform(shape, mirror, True)
            shape, named = mover.Shape(), [(name, mover.ModifiedShape(f)) for name, f in named]
            BRepLib.OrientClosedSolid_s(TopoDS.Solid(shape))
    faces = shape_map(shape, FACE)
    names: dict[int, str] = {}
    for name, f in named:
        names.setdefault(faces.FindIndex(f), name)
    solid = NamedSolid(shape, [(names.get(i, f"{step}/side"),) for i in range(1, faces.Extent() + 1)])
    if accept(solid) or judge(lambda: unlike_mesh(solid)):
        raise refused
    return solid


def _shift(by: Vec3) -> gp_Trsf:
    out = gp_Trsf()
    out.SetTranslation(vector(by))
    return out


def swept(
    maker: Any,
    region: Region,
    location: Any,
    step: str,
    mark: str,
    *,
    ends: bool = True,
    called: Callable[[str], str] = str,
) -> NamedSolid:
    """What a kernel's sweep of a region made, its faces named: ``step/side(curve)``, and ``step/start`` and ``step/end`` where it has
    ``ends``. ``location`` is where the region lay, ``called`` how a curve is written inside a name."""
    shape = maker.Shape()
    faces = shape_map(shape, FACE)
    names: dict[int, str] = {}
    tail = f"({mark})" if mark else ""
    for edge, curve in region.edges:
        for made in listed(maker.Generated(edge.Moved(location))):
            names[faces.FindIndex(made)] = f"{step}/side({called(curve)})"
    if ends:
        names[faces.FindIndex(maker.FirstShape())] = f"{step}/start{tail}"
        names[faces.FindIndex(maker.LastShape())] = f"{step}/end{tail}"
    return NamedSolid(shape, [(names.get(i, f"{step}/side"),) for i in range(1, faces.Extent() + 1)])


def prism_extent(solids: list[NamedSolid], frame: Frame) -> tuple[float, float]:
    """Lowest and highest place of some solids along a frame's normal (by their bounding box)."""
    corners = box_corners(*bounds(compound([s.shape for s in solids])))
    heights = [frame.to_local(corner)[2] for corner in corners]
    return min(heights), max(heights)
