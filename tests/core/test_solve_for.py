"""For a reading and the figure that it should have, the value that gives it, by hand; or why none does."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench

from dovejoint.core.document import ThingPick, new_project
from dovejoint.core.errors import CommandError
from dovejoint.core.recipe import read
from dovejoint.core.recipe.solve_for import Answer, solve_for


class Box(Bench):
    """A box of wide × 30 × 20, hollowed from above; a boss on its floor whose size hangs on the wall in a bent way."""

    def __init__(self) -> None:
        super().__init__(new_project("Box"))
        for name, formula in (("wide", "60 mm"), ("wall", "2 mm"), ("lean", "0 deg"), ("idle", "5 mm"), ("many", "3")):
            self.do("AddValue", name=name, formula=formula)
        self.body, self.part = self.do(
            "AddStep", kind="body", fields={"wide": "wide", "deep": "30 mm", "high": "20 mm"}, new_part={"name": "Box"}
        )
        (self.hollow,) = self.do(
            "AddStep",
            kind="shell",
            fields={
                "open": {"rule": "faces", "part": self.part, "faces": [{"name": f"{self.body}/end"}]},
                "wall": "wall",
            },
        )

    def thing(self, name: str, kind: str = "face") -> ThingPick:
        return ThingPick.model_validate({"part": self.part, "kind": kind, "thing": {"name": name}})

    def inner(self, side: str) -> ThingPick:
        return self.thing(f"{self.hollow}/inner({self.body}/side({side}))")

    def solve(self, what: str, target: float, value: str, *things: ThingPick) -> Answer:
        return solve_for(
            self.project, self.cache, things[0], things[1] if len(things) > 1 else None, what, target, self.value(value)
        )

    def reads(self, what: str, *things: ThingPick) -> float:
        return next(r.figure for r in read(self.evaluate().parts, *things) if r.what == what)


def test_a_distance_is_reached_and_the_project_is_left_alone() -> None:
    box = Box()
    before = box.project
    # the inside is wide - 2 wall: 47.5 needs 6.25, or a wide of 51.5
    things = (box.inner("left"), box.inner("right"))
    for value, figure in (("wall", 6.25), ("wide", 51.5)):
        answer = box.solve("apart", 47.5, value, *things)
        assert (
            answer.message == ""
            and answer.formula == f"{figure:g} mm"
            and answer.reached == pytest.approx(47.5, abs=1e-5)
        )
        assert box.project is before
        box.set(value, answer.formula)
        assert box.reads("apart", *things) == pytest.approx(47.5, abs=1e-5)
        box.project = before


def test_an_area_bends_with_its_value() -> None:
    """The floor inside is (60 - 2w)(30 - 2w): 1000 at w = 4.1886…, the smaller root of 4w² - 180w + 800 = 0."""
    box = Box()
    floor = box.thing(f"{box.hollow}/inner({box.body}/start)")
    answer = box.solve("area", 1000.0, "wall", floor)
    root = (180 - math.sqrt(180**2 - 16 * 800)) / 8
    assert answer.message == "" and float(answer.formula.split()[0]) == pytest.approx(root, abs=1e-5)


def test_why_there_is_none() -> None:
    box = Box()
    inner = (box.inner("left"), box.inner("right"))
    idle = box.solve("apart", 47.5, "idle", *inner)
    assert idle.formula == "" and "does not change with idle" in idle.message
    # 30 deep, so walls of 15 leave nothing: 20 apart would need 20
    far = box.solve("apart", 20.0, "wall", *inner)
    assert far.formula == "" and "the nearest is" in far.message and "wall does not fit" in far.message
    count = box.solve("apart", 47.5, "many", *inner)
    assert count.formula == "" and "No whole number of many" in count.message
    with pytest.raises(CommandError, match="not there"):
        solve_for(box.project, box.cache, inner[0], inner[1], "apart", 1.0, "v999")
    lost: Any = box.thing("s99/none")
    assert "not there any more" in box.solve("area", 5.0, "wall", lost).message
