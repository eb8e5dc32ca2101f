"""Fields of steps. Each kind of step brings its own; the document only knows where to look them up."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict, ValidationError

from ..errors import CommandError

__all__ = ["StepFields", "field_model", "known_kinds", "read_fields", "register_fields"]


class StepFields(BaseModel):
    """Base of the fields of every kind of step: unknown fields are refused, values never change in place."""

    model_config = ConfigDict(extra="forbid", frozen=True)


_MODELS: dict[str, type[StepFields]] = {}


def register_fields(kind: str, model: type[StepFields]) -> None:
    """Make a kind's fields known to the document."""
    _MODELS[kind] = model


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
