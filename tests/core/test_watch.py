"""Watching a gap that no joint made: read straight across where the faces lie over each other, judged by an own band, and looked at as it was printed."""

from __future__ import annotations

from typing import Any

import pytest
from building import Bench, flat, good_on_hidden_machines

from dovejoint.core.document import new_project
from dovejoint.core.errors import CommandError
from dovejoint.core.joints.assess import assess
from dovejoint.core.joints.other_gap import drawing_step
from dovejoint.core.printing.features import features_of


def level(height: float, right: float = 0.0, beside: bool = False) -> dict[str, Any]:
    if beside:
        return {"rule": "fixed", "origin": [height, right, 15], "x": [0, 1, 0], "y": [0, 0, 1]}
    return {"rule": "fixed", "origin": [right, 0, height], "x": [1, 0, 0], "y": [0, 1, 0]}


class Stack(Bench):
    """Two blocks 40 × 30 × 10, one over the other or beside it, so far apart."""

    def __init__(
        self, apart: float = 0.4, right: float = 0.0, other: str = "start", beside: bool = False, **fields: Any
    ) -> None:
        super().__init__(new_project("Stack"))
        size = {"wide": "40 mm", "deep": "30 mm", "high": "10 mm"}
        low, self.low = self.do(
            "AddStep", kind="body", fields={**size, "on": level(0, 0, beside)}, new_part={"name": "Low"}
        )
        self.upper, self.high = self.do(
            "AddStep", kind="body", fields={**size, "on": level(10 + apart, right, beside)}, new_part={"name": "High"}
        )
        band = {"least": "0.1 mm", "target": "0.3 mm", "most": "0.6 mm"}
        faces = {"first": flat(self, self.low, f"{low}/end"), "second": flat(self, self.high, f"{self.upper}/{other}")}
        (self.step,) = self.do("AddStep", kind="watch", fields={**faces, **band, **fields})


@pytest.mark.parametrize(("apart", "state"), [(0.4, "well"), (-0.2, "wrong"), (0.0, "wrong"), (2.0, "wrong")])
@pytest.mark.parametrize("right", [0.0, 25.0])
def test_the_gap_is_what_a_ruler_reads(apart: float, state: str, right: float) -> None:
    stack = Stack(apart, right)
    assert stack.message(stack.step) == ""
    joint = stack.joint()
    m = joint.measured
    assert (m.least_mm, m.most_mm, m.room_mm, m.play_mm) == pytest.approx((apart,) * 4, abs=1e-6)
    assert joint.state == state
    # nothing was changed
    assert stack.volume(stack.low) == pytest.approx(40 * 30 * 10) and stack.volume(stack.high) == pytest.approx(
        40 * 30 * 10
    )


@pytest.mark.parametrize("apart", [0.4, 2.0, -0.3])
def test_the_second_face_moves_until_the_gap_is_right(apart: float) -> None:
    """Whatever it was before: the upper block is 30 × 40 × (10 + what it moves)."""
    stack = Stack(apart, how="driven")
    assert stack.message(stack.step) == ""
    for band in ({"fit": "loose"}, {"fit": "own", "least": "0.2 mm", "target": "0.5 mm", "most": "0.9 mm"}):
        stack.do("EditStep", step=stack.step, fields=band)
        joint = stack.joint()
        gap = joint.drawn.gap_mm
        assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((gap, gap), abs=1e-6)
        assert stack.volume(stack.high) == pytest.approx(40 * 30 * (10 + apart - gap))
        assert stack.volume(stack.low) == pytest.approx(40 * 30 * 10)
        assert joint.expected.least_mm == pytest.approx(joint.wanted.target_mm, abs=0.012)


def test_no_caliper_reads_it_and_no_row_of_them_is_printed() -> None:
    stack = Stack(how="driven")
    evaluation = stack.evaluate()
    reports = assess(stack.project, evaluation, stack.gaps)
    own = [f for f in features_of(stack.project, evaluation, reports) if f.joint]
    assert [f.read for f in own] == [False, False]
    with pytest.raises(CommandError, match="goes into something else"):
        drawing_step(stack.project, stack.step)


@pytest.mark.parametrize(("apart", "beside"), [(0.3, False), (0.15, True), (0.3, True), (0.55, True)])
def test_it_is_looked_at_on_hidden_machines(apart: float, beside: bool) -> None:
    """Printed unmeasured and looked at with feelers: as often good as is said beside each other; upright, where first layers and layers alike move both faces, not less often."""
    stack = Stack(apart, beside=beside)
    good, said = good_on_hidden_machines(stack, stack.step, 300)
    assert good > said - 0.14
    assert not beside or good < said + 0.14


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"right": 60.0}, "over each other"),
        ({"other": "end"}, "look at each other"),
        ({"other": "side(left)"}, "look at each other"),
    ],
)
def test_what_is_refused(fields: dict[str, Any], words: str) -> None:
    stack = Stack(**fields)
    assert words in stack.message(stack.step)
