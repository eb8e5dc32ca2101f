"""Readings against figures that a hand computes; they follow what they point at, and say when it is gone."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench, Feeder

from dovejoint.core.document import ThingPick, dump, load
from dovejoint.core.errors import CommandError, PickError
from dovejoint.core.recipe import read, readings_report


def face(part: str, name: str) -> ThingPick:
    return ThingPick.model_validate({"part": part, "kind": "face", "thing": {"name": name}})


def edge(part: str, name: str) -> ThingPick:
    return ThingPick.model_validate({"part": part, "kind": "edge", "thing": {"name": name}})


def said(bench: Bench, *picks: ThingPick) -> dict[str, float]:
    return {row.what: row.figure for row in read(bench.evaluate().parts, *picks)}


@pytest.fixture
def block(bench: Bench) -> tuple[Bench, str, str]:
    body, part = bench.extrude(bench.rectangle("40 mm", "30 mm"), "20 mm")
    return bench, part, body


def test_one_thing(block: tuple[Bench, str, str]) -> None:
    bench, part, body = block
    assert said(bench, face(part, f"{body}/end")) == pytest.approx({"area": 1200, "through the part here": 20})
    assert said(bench, edge(part, f"{body}/end|{body}/side(l1)")) == pytest.approx({"length": 40})
    hole = bench.rectangle("1 mm", "1 mm", at=(90, 90))
    bench.do("RemoveFromSketch", step=hole, ids=["l1", "l2", "l3", "l4"])
    bench.do("DrawCircle", step=hole, centre=[0, 0], radius=5, on="origin", diameter="10 mm")
    (cut,) = bench.extrude(hole, "20 mm", part, "cut", extent="through")
    wall = next(n for names in bench.evaluate().parts[part].solid.names for n in names if n.startswith(f"{cut}/side"))
    assert said(bench, face(part, wall)) == pytest.approx(
        {"diameter": 10, "area": math.pi * 10 * 20, "through the part here": 15}
    )
    rim = said(bench, edge(part, f"{body}/end|{wall}"))
    assert rim == pytest.approx({"diameter": 10, "length along it": math.pi * 10})


def test_between_two(block: tuple[Bench, str, str]) -> None:
    bench, part, body = block
    top, foot = face(part, f"{body}/end"), face(part, f"{body}/start")
    assert said(bench, top, foot) == pytest.approx({"apart": 20, "least distance": 20})
    right_angle = said(bench, top, face(part, f"{body}/side(l2)"))
    assert right_angle == pytest.approx({"least distance": 0, "angle": math.pi / 2})
    # an edge that leans against a face by nothing is parallel to it: no angle, only the distance
    far = said(bench, edge(part, f"{body}/side(l1)|{body}/start"), top)
    assert far == pytest.approx({"least distance": 20})
    # across a corner: the two upright edges that face each other, √(40² + 30²)
    a, b = edge(part, f"{body}/side(l1)|{body}/side(l2)"), edge(part, f"{body}/side(l3)|{body}/side(l4)")
    assert said(bench, a, b)["least distance"] == pytest.approx(50)


def test_the_drawn_gap_is_read_between_lip_and_wall(feeder: Feeder) -> None:
    wall = f"{feeder.hollow}/inner({feeder.body}/side(l2))"
    rows = said(feeder, face(feeder.floor, f"{feeder.lip}/lip({wall})"), face(feeder.hopper, wall))
    assert rows == pytest.approx({"apart": 0.35, "least distance": 0.35}, abs=1e-6)


def test_pinned_readings_follow_and_go(block: tuple[Bench, str, str]) -> None:
    bench, part, body = block
    top = face(part, f"{body}/end").model_dump(mode="json")
    (reading,) = bench.do("AddReading", first=top)

    def report() -> dict[str, Any]:
        return readings_report(bench.project, bench.evaluate())[0]

    assert report()["rows"][0]["figure"] == pytest.approx(1200)
    bench.do("ResizeSketch", step=bench.project.recipe[0].id, dimension="d1", formula="50 mm")
    assert report()["rows"][0]["figure"] == pytest.approx(1500)
    assert load(dump(bench.project)).readings == bench.project.readings, "they are kept in the project file"
    bench.do("SwitchStep", step=body, off=True)
    assert report() == {"id": reading, "rows": [], "message": "The part that was measured is not there."}
    bench.do("SwitchStep", step=body, off=False)
    with pytest.raises(PickError, match="not there any more"):
        read(bench.evaluate().parts, face(part, "gone"))
    bench.do("RemoveReading", reading=reading)
    with pytest.raises(CommandError, match="not there any more"):
        bench.do("RemoveReading", reading=reading)
    with pytest.raises(CommandError, match="a part that is not there"):
        bench.do("AddReading", first={**top, "part": "p99"})
    bench.do("AddReading", first=top)
    bench.do("DeleteStep", step=body)
    assert bench.project.readings == [], "the part takes its readings with it"
