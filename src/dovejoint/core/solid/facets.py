"""Fine triangles of a solid's faces between two heights, and distances between two such sets: the ground that gaps are read on."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.GeomAPI import GeomAPI_ProjectPointOnSurf
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopLoc import TopLoc_Location

from .frame import Frame, box_corners
from .kernel import FACE as FACE_KIND
from .kernel import BRepAdaptor_Surface, Shape, cast, point, vec
from .mesh import moved, node_arrays
from .named import NamedSolid

__all__ = [
    "Facets",
    "Nearest",
    "crosses",
    "facets_between",
    "first_and_back",
    "in_small",
    "nearest",
    "onto",
    "out_the_short_way",
    "straight_on",
    "within",
]

Array = NDArray[np.float64]
Index = NDArray[np.intp]
Window = tuple[tuple[float, float], tuple[float, float]]
#: chord error of the triangles that gaps are read on, mm, and the largest turn between two of them, rad; on coarser ones nothing hangs on their normals within degrees
CHORD_MM, TURN_RAD = 0.001, 0.1
COARSE_MM, COARSE_TURN_RAD = 0.008, 0.2
#: a face that needs more triangles than this is read a little coarser, mm
MOST_TRIANGLES, COARSER_MM = 30_000, 0.004


@dataclass(frozen=True, eq=False)
class Facets:
    """Triangles in the coordinates of a frame: ``corners`` (t, 3, 3), their outward unit ``normals`` (t, 3), the index of their ``face``
    (t,) in the solid, and ``chord_mm``, how far a curved one may lie inside its face."""

    corners: Array
    normals: Array
    face: Index
    chord_mm: float

    def __len__(self) -> int:
        return len(self.corners)

    def near(self, window: Window | None, reach_mm: float) -> Facets:
        """Those that come within a reach of a window (middle and half sizes along ``x`` and ``y``); all where there is none."""
        return self.chosen(_close(self.corners, window, reach_mm))

    def chosen(self, which: Any) -> Facets:
        return Facets(self.corners[which], self.normals[which], self.face[which], self.chord_mm)


def _local(points: Array, frame: Frame) -> Array:
    axes = np.array([frame.x, frame.y, frame.z])
    return np.asarray((points - np.array(frame.origin)) @ axes.T)


def _triangles(face: Shape, chord_mm: float) -> Array:
    """Triangles (t, 3, 3) of a face that turn left seen from outside; a copy is meshed, so that what others made stays."""
    twin = cast(BRepBuilderAPI_Copy(face, True, False).Shape(), FACE_KIND)
    turn_rad = TURN_RAD if chord_mm < COARSE_MM else COARSE_TURN_RAD
    BRepMesh_IncrementalMesh(twin, chord_mm, False, turn_rad, False)
    location = TopLoc_Location()
    triangulation = BRep_Tool.Triangulation_s(twin, location)
    if triangulation is None:
        return np.zeros((0, 3, 3))
    nodes, triangles = node_arrays(triangulation)
    if not location.IsIdentity():
        nodes, _ = moved(nodes, nodes, location)
    triangles = triangles - 1
    if twin.Orientation() == TopAbs_REVERSED:
        triangles = triangles[:, [0, 2, 1]]
    return np.asarray(nodes[triangles])


def facets_between(
    solid: NamedSolid,
    frame: Frame,
    low_mm: float,
    high_mm: float,
    chord_mm: float = CHORD_MM,
    but: Collection[int] = (),
    window: Window | None = None,
    reach_mm: float = 0.0,
) -> Facets:
    """The triangles of all faces (``but`` some, by index) between two heights over a frame, cut off there, whatever made the faces;
    where there is a window, only those that come within a reach of it."""
    corners: list[Array] = []
    faces: list[Index] = []
    chord = chord_mm
    for index in range(len(solid.faces)):
        if index in but or _misses(_box(solid, index, frame), low_mm, high_mm, window, reach_mm):
            continue
        found, told = _kept_triangles(solid, index, chord_mm)
        chord = max(chord, told)
        local = _local(found.reshape(-1, 3), frame).reshape(-1, 3, 3)
        local = local[_close(local, window, reach_mm)]
        cut = _above(_above(local, low_mm, 1.0), -high_mm, -1.0)
        corners.append(cut)
        faces.append(np.full(len(cut), index, dtype=np.intp))
    if not corners:
        return Facets(np.zeros((0, 3, 3)), np.zeros((0, 3)), np.zeros(0, dtype=np.intp), chord)
    all_corners, all_faces = np.concatenate(corners), np.concatenate(faces)
    normals = np.cross(all_corners[:, 1] - all_corners[:, 0], all_corners[:, 2] - all_corners[:, 0])
    size = np.linalg.norm(normals, axis=1)
    good = size > 1e-12
    return Facets(all_corners[good], normals[good] / size[good, None], all_faces[good], chord)


def _kept_triangles(solid: NamedSolid, index: int, chord_mm: float) -> tuple[Array, float]:
    """A face's triangles and their chord error (see _fine_enough); kept with the solid, for several zones of a joint lie on one face."""
    kept: dict[tuple[int, float], tuple[Array, float]] = solid.__dict__.setdefault("fine", {})
    if (index, chord_mm) not in kept:
        kept[index, chord_mm] = _fine_enough(solid.faces[index], chord_mm)
    return kept[index, chord_mm]


def _fine_enough(face: Shape, chord_mm: float) -> tuple[Array, float]:
    """A face's triangles, coarser where they would be too many. Those of a face that is curved both ways are as many as the chord is small, so a few
    tell of many: made and thrown away they cost seconds."""
    both_ways = BRepAdaptor_Surface(face).GetType().name not in ("GeomAbs_Plane", "GeomAbs_Cylinder", "GeomAbs_Cone")
    if both_ways and chord_mm < COARSER_MM:
        few = _triangles(face, COARSER_MM)
        if len(few) * COARSER_MM / chord_mm > MOST_TRIANGLES:
            return few, COARSER_MM
    return _triangles(face, chord_mm), chord_mm


def _box(solid: NamedSolid, index: int, frame: Frame) -> Array:
    """The corners of a face's box, in the frame (8, 3)."""
    from .measure import bounds

    kept: dict[int, Array] = solid.__dict__.setdefault("boxes", {})
    if index not in kept:
        kept[index] = np.array(box_corners(*bounds(solid.faces[index])))
    return _local(kept[index], frame)


def _misses(box: Array, low_mm: float, high_mm: float, window: Window | None, reach_mm: float) -> bool:
    heights = box[:, 2]
    return bool(heights.max() < low_mm or heights.min() > high_mm or not _close(box[None], window, reach_mm)[0])


def _close(groups: Array, window: Window | None, reach_mm: float) -> NDArray[np.bool_]:
    """Which groups of points (g, k, 3) come within a reach of a window (middle and half sizes along ``x`` and ``y``)."""
    out = np.ones(len(groups), dtype=bool)
    if window is not None:
        for axis, (middle, half) in enumerate(zip(*window, strict=True)):
            along = groups[:, :, axis]
            out &= (along.max(axis=1) >= middle - half - reach_mm) & (along.min(axis=1) <= middle + half + reach_mm)
    return out


def _above(triangles: Array, level: float, sign: float) -> Array:
    """What of triangles lies where ``sign · z ≥ level``: the whole ones, and the rests of those that are cut."""
    if not len(triangles):
        return triangles
    over = sign * triangles[:, :, 2] - level
    inside = over >= -1e-12
    count = inside.sum(axis=1)
    out = [triangles[count == 3]]
    for k in (1, 2):
        some = np.flatnonzero(count == k)
        if not len(some):
            continue
        # turned so that the corner that is alone on its side comes first
        alone = np.argmax(inside[some] == (k == 1), axis=1)
        order = (alone[:, None] + np.arange(3)) % 3
        t = np.take_along_axis(triangles[some], order[:, :, None], axis=1)
        h = np.take_along_axis(over[some], order, axis=1)
        share1 = h[:, 0] / (h[:, 0] - h[:, 1])
        share2 = h[:, 0] / (h[:, 0] - h[:, 2])
        p1 = t[:, 0] + share1[:, None] * (t[:, 1] - t[:, 0])
        p2 = t[:, 0] + share2[:, None] * (t[:, 2] - t[:, 0])
        if k == 1:
            out.append(np.stack([t[:, 0], p1, p2], axis=1))
        else:
            out.append(np.stack([p1, t[:, 1], t[:, 2]], axis=1))
            out.append(np.stack([p1, t[:, 2], p2], axis=1))
    return np.concatenate(out)


_MIX = np.array([0x9E3779B97F4A7C15, 0xC2B2AE3D27D4EB4F, 0x165667B19E3779F9, 0xD6E8FEB86659FD93, 0xA0761D6478BD642F, 0xE7037ED1A0B428DB], dtype=np.uint64)  # fmt: skip


def first_of_each(keys: NDArray[Any]) -> Index:
    """Indices of the first row of each kind among rows (n, k ≤ 6) of whole numbers: by a mix of each row, ten times faster than sorting rows."""
    return first_and_back(keys)[0]


def first_and_back(keys: NDArray[Any]) -> tuple[Index, Index]:
    """As :func:`first_of_each`, and for each row which of these it is like."""
    with np.errstate(over="ignore"):
        mixed = (keys.astype(np.int64).view(np.uint64) * _MIX[: keys.shape[1]]).sum(axis=1, dtype=np.uint64)
        mixed ^= mixed >> np.uint64(29)
    _, first, back = np.unique(mixed, return_index=True, return_inverse=True)
    return np.asarray(first, dtype=np.intp), np.asarray(back, dtype=np.intp)


def in_small(facets: Facets, most_mm: float, most: int = 60_000) -> Facets:
    """The same triangles in pieces with no side longer than ``most_mm``, as far as ``most`` pieces go."""
    corners, face, normals = facets.corners, facets.face, facets.normals
    while len(corners) < most:
        sides = np.linalg.norm(corners - np.roll(corners, -1, axis=1), axis=2)
        longest = sides.argmax(axis=1)
        big = sides.max(axis=1) > most_mm
        if not big.any():
            break
        order = (longest[big, None] + np.arange(3)) % 3
        t = np.take_along_axis(corners[big], order[:, :, None], axis=1)
        middle = (t[:, 0] + t[:, 1]) / 2
        halves = [np.stack([t[:, 0], middle, t[:, 2]], axis=1), np.stack([middle, t[:, 1], t[:, 2]], axis=1)]
        corners = np.concatenate([corners[~big], *halves])
        face = np.concatenate([face[~big], face[big], face[big]])
        normals = np.concatenate([normals[~big], normals[big], normals[big]])
    return Facets(corners, normals, face, facets.chord_mm)


@dataclass(frozen=True, eq=False)
class Nearest:
    """For each point the nearest way to facets that look towards it: ``free_mm`` in front of one, ``deep_mm`` behind one (both
    inf where there is none), the ``foot`` of each (n, 3) and its triangle (-1: none)."""

    free_mm: Array
    free_foot: Array
    free_at: Index
    deep_mm: Array
    deep_foot: Array
    deep_at: Index


#: faces oppose one another when their normals turn away by more than 96°; a way from one to the other runs within 73° of the normal at one
#: end, and straight when within 4.4° (in the corner of an opening none is straight to what goes in it)
OPPOSED, ASLANT, STRAIGHT = -0.1, 0.3, 0.997
_LOT = 128


def nearest(points: Array, normals: Array, facets: Facets, reach_mm: float, opposed: float = OPPOSED) -> Nearest:
    """The nearest ways from points with outward normals, not farther than ``reach_mm``, to facets whose normals lie beyond the cosine
    ``opposed`` of theirs."""
    n = len(points)
    out = Nearest(
        np.full(n, np.inf), np.zeros((n, 3)), np.full(n, -1, dtype=np.intp),
        np.full(n, np.inf), np.zeros((n, 3)), np.full(n, -1, dtype=np.intp),
    )  # fmt: skip
    if not len(facets) or not n:
        return out
    low, high = facets.corners.min(axis=1), facets.corners.max(axis=1)
    middle, half = (low + high) / 2, (high - low) / 2
    lows, highs = np.ascontiguousarray(low.T), np.ascontiguousarray(high.T)
    offset = np.einsum("ij,ij->i", facets.corners[:, 0], facets.normals)
    legs = _legs(facets.corners)
    # points that look alike and lie together are taken together, so that few triangles are near and before each lot of them
    look = np.round(normals) @ np.array([9.0, 3.0, 1.0])
    order = np.lexsort((points[:, 2], np.round(points[:, 1] / 5), np.round(points[:, 0] / 5), look))
    for start in range(0, n, _LOT):
        lot = order[start : start + _LOT]
        p, m = points[lot], normals[lot]
        near = np.ones(len(facets), dtype=bool)
        for axis in range(3):
            near &= (lows[axis] <= p[:, axis].max() + reach_mm) & (highs[axis] >= p[:, axis].min() - reach_mm)
        some = np.flatnonzero(near)
        facing = m @ facets.normals[some].T <= opposed
        any_ = facing.any(axis=0)
        some, facing = some[any_], facing[:, any_]
        if not len(some):
            continue
        over = p @ facets.normals[some].T - offset[some]
        # how far any of a triangle's box lies before or behind the point's own plane
        ahead = m @ middle[some].T - np.einsum("ij,ij->i", p, m)[:, None]
        spread = np.abs(m) @ half[some].T
        may = facing & (np.abs(over) <= reach_mm)
        may &= np.where(over >= -1e-9, ahead + spread >= -1e-9, ahead - spread <= 1e-9)
        i, j = np.nonzero(may)
        j = some[j]
        box = np.maximum(np.abs(p[i] - middle[j]) - half[j], 0.0)
        least = np.sqrt(np.einsum("ij,ij->i", box, box))
        close = least <= reach_mm
        i, j, least = i[close], j[close], least[close]
        before = over[i, np.searchsorted(some, j)] >= 0
        for kind, mm, feet, at in (
            (before, out.free_mm, out.free_foot, out.free_at),
            (~before, out.deep_mm, out.deep_foot, out.deep_at),
        ):
            _take(
                lot, p, m, facets, legs, i[kind], j[kind], least[kind], 1.0 if kind is before else -1.0, (mm, feet, at)
            )
    out.free_mm[out.free_mm > reach_mm] = np.inf
    out.deep_mm[out.deep_mm > reach_mm] = np.inf
    return out


def _take(
    lot: Index,
    points: Array,
    normals: Array,
    facets: Facets,
    legs: Array,
    i: Index,
    j: Index,
    least: Array,
    sign: float,
    out: tuple[Array, Array, Index],
) -> None:
    """The nearest foot of each point among pairs (i, j) with a lower bound each: the four likeliest first, then those that may beat them."""
    order = np.lexsort((least, i))
    i, j, least = i[order], j[order], least[order]
    if not len(i):
        return
    starts = np.flatnonzero(np.r_[True, i[1:] != i[:-1]])
    rank = np.arange(len(i)) - np.repeat(starts, np.diff(np.r_[starts, len(i)]))
    mm, feet, at = out
    for some in (rank < 4, rank >= 4):
        k = np.flatnonzero(some & (least < mm[lot[i]]))
        if not len(k):
            continue
        foot = _foot(points[i[k]], facets.corners, legs, j[k])
        way = foot - points[i[k]]
        distance = np.linalg.norm(way, axis=1)
        on = sign * np.einsum("ij,ij->i", way, normals[i[k]])
        back = -sign * np.einsum("ij,ij->i", way, facets.normals[j[k]])
        good = (on >= 0) & (np.maximum(on, back) >= ASLANT * distance) | (distance < 1e-9)
        k, foot, distance = k[good], foot[good], distance[good]
        # the nearest of each point: sorted by point, then by distance, the first of each
        by = np.lexsort((distance, i[k]))
        k, foot, distance = k[by], foot[by], distance[by]
        first = np.r_[True, i[k][1:] != i[k][:-1]] if len(k) else np.zeros(0, dtype=bool)
        k, foot, distance = k[first], foot[first], distance[first]
        mine = lot[i[k]]
        better = distance < mm[mine]
        mm[mine[better]], feet[mine[better]], at[mine[better]] = distance[better], foot[better], j[k[better]]


def out_the_short_way(points: Array, inside: Index, found: Nearest, its: Facets) -> None:
    """Correct the depth of points whose way does not run along the normal of the face that it comes out of: beside a slit or a notch, where what stands in
    the other half is the corner, the way straight on is far longer than the one out."""
    way = found.deep_foot[inside] - points[inside]
    along = np.abs(np.einsum("ij,ij->i", way, its.normals[found.deep_at[inside]]))
    aslant = inside[along < STRAIGHT * found.deep_mm[inside]]
    if not len(aslant):
        return
    low, high = its.corners.min(axis=1), its.corners.max(axis=1)
    for k in aslant:
        foot, at = _closest(points[k], its, low, high)
        found.deep_mm[k], found.deep_foot[k], found.deep_at[k] = np.linalg.norm(foot - points[k]), foot, at


def _closest(point: Array, facets: Facets, low: Array, high: Array) -> tuple[Array, int]:
    """The point of facets, whose boxes go from ``low`` to ``high`` (n, 3), that is nearest to one (3,), however they look, and its triangle."""
    to_box = np.maximum(np.maximum(low - point, point - high), 0.0)
    least = np.einsum("ij,ij->i", to_box, to_box)
    # what lies farther in its box than some corner is away cannot be it
    corner = facets.corners - point
    near = np.flatnonzero(least <= np.einsum("tij,tij->ti", corner, corner).min() + 1e-12)
    corners = facets.corners[near]
    feet = _foot(np.broadcast_to(point, (len(near), 3)), corners, _legs(corners), np.arange(len(near)))
    k = int(np.linalg.norm(feet - point, axis=1).argmin())
    return feet[k], int(near[k])


def straight_on(points: Array, normals: Array, feet: Array, their_normals: Array, other: float) -> NDArray[np.bool_]:
    """Which ways from points to their feet run along the normal at one of their ends, and within the cosine ``other`` of that at the
    other end; or have no length."""
    way = feet - points
    distance = np.linalg.norm(way, axis=1)
    here, there = np.abs(np.einsum("ij,ij->i", way, normals)), np.abs(np.einsum("ij,ij->i", way, their_normals))
    straight = (np.maximum(here, there) >= STRAIGHT * distance) & (np.minimum(here, there) >= other * distance)
    return np.asarray(straight | (distance < 1e-9))


def _legs(corners: Array) -> Array:
    """For each triangle (n, 3, 3) its legs AB and AC, and what a way out of A is multiplied with to give the shares of them: (n, 4, 3)."""
    ab, ac = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    normal = np.cross(ab, ac)
    square = np.maximum(np.einsum("ij,ij->i", normal, normal), 1e-300)[:, None]
    return np.stack([ab, ac, np.cross(ac, normal) / square, np.cross(normal, ab) / square], axis=1)


def _foot(p: Array, corners: Array, legs: Array, at: Index) -> Array:
    """The point of each triangle (by its place ``at`` among all) that is nearest to each point (k, 3) (Ericson, *Real-Time Collision Detection*, 5.1.5)."""
    a, mine = corners[at, 0], legs[at]
    ap = p - a
    v, w = np.einsum("ij,ij->i", ap, mine[:, 2]), np.einsum("ij,ij->i", ap, mine[:, 3])
    best = a + v[:, None] * mine[:, 0] + w[:, None] * mine[:, 1]
    outside = (v < 0) | (w < 0) | (v + w > 1)
    if outside.any():
        k = np.flatnonzero(outside)
        t = corners[at[k]]
        least = np.full(len(k), np.inf)
        found = np.zeros((len(k), 3))
        for s in range(3):
            from_, to = t[:, s], t[:, (s + 1) % 3]
            along = to - from_
            length = np.maximum(np.einsum("ij,ij->i", along, along), 1e-300)
            share = np.clip(np.einsum("ij,ij->i", p[k] - from_, along) / length, 0, 1)
            here = from_ + share[:, None] * along
            distance = np.einsum("ij,ij->i", p[k] - here, p[k] - here)
            closer = distance < least
            least[closer], found[closer] = distance[closer], here[closer]
        best[k] = found
    return np.asarray(best)


def within(points: Array, facets: Facets) -> NDArray[np.bool_]:
    """Which points lie inside the solid that the facets bound at their heights: level rays in three directions, the odd ones counted
    (the facets need not go beyond the points' heights, for the rays stay in them). Two of three decide where the first says inside."""
    out = np.zeros(len(points), dtype=bool)
    if not len(facets) or not len(points):
        return out
    first = np.flatnonzero(_odd(points, facets, 0.7391))
    if len(first):
        second, third = (_odd(points[first], facets, turn) for turn in (2.8173, 4.9127))
        out[first[second | third]] = True
    return out


def _odd(points: Array, facets: Facets, turn: float) -> NDArray[np.bool_]:
    """From which points a level ray in one direction meets an odd number of facets."""
    c, s = np.cos(turn), np.sin(turn)
    spin = np.array([[c, s, 0.0], [-s, c, 0.0], [0.0, 0.0, 1.0]])
    # a hair aside, so that a ray meets no corner
    p = points @ spin.T + np.array([0.0, 1.3e-6, 0.7e-6])
    t = facets.corners @ spin.T
    low, high = t.min(axis=1), t.max(axis=1)
    odd = np.zeros(len(p), dtype=bool)
    for start in range(0, len(p), 256):
        q = p[start : start + 256]
        near = (
            (low[None, :, 1] <= q[:, None, 1]) & (high[None, :, 1] >= q[:, None, 1])
            & (low[None, :, 2] <= q[:, None, 2]) & (high[None, :, 2] >= q[:, None, 2])
            & (high[None, :, 0] >= q[:, None, 0])
        )  # fmt: skip
        i, j = np.nonzero(near)
        a, ab, ac = t[j, 0], t[j, 1] - t[j, 0], t[j, 2] - t[j, 0]
        det = ab[:, 1] * ac[:, 2] - ab[:, 2] * ac[:, 1]
        with np.errstate(divide="ignore", invalid="ignore"):
            dy, dz = q[i, 1] - a[:, 1], q[i, 2] - a[:, 2]
            v = (dy * ac[:, 2] - dz * ac[:, 1]) / det
            w = (dz * ab[:, 1] - dy * ab[:, 2]) / det
            hit = (np.abs(det) > 1e-15) & (v >= 0) & (w >= 0) & (v + w <= 1)
            hit &= a[:, 0] + v * ab[:, 0] + w * ac[:, 0] > q[i, 0]
        odd[start : start + 256] = np.bincount(i[hit], minlength=len(q)) % 2 == 1
    return odd


def crosses(start: Array, end: Array, facets: Facets) -> bool:
    """Whether the way between two points goes through a facet (its very ends left out; Möller and Trumbore's test)."""
    if not len(facets):
        return False
    way = end - start
    a, ab, ac = (
        facets.corners[:, 0],
        facets.corners[:, 1] - facets.corners[:, 0],
        facets.corners[:, 2] - facets.corners[:, 0],
    )
    h = np.cross(way, ac)
    det = np.einsum("ij,ij->i", ab, h)
    with np.errstate(divide="ignore", invalid="ignore"):
        s = start - a
        u = np.einsum("ij,ij->i", s, h) / det
        q = np.cross(s, ab)
        v = q @ way / det
        t = np.einsum("ij,ij->i", ac, q) / det
        hit = (np.abs(det) > 1e-12) & (u >= 0) & (v >= 0) & (u + v <= 1) & (t > 1e-3) & (t < 1 - 1e-3)
    return bool(hit.any())


#: a point of a triangle lies no farther from its face than this, mm
_NEAR_MM = 0.02


def onto(face: Shape, at: Array, expected: Array) -> Array:
    """The nearest point of a face's surface, where that is the one expected (a foot on a face's rim is none of its surface's)."""
    projection = GeomAPI_ProjectPointOnSurf(
        point((float(at[0]), float(at[1]), float(at[2]))), BRep_Tool.Surface_s(face)
    )
    if projection.NbPoints() == 0:
        return expected
    found = np.array(vec(projection.NearestPoint()))
    return found if np.linalg.norm(found - expected) < _NEAR_MM else expected
