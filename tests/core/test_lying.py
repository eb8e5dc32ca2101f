"""How parts lie on the bed, what flares there, and what that does to the gauge."""

from __future__ import annotations

import math

import pytest
from building import Bench, Feeder, findings, flat

from dovejoint.core.profiles import DEFAULT_PROFILE, flare_left_mm
from dovejoint.core.recipe.lying import lie_of


def test_a_face_laid_down_looks_down(bench: Bench) -> None:
    body, block = bench.extrude(bench.rectangle("30 mm", "20 mm"), "10 mm")
    bench.do("LayPart", part=block, face=flat(bench, block, f"{body}/end"), turn_deg=90)
    lie = lie_of(bench.project.parts[0], bench.evaluate().parts[block])
    assert lie.z == pytest.approx((0, 0, -1)), "what was its top is below now"
    for a, b in ((lie.x, lie.y), (lie.y, lie.z), (lie.z, lie.x)):
        assert sum(p * q for p, q in zip(a, b, strict=True)) == pytest.approx(0)
    assert sum(c * d for c, d in zip(lie.z, (
        lie.x[1] * lie.y[2] - lie.x[2] * lie.y[1], lie.x[2] * lie.y[0] - lie.x[0] * lie.y[2], lie.x[0] * lie.y[1] - lie.x[1] * lie.y[0],
    ), strict=True)) == pytest.approx(1), "print directions are right-handed: nothing is mirrored"  # fmt: skip
    # turned by a quarter about the upright, what lay across lies deep
    assert abs(lie.of((1, 0, 0))[1]) == pytest.approx(1)


@pytest.mark.parametrize(
    ("chamfers", "left"),
    [
        # flare f = 0.2 over h = 0.4: f (1 − m/h) beyond a chamfer of leg m, nothing once m reaches h
        ([], 0.0),
        ([0.0], 0.2),
        ([0.1], 0.15),
        ([0.3], 0.05),
        ([0.4], 0.0),
        ([0.1, 0.3], 0.2),
    ],
)
def test_what_a_chamfer_leaves_of_a_flare(chamfers: list[float], left: float) -> None:
    profile = DEFAULT_PROFILE.model_copy(update={"flare_mm": 0.2, "flare_height_mm": 0.4})
    assert flare_left_mm(profile, chamfers)[0] == pytest.approx(left)
    if len(chamfers) == 1:
        # by hand: the widest place of a flare that dies away evenly, less what a 45° chamfer gives back there
        heights = [k / 1000 * 0.4 for k in range(1001)]
        widest = max(max(0.2 * (1 - z / 0.4) - max(0.0, chamfers[0] - z), 0.0) for z in heights)
        assert left == pytest.approx(widest, abs=1e-3)


def test_an_open_rim_on_the_bed_flares_and_the_gauge_answers(feeder: Feeder) -> None:
    down = feeder.joint()
    assert findings(feeder, "flare") and down.on_bed
    feeder.do("LayPart", part=feeder.hopper, face=flat(feeder, feeder.hopper, f"{feeder.body}/end"))
    turned = feeder.joint()
    assert findings(feeder, "flare") == [] and turned.on_bed == ()
    assert turned.chance.goes_in > down.chance.goes_in + 0.05
    assert turned.measured.least_mm == pytest.approx(down.measured.least_mm), "what is drawn stays as it is"


def test_a_higher_chamfer_takes_the_flare_away_too(feeder: Feeder) -> None:
    feeder.do("EditStep", step=feeder.lip, fields={"mouth": f"{DEFAULT_PROFILE.flare_height_mm} mm"})
    assert findings(feeder, "flare") == []


def test_a_lost_face_leaves_the_part_as_modelled(bench: Bench) -> None:
    body, block = bench.extrude(bench.rectangle("30 mm", "20 mm"), "10 mm")
    pick = {"rule": "flat", "part": block, "face": {"name": f"{body}/nowhere"}}
    bench.do("LayPart", part=block, face=pick)
    lie = lie_of(bench.project.parts[0], bench.evaluate().parts[block])
    assert lie.z == (0, 0, 1) and math.isclose(lie.x[0], 1)
