"""One SQLite file, one connection for each thread, migrations in numbered .sql files."""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import files
from pathlib import Path
from typing import IO

from ..core.errors import FileError

__all__ = ["Database", "FolderLock"]

#: pages that one connection keeps, KiB: there are some hundred connections (threads, and files), and the system keeps the files' pages anyhow
PAGES_KIB = 256


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
            return
        try:
            self._migrate()
        except sqlite3.OperationalError as error:
            raise FileError(f"The data in {path} cannot be used now: {error}. Nothing was changed.") from None
        except sqlite3.DatabaseError as error:
            raise FileError(
                f"The data in {path} are damaged ({error}). Nothing was written over; put the file aside and start again."
            ) from None

    def connection(self) -> sqlite3.Connection:
        found: sqlite3.Connection | None = getattr(self._local, "connection", None)
        if found is None:
            found = sqlite3.connect(self.path, isolation_level=None, timeout=20)
            found.row_factory = sqlite3.Row
            found.execute("PRAGMA journal_mode=WAL")
            found.execute("PRAGMA foreign_keys=ON")
            found.execute(f"PRAGMA cache_size=-{PAGES_KIB}")
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
            connection.execute("COMMIT")
        except BaseException:
            # a full disk may have ended the transaction already
            if connection.in_transaction:
                connection.execute("ROLLBACK")
            raise

    def _migrate(self) -> None:
        scripts = sorted(
            (f for f in files("dovejoint.store").joinpath("sql").iterdir() if f.name[:3].isdigit()),
            key=lambda f: f.name,
        )
        connection = self.connection()
        newest = int(scripts[-1].name[:3])
        at = connection.execute("PRAGMA user_version").fetchone()[0]
        if at > newest:
            raise FileError(
                f"The data in {self.path} were written by a newer version (schema {at}; this one knows {newest}). "
                "Nothing was changed; start the newer version, or another --data folder."
            )
        for script in scripts:
            number = int(script.name[:3])
            at = connection.execute("PRAGMA user_version").fetchone()[0]
            if number > at:
                # executescript commits what is open, so the version is set within the same script
                connection.executescript(
                    f"BEGIN IMMEDIATE;\n{script.read_text()}\nPRAGMA user_version={number};\nCOMMIT;"
                )


class FolderLock:
    """Holds a data folder for one server. Raises FileError when another one has it."""

    def __init__(self, folder: Path) -> None:
        try:
            folder.mkdir(parents=True, exist_ok=True)
            self._file = (folder / "in-use").open("a+")
        except OSError as error:
            raise FileError(
                f"The folder {folder} cannot be written ({error.strerror}); choose another with --data."
            ) from None
        try:
            _lock(self._file)
        except OSError:
            self._file.close()
            raise FileError(
                f"Another server works in {folder} already; stop it first, or choose another folder with --data."
            ) from None

    def release(self) -> None:
        self._file.close()


def _lock(file: IO[str]) -> None:
    try:
        import fcntl
    except ImportError:
        import msvcrt  # Windows

        msvcrt.locking(file.fileno(), msvcrt.LK_NBLCK, 1)  # type: ignore[attr-defined]
        return
    fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
