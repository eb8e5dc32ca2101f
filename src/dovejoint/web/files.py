"""Files as answers: one by itself, several in a zip."""

from __future__ import annotations

import io
import unicodedata
import zipfile
from urllib.parse import quote

from flask import Response

from ..core.formats import file_name

__all__ = ["disposition", "download", "packed"]


def disposition(name: str) -> str:
    """The Content-Disposition of a file to be saved (RFC 6266): its name in full (RFC 5987), and one in ASCII for what cannot read that."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode()
    plain = "".join("_" if sign in '"\\;%' or ord(sign) < 32 else sign for sign in plain).strip()
    if not plain.rpartition(".")[0]:
        plain = f"dove-joint{plain}"
    return f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name, safe='')}"


def download(name: str, media: str, data: bytes) -> Response:
    response = Response(data, mimetype=media)
    response.headers["Content-Disposition"] = disposition(name)
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
