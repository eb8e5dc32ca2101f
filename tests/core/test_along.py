"""Copies along a path: where they stand and how they are turned, against places worked out by hand."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench

from dovejoint.core.document import new_project
from dovejoint.core.recipe import sentence


class Bend(Bench):
    """A path on the ground of a line of 60 along +X from the origin and a quarter bend of radius 20 to the left, and a bar of 6 × 2 × 3 whose middle is
    ``at`` its beginning."""

    def __init__(self, at: tuple[float, float] = (0, 0)) -> None:
        super().__init__(new_project("Bend"))
        (self.path,) = self.do("AddStep", kind="sketch", fields={})
        made = self.do("DrawLine", step=self.path, start={"at": [0, 0], "on": "origin"}, end={"at": [60, 0]})
        sketch: Any = self.project.step(self.path)
        end = next(c for c in sketch.fields["sketch"]["curves"] if c["id"] in made)["points"][1]
        self.do("DrawArcAbout", step=self.path, centre={"at": [60, 20]}, start={"at": [60, 0], "on": end}, towards=[80, 20])  # fmt: skip
        _, self.bar = self.extrude(self.rectangle("6 mm", "2 mm", at=at), "3 mm", "Bar")

    def copies(self, **fields: Any) -> str:
        given = {"of": self.bar, "how": "along", "path": {"rule": "path_sketch", "step": self.path}, **fields}
        return self.do("AddStep", kind="copies", fields=given)[0]

    def middles(self) -> list[tuple[float, float]]:
        found = self.evaluate().parts
        boxes = [found[p.id].box for p in self.project.parts if p.id in found and p.id != self.bar]
        return [((low[0] + high[0]) / 2, (low[1] + high[1]) / 2) for low, high in boxes]


def test_copies_stand_evenly_along_a_bent_path_and_turn_with_it() -> None:
    bench = Bend()
    step = bench.copies(count="4")
    assert bench.message(step) == ""
    # a third, two thirds and all of 60 + 10π: 30.47, 60.94, 91.42; the last two lie on the bend
    whole = 60 + 10 * math.pi
    middles = bench.middles()
    low, high = bench.evaluate().parts[bench.bar].box
    start = ((low[0] + high[0]) / 2, (low[1] + high[1]) / 2)
    assert math.hypot(*start) < 1e-6
    for k, middle in enumerate(middles, 1):
        way = whole * k / 3
        angle = max(0.0, way - 60) / 20
        want = (way, 0.0) if way <= 60 else (60 + 20 * math.sin(angle), 20 - 20 * math.cos(angle))
        assert middle == pytest.approx(want, abs=1e-4)
    # at the end it stands across: 2 wide and 6 deep
    low, high = bench.evaluate().parts[bench.project.parts[-1].id].box
    assert (high[0] - low[0], high[1] - low[1]) == pytest.approx((2, 6), abs=1e-5)
    bench.do("EditStep", step=step, fields={"stance": "upright"})
    low, high = bench.evaluate().parts[bench.project.parts[-1].id].box
    assert (high[0] - low[0], high[1] - low[1]) == pytest.approx((6, 2), abs=1e-5)
    assert bench.middles()[-1] == pytest.approx((80, 20), abs=1e-4)
    said = sentence(bench.project, bench.project.step(step))
    assert said.endswith(
        "4 in all, following the lines of outline of step 1, evenly, all standing alike, each a part of its own"
    )


def test_copies_by_a_distance_begin_at_the_nearer_end() -> None:
    """The bar stands beside the path's far end: from there it goes back, along the bend first."""
    bench = Bend(at=(80, 22))
    step = bench.copies(count="3", share="every", pitch="15 mm", stance="upright")
    assert bench.message(step) == ""
    for k, middle in enumerate(bench.middles(), 1):
        angle = math.pi / 2 - 15 * k / 20
        want = (60 + 20 * math.sin(angle), 20 - 20 * math.cos(angle))
        assert middle == pytest.approx((want[0], want[1] + 2), abs=1e-4), "as far from the path as the first one"
    for fields, word in (
        ({"pitch": "60 mm"}, "The path is 91.42 mm long, and so many need 120 mm"),
        ({"pitch": "0 mm"}, "all one"),
        ({"pitch": "-5 mm"}, "above zero"),
        ({"count": "1"}, "two or more"),
    ):
        bench.do("EditStep", step=step, fields={"pitch": "15 mm", "count": "3", **fields})
        assert word in bench.message(step)


def test_teeth_all_round_a_rim_with_corners() -> None:
    """Ten pins Ø 4 round the edge of a plate of 60 × 40, 200 long: each stands out by half of it, and none stands twice."""
    bench = Bench(new_project("Rim"))
    body, plate = bench.extrude(bench.rectangle("60 mm", "40 mm"), "4 mm", "Plate")
    (outline,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawCircle", step=outline, centre=[0, -20], radius=2)
    _, pin = bench.extrude(outline, "4 mm", "Pin")
    rim = {"rule": "edges_of_face", "part": plate, "face": {"name": f"{body}/end"}}
    fields = {"of": pin, "part": plate, "how": "along", "path": rim, "count": "10", "operation": "add"}
    (step,) = bench.do("AddStep", kind="repeat", fields=fields)
    assert bench.message(step) == ""
    # every 20 of 200 from the middle of the front: none on a corner: (0, −20), (±20, −20), (±30, −10), (±30, 10), (±20, 20) and (0, 20)
    volume = bench.volume(plate)
    assert volume == pytest.approx(60 * 40 * 4 + 10 * math.pi * 4 / 2 * 4, rel=1e-9)
    bench.do("EditStep", step=step, fields={"share": "every", "pitch": "20 mm"})
    assert bench.volume(plate) == pytest.approx(volume, rel=1e-9)
    bench.do("EditStep", step=step, fields={"pitch": "-20 mm", "count": "5"})
    assert bench.volume(plate) == pytest.approx(60 * 40 * 4 + 5 * math.pi * 4 / 2 * 4, rel=1e-9)
    bench.do("EditStep", step=step, fields={"pitch": "20 mm", "count": "11"})
    assert "fewer" in bench.message(step)
