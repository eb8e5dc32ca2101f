"""Projects and their journal: commands are committed before they are acknowledged and before anything is computed."""

from __future__ import annotations

import json
import secrets
import sqlite3
import threading
from collections import OrderedDict
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from typing import Any

from ..core.document import Command, Project, apply, new_project
from ..core.document.file import check
from ..core.document.files import hash_of, pack, without_files
from ..core.document.patch import Patch, apply_patch, patches
from ..core.errors import ClashError, CommandError, FileError
from .database import Database

__all__ = ["Committed", "ProjectStore", "Summary"]

#: how long a file that no project speaks of is kept
_WRITING = timedelta(hours=1)
_KEEP_FILE = "INSERT INTO file VALUES (?, ?, ?) ON CONFLICT (hash) DO UPDATE SET added = excluded.added"


@dataclass(frozen=True)
class Summary:
    """A line of the list of projects."""

    id: str
    name: str
    parts: int
    steps: int
    changed: str


@dataclass(frozen=True)
class Committed:
    """A project as it stands, and what can be taken back or done again."""

    id: str
    project: Project
    version: int
    undo: str | None
    redo: str | None
    sentence: str = ""
    created: list[str] = field(default_factory=list)
    change: Change | None = None


@dataclass(frozen=True)
class Change:
    """How a project came from the version before: that project, and the JSON Patch from its document."""

    before: Project
    version: int
    patch: Patch


#: projects that are kept read, so that a command on a large one does not read it anew
_KEPT = 12


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="seconds")


def _sharing(before: Project, after: Project) -> Project:
    """The project with those steps of the one before that say the same, so that nothing is read twice."""
    known = {s.id: s for s in before.recipe}
    recipe = [known[s.id] if s.id in known and known[s.id] == s else s for s in after.recipe]
    return after.model_copy(update={"recipe": recipe})


class ProjectStore:
    """The projects of one database."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self._lock = threading.Lock()
        self._read: OrderedDict[str, tuple[int, Project]] = OrderedDict()

    def _project(self, row: sqlite3.Row) -> Project:
        """The project of a row, read once for each version of it."""
        with self._lock:
            known = self._read.get(row["id"])
        if known is not None and known[0] == row["version"]:
            return known[1]
        try:
            data = json.loads(row["document"])
        except ValueError:
            raise FileError(
                f"What is kept of “{row['name']}” is damaged and cannot be read; the other projects are not touched."
            ) from None
        project = check(data)
        self._remember(row["id"], row["version"], project)
        return project

    def _remember(self, id: str, version: int, project: Project) -> None:
        with self._lock:
            self._read[id] = (version, project)
            self._read.move_to_end(id)
            while len(self._read) > _KEPT:
                self._read.popitem(last=False)

    def summaries(self) -> list[Summary]:
        """All projects, the one changed last first."""
        rows = self.database.connection().execute(
            # one damaged row must not hide the others
            """SELECT id, name, changed,
                      CASE WHEN json_valid(document) THEN ifnull(json_array_length(document, '$.parts'), 0) ELSE 0 END AS parts,
                      CASE WHEN json_valid(document) THEN ifnull(json_array_length(document, '$.recipe'), 0) ELSE 0 END AS steps
               FROM project ORDER BY changed DESC, rowid DESC"""
        )
        return [Summary(r["id"], r["name"], r["parts"], r["steps"], r["changed"]) for r in rows]

    def create(self, name: str) -> Committed:
        return self.insert(new_project(name))

    def insert(self, project: Project) -> Committed:
        """Keep a project that came from elsewhere, as a new one."""
        id = secrets.token_hex(5)
        files, project = project.files, without_files(project)
        with self.database.transaction() as connection:
            for hash, packed in files.items():
                connection.execute(_KEEP_FILE, (hash, packed, _now()))
            connection.execute(
                "INSERT INTO project (id, name, document, created, changed) VALUES (?, ?, ?, ?, ?)",
                (id, project.name, project.model_dump_json(), _now(), _now()),
            )
        return self.get(id)

    def keep_file(self, data: bytes) -> str:
        """Keep a file that is to be brought into a project; the hash that it goes by."""
        hash = hash_of(data)
        with self.database.transaction() as connection:
            connection.execute(_KEEP_FILE, (hash, pack(data), _now()))
        return hash

    def file(self, hash: str) -> str | None:
        """A file by its hash, packed."""
        row = self.database.connection().execute("SELECT packed FROM file WHERE hash = ?", (hash,)).fetchone()
        return None if row is None else str(row["packed"])

    def delete(self, id: str) -> None:
        """Remove a project, and the files that no project, change or revision speaks of any more."""
        with self.database.transaction() as connection:
            connection.execute("DELETE FROM project WHERE id = ?", (id,))
            connection.execute(
                """DELETE FROM file WHERE added < ?
                   AND NOT EXISTS (SELECT 1 FROM project WHERE instr(document, hash))
                   AND NOT EXISTS (SELECT 1 FROM journal WHERE instr(forward, hash) OR instr(inverse, hash))
                   AND NOT EXISTS (SELECT 1 FROM revision WHERE instr(document, hash))""",
                # one that came a moment ago may stand in a sentence that is being written
                ((datetime.now(UTC) - _WRITING).isoformat(timespec="seconds"),),
            )

    def get(self, id: str) -> Committed:
        """Raises CommandError when there is no such project."""
        return self._state(self.database.connection(), id)

    def _row(self, connection: sqlite3.Connection, id: str) -> sqlite3.Row:
        row: sqlite3.Row | None = connection.execute("SELECT * FROM project WHERE id = ?", (id,)).fetchone()
        if row is None:
            raise CommandError("There is no such project.")
        return row

    def _state(
        self,
        connection: sqlite3.Connection,
        id: str,
        sentence: str = "",
        created: Any = (),
        change: Change | None = None,
    ) -> Committed:
        row = self._row(connection, id)
        near = {
            r["place"]: r["sentence"]
            for r in connection.execute(
                "SELECT place, sentence FROM journal WHERE project = ? AND place IN (?, ?)",
                (id, row["position"], row["position"] + 1),
            )
        }
        return Committed(
            id,
            self._project(row),
            row["version"],
            near.get(row["position"]),
            near.get(row["position"] + 1),
            sentence,
            list(created),
            change,
        )

    def commit(self, id: str, seen: int, command: Command) -> Committed:
        """Apply a command that was written against version ``seen``.

        When the project has moved on since, the command is rebased, unless the same object was changed.

        Raises
        ------
        ClashError : the same object was changed since, with what changed.
        CommandError : the command is refused.
        """
        with self.database.transaction() as connection:
            row = self._row(connection, id)
            before = self._project(row)
            outcome = apply(before, command)
            self._refuse_clash(connection, row, seen, outcome.touches)
            forward, inverse = patches(before, outcome.project)
            place = row["position"] + 1
            # what was undone is no longer ahead, but stays in the journal
            connection.execute("UPDATE journal SET place = NULL WHERE project = ? AND place >= ?", (id, place))
            connection.execute(
                """INSERT INTO journal (project, place, command, forward, inverse, touches, sentence, at)
                   VALUES (?, ?, ?, ?, ?, ?, ?, ?)""",
                (
                    id,
                    place,
                    command.model_dump_json(),
                    json.dumps(forward),
                    json.dumps(inverse),
                    json.dumps(sorted(outcome.touches)),
                    outcome.sentence,
                    _now(),
                ),
            )
            self._write(connection, row, outcome.project, place, "do", outcome.touches, outcome.sentence)
            self._remember(id, row["version"] + 1, outcome.project)
            change = Change(before, row["version"], forward)
            return self._state(connection, id, outcome.sentence, outcome.created, change)

    def _refuse_clash(
        self, connection: sqlite3.Connection, row: sqlite3.Row, seen: int, touches: frozenset[str]
    ) -> None:
        if seen > row["version"] or seen < 0:
            raise CommandError("The command speaks of a version of the project that is not there; reload.")
        if seen == row["version"]:
            return
        changes = [
            r["sentence"]
            for r in connection.execute(
                "SELECT touches, sentence FROM change WHERE project = ? AND version > ? ORDER BY version",
                (row["id"], seen),
            )
            if touches & set(json.loads(r["touches"]))
        ]
        if changes:
            raise ClashError(
                f"This was changed elsewhere meanwhile: {'; '.join(changes[-3:])}. Look at it and try again.", changes
            )

    def _write(
        self,
        connection: sqlite3.Connection,
        row: sqlite3.Row,
        project: Project,
        position: int,
        kind: str,
        touches: frozenset[str],
        sentence: str,
    ) -> None:
        connection.execute(
            "UPDATE project SET name = ?, document = ?, version = version + 1, position = ?, changed = ? WHERE id = ?",
            (project.name, project.model_dump_json(), position, _now(), row["id"]),
        )
        connection.execute(
            "INSERT INTO change (project, version, kind, touches, sentence, at) VALUES (?, ?, ?, ?, ?, ?)",
            (row["id"], row["version"] + 1, kind, json.dumps(sorted(touches)), sentence, _now()),
        )

    def undo(self, id: str, seen: int) -> Committed:
        """Take back the last command that stands. Raises CommandError when there is none."""
        return self._travel(id, seen, "undo")

    def redo(self, id: str, seen: int) -> Committed:
        """Do again what was taken back last. Raises CommandError when there is nothing."""
        return self._travel(id, seen, "redo")

    def _travel(self, id: str, seen: int, kind: str) -> Committed:
        with self.database.transaction() as connection:
            row = self._row(connection, id)
            if seen != row["version"]:
                raise ClashError("The project was changed in another window meanwhile; look at it and try again.", [])
            place = row["position"] if kind == "undo" else row["position"] + 1
            entry = connection.execute("SELECT * FROM journal WHERE project = ? AND place = ?", (id, place)).fetchone()
            if entry is None:
                raise CommandError(
                    "There is nothing to take back." if kind == "undo" else "There is nothing to do again."
                )
            patch = json.loads(entry["inverse"] if kind == "undo" else entry["forward"])
            before = self._project(row)
            project = _sharing(before, check(apply_patch(json.loads(row["document"]), patch)))
            position = place - 1 if kind == "undo" else place
            sentence = f"{'take back' if kind == 'undo' else 'do again'}: {entry['sentence']}"
            self._write(connection, row, project, position, kind, frozenset(json.loads(entry["touches"])), sentence)
            self._remember(id, row["version"] + 1, project)
            return self._state(connection, id, sentence, change=Change(before, row["version"], patch))

    def history(self, id: str) -> list[dict[str, Any]]:
        """Sentences of all commands that stand, oldest first."""
        rows = self.database.connection().execute(
            """SELECT j.place, j.sentence, j.at FROM journal j JOIN project p ON p.id = j.project
               WHERE j.project = ? AND j.place <= p.position ORDER BY j.place""",
            (id,),
        )
        return [dict(r) for r in rows]
