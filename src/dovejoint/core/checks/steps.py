"""Steps that failed, and picks that were lost."""

from __future__ import annotations

from collections.abc import Iterable

from .registry import Finding, Model, register_check


@register_check("steps", "Steps that could not be made", "Every step is made.")
def _(model: Model) -> Iterable[Finding]:
    for step, report in zip(model.project.recipe, model.evaluation.steps, strict=True):
        number = model.project.recipe.index(step) + 1
        if report.state == "failed":
            yield Finding("wrong", f"Step {number}: {report.message}", advice="Change the step.", step=step.id)
        elif report.state == "asks":
            advice = "Point at what is meant."
            yield Finding("wrong", f"Step {number}: {report.message}", advice=advice, step=step.id)
