"""Built cases with a truth that is known by hand: overlaps, beds, flares; what must be found, and what must not."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import pytest
from building import Bench, Feeder, findings, flat

from dovejoint.core.document import new_project
from dovejoint.core.profiles import DEFAULT_PROFILE
from dovejoint.core.solid import Frame
from dovejoint.core.solid.hanging import hanging

F, H = DEFAULT_PROFILE.flare_mm, DEFAULT_PROFILE.flare_height_mm


def two(second: Callable[[Bench], str], role: str = "printed") -> Bench:
    """A block of 20 × 20 × 10 round the middle, and something else."""
    bench = Bench(new_project("Two"))
    bench.extrude(bench.rectangle("20 mm", "20 mm"), "10 mm", "Block")
    other = second(bench)
    bench.do("EditPart", part=other, role=role)
    return bench


def box(width: float, depth: float, tall: float, at: tuple[float, float], **more: Any) -> Callable[[Bench], str]:
    return lambda b: b.extrude(b.rectangle(f"{width} mm", f"{depth} mm", at=at), f"{tall} mm", "Other", **more)[1]


def pin(radius: float, at: tuple[float, float], tall: float) -> Callable[[Bench], str]:
    def make(bench: Bench) -> str:
        (sketch,) = bench.do("AddStep", kind="sketch", fields={})
        bench.do("DrawCircle", step=sketch, centre=list(at), radius=radius)
        return bench.extrude(sketch, f"{tall} mm", "Other")[1]

    return make


#: what it is, how it is made, and the volume that is shared, mm³
OVERLAPS: list[tuple[str, Callable[[], Bench], float | None]] = [
    ("one in the other", lambda: two(box(4, 4, 5, (0, 0))), 80.0),
    ("a corner in a corner", lambda: two(box(4, 4, 5, (10, 10))), 20.0),
    ("a tenth of a millimetre over a whole side", lambda: two(box(10, 10, 10, (14.9, 0))), 10.0),
    ("a pin through", lambda: two(pin(2, (0, 0), 14)), 40 * math.pi),
    ("half of a pin", lambda: two(pin(2, (10, 0), 5)), 10 * math.pi),
    ("bought, and in the way", lambda: two(box(4, 4, 5, (0, 0)), "bought"), 80.0),
    ("side by side", lambda: two(box(10, 10, 10, (15, 0))), None),
    ("edge on edge", lambda: two(box(10, 10, 10, (15, 15))), None),
    ("a hundredth apart", lambda: two(box(10, 10, 10, (15.01, 0))), None),
    ("there for reference only", lambda: two(box(4, 4, 5, (0, 0)), "reference"), None),
]  # fmt: skip


@pytest.mark.parametrize(("name", "make", "volume"), OVERLAPS, ids=[c[0] for c in OVERLAPS])
def test_overlaps(name: str, make: Callable[[], Bench], volume: float | None) -> None:
    found = findings(make(), "overlap")
    assert len(found) == (volume is not None), found
    if volume is not None:
        assert float(found[0]["figure"].split()[0]) == pytest.approx(volume, rel=1e-3)


def laid(width: float, depth: float, tall: float, turn_deg: float = 0.0, side: bool = False) -> Bench:
    bench = Bench(new_project("Bed"))
    body, part = bench.extrude(bench.rectangle(f"{width} mm", f"{depth} mm"), f"{tall} mm", "Beam")
    more = {"face": flat(bench, part, _side(bench, part))} if side else {}
    bench.do("LayPart", part=part, turn_deg=turn_deg, **more)
    return bench


def _side(bench: Bench, part: str) -> str:
    faces = bench.evaluate().parts[part].faces
    return next(f.names[0] for f in faces if f.normal[0] > 0.9)


#: a bed of 220 × 220 × 250 with 4 mm kept free leaves 212: whether there is room, and whether the advice is to turn
BEDS: list[tuple[str, Callable[[], Bench], str | None]] = [
    ("exactly as wide as is free", lambda: laid(212, 20, 10), None),
    ("half a millimetre more", lambda: laid(212.5, 20, 10), "turned by"),
    ("fits the bed, not its margins", lambda: laid(218, 218, 10), "Make it smaller"),
    ("cornerwise and laid so", lambda: laid(260, 20, 10, 45.0), None),
    ("cornerwise, laid straight", lambda: laid(260, 20, 10), "turned by"),
    ("longer than any diagonal", lambda: laid(300, 20, 10), "Make it smaller"),
    ("exactly as high as there is room", lambda: laid(20, 20, 250), None),
    ("too high, but not on its side", lambda: laid(20, 20, 251), "turned by|another side|Make it smaller"),
    ("laid on its end it is too high", lambda: laid(251, 20, 20, 0.0, True), "another side|Make it smaller"),
    ("laid on its end it stands", lambda: laid(249, 20, 20, 0.0, True), None),
]  # fmt: skip


@pytest.mark.parametrize(("name", "make", "advice"), BEDS, ids=[c[0] for c in BEDS])
def test_beds(name: str, make: Callable[[], Bench], advice: str | None) -> None:
    found = findings(make(), "bed")
    assert len(found) == (advice is not None), found
    if advice is not None:
        assert any(a in found[0]["advice"] for a in advice.split("|")), found[0]["advice"]


def hub(**fields: Any) -> Bench:
    """A block of 20 with a bore of Ø 8 through it, standing on one mouth, and a shaft in it."""
    bench = Bench(new_project("Hub"))
    _, block = bench.extrude(bench.rectangle("30 mm", "30 mm"), "20 mm", "Hub")
    (sketch,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawCircle", step=sketch, centre=[0, 0], on="origin", radius=4, diameter="8 mm")
    bench.extrude(sketch, "20 mm", block, "cut")
    wall = next(f.names[0] for f in bench.evaluate().parts[block].faces if f.kind == "cylinder")
    bench.do(
        "AddStep", kind="shaft_in_bore", new_part={"name": "Pin"}, fields={"bore": flat(bench, block, wall), **fields}
    )
    return bench


def feeder(**fields: Any) -> Feeder:
    """The feeder on its open rim; its floor lies on its plate."""
    bench = Feeder()
    bench.do("EditStep", step=bench.lip, fields=fields)
    return bench


def chamfered(leg: float) -> Bench:
    """The rim's mouth chamfered by a step of its own, not by the joint."""
    bench = feeder(mouth="0 mm")
    state = bench.evaluate().parts[bench.hopper]
    walls = {i for n in bench.evaluate().made[bench.lip].joint.mates[0].outer for i in state.solid.find(n)}
    seat = set(state.solid.find(bench.rim))
    edge = next(
        e for e, (_, (a, b)) in zip(state.edges, state.solid.edges, strict=True) if len({a, b} & walls) == 1 and {a, b} & seat
    )  # fmt: skip
    pick = {"rule": "edges", "part": bench.hopper, "edges": [{"name": edge.name}]}
    bench.do("AddStep", kind="chamfer", fields={"edges": pick, "distance": f"{leg} mm"})
    assert bench.message(bench.project.recipe[-1].id) == ""
    return bench


def tipped(longer: float) -> Bench:
    """A lid printed on the end of its lip, with a peg in it that stands out further by so much (or not so far)."""
    bench = feeder(lead="0 mm", mouth=f"{H} mm")
    faces = bench.evaluate().parts[bench.floor].faces
    end = max((f for f in faces if f.kind == "plane" and f.normal[2] > 0.9), key=lambda f: f.at[2])
    bench.do("LayPart", part=bench.floor, face=flat(bench, bench.floor, end.names[0]))
    (sketch,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawCircle", step=sketch, centre=[0, 0], radius=3)
    bench.extrude(sketch, f"{end.at[2] + longer} mm", bench.floor, "add")
    return bench


#: what it is, how it is made, and what of the flare is left a side, mm
FLARES: list[tuple[str, Callable[[], Bench], float | None]] = [
    ("an open rim lies down, its mouth chamfered by 0.3", lambda: feeder(), F * (1 - 0.3 / H)),
    ("a sharp rim lies down", lambda: feeder(mouth="0 mm"), F),
    ("a rim chamfered as high as it flares", lambda: feeder(mouth=f"{H} mm"), None),
    ("a rim chamfered by a later step", lambda: chamfered(0.3), F * (1 - 0.3 / H)),
    ("a rim chamfered enough by a later step", lambda: chamfered(0.5), None),
    ("a bore through, its shaft ends above the bed", lambda: hub(), None),
    ("a bore through, its shaft reaches the bed", lambda: hub(depth="20 mm", lead="0 mm", mouth="0 mm"), F),
    ("a bore through, put in from the bed's side", lambda: hub(end="lower", mouth="0 mm", lead="1 mm"), F),
    ("the same with a wide mouth", lambda: hub(end="lower", mouth="0.5 mm", lead="1 mm"), None),
    ("a lid on the end of its lip", lambda: tipped(-1.0), F),
    ("a peg keeps the end of the lip off the bed", lambda: tipped(2.0), None),
]  # fmt: skip


@pytest.mark.parametrize(("name", "make", "left"), FLARES, ids=[c[0] for c in FLARES])
def test_flares(name: str, make: Callable[[], Bench], left: float | None) -> None:
    bench = make()
    found = findings(bench, "flare")
    if left is None:
        assert found == []
    else:
        assert float(found[0]["figure"].split()[0]) == pytest.approx(left, abs=0.006)


# ---- what hangs over ---------------------------------------------------------------------------------------------


def stacked(*bodies: dict[str, str], cut: dict[str, str] | None = None) -> Bench:
    """Bodies added to one another, then one taken away; each from its own height over the ground."""
    bench = Bench(new_project("Stacked"))
    part = ""
    for fields, operation in [*((b, "add") for b in bodies), *([(cut, "cut")] if cut else [])]:
        fields = {
            **fields,
            "on": {"rule": "fixed", "origin": [0, 0, float(fields.get("at", 0))], "x": [1, 0, 0], "y": [0, 1, 0]},
        }
        fields.pop("at", None)
        if not part:
            (_, part) = bench.do("AddStep", kind="body", fields=fields, new_part={"name": "Stack"})
        else:
            bench.do("AddStep", kind="body", fields={**fields, "operation": operation, "part": part})
    return bench


def block(wide: float, deep: float, high: float, at: float, right: float = 0.0) -> dict[str, str]:
    return {"wide": f"{wide} mm", "deep": f"{deep} mm", "high": f"{high} mm", "at": str(at), "right": f"{right} mm"}


def disc(across: float, high: float, at: float, **more: str) -> dict[str, str]:
    return {"shape": "cylinder", "across": f"{across} mm", "high": f"{high} mm", "at": str(at), **more}


#: what it is, how it is made, and of each underside: its area, whether it is held on two sides, and over how much air it goes
HANGS: list[tuple[str, Callable[[], Bench], list[tuple[float, bool, float]]]] = [
    ("a block on the bed", lambda: stacked(block(20, 20, 10, 0)), []),
    ("a table", lambda: stacked(block(10, 20, 20, 0), block(40, 20, 5, 20)), [(300, False, 15), (300, False, 15)]),
    ("a gate", lambda: stacked(block(5, 20, 20, 0), block(5, 20, 20, 0, 17), block(22, 20, 5, 20, 8.5)), [(240, True, 12)]),
    ("a mushroom", lambda: stacked(disc(10, 20, 0), disc(16, 5, 20)), [(math.pi * (64 - 25), False, 3)]),
    ("the roof of a room", lambda: stacked(block(30, 30, 20, 0), cut=block(14, 20, 10, 5)), [(280, True, 14)]),
    ("the shoulder of a bore from below", lambda: stacked(disc(30, 10, 0), disc(12, 10, 0), cut=disc(20, 6, 0)), [(math.pi * 100, True, 20)]),
    ("a cone that widens by 45 degrees", lambda: stacked({"shape": "cone", "across": "10 mm", "top": "30 mm", "high": "10 mm"}), []),
    ("a cone that widens by 70 degrees", lambda: stacked({"shape": "cone", "across": "4 mm", "top": "48 mm", "high": "8 mm"}), [(math.pi * 26 * math.hypot(22, 8), False, 22)]),
    ("two lumps, one over the other", lambda: stacked(block(10, 10, 5, 0), block(10, 10, 5, 8)), [(100, False, math.inf)]),
]  # fmt: skip


@pytest.mark.parametrize(("name", "make", "truth"), HANGS, ids=[c[0] for c in HANGS])
def test_what_hangs_over(name: str, make: Callable[[], Bench], truth: list[tuple[float, bool, float]]) -> None:
    (state,) = make().evaluate().parts.values()
    found = hanging(state.mesh, Frame((0, 0, 0), (1, 0, 0), (0, 1, 0)), range(len(state.faces)))
    assert [(h.area_mm2, h.bridged, h.over_mm) for h in found] == [
        (pytest.approx(area, rel=0.02), bridged, pytest.approx(over, abs=0.5)) for area, bridged, over in truth
    ]


def test_part_of_an_underside_is_held_by_what_holds_the_whole() -> None:
    """A roof over 9 mm of which one triangle is asked about: its beads run on through the other."""
    (state,) = stacked(block(30, 30, 20, 0), cut=block(9, 20, 10, 5)).evaluate().parts.values()
    roof = next(i for i, f in enumerate(state.faces) if f.kind == "plane" and f.normal[2] < -0.9 and f.at[2] > 1)
    first, count = state.mesh.faces[roof]
    assert count == 2
    half = replace(state.mesh, faces=[(first, 1)])
    (found,) = hanging(half, Frame((0, 0, 0), (1, 0, 0), (0, 1, 0)), [0])
    assert found.area_mm2 == pytest.approx(90) and found.bridged and found.over_mm == pytest.approx(9, abs=0.5)


def test_a_joint_is_told_that_it_hangs_over_until_its_part_is_laid_otherwise() -> None:
    bench = Bench(new_project("Post"))
    ground = {"rule": "base", "plane": "ground"}
    sizes = {"wide": "30 mm", "deep": "30 mm", "high": "40 mm", "on": ground}
    body, post = bench.do("AddStep", kind="body", fields=sizes, new_part={"name": "Post"})
    cut = {"rule": "fixed", "origin": [0, 0, 20], "x": [1, 0, 0], "y": [0, 1, 0]}
    step, foot = bench.do("AddStep", kind="split", fields={"part": post, "plane": cut}, new_part={"name": "Foot"})
    (found,) = findings(bench, "overhang")
    # its pegs stand on the bed, and the cut lies over it
    assert found["parts"] == [post] and found["joint"] == step
    assert float(found["says"].split(": ")[1].split()[0]) == pytest.approx(30 * 30 - 2 * math.pi * 9, rel=0.05)
    bench.do("LayPart", part=post, face=flat(bench, post, f"{body}/end"))
    assert findings(bench, "overhang") == []
