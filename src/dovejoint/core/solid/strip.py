"""Strips: walls of one thickness along the lines of a sketch."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from ..errors import StepError
from .combine import fuse
from .named import NamedSolid
from .outline import Arc, Circle, Curve, Line, Vec2, ends_of
from .regions import Region, find_regions

__all__ = ["strips"]


def strips(
    curves: Sequence[Curve], thick_mm: float, pulled: Callable[[Region, str], NamedSolid], step: str
) -> NamedSolid:
    """Walls along lines, arcs and circles, as thick as they are told on both sides together, each strip ``pulled`` up into a solid under its mark.

    Where lines meet, walls are joined by a round post as wide as they are thick; open ends are cut off square. Faces are named
    ``step/left(curve)`` and ``step/right(curve)`` (looking along the curve), ``step/post(…)``, ``step/start`` and ``step/end``.

    Raises
    ------
    StepError : a curve is none of those, or bends more closely than the wall is thick.
    """
    pieces = []
    for curve in curves:
        solid = pulled(_strip(curve, thick_mm / 2), curve.id)
        pieces.append(solid.renamed(_plain(step, curve.id)))
    for name, place in _meetings(curves).items():
        (post,) = find_regions([Circle("post", place, thick_mm / 2)])
        made = pulled(post, name)
        pieces.append(made.renamed(_plain(step, name)))
    return pieces[0] if len(pieces) == 1 else fuse(pieces[0], pieces[1:], step)


def _plain(step: str, id: str) -> Callable[[str], str]:
    words = {f"{step}/side({word})": f"{step}/{word}({id})" for word in ("left", "right", "from", "to", "post")}
    words |= {f"{step}/{end}({id})": f"{step}/{end}" for end in ("start", "end")}
    return lambda name: words.get(name, name)


def _strip(curve: Curve, half: float) -> Region:
    """The area within a distance of a curve, cut off square at its ends."""
    if isinstance(curve, Circle):
        if half >= curve.radius - 1e-6:
            raise StepError("A circle is smaller than the wall along it; make the wall thinner.")
        rings = find_regions(
            [Circle("left", curve.centre, curve.radius - half), Circle("right", curve.centre, curve.radius + half)]
        )
        return next(r for r in rings if len(r.loops) > 1)
    if isinstance(curve, Line):
        (ax, ay), (bx, by) = curve.start, curve.end
        size = math.dist(curve.start, curve.end)
        nx, ny = -(by - ay) / size * half, (bx - ax) / size * half
        a, b, c, d = (ax - nx, ay - ny), (bx - nx, by - ny), (bx + nx, by + ny), (ax + nx, ay + ny)
        (found,) = find_regions([Line("right", a, b), Line("to", b, c), Line("left", c, d), Line("from", d, a)])
        return found
    if isinstance(curve, Arc):
        if half >= curve.radius - 1e-6:
            raise StepError("An arc bends more closely than the wall along it is thick; make the wall thinner.")

        def out(p: Vec2, by: float) -> Vec2:
            share = (curve.radius + by) / curve.radius
            return curve.centre[0] + (p[0] - curve.centre[0]) * share, curve.centre[1] + (
                p[1] - curve.centre[1]
            ) * share

        inner, outer = ("right", "left") if curve.clockwise else ("left", "right")
        ends = [out(p, by) for p in (curve.start, curve.end) for by in (-half, half)]
        sectors = find_regions([
            Arc(inner, curve.centre, curve.radius - half, ends[0], ends[2], curve.clockwise),
            Arc(outer, curve.centre, curve.radius + half, ends[1], ends[3], curve.clockwise),
            Line("from", ends[0], ends[1]),
            Line("to", ends[2], ends[3]),
        ])  # fmt: skip
        return sectors[0]
    raise StepError("A wall runs along lines, arcs and circles; this outline has a free curve.")


def _meetings(curves: Sequence[Curve]) -> dict[str, Vec2]:
    """Places where ends of curves meet, by the names of those curves."""
    at: dict[Vec2, list[str]] = {}
    for curve in curves:
        for end in ends_of(curve) or ():
            at.setdefault((round(end[0], 6) + 0.0, round(end[1], 6) + 0.0), []).append(curve.id)
    return {"+".join(sorted(ids)): place for place, ids in at.items() if len(ids) > 1}
