"""Wanted, drawn, expected and measured gaps: four types, so that none is taken for another.

All are per side in mm. *Wanted* is what the printed pieces should have between them, *drawn* what is modelled
so that they will, *expected* what the printer makes of it. *Measured* is the drawn gap as it is in the solids.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..document import Profile
from ..errors import StepError
from ..profiles import Mating, gap_scatter, gap_shift

__all__ = ["Chance", "Drawn", "Expected", "Measured", "Wanted", "chance", "drawn_for", "expected_of", "verdict"]


@dataclass(frozen=True)
class Wanted:
    least_mm: float
    target_mm: float
    most_mm: float

    def checked(self) -> Wanted:
        """Itself, or an error when least, target and most are not in order."""
        if not self.least_mm <= self.target_mm <= self.most_mm or self.least_mm >= self.most_mm:
            raise StepError(
                f"The wanted gap must rise from least over target to most; {self.least_mm:.4g}, "
                f"{self.target_mm:.4g}, {self.most_mm:.4g} mm do not.",
                field="target",
            )
        return self


@dataclass(frozen=True)
class Drawn:
    gap_mm: float


@dataclass(frozen=True)
class Measured:
    """Least and most drawn gap found on the solids."""

    least_mm: float
    most_mm: float


@dataclass(frozen=True)
class Expected:
    """The printed gap: its centre at the tightest and at the widest place, its scatter from print to print (common and
    random), and how unsure the profile is of the centre; all three are standard deviations."""

    least_mm: float
    most_mm: float
    common_mm: float
    random_mm: float
    unsure_mm: float = 0.0

    @property
    def scatter_mm(self) -> float:
        """How far the next print may lie from the centre: its scatter, and what is not known of the printer."""
        return math.hypot(self.common_mm, self.random_mm, self.unsure_mm)

    @property
    def low_mm(self) -> float:
        """Two standard deviations under the tightest place: 39 of 40 prints are expected to have more."""
        return self.least_mm - 2 * self.scatter_mm

    @property
    def high_mm(self) -> float:
        return self.most_mm + 2 * self.scatter_mm


@dataclass(frozen=True)
class Chance:
    """Shares of prints, 0 to 1: not too tight anywhere, not too loose anywhere, and both at once."""

    goes_in: float
    holds: float
    fits: float


#: drawn gaps are rounded to this, so that what a profile learns in its third decimal reprints nothing, mm
DRAWN_STEP_MM = 0.01


def drawn_for(wanted: Wanted, profile: Profile, mating: Mating | None = None) -> Drawn:
    """The gap to draw: the printer's deviation is taken off here and nowhere else. Flare is not: a chamfer takes it."""
    gap = wanted.target_mm + gap_shift(profile, mating).mean_mm
    return Drawn(round(round(gap / DRAWN_STEP_MM) * DRAWN_STEP_MM, 6))


def expected_of(gap: Drawn | Measured, profile: Profile, mating: Mating | None = None) -> Expected:
    """What a printer makes of a drawn gap, as typed or as measured on the solids.

    Parts that lie differently have different gaps in their different directions, and what flares on the bed takes from
    the tightest place.
    """
    mating = mating or Mating()
    shift, scatter = gap_shift(profile, mating), gap_scatter(profile)
    least, most = (gap.gap_mm, gap.gap_mm) if isinstance(gap, Drawn) else (gap.least_mm, gap.most_mm)
    return Expected(
        least - shift.most_mm - mating.flare_mm,
        most - shift.least_mm,
        scatter.common_mm,
        scatter.random_mm,
        math.hypot(shift.unsure_mm, mating.flare_unsure_mm),
    )


def _normal(z: float) -> float:
    """Distribution function of the normal distribution."""
    return 0.5 * math.erfc(-z / math.sqrt(2))


def chance(wanted: Wanted, expected: Expected) -> Chance:
    """Chances from the normal distribution of the printed gap.

    ``goes_in`` is the chance that the tightest place keeps the least wanted gap, ``holds`` that the widest keeps
    the most; one error moves both places, so both hold for ``e`` between ``least − tightest`` and ``most − widest``.
    """
    low, high = wanted.least_mm - expected.least_mm, wanted.most_mm - expected.most_mm
    s = expected.scatter_mm
    if s <= 0:
        goes_in, holds = float(low <= 0), float(high >= 0)
        return Chance(goes_in, holds, goes_in * holds)
    goes_in, holds = 1 - _normal(low / s), _normal(high / s)
    return Chance(goes_in, holds, max(0.0, _normal(high / s) - _normal(low / s)))


def verdict(chance: Chance) -> tuple[str, str]:
    """A state (well, doubtful, wrong) and what it means in words.

    Well from 95 of 100 prints on, doubtful from 60, wrong below.
    """
    state = "well" if chance.fits >= 0.95 else "doubtful" if chance.fits >= 0.6 else "wrong"
    tight, loose = 1 - chance.goes_in, 1 - chance.holds
    if state == "well" or (state == "doubtful" and abs(tight - loose) < 0.02):
        return state, f"fits in {_of_hundred(chance.fits)} of 100"
    if tight >= loose:
        return state, f"too tight in {_of_hundred(tight)} of 100"
    return state, f"too loose in {_of_hundred(loose)} of 100"


def _of_hundred(share: float) -> int:
    return round(100 * share)
