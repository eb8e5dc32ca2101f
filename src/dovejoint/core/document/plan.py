"""Commands on tolerances, on how parts lie, on the order of steps, and on the whole document."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ..errors import CommandError, FileError, FormulaError
from ..quantities import Quantity, evaluate, limited
from .commands import (
    CommandModel,
    Outcome,
    chapter_handed_on,
    find_step,
    find_value,
    handler,
    known_values,
    replace_step,
    step_title,
    with_changes,
)
from .compiled import compiled, compiled_step
from .model import Project
from .picks import FlatFace

__all__ = ["LayPart", "MoveStep", "RestoreDocument", "SetTolerance"]


class SetTolerance(CommandModel):
    """Puts a tolerance on a value, or on a figure of a step by its path; an empty one takes it off."""

    do: Literal["SetTolerance"] = "SetTolerance"
    value: str = ""
    step: str = ""
    path: Annotated[str, Field(max_length=200)] = ""
    tolerance: Annotated[str, Field(max_length=80)]


class LayPart(CommandModel):
    """Lays a part on one of its flat faces (as modelled without one) and turns it about the upright."""

    do: Literal["LayPart"] = "LayPart"
    part: str
    face: FlatFace | None = None
    turn_deg: Annotated[float, Field(ge=0, lt=360, allow_inf_nan=False)] = 0.0


class MoveStep(CommandModel):
    """Puts a step behind another (``""``: first). Refused where something would then come before what it builds on."""

    do: Literal["MoveStep"] = "MoveStep"
    step: str
    after: str


class RestoreDocument(CommandModel):
    """Puts a whole earlier document in place of this one; like any command it can be taken back."""

    do: Literal["RestoreDocument"] = "RestoreDocument"
    document: dict[str, Any]
    label: Annotated[str, Field(max_length=80)] = "an earlier state"


def _checked(project: Project, text: str, quantity: Quantity | None) -> str:
    if not text.strip():
        return ""
    if quantity is None:
        raise CommandError("That has no figure to put a tolerance on.", field="tolerance")
    limited(text, quantity, project.unit)
    return text.strip()


@handler(SetTolerance)
def _(project: Project, c: SetTolerance) -> Outcome:
    known = known_values(project)
    if c.value:
        value = find_value(project, c.value)
        text = _checked(project, c.tolerance, known.get(value.name))
        changed = value.model_copy(update={"tolerance": text})
        after = with_changes(project, values=[changed if v.id == value.id else v for v in project.values])
        return Outcome(after, frozenset({f"value:{value.id}"}), _said(value.name, text))
    step = find_step(project, c.step)
    found = {p: (m, t) for p, m, t in compiled_step(step).formulas}
    if c.path not in found:
        raise CommandError("That figure is not there any more.", where=step.id)
    mark, formula = found[c.path]
    try:
        quantity = evaluate(formula, known, mark.dimension) if c.tolerance.strip() else None
    except FormulaError:
        quantity = None
    text = _checked(project, c.tolerance, quantity)
    others = {p: t for p, t in step.tolerances.items() if p != c.path}
    changed_step = step.model_copy(update={"tolerances": {**others, **({c.path: text} if text else {})}})
    return Outcome(
        replace_step(project, changed_step), frozenset({f"step:{step.id}"}), _said(step_title(project, step), text)
    )


def _said(what: str, text: str) -> str:
    return f"let {what} vary by {text}" if text else f"take the tolerance off {what}"


@handler(LayPart)
def _(project: Project, c: LayPart) -> Outcome:
    part = project.part(c.part)
    if part is None:
        raise CommandError("That part is not there any more.", where=c.part)
    if c.face is not None and c.face.part != part.id:
        raise CommandError(f"The face must be one of {part.name}; pick a flat face of it.", field="face")
    changed = part.model_copy(update={"lies": c.face, "turn_deg": c.turn_deg})
    after = with_changes(project, parts=[changed if p.id == part.id else p for p in project.parts])
    how = (
        "lay down a face of" if c.face is not None and c.face != part.lies else "turn" if c.face == part.lies else "lay"
    )
    tail = "" if c.face is not None else " as modelled"
    return Outcome(after, frozenset({f"part:{part.id}"}), f"{how} {part.name}{tail}")


@handler(MoveStep)
def _(project: Project, c: MoveStep) -> Outcome:
    step = find_step(project, c.step)
    if c.after == step.id:
        raise CommandError("A step cannot stand behind itself.")
    handed = chapter_handed_on(project.recipe, step)
    rest = [s for s in handed if s.id != step.id]
    moved = next(s for s in handed if s.id == step.id)
    if c.after:
        find_step(project, c.after)
    place = next((i + 1 for i, s in enumerate(rest) if s.id == c.after), 0)
    order = [*rest[:place], moved, *rest[place:]]
    at = {s.id: i for i, s in enumerate(order)}
    read = compiled(project)
    for later in order:
        for need in read.needs(later.id):
            if at[need] > at[later.id]:
                above, below = step_title(project, later), step_title(project, find_step(project, need))
                raise CommandError(
                    f"{above[:1].upper()}{above[1:]} builds on {below}, so it must stay behind it.", where=step.id
                )
    after = with_changes(project, recipe=order)
    where = f"behind {step_title(project, rest[place - 1])}" if place else "to the beginning"
    return Outcome(after, frozenset({"order", f"step:{step.id}"}), f"move {step_title(project, step)} {where}")


@handler(RestoreDocument)
def _(project: Project, c: RestoreDocument) -> Outcome:
    from .file import check

    try:
        restored = check(c.document)
    except FileError as error:
        raise CommandError(error.message) from None
    # ids that were given meanwhile are not given again: readings and prints may speak of them
    restored = restored.model_copy(update={"next_id": max(restored.next_id, project.next_id)})
    ids = {f"{kind}:{x.id}" for p in (project, restored) for kind, xs in (("value", p.values), ("step", p.recipe), ("part", p.parts)) for x in xs}  # fmt: skip
    return Outcome(restored, frozenset({"project", "unit", "profile", "order", *ids}), f"go back to {c.label}")
