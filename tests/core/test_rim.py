"""Laps and tongues along rims: volumes by hand on round and square rims, gaps on all sides, walls that are too thin, and what is refused."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench, flat

from dovejoint.core.document import new_project
from dovejoint.core.joints.assess import assess

GROUND = {"rule": "base", "plane": "ground"}


def level(height: float) -> dict[str, Any]:
    return {"rule": "fixed", "origin": [0, 0, height], "x": [1, 0, 0], "y": [0, 1, 0]}


class Cups(Bench):
    """Two cups, rim to rim at 20 mm: 60 across (or 60 × 40), 2 mm of floor each."""

    def __init__(self, is_round: bool = True, wall: float = 2.4, **fields: Any) -> None:
        super().__init__(new_project("Cups"))
        self.is_round, self.wall = is_round, wall
        self.do("AddValue", name="wide", formula="60 mm")
        outside = {"shape": "cylinder", "across": "wide"} if is_round else {"wide": "wide", "deep": "40 mm"}
        inside = {"shape": "cylinder", "across": f"wide - {2 * wall} mm"} if is_round else {"wide": f"wide - {2 * wall} mm", "deep": f"{40 - 2 * wall} mm"}  # fmt: skip
        step, self.low = self.do(
            "AddStep", kind="body", fields={**outside, "high": "20 mm", "on": GROUND}, new_part={"name": "Lower"}
        )
        self.do(
            "AddStep",
            kind="body",
            fields={**inside, "high": "18 mm", "on": level(2), "operation": "cut", "part": self.low},
        )
        _, self.up = self.do(
            "AddStep", kind="body", fields={**outside, "high": "20 mm", "on": level(20)}, new_part={"name": "Upper"}
        )
        self.do(
            "AddStep",
            kind="body",
            fields={**inside, "high": "18 mm", "on": level(20), "operation": "cut", "part": self.up},
        )
        self.rim = flat(self, self.low, f"{step}/end")
        (self.step,) = self.do("AddStep", kind="rim", fields={"rim": self.rim, "host": self.up, **fields})

    def area(self, begins: float, ends: float) -> float:
        """Of a ring from so far outside the opening to so far."""
        if self.is_round:
            r = 30 - self.wall
            return math.pi * ((r + ends) ** 2 - (r + begins) ** 2)
        w, d = 60 - 2 * self.wall, 40 - 2 * self.wall
        return (w + 2 * ends) * (d + 2 * ends) - (w + 2 * begins) * (d + 2 * begins)

    def cup(self) -> float:
        whole = math.pi * 900 if self.is_round else 60 * 40
        return whole * 2 + self.area(0, self.wall) * 18


@pytest.mark.parametrize("is_round", [True, False])
@pytest.mark.parametrize(("takes", "outer"), [("inner", 0.0), ("both", 0.5), ("outer", 1.0)])
def test_laps_by_hand(is_round: bool, takes: str, outer: float) -> None:
    cups = Cups(is_round, takes=takes, lead="0 mm", mouth="0 mm", thickness="1.2 mm")
    assert cups.message(cups.step) == ""
    joint = cups.joint()
    gap = joint.drawn.gap_mm
    assert cups.volume(cups.low) == pytest.approx(cups.cup() + 3 * cups.area(0, 1.2 - (1 - outer) * gap), rel=1e-6)
    assert cups.volume(cups.up) == pytest.approx(cups.cup() - 3.3 * cups.area(0, 1.2 + outer * gap), rel=1e-6)
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((gap, gap), abs=0.003)


@pytest.mark.parametrize("is_round", [True, False])
def test_tongues_by_hand(is_round: bool) -> None:
    cups = Cups(
        is_round, wall=5, form="tongue", begins="1.4 mm", thickness="1.8 mm", lead="0 mm", mouth="0 mm", takes="both"
    )
    assert cups.message(cups.step) == ""
    joint = cups.joint()
    half = joint.drawn.gap_mm / 2
    assert cups.volume(cups.low) == pytest.approx(cups.cup() + 3 * cups.area(1.4 + half, 3.2 - half), rel=1e-6)
    assert cups.volume(cups.up) == pytest.approx(cups.cup() - 3.3 * cups.area(1.4 - half, 3.2 + half), rel=1e-6)
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((2 * half, 2 * half), abs=0.003)
    assert joint.measured.play_mm == pytest.approx(2 * half, abs=0.003)


def test_chamfers_lead_in_and_leave_the_gap() -> None:
    cups = Cups(thickness="1.2 mm")
    plain = Cups(thickness="1.2 mm", lead="0 mm", mouth="0 mm")
    gap = cups.joint().drawn.gap_mm
    ring = lambda radius, leg, inwards: 2 * math.pi * (radius + (-leg / 3 if inwards else leg / 3)) * leg**2 / 2  # noqa: E731
    assert plain.volume(plain.low) - cups.volume(cups.low) == pytest.approx(ring(27.6 + 1.2 - gap, 0.4, True), rel=1e-5)
    assert plain.volume(plain.up) - cups.volume(cups.up) == pytest.approx(ring(27.6 + 1.2, 0.5, False), rel=1e-5)
    assert cups.joint().measured.least_mm == pytest.approx(gap, abs=0.003)


def test_it_follows_when_the_cups_grow_and_sees_a_post_that_is_none_of_it() -> None:
    cups = Cups()
    cups.do(
        "AddStep",
        kind="body",
        fields={
            "shape": "cylinder",
            "across": "6 mm",
            "high": "19 mm",
            "right": "23 mm",
            "on": level(20),
            "operation": "add",
            "part": cups.up,
        },
    )
    for wide in ("60 mm", "75 mm"):
        cups.set("wide", wide)
        joint = cups.joint()
        assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((joint.drawn.gap_mm,) * 2, abs=0.003)
        assert joint.note == ""


def test_joints_that_are_called_alike_are_told_by_their_steps() -> None:
    cups = Cups()
    title = cups.joint().name
    (second,) = cups.do("AddStep", kind="rim", fields={"rim": cups.rim, "host": cups.up})
    names = [j.name for j in assess(cups.project, cups.evaluate(), cups.gaps)]
    assert names == [f"{title} of step 5", f"{title} of step 6"]
    cups.do("RenameStep", step=second, name="upper seam")
    assert [j.name for j in assess(cups.project, cups.evaluate(), cups.gaps)] == [title, "upper seam"]


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"thickness": "2.2 mm"}, "1.99 mm is the most"),
        ({"thickness": "0.5 mm"}, "leaves nothing of the lip"),
        ({"form": "tongue"}, "lip"),
        ({"lead": "1 mm"}, "chamfers leave nothing"),
        ({"wall": 8, "form": "tongue", "begins": "0.3 mm", "thickness": "2 mm"}, "begin 0.4 mm"),
        ({"height": "0 mm"}, "height"),
    ],
)
def test_what_is_refused(fields: dict[str, Any], words: str) -> None:
    cups = Cups(**fields)
    assert words in cups.message(cups.step)


def test_a_face_without_one_hole_is_refused() -> None:
    cups = Cups()
    floor = next(n for names in cups.evaluate().parts[cups.low].solid.names for n in names if n.endswith("/start"))
    cups.do("EditStep", step=cups.step, fields={"rim": flat(cups, cups.low, floor)})
    assert "one hole" in cups.message(cups.step)
    cups.do("EditStep", step=cups.step, fields={"rim": cups.rim, "host": cups.low})
    assert "another part" in cups.message(cups.step)
