"""Fixtures of the core's tests."""

from __future__ import annotations

import os

import pytest
from building import Bench, Feeder
from hypothesis import settings

from dovejoint.core.document import new_project

# the same examples in every run; DOVE_DICE=1 throws new ones, to look for what nobody thought of
settings.register_profile("steady", derandomize=True)
settings.register_profile("dice", max_examples=400)
settings.load_profile("dice" if os.environ.get("DOVE_DICE") else "steady")


@pytest.fixture
def bench() -> Bench:
    return Bench(new_project("Test"))


@pytest.fixture
def feeder() -> Feeder:
    return Feeder()
