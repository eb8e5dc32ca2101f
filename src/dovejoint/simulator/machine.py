"""The printer: hidden ways in which it deviates, drawn from its number, and what it makes of a piece.

All values are invented, within what tuned desktop machines do. Its law is not the estimator's: it wanders from print to print,
small things come out a little smaller still, heights come in whole layers, seams and corners stand out, and long walls bow in.
"""

from __future__ import annotations

import math
import random
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

__all__ = ["Hidden", "Machine", "hidden_of"]

#: sizes below this lose a little more, mm
SMALL_MM = 8.0
#: of a seam that stands out, this share is not simply scraped off when pieces are pushed together
SEAM_SHARE = 0.2


@dataclass(frozen=True)
class Hidden:
    """How one machine deviates. Scales as ratios, growth per side in mm, ``hole`` in mm², scatter as standard deviations; ``bow`` is by how
    much a wall 100 mm long stands in at its middle, ``bulge`` by how much corners do."""

    scale: tuple[float, float, float]
    outside: tuple[float, float]
    inside: tuple[float, float]
    hole: float
    small: float
    squash: float
    flare: float
    flare_height: float
    seam: float
    drift: float
    memory: float
    random: float
    bow: float = 0.0
    bulge: float = 0.0
    layer: float = 0.2


def hidden_of(number: int) -> Hidden:
    """The hidden state of a machine; the same number is always the same machine."""
    dice = random.Random(f"simulated printer {number}")
    shrink = dice.uniform(0.0, 0.004)
    outside = dice.triangular(-0.03, 0.14, 0.05)
    inside = dice.triangular(0.02, 0.19, 0.09) + 0.3 * (outside - 0.05)
    return Hidden(
        scale=(-shrink, -shrink + dice.gauss(0, 0.0007), dice.uniform(-0.0015, 0.0005)),
        outside=(outside, outside + dice.gauss(0, 0.012)),
        inside=(inside, inside + dice.gauss(0, 0.014)),
        hole=dice.uniform(0.1, 0.5),
        small=dice.uniform(0.0, 0.025),
        squash=dice.uniform(-0.1, 0.03),
        flare=dice.uniform(0.1, 0.32),
        flare_height=dice.uniform(0.25, 0.5),
        seam=dice.uniform(0.03, 0.12),
        drift=dice.uniform(0.007, 0.017),
        memory=dice.uniform(0.3, 0.8),
        random=dice.uniform(0.009, 0.023),
        bow=dice.uniform(0.0, 0.05),
        bulge=dice.uniform(0.0, 0.02),
    )


@dataclass
class Machine:
    """A machine at work: its hidden state, how many prints it has made, and how far it has wandered (mm a side)."""

    number: int
    hidden: Hidden
    prints: int = 0
    wander: float = 0.0

    def next_print(self) -> random.Random:
        """Begin a print: the machine wanders on, and this print's dice are thrown."""
        self.prints += 1
        dice = random.Random(f"machine {self.number} print {self.prints}")
        h = self.hidden
        # keeps part of where it was; the rest is new, so that the spread stays the same over the years
        self.wander = h.memory * self.wander + math.sqrt(1 - h.memory**2) * dice.gauss(0, h.drift)
        return dice

    def make(self, features: Sequence[dict[str, Any]], dice: random.Random) -> dict[str, float]:
        """True sizes of a piece's features (mm), by their ids.

        Each feature has ``id``, ``role`` (outside, inside or depth), ``direction`` as printed, ``drawn_mm`` and ``round_hole``. One with ``foot_of`` is
        another one of them, where it stands on the bed, its edges there chamfered by ``chamfer_mm``.
        """
        sizes = {f["id"]: self._size(f, dice) for f in features if not f.get("foot_of")}
        squashed = {
            f["id"]: sizes[f["foot_of"]] + 2 * self._stands_out_mm(f.get("chamfer_mm", 0.0))
            for f in features
            if f.get("foot_of")
        }
        return {**sizes, **squashed}

    def _size(self, feature: dict[str, Any], dice: random.Random) -> float:
        h, drawn = self.hidden, float(feature["drawn_mm"])
        shares = [float(c) ** 2 for c in feature["direction"]]
        total = sum(shares) or 1.0
        shares = [s / total for s in shares]
        own = dice.gauss(0, h.random)
        if feature["role"] == "depth":
            return self._depth(drawn, shares, own + dice.gauss(0, h.random))
        flat = shares[0] + shares[1]
        size = drawn * (1 + sum(s * k for s, k in zip(shares, h.scale, strict=True)))
        lost = h.small * max(0.0, 1 - drawn / SMALL_MM)
        if feature["role"] == "outside":
            growth = (shares[0] * h.outside[0] + shares[1] * h.outside[1]) + flat * self.wander + own
            size += 2 * growth - lost
        else:
            growth = (shares[0] * h.inside[0] + shares[1] * h.inside[1]) + flat * self.wander + own
            size -= 2 * growth + lost
            if feature.get("round_hole"):
                size -= h.hole / drawn
        if shares[2] > 0.5:
            # a layer is laid when its middle is below the top
            layers = math.floor(drawn / h.layer + 0.5)
            size += (layers * h.layer - drawn) * shares[2] + h.squash * shares[2]
        return max(size, 0.01)

    def _depth(self, drawn_mm: float, shares: Sequence[float], own_mm: float) -> float:
        """Both of its faces look the same way, so what moves walls moves both; upright it is whole layers, one more or less by where they begin in this print."""
        h = self.hidden
        size = drawn_mm * (1 + sum(s * k for s, k in zip(shares, h.scale, strict=True))) + own_mm
        if shares[2] > 0.5:
            begins = random.Random(f"layers of machine {self.number} print {self.prints}").random()
            size += math.floor(drawn_mm / h.layer + begins) * h.layer - drawn_mm
        return max(size, 0.01)

    def shape_lost_mm(self, width_mm: float, depth_mm: float, round_joint: bool) -> tuple[float, float]:
        """What bowed walls and bulging corners take of the gap across and deep, beyond what a caliper finds; a wall bows with the
        square of its length."""
        if round_joint:
            return 0.0, 0.0
        h = self.hidden
        return tuple(h.bow * (length / 100) ** 2 + h.bulge for length in (depth_mm, width_mm))  # type: ignore[return-value]

    def gap_lost_mm(self, chamfers_mm: Sequence[float]) -> float:
        """What flare and seam take of a gap beyond its sizes; ``chamfers_mm`` are those of mating edges on the bed."""
        return SEAM_SHARE * self.hidden.seam + sum(self._stands_out_mm(leg) for leg in chamfers_mm)

    def _stands_out_mm(self, leg_mm: float) -> float:
        """How far the first layers stand out beyond a wall whose edge on the bed has a chamfer of that leg, at the height where they do most."""
        h = self.hidden
        heights = [k / 50 * h.flare_height for k in range(51)]
        return max(0.0, *(h.flare * (1 - z / h.flare_height) - max(0.0, leg_mm - z) for z in heights))
