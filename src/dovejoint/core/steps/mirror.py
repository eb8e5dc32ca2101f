"""Mirror: a part's mirror image across a plane, as a part of its own, or added to a part, cut from it, or kept where they overlap."""

from __future__ import annotations

from typing import ClassVar

from .. import solid as kernel
from ..document import PlanePick
from ..quantities.markers import PartId
from ..recipe import FieldSpec, StepContext, StepKind, StepOutput, register, said
from .result import RESULT_SAID, RESULT_SPECS, ResultFields, finished


class MirrorFields(ResultFields):
    copy_of: ClassVar[str] = "of"

    of: PartId
    plane: PlanePick


def _apply(ctx: StepContext) -> StepOutput:
    fields: MirrorFields = ctx.fields
    frame = ctx.frame(fields.plane, "plane")
    image = kernel.moved(ctx.part(fields.of, "of").solid, kernel.Motion.mirror(frame), f"{ctx.id}/mirror")
    return finished(ctx, [image])


register(
    StepKind(
        kind="mirror",
        title="Mirror",
        group="repeat",
        about="A part's mirror image, as a new part or joined to one.",
        fields=MirrorFields,
        specs=(
            FieldSpec("of", "part", "which part", missing="a part"),
            FieldSpec("plane", "plane", "across", missing="a plane or a flat face"),
            *RESULT_SPECS,
        ),
        sentence=said("Mirror ", "{of}", " across ", "{plane}", *RESULT_SAID),
        apply=_apply,
        words="reflect symmetric flip left right copy",
    )
)
