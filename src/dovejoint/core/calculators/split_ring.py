"""A ring with a slit that something round, larger than its bore, springs open.

The ring is a curved beam in bending (Winkler and Bach; e.g. Budynas and Nisbett, *Shigley's Mechanical Engineering Design*, ch. 3, and Castigliano's theorem,
ch. 4) that the core may touch anywhere round its bore and nowhere pulls: where it is touched comes out of the calculation. Friction round the bore, and
what a beam gives by being stretched and sheared, are left out. Lengths mm, moduli MPa, forces N.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .contacts import pushes_at

__all__ = ["Opened", "opened"]

Array = NDArray[np.float64]
#: places round the ring at which it may be touched; and sections between two of them that bend
_PLACES, _BETWEEN = 41, 6


@dataclass(frozen=True)
class Opened:
    """For each millimetre by which the core is larger, **a side**: ``force`` is that of all contacts together for each MPa of modulus and mm of
    length (N/mm/(MPa·mm)); ``strain`` is the greatest at the bore (1/mm)."""

    force: float
    strain: float


def opened(bore_mm: float, walls_mm: Sequence[float], slit_mm: float) -> Opened:
    """What opens a ring whose bore is ``bore_mm`` in radius.

    ``walls_mm`` are thicknesses at equal angles all round; the slit, ``slit_mm`` wide, lies midway between the last and the first of them. Raises ValueError for no ring.
    """
    if bore_mm <= 0 or min(walls_mm) <= 0 or not 0 < slit_mm < bore_mm or len(walls_mm) < 2:
        raise ValueError("a ring has a bore, a wall and a slit narrower than half its bore")
    begin = math.asin(slit_mm / 2 / bore_mm)
    places = np.linspace(begin, 2 * math.pi - begin, _PLACES)
    edges = np.linspace(begin, 2 * math.pi - begin, (_PLACES - 1) * _BETWEEN + 1)
    at, turn = (edges[1:] + edges[:-1]) / 2, float(edges[1] - edges[0])
    wall = np.interp(at, np.arange(1, len(walls_mm) + 1) * 2 * math.pi / (len(walls_mm) + 1), walls_mm)
    middle = bore_mm + wall / 2
    # of a curved beam: the neutral line, how far the middle of the section lies outside it, and what bends it
    neutral = wall / np.log((bore_mm + wall) / bore_mm)
    stiff = wall * (middle - neutral)
    # moments of a push of 1 N outwards at each place, in each section between it and the middle of the ring, which is held
    back = math.pi
    lies_between = ((at > back) & (at < places[:, None])) | ((at < back) & (at > places[:, None]))
    moments = np.where(lies_between, middle * np.sin(places[:, None] - at), 0.0).T
    bends = moments * np.sqrt(turn / stiff)[:, None]
    pushes = pushes_at(places, bends)
    strain = (moments @ pushes) / stiff * (neutral - bore_mm) / bore_mm
    return Opened(float(pushes.sum()), float(np.abs(strain).max()))
