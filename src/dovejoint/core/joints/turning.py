"""How far the halves of a joint turn about each other until they meet, read on the solids."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np

from .. import solid as kernel
from ..recipe import PartState, Turning
from ..solid import Frame
from ..solid.frame import Vec3, cross, dot, sub
from .working import Draws, Result

__all__ = ["how_far", "rising", "turns"]

#: an axis leans less than this towards the upright when one can say that a turn about it lifts something: sine of the lift
LIFTS = 0.2
ROUND_DEG = 360.0


def rising(frame: Frame, centre: Vec3) -> tuple[float, bool]:
    """Which sense of turning about a frame's ``z`` lifts what has its middle there (1 by the right hand, -1 against it), and whether
    one can say so: about an upright axis nothing rises, and the sense is the one that is anticlockwise from above."""
    along = frame.z
    arm = sub(centre, frame.origin)
    way = cross(along, arm)
    size = math.sqrt(dot(way, way))
    if size > 1e-6 and abs(way[2]) > LIFTS * size:
        return math.copysign(1.0, way[2]), True
    return (1.0 if along[2] >= -1e-9 else -1.0), False


def how_far(turning: Turning, moving: PartState, fixed: PartState) -> Mapping[str, float]:
    """By how much the moving part turns until it meets the other one, degrees (360: all round): ``turns up`` in the sense that lifts it,
    ``turns down`` in the other; ``lifts`` is 1 where one can say so. Kept with the solid."""
    kept: dict[tuple[Frame, str], Mapping[str, float]] = moving.solid.__dict__.setdefault("swings", {})
    key = (turning.frame, fixed.key)
    if key not in kept:
        swing = kernel.swing_of(moving.mesh, fixed.mesh, turning.frame)
        sense, lifts = rising(turning.frame, moving.info.centre_mm)
        ahead, back = (ROUND_DEG if a is None else math.degrees(a) for a in (swing.ahead_rad, swing.back_rad))
        up, down = (ahead, back) if sense > 0 else (back, ahead)
        kept[key] = {"turns up": up, "turns down": down, "lifts": float(lifts)}
    return kept[key]


def turns(draws: Draws, what: str) -> tuple[Result, Result]:
    """The two ways in which something turns, as results."""
    facts = draws.facts
    words = ("upwards", "downwards") if facts["lifts"] else ("anticlockwise, from above,", "clockwise, from above,")
    out = []
    for word, name in zip(words, ("turns up", "turns down"), strict=True):
        note = "all round" if facts[name] >= ROUND_DEG else "until the parts meet"
        out.append(Result(f"{what} turns {word} by", np.full_like(draws.gap_mm, facts[name]), "°", note=note))
    return out[0], out[1]
