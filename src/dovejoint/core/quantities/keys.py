"""Parallel keys by the diameter of their shaft."""

from __future__ import annotations

__all__ = ["KEYS_MM", "key_for"]

#: ISO/R 773 (DIN 6885-1, high form): shafts over and up to a diameter, the key's width and height, and how much of that stands in the hub, mm
KEYS_MM: tuple[tuple[float, float, float, float, float], ...] = (
    (6, 8, 2, 2, 1.0), (8, 10, 3, 3, 1.4), (10, 12, 4, 4, 1.8), (12, 17, 5, 5, 2.3), (17, 22, 6, 6, 2.8), (22, 30, 8, 7, 3.3), (30, 38, 10, 8, 3.3),
    (38, 44, 12, 8, 3.3), (44, 50, 14, 9, 3.8), (50, 58, 16, 10, 4.3),
)  # fmt: skip


def key_for(diameter_mm: float) -> tuple[float, float] | None:
    """Width of the key for a shaft, and how far its slot reaches into the hub, mm; ``None`` where the standard has none."""
    return next((((w, t) for over, to, w, _, t in KEYS_MM if over < diameter_mm <= to)), None)
