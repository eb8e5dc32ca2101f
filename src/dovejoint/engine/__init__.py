"""The evaluation service: a worker process that may die, a result cache, jobs whose latest request wins."""

from .executor import JobStopped, KillableExecutor, WorkerDied
from .service import Engine

__all__ = ["Engine", "JobStopped", "KillableExecutor", "WorkerDied"]
