"""Steps that go over into points, stretch, divide by lines, hollow unevenly, round over and wrap: volumes by hand, names, and what is refused."""

from __future__ import annotations

import math
import re
from typing import Any

import pytest
from building import Bench, flat

from dovejoint.core.checks import CheckCache, run_checks
from dovejoint.core.document import new_project
from dovejoint.core.recipe import sentence
from dovejoint.core.recipe.names import seen_edge
from dovejoint.core.solid import common

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


def test_round_sides_grow_until_they_touch() -> None:
    """A pin and a bore as far as a plane along them, level with one and 0.2 mm off it, and as large as a round face about their axis."""
    bench = Bench(new_project("Round"))
    tube, part = bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "20 mm", "high": "10 mm"}, new_part={"name": "Tube"})  # fmt: skip
    bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "8 mm", "high": "10 mm", "operation": "cut", "part": part})  # fmt: skip
    other, ring = bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "12 mm", "high": "5 mm"}, new_part={"name": "Ring"})  # fmt: skip
    bore = next(n for f in bench.evaluate().parts[part].faces for n in f.names if f.kind == "cylinder" and f.hollow)
    outside, inside = ({"rule": "faces", "part": part, "faces": [{"name": n}]} for n in (f"{tube}/side(round)", bore))
    wall = {"rule": "fixed", "origin": [13, 0, 0], "x": [0, 1, 0], "y": [0, 0, 1]}
    like = {"rule": "flat", "part": ring, "face": {"name": f"{other}/side(round)"}}
    for faces, fields, radii in (
        (outside, {"way": "meet", "until": wall}, (13, 4)),
        (outside, {"way": "level", "to": wall, "gap": "-0.2 mm"}, (12.8, 4)),
        (outside, {"way": "meet", "until": like}, (6, 4)),
        (inside, {"way": "meet", "until": like}, (10, 6)),
    ):
        step = add(bench, "push", faces=faces, **fields)
        assert bench.message(step) == ""
        assert bench.volume(part) == pytest.approx(10 * math.pi * (radii[0] ** 2 - radii[1] ** 2), rel=1e-9)
        bench.do("DeleteStep", step=step)
    for until in (GROUND, {"rule": "part_end", "part": ring}):
        step = add(bench, "push", faces=outside, way="meet", until=until)
        assert "touches a plane along its axis" in bench.message(step)


def test_a_face_is_drawn_until_it_meets() -> None:
    """The top of a block 40 × 30 × 20 onto a plane that leans through its middle, under a round bar, under another part, and down to a plane within."""
    bench = Bench(new_project("Met"))
    body, part = block(bench)
    top = {"rule": "faces", "part": part, "faces": [{"name": f"{body}/end"}]}
    slant = math.radians(20)
    lean = {"rule": "fixed", "origin": [0, 0, 18], "x": [math.cos(slant), 0, math.sin(slant)], "y": [0, 1, 0]}
    bar_step, bar = bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "120 mm", "high": "60 mm", "on": {"rule": "base", "plane": "front"}, "way": "middle", "up": "100 mm"}, new_part={"name": "Bar"})  # fmt: skip
    step = add(bench, "push", faces=top, way="meet", until=lean)
    assert bench.message(step) == ""
    # the mean height under a plane is that under its middle; the lower end lies below the face, the upper one above
    assert bench.volume(part) == pytest.approx(40 * 30 * 18, rel=1e-9)
    assert bench.evaluate().parts[part].box[1][2] == pytest.approx(18 + 20 * math.tan(slant))
    names = [f.names[0] for f in bench.evaluate().parts[part].faces]
    assert sorted(names) == sorted(f"{body}/{n}" for n in ("start", "end", *(f"side({k})" for k in ("left", "right", "front", "back"))))  # fmt: skip
    assert sentence(bench.project, bench.project.step(step)).startswith("Move the end of Block as far as")
    for until, want in (
        ({"rule": "plane", "step": add(bench, "plane", base=GROUND, distance="7 mm")}, 40 * 30 * 7),
        ({"rule": "base", "plane": "side"}, None),
        ({"rule": "flat", "part": part, "face": {"name": f"{body}/start"}}, None),
    ):
        again = add(bench, "push", faces=top, way="meet", until=until)
        bench.do("DeleteStep", step=step)
        step = again
        if want is None:
            assert bench.message(step) and bench.volume(part) == pytest.approx(24000)
        else:
            assert bench.message(step) == "" and bench.volume(part) == pytest.approx(want, rel=1e-9)
    # under the bar: a plane less the circle of 60 about a height of 100, from −20 to 20
    low, high = bench.evaluate().parts[bar].box
    middle = (low[2] + high[2]) / 2
    for until in (
        {"rule": "flat", "part": bar, "face": {"name": f"{bar_step}/side(round)"}},
        {"rule": "part_end", "part": bar},
    ):
        bench.do("EditStep", step=step, fields={"until": until})
        assert bench.message(step) == ""
        xs = [-20 + 40 * (k + 0.5) / 20000 for k in range(20000)]
        area = sum(middle - math.sqrt(3600 - x * x) for x in xs) * 40 / 20000
        assert bench.volume(part) == pytest.approx(area * 30, rel=1e-6)


@pytest.mark.parametrize("way", ["raised", "sunk"])
@pytest.mark.parametrize("hollow", [False, True])
def test_an_outline_laid_round_a_shaft_or_a_bore(way: str, hollow: bool) -> None:
    """As long round the face as it is wide: its volume is area / r times the ring between two radii, for a rectangle with a round hole in it."""
    bench = Bench(new_project("Dial"))
    bench.do("AddValue", name="across", formula="40 mm")
    (outline,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawCircle", step=outline, centre=[0, 0], on="origin", radius=20)
    if hollow:
        bench.do("DrawCircle", step=outline, centre=[0, 0], on="origin", radius=26)
    body, part = bench.extrude(outline, "30 mm", "Dial")
    faces = bench.evaluate().parts[part].faces
    round_one = next(f.names[0] for f in faces if f.kind == "cylinder" and f.radius_mm == pytest.approx(20))
    before = bench.volume(part)
    (sketch,) = bench.do("AddStep", kind="sketch", fields={"plane": {"rule": "base", "plane": "front"}})
    bench.do("DrawRectangle", step=sketch, first=[0, 15], corner=[15, 25])
    bench.do("DrawCircle", step=sketch, centre=[4, 14], radius=5)
    fields = {"profile": regions(sketch), "face": flat(bench, part, round_one), "way": way, "by": "2 mm"}
    step = add(bench, "wrap", **fields)
    assert bench.message(step) == ""
    out = (way == "raised") != hollow
    ring = (22**2 - 20**2) / 2 if out else (20**2 - 18**2) / 2
    want = (30 * 20 - 25 * math.pi) / 20 * ring
    assert bench.volume(part) - before == pytest.approx(want if way == "raised" else -want, rel=2e-4)
    state = bench.evaluate().parts[part]
    names = {n for f in state.faces for n in f.names}
    assert f"{step}/end" in names and len({n for n in names if n.startswith(f"{step}/side(")}) == 5
    end = next(f for f in state.faces if f"{step}/end" in f.names)
    assert end.kind == "cylinder" and end.radius_mm == pytest.approx(22 if out else 18)
    # it looks to the front, where its plane faces
    assert end.at[1] < -15
    said = sentence(bench.project, bench.project.step(step))
    assert said.startswith("Lay outline of step 3 round a side of Dial, ") and said.endswith(f", {way} by 2 mm")


def test_a_text_laid_round_a_knob_and_what_cannot_be_laid() -> None:
    bench = Bench(new_project("Knob"))
    body, knob = bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "30 mm", "high": "20 mm"}, new_part={"name": "Knob"})  # fmt: skip
    before = bench.volume(knob)
    (text,) = bench.do("AddStep", kind="sketch", fields={"plane": {"rule": "base", "plane": "front"}})
    bench.do("DrawText", step=text, foot={"at": [-14, 6]}, text="RAIN 80", size=6)
    area = sum(r.area_mm2 * (1 if r.depth % 2 == 0 else 0) for r in bench.evaluate().made[text].sketch.regions)
    on = flat(bench, knob, f"{body}/side(round)")
    step = add(bench, "wrap", profile=regions(text), face=on, by="0.6 mm")
    assert bench.message(step) == ""
    # counters are regions within letters, and count as holes already
    assert bench.volume(knob) - before == pytest.approx(area / 15 * (15.6**2 - 15**2) / 2, rel=2e-3)
    bench.do("EditStep", step=step, fields={"way": "sunk"})
    assert before - bench.volume(knob) == pytest.approx(area / 15 * (15**2 - 14.4**2) / 2, rel=2e-3)
    for fields, word in (
        ({"by": "0 mm"}, "above zero"),
        ({"by": "16 mm"}, "so deep"),
        ({"face": flat(bench, knob, f"{body}/end")}, "cylindrical face"),
        ({"profile": regions(bench.rectangle("4 mm", "4 mm"))}, "across the face's axis"),
        ({"profile": regions(bench.rectangle("4 mm", "30 mm", plane={"rule": "base", "plane": "front"}))}, "wholly on the face"),
        ({"profile": regions(bench.rectangle("100 mm", "4 mm", plane={"rule": "base", "plane": "front"}, at=(0, 8)))}, "longer than the way"),
    ):  # fmt: skip
        other = add(bench, "wrap", **{"profile": regions(text), "face": on, "way": "sunk", "by": "0.6 mm", **fields})
        assert word in bench.message(other)
        bench.do("DeleteStep", step=other)


class Notched(Bench):
    """A sheet of 60 × 40 × 6 that is made, with a slot of 10 × 16 from its back edge: two sharp inner corners; and a pocket of 12 × 8, 2 deep: four."""

    def __init__(self) -> None:
        super().__init__(new_project("Sheet"))
        _, self.sheet = block(self, "60 mm", "40 mm", "6 mm")
        self.do("EditPart", part=self.sheet, role="made", material="plywood", sheet_mm=6, cutter_mm=3)
        add(self, "body", wide="10 mm", deep="32 mm", high="14 mm", up="20 mm", way="middle", operation="cut", part=self.sheet)  # fmt: skip
        pocket = {"rule": "fixed", "origin": [-20, 0, 4], "x": [1, 0, 0], "y": [0, 1, 0]}
        add(self, "body", wide="12 mm", deep="8 mm", high="5 mm", on=pocket, operation="cut", part=self.sheet)
        self.whole = 60 * 40 * 6 - 10 * 16 * 6 - 12 * 8 * 2

    def found(self) -> list[tuple[str, str, str]]:
        evaluation = self.evaluate()
        checks = run_checks(self.project, evaluation, [], CheckCache())
        return [(f["says"], f["figure"], f["limit"]) for c in checks if c["check"] == "milled" for f in c["findings"]]


def test_inner_corners_of_a_sheet_are_found_and_relieved() -> None:
    bench = Notched()
    assert bench.volume(bench.sheet) == pytest.approx(bench.whole)
    assert bench.found() == [("6 inner corners of Block are sharper than its cutter makes.", "sharp", "r 1.5 mm")]
    step = add(bench, "relieve", part=bench.sheet, cutter="3 mm")
    assert bench.message(step) == "" and bench.found() == []
    # a circle through the corner of two walls: half of it lies in the open with the triangle over its chord, r² (π/2 − 1) in the material
    lost = 1.5**2 * (math.pi / 2 - 1)
    assert bench.volume(bench.sheet) == pytest.approx(bench.whole - lost * (2 * 6 + 4 * 2), rel=1e-9)
    state = bench.evaluate().parts[bench.sheet]
    assert state.box[0][2] == 0 and state.solid.lumps == 1, "the pocket's floor is whole"
    notches = [f for f in state.faces if f.kind == "cylinder"]
    assert len({f.names[0] for f in notches}) == 6 and all(f.names[0].startswith(f"{step}/relief(") for f in notches)
    assert (
        sentence(bench.project, bench.project.step(step))
        == "Relieve all inner corners of Block for a cutter Ø 3 mm: cut past them"
    )
    # what has sharp corners goes in: a bar as wide and long as the slot meets nothing
    (mate,) = bench.do("AddStep", kind="body", fields={"wide": "10 mm", "deep": "32 mm", "high": "14 mm", "up": "20 mm", "way": "middle"}, new_part={"name": "Mate"})[1:]  # fmt: skip
    assert common(bench.evaluate().parts[mate].solid, state.solid)[0] < 1e-6
    bench.do("EditPart", part=bench.sheet, cutter_mm=4)
    assert [f[1:] for f in bench.found()] == [("r 1.5 mm", "r 2 mm")], "notches of a thinner cutter"
    bench.do("EditPart", part=bench.sheet, cutter_mm=3)
    bench.do("EditStep", step=step, fields={"how": "round"})
    assert bench.volume(bench.sheet) == pytest.approx(
        bench.whole + 1.5**2 * (1 - math.pi / 4) * (2 * 6 + 4 * 2), rel=1e-9
    )
    assert bench.found() == []
    bench.do("EditPart", part=bench.sheet, cutter_mm=4)
    assert bench.found() == [("6 inner corners of Block are sharper than its cutter makes.", "r 1.5 mm", "r 2 mm")]
    bench.do("EditPart", part=bench.sheet, cutter_mm=0, sheet_mm=6.5)
    assert bench.found() == [("Block is not as thick as the sheet that it is cut from.", "6 mm", "6.5 mm")]


def test_what_goes_into_round_corners_takes_their_radius() -> None:
    """A bar with 0.2 all round in a pocket of 20 × 12 × 6 through a sheet: four of its edges are rounded, as many of the pocket's, and they share no room."""
    bench = Bench(new_project("Ply"))
    _, sheet = block(bench, "60 mm", "40 mm", "6 mm")
    bench.do(
        "AddStep",
        kind="body",
        fields={"wide": "20 mm", "deep": "12 mm", "high": "6 mm", "operation": "cut", "part": sheet},
    )
    fields = {"wide": "19.6 mm", "deep": "11.6 mm", "high": "9 mm"}
    _, bar = bench.do("AddStep", kind="body", fields=fields, new_part={"name": "Bar"})
    step = add(bench, "relieve", part=sheet, cutter="3 mm", how="round")
    parts = bench.evaluate().parts
    assert common(parts[sheet].solid, parts[bar].solid)[0] > 0.01, "sharp, it does not go in"
    bench.do("EditStep", step=step, fields={"mate": bar})
    assert bench.message(step) == ""
    rest = 1.5**2 * (1 - math.pi / 4)
    assert bench.volume(bar) == pytest.approx(19.6 * 11.6 * 9 - 4 * rest * 9, rel=1e-9)
    assert bench.volume(sheet) == pytest.approx((60 * 40 - 20 * 12 + 4 * rest) * 6, rel=1e-9)
    parts = bench.evaluate().parts
    assert common(parts[sheet].solid, parts[bar].solid)[0] < 1e-9
    assert sentence(bench.project, bench.project.step(step)).endswith(
        "leave them round, and round what stands in them of Bar"
    )
    bench.do("EditStep", step=step, fields={"mate": sheet})
    assert "another one" in bench.message(step)
    (far,) = bench.do("AddStep", kind="body", fields={"right": "200 mm"}, new_part={"name": "Far"})[1:]
    bench.do("MoveStep", step=step, after=bench.project.recipe[-1].id)
    bench.do("EditStep", step=step, fields={"mate": far})
    assert "stands in these corners" in bench.message(step)


def test_only_some_corners_are_relieved_and_nonsense_is_told() -> None:
    bench = Notched()
    state = bench.evaluate().parts[bench.sheet]
    corners = [e for e in state.edges if not e.convex and e.kind == "line" and abs(e.direction[2]) > 0.9]
    slot = [e for e in corners if e.length_mm == pytest.approx(6)]
    pick = {
        "rule": "edges",
        "part": bench.sheet,
        "edges": [{"name": slot[0].name, "seen": seen_edge(slot[0]).model_dump()}],
    }
    step = add(bench, "relieve", part=bench.sheet, which="some", edges=pick, cutter="4 mm")
    assert bench.message(step) == ""
    assert bench.whole - bench.volume(bench.sheet) == pytest.approx(4 * (math.pi / 2 - 1) * 6, rel=1e-9)
    outer = next(e for e in state.edges if e.convex and e.kind == "line" and abs(e.direction[2]) > 0.9)
    for fields, word in (
        ({"edges": {**pick, "edges": [{"name": outer.name}]}}, "one of these is none"),
        ({"cutter": "0 mm"}, "above zero"),
        ({"cutter": "10.5 mm"}, "into an opening of 10 mm"),
        ({"edges": None}, "Pick the edges"),
    ):
        bench.do("EditStep", step=step, fields={"edges": pick, "cutter": "4 mm", **fields})
        assert bench.message(step) and word in bench.message(step)
    plain = Bench(new_project("Plain"))
    _, part = block(plain)
    assert "no sharp inner corner" in plain.message(add(plain, "relieve", part=part))


@pytest.mark.parametrize("lean_deg", [0.0, 5.0])
def test_a_rib_is_rounded_over(lean_deg: float) -> None:
    """A rib of 30 × 6 × 20, upright or leaning in by 5° on both sides: its top becomes the circle that touches three lines (tangent-chord areas)."""
    bench = Bench(new_project("Rib"))
    bench.do("AddValue", name="thick", formula="6 mm")
    body, part = block(bench, "30 mm", "thick", "20 mm")
    if lean_deg:
        sides = {"rule": "faces", "part": part, "faces": [{"name": f"{body}/side({k})"} for k in ("front", "back")]}
        add(bench, "draft", faces=sides, angle=f"{lean_deg} deg")
    before = bench.volume(part)
    top = {"rule": "faces", "part": part, "faces": [{"name": f"{body}/end"}]}
    step = add(bench, "round_over", faces=top)
    assert bench.message(step) == ""
    lean = math.radians(lean_deg)
    for thick in (6, 8):
        half = thick / 2 - 20 * math.tan(lean)
        # a corner's half angle is 45° + lean/2: between it and the circle lie a kite and a sector of the angle between the normals
        corner = math.pi / 2 + lean
        radius = half * math.tan(corner / 2)
        lost = 2 * (radius * half - radius**2 * (math.pi - corner) / 2)
        bench.set("thick", f"{thick} mm")
        before = 30 * 20 * (thick / 2 + half)
        assert bench.volume(part) == pytest.approx(before - lost * 30, rel=1e-9)
        state = bench.evaluate().parts[part]
        (rounded,) = [f for f in state.faces if f.kind == "cylinder"]
        assert rounded.radius_mm == pytest.approx(radius) and rounded.names[0].startswith(f"{step}/round(")
        assert state.box[1][2] == pytest.approx(20) and len(state.faces) == 6


def test_what_is_no_strip_is_not_rounded_over() -> None:
    bench = Bench(new_project("Disc"))
    body, part = bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "20 mm", "high": "10 mm"}, new_part={"name": "Disc"})  # fmt: skip
    for face, word in (("end", "no long|has none|straight"), ("side(round)", "round")):
        step = add(bench, "round_over", faces={"rule": "faces", "part": part, "faces": [{"name": f"{body}/{face}"}]})
        assert re.search(word, bench.message(step))
        bench.do("DeleteStep", step=step)
    # two strips in one step, one after the other
    _, box = block(bench, "30 mm", "6 mm", "20 mm")
    made = bench.project.recipe[-1].id
    both = {"rule": "faces", "part": box, "faces": [{"name": f"{made}/{n}"} for n in ("end", "start")]}
    step = add(bench, "round_over", faces=both)
    assert bench.message(step) == "" and bench.volume(box) == pytest.approx(30 * (6 * 14 + 9 * math.pi))


@pytest.mark.parametrize(("plane", "front"), [([3, 0, 0], True), ([-3, -20, 0], True), ([3, 6, 0], False)])
def test_where_an_outline_is_laid(plane: list[float], front: bool) -> None:
    """On the side of the axis where its plane lies; a plane through the axis looks at the side that it faces, wherever its origin is."""
    bench = Bench(new_project("Knob"))
    body, knob = bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "30 mm", "high": "20 mm"}, new_part={"name": "Knob"})  # fmt: skip
    sketch = bench.rectangle("4 mm", "4 mm", plane={"rule": "fixed", "origin": plane, "x": [1, 0, 0], "y": [0, 0, 1]}, at=(-plane[0], 10))  # fmt: skip
    step = add(bench, "wrap", profile=regions(sketch), face=flat(bench, knob, f"{body}/side(round)"))
    assert bench.message(step) == ""
    (end,) = [f for f in bench.evaluate().parts[knob].faces if f"{step}/end" in f.names]
    assert (end.at[1] < 0) == front and abs(end.at[0]) < 2.5
