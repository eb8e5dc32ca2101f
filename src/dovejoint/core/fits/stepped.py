"""Which gap to draw, after a joint was tried at several."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..document import Profile
from ..profiles import flare_left_mm
from ..profiles.law import even_zones
from ..profiles.learn import Stepped
from .gaps import DRAWN_STEP_MM, Measured, Wanted, chance, expected_of

__all__ = ["best_gap", "chance_at"]


def chance_at(tried: Stepped, profile: Profile, drawn_mm: float) -> float:
    """The chance that the joint goes together and holds at a drawn gap, as far as the gap decides it, by all that a profile knows.

    What flares on the bed is counted: a gap that is drawn for a fit leaves it to a chamfer, and where that is too small the best gap is wider.
    """
    by = drawn_mm - tried.middle_mm
    zones = tried.sides or even_zones(tried.middle_mm, tried.mating)
    sides = tuple(tuple((g + by, x, y) for g, x, y in zone) for zone in zones)
    mating = tried.mating
    if mating.chamfers_mm:
        flare, unsure = flare_left_mm(profile, mating.chamfers_mm)
        mating = replace(mating, flare_mm=flare, flare_unsure_mm=unsure)
    wanted = Wanted(tried.least_mm, (tried.least_mm + tried.most_mm) / 2, tried.most_mm)
    return chance(wanted, expected_of(Measured(drawn_mm, drawn_mm, sides), profile, mating)).fits


def best_gap(tried: Stepped, profile: Profile) -> tuple[float, float]:
    """The drawn gap, mm a side, at which that chance is greatest, and the chance; no farther beyond those tried than they lie apart."""
    low, high = min(tried.drawn_mm), max(tried.drawn_mm)
    apart = (high - low) / max(1, len(tried.drawn_mm) - 1)
    gaps = [round(float(g), 4) for g in np.arange(low - apart, high + apart + DRAWN_STEP_MM / 2, DRAWN_STEP_MM)]
    chances = [chance_at(tried, profile, gap) for gap in gaps]
    # where several are as good, the one in their middle
    best = [gap for gap, share in zip(gaps, chances, strict=True) if share >= max(chances) - 1e-3]
    return best[len(best) // 2], max(chances)
