"""Who may talk to the server: this machine's browser, by Host and Origin; from elsewhere only with the token."""

from __future__ import annotations

import hmac
from urllib.parse import urlsplit

from flask import Flask, Response, request

from .problems import problem

__all__ = ["install"]

_LOCAL = {"127.0.0.1", "localhost", "[::1]"}
CSP = (
    "default-src 'self'; script-src 'self'; style-src 'self'; img-src 'self' data: blob:; font-src 'self'; "
    "connect-src 'self'; worker-src 'self' blob:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; "
    "form-action 'self'"
)


def install(app: Flask, token: str | None) -> None:
    """``token`` is given when the server is bound beyond this machine; then each request must carry it."""

    @app.before_request
    def _check() -> Response | None:
        host = request.host
        name = host.split("]")[0] + "]" if host.startswith("[") else host.split(":")[0]
        if token is None and name not in _LOCAL:
            return problem(403, "Refused", "This server answers to this machine only.")
        origin = request.headers.get("Origin")
        if origin is not None and urlsplit(origin).netloc != host:
            return problem(403, "Refused", "Another site may not send commands to this server.")
        if token is not None and request.path.startswith("/api/"):
            given = request.headers.get("X-Access-Token") or request.cookies.get("access", "")
            if not hmac.compare_digest(given.encode(), token.encode()):
                return problem(401, "Token needed", "Open the address with ?token=… that the server printed.")
        return None

    @app.after_request
    def _headers(response: Response) -> Response:
        response.headers["Content-Security-Policy"] = CSP
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "no-referrer"
        given = request.args.get("token", "")
        if token is not None and request.method == "GET" and hmac.compare_digest(given.encode(), token.encode()):
            response.set_cookie("access", token, httponly=True, samesite="Strict")
        return response
