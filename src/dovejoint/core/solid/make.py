"""Solids from flat regions."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.TopLoc import TopLoc_Location

from ..errors import StepError
from .check import accept
from .frame import Frame, box_corners, scale
from .kernel import FACE, compound, listed, placement, shape_map, vector
from .measure import bounds
from .named import NamedSolid
from .regions import Region

__all__ = ["prism", "prism_extent", "swept"]


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
