"""Dragging, tried on many sketches: what is tied stays tied, nothing collapses, nothing runs from the pointer."""

from __future__ import annotations

import math

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from dovejoint.core.errors import CommandError
from dovejoint.core.sketch import Sketch, add_circle, add_rectangle, constrain, drag, measured, size_up, solve

places = st.tuples(st.floats(-80, 80), st.floats(-80, 80))


@st.composite
def sketches(draw: st.DrawFn) -> tuple[Sketch, dict[str, float]]:
    """One or two rectangles and a circle, some of them sized and tied to each other."""
    sketch, sizes = Sketch(), {}
    by_centre = draw(st.booleans())
    on = "origin" if by_centre and draw(st.booleans()) else None
    sketch = add_rectangle(sketch, (0, 0), (draw(st.floats(5, 40)), draw(st.floats(5, 40))), by_centre=by_centre, on=on)
    sketch = add_circle(sketch, (draw(st.floats(-20, 20)), draw(st.floats(-20, 20))), draw(st.floats(1, 15)))
    if draw(st.booleans()):
        sketch = add_rectangle(sketch, (50, 10), (70, 30), by_centre=False)
    wishes = st.sampled_from([
        ("size", "length", ["l1"]), ("size", "length", ["l2"]), ("size", "diameter", ["c1"]), ("tie", "equal", ["l1", "l2"]),
        ("tie", "equal", ["l1", "l5"]), ("tie", "parallel", ["l1", "l5"]), ("tie", "vertical", ["l5"]),
    ])  # fmt: skip
    for what, kind, of in draw(st.lists(wishes, max_size=4, unique_by=str)):
        try:
            if what == "tie":
                sketch = constrain(sketch, kind, of, sizes)
            else:
                figure = measured(sketch, kind, of)
                sketch = size_up(sketch, kind, of, "x", figure, sizes)
                sizes[sketch.dimensions[-1].id] = figure
        except CommandError:
            continue
    return sketch, sizes


def lengths(sketch: Sketch) -> dict[str, float]:
    at = {p.id: (p.x, p.y) for p in sketch.points}
    return {c.id: math.dist(at[c.points[0]], at[c.points[1]]) for c in sketch.curves if c.kind == "line"}


@given(sketches(), st.lists(st.tuples(st.sampled_from(["p1", "p2", "p3", "p4", "c1"]), places), min_size=1, max_size=4))
@settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow])
def test_what_is_tied_stays_tied(
    drawn: tuple[Sketch, dict[str, float]], moves: list[tuple[str, tuple[float, float]]]
) -> None:
    sketch, sizes = drawn
    for id, to in moves:
        before = sketch.point(id)
        sketch = drag(sketch, id, to, sizes)
        solution = solve(sketch, sizes)
        assert solution.solved, "a drag leaves a solved sketch"
        for name, (x, y) in solution.points.items():
            point = sketch.point(name)
            assert point is not None
            assert math.dist((x, y), (point.x, point.y)) < 1e-3, "there is nothing left to move"
        for dimension in sketch.dimensions:
            assert measured(sketch, dimension.kind, dimension.of) == pytest.approx(sizes[dimension.id], abs=1e-6)
        assert min(lengths(sketch).values()) >= 0.01 - 1e-9, "no line collapses"
        assert all(c.radius >= 0.01 - 1e-9 for c in sketch.curves if c.kind == "circle")
        assert all(abs(v) < 1e4 for p in sketch.points for v in (p.x, p.y)), "nothing flies off"
        after = sketch.point(id)
        if before is not None and after is not None:
            assert math.dist((after.x, after.y), to) <= math.dist((before.x, before.y), to) + 1e-6, (
                "never away from the pointer"
            )


@given(sketches(), places)
@settings(max_examples=30, deadline=None, suppress_health_check=[HealthCheck.too_slow])
def test_a_drag_that_is_repeated_does_not_drift(
    drawn: tuple[Sketch, dict[str, float]], to: tuple[float, float]
) -> None:
    sketch, sizes = drawn
    once = drag(sketch, "p3", to, sizes)
    for _ in range(3):
        once = drag(once, "p3", to, sizes)
    again = drag(once, "p3", to, sizes)
    for p, q in zip(once.points, again.points, strict=True):
        assert math.dist((p.x, p.y), (q.x, q.y)) < 0.05


def test_a_corner_dragged_onto_the_middle_stops_short() -> None:
    sketch = add_rectangle(Sketch(), (0, 0), (20, 10), by_centre=True, on="origin")
    squeezed = drag(sketch, "p3", (0, 0), {})
    assert min(lengths(squeezed).values()) >= 0.01
    back = drag(squeezed, "p3", (20, 10), {})
    corner = back.point("p3")
    assert corner is not None
    assert (corner.x, corner.y) == pytest.approx((20, 10), abs=1e-4), "and it can be pulled open again"
