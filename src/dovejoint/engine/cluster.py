"""Long work on an existing dask cluster instead of this machine's helpers (docs/scaling.md). An optional extra: ``distributed``."""

from __future__ import annotations

from concurrent.futures import Executor

from ..core.errors import DoveError

__all__ = ["cluster_executor"]


def cluster_executor(address: str, wait_s: float = 8.0) -> Executor:
    """An executor that sends jobs to the cluster whose scheduler is at ``address`` (``tcp://host:8786``).

    The workers need this package, in the same version, and nothing else of ours: jobs carry their documents and solids.

    Raises
    ------
    DoveError : the extra is not installed, or no scheduler answers.
    """
    try:
        from distributed import Client
    except ImportError:
        raise DoveError("A cluster needs the extra “cluster”: pip install 'dovejoint[cluster]'.") from None
    try:
        client = Client(address, timeout=wait_s, set_as_default=False)
    except (OSError, TimeoutError, ValueError) as error:
        raise DoveError(f"No cluster answers at {address}: {error}.") from None
    executor: Executor = client.get_executor(pure=False)
    return executor
