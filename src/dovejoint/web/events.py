"""Live events to the windows: one stream per window, resumed by the id of the last event."""

from __future__ import annotations

import json
import queue
import threading
from collections import deque
from collections.abc import Iterator
from typing import Any

__all__ = ["EventHub"]

PING_S = 5.0
_KEPT = 300


class EventHub:
    """Passes events of a project on to all windows that have it open."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._next = 1
        self._recent: deque[tuple[int, str, str, str]] = deque(maxlen=_KEPT)
        self._windows: dict[str, list[queue.Queue[tuple[int, str, str]]]] = {}

    def send(self, project: str, event: str, data: dict[str, Any]) -> None:
        text = json.dumps(data)
        with self._lock:
            number, self._next = self._next, self._next + 1
            self._recent.append((number, project, event, text))
            for window in self._windows.get(project, []):
                window.put((number, event, text))

    def stream(self, project: str, after: int, gone: Any) -> Iterator[str]:
        """Server-sent events until ``gone()`` says that the window is closed."""
        window: queue.Queue[tuple[int, str, str]] = queue.Queue()
        with self._lock:
            for number, owner, event, text in self._recent:
                if owner == project and 0 < after < number:
                    window.put((number, event, text))
            self._windows.setdefault(project, []).append(window)
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
                self._windows[project].remove(window)
