"""Press fits: two rings of their own materials (Lamé's thick cylinders in plane stress; e.g. Budynas and Nisbett, *Shigley's Mechanical Engineering
Design*, ch. 3). Interference is **on diameter**. Lengths mm, moduli and pressures MPa, forces N, moments N·mm, warming K."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

__all__ = ["PressFit", "Rings"]

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Rings:
    """An inner ring (``bore_mm`` 0 when solid) in an outer one ``outside_mm`` wide, meeting at a diameter. Moduli may be arrays."""

    diameter_mm: float
    outside_mm: float
    bore_mm: float
    outer_modulus_mpa: Array | float
    outer_poisson: float
    inner_modulus_mpa: Array | float
    inner_poisson: float

    def pressed(self, interference_mm: Array | float) -> PressFit:
        """With so much interference on diameter; none where it is negative."""
        d, do, di = self.diameter_mm, self.outside_mm, self.bore_mm
        outer = (do**2 + d**2) / (do**2 - d**2) + self.outer_poisson
        inner = (d**2 + di**2) / (d**2 - di**2) - self.inner_poisson
        give = d * (outer / np.asarray(self.outer_modulus_mpa) + inner / np.asarray(self.inner_modulus_mpa))
        return PressFit(self, np.maximum(np.asarray(interference_mm, dtype=float), 0.0) / give)


@dataclass(frozen=True, eq=False)
class PressFit:
    rings: Rings
    pressure_mpa: Array

    @property
    def hoop_mpa(self) -> Array:
        """Round the outer ring at its bore, where it is greatest."""
        d, do = self.rings.diameter_mm, self.rings.outside_mm
        return np.asarray(self.pressure_mpa * (do**2 + d**2) / (do**2 - d**2))

    @property
    def mises_mpa(self) -> Array:
        t, p = self.hoop_mpa, self.pressure_mpa
        return np.asarray(np.sqrt(t**2 + t * p + p**2))

    @property
    def strain(self) -> Array:
        """Round the outer ring at its bore."""
        return np.asarray((self.hoop_mpa + self.rings.outer_poisson * self.pressure_mpa) / self.rings.outer_modulus_mpa)

    @property
    def inner_hoop_mpa(self) -> Array:
        """Round the inner ring at its bore (at its middle, where it is solid); squeezed where negative."""
        d, di = self.rings.diameter_mm, self.rings.bore_mm
        return np.asarray(-self.pressure_mpa * (2 * d**2 / (d**2 - di**2) if di > 0 else 1.0))

    @property
    def growth_mm(self) -> Array:
        """By how much the outer ring grows outside, on diameter."""
        d, do = self.rings.diameter_mm, self.rings.outside_mm
        return np.asarray(2 * self.pressure_mpa * d**2 * do / (self.rings.outer_modulus_mpa * (do**2 - d**2)))

    def push_n(self, friction: Array | float, length_mm: float) -> Array:
        """To push it out (or in) along: µ·p·π·d·L."""
        return np.asarray(np.asarray(friction) * self.pressure_mpa * np.pi * self.rings.diameter_mm * length_mm)

    def torque_n_mm(self, friction: Array | float, length_mm: float) -> Array:
        return self.push_n(friction, length_mm) * self.rings.diameter_mm / 2
