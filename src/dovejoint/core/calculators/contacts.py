"""Where a round core touches a ring that it opens, and how hard it pushes there: it never pulls."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import nnls

__all__ = ["pushes_at"]

Array = NDArray[np.float64]
#: what holds the ring where it is while its contacts are found, as a share of its own stiffness
_HELD = 1e-4


def pushes_at(places_rad: NDArray[np.floating[Any]], rows: NDArray[np.floating[Any]]) -> Array:
    """Pushes outwards at ``places_rad`` (n,) that move what is touched outwards by 1 at least.

    ``rows`` (m, n) is a root of the ring's compliance C = rowsᵀ·rows. The pushes are the least of ½·pᵀ·C·p − Σp over p ≥ 0 (complementarity as a quadratic programme, by non-negative
    least squares).
    """
    count = len(places_rad)
    # the whole ring may shift: two soft springs that hold it stand for that
    ways = np.array([np.cos(places_rad), np.sin(places_rad)])
    scale = float(np.linalg.norm(rows)) / count
    held = np.vstack([rows, ways * (scale / math.sqrt(_HELD))])
    target = np.linalg.lstsq(held.T, np.ones(count), rcond=None)[0]
    pushes, _ = nnls(held, target, maxiter=100 * count)
    return np.asarray(pushes)
