"""The application in a process of its own, on a folder that outlives it, and how much that process and its workers hold."""

from __future__ import annotations

import contextlib
import json
import subprocess
import sys
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

import psutil

__all__ = ["Refused", "Server"]


class Refused(Exception):
    """An answer that is no 200: its status, and what it says."""

    def __init__(self, status: int, detail: str) -> None:
        super().__init__(f"{status}: {detail}")
        self.status, self.detail = status, detail


class Server:
    """The application on a folder; ``dist`` is the built interface, where it is asked for. Started again it keeps its port."""

    def __init__(self, data: Path, dist: Path | None = None) -> None:
        self.data, self.dist, self.port = data, dist or data, 0
        self.start()

    def start(self) -> None:
        words = [sys.executable, "-m", "dovejoint.cli", "serve", "--port", str(self.port)]
        words += ["--data", str(self.data), "--dist", str(self.dist)]
        self.process = subprocess.Popen(words, stdout=subprocess.PIPE, text=True, cwd=self.data)
        assert self.process.stdout is not None
        line = self.process.stdout.readline()
        assert "Dove Joint is at" in line, line
        self.address = line.split()[-1].rstrip("/")
        self.port = int(self.address.rsplit(":", 1)[1])

    def fetch(self, path: str, body: Any = None, method: str | None = None, timeout_s: float = 60.0) -> bytes:
        """The bytes of an answer. Raises Refused, OSError."""
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            f"{self.address}/api{path}", data, {"Content-Type": "application/json"}, method=method
        )
        try:
            with urllib.request.urlopen(request, timeout=timeout_s) as answer:
                return bytes(answer.read())
        except urllib.error.HTTPError as error:
            raise Refused(error.code, error.read().decode(errors="replace")[:400]) from None

    def call(self, path: str, body: Any = None, method: str | None = None) -> Any:
        return json.loads(self.fetch(path, body, method))

    def workers(self) -> list[int]:
        """Its worker processes, and that which they are copied from, by their ids."""
        found = []
        for p in psutil.Process(self.process.pid).children(recursive=True):
            with contextlib.suppress(psutil.NoSuchProcess):
                if "resource_tracker" not in " ".join(p.cmdline()):
                    found.append(p.pid)
        return found

    def held(self) -> tuple[float, float, int]:
        """Megabytes of its own memory and of its workers' (shared pages in parts), and open handles of all of them."""
        mb, handles = [0.0, 0.0], 0
        main = psutil.Process(self.process.pid)
        for process in (main, *main.children(recursive=True)):
            with contextlib.suppress(psutil.NoSuchProcess):
                mb[process.pid != main.pid] += process.memory_full_info().pss / 1e6
                handles += process.num_fds()
        return mb[0], mb[1], handles

    def kill(self) -> None:
        """As kill -9 does it: no goodbye."""
        self.process.kill()
        self.process.wait(10)

    def stop(self) -> None:
        self.process.terminate()
        self.process.wait(20)
