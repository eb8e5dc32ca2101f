"""Hinges: volumes by hand, the gap round the pin in all its knuckles, turning without touching, and what is refused."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
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


def test_the_room_round_the_knuckles_is_not_taken_for_the_gap() -> None:
    """A gap wider than the room beside and round the knuckles: what is read is that round the pin."""
    leaves = Leaves(
        pin="in_place", fit="own", least="0.7 mm", target="0.8 mm", most="0.9 mm", across="10 mm", diameter="5 mm"
    )
    assert leaves.message(leaves.step) == ""
    joint = leaves.joint()
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((joint.drawn.gap_mm,) * 2, abs=0.003)


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


# ---- how far it turns --------------------------------------------------------------------------------------------------


def told(leaves: Leaves) -> tuple[float, float]:
    """By how much the card says that the second part turns up and down, degrees."""
    results = {r.name: float(r.values[0]) for r in leaves.joint().working.results}
    return results["the second part turns upwards by"], results["the second part turns downwards by"]


def shares_room(leaves: Leaves, up_deg: float) -> float:
    """What the flap turned up by this and the box share, mm³: the kernel's own answer."""
    parts = leaves.evaluate().parts
    axis = Axis((0.0, 0.0, 5.0), (0.0, 1.0, 0.0))
    turned = moved(parts[leaves.second].solid, Motion.turn(axis, -math.radians(up_deg)))
    return float(common(parts[leaves.first].solid, turned)[0])


@pytest.mark.parametrize("apart", [0.5, 1.0])
def test_how_far_it_turns_by_hand(apart: float) -> None:
    """Up until the upper faces lie on each other; down until the lower corner, 5 below the axis, meets the other's side."""
    up, down = told(Leaves(apart=apart, fit="loose"))
    assert up == pytest.approx(180, abs=0.1)
    assert down == pytest.approx(math.degrees(2 * math.atan(apart / 2 / 5)), abs=0.05)


@pytest.mark.parametrize("pin", ["own", "in_place"])
def test_it_stops_where_it_is_told(pin: str) -> None:
    leaves = Leaves(pin=pin, fit="loose", across="10 mm", stops="at", up="95 deg", down="12 deg", apart=2.5)
    assert leaves.message(leaves.step) == ""
    assert told(leaves) == pytest.approx((95, 12), abs=0.1)
    joint = leaves.joint()
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((joint.drawn.gap_mm,) * 2, abs=0.003)
    # short of the stops the solids share no room, beyond them they do
    for turn in (-11.8, 0.0, 50.0, 94.8):
        assert shares_room(leaves, turn) < 1e-3, turn
    for turn in (-12.6, 95.6):
        assert shares_room(leaves, turn) > 0.02, turn
    for up in ("60 deg", "150 deg"):
        leaves.do("EditStep", step=leaves.step, fields={"up": up})
        assert told(leaves) == pytest.approx((float(up[:-4]), 12), abs=0.1)


def test_what_breaks_the_stops_off() -> None:
    """By the lug's own end on the solid, cut into small cells: a bar of that section, loaded half way along what meets the groove, or sheared off; two of them, about the axis."""
    leaves = Leaves(pin="in_place", fit="loose", across="10 mm", stops="at", up="95 deg", down="12 deg", apart=2.5)
    solid = leaves.evaluate().parts[leaves.first].solid
    (end,) = solid.find(f"{leaves.step}/lug(1)-end")
    corners = leaves.evaluate().parts[leaves.first].mesh.corners_of(end)
    off, up = corners[:, 0], corners[:, 2] - 5
    inside, turns = float(np.hypot(off, up).min()), np.unwrap(np.arctan2(up, off))
    a, r = np.meshgrid(np.linspace(-1, 1, 401) * np.ptp(turns) / 2, np.linspace(inside, 5.0, 201))
    cell = r * (5.0 - inside) / 200 * np.ptp(turns) / 400
    area, second = float(cell.sum()), float((cell * (r * np.sin(a)) ** 2).sum())
    assert area == pytest.approx(solid.areas_mm2[end], rel=0.02)
    each = (40 - 4 * 0.4) / 5
    deep, strength = min(2.5, each / 3), 50.0
    bent = strength * second / float((r * np.sin(a)).max()) / ((0.4 + deep) / 2)
    moment = 2 * min(strength / math.sqrt(3) * area, bent) * (5.0 + inside) / 2 / 1000
    results = {r.name: r for r in leaves.joint().working.results}
    assert float(results["turning moment until its stops break off"].values[0]) == pytest.approx(moment, rel=0.15)
    # its axis lies, so that their foot is not between two layers
    assert results["turning moment until its stops break off"].note == "once"


def test_a_stop_that_the_parts_do_not_let_it_reach_is_told() -> None:
    leaves = Leaves(fit="loose", stops="at", up="95 deg", down="20 deg")
    assert told(leaves)[1] == pytest.approx(math.degrees(2 * math.atan(0.25 / 5)), abs=0.05)
    assert "the parts meet before it stops" in leaves.joint().says


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"up": "-1 deg"}, "less than not at all"),
        ({"up": "280 deg", "down": "20 deg"}, "at most between stops"),
        ({"across": "7 mm"}, "need a wider barrel"),
        ({"pin": "in_place", "down": "0 deg"}, "so that nothing fuses"),
        ({"knuckles": "15"}, "For the lugs that stop it"),
    ],
)
def test_what_stops_refuse(fields: dict[str, Any], words: str) -> None:
    leaves = Leaves(**{"stops": "at", **fields})
    assert words in leaves.message(leaves.step)
