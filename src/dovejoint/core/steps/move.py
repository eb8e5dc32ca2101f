"""Move: a part elsewhere, by distances, about an axis, or onto a plane; or a copy of it, as a new part."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import PlanePick, StepFields
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Angle, Length, Number, PartId, PartMark
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said
from ..recipe.picks import AxisPick, axis_of
from ..recipe.picks.axes import BaseAxis


class MoveFields(StepFields):
    """``part`` is moved; where a copy is meant ``of`` stays and ``part`` is the new one."""

    what: Literal["part", "copy"] = "part"
    of: PartId = ""
    part: Annotated[str, PartMark("changes", "what=copy"), Field(max_length=40)] = ""
    how: Literal["by", "turn", "onto"] = "by"
    across: Length = "10 mm"
    deep: Length = "0 mm"
    up: Length = "0 mm"
    axis: AxisPick = BaseAxis(axis="up")
    angle: Angle = "90 deg"
    face: FlatFace | None = None
    onto: PlanePick | None = None
    facing: Literal["against", "along"] = "against"
    gap: Length = "0 mm"


def _where(ctx: StepContext) -> kernel.Motion:
    fields: MoveFields = ctx.fields
    if fields.how == "by":
        return kernel.Motion.shift((ctx.number("across"), ctx.number("deep"), ctx.number("up")))
    if fields.how == "turn":
        return kernel.Motion.turn(axis_of(ctx, fields.axis, "axis"), ctx.number("angle"))
    if fields.face is None:
        raise StepError("Pick the face that comes to lie there.", field="face")
    if fields.onto is None:
        raise StepError("Pick the plane or the face onto which it comes.", field="onto")
    moved = fields.part if fields.what == "part" else fields.of
    if fields.face.part != moved:
        raise StepError("The face must be one of the part that moves.", field="face")
    mine, theirs = ctx.frame(fields.face, "face"), ctx.frame(fields.onto, "onto")
    if isinstance(fields.onto, FlatFace) and fields.onto.part == moved:
        raise StepError("A part cannot come to lie on itself; pick a face of another.", field="onto")
    return kernel.Motion.face_to_face(mine, theirs.shifted(ctx.number("gap")), fields.facing == "against")


def _apply(ctx: StepContext) -> StepOutput:
    fields: MoveFields = ctx.fields
    if fields.what == "part":
        solid = ctx.part(fields.part).solid
        return StepOutput(parts={fields.part: kernel.moved(solid, _where(ctx))})
    if ctx.has_part(fields.part):
        raise StepError("A copy becomes a part of its own; that one is made by an earlier step.", field="part")
    copy = kernel.moved(ctx.part(fields.of, "of").solid, _where(ctx), f"{ctx.id}/copy")
    return StepOutput(parts={fields.part: copy})


_BY, _TURN, _ONTO = {"how": ["by"]}, {"how": ["turn"]}, {"how": ["onto"]}
_COPY, _PART = {"what": ["copy"]}, {"what": ["part"]}

register(
    StepKind(
        kind="move",
        title="Move",
        group="move",
        about="A part, or a copy of one: by distances, about an axis, onto a face.",
        fields=MoveFields,
        specs=(
            FieldSpec("what", "choice", "what moves", "part", (Choice("part", "Move"), Choice("copy", "Copy"))),
            FieldSpec("of", "part", "which part", missing="a part"),
            FieldSpec("part", "part", "part", missing="a part"),
            FieldSpec(
                "how",
                "choice",
                "how",
                "by",
                (Choice("by", "by"), Choice("turn", "turned about"), Choice("onto", "so that")),
            ),
            FieldSpec("across", "length", "to the right", "10 mm"),
            FieldSpec("deep", "length", "to the back", "0 mm"),
            FieldSpec("up", "length", "upwards", "0 mm"),
            FieldSpec("axis", "axis", "axis", {"rule": "axis_base", "axis": "up"}, missing="an axis"),
            FieldSpec("angle", "angle", "angle", "90 deg"),
            FieldSpec("face", "face", "its face", missing="a face of it"),
            FieldSpec(
                "facing",
                "choice",
                "how it lies",
                "against",
                (Choice("against", "lies on"), Choice("along", "lies level with")),
            ),
            FieldSpec("onto", "plane", "where to", missing="a plane or a flat face"),
            FieldSpec("gap", "length", "gap between", "0 mm"),
        ),
        sentence=said(
            "{what}",
            " ",
            ("{part}", _PART),
            ("{of}", _COPY),
            " ",
            "{how}",
            " ",
            ("{across}", _BY),
            (" to the right, ", _BY),
            ("{deep}", _BY),
            (" to the back and ", _BY),
            ("{up}", _BY),
            (" up", _BY),
            ("{axis}", _TURN),
            (" by ", _TURN),
            ("{angle}", _TURN),
            ("{face}", _ONTO),
            (" ", _ONTO),
            ("{facing}", _ONTO),
            (" ", _ONTO),
            ("{onto}", _ONTO),
            (" at ", _ONTO),
            ("{gap}", _ONTO),
            (", as new part ", _COPY),
            ("{part}", _COPY),
        ),
        apply=_apply,
        words="shift translate rotate align place put copy turn over",
    )
)


class ScaleFields(StepFields):
    part: Annotated[str, PartMark("changes"), Field(max_length=40)]
    factor: Number = "1.01"


def _scale(ctx: StepContext) -> StepOutput:
    factor = ctx.positive("factor", "The factor")
    if not 1e-3 <= factor <= 1e3 or not math.isfinite(factor):
        raise StepError("A part can be made up to a thousand times as large or as small.", field="factor")
    part = ctx.fields.part
    return StepOutput(parts={part: kernel.scaled(ctx.part(part).solid, factor)})


register(
    StepKind(
        kind="scale",
        title="Scale",
        group="move",
        about="A part, all sizes alike, from the origin.",
        fields=ScaleFields,
        specs=(
            FieldSpec("part", "part", "part", missing="a part"),
            FieldSpec("factor", "number", "times as large", "1.01"),
        ),
        sentence=said("Make ", "{part}", " ", "{factor}", " times as large"),
        apply=_scale,
        words="shrink grow larger smaller shrinkage",
    )
)
