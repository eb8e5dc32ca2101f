"""What joints of round halves share: round faces that were picked, and how they lie along an axis."""

from __future__ import annotations

from .. import solid as kernel
from ..document.picks import FlatFace
from ..errors import PickError, StepError
from ..recipe import PartState, StepContext
from ..solid import Axis
from ..solid.frame import add, dot, scale, sub

__all__ = ["round_pick", "span_along"]


def round_pick(
    ctx: StepContext, pick: FlatFace | None, field: str, hollow: bool
) -> tuple[PartState, int, kernel.RoundFace]:
    """A round face that was picked, which must be a bore (``hollow``) or the side of a shaft. Raises PickError, StepError."""
    what = "a round bore" if hollow else "the round side of a shaft"
    if pick is None:
        raise PickError(f"Pick {what}.", field=field)
    part, index = ctx.faces_named(pick, field)
    found = kernel.round_face(part.solid, index)
    if found is None:
        raise StepError(f"That face is not round; pick {what}.", field=field)
    if found.hollow != hollow:
        raise StepError(f"That is {'the outside of a shaft' if hollow else 'a bore'}; pick {what}.", field=field)
    return part, index, found


def span_along(face: kernel.RoundFace, axis: Axis) -> tuple[float, float]:
    """Where a face begins and ends along an axis in line with its own, mm from that axis's origin."""
    ends = [
        dot(sub(add(face.axis.origin, scale(face.axis.direction, h)), axis.origin), axis.direction)
        for h in (face.low_mm, face.high_mm)
    ]
    return min(ends), max(ends)
