"""The evaluation service: worker processes that may die, a result cache, jobs whose latest request wins."""

from .apart import build_apart
from .cluster import cluster_executor
from .executor import JobStopped, KillableExecutor, WorkerDied
from .memory import settle
from .pool import Pool
from .service import Engine

__all__ = [
    "Engine",
    "JobStopped",
    "KillableExecutor",
    "Pool",
    "WorkerDied",
    "build_apart",
    "cluster_executor",
    "settle",
]
