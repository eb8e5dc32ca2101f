"""Plates: parts laid out on the bed as they lie, the largest first, on as many plates as it takes; those printed in one keep their places to each other."""

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
    """Where the middle of a part's box stands on the bed, measured from the bed's middle, mm; ``None`` when it is larger than the bed; how high over the
    bed it begins; and on which plate, from 0."""

    part: str
    x_mm: float | None
    y_mm: float | None
    up_mm: float = 0.0
    plate: int = 0


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
                out[part] = Place(part, place.x_mm + x, place.y_mm + y, up, place.plate)
    return out


class _Plate:
    """Boxes on one bed, each in a corner between others or the edge: only such corners are tried."""

    def __init__(self, room_mm: tuple[float, float]) -> None:
        self.room = room_mm
        self.boxes: dict[str, tuple[float, float, float, float]] = {}
        self.across = self.deep = 0.0

    def takes(self, part: str, w: float, d: float) -> bool:
        """Puts a box where what is used of the bed grows least, if there is room."""
        boxes = list(self.boxes.values())
        spots = [
            (max(self.across, x + w) * max(self.deep, y + d), y, x)
            for x in {0.0, *(u + a + APART_MM for u, _, a, _ in boxes)}
            for y in {0.0, *(v + b + APART_MM for _, v, _, b in boxes)}
            if self._free(x, y, w, d)
        ]
        if not spots:
            return False
        _, y, x = min(spots)
        self.boxes[part] = (x, y, w, d)
        self.across, self.deep = max(self.across, x + w), max(self.deep, y + d)
        return True

    def _free(self, x: float, y: float, w: float, d: float) -> bool:
        if x + w > self.room[0] + 1e-6 or y + d > self.room[1] + 1e-6:
            return False
        gaps = (max(x - (u + a), u - (x + w), y - (v + b), v - (y + d)) for u, v, a, b in self.boxes.values())
        return all(gap >= APART_MM - 1e-6 for gap in gaps)


def lay_out(sizes: Sequence[tuple[str, float, float]], bed_mm: tuple[float, float]) -> list[Place]:
    """Lay boxes (part, across, deep) out, the largest first, on the first plate that has room, and centre each plate on the bed.

    What is larger than the bed has no place.
    """
    room = (bed_mm[0] - 2 * BED_EDGE_MM, bed_mm[1] - 2 * BED_EDGE_MM)
    plates: list[_Plate] = []
    out = {part: Place(part, None, None) for part, _, _ in sizes}
    for part, w, d in sorted(sizes, key=lambda s: (-round(s[1] * s[2], 2), -round(s[2], 2))):
        fresh = _Plate(room)
        if not any(plate.takes(part, w, d) for plate in plates) and fresh.takes(part, w, d):
            plates.append(fresh)
    for number, plate in enumerate(plates):
        for part, (x, y, w, d) in plate.boxes.items():
            out[part] = Place(part, x + w / 2 - plate.across / 2, plate.deep / 2 - y - d / 2, plate=number)
    return list(out.values())
