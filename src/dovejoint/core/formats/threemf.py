"""3MF: parts as closed meshes with names, colours and places on the plate, in one packed file.

Written after the 3MF Core Specification 1.3 (3MF Consortium): an Open Packaging container with one model part, a base
material for each colour, an object for each part, and a build item for each place. Images on faces are written after the Materials and Properties
Extension 1.2.1: a texture that is not repeated, over the part's base material (multiproperties, mixed).
"""

from __future__ import annotations

import hashlib
import io
import xml.etree.ElementTree as ET
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

__all__ = ["MeshItem", "Texture", "read_3mf", "write_3mf"]

_CORE = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
_MATERIAL = "http://schemas.microsoft.com/3dmanufacturing/material/2015/02"
_TEXTURE = "http://schemas.microsoft.com/3dmanufacturing/2013/01/3dtexture"
_UNITS = {"mm": ("millimeter", 1.0), "in": ("inch", 25.4)}
_TYPES = (
    '<?xml version="1.0" encoding="UTF-8"?>\n'
    '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">'
    '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
    '<Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/>'
    '<Default Extension="png" ContentType="image/png"/><Default Extension="jpeg" ContentType="image/jpeg"/></Types>'
)
_RELATIONS = (
    '<?xml version="1.0" encoding="UTF-8"?>\n'
    '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">'
    '<Relationship Target="/3D/3dmodel.model" Id="model" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/>'
    "</Relationships>"
)
#: the same moment in every file, so that equal parts give equal bytes (the earliest that a zip can say)
_MOMENT = (1980, 1, 1, 0, 0, 0)


@dataclass(frozen=True, eq=False)
class Texture:
    """An image on some ``triangles`` (k,) of a mesh, by their numbers: PNG or JPEG as it came, and where each corner lies on it, ``uv`` (k, 3, 2) from its lower left."""

    image: bytes
    kind: Literal["png", "jpeg"]
    triangles: NDArray[np.intp]
    uv: NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class MeshItem:
    """A part: ``positions`` (n, 3) in mm, ``triangles`` (m, 3) counter-clockwise from outside, its middle's place on the plate, mm: to the right, to the back, and up; and
    the images on it."""

    name: str
    colour: str
    positions: NDArray[np.float64]
    triangles: NDArray[np.uint32]
    place_mm: tuple[float, float, float] = (0.0, 0.0, 0.0)
    textures: tuple[Texture, ...] = ()


def write_3mf(title: str, items: Sequence[MeshItem], unit: str = "mm") -> bytes:
    """Pack parts into one 3MF file, with coordinates in ``mm`` or ``in``.

    Vertices that fall together are written once, so that the mesh is closed as the specification asks.
    """
    word, size_mm = _UNITS[unit]
    ET.register_namespace("", _CORE)
    ET.register_namespace("m", _MATERIAL)
    model = ET.Element(f"{{{_CORE}}}model", {"unit": word, "{http://www.w3.org/XML/1998/namespace}lang": "en"})
    for name, text in (("Title", title), ("Application", "Dove Joint")):
        ET.SubElement(model, f"{{{_CORE}}}metadata", {"name": name}).text = text
    resources = ET.SubElement(model, f"{{{_CORE}}}resources")
    colours = ET.SubElement(resources, f"{{{_CORE}}}basematerials", {"id": "1"})
    images, of_triangle = _images(resources, items)
    build = ET.SubElement(model, f"{{{_CORE}}}build")
    for k, item in enumerate(items):
        ET.SubElement(colours, f"{{{_CORE}}}base", {"name": item.name, "displaycolor": item.colour.upper()})
        of_part = {"id": str(k + 2), "type": "model", "name": item.name, "pid": "1", "pindex": str(k)}
        mesh = ET.SubElement(ET.SubElement(resources, f"{{{_CORE}}}object", of_part), f"{{{_CORE}}}mesh")
        points, place = np.unique(np.round(item.positions / size_mm, 6), axis=0, return_inverse=True)
        faces = place.reshape(-1)[item.triangles]
        whole = (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
        vertices = ET.SubElement(mesh, f"{{{_CORE}}}vertices")
        for x, y, z in points.tolist():
            ET.SubElement(vertices, f"{{{_CORE}}}vertex", {"x": f"{x:.6g}", "y": f"{y:.6g}", "z": f"{z:.6g}"})
        triangles = ET.SubElement(mesh, f"{{{_CORE}}}triangles")
        for number, (a, b, c) in zip(np.flatnonzero(whole).tolist(), faces[whole].tolist(), strict=True):
            dressed = of_triangle.get((k, number), {})
            ET.SubElement(triangles, f"{{{_CORE}}}triangle", {"v1": str(a), "v2": str(b), "v3": str(c), **dressed})
        at = [f"{v / size_mm:.6g}" for v in item.place_mm]
        ET.SubElement(
            build, f"{{{_CORE}}}item", {"objectid": str(k + 2), "transform": f"1 0 0 0 1 0 0 0 1 {' '.join(at)}"}
        )
    text = ET.tostring(model, encoding="UTF-8", xml_declaration=True)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in (
            ("[Content_Types].xml", _TYPES.encode()),
            ("_rels/.rels", _RELATIONS.encode()),
            ("3D/3dmodel.model", text),
            *images,
        ):
            entry = zipfile.ZipInfo(name, _MOMENT)
            entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, content)
    return out.getvalue()


def _images(resources: ET.Element, items: Sequence[MeshItem]) -> tuple[list[tuple[str, bytes]], dict[tuple[int, int], dict[str, str]]]:  # fmt: skip
    """Writes the resources of all images; gives their files, with the relations that the model has to them, and what each dressed triangle says (by item and number)."""
    files: dict[str, bytes] = {}
    said: dict[tuple[int, int], dict[str, str]] = {}
    next_id = len(items) + 2
    for k, item in enumerate(items):
        for texture in item.textures:
            path = f"3D/Textures/{hashlib.sha256(texture.image).hexdigest()[:16]}.{texture.kind}"
            files[path] = texture.image
            ids = [str(next_id + j) for j in range(3)]
            next_id += 3
            # beyond the image nothing of it is seen, and the part's own material is
            style = {"contenttype": f"image/{texture.kind}", "tilestyleu": "none", "tilestylev": "none"}
            ET.SubElement(resources, f"{{{_MATERIAL}}}texture2d", {"id": ids[0], "path": f"/{path}", **style})
            group = ET.SubElement(resources, f"{{{_MATERIAL}}}texture2dgroup", {"id": ids[1], "texid": ids[0]})
            layers = {"id": ids[2], "pids": f"1 {ids[1]}", "blendmethods": "mix"}
            many = ET.SubElement(resources, f"{{{_MATERIAL}}}multiproperties", layers)
            for at, (number, corners) in enumerate(zip(texture.triangles.tolist(), texture.uv.tolist(), strict=True)):
                for j, (u, v) in enumerate(corners):
                    ET.SubElement(group, f"{{{_MATERIAL}}}tex2coord", {"u": f"{u:.6g}", "v": f"{v:.6g}"})
                    ET.SubElement(many, f"{{{_MATERIAL}}}multi", {"pindices": f"{k} {3 * at + j}"})
                said[k, number] = {"pid": ids[2], **{f"p{j + 1}": str(3 * at + j) for j in range(3)}}
    if not files:
        return [], said
    relations = "".join(
        f'<Relationship Target="/{path}" Id="image{n}" Type="{_TEXTURE}"/>' for n, path in enumerate(files)
    )
    head, _, _ = _RELATIONS.partition("<Relationship Target")
    return [("3D/_rels/3dmodel.model.rels", f"{head}{relations}</Relationships>".encode()), *files.items()], said


def read_3mf(data: bytes) -> list[MeshItem]:
    """The parts of a 3MF file that was written here; for checking what was written.

    Raises
    ------
    ValueError : it is no such file.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            text = archive.read("3D/3dmodel.model")
        # an own file has no document type, and one that has is refused rather than expanded
        if b"<!" in text:
            raise ValueError("the model has a document type")
        root = ET.fromstring(text)
    except (zipfile.BadZipFile, KeyError, ET.ParseError) as error:
        raise ValueError("the data is no 3MF file") from error
    size_mm = next(mm for word, mm in _UNITS.values() if word == root.get("unit"))
    colours = [b.get("displaycolor", "") for b in root.iter(f"{{{_CORE}}}base")]
    places = {i.get("objectid"): (i.get("transform") or "").split() for i in root.iter(f"{{{_CORE}}}item")}
    out = []
    for found in root.iter(f"{{{_CORE}}}object"):
        points = [[float(v.get(k, "nan")) for k in "xyz"] for v in found.iter(f"{{{_CORE}}}vertex")]
        faces = [[int(t.get(k, "-1")) for k in ("v1", "v2", "v3")] for t in found.iter(f"{{{_CORE}}}triangle")]
        x, y, z = (float(v) * size_mm for v in places[found.get("id")][9:12])
        colour = colours[int(found.get("pindex", "0"))]
        out.append(
            MeshItem(
                found.get("name", ""), colour, np.array(points) * size_mm, np.array(faces, dtype=np.uint32), (x, y, z)
            )
        )
    return out
