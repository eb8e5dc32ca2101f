"""Evaluations and meshes that were made before, by content: an unchanged project opens without kernel work."""

from __future__ import annotations

from .database import Database

__all__ = ["ResultStore"]

_MOST_EVALUATIONS = 400


class ResultStore:
    """Reports by key and mesh blobs by hash. Everything in it can be made again."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def report(self, key: str) -> str | None:
        row = self.database.connection().execute("SELECT report FROM evaluation WHERE key = ?", (key,)).fetchone()
        return None if row is None else str(row["report"])

    def keep(self, key: str, report: str, meshes: dict[str, bytes]) -> None:
        """Keep a report with the meshes that it names; the oldest reports go when there are many."""
        with self.database.transaction() as connection:
            connection.executemany("INSERT OR IGNORE INTO mesh VALUES (?, ?)", list(meshes.items()))
            connection.execute(
                "INSERT OR REPLACE INTO evaluation VALUES (?, ?, (SELECT ifnull(max(used), 0) + 1 FROM evaluation))",
                (key, report),
            )
            connection.execute(
                "DELETE FROM evaluation WHERE used < (SELECT max(used) FROM evaluation) - ?", (_MOST_EVALUATIONS,)
            )

    def mesh(self, hash: str) -> bytes | None:
        row = self.database.connection().execute("SELECT blob FROM mesh WHERE hash = ?", (hash,)).fetchone()
        return None if row is None else bytes(row["blob"])

    def sweep(self) -> None:
        """Drop meshes that no kept report names. Done at start, when nothing is being served."""
        with self.database.transaction() as connection:
            connection.execute(
                """DELETE FROM mesh WHERE hash NOT IN (
                       SELECT json_extract(p.value, '$.mesh') FROM evaluation e, json_each(e.report, '$.parts') p)"""
            )
