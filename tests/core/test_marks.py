"""Declared references: marks are seen wherever they stand, what is not seen is refused, and what steps do to parts follows from them."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import pytest
from building import Bench, Feeder
from pydantic import BaseModel

from dovejoint.core.document import StepFields, apply, command_from
from dovejoint.core.document.compiled import compiled, compiled_step
from dovejoint.core.document.fields import register_fields
from dovejoint.core.document.patch import apply_patch, patches
from dovejoint.core.document.picks import EdgePick, FlatFace
from dovejoint.core.quantities.markers import (
    Changed,
    FormulaMark,
    Length,
    Made,
    MadeWhen,
    PartId,
    PartMark,
    StepId,
    rewrite,
    unseen_marks,
    walk,
)


class Inner(BaseModel):
    part: PartId
    sizes: list[Length] = []


class Everywhere(StepFields):
    plain: Length = "1 mm"
    maybe: PartId | None = None
    many: list[PartId] = []
    steps: list[StepId] = []
    pair: tuple[Length, Length] = ("2 mm", "3 mm")
    inner: Inner | None = None
    inners: list[Inner] = []
    named: dict[str, Length] = {}


def test_marks_are_seen_at_any_depth() -> None:
    fields = Everywhere(
        maybe="p1", many=["p2", "p3"], steps=["s4"], inner=Inner(part="p5", sizes=["6 mm"]), inners=[Inner(part="p7")],
        named={"a": "8 mm"},
    )  # fmt: skip
    assert {path: text for path, _, text in walk(fields)} == {
        "plain": "1 mm", "maybe": "p1", "many.0": "p2", "many.1": "p3", "steps.0": "s4", "pair.0": "2 mm", "pair.1": "3 mm",
        "inner.part": "p5", "inner.sizes.0": "6 mm", "inners.0.part": "p7", "named.a": "8 mm",
    }  # fmt: skip
    changed = rewrite(fields, lambda mark, text: "x" if isinstance(mark, PartMark) else text)
    assert [t for _, m, t in walk(changed) if isinstance(m, PartMark)] == ["x"] * 5
    assert rewrite(fields, lambda mark, text: text) is fields, "what does not change is the same object"
    assert fields.many == ["p2", "p3"]


class OnFloat(StepFields):
    figure: Annotated[float, FormulaMark(None)] = 1.0


class OnList(StepFields):
    parts: Annotated[list[str], PartMark()] = []


class OnKeys(StepFields):
    by_part: dict[PartId, int] = {}


class InSet(StepFields):
    parts: set[PartId] = set()


class Two(StepFields):
    one: Made = ""
    two: MadeWhen = ""
    operation: Literal["new", "add"] = "new"


class Deep(StepFields):
    inner: list[OnFloat] = []


@pytest.mark.parametrize("model", [OnFloat, OnList, OnKeys, InSet, Two, Deep])
def test_what_the_walk_cannot_see_is_refused(model: Any) -> None:
    with pytest.raises(TypeError):
        register_fields("never", model)


class Doing(StepFields):
    operation: Literal["new", "add"] = "new"
    part: MadeWhen = ""
    edges: Annotated[EdgePick, Changed()]
    looks: FlatFace | None = None


def test_what_is_done_to_parts_follows_from_marks_and_answers() -> None:
    unseen_marks(Doing)
    edges = {"rule": "edges_along", "part": "p2"}
    face = {"rule": "flat", "part": "p3", "face": {"name": "s1/end"}}

    def does(**more: Any) -> dict[str, str]:
        fields = Doing.model_validate({"part": "p1", "edges": edges, "looks": face, **more})
        return {text: mark.does for _, mark, text in walk(fields) if isinstance(mark, PartMark) and text}

    assert does() == {"p1": "makes", "p2": "changes", "p3": "reads"}
    assert does(operation="add")["p1"] == "changes"


def test_a_compiled_recipe_knows_what_hangs_on_what() -> None:
    feeder = Feeder()
    read = compiled(feeder.project)
    assert read.makers == {feeder.hopper: feeder.body, feeder.floor: feeder.lip}
    lip = read.of(feeder.lip)
    assert lip is not None and (lip.makes, lip.changes) == ((feeder.floor,), (feeder.hopper,))
    assert read.needs(feeder.lip) == {feeder.body, feeder.hollow}
    assert read.needs(feeder.body) == {feeder.outline}
    assert lip.values == frozenset()
    hollow = read.of(feeder.hollow)
    assert hollow is not None and hollow.values == {"wall"}


def test_unchanged_steps_are_read_once() -> None:
    feeder = Feeder()
    before = {s.id: s for s in compiled(feeder.project)}
    feeder.do("EditStep", step=feeder.rounding, fields={"radius": "8 mm"})
    after = {s.id: s for s in compiled(feeder.project)}
    assert {id for id in before if after[id] is not before[id]} == {feeder.rounding}
    # and one that went through a file is recognised
    step = feeder.project.step(feeder.body)
    assert step is not None
    again = type(step).model_validate(step.model_dump(mode="json"))
    assert again is not step and compiled_step(again) is compiled_step(step)


def test_patches_say_just_what_a_command_did() -> None:
    """Forwards and backwards, over commands of all sorts, from the structure that documents share."""
    feeder = Feeder()
    commands = [
        {"do": "SetValue", "value": feeder.project.values[0].id, "formula": "2 mm"},
        {"do": "EditStep", "step": feeder.rounding, "fields": {"radius": "7 mm"}},
        {"do": "DeleteStep", "step": feeder.lip},
        {"do": "AddStep", "kind": "sketch", "fields": {}, "after": ""},
        {"do": "AddStep", "kind": "sketch", "fields": {}, "name": "~a/b"},
        {"do": "MoveStep", "step": "s90", "after": ""},
        {"do": "RenameValue", "value": feeder.project.values[1].id, "name": "room"},
        {"do": "SetUnit", "unit": "in"},
    ]
    for data in commands:
        before = feeder.project
        if data["do"] == "MoveStep":
            data = {**data, "step": before.recipe[-1].id}
        after = apply(before, command_from(data)).project
        forward, inverse = patches(before, after)
        old, new = before.model_dump(mode="json"), after.model_dump(mode="json")
        assert apply_patch(old, forward) == new
        assert apply_patch(new, inverse) == old
        assert len(str(forward)) < len(str(new)) / 3, "it does not say everything again"
        feeder.project = after


def test_several_radii_in_one_step() -> None:
    """A block 20 × 30 × 10: upright edges by 2, those of the top by 1; volumes by hand (Pappus and quarter rounds)."""
    bench = Bench(Feeder().project)
    _, block = bench.extrude(bench.rectangle("20 mm", "30 mm"), "10 mm", "Block")
    up = {"rule": "edges_along", "part": block, "direction": "up"}
    (step,) = bench.do("AddStep", kind="fillet", fields={"edges": up, "radius": "2 mm"})
    upright_only = bench.volume(block)
    assert upright_only == pytest.approx((20 * 30 - (4 - 3.141592653589793) * 4) * 10, rel=1e-9)
    across = {"rule": "edges_along", "part": block, "direction": "across"}
    bench.do("EditStep", step=step, fields={"more": [{"edges": across, "radius": "1 mm"}]})
    assert bench.message(step) == "" and bench.volume(block) < upright_only
    radii = {round(f.radius_mm, 6) for f in bench.evaluate().parts[block].faces if f.kind == "cylinder"}
    assert radii == {1.0, 2.0}
    bench.do("EditStep", step=step, fields={"more": [{"edges": up, "radius": "1 mm"}]})
    assert "two radii" in bench.message(step)
    report = next(r for r in bench.evaluate().steps if r.id == step)
    assert report.field == "more.0.edges"
    bench.do("EditStep", step=step, fields={"more": [{"edges": across, "radius": "nonsense"}]})
    report = next(r for r in bench.evaluate().steps if r.id == step)
    assert (report.state, report.field) == ("failed", "more.0.radius")


def test_one_step_works_on_several_parts() -> None:
    bench = Bench(Feeder().project)
    parts = [bench.extrude(bench.rectangle("20 mm", "30 mm", at=(k * 60, 0)), "10 mm", f"Block {k}")[1] for k in (2, 3)]
    state = bench.evaluate()
    picked = []
    for part in parts:
        edge = next(e for e in state.parts[part].edges if abs(e.direction[2]) > 0.9)
        picked.append({"name": edge.name, "part": part})
    pick = {"rule": "edges", "part": parts[0], "edges": [{"name": picked[0]["name"]}, picked[1]], "chain": False}
    (step,) = bench.do("AddStep", kind="fillet", fields={"edges": pick, "radius": "3 mm"})
    assert bench.message(step) == ""
    read = compiled(bench.project).of(step)
    assert read is not None and set(read.changes) == set(parts)
    for part in parts:
        assert bench.volume(part) == pytest.approx(6000 - (1 - 3.141592653589793 / 4) * 9 * 10, rel=1e-9)
