"""Drop-in hooks: volumes by hand, both gaps on the solids, the way off, what carries by the plain beam's formula, refusals, and that they follow their values."""

from __future__ import annotations

from statistics import mean
from typing import Any

import pytest
from building import Bench, findings, flat
from families import Case

from dovejoint.core import solid as kernel
from dovejoint.core.document import new_project
from dovejoint.core.recipe import sentence
from dovejoint.simulator import Machine, hidden_of

GROUND = {"rule": "base", "plane": "ground"}
UPRIGHT = {"rule": "axis_base", "axis": "up"}


class Hung(Bench):
    """A wall 60 × 4 × 50 and a block 40 × 20 × 30 that lies on it with its back, with a hook."""

    def __init__(self, off: str = "0 mm", **fields: Any) -> None:
        super().__init__(new_project("Hung"))
        self.do("AddValue", name="thick", formula="4 mm")
        body = {"on": GROUND}
        _, self.wall = self.do(
            "AddStep",
            kind="body",
            new_part={"name": "Wall"},
            fields={**body, "wide": "60 mm", "deep": "thick", "high": "50 mm"},
        )
        _, self.cup = self.do("AddStep", kind="body", new_part={"name": "Cup"}, fields={**body, "wide": "40 mm", "deep": "20 mm", "high": "30 mm", "up": f"-10 mm - thick/2 - ({off})"})  # fmt: skip
        self.before = {p: self.volume(p) for p in (self.wall, self.cup)}
        base, wall = (flat(self, p, self.facing(p, (0, way, 0))) for p, way in ((self.cup, 1), (self.wall, -1)))
        given = {"base": base, "wall": wall, "way": UPRIGHT, **fields}
        (self.step,) = self.do("AddStep", kind="drop_hook", fields=given)

    def facing(self, part: str, way: tuple[float, float, float]) -> str:
        faces = self.evaluate().parts[part].faces
        return next(f.names[0] for f in faces if sum(a * b for a, b in zip(f.normal, way, strict=True)) > 0.99)

    def rows(self) -> dict[str, Any]:
        return {r["name"]: r for r in self.joint().working.as_dict()["results"]}


@pytest.mark.parametrize(("takes", "lead"), [("inner", 0.8), ("outer", 0.0), ("both", 1.2)])
def test_hook_and_window_have_the_volumes_that_their_figures_say(takes: str, lead: float) -> None:
    bench = Hung(
        wide="9 mm", neck="6 mm", drop="5 mm", lip="3.5 mm", lead=f"{lead} mm", takes=takes, right="4 mm", up="2 mm"
    )
    assert bench.message(bench.step) == ""
    g = bench.joint().drawn.gap_mm
    share = {"inner": 0.0, "outer": 1.0, "both": 0.5}[takes]
    throat, wide = 4 + 2 * g, 9 - 2 * (1 - share) * g
    hook = ((throat + 3.5) * 6 + 3.5 * 5 - lead**2 / 2) * wide
    assert bench.volume(bench.cup) - bench.before[bench.cup] == pytest.approx(hook, rel=1e-9)
    window = (9 + 2 * share * g) * 4 * (6 + 5 + 0.5 + g)
    assert bench.before[bench.wall] - bench.volume(bench.wall) == pytest.approx(window, rel=1e-9)
    for part in (bench.wall, bench.cup):
        solid = bench.evaluate().parts[part].solid
        assert solid.valid and solid.closed and solid.lumps == 1
    assert findings(bench, "overlap") == [] and findings(bench, "together") == []


@pytest.mark.parametrize("off", ["0 mm", "0.2 mm", "0.5 mm"])
def test_both_gaps_are_read_wherever_it_leans(off: str) -> None:
    """To each side of the neck, and half of what is between face and lip beside the wall, however near the face stands to it."""
    bench = Hung(off=off)
    joint = bench.joint()
    assert (joint.measured.least_mm, joint.measured.most_mm) == pytest.approx((joint.drawn.gap_mm,) * 2, abs=1e-6)
    assert joint.measured.play_mm == pytest.approx(joint.drawn.gap_mm, abs=1e-6)
    assert joint.notice == "" and joint.halves == ("window", "hook")
    # the other route: how far the part can be pulled off the wall before its lip meets it
    cup, wall = (bench.evaluate().parts[p].solid for p in (bench.cup, bench.wall))
    free = 2 * joint.drawn.gap_mm - float(off.removesuffix(" mm"))
    for by, meets in ((free - 0.01, False), (free + 0.01, True)):
        pulled = kernel.moved(cup, kernel.Motion.shift((0.0, -by, 0.0)))
        assert (kernel.common(pulled, wall)[0] > 1e-6) is meets


def test_lifted_it_comes_off_and_hung_it_does_not() -> None:
    bench = Hung(drop="5 mm")
    cup, wall = (bench.evaluate().parts[p].solid for p in (bench.cup, bench.wall))

    def meets(up: float, off: float) -> bool:
        return kernel.common(kernel.moved(cup, kernel.Motion.shift((0.0, -off, up))), wall)[0] > 1e-6

    assert not meets(0.0, 0.0) and meets(-0.1, 0.0), "it rests on its sill"
    assert all(meets(0.0, off) for off in (2.0, 5.0, 8.0))
    assert not any(meets(5.3, off) for off in (0.0, 2.0, 5.0, 8.0, 12.0)), (
        "lifted by its drop and a little it comes off straight"
    )
    assert not any(meets(up, 0.3) for up in (1.0, 2.5, 4.0, 5.0)), "on the way up nothing is in its way"


def test_what_it_carries_is_that_of_a_short_beam() -> None:
    """σ = 6·F·l/(b·h²) over the middle of the sill, and the lip by the same with half its length; PLA bears 50 MPa, and 0.5 of it across its layers."""
    bench = Hung(wide="9 mm", neck="4 mm", drop="6 mm", lip="2.5 mm", takes="outer")
    rows = bench.rows()
    gap = rows["slack behind the wall"]["value"] / 2
    assert rows["weight until the neck breaks"]["value"] == pytest.approx(
        min(50 * 9 * 16 / (6 * (2 + gap)), 0.577 * 50 * 9 * 4), rel=1e-6
    )
    # it stands on its foot: the lip's layers are pulled apart
    assert rows["pull until the lip breaks"]["value"] == pytest.approx(0.5 * 50 * 9 * 2.5**2 / (6 * 3), rel=1e-6)
    assert rows["pull until the lip breaks"]["note"] == "its layers are pulled apart"
    bench.do("LayPart", part=bench.cup, face=flat(bench, bench.cup, bench.facing(bench.cup, (0, -1, 0))))
    laid = bench.rows()
    assert laid["pull until the lip breaks"]["value"] == pytest.approx(
        2 * rows["pull until the lip breaks"]["value"], rel=1e-6
    )
    assert laid["weight until the neck breaks"]["note"] == "its layers are pulled apart"


@pytest.mark.parametrize(
    ("fields", "word"),
    [
        ({"lead": "2.7 mm"}, "2.6 mm at most"),
        ({"wide": "0 mm"}, "above zero"),
        ({"wide": "1.4 mm"}, "nothing of the hook"),
        ({"fit": "own", "least": "-0.6 mm", "target": "-0.5 mm", "most": "-0.4 mm"}, "looser fit"),
        ({"up": "20 mm"}, "reach over the hook"),
        ({"right": "40 mm"}, "not lie within the wall"),
        ({"wide": "80 mm"}, "not lie within the wall"),
        ({"way": {"rule": "axis_base", "axis": "deep"}}, "lie in the face"),
        ({"off": "2 mm"}, "2 mm apart"),
        ({"way": None}, "Pick the way"),
        ({"base": None}, "Pick the face that the hook stands on"),
    ],
)
def test_what_does_not_work_says_so_in_a_sentence(fields: dict[str, Any], word: str) -> None:
    bench = Hung(**fields)
    assert word in bench.message(bench.step)
    assert bench.volume(bench.wall) == pytest.approx(bench.before[bench.wall]), "the rest stands"


def test_a_wall_that_is_not_even_is_refused() -> None:
    bench = Hung()
    (step,) = bench.do(
        "AddStep",
        kind="body",
        after="",
        fields={
            "wide": "6 mm",
            "deep": "2 mm",
            "high": "30 mm",
            "on": GROUND,
            "up": "3 mm",
            "operation": "add",
            "part": bench.wall,
        },
    )
    bench.do("MoveStep", step=step, after=bench.project.recipe[1].id)
    assert "needs an even one" in bench.message(bench.step)


def test_it_drops_the_other_way_too_and_follows_its_wall() -> None:
    bench = Hung(drops="upper")
    assert bench.message(bench.step) == ""
    cup, wall = (bench.evaluate().parts[p].solid for p in (bench.cup, bench.wall))
    assert kernel.common(kernel.moved(cup, kernel.Motion.shift((0.0, 0.0, 0.1))), wall)[0] > 1e-6, "its sill is above"
    for thick in ("3 mm", "6 mm"):
        bench.set("thick", thick)
        joint = bench.joint()
        assert joint.measured.least_mm == pytest.approx(joint.drawn.gap_mm, abs=1e-6)
    assert "drops" in sentence(bench.project, bench.project.step(bench.step)).lower()


def test_unmeasured_it_is_good_as_often_as_is_said() -> None:
    """120 hidden machines: as often as shown, within three standard deviations and what another physics leaves."""
    case = Case("drop_hook")
    lives = [case.print_and_try(Machine(n, hidden_of(n)), case.first.drawn_mm)[0] for n in range(70_000, 70_120)]
    good = mean(said == "good" for said in lives)
    assert good == pytest.approx(case.first.report.chance.fits, abs=0.12)
