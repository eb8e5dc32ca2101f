"""Live events to the windows, resumed by the number of the last event.

A stream holds a server thread, so there are only so many: the windows of one browser share one (frontend/src/api/events.ts). One too
many is refused, and its window asks for events now and then instead (:meth:`EventHub.since`), which holds nothing.
"""

from __future__ import annotations

import json
import queue
import threading
from collections import deque
from collections.abc import Iterator
from typing import Any

__all__ = ["EventHub", "TooMany"]

PING_S = 5.0
_KEPT = 400
#: streams in all, and from one address
MOST_STREAMS, MOST_FROM_ONE = 16, 12


class TooMany(Exception):
    """There are as many streams as there may be."""


class EventHub:
    """Passes events of projects on to all windows."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._next = 1
        self._recent: deque[tuple[int, str, str, str]] = deque(maxlen=_KEPT)
        self._windows: list[tuple[str, str, queue.Queue[tuple[int, str, str]]]] = []

    def send(self, project: str, event: str, data: dict[str, Any]) -> None:
        """``data`` gains the project's id."""
        text = json.dumps({**data, "project": project})
        with self._lock:
            number, self._next = self._next, self._next + 1
            self._recent.append((number, project, event, text))
            for _, wanted, window in self._windows:
                if wanted in ("", project):
                    window.put((number, event, text))

    def since(self, project: str, after: int) -> tuple[int, list[tuple[str, str]]]:
        """The events after a number, as ``(event, data as JSON)``, and the number of the newest there is. Empty ``project``: of all."""
        with self._lock:
            newest = self._next - 1
            # a window that comes anew hears what happens from now on; so does one from before the server's start
            if not 0 < after <= newest:
                return newest, []
            found = [(e, t) for n, owner, e, t in self._recent if n > after and project in ("", owner)]
        return newest, found

    def stream(self, project: str, after: int, gone: Any, client: str = "") -> Iterator[str]:
        """Server-sent events until ``gone()`` says that the window is closed. Raises TooMany at once.

        ``project`` empty: of all projects.
        """
        window: queue.Queue[tuple[int, str, str]] = queue.Queue()
        entry = (client, project, window)
        with self._lock:
            own = sum(1 for c, _, _ in self._windows if c == client)
            if len(self._windows) >= MOST_STREAMS or own >= MOST_FROM_ONE:
                raise TooMany
            for number, owner, event, text in self._recent:
                if project in ("", owner) and 0 < after < number:
                    window.put((number, event, text))
            self._windows.append(entry)
        return self._run(entry, gone)

    def _run(self, entry: tuple[str, str, queue.Queue[tuple[int, str, str]]], gone: Any) -> Iterator[str]:
        window = entry[2]
        try:
            yield ": open\n\n"
            while not gone():
                try:
                    number, event, text = window.get(timeout=PING_S)
                except queue.Empty:
                    yield ": ping\n\n"
                    continue
                yield f"id: {number}\nevent: {event}\ndata: {text}\n\n"
        finally:
            with self._lock:
                self._windows = [w for w in self._windows if w is not entry]
