"""A server that is killed with -9 loses no acknowledged edit, undo goes back to the first step, and no worker's death makes a wrong solid.

``DOVE_KILLS=200 ./dove test tests/web/test_durable.py`` is the long run; its seed is fixed.
"""

from __future__ import annotations

import contextlib
import copy
import http.client
import os
import random
import signal
import threading
import time
import urllib.request
from pathlib import Path
from typing import Any

import pytest
from served import Refused, Server

from dovejoint.core.document import Project
from dovejoint.core.recipe import ResultCache, evaluate

KILLS = int(os.environ.get("DOVE_KILLS", "6"))
#: what is written into values of the sample, mm
RANGES = {"wall": (1.6, 3.0), "inside": (70.0, 90.0), "tall": (60.0, 80.0)}


class Writer:
    """Edits a project as fast as the server takes it, and keeps by itself what the project must be after each edit."""

    def __init__(self, server: Server, rng: random.Random) -> None:
        self.server, self.rng = server, rng
        self.state = server.call("/projects", {"sample": "feeder"})
        self.documents: list[Any] = [self.state["document"]]
        self.at = 0
        #: the edit on its way: the documents and the place among them that it leads to
        self.on_its_way: tuple[list[Any], int] = (self.documents, 0)
        self.acknowledged = 0
        self.pause = threading.Event()
        self.wrong: list[BaseException] = []

    @property
    def document(self) -> Any:
        return self.documents[self.at]

    def one(self) -> None:
        """One edit, undo or redo. Raises OSError when the server is gone."""
        path, body = f"/projects/{self.state['id']}", {"seen": self.state["version"]}
        dice = self.rng.random()
        if dice < 0.15 and self.at > 0:
            self.on_its_way, what = (self.documents, self.at - 1), "undo"
        elif dice < 0.25 and self.at + 1 < len(self.documents):
            self.on_its_way, what = (self.documents, self.at + 1), "redo"
        else:
            after = copy.deepcopy(self.document)
            value = self.rng.choice([v for v in after["values"] if v["name"] in RANGES])
            value["formula"] = f"{self.rng.uniform(*RANGES[value['name']]):.3f} mm"
            command = {"do": "SetValue", "value": value["id"], "formula": value["formula"]}
            self.on_its_way, what = ([*self.documents[: self.at + 1], after], self.at + 1), "commands"
            body["command"] = command
        self.state = self.server.call(f"{path}/{what}", body)
        self.documents, self.at = self.on_its_way
        self.acknowledged += 1

    def run(self) -> None:
        """Until the server is gone or it shall pause."""
        try:
            while not self.pause.is_set():
                self.one()
        except (OSError, http.client.HTTPException):
            return
        except BaseException as error:
            self.wrong.append(error)

    def after(self, server: Server) -> None:
        """What a new server has must be what was acknowledged, with at most the one edit that was on its way."""
        self.server = server
        self.state = server.call(f"/projects/{self.state['id']}")
        documents, at = self.on_its_way
        if self.state["document"] != self.document:
            assert self.state["document"] == documents[at], "neither what was acknowledged nor the edit on its way"
            self.documents, self.at = documents, at


def made(server: Server, id: str) -> Any:
    """A project's parts when they are vouched for, however often that is overtaken."""
    deadline = time.monotonic() + 120
    while time.monotonic() < deadline:
        with contextlib.suppress(Refused):
            report = server.call(f"/projects/{id}/evaluation")
            if report["stage"] in ("made", "measured"):
                return report
    raise AssertionError("the model is not made any more")


@pytest.mark.timeout(7200)
def test_killed_at_random(tmp_path: Path) -> None:
    """The server, or one of its workers, is killed at random moments while edits come: nothing acknowledged is lost, and the model is right."""
    rng = random.Random(20261129)
    server = Server(tmp_path)
    writer = Writer(server, random.Random(7))
    servers = workers = 0
    try:
        for _ in range(KILLS):
            writer.pause.clear()
            thread = threading.Thread(target=writer.run)
            thread.start()
            time.sleep(rng.uniform(0.02, 0.6))
            if rng.random() < 0.6:
                server.kill()
                servers += 1
                thread.join(30)
                server = Server(tmp_path)
                writer.after(server)
            else:
                with contextlib.suppress(ProcessLookupError, IndexError):
                    os.kill(rng.choice(server.workers()), signal.SIGKILL)
                    workers += 1
                writer.pause.set()
                thread.join(60)
                report = made(server, writer.state["id"])
                wanted = evaluate(Project.model_validate(writer.document), ResultCache())
                for part in report["parts"]:
                    assert part["volume_mm3"] == pytest.approx(wanted.parts[part["id"]].info.volume_mm3, rel=1e-9)
            assert not writer.wrong, writer.wrong
        state = writer.state
        for documents, what in ((reversed(writer.documents[: writer.at]), "undo"), (writer.documents[1:], "redo")):
            for k, wanted in enumerate(documents):
                state = server.call(f"/projects/{state['id']}/{what}", {"seen": state["version"]})
                if k % 10 == 0 or not state[what]:
                    assert server.call(f"/projects/{state['id']}")["document"] == wanted
    finally:
        server.kill()
    print(f"{servers} servers and {workers} workers killed, {writer.acknowledged} edits acknowledged, none lost")
    assert writer.acknowledged > KILLS and servers and workers


def test_events_reach_the_other_window(tmp_path: Path) -> None:
    server = Server(tmp_path)
    try:
        state = server.call("/projects", {"name": "Live"})
        stream = urllib.request.urlopen(f"{server.address}/api/events?project={state['id']}", timeout=30)
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
