"""Revolve: regions of a sketch turned about an axis in their plane, all the way round or in part."""

from __future__ import annotations

import math
from typing import Literal

from .. import solid as kernel
from ..document import RegionPick
from ..errors import StepError
from ..quantities.markers import Angle
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said
from ..recipe.picks import AxisPick, axis_of
from .result import RESULT_SAID, RESULT_SPECS, ResultFields, finished, one_part


class RevolveFields(ResultFields):
    profile: RegionPick
    axis: AxisPick
    turn: Literal["full", "part"] = "full"
    angle: Angle = "90 deg"
    way: Literal["one", "other", "both"] = "one"


def _angles(ctx: StepContext) -> tuple[float, float]:
    """Where the turn begins and ends, rad."""
    fields: RevolveFields = ctx.fields
    if fields.turn == "full":
        return 0.0, 2 * math.pi
    angle = ctx.positive("angle", "The angle")
    if angle > 2 * math.pi + 1e-9:
        raise StepError("A turn goes once round at most: 360 deg.", field="angle")
    return {"one": (0.0, angle), "other": (0.0, -angle), "both": (-angle / 2, angle / 2)}[fields.way]


def _apply(ctx: StepContext) -> StepOutput:
    fields: RevolveFields = ctx.fields
    sketch, regions = ctx.regions(fields.profile, "profile")
    axis = axis_of(ctx, fields.axis, "axis")
    start, end = _angles(ctx)
    several = len(regions) > 1
    tools = [kernel.revolve(r, sketch.frame, axis, start, end, ctx.id, r.name if several else "") for r in regions]
    return finished(ctx, tools)


register(
    StepKind(
        kind="revolve",
        title="Revolve",
        group="make",
        about="Turn an outline about an axis into a part, or add to one, or cut it.",
        fields=RevolveFields,
        specs=(
            FieldSpec("profile", "regions", "outline", missing="an outline"),
            FieldSpec("axis", "axis", "axis", missing="an axis"),
            FieldSpec("turn", "choice", "how far", "full", (Choice("full", "all the way round"), Choice("part", "by"))),
            FieldSpec("angle", "angle", "angle", "90 deg"),
            FieldSpec(
                "way",
                "choice",
                "which way",
                "one",
                (Choice("one", "one way"), Choice("other", "the other way"), Choice("both", "half to both sides")),
            ),
            *RESULT_SPECS,
        ),
        sentence=said(
            "Revolve ",
            "{profile}",
            " about ",
            "{axis}",
            " ",
            "{turn}",
            (" ", {"turn": ["part"]}),
            ("{angle}", {"turn": ["part"]}),
            (" ", {"turn": ["part"]}),
            ("{way}", {"turn": ["part"]}),
            *RESULT_SAID,
        ),
        apply=_apply,
        sister=one_part,
        suits=("region",),
        words="turn lathe spin round groove",
    )
)
