"""Two states side by side: what changed in words and figures, and what must be printed again."""

from __future__ import annotations

from typing import Any

import pytest
from building import Bench, Feeder, flat

from dovejoint.core.document import Project
from dovejoint.core.errors import CommandError
from dovejoint.core.profiles import DEFAULT_PROFILE
from dovejoint.core.recipe import compare


def since(bench: Bench, before: Project) -> dict[str, Any]:
    now = bench.project
    bench.project = before
    was = bench.evaluate()
    bench.project = now
    return compare(before, was, now, bench.evaluate())


def states(found: dict[str, Any]) -> dict[str, str]:
    return {p["name"]: p["state"] for p in found["parts"]}


def test_a_gap_that_lands_on_the_floor_reprints_only_that(feeder: Feeder) -> None:
    before = feeder.project
    terms = list(DEFAULT_PROFILE.terms)
    terms[6] = terms[7] = 0.16
    profile = DEFAULT_PROFILE.model_copy(update={"terms": terms, "version": 2})
    feeder.do("SetProfile", profile=profile.model_dump(mode="json"))
    found = since(feeder, before)
    assert found["reprint"] == ["Floor"]
    assert states(found) == {"Hopper": "same", "Floor": "changed"}
    (gap,) = found["gaps"]
    assert gap["after_mm"] - gap["before_mm"] == pytest.approx(0.06)
    floor = next(p for p in found["parts"] if p["name"] == "Floor")
    # the lip goes inwards by 0.06 all round: its own wall stays as thick, so it loses about 0.06 · 2π · thickness at its corners
    assert -20 < floor["volume_change_mm3"] < 0
    assert found["values"] == [] and found["steps"] == []


def test_new_names_and_other_words_reprint_nothing(feeder: Feeder) -> None:
    before = feeder.project
    feeder.do("EditPart", part=feeder.hopper, name="Seed box", colour="#A9C2B6")
    feeder.do("RenameStep", step=feeder.body, name="the box")
    feeder.set("inside", "80 mm + 3 mm")
    feeder.do("AddValue", name="spare", formula="1 mm")
    found = since(feeder, before)
    assert found["reprint"] == []
    assert [(v["name"], v["before"], v["after"]) for v in found["values"]] == [
        ("inside", "83 mm", "80 mm + 3 mm"), ("spare", "", "1 mm"),
    ]  # fmt: skip
    assert [s["state"] for s in found["steps"]] == ["changed"]


def test_other_solids_of_equal_size_are_told_apart(bench: Bench) -> None:
    """A hole on the left or on the right: equal volume, equal box, another solid."""
    _, block = bench.extrude(bench.rectangle("40 mm", "20 mm"), "5 mm", "Plate")
    hole = bench.rectangle("6 mm", "6 mm", at=(-12, 0))
    bench.extrude(hole, "5 mm", block, "cut", extent="through")
    left = bench.project
    bench.do("DeleteStep", step=bench.project.recipe[-1].id)
    other = bench.rectangle("6 mm", "6 mm", at=(12, 0))
    bench.extrude(other, "5 mm", block, "cut", extent="through")
    found = since(bench, left)
    assert states(found) == {"Plate": "changed"}
    assert found["parts"][0]["volume_change_mm3"] == pytest.approx(0, abs=1e-6)


def test_parts_come_and_go_and_lie_otherwise(feeder: Feeder) -> None:
    before = feeder.project
    feeder.do("LayPart", part=feeder.hopper, face=flat(feeder, feeder.hopper, f"{feeder.body}/end"))
    feeder.extrude(feeder.rectangle("10 mm", "10 mm", at=(80, 0)), "5 mm", "Perch")
    feeder.do("SwitchStep", step=feeder.lip, off=True)
    found = since(feeder, before)
    # the joint had chamfered the hopper's mouth
    assert states(found) == {"Hopper": "changed", "Floor": "gone", "Perch": "new"}
    assert found["reprint"] == ["Hopper", "Perch"]
    feeder.do("SwitchStep", step=feeder.lip, off=False)
    assert next(p for p in since(feeder, before)["parts"] if p["name"] == "Hopper")["lies"]
    assert {"off", "new"} <= {s["state"] for s in found["steps"]}


def test_moving_a_step_is_told_and_refused_where_it_would_break(feeder: Feeder) -> None:
    before = feeder.project
    mouth = feeder.rectangle("20 mm", "10 mm", {"rule": "base", "plane": "front"}, at=(0, 30))
    (cutting,) = feeder.extrude(mouth, "10 mm", feeder.hopper, "cut", extent="through")
    cut = feeder.project
    feeder.do("MoveStep", step=mouth, after="")
    assert [s.id for s in feeder.project.recipe][0] == mouth
    assert since(feeder, cut)["reprint"] == []
    assert [s["state"] for s in since(feeder, cut)["steps"]][-1] == "order"
    with pytest.raises(CommandError, match="builds on step"):
        feeder.do("MoveStep", step=feeder.hollow, after=feeder.outline)
    with pytest.raises(CommandError):
        feeder.do("MoveStep", step=cutting, after="")
    feeder.do("RestoreDocument", document=before.model_dump(mode="json"), label="revision 1")
    assert feeder.project.recipe == before.recipe
    assert feeder.project.next_id >= cut.next_id, "ids that were given out are not given out again"
