"""The other way round: for a reading and the figure that it should have, the one value that gives it; or why none does."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from ..document import Project, ThingPick, apply, command_from
from ..errors import CommandError, DoveError
from ..quantities import ANGLE, LENGTH, NUMBER, Quantity, evaluate_table, show
from .evaluate import ResultCache, evaluate
from .readings import read

__all__ = ["Answer", "solve_for"]

#: a reading is reached within this, mm, mm² or rad
CLOSE = 1e-5
#: models that may be made on the way
MOST_TRIES = 24


@dataclass(frozen=True)
class Answer:
    """``formula`` is what the value is to be, ``reached`` what the reading is then; without a formula ``message`` says why there is none."""

    formula: str
    reached: float
    message: str = ""


class _Stopped(Exception):
    """The model cannot be made with a figure, or the reading is not there then; the text says why."""


def solve_for(
    project: Project,
    cache: ResultCache,
    first: ThingPick,
    second: ThingPick | None,
    what: str,
    target: float,
    value: str,
    stop: Callable[[], bool] = lambda: False,
) -> Answer:
    """Find the figure of one value that brings a reading to a target.

    The model is made again and again with other figures (secant steps, halved where a step fails); nothing is changed.

    Parameters
    ----------
    what : which figure of the reading (``apart``, ``diameter`` …), as :func:`read` calls it.
    target : in mm, mm² or rad, as the reading is.
    value : id of the value that may change.

    Raises
    ------
    CommandError : there is no such value, or it has no figure.
    PickError : a thing of the reading is not there.
    """
    found = next((v for v in project.values if v.id == value), None)
    quantity = evaluate_table([(v.name, v.formula) for v in project.values])[found.name].quantity if found else None
    if found is None or quantity is None:
        raise CommandError("That value is not there, or has no figure to begin with.")

    def written(figure: float) -> str:
        return show(Quantity(figure, quantity.dimension), "mm", 6)

    def at(figure: float) -> float:
        try:
            command = command_from({"do": "SetValue", "value": value, "formula": written(figure)})
            tried = apply(project, command).project
            evaluation = evaluate(tried, cache, stop=stop)
            bad = next((k for k, r in enumerate(evaluation.steps, 1) if r.state in ("failed", "asks")), None)
            if bad is not None:
                raise _Stopped(f"step {bad} fails: {evaluation.steps[bad - 1].message}")
            rows = read(evaluation.parts, first, second)
        except _Stopped:
            raise
        except DoveError as error:
            raise _Stopped(error.message) from None
        row = next((r for r in rows if r.what == what), None)
        if row is None:
            raise _Stopped(f"there is no “{what}” to be read any more.")
        return row.figure

    x0 = quantity.value
    try:
        f0 = at(x0)
    except _Stopped as stopped:
        return Answer("", math.nan, f"As it is, {stopped}")
    if quantity.dimension == NUMBER and abs(x0 - round(x0)) < 1e-9:
        return _counted(at, found.name, round(x0), f0, target)
    least = {LENGTH: 0.01, ANGLE: math.radians(0.05)}.get(quantity.dimension, 1e-3)
    step = max(least, abs(x0) * 0.01)
    best, reason = (abs(f0 - target), x0, f0), ""
    x1 = x0
    for tries in range(MOST_TRIES):
        if best[0] <= CLOSE:
            return Answer(written(best[1]), best[2])
        x1 = x0 + step
        try:
            f1 = at(x1)
        except _Stopped as stopped:
            reason = f"With {found.name} = {show(Quantity(x1, quantity.dimension), project.unit)}, {stopped}"
            step /= -2 if tries == 0 else 2
            if abs(step) < least / 50:
                break
            continue
        best = min(best, (abs(f1 - target), x1, f1))
        if abs(f1 - f0) < 1e-9:
            if tries == 0:
                return Answer("", f0, f"That reading does not change with {found.name}; choose another value.")
            break
        slope = (f1 - f0) / (x1 - x0)
        step = (target - f1) / slope
        x0, f0 = x1, f1
        # far away the slope says little
        reach = 0.6 * max(abs(x0), 10 * least)
        step = max(-reach, min(reach, step))
    if best[0] <= CLOSE:
        return Answer(written(best[1]), best[2])
    near = show(Quantity(best[1], quantity.dimension), project.unit)
    return Answer("", best[2], f"No figure of {found.name} gives that; the nearest is {near}. {reason}".strip())


def _counted(at: Callable[[float], float], name: str, now: int, here: float, target: float) -> Answer:
    """A value that counts things takes whole numbers only."""
    best = (abs(here - target), now, here)
    for figure in [n for k in range(1, 9) for n in (now + k, now - k) if n > 0]:
        try:
            reading = at(float(figure))
        except _Stopped:
            continue
        best = min(best, (abs(reading - target), figure, reading))
        if best[0] <= CLOSE:
            return Answer(str(best[1]), best[2])
    return Answer("", best[2], f"No whole number of {name} near {now} gives that; the nearest is {best[1]}.")
