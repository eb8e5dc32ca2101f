"""The command line, run as a person runs it."""

from __future__ import annotations

import contextlib
import io
import json
import math
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

from dovejoint.cli import main
from dovejoint.core.formats.stl import read_stl
from dovejoint.core.formats.threemf import read_3mf

WORDS = [sys.executable, "-m", "dovejoint.cli"]


def started(*words: object) -> subprocess.CompletedProcess[str]:
    """As a program of its own, from nothing."""
    return subprocess.run([*WORDS, *map(str, words)], capture_output=True, text=True, timeout=120)


def run(*words: object) -> subprocess.CompletedProcess[str]:
    """The same in this process, which has loaded the kernel already."""
    out, err = io.StringIO(), io.StringIO()
    argv = [str(w) for w in words]
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        try:
            code = main(argv)
        except SystemExit as stop:
            # what argparse refuses
            code = int(stop.code or 0)
    return subprocess.CompletedProcess(argv, code, out.getvalue(), err.getvalue())


@pytest.fixture(scope="module")
def feeder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("cli") / "feeder.json"
    assert started("sample", "feeder", "--out", path).returncode == 0
    return path


def counted_by_dice() -> float:
    """How often the sample's floor goes together, by throwing printers: 0.35 drawn a side, 83 × 55.3, a mouth of 0.3 on the bed."""
    dice, n = np.random.default_rng(4), 400_000
    sd, both = (
        dice.normal,
        lambda alike: dice.normal(size=(n, 1)) * math.sqrt(alike) + dice.normal(size=(n, 2)) * math.sqrt(1 - alike),
    )
    lean = sd(size=(n, 1))
    outside = 0.05 + 0.035 * (math.sqrt(0.3) * lean + math.sqrt(0.7) * both(0.55 / 0.7))
    inside = 0.10 + 0.04 * (math.sqrt(0.3) * lean + math.sqrt(0.7) * both(0.55 / 0.7))
    # what joints of this size lose besides: between 30 and 100 mm, those two 0.6 alike
    wide, least = 0.05 * (z := sd(size=n)), 0.025 * (0.6 * z + 0.8 * sd(size=n))
    at = [math.log(s / 30) / math.log(100 / 30) for s in (83, 55.33)]
    besides = np.stack([least * (1 - a) + wide * a for a in at], axis=1)
    print_ = 2 * 0.015 * sd(size=(n, 1)) + 0.022 * (sd(size=(n, 2)) + sd(size=(n, 2)))
    gap = 0.35 - 0.002 * 0.35 - outside - inside - besides - print_
    flare, height = np.maximum(sd(0.2, 0.06, n), 0), np.maximum(sd(0.4, 0.09, n), 0.05)
    left = np.maximum(np.maximum(flare * (1 - 0.3 / height), flare - 0.3), 0)
    return float(((gap.min(axis=1) - left >= 0.1) & (gap.max(axis=1) <= 0.3)).mean())


def test_build_reports_all_that_is_promised(feeder: Path) -> None:
    done = run("build", feeder, "--json")
    assert done.returncode == 0, done.stderr
    report = json.loads(done.stdout)
    assert report["ok"] is True
    hopper = report["parts"][0]
    assert hopper["name"] == "Hopper"
    assert hopper["role"] == "printed"
    assert hopper["closed"] is True
    assert hopper["bounding_box_mm"]["high"] == pytest.approx([43.2, 29.3666667, 74])
    assert hopper["volume_mm3"] > 40000
    assert hopper["area_mm2"] > 40000
    assert all(step["state"] == "ok" for step in report["steps"])
    (joint,) = report["joints"]
    assert joint["wanted_mm"] == {"least": 0.1, "target": 0.2, "most": 0.3}
    assert joint["drawn_mm"] == pytest.approx(0.35)
    assert joint["measured_mm"]["least"] == pytest.approx(0.35)
    assert joint["chance"]["fits"] == pytest.approx(counted_by_dice(), abs=0.02)
    assert "flares into the gap by 0.05 mm" in joint["note"]
    assert "too tight in 38 of 100" in run("build", feeder).stdout


def test_a_project_that_fails_ends_with_1(feeder: Path, tmp_path: Path) -> None:
    data = json.loads(feeder.read_text())
    next(s for s in data["recipe"] if s["kind"] == "fillet")["fields"]["radius"] = "99 mm"
    broken = tmp_path / "broken.json"
    broken.write_text(json.dumps(data))
    done = run("build", broken, "--json")
    assert done.returncode == 1
    failed = [s for s in json.loads(done.stdout)["steps"] if s["state"] == "failed"]
    assert "mm is the most" in failed[0]["message"]


@pytest.mark.parametrize("words", [["build", "nowhere.json"], ["export", "nowhere.json"]])
def test_missing_files_end_with_2_and_a_sentence(words: list[str]) -> None:
    done = run(*words)
    assert done.returncode == 2
    assert done.stderr.strip() == "nowhere.json cannot be read: No such file or directory."


def test_export(feeder: Path, tmp_path: Path) -> None:
    done = run("export", feeder, "--out", tmp_path, "--pattern", "{part}")
    assert done.returncode == 0, done.stderr
    assert sorted(p.name for p in tmp_path.iterdir()) == ["Floor.stl", "Hopper.stl"]
    assert read_stl((tmp_path / "Floor.stl").read_bytes()).max() == pytest.approx(43.2, abs=1e-4)
    one = run("export", feeder, "--part", "Floor", "--format", "step", "--out", tmp_path / "lid.step")
    assert one.returncode == 0
    assert (tmp_path / "lid.step").read_bytes().startswith(b"ISO-10303-21")
    wrong = run("export", feeder, "--part", "Roof")
    assert (wrong.returncode, wrong.stderr.strip()) == (2, "There is no part “Roof”; there are Hopper, Floor.")
    same = run("export", feeder, "--pattern", "{project}", "--out", tmp_path)
    assert "two parts the same file" in same.stderr
    assert "not {user}" in run("export", feeder, "--pattern", "{user}", "--out", tmp_path).stderr


def test_published_descriptions_are_up_to_date() -> None:
    docs = Path(__file__).parents[2] / "docs"
    for what, name in (("file", "project-file.schema.json"), ("api", "openapi.json")):
        assert json.loads((docs / name).read_text()) == json.loads(run("schema", what).stdout), (
            f"./dove schema {what} > docs/{name}"
        )


def test_formulas_and_documents_never_load_the_kernel() -> None:
    code = (
        "import sys, dovejoint.web.app, dovejoint.cli\n"
        "from dovejoint.sample import make_feeder\n"
        "from dovejoint.core.joints import assess_by_formula\n"
        "assert assess_by_formula(make_feeder())[0].drawn.gap_mm > 0.3\n"
        "sys.exit(any(m == 'OCP' or m.startswith('OCP.') for m in sys.modules))"
    )
    assert subprocess.run([sys.executable, "-c", code], timeout=60).returncode == 0


COMMANDS = [
    {"do": "AddValue", "name": "wall", "formula": "1.7 mm"},
    {"do": "AddValue", "name": "inside", "formula": "83 mm"},
    {"do": "AddStep", "kind": "sketch", "fields": {}, "name": "outline"},
    {"do": "DrawRectangle", "step": "s3", "first": [0, 0], "corner": [40, 25], "on": "origin",
     "width": "inside + 2*wall", "height": "60 mm"},
    {"do": "AddStep", "kind": "extrude", "new_part": {"name": "Hopper"},
     "fields": {"profile": {"rule": "regions", "step": "s3"}, "distance": "70 mm"}},
    {"do": "AddStep", "kind": "fillet",
     "fields": {"edges": {"rule": "edges_along", "part": "p4", "direction": "up"}, "radius": "9 mm"}},
    {"do": "AddStep", "kind": "shell",
     "fields": {"open": {"rule": "faces", "part": "p4", "faces": [{"name": "s5/start"}]}, "wall": "wall"}},
    {"do": "AddStep", "kind": "plug_in_lip", "new_part": {"name": "Floor"},
     "fields": {"host": {"rule": "flat", "part": "p4", "face": {"name": "s7/rim(s5/start)"}}}},
]  # fmt: skip


def test_the_whole_way_without_a_browser(tmp_path: Path) -> None:
    file, commands = tmp_path / "feeder.json", tmp_path / "commands.json"
    assert run("new", "Bird feeder", "--out", file).returncode == 0
    commands.write_text(json.dumps(COMMANDS))
    done = run("change", file, commands)
    assert done.returncode == 0, done.stderr
    assert run("change", file, "--set", "wall=2.6 mm").returncode == 0
    report = json.loads(run("build", file, "--json").stdout)
    assert report["ok"]
    assert report["parts"][1]["bounding_box_mm"]["high"][0] == pytest.approx((83 + 5.2) / 2), "the floor follows"
    assert report["joints"][0]["measured_mm"]["most"] == pytest.approx(0.35, abs=1e-6), "and the gap stays"
    # a list in which one command is refused changes nothing
    before = file.read_text()
    for bad, word in (
        ([{"do": "SetUnit", "unit": "in"}, {"do": "AddValue", "name": "wall", "formula": "1 mm"}], "Command 2: There is a value called “wall” already."),
        ({"do": 1}, "Command 1"), ("", "JSON list"),
    ):  # fmt: skip
        commands.write_text(json.dumps(bad) if bad else "nonsense")
        done = run("change", file, commands)
        assert (done.returncode, word in done.stderr) == (2, True), done.stderr
        assert file.read_text() == before
    assert run("change", file, "--set", "walls=3 mm").returncode == 2


def test_zones_without_the_kernel() -> None:
    done = run("calc", "iso286", 16, "f7", "--json")
    assert done.returncode == 0
    found = json.loads(done.stdout)
    assert (found["lower_um"], found["upper_um"]) == (-34, -16)
    assert "clearance" in run("calc", "iso286", 25, "H7/g6").stdout
    for words, word in ((("x", "f7"), "not a size"), ((25, "w7"), "not used"), ((900, "h6"), "500 mm")):
        done = run("calc", "iso286", *words)
        assert (done.returncode, word in done.stderr) == (2, True)
    code = "import sys; from dovejoint.cli import main; main(['calc', 'iso286', '16', 'f7']); sys.exit('OCP' in sys.modules)"
    assert subprocess.run([sys.executable, "-c", code], capture_output=True).returncode == 0


def test_calibration_from_a_file(tmp_path: Path) -> None:
    file = tmp_path / "readings.json"
    file.write_text(
        json.dumps({"nominal": [5, 10, 20, 40, 80], "measured": [5.08, 10.06, 20.02, 39.98, 79.88], "resolution": 0.02})
    )
    found = json.loads(run("calc", "calibrate", file, "--at", 25, "--json").stdout)
    assert found["n"] == 5
    assert found["prediction"][0]["one_half"] > found["prediction"][0]["mean_half"]
    for text, word in (
        ('{"nominal": [5, 80], "measured": [5.1, 80.1]}', "no scatter"),
        ("[]", "must be JSON"),
        ("{", "must be JSON"),
    ):
        file.write_text(text)
        done = run("calc", "calibrate", file)
        assert (done.returncode, word in done.stderr) == (2, True), done.stderr


def test_build_at_limits(feeder: Path, tmp_path: Path) -> None:
    project = json.loads(feeder.read_text())
    next(v for v in project["values"] if v["name"] == "inside")["tolerance"] = "±0.3"
    path = tmp_path / "limited.json"
    path.write_text(json.dumps(project))

    def wide(*words: str) -> float:
        done = run("build", path, "--json", *words)
        assert done.returncode == 0, done.stderr
        box = json.loads(done.stdout)["parts"][0]["bounding_box_mm"]
        return float(box["high"][0] - box["low"][0])

    assert wide("--limits", "lower") == pytest.approx(86.1)
    assert wide("--limits", "lower", "--limits", "inside=upper") == pytest.approx(86.7)
    assert wide("--limits", "Hopper=most") == pytest.approx(86.7), "a wider box has more wall"
    for words, text in ((["Cup=lower"], "neither"), (["inside=huge"], "no limit state")):
        done = run("build", path, "--limits", *words)
        assert (done.returncode, done.stdout) == (2, "") and text in done.stderr


def test_estimate_and_a_plate(feeder: Path, tmp_path: Path) -> None:
    done = run("estimate", feeder, "--json")
    report = json.loads(done.stdout)
    hopper, floor = report["parts"]
    assert (hopper["estimate"]["layers"], floor["estimate"]["layers"]) == (370, 47)
    assert report["total"]["mass_g"] == pytest.approx(hopper["estimate"]["mass_g"] + floor["estimate"]["mass_g"])
    # a shell of 41 cm³ in PLA, its walls of 1.7 mm all but solid: 40.98 · 1.24 = 50.8 g at the most
    assert 44 < hopper["estimate"]["mass_g"] < 50.9
    assert "370 layers" in run("estimate", feeder, "--part", "Hopper").stdout
    assert "There is no part" in run("estimate", feeder, "--part", "Cup").stderr
    done = run("export", feeder, "--format", "3mf", "--together", "--out", tmp_path / "plate.3mf")
    assert done.returncode == 0, done.stderr
    assert [i.name for i in read_3mf((tmp_path / "plate.3mf").read_bytes())] == ["Hopper", "Floor"]


def test_a_limit_that_is_none_is_refused(feeder: Path) -> None:
    for nonsense in ("0", "-3", "soon", "nan"):
        done = run("build", feeder, "--step-limit", nonsense)
        assert done.returncode == 2
        assert "step-limit" in done.stderr


def test_the_model_is_measured_and_its_links_and_parts_are_listed(tmp_path: Path) -> None:
    path = tmp_path / "roof.json"
    assert run("sample", "roof", "--out", path).returncode == 0
    read = started("measure", path, "the top of Roof", "underside of Box", "--json")
    rows = {row["what"]: row["figure"] for row in json.loads(read.stdout)}
    # the box is 34 high, its lid's plate 2
    assert read.returncode == 0 and rows["apart"] == pytest.approx(36)
    assert "area: " in run("measure", path, "top of Roof").stdout
    unknown = run("measure", path, "nose of Roof")
    assert unknown.returncode != 0 and "nothing called “nose of Roof”" in unknown.stderr
    found = json.loads(run("links", path, "--json").stdout)
    assert [(link["field"], len(link["curves"])) for link in found] == [("plane", 0), ("sources", 4)]
    assert "Roof rests on Box" in run("links", path).stdout
    run("change", path, "--set", "wall=3 mm")
    table = run("parts", path, "--csv").stdout.splitlines()
    assert table[0].startswith("part,to do,role") and table[1].startswith("Box,print,printed,,72.00,48.00,34.00,")
    box = 72 * 48 * 34 - 66 * 42 * 31
    assert float(table[1].split(",")[7]) == pytest.approx(box / 1000, abs=5e-4)


def test_calc_answers_one_case(tmp_path: Path) -> None:
    file = tmp_path / "case.json"
    file.write_text(json.dumps({"topic": "pin-in-hole tilt play", "inputs": {"D": 3.4, "d": 3.0, "L": 6}}))
    found = json.loads(run("calc", "case", file, "--json").stdout)
    assert found["outputs"]["tilt_deg"] == pytest.approx(3.75278, rel=1e-4)
    assert "tilt_deg: 3.75278" in run("calc", "case", file).stdout
    assert "a cantilever snap: L, y" in run("calc", "topics").stdout
    file.write_text("{")
    done = run("calc", "case", file)
    assert done.returncode == 2 and "is not JSON" in done.stderr
