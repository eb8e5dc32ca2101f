"""The gap between two threads as it is in their solids: across the axis, at many heights and in all directions.

At each height the halves are cut across, and in each direction the outermost reach of the inner half and the innermost reach of the outer half are compared:
their difference is the gap across, which flanks, crests and roots share when the profile was set in evenly. A half-plane from the axis cuts the side of a thread
in straight lines, which are worked out exactly, as far as the face still reaches there; of all other faces there are fine triangles.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.GeomAbs import GeomAbs_BSplineSurface
from OCP.gp import gp_Pnt2d
from OCP.IntTools import IntTools_FClass2d
from OCP.TopAbs import TopAbs_OUT
from OCP.TopoDS import TopoDS

from .facets import Facets, facets_between
from .frame import Frame
from .info import GapReadings
from .kernel import Shape, vec
from .named import NamedSolid

__all__ = ["thread_readings"]

Array = NDArray[np.float64]
WAYS = 72
#: heights at which the halves are cut, for each pitch, and at most
PER_PITCH, MOST_HEIGHTS = 9, 160
CHORD_MM = 0.002
#: a face is the side of a thread about an axis when it follows a helix within this, mm
HELIX_MM = 1e-4


def thread_readings(
    outer: NamedSolid, inner: NamedSolid, frame: Frame, low_mm: float, high_mm: float, pitch_mm: float, reach_mm: float
) -> GapReadings | None:
    """Measure two halves whose common axis is a frame's ``z``; ``None`` where they do not face each other between those heights.

    Only what lies within ``reach_mm`` of each other across counts. Heights and directions are sampled; at those the sides of threads are exact.
    """
    count = int(min(MOST_HEIGHTS, max(12, PER_PITCH * (high_mm - low_mm) / pitch_mm)))
    heights = low_mm + (high_mm - low_mm) * (np.arange(count) + 0.5) / count
    hole, hole_at = _reach(outer, frame, heights, inward=True)
    screw, screw_at = _reach(inner, frame, heights, inward=False)
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
        int(np.isfinite(gap).sum()),
    )  # fmt: skip


@dataclass(frozen=True, eq=False)
class _Helix:
    """The side of a thread: at ``u`` it runs straight from (radius, height) to (radius, height), each ``pair`` at v = 0 and 1, heights at u = 0; its angle is
    ``way``·u + ``off``, and it climbs ``climb_mm`` for each radian of u."""

    face: Shape
    index: int
    way: float
    off: float
    radius_mm: tuple[float, float]
    height_mm: tuple[float, float]
    climb_mm: float
    range_rad: tuple[float, float]


def _helix(face: Shape, index: int, frame: Frame) -> _Helix | None:
    """A face as the side of a thread about a frame's ``z``; ``None`` when it is something else."""
    surface = BRepAdaptor_Surface(face)
    if surface.GetType() != GeomAbs_BSplineSurface or surface.VDegree() != 1 or surface.NbVPoles() != 2:
        return None
    low, high = surface.FirstUParameter(), surface.LastUParameter()
    ends = surface.BSpline().Bounds()[2:]
    places = np.linspace(low, high, 7)
    points = np.array([[frame.to_local(vec(surface.Value(float(u), v))) for u in places] for v in ends])
    radius, height = np.hypot(points[:, :, 0], points[:, :, 1]), points[:, :, 2]
    step = (high - low) / 64
    a, b = (frame.to_local(vec(surface.Value(low + k * step, ends[0]))) for k in (0, 1))
    way = 1.0 if a[0] * b[1] - a[1] * b[0] > 0 else -1.0
    climb = (height[0, -1] - height[0, 0]) / (high - low)
    off = math.atan2(a[1], a[0]) - way * low
    angle = way * places + off
    straight = np.stack(
        [radius.mean(axis=1)[:, None] * np.cos(angle), radius.mean(axis=1)[:, None] * np.sin(angle)], axis=2
    )
    level = height - climb * places
    wrong = max(np.abs(straight - points[:, :, :2]).max(), np.abs(level - level.mean(axis=1)[:, None]).max())
    if wrong > HELIX_MM:
        return None
    (r0, r1), (z0, z1) = radius.mean(axis=1), level.mean(axis=1)
    return _Helix(face, index, way, off, (float(r0), float(r1)), (float(z0), float(z1)), float(climb), (low, high))


def _reach(solid: NamedSolid, frame: Frame, heights: Array, inward: bool) -> tuple[Array, NDArray[np.intp]]:
    """The radius (heights, ways) at which a half is met first from the axis out (``inward``) or last, and the face there; not a number where it is not met."""
    helices = [h for i, face in enumerate(solid.faces) if (h := _helix(face, i, frame)) is not None]
    rest = facets_between(
        solid, frame, float(heights[0]) - 1e-3, float(heights[-1]) + 1e-3, CHORD_MM, {h.index for h in helices}
    )
    out, at = _reaches(rest, heights, inward)
    for helix in helices:
        found = _across(helix, heights)
        better = np.isfinite(found) & ~((out < found) if inward else (out > found))
        out[better], at[better] = found[better], helix.index
    return out, at


def _across(helix: _Helix, heights: Array) -> Array:
    """The radius of a thread's side (heights, ways); not a number where the face does not reach."""
    out = np.full((len(heights), WAYS), np.nan)
    low, high = helix.range_rad
    angles = 2 * np.pi * np.arange(WAYS) / WAYS
    first = (angles - helix.off) * helix.way
    (r0, r1), (z0, z1) = helix.radius_mm, helix.height_mm
    turns = range(math.floor((low - first.max()) / (2 * np.pi)), math.ceil((high - first.min()) / (2 * np.pi)) + 1)
    inside = IntTools_FClass2d(TopoDS.Face(helix.face), 1e-6)
    for turn in turns:
        u = first + 2 * np.pi * turn
        share = (heights[:, None] - z0 - helix.climb_mm * u[None, :]) / (z1 - z0)
        there = (share >= 0) & (share <= 1) & (u >= low)[None, :] & (u <= high)[None, :]
        for k, w in zip(*np.nonzero(there), strict=True):
            if inside.Perform(gp_Pnt2d(float(u[w]), float(share[k, w])), False) != TopAbs_OUT:
                out[k, w] = r0 + share[k, w] * (r1 - r0)
    return out


def _reaches(facets: Facets, heights: Array, inward: bool) -> tuple[Array, NDArray[np.intp]]:
    """The same of triangles."""
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
