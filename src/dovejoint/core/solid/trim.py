"""What of a solid matters for something: a box of it, in one lump."""

from __future__ import annotations

from collections.abc import Collection, Set
from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection
from numpy.typing import NDArray

from ..errors import StepError
from .body import block, cylinder
from .combine import common, cut, overlap
from .frame import Frame, Vec3, add, box_corners, cross, dot, scale, sub, unit
from .measure import bounds, describe_faces
from .mesh import tessellate
from .named import NamedSolid, lumps_of
from .twin import Motion, moved

__all__ = ["Row", "dotted", "in_print", "room_for_dots", "trimmed"]

#: dots that number a piece: how wide, how deep, how far apart, and what must be left of the wall under them, mm
DOT_MM, DEEP_MM, APART_MM, LEFT_MM = 1.4, 0.5, 2.4, 0.8
#: so many places of a face are tried
_PLACES = 60


def trimmed(solid: NamedSolid, frame: Frame, low: Vec3, high: Vec3, faces: Collection[str], step: str) -> NamedSolid:
    """The lump of a solid that holds some faces, within a box.

    Where the box takes nothing away, or what it leaves of these faces does not hang together, it is the solid itself.

    Parameters
    ----------
    low, high : the box in the frame's coordinates, mm; as far as wanted where it is infinite.
    faces : names of faces, pieces of which stay.
    """
    corners = box_corners(*bounds(solid.shape))
    inside = [[dot(sub(c, frame.origin), axis) for c in corners] for axis in (frame.x, frame.y, frame.z)]
    least = [max(low[k], min(inside[k]) - 1.0) for k in range(3)]
    most = [min(high[k], max(inside[k]) + 1.0) for k in range(3)]
    if all(least[k] < min(inside[k]) and most[k] > max(inside[k]) for k in range(3)):
        return solid
    middle = frame.to_world((least[0] + most[0]) / 2, (least[1] + most[1]) / 2, least[2])
    wide, deep, high_mm = (most[k] - least[k] for k in range(3))
    box = block(Frame(middle, frame.x, frame.y), wide, deep, high_mm, f"{step}/box")
    try:
        kept = overlap(solid, [box], step)
    except StepError:
        return solid
    lumps = lumps_of(kept)
    holding = [lump for lump in lumps if any(lump.find(name) for name in faces)]
    return holding[0] if len(holding) == 1 and holding[0].valid and holding[0].closed else solid


def in_print(solid: NamedSolid, x: Vec3, y: Vec3) -> NamedSolid:
    """A solid turned about the origin so that its directions ``x`` and ``y`` become the bed's."""
    return moved(solid, Motion.into(Frame((0.0, 0.0, 0.0), x, y)))


@dataclass(frozen=True)
class Row:
    """Where a row of dots begins on a face, which way it runs, and which way is out of the solid."""

    at: Vec3
    along: Vec3
    out: Vec3


def room_for_dots(solid: NamedSolid, many: int, kept: Set[str], down: Vec3) -> Row | None:
    """Room for a row of so many dots on a flat face that does not look ``down``, rather on top; ``None`` where there is none.

    ``kept`` are names of faces that nothing must touch. Under each dot some wall is left.
    """
    long, wide = APART_MM * (many - 1) + DOT_MM + 1.2, DOT_MM + 1.2
    mesh = tessellate(solid)
    faces = [
        (round(dot(f.normal, down), 3), -f.area_mm2, index, f.normal)
        for index, f in enumerate(describe_faces(solid))
        if f.kind == "plane" and f.area_mm2 >= long * wide and dot(f.normal, down) < 0.3 and not kept & set(f.names)
    ]
    for _, _, index, out in sorted(faces):
        row = _room_on(solid, mesh.corners_of(index), out, long, wide)
        if row is not None:
            return Row(sub(row.at, scale(row.along, APART_MM * (many - 1) / 2)), row.along, out)
    return None


def _room_on(solid: NamedSolid, corners: NDArray[np.float64], out: Vec3, long: float, wide: float) -> Row | None:
    """A rectangle on a flat face, given by the corners of its triangles, with solid behind it."""
    guide: Vec3 = (1.0, 0.0, 0.0) if abs(out[0]) < 0.9 else (0.0, 1.0, 0.0)
    x = unit(sub(guide, scale(out, dot(guide, out))))
    y = cross(out, x)
    flat = np.stack([corners @ np.array(x), corners @ np.array(y)], axis=1).reshape(-1, 3, 2)
    # wound to the left, as the sum of them needs it
    flat = np.where((_turns(flat) < 0)[:, None, None], flat[:, ::-1], flat)
    face = CrossSection(list(flat))
    middles = flat.mean(axis=1)
    order = np.argsort(np.linalg.norm(middles - (flat.min(axis=(0, 1)) + flat.max(axis=(0, 1))) / 2, axis=1))
    height = float(np.array(out) @ corners[0])
    for k in order[:_PLACES]:
        u, v = (float(c) for c in middles[k])
        for along, (w, h) in ((x, (long, wide)), (y, (wide, long))):
            spot = CrossSection(
                [[(u - w / 2, v - h / 2), (u + w / 2, v - h / 2), (u + w / 2, v + h / 2), (u - w / 2, v + h / 2)]]
            )
            if (spot - face).area() > 1e-6:
                continue
            at = add(add(scale(x, u), scale(y, v)), scale(out, height))
            deep = DEEP_MM + LEFT_MM
            under = block(Frame(sub(at, scale(out, deep)), x, y), w, h, deep, "under")
            if common(solid, under)[0] > w * h * deep * (1 - 1e-6):
                return Row(at, along, out)
    return None


def _turns(flat: NDArray[np.float64]) -> NDArray[np.float64]:
    a, b = flat[:, 1] - flat[:, 0], flat[:, 2] - flat[:, 0]
    return np.asarray(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])


def dotted(solid: NamedSolid, row: Row, many: int, step: str) -> NamedSolid:
    """A solid with so many round dots sunk into a face, to be told apart from its sisters."""
    across = cross(row.out, row.along)
    dots = []
    for k in range(many):
        at = add(row.at, scale(row.along, APART_MM * k))
        frame = Frame(sub(at, scale(row.out, DEEP_MM)), row.along, across)
        dots.append(cylinder(frame, DOT_MM, DEEP_MM + 1.0, f"{step}/dot({k + 1})"))
    return cut(solid, dots, step)
