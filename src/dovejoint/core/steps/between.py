"""Part with part: cut one with another (which stays), with a gap all round; add another's shape to it; or keep what lies in both."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import Project, StepFields
from ..errors import StepError
from ..quantities.markers import Length, PartId, PartMark
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said, wanted
from .result import changed

#: so far beyond the gap round a part another one is looked at when all of it cannot be grown, mm
BESIDE_MM = 2.0


class BetweenFields(StepFields):
    """``part`` is changed, ``other`` stays as it is, or is used up: nothing is left of it. ``gap`` is what a cut leaves free round it."""

    work: Literal["cut", "add", "overlap"] = "cut"
    part: Annotated[str, PartMark("changes"), Field(max_length=40)]
    other: PartId
    gap: Length = "0 mm"
    after: Literal["stays", "goes"] = "stays"


def _apply(ctx: StepContext) -> StepOutput:
    fields: BetweenFields = ctx.fields
    if fields.part == fields.other:
        raise StepError("A part has nothing to do with itself; pick another one.", field="other")
    base, other = ctx.part(fields.part).solid, ctx.part(fields.other, "other").solid
    gap = ctx.number("gap") if fields.work == "cut" else 0.0
    if gap < 0:
        raise StepError("A gap is zero or more; a part cannot be cut tighter than the other is.", field="gap")
    try:
        tools = _tools(base, other, gap, ctx.id)
    except StepError as error:
        raise StepError(error.message, field="gap") from None
    work = {"cut": kernel.cut, "add": kernel.fuse, "overlap": kernel.overlap}[fields.work]
    try:
        result = work(base, tools, ctx.id)
    except StepError as error:
        raise StepError(error.message, field=error.field or "other") from None
    made = changed(fields.part, base, result)
    return replace(made, gone=(fields.other,)) if fields.after == "goes" else made


def _tools(base: kernel.NamedSolid, other: kernel.NamedSolid, gap: float, step: str) -> list[kernel.NamedSolid]:
    """The other part, grown by the gap: all of it, or where something far away is in the way of that, only what of it lies round the base. Raises StepError."""
    try:
        return [kernel.grown(other, gap, step)]
    except StepError as error:
        (x0, y0, z0), (x1, y1, z1) = kernel.bounds(base.shape)
        beside = gap + BESIDE_MM
        frame = kernel.Frame(((x0 + x1) / 2, (y0 + y1) / 2, z0 - beside), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
        room = kernel.block(frame, x1 - x0 + 2 * beside, y1 - y0 + 2 * beside, z1 - z0 + 2 * beside, step)
        try:
            near = kernel.overlap(other, [room], step)
        except StepError:
            raise error from None
        if near.volume_mm3 > 0.999 * other.volume_mm3:
            raise
        return [kernel.grown(piece, gap, step) for piece in kernel.lumps_of(near)]


def _begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """The newest part is what an older one is worked with, until somebody says otherwise; never a part with itself. What is added to another is used up."""
    gone = {s.fields.get("other") for s in project.recipe if s.kind == "between" and s.fields.get("after") == "goes"}
    ids = [p.id for p in project.parts if p.id not in gone]
    if len(ids) < 2:
        return {}
    if not answered:
        return {"part": ids[-2], "other": ids[-1]}
    if answered == "work":
        return {"after": "goes" if fields.get("work") == "add" else "stays"}
    if fields.get("part") == fields.get("other"):
        other = "other" if answered == "part" else "part"
        return {other: next(i for i in reversed(ids) if i != fields.get(answered))}
    return {}


_CUT = {"work": ["cut"]}

register(
    StepKind(
        kind="between",
        title="Part with part",
        group="take away",
        about="Cut a part with another, add it, or keep what overlaps.",
        fields=BetweenFields,
        specs=(
            FieldSpec(
                "work",
                "choice",
                "what is done",
                "cut",
                (Choice("cut", "Cut"), Choice("add", "Add to"), Choice("overlap", "Keep of")),
            ),
            FieldSpec("part", "part", "part that changes", missing="a part"),
            FieldSpec("other", "part", "part that stays", missing="another part"),
            FieldSpec("gap", "length", "gap all round", "0 mm"),
            FieldSpec(
                "after",
                "choice",
                "what becomes of the other",
                "stays",
                (Choice("stays", "which stays"), Choice("goes", "which is used up")),
            ),
        ),
        sentence=said(
            "{work}",
            " ",
            "{part}",
            (" with ", _CUT),
            (" the shape of ", {"work": ["add"]}),
            (" what lies in ", {"work": ["overlap"]}),
            "{other}",
            (", leaving ", _CUT),
            ("{gap}", _CUT),
            (" free all round", _CUT),
            *wanted("say what becomes of the other", ", ", "{after}"),
        ),
        apply=_apply,
        begin=_begin,
        words="cut subtract carve pocket combine join intersect clearance gap",
    )
)
