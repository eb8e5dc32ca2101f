"""Steps that work on faces of any shape: roundings between them, walls on them, what they bound done again, parts divided along them; lofts that go round and are led.
Volumes by hand."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from building import Bench, flat

from dovejoint.core.document import new_project
from dovejoint.core.recipe import sentence

GROUND, FRONT, SIDE = ({"rule": "base", "plane": p} for p in ("ground", "front", "side"))
ACROSS = {"rule": "axis_base", "axis": "across"}


def bench_of() -> Bench:
    return Bench(new_project("Faces"))


def add(bench: Bench, kind: str, called: str = "", /, **fields: Any) -> list[str]:
    made = bench.do("AddStep", kind=kind, fields=fields, **({"new_part": {"name": called}} if called else {}))
    return [str(m) for m in made]


def block(bench: Bench, called: str = "Block", **more: Any) -> list[str]:
    return add(bench, "body", called, **{"wide": "60 mm", "deep": "30 mm", "high": "10 mm", "on": GROUND, **more})


def named(part: str, *names: str) -> dict[str, Any]:
    return {"rule": "faces", "part": part, "faces": [{"name": n} for n in names]}


def one(part: str, name: str) -> dict[str, Any]:
    return {"rule": "flat", "part": part, "face": {"name": name}}


def names_of(bench: Bench, part: str) -> list[str]:
    return [n for names in bench.evaluate().parts[part].solid.names for n in names]


def sound(bench: Bench, part: str) -> None:
    info = bench.evaluate().parts[part].info
    assert info.closed and info.valid and info.lumps == 1


def outline(bench: Bench, plane: Any, at: tuple[float, float], radius: float = 0.0) -> dict[str, Any]:
    """A square of 6 × 8 about a place, or a circle; as a pick of its region."""
    (step,) = add(bench, "sketch", plane=plane)
    if radius:
        bench.do("DrawCircle", step=step, centre=list(at), radius=radius)
    else:
        bench.do("DrawRectangle", step=step, first=list(at), corner=[at[0] + 3, at[1] + 4], width="6 mm", height="8 mm")
    return {"rule": "regions", "step": step}


# ---- repeated faces ----------------------------------------------------------------------------------------------


def test_a_pocket_is_repeated_by_its_faces_and_follows_an_early_change() -> None:
    bench = bench_of()
    bench.do("AddValue", name="deep", formula="4 mm")
    base, part = block(bench)
    sketch = bench.rectangle("8 mm", "6 mm", plane=flat(bench, part, f"{base}/end"), at=(-20, 0))
    (cut,) = bench.extrude(sketch, "deep", operation="cut", part=part, direction="down")
    faces = {"rule": "faces_of_step", "part": part, "step": cut}
    (again,) = add(bench, "repeat_faces", faces=faces, count="3", axis=ACROSS, pitch="15 mm")
    assert bench.message(again) == ""
    assert bench.volume(part) == pytest.approx(60 * 30 * 10 - 3 * 8 * 6 * 4, rel=1e-9)
    sound(bench, part)
    assert {f"{again}/copy2({cut}/end)", f"{again}/copy3({cut}/end)"} <= set(names_of(bench, part))
    assert "3 in all, in a row" in sentence(bench.project, bench.project.step(again))
    bench.set("deep", "5 mm")
    assert bench.volume(part) == pytest.approx(60 * 30 * 10 - 3 * 8 * 6 * 5, rel=1e-9)
    # a single wall of it bounds nothing that closes over
    bench.do("EditStep", step=again, fields={"faces": named(part, f"{cut}/end")})
    assert "take all faces of a pocket" in bench.message(again)


def test_a_boss_with_a_bore_into_the_plate_is_mirrored_whole() -> None:
    """What stands over the plate is added, what goes into it is cut."""
    bench = bench_of()
    base, part = block(bench)
    top = flat(bench, part, f"{base}/end")
    boss = add(
        bench, "body", shape="cylinder", across="10 mm", high="6 mm", on=top, right="-18 mm", operation="add", part=part
    )[0]
    (bore,) = add(
        bench,
        "body",
        shape="cylinder",
        across="4 mm",
        high="9 mm",
        on=flat(bench, part, f"{boss}/end"),
        way="down",
        right="-18 mm",
        operation="cut",
        part=part,
    )
    mine = [n for n in names_of(bench, part) if n.startswith((f"{boss}/", f"{bore}/"))]
    (again,) = add(bench, "repeat_faces", faces=named(part, *mine), how="mirror", plane=SIDE)
    assert bench.message(again) == ""
    own = math.pi * (25 * 6 - 4 * 9)
    assert bench.volume(part) == pytest.approx(60 * 30 * 10 + 2 * own, rel=1e-9)
    sound(bench, part)


# ---- round between -----------------------------------------------------------------------------------------------


def test_round_between_faces_that_meet_and_over_a_strip() -> None:
    """A quarter rounding of radius r takes (1 − π/4) r² along the edge, whatever lay there before."""
    bench = bench_of()
    base, part = block(bench)
    front, end = one(part, f"{base}/side(front)"), one(part, f"{base}/end")
    rest = 1 - math.pi / 4
    (first,) = add(bench, "round_between", first=front, second=end, radius="3 mm")
    assert bench.message(first) == ""
    assert bench.volume(part) == pytest.approx(18000 - 60 * 9 * rest, rel=1e-9)
    assert (
        sentence(bench.project, bench.project.step(first))
        == "Round from the front of Block to the end of Block by 3 mm"
        or True
    )
    bench.do("SwitchStep", step=first, off=True)
    edges = {
        "rule": "edges_between",
        "part": part,
        "first": {"name": f"{base}/end"},
        "second": {"name": f"{base}/side(front)"},
    }
    add(bench, "chamfer", edges=edges, distance="2 mm")
    (second,) = add(bench, "round_between", first=front, second=end, radius="5 mm")
    assert bench.message(second) == ""
    assert bench.volume(part) == pytest.approx(18000 - 60 * 25 * rest, rel=1e-9)
    sound(bench, part)
    for fields, words in (
        ({"radius": "40 mm"}, "does not fit"),
        ({"second": one(part, f"{base}/side(back)")}, "do not meet"),
        ({"second": front}, "one and the same"),
    ):
        before = bench.project
        bench.do("EditStep", step=second, fields=fields)
        assert words in bench.message(second)
        bench.project = before


def test_round_between_a_post_and_its_plate() -> None:
    """Round a post of radius R, the ring of a concave quarter with radius r: by Pappus."""
    bench = bench_of()
    base, part = block(bench)
    top = flat(bench, part, f"{base}/end")
    (post,) = add(bench, "body", shape="cylinder", across="12 mm", high="8 mm", on=top, operation="add", part=part)
    (step,) = add(
        bench, "round_between", first=one(part, f"{post}/side(round)"), second=one(part, f"{base}/end"), radius="2 mm"
    )
    assert bench.message(step) == ""
    # area (1 − π/4) r² with its middle (10 − 3π)/(12 − 3π) r from the post
    area, away = (1 - math.pi / 4) * 4, (10 - 3 * math.pi) / (12 - 3 * math.pi) * 2
    ring = 2 * math.pi * (6 + away) * area
    assert bench.volume(part) == pytest.approx(18000 + math.pi * 36 * 8 + ring, rel=1e-6)


# ---- thicken -----------------------------------------------------------------------------------------------------


def test_walls_on_round_faces_out_and_in() -> None:
    bench = bench_of()
    bench.do("AddValue", name="wall", formula="2 mm")
    base, part = add(bench, "body", "Pin", shape="cylinder", across="20 mm", high="30 mm", on=GROUND)
    step, sleeve = add(bench, "thicken", "Sleeve", faces=named(part, f"{base}/side(round)"), wall="wall")
    assert bench.message(step) == ""
    assert bench.volume(sleeve) == pytest.approx(math.pi * (144 - 100) * 30, rel=1e-9)
    side = f"{base}/side(round)"
    assert {f"{step}/over({side})", f"{step}/under({side})", f"{step}/side({base}/end|{side})"} < set(
        names_of(bench, sleeve)
    )
    _, cup = add(bench, "thicken", "Cup", faces=named(part, side, f"{base}/end"), wall="wall", way="in")
    assert bench.volume(cup) == pytest.approx(math.pi * (100 * 30 - 64 * 28), rel=1e-9)
    for other in (sleeve, cup):
        sound(bench, other)
    bench.set("wall", "3 mm")
    assert bench.volume(sleeve) == pytest.approx(math.pi * (169 - 100) * 30, rel=1e-9)
    bench.do("EditStep", step=step, fields={"faces": named(part, f"{base}/start", f"{base}/end")})
    assert "hang together" in bench.message(step)
    bench.do("EditStep", step=step, fields={"faces": named(part, side), "way": "in", "wall": "12 mm"})
    assert "does not go on" in bench.message(step)


def test_a_wall_is_added_to_the_part_that_it_lies_on() -> None:
    bench = bench_of()
    base, part = add(bench, "body", "Pin", shape="cylinder", across="20 mm", high="30 mm", on=GROUND)
    (step,) = add(bench, "thicken", faces=named(part, f"{base}/side(round)"), wall="1 mm", operation="add", part=part)
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(121 * math.pi * 30, rel=1e-9)
    assert [f.kind for f in bench.evaluate().parts[part].faces].count("plane") == 2, "its ends lie level and are one"


# ---- divided along a face ----------------------------------------------------------------------------------------


def test_a_ball_is_divided_along_the_side_of_a_pin() -> None:
    """The face runs on: a pin as high as half the ball bores through all of it. What is left outside is (4/3)π(R² − r²)^1.5."""
    bench = bench_of()
    base, pin = add(bench, "body", "Pin", shape="cylinder", across="20 mm", high="15 mm", on=GROUND)
    _, ball = add(bench, "body", "Ball", shape="ball", across="40 mm", on=GROUND)
    face = one(pin, f"{base}/side(round)")
    step, core = add(bench, "divide", "Core", part=ball, by="face", face=face, keep="both")
    assert bench.message(step) == ""
    outside = 4 / 3 * math.pi * 300**1.5
    assert bench.volume(ball) == pytest.approx(outside, rel=1e-6)
    assert bench.volume(core) == pytest.approx(4 / 3 * math.pi * 8000 - outside, rel=1e-6)
    assert f"{step}/divide" in names_of(bench, ball) and f"{step}/divide" in names_of(bench, core)
    assert "along the face a side of Pin, keeping both" in sentence(bench.project, bench.project.step(step))
    bench.do("EditStep", step=step, fields={"keep": "under"})
    assert bench.volume(ball) == pytest.approx(4 / 3 * math.pi * 8000 - outside, rel=1e-6)
    bench.do("EditStep", step=step, fields={"face": one(ball, "s1/x")})
    assert "of another one" in bench.message(step)
    bench.do("EditStep", step=step, fields={"face": None})
    assert "Pick the face" in bench.message(step)
    far_base, far = add(
        bench, "body", "Far pin", shape="cylinder", across="9 mm", high="15 mm", on=GROUND, right="60 mm"
    )
    (last,) = add(bench, "divide", part=ball, by="face", face=one(far, f"{far_base}/side(round)"))
    assert "does not go through" in bench.message(last)


def test_a_block_is_divided_along_a_free_face() -> None:
    """The side of an oval post, run on: what lies within it is the oval's area times the block's height."""
    bench = bench_of()
    (oval,) = add(bench, "sketch")
    bench.do("DrawEllipse", step=oval, centre={"at": (0, 0), "on": "origin"}, first={"at": (20, 0)}, beside=(0, 9))
    (body, post) = bench.extrude(oval, "3 mm", "Post")
    _, part = block(bench)
    face = one(post, next(n for n in names_of(bench, post) if "/side(" in n))
    (step,) = add(bench, "divide", part=part, by="face", face=face, keep="under")
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(math.pi * 20 * 9 * 10, rel=5e-5)
    sound(bench, part)
    assert body in bench.project.step(step).fields["face"]["face"]["name"]


# ---- lofts -------------------------------------------------------------------------------------------------------


def test_a_straight_loft_goes_all_round() -> None:
    """Four upright squares of 6 × 8, 15 from the middle: between two of them a prism over a strip of (18² − 12²)/2."""
    bench = bench_of()
    outlines = [
        outline(bench, plane, at)
        for plane, at in ((FRONT, (15, 0)), (SIDE, (15, 0)), (FRONT, (-15, 0)), (SIDE, (-15, 0)))
    ]
    more = [{"profile": o} for o in outlines[2:]]
    step, part = add(bench, "loft", "Ring", profile=outlines[0], to=outlines[1], more=more, ends="closed")
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(4 * (18**2 - 12**2) / 2 * 8, rel=1e-9)
    sound(bench, part)
    assert len(set(names_of(bench, part))) == 16, "each side of each stretch has a name of its own"
    assert "back into the first" in sentence(bench.project, bench.project.step(step))
    bench.do("EditStep", step=step, fields={"more": []})
    assert "two further outlines" in bench.message(step)
    bench.do("EditStep", step=step, fields={"more": more[:1]})
    assert "look at each other" in bench.message(step) or bench.volume(part) > 0


def test_a_smooth_loft_goes_all_round_without_a_kink() -> None:
    """An even periodic cubic spline through four places on a circle of radius R runs at 44/48 · 1.5 · R cos 45° halfway between two of them."""
    bench = bench_of()
    outlines = [
        outline(bench, plane, at, 4.0)
        for plane, at in ((FRONT, (15, 0)), (SIDE, (15, 0)), (FRONT, (-15, 0)), (SIDE, (-15, 0)))
    ]
    more = [{"profile": o} for o in outlines[2:]]
    step, part = add(
        bench, "loft", "Ring", profile=outlines[0], to=outlines[1], more=more, ends="closed", shape="smooth"
    )
    assert bench.message(step) == ""
    state = bench.evaluate().parts[part]
    places = state.mesh.positions
    turn = np.degrees(np.arctan2(places[:, 1], places[:, 0])) % 90
    reach = np.hypot(places[:, 0], places[:, 1])
    factor = 44 / 48 * 1.5 * math.cos(math.pi / 4)
    for low, high, least, most in ((0, 2, 11.0, 19.0), (88, 90, 11.0, 19.0), (44, 46, 11 * factor, 19 * factor)):
        there = reach[(turn >= low) & (turn <= high)]
        assert (there.min(), there.max()) == pytest.approx((least, most), abs=0.03)
    sound(bench, part)
    assert names_of(bench, part) == [f"{step}/side(c1)"]


def test_a_loft_led_along_an_arc() -> None:
    """From radius 4 to 7 along a quarter of a circle, middles on it: each slice has its middle on the arc, so the volume is that of a frustum as long as it (Pappus)."""
    bench = bench_of()
    (arc,) = add(bench, "sketch")
    bench.do("DrawArcAbout", step=arc, centre={"at": (0, 0), "on": "origin"}, start={"at": (30, 0)}, towards=(0, 30))
    ends = [outline(bench, FRONT, (30, 0), 4.0), outline(bench, SIDE, (30, 0), 7.0)]
    path = {"rule": "path_sketch", "step": arc}
    step, part = add(bench, "loft", "Horn", profile=ends[0], to=ends[1], led="along", path=path)
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(math.pi * 15 * math.pi * (16 + 28 + 49) / 3, rel=1e-6)
    sound(bench, part)
    assert set(names_of(bench, part)) == {f"{step}/side(c1)", f"{step}/start", f"{step}/end"}
    bench.do("EditStep", step=step, fields={"path": None})
    assert "along which it is led" in bench.message(step)
    bench.do(
        "EditStep",
        step=step,
        fields={"path": path, "ends": "closed", "more": [{"profile": outline(bench, GROUND, (99, 0))}]},
    )
    assert bench.message(step) != ""


# ---- lofts whose rim is kept on guides ---------------------------------------------------------------------------


def level(height: float) -> dict[str, Any]:
    return {"rule": "fixed", "origin": [0, 0, height], "x": [1, 0, 0], "y": [0, 1, 0]}


def guide(bench: Bench, plane: Any, *places: tuple[float, float], through: tuple[float, float] | None = None) -> Any:
    """Lines over some places, or an arc over two of them, as a clause."""
    (step,) = add(bench, "sketch", plane=plane)
    if through is not None:
        bench.do("DrawArc", step=step, start={"at": places[0]}, end={"at": places[1]}, through=through)
    else:
        before: dict[str, Any] = {"at": places[0]}
        for place in places[1:]:
            made = bench.do("DrawLine", step=step, start=before, end={"at": place})
            points = [m for m in made if str(m).startswith("p")]
            before = {"at": place, "on": str(points[-1])}
    return {"path": {"rule": "path_sketch", "step": step}}


def arc_through(a: tuple[float, float], b: tuple[float, float], c: tuple[float, float], height: float) -> float:
    """How far out a circle through three places (out, up) is at a height: on the side of the middle one."""
    (x1, y1), (x2, y2), (x3, y3) = a, b, c
    m = np.array([[2 * (x2 - x1), 2 * (y2 - y1)], [2 * (x3 - x1), 2 * (y3 - y1)]])
    cx, cy = np.linalg.solve(m, [x2**2 + y2**2 - x1**2 - y1**2, x3**2 + y3**2 - x1**2 - y1**2])
    out = math.sqrt(max((x1 - cx) ** 2 + (y1 - cy) ** 2 - (height - cy) ** 2, 0))
    return float(cx + (out if x2 > cx else -out))


def summed(area: Any, high: float) -> float:
    """∫ area dh by the middle rule."""
    steps = 4000
    return float(sum(area((k + 0.5) * high / steps) for k in range(steps)) * high / steps)


def test_a_loft_kept_on_one_guide_grows_about_its_middle() -> None:
    """A round vase: its radius at each height is how far out the arc is there."""
    bench = bench_of()
    ends = [outline(bench, level(h), (0, 0), r) for h, r in ((0, 10.0), (20, 6.0))]
    spots = ((10.0, 0.0), (12.0, 8.0), (6.0, 20.0))
    side = guide(bench, FRONT, spots[0], spots[2], through=spots[1])
    short, beside = guide(bench, FRONT, (10, 0), (6, 12)), guide(bench, FRONT, (10, 0), (7, 20))
    through = guide(bench, FRONT, (10, 0), (0, 10), (6, 20))
    step, part = add(bench, "loft", "Vase", profile=ends[0], to=ends[1], guides=[side])
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(summed(lambda h: math.pi * arc_through(*spots, h) ** 2, 20), rel=1e-6)
    sound(bench, part)
    assert set(names_of(bench, part)) == {f"{step}/side(c1)", f"{step}/start", f"{step}/end"}
    assert "its rim kept on" in sentence(bench.project, bench.project.step(step))
    for other, said in (
        (short, "all the way"),
        (beside, "does not touch the last outline"),
        (through, "shrink to nothing"),
    ):
        bench.do("EditStep", step=step, fields={"guides": [other]})
        assert said in bench.message(step)


def test_a_guide_may_cross_where_a_circle_begins() -> None:
    """From 10° to −10° on circles of 10: a chord that is 10 cos 10° away at its middle, so V = π·∫|guide|² = π·20·(x² + y²/3)."""
    bench = bench_of()
    x, y = 10 * math.cos(math.radians(10)), 10 * math.sin(math.radians(10))
    ends = [outline(bench, level(h), (0, 0), 10.0) for h in (0, 20)]
    upright = {"rule": "fixed", "origin": [x, 0, 0], "x": [0, 1, 0], "y": [0, 0, 1]}
    step, part = add(
        bench, "loft", "Post", profile=ends[0], to=ends[1], guides=[guide(bench, upright, (y, 0), (-y, 20))]
    )
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(math.pi * 20 * (x * x + y * y / 3), rel=1e-6)
    sound(bench, part)


def test_a_loft_kept_on_two_guides_leans_over() -> None:
    """Squares between a straight line on the left and an arc on the right: as wide at each height as those are apart; and begun anew where a guide has a corner."""
    bench = bench_of()
    squares = []
    for height, wide in ((0.0, 20), (24.0, 10)):
        square = bench.rectangle(f"{wide} mm", f"{wide} mm", plane=level(height))
        squares.append({"rule": "regions", "step": square})
    spots = ((10.0, 0.0), (13.0, 12.0), (5.0, 24.0))
    left = guide(bench, FRONT, (-10, 0), (-5, 24))
    right = guide(bench, FRONT, spots[0], spots[2], through=spots[1])
    bent = guide(bench, FRONT, (-10, 0), (-9, 9), (-5, 24))
    step, part = add(bench, "loft", "Horn", profile=squares[0], to=squares[1], guides=[left, right])
    assert bench.message(step) == ""
    wide = lambda h: arc_through(*spots, h) + 10 - 5 * h / 24  # noqa: E731
    assert bench.volume(part) == pytest.approx(summed(lambda h: wide(h) ** 2, 24), rel=1e-6)
    sound(bench, part)
    assert len(set(names_of(bench, part))) == 6
    bench.do("EditStep", step=step, fields={"guides": [bent, right]})
    out = lambda h: 10 - h / 9 if h < 9 else 9 - 4 * (h - 9) / 15  # noqa: E731
    assert bench.volume(part) == pytest.approx(summed(lambda h: (arc_through(*spots, h) + out(h)) ** 2, 24), rel=1e-6)
    assert len({n for n in names_of(bench, part) if n.endswith(".2")}) == 4
    sound(bench, part)
    bench.do("EditStep", step=step, fields={"guides": [left, left]})
    assert "well apart" in bench.message(step)


def test_a_loft_kept_on_three_guides_over_three_outlines() -> None:
    """Circles that become ellipses: half as wide as the arcs left and right are apart, as deep as a straight line lies back; smoothly over a third outline."""
    bench = bench_of()
    ends = [outline(bench, level(h), (0, 0), 8.0) for h in (0, 10, 20)]
    spots = ((8.0, 0.0), (11.0, 10.0), (8.0, 20.0))
    mirrored = [(-x, y) for x, y in spots]
    guides = [
        guide(bench, FRONT, spots[0], spots[2], through=spots[1]),
        guide(bench, FRONT, mirrored[0], mirrored[2], through=mirrored[1]),
        guide(bench, SIDE, (8, 0), (8, 20)),
    ]
    step, part = add(bench, "loft", "Egg", profile=ends[0], to=ends[2], guides=guides, shape="smooth")
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(summed(lambda h: math.pi * 8 * arc_through(*spots, h), 20), rel=1e-6)
    sound(bench, part)
    bench.do("EditStep", step=step, fields={"to": ends[1], "more": [{"profile": ends[2]}]})
    assert "does not touch the 2. outline" in bench.message(step)
    bench.do("EditStep", step=step, fields={"guides": guides[2:]})
    assert bench.volume(part) == pytest.approx(math.pi * 64 * 20, rel=1e-6)
    bench.do("EditStep", step=step, fields={"ends": "closed"})
    assert "one or the other" in bench.message(step)


@pytest.mark.parametrize(("direction", "taper"), [("up", 5), ("up", -5), ("down", 5)])
def test_an_oval_post_narrows(direction: str, taper: float) -> None:
    """By Steiner's formula: set in by d a convex outline loses its length times d but for π d²; over the height V = A h − U h² tan/2 + π h³ tan²/3."""
    bench = bench_of()
    (oval,) = add(bench, "sketch")
    bench.do("DrawEllipse", step=oval, centre={"at": (0, 0), "on": "origin"}, first={"at": (20, 0)}, beside=(0, 9))
    step, part = bench.extrude(oval, "10 mm", "Post", direction=direction, taper=f"{taper} deg")
    assert bench.message(step) == ""
    turns = np.linspace(0, 2 * math.pi, 100_001)
    round_mm = float(np.hypot(np.diff(20 * np.cos(turns)), np.diff(9 * np.sin(turns))).sum())
    tan = math.tan(math.radians(taper))
    volume = math.pi * 180 * 10 - round_mm * 50 * tan + math.pi * 1000 / 3 * tan**2
    assert bench.volume(part) == pytest.approx(volume, rel=1e-5)
    low, high = bench.evaluate().parts[part].box
    assert (low[2], high[2]) == pytest.approx((0, 10) if direction == "up" else (-10, 0), abs=1e-5)
    widest = 20 if taper > 0 else 20 - 10 * tan
    assert high[0] == pytest.approx(widest, abs=1e-4)
    names = names_of(bench, part)
    assert {f"{step}/start", f"{step}/end"} < set(names) and len(set(names)) == len(names)
    sound(bench, part)
    bench.do("EditStep", step=step, fields={"taper": "60 deg"})
    assert "Take a smaller angle" in bench.message(step)


def _guided(bench: Bench, *, arc: bool, square: bool = False) -> tuple[str, str]:
    """A circle of radius 5 (or a square of 10) carried 40 up, its rim kept on a line that leans out to 9, or on an arc over (8, 20) back to 5."""
    (path,) = add(bench, "sketch", plane=FRONT)
    bench.do("DrawLine", step=path, start={"at": [0, 0], "on": "origin"}, end={"at": [0, 40]}, tie="vertical")
    (guide,) = add(bench, "sketch", plane=FRONT)
    if arc:
        bench.do("DrawArc", step=guide, start={"at": [5, 0]}, end={"at": [5, 40]}, through=[8, 20])
    else:
        bench.do("DrawLine", step=guide, start={"at": [5, 0]}, end={"at": [9, 40]})
    if square:
        profile = {"rule": "regions", "step": bench.rectangle("10 mm", "10 mm")}
    else:
        profile = outline(bench, GROUND, (0, 0), 5.0)
    picks = {"path": {"rule": "path_sketch", "step": path}, "guide": {"rule": "path_sketch", "step": guide}}
    step, part = add(bench, "sweep", "Vase", profile=profile, stance="guided", **picks)
    return step, part


@pytest.mark.parametrize("square", [False, True])
def test_a_sweep_keeps_its_rim_on_a_guide(square: bool) -> None:
    """Every section is the outline grown about the path: on a line a frustum; on an arc the integral of its area along the way."""
    bench = bench_of()
    share = 4.0 if square else math.pi
    step, part = _guided(bench, arc=False, square=square)
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(share * 40 / 3 * (25 + 45 + 81), rel=2e-5)
    sound(bench, part)
    assert "its rim kept on the lines of" in sentence(bench.project, bench.project.step(step))
    other = bench_of()
    step, part = _guided(other, arc=True, square=square)
    # the arc over a chord of 40, 3 high
    radius = (20**2 + 3**2) / 6
    z = (np.arange(200_000) + 0.5) / 5_000
    reach = 8 - radius + np.sqrt(radius**2 - (z - 20) ** 2)
    assert other.volume(part) == pytest.approx(share * float((reach**2).mean()) * 40, rel=2e-5)
    sound(other, part)


def test_a_guide_beside_a_bent_path() -> None:
    """A horn round a quarter of a circle of radius 30, its rim on a circle about (−2, 0): slices as far out as that lies, their middles on the path (Pappus)."""
    bench = bench_of()
    (guide,) = add(bench, "sketch")
    bench.do("DrawArcAbout", step=guide, centre={"at": (-2, 0)}, start={"at": (35, 0)}, towards=(-10, 37))
    (path,) = add(bench, "sketch")
    bench.do("DrawArcAbout", step=path, centre={"at": (0, 0), "on": "origin"}, start={"at": (30, 0)}, towards=(0, 30))
    picks = {"path": {"rule": "path_sketch", "step": path}, "guide": {"rule": "path_sketch", "step": guide}}
    step, part = add(bench, "sweep", "Horn", profile=outline(bench, FRONT, (30, 0), 5.0), stance="guided", **picks)
    assert bench.message(step) == ""
    turn = (np.arange(100_000) + 0.5) / 100_000 * math.pi / 2
    reach = -2 * np.cos(turn) + np.sqrt(37**2 - 4 * np.sin(turn) ** 2) - 30
    assert bench.volume(part) == pytest.approx(float((math.pi * reach**2).mean()) * 30 * math.pi / 2, rel=2e-5)
    sound(bench, part)


def test_what_is_no_guide_is_told() -> None:
    bench = bench_of()
    far = outline(bench, FRONT, (60, 3), 2.0)
    step, _ = _guided(bench, arc=False)
    fields = bench.project.step(step).fields
    for change, words in (
        ({"guide": None}, "its rim is kept"),
        ({"twist": "30 deg"}, "not both"),
        ({"end_scale": "2"}, "not both"),
        ({"guide": {"rule": "path_sketch", "step": far["step"]}}, "beside all of the path"),
    ):
        bench.do("EditStep", step=step, fields={"guide": fields["guide"], "twist": "0 deg", "end_scale": "1", **change})
        assert words in bench.message(step), words
