"""Solids whose faces are named by where they came from, and the carrying of names through operations."""

from __future__ import annotations

import io
import json
import struct
from collections.abc import Callable, Iterable
from functools import cached_property
from typing import Any

from OCP.BinTools import BinTools
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.gp import gp_Pnt, gp_Vec

from .facename import short
from .frame import Vec3
from .kernel import (
    EDGE,
    FACE,
    SOLID,
    VERTEX,
    WIRE,
    BRep_Tool,
    BRepAdaptor_Curve,
    Shape,
    ShapeMap,
    TopoDS,
    TopoDS_Shape,
    ancestors,
    compound,
    listed,
    shape_map,
    subshapes,
)
from .mass import face_area, mass, surface_kind

__all__ = ["NamedSolid", "Names", "carry", "edge_name", "lumps_of", "solids_of"]

#: names of one face, oldest first; more than one where faces were merged
Names = tuple[str, ...]


def edge_name(first: str, second: str) -> str:
    """An edge is named by the faces that it lies between, whichever is said first."""
    return "|".join(sorted((first, second)))


class NamedSolid:
    """A solid (or several lumps of one part) with names for all its faces. Never changed once made.

    ``names[i]`` belongs to the face with index ``i + 1`` in the kernel's face map of ``shape``.
    """

    def __init__(self, shape: Shape, names: Iterable[Names]) -> None:
        self.shape = shape
        self.names: tuple[Names, ...] = tuple(names)
        if len(self.names) != self.face_map.Extent():
            raise ValueError(f"{len(self.names)} names for {self.face_map.Extent()} faces")

    @cached_property
    def face_map(self) -> Any:
        return shape_map(self.shape, FACE)

    @cached_property
    def faces(self) -> list[Shape]:
        return subshapes(self.shape, FACE)

    @cached_property
    def edge_map(self) -> Any:
        return ancestors(self.shape, EDGE, FACE)

    @cached_property
    def edges(self) -> list[tuple[Shape, tuple[int, int]]]:
        """Edges with the 0-based indices of their two faces (the same twice on a seam)."""
        out = []
        for i in range(1, self.edge_map.Extent() + 1):
            around = [self.face_map.FindIndex(f) - 1 for f in listed(self.edge_map.FindFromIndex(i))]
            if around:
                out.append((self.edge_map.FindKey(i), (around[0], around[-1])))
        return out

    def across(self, edge: Shape, index: int) -> int:
        """The face (0-based) on the other side of an edge of a face; the face itself on a seam."""
        around = [
            self.face_map.FindIndex(f) - 1 for f in listed(self.edge_map.FindFromIndex(self.edge_map.FindIndex(edge)))
        ]
        return next((i for i in around if i != index), index)

    @cached_property
    def kinds(self) -> list[str]:
        """The kind of surface of each face: plane, cylinder, …"""
        return [surface_kind(face) for face in self.faces]

    @cached_property
    def loops(self) -> list[int]:
        """How many outlines each face has: one more than its holes."""
        return [len(subshapes(face, WIRE)) for face in self.faces]

    @cached_property
    def mass(self) -> tuple[float, Vec3]:
        """Volume in mm³ and its centre."""
        return mass(self.shape)

    @property
    def volume_mm3(self) -> float:
        return self.mass[0]

    @cached_property
    def areas(self) -> list[tuple[float, Vec3]]:
        """The area of each face, mm², and its centre (which need not lie on it)."""
        return [face_area(face, kind) for face, kind in zip(self.faces, self.kinds, strict=True)]

    @property
    def areas_mm2(self) -> list[float]:
        return [area for area, _ in self.areas]

    @cached_property
    def valid(self) -> bool:
        """The kernel's own word on whether the shape is sound. (Its word that an operation is done is not enough.)"""
        return bool(BRepCheck_Analyzer(self.shape).IsValid())

    @cached_property
    def closed(self) -> bool:
        """Whether each edge lies between two faces: it is open nowhere, and touches itself along no line."""
        return all(
            self.edge_map.FindFromIndex(i).Size() == 2 or BRep_Tool.Degenerated_s(TopoDS.Edge(self.edge_map.FindKey(i)))
            for i in range(1, self.edge_map.Extent() + 1)
        )

    @cached_property
    def lumps(self) -> int:
        return len(solids_of(self.shape))

    @cached_property
    def _places(self) -> dict[str, list[int]]:
        out: dict[str, list[int]] = {}
        for i, names in enumerate(self.names):
            for name in names:
                out.setdefault(name, []).append(i)
        return out

    def new_since(self, before: NamedSolid) -> set[str]:
        """Names of faces of its own: such as carry no name that ``before`` had."""
        known = {name for names in before.names for name in names}
        return {name for names in self.names if known.isdisjoint(names) for name in names}

    def find(self, name: str) -> list[int]:
        """0-based indices of the faces that carry a name."""
        return list(self._places.get(short(name), ()))

    def edges_round(self, *names: str) -> list[int]:
        """The edges at which faces of these names end: each has one of them on one side only."""
        inside = {i for name in names for i in self.find(name)}
        return [i for i, (_, pair) in enumerate(self.edges) if len(inside & set(pair)) == 1]

    def pack(self) -> bytes:
        """The solid in the kernel's binary form, with its names: fit to travel between our own processes."""
        out = io.BytesIO()
        BinTools.Write_s(self.shape, out)
        names = json.dumps(self.names).encode()
        return struct.pack("<I", len(names)) + names + out.getvalue()

    @staticmethod
    def unpack(data: bytes) -> NamedSolid:
        """What :meth:`pack` packed; the faces keep their order."""
        (length,) = struct.unpack_from("<I", data)
        names = json.loads(data[4 : 4 + length])
        shape = TopoDS_Shape()
        BinTools.Read_s(shape, io.BytesIO(data[4 + length :]))
        return NamedSolid(shape, [tuple(n) for n in names])

    def renamed(self, change: Callable[[str], str]) -> NamedSolid:
        """The same solid with every name passed through a function."""
        twin = NamedSolid(self.shape, [tuple(short(change(n)) for n in names) for names in self.names])
        # all that was found of the shape holds for the twin too
        twin.__dict__.update({k: v for k, v in self.__dict__.items() if k not in ("shape", "names", "_places")})
        return twin


def solids_of(shape: Shape) -> list[Shape]:
    return subshapes(shape, SOLID)


def lumps_of(solid: NamedSolid) -> list[NamedSolid]:
    """What a solid falls into, each lump with its names."""
    return [NamedSolid(s, [solid.names[solid.face_map.FindIndex(f) - 1] for f in subshapes(s, FACE)]) for s in solids_of(solid.shape)]  # fmt: skip


def tidy(shape: Shape) -> Shape:
    """A lone solid out of its compound; several solids as a plain compound."""
    solids = solids_of(shape)
    return solids[0] if len(solids) == 1 else compound(solids)


def carry(
    result: Shape,
    sources: Iterable[NamedSolid],
    history: Any,
    born: Callable[[NamedSolid, ShapeMap, dict[int, str]], None] | None = None,
    rest: str = "new",
) -> NamedSolid:
    """Give the faces of a result the names of the faces that they came from.

    Parameters
    ----------
    result : shape made by an operation.
    sources : named solids that went into it.
    history : the operation itself, or anything with ``Modified`` and ``IsDeleted``.
    born : names the faces that are new, by writing ``index → name`` into its third argument.
    rest : name for faces that nobody claims; when there are several they go by the named faces around them, and only
        those that have the same ones around them are counted.
    """
    shape = tidy(result)
    faces = shape_map(shape, FACE)
    names: dict[int, list[str]] = {}
    sources = list(sources)
    for source in sources:
        for i, face in enumerate(source.faces):
            images = listed(history.Modified(face))
            if not images and faces.Contains(face):
                images = [face]
            for image in images:
                index = faces.FindIndex(image)
                if index:
                    mine = names.setdefault(index, [])
                    mine.extend(n for n in source.names[i] if n not in mine)
    if born is not None:
        new: dict[int, str] = {}
        for source in sources:
            born(source, faces, new)
        for index, name in new.items():
            names.setdefault(index, [short(name)])
    missing = [i for i in range(1, faces.Extent() + 1) if i not in names]
    if len(missing) == 1:
        names[missing[0]] = [rest]
    elif missing:
        names.update(_by_neighbours(shape, faces, names, missing, rest))
    return NamedSolid(shape, [tuple(names[i]) for i in range(1, faces.Extent() + 1)])


def _by_neighbours(
    shape: Shape, faces: Any, names: dict[int, list[str]], missing: list[int], rest: str
) -> dict[int, list[str]]:
    """Names for faces that nobody claims, from the named ones around them."""
    around: dict[int, set[str]] = {i: set() for i in missing}
    edges = ancestors(shape, EDGE, FACE)
    for i in range(1, edges.Extent() + 1):
        sides = {faces.FindIndex(f) for f in listed(edges.FindFromIndex(i))}
        for index in sides & around.keys():
            around[index] |= {names[other][0] for other in sides if other in names}
    said = {i: short(f"{rest}({'|'.join(sorted(near))})") if near else rest for i, near in around.items()}
    counts: dict[str, int] = {}
    out = {}
    for index in missing:
        name = said[index]
        counts[name] = counts.get(name, 0) + 1
        alone = sum(1 for n in said.values() if n == name) == 1
        out[index] = [name if alone else f"{name}.{counts[name]}"]
    return out


def tangent_neighbours(solid: NamedSolid, index: int) -> list[int]:
    """Edges that run on from an edge at one of its ends without a corner (within 1 degree)."""
    place = {solid.edge_map.FindIndex(edge) - 1: i for i, (edge, _) in enumerate(solid.edges)}
    around = ancestors(solid.shape, VERTEX, EDGE)
    edge = solid.edges[index][0]
    out = []
    for vertex in subshapes(edge, VERTEX):
        mine = _direction_at(edge, vertex)
        for other in listed(around.FindFromKey(vertex)):
            number = place.get(solid.edge_map.FindIndex(other) - 1)
            if number is None or number == index:
                continue
            theirs = _direction_at(other, vertex)
            if abs(sum(a * b for a, b in zip(mine, theirs, strict=True))) > 0.99985:
                out.append(number)
    return out


def _direction_at(edge: Shape, vertex: Shape) -> tuple[float, float, float]:
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
    at = BRep_Tool.Pnt_s(TopoDS.Vertex(vertex))
    first, last = curve.FirstParameter(), curve.LastParameter()
    near = first if curve.Value(first).Distance(at) <= curve.Value(last).Distance(at) else last
    p, d = gp_Pnt(), gp_Vec()
    curve.D1(near, p, d)
    size = d.Magnitude() or 1.0
    return (d.X() / size, d.Y() / size, d.Z() / size)
