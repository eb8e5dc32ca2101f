"""Names of faces: a parsed type, of bounded length, by neighbours instead of counts; and what a person calls them."""

from __future__ import annotations

import re

from building import Bench, Feeder
from hypothesis import given
from hypothesis import strategies as st

from dovejoint.core import solid as kernel
from dovejoint.core.document import new_project
from dovejoint.core.document.picks import SeenFace
from dovejoint.core.formats.report import build_report
from dovejoint.core.recipe.labels import edge_labels, face_labels, of_part
from dovejoint.core.recipe.names import find_face, seen_edge, seen_face
from dovejoint.core.solid import FaceInfo
from dovejoint.core.solid.facename import LONGEST, FaceName, edge_parts, parse, renumbered, short, steps_in

ids = st.integers(1, 999).map(lambda n: f"s{n}")
roles = st.sampled_from(["side", "fillet", "inner", "rim", "lip-inner", "new"])
leaves = st.integers(1, 50).map(lambda n: f"l{n}") | st.builds(FaceName, ids, roles)
names = st.recursive(
    st.builds(FaceName, ids, roles, st.just(()), st.just("")),
    lambda inner: st.builds(
        FaceName, ids, roles, st.lists(inner | leaves, min_size=1, max_size=2).map(lambda p: tuple(sorted(p, key=str)))
    ),
    max_leaves=40,
)


@given(names)
def test_names_are_read_as_they_are_written(name: FaceName) -> None:
    assert str(parse(str(name))) == str(name)


@given(names)
def test_short_names_are_bounded_and_settled(name: FaceName) -> None:
    """However a name came to be, its short form is the same: put together from short pieces or shortened at last."""
    whole = short(str(name))
    assert len(whole) <= LONGEST + 80
    assert short(whole) == whole
    pieces = tuple(short(str(p)) for p in name.parts)
    rebuilt = f"{name.step}/{name.role}" + (f"({'|'.join(sorted(pieces))})" if pieces else "")
    assert short(rebuilt) == whole


def test_names_do_not_grow_with_finishing_steps() -> None:
    name = "s1/side(l1)"
    for k in range(2, 40):
        name = short(f"s{k}/fillet({name}|{name})")
    assert len(name) <= LONGEST and "s39" in steps_in(name)
    assert renumbered("s3/side(l1)", {"s3": "s8"}) == "s8/side(l1)"
    assert "~" in name and renumbered(name, {"s1": "s8"}) is None, "what a digest hides cannot be said anew"
    assert edge_parts("s1/end|s2/fillet(s1/a|s1/b)") == ["s1/end", "s2/fillet(s1/a|s1/b)"]


def test_a_name_written_in_full_finds_the_face_with_the_short_one() -> None:
    bench = Feeder()
    state = bench.evaluate().parts[bench.floor]
    full = (
        f"{bench.lip}/lip({bench.hollow}/inner({bench.rounding}/fillet({bench.body}/side(l1)|{bench.body}/side(l2))))"
    )
    assert state.faces[find_face(state, SeenFace(name=full))].names[0] == full
    packed = kernel.NamedSolid.unpack(state.solid.pack())
    assert packed.names == state.solid.names and abs(packed.volume_mm3 - state.solid.volume_mm3) < 1e-6


def test_faces_that_nobody_claims_go_by_their_neighbours() -> None:
    """Rounding three edges that meet makes a ball's corner: named by what lies around it, not by a count."""
    bench = Bench(new_project("Corners"))
    _, block = bench.extrude(bench.rectangle("20 mm", "30 mm"), "10 mm", "Block")
    every = [{"rule": "edges_along", "part": block, "direction": way} for way in ("up", "across", "deep")]
    bench.do(
        "AddStep", kind="fillet",
        fields={"edges": every[0], "radius": "2 mm", "more": [{"edges": e, "radius": "2 mm"} for e in every[1:]]},
    )  # fmt: skip
    corners = [f for f in bench.evaluate().parts[block].faces if f.kind == "sphere"]
    assert len(corners) == 8 and len({f.names[0] for f in corners}) == 8
    assert not any(re.search(r"\.\d+$", f.names[0]) for f in corners)


def test_each_thing_has_a_name_of_its_own_that_a_person_would_say() -> None:
    feeder = Feeder()
    hopper, floor = (feeder.evaluate().parts[p] for p in (feeder.hopper, feeder.floor))
    for state in (hopper, floor):
        assert len(set(state.face_labels)) == len(state.faces)
        assert len(set(state.edge_labels)) == len(state.edges)
        assert not any("number" in label for label in state.face_labels)

    def called(state: object, label: str) -> FaceInfo:
        faces: list[FaceInfo] = state.faces  # type: ignore[attr-defined]
        return faces[state.face_labels.index(label)]  # type: ignore[attr-defined]

    # a wall is called after where it stands, whichever way its side looks
    inner = called(hopper, "inner side of the back wall")
    assert inner.at[1] > 20 and inner.normal[1] < -0.9
    assert called(hopper, "back").at[1] > inner.at[1]
    assert called(floor, "back of the lip").normal[1] > 0.9
    gap = inner.at[1] - called(floor, "back of the lip").at[1]
    assert 0.2 < gap < 0.5, "so that lip and wall of one name face each other over the gap"
    assert of_part("bore, Ø 5", "Hub") == "bore of Hub, Ø 5"
    assert of_part("bore, Ø 25.4, upper left", "Hub", "in") == "bore of Hub, Ø 1 in, upper left"
    assert (
        of_part("edge between front and top, 12.7 long", "Hub", "in")
        == "edge between front and top of Hub, 0.5 in long"
    )
    assert of_part("tapered side, number 2", "Hub", "in") == "tapered side of Hub, number 2"


def test_openings_are_told_from_walls() -> None:
    """A slot of 8 × 4 in the right half of a plate: its sides are those of an opening, whichever half it lies in."""
    bench = Bench(new_project("Plate"))
    _, plate = bench.extrude(bench.rectangle("60 mm", "40 mm"), "5 mm", "Plate")
    slot = bench.rectangle("8 mm", "4 mm", at=(15, 5))
    bench.extrude(slot, "5 mm", plate, "cut")
    state = bench.evaluate().parts[plate]
    sides = [label for label in state.face_labels if "opening" in label]
    assert sorted(sides) == [f"{side} side of the opening" for side in ("back", "front", "left", "right")]
    left = state.faces[state.face_labels.index("left side of the opening")]
    assert left.normal[0] > 0.9, "the left side of an opening looks to the right"
    assert face_labels(state.faces, *state.box) == state.face_labels
    assert edge_labels(state.edges, state.face_labels) == state.edge_labels


def test_a_pocket_with_rounded_corners_has_a_floor_and_no_bores() -> None:
    bench = Bench(new_project("Pocket"))
    _, part = bench.extrude(bench.rectangle("40 mm", "30 mm"), "10 mm", "Block")
    sketch = bench.rectangle("20 mm", "12 mm")
    step = bench.project.step(sketch)
    assert step is not None
    corners = [p["id"] for p in step.fields["sketch"]["points"] if abs(p["x"]) > 1]
    bench.do("RoundSketch", step=sketch, corners=corners, radius="3 mm")
    bench.extrude(sketch, "4 mm", part, "cut")
    labels = bench.evaluate().parts[part].face_labels
    assert sum(label.startswith("inner rounding, r 3") for label in labels) == 4
    assert "floor of the opening" in labels and not any(label.startswith("bore") for label in labels)


def test_sizes_within_a_sentence_are_those_of_the_model_as_it_is() -> None:
    """A pick is called by what it was when it was pointed at; its size follows, also on an edge, and where nothing changed nothing is said anew."""
    bench = Bench(new_project("Sizes"))
    peg, part = bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "16 mm", "high": "10 mm"}, new_part={"name": "Peg"})  # fmt: skip
    state = bench.evaluate().parts[part]
    k = next(i for i, e in enumerate(state.edges) if e.kind == "circle" and e.at[2] > 9)
    rim = {"name": state.edges[k].name, "seen": seen_edge(state.edges[k], state.edge_labels[k]).model_dump()}
    i = next(i for i, f in enumerate(state.faces) if f.kind == "cylinder")
    side = {"name": state.faces[i].names[0], "seen": seen_face(state.faces[i], state.face_labels[i]).model_dump()}
    (push,) = bench.do("AddStep", kind="push", fields={"faces": {"rule": "faces", "part": part, "faces": [side]}, "distance": "1 mm"})  # fmt: skip
    (fillet,) = bench.do("AddStep", kind="fillet", fields={"edges": {"rule": "edges", "part": part, "edges": [rim]}, "radius": "0.5 mm"})  # fmt: skip

    def said(step: str) -> tuple[str, dict[str, str]]:
        row = next(r for r in build_report(bench.project, bench.evaluate(), [])["steps"] if r["id"] == step)
        assert row["state"] == "ok", row["message"]
        return row["sentence"], row["called"]

    # the edge was pointed at before the face was pushed
    assert said(push)[1] == {} and "round side of Peg, Ø 16" in said(push)[0]
    assert "Ø 18" in said(fillet)[0]
    bench.do("EditStep", step=peg, fields={"across": "19 mm"})
    assert said(push)[1] == {"faces": "the round side of Peg, Ø 19"}
    assert "Ø 21" in said(fillet)[0] and "Ø 16" not in said(fillet)[0]
    bench.do("EditStep", step=peg, fields={"across": "16 mm"})
    assert said(push)[1] == {}
