"""An executor with one worker process that has a time limit and is replaced when it dies.

The geometry kernel can crash or hang and never lets go of the interpreter, so a thread could not be stopped;
a process can. It keeps its memory (results so far) from job to job.
"""

from __future__ import annotations

import contextlib
import ctypes
import multiprocessing
import queue
import signal
import sys
import threading
import time
import traceback
from collections.abc import Callable
from concurrent.futures import Executor, Future
from multiprocessing.connection import Connection
from typing import Any

from . import channel
from .memory import give_back

#: longest time for a worker to start and load what its first job needs, s
START_LIMIT_S = 90.0
#: a job that is between two pieces says so at most this often, s
BEAT_S = 1.0
#: a worker that had nothing to do for so long gives memory back that it freed, s
IDLE_S = 5.0
_PR_SET_PDEATHSIG = 1

__all__ = ["JobStopped", "KillableExecutor", "WorkerDied"]


class WorkerDied(Exception):
    """The worker process ended or was stopped in the middle of a job.

    ``last`` is what the job told last (the step it was at), ``reason`` is ``crashed`` or ``too long``.
    """

    def __init__(self, reason: str, last: Any) -> None:
        super().__init__(reason)
        self.reason = reason
        self.last = last


class JobStopped(Exception):
    """The job was told to stop, because a newer one has come."""


def _limit_memory(most_bytes: int) -> None:
    try:
        import resource
    except ImportError:
        return  # not on Windows
    resource.setrlimit(resource.RLIMIT_AS, (most_bytes, most_bytes))


def _die_with_parent() -> None:
    """Have the system end this process when its server ends, in the middle of a job too (Linux; elsewhere at its next word)."""
    if sys.platform == "linux":
        with contextlib.suppress(OSError, AttributeError):
            ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)


def _work(connection: Connection, memory_bytes: int) -> None:
    """The worker's life: take a job, do it, answer; end when the other side is gone."""
    _die_with_parent()
    _limit_memory(memory_bytes)
    stop_asked, beat = False, 0.0

    def hear() -> bool:
        nonlocal stop_asked, beat
        # who asks is between two pieces of its work: it lives, however long all of them take
        if time.monotonic() - beat > BEAT_S:
            beat = time.monotonic()
            connection.send(("alive", None))
        while not stop_asked and connection.poll():
            stop_asked = connection.recv() == "stop"
        return stop_asked

    channel.connect(lambda message: connection.send(("tell", message)), hear, alone=True)
    while True:
        try:
            if not connection.poll(IDLE_S):
                give_back()
            job = connection.recv()
        except (EOFError, OSError):
            return
        if job == "stop":
            continue
        function, args = job
        stop_asked = False
        try:
            connection.send(("began", None))
        except OSError:
            return
        try:
            answer = ("done", function(*args))
        except Exception as error:
            # where it happened is lost on the way otherwise
            error.add_note(traceback.format_exc())
            answer = ("failed", error)
        try:
            connection.send(answer)
        except (BrokenPipeError, OSError):
            return
        except Exception as error:
            connection.send(("failed", RuntimeError(f"{type(error).__name__}: {error}")))


def _context(copied: bool) -> Any:
    """How workers are started: on Linux as copies, of this process or of one that has loaded what they need; elsewhere anew."""
    if sys.platform != "linux":
        return multiprocessing.get_context("spawn")
    if copied:
        return multiprocessing.get_context("fork")
    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload([f"{__package__}.loaded"])
    return context


class KillableExecutor(Executor):
    """One worker; jobs one after another.

    Parameters
    ----------
    limit_s : longest time without a sign of progress before the worker is killed.
    memory_bytes : address space that the worker may use (POSIX).
    copied : start the worker as a copy of this process, which is at once ready; only where nothing else runs in it (Linux).
    """

    def __init__(self, limit_s: float = 30.0, memory_bytes: int = 6 * 1024**3, copied: bool = False) -> None:
        self.limit_s = limit_s
        self.memory_bytes = memory_bytes
        self._context = _context(copied)
        self._jobs: queue.Queue[tuple[Future[Any], Callable[..., Any], tuple[Any, ...], Any, float] | None] = (
            queue.Queue()
        )
        self._process: Any = None
        self._connection: Connection | None = None
        self._sending = threading.Lock()
        self._closed = False
        self._running: Future[Any] | None = None
        self._thread = threading.Thread(target=self._run, name="engine", daemon=True)
        self._thread.start()

    @property
    def worker_pid(self) -> int | None:
        process = self._process
        return process.pid if process is not None and process.is_alive() else None

    def submit(self, fn: Callable[..., Any], /, *args: Any, **kwargs: Any) -> Future[Any]:
        """Queue a job. ``heard`` (keyword) is called with each message that the job tells; ``limit_s`` is a time limit of its own."""
        heard, limit = kwargs.pop("heard", None), kwargs.pop("limit_s", self.limit_s)
        if kwargs:
            raise TypeError("jobs take positional arguments only")
        future: Future[Any] = Future()
        if self._closed:
            raise RuntimeError("the executor is shut down")
        self._jobs.put((future, fn, args, heard, limit))
        return future

    def stop(self, future: Future[Any]) -> None:
        """Ask a job to end: a waiting one is cancelled, a running one told so (it ends at its next step)."""
        if future.cancel():
            return
        with self._sending:
            if self._running is future and self._connection is not None:
                with contextlib.suppress(OSError):
                    self._connection.send("stop")

    def interrupt(self, future: Future[Any]) -> None:
        """End a job at once: a running one takes its worker down with it, and another worker takes its place."""
        self.stop(future)
        with self._sending:
            process = self._process if self._running is future else None
        if process is not None:
            process.kill()

    def warm(self) -> None:
        """Start the worker before the first job needs it."""
        self.submit(_nothing)

    def shutdown(self, wait: bool = True, *, cancel_futures: bool = False) -> None:
        self._closed = True
        self._jobs.put(None)
        self._kill()
        if wait:
            self._thread.join(5)

    def _start(self) -> Connection:
        if self._process is not None and self._process.is_alive() and self._connection is not None:
            return self._connection
        self._kill()
        ours: Connection
        ours, theirs = self._context.Pipe()
        self._process = self._context.Process(target=_work, args=(theirs, self.memory_bytes), daemon=True)
        self._process.start()
        theirs.close()
        self._connection = ours
        return ours

    def _kill(self) -> None:
        with self._sending:
            process, self._process = self._process, None
            connection, self._connection = self._connection, None
        if process is not None and process.is_alive():
            process.kill()
            process.join(5)
        if connection is not None:
            connection.close()

    def _run(self) -> None:
        while (job := self._jobs.get()) is not None:
            future, function, args, heard, limit = job
            if not future.set_running_or_notify_cancel():
                continue
            try:
                connection = self._start()
                with self._sending:
                    self._running = future
                    connection.send((function, args))
                kind, answer = self._await(connection, heard, limit)
            except Exception as error:
                if isinstance(error, WorkerDied):
                    self._kill()
                future.set_exception(error if isinstance(error, WorkerDied) else WorkerDied("crashed", None))
                continue
            finally:
                with self._sending:
                    self._running = None
            if kind == "done":
                future.set_result(answer)
            else:
                future.set_exception(answer)

    def _await(self, connection: Connection, heard: Callable[[Any], None] | None, limit_s: float) -> tuple[str, Any]:
        last = None
        # a new worker first has to load what the job needs, which is no fault of the job's
        deadline = time.monotonic() + START_LIMIT_S
        while True:
            try:
                if connection.poll(min(0.5, max(0.0, deadline - time.monotonic()))):
                    kind, answer = connection.recv()
                    if kind not in ("began", "alive", "tell"):
                        return kind, answer
                    deadline = time.monotonic() + limit_s
                    if kind != "tell":
                        continue
                    last = answer
                    if heard is not None:
                        heard(answer)
                    continue
            except (EOFError, OSError):
                raise WorkerDied("crashed", last) from None
            if time.monotonic() >= deadline:
                raise WorkerDied("too long", last)


def _nothing() -> None:
    """Loads what jobs need, so that the first real one does not wait for it."""
    from . import jobs

    jobs.load()
