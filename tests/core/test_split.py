"""Splitting and rejoining by pegs, dovetails, a hooked lap, a plug and a bought rod: volumes by hand, where things stand, their gaps, and what is refused."""

from __future__ import annotations

import math
from itertools import combinations
from typing import Any

import pytest
from building import Bench, flat

from dovejoint.core.document import new_project
from dovejoint.core.joints import assess
from dovejoint.core.solid import Axis, Motion, common, moved

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


# ---- hooked laps -------------------------------------------------------------------------------------------------


class Beam(Bench):
    """A beam 120 × 20 × 16 that is cut across its middle; the left half is laid on from above."""

    def __init__(self, **fields: Any) -> None:
        super().__init__(new_project("Beam"))
        self.do("AddValue", name="tall", formula="16 mm")
        sizes = {"wide": "120 mm", "deep": "20 mm", "high": "tall", "on": GROUND}
        _, self.right = self.do("AddStep", kind="body", fields=sizes, new_part={"name": "Beam"})
        side = {"rule": "fixed", "origin": [0, 0, 0], "x": [0, 1, 0], "y": [0, 0, 1]}
        fields = {
            "part": self.right,
            "plane": side,
            "way": {"rule": "axis_base", "axis": "up"},
            "lead": "0 mm",
            **fields,
        }
        self.step, self.left = self.do("AddStep", kind="lap", fields=fields, new_part={"name": "Left beam"})

    def meet(self, by: tuple[float, float, float]) -> float:
        """What the halves share when the left one is moved, mm³."""
        parts = self.evaluate().parts
        return common(parts[self.right].solid, moved(parts[self.left].solid, Motion.shift(by)))[0]


@pytest.mark.parametrize(("takes", "outer"), [("inner", 0.0), ("both", 0.5), ("outer", 1.0)])
def test_a_lap_by_hand(takes: str, outer: float) -> None:
    """From the middle on the right half has its lower 8 mm less one for 12 to the right, and one more for 12 to the left, where its hook is: its outline by rectangles."""
    beam = Beam(takes=takes)
    assert beam.message(beam.step) == ""
    joint = beam.joint()
    gap = joint.drawn.gap_mm
    own, other = (1 - outer) * gap, outer * gap
    right = (60 - 12 - own) * 16 + (12 + 2 * own) * 7 + (12 - 2 * own) * 9
    assert beam.volume(beam.right) == pytest.approx(right * 20, rel=1e-7)
    # the other hook ends 0.2 above what it lies over
    left = (60 - 12 - other) * 16 + (12 + 2 * other) * 7 + (12 - 2 * other) * 8.8
    assert beam.volume(beam.left) == pytest.approx(left * 20, rel=1e-7)
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((gap, gap), abs=0.003)


def test_a_lap_is_laid_on_and_then_holds_both_ways() -> None:
    beam = Beam(lead="0.4 mm")
    gap = beam.joint().drawn.gap_mm
    assert beam.meet((0, 0, 0)) < 1e-6 and beam.meet((0, 0, 5)) < 1e-6, "from above nothing is in its way"
    assert beam.meet((0, 0, -0.1)) > 1, "it rests on the other"
    for way in (-1, 1):
        assert beam.meet((way * (gap - 0.01), 0, 0)) < 1e-6
        assert beam.meet((way * (gap + 0.05), 0, 0)) > 0.5
    told = {r.name: float(r.values[0]) for r in beam.joint().working.results}
    # what is left of a tongue beside a hook is 7 by 20, and PLA bears 50 MPa along its layers; a hook is 12 by 20
    # both hooks chamfered by 0.4, one ending 0.2 short: of two millimetres one is left that bears
    assert told["force until a hook is crushed"] == pytest.approx(1.0 * 20 * 50, rel=1e-3)
    assert told["force until a tongue tears"] == pytest.approx(7 * 20 * 50, rel=1e-3)
    expected = beam.joint().expected
    assert 2 * expected.least_mm <= told["the pieces come apart by"] + 0.01 <= 2 * expected.most_mm + 0.02
    beam.set("tall", "20 mm")
    assert beam.message(beam.step) == "" and beam.joint().measured.least_mm == pytest.approx(gap, abs=0.003)


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"long": "130 mm"}, "116.9 mm is the most"),
        ({"deep": "15 mm"}, "13.2 mm is the most"),
        ({"deep": "0.3 mm"}, "0.6 mm is the least"),
        ({"lead": "3 mm"}, "less than half as large"),
        ({"way": {"rule": "axis_base", "axis": "across"}}, "lie in the cut"),
        ({"way": None}, "laid on each other"),
        ({"fit": "own", "least": "-0.9 mm", "target": "-0.8 mm", "most": "-0.7 mm"}, "looser fit"),
        ({"long": "1 mm"}, "nothing of the hooks"),
    ],
)
def test_laps_that_cannot_be_made_say_why(fields: dict[str, Any], words: str) -> None:
    beam = Beam(**fields)
    assert words in beam.message(beam.step)
    assert beam.volume(beam.right) == pytest.approx(120 * 20 * 16)


# ---- plugs -------------------------------------------------------------------------------------------------------


class Stake(Bench):
    """A stake, 40 × 24 or round, 80 high, that is cut at 30."""

    def __init__(self, body: dict[str, Any] | None = None, **fields: Any) -> None:
        super().__init__(new_project("Stake"))
        sizes = {"wide": "40 mm", "deep": "24 mm", "high": "80 mm", "on": GROUND, **(body or {})}
        _, self.top = self.do("AddStep", kind="body", fields=sizes, new_part={"name": "Stake"})
        self.step, self.foot = self.do(
            "AddStep", kind="stub", fields={"part": self.top, "plane": level(30), **fields}, new_part={"name": "Foot"}
        )


@pytest.mark.parametrize(("takes", "outer"), [("inner", 0.0), ("both", 0.5), ("outer", 1.0)])
def test_a_plug_by_hand(takes: str, outer: float) -> None:
    """A plug 8 long within a wall of 2.4, its end a frustum of 0.6; the socket half a millimetre deeper."""
    stake = Stake(takes=takes, mouth="0 mm")
    assert stake.message(stake.step) == ""
    joint = stake.joint()
    gap = joint.drawn.gap_mm
    wide, deep = (s - 4.8 - 2 * (1 - outer) * gap for s in (40, 24))
    # Simpson's rule is exact for a frustum
    end = 0.6 / 6 * (wide * deep + 4 * (wide - 0.6) * (deep - 0.6) + (wide - 1.2) * (deep - 1.2))
    assert stake.volume(stake.top) == pytest.approx(40 * 24 * 50 + wide * deep * 7.4 + end, rel=1e-7)
    wide, deep = (s - 4.8 + 2 * outer * gap for s in (40, 24))
    assert stake.volume(stake.foot) == pytest.approx(40 * 24 * 30 - wide * deep * 8.5, rel=1e-7)
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((gap, gap), abs=0.003)


@pytest.mark.parametrize("body", [{"shape": "cylinder", "across": "30 mm"}, {"shape": "prism", "across": "30 mm"}])
def test_a_plug_follows_the_outline_that_is_cut(body: dict[str, str]) -> None:
    stake = Stake(body)
    assert stake.message(stake.step) == ""
    parts, gap = stake.evaluate().parts, stake.joint().drawn.gap_mm
    assert stake.joint().measured.least_mm == pytest.approx(gap, abs=0.003)
    assert common(parts[stake.top].solid, parts[stake.foot].solid)[0] < 1e-6
    # turned by a tenth of a turn only the round one still goes in
    turned = moved(parts[stake.top].solid, Motion.turn(Axis((0, 0, 0), (0, 0, 1)), math.radians(36)))
    assert (common(turned, parts[stake.foot].solid)[0] < 1e-3) == (body["shape"] == "cylinder")
    leads = [n for names in parts[stake.top].solid.names for n in names if "/lead(" in n]
    assert leads and all(n.count("(") == n.count(")") for n in leads)


@pytest.mark.parametrize(
    ("body", "fields", "words"),
    [
        ({}, {"wall": "0.5 mm"}, "0.8 mm is the least"),
        ({}, {"wall": "13 mm"}, "offset"),
        ({}, {"wall": "11.4 mm"}, "leaves nothing of the plug"),
        ({}, {"long": "29 mm"}, "28.69 mm is the most"),
        ({}, {"long": "0.9 mm"}, "make it longer"),
        ({"shape": "ring", "across": "40 mm", "thick": "8 mm"}, {"plane": level(4)}, "lap along the rim"),
        ({"shape": "cone", "across": "4 mm", "top": "40 mm"}, {"wall": "1 mm"}, "come out at a side"),
    ],
)
def test_plugs_that_cannot_be_made_say_why(body: dict[str, str], fields: dict[str, Any], words: str) -> None:
    stake = Stake(body, **fields)
    assert words in stake.message(stake.step)


# ---- rods --------------------------------------------------------------------------------------------------------


def test_a_rod_from_the_shelf_rejoins_what_was_divided_with_a_fit_of_its_own_in_each_piece() -> None:
    post = Bench(new_project("Post"))
    sizes = {"wide": "40 mm", "deep": "24 mm", "high": "40 mm", "on": GROUND}
    _, top = post.do("AddStep", kind="body", fields=sizes, new_part={"name": "Post"})
    cut = {"part": top, "by": "plane", "plane": level(22), "keep": "both"}
    _, foot = post.do("AddStep", kind="divide", fields=cut, new_part={"name": "Foot"})
    bought = {"what": "rod", "across": "6 mm", "long": "20 mm", "on": level(12)}
    shelf, rod = post.do("AddStep", kind="shelf", fields=bought, new_part={"name": "Rod"})
    for host, end, fit in ((top, "lower", "snug"), (foot, "upper", "slide")):
        shaft = flat(post, rod, f"{shelf}/side")
        fields = {
            "halves": "shaft",
            "shaft": shaft,
            "host": host,
            "extent": "by",
            "end": end,
            "fit": fit,
            "mouth": "0 mm",
        }
        post.do("AddStep", kind="shaft_in_bore", fields=fields)
    joints = assess(post.project, post.evaluate(), post.gaps)
    for joint, part, whole in zip(joints, (top, foot), (40 * 24 * 18, 40 * 24 * 22), strict=True):
        gap = joint.drawn.gap_mm
        assert joint.measured.least_mm == pytest.approx(gap, abs=0.003)
        # ten of the rod in each, and half a millimetre beyond
        assert post.volume(part) == pytest.approx(whole - math.pi * (3 + gap) ** 2 * 10.5, rel=1e-6)
    assert joints[0].drawn.gap_mm < joints[1].drawn.gap_mm
