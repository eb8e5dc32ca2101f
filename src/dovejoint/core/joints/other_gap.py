"""A joint drawn with another gap than its fit gives."""

from __future__ import annotations

from typing import Any

from ..document import Project, Step, apply, command_from
from ..document.compiled import compiled_step
from ..errors import CommandError
from ..fits import Wanted
from .assess import assess_by_formula
from .family import family_of, is_joint, steps_gap

__all__ = ["draw_gap", "drawing_step"]


def draw_gap(project: Project, joint: str, by_mm: float) -> dict[str, Any]:
    """The command that draws a joint's gap wider by so much (mm a side): its wanted band becomes its own, moved by it.

    Raises
    ------
    CommandError : there is no such joint, or it draws no gap.
    """
    step = drawing_step(project, joint)
    wanted = _wanted(project, step)
    moved = {"least": wanted.least_mm + by_mm, "target": wanted.target_mm + by_mm, "most": wanted.most_mm + by_mm}
    command: dict[str, Any] = {}
    # some families ask for an own band on diameter
    for per in (1, 2):
        command = {"do": "EditStep", "step": joint, "fields": {"fit": "own", **{k: f"{round(per * v, 4):g} mm" for k, v in moved.items()}}}  # fmt: skip
        found = _wanted(apply(project, command_from(command)).project, step)
        if abs(found.target_mm - moved["target"]) < 1e-3:
            break
    return command


def drawing_step(project: Project, joint: str) -> Step:
    """The step of a joint that draws a gap of its own. Raises CommandError."""
    step = project.step(joint)
    if step is None or not is_joint(step) or step.off:
        raise CommandError("That joint is not there any more.")
    if not family_of(step).draws(compiled_step(step).fields):
        raise CommandError("Both halves of that joint were there before it, so it draws no gap that could be stepped.")
    if family_of(step).gauged:
        raise CommandError("Nothing of it goes into something else, so a row of them could not be tried.")
    if not steps_gap(step):
        raise CommandError(
            "Its gap is one of a standard's, so it cannot be drawn in steps; choose another of them in its sentence."
        )
    return step


def _wanted(project: Project, step: Step) -> Wanted:
    report = next((r for r in assess_by_formula(project) if r.step == step.id), None)
    if report is None or report.wanted is None:
        raise CommandError("The joint could not be made; mend it first.")
    return report.wanted
