"""One evaluation in a process of its own, for the command line: a step that takes too long, or brings the kernel down, is told as that."""

from __future__ import annotations

from typing import Any

from ..core.document import Project
from ..core.errors import DoveError
from ..core.recipe import LimitStates
from . import jobs
from .executor import KillableExecutor, WorkerDied

__all__ = ["BARRED", "build_apart"]

#: what is said of a step that is not made any more
BARRED = {
    "crashed": "The geometry kernel crashed on this step; change its figures or picks.",
    "too long": "This step took too long and was stopped; change its figures or picks.",
}


def build_apart(project: Project, states: LimitStates, limit_s: float) -> dict[str, Any]:
    """The report of a project whose steps may each take ``limit_s`` seconds (shape in docs/command-line.md).

    A step over its limit fails with a sentence; the others are made.
    """
    executor = KillableExecutor(limit_s=limit_s, copied=True)
    barred: dict[str, str] = {}
    try:
        while True:
            at: dict[str, str] = {}

            def heard(message: Any, at: dict[str, str] = at) -> None:
                at["key"] = message[2] if message[0] == "step" else ""

            try:
                report: dict[str, Any] = executor.submit(
                    jobs.build_job, project.model_dump_json(), states.as_dict(), dict(barred), heard=heard
                ).result()
                return report
            except WorkerDied as error:
                # what comes after the steps is not any one step's doing
                if not at.get("key") or at["key"] in barred:
                    raise DoveError(f"This model could not be finished within {limit_s:g} s a step: {error}") from None
                barred[at["key"]] = BARRED[error.reason]
    finally:
        executor.shutdown(wait=False)
