"""Sweep: an outline carried along edges or along the lines of a sketch."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import Project, RegionPick
from ..errors import StepError
from ..quantities.markers import Angle, Number
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said, wanted
from ..recipe.picks import PathPick, path_of
from .result import RESULT_SAID, RESULT_SPECS, ResultFields, finished


class SweepFields(ResultFields):
    """``stance`` says whether the outline turns with the path, stays upright while it goes round, or is kept on a ``guide`` with its rim."""

    profile: RegionPick
    path: PathPick
    stance: Literal["turning", "upright", "guided"] = "turning"
    guide: Annotated[PathPick | None, Field()] = None
    end_scale: Number = "1"
    twist: Angle = "0 deg"


def _apply(ctx: StepContext) -> StepOutput:
    fields: SweepFields = ctx.fields
    sketch, regions = ctx.regions(fields.profile, "profile")
    path = path_of(ctx, fields.path, "path")
    end = ctx.positive("end_scale", "How large it ends")
    twist = ctx.number("twist")
    if abs(twist) > math.radians(7200):
        raise StepError("Twenty turns are the most.", field="twist")
    guide = None
    if fields.stance == "guided":
        if fields.guide is None:
            raise StepError("Pick the edges or the outline on which its rim is kept.", field="guide")
        if abs(twist) > 1e-9:
            raise StepError("An outline is kept on a guide or twisted, not both in one step.", field="twist")
        guide = path_of(ctx, fields.guide, "guide")
    several = len(regions) > 1
    tools = [
        kernel.swept_along(
            region,
            sketch.frame,
            path,
            ctx.id,
            region.name if several else "",
            upright=(0.0, 0.0, 1.0) if fields.stance == "upright" else None,
            scale_end=end,
            twist_rad=twist,
            guide=guide,
        )
        for region in regions
    ]
    return finished(ctx, tools)


_GUIDED = {"stance": ["guided"]}


def _begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """What is carried along edges of a part belongs to that part."""
    path = fields.get("path")
    part = path.get("part") if isinstance(path, Mapping) and answered == "path" else None
    return {"part": part} if part in {p.id for p in project.parts} else {}


register(
    StepKind(
        kind="sweep",
        title="Sweep",
        group="make",
        about="Carry an outline along edges or drawn lines.",
        fields=SweepFields,
        specs=(
            FieldSpec("profile", "regions", "outline", missing="an outline"),
            FieldSpec("path", "path", "path", missing="a path"),
            FieldSpec(
                "stance",
                "choice",
                "how it stands",
                "turning",
                (
                    Choice("turning", "turning with it"),
                    Choice("upright", "staying upright"),
                    Choice("guided", "its rim kept on"),
                ),
            ),
            FieldSpec("guide", "path", "guide", missing="a guide"),
            FieldSpec("end_scale", "number", "times as large at the end", "1"),
            FieldSpec("twist", "angle", "twisted by", "0 deg"),
            *RESULT_SPECS,
        ),
        sentence=said(
            "Sweep ",
            "{profile}",
            " along ",
            "{path}",
            ", ",
            "{stance}",
            (" ", _GUIDED),
            ("{guide}", _GUIDED),
            *wanted("another size at the end", ", ", "{end_scale}", " times as large at its end"),
            *wanted("a twist", ", twisted by ", "{twist}"),
            ",",
            *RESULT_SAID,
        ),
        begin=_begin,
        apply=_apply,
        suits=("region",),
        words="path pipe tube groove rim bend wire guide rail",
    )
)
