"""Hands that put two printed halves together: they shift the inner one to where it goes in best, and then push it about."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from scipy.optimize import linprog

__all__ = ["together"]

#: nothing is shifted farther than this, mm
_FAR_MM = 20.0


def together(
    sides: Sequence[Sequence[tuple[float, float, float]]], drawn_mm: Mapping[str, float], printed_mm: Mapping[str, float]
) -> tuple[float, float]:
    """Room at the best place and play of two printed halves, mm a side.

    Parameters
    ----------
    sides : for each zone the drawn gaps (gap, x, y) in directions from the inner half to the outer.
    drawn_mm, printed_mm : gap a side in the directions ``x``, ``y`` of the zones (``x1``, ``y1`` in the second, …), as drawn and as printed.
    """
    gaps, ways = [], []
    for number, zone in enumerate(sides):
        by = [printed_mm[k] - drawn_mm[k] if k in printed_mm else 0.0 for k in (f"{w}{number or ''}" for w in "xy")]
        for g, x, y in zone:
            gaps.append(g + x * x * by[0] + y * y * by[1])
            ways.append((x, y))
    bounds = [(-_FAR_MM, _FAR_MM), (-_FAR_MM, _FAR_MM)]
    # the place with the most room all round: the largest r with way·t + r ≤ gap on every side
    best = linprog([0, 0, -1], A_ub=[[x, y, 1] for x, y in ways], b_ub=gaps, bounds=[*bounds, (None, _FAR_MM)])
    room = float(-best.fun)
    if room < 0:
        return room, room
    play = 0.0
    for x, y in ways:
        stops = [linprog([-s * x, -s * y], A_ub=ways, b_ub=gaps, bounds=bounds).fun for s in (1, -1)]
        play = max(play, -sum(stops) / 2)
    return room, float(play)
