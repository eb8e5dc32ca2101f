"""The caliper: reads a true size with its resolution, an unsteady hand, and jaws that have flats."""

from __future__ import annotations

import math
import random
from dataclasses import dataclass

__all__ = ["Caliper"]


@dataclass(frozen=True)
class Caliper:
    """``resolution`` is the step of its display, ``hand`` the scatter of one reading, ``flat`` the width of its inner jaws, mm."""

    resolution: float = 0.02
    hand: float = 0.008
    flat: float = 0.4

    def read(self, true_mm: float, dice: random.Random, *, round_hole: bool = False, seam_mm: float = 0.0) -> float:
        """One reading. In a round hole flat jaws touch along a chord: √(D² − f²). Now and then they sit on a seam."""
        size = true_mm
        if round_hole:
            size = math.sqrt(max(size**2 - self.flat**2, 0.01))
        if seam_mm and dice.random() < 0.1:
            size += seam_mm
        size += dice.gauss(0, self.hand)
        return round(max(self.resolution, round(size / self.resolution) * self.resolution), 4)
