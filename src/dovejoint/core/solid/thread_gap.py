"""The gap between two threads as it is in their solids: across the axis, at many heights and in all directions.

At each height the halves are cut across, and in each direction the outermost reach of the inner half and the innermost reach of the outer half are compared:
their difference is the gap across, which flanks, crests and roots share when the profile was set in evenly. Triangles lie within a chord of the true faces, so that the
figures do too.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from .facets import Facets, facets_between
from .frame import Frame
from .info import GapReadings
from .named import NamedSolid

__all__ = ["thread_readings"]

Array = NDArray[np.float64]
WAYS = 72
#: heights at which the halves are cut, for each pitch, and at most
PER_PITCH, MOST_HEIGHTS = 9, 160
CHORD_MM = 0.005
#: how exactly gaps are read: on flanks a chord makes up to three times as much across
WITHIN_MM = 0.015


def thread_readings(
    outer: NamedSolid, inner: NamedSolid, frame: Frame, low_mm: float, high_mm: float, pitch_mm: float, reach_mm: float
) -> GapReadings | None:
    """Measure two halves whose common axis is a frame's ``z``; ``None`` where they do not face each other between those heights.

    Only what lies within ``reach_mm`` of each other across counts. Least and most are within WITHIN_MM of the true ones.
    """
    count = int(min(MOST_HEIGHTS, max(12, PER_PITCH * (high_mm - low_mm) / pitch_mm)))
    heights = low_mm + (high_mm - low_mm) * (np.arange(count) + 0.5) / count
    one, other = (facets_between(s, frame, low_mm, high_mm, CHORD_MM) for s in (outer, inner))
    if not len(one) or not len(other):
        return None
    hole, hole_at = _reaches(one, heights, inward=True)
    screw, screw_at = _reaches(other, heights, inward=False)
    gap = hole - screw
    gap[~(np.abs(gap) <= reach_mm)] = np.nan
    if not np.isfinite(gap).any():
        return None
    angles = 2 * np.pi * np.arange(WAYS) / WAYS
    least, most = (np.unravel_index(f(gap), gap.shape) for f in (np.nanargmin, np.nanargmax))

    def spots(at: tuple[np.intp, ...]) -> tuple[tuple[float, float, float], tuple[float, float, float]]:
        k, w = int(at[0]), int(at[1])
        places = [
            frame.to_world(
                float(r[k, w]) * math.cos(angles[w]), float(r[k, w]) * math.sin(angles[w]), float(heights[k])
            )
            for r in (hole, screw)
        ]
        return places[0], places[1]

    def faces(at: tuple[np.intp, ...]) -> tuple[str, str]:
        k, w = int(at[0]), int(at[1])
        return outer.names[int(hole_at[k, w])][0], inner.names[int(screw_at[k, w])][0]

    open_ways = np.isfinite(gap).any(axis=0)
    ways = tuple(
        (float(np.nanmin(gap[:, w])), math.cos(angles[w]), math.sin(angles[w])) for w in np.flatnonzero(open_ways)
    )
    size = 2 * float(np.nanmax(screw))
    return GapReadings(
        float(np.nanmin(gap)), float(np.nanmax(gap)), spots(least), spots(most), faces(least), faces(most), ways, (size, size), 0.0,
        int(np.isfinite(gap).sum()), WITHIN_MM,
    )  # fmt: skip


def _reaches(facets: Facets, heights: Array, inward: bool) -> tuple[Array, NDArray[np.intp]]:
    """The radius (heights, ways) at which a half is met first from the axis out (``inward``) or last, and the face there; not a number where it is not met."""
    out = np.full((len(heights), WAYS), np.nan)
    at = np.zeros((len(heights), WAYS), dtype=np.intp)
    v = facets.corners
    low, high = v[:, :, 2].min(axis=1), v[:, :, 2].max(axis=1)
    angles = 2 * np.pi * np.arange(WAYS) / WAYS
    way = np.stack([np.cos(angles), np.sin(angles)], axis=1)
    for k, z in enumerate(heights):
        cut = np.flatnonzero((low < z) & (high > z))
        if not len(cut):
            continue
        t = v[cut]
        over = t[:, :, 2] - z
        ends = []
        for i, j in ((0, 1), (1, 2), (2, 0)):
            with np.errstate(divide="ignore", invalid="ignore"):
                share = over[:, i] / (over[:, i] - over[:, j])
                share = np.where(np.isfinite(share), share, 0.0)
            there = (over[:, i] >= 0) != (over[:, j] >= 0)
            p = t[:, i, :2] + share[:, None] * (t[:, j, :2] - t[:, i, :2])
            ends.append(np.where(there[:, None], p, np.nan))
        both = np.stack(ends, axis=1)
        # two of three sides are crossed: those that are come first
        order = np.argsort(np.isnan(both[:, :, 0]), axis=1, kind="stable")[:, :2]
        a, b = (np.take_along_axis(both, order[:, m, None, None], axis=1)[:, 0] for m in (0, 1))
        # where each piece meets each half-line from the axis
        ca = a[:, 0, None] * way[None, :, 1] - a[:, 1, None] * way[None, :, 0]
        cb = b[:, 0, None] * way[None, :, 1] - b[:, 1, None] * way[None, :, 0]
        with np.errstate(divide="ignore", invalid="ignore"):
            share = ca / (ca - cb)
            r = (a @ way.T) + share * ((b - a) @ way.T)
        met = (ca * cb <= 0) & (r > 0) & np.isfinite(r)
        r = np.where(met, r, np.inf if inward else -np.inf)
        which = r.argmin(axis=0) if inward else r.argmax(axis=0)
        found = r[which, np.arange(WAYS)]
        good = np.isfinite(found)
        out[k, good] = found[good]
        at[k] = facets.face[cut[which]]
    return out, at
