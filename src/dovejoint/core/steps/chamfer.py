"""Chamfer: bevel edges, by one distance or by two."""

from __future__ import annotations

from typing import Annotated, Literal

from .. import solid as kernel
from ..document import EdgePick, StepFields
from ..quantities.markers import Changed, Length
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said


class ChamferFields(StepFields):
    edges: Annotated[EdgePick, Changed()]
    distance: Length = "1 mm"
    shape: Literal["even", "uneven"] = "even"
    second: Length = "1 mm"


def _apply(ctx: StepContext) -> StepOutput:
    fields: ChamferFields = ctx.fields
    first = ctx.positive("distance", "The distance")
    second = first if fields.shape == "even" else ctx.positive("second", "The second distance")
    return StepOutput(
        parts={
            id: kernel.chamfer(part.solid, edges, first, second, ctx.id)
            for id, part, edges in ctx.edges_by_part(fields.edges, "edges")
        }
    )


register(
    StepKind(
        kind="chamfer",
        title="Chamfer",
        group="finish edges",
        about="Bevel edges, evenly or by two distances.",
        fields=ChamferFields,
        specs=(
            FieldSpec("edges", "edges", "edges", missing="edges"),
            FieldSpec("distance", "length", "distance", "1 mm"),
            FieldSpec("shape", "choice", "shape", "even", (Choice("even", "evenly"), Choice("uneven", "and"))),
            FieldSpec("second", "length", "second distance", "1 mm"),
        ),
        sentence=said(
            "Chamfer ",
            "{edges}",
            " by ",
            "{distance}",
            " ",
            "{shape}",
            (" ", {"shape": ["uneven"]}),
            ("{second}", {"shape": ["uneven"]}),
        ),
        apply=_apply,
        suits=("edge", "face"),
        words="bevel cut corners",
    )
)
