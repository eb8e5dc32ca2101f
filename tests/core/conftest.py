"""Fixtures of the core's tests."""

from __future__ import annotations

import pytest
from building import Bench, Feeder

from dovejoint.core.document import new_project


@pytest.fixture
def bench() -> Bench:
    return Bench(new_project("Test"))


@pytest.fixture
def feeder() -> Feeder:
    return Feeder()
