"""Evaluations and meshes that were made before, by content: an unchanged project opens without kernel work.

Everything in it can be made again, so nothing that is wrong with it may stop the application: a damaged file is dropped, one that
cannot be written is done without, and both are said once in the log. It is bounded by bytes.
"""

from __future__ import annotations

import contextlib
import json
import logging
import sqlite3
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from .database import Database

__all__ = ["ResultStore"]

_Answer = TypeVar("_Answer")
_log = logging.getLogger(__name__)
#: the oldest reports go, with the meshes that only they name, when all together take more than this, bytes
MOST_BYTES = 400_000_000
#: the size is looked at after so many new reports
_LOOK_AFTER = 40


class ResultStore:
    """Reports by key and blobs by hash.

    Parameters
    ----------
    path : the database's file.
    """

    def __init__(self, path: Path, most_bytes: int = MOST_BYTES) -> None:
        self._path = path
        self.most_bytes = most_bytes
        self._kept = 0
        self._database: Database | None = None
        self._open()
        self._try(lambda database: self._sweep(database))

    def _open(self) -> None:
        try:
            self._database = Database(self._path, durable=False, script="cache.sql")
            # the first real read tells whether the file is one
            self._database.connection().execute("SELECT count(*) FROM evaluation").fetchone()
        except sqlite3.Error as error:
            _log.warning("the cache %s cannot be used (%s); it is dropped", self._path, error)
            self._drop()

    def _drop(self) -> None:
        """Begin anew with an empty file; where that cannot be, without one."""
        self._database = None
        for tail in ("", "-wal", "-shm"):
            with contextlib.suppress(OSError):
                self._path.with_name(self._path.name + tail).unlink()
        try:
            self._database = Database(self._path, durable=False, script="cache.sql")
        except (sqlite3.Error, OSError) as error:
            _log.warning("there is no cache (%s): what was made is made again after a restart", error)

    def _try(self, work: Callable[[Database], _Answer]) -> _Answer | None:
        """The answer of the database; ``None`` where it gives none."""
        if self._database is None:
            return None
        try:
            return work(self._database)
        except sqlite3.OperationalError as error:
            # locked, full, not to be written: it may be better next time
            _log.warning("the cache could not be used: %s", error)
        except sqlite3.Error as error:
            _log.warning("the cache %s is damaged (%s); it is dropped", self._path, error)
            self._drop()
        return None

    def report(self, key: str) -> str | None:
        row = self._try(
            lambda d: d.connection().execute("SELECT report FROM evaluation WHERE key = ?", (key,)).fetchone()
        )
        return None if row is None else str(row["report"])

    def keep(self, key: str, report: str, meshes: dict[str, bytes]) -> None:
        """Keep a report with the blobs that it names; the oldest go when there are too many bytes."""

        def work(database: Database) -> None:
            with database.transaction() as connection:
                connection.executemany("INSERT OR IGNORE INTO mesh VALUES (?, ?)", list(meshes.items()))
                connection.execute(
                    "INSERT OR REPLACE INTO evaluation VALUES (?, ?, (SELECT ifnull(max(used), 0) + 1 FROM evaluation))",
                    (key, report),
                )

        self._try(work)
        self._kept += 1
        if self._kept % _LOOK_AFTER == 0:
            self._try(self._sweep)

    def mesh(self, hash: str) -> bytes | None:
        row = self._try(lambda d: d.connection().execute("SELECT blob FROM mesh WHERE hash = ?", (hash,)).fetchone())
        return None if row is None else bytes(row["blob"])

    def picture(self, name: str) -> tuple[str, bytes] | None:
        """A small picture by whose it is: of what it was made, and the PNG."""
        row = self._try(
            lambda d: d.connection().execute("SELECT of, png FROM picture WHERE name = ?", (name,)).fetchone()
        )
        return None if row is None else (str(row["of"]), bytes(row["png"]))

    def keep_picture(self, name: str, of: str, png: bytes) -> None:
        def work(database: Database) -> None:
            with database.transaction() as connection:
                connection.execute("INSERT OR REPLACE INTO picture VALUES (?, ?, ?)", (name, of, png))

        self._try(work)

    def drop_picture(self, name: str) -> None:
        def work(database: Database) -> None:
            with database.transaction() as connection:
                connection.execute("DELETE FROM picture WHERE name = ?", (name,))

        self._try(work)

    def _sweep(self, database: Database) -> None:
        """Drop the oldest reports until the rest, with their blobs, is within bounds; and blobs that no report names."""
        with database.transaction() as connection:
            sizes = dict(connection.execute("SELECT hash, length(blob) FROM mesh").fetchall())
            left, old = self.most_bytes, []
            named: set[str] = set()
            for row in connection.execute("SELECT key, report FROM evaluation ORDER BY used DESC"):
                try:
                    parts = json.loads(row["report"])["parts"]
                    hashes = {h for p in parts for h in (p["mesh"], p.get("things", "")) if h} - named
                except (ValueError, KeyError, TypeError):
                    old.append((row["key"],))
                    continue
                left -= len(row["report"]) + sum(sizes.get(h, 0) for h in hashes)
                if left < 0:
                    old.append((row["key"],))
                else:
                    named |= hashes
            connection.executemany("DELETE FROM evaluation WHERE key = ?", old)
            connection.executemany("DELETE FROM mesh WHERE hash = ?", [(h,) for h in sizes if h not in named])
        if old:
            # give the room back to the disk
            database.connection().execute("PRAGMA wal_checkpoint(TRUNCATE)")
            database.connection().execute("VACUUM")
