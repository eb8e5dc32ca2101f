"""Readings that are hard to believe: what a printer could hardly have made, and what was perhaps meant."""

from __future__ import annotations

import math

from ..document import Profile
from .belief import belief_of, size_row
from .deviation import flare_left_mm
from .learn import HAND_MM, SizeReading

__all__ = ["doubt"]

#: beyond so many standard deviations, and so many millimetres, a reading is asked about
FAR_SD, FAR_MM = 6.0, 0.3
#: what is meant must lie within so many standard deviations, mm at least
MEANT_SD, MEANT_MM = 4.0, 0.15


def doubt(profile: Profile, reading: SizeReading) -> str:
    """A sentence that asks about a reading which the printer could hardly have made, relative to what is known of it; else nothing."""
    off, known = belief_of(profile).of(size_row(reading.role, reading.direction, reading.drawn_mm, reading.round_hole))
    if reading.foot:
        left, unsure = flare_left_mm(profile, [reading.chamfer_mm])
        off, known = off + 2 * left, math.hypot(known, 2 * unsure)
    scatter = 2 * math.hypot(profile.common_mm, profile.random_mm)
    sd = math.hypot(known, scatter, reading.resolution_mm, HAND_MM)
    expected, read = reading.drawn_mm + off, reading.measured_mm
    if abs(read - expected) <= max(FAR_SD * sd, FAR_MM):
        return ""
    says = f"{read:.4g} mm is {abs(read - reading.drawn_mm):.3g} mm off the {reading.drawn_mm:.4g} that were drawn"
    near = max(MEANT_SD * sd, MEANT_MM)
    if abs(read * 25.4 - expected) < max(near, 0.3):
        return f"{says}; is it in inches? Then write “{read:.4g} in”."
    meant = min(_slips(read), key=lambda m: abs(m - expected), default=math.inf)
    if abs(meant - expected) < near:
        return f"{says}; did you mean {meant:.4g}?"
    return f"{says}; is it another feature?"


def _slips(read: float) -> list[float]:
    """What a slip of the pen makes of a figure: one digit off by one, two digits swapped, the point one place off."""
    text = f"{read:.2f}"
    digits = [k for k, c in enumerate(text) if c.isdigit()]
    out = [read * 10, read / 10]
    for k in digits:
        for other in (int(text[k]) - 1, int(text[k]) + 1):
            if 0 <= other <= 9:
                out.append(float(f"{text[:k]}{other}{text[k + 1 :]}"))
    for i, j in zip(digits, digits[1:], strict=False):
        swapped = list(text)
        swapped[i], swapped[j] = swapped[j], swapped[i]
        out.append(float("".join(swapped)))
    return out
