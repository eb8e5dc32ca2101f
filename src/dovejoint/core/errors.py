"""Errors that carry one sentence fit to show.

::

    DoveError
    ├── FormulaError       a formula cannot be read or computed
    ├── PickError          a pick is lost, or stands for several things now
    ├── StepError          a step cannot do what it says
    ├── CommandError       a command is refused, the document stays as it was
    │   └── ClashError     the command was written against an outdated version
    └── FileError          a file is damaged, hostile or not ours
"""

from __future__ import annotations

from collections.abc import Iterable


class DoveError(Exception):
    """Base of all errors that a person may see.

    Parameters
    ----------
    message : one sentence: what is wrong, where, and what would work.
    where : the id or name of the step, value or pick concerned, when known.
    field : the field of a step that the error speaks of, when known.
    things : ids of what it speaks of on the board, to be lit up there.
    """

    def __init__(
        self, message: str, *, where: str | None = None, field: str | None = None, things: Iterable[str] = ()
    ) -> None:
        super().__init__(message)
        self.message = message
        self.where = where
        self.field = field
        self.things = list(things)


class FormulaError(DoveError):
    """A formula cannot be read, or its units or names do not work out."""


class PickError(DoveError):
    """A pick is lost or ambiguous; the step must be shown a new one."""


class StepError(DoveError):
    """A step cannot do what it says with its present values."""


class CommandError(DoveError):
    """A command is refused; the document is left as it was."""


class ClashError(CommandError):
    """The same object was changed since the version that the command was written against."""

    def __init__(self, message: str, changes: list[str]) -> None:
        super().__init__(message)
        self.changes = changes


class FileError(DoveError):
    """A file is damaged, hostile, too large, or of another kind."""
