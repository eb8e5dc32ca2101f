"""Parts of another project, with the steps and values that they need, brought into this one under ids of its own."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field

from ..errors import CommandError
from ..quantities import rename
from ..quantities.markers import FormulaMark, NameMark, PartMark, StepMark, rewrite
from ..solid.facename import renumbered
from .commands import CommandModel, Outcome, handler, with_changes
from .compiled import CompiledStep, compiled, compiled_step, names_of
from .fields import CopyingFields, copy_key_of
from .model import MOST_PARTS, MOST_STEPS, MOST_VALUES, Part, Project, Step, Value

__all__ = ["BringParts", "Needed", "excerpt", "needed"]


@dataclass(frozen=True)
class Needed:
    """Ids, in the order of their project: parts, the steps that make them what they are, and the values behind those."""

    parts: tuple[str, ...]
    steps: tuple[str, ...]
    values: tuple[str, ...]


class BringParts(CommandModel):
    """What is brought, as it stands in the other project (``of`` is its name). All of it gets new ids; a part or value whose name is taken is numbered, but a
    value that is the same here is shared."""

    do: Literal["BringParts"] = "BringParts"
    of: Annotated[str, Field(max_length=80)] = ""
    values: Annotated[list[Value], Field(max_length=MOST_VALUES)] = []
    parts: Annotated[list[Part], Field(max_length=MOST_PARTS)]
    recipe: Annotated[list[Step], Field(max_length=MOST_STEPS)]


def needed(source: Project, parts: Collection[str]) -> Needed:
    """What parts hang on, and what hangs on nothing but them.

    A step that shapes one of them is needed, with all parts and steps that it speaks of: so a joint brings its other half along. A gap between them that is only
    watched comes too.

    Raises
    ------
    CommandError : one of them is not there.
    """
    lost = next((p for p in parts if source.part(p) is None), None)
    if lost is not None:
        raise CommandError("That part is not there any more.", where=lost)
    recipe = list(compiled(source))
    spoken = {s.id: _speaks_of(s) for s in recipe}
    wanted, steps = set(parts), set[str]()
    while True:
        of = {other for id in steps for other in spoken[id]}
        more = {s.id for s in recipe if s.id not in steps and (s.id in of or wanted & set(s.shapes))}
        if not more:
            break
        steps |= more
        wanted |= {p for s in recipe if s.id in more for p in (*s.shapes, *s.reads)}
    for s in recipe:
        about = {*s.shapes, *s.reads}
        if about and about <= wanted and spoken[s.id] <= steps:
            steps.add(s.id)
    by_name = {v.name: v for v in source.values}
    names, todo = set[str](), [name for s in recipe if s.id in steps for name in s.values]
    while todo:
        name = todo.pop()
        if name in by_name and name not in names:
            names.add(name)
            todo += names_of(by_name[name].formula)
    return Needed(
        tuple(p.id for p in source.parts if p.id in wanted),
        tuple(s.id for s in recipe if s.id in steps),
        tuple(v.id for v in source.values if v.name in names),
    )


def _speaks_of(step: CompiledStep) -> set[str]:
    """Ids of the other steps whose results or faces it uses."""
    return {*step.uses, *step.named} - {step.id}


def excerpt(source: Project, parts: Collection[str]) -> BringParts:
    """The command that brings parts of another project. Raises CommandError."""
    found = needed(source, parts)
    return BringParts(
        of=source.name,
        values=[v for v in source.values if v.id in found.values],
        parts=[p for p in source.parts if p.id in found.parts],
        recipe=[s for s in source.recipe if s.id in found.steps],
    )


@handler(BringParts)
def _(project: Project, c: BringParts) -> Outcome:
    if len(project.parts) + len(c.parts) > MOST_PARTS:
        raise CommandError(f"A project holds {MOST_PARTS} parts, and with these it would have more.")
    if len(project.recipe) + len(c.recipe) > MOST_STEPS or len(project.values) + len(c.values) > MOST_VALUES:
        raise CommandError("With these steps and values the project would have more than one can hold.")
    numbers = iter(range(project.next_id, project.next_id + len(c.parts) + len(c.recipe) + len(c.values)))
    _whole(c)
    ids = {p.id: f"p{next(numbers)}" for p in c.parts} | {s.id: f"s{next(numbers)}" for s in c.recipe}
    values, called = _values(project, c.values, numbers)

    def change(mark: Any, text: str) -> str:
        if isinstance(mark, FormulaMark):
            return _recalled(text, called)
        if isinstance(mark, PartMark | StepMark):
            return ids.get(text, text)
        # what a digest hides cannot be numbered anew: the pick then goes by what was seen of it, or asks
        return (renumbered(text, ids) or text) if isinstance(mark, NameMark) else text

    parts = []
    taken = {p.name.lower() for p in project.parts}
    for part in c.parts:
        name = _free(part.name, taken)
        taken.add(name.lower())
        parts.append(rewrite(part, change).model_copy(update={"id": ids[part.id], "name": name, "within": ids.get(part.within, "")}))  # fmt: skip
    recipe = [_step(step, ids, change) for step in c.recipe]
    after = with_changes(
        project,
        values=[*project.values, *values],
        parts=[*project.parts, *parts],
        recipe=[*project.recipe, *recipe],
        next_id=project.next_id + len(c.parts) + len(c.recipe) + len(c.values),
    )
    names = parts[0].name if len(parts) == 1 else f"{len(parts)} parts"
    touched = {*(f"part:{p.id}" for p in parts), *(f"step:{s.id}" for s in recipe), *(f"value:{v.id}" for v in values)}
    return Outcome(after, frozenset(touched), f"bring in {names} of {c.of or 'another project'}", [p.id for p in parts])


def _whole(c: BringParts) -> None:
    """Refuse what speaks of something that is not with it: here that would be something else. Raises CommandError."""
    parts, steps = {p.id for p in c.parts}, {s.id for s in c.recipe}
    if len(parts) < len(c.parts) or len(steps) < len(c.recipe):
        raise CommandError("What is brought has two things with the same id.")
    for step in c.recipe:
        read = compiled_step(step)
        spoken = {text for _, mark, text in read.marks if isinstance(mark, PartMark) and text}
        if not spoken <= parts or not _speaks_of(read) <= steps:
            raise CommandError("What is brought builds on something that is not with it.", where=step.id)
    if not parts <= {p for step in c.recipe for p in compiled_step(step).makes}:
        raise CommandError("What is brought builds on something that is not with it: a part that no step of it makes.")


def _values(project: Project, brought: list[Value], numbers: Any) -> tuple[list[Value], dict[str, str]]:
    """The values that are new here, and what each of those brought is called here."""
    here = {v.name: v for v in project.values}
    called: dict[str, str] = {}
    out: list[Value] = []
    taken = set(here)
    for value in brought:
        number = next(numbers)
        same = here.get(value.name)
        # a formula of others is the same only where these are
        alike = same is not None and (same.formula, same.tolerance) == (value.formula, value.tolerance)
        if alike and all(called.get(n, n) == n for n in names_of(value.formula)):
            called[value.name] = value.name
            continue
        name = value.name
        for again in range(2, len(taken) + 3):
            if name not in taken:
                break
            name = f"{value.name}_{again}"
        taken.add(name)
        called[value.name] = name
        out.append(value.model_copy(update={"id": f"v{number}", "name": name}))
    return [v.model_copy(update={"formula": _recalled(v.formula, called)}) for v in out], called


def _recalled(formula: str, called: Mapping[str, str]) -> str:
    """A formula with other names for its values; by way of names that nothing has, so that two may change places."""
    changed = {old: new for old, new in called.items() if old != new and old in names_of(formula)}
    for k, old in enumerate(changed):
        formula = rename(formula, old, f"zz_brought_{k}")
    for k, new in enumerate(changed.values()):
        formula = rename(formula, f"zz_brought_{k}", new)
    return formula


def _free(name: str, taken: set[str]) -> str:
    """The name, numbered where it is taken."""
    for number in range(2, len(taken) + 3):
        if name.lower() not in taken:
            break
        name = f"{name.rpartition(' ')[0] if name.rpartition(' ')[2].isdigit() else name} {number}"[:80]
    return name


def _step(step: Step, ids: Mapping[str, str], change: Any) -> Step:
    fields = rewrite(compiled_step(step).fields, change)
    if isinstance(fields, CopyingFields):
        made = {copy_key_of(key, ids): part for key, part in fields.made.items()}
        fields = fields.model_copy(update={"made": made})
    return step.model_copy(update={"id": ids[step.id], "fields": fields.model_dump(mode="json")})
