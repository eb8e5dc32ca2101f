"""Move: a part (or several, as one) elsewhere, by distances, about an axis, or onto a plane; or a copy of it, as a new part."""

from __future__ import annotations

import math
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import PlanePick, StepFields
from ..document.picks import FlatFace, Pick
from ..errors import StepError
from ..quantities.markers import Angle, Length, Number, PartId, PartMark
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, each, register, said
from ..recipe.picks import AxisPick, axis_of
from ..recipe.picks.axes import BaseAxis


class MovedToo(Pick):
    """A further part that moves with the first, as one with it."""

    part: Annotated[str, PartMark("changes"), Field(max_length=40)]


class MoveFields(StepFields):
    """``part`` is moved, and ``also`` with it; where a copy is meant ``of`` stays and ``part`` is the new one."""

    copy_of: ClassVar[str] = "of"

    what: Literal["part", "copy"] = "part"
    of: PartId = ""
    part: Annotated[str, PartMark("changes", "what=copy"), Field(max_length=40)] = ""
    also: Annotated[list[MovedToo], Field(max_length=60)] = []
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
    moving = {fields.part, *(a.part for a in fields.also)} if fields.what == "part" else {fields.of}
    if fields.face.part not in moving:
        raise StepError("The face must be one of the part that moves.", field="face")
    mine, theirs = ctx.frame(fields.face, "face"), ctx.frame(fields.onto, "onto")
    if isinstance(fields.onto, FlatFace) and fields.onto.part in moving:
        raise StepError("What moves cannot come to lie on itself; pick a face of another part.", field="onto")
    return kernel.Motion.face_to_face(mine, theirs.shifted(ctx.number("gap")), fields.facing == "against")


def _apply(ctx: StepContext) -> StepOutput:
    fields: MoveFields = ctx.fields
    if fields.what == "part":
        parts: dict[str, kernel.NamedSolid] = {}
        motion = _where(ctx)
        for field, part in (("part", fields.part), *((f"also.{k}.part", a.part) for k, a in enumerate(fields.also))):
            if part in parts:
                raise StepError("A part stands here twice; take one of them out.", field=field)
            parts[part] = kernel.moved(ctx.part(part, field).solid, motion)
        return StepOutput(parts=parts)
    if fields.also:
        raise StepError("A copy is made of one part; take the others out, or use “Copies”.", field="also")
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
        about="A part, several as one, or a copy of one: by distances, about an axis, onto a face.",
        fields=MoveFields,
        specs=(
            FieldSpec("what", "choice", "what moves", "part", (Choice("part", "Move"), Choice("copy", "Copy"))),
            FieldSpec("of", "part", "which part", missing="a part"),
            FieldSpec("part", "part", "part", missing="a part"),
            FieldSpec(
                "also",
                "clauses",
                "another part that moves with it",
                [],
                specs=(FieldSpec("part", "part", "part", missing="a part"),),
            ),
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
            each("also", " and ", "{part}"),
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
    """``each``: by factors of its own across (X), deep (Y) and up (Z), as plastic shrinks."""

    part: Annotated[str, PartMark("changes"), Field(max_length=40)]
    sizes: Literal["alike", "each"] = "alike"
    factor: Number = "1.01"
    across: Number = "1.01"
    deep: Number = "1.01"
    up: Number = "1.01"


def _factor(ctx: StepContext, field: str) -> float:
    factor = ctx.positive(field, "The factor")
    if not 1e-3 <= factor <= 1e3 or not math.isfinite(factor):
        raise StepError("A part can be made up to a thousand times as large or as small.", field=field)
    return factor


def _scale(ctx: StepContext) -> StepOutput:
    fields: ScaleFields = ctx.fields
    before = ctx.part(fields.part)
    if fields.sizes == "alike":
        return StepOutput(parts={fields.part: kernel.scaled(before.solid, _factor(ctx, "factor"))})
    factors = (_factor(ctx, "across"), _factor(ctx, "deep"), _factor(ctx, "up"))
    after = kernel.stretched(before.solid, factors)
    curved = max(factors) - min(factors) > 1e-9 and any(f.kind != "plane" for f in before.faces)
    note = (
        "Its round faces are free ones from here on: no axis, no bore and no shaft is found on them." if curved else ""
    )
    return StepOutput(parts={fields.part: after}, note=note)


_ALIKE, _EACH = {"sizes": ["alike"]}, {"sizes": ["each"]}


register(
    StepKind(
        kind="scale",
        title="Scale",
        group="move",
        about="A part, all sizes alike or each direction by its own factor, from the origin.",
        fields=ScaleFields,
        specs=(
            FieldSpec("part", "part", "part", missing="a part"),
            FieldSpec(
                "sizes",
                "choice",
                "which sizes",
                "alike",
                (Choice("alike", "in all sizes"), Choice("each", "by direction:")),
            ),
            FieldSpec("factor", "number", "times as large", "1.01"),
            FieldSpec("across", "number", "times as wide (left to right)", "1.01"),
            FieldSpec("deep", "number", "times as deep (front to back)", "1.01"),
            FieldSpec("up", "number", "times as high", "1.01"),
        ),
        sentence=said(
            "Scale ",
            "{part}",
            " ",
            "{sizes}",
            (" by ", _ALIKE),
            ("{factor}", _ALIKE),
            (" ", _EACH),
            ("{across}", _EACH),
            (" across, ", _EACH),
            ("{deep}", _EACH),
            (" deep and ", _EACH),
            ("{up}", _EACH),
            (" up", _EACH),
        ),
        apply=_scale,
        words="shrink grow larger smaller shrinkage stretch",
    )
)
