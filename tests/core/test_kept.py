"""What is kept is bounded by bytes, and what was not used for longest goes first."""

from __future__ import annotations

import sys
from dataclasses import dataclass
from typing import Any

import numpy as np
import pytest

from dovejoint.core.kept import Kept, weight_bytes


def test_what_was_not_used_for_longest_goes_first() -> None:
    kept: Kept[bytes | None] = Kept(1000, lambda value: len(value or b""))
    for key in "abc":
        kept.put(key, b"x" * 300)
    assert kept.get("a") and kept.bytes == 903
    kept.put("d", b"x" * 300)
    assert kept.keys() == ["c", "a", "d"]
    # a value put anew counts once
    kept.put("a", b"x" * 100)
    assert kept.keys() == ["c", "d", "a"] and kept.bytes == 703
    kept.put("large", b"x" * 5000)
    assert kept.keys() == ["large"], "the last stays whatever it weighs"
    made: list[int] = []
    for _ in range(3):
        assert kept.made("nothing", lambda: made.append(1)) is None  # type: ignore[func-returns-value]
    assert made == [1], "that nothing was found is kept too"


@dataclass
class Held:
    name: str
    inner: Any


@pytest.mark.parametrize(
    ("value", "least", "most"),
    [
        (np.zeros(10_000), 80_000, 80_300),
        (np.zeros((100, 100))[:50], 40_000, 40_300),
        (["x" * 1000] * 50, 1000, 1700),
        ([f"{i}" * 1000 for i in range(10)], 10_000, 11_500),
        (Held("a", {"k": (Held("b", b"y" * 4000), None)}), 4000, 6000),
    ],
)
def test_weights_are_about_what_things_take(value: Any, least: int, most: int) -> None:
    assert least <= weight_bytes(value) <= most
    assert weight_bytes([value, value]) < weight_bytes(value) + sys.getsizeof([0, 0]) + 1
