"""How often the 95 % intervals of a line through readings hold: in worlds with drift, repeats, misreadings and heavy tails."""

from __future__ import annotations

import random
from collections.abc import Callable

from dovejoint.core.profiles.calibrate import calibrate

SIZES = (5.0, 10.0, 20.0, 40.0, 80.0)
DRIFT, OWN, HAND = 0.03, 0.03, 0.008

Rows = list[tuple[float, float, str, str]]


def _print(dice: random.Random, name: str, times: int = 1, drift: float = 0.0, tails: bool = False) -> Rows:
    """One print of five features, each read some times: drawn, read, print, feature."""
    offset = dice.gauss(0, drift) if drift else 0.0
    rows: Rows = []
    for size in SIZES:
        own = dice.gauss(0, OWN)
        if tails:
            # Student's t with 4 degrees of freedom, scaled to the same standard deviation
            own *= (4 / sum(dice.gauss(0, 1) ** 2 for _ in range(4))) ** 0.5 / 2**0.5
        for _ in range(times):
            rows.append((size, size * 0.997 + 0.12 + offset + own + dice.gauss(0, HAND), name, f"{name}:{size}"))
    return rows


def _many(prints: int, **how: float) -> Callable[[random.Random], Rows]:
    return lambda dice: [r for k in range(prints) for r in _print(dice, str(k), **how)]  # type: ignore[arg-type]


def _gross(dice: random.Random) -> Rows:
    rows = _many(4)(dice)
    k = dice.randrange(len(rows))
    rows[k] = (rows[k][0], rows[k][1] + dice.choice([-1.0, 1.0]), *rows[k][2:])
    return rows


#: for each world how readings come about, and by how much the prints of it drift
WORLDS: dict[str, tuple[Callable[[random.Random], Rows], float]] = {
    "clean": (_many(4), 0.0),
    "common drift": (_many(6, drift=DRIFT), DRIFT),
    "few readings": (_many(1), 0.0),
    "repeats": (_many(4, times=6), 0.0),
    "one gross error": (_gross, 0.0),
    "heavy tails": (_many(4, tails=True), 0.0),
}


def covered(name: str, rounds: int, seed: int = 1) -> dict[str, float]:
    """The share of rounds in which the intervals of slope, offset and of one future size hold."""
    make, drift = WORLDS[name]
    hits = {"slope": 0, "offset": 0, "future": 0}
    for k in range(rounds):
        dice = random.Random(f"{name} {seed} {k}")
        rows = make(dice)
        drawn, read, prints, features = zip(*rows, strict=True)
        found = calibrate(drawn, read, 0.0, prints, features, leave_out=True)
        hits["slope"] += found.interval_a[0] <= 0.997 <= found.interval_a[1]
        hits["offset"] += found.interval_b_mm[0] <= 0.12 <= found.interval_b_mm[1]
        # one size of a print that is not there yet, read once (of the same print where nothing drifts)
        nexts = _print(dice, "next", drift=drift, tails="tails" in name)
        size, true, _, _ = nexts[2]
        hits["future"] += abs(true - found.expected_mm(size)) <= found.half_of_one_mm(size)
    return {what: count / rounds for what, count in hits.items()}
