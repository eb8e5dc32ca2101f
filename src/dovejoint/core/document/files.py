"""Files that belong to a project: parts brought in from elsewhere. The document speaks of them by the hash of their contents.

Within the application they travel packed (zlib, then base64) under ``files``; where documents are kept, each is kept once; a project file
holds them as they came (bundle.py).
"""

from __future__ import annotations

import base64
import binascii
import hashlib
import zlib
from collections.abc import Callable

from ..errors import FileError
from ..quantities.markers import FileMark
from .compiled import compiled
from .model import Project

__all__ = [
    "LARGEST_BROUGHT_BYTES",
    "checked_files",
    "files_of",
    "hash_of",
    "pack",
    "unpack",
    "with_files",
    "without_files",
]

#: the largest file that can be brought in
LARGEST_BROUGHT_BYTES = 8 * 1024 * 1024


def hash_of(data: bytes) -> str:
    """What a file goes by: the beginning of its SHA-256."""
    return hashlib.sha256(data).hexdigest()[:32]


def pack(data: bytes) -> str:
    """A file as text."""
    return base64.b64encode(zlib.compress(data, 9)).decode()


def unpack(text: str) -> bytes:
    """What :func:`pack` packed. Raises FileError for what it did not, or what is larger than a file may be."""
    try:
        reader = zlib.decompressobj()
        data = reader.decompress(base64.b64decode(text, validate=True), LARGEST_BROUGHT_BYTES + 1)
    except (binascii.Error, zlib.error, ValueError):
        raise FileError("A file within the project file is damaged.") from None
    if len(data) > LARGEST_BROUGHT_BYTES or not reader.eof:
        raise FileError("A file within the project file is damaged, or larger than it may be.")
    return data


def files_of(project: Project) -> set[str]:
    """Hashes of the files that the recipe speaks of."""
    return {text for step in compiled(project) for _, mark, text in step.marks if isinstance(mark, FileMark)}


def with_files(project: Project, packed: Callable[[str], str | None]) -> Project:
    """The project with its files, as it travels. Those that are not there stay away: their steps say so."""
    wanted = sorted(files_of(project))
    if not wanted:
        return project if not project.files else project.model_copy(update={"files": {}})
    found = {hash: text for hash in wanted if (text := project.files.get(hash) or packed(hash)) is not None}
    return project.model_copy(update={"files": found})


def without_files(project: Project) -> Project:
    """The project as it is kept."""
    return project.model_copy(update={"files": {}}) if project.files else project


def checked_files(project: Project) -> None:
    """Raises FileError where a file is not what its hash says."""
    for hash, text in project.files.items():
        if hash_of(unpack(text)) != hash:
            raise FileError("A file within the project file is not the one that the project speaks of.")
