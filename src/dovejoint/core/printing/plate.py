"""A plate: parts laid out on the bed as they lie, in rows, the deepest first."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..recipe.lying import BED_EDGE_MM

__all__ = ["Place", "lay_out"]

#: between parts, mm
APART_MM = 6.0


@dataclass(frozen=True)
class Place:
    """Where the middle of a part's box stands on the bed, measured from the bed's middle, mm; ``None`` when there is no room."""

    part: str
    x_mm: float | None
    y_mm: float | None


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

    for part, w, d in sorted(sizes, key=lambda s: (-s[2], s[0])):
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
