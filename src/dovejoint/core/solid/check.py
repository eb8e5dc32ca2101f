"""Validity: the kernel's own word that an operation is done is not enough (it reports success on bad solids)."""

from __future__ import annotations

from OCP.BRepCheck import BRepCheck_Analyzer

from .kernel import Shape
from .measure import volume
from .named import NamedSolid, solids_of

__all__ = ["accept", "problems"]


def problems(shape: Shape) -> str | None:
    """What is wrong with a shape as a solid, or ``None``: it has solids, is valid, and holds volume."""
    if shape is None or shape.IsNull():
        return "nothing is left"
    if not solids_of(shape):
        return "no solid is left"
    if not BRepCheck_Analyzer(shape).IsValid():
        return "the faces do not close into a sound solid"
    if volume(shape) <= 1e-9:
        return "the solid has no volume"
    return None


def accept(
    solid: NamedSolid, most_volume_mm3: float | None = None, least_volume_mm3: float | None = None
) -> str | None:
    """Like :func:`problems`, and the volume must lie where the operation can put it."""
    if not solids_of(solid.shape):
        return "no solid is left"
    if not BRepCheck_Analyzer(solid.shape).IsValid():
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
