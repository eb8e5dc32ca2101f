"""What a command changed, as JSON Patches (RFC 6902) forwards and backwards, without comparing two whole documents.

A document shares with the one before it all that did not change, so it is enough to look at what is not the same object. Only
within one item that changed are two small pieces of JSON compared.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

import jsonpatch
from pydantic import BaseModel

from .model import Project

__all__ = ["Patch", "apply_patch", "patches"]

Patch = list[dict[str, Any]]


def patches(before: Project, after: Project) -> tuple[Patch, Patch]:
    """The patch that makes ``after`` of ``before``, and the one that makes ``before`` of ``after``, both on their JSON forms."""
    return list(_between(before, after)), list(_between(after, before))


def apply_patch(document: dict[str, Any], patch: Patch) -> dict[str, Any]:
    """The document with a patch applied; what it does not touch is shared with the one given."""
    out: dict[str, Any] = jsonpatch.apply_patch(document, patch)
    return out


def _plain(value: Any) -> Any:
    return value.model_dump(mode="json") if isinstance(value, BaseModel) else value


def _between(before: Project, after: Project) -> Iterator[dict[str, Any]]:
    for name in type(before).model_fields:
        old, new = getattr(before, name), getattr(after, name)
        if old is new:
            continue
        if isinstance(old, list) and isinstance(new, list):
            yield from _lists(old, new, f"/{name}")
        else:
            yield from _values(_plain(old), _plain(new), f"/{name}")


def _lists(old: Sequence[Any], new: Sequence[Any], path: str) -> Iterator[dict[str, Any]]:
    """Items go by their ids. Those that went are taken out from the end, so that places before them stay; then the rest is put in order."""
    ids = {item.id for item in new}
    kept = list(old)
    for i in range(len(kept) - 1, -1, -1):
        if kept[i].id not in ids:
            yield {"op": "remove", "path": f"{path}/{i}"}
            kept.pop(i)
    for i, item in enumerate(new):
        here = kept[i] if i < len(kept) else None
        if here is not None and here.id != item.id:
            at = next((k for k in range(i, len(kept)) if kept[k].id == item.id), None)
            if at is not None:
                kept.insert(i, kept.pop(at))
                yield {"op": "move", "from": f"{path}/{at}", "path": f"{path}/{i}"}
                here = kept[i]
            else:
                here = None
        if here is None:
            kept.insert(i, item)
            yield {"op": "add", "path": f"{path}/{i}", "value": _plain(item)}
        elif here is not item:
            yield from _values(_plain(here), _plain(item), f"{path}/{i}")


def _values(old: Any, new: Any, path: str) -> Iterator[dict[str, Any]]:
    if isinstance(old, dict) and isinstance(new, dict):
        for op in jsonpatch.make_patch(old, new):
            moved = {"from": path + op["from"]} if "from" in op else {}
            yield {**op, "path": path + op["path"], **moved}
    elif old != new:
        yield {"op": "replace", "path": path, "value": new}
