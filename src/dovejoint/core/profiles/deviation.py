"""What a printer makes of a gap between an outside face and the wall of an opening (model in docs/fits.md)."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..document import Profile

__all__ = ["Scatter", "expected_shift_mm", "gap_scatter"]


@dataclass(frozen=True)
class Scatter:
    """Standard deviations of a gap per side, mm, kept apart: ``common`` is shared by all gaps of a print."""

    common_mm: float
    random_mm: float

    @property
    def total_mm(self) -> float:
        """Common and random parts are independent of each other, so their squares add."""
        return math.hypot(self.common_mm, self.random_mm)


def expected_shift_mm(profile: Profile) -> float:
    """By how much the expected gap per side is less than the drawn one: both faces come out proud."""
    return profile.outside_mm + profile.inside_mm


def gap_scatter(profile: Profile) -> Scatter:
    """Scatter of a gap between two faces printed with one profile.

    The common offset moves both faces the same way out of their material, so it adds up linearly (2·common);
    the random parts of the two faces are independent, so their squares add (√2·random).
    """
    return Scatter(2 * profile.common_mm, math.sqrt(2) * profile.random_mm)
