"""Dividing a solid by a plane, or by lines that go through it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism

from ..errors import StepError
from .combine import common, cut
from .ends import OpenEnd, open_ends
from .frame import Frame, box_corners, dot, length, scale, sub
from .kernel import plane, vector
from .make import prism
from .measure import bounds
from .named import NamedSolid
from .outline import Arc, Bezier, Circle, Curve, Line, Vec2, ends_of, extent
from .regions import find_regions, inside

__all__ = ["side_of", "side_of_lines"]

#: a plane must go at least so deep into a solid to divide it, mm
LEAST_MM = 1e-4


def side_of(solid: NamedSolid, across: Frame, step: str, over: bool) -> NamedSolid:
    """What of a solid lies over a frame's plane (the way its ``z`` points), or under it. The new face is named ``step/divide``.

    Raises
    ------
    StepError : the plane does not go through the solid.
    """
    corners = box_corners(*bounds(solid.shape))
    heights = [dot(sub(corner, across.origin), across.z) for corner in corners]
    if min(heights) > -LEAST_MM or max(heights) < LEAST_MM:
        # the box of the part says how far away it is where the plane is level with it
        away = max(min(heights), -max(heights), 0.0)
        square = max(abs(c) for c in across.z) > 1 - 1e-9 and away > LEAST_MM
        begins = f"which begins {away:.4g} mm from it, " if square else ""
        raise StepError(f"The plane does not go through the part, {begins}so there is nothing to divide.")
    # a block that takes all of one side away, however the solid lies to the frame's origin
    reach = 2 * max(length(sub(corner, across.origin)) for corner in corners) + 1.0
    face = BRepBuilderAPI_MakeFace(plane(across), -reach, reach, -reach, reach).Face()
    block = BRepPrimAPI_MakePrism(face, vector(scale(across.z, -reach if over else reach))).Shape()
    names = [(f"{step}/beyond.{k}",) for k in range(1, 7)]
    tool = NamedSolid(block, names)
    flat = [k for k, f in enumerate(tool.faces) if f.IsSame(face)]
    if flat:
        names[flat[0]] = (f"{step}/divide",)
        tool = NamedSolid(block, names)
    return cut(solid, [tool], step)


def side_of_lines(solid: NamedSolid, curves: Sequence[Curve], frame: Frame, step: str, over: bool) -> NamedSolid:
    """What of a solid lies on one side of lines, which go square to their plane through all of it: on their left (``over``) as they
    run from the first loose end, or within them where they close; or on the other side. Loose ends run on straight. New faces are named
    ``step/divide(curve)``.

    Raises
    ------
    StepError : the lines are no one chain, cross themselves, or do not go through the solid.
    """
    corners = [frame.to_local(corner) for corner in box_corners(*bounds(solid.shape))]
    (wide, deep), (x, y) = extent(curves)
    # a circle round the part and the lines
    west, east = min(x - wide / 2, *(c[0] for c in corners)), max(x + wide / 2, *(c[0] for c in corners))
    south, north = min(y - deep / 2, *(c[1] for c in corners)), max(y + deep / 2, *(c[1] for c in corners))
    middle, reach = ((west + east) / 2, (south + north) / 2), math.hypot(east - west, north - south) + 1.0
    lone = StepError("The lines that divide a part run on from one loose end to the other, or all round; draw one such chain.")  # fmt: skip
    loose = open_ends(curves)
    if len(loose) not in (0, 2):
        raise lone
    drawn = list(curves)
    for k, end in enumerate(loose):
        drawn = _run_on(drawn, end, 3 * reach, f"beyond.{k}")
    found = [
        r
        for r in find_regions([*drawn, Circle("round", middle, reach)])
        if math.dist(r.centre, middle) < reach and all(math.dist(p, middle) < reach * 1.001 for p in r.loops[0])
    ]
    if len(found) != 2:
        raise lone
    if loose:
        left = _left_of(next(c for c in curves if c.id == loose[0].curve), loose[0].at)
        mine = [inside(left, r.loops[0]) for r in found]
    else:
        # the one that the circle does not bound
        mine = [all(curve != "round" for _, curve in r.edges) for r in found]
    if mine.count(True) != 1:
        raise lone
    away = found[mine.index(not over)]
    start, end_mm = min(c[2] for c in corners) - 1.0, max(c[2] for c in corners) + 1.0
    tool = prism(away, frame, start, end_mm, step).renamed(
        lambda name: name.replace(f"{step}/side(", f"{step}/divide(")
    )
    try:
        return cut(solid, [tool], step)
    except StepError:
        shared, _ = common(solid, tool)
        if 1e-6 < shared < solid.volume_mm3 * (1 - 1e-9):
            raise
        raise StepError("The lines do not go through the part, so there is nothing to divide.") from None


def _onward(curve: Curve, at: Vec2) -> Vec2:
    """The unit direction in which a curve would run on beyond one of its ends."""
    ends = ends_of(curve)
    assert ends is not None
    first = math.dist(at, ends[0]) <= math.dist(at, ends[1])
    if isinstance(curve, Arc):
        x, y = at[0] - curve.centre[0], at[1] - curve.centre[1]
        way = (y, -x) if first != curve.clockwise else (-y, x)
    else:
        poles = curve.poles if isinstance(curve, Bezier) else ends
        inner = next((p for p in (poles[1:] if first else poles[-2::-1]) if math.dist(p, at) > 1e-9), at)
        way = (at[0] - inner[0], at[1] - inner[1])
    size = math.hypot(*way) or 1.0
    return (way[0] / size, way[1] / size)


def _run_on(curves: list[Curve], end: OpenEnd, by_mm: float, name: str) -> list[Curve]:
    """A chain whose loose end runs on straight: a line becomes longer, anything else gets a line."""
    curve = next(c for c in curves if c.id == end.curve)
    way = _onward(curve, end.at)
    beyond = (end.at[0] + by_mm * way[0], end.at[1] + by_mm * way[1])
    if not isinstance(curve, Line):
        return [*curves, Line(name, end.at, beyond)]
    first = math.dist(end.at, curve.start) <= math.dist(end.at, curve.end)
    longer = replace(curve, start=beyond) if first else replace(curve, end=beyond)
    return [longer if c is curve else c for c in curves]


def _left_of(curve: Curve, at: Vec2) -> Vec2:
    """A place close to the left of a curve, as it runs on from one of its ends, near that end."""
    x, y = _onward(curve, at)
    # a little before the end, where nothing else of the chain is near
    aside = 1e-3
    return (at[0] + aside * (x + y), at[1] + aside * (y - x))
