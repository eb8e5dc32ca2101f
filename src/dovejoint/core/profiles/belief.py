"""What is believed of a printer: its terms with their covariance, and what follows for sizes and gaps.

A size of one feature is printed as

    printed = drawn · (1 + Σ cᵢ² · scaleᵢ)  ±  2 · Σ cᵢ² · growthᵢ  −  k/drawn for round holes,

with c the feature's direction in print coordinates (x across, y deep, z up), ``+ outside`` for a size over outside faces and
``− inside`` for one between the walls of an opening. A gap per side between an opening and what goes into it is half the
difference of two such sizes, less what joints of that size lose besides: bowed walls, bulging corners, seams, all that the law of
sizes leaves out and no caliper finds. docs/fits.md derives it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from ..document import Profile
from ..document.model import TERMS, Kind

__all__ = [
    "PRIOR_SD",
    "Belief",
    "as_set_up",
    "belief_of",
    "kinds_of",
    "prior_covariance",
    "shift_row",
    "size_row",
    "stretch_row",
    "with_belief",
]

Vector = NDArray[np.float64]

#: PRACTICE, not a standard: how far tuned desktop printers lie from the middle values of the default profile, one
#: standard deviation of each term (scales as ratios; growth mm a side; k mm²)
PRIOR_SD = np.array([0.0015, 0.0015, 0.0015, 0.035, 0.035, 0.04, 0.04, 0.04, 0.05, 0.15, 0.018, 0.025, 0.05])
#: PRACTICE: joints of a size are much like those of the next; the terms stand at these widths, mm, and between them by the logarithm
ALIKE_JOINTS, JOINT_MM = 0.6, (10.0, 30.0, 100.0)
#: PRACTICE: a round joint has neither walls that bow nor corners that bulge, only seams: it loses this share of what one with flat sides does
ROUND_LOSES = 0.5
#: PRACTICE: X and Y of one printer are much alike; so, less, are its outside faces and its openings
ALIKE_SCALE, ALIKE_GROWTH, OUTSIDE_INSIDE = 0.7, 0.85, 0.3


def prior_covariance() -> Vector:
    """How unsure a printer is of which nothing was measured."""
    rho = np.eye(len(TERMS))

    def tie(a: str, b: str, r: float) -> None:
        i, j = TERMS.index(a), TERMS.index(b)
        rho[i, j] = rho[j, i] = r

    tie("scale_x", "scale_y", ALIKE_SCALE)
    tie("outside_x", "outside_y", ALIKE_GROWTH)
    tie("inside_x", "inside_y", ALIKE_GROWTH)
    for a in ("outside_x", "outside_y"):
        for b in ("inside_x", "inside_y"):
            tie(a, b, OUTSIDE_INSIDE)
    tie("joint_10", "joint_30", ALIKE_JOINTS)
    tie("joint_30", "joint_100", ALIKE_JOINTS)
    tie("joint_10", "joint_100", ALIKE_JOINTS**2)
    return np.asarray(rho * np.outer(PRIOR_SD, PRIOR_SD), dtype=np.float64)


@dataclass(frozen=True, eq=False)
class Belief:
    """``mean`` (n,) in the order of TERMS and its ``covariance`` (n, n)."""

    mean: Vector
    covariance: Vector

    def of(self, row: Vector) -> tuple[float, float]:
        """Mean and standard deviation of a sum of terms."""
        return float(row @ self.mean), math.sqrt(max(0.0, float(row @ self.covariance @ row)))

    def sd(self) -> Vector:
        return np.sqrt(np.clip(np.diag(self.covariance), 0.0, None))


#: PRACTICE: a printer that is not set up for its material mostly lays too much: outside faces and openings lie out together, by so
#: much in the middle and with this standard deviation, mm a side
NOT_SET_UP_MM = (0.03, 0.06)
#: PRACTICE: of a printer of which nobody said whether it is, it is not taken for granted that it is; its gaps are drawn as for one that is, for what
#: comes out too tight can be scraped, and what is too loose cannot be mended
NOT_SAID_MM = (0.0, 0.06)


def as_set_up(belief: Belief, tuned: bool | None, wide: float = 1.0) -> Belief:
    """What is believed of an unmeasured printer of which is said (or not: ``None``) that it is set up, from what is of one that is; ``wide`` is its line
    in widths of the usual one."""
    if tuned:
        return belief
    contours = np.array([1.0 if t.startswith(("outside_", "inside_")) and t[-1] in "xy" else 0.0 for t in TERMS]) * wide
    off, sd = NOT_SAID_MM if tuned is None else NOT_SET_UP_MM
    return Belief(belief.mean + off * contours, belief.covariance + sd**2 * np.outer(contours, contours))


#: how many terms the first version of a profile had
OLDEST = 10


def belief_of(profile: Profile) -> Belief:
    """The belief that a profile carries; one without terms has only its two offsets, and is sure of them. Terms that an older
    version did not have yet are as unsure as before anything was measured."""
    n, known = len(TERMS), len(profile.terms)
    mean, covariance = np.zeros(n), np.zeros((n, n))
    if known >= OLDEST:
        mean[:known] = profile.terms
    else:
        mean[3:5], mean[6:8] = profile.outside_mm, profile.inside_mm
    rows = len(profile.covariance)
    if rows >= OLDEST and all(len(r) == rows for r in profile.covariance):
        covariance[:rows, :rows] = profile.covariance
        covariance[rows:, rows:] = prior_covariance()[rows:, rows:]
    return Belief(mean, covariance)


def kinds_of(profile: Profile) -> tuple[tuple[float, Belief], ...]:
    """What a profile believes as normal laws, each with its share: mostly one."""
    if not profile.kinds:
        return ((1.0, belief_of(profile)),)
    return tuple((k.share, Belief(np.array(k.terms), np.array(k.covariance))) for k in profile.kinds)


def with_belief(
    profile: Profile, belief: Belief, kinds: Sequence[tuple[float, Belief]] = (), **changes: Any
) -> Profile:
    """The profile with another belief (where one law does not tell it, with its ``kinds``); its two plain offsets follow."""

    def told(b: Belief) -> dict[str, Any]:
        return {
            "terms": [round(float(m), 6) for m in b.mean],
            "covariance": [[float(f"{c:.4g}") for c in row] for row in b.covariance],
        }

    mean = belief.mean
    return profile.model_copy(update={
        **told(belief),
        "kinds": [Kind(share=share, **told(b)) for share, b in kinds],
        "outside_mm": round(float(mean[3:5].mean()), 4),
        "inside_mm": round(float(mean[6:8].mean()), 4),
        **changes,
    })  # fmt: skip


def size_row(
    role: Literal["outside", "inside"], direction: tuple[float, float, float], size_mm: float, round_hole: bool = False
) -> Vector:
    """The weights of the terms in printed − drawn of a size, for its direction in print coordinates."""
    row = np.zeros(len(TERMS))
    shares = np.square(np.asarray(direction, dtype=float))
    shares = shares / shares.sum()
    row[0:3] = size_mm * shares
    if role == "outside":
        row[3:6] = 2 * shares
    else:
        row[6:9] = -2 * shares
        if round_hole and size_mm > 0:
            row[9] = -1.0 / size_mm
    return row


def stretch_row(direction: tuple[float, float, float], size_mm: float) -> Vector:
    """The weights of the terms in printed − drawn of a distance between two faces that look the same way: scales alone."""
    row = np.zeros(len(TERMS))
    shares = np.square(np.asarray(direction, dtype=float))
    row[0:3] = size_mm * shares / shares.sum()
    return row


def shift_row(
    outer: tuple[float, float, float],
    inner: tuple[float, float, float],
    size_mm: float,
    round_hole: bool = False,
    printed: tuple[bool, bool] = (True, True),
) -> Vector:
    """The weights in drawn − printed of the gap per side between an opening and what goes into it.

    ``outer`` and ``inner`` are one direction of the model, in the print coordinates of either part; ``size_mm`` is the
    opening's size in it (0 where it is not known: then a difference of the scales is left out). ``printed`` says of the outer and the
    inner half whether it is printed: one that is bought stays as it is, and of what joints lose besides the printed half makes half; round ones
    lose less of it.
    """
    row = (
        printed[1] * size_row("outside", inner, size_mm) - printed[0] * size_row("inside", outer, size_mm, round_hole)
    ) / 2
    at = np.interp(math.log(size_mm if size_mm > 0 else JOINT_MM[1]), np.log(JOINT_MM), np.arange(3.0))
    row[OLDEST:] = np.maximum(0.0, 1 - np.abs(np.arange(3.0) - at)) * sum(printed) / 2
    if round_hole:
        row[OLDEST:] *= ROUND_LOSES
    return row
