"""Tongues along chains of edges: volumes by hand on an interrupted rim and on a plain wall, gaps on sides and ends, round corners, and what is refused."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench, flat

from dovejoint.core.document import new_project

GROUND = {"rule": "base", "plane": "ground"}


def level(height: float) -> dict[str, Any]:
    return {"rule": "fixed", "origin": [0, 0, height], "x": [1, 0, 0], "y": [0, 1, 0]}


class Halves(Bench):
    """Two open boxes 60 × 40 × 20 with walls of 5, rim to rim at 20 mm; a cable leaves by a slot 12 wide in the right wall of both."""

    def __init__(self, slot: bool = True, **fields: Any) -> None:
        super().__init__(new_project("Halves"))
        self.do("AddValue", name="wide", formula="60 mm")
        made = []
        for name, z, floor in (("Lower", 0, 2), ("Upper", 20, 20)):
            step, part = self.do("AddStep", kind="body", fields={"wide": "wide", "deep": "40 mm", "high": "20 mm", "on": level(z)}, new_part={"name": name})  # fmt: skip
            (hollow,) = self.do("AddStep", kind="body", fields={"wide": "wide - 10 mm", "deep": "30 mm", "high": "18 mm", "on": level(floor), "operation": "cut", "part": part})  # fmt: skip
            if slot:
                high = 12 if z == 0 else 20
                self.do("AddStep", kind="body", fields={"wide": "10 mm", "deep": "12 mm", "high": "8 mm", "right": "wide / 2 - 2.5 mm", "on": level(high), "operation": "cut", "part": part})  # fmt: skip
            made.append((part, step, hollow))
        (self.low, self.body, self.hollow), (self.up, _, _) = made
        self.base = flat(self, self.low, f"{self.body}/end")
        (self.step,) = self.do("AddStep", kind="tongue", fields={"base": self.base, "along": self.along(), "host": self.up, **fields})  # fmt: skip

    def along(self, *sides: str) -> dict[str, Any]:
        """Edges of the rim at these inner sides, all where none is named."""
        found = []
        for edge in self.evaluate().parts[self.low].edges:
            # inner edges of the rim lie 5 within its outline
            x, y, z = edge.at
            if (
                abs(z - 20) < 1e-6
                and abs(x) <= 25 + 1e-6
                and abs(y) <= 15 + 1e-6
                and (not sides or any(s in edge.name for s in sides))
            ):
                seen = {"kind": edge.kind, "at": edge.at, "direction": edge.direction, "size": edge.length_mm}
                found.append({"name": edge.name, "seen": seen})
        return {"rule": "edges", "part": self.low, "edges": found, "chain": False}

    def box(self) -> float:
        return 60 * 40 * 20 - 50 * 30 * 18 - 5 * 12 * 8


def area(begins: float, ends: float, longer: float) -> float:
    """Of a strip round three sides and to the slot, from so far beside the inner edges to so far, by rectangles: a ring less what stands in the slot's way."""
    ring = (50 + 2 * ends) * (30 + 2 * ends) - (50 + 2 * begins) * (30 + 2 * begins)
    return ring - (12 - 2 * longer) * (ends - begins)


@pytest.mark.parametrize(("takes", "outer"), [("inner", 0.0), ("both", 0.5), ("outer", 1.0)])
def test_round_an_interrupted_rim_by_hand(takes: str, outer: float) -> None:
    halves = Halves(takes=takes, lead="0 mm", mouth="0 mm", begins="1.4 mm", thickness="1.8 mm")
    assert halves.message(halves.step) == ""
    joint = halves.joint()
    gap = joint.drawn.gap_mm
    thinner, wider = (1 - outer) * gap, outer * gap
    tongue = 3 * area(1.4 + thinner, 3.2 - thinner, -thinner)
    groove = 3.3 * area(1.4 - wider, 3.2 + wider, 0.0)
    assert halves.volume(halves.low) == pytest.approx(halves.box() + tongue, rel=1e-6)
    # at the slot of the upper half there is nothing to cut
    assert halves.volume(halves.up) == pytest.approx(halves.box() - groove, rel=1e-6)
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((gap, gap), abs=0.003)
    # a place that sees the other half aslant makes a way of its own, along which a square of play is a little wider
    assert gap - 0.001 < joint.measured.play_mm < 1.03 * gap


@pytest.mark.parametrize("slot", [False, True])
def test_on_one_wall_it_holds_along_too(slot: bool) -> None:
    halves = Halves(slot=slot, lead="0 mm", mouth="0 mm", begins="1.4 mm", thickness="1.8 mm", takes="both")
    halves.do("EditStep", step=halves.step, fields={"along": halves.along("side(back)")})
    assert halves.message(halves.step) == ""
    joint = halves.joint()
    half = joint.drawn.gap_mm / 2
    before = halves.box() + (0 if slot else 5 * 12 * 8)
    assert halves.volume(halves.low) == pytest.approx(before + 3 * (1.8 - 2 * half) * (50 - 2 * half), rel=1e-6)
    assert halves.volume(halves.up) == pytest.approx(before - 3.3 * (1.8 + 2 * half) * (50 + 2 * half), rel=1e-6)
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((2 * half,) * 2, abs=0.003)
    # it can be shifted no way by more than the gap
    assert joint.measured.play_mm == pytest.approx(2 * half, abs=0.003)


def test_it_follows_when_the_box_grows_and_its_chamfers_leave_the_gap() -> None:
    halves = Halves(begins="1.4 mm", thickness="1.8 mm")
    # the right wall has two edges of one name; which of them is which may be asked when they move, so they are left out
    halves.do("EditStep", step=halves.step, fields={"along": halves.along("side(left)", "side(front)", "side(back)")})
    for wide in ("60 mm", "84 mm"):
        halves.set("wide", wide)
        assert halves.message(halves.step) == ""
        joint = halves.joint()
        assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((joint.drawn.gap_mm,) * 2, abs=0.003)
        assert joint.note == "" and 0.2 < joint.chance.fits < 1


def test_round_corners_keep_their_middles() -> None:
    """A plate with a rounded corner: the tongue's strip beside an arc is a part of a ring."""
    bench = Bench(new_project("Corner"))
    step, plate = bench.extrude(bench.rectangle("60 mm", "40 mm"), "10 mm", "Plate")
    bench.do("AddStep", kind="fillet", fields={"edges": {"rule": "edges_along", "part": plate, "direction": "up"}, "radius": "8 mm"})  # fmt: skip
    _, lid = bench.extrude(bench.rectangle("60 mm", "40 mm", plane=level(10)), "10 mm", "Lid")
    edges = bench.evaluate().parts[plate].edges
    top = [e for e in edges if abs(e.at[2] - 10) < 1e-6]
    picked = [e for e in top if e.kind == "line" and ("side(e1" in e.name or e.at[1] > 19 or e.at[0] > 29)]
    arc = next(e for e in top if e.kind != "line" and e.at[0] > 0 and e.at[1] > 0)
    along = {"rule": "edges", "part": plate, "edges": [{"name": e.name} for e in (*picked, arc)], "chain": False}
    (tongue,) = bench.do("AddStep", kind="tongue", fields={
        "base": flat(bench, plate, f"{step}/end"), "along": along, "host": lid, "begins": "2 mm", "thickness": "2 mm", "lead": "0 mm", "mouth": "0 mm", "takes": "outer",
    })  # fmt: skip
    assert bench.message(tongue) == ""
    strip = 2 * (60 - 16) + 2 * (40 - 16) + math.pi / 4 * (6**2 - 4**2)
    plain = 10 * (60 * 40 - (4 - math.pi) * 64)
    assert bench.volume(plate) == pytest.approx(plain + 3 * strip, rel=1e-6)
    joint = bench.joint()
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((joint.drawn.gap_mm,) * 2, abs=0.004)


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"thickness": "3.9 mm"}, "3.4 mm is the most"),
        ({"thickness": "0.6 mm", "lead": "0 mm"}, "leaves nothing of the tongue"),
        ({"begins": "0.2 mm"}, "let it begin"),
        ({"lead": "2 mm"}, "chamfers leave nothing"),
        ({"height": "0 mm"}, "height"),
        ({"mouth": "-1 mm"}, "cannot be negative"),
    ],
)
def test_what_is_refused(fields: dict[str, Any], words: str) -> None:
    halves = Halves(**fields)
    assert words in halves.message(halves.step)


def test_edges_that_make_no_chain_are_told() -> None:
    halves = Halves(slot=False)
    assert "all the way round" in halves.message(halves.step)
    for sides, words in ((("side(left)", "side(right)"), "do not run on"), (("side(left)",), "")):
        halves.do("EditStep", step=halves.step, fields={"along": halves.along(*sides)})
        assert words in halves.message(halves.step) and (words or not halves.message(halves.step))
    below = {"rule": "edges_along", "part": halves.low, "direction": "up"}
    halves.do("EditStep", step=halves.step, fields={"along": below})
    assert "does not bound that face" in halves.message(halves.step)
    elsewhere = {"rule": "edges_along", "part": halves.up, "direction": "across"}
    halves.do("EditStep", step=halves.step, fields={"along": elsewhere})
    assert "another part" in halves.message(halves.step)
    halves.do("EditStep", step=halves.step, fields={"along": halves.along("side(left)"), "host": halves.low})
    assert "another part than the one with the tongue" in halves.message(halves.step)
