"""Commands and their inverses, the project file, and files that mean harm."""

from __future__ import annotations

import json
from typing import Any

import jsonpatch
import jsonschema
import pytest
from building import Bench, Feeder
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from dovejoint.core.document import Project, apply, command_from, dump, load, new_project, schema
from dovejoint.core.errors import CommandError, FileError
from dovejoint.core.recipe import sentence
from dovejoint.sample import make_feeder


def test_file_round_trip_and_schema() -> None:
    project = make_feeder()
    text = dump(project)
    assert load(text) == project
    assert load(text.encode()) == project
    jsonschema.validate(json.loads(text), schema())
    broken = json.loads(text)
    broken["recipe"][1]["fields"]["direction"] = "sideways"
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(broken, schema())


def _changed(**changes: object) -> str:
    data = json.loads(dump(make_feeder()))
    data.update(changes)
    return json.dumps(data)


def _deep(depth: int) -> str:
    return _changed(values=json.loads("[" * depth + "]" * depth))


BAD_FILES = [
    ("", "damaged at line 1"),
    ("{", "damaged at line 1"),
    ("[]", "not a Dove Joint"),
    ("{}", "not a Dove Joint"),
    ("null", "not a Dove Joint"),
    (b"\xff\xfe\x00", "not text"),
    (_changed(format=99), "format 99"),
    (_changed(format="one"), "which format"),
    (_changed(parts="x"), "“parts”"),
    (_changed(extra=1), "“extra”"),
    (_changed(name=""), "“name”"),
    (_changed(next_id=1e30), "“next_id”"),
    (dump(make_feeder()).replace('"next_id": ', '"next_id": NaN, "x": '), "NaN"),
    (_changed(recipe=[{"id": "s1", "kind": "explode", "fields": {}}]), "“explode”"),
    (_changed(recipe=[{"id": "s1", "kind": "extrude", "fields": {"profile": 3}}]), "“profile”"),
    (_changed(parts=[{"id": "p1", "name": "a", "colour": "red"}]), "colour"),
    (
        _changed(values=[{"id": "v1", "name": "a", "formula": "1"}, {"id": "v1", "name": "b", "formula": "1"}]),
        "same id",
    ),
    (_changed(values=[{"id": "../../x", "name": "a", "formula": "1"}]), "values.0.id"),
    (_deep(60), "nested too deeply"),
    ("[" * 100000, "nested too deeply"),
    ("9" * 9_000_000, "larger than 8 MB"),
]


@pytest.mark.parametrize(("text", "word"), BAD_FILES, ids=[w for _, w in BAD_FILES])
def test_bad_files_get_one_sentence(text: str | bytes, word: str) -> None:
    with pytest.raises(FileError) as caught:
        load(text)
    assert word in caught.value.message


def test_a_step_from_before_its_kind_had_more_fields_reads_as_it_did(bench: Bench) -> None:
    (plane,) = bench.do(
        "AddStep", kind="plane", fields={"base": {"rule": "base", "plane": "front"}, "distance": "7 mm"}
    )
    data = json.loads(dump(bench.project))
    data["recipe"][0]["fields"] = {"base": {"rule": "base", "plane": "front"}, "distance": "7 mm"}
    project = load(json.dumps(data))
    assert sentence(project, project.recipe[0]) == "Plane parallel to the front plane at 7 mm"
    assert project.recipe[0].fields == bench.project.recipe[0].fields


def test_a_file_cannot_make_ids_collide_later() -> None:
    project = load(_changed(next_id=1))
    after = apply(project, command_from({"do": "AddValue", "name": "late", "formula": "1 mm"}))
    ids = [t.id for t in (*after.project.values, *after.project.parts, *after.project.recipe)]
    assert len(ids) == len(set(ids))


COMMANDS_REFUSED = [
    ({"do": "AddValue", "name": "wall", "formula": "2 mm"}, "called “wall” already"),
    ({"do": "AddValue", "name": "2x", "formula": "2 mm"}, "cannot be a value's name"),
    ({"do": "AddValue", "name": "loop", "formula": "loop + 1"}, "in a circle: loop → loop"),
    ({"do": "AddValue", "name": "bad", "formula": "wall +"}, "missing at the end"),
    ({"do": "AddValue", "name": "odd", "formula": "wall + 2"}, "cannot be added"),
    ({"do": "AddValue", "name": "x", "formula": "  "}, "needs a formula"),
    ({"do": "AddStep", "kind": "explode", "fields": {}}, "no kind of step"),
    ({"do": "AddStep", "kind": "fillet", "fields": {}}, "“edges” is not right"),
    ({"do": "RenameProject", "name": " "}, "needs a name"),
    ({"do": "EditStep", "step": "s99", "fields": {}}, "not there any more"),
    ({"do": "RemoveValue", "value": "v99"}, "not there any more"),
    ({"do": "Unheard"}, "not right"),
    ({}, "not right"),
    ("text", "not right"),
    ({"do": "EditPart", "part": "p99", "name": "x"}, "not there any more"),
]


@pytest.mark.parametrize(("command", "word"), COMMANDS_REFUSED, ids=[w for _, w in COMMANDS_REFUSED])
def test_refused_commands(feeder: Feeder, command: object, word: str) -> None:
    before = feeder.project
    with pytest.raises(CommandError) as caught:
        apply(feeder.project, command_from(command))
    assert word in caught.value.message
    assert feeder.project == before


def test_refusals_that_need_the_feeder(feeder: Feeder) -> None:
    with pytest.raises(CommandError, match="used by step 1 “outline”, step 4"):
        feeder.do("RemoveValue", value=feeder.value("wall"))
    with pytest.raises(CommandError, match="“wall” is a length and .* rest on that; “30 deg” is an angle"):
        feeder.set("wall", "30 deg")
    with pytest.raises(CommandError, match="“hopper” already"):
        feeder.do("EditPart", part=feeder.floor, name="hopper")
    with pytest.raises(CommandError, match="cannot be read"):
        feeder.do("EditStep", step=feeder.rounding, fields={"radius": "9 +"})


def test_bare_figures_keep_their_kind(feeder: Feeder) -> None:
    feeder.set("wall", "2.2")
    assert feeder.project.values[0].formula == "2.2 mm"
    feeder.do("SetUnit", unit="in")
    feeder.set("inside", "3 1/4 in")
    feeder.set("wall", "0.1")
    assert feeder.project.values[0].formula == "0.1 in"
    feeder.do("EditStep", step=feeder.rounding, fields={"radius": "0.25"})
    assert feeder.project.step(feeder.rounding).fields["radius"] == "0.25 in"  # type: ignore[union-attr]


def test_renaming_a_value_renames_it_everywhere(feeder: Feeder) -> None:
    before = feeder.volume(feeder.hopper)
    feeder.do("RenameValue", value=feeder.value("wall"), name="skin")
    fields = feeder.project.step(feeder.hollow).fields  # type: ignore[union-attr]
    assert fields["wall"] == "skin"
    sizes = feeder.project.recipe[0].fields["sketch"]["dimensions"]
    assert sizes[0]["formula"] == "inside + 2*skin"
    assert feeder.volume(feeder.hopper) == before


def test_switching_an_extrusion_between_new_and_add(feeder: Feeder) -> None:
    knob = feeder.rectangle("5 mm", "5 mm")
    step, part = feeder.extrude(knob, "90 mm", "Knob")
    feeder.do("EditStep", step=step, fields={"operation": "add", "part": feeder.hopper})
    assert feeder.project.part(part) is None
    feeder.do("EditStep", step=step, fields={"operation": "new"}, new_part={"name": "Knob again"})
    assert [p.name for p in feeder.project.parts] == ["Hopper", "Floor", "Knob again"]


numbers = st.floats(0.5, 90, allow_nan=False).map(lambda x: f"{x:.3f} mm")
random_commands = st.lists(
    st.one_of(
        st.builds(
            lambda n, f: {"do": "AddValue", "name": n, "formula": f}, st.text("abcdef", min_size=1, max_size=3), numbers
        ),
        st.builds(lambda f: {"do": "SetValue", "value": "v1", "formula": f}, numbers),
        st.builds(
            lambda s, o: {"do": "SwitchStep", "step": s, "off": o},
            st.sampled_from(["s3", "s5", "s7", "s8"]),
            st.booleans(),
        ),
        st.builds(lambda s: {"do": "DeleteStep", "step": s}, st.sampled_from(["s5", "s8", "s9", "s11"])),
        st.builds(
            lambda s, n: {"do": "RenameStep", "step": s, "name": n}, st.sampled_from(["s3", "s7"]), st.text(max_size=9)
        ),
        st.builds(
            lambda a, b: {"do": "DrawRectangle", "step": "s5", "first": [a, 0], "corner": [b, 9]},
            st.floats(-50, 0),
            st.floats(1, 50),
        ),
        st.builds(
            lambda i: {"do": "RemoveFromSketch", "step": "s5", "ids": [i]},
            st.sampled_from(["k1", "k2", "d1", "l1", "p1"]),
        ),
        st.builds(
            lambda x, y: {"do": "DragSketch", "step": "s5", "id": "p3", "to": [x, y]},
            st.floats(-60, 60),
            st.floats(-60, 60),
        ),
        st.builds(lambda n: {"do": "RenameValue", "value": "v2", "name": n}, st.sampled_from(["inner", "room"])),
    ),
    max_size=12,
)


@given(random_commands)
@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
def test_every_command_can_be_taken_back_and_done_again(commands: list[dict[str, object]]) -> None:
    states: list[Project] = [make_feeder()]
    for data in commands:
        try:
            states.append(apply(states[-1], command_from(data)).project)
        except CommandError:
            continue
    for earlier, later in zip(states, states[1:], strict=False):
        a, b = earlier.model_dump(mode="json"), later.model_dump(mode="json")
        assert jsonpatch.apply_patch(a, jsonpatch.make_patch(a, b)) == b
        assert jsonpatch.apply_patch(b, jsonpatch.make_patch(b, a)) == a
    assert load(dump(states[-1])) == states[-1], "and whatever came of it is a sound file"


def test_new_projects_need_names() -> None:
    for bad in ("", "  ", "x" * 81):
        with pytest.raises(CommandError):
            new_project(bad)


def test_the_board_in_commands(bench: Bench) -> None:
    (sketch,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawRectangle", step=sketch, first=[0, 0], corner=[20, 10])
    bench.do("SizeSketch", step=sketch, kind="length", of=["l1"])
    size = bench.project.recipe[0].fields["sketch"]["dimensions"][0]
    assert size["formula"] == "40 mm", "a size without a formula takes what it measures"
    bench.do("ResizeSketch", step=sketch, dimension="d1", formula="55")
    assert bench.project.recipe[0].fields["sketch"]["points"][2]["x"] == pytest.approx(27.5)
    for command, word in (
        ({"do": "ResizeSketch", "dimension": "d1", "formula": "0"}, "above zero"),
        ({"do": "ResizeSketch", "dimension": "d1", "formula": "nonsense"}, "“nonsense”"),
        ({"do": "ResizeSketch", "dimension": "d9", "formula": "5"}, "not there any more"),
        ({"do": "SizeSketch", "kind": "length", "of": ["l1"]}, "settled already"),
        ({"do": "SizeSketch", "kind": "girth", "of": ["l1"]}, "no dimension called"),
        ({"do": "SizeSketch", "kind": "diameter", "of": ["l2"]}, "cannot be measured"),
        ({"do": "TieSketch", "kind": "glued", "of": ["l1"]}, "no tie called"),
        ({"do": "TieSketch", "kind": "parallel", "of": ["l1", "zz"]}, "not on the board"),
        ({"do": "RemoveFromSketch", "ids": ["nothing"]}, "nothing to take away"),
        ({"do": "DrawRectangle", "first": [0, 0], "corner": [0, 0]}, "width and a height"),
        ({"do": "DrawRectangle", "first": [0, 0], "corner": [5, 5], "width": "3 deg", "height": "4"}, "is an angle"),
        ({"do": "DrawCircle", "centre": [0, 0], "radius": 5, "diameter": "-3"}, "above zero"),
        ({"do": "DrawCircle", "centre": [float("nan"), 0], "radius": 5}, "not right"),
    ):
        with pytest.raises(CommandError) as caught:
            bench.do(command.pop("do"), step=sketch, **command)
        assert word in caught.value.message


def test_chapters_stay_where_they_begin() -> None:
    """A chapter's mark is handed on when the step that it stands at goes away or elsewhere."""
    project = make_feeder()
    ids = [s.id for s in project.recipe]

    def done(command: str, **fields: Any) -> dict[str, str]:
        nonlocal project
        project = apply(project, command_from({"do": command, **fields})).project
        return {s.id: s.chapter for s in project.recipe if s.chapter}

    assert done("SetChapter", step=ids[0], title=" Hopper ", note="the outside") == {ids[0]: "Hopper"}
    assert done("SetChapter", step=ids[4], title="Mouth") == {ids[0]: "Hopper", ids[4]: "Mouth"}
    # a step that stood at the beginning of a chapter is moved out of it: the chapter begins at the next one
    assert done("MoveStep", step=ids[4], after=ids[1]) == {ids[0]: "Hopper", ids[5]: "Mouth"}
    assert done("SetChapter", step=ids[0], title="Body") == {ids[0]: "Body", ids[5]: "Mouth"}
    assert project.recipe[0].chapter_note == "the outside", "its note stays"
    # deleted, the mark goes on to the next one; where that begins one itself it goes away
    left = done("DeleteStep", step=ids[5])
    assert left == {ids[0]: "Body", ids[6]: "Mouth"}
    assert done("SetChapter", step=ids[6], title="") == {ids[0]: "Body"}
    assert load(dump(project)) == project


def test_views_are_kept_by_name_and_what_is_made_says_how() -> None:
    project = make_feeder()
    hopper = project.parts[0].id
    seen = {"middle_mm": [1, 2, 3], "turn_deg": -58.0, "over_deg": 30.0, "tall_mm": 160.0}

    def kept(command: str, **fields: Any) -> list[tuple[str, float]]:
        nonlocal project
        project = apply(project, command_from({"do": command, **fields})).project
        return [(v.name, v.tall_mm) for v in project.views]

    assert kept("KeepView", name=" front ", **seen) == [("front", 160)]
    assert kept("KeepView", name="inside", **{**seen, "hidden": [hopper]}) == [("front", 160), ("inside", 160)]
    first = project.views[0].id
    # the same name, however it is written, is the same view
    assert kept("KeepView", name="FRONT", **{**seen, "tall_mm": 80}) == [("FRONT", 80), ("inside", 160)]
    assert project.views[0].id == first and load(dump(project)) == project
    before = project
    for fields, word in (
        ({"name": "  "}, "under a name"), ({"name": "x", "hidden": ["p99"]}, "a part that is not there"), ({"name": "x", "over_deg": 91}, "not right"),
        ({"name": "x", "tall_mm": 0}, "not right"), ({"name": "x", "middle_mm": [0, 0, float("nan")]}, "not right"),
    ):  # fmt: skip
        with pytest.raises(CommandError, match=word):
            kept("KeepView", **{**seen, **fields})
    with pytest.raises(CommandError, match="not there any more"):
        kept("DropView", view="w99")
    assert project == before
    assert kept("DropView", view=first) == [("inside", 160)]
    for k in range(59):
        kept("KeepView", name=f"view {k}", **seen)
    with pytest.raises(CommandError, match="60 views"):
        kept("KeepView", name="one more", **seen)
    project = apply(project, command_from({"do": "EditPart", "part": hopper, "sheet_mm": 3, "cutter_mm": 2})).project
    assert (project.parts[0].sheet_mm, project.parts[0].cutter_mm) == (3, 2)
    with pytest.raises(CommandError):
        command_from({"do": "EditPart", "part": hopper, "cutter_mm": -1})
