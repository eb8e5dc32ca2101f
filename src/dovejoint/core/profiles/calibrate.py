"""What readings teach of a printer: printed = a · drawn + b, with how sure that is.

Ordinary least squares of measured against drawn sizes of one kind (outside, inside; X, Y or Z: never pooled). The t
intervals and the prediction interval are those of the textbooks (e.g. Draper & Smith, *Applied Regression Analysis*, ch. 1):

    a = Sxy/Sxx    b = ȳ − a·x̄    s² = SSE/(n − 2)
    se(a) = s/√Sxx    se(b) = s·√(1/n + x̄²/Sxx)
    one future part of size x₀:  a·x₀ + b ± t(0.975, n − 2) · s · √(1 + 1/n + (x₀ − x̄)²/Sxx)

A reading rounded to steps of r adds r²/12 to the scatter that is seen; it is part of ``s`` and told beside it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..errors import DoveError

__all__ = ["Calibration", "calibrate"]

#: fewer sizes than this give no slope, and fewer readings no scatter
LEAST_SIZES, LEAST_READINGS = 2, 3
#: sizes whose largest is less than this many times the smallest do not carry a line far
NARROW = 3.0


@dataclass(frozen=True)
class Calibration:
    """The line through readings of one kind. Sizes in mm, 95 % intervals."""

    a: float
    b_mm: float
    s_mm: float
    dof: int
    se_a: float
    se_b_mm: float
    t: float
    mean_mm: float
    sxx_mm2: float
    readings: int
    sizes: int
    resolution_mm: float
    #: sentences about what is odd with the readings, and the places (0-based) of those that stand apart
    notes: tuple[str, ...] = ()
    outliers: tuple[int, ...] = ()

    @property
    def interval_a(self) -> tuple[float, float]:
        return self.a - self.t * self.se_a, self.a + self.t * self.se_a

    @property
    def interval_b_mm(self) -> tuple[float, float]:
        return self.b_mm - self.t * self.se_b_mm, self.b_mm + self.t * self.se_b_mm

    @property
    def rounding_mm(self) -> float:
        """Standard deviation that rounding the readings adds by itself: r/√12."""
        return self.resolution_mm / math.sqrt(12)

    def expected_mm(self, drawn_mm: float) -> float:
        return self.a * drawn_mm + self.b_mm

    def to_draw_mm(self, wanted_mm: float) -> float:
        """The size to model so that the print comes out as wanted: (wanted − b)/a."""
        return (wanted_mm - self.b_mm) / self.a

    def half_of_mean_mm(self, drawn_mm: float) -> float:
        """Half the 95 % interval of the mean of many prints."""
        return self.t * self.s_mm * math.sqrt(1 / self.readings + (drawn_mm - self.mean_mm) ** 2 / self.sxx_mm2)

    def half_of_one_mm(self, drawn_mm: float) -> float:
        """Half the 95 % interval of one future print."""
        spread = 1 + 1 / self.readings + (drawn_mm - self.mean_mm) ** 2 / self.sxx_mm2
        return self.t * self.s_mm * math.sqrt(spread)


def calibrate(drawn_mm: Sequence[float], measured_mm: Sequence[float], resolution_mm: float = 0.0) -> Calibration:
    """Fit the line.

    Raises
    ------
    DoveError : the lists do not match, a figure is no figure, or there are too few of them for what is asked.
    """
    from scipy.special import stdtrit

    if len(drawn_mm) != len(measured_mm):
        raise DoveError(
            f"There are {len(drawn_mm)} drawn sizes and {len(measured_mm)} readings; each reading needs its size."
        )
    figures = [*drawn_mm, *measured_mm, resolution_mm]
    if not all(isinstance(f, int | float) and not isinstance(f, bool) and math.isfinite(f) for f in figures):
        raise DoveError("A size or a reading is not a figure.")
    if any(d <= 0 for d in drawn_mm) or resolution_mm < 0:
        raise DoveError("Drawn sizes must be above zero, and the resolution not below.")
    sizes = len(set(drawn_mm))
    if sizes < LEAST_SIZES:
        offset = sum(m - d for d, m in zip(drawn_mm, measured_mm, strict=True)) / max(len(drawn_mm), 1)
        tail = f" Taken as pure offset, the readings lie {offset:+.3f} mm off." if drawn_mm else ""
        raise DoveError(f"One size alone gives no slope; measure five sizes from small to large.{tail}")
    if len(drawn_mm) < LEAST_READINGS:
        raise DoveError("Two readings give a line but no scatter; a third one at least is needed.")
    x, y = np.asarray(drawn_mm, dtype=float), np.asarray(measured_mm, dtype=float)
    n, mean = len(x), float(x.mean())
    sxx = float(((x - mean) ** 2).sum())
    a = float(((x - mean) * (y - y.mean())).sum()) / sxx
    b = float(y.mean()) - a * mean
    dof = n - 2
    residuals = y - a * x - b
    s = math.sqrt(float((residuals**2).sum()) / dof)
    outliers = _outliers(x, residuals, sxx)
    notes = [
        f"Reading {i + 1} ({measured_mm[i]:g} for {drawn_mm[i]:g}) stands apart from the others; measure it again."
        for i in outliers
    ]
    if max(drawn_mm) < NARROW * min(drawn_mm):
        notes.append(
            f"The sizes reach only from {min(drawn_mm):g} to {max(drawn_mm):g} mm; the line says little beyond them."
        )
    return Calibration(
        a=a, b_mm=b, s_mm=s, dof=dof, se_a=s / math.sqrt(sxx), se_b_mm=s * math.sqrt(1 / n + mean**2 / sxx),
        t=float(stdtrit(dof, 0.975)), mean_mm=mean, sxx_mm2=sxx, readings=n, sizes=sizes, resolution_mm=float(resolution_mm),
        notes=tuple(notes), outliers=outliers,
    )  # fmt: skip


def _outliers(x: NDArray[np.float64], residuals: NDArray[np.float64], sxx: float) -> tuple[int, ...]:
    """Readings whose externally studentised residual is beyond the 95 % limit by Bonferroni (Draper & Smith, ch. 8)."""
    from scipy.special import stdtrit

    n = len(x)
    if n < 5:
        return ()
    leverage = 1 / n + (x - x.mean()) ** 2 / sxx
    left = (residuals**2).sum() - residuals**2 / (1 - leverage)
    spread = np.sqrt(np.maximum(left / (n - 3), 1e-18) * (1 - leverage))
    limit = float(stdtrit(n - 3, 1 - 0.05 / (2 * n)))
    return tuple(int(i) for i in np.flatnonzero(np.abs(residuals) / spread > limit))
