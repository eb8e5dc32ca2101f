"""Calibration from readings against independent fits, and by what it promises: intervals that hold as often as they say."""

from __future__ import annotations

import json
import random
from pathlib import Path
from typing import Any

import pytest

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
