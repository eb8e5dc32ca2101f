"""The project file as it travels: its JSON by itself, or, where parts were brought in, a zip of that JSON and their files.

The zip holds ``project.json`` and each brought-in file as it came, as ``files/<hash>``. What a file goes by is worked out from its contents when it
is read, so that its name in the zip means nothing. JSON that carries its files packed within itself is read too: files were written so before.
"""

from __future__ import annotations

import io
import zipfile
import zlib
from dataclasses import dataclass

from ..errors import FileError
from .file import dump, load
from .files import LARGEST_BROUGHT_BYTES, files_of, hash_of, pack, unpack, without_files
from .model import Project

__all__ = ["LARGEST_BUNDLE_BYTES", "Bundle", "bundled", "unbundled"]

#: the largest zip that is read, and how much may be in it
LARGEST_BUNDLE_BYTES = 32 * 1024 * 1024
_LARGEST_WITHIN_BYTES = 2 * LARGEST_BUNDLE_BYTES
_MOST_ENTRIES = 200
_RECIPE = "project.json"
#: the same contents give the same bytes
_MOMENT = (2000, 1, 1, 0, 0, 0)


@dataclass(frozen=True)
class Bundle:
    """What is written, and how its name ends."""

    data: bytes
    ending: str
    media: str


def bundled(project: Project) -> Bundle:
    """The project, with the files that it carries, as a file. Raises FileError for one that is damaged."""
    if not project.files:
        return Bundle(dump(project).encode(), "dove.json", "application/json")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        held = {f"files/{hash}": unpack(text) for hash, text in sorted(project.files.items())}
        for name, data in {_RECIPE: dump(without_files(project)).encode(), **held}.items():
            entry = zipfile.ZipInfo(name, _MOMENT)
            entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, data)
    return Bundle(out.getvalue(), "dove.zip", "application/zip")


def unbundled(data: bytes) -> Project:
    """A project from what :func:`bundled` wrote. Raises FileError for what is too large, damaged, or something else."""
    if not data.startswith(b"PK"):
        return load(data)
    if len(data) > LARGEST_BUNDLE_BYTES:
        raise FileError(f"The project file is larger than {LARGEST_BUNDLE_BYTES // 1024 // 1024} MB.")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = {e.filename: e for e in archive.infolist() if not e.is_dir()}
            if _RECIPE not in entries:
                raise FileError("This zip is not a Dove Joint project: there is no project.json in it.")
            # what it says of its sizes is not believed when it is read, but refused at once when it says too much
            if len(entries) > _MOST_ENTRIES or sum(e.file_size for e in entries.values()) > _LARGEST_WITHIN_BYTES:
                raise FileError("The project file unpacks to more than a project can have.")
            project = load(_content(archive, entries.pop(_RECIPE)))
            wanted = files_of(project) - set(project.files)
            found = {}
            for name, entry in entries.items():
                if name.startswith("files/") and wanted:
                    content = _content(archive, entry)
                    if (hash := hash_of(content)) in wanted:
                        found[hash] = pack(content)
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError, ValueError, OSError):
        # RuntimeError: it wants a password
        raise FileError("The project file is damaged: it cannot be unpacked.") from None
    return project.model_copy(update={"files": {**project.files, **found}}) if found else project


def _content(archive: zipfile.ZipFile, entry: zipfile.ZipInfo) -> bytes:
    with archive.open(entry) as stream:
        content = stream.read(LARGEST_BROUGHT_BYTES + 1)
    if len(content) > LARGEST_BROUGHT_BYTES:
        raise FileError("The project file unpacks to more than a project can have.")
    return content
