"""Repeat faces: what some faces of a part bound, a pocket or a boss whatever steps or file it came from, again elsewhere on that part."""

from __future__ import annotations

from typing import Annotated, Literal

from .. import solid as kernel
from ..document import FacePick, PlanePick
from ..document.picks import BasePlane
from ..errors import StepError
from ..quantities.markers import Changed
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, Work, register, said
from .layout import LAYOUT_CHOICES, LayoutFields, layout_said, layout_specs, motions_or_mirrored
from .result import changed, worked


class RepeatFacesFields(LayoutFields):
    """``faces`` are all those of a pocket, a hole or a boss; ``plane`` is what they are mirrored across."""

    faces: Annotated[FacePick, Changed()]
    how: Literal["row", "round", "turned", "along", "points", "mirror"] = "row"  # type: ignore[assignment]
    plane: PlanePick = BasePlane(plane="side")


def _apply(ctx: StepContext) -> StepOutput:
    fields: RepeatFacesFields = ctx.fields
    id, part, faces = ctx.faces_of_one(fields.faces, "faces")
    try:
        found = kernel.works_of_faces(part.solid, faces, ctx.id)
    except StepError as error:
        raise StepError(error.message, field="faces") from None
    moves = motions_or_mirrored(ctx, found[0][1])
    solid, works = part.solid, []
    for operation, tool in found:
        tools = [kernel.moved(tool, motion, f"{ctx.id}/copy{k}") for k, motion in moves]
        solid = worked(operation, solid, tools, ctx.id)
        works.append(Work(id, operation, tuple(tools)))
    if abs(solid.volume_mm3 - part.solid.volume_mm3) < 1e-6:
        raise StepError("Done again there they change nothing; take all faces of a pocket or a boss.", field="faces")
    made = changed(id, part.solid, solid)
    return StepOutput(parts=made.parts, note=made.note, works=tuple(works))


_MIRROR = {"how": ["mirror"]}

register(
    StepKind(
        kind="repeat_faces",
        title="Repeat faces",
        group="repeat",
        about="A pocket or a boss by its faces, again elsewhere.",
        fields=RepeatFacesFields,
        specs=(
            FieldSpec("faces", "faces", "faces", missing="all faces of a pocket or a boss"),
            *layout_specs((*LAYOUT_CHOICES, Choice("mirror", "mirrored across"))),
            FieldSpec("plane", "plane", "across", {"rule": "base", "plane": "side"}, missing="a plane or a flat face"),
        ),
        sentence=said("Repeat ", "{faces}", ",", *layout_said(said(("{plane}", _MIRROR)))),
        apply=_apply,
        suits=("plane", "part", "face"),
        words="pattern copy pocket hole boss array mirror row ring",
    )
)
