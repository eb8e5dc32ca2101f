"""Outlines: regions of a sketch, or a flat face of a part as it is; and where something ends: any face, a plane, or wherever a part begins."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from ... import solid as kernel
from ...document.picks import BasePlane, FixedPlane, FlatFace, Pick, RegionPick, StepPlane
from ...errors import StepError
from ...quantities.markers import PartId
from ...solid import Frame
from ..outputs import FaceOutline
from . import faces, planes  # their rules are used here
from .kind import PickKind, PickRule, Pointing, Ready, register_pick

if TYPE_CHECKING:
    from ..context import StepContext

__all__ = ["OutlinePick", "PartEnd", "UntilPick", "outline_of"]

_ = (faces, planes)


class PartEnd(Pick):
    """Wherever a part begins, whatever faces it has there."""

    rule: Literal["part_end"] = "part_end"
    part: PartId


UntilPick = Annotated[BasePlane | StepPlane | FlatFace | FixedPlane | PartEnd, Field(discriminator="rule")]
OutlinePick = Annotated[RegionPick | FlatFace, Field(discriminator="rule")]


def outline_of(ctx: StepContext, pick: RegionPick | FlatFace, field: str) -> tuple[Frame, list[kernel.Region]]:
    """The plane and the regions that a pick means; of a flat face, its own outline with its holes. Raises PickError, StepError."""
    if isinstance(pick, RegionPick):
        sketch, regions = ctx.regions(pick, field)
        return sketch.frame, regions
    part, index = ctx.faces_named(pick, field)
    if part.faces[index].kind != "plane":
        raise StepError("Only a flat face is an outline; the one picked is round.", field=field)
    frame, regions = kernel.region_of_face(part.solid, index)
    curves = tuple((name, f.kind, f.places, f.radius) for name, f in kernel.face_curves(part.solid, index, frame))
    ctx.outlines[field] = FaceOutline(frame, curves)
    return frame, regions


register_pick(
    PickKind(
        "outline",
        "Point at areas of an outline or at a flat face, or take a whole outline.",
        ("regions", "flat"),
        (Pointing("region", "regions", "names", many=True), Pointing("face", "flat", "face", only=("plane",))),
        planes.WHOLE_OUTLINES,
    )
)
register_pick(
    PickKind(
        "until",
        "Point at the face where it ends, or take a plane, or a part.",
        ("base", "plane", "flat", "fixed", "part_end"),
        (Pointing("face", "flat", "face"), Pointing("plane", "plane", "step")),
        (
            Ready({"rule": "plane"}, "{step}", "plane"),
            Ready({"rule": "part_end"}, "{part}, wherever it begins", "part"),
        ),
    ),
    PickRule("part_end", PartEnd, lambda namer, pick: namer.part(pick.part), lambda ctx, pick: []),
)
