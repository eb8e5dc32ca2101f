"""Validity: the kernel's own word that an operation is done is not enough (it reports success on bad solids).

A check may be put off (:func:`deferring`): then it counts as passed, the model can be shown at once, and whoever put it off makes it
later. What turns out unsound is made anew with its checks in place, and so gets its error.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from .named import NamedSolid

__all__ = ["Bound", "Test", "accept", "deferring", "judge", "putting_off"]

#: says what is wrong, or ``None``
Test = Callable[[], str | None]
#: a volume in mm³, or how to find it when it is asked for
Bound = float | Callable[[], float] | None

_deferred: list[Test] | None = None


@contextmanager
def deferring() -> Iterator[list[Test]]:
    """Within this, checks are put off and collected in the list that it gives."""
    global _deferred
    before, _deferred = _deferred, []
    try:
        yield _deferred
    finally:
        _deferred = before


def putting_off() -> bool:
    """Whether checks are put off now. What fails then is done again with them, so a search for what would work can wait."""
    return _deferred is not None


def judge(test: Test) -> str | None:
    """What a check says; ``None`` where it is put off."""
    if _deferred is None:
        return test()
    _deferred.append(test)
    return None


def accept(solid: NamedSolid, most_volume_mm3: Bound = None, least_volume_mm3: Bound = None) -> str | None:
    """What is wrong with a solid, or ``None``: it has solids, is valid, and its volume is where it can be."""
    if not solid.lumps:
        return "no solid is left"
    return judge(lambda: _wrong(solid, most_volume_mm3, least_volume_mm3))


def _wrong(solid: NamedSolid, most: Bound, least: Bound) -> str | None:
    if not solid.valid:
        return "the faces do not close into a sound solid"
    now = solid.volume_mm3
    if now <= 1e-9:
        return "the solid has no volume"
    slack = 1e-6 * max(1.0, now)
    highest, lowest = (b() if callable(b) else b for b in (most, least))
    if highest is not None and now > highest + slack:
        return "the volume grew where it must not"
    if lowest is not None and now < lowest - slack:
        return "the volume shrank where it must not"
    return None
