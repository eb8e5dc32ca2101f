"""Planes to sketch on, and curves of the board that come from parts and follow them."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench, flat

from dovejoint.core.document import ThingPick
from dovejoint.core.errors import CommandError, DoveError
from dovejoint.core.recipe.names import seen_edge, seen_face
from dovejoint.core.recipe.registry import all_kinds
from dovejoint.core.sketch import Sketch
from dovejoint.core.solid import Frame
from dovejoint.core.steps.sources import look


class Mast(Bench):
    """A block of 40 × 30 × 20 with a bore of 12 upright through its middle."""

    def __init__(self, bench: Bench) -> None:
        self.__dict__ = bench.__dict__
        self.do("AddValue", name="wide", formula="40 mm")
        self.base = self.rectangle("wide", "30 mm")
        self.body, self.block = self.extrude(self.base, "20 mm")
        (hole,) = self.do("AddStep", kind="sketch", fields={})
        self.do("DrawCircle", step=hole, centre=[0, 0], on="origin", radius=5, diameter="12 mm")
        (self.bore,) = self.extrude(hole, "20 mm", self.block, "cut", extent="through")

    def thing(self, kind: str, name: str) -> ThingPick:
        part = self.evaluate().parts[self.block]
        if kind == "face":
            info: Any = next(f for f in part.faces if f.names[0] == name)
            return ThingPick.model_validate(
                {"part": self.block, "kind": "face", "thing": {"name": name, "seen": seen_face(info)}}
            )
        edge = next(e for e in part.edges if e.name == name)
        return ThingPick.model_validate(
            {"part": self.block, "kind": "edge", "thing": {"name": name, "seen": seen_edge(edge)}}
        )

    def edge(self, *way: float, at: tuple[float, float, float] | None = None) -> str:
        """The name of an edge that runs so, nearest to a place."""
        edges = [e for e in self.evaluate().parts[self.block].edges if e.kind == "line"]
        fitting = [e for e in edges if abs(sum(a * b for a, b in zip(e.direction, way, strict=True))) > 0.999]
        return min(fitting, key=lambda e: math.dist(e.at, at or (0, 0, 0))).name

    def face(self, kind: str, *normal: float) -> str:
        faces = [f for f in self.evaluate().parts[self.block].faces if f.kind == kind]
        return next(f for f in faces if not normal or f.normal == pytest.approx(normal, abs=1e-9)).names[0]

    def board(self, **plane: Any) -> str:
        (step,) = self.do("AddStep", kind="sketch", fields={"plane": plane or {"rule": "base", "plane": "ground"}})
        return step

    def look(self, step: str, what: str, pick: ThingPick) -> list[dict[str, Any]]:
        evaluation = self.evaluate(upto=step)
        frame = evaluation.made[step].plane
        return look(evaluation.parts[self.block], self.block, pick, what, frame)  # type: ignore[arg-type]

    def sketch(self, step: str) -> Sketch:
        return self.evaluate().made[step].sketch.sketch  # type: ignore[union-attr]

    def plane(self, **fields: Any) -> Frame:
        (step,) = self.do("AddStep", kind="plane", fields=fields)
        made = self.evaluate().made.get(step)
        if made is None or made.plane is None:
            raise DoveError(self.message(step))
        return made.plane


@pytest.fixture
def mast(bench: Bench) -> Mast:
    return Mast(bench)


# ---- planes ------------------------------------------------------------------------------------------------------

GROUND = {"rule": "base", "plane": "ground"}


def level(frame: Frame, point: tuple[float, float, float]) -> float:
    """How far a place lies over a plane."""
    return frame.to_local(point)[2]


def test_midway_between_two_planes(mast: Mast) -> None:
    left, right = (flat(mast, mast.block, mast.face("plane", x, 0, 0)) for x in (-1, 1))
    middle = mast.plane(how="midway", base=left, second=right)
    assert (abs(middle.z[0]), level(middle, (0, 5, 5))) == pytest.approx((1, 0))
    # between the ground and an upright side it leans by 45 degrees through the edge where they meet
    lean = mast.plane(how="midway", base=GROUND, second=right)
    assert level(lean, (20, 3, 0)) == pytest.approx(0)
    assert abs(lean.z[0]) == pytest.approx(abs(lean.z[2])) == pytest.approx(math.sqrt(0.5))
    # a plane follows what it hangs on
    mast.set("wide", "60 mm")
    step = mast.project.recipe[-1].id
    assert level(mast.evaluate().made[step].plane, (30, 3, 0)) == pytest.approx(0)  # type: ignore[arg-type]


def test_turned_about_an_edge(mast: Mast) -> None:
    edge = mast.edge(0, 1, 0, at=(20, 0, 20))
    pick = {"rule": "edges", "part": mast.block, "edges": [mast.thing("edge", edge).thing.model_dump()]}
    plane = mast.plane(how="turned", base=GROUND, edges=pick, angle="30 deg")
    assert level(plane, (20, -9, 20)) == pytest.approx(0)
    assert plane.z[2] == pytest.approx(math.cos(math.radians(30)))
    with pytest.raises(DoveError, match="stands square on that plane"):
        mast.plane(how="turned", base=GROUND, edges={**pick, "edges": [{"name": mast.edge(0, 0, 1)}]}, angle="30 deg")


def test_through_the_middles_of_three_edges(mast: Mast) -> None:
    names = [mast.edge(0, 1, 0, at=(20, 0, 20)), mast.edge(1, 0, 0, at=(0, -15, 0)), mast.edge(1, 0, 0, at=(0, 15, 0))]
    pick = {"rule": "edges", "part": mast.block, "edges": [{"name": n} for n in names]}
    plane = mast.plane(how="through", base=GROUND, edges=pick)
    assert [level(plane, p) for p in ((20, 0, 20), (0, -15, 0), (0, 15, 0))] == pytest.approx([0, 0, 0], abs=1e-9)
    # two edges that run alike carry one too: the diagonal over four corners
    two = [{"name": mast.edge(0, 1, 0, at=p)} for p in ((20, 0, 20), (-20, 0, 0))]
    lean = mast.plane(how="through", base=GROUND, edges={**pick, "edges": two})
    corners = [(20, 15, 20), (20, -15, 20), (-20, 15, 0), (-20, -15, 0)]
    assert [level(lean, p) for p in corners] == pytest.approx([0] * 4, abs=1e-9)
    for edges, word in (([pick["edges"][0], pick["edges"][1]], "pass each other"), (pick["edges"][:1], "1 is picked")):
        with pytest.raises(DoveError, match=word):
            mast.plane(how="through", base=GROUND, edges={**pick, "edges": edges})


def test_over_three_corners(mast: Mast) -> None:
    """A corner is an end of an edge: told by where it lies from the edge's middle, so it is found again when the block grows."""

    def corner(*at: float) -> dict[str, Any]:
        edges = mast.evaluate().parts[mast.block].edges
        edge = min(
            (e for e in edges if e.kind == "line" and abs(e.direction[2]) > 0.9), key=lambda e: math.dist(e.at, at)
        )
        return {
            "name": edge.name,
            "seen": seen_edge(edge).model_dump(),
            "toward": [a - b for a, b in zip(at, edge.at, strict=True)],
        }

    picks = [corner(20, -15, 20), corner(-20, 15, 20), corner(-20, -15, 0)]
    over = {"rule": "corners", "part": mast.block, "corners": picks}
    plane = mast.plane(how="corners", base=GROUND, corners=over)
    assert [level(plane, p) for p in ((20, -15, 20), (-20, 15, 20), (-20, -15, 0))] == pytest.approx([0] * 3, abs=1e-9)
    step = mast.project.recipe[-1].id
    mast.set("wide", "50 mm")
    grown = mast.evaluate().made[step].plane
    assert grown is not None
    assert [level(grown, p) for p in ((25, -15, 20), (-25, 15, 20), (-25, -15, 0))] == pytest.approx([0] * 3, abs=1e-9)
    with pytest.raises(DoveError, match="three corners; 2 are"):
        mast.plane(how="corners", base=GROUND, corners={**over, "corners": picks[:2]})


def test_against_a_round_side_and_across_an_edge(mast: Mast) -> None:
    front = {"rule": "base", "plane": "front"}
    side = flat(mast, mast.block, mast.face("cylinder"))
    plane = mast.plane(how="against", base=front, side=side, angle="0 deg")
    assert abs(level(plane, (0, 0, 7))) == pytest.approx(6)
    assert abs(plane.z[1]) == pytest.approx(1)
    with pytest.raises(DoveError, match="no cylinder"):
        mast.plane(how="against", base=front, side=flat(mast, mast.block, mast.face("plane", 1, 0, 0)), angle="0 deg")
    # it begins with a plane that the side lies along
    begin = next(k for k in all_kinds() if k.kind == "plane").begin
    told = {"how": "against", "base": GROUND, "angle": "45 deg"}
    assert begin is not None and begin(mast.project, told, "how") == {"angle": "0 deg"}
    seen = mast.thing("face", side["face"]["name"]).thing.model_dump(mode="json")  # type: ignore[index]
    picked = {**told, "angle": "30 deg", "side": {"rule": "flat", "part": mast.block, "face": seen}}
    assert begin(mast.project, picked, "side") == {"base": front}
    assert begin(mast.project, {**picked, "base": front}, "side") == {}
    edge = {"rule": "edges", "part": mast.block, "edges": [{"name": mast.edge(1, 0, 0, at=(0, 15, 20))}]}
    across = mast.plane(how="across", base=GROUND, edges=edge, share="0.25")
    assert abs(across.z[0]) == pytest.approx(1)
    assert abs(level(across, (0, 0, 0))) == pytest.approx(10)
    with pytest.raises(DoveError, match="from 0 to 1"):
        mast.plane(how="across", base=GROUND, edges=edge, share="3")


def test_the_board_is_put_and_turned_on_its_plane(mast: Mast) -> None:
    (step,) = mast.do(
        "AddStep", kind="sketch", fields={"plane": GROUND, "right": "wide/2", "up": "5 mm", "turn": "90 deg"}
    )
    frame = mast.evaluate().made[step].plane
    assert frame is not None
    assert frame.to_world(3, 1) == pytest.approx((19, 8, 0))


# ---- what comes from parts ---------------------------------------------------------------------------------------


def test_edges_of_a_face_follow_the_part(mast: Mast) -> None:
    top = mast.face("plane", 0, 0, 1)
    step = mast.board()
    seen = mast.look(step, "edge", mast.thing("face", top))
    assert sorted(s["curve"]["kind"] for s in seen) == ["circle"] + ["line"] * 4
    mast.do("BringIn", step=step, things=seen)
    shape = mast.evaluate().made[step].sketch
    assert shape is not None
    # four corners and the centre, all held
    assert (len(shape.sketch.points), shape.solution.freedom) == (5, 0)
    # set off beside it, a frame follows when the block grows
    lines = [c.id for c in shape.sketch.curves if c.kind == "line"]
    mast.do("OffsetSketch", step=step, ids=lines, distance="2 mm")
    areas = [r.area_mm2 for r in mast.evaluate().made[step].sketch.regions]  # type: ignore[union-attr]
    assert areas[0] == pytest.approx((40 + 4) * (30 + 4))
    mast.set("wide", "52 mm")
    areas = [r.area_mm2 for r in mast.evaluate().made[step].sketch.regions]  # type: ignore[union-attr]
    assert areas[0] == pytest.approx((52 + 4) * (30 + 4))
    # what stands in the document can be brought up to where it stands now, and then nothing moves
    now = mast.sketch(step)
    mast.do("RestSketch", step=step, points={p.id: [p.x, p.y] for p in now.points})
    stored = Sketch.model_validate(mast.project.step(step).fields["sketch"])  # type: ignore[union-attr]
    assert {(p.x, p.y) for p in stored.points} >= {(26.0, 15.0), (-26.0, -15.0)}


def test_cuts_and_outlines_of_faces(mast: Mast) -> None:
    bore = mast.thing("face", mast.face("cylinder"))
    ground = mast.board()
    (circle,) = mast.look(ground, "section", bore)
    assert (circle["curve"]["kind"], circle["curve"]["radius"]) == ("circle", pytest.approx(6))
    front = mast.board(rule="base", plane="front")
    lines = mast.look(front, "outline", bore)
    assert sorted(round(line["curve"]["places"][0][0], 6) for line in lines) == [-6, 6]
    with pytest.raises(DoveError, match="does not cut that face"):
        mast.look(front, "section", mast.thing("face", mast.face("plane", 0, 1, 0)))
    with pytest.raises(DoveError, match="stands square on the board"):
        mast.look(ground, "edge", mast.thing("edge", mast.edge(0, 0, 1)))


def test_a_lost_source_is_named_and_can_be_aimed_or_frozen(mast: Mast) -> None:
    step = mast.board()
    edge = mast.edge(0, 1, 0, at=(20, 0, 20))
    (seen,) = mast.look(step, "edge", mast.thing("edge", edge))
    mast.do("BringIn", step=step, things=[seen])
    with pytest.raises(CommandError, match="brought in already"):
        mast.do("BringIn", step=step, things=[seen])
    (curve,) = (c.id for c in mast.sketch(step).curves)
    # the block is cut short of that edge: its side is another face then
    (short,) = mast.do("AddStep", kind="sketch", fields={})
    mast.do("DrawRectangle", step=short, first=[18, 0], corner=[28, 20])
    (cut,) = mast.extrude(short, "20 mm", mast.block, "cut", extent="through")
    mast.do("MoveStep", step=short, after=mast.bore)
    mast.do("MoveStep", step=cut, after=short)
    shape = mast.evaluate().made[step].sketch
    assert shape is not None and list(shape.lost) == [curve]
    assert mast.states()[step] == "ok" and "lost what they were brought in from" in mast.message(step)
    # it stays where it was until it is aimed at the new edge
    assert {p.x for p in shape.sketch.points} == {20.0}
    other = mast.edge(0, 1, 0, at=(8, 0, 20))
    (again,) = mast.look(step, "edge", mast.thing("edge", other))
    mast.do("AimSource", step=step, curve=curve, thing=again)
    shape = mast.evaluate().made[step].sketch
    assert shape is not None and not shape.lost
    assert {p.x for p in shape.sketch.points} == {8.0}
    mast.do("FreezeSources", step=step, curves=[curve])
    assert mast.project.step(step).fields["sources"] == []  # type: ignore[union-attr]
    assert mast.evaluate().made[step].sketch.solution.freedom == 0  # type: ignore[union-attr]
    with pytest.raises(CommandError, match="that follow a part"):
        mast.do("FreezeSources", step=step, curves=[curve])
