"""Fillet: round edges."""

from __future__ import annotations

from .. import solid as kernel
from ..document import EdgePick, StepFields
from ..quantities.markers import Length
from ..recipe import FieldSpec, StepContext, StepKind, StepOutput, register, said


class FilletFields(StepFields):
    edges: EdgePick
    radius: Length = "2 mm"


def _apply(ctx: StepContext) -> StepOutput:
    fields: FilletFields = ctx.fields
    radius = ctx.positive("radius", "The radius")
    part, edges = ctx.edges(fields.edges, "edges")
    return StepOutput(parts={fields.edges.part: kernel.fillet(part.solid, edges, radius, ctx.id)})


register(
    StepKind(
        kind="fillet",
        title="Fillet",
        group="finish edges",
        about="Round edges with a radius.",
        fields=FilletFields,
        specs=(FieldSpec("edges", "edges", "edges", missing="edges"), FieldSpec("radius", "length", "radius", "2 mm")),
        sentence=said("Fillet ", "{edges}", " by ", "{radius}"),
        apply=_apply,
        suits=("edge", "face"),
    )
)
