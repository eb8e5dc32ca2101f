"""What a printer makes of a gap between an outside face and the wall of an opening (model in docs/fits.md)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..document import Profile
from ..document.model import TERMS
from .belief import belief_of, shift_row, stretch_row

__all__ = [
    "Mating",
    "Scatter",
    "Shift",
    "flare_left_mm",
    "gap_scatter",
    "gap_shift",
    "layers_leave_mm2",
    "left_mm",
    "scatter_by_way",
]

Direction = tuple[float, float, float]
_FLAT: tuple[tuple[Direction, Direction, float], ...] = (((1, 0, 0), (1, 0, 0), 0.0), ((0, 1, 0), (0, 1, 0), 0.0))
#: the upright of a print in the frame of a joint whose axis stands upright
UPRIGHT: Direction = (0.0, 0.0, 1.0)
#: halves lie alike as far as their stretch goes where their shares of a print's directions differ by no more than this
ALIKE_STRETCH = 1e-3


@dataclass(frozen=True)
class Scatter:
    """Standard deviations of a gap per side, mm, kept apart: ``common`` is shared by all gaps of a print."""

    common_mm: float
    random_mm: float

    @property
    def total_mm(self) -> float:
        """Common and random parts are independent of each other, so their squares add."""
        return math.hypot(self.common_mm, self.random_mm)


@dataclass(frozen=True)
class Mating:
    """How the two halves of a joint are printed.

    ``ways`` are the directions in which they meet: each in the print coordinates of the outer and of the inner part, and
    the opening's size in it, mm (0: not known). ``flare_mm`` is what the first layers take of the gap at its edges, which have
    ``chamfers_mm`` (those that lie on the bed; empty where they are not known any more). ``printed`` says of the outer and the inner half
    whether it is printed; one that is bought or made stays as drawn, but for its tolerances: each of ``made_mm`` is by how much one
    standard deviation of a dimension of such a half moves the gap in each of the ways, ``made_off_mm`` by how much their middles do. ``up`` is where
    the outer's and the inner's print has its upright, in the joint's own frame (whose ``z`` is the way that the inner half comes out). Each of the ways that is ``turned`` has the joint's inner half for its outer one; in one that ``rests`` the gap is a depth
    within the outer half, as deep as its size; where all of them ``stands`` as they are placed nothing is shifted. At so many ``places`` the halves
    are to meet alike, for the gap that is drawn; of what is there each place has ways of its own. Where the places of one joint lie apart and its halves are printed turned
    to each other, ``spots_mm`` is where each of them lies in the plane of the joint's frame (from their middle, outwards as seen by the zone's inner half), and ``plane`` that frame's ``x`` and
    ``y`` in the print coordinates of the outer and of the inner half.
    """

    ways: tuple[tuple[Direction, Direction, float], ...] = _FLAT
    flare_mm: float = 0.0
    flare_unsure_mm: float = 0.0
    round_hole: bool = False
    chamfers_mm: tuple[float, ...] = ()
    printed: tuple[bool, bool] = (True, True)
    made_mm: tuple[tuple[float, ...], ...] = ()
    made_off_mm: tuple[float, ...] = ()
    up: tuple[Direction, Direction] = (UPRIGHT, UPRIGHT)
    turned: tuple[bool, ...] = ()
    places: int = 1
    rests: tuple[bool, ...] = ()
    stands: bool = False
    spots_mm: tuple[tuple[float, float], ...] = ()
    plane: tuple[tuple[Direction, Direction], ...] = ()

    @property
    def stretches(self) -> dict[str, NDArray[np.float64]]:
        """In what the outer half's places are stretched against the inner's: the parts ``xx``, ``xy`` and ``yy`` of that stretch in the plane (a symmetric tensor, for each half
        Σ cᵢcᵢᵀ·scaleᵢ over the print's directions), each as weights of a profile's terms; only those that the halves do not have in common."""
        if len(self.spots_mm) < 2 or len(self.plane) != 2:
            return {}
        out = {}
        for name, a, b in (("xx", 0, 0), ("xy", 0, 1), ("yy", 1, 1)):
            outer, inner = (np.multiply(self.plane[a][k], self.plane[b][k]) * self.printed[k] for k in (0, 1))
            if np.abs(outer - inner).max() > ALIKE_STRETCH:
                out[name] = np.concatenate((outer - inner, np.zeros(len(TERMS) - 3)))
        return out

    def moved_mm(self, profile: Profile) -> float:
        """By how much the places are expected to stand in each other's way, mm: half of what the outermost of them come to lie otherwise on the outer half than on the
        inner, in either direction of the plane, among those that hold in it."""
        if not self.stretches:
            return 0.0
        mean = belief_of(profile).mean
        s = {name: float(row @ mean) for name, row in self.stretches.items()}
        xx, xy, yy = (s.get(name, 0.0) for name in ("xx", "xy", "yy"))
        went: tuple[list[float], list[float]] = ([], [])
        for k, (u, v) in enumerate(self.spots_mm):
            one_way = self.ways[2 * k] == self.ways[2 * k + 1]
            for axis, by in enumerate((xx * u + xy * v, xy * u + yy * v)):
                if not one_way or self.ways[2 * k][:2] == self.plane[axis]:
                    went[axis].append(by)
        return max((max(w) - min(w)) / 2 for w in went if w)

    def row(self, way: int) -> NDArray[np.float64]:
        """The weights of a profile's terms in what is taken of the gap in one of the ways."""
        outer, inner, size = self.ways[way]
        printed = self.printed_in(way)
        if any(self.rests[way : way + 1]):
            return -printed[0] * stretch_row(outer, size)
        return shift_row(outer, inner, size, self.round_hole, printed)

    def printed_in(self, way: int) -> tuple[bool, bool]:
        """Whether the outer and the inner half in one of the ways are printed."""
        outer, inner = self.printed
        return (inner, outer) if any(self.turned[way : way + 1]) else (outer, inner)


@dataclass(frozen=True)
class Shift:
    """By how much the expected gap per side is less than the drawn one: in the direction where it shrinks least and
    most, on average, and how unsure the printer's profile is of it (standard deviation)."""

    least_mm: float
    mean_mm: float
    most_mm: float
    unsure_mm: float


def gap_shift(profile: Profile, mating: Mating | None = None) -> Shift:
    """What the printer takes of a drawn gap, flare not counted."""
    mating = mating or Mating()
    belief = belief_of(profile)
    rows = [mating.row(k) for k in range(len(mating.ways))]
    means = [belief.of(row)[0] for row in rows]
    _, unsure = belief.of(np.mean(rows, axis=0))
    return Shift(min(means), sum(means) / len(means), max(means), unsure)


def gap_scatter(profile: Profile, printed: tuple[bool, bool] = (True, True)) -> Scatter:
    """Scatter of a gap between two faces printed with one profile.

    The common offset moves both faces the same way out of their material, so it adds up linearly (2·common);
    the random parts of the two faces are independent, so their squares add (√2·random). A half that is not printed has neither.
    """
    return Scatter(sum(printed) * profile.common_mm, math.sqrt(sum(printed)) * profile.random_mm)


def scatter_by_way(profile: Profile, mating: Mating) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Scatter of the gaps in all of the ways, mm: standard deviations of what they share (times the offset of the print) and of what each has by itself.

    What stands upright comes in whole layers. A size between two faces errs by up to half a layer, evenly (so with layer²/12 for a variance, of which a gap a side has a quarter
    from each half). A depth within one half has nothing of the offset of the print, for both of its faces move alike; its slicer makes whole layers of it, the same number at all
    places (``layers_leave_mm2``).
    """
    scatter = gap_scatter(profile, mating.printed)
    layer = profile.settings.layer_mm
    shared, own = np.full(len(mating.ways), scatter.common_mm), np.full(len(mating.ways), scatter.random_mm)
    for k, (outer, inner, deep) in enumerate(mating.ways):
        if any(mating.rests[k : k + 1]):
            shared[k] = mating.printed[0] * outer[2] ** 2 * math.sqrt(layers_leave_mm2(deep, layer))
            own[k] = mating.printed[0] * math.sqrt(2) * profile.random_mm
        else:
            printed = mating.printed_in(k)
            upright = printed[0] * outer[2] ** 4 + printed[1] * inner[2] ** 4
            own[k] = math.sqrt(own[k] ** 2 + upright * layer**2 / 48)
    return shared, own


def layers_leave_mm2(tall_mm: float, layer_mm: float) -> float:
    """The variance of what comes in whole layers: of n + f of them n + 1 are made in the share f of places or prints and else n, by where they begin, so f·(1 − f) of a layer's square."""
    part = math.modf(tall_mm / layer_mm)[0]
    return part * (1 - part) * layer_mm**2


#: nodes and weights of Gauss and Hermite for a standard normal, five of them
HERMITE = (
    (0.0, 8 / 15), (1.3556261799742659, 0.2220759220056126), (-1.3556261799742659, 0.2220759220056126),
    (2.8569700138728056, 0.0112574113277207), (-2.8569700138728056, 0.0112574113277207),
)  # fmt: skip


def flare_left_mm(profile: Profile, chamfers: Sequence[float]) -> tuple[float, float]:
    """What the first layers of edges that lie on the bed take of a gap, per side, beyond what their chamfers give back.

    The flare f at the bed dies away evenly over its height h; a 45° chamfer of leg m gives back m − z at the height z.
    Their difference is largest at z = min(m, h): f·(1 − m/h), or 0 where the chamfer is as high as the flare
    (or f − m at the bed itself). ``chamfers`` are the legs of the edges on the bed. Returns the sum and how unsure it is: the root of
    the mean square by which it differs when f and h do, each normal (nodes of Gauss and Hermite, Abramowitz and Stegun, table 25.10).
    """
    f, h, height_sd = profile.flare_mm, profile.flare_height_mm, profile.flare_height_unsure_mm
    total = float(sum(left_mm(f, h, leg) for leg in chamfers))
    sd = profile.flare_unsure_mm
    square = sum(
        p
        * q
        * (float(sum(left_mm(max(f + a * sd, 0.0), max(h + b * height_sd, 0.05), leg) for leg in chamfers)) - total)
        ** 2
        for a, p in HERMITE
        for b, q in HERMITE
    )
    return total, math.sqrt(square)


def left_mm(
    flare_mm: NDArray[np.float64] | float, height_mm: NDArray[np.float64] | float, leg_mm: float
) -> NDArray[np.float64]:
    """How far first layers stand out, mm a side, beyond a wall whose edge on the bed has a chamfer of that leg (the formula of ``flare_left_mm``)."""
    return np.maximum(np.maximum(flare_mm * (1 - leg_mm / np.asarray(height_mm)), np.asarray(flare_mm) - leg_mm), 0.0)
