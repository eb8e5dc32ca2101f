"""Crush ribs: bars along the wall of a pocket whose round crests are flattened as something is pressed in."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from .. import solid as kernel
from ..errors import StepError
from ..fits import Wanted
from ..recipe import StepContext
from ..solid import Frame
from ..solid.frame import cross, scale, sub
from .pressed import cut_acts, cut_away, strain_round
from .wall_round import cut_wall
from .working import Draws, Given, Plot, Result, Working

__all__ = ["CRUSHED", "crushed", "flow_of", "ribbed"]

Array = NDArray[np.float64]
#: PRACTICE: pressure on a rib that is being flattened, of the material's strength: low, usual, high
FLOW = (1.0, 1.4, 1.9)
#: PRACTICE: of the room round the ribs, what may be filled before the wall itself meets the thing
ROOM_SHARE = 0.8
#: PRACTICE: what crests may overlap by, a side
CRUSHED = Wanted(-0.24, -0.12, -0.01)


def ribbed(
    ctx: StepContext, host: kernel.NamedSolid, frame: Frame, radius_mm: float, clear_mm: float, deep_mm: float, mouth_mm: float, through: bool
) -> tuple[kernel.NamedSolid, list[str]]:  # fmt: skip
    """Ribs along the wall, each a bar half in it, pointed where the thing comes in; and the names of their crests."""
    count, rib, drawn = ctx.whole("ribs", 3, 24, "ribs"), ctx.positive("rib", "The radius of a rib"), ctx.number("drawn")  # fmt: skip
    stands = clear_mm - drawn
    if stands > rib:
        raise StepError(f"The ribs stand {stands:.2f} mm out of the wall, which is more than half of them; make them thicker.", field="rib")  # fmt: skip
    centre = radius_mm + drawn + rib
    if 2 * math.pi * radius_mm / count < 3 * rib:
        raise StepError("So many ribs leave no room between them; take fewer, or thinner ones.", field="ribs")
    bars, names = [], []
    for k in range(count):
        turn = 2 * math.pi * k / count
        at = frame.to_world(centre * math.cos(turn), centre * math.sin(turn), 0.0)
        # its lower end, which is the one that is made pointed, lies at the mouth
        inward = sub(frame.origin, frame.to_world(math.cos(turn), math.sin(turn), 0.0))
        turned = Frame(at, inward, cross(scale(frame.z, -1.0), inward))
        word = f"rib({k + 1})"
        start = max(mouth_mm, 0.05)
        made = kernel.bar(turned, rib, start, deep_mm if through else deep_mm + 0.1, ctx.id, word, 0.8 * rib)  # fmt: skip
        bars.append(made.renamed(lambda n, k=k: f"{ctx.id}/rib-lead({k + 1})" if n == f"{ctx.id}/lead" else n))  # type: ignore[misc]
        names.append(f"{ctx.id}/{word}")
    return kernel.fuse(host, bars, ctx.id), names


def flow_of(cases: int) -> Array:
    """The flowing pressure in each case, as a share of the strength: the usual one first, the others through the range in an order that has nothing to do with the gaps'."""
    turns = np.argsort(np.modf(np.arange(1, cases) * (math.sqrt(5) - 1) / 2)[0])
    return np.concatenate([FLOW[1:2], np.interp(np.linspace(0.0, 1.0, cases - 1), (0.0, 0.5, 1.0), FLOW)[turns]])


def crushed(draws: Draws) -> Working:
    """Ribs with round crests, each flattened by the overlap to the chord of its circle, at a pressure that makes it flow."""
    f, facts, outer, inner = draws.figures, draws.facts, draws.outer, draws.inner
    count, rib, d, long = round(f["ribs"]), f["rib"], facts["diameter"] - 2 * f["drawn"], facts["engaged"]
    over = np.minimum(np.maximum(-draws.gap_mm, 0.0), rib)
    wide = 2 * np.sqrt(over * (2 * rib - over))
    each = flow_of(len(over)) * outer.strength_mpa * wide * long
    push = draws.friction * count * each
    pressure = count * each / (math.pi * d * long)
    cut = cut_wall(facts, d / 2, outer.material.poisson)
    strain, limit = strain_round(draws, d, pressure, cut)
    stands = f["clear"] - draws.wanted.target_mm
    results = (
        Result("ribs flattened by", over, "mm", ROOM_SHARE * stands, "most", "the wall meets the thing", f"{ROOM_SHARE:.0%} of the {stands:.2f} mm that they stand out"),
        Result("width of a flattened crest", wide, "mm"),
        Result("force to push it in or out", push, "N"),
        Result("pressure on the wall, evened out", pressure, "MPa"),
        Result("strain round the seat", 100 * strain, "%", 100 * limit, "most", "the wall cracks", f"of {outer.name}", outer.bears),
    )  # fmt: skip
    givens = (
        Given("diameter of the thing", d, "mm"), Given("ribs", float(count), ""), Given("radius of their crests", rib, "mm"),
        Given("wall round the seat, where thinnest", facts["wall"], "mm", "read on the solids"), *cut_away(cut), Given("length that meets", long, "mm"),
        Given(f"strength of {outer.name}", float(outer.strength_mpa[0]), "MPa"), Given("pressure of a flowing crest", FLOW[1], "of the strength", "practice, 1.0 to 1.9"),
        Given("friction", float(draws.friction[0]), ""),
    )  # fmt: skip
    across = np.linspace(0.0, max(stands, 2 * float(over[0]), 0.05), 17)
    chord = 2 * np.sqrt(np.minimum(across, rib) * (2 * rib - np.minimum(across, rib)))
    up = float(draws.friction[0]) * count * FLOW[1] * float(outer.strength_mpa[0]) * chord * long
    plot = Plot(
        "crests overlap by, mm a side", "force to push in, N", tuple((float(a), float(u)) for a, u in zip(across, up, strict=True)), None,
        (float(over[0]), float(push[0])),
    )  # fmt: skip
    acts = {
        "kind": "ribs", "diameter": d, "wall": facts["wall"], "engaged": long, "count": count, "rib": rib, "stands": stands, "stuff": outer.usual(), "core": inner.usual(),
        **cut_acts(cut),
    }  # fmt: skip
    return Working(
        "Crush ribs", givens, results, (plot,),
        "Round crests cut to a chord, at a pressure at which the plastic flows; the wall as Lamé's ring under that pressure evened out.", acts,
    )  # fmt: skip
