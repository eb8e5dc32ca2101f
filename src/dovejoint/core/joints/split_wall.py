"""A split wall: a slit from a bore outwards lets a hub spring open as something is pressed in, so that it takes up much more than a closed wall."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from .. import solid as kernel
from ..calculators.split_ring import opened
from ..errors import StepError
from ..fits import Wanted
from ..recipe import JointShape, PartState, StepContext
from ..solid import Frame
from ..solid.frame import scale
from .pressed import CREEP
from .rounds import ring_of
from .working import Draws, Given, Plot, Result, Working

__all__ = ["SPRUNG", "split_walls", "springs", "with_slit"]

#: PRACTICE: what a split wall may be sprung by, a side
SPRUNG = Wanted(-0.25, -0.14, -0.03)
#: a wall springs up to this share of its bore's diameter, and a slit is no wider than this share of it
THICK, WIDE = 0.5, 0.2
#: places round the bore where the wall is read: the slit lies midway between the last and the first
_ROUND = 23


def with_slit(host: kernel.NamedSolid, ctx: StepContext, frame: Frame, radius_mm: float, floor_mm: float) -> kernel.NamedSolid:  # fmt: skip
    """Slit a host whose bore is ``radius_mm`` wide, from ``floor_mm`` up through its mouth, where a frame's ``x`` points."""
    slit = ctx.positive("slit", "The slit")
    if slit > WIDE * 2 * radius_mm:
        raise StepError(f"A slit so wide leaves too little to hold with: {WIDE * 2 * radius_mm:.3g} mm at most.", field="slit")  # fmt: skip
    low = floor_mm + 1.0
    walls = []
    for share in (0.02, 0.25, 0.5, 0.75, 0.98):
        at = frame.to_world(radius_mm, 0.0, low * share)
        wall = kernel.thickness_at(host, at, scale(frame.x, -1.0))
        if wall is not None:
            walls.append(wall)
    if not walls or max(walls) > THICK * 2 * radius_mm:
        raise StepError(f"The slit meets {max(walls, default=0.0):.3g} mm of wall; one springs where it is {THICK * 2 * radius_mm:.3g} mm at most: turn the slit to a thinner side, or make the hub slimmer.", field="slit_turn")  # fmt: skip
    reach = radius_mm + max(walls) + slit / 2
    middle = Frame(frame.to_world(reach / 2, 0.0, floor_mm), frame.x, frame.y)
    tool = kernel.block(middle, reach, slit, 1.0 - floor_mm, ctx.id).renamed(lambda n: n.replace(f"{ctx.id}/", f"{ctx.id}/slit-", 1))  # fmt: skip
    return kernel.cut(host, [tool], ctx.id)


def split_walls(shape: JointShape, outer: PartState) -> Mapping[str, float]:
    """How thick the wall is at each place round it, on average over its height, as ``wall 1`` and so on; mm."""
    mate = shape.mates[0]
    radius = mate.sizes_mm[0] / 2
    heights = [mate.low_mm + (mate.high_mm - mate.low_mm) * share for share in (0.1, 0.5, 0.9)]
    found: dict[str, float] = {}
    for k in range(1, _ROUND + 1):
        rays = [ring_of(mate.frame, radius, h, _ROUND + 1)[k] for h in heights]
        read = [kernel.thickness_at(outer.solid, at, scale(out, -1.0)) for at, out in rays]
        found[f"wall {k}"] = float(np.mean([r for r in read if r is not None] or [0.0]))
    return found


def springs(draws: Draws) -> Working | None:
    """How far the wall is sprung, what that strains it by and presses with."""
    f, facts, outer, inner = draws.figures, draws.facts, draws.outer, draws.inner
    walls = [facts[f"wall {k}"] for k in range(1, _ROUND + 1)]
    if min(walls) <= 0.05:
        return None
    d, long, slit = facts["diameter"] - 2 * f["drawn"], facts["engaged"], f["slit"]
    one = opened(d / 2, walls, slit)
    tight = np.maximum(-draws.gap_mm, 0.0)
    presses = one.force * outer.modulus_mpa * long * tight
    strain = one.strain * tight
    push = draws.friction * presses
    limit, weakened = outer.round_limit()
    kept = CREEP if outer.material.plastic else (1.0, 1.0, 1.0)
    across = " (its layers are pulled apart)" if weakened < 0.75 and outer.material.plastic else ""
    results = (
        Result("sprung open by, on diameter", 2 * tight, "mm"),
        Result("all its contacts press with", presses, "N"),
        Result("strain where the wall bends most", 100 * strain, "%", 100 * limit, "most", "the wall cracks", f"of {outer.name}{across}", bears=outer.bears),
        Result("force to push it in or out", push, "N"),
        Result("the same after months", push * kept[1], "N", note=f"{kept[0]:g} to {kept[2]:g} of it, for plastic gives way"),
        Result("turning moment it holds", push * d / 2 / 1000, "N·m"),
    )  # fmt: skip
    givens = (
        Given("diameter of the thing", d, "mm"), Given("width of the slit", slit, "mm"),
        Given("wall round it, where thinnest", min(walls), "mm", "read on the solids"), Given("wall round it, where thickest", max(walls), "mm", "read on the solids"),
        Given("length that meets", long, "mm"), Given(f"stiffness of {outer.name}", float(outer.modulus_mpa[0]), "MPa"), Given("friction", float(draws.friction[0]), ""),
    )  # fmt: skip
    most = max(2 * float(2 * tight[0]), 0.3)
    plot = Plot(
        "sprung open by, mm on diameter", "strain of the wall, %", ((0.0, 0.0), (most, 100 * one.strain * most / 2)), 100 * float(limit[0]),
        (2 * float(tight[0]), 100 * float(strain[0])),
    )  # fmt: skip
    acts = {
        "kind": "split", "diameter": d, "walls": walls, "slit": slit, "engaged": long, "stuff": outer.usual(), "core": inner.usual(),
    }  # fmt: skip
    return Working(
        "Split wall", givens, results, (plot,),
        "A curved beam (Winkler and Bach) that is pushed from inside wherever it touches; what it gives by being stretched and sheared is left out.", acts,
    )  # fmt: skip
