"""One file for each joint family: both halves' geometry and its calculation. Importing registers them all."""

from . import ball, fastener, plug_in_lip, rail, rim, seat, shaft_in_bore, snap_hook, thread  # registered by import
from .assess import JointReport, assess, assess_by_formula
from .stack import with_stacks

__all__ = [
    "JointReport",
    "assess",
    "assess_by_formula",
    "ball",
    "fastener",
    "plug_in_lip",
    "rail",
    "rim",
    "seat",
    "shaft_in_bore",
    "snap_hook",
    "thread",
    "with_stacks",
]
