"""A kind of pick as one object: what a field asks for, what may be pointed at, what that becomes, and what it means.

The page knows only *things* (face, edge, corner, line, region, plane, axis, point, part) and reads the rest from what is served
here; a new kind of pick is one file in this folder.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, Literal, get_args

from pydantic import BaseModel

from ...document import Project
from ...document.compiled import compiled
from ...sketch.words import calling
from ..labels import of_part

if TYPE_CHECKING:
    from ..context import StepContext

__all__ = ["Namer", "PickKind", "PickRule", "Pointing", "Ready", "Thing", "all_picks", "all_rules", "models_of", "pick_kind", "register_pick", "rule_of", "said_pick"]  # fmt: skip

ThingType = Literal["face", "edge", "corner", "line", "region", "plane", "axis", "point", "part"]


@dataclass(frozen=True)
class Thing:
    """A thing on the stage: a face or an edge of a ``part`` by its place, a region or a line of a sketch by its name, a plane or an
    axis of a ``step``."""

    type: ThingType
    part: str = ""
    step: str = ""
    index: int = -1
    name: str = ""

    def as_dict(self) -> dict[str, Any]:
        return {k: v for k, v in self.__dict__.items() if v != "" and v != -1}


class Namer:
    """Says parts and steps by their names."""

    def __init__(self, project: Project) -> None:
        self._unit = project.unit
        self._parts = {p.id: p.name for p in project.parts}
        self._steps = {s.id: (i + 1, s.name) for i, s in enumerate(project.recipe)}
        self._drawn = {s.id: s for s in compiled(project) if "sketch" in s.step.fields}
        #: equal keys say everything alike
        drawn = tuple((id, hash(s.bare)) for id, s in self._drawn.items())
        self.key = hash((self._unit, tuple(self._parts.items()), tuple(self._steps.items()), drawn))

    def part(self, id: str) -> str:
        return self._parts.get(id, "a part that is gone")

    def step(self, id: str, otherwise: str) -> str:
        if id not in self._steps:
            return f"{otherwise} that is gone"
        place, name = self._steps[id]
        return name or f"{otherwise} of step {place}"

    def line(self, step: str, line: str) -> str:
        """A line of an outline by where it lies on the board, e.g. “the upper line”; without its size, which may follow values."""
        drawn = self._drawn.get(step)
        if drawn is None:
            return "a line"
        words = {id: text.partition(",")[0] for id, text in calling(drawn.fields.sketch).items()}  # type: ignore[attr-defined]
        found = words.get(line, "")
        return found if list(words.values()).count(found) == 1 else "a line"

    def thing(self, thing: Any, part: str, otherwise: str) -> str:
        """A face or an edge as it was called when it was picked, e.g. “the top of Hopper”."""
        name = self.part(getattr(thing, "part", "") or part)
        label = thing.seen.label if thing.seen is not None else ""
        return f"the {of_part(label, name, self._unit)}" if label else f"{_by_role(thing.name) or otherwise} of {name}"


#: how the beginning of a face's own name is said where nothing more is known of it
_ROLES = (
    ("rim", "the rim"), ("end", "the end"), ("start", "the foot"), ("inner", "an inner wall"), ("side", "a side"),
    ("seat", "the seat"), ("back", "the back"), ("lip", "the lip"),
)  # fmt: skip


def _by_role(name: str) -> str:
    last = name.partition("/")[2]
    return next((words for role, words in _ROLES if last.split("(")[0] == role and "|" not in last), "")


@dataclass(frozen=True)
class PickRule:
    """One way in which a pick is kept: its model, how it is said, and which things it stands for as the model is now."""

    rule: str
    model: type[BaseModel]
    words: Callable[[Namer, Any], str]
    lights: Callable[[StepContext, Any], list[Thing]]


@dataclass(frozen=True)
class Pointing:
    """What pointing at a thing makes: a pick of a ``rule`` that has the thing in its ``slot`` (``many``: in a list, once more takes it
    out; ``one``: in a list as the only one), with constants ``plus``. ``only`` are the kinds of surface or curve that it must have (“hollow …” and “full …” for round ones that
    look inwards or outwards). ``words`` says it in a list.
    ``loops`` is the least number of outlines that a face must have, 2 for one round an opening. ``alike`` is a rule of part, step and
    role for all that the step of the thing pointed at has made, or has made like it."""

    thing: ThingType
    rule: str
    slot: str
    many: bool = False
    one: bool = False
    only: tuple[str, ...] = ()
    plus: Mapping[str, Any] = field(default_factory=dict)
    words: str = "{thing}"
    loops: int = 1
    alike: str = ""


@dataclass(frozen=True)
class Ready:
    """An answer that needs no pointing: once, or for each ``part``, ``plane``, ``axis``, ``point``, ``sketch`` or ``work`` (step that
    added to parts or cut them) before the step. ``along`` is the direction in
    which an edge that was pointed at must run for it to be offered first. ``holds`` is what an outline must have in it to be offered: closed
    areas, curves, or lone points and circles."""

    pick: Mapping[str, Any]
    words: str
    each: Literal["", "part", "plane", "axis", "point", "sketch", "work"] = ""
    along: tuple[float, float, float] | None = None
    holds: Literal["", "regions", "curves", "spots"] = ""


@dataclass(frozen=True)
class PickKind:
    """One kind of pick: the word by which fields ask for it, a hint, what may be pointed at, and what needs no pointing."""

    kind: str
    hint: str
    rules: tuple[str, ...]
    points: tuple[Pointing, ...]
    ready: tuple[Ready, ...] = ()

    @property
    def many(self) -> bool:
        return any(p.many for p in self.points)

    def as_dict(self) -> dict[str, Any]:
        """As the page needs it."""
        return {
            "kind": self.kind,
            "hint": self.hint,
            "many": self.many,
            "points": [
                {
                    "thing": p.thing, "rule": p.rule, "slot": p.slot, "many": p.many, "one": p.one, "only": list(p.only), "plus": dict(p.plus),
                    "words": p.words, "loops": p.loops, "alike": p.alike,
                }
                for p in self.points
            ],
            "ready": [
                {"pick": dict(r.pick), "words": r.words, "each": r.each, "along": list(r.along) if r.along else None, "holds": r.holds}
                for r in self.ready
            ],
        }  # fmt: skip


_RULES: dict[str, PickRule] = {}
_KINDS: dict[str, PickKind] = {}


def register_pick(kind: PickKind, *rules: PickRule) -> PickKind:
    """Make a kind of pick known, with the rules that are new with it. Raises ValueError for one that does not hold together."""
    for rule in rules:
        if rule.rule in _RULES:
            raise ValueError(f"There is a rule “{rule.rule}” already.")
        _RULES[rule.rule] = rule
    for name in (*kind.rules, *(p.rule for p in kind.points)):
        if name not in _RULES or name not in kind.rules:
            raise ValueError(f"{kind.kind}: there is no rule “{name}” in it")
    for point in kind.points:
        if point.slot and point.slot not in _RULES[point.rule].model.model_fields:
            raise ValueError(f"{kind.kind}: “{point.rule}” has no field “{point.slot}”")
    _KINDS[kind.kind] = kind
    return kind


def pick_kind(name: str) -> PickKind | None:
    return _KINDS.get(name)


def all_picks() -> list[PickKind]:
    return list(_KINDS.values())


def all_rules() -> list[PickRule]:
    return list(_RULES.values())


def rule_of(pick: Any) -> PickRule:
    """The rule of a pick, given as a model or as plain data."""
    return _RULES[pick["rule"] if isinstance(pick, Mapping) else pick.rule]


def said_pick(namer: Namer, pick: Any) -> str:
    """A pick in words."""
    rule = rule_of(pick)
    return rule.words(namer, rule.model.model_validate(pick) if isinstance(pick, Mapping) else pick)


def models_of(annotation: Any) -> Iterator[type[BaseModel]]:
    """The models that a field's type admits."""
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        yield annotation
    for inner in get_args(annotation):
        yield from models_of(inner)


def fits_kind(kind: PickKind, annotation: Any) -> bool:
    """Whether a field of this type can hold every pick of a kind, and no other."""
    return set(models_of(annotation)) == {_RULES[r].model for r in kind.rules}
