"""Live events: each window hears its own project, from where it left off, and is forgotten when it closes."""

from __future__ import annotations

import json
import threading
from typing import Any

from dovejoint.web import events
from dovejoint.web.events import EventHub


def heard(stream: Any, count: int) -> list[tuple[int, str, Any]]:
    """The next events of a stream: number, name, data."""
    out = []
    while len(out) < count:
        text = next(stream)
        if text.startswith(":"):
            continue
        lines = dict(line.split(": ", 1) for line in text.strip().splitlines())
        out.append((int(lines["id"]), lines["event"], json.loads(lines["data"])))
    return out


def test_events_go_to_the_windows_of_their_project() -> None:
    hub = EventHub()
    mine, other = hub.stream("a", 0, lambda: False), hub.stream("b", 0, lambda: False)
    assert next(mine) == ": open\n\n"
    next(other)
    hub.send("a", "document", {"version": 1})
    hub.send("b", "document", {"version": 7})
    hub.send("a", "evaluation", {"version": 1})
    assert [(e, d) for _, e, d in heard(mine, 2)] == [
        ("document", {"version": 1, "project": "a"}),
        ("evaluation", {"version": 1, "project": "a"}),
    ]
    assert heard(other, 1)[0][2] == {"version": 7, "project": "b"}


def test_a_window_that_comes_back_hears_what_it_missed() -> None:
    hub = EventHub()
    first = hub.stream("a", 0, lambda: False)
    next(first)
    for version in range(4):
        hub.send("a", "document", {"version": version})
    last = heard(first, 2)[-1][0]
    first.close()
    again = hub.stream("a", last, lambda: False)
    assert [d["version"] for _, _, d in heard(again, 2)] == [2, 3]
    fresh = hub.stream("a", 0, lambda: False)
    next(fresh)
    hub.send("a", "document", {"version": 9})
    assert heard(fresh, 1)[0][2] == {"version": 9, "project": "a"}, (
        "a new window reads the project itself, so it needs no past"
    )


def test_a_closed_window_is_forgotten(monkeypatch: Any) -> None:
    monkeypatch.setattr(events, "PING_S", 0.05)
    hub, gone = EventHub(), threading.Event()
    stream = hub.stream("a", 0, gone.is_set)
    assert next(stream) == ": open\n\n"
    assert next(stream) == ": ping\n\n", "silence is filled, so that a dead line is noticed"
    gone.set()
    assert list(stream) == []
    assert hub._windows == []
