"""Readings of one kind as a line: points, the least-squares line with its intervals, and the band of the next print.

Outside and inside faces, and the three directions, are never pooled here (their pooled line would be worthless). Where too
few readings are there for a line, the band is what the profile believes, which starts from a stated prior.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ..document import Profile
from ..errors import DoveError
from .belief import belief_of, size_row
from .calibrate import Calibration, calibrate
from .learn import SizeReading

__all__ = ["Line", "lines_of"]

_WAYS = {"x": (1.0, 0.0, 0.0), "y": (0.0, 1.0, 0.0), "z": (0.0, 0.0, 1.0)}
_WORDS = {"x": "across the bed", "y": "deep on the bed", "z": "upright"}


@dataclass(frozen=True)
class Line:
    """``points`` are (drawn, measured − drawn, print); ``believed`` (drawn, deviation, two standard deviations of one print)."""

    key: str
    title: str
    points: tuple[tuple[float, float, str], ...]
    fit: Calibration | None
    why_no_fit: str
    believed: tuple[tuple[float, float, float], ...]

    def as_dict(self) -> dict[str, Any]:
        fit = self.fit
        sizes = [b[0] for b in self.believed]
        return {
            "key": self.key,
            "title": self.title,
            "points": [{"drawn": d, "off": o, "print": p} for d, o, p in self.points],
            "why_no_fit": self.why_no_fit,
            "believed": [{"drawn": d, "off": o, "half": h} for d, o, h in self.believed],
            "fit": None
            if fit is None
            else {
                "a": fit.a, "b": fit.b_mm, "s": fit.s_mm, "se_a": fit.se_a, "se_b": fit.se_b_mm, "dof": fit.dof, "t": fit.t,
                "ci_a": list(fit.interval_a), "ci_b": list(fit.interval_b_mm), "notes": list(fit.notes),
                "outliers": list(fit.outliers), "covers": fit.covers, "prints": fit.prints,
                "band": [{"drawn": d, "off": fit.expected_mm(d) - d, "half": fit.half_of_one_mm(d)} for d in sizes],
            },
        }  # fmt: skip


def _way(reading: SizeReading) -> str:
    return max(_WAYS, key=lambda w: abs(reading.direction["xyz".index(w)]))


def lines_of(profile: Profile, readings: Sequence[SizeReading]) -> list[Line]:
    """All kinds of which there are readings, in a fixed order."""
    groups: dict[tuple[str, bool, str], list[SizeReading]] = {}
    for reading in (r for r in readings if not r.foot):
        way = "xy" if reading.round_hole else _way(reading)
        groups.setdefault((reading.role, reading.round_hole, way), []).append(reading)
    order = (
        [("outside", False, w) for w in "xyz"]
        + [("inside", False, w) for w in "xyz"]
        + [("inside", True, "xy"), ("outside", True, "xy")]
    )
    return [_line(profile, key, groups[key]) for key in order if key in groups]


def _line(profile: Profile, key: tuple[str, bool, str], readings: list[SizeReading]) -> Line:
    role, round_hole, way = key
    drawn = [r.drawn_mm for r in readings]
    fit, why = None, ""
    try:
        fit = calibrate(
            drawn,
            [r.measured_mm for r in readings],
            max(r.resolution_mm for r in readings),
            [r.print_id for r in readings],
            [r.feature or str(k) for k, r in enumerate(readings)],
            leave_out=True,
        )
    except DoveError as error:
        why = error.message
    belief = belief_of(profile)
    low, high = min(drawn), max(drawn)
    span = max(high - low, 0.4 * high)
    steps = [max(0.5, low - 0.1 * span) + k / 8 * (high + 0.1 * span - max(0.5, low - 0.1 * span)) for k in range(9)]
    direction = _WAYS.get(way, (math.sqrt(0.5), math.sqrt(0.5), 0.0))
    scatter = 2 * math.hypot(profile.common_mm, profile.random_mm)
    believed = []
    for size in steps:
        mean, sd = belief.of(size_row(role, direction, size, round_hole))  # type: ignore[arg-type]
        believed.append((size, mean, 2 * math.hypot(sd, scatter)))
    what = ("round holes" if role == "inside" else "round bosses") if round_hole else f"{role} sizes {_WORDS[way]}"
    return Line(
        f"{role}-{'round' if round_hole else way}",
        what,
        tuple((r.drawn_mm, r.measured_mm - r.drawn_mm, r.print_id) for r in readings),
        fit,
        why,
        tuple(believed),
    )
