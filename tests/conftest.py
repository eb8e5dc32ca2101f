"""In which order files of tests are run."""

from __future__ import annotations

from itertools import groupby

import pytest


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Files that drive a browser, and wait for it, spread among those that compute: of two that run at once one takes what the other leaves idle."""
    files = [list(tests) for _, tests in groupby(items, lambda item: item.path)]
    driven = [tests for tests in files if "browser" in tests[0].path.parts]
    # those of the server first: they are longer than the core's, and what is long at the end is waited for by one process alone
    others = [tests for tests in files if "browser" not in tests[0].path.parts][::-1]
    driven.sort(key=len, reverse=True)
    placed = sorted([((k + 0.5) / len(kind), tests) for kind in (driven, others) for k, tests in enumerate(kind)], key=lambda one: one[0])  # fmt: skip
    items[:] = [test for _, tests in placed for test in tests]
