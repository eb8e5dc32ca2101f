"""Fields of steps. Each kind of step brings its own; the document only knows where to look them up."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping
from typing import Annotated, Any, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ..errors import CommandError
from ..quantities import Quantity
from ..quantities.markers import Made, PartMark, unseen_marks

__all__ = [
    "CopyingFields",
    "StepFields",
    "copy_key",
    "field_model",
    "known_kinds",
    "new_part_field",
    "read_fields",
    "register_fields",
]


class StepFields(BaseModel):
    """Base of the fields of every kind of step: unknown fields are refused, values never change in place.

    What a step makes, changes and reads is told by the marks on its fields (quantities/markers.py) and nothing else.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)
    #: the role that a part has which the step brings into being
    new_role: ClassVar[Literal["printed", "bought", "made", "reference"]] = "printed"
    #: the field with the part that it is a copy of, and so looks and is made like; or a piece of, and so is made like
    copy_of: ClassVar[str] = ""
    piece_of: ClassVar[str] = ""

    @property
    def follows_counts(self) -> bool:
        """Whether it holds something as often as a formula says."""
        return False

    def kept_to(self, known: Mapping[str, Quantity]) -> StepFields:
        """The fields after what they hold several times follows its count, from the values' figures; themselves where nothing changes."""
        return self


class CopyingFields(StepFields, ABC):
    """Fields of a step that makes numbered copies of parts, each a part of its own. ``made`` has their ids by :func:`copy_key`; the document keeps it (copies.py)."""

    made: Annotated[dict[Annotated[str, Field(max_length=60)], Made], Field(max_length=4000)] = {}

    @abstractmethod
    def copies(self, known: Mapping[str, Quantity]) -> list[tuple[str, int]] | None:
        """Which copies of which parts (by their ids) are wanted, from the values' figures; ``None`` where that cannot be told now."""


def copy_key(part: str, number: int) -> str:
    """What a numbered copy of a part is kept by."""
    return f"{part}:{number}"


def copy_key_of(key: str, ids: Mapping[str, str]) -> str:
    """The key of the same copy where its part has another id."""
    part, colon, number = key.partition(":")
    return f"{ids.get(part, part)}{colon}{number}"


_MODELS: dict[str, type[StepFields]] = {}


def register_fields(kind: str, model: type[StepFields]) -> None:
    """Make a kind's fields known to the document. Raises TypeError for a mark that the walk would not see."""
    unseen_marks(model)
    if len(_making(model)) > 1:
        raise TypeError(f"{model.__name__}: only one of its fields can be a new part")
    _MODELS[kind] = model


def _making(model: type[StepFields]) -> list[tuple[str, PartMark]]:
    return [
        (name, mark)
        for name, info in model.model_fields.items()
        for mark in info.metadata
        if isinstance(mark, PartMark) and mark.new
    ]


def new_part_field(model: type[StepFields]) -> tuple[str, PartMark] | None:
    """The field of a kind that takes a part which the step brings into being, with the mark that says when."""
    return next(iter(_making(model)), None)


def known_kinds() -> dict[str, type[StepFields]]:
    return dict(_MODELS)


def field_model(kind: str) -> type[StepFields]:
    """The fields of a kind of step.

    Raises
    ------
    CommandError : there is no such kind.
    """
    if kind not in _MODELS:
        raise CommandError(f"There is no kind of step called “{kind}”.")
    return _MODELS[kind]


def read_fields(kind: str, data: dict[str, Any]) -> StepFields:
    """Check the fields of a step. Raises CommandError with the first thing that is wrong."""
    try:
        return field_model(kind).model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"]) or "the step"
        raise CommandError(f"“{where}” is not right: {first['msg'].lower()}.", field=where.split(".")[0]) from None
