"""Part with part, and mirror: volumes and distances by hand, names that stay, and what cannot be done."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench, flat

from dovejoint.core.document import new_project
from dovejoint.core.errors import DoveError
from dovejoint.core.formats.report import build_report
from dovejoint.core.recipe import sentence
from dovejoint.core.solid import exact_distance, grown


class Two(Bench):
    """A block of 40 × 30 × 20, and a peg that stands through it: 10 × 8, or round."""

    def __init__(self, radius: float = 0.0, tall: str = "30 mm") -> None:
        super().__init__(new_project("Two"))
        self.do("AddValue", name="wide", formula="10 mm")
        self.body, self.block = self.extrude(self.rectangle("40 mm", "30 mm"), "20 mm", "Block")
        if radius:
            (outline,) = self.do("AddStep", kind="sketch", fields={})
            self.do("DrawCircle", step=outline, centre=[0, 0], on="origin", radius=radius)
        else:
            outline = self.rectangle("wide", "8 mm")
        self.stem, self.peg = self.extrude(outline, tall, "Peg")

    def with_other(self, **fields: Any) -> str:
        (step,) = self.do("AddStep", kind="between", fields={"part": self.block, "other": self.peg, **fields})
        return str(step)


def apart(bench: Bench, first: str, second: str) -> float:
    parts = bench.evaluate().parts
    return exact_distance(parts[first].solid.shape, parts[second].solid.shape)[0]


def test_a_cut_leaves_the_gap_all_round_and_the_other_part_alone() -> None:
    bench = Two(tall="12 mm")
    before = bench.volume(bench.peg)
    step = bench.with_other(gap="0.2 mm")
    assert bench.message(step) == ""
    # the peg stands on the ground, as the block does: the pocket is 0.2 wider a side, and 0.2 higher
    assert bench.volume(bench.block) == pytest.approx(40 * 30 * 20 - 10.4 * 8.4 * 12.2, rel=1e-9)
    assert bench.volume(bench.peg) == before
    assert apart(bench, bench.block, bench.peg) == pytest.approx(0.2, abs=1e-6)
    assert sentence(bench.project, bench.project.step(step)) == "Cut Block with Peg, leaving 0.2 mm free all round"
    # an early value changes, and with it the pocket; its faces keep their names
    names = sorted(n for f in bench.evaluate().parts[bench.block].faces for n in f.names)
    bench.set("wide", "14 mm")
    assert bench.volume(bench.block) == pytest.approx(40 * 30 * 20 - 14.4 * 8.4 * 12.2, rel=1e-9)
    assert sorted(n for f in bench.evaluate().parts[bench.block].faces for n in f.names) == names
    assert sum(n.startswith(f"{step}/grown(") for n in names) == 5


def test_a_round_peg_with_a_gap_and_without() -> None:
    for gap in (0.0, 0.35):
        bench = Two(radius=6)
        bench.with_other(gap=f"{gap} mm")
        assert bench.volume(bench.block) == pytest.approx(40 * 30 * 20 - math.pi * (6 + gap) ** 2 * 20, rel=1e-9)
        assert apart(bench, bench.block, bench.peg) == pytest.approx(gap, abs=1e-6)


def test_adding_and_keeping_what_lies_in_both() -> None:
    bench = Two(radius=6)
    step = bench.with_other(work="add")
    assert bench.volume(bench.block) == pytest.approx(40 * 30 * 20 + math.pi * 36 * 10, rel=1e-9)
    assert sentence(bench.project, bench.project.step(step)) == "Add to Block the shape of Peg"
    bench.do("EditStep", step=step, fields={"work": "overlap"})
    assert bench.volume(bench.block) == pytest.approx(math.pi * 36 * 20, rel=1e-9)
    assert sentence(bench.project, bench.project.step(step)) == "Keep of Block what lies in Peg"


def test_grown_solids_keep_flat_faces_flat_and_sharp_edges_sharp() -> None:
    """A hollow box grown by 0.5: outside 41 × 31 × 21, its pocket a millimetre narrower each way and half a millimetre higher up."""
    bench = Bench(new_project("Box"))
    body, box = bench.extrude(bench.rectangle("40 mm", "30 mm"), "20 mm", "Box")
    bench.do(
        "AddStep",
        kind="shell",
        fields={"open": {"rule": "faces", "part": box, "faces": [{"name": f"{body}/end"}]}, "wall": "3 mm"},
    )
    found = grown(bench.evaluate().parts[box].solid, 0.5, "s9")
    assert found.valid and found.volume_mm3 == pytest.approx(41 * 31 * 21 - 33 * 23 * 17, rel=1e-6)


@pytest.mark.parametrize(
    ("fields", "word"),
    [
        ({"other": "block"}, "nothing to do with itself"),
        ({"gap": "-0.1 mm"}, "zero or more"),
        ({"gap": "200 mm"}, "takes the whole part away"),
        ({"gap": "5 deg"}, "angle"),
    ],
)
def test_what_cannot_be_done_says_why(fields: dict[str, str], word: str) -> None:
    bench = Two()
    fields = {k: bench.block if v == "block" else v for k, v in fields.items()}
    whole = bench.volume(bench.block)
    step = bench.with_other(**fields)
    message = bench.message(step)
    assert word in message, message
    assert bench.volume(bench.block) == whole, "nothing is lost"


def test_nonsense_is_not_taken() -> None:
    bench = Two()
    for fields, word in (({"other": "p99"}, "not there"), ({"work": "melt"}, "work")):
        before = bench.project
        with pytest.raises(DoveError, match=word):
            bench.with_other(**fields)
        assert bench.project is before


def test_parts_that_do_not_meet_are_not_cut() -> None:
    bench = Two()
    (outline,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawCircle", step=outline, centre=[60, 0], radius=5)
    _, far = bench.extrude(outline, "5 mm", "Far")
    assert "meets no material" in bench.message(bench.with_other(other=far))


@pytest.mark.parametrize(
    ("plane", "at"), [("ground", (3.5, 6.0, -2.5)), ("front", (3.5, -6.0, 2.5)), ("side", (-3.5, 6.0, 2.5))]
)
def test_a_mirror_image_is_where_it_must_be(plane: str, at: tuple[float, float, float]) -> None:
    """A wedge-free block of 7 × 4 × 5 with its middle at (3.5, 6, 2.5)."""
    bench = Bench(new_project("Mirror"))
    (outline,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawRectangle", step=outline, first=[3.5, 6], corner=[7, 8])
    _, part = bench.extrude(outline, "5 mm", "Block")
    step, twin = bench.do(
        "AddStep", kind="mirror", fields={"of": part, "plane": {"rule": "base", "plane": plane}}, new_part={"name": "Twin"}
    )  # fmt: skip
    assert bench.message(step) == ""
    state = bench.evaluate().parts[twin]
    assert state.info.centre_mm == pytest.approx(at) and state.info.closed and state.info.valid
    assert bench.volume(twin) == pytest.approx(140) == bench.volume(part)
    assert all(n.startswith(f"{step}/mirror(") for f in state.faces for n in f.names)


def test_a_half_is_made_whole_by_its_mirror_image() -> None:
    """Half of a bracket: an L of 10 × 10 with a leg of 3, 6 tall; joined across its flat end it is twice as much, one lump, and its
    level faces are one."""
    bench = Bench(new_project("Half"))
    (outline,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawRectangle", step=outline, first=[5, 1.5], corner=[10, 3])
    bench.do("DrawRectangle", step=outline, first=[8.5, 5], corner=[10, 10])
    body, part = bench.extrude(outline, "6 mm", "Bracket")
    half = bench.volume(part)
    end = next(f.names[0] for f in bench.evaluate().parts[part].faces if f.normal[0] < -0.9 and abs(f.at[0]) < 1e-6)
    (step,) = bench.do(
        "AddStep", kind="mirror", fields={"of": part, "plane": flat(bench, part, end), "operation": "add", "part": part}
    )
    state = bench.evaluate().parts[part]
    assert bench.message(step) == "" and state.info.lumps == 1
    assert state.solid.volume_mm3 == pytest.approx(2 * half)
    tops = [f for f in state.faces if f.normal[2] > 0.9]
    assert len(tops) == 1, "what lies level is joined"
    assert sentence(bench.project, bench.project.step(step)).startswith("Mirror Bracket across")
    # it follows what it was made of
    bench.do("EditStep", step=body, fields={"distance": "9 mm"})
    assert bench.volume(part) == pytest.approx(3 * half)


class Rack(Bench):
    """A plate of 100 × 20 × 4 round the middle, and a tooth of 6 × 20 × 10 at its left end."""

    def __init__(self) -> None:
        super().__init__(new_project("Rack"))
        self.do("AddValue", name="teeth", formula="4")
        self.base, self.plate = self.extrude(self.rectangle("100 mm", "20 mm"), "4 mm", "Plate")
        self.stem, self.tooth = self.extrude(self.rectangle("6 mm", "20 mm", at=(-40, 0)), "10 mm", "Tooth")

    def repeat(self, **fields: Any) -> str:
        axis = {"rule": "axis_base", "axis": "across"}
        given = {"of": self.tooth, "part": self.plate, "axis": axis, "count": "teeth", "pitch": "12 mm", **fields}
        (step,) = self.do("AddStep", kind="repeat", fields=given)
        return str(step)


def test_a_row_of_copies_is_counted_by_a_formula() -> None:
    bench = Rack()
    step = bench.repeat()
    assert bench.message(step) == ""
    # each tooth stands out over the plate by 6, 6 × 20 wide and deep
    assert bench.volume(bench.plate) == pytest.approx(100 * 20 * 4 + 4 * 6 * 20 * 6, rel=1e-9)
    assert bench.volume(bench.tooth) == pytest.approx(6 * 20 * 10), "what is copied stays"
    said = sentence(bench.project, bench.project.step(step))
    assert said == "Repeat Tooth, teeth in all, in a row along the left-to-right axis every 12 mm and add them to Plate"
    names = {n for f in bench.evaluate().parts[bench.plate].faces for n in f.names if n.startswith(step)}
    bench.set("teeth", "6")
    assert bench.volume(bench.plate) == pytest.approx(100 * 20 * 4 + 6 * 6 * 20 * 6, rel=1e-9)
    assert names < {n for f in bench.evaluate().parts[bench.plate].faces for n in f.names}, "old teeth keep their names"
    # cut instead: as many notches, the first one too
    bench.do("EditStep", step=step, fields={"operation": "cut"})
    assert bench.volume(bench.plate) == pytest.approx(100 * 20 * 4 - 6 * 6 * 20 * 4, rel=1e-9)


def test_copies_round_an_axis() -> None:
    """Six pins of Ø 4 on a circle of 30 round a hub of Ø 12, 5 tall, are holes evenly round; three of them by 45° are not."""
    for how, count, more in (("round", 6, {}), ("turned", 3, {"angle": "45 deg"})):
        bench = Bench(new_project("Ring"))
        parts = []
        for name, x, radius in (("Disc", 0.0, 20.0), ("Pin", 15.0, 2.0)):
            (outline,) = bench.do("AddStep", kind="sketch", fields={})
            bench.do("DrawCircle", step=outline, centre=[x, 0], radius=radius)
            parts.append(bench.extrude(outline, "5 mm", name)[1])
        fields = {
            "of": parts[1], "part": parts[0], "axis": {"rule": "axis_base", "axis": "up"}, "count": str(count),
            "how": how, "operation": "cut", **more,
        }  # fmt: skip
        (step,) = bench.do("AddStep", kind="repeat", fields=fields)
        assert bench.message(step) == ""
        state = bench.evaluate().parts[parts[0]]
        assert state.solid.volume_mm3 == pytest.approx(math.pi * (400 - count * 4) * 5, rel=1e-9)
        bores = sorted(
            round(math.degrees(math.atan2(f.at[1], f.at[0]))) % 360
            for f in state.faces
            if f.kind == "cylinder" and f.radius_mm == pytest.approx(2)
        )
        assert len(bores) == count
        # a point on each bore's wall lies within its radius of the middle: 2 of 15 is less than 8 degrees
        for angle, want in zip(bores, [k * (60 if how == "round" else 45) for k in range(count)], strict=True):
            assert abs((angle - want + 180) % 360 - 180) < 8


def test_a_part_repeated_into_itself() -> None:
    bench = Rack()
    step = bench.repeat(part=bench.tooth, pitch="5 mm", count="3")
    # 6 wide every 5: they run into one another, 16 long in all
    assert bench.message(step) == "" and bench.volume(bench.tooth) == pytest.approx(16 * 20 * 10)


@pytest.mark.parametrize(
    ("fields", "word"),
    [
        ({"count": "2.5"}, "whole number"),
        ({"count": "1"}, "two or more"),
        ({"count": "1000"}, "at most 400"),
        ({"pitch": "0 mm"}, "all one"),
        ({"how": "turned", "angle": "360 deg"}, "all one"),
        ({"how": "turned", "angle": "130 deg"}, "more than once round"),
        ({"part": "tooth", "operation": "cut"}, "pick another part"),
    ],
)
def test_what_cannot_be_repeated(fields: dict[str, str], word: str) -> None:
    bench = Rack()
    before = bench.volume(bench.plate)
    fields = {k: bench.tooth if v == "tooth" else v for k, v in fields.items()}
    assert word in bench.message(bench.repeat(**fields))
    assert bench.volume(bench.plate) == before


def divided(keep: str, height: str = "8 mm") -> tuple[Bench, str, str]:
    """A round post of Ø 20, 30 tall, divided by a plane over the ground."""
    bench = Bench(new_project("Post"))
    (outline,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawCircle", step=outline, centre=[3, 4], radius=10)
    _, part = bench.extrude(outline, "30 mm", "Post")
    (level,) = bench.do(
        "AddStep", kind="plane", fields={"base": {"rule": "base", "plane": "ground"}, "distance": height}
    )
    new = {"new_part": {"name": "Foot"}} if keep == "both" else {}
    step = bench.do(
        "AddStep", kind="divide", fields={"part": part, "plane": {"rule": "plane", "step": level}, "keep": keep}, **new
    )[0]  # fmt: skip
    return bench, part, str(step)


@pytest.mark.parametrize(("keep", "tall"), [("over", 22), ("under", 8), ("both", 22)])
def test_a_part_is_divided_by_a_plane(keep: str, tall: float) -> None:
    bench, part, step = divided(keep)
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(math.pi * 100 * tall, rel=1e-9)
    assert any(f"{step}/divide" in f.names for f in bench.evaluate().parts[part].faces)
    names = [p.name for p in bench.project.parts]
    assert names == (["Post", "Foot"] if keep == "both" else ["Post"])
    if keep == "both":
        foot = bench.project.parts[1].id
        assert bench.volume(foot) == pytest.approx(math.pi * 100 * 8, rel=1e-9)
        assert apart(bench, part, foot) == pytest.approx(0, abs=1e-7), "nothing is lost between them"
        level = bench.project.recipe[-2].id
        bench.do("EditStep", step=level, fields={"distance": "11 mm"})
        assert bench.volume(foot) == pytest.approx(math.pi * 100 * 11, rel=1e-9)


@pytest.mark.parametrize(
    ("height", "words"),
    [("30 mm", "part, so"), ("0 mm", "part, so"), ("-4 mm", "begins 4 mm from it"), ("90 mm", "begins 60 mm from it")],
)
def test_a_plane_beside_the_part_divides_nothing(height: str, words: str) -> None:
    bench, part, step = divided("over", height)
    assert "does not go through the part" in bench.message(step) and words in bench.message(step)
    assert bench.volume(part) == pytest.approx(math.pi * 100 * 30)


def test_what_is_used_up_is_gone_after_it_and_there_before() -> None:
    """A peg added to a plate and used up: one part is left, with both volumes; earlier in the recipe, and with the step off, both are there."""
    bench = Bench(new_project("Used up"))
    _, plate = bench.do("AddStep", kind="body", fields={"wide": "40 mm", "deep": "30 mm", "high": "5 mm"}, new_part={"name": "Plate"})  # fmt: skip
    _, peg = bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "10 mm", "high": "20 mm"}, new_part={"name": "Peg"})  # fmt: skip
    (joined,) = bench.do(
        "AddStep", kind="between", fields={"work": "add", "part": plate, "other": peg, "after": "goes"}
    )
    evaluation = bench.evaluate()
    assert list(evaluation.parts) == [plate] and evaluation.gone == {peg: joined}
    assert bench.volume(plate) == pytest.approx(40 * 30 * 5 + math.pi * 25 * 15)
    (late,) = bench.do("AddStep", kind="between", fields={"work": "cut", "part": plate, "other": peg})
    assert "used up" in bench.message(late)
    # before that step it may still be worked with
    bench.do("MoveStep", step=late, after=bench.project.recipe[1].id)
    assert bench.message(late) == "" and bench.volume(plate) == pytest.approx(40 * 30 * 5 + math.pi * 25 * 15)
    bench.do("SwitchStep", step=joined, off=True)
    evaluation = bench.evaluate()
    assert set(evaluation.parts) == {plate, peg} and evaluation.gone == {}
    bench.do("SwitchStep", step=joined, off=False)
    report = build_report(bench.project, bench.evaluate(), [])
    assert report["gone"] == {peg: joined} and [p["id"] for p in report["parts"]] == [plate] and report["ok"]
    assert sentence(bench.project, bench.project.step(joined)).endswith("which is used up")


def test_what_cannot_grow_far_away_is_not_in_the_way() -> None:
    """A peg that touches an edge of a rail from within keeps the whole rail from being grown; round a block at its other end it is, by hand."""
    bench = Bench(new_project("Rail"))
    _, rail = bench.do("AddStep", kind="body", fields={"wide": "80 mm", "deep": "12 mm", "high": "10 mm"}, new_part={"name": "Rail"})  # fmt: skip
    front = {"rule": "fixed", "origin": [30, -6, 7], "x": [1, 0, 0], "y": [0, 0, 1]}
    bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "6 mm", "high": "6 mm", "on": front, "operation": "add", "part": rail})  # fmt: skip
    with pytest.raises(DoveError, match="cannot be grown"):
        grown(bench.evaluate().parts[rail].solid, 0.3, "s9")
    below = {"rule": "fixed", "origin": [-25, 0, -4], "x": [1, 0, 0], "y": [0, 1, 0]}
    _, block = bench.do("AddStep", kind="body", fields={"wide": "16 mm", "deep": "20 mm", "high": "18 mm", "on": below}, new_part={"name": "Block"})  # fmt: skip
    bench.do("AddStep", kind="between", fields={"part": block, "other": rail, "gap": "0.3 mm"})
    assert bench.volume(block) == pytest.approx(16 * (20 * 18 - 12.6 * 10.6), rel=1e-9)
    assert apart(bench, block, rail) == pytest.approx(0.3, abs=1e-6)
