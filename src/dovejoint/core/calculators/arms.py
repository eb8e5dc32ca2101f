"""Bending arms of snaps: straight ones of any taper, U-shaped ones, quarter arcs; and the force that a ramp makes of theirs.

Euler and Bernoulli's beam, small deflections, a secant modulus (e.g. Gere and Goodno, *Mechanics of Materials*, ch. 9); the strain is that of
the outer fibre. Lengths mm, moduli MPa, forces N, angles rad.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

__all__ = ["Arm", "Bend", "friction_factor", "locking_angle_rad", "quarter_arc", "u_arm"]

Array = NDArray[np.float64]
_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(64)


@dataclass(frozen=True)
class Arm:
    """A straight arm ``length_mm`` long; ``thick_mm`` in the way that it bends and ``wide_mm`` across, at root and tip, even in between."""

    length_mm: float
    thick_mm: float
    wide_mm: float
    tip_thick_mm: float
    tip_wide_mm: float

    @classmethod
    def even(cls, length_mm: float, thick_mm: float, wide_mm: float) -> Arm:
        return cls(length_mm, thick_mm, wide_mm, thick_mm, wide_mm)

    @property
    def softness(self) -> float:
        """∫ x²·(b·h³)⁻¹ dx over b₀·h₀³, L³: 1/3 for an even arm. x counts from the tip."""
        x = (_NODES + 1) / 2
        thick = self.tip_thick_mm + (self.thick_mm - self.tip_thick_mm) * x
        wide = self.tip_wide_mm + (self.wide_mm - self.tip_wide_mm) * x
        return float(_WEIGHTS / 2 @ (x**2 * self.wide_mm * self.thick_mm**3 / (wide * thick**3)))

    @property
    def factor(self) -> float:
        """C in ε = y·h/(C·L²), at the root: 2/3 for an even arm (ε = 1.5·y·h/L²)."""
        return 2 * self.softness

    @property
    def worst(self) -> tuple[float, float]:
        """Where the strain is greatest (share of the length, from the tip), and how many times that at the root."""
        x = np.linspace(1e-3, 1.0, 2001)
        thick = self.tip_thick_mm + (self.thick_mm - self.tip_thick_mm) * x
        wide = self.tip_wide_mm + (self.wide_mm - self.tip_wide_mm) * x
        strain = x * self.wide_mm * self.thick_mm**2 / (wide * thick**2)
        k = int(strain.argmax())
        return float(x[k]), float(strain[k])

    def strain(self, bend_mm: Array | float) -> Array:
        """Of the outer fibre at the root, for a deflection at the tip."""
        return np.asarray(bend_mm) * self.thick_mm / (self.factor * self.length_mm**2)

    def bend_for(self, strain: Array | float) -> Array:
        """The deflection that makes this strain at the root, mm."""
        return np.asarray(strain) * self.factor * self.length_mm**2 / self.thick_mm

    def force_n(self, strain: Array | float, modulus_mpa: Array | float) -> Array:
        """At the tip, across the arm."""
        return self.wide_mm * self.thick_mm**2 * np.asarray(modulus_mpa) * strain / (6 * self.length_mm)


def friction_factor(friction: Array | float, ramp_rad: Array | float) -> Array:
    """Force along over force across, on a ramp that rises by an angle: (µ + tan α)/(1 − µ·tan α). Infinite where it locks (µ·tan α ≥ 1)."""
    slope = np.tan(np.minimum(np.asarray(ramp_rad, dtype=float), math.pi / 2 - 1e-9))
    left = 1 - np.asarray(friction) * slope
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray(np.where(left > 1e-9, (np.asarray(friction) + slope) / np.maximum(left, 1e-9), np.inf))


def locking_angle_rad(friction: float) -> float:
    """A ramp this steep or steeper does not let go by pulling: atan(1/µ)."""
    return math.atan2(1.0, friction)


@dataclass(frozen=True)
class Bend:
    """What a curved arm does at a deflection: force at its tip (N), strain where it is greatest and at the root, where that is, and by how much the
    inner fibre of the bend carries more than a straight arm's would (Winkler's curved beam)."""

    force_n: float
    strain: float
    root_strain: float
    where: str
    inner_factor: float


def u_arm(
    free_mm: float,
    radius_mm: float,
    fixed_mm: float,
    thick_mm: float,
    wide_mm: float,
    modulus_mpa: float,
    bend_mm: float,
) -> Bend:
    """A free leg, half a circle (radius to its middle line) and a fixed leg back, pushed across at the tip: Castigliano's theorem, each piece by
    itself."""
    bending = modulus_mpa * wide_mm * thick_mm**3 / 12
    l2, r, l1 = free_mm, radius_mm, fixed_mm
    give = (l2**3 + l2**3 - (l2 - l1) ** 3) / 3 + r * (math.pi * l2**2 + 4 * l2 * r + math.pi * r**2 / 2)
    force = bend_mm * bending / give
    strain = [moment * thick_mm / 2 / bending for moment in (force * (l2 + r), force * abs(l2 - l1))]
    inner, outer = r - thick_mm / 2, r + thick_mm / 2
    neutral = thick_mm / math.log(outer / inner) if inner > 0 else r
    factor = thick_mm * (neutral - inner) / (6 * (r - neutral) * inner) if inner > 0 else math.inf
    return Bend(force, max(strain), strain[1], "bend" if strain[0] >= strain[1] else "root", factor)


def quarter_arc(radius_mm: float, thick_mm: float, wide_mm: float, modulus_mpa: float, bend_mm: float) -> Bend:
    """A quarter of a circle, pushed at its tip at right angles to its end."""
    bending = modulus_mpa * wide_mm * thick_mm**3 / 12
    force = 4 * bending * bend_mm / (math.pi * radius_mm**3)
    strain = force * radius_mm * thick_mm / 2 / bending
    return Bend(force, strain, strain, "root", 1.0)
