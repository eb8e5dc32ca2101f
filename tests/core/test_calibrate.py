"""Calibration from readings against independent fits, and by what it promises: intervals that hold as often as they say."""

from __future__ import annotations

import json
import random
from pathlib import Path
from typing import Any

import pytest
from intervals import WORLDS, covered

from dovejoint.core.errors import DoveError
from dovejoint.core.profiles.calibrate import calibrate

SETS = {
    d["id"]: d
    for d in json.loads((Path(__file__).parents[1] / "reference" / "calibration.json").read_text())["datasets"]
}
FITTED = [d for d in SETS.values() if "fit" in d or "fit_all" in d]


@pytest.mark.parametrize("data", FITTED, ids=lambda d: d["id"])
def test_the_line_and_its_intervals(data: dict[str, Any]) -> None:
    found = calibrate(data["nominal"], data["measured"], data.get("resolution", 0))
    fit = data.get("fit") or data["fit_all"]
    assert [found.a, found.b_mm, found.s_mm] == pytest.approx([fit["a"], fit["b"], fit["s"]], rel=1e-6)
    assert [found.se_a, found.se_b_mm, found.t] == pytest.approx([fit["se_a"], fit["se_b"], fit["t975"]], rel=1e-6)
    assert found.interval_a == pytest.approx(fit["ci_a"], rel=1e-6)
    assert found.interval_b_mm == pytest.approx(fit["ci_b"], rel=1e-6)
    for row in data.get("prediction_95", []):
        assert found.expected_mm(row["x0"]) == pytest.approx(row["mean"], rel=1e-5)
        assert found.half_of_mean_mm(row["x0"]) == pytest.approx(row["ci_mean_half"], rel=1e-4)
        assert found.half_of_one_mm(row["x0"]) == pytest.approx(row["pi_half"], rel=1e-4)
        assert found.expected_mm(found.to_draw_mm(row["x0"])) == pytest.approx(row["x0"])


def test_a_misread_figure_is_pointed_out() -> None:
    data = SETS["outlier"]
    assert calibrate(data["nominal"], data["measured"]).outliers == (9,)
    assert calibrate(SETS["outside_X"]["nominal"], SETS["outside_X"]["measured"]).outliers == ()


def test_a_narrow_range_says_so() -> None:
    data = SETS["narrow_range"]
    found = calibrate(data["nominal"], data["measured"])
    assert "say" in found.notes[0]
    assert found.interval_b_mm[1] - found.interval_b_mm[0] > 0.7


@pytest.mark.parametrize(
    ("drawn", "measured", "word"),
    [
        ([20] * 6, SETS["one_size_only"]["measured"], r"no slope.*\+0\.050 mm"), ([5, 80], [5.04, 79.9], "no scatter"), ([], [], "no slope"),
        ([5, 10, 20], [5, 10], "3 drawn sizes and 2 readings"), ([5, 10, 20], [5, 10, float("nan")], "not a figure"), ([0, 5, 10], [0, 5, 10], "above zero"),
    ],
)  # fmt: skip
def test_what_the_data_cannot_give_is_refused(drawn: list[float], measured: list[float], word: str) -> None:
    with pytest.raises(DoveError, match=word):
        calibrate(drawn, measured)


def test_intervals_hold_as_often_as_they_say() -> None:
    dice = random.Random(5)
    sizes = [5, 10, 20, 40, 80] * 3
    hits = {"a": 0, "b": 0, "one": 0}
    rounds = 3000
    for _ in range(rounds):
        a, b = dice.uniform(0.993, 1.0), dice.uniform(-0.2, 0.2)
        readings = [round((a * d + b + dice.gauss(0, 0.03)) / 0.02) * 0.02 for d in sizes]
        found = calibrate(sizes, readings, 0.02)
        hits["a"] += found.interval_a[0] <= a <= found.interval_a[1]
        hits["b"] += found.interval_b_mm[0] <= b <= found.interval_b_mm[1]
        next_one = round((a * 25 + b + dice.gauss(0, 0.03)) / 0.02) * 0.02
        hits["one"] += abs(next_one - found.expected_mm(25)) <= found.half_of_one_mm(25)
    for name, count in hits.items():
        assert 0.935 <= count / rounds <= 0.965, name


@pytest.mark.parametrize("name", WORLDS)
def test_intervals_hold_with_drift_repeats_misreadings_and_tails(name: str) -> None:
    """In small what docs/fits.md tells in full: 95 of 100, counted 150 times (two standard errors are 3.6)."""
    for what, share in covered(name, 150, seed=3).items():
        assert 0.885 <= share <= 1.0, (name, what, share)


def test_one_print_alone_says_so_and_repeats_are_no_new_features() -> None:
    sizes, read = [5.0, 10.0, 20.0, 40.0, 80.0], [5.1, 10.12, 20.09, 40.03, 79.9]
    alone = calibrate(sizes, read, 0.0, ["1"] * 5)
    assert alone.covers == "this print" and any("one print" in n for n in alone.notes)
    twice = calibrate(sizes * 2, read * 2, 0.0, ["1"] * 10, [str(s) for s in sizes] * 2)
    assert (twice.readings, twice.s_mm) == (5, pytest.approx(alone.s_mm))
    two = calibrate(sizes * 2, read + [r + 0.1 for r in read], 0.0, ["1"] * 5 + ["2"] * 5)
    assert two.covers == "one future print" and two.between_mm > 0.04
    assert two.half_of_one_mm(20) > 2 * alone.half_of_one_mm(20), (
        "prints that lie 0.1 apart: two say little of the third"
    )


@pytest.mark.parametrize(
    ("read", "word"),
    [([80.1, 40.1, 20.1, 10.1, 5.1], "opposite order"), ([0.2, 0.4, 0.79, 1.58, 3.15], "inches"), ([5.0, 11.0, 23.0, 47.0, 95.0], "no printer does")],
)  # fmt: skip
def test_lists_that_no_printer_made_are_told(read: list[float], word: str) -> None:
    assert any(word in n for n in calibrate([5.0, 10.0, 20.0, 40.0, 80.0], read).notes)
