"""What screw threads bear: stripping areas, stress area, engagement, pull-out of inserts. Lengths mm, stresses MPa, forces N.

The stripping areas are those of ISO 898-2 annex and of FED-STD-H28: at the bolt's major diameter for the nut's thread, at the nut's minor diameter for the
bolt's.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

__all__ = ["bolt_strip_mm2", "flank_overlap_mm", "insert_pull_n", "nut_strip_mm2"]

Array = NDArray[np.float64]
_ROOT3 = math.sqrt(3)


def nut_strip_mm2(
    engaged_mm: float, pitch_mm: float, bolt_major_mm: Array | float, nut_pitch_mm: Array | float
) -> Array:
    """Of the nut's thread, on the cylinder of the bolt's (least) major diameter; the nut's (most) pitch diameter says how thick it is there."""
    major = np.asarray(bolt_major_mm)
    thick = pitch_mm / 2 + (major - nut_pitch_mm) / _ROOT3
    return np.asarray(math.pi * engaged_mm / pitch_mm * major * np.maximum(thick, 0.0))


def bolt_strip_mm2(
    engaged_mm: float, pitch_mm: float, nut_minor_mm: Array | float, bolt_pitch_mm: Array | float
) -> Array:
    """Of the bolt's thread, on the cylinder of the nut's (most) minor diameter."""
    minor = np.asarray(nut_minor_mm)
    thick = pitch_mm / 2 + (bolt_pitch_mm - minor) / _ROOT3
    return np.asarray(math.pi * engaged_mm / pitch_mm * minor * np.maximum(thick, 0.0))


def flank_overlap_mm(pitch_mm: float, clearance_mm: Array | float) -> Array:
    """How deep the flanks reach over each other, of H1 = 5/8 H, with a clearance on diameter."""
    return np.asarray(5 / 8 * _ROOT3 / 2 * pitch_mm - np.asarray(clearance_mm) / 2)


def insert_pull_n(diameter_mm: float, length_mm: float, shear_mpa: float, share: float = 0.5) -> float:
    """At most, of a metal insert: PRACTICE, ``share`` is what knurls and melt bring of the cylinder's strength."""
    return math.pi * diameter_mm * length_mm * shear_mpa * share
