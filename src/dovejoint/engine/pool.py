"""Workers by what they do: one that edits for each open project, others for what is long. How many follows the machine."""

from __future__ import annotations

import os
import threading
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import Executor

from .executor import KillableExecutor

__all__ = ["Pool"]


class Pool:
    """The executors of an application.

    Parameters
    ----------
    make : makes a worker.
    editors : how many projects may have a worker of their own at once; the one not used for longest gives its own up to another.
    helpers : how many workers do what is long.
    heavy : an executor to take the long work instead, such as that of an existing cluster.
    """

    def __init__(
        self,
        make: Callable[[], KillableExecutor],
        editors: int | None = None,
        helpers: int | None = None,
        heavy: Executor | None = None,
    ) -> None:
        cores = os.cpu_count() or 2
        self._free = [make() for _ in range(editors or max(1, min(4, cores // 2)))]
        self._taken: OrderedDict[str, Executor] = OrderedDict()
        self._lock = threading.Lock()
        count = 0 if heavy is not None else helpers if helpers is not None else max(1, min(3, cores - len(self._free)))
        self.helpers: list[Executor] = [heavy] if heavy is not None else [make() for _ in range(count)]
        self._next = 0
        self._own: list[Executor] = [*self._free, *([] if heavy is not None else self.helpers)]

    @staticmethod
    def single(executor: Executor) -> Pool:
        """One executor for everything."""
        pool = Pool.__new__(Pool)
        pool._free, pool._taken, pool._lock = [executor], OrderedDict(), threading.Lock()  # type: ignore[list-item]
        pool.helpers, pool._next, pool._own = [executor], 0, [executor]
        return pool

    def editor(self, project: str) -> Executor:
        """The worker that edits a project: it keeps what it made of it from edit to edit."""
        with self._lock:
            if project not in self._taken:
                worker = self._free.pop() if self._free else self._taken.popitem(last=False)[1]
                self._taken[project] = worker
            self._taken.move_to_end(project)
            return self._taken[project]

    def helper(self) -> Executor:
        """A worker for what is long; they take turns."""
        with self._lock:
            self._next += 1
            return self.helpers[self._next % len(self.helpers)]

    def warm(self) -> None:
        """Start the workers before their first jobs need them."""
        for worker in self._own:
            if isinstance(worker, KillableExecutor):
                worker.warm()

    def close(self) -> None:
        for worker in self._own:
            worker.shutdown(wait=False)
