"""Fasteners: holes and pockets by hand, the figures of the standards with what the printer takes, what is short or thin, and what is refused."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import pytest
from building import Bench, findings, flat

from dovejoint.core.document import new_project

GROUND = {"rule": "base", "plane": "ground"}
BASE, LID = 40.0 * 40 * 14, 40.0 * 40 * 6
REFERENCE = json.loads((Path(__file__).parents[1] / "reference" / "threads.json").read_text(encoding="utf-8"))


class Held(Bench):
    """A base 40 × 40 × 14, a lid of 6 on it, an M4 × 16 through both from above, with a nut standing 5 over the ground where one is wanted."""

    def __init__(
        self, screw: dict[str, Any] | None = None, nut: bool = False, across: str = "40 mm", **fields: Any
    ) -> None:
        super().__init__(new_project("Held"))
        foot, self.base = self.do(
            "AddStep",
            kind="body",
            fields={"wide": across, "deep": "40 mm", "high": "14 mm", "on": GROUND},
            new_part={"name": "Base"},
        )
        top = flat(self, self.base, f"{foot}/end")
        plate, self.lid = self.do(
            "AddStep",
            kind="body",
            fields={"wide": "40 mm", "deep": "40 mm", "high": "6 mm", "on": top},
            new_part={"name": "Lid"},
        )
        on = flat(self, self.lid, f"{plate}/end")
        self.shelf, self.screw = self.do(
            "AddStep",
            kind="shelf",
            new_part={"name": "Screw"},
            fields={"what": "socket screw", "thread": "M4", "long": "16 mm", "on": on, **(screw or {})},
        )
        more: dict[str, Any] = {}
        if nut:
            taken, part = self.do(
                "AddStep",
                kind="shelf",
                fields={"what": "hexagon nut", "thread": "M4", "on": GROUND, "sunk": "-5 mm"},
                new_part={"name": "Nut"},
            )
            more = {"nut": flat(self, part, f"{taken}/side(flat1)"), "end": "nut"}
        given = {
            "screw": flat(self, self.screw, f"{self.shelf}/shank"),
            "host": self.lid,
            "into": self.base,
            **more,
            **fields,
        }
        (self.step,) = self.do("AddStep", kind="fastener", fields=given)

    def taken(self) -> float:
        """By how much every hole is wider a side than it should print."""
        joint = self.joint()
        return float(joint.drawn.gap_mm - joint.wanted.target_mm)


def disc(diameter: float, high: float) -> float:
    return math.pi / 4 * diameter**2 * high


def chamfer(radius: float, leg: float = 0.4) -> float:
    return 2 * math.pi * (radius + leg / 3) * leg**2 / 2


def hexagon(flats: float) -> float:
    return math.sqrt(3) / 2 * flats**2


@pytest.mark.parametrize("size", ["M3", "M4", "M5"])
@pytest.mark.parametrize("holes", ["fine", "medium", "coarse"])
def test_holes_are_those_of_the_standard_as_printed(size: str, holes: str) -> None:
    held = Held(screw={"thread": size}, holes=holes)
    row = next(r for r in REFERENCE["clearance_holes_iso273"] if r["name"] == size)
    assert float(size[1:]) + 2 * held.joint().wanted.target_mm == pytest.approx(row[holes])
    clear = row[holes] + 2 * held.taken()
    assert LID - held.volume(held.lid) == pytest.approx(disc(clear, 6) + chamfer(clear / 2), rel=1e-6)


def test_a_screw_that_is_changed_changes_all_holes() -> None:
    held = Held()
    held.do("EditStep", step=held.shelf, fields={"thread": "M5"})
    row = next(r for r in REFERENCE["clearance_holes_iso273"] if r["name"] == "M5")
    assert held.message(held.step) == ""
    clear = row["medium"] + 2 * held.taken()
    assert LID - held.volume(held.lid) == pytest.approx(disc(clear, 6) + chamfer(clear / 2), rel=1e-6)


@pytest.mark.parametrize(("end", "bore", "deep"), [("self", 3.4, 11.0), ("tapped", 3.3, 11.0), ("through", 4.5, 14.0)])
def test_what_the_screw_turns_into_by_hand(end: str, bore: float, deep: float) -> None:
    held = Held(end=end)
    # the screw's tip is 10 mm in the base; a blind hole goes a millimetre deeper
    assert BASE - held.volume(held.base) == pytest.approx(disc(bore + 2 * held.taken(), deep), rel=1e-6)


def test_an_insert_has_its_bore_with_a_lead_and_the_screw_its_room_below() -> None:
    held = Held(end="insert")
    wide, hole = (5.6 + 2 * held.taken()) / 2, 4.5 + 2 * held.taken()
    lead = 2 * math.pi * (wide + 0.6 / 3) * 0.6**2 / 2
    assert BASE - held.volume(held.base) == pytest.approx(disc(2 * wide, 9.5) + lead + disc(hole, 1.5), rel=1e-6)


def test_a_nut_has_its_pocket_from_below_and_from_both_sides() -> None:
    held = Held(nut=True)
    flats, hole = 7 + 0.3 + 2 * held.taken(), 4.5 + 2 * held.taken()
    # the nut's upper face stands 8.2 over the ground; the hole goes from the base's top down to it
    assert BASE - held.volume(held.base) == pytest.approx(hexagon(flats) * 8.2 + disc(hole, 14 - 8.2), rel=1e-6)
    volumes = set()
    for enters in ("left", "right"):
        held = Held(nut=True, enters=enters)
        assert held.message(held.step) == ""
        # half the hexagon beyond its middle, and a slot from there to the base's side; over it, and under it to the screw's depth, the hole
        # (aslant: its corner points at 60 degrees to the side)
        pocket = hexagon(flats) / 2 + flats * 20 / math.cos(math.radians(30))
        volumes.add(round(BASE - held.volume(held.base), 6))
        assert BASE - held.volume(held.base) == pytest.approx(
            pocket * (3.2 + 0.15) + disc(hole, 14 - 8.2) + disc(hole, 4.85 - 3.0), rel=1e-6
        )
    assert len(volumes) == 1


def test_heads_have_their_room_sunk_or_not() -> None:
    held = Held(screw={"sunk": "4 mm"})
    clear, head = 4.5 + 2 * held.taken(), 7 + 2 * (0.3 + held.taken())
    assert LID - held.volume(held.lid) == pytest.approx(disc(clear, 2) + disc(head, 4) + chamfer(clear / 2), rel=1e-6)
    held = Held(screw={"what": "countersunk screw"})
    taken = held.taken()
    narrow, wide = 2.25 + taken, 4.48 + 0.3 + taken
    # the cone begins where its printed twin is the head's own, at 45 degrees, under the head's 2.48
    begins = 6 - 2.48 + 0.25
    cone = math.pi / 3 * (wide - narrow) * (wide**2 + wide * narrow + narrow**2)
    rest = disc(2 * narrow, begins) + cone + disc(2 * wide, 6 - begins - (wide - narrow))
    if 6 - begins >= wide - narrow:
        assert LID - held.volume(held.lid) == pytest.approx(rest + chamfer(narrow), rel=1e-6)
    else:
        cut = 6 - begins
        rim = narrow + cut
        assert LID - held.volume(held.lid) == pytest.approx(
            disc(2 * narrow, begins) + math.pi / 3 * cut * (rim**2 + rim * narrow + narrow**2) + chamfer(narrow),
            rel=1e-6,
        )


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"screw": {"long": "10 mm"}}, "Only 4 mm of the screw are in that part; 6 mm hold"),
        ({"across": "6 mm", "end": "insert"}, "thinnest"),
        ({"nut": True, "screw": {"long": "12 mm"}}, "ends within its nut"),
    ],
)
def test_what_is_short_or_thin_is_said(fields: dict[str, Any], words: str) -> None:
    held = Held(**fields)
    assert words in held.message(held.step) and held.joint().measured is not None


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"screw": {"long": "5 mm"}}, "does not reach into that part"),
        ({"screw": {"right": "60 mm"}}, "does not go through that part"),
        ({"end": "nut"}, "Pick a side of the nut"),
        ({"head": "-1 mm"}, "zero or more"),
        ({"edge": "9 mm"}, "through the whole part"),
        ({"screw": {"thread": "M12", "long": "20 mm"}, "end": "insert"}, "no heat-set insert for M12"),
    ],
)
def test_what_is_refused(fields: dict[str, Any], words: str) -> None:
    held = Held(**fields)
    assert words in held.message(held.step)


def test_one_sentence_holds_three_parts_and_a_part_stands_in_it_once() -> None:
    held = Held(screw={"long": "20 mm"})
    held.do("EditStep", step=held.step, fields={"also": [{"part": held.base}]})
    assert "stands here twice" in held.message(held.step)
    # a plate under the base, which the screw reaches by 2 mm
    under = {"rule": "fixed", "origin": [0, 0, -4], "x": [1, 0, 0], "y": [0, 1, 0]}
    slab, plate = held.do(
        "AddStep",
        kind="body",
        fields={"wide": "30 mm", "deep": "30 mm", "high": "4 mm", "on": under},
        new_part={"name": "Plate"},
    )
    held.do("EditStep", step=held.shelf, fields={"long": "22 mm"})
    held.do("MoveStep", step=held.step, after=slab)
    held.do("EditStep", step=held.step, fields={"also": [{"part": held.base}], "into": plate, "end": "through"})
    assert held.message(held.step) == ""
    clear = 4.5 + 2 * held.taken()
    assert 30 * 30 * 4 - held.volume(plate) == pytest.approx(disc(clear, 4), rel=1e-6)
    assert BASE - held.volume(held.base) == pytest.approx(disc(clear, 14) + chamfer(clear / 2), rel=1e-6)


def test_a_screw_that_stands_aslant_has_the_same_holes() -> None:
    """All of it on a plane that is turned in space: the volumes are those of the level one."""
    aslant = {"rule": "fixed", "origin": [3, -5, 8], "x": [0.6, 0.0, 0.8], "y": [-0.48, 0.8, 0.36]}
    bench = Bench(new_project("Aslant"))
    size = {"wide": "40 mm", "deep": "40 mm"}
    foot, base = bench.do(
        "AddStep", kind="body", fields={**size, "high": "14 mm", "on": aslant}, new_part={"name": "Base"}
    )
    plate, lid = bench.do(
        "AddStep",
        kind="body",
        fields={**size, "high": "6 mm", "on": flat(bench, base, f"{foot}/end")},
        new_part={"name": "Lid"},
    )
    # a face's frame counts from the world's origin: the middle of the lid is told by its round edge's stead
    top = (
        bench.evaluate()
        .parts[lid]
        .faces[next(i for i, f in enumerate(bench.evaluate().parts[lid].faces) if f.names[0] == f"{plate}/end")]
    )
    at = {"rule": "fixed", "origin": list(top.at), "x": aslant["x"], "y": aslant["y"]}
    shelf, screw = bench.do(
        "AddStep",
        kind="shelf",
        fields={"what": "socket screw", "thread": "M4", "long": "16 mm", "on": at, "sunk": "4 mm"},
        new_part={"name": "Screw"},
    )
    (step,) = bench.do(
        "AddStep", kind="fastener", fields={"screw": flat(bench, screw, f"{shelf}/shank"), "host": lid, "into": base}
    )
    level = Held(screw={"sunk": "4 mm"})
    taken = bench.joint().drawn.gap_mm - level.joint().drawn.gap_mm
    assert bench.message(step) == "" and abs(taken) < 0.15
    clear, head = 4.5 + 2 * (level.taken() + taken), 7 + 2 * (0.3 + level.taken() + taken)
    assert LID - bench.volume(lid) == pytest.approx(disc(clear, 2) + disc(head, 4) + chamfer(clear / 2), rel=1e-5)
    assert BASE - bench.volume(base) == pytest.approx(disc(3.4 + 2 * (level.taken() + taken), 15.0 - 1.0), rel=1e-5)


def test_a_head_or_nut_that_nothing_gets_at_is_found() -> None:
    """A roof on the base that hangs over the lid: over the screw's head, or over the side where its nut comes in."""

    def with_roof(right: str, wide: str, low: float, high: str = "4 mm", **fields: Any) -> list[dict[str, Any]]:
        held = Held(**fields)
        assert findings(held, "reached") == []
        on = {"rule": "fixed", "origin": [0, 0, low], "x": [1, 0, 0], "y": [0, 1, 0]}
        held.do("AddStep", kind="body", fields={"wide": wide, "deep": "40 mm", "high": high, "right": right, "on": on, "operation": "add", "part": held.base})  # fmt: skip
        held.do("AddStep", kind="body", fields={"wide": "4 mm", "deep": "40 mm", "high": "60 mm", "right": "22 mm", "on": GROUND, "operation": "add", "part": held.base})  # fmt: skip
        return findings(held, "reached")

    (over,) = with_roof("12 mm", "40 mm", 40.0)
    # the lid's top is 20 over the ground, the head of an M4 stands 4 out of it
    assert "nothing gets at the head, for Base" in over["says"]
    assert over["figure"].startswith("Base begins 16 mm") and over["place"][2] == pytest.approx(40, abs=0.1)
    # beside the head there is room
    assert with_roof("17 mm", "20 mm", 40.0) == []


def test_a_nut_comes_in_past_what_is_held() -> None:
    """From the side its pocket opens through the base; a skirt of the lid before it covers it."""
    for enters, covered in (("left", True), ("right", False), ("below", False)):
        held = Held(nut=True, enters=enters)
        assert held.message(held.step) == ""
        (way,) = [r.frame.z for r in held.evaluate().made[held.step].joint.reached if r.what == "the nut"]
        assert findings(held, "reached") == []
        if enters == "left":
            left = way
        # a skirt on that side which hangs down from the lid
        on = {"rule": "fixed", "origin": [24 * left[0], 24 * left[1], 0], "x": [1, 0, 0], "y": [0, 1, 0]}
        held.do("AddStep", kind="body", fields={"wide": "6 mm" if abs(left[0]) > 0.5 else "50 mm", "deep": "50 mm" if abs(left[0]) > 0.5 else "6 mm", "high": "20 mm", "on": on, "operation": "add", "part": held.lid})  # fmt: skip
        found = findings(held, "reached")
        assert bool(found) == covered, (enters, found)
        if covered:
            assert "nothing gets at the nut, for Lid" in found[0]["says"]


def test_the_parts_are_those_that_the_screw_lies_in() -> None:
    """What is printed last, or stands aside, is not guessed; whatever was made in which order, the parts are told from head to tip."""
    held = Held()
    held.do("DeleteStep", step=held.step)
    ring = {"shape": "cylinder", "across": "20 mm", "high": "1 mm", "on": GROUND, "right": "60 mm"}
    held.do("AddStep", kind="body", fields=ring, new_part={"name": "Aside"})
    screw = flat(held, held.screw, f"{held.shelf}/shank")

    def told(answered: str = "screw") -> dict[str, Any]:
        return held.suggested("fastener", {"screw": screw}, answered)

    assert told() == {"host": held.lid, "also": [], "into": held.base}
    assert told("holes") == {}
    # a washer between, made after both
    middle = {"shape": "cylinder", "across": "20 mm", "high": "1 mm", "on": {"rule": "fixed", "origin": [0.0, 0.0, 14.0], "x": [1.0, 0.0, 0.0], "y": [0.0, 1.0, 0.0]}}  # fmt: skip
    _, between = held.do("AddStep", kind="body", fields=middle, new_part={"name": "Washer"})
    held.do("AddStep", kind="move", fields={"part": held.lid, "up": "1 mm", "across": "0 mm", "also": [{"part": held.screw}]})  # fmt: skip
    assert told() == {"host": held.lid, "also": [{"part": between}], "into": held.base}
    # out of them all it is asked for
    held.do("AddStep", kind="move", fields={"part": held.screw, "across": "100 mm"})
    assert told() == {}
