"""Files out, looked at as the programs that read them would: closed, as fine as promised, in the unit that was asked for."""

from __future__ import annotations

import io
import math
import xml.etree.ElementTree as ET
import zipfile
from collections import Counter
from typing import Any

import numpy as np
import pytest
from building import Bench, Feeder, flat
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from dovejoint.core import solid as kernel
from dovejoint.core.document import new_project
from dovejoint.core.errors import CommandError
from dovejoint.core.formats import export_parts, file_name
from dovejoint.core.formats.export import chord_for
from dovejoint.core.formats.stl import read_stl
from dovejoint.core.formats.threemf import read_3mf
from dovejoint.core.joints.assess import assess
from dovejoint.core.profiles import DEFAULT_PROFILE
from dovejoint.core.recipe.lying import lie_in
from dovejoint.core.solid import bounds, brought_solids, read_step, tessellate
from dovejoint.sample import SAMPLES


def stl(bench: Bench, part: str, **options: Any) -> np.ndarray:
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


def test_step_has_groups_as_assemblies() -> None:
    """Three parts, two of them in a group: one assembly of its name that uses both (ISO 10303-41: a usage for each), and places kept when read again."""
    bench = Bench(new_project("Mast"))
    for k, name in enumerate(("Post", "Cap", "Foot")):
        _, part = bench.extrude(bench.rectangle("10 mm", "10 mm", at=(30 * k, 0)), f"{k + 4} mm", name)
        if k < 2:
            bench.do("EditPart", part=part, group="Kopf Ø 9")
    ids = [p.id for p in bench.project.parts]
    (file,) = export_parts(bench.project, bench.evaluate(), [], ids, "step", together=True)
    assert file.name == "Mast model.step"
    assert file.data.count(b"NEXT_ASSEMBLY_USAGE_OCCURRENCE(") == 2
    tops = dict(read_step(file.data))
    assert tops == {"Kopf Ø 9": pytest.approx(900), "Foot": pytest.approx(600)}
    found = brought_solids(file.data, "mast.step", "mm")
    assert {f.name: f.named("s1").volume_mm3 for f in found} == {"Post": pytest.approx(400), "Cap": pytest.approx(500), "Foot": pytest.approx(600)}  # fmt: skip
    assert {f.name: bounds(f.named("s1").shape)[0][0] for f in found} == {"Post": pytest.approx(-5), "Cap": pytest.approx(25), "Foot": pytest.approx(55)}  # fmt: skip


def test_names_of_signs_only_still_make_files(bench: Bench) -> None:
    assert file_name("{project}", "🙂", "", "json") == "project.json"
    assert file_name("{project} {part}", "🙂", "🪺", "stl") == "project part.stl"
    bench.extrude(bench.rectangle("10 mm", "10 mm"), "5 mm", "🙂")
    bench.extrude(bench.rectangle("10 mm", "10 mm", at=(30, 0)), "5 mm", "🪺")
    evaluation = bench.evaluate()
    files = export_parts(bench.project, evaluation, [], list(evaluation.parts), "stl")
    assert len({f.name for f in files}) == 2


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


def parts_of(bench: Bench, parts: list[str], **options: Any) -> Any:
    evaluation = bench.evaluate()
    (file,) = export_parts(
        bench.project, evaluation, assess(bench.project, evaluation, bench.gaps), parts, "3mf", **options
    )
    return file


def closed(triangles: np.ndarray) -> bool:
    edges: Counter[tuple[int, int]] = Counter()
    for a, b, c in triangles.tolist():
        edges.update([(a, b), (b, c), (c, a)])
    return all(count == 1 and edges[(b, a)] == 1 for (a, b), count in edges.items())


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_a_plate_in_one_3mf(feeder: Feeder, unit: str) -> None:
    file = parts_of(feeder, [feeder.hopper, feeder.floor], unit=unit, together=True)
    assert (file.name, file.media_type) == ("Bird feeder plate.3mf", "model/3mf")
    items = read_3mf(file.data)
    assert [i.name for i in items] == ["Hopper", "Floor"]
    assert items[0].colour == feeder.project.parts[0].colour.upper()
    for item, part in zip(items, (feeder.hopper, feeder.floor), strict=True):
        assert closed(item.triangles)
        assert volume(item.positions[item.triangles]) == pytest.approx(feeder.volume(part), rel=3e-4)
        assert item.positions[:, 2].min() == pytest.approx(0, abs=1e-5), "it stands on the bed"
    # 86.4 wide parts stand side by side or one behind the other, with room between them
    low, high = [], []
    for item in items:
        box = item.positions[:, :2] + np.array(item.place_mm[:2])
        low.append(box.min(axis=0))
        high.append(box.max(axis=0))
    assert max((low[1] - high[0]).max(), (low[0] - high[1]).max()) >= 5.9
    assert max(np.abs(low).max(), np.abs(high).max()) < 110


def test_the_3mf_is_the_open_format(feeder: Feeder) -> None:
    """By hand, as the specification has it: three entries, unit, closed indices, items that name objects."""
    data = parts_of(feeder, [feeder.floor]).data
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.namelist() == ["[Content_Types].xml", "_rels/.rels", "3D/3dmodel.model"]
        model = ET.fromstring(archive.read("3D/3dmodel.model"))
    core = "{http://schemas.microsoft.com/3dmanufacturing/core/2015/02}"
    assert (model.tag, model.get("unit")) == (f"{core}model", "millimeter")
    (thing,) = model.iter(f"{core}object")
    (item,) = model.iter(f"{core}item")
    assert item.get("objectid") == thing.get("id")
    vertices = len(list(model.iter(f"{core}vertex")))
    for triangle in model.iter(f"{core}triangle"):
        corners = [int(triangle.get(k, "-1")) for k in ("v1", "v2", "v3")]
        assert len(set(corners)) == 3 and min(corners) >= 0 and max(corners) < vertices
    assert data == parts_of(feeder, [feeder.floor]).data, "equal parts give equal bytes"


def test_parts_are_saved_as_they_lie_or_as_modelled(feeder: Feeder) -> None:
    feeder.do("LayPart", part=feeder.hopper, face=flat(feeder, feeder.hopper, f"{feeder.body}/end"))
    modelled, laid = stl(feeder, feeder.hopper), stl(feeder, feeder.hopper, laid=True)

    def area_on_bed(corners: np.ndarray) -> float:
        """What lies flat on the lowest level, mm²."""
        low = corners[:, :, 2].min()
        down = corners[(corners[:, :, 2] < low + 1e-4).all(axis=1)]
        edges = down[:, 1] - down[:, 0], down[:, 2] - down[:, 0]
        return float(np.linalg.norm(np.cross(*edges), axis=1).sum() / 2)

    # modelled it stands on its rim (or the mouth's chamfer), laid down on the closed side of 86.4 × 60
    assert area_on_bed(laid) == pytest.approx(86.4 * 60 - (4 - math.pi) * 81, rel=1e-3)
    assert area_on_bed(modelled) < 600
    assert volume(laid) == pytest.approx(volume(modelled), rel=1e-5)


def test_what_a_plate_cannot_hold(feeder: Feeder) -> None:
    evaluation = feeder.evaluate()
    for format, parts, word in (
        ("stl", [feeder.floor], "one part; 3MF and STEP"),
        ("3mf", [feeder.floor, "p99"], "not there"),
    ):
        with pytest.raises(CommandError, match=word):
            export_parts(feeder.project, evaluation, [], parts, format, together=True)
    small = DEFAULT_PROFILE.model_copy(update={"bed_mm": (100.0, 100.0, 100.0)})
    feeder.do("SetProfile", profile=small.model_dump(mode="json"))
    both = [feeder.hopper, feeder.floor]
    with pytest.raises(CommandError, match="two plates the same file"):
        export_parts(feeder.project, evaluation, [], both, "3mf", together=True, pattern="{project}")
    files = export_parts(feeder.project, evaluation, [], both, "3mf", together=True)
    assert [f.name for f in files] == ["Bird feeder plate 1.3mf", "Bird feeder plate 2.3mf"]
    assert [[i.name for i in read_3mf(f.data)] for f in files] == [["Hopper"], ["Floor"]]
    tiny = DEFAULT_PROFILE.model_copy(update={"bed_mm": (60.0, 60.0, 60.0)})
    feeder.do("SetProfile", profile=tiny.model_dump(mode="json"))
    with pytest.raises(CommandError, match="larger than the bed"):
        parts_of(feeder, [feeder.hopper, feeder.floor], together=True)
    with pytest.raises(ValueError, match="no 3MF"):
        read_3mf(b"PK nonsense")


def test_what_is_printed_in_one_stays_together_in_every_file() -> None:
    """The flap's pin grows within its knuckles: laid out apart, or each in a file of its own, nothing would come of it."""
    bench = Bench(SAMPLES["flap"].make())
    frame, flap = (p.id for p in bench.project.parts)
    evaluation = bench.evaluate()
    joints = assess(bench.project, evaluation, bench.gaps)
    boxes = {p: np.array(evaluation.parts[p].box) for p in (frame, flap)}
    apart = boxes[flap].mean(axis=0) - boxes[frame].mean(axis=0)

    def middles(positions: np.ndarray) -> np.ndarray:
        return (positions.min(axis=0) + positions.max(axis=0)) / 2

    (plate,) = export_parts(bench.project, evaluation, joints, [frame, flap], "3mf", laid=True, together=True)
    (each,) = export_parts(bench.project, evaluation, joints, [frame, flap], "3mf", laid=True)
    for file in (plate, each):
        one, two = (i.positions + np.array(i.place_mm) for i in read_3mf(file.data))
        assert middles(two) - middles(one) == pytest.approx(apart, abs=0.02)
    assert each.name == "Cable flap Frame and Flap.3mf"
    (stl,) = export_parts(bench.project, evaluation, joints, [frame, flap], "stl", laid=True)
    triangles = read_stl(stl.data)
    assert closed_lumps(triangles) == 2
    assert volume(triangles) == pytest.approx(bench.volume(frame) + bench.volume(flap), rel=2e-3)
    size = triangles.reshape(-1, 3).max(axis=0) - triangles.reshape(-1, 3).min(axis=0)
    both = np.maximum(boxes[frame][1], boxes[flap][1]) - np.minimum(boxes[frame][0], boxes[flap][0])
    assert size == pytest.approx(both, abs=0.02)
    # as they were modelled they are two files, for whatever else is done with them
    assert len(export_parts(bench.project, evaluation, joints, [frame, flap], "stl")) == 2
    # laid on another side, both go
    back = {"rule": "flat", "part": frame, "face": {"name": next(f.names[0] for f in evaluation.parts[frame].faces if f.kind == "plane" and f.normal[0] < -0.99)}}  # fmt: skip
    bench.do("LayPart", part=frame, face=back)
    lies = [lie_in(bench.project, bench.evaluate().parts, p) for p in (frame, flap)]
    assert lies[0] == lies[1] and lies[0].z == pytest.approx((1, 0, 0))


def closed_lumps(triangles: np.ndarray) -> int:
    """How many closed surfaces there are, by corners that triangles share."""
    corners, index = np.unique(np.round(triangles.reshape(-1, 3), 4), axis=0, return_inverse=True)
    faces = index.reshape(-1, 3)
    edges = np.vstack([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
    graph = coo_matrix((np.ones(len(edges)), (edges[:, 0], edges[:, 1])), shape=(len(corners), len(corners)))
    return int(connected_components(graph, directed=False)[0])


def test_step_names_in_any_script_and_a_header_of_ours() -> None:
    """By the standard: ASCII only, other signs by their numbers, apostrophes and backslashes twice; and by two readers of the kernel."""
    name = "Łódź 鳥's 🪺 a\\b"
    block = kernel.block(kernel.GROUND, 10, 20, 30, "s1")
    data = kernel.write_step([(name, "#112233", block)], "Mast “2”", "2026-11-30T08:00:00")
    text = data.decode("ascii")
    head = text.partition("ENDSEC;")[0]
    assert "FILE_DESCRIPTION(('Mast \\X2\\201C\\X0\\2\\X2\\201D\\X0\\'),'2;1');" in head
    assert "'2026-11-30T08:00:00',(''),(''),'Dove Joint " in head and "Dove Joint'" in head and "CASCADE" not in head
    assert "\\X2\\0141\\X0\\" in head or "\\X2\\014100F3\\X0\\d" in head
    assert "\\X4\\0001FABA\\X0\\" in head and "''s" in head
    ((found, volume_mm3),) = read_step(data)
    assert volume_mm3 == pytest.approx(6000)
    (brought,) = kernel.brought_solids(data, "x.step")
    for read in (found, brought.name):
        assert read.startswith("Łódź 鳥's") and "🪺" in read
    assert kernel.write_step([(name, "#112233", block)]) == kernel.write_step([(name, "#112233", block)]), "timeless"
