"""Fit classes as wanted bands of the gap per side.

PRACTICE, not a standard: what printed plastic pieces of hand size need to press, sit snug, slide or hang loose.
"""

from __future__ import annotations

from dataclasses import dataclass

from .gaps import Wanted

__all__ = ["FIT_CLASSES", "FitClass"]


@dataclass(frozen=True)
class FitClass:
    name: str
    about: str
    wanted: Wanted


FIT_CLASSES: dict[str, FitClass] = {
    f.name: f
    for f in (
        FitClass("press", "stays by itself, needs force to go in", Wanted(-0.10, -0.04, 0.02)),
        FitClass("snug", "goes in by hand and stays", Wanted(0.0, 0.07, 0.14)),
        FitClass("slide", "slides without play worth speaking of", Wanted(0.10, 0.20, 0.30)),
        FitClass("loose", "falls in by itself", Wanted(0.25, 0.40, 0.60)),
    )
}
