"""What a material is believed to bear, once joints were loaded: pieces that broke or did not, against how near its usual limit each was.

The share of the usual limit that a machine's prints bear is one figure, unsure within the material's own range (triangular), and somewhat beyond it. Every trial tells of it: one that broke
at a load bears less, give or take what its load was not known exactly, and one in so many is said wrongly.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr, ndtri

from ..calculators.materials import Range

__all__ = ["bears_now", "borne_of", "shares_of"]

Array = NDArray[np.float64]
#: PRACTICE: how unsure the load of one trial is (its logarithm), and how many are said wrongly
LOAD_SHARP, MISSAID = 0.2, 0.02
#: PRACTICE: hand-book ranges are of good pieces; machines and spools spread what their prints bear by so much besides (of its logarithm)
PRINTED_SPREAD = 0.14
_POINTS = 400


def shares_of(between: Range, quantiles: Array) -> Array:
    """Where these quantiles of a triangular law between low, usual and high lie."""
    low, usual, high = between
    if high - low < 1e-12:
        return np.full(len(quantiles), usual)
    knee = (usual - low) / (high - low)
    return np.where(
        quantiles < knee,
        low + np.sqrt(quantiles * (high - low) * (usual - low)),
        high - np.sqrt((1 - quantiles) * (high - low) * (high - usual)),
    )


def borne_of(between: Range, quantiles: Array, borne: Sequence[tuple[float, bool]] = ()) -> Array:
    """Where these quantiles of what prints bear lie: that of the material, how printing spreads it besides, and what trials leave of that. ``borne`` has loads
    as shares of the usual limit, and whether the piece broke."""
    values = _printed(between)
    weights = np.ones(len(values))
    for load, broke in borne:
        breaks = ndtr(np.log(max(load, 1e-6) * between[1] / values) / LOAD_SHARP)
        weights = weights * ((1 - 2 * MISSAID) * (breaks if broke else 1 - breaks) + MISSAID)
        weights /= weights.sum()
    summed = np.cumsum(weights)
    return np.asarray(np.interp(quantiles, (summed - weights / 2) / summed[-1], values))


@lru_cache(maxsize=16)
def _printed(between: Range) -> Array:
    """What prints of a material bear, in rising order, each as likely as the other."""
    even = (np.arange(_POINTS) + 0.5) / _POINTS
    each = np.sort(np.outer(shares_of(between, even), np.exp(PRINTED_SPREAD * ndtri(even[::8]))).ravel())
    per = len(each) // _POINTS
    return np.asarray(each.reshape(_POINTS, per).mean(axis=1))


def bears_now(between: Range, borne: Sequence[tuple[float, bool]]) -> tuple[float, float]:
    """Mean and standard deviation of what is borne, as shares of the usual."""
    values = borne_of(between, (np.arange(_POINTS) + 0.5) / _POINTS, borne) / between[1]
    return float(values.mean()), float(values.std())
