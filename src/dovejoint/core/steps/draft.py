"""Draft: faces leant over by an angle, staying where a plane meets them."""

from __future__ import annotations

from typing import Annotated, Literal

from .. import solid as kernel
from ..document import FacePick, PlanePick, StepFields
from ..document.picks import BasePlane
from ..quantities.markers import Angle, Changed
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said


class DraftFields(StepFields):
    faces: Annotated[FacePick, Changed()]
    angle: Angle = "2 deg"
    lean: Literal["in", "out"] = "in"
    plane: PlanePick = BasePlane(plane="ground")


def _apply(ctx: StepContext) -> StepOutput:
    fields: DraftFields = ctx.fields
    angle = ctx.positive("angle", "The angle") * (1 if fields.lean == "in" else -1)
    neutral = ctx.frame(fields.plane, "plane")
    return StepOutput(
        parts={
            id: kernel.drafted(part.solid, faces, neutral, angle, ctx.id)
            for id, part, faces in ctx.faces_by_part(fields.faces, "faces")
        }
    )


register(
    StepKind(
        kind="draft",
        title="Draft",
        group="change faces",
        about="Lean faces over by an angle, from a plane on.",
        fields=DraftFields,
        specs=(
            FieldSpec("faces", "faces", "faces", missing="faces"),
            FieldSpec("angle", "angle", "angle", "2 deg"),
            FieldSpec("lean", "choice", "which way", "in", (Choice("in", "inwards"), Choice("out", "outwards"))),
            FieldSpec(
                "plane", "plane", "from where", {"rule": "base", "plane": "ground"}, missing="a plane or a flat face"
            ),
        ),
        sentence=said("Draft ", "{faces}", " by ", "{angle}", " ", "{lean}", ", staying at ", "{plane}"),
        apply=_apply,
        suits=("plane", "part", "face"),
        words="lean slope taper mould incline",
    )
)
