"""Parts from files of others: volumes and names, newer files in the place of older ones, what is damaged, and how they travel."""

from __future__ import annotations

import contextlib
import io
import json
import math
import random
import struct
import zipfile
from typing import Any

import numpy as np
import pytest
from building import Bench, flat

from dovejoint.core.document import bundled, dump, load, new_project, unbundled
from dovejoint.core.document.files import hash_of, pack, unpack, with_files, without_files
from dovejoint.core.errors import FileError
from dovejoint.core.formats.stl import write_stl
from dovejoint.core.formats.threemf import MeshItem, write_3mf
from dovejoint.core.solid import (
    Frame,
    NamedSolid,
    bar,
    block,
    bounds,
    brought_solids,
    cut,
    fitted,
    tessellate,
    write_step,
)
from dovejoint.core.solid.frame import GROUND
from dovejoint.core.solid.measure import describe_faces


def sensor(wide: float = 30.0, holes: int = 1) -> Any:
    """A board of wide × 20 × 4 with bores of Ø 3 along its middle, as a named solid."""
    bench = Bench(new_project("Sensor"))
    bench.do(
        "AddStep", kind="body", fields={"wide": f"{wide} mm", "deep": "20 mm", "high": "4 mm"}, new_part={"name": "B"}
    )
    part = bench.project.parts[0].id
    (points,) = bench.do("AddStep", kind="sketch", fields={})
    for k in range(holes):
        bench.do("DrawPoint", step=points, at={"at": [-8 + 8 * k, 0]})
    bench.do(
        "AddStep",
        kind="drill",
        fields={"part": part, "at": {"rule": "spots_sketch", "step": points}, "diameter": "3 mm"},
    )
    return bench.evaluate().parts[part].solid


def bring(bench: Bench, data: bytes, name: str, **fields: Any) -> tuple[str, str]:
    hash = keep(bench, data)
    step, part = bench.do(
        "AddStep",
        kind="bring_in",
        fields={"file": {"hash": hash, "name": name}, **fields},
        new_part={"name": name.partition(".")[0]},
    )
    return str(step), str(part)


def keep(bench: Bench, data: bytes) -> str:
    hash = hash_of(data)
    bench.project = bench.project.model_copy(update={"files": {**bench.project.files, hash: pack(data)}})
    return hash


VOLUME = 30 * 20 * 4 - math.pi * 2.25 * 4


def test_a_step_file_is_a_part_to_build_around() -> None:
    bench = Bench(new_project("Housing"))
    step, part = bring(bench, write_step([("sensor", "#999999", sensor())]), "sensor.step")
    assert bench.message(step) == "" and bench.volume(part) == pytest.approx(VOLUME, rel=1e-9)
    found = bench.project.part(part)
    assert found is not None and found.role == "reference"
    names = [n for f in bench.evaluate().parts[part].faces for n in f.names]
    assert len(names) == 7 == len(set(names)) and all(n.startswith(f"{step}/face(") for n in names)
    # a cover over its top, and a bore's middle to drill through both
    state = bench.evaluate().parts[part]
    top = next(f.names[0] for f in state.faces if f.normal[2] > 0.9)
    cover, made = bench.do(
        "AddStep",
        kind="extrude",
        fields={"profile": flat(bench, part, top), "inset": "-1 mm", "distance": "2 mm"},
        new_part={"name": "Cover"},
    )
    assert bench.message(cover) == "" and bench.volume(made) == pytest.approx(2 * (32 * 22 - math.pi * 0.5**2))


def test_a_newer_file_takes_the_place_of_an_older_one_and_picks_follow() -> None:
    bench = Bench(new_project("Housing"))
    old = write_step([("sensor", "#999999", sensor())])
    step, part = bring(bench, old, "sensor.step")
    state = bench.evaluate().parts[part]
    right = next(f.names[0] for f in state.faces if f.normal[0] > 0.9)
    names = {f.names[0]: (f.kind, tuple(round(v, 6) for v in f.normal)) for f in state.faces if f.kind == "plane"}
    _, wall = bench.do(
        "AddStep",
        kind="extrude",
        fields={"profile": flat(bench, part, right), "distance": "2 mm"},
        new_part={"name": "Wall"},
    )
    newer = keep(bench, write_step([("sensor", "#999999", sensor(32.0))]))
    former = [{"hash": hash_of(old), "name": "sensor.step"}]
    bench.do("EditStep", step=step, fields={"file": {"hash": newer, "name": "sensor-b.step"}, "former": former})
    assert bench.message(step) == "" and bench.volume(part) == pytest.approx(VOLUME + 2 * 80, rel=1e-9)
    state = bench.evaluate().parts[part]
    assert {
        f.names[0]: (f.kind, tuple(round(v, 6) for v in f.normal)) for f in state.faces if f.kind == "plane"
    } == names
    low, high = bench.evaluate().parts[wall].box
    assert (low[0], high[0]) == pytest.approx((16, 18), abs=1e-5), "the wall stands against the new side"
    # a file with more bores: what is clearly the same keeps its name, the new bores get names of their own
    third = keep(bench, write_step([("sensor", "#999999", sensor(32.0, holes=3))]))
    former.append({"hash": newer, "name": "sensor-b.step"})
    bench.do("EditStep", step=step, fields={"file": {"hash": third, "name": "sensor-c.step"}, "former": former})
    assert bench.message(step) == ""
    found = bench.evaluate().parts[part]
    assert {f.names[0] for f in found.faces if f.kind == "plane"} == names.keys()
    bores = [f.names[0] for f in found.faces if f.kind == "cylinder"]
    assert len(bores) == 3 and sum(n.startswith(f"{step}/face(") for n in bores) == 1
    assert bench.states()[step] == "ok"


def test_a_face_that_is_not_clearly_the_same_is_asked_for() -> None:
    """Two bores of one size become three, elsewhere: which of them was picked nobody can say."""
    bench = Bench(new_project("Housing"))
    old = write_step([("s", "#999999", sensor(40.0, holes=2))])
    step, part = bring(bench, old, "s.step")
    wall = next(f.names[0] for f in bench.evaluate().parts[part].faces if f.kind == "cylinder")
    (plane,) = bench.do(
        "AddStep",
        kind="plane",
        fields={
            "how": "against",
            "base": {"rule": "base", "plane": "front"},
            "angle": "0 deg",
            "side": flat(bench, part, wall),
        },
    )
    assert bench.states()[plane] == "ok"
    moved = Bench(new_project("Other"))
    moved.do("AddStep", kind="body", fields={"wide": "40 mm", "deep": "20 mm", "high": "4 mm"}, new_part={"name": "B"})
    (points,) = moved.do("AddStep", kind="sketch", fields={})
    for x in (-12, 1, 13):
        moved.do("DrawPoint", step=points, at={"at": [x, 4]})
    other = moved.project.parts[0].id
    moved.do(
        "AddStep",
        kind="drill",
        fields={"part": other, "at": {"rule": "spots_sketch", "step": points}, "diameter": "3 mm"},
    )
    newer = keep(bench, write_step([("s", "#999999", moved.evaluate().parts[other].solid)]))
    bench.do(
        "EditStep",
        step=step,
        fields={"file": {"hash": newer, "name": "t.step"}, "former": [{"hash": hash_of(old), "name": "s.step"}]},
    )
    assert bench.states()[step] == "ok" and bench.states()[plane] == "asks"


def test_several_solids_with_their_names() -> None:
    bench = Bench(new_project("Kit"))
    data = write_step([("board", "#999999", sensor()), ("spare", "#333333", sensor(50.0))])
    assert [(s.name, round(s.named("s1").volume_mm3, 6)) for s in brought_solids(data, "kit.step")] == [
        ("board", pytest.approx(VOLUME)), ("spare", pytest.approx(VOLUME + 20 * 80)),
    ]  # fmt: skip
    step, part = bring(bench, data, "kit.step", which=2)
    assert bench.volume(part) == pytest.approx(VOLUME + 1600)
    bench.do("EditStep", step=step, fields={"which": 3})
    assert "has only 2 solids" in bench.message(step)


def mesh_of(solid: Any) -> tuple[Any, Any]:
    from dovejoint.core.solid import tessellate

    mesh = tessellate(solid)
    return mesh.positions.astype(np.float32), mesh.triangles.reshape(-1, 3).astype(np.uint32)


def test_meshes_become_parts_with_level_faces() -> None:
    positions, triangles = mesh_of(sensor())
    bench = Bench(new_project("Mesh"))
    for data, name, unit in (
        (write_stl(positions, triangles), "a.stl", "mm"),
        (write_stl(positions, triangles, "in"), "b.stl", "in"),
        (write_3mf("t", [MeshItem("c", "#aabbcc", positions.astype(float), triangles)]), "c.3mf", "mm"),
        (as_text(positions, triangles), "d.stl", "mm"),
    ):
        step, part = bring(bench, data, name, unit=unit)
        assert bench.message(step) == "", name
        state = bench.evaluate().parts[part]
        # a bore of a polygon has a little less: its sag is below the mesh's own error
        assert state.solid.volume_mm3 == pytest.approx(VOLUME, rel=2e-3) and state.info.closed
        level = [f for f in state.faces if f.kind == "plane" and f.area_mm2 > 50]
        assert len(level) == 6, f"{name}: six sides, each one face"


def test_objects_made_of_others_come_apart_where_they_stand() -> None:
    """A plate built from two boards, the second turned a quarter and moved; one object within another that speaks of itself ends somewhere."""
    positions, triangles = mesh_of(sensor())
    plain = write_3mf("t", [MeshItem("Board", "#aabbcc", positions.astype(float), triangles)])
    with zipfile.ZipFile(io.BytesIO(plain)) as archive:
        files = {n: archive.read(n) for n in archive.namelist()}
    model = files["3D/3dmodel.model"].decode()
    pair = (
        '<object id="9" name="Pair"><components><component objectid="2"/><component objectid="9"/>'
        '<component objectid="2" transform="0 1 0 -1 0 0 0 0 1 100 0 0"/></components></object>'
    )
    model = model.replace("</resources>", f"{pair}</resources>").replace('<item objectid="2"', '<item objectid="9"')
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in {**files, "3D/3dmodel.model": model.encode()}.items():
            archive.writestr(name, data)
    found = brought_solids(out.getvalue(), "pair.3mf")
    boxes = {tuple(round(v) for corner in bounds(s.shape) for v in corner[:2]) for s in found}
    assert boxes == {(-15, -10, 15, 10), (90, -15, 110, 15)} and [s.name for s in found] == ["Board", "Board"]
    # each made of the one before, twice: 2^30 in all
    many = "".join(
        f'<object id="{k}"><components><component objectid="{k - 1 if k > 10 else 2}"/><component objectid="{k - 1 if k > 10 else 2}"/></components></object>'
        for k in range(10, 40)
    )
    model = model.replace("</resources>", f"{many}</resources>").replace('<item objectid="9"', '<item objectid="39"')
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("3D/3dmodel.model", model.encode())
    with pytest.raises(FileError, match="more than 200"):
        brought_solids(out.getvalue(), "many.3mf")


def as_text(positions: Any, triangles: Any) -> bytes:
    lines = ["solid thing"]
    for a, b, c in positions[triangles].tolist():
        lines += ["facet normal 0 0 0", " outer loop", *(f"  vertex {x:.6f} {y:.6f} {z:.6f}" for x, y, z in (a, b, c)), " endloop", "endfacet"]  # fmt: skip
    return "\n".join([*lines, "endsolid thing"]).encode()


def damaged() -> list[tuple[bytes, str]]:
    positions, triangles = mesh_of(sensor())
    good = write_stl(positions, triangles)
    step = write_step([("x", "#999999", sensor())])
    nan = bytearray(good)
    nan[96:100] = struct.pack("<f", math.nan)
    return [
        (b"hello", "no STEP, STL or 3MF"),
        (b"", "no STEP, STL or 3MF"),
        (good[:-30], "cut short"),
        (write_stl(positions, triangles[:-1]), "not closed"),
        (write_stl(positions, triangles[:, ::-1]), "inside out"),
        (bytes(nan), "nowhere"),
        (step[:2000], "damaged|no shape|no solid"),
        (b"ISO-10303-21;\nHEADER;", "damaged|no shape|no solid"),
        (b"PK\x03\x04 rubbish", "no 3MF file"),
        (b"solid x\nvertex 1 2 z\nvertex 1 2 3\nvertex 1 2 4", "no STEP, STL"),
    ]


def plate_with_rounds() -> NamedSolid:
    """60 × 30 × 10, upright edges rounded by 5, a bore Ø 8 through it, a peg Ø 12 6 over it, and a nut's hexagon sunk 3 into it."""
    bench = Bench(new_project("Plate"))
    ground = {"rule": "base", "plane": "ground"}
    _, part = bench.do(
        "AddStep",
        kind="body",
        fields={"wide": "60 mm", "deep": "30 mm", "high": "10 mm", "on": ground},
        new_part={"name": "Plate"},
    )
    edges = {"rule": "edges_along", "part": part, "direction": "up"}
    bench.do("AddStep", kind="fillet", fields={"edges": edges, "radius": "5 mm"})
    for fields in (
        {"shape": "cylinder", "across": "8 mm", "high": "20 mm", "operation": "cut"},
        {"shape": "cylinder", "across": "12 mm", "high": "16 mm", "right": "-15 mm", "operation": "add"},
        {"shape": "prism", "across": "7 mm", "high": "3 mm", "right": "15 mm", "operation": "cut"},
    ):
        bench.do("AddStep", kind="body", fields={**fields, "on": ground, "part": part})
    return bench.evaluate().parts[part].solid


@pytest.mark.parametrize(("chord", "turn"), [(0.02, 0.15), (0.1, 0.4)])
def test_round_faces_are_found_in_a_mesh(chord: float, turn: float) -> None:
    """As many faces as the part had, with its radii; what is meant as flats stays flat; and the volume is the part's, not the mesh's."""
    true = plate_with_rounds()
    mesh = tessellate(true, chord, turn)
    (found,) = brought_solids(write_stl(mesh.positions.astype("float32"), mesh.triangles, "mm"), "plate.stl")
    named = found.named("s1")
    faces = describe_faces(named)
    rounds = sorted((round(f.radius_mm or 0, 4), f.hollow) for f in faces if f.kind == "cylinder")
    assert rounds == [(4.0, True), *[(5.0, False)] * 4, (6.0, False)]
    assert sum(f.kind == "plane" for f in faces) == 7 + 7 and len(faces) == 20
    hexagon = 7**2 * math.sqrt(3) / 2
    volume = (60 * 30 - (4 - math.pi) * 25) * 10 - math.pi * 16 * 10 + math.pi * 36 * 6 - hexagon * 3
    assert named.volume_mm3 == pytest.approx(volume, rel=1e-6) and named.closed and named.valid


def test_a_pipe_of_facets_that_ends_aslant_stays_as_it_is() -> None:
    """A peg cut off at 30°: its facets end on no one level, so they are left flat, and the solid is that of the mesh."""
    bench = Bench(new_project("Peg"))
    _, part = bench.do(
        "AddStep",
        kind="body",
        fields={"shape": "cylinder", "across": "10 mm", "high": "20 mm"},
        new_part={"name": "Peg"},
    )
    plane = {"rule": "fixed", "origin": [0, 0, 12], "x": [math.cos(0.5), 0, math.sin(0.5)], "y": [0, 1, 0]}
    bench.do("AddStep", kind="divide", fields={"part": part, "plane": plane, "keep": "under"})
    mesh = tessellate(bench.evaluate().parts[part].solid, 0.05, 0.3)
    (found,) = brought_solids(write_stl(mesh.positions.astype("float32"), mesh.triangles, "mm"), "peg.stl")
    named = found.named("s1")
    assert {f.kind for f in describe_faces(named)} == {"plane"} and named.valid
    assert named.volume_mm3 == pytest.approx(math.pi * 25 * 12, rel=0.02)


@pytest.mark.parametrize("k", range(10))
def test_damaged_files_are_refused_with_a_sentence(k: int) -> None:
    data, words = damaged()[k]
    with pytest.raises(FileError, match=words):
        brought_solids(data, "x.stl")


def zipped(*entries: tuple[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in entries:
            archive.writestr(name, content)
    return out.getvalue()


def test_a_project_with_files_travels_as_a_zip() -> None:
    bench = Bench(new_project("Travel"))
    assert bundled(bench.project).ending == "dove.json", "with nothing brought in it is plain JSON"
    data = write_step([("sensor", "#999999", sensor())])
    step, part = bring(bench, data, "sensor.step")
    made = bundled(bench.project)
    assert made.ending == "dove.zip" and made.data == bundled(bench.project).data, "the same bytes each time"
    with zipfile.ZipFile(io.BytesIO(made.data)) as archive:
        assert archive.read(f"files/{hash_of(data)}") == data, "any program can take the sensor out"
        recipe = archive.read("project.json")
    assert not load(recipe).files
    assert unbundled(made.data) == bench.project
    assert Bench(unbundled(made.data)).volume(part) == pytest.approx(VOLUME)
    # packed anew by another program, with other names and things that do not belong
    again = unbundled(
        zipped(("project.json", recipe), ("files/a sensor.step", data), ("read me.txt", b"hello"), ("files/x", b"?"))
    )
    assert again == bench.project
    # what it lacks its step says
    assert "did not come" in Bench(unbundled(zipped(("project.json", recipe)))).message(step)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (zipped(("readme.txt", b"x")), "no project.json"),
        (zipped(("project.json", b"{}")), "not a Dove Joint project file"),
        (zipped(("project.json", b" " * 9_000_000)), "more than a project can have"),
        (zipped(*((f"files/{i}", b"0" * 8_000_000) for i in range(17)), ("project.json", b"{}")), "more than a project can have"),
        (zipped(*((f"{i}", b"") for i in range(300)), ("project.json", b"{}")), "more than a project can have"),
        (zipped(("project.json", b"{}" * 400))[:60], "cannot be unpacked"),
        (b"PK\x03\x04 and nothing of a zip", "cannot be unpacked"),
    ],
    ids=["none", "other", "recipe", "bomb", "many", "short", "no zip"],
)  # fmt: skip
def test_zips_that_are_none_or_mean_harm_are_refused(data: bytes, words: str) -> None:
    with pytest.raises(FileError, match=words):
        unbundled(data)


@pytest.mark.parametrize("seed", range(3))
def test_a_damaged_zip_is_refused_or_read(seed: int) -> None:
    """200 each: bytes changed, taken out, put twice; never anything but a sentence."""
    bench = Bench(new_project("Travel"))
    bring(bench, write_step([("sensor", "#999999", sensor())]), "sensor.step")
    good, rng = bundled(bench.project).data, random.Random(seed)
    for _ in range(200):
        data = bytearray(good)
        for _ in range(rng.randint(1, 6)):
            at = (
                rng.randrange(4, len(data)) if rng.random() < 0.5 else rng.randrange(max(4, len(data) - 200), len(data))
            )
            size = rng.randint(1, 30)
            data[at : at + size] = rng.choice([rng.randbytes(size), b"", bytes(data[at : at + size]) * 2])
        with contextlib.suppress(FileError):
            unbundled(bytes(data))


def test_files_travel_with_the_project_file_and_are_checked() -> None:
    bench = Bench(new_project("Travel"))
    data = write_step([("sensor", "#999999", sensor())])
    step, part = bring(bench, data, "sensor.step")
    text = dump(with_files(bench.project, lambda hash: None))
    again = load(text)
    assert unpack(again.files[hash_of(data)]) == data
    other = Bench(again)
    assert other.volume(part) == pytest.approx(VOLUME)
    # without it the step says so, and whatever else there is still stands
    lost = Bench(without_files(again))
    _, block = lost.do("AddStep", kind="body", fields={}, new_part={"name": "Block"})
    assert "did not come with this project" in lost.message(step) and lost.volume(block) == pytest.approx(4000)
    # a file that is another than its hash says is refused
    forged = json.loads(text)
    forged["files"][hash_of(data)] = pack(b"something else")
    with pytest.raises(FileError, match="not the one"):
        load(json.dumps(forged))
    forged["files"][hash_of(data)] = "!!"
    with pytest.raises(FileError, match="damaged"):
        load(json.dumps(forged))
    # a small text that unpacks to more than can be brought in
    forged["files"][hash_of(data)] = pack(b"0" * 9_000_000)
    with pytest.raises(FileError, match="larger"):
        load(json.dumps(forged))


def test_holes_of_one_size_keep_their_names_when_all_move_a_little() -> None:
    """Three holes of one size: each keeps its name while another is clearly farther off; where one could be either, only what did not move does."""

    def plate(*across: float) -> NamedSolid:
        made = block(GROUND, 60.0, 20.0, 4.0, "p")
        return cut(made, [bar(Frame((x, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)), 2.0, -1.0, 5.0, "p", f"hole{x}") for x in across], "p")  # fmt: skip

    def named(solid: NamedSolid) -> dict[float, str]:
        # seen at one of its sides, all at the same
        return {f.at[0]: f.names[0] for f in describe_faces(solid) if f.kind == "cylinder"}

    was = plate(-20.0, 0.0, 20.0)
    before = [name for _, name in sorted(named(was).items())]
    moved = fitted(was, plate(-18.0, 2.0, 22.0), "p", 2)
    assert [name for _, name in sorted(named(moved).items())] == before
    # by half of the way to the next: which is which nobody can say
    far = fitted(was, plate(-10.0, 10.0, 29.0), "p", 2)
    assert not set(named(far).values()) & set(before)
    # one stays where it was
    stays = fitted(was, plate(-10.0, 10.0, 20.0), "p", 2)
    assert set(named(stays).values()) & set(before) == {before[2]}
