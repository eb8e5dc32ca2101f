"""What the gaps on all sides of a joint leave: the room to go in at the best place, and the play once it is in.

The inner half floats: it can be shifted in the joint's plane by t as long as no side closes. With a gap gₖ in the direction nₖ (a unit
vector from the inner half to the outer), that is ``nₖ·t ≤ gₖ`` for all k: a polygon of shifts P.

room
    the gap that is left all round at the best place: the radius of the largest circle in P (over all sides),
    ``max_t min_k (gₖ − nₖ·t)``. By the duality of linear programming (Dantzig, *Linear Programming and Extensions*, ch. 6) it is
    ``min Σ λₖgₖ`` over λ ≥ 0, Σλₖ = 1, Σλₖnₖ = 0, and the least is taken at a pair of opposite directions or at three of them.
play
    half of the way from one stop to the other, in the direction m in which it is longest; m goes through the directions of the
    sides, in which the joint is meant to hold. Each stop is ``max n·t`` over P, by duality ``min Σ λₖgₖ`` over λ ≥ 0, Σλₖnₖ = m: a side, or two
    sides with m between them. Where there is no room at all P is empty, and play is negative: the mean of the gaps on two opposite sides, where it is
    greatest (that is how hard a press holds where it holds least); a side that stands back presses nothing.

Both are least or greatest values of sums that are linear in the gaps. What a printer takes of the gap on a side is linear in a few
deviations δ (one for each direction of the joint's frame: the share of δᵢ in the direction n is nᵢ²; where places lie apart at p on halves that are printed turned
to each other, also a stretch S, which moves a place of the outer half by S·p and so widens the gap by n·S·p), so every sum becomes c − a·δ,
which is evaluated for thousands of δ at once. Where several zones move as one, the sides that look one way count by the least of them first: the
sums are then over directions, of which there are few, not over all sides of all zones.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

__all__ = ["FREE_MM", "Side", "Sides", "even_sides", "left_by", "room_and_play"]

Array = NDArray[np.float64]
#: the gap in one direction of the joint's plane: (gap mm, x, y), the direction a unit vector
Side = tuple[float, float, float]
#: so many directions at most are kept apart: on a round joint every 22.5°
MOST_SIDES = 16
#: directions of one sector that differ by more belong to a side that runs on, rad
RUNS_ON_RAD = 0.05
#: sums that lie so far above the least can never become it: more than what printers take differs between directions, mm
MARGIN_MM = 0.6
#: what has no bound, mm
FREE_MM = 1e3
#: a side that stands back by more than this behind another one that looks about its way may lie where nothing reaches, mm
STANDS_BACK_MM = 0.05
#: sides look about one way when the cosine between them is more than this
SIDEWAYS = 0.3
#: sides of several zones look one way when their directions differ by no more than this
ALIKE = 5e-3


def even_sides(gap_mm: float, round_joint: bool = False) -> tuple[Side, ...]:
    """The same gap on all sides: of a joint with four sides, or all round."""
    n = MOST_SIDES if round_joint else 4
    return tuple((gap_mm, math.cos(2 * math.pi * k / n), math.sin(2 * math.pi * k / n)) for k in range(n))


@dataclass(frozen=True, eq=False)
class Sides:
    """The sums that room and play are least and greatest values of: ``c − a·δ``.

    ``room`` is (c (f,), a (f, m)); ``stops`` holds for each direction of play two such pairs, towards it and away. ``across`` is the mean of two
    opposite sides, for each pair of them. With ``facing``, the sides of several zones that look each way (the same pairs, one for each of d directions), ``room`` and ``stops``
    are ``c + a·h`` with a (f, d) over the least h of these.
    """

    room: tuple[Array, Array]
    stops: tuple[tuple[tuple[Array, Array], tuple[Array, Array]], ...]
    across: tuple[Array, Array]
    facing: tuple[tuple[Array, Array], ...] = ()

    @staticmethod
    @lru_cache(maxsize=256)
    def of(
        mates: tuple[tuple[Side, ...], ...],
        spots_mm: tuple[tuple[float, float], ...] = (),
        stretches: tuple[str, ...] = (),
        stands: bool = False,
    ) -> Sides:
        """From the sides of each pair of mating zones, which move as one; two deviations (x, y) belong to each pair, and after them one to each
        of the ``stretches`` (xx, xy, yy) of the places at ``spots_mm``. Where a joint ``stands`` as it is placed nothing moves: the least gap of all is its room, the greatest its play."""
        if stands:
            return _standing(mates)
        gap, way, share = [], [], []
        m = 2 * len(mates) + len(stretches)
        for number, sides in enumerate(mates):
            for side, x, y in _fewer(sides):
                gap.append(side)
                way.append((x, y))
                row = np.zeros(m)
                row[2 * number : 2 * number + 2] = x * x, y * y
                if stretches:
                    u, v = spots_mm[number]
                    widens = {"xx": x * u, "xy": x * v + y * u, "yy": y * v}
                    row[2 * len(mates) :] = [-widens[name] for name in stretches]
                share.append(row)
        g, n, a = np.array(gap), np.array(way).reshape(-1, 2), np.array(share).reshape(-1, m)
        if len(mates) > 1:
            ways, of = _alike(n)
            none, each = np.zeros(len(ways)), np.eye(len(ways))
            stops = tuple((_stop(none, ways, each, m), _stop(none, ways, each, -m)) for m in _directions(ways))
            return Sides(_room(none, ways, each), stops, _across(g, n, a), tuple((g[of == k], a[of == k]) for k in range(len(ways))))  # fmt: skip
        room = _kept(*_room(g, n, a))
        stops = tuple((_kept(*_stop(g, n, a, m)), _kept(*_stop(g, n, a, -m))) for m in _directions(n))
        return Sides(room, stops, _across(g, n, a))


def _standing(mates: tuple[tuple[Side, ...], ...]) -> Sides:
    least, most = (np.array([pick(g for g, _, _ in zone) for zone in mates if zone]) for pick in (min, max))
    rows = np.zeros((len(least), 2 * len(mates)))
    for row, number in enumerate(k for k, zone in enumerate(mates) if zone):
        _, x, y = mates[number][0]
        rows[row, 2 * number : 2 * number + 2] = x * x, y * y
    stops = tuple((stop, stop) for stop in ((most[k : k + 1], rows[k : k + 1]) for k in range(len(most))))
    return Sides((least, rows), stops, (most, rows))


def _fewer(sides: Sequence[Side]) -> Sequence[Side]:
    """The tightest side of each of MOST_SIDES sectors. Where directions run on through a sector it stands in its middle, so that opposite
    sectors have opposite sides; one that is alone keeps its own."""
    if len(sides) <= MOST_SIDES:
        return sides
    sectors: dict[int, list[tuple[float, float]]] = {}
    step = 2 * math.pi / MOST_SIDES
    for gap, x, y in sides:
        angle = math.atan2(y, x)
        number = round(angle / step)
        sectors.setdefault(number % MOST_SIDES, []).append((angle - number * step, gap))
    out = []
    for number, found in sectors.items():
        offs = [o for o, _ in found]
        own = min(found, key=lambda f: f[1])[0]
        off = min(max(0.0, min(offs)), max(offs)) if max(offs) - min(offs) > RUNS_ON_RAD else own
        angle = number * step + off
        # a side aslant stops a shift along the middle later, by the cosine between them
        out.append((min(g / math.cos(o - off) if g > 0 else g for o, g in found), math.cos(angle), math.sin(angle)))
    return out


def _room(g: Array, n: Array, a: Array) -> tuple[Array, Array]:
    """The sums for the room: pairs of opposite sides, and threes that hold the inner half between them."""
    lots, weights = [], []
    for i, j in itertools.combinations(range(len(g)), 2):
        if np.linalg.norm(n[i] + n[j]) < 1e-9:
            lots.append((i, j, j))
            weights.append((0.5, 0.5, 0.0))
    threes = np.array(list(itertools.combinations(range(len(g)), 3)), dtype=int).reshape(-1, 3)
    if len(threes):
        p, q, r = (n[threes[:, k]] for k in range(3))
        # λ in proportion to the areas that each leaves to the other two
        raw = np.column_stack([_cross(q, r), _cross(r, p), _cross(p, q)])
        total = raw.sum(axis=1)
        with np.errstate(divide="ignore", invalid="ignore"):
            share = raw / total[:, None]
        good = (np.abs(total) > 1e-9) & (share >= -1e-9).all(axis=1)
        lots.extend(tuple(t) for t in threes[good])
        weights.extend(tuple(w) for w in share[good])
    return _summed(g, a, lots, weights)


def _alike(n: Array) -> tuple[Array, NDArray[np.intp]]:
    """The directions that sides look in, each once, and for each side which of them it is."""
    ways: list[Array] = []
    of = np.zeros(len(n), dtype=np.intp)
    for k, way in enumerate(n):
        found = next((i for i, w in enumerate(ways) if np.linalg.norm(w - way) < ALIKE), None)
        if found is None:
            found = len(ways)
            ways.append(way)
        of[k] = found
    return np.array(ways).reshape(-1, 2), of


def _across(g: Array, n: Array, a: Array) -> tuple[Array, Array]:
    """The means of the gaps on opposite sides; none where no two lie opposite. A side that stands back, such as the floor of a slot in a bore, presses nothing and counts for none."""
    back = g > np.where(n @ n.T > SIDEWAYS, g[None], np.inf).min(axis=1) + STANDS_BACK_MM
    i, j = np.nonzero(np.triu(np.linalg.norm(n[:, None] + n[None], axis=2) < 1e-9, 1) & ~back[:, None] & ~back[None])
    k = np.column_stack([i, j])
    return g[k].mean(axis=1), a[k].mean(axis=1)


def _stop(g: Array, n: Array, a: Array, m: Array) -> tuple[Array, Array]:
    """The sums for how far the inner half can go in a direction: single sides across it, and pairs with it between them."""
    lots: list[tuple[int, ...]] = [(i,) for i in range(len(g)) if np.linalg.norm(n[i] - m) < 1e-9]
    weights: list[tuple[float, ...]] = [(1.0,)] * len(lots)
    i, j = np.triu_indices(len(g), 1)
    det = _cross(n[i], n[j])
    with np.errstate(divide="ignore", invalid="ignore"):
        first, second = _cross(m[None], n[j]) / det, _cross(n[i], m[None]) / det
    good = (np.abs(det) > 1e-9) & (first >= -1e-9) & (second >= -1e-9)
    lots = [(k, k) for (k,) in lots] + list(zip(i[good].tolist(), j[good].tolist(), strict=True))
    weights = [(1.0, 0.0) for _ in weights] + list(zip(first[good].tolist(), second[good].tolist(), strict=True))
    return _summed(g, a, lots, weights)


def _summed(
    g: Array, a: Array, lots: Sequence[Sequence[int]], weights: Sequence[Sequence[float]]
) -> tuple[Array, Array]:
    if not len(lots):
        return np.array([FREE_MM]), np.zeros((1, a.shape[1] if a.ndim == 2 else 0))
    k, w = np.array(lots, dtype=int), np.array(weights)
    return (g[k] * w).sum(axis=1), np.einsum("fl,flm->fm", w, a[k])


def _cross(p: Array, q: Array) -> Array:
    return np.asarray(p[:, 0] * q[:, 1] - p[:, 1] * q[:, 0])


def _kept(c: Array, a: Array) -> tuple[Array, Array]:
    """The sums that may become the least one, each once."""
    near = c <= c.min() + MARGIN_MM
    both = np.unique(np.round(np.column_stack([c[near], a[near]]), 6), axis=0)
    # of sums that weigh the deviations alike only the least counts
    order = np.lexsort((both[:, 0], *both[:, 1:].T))
    first = np.r_[True, (np.abs(np.diff(both[order, 1:], axis=0)) > 1e-6).any(axis=1)]
    both = both[order][first]
    if both.shape[1] == 3 and np.ptp(both[:, 1:].sum(axis=1)) < 1e-6:
        # the weights of x and y make up a whole: the least sum lies on the lower hull over the weight of x
        both = both[_lower_hull(both[:, 1], both[:, 0])]
    return both[:, 0], both[:, 1:]


def _lower_hull(x: Array, y: Array) -> list[int]:
    """Indices of the points below which no line between others runs (Andrew's monotone chain)."""
    out: list[int] = []
    for k in np.lexsort((y, x)):
        while len(out) > 1:
            i, j = out[-2:]
            if (x[j] - x[i]) * (y[k] - y[i]) - (y[j] - y[i]) * (x[k] - x[i]) <= 1e-12:
                out.pop()
            else:
                break
        out.append(int(k))
    return out


def _directions(n: Array) -> list[Array]:
    """The directions of the sides, of opposite ones only one."""
    out: list[Array] = []
    for m in n:
        if not any(abs(m[0] * o[1] - m[1] * o[0]) < 1e-3 for o in out):
            out.append(m)
    return out


def left_by(mates: tuple[tuple[Side, ...], ...], stands: bool = False) -> tuple[float, float]:
    """Room and play that gaps leave as they are drawn, mm."""
    room, play = room_and_play(Sides.of(mates, stands=stands), np.zeros((1, 2 * len(mates))))
    return float(room[0]), float(play[0])


def room_and_play(sides: Sides, deviations: Array) -> tuple[Array, Array]:
    """Room and play (k,), mm, for deviations (k, m): by how much the printer lessens the gap in each direction of each zone."""
    # what the sums are over: deviations, of which each takes of the gap, or the least gaps each way
    over = np.array([_least(side, -deviations) for side in sides.facing]).T if sides.facing else -deviations
    room = _least(sides.room, over)
    play = np.full(len(deviations), -np.inf)
    for towards, away in sides.stops:
        play = np.maximum(play, (_least(towards, over) + _least(away, over)) / 2)
    c, a = sides.across
    tight = room < 0
    if tight.any():
        # nowhere to be shifted: where it holds least is where two opposite sides press least
        pressed = (c[:, None] - a @ deviations[tight].T).max(axis=0) if len(c) else room[tight]
        play[tight] = pressed
    return room, play


#: so many points are summed at a time
_LOT = 1024


def _least(sums: tuple[Array, Array], over: Array) -> Array:
    """The least of ``c + a·x`` for each x (k, m); some at a time, so that the sums of these stay near the processor."""
    c, a = sums
    out = np.empty(len(over))
    for start in range(0, len(over), _LOT):
        sums_of_lot = a @ over[start : start + _LOT].T
        sums_of_lot += c[:, None]
        sums_of_lot.min(axis=0, out=out[start : start + _LOT])
    return out
