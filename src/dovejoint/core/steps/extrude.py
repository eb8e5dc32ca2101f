"""Extrude: regions of a sketch, or a flat face, become a solid, as a new part or as a change of parts."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from .. import solid as kernel
from ..errors import StepError
from ..quantities.markers import Angle, Length
from ..recipe import Choice, FieldSpec, Grip, StepContext, StepKind, StepOutput, register, said, wanted
from ..recipe.picks import OutlinePick, UntilPick, outline_of
from ..solid import Frame
from ..solid.frame import scale
from .result import RESULT_SAID, RESULT_SPECS, ResultFields, begin_result, finished, one_part
from .until import until_met


class ExtrudeFields(ResultFields):
    """``both`` shares the distance between the two sides, ``each`` goes so far on both, ``two`` has a second one for below."""

    profile: OutlinePick
    inset: Length = "0 mm"
    direction: Literal["up", "down", "both", "each", "two"] = "up"
    extent: Literal["by", "through", "to"] = "by"
    distance: Length = "10 mm"
    below: Length = "5 mm"
    until: Annotated[UntilPick | None, Field()] = None
    short: Length = "0 mm"
    taper: Angle = "0 deg"


def _heights(ctx: StepContext, frame: Frame) -> tuple[float, float]:
    """Start and end over the outline's plane, mm."""
    fields: ExtrudeFields = ctx.fields
    if fields.extent == "by":
        distance = ctx.positive("distance", "The distance")
        below = ctx.positive("below", "The distance downwards") if fields.direction == "two" else 0.0
        return {
            "up": (0.0, distance),
            "down": (0.0, -distance),
            "both": (-distance / 2, distance / 2),
            "each": (-distance, distance),
            "two": (-below, distance),
        }[fields.direction]
    if fields.operation == "new":
        raise StepError("“Through all” needs a part to go through; give a distance.", field="extent")
    low, high = kernel.prism_extent([ctx.part(p).solid for p in (fields.part, *(a.part for a in fields.also))], frame)
    # a little beyond on both sides, so that no skin is left standing
    low, high = low - 1.0, high + 1.0
    one_way = fields.direction in ("up", "down")
    start, end = {"up": (0.0, high), "down": (0.0, low)}.get(fields.direction, (low, high))
    if one_way and end * (1 if fields.direction == "up" else -1) <= 1.0:
        raise StepError("There is nothing to go through on that side; turn the direction round.", field="direction")
    return start, end


def _tapered(ctx: StepContext, made: kernel.NamedSolid, region: kernel.Region, frame: Frame, mark: str) -> kernel.NamedSolid:  # fmt: skip
    fields: ExtrudeFields = ctx.fields
    down = fields.direction == "down"
    angle = ctx.number("taper")
    if abs(angle) < 1e-9:
        return made
    if not abs(angle) < math.radians(80):
        raise StepError("A taper is an angle below 80 deg.", field="taper")
    sides = [i for i, names in enumerate(made.names) if names[0].startswith(f"{ctx.id}/side(")]
    away = Frame(frame.origin, frame.y, frame.x) if down else frame
    try:
        return kernel.drafted(made, sides, away, angle, ctx.id)
    except StepError:
        pass
    try:
        # free curves narrow only by themselves: one way, by a distance
        if fields.extent != "by" or fields.direction not in ("up", "down"):
            raise StepError("")
        return kernel.narrowed(region, frame, _heights(ctx, frame)[1], angle, ctx.id, mark)
    except StepError:
        raise StepError(
            "The outline does not narrow so far: sides would meet before the end (or one is a free curve, which narrows "
            "up or down by a distance, and without holes). Take a smaller angle or a shorter way.",
            field="taper",
        ) from None


def _apply(ctx: StepContext) -> StepOutput:
    fields: ExtrudeFields = ctx.fields
    frame, regions = outline_of(ctx, fields.profile, "profile")
    inset = ctx.number("inset")
    if abs(inset) > 1e-9:
        try:
            regions = [kernel.region_set_in(region, inset) for region in regions]
        except StepError as error:
            raise StepError(error.message, field="inset") from None
    several = len(regions) > 1
    tools = []
    for region in regions:
        mark = region.name if several else ""
        if fields.extent == "to":
            made = until_met(ctx, region, frame, mark, ctx.number("short"))
        else:
            made = kernel.prism(region, frame, *_heights(ctx, frame), ctx.id, mark)
        tools.append(_tapered(ctx, made, region, frame, mark))
    return replace(finished(ctx, tools), grip=_grip(ctx, frame, regions[0]))


def _grip(ctx: StepContext, frame: Frame, region: kernel.Region) -> Grip | None:
    """Over the middle of the outline, where the extrusion ends."""
    fields: ExtrudeFields = ctx.fields
    if fields.extent != "by":
        return None
    end = ctx.number("distance") * {"down": -1.0, "both": 0.5}.get(fields.direction, 1.0)
    way = scale(frame.z, -1.0 if fields.direction == "down" else 1.0)
    return Grip("distance", frame.to_world(*region.centre, end), way, 2.0 if fields.direction == "both" else 1.0)


_BY, _TO = {"extent": ["by"]}, {"extent": ["to"]}
_TWO = {"extent": ["by"], "direction": ["two"]}

register(
    StepKind(
        kind="extrude",
        title="Extrude",
        group="make",
        about="Pull an outline or a flat face up into a part, or cut one.",
        fields=ExtrudeFields,
        specs=(
            FieldSpec("profile", "outline", "outline", missing="an outline or a flat face"),
            FieldSpec("inset", "length", "set in all round", "0 mm"),
            FieldSpec(
                "direction",
                "choice",
                "direction",
                "up",
                (
                    Choice("up", "up"),
                    Choice("down", "down"),
                    Choice("both", "both ways, in all"),
                    Choice("each", "both ways, each"),
                    Choice("two", "both ways, up"),
                ),
            ),
            FieldSpec(
                "extent",
                "choice",
                "how far",
                "by",
                (Choice("by", "by"), Choice("through", "through all"), Choice("to", "until it meets")),
            ),
            FieldSpec("distance", "length", "distance", "10 mm"),
            FieldSpec("below", "length", "distance downwards", "5 mm"),
            FieldSpec("until", "until", "where it ends", missing="a face, a plane or a part"),
            FieldSpec("short", "length", "short of it by", "0 mm"),
            FieldSpec("taper", "angle", "narrowing", "0 deg"),
            *RESULT_SPECS,
        ),
        sentence=said(
            "Extrude ",
            "{profile}",
            *wanted("set the outline in", ", set in by ", "{inset}", ","),
            " ",
            "{direction}",
            " ",
            "{extent}",
            (" ", _BY),
            ("{distance}", _BY),
            (" and down by ", _TWO),
            ("{below}", _TWO),
            (" ", _TO),
            ("{until}", _TO),
            *wanted("stop short of it", (", short of it by ", _TO), ("{short}", _TO), (",", _TO)),
            *wanted("narrow it by an angle", ", narrowing by ", "{taper}", ","),
            *RESULT_SAID,
        ),
        apply=_apply,
        sister=lambda fields: one_part(fields) and fields.extent == "by",
        suits=("region", "face"),
        words="boss pocket hole bore block plate taper thicken cover until",
        begin=begin_result,
    )
)
