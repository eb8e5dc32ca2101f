"""Chains of dimensions and their scatter: worst case, by squares, shares out of limits. Lengths mm; shares 0 to 1."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtr

__all__ = ["Chain", "uniform_below"]


@dataclass(frozen=True)
class Chain:
    """A gap and what moves it: (sensitivity, tolerance ±) of each dimension, a tolerance being 3·Cp standard deviations."""

    gap_mm: float
    terms: Sequence[tuple[float, float]]
    cp: float = 1.0

    @property
    def worst_mm(self) -> tuple[float, float]:
        reach = sum(abs(s) * t for s, t in self.terms)
        return self.gap_mm - reach, self.gap_mm + reach

    @property
    def squares_mm(self) -> float:
        return math.sqrt(sum((s * t) ** 2 for s, t in self.terms))

    @property
    def sigma_mm(self) -> float:
        return self.squares_mm / (3 * self.cp)

    def below(self, limit_mm: float) -> float:
        return float(ndtr((limit_mm - self.gap_mm) / self.sigma_mm))

    def above(self, limit_mm: float) -> float:
        return float(ndtr((self.gap_mm - limit_mm) / self.sigma_mm))


def uniform_below(gap_mm: float, tolerances_mm: Sequence[float], limit_mm: float) -> float:
    """The share under a limit when each dimension lies anywhere within ± its tolerance alike: their sum by convolution on a fine grid (by the inclusion and
    exclusion of corners, which is exact: Σ ±(x + Σ ±t)ⁿ₊/(n!·∏2t))."""
    n = len(tolerances_mm)
    x = limit_mm - gap_mm
    signs = np.array(np.meshgrid(*([[-1.0, 1.0]] * n))).reshape(n, -1)
    tol = np.array(tolerances_mm)
    # a corner counts positive when an even number of dimensions stand at their upper end
    reach = np.maximum(x - signs.T @ tol, 0.0) ** n
    total = float((np.prod(-signs, axis=0) * reach).sum())
    return min(1.0, max(0.0, total / (math.factorial(n) * float(np.prod(2 * tol)))))
