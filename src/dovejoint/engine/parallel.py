"""Parts that have nothing to do with each other, made at the same time.

A worker that has a lot to make divides it: copies of itself (they have all that was made before, and cost a few milliseconds) each make some
groups of parts and hand the results back, packed; it makes the rest itself. What a copy cannot do, or dies of, is simply not there afterwards
and is made as ever. Only on Linux, where a process can be copied, and only in a worker of our own, in which nothing else runs.
"""

from __future__ import annotations

import contextlib
import ctypes
import logging
import os
import select
import signal
import struct
import sys
import time
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field

from ..core import solid as kernel
from ..core.document import Project
from ..core.document.compiled import compiled
from ..core.errors import DoveError
from ..core.recipe import ResultCache, StepOutput, Superseded, evaluate
from . import channel

__all__ = ["PACE", "groups", "make_in_parallel", "missing"]

_log = logging.getLogger(__name__)
#: less than this is not worth dividing, s
LEAST_S = 0.35
#: a copy is waited for no longer than this after the worker's own share is made; then what it has not handed back is made as ever, s
MOST_WAIT_S = 20.0
#: what a step is taken to need of which nothing is known, s
USUAL_S = 0.02
_PR_SET_PDEATHSIG = 1


class _Missing(DoveError):
    """A step that would have to be made."""


class Pace:
    """How long steps of each kind took to make in this worker, s: a running mean."""

    def __init__(self) -> None:
        self._means: dict[str, float] = {}

    def saw(self, kind: str, took_s: float) -> None:
        self._means[kind] = 0.7 * self._means.get(kind, took_s) + 0.3 * took_s

    def of(self, kind: str) -> float:
        return self._means.get(kind, USUAL_S)


PACE = Pace()


def missing(project: Project, cache: ResultCache) -> list[str]:
    """The ids of the steps that would have to be made, in order; nothing is made for it."""
    found: list[str] = []

    def note(step: str, key: str) -> None:
        found.append(step)
        raise _Missing("not made yet")

    # what waits for its sisters is made at the end, where no step's failure would hold it
    with contextlib.suppress(_Missing):
        evaluate(project, cache, started=note, quick=True)
    return found


def groups(project: Project) -> list[set[str]]:
    """Steps that have to do with each other: through a part, or because one takes what the other makes."""
    above: dict[str, str] = {}

    def root(x: str) -> str:
        while above.setdefault(x, x) != x:
            above[x] = above[above[x]]
            x = above[x]
        return x

    for step in compiled(project):
        for other in (*(f"part {p}" for p in (*step.shapes, *step.reads)), *step.uses, *step.named):
            above[root(step.id)] = root(other)
    out: dict[str, set[str]] = {}
    for id in compiled(project).place:
        out.setdefault(root(id), set()).add(id)
    return list(out.values())


def _shares(project: Project, wanted: list[str], most: int) -> list[set[str]]:
    """The steps to be made, in at most so many shares of about the same work; one where dividing is not worth it."""
    kinds = {s.id: s.kind for s in project.recipe}
    work = Counter[int]()
    every = groups(project)
    for k, group in enumerate(every):
        work[k] = sum(int(1e6 * PACE.of(kinds[s])) for s in wanted if s in group)
    todo = [(us, k) for k, us in work.most_common() if us > 0]
    count = min(most, len(todo), int(sum(work.values()) / 1e6 / LEAST_S) + 1)
    if count < 2:
        return []
    shares: list[tuple[int, set[str]]] = [(0, set()) for _ in range(count)]
    for us, k in todo:
        least = min(range(count), key=lambda i: shares[i][0])
        shares[least] = (shares[least][0] + us, shares[least][1] | every[k])
    return [steps for _, steps in shares]


@dataclass
class _Copy:
    """A copy of this process at work, and what has come of it so far."""

    pid: int
    pipe: int
    held: bytearray = field(default_factory=bytearray)

    def read(self) -> bool:
        """Take what is there; whether more will come."""
        with contextlib.suppress(BlockingIOError):
            data = os.read(self.pipe, 1 << 20)
            self.held += data
            return bool(data)
        return True

    def taken(self) -> list[tuple[str, StepOutput]]:
        """Whole results that have come, by key."""
        out = []
        while len(self.held) >= 4 and len(self.held) >= 4 + (length := struct.unpack_from("<I", self.held)[0]):
            out.append(kernel.unpack(bytes(self.held[4 : 4 + length])))
            del self.held[: 4 + length]
        return out

    def end(self) -> None:
        with contextlib.suppress(ProcessLookupError):
            os.kill(self.pid, signal.SIGKILL)
        os.close(self.pipe)
        with contextlib.suppress(ChildProcessError):
            os.waitpid(self.pid, 0)


def _copied(project: Project, cache: ResultCache, share: set[str]) -> _Copy:
    """Start a copy of this process that makes some steps and sends their results."""
    ours, theirs = os.pipe()
    pid = os.fork()
    if pid:
        os.close(theirs)
        os.set_blocking(ours, False)
        return _Copy(pid, ours)
    status = 1
    try:
        ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
        # nobody hears a copy, and it must not answer for its parent
        channel.connect(lambda message: None, lambda: False)
        before = set(cache.results)
        some = project.model_copy(update={"recipe": [s for s in project.recipe if s.id in share]})
        evaluate(some, cache)
        with os.fdopen(theirs, "wb") as out:
            for key, result in cache.results.items():
                if key not in before and isinstance(result, StepOutput):
                    data = kernel.pack((key, result))
                    out.write(struct.pack("<I", len(data)) + data)
        status = 0
    except Exception:
        _log.exception("a copy could not make its parts; they are made as ever")
    finally:
        os._exit(status)


def make_in_parallel(
    project: Project, cache: ResultCache, stopped: Callable[[], bool], told: Callable[[str, str], None], cores: int = 0
) -> int:
    """Make what a project lacks in a cache, parts beside each other, as far as that is worth it; how many steps came from copies.

    Parameters
    ----------
    stopped : asked now and then; when true it ends with :class:`Superseded`.
    told : told the id and key of steps, as a sign of progress.
    cores : how many processes at once; all cores of the machine but one, four at most. So on two cores nothing is divided: it was measured
        to show things later there.
    """
    if sys.platform != "linux":
        return 0
    wanted = missing(project, cache)
    shares = _shares(project, wanted, cores or min(4, (os.cpu_count() or 1) - 1)) if wanted else []
    if not shares:
        return 0
    ids = {s.id for share in shares for s in project.recipe if s.id in share}
    copies = [_copied(project, cache, share) for share in shares[1:]]
    came = 0
    try:
        own = project.model_copy(update={"recipe": [s for s in project.recipe if s.id in shares[0]]})
        evaluate(own, cache, stop=stopped, started=told)
        told(next(iter(ids)), "")
        waiting, begun = list(copies), time.monotonic()
        while waiting and time.monotonic() - begun < MOST_WAIT_S:
            if stopped():
                raise Superseded
            ready, _, _ = select.select([c.pipe for c in waiting], [], [], 0.05)
            for copy in [c for c in waiting if c.pipe in ready]:
                more = copy.read()
                for key, result in copy.taken():
                    cache.put(key, result)
                    came += 1
                if not more:
                    waiting.remove(copy)
    finally:
        for copy in copies:
            copy.end()
    return came
