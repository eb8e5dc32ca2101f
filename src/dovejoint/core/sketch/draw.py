"""Curves drawn by hand: lines, arcs, slots and polygons, with the ties that a drawing hand means by them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from ..errors import CommandError
from .edit import Ids, Place, anchor, grown
from .model import Constraint, Dimension, Point, Sketch, SketchCurve
from .solve import SMALLEST_MM

__all__ = ["Spot", "add_arc", "add_line", "add_point", "add_polygon", "add_slot", "spot_place", "spot_point"]

#: a place, and the point that was pointed at there, if any
Spot = tuple[Place, str | None]


def spot_point(sketch: Sketch, ids: Ids, spot: Spot, points: list[Point]) -> str:
    return anchor(sketch, ids, spot[0], points, spot[1])


def spot_place(sketch: Sketch, spot: Spot) -> Place:
    point = sketch.point(spot[1]) if spot[1] is not None else None
    return (point.x, point.y) if point is not None else spot[0]


def centre_over(a: Place, b: Place, c: Place) -> Place | None:
    """The centre of the circle over three places; nothing when they lie all but in one line."""
    (ax, ay), (bx, by), (cx, cy) = a, b, c
    twice = 2 * ((bx - ax) * (cy - ay) - (by - ay) * (cx - ax))
    if abs(twice) <= 1e-6 * max(math.dist(a, b), math.dist(a, c)) ** 2:
        return None
    b2, c2 = (bx - ax) ** 2 + (by - ay) ** 2, (cx - ax) ** 2 + (cy - ay) ** 2
    return ax + ((cy - ay) * b2 - (by - ay) * c2) / twice, ay + ((bx - ax) * c2 - (cx - ax) * b2) / twice


def add_point(sketch: Sketch, spot: Spot) -> Sketch:
    """A point by itself, to tie and size other things to."""
    if spot[1] is not None:
        raise CommandError("There is a point already.")
    return grown(sketch, [Point(id=Ids(sketch).new("p"), x=spot[0][0], y=spot[0][1])], [], [], [])


def add_line(
    sketch: Sketch, start: Spot, end: Spot, *, tie: str = "", to: str = "", length: str = "", construction: bool = False
) -> Sketch:
    """A line between two spots.

    Parameters
    ----------
    tie : what was meant while drawing: ``horizontal``, ``vertical``, or ``parallel``, ``perpendicular``, ``tangent`` with the curve ``to``.
    length : formula of a dimension that comes with it.
    """
    if math.dist(spot_place(sketch, start), spot_place(sketch, end)) < SMALLEST_MM:
        raise CommandError("A line needs two ends apart.")
    ids, points = Ids(sketch), list[Point]()
    line = SketchCurve(
        id=ids.new("l"), kind="line", points=[spot_point(sketch, ids, start, points), spot_point(sketch, ids, end, points)],
        construction=construction,
    )  # fmt: skip
    if line.points[0] == line.points[1]:
        raise CommandError("A line needs two ends apart.")
    ties = []
    if tie in ("horizontal", "vertical"):
        ties.append(Constraint(id=ids.new("k"), kind=tie, of=[line.id]))  # type: ignore[arg-type]
    elif tie in ("parallel", "perpendicular", "tangent") and sketch.curve(to) is not None:
        ties.append(Constraint(id=ids.new("k"), kind=tie, of=[to, line.id]))  # type: ignore[arg-type]
    elif tie:
        raise CommandError(f"A line cannot be drawn {tie}.")
    sizes = [Dimension(id=ids.new("d"), kind="length", of=[line.id], formula=length)] if length else []
    return grown(sketch, points, [line], ties, sizes)


def add_arc(
    sketch: Sketch, start: Spot, end: Spot, through: Place, *, tangent: str = "", construction: bool = False
) -> Sketch:
    """An arc from one spot to another through a place; ``tangent`` is a curve that it runs on from smoothly."""
    (ax, ay), (bx, by), (cx, cy) = spot_place(sketch, start), spot_place(sketch, end), through
    if math.dist((ax, ay), (bx, by)) < SMALLEST_MM:
        raise CommandError("An arc needs two ends apart.")
    centre = centre_over((ax, ay), (bx, by), through)
    if centre is None or max(map(abs, centre)) > 5e4:
        raise CommandError("The three places of the arc lie all but in one line; it needs one beside it.")
    left = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax) > 0
    ids, points = Ids(sketch), list[Point]()
    one, two = spot_point(sketch, ids, start, points), spot_point(sketch, ids, end, points)
    points.append(Point(id=ids.new("p"), x=centre[0], y=centre[1]))
    # it runs counter-clockwise: from start over the place between to the end, or the other way round
    order = [two, one] if left else [one, two]
    arc = SketchCurve(id=ids.new("a"), kind="arc", points=[points[-1].id, *order], construction=construction)
    ties = []
    if tangent:
        if sketch.curve(tangent) is None:
            raise CommandError("The curve that this was to run on from is not there any more.")
        ties.append(Constraint(id=ids.new("k"), kind="tangent", of=[tangent, arc.id]))
    return grown(sketch, points, [arc], ties, [])


def add_slot(
    sketch: Sketch, first: Spot, second: Spot, radius_mm: float, *, width: str = "", length: str = ""
) -> Sketch:
    """A slot: two parallel sides with round ends about two centres. ``width`` is across it, ``length`` between the centres."""
    (ax, ay), (bx, by) = spot_place(sketch, first), spot_place(sketch, second)
    apart = math.dist((ax, ay), (bx, by))
    if apart < SMALLEST_MM or radius_mm < SMALLEST_MM:
        raise CommandError("A slot needs two centres apart, and a width.")
    ids, points = Ids(sketch), list[Point]()
    a, b = spot_point(sketch, ids, first, points), spot_point(sketch, ids, second, points)
    nx, ny = -(by - ay) / apart * radius_mm, (bx - ax) / apart * radius_mm

    def put(x: float, y: float) -> str:
        points.append(Point(id=ids.new("p"), x=x, y=y))
        return points[-1].id

    p, q, r, s = put(ax + nx, ay + ny), put(ax - nx, ay - ny), put(bx - nx, by - ny), put(bx + nx, by + ny)
    lines = [
        SketchCurve(id=ids.new("l"), kind="line", points=ends, construction=built)
        for ends, built in (([q, r], False), ([s, p], False), ([a, b], True))
    ]
    arcs = [SketchCurve(id=ids.new("a"), kind="arc", points=ends) for ends in ([a, p, q], [b, r, s])]
    pairs: list[tuple[Any, list[str]]] = [
        ("tangent", [lines[0].id, arcs[0].id]), ("tangent", [lines[0].id, arcs[1].id]), ("tangent", [lines[1].id, arcs[0].id]),
        ("tangent", [lines[1].id, arcs[1].id]), ("equal", [arcs[0].id, arcs[1].id]),
    ]  # fmt: skip
    ties = [Constraint(id=ids.new("k"), kind=kind, of=of) for kind, of in pairs]
    sizes = [Dimension(id=ids.new("d"), kind="length", of=[lines[2].id], formula=length)] if length else []
    if width:
        sizes.append(Dimension(id=ids.new("d"), kind="diameter", of=[arcs[0].id], formula=width))
    return grown(sketch, points, [*lines, *arcs], ties, sizes)


def add_polygon(
    sketch: Sketch, centre: Spot, corner: Place, sides: int, *, flats: str = "", corners: str = ""
) -> Sketch:
    """A regular polygon: equal sides with their corners on a construction circle.

    ``flats`` sizes the circle within it (for a nut, across its flats), ``corners`` the one round it; either is a formula of a diameter.
    """
    if not 3 <= sides <= 60:
        raise CommandError("A polygon has 3 to 60 sides.")
    cx, cy = spot_place(sketch, centre)
    radius, turn = math.dist((cx, cy), corner), math.atan2(corner[1] - cy, corner[0] - cx)
    if radius < SMALLEST_MM:
        raise CommandError("A polygon needs a corner away from its middle.")
    ids, points = Ids(sketch), list[Point]()
    middle = spot_point(sketch, ids, centre, points)
    names = []
    for k in range(sides):
        angle = turn + 2 * math.pi * k / sides
        points.append(Point(id=ids.new("p"), x=cx + radius * math.cos(angle), y=cy + radius * math.sin(angle)))
        names.append(points[-1].id)
    lines = [SketchCurve(id=ids.new("l"), kind="line", points=[names[k], names[(k + 1) % sides]]) for k in range(sides)]
    round_it = SketchCurve(id=ids.new("c"), kind="circle", points=[middle], radius=radius, construction=True)
    ties = [Constraint(id=ids.new("k"), kind="point_on", of=[name, round_it.id]) for name in names]
    ties.append(Constraint(id=ids.new("k"), kind="equal", of=[line.id for line in lines]))
    curves = [*lines, round_it]
    sizes: Sequence[Dimension] = ()
    if flats:
        inner = radius * math.cos(math.pi / sides)
        curves.append(SketchCurve(id=ids.new("c"), kind="circle", points=[middle], radius=inner, construction=True))
        ties.append(Constraint(id=ids.new("k"), kind="tangent", of=[lines[0].id, curves[-1].id]))
        sizes = [Dimension(id=ids.new("d"), kind="diameter", of=[curves[-1].id], formula=flats)]
    elif corners:
        sizes = [Dimension(id=ids.new("d"), kind="diameter", of=[round_it.id], formula=corners)]
    return grown(sketch, points, curves, ties, sizes)
