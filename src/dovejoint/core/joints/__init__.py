"""One file for each joint family: both halves' geometry and its calculation. Importing registers them all."""

from . import (  # registered by import
    ball,
    detent,
    fastener,
    halving,
    hinge,
    pins,
    plug,
    plug_in_lip,
    rail,
    rim,
    ring_snap,
    seat,
    shaft_in_bore,
    shaped_shaft,
    snap_hook,
    split,
    thread,
    watch,
)
from .assess import JointReport, assess, assess_by_formula
from .stack import with_stacks

__all__ = [
    "JointReport",
    "assess",
    "assess_by_formula",
    "ball",
    "detent",
    "fastener",
    "halving",
    "hinge",
    "pins",
    "plug",
    "plug_in_lip",
    "rail",
    "rim",
    "ring_snap",
    "seat",
    "shaft_in_bore",
    "shaped_shaft",
    "snap_hook",
    "split",
    "thread",
    "watch",
    "with_stacks",
]
