"""Checks: each finds what is wrong, with the figure that a hand would compute, and is silent where all is well."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench, Feeder, findings, flat

from dovejoint.core.checks import CheckCache, run_checks
from dovejoint.core.joints.assess import assess
from dovejoint.core.profiles import DEFAULT_PROFILE
from dovejoint.sample.joined import make_hatch


def test_nothing_is_wrong_with_the_feeder(feeder: Feeder) -> None:
    evaluation = feeder.evaluate()
    checks = run_checks(feeder.project, evaluation, assess(feeder.project, evaluation, feeder.gaps), CheckCache())
    # but that its printer was never measured, and that its rim lies on the bed: it goes together in less than 60 of 100
    assert {c["check"]: c["state"] for c in checks if c["state"] != "well"} == {
        "gap_band": "wrong",
        "flare": "doubtful",
    }
    assert len(checks) == 13


def test_overlap_has_its_volume_and_its_middle(bench: Bench) -> None:
    bench.extrude(bench.rectangle("40 mm", "30 mm"), "20 mm", "Block")
    _, other = bench.extrude(bench.rectangle("10 mm", "10 mm", at=(22, 0)), "5 mm", "Peg")
    (found,) = findings(bench, "overlap")
    # the peg reaches from 17 to 27 across, the block to 20: 3 × 10 × 5 are shared
    assert found["figure"] == "150 mm³"
    assert found["place"] == pytest.approx((18.5, 0, 2.5))
    assert found["state"] == "wrong"
    assert other in found["parts"]
    bench.do("DeleteStep", step=bench.project.recipe[-1].id)
    bench.extrude(bench.project.recipe[-1].id, "5 mm", "Peg", direction="down")
    assert findings(bench, "overlap") == [], "parts that only touch do not overlap"


def test_a_press_fit_drawn_below_nothing_is_meant(feeder: Feeder) -> None:
    own = {"fit": "own", "least": "-0.5 mm", "target": "-0.4 mm", "most": "-0.2 mm"}
    feeder.do("EditStep", step=feeder.lip, fields=own)
    (found,) = findings(feeder, "overlap")
    assert (found["state"], found["joint"]) == ("doubtful", feeder.lip)


@pytest.mark.parametrize(("wall", "state"), [("0.95 mm", None), ("0.7 mm", "doubtful"), ("0.4 mm", "wrong")])
def test_thin_walls(feeder: Feeder, wall: str, state: str | None) -> None:
    feeder.do("EditStep", step=feeder.hollow, fields={"wall": wall})
    found = [f for f in findings(feeder, "thin_wall") if feeder.hopper in f["parts"]]
    assert [f["state"] for f in found] == ([state] if state else [])
    if found:
        assert found[0]["figure"] == f"{float(wall.split()[0]):.2f} mm", "as thick as it was made"
        assert found[0]["limit"] == "0.90 mm"


def test_parts_larger_than_the_room(bench: Bench) -> None:
    body, _ = bench.extrude(bench.rectangle("245 mm", "30 mm"), "20 mm", "Beam")
    (found,) = findings(bench, "bed")
    assert found["figure"] == "245.0 × 30.0 × 20.0 mm"
    # 212 are free each way: cornerwise it has room, at the first degree at which 245·cos + 30·sin is 212 or less
    least = next(d for d in range(1, 90) if 245 * math.cos(math.radians(d)) + 30 * math.sin(math.radians(d)) <= 212)
    assert found["advice"] == f"It has room when it is turned by {least}° where it lies."
    bench.do("LayPart", part=found["parts"][0], turn_deg=float(least))
    assert findings(bench, "bed") == [], "and so it says nothing when it is"
    bench.do("LayPart", part=found["parts"][0], turn_deg=0.0)
    bench.do("EditStep", step=body, fields={"distance": "221 mm"})
    bench.do("ResizeSketch", step=bench.project.recipe[0].id, dimension="d2", formula="221 mm")
    (found,) = findings(bench, "bed")
    assert found["figure"] == "245.0 × 221.0 × 221.0 mm"
    assert found["advice"] == "Make it smaller, or divide it."
    bench.do("ResizeSketch", step=bench.project.recipe[0].id, dimension="d2", formula="20 mm")
    bench.do("ResizeSketch", step=bench.project.recipe[0].id, dimension="d1", formula="100 mm")
    bench.do("EditStep", step=body, fields={"distance": "251 mm"})
    assert findings(bench, "bed")[0]["figure"].endswith("251.0 mm")
    bench.do("EditStep", step=body, fields={"distance": "211 mm"})
    assert findings(bench, "bed") == []
    bench.do("EditPart", part=found["parts"][0], role="bought")
    assert findings(bench, "bed") == [], "what is bought need not be printed"


def test_lumps(bench: Bench) -> None:
    _, part = bench.extrude(bench.rectangle("40 mm", "30 mm"), "20 mm", "Block")
    bench.extrude(bench.rectangle("4 mm", "50 mm"), "20 mm", part, "cut", extent="through")
    (found,) = findings(bench, "lumps")
    assert (found["figure"], found["state"]) == ("2 lumps", "wrong")


def test_gaps_outside_their_band_name_place_and_remedy(feeder: Feeder) -> None:
    own = {"fit": "own", "least": "0.1 mm", "target": "0.14 mm", "most": "0.3 mm"}
    feeder.do("EditStep", step=feeder.lip, fields=own)
    (found,) = findings(feeder, "gap_band")
    # half of the 0.05 mm that the rim flares on the bed, 0.06 that the target lies off the middle, and what corners add to the play
    assert found["advice"] == "Draw the gap 0.09 mm a side wider."
    assert found["place"] is not None
    feeder.do("EditStep", step=feeder.lip, fields={"least": "0.18 mm", "target": "0.2 mm", "most": "0.22 mm"})
    sure = DEFAULT_PROFILE.model_copy(update={"covariance": [], "flare_mm": 0.0})
    feeder.do("SetProfile", profile=sure.model_dump())
    (found,) = findings(feeder, "gap_band")
    # four standard deviations of 0.0432 and a little more, for each of two directions errs by itself, against a band of 0.04
    assert "scatters over 0.20 mm, the band is 0.04" in found["advice"]
    shave = feeder.rectangle("1.2 mm", "50 mm", at=(41.2, 0))
    feeder.extrude(shave, "20 mm", feeder.floor, "cut")
    (found,) = findings(feeder, "gap_band")
    assert "later step" in found["advice"]


def test_steps_that_fail_or_ask(feeder: Feeder) -> None:
    feeder.do("EditStep", step=feeder.rounding, fields={"radius": "60 mm"})
    feeder.do(
        "EditStep",
        step=feeder.hollow,
        fields={"open": {"rule": "faces", "part": feeder.hopper, "faces": [{"name": "gone"}]}},
    )
    found = findings(feeder, "steps")
    assert [f["step"] for f in found][:2] == [feeder.rounding, feeder.hollow]
    assert found[1]["advice"] == "Point at what is meant."


def test_checks_of_joints_claim_nothing_where_there_is_none(bench: Bench) -> None:
    bench.extrude(bench.rectangle("40 mm", "30 mm"), "20 mm", "Block")
    checks = {c["check"]: c for c in run_checks(bench.project, bench.evaluate(), [], CheckCache())}
    assert {name for name, c in checks.items() if c["empty"]} == {
        "gap_band",
        "bears",
        "flare",
        "overhang",
        "together",
        "reached",
    }
    assert "no joint yet" in checks["gap_band"]["well"] and "gap lies" not in checks["gap_band"]["well"]


def test_an_arm_that_breaks_is_found_apart_from_its_gap() -> None:
    bench = Bench(make_hatch())
    assert findings(bench, "bears") == []
    bench.set("undercut", "1.6 mm")
    latch = next(f for f in findings(bench, "bears") if f["says"].startswith("latch"))
    assert latch["state"] == "wrong" and "the arm breaks in 91 of 100" in latch["says"]
    assert latch["figure"].startswith("strain where greatest") and latch["limit"].startswith("at most")
    # its gap is what it was, and is judged as such
    gap = next(f for f in findings(bench, "gap_band") if f["says"].startswith("latch"))
    assert gap["state"] == "doubtful" and "breaks" not in gap["says"]


def _cup(bench: Bench) -> tuple[str, str, str]:
    """A block 30 × 30 × 20 with a blind bore Ø 10 from above, 15 deep, and a shaft in it that stands out by 6; the block, the shaft and the joint."""
    on = {"rule": "base", "plane": "ground"}
    _, block = bench.do("AddStep", kind="body", fields={"wide": "30 mm", "deep": "30 mm", "high": "20 mm", "on": on}, new_part={"name": "Block"})  # fmt: skip
    raised = {"rule": "fixed", "origin": [0, 0, 5], "x": [1, 0, 0], "y": [0, 1, 0]}
    round_body = {"shape": "cylinder", "across": "10 mm", "high": "30 mm", "on": raised}
    (bore,) = bench.do("AddStep", kind="body", fields={**round_body, "operation": "cut", "part": block})
    wall = flat(bench, block, f"{bore}/side(round)")
    joint, shaft = bench.do("AddStep", kind="shaft_in_bore", fields={"bore": wall, "depth": "12 mm"}, new_part={"name": "Shaft"})  # fmt: skip
    return block, shaft, joint


def test_halves_that_no_straight_way_brings_together(bench: Bench) -> None:
    block, _, joint = _cup(bench)
    assert findings(bench, "together") == []
    # a bridge over the shaft, 9 above the block: the shaft, which stands out by 6, meets it after 3
    for right, wide, up, high in (("-13 mm", "4 mm", 20.0, "12 mm"), ("0 mm", "30 mm", 29.0, "3 mm")):
        at = {"rule": "fixed", "origin": [0, 0, up], "x": [1, 0, 0], "y": [0, 1, 0]}
        fields = {"wide": wide, "deep": "4 mm", "high": high, "right": right, "on": at, "operation": "add", "part": block}  # fmt: skip
        bench.do("AddStep", kind="body", fields=fields)
    (found,) = findings(bench, "together")
    assert (found["state"], found["joint"], found["figure"]) == ("wrong", joint, "they meet after 3 mm")
    assert found["place"][2] == pytest.approx(29.0) and "no straight way brings Shaft out of Block" in found["says"]
    bench.do("SwitchStep", step=bench.project.recipe[-1].id, off=True)
    assert findings(bench, "together") == []


def test_two_joints_that_want_different_ways(bench: Bench) -> None:
    block, shaft, _ = _cup(bench)
    plate = {"wide": "30 mm", "deep": "30 mm", "high": "6 mm", "operation": "add", "part": shaft}
    at = {"rule": "fixed", "origin": [0, 0, 26], "x": [1, 0, 0], "y": [0, 1, 0]}
    bench.do("AddStep", kind="body", fields={**plate, "on": at})
    front, back = ({"rule": "fixed", "origin": [0, y, 0], "x": [1, 0, 0], "y": [0, 1, 0]} for y in (-18, 18))
    for on in (front, back):
        bench.do("AddStep", kind="body", fields={"wide": "20 mm", "deep": "6 mm", "high": "32 mm", "on": on, "operation": "add", "part": shaft})  # fmt: skip
    side = next(f.names[0] for f in bench.evaluate().parts[block].faces if f.kind == "plane" and f.normal[1] < -0.9)
    rail = {"base": flat(bench, block, side), "host": shaft, "way": {"rule": "axis_base", "axis": "across"}, "wide": "4 mm", "high": "2 mm", "profile": "plain"}  # fmt: skip
    (slide,) = bench.do("AddStep", kind="rail", fields=rail, name="slide")
    assert bench.message(slide) == ""
    fight = [f for f in findings(bench, "together") if "different ways" in f["says"]]
    assert [(f["figure"], f["joint"], f["state"]) for f in fight] == [("90° apart", slide, "wrong")]


def test_meshes_tell_apart_what_shares_no_room_and_leave_the_rest_to_the_kernel() -> None:
    """Boxes at known distances, one within another, and a shaft in its bore: only what is clearly apart is told without the kernel."""
    from dovejoint.core import solid as kernel

    def box(x: float, side: float) -> Any:
        frame = kernel.Frame((x, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
        return kernel.tessellate(kernel.block(frame, side, side, side, f"b{x}"))

    first = box(0.0, 10.0)
    assert kernel.clearly_apart(first, box(30.0, 10.0))
    assert kernel.clearly_apart(first, box(10.15, 10.0))
    for x, side in ((10.05, 10.0), (10.0, 10.0), (9.9, 10.0), (0.0, 4.0)):
        assert not kernel.clearly_apart(first, box(x, side)), (x, side)
