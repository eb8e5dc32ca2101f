"""The engine: evaluates projects in the background, the latest edit first, and keeps what it found."""

from __future__ import annotations

import hashlib
import importlib.metadata
import json
import logging
import threading
from collections.abc import Callable
from concurrent.futures import CancelledError, Executor, Future
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, TypeVar

from ..core.document import Project, ThingPick
from ..store import ResultStore
from . import jobs
from .executor import JobStopped, KillableExecutor, WorkerDied

_Answer = TypeVar("_Answer")

__all__ = ["Engine"]

_log = logging.getLogger(__name__)
_BARRED = {
    "crashed": "The geometry kernel crashed on this step; change its figures or picks.",
    "too long": "This step took too long and was stopped; change its figures or picks.",
}


def _kernel() -> str:
    """The kernel's version, told without loading it."""
    return importlib.metadata.version("cadquery-ocp-novtk")


def _programs() -> str:
    """A hash of the programs that make results: what another version made is not reused."""
    folder = Path(__file__).resolve().parents[1]
    digest = hashlib.sha256()
    for file in sorted(p for part in ("core", "engine") for p in (folder / part).rglob("*.py")):
        digest.update(file.read_bytes())
    return digest.hexdigest()[:16]


@dataclass
class _Line:
    """What runs for one project: a recorded evaluation and a preview, each with only its latest request."""

    running: dict[str, Future[Any]] = field(default_factory=dict)
    ticket: dict[str, int] = field(default_factory=dict)
    halted: set[int] = field(default_factory=set)
    asked: dict[str, tuple[str, Future[Any]]] = field(default_factory=dict)


class Engine:
    """Evaluations, previews and exports.

    Parameters
    ----------
    executor : where jobs run; any ``concurrent.futures.Executor``. Stopping and progress work with ours.
    store : finished evaluations and meshes.
    notify : told ``(project id, event, data)`` when something is worth passing on to windows.
    """

    def __init__(
        self, executor: Executor, store: ResultStore, notify: Callable[[str, str, dict[str, Any]], None] | None = None
    ) -> None:
        self.executor = executor
        self.store = store
        self.notify = notify or (lambda project, event, data: None)
        self._lock = threading.Lock()
        self._lines: dict[str, _Line] = {}
        self._barred: dict[str, str] = {}
        self._deaths: dict[str, int] = {}
        self._known: set[str] = set()
        self._tickets = 0
        self._closed = False
        self._kernel = f"{_kernel()} {_programs()}"

    def key(self, project: Project, upto: str | None, measure: bool, limits: str = "") -> str:
        """Equal keys mean equal evaluations: the document (with names, which labels show) and the programs."""
        text = f"{self._kernel}\n{upto or ''}\n{measure}\n{limits}\n{project.model_dump_json()}"
        return hashlib.sha256(text.encode()).hexdigest()

    def request(self, id: str, version: int, project: Project) -> None:
        """Evaluate in the background what was just recorded; windows are told when it is done.

        The model comes first; then the gaps are measured on it, and windows are told again.
        """
        self.notify(id, "progress", {"version": version, "state": "started"})
        self._begin(id, "record", project, None, version)

    def at_limits(self, id: str, version: int, project: Project, limits: str, wait_s: float = 60.0) -> str:
        """The report with toleranced dimensions in limit states (JSON, as ``LimitStates.read`` takes it), measured at once."""
        kept = self.store.report(self.key(project, None, True, limits))
        if kept is not None:
            return self._reused(kept)
        return self._wait(self._begin(id, "limits", project, None, version, limits), wait_s)

    def evaluation(self, id: str, version: int, project: Project, upto: str | None = None, wait_s: float = 60.0) -> str:
        """The report of a project, from the store if it is there. Raises JobStopped when overtaken, TimeoutError.

        Where the gaps are still being measured, it is the one that has them by formula.
        """
        for measured in (True, False):
            kept = self.store.report(self.key(project, upto, measured))
            if kept is not None:
                if not measured and upto is None:
                    self._begin(id, "measure", project, None, version)
                return self._reused(kept)
        return self._wait(self._begin(id, "look" if upto else "record", project, upto, version), wait_s)

    def preview(self, id: str, project: Project, upto: str | None = None, wait_s: float = 60.0) -> str:
        """The report of a document that is not recorded. A newer preview overtakes it."""
        return self._wait(self._begin(id, "preview", project, upto, -1), wait_s)

    def _wait(self, future: Future[Any], wait_s: float) -> str:
        try:
            return str(future.result(wait_s))
        except CancelledError:
            raise JobStopped from None

    def _begin(
        self, id: str, lane: str, project: Project, upto: str | None, version: int, limits: str = ""
    ) -> Future[Any]:
        measure = lane in ("measure", "limits")
        key = self.key(project, upto, measure, limits)
        kept = self.store.report(key)
        answer: Future[Any] = Future()
        with self._lock:
            line = self._lines.setdefault(id, _Line())
            under_way = line.asked.get(lane)
            if under_way is not None and under_way[0] == key and not under_way[1].done():
                return under_way[1]
            line.asked[lane] = (key, answer)
            self._tickets += 1
            ticket = line.ticket[lane] = self._tickets
            old = line.running.get(lane)
            # a recorded edit also overtakes previews of what it replaces
            overtaken = [old] if old else []
            if lane == "record":
                overtaken += [line.running[other] for other in ("preview", "measure") if other in line.running]
        for future in overtaken:
            self._stop(future)
        if kept is not None:
            answer.set_result(self._reused(kept))
            self._told(id, lane, project, version, ticket)
            return answer
        self._launch(id, lane, ticket, project, upto, version, key, answer, limits)
        return answer

    @staticmethod
    def _reused(kept: str) -> str:
        """A kept report, saying that nothing was computed for it this time."""
        return json.dumps({**json.loads(kept), "computed": 0})

    def halt(self, id: str) -> None:
        """Stop all that is being worked out for a project, in the middle of a step if need be.

        It stays undone until it is asked for again; nothing that was recorded is touched.
        """
        with self._lock:
            line = self._lines.setdefault(id, _Line())
            line.halted = set(line.ticket.values())
            futures = list(line.running.values())
        for future in futures:
            if isinstance(self.executor, KillableExecutor):
                self.executor.interrupt(future)
            else:
                future.cancel()

    def _stop(self, future: Future[Any]) -> None:
        if isinstance(self.executor, KillableExecutor):
            self.executor.stop(future)
        else:
            future.cancel()

    def _launch(
        self,
        id: str,
        lane: str,
        ticket: int,
        project: Project,
        upto: str | None,
        version: int,
        key: str,
        answer: Future[Any],
        limits: str,
    ) -> None:
        measure = lane in ("measure", "limits")
        arguments = (project.model_dump_json(), upto, dict(self._barred), list(self._known), measure, limits)
        at: dict[str, Any] = {}

        def heard(message: tuple[Any, ...]) -> None:
            if message[0] == "step":
                at["step"], at["key"] = message[1], message[2]
                if lane == "record":
                    self.notify(id, "progress", {"version": version, "state": "step", "step": message[1]})

        if isinstance(self.executor, KillableExecutor):
            future = self.executor.submit(jobs.evaluate_job, *arguments, heard=heard)
        else:
            future = self.executor.submit(jobs.evaluate_job, *arguments)
        with self._lock:
            self._lines[id].running[lane] = future

        def finished(done: Future[Any]) -> None:
            if done.cancelled():
                answer.cancel()
                return
            error = done.exception()
            if ticket in self._lines[id].halted and error is not None:
                self.notify(id, "progress", {"version": version, "state": "stopped"})
                answer.set_exception(JobStopped())
                return
            if isinstance(error, WorkerDied):
                self._after_death(error, at)
                if self._deaths.get("in a row", 0) < 6 and not self._closed:
                    self._launch(id, lane, ticket, project, upto, version, key, answer, limits)
                    return
            self._deaths["in a row"] = 0
            if error is not None:
                if not isinstance(error, JobStopped):
                    _log.error("evaluation failed", exc_info=error)
                    self.notify(id, "progress", {"version": version, "state": "failed"})
                answer.set_exception(error)
                return
            report, meshes = done.result()
            self._known.update(meshes)
            self.store.keep(key, report, meshes)
            answer.set_result(report)
            self._told(id, lane, project, version, ticket)

        future.add_done_callback(finished)

    def _after_death(self, error: WorkerDied, at: dict[str, Any]) -> None:
        """A step that was being made at two deaths, or that took too long once, is not tried again."""
        self._known.clear()
        self._deaths["in a row"] = self._deaths.get("in a row", 0) + 1
        key = at.get("key")
        if key is None:
            return
        self._deaths[key] = self._deaths.get(key, 0) + 1
        if error.reason == "too long" or self._deaths[key] >= 2:
            self._barred[key] = _BARRED[error.reason]

    def _told(self, id: str, lane: str, project: Project, version: int, ticket: int) -> None:
        if lane not in ("record", "measure"):
            return
        with self._lock:
            newest = self._lines[id].ticket[lane] == ticket
        if newest:
            self.notify(id, "evaluation", {"version": version, "measured": lane == "measure"})
            if lane == "record":
                self._begin(id, "measure", project, None, version)

    def measure(self, project: Project, first: ThingPick, second: ThingPick | None, wait_s: float = 30.0) -> str:
        """A reading on the model, as JSON. Raises PickError, WorkerDied, TimeoutError."""
        picks = (first.model_dump_json(), second.model_dump_json() if second else None)
        return str(self.executor.submit(jobs.measure_job, project.model_dump_json(), *picks).result(wait_s))

    def work(self, job: Callable[..., _Answer], *arguments: Any, wait_s: float = 120.0) -> _Answer:
        """One job of jobs.py, answering with JSON or a file. Raises what it raises, WorkerDied, TimeoutError."""
        answer: _Answer = self.executor.submit(job, *arguments).result(wait_s)
        return answer

    def export(
        self,
        project: Project,
        parts: list[str],
        format: str,
        unit: str,
        pattern: str,
        laid: bool = False,
        together: bool = False,
        wait_s: float = 120.0,
    ) -> list[tuple[str, str, bytes]]:
        """Parts as files. Raises CommandError for what cannot be exported, WorkerDied, TimeoutError."""
        document = project.model_dump_json()
        job = self.executor.submit(jobs.export_job, document, parts, format, unit, pattern, laid, together)
        files: list[tuple[str, str, bytes]] = job.result(wait_s)
        return files

    def close(self) -> None:
        self._closed = True
        self.executor.shutdown(wait=False)
