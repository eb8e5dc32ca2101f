"""The mast's outlines: all of them work out, are settled where they should be, and follow their values."""

from __future__ import annotations

import math

import pytest
from building import Bench

from dovejoint.sample import make_outlines


@pytest.fixture(scope="module")
def mast() -> Bench:
    return Bench(make_outlines())


def shapes(mast: Bench) -> dict[str, object]:
    made = mast.evaluate().made
    return {s.name: made[s.id].sketch for s in mast.project.recipe if s.kind == "sketch"}


def test_all_is_made_in_one_lump_each(mast: Bench) -> None:
    evaluation = mast.evaluate()
    assert {r.state for r in evaluation.steps} == {"ok"}
    assert [p.name for p in mast.project.parts] == ["Wall bracket", "Jar cap", "Vane ring", "Hatch hook", "Vent plate"]
    assert all(part.info.lumps == 1 for part in evaluation.parts.values())
    assert all(not shape.open_ends for shape in shapes(mast).values())  # type: ignore[attr-defined]


def test_four_are_settled_and_the_hook_can_still_bend(mast: Bench) -> None:
    free = {name: shape.solution.freedom for name, shape in shapes(mast).items()}  # type: ignore[attr-defined]
    assert free.pop("hatch hook") > 0
    assert set(free.values()) == {0}, "a ring that closes says much twice; that must not count as freedom or its lack"


def test_the_bracket_has_the_area_that_a_hand_computes(mast: Bench) -> None:
    """An L of 64 × 46 in arms of 14.4, four corners cut by 2.4, one rounded by 7.2 from within, two slots of 4.4."""
    plate = max(shapes(mast)["bracket outline"].regions, key=lambda r: r.area_mm2)  # type: ignore[attr-defined]
    arms = 64 * 14.4 + (46 - 14.4) * 14.4
    slots = 4.4 * (64 / 4 + 46 / 4) + 2 * math.pi * 2.2**2
    assert plate.area_mm2 == pytest.approx(arms - 4 * 2.4**2 / 2 + 7.2**2 * (1 - math.pi / 4) - slots)


def test_the_grip_closes_over_its_scallops(mast: Bench) -> None:
    """24 ribs and grooves of one radius r between places on a circle of R = 27.

    Over angles a and b of a 24th of a turn, with half sweeps h and k: R sin(a/2) = r sin h and R sin(b/2) = r sin k; running on in
    each other they bend apart by as much as their chords do, h − k = (a + b)/2. Found by halving.
    """
    ring = next(r for r in shapes(mast)["cap grip"].regions if len(r.loops) == 2)  # type: ignore[attr-defined]
    big, r, step = 27.0, 2.4, 2 * math.pi / 24
    low, high = 0.4 * step, 0.7 * step
    for _ in range(60):
        a = (low + high) / 2
        h, k = (math.asin(big * math.sin(x / 2) / r) for x in (a, step - a))
        low, high = (a, high) if h - k < step / 2 else (low, a)
    segment = [r * r * (x - math.sin(x) * math.cos(x)) for x in (h, k)]
    area = 24 * (big**2 * (math.sin(a) + math.sin(step - a)) / 2 + segment[0] - segment[1])
    assert ring.area_mm2 == pytest.approx(area - math.pi * 22.2**2)


def test_a_changed_value_is_followed_everywhere(mast: Bench) -> None:
    mast.set("bar", "3 mm")
    try:
        plate = max(shapes(mast)["vent plate"].regions, key=lambda r: r.area_mm2)  # type: ignore[attr-defined]
        (x0, y0), (x1, y1) = ([f(p[k] for p in plate.loops[0]) for k in (0, 1)] for f in (min, max))
        assert (x1 - x0, y1 - y0) == pytest.approx((8 * 3.2 + 7 * 3 + 8 * 2.4, 5 * 3.2 + 4 * 3 + 9 * 2.4))
        holes = [r for r in shapes(mast)["vent plate"].regions if r.area_mm2 == pytest.approx(math.pi * 1.6**2)]  # type: ignore[attr-defined]
        xs = sorted({round(r.centre[0], 6) for r in holes})
        assert len(holes) == 40
        assert [b - a for a, b in zip(xs, xs[1:], strict=False)] == pytest.approx([6.2] * 7)
    finally:
        mast.set("bar", "2 mm")
