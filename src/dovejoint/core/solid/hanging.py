"""What of a part hangs over as it is printed: undersides that nothing stands under, and how far their beads go over air."""

from __future__ import annotations

import math
from collections.abc import Collection
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from .frame import Frame, Vec3

if TYPE_CHECKING:
    # its module loads the kernel, and here only what it holds is read
    from .mesh import Mesh

__all__ = ["BRIDGE_MM", "LEANS_DEG", "REACH_MM", "Hanging", "hanging"]

Array = NDArray[np.float64]
#: undersides that lean by less from the upright build themselves up, degrees (PRACTICE: 45 to 60; a bead then still lies on a third of the one below it)
LEANS_DEG = 61.0
#: PRACTICE: beads go so far over air between two walls without sagging into what lies under them, and so far out from one, mm
BRIDGE_MM, REACH_MM = 10.0, 1.0
#: heights within this are one layer, mm
LEVEL_MM = 0.05
#: an underside smaller than this is none, mm²
LEAST_MM2 = 0.5
#: so near to what holds them beads are held, whichever way they go, mm
LEAST_OVER_MM = 0.3
#: places that are looked at, and what holds an underside, every so far, mm; and so many at most
STEP_MM, MOST = 0.8, 600
#: ways that beads may go, the second half of them against the first
_TURNS = np.arange(24) * math.pi / 12
_WAYS = np.column_stack([np.cos(_TURNS), np.sin(_TURNS)])


@dataclass(frozen=True)
class Hanging:
    """An underside: how large it is, mm²; whether it is held on two sides; over how much air its beads go, mm (between what holds it; or from that out to its end, infinite
    where nothing holds it); and where that is most."""

    area_mm2: float
    bridged: bool
    over_mm: float
    place: Vec3


def hanging(mesh: Mesh, lie: Frame, faces: Collection[int]) -> list[Hanging]:
    """Undersides among these faces of a part that lies with a frame's ``z`` upwards, the widest first; each with the whole underside that it belongs to.

    Method: facets that lean more than :data:`LEANS_DEG` and are not on the bed, joined where they share an edge. At its edge an underside is held where the next facet goes on
    downwards, or the bed is. From places all over it the nearest such edge is looked for, level, and one beyond in the same line: between the two its beads are bridges.
    """
    local = (mesh.positions - np.array(lie.origin)) @ np.array([lie.x, lie.y, lie.z]).T
    corners = local[mesh.triangles.astype(np.int64)]
    across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    double = np.linalg.norm(across, axis=1)
    sound = double > 1e-9
    down = np.zeros(len(corners))
    down[sound] = -across[sound, 2] / double[sound]
    bed = float(local[:, 2].min())
    steep = sound & (down > math.sin(math.radians(LEANS_DEG))) & (corners[:, :, 2].max(axis=1) > bed + LEVEL_MM)
    asked = np.zeros(len(corners), dtype=bool)
    for face in faces:
        first, count = mesh.faces[face]
        asked[first : first + count] = True
    if not (steep & asked).any():
        return []
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    edges, beside = _edges(corners)
    both = steep[beside].all(axis=1)
    number = len(corners)
    links = coo_matrix((np.ones(int(both.sum())), beside[both].T), shape=(number, number))
    _, lump = connected_components(links, directed=False)
    out = []
    for group in np.unique(lump[steep & asked]):
        within = steep & (lump == group)
        mine = within & asked
        area = float(double[mine].sum()) / 2
        if area < LEAST_MM2:
            continue
        over, bridged, place = _widest(corners[mine], corners[within], _held(within, corners, edges, beside))
        out.append(Hanging(area, bridged, over, lie.to_world(*place)))
    return sorted(out, key=lambda h: -h.over_mm)


def _edges(corners: Array) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """All edges where two triangles meet: for each the corner of either that lies across it, and both triangles, (k, 2) each. Corners are told by their places, for each face
    has its own."""
    _, ids = np.unique(np.round(corners.reshape(-1, 3), 5), axis=0, return_inverse=True)
    ids = ids.reshape(-1, 3)
    ends = np.sort(np.concatenate([ids[:, [1, 2]], ids[:, [2, 0]], ids[:, [0, 1]]]), axis=1)
    order = np.lexsort((ends[:, 1], ends[:, 0]))
    same = (ends[order][1:] == ends[order][:-1]).all(axis=1)
    first, second = order[:-1][same], order[1:][same]
    count = len(corners)
    return np.column_stack([first // count, second // count]), np.column_stack([first % count, second % count])


def _held(within: NDArray[np.bool_], corners: Array, across: NDArray[np.int64], beside: NDArray[np.int64]) -> Array:
    """Places on the edges where an underside is held, seen from above, (n, 2): where the triangle beyond goes on downwards, or the bed is."""
    inside = within[beside]
    rim = inside[:, 0] != inside[:, 1]
    own = np.where(inside[rim, 0], 0, 1)
    rows = np.arange(int(rim.sum()))
    mine, its = beside[rim][rows, own], beside[rim][rows, 1 - own]
    opposite = across[rim]
    ends = corners[mine][rows[:, None], np.array([[1, 2], [2, 0], [0, 1]])[opposite[rows, own]]]
    beyond = corners[its][rows, opposite[rows, 1 - own]]
    level = ends[:, :, 2].mean(axis=1)
    down = (beyond[:, 2] < level - 1e-6) | (level < corners[:, :, 2].min() + LEVEL_MM)
    places = [np.zeros((0, 2))]
    for a, b in ends[down][:, :, :2]:
        shares = np.linspace(0.0, 1.0, 2 + int(math.dist(a, b) / STEP_MM))[:, None]
        places.append(a + shares * (b - a))
    return np.concatenate(places)


def _widest(corners: Array, whole: Array, held: Array) -> tuple[float, bool, tuple[float, float, float]]:
    """Over how much air the part that is asked about of a whole underside goes at its worst, whether it is held on both sides there, and where (in the frame it lies in)."""
    spots, _ = _spots(corners)
    all_over, step = _spots(whole)
    if not len(held):
        x, y, z = spots.mean(axis=0).tolist()
        return math.inf, False, (x, y, z)
    best: tuple[float, float, bool, int] = (0.0, 0.0, True, 0)
    for k, spot in enumerate(spots):
        off = held - spot[:2]
        reach = float(np.linalg.norm(off, axis=1).min())
        if reach < LEAST_OVER_MM:
            continue
        span = _span(all_over[:, :2], spot[:2], off, 1.5 * step)
        # each way has its own measure, and beads are laid the better way
        ways = [(reach / REACH_MM, reach, False)] + ([] if span is None else [(span / BRIDGE_MM, span, True)])
        weight, over, bridged = min(ways)
        if weight > best[0]:
            best = weight, over, bridged, k
    x, y, z = spots[best[3]].tolist()
    return best[1], best[2], (x, y, z)


def _span(spots: Array, spot: Array, off: Array, near_mm: float) -> float | None:
    """How far it is from what holds an underside on one side of a spot to what holds it on the other, the shortest way that it lies on; ``None`` where there is none."""
    along = _WAYS @ off.T
    aside = np.abs(np.column_stack([-_WAYS[:, 1], _WAYS[:, 0]]) @ off.T)
    ahead = np.where((along > 0) & (aside < np.maximum(0.75 * STEP_MM, 0.1 * along)), along, np.inf).min(axis=1)
    half = len(_WAYS) // 2
    spans = ahead[:half] + ahead[half:]
    for k in np.argsort(spans):
        if not math.isfinite(spans[k]):
            return None
        if _covered(spots, spot + ahead[k] * _WAYS[k], spot - ahead[k + half] * _WAYS[k], near_mm):
            return float(spans[k])
    return None


def _covered(spots: Array, start: Array, end: Array, near_mm: float) -> bool:
    """Whether places lie all along a way."""
    shares = np.linspace(0.0, 1.0, 9)[1:-1, None]
    way = start + shares * (end - start)
    return bool((np.linalg.norm(way[:, None] - spots[None], axis=2).min(axis=1) < near_mm).all())


def _spots(corners: Array) -> tuple[Array, float]:
    """Places all over some triangles, corners among them, (n, 3); and how near to each other they are, mm."""
    longest = np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2).max(axis=1)
    # as fine as so many places allow
    step = max(STEP_MM, math.sqrt(float((longest**2).sum()) / MOST))
    found = []
    for triangle, side in zip(corners, longest.tolist(), strict=True):
        n = 1 + int(side / step)
        i, j = (a.ravel() for a in np.meshgrid(np.arange(n + 1), np.arange(n + 1)))
        i, j = i[i + j <= n], j[i + j <= n]
        weights = np.column_stack([i, j, n - i - j]) / n
        found.append(weights @ triangle)
    return np.unique(np.round(np.concatenate(found), 4), axis=0), step
