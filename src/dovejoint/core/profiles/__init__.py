"""Printers and materials: the model of how a print deviates from what is drawn, and what readings teach of it."""

from .belief import Belief, belief_of, shift_row, size_row, with_belief
from .default import DEFAULT_PROFILE, SET_UP_PROFILE, profile_of, shipped_profile
from .deviation import Mating, Scatter, Shift, flare_left_mm, gap_scatter, gap_shift

__all__ = [
    "DEFAULT_PROFILE",
    "SET_UP_PROFILE",
    "Belief",
    "Mating",
    "Scatter",
    "Shift",
    "belief_of",
    "flare_left_mm",
    "gap_scatter",
    "gap_shift",
    "profile_of",
    "shift_row",
    "shipped_profile",
    "size_row",
    "with_belief",
]
