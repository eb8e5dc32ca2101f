"""A knurled thing pressed in cold: its teeth, which run along it, plough grooves into the wall of a plain pocket and so cannot turn there."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np

from ..fits import Wanted
from .crush_ribs import flow_of
from .pressed import CREEP, cut_acts, cut_away, strain_round
from .wall_round import cut_wall
from .working import SHEARED, Draws, Given, Plot, Result, Working

__all__ = ["ploughed", "ploughing"]

#: PRACTICE: of a tooth's depth, what lies in the wall: at most, wanted, at least
_SHARES = (0.9, 0.55, 0.2)
#: more of a tooth than this leaves no room for what it pushes aside
FULL = 0.95


def ploughing(tooth_mm: float) -> Wanted:
    """The gap at the teeth's crests, a side; they overlap the wall by a part of their depth."""
    return Wanted(*(-share * tooth_mm for share in _SHARES))


def ploughed(draws: Draws) -> Working:
    """What teeth of 90° take to plough in, and what turns them out of their grooves.

    A tooth that lies δ deep in the wall has cut a triangle δ² large. To push it along that must flow: force = p·δ² for each, and friction on both flanks of those that lie in
    already, √2·δ·L each side at that pressure. To turn it the teeth plough round: one flank of each presses on δ·L as seen along its way; or, if less, all that stands between
    them is sheared off round the crests.
    """
    f, facts, outer, inner = draws.figures, draws.facts, draws.outer, draws.inner
    count, tooth, d, long = round(f["teeth"]), f["tooth"], facts["diameter"] - 2 * f["drawn"], facts["engaged"]
    over = np.minimum(np.maximum(-draws.gap_mm, 0.0), tooth)
    pressure = flow_of(len(over)) * outer.strength_mpa
    side = math.sqrt(2) * over * long
    push = count * pressure * (over**2 + 2 * draws.friction * side)
    evened = count * pressure * 2 * over / (math.pi * d)
    cut = cut_wall(facts, d / 2, outer.material.poisson)
    strain, limit = strain_round(draws, d, evened, cut)
    ploughs, shears = count * pressure * over, np.where(over > 0, SHEARED * outer.strength_mpa * math.pi * d, 0.0)
    turns = np.minimum(ploughs, shears) * long * d / 2 / 1000
    results = (
        Result("teeth lie in the wall by", over, "mm", FULL * tooth, "most", "the wall itself is in the way", f"{FULL:.0%} of their {tooth:.2f} mm"),
        Result("force to push it in", push, "N"),
        Result("force to pull it out after months", push * CREEP[1], "N", note="while nothing is screwed or glued to it"),
        Result("turning moment until its teeth plough round", turns, "N·m"),
        Result("strain round the seat", 100 * strain, "%", 100 * limit, "most", "the wall cracks", f"of {outer.name}", outer.bears),
    )  # fmt: skip
    givens = (
        Given("diameter over the teeth", d, "mm"), Given("teeth", float(count), ""), Given("depth of a tooth", tooth, "mm"),
        Given("wall round the seat, where thinnest", facts["wall"], "mm", "read on the solids"), *cut_away(cut), Given("length that meets", long, "mm"),
        Given(f"strength of {outer.name}", float(outer.strength_mpa[0]), "MPa"), Given("friction", float(draws.friction[0]), ""),
    )  # fmt: skip
    across = np.linspace(0.0, tooth, 17)
    up = count * float(pressure[0]) * (across**2 + 2 * float(draws.friction[0]) * math.sqrt(2) * across * long)
    plot = Plot("teeth lie in the wall by, mm", "force to push in, N", tuple((float(a), float(u)) for a, u in zip(across, up, strict=True)), None, (float(over[0]), float(push[0])))  # fmt: skip
    acts: Mapping[str, object] = {
        "kind": "knurl", "diameter": d, "wall": facts["wall"], "engaged": long, "count": count, "tooth": tooth, "stuff": outer.usual(), "core": inner.usual(),
        **cut_acts(cut),
    }  # fmt: skip
    return Working(
        "Knurled thing", givens, results, (plot,),
        "Straight teeth of 90° cut grooves as deep as they overlap, at a pressure at which the plastic flows; the wall as Lamé's ring under that pressure evened out.", acts,
    )  # fmt: skip
