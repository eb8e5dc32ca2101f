"""Images on faces: their heads against bytes written by hand, where they lie, and what is no image."""

from __future__ import annotations

import io
import math
import struct
import xml.etree.ElementTree as ET
import zipfile
import zlib

import pytest
from building import Bench, flat, of_sample

from dovejoint.core.document import new_project
from dovejoint.core.document.files import hash_of, pack
from dovejoint.core.errors import FileError
from dovejoint.core.formats.export import export_parts
from dovejoint.core.image import image_of

SVG = b'<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 10"><rect width="9" height="9"/></svg>'


def png(wide: int, high: int) -> bytes:
    """A whole PNG of black, piece by piece as ISO/IEC 15948 has it."""

    def piece(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    rows = zlib.compress(b"".join(b"\0" + b"\0" * wide for _ in range(high)))
    head = struct.pack(">IIBBBBB", wide, high, 8, 0, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + piece(b"IHDR", head) + piece(b"IDAT", rows) + piece(b"IEND", b"")


def jpeg(wide: int, high: int) -> bytes:
    """Its markers only: a comment, fill bytes, tables, then the frame."""
    comment = b"\xff\xfe\x00\x06hand"
    tables = b"\xff\xff\xff\xc4\x00\x04\x00\x00"
    return (
        b"\xff\xd8"
        + comment
        + tables
        + b"\xff\xc2\x00\x0b\x08"
        + struct.pack(">HH", high, wide)
        + b"\x01\x01\x11\x00\xff\xd9"
    )


def test_heads_of_images() -> None:
    for data, kind, wide, high in (
        (png(30, 20), "png", 30, 20),
        (jpeg(641, 480), "jpeg", 641, 480),
        (SVG, "svg", 40, 10),
        (SVG.replace(b"viewBox", b'width="12mm" height="6mm" viewBox'), "svg", 12, 6),
    ):
        found = image_of(data)
        assert (found.kind, found.wide, found.high) == (kind, wide, high)


@pytest.mark.parametrize(
    "data",
    [
        b"", b"hello", b"\x89PNG\r\n\x1a\n", png(30, 20)[:18], b"\xff\xd8\xff\xfe\x00\x06hand", b"\xff\xd8\xff\xc2", png(9000, 1), png(1, 1)[:16] + b"\0" * 8,
        b"<svg", b'<svg xmlns="http://www.w3.org/2000/svg"/>', SVG.replace(b"40 10", b"0 10"),
        b'<!DOCTYPE svg [<!ENTITY a "b">]><svg viewBox="0 0 4 4">&a;</svg>', b"<html><svg></svg></html>", b'<svg viewBox="0 0 1e9 4"/>',
    ],
)  # fmt: skip
def test_what_is_no_image_is_told(data: bytes) -> None:
    with pytest.raises(FileError, match=r"\.$"):
        image_of(data)


def test_a_picture_lies_in_the_middle_of_a_face_and_follows_it() -> None:
    bench = Bench(new_project("Sign"))
    body, part = bench.do("AddStep", kind="body", fields={"wide": "60 mm", "deep": "40 mm", "high": "5 mm", "right": "30 mm"}, new_part={"name": "Plate"})  # fmt: skip
    bench.project = bench.project.model_copy(update={"files": {hash_of(SVG): pack(SVG)}})
    fields = {
        "file": {"hash": hash_of(SVG), "name": "sign.svg"},
        "face": flat(bench, part, f"{body}/end"),
        "wide": "20 mm",
    }
    (step,) = bench.do("AddStep", kind="picture", fields=fields)
    assert bench.message(step) == "" and bench.volume(part) == pytest.approx(12000)

    def decal():  # type: ignore[no-untyped-def]
        return bench.evaluate().made[step].decal

    lying = decal()
    assert lying.frame.origin == pytest.approx((30, 0, 5)) and (lying.wide_mm, lying.high_mm) == (20, pytest.approx(5))
    assert lying.frame.x == pytest.approx((1, 0, 0)) and lying.frame.z == pytest.approx((0, 0, 1))
    bench.do("EditStep", step=body, fields={"wide": "80 mm", "high": "9 mm"})
    bench.do("EditStep", step=step, fields={"turn": "90 deg", "right": "5 mm", "clear": "White"})
    lying = decal()
    assert (
        lying.frame.origin == pytest.approx((35, 0, 9))
        and lying.frame.x == pytest.approx((0, 1, 0))
        and lying.clear == "#ffffff"
    )
    for change, word in (
        ({"clear": "greenish"}, "six digits"),
        ({"wide": "0 mm"}, "above zero"),
        ({"file": {"hash": "0" * 32, "name": "gone.svg"}}, "gone.svg"),
    ):
        bench.do("EditStep", step=step, fields={**fields, "clear": "", **change})
        assert word in bench.message(step)


def test_the_pulley_has_its_mark_on_its_outer_face() -> None:
    bench = of_sample("pulley")
    (lying,) = [m.decal for m in bench.evaluate().made.values() if m.decal]
    assert lying.frame.z == pytest.approx((0, 0, -1)) and lying.frame.origin[2] == pytest.approx(0)
    assert (lying.wide_mm, lying.high_mm, lying.clear) == (pytest.approx(19), pytest.approx(19), "#ffffff")
    assert math.hypot(*lying.frame.origin[:2]) < 1e-6


@pytest.mark.parametrize("laid", [False, True])
def test_a_3mf_carries_the_picture_where_it_lies(laid: bool) -> None:
    """As the Materials and Properties Extension has it: the image as it came, one layer over the part's own material, corners in shares of the image."""
    bench = Bench(new_project("Sign"))
    fields = {"wide": "60 mm", "deep": "40 mm", "high": "5 mm", "right": "30 mm"}
    body, part = bench.do("AddStep", kind="body", fields=fields, new_part={"name": "Plate"})
    image = png(30, 20)
    bench.project = bench.project.model_copy(update={"files": {hash_of(d): pack(d) for d in (image, SVG)}})
    face = flat(bench, part, f"{body}/end")
    for data, name in ((image, "sign.png"), (SVG, "sign.svg")):
        bench.do(
            "AddStep",
            kind="picture",
            fields={"file": {"hash": hash_of(data), "name": name}, "face": face, "wide": "20 mm", "right": "5 mm"},
        )
    bench.do("LayPart", part=part, face=face)
    (file,) = export_parts(bench.project, bench.evaluate(), [], [part], "3mf", laid=laid)
    with zipfile.ZipFile(io.BytesIO(file.data)) as archive:
        (path,) = [n for n in archive.namelist() if n.startswith("3D/Textures/")]
        assert archive.read(path) == image and path.endswith(".png"), "a drawing is neither PNG nor JPEG, and stays out"
        assert f'Target="/{path}"' in archive.read("3D/_rels/3dmodel.model.rels").decode()
        model = ET.fromstring(archive.read("3D/3dmodel.model"))
    core, more = (f"{{http://schemas.microsoft.com/3dmanufacturing/{n}/2015/02}}" for n in ("core", "material"))
    (texture,), (group,), (many,) = (
        list(model.iter(more + tag)) for tag in ("texture2d", "texture2dgroup", "multiproperties")
    )
    assert (texture.get("path"), texture.get("tilestyleu"), group.get("texid")) == (
        f"/{path}",
        "none",
        texture.get("id"),
    )
    assert (many.get("pids"), many.get("blendmethods")) == (f"1 {group.get('id')}", "mix")
    shares = [(float(c.get("u", "")), float(c.get("v", ""))) for c in group]
    layers = [tuple(int(n) for n in c.get("pindices", "").split()) for c in many]
    places = [tuple(float(v.get(k, "")) for k in "xyz") for v in model.iter(f"{core}vertex")]
    dressed = [t for t in model.iter(f"{core}triangle") if t.get("pid") == many.get("id")]
    assert len(dressed) == 2, "the rectangle's two triangles"
    size = 0.0
    for t in dressed:
        corners = [places[int(t.get(f"v{k}", ""))] for k in (1, 2, 3)]
        at = [shares[layers[int(t.get(f"p{k}", ""))][1]] for k in (1, 2, 3)]
        assert all(layers[int(t.get(f"p{k}", ""))][0] == 0 for k in (1, 2, 3))
        (a, b), (c, d) = ((at[k][0] - at[0][0], at[k][1] - at[0][1]) for k in (1, 2))
        size += (a * d - b * c) / 2
        # distances on the part are those on the image: 20 mm to its width, 40/3 mm to its height
        for p, q, u, v in zip(corners, corners[1:], at, at[1:], strict=False):
            assert math.dist(p, q) == pytest.approx(math.hypot((u[0] - v[0]) * 20, (u[1] - v[1]) * 40 / 3), rel=1e-5)
    # not mirrored, and over all of the face
    assert size * 20 * 40 / 3 == pytest.approx(60 * 40, rel=1e-6)
    # the image's middle lies 5 right of the face's: 25 + 10 from its right edge to the image's left one
    assert max(u for u, _ in shares) == pytest.approx((25 + 10) / 20) and min(u for u, _ in shares) == pytest.approx(
        -(35 - 10) / 20
    )
