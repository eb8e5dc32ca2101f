"""Tolerances as people write them, and dimensions at their limits, each part alone."""

from __future__ import annotations

import sys
from typing import Any

import pytest
from building import Bench, Feeder

from dovejoint.core.document import new_project
from dovejoint.core.errors import CommandError, FormulaError
from dovejoint.core.joints import with_stacks
from dovejoint.core.joints.assess import assess
from dovejoint.core.quantities import ANGLE, LENGTH, Quantity, limited
from dovejoint.core.quantities.tolerance import said_tolerance
from dovejoint.core.recipe import Limiter, LimitStates, evaluate_at


def at(bench: Bench, **states: object) -> object:
    return evaluate_at(bench.project, bench.cache, LimitStates.read(states))[0]


@pytest.mark.parametrize(
    ("text", "lower", "upper"),
    [
        ("±0.1", -0.1, 0.1),
        ("+/- 0.05 mm", -0.05, 0.05),
        ("+0.2 -0.1", -0.1, 0.2),
        ("+0.2/-0.1", -0.1, 0.2),
        ("0 -0.2", -0.2, 0.0),
        ("-0.1 -0.3", -0.3, -0.1),
        ("24.9 .. 25.1", -0.1, 0.1),
        ("25 to 25.2", 0.0, 0.2),
        # ISO 286-2 for 25 mm: H8 is 0 to +33 µm, f7 −20 to −41 µm
        ("H8", 0.0, 0.033),
        ("f7", -0.041, -0.020),
        ("±0.01 in", -0.254, 0.254),
    ],
)
def test_ways_to_write_it(text: str, lower: float, upper: float) -> None:
    found = limited(text, Quantity(25.0, LENGTH))
    assert (found.lower, found.upper) == pytest.approx((lower, upper))
    assert [found.at(s) for s in ("lower", "nominal", "mid", "upper")] == pytest.approx(  # type: ignore[arg-type]
        [25 + lower, 25, 25 + (lower + upper) / 2, 25 + upper]
    )


def test_inches_and_degrees_take_their_own_unit() -> None:
    assert limited("±0.01", Quantity(25.4, LENGTH), "in").upper == pytest.approx(0.254)
    assert limited("±1", Quantity(0.5, ANGLE)).upper == pytest.approx(0.0174533, rel=1e-5)
    assert said_tolerance(limited("+0.2 -0.1", Quantity(25.0, LENGTH))) == "+0.2 −0.1"
    assert said_tolerance(limited("±0.1", Quantity(25.0, LENGTH))) == "±0.1"


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ("wide", "is no tolerance"),
        ("±", "is no tolerance"),
        ("± -0.1", "has two signs"),
        ("25.1 .. 24.9", "lower limit above its upper"),
        ("±2 deg", "is no tolerance"),
        ("H99", "not 99"),
    ],
)
def test_what_is_no_tolerance(text: str, word: str) -> None:
    with pytest.raises(FormulaError, match=word):
        limited(text, Quantity(25.0, LENGTH))


def test_zones_are_for_lengths() -> None:
    with pytest.raises(FormulaError, match="for lengths"):
        limited("H8", Quantity(1.0, ANGLE))


def test_commands_refuse_and_remove(bench: Bench) -> None:
    (value,) = bench.do("AddValue", name="wide", formula="30 mm")
    body, _ = bench.extrude(bench.rectangle("wide", "20 mm"), "10 mm")
    with pytest.raises(CommandError, match="no tolerance"):
        bench.do("SetTolerance", value=value, tolerance="much")
    with pytest.raises(CommandError):
        bench.do("SetTolerance", step=body, path="no such figure", tolerance="±0.1")
    bench.do("SetTolerance", value=value, tolerance="±0.2")
    bench.do("SetTolerance", step=body, path="distance", tolerance="+0.1 0")
    assert [d.name for d in Limiter(bench.project, bench.cache, bench.evaluate()).found] == ["wide", "step 2: distance"]
    bench.do("SetTolerance", value=value, tolerance=" ")
    assert len(Limiter(bench.project, bench.cache, bench.evaluate()).found) == 1


def test_sizes_at_their_limits(bench: Bench) -> None:
    """A block of 30 ± 0.2 by 20 by 10 +0.1: volumes by hand, overall, by part and by dimension."""
    (value,) = bench.do("AddValue", name="wide", formula="30 mm")
    body, block = bench.extrude(bench.rectangle("wide", "20 mm"), "10 mm")
    bench.do("SetTolerance", value=value, tolerance="±0.2")
    bench.do("SetTolerance", step=body, path="distance", tolerance="+0.1 0")

    def volume(**states: object) -> float:
        return at(bench, **states).parts[block].info.volume_mm3  # type: ignore[attr-defined,no-any-return]

    assert volume(overall="lower") == pytest.approx(29.8 * 20 * 10)
    assert volume(overall="upper") == pytest.approx(30.2 * 20 * 10.1)
    assert volume(overall="mid") == pytest.approx(30 * 20 * 10.05)
    assert volume(parts={block: "most"}) == pytest.approx(30.2 * 20 * 10.1)
    assert volume(parts={block: "least"}) == pytest.approx(29.8 * 20 * 10)
    assert volume(overall="upper", parts={block: "lower"}) == pytest.approx(29.8 * 20 * 10)
    assert volume(overall="upper", dimensions={value: "lower"}) == pytest.approx(29.8 * 20 * 10.1)
    with pytest.raises(CommandError, match="no limit state"):
        LimitStates.read({"overall": "huge"})


def test_least_material_is_the_widest_opening(bench: Bench) -> None:
    (value,) = bench.do("AddValue", name="bore", formula="8 mm")
    _, block = bench.extrude(bench.rectangle("30 mm", "20 mm"), "10 mm")
    (hole,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawRectangle", step=hole, first=[0, 0], corner=[4, 4], on="origin", width="bore", height="bore")
    bench.extrude(hole, "10 mm", block, "cut", extent="through")
    bench.do("SetTolerance", value=value, tolerance="H9")  # 8 H9: 0 to +36 µm
    most, least = (at(bench, parts={block: s}).parts[block].info.volume_mm3 for s in ("most", "least"))  # type: ignore[attr-defined]
    assert most == pytest.approx(6000 - 10 * 8**2)
    assert least == pytest.approx(6000 - 10 * 8.036**2)


def test_each_part_varies_alone(feeder: Feeder) -> None:
    """The floor is built on the hopper's rim: it follows the nominal size, so the gap takes the whole error."""
    nominal = feeder.evaluate()
    feeder.do("SetTolerance", value=feeder.value("inside"), tolerance="±0.3")
    upper = at(feeder, overall="upper")
    widths = {
        part: [e.parts[part].info.high_mm[0] - e.parts[part].info.low_mm[0] for e in (nominal, upper)]  # type: ignore[attr-defined]
        for part in (feeder.hopper, feeder.floor)
    }
    assert widths[feeder.hopper][1] - widths[feeder.hopper][0] == pytest.approx(0.3)
    # the floor's own outline is that of the rim, which is another part's size
    assert widths[feeder.floor][1] == pytest.approx(widths[feeder.floor][0])
    joint = assess(feeder.project, upper, feeder.gaps)[0]  # type: ignore[arg-type]
    assert joint.measured is not None and joint.drawn is not None
    assert joint.measured.most_mm == pytest.approx(joint.drawn.gap_mm + 0.15, abs=2e-3), "half of 0.3 on either side"
    assert joint.note.startswith("At these limits")


def test_the_stack_names_what_moves_the_gap_most(feeder: Feeder) -> None:
    feeder.do("SetTolerance", value=feeder.value("inside"), tolerance="±0.3")
    feeder.do("SetTolerance", value=feeder.value("wall"), tolerance="±0.05")
    evaluation = feeder.evaluate()
    limiter = Limiter(feeder.project, feeder.cache, evaluation)
    joints = assess(feeder.project, evaluation, feeder.gaps)
    stack = with_stacks(feeder.project, limiter, evaluation, joints, feeder.gaps)[0].tolerance
    assert stack is not None
    row = stack.rows[0]
    lower, upper = row.at_lower_mm, row.at_upper_mm
    assert (row.name, row.part, stack.left_out) == ("inside", "Hopper", 0)
    # at the lower limit the side walls come 0.15 nearer; at the upper one the other two sides stay as near as they were
    assert lower == pytest.approx(-0.15, abs=2e-3)
    assert abs(upper) < 2e-3
    drawn = joints[0].measured
    assert drawn is not None
    # worst case: inside at its lower limit, and the lip as thick as it gets does not move its outer side
    assert stack.least_mm == pytest.approx(drawn.least_mm + lower, abs=6e-2)


def test_a_part_that_cannot_be_made_at_a_limit_stays_nominal_and_says_so(bench: Bench) -> None:
    body, block = bench.extrude(bench.rectangle("30 mm", "20 mm"), "10 mm")
    edges = {"rule": "edges_along", "part": block, "direction": "up"}
    (rounding,) = bench.do("AddStep", kind="fillet", fields={"edges": edges, "radius": "9.9 mm"})
    bench.do("SetTolerance", step=rounding, path="radius", tolerance="±1")
    upper = at(bench, overall="upper")
    report = next(s for s in upper.steps if s.id == rounding)  # type: ignore[attr-defined]
    assert report.state == "failed" and "shown as nominal" in report.message
    assert upper.parts[block].info.volume_mm3 == pytest.approx(bench.volume(block))  # type: ignore[attr-defined]


def stacked(bench: Bench) -> Any:
    evaluation = bench.evaluate()
    limiter = Limiter(bench.project, bench.cache, evaluation)
    joints = assess(bench.project, evaluation, bench.gaps)
    return with_stacks(bench.project, limiter, evaluation, joints, bench.gaps)[0]


class Box(Bench):
    """An open box of ``wide`` × ``deep`` inside and a lid that plugs in, drawn with 0.35 a side."""

    def __init__(self) -> None:
        super().__init__(new_project("Box"))
        self.do("AddValue", name="wide", formula="60 mm")
        self.do("AddValue", name="deep", formula="40 mm")
        self.body, self.box = self.extrude(self.rectangle("wide + 4 mm", "deep + 4 mm"), "30 mm", "Box")
        top = {"rule": "faces", "part": self.box, "faces": [{"name": f"{self.body}/start"}]}
        (hollow,) = self.do("AddStep", kind="shell", fields={"open": top, "wall": "2 mm"})
        rim = {"rule": "flat", "part": self.box, "face": {"name": f"{hollow}/rim({self.body}/start)"}}
        self.lip, self.lid = self.do(
            "AddStep", kind="plug_in_lip", new_part={"name": "Lid"}, fields={"host": rim, "mouth": "0.4 mm"}
        )


def test_two_directions_are_not_added_to_each_other() -> None:
    """Both ways ±0.2: each side moves by 0.1, so the gap is 0.25 to 0.45 and never 0.15 to 0.55."""
    bench = Box()
    for name in ("wide", "deep"):
        bench.do("SetTolerance", value=bench.value(name), tolerance="±0.2")
    joint = stacked(bench)
    stack = joint.tolerance
    assert joint.measured.least_mm == pytest.approx(0.35, abs=1e-6)
    assert (stack.least_mm, stack.most_mm) == pytest.approx((0.25, 0.45), abs=1e-6)
    assert (stack.room_mm, stack.play_mm) == pytest.approx((0.25, 0.45), abs=1e-6)
    # limits as three standard deviations: one direction's 0.1 is all of either, and the other adds none
    assert {r.name for r in stack.rows} == {"wide", "deep"}
    assert set(stack.tightest) == {bench.box} and "lower" in stack.tightest[bench.box].values()


def test_what_acts_on_opposite_sides_is_added_there_and_a_lid_floats() -> None:
    """Two pads on the lip, left and right, each 0.1 ± 0.05 proud. Least as modelled: 0.35 − 0.15; all round at the best place: half of
    the 0.7 − 0.3 that are left across. What one pad does alone is shared by both sides when the lid floats."""
    bench = Box()
    for name in ("left", "right"):
        bench.do("AddValue", name=name, formula="0.1 mm")
        side = 29.65 if name == "right" else -29.65
        sketch = bench.rectangle(f"2 * {name}", "6 mm", at=(side, 0))
        # the rectangle stands over the lip's side by its whole half width, wherever it was drawn
        bench.extrude(sketch, "6 mm", bench.lid, "add")
    joint = stacked(bench)
    place = joint.measured.least_mm
    for name in ("left", "right"):
        bench.do("SetTolerance", value=bench.value(name), tolerance="±0.05")
    joint = stacked(bench)
    stack = joint.tolerance
    moves = {r.name: r for r in stack.rows}
    assert joint.measured.least_mm == pytest.approx(place)
    assert (stack.least_mm, stack.room_mm) == pytest.approx((0.20, 0.20), abs=1e-4)
    # nothing that any combination of limits measures lies beyond the worst case
    ids = [r.dimension for r in stack.rows]
    for first in ("lower", "nominal", "upper"):
        for second in ("lower", "nominal", "upper"):
            own = {bench.lid: dict(zip(ids, (first, second), strict=True))}
            measured = assess(bench.project, at(bench, own=own), bench.gaps)[0].measured  # type: ignore[arg-type]
            assert measured is not None
            assert stack.least_mm <= measured.least_mm + 1e-6 and stack.most_mm >= measured.most_mm - 1e-6
            assert stack.room_mm <= measured.room_mm + 1e-6 and stack.play_mm >= measured.play_mm - 1e-6
    one = moves["left"]
    assert one.moves_mm[4] == pytest.approx(-0.05, abs=1e-4)
    assert one.moves_mm[6] == pytest.approx(one.moves_mm[4] / 2, abs=1e-3), (
        "the room moves by half of what one side does"
    )
    assert stack.room_mm < stack.likely_room_mm, "the statistical case lies within the worst one"


def test_overlaps_that_are_only_there_at_a_limit_are_told_as_such() -> None:
    bench = Box()
    bench.do("SetTolerance", value=bench.value("wide"), tolerance="±0.9")
    joint = stacked(bench)
    assert joint.measured.least_mm == pytest.approx(0.35, abs=1e-6)
    assert joint.tolerance.least_mm == pytest.approx(-0.10, abs=1e-4)
    assert "At the worst case of the tolerances the two parts overlap by 0.10 mm" in joint.note


def test_what_changes_elsewhere_is_not_measured_again(feeder: Feeder, monkeypatch: pytest.MonkeyPatch) -> None:
    """Gaps are read again only where something that mates has moved; all toleranced dimensions are tried all the same."""
    base = feeder.joint()
    read: list[str] = []
    assessing = sys.modules["dovejoint.core.joints.assess"]
    real = assessing._read
    monkeypatch.setattr(assessing, "_read", lambda *words: (read.append("again"), real(*words))[1])
    feeder.do("EditStep", step=feeder.body, fields={"distance": "75 mm"})
    assert feeder.joint().measured == base.measured and read == [], (
        "taller at its far end: nothing moved where they mate"
    )
    feeder.set("inside", "84 mm")
    assert feeder.joint().measured.least_mm == pytest.approx(base.measured.least_mm) and read == ["again"]
