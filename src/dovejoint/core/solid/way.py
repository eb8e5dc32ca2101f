"""Whether one part can be moved straight out of another: rays from what leads the way."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from .frame import Vec3, scale
from .mesh import Mesh
from .named import NamedSolid
from .probe import Rays

__all__ = ["met_on_the_way"]

Array = NDArray[np.float64]
#: places of a leading face are no farther apart than this, mm, as far as MOST_PLACES go
APART_MM, MOST_PLACES = 3.0, 1_500
#: a face leads where its normal points along the way by more than this cosine
LEADS = 0.05
#: faces that lie on each other within this stand in each other's way, mm; beyond FAR_MM nothing is looked for
TOUCH_MM, FAR_MM = 0.02, 2_000.0


def met_on_the_way(moving: tuple[NamedSolid, Mesh], other: tuple[NamedSolid, Mesh], way: Vec3) -> tuple[float, Vec3] | None:  # fmt: skip
    """How far a part goes along a way (a unit vector) until it meets the other, mm, and the place on what stands in its way; ``None`` where nothing does.

    From places all over the faces of the one that lead, and of the other that look against it: what lies between them is not looked at, so that something thinner
    than APART_MM may be overlooked.
    """
    nearest: tuple[float, Vec3] | None = None
    for (solid, _), (_, mesh), along, own in ((other, moving, way, False), (moving, other, scale(way, -1.0), True)):
        rays = Rays(solid)
        for place in _leading(mesh, along):
            at: Vec3 = (float(place[0]), float(place[1]), float(place[2]))
            hit = next((d for d, enters in rays.hits(at, along, -TOUCH_MM, FAR_MM) if enters), None)
            if hit is not None and (nearest is None or hit < nearest[0]):
                met = (at[0] + along[0] * hit, at[1] + along[1] * hit, at[2] + along[2] * hit)
                # what is met is a place of the one that does not move
                nearest = max(hit, 0.0), at if own else met
    return nearest


def _leading(mesh: Mesh, along: Vec3) -> Array:
    """Places over a mesh's triangles that look along a way, (n, 3)."""
    corners = mesh.positions[mesh.triangles]
    across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    size = np.linalg.norm(across, axis=1)
    ahead = across @ np.array(along) > LEADS * np.maximum(size, 1e-12)
    leading = corners[ahead & (size > 1e-9)]
    longest = np.linalg.norm(leading - np.roll(leading, -1, axis=1), axis=2).max(axis=1)
    # of small ones their middles are enough
    out = [leading[longest <= APART_MM].mean(axis=1)]
    for t, side in zip(leading[longest > APART_MM], longest[longest > APART_MM], strict=True):
        n = min(12, math.ceil(float(side) / APART_MM))
        along_side = (np.arange(n) + 1 / 3) / n
        grid = np.array([(u, v) for u in along_side for v in along_side if u + v < 1.0 - 1e-9])
        out.append(t[0] + grid @ np.array([t[1] - t[0], t[2] - t[0]]))
    places = np.concatenate(out)
    return places[:: max(1, math.ceil(len(places) / MOST_PLACES))]
