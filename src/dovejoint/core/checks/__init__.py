"""One file for each check: what could go wrong with the printed pieces, with its figure, its limit and its place.

Importing this package registers them all. A new check is a new file here and its name in the line below.
"""

from . import (  # registered by import
    bears,
    bed,
    closed,
    flare,
    gap_band,
    lumps,
    milled,
    overhang,
    overlap,
    reached,
    steps,
    thin_wall,
    together,
)
from .registry import CheckCache, Finding, run_checks

__all__ = [
    "CheckCache", "Finding", "bears", "bed", "closed", "flare", "gap_band", "lumps", "milled", "overhang", "overlap", "reached", "run_checks", "steps", "thin_wall", "together",
]  # fmt: skip
