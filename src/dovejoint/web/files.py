"""Files as answers: one by itself, several in a zip."""

from __future__ import annotations

import io
import zipfile

from flask import Response

from ..core.formats import file_name

__all__ = ["download", "packed"]


def download(name: str, media: str, data: bytes) -> Response:
    response = Response(data, mimetype=media)
    response.headers.set("Content-Disposition", "attachment", filename=name)
    return response


def packed(title: str, files: list[tuple[str, str, bytes]]) -> Response:
    """``files`` are (name, media type, bytes)."""
    if len(files) == 1:
        return download(*files[0])
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, _, content in files:
            archive.writestr(name, content)
    return download(file_name("{project}", title, "", "zip"), "application/zip", out.getvalue())
