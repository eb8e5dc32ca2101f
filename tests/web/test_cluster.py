"""Long work on a cluster of two processes: the same answers as at home, also when one of them dies."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from dovejoint.core.errors import DoveError
from dovejoint.engine import Engine, KillableExecutor, Pool, cluster_executor, jobs
from dovejoint.sample import make_feeder
from dovejoint.store import ResultStore

distributed = pytest.importorskip("distributed")


@pytest.fixture(scope="module")
def cluster() -> Iterator[Any]:
    made = distributed.LocalCluster(n_workers=2, threads_per_worker=1, processes=True, dashboard_address=None)
    yield made
    made.close(timeout=5)


def measured(engine: Engine, id: str = "p") -> dict[str, Any]:
    project = make_feeder()
    engine.request(id, 0, project)
    end = time.monotonic() + 90
    while time.monotonic() < end:
        report = json.loads(engine.evaluation(id, 0, project))
        if report["measured"]:
            return report
        time.sleep(0.1)
    raise AssertionError("it was never measured")


@pytest.fixture(scope="module")
def at_home(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Any]:
    engine = Engine(Pool(KillableExecutor), ResultStore(tmp_path_factory.mktemp("home") / "cache.db"))
    try:
        return measured(engine)
    finally:
        engine.close()


def test_a_cluster_measures_what_the_machine_itself_does(cluster: Any, at_home: dict[str, Any], tmp_path: Path) -> None:
    pool = Pool(KillableExecutor, heavy=cluster_executor(cluster.scheduler_address))
    engine = Engine(pool, ResultStore(tmp_path / "cache.db"))
    try:
        away = measured(engine)
        assert away["joints"] == at_home["joints"]
        assert away["checks"] == at_home["checks"]
        printed = json.loads(engine.heavy(make_feeder(), jobs.print_job, []))
        assert {p["name"] for p in printed["parts"]} == {"Hopper", "Floor"}
    finally:
        engine.close()


@pytest.mark.skipif(not hasattr(signal, "SIGKILL"), reason="processes are killed another way there")
def test_a_worker_of_the_cluster_may_die(cluster: Any, at_home: dict[str, Any], tmp_path: Path) -> None:
    pool = Pool(KillableExecutor, heavy=cluster_executor(cluster.scheduler_address))
    engine = Engine(pool, ResultStore(tmp_path / "cache.db"))
    try:
        os.kill(next(iter(cluster.workers.values())).pid, signal.SIGKILL)
        assert measured(engine)["joints"] == at_home["joints"]
    finally:
        engine.close()


def test_a_cluster_that_is_not_there_is_told() -> None:
    with pytest.raises(DoveError, match="No cluster answers"):
        cluster_executor("tcp://127.0.0.1:9", wait_s=0.5)
    with pytest.raises(DoveError, match="No cluster answers"):
        cluster_executor("nonsense://", wait_s=0.5)
    words = [sys.executable, "-m", "dovejoint.cli", "serve", "--port", "0", "--cluster", "tcp://127.0.0.1:9"]
    done = subprocess.run(words, capture_output=True, text=True, timeout=60)
    assert done.returncode != 0
    assert "No cluster answers" in done.stderr and "Traceback" not in done.stderr
