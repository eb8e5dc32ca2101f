"""What joints between flat faces share: two faces that were picked, each on a part of its own; a face that something stands on, and the part that takes it."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from .. import solid as kernel
from ..document.picks import FlatFace
from ..errors import StepError
from ..recipe import PartState, StepContext
from ..solid import FaceInfo, Frame, Vec3
from ..solid.frame import dot, sub

__all__ = ["block_named", "lying_on", "relieved", "spans_of", "stands_and_host", "two_flats"]

_Asked = tuple[FlatFace | None, str, str]
#: faces lie on each other within this, mm (as thick as plates may vary, so that joints stand at limits too), and look at each other within this cosine
ON_MM, OPPOSITE = 0.3, 1e-3


def two_flats(
    ctx: StepContext, first: _Asked, second: _Asked
) -> tuple[tuple[PartState, FaceInfo], tuple[PartState, FaceInfo]]:
    """Two flat faces of different parts, each asked for as (pick, field, what it is). Raises PickError, StepError."""
    found = []
    for pick, field, what in (first, second):
        if pick is None:
            raise StepError(f"Pick {what}.", field=field)
        part, index = ctx.faces_named(pick, field)
        if part.faces[index].kind != "plane":
            raise StepError(f"Pick {what}: a flat face.", field=field)
        found.append((pick.part, (part, part.faces[index])))
    if found[0][0] == found[1][0]:
        raise StepError("A joint is between two parts; these two faces belong to one.", field=second[1])
    return found[0][1], found[1][1]


def stands_and_host(ctx: StepContext, stands: str, counterpart: str) -> tuple[PartState, int, PartState]:
    """The part and its flat face ``base`` that something ``stands`` on (“the rail stands”), and the part ``host`` that takes it by its ``counterpart``
    (“the slot goes into”). Raises PickError, StepError."""
    base: FlatFace | None = ctx.fields.base
    missing = StepError(f"Pick the flat face that {stands} on.", field="base")
    if base is None:
        raise missing
    if ctx.fields.host == base.part:
        raise StepError(f"{counterpart[0].upper()}{counterpart[1:]} another part than the one that {stands} on.", field="host")  # fmt: skip
    carrier, found = ctx.faces_named(base, "base")
    if carrier.faces[found].kind != "plane":
        raise missing
    return carrier, found, ctx.part(ctx.fields.host, "host")


def lying_on(host: PartState, at: Vec3, normal: Vec3) -> list[int]:
    """The faces of a part that lie on a plane and look against it. Raises StepError where there is none."""
    found = [
        i
        for i, f in enumerate(host.faces)
        if f.kind == "plane" and dot(f.normal, normal) < OPPOSITE - 1 and abs(dot(sub(f.at, at), normal)) <= ON_MM
    ]
    if not found:
        raise StepError("That part has no flat face that lies on this one; move it there, or pick another part.", field="host")  # fmt: skip
    return found


def block_named(frame: Frame, wide_mm: float, deep_mm: float, low_mm: float, high_mm: float, step: str, word: str) -> kernel.NamedSolid:  # fmt: skip
    """A block about a frame's ``z`` between two heights; its faces are ``step/word(left|right|front|back|floor|lid)``."""
    ends = {f"{step}/start": f"{step}/{word}(floor)", f"{step}/end": f"{step}/{word}(lid)"}
    at = Frame(frame.to_world(0.0, 0.0, low_mm), frame.x, frame.y)
    made = kernel.block(at, wide_mm, deep_mm, high_mm - low_mm, step)
    return made.renamed(lambda n: ends.get(n, n.replace(f"{step}/side(", f"{step}/{word}(")))


def relieved(
    frame: Frame, corners: Sequence[tuple[float, float]], mill_mm: float, low_mm: float, high_mm: float, step: str, word: str
) -> list[kernel.NamedSolid]:  # fmt: skip
    """What a round cutter takes out of sharp inner corners (in a frame's plane, those of a rectangle about its origin), so that what has sharp
    outer corners goes in: circles through the corners, set in along the diagonals. None where the cutter has no diameter."""
    if mill_mm <= 0:
        return []
    off = mill_mm / 2 / math.sqrt(2)
    out = []
    for k, (x, y) in enumerate(corners, 1):
        at = Frame(frame.to_world(x - math.copysign(off, x), y - math.copysign(off, y)), frame.x, frame.y)
        out.append(kernel.bar(at, mill_mm / 2, low_mm, high_mm, step, f"{word}({k})"))
    return out


def spans_of(part: PartState, face: int, frame: Frame) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """From where to where a face goes along a frame's ``y`` and ``z``, mm: (lows, highs)."""
    local = (part.mesh.corners_of(face) - np.array(frame.origin)) @ np.array([frame.y, frame.z]).T
    return local.min(axis=0), local.max(axis=0)
