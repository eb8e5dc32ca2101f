"""The gap as a map: both halves' faces where they meet, in small triangles, with the signed gap at each corner."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .facets import Facets, facets_between, first_and_back, in_small, nearest, out_the_short_way
from .facets import within as lies_within
from .frame import Frame
from .named import NamedSolid

__all__ = ["CHORD_MM", "HalfMap", "gap_map"]

Array = NDArray[np.float64]
#: triangles of a map are no larger than this, mm, as far as so many go
_APART_MM, _MOST = 1.0, 7_000
#: a point faces the other half where the way to it runs within 37° of its own normal
FACING = 0.8
#: triangles of round faces lie this near to them, mm: as exact a map is there; corners lie on the faces themselves
CHORD_MM = 0.01
#: what looks more up or down than this has no gap in the joint's plane
_IN_PLANE = 0.2


@dataclass(frozen=True, eq=False)
class HalfMap:
    """One half: corners of triangles (n, 3, 3) in the model's coordinates, and the gap at each (n, 3), mm; negative where the halves overlap."""

    corners: Array
    gaps: Array


def gap_map(
    outer: NamedSolid, inner: NamedSolid, frame: Frame, low_mm: float, high_mm: float, reach_mm: float,
    within: tuple[tuple[float, float], tuple[float, float]] | None = None,
) -> tuple[HalfMap, HalfMap]:  # fmt: skip
    """Both halves' faces between two heights over a frame, as far as the other half is within reach. By triangles: exact to their chords.

    Parameters
    ----------
    within : middle and half sizes (x, y of the frame) outside of which nothing counts.
    """
    facets = [facets_between(s, frame, low_mm, high_mm, CHORD_MM) for s in (outer, inner)]
    return _half(facets[0], facets[1], frame, reach_mm, within), _half(facets[1], facets[0], frame, reach_mm, within)


def _half(
    mine: Facets, its: Facets, frame: Frame, reach: float, within: tuple[tuple[float, float], tuple[float, float]] | None
) -> HalfMap:  # fmt: skip
    nothing = HalfMap(np.zeros((0, 3, 3)), np.zeros((0, 3)))
    if not len(mine) or not len(its):
        return nothing
    keep = np.linalg.norm(mine.normals[:, :2], axis=1) >= _IN_PLANE
    if within is not None:
        middle, half = np.array(within[0]), np.array(within[1])
        keep &= (np.abs(mine.corners[:, :, :2] - middle) <= half + 1e-6).all(axis=(1, 2))
    if not keep.any():
        return nothing
    small = in_small(mine.chosen(keep), _APART_MM, _MOST)
    points, normals = small.corners.reshape(-1, 3), np.repeat(small.normals, 3, axis=0)
    # a corner that several triangles of one face share is looked at once
    key = np.column_stack([np.round(points * 1e5), np.round(normals * 50)])
    first, back = first_and_back(key)
    gaps = _gaps(points[first], normals[first], its, reach)[back].reshape(-1, 3)
    seen = np.isfinite(gaps).all(axis=1)
    axes = np.array([frame.x, frame.y, frame.z])
    return HalfMap(small.corners[seen] @ axes + np.array(frame.origin), gaps[seen])


def _gaps(points: Array, normals: Array, its: Facets, reach: float) -> Array:
    """The signed distance of each point to the other half; NaN where it is out of reach."""
    # what is nearer than a part of the reach is found among far fewer triangles
    gaps = _gaps_within(points, normals, its, reach / 8)
    rest = np.flatnonzero(np.isnan(gaps))
    gaps[rest] = _gaps_within(points[rest], normals[rest], its, reach)
    return gaps


def _gaps_within(points: Array, normals: Array, its: Facets, reach: float) -> Array:
    found = nearest(points, normals, its, reach)
    asked = np.flatnonzero((found.deep_mm > 1e-6) & (found.deep_mm < found.free_mm))
    inside = np.zeros(len(points), dtype=bool)
    inside[asked] = lies_within(points[asked], its)
    out_the_short_way(points, np.flatnonzero(inside), found, its)
    gaps = np.where(inside, -found.deep_mm, found.free_mm)
    # what sees the other half only aslant, as in a corner, does not face it
    way = np.where(inside[:, None], points - found.deep_foot, found.free_foot - points)
    ahead = np.einsum("ij,ij->i", way, normals) >= FACING * np.abs(gaps) - 1e-9
    return np.where(np.isfinite(gaps) & ahead, gaps, np.nan)
