"""Play and places: pins in holes, dovetails over pins, gaps of parts that are printed in one another. Lengths mm, angles rad."""

from __future__ import annotations

import math
from dataclasses import dataclass

from scipy.optimize import brentq

__all__ = ["Dovetail", "in_layers", "layers_of", "printed_gap_mm", "tilt_rad"]


def tilt_rad(hole_mm: float, pin_mm: float, length_mm: float) -> float:
    """How far a pin tilts in a hole so long: L·tan θ + d/cos θ = D."""
    if pin_mm >= hole_mm:
        return 0.0
    return float(brentq(lambda t: length_mm * math.tan(t) + pin_mm / math.cos(t) - hole_mm, 0.0, math.pi / 2 - 1e-6))


@dataclass(frozen=True)
class Dovetail:
    """By its narrow width, height, and the angle between flank and floor."""

    narrow_mm: float
    height_mm: float
    angle_rad: float

    @property
    def wide_mm(self) -> float:
        return self.narrow_mm + 2 * self.height_mm / math.tan(self.angle_rad)

    def over_pins_mm(self, pin_mm: float) -> float:
        """Over two pins that lie in the corners of the male half."""
        return self.narrow_mm + pin_mm * (1 + 1 / math.tan(self.angle_rad / 2))

    def between_pins_mm(self, pin_mm: float) -> float:
        """Between two pins in the corners of the female half."""
        return self.wide_mm - pin_mm * (1 + 1 / math.tan(self.angle_rad / 2))

    def sideways_mm(self, gap_mm: float) -> float:
        """By how much each side is wider for a gap at right angles to the flanks."""
        return gap_mm / math.sin(self.angle_rad)

    def lift_mm(self, gap_mm: float) -> float:
        """How far it lifts until both flanks touch."""
        return gap_mm / math.cos(self.angle_rad)


def layers_of(gap_mm: float, layer_mm: float) -> int:
    """Whole layers that a gap takes; 2.1 mm of 0.15 mm are 14, whatever the last bit says."""
    return math.ceil(gap_mm / layer_mm - 1e-6)


def in_layers(gap_mm: float, layer_mm: float) -> float:
    """A gap brought up to whole layers, mm."""
    return layers_of(gap_mm, layer_mm) * layer_mm


def printed_gap_mm(growth_mm: float, shrink_mm: float, scatter_mm: float, deviations: float = 3.0, film_mm: float = 0.05) -> float:  # fmt: skip
    """The least gap a side (PRACTICE) at which parts printed in one another come apart: what both sides grow, their scatter, and a free film."""
    return growth_mm + shrink_mm + deviations * math.sqrt(2) * scatter_mm + film_mm
