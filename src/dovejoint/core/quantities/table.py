"""The value table: named formulas, computed in the order of what they depend on."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..errors import FormulaError
from .formula import Formula, evaluate, names_in, parse
from .units import Quantity

__all__ = ["ValueResult", "evaluate_table"]


@dataclass(frozen=True)
class ValueResult:
    """What became of one value: its quantity, or the sentence that says why there is none."""

    name: str
    quantity: Quantity | None
    error: str | None = None


def evaluate_table(
    rows: Sequence[tuple[str, str]], fixed: Mapping[str, Quantity] | None = None
) -> dict[str, ValueResult]:
    """Compute a table of ``(name, formula)``; the names in ``fixed`` have that figure, whatever their formula says.

    A value that fails, or that is part of a cycle, takes down only those that use it. Each says its
    own reason; a cycle is named in full, e.g. ``a → b → a``.
    """
    trees: dict[str, Formula] = {}
    results: dict[str, ValueResult] = {}
    for name, formula in rows:
        try:
            trees[name] = parse(formula)
        except FormulaError as error:
            results[name] = ValueResult(name, None, error.message)
    good: dict[str, Quantity] = dict(fixed or {})
    results.update({name: ValueResult(name, quantity) for name, quantity in good.items()})
    path: list[str] = []

    def settle(name: str) -> None:
        if name in results:
            return
        if name in path:
            loop = path[path.index(name) :] + [name]
            sentence = "These values go round in a circle: " + " → ".join(loop) + "."
            for member in loop:
                results[member] = ValueResult(member, None, sentence)
            return
        path.append(name)
        uses = sorted(names_in(trees[name]))
        for used in uses:
            if used in trees or used in results:
                settle(used)
        path.pop()
        if name in results:
            return
        for used in uses:
            if used in results and results[used].quantity is None:
                results[name] = ValueResult(name, None, f"It uses “{used}”, which has no figure.")
                return
        try:
            quantity = evaluate(trees[name], good)
        except FormulaError as error:
            results[name] = ValueResult(name, None, error.message)
            return
        good[name] = quantity
        results[name] = ValueResult(name, quantity)

    for name, _ in rows:
        if name in trees:
            settle(name)
    return results
