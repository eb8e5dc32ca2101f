"""Parallel plane: a plane at a distance from a base plane or a flat face, for sketches."""

from __future__ import annotations

from ..document import PlanePick, StepFields
from ..quantities.markers import Length
from ..recipe import FieldSpec, StepContext, StepKind, StepOutput, register, said


class PlaneFields(StepFields):
    base: PlanePick
    distance: Length = "10 mm"


def _apply(ctx: StepContext) -> StepOutput:
    fields: PlaneFields = ctx.fields
    return StepOutput(plane=ctx.frame(fields.base, "base").shifted(ctx.number("distance")))


register(
    StepKind(
        kind="plane",
        title="Parallel plane",
        group="refer",
        about="A plane at a distance from another, to sketch on.",
        fields=PlaneFields,
        specs=(
            FieldSpec("base", "plane", "plane", {"rule": "base", "plane": "ground"}, missing="a plane or a flat face"),
            FieldSpec("distance", "length", "distance", "10 mm"),
        ),
        sentence=said("Parallel plane to ", "{base}", " at ", "{distance}"),
        apply=_apply,
        suits=("face",),
    )
)
