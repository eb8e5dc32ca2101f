"""Chamfer: bevel edges, by one distance, by two, or by a distance and an angle."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from .. import solid as kernel
from ..document import EdgePick, StepFields
from ..errors import StepError
from ..quantities.markers import Angle, Changed, Length
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said


class ChamferFields(StepFields):
    edges: Annotated[EdgePick, Changed()]
    distance: Length = "1 mm"
    shape: Literal["even", "uneven", "angled"] = "even"
    second: Length = "1 mm"
    angle: Angle = "30 deg"


def _apply(ctx: StepContext) -> StepOutput:
    fields: ChamferFields = ctx.fields
    first = ctx.positive("distance", "The distance")
    second = first
    if fields.shape == "uneven":
        second = ctx.positive("second", "The second distance")
    elif fields.shape == "angled":
        angle = ctx.positive("angle", "The angle")
        if angle >= math.radians(89):
            raise StepError("A chamfer leans by an angle from above 0 to below 89 deg.", field="angle")
        # measured from the face along which the distance is taken, where the two faces are square to each other
        second = first * math.tan(angle)
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
        about="Bevel edges, evenly, by two distances, or by an angle.",
        fields=ChamferFields,
        specs=(
            FieldSpec("edges", "edges", "edges", missing="edges"),
            FieldSpec("distance", "length", "distance", "1 mm"),
            FieldSpec(
                "shape",
                "choice",
                "shape",
                "even",
                (Choice("even", "evenly"), Choice("uneven", "and"), Choice("angled", "leaning by")),
            ),
            FieldSpec("second", "length", "second distance", "1 mm"),
            FieldSpec("angle", "angle", "angle", "30 deg"),
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
            (" ", {"shape": ["angled"]}),
            ("{angle}", {"shape": ["angled"]}),
        ),
        apply=_apply,
        suits=("edge", "face"),
        words="bevel cut corners",
    )
)
