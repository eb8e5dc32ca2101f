"""The application factory."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from flask import Flask, Response, jsonify

from ..core import joints as _joints  # registers the joints
from ..core import steps as _steps  # registers the steps
from ..core.document.file import LARGEST_FILE_BYTES
from ..engine import Engine, KillableExecutor
from ..store import Database, ProjectStore, ResultStore
from . import guard, problems
from .events import EventHub
from .openapi import describe
from .pages import pages
from .projects import projects

__all__ = ["Config", "create_app"]

_ = (_joints, _steps)


@dataclass(frozen=True)
class Config:
    """``data`` is the folder of the databases, ``dist`` the built interface.

    ``token`` is needed when the server is bound beyond this machine. ``step_limit_s`` is the longest time that one
    step of a recipe may take.
    """

    data: Path
    dist: Path
    token: str | None = None
    step_limit_s: float = 30.0


def create_app(config: Config) -> Flask:
    """Put store, engine and routes together. ``app.extensions["dovejoint"]`` holds the engine and the store."""
    app = Flask("dovejoint", static_folder=None)
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_FILE_BYTES
    app.json.sort_keys = False  # type: ignore[attr-defined]
    store = ProjectStore(Database(config.data / "projects.db"))
    results = ResultStore(Database(config.data / "cache.db", durable=False, script="cache.sql"))
    hub = EventHub()
    executor = KillableExecutor(limit_s=config.step_limit_s)
    engine = Engine(executor, results, hub.send)
    executor.warm()
    app.extensions["dovejoint"] = {"engine": engine, "store": store, "hub": hub, "executor": executor}
    problems.install(app)
    guard.install(app, config.token)
    app.register_blueprint(projects(store, engine, hub))

    @app.get("/api/openapi.json")
    def openapi() -> Response:
        return jsonify(describe())

    app.register_blueprint(pages(config.dist))
    return app
