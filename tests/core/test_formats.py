"""Files out, looked at as the programs that read them would: closed, as fine as promised, in the unit that was asked for."""

from __future__ import annotations

import math
from collections import Counter

import numpy as np
import pytest
from building import Bench, Feeder

from dovejoint.core.errors import CommandError
from dovejoint.core.formats import export_parts, file_name
from dovejoint.core.formats.export import chord_for
from dovejoint.core.formats.stl import read_stl
from dovejoint.core.joints.assess import assess
from dovejoint.core.solid import read_step, tessellate


def stl(bench: Bench, part: str, **options: str) -> np.ndarray:
    evaluation = bench.evaluate()
    joints = assess(bench.project, evaluation, bench.gaps)
    (file,) = export_parts(bench.project, evaluation, joints, [part], "stl", **options)
    return read_stl(file.data).astype(np.float64)


def volume(corners: np.ndarray) -> float:
    """Signed volume under a closed surface (divergence theorem)."""
    return float(np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum() / 6)


@pytest.mark.parametrize("which", ["hopper", "floor"])
def test_stl_is_closed_and_faces_outwards(feeder: Feeder, which: str) -> None:
    part = getattr(feeder, which)
    corners = stl(feeder, part)
    names = {tuple(p): i for i, p in enumerate(np.unique(np.round(corners.reshape(-1, 3), 4), axis=0))}
    edges: Counter[tuple[int, int]] = Counter()
    for triangle in np.round(corners, 4):
        a, b, c = (names[tuple(p)] for p in triangle)
        edges.update([(a, b), (b, c), (c, a)])
    assert all(count == 1 and edges[(b, a)] == 1 for (a, b), count in edges.items()), "each edge runs once each way"
    # facets lie inside a round outside and outside a round inside, by less than the chord
    assert volume(corners) == pytest.approx(feeder.volume(part), rel=2e-4)


def test_round_walls_stay_under_a_tenth_of_the_gap(feeder: Feeder) -> None:
    evaluation = feeder.evaluate()
    joints = assess(feeder.project, evaluation, feeder.gaps)
    chord = chord_for(feeder.floor, joints)
    assert chord <= 0.35 / 10
    state = evaluation.parts[feeder.floor]
    mesh = tessellate(state.solid, chord, 0.15)
    corners = [
        run for run, face in zip(mesh.faces, state.faces, strict=True)
        if face.names[0].startswith(f"{feeder.lip}/lip(") and face.kind == "cylinder"
    ]  # fmt: skip
    assert len(corners) == 4
    for first, count in corners:
        # the middles of facets on the lip's round corners: 7.3 − 0.35 about (±34.2, ±21)
        centres = np.abs(mesh.positions[mesh.triangles[first : first + count]].mean(axis=1))
        away = np.hypot(centres[:, 0] - 34.2, centres[:, 1] - 21.0)
        assert np.all(away <= 6.95 + 1e-5)
        assert np.all(away >= 6.95 - chord - 1e-5)


def test_inches_are_inches(feeder: Feeder) -> None:
    mm, inch = stl(feeder, feeder.floor), stl(feeder, feeder.floor, unit="in")
    assert np.allclose(mm / 25.4, inch, atol=1e-5)


def test_step_has_names_and_exact_volumes(feeder: Feeder) -> None:
    evaluation = feeder.evaluate()
    feeder.do("EditPart", part=feeder.floor, name="Boden Ø 86")
    files = export_parts(feeder.project, evaluation, [], [feeder.hopper, feeder.floor], "step", pattern="{part}")
    assert [f.name for f in files] == ["Hopper.step", "Boden Ø 86.step"]
    for file, part in zip(files, (feeder.hopper, feeder.floor), strict=True):
        ((_, found),) = read_step(file.data)
        assert found == pytest.approx(feeder.volume(part), rel=1e-9)
    assert b"COLOUR_RGB" in files[0].data


@pytest.mark.parametrize(
    ("pattern", "name"),
    [("{project} {part}", "Feeder Floor.stl"), ("{part}/../../x", "Floor-..-..-x.stl"), ("  {part}. ", "Floor.stl"), ("a" * 300, "a" * 120 + ".stl")],
)  # fmt: skip
def test_file_names_are_safe(pattern: str, name: str) -> None:
    assert file_name(pattern, "Feeder", "Floor", "stl") == name


def test_names_that_cannot_be(feeder: Feeder) -> None:
    for pattern, word in (("{date}", "not {date}"), ("///", "leaves no name")):
        with pytest.raises(CommandError, match=word):
            file_name(pattern, "Feeder", "Floor", "stl")
    with pytest.raises(CommandError, match="the same file"):
        export_parts(feeder.project, feeder.evaluate(), [], [feeder.hopper, feeder.floor], "stl", pattern="{project}")
    with pytest.raises(CommandError, match="no part to export"):
        export_parts(feeder.project, feeder.evaluate(), [], [], "stl")
    feeder.do("SwitchStep", step=feeder.body, off=True)
    with pytest.raises(CommandError, match="could not be made"):
        export_parts(feeder.project, feeder.evaluate(), [], [feeder.hopper], "stl")


def test_mesh_normals_point_outwards(bench: Bench) -> None:
    sketch = bench.rectangle("1 mm", "1 mm", at=(90, 90))
    bench.do("RemoveFromSketch", step=sketch, ids=["l1", "l2", "l3", "l4"])
    bench.do("DrawCircle", step=sketch, centre=[0, 0], radius=5, on="origin", diameter="20 mm")
    _, part = bench.extrude(sketch, "8 mm")
    mesh = tessellate(bench.evaluate().parts[part].solid)
    round_side = np.abs(mesh.normals[:, 2]) < 0.5
    outward = mesh.positions[round_side][:, :2] / 10
    assert np.allclose(outward, mesh.normals[round_side][:, :2], atol=0.02)
    assert sum(count for _, count in mesh.faces) == len(mesh.triangles)
    assert volume(mesh.positions[mesh.triangles].astype(float)) == pytest.approx(math.pi * 100 * 8, rel=6e-3)
