"""The engine: evaluates projects in the background, the latest edit first, and keeps what it found.

An edit goes through stages, each told to the windows: *shown* (there is something to look at), *made* (vouched for, weighed and
described), *measured* (gaps, readings and checks). The first two are the work of the project's own worker, the last that of a
helper, to which the solids travel packed; so nothing long stands before an edit.
"""

from __future__ import annotations

import hashlib
import importlib.metadata
import json
import logging
import math
import threading
import time
from collections.abc import Callable, Mapping
from concurrent.futures import CancelledError, Executor, Future
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Literal, TypeVar

from ..core.document import Project, ThingPick
from ..core.document.files import with_files
from ..core.kept import Kept
from ..store import ResultStore
from . import jobs
from .apart import BARRED
from .executor import JobStopped, KillableExecutor, WorkerDied
from .pool import Pool

_Answer = TypeVar("_Answer")
V = TypeVar("V")
Lane = Literal["record", "preview", "look", "limits", "measure"]

__all__ = ["Engine"]

_log = logging.getLogger(__name__)
#: so many keys of solids that a helper has are kept
_MOST_SENT = 20_000
#: requests that may wait for workers at once
MOST_WAITING = 16
#: after so long a step that took too long is tried again, s: it may have been the machine
BARRED_S = 120.0
#: what a lane works out; previews are only tried, and looks back into the recipe are made like edits
_DEPTHS: dict[str, str] = {"record": "made", "look": "made", "preview": "tried", "limits": "measured"}


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


class _Shared(Kept[V]):
    """What is kept, for several threads."""

    def __init__(self, most_bytes: int, weigh: Callable[[V], int]) -> None:
        super().__init__(most_bytes, weigh)
        self._lock = threading.Lock()

    def get(self, key: str) -> V | None:
        with self._lock:
            return super().get(key)

    def put(self, key: str, value: V) -> None:
        with self._lock:
            super().put(key, value)

    def keys(self) -> list[str]:
        with self._lock:
            return super().keys()

    def update(self, values: Mapping[str, V]) -> None:
        for key, value in values.items():
            self.put(key, value)


@dataclass
class _Asked:
    """A request of a lane: its key, and the answers to come at the stage where there is something to see, and at its end."""

    key: str
    ticket: int
    shown: Future[str] = field(default_factory=Future)
    done: Future[str] = field(default_factory=Future)


@dataclass
class _Line:
    """What runs for one project, each lane with only its latest request."""

    running: dict[str, tuple[Executor, Future[Any]]] = field(default_factory=dict)
    asked: dict[str, _Asked] = field(default_factory=dict)
    halted: set[int] = field(default_factory=set)
    #: the newest report of the document itself until somebody asks for what is read from it, and that
    latest: str = ""
    openings: dict[str, tuple[float, float]] = field(default_factory=dict)


def _settle(future: Future[str], *, result: str = "", error: BaseException | None = None) -> None:
    """Answer a future that may have been answered before."""
    if future.done():
        return
    if error is not None:
        future.set_exception(error)
    else:
        future.set_result(result)


class Engine:
    """Evaluations, previews and exports.

    Parameters
    ----------
    pool : where jobs run, or one executor for everything. Stopping and progress work with ours; any
        ``concurrent.futures.Executor`` can take the long work.
    store : finished evaluations and meshes.
    files : a file that belongs to projects, packed, by its hash.
    notify : told ``(project id, event, data)`` when something is worth passing on to windows.
    """

    def __init__(
        self,
        pool: Pool | Executor,
        store: ResultStore,
        notify: Callable[[str, str, dict[str, Any]], None] | None = None,
        files: Callable[[str], str | None] = lambda hash: None,
    ) -> None:
        self.pool = pool if isinstance(pool, Pool) else Pool.single(pool)
        self.store = store
        self.files = files
        self.notify = notify or (lambda project, event, data: None)
        self._lock = threading.Lock()
        self._lines: dict[str, _Line] = {}
        #: steps that are not tried, with why and since when
        self._barred: dict[str, tuple[str, float]] = {}
        self._deaths: dict[str, int] = {}
        self._tickets = 0
        self._closed = False
        self._waiting = threading.BoundedSemaphore(MOST_WAITING)
        self._kernel = f"{_kernel()} {_programs()}"
        #: meshes and descriptions, and packed solids: what workers need not send again
        self._blobs: _Shared[bytes] = _Shared(60_000_000, len)
        self._solids: _Shared[bytes] = _Shared(70_000_000, len)
        self._snapshots: _Shared[jobs.Snapshot] = _Shared(10_000_000, lambda s: s.weight)
        #: the newest reports, with the time until which they hold: the cache may not be there
        self._recent: _Shared[tuple[str, float]] = _Shared(8_000_000, lambda kept: len(kept[0]))
        #: keys of the solids that each helper has, by its place in the pool
        self._sent: dict[int, set[str]] = {}

    def key(self, project: Project, upto: str | None, measure: bool, limits: str = "") -> str:
        """Equal keys mean equal evaluations: the document (with names, which labels show) and the programs."""
        text = f"{self._kernel}\n{upto or ''}\n{measure}\n{limits}\n{project.model_dump_json()}"
        return hashlib.sha256(text.encode()).hexdigest()

    def text(self, project: Project) -> str:
        """A project as it travels to a worker: with the files that belong to it."""
        return with_files(project, self.files).model_dump_json()

    # ---- asking ------------------------------------------------------------------------------------------------

    def request(self, id: str, version: int, project: Project) -> None:
        """Evaluate in the background what was just recorded; windows are told of each stage."""
        self.notify(id, "progress", {"version": version, "state": "started"})
        self._begin(id, "record", project, None, version)

    def at_limits(self, id: str, version: int, project: Project, limits: str, wait_s: float = 60.0) -> str:
        """The report with toleranced dimensions in limit states (JSON, as ``LimitStates.read`` takes it), measured at once."""
        return self._wait(self._begin(id, "limits", project, None, version, limits).done, wait_s)

    def evaluation(
        self,
        id: str,
        version: int,
        project: Project,
        upto: str | None = None,
        wait_s: float = 60.0,
        shown: bool = False,
    ) -> str:
        """The report of a project, from the store if it is there. Raises JobStopped when overtaken, TimeoutError.

        With ``shown`` the first that there is to look at; else one that is vouched for. Where the gaps are still being measured, it is
        the one that has them by formula.
        """
        for measured in (True, False):
            key = self.key(project, upto, measured)
            kept = self._report(key)
            if kept is not None and (measured or upto is not None or self._has_solids(key)):
                if upto is None:
                    line = self._lines.setdefault(id, _Line())
                    line.latest = kept
                    if not measured and not self._just_measured(line, self.key(project, None, True)):
                        self._begin(id, "measure", project, None, version)
                return self._reused(kept)
        asked = self._begin(id, "look" if upto else "record", project, upto, version)
        return self._wait(asked.shown if shown else asked.done, wait_s)

    def _just_measured(self, line: _Line, key: str) -> bool:
        """Whether what is measured of an evaluation was kept, and told, since somebody looked for it."""
        asked = line.asked.get("measure")
        return asked is not None and asked.key == key and asked.done.done() and self._report(key) is not None

    def preview(
        self, id: str, project: Project, upto: str | None = None, wait_s: float = 60.0, shown: bool = False
    ) -> str:
        """The report of a document that is not recorded. A newer preview overtakes it."""
        asked = self._begin(id, "preview", project, upto, -1)
        return self._wait(asked.shown if shown else asked.done, wait_s)

    def look(self, id: str, what: str, project: Project, wait_s: float = 60.0) -> str:
        """The report of another document than a project's present one: ``what`` of it, an old revision or a coupon."""
        return self._wait(self._begin(f"{what} {id}", "look", project, None, -1).done, wait_s)

    def openings_mm(self, id: str) -> dict[str, tuple[float, float]]:
        """How wide the openings of a project's joints were when it was last made, by step: what formulas alone do not know."""
        line = self._lines.get(id)
        if line is None:
            return {}
        # a large report is taken apart once, not at every figure that is tried, and not kept
        latest, line.latest = line.latest, ""
        if latest:
            joints = json.loads(latest)["joints"]
            line.openings = {j["step"]: (j["opening_mm"][0], j["opening_mm"][1]) for j in joints if j["opening_mm"]}
        return line.openings

    def blob(self, hash: str) -> bytes | None:
        """A mesh, or the description of what it shows."""
        return self._blobs.get(hash) or self.store.mesh(hash)

    def _has_solids(self, key: str) -> bool:
        """Whether what measuring needs of an evaluation is at hand."""
        snapshot = self._snapshots.get(key)
        return snapshot is not None and all(self._solids.get(k) is not None for k in snapshot.parts.values())

    def _wait(self, future: Future[str], wait_s: float) -> str:
        return str(self._answer(future, wait_s))

    def _answer(self, future: Future[_Answer], wait_s: float) -> _Answer:
        """What a job answers. Only so many may wait at once: each holds a thread of the server, and some must stay free.

        Raises TimeoutError where it is not there in time, or too many wait already; the work goes on.
        """
        if not self._waiting.acquire(blocking=future.done()):
            raise TimeoutError
        try:
            return future.result(wait_s)
        except CancelledError:
            raise JobStopped from None
        finally:
            self._waiting.release()

    # ---- running -----------------------------------------------------------------------------------------------

    def _begin(self, id: str, lane: Lane, project: Project, upto: str | None, version: int, limits: str = "") -> _Asked:
        measured = lane in ("measure", "limits")
        key = self.key(project, upto, measured, limits)
        kept = self._report(key) if lane != "preview" else None
        if lane == "record" and kept is not None and not self._has_solids(key):
            # what is kept of it cannot be measured any more, unless that is kept too
            kept = kept if self._report(self.key(project, upto, True)) is not None else None
        with self._lock:
            line = self._lines.setdefault(id, _Line())
            under_way = line.asked.get(lane)
            if under_way is not None and under_way.key == key and not under_way.done.done():
                return under_way
            self._tickets += 1
            asked = line.asked[lane] = _Asked(key, self._tickets)
            # a recorded edit also overtakes previews of what it replaces, and what is measured of it
            lanes = (lane, "preview", "measure") if lane == "record" else (lane,)
            overtaken = [line.running[other] for other in lanes if other in line.running]
        for executor, future in overtaken:
            self._stop(executor, future)
        if kept is not None:
            reused = self._reused(kept)
            _settle(asked.shown, result=reused)
            _settle(asked.done, result=reused)
            self._told(id, lane, project, version, asked)
            return asked
        if lane == "measure":
            self._launch_measuring(id, project, version, asked)
        else:
            self._launch(id, lane, asked, project, upto, version, limits)
        return asked

    @staticmethod
    def _reused(kept: str) -> str:
        """A kept report, saying that nothing was computed for it this time."""
        head, _, tail = kept.rpartition('"computed": ')
        return f'{head}"computed": 0{tail[len(tail) - len(tail.lstrip("0123456789")) :]}' if head else kept

    def halt(self, id: str) -> None:
        """Stop all that is being worked out for a project, in the middle of a step if need be.

        It stays undone until it is asked for again; nothing that was recorded is touched.
        """
        with self._lock:
            line = self._lines.setdefault(id, _Line())
            line.halted = {asked.ticket for asked in line.asked.values()}
            running = list(line.running.values())
        for executor, future in running:
            if isinstance(executor, KillableExecutor):
                executor.interrupt(future)
            else:
                future.cancel()

    def forget(self, id: str) -> None:
        """What belongs to a project that is removed. What runs for it ends at its next piece: its worker keeps what it has of others."""
        with self._lock:
            lines = [self._lines.pop(key) for key in list(self._lines) if key == id or key.endswith(f" {id}")]
            running = [pair for line in lines for pair in line.running.values()]
        for executor, future in running:
            self._stop(executor, future)

    @staticmethod
    def _stop(executor: Executor, future: Future[Any]) -> None:
        if isinstance(executor, KillableExecutor):
            executor.stop(future)
        else:
            future.cancel()

    def _submit(
        self, id: str, lane: str, executor: Executor, heard: Callable[[Any], None], job: Any, *arguments: Any
    ) -> Future[Any]:
        if isinstance(executor, KillableExecutor):
            future = executor.submit(job, *arguments, heard=heard)
        else:
            future = executor.submit(job, *arguments)
        with self._lock:
            self._lines.setdefault(id, _Line()).running[lane] = (executor, future)

        def over(done: Future[Any]) -> None:
            # what is done holds its answer, meshes and solids with it: it is not kept here
            with self._lock:
                line = self._lines.get(id)
                if line is not None and line.running.get(lane, (executor, None))[1] is done:
                    del line.running[lane]

        future.add_done_callback(over)
        return future

    def _launch(
        self, id: str, lane: Lane, asked: _Asked, project: Project, upto: str | None, version: int, limits: str
    ) -> None:
        executor = self.pool.helper() if lane == "limits" else self.pool.editor(id)
        known = [*self._blobs.keys(), *self._solids.keys()]
        fresh = time.monotonic() - BARRED_S
        barred = {key: why for key, (why, since) in self._barred.items() if since > fresh or why == BARRED["crashed"]}
        arguments = (self.text(project), upto, barred, known, _DEPTHS[lane], limits)
        at: dict[str, Any] = {}

        def heard(message: tuple[Any, ...]) -> None:
            if message[0] == "step":
                at["step"], at["key"] = message[1], message[2]
                if lane == "record":
                    self.notify(id, "progress", {"version": version, "state": "step", "step": message[1]})
            elif message[0] == "shown":
                self._blobs.update(message[2])
                _settle(asked.shown, result=message[1])
                if lane == "record" and self._newest(id, lane, asked):
                    self.notify(id, "evaluation", {"version": version, "stage": "shown"})

        try:
            future = self._submit(id, lane, executor, heard, jobs.evaluate_job, *arguments)
        except RuntimeError as error:
            # shut down while it was asked for
            self._failed(asked, JobStopped() if self._closed else error)
            return

        def finished(done: Future[Any]) -> None:
            try:
                if self._gone_wrong(id, lane, asked, done, version, at, again):
                    return
                report, blobs, snapshot, solids = done.result()
                self._blobs.update(blobs)
                self._solids.update(solids)
                if snapshot is not None:
                    self._snapshots.put(asked.key, snapshot)
                if lane != "preview":
                    self._keep(asked.key, report)
                _settle(asked.shown, result=report)
                _settle(asked.done, result=report)
                self._told(id, lane, project, version, asked)
            except Exception as error:
                # whoever waits is told, whatever happened on the way
                _log.exception("an evaluation could not be passed on")
                self._failed(asked, error)

        def again() -> None:
            self._launch(id, lane, asked, project, upto, version, limits)

        future.add_done_callback(finished)

    def _launch_measuring(self, id: str, project: Project, version: int, asked: _Asked) -> None:
        made_key = self.key(project, None, False)
        snapshot, made = self._snapshots.get(made_key), self._report(made_key)
        if snapshot is None or made is None:
            self._failed(asked, JobStopped())
            return
        executor = self.pool.helper()
        place = self.pool.helpers.index(executor)
        sent = self._sent.setdefault(place, set())
        wanted = set(snapshot.parts.values())
        ours = isinstance(executor, KillableExecutor)
        solids = {k: s for k in wanted - (sent if ours else set()) if (s := self._solids.get(k)) is not None}

        try:
            future = self._submit(
                id, "measure", executor, lambda message: None, jobs.measured_job, self.text(project), snapshot, solids
            )
        except RuntimeError as error:
            self._failed(asked, JobStopped() if self._closed else error)
            return

        def finished(done: Future[Any]) -> None:
            try:
                error = None if done.cancelled() else done.exception()
                if isinstance(error, (jobs.MissingSolids, WorkerDied)):
                    self._sent[place] = set()
                if isinstance(error, jobs.MissingSolids) and not solids.keys() >= wanted:
                    again()
                    return
                if self._gone_wrong(id, "measure", asked, done, version, {}, again):
                    return
                self._remember(place, wanted)
                report = json.dumps(
                    {**json.loads(made), **json.loads(done.result()), "stage": "measured", "measured": True}
                )
                self._keep(asked.key, report)
                _settle(asked.done, result=report)
                self._told(id, "measure", project, version, asked)
            except Exception as problem:
                _log.exception("what was measured could not be passed on")
                self._failed(asked, problem)

        def again() -> None:
            self._launch_measuring(id, project, version, asked)

        future.add_done_callback(finished)

    def _remember(self, place: int, keys: set[str]) -> None:
        """Which solids a helper has. What it may have let go of by now is forgotten here too: it asks for what it lacks."""
        sent = self._sent.setdefault(place, set())
        if len(sent) > _MOST_SENT:
            sent.clear()
        sent |= keys

    def _keep(self, key: str, report: str) -> None:
        """Keep a report with the blobs that it names, for the next start. A passing failure holds for a while only."""
        passing = any(why in report for why in BARRED.values())
        self._recent.put(key, (report, time.monotonic() + BARRED_S if passing else math.inf))
        if passing:
            return
        parts = json.loads(report)["parts"]
        hashes = {h for p in parts for h in (p["mesh"], p["things"]) if h}
        self.store.keep(key, report, {h: blob for h in hashes if (blob := self._blobs.get(h)) is not None})

    def _report(self, key: str) -> str | None:
        """A report that was made before, with blobs that are all there."""
        recent = self._recent.get(key)
        if recent is not None and recent[1] > time.monotonic():
            return recent[0]
        return self.store.report(key)

    @staticmethod
    def _failed(asked: _Asked, error: BaseException) -> None:
        for future in (asked.shown, asked.done):
            _settle(future, error=error)
            # nobody may be waiting
            future.exception()

    def _gone_wrong(
        self,
        id: str,
        lane: Lane,
        asked: _Asked,
        done: Future[Any],
        version: int,
        at: dict[str, Any],
        again: Callable[[], None],
    ) -> bool:
        """What becomes of a job that did not end well; whether it did not."""
        if done.cancelled():
            self._failed(asked, JobStopped())
            return True
        error = done.exception()
        if error is None:
            self._deaths["in a row"] = 0
            return False
        line = self._lines.get(id)
        if line is not None and asked.ticket in line.halted:
            self.notify(id, "progress", {"version": version, "state": "stopped"})
            self._failed(asked, JobStopped())
            return True
        if isinstance(error, WorkerDied):
            self._after_death(error, at)
            if self._deaths.get("in a row", 0) < 6 and not self._closed:
                again()
                return True
        self._deaths["in a row"] = 0
        if not isinstance(error, JobStopped) and not self._closed:
            _log.error("evaluation failed", exc_info=error)
            if lane == "record":
                self.notify(id, "progress", {"version": version, "state": "failed"})
        self._failed(asked, error)
        return True

    def _after_death(self, error: WorkerDied, at: dict[str, Any]) -> None:
        """A step that was being made at two deaths, or that took too long once, is not tried again."""
        self._deaths["in a row"] = self._deaths.get("in a row", 0) + 1
        key = at.get("key")
        if key is None:
            return
        self._deaths[key] = self._deaths.get(key, 0) + 1
        if error.reason == "too long" or self._deaths[key] >= 2:
            self._barred[key] = (BARRED[error.reason], time.monotonic())

    def _newest(self, id: str, lane: str, asked: _Asked) -> bool:
        with self._lock:
            line = self._lines.get(id)
            return line is not None and line.asked.get(lane) is asked

    def _told(self, id: str, lane: Lane, project: Project, version: int, asked: _Asked) -> None:
        if lane not in ("record", "measure") or not self._newest(id, lane, asked):
            return
        line = self._lines.get(id)
        if line is None:
            return
        line.latest = asked.done.result()
        self.notify(id, "evaluation", {"version": version, "stage": "made" if lane == "record" else "measured"})
        if lane == "record":
            self._begin(id, "measure", project, None, version)

    # ---- single jobs -------------------------------------------------------------------------------------------

    def measure(
        self, id: str, project: Project, first: ThingPick, second: ThingPick | None, wait_s: float = 30.0
    ) -> str:
        """A reading on the model, as JSON. Raises PickError, WorkerDied, TimeoutError."""
        picks = (first.model_dump_json(), second.model_dump_json() if second else None)
        return self.edit(id, jobs.measure_job, self.text(project), *picks, wait_s=wait_s)

    def edit(self, id: str, job: Callable[..., _Answer], *arguments: Any, wait_s: float = 60.0) -> _Answer:
        """A short job of jobs.py on the worker that has a project's solids. Raises what it raises, WorkerDied, TimeoutError."""
        return self._answer(self.pool.editor(id).submit(job, *arguments), wait_s)

    def work(
        self, job: Callable[..., _Answer], *arguments: Any, wait_s: float = 120.0, limit_s: float | None = None
    ) -> _Answer:
        """A long job of jobs.py on a helper, answering with JSON or a file. Raises what it raises, WorkerDied, TimeoutError.

        ``limit_s`` is a shorter time than others have, for what comes from outside.
        """
        executor = self.pool.helper()
        more = {"limit_s": limit_s} if limit_s is not None and isinstance(executor, KillableExecutor) else {}
        return self._answer(executor.submit(job, *arguments, **more), wait_s)

    def picture(self, id: str, project: Project) -> bytes | None:
        """A small picture (PNG) of a project's parts as they were last seen; ``None`` where there are none, and as long as nobody
        saw them."""
        kept = self.store.picture(id)
        report = next((r for m in (True, False) if (r := self._report(self.key(project, None, m))) is not None), None)
        if report is None:
            return kept[1] if kept else None
        parts = [(p["colour"], p["mesh"]) for p in json.loads(report)["parts"]]
        of = hashlib.sha256(json.dumps(parts).encode()).hexdigest()
        if kept and kept[0] == of:
            return kept[1]
        if not parts:
            return None
        meshes = [(colour, blob) for colour, mesh in parts if (blob := self.blob(mesh)) is not None]
        if len(meshes) < len(parts):
            return kept[1] if kept else None
        made = self.work(jobs.picture_job, meshes, wait_s=20.0)
        self.store.keep_picture(id, of, made)
        return made

    def heavy(self, project: Project, job: Callable[..., _Answer], *arguments: Any, wait_s: float = 120.0) -> _Answer:
        """A long job on a project's model, to which the solids go along where they are at hand. Raises as :meth:`work`."""
        document, snapshot = self.text(project), self._snapshots.get(self.key(project, None, False))
        executor = self.pool.helper()
        if snapshot is not None:
            wanted = set(snapshot.parts.values())
            place = self.pool.helpers.index(executor)
            have = self._sent.setdefault(place, set())
            lacking = wanted - (have if isinstance(executor, KillableExecutor) else set())
            for keys in (lacking, wanted):
                solids = {k: s for k in keys if (s := self._solids.get(k)) is not None}
                try:
                    answer = self._answer(executor.submit(job, document, snapshot, solids, *arguments), wait_s)
                    self._remember(place, wanted)
                    return answer
                except jobs.MissingSolids:
                    continue
        return self._answer(executor.submit(job, document, None, {}, *arguments), wait_s)

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
        files: list[tuple[str, str, bytes]] = self.heavy(
            project, jobs.export_job, parts, format, unit, pattern, laid, together, wait_s=wait_s
        )
        return files

    def close(self) -> None:
        self._closed = True
        self.pool.close()
