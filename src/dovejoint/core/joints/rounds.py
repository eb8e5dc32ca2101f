"""What joints of round halves share: round faces that were picked, and how they lie along an axis."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .. import solid as kernel
from ..document.picks import FlatFace
from ..errors import PickError, StepError
from ..recipe import PartState, StepContext
from ..recipe.picks import AxisPick, axis_of
from ..solid import Axis, Frame, Vec3
from ..solid.frame import add, dot, scale, sub

__all__ = [
    "Coaxial",
    "diameter_mm",
    "extent_along",
    "mouth_frame",
    "ring_of",
    "round_pick",
    "seen_axis",
    "shaft_and_bore",
    "span_along",
]

#: halves that were both there before must stand in one line within this, mm
IN_LINE_MM = 0.5
_BASE: dict[str, Vec3] = {"across": (1.0, 0.0, 0.0), "deep": (0.0, 1.0, 0.0), "up": (0.0, 0.0, 1.0)}


def seen_axis(ctx: StepContext | None, pick: AxisPick | None) -> Vec3 | None:
    """The direction of an axis that was picked: exactly with a context, else that of a base axis; ``None`` where it is not known."""
    if ctx is not None and pick is not None:
        return axis_of(ctx, pick, "axis").direction
    base = getattr(pick, "axis", None)
    return _BASE.get(base) if isinstance(base, str) else None


def mouth_frame(along: Vec3, end: str) -> Frame:
    """A frame in the directions of a mouth at the ``upper`` or ``lower`` end of an axis: its ``z`` points out."""
    up = Axis((0.0, 0.0, 0.0), along).upward().direction
    return Frame.on_plane((0.0, 0.0, 0.0), up if end == "upper" else scale(up, -1.0))


def diameter_mm(ctx: StepContext | None, pick: FlatFace | None, field: str) -> float:
    """The diameter of a round face as it stands, or as it was seen where there is no context; 0 where it is not known."""
    if pick is None:
        return 0.0
    if ctx is not None:
        part, index = ctx.faces_named(pick, field)
        found = kernel.round_face(part.solid, index)
        if found is not None:
            return 2 * found.radius_mm
    return 2 * pick.face.seen.radius if pick.face.seen is not None else 0.0


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


@dataclass(frozen=True)
class Coaxial:
    """A shaft in a bore, both there: their parts and faces, a frame at the bore's mouth whose ``z`` points out of it, how deep the bore goes from there, and from where to where the shaft goes over
    the mouth; mm."""

    host: PartState
    bore: kernel.RoundFace
    part: PartState
    shaft: kernel.RoundFace
    frame: Frame
    deep_mm: float
    span_mm: tuple[float, float]


def shaft_and_bore(ctx: StepContext) -> Coaxial:
    """The step's ``bore`` and ``shaft`` of two parts that stand in one line, seen from its ``end``. Raises PickError, StepError."""
    fields = ctx.fields
    host, _, bore = round_pick(ctx, fields.bore, "bore", hollow=True)
    part, _, shaft = round_pick(ctx, fields.shaft, "shaft", hollow=False)
    if fields.bore.part == fields.shaft.part:
        raise StepError("A joint is between two parts; these two faces belong to one.", field="shaft")
    axis = bore.axis.upward()
    if not axis.in_line(shaft.axis, IN_LINE_MM):
        raise StepError("Shaft and bore do not stand in one line; pick two that do.", field="shaft")
    low, high = span_along(bore, axis)
    lower = fields.end == "lower"
    mouth, sign = (low, -1.0) if lower else (high, 1.0)
    start, stop = sorted(sign * (h - mouth) for h in span_along(shaft, axis))
    return Coaxial(host, bore, part, shaft, axis.frame_at(mouth, turned=lower), high - low, (start, stop))


def extent_along(part: PartState, frame: Frame) -> tuple[float, float]:
    """The lowest and the highest place of a part over a frame's plane, mm, however it lies to the axes (by its triangles)."""
    heights = (part.mesh.positions - np.array(frame.origin)) @ np.array(frame.z)
    return float(heights.min()), float(heights.max())


def ring_of(frame: Frame, radius_mm: float, height_mm: float, count: int) -> list[tuple[Vec3, Vec3]]:
    """Places round a frame's ``z`` at a height, each with the way out from it."""
    out = []
    for k in range(count):
        x, y = math.cos(2 * math.pi * k / count), math.sin(2 * math.pi * k / count)
        out.append((frame.to_world(x * radius_mm, y * radius_mm, height_mm), sub(frame.to_world(x, y), frame.origin)))
    return out


def span_along(face: kernel.RoundFace, axis: Axis) -> tuple[float, float]:
    """Where a face begins and ends along an axis in line with its own, mm from that axis's origin."""
    ends = [
        dot(sub(add(face.axis.origin, scale(face.axis.direction, h)), axis.origin), axis.direction)
        for h in (face.low_mm, face.high_mm)
    ]
    return min(ends), max(ends)
