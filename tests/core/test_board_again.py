"""The second look at the board: mirrors at the origin, repeats changed, places written, things called by name, roundings kept right."""

from __future__ import annotations

import itertools
import math
import random

import pytest
from building import Bench

from dovejoint.core.errors import CommandError
from dovejoint.core.sketch import (
    Sketch,
    add_circle,
    add_line,
    add_rectangle,
    at_rest,
    calling,
    change_repeat,
    constrain,
    drag,
    mirror,
    remove,
    repeat_in_rows,
    repeat_round,
    round_corners,
    size_up,
)  # fmt: skip
from dovejoint.core.sketch.neutral import solve_neutral
from dovejoint.core.sketch.words import describe


def _places(sketch: Sketch) -> dict[str, tuple[float, float]]:
    return {p.id: (round(p.x, 6), round(p.y, 6)) for p in sketch.points}


@pytest.mark.parametrize("sized", [False, True])
def test_a_shape_at_the_origin_is_mirrored_and_the_line_stays(sized: bool) -> None:
    sketch = add_line(Sketch(), ((0, 0), "origin"), ((20, 0), None), tie="horizontal")
    sketch = add_line(sketch, ((0, 0), "origin"), ((8, 6), None))
    sketch = add_line(sketch, ((30, -10), None), ((30, 25), None), tie="vertical")
    axis = sketch.curves[2].id
    sizes: dict[str, float] = {}
    if sized:
        sketch = size_up(sketch, "length", [axis], "35 mm", 35, sizes)
        sizes["d1"] = 35
    before = _places(sketch)
    done = at_rest(mirror(sketch, [sketch.curves[0].id, sketch.curves[1].id], axis), sizes)
    after = _places(done)
    # nothing that was there moved, and the copies lie across the line at 60 - x
    assert {k: after[k] for k in before} == before
    new = sorted(after[k] for k in after if k not in before)
    assert new == [(40, 0), (52, 6), (60, 0)]


def test_a_repeat_is_changed_and_what_hangs_on_its_copies_stays() -> None:
    sketch = add_circle(Sketch(), (0, 0), 2, on="origin", diameter="4 mm")
    grid = repeat_in_rows(sketch, ["c1"], (3, 2), ("10 mm", "12 mm"), (10, 12))
    figures = {d.id: _mm(d.formula) for d in grid.dimensions}
    grid = at_rest(grid, figures)
    middle = next(c for c in grid.repeats[0].copies if c.at == (1, 0)).names["c1"]
    # somebody draws a line from the centre of that copy
    centre = grid.curve(middle).points[0]  # type: ignore[union-attr]
    grid = add_line(grid, ((10, 0), centre), ((10, -20), None), tie="vertical")
    changed = change_repeat(grid, grid.repeats[0].id, (5, 1), ("8 mm", ""), (8, 0))
    changed = at_rest(changed, {d.id: _mm(d.formula) for d in changed.dimensions})
    rounds = [c for c in changed.curves if c.kind == "circle"]
    where = sorted((round(changed.point(c.points[0]).x, 6), round(changed.point(c.points[0]).y, 6)) for c in rounds)  # type: ignore[union-attr]
    assert where == [(0, 0), (8, 0), (16, 0), (24, 0), (32, 0)]
    same = next(c for c in changed.repeats[0].copies if c.at == (1, 0)).names["c1"]
    assert same == middle
    line = next(c for c in changed.curves if c.kind == "line")
    assert line.points[0] == changed.curve(same).points[0]  # type: ignore[union-attr]
    # the size of the first still drives all
    wider = at_rest(changed, {d.id: 6.0 if d.id == "d1" else _mm(d.formula) for d in changed.dimensions})
    assert {c.radius for c in wider.curves if c.kind == "circle"} == {3.0}


def test_a_ring_is_changed_and_what_was_left_out_stays_so() -> None:
    sketch = add_circle(Sketch(), (10, 0), 1)
    ring = repeat_round(sketch, ["c1"], "origin", 4)
    second = next(c for c in ring.repeats[0].copies if c.at == (2, 0)).names["c1"]
    ring = at_rest(remove(ring, [second]), {})
    more = at_rest(change_repeat(ring, "r1", (6, 1), ("", ""), (0, 0)), {})
    turns = sorted(
        round(math.degrees(math.atan2(more.point(c.points[0]).y, more.point(c.points[0]).x)) % 360, 4) % 360  # type: ignore[union-attr]
        for c in more.curves
    )
    assert turns == [0, 60, 180, 240, 300]
    fewer = at_rest(change_repeat(more, "r1", (2, 1), ("", ""), (0, 0)), {})
    assert len(fewer.curves) == 2
    # without its first one there is nothing to change
    assert remove(more, ["c1"]).repeats == []
    with pytest.raises(CommandError, match="not on the board"):
        change_repeat(more, "r9", (3, 1), ("", ""), (0, 0))


def test_a_closed_ring_of_notches_is_changed_and_stays_closed() -> None:
    def notch(count: int) -> Sketch:
        half = math.pi / count
        a, b = (10 * math.cos(-half), 10 * math.sin(-half)), (10 * math.cos(half), 10 * math.sin(half))
        sketch = add_line(Sketch(), (a, None), ((12, 0), None))
        return add_line(sketch, ((12, 0), sketch.curves[0].points[1]), (b, None))

    ring = at_rest(repeat_round(notch(6), ["l1", "l2"], "origin", 6), {})
    assert len(ring.points) == 12
    assert len(at_rest(change_repeat(ring, "r1", (6, 1), ("", ""), (0, 0)), {}).points) == 12


def _mm(formula: str) -> float:
    times, _, rest = formula.rpartition("*")
    return (float(times) if times else 1.0) * float(rest.strip("()").removesuffix(" mm"))


def test_things_are_called_by_what_they_are_and_where() -> None:
    sketch = add_rectangle(Sketch(), (0, 0), (30, 20), by_centre=True)
    sketch = add_circle(sketch, (20, 10), 2)
    told = calling(sketch)
    assert told["l1"] == "the lower line, 60 mm"
    assert told["l3"] == "the upper line, 60 mm"
    assert told["c1"] == "the upper right circle, Ø 4 mm"
    corners = {told[p] for p in sketch.curve("l1").points + sketch.curve("l3").points}  # type: ignore[union-attr]
    assert corners == {f"the {v} {h} corner" for v, h in itertools.product(("lower", "upper"), ("left", "right"))}
    # two that would be called the same are told apart by their place
    two = add_circle(sketch, (22, 12), 2)
    assert calling(two)["c1"] == "the upper right circle, Ø 4 mm at 20, 10"
    tie = next(k for k in sketch.constraints if k.kind == "horizontal")
    assert describe(sketch, tie.id) == "“level” on the lower line, 60 mm"


def test_refusals_speak_of_things_and_not_of_ids(bench: Bench) -> None:
    step = bench.do("AddStep", kind="sketch", fields={})[0]
    bench.do("DrawRectangle", step=step, first=[0, 0], corner=[30, 20], on="origin", width="60 mm", height="40 mm")
    lines = {c["id"] for c in bench.project.recipe[0].fields["sketch"]["curves"]}
    with pytest.raises(CommandError) as caught:
        bench.do("SizeSketch", step=step, kind="length", of=["l3"])
    assert "the length 60 mm of the lower line" in caught.value.message
    assert not any(f"“{line}”" in caught.value.message or f" {line}" in caught.value.message for line in lines)
    # what it speaks of can be lit up
    assert {"l3", "d1"} <= set(caught.value.things)
    with pytest.raises(CommandError, match="The lower left corner is not a line"):
        bench.do("TieSketch", step=step, kind="parallel", of=["p1", "l1"])


def test_written_places_are_formulas_and_stay(bench: Bench) -> None:
    bench.do("AddValue", name="reach", formula="25 mm")
    step = bench.do("AddStep", kind="sketch", fields={})[0]
    bench.do("DrawCircle", step=step, centre=[25, -5], radius=4, diameter="8", x="reach", y="-5")
    bench.do(
        "DrawLine",
        step=step,
        start={"at": [0, 0], "on": "origin"},
        end={"at": [50, 0], "x": "2*reach", "y": "0"},
        tie="horizontal",
    )
    fields = bench.project.recipe[0].fields["sketch"]
    assert sorted(d["formula"] for d in fields["dimensions"]) == ["-5 mm", "2*reach", "8 mm", "reach"]
    bench.set("reach", "30 mm")
    shape = next(iter(bench.evaluate().made.values())).sketch
    places = {(round(x, 6), round(y, 6)) for x, y in shape.solution.points.values()}
    assert places == {(30, -5), (60, 0)}
    assert shape.solution.freedom == 0
    # nonsense is refused, and nothing was drawn
    with pytest.raises(CommandError, match="reech"):
        bench.do("DrawCircle", step=step, centre=[0, 9], radius=4, x="reech", y="9")
    assert len(bench.project.recipe[0].fields["sketch"]["curves"]) == 2


def test_a_drag_never_turns_a_rounding_inside_out() -> None:
    """Corners of rounded outlines pulled anywhere in one go: arcs stay the ones that a rounding is, short of half a turn."""
    chance = random.Random(7)
    shapes = ([(0, 0), (60, 0), (60, 20), (25, 20), (25, 40), (0, 40)], [(0, 0), (60, 0), (60, 40), (0, 40)])
    tried = 0
    for _ in range(40):
        places = chance.choice(shapes)
        sketch, corners = Sketch(), list[str]()
        for k, a in enumerate(places):
            b = places[(k + 1) % len(places)]
            start, end = (corners[-1] if corners else None), (corners[0] if k == len(places) - 1 else None)
            sketch = add_line(sketch, (a, start), (b, end), tie="horizontal" if a[1] == b[1] else "vertical")
            points = sketch.curves[-1].points
            corners += points if not corners else [points[1]]
        corners = corners[: len(places)]
        sketch = at_rest(
            round_corners(constrain(sketch, "fixed", [corners[0]], {}), corners[1:], 3.0, "3 mm"), {"d1": 3.0}
        )
        grip = chance.choice([p.id for p in sketch.points if p.id != corners[0]])
        moved = drag(sketch, grip, (chance.uniform(-60, 100), chance.uniform(-60, 100)), {"d1": 3.0})
        tried += moved != sketch
        for arc in (c for c in moved.curves if c.kind == "arc"):
            centre, start, end = (moved.point(p) for p in arc.points)
            assert centre and start and end
            sweep = (
                math.atan2(end.y - centre.y, end.x - centre.x) - math.atan2(start.y - centre.y, start.x - centre.x)
            ) % (2 * math.pi)
            assert sweep < math.pi + 1e-6, (places, grip)
    assert tried > 15


def test_the_neutral_form_knows_a_bezier() -> None:
    points = [{"id": f"p{k}", "type": "point", "at": at} for k, at in enumerate(([0, 0], [1, 2], [3, 2], [4, 0]))]
    curve = {"id": "b", "type": "bezier", "points": ["p0", "p1", "p2", "p3"]}
    out = solve_neutral({"entities": [*points, curve], "constraints": []})
    assert (out["status"], out["dof"]) == ("solved", 8)
    held = [{"id": f"f{k}", "type": "fixed", "point": f"p{k}", "at": p["at"]} for k, p in enumerate(points)]
    assert solve_neutral({"entities": [*points, curve], "constraints": held})["dof"] == 0
