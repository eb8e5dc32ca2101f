"""A sketch's curves as plain outlines, and where they cross."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..solid.lettering import letters
from ..solid.outline import Arc, Bezier, Circle, Curve, Ellipse, Line, place_at
from .edit import Place
from .model import Sketch, SketchCurve
from .shape import place_of, round_of

__all__ = ["crossings", "outlines", "pieces_of"]


def pieces_of(sketch: Sketch, curve: SketchCurve) -> list[Curve]:
    """A curve where the sketch stands; a spline in its stretches, a text in the pieces of its letters. Raises StepError."""
    at = [place_of(sketch, p) for p in curve.points]
    if curve.kind == "line":
        return [Line(curve.id, at[0], at[1])]
    if curve.kind == "circle":
        return [Circle(curve.id, at[0], curve.radius)]
    if curve.kind == "arc":
        return [Arc(curve.id, at[0], round_of(sketch, curve)[1], at[1], at[2])]
    if curve.kind == "ellipse":
        return [Ellipse(curve.id, at[0], at[1], curve.radius)]
    if curve.kind == "text":
        return letters(curve.id, curve.text, at[0], at[1])
    return [Bezier(curve.id, (at[k], at[k + 1], at[k + 2], at[k + 3])) for k in range(0, len(at) - 1, 3)]


def outlines(sketch: Sketch) -> list[Curve]:
    """All curves that bound regions (construction curves do not). Raises StepError."""
    return [piece for c in sketch.curves if not c.construction for piece in pieces_of(sketch, c)]


def crossings(a: Curve, b: Curve) -> list[tuple[float, float, Place]]:
    """Where two curves cross within both: how far along each (0 to 1), and the place. Curves that touch count, those that run on
    each other do not."""
    if isinstance(a, Line) and isinstance(b, Line):
        return _lines(a, b)
    if isinstance(a, Line | Arc | Circle) and isinstance(b, Line | Arc | Circle):
        places = _line_round(a, b) if isinstance(a, Line) and not isinstance(b, Line) else (
            _line_round(b, a) if isinstance(b, Line) and not isinstance(a, Line) else _rounds(a, b)
        )  # fmt: skip
        found = [(_along(a, p), _along(b, p), p) for p in places]
        return [(t, s, p) for t, s, p in found if t <= 1 + 1e-9 and s <= 1 + 1e-9 and min(t, s) >= -1e-9]
    return _searched(a, b)


def _along(curve: Curve, p: Place) -> float:
    if isinstance(curve, Line):
        dx, dy = curve.end[0] - curve.start[0], curve.end[1] - curve.start[1]
        return ((p[0] - curve.start[0]) * dx + (p[1] - curve.start[1]) * dy) / (dx * dx + dy * dy)
    assert isinstance(curve, Arc | Circle)
    here = math.atan2(p[1] - curve.centre[1], p[0] - curve.centre[0])
    if isinstance(curve, Circle):
        return (here / (2 * math.pi)) % 1.0
    first, last = (math.atan2(q[1] - curve.centre[1], q[0] - curve.centre[0]) for q in (curve.start, curve.end))
    # one that ends where it began goes once round
    sweep = (last - first) % (2 * math.pi) or 2 * math.pi
    turn = (here - first) % (2 * math.pi)
    # just before the start is the start
    return (turn - 2 * math.pi if turn > 2 * math.pi - 1e-9 else turn) / sweep


def _lines(a: Line, b: Line) -> list[tuple[float, float, Place]]:
    (px, py), (rx, ry) = a.start, b.start
    dx, dy, ex, ey = a.end[0] - px, a.end[1] - py, b.end[0] - rx, b.end[1] - ry
    turn = dx * ey - dy * ex
    if abs(turn) < 1e-12:
        return []
    t, u = ((rx - px) * ey - (ry - py) * ex) / turn, ((rx - px) * dy - (ry - py) * dx) / turn
    if -1e-9 <= t <= 1 + 1e-9 and -1e-9 <= u <= 1 + 1e-9:
        return [(t, u, (px + t * dx, py + t * dy))]
    return []


def _line_round(a: Line, b: Curve) -> list[Place]:
    assert isinstance(b, Arc | Circle)
    (px, py), (cx, cy) = a.start, b.centre
    dx, dy = a.end[0] - px, a.end[1] - py
    aa, bb = dx * dx + dy * dy, 2 * (dx * (px - cx) + dy * (py - cy))
    root = bb * bb - 4 * aa * ((px - cx) ** 2 + (py - cy) ** 2 - b.radius**2)
    if root < 0:
        return []
    return [(px + t * dx, py + t * dy) for t in ((-bb + sign * math.sqrt(root)) / (2 * aa) for sign in (-1, 1))]


def _rounds(a: Curve, b: Curve) -> list[Place]:
    assert isinstance(a, Arc | Circle) and isinstance(b, Arc | Circle)
    (ax, ay), (bx, by) = a.centre, b.centre
    apart = math.dist(a.centre, b.centre)
    if apart < 1e-9 or apart > a.radius + b.radius or apart < abs(a.radius - b.radius):
        return []
    along = (apart**2 + a.radius**2 - b.radius**2) / (2 * apart)
    up = math.sqrt(max(0.0, a.radius**2 - along**2))
    ux, uy = (bx - ax) / apart, (by - ay) / apart
    return [(ax + along * ux - s * up * uy, ay + along * uy + s * up * ux) for s in (-1, 1)]


def _searched(a: Curve, b: Curve) -> list[tuple[float, float, Place]]:
    """Crossings of curves of any kind: of their chords first, then brought onto both by Newton steps."""
    n = 48
    pa, pb = ([place_at(c, k / n) for k in range(n + 1)] for c in (a, b))
    out: list[tuple[float, float, Place]] = []
    for i, j in _meeting(pa, pb):
        t, s = (i + 0.5) / n, (j + 0.5) / n
        for _ in range(30):
            (ax, ay), (bx, by) = place_at(a, t), place_at(b, s)
            if math.hypot(ax - bx, ay - by) < 1e-12:
                break
            h = 1e-6
            (au, av), (bu, bv) = place_at(a, t + h), place_at(b, s + h)
            au, av, bu, bv = (au - ax) / h, (av - ay) / h, (bu - bx) / h, (bv - by) / h
            turn = au * -bv + bu * av
            if abs(turn) < 1e-12:
                break
            rx, ry = bx - ax, by - ay
            t, s = t + (rx * -bv + bu * ry) / turn, s + (au * ry - av * rx) / turn
        (ax, ay), (bx, by) = place_at(a, t), place_at(b, s)
        within = -1e-9 <= t <= 1 + 1e-9 and -1e-9 <= s <= 1 + 1e-9
        if within and math.hypot(ax - bx, ay - by) < 1e-7 and all(math.dist(p, (ax, ay)) > 1e-6 for _, _, p in out):
            out.append((t, s, (ax, ay)))
    return out


def _meeting(pa: Sequence[Place], pb: Sequence[Place]) -> list[tuple[int, int]]:
    found = []
    for i in range(len(pa) - 1):
        one = Line("", pa[i], pa[i + 1])
        low_x, high_x = sorted((one.start[0], one.end[0]))
        low_y, high_y = sorted((one.start[1], one.end[1]))
        for j in range(len(pb) - 1):
            (px, py), (qx, qy) = pb[j], pb[j + 1]
            if max(px, qx) < low_x or min(px, qx) > high_x or max(py, qy) < low_y or min(py, qy) > high_y:
                continue
            if (px, py) != (qx, qy) and one.start != one.end and _lines(one, Line("", pb[j], pb[j + 1])):
                found.append((i, j))
    return found
