"""What a ring with pieces cut out of it gives, as a sheet of small plane cells (finite elements, plane stress) round a core that pushes wherever it touches and never pulls."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy import sparse
from scipy.sparse.linalg import spsolve

__all__ = ["by_cuts", "pressed_sheet"]

Array = NDArray[np.float64]
#: rings of cells, and cells for each place that was looked at
_RINGS, _EACH = 12, 2
#: how hard the core is beside the sheet
_HARD = 1e3


@lru_cache(maxsize=64)
def by_cuts(bore_mm: float, thick_mm: float, begins_mm: tuple[float, ...], walls_mm: tuple[float, ...], poisson: float) -> tuple[float, float]:  # fmt: skip
    """How firm a wall with its cuts is beside a whole one ``thick_mm`` thick, and how much more it is strained; for a bore of this radius."""
    count = len(walls_mm)
    whole = pressed_sheet(bore_mm, [0.0] * count, [thick_mm] * count, poisson)
    cut = pressed_sheet(bore_mm, begins_mm, walls_mm, poisson)
    return cut[0] / whole[0], cut[1] / whole[1]


def pressed_sheet(bore_mm: float, begins_mm: Sequence[float], walls_mm: Sequence[float], poisson: float) -> tuple[float, float]:  # fmt: skip
    """What presses in all (N for each mm of length) in a sheet of modulus 1 MPa whose core is larger by 1 mm a side, and the greatest pull round it (1/mm)."""
    begins, walls = (np.repeat(np.asarray(x, dtype=float), _EACH) for x in (begins_mm, walls_mm))
    around = len(walls)
    turn = 2 * math.pi / around
    deep, most = float(begins[begins > 0].mean()) if (begins > 0).any() else 0.0, float((begins + walls).max())
    # a cut ends between two rings of cells
    before = min(max(2, round(_RINGS * deep / most)), _RINGS - 3) if deep > 0 else 0
    radii = bore_mm + np.r_[np.linspace(0.0, deep, before, endpoint=False), np.linspace(deep, most, _RINGS + 1 - before)]  # fmt: skip
    middles = (radii[1:] + radii[:-1]) / 2 - bore_mm
    there = (middles[:, None] > begins) & (middles[:, None] < begins + walls)
    node = np.arange((_RINGS + 1) * around).reshape(_RINGS + 1, around)
    beside = np.roll(node, -1, axis=1)
    ring, place = np.nonzero(there)
    corners = np.stack([node[ring, place], node[ring + 1, place], beside[ring + 1, place], beside[ring, place]], 1)
    # each cell of a ring is the first one turned
    first = np.stack([_cell(radii[i], radii[i + 1], turn, poisson) for i in range(_RINGS)])
    c, s = np.cos(place * turn), np.sin(place * turn)
    turned = np.zeros((len(ring), 8, 8))
    for k in range(0, 8, 2):
        turned[:, k, k], turned[:, k, k + 1], turned[:, k + 1, k], turned[:, k + 1, k + 1] = c, -s, s, c
    cells = turned @ first[ring] @ turned.transpose(0, 2, 1)
    ways = (2 * corners[:, :, None] + np.arange(2)).reshape(len(ring), 8)
    size = 2 * node.size
    rows = sparse.coo_matrix((cells.ravel(), (np.repeat(ways, 8, axis=1).ravel(), np.tile(ways, (1, 8)).ravel())), (size, size)).tocsr()  # fmt: skip
    # what is in no cell stays where it is; the rest may turn about the core as it likes, and a hair holds it
    rows += sparse.diags(np.where(np.isin(np.arange(size), ways), 1e-9, 1.0))
    angles = np.arange(around) * turn
    out = np.stack([np.cos(angles), np.sin(angles)], 1)
    may = there[0] | np.roll(there[0], 1)
    meets = may.copy()
    moved = left = np.zeros(0)
    for _ in range(around):
        met = np.flatnonzero(meets)
        push = sparse.csr_matrix((out[met].ravel(), (np.repeat(np.arange(len(met)), 2), (2 * node[0, met][:, None] + np.arange(2)).ravel())), (len(met), size))  # fmt: skip
        moved = spsolve((rows + _HARD * push.T @ push).tocsc(), _HARD * push.T @ np.ones(len(met)))
        left = (moved[0::2][node[0]] * out[:, 0] + moved[1::2][node[0]] * out[:, 1]) - 1.0
        now = may & (left < 1e-12)
        if (now == meets).all():
            break
        meets = now
    at = np.stack([np.outer(radii, out[:, 0]), np.outer(radii, out[:, 1])], -1)
    shift = moved.reshape(_RINGS + 1, around, 2)
    way = np.roll(at, -1, axis=1) - at
    pull = ((np.roll(shift, -1, axis=1) - shift) * way).sum(-1) / (way**2).sum(-1)
    # on the inner and outer skin of what there is
    inner, outer = there.argmax(axis=0), _RINGS - there[::-1].argmax(axis=0)
    some = np.flatnonzero(there.any(axis=0))
    most = max(pull[inner[some], some].max(), pull[outer[some], some].max())
    return float(_HARD * -left[meets].sum()), float(most)


def _cell(inner: float, outer: float, turn: float, poisson: float) -> Array:
    """The stiffness of a cell with straight sides, from one radius to another and over one turn: bilinear, at two by two points (Gauss)."""
    law = np.array([[1, poisson, 0], [poisson, 1, 0], [0, 0, (1 - poisson) / 2]]) / (1 - poisson**2)
    c, s = math.cos(turn), math.sin(turn)
    at = np.array([[inner, 0.0], [outer, 0.0], [outer * c, outer * s], [inner * c, inner * s]])
    out = np.zeros((8, 8))
    for a in (-1 / math.sqrt(3), 1 / math.sqrt(3)):
        for b in (-1 / math.sqrt(3), 1 / math.sqrt(3)):
            slopes = np.array([[b - 1, 1 - b, 1 + b, -1 - b], [a - 1, -1 - a, 1 + a, 1 - a]]) / 4
            moves = slopes @ at
            by = np.linalg.solve(moves, slopes)
            strains = np.zeros((3, 8))
            strains[0, 0::2], strains[1, 1::2], strains[2, 0::2], strains[2, 1::2] = by[0], by[1], by[1], by[0]
            out += strains.T @ law @ strains * abs(float(np.linalg.det(moves)))
    return out
