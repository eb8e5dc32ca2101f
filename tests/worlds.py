"""Worlds in which the chances that are shown can be counted: one drawn from the program's own prior, and such as it does not know.

Nothing here uses what it judges: printers, sizes and the putting together are written out by themselves. A world's magnitudes stand in
WORLDS; they are invented, and wider than what the program takes for granted.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cache
from typing import Any

import numpy as np

from dovejoint.core.document import Profile
from dovejoint.core.fits import FIT_CLASSES, Measured, Wanted, chance, drawn_for, expected_of
from dovejoint.core.printing.coupons import ladder_of, make_coupon
from dovejoint.core.profiles import DEFAULT_PROFILE, Mating, flare_left_mm
from dovejoint.core.profiles.catalogue import make_profile
from dovejoint.core.profiles.learn import Ladder, SizeReading, Verdict, learn
from dovejoint.simulator.hands import together

X, Y = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)
#: printers that are set up, as the program's own prior has them, written down once more: mean and standard deviation of scale (x, y), outside, inside (x, y), hole
ALIKE = 0.6
PRIOR = {"scale": (-0.002, 0.0015), "outside": (0.05, 0.035), "inside": (0.10, 0.04), "hole": (0.3, 0.15)}
COMMON, RANDOM, FLARE, FLARE_SD, FLARE_HEIGHT, HEIGHT_SD = 0.015, 0.022, 0.2, 0.06, 0.4, 0.09


@dataclass(frozen=True)
class World:
    """What is other than the program takes for granted. Lengths in mm a side.

    tails : degrees of freedom of Student's t for what each size errs (0: normal).
    small, large : what a size loses below 10 mm (all of it at 0), and by which it shrinks more per 100 mm, squared.
    backlash : standard deviation of a growth in Y that X has not.
    flare, flare_height : mean of the first layers' flare, and of its height.
    bow : an opening's wall bows in by up to so much for 100 mm of length, squared.
    bulge : corners of rectangular halves stand out by up to so much.
    untuned : growth outside and inside beyond the middle values: mean and standard deviation.
    contours : standard deviation of what outside faces and openings lie out together.
    besides : what joints of 10, 30 and 100 mm lose besides, standard deviations.
    round_loses : the share of that which round joints lose.
    """

    tails: float = 0.0
    small: float = 0.0
    large: float = 0.0
    backlash: float = 0.0
    flare: float = FLARE
    flare_height: float = FLARE_HEIGHT
    bow: float = 0.0
    bulge: float = 0.0
    untuned: tuple[float, float] = (0.0, 0.0)
    contours: float = 0.0
    besides: tuple[float, float, float] = (0.015, 0.018, 0.045)
    round_loses: float = 1.0


#: as wide as the program takes joints to be
_OWN = (0.018, 0.025, 0.05)
WORLDS = {
    "own": World(contours=0.06, besides=_OWN, round_loses=0.5),
    "set up": World(besides=_OWN, round_loses=0.5),
    "tails": World(tails=3.0),
    "sizes": World(small=0.06, large=0.05),
    "backlash": World(backlash=0.06),
    "flare": World(flare=0.32, flare_height=0.55),
    "bowed": World(bow=0.15),
    "corners": World(bulge=0.07),
    "untuned": World(untuned=(0.06, 0.05)),
    "untuned, said to be set up": World(untuned=(0.06, 0.05)),
    "untuned, said not to be": World(untuned=(0.06, 0.05)),
    "all": World(3.0, 0.04, 0.03, 0.04, 0.28, 0.5, 0.08, 0.04, (0.03, 0.03)),
}


class Printer:
    """One printer of a world."""

    def __init__(self, world: World, dice: np.random.Generator) -> None:
        self.world, self.dice = world, dice

        def two(name: str, alike: float) -> list[float]:
            mean, sd = PRIOR[name]
            both = dice.normal()
            return [mean + sd * (math.sqrt(alike) * both + math.sqrt(1 - alike) * dice.normal()) for _ in "xy"]

        self.scale = two("scale", 0.7)
        # outside faces and openings of one printer lean the same way by 0.3; X and Y by 0.85
        lean = np.linalg.cholesky(np.kron([[1, 0.3], [0.3, 1]], np.ones((2, 2))) * 1.0 + _apart())
        z = lean @ dice.normal(size=4)
        self.outside = [PRIOR["outside"][0] + PRIOR["outside"][1] * z[k] for k in (0, 1)]
        self.inside = [PRIOR["inside"][0] + PRIOR["inside"][1] * z[k] for k in (2, 3)]
        self.hole = PRIOR["hole"][0] + PRIOR["hole"][1] * dice.normal()
        # one after the other, each 0.6 alike to the one before
        chain = [dice.normal()]
        for _ in world.besides[1:]:
            chain.append(ALIKE * chain[-1] + math.sqrt(1 - ALIKE**2) * dice.normal())
        self.besides = [sd * c for sd, c in zip(world.besides, chain, strict=True)]
        out = world.contours * dice.normal() if world.contours else 0.0
        self.outside, self.inside = [g + out for g in self.outside], [g + out for g in self.inside]
        self.outside[1] += world.backlash * dice.normal()
        for growth in (self.outside, self.inside):
            more = dice.normal(*world.untuned) if world.untuned[1] else 0.0
            growth[0], growth[1] = growth[0] + more, growth[1] + more
        self.flare = max(0.0, dice.normal(world.flare, FLARE_SD))
        self.flare_height = max(0.1, dice.normal(world.flare_height, HEIGHT_SD))
        self.bow, self.bulge = world.bow * dice.random(), world.bulge * dice.random()

    def offset(self) -> float:
        """The offset of one print, mm a side."""
        return float(self.dice.normal(0, COMMON))

    def lost(self, size: float) -> float:
        """What a joint so wide loses of its gap besides."""
        return float(np.interp(math.log(size), np.log([10, 30, 100]), self.besides))

    def stands_out(self, leg: float, more: float = 0.0) -> float:
        """How far first layers (which stand out by so much more than usual) do so beyond a chamfer of that leg."""
        heights = np.linspace(0, self.flare_height, 60)
        left = (self.flare + more) * (1 - heights / self.flare_height) - np.maximum(leg - heights, 0)
        return max(0.0, float(np.max(left)))

    def own(self) -> float:
        """What a size errs by itself, mm a side."""
        if not self.world.tails:
            return float(self.dice.normal(0, RANDOM))
        n = self.world.tails
        return float(self.dice.standard_t(n)) * RANDOM / math.sqrt(n / (n - 2))

    def size(self, role: str, direction: Sequence[float], drawn: float, round_hole: bool, offset: float) -> float:
        share = [c * c for c in direction]
        flat = share[0] + share[1]
        out = drawn * (1 + share[0] * self.scale[0] + share[1] * self.scale[1] - 0.0005 * share[2])
        lost = self.world.small * max(0.0, 1 - drawn / 10) + self.world.large * (drawn / 100) ** 2
        own = self.own()
        if role == "outside":
            grown = share[0] * self.outside[0] + share[1] * self.outside[1] - 0.02 * share[2]
            return out + 2 * (grown + offset * flat + own) - flat * lost
        closed = share[0] * self.inside[0] + share[1] * self.inside[1] + 0.05 * share[2]
        out -= 2 * (closed + offset * flat + own) + flat * lost
        return out - self.hole / drawn if round_hole else out


def _apart() -> Any:
    """What makes X and Y of outside and of inside 0.85 alike, and the two 0.3, of the block of ones and 0.3s."""
    full = np.array([[1, 0.85, 0.3, 0.3], [0.85, 1, 0.3, 0.3], [0.3, 0.3, 1, 0.85], [0.3, 0.3, 0.85, 1]])
    return full - np.kron([[1, 0.3], [0.3, 1]], np.ones((2, 2)))


@dataclass
class Joint:
    """Halves that meet on some sides; ``uneven`` is what later steps took from or gave to the gap on each side."""

    width: float
    depth: float
    wanted: Wanted
    chamfers: tuple[float, ...]
    ways: tuple[tuple[float, float], ...]
    uneven: tuple[float, ...]
    round_hole: bool = False

    def mating(self, profile: Profile) -> Mating:
        lies = ((X, X, self.width), (Y, Y, self.depth))
        return Mating(
            lies, *flare_left_mm(profile, self.chamfers), round_hole=self.round_hole, chamfers_mm=self.chamfers
        )

    def drawn(self, profile: Profile) -> float:
        return drawn_for(self.wanted, profile, self.mating(profile)).gap_mm

    def sides(self, drawn: float) -> tuple[tuple[float, float, float], ...]:
        return tuple((drawn + u, x, y) for u, (x, y) in zip(self.uneven, self.ways, strict=True))

    def shown(self, profile: Profile, drawn: float) -> float:
        sides = self.sides(drawn)
        gaps = [g for g, _, _ in sides]
        measured = Measured(min(gaps), max(gaps), (sides,))
        return chance(self.wanted, expected_of(measured, profile, self.mating(profile))).fits

    def tried(self, printer: Printer, drawn: float) -> str:
        """Print both halves and put them together."""
        offset = printer.offset()
        printed = {}
        for way, direction, size in (("x", X, self.width), ("y", Y, self.depth)):
            outer = printer.size("inside", direction, size, self.round_hole, offset)
            inner = printer.size("outside", direction, size - 2 * drawn, False, offset)
            share = printer.world.round_loses if self.round_hole else 1.0
            printed[way] = (outer - inner) / 2 - share * printer.lost(size)
        sides = []
        for g, x, y in self.sides(drawn):
            length = self.depth if abs(x) > abs(y) else self.width
            lost = 0.0 if self.round_hole else printer.bow * (length / 100) ** 2 + printer.bulge * (len(self.ways) == 4)
            sides.append((g - lost, x, y))
        room, play = together([sides], {"x": drawn, "y": drawn}, printed)
        for leg in self.chamfers:
            room -= printer.stands_out(leg)
        return "too tight" if room < self.wanted.least_mm else "loose" if play > self.wanted.most_mm else "good"


def some_joint(dice: np.random.Generator) -> Joint:
    """Rectangular, six-sided or round, every third changed on one side by a later step."""
    wanted = FIT_CLASSES[str(dice.choice(["slide", "snug", "loose"]))].wanted
    width = float(np.exp(dice.uniform(math.log(10), math.log(120))))
    kind = dice.choice(["four", "six", "round"], p=[0.6, 0.2, 0.2])
    n = {"four": 4, "six": 6, "round": 16}[str(kind)]
    depth = width if n != 4 else float(np.clip(width * np.exp(dice.normal(0, 0.4)), 8, 150))
    ways = tuple((math.cos(2 * math.pi * k / n), math.sin(2 * math.pi * k / n)) for k in range(n))
    uneven = [0.0] * n
    if dice.random() < 0.33:
        uneven[int(dice.integers(n))] = float(dice.uniform(-0.12, 0.15))
    chamfers = (0.3,) if dice.random() < 0.3 else ()
    return Joint(width, depth, wanted, chamfers, ways, tuple(uneven), kind == "round")


@cache
def _coupon() -> Any:
    return make_coupon("sizes", DEFAULT_PROFILE).features


@dataclass
class Maker:
    """Someone with one printer and one joint."""

    world: World
    number: int
    prior: Profile = DEFAULT_PROFILE
    evidence: list[Any] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.profile = self.prior
        self.dice = np.random.default_rng((self.number, 7))
        self.printer = Printer(self.world, self.dice)
        self.joint = some_joint(self.dice)
        self.prints = 0

    def measure_coupon(self) -> None:
        self.prints += 1
        offset, first = self.printer.offset(), float(self.dice.normal(0, 0.02))
        made: dict[str, float] = {}
        for f in _coupon():
            if f.foot_of:
                # first layers differ a little from print to print
                true = made[f.foot_of] + 2 * self.printer.stands_out(f.chamfer_mm, first)
            else:
                true = made[f.id] = self.printer.size(f.role, f.direction, f.drawn_mm, f.round_hole, offset)
            if f.round_hole:
                # flat jaws touch a hole along a chord
                true = math.sqrt(true * true - 0.4**2)
            read = round((true + self.dice.normal(0, 0.008)) / 0.02) * 0.02
            self.evidence.append(
                SizeReading(
                    f.role,
                    f.direction,
                    f.drawn_mm,
                    read,
                    str(self.prints),
                    f.round_hole,
                    0.02,
                    f.foot_of or f.id,
                    bool(f.foot_of),
                    f.chamfer_mm,
                )
            )
        self.learn()

    def try_long_ladder(self) -> None:
        """One bar of 12 × 80 and five openings for it, sharp in their corners, tried without a caliper."""
        self.prints += 1
        offset, printer = self.printer.offset(), self.printer
        gaps = ladder_of(self.profile, "walls")
        bar = {w: printer.size("outside", d, s, False, offset) for w, d, s in (("x", X, 12.0), ("y", Y, 80.0))}
        went = 0
        for gap in gaps:
            left = []
            for way, direction, size, wall in (("x", X, 12.0, 80.0), ("y", Y, 80.0, 12.0)):
                opening = printer.size("inside", direction, size + 2 * gap, False, offset)
                shape = printer.bow * (wall / 100) ** 2 + printer.bulge
                left.append((opening - bar[way]) / 2 - printer.lost(size) - shape)
            went += min(left) >= 0.03
        self.evidence.append(Ladder(gaps, went, Mating(((X, X, 12.0), (Y, Y, 80.0)))))
        self.learn()

    def learn(self) -> None:
        self.profile = learn(self.prior, self.evidence).profile

    def stage(self) -> tuple[float, bool, str, float]:
        """What is shown before a print, whether it fits, the verdict, and the gap that was drawn."""
        drawn = self.joint.drawn(self.profile)
        shown = self.joint.shown(self.profile, drawn)
        said = self.joint.tried(self.printer, drawn)
        return shown, said == "good", said, drawn

    def tell(self, said: str, drawn: float) -> None:
        wanted = self.joint.wanted
        sides = (self.joint.sides(drawn),)
        mating = self.joint.mating(self.profile)
        self.evidence.append(Verdict(drawn, wanted.least_mm, wanted.most_mm, said, mating, sides))  # type: ignore[arg-type]
        self.learn()


#: what a maker says who has not set the printer up
NOT_SET_UP = make_profile("pr1", "bench", 0.4, "PLA", tuned=False)
#: and one who has
SET_UP = make_profile("pr1", "bench", 0.4, "PLA", tuned=True)
#: where something was said of the printer
SAID = {"set up": SET_UP, "untuned, said to be set up": SET_UP, "untuned, said not to be": NOT_SET_UP}
STAGES = ("unmeasured", "coupon", "verdict", "coupon and long ladder", "coupon and two verdicts")


def life(world: World, number: int, prior: Profile = DEFAULT_PROFILE) -> dict[str, tuple[float, bool]]:
    """One maker through all stages: what was shown and whether it fitted. ``prior`` is what was said of the printer at first."""
    out = {}
    maker = Maker(world, number, prior)
    shown, good, said, drawn = maker.stage()
    out["unmeasured"] = (shown, good)
    maker.tell(said, drawn)
    shown, good, _, _ = maker.stage()
    out["verdict"] = (shown, good)
    maker.evidence.clear()
    maker.profile = prior
    maker.measure_coupon()
    shown, good, said, drawn = maker.stage()
    out["coupon"] = (shown, good)
    maker.tell(said, drawn)
    _, _, said, drawn = maker.stage()
    maker.tell(said, drawn)
    shown, good, _, _ = maker.stage()
    out["coupon and two verdicts"] = (shown, good)
    other = Maker(world, number, prior)
    other.measure_coupon()
    other.try_long_ladder()
    shown, good, _, _ = other.stage()
    out["coupon and long ladder"] = (shown, good)
    return out


def counted(rows: Sequence[tuple[float, bool]], least: int = 100) -> list[tuple[float, float, int]]:
    """For each tenth of the chances with enough joints: the mean of what was shown, the share that fitted, and how many."""
    out = []
    for k in range(10):
        inside = [(s, g) for s, g in rows if k / 10 <= s < (k + 1) / 10 or (k == 9 and s >= 1)]
        if len(inside) >= least:
            out.append((float(np.mean([s for s, _ in inside])), float(np.mean([g for _, g in inside])), len(inside)))
    return out
