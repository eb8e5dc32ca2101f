"""A plate: parts laid out on the bed as they lie, in rows, the deepest first; those printed in one keep their places to each other."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..recipe.lying import BED_EDGE_MM
from ..solid.frame import Vec3
from .slices import Laid

__all__ = ["Place", "Unit", "laid_together", "lay_out", "plate_of"]

#: between parts, mm
APART_MM = 6.0


@dataclass(frozen=True)
class Place:
    """Where the middle of a part's box stands on the bed, measured from the bed's middle, mm; ``None`` when there is no room; and how high over the bed
    it begins."""

    part: str
    x_mm: float | None
    y_mm: float | None
    up_mm: float = 0.0


@dataclass(frozen=True)
class Unit:
    """What is laid on the bed as one: its size, mm, and how far the middle of each part's box is from its own middle, and over its lowest place."""

    size_mm: Vec3
    parts: Mapping[str, Vec3]


def laid_together(laid: Mapping[str, Laid]) -> Unit:
    """Parts that are turned alike, as one."""
    low, high = [float("inf")] * 3, [float("-inf")] * 3
    for part in laid.values():
        half = (part.size_mm[0] / 2, part.size_mm[1] / 2)
        ends = ((-half[0], half[0]), (-half[1], half[1]), (0.0, part.size_mm[2]))
        for k, (least, most) in enumerate(ends):
            low[k], high[k] = min(low[k], part.from_mm[k] + least), max(high[k], part.from_mm[k] + most)
    at = ((low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2])
    places = {id: (p.from_mm[0] - at[0], p.from_mm[1] - at[1], p.from_mm[2] - at[2]) for id, p in laid.items()}
    return Unit((high[0] - low[0], high[1] - low[1], high[2] - low[2]), places)


def plate_of(
    laid: Mapping[str, Laid], in_one: Sequence[tuple[str, ...]], bed_mm: tuple[float, float]
) -> dict[str, Place]:
    """The places of parts, those of a set in one."""
    sets = [tuple(p for p in s if p in laid) for s in in_one]
    taken = {p for s in sets for p in s}
    units = {s[0]: laid_together({p: laid[p] for p in s}) for s in sets if s}
    units |= {p: laid_together({p: laid[p]}) for p in laid if p not in taken}
    out = {}
    for place in lay_out([(p, units[p].size_mm[0], units[p].size_mm[1]) for p in laid if p in units], bed_mm):
        for part, (x, y, up) in units[place.part].parts.items():
            if place.x_mm is None or place.y_mm is None:
                out[part] = Place(part, None, None, up)
            else:
                out[part] = Place(part, place.x_mm + x, place.y_mm + y, up)
    return out


def lay_out(sizes: Sequence[tuple[str, float, float]], bed_mm: tuple[float, float]) -> list[Place]:
    """Lay boxes (part, across, deep) out in rows and centre the whole on the bed.

    What does not fit beside the others is left out of the plate, with no place.
    """
    wide, deep = bed_mm[0] - 2 * BED_EDGE_MM, bed_mm[1] - 2 * BED_EDGE_MM
    rows: list[tuple[float, float, list[tuple[str, float, float]]]] = []
    left: list[str] = []
    y = 0.0
    row: list[tuple[str, float, float]] = []
    x = 0.0

    def close() -> None:
        nonlocal row, x, y
        if row:
            tall = max(d for _, _, d in row)
            rows.append((y, tall, row))
            y += tall + APART_MM
        row, x = [], 0.0

    for part, w, d in sorted(sizes, key=lambda s: -round(s[2], 2)):
        if w > wide + 1e-6 or d > deep + 1e-6:
            left.append(part)
            continue
        if row and x + w > wide:
            close()
        if y + d > deep + 1e-6:
            left.append(part)
            continue
        row.append((part, w, d))
        x += w + APART_MM
    close()
    used = max((y0 + tall for y0, tall, _ in rows), default=0.0)
    out: dict[str, Place] = {part: Place(part, None, None) for part in left}
    for y0, tall, members in rows:
        across = sum(w for _, w, _ in members) + APART_MM * (len(members) - 1)
        x = -across / 2
        for part, w, _ in members:
            out[part] = Place(part, x + w / 2, used / 2 - y0 - tall / 2)
            x += w + APART_MM
    return [out[part] for part, _, _ in sizes]
