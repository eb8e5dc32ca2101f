"""ISO metric screw threads: basic profile (ISO 68-1, 261, 724) and the limits of 6g bolts and 6H nuts (ISO 965-1). mm throughout."""

from __future__ import annotations

import math
from dataclasses import dataclass

__all__ = ["COARSE_PITCH_MM", "THREAD_LIMITS", "MetricThread", "ThreadLimits", "limits_for"]

#: ISO 261: the coarse pitch of each first-choice size
COARSE_PITCH_MM: dict[float, float] = {
    2: 0.4, 2.5: 0.45, 3: 0.5, 3.5: 0.6, 4: 0.7, 5: 0.8, 6: 1.0, 8: 1.25, 10: 1.5, 12: 1.75, 14: 2.0, 16: 2.0, 18: 2.5, 20: 2.5,
    22: 2.5, 24: 3.0, 27: 3.0, 30: 3.5, 33: 3.5, 36: 4.0, 39: 4.0, 42: 4.5, 45: 4.5, 48: 5.0,
}  # fmt: skip


@dataclass(frozen=True)
class MetricThread:
    """The basic 60° profile by major diameter and pitch (ISO 68-1)."""

    major_mm: float
    pitch_mm: float

    @property
    def triangle_mm(self) -> float:
        """H, the height of the sharp triangle."""
        return math.sqrt(3) / 2 * self.pitch_mm

    @property
    def pitch_diameter_mm(self) -> float:
        return self.major_mm - 0.75 * self.triangle_mm

    @property
    def minor_mm(self) -> float:
        """D1, the basic minor diameter of the nut."""
        return self.major_mm - 1.25 * self.triangle_mm

    @property
    def root_mm(self) -> float:
        """d3, the minor diameter of the bolt with its root rounded by H/6."""
        return self.major_mm - 17 / 12 * self.triangle_mm

    @property
    def stress_area_mm2(self) -> float:
        """ISO 898-1: of the circle with the mean of pitch and root diameter."""
        return math.pi / 4 * ((self.pitch_diameter_mm + self.root_mm) / 2) ** 2


@dataclass(frozen=True)
class ThreadLimits:
    """ISO 965-1 limits of a 6g bolt (major ``least_major_mm``, pitch diameter ``least_pitch_mm``) and of a 6H nut (pitch diameter
    ``most_pitch_mm``, minor ``most_minor_mm``): those that leave the least overlap."""

    least_major_mm: float
    least_pitch_mm: float
    most_pitch_mm: float
    most_minor_mm: float


#: by (major, pitch)
THREAD_LIMITS: dict[tuple[float, float], ThreadLimits] = {
    (2.0, 0.4): ThreadLimits(1.886, 1.654, 1.83, 1.679),
    (3.0, 0.5): ThreadLimits(2.874, 2.58, 2.775, 2.599),
    (4.0, 0.7): ThreadLimits(3.838, 3.433, 3.663, 3.422),
    (5.0, 0.8): ThreadLimits(4.826, 4.361, 4.605, 4.334),
    (6.0, 1.0): ThreadLimits(5.794, 5.212, 5.5, 5.153),
    (8.0, 1.25): ThreadLimits(7.76, 7.042, 7.348, 6.912),
    (10.0, 1.5): ThreadLimits(9.732, 8.862, 9.206, 8.676),
    (12.0, 1.75): ThreadLimits(11.701, 10.679, 11.063, 10.441),
    (16.0, 2.0): ThreadLimits(15.682, 14.503, 14.913, 14.21),
    (20.0, 2.5): ThreadLimits(19.623, 18.164, 18.6, 17.744),
    (24.0, 3.0): ThreadLimits(23.577, 21.803, 22.316, 21.252),
    (30.0, 3.5): ThreadLimits(29.522, 27.462, 28.007, 26.771),
}


def limits_for(major_mm: float, pitch_mm: float | None = None) -> ThreadLimits | None:
    """The limits of a size, of its coarse pitch where none is given; ``None`` where they are not in the table."""
    pitch = COARSE_PITCH_MM.get(major_mm) if pitch_mm is None else pitch_mm
    return None if pitch is None else THREAD_LIMITS.get((float(major_mm), float(pitch)))
