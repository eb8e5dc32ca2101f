"""The gap between two halves of a joint as it is in their solids, whatever steps made them.

The zone where the halves face each other (between two heights over the joint's frame) is cut out of both as fine triangles, and from
points of either half the nearest way to an opposing face of the other is looked for (``facets.nearest``). A point that lies inside the
other half has a negative gap, its depth below the face that it went in through. Triangles of flat faces are exact; those of
round ones lie within CHORD_MM, and what is told as least and most is brought onto the true faces at its end.
"""

from __future__ import annotations

import hashlib
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .facename import FaceName, parse
from .facets import (
    Facets,
    Window,
    crosses,
    facets_between,
    first_of_each,
    in_small,
    nearest,
    onto,
    out_the_short_way,
    straight_on,
)
from .facets import within as lies_within
from .frame import Frame, Vec3
from .info import GapReadings
from .named import NamedSolid

__all__ = ["gap_readings", "zone_mark"]

Array = NDArray[np.float64]
#: points of a face are no farther apart than this, mm, and on large zones than what keeps them under MOST_POINTS
APART_MM, ROUND_APART_MM, MOST_POINTS = 2.5, 0.7, 8_000
#: directions in the joint's plane that are told apart, and heights for the tilt
WAYS, HEIGHTS = 72, 6
#: what hardly acts in the joint's plane is none of its gap: the least share of its direction that does
IN_PLANE = 0.5
#: a side faces the other where its normal lies within 60° of the way between them; what is widest is looked for where it does within 37°
FACES, LEVEL = 0.5, 0.8
#: below this a way has no direction of its own, mm
TOUCH_MM = 1e-3
#: a gap lies along a direction within 8°
ACROSS_RAD = math.acos(0.99)
#: beyond this nobody asks how far something rocks, rad
MOST_TILT_RAD = 0.5


@dataclass(frozen=True, eq=False)
class _Places:
    """Places where the halves face each other, in the frame's coordinates: ``gap`` (n,), ``way`` (n, 2) in the plane from inner to
    outer, the ``gap`` along it as ``flat``, the points on both halves (n, 3) and the faces that they lie on (n,)."""

    gap: Array
    flat: Array
    way: Array
    outer: Array
    inner: Array
    outer_face: NDArray[np.intp]
    inner_face: NDArray[np.intp]
    from_outer: NDArray[np.bool_]
    straight: NDArray[np.bool_]
    level: NDArray[np.bool_]

    def those(self, which: Any) -> _Places:
        return _Places(*(getattr(self, f)[which] for f in _Places.__dataclass_fields__))

    @staticmethod
    def together(parts: Sequence[_Places]) -> _Places:
        return _Places(*(np.concatenate([getattr(p, f) for p in parts]) for f in _Places.__dataclass_fields__))


def gap_readings(
    outer: NamedSolid,
    inner: NamedSolid,
    frame: Frame,
    low_mm: float,
    high_mm: float,
    reach_mm: float,
    within: Window | None = None,
    along: str = "",
    slant_rad: float = 0.0,
    mating: Sequence[str] = (),
) -> GapReadings | None:
    """Measure the gap between two parts; ``None`` where they do not face each other at all.

    Parameters
    ----------
    frame, low_mm, high_mm : the zone: only what lies between these heights over the frame counts.
    reach_mm : places where the other part is farther away than this have no gap of this joint.
    within : middle and half sizes (x, y of the frame) outside of which nothing counts; all counts where it is left out.
    along : ``x`` or ``y`` where only gaps in that direction count, and those that lie aslant to it by up to ``slant_rad``.
    mating : names of the faces that meet, where they are known: what the same steps made besides, such as the back of a lip, may be hit, but how far it is
        from there to something else is no gap.
    """
    mine, its = (_zone(s, frame, low_mm, high_mm, within, reach_mm) for s in (outer, inner))
    one, other = mine.facets, its.facets
    if not len(one) or not len(other):
        return None
    # rays that tell what lies inside a half go beyond the window
    found = [
        _from(
            mine.samples,
            other,
            lambda: facets_between(inner, frame, low_mm, high_mm),
            reach_mm,
            within,
            from_outer=True,
        ),
        _from(
            its.samples, one, lambda: facets_between(outer, frame, low_mm, high_mm), reach_mm, within, from_outer=False
        ),
    ]
    places = _Places.together(found)
    if along:
        places = places.those(np.abs(places.way[:, "xy".index(along)]) > math.cos(slant_rad + ACROSS_RAD))
    if not len(places.gap):
        return None
    least = int(places.gap.argmin())
    tightest = places.those([least])
    # in a corner there is none opposite: how far it is from there to what lies aslant is no gap
    places = places.those(places.straight)
    if not len(places.gap):
        return None
    meets = ~(_away(outer, mating)[places.outer_face] | _away(inner, mating)[places.inner_face])
    counted = places.those(meets) if meets.any() else places
    level = counted.those(counted.level) if counted.level.any() else counted
    widest = level.those([_widest(level, one, other)])
    told = [_exact(p, 0, outer, inner, frame) for p in (tightest, widest)]
    ways, tilt = _ways(places), _tilt(places, (low_mm + high_mm) / 2)
    if along:
        # how it rocks in the other direction is another matter
        ways, tilt = _both_ways(ways, "xy".index(along)), 0.0
    across, deep = (float(np.ptp(places.inner[:, k])) for k in (0, 1))
    size = (across, deep)
    names = [(outer.names[p.outer_face[0]][0], inner.names[p.inner_face[0]][0]) for p in (tightest, widest)]
    return GapReadings(
        told[0][0], max(told[0][0], told[1][0]), told[0][1], told[1][1], names[0], names[1], ways, size, tilt, len(places.gap)
    )  # fmt: skip


def _away(solid: NamedSolid, mating: Sequence[str]) -> NDArray[np.bool_]:
    """For each face, whether a step that made mating faces made it for something else: its names have another role than all of those."""
    roles = {(f.step, f.role) for f in map(parse, mating) if isinstance(f, FaceName)}
    steps = {step for step, _ in roles}

    def looks_away(names: tuple[str, ...]) -> bool:
        found = [(f.step, f.role) for f in map(parse, names) if isinstance(f, FaceName)]
        return any(step in steps for step, _ in found) and not any(f in roles for f in found)

    return np.array([looks_away(names) for names in solid.names])


def _both_ways(ways: tuple[tuple[float, float, float], ...], k: int) -> tuple[tuple[float, float, float], ...]:
    """The least gap each way along one direction."""
    out = []
    for sign in (1.0, -1.0):
        gaps = [way[0] for way in ways if sign * way[1 + k] > 0]
        if gaps:
            out.append((min(gaps), sign * (1 - k), sign * k))
    return tuple(out)


def zone_mark(
    solid: NamedSolid, frame: Frame, low_mm: float, high_mm: float, within: Window | None = None, reach_mm: float = 0.0
) -> str:
    """What tells apart what of a half lies in a zone: equal marks, equal gaps, whatever else of it changed.

    Of each face the area in the zone with its first and second moments and its bounds, which are the same however it is cut into triangles.
    """
    facets = _zone(solid, frame, low_mm, high_mm, within, reach_mm).facets
    if not len(facets):
        return ""
    v = facets.corners
    area = np.linalg.norm(np.cross(v[:, 1] - v[:, 0], v[:, 2] - v[:, 0]), axis=1) / 2
    whole = v.sum(axis=1)
    # over a triangle the integral of x·xᵀ is its area/12 times the sum over its corners and that of their sum
    second = (np.einsum("tia,tib->tab", v, v) + np.einsum("ta,tb->tab", whole, whole)) * (area / 12)[:, None, None]
    moments = np.column_stack([area, whole * (area / 3)[:, None], second.reshape(-1, 9)])
    rows = []
    for face in np.unique(facets.face):
        mine = facets.face == face
        corners = v[mine].reshape(-1, 3)
        sums = moments[mine].sum(axis=0)
        rows.append(
            np.concatenate([np.round(corners.min(axis=0), 4), np.round(corners.max(axis=0), 4), np.round(sums, 3)])
            + 0.0
        )
    return hashlib.sha256(np.array(sorted(r.tolist() for r in rows)).tobytes()).hexdigest()


_Samples = tuple[Array, Array, NDArray[np.intp]]


@dataclass(eq=False)
class _Zone:
    """A half's triangles in a zone; and the points on them that may count, worked out where a gap is read and not where only its mark is asked for."""

    facets: Facets
    within: Window | None

    @cached_property
    def samples(self) -> _Samples:
        mine = self.facets.near(self.within, 0.0)
        return _samples(mine) if len(mine) else (np.zeros((0, 3)), np.zeros((0, 3)), np.zeros(0, dtype=np.intp))


def _zone(
    solid: NamedSolid, frame: Frame, low_mm: float, high_mm: float, within: Window | None, reach_mm: float
) -> _Zone:
    """What of a half lies in a zone; kept with the solid, for its zone is read again whenever the other half changes."""
    kept: dict[Any, _Zone] = solid.__dict__.setdefault("zones", {})
    key = (frame, low_mm, high_mm, within, reach_mm)
    if key not in kept:
        kept[key] = _Zone(facets_between(solid, frame, low_mm, high_mm, window=within, reach_mm=reach_mm), within)
    return kept[key]


def _samples(facets: Facets) -> _Samples:
    """Points of facets with the normals and faces of these; a corner that several faces share stands for each."""
    apart = APART_MM
    small = in_small(facets, apart)
    while len(small) * 3 > 6 * MOST_POINTS and apart < 16:
        apart *= 2
        small = in_small(facets, apart)
    points = small.corners.reshape(-1, 3)
    normals, face = np.repeat(small.normals, 3, axis=0), np.repeat(small.face, 3)
    # every corner of a flat face; of a round one, where gaps change smoothly, one in each cell
    level = facets.normals[np.searchsorted(facets.face, facets.face)]
    flat_faces = np.bincount(facets.face, np.linalg.norm(facets.normals - level, axis=1)) < 1e-6
    cell = np.where(flat_faces[face][:, None], np.round(points * 1e6), np.floor(points / ROUND_APART_MM))
    first = first_of_each(np.column_stack([cell, face]))
    return points[first], normals[first], face[first]


def _from(
    mine: _Samples, its: Facets, whole: Callable[[], Facets], reach: float, within: Window | None, from_outer: bool
) -> _Places:
    """The gaps at points of one half to the other: to what of ``its`` lies in reach, and whether they lie inside the ``whole``."""
    points, normals, face = mine
    # what looks up or down has no gap in the joint's plane
    keep = np.linalg.norm(normals[:, :2], axis=1) >= IN_PLANE
    if within is not None:
        middle, half = np.array(within[0]), np.array(within[1])
        keep &= (np.abs(points[:, :2] - middle) <= half).all(axis=1)
    points, normals, face = points[keep], normals[keep], face[keep]
    found = nearest(points, normals, its, reach)
    # what lies nearer behind an opposing face than before one may lie inside the other half, and what sees one only aslant
    straight = np.einsum("ij,ij->i", found.free_foot - points, normals) > 0.9 * found.free_mm
    asked = np.flatnonzero((found.deep_mm > 1e-6) & (found.deep_mm < np.where(straight, found.free_mm, np.inf)))
    inside = np.zeros(len(points), dtype=bool)
    if len(asked):
        inside[asked] = lies_within(points[asked], its if within is None else whole())
    out_the_short_way(points, np.flatnonzero(inside), found, its)
    ok = inside | np.isfinite(found.free_mm)
    k = np.flatnonzero(ok)
    deep = inside[k]
    distance = np.where(deep, found.deep_mm[k], found.free_mm[k])
    feet = np.where(deep[:, None], found.deep_foot[k], found.free_foot[k])
    at = np.where(deep, found.deep_at[k], found.free_at[k])
    # from this half to the other: along the way where it has a length, else against the other's face
    way = np.where(
        (distance > TOUCH_MM)[:, None], (feet - points[k]) / np.maximum(distance, 1e-12)[:, None], -its.normals[at]
    )
    way[deep & (distance > TOUCH_MM)] *= -1
    if from_outer:
        way = -way
    gap = np.where(deep, -distance, distance)
    share = np.linalg.norm(way[:, :2], axis=1)
    acts = share >= IN_PLANE
    k, gap, way, feet, at, share = k[acts], gap[acts], way[acts], feet[acts], at[acts], share[acts]
    p, f, g = points[k], face[k], its.face[at]
    outer, inner, outer_face, inner_face = (p, feet, f, g) if from_outer else (feet, p, g, f)
    return _Places(
        gap, gap / share, way[:, :2] / share[:, None], outer, inner, outer_face, inner_face,
        np.full(len(k), from_outer), straight_on(p, normals[k], feet, its.normals[at], FACES), straight_on(p, normals[k], feet, its.normals[at], LEVEL),
    )  # fmt: skip


def _widest(places: _Places, outer: Facets, inner: Facets) -> int:
    """The widest place that is not hidden behind something of its own half."""
    order = np.argsort(-places.gap)
    for k in order[:200]:
        mine = outer if places.from_outer[k] else inner
        start, end = (places.outer[k], places.inner[k]) if places.from_outer[k] else (places.inner[k], places.outer[k])
        if not crosses(start, end, mine):
            return int(k)
    return int(order[0])


def _exact(
    places: _Places, k: int, outer: NamedSolid, inner: NamedSolid, frame: Frame
) -> tuple[float, tuple[Vec3, Vec3]]:
    """A place's gap and its two points, brought from the triangles onto the faces themselves."""
    here, there = places.outer[k], places.inner[k]
    ends = [np.array(frame.to_world(*(float(c) for c in p))) for p in (here, there)]
    faces = [outer.faces[places.outer_face[k]], inner.faces[places.inner_face[k]]]
    start = 0 if places.from_outer[k] else 1
    # a point of one half, and from there the nearest on the other
    first = onto(faces[start], ends[start], ends[start])
    second = onto(faces[1 - start], first, ends[1 - start])
    gap = float(np.linalg.norm(second - first))
    pair = (first, second) if start == 0 else (second, first)
    a, b = ((float(p[0]), float(p[1]), float(p[2])) for p in pair)
    return (-gap if places.gap[k] < 0 else gap), (a, b)


def _ways(places: _Places) -> tuple[tuple[float, float, float], ...]:
    """The least gap in each direction in which the halves face each other."""
    angle = np.arctan2(places.way[:, 1], places.way[:, 0])
    bins = np.round(angle / (2 * math.pi) * WAYS).astype(int) % WAYS
    out = []
    for b in np.unique(bins):
        k = np.flatnonzero(bins == b)
        k = k[places.flat[k].argmin()]
        out.append((float(places.flat[k]), float(places.way[k, 0]), float(places.way[k, 1])))
    return tuple(out)


def _tilt(places: _Places, middle_mm: float) -> float:
    """How far the inner half can rock to one side, half of what it can from one to the other (rad; 0 where it is held tight).

    A small turn φ about a line in the plane moves a place at the height z by z·φ besides the shift t: way·(t + z·φ) ≤ gap at all
    places; the largest φ in each of some directions by linear programming, the least lasting pair of t and φ chosen freely.
    """
    from scipy.optimize import linprog

    height = places.inner[:, 2] - middle_mm
    bands = np.clip(((height - height.min()) / max(float(np.ptp(height)), 1e-9) * HEIGHTS).astype(int), 0, HEIGHTS - 1)
    angle = np.arctan2(places.way[:, 1], places.way[:, 0])
    key = bands * 36 + np.round(angle / (2 * math.pi) * 36).astype(int) % 36
    order = np.lexsort((places.flat, key))
    first = order[np.r_[True, key[order][1:] != key[order][:-1]]]
    gap, way, z = places.flat[first], places.way[first], height[first]
    rows = np.column_stack([way, way * z[:, None]])
    bounds = [(-10, 10), (-10, 10), (-MOST_TILT_RAD, MOST_TILT_RAD), (-MOST_TILT_RAD, MOST_TILT_RAD)]
    most = 0.0
    for turn in (0.0, 0.25, 0.5, 0.75):
        d = np.array([math.cos(turn * math.pi), math.sin(turn * math.pi)])
        ends = []
        for sign in (1.0, -1.0):
            solved = linprog(np.r_[0, 0, -sign * d], A_ub=rows, b_ub=gap, bounds=bounds, method="highs")
            if not solved.success:
                return 0.0
            ends.append(-solved.fun)
        most = max(most, (ends[0] + ends[1]) / 2)
    return most
