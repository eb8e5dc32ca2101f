"""The recipe read once: places by id, parsed fields, what each step makes, changes, reads and computes from.

Evaluation, limits, sentences, moves and lists of uses read this instead of the document. It is made once for each version
of a recipe, and what did not change in it is taken from the version before.
"""

from __future__ import annotations

import json
from collections import OrderedDict, deque
from collections.abc import Iterator
from functools import cached_property
from typing import Any

from ..errors import FormulaError
from ..quantities import names_in, parse
from ..quantities.markers import FormulaMark, NameMark, PartMark, StepMark, rewrite, walk
from ..solid.facename import steps_in
from .fields import StepFields, read_fields
from .model import Project, Step

__all__ = ["Compiled", "CompiledStep", "compiled", "compiled_step", "names_of"]

#: recipes and steps that are remembered; edits come one after another, so a few versions are enough
_RECIPES, _STEPS = 24, 2000


class CompiledStep:
    """One step with its fields parsed. Never changed once made; what is asked of it is worked out once."""

    def __init__(self, step: Step) -> None:
        self.step = step
        self.id = step.id
        self.fields: StepFields = read_fields(step.kind, step.fields)
        #: what other layers worked out of it and want to find again, by a name of theirs
        self.memo: dict[str, Any] = {}

    @cached_property
    def marks(self) -> tuple[tuple[str, Any, str], ...]:
        """All marked texts, as ``(path, mark, text)``."""
        return tuple(walk(self.fields))

    @cached_property
    def formulas(self) -> tuple[tuple[str, FormulaMark, str], ...]:
        return tuple((p, m, t) for p, m, t in self.marks if isinstance(m, FormulaMark))

    @cached_property
    def values(self) -> frozenset[str]:
        """Names of the values that its formulas use."""
        return frozenset(name for _, _, text in self.formulas for name in names_of(text))

    def _parts(self, does: str) -> tuple[str, ...]:
        found = (t for _, m, t in self.marks if isinstance(m, PartMark) and m.does == does and t)
        return tuple(dict.fromkeys(found))

    @cached_property
    def makes(self) -> tuple[str, ...]:
        """Parts that it brings into being."""
        return self._parts("makes")

    @cached_property
    def changes(self) -> tuple[str, ...]:
        """Parts that were there and that it changes."""
        return tuple(p for p in self._parts("changes") if p not in self.makes)

    @cached_property
    def reads(self) -> tuple[str, ...]:
        """Parts that it only looks at."""
        taken = {*self.makes, *self.changes}
        return tuple(p for p in self._parts("reads") if p not in taken)

    @cached_property
    def changing(self) -> frozenset[str]:
        """The paths of the fields that name the parts it changes."""
        return frozenset(p for p, m, _ in self.marks if isinstance(m, PartMark) and m.does == "changes")

    @property
    def shapes(self) -> tuple[str, ...]:
        """Parts that it makes or changes."""
        return (*self.makes, *self.changes)

    @cached_property
    def uses(self) -> frozenset[str]:
        """Ids of the steps whose results it takes by themselves (a sketch, a plane)."""
        return frozenset(t for _, m, t in self.marks if isinstance(m, StepMark) and t)

    @cached_property
    def named(self) -> frozenset[str]:
        """Ids of the steps that stand in the names of the faces it picks."""
        return frozenset(s for _, m, t in self.marks if isinstance(m, NameMark) for s in steps_in(t))

    @cached_property
    def bare(self) -> str:
        """What it says but for its formulas, as text to be hashed: writing 3 mm as wall + 1 mm is no change of it."""
        fields = rewrite(self.fields, lambda mark, text: "" if isinstance(mark, FormulaMark) else text)
        return json.dumps([self.step.kind, fields.model_dump(mode="json")], sort_keys=True, separators=(",", ":"))


def names_of(formula: str) -> set[str]:
    """The values that a formula uses; none where it is none."""
    try:
        return names_in(parse(formula)) if formula.strip() else set()
    except FormulaError:
        return set()


class Compiled:
    """A recipe, read. Ask :func:`compiled` for it."""

    def __init__(self, recipe: list[Step]) -> None:
        self.recipe = recipe
        self.steps = [compiled_step(step) for step in recipe]
        self.place = {step.id: i for i, step in enumerate(recipe)}
        #: what other layers worked out of it and want to find again, by a name of theirs
        self.memo: dict[str, Any] = {}

    def __iter__(self) -> Iterator[CompiledStep]:
        return iter(self.steps)

    def of(self, id: str) -> CompiledStep | None:
        place = self.place.get(id)
        return None if place is None else self.steps[place]

    @cached_property
    def makers(self) -> dict[str, str]:
        """The step that makes each part."""
        out: dict[str, str] = {}
        for step in self.steps:
            for part in step.makes:
                out.setdefault(part, step.id)
        return out

    def needs(self, id: str) -> set[str]:
        """Ids of the steps that a step builds on: those whose results it takes, those that made its parts, those in its picks' names."""
        step = self.of(id)
        if step is None:
            return set()
        parts = (*step.makes, *step.changes, *step.reads)
        made = {self.makers[p] for p in parts if p in self.makers}
        return ({*step.uses, *step.named, *made} & self.place.keys()) - {id}


_recipes: OrderedDict[int, Compiled] = OrderedDict()
_steps: OrderedDict[int, CompiledStep] = OrderedDict()
_by_id: dict[str, deque[CompiledStep]] = {}


def compiled_step(step: Step) -> CompiledStep:
    """A step, read: the same object for the same step, and for one that says the same."""
    known = _steps.get(id(step))
    if known is not None and known.step is step:
        return known
    like = _by_id.setdefault(step.id, deque(maxlen=6))
    # a document that went through a file or a pipe has new steps that say the same; other threads may add some meanwhile
    found = next((c for c in tuple(like) if c.step.fields == step.fields and c.step == step), None)
    if found is None:
        found = CompiledStep(step)
        like.append(found)
        _steps[id(step)] = found
        while len(_steps) > _STEPS:
            _steps.popitem(last=False)
    return found


def compiled(project: Project) -> Compiled:
    """The recipe of a project, read. Raises CommandError for a step that is none."""
    key = id(project.recipe)
    known = _recipes.get(key)
    if known is not None and known.recipe is project.recipe:
        return known
    made = Compiled(project.recipe)
    _recipes[key] = made
    while len(_recipes) > _RECIPES:
        _recipes.popitem(last=False)
    return made
