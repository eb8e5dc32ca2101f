"""What a job can say while it runs, and hear: progress out, “stop” in.

Under the :class:`KillableExecutor` these go through the worker's pipe. Under any other executor they do nothing,
so the same jobs run there too.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

__all__ = ["alone", "connect", "stopped", "tell"]

_say: Callable[[Any], None] = lambda message: None  # noqa: E731
_hear: Callable[[], bool] = lambda: False  # noqa: E731
_alone = False


def connect(say: Callable[[Any], None], hear: Callable[[], bool], alone: bool = False) -> None:
    """Called by a worker process once, before its first job."""
    global _say, _hear, _alone
    _say, _hear, _alone = say, hear, alone


def alone() -> bool:
    """Whether nothing else runs in this process, so that it may be copied."""
    return _alone


def tell(message: Any) -> None:
    """Report progress, e.g. which step is being made."""
    _say(message)


def stopped() -> bool:
    """Whether nobody waits for this job any more."""
    return _hear()
