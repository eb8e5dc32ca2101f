"""What comes with a request."""

from __future__ import annotations

from typing import Any

from flask import request

from ..core.errors import CommandError

__all__ = ["body"]


def body() -> Any:
    """The JSON object that the request carries. Raises CommandError when it is none."""
    try:
        data = request.get_json(silent=True)
    except RecursionError:
        raise CommandError("The request is nested too deeply.") from None
    if not isinstance(data, dict):
        raise CommandError("The request is not JSON.")
    return data
