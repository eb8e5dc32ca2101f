"""What becomes of the solids that a step makes from an outline: a new part, or added to one, cut from it, or kept where they overlap."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import Project, StepFields
from ..document.picks import Pick
from ..errors import StepError
from ..quantities.markers import MadeWhen, PartMark
from ..recipe import Choice, FieldSpec, StepContext, StepOutput, Work, each

__all__ = [
    "RESULT_SAID",
    "RESULT_SPECS",
    "ResultFields",
    "begin_result",
    "changed",
    "finished",
    "one_by_one",
    "one_part",
    "worked",
]


class Also(Pick):
    """A further part to which the same is done."""

    part: Annotated[str, PartMark("changes"), Field(max_length=40)]


class ResultFields(StepFields):
    """Fields that all kinds of step have which make solids."""

    operation: Literal["new", "add", "cut", "overlap"] = "new"
    part: MadeWhen = ""
    also: Annotated[list[Also], Field(max_length=40)] = []


RESULT_SPECS = (
    FieldSpec(
        "operation",
        "choice",
        "what it does",
        "new",
        (
            Choice("new", "as new part"),
            Choice("add", "and add it to"),
            Choice("cut", "and cut it from"),
            Choice("overlap", "and keep what overlaps with"),
        ),
    ),
    FieldSpec("part", "part", "part", missing="a part"),
    FieldSpec(
        "also",
        "clauses",
        "another part to do the same to",
        [],
        specs=(FieldSpec("part", "part", "part", missing="a part"),),
    ),
)
#: the end of their sentences
RESULT_SAID = (" ", "{operation}", " ", "{part}", each("also", ", and ", "{part}"))


def begin_result(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """What is meant by an outline on a part's face: to add to that part, outwards; and where it cuts, into the part. What was said to be cut or kept of it stays so with another outline."""
    profile = fields.get("profile")
    source = profile.get("step") if isinstance(profile, Mapping) else None
    sketch = next((s for s in project.recipe if s.id == source), None)
    plane = sketch.fields.get("plane") if sketch else profile
    part = plane.get("part") if isinstance(plane, Mapping) else None
    if part not in {p.id for p in project.parts}:
        return {}
    if answered in ("", "profile"):
        return {"part": part} if fields.get("operation", "new") != "new" else {"operation": "add", "part": part}
    ways = {"cut": "down", "add": "up", "new": "up"}
    if answered == "operation" and fields.get("direction") in ("up", "down") and fields.get("operation") in ways:
        return {"direction": ways[str(fields["operation"])]}
    return {}


def finished(ctx: StepContext, tools: list[kernel.NamedSolid]) -> StepOutput:
    """Do with the solids what the step says. Raises StepError."""
    fields: ResultFields = ctx.fields
    if fields.operation == "new":
        if ctx.has_part(fields.part):
            raise StepError("The part is made by an earlier step; add to it instead.", field="operation")
        if fields.also:
            raise StepError(
                "A new part is made once; add to the others, or take them out of the sentence.", field="also"
            )
        whole = tools[0] if len(tools) == 1 else kernel.fuse(tools[0], tools[1:], ctx.id)
        return StepOutput(parts={fields.part: whole})
    if ctx.at_once:
        ctx.part(fields.part)
        return StepOutput(works=(Work(fields.part, fields.operation, tuple(tools)),))
    parts: dict[str, kernel.NamedSolid] = {}
    notes = []
    for k, part in enumerate((fields.part, *(a.part for a in fields.also))):
        field = "part" if k == 0 else f"also.{k - 1}.part"
        if part in parts:
            raise StepError("A part stands here twice; take one of them out.", field=field)
        base = ctx.part(part, field).solid
        try:
            one = changed(part, base, worked(fields.operation, base, tools, ctx.id))
        except StepError as error:
            raise StepError(error.message, field=error.field or field) from None
        parts.update(one.parts)
        notes.append(one.note or _nothing_new(fields.operation, base, one.parts[part]))
    works = tuple(Work(part, fields.operation, tuple(tools)) for part in parts)
    return StepOutput(parts=parts, note=next((n for n in notes if n), ""), works=works)


def _nothing_new(operation: str, before: kernel.NamedSolid, after: kernel.NamedSolid) -> str:
    """A word where what was added is there already."""
    if operation != "add":
        return ""
    # a face of its own shows it; without one, what fills a pocket up is told by its volume
    if after.new_since(before) or after.volume_mm3 - before.volume_mm3 > 1e-6:
        return ""
    return "This lies wholly within the part as it is: nothing is added."


def one_by_one(
    solid: kernel.NamedSolid, faces: Sequence[int], change: Callable[[kernel.NamedSolid, int], kernel.NamedSolid]
) -> kernel.NamedSolid:
    """Change faces (0-based) of a solid one after the other, each where it is by then. Raises StepError where one is gone."""
    for name in [solid.names[i][0] for i in faces]:
        found = solid.find(name)
        if not found:
            raise StepError("One of these faces is gone when another has changed; take them in steps.", field="faces")
        solid = change(solid, found[0])
    return solid


def one_part(fields: ResultFields) -> bool:
    """Whether solids are only added to one part, or cut from it."""
    return fields.operation in ("add", "cut") and not fields.also and bool(fields.part)


def worked(operation: str, base: kernel.NamedSolid, tools: list[kernel.NamedSolid], step: str) -> kernel.NamedSolid:
    """Add solids to a base, cut them from it, or keep what they have in common with it. Raises StepError."""
    work = {"add": kernel.fuse, "cut": kernel.cut, "overlap": kernel.overlap}[operation]
    return work(base, tools, step)


def changed(part: str, before: kernel.NamedSolid, after: kernel.NamedSolid) -> StepOutput:
    """A part that was there and is another now, with a word where it falls apart."""
    note = f"The part falls into {after.lumps} lumps here." if after.lumps > before.lumps else ""
    return StepOutput(parts={part: after}, note=note)
