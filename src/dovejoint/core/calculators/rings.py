"""Ring snaps, balls in slotted sockets, and bars that are twisted. Lengths mm, moduli MPa, forces N, angles rad."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .arms import Arm, friction_factor

__all__ = ["Ball", "Ring", "bar_stiffness", "swing_rad"]


@dataclass(frozen=True)
class Ring:
    """A stiff bead pushed into a thin tube: inner diameter, wall, and how much the bead is larger than the tube, **on diameter**."""

    diameter_mm: float
    wall_mm: float
    undercut_mm: float
    modulus_mpa: float
    poisson: float

    @property
    def strain(self) -> float:
        """Round the tube: both on diameter."""
        return self.undercut_mm / self.diameter_mm

    @property
    def decay_mm(self) -> float:
        """1/λ: how far along a tube's end load is felt (thin shells; Timoshenko and Woinowsky-Krieger, *Theory of Plates and Shells*, ch. 15)."""
        radius = (self.diameter_mm + self.wall_mm) / 2
        return math.sqrt(radius * self.wall_mm) / math.sqrt(math.sqrt(3 * (1 - self.poisson**2)))

    @property
    def edge_load_n_mm(self) -> float:
        radius = (self.diameter_mm + self.wall_mm) / 2
        return self.undercut_mm / 2 * self.modulus_mpa * self.wall_mm / (2 * radius**2) * self.decay_mm

    @property
    def end_force_n(self) -> float:
        """All round, across, where the bead sits at the tube's end. Good to a factor of two."""
        return math.pi * (self.diameter_mm + self.wall_mm) * self.edge_load_n_mm

    @property
    def far_force_n(self) -> float:
        """The same three decays or more from the end: four times as much."""
        return 4 * self.end_force_n

    def force_n(self, from_end_mm: float) -> float:
        """All round, across, where the bead sits so far from the tube's end: a strip of the tube's length as a beam on an elastic foundation. With
        A = e^(−λa)·cos λa and B = e^(−λa)·(cos λa − sin λa) it gives way 1 + 2·A² + B² times as much as one without an end (Hetényi, *Beams on Elastic
        Foundation*, § 11: the two forces that free the end, each on the place itself)."""
        at = max(from_end_mm, 0.0) / self.decay_mm
        a, b = math.exp(-at) * math.cos(at), math.exp(-at) * (math.cos(at) - math.sin(at))
        return self.far_force_n / (1 + 2 * a**2 + b**2)


@dataclass(frozen=True)
class Ball:
    """A ball in a socket that wraps beyond its equator by ``wrap_rad``, slotted into ``fingers`` of length and thickness."""

    diameter_mm: float
    wrap_rad: float
    finger_mm: float
    thick_mm: float
    fingers: int
    slot_mm: float

    @property
    def opening_mm(self) -> float:
        return self.diameter_mm * math.cos(self.wrap_rad)

    @property
    def undercut_mm(self) -> float:
        """On diameter."""
        return self.diameter_mm - self.opening_mm

    @property
    def whole_strain(self) -> float:
        """Of a socket without slots: (1 − cos β)/cos β."""
        return self.undercut_mm / self.opening_mm

    @property
    def wide_mm(self) -> float:
        """Of one finger, on the wall's middle line."""
        return math.pi * (self.diameter_mm + self.thick_mm) / self.fingers - self.slot_mm

    @property
    def arm(self) -> Arm:
        return Arm.even(self.finger_mm, self.thick_mm, self.wide_mm)

    @property
    def finger_strain(self) -> float:
        return float(self.arm.strain(self.undercut_mm / 2))

    def finger_force_n(self, modulus_mpa: float) -> float:
        return float(self.arm.force_n(self.finger_strain, modulus_mpa))

    def pull(self, modulus_mpa: float, friction: float) -> tuple[float, float]:
        """Greatest force on the way out (N) and the angle over the equator at which the lip touches then: the fingers open by R(cos φ − cos β) while
        the ball's slope there is tan φ."""
        angles = np.linspace(self.wrap_rad, 0.0, 4001)
        bend = self.diameter_mm / 2 * (np.cos(angles) - math.cos(self.wrap_rad))
        across = self.arm.force_n(self.arm.strain(bend), modulus_mpa)
        along = self.fingers * across * friction_factor(friction, angles)
        k = int(along.argmax())
        return float(along[k]), float(angles[k])


def swing_rad(ball_mm: float, wrap_rad: float, post_mm: float, straight_mm: float = 0.0) -> float:
    """How far a ball's post can swing to each side before it meets the lip, which runs on straight by so much."""
    across, up = ball_mm / 2 * math.cos(wrap_rad), ball_mm / 2 * math.sin(wrap_rad) + straight_mm
    return math.atan2(across, up) - math.asin(min(1.0, post_mm / 2 / math.hypot(across, up)))


def bar_stiffness(a_mm: float, b_mm: float) -> tuple[float, float]:
    """Torsion constant J (mm⁴) and section modulus W (mm³) of a rectangular bar: Saint-Venant's series (Timoshenko and Goodier, *Theory of Elasticity*,
    art. 109)."""
    a, b = max(a_mm, b_mm), min(a_mm, b_mm)
    n = np.arange(1, 60, 2)
    reach = np.minimum(n * math.pi * a / (2 * b), 300.0)
    j = a * b**3 / 3 * (1 - 192 * b / (math.pi**5 * a) * float((np.tanh(reach) / n**5).sum()))
    peak = b * (1 - 8 / math.pi**2 * float((1 / (n**2 * np.cosh(reach))).sum()))
    return j, j / peak
