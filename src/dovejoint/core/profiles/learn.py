"""What readings and verdicts teach of a printer, from a stated prior on.

Readings
    Each is printed − drawn = row · terms + error (rows in belief.py). Its error has a share common to all features of one
    print (2·common on a size, outwards or inwards with its role), one of its own (2·random), and the caliper's rounding r²/12.
    Terms and errors being normal, the posterior is the usual one of Bayesian linear regression
    (e.g. Gelman et al., *Bayesian Data Analysis*, ch. 14):  K = V Aᵀ (A V Aᵀ + R)⁻¹,  m' = m + K (y − A m),  V' = V − K A V.
Scatter
    The prior's scatter counts like PRIOR_DOF readings. With q = (y − A m)ᵀ (A V Aᵀ + R)⁻¹ (y − A m), which is χ² with n degrees of
    freedom when prior and scatter are right, R is scaled by (PRIOR_DOF + q)/(PRIOR_DOF + n), and the regression done once more.
Verdicts
    A verdict on a joint is evidence on δ, what the print took of the gap in each direction (``law.py``): *good* says that room and play
    kept the wanted band, *too tight* that the room did not, *loose* that the play did not; one in forty is taken to be
    misjudged. Mean and covariance of δ under that replace those of the normal law (moment matching, as in assumed-density
    filtering, e.g. Opper and Winther 1998), and all terms move with δ by their covariance with it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr

from ..document import Profile
from .belief import Belief, belief_of, size_row, with_belief
from .deviation import Mating
from .law import Spread, law_of, spread_of
from .sides import Side, Sides, even_sides

__all__ = ["GO_GAP_MM", "Ladder", "Learnt", "SizeReading", "Verdict", "learn"]

Direction = tuple[float, float, float]
Array = NDArray[np.float64]
VERDICTS = ("too tight", "good", "loose", "broke")
#: the prior's scatter counts like so many readings
PRIOR_DOF = 12.0
MISJUDGED = 1 / 40
#: PRACTICE: a plug just goes in by hand at this printed gap a side, and how sharp that edge is, mm
GO_GAP_MM, GO_SHARP_MM = 0.03, 0.02


@dataclass(frozen=True)
class SizeReading:
    """One size read on one printed feature, mm. ``direction`` is in print coordinates, ``print_id`` tells prints apart."""

    role: Literal["outside", "inside"]
    direction: Direction
    drawn_mm: float
    measured_mm: float
    print_id: str
    round_hole: bool = False
    resolution_mm: float = 0.02


@dataclass(frozen=True)
class Verdict:
    """How one printed joint behaved: its drawn gap per side, what it needs, how its halves lay, and the drawn gaps on all its sides (empty
    where all were as drawn)."""

    drawn_mm: float
    least_mm: float
    most_mm: float
    verdict: Literal["too tight", "good", "loose", "broke"]
    mating: Mating
    sides: tuple[tuple[Side, ...], ...] = ()


@dataclass(frozen=True)
class Ladder:
    """A plug tried in a row of openings with rising gaps: ``went_in`` is how many of the widest took it."""

    drawn_mm: tuple[float, ...]
    went_in: int
    mating: Mating


Evidence = SizeReading | Verdict | Ladder


@dataclass(frozen=True, eq=False)
class Learnt:
    """The profile with what was learnt (its version not counted up), how many of each kind of evidence went into it,
    and for each reading how far it lay from what is now expected (mm, in the order given)."""

    profile: Profile
    readings: int
    verdicts: int
    residuals_mm: tuple[float, ...]


def learn(prior: Profile, evidence: Sequence[Evidence]) -> Learnt:
    """What a profile becomes by evidence. Its own covariance is the prior, so it must be the profile as it was unmeasured."""
    readings = [e for e in evidence if isinstance(e, SizeReading)]
    verdicts = [e for e in evidence if not isinstance(e, SizeReading)]
    belief, scale = belief_of(prior), 1.0
    residuals: tuple[float, ...] = ()
    if readings:
        belief, scale = _from_readings(prior, readings)
        rows = np.array([size_row(r.role, r.direction, r.drawn_mm, r.round_hole) for r in readings])
        read = np.array([r.measured_mm - r.drawn_mm for r in readings])
        residuals = tuple(float(e) for e in read - rows @ belief.mean)
    profile = prior.model_copy(update={
        "common_mm": round(prior.common_mm * math.sqrt(scale), 4),
        "random_mm": round(prior.random_mm * math.sqrt(scale), 4),
    })  # fmt: skip
    for verdict in verdicts:
        belief = _from_verdict(belief, verdict, profile)
    return Learnt(with_belief(profile, belief), len(readings), len(verdicts), residuals)


def _from_readings(prior: Profile, readings: Sequence[SizeReading]) -> tuple[Belief, float]:
    belief = belief_of(prior)
    a = np.array([size_row(r.role, r.direction, r.drawn_mm, r.round_hole) for r in readings])
    y = np.array([r.measured_mm - r.drawn_mm for r in readings])
    sign = np.array([2.0 if r.role == "outside" else -2.0 for r in readings])
    same = np.array([[p.print_id == q.print_id for q in readings] for p in readings])
    printed = prior.common_mm**2 * np.outer(sign, sign) * same + np.diag(np.full(len(y), 4 * prior.random_mm**2))
    rounding = np.diag([r.resolution_mm**2 / 12 for r in readings])
    v, innovation = belief.covariance, y - a @ belief.mean
    q = float(innovation @ np.linalg.solve(a @ v @ a.T + printed + rounding, innovation))
    scale = (PRIOR_DOF + q) / (PRIOR_DOF + len(y))
    gain = v @ a.T @ np.linalg.inv(a @ v @ a.T + scale * printed + rounding)
    after = v - gain @ a @ v
    return Belief(belief.mean + gain @ innovation, (after + after.T) / 2), scale


def _likelihood(spread: Spread, found: Verdict | Ladder, own_mm: float) -> Array:
    """How likely the evidence is at each point of a joint's law (r, l); ``own_mm`` is what each rung of a ladder errs by itself."""
    if isinstance(found, Ladder):
        s = math.hypot(own_mm, GO_SHARP_MM)
        gaps = sorted(found.drawn_mm)
        n = len(gaps)
        # the room was reckoned for the gap of the middle rung: the tightest that took the plug, and the widest that did not
        room = spread.room - middle_of(gaps) - GO_GAP_MM
        p = np.ones_like(room)
        if found.went_in > 0:
            p = p * ndtr((room + gaps[n - found.went_in]) / s)
        if found.went_in < n:
            p = p * ndtr(-(room + gaps[n - found.went_in - 1]) / s)
        return np.asarray(p)
    goes_in = sum(w * (spread.room - flare >= found.least_mm) for flare, w in spread.flares)
    goes_in = np.asarray(goes_in, dtype=float)
    if found.verdict in ("too tight", "broke"):
        return 1 - goes_in
    holds = spread.play <= found.most_mm
    return goes_in * (~holds if found.verdict == "loose" else holds)


def middle_of(gaps: Sequence[float]) -> float:
    return gaps[len(gaps) // 2]


def _from_verdict(belief: Belief, found: Verdict | Ladder, profile: Profile) -> Belief:
    """The belief after a verdict: moments of what the print took of the gap in all directions, under the likelihood of the verdict."""
    law = law_of(profile, found.mating, belief)
    if float(np.trace(law.known)) < 1e-12:
        return belief
    spread = spread_of(law, Sides.of(_sides(found)))
    p = (1 - MISJUDGED) * _likelihood(spread, found, profile.random_mm) + MISJUDGED / 3
    p = (p * spread.weights()).ravel()
    p /= p.sum()
    points = spread.deviations.reshape(-1, len(law.mean))
    seen = p @ points
    left = (points - seen).T @ ((points - seen) * p[:, None])
    # all terms move with the deviations by their covariance with them
    gain = belief.covariance @ law.rows.T @ np.linalg.pinv(law.covariance)
    covariance = belief.covariance - gain @ (law.covariance - left) @ gain.T
    return replace(belief, mean=belief.mean + gain @ (seen - law.mean), covariance=(covariance + covariance.T) / 2)


def _sides(found: Verdict | Ladder) -> tuple[tuple[Side, ...], ...]:
    if isinstance(found, Verdict) and found.sides:
        return found.sides
    gap = found.drawn_mm if isinstance(found, Verdict) else middle_of(sorted(found.drawn_mm))
    return (even_sides(gap, found.mating.round_hole),) * (len(found.mating.ways) // 2)
