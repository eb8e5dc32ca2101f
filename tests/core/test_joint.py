"""The plug-in lip: its geometry, its gaps, its errors; and the figures behind fits."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
from building import Bench, Feeder

from dovejoint.core import solid as S
from dovejoint.core.document import Profile
from dovejoint.core.errors import StepError
from dovejoint.core.fits import FIT_CLASSES, Drawn, Measured, Wanted, chance, drawn_for, expected_of, verdict
from dovejoint.core.joints import assess_by_formula
from dovejoint.core.profiles import SET_UP_PROFILE, Mating, belief_of, gap_scatter, shift_row

SLIDE = FIT_CLASSES["slide"].wanted
#: the default profile with its middle values taken as sure, and one without terms beside its two offsets
SURE = SET_UP_PROFILE.model_copy(update={"covariance": [], "flare_unsure_mm": 0.0, "flare_height_unsure_mm": 0.0})
PLAIN = SURE.model_copy(update={"terms": []})
X, Y = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)


def test_drawn_gap_takes_the_deviation_off_once() -> None:
    # 0.20 wanted, outside 0.05 and inside 0.10 proud: 0.35 must be drawn
    assert drawn_for(SLIDE, SET_UP_PROFILE).gap_mm == pytest.approx(0.35)
    expected = expected_of(Drawn(0.35), SET_UP_PROFILE)
    assert (expected.least_mm, expected.most_mm) == pytest.approx((0.20, 0.20))
    # an 8 mm pin drawn equal to its hole prints with interference
    assert expected_of(Drawn(0.0), SET_UP_PROFILE).most_mm == pytest.approx(-0.15)


def test_common_errors_add_linearly_and_random_ones_by_squares() -> None:
    scatter = gap_scatter(SET_UP_PROFILE)
    assert scatter.common_mm == pytest.approx(0.030)
    assert scatter.random_mm == pytest.approx(0.022 * 1.4142135623730951)
    assert scatter.total_mm == pytest.approx(0.04322, abs=1e-5)


def test_chance_agrees_with_dice() -> None:
    """Print a hundred thousand pairs with the model's errors, put each where it has most room, push it about, and count.

    The lip is uneven: 0.30 and 0.36 left and right, 0.32 and 0.40 front and back, so that what counts is the half of each way's sum.
    """
    dice = random.Random(3)
    p, wanted = SURE, SLIDE
    sides = ((0.30, 1.0, 0.0), (0.36, -1.0, 0.0), (0.32, 0.0, 1.0), (0.40, 0.0, -1.0))
    inside = tight = 0
    n = 100_000
    for _ in range(n):
        common = dice.gauss(0, p.common_mm)
        across, deep = (
            drawn - p.outside_mm - p.inside_mm - 2 * common - dice.gauss(0, p.random_mm) - dice.gauss(0, p.random_mm)
            for drawn in ((0.30 + 0.36) / 2, (0.32 + 0.40) / 2)
        )
        tight += min(across, deep) < wanted.least_mm
        inside += min(across, deep) >= wanted.least_mm and max(across, deep) <= wanted.most_mm
    reckoned = chance(wanted, expected_of(Measured(0.30, 0.40, (sides,)), PLAIN))
    assert reckoned.fits == pytest.approx(inside / n, abs=0.006)
    assert reckoned.goes_in == pytest.approx(1 - tight / n, abs=0.006)


def test_chance_is_that_of_the_normal_law_of_two_directions() -> None:
    """By the distribution function of the two-dimensional normal (scipy), which the application does not use."""
    from scipy.stats import multivariate_normal

    mating = Mating(((X, X, 83.0), (Y, Y, 56.6)))
    for profile in (SURE, SET_UP_PROFILE):
        belief = belief_of(profile)
        rows = np.array([shift_row(o, i, s) for o, i, s in mating.ways])
        covariance = (
            rows @ belief.covariance @ rows.T + (2 * profile.common_mm) ** 2 + 2 * profile.random_mm**2 * np.eye(2)
        )
        law = multivariate_normal(0.35 - rows @ belief.mean, covariance)
        exact = law.cdf([0.30, 0.30], lower_limit=[0.10, 0.10])
        assert chance(SLIDE, expected_of(Drawn(0.35), profile, mating)).fits == pytest.approx(exact, abs=0.001)


def test_chances_of_flaring_joints_agree_with_dice() -> None:
    mating = Mating(((X, X, 83.0), (Y, Y, 56.6)), flare_mm=0.05, flare_unsure_mm=0.03)
    belief, dice = belief_of(SET_UP_PROFILE), np.random.default_rng(8)
    rows = np.array([shift_row(o, i, s) for o, i, s in mating.ways])
    n = 300_000
    taken = dice.multivariate_normal(belief.mean, belief.covariance, n) @ rows.T
    taken += 2 * dice.normal(0, SET_UP_PROFILE.common_mm, (n, 1)) + math.sqrt(2) * dice.normal(
        0, SET_UP_PROFILE.random_mm, (n, 2)
    )
    room = (0.35 - taken).min(axis=1) - np.maximum(dice.normal(0.05, 0.03, n), 0)
    good = (room >= 0.1) & ((0.35 - taken).max(axis=1) <= 0.3)
    found = chance(SLIDE, expected_of(Drawn(0.35), SET_UP_PROFILE, mating))
    assert (found.goes_in, found.fits) == pytest.approx(((room >= 0.1).mean(), good.mean()), abs=0.005)


def test_chance_without_scatter_and_quantiles() -> None:
    exact = Profile(**{**SURE.model_dump(), "common_mm": 0.0, "random_mm": 0.0})
    assert chance(SLIDE, expected_of(Drawn(0.35), exact)).fits == pytest.approx(1)
    assert chance(SLIDE, expected_of(Drawn(0.20), exact)).fits == pytest.approx(0)
    one_sided = Profile(
        **{**PLAIN.model_dump(), "common_mm": 0.05, "random_mm": 0.0, "outside_mm": 0.0, "inside_mm": 0.0}
    )
    # the band's edges lie one standard deviation (2·0.05) from the middle: 68.27 %
    assert chance(Wanted(0.1, 0.2, 0.3), expected_of(Drawn(0.2), one_sided)).fits == pytest.approx(0.6827, abs=1e-4)


def test_verdicts_say_which_way_it_fails() -> None:
    assert verdict(chance(SLIDE, expected_of(Drawn(0.35), SURE))) == ("well", "fits in 96 of 100")
    # of a printer that was never measured, less can be promised
    assert verdict(chance(SLIDE, expected_of(Drawn(0.35), SET_UP_PROFILE))) == ("doubtful", "fits in 70 of 100")
    assert verdict(chance(SLIDE, expected_of(Drawn(0.20), SET_UP_PROFILE)))[1].startswith("too tight in")
    assert verdict(chance(SLIDE, expected_of(Drawn(0.60), SET_UP_PROFILE)))[1].startswith("too loose in")
    with pytest.raises(StepError, match="must rise"):
        Wanted(0.3, 0.2, 0.1).checked()


def test_classes_rise_from_press_to_loose() -> None:
    targets = [FIT_CLASSES[n].wanted.target_mm for n in ("press", "snug", "slide", "loose")]
    assert targets == sorted(targets)
    for fit in FIT_CLASSES.values():
        fit.wanted.checked()


def test_gap_by_formula_and_on_the_solids_agree(feeder: Feeder) -> None:
    (quick,) = assess_by_formula(feeder.project)
    joint = feeder.joint()
    assert quick.drawn == joint.drawn
    assert joint.measured.least_mm == pytest.approx(0.35, abs=1e-9)
    assert joint.measured.most_mm == pytest.approx(0.35, abs=1e-9)
    # the rim lies on the bed: 0.2 · (1 − 0.3/0.4) flares beyond the mouth's chamfer
    # (within what lip and opening shrink apart, 0.2 % of their difference of 0.7: half a thousandth)
    assert joint.expected.least_mm == pytest.approx(0.15, abs=6e-4)
    assert joint.expected.most_mm == pytest.approx(0.20, abs=6e-4)
    assert joint.note == "On the bed, the mouth of the opening flares into the gap by 0.05 mm."
    feeder.do("EditStep", step=feeder.lip, fields={"mouth": "0.4 mm"})
    feeder.do("SetProfile", profile=SURE.model_dump())
    joint = feeder.joint()
    assert (joint.state, joint.says, joint.note) == ("well", "fits in 96 of 100", "")


def test_gap_agrees_with_the_exact_distance_of_the_walls(feeder: Feeder) -> None:
    state = feeder.evaluate()
    hopper, floor = (state.parts[p].solid for p in (feeder.hopper, feeder.floor))
    wall = hopper.faces[hopper.find(f"{feeder.hollow}/inner({feeder.body}/side(l1))")[0]]
    lip = floor.faces[floor.find(f"{feeder.lip}/lip({feeder.hollow}/inner({feeder.body}/side(l1)))")[0]]
    assert S.exact_distance(wall, lip)[0] == pytest.approx(0.35, abs=1e-9)


@pytest.mark.parametrize("takes", ["inner", "outer", "both"])
def test_the_gap_is_kept_whichever_half_takes_it(feeder: Feeder, takes: str) -> None:
    feeder.do("EditStep", step=feeder.lip, fields={"takes": takes})
    joint = feeder.joint()
    assert joint.measured.least_mm == pytest.approx(0.35, abs=1e-6)
    assert joint.measured.most_mm == pytest.approx(0.35, abs=1e-6)
    lip = feeder.evaluate().parts[feeder.floor]
    width = max(f.at[0] for f, n in zip(lip.faces, lip.solid.names, strict=True) if "/lip(" in n[0])
    # half the opening's width less the lip's share of the gap
    assert width == pytest.approx(41.5 - {"inner": 0.35, "outer": 0.0, "both": 0.175}[takes], abs=1e-6)


def test_the_joint_keeps_its_gap_when_its_host_changes(feeder: Feeder) -> None:
    for name, formula in (("wall", "2.4 mm"), ("inside", "51 mm"), ("wall", "1.1 mm")):
        feeder.set(name, formula)
        assert feeder.joint().measured.least_mm == pytest.approx(0.35, abs=1e-6)
    feeder.do("EditStep", step=feeder.rounding, fields={"radius": "6 mm"})
    assert feeder.joint().measured.most_mm == pytest.approx(0.35, abs=1e-6)
    low = min(f.at[2] for f in feeder.evaluate().parts[feeder.floor].faces)
    assert low == pytest.approx(-2), "the floor stays under the hopper"


def test_shaving_the_lip_shows_on_the_solids(feeder: Feeder) -> None:
    shave = feeder.rectangle("1.2 mm", "50 mm", at=(41.2, 0))
    feeder.extrude(shave, "20 mm", feeder.floor, "cut")
    joint = feeder.joint()
    # the lip's right side stood at 41.15; the cutter takes everything beyond 40.6
    assert joint.measured.least_mm == pytest.approx(0.35, abs=1e-6)
    assert joint.measured.most_mm == pytest.approx(41.5 - 40.6, abs=1e-6)
    assert "changed the gap" in joint.note
    assert joint.state == "wrong"
    assert joint.drawn.gap_mm == pytest.approx(0.35), "nobody touched the fit"


def test_parts_that_run_into_each_other_are_told(feeder: Feeder) -> None:
    pad = feeder.rectangle("2 mm", "20 mm", at=(41.5, 0))
    feeder.extrude(pad, "5 mm", feeder.floor, "add")
    joint = feeder.joint()
    assert joint.measured.least_mm < -0.5
    assert "overlap" in joint.note


def test_classes_and_own_bands(feeder: Feeder) -> None:
    for fit, drawn in (("press", 0.11), ("snug", 0.22), ("loose", 0.55)):
        feeder.do("EditStep", step=feeder.lip, fields={"fit": fit})
        assert feeder.joint().measured.least_mm == pytest.approx(drawn, abs=1e-6)
    feeder.do("EditStep", step=feeder.lip, fields={"fit": "own", "least": "0.2", "target": "wall / 5", "most": "0.5"})
    assert feeder.joint().measured.least_mm == pytest.approx(1.7 / 5 + 0.15, abs=1e-6)
    feeder.do("EditStep", step=feeder.lip, fields={"least": "0.6"})
    assert feeder.states()[feeder.lip] == "failed"
    assert "must rise" in feeder.joint().says


@pytest.mark.parametrize(
    ("field", "formula", "word"),
    [
        ("height", "90 mm", r"runs into the part: (\S+) mm is the most"),
        ("thickness", "40 mm", r"does not fit into the opening: (\S+) mm"),
        ("lead", "3 mm", r"more than the lip has: (\S+) mm is the most"),
    ],
)
def test_what_does_not_fit_says_what_does(feeder: Feeder, field: str, formula: str, word: str) -> None:
    import re

    feeder.do("EditStep", step=feeder.lip, fields={field: formula})
    assert feeder.states()[feeder.lip] == "failed"
    found = re.search(word, feeder.message(feeder.lip))
    assert found, feeder.message(feeder.lip)
    feeder.do("EditStep", step=feeder.lip, fields={field: f"{found.group(1)} mm"})
    assert feeder.states()[feeder.lip] == "ok", feeder.message(feeder.lip)


@pytest.mark.parametrize(
    ("field", "formula", "word"),
    [
        ("height", "0 mm", "above zero"),
        ("plate", "-1 mm", "above zero"),
        ("mouth", "-1 mm", "cannot be negative"),
        ("mouth", "5.8 mm", "nothing of the lip"),
    ],
)
def test_figures_that_cannot_be(feeder: Feeder, field: str, formula: str, word: str) -> None:
    feeder.do("EditStep", step=feeder.lip, fields={field: formula})
    assert word in feeder.message(feeder.lip)


def test_faces_without_an_opening_are_refused(bench: Bench) -> None:
    body, part = bench.extrude(bench.rectangle("40 mm", "30 mm"), "20 mm")
    host = {"rule": "flat", "part": part, "face": {"name": f"{body}/end"}}
    lip, _ = bench.do("AddStep", kind="plug_in_lip", new_part={"name": "Lid"}, fields={"host": host})
    assert "no opening to plug" in bench.message(lip)


def test_a_round_pot_gets_a_lid(bench: Bench) -> None:
    (sketch,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawCircle", step=sketch, centre=[0, 0], radius=9, on="origin", diameter="50 mm")
    body, part = bench.extrude(sketch, "40 mm", "Pot")
    (hollow,) = bench.do(
        "AddStep",
        kind="shell",
        fields={"open": {"rule": "faces", "part": part, "faces": [{"name": f"{body}/end"}]}, "wall": "2 mm"},
    )
    host = {"rule": "flat", "part": part, "face": {"name": f"{hollow}/rim({body}/end)"}}
    bench.do(
        "AddStep",
        kind="plug_in_lip",
        new_part={"name": "Lid"},
        fields={"host": host, "lead": "0.5 mm", "mouth": "0 mm"},
    )
    joint = bench.joint()
    assert joint.measured.least_mm == pytest.approx(0.35, abs=1e-6)
    lid = bench.evaluate().parts[joint.parts[1]].solid
    r = 23 - 0.35
    ring = math.pi * (r**2 - (r - 1.6) ** 2) * 6
    # the lead-in chamfer takes a triangle of 0.5 × 0.5 turned about the axis (Pappus: centroid at r − 0.5/3)
    chamfer = 0.125 * 2 * math.pi * (r - 0.5 / 3)
    assert lid.volume_mm3 == pytest.approx(math.pi * 625 * 2 + ring - chamfer, rel=1e-9)


@pytest.mark.parametrize("rounded", [False, True])
def test_a_box_with_a_corner_turned_inwards_gets_a_lid(bench: Bench, rounded: bool) -> None:
    body, box = bench.extrude(bench.rectangle("60 mm", "30 mm"), "20 mm", "Box")
    wing = bench.rectangle("30 mm", "30 mm", at=(-15, 15))
    bench.extrude(wing, "20 mm", box, "add")
    if rounded:
        edges = {"rule": "edges_along", "part": box, "direction": "up"}
        bench.do("AddStep", kind="fillet", fields={"edges": edges, "radius": "5 mm"})
        state = bench.evaluate().parts[box]
        inward = next(e for e in state.edges if e.kind == "line" and not e.convex and not e.smooth)
        pick = {"rule": "edges", "part": box, "edges": [{"name": inward.name}]}
        bench.do("AddStep", kind="fillet", fields={"edges": pick, "radius": "4 mm"})
    top = {"rule": "faces", "part": box, "faces": [{"name": f"{body}/end"}]}
    (hollow,) = bench.do("AddStep", kind="shell", fields={"open": top, "wall": "2 mm"})
    rim = next(f.names[0] for f in bench.evaluate().parts[box].faces if f.names[0].startswith(f"{hollow}/rim("))
    lip, lid = bench.do("AddStep", kind="plug_in_lip", new_part={"name": "Lid"}, fields={
        "host": {"rule": "flat", "part": box, "face": {"name": rim}}, "height": "6 mm", "thickness": "2 mm",
        "plate": "2 mm", "lead": "0 mm", "mouth": "0 mm",
    })  # fmt: skip
    assert set(bench.states().values()) == {"ok"}, [bench.message(s.id) for s in bench.project.recipe]
    joint = bench.joint()
    assert joint.measured.least_mm == pytest.approx(joint.drawn.gap_mm, abs=1e-3)
    info = bench.evaluate().parts[lid].info
    assert (info.closed, info.valid, info.lumps) == (True, True, 1)
    if not rounded:
        # an L of 60 × 30 and 30 × 15: the plate over it, and a lip that stands the wall and the gap inside its edge
        gap = joint.drawn.gap_mm
        ell = lambda d: (60 - 2 * d) * (30 - 2 * d) + (30 - 2 * d) * 15  # noqa: E731
        assert info.volume_mm3 == pytest.approx(2 * ell(0) + 6 * (ell(2 + gap) - ell(4 + gap)), rel=1e-6)
