"""Snap hooks: volumes by hand, gaps on the solids, strain and forces by the plain beam's formula, refusals, and that it follows its values."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from building import Bench, findings, flat, good_on_hidden_machines, shared_mm3

from dovejoint.core.document import new_project
from dovejoint.core.joints import assess_by_formula
from dovejoint.core.recipe import sentence
from dovejoint.core.solid import Motion, moved

WALL = 2.4


class Hatch(Bench):
    """A frame 60 × 40 × 24 with walls 2.4 thick, and a plate 3 thick on it with a hook that snaps into its right wall."""

    def __init__(self, **fields: Any) -> None:
        super().__init__(new_project("Hatch"))
        _, self.tray = self.extrude(self.rectangle("60 mm", "40 mm"), "24 mm", "Tray")
        self.extrude(self.rectangle("55.2 mm", "35.2 mm"), "24 mm", self.tray, "cut")
        top = self.face(self.tray, (0, 0, 1))
        _, self.lid = self.extrude(self.rectangle("60 mm", "40 mm", plane=flat(self, self.tray, top)), "3 mm", "Lid")
        self.before = {p: self.volume(p) for p in (self.tray, self.lid)}
        wall = next(
            f.names[0] for f in self.evaluate().parts[self.tray].faces if f.kind == "plane" and f.normal[0] < -0.9 and f.at[0] > 0
        )  # fmt: skip
        base = flat(self, self.lid, self.face(self.lid, (0, 0, -1)))
        (self.step,) = self.do(
            "AddStep", kind="snap_hook", fields={"base": base, "wall": flat(self, self.tray, wall), **fields}
        )

    def face(self, part: str, way: tuple[float, float, float]) -> str:
        faces = self.evaluate().parts[part].faces
        return next(
            f.names[0]
            for f in faces
            if f.kind == "plane" and sum(a * b for a, b in zip(f.normal, way, strict=True)) > 0.9
        )

    def rows(self) -> dict[str, Any]:
        return {r["name"]: r for r in self.joint().working.as_dict()["results"]}


def shoelace(points: list[tuple[float, float]]) -> float:
    return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, [*points[1:], points[0]], strict=True))) / 2


@pytest.mark.parametrize(("back_deg", "root"), [(45.0, 0.8), (90.0, 0.0), (60.0, 1.5)])
def test_arm_and_window_have_the_volumes_that_their_figures_say(back_deg: float, root: float) -> None:
    long, thick, tip, wide, y, lead = 14.0, 1.6, 1.2, 6.0, 0.7, math.radians(35)
    bench = Hatch(
        long=f"{long} mm", thick=f"{thick} mm", tip=f"{tip} mm", wide=f"{wide} mm", undercut=f"{y} mm", lead="35 deg", back=f"{back_deg} deg",
        root=f"{root} mm", along="5 mm",
    )  # fmt: skip
    assert bench.message(bench.step) == ""
    g = bench.joint().drawn.gap_mm
    catch = 0.0 if back_deg == 90 else (g + y) / math.tan(math.radians(back_deg))
    nose = catch + 0.4 + (g + y + tip / 2) / math.tan(lead)
    top = long + nose
    outline = [
        (g, 0.0),
        (g, long),
        (-y, long + catch),
        (-y, long + catch + 0.4),
        (g + tip / 2, top),
        (g + tip, top),
        (g + thick, 0.0),
    ]
    # the rounding fills the corner at the root: a square less a quarter of a circle, less what the leaning back leaves of it
    lean = (thick - tip) / top
    if root:
        at = g + thick - lean * root
        outline = [*outline[:-1], (at, root)]
        arc = [
            (at + root + root * math.cos(math.pi + t), root + root * math.sin(math.pi + t))
            for t in np.linspace(0, math.pi / 2, 400)
        ]
        outline += arc
    assert bench.volume(bench.lid) - bench.before[bench.lid] == pytest.approx(shoelace(outline) * wide, rel=1e-4)
    window = (nose + 2 * g) * (wide + 2 * g) * WALL
    assert bench.before[bench.tray] - bench.volume(bench.tray) == pytest.approx(window, rel=1e-6)
    for part in (bench.lid, bench.tray):
        assert bench.evaluate().parts[part].solid.valid and bench.evaluate().parts[part].solid.lumps == 1


def test_the_gap_is_that_of_the_nose_in_its_window() -> None:
    bench = Hatch()
    joint = bench.joint()
    assert joint.measured.least_mm == pytest.approx(joint.drawn.gap_mm, abs=1e-6)
    assert joint.measured.most_mm == pytest.approx(joint.drawn.gap_mm, abs=1e-6)
    assert joint.measured.play_mm == pytest.approx(joint.drawn.gap_mm, abs=1e-6)
    assert joint.halves == ("opening", "hook") and findings(bench, "overlap") == []


def test_strain_and_forces_are_those_of_a_plain_beam() -> None:
    """An even arm: ε = 1.5·y·h/L², P = b·h²·E·ε/(6L), W = P·(µ + tan α)/(1 − µ·tan α)."""
    bench = Hatch(thick="1.2 mm", tip="1.2 mm", undercut="0.6 mm", used="once", lead="30 deg", back="45 deg")
    rows = bench.rows()
    bend = rows["undercut as printed"]["value"]
    # what the printer takes of the gap it adds to the undercut
    joint = bench.joint()
    printed = (joint.expected.least_mm + joint.expected.most_mm) / 2
    assert bend == pytest.approx(0.6 + joint.drawn.gap_mm - printed, abs=0.01)
    strain = 1.5 * bend * 1.2 / 16**2
    assert rows["strain where greatest"]["value"] == pytest.approx(100 * strain, rel=1e-6)
    force = 6 * 1.2**2 * 2400 * strain / (6 * 16)
    assert rows["force across"]["value"] == pytest.approx(force, rel=1e-6)
    for name, angle in (("force to push in", 30), ("force to pull out", 45)):
        t = math.tan(math.radians(angle))
        assert rows[name]["value"] == pytest.approx(force * (0.3 + t) / (1 - 0.3 * t), rel=1e-6)
    # PLA bears 1.8 % once along its layers, and half of it across them: the arm hangs below the plate, along the print's upright
    assert rows["strain where greatest"]["limit"] == pytest.approx(0.9)
    often = Hatch(thick="1.2 mm", tip="1.2 mm", undercut="0.6 mm").rows()
    assert often["strain where greatest"]["limit"] == pytest.approx(0.54)
    # laid on its side the arm bears all of it: its layers run along it
    bench.do("LayPart", part=bench.lid, face=flat(bench, bench.lid, bench.face(bench.lid, (0, 1, 0))))
    assert bench.rows()["strain where greatest"]["limit"] == pytest.approx(1.8)


def test_an_arm_that_would_break_is_said_to_and_a_longer_one_mends_it() -> None:
    bench = Hatch(undercut="1.2 mm")
    joint = bench.joint()
    assert joint.state == "wrong" and "the arm breaks in" in joint.says
    bears = bench.rows()["undercut that it bears"]["value"]
    assert bears < 1.2
    bench.do("EditStep", step=bench.step, fields={"undercut": "0.4 mm"})
    assert "breaks" not in bench.joint().says


def test_the_formula_alone_says_the_same_before_any_solid_is_there() -> None:
    bench = Hatch(undercut="0.9 mm")
    (quick,) = assess_by_formula(bench.project)
    slow = bench.joint()
    # by formula the gap counts in both directions, on the solids only across the nose
    assert quick.chance.fits == pytest.approx(slow.chance.fits, abs=0.08) and quick.says.startswith("the arm breaks in")
    values = [(q.values[0], s.values[0]) for q, s in zip(quick.working.results, slow.working.results, strict=True)]
    assert all(q == pytest.approx(s, rel=0.02) for q, s in values)


def test_a_steep_slope_locks() -> None:
    rows = Hatch(back="90 deg").rows()
    assert rows["force to pull out"]["value"] is None and "lock" in rows["force to pull out"]["note"]


@pytest.mark.parametrize(("fields", "says"), [
    ({"long": "3 mm"}, "at least 4.2 mm"), ({"long": "23 mm"}, "would not lie within the wall"), ({"along": "40 mm"}, "stands beside that face"),
    ({"opening": "pocket", "undercut": "2 mm"}, "leaves too little"), ({"tip": "2 mm"}, "1.4 mm at most"), ({"root": "-1 mm"}, "cannot be negative"),
    ({"lead": "5 deg"}, "between 10 and 60 deg"), ({"back": "95 deg"}, "between 20 and 90 deg"), ({"undercut": "0 mm"}, "above zero"),
    ({"fit": "own", "least": "-0.5 mm", "target": "-0.4 mm", "most": "-0.3 mm"}, "needs a gap"),
])  # fmt: skip
def test_what_cannot_be_is_refused_with_what_could(fields: dict[str, Any], says: str) -> None:
    bench = Hatch(**fields)
    assert says in bench.message(bench.step)


def test_faces_of_one_part_or_not_square_are_refused() -> None:
    bench = Hatch()
    base = bench.project.step(bench.step).fields["base"]
    bench.do("EditStep", step=bench.step, fields={"wall": base})
    assert "belong to one" in bench.message(bench.step)
    bench.do("EditStep", step=bench.step, fields={"wall": flat(bench, bench.tray, bench.face(bench.tray, (0, 0, 1)))})
    assert "square to the face" in bench.message(bench.step)


def test_it_follows_the_parts_and_reads_as_a_sentence() -> None:
    bench = Hatch()
    words = sentence(bench.project, bench.project.step(bench.step))
    assert "undercut 0.5 mm, in over 30 deg and out over 45 deg, used again and again" in words
    outline = bench.project.recipe[2]
    assert outline.kind == "sketch"
    dimension = next(d for d in bench.evaluate().made[outline.id].sketch.sketch.dimensions if d.formula == "55.2 mm")
    bench.do("ResizeSketch", step=outline.id, dimension=dimension.id, formula="54 mm")
    assert bench.message(bench.step) == ""
    joint = bench.joint()
    # the wall is thicker, and arm and window moved with it
    assert joint.measured.least_mm == pytest.approx(joint.drawn.gap_mm, abs=1e-6)
    low = min(f.at[0] for f in bench.evaluate().parts[bench.lid].faces if f.names[0] == f"{bench.step}/arm(front)")
    assert low == pytest.approx(27 - joint.drawn.gap_mm, abs=1e-6)


class OverEdge(Bench):
    """A board 30 × 20 × 5 that lies on a plate 60 × 40 × 4, held by a hook on the plate that snaps over the board's far edge."""

    def __init__(self, role: str = "bought", off: float = 0.0, **fields: Any) -> None:
        super().__init__(new_project("Board"))
        self.do("AddValue", name="thick", formula="5 mm")
        ground = {"rule": "base", "plane": "ground"}
        made, self.plate = self.do("AddStep", kind="body", fields={"wide": "60 mm", "deep": "40 mm", "high": "4 mm", "on": ground}, new_part={"name": "Plate"})  # fmt: skip
        on = {"rule": "fixed", "origin": [0, 0, 4 + off], "x": [1, 0, 0], "y": [0, 1, 0]}
        lying, self.board = self.do("AddStep", kind="body", fields={"wide": "30 mm", "deep": "20 mm", "high": "thick", "on": on}, new_part={"name": "Board", "role": role})  # fmt: skip
        self.before = self.volume(self.board)
        base, wall = flat(self, self.plate, f"{made}/end"), flat(self, self.board, f"{lying}/side(right)")
        (self.step,) = self.do("AddStep", kind="snap_hook", fields={"base": base, "wall": wall, "opening": "edge", "thick": "1.2 mm", "tip": "1 mm", "root": "0.5 mm", **fields})  # fmt: skip


@pytest.mark.parametrize("back_deg", [45.0, 70.0, 90.0])
@pytest.mark.parametrize("role", ["bought", "printed"])
def test_over_an_edge_it_leaves_the_gap_along_the_arm(back_deg: float, role: str) -> None:
    bench = OverEdge(role, back=f"{back_deg} deg")
    for thick in ("5 mm", "7 mm"):
        bench.set("thick", thick)
        assert bench.message(bench.step) == ""
        joint = bench.joint()
        gap = joint.drawn.gap_mm
        # half of all the play on either side of the board, which is not touched
        assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((gap, gap), abs=0.005)
        assert bench.volume(bench.board) == pytest.approx(30 * 20 * float(thick[0]))
        arm = next(g.value for g in joint.working.givens if g.name == "length of the arm")
        slope = 0.0 if back_deg == 90 else gap / math.tan(math.radians(back_deg))
        assert arm == pytest.approx(float(thick[0]) + 2 * gap - slope)
    # lifted by twice the gap the board meets the catch, by a little less it does not
    board = bench.evaluate().parts[bench.board].solid
    plate = bench.evaluate().parts[bench.plate].solid
    for share, touches in ((0.97, False), (1.04, True)):
        lifted = moved(board, Motion.shift((0.0, 0.0, share * 2 * gap)), "t")
        shared = shared_mm3(lifted, plate)
        assert (shared > 1e-7) == touches, (share, shared)


def test_which_way_its_layers_lie_counts_along_the_arm() -> None:
    """Printed as modelled the arm stands upright, and its layers lie across its root; laid on the plate's side they run along it."""
    bench = OverEdge("printed")

    def limit() -> tuple[float, str, float]:
        working = bench.joint().working
        row = next(r for r in working.results if r.name == "strain where greatest")
        return float(row.limit[0]), row.note, working.acts["stuff"]["upright"]

    upright, why, share = limit()
    assert "layers across its root" in why and share == pytest.approx(1.0)
    side = next(f.names[0] for f in bench.evaluate().parts[bench.plate].faces if f.normal[1] < -0.9 and f.at[2] < 4)
    bench.do("LayPart", part=bench.plate, face=flat(bench, bench.plate, side))
    lying, why, share = limit()
    assert "layers" not in why and lying == pytest.approx(2 * upright) and share == pytest.approx(0.0, abs=1e-9)


def test_what_an_edge_refuses_and_what_is_not_asked() -> None:
    assert "must lie on the face" in OverEdge(off=2.0).message(OverEdge(off=2.0).step)
    assert "does not bend but shears: at most" in OverEdge(thick="2.4 mm").message(OverEdge().step)
    quick = assess_by_formula(OverEdge().project)[0]
    assert quick.working is None and quick.drawn is not None


def test_over_an_edge_on_hidden_machines() -> None:
    bench = OverEdge("printed", undercut="0.4 mm", used="once")
    good, told = good_on_hidden_machines(bench, bench.step)
    assert good == pytest.approx(told, abs=0.14), (good, told)


FOLDED = {"shape": "folded", "long": "14 mm", "fold": "11 mm", "bend": "1.5 mm", "thick": "1.2 mm", "undercut": "0.5 mm", "lead": "35 deg", "back": "60 deg", "root": "0.8 mm", "wide": "6 mm"}  # fmt: skip


def test_a_folded_arm_has_the_volume_and_the_window_that_its_figures_say() -> None:
    bench = Hatch(**FOLDED)
    assert bench.message(bench.step) == ""
    joint = bench.joint()
    g, y, t, r = joint.drawn.gap_mm, 0.5, 1.2, 1.5
    catch = (g + y) / math.tan(math.radians(60))
    nose = catch + 0.4 + (g + y) / math.tan(math.radians(35))
    legs = t * (14 + 11) + math.pi / 2 * ((r + t) ** 2 - r**2) + (1 - math.pi / 4) * 0.8**2
    assert bench.volume(bench.lid) - bench.before[bench.lid] == pytest.approx(6 * (legs + (g + y) * (0.4 + nose) / 2), rel=1e-6)  # fmt: skip
    # the window is where the leg that comes back has its nose: 14 less 11 from the face
    window = (6 + 2 * g) * (nose + 2 * g) * WALL
    assert bench.before[bench.tray] - bench.volume(bench.tray) == pytest.approx(window, rel=1e-6)
    shape = bench.evaluate().made[bench.step].joint
    assert shape.mates[0].high_mm == pytest.approx(-3.0, abs=0.1)
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((g, g), abs=0.003)


def test_a_folded_arm_bends_as_its_energy_says() -> None:
    """Force and strain against the bending energy summed over ten thousand pieces of the middle line, whose levers are read off the drawn path."""
    bench = Hatch(**FOLDED)
    rows = {r.name: r for r in bench.joint().working.results}
    undercut = float(rows["undercut as printed"].values[0])
    n, radius = 10_000, 1.5 + 0.6
    down = np.column_stack([np.zeros(n), np.linspace(0, 14, n)])
    turn = np.linspace(0, math.pi, n)
    round_it = np.column_stack([-radius + radius * np.cos(turn), 14 + radius * np.sin(turn)])
    up = np.column_stack([np.full(n, -2 * radius), np.linspace(14, 3, n)])
    path = np.concatenate([down, round_it, up])
    steps = np.linalg.norm(np.diff(path, axis=0), axis=1)
    # the push goes across at the end of the path, so the moment is its force times how far along the legs a place lies from there
    lever = ((path[1:] + path[:-1]) / 2)[:, 1] - 3.0
    modulus = next(g.value for g in bench.joint().working.givens if g.name.startswith("stiffness"))
    stiff = modulus * 6 * 1.2**3 / 12
    force = undercut * stiff / float((lever**2 * steps).sum())
    assert float(rows["force across"].values[0]) == pytest.approx(force, rel=1e-3)
    inner = 1.5
    neutral = 1.2 / math.log((radius + 0.6) / inner)
    more = 1.2 * (neutral - inner) / (6 * (radius - neutral) * inner)
    assert float(rows["strain where greatest"].values[0]) == pytest.approx(100 * more * force * float(lever.max()) * 0.6 / stiff, rel=2e-3)  # fmt: skip
    # folded back it bears more than a straight one that is as long as it is deep
    straight = {r.name: r for r in Hatch(**{**FOLDED, "shape": "straight", "tip": "1.2 mm"}).joint().working.results}
    assert float(rows["undercut that it bears"].values[0]) > 1.5 * float(straight["undercut that it bears"].values[0])


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"fold": "13.5 mm"}, "comes too near to the face"),
        ({"fold": "2 mm"}, "too short for its nose"),
        ({"bend": "0.1 mm"}, "too tight to be printed"),
        ({"opening": "edge"}, "is straight"),
    ],
)
def test_what_cannot_be_folded(fields: dict[str, Any], words: str) -> None:
    bench = Hatch(**{**FOLDED, **fields})
    assert words in bench.message(bench.step)


def test_a_folded_arm_on_hidden_machines() -> None:
    bench = Hatch(**{**FOLDED, "undercut": "0.4 mm", "used": "once"})
    good, told = good_on_hidden_machines(bench, bench.step)
    assert good == pytest.approx(told, abs=0.14), (good, told)
