"""What a material bears, as ranges: low, usual and high. MPa, shares, 1/K."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["ACROSS_LAYERS", "OFTEN", "Material", "Range"]

Range = tuple[float, float, float]
#: PRACTICE: what is left of a strain or a strength where it pulls layers apart, and of a strain that comes back again and again
ACROSS_LAYERS, OFTEN = 0.5, 0.6


@dataclass(frozen=True)
class Material:
    """``strain_once`` may be reached once, along the layers; ``softens_c`` is where it loses its stiffness."""

    name: str
    modulus_mpa: Range
    poisson: float
    strain_once: Range
    strength_mpa: Range
    friction: Range
    expansion_per_k: Range
    softens_c: float
    plastic: bool = True
