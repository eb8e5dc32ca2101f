"""A server that is killed with -9 loses no acknowledged edit, and undo goes back to the first step."""

from __future__ import annotations

import json
import signal
import subprocess
import sys
import threading
import time
import urllib.request
from pathlib import Path
from typing import Any


class Server:
    def __init__(self, data: Path) -> None:
        words = [
            sys.executable,
            "-m",
            "dovejoint.cli",
            "serve",
            "--port",
            "0",
            "--data",
            str(data),
            "--dist",
            str(data),
        ]
        self.process = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
        assert self.process.stdout is not None
        self.address = self.process.stdout.readline().split()[-1]

    def call(self, path: str, body: Any = None) -> Any:
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(f"{self.address}api{path}", data, {"Content-Type": "application/json"})
        with urllib.request.urlopen(request, timeout=30) as answer:
            return json.loads(answer.read())

    def kill(self) -> None:
        self.process.send_signal(signal.SIGKILL)
        self.process.wait(10)


def test_kill_9_loses_nothing_that_was_acknowledged(tmp_path: Path) -> None:
    server = Server(tmp_path)
    state = server.call("/projects", {"name": "Durable"})
    acknowledged: list[str] = []

    def edit() -> None:
        nonlocal state
        n = 0
        while True:
            try:
                command = {"do": "AddValue", "name": f"v{n}", "formula": f"{n} mm"}
                state = server.call(f"/projects/{state['id']}/commands", {"seen": state["version"], "command": command})
            except OSError:
                return
            acknowledged.append(f"v{n}")
            n += 1

    writer = threading.Thread(target=edit)
    writer.start()
    while len(acknowledged) < 25:
        time.sleep(0.01)
    server.kill()
    writer.join(20)
    again = Server(tmp_path)
    try:
        kept = again.call(f"/projects/{state['id']}")
        names = [v["name"] for v in kept["values"]]
        assert names[: len(acknowledged)] == acknowledged
        assert len(names) - len(acknowledged) in (0, 1), "at most the one that was on its way"
        while kept["undo"]:
            kept = again.call(f"/projects/{state['id']}/undo", {"seen": kept["version"]})
        assert kept["values"] == []
        for _ in names:
            kept = again.call(f"/projects/{state['id']}/redo", {"seen": kept["version"]})
        assert [v["name"] for v in kept["values"]] == names
    finally:
        again.kill()


def test_events_reach_the_other_window(tmp_path: Path) -> None:
    server = Server(tmp_path)
    try:
        state = server.call("/projects", {"name": "Live"})
        stream = urllib.request.urlopen(f"{server.address}api/events?project={state['id']}", timeout=30)
        assert stream.readline() == b": open\n"
        server.call(f"/projects/{state['id']}/commands", {"seen": 0, "command": {"do": "SetUnit", "unit": "in"}})
        heard = []
        while len(heard) < 2:
            line = stream.readline().decode().strip()
            if line.startswith("event:"):
                heard.append(line.split()[1])
        assert heard[0] == "document"
        assert heard[1] in ("progress", "evaluation")
    finally:
        server.kill()
