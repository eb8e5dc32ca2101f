"""The solver against worked sketches: closed-form coordinates, freedoms, dependent and conflicting sets; and by properties."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dovejoint.core.errors import DoveError
from dovejoint.core.sketch.drawing import Drawing, Item, Round
from dovejoint.core.sketch.neutral import solve_neutral
from dovejoint.core.sketch.newton import diagnose, settled

_DATA = json.loads((Path(__file__).parents[1] / "reference" / "sketch-cases.json").read_text())
CASES = [*_DATA["cases"], *_DATA["more_cases"]]


def measure(report: dict[str, Any], case: dict[str, Any], what: dict[str, Any]) -> float:
    at, of = report["points"], what["of"]
    if what["measure"] == "radius":
        return float(report["radii"][of[0]])
    if what["measure"] == "abs_dx":
        return abs(at[of[0]][0] - at[of[1]][0])
    line = next(e for e in case["entities"] if e["id"] == of[0])
    return math.dist(at[line["start"]], at[line["end"]])


def agrees(report: dict[str, Any], expected: dict[str, Any], case: dict[str, Any]) -> None:
    assert (report["status"], report["dof"]) == (expected["status"], expected.get("dof", report["dof"]))
    for point, place in expected.get("coordinates", {}).items():
        assert report["points"][point] == pytest.approx(place, abs=max(case["tolerance"], 1e-6 * max(map(abs, place))))
    for what in expected.get("values", []):
        assert measure(report, case, what) == pytest.approx(what["value"], abs=case["tolerance"])
    for name in ("free_points", "conflict_set"):
        if name in expected:
            assert sorted(report[name]) == sorted(expected[name])
    assert report["surplus"] == expected.get("surplus", report["surplus"])
    if "dependent_set" in expected:
        assert sorted(expected["dependent_set"]) in [sorted(s) for s in report["dependent_sets"]]
    assert set(expected.get("conflict_must_contain", [])) <= set(report["conflict_set"])
    assert not set(expected.get("conflict_must_not_contain", [])) & set(report["conflict_set"])
    if "max_move" in expected:
        for e in case["entities"]:
            if e["type"] == "point":
                assert math.dist(e["at"], report["points"][e["id"]]) <= expected["max_move"]


@pytest.mark.parametrize("case", CASES, ids=lambda c: c["id"])
def test_worked_sketches(case: dict[str, Any]) -> None:
    report = solve_neutral(case)
    agrees(report, case["expected"], case)
    for step, told in zip(case.get("then", []), report["then"], strict=True):
        agrees(told, step["expected"], case)


@pytest.mark.parametrize("scale", [0.001, 1000.0])
@pytest.mark.parametrize("case", [c for c in CASES if c["expected"]["status"] != "conflicting"], ids=lambda c: c["id"])
def test_size_and_place_do_not_matter(case: dict[str, Any], scale: float) -> None:
    """A thousand times larger or smaller, the same drawing has the same answer, so much larger or smaller."""
    text = json.loads(json.dumps(case))
    text.pop("then", None)
    for e in text["entities"]:
        if "at" in e:
            e["at"] = [scale * v for v in e["at"]]
        if "radius" in e:
            e["radius"] *= scale
    for k in text["constraints"]:
        if "at" in k:
            k["at"] = [scale * v for v in k["at"]]
        if "value" in k and k["type"] != "angle":
            k["value"] *= scale
    small, plain = solve_neutral(text), solve_neutral({**case, "then": []})
    assert (small["status"], small["dof"]) == (plain["status"], plain["dof"])
    for point, (x, y) in plain["points"].items():
        assert small["points"][point] == pytest.approx((scale * x, scale * y), abs=2e-6 * scale * 100)


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10**6))
def test_shaken_solutions_are_found_again(seed: int) -> None:
    """A random chain of lines and tangent arcs with sizes taken off it, shaken by a tenth: it comes back to all of its sizes."""
    dice = np.random.default_rng(seed)
    count = int(dice.integers(3, 9))
    places = {"p0": (0.0, 0.0)}
    heading, lines, items = 0.0, {}, []
    for k in range(count):
        heading += float(dice.uniform(-1.2, 1.2))
        size = float(dice.uniform(8, 30))
        x, y = places[f"p{k}"]
        places[f"p{k + 1}"] = (x + size * math.cos(heading), y + size * math.sin(heading))
        lines[f"l{k}"] = (f"p{k}", f"p{k + 1}")
        items.append(Item(f"d{k}", "length", (f"l{k}",), size))
        if k:
            one, two = (np.subtract(places[q], places[p]) for p, q in (lines[f"l{k - 1}"], lines[f"l{k}"]))
            turn = math.atan2(one[0] * two[1] - one[1] * two[0], float(one @ two))
            items.append(Item(f"a{k}", "angle", (f"l{k - 1}", f"l{k}"), turn))
    items += [Item("fix", "fixed", ("p0",), at=(0.0, 0.0)), Item("dir", "distance_y", ("p0", "p1"), places["p1"][1])]
    shaken = {p: (x + float(dice.normal(0, 1.5)), y + float(dice.normal(0, 1.5))) for p, (x, y) in places.items()}
    found = settled(Drawing(shaken, lines, {}, items))
    assert found.holds
    assert diagnose(Drawing(shaken, lines, {}, items), found.z).freedom == 0
    for item in items:
        if item.kind == "length":
            i, j = (found.system.slot[p] for p in lines[item.of[0]])
            assert math.dist(found.z[i : i + 2], found.z[j : j + 2]) == pytest.approx(item.value, abs=1e-6)


def test_rounds_touch_inside_or_outside_as_they_were_drawn() -> None:
    def centres(apart: float, small: float) -> float:
        points = {"a": (0.0, 0.0), "b": (apart, 0.3)}
        rounds = {"k": Round("a", 10.0), "m": Round("b", small)}
        items = [
            Item("f", "fixed", ("a",), at=(0.0, 0.0)), Item("r", "radius", ("k",), 10.0), Item("s", "radius", ("m",), 4.0),
            Item("h", "horizontal", ("a", "b")), Item("t", "tangent", ("k", "m")),
        ]  # fmt: skip
        found = settled(Drawing(points, {}, rounds, items))
        assert found.holds
        return float(found.z[found.system.slot["b"]])

    assert centres(13.0, 4.5) == pytest.approx(14)
    assert centres(5.0, 4.5) == pytest.approx(6)


def test_large_edits_do_not_flip_a_four_bar() -> None:
    """A linkage whose input is turned right round in large jumps keeps its side, as a real one would."""
    points = {"o": (0.0, 0.0), "a": (0.0, 10.0), "b": (30.0, 22.0), "q": (40.0, 0.0)}
    lines = {"ground": ("o", "q"), "crank": ("o", "a"), "rod": ("a", "b"), "rocker": ("q", "b")}
    values = {"crank": 10.0, "rod": 34.0, "rocker": 24.0}

    def drawing(at: dict[str, tuple[float, float]], turn: float) -> Drawing:
        items = [Item("fo", "fixed", ("o",), at=(0.0, 0.0)), Item("fq", "fixed", ("q",), at=(40.0, 0.0))]
        items += [Item(k, "length", (k,), v) for k, v in values.items()]
        return Drawing(at, lines, {}, [*items, Item("turn", "angle", ("ground", "crank"), turn)])

    angle = math.pi / 2
    found = settled(drawing(points, angle))
    for _ in range(14):
        at = {p: (float(found.z[k]), float(found.z[k + 1])) for p, k in found.system.slot.items()}
        found = settled(drawing(at, angle + 1.4), {**values, "turn": angle})
        angle += 1.4
        assert found.holds
        k = found.system.slot["b"]
        assert found.z[k + 1] > 0, "the rocker stays above its ground"


@pytest.mark.parametrize(
    ("data", "word"),
    [
        ({}, "docs/sketch-format.md"),
        ({"entities": [{"id": "l", "type": "line", "start": "a", "end": "b"}]}, "no point “a”"),
        ({"entities": [{"id": "s", "type": "spiral"}]}, "spiral"),
        ({"entities": [], "constraints": [{"id": "h", "type": "horizontal", "line": "x"}]}, "not a line"),
        ({"entities": [], "constraints": [{"id": "h", "type": "glued", "line": "x"}]}, "no tie called"),
        ({"entities": [{"id": "a", "type": "point", "at": [0, 0]}], "then": [{"set": {"d": 5}}]}, "no dimension “d”"),
        ({"entities": [{"id": "a", "type": "point", "at": [0]}]}, "docs/sketch-format.md"),
    ],
)  # fmt: skip
def test_nonsense_is_refused_with_a_sentence(data: dict[str, Any], word: str) -> None:
    with pytest.raises(DoveError) as caught:
        solve_neutral(data)
    assert word in caught.value.message
