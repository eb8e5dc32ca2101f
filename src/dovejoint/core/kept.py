"""What is kept so that it need not be made again: bounded by bytes, what was not used for longest goes first."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from typing import Generic, TypeVar

__all__ = ["Kept"]

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
        self._kept: OrderedDict[str, V] = OrderedDict()

    def __len__(self) -> int:
        return len(self._kept)

    def keys(self) -> list[str]:
        return list(self._kept)

    def get(self, key: str) -> V | None:
        if key not in self._kept:
            return None
        self._kept.move_to_end(key)
        return self._kept[key]

    def put(self, key: str, value: V) -> None:
        old = self._kept.pop(key, None)
        self.bytes += self._weigh(value) - (0 if old is None else self._weigh(old))
        self._kept[key] = value
        while self.bytes > self.most_bytes and len(self._kept) > 1:
            self.bytes -= self._weigh(self._kept.popitem(last=False)[1])

    def made(self, key: str, make: Callable[[], V]) -> V:
        """What is kept, or made now and kept."""
        found = self.get(key)
        if found is None:
            found = make()
            self.put(key, found)
        return found
