"""Cutting a link of whole shapes: the part that a step takes stays for it as it is now, a part of its own that is brought in from a file."""

from __future__ import annotations

import copy
import re
from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field

from ..document import Step
from ..document.commands import (
    AddStep,
    CommandModel,
    NewPart,
    Outcome,
    apply,
    find_step,
    handler,
    replace_step,
    step_title,
    with_changes,
)
from ..document.compiled import compiled
from ..document.fields import read_fields
from ..document.model import Project
from ..document.picks import Name
from ..errors import CommandError
from ..quantities.markers import NameMark, PartMark, rewrite, walk
from .bring_in import BroughtFile

__all__ = ["KeepShape"]


class KeepShape(CommandModel):
    """Cuts a step off from a part that it takes whole (``path``: where in its fields, as ``other`` or ``also.0.part``): ``file`` holds the part as it is there now, ``names``
    what each of the file's faces is called in it. What was picked on the step's own parts by those names is picked by the new ones."""

    do: Literal["KeepShape"] = "KeepShape"
    step: str
    path: Annotated[str, Field(max_length=80)]
    file: BroughtFile
    names: Annotated[list[list[Name]], Field(max_length=20_000)]


@handler(KeepShape)
def _(project: Project, command: KeepShape) -> Outcome:
    step = find_step(project, command.step)
    read = compiled(project).of(step.id)
    found = next(
        ((m, t) for p, m, t in (read.marks if read else ()) if p == command.path and isinstance(m, PartMark)), None
    )
    source = project.part(found[1]) if found is not None and found[0].does == "reads" else None
    if read is None or source is None:
        raise CommandError("There is no part there to cut it off from.")
    place = next(k for k, s in enumerate(project.recipe) if s.id == step.id)
    taken = {p.name.lower() for p in project.parts}
    called = f"{source.name}, kept"
    while called.lower() in taken:
        called += "′"
    brought = apply(
        project,
        AddStep(
            kind="bring_in",
            name="kept shape",
            fields={"file": command.file.model_dump(mode="json")},
            new_part=NewPart(name=called, colour=source.colour),
            after=project.recipe[place - 1].id if place else "",
        ),
    )
    made, part = brought.created
    renamed = {old: f"{made}/face({k})" for k, names in enumerate(command.names, 1) for old in names}
    after, mine = brought.project, {*read.makes, *read.changes}
    after = replace_step(after, step.model_copy(update={"fields": _at(step.fields, command.path, part)}))
    # the step itself speaks of its parts as they were before
    recipe = [s if k <= place + 1 else _called_anew(s, mine, renamed) for k, s in enumerate(after.recipe)]
    return Outcome(
        with_changes(after, recipe=recipe),
        frozenset({f"step:{step.id}", f"step:{made}", f"part:{part}"}),
        f"cut {step_title(project, step)} off from {source.name}",
        [made, part],
    )


def _at(fields: Mapping[str, Any], path: str, value: str) -> dict[str, Any]:
    """Fields with another value at a path."""
    out: dict[str, Any] = copy.deepcopy(dict(fields))
    *way, last = path.split(".")
    here: Any = out
    for key in way:
        here = here[int(key)] if isinstance(here, list) else here[key]
    here[last] = value
    return out


def _called_anew(step: Step, parts: set[str], renamed: Mapping[str, str]) -> Step:
    """A step whose picks on some parts go by other names."""
    if not renamed:
        return step
    read = read_fields(step.kind, step.fields)
    marks = list(walk(read))
    of = {path.rpartition(".")[0]: text for path, mark, text in marks if isinstance(mark, PartMark) and text}
    # marks are gone through in the same order when they are rewritten
    here = iter([_owner(of, path) in parts for path, _, _ in marks])

    def called(mark: Any, text: str) -> str:
        return _replaced(text, renamed) if next(here) and isinstance(mark, NameMark) else text

    new = rewrite(read, called)
    return step if new is read else step.model_copy(update={"fields": new.model_dump(mode="json")})


def _owner(of: Mapping[str, str], path: str) -> str | None:
    """The part that a name at a path is of: the one that stands nearest around it."""
    while path:
        path = path.rpartition(".")[0]
        if path in of:
            return of[path]
    return None


def _replaced(text: str, renamed: Mapping[str, str]) -> str:
    """Names that stand in a name, each as a whole."""
    some = [old for old in renamed if old in text]
    if not some:
        return text
    pattern = "|".join(re.escape(old) for old in sorted(some, key=len, reverse=True))
    return re.sub(rf"(?<!\w)(?:{pattern})(?![\w.(])", lambda found: renamed[found[0]], text)
