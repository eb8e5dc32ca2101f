"""The built front end: hashed assets for a year, the page itself always fresh, compressed copies where accepted."""

from __future__ import annotations

from pathlib import Path

from flask import Blueprint, Response, request, send_from_directory
from werkzeug.exceptions import NotFound

from .problems import problem

__all__ = ["pages"]

_TYPES = {".js": "text/javascript", ".css": "text/css", ".woff2": "font/woff2", ".svg": "image/svg+xml"}


def pages(folder: Path) -> Blueprint:
    """Serve ``folder`` (frontend/dist); unknown paths without a dot are pages of the application."""
    folder = folder.resolve()
    blueprint = Blueprint("pages", __name__)

    @blueprint.get("/", defaults={"path": ""})
    @blueprint.get("/<path:path>")
    def page(path: str) -> Response:
        if path.startswith("api/"):
            return problem(404, "Not found", "There is nothing at this address.")
        if not (folder / "index.html").exists():
            return problem(503, "Not built", "The interface is not built yet; start with ./dove serve.")
        if "." not in path:
            response = send_from_directory(folder, "index.html", mimetype="text/html")
            response.headers["Cache-Control"] = "no-cache"
            return response
        try:
            packed = path.startswith("assets/") and "gzip" in request.headers.get("Accept-Encoding", "")
            name = f"{path}.gz" if packed and (folder / f"{path}.gz").exists() else path
            response = send_from_directory(folder, name, mimetype=_TYPES.get(Path(path).suffix))
        except NotFound:
            return problem(404, "Not found", "There is nothing at this address.")
        if name != path:
            response.headers["Content-Encoding"] = "gzip"
        response.headers["Vary"] = "Accept-Encoding"
        lasting = path.startswith("assets/")
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable" if lasting else "no-cache"
        return response

    return blueprint
