"""Helices as splines: quintic, with evenly spaced knots, so close to the true curve that no tolerance of the kernel sees the difference.

The poles of an even spline that lie on a circle give a curve on a smaller circle, up to a ripple; poles that lie so much farther out give it on the circle itself
(with 24 spans a turn within 3e-8 of the radius). Height is linear in the angle, which a spline holds exactly.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from OCP.collections import Array1_double, Array1_int

__all__ = ["DEGREE", "SPAN_RAD", "clamped_knots", "helix_poles"]

DEGREE = 5
#: the widest span
SPAN_RAD = 2 * math.pi / 24
#: the even quintic spline at a knot (weights of the five poles that reach it)
_AT_KNOT = (1 / 120, 26 / 120, 66 / 120, 26 / 120, 1 / 120)


def helix_poles(first_rad: float, spans: int, span_rad: float = SPAN_RAD) -> list[tuple[float, float, float]]:
    """The poles (cos, sin, angle) of a helix of radius 1 that rises by its angle, from one angle over so many spans (``span_rad`` may be negative), with clamped
    ends: inside those of the even spline, at both ends the blossom of its last spans. There are ``spans + 5``."""
    out = 1 / sum(w * math.cos((k - 2) * span_rad) for k, w in enumerate(_AT_KNOT))
    # the spline runs over whole numbers, so that its knots rise also where the angle falls
    knots = [float(k - DEGREE) for k in range(spans + 1 + 2 * DEGREE)]
    even = []
    for k in range(spans + DEGREE):
        angle = first_rad + span_rad * sum(knots[k + 1 : k + 1 + DEGREE]) / DEGREE
        even.append((out * math.cos(angle), out * math.sin(angle), angle))
    clamped = [0.0] * DEGREE + knots[DEGREE : DEGREE + spans + 1] + [float(spans)] * DEGREE
    found = []
    for k, pole in enumerate(even):
        at = clamped[k + 1 : k + 1 + DEGREE]
        found.append(pole if at == knots[k + 1 : k + 1 + DEGREE] else _blossom(even, knots, at))
    return found


def clamped_knots(first: float, spans: int, span: float) -> tuple[Array1_double, Array1_int]:
    """The knots of such a spline and how often each counts, as the kernel takes them; ``span`` is above zero."""
    knots, mults = Array1_double(1, spans + 1), Array1_int(1, spans + 1)
    for k in range(spans + 1):
        knots.SetValue(k + 1, first + k * span)
        mults.SetValue(k + 1, DEGREE + 1 if k in (0, spans) else 1)
    return knots, mults


def _blossom(poles: Sequence[tuple[float, float, float]], knots: Sequence[float], at: Sequence[float]) -> tuple[float, float, float]:  # fmt: skip
    """The polar form of a spline at as many parameters as its degree (de Boor's recursion with another parameter in each round; Ramshaw 1989)."""
    p = len(at)
    middle = sorted(at)[p // 2]
    # the span that the parameters lie in or next to
    k = max(p, min(len(knots) - p - 2, max(i for i, u in enumerate(knots) if u <= middle + 1e-12)))
    d = [list(poles[k - p + i]) for i in range(p + 1)]
    for r in range(1, p + 1):
        for i in range(p, r - 1, -1):
            left, right = knots[k - p + i], knots[k + 1 + i - r]
            share = (at[r - 1] - left) / (right - left)
            d[i] = [(1 - share) * a + share * b for a, b in zip(d[i - 1], d[i], strict=True)]
    return d[p][0], d[p][1], d[p][2]
