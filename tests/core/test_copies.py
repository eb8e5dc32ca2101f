"""Copies that are parts of their own: numbers that follow a formula, what they inherit, where they stand, and what becomes of those that are not wanted any more."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench

from dovejoint.core.document import dump, load, new_project
from dovejoint.core.document.patch import apply_patch, patches
from dovejoint.core.errors import CommandError

GROUND = {"rule": "base", "plane": "ground"}


class Rods(Bench):
    """A sleeve and a rod in it, copied along an edge."""

    def __init__(self, **copies: Any) -> None:
        super().__init__(new_project("Perch"))
        self.do("AddValue", name="many", formula="5")
        body = {"shape": "cylinder", "high": "20 mm", "on": GROUND}
        _, self.sleeve = self.do(
            "AddStep", kind="body", fields={**body, "across": "12 mm"}, new_part={"name": "Sleeve"}
        )
        _, self.rod = self.do("AddStep", kind="body", fields={**body, "across": "8 mm", "high": "60 mm"}, new_part={"name": "Rod", "role": "bought"})  # fmt: skip
        self.do("EditPart", part=self.rod, colour="#c09050", note="beech", group="perch")
        fields = {"of": self.sleeve, "also": [{"part": self.rod}], "count": "many", "pitch": "30 mm"}
        (self.step,) = self.do("AddStep", kind="copies", fields={**fields, **copies})

    def names(self) -> list[str]:
        return [p.name for p in self.project.parts]

    def middle(self, name: str) -> tuple[float, float, float]:
        part = next(p for p in self.project.parts if p.name == name)
        (a, b, c), (d, e, f) = self.evaluate().parts[part.id].box
        return (a + d) / 2, (b + e) / 2, (c + f) / 2


def test_each_copy_is_a_part_that_inherits_and_is_numbered() -> None:
    rods = Rods()
    assert rods.message(rods.step) == ""
    assert rods.names() == ["Sleeve", *(f"Sleeve {k}" for k in range(2, 6)), "Rod", *(f"Rod {k}" for k in range(2, 6))]
    for part in rods.project.parts:
        if part.name.startswith("Rod"):
            assert (part.role, part.colour, part.note, part.group) == ("bought", "#c09050", "beech", "perch")
    for k in range(2, 6):
        assert rods.middle(f"Rod {k}") == pytest.approx((30.0 * (k - 1), 0.0, 30.0), abs=1e-6)
        part = next(p for p in rods.project.parts if p.name == f"Sleeve {k}")
        assert rods.volume(part.id) == pytest.approx(math.pi * 36 * 20)


def test_the_number_follows_its_formula_and_back() -> None:
    rods = Rods()
    before = rods.project
    rods.set("many", "3")
    assert rods.names() == ["Sleeve", "Sleeve 2", "Sleeve 3", "Rod", "Rod 2", "Rod 3"]
    assert rods.message(rods.step) == "" and len(rods.evaluate().parts) == 6
    forwards, backwards = patches(before, rods.project)
    there, back = before.model_dump(mode="json"), rods.project.model_dump(mode="json")
    assert apply_patch(there, forwards) == back and apply_patch(back, backwards) == there
    rods.set("many", "7")
    assert len(rods.names()) == 14 and rods.middle("Rod 7")[0] == pytest.approx(180.0)
    # a number that cannot be leaves all as it was, and the step says so
    rods.set("many", "2.5")
    assert len(rods.names()) == 14 and "whole number" in rods.message(rods.step)
    rods.set("many", "7")
    assert rods.message(rods.step) == ""
    assert load(dump(rods.project)) == rods.project


def test_more_parts_than_a_project_holds_are_refused_and_nothing_is_lost() -> None:
    rods = Rods()
    before = rods.project
    with pytest.raises(CommandError, match="holds 400 parts"):
        rods.set("many", "300")
    assert rods.project == before and load(dump(rods.project)) == before


def test_round_an_axis_and_some_left_out() -> None:
    rods = Rods(how="round", axis={"rule": "axis_base", "axis": "deep"}, count="4", left_out="3")
    assert rods.names() == ["Sleeve", "Sleeve 2", "Sleeve 4", "Rod", "Rod 2", "Rod 4"]
    # turned by a quarter about the deep axis through the middle what stood up lies
    assert rods.middle("Rod 2") == pytest.approx((30.0, 0.0, 0.0), abs=1e-6)
    rods.do("EditStep", step=rods.step, fields={"left_out": "2, 3"})
    assert rods.names() == ["Sleeve", "Sleeve 4", "Rod", "Rod 4"]


def test_a_copy_that_something_speaks_of_stays_and_what_speaks_of_it_says_so() -> None:
    rods = Rods()
    third = next(p.id for p in rods.project.parts if p.name == "Rod 3")
    (move,) = rods.do("AddStep", kind="move", fields={"part": third, "deep": "4 mm"})
    assert rods.message(move) == "" and rods.middle("Rod 3") == pytest.approx(
        (70.0, 4.0, 30.0), abs=1e-6
    )  # a move begins with 10 to the right
    rods.set("many", "2")
    assert rods.names() == ["Sleeve", "Sleeve 2", "Rod", "Rod 2", "Rod 3"]
    assert "“Rod 3” is not there at this place" in rods.message(move)
    rods.set("many", "3")
    assert rods.message(move) == "" and rods.middle("Rod 3")[1] == pytest.approx(4.0)
    rods.set("many", "2")
    rods.do("DeleteStep", step=move)
    assert rods.names() == ["Sleeve", "Sleeve 2", "Rod", "Rod 2"]
    rods.do("DeleteStep", step=rods.step)
    assert rods.names() == ["Sleeve", "Rod"]


def test_a_step_taken_before_the_copies_is_in_all_of_them() -> None:
    rods = Rods(count="3")
    end = next(f.names[0] for f in rods.evaluate().parts[rods.rod].faces if f.names[0].endswith("/end"))
    edges = {"rule": "edges_of_face", "part": rods.rod, "face": {"name": end}}
    (chamfer,) = rods.do("AddStep", kind="chamfer", fields={"edges": edges, "distance": "1 mm"})
    assert rods.message(chamfer) == ""
    second = next(p.id for p in rods.project.parts if p.name == "Rod 2")
    assert rods.volume(second) > rods.volume(rods.rod)
    rods.do("MoveStep", step=chamfer, after=rods.project.recipe[1].id)
    assert rods.volume(second) == pytest.approx(rods.volume(rods.rod))


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"count": "1"}, "two or more"),
        ({"count": "900"}, "at most"),
        ({"count": "none_such"}, "none_such"),
        ({"pitch": "0 mm"}, "all one"),
        ({"left_out": "two"}, "numbers with commas"),
        ({"left_out": "9"}, "no copy 9"),
    ],
)
def test_what_is_refused(fields: dict[str, Any], words: str) -> None:
    rods = Rods()
    parts = rods.names()
    rods.do("EditStep", step=rods.step, fields=fields)
    assert words in rods.message(rods.step)
    rods.do("EditStep", step=rods.step, fields={"count": "many", "pitch": "30 mm", "left_out": ""})
    assert rods.names() == parts


def test_an_image_and_a_copy_look_and_are_made_like_the_first_and_a_piece_is_made_like_the_whole() -> None:
    rods = Rods(count="1")
    _, image = rods.do("AddStep", kind="mirror", fields={"of": rods.rod, "plane": {"rule": "base", "plane": "side"}}, new_part={"name": "Image"})  # fmt: skip
    _, copy = rods.do("AddStep", kind="move", fields={"what": "copy", "of": rods.rod}, new_part={"name": "Copy", "role": "printed"})  # fmt: skip
    high = {"rule": "fixed", "origin": [0.0, 0.0, 30.0], "x": [1.0, 0.0, 0.0], "y": [0.0, 1.0, 0.0]}
    _, rest = rods.do("AddStep", kind="divide", fields={"part": rods.rod, "plane": high, "keep": "both"}, new_part={"name": "Rest"})  # fmt: skip
    got = {id: rods.project.part(id) for id in (image, copy, rest)}
    assert [(p.role, p.group) for p in got.values() if p] == [("bought", "perch"), ("printed", "perch"), ("bought", "perch")]  # fmt: skip
    assert [p.colour == "#c09050" for p in got.values() if p] == [True, True, False]
    assert [p.note for p in got.values() if p] == ["beech", "beech", ""]
