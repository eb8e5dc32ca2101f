"""A joint cut where its gap is least: areas by hand, the gap between the outlines, and who has none."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from building import Bench, of_sample

from dovejoint.core.errors import CommandError
from dovejoint.core.joints.drawing import BEYOND, drawing_of


def drawn(name: str, kind: str, **fields: Any) -> tuple[Bench, dict[str, Any]]:
    bench = of_sample(name)
    step = next(s.id for s in bench.project.recipe if s.kind == kind)
    if fields:
        bench.do("EditStep", step=step, fields=fields)
    return bench, drawing_of(bench.project, bench.evaluate(), step, bench.gaps)


def met_at(loops: list[list[list[float]]], v: float = 0.0) -> list[float]:
    """Where outlines cross the level through the place."""
    out = []
    for loop in loops:
        for (u0, v0), (u1, v1) in zip(loop, [*loop[1:], loop[0]], strict=True):
            if (v0 > v) != (v1 > v):
                out.append(u0 + (u1 - u0) * (v - v0) / (v1 - v0))
    return out


def test_a_spindle_in_its_block_by_hand() -> None:
    """Ø 8 less the gap in a bore Ø 8, 18 deep, in a block of 26: near by two straight edges with the gap between them."""
    _, drawing = drawn("spindle", "shaft_in_bore")
    gap = drawing["gap"]["mm"]
    assert gap == pytest.approx(0.37, abs=1e-3)
    half = drawing["near"]["half"][0]
    assert half == pytest.approx(4 * gap, rel=1e-6)
    block, spindle = (sorted(abs(u) for u in met_at(p["near"])) for p in drawing["parts"])
    assert block == pytest.approx([gap / 2, BEYOND * half], abs=2e-3)
    assert spindle == pytest.approx([gap / 2, BEYOND * half], abs=2e-3)
    (a, b), middle = drawing["gap"]["ends"], drawing["whole"]["middle"]
    assert abs(a[0] - b[0]) == pytest.approx(gap, abs=1e-3) and a[1] == pytest.approx(b[1], abs=1e-6)
    # the whole shows both sides of the bore: its middle is the axis, a radius less half the gap from the place
    assert abs(middle[0]) == pytest.approx(4 - gap / 2, abs=5e-3)
    shaft = next(p for p in drawing["parts"] if p is drawing["parts"][1])
    us = np.concatenate([np.array(loop)[:, 0] for loop in shaft["whole"]])
    assert us.max() - us.min() == pytest.approx(8 - 2 * gap, abs=0.02)


@pytest.mark.parametrize(
    ("name", "kind"),
    [("feeder", "plug_in_lip"), ("jar", "thread"), ("hatch", "snap_hook"), ("panel", "ball"), ("vane-hub", "seat"), ("shield", "halving"), ("sensor-cover", "detent")],
)  # fmt: skip
def test_both_halves_are_seen_and_do_not_meet(name: str, kind: str) -> None:
    _, drawing = drawn(name, kind)
    outer, inner = (met_at(p["near"]) for p in drawing["parts"])
    assert outer and inner
    nearest = min(abs(a - b) for a in outer for b in inner)
    # level, not square to what is aslant
    assert nearest == pytest.approx(drawing["gap"]["mm"], abs=0.012)


def test_what_has_no_drawing_says_why() -> None:
    bench, _ = drawn("spindle", "shaft_in_bore")
    body = next(s.id for s in bench.project.recipe if s.kind == "body")
    with pytest.raises(CommandError, match="not there any more"):
        drawing_of(bench.project, bench.evaluate(), body, bench.gaps)
    step = next(s.id for s in bench.project.recipe if s.kind == "shaft_in_bore")
    bench.do("EditStep", step=step, fields={"depth": "40 mm"})
    with pytest.raises(CommandError, match="could not be made"):
        drawing_of(bench.project, bench.evaluate(), step, bench.gaps)


def test_a_hook_is_seen_along_its_arm() -> None:
    """The whole is cut along the arm: as thick at its root as it is said, and its nose reaches into the wall by the undercut; near by it is cut where the gap is least."""
    _, drawing = drawn("hatch", "snap_hook", undercut="0.8 mm", thick="1.6 mm", back="90 deg", root="0 mm")
    assert drawing["apart"]
    hook = drawing["parts"][1]["whole"]
    half, gap = drawing["whole"]["half"][1], drawing["gap"]["mm"]
    # just under the face that it stands on: the arm alone
    deep = (half - 1.0) / 0.6
    root = sorted(met_at(hook, deep / 2 - 0.5))
    assert root[1] - root[0] == pytest.approx(1.6, abs=0.05)
    wall_at = root[0] - gap
    nose = min(u for loop in hook for u, v in loop if v < 0)
    assert nose == pytest.approx(wall_at - 0.8, abs=0.02)
    near = drawing["near"]["half"][0]
    assert any(abs(abs(u) - gap / 2) < 0.01 for u in met_at(drawing["parts"][0]["near"])) and near < half
