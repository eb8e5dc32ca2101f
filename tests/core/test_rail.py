"""Rails and slots: volumes by hand, gaps square to their sides, stops, what is worked out against other ways to it, hidden machines, and refusals."""

from __future__ import annotations

import math
import random
from typing import Any

import numpy as np
import pytest
from building import Bench, flat, shared_mm3
from scipy.optimize import brentq

from dovejoint.core.document import new_project
from dovejoint.core.errors import StepError
from dovejoint.core.joints.assess import assess
from dovejoint.core.printing.features import features_of, joint_prints
from dovejoint.core.solid import Motion, moved, overlap
from dovejoint.simulator import Machine, hidden_of
from dovejoint.simulator.trying import try_out

GROUND = {"rule": "base", "plane": "ground"}
PLATE, HEAD = 40.0 * 60 * 6, 30.0 * 40 * 12
DEEP = {"rule": "axis_base", "axis": "deep"}


class Pair(Bench):
    """A plate 40 × 60 × 6 with a head 30 × 40 × 12 on it, and a rail along its depth."""

    def __init__(self, **rail: Any) -> None:
        super().__init__(new_project("Rail"))
        self.do("AddValue", name="high", formula="5 mm")
        step, self.plate = self.do(
            "AddStep",
            kind="body",
            fields={"wide": "40 mm", "deep": "60 mm", "high": "6 mm", "on": GROUND},
            new_part={"name": "Bracket"},
        )
        self.top = flat(self, self.plate, f"{step}/end")
        _, self.head = self.do(
            "AddStep",
            kind="body",
            fields={"wide": "30 mm", "deep": "40 mm", "high": "12 mm", "on": self.top},
            new_part={"name": "Head"},
        )
        fields = {"base": self.top, "host": self.head, "way": DEEP, "high": "high", **rail}
        (self.rail,) = self.do("AddStep", kind="rail", fields=fields)


def section(kind: str, off: float, deeper: float = 0.0, high: float = 5.0) -> float:
    """Area of an outline 10 wide (a T: head 16 from 2.5 on), each side farther out by this."""
    if kind == "plain":
        return (10 + 2 * off) * (high + deeper)
    if kind == "tee":
        return (10 + 2 * off) * (2.5 - off) + (16 + 2 * off) * (high + deeper - 2.5 + off)
    narrow = 10 + 2 * off / math.sin(math.radians(60))
    tall = high + deeper
    return (narrow + tall / math.tan(math.radians(60))) * tall


@pytest.mark.parametrize("kind", ["dovetail", "tee", "plain"])
@pytest.mark.parametrize(("takes", "outer"), [("inner", 0.0), ("both", 0.5), ("outer", 1.0)])
def test_volumes_by_hand_and_gaps_square_to_the_sides(kind: str, takes: str, outer: float) -> None:
    pair = Pair(profile=kind, takes=takes, lead="0 mm")
    assert pair.message(pair.rail) == ""
    joint = pair.joint()
    gap = joint.drawn.gap_mm
    assert pair.volume(pair.plate) == pytest.approx(PLATE + 60 * section(kind, -(1 - outer) * gap), rel=1e-7)
    assert pair.volume(pair.head) == pytest.approx(HEAD - 40 * section(kind, outer * gap, gap + 0.2), rel=1e-7)
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((gap, gap), abs=0.002)
    assert joint.note == "" and joint.expected.least_mm == pytest.approx(0.2, abs=0.012)


def test_a_stop_ends_the_slot_where_the_rail_ends() -> None:
    pair = Pair(profile="plain", slot="far", extent="by", long="30 mm", lead="0 mm")
    gap = pair.joint().drawn.gap_mm
    # the head goes from -20 to 20 along the way, the rail from -15 to 15
    assert HEAD - pair.volume(pair.head) == pytest.approx((35 + gap) * 10 * (5.2 + gap), rel=1e-7)


def test_it_keeps_its_gap_when_values_change() -> None:
    pair = Pair(profile="dovetail", takes="both")
    for high in ("4 mm", "7.5 mm", "3 mm"):
        pair.set("high", high)
        joint = pair.joint()
        assert joint.measured.least_mm == pytest.approx(joint.drawn.gap_mm, abs=0.002)
    pair.set("high", "12 mm")
    assert "leaves nothing over it" in pair.message(pair.rail)


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"way": {"rule": "axis_base", "axis": "up"}}, "must lie in the face"),
        ({"angle": "30 deg"}, "45 to 80 deg"),
        ({"profile": "tee", "head": "10 mm"}, "wider than the stem"),
        ({"profile": "tee", "neck": "5 mm"}, "nothing of the head"),
        ({"wide": "0.6 mm"}, "nothing of the rail"),
        ({"slot": "far"}, "nothing to stop at"),
        ({"aside": "60 mm"}, "beside that face"),
        ({"lead": "9 mm"}, "chamfer at the rail's ends"),
        ({"long": "-1 mm", "extent": "by"}, "length"),
    ],
)
def test_what_is_refused(fields: dict[str, Any], words: str) -> None:
    pair = Pair(**fields)
    assert words in pair.message(pair.rail)


def test_over_pins_it_measures_what_circles_touch() -> None:
    """Pins laid into the corners of the rail as it stands: circles that touch the face and a side's line through two corners of the solid."""
    pair = Pair(lead="0 mm")
    told = next(g for g in pair.joint().working.givens if g.name.startswith("over two pins"))
    radius = float(told.name.split("Ø ")[1].split(",")[0]) / 2
    positions = pair.evaluate().parts[pair.plate].mesh.positions.astype(float)
    foot = max(x for x, _, z in positions if abs(z - 6) < 1e-6 and abs(x) < 19)
    top = max(x for x, _, z in positions if abs(z - 11) < 1e-6)
    way = np.array([top - foot, 5.0]) / math.hypot(top - foot, 5.0)

    def off(x: float) -> float:
        dx, dz = x - foot, radius
        return abs(dx * way[1] - dz * way[0]) - radius

    centre = brentq(off, foot + 0.5 * radius, foot + 20)
    assert told.value == pytest.approx(2 * (centre + radius), abs=2e-4)


def test_play_and_lift_are_where_the_solids_begin_to_overlap() -> None:
    """The plate moved aside, and off the head, by a little less and a little more than is said: only then does it overlap with the head."""
    pair = Pair(lead="0 mm")
    gap = pair.joint().drawn.gap_mm
    parts = pair.evaluate().parts
    plate, head = parts[pair.plate].solid, parts[pair.head].solid
    aside, lift = gap / math.sin(math.radians(60)), gap / math.cos(math.radians(60))
    for way, far in (((1.0, 0.0, 0.0), aside), ((0.0, 0.0, -1.0), lift)):
        for by, touches in ((far - 0.005, False), (far + 0.02, True)):
            shifted = moved(plate, Motion.shift(tuple(c * by for c in way)))  # type: ignore[arg-type]
            try:
                shared = overlap(head, [shifted], "x").volume_mm3
            except StepError:
                shared = 0.0
            assert (shared > 1e-3) == touches, (way, by, shared)


@pytest.mark.parametrize("kind", ["dovetail", "plain"])
def test_rails_on_hidden_machines(kind: str) -> None:
    """Printed unmeasured on 150 hidden machines and tried by the simulator's own hands: as often good as is said, within what 150 tell."""
    pair = Pair(profile=kind)
    evaluation = pair.evaluate()
    reports = assess(pair.project, evaluation, pair.gaps)
    features = [
        f.as_dict()
        for f in features_of(pair.project, evaluation, reports)
        if f.joint == pair.rail and f.id.endswith(":x")
    ]
    (joint,) = joint_prints(pair.project, evaluation, reports)
    assert len(features) == 2
    good = 0
    for number in range(150):
        machine = Machine(number, hidden_of(number))
        sizes = machine.make(features, machine.next_print())
        outer, inner = (next(sizes[f["id"]] for f in features if f["side"] == side) for side in ("outer", "inner"))
        gap = (outer - inner) / 2 - machine.shape_lost_mm(outer, 40.0, False)[0]
        outcome = try_out(joint.acts or {}, gap, number, random.Random(number))
        good += joint.least_mm <= gap - machine.gap_lost_mm(()) and gap <= joint.most_mm and outcome.verdict == "good"
    assert good / 150 == pytest.approx(reports[0].chance.fits, abs=0.14), (good, reports[0].chance.fits)


def tapered_mm3(long: float, off: float, taper_deg: float, deeper: float, middle: float) -> float:
    """The volume of a dovetail 10 wide in its middle, narrowing along, from the distance of ``middle`` to where it is 10 wide: sections are trapezoids whose widths go straight, so the middle
    one is the mean."""
    lean, narrows = 1 / math.tan(math.radians(60)), math.tan(math.radians(taper_deg))
    wide = 10 + 2 * off * math.sqrt(1 + lean**2 + narrows**2) - 2 * narrows * middle
    tall = 5 + deeper
    return (wide + tall * lean) * tall * long


@pytest.mark.parametrize("slot", ["far", "near", "through"])
@pytest.mark.parametrize(("takes", "outer"), [("inner", 0.0), ("both", 0.5), ("outer", 1.0)])
def test_a_wedge_has_the_volume_and_the_gap_that_its_angles_say(slot: str, takes: str, outer: float) -> None:
    ends = {} if slot == "through" else {"extent": "by", "long": "20 mm"}
    pair = Pair(taper="3 deg", slot=slot, takes=takes, lead="0 mm", **ends)
    assert pair.message(pair.rail) == ""
    joint = pair.joint()
    gap, long = joint.drawn.gap_mm, 20 if ends else 60
    assert pair.volume(pair.plate) - PLATE == pytest.approx(tapered_mm3(long, -(1 - outer) * gap, 3, 0, 0.0), rel=1e-5)
    # the head is 40 long, about the middle; with a stop the slot goes from its end to the gap beyond the rail's
    begin, end = -20.0, 10 + gap if ends else 20.0
    assert HEAD - pair.volume(pair.head) == pytest.approx(tapered_mm3(end - begin, outer * gap, 3, gap + 0.2, (begin + end) / 2), rel=1e-5)  # fmt: skip
    assert joint.measured.least_mm == pytest.approx(gap, abs=0.004)
    narrow = 1 if slot != "near" else -1
    far = [f for f in pair.evaluate().parts[pair.plate].faces if "/rail(" in f.names[0] and f.kind == "plane" and abs(f.normal[0]) > 0.5]  # fmt: skip
    assert len(far) == 2 and all(f.normal[1] * _along(pair) * narrow > 0 for f in far), "its narrow end goes in first"


def _along(pair: Pair) -> float:
    """Which way along the depth the rail's frame goes."""
    shape = pair.evaluate().made[pair.rail].joint
    return float(np.sign(shape.mates[0].frame.z[1]))


def test_a_wedge_goes_on_until_it_is_tight() -> None:
    """The drawn solids: the head moved on along the rail touches its sides after the way that the drawn gap and the angles say."""
    pair = Pair(taper="4 deg", slot="through", lead="0 mm")
    joint, parts = pair.joint(), pair.evaluate().parts
    gap = joint.drawn.gap_mm
    lean, narrows = 1 / math.tan(math.radians(60)), math.tan(math.radians(4))
    way = gap * math.sqrt(1 + lean**2 + narrows**2) / narrows
    told = next(r for r in joint.working.results if r.name.startswith("it goes on past"))
    # the calculation has it at the printed gap
    assert float(told.values[0]) == pytest.approx(joint.expected.least_mm * way / gap, rel=0.05)
    for share, touches in ((0.97, False), (1.03, True)):
        # the narrow end of the rail lies where its frame goes to; the slot's wide mouth comes on from there
        head = moved(parts[pair.head].solid, Motion.shift((0.0, -_along(pair) * share * way, 0.0)), "t")
        shared = shared_mm3(head, parts[pair.plate].solid)
        assert (shared > 1e-6) == touches, (share, shared)


@pytest.mark.parametrize(("fields", "words"), [({"taper": "12 deg"}, "0 to 10 deg a side"), ({"taper": "10 deg"}, "deg a side are the most"), ({"taper": "-1 deg"}, "0 to 10")])  # fmt: skip
def test_what_is_no_wedge(fields: dict[str, Any], words: str) -> None:
    pair = Pair(**fields)
    assert words in pair.message(pair.rail)
