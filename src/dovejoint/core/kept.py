"""What is kept so that it need not be made again: bounded by bytes, what was not used for longest goes first."""

from __future__ import annotations

import sys
from collections import OrderedDict
from collections.abc import Callable, Mapping
from typing import Any, Generic, TypeVar

import numpy as np

__all__ = ["Kept", "weight_bytes"]

V = TypeVar("V")


class Kept(Generic[V]):
    """Values by key.

    Parameters
    ----------
    most_bytes : when all together weigh more, those go that were not used for longest; the last one stays whatever it weighs.
    weigh : about how many bytes a value takes.
    """

    def __init__(self, most_bytes: int, weigh: Callable[[V], int]) -> None:
        self.most_bytes, self.bytes = most_bytes, 0
        self._weigh = weigh
        self._kept: OrderedDict[str, tuple[V, int]] = OrderedDict()

    def __len__(self) -> int:
        return len(self._kept)

    def keys(self) -> list[str]:
        return list(self._kept)

    def get(self, key: str) -> V | None:
        if key not in self._kept:
            return None
        self._kept.move_to_end(key)
        return self._kept[key][0]

    def put(self, key: str, value: V) -> None:
        _, old = self._kept.pop(key, (None, 0))
        weight = len(key) + self._weigh(value)
        self.bytes += weight - old
        self._kept[key] = value, weight
        while self.bytes > self.most_bytes and len(self._kept) > 1:
            self.bytes -= self._kept.popitem(last=False)[1][1]

    def made(self, key: str, make: Callable[[], V]) -> V:
        """What is kept, or made now and kept."""
        found = self.get(key)
        if found is None and key not in self._kept:
            found = make()
            self.put(key, found)
        return found  # type: ignore[return-value]  # what is kept under the key, be it None


def weight_bytes(value: Any) -> int:
    """About how many bytes plain data take: figures, text, arrays, and what is made of them. What stands in it twice counts once."""
    seen: set[int] = set()
    total, todo = 0, [value]
    while todo:
        item = todo.pop()
        if item is None or isinstance(item, bool | type) or id(item) in seen:
            continue
        seen.add(id(item))
        total += sys.getsizeof(item)
        if isinstance(item, np.ndarray):
            # a view's own size leaves out what it looks at
            total += item.nbytes if item.base is not None else 0
        elif isinstance(item, Mapping):
            todo += [*item.keys(), *item.values()]
        elif isinstance(item, list | tuple | set | frozenset):
            todo += item
        elif hasattr(item, "__dict__"):
            todo += vars(item).values()
    return total
