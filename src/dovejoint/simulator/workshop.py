"""The workshop: machines, prints that take their time, and the pieces that came off them. It keeps its secrets in a file."""

from __future__ import annotations

import json
import random
import secrets
import sqlite3
import threading
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from .caliper import Caliper
from .hands import tried
from .machine import Machine, hidden_of
from .trying import Outcome

__all__ = ["JobState", "Workshop"]

_SCHEMA = """
CREATE TABLE IF NOT EXISTS machine (number INTEGER PRIMARY KEY, prints INTEGER NOT NULL, wander REAL NOT NULL);
CREATE TABLE IF NOT EXISTS piece (id TEXT PRIMARY KEY, machine INTEGER NOT NULL, part TEXT NOT NULL, features TEXT NOT NULL,
                                  sizes TEXT NOT NULL, readings INTEGER NOT NULL DEFAULT 0);
"""
#: a plug goes into an opening from this gap a side on, mm
GO_MM = 0.03


@dataclass
class JobState:
    """A print under way. ``share`` is how much of it is done, 0 to 1."""

    id: str
    seconds: float
    began: float
    state: str = "printing"
    halt: threading.Event = field(default_factory=threading.Event)

    @property
    def share(self) -> float:
        return 1.0 if self.state == "done" else min(1.0, (time.monotonic() - self.began) / max(self.seconds, 1e-6))


def _figures(sizes: dict[str, dict[str, float]]) -> list[float]:
    return [size for half in sizes.values() for size in half.values()]


class Workshop:
    """Simulated devices over one file.

    Parameters
    ----------
    hurry : how many times faster than a real printer; a print takes at least ``least_s`` and at most ``most_s``.
    """

    def __init__(self, path: Path, hurry: float = 1200.0, least_s: float = 1.0, most_s: float = 8.0) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path, self.hurry, self.least_s, self.most_s = path, hurry, least_s, most_s
        self.caliper = Caliper()
        self._lock = threading.Lock()
        self._jobs: dict[str, JobState] = {}
        with self._open() as db:
            db.executescript(_SCHEMA)

    def _open(self) -> sqlite3.Connection:
        db = sqlite3.connect(self.path, timeout=20)
        db.row_factory = sqlite3.Row
        return db

    def print(
        self,
        job: str,
        machine: int,
        pieces: Sequence[dict[str, Any]],
        time_s: float,
        finished: Callable[[str, dict[str, str]], None],
    ) -> JobState:
        """Start a print in the background.

        ``pieces`` have ``part`` and ``features``; ``finished(state, piece ids by part)`` is called at its end, with state
        ``done`` or ``stopped``.
        """
        state = JobState(job, min(self.most_s, max(self.least_s, time_s / self.hurry)), time.monotonic())
        with self._lock:
            self._jobs[job] = state

        def work() -> None:
            stopped = state.halt.wait(state.seconds)
            made = {} if stopped else self._make(machine, pieces)
            state.state = "stopped" if stopped else "done"
            finished(state.state, made)

        threading.Thread(target=work, name=f"print {job}", daemon=True).start()
        return state

    def job(self, job: str) -> JobState | None:
        return self._jobs.get(job)

    def stop(self, job: str) -> None:
        state = self._jobs.get(job)
        if state is not None:
            state.halt.set()

    def _make(self, number: int, pieces: Sequence[dict[str, Any]]) -> dict[str, str]:
        with self._lock, self._open() as db:
            row = db.execute("SELECT * FROM machine WHERE number = ?", (number,)).fetchone()
            machine = Machine(number, hidden_of(number), row["prints"] if row else 0, row["wander"] if row else 0.0)
            dice = machine.next_print()
            made = {}
            for piece in pieces:
                id = secrets.token_hex(5)
                sizes = machine.make(piece["features"], dice)
                db.execute(
                    "INSERT INTO piece (id, machine, part, features, sizes) VALUES (?, ?, ?, ?, ?)",
                    (id, number, piece["part"], json.dumps(piece["features"]), json.dumps(sizes)),
                )
                made[piece["part"]] = id
            db.execute(
                "INSERT INTO machine VALUES (?, ?, ?) ON CONFLICT (number) DO UPDATE SET prints = excluded.prints, wander = excluded.wander",
                (number, machine.prints, machine.wander),
            )
            return made

    def _piece(self, db: sqlite3.Connection, id: str) -> dict[str, Any]:
        row = db.execute("SELECT * FROM piece WHERE id = ?", (id,)).fetchone()
        if row is None:
            raise KeyError(id)
        return {**dict(row), "features": json.loads(row["features"]), "sizes": json.loads(row["sizes"])}

    def measure(self, piece: str, feature: str) -> float:
        """Read one feature with the caliper, mm. Raises KeyError when there is no such piece or feature."""
        with self._lock, self._open() as db:
            found = self._piece(db, piece)
            what = next(f for f in found["features"] if f["id"] == feature) if feature in found["sizes"] else None
            if what is None:
                raise KeyError(feature)
            db.execute("UPDATE piece SET readings = readings + 1 WHERE id = ?", (piece,))
            # by what the piece is, not by its id: who does the same again with the same machine reads the same
            dice = random.Random(f"caliper at {found['sizes'][feature]!r}, reading {found['readings']}")
            flat = what["direction"][2] ** 2 < 0.5
            seam = hidden_of(found["machine"]).seam if what["role"] == "outside" and flat else 0.0
            return self.caliper.read(
                found["sizes"][feature], dice, round_hole=bool(what.get("round_hole")), seam_mm=seam
            )

    def put_together(self, outer: str, inner: str, joint: dict[str, Any]) -> Outcome:
        """Try two halves, the ids of their pieces.

        Features of a half that several joints have in common go by ``shared`` instead of ``step``. A half that was not printed has no piece (an empty id): it is as large as ``as_drawn_mm`` of the joint says. ``joint`` has its ``step``, the gap it needs (``least_mm``, ``most_mm`` a side) and ``flare_chamfers_mm``; where the drawn gaps of its
        ``sides`` were measured, also those, with the gap ``drawn_by_way_mm`` that they belong to; and where more happens than that they meet, what that is (``acts``).
        """
        with self._open() as db:
            pieces = {side: self._piece(db, id) for side, id in (("outer", outer), ("inner", inner)) if id}
        sizes = {side: dict(joint.get("as_drawn_mm", {}).get(side, {})) for side in ("outer", "inner")}
        for piece in pieces.values():
            for f in piece["features"]:
                if f.get("joint") in (joint["step"], joint.get("shared") or joint["step"]):
                    sizes[f["side"]][f["id"].rsplit(":", 1)[1]] = piece["sizes"][f["id"]]
        # a depth is all in one half
        met = sizes["outer"].keys() if joint.get("rests") else sizes["outer"].keys() & sizes["inner"].keys()
        if not met or not pieces:
            raise KeyError(joint["step"])
        number = next(iter(pieces.values()))["machine"]
        machine = Machine(number, hidden_of(number))
        return tried(machine, sizes, joint, len(pieces), random.Random(f"put together: {sorted(_figures(sizes))}"))

    def climb(self, ladder: str, plug: str) -> int:
        """How many openings of a gap ladder take its plug. Its features are ``…:rung<k>:x`` and ``…:rung<k>:y``; ``…:plug:x``."""
        with self._open() as db:
            one, other = self._piece(db, ladder), self._piece(db, plug)
        plugs = {
            g["id"][-1]: (g["drawn_mm"], other["sizes"][g["id"]]) for g in other["features"] if ":plug:" in g["id"]
        }
        is_round = any(f.get("round_hole") for f in one["features"])
        machine = Machine(one["machine"], hidden_of(one["machine"]))
        lost = dict(zip("xy", machine.shape_lost_mm(plugs["x"][0], plugs["y"][0], is_round), strict=True))
        rungs: dict[str, list[float]] = {}
        for f in one["features"]:
            _, name, way = f["id"].split(":")
            if name.startswith("rung"):
                rungs.setdefault(name, []).append((one["sizes"][f["id"]] - plugs[way][1]) / 2 - lost[way])
        return sum(min(gaps) >= GO_MM for gaps in rungs.values())
