"""What a job can say while it runs, and hear: progress out, “stop” in.

Under the :class:`KillableExecutor` these go through the worker's pipe. Under any other executor they do nothing,
so the same jobs run there too.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

__all__ = ["connect", "stopped", "tell"]

_say: Callable[[Any], None] = lambda message: None  # noqa: E731
_hear: Callable[[], bool] = lambda: False  # noqa: E731


def connect(say: Callable[[Any], None], hear: Callable[[], bool]) -> None:
    """Called by a worker process once, before its first job."""
    global _say, _hear
    _say, _hear = say, hear


def tell(message: Any) -> None:
    """Report progress, e.g. which step is being made."""
    _say(message)


def stopped() -> bool:
    """Whether nobody waits for this job any more."""
    return _hear()
