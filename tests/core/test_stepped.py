"""A joint at stepped gaps: its pieces against what a hand measures on them, what is refused, and what its verdicts teach against dice."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest

from dovejoint.core import solid as kernel
from dovejoint.core.document import Project, apply, command_from
from dovejoint.core.errors import CommandError
from dovejoint.core.fits.stepped import best_gap, chance_at
from dovejoint.core.joints import assess_by_formula
from dovejoint.core.joints.assess import GapCache
from dovejoint.core.joints.other_gap import draw_gap
from dovejoint.core.printing.coupons import Coupon
from dovejoint.core.printing.prints import PrintCache, print_report
from dovejoint.core.printing.stepped import stepped_coupon
from dovejoint.core.profiles import SET_UP_PROFILE, Mating, flare_left_mm, gap_shift
from dovejoint.core.profiles.belief import belief_of, shift_row
from dovejoint.core.profiles.deviation import gap_scatter
from dovejoint.core.profiles.learn import Stepped, Verdict, learn
from dovejoint.core.recipe import Evaluation, ResultCache, evaluate
from dovejoint.core.recipe.lying import printed_in_one
from dovejoint.sample import SAMPLES, make_feeder

X = (1.0, 0.0, 0.0)


def joint_of(project: Project, kind: str) -> str:
    return next(s.id for s in project.recipe if s.kind == kind)


def made(project: Project, kind: str) -> tuple[Coupon, Evaluation]:
    coupon = stepped_coupon(project, joint_of(project, kind), ResultCache(), GapCache())
    evaluation = evaluate(coupon.project, ResultCache())
    assert all(r.state == "ok" for r in evaluation.steps), [r.message for r in evaluation.steps]
    return coupon, evaluation


@pytest.fixture(scope="module")
def feeder() -> Iterator[tuple[Coupon, Evaluation]]:
    yield made(make_feeder(), "plug_in_lip")


def width_on_top(solid: kernel.NamedSolid) -> tuple[float, float]:
    """Across and deep, of what lies highest of a piece."""
    points = kernel.tessellate(solid).positions
    top = points[points[:, 2] > points[:, 2].max() - 1.0]
    across, deep, _ = top.max(axis=0) - top.min(axis=0)
    return float(across), float(deep)


def test_each_lip_is_as_much_smaller_than_the_opening_as_its_gap_says(feeder: tuple[Coupon, Evaluation]) -> None:
    coupon, evaluation = feeder
    gaps = [r.drawn_mm for r in coupon.rungs]
    steps = np.diff(gaps)
    assert len(gaps) == 5 and steps.min() > 0.03 and np.ptp(steps) < 1e-9
    assert gaps[2] == pytest.approx(assess_by_formula(make_feeder())[0].drawn.gap_mm)  # type: ignore[union-attr]
    names = {p.name: evaluation.parts[p.id].solid for p in coupon.project.parts}
    assert list(names) == ["Hopper", "Floor 1", "Floor 2", "Floor 3", "Floor 4", "Floor 5"]
    for number, gap in enumerate(gaps, 1):
        across, deep = width_on_top(names[f"Floor {number}"])
        # the lip is chamfered where it goes in; below that it is 83 (55.333) less two gaps
        read = {f.id[-1]: f.drawn_mm for f in coupon.features if f.joint.endswith(f"@{number}")}
        assert read["x"] == pytest.approx(83 - 2 * gap, abs=1e-3) and read["y"] == pytest.approx(
            83 / 1.5 - 2 * gap, abs=1e-3
        )
        assert across == pytest.approx(read["x"], abs=0.7) and deep == pytest.approx(read["y"], abs=0.7)
    widths = [width_on_top(names[f"Floor {n}"])[0] for n in range(1, 6)]
    assert np.diff(widths) == pytest.approx(-2 * steps, abs=1e-6)


def test_the_hopper_is_cut_to_its_mouth_and_the_floors_are_numbered(feeder: tuple[Coupon, Evaluation]) -> None:
    coupon, evaluation = feeder
    whole = evaluate(make_feeder(), ResultCache()).parts
    solids = [evaluation.parts[p.id].solid for p in coupon.project.parts]
    low, high = kernel.bounds(solids[0].shape)
    assert high[2] - low[2] < 12 < 50 < kernel.bounds(next(iter(whole.values())).solid.shape)[1][2]
    assert all(s.valid and s.closed and s.lumps == 1 for s in solids)
    # dots of 1.4 by 0.5 mm: what each floor lost beside what its smaller lip takes, which is the same from each to the next
    volumes = [s.volume_mm3 for s in solids[1:]]
    dot = math.pi * 0.7**2 * 0.5
    holes = [sum(k == "cylinder" for k in s.kinds) - sum(k == "cylinder" for k in solids[1].kinds) for s in solids[1:]]
    assert holes == [0, 1, 2, 3, 4]
    lips = [v + dot * (n + 1) for n, v in enumerate(volumes)]
    assert np.diff(lips) == pytest.approx(np.diff(lips)[0], abs=0.1)
    beds = [kernel.bounds(s.shape) for s in solids]
    assert all(abs(b[0][2]) < 1e-6 for b in beds), "all lie on the bed"
    assert "Hopper is printed once" in coupon.about and "as many dots" in coupon.about


def test_the_chance_is_best_where_the_gap_hits_what_is_wanted(feeder: tuple[Coupon, Evaluation]) -> None:
    coupon, _ = feeder
    chances = [r.chance or 0.0 for r in coupon.rungs]
    assert max(chances) == chances[2] and chances[0] < 0.1 and chances[4] < 0.15
    assert {(j.least_mm, j.most_mm) for j in coupon.joints} == {(0.1, 0.3)}, (
        "what is wanted is that of the joint, not of its rungs"
    )


def test_what_cannot_be_stepped_says_so() -> None:
    project = SAMPLES["housing"].make()
    with pytest.raises(CommandError, match="standard's"):
        stepped_coupon(project, joint_of(project, "fastener"), ResultCache(), GapCache())


def test_halves_that_grow_within_each_other_are_stepped_in_pairs() -> None:
    """A hinge with its pin in place: both halves of each gap, in their places to each other, with the gap all round the pin."""
    project = SAMPLES["flap"].make()
    joint = joint_of(project, "hinge")
    coupon = stepped_coupon(project, joint, ResultCache(), GapCache())
    assert [(j.outer, j.inner) for j in coupon.joints] == printed_in_one(coupon.project) and len(coupon.joints) == 5
    evaluation = evaluate(coupon.project, ResultCache())
    for j, rung in zip(coupon.joints, coupon.rungs, strict=True):
        knuckles, pin = (evaluation.parts[p].solid for p in (j.outer, j.inner))
        assert knuckles.valid and pin.valid and knuckles.lumps == pin.lumps == 1
        assert kernel.common(knuckles, pin)[0] == 0.0, "they share no room"
        bores = [s.radius_mm for s in kernel.describe_faces(knuckles) if s.kind == "cylinder" and s.hollow]
        pins = [s.radius_mm for s in kernel.describe_faces(pin) if s.kind == "cylinder" and not s.hollow]
        gaps = [b - p for b in bores for p in pins if abs(b - p - rung.drawn_mm) < 1e-3]
        assert gaps, f"no bore and pin are {rung.drawn_mm} apart"
    report = print_report(coupon.project, evaluation, [], [], PrintCache(), coupon.features)
    places = {r["id"]: r["place_mm"] for r in report["parts"]}
    for j in coupon.joints:
        apart = [evaluation.parts[p].info.centre_mm for p in (j.outer, j.inner)]
        boxes = [[(a + b) / 2 for a, b in zip(*evaluation.parts[p].box, strict=True)] for p in (j.outer, j.inner)]
        for k in range(2):
            assert places[j.outer][k] - places[j.inner][k] == pytest.approx(boxes[0][k] - boxes[1][k], abs=0.01), apart


def test_a_joint_that_is_gone_or_broken_says_so() -> None:
    project = make_feeder()
    with pytest.raises(CommandError, match="not there any more"):
        stepped_coupon(project, "s99", ResultCache(), GapCache())
    joint = joint_of(project, "plug_in_lip")
    broken = apply(project, command_from({"do": "EditStep", "step": joint, "fields": {"height": "0 mm"}})).project
    with pytest.raises(CommandError, match="could not be made"):
        stepped_coupon(broken, joint, ResultCache(), GapCache())


def test_parts_that_are_called_like_pieces_do_no_harm() -> None:
    project = make_feeder()
    hopper, floor = (p.id for p in project.parts)
    for part, name in ((hopper, "Floor 2"), (floor, "Floor")):
        project = apply(project, command_from({"do": "EditPart", "part": part, "name": name})).project
    coupon = stepped_coupon(project, joint_of(project, "plug_in_lip"), ResultCache(), GapCache())
    assert [p.name for p in coupon.project.parts] == [
        "Floor 2",
        "Floor 1",
        "Floor, gap 2",
        "Floor 3",
        "Floor 4",
        "Floor 5",
    ]


@pytest.mark.parametrize(("sample", "kind"), [("feeder", "plug_in_lip"), ("jar", "thread"), ("vane-hub", "seat")])
def test_another_gap_is_drawn_by_an_own_band(sample: str, kind: str) -> None:
    project = SAMPLES[sample].make()
    joint = joint_of(project, kind)

    def drawn(p: Project) -> Any:
        return next(r for r in assess_by_formula(p) if r.step == joint)

    before = drawn(project)
    after = drawn(apply(project, command_from(draw_gap(project, joint, 0.08))).project)
    assert after.drawn.gap_mm == pytest.approx(before.drawn.gap_mm + 0.08, abs=0.0051)
    for name in ("least_mm", "target_mm", "most_mm"):
        assert getattr(after.wanted, name) == pytest.approx(getattr(before.wanted, name) + 0.08, abs=1e-3)


def test_of_a_hook_both_halves_that_change_are_printed_whole() -> None:
    coupon, evaluation = made(SAMPLES["hatch"].make(), "snap_hook")
    names = [p.name for p in coupon.project.parts]
    assert len([n for n in names if n.startswith("Housing")]) == 5
    whole = {
        p.name: evaluate(SAMPLES["hatch"].make(), ResultCache()).parts[p.id].solid
        for p in SAMPLES["hatch"].make().parts
    }
    piece = evaluation.parts[coupon.project.parts[0].id].solid
    assert piece.volume_mm3 == pytest.approx(whole["Housing"].volume_mm3, rel=0.01), "what bends is not cut short"


# ---- trimming --------------------------------------------------------------------------------------------------------


def plate() -> kernel.NamedSolid:
    return kernel.block(kernel.GROUND, 60.0, 40.0, 10.0, "p")


def test_a_box_of_a_solid_by_hand() -> None:
    solid = plate()
    top = "p/end"
    ground = kernel.GROUND
    assert kernel.trimmed(
        solid, ground, (-5.0, -math.inf, 4.0), (15.0, math.inf, math.inf), [top], "t"
    ).volume_mm3 == pytest.approx(20 * 40 * 6)
    assert kernel.trimmed(solid, ground, (-50.0, -50.0, -1.0), (50.0, 50.0, 20.0), [top], "t") is solid, (
        "nothing to take away"
    )
    assert kernel.trimmed(solid, ground, (-5.0, -5.0, 0.0), (5.0, 5.0, 4.0), [top], "t") is solid, (
        "its face would be gone"
    )


def test_a_piece_stands_as_it_is_printed() -> None:
    turned = kernel.in_print(plate(), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    low, high = kernel.bounds(turned.shape)
    assert np.subtract(high, low) == pytest.approx((40.0, 10.0, 60.0), abs=1e-6)


def test_dots_find_room_on_top_or_say_that_there_is_none() -> None:
    solid = plate()
    row = kernel.room_for_dots(solid, 4, set(), (0.0, 0.0, -1.0))
    assert row is not None and row.out == pytest.approx((0, 0, 1))
    marked = kernel.dotted(solid, row, 4, "m")
    assert solid.volume_mm3 - marked.volume_mm3 == pytest.approx(4 * math.pi * 0.7**2 * 0.5, rel=1e-6)
    thin = kernel.block(kernel.GROUND, 60.0, 40.0, 1.0, "b")
    assert (
        kernel.room_for_dots(
            thin, 2, {"b/side(left)", "b/side(right)", "b/side(front)", "b/side(back)"}, (0.0, 0.0, -1.0)
        )
        is None
    ), "too thin"
    kept = {n for names in solid.names for n in names}
    assert kernel.room_for_dots(solid, 1, kept, (0.0, 0.0, -1.0)) is None


# ---- learning --------------------------------------------------------------------------------------------------------


def test_five_verdicts_move_the_gap_as_dice_do() -> None:
    """Printers thrown, their five joints tried, and those kept that went so; the half in common and the print err once for all of them."""
    p = SET_UP_PROFILE
    mating = Mating(((X, X, 30.0), (X, X, 30.0)))
    gaps, said = (0.15, 0.25, 0.35, 0.45, 0.55), ("too tight", "too tight", "too tight", "good", "loose")
    least, most = 0.1, 0.3
    dice, n = np.random.default_rng(5), 1_500_000
    before = belief_of(p)
    mean, sd = before.of(shift_row(X, X, 30.0))
    shift = mean + dice.choice([1.0, 2.0, 3.5], n, p=[0.985, 0.012, 0.003]) * sd * dice.normal(size=n)
    scatter = gap_scatter(p, (True, True))
    common = dice.normal(0, math.hypot(scatter.common_mm, scatter.random_mm), n)
    keep = np.ones(n)
    for gap, verdict in zip(gaps, said, strict=True):
        printed = gap - shift - common + dice.normal(0, p.random_mm, n)
        is_so = {"too tight": printed < least, "good": (printed >= least) & (printed <= most), "loose": printed > most}[
            verdict
        ]
        keep = keep * np.where(is_so, 1 - 1 / 40 + 1 / 120, 1 / 120)
    keep /= keep.sum()
    told = float(keep @ shift)
    spread = math.sqrt(float(keep @ (shift - told) ** 2))
    stepped = Stepped(gaps, said, (None,) * 5, least, most, mating)  # type: ignore[arg-type]
    after = learn(p, [stepped])
    found = gap_shift(after.profile, mating)
    assert found.mean_mm == pytest.approx(told, abs=0.006) and found.unsure_mm == pytest.approx(spread, abs=0.006)
    assert abs(told - mean) > 0.02, "a case that moves nothing shows nothing"
    assert after.verdicts == 5
    # taken for five joints that have nothing in common it would be surer than it may be
    alone = learn(p, [Verdict(g, least, most, v, mating) for g, v in zip(gaps, said, strict=True)])  # type: ignore[arg-type]
    assert gap_shift(alone.profile, mating).unsure_mm < found.unsure_mm


def test_what_broke_tells_of_the_material_not_of_the_gap() -> None:
    mating = Mating(((X, X, 30.0), (X, X, 30.0)))
    gaps = (0.1, 0.2, 0.3)
    broke = learn(
        SET_UP_PROFILE, [Stepped(gaps, ("broke", "broke", "good"), (1.3, 1.1, 0.6), 0.1, 0.3, mating)]
    ).profile
    good = learn(SET_UP_PROFILE, [Stepped((0.3,), ("good",), (0.6,), 0.1, 0.3, mating)]).profile
    assert gap_shift(broke, mating).mean_mm == pytest.approx(gap_shift(good, mating).mean_mm, abs=0.02)
    assert [b for _, b in broke.borne[-3:]] == [True, True, False]


def test_the_best_gap_is_where_dice_have_most() -> None:
    """After the same verdicts: printers that went so, joints thrown once more at each gap, what flares on the bed taken off."""
    mating = Mating(((X, X, 30.0), (X, X, 30.0)), chamfers_mm=(0.05,))
    tried = Stepped((0.25, 0.35, 0.45), ("too tight", "too tight", "good"), (None,) * 3, 0.1, 0.3, mating)  # type: ignore[arg-type]
    profile = learn(SET_UP_PROFILE, [tried]).profile
    drawn, share = best_gap(tried, profile)
    dice, n = np.random.default_rng(3), 400_000
    row = shift_row(X, X, 30.0)
    mean, sd = belief_of(profile).of(row)
    scatter = gap_scatter(profile, (True, True))
    lost = dice.normal(mean, sd, n) + dice.normal(0, math.hypot(scatter.common_mm, scatter.random_mm), n)
    # a flare of so much is left beside a chamfer that is too small (deviation.py says how much)
    left, unsure = flare_left_mm(profile, (0.05,))
    flare = np.maximum(0.0, dice.normal(left, unsure, n))
    assert left > 0.02
    goods = {
        round(float(g), 2): float(np.mean((g - lost - flare >= 0.1) & (g - lost <= 0.3)))
        for g in np.arange(0.15, 0.56, 0.02)
    }
    top = max(goods, key=lambda g: goods[g])
    assert drawn == pytest.approx(top, abs=0.025)
    assert chance_at(tried, profile, top) == pytest.approx(goods[top], abs=0.02)
    assert share == pytest.approx(goods[top], abs=0.02)
