"""Printers and materials: the model of how a print deviates from what is drawn."""

from .default import DEFAULT_PROFILE, profile_of
from .deviation import Scatter, expected_shift_mm, gap_scatter

__all__ = ["DEFAULT_PROFILE", "Scatter", "expected_shift_mm", "gap_scatter", "profile_of"]
