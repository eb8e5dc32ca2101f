"""Repeat: copies of a part in a row or round an axis, added to it or to another part, or cut from one."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import Project, StepFields
from ..errors import StepError
from ..quantities.markers import Angle, Length, Number, PartId, PartMark
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said
from ..recipe.picks import AxisPick, axis_of
from ..solid.frame import scale
from .result import changed

#: more copies than this are no row that a person means
MOST = 200


class RepeatFields(StepFields):
    """``of`` is the first of ``count``; it stays where it is."""

    of: PartId
    count: Number = "3"
    how: Literal["row", "round", "turned"] = "row"
    axis: AxisPick
    pitch: Length = "10 mm"
    angle: Angle = "30 deg"
    operation: Literal["add", "cut"] = "add"
    part: Annotated[str, PartMark("changes"), Field(max_length=40)]


def _count(ctx: StepContext) -> int:
    """How many there are in all, the first one too."""
    figure = ctx.number("count")
    if abs(figure - round(figure)) > 1e-9:
        raise StepError(f"So many are a whole number, and it is {figure:.4g}.", field="count")
    if not 2 <= round(figure) <= MOST:
        raise StepError(f"There are two or more of it, and at most {MOST}.", field="count")
    return round(figure)


def _copies(ctx: StepContext, first: kernel.NamedSolid) -> list[kernel.NamedSolid]:
    fields: RepeatFields = ctx.fields
    count, axis = _count(ctx), axis_of(ctx, fields.axis, "axis")
    if fields.how == "row":
        pitch = ctx.number("pitch")
        if abs(pitch) < 1e-9:
            raise StepError("With no distance between them they are all one.", field="pitch")
        return [kernel.shifted(first, scale(axis.direction, k * pitch), ctx.id, k + 1) for k in range(1, count)]
    angle = 2 * math.pi / count if fields.how == "round" else ctx.number("angle")
    if abs(math.remainder(angle, 2 * math.pi)) < 1e-9:
        raise StepError("Turned so far they are all one; take another angle.", field="angle")
    if (count - 1) * abs(angle) >= 2 * math.pi - 1e-9:
        raise StepError("So many go more than once round; take fewer, or a smaller angle.", field="angle")
    return [kernel.turned(first, axis, k * angle, ctx.id, k + 1) for k in range(1, count)]


def _apply(ctx: StepContext) -> StepOutput:
    fields: RepeatFields = ctx.fields
    first = ctx.part(fields.of, "of").solid
    copies = _copies(ctx, first)
    base = ctx.part(fields.part).solid
    if fields.part == fields.of:
        if fields.operation == "cut":
            raise StepError("Copies cannot be cut from what they are copied from; pick another part.", field="part")
    else:
        # on another part the first one counts too
        copies = [kernel.shifted(first, (0.0, 0.0, 0.0), ctx.id, 1), *copies]
    work = {"add": kernel.fuse, "cut": kernel.cut}[fields.operation]
    return changed(fields.part, base, work(base, copies, ctx.id))


def _begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """Copies are added to what they are copied from, and cut from another part, until somebody says otherwise."""
    if answered in ("", "of") and project.parts:
        of = fields.get("of") or project.parts[-1].id
        return {"of": of, "part": of}
    others = [p.id for p in project.parts if p.id != fields.get("of")]
    if (
        answered == "operation"
        and fields.get("operation") == "cut"
        and fields.get("part") == fields.get("of")
        and others
    ):
        return {"part": others[-1]}
    return {}


_ROW, _TURNED = {"how": ["row"]}, {"how": ["turned"]}

register(
    StepKind(
        kind="repeat",
        title="Repeat",
        group="repeat",
        about="Copies of a part in a row or round an axis, added or cut.",
        fields=RepeatFields,
        specs=(
            FieldSpec("of", "part", "which part", missing="a part"),
            FieldSpec("count", "number", "how many in all", "3"),
            FieldSpec(
                "how",
                "choice",
                "how they are laid out",
                "row",
                (
                    Choice("row", "in a row along"),
                    Choice("round", "evenly round"),
                    Choice("turned", "step by step round"),
                ),
            ),
            FieldSpec("axis", "axis", "axis", missing="an axis"),
            FieldSpec("pitch", "length", "distance from one to the next", "10 mm"),
            FieldSpec("angle", "angle", "angle from one to the next", "30 deg"),
            FieldSpec(
                "operation",
                "choice",
                "what it does",
                "add",
                (Choice("add", "and add them to"), Choice("cut", "and cut them from")),
            ),
            FieldSpec("part", "part", "part", missing="a part"),
        ),
        sentence=said(
            "Repeat ",
            "{of}",
            ", ",
            "{count}",
            " in all, ",
            "{how}",
            " ",
            "{axis}",
            (" every ", _ROW),
            ("{pitch}", _ROW),
            (" by ", _TURNED),
            ("{angle}", _TURNED),
            " ",
            "{operation}",
            " ",
            "{part}",
        ),
        apply=_apply,
        begin=_begin,
        words="pattern array copies teeth spokes ring row",
    )
)
