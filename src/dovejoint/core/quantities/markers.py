"""Marks on the fields of steps: which are formulas and which refer to parts or steps.

The marks let one generic walk find everything that a step computes from and hangs on, so that no kind of
step has to write that down a second time.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import BaseModel, Field

from .units import ANGLE, LENGTH, NUMBER, Dimension

__all__ = ["Angle", "FormulaMark", "Length", "Number", "PartId", "PartMark", "StepId", "StepMark", "rewrite", "walk"]


@dataclass(frozen=True)
class FormulaMark:
    """The field holds a formula of this dimension; ``None`` leaves the dimension to the owner."""

    dimension: Dimension | None


@dataclass(frozen=True)
class PartMark:
    """The field holds the id of a part that the step reads or changes."""


@dataclass(frozen=True)
class StepMark:
    """The field holds the id of an earlier step whose result is used."""


Length = Annotated[str, FormulaMark(LENGTH), Field(max_length=400)]
Angle = Annotated[str, FormulaMark(ANGLE), Field(max_length=400)]
Number = Annotated[str, FormulaMark(NUMBER), Field(max_length=400)]
PartId = Annotated[str, PartMark(), Field(max_length=40)]
StepId = Annotated[str, StepMark(), Field(max_length=40)]

_MARKS = (FormulaMark, PartMark, StepMark)


def walk(model: BaseModel, path: str = "") -> Iterator[tuple[str, Any, str]]:
    """All marked fields of a model and of the models within it, as ``(path, mark, text)``."""
    for name, info in type(model).model_fields.items():
        value = getattr(model, name)
        here = f"{path}.{name}" if path else name
        marks = [m for m in info.metadata if isinstance(m, _MARKS)]
        if marks and isinstance(value, str):
            yield here, marks[0], value
        elif isinstance(value, BaseModel):
            yield from walk(value, here)
        elif isinstance(value, list):
            for i, item in enumerate(value):
                if isinstance(item, BaseModel):
                    # a list's members are known by their ids where they have one
                    yield from walk(item, f"{here}.{getattr(item, 'id', i)}")


def rewrite(model: BaseModel, change: Callable[[Any, str], str]) -> BaseModel:
    """A copy of a model with ``change(mark, text)`` applied to all its marked fields."""
    updates: dict[str, Any] = {}
    for name, info in type(model).model_fields.items():
        value = getattr(model, name)
        marks = [m for m in info.metadata if isinstance(m, _MARKS)]
        if marks and isinstance(value, str):
            updates[name] = change(marks[0], value)
        elif isinstance(value, BaseModel):
            updates[name] = rewrite(value, change)
        elif isinstance(value, list):
            updates[name] = [rewrite(v, change) if isinstance(v, BaseModel) else v for v in value]
    return model.model_copy(update=updates)
