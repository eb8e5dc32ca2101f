"""Locating pins: volumes by hand, places on what lies on each other and nowhere else, gaps, hidden machines, and refusals."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench, flat, good_on_hidden_machines

from dovejoint.core.document import new_project


class Halves(Bench):
    """A lower half 60 × 40 × 20 and an upper one 50 × 30 × 16 on it, set aside, with pins on the lower one's top."""

    def __init__(self, right: float = 8.0, up: float = 20.0, **pins: Any) -> None:
        super().__init__(new_project("Halves"))
        self.do("AddValue", name="wide", formula="50 mm")
        low, self.low = self.slab("60 mm", "40 mm", "20 mm", [0, 0, 0], "Lower half")
        _, self.high = self.slab("wide", "30 mm", "16 mm", [right, 0, up], "Upper half")
        fields = {"base": flat(self, self.low, f"{low}/end"), "host": self.high, **pins}
        (self.step,) = self.do("AddStep", kind="pins", fields=fields)

    def slab(self, wide: str, deep: str, high: str, origin: list[float], name: str) -> list[str]:
        on = {"rule": "fixed", "origin": origin, "x": [1, 0, 0], "y": [0, 1, 0]}
        return self.do("AddStep", kind="body", fields={"wide": wide, "deep": deep, "high": high, "on": on}, new_part={"name": name})  # fmt: skip


@pytest.mark.parametrize(("takes", "outer"), [("inner", 0.0), ("both", 0.5), ("outer", 1.0)])
def test_volumes_by_hand_and_the_gap_of_every_pin(takes: str, outer: float) -> None:
    halves = Halves(pegs="3", takes=takes)
    assert halves.message(halves.step) == ""
    joint = halves.joint()
    gap = joint.drawn.gap_mm
    peg, socket = 3 - (1 - outer) * gap, 3 + outer * gap

    def cone(r: float, s: float, high: float) -> float:
        return math.pi * high / 3 * (r**2 + r * s + s**2)

    assert halves.volume(halves.low) - 48_000 == pytest.approx(3 * (math.pi * peg**2 * 7.4 + cone(peg, peg - 0.6, 0.6)), rel=1e-6)  # fmt: skip
    assert 24_000 - halves.volume(halves.high) == pytest.approx(3 * (math.pi * socket**2 * 8.1 + cone(socket, socket + 0.4, 0.4)), rel=1e-6)  # fmt: skip
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((gap, gap), abs=0.003)
    assert joint.note == ""


def test_pins_stand_only_where_the_two_lie_on_each_other() -> None:
    for right in (8.0, 20.0, -30.0):
        halves = Halves(right=right, pegs="2")
        mates = halves.evaluate().made[halves.step].joint.mates
        clear = 3 + 1.2
        left, end = max(-30.0, right - 25) + clear, min(30.0, right + 25) - clear
        for mate in mates:
            x, y, z = mate.frame.origin
            assert left - 1e-6 <= x <= end + 1e-6 and abs(y) <= 15 - clear + 1e-6 and z == pytest.approx(20.0)
        assert math.dist(mates[0].frame.origin, mates[1].frame.origin) > 15
    halves.set("wide", "40 mm")
    assert halves.message(halves.step) == "" and halves.joint().measured.least_mm == pytest.approx(halves.joint().drawn.gap_mm, abs=0.003)  # fmt: skip


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"up": 21.0}, "no flat face that lies on this one"),
        ({"right": 54.0}, "nowhere wide enough"),
        ({"long": "16 mm"}, "none of them"),
        ({"pegs": "24", "diameter": "9 mm"}, "room and depth for only"),
        ({"pegs": "0"}, "1 to 24 pegs"),
        ({"diameter": "1 mm"}, "nothing of the pegs"),
    ],
)
def test_what_is_refused(fields: dict[str, Any], words: str) -> None:
    halves = Halves(**fields)
    assert words in halves.message(halves.step)


def test_pins_on_hidden_machines() -> None:
    """Printed unmeasured on 150 hidden machines: as often good as is said, within what 150 tell."""
    halves = Halves(pegs="2")
    good, told = good_on_hidden_machines(halves, halves.step)
    assert told > 0.1 and good == pytest.approx(told, abs=0.14), (good, told)
