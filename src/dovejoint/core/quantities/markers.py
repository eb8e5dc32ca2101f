"""Marks on the fields of steps: which are formulas, which refer to parts, steps and faces, and what is done to those parts.

The marks let one generic walk find everything that a step computes from and hangs on, so that no kind of
step has to write that down a second time. They are seen at any depth: in optionals, lists, dictionaries and
models within models.
"""

from __future__ import annotations

import types
import typing
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cache
from typing import Annotated, Any, Literal, TypeVar, get_args, get_origin

from pydantic import BaseModel, Field

from .units import ANGLE, LENGTH, NUMBER, Dimension

__all__ = [
    "Angle", "Changed", "FileHash", "FileMark", "FormulaMark", "Length", "Made", "MadeWhen", "NameMark", "Number", "PartId", "PartMark", "StepId",
    "StepMark", "unseen_marks", "rewrite", "walk",
]  # fmt: skip


@dataclass(frozen=True)
class FormulaMark:
    """The field holds a formula of this dimension; ``None`` leaves the dimension to the owner."""

    dimension: Dimension | None


@dataclass(frozen=True)
class PartMark:
    """The field holds the id of a part. ``does`` says what the step does to it (a walk says ``makes`` where it is made anew).

    ``new`` tells when the step brings that part into being: ``always``, or ``field=answer`` for one answer of another field
    of the same model; with any other answer it changes a part that is there.
    """

    does: Literal["reads", "changes", "makes"] = "reads"
    new: str = ""

    def makes(self, owner: BaseModel | Mapping[str, Any]) -> bool:
        """Whether the part is made anew with the present answers of the model (or its plain data) that holds the field."""
        if self.new in ("", "always"):
            return self.new == "always"
        name, _, answers = self.new.partition("=")
        value = owner.get(name) if isinstance(owner, Mapping) else getattr(owner, name, None)
        return str(value) in answers.split(",")


@dataclass(frozen=True)
class Changed:
    """On a field that holds a pick: the step changes the parts that the pick speaks of."""


@dataclass(frozen=True)
class StepMark:
    """The field holds the id of an earlier step whose result is used."""


@dataclass(frozen=True)
class NameMark:
    """The field holds the name of a face or an edge, in which the ids of the steps that made it stand."""


@dataclass(frozen=True)
class FileMark:
    """The field holds the hash of a file that was brought in."""


Length = Annotated[str, FormulaMark(LENGTH), Field(max_length=400)]
Angle = Annotated[str, FormulaMark(ANGLE), Field(max_length=400)]
Number = Annotated[str, FormulaMark(NUMBER), Field(max_length=400)]
PartId = Annotated[str, PartMark(), Field(max_length=40)]
StepId = Annotated[str, StepMark(), Field(max_length=40)]
FileHash = Annotated[str, FileMark(), Field(pattern=r"^[0-9a-f]{32}$")]
#: a part that the step always brings into being
Made = Annotated[str, PartMark("changes", "always"), Field(max_length=40)]
#: a part that the step makes when ``operation`` is ``new``, and changes otherwise
MadeWhen = Annotated[str, PartMark("changes", "operation=new"), Field(max_length=40)]

M = TypeVar("M", bound=BaseModel)
Mark = FormulaMark | PartMark | StepMark | NameMark | FileMark
_MARKS = (FormulaMark, PartMark, StepMark, NameMark, FileMark)
_MAKES, _CHANGES = PartMark("makes"), PartMark("changes")


@dataclass(frozen=True)
class _Seen:
    """What a walk finds in a value of some type: a mark on a text, members, or models to go into."""

    mark: Mark | None = None
    items: _Seen | None = None
    models: bool = False
    changed: bool = False


@cache
def _plan(model: type[BaseModel]) -> tuple[tuple[str, _Seen], ...]:
    """The fields of a model in which marks may be. Made once for each model, so that a walk costs little."""
    out = []
    for name, info in model.model_fields.items():
        found = _look(info.annotation, tuple(info.metadata), model, name)
        if found is not None:
            out.append((name, found))
    return tuple(out)


def _look(kind: Any, metadata: tuple[Any, ...], model: type, name: str) -> _Seen | None:
    mark = next((m for m in metadata if isinstance(m, _MARKS)), None)
    changed = any(isinstance(m, Changed) for m in metadata)
    origin = get_origin(kind)
    if origin is Annotated:
        inner, *more = get_args(kind)
        return _look(inner, (*metadata, *more), model, name)
    if mark is not None and kind is str:
        return _Seen(mark=mark)
    if origin in (typing.Union, types.UnionType):
        branches = [b for b in (_look(a, metadata, model, name) for a in get_args(kind)) if b is not None]
        return _merged(branches, model, name)
    if origin in (list, tuple, dict):
        members = [a for a in get_args(kind) if a is not Ellipsis]
        if origin is dict:
            if _look(members[0], (), model, name) is not None:
                raise TypeError(f"{model.__name__}.{name}: a mark on the keys of a dictionary is not seen")
            members = members[1:]
        inner_seen = _merged([b for b in (_look(a, (), model, name) for a in members) if b is not None], model, name)
        outer = mark is not None or (inner_seen is None and _marked(kind))
        if outer:
            raise TypeError(f"{model.__name__}.{name}: the mark belongs on the members of the list")
        return None if inner_seen is None else _Seen(items=inner_seen, changed=changed)
    if isinstance(kind, type) and issubclass(kind, BaseModel):
        return _Seen(models=True, changed=changed)
    if mark is not None or _marked(kind):
        raise TypeError(f"{model.__name__}.{name}: a mark on {kind} is not seen; only texts carry marks")
    return None


def _marked(kind: Any) -> bool:
    """Whether a mark stands anywhere in a type."""
    return any(isinstance(m, _MARKS) for m in getattr(kind, "__metadata__", ())) or any(
        _marked(a) for a in get_args(kind)
    )


def _merged(branches: list[_Seen], model: type, name: str) -> _Seen | None:
    if not branches:
        return None
    marks = {b.mark for b in branches if b.mark is not None}
    if len(marks) > 1 or (marks and any(b.items for b in branches)):
        raise TypeError(f"{model.__name__}.{name}: which of its marks counts cannot be told")
    items = _merged([b.items for b in branches if b.items is not None], model, name)
    mark = next(iter(marks), None)
    return _Seen(mark, items, any(b.models for b in branches), any(b.changed for b in branches))


def unseen_marks(model: type[BaseModel], done: set[type] | None = None) -> None:
    """Go through a model's types once. Raises TypeError where a mark stands in a place that the walk does not see."""
    done = set() if done is None else done
    if model in done:
        return
    done.add(model)
    _plan(model)
    for info in model.model_fields.values():
        for inner in _models_in(info.annotation):
            unseen_marks(inner, done)


def _models_in(kind: Any) -> Iterator[type[BaseModel]]:
    if isinstance(kind, type) and issubclass(kind, BaseModel):
        yield kind
    for argument in get_args(kind):
        yield from _models_in(argument)


def walk(model: BaseModel, path: str = "", changed: bool = False) -> Iterator[tuple[str, Any, str]]:
    """All marked texts of a model and of all within it, as ``(path, mark, text)``.

    Members of a list of models go by their ids where they have one, else by their place. The mark of a part says what is
    done to it as things stand: one within a pick that the step changes is changed.
    """
    for name, seen in _plan(type(model)):
        here = f"{path}.{name}" if path else name
        yield from _walk(getattr(model, name), seen, here, changed or seen.changed, model)


def _walk(value: Any, seen: _Seen, path: str, changed: bool, owner: BaseModel) -> Iterator[tuple[str, Any, str]]:
    if isinstance(value, str):
        mark = seen.mark
        if isinstance(mark, PartMark):
            if mark.makes(owner):
                mark = _MAKES
            elif changed and mark.does == "reads":
                mark = _CHANGES
        if mark is not None:
            yield path, mark, value
    elif isinstance(value, BaseModel):
        if seen.models:
            yield from walk(value, path, changed)
    elif isinstance(value, (list, tuple)):
        if seen.items is not None:
            for i, item in enumerate(value):
                key = getattr(item, "id", i) if isinstance(item, BaseModel) else i
                yield from _walk(item, seen.items, f"{path}.{key}", changed, owner)
    elif isinstance(value, dict) and seen.items is not None:
        for key, item in value.items():
            yield from _walk(item, seen.items, f"{path}.{key}", changed, owner)


def rewrite(model: M, change: Callable[[Any, str], str]) -> M:
    """A copy of a model with ``change(mark, text)`` applied to all its marked texts. Itself when nothing changes."""
    updates: dict[str, Any] = {}
    for name, seen in _plan(type(model)):
        value = getattr(model, name)
        new = _rewritten(value, seen, change)
        if new is not value:
            updates[name] = new
    return model.model_copy(update=updates) if updates else model


def _rewritten(value: Any, seen: _Seen, change: Callable[[Any, str], str]) -> Any:
    if isinstance(value, str):
        if seen.mark is None:
            return value
        new_text = change(seen.mark, value)
        return value if new_text == value else new_text
    if isinstance(value, BaseModel):
        return rewrite(value, change) if seen.models else value
    if isinstance(value, (list, tuple)) and seen.items is not None:
        new = [_rewritten(v, seen.items, change) for v in value]
        same = all(a is b for a, b in zip(new, value, strict=True))
        return value if same else type(value)(new)
    if isinstance(value, dict) and seen.items is not None:
        changed = {k: _rewritten(v, seen.items, change) for k, v in value.items()}
        return value if all(changed[k] is value[k] for k in value) else changed
    return value
