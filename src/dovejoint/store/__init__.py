"""SQLite: projects with their journal, and the cache of evaluations. Plain SQL, small repositories."""

from .cache import ResultStore
from .database import Database
from .projects import Committed, ProjectStore, Summary

__all__ = ["Committed", "Database", "ProjectStore", "ResultStore", "Summary"]
