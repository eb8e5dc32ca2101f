"""What lies on the shelf: kinds of things with their sizes, from data/shelf.json, each with the standard that they are from."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files
from typing import Any

__all__ = ["KINDS", "Thing", "find_things", "thing_of", "things"]


@dataclass(frozen=True)
class Thing:
    """``figures`` in mm: ``across`` (outside), ``bore``, ``high``; of screws ``thread``, ``head``, ``head_high``, ``flats``, ``key``. ``source`` is the standard, or says that
    it is practice."""

    kind: str
    size: str
    figures: Mapping[str, float]
    source: str
    words: str

    @property
    def name(self) -> str:
        return f"{self.kind} {self.size}"

    def as_dict(self) -> dict[str, Any]:
        return {"name": self.name, "kind": self.kind, "size": self.size, "figures_mm": dict(self.figures), "source": self.source}  # fmt: skip


@lru_cache(maxsize=1)
def things() -> tuple[Thing, ...]:
    data = json.loads(files(__package__).joinpath("data/shelf.json").read_text(encoding="utf-8"))
    return tuple(
        Thing(kind, size, figures, row["source"], row["words"])
        for kind, row in data.items()
        for size, figures in row["sizes"].items()
    )


#: kinds that have sizes, each with the names of these
KINDS: dict[str, tuple[str, ...]] = {
    kind: tuple(t.size for t in things() if t.kind == kind) for kind in dict.fromkeys(t.kind for t in things())
}


def thing_of(kind: str, size: str) -> Thing:
    """Raises KeyError when there is none such."""
    for thing in things():
        if (thing.kind, thing.size) == (kind, size):
            return thing
    raise KeyError(f"{kind} {size}")


def find_things(words: str) -> list[Thing]:
    """Those that all the words speak of: their name, what else they are called, or a figure (``16`` finds what is 16 mm across)."""
    asked = words.lower().split()
    found = []
    for thing in things():
        said = f"{thing.name} {thing.words}".lower().split()
        sizes = {f"{v:g}" for v in thing.figures.values()}
        if all(any(s.startswith(w) for s in said) or w in sizes for w in asked):
            found.append(thing)
    return found
