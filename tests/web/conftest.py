"""A running application for the API's tests."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from serving import Client

from dovejoint.web import Config, create_app


@pytest.fixture(scope="module")
def app(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Any]:
    folder = tmp_path_factory.mktemp("app")
    made = create_app(
        Config(folder / "data", Path(__file__).parents[2] / "frontend" / "dist", least_print_s=0.05, hurry=1e6)
    )
    yield made
    made.extensions["dovejoint"]["engine"].close()


@pytest.fixture
def client(app: Any) -> Client:
    return Client(app.test_client())
