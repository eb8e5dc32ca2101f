"""A small picture of a model, for lists of projects: drawn from meshes alone, with no window and no graphics card."""

from __future__ import annotations

import math
import struct
import zlib
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

__all__ = ["picture", "png"]

#: from where it is looked at, as the stage's view *corner*: degrees round the upright, and up
TURN_DEG, RISE_DEG = -58.0, 30.0
#: share of the picture that stays free round the model
MARGIN = 0.06
_INK = (38, 46, 46)
#: normals that differ by more than this make an edge (cosine)
_EDGE_COS = 0.9

Floats = NDArray[np.float64]


def picture(
    parts: Sequence[tuple[str, NDArray[np.float32], NDArray[np.uint32]]], width: int = 320, height: int = 220
) -> bytes:
    """Parts as a PNG, lit from above, with their edges in ink; what is free is clear.

    Parameters
    ----------
    parts : colour (``#rrggbb``), positions (n, 3) in mm, and triangles (m, 3) of each.

    The triangles are sampled densely enough to leave no hole, and the sample nearest to the eye is what is seen.
    """
    image = np.zeros((height, width, 4), np.uint8)
    parts = [p for p in parts if len(p[2])]
    if not parts:
        return png(image)
    turn, rise = math.radians(TURN_DEG), math.radians(RISE_DEG)
    eye = np.array([math.cos(rise) * math.cos(turn), math.cos(rise) * math.sin(turn), math.sin(rise)])
    right = np.array([-math.sin(turn), math.cos(turn), 0.0])
    up = np.cross(eye, right)
    views = [np.asarray(p, float) @ np.column_stack([right, up, eye]) for _, p, _ in parts]
    low, high = (f([f(v, axis=0) for v in views], axis=0) for f in (np.min, np.max))
    scale = (1 - 2 * MARGIN) * min(width / max(high[0] - low[0], 1e-6), height / max(high[1] - low[1], 1e-6))
    middle = (low + high) / 2
    cells, depths, normals, owners = [], [], [], []
    for number, ((_, _, triangles), view) in enumerate(zip(parts, views, strict=True)):
        screen = np.column_stack(
            [width / 2 + (view[:, 0] - middle[0]) * scale, height / 2 - (view[:, 1] - middle[1]) * scale, view[:, 2]]
        )
        corner = view[triangles]
        normal = np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0])
        normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
        # of a closed body only what looks this way is seen
        towards = normal[:, 2] > 0
        triangles, normal = triangles[towards], normal[towards]
        if not len(triangles):
            continue
        place, which = _samples(screen[triangles], width, height)
        cells.append(place[:, 1].astype(int) * width + place[:, 0].astype(int))
        depths.append(place[:, 2])
        normals.append(normal[which])
        owners.append(np.full(len(which), number + 1))
    cell, depth = np.concatenate(cells), np.concatenate(depths)
    # the last one written to a cell is the nearest to the eye
    order = np.argsort(depth, kind="stable")
    seen = np.zeros((height * width, 3))
    owner = np.zeros(height * width, int)
    seen[cell[order]] = np.concatenate(normals)[order]
    owner[cell[order]] = np.concatenate(owners)[order]
    colours = np.array([[0, 0, 0], *([int(c[k : k + 2], 16) for k in (1, 3, 5)] for c, _, _ in parts)], float)
    # lit from over the left shoulder; a face that looks away from the light keeps a good half
    light = np.array([-0.35, 0.6, 0.72])
    shade = 0.62 + 0.38 * np.clip(seen @ (light / np.linalg.norm(light)), 0, 1)
    flat = colours[owner] * shade[:, None]
    flat[_edges(owner.reshape(height, width), seen.reshape(height, width, 3)).ravel() & (owner > 0)] = _INK
    image[..., :3] = flat.reshape(height, width, 3).round().clip(0, 255)
    image[..., 3] = np.where(owner.reshape(height, width) > 0, 255, 0)
    return png(image)


def _samples(triangles: Floats, width: int, height: int) -> tuple[Floats, NDArray[np.int64]]:
    """Places (x, y in pixels, depth) spread over triangles (m, 3, 3) less than a pixel apart, and the triangle of each.

    Each triangle is filled from its longest side to the corner across, so that a thin one takes few places.
    """
    sides = np.linalg.norm(np.roll(triangles[..., :2], -1, axis=1) - triangles[..., :2], axis=2)
    first = sides.argmax(axis=1)
    order = (first[:, None] + np.arange(3)) % 3
    triangles = np.take_along_axis(triangles, order[..., None], axis=1)
    (ax, ay), (bx, by) = (np.moveaxis(triangles[:, k, :2] - triangles[:, 0, :2], 1, 0) for k in (1, 2))
    longest = np.maximum(sides.max(axis=1), 1e-9)
    across = np.abs(ax * by - ay * bx) / longest
    # few sizes of grid, so that each is made once
    counts = [2 ** np.ceil(np.log2(np.clip(np.ceil(2.4 * d), 1, 2048))).astype(int) for d in (longest, across)]
    kinds = counts[0] * 4096 + counts[1]
    places, which = [], []
    for kind in np.unique(kinds):
        chosen = np.flatnonzero(kinds == kind)
        along, deep = np.meshgrid(*(np.linspace(0, 1, n + 1) for n in divmod(int(kind), 4096)), indexing="ij")
        s, t = along.ravel(), deep.ravel()
        weights = np.column_stack([(1 - t) * (1 - s), (1 - t) * s, t])
        # many at once would take memory without bound
        room = max(1, 2_000_000 // len(weights))
        for start in range(0, len(chosen), room):
            some = chosen[start : start + room]
            places.append((weights @ triangles[some]).reshape(-1, 3))
            which.append(np.repeat(some, len(weights)))
    place, owner = np.concatenate(places), np.concatenate(which)
    ok = (place[:, 0] >= 0) & (place[:, 0] < width) & (place[:, 1] >= 0) & (place[:, 1] < height)
    return place[ok], owner[ok]


def _edges(owner: NDArray[np.int64], normal: Floats) -> NDArray[np.bool_]:
    """Cells at whose right or lower side another part begins, or a face that looks another way."""
    out = np.zeros(owner.shape, bool)
    for axis in (0, 1):
        one = tuple(slice(None, -1) if k == axis else slice(None) for k in (0, 1))
        two = tuple(slice(1, None) if k == axis else slice(None) for k in (0, 1))
        differs = (owner[one] != owner[two]) | (np.sum(normal[one] * normal[two], axis=2) < _EDGE_COS)
        out[one] |= differs
        # the rim of the whole belongs to what is seen, not to what is free
        out[two] |= differs & (owner[one] == 0)
    return out


def png(image: NDArray[np.uint8]) -> bytes:
    """An image (height, width, 4) as PNG (ISO/IEC 15948): 8 bits, red, green, blue and how solid."""
    height, width, _ = image.shape

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    rows = np.concatenate([np.zeros((height, 1), np.uint8), image.reshape(height, -1)], axis=1)
    head = struct.pack(">IIBBBBB", width, height, 8, 6, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", head)
        + chunk(b"IDAT", zlib.compress(rows.tobytes(), 7))
        + chunk(b"IEND", b"")
    )
