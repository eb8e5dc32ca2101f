"""Repeat: copies of a part in a row, round an axis or along a path, added to it or to another part, or cut from one; and steps done again elsewhere."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import PlanePick, Project
from ..document.picks import BasePlane, Pick
from ..errors import StepError
from ..quantities.markers import PartId, PartMark
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, Work, each, register, said
from ..recipe.picks import WorkPick, work_of
from .layout import LAYOUT_CHOICES, LayoutFields, layout_said, layout_specs, motions, motions_or_mirrored
from .result import changed, worked


class RepeatFields(LayoutFields):
    """``of`` is the first of ``count``; it stays where it is."""

    of: PartId
    operation: Literal["add", "cut"] = "add"
    part: Annotated[str, PartMark("changes"), Field(max_length=40)]


def _repeat(ctx: StepContext) -> StepOutput:
    fields: RepeatFields = ctx.fields
    first = ctx.part(fields.of, "of").solid
    copies = [kernel.moved(first, motion, f"{ctx.id}/copy{k}") for k, motion in motions(ctx, first)]
    base = ctx.part(fields.part).solid
    if fields.part == fields.of:
        if fields.operation == "cut":
            raise StepError("Copies cannot be cut from what they are copied from; pick another part.", field="part")
    else:
        # on another part the first one counts too
        copies = [kernel.moved(first, kernel.Motion.shift((0.0, 0.0, 0.0)), f"{ctx.id}/copy1"), *copies]
    work = {"add": kernel.fuse, "cut": kernel.cut}[fields.operation]
    made = changed(fields.part, base, work(base, copies, ctx.id))
    return StepOutput(parts=made.parts, note=made.note, works=(Work(fields.part, fields.operation, tuple(copies)),))


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


register(
    StepKind(
        kind="repeat",
        title="Repeat",
        group="repeat",
        about="Copies of a part in a row, round an axis, along a path or at points, added or cut.",
        fields=RepeatFields,
        specs=(
            FieldSpec("of", "part", "which part", missing="a part"),
            *layout_specs(),
            FieldSpec(
                "operation",
                "choice",
                "what it does",
                "add",
                (Choice("add", "and add them to"), Choice("cut", "and cut them from")),
            ),
            FieldSpec("part", "part", "part", missing="a part"),
        ),
        sentence=said("Repeat ", "{of}", ",", *layout_said(), " ", "{operation}", " ", "{part}"),
        apply=_repeat,
        begin=_begin,
        words="pattern array copies teeth spokes ring row",
    )
)


class AlsoWork(Pick):
    """A further step that is done again."""

    of: WorkPick


class AgainFields(LayoutFields):
    """``of`` and ``also`` are steps that added to parts or cut them, done again in their order; ``plane`` is what they are mirrored across."""

    how: Literal["row", "round", "turned", "along", "points", "mirror"] = "row"  # type: ignore[assignment]
    of: WorkPick
    also: Annotated[list[AlsoWork], Field(max_length=100)] = []
    plane: PlanePick = BasePlane(plane="side")
    part: Annotated[str, PartMark("changes"), Field(max_length=40)]


def _again(ctx: StepContext) -> StepOutput:
    fields: AgainFields = ctx.fields
    chain = [("of", fields.of), *((f"also.{k}.of", a.of) for k, a in enumerate(fields.also))]
    if len({pick.step for _, pick in chain}) < len(chain):
        raise StepError("A step stands here twice; take one of them out.", field="also")
    works = [(field, work) for field, pick in chain for work in work_of(ctx, pick, field)]
    moves = motions_or_mirrored(ctx, works[0][1].tools[0])
    mine = [(field, work) for field, work in works if work.part == fields.part]
    if not mine:
        raise StepError("The steps picked did nothing to that part; pick the part that they changed.", field="part")
    base = solid = ctx.part(fields.part).solid
    done = []
    for field, work in mine:
        tools = [kernel.moved(t, motion, f"{ctx.id}/copy{k}") for k, motion in moves for t in work.tools]
        try:
            solid = worked(work.operation, solid, tools, ctx.id)
        except StepError as error:
            raise StepError(error.message, field=error.field or field) from None
        done.append(Work(fields.part, work.operation, tuple(tools)))
    made = changed(fields.part, base, solid)
    return StepOutput(parts=made.parts, note=made.note, works=tuple(done))


def _begin_again(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """The part is the one that the step changed."""
    of = fields.get("of")
    if answered != "of" or not isinstance(of, Mapping):
        return {}
    step = project.step(str(of.get("step")))
    part = step.fields.get("part") if step is not None else None
    return {"part": part} if part in {p.id for p in project.parts} else {}


_MIRROR = {"how": ["mirror"]}

register(
    StepKind(
        kind="again",
        title="Repeat steps",
        group="repeat",
        about="Steps done again in a row, round an axis, along a path, at points, or mirrored.",
        fields=AgainFields,
        specs=(
            FieldSpec("of", "work", "which step", missing="a step"),
            FieldSpec(
                "also", "clauses", "another step", [], specs=(FieldSpec("of", "work", "which step", missing="a step"),)
            ),
            *layout_specs((*LAYOUT_CHOICES, Choice("mirror", "mirrored across"))),
            FieldSpec("plane", "plane", "across", {"rule": "base", "plane": "side"}, missing="a plane or a flat face"),
            FieldSpec("part", "part", "part", missing="a part"),
        ),
        sentence=said(
            "Do ",
            "{of}",
            each("also", " and ", "{of}"),
            " again,",
            *layout_said(said(("{plane}", _MIRROR))),
            ", on ",
            "{part}",
        ),
        apply=_again,
        begin=_begin_again,
        words="pattern array mirror symmetric holes ribs row ring chain copies",
    )
)
