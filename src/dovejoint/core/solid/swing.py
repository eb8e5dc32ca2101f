"""How far one part can be turned about an axis until it meets another."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .frame import Frame, Vec3
from .mesh import Mesh

__all__ = ["Swing", "swing_of"]

Array = NDArray[np.float64]
#: places on triangles and their sides are no farther apart than this, mm, as far as MOST_PLACES go on each part
APART_MM, MOST_PLACES = 1.0, 6_000
#: what is nearer than this counts as touching from the start, mm
TOUCH_MM = 0.01
#: a place goes into a face when its way runs against it by more than this cosine; along it, it slides
AGAINST = 0.03
#: numbers of places and triangles that are looked at together, at most
_PAIRS = 2_000_000


@dataclass(frozen=True)
class Swing:
    """Angles, rad, by which the moving part turns about ``z`` by the right hand, and the other way, until it touches; ``None`` where it goes
    all round. With each the place where it touches, on what does not move."""

    ahead_rad: float | None
    back_rad: float | None
    ahead_at: Vec3 | None = None
    back_at: Vec3 | None = None


def swing_of(moving: Mesh, other: Mesh, frame: Frame) -> Swing:
    """How far a part turns about a frame's ``z`` until it touches another one.

    Each place on one part goes round on its circle until that meets a triangle of the other which looks against it; from both
    parts, so that corners are met by faces and faces by corners, and edges by places along them. What is thinner than
    APART_MM may be overlooked; angles are as true as the meshes (0.03 mm on round faces).
    """
    mine, its = _local(moving, frame), _local(other, frame)
    found: list[tuple[float, Vec3] | None] = []
    for sense in (1.0, -1.0):
        ways = [
            _first(_places(mine), its, sense, True),
            # seen from the part that moves, the other one comes round the other way
            _first(_places(its), mine, -sense, False),
        ]
        met = [w for w in ways if w is not None]
        if not met:
            found.append(None)
            continue
        angle, place = min(met, key=lambda w: w[0])
        found.append((angle, frame.to_world(*(float(c) for c in place))))
    ahead, back = found
    return Swing(
        None if ahead is None else ahead[0], None if back is None else back[0],
        None if ahead is None else ahead[1], None if back is None else back[1],
    )  # fmt: skip


def _local(mesh: Mesh, frame: Frame) -> Array:
    """A mesh's triangles in a frame, (t, 3, 3)."""
    axes = np.array([frame.x, frame.y, frame.z])
    local = (mesh.positions - np.array(frame.origin)) @ axes.T
    return np.asarray(local[mesh.triangles])


def _places(triangles: Array) -> Array:
    """Corners, and places along all sides and over all triangles, (n, 3); the farther apart the more there are."""
    apart = APART_MM
    while True:
        out = [triangles.reshape(-1, 3)]
        sides = np.linalg.norm(triangles - np.roll(triangles, -1, axis=1), axis=2)
        count = np.ceil(sides.max(axis=1) / apart).astype(int)
        for n in np.unique(count[count > 1]):
            some = triangles[count == n]
            steps = np.arange(n + 1) / n
            grid = np.array([(u, v) for u in steps for v in steps if u + v <= 1.0 + 1e-9])
            out.append((some[:, None, 0] + np.einsum("gk,tkc->tgc", grid, some[:, 1:] - some[:, :1])).reshape(-1, 3))
        places = np.concatenate(out)
        places = places[np.unique(np.round(places * 1e4).astype(np.int64), axis=0, return_index=True)[1]]
        if len(places) <= MOST_PLACES or apart > 16.0:
            return places
        apart *= 1.5


def _first(places: Array, triangles: Array, sense: float, fixed: bool) -> tuple[float, Array] | None:
    """The least angle by which one of the places, turned in this sense, goes into one of the triangles; and where it is met (on the triangle
    where that does not move, else at the place)."""
    normals = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    size = np.linalg.norm(normals, axis=1)
    good = size > 1e-12
    triangles, normals = triangles[good], normals[good] / size[good, None]
    low, high = triangles[:, :, 2].min(axis=1), triangles[:, :, 2].max(axis=1)
    near, far = _radii(triangles)
    radius = np.hypot(places[:, 0], places[:, 1])
    # with its radius nearly nothing a place stays where it is
    turning = radius > TOUCH_MM
    places, radius = places[turning], radius[turning]
    best: tuple[float, Array] | None = None
    lot = max(1, _PAIRS // max(1, len(triangles)))
    for start in range(0, len(places), lot):
        p, r = places[start : start + lot], radius[start : start + lot]
        i, j = np.nonzero(
            (low <= p[:, 2:3]) & (high >= p[:, 2:3]) & (near <= r[:, None] + 1e-9) & (far >= r[:, None] - 1e-9)
        )
        if not len(i):
            continue
        at, which = _crossings(p[i, 2], r[i], triangles[j])
        if not len(at):
            continue
        i, j = i[which], j[which]
        tangent = sense * np.column_stack([-at[:, 1], at[:, 0]]) / r[i, None]
        against = np.einsum("ij,ij->i", tangent, normals[j, :2]) < -AGAINST
        turn = sense * (np.arctan2(at[:, 1], at[:, 0]) - np.arctan2(p[i, 1], p[i, 0])) % (2 * math.pi)
        # what touches from the start is met at once, not after a whole turn
        turn = np.where(turn * r[i] > 2 * math.pi * r[i] - TOUCH_MM, 0.0, turn)
        turn = np.where(against, turn, np.inf)
        k = int(turn.argmin())
        if np.isfinite(turn[k]) and (best is None or turn[k] < best[0]):
            best = float(turn[k]), np.append(at[k], p[i[k], 2]) if fixed else p[i[k]]
    return best


def _radii(triangles: Array) -> tuple[Array, Array]:
    """The least and the greatest distance of each triangle from the axis, seen along it."""
    flat = triangles[:, :, :2]
    far = np.linalg.norm(flat, axis=2).max(axis=1)
    near = np.full(len(flat), np.inf)
    turns = []
    for k in range(3):
        a, b = flat[:, k], flat[:, (k + 1) % 3]
        along = b - a
        length = np.maximum(np.einsum("ij,ij->i", along, along), 1e-300)
        share = np.clip(-np.einsum("ij,ij->i", a, along) / length, 0.0, 1.0)
        near = np.minimum(near, np.linalg.norm(a + share[:, None] * along, axis=1))
        turns.append(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])
    # the axis goes through those round which it lies on one side of all three
    around = (np.array(turns) > 0).all(axis=0) | (np.array(turns) < 0).all(axis=0)
    return np.where(around, 0.0, near), far


def _crossings(height: Array, radius: Array, triangles: Array) -> tuple[Array, NDArray[np.intp]]:
    """Where circles about the axis (height and radius of each) go through triangles, one of each: places (n, 2), and of which pair."""
    ends, which = [], np.arange(len(height))
    # a level plane cuts a triangle along the line between two of its sides
    over = triangles[:, :, 2] - height[:, None]
    found = np.full((len(height), 2, 2), np.nan)
    filled = np.zeros(len(height), dtype=int)
    for k in range(3):
        a, b = over[:, k], over[:, (k + 1) % 3]
        cuts = (a >= 0) != (b >= 0)
        with np.errstate(divide="ignore", invalid="ignore"):
            share = a / (a - b)
            place = triangles[:, k, :2] + share[:, None] * (triangles[:, (k + 1) % 3, :2] - triangles[:, k, :2])
        rows = np.flatnonzero(cuts & (filled < 2))
        found[rows, filled[rows]] = place[rows]
        filled[rows] += 1
    whole = filled == 2
    start, way = found[whole, 0], found[whole, 1] - found[whole, 0]
    which, radius = which[whole], radius[whole]
    a = np.einsum("ij,ij->i", way, way)
    b = np.einsum("ij,ij->i", start, way)
    c = np.einsum("ij,ij->i", start, start) - radius**2
    with np.errstate(divide="ignore", invalid="ignore"):
        root = np.sqrt(b * b - a * c)
        for sign in (1.0, -1.0):
            share = (-b + sign * root) / a
            on = (share >= -1e-9) & (share <= 1 + 1e-9)
            ends.append((start[on] + share[on, None] * way[on], which[on]))
    return np.concatenate([e[0] for e in ends]), np.concatenate([e[1] for e in ends])
