"""Axes and points as steps: where they are by hand, what follows them, and what is said when they cannot be."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench

from dovejoint.core.document import new_project

GROUND = {"rule": "base", "plane": "ground"}
SIDE = {"rule": "base", "plane": "side"}


@pytest.fixture
def block() -> tuple[Bench, str, str]:
    """A block of 40 × 30 × 20 about the origin, standing on the ground, and the step that made it."""
    bench = Bench(new_project("Refer"))
    step, part = bench.do("AddStep", kind="body", fields={"wide": "40 mm", "deep": "30 mm", "high": "20 mm"}, new_part={"name": "Block"})  # fmt: skip
    return bench, step, part


def add(bench: Bench, kind: str, **fields: Any) -> str:
    return str(bench.do("AddStep", kind=kind, fields={"base": GROUND, **fields})[0])


def edge(bench: Bench, part: str, at: tuple[float, float, float]) -> dict[str, Any]:
    """The edge whose middle is at a place."""
    found = next(e for e in bench.evaluate().parts[part].edges if math.dist(e.at, at) < 1e-6)
    return {"name": found.name}


def corner(bench: Bench, part: str, at: tuple[float, float, float]) -> dict[str, Any]:
    """A corner, as the upright edge there and the way to its end."""
    up = at[2] > 10
    of = edge(bench, part, (at[0], at[1], 10.0))
    return {"rule": "place_corner", "part": part, "corner": {**of, "toward": [0, 0, 10 if up else -10]}}


def test_points(block: tuple[Bench, str, str]) -> None:
    bench, _, part = block
    here, there = corner(bench, part, (-20, -15, 20)), corner(bench, part, (20, 15, 0))
    one = add(bench, "point", first=here)
    moved = add(bench, "point", first={"rule": "place_step", "step": one}, right="2 mm", back="3 mm", up="-5 mm")
    half = add(bench, "point", how="between", first=here, second=there, share="0.25")
    middle = add(bench, "point", first={"rule": "place_edge", "part": part, "edge": edge(bench, part, (0, -15, 20))})
    along = add(bench, "point", how="along", edge={"rule": "edges", "part": part, "edges": [edge(bench, part, (0, 15, 20))]}, share="0.5")  # fmt: skip
    crossing = add(bench, "point", how="crossing", axis={"rule": "axis_base", "axis": "up"}, base={"rule": "flat", "part": part, "face": {"name": f"{block[1]}/end"}})  # fmt: skip
    made = bench.evaluate().made
    for step, at in (
        (one, (-20, -15, 20)), (moved, (-18, -12, 15)), (half, (-10, -7.5, 15)), (middle, (0, -15, 20)), (along, (0, 15, 20)), (crossing, (0, 0, 20)),
    ):  # fmt: skip
        assert made[step].point == pytest.approx(at, abs=1e-9)


def test_axes(block: tuple[Bench, str, str]) -> None:
    bench, _, part = block
    here, there = corner(bench, part, (-20, -15, 0)), corner(bench, part, (20, 15, 20))
    through = add(bench, "axis", first=here, second=there)
    square = add(bench, "axis", how="square", first=there, base=SIDE)
    meet = add(bench, "axis", how="meet", base={"rule": "flat", "part": part, "face": {"name": f"{block[1]}/end"}}, other=SIDE)  # fmt: skip
    beside = add(bench, "axis", how="beside", first=here, axis={"rule": "axis_step", "step": through})
    made = bench.evaluate().made
    long = math.sqrt(40**2 + 30**2 + 20**2)
    axes = {step: made[step].axis for step in (through, square, meet, beside)}
    assert all(axes.values())
    assert axes[through].origin == pytest.approx((-20, -15, 0)) and axes[through].direction == pytest.approx((40 / long, 30 / long, 20 / long))  # fmt: skip
    assert axes[square].origin == pytest.approx((20, 15, 20)) and abs(axes[square].direction[0]) == pytest.approx(1)
    # the top at 20 over the ground and the side plane through the origin meet along the depth
    assert axes[meet].origin[0] == pytest.approx(0, abs=1e-9) and axes[meet].origin[2] == pytest.approx(20)
    assert abs(axes[meet].direction[1]) == pytest.approx(1)
    assert axes[beside].origin == pytest.approx((-20, -15, 0))


def test_what_is_made_about_an_axis_follows_it(block: tuple[Bench, str, str]) -> None:
    """A ring turned about an axis through a corner: Pappus, before and after the block grows."""
    bench, step, part = block
    point = add(bench, "point", first=corner(bench, part, (20, 15, 20)), back="-15 mm")
    axis = add(bench, "axis", how="square", first={"rule": "place_step", "step": point})
    (sketch,) = bench.do("AddStep", kind="sketch", fields={"plane": {"rule": "base", "plane": "front"}})
    bench.do("DrawCircle", step=sketch, centre=[60, 30], radius=3, diameter="6 mm")
    _, ring = bench.do("AddStep", kind="revolve", new_part={"name": "Ring"}, fields={"profile": {"rule": "regions", "step": sketch}, "axis": {"rule": "axis_step", "step": axis}})  # fmt: skip
    for wide in (40.0, 50.0):
        bench.do("EditStep", step=step, fields={"wide": f"{wide} mm"})
        evaluation = bench.evaluate()
        at = evaluation.made[point].point
        assert at == pytest.approx((wide / 2, 0, 20))
        ring_mm3 = 2 * math.pi * (60 - wide / 2) * math.pi * 3**2
        assert evaluation.parts[ring].solid.volume_mm3 == pytest.approx(ring_mm3, rel=1e-6)


def test_a_plane_level_with_another_through_a_place(block: tuple[Bench, str, str]) -> None:
    bench, step, part = block
    plane = add(bench, "plane", how="place", place=corner(bench, part, (20, 15, 20)))
    assert bench.evaluate().made[plane].plane.origin[2] == pytest.approx(20)  # type: ignore[union-attr]
    bench.do("EditStep", step=step, fields={"high": "26 mm"})
    assert bench.evaluate().made[plane].plane.origin[2] == pytest.approx(26)  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("kind", "fields", "words"),
    [
        ("axis", {"first": {"rule": "place_origin"}, "second": {"rule": "place_origin"}}, "The two places are one"),
        ("axis", {"how": "meet", "other": GROUND}, "lie level with each other"),
        ("axis", {"how": "square"}, "Pick a corner"),
        ("point", {"how": "crossing", "axis": {"rule": "axis_base", "axis": "across"}}, "runs level with that plane"),
        ("point", {"how": "crossing"}, "Pick the axis"),
        ("point", {"first": {"rule": "place_step", "step": "s1"}}, "makes no point"),
        ("axis", {"how": "beside", "first": {"rule": "place_origin"}, "axis": {"rule": "axis_step", "step": "s1"}}, "makes no axis"),
    ],
)  # fmt: skip
def test_refusals(block: tuple[Bench, str, str], kind: str, fields: dict[str, Any], words: str) -> None:
    bench, step, _ = block
    fields = {k: {**v, "step": step} if isinstance(v, dict) and "step" in v else v for k, v in fields.items()}
    made = add(bench, kind, **fields)
    report = next(r for r in bench.evaluate().steps if r.id == made)
    assert report.state in ("failed", "asks") and words in report.message
