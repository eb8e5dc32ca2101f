"""What joints between flat faces share: two faces that were picked, each on a part of its own."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..document.picks import FlatFace
from ..errors import StepError
from ..recipe import PartState, StepContext
from ..solid import FaceInfo, Frame

__all__ = ["spans_of", "two_flats"]

_Asked = tuple[FlatFace | None, str, str]


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


def spans_of(part: PartState, face: int, frame: Frame) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """From where to where a face goes along a frame's ``y`` and ``z``, mm: (lows, highs)."""
    local = (part.mesh.corners_of(face) - np.array(frame.origin)) @ np.array([frame.y, frame.z]).T
    return local.min(axis=0), local.max(axis=0)
