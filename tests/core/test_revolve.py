"""Revolve: volumes by Pappus's theorem, names that stay, what is refused, and that early changes pass through."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench

from dovejoint.core.document import new_project
from dovejoint.core.recipe.names import seen_edge, seen_face
from dovejoint.core.recipe.registry import sentence

UP = {"rule": "axis_base", "axis": "up"}


class Turned(Bench):
    """A rectangle 4 × 10 on the front plane, its middle ``away`` from the upright axis."""

    def __init__(self, away: float = 12) -> None:
        super().__init__(new_project("Turned"))
        (self.outline,) = self.do("AddStep", kind="sketch", fields={"plane": {"rule": "base", "plane": "front"}})
        corners = {"first": [away, 8], "corner": [away + 2, 13]}
        self.do("DrawRectangle", step=self.outline, **corners, width="4 mm", height="10 mm")

    def revolve(self, axis: dict[str, Any] = UP, **fields: Any) -> list[str]:
        data = {"profile": {"rule": "regions", "step": self.outline}, "axis": axis, **fields}
        new = {} if data.get("operation", "new") != "new" else {"new_part": {"name": "Ring"}}
        return self.do("AddStep", kind="revolve", fields=data, **new)


def test_a_full_turn_is_area_times_way_of_the_middle() -> None:
    bench = Turned()
    step, ring = bench.revolve()
    assert bench.states()[step] == "ok"
    # Pappus: 4 · 10 mm² carried round 2π · 12 mm
    assert bench.volume(ring) == pytest.approx(40 * 2 * math.pi * 12, rel=1e-9)
    state = bench.evaluate().parts[ring]
    assert state.info.valid and state.info.closed and state.info.lumps == 1
    # two flat faces and two round ones, each with a name of its own: none is left to a count
    assert len(state.faces) == 4 and len({f.names[0] for f in state.faces}) == 4
    assert sorted(f.kind for f in state.faces) == ["cylinder", "cylinder", "plane", "plane"]


@pytest.mark.parametrize(("way", "middle"), [("one", 45), ("other", -45), ("both", 0)])
def test_part_of_a_turn(way: str, middle: float) -> None:
    bench = Turned()
    _, ring = bench.revolve(turn="part", angle="90 deg", way=way)
    assert bench.volume(ring) == pytest.approx(40 * 2 * math.pi * 12 / 4, rel=1e-9)
    names = {n for f in bench.evaluate().parts[ring].faces for n in f.names}
    assert {n.partition("/")[2] for n in names} >= {"start", "end"}
    # the middle of mass lies in the direction of half the turn, right-handed about the axis from where the outline lies
    x, y, _ = bench.evaluate().parts[ring].info.centre_mm
    assert math.degrees(math.atan2(y, x)) == pytest.approx(middle, abs=1e-6)


def test_other_axes_give_the_same_ring() -> None:
    """About a line of the sketch, a straight edge, a round edge and a round face, all on the upright axis."""
    bench = Turned()
    (line,) = [
        c for c in bench.do("DrawLine", step=bench.outline, start={"at": [0, 0], "on": "origin"}, end={"at": [0, 20]}, tie="vertical")
        if c.startswith("l")
    ]  # fmt: skip
    bench.do("ConstructSketch", step=bench.outline, ids=[line], on=True)
    post_outline = bench.do("AddStep", kind="sketch", fields={})[0]
    bench.do("DrawCircle", step=post_outline, centre=[0, 0], on="origin", radius=3)
    _, post = bench.extrude(post_outline, "5 mm", "Post")
    state = bench.evaluate().parts[post]
    side = next(f for f in state.faces if f.kind == "cylinder")
    rim = next(e for e in state.edges if e.kind == "circle")
    face = {"rule": "axis_face", "part": post, "face": {"name": side.names[0], "seen": seen_face(side).model_dump()}}
    edge = {"rule": "axis_edge", "part": post, "edge": {"name": rim.name, "seen": seen_edge(rim).model_dump()}}
    for axis in (
        {"rule": "axis_line", "step": bench.outline, "line": line},
        face,
        edge,
        {"rule": "axis_line", "step": bench.outline, "line": "up"},
    ):
        step, ring = bench.revolve(axis)
        assert bench.message(step) == "" and bench.volume(ring) == pytest.approx(40 * 2 * math.pi * 12, rel=1e-9)
        bench.do("DeleteStep", step=step)


def test_a_groove_is_cut_and_a_collar_added() -> None:
    bench = Turned(9)
    disc = bench.do("AddStep", kind="sketch", fields={})[0]
    bench.do("DrawCircle", step=disc, centre=[0, 0], on="origin", radius=10, diameter="20 mm")
    _, post = bench.extrude(disc, "20 mm", "Post")
    before = bench.volume(post)
    # the outline reaches from 7 to 11 mm: the groove takes what lies within 10
    step = bench.revolve(operation="cut", part=post)[0]
    assert bench.message(step) == ""
    assert before - bench.volume(post) == pytest.approx(10 * math.pi * (10**2 - 7**2), rel=1e-6)
    bench.do("EditStep", step=step, fields={"operation": "add"})
    assert bench.volume(post) - before == pytest.approx(10 * math.pi * (11**2 - 10**2), rel=1e-6)


def test_names_stay_when_an_early_figure_changes() -> None:
    bench = Turned()
    _, ring = bench.revolve()
    dimension = bench.evaluate().made[bench.outline].sketch
    assert dimension is not None
    before = {f.names for f in bench.evaluate().parts[ring].faces}
    size = bench.project.step(bench.outline).fields["sketch"]["dimensions"][0]  # type: ignore[union-attr]
    bench.do("ResizeSketch", step=bench.outline, dimension=size["id"], formula="6 mm")
    assert {f.names for f in bench.evaluate().parts[ring].faces} == before
    assert bench.volume(ring) != pytest.approx(40 * 2 * math.pi * 12, rel=1e-3)


def test_what_cannot_be_turned_says_so() -> None:
    bench = Turned(1)
    step, _ = bench.revolve()
    assert "goes through the outline" in bench.message(step)
    bench = Turned()
    step, ring = bench.revolve({"rule": "axis_base", "axis": "deep"})
    assert "its own plane" in bench.message(step)
    bench.do("EditStep", step=step, fields={"axis": UP, "turn": "part", "angle": "400 deg"})
    assert "360 deg" in bench.message(step)
    bench.do("EditStep", step=step, fields={"angle": "-5 deg"})
    assert "above zero" in bench.message(step)
    bench.do("EditStep", step=step, fields={"angle": "360 deg"})
    assert bench.volume(ring) == pytest.approx(40 * 2 * math.pi * 12, rel=1e-9)
    # an angle that the sentence does not ask for does no harm
    bench.do("EditStep", step=step, fields={"turn": "full", "angle": "nonsense * 2"})
    assert bench.states()[step] == "ok"


def test_a_line_that_is_an_axis_is_called_by_where_it_lies() -> None:
    bench = Bench(new_project("Turned"))
    sketch = bench.rectangle("10 mm", "16 mm", at=(9, 8))
    lines = [c["id"] for c in bench.project.step(sketch).fields["sketch"]["curves"]]
    said = {}
    for line in lines:
        fields = {
            "profile": {"rule": "regions", "step": sketch},
            "axis": {"rule": "axis_line", "step": sketch, "line": line},
        }
        step, _ = bench.do("AddStep", kind="revolve", fields=fields, new_part={"name": f"P{line}"})
        said[line] = sentence(bench.project, bench.project.step(step))
    sides = [
        next(s for s in ("left", "right", "upper", "lower") if f"about the {s} line of" in text)
        for text in said.values()
    ]
    assert sorted(sides) == ["left", "lower", "right", "upper"]
