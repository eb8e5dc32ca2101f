"""SQLite: projects with their journal, and the cache of evaluations. Plain SQL, small repositories."""

from .cache import ResultStore
from .database import Database, FolderLock
from .projects import Committed, ProjectStore, Summary
from .workshop import ReadingRow, Revision, Trial, VerdictRow, WorkshopStore

__all__ = [
    "Committed", "Database", "FolderLock", "ProjectStore", "ReadingRow", "ResultStore", "Revision", "Summary", "Trial", "VerdictRow",
    "WorkshopStore",
]  # fmt: skip
