"""Printed parts that have no room on the bed, as they are laid."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..recipe.lying import BED_EDGE_MM, Lie, in_one_with, lie_in
from .registry import Finding, Model, register_check


@register_check("bed", "Parts larger than the bed", "Every printed part has room on the bed, as it lies.")
def _(model: Model) -> Iterable[Finding]:
    room = model.profile.bed_mm
    wide, deep, high = room[0] - 2 * BED_EDGE_MM, room[1] - 2 * BED_EDGE_MM, room[2]
    made = model.evaluation.parts
    for part, state in model.parts("printed"):
        together = tuple(p for p in in_one_with(model.project, part.id) if p in made)
        if part.id != together[0]:
            continue
        lie = lie_in(model.project, made, part.id)
        places = np.vstack([made[p].mesh.positions for p in together])
        size = _sizes(places, lie)
        if size[0] <= wide + 1e-6 and size[1] <= deep + 1e-6 and size[2] <= high + 1e-6:
            continue
        yield Finding(
            "wrong",
            f"{part.name}{' and what is printed in one with it are' if len(together) > 1 else ' is'} larger than the printer's room, as it lies.",
            figure=" × ".join(f"{s:.1f}" for s in size) + " mm",
            limit=" × ".join(f"{r:.0f}" for r in room) + f" mm, {BED_EDGE_MM:g} kept free at the edges",
            advice=_advice(places, lie, (wide, deep, high), size),
            parts=together,
            place=state.info.centre_mm,
        )


def _sizes(places: NDArray[Any], lie: Lie) -> tuple[float, float, float]:
    """Across, deep and high, as it lies, mm."""
    local = places @ np.array([lie.x, lie.y, lie.z]).T
    across, deep, high = (float(v) for v in np.ptp(local, axis=0))
    return across, deep, high


def _advice(places: NDArray[Any], lie: Lie, room: tuple[float, float, float], size: tuple[float, float, float]) -> str:
    """What would work: turned where it lies, laid on another side, or neither."""
    if size[2] <= room[2] + 1e-6:
        flat = places @ np.array([lie.x, lie.y]).T
        for degrees in range(1, 180):
            c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
            across, deep = np.ptp(flat @ np.array([[c, s], [-s, c]]), axis=0)
            if across <= room[0] + 1e-6 and deep <= room[1] + 1e-6:
                return f"It has room when it is turned by {degrees}° where it lies."
    if all(s <= r + 1e-6 for s, r in zip(sorted(size), sorted(room), strict=True)):
        return "Lay it on another side: so it has room."
    return "Make it smaller, or divide it."
