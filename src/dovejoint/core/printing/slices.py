"""Layers: true slices of a part's mesh as it lies on the bed."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection, Manifold
from numpy.typing import NDArray

from .. import solid as kernel
from ..document import PrintSettings
from ..errors import StepError
from ..recipe.lying import Lie

__all__ = ["SMOOTH_MM", "Laid", "lay", "layer_count", "layer_heights", "slices"]

#: chord error of the mesh that is sliced, mm
CHORD_MM = 0.02
#: crumbs of outlines below this are smoothed away, mm: a fifth of that
SMOOTH_MM = 0.004


@dataclass(frozen=True, eq=False)
class Laid:
    """A part's mesh as it lies: ``positions`` (n, 3) in print coordinates, mm, standing on z = 0 about the origin's middle; ``from_mm`` is where in
    the model, turned so, that origin is. ``faces`` holds ``(first triangle, count)`` for each face of the solid."""

    positions: NDArray[np.float64]
    triangles: NDArray[np.uint32]
    from_mm: tuple[float, float, float] = (0.0, 0.0, 0.0)
    faces: Sequence[tuple[int, int]] = ()

    @property
    def size_mm(self) -> tuple[float, float, float]:
        x, y, z = (self.positions.max(axis=0) - self.positions.min(axis=0)).tolist()
        return x, y, z


def lay(solid: kernel.NamedSolid, lie: Lie, chord_mm: float = CHORD_MM) -> Laid:
    """A part's mesh turned as it lies, its lowest point on the bed and its box's middle over the origin."""
    mesh = kernel.tessellate(solid, chord_mm, 0.15)
    turned = mesh.positions @ np.array([lie.x, lie.y, lie.z]).T
    low, high = turned.min(axis=0), turned.max(axis=0)
    at = np.array([(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2]])
    return Laid(turned - at, mesh.triangles, (float(at[0]), float(at[1]), float(at[2])), mesh.faces)


def welded(laid: Laid) -> Manifold:
    """The mesh with its seams closed, as a solid to slice. Raises StepError when it is not closed."""
    solid = kernel.mesh_body(laid.positions, laid.triangles)
    if solid.is_empty():
        raise StepError("The part's mesh is not closed, so it cannot be cut into layers.")
    return solid


def layer_count(height_mm: float, settings: PrintSettings) -> int:
    """1 + (H − first)/layer, rounded up; exact multiples are not taken for one more by the dust of single-precision meshes."""
    if height_mm <= settings.first_layer_mm:
        return 1
    return 1 + math.ceil((height_mm - settings.first_layer_mm) / settings.layer_mm - 1e-3)


def layer_heights(height_mm: float, settings: PrintSettings) -> list[tuple[float, float]]:
    """For each layer its mid-height and its thickness, mm. The last one's is put back into the part when it stands over it."""
    out = []
    bottom = 0.0
    for k in range(layer_count(height_mm, settings)):
        thick = settings.first_layer_mm if k == 0 else settings.layer_mm
        out.append((min(bottom + thick / 2, height_mm - 1e-3), thick))
        bottom += thick
    return out


def slices(laid: Laid, settings: PrintSettings) -> list[tuple[CrossSection, float]]:
    """For each layer its cross-section and its thickness, from the bed up."""
    solid = welded(laid)
    return [(solid.slice(z).simplify(SMOOTH_MM), thick) for z, thick in layer_heights(laid.size_mm[2], settings)]
