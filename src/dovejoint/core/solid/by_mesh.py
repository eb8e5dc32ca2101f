"""A second opinion on solids with free surfaces: their triangles. The kernel calls some of them sound that are not, and weighs some wrongly."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from .mesh import EXACT_KINDS, SCREEN_CHORD_MM, tessellate
from .named import NamedSolid

__all__ = ["leaves_gaps", "unlike_mesh"]

#: corners nearer to each other than this are one, mm
SAME_MM = 1e-4


def unlike_mesh(solid: NamedSolid) -> str | None:
    """What is wrong with a solid by its triangles: they leave edges open, or enclose another volume than the kernel says (by the divergence
    theorem). Solids of planes, cylinders, cones, spheres and rings are the kernel's to judge."""
    if all(kind in EXACT_KINDS for kind in solid.kinds):
        return None
    mesh = tessellate(solid)
    positions, triangles = mesh.positions, mesh.triangles.reshape(-1, 3)
    a, b, c = (positions[triangles[:, k]] for k in range(3))
    enclosed = float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)
    bent = sum(area for area, kind in zip(solid.areas_mm2, solid.kinds, strict=True) if kind != "plane")
    # chords cut off no more than their sag over all that is bent
    if abs(enclosed - solid.volume_mm3) > SCREEN_CHORD_MM * bent + 0.002 * solid.volume_mm3:
        return "its volume is not what its faces enclose"
    return "its faces leave gaps" if leaves_gaps(positions, triangles) else None


def leaves_gaps(positions: NDArray[np.float64], triangles: NDArray[np.integer[Any]]) -> bool:
    """Whether a mesh ((n, 3) in mm, (m, 3) indices) has edges that do not lie between two triangles, once corners that fall together are one."""
    _, same = np.unique(np.round(positions / SAME_MM).astype(np.int64), axis=0, return_inverse=True)
    corners = same.reshape(-1)[triangles]
    whole = (corners[:, 0] != corners[:, 1]) & (corners[:, 1] != corners[:, 2]) & (corners[:, 2] != corners[:, 0])
    corners = corners[whole]
    runs = np.concatenate([corners[:, [0, 1]], corners[:, [1, 2]], corners[:, [2, 0]]]).astype(np.int64)
    count = int(positions.shape[0])
    there, back = runs[:, 0] * count + runs[:, 1], runs[:, 1] * count + runs[:, 0]
    return not np.array_equal(np.sort(there), np.sort(back))
