"""Hinges: volumes by hand, the gap round the pin in all its knuckles, turning without touching, and what is refused."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench

from dovejoint.core.document import new_project
from dovejoint.core.solid import Axis, Motion, common, moved


def level(right: float, height: float = 0.0) -> dict[str, Any]:
    return {"rule": "fixed", "origin": [right, 0, height], "x": [1, 0, 0], "y": [0, 1, 0]}


class Leaves(Bench):
    """Two plates 40 × 50 × 5, half a millimetre apart, hinged about the line between their upper edges."""

    def __init__(self, apart: float = 0.5, **fields: Any) -> None:
        super().__init__(new_project("Leaves"))
        self.do("AddValue", name="barrel", formula="9 mm")
        size = {"wide": "40 mm", "deep": "50 mm", "high": "5 mm"}
        _, self.first = self.do(
            "AddStep", kind="body", fields={**size, "on": level(-20 - apart / 2)}, new_part={"name": "Box"}
        )
        _, self.second = self.do(
            "AddStep", kind="body", fields={**size, "on": level(20 + apart / 2)}, new_part={"name": "Flap"}
        )
        (sketch,) = self.do("AddStep", kind="sketch", fields={"plane": level(0, 5)})
        line = next(
            m
            for m in self.do("DrawLine", step=sketch, start={"at": [0, -20]}, end={"at": [0, 20]})
            if m.startswith("l")
        )
        given = {
            "first": self.first,
            "second": self.second,
            "axis": {"rule": "axis_line", "step": sketch, "line": line},
            "across": "barrel",
            **fields,
        }
        own = fields.get("pin", "own") == "own"
        made = self.do("AddStep", kind="hinge", fields=given, **({"new_part": {"name": "Pin"}} if own else {}))
        self.step, self.pin = made[0], made[-1]


def corner(radius: float, off: float = 0.25) -> float:
    """Of a circle about the line, the part within a plate whose edge stands so far beside it, below."""
    return (radius**2 * math.acos(off / radius) - off * math.sqrt(radius**2 - off**2)) / 2


@pytest.mark.parametrize("count", [3, 5, 9])
@pytest.mark.parametrize("pin", ["own", "in_place"])
def test_volumes_by_hand(count: int, pin: str) -> None:
    leaves = Leaves(knuckles=str(count), pin=pin, fit="loose")
    assert leaves.message(leaves.step) == ""
    joint = leaves.joint()
    gap = joint.drawn.gap_mm
    hole, stick = 2.0, 2.0 - gap
    each = (40 - (count - 1) * 0.4) / count
    ring = math.pi * 4.5**2 - corner(4.5)
    outer, inner = (count + 1) // 2, count // 2
    second = (
        10000 - outer * (each + 0.8) * corner(4.9) + inner * each * (ring - math.pi * hole**2) - 2 * 0.6 * corner(hole)
    )
    first = 10000 - inner * (each + 0.8) * corner(4.9) + outer * each * ring
    if pin == "own":
        first -= outer * each * math.pi * hole**2 + 2 * corner(hole)
        assert leaves.volume(leaves.pin) == pytest.approx(math.pi * stick**2 * 40, rel=1e-6)
    else:
        first += inner * (each + 0.8) * math.pi * stick**2
    assert leaves.volume(leaves.second) == pytest.approx(second, rel=1e-6)
    assert leaves.volume(leaves.first) == pytest.approx(first, rel=1e-6)
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((gap, gap), abs=0.003)
    assert joint.note == ""


def test_the_flap_turns_up_without_touching() -> None:
    """Turned by a right angle about the axis it shares no room with the box; nor does it as it lies."""
    leaves = Leaves(pin="in_place", fit="loose")
    parts = leaves.evaluate().parts
    box, flap = parts[leaves.first].solid, parts[leaves.second].solid
    axis = Axis((0.0, 0.0, 5.0), (0.0, 1.0, 0.0))
    for turn in (0, 45, 90, 120):
        turned = moved(flap, Motion.turn(axis, -math.radians(turn)))
        assert common(box, turned)[0] < 1e-3, turn


def test_it_keeps_its_gap_when_the_barrel_changes() -> None:
    leaves = Leaves()
    for barrel in ("9 mm", "7.5 mm", "12 mm"):
        leaves.set("barrel", barrel)
        joint = leaves.joint()
        assert joint.measured.least_mm == pytest.approx(joint.drawn.gap_mm, abs=0.003)


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"knuckles": "4"}, "odd number of knuckles"),
        ({"knuckles": "25"}, "mm long each"),
        ({"across": "5 mm"}, "barrel of"),
        ({"diameter": "1 mm", "fit": "loose"}, "nothing of the pin"),
        ({"apart": 12.0}, "touch their part"),
        ({"clear": "0 mm"}, "room beside the knuckles"),
    ],
)
def test_what_is_refused(fields: dict[str, Any], words: str) -> None:
    leaves = Leaves(**fields)
    assert words in leaves.message(leaves.step)
