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


# ---- dovetails ---------------------------------------------------------------------------------------------------


class Board(Bench):
    """A board 80 × 60 × 6 that is cut across its middle: tails along the upright way, into the half at the left."""

    def __init__(self, **fields: Any) -> None:
        super().__init__(new_project("Board"))
        self.do("AddValue", name="thick", formula="6 mm")
        sizes = {"wide": "80 mm", "deep": "60 mm", "high": "thick", "on": GROUND}
        _, self.right = self.do("AddStep", kind="body", fields=sizes, new_part={"name": "Board"})
        # its ``z`` looks to the right
        side = {"rule": "fixed", "origin": [0, 0, 0], "x": [0, 1, 0], "y": [0, 0, 1]}
        way = {"rule": "axis_base", "axis": "up"}
        self.step, self.left = self.do(
            "AddStep",
            kind="tails",
            fields={"part": self.right, "plane": side, "way": way, **fields},
            new_part={"name": "Left board"},
        )


@pytest.mark.parametrize("count", [1, 3])
@pytest.mark.parametrize(("takes", "outer"), [("inner", 0.0), ("both", 0.5), ("outer", 1.0)])
def test_tails_by_hand(count: int, takes: str, outer: float) -> None:
    """A tail of 8 at the cut, 6 deep, with sides of 75 deg: its outline is (8 + 6 / tan 75°) · 6, moved in by the gap square to its sides."""
    board = Board(tails=str(count), takes=takes, lead="0 mm")
    assert board.message(board.step) == ""
    joint = board.joint()
    gap, lean = joint.drawn.gap_mm, math.tan(math.radians(15))
    aside = math.hypot(1, lean) * gap
    half = 4 - (1 - outer) * aside
    tail = (2 * half + 6 * lean) * 6
    assert board.volume(board.right) == pytest.approx(40 * 60 * 6 + count * tail * 6, rel=1e-7)
    half, deep = 4 + outer * aside, 6 + gap + 0.2
    slot = (2 * half + deep * lean) * deep
    assert board.volume(board.left) == pytest.approx(40 * 60 * 6 - count * slot * 6, rel=1e-7)
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((gap, gap), abs=0.003)
    parts = board.evaluate().parts
    assert common(parts[board.right].solid, parts[board.left].solid)[0] < 1e-6
    names = {n for names in parts[board.right].solid.names for n in names}
    assert {f"{board.step}/tail({s}|{k})" for s in ("left", "right", "top") for k in range(1, count + 1)} <= names
    told = {r.name: float(r.values[0]) for r in joint.working.results}
    # a wedge of 15 deg a side: what it gives to the side it gives 1 / tan 15° times as much apart
    assert told["the pieces come apart by"] == pytest.approx(told["play to each side"] / lean, rel=1e-9)


def test_tails_share_the_cut_and_follow_the_board() -> None:
    board = Board(tails="4", wide="5 mm")
    middles = [m.frame.origin[1] for m in board.evaluate().made[board.step].joint.mates]
    assert sorted(middles) == pytest.approx([-22.5, -7.5, 7.5, 22.5])
    info = board.evaluate().parts[board.right].info
    assert info.closed and info.valid and info.lumps == 1
    # chamfers of 0.4 along both ends of each side and top: by Pappus-free hand less than their lengths times 0.4² / 2
    lean = math.tan(math.radians(15))
    rim = 2 * 6 / math.cos(math.radians(15)) + 5 + 12 * lean
    gap = board.joint().drawn.gap_mm
    whole = 40 * 60 * 6 + 4 * (2 * (2.5 - math.hypot(1, lean) * gap) + 6 * lean) * 36
    off = whole - board.volume(board.right)
    assert 4 * 2 * (rim - 3) * 0.08 < off < 4 * 2 * rim * 0.08
    board.set("thick", "9 mm")
    assert board.message(board.step) == "" and board.joint().measured.least_mm == pytest.approx(gap, abs=0.003)


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"tails": "6"}, "of them fit"),
        ({"tails": "1.5"}, "1 to 40 tails"),
        ({"angle": "30 deg"}, "45 to 80 deg"),
        ({"high": "39 mm", "wide": "20 mm", "tails": "1"}, "reach in less"),
        ({"way": {"rule": "axis_base", "axis": "across"}}, "lie in the cut"),
        ({"way": None}, "slid in"),
        ({"wide": "0.6 mm", "fit": "loose"}, "leaves nothing"),
        ({"lead": "4 mm"}, "less than half"),
    ],
)
def test_tails_that_cannot_be_made_say_why(fields: dict[str, Any], words: str) -> None:
    board = Board(**fields)
    assert words in board.message(board.step)
    assert board.volume(board.right) == pytest.approx(80 * 60 * 6)
