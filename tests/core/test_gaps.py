"""The gap as it is in the solids: random joints against hand computation and the kernel's exact distance, and what later steps do to the feeder's."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from building import Feeder
from gap_cases import HIGH, LOW, make
from scipy.optimize import linprog

from dovejoint.core.joints.assess import assess
from dovejoint.core.profiles.sides import Sides, even_sides, room_and_play
from dovejoint.core.solid import gap_readings

#: what is promised, mm
ERROR_MM = 0.005


# 300 of them, the first of these, were read to within 0.003 mm (docs/fits.md); here every run reads some
@pytest.mark.parametrize("first", range(0, 48, 6))
def test_random_joints_are_read_true(first: int) -> None:
    for seed in range(first, first + 6):
        case = make(seed)
        found = gap_readings(case.outer, case.inner, case.frame, LOW, HIGH, 3.0, ((0.0, 0.0), (100.0, 100.0)))
        assert found is not None, case.what
        assert found.least_mm == pytest.approx(case.least_mm, abs=ERROR_MM), f"{seed}: {case.what}"
        assert found.most_mm == pytest.approx(case.most_mm, abs=ERROR_MM), f"{seed}: {case.what}"
        if case.exact_mm is not None:
            assert found.least_mm == pytest.approx(case.exact_mm, abs=ERROR_MM), f"{seed}: {case.what}"
        # the two points told lie as far apart as is said
        for gap, (a, b) in ((found.least_mm, found.least_at), (found.most_mm, found.most_at)):
            assert math.dist(a, b) == pytest.approx(abs(gap), abs=1e-6)


def changed(feeder: Feeder, width: str, height: str, at: Any, tall: str, operation: str, part: str) -> Any:
    """The feeder's joint after a rectangle was added or cut."""
    sketch = feeder.rectangle(width, height, at=at)
    step = feeder.extrude(sketch, tall, part, operation)[0]
    return assess(feeder.project, feeder.evaluate(), feeder.gaps)[0], step


def test_a_rib_on_the_lip_is_seen_and_its_step_named(feeder: Feeder) -> None:
    """1.2 wide, 0.3 proud: 0.05 at its tightest; a lid that floats has half of the sum of both sides."""
    joint, step = changed(feeder, "0.6 mm", "1.2 mm", (41.15, 10), "6 mm", "add", feeder.floor)
    assert joint.measured.least_mm == pytest.approx(0.05, abs=1e-6)
    assert joint.measured.most_mm == pytest.approx(0.35, abs=1e-4)
    assert joint.measured.room_mm == pytest.approx((0.05 + 0.35) / 2, abs=1e-3)
    assert joint.least_by == (step,) and joint.most_by == ()
    number = [s.id for s in feeder.project.recipe].index(step) + 1
    assert joint.note.startswith(f"Step {number} changed the gap: drawn 0.35 a side, on the solids 0.05 to 0.35")
    assert joint.least_at[0][0] == pytest.approx(41.5) and joint.least_at[1][0] == pytest.approx(41.45)
    assert joint.chance.goes_in < 0.5


def test_a_lip_cut_on_a_whole_side_is_held_by_what_is_left_of_its_corners(feeder: Feeder) -> None:
    joint, step = changed(feeder, "0.6 mm", "80 mm", (41.15, 0), "20 mm", "cut", feeder.floor)
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((0.35, 0.65), abs=1e-4)
    assert joint.most_by == (step,)
    # the lip's corners are arcs of 7.3 − 0.35; the cut leaves them from where they have turned by θ on, and there they stop it after 0.35/cos θ
    arc = 7.3 - 0.35
    turned = math.acos(1 - 0.3 / arc)
    assert joint.measured.play_mm == pytest.approx((0.35 + 0.35 / math.cos(turned)) / 2, abs=5e-3)


def test_a_notch_changes_nothing_about_the_hold(feeder: Feeder) -> None:
    plain = feeder.joint()
    joint, _ = changed(feeder, "2 mm", "4 mm", (41.15, 0), "20 mm", "cut", feeder.floor)
    assert joint.measured.most_mm > 1.3
    assert joint.measured.play_mm == pytest.approx(plain.measured.play_mm, abs=2e-3)
    assert joint.chance.fits == pytest.approx(plain.chance.fits, abs=0.01)


def test_a_groove_in_the_wall_and_real_interference(feeder: Feeder) -> None:
    joint, _ = changed(feeder, "0.6 mm", "4 mm", (41.5, 0), "70 mm", "cut", feeder.hopper)
    assert joint.measured.most_mm == pytest.approx(0.65, abs=1e-4)
    other = Feeder()
    joint, step = changed(other, "1.4 mm", "3 mm", (41.15, 5), "6 mm", "add", other.floor)
    assert joint.measured.least_mm == pytest.approx(0.35 - 0.7, abs=1e-4)
    assert joint.notice == "overlap" and "overlap by 0.35 mm" in joint.note and joint.least_by == (step,)


def test_halves_that_do_not_meet_any_more_say_so(feeder: Feeder) -> None:
    joint, _ = changed(feeder, "200 mm", "200 mm", (0, 0), "30 mm", "cut", feeder.floor)
    assert (joint.state, joint.says, joint.chance) == ("wrong", "the halves do not meet", None)


def left(*sides: tuple[float, float, float]) -> tuple[float, float]:
    room, play = room_and_play(Sides.of((sides,)), np.zeros((1, 2)))
    return float(room[0]), float(play[0])


def by_programming(stops: list[tuple[float, float, float]]) -> tuple[float, float]:
    """Room and play of all sides at once by linear programming: another way than sums over pairs and threes."""
    n, g = np.array([(x, y) for _, x, y in stops]), np.array([gap for gap, _, _ in stops])
    best = linprog([0, 0, -1], A_ub=np.column_stack([n, np.ones(len(g))]), b_ub=g, bounds=[(None, None)] * 3)
    play = 0.0
    for m in n:
        ends = [-linprog(-s * m, A_ub=n, b_ub=g, bounds=[(-1e3, 1e3)] * 2).fun for s in (1, -1)]
        play = max(play, sum(ends) / 2)
    return -float(best.fun), play


def test_room_and_play_of_many_zones_by_linear_programming() -> None:
    """Pegs, tabs and bumps at several places, each printed a little otherwise: what is left is what all sides together leave."""
    dice = np.random.default_rng(7)
    one_way = ((0.3, 1.0, 0.0), (0.3, -1.0, 0.0))
    turned = tuple((0.35, math.cos(t), math.sin(t)) for t in (0.3, 0.3 + math.pi / 2, 0.3 + math.pi, 0.3 - math.pi / 2))
    for zones in (
        (even_sides(0.3, True),) * 3,
        (even_sides(0.3),) * 4,
        (one_way, even_sides(0.4)),
        (even_sides(0.3), turned),
    ):
        sides = Sides.of(zones)
        for _ in range(6):
            off = dice.normal(0.0, 0.05, 2 * len(zones))
            room, play = room_and_play(sides, off[None])
            stops = [
                (g - x * x * off[2 * k] - y * y * off[2 * k + 1], x, y)
                for k, zone in enumerate(zones)
                for g, x, y in zone
            ]
            assert (float(room[0]), float(play[0])) == pytest.approx(by_programming(stops), abs=2e-4)
    # places that came to lie otherwise: each side of a place at p moves by n·S·p besides
    spots = ((-40.0, 10.0), (40.0, -10.0), (0.0, 25.0))
    sides = Sides.of((even_sides(0.3, True),) * 3, spots, ("xx", "xy", "yy"))
    for _ in range(6):
        off, (xx, xy, yy) = dice.normal(0.0, 0.05, 6), dice.normal(0.0, 0.001, 3)
        stops = [
            (g - x * x * off[2 * k] - y * y * off[2 * k + 1] + x * (xx * u + xy * v) + y * (xy * u + yy * v), x, y)
            for k, (u, v) in enumerate(spots)
            for g, x, y in even_sides(0.3, True)
        ]
        room, play = room_and_play(sides, np.r_[off, xx, xy, yy][None])
        assert (float(room[0]), float(play[0])) == pytest.approx(by_programming(stops), abs=2e-4)
    # two dozen pegs are no more work than one can wait for: their sides count each way first
    many = Sides.of((even_sides(0.3, True),) * 24)
    assert len(many.facing) == 16 and len(many.room[0]) < 1000


def test_room_and_play_by_hand() -> None:
    assert left(*even_sides(0.3)) == pytest.approx((0.3, 0.3))
    assert left(*even_sides(0.3, True)) == pytest.approx((0.3, 0.3), rel=0.01)
    # a shaft off its bore's axis goes back to the middle
    off = tuple((g - 0.1 * x, x, y) for g, x, y in even_sides(0.3, True))
    assert left(*off) == pytest.approx((0.3, 0.3), rel=0.01)
    # three sides 120° apart: the room is their mean; play across one is stopped by the two others, which give way by twice as much
    three = [
        (g, math.cos(a), math.sin(a))
        for g, a in zip((0.2, 0.3, 0.4), (0, 2 * math.pi / 3, 4 * math.pi / 3), strict=True)
    ]
    assert left(*three) == pytest.approx((0.3, (0.2 + 0.3 + 0.4) / 2), abs=1e-6)
    # cut back on one whole side by 0.3, with sharp corners: half of 0.35 + 0.65 across
    assert left((0.65, 1, 0), (0.35, -1, 0), (0.35, 0, 1), (0.35, 0, -1)) == pytest.approx((0.35, 0.5))
    # left and right 0.05 and 0.35, front and back 0.35
    assert left((0.05, 1, 0), (0.35, -1, 0), (0.35, 0, 1), (0.35, 0, -1)) == pytest.approx((0.2, 0.35))
    # a slot along a bore: where all else presses by 0.2, its floor far back makes nothing loose
    slotted = ((3.5, 1.0, 0.0), *even_sides(0.1, True)[1:])
    room, play = room_and_play(Sides.of((slotted,)), np.full((1, 2), 0.3))
    assert room[0] < -0.19 and play[0] == pytest.approx(-0.2, abs=0.01)
    # nor does it make a press that is drawn hold less, or more
    assert left((3.5, 1.0, 0.0), *even_sides(-0.05, True)[1:])[1] == pytest.approx(-0.05, abs=0.003)
    # open to one side: nothing stops it there
    assert left((0.2, 1, 0), (0.2, 0, 1), (0.2, 0, -1))[1] > 100
