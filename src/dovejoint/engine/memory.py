"""How a process holds its memory (glibc; elsewhere nothing is done)."""

from __future__ import annotations

import contextlib
import ctypes
import sys
from collections.abc import Callable
from typing import Any

__all__ = ["give_back", "settle"]

#: ``mallopt``'s numbers (malloc.h), and from which size on a block is a mapping of its own, that goes back to the system when it is freed, bytes
_ARENA_MAX, _MMAP_THRESHOLD, _OWN_BYTES = -8, -3, 128 * 1024


def _glibc(do: Callable[[Any], object]) -> None:
    if sys.platform == "linux":
        # another C library may not have it
        with contextlib.suppress(OSError, AttributeError):
            do(ctypes.CDLL(None))


def settle() -> None:
    """Have a process of many threads hold what it keeps, and little beside: one heap for each thread, and blocks of some 100 kB within them, leave
    holes that grow for hours (found by filling the server's caches: 220 MB kept held 540, and 340 after this)."""
    _glibc(lambda libc: (libc.mallopt(_ARENA_MAX, 2), libc.mallopt(_MMAP_THRESHOLD, _OWN_BYTES)))


def give_back() -> None:
    """Give memory that is free within this process back to the system."""
    _glibc(lambda libc: libc.malloc_trim(0))
