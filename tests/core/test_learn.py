"""What readings and verdicts teach: against the closed form, plain least squares, and a sum over dice."""

from __future__ import annotations

import math
import random
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest
from scipy import stats

from dovejoint.core.document import Profile
from dovejoint.core.document.model import TERMS
from dovejoint.core.fits import Drawn, Wanted, chance, expected_of
from dovejoint.core.printing.coupons import make_coupon
from dovejoint.core.profiles import DEFAULT_PROFILE, SET_UP_PROFILE, Mating, flare_left_mm, gap_shift
from dovejoint.core.profiles.belief import belief_of, shift_row, size_row
from dovejoint.core.profiles.deviation import scatter_by_way
from dovejoint.core.profiles.learn import Ladder, SizeReading, Verdict, learn
from dovejoint.core.profiles.lines import lines_of
from dovejoint.core.profiles.propose import propose
from dovejoint.core.profiles.trust import trusted

X, Y, Z = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)
FIT = Mating(((X, X, 83.0), (Y, Y, 56.0)))


def readings(
    n: int, seed: int = 1, outside: float = 0.09, inside: float = 0.15, scale: float = -0.003
) -> list[SizeReading]:
    """Invented readings of a printer with known terms, two prints, scatter 0.02."""
    dice = random.Random(seed)
    out = []
    for k in range(n):
        role, size = ("outside", "inside")[k % 2], (6.0, 12.0, 24.0, 48.0, 80.0)[k // 2 % 5]
        true = size * (1 + scale) + (2 * outside if role == "outside" else -2 * inside) + dice.gauss(0, 0.02)
        out.append(SizeReading(role, (X, Y)[k // 10 % 2], size, round(true / 0.02) * 0.02, str(k // 20)))  # type: ignore[arg-type]
    return out


def test_rows_say_what_a_hand_computes() -> None:
    """83 mm across in an opening, on a printer with all terms known."""
    terms = np.array([-0.002, -0.001, 0, 0.05, 0.06, 0.01, 0.10, 0.12, 0, 0.3, 0.01, 0.02, 0.05])
    assert size_row("outside", X, 40.0) @ terms == pytest.approx(-0.08 + 0.10)
    assert size_row("inside", Y, 40.0) @ terms == pytest.approx(-0.04 - 0.24)
    assert size_row("inside", (1, 1, 0), 10.0, True) @ terms == pytest.approx(-0.015 - 0.22 - 0.03)
    # a gap of opening minus lip: both shrink alike, so only what their offsets take is left, and what joints of 30 mm lose besides
    assert shift_row(X, X, 30.0) @ terms == pytest.approx(0.05 + 0.10 + 0.02)
    # lip printed upright in an opening that lies across: its own height and scale count; beyond 100 mm the last figure stands
    assert shift_row(X, Z, 150.0) @ terms == pytest.approx((0.02 - 150 * 0.0) / 2 - (150 * -0.002 - 0.20) / 2 + 0.05)
    # half way between 10 and 100 by the logarithm lies near 30: √(10·30) = 17.3 takes half of both
    assert shift_row(X, X, math.sqrt(300)) @ terms == pytest.approx(0.05 + 0.10 + 0.015)
    # a round joint has half of what others lose besides, and its hole closes in by 0.3/30
    assert shift_row(X, X, 30.0, True) @ terms == pytest.approx(0.05 + 0.10 + 0.3 / 30 / 2 + 0.01)


def test_one_reading_moves_sensibly_and_stays_unsure() -> None:
    """One size of one print against dice: printers thrown, and those kept that come out so."""
    p, before = SET_UP_PROFILE, belief_of(SET_UP_PROFILE)
    row = size_row("outside", X, 20.0)
    found = belief_of(learn(p, [SizeReading("outside", X, 20.0, 20.20, "1")]).profile)
    dice, n = np.random.default_rng(2), 2_000_000
    mean, sd = before.of(row)
    true = mean + dice.choice([1.0, 2.0, 3.5], n, p=[0.985, 0.012, 0.003]) * sd * dice.normal(size=n)
    read = true + 2 * dice.normal(0, p.common_mm, n) + 2 * dice.normal(0, p.random_mm, n)
    read += math.hypot(0.02 / math.sqrt(12), 0.01) * dice.standard_t(4, n)
    kept = true[np.abs(read - 0.20) < 0.002]
    # the application also makes the scatter a little wider for so far a reading, which the dice do not
    assert found.of(row) == (pytest.approx(kept.mean(), abs=0.01), pytest.approx(kept.std(), abs=0.008))
    outside = TERMS.index("outside_x")
    assert before.mean[outside] < found.mean[outside] < 0.15, "it moves, but not all the way on one print's word"
    assert found.sd()[outside] > 0.3 * before.sd()[outside]


def test_what_stands_upright_comes_in_whole_layers() -> None:
    """A window of 4.1 in layers of 0.2 is twenty or twenty-one layers, by where it begins; one of 4.0 always twenty. And a lying pin in its hole, each some layers tall."""
    p, dice = SET_UP_PROFILE, np.random.default_rng(5)
    at = TERMS.index("inside_z")

    def unsure(drawn_mm: float, n: int) -> float:
        read = [SizeReading("inside", Z, drawn_mm, drawn_mm - 0.1, "1", feature=str(k)) for k in range(n)]
        return float(belief_of(learn(p, read).profile).sd()[at])

    begins = dice.random(200_000) * 0.2
    for drawn, apart in ((4.1, 0.2 * 0.5), (4.05, 0.2 * math.sqrt(0.25 * 0.75)), (4.0, 0.0)):
        layers = np.floor((begins + drawn) / 0.2 + 1e-9) - np.floor(begins / 0.2)
        assert (layers * 0.2).std() == pytest.approx(apart, abs=2e-3)
    # of a hundred readings the offset of the print is left, and of whole layers a tenth
    spread = unsure(4.1, 100) ** 2 - unsure(4.0, 100) ** 2
    assert spread == pytest.approx((0.1 / 2 / 10) ** 2, rel=0.35)
    assert unsure(4.0, 1) < 0.7 * unsure(4.1, 1)
    lying = Mating(((Z, Z, 4.0), (X, X, 4.0)), round_hole=True)
    _, own = scatter_by_way(p, lying)
    hole, pin = (np.round(dice.uniform(3, 5, 200_000) / 0.2) * 0.2 for _ in range(2))
    drawn = np.random.default_rng(5)
    drawn.random(200_000)
    errs = (hole - drawn.uniform(3, 5, 200_000) - pin + drawn.uniform(3, 5, 200_000)) / 2
    assert own[0] ** 2 - own[1] ** 2 == pytest.approx(errs.var(), rel=0.02)


def test_the_size_coupon_reads_of_each_term_but_what_joints_lose() -> None:
    p = SET_UP_PROFILE
    read = [
        SizeReading(f.role, f.direction, f.drawn_mm, f.drawn_mm, "1", f.round_hole, feature=f.id)
        for f in make_coupon("sizes", p).features
        if not f.foot_of
    ]  # type: ignore[arg-type]
    before, after = belief_of(p).sd(), belief_of(learn(p, read).profile).sd()
    # a scale is told from an offset by how long things are: less of one print
    assert all(
        b < 0.75 * a
        for a, b, term in zip(before, after, TERMS, strict=True)
        if not term.startswith(("joint", "scale_z"))
    ), after / before


def test_reading_a_feature_again_teaches_nothing_of_other_prints() -> None:
    """Eight readings of two features of one print are as good as two prints' worth of nothing: hardly surer than one reading of each."""
    row = size_row("outside", X, 20.0)

    def surety(times: int, feature: bool) -> float:
        data = [
            SizeReading("outside", X, size, size + 0.1, "1", feature=str(size) if feature else "")
            for size in (15.0, 25.0)
            for _ in range(times)
        ]
        return belief_of(learn(SET_UP_PROFILE, data).profile).of(row)[1]

    assert surety(8, True) > 0.93 * surety(1, True)
    assert surety(8, False) < 0.9 * surety(1, False), "of features that are not known to be one, each counts"


@pytest.mark.parametrize("wrong", [1.0, -1.0, 0.9, -19.2])
def test_a_misreading_is_named_and_hardly_counts(wrong: float) -> None:
    """11.1 typed as 12.1, digits swapped, an inch for a millimetre: what is believed stays where the others put it."""
    clean = readings(24)
    dirty = [*clean]
    dirty[7] = replace(dirty[7], measured_mm=dirty[7].measured_mm + wrong)
    good, bad = learn(SET_UP_PROFILE, clean), learn(SET_UP_PROFILE, dirty)
    assert bad.suspicious == (7,) and good.suspicious == ()
    before, after = gap_shift(good.profile, FIT), gap_shift(bad.profile, FIT)
    assert after.mean_mm == pytest.approx(before.mean_mm, abs=0.012)
    assert after.unsure_mm < 1.4 * before.unsure_mm
    assert bad.profile.random_mm < 1.3 * good.profile.random_mm


def test_many_readings_agree_with_plain_least_squares() -> None:
    data = readings(400)
    found = belief_of(learn(SET_UP_PROFILE, data).profile)
    for role, term, sign in (("outside", "outside_x", 2), ("inside", "inside_x", -2)):
        mine = [r for r in data if r.role == role and r.direction == X]
        slope, offset = np.polyfit([r.drawn_mm for r in mine], [r.measured_mm - r.drawn_mm for r in mine], 1)
        assert found.mean[TERMS.index(term)] == pytest.approx(offset / sign, abs=0.012)
        assert found.mean[TERMS.index("scale_x")] == pytest.approx(slope, abs=4e-4)


def test_all_at_once_or_one_after_the_other() -> None:
    """Readings of different prints with the same scatter: the order does not matter."""
    data = readings(40)
    together, turned = learn(SET_UP_PROFILE, data).profile, learn(SET_UP_PROFILE, data[::-1]).profile
    assert together.terms == pytest.approx(turned.terms, abs=1e-6)
    assert together.covariance == pytest.approx(np.array(turned.covariance), abs=1e-9)


def test_scatter_is_learnt_both_ways() -> None:
    dice = random.Random(3)

    def noisy(sd: float) -> list[SizeReading]:
        return [
            SizeReading("outside", X, 20.0, 20.06 + dice.gauss(0, sd), str(k), resolution_mm=0.001) for k in range(60)
        ]

    calm, wild = (learn(SET_UP_PROFILE, noisy(sd)).profile for sd in (0.01, 0.3))
    assert calm.random_mm < SET_UP_PROFILE.random_mm < wild.random_mm


def thrown(
    p: Profile, drawn: float, n: int, dice: np.random.Generator
) -> tuple[np.ndarray, Callable[[float], list[np.ndarray]]]:
    """Printers that a profile may stand for, and the gaps across and deep that they make of a drawn one, each time in a new print."""
    belief = belief_of(p)
    # three kinds: some lie farther from the middle than the prior says (SPREADS, written down once more)
    far = dice.choice([1.0, 2.0, 3.5], n, p=[0.985, 0.012, 0.003])[:, None]
    printers = belief.mean + far * dice.multivariate_normal(np.zeros(len(belief.mean)), belief.covariance, n)

    def print_once(drawn: float) -> list[np.ndarray]:
        # across and deep err together by the print's offset (both faces of a gap), and apart by each size's own error
        together = 2 * dice.normal(0, p.common_mm, n)
        gaps = []
        for outer, inner, size in FIT.ways:
            apart = dice.normal(0, p.random_mm, n) + dice.normal(0, p.random_mm, n)
            gaps.append(drawn - printers @ shift_row(outer, inner, size) - together - apart)
        return gaps

    return printers, print_once


@pytest.mark.parametrize("p", [SET_UP_PROFILE, DEFAULT_PROFILE], ids=["set up", "nobody said"])
@pytest.mark.parametrize("verdict", ["too tight", "good", "loose"])
def test_a_verdict_agrees_with_dice(verdict: str, p: Profile) -> None:
    """What the printer takes of the gap after a verdict, and the chances of the next print at several gaps, by throwing printers and keeping
    those that fit the verdict."""
    drawn, least, most = 0.30, 0.10, 0.30
    dice, n = np.random.default_rng(5), 400_000
    printers, print_once = thrown(p, drawn, n, dice)
    row = np.mean([shift_row(o, i, s) for o, i, s in FIT.ways], axis=0)
    gaps = print_once(drawn)
    said = np.where(np.minimum(*gaps) < least, "too tight", np.where(np.maximum(*gaps) > most, "loose", "good"))
    # one in forty is misjudged, and then says any of the three
    wrong = dice.random(n) < 1 / 40
    said = np.where(wrong, dice.choice(["too tight", "good", "loose"], n), said)
    kept = (printers @ row)[said == verdict]
    profile = learn(p, [Verdict(drawn, least, most, verdict, FIT)]).profile  # type: ignore[arg-type]
    found = gap_shift(profile, FIT)
    assert found.mean_mm == pytest.approx(kept.mean(), abs=0.002)
    assert found.unsure_mm == pytest.approx(kept.std(), abs=0.002)
    profile = profile.model_copy(update={"record": []})
    for by in (-0.1, -0.05, 0.0, 0.05, 0.1):
        gap = 0.2 + float(kept.mean()) + by
        across, deep = (g[said == verdict] for g in print_once(gap))
        true = float(((np.minimum(across, deep) >= least) & (np.maximum(across, deep) <= most)).mean())
        told = chance(Wanted(least, 0.2, most), expected_of(Drawn(gap), profile, FIT)).fits
        assert told == pytest.approx(true, abs=0.025), by


def test_a_ladder_brackets_what_the_printer_takes() -> None:
    gaps = (0.08, 0.12, 0.16, 0.20, 0.24)
    few = gap_shift(learn(SET_UP_PROFILE, [Ladder(gaps, 1, FIT)]).profile, FIT)
    many = gap_shift(learn(SET_UP_PROFILE, [Ladder(gaps, 4, FIT)]).profile, FIT)
    before = gap_shift(SET_UP_PROFILE, FIT)
    assert many.mean_mm < before.mean_mm < few.mean_mm, "the more took the plug, the less is lost"
    assert few.unsure_mm < before.unsure_mm and many.unsure_mm < before.unsure_mm
    # four took it: the second tightest did, at 0.12 − t ≥ 0.03 or so
    assert many.mean_mm < 0.12


def test_covariances_stay_sound() -> None:
    evidence = [*readings(30), Verdict(0.3, 0.1, 0.3, "too tight", FIT), Ladder((0.1, 0.2, 0.3), 2, FIT)]
    learnt = learn(SET_UP_PROFILE, evidence)
    assert (learnt.readings, learnt.verdicts, len(learnt.residuals_mm)) == (30, 2, 30)
    covariance = np.array(learnt.profile.covariance)
    assert np.allclose(covariance, covariance.T)
    assert np.linalg.eigvalsh(covariance).min() > -1e-7
    before, after = belief_of(SET_UP_PROFILE).sd(), belief_of(learnt.profile).sd()
    # (where evidence says that printers may lie farther off than the prior has it, a term it says nothing of becomes a little less sure)
    assert (after <= 1.05 * before).all(), "evidence makes nothing much less sure"


def test_lines_keep_kinds_apart_and_say_when_there_are_too_few() -> None:
    profile = learn(SET_UP_PROFILE, readings(40)).profile
    lines = lines_of(profile, [*readings(40), SizeReading("outside", Z, 30.0, 29.9, "1")])
    assert [line.key for line in lines] == ["outside-x", "outside-y", "outside-z", "inside-x", "inside-y"]
    upright = lines[2]
    assert upright.fit is None and upright.why_no_fit
    assert len(upright.believed) == 9 and all(half > 0.05 for _, _, half in upright.believed)
    across = lines[0]
    assert across.fit is not None and across.fit.a == pytest.approx(0.997, abs=2e-3)


def test_proposals_say_what_changes_and_only_when_it_does() -> None:
    learnt = learn(SET_UP_PROFILE, readings(40))
    found = propose(SET_UP_PROFILE, learnt.profile, 40, 0, 2)
    assert found.worthwhile and found.profile.version == 2
    assert found.reason == "Learnt from 40 readings on 2 prints."
    change = next(t for t in found.terms if t.term == "outside_x")
    assert change.before == pytest.approx(0.05) and change.after == pytest.approx(0.09, abs=0.015)
    assert change.after_sd < change.before_sd
    again = propose(found.profile, learnt.profile, 40, 0, 2)
    assert not again.worthwhile


def test_what_came_of_chances_moves_later_ones() -> None:
    """Nothing recorded: nothing moved. Told 80 and failing every second time: less is shown, and always in the same order."""
    shown = (0.3, 0.6, 0.8, 0.97)
    assert [trusted(p, []) for p in shown] == list(shown)
    told = [trusted(p, [(0.8, k % 2 == 0) for k in range(60)]) for p in shown]
    assert told == sorted(told) and told[2] == pytest.approx(0.5, abs=0.1)
    kept = [trusted(p, [(0.8, k % 5 != 0) for k in range(60)]) for p in shown]
    assert kept[2] == pytest.approx(0.8, abs=0.03), "told 80, kept in 80"
    few = trusted(0.8, [(0.8, False)])
    assert 0.65 < few < 0.8, "one failure is little to go by"


def test_learning_keeps_what_stood_before_each_verdict() -> None:
    found = learn(SET_UP_PROFILE, [Verdict(0.35, 0.1, 0.3, "good", FIT), Verdict(0.35, 0.1, 0.3, "loose", FIT)]).profile
    before = chance(Wanted(0.1, 0.2, 0.3), expected_of(Drawn(0.35), SET_UP_PROFILE, FIT)).fits
    assert [good for _, good in found.record] == [True, False]
    assert found.record[0][0] == pytest.approx(before, abs=0.02)
    assert found.record[1][0] > found.record[0][0], "a good one speaks for the next"


def test_a_size_read_at_its_foot_tells_how_far_first_layers_stand_out() -> None:
    """60.10 above and 60.74 on the bed: 0.32 a side. Each read rounds to 0.02 and errs by 0.01 by hand; first layers differ by 0.02 from print to print."""
    above = SizeReading("outside", X, 60.0, 60.10, "1", feature="a")
    foot = SizeReading("outside", X, 60.0, 60.74, "1", feature="a", foot=True)
    known = learn(SET_UP_PROFILE, [above]).profile
    found = learn(SET_UP_PROFILE, [above, foot])
    # what first layers do in all prints is normal about 0.2, what they did in this one normal about that, and what was read Student's t about this
    read = math.sqrt(2 * (0.02**2 / 12 + 0.01**2) / 4)
    flare = np.linspace(0.0, 0.56, 561)
    once = np.linspace(-0.1, 0.1, 401)
    seen = stats.t.pdf((0.32 - flare[:, None] - once) / read, 4) @ stats.norm.pdf(once, 0, 0.02)
    share = stats.norm.pdf(flare, 0.2, 0.06) * seen / (stats.norm.pdf(flare, 0.2, 0.06) @ seen)
    mean = share @ flare
    assert found.profile.flare_mm == pytest.approx(mean, abs=1e-3)
    assert found.profile.flare_unsure_mm == pytest.approx(math.sqrt(share @ (flare - mean) ** 2), abs=1e-3)
    assert found.profile.flare_height_mm == pytest.approx(SET_UP_PROFILE.flare_height_mm, abs=1e-3), (
        "of their height it says nothing"
    )
    assert found.profile.terms == known.terms, "of the size itself it says nothing"
    # what is plainly misread moves it less than what is near
    wild = learn(SET_UP_PROFILE, [above, replace(foot, measured_mm=63.0)]).profile
    assert wild.flare_mm < 0.6
    # without a reading above, the believed size stands in, and tells less
    alone = learn(SET_UP_PROFILE, [foot]).profile
    assert SET_UP_PROFILE.flare_mm < alone.flare_mm < found.profile.flare_mm
    assert found.profile.flare_unsure_mm < alone.flare_unsure_mm < SET_UP_PROFILE.flare_unsure_mm


@pytest.mark.parametrize(("left", "height"), [(0.128, 0.5), (0.08, 0.4), (0.0, 0.3)])
def test_a_chamfered_foot_tells_how_high_first_layers_stand_out(left: float, height: float) -> None:
    """0.32 at a bare foot and 0.32·(1 − 0.3/h) over a chamfer of 0.3: by hand h is 0.5 and 0.4; where nothing is left it is 0.3 at most. What is learnt lies between that
    and what was believed (0.4 ± 0.09), near the former, and an edge on the bed is then expected to lose what this one does."""
    prints = [
        SizeReading("outside", X, 60.0, 60.0 + more, print_id, feature=f, foot=foot, chamfer_mm=leg)
        for print_id in ("1", "2")
        for f, more, foot, leg in (
            ("a", 0.1, False, 0.0),
            ("a", 0.74, True, 0.0),
            ("b", 0.1, False, 0.0),
            ("b", 0.1 + 2 * left, True, 0.3),
        )
    ]
    found = learn(SET_UP_PROFILE, prints).profile
    assert found.flare_mm == pytest.approx(0.32, abs=0.02)
    assert found.flare_height_mm == pytest.approx(height, abs=0.02) if left else found.flare_height_mm < height
    assert found.flare_height_unsure_mm < 0.045
    assert flare_left_mm(found, [0.3])[0] == pytest.approx(left, abs=0.015)
    assert flare_left_mm(SET_UP_PROFILE, [0.3])[0] == pytest.approx(0.05)
    # a bare foot alone says nothing of it
    assert learn(SET_UP_PROFILE, [r for r in prints if r.feature == "a"]).profile.flare_height_mm == pytest.approx(0.4)
