"""The map of a gap: against formulas of shafts off their bore's middle and of overlaps, on lips and ribs, and as files."""

from __future__ import annotations

import csv
import math
from pathlib import Path

import numpy as np
import pytest
from building import Bench, Feeder, Hub

from dovejoint.cli import main
from dovejoint.core.document import dump, new_project
from dovejoint.core.errors import CommandError
from dovejoint.core.joints.gapmap import as_ply, map_of, map_report
from dovejoint.core.solid import Frame, bar, cut, gap_map

FRAME = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))


@pytest.mark.parametrize(("radius", "off"), [(9.7, 0.2), (9.7, 0.5), (10.2, 0.0)])
def test_a_shaft_off_the_middle_of_its_bore(radius: float, off: float) -> None:
    """At an angle the gap is the bore's radius less how far the shaft reaches there; negative where it overlaps. Both halves tell the same."""
    hole = cut(bar(FRAME, 16.0, 0.0, 20.0, "b", "out"), [bar(FRAME, 10.0, -1.0, 21.0, "b", "hole")], "b")
    shaft = bar(Frame((off, 0.0, 0.0), FRAME.x, FRAME.y), radius, 0.0, 20.0, "s", "shaft")
    outer, inner = gap_map(hole, shaft, FRAME, 5.0, 15.0, 2.0)
    for half in (outer, inner):
        corners, gaps = half.corners.reshape(-1, 3), half.gaps.ravel()
        assert len(gaps) > 300 and np.all((corners[:, 2] > 4.99) & (corners[:, 2] < 15.01))
        # from a point of either circle the other one is nearest along its own radius
        middle = np.array([off, 0.0]) if half is outer else np.zeros(2)
        away = np.linalg.norm(corners[:, :2] - middle, axis=1)
        expected = away - radius if half is outer else 10.0 - away
        assert np.abs(gaps - expected).max() < 0.011
    assert outer.gaps.min() == pytest.approx(10 - radius - off, abs=0.011)
    assert outer.gaps.max() == pytest.approx(10 - radius + off, abs=0.011)


def test_of_a_lip_and_of_ribs() -> None:
    feeder = Feeder()
    joint = feeder.joint()
    halves, wanted = map_of(feeder.project, feeder.evaluate(), joint.step)
    every = np.concatenate([h.gaps.ravel() for _, h in halves])
    assert (every.min(), every.max()) == pytest.approx((joint.measured.least_mm, joint.measured.most_mm), abs=0.011)
    assert wanted == joint.wanted
    hub = Hub(grip="ribs")
    told = hub.joint()
    halves, _ = map_of(hub.project, hub.evaluate(), hub.seat)
    outer = next(h for part, h in halves if part == hub.hub)
    # least on the crests, and the room that was left between them
    assert outer.gaps.min() == pytest.approx(told.measured.least_mm, abs=0.011)
    assert outer.gaps.max() == pytest.approx(0.2 + told.drawn.gap_mm + 0.12, abs=0.011)


def test_beside_a_slit_nothing_is_deeper_than_the_wall() -> None:
    """A shaft that overlaps its split bore: from the sides of the slit the way straight on, across the shaft, is far longer than the one out."""
    hub = Hub(grip="split", rests="through", fit="own", least="-0.7 mm", target="-0.6 mm", most="-0.5 mm")
    drawn = hub.joint().drawn.gap_mm
    assert drawn < -0.1 and hub.joint().measured.least_mm == pytest.approx(drawn, abs=0.002)
    halves, _ = map_of(hub.project, hub.evaluate(), hub.seat)
    assert min(h.gaps.min() for _, h in halves) == pytest.approx(drawn, abs=0.011)


def test_its_report_packs_what_it_says_and_what_is_not_there_is_refused() -> None:
    hub = Hub()
    report = map_report(hub.project, hub.evaluate(), hub.seat)
    import base64

    for half in report["halves"]:
        corners, gaps = (np.frombuffer(base64.b64decode(half[k]), dtype="<f4") for k in ("corners", "gaps"))
        assert len(corners) == 3 * len(gaps) and gaps.min() >= report["least"] - 1e-6
    with pytest.raises(CommandError, match="not there"):
        map_report(hub.project, hub.evaluate(), "s99")
    hub.set("wide", "16 mm")
    with pytest.raises(CommandError, match="could not be made"):
        map_report(hub.project, hub.evaluate(), hub.seat)


def test_files_of_points(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    hub = Hub()
    project = tmp_path / "hub.json"
    text = dump(hub.project)
    project.write_bytes(text if isinstance(text, bytes) else text.encode())
    out = tmp_path / "gap.csv"
    assert main(["map", str(project), "Seat", "--out", str(out)]) == 0
    assert "square to the faces" in capsys.readouterr().out
    rows = list(csv.DictReader(out.open(encoding="utf-8")))
    assert {r["part"] for r in rows} == {"Hub", "Bearing"}
    for row in rows[::50]:
        x, y = float(row["x_mm"]), float(row["y_mm"])
        assert math.hypot(x, y) == pytest.approx(
            8.0 if row["part"] == "Bearing" else 8.0 + float(row["gap_mm"]), abs=0.02
        )
    halves, _ = map_of(hub.project, hub.evaluate(), hub.seat)
    head = as_ply(halves).split(b"end_header\n")
    assert head[0].startswith(b"ply\nformat ascii 1.0\nelement vertex ") and head[1].count(b"\n") == int(
        head[0].split()[6]
    )
    assert main(["map", str(project), "Seat", "--out", str(tmp_path / "gap.txt")]) != 0
    assert main(["map", str(project), "Lid", "--out", str(out)]) != 0
    assert "There is no joint “Lid”" in capsys.readouterr().err


def test_without_a_joint_there_is_no_map() -> None:
    bench = Bench(new_project("Empty"))
    with pytest.raises(CommandError):
        map_of(bench.project, bench.evaluate(), "s1")
