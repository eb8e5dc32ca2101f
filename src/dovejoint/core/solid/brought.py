"""Solids from files of others: STEP exactly, STL and 3MF by their triangles, level ones joined and cylinders found; and newer files fitted to the names of older ones."""

from __future__ import annotations

import io
import math
import re
import xml.etree.ElementTree as ET
import zipfile
from dataclasses import dataclass
from io import BytesIO
from typing import Any

import manifold3d
import numpy as np
from defusedxml.ElementTree import fromstring
from numpy.typing import NDArray
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakePolygon,
    BRepBuilderAPI_MakeSolid,
    BRepBuilderAPI_Sewing,
)
from OCP.collections import Sequence_TDF_Label
from OCP.IFSelect import IFSelect_RetDone
from OCP.ShapeFix import ShapeFix_Shape, ShapeFix_Solid
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain
from OCP.STEPCAFControl import STEPCAFControl_Reader
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.TopAbs import TopAbs_SHELL
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS
from OCP.XCAFDoc import XCAFDoc_DocumentTool, XCAFDoc_ShapeTool

from ..errors import FileError
from .check import accept
from .frame import dot
from .info import FaceInfo
from .kernel import FACE, point, raised_by_kernel, subshapes
from .mass import volume
from .measure import describe_faces
from .named import NamedSolid, solids_of
from .rounds_of_mesh import with_rounds

__all__ = ["BroughtSolid", "brought_solids", "fitted"]

Floats = NDArray[np.float64]
#: a face that moved is the same where any other is so many times farther off
CLEARLY = 3.0
#: more triangles than this, after level ones are joined, are no shape that one builds on
MOST_TRIANGLES = 8000
#: triangles are joined where that moves no corner by more, mm
JOIN_MM = 0.002
_MM = {"micron": 0.001, "millimeter": 1.0, "centimeter": 10.0, "inch": 25.4, "foot": 304.8, "meter": 1000.0}


@dataclass(frozen=True)
class BroughtSolid:
    """A solid of a file: what it is called there, its shape in mm, and what was mended of it."""

    name: str
    shape: Any
    mended: str = ""

    def named(self, step: str) -> NamedSolid:
        """Its faces named ``step/face(1)`` … in the order of the file."""
        return NamedSolid(self.shape, [(f"{step}/face({k})",) for k in range(1, len(subshapes(self.shape, FACE)) + 1)])


def brought_solids(data: bytes, name: str, unit: str = "mm") -> list[BroughtSolid]:
    """The solids in a STEP, STL or 3MF file. ``unit`` is what an STL, which has none of its own, was written in.

    Raises
    ------
    FileError : it is none of these, damaged, open, or holds no solid.
    """
    if data.startswith(b"ISO-10303-21"):
        found = _from_step(data)
    elif data.startswith(b"PK"):
        found = [_from_mesh(title, *mesh) for title, mesh in _read_3mf(data)]
    else:
        corners = _read_stl(data) * (25.4 if unit == "in" else 1.0)
        found = [
            _from_mesh(
                name.rpartition(".")[0] or name, corners.reshape(-1, 3), np.arange(corners.shape[0] * 3).reshape(-1, 3)
            )
        ]
    if not found:
        raise FileError("There is no solid in that file.")
    return found


# ---- STEP --------------------------------------------------------------------------------------------------------


def _from_step(data: bytes) -> list[BroughtSolid]:
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    # the kernel crashes when asked to go on after a failed reading
    if reader.ReadStream("part.step", BytesIO(data)) != IFSelect_RetDone:
        raise FileError("That STEP file is damaged and cannot be read.")
    document = TDocStd_Document(TCollection_ExtendedString("XmlOcaf"))
    if not reader.Transfer(document):
        raise FileError("That STEP file holds no shape.")
    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    labels = Sequence_TDF_Label()
    tool.GetFreeShapes(labels)
    out: list[BroughtSolid] = []
    for i in range(1, labels.Length() + 1):
        _walk(labels.Value(i), TopLoc_Location(), "", out)
    return out


def _called(label: TDF_Label) -> str:
    attribute = TDataStd_Name()
    if not label.FindAttribute(TDataStd_Name.GetID_s(), attribute):
        return ""
    name = str(attribute.Get().ToExtString()).strip()
    # what a translator writes where nobody gave a name; the file's own name says more
    return "" if re.fullmatch(r"Open CASCADE STEP translator [\d. ]+", name) else name


def _walk(label: TDF_Label, where: TopLoc_Location, name: str, out: list[BroughtSolid]) -> None:
    """Take the solids of a label of the file's tree, where its assemblies put them."""
    own = _called(label) or name
    if XCAFDoc_ShapeTool.IsAssembly_s(label):
        parts = Sequence_TDF_Label()
        XCAFDoc_ShapeTool.GetComponents_s(label, parts)
        for i in range(1, parts.Length() + 1):
            part, referred = parts.Value(i), TDF_Label()
            place = where.Multiplied(XCAFDoc_ShapeTool.GetLocation_s(part))
            if XCAFDoc_ShapeTool.GetReferredShape_s(part, referred):
                _walk(referred, place, _called(part) or own, out)
        return
    shape = XCAFDoc_ShapeTool.GetShape_s(label)
    if shape is None or shape.IsNull():
        return
    shape = shape.Moved(where)
    solids = solids_of(shape) or _closed_shells(shape)
    for k, solid in enumerate(solids):
        out.append(_mended(solid, own + (f" {k + 1}" if len(solids) > 1 else "")))


def _closed_shells(shape: Any) -> list[Any]:
    """Solids from shells that close: some programs write those."""
    out = []
    for shell in subshapes(shape, TopAbs_SHELL):
        try:
            out += solids_of(BRepBuilderAPI_MakeSolid(TopoDS.Shell(shell)).Shape())
        except Exception as error:
            if not raised_by_kernel(error):
                raise
    return out


def _mended(solid: Any, name: str) -> BroughtSolid:
    words = ""
    if _unsound(solid):
        fix = ShapeFix_Shape(solid)
        fix.Perform()
        solids = solids_of(fix.Shape())
        if len(solids) != 1 or _unsound(solids[0]):
            raise FileError(f"“{name or 'The solid'}” in that file is not closed or damaged, and could not be mended.")
        solid, words = solids[0], f"“{name}” was damaged and has been mended."
    if volume(solid) < 0:
        solid = solid.Reversed()
    return BroughtSolid(name, solid, words)


def _unsound(solid: Any) -> bool:
    count = len(subshapes(solid, FACE))
    reversed_or_not = solid if volume(solid) > 0 else solid.Reversed()
    return accept(NamedSolid(reversed_or_not, [("x",)] * count)) is not None


# ---- meshes ------------------------------------------------------------------------------------------------------


def _read_stl(data: bytes) -> Floats:
    """Corners (m, 3, 3) of an STL, binary or text. Raises FileError."""
    if len(data) >= 84:
        count = int.from_bytes(data[80:84], "little")
        if len(data) == 84 + 50 * count and count:
            record = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("spare", "<u2")])
            corners = np.frombuffer(data, dtype=record, count=count, offset=84)["corners"].astype(np.float64)
            return _finite(corners)
    if data[:512].lstrip().lower().startswith(b"solid"):
        figures = re.findall(rb"vertex\s+(\S+)\s+(\S+)\s+(\S+)", data)
        if figures and len(figures) % 3 == 0:
            try:
                return _finite(np.array(figures, dtype=np.float64).reshape(-1, 3, 3))
            except ValueError:
                pass
    raise FileError("That is no STEP, STL or 3MF file, or it is cut short.")


def _finite(corners: Floats) -> Floats:
    if not np.all(np.isfinite(corners)) or np.abs(corners).max(initial=0) > 1e5:
        raise FileError("That file has places that are nowhere, or farther out than anything here can be.")
    return corners


#: solids that a file may hold, those that objects are made of counted wherever they stand
MOST_SOLIDS = 200


def _read_3mf(data: bytes) -> list[tuple[str, tuple[Floats, NDArray[np.int64]]]]:
    """Meshes where the build puts them, those that an object is made of each by itself (3MF Core Specification 1.3, 4.2). Raises FileError."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            names = [n for n in archive.namelist() if n.lower().endswith(".model")]
            if not names or sum(archive.getinfo(n).file_size for n in names) > 64 * 1024 * 1024:
                raise FileError("That 3MF file holds no model, or one that is too large.")
            roots = [fromstring(archive.read(n)) for n in names]
    except (zipfile.BadZipFile, ET.ParseError, ValueError, RuntimeError) as error:
        raise FileError("That is no 3MF file, or it is damaged.") from error
    out = []
    for root in roots:
        space = root.tag.partition("}")[0] + "}"
        scale = _MM.get(root.get("unit", "millimeter"), 1.0)
        things = {thing.get("id"): thing for thing in root.iter(f"{space}object")}
        items = [(item.get("objectid"), _placed(item)) for item in root.iter(f"{space}item")]
        built: set[str | None] = set()
        for id, place in items:
            # an object that is built several times is brought in once
            if id in things and id not in built:
                built.add(id)
                out += [
                    (name, (_finite((points @ place[:3] + place[3]) * scale), faces))
                    for name, points, faces in _meshes(things, id, space)
                ]
    return out


def _placed(element: Any) -> Floats:
    """The transformation of an item or a component, (4, 3): rows of x, y, z, and where the origin goes."""
    figures = [float(v) for v in (element.get("transform") or "1 0 0 0 1 0 0 0 1 0 0 0").split()]
    return np.array(figures).reshape(4, 3) if len(figures) == 12 else np.eye(4, 3)


def _meshes(things: dict[str | None, Any], id: str | None, space: str, within: tuple[str | None, ...] = ()) -> list[tuple[str, Floats, NDArray[np.int64]]]:  # fmt: skip
    """The meshes of an object, in its own coordinates; one that is made of itself is not. Raises FileError."""
    thing = things[id]
    try:
        points = np.array([[float(v.get(k, "nan")) for k in "xyz"] for v in thing.iter(f"{space}vertex")])
        faces = np.array([[int(t.get(k, "-1")) for k in ("v1", "v2", "v3")] for t in thing.iter(f"{space}triangle")])
        parts = [(c.get("objectid"), _placed(c)) for c in thing.iter(f"{space}component")]
    except ValueError:
        raise FileError("That 3MF file has figures that cannot be read.") from None
    name = thing.get("name") or "part"
    out: list[tuple[str, Floats, NDArray[np.int64]]] = []
    if len(points) and len(faces) and faces.min() >= 0 and faces.max() < len(points):
        out.append((name, points, faces.astype(np.int64)))
    for k, (other, place) in enumerate(parts):
        if other not in things or other in (id, *within):
            continue
        for own, corners, triangles in _meshes(things, other, space, (id, *within)):
            called = own if own != "part" else f"{name} {k + 1}"
            out.append((called, corners @ place[:3] + place[3], triangles))
        if len(out) > MOST_SOLIDS:
            raise FileError(f"That 3MF file holds more than {MOST_SOLIDS} solids; bring in fewer at a time.")
    return out


def _from_mesh(name: str, positions: Floats, triangles: NDArray[np.int64]) -> BroughtSolid:
    """A solid of flat and round faces from triangles: level neighbours are one face, and so are facets about one axis."""
    raw = manifold3d.Mesh(vert_properties=positions.astype(np.float32), tri_verts=triangles.astype(np.uint32))
    raw.merge()
    body = manifold3d.Manifold(raw)
    if body.status() != manifold3d.Error.NoError or body.is_empty():
        raise FileError(
            f"The mesh “{name}” is not closed: some of its edges have no neighbour. Mend it where it was made."
        )
    if body.volume() < 0:
        raise FileError(f"The mesh “{name}” is inside out.")
    mesh = body.simplify(JOIN_MM).to_mesh()
    points, faces = np.asarray(mesh.vert_properties, dtype=np.float64)[:, :3], np.asarray(mesh.tri_verts)
    if len(faces) > MOST_TRIANGLES:
        raise FileError(
            f"The mesh “{name}” has {len(faces)} triangles; {MOST_TRIANGLES} are the most that one can build on. Coarsen it."
        )
    sewing = BRepBuilderAPI_Sewing(1e-5)
    for a, b, c in faces:
        polygon = BRepBuilderAPI_MakePolygon(*(point(tuple(points[i])) for i in (a, b, c)), True)
        if polygon.IsDone():
            made = BRepBuilderAPI_MakeFace(polygon.Wire(), True)
            if made.IsDone():
                sewing.Add(made.Face())
    sewing.Perform()
    shells = subshapes(sewing.SewedShape(), TopAbs_SHELL)
    solids = [ShapeFix_Solid().SolidFromShell(TopoDS.Shell(s)) for s in shells]
    if len(solids) != 1:
        raise FileError(f"The mesh “{name}” has {len(solids)} shells; bring them in one by one.")
    joiner = ShapeUpgrade_UnifySameDomain(solids[0], True, True, False)
    joiner.SetLinearTolerance(5e-4)
    joiner.SetAngularTolerance(2e-3)
    joiner.Build()
    joined = solids_of(joiner.Shape())
    solid = joined[0] if len(joined) == 1 and not _unsound(joined[0]) else solids_of(solids[0])[0]
    if volume(solid) < 0:
        solid = solid.Reversed()
    if abs(volume(solid) - body.volume()) > 1e-3 * body.volume() + 1e-3:
        raise FileError(f"The mesh “{name}” could not be made a sound solid.")
    rounded = with_rounds(solid)
    if rounded is not None and volume(rounded) < 0:
        rounded = rounded.Reversed()
    # round faces lie beyond their facets, by little
    if rounded is not None and not _unsound(rounded) and abs(volume(rounded) - volume(solid)) < 0.05 * volume(solid):
        return BroughtSolid(name, rounded)
    return BroughtSolid(name, solid)


# ---- newer files -------------------------------------------------------------------------------------------------


def fitted(older: NamedSolid, newer: NamedSolid, step: str, version: int) -> NamedSolid:
    """The newer solid with the older one's names for faces that are clearly the same; others are ``step/face<version>(k)``.

    Faces are the same when kind, direction and hollowness agree and they lie, counted along that direction, at the same place among their
    like: where there are as many of them as before. Where several lie at one place so (holes of one size), each is the one that is now by far the nearest to where it was;
    of what comes and goes only those that did not move at all are the same.
    """
    was, now = describe_faces(older), describe_faces(newer)
    groups: dict[tuple[Any, ...], tuple[list[int], list[int]]] = {}
    for side, faces in enumerate((was, now)):
        for i, face in enumerate(faces):
            groups.setdefault(_sort_of(face), ([], []))[side].append(i)
    names: list[tuple[str, ...]] = [(f"{step}/face{version}({k + 1})",) for k in range(len(now))]
    for before, after in groups.values():
        if len(before) == len(after):
            pairs = zip(_in_order(was, before), _in_order(now, after), strict=True)
            if len(before) > 1 and not _apart(was, before):
                pairs = zip(*_by_far_nearest(was, before, now, after), strict=True)
        else:
            pairs = zip(*_unmoved(was, before, now, after), strict=True)
        for i, j in pairs:
            names[j] = older.names[i]
    return NamedSolid(newer.shape, names)


def names_kept(solid: NamedSolid, data: bytes) -> list[tuple[str, ...]]:
    """What each face of a STEP file that was made of a solid is called in it; nothing for those that cannot be told."""
    (brought,) = _from_step(data)
    found = fitted(solid, brought.named("s0"), "s0", 2)
    return [() if any(n.startswith("s0/") for n in names) else names for names in found.names]


def _sort_of(face: FaceInfo) -> tuple[Any, ...]:
    way = face.normal if face.kind == "plane" else (face.axis or (0.0, 0.0, 0.0))
    if face.kind != "plane" and (max(way, key=abs) < 0):
        way = (-way[0], -way[1], -way[2])
    return (face.kind, face.hollow if face.kind != "plane" else False, *(round(v, 3) + 0.0 for v in way))


def _place(face: FaceInfo) -> tuple[float, ...]:
    """Where a face lies among its like: along its direction first, then by its middle, then by its size."""
    along = dot(face.at, face.normal) if face.kind == "plane" else (face.radius_mm or 0.0)
    return (round(along, 4), *(round(v, 3) for v in face.at), round(face.area_mm2, 3))


def _in_order(faces: list[FaceInfo], some: list[int]) -> list[int]:
    return sorted(some, key=lambda i: _place(faces[i]))


def _apart(faces: list[FaceInfo], some: list[int]) -> bool:
    """Whether faces of one sort are told apart along their direction (or by their radius) alone."""
    along = sorted(_place(faces[i])[0] for i in some)
    return all(b - a > 0.05 for a, b in zip(along, along[1:], strict=False))


def _by_far_nearest(
    was: list[FaceInfo], before: list[int], now: list[FaceInfo], after: list[int]
) -> tuple[list[int], list[int]]:
    """Pairs of as many faces before as now, each alike in size along its direction and by far nearer to the other than any else is to either; all of them, or only those that did not move."""
    away = np.array([[math.dist(was[i].at, now[j].at) for j in after] for i in before])
    unlike = np.array([[abs(_place(was[i])[0] - _place(now[j])[0]) > 0.02 for j in after] for i in before])
    if was[before[0]].kind != "plane":
        # of rounds it is the radius that must agree
        away[unlike] = np.inf
    nearest = away.argmin(axis=1)
    least = away[np.arange(len(before)), nearest]
    others = away.copy()
    others[np.arange(len(before)), nearest] = np.inf
    rivals = np.minimum(others.min(axis=1), others.min(axis=0)[nearest])
    if len(set(nearest.tolist())) == len(before) and (rivals > CLEARLY * least + 0.05).all():
        return before, [after[k] for k in nearest]
    return _unmoved(was, before, now, after)


def _unmoved(
    was: list[FaceInfo], before: list[int], now: list[FaceInfo], after: list[int]
) -> tuple[list[int], list[int]]:
    """Pairs that are where they were, as large as they were."""
    pairs = []
    for i in before:
        like = [j for j in after if all(abs(a - b) < 0.02 for a, b in zip(_place(was[i]), _place(now[j]), strict=True))]
        if len(like) == 1:
            pairs.append((i, like[0]))
    return [i for i, _ in pairs], [j for _, j in pairs]
