"""Evaluation: reuse, failures that stay where they are, and picks that find the right face or ask."""

from __future__ import annotations

import random

import pytest
from building import Bench, Feeder

from dovejoint.core.document import new_project
from dovejoint.core.errors import CommandError
from dovejoint.core.recipe import Superseded, evaluate, sentence, uses_of_values
from dovejoint.core.recipe.names import seen_edge, seen_face


def test_feeder_is_made(feeder: Feeder) -> None:
    assert set(feeder.states().values()) == {"ok"}
    hopper = feeder.evaluate().parts[feeder.hopper]
    # outline 86.4 × 60 with 9 mm corners less the same 1.7 mm inside, open below
    from math import pi

    outer = 86.4 * 60 - (4 - pi) * 81
    inner = 83 * 56.6 - (4 - pi) * 7.3**2
    mouth = 0.3**2 / 2 * (2 * (83 + 56.6 - 4 * 7.3) + 2 * pi * (7.3 + 0.1))
    assert hopper.solid.volume_mm3 == pytest.approx(outer * 70 - inner * 68.3 - mouth, rel=1e-6)


def test_nothing_is_done_twice(feeder: Feeder) -> None:
    feeder.evaluate()
    done = feeder.cache.computed
    feeder.evaluate()
    assert feeder.cache.computed == done, "unchanged"
    feeder.do("EditPart", part=feeder.hopper, name="Bin")
    feeder.do("RenameStep", step=feeder.rounding, name="soft corners")
    feeder.do("EditStep", step=feeder.rounding, fields={"radius": "wall * 0 + 9 mm"})
    feeder.evaluate()
    assert feeder.cache.computed == done, "another name or another way to write 9 mm"
    feeder.do("EditStep", step=feeder.lip, fields={"height": "7 mm"})
    feeder.evaluate()
    assert feeder.cache.computed == done + 1, "only the lip"
    feeder.do("EditStep", step=feeder.rounding, fields={"radius": "8 mm"})
    feeder.evaluate()
    assert feeder.cache.computed == done + 4, "the fillet and what stands on it"
    feeder.do("EditStep", step=feeder.rounding, fields={"radius": "9 mm"})
    feeder.do("EditStep", step=feeder.lip, fields={"height": "6 mm"})
    feeder.evaluate()
    assert feeder.cache.computed == done + 4, "back again costs nothing"


def test_a_failure_leaves_the_rest_standing(feeder: Feeder) -> None:
    feeder.do("EditStep", step=feeder.rounding, fields={"radius": "40 mm"})
    states = feeder.states()
    assert states[feeder.rounding] == "failed"
    assert "is the most" in feeder.message(feeder.rounding)
    assert states[feeder.hollow] == "ok", "the shell still finds the foot of the unrounded block"
    assert states[feeder.lip] == "ok", "and sharp corners will do for the lip"
    feeder.do("EditStep", step=feeder.hollow, fields={"wall": "35 mm"})
    assert "A 35 mm wall does not fit" in feeder.message(feeder.hollow)


def test_off_upto_insert_and_delete(feeder: Feeder) -> None:
    whole = feeder.volume(feeder.hopper)
    feeder.do("SwitchStep", step=feeder.rounding, off=True)
    assert feeder.volume(feeder.hopper) > whole
    feeder.do("SwitchStep", step=feeder.rounding, off=False)
    early = feeder.evaluate(upto=feeder.body)
    assert set(early.parts) == {feeder.hopper}
    assert early.parts[feeder.hopper].solid.volume_mm3 == pytest.approx(86.4 * 60 * 70, rel=1e-9)
    assert [r.state for r in early.steps] == ["ok", "ok", "beyond", "beyond", "beyond"]
    (cut,) = feeder.do(
        "AddStep",
        kind="chamfer",
        after=feeder.body,
        fields={
            "edges": {"rule": "edges_of_face", "part": feeder.hopper, "face": {"name": f"{feeder.body}/end"}},
            "distance": "2 mm",
        },
    )
    assert [s.id for s in feeder.project.recipe].index(cut) == 2
    assert feeder.states()[cut] == "ok"
    feeder.do("DeleteStep", step=feeder.body)
    assert feeder.project.part(feeder.hopper) is None, "the part goes with the step that makes it"
    assert "not there any more" in feeder.message(feeder.rounding) or "missing" in feeder.message(feeder.rounding)


def test_steps_that_build_on_what_is_gone_say_so(bench: Bench) -> None:
    sketch = bench.rectangle("40 mm", "30 mm")
    body, part = bench.extrude(sketch, "20 mm")
    bench.do("SwitchStep", step=sketch, off=True)
    assert "step 1, which gives nothing here" in bench.message(body)
    bench.do("DeleteStep", step=sketch)
    assert "not there any more" in bench.message(body)
    assert bench.states()[body] == "asks"
    with pytest.raises(CommandError, match="a step that is not there"):
        bench.extrude("s99", "5 mm", "Other")
    with pytest.raises(CommandError, match="a part that is not there"):
        bench.do("AddStep", kind="fillet", fields={"edges": {"rule": "edges_along", "part": "p99", "direction": "up"}})
    assert part


@pytest.mark.parametrize(
    ("fields", "word"),
    [
        ({"distance": "0 mm"}, "above zero"),
        ({"distance": "-4 mm"}, "above zero"),
        ({"distance": "30 deg"}, "an angle"),
        ({"distance": "nothing"}, "“nothing”"),
        ({"distance": "1 mm / 0"}, "divides by zero"),
        ({"extent": "through"}, "needs a part"),
    ],
)
def test_extrusions_that_cannot_be(bench: Bench, fields: dict[str, str], word: str) -> None:
    body, _ = bench.extrude(bench.rectangle("40 mm", "30 mm"), "20 mm")
    if "extent" in fields:
        fields = {**fields, "operation": "new"}
    bench.do("EditStep", step=body, fields=fields)
    assert word in bench.message(body)


def test_extrude_adds_cuts_overlaps_and_goes_through(bench: Bench) -> None:
    _, part = bench.extrude(bench.rectangle("40 mm", "30 mm"), "20 mm")
    small = bench.rectangle("10 mm", "10 mm")
    (step,) = bench.extrude(small, "25 mm", part, "add")
    assert bench.volume(part) == pytest.approx(24000 + 500)
    bench.do("EditStep", step=step, fields={"operation": "cut"})
    assert bench.volume(part) == pytest.approx(22000)
    bench.do("EditStep", step=step, fields={"operation": "overlap", "distance": "5 mm"})
    assert bench.volume(part) == pytest.approx(500)
    bench.do("EditStep", step=step, fields={"operation": "cut", "extent": "through", "direction": "up"})
    assert bench.volume(part) == pytest.approx(22000)
    bench.do("EditStep", step=step, fields={"direction": "down"})
    assert "nothing to go through on that side" in bench.message(step)
    bench.do("EditStep", step=step, fields={"extent": "by", "direction": "both", "distance": "10 mm"})
    assert bench.volume(part) == pytest.approx(24000 - 500)
    far = bench.rectangle("5 mm", "5 mm", at=(100, 100))
    (miss,) = bench.extrude(far, "5 mm", part, "cut")
    assert "meets no material" in bench.message(miss)


def test_planes_and_sketches_on_faces(bench: Bench) -> None:
    body, part = bench.extrude(bench.rectangle("40 mm", "30 mm"), "20 mm")
    top = {"rule": "flat", "part": part, "face": {"name": f"{body}/end"}}
    (step,) = bench.extrude(bench.rectangle("10 mm", "10 mm", plane=top), "5 mm", part, "add")
    assert bench.volume(part) == pytest.approx(24500)
    (plane,) = bench.do("AddStep", kind="plane", fields={"base": top, "distance": "7 mm"})
    _, other = bench.extrude(bench.rectangle("6 mm", "6 mm", plane={"rule": "plane", "step": plane}), "1 mm", "Lid")
    low = bench.evaluate().parts[other]
    assert min(f.at[2] for f in low.faces) == pytest.approx(27)
    side = {"rule": "flat", "part": part, "face": {"name": f"{body}/side(l2)"}}
    (hole,) = bench.extrude(bench.rectangle("4 mm", "4 mm", plane=side), "3 mm", part, "cut", direction="down")
    assert bench.states()[hole] == "ok"
    assert step


def test_regions_with_holes_are_extruded_as_drawn(bench: Bench) -> None:
    sketch = bench.rectangle("40 mm", "30 mm")
    bench.do("DrawCircle", step=sketch, centre=[0, 0], radius=8, on="origin", diameter="20 mm")
    bench.do("DrawCircle", step=sketch, centre=[0, 0], radius=4, on="origin", diameter="10 mm")
    body, part = bench.extrude(sketch, "1 mm")
    from math import pi

    assert bench.volume(part) == pytest.approx(1200 - 100 * pi + 25 * pi, rel=1e-9)
    bench.do("EditStep", step=body, fields={"profile": {"rule": "regions", "step": sketch, "names": ["c1-c2"]}})
    assert bench.volume(part) == pytest.approx(75 * pi, rel=1e-9)
    bench.do("RemoveFromSketch", step=sketch, ids=["c2"])
    assert bench.states()[body] == "asks"
    assert "region picked is not there" in bench.message(body)


def faces_by_name(bench: Bench, part: str) -> set[tuple[str, ...]]:
    return set(bench.evaluate().parts[part].solid.names)


def test_names_survive_fifty_random_changes_of_values(feeder: Feeder) -> None:
    dice = random.Random(7)
    before = {p: faces_by_name(feeder, p) for p in (feeder.hopper, feeder.floor)}
    for _ in range(50):
        feeder.set("wall", f"{dice.uniform(1.0, 3.5):.3f} mm")
        feeder.set("inside", f"{dice.uniform(40, 140):.3f} mm")
        feeder.do("EditStep", step=feeder.rounding, fields={"radius": f"{dice.uniform(6, 14):.3f} mm"})
        assert set(feeder.states().values()) == {"ok"}
        assert {p: faces_by_name(feeder, p) for p in before} == before


def split_top(bench: Bench, offset: float, width: str = "4 mm") -> tuple[str, str, str]:
    """A block whose top is picked as one face to bevel all round, and a groove cut across it before that."""
    body, part = bench.extrude(bench.rectangle("40 mm", "30 mm"), "20 mm")
    state = bench.evaluate().parts[part]
    index = state.solid.find(f"{body}/end")[0]
    pick = {"name": f"{body}/end", "seen": seen_face(state.faces[index]).model_dump()}
    (bevel,) = bench.do(
        "AddStep",
        kind="chamfer",
        fields={"edges": {"rule": "edges_of_face", "part": part, "face": pick}, "distance": "0.4 mm"},
    )
    (plane,) = bench.do(
        "AddStep", kind="plane", after=body, fields={"base": {"rule": "base", "plane": "ground"}, "distance": "20 mm"}
    )
    (groove,) = bench.do("AddStep", kind="sketch", after=plane, fields={"plane": {"rule": "plane", "step": plane}})
    bench.do(
        "DrawRectangle", step=groove, first=[offset, 0], corner=[offset + 5, 25], on=None, width=width, height="50 mm"
    )
    bench.do(
        "AddStep",
        kind="extrude",
        after=groove,
        fields={
            "profile": {"rule": "regions", "step": groove},
            "direction": "down",
            "distance": "3 mm",
            "operation": "cut",
            "part": part,
        },
    )
    return part, bevel, body


def bevelled(bench: Bench, part: str, bevel: str) -> tuple[float, float]:
    """From where to where across the bevels reach."""
    state = bench.evaluate().parts[part]
    at = [f.at[0] for f, n in zip(state.faces, state.solid.names, strict=True) if n[0].startswith(f"{bevel}/chamfer")]
    return min(at), max(at)


def test_a_split_face_asks_when_either_half_could_be_meant(bench: Bench) -> None:
    part, bevel, _ = split_top(bench, 0)
    assert bench.states()[bevel] == "asks"
    assert "stands for 2 faces now" in bench.message(bevel)
    assert bench.volume(part) == pytest.approx(24000 - 4 * 30 * 3), "and bevels neither"


def test_a_split_face_is_found_when_one_piece_is_clearly_meant(bench: Bench) -> None:
    part, bevel, _ = split_top(bench, 17, "2 mm")
    assert bench.states()[bevel] == "ok"
    low, high = bevelled(bench, part, bevel)
    assert low < -19, "the large piece, up to its left edge"
    assert 15.5 < high < 16, "and to the groove on its right"


def test_pieces_of_a_split_face_are_told_apart_by_their_neighbours(bench: Bench) -> None:
    part, bevel, body = split_top(bench, 0)
    before = bench.evaluate(upto=bench.project.recipe[-2].id).parts[part]
    left = next(i for i in before.solid.find(f"{body}/end") if before.faces[i].at[0] < 0)
    pick = {"name": f"{body}/end", "seen": seen_face(before.faces[left]).model_dump()}
    bench.do("EditStep", step=bevel, fields={"edges": {"rule": "edges_of_face", "part": part, "face": pick}})
    assert bevelled(bench, part, bevel)[1] < -1.5
    groove = bench.project.recipe[3].id
    # the groove moves far to the left, so that the piece becomes much smaller than it was: still the left one
    bench.do("DragSketch", step=groove, id="p1", to=[-14, 0])
    assert bench.states()[bevel] == "ok"
    low, high = bevelled(bench, part, bevel)
    assert low < -19
    assert high < -15.5


def test_single_edges_follow_and_lost_ones_ask(bench: Bench) -> None:
    body, part = bench.extrude(bench.rectangle("40 mm", "30 mm"), "20 mm")
    state = bench.evaluate().parts[part]
    index = next(i for i, e in enumerate(state.edges) if e.name == f"{body}/side(l1)|{body}/side(l2)")
    pick = {"name": state.edges[index].name, "seen": seen_edge(state.edges[index]).model_dump()}
    (one,) = bench.do(
        "AddStep", kind="fillet", fields={"edges": {"rule": "edges", "part": part, "edges": [pick]}, "radius": "5 mm"}
    )
    from math import pi

    assert bench.volume(part) == pytest.approx(24000 - (1 - pi / 4) * 25 * 20, rel=1e-9)
    (again,) = bench.do("AddStep", kind="fillet", fields={"edges": {"rule": "edges", "part": part, "edges": [pick]}})
    assert bench.states()[again] == "asks"
    assert "not there any more" in bench.message(again)
    between = {
        "rule": "edges_between",
        "part": part,
        "first": {"name": f"{body}/side(l3)"},
        "second": {"name": f"{body}/side(l4)"},
    }
    bench.do("EditStep", step=again, fields={"edges": between})
    assert bench.states()[again] == "ok"
    assert one


def test_tangent_edges_come_along(bench: Bench) -> None:
    body, part = bench.extrude(bench.rectangle("40 mm", "30 mm"), "20 mm")
    bench.do(
        "AddStep",
        kind="fillet",
        fields={"edges": {"rule": "edges_along", "part": part, "direction": "up"}, "radius": "5 mm"},
    )
    edge = {"name": f"{body}/end|{body}/side(l1)"}
    (rim,) = bench.do(
        "AddStep", kind="chamfer", fields={"edges": {"rule": "edges", "part": part, "edges": [edge], "chain": True}}
    )
    names = {n[0] for n in bench.evaluate().parts[part].solid.names}
    assert sum(n.startswith(f"{rim}/chamfer") for n in names) == 8


def test_a_newer_edit_overtakes(feeder: Feeder) -> None:
    with pytest.raises(Superseded):
        feeder.evaluate(stop=lambda: True)


def test_a_barred_step_is_not_made(feeder: Feeder) -> None:
    started: list[tuple[str, str]] = []
    feeder.evaluate(started=lambda step, key: started.append((step, key)))
    key = dict(started)[feeder.hollow]
    from dovejoint.core.recipe import ResultCache

    result = evaluate(feeder.project, ResultCache(), barred={key: "It crashed."})
    assert next(r.message for r in result.steps if r.id == feeder.hollow) == "It crashed."
    assert feeder.hopper in result.parts


def test_recipe_reads_aloud(feeder: Feeder) -> None:
    said = [sentence(feeder.project, s) for s in feeder.project.recipe]
    assert said[0] == "Sketch outline on the ground"
    assert said[1] == "Extrude outline up by 70 mm as new part Hopper"
    assert said[2] == "Fillet the upright edges of Hopper by 9 mm"
    assert said[3] == "Shell, open at the foot of Hopper, with a wall of wall inward"
    assert said[4].startswith("Join new part Floor to the rim of Hopper with a plug-in lip, plate 2 mm thick")


def test_each_value_knows_the_steps_that_rest_on_it() -> None:
    """Through other values too, and no more once nothing uses it."""
    bench = Bench(new_project("Uses"))
    for name, formula in (("wall", "2 mm"), ("room", "3*wall"), ("spare", "1 mm")):
        bench.do("AddValue", name=name, formula=formula)
    (first, _) = bench.do("AddStep", kind="body", fields={"high": "room"}, new_part={"name": "A"})
    (second, _) = bench.do("AddStep", kind="body", fields={"high": "wall", "wide": "20*wall"}, new_part={"name": "B"})
    assert uses_of_values(bench.project) == {"wall": [first, second], "room": [first], "spare": []}
    bench.do("EditStep", step=first, fields={"high": "spare"})
    assert uses_of_values(bench.project)["spare"] == [first] and uses_of_values(bench.project)["room"] == []
