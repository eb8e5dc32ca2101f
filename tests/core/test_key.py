"""Key and slot: volumes by hand, the gap, how far one turns before the other on the solids, what it bears, hidden machines, and refusals."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench, flat, good_on_hidden_machines, shared_mm3

from dovejoint.core.document import new_project
from dovejoint.core.profiles.catalogue import material_of
from dovejoint.core.quantities.keys import KEYS_MM, key_for
from dovejoint.core.solid import Axis, Motion, moved

GROUND = {"rule": "base", "plane": "ground"}


class Wheel(Bench):
    """A wheel Ø 40 × 12 with a bore Ø 16.4 on a shaft Ø 16 × 30, and a key between them."""

    def __init__(self, across: str = "40 mm", **key: Any) -> None:
        super().__init__(new_project("Wheel"))
        self.do("AddValue", name="across", formula=across)
        _, self.wheel = self.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "across", "high": "12 mm", "on": GROUND}, new_part={"name": "Wheel"})  # fmt: skip
        self.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "16.4 mm", "high": "12 mm", "on": GROUND, "operation": "cut", "part": self.wheel})  # fmt: skip
        _, self.shaft = self.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "16 mm", "high": "30 mm", "on": GROUND}, new_part={"name": "Shaft"})  # fmt: skip
        picks = {"shaft": self.round_side(self.shaft, 8.0), "bore": self.round_side(self.wheel, 8.2)}
        (self.step,) = self.do("AddStep", kind="key", fields={**picks, "wide": "5 mm", "high": "2.3 mm", **key})

    def round_side(self, part: str, radius: float) -> dict[str, object]:
        face = next(f for f in self.evaluate().parts[part].faces if f.radius_mm and abs(f.radius_mm - radius) < 1e-6)
        return flat(self, part, face.names[0])


def beyond(radius: float, half: float, out: float) -> float:
    """The area of a bar from a round of this radius out to ``out``, half as wide as that: the rectangle from the axis, less what of it lies within the round."""
    root = math.sqrt(radius**2 - half**2)
    return 2 * half * out - (half * root + radius**2 * math.asin(half / radius))


@pytest.mark.parametrize(("takes", "outer"), [("inner", 0.0), ("both", 0.5), ("outer", 1.0)])
@pytest.mark.parametrize("end", ["upper", "lower"])
def test_volumes_by_hand_and_the_gap(takes: str, outer: float, end: str) -> None:
    wheel = Wheel(takes=takes, end=end, lead="0 mm", mouth="0 mm", turn="35 deg")
    assert wheel.message(wheel.step) == ""
    joint = wheel.joint()
    gap = joint.drawn.gap_mm
    key = beyond(8.0, 2.5 - (1 - outer) * gap, 10.3)
    slot = beyond(8.2, 2.5 + outer * gap, 10.3 + gap + 0.3)
    assert wheel.volume(wheel.shaft) - math.pi * 64 * 30 == pytest.approx(10 * key, rel=1e-6)
    assert math.pi * (20**2 - 8.2**2) * 12 - wheel.volume(wheel.wheel) == pytest.approx(12 * slot, rel=1e-6)
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((gap, gap), abs=0.003)
    blind = Wheel(takes=takes, end=end, lead="0 mm", mouth="0 mm", slot="by", long="6 mm")
    gap = blind.joint().drawn.gap_mm
    slot = beyond(8.2, 2.5 + outer * gap, 10.3 + gap + 0.3)
    assert math.pi * (20**2 - 8.2**2) * 12 - blind.volume(blind.wheel) == pytest.approx((6.3 + gap) * slot, rel=1e-6)


def test_it_turns_as_far_as_is_said_and_no_farther() -> None:
    """The drawn solids turned about the shaft touch where the gap is used up, at the key's outer corner, or at the slot's edge at the bore."""
    wheel = Wheel()
    joint, parts = wheel.joint(), wheel.evaluate().parts
    axis = Axis((0.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    gap, lever = joint.drawn.gap_mm, joint.working.acts["lever"]
    assert lever == pytest.approx(8 + 2.3 / 2)
    for share, touches in ((0.85, False), (1.1, True)):
        shaft = moved(parts[wheel.shaft].solid, Motion.turn(axis, share * gap / lever), "t")
        shared = shared_mm3(shaft, parts[wheel.wheel].solid)
        assert (shared > 1e-6) == touches, (share, shared)


def test_what_it_bears_by_hand_and_what_the_standard_has() -> None:
    wheel = Wheel()
    joint = wheel.joint()
    results = {r.name: float(r.values[0]) for r in joint.working.results}
    gap, strength = joint.drawn.gap_mm, material_of("PLA").strength_mpa[1]
    # along the shaft 10 mm in the bore, but for the chamfer at the key's end
    long, lever, meets = 9.2, 8 + 2.3 / 2, 8 + 2.3 - 8.2
    assert results["turning moment until its sides are crushed"] == pytest.approx(strength * meets * long * lever / 1000, rel=0.03)  # fmt: skip
    assert results["turning moment until it is sheared off"] == pytest.approx(0.577 * strength * (5 - 2 * gap) * long * lever / 1000, rel=0.03)  # fmt: skip
    # rows do not overlap, and what stands in the hub is less than the key's height
    for (_, to, *_rest), (over, *_more) in zip(KEYS_MM, KEYS_MM[1:], strict=False):
        assert to == over
    assert all(t < h < 2.6 * t for _, _, _, h, t in KEYS_MM)
    assert key_for(16.0) == (5, 2.3) and key_for(17.0) == (5, 2.3) and key_for(17.01) == (6, 2.8) and key_for(5.0) is None  # fmt: skip
    assert "slot 5 mm wide" in Wheel(wide="4 mm").evaluate().made[wheel.step].note
    assert Wheel().evaluate().made[wheel.step].note == ""


def test_the_usual_key_is_offered_and_values_move_it() -> None:
    wheel = Wheel()
    wheel.set("across", "50 mm")
    assert wheel.message(wheel.step) == "" and wheel.joint().measured.least_mm == pytest.approx(wheel.joint().drawn.gap_mm, abs=0.003)  # fmt: skip


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"wide": "0.5 mm"}, "nothing of the key"),
        ({"wide": "10 mm"}, "too wide for its shaft"),
        ({"high": "0.4 mm"}, "hardly reaches over the gap"),
        ({"high": "12 mm"}, "of the hub over it"),
        ({"long": "40 mm"}, "beyond the end of its shaft"),
        ({"inset": "11.8 mm", "long": "0.2 mm", "lead": "0 mm"}, "Hardly anything"),
        ({"lead": "3 mm"}, "leave something of the key"),
    ],
)
def test_what_is_refused(fields: dict[str, Any], words: str) -> None:
    wheel = Wheel(**fields)
    assert words in wheel.message(wheel.step)


def test_a_key_on_hidden_machines() -> None:
    wheel = Wheel()
    good, told = good_on_hidden_machines(wheel, wheel.step)
    assert good == pytest.approx(told, abs=0.14), (good, told)
