"""Thicken: a wall on faces of any shape, as a part of its own, or added to one, cut from it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from .. import solid as kernel
from ..document import FacePick, Project
from ..errors import StepError
from ..quantities.markers import Length
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said
from .result import RESULT_SAID, RESULT_SPECS, ResultFields, finished


class ThickenFields(ResultFields):
    """``faces`` are of one part and hang together."""

    faces: FacePick
    way: Literal["out", "in"] = "out"
    wall: Length = "2 mm"


def _apply(ctx: StepContext) -> StepOutput:
    fields: ThickenFields = ctx.fields
    wall = ctx.positive("wall", "The wall")
    part, faces = ctx.faces(fields.faces, "faces")
    try:
        made = kernel.thickened(part.solid, faces, wall if fields.way == "out" else -wall, ctx.id)
    except StepError as error:
        raise StepError(error.message, field=error.field or "wall") from None
    return finished(ctx, [made])


def _begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """A wall that is added or cut goes to the part whose faces they are."""
    faces = fields.get("faces")
    part = faces.get("part") if isinstance(faces, Mapping) else None
    if answered == "operation" and fields.get("operation") != "new" and part in {p.id for p in project.parts}:
        return {"part": part}
    return {}


register(
    StepKind(
        kind="thicken",
        title="Thicken faces",
        group="make",
        about="A wall on faces, flat or bent, out or into the part.",
        fields=ThickenFields,
        specs=(
            FieldSpec("faces", "faces", "faces", missing="faces that hang together"),
            FieldSpec("way", "choice", "which way", "out", (Choice("out", "outwards"), Choice("in", "into the part"))),
            FieldSpec("wall", "length", "wall", "2 mm"),
            *RESULT_SPECS,
        ),
        sentence=said("Thicken ", "{faces}", " ", "{way}", " by ", "{wall}", *RESULT_SAID),
        apply=_apply,
        begin=_begin,
        suits=("plane", "part", "face"),
        words="offset wall skin sheet cover sleeve surface shell",
    )
)
