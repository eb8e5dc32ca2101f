"""What joints share that cut a part in two: the cut, its two pieces, and what is said where they fall apart."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from .. import solid as kernel
from ..document.picks import BasePlane
from ..errors import StepError
from ..recipe import StepContext
from ..solid import Frame

__all__ = ["cut_frame", "cut_in_two", "in_lumps"]


def cut_frame(fields: Any, ctx: StepContext | None) -> Frame | None:
    """Where the field ``plane`` lies: exactly with a context, else if it is one of the world's."""
    if ctx is not None:
        return ctx.frame(fields.plane, "plane")
    if isinstance(fields.plane, BasePlane):
        return {"ground": kernel.GROUND, "front": kernel.FRONT, "side": kernel.SIDE}[fields.plane.plane]
    return None


def cut_in_two(ctx: StepContext) -> tuple[Frame, kernel.NamedSolid, kernel.NamedSolid, kernel.NamedSolid]:
    """The plane, the whole ``part``, and what of it lies over and under the plane. Raises StepError."""
    fields = ctx.fields
    if ctx.has_part(fields.rest):
        raise StepError("The other piece is made by an earlier step; this one makes its own.", field="rest")
    frame = ctx.frame(fields.plane, "plane")
    whole = ctx.part(fields.part, "part").solid
    try:
        over, under = (kernel.side_of(whole, frame, ctx.id, side) for side in (True, False))
    except StepError as error:
        raise StepError(error.message, field=error.field or "plane") from None
    return frame, whole, over, under


def in_lumps(whole: kernel.NamedSolid, made: Mapping[str, kernel.NamedSolid]) -> str:
    """What is said where a piece falls into more lumps than the whole had."""
    lumps = max(s.lumps for s in made.values())
    return f"One of the two pieces falls into {lumps} lumps." if lumps > whole.lumps else ""
