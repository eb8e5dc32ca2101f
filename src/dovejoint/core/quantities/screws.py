"""Metric screws by their standards: clearance holes (ISO 273), heads (ISO 4762, ISO 10642), tapping drills (ISO 2306). mm throughout."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

__all__ = ["SCREWS", "Screw", "ScrewFit", "ScrewSize"]

ScrewSize = Literal["M2", "M2.5", "M3", "M4", "M5", "M6", "M8", "M10", "M12"]
ScrewFit = Literal["fine", "medium", "coarse"]


@dataclass(frozen=True)
class Screw:
    """``clear`` are the clearance holes by ISO 273; ``head`` is the largest diameter of a socket head by ISO 4762 (knurled) and its height;
    ``sunk`` the sharp diameter of a countersunk head by ISO 10642 (90 degrees), where that standard has the size; ``tap`` the drill for a
    thread of coarse pitch by ISO 2306."""

    clear_mm: dict[ScrewFit, float]
    head_mm: float
    head_high_mm: float
    tap_mm: float
    sunk_mm: float | None


def _screw(
    fine: float, medium: float, coarse: float, head: float, high: float, tap: float, sunk: float | None
) -> Screw:
    return Screw({"fine": fine, "medium": medium, "coarse": coarse}, head, high, tap, sunk)


SCREWS: dict[str, Screw] = {
    "M2": _screw(2.2, 2.4, 2.6, 3.98, 2.0, 1.6, None),
    "M2.5": _screw(2.7, 2.9, 3.1, 4.68, 2.5, 2.05, None),
    "M3": _screw(3.2, 3.4, 3.6, 5.68, 3.0, 2.5, 6.72),
    "M4": _screw(4.3, 4.5, 4.8, 7.22, 4.0, 3.3, 8.96),
    "M5": _screw(5.3, 5.5, 5.8, 8.72, 5.0, 4.2, 11.2),
    "M6": _screw(6.4, 6.6, 7.0, 10.22, 6.0, 5.0, 13.44),
    "M8": _screw(8.4, 9.0, 10.0, 13.27, 8.0, 6.8, 17.92),
    "M10": _screw(10.5, 11.0, 12.0, 16.27, 10.0, 8.5, 22.4),
    "M12": _screw(13.0, 13.5, 14.5, 18.27, 12.0, 10.2, 26.88),
}
