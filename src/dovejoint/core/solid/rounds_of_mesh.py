"""Cylinders found in solids that come of triangles: strips of flat facets that turn about one axis become the round face that they stand for.

Corners of a mesh lie on the round face, so its axis and radius are those of the circle through them. Only whole strips between two levels square to the axis are taken (bores, pegs,
rounded edges); where one ends in anything else it stays as it is.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepTools import BRepTools
from OCP.GC import GC_MakeArcOfCircle
from OCP.Geom import Geom_CylindricalSurface
from OCP.gp import gp_Ax2, gp_Ax3, gp_Circ
from OCP.ShapeFix import ShapeFix_Face
from OCP.TopoDS import TopoDS_Face

from .frame import Frame, Vec3, dot, unit
from .kernel import (
    FACE,
    WIRE,
    BRepAdaptor_Surface,
    Shape,
    TopoDS,
    direction,
    in_turn,
    point,
    raised_by_kernel,
    subshapes,
)
from .measure import inside_point
from .named import NamedSolid
from .sewn import sewn

__all__ = ["with_rounds"]

Floats = NDArray[np.float64]
#: corners lie on one circle within this, and ends of strips on one level, mm
NEAR_MM = 0.01
#: from one facet to the next it turns by no less and no more than this, rad; and a round face has so many facets (the corners of three lie on a circle too often).
#: Eight or twelve flats all round are meant as flats
LEAST_TURN_RAD, MOST_TURN_RAD, LEAST_FACETS = math.radians(0.5), math.radians(24.5), 4
#: what is made anew is sewn together within this, mm
SEWN_MM = 2e-3


@dataclass(frozen=True)
class _Side:
    """An edge of a facet: its ends, and the face on its other side."""

    start: Vec3
    end: Vec3
    other: int


@dataclass(frozen=True)
class _Round:
    """Facets (by face) in turn about an axis, from the level of ``frame`` so far up; ``closed`` all round. ``start_rad`` and ``sweep_rad`` are those of its corners."""

    facets: tuple[int, ...]
    frame: Frame
    radius_mm: float
    long_mm: float
    start_rad: float
    sweep_rad: float
    hollow: bool

    @property
    def closed(self) -> bool:
        return self.sweep_rad > 2 * math.pi - 1e-6


def with_rounds(shape: Shape) -> Shape | None:
    """A solid of flat faces with the cylinders that some of them stand for; ``None`` where there are none, or they do not close with the rest."""
    solid = NamedSolid(shape, [("x",)] * len(subshapes(shape, FACE)))
    rounds = _rounds(solid)
    if not rounds:
        return None
    try:
        return _made(solid, rounds)
    except Exception as error:
        if not raised_by_kernel(error):
            raise
        return None


def _sides(solid: NamedSolid) -> list[list[_Side]]:
    """For each face the sides of its outline, in turn; none where it has holes or a side that is not straight."""
    around: dict[int, list[int]] = {}
    for edge, (a, b) in solid.edges:
        around[solid.edge_map.FindIndex(edge)] = [a, b]
    out: list[list[_Side]] = []
    for k, face in enumerate(solid.faces):
        wires = subshapes(face, WIRE)
        out.append(
            [_Side(a, b, _other(around[solid.edge_map.FindIndex(e)], k)) for e, a, b in _run(wires[0], face)]
            if len(wires) == 1
            else []
        )
    return out


def _other(pair: Sequence[int], mine: int) -> int:
    return pair[1] if pair[0] == mine else pair[0]


def _run(wire: Shape, face: Shape) -> list[tuple[Shape, Vec3, Vec3]]:
    """The edges of a wire as they are run, each with its ends."""
    walked = in_turn(wire, face)
    return [(edge, start, walked[(k + 1) % len(walked)][1]) for k, (edge, start) in enumerate(walked)]


def _rounds(solid: NamedSolid) -> list[_Round]:
    sides = _sides(solid)
    normals = [np.array(inside_point(face)[1]) for face in solid.faces]
    flat = [BRepAdaptor_Surface(TopoDS.Face(face)).GetType().name == "GeomAbs_Plane" for face in solid.faces]
    # a facet has four sides; those that it shares with the next ones of its strip run along the axis
    joined: dict[int, list[tuple[int, Vec3]]] = {}
    for k, mine in enumerate(sides):
        if not flat[k] or len(mine) != 4:
            continue
        for side in mine:
            turn = math.acos(float(np.clip(normals[k] @ normals[side.other], -1, 1)))
            if LEAST_TURN_RAD < turn < MOST_TURN_RAD and flat[side.other] and len(sides[side.other]) == 4:
                way = unit((side.end[0] - side.start[0], side.end[1] - side.start[1], side.end[2] - side.start[2]))
                joined.setdefault(k, []).append((side.other, way))
    out: list[_Round] = []
    seen: set[int] = set()
    for k in sorted(joined):
        if k in seen:
            continue
        chain = _chain(k, joined)
        seen |= set(chain)
        out += [r for run in _runs(chain, sides, normals) if (r := _round(run, sides, normals)) is not None]
    # each facet stands for one round face, and no round face ends in another one
    taken = {f for r in out for f in r.facets}
    return [r for r in out if not any(s.other in taken for f in r.facets for s in sides[f] if s.other not in r.facets)]


def _chain(first: int, joined: dict[int, list[tuple[int, Vec3]]]) -> list[int]:
    """Facets that follow each other about one direction, in turn."""
    way = joined[first][0][1]

    def next_to(k: int) -> list[int]:
        return [other for other, along in joined.get(k, []) if abs(dot(along, way)) > 1 - 1e-6]

    chain = [first]
    for end in (-1, 0):
        while True:
            more = [k for k in next_to(chain[end]) if k not in chain]
            if not more:
                break
            chain.insert(len(chain) if end else 0, more[0])
    return chain


def _base(chain: Sequence[int], normals: list[Floats]) -> Frame:
    """A frame whose z runs along the facets."""
    way = np.cross(normals[chain[0]], normals[chain[1]])
    flat = Frame.on_plane((0.0, 0.0, 0.0), unit((float(way[0]), float(way[1]), float(way[2]))))
    return Frame((0.0, 0.0, 0.0), flat.x, flat.y)


def _runs(chain: list[int], sides: list[list[_Side]], normals: list[Floats]) -> list[list[int]]:
    """The stretches of a chain whose corners lie on one circle each: a flat side that runs on from a rounding is no facet of it."""
    if len(chain) < LEAST_FACETS:
        return []
    base = _base(chain, normals)
    flat = {k: np.unique(np.round([base.to_local(s.start)[:2] for s in sides[k]], 4), axis=0) for k in chain}
    if len(chain) > 4 and any(s.other == chain[0] for s in sides[chain[-1]]):
        # all round: begin behind the widest one, which is no facet where there is any such
        wide = [float(np.linalg.norm(np.ptp(flat[k], axis=0))) for k in chain]
        first = int(np.argmax(wide)) + 1
        chain = [*chain[first:], *chain[:first]]
    runs: list[list[int]] = []
    rest = list(chain)
    while len(rest) >= LEAST_FACETS:
        many = LEAST_FACETS
        while many <= len(rest) and _on_circle(np.concatenate([flat[k] for k in rest[:many]])):
            many += 1
        if many == LEAST_FACETS:
            rest = rest[1:]
            continue
        runs.append(rest[: many - 1])
        rest = rest[many - 1 :]
    return runs


def _on_circle(corners: Floats) -> bool:
    cx, cy, radius = _circle_of(corners)
    return bool(np.abs(np.hypot(corners[:, 0] - cx, corners[:, 1] - cy) - radius).max() <= NEAR_MM)


def _circle_of(corners: Floats) -> tuple[float, float, float]:
    """The circle through places (Kåsa 1976: linear in its middle and r² − |middle|²): its middle and its radius."""
    about = corners.mean(axis=0)
    x, y = (corners - about).T
    (cx, cy, rest), *_ = np.linalg.lstsq(np.stack([2 * x, 2 * y, np.ones_like(x)], axis=1), x**2 + y**2, rcond=None)
    return float(cx + about[0]), float(cy + about[1]), math.sqrt(max(0.0, float(rest + cx**2 + cy**2)))


def _round(chain: list[int], sides: list[list[_Side]], normals: list[Floats]) -> _Round | None:
    base = _base(chain, normals)
    corners = np.array([base.to_local(side.start) for k in chain for side in sides[k]])
    low, high = float(corners[:, 2].min()), float(corners[:, 2].max())
    level = (np.abs(corners[:, 2] - low) < NEAR_MM) | (np.abs(corners[:, 2] - high) < NEAR_MM)
    if high - low < NEAR_MM or not level.all() or max(abs(float(normals[k] @ np.array(base.z))) for k in chain) > 1e-3:
        return None
    cx, cy, radius = _circle_of(corners[:, :2])
    if radius < 0.05:
        return None
    # at each level all of it ends in one face
    for height in (low, high):
        ends = {
            s.other
            for k in chain
            for s in sides[k]
            if all(abs(base.to_local(p)[2] - height) < NEAR_MM for p in (s.start, s.end))
        }
        if len(ends) != 1 or ends & set(chain):
            return None
    middles = [np.mean([base.to_local(s.start)[:2] for s in sides[k]], axis=0) - (cx, cy) for k in chain]
    inner = (
        float(normals[chain[0]] @ np.array(base.x)) * middles[0][0]
        + float(normals[chain[0]] @ np.array(base.y)) * middles[0][1]
        < 0
    )
    closed = any(s.other == chain[0] for s in sides[chain[-1]]) and len(chain) > 4
    angles = np.unwrap([math.atan2(m[1], m[0]) for m in middles])
    start, sweep = 0.0, 2 * math.pi
    if closed:
        first = np.array(base.to_local(sides[chain[0]][0].start)[:2]) - (cx, cy)
        start = math.atan2(first[1], first[0])
    else:
        if angles[-1] < angles[0]:
            chain, angles = chain[::-1], angles[::-1]
        rims = [
            math.atan2(base.to_local(s.start)[1] - cy, base.to_local(s.start)[0] - cx)
            for k in (chain[0], chain[-1])
            for s in sides[k]
        ]
        low_rim = min((r - angles[0] + math.pi) % (2 * math.pi) - math.pi for r in rims[: len(sides[chain[0]])])
        high_rim = max((r - angles[-1] + math.pi) % (2 * math.pi) - math.pi for r in rims[len(sides[chain[0]]) :])
        start, sweep = float(angles[0] + low_rim), float(angles[-1] + high_rim - angles[0] - low_rim)
        if not 1e-3 < sweep < 2 * math.pi - 1e-3:
            return None
    origin = base.to_world(cx, cy, low)
    return _Round(tuple(chain), Frame(origin, base.x, base.y), radius, high - low, start, sweep, inner)


def _made(solid: NamedSolid, rounds: list[_Round]) -> Shape | None:
    of_face = {f: r for r in rounds for f in r.facets}
    flat = [_flat_again(solid, k, face, of_face) for k, face in enumerate(solid.faces) if k not in of_face]
    found = sewn([*flat, *(_round_face(r) for r in rounds)], SEWN_MM)
    return found[0] if found is not None else None


def _round_face(r: _Round) -> TopoDS_Face:
    place = gp_Ax3(point(r.frame.origin), direction(r.frame.z), direction(r.frame.x))
    surface = Geom_CylindricalSurface(place, r.radius_mm)
    face = BRepBuilderAPI_MakeFace(surface, r.start_rad, r.start_rad + r.sweep_rad, 0.0, r.long_mm, 1e-6).Face()
    return TopoDS.Face(face.Reversed()) if r.hollow else face


def _flat_again(solid: NamedSolid, k: int, face: Shape, of_face: dict[int, _Round]) -> Shape:
    """A flat face whose sides along facets are arcs and circles now."""
    flat = TopoDS.Face(face)
    outer = BRepTools.OuterWire_s(flat)
    wires: list[Any] = []
    pairs = {solid.edge_map.FindIndex(edge): pair for edge, pair in solid.edges}
    changed = False
    for wire in [outer] + [w for w in subshapes(face, WIRE) if not w.IsSame(outer)]:
        run = []
        for edge, start, end in _run(wire, face):
            beyond = of_face.get(_other(pairs[solid.edge_map.FindIndex(edge)], k))
            # along the axis a round face ends in a straight side
            across = beyond is not None and abs(dot(beyond.frame.z, unit(_away(start, end)))) < 1e-3
            run.append((edge, start, end, beyond if across else None))
        wires.append(_wire(run))
        changed = changed or any(r is not None for *_, r in run)
    if not changed:
        return face
    surface = BRep_Tool.Surface_s(flat)
    maker = BRepBuilderAPI_MakeFace(surface, wires[0], True)
    for hole in wires[1:]:
        maker.Add(hole)
    # each wire runs the way that its place in the face asks for
    fix = ShapeFix_Face(maker.Face())
    fix.FixOrientation()
    made = fix.Face()
    # it looks the way it did
    looks, did = inside_point(made)[1], inside_point(face)[1]
    return made if dot(looks, did) > 0 else made.Reversed()


def _away(start: Vec3, end: Vec3) -> Vec3:
    return (end[0] - start[0], end[1] - start[1], end[2] - start[2])


def _wire(run: Sequence[tuple[Shape, Vec3, Vec3, _Round | None]]) -> Any:
    maker = BRepBuilderAPI_MakeWire()
    ways = [r for *_, r in run]
    if ways[0] is not None and all(r is ways[0] for r in ways):
        maker.Add(BRepBuilderAPI_MakeEdge(_circle(ways[0], run[0][1])).Edge())
        return maker.Wire()
    # begin where one side ends and another begins
    first = next(i for i in range(len(run)) if ways[i] is None or ways[i - 1] is not ways[i])
    run = [*run[first:], *run[:first]]
    i = 0
    while i < len(run):
        edge, start, end, r = run[i]
        j = i + 1
        while r is not None and j < len(run) and run[j][3] is r:
            j += 1
        if r is None:
            maker.Add(BRepBuilderAPI_MakeEdge(point(start), point(end)).Edge())
        else:
            maker.Add(BRepBuilderAPI_MakeEdge(_arc(r, [start, *(e for _, _, e, _ in run[i:j])])).Edge())
        i = j
    return maker.Wire()


def _circle(r: _Round, at: Vec3) -> gp_Circ:
    height = r.frame.to_local(at)[2]
    return gp_Circ(
        gp_Ax2(point(r.frame.to_world(0.0, 0.0, height)), direction(r.frame.z), direction(r.frame.x)), r.radius_mm
    )


def _arc(r: _Round, corners: Sequence[Vec3]) -> Any:
    """Over the corners of a strip, from the first to the last: these are where the sides beside it end."""
    places = [r.frame.to_local(p) for p in corners]
    turns = np.unwrap([math.atan2(y, x) for x, y, _ in places])
    turn = float(turns[0] + turns[-1]) / 2
    middle = r.frame.to_world(r.radius_mm * math.cos(turn), r.radius_mm * math.sin(turn), places[0][2])
    return GC_MakeArcOfCircle(point(corners[0]), point(middle), point(corners[-1])).Value()
