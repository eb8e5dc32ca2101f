"""Errors as RFC 9457 problem details, in one place."""

from __future__ import annotations

import logging
import sqlite3
from concurrent.futures import TimeoutError as JobTimeout

from flask import Flask, Response, json, request
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge

from ..core.errors import ClashError, DoveError, FileError
from ..engine import JobStopped, WorkerDied

__all__ = ["install"]

_log = logging.getLogger(__name__)


def problem(status: int, title: str, detail: str, **more: object) -> Response:
    body = {"type": "about:blank", "title": title, "status": status, "detail": detail, **more}
    return Response(json.dumps(body), status, mimetype="application/problem+json")


def install(app: Flask) -> None:
    """Turn every error into a sentence."""

    @app.errorhandler(ClashError)
    def _clash(error: ClashError) -> Response:
        return problem(409, "Changed elsewhere", error.message, changes=error.changes)

    @app.errorhandler(DoveError)
    def _refused(error: DoveError) -> Response:
        missing = error.message == "There is no such project."
        status = 404 if missing else 400 if isinstance(error, FileError) else 422
        return problem(status, "Refused", error.message, field=error.field or "", things=error.things)

    @app.errorhandler(ValidationError)
    def _shape(error: ValidationError) -> Response:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"]) or "the request"
        return problem(400, "Bad request", f"“{where}” is not right: {first['msg'].lower()}.")

    @app.errorhandler(JobStopped)
    def _overtaken(error: JobStopped) -> Response:
        return problem(409, "Overtaken", "A newer edit has overtaken this one.")

    @app.errorhandler(WorkerDied)
    def _died(error: WorkerDied) -> Response:
        return problem(503, "Try again", "The geometry worker stopped and is being replaced; try again.")

    @app.errorhandler(JobTimeout)
    def _slow(error: JobTimeout) -> Response:
        return problem(503, "Still at work", "This takes longer than expected; it goes on in the background.")

    @app.errorhandler(sqlite3.Error)
    def _disk(error: sqlite3.Error) -> Response:
        _log.error("the database failed at %s", request.path, exc_info=error)
        text = str(error)
        if "full" in text:
            return problem(
                507,
                "Disk full",
                "The disk is full, so this was not kept; make room and do it again. What was kept before is safe.",
            )
        if "readonly" in text or "unable to open" in text:
            return problem(
                507,
                "Not writable",
                "The data folder cannot be written, so this was not kept; what was kept before is safe.",
            )
        if "locked" in text or "busy" in text:
            return problem(
                503, "Busy", "The data are being used by another program; this was not kept, do it again in a moment."
            )
        return problem(
            500,
            "Damaged",
            "The data file is damaged; this was not kept, and nothing was written over. Bring in a saved project file.",
        )

    @app.errorhandler(OverflowError)
    def _huge(error: OverflowError) -> Response:
        return problem(400, "Bad request", "A figure in the request is larger than anything here can be.")

    @app.errorhandler(RecursionError)
    def _deep(error: RecursionError) -> Response:
        return problem(400, "Bad request", "The request is nested too deeply.")

    @app.errorhandler(RequestEntityTooLarge)
    def _large(error: RequestEntityTooLarge) -> Response:
        most = request.max_content_length or 0
        return problem(413, "Too large", f"The file is larger than {most // 1024 // 1024} MB.")

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Response:
        what = "There is nothing at this address." if error.code == 404 else (error.description or error.name)
        return problem(error.code or 500, error.name, what)

    @app.errorhandler(Exception)
    def _bug(error: Exception) -> Response:
        _log.error("unexpected error at %s", request.path, exc_info=error)
        return problem(500, "Our mistake", "Something went wrong on our side; what you entered before is kept.")
