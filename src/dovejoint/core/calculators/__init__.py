"""Calculators: what hand-books work out for snaps, presses, threads, hinges and chains of dimensions. They know no joint and no part."""

from . import reference  # registers the topics
from .arms import Arm, friction_factor, locking_angle_rad
from .cases import answer, topics
from .press import Rings
from .screws import bolt_strip_mm2, flank_overlap_mm, nut_strip_mm2

__all__ = [
    "Arm", "Rings", "answer", "bolt_strip_mm2", "flank_overlap_mm", "friction_factor", "locking_angle_rad", "nut_strip_mm2", "reference",
    "topics",
]  # fmt: skip
