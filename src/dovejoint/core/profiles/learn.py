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
    A verdict on a joint is evidence on t = row · terms, what the printer took of the drawn gap: with the gap's scatter s it has the
    likelihood Φ((most − g)/s) − Φ((least − g)/s) at g = drawn − t for *good*, and the tails for *too tight* and *loose*; one in
    forty is taken to be misjudged. The posterior of t is found on a grid; its mean and variance replace those of the normal one
    (moment matching, as in assumed-density filtering), and all terms move with it by their covariance with t.
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
from .belief import Belief, belief_of, shift_row, size_row, with_belief
from .deviation import Mating, gap_scatter

__all__ = ["GO_GAP_MM", "Ladder", "Learnt", "SizeReading", "Verdict", "learn"]

Direction = tuple[float, float, float]
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
    """How one printed joint behaved: its drawn gap per side, what it needs, and how its halves lay."""

    drawn_mm: float
    least_mm: float
    most_mm: float
    verdict: Literal["too tight", "good", "loose", "broke"]
    mating: Mating


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
    scatter = gap_scatter(profile).total_mm
    for verdict in verdicts:
        belief = _from_verdict(belief, verdict, scatter)
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


def _likelihood(t: NDArray[np.float64], found: Verdict | Ladder, scatter_mm: float) -> NDArray[np.float64]:
    if isinstance(found, Ladder):
        s = math.hypot(scatter_mm, GO_SHARP_MM)
        gaps = sorted(found.drawn_mm)
        n = len(gaps)
        # the tightest that took it, and the widest that did not
        p = np.ones_like(t)
        if found.went_in > 0:
            p = p * ndtr((gaps[n - found.went_in] - t - GO_GAP_MM) / s)
        if found.went_in < n:
            p = p * ndtr(-(gaps[n - found.went_in - 1] - t - GO_GAP_MM) / s)
        return np.asarray(p)
    gap = found.drawn_mm - t
    flared = found.mating.flare_mm
    s = math.hypot(scatter_mm, found.mating.flare_unsure_mm)
    tight, loose = ndtr((found.least_mm - (gap - flared)) / s), ndtr((gap - found.most_mm) / s)
    if found.verdict in ("too tight", "broke"):
        return np.asarray(tight)
    return np.asarray(loose if found.verdict == "loose" else np.maximum(1 - tight - loose, 0.0))


def _from_verdict(belief: Belief, found: Verdict | Ladder, scatter_mm: float) -> Belief:
    row = np.mean([shift_row(o, i, size, found.mating.round_hole) for o, i, size in found.mating.ways], axis=0)
    mean, sd = belief.of(row)
    if sd < 1e-9:
        return belief
    t = mean + sd * np.linspace(-6, 6, 1201)
    p = np.exp(-0.5 * ((t - mean) / sd) ** 2) * ((1 - MISJUDGED) * _likelihood(t, found, scatter_mm) + MISJUDGED / 3)
    p /= p.sum()
    seen = float(p @ t)
    left = float(p @ (t - seen) ** 2)
    pull = belief.covariance @ row / sd**2
    covariance = belief.covariance - np.outer(pull, pull) * (sd**2 - left)
    return replace(belief, mean=belief.mean + pull * (seen - mean), covariance=(covariance + covariance.T) / 2)
