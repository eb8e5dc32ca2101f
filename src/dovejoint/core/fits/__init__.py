"""Fits: the three gaps, never mixed up, and the chance that printed pieces go together."""

from .classes import FIT_CLASSES, FitClass
from .gaps import Chance, Drawn, Expected, Measured, Wanted, chance, drawn_for, expected_of, verdict

__all__ = [
    "FIT_CLASSES",
    "Chance",
    "Drawn",
    "Expected",
    "FitClass",
    "Measured",
    "Wanted",
    "chance",
    "drawn_for",
    "expected_of",
    "verdict",
]
