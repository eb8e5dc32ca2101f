"""Validity: the kernel's own word that an operation is done is not enough (it reports success on bad solids)."""

from __future__ import annotations

from .named import NamedSolid

__all__ = ["accept"]


def accept(
    solid: NamedSolid, most_volume_mm3: float | None = None, least_volume_mm3: float | None = None
) -> str | None:
    """What is wrong with a solid, or ``None``: it has solids, is valid, and its volume is where it can be."""
    if not solid.lumps:
        return "no solid is left"
    if not solid.valid:
        return "the faces do not close into a sound solid"
    now = solid.volume_mm3
    if now <= 1e-9:
        return "the solid has no volume"
    slack = 1e-6 * max(1.0, now)
    if most_volume_mm3 is not None and now > most_volume_mm3 + slack:
        return "the volume grew where it must not"
    if least_volume_mm3 is not None and now < least_volume_mm3 - slack:
        return "the volume shrank where it must not"
    return None
