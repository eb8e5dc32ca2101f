"""Sister steps: several in a row that each only add solids to one part, or cut them from it, without looking at that part.

They are not made one after another but at once, when the part is wanted: so one that changes early does not have all later ones made again
through ever more faces. What they are called, and what it costs when they cannot be made so, stays the same: then they are made one by one.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from .. import solid as kernel
from ..document.compiled import Compiled, CompiledStep
from .outputs import PartState, Work
from .registry import kind_of

__all__ = ["Apart", "Later", "Run", "runs_of"]

#: fewer sisters are made one by one, as a single step is
LEAST_SISTERS = 3


class Apart(Exception):
    """Some steps cannot be made at once: they have to be made one by one. ``keys`` are theirs."""

    def __init__(self, keys: Sequence[str]) -> None:
        super().__init__(keys)
        self.keys = keys


def _only_works(step: CompiledStep) -> bool:
    kind = kind_of(step.step)
    return kind.sister is not None and kind.sister(step.fields)


def runs_of(recipe: Compiled) -> dict[str, int]:
    """Which steps stand in a row of enough sisters: by id, the number of the row. Steps between them that only look at the part, as a
    sketch on a face of it does, do not end a row."""
    rows: dict[str, list[str]] = {}
    found: dict[str, int] = {}
    count = 0

    def end(part: str) -> None:
        nonlocal count
        row = rows.pop(part, [])
        if len(row) >= LEAST_SISTERS:
            found.update(dict.fromkeys(row, count))
            count += 1

    for step in recipe:
        if step.step.off:
            continue
        if _only_works(step):
            rows.setdefault(step.changes[0], []).append(step.id)
            continue
        for part in step.shapes:
            end(part)
    for part in list(rows):
        end(part)
    return found


@dataclass(eq=False)
class Run:
    """Works of sister steps of one row on one part that have not been made yet, by their steps' keys; ``base`` is the part before them."""

    row: int
    base: PartState
    keys: list[str] = field(default_factory=list)
    works: list[Work] = field(default_factory=list)
    #: faces whose planes were read from the base: they must still be there afterwards
    seen: set[str] = field(default_factory=set)

    def solid(self, count: int, barred: Mapping[str, str], tell: Callable[[str], None]) -> kernel.NamedSolid:
        """The part after the first ``count`` of them; ``tell`` is told the key of what is being made. Raises Apart."""
        keys, works = self.keys[:count], self.works[:count]
        mark = f"{keys[-1]} at once"
        if count >= LEAST_SISTERS and mark not in barred:
            tell(mark)
            made = kernel.combined(self.base.solid, [(w.operation, w.tools) for w in works])
            if made is not None and all(made.find(name) for name in self.seen):
                return made
        raise Apart(keys)


@dataclass(frozen=True, eq=False)
class Later(Mapping[str, "kernel.NamedSolid"]):
    """The part of a step that may not have been made yet: it is made when it is looked at."""

    part: str
    state: PartState

    def __getitem__(self, part: str) -> kernel.NamedSolid:
        if part != self.part:
            raise KeyError(part)
        return self.state.solid

    def __iter__(self) -> Iterator[str]:
        return iter((self.part,))

    def __len__(self) -> int:
        return 1
