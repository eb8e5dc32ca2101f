"""What joints along outlines share: distances from loops of points in a plane, lips that stand on rims, and the mouths of what takes them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .. import solid as kernel
from ..solid import Frame
from ..solid.frame import scale

__all__ = ["INTO_MM", "LEFT_MM", "RELIEF_MM", "from_loop", "turned_down", "with_mouth"]

Array = NDArray[np.float64]
#: a recess goes this much deeper than its lip, so that the parts meet at their rims
RELIEF_MM = 0.3
#: a lip goes this far into the rim that it stands on, to grow together with it, mm
INTO_MM = 0.2
#: what is left of a wall beside a lip or a recess, mm
LEFT_MM = 0.4


def from_loop(points: Array, loop: Array) -> Array:
    """How far points (n, 2) are from the straight pieces of a closed loop (m, 2), mm."""
    way = np.roll(loop, -1, axis=0) - loop
    rel = points[:, None] - loop[None]
    share = np.clip((rel * way).sum(axis=2) / np.maximum((way * way).sum(axis=1), 1e-12), 0.0, 1.0)
    return np.asarray(np.linalg.norm(rel - share[..., None] * way, axis=2).min(axis=1))


def turned_down(frame: Frame) -> Frame:
    """The frame of a rim as the part on it sees it."""
    return Frame(frame.origin, frame.x, scale(frame.y, -1.0))


def with_mouth(host: kernel.NamedSolid, walls: set[str], frame: Frame, mouth_mm: float, step: str) -> kernel.NamedSolid:
    """Chamfer the edges where what takes a lip comes out at the rim, the plane of a frame."""
    sides = {i for wall in walls for i in host.find(wall)}
    edges = [
        i
        for i, (_, (a, b)) in enumerate(host.edges)
        if (a in sides) != (b in sides) and abs(frame.to_local(kernel.edge_middle(host, i))[2]) < 1e-4
    ]
    return kernel.chamfer(host, edges, mouth_mm, mouth_mm, step) if edges else host
