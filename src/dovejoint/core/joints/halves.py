"""What joints share that cut a part in two: the cut, its two pieces, and what is said where they fall apart."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from .. import solid as kernel
from ..document.picks import BasePlane
from ..errors import StepError
from ..recipe import FieldSpec, StepContext
from ..recipe.picks import axis_of
from ..solid import Frame
from ..solid.frame import dot

__all__ = ["CUT_SAID", "CUT_SPECS", "cut_frame", "cut_in_two", "in_lumps", "way_in_cut"]

#: a way lies in the cut within this sine
IN_CUT = 1e-3
#: what is asked of every cut, and how a sentence begins with it
CUT_SPECS = (
    FieldSpec("part", "part", "which part", missing="a part"),
    FieldSpec("plane", "plane", "by", missing="a plane or a flat face"),
    FieldSpec("rest", "part", "new part"),
)
CUT_SAID = ("Split ", "{part}", " by ", "{plane}", ", the other piece new part ", "{rest}")


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


def way_in_cut(ctx: StepContext, cut: Frame, missing: str) -> kernel.Vec3:
    """The direction of the field ``way``, which lies in the cut. Raises StepError, with ``missing`` where nothing is picked."""
    if ctx.fields.way is None:
        raise StepError(missing, field="way")
    way = axis_of(ctx, ctx.fields.way, "way").direction
    if abs(dot(way, cut.z)) > IN_CUT:
        raise StepError("The way must lie in the cut; pick an edge or an axis along it.", field="way")
    return way


def in_lumps(whole: kernel.NamedSolid, made: Mapping[str, kernel.NamedSolid]) -> str:
    """What is said where a piece falls into more lumps than the whole had."""
    lumps = max(s.lumps for s in made.values())
    return f"One of the two pieces falls into {lumps} lumps." if lumps > whole.lumps else ""
