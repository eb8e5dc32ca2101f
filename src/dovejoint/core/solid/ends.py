"""Where outlines do not close, and free curves that cross themselves; without the geometry kernel."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from .outline import Arc, Bezier, Circle, Curve, Line, Vec2, ends_of, place_at

__all__ = ["OpenEnd", "away_from", "open_ends", "unlooped"]

#: two open ends nearer to each other than this share of the drawing's size were meant to meet
_MEANT = 0.04


@dataclass(frozen=True)
class OpenEnd:
    """An end of a curve where nothing goes on; ``near`` is another such end that it was perhaps meant to meet, ``gap_mm`` away."""

    at: Vec2
    curve: str
    near: Vec2 | None = None
    near_curve: str = ""
    gap_mm: float = 0.0


def open_ends(curves: Sequence[Curve]) -> list[OpenEnd]:
    """Ends that meet no other curve, in the order of the curves. An end on the run of another curve is not open."""
    ends = [(p, k) for k, c in enumerate(curves) for p in (ends_of(c) or ())]
    if not ends:
        return []
    size = max(max(abs(p[0]), abs(p[1])) for p, _ in ends) or 1.0
    near = max(1e-6 * size, 1e-6)
    cells: dict[tuple[int, int], list[int]] = {}
    for i, (p, _) in enumerate(ends):
        cells.setdefault((round(p[0] / near / 4), round(p[1] / near / 4)), []).append(i)

    def met(i: int) -> bool:
        (x, y), _ = ends[i]
        u, v = round(x / near / 4), round(y / near / 4)
        around = (j for a in (-1, 0, 1) for b in (-1, 0, 1) for j in cells.get((u + a, v + b), ()))
        return any(j != i and math.dist(ends[j][0], (x, y)) <= near for j in around)

    loose = [
        ends[i]
        for i in range(len(ends))
        if not met(i) and all(k == ends[i][1] or away_from(ends[i][0], c) > near for k, c in enumerate(curves))
    ]
    out = []
    for i, (p, k) in enumerate(loose):
        others = [(math.dist(p, q), q, j) for n, (q, j) in enumerate(loose) if n != i]
        gap, q, j = min(others, default=(math.inf, p, k))
        meant = gap <= _MEANT * size
        out.append(OpenEnd(p, curves[k].id, q, curves[j].id, gap) if meant else OpenEnd(p, curves[k].id))
    return out


def away_from(p: Vec2, curve: Curve) -> float:
    """How far a place lies from a curve, mm; on free curves and arcs sampled and narrowed down, to a millionth of their length."""
    if isinstance(curve, Line):
        (ax, ay), (bx, by) = curve.start, curve.end
        t = ((p[0] - ax) * (bx - ax) + (p[1] - ay) * (by - ay)) / max((bx - ax) ** 2 + (by - ay) ** 2, 1e-18)
        return math.dist(p, place_at(curve, min(1.0, max(0.0, t))))
    if isinstance(curve, Arc | Circle):
        off = abs(math.dist(p, curve.centre) - curve.radius)
        if isinstance(curve, Circle) or off > 1e-3 * curve.radius:
            return off
    low, high, least = 0.0, 1.0, math.inf
    for _ in range(6):
        step = (high - low) / 24
        least, t = min((math.dist(p, place_at(curve, low + k * step)), low + k * step) for k in range(25))
        low, high = max(0.0, t - step), min(1.0, t + step)
    return least


def unlooped(curve: Curve) -> list[Curve]:
    """A cubic that crosses itself as two pieces that do not: the kernel does not see a crossing within one edge.

    With its places as c₀ + c₁t + c₂t² + c₃t³, equal places at t and s mean c₃(t² + ts + s²) + c₂(t + s) + c₁ = 0; its cross product
    with c₃ gives t + s, and that with c₂ then t·s. It is cut halfway between the two.
    """
    if not isinstance(curve, Bezier):
        return [curve]
    p0, p1, p2, p3 = curve.poles
    c1 = (3 * (p1[0] - p0[0]), 3 * (p1[1] - p0[1]))
    c2 = (3 * (p0[0] - 2 * p1[0] + p2[0]), 3 * (p0[1] - 2 * p1[1] + p2[1]))
    c3 = (p3[0] - 3 * p2[0] + 3 * p1[0] - p0[0], p3[1] - 3 * p2[1] + 3 * p1[1] - p0[1])
    turn = _cross(c2, c3)
    if abs(turn) < 1e-12:
        return [curve]
    both = -_cross(c1, c3) / turn
    # (t² + ts + s²) = (t + s)² − ts
    product = both**2 - _cross(c1, c2) / turn
    root = both**2 - 4 * product
    if root <= 1e-12:
        return [curve]
    t, s = (both - math.sqrt(root)) / 2, (both + math.sqrt(root)) / 2
    if t < -1e-9 or s > 1 + 1e-9:
        return [curve]
    return [replace(curve, poles=poles) for poles in halved(curve.poles, (t + s) / 2)]


def _cross(a: Vec2, b: Vec2) -> float:
    return a[0] * b[1] - a[1] * b[0]


_Poles = tuple[Vec2, Vec2, Vec2, Vec2]


def halved(poles: _Poles, t: float) -> tuple[_Poles, _Poles]:
    """Both sides of a cubic cut at ``t`` (de Casteljau)."""

    def mix(a: Vec2, b: Vec2) -> Vec2:
        return a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])

    a, b, c, d = poles
    ab, bc, cd = mix(a, b), mix(b, c), mix(c, d)
    abc, bcd = mix(ab, bc), mix(bc, cd)
    middle = mix(abc, bcd)
    return (a, ab, abc, middle), (middle, bcd, cd, d)
