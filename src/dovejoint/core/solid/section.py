"""A part cut by a plane, as closed outlines within a window."""

from __future__ import annotations

import numpy as np
from manifold3d import CrossSection
from numpy.typing import NDArray

from ..errors import StepError
from .frame import Frame
from .mesh import tessellate
from .mesh_bodies import mesh_body
from .named import NamedSolid
from .outline import Vec2

__all__ = ["Cut"]

#: chord error of the mesh that is cut, mm, and the largest turn between its triangles, rad
CHORD_MM, TURN_RAD = 0.008, 0.12
#: the plane is cut a hair aside, so that it meets no corner, mm
ASIDE_MM = 0.0013
Loop = NDArray[np.float64]


class Cut:
    """A part cut by a frame's plane, once for all windows."""

    def __init__(self, solid: NamedSolid, frame: Frame) -> None:
        mesh = tessellate(solid, CHORD_MM, TURN_RAD)
        axes = np.array([frame.x, frame.y, frame.z])
        local = (mesh.positions - np.array(frame.origin)) @ axes.T
        body = mesh_body(local, mesh.triangles)
        if body.is_empty():
            raise StepError("The part's mesh is not closed, so it cannot be cut.")
        self._section: CrossSection = body.slice(ASIDE_MM)

    def within(self, middle: Vec2, half_mm: Vec2) -> list[Loop]:
        """Its outlines (k, 2) in a window, by its middle and half sizes along ``x`` and ``y``; filled by the even-odd rule."""
        (u, v), (wide, high) = middle, half_mm
        window = CrossSection.square((2 * wide, 2 * high), True).translate((u, v))
        return [np.asarray(p, dtype=np.float64) for p in (self._section ^ window).to_polygons()]
