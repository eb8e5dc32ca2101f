"""Steps that shape single parts: volumes, distances and names by hand, again after an early value changed, and what cannot be done."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench, flat

from dovejoint.core.document import new_project
from dovejoint.core.document.picks import EdgesAlong
from dovejoint.core.recipe import sentence
from dovejoint.core.recipe.names import find_edges
from dovejoint.core.recipe.registry import kind_of


def bench_of(name: str = "Shaping") -> Bench:
    return Bench(new_project(name))


def circle(bench: Bench, radius: float, at: tuple[float, float] = (0, 0), plane: Any = None) -> str:
    (sketch,) = bench.do("AddStep", kind="sketch", fields={"plane": plane} if plane else {})
    bench.do("DrawCircle", step=sketch, centre=list(at), on="origin" if at == (0, 0) else None, radius=radius)
    return str(sketch)


def add(bench: Bench, kind: str, called: str = "", /, **fields: Any) -> list[str]:
    """A step; with a name a new part of that name is made."""
    made = bench.do("AddStep", kind=kind, fields=fields, **({"new_part": {"name": called}} if called else {}))
    return [str(m) for m in made]


def said(bench: Bench, step: str) -> str:
    found = bench.project.step(step)
    assert found is not None
    return sentence(bench.project, found)


def sound(bench: Bench, part: str) -> None:
    info = bench.evaluate().parts[part].info
    assert info.closed and info.valid and info.lumps == 1


def outline(step: str) -> dict[str, str]:
    return {"rule": "regions", "step": step}


GROUND = {"rule": "base", "plane": "ground"}


# ---- extrude -----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("fields", "low", "high", "words"),
    [
        ({"direction": "both", "distance": "12 mm"}, -6, 6, "both ways, in all by 12 mm"),
        ({"direction": "each", "distance": "12 mm"}, -12, 12, "both ways, each by 12 mm"),
        ({"direction": "two", "distance": "12 mm", "below": "3 mm"}, -3, 12, "both ways, up by 12 mm and down by 3 mm"),
    ],
)
def test_extrude_to_both_sides(fields: dict[str, str], low: float, high: float, words: str) -> None:
    bench = bench_of()
    sketch = bench.rectangle("10 mm", "20 mm")
    step, part = add(bench, "extrude", "Bar", profile=outline(sketch), **fields)
    box = bench.evaluate().parts[part].box
    assert (box[0][2], box[1][2]) == pytest.approx((low, high), abs=1e-5)
    assert bench.volume(part) == pytest.approx(200 * (high - low))
    assert words in said(bench, step)


def slanted(bench: Bench, angle: str, height: str) -> str:
    """A plane turned from the level one so high over the ground, about the front-to-back edge of a block."""
    _, block = add(bench, "body", "Stand", wide="4 mm", deep="4 mm", high=height, right="-40 mm")
    top = flat(bench, block, f"{bench.project.recipe[-1].id}/end")
    state = bench.evaluate().parts[block]
    edge = next(
        e for e in state.edges if e.kind == "line" and abs(e.direction[1]) > 0.9 and e.at[0] > -39 and e.at[2] > 1
    )
    (plane,) = add(
        bench,
        "plane",
        how="turned",
        base=top,
        angle=angle,
        edges={"rule": "edges", "part": block, "edges": [{"name": edge.name}], "chain": False},
    )
    return plane


@pytest.mark.parametrize("angle", [20.0, -20.0])
@pytest.mark.parametrize("short", [0.0, 1.5])
def test_extrude_until_a_slanted_plane(angle: float, short: float) -> None:
    """The mean height of a prism under a slanted plane is the plane's height over the outline's middle."""
    bench = bench_of()
    plane = slanted(bench, f"{angle} deg", "30 mm")
    sketch = bench.rectangle("10 mm", "8 mm")
    step, part = add(
        bench,
        "extrude",
        "Post",
        profile=outline(sketch),
        extent="to",
        until={"rule": "plane", "step": plane},
        short=f"{short} mm",
    )
    assert bench.message(step) == ""
    frame = bench.evaluate().made[plane].plane
    assert frame is not None
    # where the plane stands over the origin, by its own equation
    height = sum(a * b for a, b in zip(frame.origin, frame.z, strict=True)) / frame.z[2] - short / abs(frame.z[2])
    assert 10 < height < 50
    assert bench.volume(part) == pytest.approx(80 * height, rel=1e-9)
    sound(bench, part)
    assert any(f"{step}/end" in f.names for f in bench.evaluate().parts[part].faces)


def test_extrude_until_a_round_face() -> None:
    """A peg up to a lying cylinder of radius 20 whose axis is 50 over the ground: its height over y is 50 - sqrt(400 - y²)."""
    bench = bench_of()
    across = {"rule": "base", "plane": "side"}
    (lying,) = bench.do("AddStep", kind="sketch", fields={"plane": across})
    bench.do("DrawCircle", step=lying, centre=[0, 50], radius=20)
    pipe, part = add(bench, "extrude", "Pipe", profile=outline(lying), direction="both", distance="60 mm")
    sketch = bench.rectangle("10 mm", "12 mm")
    until = flat(bench, part, next(n for f in bench.evaluate().parts[part].faces for n in f.names if "/side(" in n))
    for short in (0.0, 2.0):
        fields = {"profile": outline(sketch), "extent": "to", "until": until, "short": f"{short} mm"}
        step, peg = add(bench, "extrude", f"Peg {short}", **fields)
        assert bench.message(step) == ""
        r = 20 + short
        # the area under the arc between -6 and 6, by its integral
        under = 6 * math.sqrt(r * r - 36) + r * r * math.asin(6 / r)
        assert bench.volume(peg) == pytest.approx(10 * (12 * 50 - under), rel=1e-6)
        sound(bench, peg)
    assert "until it meets" in said(bench, step) and "short of it by 2.0 mm" in said(bench, step)
    # an outline that stands beyond the pipe has nowhere to end
    wide = bench.rectangle("10 mm", "50 mm")
    step, _ = add(bench, "extrude", "Wide", profile=outline(wide), extent="to", until=until)
    assert "does not stand over the whole outline" in bench.message(step)
    down, _ = add(bench, "extrude", "Down", profile=outline(sketch), extent="to", direction="down", until=until)
    assert "does not stand over" in bench.message(down)


def test_extrude_until_a_part_whatever_faces_it_has_there() -> None:
    """Under a step 30 and 20 over the ground, and under a lying cylinder: the end follows it, by hand, also with room left."""
    bench = bench_of()
    over = {"rule": "fixed", "origin": [0.0, 0.0, 20.0], "x": [1.0, 0.0, 0.0], "y": [0.0, 1.0, 0.0]}
    _, block = bench.do("AddStep", kind="body", fields={"wide": "60 mm", "deep": "60 mm", "high": "30 mm", "on": over}, new_part={"name": "Step"})  # fmt: skip
    bench.do("AddStep", kind="body", fields={"wide": "30 mm", "deep": "60 mm", "high": "10 mm", "on": over, "right": "-15 mm", "operation": "cut", "part": block})  # fmt: skip
    sketch = bench.rectangle("10 mm", "12 mm")
    until = {"rule": "part_end", "part": block}
    for short, wanted in ((0.0, 12 * (5 * 30 + 5 * 20)), (0.5, 12 * (4.5 * 29.5 + 5.5 * 19.5))):
        step, peg = add(bench, "extrude", f"Peg {short}", profile=outline(sketch), extent="to", until=until, short=f"{short} mm")  # fmt: skip
        assert bench.message(step) == "" and bench.volume(peg) == pytest.approx(wanted, rel=1e-9)
        sound(bench, peg)
    assert "until it meets Step" in said(bench, step)
    # its end is named after the faces that it meets, and follows them
    names = {n for f in bench.evaluate().parts[peg].faces for n in f.names}
    assert sum("/grown(" in n for n in names) == 3 and f"{step}/start" in names
    wide = bench.rectangle("100 mm", "12 mm")
    for fields, words in (
        ({"profile": outline(wide)}, "does not stand over the whole outline"),
        ({"profile": outline(sketch), "direction": "down"}, "does not stand over the whole outline"),
        ({"profile": outline(sketch), "short": "-1 mm"}, "never within it"),
    ):
        lost, _ = add(bench, "extrude", words[:9] + str(len(bench.project.recipe)), extent="to", until=until, **fields)
        assert words in bench.message(lost)


@pytest.mark.parametrize("way", ["up", "down"])
@pytest.mark.parametrize("angle", [5.0, -5.0])
def test_extrude_with_a_taper(way: str, angle: float) -> None:
    """A frustum of a pyramid with a hole that widens: outside narrows by h·tan a a side, the hole too, towards its material."""
    bench = bench_of()
    sketch = bench.rectangle("30 mm", "20 mm")
    bench.do("DrawCircle", step=sketch, centre=[0, 0], on="origin", radius=4)
    step, part = add(
        bench, "extrude", "Plug", profile=outline(sketch), direction=way, distance="12 mm", taper=f"{angle} deg"
    )
    assert bench.message(step) == ""
    d = 12 * math.tan(math.radians(angle))
    a, b = 30 * 20, (30 - 2 * d) * (20 - 2 * d)
    m = (30 - d) * (20 - d)
    outside = 12 * (a + 4 * m + b) / 6  # Simpson's rule is exact for a frustum
    r = 4 + d
    hole = math.pi * 12 * (16 + 4 * r + r * r) / 3
    assert bench.volume(part) == pytest.approx(outside - hole, rel=1e-6)
    sound(bench, part)


def test_extrude_of_a_flat_face_set_in() -> None:
    """A cover on the top of a box with a bore: the face's own outline, a fifth of a millimetre inside all round, bore included."""
    bench = bench_of()
    bench.do("AddValue", name="wide", formula="40 mm")
    sketch = bench.rectangle("wide", "30 mm")
    bench.do("DrawCircle", step=sketch, centre=[0, 0], on="origin", radius=6)
    body, box = bench.extrude(sketch, "10 mm", "Box")
    step, cover = add(
        bench, "extrude", "Cover", profile=flat(bench, box, f"{body}/end"), inset="0.2 mm", distance="3 mm"
    )
    assert bench.message(step) == ""
    assert bench.volume(cover) == pytest.approx(3 * (39.6 * 29.6 - math.pi * 6.2**2), rel=1e-9)
    names = {n for f in bench.evaluate().parts[cover].faces for n in f.names}
    assert len(names) == 7 and f"{step}/end" in names
    assert said(bench, step) == "Extrude the top of Box, set in by 0.2 mm, up by 3 mm as new part Cover" or "Box" in said(bench, step)  # fmt: skip
    bench.set("wide", "52 mm")
    assert bench.volume(cover) == pytest.approx(3 * (51.6 * 29.6 - math.pi * 6.2**2), rel=1e-9)
    assert {n for f in bench.evaluate().parts[cover].faces for n in f.names} == names
    bench.do("EditStep", step=step, fields={"inset": "16 mm"})
    assert "cannot be set in" in bench.message(step)
    bench.do("EditStep", step=step, fields={"inset": "-0.5 mm"})
    assert bench.volume(cover) == pytest.approx(3 * (53 * 31 - math.pi * 5.5**2), rel=1e-9)


def test_one_outline_cuts_several_parts() -> None:
    bench = bench_of()
    blocks = []
    for k in range(2):
        _, part = add(bench, "body", f"Plate {k}", wide="30 mm", deep="30 mm", high="4 mm")
        blocks.append(part)
    sketch = circle(bench, 5)
    fields = {"profile": outline(sketch), "extent": "through", "operation": "cut", "part": blocks[0]}
    (step,) = add(bench, "extrude", **fields, also=[{"part": blocks[1]}])
    for part in blocks:
        assert bench.volume(part) == pytest.approx(4 * (900 - math.pi * 25))
    assert said(bench, step).endswith("and cut it from Plate 0, and Plate 1")
    bench.do("EditStep", step=step, fields={"also": [{"part": blocks[0]}]})
    assert "twice" in bench.message(step)


# ---- bodies ------------------------------------------------------------------------------------------------------

_HEX = 6 * (10**2) * math.tan(math.pi / 6)


@pytest.mark.parametrize(
    ("fields", "volume", "height", "words"),
    [
        ({"shape": "block", "wide": "8 mm", "deep": "5 mm", "high": "3 mm"}, 120, 3, "Block 8 mm by 5 mm, 3 mm high"),
        ({"shape": "cylinder", "across": "10 mm", "high": "4 mm"}, math.pi * 25 * 4, 4, "Cylinder Ø 10 mm, 4 mm high"),
        (
            {"shape": "cone", "across": "10 mm", "top": "4 mm", "high": "6 mm"},
            math.pi * 6 * (25 + 10 + 4) / 3,
            6,
            "Cone Ø 10 mm, Ø 4 mm at the top",
        ),
        ({"shape": "cone", "across": "0 mm", "top": "6 mm", "high": "6 mm"}, 0, 0, "above zero"),
        ({"shape": "cone", "across": "6 mm", "top": "0 mm", "high": "6 mm"}, math.pi * 9 * 2, 6, "Cone"),
        ({"shape": "ball", "across": "12 mm"}, math.pi * 288, 12, "Ball Ø 12 mm, standing on the ground"),
        ({"shape": "ring", "across": "30 mm", "thick": "4 mm"}, 2 * math.pi**2 * 13 * 4, 4, "Ring Ø 30 mm, 4 mm thick"),
        (
            {"shape": "prism", "sides": "6", "across": "20 mm", "high": "5 mm"},
            _HEX * 5,
            5,
            "Prism of 6 sides, 20 mm across flats",
        ),
        (
            {"shape": "wedge", "wide": "12 mm", "deep": "5 mm", "top": "4 mm", "high": "6 mm"},
            (12 + 4) / 2 * 6 * 5,
            6,
            "narrowing to 4 mm",
        ),
        ({"shape": "wedge", "wide": "12 mm", "deep": "5 mm", "top": "0 mm", "high": "6 mm"}, 180, 6, "Wedge"),
        ({"shape": "ring", "across": "8 mm", "thick": "4 mm"}, 0, 0, "has no hole"),
        ({"shape": "prism", "sides": "2.5"}, 0, 0, "whole number of sides"),
        ({"shape": "wedge", "top": "30 mm"}, 0, 0, "narrower than its foot"),
        ({"shape": "block", "wide": "-1 mm"}, 0, 0, "above zero"),
    ],
)
def test_bodies_by_their_sizes(fields: dict[str, str], volume: float, height: float, words: str) -> None:
    bench = bench_of()
    step, part = add(bench, "body", "Body", **fields)
    if not volume:
        assert words in bench.message(step)
        return
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(volume, rel=1e-6)
    low, high = bench.evaluate().parts[part].box
    assert (low[2], high[2]) == pytest.approx((0, height), abs=1e-4)
    sound(bench, part)
    assert words in said(bench, step)


def test_what_adds_nothing_says_so() -> None:
    """Flush with the ground or inside, it is there already; in a pocket that it fills up to the top it is not."""
    bench = Bench(new_project("Added"))
    ground = {"rule": "base", "plane": "ground"}
    _, part = bench.do("AddStep", kind="body", fields={"wide": "40 mm", "deep": "40 mm", "high": "14 mm", "on": ground}, new_part={"name": "Block"})  # fmt: skip
    small = {"wide": "20 mm", "deep": "20 mm", "high": "4 mm", "part": part}

    def at(height: float) -> dict[str, Any]:
        return {"rule": "fixed", "origin": [0, 0, height], "x": [1, 0, 0], "y": [0, 1, 0]}

    (added,) = bench.do("AddStep", kind="body", fields={**small, "on": ground, "operation": "add"})
    assert "nothing is added" in bench.message(added)
    for height, nothing in ((5.0, True), (10.0, True), (11.0, False)):
        bench.do("EditStep", step=added, fields={"on": at(height)})
        assert ("nothing is added" in bench.message(added)) == nothing, height
    (pocket,) = bench.do("AddStep", kind="body", fields={**small, "on": at(10.0), "operation": "cut"})
    bench.do("EditStep", step=added, fields={"on": at(10.0)})
    bench.do("MoveStep", step=added, after=pocket)
    assert [r.message for r in bench.evaluate().steps] == ["", "", ""]
    assert bench.volume(part) == pytest.approx(40 * 40 * 14)


def test_a_body_is_sunk_into_a_face_beside_its_middle() -> None:
    bench = bench_of()
    body, block = add(bench, "body", "Block", wide="40 mm", deep="30 mm", high="20 mm")
    top = flat(bench, block, f"{body}/end")
    fields = {"on": top, "way": "down", "right": "8 mm", "up": "-5 mm", "operation": "cut", "part": block}
    (step,) = add(bench, "body", shape="prism", across="7 mm", high="4 mm", **fields)
    assert bench.message(step) == ""
    assert bench.volume(block) == pytest.approx(24000 - 6 * 3.5**2 * math.tan(math.pi / 6) * 4)
    floor = next(f for f in bench.evaluate().parts[block].faces if f"{step}/end" in f.names)
    assert floor.at[2] == pytest.approx(16) and math.dist(floor.at[:2], (8, -5)) < 4.1


# ---- holes -------------------------------------------------------------------------------------------------------


def plate_with_points(bench: Bench) -> tuple[str, str]:
    """A plate of 60 × 40 × 12 with two lone points and a circle on its top."""
    body, plate = add(bench, "body", "Plate", wide="60 mm", deep="40 mm", high="12 mm")
    (sketch,) = bench.do("AddStep", kind="sketch", fields={"plane": flat(bench, plate, f"{body}/end")})
    bench.do("DrawPoint", step=sketch, at={"at": [-18, 0]})
    bench.do("DrawPoint", step=sketch, at={"at": [18, 0]})
    bench.do("DrawCircle", step=sketch, centre=[0, 10], radius=3)
    return plate, sketch


@pytest.mark.parametrize(
    ("fields", "one", "words"),
    [
        ({"diameter": "5 mm"}, math.pi * 6.25 * 12, "plain Ø 5 mm, through all"),
        ({"diameter": "5 mm", "extent": "by", "depth": "7 mm"}, math.pi * 6.25 * 7, "to a depth of 7 mm"),
        (
            {"diameter": "5 mm", "extent": "by", "depth": "7 mm", "tip": "90 deg"},
            math.pi * 6.25 * (7 + 2.5 / 3),
            "ending in a point of 90 deg",
        ),
        (
            {"shape": "bored", "diameter": "4 mm", "head": "8 mm", "head_deep": "3 mm"},
            math.pi * (16 * 3 + 4 * 9),
            "counterbored Ø 4 mm with a head Ø 8 mm, 3 mm deep",
        ),
        (
            {"shape": "sunk", "diameter": "4 mm", "head": "8 mm"},
            math.pi * (4 * 10 + 2 * (16 + 8 + 4) / 3),
            "countersunk Ø 4 mm with a head Ø 8 mm at 90 deg",
        ),
        # ISO 273 medium 4.5; ISO 4762 head 7.22 and 4 high, 0.4 free all round
        (
            {"shape": "bored", "size": "screw", "screw": "M4"},
            math.pi * (4.01**2 * 4.4 + 2.25**2 * 7.6),
            "counterbored for M4, medium (ISO 273), with 0.4 mm round its head",
        ),
        # ISO 273 fine 3.2; ISO 10642 sharp 6.72 and 0.8 free across
        (
            {"shape": "sunk", "size": "screw", "screw": "M3", "fit": "fine"},
            math.pi * ((3.76**3 - 1.6**3) / 3 + 1.6**2 * (12 - (3.76 - 1.6))),
            "countersunk for M3",
        ),
        ({"shape": "tapped", "screw": "M5"}, math.pi * 2.1**2 * 12, "for a thread M5"),
    ],
)
def test_holes_at_points(fields: dict[str, str], one: float, words: str) -> None:
    bench = bench_of()
    plate, sketch = plate_with_points(bench)
    (step,) = add(bench, "drill", part=plate, at={"rule": "spots_sketch", "step": sketch}, **fields)
    assert bench.message(step) == ""
    assert bench.volume(plate) == pytest.approx(60 * 40 * 12 - 3 * one, rel=1e-6)
    sound(bench, plate)
    assert words in said(bench, step)
    walls = [f for f in bench.evaluate().parts[plate].faces if f.names[0].startswith(f"{step}/wall(")]
    assert len({w.names for w in walls}) == 3, "each hole has a name of its own"


def test_holes_in_the_middle_of_round_edges() -> None:
    bench = bench_of()
    body, plate = add(bench, "body", "Plate", wide="40 mm", deep="40 mm", high="5 mm")
    pin, _ = add(
        bench, "body", shape="cylinder", across="12 mm", high="9 mm", on=flat(bench, plate, f"{body}/end"),
        operation="add", part=plate, right="6 mm",
    ) + [""]  # fmt: skip
    edge = next(
        e for e in bench.evaluate().parts[plate].edges if e.kind == "circle" and e.at[2] > 13
    )  # the rim of the boss
    at = {"rule": "spots_edges", "part": plate, "edges": [{"name": edge.name}]}
    (step,) = add(bench, "drill", part=plate, at=at, diameter="4 mm")
    assert bench.message(step) == ""
    assert bench.volume(plate) == pytest.approx(1600 * 5 + math.pi * (36 * 9 - 4 * 14), rel=1e-9)
    # the boss moves, and its hole with it
    bench.do("EditStep", step=pin, fields={"right": "-9 mm"})
    wall = next(f for f in bench.evaluate().parts[plate].faces if f.names[0].startswith(f"{step}/wall("))
    assert math.dist(wall.at[:2], (-9, 0)) == pytest.approx(2, abs=1e-6)


@pytest.mark.parametrize("shape", ["plain", "sunk", "bored"])
def test_a_hole_goes_where_there_is_material_and_takes_none_behind(shape: str) -> None:
    """A bought washer lies under a plate; holes are drilled from its upper rim, where the plate begins. Then from a place within a block."""
    bench = bench_of()
    washer, disc = add(bench, "body", "Washer", shape="cylinder", across="20 mm", high="3 mm", on=GROUND)
    add(bench, "body", shape="cylinder", across="5 mm", high="3 mm", on=GROUND, operation="cut", part=disc)
    _, plate = add(
        bench, "body", "Plate", wide="40 mm", deep="30 mm", high="6 mm", on=flat(bench, disc, f"{washer}/end")
    )
    rim = next(e for e in bench.evaluate().parts[disc].edges if e.kind == "circle" and e.at[2] > 2.9 and e.radius_mm == pytest.approx(2.5))  # fmt: skip
    hole = {"shape": shape, "diameter": "4 mm", "head": "8 mm", "head_deep": "1 mm", "extent": "by"}
    at = {"rule": "spots_edges", "part": disc, "edges": [{"name": rim.name}]}
    (step,) = add(bench, "drill", part=plate, at=at, depth="5 mm", **hole)
    taken = {"plain": 5 * 4.0, "sunk": (64 - 8) / 3 + 3 * 4.0, "bored": 16.0 + 4 * 4.0}[shape] * math.pi
    assert bench.message(step) == ""
    assert bench.volume(plate) == pytest.approx(40 * 30 * 6 - taken, rel=1e-6)
    sound(bench, plate)
    # the plate's lower half of the ground lies within this block: what stands over it is not drilled
    _, block = add(bench, "body", "Block", wide="30 mm", deep="30 mm", high="12 mm", on={"rule": "fixed", "origin": [0.0, 0.0, -6.0], "x": [1.0, 0.0, 0.0], "y": [0.0, 1.0, 0.0]})  # fmt: skip
    (sketch,) = bench.do("AddStep", kind="sketch", fields={"plane": GROUND})
    bench.do("DrawPoint", step=sketch, at={"at": [0.0, 0.0]})
    (within,) = add(bench, "drill", part=block, at={"rule": "spots_sketch", "step": sketch}, depth="6.5 mm", **hole)
    whole = {"plain": 6 * 4.0, "sunk": (64 - 8) / 3 + 4 * 4.0, "bored": 16.0 + 5 * 4.0}[shape] * math.pi
    assert bench.message(within) == ""
    assert bench.volume(block) == pytest.approx(30 * 30 * 12 - whole, rel=1e-6)
    sound(bench, block)


@pytest.mark.parametrize(
    ("fields", "word"),
    [
        ({"diameter": "0 mm"}, "above zero"),
        ({"shape": "bored", "head": "3 mm"}, "wider than the hole"),
        ({"shape": "bored", "head_deep": "12 mm", "extent": "by", "depth": "8 mm"}, "as deep as the hole"),
        ({"shape": "sunk", "head": "30 mm", "extent": "by", "depth": "5 mm"}, "deeper than the hole"),
        ({"shape": "sunk", "size": "screw", "screw": "M2"}, "no countersunk M2"),
        ({"extent": "by", "tip": "2 deg"}, "from 10 to 180"),
    ],
)
def test_what_cannot_be_drilled(fields: dict[str, str], word: str) -> None:
    bench = bench_of()
    plate, sketch = plate_with_points(bench)
    (step,) = add(bench, "drill", part=plate, at={"rule": "spots_sketch", "step": sketch}, **fields)
    assert word in bench.message(step)
    assert bench.volume(plate) == pytest.approx(60 * 40 * 12)


def test_the_outline_itself_is_no_place_to_drill() -> None:
    bench = bench_of()
    sketch = circle(bench, 20)
    for x in (-12, 0, 12):
        bench.do("DrawCircle", step=sketch, centre=[x, 9], radius=2)
    _, disc = add(bench, "extrude", "Disc", profile={**outline(sketch), "filled": True}, distance="4 mm")
    (step,) = add(
        bench, "drill", part=disc, at={"rule": "spots_sketch", "step": sketch, "inside": True}, diameter="4 mm"
    )
    assert bench.volume(disc) == pytest.approx(math.pi * 4 * (400 - 3 * 4), rel=1e-6)
    assert "at the inner points of" in said(bench, step)


def test_an_outline_without_points_is_nothing_to_drill() -> None:
    bench = bench_of()
    _, plate = add(bench, "body", "Plate")
    sketch = bench.rectangle("5 mm", "5 mm", at=(3, 3))
    (step,) = add(bench, "drill", part=plate, at={"rule": "spots_sketch", "step": sketch})
    assert "no lone point and no circle" in bench.message(step)


# ---- along paths, from outline to outline --------------------------------------------------------------------------


def test_a_groove_is_swept_round_a_rim_with_corners() -> None:
    """A square of 2 × 2 round the upper edges of a block of 40 × 30: what is cut are four bars of the block's own corner."""
    bench = bench_of()
    body, block = add(bench, "body", "Block", wide="40 mm", deep="30 mm", high="10 mm")
    front = {"rule": "base", "plane": "front"}
    # its middle lies on the edge: a quarter of it is within the block
    sketch = bench.rectangle("2 mm", "2 mm", plane=front, at=(20, 10))
    top = next(f for f in bench.evaluate().parts[block].faces if f"{body}/end" in f.names)
    path = {"rule": "edges_of_face", "part": block, "face": {"name": top.names[0]}}
    sketch_fields = {"profile": outline(sketch), "path": path, "operation": "cut", "part": block}
    (step,) = add(bench, "sweep", **sketch_fields)
    assert bench.message(step) == ""
    # one millimetre each way is taken off along all four sides
    low, high = bench.evaluate().parts[block].box
    left = 40 * 30 * 10 - 1 * (40 * 30 - 38 * 28)
    assert bench.volume(block) == pytest.approx(left, rel=1e-6) and (low[0], high[0]) == pytest.approx((-20, 20))
    sound(bench, block)
    assert "Sweep" in said(bench, step) and "turning with it" in said(bench, step)


def test_areas_that_the_same_curves_bound_are_told_apart() -> None:
    """Two circles that cross close three areas; each is picked as the one that was meant, wherever the circles go."""
    bench = bench_of()
    bench.do("AddValue", name="apart", formula="4 mm")
    sketch = circle(bench, 5)
    bench.do("DrawCircle", step=sketch, centre=[4, 0], radius=5, x="apart", y="0 mm", diameter="10 mm")

    def lens(d: float) -> float:  # two segments of a circle, by hand
        return 2 * 25 * math.acos(d / 10) - d / 2 * math.sqrt(100 - d * d)

    regions = bench.evaluate().made[sketch].sketch.regions  # type: ignore[union-attr]
    left = next(r for r in regions if r.centre[0] < 0)
    middle = next(r for r in regions if abs(r.centre[0] - 2) < 0.1)
    made = {}
    for name, region, area in (("Lens", middle, lens), ("Moon", left, lambda d: 25 * math.pi - lens(d))):
        fields = {"profile": {"rule": "regions", "step": sketch, "names": [region.name]}, "distance": "2 mm"}
        made[name] = (*add(bench, "extrude", name, **fields), area)
    for apart in (4, 1, 9.5):
        bench.do("SetValue", value=bench.value("apart"), formula=f"{apart} mm")
        for step, part, area in made.values():
            assert bench.message(step) == ""
            assert bench.volume(part) == pytest.approx(2 * area(apart), rel=1e-6)
    # and a line across the lens halves it: that is asked, and not guessed
    line = {"start": {"at": [-10, 1]}, "end": {"at": [20, 1]}}
    bench.do("DrawLine", step=sketch, **line)
    assert "point at the regions again" in bench.message(made["Lens"][0])


def test_a_tube_is_swept_along_a_bent_path() -> None:
    """Along a line of 20 and a quarter bend of radius 15: area times the way of the middle (Pappus)."""
    bench = bench_of()
    front = {"rule": "base", "plane": "front"}
    (path,) = bench.do("AddStep", kind="sketch", fields={"plane": front})
    made = bench.do("DrawLine", step=path, start={"at": [0, 0], "on": "origin"}, end={"at": [0, 20]})
    end = next(c for c in _sketch(bench, path)["curves"] if c["id"] in made)["points"][1]
    bench.do("DrawArcAbout", step=path, centre={"at": [15, 20]}, start={"at": [0, 20], "on": end}, towards=[15, 35])
    sketch = circle(bench, 4)
    bench.do("DrawCircle", step=sketch, centre=[0, 0], on="origin", radius=2.5)
    ring = [
        r.name
        for r in bench.evaluate().made[sketch].sketch.regions  # type: ignore[union-attr]
        if r.depth == 0
    ]
    step, tube = add(
        bench,
        "sweep",
        "Tube",
        profile={"rule": "regions", "step": sketch, "names": ring},
        path={"rule": "path_sketch", "step": path},
    )
    assert bench.message(step) == ""
    way = 20 + 15 * math.pi / 2
    assert bench.volume(tube) == pytest.approx(math.pi * (16 - 6.25) * way, rel=1e-5)
    sound(bench, tube)
    # an outline that lies along the path cannot go along it
    flat_one = bench.rectangle("2 mm", "2 mm", plane=front)
    step, _ = add(bench, "sweep", "No", profile=outline(flat_one), path={"rule": "path_sketch", "step": path})
    assert "across it" in bench.message(step)


def test_a_sweep_that_ends_smaller() -> None:
    """A straight path of 30: a frustum of a pyramid whose end is half as large."""
    bench = bench_of()
    (path,) = bench.do("AddStep", kind="sketch", fields={"plane": {"rule": "base", "plane": "front"}})
    bench.do("DrawLine", step=path, start={"at": [0, 0], "on": "origin"}, end={"at": [0, 30]}, tie="vertical")
    sketch = bench.rectangle("12 mm", "8 mm")
    fields = {"profile": outline(sketch), "path": {"rule": "path_sketch", "step": path}, "end_scale": "0.5"}
    step, part = add(bench, "sweep", "Spike", **fields)
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(30 * (96 + 48 + 24) / 3, rel=1e-5)
    bench.do("EditStep", step=step, fields={"end_scale": "-1"})
    assert "above zero" in bench.message(step)


def test_a_twisted_sweep_keeps_its_section() -> None:
    """A square of 10 twisted by 90° over 40: every section is the same square, so the volume is that of the prism (Cavalieri); halfway up
    it stands on its corner."""
    bench = bench_of()
    (path,) = bench.do("AddStep", kind="sketch", fields={"plane": {"rule": "base", "plane": "front"}})
    bench.do("DrawLine", step=path, start={"at": [0, 0], "on": "origin"}, end={"at": [0, 40]}, tie="vertical")
    sketch = bench.rectangle("10 mm", "10 mm")
    fields = {"profile": outline(sketch), "path": {"rule": "path_sketch", "step": path}, "twist": "90 deg"}
    step, part = add(bench, "sweep", "Twist", **fields)
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(4000, rel=2e-3)
    low, high = bench.evaluate().parts[part].box
    assert (low[0], high[0]) == pytest.approx((-5 * math.sqrt(2), 5 * math.sqrt(2)), abs=0.02)
    sound(bench, part)
    assert "twisted by 90 deg" in said(bench, step)
    bench.do("EditStep", step=step, fields={"end_scale": "0.5"})
    assert "not both" in bench.message(step)


def _sketch(bench: Bench, step: str) -> Any:
    found = bench.project.step(step)
    assert found is not None
    return found.fields["sketch"]


def test_a_loft_between_two_rectangles_is_a_prismatoid() -> None:
    bench = bench_of()
    bench.do("AddValue", name="tall", formula="18 mm")
    below = bench.rectangle("30 mm", "20 mm")
    (level,) = add(bench, "plane", base=GROUND, distance="tall")
    above = bench.rectangle("10 mm", "16 mm", plane={"rule": "plane", "step": level})
    step, part = add(bench, "loft", "Funnel", profile=outline(below), to=outline(above))
    assert bench.message(step) == ""
    # the middle section of a prismatoid lies halfway: 20 × 18
    assert bench.volume(part) == pytest.approx(18 * (600 + 4 * 360 + 160) / 6, rel=1e-6)
    sound(bench, part)
    names = {n for f in bench.evaluate().parts[part].faces for n in f.names}
    assert {f"{step}/start", f"{step}/end"} <= names and len(names) == 6
    bench.set("tall", "27 mm")
    assert bench.volume(part) == pytest.approx(27 * (600 + 4 * 360 + 160) / 6, rel=1e-6)
    assert {n for f in bench.evaluate().parts[part].faces for n in f.names} == names
    bench.do("EditStep", step=step, fields={"to": outline(below)})
    assert "on one plane" in bench.message(step)


def test_walls_along_lines_and_arcs() -> None:
    """An L of two lines of 30 and 20, 2 thick: the strips, less the square in which they overlap, and the quarter of a post outside."""
    bench = bench_of()
    bench.do("AddValue", name="t", formula="2 mm")
    (lines,) = bench.do("AddStep", kind="sketch", fields={})
    made = bench.do("DrawLine", step=lines, start={"at": [0, 0], "on": "origin"}, end={"at": [30, 0]})
    corner = next(c for c in _sketch(bench, lines)["curves"] if c["id"] in made)["points"][1]
    bench.do("DrawLine", step=lines, start={"at": [30, 0], "on": corner}, end={"at": [30, 20]})
    step, part = add(bench, "wall", "Rib", lines={"rule": "path_sketch", "step": lines}, thick="t", high="8 mm")
    assert bench.message(step) == ""

    def area(t: float) -> float:
        # strips end at the corner's middle: they share a quarter of t², and the post fills the outer quarter round
        return 50 * t - t * t / 4 + math.pi * t * t / 16

    assert bench.volume(part) == pytest.approx(8 * area(2), rel=1e-9)
    sound(bench, part)
    names = {n for f in bench.evaluate().parts[part].faces for n in f.names}
    assert {f"{step}/left(l1)", f"{step}/right(l1)", f"{step}/left(l2)", f"{step}/start", f"{step}/end"} <= names
    bench.set("t", "3 mm")
    assert bench.volume(part) == pytest.approx(8 * area(3), rel=1e-9)
    assert {n for f in bench.evaluate().parts[part].faces for n in f.names} == names
    # along an arc: a sector of a ring
    (bow,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawArcAbout", step=bow, centre={"at": [0, 60]}, start={"at": [10, 60]}, towards=[0, 70])
    step, part = add(
        bench, "wall", "Bow", lines={"rule": "path_sketch", "step": bow}, thick="2 mm", high="5 mm", direction="down"
    )
    assert bench.volume(part) == pytest.approx(5 * math.pi / 4 * (121 - 81), rel=1e-6)
    assert said(bench, step) == "Wall along the lines of outline of step 3, 2 mm thick, down by 5 mm, as new part Bow"
    bench.do("EditStep", step=step, fields={"thick": "20 mm"})
    assert "bends more closely" in bench.message(step)


def test_a_chamfer_by_a_distance_and_an_angle() -> None:
    """Along one edge of 30: a prism over a right triangle with legs 2 and 2 tan 30°."""
    bench = bench_of()
    body, block = add(bench, "body", "Block", wide="40 mm", deep="30 mm", high="20 mm")
    pick = {
        "rule": "edges_between",
        "part": block,
        "first": {"name": f"{body}/end"},
        "second": {"name": f"{body}/side(right)"},
    }
    (step,) = add(bench, "chamfer", edges=pick, distance="2 mm", shape="angled", angle="30 deg")
    assert bench.volume(block) == pytest.approx(24000 - 30 * 2 * 2 * math.tan(math.radians(30)) / 2, rel=1e-9)
    assert said(bench, step).endswith("by 2 mm leaning by 30 deg")
    bench.do("EditStep", step=step, fields={"angle": "90 deg"})
    assert "below 89 deg" in bench.message(step)


# ---- faces -------------------------------------------------------------------------------------------------------


def block_with_bore(bench: Bench) -> tuple[str, str, str]:
    """A block of 40 × 30 × 20 with a bore of Ø 10 down through it; the steps and the part."""
    body, block = add(bench, "body", "Block", wide="40 mm", deep="30 mm", high="20 mm")
    (bore,) = add(bench, "extrude", profile=outline(circle(bench, 5)), extent="through", operation="cut", part=block)
    return body, bore, block


def faces(part: str, *names: str) -> dict[str, Any]:
    return {"rule": "faces", "part": part, "faces": [{"name": n} for n in names]}


def test_faces_move_out_and_in() -> None:
    bench = bench_of()
    body, bore, block = block_with_bore(bench)
    wall = next(n for f in bench.evaluate().parts[block].faces for n in f.names if n.startswith(f"{bore}/side"))
    names = sorted(n for f in bench.evaluate().parts[block].faces for n in f.names)
    (step,) = add(bench, "push", faces=faces(block, f"{body}/end", wall), way="in", distance="1 mm")
    # the top comes down by one; what is in for a bore's wall is into the material: it widens
    assert bench.volume(block) == pytest.approx(19 * (1200 - math.pi * 36), rel=1e-9)
    assert sorted(n for f in bench.evaluate().parts[block].faces for n in f.names) == names
    assert said(bench, step) == "Move 2 faces of Block in by 1 mm"
    bench.do("EditStep", step=step, fields={"way": "out", "distance": "2 mm"})
    assert bench.volume(block) == pytest.approx(22 * (1200 - math.pi * 9), rel=1e-9)
    bench.do("EditStep", step=step, fields={"distance": "6 mm"})
    assert "cannot move out by 6 mm" in bench.message(step)


def test_faces_of_two_parts_move_together() -> None:
    bench = bench_of()
    parts = [add(bench, "body", f"B{k}", right=f"{40 * k} mm") for k in range(2)]
    pick = {
        "rule": "faces",
        "part": parts[0][1],
        "faces": [{"name": f"{parts[0][0]}/end"}, {"name": f"{parts[1][0]}/end", "part": parts[1][1]}],
    }
    (step,) = add(bench, "push", faces=pick, distance="3 mm")
    assert [bench.volume(p[1]) for p in parts] == pytest.approx([400 * 13, 400 * 13])
    assert bench.message(step) == ""


def test_a_face_beside_roundings_does_not_drag_the_rest_along() -> None:
    """The top of a block with rounded upright edges is no tangent neighbour of them; a side is one, and is refused or exact."""
    bench = bench_of()
    body, block = add(bench, "body", "Block", wide="40 mm", deep="30 mm", high="20 mm")
    add(bench, "fillet", edges={"rule": "edges_along", "part": block, "direction": "up"}, radius="4 mm")
    before = bench.volume(block)
    (step,) = add(bench, "push", faces=faces(block, f"{body}/end"), distance="2 mm")
    assert bench.volume(block) == pytest.approx(before * 22 / 20, rel=1e-9)
    bench.do("EditStep", step=step, fields={"faces": faces(block, f"{body}/side(right)")})
    low, high = bench.evaluate().parts[block].box
    if bench.message(step):
        assert "cannot move" in bench.message(step)
    assert (low[1], high[1], low[2], high[2]) == pytest.approx((-15, 15, 0, 20), abs=1e-5)


def test_a_hole_is_taken_away() -> None:
    bench = bench_of()
    _, bore, block = block_with_bore(bench)
    wall = next(n for f in bench.evaluate().parts[block].faces for n in f.names if n.startswith(f"{bore}/side"))
    (step,) = add(bench, "close_over", faces=faces(block, wall))
    assert bench.message(step) == "" and bench.volume(block) == pytest.approx(24000)
    bench.do("EditStep", step=step, fields={"faces": faces(block, f"{bench.project.recipe[0].id}/end")})
    assert "does not close over" in bench.message(step)


def test_draft_leans_walls_from_a_plane() -> None:
    """Two walls of a block lean in from the ground: a prism over a trapezium."""
    bench = bench_of()
    bench.do("AddValue", name="wide", formula="40 mm")
    body, block = add(bench, "body", "Block", wide="wide", deep="30 mm", high="20 mm")
    pick = faces(block, f"{body}/side(left)", f"{body}/side(right)")
    (step,) = add(bench, "draft", faces=pick, angle="3 deg")
    d = 20 * math.tan(math.radians(3))
    assert bench.volume(block) == pytest.approx(30 * 20 * (40 - d), rel=1e-9)
    names = sorted(n for f in bench.evaluate().parts[block].faces for n in f.names)
    assert f"{body}/side(left)" in names
    bench.set("wide", "60 mm")
    bench.do("EditStep", step=step, fields={"lean": "out"})
    assert bench.volume(block) == pytest.approx(30 * 20 * (60 + d), rel=1e-9)
    assert sorted(n for f in bench.evaluate().parts[block].faces for n in f.names) == names
    bench.do("EditStep", step=step, fields={"faces": faces(block, f"{body}/end"), "lean": "in"})
    assert "cannot lean" in bench.message(step)
    assert said(bench, step).startswith("Draft") and "staying at the ground" in said(bench, step)


# ---- moving ------------------------------------------------------------------------------------------------------


def test_a_part_moves_turns_and_comes_to_lie_on_another() -> None:
    bench = bench_of()
    body, block = add(bench, "body", "Block", wide="10 mm", deep="20 mm", high="30 mm")
    (step,) = add(bench, "move", part=block, across="5 mm", deep="-3 mm", up="2 mm")
    assert bench.evaluate().parts[block].info.centre_mm == pytest.approx((5, -3, 17))
    assert said(bench, step) == "Move Block by 5 mm to the right, -3 mm to the back and 2 mm up"
    bench.do("EditStep", step=step, fields={"how": "turn", "axis": {"rule": "axis_base", "axis": "across"}})
    assert bench.evaluate().parts[block].info.centre_mm == pytest.approx((0, -15, 0), abs=1e-9)
    base, plate = add(bench, "body", "Plate", high="4 mm", right="50 mm")
    (second,) = add(
        bench, "move", part=block, how="onto", face=flat(bench, block, f"{body}/side(right)"),
        onto=flat(bench, plate, f"{base}/end"), gap="0.3 mm",
    )  # fmt: skip
    assert bench.message(second) == ""
    low, high = bench.evaluate().parts[block].box
    assert (low[2], high[2]) == pytest.approx((4.3, 14.3), abs=1e-5)
    assert any(f"{body}/side(right)" in f.names and f.normal[2] < -0.99 for f in bench.evaluate().parts[block].faces)
    bench.do("EditStep", step=second, fields={"face": flat(bench, plate, f"{base}/end")})
    assert "one of the part that moves" in bench.message(second)


def test_a_copy_is_a_part_of_its_own_that_follows() -> None:
    bench = bench_of()
    body, block = add(bench, "body", "Block")
    step, twin = add(bench, "move", "Twin", what="copy", of=block, across="30 mm")
    assert bench.message(step) == "" and bench.volume(twin) == pytest.approx(4000)
    assert bench.evaluate().parts[twin].info.centre_mm == pytest.approx((30, 0, 5))
    assert said(bench, step).startswith("Copy Block by 30 mm") and said(bench, step).endswith("as new part Twin")
    bench.do("EditStep", step=body, fields={"high": "12 mm"})
    assert bench.volume(twin) == pytest.approx(4800)


def test_a_part_is_scaled() -> None:
    bench = bench_of()
    _, block = add(bench, "body", "Block")
    (step,) = add(bench, "scale", part=block, factor="1.02")
    assert bench.volume(block) == pytest.approx(4000 * 1.02**3)
    bench.do("EditStep", step=step, fields={"factor": "0"})
    assert "above zero" in bench.message(step)


# ---- repeating ---------------------------------------------------------------------------------------------------


def comb(bench: Bench) -> tuple[str, str, str, str]:
    """A bar of 100 × 20 × 10 with a rib of 4 × 20 × 6 added near its left end, and a hole of Ø 2 through the rib along the bar's depth."""
    _, bar = add(bench, "body", "Bar", wide="100 mm", deep="20 mm", high="10 mm")
    (rib,) = add(
        bench, "body", wide="4 mm", deep="20 mm", high="16 mm", right="-40 mm", operation="add", part=bar
    )  # fmt: skip
    hole_sketch = circle(bench, 1, (-40, 13), {"rule": "base", "plane": "front"})
    (hole,) = add(
        bench, "extrude", profile=outline(hole_sketch), direction="both", extent="through", operation="cut", part=bar
    )
    return bar, rib, hole, hole_sketch


def work(step: str) -> dict[str, str]:
    return {"rule": "work", "step": step}


def test_a_chain_of_steps_is_done_again_in_a_row() -> None:
    bench = bench_of()
    bench.do("AddValue", name="ribs", formula="4")
    bar, rib, hole, sketch = comb(bench)
    one = 4 * 20 * 6 - math.pi * 20
    # the hole of Ø 2 at 13 lies wholly within the rib, whose 4 are its length
    one = 4 * 20 * 6 - math.pi * 1 * 20
    assert bench.volume(bar) == pytest.approx(20000 + one)
    (step,) = add(bench, "again", of=work(rib), also=[{"of": work(hole)}], count="ribs", pitch="15 mm", part=bar)
    assert bench.message(step) == ""
    assert bench.volume(bar) == pytest.approx(20000 + 4 * one, rel=1e-9)
    sound(bench, bar)
    words = said(bench, step)
    assert words.startswith("Do the work of step 2 and the work of step 4 again, ribs in all, in a row along") and words.endswith("on Bar")  # fmt: skip
    names = {n for f in bench.evaluate().parts[bar].faces for n in f.names}
    assert f"{step}/copy2({rib}/side(left))" in names
    bench.set("ribs", "5")
    assert bench.volume(bar) == pytest.approx(20000 + 5 * one, rel=1e-9)
    assert names < {n for f in bench.evaluate().parts[bar].faces for n in f.names}
    # one is left out, and the rib changes
    bench.do("EditStep", step=step, fields={"left_out": "3"})
    bench.do("EditStep", step=rib, fields={"wide": "6 mm"})
    assert bench.volume(bar) == pytest.approx(20000 + 4 * (6 * 20 * 6 - math.pi * 20), rel=1e-9)
    for text, word in (
        ("9", "no copy 9"),
        ("1", "no copy 1"),
        ("two", "numbers with commas"),
        ("2,3,4,5", "no copy at all"),
    ):
        bench.do("EditStep", step=step, fields={"left_out": text})
        assert word in bench.message(step)


def test_steps_are_mirrored_and_laid_out_in_rows_and_at_points() -> None:
    bench = bench_of()
    _, plate = add(bench, "body", "Plate", wide="60 mm", deep="40 mm", high="5 mm")
    first = circle(bench, 2, (-20, -12))
    (hole,) = add(bench, "extrude", profile=outline(first), extent="through", operation="cut", part=plate)
    one = math.pi * 4 * 5
    (step,) = add(bench, "again", of=work(hole), how="mirror", plane={"rule": "base", "plane": "side"}, part=plate)
    assert bench.message(step) == ""
    assert bench.volume(plate) == pytest.approx(12000 - 2 * one)
    middles = [f.at for f in bench.evaluate().parts[plate].faces if f.kind == "cylinder"]
    assert sorted(round(math.dist(m[:2], (s * 20, -12)), 6) for m in middles for s in (-1, 1))[:2] == [2, 2]
    assert "mirrored across the side plane" in said(bench, step)
    grid = {"how": "row", "count": "3", "span": "over", "pitch": "40 mm", "rows": "2", "row_pitch": "24 mm"}
    bench.do("EditStep", step=step, fields=grid)
    assert bench.volume(plate) == pytest.approx(12000 - 6 * one)
    assert "in 2 rows along the front-to-back axis every 24 mm" in said(bench, step)
    (spots,) = bench.do("AddStep", kind="sketch", fields={}, after=hole)
    for x, y in ((0, 0), (20, 3), (7, -5)):
        bench.do("DrawPoint", step=spots, at={"at": [x, y]})
    bench.do(
        "EditStep", step=step, fields={"how": "points", "points": {"rule": "spots_sketch", "step": spots}, "rows": "1"}
    )
    assert bench.message(step) == "" and bench.volume(plate) == pytest.approx(12000 - 3 * one)


def test_only_what_adds_or_cuts_is_done_again() -> None:
    bench = bench_of()
    body, block = add(bench, "body", "Block")
    (step,) = add(bench, "again", of=work(body), part=block)
    assert "repeated as a part" in bench.message(step)
    other, second = add(bench, "body", "Other", right="50 mm")
    (boss,) = add(bench, "body", shape="cylinder", across="4 mm", high="15 mm", operation="add", part=block)
    bench.do("EditStep", step=step, fields={"count": "2"})
    bench.do("MoveStep", step=step, after=boss)
    bench.do("EditStep", step=step, fields={"of": work(boss), "part": second})
    assert "did nothing to that part" in bench.message(step)


# ---- faces that follow others ------------------------------------------------------------------------------------


def test_faces_are_held_level_with_another_and_symmetric() -> None:
    """The top of one block follows that of another, half a millimetre below it; the left side mirrors the right one across a plane."""
    bench = bench_of()
    one, tall = add(bench, "body", "Tall", high="25 mm")
    two, low = add(bench, "body", "Low", right="40 mm", high="10 mm")
    (step,) = add(
        bench, "push", faces=faces(low, f"{two}/end"), way="level", to=flat(bench, tall, f"{one}/end"), gap="-0.5 mm"
    )
    assert bench.message(step) == "" and bench.volume(low) == pytest.approx(400 * 24.5)
    assert said(bench, step) == "Move the end of Low until level with the end of Tall, -0.5 mm beyond it"
    bench.do("EditStep", step=one, fields={"high": "7 mm"})
    assert bench.volume(low) == pytest.approx(400 * 6.5)
    fields = {"faces": faces(low, f"{two}/side(left)"), "way": "mirror", "like": flat(bench, low, f"{two}/side(right)")}
    # the block reaches from 30 to 50; across a plane at 37 its right side, at 50, is mirrored to 24
    (plane,) = bench.do(
        "AddStep", kind="plane", fields={"base": {"rule": "base", "plane": "side"}, "distance": "37 mm"}, after=two
    )
    (second,) = add(bench, "push", **fields, to={"rule": "plane", "step": plane})
    assert bench.message(second) == "" and bench.volume(low) == pytest.approx(26 * 20 * 6.5)
    bench.do("EditStep", step=second, fields={"to": {"rule": "base", "plane": "front"}})
    assert "not parallel" in bench.message(second)


def test_all_outward_edges_are_rounded_in_one_answer_and_no_inward_one() -> None:
    """A block rounded all over is a smaller one grown by a ball; in a step's inner corner nothing is rounded."""
    bench = Bench(new_project("Round"))
    sizes = {"wide": "40 mm", "deep": "30 mm", "high": "20 mm"}
    _, part = bench.do("AddStep", kind="body", fields=sizes, new_part={"name": "Block"})
    every = {"rule": "edges_along", "part": part, "direction": "any"}
    (step,) = bench.do("AddStep", kind="fillet", fields={"edges": every, "radius": "5 mm"})
    a, b, c, r = 30.0, 20.0, 10.0, 5.0
    grown = a * b * c + 2 * r * (a * b + b * c + c * a) + math.pi * r * r * (a + b + c) + 4 / 3 * math.pi * r**3
    assert bench.volume(part) == pytest.approx(grown, rel=1e-6)
    bench.do("DeleteStep", step=step)
    corner = {
        **sizes,
        "wide": "20 mm",
        "high": "10 mm",
        "right": "10 mm",
        "way": "up",
        "on": {"rule": "fixed", "origin": [0, 0, 10], "x": [1, 0, 0], "y": [0, 1, 0]},
        "operation": "cut",
        "part": part,
    }
    bench.do("AddStep", kind="body", fields=corner)
    state = bench.evaluate().parts[part]
    found = find_edges(state, EdgesAlong(part=part, direction="any"), part)
    (inner,) = set(range(len(state.edges))) - set(found)
    assert (state.edges[inner].length_mm, state.edges[inner].at) == (pytest.approx(30), pytest.approx((0, 0, 10)))


def test_what_is_swept_along_edges_of_a_part_is_for_that_part() -> None:
    bench = Bench(new_project("Two"))
    _, first = bench.do("AddStep", kind="body", fields={}, new_part={"name": "First"})
    bench.do("AddStep", kind="body", fields={"right": "60 mm"}, new_part={"name": "Second"})
    swept = bench.project.recipe[0].model_copy(update={"kind": "sweep"})
    begin = kind_of(swept).begin
    assert begin is not None
    assert begin(bench.project, {"path": {"rule": "edges", "part": first}}, "path") == {"part": first}
    assert begin(bench.project, {"path": {"rule": "lines", "step": "s1"}}, "path") == {}


def test_what_is_sunk_into_a_face_cuts_and_what_stands_on_it_is_added() -> None:
    bench = Bench(new_project("Foot"))
    body, foot = bench.do("AddStep", kind="body", fields={}, new_part={"name": "Foot"})
    begin = kind_of(bench.project.recipe[0]).begin
    assert begin is not None
    on = {"on": flat(bench, foot, f"{body}/end"), "shape": "cylinder"}
    assert begin(bench.project, {**on, "way": "down", "operation": "add"}, "way") == {"operation": "cut"}
    assert begin(bench.project, {**on, "way": "up", "operation": "cut"}, "way") == {"operation": "add"}
    assert begin(bench.project, {**on, "way": "down", "operation": "overlap"}, "way") == {}
    assert begin(bench.project, {"way": "down", "operation": "add"}, "way") == {}, "the ground is no part"


def test_a_body_stands_in_the_middle_of_its_face_wherever_that_goes() -> None:
    """Over the origin a peg on a post beside it would hang in the air; in its middle it follows, also when a notch is cut and pegs beside it are made at once."""
    bench = bench_of()
    for name, formula in (("far", "50 mm"), ("broad", "20 mm")):
        bench.do("AddValue", name=name, formula=formula)
    body, post = add(bench, "body", "Post", wide="broad", deep="16 mm", high="10 mm", right="far", on=GROUND)
    top = flat(bench, post, f"{body}/end")
    peg = {"shape": "cylinder", "across": "3 mm", "high": "5 mm", "operation": "add", "part": post}
    (step,) = add(bench, "body", place="middle", on=top, **peg)
    for k in range(5):
        add(bench, "body", right=f"far - broad/2 + {2 + 4 * k} mm", up="-5 mm", on=top, **peg)
    (last,) = add(bench, "body", place="middle", up="5 mm", on=top, **{**peg, "shape": "block", "wide": "3 mm", "deep": "3 mm"})  # fmt: skip
    assert said(bench, step).endswith("of Post, in its middle, and add it to Post")
    for far, broad in ((50, 20), (-70, 24)):
        bench.set("far", f"{far} mm")
        bench.set("broad", f"{broad} mm")
        sound(bench, post)
        faces = {n: f for f in bench.evaluate().parts[post].faces for n in f.names}
        assert faces[f"{step}/end"].middle == pytest.approx((far, 0, 15), abs=1e-6)
        assert faces[f"{last}/end"].middle == pytest.approx((far, 5, 15), abs=1e-6)
        assert bench.volume(post) == pytest.approx(broad * 160 + 6 * math.pi * 2.25 * 5 + 45, rel=1e-6)
