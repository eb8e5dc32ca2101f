"""Torsion levers: volumes by hand, gap on the solids, shear and forces by plain formulas and by tabled constants, room to be pressed, refusals, and hands that agree."""

from __future__ import annotations

import math
from statistics import mean
from typing import Any

import pytest
from building import Bench, findings, flat
from families import Case

from dovejoint.core import solid as kernel
from dovejoint.core.document import new_project
from dovejoint.core.recipe import sentence
from dovejoint.core.solid import Axis
from dovejoint.simulator import Machine, hidden_of

GROUND = {"rule": "base", "plane": "ground"}


class Box(Bench):
    """A box 56 × 40 × 36 with walls 2.4 thick, and a lid 72 × 40 × 3 on it with a lever outside its right wall."""

    def __init__(self, **fields: Any) -> None:
        super().__init__(new_project("Box"))
        _, self.box = self.do(
            "AddStep",
            kind="body",
            new_part={"name": "Box"},
            fields={"wide": "56 mm", "deep": "40 mm", "high": "36 mm", "on": GROUND},
        )
        room = {"wide": "51.2 mm", "deep": "35.2 mm", "high": "40 mm", "operation": "cut", "part": self.box}
        self.do("AddStep", kind="body", fields={**room, "on": self.above("2.4 mm")})
        _, self.lid = self.do(
            "AddStep",
            kind="body",
            new_part={"name": "Lid"},
            fields={"wide": "72 mm", "deep": "40 mm", "high": "3 mm", "on": self.above("36 mm")},
        )
        self.before = {p: self.volume(p) for p in (self.box, self.lid)}
        base, wall = flat(self, self.lid, self.face(self.lid, 2, -1)), flat(self, self.box, self.face(self.box, 0, 1))
        (self.step,) = self.do("AddStep", kind="lever", fields={"base": base, "wall": wall, **fields})

    def above(self, distance: str) -> dict[str, Any]:
        (step,) = self.do("AddStep", kind="plane", fields={"base": GROUND, "distance": distance})
        return {"rule": "plane", "step": step}

    def face(self, part: str, axis: int, way: float) -> str:
        """The outermost face that looks this way."""
        faces = [f for f in self.evaluate().parts[part].faces if f.kind == "plane" and f.normal[axis] * way > 0.99]
        return max(faces, key=lambda f: f.at[axis] * way).names[0]

    def rows(self) -> dict[str, Any]:
        return {r["name"]: r for r in self.joint().working.as_dict()["results"]}


def shoelace(points: list[tuple[float, float]]) -> float:
    return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, [*points[1:], points[0]], strict=True))) / 2


@pytest.mark.parametrize(("back", "opening"), [(80.0, "window"), (90.0, "window"), (60.0, "pocket")])
def test_lever_bars_posts_and_opening_have_the_volumes_that_their_figures_say(back: float, opening: str) -> None:
    long, short, thick, wide, bar, span, y, lead = 15.0, 7.0, 3.2, 7.0, 2.0, 6.0, 0.7, math.radians(35)
    bench = Box(
        long=f"{long} mm", short=f"{short} mm", thick=f"{thick} mm", wide=f"{wide} mm", bar=f"{bar} mm", span=f"{span} mm", undercut=f"{y} mm", lead="35 deg",
        back=f"{back} deg", along="3 mm", opening=opening,
    )  # fmt: skip
    assert bench.message(bench.step) == ""
    g = bench.joint().drawn.gap_mm
    catch = 0.0 if back == 90 else (g + y) / math.tan(math.radians(back))
    nose = catch + 0.4 + (g + y + thick / 2) / math.tan(lead)
    bars, travel = 1.0 + short, (g + y) * short / long + 0.3
    begins = bars + long
    outline = [
        (g + travel, 1.0), (g, bars), (g, begins), (-y, begins + catch), (-y, begins + catch + 0.4), (g + thick / 2, begins + nose), (g + thick, begins + nose), (g + thick, 1.0),
    ]  # fmt: skip
    posts = 2 * thick * (1.6 * bar) * (bars + bar / 2 + 1.0)
    made = shoelace(outline) * wide + 2 * span * bar**2 + posts
    assert bench.volume(bench.lid) - bench.before[bench.lid] == pytest.approx(made, rel=1e-6)
    deep = 2.4 if opening == "window" else y + g
    assert bench.before[bench.box] - bench.volume(bench.box) == pytest.approx(
        (nose + 2 * g) * (wide + 2 * g) * deep, rel=1e-6
    )
    for part in (bench.lid, bench.box):
        solid = bench.evaluate().parts[part].solid
        assert solid.valid and solid.closed and solid.lumps == 1


def test_the_gap_is_that_of_the_nose_in_its_opening() -> None:
    bench = Box()
    joint = bench.joint()
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((joint.drawn.gap_mm,) * 2, abs=1e-6)
    assert (
        joint.halves == ("opening", "lever") and findings(bench, "overlap") == [] and findings(bench, "together") == []
    )


def test_pressed_it_comes_free_and_has_room_for_that() -> None:
    """The lever alone, turned about its bars by what the nose needs: it meets the wall nowhere, and lets the nose out."""
    bench = Box(undercut="0.8 mm", short="7 mm", long="14 mm", thick="3 mm")
    g = bench.joint().drawn.gap_mm
    lid, box = (bench.evaluate().parts[p].solid for p in (bench.lid, bench.box))
    height = 36 - 1 - 7
    names = [n for names in lid.names for n in names if n.startswith(f"{bench.step}/lever(")]
    lever = kernel.trimmed(lid, kernel.GROUND, (27.0, -3.9, 0.0), (40.0, 3.9, 34.9), names, "t")
    assert lever is not lid
    axis = Axis((28 + g + 1.5, 0.0, height), (0.0, 1.0, 0.0))
    turned = kernel.moved(lever, kernel.Motion.turn(axis, -1.02 * math.atan((0.8 + g) / 14)))
    assert kernel.common(turned, box)[0] < 1e-6, "out of its window, and the pressed end clear of the wall"
    still = kernel.moved(lever, kernel.Motion.shift((0.0, 0.0, 2.0)))
    assert kernel.common(still, box)[0] > 0.1, "not pressed it is held"


def test_shear_and_forces_are_those_of_two_square_bars() -> None:
    """τ = T/(0.2082·a³), J = 0.1406·a⁴ (Timoshenko's table for a square); G = E/(2 + 2ν), PLA 2400 MPa and 0.36."""
    bench = Box(long="14 mm", short="7 mm", bar="2.4 mm", span="8 mm", undercut="0.7 mm", used="once", back="45 deg")
    rows = bench.rows()
    bend = rows["undercut as printed"]["value"]
    turn = bend / 14
    shear = 2400 / (2 * 1.36)
    moment = shear * 0.1406 * 2.4**4 * turn / 8
    assert rows["shear of the bars"]["value"] == pytest.approx(100 * moment / (0.2082 * 2.4**3) / shear, rel=1e-3)
    assert rows["force to press it open"]["value"] == pytest.approx(2 * moment / 7, rel=1e-3)
    assert rows["way to press it"]["value"] == pytest.approx(bend / 2, rel=1e-9)
    for name, angle in (("force to push in", 30), ("force to pull out", 45)):
        t = math.tan(math.radians(angle))
        assert rows[name]["value"] == pytest.approx(2 * moment / 14 * (0.3 + t) / (1 - 0.3 * t), rel=1e-3)
    # sharp corners: 0.85; von Mises: γ = 2(1 + ν)/√3·ε
    assert rows["shear of the bars"]["limit"] == pytest.approx(100 * 2 * 1.36 / math.sqrt(3) * 0.018 * 0.85, rel=1e-6)
    bench.do("LayPart", part=bench.lid, face=flat(bench, bench.lid, bench.face(bench.lid, 1, 1)))
    assert bench.rows()["shear of the bars"]["limit"] == pytest.approx(
        0.5 * 100 * 2 * 1.36 / math.sqrt(3) * 0.018 * 0.85, rel=1e-6
    ), "bars that stand upright"


@pytest.mark.parametrize(
    ("fields", "word"),
    [
        ({"bar": "4 mm"}, "3 mm"),
        ({"long": "3 mm"}, "does not rock but bends"),
        ({"short": "1 mm"}, "reaches beyond the bars"),
        ({"short": "40 mm"}, "leaves nothing of the lever"),
        ({"undercut": "0 mm"}, "above zero"),
        ({"span": "-1 mm"}, "above zero"),
        ({"lead": "80 deg"}, "between 10 and 60"),
        ({"along": "30 mm"}, "as far as both posts"),
        ({"along": "14 mm"}, "as far as both posts"),
        ({"long": "26 mm"}, "not lie within the wall"),
        ({"opening": "pocket", "undercut": "1.6 mm"}, "leaves too little of it"),
        ({"wall": None}, "Pick the wall"),
    ],
)
def test_what_does_not_work_says_so_in_a_sentence(fields: dict[str, Any], word: str) -> None:
    bench = Box(**fields)
    assert word in bench.message(bench.step), bench.message(bench.step)
    assert bench.volume(bench.box) == pytest.approx(bench.before[bench.box]), "the rest stands"


def test_it_is_said_in_a_sentence() -> None:
    bench = Box()
    words = sentence(bench.project, bench.project.step(bench.step))
    assert "torsion lever" in words and "16 mm from its bars to the nose" in words


def test_unmeasured_it_is_good_as_often_as_is_said() -> None:
    """120 hidden machines with filaments of their own, whose hands twist bars by another method: as often as shown, within three standard deviations and what that leaves."""
    case = Case("lever")
    lives = [case.print_and_try(Machine(n, hidden_of(n)), case.first.drawn_mm)[0] for n in range(70_000, 70_120)]
    good = mean(said == "good" for said in lives)
    assert good == pytest.approx(case.first.report.chance.fits, abs=0.14)
