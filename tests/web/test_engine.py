"""The engine: a worker that may die or hang, the latest edit first, no work done twice."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import pytest
from serving import Client

from dovejoint.core import solid as kernel
from dovejoint.core.document import apply, command_from
from dovejoint.core.errors import StepError
from dovejoint.core.recipe import LimitStates
from dovejoint.engine import Engine, JobStopped, KillableExecutor, WorkerDied, build_apart, channel, jobs
from dovejoint.sample import make_feeder
from dovejoint.store import ResultStore


def loop_for_ever() -> None:
    while True:
        time.sleep(0.01)


def crash() -> None:
    channel.tell(("step", "s1", "key1"))
    os.kill(os.getpid(), signal.SIGKILL)


def until_stopped() -> str:
    while not channel.stopped():
        time.sleep(0.01)
    return "stopped"


def in_pieces(seconds: float) -> str:
    """Works for so long, and asks between its pieces whether it shall stop."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        time.sleep(0.1)
        channel.stopped()
    return "whole"


def double(n: int) -> int:
    return 2 * n


def refuse() -> None:
    raise ValueError("no")


@pytest.fixture
def executor() -> Iterator[KillableExecutor]:
    made = KillableExecutor(limit_s=5.0)
    yield made
    made.shutdown()


def test_jobs_run_fail_and_stop(executor: KillableExecutor) -> None:
    assert executor.submit(double, 21).result(20) == 42
    with pytest.raises(ValueError, match="no"):
        executor.submit(refuse).result(20)
    running = executor.submit(until_stopped)
    waiting = executor.submit(double, 1)
    executor.stop(waiting)
    while not running.running():
        time.sleep(0.01)
    time.sleep(0.1)
    executor.stop(running)
    assert running.result(20) == "stopped"
    assert waiting.cancelled()
    assert executor.submit(double, 4).result(20) == 8


def test_a_worker_that_dies_or_hangs_is_replaced(executor: KillableExecutor) -> None:
    heard: list[Any] = []
    with pytest.raises(WorkerDied) as died:
        executor.submit(crash, heard=heard.append).result(20)
    assert (died.value.reason, died.value.last) == ("crashed", ("step", "s1", "key1"))
    assert heard == [("step", "s1", "key1")]
    with pytest.raises(WorkerDied) as hung:
        executor.submit(loop_for_ever).result(20)
    assert hung.value.reason == "too long"
    assert executor.submit(double, 3).result(20) == 6


def engine_at(path: Path, executor: Any) -> Engine:
    return Engine(executor, ResultStore(path / "cache.db"))


def test_long_work_in_pieces_is_not_taken_for_a_hang(executor: KillableExecutor) -> None:
    executor.submit(double, 1).result(60)
    assert executor.submit(in_pieces, 2.5, limit_s=1.5).result(30) == "whole"


def test_any_executor_will_do(tmp_path: Path) -> None:
    with ThreadPoolExecutor(1) as threads:
        engine = engine_at(tmp_path, threads)
        assert '"ok": true' in engine.evaluation("p", 0, make_feeder())


def test_an_unchanged_project_costs_nothing_after_a_restart(tmp_path: Path) -> None:
    first = KillableExecutor()
    engine = engine_at(tmp_path, first)
    assert '"computed": 7' in engine.evaluation("p", 0, make_feeder())
    while '"measured": true' not in engine.evaluation("p", 0, make_feeder()):
        time.sleep(0.05)
    engine.close()

    class Refusing(KillableExecutor):
        def submit(self, fn: Any, /, *args: Any, **kwargs: Any) -> Any:
            raise AssertionError("no kernel work is needed")

    second = Refusing()
    try:
        assert '"computed": 0' in engine_at(tmp_path, second).evaluation("p", 0, make_feeder())
    finally:
        second.shutdown()


def test_a_step_that_kills_its_worker_twice_is_barred_and_the_rest_stands(tmp_path: Path, monkeypatch: Any) -> None:
    executor = KillableExecutor()
    engine = engine_at(tmp_path, executor)
    deaths = []

    real = executor.submit

    def submit(fn: Any, /, *args: Any, **kwargs: Any) -> Any:
        if fn is jobs.evaluate_job and not args[2]:
            # the worker is killed at its fourth step for as long as nothing is barred
            heard = kwargs["heard"]
            dead: list[bool] = []

            def watching(message: Any) -> None:
                # what it still said between that step and the signal does not count: it died there
                if dead:
                    return
                heard(message)
                if message[0] == "step" and message[1] == shell:
                    dead.append(True)
                    deaths.append(message[2])
                    os.kill(executor.worker_pid or 0, signal.SIGKILL)

            kwargs["heard"] = watching
        return real(fn, *args, **kwargs)

    project = make_feeder()
    shell = next(s.id for s in project.recipe if s.kind == "shell")
    monkeypatch.setattr(executor, "submit", submit)
    try:
        report = engine.evaluation("p", 0, project)
    finally:
        engine.close()
    assert len(deaths) == 2
    assert "The geometry kernel crashed on this step" in report
    assert '"name": "Hopper"' in report, "the part stands as it was before that step"


def test_killing_the_worker_costs_a_moment_and_nothing_else(client: Client, app: Any) -> None:
    state = client.feeder()
    client.get(f"/projects/{state['id']}/evaluation")
    executor = app.extensions["dovejoint"]["pool"].editor(state["id"])
    state = client.do(state, "SetValue", value=state["values"][0]["id"], formula="2.9 mm")
    while executor.worker_pid is None:
        time.sleep(0.01)
    os.kill(executor.worker_pid, signal.SIGKILL)
    report = client.get(f"/projects/{state['id']}/evaluation")
    assert report["ok"]
    assert report["values"][0]["text"] == "2.9 mm"


def test_the_latest_edit_wins(tmp_path: Path) -> None:
    executor = KillableExecutor()
    engine = engine_at(tmp_path, executor)
    engine.evaluation("p", 0, make_feeder())
    outcomes: list[str] = []
    projects = []
    project = make_feeder()
    for k in range(12):
        command = {"do": "SetValue", "value": project.values[0].id, "formula": f"{1.5 + k / 10} mm"}
        projects.append(apply(project, command_from(command)).project)

    def ask(k: int) -> None:
        try:
            engine.evaluation("p", k, projects[k])
            outcomes.append(f"done {k}")
        except JobStopped:
            outcomes.append("overtaken")

    threads = []
    for k in range(12):
        threads.append(threading.Thread(target=ask, args=(k,)))
        threads[-1].start()
        time.sleep(0.02)
    for thread in threads:
        thread.join(30)
    engine.close()
    assert "done 11" in outcomes
    assert outcomes.count("overtaken") >= 6, "those in between were not all worked out"


def test_warming_up_succeeds() -> None:
    from dovejoint.engine import jobs

    jobs.load()


def test_a_job_is_interrupted_in_the_middle(executor: KillableExecutor) -> None:
    hopeless = executor.submit(loop_for_ever)
    waiting = executor.submit(double, 5)
    while not hopeless.running():
        time.sleep(0.01)
    time.sleep(0.2)
    start = time.monotonic()
    executor.interrupt(hopeless)
    with pytest.raises(WorkerDied):
        hopeless.result(20)
    assert time.monotonic() - start < 2, "it does not wait for the time limit"
    assert waiting.result(20) == 10, "the next job finds a new worker"


def test_halting_stops_retrying_and_the_next_request_is_made(tmp_path: Path, monkeypatch: Any) -> None:
    executor = KillableExecutor()
    engine = engine_at(tmp_path, executor)
    told: list[tuple[str, Any]] = []
    engine.notify = lambda project, event, data: told.append((event, data))
    real, started = executor.submit, threading.Event()

    def submit(fn: Any, /, *args: Any, **kwargs: Any) -> Any:
        if fn is jobs.evaluate_job and not started.is_set():
            started.set()
            return real(loop_for_ever)
        return real(fn, *args, **kwargs)

    monkeypatch.setattr(executor, "submit", submit)
    try:
        engine.request("p", 1, make_feeder())
        started.wait(10)
        time.sleep(0.3)
        engine.halt("p")
        deadline = time.monotonic() + 10
        while not any(data.get("state") == "stopped" for _, data in told):
            assert time.monotonic() < deadline
            time.sleep(0.02)
        assert '"ok": true' in engine.evaluation("p", 1, make_feeder()), "asking for it starts again"
    finally:
        engine.close()


def test_asking_twice_works_once(tmp_path: Path, monkeypatch: Any) -> None:
    executor = KillableExecutor()
    engine = engine_at(tmp_path, executor)
    real, launched = executor.submit, []

    def submit(fn: Any, /, *args: Any, **kwargs: Any) -> Any:
        if fn in (jobs.evaluate_job, jobs.measured_job):
            launched.append(fn.__name__)
        return real(fn, *args, **kwargs)

    monkeypatch.setattr(executor, "submit", submit)
    told: list[Any] = []
    engine.notify = lambda project, event, data: told.append(event)
    try:
        project = make_feeder()
        engine.request("p", 1, project)
        with ThreadPoolExecutor(4) as windows:
            answers = list(windows.map(lambda _: engine.evaluation("p", 1, project), range(4)))
        assert all('"ok": true' in a for a in answers)
        while '"measured": true' not in engine.evaluation("p", 1, project):
            time.sleep(0.02)
        assert launched == ["evaluate_job", "measured_job"], "one evaluation and one measuring, however many ask"
        # what is measured is kept first and told then: wait for the telling, and a little for one too many
        deadline = time.monotonic() + 10
        while told.count("evaluation") < 3 and time.monotonic() < deadline:
            time.sleep(0.02)
        time.sleep(0.2)
        assert told.count("evaluation") == 3, "and windows are told once of each stage: shown, made, measured"
    finally:
        engine.close()


def test_what_other_programs_made_is_not_reused(tmp_path: Path, monkeypatch: Any) -> None:
    executor = KillableExecutor()
    try:
        before = engine_at(tmp_path, executor).key(make_feeder(), None, True)
        assert engine_at(tmp_path, executor).key(make_feeder(), None, True) == before
        monkeypatch.setattr("dovejoint.engine.service._programs", lambda: "another")
        assert engine_at(tmp_path, executor).key(make_feeder(), None, True) != before
    finally:
        executor.shutdown()


@pytest.mark.skipif(sys.platform != "linux", reason="the worker is a copy of this process there only")
def test_what_cannot_be_turned_into_triangles_fails_at_its_step_and_the_rest_is_shown(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    """Found by the soak: a solid that the kernel calls sound, and a face of it that no triangles could be made of."""
    project = make_feeder()
    rounding = next(s for s in project.recipe if s.kind == "fillet")
    value = next(v for v in project.values if v.name == "wall")
    project = apply(project, command_from({"do": "SetValue", "value": value.id, "formula": "1.877 mm"})).project
    whole = kernel.tessellate

    def failing(solid: kernel.NamedSolid, *more: Any) -> kernel.Mesh:
        if any(name.startswith(f"{rounding.id}/") for names in solid.names for name in names):
            raise StepError("A face of the part could not be turned into triangles.")
        return whole(solid, *more)

    monkeypatch.setattr(kernel, "tessellate", failing)
    report, _, _, _ = jobs.evaluate_job(project.model_dump_json(), None, {}, [], "made")
    told = json.loads(report)
    steps = {s["id"]: s for s in told["steps"]}
    assert steps[rounding.id]["state"] == "failed" and "triangles" in steps[rounding.id]["message"]
    assert not told["ok"] and told["parts"] and all(p["mesh"] for p in told["parts"])


def test_on_the_command_line_a_step_over_its_limit_fails_alone(monkeypatch: pytest.MonkeyPatch) -> None:
    real = kernel.shell

    def endless(*words: Any, **more: Any) -> Any:
        time.sleep(60)
        return real(*words, **more)

    project = make_feeder()
    monkeypatch.setattr(kernel, "shell", endless)
    report = build_apart(project, LimitStates(), 3.0)
    states = {s["kind"]: s["state"] for s in report["steps"]}
    assert (states["fillet"], states["shell"]) == ("ok", "failed")
    assert "took too long" in next(s["message"] for s in report["steps"] if s["kind"] == "shell")
    assert {p["name"] for p in report["parts"]} >= {"Hopper"}


@pytest.mark.skipif(sys.platform != "linux", reason="the worker is a copy of this process there only")
def test_on_the_command_line_a_step_that_brings_the_kernel_down_fails_alone(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(kernel, "shell", lambda *words, **more: os._exit(139))
    report = build_apart(make_feeder(), LimitStates(), 30.0)
    assert "crashed" in next(s["message"] for s in report["steps"] if s["kind"] == "shell")


def test_what_was_answered_and_who_was_removed_is_not_held_on_to(client: Client) -> None:
    """Answers hold meshes and solids: once given they belong to the caches, which are bounded; a removed project leaves nothing behind."""
    engine: Engine = client.http.application.extensions["dovejoint"]["engine"]
    state = client.post("/projects", {"sample": "feeder"})
    id = state["id"]
    client.get(f"/projects/{id}/evaluation")
    client.get(f"/projects/{id}/coupons/gaps")
    lines = {key: line for key, line in engine._lines.items() if id in key}
    assert set(lines) == {id, f"coupon {id}"}
    deadline = time.monotonic() + 30
    while any(line.running for line in lines.values()):
        assert time.monotonic() < deadline
        time.sleep(0.05)
    client.delete(f"/projects/{id}")
    assert not any(id in key for key in engine._lines)


#: threads that keep and drop blocks as a server does: prints how much more the process holds, as a share of what is kept
FILLED = """
import os, random, threading
import psutil
from dovejoint.engine import settle
from dovejoint.engine.service import _Shared
settle()
kept = _Shared(80_000_000, len)
before = psutil.Process().memory_info().rss
def work(seed):
    dice = random.Random(seed)
    for k in range(500):
        kept.put(f"{seed} {k}", os.urandom(int(dice.lognormvariate(11.3, 1.0))))
        [bytes(int(dice.lognormvariate(9, 1.5))) for _ in range(10)]
threads = [threading.Thread(target=work, args=(i,)) for i in range(16)]
[t.start() for t in threads]
[t.join() for t in threads]
print((psutil.Process().memory_info().rss - before) / kept.bytes)
"""


@pytest.mark.skipif(sys.platform != "linux", reason="glibc's heaps")
def test_a_server_holds_little_beside_what_it_keeps() -> None:
    """One heap for each thread would hold twice as much, and more by the hour."""
    answer = subprocess.run([sys.executable, "-c", FILLED], capture_output=True, text=True, check=True, timeout=120)
    assert float(answer.stdout) < 1.4
