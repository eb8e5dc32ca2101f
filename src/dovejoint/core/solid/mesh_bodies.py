"""Meshes whose corners are joined, as bodies of the mesh library: cut, sliced and compared within milliseconds."""

from __future__ import annotations

import numpy as np
from manifold3d import Manifold
from manifold3d import Mesh as ManifoldMesh
from numpy.typing import NDArray

from .mesh import Mesh

__all__ = ["clearly_apart", "mesh_body"]

#: meshes that keep farther from each other than this are of solids that share no room: three chords, where each surface lies within one of its mesh, mm
CLEAR_MM = 0.1


def mesh_body(positions: NDArray[np.float64], triangles: NDArray[np.uint32]) -> Manifold:
    """A closed mesh, (n, 3) in mm and (m, 3), as a body; an empty one where it is not closed."""
    keys, place = np.unique(np.round(positions, 5), axis=0, return_inverse=True)
    faces = place.reshape(-1)[triangles].astype(np.uint32)
    whole = (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
    return Manifold(ManifoldMesh(keys.astype(np.float32), faces[whole]))


def clearly_apart(first: Mesh, second: Mesh) -> bool:
    """Whether two solids share no room by their meshes on screen, for sure. The kernel needs seconds for that where threads mesh."""
    one, two = mesh_body(first.positions, first.triangles), mesh_body(second.positions, second.triangles)
    if one.is_empty() or two.is_empty():
        return False
    return bool(one.min_gap(two, 2 * CLEAR_MM) > CLEAR_MM and (one ^ two).is_empty())
