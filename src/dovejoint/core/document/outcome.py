"""What a command leaves behind."""

from __future__ import annotations

from dataclasses import dataclass, field

from ..quantities import Quantity, evaluate_table
from .model import Project

__all__ = ["Outcome", "known_values"]


@dataclass(frozen=True)
class Outcome:
    """A command's effect: the next document, the ids touched, a sentence, and ids that came into being."""

    project: Project
    touches: frozenset[str]
    sentence: str
    created: list[str] = field(default_factory=list)


def known_values(project: Project) -> dict[str, Quantity]:
    """The figures of all values that have one."""
    table = evaluate_table([(v.name, v.formula) for v in project.values])
    return {name: r.quantity for name, r in table.items() if r.quantity is not None}
