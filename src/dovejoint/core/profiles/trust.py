"""How far shown chances can be trusted on one's own machine: a monotone map, learnt from what was shown and what came of it.

    logit p' = α + β · logit p

with α and β normal about 0 and 1 (β by its logarithm) before anything came of anything; their posterior is summed on a grid, and so the map
stays near the plain one until many verdicts speak against that (Platt 1999, with a prior in place of a fit). What is told is
the mean over the posterior, set off against the mean over the prior, so that without verdicts nothing changes.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

__all__ = ["trusted"]

Array = NDArray[np.float64]
#: PRACTICE: how far shown chances may be off on a machine: standard deviation of α, and of the logarithm of β
SHIFT_SD, SLOPE_SD = 0.5, 0.25
#: a chance is never taken for surer than this
_EDGE = 1e-4


def _logit(p: Array | float) -> Array:
    q = np.clip(p, _EDGE, 1 - _EDGE)
    return np.asarray(np.log(q / (1 - q)))


def trusted(shown: float, record: Sequence[tuple[float, bool]]) -> float:
    """The chance that experience leaves of a shown one. ``record`` has what was shown before a verdict, and whether that was *good*."""
    if not record:
        return shown
    alpha, beta, prior, after = _posterior(tuple(record))
    out = 1 / (1 + np.exp(-(alpha + beta * _logit(shown))))
    moved = _logit(shown) + _logit(float(after @ out)) - _logit(float(prior @ out))
    return float(1 / (1 + np.exp(-moved)))


@lru_cache(maxsize=64)
def _posterior(record: tuple[tuple[float, bool], ...]) -> tuple[Array, Array, Array, Array]:
    """The grid of α and β, and its weights before and after the record."""
    z = np.linspace(-3.2, 3.2, 33)
    a, b = np.meshgrid(z, z[::2])
    alpha, beta = (SHIFT_SD * a).ravel(), np.exp(SLOPE_SD * b).ravel()
    prior = np.exp(-(a**2 + b**2) / 2).ravel()
    prior /= prior.sum()
    logs = np.zeros_like(prior)
    for shown, good in record:
        p = 1 / (1 + np.exp(-(alpha + beta * _logit(shown))))
        logs += np.log(p if good else 1 - p)
    after = prior * np.exp(logs - logs.max())
    return alpha, beta, prior, after / after.sum()
