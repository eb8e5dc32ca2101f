"""Steps that go over into points, stretch, divide by lines, hollow unevenly, round over and wrap: volumes by hand, names, and what is refused."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench, flat

from dovejoint.core.document import new_project
from dovejoint.core.recipe import sentence

GROUND = {"rule": "base", "plane": "ground"}


def block(bench: Bench, wide: str = "40 mm", deep: str = "30 mm", high: str = "20 mm", **more: Any) -> list[str]:
    fields = {"wide": wide, "deep": deep, "high": high, **more}
    name = "Block" + " 2" * bool(bench.project.parts)
    return bench.do("AddStep", kind="body", fields=fields, new_part={"name": name})


def add(bench: Bench, kind: str, **fields: Any) -> str:
    return bench.do("AddStep", kind=kind, fields=fields)[0]


def regions(step: str) -> dict[str, str]:
    return {"rule": "regions", "step": step}


def test_a_loft_runs_out_into_a_point() -> None:
    """A pyramid over 12 × 8, and with a square of 6 on the way: a third of base times height; a prismatoid and a pyramid."""
    bench = Bench(new_project("Spike"))
    bench.do("AddValue", name="tall", formula="30 mm")
    base = bench.rectangle("12 mm", "8 mm")
    tip = add(bench, "point", how="at", first={"rule": "place_origin"}, base=GROUND, up="tall", right="2 mm")
    level = add(bench, "plane", base=GROUND, distance="12 mm")
    upper = bench.rectangle("6 mm", "6 mm", plane={"rule": "plane", "step": level})
    fields = {"profile": regions(base), "ends": "point", "tip": {"rule": "place_step", "step": tip}}
    step, part = bench.do("AddStep", kind="loft", fields=fields, new_part={"name": "Spike"})
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(96 * 30 / 3, rel=1e-9)
    state = bench.evaluate().parts[part]
    assert [f.kind for f in state.faces] == ["plane"] * 5 and state.box[1][2] == pytest.approx(30)
    assert len({f.names[0] for f in state.faces}) == 5
    bench.set("tall", "36 mm")
    assert bench.volume(part) == pytest.approx(96 * 36 / 3, rel=1e-9)
    bench.do("EditStep", step=step, fields={"more": [{"profile": regions(upper)}]})
    assert bench.message(step) == ""
    # the section halfway between 12 × 8 and 6 × 6 is 9 × 7
    assert bench.volume(part) == pytest.approx(12 * (96 + 4 * 63 + 36) / 6 + 36 * 24 / 3, rel=1e-9)
    state = bench.evaluate().parts[part]
    assert [f.kind for f in state.faces] == ["plane"] * 9 and len({f.names[0] for f in state.faces}) == 9
    assert sentence(bench.project, bench.project.step(step)).endswith("ending in point of step 2, as new part Spike")
    bench.do("EditStep", step=step, fields={"more": [], "tip": {"rule": "place_origin"}})
    assert "own plane" in bench.message(step)
    bench.do("EditStep", step=step, fields={"ends": "outline"})
    assert "goes over into" in bench.message(step)


def test_a_part_is_scaled_by_direction() -> None:
    """Sizes and volume by each factor; what is flat stays flat and its edges straight, names stay, and a bore becomes an ellipse and says so."""
    bench = Bench(new_project("Shrunk"))
    _, part = block(bench, right="10 mm")
    names = [f.names for f in bench.evaluate().parts[part].faces]
    step = add(bench, "scale", part=part, sizes="each", across="1.1", deep="1", up="0.9")
    state = bench.evaluate().parts[part]
    assert state.box == (pytest.approx((-11, -15, 0)), pytest.approx((33, 15, 18)))
    assert bench.volume(part) == pytest.approx(24000 * 0.99, rel=1e-9) and bench.message(step) == ""
    assert {f.kind for f in state.faces} == {"plane"} and {e.kind for e in state.edges} == {"line"}
    assert [f.names for f in state.faces] == names
    # an outline stands on a face of it, and edges of it are rounded
    bench.do("AddStep", kind="sketch", fields={"plane": flat(bench, part, names[0][0])})
    outline = bench.rectangle("8 mm", "8 mm", at=(20, 0))
    (cut,) = bench.do("AddStep", kind="extrude", fields={"profile": regions(outline), "direction": "both", "extent": "through", "operation": "cut", "part": part})  # fmt: skip
    assert bench.message(cut) == "" and bench.volume(part) == pytest.approx((44 * 30 - 64) * 18, rel=1e-9)
    assert (
        sentence(bench.project, bench.project.step(step)) == "Scale Block by direction: 1.1 across, 1 deep and 0.9 up"
    )
    round_step, disc = bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "20 mm", "high": "10 mm", "right": "80 mm"}, new_part={"name": "Disc"})  # fmt: skip
    oval = add(bench, "scale", part=disc, sizes="each", across="1.2", deep="1", up="1")
    assert bench.volume(disc) == pytest.approx(math.pi * 120 * 10, rel=1e-5)
    assert "free ones" in bench.message(oval)
    for value in ("0", "-1", "1e5"):
        bench.do("EditStep", step=oval, fields={"across": value})
        assert bench.message(oval).startswith(("The factor", "A part can"))


def test_several_parts_move_as_one() -> None:
    bench = Bench(new_project("Group"))
    _, one = block(bench)
    body, two = block(bench, right="60 mm", high="8 mm")
    step = add(bench, "move", part=one, also=[{"part": two}], across="5 mm", up="-3 mm")
    found = bench.evaluate().parts
    assert found[one].box[0] == pytest.approx((-15, -15, -3)) and found[two].box[0] == pytest.approx((45, -15, -3))
    assert sentence(bench.project, bench.project.step(step)).startswith("Move Block and Block 2 by 5 mm to the right")
    # turned about one axis, and brought onto a plane by a face of the second
    bench.do("EditStep", step=step, fields={"how": "turn", "angle": "180 deg"})
    found = bench.evaluate().parts
    assert found[two].box[0] == pytest.approx((-80, -15, 0)) and found[one].box[0] == pytest.approx((-20, -15, 0))
    face = flat(bench, two, f"{body}/end")
    bench.do("EditStep", step=step, fields={"how": "onto", "face": face, "onto": GROUND, "facing": "along"})
    found = bench.evaluate().parts
    assert found[two].box[1][2] == pytest.approx(0) and found[one].box[0][2] == pytest.approx(-8)
    bench.do("EditStep", step=step, fields={"onto": face})
    assert "cannot come to lie on itself" in bench.message(step)
    bench.do("EditStep", step=step, fields={"how": "by", "also": [{"part": one}]})
    assert "twice" in bench.message(step)


def test_a_shell_with_walls_of_their_own_and_of_one_lump() -> None:
    """A block open at the top, 2 all round, its floor 5 and its left wall 3: what is left is the block less its hollow. Of two lumps one is hollowed."""
    bench = Bench(new_project("Box"))
    body, part = block(bench)

    def faces(*names: str) -> dict[str, Any]:
        return {"rule": "faces", "part": part, "faces": [{"name": f"{body}/{n}"} for n in names]}

    step = add(bench, "shell", open=faces("end"), more=[{"faces": faces("start"), "wall": "5 mm"}, {"faces": faces("side(left)"), "wall": "3 mm"}])  # fmt: skip
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(24000 - 35 * 26 * 15, rel=1e-9)
    names = {f.names[0] for f in bench.evaluate().parts[part].faces}
    assert {f"{step}/inner({body}/start)", f"{step}/inner({body}/side(left))", f"{step}/rim({body}/end)"} <= names
    assert sentence(bench.project, bench.project.step(step)).count(", and of ") == 2
    bench.do("EditStep", step=step, fields={"side": "outward"})
    assert bench.volume(part) == pytest.approx((40 + 5) * (30 + 4) * (20 + 5) - 24000, rel=1e-9)
    for more, word in (
        ([{"faces": faces("end"), "wall": "5 mm"}], "open or has a wall"),
        ([{"faces": faces("start"), "wall": "5 mm"}, {"faces": faces("start"), "wall": "6 mm"}], "two walls"),
        ([{"faces": faces("start"), "wall": "0 mm"}], "above zero"),
        ([{"faces": faces("start"), "wall": "25 mm"}], "do not fit beside"),
    ):
        bench.do("EditStep", step=step, fields={"side": "inward", "more": more})
        assert word in bench.message(step)
    other = Bench(new_project("Two"))
    _, two = block(other)
    slot = add(other, "body", wide="4 mm", deep="50 mm", high="30 mm", operation="cut", part=two)
    assert other.message(slot).startswith("The part falls into 2")
    found = other.evaluate().parts[two].faces
    right = next(f.names[0] for f in found if f.normal[0] > 0.9 and f.at[0] > 10)
    step = add(other, "shell", open={"rule": "faces", "part": two, "faces": [{"name": right}]})
    # both lumps are 18 × 30 × 20
    assert other.message(step) == "" and other.volume(two) == pytest.approx(24000 - 4 * 600 - 16 * 26 * 16, rel=1e-9)


def test_a_part_is_divided_along_lines() -> None:
    """A block of 40 × 30 × 20 seen from above: a kinked line from the left edge to the right, then an arc, then all round; both sides make up the whole."""
    bench = Bench(new_project("Puzzle"))
    body, part = block(bench)
    (lines,) = bench.do("AddStep", kind="sketch", fields={})
    first = bench.do("DrawLine", step=lines, start={"at": [-10, -5]}, end={"at": [0, 5]})
    sketch: Any = bench.project.step(lines)
    end = next(c for c in sketch.fields["sketch"]["curves"] if c["id"] in first)["points"][1]
    bench.do("DrawLine", step=lines, start={"at": [0, 5], "on": end}, end={"at": [10, 5]})
    fields = {"part": part, "by": "lines", "lines": {"rule": "path_sketch", "step": lines}, "keep": "both"}
    step, rest = bench.do("AddStep", kind="divide", fields=fields, new_part={"name": "Rest"})
    assert bench.message(step) == ""
    # the first line runs on to (−20, −15): left of the chain, x from −20 to 0 is a triangle of 20 × 20 over it and 10 more, then 20 × 10
    left = (20 * 20 / 2 + 20 * 10 + 20 * 10) * 20
    assert bench.volume(part) == pytest.approx(left, rel=1e-9)
    assert bench.volume(rest) == pytest.approx(24000 - left, rel=1e-9)
    names = [{f.names[0] for f in bench.evaluate().parts[p].faces if f.names[0].startswith(step)} for p in (part, rest)]
    assert names[0] == names[1] and len(names[0]) == 2, "no seam where a line runs on"
    bench.do("EditStep", step=step, fields={"keep": "under"})
    assert bench.volume(part) == pytest.approx(24000 - left, rel=1e-9)
    said = sentence(bench.project, bench.project.step(step))
    assert said == "Divide Block along the lines of outline of step 2, keeping the other side"


@pytest.mark.parametrize(
    ("fields", "left"),
    [
        # all round: what lies within
        ({"do": "DrawCircle", "centre": [4, 3], "radius": 6}, 36 * math.pi),
        # a half circle whose ends run on straight, downwards: a strip of 20 with a round end
        ({"do": "DrawArcAbout", "centre": {"at": [0, 0]}, "start": {"at": [10, 0]}, "towards": [-10, 0]}, 20 * 15 + 50 * math.pi),
    ],
)  # fmt: skip
def test_a_part_is_divided_along_curves(fields: dict[str, Any], left: float) -> None:
    bench = Bench(new_project("Puzzle"))
    _, part = block(bench)
    (lines,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do(fields["do"], step=lines, **{k: v for k, v in fields.items() if k != "do"})
    pick = {"part": part, "by": "lines", "lines": {"rule": "path_sketch", "step": lines}, "keep": "both"}
    step, rest = bench.do("AddStep", kind="divide", fields=pick, new_part={"name": "Rest"})
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(left * 20, rel=1e-9)
    assert bench.volume(rest) == pytest.approx(24000 - left * 20, rel=1e-9)


def test_lines_that_divide_nothing_say_so() -> None:
    bench = Bench(new_project("Puzzle"))
    _, part = block(bench)
    for drawn, word in (
        ([], "There is no line"),
        ([([60, 0], [60, 10])], "do not go through"),
        ([([-5, 0], [5, 0]), ([-5, 8], [5, 8])], "one such chain"),
        ([([-5, 0], [5, 0]), ([0, -5], [0, 5])], "one such chain"),
    ):
        (lines,) = bench.do("AddStep", kind="sketch", fields={})
        for start, end in drawn:
            bench.do("DrawLine", step=lines, start={"at": start}, end={"at": end})
        step = add(bench, "divide", part=part, by="lines", lines={"rule": "path_sketch", "step": lines})
        assert word in bench.message(step)
        bench.do("DeleteStep", step=step)
