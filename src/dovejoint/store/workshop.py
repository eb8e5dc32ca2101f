"""The measured world: profile versions, revisions, trials, readings and verdicts."""

from __future__ import annotations

import json
import secrets
import sqlite3
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from ..core.document import Profile, Project
from ..core.document.file import check
from ..core.errors import CommandError
from .database import Database

__all__ = ["ReadingRow", "Revision", "Trial", "VerdictRow", "WorkshopStore"]


@dataclass(frozen=True)
class Revision:
    number: int
    note: str
    at: str


@dataclass(frozen=True)
class ReadingRow:
    id: int
    trial: str
    feature: str
    measured_mm: float
    resolution_mm: float
    source: str
    excluded: bool
    at: str


@dataclass(frozen=True)
class VerdictRow:
    """``evidence`` holds what the verdict rests on: drawn gap, need, directions."""

    id: int
    trial: str
    joint: str
    verdict: str
    went_in: int | None
    source: str
    evidence: dict[str, Any]
    at: str


@dataclass(frozen=True)
class Trial:
    """One print. ``printed`` holds its parts with features (and simulated pieces), joints, ladder and estimate."""

    id: str
    project: str
    number: int
    revision: int | None
    coupon: str
    profile: str
    profile_version: int
    machine: int | None
    state: str
    note: str
    printed: dict[str, Any]
    began: str
    ended: str | None


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="seconds")


def _trial(row: sqlite3.Row) -> Trial:
    return Trial(**{**dict(row), "printed": json.loads(row["printed"])})


def _reading(row: sqlite3.Row) -> ReadingRow:
    return ReadingRow(**{**dict(row), "excluded": bool(row["excluded"])})


def _verdict(row: sqlite3.Row) -> VerdictRow:
    return VerdictRow(**{**dict(row), "evidence": json.loads(row["evidence"])})


class WorkshopStore:
    """Repositories over the database of the projects."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def _rows(self, sql: str, *arguments: Any) -> list[sqlite3.Row]:
        return self.database.connection().execute(sql, arguments).fetchall()

    # ---- profiles ----------------------------------------------------------------------------------------------

    def keep_profile(self, profile: Profile, reason: str) -> None:
        """Keep a version of a profile; one that is there already stays as it is."""
        with self.database.transaction() as db:
            db.execute(
                "INSERT INTO profile_version VALUES (?, ?, ?, ?, ?) ON CONFLICT DO NOTHING",
                (profile.id, profile.version, profile.model_dump_json(), reason, _now()),
            )

    def profile_versions(self, profile: str) -> list[tuple[Profile, str, str]]:
        """All versions of a profile with reason and time, oldest first."""
        rows = self._rows("SELECT * FROM profile_version WHERE profile = ? ORDER BY version", profile)
        return [(Profile.model_validate_json(r["data"]), r["reason"], r["at"]) for r in rows]

    def next_profile_number(self) -> int:
        """A number for a new profile that none has yet; 1 and 2 are those that the application ships with."""
        rows = self._rows(
            "SELECT max(CAST(substr(profile, 3) AS INTEGER)) AS most FROM profile_version WHERE profile LIKE 'pr%'"
        )
        return max(int(rows[0]["most"] or 0), 2) + 1

    # ---- revisions ---------------------------------------------------------------------------------------------

    def revisions(self, project: str) -> list[Revision]:
        rows = self._rows("SELECT number, note, at FROM revision WHERE project = ? ORDER BY number", project)
        return [Revision(**dict(r)) for r in rows]

    def freeze(self, project: str, document: Project, note: str) -> Revision:
        """Freeze a state. Raises CommandError when the note is too long."""
        note = note.strip()
        if len(note) > 400:
            raise CommandError("A revision's note may have 400 signs.")
        with self.database.transaction() as db:
            number = db.execute(
                "SELECT coalesce(max(number), 0) + 1 FROM revision WHERE project = ?", (project,)
            ).fetchone()[0]
            at = _now()
            db.execute(
                "INSERT INTO revision VALUES (?, ?, ?, ?, ?)", (project, number, note, document.model_dump_json(), at)
            )
        return Revision(number, note, at)

    def note_revision(self, project: str, number: int, note: str) -> None:
        with self.database.transaction() as db:
            db.execute(
                "UPDATE revision SET note = ? WHERE project = ? AND number = ?", (note.strip()[:400], project, number)
            )

    def frozen(self, project: str, number: int) -> Project:
        """The document of a revision. Raises CommandError when there is none."""
        rows = self._rows("SELECT document FROM revision WHERE project = ? AND number = ?", project, number)
        if not rows:
            raise CommandError(f"There is no revision {number}.")
        return check(json.loads(rows[0]["document"]))

    def revision_of(self, project: str, document: Project) -> int | None:
        """The newest revision, if it holds this very document."""
        rows = self._rows(
            "SELECT number, document FROM revision WHERE project = ? ORDER BY number DESC LIMIT 1", project
        )
        same = rows and json.loads(rows[0]["document"]) == json.loads(document.model_dump_json())
        return int(rows[0]["number"]) if same else None

    # ---- trials ------------------------------------------------------------------------------------------------

    def begin_trial(
        self,
        project: str,
        profile: Profile,
        printed: dict[str, Any],
        *,
        revision: int | None,
        coupon: str = "",
        simulated: bool,
        note: str = "",
    ) -> Trial:
        self.keep_profile(profile, profile.source)
        id = secrets.token_hex(5)
        with self.database.transaction() as db:
            number = db.execute(
                "SELECT coalesce(max(number), 0) + 1 FROM trial WHERE project = ?", (project,)
            ).fetchone()[0]
            db.execute(
                """INSERT INTO trial (id, project, number, revision, coupon, profile, profile_version, machine, state, note,
                                      printed, began, ended) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""",
                (
                    id, project, number, revision, coupon, profile.id, profile.version,
                    profile.machine if simulated else None, "printing" if simulated else "done", note.strip()[:400],
                    json.dumps(printed), _now(), None if simulated else _now(),
                ),
            )  # fmt: skip
        return self.trial(id)

    def end_trial(self, id: str, state: str, pieces: dict[str, str]) -> None:
        """``pieces`` are the simulated pieces by part."""
        with self.database.transaction() as db:
            row = db.execute("SELECT printed FROM trial WHERE id = ?", (id,)).fetchone()
            if row is None:
                return
            printed = json.loads(row["printed"])
            printed["pieces"] = pieces
            db.execute(
                "UPDATE trial SET state = ?, printed = ?, ended = ? WHERE id = ?",
                (state, json.dumps(printed), _now(), id),
            )

    def interrupted(self) -> None:
        """Prints that were under way when the server stopped have stopped too."""
        with self.database.transaction() as db:
            db.execute("UPDATE trial SET state = 'stopped', ended = ? WHERE state = 'printing'", (_now(),))

    def trial(self, id: str) -> Trial:
        """Raises CommandError when there is no such trial."""
        rows = self._rows("SELECT * FROM trial WHERE id = ?", id)
        if not rows:
            raise CommandError("That print is not there any more.")
        return _trial(rows[0])

    def trials(self, project: str) -> list[Trial]:
        """All trials of a project, oldest first."""
        return [_trial(r) for r in self._rows("SELECT * FROM trial WHERE project = ? ORDER BY number", project)]

    def trials_with(self, profile: str, machine: int) -> list[Trial]:
        """Finished trials of all projects with one profile, on one simulated printer or one's own."""
        sql = "SELECT * FROM trial WHERE profile = ? AND state = 'done' AND (machine IS NULL OR machine = ?) ORDER BY began, number"
        return [_trial(r) for r in self._rows(sql, profile, machine)]

    def note_trial(self, id: str, note: str) -> None:
        with self.database.transaction() as db:
            db.execute("UPDATE trial SET note = ? WHERE id = ?", (note.strip()[:400], id))

    def remove_trial(self, id: str) -> None:
        with self.database.transaction() as db:
            db.execute("DELETE FROM trial WHERE id = ?", (id,))

    # ---- readings and verdicts ---------------------------------------------------------------------------------

    def add_reading(self, trial: str, feature: str, measured_mm: float, resolution_mm: float, source: str) -> int:
        with self.database.transaction() as db:
            cursor = db.execute(
                "INSERT INTO reading (trial, feature, measured_mm, resolution_mm, source, at) VALUES (?, ?, ?, ?, ?, ?)",
                (trial, feature, measured_mm, resolution_mm, source, _now()),
            )
            return int(cursor.lastrowid or 0)

    def readings(self, trial: str) -> list[ReadingRow]:
        return [_reading(r) for r in self._rows("SELECT * FROM reading WHERE trial = ? ORDER BY id", trial)]

    def reading(self, id: int) -> ReadingRow:
        """Raises CommandError when it is not there."""
        rows = self._rows("SELECT * FROM reading WHERE id = ?", id)
        if not rows:
            raise CommandError("That reading is not there any more.")
        return _reading(rows[0])

    def exclude_reading(self, id: int, excluded: bool) -> None:
        with self.database.transaction() as db:
            db.execute("UPDATE reading SET excluded = ? WHERE id = ?", (int(excluded), id))

    def remove_reading(self, id: int) -> None:
        with self.database.transaction() as db:
            db.execute("DELETE FROM reading WHERE id = ?", (id,))

    def add_verdict(
        self, trial: str, joint: str, verdict: str, went_in: int | None, source: str, evidence: dict[str, Any]
    ) -> int:
        """A joint has one verdict on a trial: a new one takes its place."""
        with self.database.transaction() as db:
            db.execute("DELETE FROM verdict WHERE trial = ? AND joint = ?", (trial, joint))
            cursor = db.execute(
                "INSERT INTO verdict (trial, joint, verdict, went_in, source, evidence, at) VALUES (?, ?, ?, ?, ?, ?, ?)",
                (trial, joint, verdict, went_in, source, json.dumps(evidence), _now()),
            )
            return int(cursor.lastrowid or 0)

    def verdicts(self, trial: str) -> list[VerdictRow]:
        return [_verdict(r) for r in self._rows("SELECT * FROM verdict WHERE trial = ? ORDER BY id", trial)]

    def remove_verdict(self, id: int) -> Trial:
        """Returns the trial that it was on. Raises CommandError when it is not there."""
        rows = self._rows("SELECT trial FROM verdict WHERE id = ?", id)
        if not rows:
            raise CommandError("That verdict is not there any more.")
        with self.database.transaction() as db:
            db.execute("DELETE FROM verdict WHERE id = ?", (id,))
        return self.trial(rows[0]["trial"])

    # ---- proposals ---------------------------------------------------------------------------------------------

    def dismiss(self, profile: str, evidence: str) -> None:
        with self.database.transaction() as db:
            db.execute("INSERT INTO dismissal VALUES (?, ?, ?) ON CONFLICT DO NOTHING", (profile, evidence, _now()))

    def dismissed(self, profile: str, evidence: str) -> bool:
        return bool(self._rows("SELECT 1 FROM dismissal WHERE profile = ? AND evidence = ?", profile, evidence))

    def recall(self, profile: str, evidence: str) -> None:
        """Take a dismissal back."""
        with self.database.transaction() as db:
            db.execute("DELETE FROM dismissal WHERE profile = ? AND evidence = ?", (profile, evidence))
