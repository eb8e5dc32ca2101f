"""What readings teach of a printer: printed = a · drawn + b, with how sure that is.

Ordinary least squares of measured against drawn sizes of one kind (outside, inside; X, Y or Z: never pooled). The t
intervals and the prediction interval are those of the textbooks (e.g. Draper & Smith, *Applied Regression Analysis*, ch. 1):

    a = Sxy/Sxx    b = ȳ − a·x̄    s² = SSE/(n − 2)
    se(a) = s/√Sxx    se(b) = s·√(1/n + x̄²/Sxx)
    one future part of size x₀:  a·x₀ + b ± t(0.975, n − 2) · s · √(1 + 1/n + (x₀ − x̄)²/Sxx)

All readings of one print share that print's drift. Where prints are told apart, y = a·x + b + uₖ + e with uₖ ~ N(0, σᵤ²) for print k: the ratio of both
variances by restricted maximum likelihood, a and b by generalised least squares (Pinheiro and Bates, *Mixed-Effects Models*, ch. 2), and the
degrees of freedom of a future print's interval after Satterthwaite (1946). With one print alone σᵤ cannot be known: what is told then is
an interval for further features of that print, and says so. Readings of one feature are taken together as one, their mean.

A reading rounded to steps of r adds r²/12 to the scatter that is seen; it is part of ``s`` and told beside it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..errors import DoveError

__all__ = ["Calibration", "calibrate"]

#: fewer sizes than this give no slope, and fewer readings no scatter
LEAST_SIZES, LEAST_READINGS = 2, 3
#: sizes whose largest is less than this many times the smallest do not carry a line far
NARROW = 3.0
#: of fewer readings than this none is left out
MANY = 8
#: how often a reading would be named, and left out, among readings that have nothing wrong: what stands apart only a little belongs to
#: the tails that readings have, and without it intervals are told too narrow (with one in twenty left out, they held in 92 of 100)
NAMED, LEFT_OUT = 0.05, 1e-5
#: no printer's sizes rise by more or less than this share with what is drawn
STEEPEST = 0.03
Array = NDArray[np.float64]


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
    #: how many prints the readings are of; how far prints lie apart (standard deviation, mm), and what goes with it
    prints: int = 1
    between_mm: float = 0.0
    one_dof: float = 0.0
    covariance: tuple[float, float, float] = (0.0, 0.0, 0.0)

    @property
    def covers(self) -> str:
        """What an interval of one future size is about: ``one future print``, or only ``this print``."""
        return "one future print" if self.prints > 1 else "this print"

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
        """Half the 95 % interval of the mean: of many prints, or of many features of this one."""
        return self.t * math.sqrt(self._mean_variance(drawn_mm))

    def half_of_one_mm(self, drawn_mm: float) -> float:
        """Half the 95 % interval of one future size (of a future print, or with one print alone of this one)."""
        from scipy.special import stdtrit

        t = float(stdtrit(self.one_dof, 0.975)) if self.one_dof else self.t
        return t * math.sqrt(self.s_mm**2 + self.between_mm**2 + self._mean_variance(drawn_mm))

    def _mean_variance(self, drawn_mm: float) -> float:
        offset, both, slope = self.covariance
        return offset + 2 * drawn_mm * both + drawn_mm**2 * slope


def calibrate(
    drawn_mm: Sequence[float],
    measured_mm: Sequence[float],
    resolution_mm: float = 0.0,
    prints: Sequence[str] | None = None,
    features: Sequence[str] | None = None,
    leave_out: bool = False,
) -> Calibration:
    """Fit the line.

    Parameters
    ----------
    prints, features : for each reading which print it is of, and which feature of that (where known).
    leave_out : leave out what stands so far apart that it cannot belong to the others, where these are many; it is named all the same.

    Raises
    ------
    DoveError : the lists do not match, a figure is no figure, or there are too few of them for what is asked.
    """
    if len(drawn_mm) != len(measured_mm):
        raise DoveError(
            f"There are {len(drawn_mm)} drawn sizes and {len(measured_mm)} readings; each reading needs its size."
        )
    if any(names is not None and len(names) != len(drawn_mm) for names in (prints, features)):
        raise DoveError("Each reading needs its print and its feature, or none of them.")
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
    of = np.array([str(p) for p in prints]) if prints is not None else np.full(len(x), "")
    outliers = _outliers(x, y, NAMED)
    notes = [
        f"Reading {i + 1} ({measured_mm[i]:g} for {drawn_mm[i]:g}) stands apart from the others; measure it again."
        for i in outliers
    ]
    notes.extend(_odd(x, y, sizes))
    gone = _outliers(x, y, LEFT_OUT) if leave_out and len(x) >= MANY else ()
    kept = np.array([i not in gone for i in range(len(x))])
    x, y, of = x[kept], y[kept], of[kept]
    if features is not None:
        x, y, of = _together(x, y, of, [f for f, k in zip(features, kept, strict=True) if k])
    if len(x) < LEAST_READINGS or len(set(x)) < LEAST_SIZES:
        raise DoveError("Fewer than three features were read; reading one again says nothing of the others.")
    count = len(set(of))
    if count < 2 and len(x) >= LEAST_READINGS:
        notes.append("All readings are of one print: the next one may lie off it as a whole. Measure a second print.")
    return _fitted(x, y, of, sizes, float(resolution_mm), tuple(notes), outliers)


def _together(x: Array, y: Array, of: NDArray[Any], features: Sequence[str]) -> tuple[Array, Array, NDArray[Any]]:
    """One size for each feature of each print: the mean of its readings."""
    groups: dict[tuple[str, str], list[int]] = {}
    for k, key in enumerate(zip(of, features, strict=True)):
        groups.setdefault((str(key[0]), key[1]), []).append(k)
    rows = list(groups.values())
    first = [r[0] for r in rows]
    return x[first], np.array([y[r].mean() for r in rows]), of[first]


def _fitted(
    x: Array,
    y: Array,
    of: NDArray[Any],
    sizes: int,
    resolution: float,
    notes: tuple[str, ...],
    outliers: tuple[int, ...],
) -> Calibration:
    from scipy.special import stdtrit

    n, names = len(x), sorted(set(of))
    design = np.column_stack([np.ones(n), x])
    block = np.array([[a == b for b in of] for a in of], dtype=float)
    ratios = [0.0] if len(names) < 2 else [0.0, *np.geomspace(0.02, 100, 60)]
    best: tuple[float, float, Any, Any, float] | None = None
    for ratio in ratios:
        inverse = np.linalg.inv(np.eye(n) + ratio * block)
        inner = design.T @ inverse @ design
        solved = np.linalg.solve(inner, design.T @ inverse @ y)
        off = y - design @ solved
        s2 = float(off @ inverse @ off) / (n - 2)
        likelihood = -0.5 * (
            (n - 2) * math.log(max(s2, 1e-18)) - np.linalg.slogdet(inverse)[1] + np.linalg.slogdet(inner)[1]
        )
        if best is None or likelihood > best[0]:
            best = float(likelihood), float(ratio), solved, np.linalg.inv(inner), s2
    assert best is not None
    _, ratio, (b, a), inner, s2 = best
    covariance = s2 * inner
    between = ratio * s2
    dof, one_dof = n - 2, 0.0
    if len(names) > 1:
        # what prints lie apart has as many degrees of freedom as there are prints, less one; what features do has the others
        share = between * (1 + 1 / len(names))
        rest = s2 * (1 + 1 / n)
        one_dof = max(1.0, (share + rest) ** 2 / (share**2 / (len(names) - 1) + rest**2 / max(n - len(names) - 1, 1)))
    mean = float(x.mean())
    return Calibration(
        a=float(a), b_mm=float(b), s_mm=math.sqrt(s2), dof=dof, se_a=math.sqrt(covariance[1, 1]), se_b_mm=math.sqrt(covariance[0, 0]),
        t=float(stdtrit(dof if not between else max(1.0, min(dof, one_dof)), 0.975)), mean_mm=mean,
        sxx_mm2=float(((x - mean) ** 2).sum()), readings=n, sizes=sizes, resolution_mm=resolution, notes=notes, outliers=outliers,
        prints=len(names), between_mm=math.sqrt(between), one_dof=one_dof,
        covariance=(float(covariance[0, 0]), float(covariance[0, 1]), float(covariance[1, 1])),
    )  # fmt: skip


def _odd(x: Array, y: Array, sizes: int) -> list[str]:
    """What is odd with readings as a whole, in sentences."""
    notes = []
    if x.max() < NARROW * x.min():
        notes.append(f"The sizes reach only from {x.min():g} to {x.max():g} mm; the line says little beyond them.")
    slope, turned = np.polyfit(x, y, 1)[0], np.polyfit(x, y[::-1], 1)[0] if len(x) > 3 else 0.0
    if abs(slope - 1) > STEEPEST:
        if abs(turned - 1) < STEEPEST:
            notes.append("The readings look as if they were written down in the opposite order to the sizes.")
        elif abs(slope * 25.4 - 1) < STEEPEST:
            notes.append("The readings look like inches; they should be millimetres.")
        else:
            notes.append(
                f"The line rises by {slope:.3f} for each millimetre drawn, as no printer does; look at sizes and readings again."
            )
    return notes


def _outliers(x: Array, y: Array, wrongly: float) -> tuple[int, ...]:
    """Readings whose externally studentised residual is beyond the limit that this share of faultless sets would pass, by Bonferroni (Draper & Smith, ch. 8)."""
    from scipy.special import stdtrit

    n = len(x)
    if n < 5:
        return ()
    sxx = float(((x - x.mean()) ** 2).sum())
    residuals = y - np.polyval(np.polyfit(x, y, 1), x)
    # a reading that alone bears the slope lies on its line, and is none
    free = np.maximum(1 - 1 / n - (x - x.mean()) ** 2 / sxx, 1e-12)
    left = (residuals**2).sum() - residuals**2 / free
    spread = np.sqrt(np.maximum(left / (n - 3), 1e-18) * free)
    limit = float(stdtrit(n - 3, 1 - wrongly / (2 * n)))
    return tuple(int(i) for i in np.flatnonzero(np.abs(residuals) / spread > limit))
