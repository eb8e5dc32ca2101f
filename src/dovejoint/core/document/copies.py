"""What follows a count after every command, since the count is a formula: parts that steps make as numbered copies of others, and curves that stand
several times in a sketch."""

from __future__ import annotations

from dataclasses import replace

from ..errors import CommandError
from .compiled import compiled
from .fields import CopyingFields, copy_key
from .model import MOST_PARTS, Part, Project
from .outcome import Outcome, known_values

__all__ = ["kept_to_counts", "numbered"]


def kept_to_counts(outcome: Outcome) -> Outcome:
    """The same with what steps hold several times (curves of a sketch) as often as their formulas say now."""
    project = outcome.project
    steps = [s for s in compiled(project) if s.fields.follows_counts]
    known = known_values(project) if steps else {}
    changed = {s.id: kept for s in steps if (kept := s.fields.kept_to(known)) is not s.fields}
    if not changed:
        return outcome
    recipe = [
        s.model_copy(update={"fields": changed[s.id].model_dump(mode="json")}) if s.id in changed else s
        for s in project.recipe
    ]
    touches = outcome.touches | {f"step:{id}" for id in changed}
    return replace(outcome, project=project.model_copy(update={"recipe": recipe}), touches=touches)


def numbered(outcome: Outcome) -> Outcome:
    """The same with a part for each copy that is wanted now. A new one takes role, colour, group, material and note of what it is a copy of, and stands behind it in the row;
    one that is not wanted any more goes, unless something else speaks of it (it is not made then, and what speaks of it says so).

    Raises
    ------
    CommandError : there would be more parts than a project holds.
    """
    project = outcome.project
    steps = [(s, s.fields) for s in compiled(project) if isinstance(s.fields, CopyingFields)]
    if not steps:
        return outcome
    known = known_values(project)
    touched = set()
    for read, fields in steps:
        wanted = fields.copies(known)
        if wanted is None:
            continue
        kept = dict(fields.made)
        keys = {copy_key(part, number) for part, number in wanted}
        spoken = _spoken_of(project, read.step.id)
        for key in [k for k in kept if k not in keys and kept[k] not in spoken]:
            gone = kept.pop(key)
            touched.add(f"part:{gone}")
            readings = [r for r in project.readings if gone not in {p.part for p in (r.first, r.second) if p}]
            project = project.model_copy(
                update={"parts": [p for p in project.parts if p.id != gone], "readings": readings}
            )
        for source, number in wanted:
            if copy_key(source, number) not in kept and project.part(source) is not None:
                behind = [source, *(kept[k] for k in (copy_key(source, n) for n in range(2, number)) if k in kept)]
                project, part = _copied(project, source, number, behind[-1])
                kept[copy_key(source, number)] = part.id
                touched.add(f"part:{part.id}")
        if kept != fields.made:
            step = read.step.model_copy(update={"fields": {**read.step.fields, "made": kept}})
            project = project.model_copy(update={"recipe": [step if s.id == step.id else s for s in project.recipe]})
            touched.add(f"step:{step.id}")
    return replace(outcome, project=project, touches=outcome.touches | touched) if touched else outcome


def _spoken_of(project: Project, besides: str) -> set[str]:
    """Parts that other steps make, change or read."""
    return {p for s in compiled(project) if s.step.id != besides for p in (*s.makes, *s.changes, *s.reads)}


def _copied(project: Project, source: str, number: int, behind: str) -> tuple[Project, Part]:
    first = project.part(source)
    assert first is not None
    if len(project.parts) >= MOST_PARTS:
        raise CommandError(
            f"A project holds {MOST_PARTS} parts, and with so many copies there would be more; take fewer."
        )
    taken = {p.name.lower() for p in project.parts}
    name = f"{first.name[:70]} {number}"
    while name.lower() in taken:
        name += "\u2032"
    part = first.another(f"p{project.next_id}", name)
    place = next(i for i, p in enumerate(project.parts) if p.id == behind) + 1
    parts = [*project.parts[:place], part, *project.parts[place:]]
    return project.model_copy(update={"parts": parts, "next_id": project.next_id + 1}), part
