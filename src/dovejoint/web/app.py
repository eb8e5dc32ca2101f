"""The application factory."""

from __future__ import annotations

from concurrent.futures import Executor
from dataclasses import dataclass
from pathlib import Path

from flask import Flask, Response, jsonify

from ..core import joints as _joints  # registers the joints
from ..core import steps as _steps  # registers the steps
from ..core.document.file import LARGEST_FILE_BYTES
from ..engine import Engine, KillableExecutor, Pool
from ..simulator import Workshop
from ..store import Database, FolderLock, ProjectStore, ResultStore, WorkshopStore
from . import guard, problems
from .events import EventHub
from .openapi import describe
from .pages import pages
from .projects import projects, recorder
from .workshop import workshop

__all__ = ["Config", "create_app"]

_ = (_joints, _steps)


@dataclass(frozen=True)
class Config:
    """``data`` is the folder of the databases, ``dist`` the built interface.

    ``token`` is needed when the server is bound beyond this machine. ``step_limit_s`` is the longest time that one
    step of a recipe may take. ``editors``, ``helpers`` and ``heavy`` say how many workers there are (engine/pool.py). The simulated printer is ``hurry`` times faster than a real one, but takes ``least_print_s``.
    """

    data: Path
    dist: Path
    token: str | None = None
    step_limit_s: float = 30.0
    hurry: float = 1200.0
    least_print_s: float = 1.5
    editors: int | None = None
    helpers: int | None = None
    heavy: Executor | None = None


def create_app(config: Config) -> Flask:
    """Put store, engine and routes together. ``app.extensions["dovejoint"]`` holds the engine and the store."""
    app = Flask("dovejoint", static_folder=None)
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_FILE_BYTES
    app.json.sort_keys = False  # type: ignore[attr-defined]
    lock = FolderLock(config.data)
    database = Database(config.data / "projects.db")
    store, measured = ProjectStore(database), WorkshopStore(database)
    measured.interrupted()
    devices = Workshop(config.data / "simulator.db", config.hurry, config.least_print_s)
    results = ResultStore(config.data / "cache.db")
    hub = EventHub()
    pool = Pool(lambda: KillableExecutor(limit_s=config.step_limit_s), config.editors, config.helpers, config.heavy)
    engine = Engine(pool, results, hub.send, store.file)
    pool.warm()
    app.extensions["dovejoint"] = {
        "engine": engine,
        "store": store,
        "hub": hub,
        "devices": devices,
        "workshop": measured,
        "pool": pool,
        "lock": lock,
    }
    problems.install(app)
    guard.install(app, config.token)
    recorded = recorder(engine, hub)
    app.register_blueprint(projects(store, engine, hub, recorded))
    app.register_blueprint(workshop(store, measured, engine, hub, devices, recorded))

    @app.get("/api/openapi.json")
    def openapi() -> Response:
        return jsonify(describe())

    app.register_blueprint(pages(config.dist))
    return app
