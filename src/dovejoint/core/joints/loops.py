"""What joints along outlines share: closed loops of points in a plane."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

__all__ = ["from_loop"]

Array = NDArray[np.float64]


def from_loop(points: Array, loop: Array) -> Array:
    """How far points (n, 2) are from the straight pieces of a closed loop (m, 2), mm."""
    way = np.roll(loop, -1, axis=0) - loop
    rel = points[:, None] - loop[None]
    share = np.clip((rel * way).sum(axis=2) / np.maximum((way * way).sum(axis=1), 1e-12), 0.0, 1.0)
    return np.asarray(np.linalg.norm(rel - share[..., None] * way, axis=2).min(axis=1))
