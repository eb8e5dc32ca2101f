"""Fillet: round edges, of one part or of several, with one radius or several in one step."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from .. import solid as kernel
from ..document import EdgePick, StepFields
from ..document.picks import Pick
from ..errors import StepError
from ..quantities.markers import Changed, Length
from ..recipe import FieldSpec, StepContext, StepKind, StepOutput, each, register, said


class Rounding(Pick):
    """Further edges with a radius of their own."""

    edges: Annotated[EdgePick, Changed()]
    radius: Length = "1 mm"


class FilletFields(StepFields):
    edges: Annotated[EdgePick, Changed()]
    radius: Length = "2 mm"
    more: Annotated[list[Rounding], Field(max_length=20)] = []


def _apply(ctx: StepContext) -> StepOutput:
    """All edges are found on the part as it stands before the step, and all are rounded at once."""
    fields: FilletFields = ctx.fields
    radii: dict[str, dict[int, float]] = {}
    states = {}
    for k, pick in enumerate((fields.edges, *(r.edges for r in fields.more))):
        at = "" if k == 0 else f"more.{k - 1}."
        radius = ctx.positive(f"{at}radius", "The radius")
        for part, state, edges in ctx.edges_by_part(pick, f"{at}edges"):
            states[part] = state
            of_part = radii.setdefault(part, {})
            for edge in edges:
                if abs(of_part.setdefault(edge, radius) - radius) > 1e-9:
                    raise StepError("An edge has two radii here; take it out of one of the two.", field=f"{at}edges")
    return StepOutput(parts={p: kernel.fillet(states[p].solid, found, ctx.id) for p, found in radii.items()})


_SPECS = (FieldSpec("edges", "edges", "edges", missing="edges"), FieldSpec("radius", "length", "radius", "1 mm"))

register(
    StepKind(
        kind="fillet",
        title="Fillet",
        group="finish edges",
        about="Round edges, with one radius or several.",
        fields=FilletFields,
        specs=(
            FieldSpec("edges", "edges", "edges", missing="edges"),
            FieldSpec("radius", "length", "radius", "2 mm"),
            FieldSpec("more", "clauses", "more edges with a radius of their own", [], specs=_SPECS),
        ),
        sentence=said("Fillet ", "{edges}", " by ", "{radius}", each("more", ", and ", "{edges}", " by ", "{radius}")),
        apply=_apply,
        suits=("edge", "face"),
        words="round soften",
    )
)
