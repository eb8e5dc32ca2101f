"""Parts made beside each other in copies of a worker: the same as one after another, and nothing lost when a copy dies."""

from __future__ import annotations

import os
import signal
import sys
from collections.abc import Iterator
from typing import Any

import pytest

from dovejoint.core.document import Project
from dovejoint.core.recipe import ResultCache, evaluate
from dovejoint.engine import KillableExecutor, parallel
from dovejoint.sample import SAMPLES, make_outlines

pytestmark = pytest.mark.skipif(sys.platform != "linux", reason="only there a process can be copied")


def told(project: Project, cache: ResultCache) -> dict[str, Any]:
    """What can be compared of an evaluation."""
    made = evaluate(project, cache)
    return {
        "steps": [(r.id, r.state, r.key, r.message) for r in made.steps],
        "volumes": {id: state.solid.volume_mm3 for id, state in made.parts.items()},
        "names": {id: sorted(state.solid.names) for id, state in made.parts.items()},
        "joints": {id: out.joint for id, out in made.made.items() if out.joint},
    }


def both_ways(sample: str, die: bool = False) -> dict[str, Any]:
    """In a worker: how many results came from copies, how many were made after that, and both evaluations."""
    project = SAMPLES[sample].make()
    parallel.LEAST_S = 0.01
    cache = ResultCache()
    if die:
        parent, whole = os.getpid(), parallel.evaluate

        def deadly(*args: Any, **more: Any) -> Any:
            if os.getpid() != parent:
                os.kill(os.getpid(), signal.SIGKILL)
            return whole(*args, **more)

        parallel.evaluate = deadly
    came = parallel.make_in_parallel(project, cache, lambda: False, lambda step, key: None, cores=3)
    before = cache.computed
    ours = told(project, cache)
    return {"came": came, "after": cache.computed - before, "ours": ours, "alone": told(project, ResultCache())}


@pytest.fixture
def worker() -> Iterator[KillableExecutor]:
    made = KillableExecutor(limit_s=60.0)
    yield made
    made.shutdown()


def test_beside_each_other_is_the_same_as_one_after_another(worker: KillableExecutor) -> None:
    found = worker.submit(both_ways, "outlines").result(120)
    assert found["ours"] == found["alone"]
    assert found["came"] > 5 and found["after"] == 0, "everything was there already"


def test_what_belongs_together_is_not_divided(worker: KillableExecutor) -> None:
    found = worker.submit(both_ways, "feeder").result(120)
    assert found["came"] == 0 and found["ours"] == found["alone"]


def test_what_a_copy_did_not_do_is_done_after_it(worker: KillableExecutor) -> None:
    found = worker.submit(both_ways, "outlines", True).result(120)
    assert found["came"] == 0 and found["after"] > 5
    assert found["ours"] == found["alone"]


def test_what_has_to_do_with_each_other_stays_together() -> None:
    project = make_outlines()
    every = parallel.groups(project)
    assert sorted(s for group in every for s in group) == sorted(s.id for s in project.recipe)
    assert len(every) > 2
    feeder = SAMPLES["feeder"].make()
    lip = next(s.id for s in feeder.recipe if s.kind == "plug_in_lip")
    (group,) = (g for g in parallel.groups(feeder) if lip in g)
    assert {s.id for s in feeder.recipe if s.kind == "shell"} <= group, "the lid needs its host"


def test_nothing_is_made_to_find_what_is_missing() -> None:
    project, cache = make_outlines(), ResultCache()
    every = parallel.missing(project, cache)
    assert cache.computed == 0 and len(every) == len(project.recipe)
    evaluate(project, cache)
    assert parallel.missing(project, cache) == []
