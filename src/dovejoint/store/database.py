"""One SQLite file, one connection for each thread, migrations in numbered .sql files."""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import files
from pathlib import Path

__all__ = ["Database"]


class Database:
    """Opens the file, brings it up to the newest schema, and gives transactions.

    WAL with ``synchronous=FULL``: once a transaction is committed it survives a kill -9 and a power cut.
    """

    def __init__(self, path: Path, *, durable: bool = True, script: str | None = None) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path = path
        self.durable = durable
        self._local = threading.local()
        if script is not None:
            self.connection().executescript(files("dovejoint.store").joinpath("sql", script).read_text())
        else:
            self._migrate()

    def connection(self) -> sqlite3.Connection:
        found: sqlite3.Connection | None = getattr(self._local, "connection", None)
        if found is None:
            found = sqlite3.connect(self.path, isolation_level=None, timeout=20)
            found.row_factory = sqlite3.Row
            found.execute("PRAGMA journal_mode=WAL")
            found.execute("PRAGMA foreign_keys=ON")
            found.execute(f"PRAGMA synchronous={'FULL' if self.durable else 'NORMAL'}")
            self._local.connection = found
        return found

    @contextmanager
    def transaction(self) -> Iterator[sqlite3.Connection]:
        """A write transaction: committed at the end, rolled back on any error."""
        connection = self.connection()
        connection.execute("BEGIN IMMEDIATE")
        try:
            yield connection
        except BaseException:
            connection.execute("ROLLBACK")
            raise
        connection.execute("COMMIT")

    def _migrate(self) -> None:
        scripts = sorted(
            (f for f in files("dovejoint.store").joinpath("sql").iterdir() if f.name[:3].isdigit()),
            key=lambda f: f.name,
        )
        connection = self.connection()
        for script in scripts:
            number = int(script.name[:3])
            at = connection.execute("PRAGMA user_version").fetchone()[0]
            if number > at:
                # executescript commits what is open, so the version is set within the same script
                connection.executescript(
                    f"BEGIN IMMEDIATE;\n{script.read_text()}\nPRAGMA user_version={number};\nCOMMIT;"
                )
