"""What joints that spring share: how often they snap, slopes that must be between two angles, slots and slits, and the forces in and out over two slopes."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from .. import solid as kernel
from ..calculators.arms import friction_factor, locking_angle_rad
from ..errors import StepError
from ..recipe import Choice, FieldSpec, StepContext
from ..solid import Frame
from .flats import block_named
from .working import Array, Draws, Result

__all__ = ["USED", "in_and_out", "slits", "slope"]

#: how the interface asks how often a snap is used
USED = FieldSpec(
    "used",
    "choice",
    "how often it snaps",
    "often",
    (Choice("often", "again and again"), Choice("once", "once for good")),
)


def slope(ctx: StepContext, name: str, most_deg: float) -> float:
    """The angle of a slope to the axis, rad. Raises StepError where it is flatter than 10° or steeper than this."""
    angle = ctx.number(name)
    if not math.radians(10) - 1e-9 <= angle <= math.radians(most_deg) + 1e-9:
        raise StepError(f"This slope is between 10 deg and {most_deg:g} deg to the axis.", field=name)
    return angle


def slits(
    frame: Frame, turns_rad: Sequence[float], reach_mm: tuple[float, float], wide_mm: float, low_mm: float, high_mm: float, step: str, word: str
) -> list[kernel.NamedSolid]:  # fmt: skip
    """Blocks that cut slots along a frame's ``z`` between two heights, at some turns about it, from one place along their way to another."""
    out = []
    for k, turn in enumerate(turns_rad, 1):
        turned = frame.placed(0.0, 0.0, turn)
        at = Frame(turned.to_world(sum(reach_mm) / 2, 0.0), turned.x, turned.y)
        out.append(block_named(at, reach_mm[1] - reach_mm[0], wide_mm, low_mm, high_mm, step, f"{word}{k}"))
    return out


def in_and_out(draws: Draws, across: Array, bend: Array, freed: str, most_n: float | None = None) -> tuple[Result, Result]:  # fmt: skip
    """The forces to push in over the slope ``lead`` and to pull out over ``back``, of what presses across with so much where it is bent. ``freed`` says how what locks
    comes out, ``most_n`` with how much at most it is pushed in."""
    # where nothing bends nothing is held, however steep the slope
    with np.errstate(invalid="ignore"):
        into, out = (np.where(bend > 0, across * friction_factor(draws.friction, draws.figures[s]), 0.0) for s in ("lead", "back"))  # fmt: skip
    lock_deg = math.degrees(locking_angle_rad(float(draws.friction[0])))
    locked = float(np.mean(~np.isfinite(out))) > 0.5
    name = "force to push in"
    if most_n is None:
        push = Result(name, into, "N", note="" if np.isfinite(into[0]) else "it never goes in: this slope locks")
    else:
        why = "(a hand gives about 100 N)" if np.isfinite(into[0]) else "(its slope locks)"
        push = Result(name, into, "N", most_n, "most", "it cannot be pushed in", why)
    return push, Result("force to pull out", out, "N", note=f"slopes over {lock_deg:.0f}° lock: {freed}" if locked else "")  # fmt: skip
