"""Splitting and rejoining by pegs: volumes by hand, where pegs stand, gaps of all of them, and what is refused."""

from __future__ import annotations

import math
from itertools import combinations
from typing import Any

import pytest
from building import Bench

from dovejoint.core.document import new_project
from dovejoint.core.solid import common

GROUND = {"rule": "base", "plane": "ground"}


def level(height: float) -> dict[str, Any]:
    return {"rule": "fixed", "origin": [0, 0, height], "x": [1, 0, 0], "y": [0, 1, 0]}


class Post(Bench):
    """A post 60 × 30 × 40 that is split at 22; ``hole``: with one Ø 16 from top to bottom."""

    def __init__(self, hole: bool = False, **fields: Any) -> None:
        super().__init__(new_project("Post"))
        self.do("AddValue", name="wide", formula="60 mm")
        _, self.top = self.do(
            "AddStep",
            kind="body",
            fields={"wide": "wide", "deep": "30 mm", "high": "40 mm", "on": GROUND},
            new_part={"name": "Post"},
        )
        if hole:
            self.do(
                "AddStep",
                kind="body",
                fields={
                    "shape": "cylinder",
                    "across": "16 mm",
                    "high": "40 mm",
                    "on": GROUND,
                    "operation": "cut",
                    "part": self.top,
                },
            )
        self.step, self.foot = self.do(
            "AddStep", kind="split", fields={"part": self.top, "plane": level(22), **fields}, new_part={"name": "Foot"}
        )

    def pegs(self) -> list[tuple[float, float]]:
        shape = self.evaluate().made[self.step].joint
        assert shape is not None
        return [(m.frame.origin[0], m.frame.origin[1]) for m in shape.mates]


@pytest.mark.parametrize("count", [1, 2, 4])
@pytest.mark.parametrize(("takes", "outer"), [("inner", 0.0), ("both", 0.5), ("outer", 1.0)])
def test_volumes_by_hand_and_the_gap_of_every_peg(count: int, takes: str, outer: float) -> None:
    post = Post(pegs=str(count), takes=takes)
    assert post.message(post.step) == ""
    joint = post.joint()
    gap = joint.drawn.gap_mm
    peg, socket = 3 - (1 - outer) * gap, 3 + outer * gap
    # the ends are cones of 0.6, the mouths cones of 0.4
    cone = math.pi * 0.6 / 3 * (peg**2 + peg * (peg - 0.6) + (peg - 0.6) ** 2)
    assert post.volume(post.top) == pytest.approx(60 * 30 * 18 + count * (math.pi * peg**2 * 7.4 + cone), rel=1e-7)
    mouth = math.pi * 0.4 / 3 * (socket**2 + socket * (socket + 0.4) + (socket + 0.4) ** 2)
    assert post.volume(post.foot) == pytest.approx(60 * 30 * 22 - count * (math.pi * socket**2 * 8.1 + mouth), rel=1e-7)
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((gap, gap), abs=0.003)
    parts = post.evaluate().parts
    assert common(parts[post.top].solid, parts[post.foot].solid)[0] < 1e-6


def test_pegs_keep_clear_of_the_outline_and_of_holes_and_stand_far_apart() -> None:
    post = Post(hole=True, pegs="4")
    pegs = post.pegs()
    clear = 3 + 1.2
    for x, y in pegs:
        assert abs(x) <= 30 - clear and abs(y) <= 15 - clear and math.hypot(x, y) >= 8 + clear
    # near the four corners: farther apart than half of the cut is deep
    assert min(math.dist(a, b) for a, b in combinations(pegs, 2)) > 15
    post.set("wide", "44 mm")
    assert post.message(post.step) == "" and all(abs(x) <= 22 - clear for x, _ in post.pegs())


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"pegs": "24"}, "room and depth for only"),
        ({"pegs": "0"}, "1 to 24 pegs"),
        ({"diameter": "40 mm"}, "nowhere wide enough"),
        ({"diameter": "1 mm"}, "nothing of the pegs"),
        ({"long": "30 mm"}, "none of them"),
        ({"plane": level(60)}, "does not go through the part"),
        ({"lead": "5 mm"}, "chamfers leave nothing"),
    ],
)
def test_what_is_refused(fields: dict[str, Any], words: str) -> None:
    post = Post(**fields)
    assert words in post.message(post.step)


def test_what_is_said_to_be_the_most_does_fit() -> None:
    post = Post(pegs="1", diameter="40 mm")
    most = float(post.message(post.step).split("Ø ")[1].split(" mm")[0])
    post.do("EditStep", step=post.step, fields={"diameter": f"{most} mm", "long": "6 mm"})
    assert post.message(post.step) == ""
