"""Where pegs find room: places on flat faces that keep clear of their outlines, far from one another."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from .. import solid as kernel
from ..solid import Frame
from .loops import from_loop

__all__ = ["extent_on", "far_apart", "grid_on", "rooms_at"]

Array = NDArray[np.float64]
_GRID = 48


def grid_on(solid: kernel.NamedSolid, faces: Sequence[int], frame: Frame) -> tuple[Array, Array]:
    """A grid of places (n, 2) within flat faces, in a frame's plane, and how far each lies from their outlines, mm."""
    spots = []
    for loops in _regions(solid, faces, frame):
        low, high = loops[0].min(axis=0), loops[0].max(axis=0)
        step = float((high - low).max()) / _GRID
        u, v = (np.arange(a + step / 2, b, step) for a, b in zip(low, high, strict=True))
        spots.append(np.array(np.meshgrid(u, v)).reshape(2, -1).T)
    if not spots:
        return np.zeros((0, 2)), np.zeros(0)
    grid = np.concatenate(spots)
    rooms = rooms_at(solid, faces, frame, grid)
    return grid[rooms >= 0], rooms[rooms >= 0]


def rooms_at(solid: kernel.NamedSolid, faces: Sequence[int], frame: Frame, spots: Array) -> Array:
    """How far places lie from the outlines of flat faces, mm; -1 for those outside of them."""
    out = np.full(len(spots), -1.0)
    for loops in _regions(solid, faces, frame):
        within = np.zeros(len(spots), dtype=bool)
        away = np.full(len(spots), np.inf)
        for loop in loops:
            within ^= _inside(spots, loop)
            away = np.minimum(away, from_loop(spots, loop))
        out[within] = np.maximum(out[within], away[within])
    return out


def extent_on(
    solid: kernel.NamedSolid, faces: Sequence[int], frame: Frame
) -> tuple[tuple[float, float], tuple[float, float]]:
    """From where to where flat faces reach along a frame's ``x`` and ``y``, mm."""
    rings = np.concatenate([loops[0] for loops in _regions(solid, faces, frame)])
    (left, low), (right, high) = rings.min(axis=0).tolist(), rings.max(axis=0).tolist()
    return (left, right), (low, high)


def far_apart(
    spots: Array, rooms: Array, clear_mm: float, count: int, takes: Callable[[tuple[float, float]], bool]
) -> list[tuple[float, float]]:
    """So many places with this much room round them (fewer where there are no more), far from one another, of those that ``takes`` says yes to."""
    wide, room = spots[rooms >= clear_mm], rooms[rooms >= clear_mm]
    found: list[tuple[float, float]] = []
    if not len(wide):
        return found
    off = np.linalg.norm(wide - wide.mean(axis=0), axis=1) if count > 1 else room
    free = np.ones(len(wide), dtype=bool)
    while len(found) < count and free.any():
        k = int(np.where(free, off, -1.0).argmax())
        free[k] = False
        place = (float(wide[k, 0]), float(wide[k, 1]))
        if not takes(place):
            continue
        found.append(place)
        away = np.linalg.norm(wide - wide[k], axis=1)
        off = away if len(found) == 1 else np.minimum(off, away)
        free &= off >= 2 * clear_mm
    return found


def _regions(solid: kernel.NamedSolid, faces: Sequence[int], frame: Frame) -> list[list[Array]]:
    """The outlines of flat faces in a frame's plane: for each region its loops, the outer one first."""
    out = []
    for index in faces:
        own, regions = kernel.region_of_face(solid, index)
        for region in regions:
            out.append([np.array([frame.to_local(own.to_world(*p))[:2] for p in loop]) for loop in region.loops])
    return out


def _inside(points: Array, loop: Array) -> NDArray[np.bool_]:
    """Which points lie within a closed loop: crossings of a ray to the right, counted."""
    a, b = loop, np.roll(loop, -1, axis=0)
    straddles = (a[None, :, 1] > points[:, None, 1]) != (b[None, :, 1] > points[:, None, 1])
    with np.errstate(divide="ignore", invalid="ignore"):
        at = a[:, 0] + (points[:, None, 1] - a[:, 1]) * (b[:, 0] - a[:, 0]) / (b[:, 1] - a[:, 1])
    return np.asarray((straddles & (points[:, None, 0] < at)).sum(axis=1) % 2 == 1)
