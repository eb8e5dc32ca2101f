"""The joint law of a joint's gaps: what a printer takes of them in all directions at once, and the chances that follow.

By how much the gap is lessened in each direction is normal, with the covariance of what is not known of the printer, of the offset that all
faces of a print share, of what each size does by itself, and of the tolerances of a half that is not printed: X and Y err together
in the first two and apart in the third. What flares on the bed is a further normal quantity that lessens the room. Room and play
(``sides.py``) are not linear in these, so chances are summed over points: along the line of the greatest spread exactly
(the stretches on which a condition holds, by the normal distribution), and over the other directions at points of equal weight.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr, ndtri

from ..document import Profile
from .belief import Belief, belief_of
from .deviation import HERMITE, Mating, scatter_by_way
from .sides import Side, Sides, even_sides, room_and_play

__all__ = ["Law", "Spread", "even_zones", "law_of", "share_where", "sides_of", "spread_of", "together"]

Array = NDArray[np.float64]
#: so many points lie along the line of the greatest spread, five standard deviations to either side; where there is one further direction, and where there are more
_POINTS, _FEWER_POINTS, _REACH_SD = 33, 17, 5.0
#: where a law is drawn from, points lie so many times closer
_CLOSER = 4
#: how many lines there are in one further direction, and in up to so many: against many times as many points, chances are right within 0.006
_LINES, _MORE_LINES = 20, ((3, 64), (16, 128), (10**6, 256))


@dataclass(frozen=True, eq=False)
class Law:
    """``mean`` (m,) and ``covariance`` (m, m) of what the print takes of the gap in each direction, mm, and then of each stretch of the places against each other (a ratio); ``known`` is the part of the covariance
    that comes from not knowing the printer, ``rows`` (m, terms) how it follows from the profile's terms."""

    mean: Array
    covariance: Array
    known: Array
    rows: Array
    flare_mm: float
    flare_sd_mm: float


def even_zones(gap_mm: float, mating: Mating) -> tuple[tuple[Side, ...], ...]:
    """The same gap on all sides of each of a joint's zones, as it is drawn. Where both ways are one the halves meet in that only."""
    pairs = zip(mating.ways[::2], mating.ways[1::2], strict=True)
    one_way: tuple[Side, ...] = ((gap_mm, 1.0, 0.0), (gap_mm, -1.0, 0.0))
    return tuple(one_way if a == b else even_sides(gap_mm, mating.round_hole) for a, b in pairs)


def sides_of(zones: tuple[tuple[Side, ...], ...], mating: Mating) -> Sides:
    """What is left by the gaps of a joint's zones, as its halves lie."""
    stretches = tuple(mating.stretches)
    return Sides.of(zones, mating.spots_mm if stretches else (), stretches, mating.stands)


def law_of(profile: Profile, mating: Mating, belief: Belief | None = None) -> Law:
    """The law of a joint as its halves lie; by another belief than the profile's where one is given."""
    belief = belief_of(profile) if belief is None else belief
    m, stretches = len(mating.ways), list(mating.stretches.values())
    rows = np.array([*(mating.row(k) for k in range(m)), *stretches])
    known = rows @ belief.covariance @ rows.T
    shared, own = scatter_by_way(profile, mating)
    # a stretch of places has neither scatter nor tolerance: those are of each place by itself
    printed = np.zeros_like(known)
    printed[:m, :m] = np.outer(shared, shared) + np.diag(own**2)
    made = np.pad(np.array(mating.made_mm).reshape(-1, m), ((0, 0), (0, len(stretches))))
    mean = rows @ belief.mean
    mean[:m] -= np.array(mating.made_off_mm) if mating.made_off_mm else 0.0
    return Law(mean, known + printed + made.T @ made, known, rows, mating.flare_mm, mating.flare_unsure_mm)


@dataclass(frozen=True, eq=False)
class Spread:
    """Room and play at points of a law: lines (r, of the weights ``lines``) of points along (l). ``deviations`` (r, l, m); ``room`` and ``play`` (r, l), the room
    without what flares, of which ``flares`` has some values and their weights."""

    deviations: Array
    lines: Array
    room: Array
    play: Array
    flares: tuple[tuple[float, float], ...]

    def share(self, least_mm: float = -math.inf, most_mm: float = math.inf) -> float:
        """The share of prints whose room is at least, and whose play is at most so much."""
        return sum(
            w * float(share_where(np.minimum(self.room - flare - least_mm, most_mm - self.play)) @ self.lines)
            for flare, w in self.flares
        )

    def room_at(self, share: float) -> float:
        """The room, what flares taken off, that this share of prints stays under, mm."""
        values = np.concatenate([(self.room - flare).ravel() for flare, _ in self.flares])
        return _quantile(values, np.concatenate([w * self._shares() for _, w in self.flares]), share)

    def play_at(self, share: float) -> float:
        """The play that this share of prints stays under, mm."""
        return _quantile(self.play.ravel(), self._shares(), share)

    def _shares(self) -> Array:
        return self.weights().ravel()

    def weights(self) -> Array:
        """The share of the law that each point stands for (r, l)."""
        return self._weights(self.room.shape[1])

    def _weights(self, points: int) -> Array:
        along = _along(points)
        edges = np.concatenate(([-np.inf], (along[1:] + along[:-1]) / 2, [np.inf]))
        return np.asarray(self.lines[:, None] * np.diff(ndtr(edges))[None, :])

    def cases(self) -> tuple[Array, Array, Array]:
        """Weights, room and play of points that lie closer on the lines, all in one row: between points room and play go straight."""
        n = self.room.shape[1]
        at = np.linspace(0, n - 1, _CLOSER * (n - 1) + 1)
        left = np.minimum(at.astype(int), n - 2)
        right = at - left
        room, play = (v[:, left] * (1 - right) + v[:, left + 1] * right for v in (self.room, self.play))
        return self._weights(len(at)).ravel(), room.ravel(), play.ravel()


@lru_cache(maxsize=8)
def _along(points: int) -> Array:
    return np.linspace(-_REACH_SD, _REACH_SD, points)


@lru_cache(maxsize=32)
def _across(dimensions: int) -> tuple[Array, Array]:
    """Points of a standard normal in so many dimensions, and their weights: in one evenly spaced (the trapezoidal rule is as good as any for
    what fades out at both ends), in more the additive lattice of the generalised golden ratio, which spreads evenly without dice (Roberts 2018)."""
    if dimensions == 0:
        return np.zeros((1, 0)), np.ones(1)
    if dimensions == 1:
        line = np.linspace(-5.0, 5.0, _LINES)
        weight = np.exp(-(line**2) / 2)
        return line[:, None], weight / weight.sum()
    phi = 2.0
    for _ in range(40):
        phi = (1 + phi) ** (1 / (dimensions + 1))
    steps = (1 / phi) ** np.arange(1, dimensions + 1)
    lines = next(n for most, n in _MORE_LINES if dimensions <= most)
    half = np.asarray(ndtri((0.5 + np.outer(np.arange(1, lines // 2 + 1), steps)) % 1.0))
    if len(half) > 2 * dimensions:
        # as wide in each direction as the law itself, and in none like another
        half = half @ np.linalg.inv(np.linalg.cholesky(half.T @ half / len(half))).T
    # each with its mirror image, so that what is odd in them cancels out
    return np.concatenate([half, -half]), np.full(2 * len(half), 0.5 / len(half))


def spread_of(law: Law, sides: Sides) -> Spread:
    """Room and play over the whole law."""
    values, vectors = np.linalg.eigh(law.covariance)
    scaled = vectors * np.sqrt(np.clip(values, 0.0, None))
    m = len(values)
    # eigenvalues rise: the last is the line along which a condition is summed exactly
    across, lines = _across(m - 1)
    along = _along(_POINTS if m <= 2 else _FEWER_POINTS)
    base = law.mean + across @ scaled[:, :-1].T
    deviations = base[:, None, :] + along[None, :, None] * scaled[:, -1][None, None, :]
    room, play = room_and_play(sides, deviations.reshape(-1, m))
    shape = (len(base), len(along))
    flares = tuple((max(law.flare_mm + z * law.flare_sd_mm, 0.0), w) for z, w in HERMITE)
    return Spread(
        deviations,
        lines,
        room.reshape(shape),
        play.reshape(shape),
        flares if law.flare_sd_mm > 1e-9 else ((law.flare_mm, 1.0),),
    )


def together(spreads: Sequence[tuple[float, Spread]]) -> Spread:
    """The spread of a mixture of laws of one joint, each with its share."""
    first = spreads[0][1]
    if len(spreads) == 1:
        return first
    return Spread(
        np.concatenate([s.deviations for _, s in spreads]),
        np.concatenate([share * s.lines for share, s in spreads]),
        np.concatenate([s.room for _, s in spreads]),
        np.concatenate([s.play for _, s in spreads]),
        first.flares,
    )


def _quantile(values: Array, shares: Array, share: float) -> float:
    order = np.argsort(values)
    summed = np.cumsum(shares[order]) - shares[order] / 2
    return float(np.interp(share, summed, values[order]))


def share_where(margin: Array) -> Array:
    """For each line (r) the share where a condition's margin (r, l) is not negative; between points the margin goes straight."""
    along = _along(margin.shape[1])
    steps = np.asarray(ndtr(along))
    a, b = margin[:, :-1], margin[:, 1:]
    out = ((a >= 0) & (b >= 0)) @ np.diff(steps)
    line, k = np.nonzero((a >= 0) != (b >= 0))
    p, q = a[line, k], b[line, k]
    root = ndtr(along[k] + (along[k + 1] - along[k]) * p / (p - q))
    np.add.at(out, line, np.where(q >= 0, steps[k + 1] - root, root - steps[k]))
    # what lies beyond the last points
    out += (margin[:, 0] >= 0) * steps[0] + (margin[:, -1] >= 0) * (1 - steps[-1])
    return np.clip(out, 0.0, 1.0)
