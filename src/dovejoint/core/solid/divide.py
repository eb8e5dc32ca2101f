"""Dividing a solid by a plane."""

from __future__ import annotations

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism

from ..errors import StepError
from .combine import cut
from .frame import Frame, dot, length, scale, sub
from .kernel import plane, vector
from .measure import bounds
from .named import NamedSolid

__all__ = ["side_of"]

#: a plane must go at least so deep into a solid to divide it, mm
LEAST_MM = 1e-4


def side_of(solid: NamedSolid, across: Frame, step: str, over: bool) -> NamedSolid:
    """What of a solid lies over a frame's plane (the way its ``z`` points), or under it. The new face is named ``step/divide``.

    Raises
    ------
    StepError : the plane does not go through the solid.
    """
    low, high = bounds(solid.shape)
    corners = [(x, y, z) for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]
    heights = [dot(sub(corner, across.origin), across.z) for corner in corners]
    if min(heights) > -LEAST_MM or max(heights) < LEAST_MM:
        raise StepError("The plane does not go through the part, so there is nothing to divide.")
    # a block that takes all of one side away, however the solid lies to the frame's origin
    reach = 2 * max(length(sub(corner, across.origin)) for corner in corners) + 1.0
    face = BRepBuilderAPI_MakeFace(plane(across), -reach, reach, -reach, reach).Face()
    block = BRepPrimAPI_MakePrism(face, vector(scale(across.z, -reach if over else reach))).Shape()
    names = [(f"{step}/beyond.{k}",) for k in range(1, 7)]
    tool = NamedSolid(block, names)
    flat = [k for k, f in enumerate(tool.faces) if f.IsSame(face)]
    if flat:
        names[flat[0]] = (f"{step}/divide",)
        tool = NamedSolid(block, names)
    return cut(solid, [tool], step)
