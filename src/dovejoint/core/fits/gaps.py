"""Wanted, drawn, expected and measured gaps: four types, so that none is taken for another.

All are per side in mm. *Wanted* is what the printed pieces should have between them, *drawn* what is modelled
so that they will, *expected* what the printer makes of it. *Measured* is the drawn gap as it is in the solids.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace

import numpy as np

from ..document import Profile
from ..errors import StepError
from ..profiles import Mating, gap_shift
from ..profiles.belief import kinds_of
from ..profiles.deviation import scatter_by_way
from ..profiles.law import Spread, even_zones, law_of, sides_of, spread_of, together
from ..profiles.sides import Side, left_by, room_and_play
from ..profiles.trust import trusted

__all__ = ["Chance", "Drawn", "Expected", "Measured", "Wanted", "chance", "drawn_for", "expected_of", "verdict"]


#: more places that are alike hardly make the tightest of them tighter
MOST_PLACES = 8


@dataclass(frozen=True)
class Wanted:
    least_mm: float
    target_mm: float
    most_mm: float

    def checked(self) -> Wanted:
        """Itself, or an error when least, target and most are not in order."""
        if not self.least_mm <= self.target_mm <= self.most_mm or self.least_mm >= self.most_mm:
            raise StepError(
                f"The wanted gap must rise from least over target to most; {self.least_mm:.4g}, "
                f"{self.target_mm:.4g}, {self.most_mm:.4g} mm do not.",
                field="target",
            )
        return self


@dataclass(frozen=True)
class Drawn:
    gap_mm: float


@dataclass(frozen=True)
class Measured:
    """The drawn gap as it is in the solids: least and most where the halves stand as modelled, and the gaps on all ``sides`` of each pair of
    mating zones, on which the chances rest. ``tilt_rad`` is how far the inner half can rock as drawn, ``inner_mm`` how large it is in each zone, in the two
    directions of its frame, ``within_mm`` how exactly all this was read; halves that ``stands`` as they are placed are not shifted."""

    least_mm: float
    most_mm: float
    sides: tuple[tuple[Side, ...], ...]
    tilt_rad: float = 0.0
    inner_mm: tuple[tuple[float, float], ...] = ()
    within_mm: float = 0.005
    stands: bool = False

    @property
    def room_mm(self) -> float:
        """The drawn gap all round at the best place that the inner half can be put."""
        return left_by(self.sides, self.stands)[0]

    @property
    def play_mm(self) -> float:
        """Half of the drawn way from one stop to the other where it is longest."""
        return left_by(self.sides, self.stands)[1]

    def sizes_mm(self, zone: int) -> tuple[tuple[float, float], tuple[float, float]] | None:
        """Outer and inner size of a zone in each of its two directions, as a caliper would find them; ``None`` where a side is open."""
        out = []
        for k, inner in enumerate(self.inner_mm[zone]):
            facing = [[g for g, *way in self.sides[zone] if sign * way[k] > SQUARE] for sign in (1.0, -1.0)]
            if not all(facing):
                return None
            out.append((inner + min(facing[0]) + min(facing[1]), inner))
        return out[0], out[1]


@dataclass(frozen=True)
class Expected:
    """The printed gap: its centre at the best place (``least``, with what flares taken off) and the play (``most``), its scatter from
    print to print (common and random), and how unsure the profile is of the centre, all three standard deviations.

    Of 40 prints 39 are expected to have more room than ``low_mm``, and 39 less play than ``high_mm``. ``spread`` is the whole law (``None`` where only figures were kept), ``record``
    what came of chances that were shown before on this machine.
    """

    least_mm: float
    most_mm: float
    common_mm: float
    random_mm: float
    unsure_mm: float
    low_mm: float
    high_mm: float
    spread: Spread | None = field(compare=False, repr=False)
    record: tuple[tuple[float, bool], ...] = field(default=(), repr=False)

    @property
    def law(self) -> Spread:
        """The whole law. Raises ValueError where only the figures were kept."""
        if self.spread is None:
            raise ValueError("only the figures of this expectation were kept")
        return self.spread

    def figures(self) -> Expected:
        """The figures alone: the law takes some 80 kB, which is much for what is only to be told."""
        return replace(self, spread=None)


@dataclass(frozen=True)
class Chance:
    """Shares of prints, 0 to 1: it goes in (the room at the best place keeps the least wanted gap), it holds (the play keeps the most),
    and both at once."""

    goes_in: float
    holds: float
    fits: float


#: a side lies across a direction within 3 degrees
SQUARE = 0.9986
#: drawn gaps are rounded to this, so that what a profile learns in its third decimal reprints nothing, mm
DRAWN_STEP_MM = 0.01
#: the share of prints beyond either end of what is expected: that of a normal distribution beyond two standard deviations
BEYOND = 0.02275


def drawn_for(wanted: Wanted, profile: Profile, mating: Mating | None = None) -> Drawn:
    """The gap to draw: the printer's deviation is taken off here and nowhere else. Flare is not: a chamfer takes it.

    Where halves meet at several places at once, the tightest of them decides whether they go in and whether they have play: it is the middle
    between room and play that is put on the target, not the mean of all sides.
    """
    gap = wanted.target_mm + gap_shift(profile, mating).mean_mm
    if mating is not None and mating.places > 1:
        # how far it is off does not hang on what is taken off all sides alike
        alike = min(mating.places, MOST_PLACES)
        every = Mating(mating.ways * alike, printed=mating.printed, turned=mating.turned * alike)
        mean = gap_shift(profile, every).mean_mm
        spread = expected_of(Drawn(wanted.target_mm + mean), profile, every).law
        gap += wanted.target_mm - (spread.room_at(0.5) + spread.play_at(0.5)) / 2
    return Drawn(round(round(gap / DRAWN_STEP_MM) * DRAWN_STEP_MM, 6))


def expected_of(gap: Drawn | Measured, profile: Profile, mating: Mating | None = None) -> Expected:
    """What a printer makes of a drawn gap, as typed or as measured on the solids."""
    mating = mating or Mating()
    zones = gap.sides if isinstance(gap, Measured) else even_zones(gap.gap_mm, mating)
    sides, (shared, own) = sides_of(zones, mating), scatter_by_way(profile, mating)
    laws = [(share, law_of(profile, mating, kind)) for share, kind in kinds_of(profile)]
    spread = together([(share, spread_of(law, sides)) for share, law in laws])
    mean = np.sum([share * law.mean for share, law in laws], axis=0)
    room, play = room_and_play(sides, mean[None])
    return Expected(
        float(room[0]) - mating.flare_mm,
        float(play[0]),
        float(shared.mean()),
        float(own.mean()),
        math.hypot(gap_shift(profile, mating).unsure_mm, mating.flare_unsure_mm),
        spread.room_at(BEYOND),
        spread.play_at(1 - BEYOND),
        spread,
        tuple((float(p), good) for p, good in profile.record),
    )


def chance(wanted: Wanted, expected: Expected) -> Chance:
    """The chances by the joint law of all directions in which the halves meet, as experience with this machine leaves them."""
    spread, least, most = expected.law, wanted.least_mm, wanted.most_mm
    goes_in, holds, fits = spread.share(least_mm=least), spread.share(most_mm=most), spread.share(least, most)
    kept = trusted(fits, expected.record)
    # what experience adds to the failures, or takes off them, goes to both kinds in proportion
    more = (1 - kept) / (1 - fits) if fits < 1 else 1.0
    return Chance(max(0.0, 1 - (1 - goes_in) * more), max(0.0, 1 - (1 - holds) * more), kept)


#: shares of prints from which something is well, and from which doubtful
WELL, DOUBTFUL = 0.95, 0.6


def verdict(chance: Chance) -> tuple[str, str]:
    """A state (well, doubtful, wrong) and what it means in words.

    Well from 95 of 100 prints on, doubtful from 60, wrong below.
    """
    state = "well" if chance.fits >= WELL else "doubtful" if chance.fits >= DOUBTFUL else "wrong"
    tight, loose = 1 - chance.goes_in, 1 - chance.holds
    if state == "well" or (state == "doubtful" and abs(tight - loose) < 0.02):
        return state, f"fits in {_of_hundred(chance.fits)} of 100"
    if tight >= loose:
        return state, f"too tight in {_of_hundred(tight)} of 100"
    return state, f"too loose in {_of_hundred(loose)} of 100"


def _of_hundred(share: float) -> int:
    return round(100 * share)
