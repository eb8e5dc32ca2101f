"""Triangle meshes with face runs and edge lines, and the binary blob in which they travel."""

from __future__ import annotations

import ctypes
import json
import math
import struct
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.BRepLib import BRepLib_ToolTriangulatedShape
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepTools import BRepTools
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopLoc import TopLoc_Location

from ..errors import StepError
from .kernel import TopoDS
from .named import NamedSolid

__all__ = ["Mesh", "mesh_blob", "read_mesh_blob", "tessellate"]

#: chord error on screen, mm, and the largest turn between neighbouring facets, rad
SCREEN_CHORD_MM = 0.03
SCREEN_TURN_RAD = 0.25
#: faces whose triangles the kernel can be trusted with
EXACT_KINDS = frozenset({"plane", "cylinder", "cone", "sphere", "torus"})
#: by how much finer a solid is tried to be meshed, one after the other
FINER = (1.0, 0.6, 0.35, 0.2)
#: so much finer than asked for, a mesh is taken as it is; before, the triangles of a free surface enclose its volume within this share
ROUGH, ENCLOSES = 0.5, 0.004
#: sine of the angle between two faces below which their edge is none to be seen (0.5 degrees)
SMOOTH = 0.00873


@dataclass(frozen=True, eq=False)
class Mesh:
    """``positions`` (n, 3) in mm, as exact as the kernel has them, for steps measure on them; ``normals`` (n, 3) float32; ``triangles``
    (m, 3) uint32, sorted by face.

    ``faces`` holds ``(first triangle, count)`` for each face of the solid; ``lines`` (k, 3) float32 are the
    points of all edges one after another and ``edges`` their ``(first point, count)``; ``smooth`` says of each whether its
    two faces run on without a corner (within 0.5 degrees).
    """

    positions: NDArray[np.float64]
    normals: NDArray[np.float32]
    triangles: NDArray[np.uint32]
    faces: list[tuple[int, int]]
    lines: NDArray[np.float32]
    edges: list[tuple[int, int]]
    smooth: list[bool]

    def corners_of(self, face: int) -> NDArray[np.float64]:
        """The corners of a face's triangles, three of each, (3k, 3)."""
        first, count = self.faces[face]
        return self.positions[self.triangles[first : first + count].reshape(-1)].astype(np.float64)


def _words(array: Any) -> tuple[int, int]:
    """Address and length of a kernel array's data.

    The binding has no buffer protocol; its objects hold, 16 bytes in, a pointer to
    ``[vtable, lower, size, data]`` (found by trial for the pinned wheel, checked by :func:`_self_check`).
    """
    base = ctypes.c_uint64.from_address(id(array) + 16).value
    return ctypes.c_uint64.from_address(base + 24).value, ctypes.c_uint64.from_address(base + 16).value


def _fast(array: Any, count: int, kind: Any, width: int) -> NDArray[Any]:
    address, _ = _words(array)
    size = count * width * np.dtype(kind).itemsize
    return np.frombuffer(ctypes.string_at(address, size), dtype=kind).reshape(count, width).copy()


_checked: bool | None = None


def _self_check(triangulation: Any) -> bool:
    """Whether the fast path reads the very numbers that the slow one does, on the first mesh at hand."""
    global _checked
    if _checked is None:
        try:
            nodes, count = triangulation.MapNodeArray(), triangulation.NbNodes()
            _, size = _words(nodes)
            good = (size & 0xFFFFFFFF) == count
            if good:
                fast = _fast(nodes, count, np.float64, 3)
                good = all(np.allclose(fast[i], _xyz(triangulation.Node(i + 1)), atol=0) for i in (0, count - 1))
            if good:
                faces = _fast(triangulation.MapTriangleArray(), triangulation.NbTriangles(), np.int32, 3)
                last = triangulation.NbTriangles()
                good = tuple(faces[last - 1]) == tuple(triangulation.Triangle(last).Get())
            _checked = bool(good)
        except Exception:
            _checked = False
    return _checked


def _xyz(p: Any) -> tuple[float, float, float]:
    return (p.X(), p.Y(), p.Z())


def node_arrays(triangulation: Any) -> tuple[NDArray[np.float64], NDArray[np.int32]]:
    count, facets = triangulation.NbNodes(), triangulation.NbTriangles()
    if _self_check(triangulation):
        return (
            _fast(triangulation.MapNodeArray(), count, np.float64, 3),
            _fast(triangulation.MapTriangleArray(), facets, np.int32, 3),
        )
    nodes = np.array([_xyz(triangulation.Node(i + 1)) for i in range(count)], dtype=np.float64)
    triangles = np.array([triangulation.Triangle(i + 1).Get() for i in range(facets)], dtype=np.int32)
    return nodes, triangles


def _far_off(solid: NamedSolid) -> bool:
    """Whether the triangles that a solid with free surfaces has now enclose another volume than it."""
    if all(kind in EXACT_KINDS for kind in solid.kinds):
        return False
    enclosed = 0.0
    for face in solid.faces:
        location = TopLoc_Location()
        nodes, triangles = node_arrays(BRep_Tool.Triangulation_s(face, location))
        if not location.IsIdentity():
            nodes, _ = moved(nodes, nodes, location)
        a, b, c = (nodes[triangles[:, k] - 1] for k in range(3))
        sign = -1.0 if face.Orientation() == TopAbs_REVERSED else 1.0
        enclosed += sign * float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)
    return abs(enclosed - solid.volume_mm3) > ENCLOSES * abs(solid.volume_mm3)


def tessellate(solid: NamedSolid, chord_mm: float = SCREEN_CHORD_MM, turn_rad: float = SCREEN_TURN_RAD) -> Mesh:
    """Triangulate a solid. A finer ``chord_mm`` costs triangles; the mesh of a closed solid is closed.

    Raises
    ------
    StepError : a face could not be triangulated.
    """
    if not 1e-4 <= chord_mm <= 100:
        raise StepError(f"A chord error of {chord_mm:g} mm is out of range: use 0.0001 to 100 mm.")
    for finer in FINER:
        BRepTools.Clean_s(solid.shape)
        BRepMesh_IncrementalMesh(solid.shape, chord_mm * finer, False, turn_rad * finer, False)
        # with one chord error the mesher may give up on a face that it does with another, or spread far too wide triangles over a long one
        if all(BRep_Tool.Triangulation_s(face, TopLoc_Location()) is not None for face in solid.faces) and (
            finer < ROUGH or not _far_off(solid)
        ):
            break
    all_nodes, all_normals, all_triangles, runs = [], [], [], []
    offset = first = 0
    for face in solid.faces:
        location = TopLoc_Location()
        triangulation = BRep_Tool.Triangulation_s(face, location)
        if triangulation is None:
            raise StepError("A face of the part could not be turned into triangles.")
        BRepLib_ToolTriangulatedShape.ComputeNormals_s(face, triangulation)
        nodes, triangles = node_arrays(triangulation)
        normals = _normals(triangulation, len(nodes))
        if not location.IsIdentity():
            nodes, normals = moved(nodes, normals, location)
        triangles = triangles - 1
        if face.Orientation() == TopAbs_REVERSED:
            triangles = triangles[:, [0, 2, 1]]
            normals = -normals
        all_nodes.append(nodes)
        all_normals.append(normals)
        all_triangles.append(triangles + offset)
        runs.append((first, len(triangles)))
        offset += len(nodes)
        first += len(triangles)
    lines, edges, smooth = _lines(solid, all_nodes, all_normals)
    return Mesh(
        np.concatenate(all_nodes),
        np.concatenate(all_normals).astype(np.float32),
        np.concatenate(all_triangles).astype(np.uint32),
        runs,
        lines,
        edges,
        smooth,
    )


def _normals(triangulation: Any, count: int) -> NDArray[np.float64]:
    if _self_check(triangulation):
        array = triangulation.MapNormalArray()
        return _fast(array, count, np.float32, 3).astype(np.float64)
    return np.array([_xyz(triangulation.Normal(i + 1)) for i in range(count)], dtype=np.float64)


def moved(nodes: NDArray[Any], normals: NDArray[Any], location: Any) -> tuple[NDArray[Any], NDArray[Any]]:
    trsf = location.Transformation()
    matrix = np.array([[trsf.Value(r, c) for c in range(1, 5)] for r in range(1, 4)])
    return nodes @ matrix[:, :3].T + matrix[:, 3], normals @ matrix[:, :3].T


def _lines(
    solid: NamedSolid, nodes: list[NDArray[np.float64]], normals: list[NDArray[np.float64]]
) -> tuple[NDArray[np.float32], list[tuple[int, int]], list[bool]]:
    points: list[NDArray[np.float64]] = []
    runs: list[tuple[int, int]] = []
    smooth: list[bool] = []
    first = 0
    for edge, (a, b) in solid.edges:
        one = TopoDS.Edge(edge)
        run, flat = np.zeros((0, 3)), True
        if not BRep_Tool.Degenerated_s(one):
            here = _polygon(solid, one, a)
            if here:
                run = nodes[a][here]
                there = _polygon(solid, one, b) if a != b else None
                # the normals of both faces at the middle of the edge; nodes of one edge run alike on both
                flat = a == b or (bool(there) and _alike(normals[a][here], normals[b][there]))
        points.append(run)
        runs.append((first, len(run)))
        smooth.append(flat)
        first += len(run)
    lines = np.concatenate(points) if points else np.zeros((0, 3))
    return lines.astype(np.float32), runs, smooth


def _polygon(solid: NamedSolid, edge: Any, face: int) -> list[int]:
    """The nodes (0-based) of a face's triangulation along an edge."""
    location = TopLoc_Location()
    triangulation = BRep_Tool.Triangulation_s(solid.faces[face], location)
    polygon = BRep_Tool.PolygonOnTriangulation_s(edge, triangulation, location)
    return [] if polygon is None else [polygon.Node(k) - 1 for k in range(1, polygon.NbNodes() + 1)]


def _alike(one: NDArray[np.float64], other: NDArray[np.float64]) -> bool:
    (ax, ay, az), (bx, by, bz) = one[len(one) // 2].tolist(), other[len(other) // 2].tolist()
    across = math.hypot(ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx)
    return across < SMOOTH and ax * bx + ay * by + az * bz > 0


def read_mesh_blob(blob: bytes) -> dict[str, NDArray[Any]]:
    """The arrays of a packed mesh, flat, by name. Raises ValueError when it is none."""
    magic, length = struct.unpack_from("<4sI", blob)
    if magic != b"DJM1":
        raise ValueError("not a mesh")
    table = json.loads(blob[8 : 8 + length])["arrays"]
    return {name: np.frombuffer(blob, dtype, count, offset) for name, (offset, dtype, count) in table.items()}


def mesh_blob(mesh: Mesh, header: dict[str, Any]) -> bytes:
    """Pack a mesh: ``DJM1``, header length (uint32), JSON header, then 8-aligned arrays that it lists.

    The header gains ``arrays`` (name → [offset from the blob's start, type, count]), ``faceRuns``, ``edgeRuns`` and, for each edge,
    whether it is ``smooth``.
    """
    arrays = {
        "positions": mesh.positions.astype(np.float32).ravel(),
        "normals": mesh.normals.ravel(),
        "triangles": mesh.triangles.ravel(),
        "lines": mesh.lines.ravel(),
    }
    head = json.dumps(
        {**header, "faceRuns": mesh.faces, "edgeRuns": mesh.edges, "smooth": mesh.smooth}, separators=(",", ":")
    )[:-1]
    # offsets grow with the header's own length, so room is left for their digits: 16 for each array
    space = -(-(8 + len(head.encode()) + 64 * len(arrays)) // 8) * 8
    offset = space
    table: dict[str, tuple[int, str, int]] = {}
    for name, array in arrays.items():
        table[name] = (offset, str(array.dtype), int(array.size))
        offset = -(-(offset + array.nbytes) // 8) * 8
    text = f'{head},"arrays":{json.dumps(table)}}}'.encode()
    out = bytearray(offset)
    text = text.ljust(space - 8)
    struct.pack_into("<4sI", out, 0, b"DJM1", len(text))
    out[8 : 8 + len(text)] = text
    for name, array in arrays.items():
        start = table[name][0]
        out[start : start + array.nbytes] = array.tobytes()
    return bytes(out)
