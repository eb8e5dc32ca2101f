"""The model pulled apart: how far parts go by hand, and that what joints hold together really comes apart, in samples of all kinds."""

from __future__ import annotations

import pytest
from building import Bench, Hub, of_sample, shared_mm3

from dovejoint.core.joints.apart import pulled_apart
from dovejoint.core.recipe.lying import printed_in_one
from dovejoint.core.solid import Motion, moved


def apart(bench: Bench) -> dict[str, tuple[float, float, float]]:
    return pulled_apart(bench.project, bench.evaluate())


def test_a_bearing_comes_out_of_its_hub_by_hand() -> None:
    """Sunk by 5 into a hub 14 high: its foot, at 9, comes to stand 2 over the hub's end at 14. Turned over, with the hub above, it goes the other way."""
    hub = Hub()
    assert apart(hub) == {hub.hub: (0.0, 0.0, 0.0), hub.bearing: (0.0, 0.0, pytest.approx(7.0, abs=1e-6))}
    # 4 of 100 of the whole's diagonal is left free where that is more: √(60² + 60² + 14²) · 0.04
    wide = Hub(across="60 mm")
    assert apart(wide)[wide.bearing][2] == pytest.approx(5 + 0.04 * (2 * 60**2 + 14**2) ** 0.5, abs=0.01)
    # what no joint holds stays
    hub.do("DeleteStep", step=hub.seat)
    assert set(apart(hub).values()) == {(0.0, 0.0, 0.0)}


@pytest.mark.parametrize("name", ["feeder", "mast", "vane-hub", "sensor-head", "battery-box", "bracket", "jar", "post"])
def test_halves_come_apart_and_do_not_meet_what_else_came_out(name: str) -> None:
    """As solids where they then are: the halves of each joint share no room and stand apart, nor does any part that was moved lie in another one of those held with it."""
    bench = of_sample(name)
    evaluation, by = bench.evaluate(), apart(bench)
    one = {p: k for k, group in enumerate(printed_in_one(bench.project)) for p in group}
    solids = {p: moved(evaluation.parts[p].solid, Motion.shift(v), "apart") for p, v in by.items()}
    joined = [
        m.joint for m in evaluation.made.values() if m.joint is not None and not all(x.stands for x in m.joint.mates)
    ]
    assert joined
    held: dict[str, str] = {p: p for p in by}
    for shape in joined:
        a, b = held[shape.outer], held[shape.inner]
        held = {p: a if h == b else h for p, h in held.items()}
        if one.get(shape.outer, shape.outer) == one.get(shape.inner, shape.inner):
            assert by[shape.outer] == by[shape.inner], "what is printed in one moves as one"
        else:
            assert shared_mm3(solids[shape.outer], solids[shape.inner]) < 1e-6
            assert by[shape.outer] != by[shape.inner]
    for k, p in enumerate(by):
        for q in list(by)[k + 1 :]:
            if held[p] == held[q] and by[p] != by[q]:
                assert shared_mm3(solids[p], solids[q]) < 1e-6, (p, q)


def test_what_is_printed_in_one_stays_in_one() -> None:
    bench = of_sample("flap")
    assert set(apart(bench).values()) == {(0.0, 0.0, 0.0)}
