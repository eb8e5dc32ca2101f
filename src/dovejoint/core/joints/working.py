"""What a joint works out: the hand-book's figures for it, over all that is not sure, against what the material bears.

A family gives one function, ``works``, from :class:`Draws` to :class:`Working`. The draws are so many cases of equal weight, the first of them the
usual one: the printed gap by the law of the joint, and each material's figures in their ranges (triangular between low, usual and high), spread evenly without
dice by the additive lattice of the generalised golden ratio (Roberts 2018). So each figure comes with its range, and each limit with the share of cases that
keep it; and what gap and strength share (a tight fit strains more) is counted once.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from ..calculators.materials import ACROSS_LAYERS, OFTEN, Material
from ..fits import Expected, Wanted
from ..profiles import Mating
from ..profiles.borne import borne_of, shares_of
from ..profiles.deviation import Direction

__all__ = ["ROUNDED", "SHEARED", "Draws", "Given", "Plot", "Result", "Stuff", "Working", "draws_of", "fitting"]

Array = NDArray[np.float64]
#: PRACTICE: a snap with less undercut than this slips out again, low, usual and high, mm a side
FELT_MM = (0.1, 0.2, 0.3)
#: PRACTICE: what is left of a strain at a root that is not rounded; and the share of an arm's thickness from which on it is
SHARP, ROUNDED = 0.85, 0.1
#: the share of its tensile strength that a section bears when it is sheared (von Mises)
SHEARED = 1 / math.sqrt(3)
#: so many cases beside the usual one
CASES = 512


@dataclass(frozen=True, eq=False)
class Stuff:
    """One half's material: a figure for each case. ``up`` is where the upright of its print points in the joint's frame."""

    material: Material
    modulus_mpa: Array
    strain_once: Array
    strength_mpa: Array
    friction: Array
    expansion_per_k: Array
    up: Direction

    @property
    def name(self) -> str:
        return self.material.name

    @property
    def upright(self) -> float:
        """How much of the joint's axis stands upright as this half is printed (1 upright, 0 lying)."""
        return abs(self.up[2])

    def layered(self, way: int) -> float:
        """What is left of what it bears when it is pulled along the joint's ``x``, ``y`` or ``z`` (0 to 2): where that stands upright, layers are pulled apart."""
        upright = abs(self.up[way]) if self.material.plastic else 0.0
        return 1 - (1 - ACROSS_LAYERS) * upright

    @property
    def bears(self) -> Array:
        """What is borne in each case, as a share of the usual."""
        return self.strain_once / self.material.strain_once[1]

    def arm_limit(self, often: bool, roots: str, sharp: bool, way: int = 2) -> tuple[Array, str]:
        """The strain that an arm along the joint's axis (or another ``way`` of its frame) bears at its root, and why that is less than the material's own: printed upright its layers lie across
        the root (``roots`` says whose), what comes back again and again bears less, and so does a ``sharp`` corner there."""
        weakened = self.layered(way)
        why = ((f"layers across {roots}", weakened < 0.75), ("bent often", often), ("a sharp root", sharp))
        return self.strain_once * weakened * (OFTEN if often else 1.0) * (SHARP if sharp else 1.0), " and ".join(
            w for w, is_so in why if is_so
        )

    def round_limit(self) -> tuple[Array, float]:
        """The strain that a wall round the joint's axis bears, and the share of the material's own that it is: lying, its layers are pulled apart."""
        share = ACROSS_LAYERS + (1 - ACROSS_LAYERS) * self.upright if self.material.plastic else 1.0
        return self.strain_once * share, share

    def usual(self, way: int = 2) -> dict[str, float]:
        """Its usual figures, for those who try the joint; ``upright`` is how much of this way of the joint's frame stands upright."""
        m = self.material
        return {
            "modulus_mpa": m.modulus_mpa[1], "poisson": m.poisson, "strain_once": m.strain_once[1], "strength_mpa": m.strength_mpa[1], "friction": m.friction[1], "upright": abs(self.up[way]),
            "plastic": float(m.plastic),
        }  # fmt: skip


@dataclass(frozen=True, eq=False)
class Draws:
    """All cases: room and play a side as printed, the halves' materials, what is wanted; ``ask`` reads ``facts`` on the solids, ``layer_mm`` is how thick layers are."""

    room_mm: Array
    play_mm: Array
    outer: Stuff
    inner: Stuff
    wanted: Wanted
    fields: Any
    figures: Mapping[str, float]
    ask: Callable[[], Mapping[str, float]]
    layer_mm: float

    @cached_property
    def facts(self) -> Mapping[str, float]:
        """What the solids say, mm by name; asked for only by those who need it."""
        return self.ask()

    @property
    def gap_mm(self) -> Array:
        """All round on average, a side."""
        return (self.room_mm + self.play_mm) / 2

    @cached_property
    def felt_mm(self) -> Array:
        """The least undercut of a snap that is felt, in each case."""
        turns = np.modf(np.arange(1, len(self.room_mm)) * (math.sqrt(5) - 1) / 2)[0]
        return _after(FELT_MM[1], shares_of(FELT_MM, turns))

    @property
    def weaker_mpa(self) -> Array:
        """What the weaker half bears; a metal one beside a plastic one does not count."""
        plastic = [s.strength_mpa for s in (self.outer, self.inner) if s.material.plastic]
        return np.asarray(np.minimum.reduce(plastic or [self.outer.strength_mpa]))

    @property
    def friction(self) -> Array:
        """Between the halves: the slipperier of the two says it."""
        return np.minimum(self.outer.friction, self.inner.friction)


@dataclass(frozen=True)
class Given:
    """What a calculation begins with."""

    name: str
    value: float
    unit: str
    source: str = ""


@dataclass(frozen=True, eq=False)
class Result:
    """A figure in all cases. Where it has a limit, ``fails`` says what happens beyond it: “cracks”; where that is for good, ``bears`` is what of the
    usual the limit's material bears in each case, so that a piece that was tried tells of it."""

    name: str
    values: Array
    unit: str
    limit: Array | float | None = None
    bound: Literal["most", "least"] = "most"
    fails: str = ""
    note: str = ""
    bears: Array | None = None

    @property
    def kept(self) -> NDArray[np.bool_]:
        if self.limit is None:
            return np.ones(len(self.values), dtype=bool)
        return np.asarray(self.values <= self.limit if self.bound == "most" else self.values >= self.limit)

    def as_dict(self) -> dict[str, Any]:
        low, high = np.quantile(self.values[1:], (0.05, 0.95), method="nearest")
        return {
            "name": self.name, "unit": self.unit, "value": _finite(self.values[0]), "low": _finite(low), "high": _finite(high),
            "limit": None if self.limit is None else _finite(np.broadcast_to(self.limit, self.values.shape)[0]), "bound": self.bound,
            "chance": None if self.limit is None else float(self.kept[1:].mean()), "fails": self.fails, "note": self.note,
        }  # fmt: skip


@dataclass(frozen=True)
class Plot:
    """One figure over another, with its limit and where the joint stands."""

    across: str
    up: str
    points: tuple[tuple[float, float], ...]
    limit: float | None
    here: tuple[float, float]

    def as_dict(self) -> dict[str, Any]:
        return {
            "across": self.across, "up": self.up, "points": [list(p) for p in self.points], "limit": self.limit,
            "here": list(self.here),
        }  # fmt: skip


@dataclass(frozen=True, eq=False)
class Working:
    """``fits`` says which of the same cases fit at all. ``acts`` is what somebody who tries the printed halves has to know of them, as plain data:
    its ``kind``, sizes in mm, angles in rad, and the usual figures of what they are made of."""

    title: str
    givens: tuple[Given, ...]
    results: tuple[Result, ...]
    plots: tuple[Plot, ...] = ()
    source: str = ""
    acts: Mapping[str, Any] | None = None
    fits: NDArray[np.bool_] = field(default_factory=lambda: np.ones(CASES + 1, dtype=bool))

    def load(self) -> float | None:
        """How much of what its material usually bears is asked of the piece, in the middle of all cases; ``None`` where nothing would break."""
        asked = [
            np.median((r.values / r.limit * r.bears)[1:])
            for r in self.results
            if r.bears is not None and r.limit is not None
        ]
        return float(max(asked)) if asked else None

    def kept(self) -> float:
        """Of the cases whose gap is as wanted, the share that keeps all limits."""
        cases = np.logical_and.reduce([r.kept for r in self.results])[1:] if self.results else self.fits[1:]
        fit = self.fits[1:]
        return float((cases & fit).sum() / fit.sum()) if fit.any() else float(cases.mean())

    def worst(self) -> tuple[Result, float] | None:
        """The limit that fails in most cases, and in what share."""
        limited = [(r, 1 - float(r.kept[1:].mean())) for r in self.results if r.limit is not None]
        return max(limited, key=lambda rw: rw[1]) if limited else None

    def as_dict(self) -> dict[str, Any]:
        return {
            "title": self.title, "source": self.source,
            "givens": [{"name": g.name, "value": g.value, "unit": g.unit, "source": g.source} for g in self.givens],
            "results": [r.as_dict() for r in self.results],
            "plots": [p.as_dict() for p in self.plots],
            "kept": self.kept(),
        }  # fmt: skip


def _finite(value: Any) -> float | None:
    return float(value) if np.isfinite(value) else None


def draws_of(
    expected: Expected, mating: Mating, materials: tuple[Material, Material], wanted: Wanted, fields: Any, figures: Mapping[str, float],
    ask: Callable[[], Mapping[str, float]], layer_mm: float, borne: Sequence[tuple[float, bool]] = (),
) -> Draws:  # fmt: skip
    """The cases of a joint whose halves (outer, inner) are of these materials; ``borne`` is what printed pieces bore before."""
    weights, room, play = expected.law.cases()
    order = np.argsort(room + play)
    summed = np.cumsum(weights[order])
    lattice = _lattice(11)
    at = order[np.minimum(np.searchsorted(summed, lattice[:, 0] * summed[-1]), len(order) - 1)]
    room_mm = _after(expected.least_mm, room[at] - mating.flare_mm)
    play_mm = _after(expected.most_mm, play[at])
    outer, inner = (
        _stuff(m, k, tuple(mating.up[k]), tuple(borne) if mating.printed[k] else ()) for k, m in enumerate(materials)
    )
    return Draws(room_mm, play_mm, outer, inner, wanted, fields, figures, ask, layer_mm)


def fitting(draws: Draws) -> NDArray[np.bool_]:
    """The cases whose gap is as wanted."""
    return np.asarray((draws.room_mm >= draws.wanted.least_mm) & (draws.play_mm <= draws.wanted.most_mm))


def _after(first: float, rest: Array) -> Array:
    return np.concatenate(([first], rest))


@lru_cache(maxsize=64)
def _stuff(material: Material, half: int, up: Direction, borne: tuple[tuple[float, bool], ...]) -> Stuff:
    """What one half (0 the outer, 1 the inner) is made of in all cases: the same for all joints of a material that lie alike. Read only."""
    points = _lattice(11)[:, 1 + 5 * half : 6 + 5 * half]
    ranges = (material.modulus_mpa, material.strain_once, material.strength_mpa, material.friction, material.expansion_per_k)  # fmt: skip
    modulus, strain, strength, friction, expansion = (
        _after(r[1], shares_of(r, points[:, k])) for k, r in enumerate(ranges)
    )
    strain = _after(strain[0], borne_of(material.strain_once, points[:, 1], borne))
    if borne:
        # the usual case is the middle one of what trials leave
        strain[0] = float(np.median(strain[1:]))
    for array in (modulus, strain, strength, friction, expansion):
        array.flags.writeable = False
    return Stuff(material, modulus, strain, strength, friction, expansion, up)


@lru_cache(maxsize=4)
def _lattice(dimensions: int) -> Array:
    phi = 2.0
    for _ in range(60):
        phi = (1 + phi) ** (1 / (dimensions + 1))
    steps = (1 / phi) ** np.arange(1, dimensions + 1)
    return np.asarray((0.5 + np.outer(np.arange(1, CASES + 1), steps)) % 1.0)
