"""Plain bodies by their sizes, standing on a plane: block, cylinder, cone, ball, ring, prism, wedge; and drilled holes."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..errors import StepError
from .frame import Axis, Frame
from .make import prism
from .named import NamedSolid
from .outline import Arc, Circle, Curve, Line, Vec2
from .regions import Region, find_regions
from .turn import revolve

__all__ = ["ball", "block", "cone", "cylinder", "lathed", "prism_across_flats", "ring", "wedge"]


def _closed(points: Sequence[Vec2], names: Sequence[str]) -> Region:
    """A region between straight lines; ``names[k]`` is the line from place k to the next. Lines of no length are left out."""
    lines: list[Curve] = [
        Line(name, a, b)
        for a, b, name in zip(points, [*points[1:], points[0]], names, strict=True)
        if math.dist(a, b) > 1e-9
    ]
    found = find_regions(lines)
    if len(found) != 1:
        raise StepError("These sizes give no sound body; change one of them.")
    return found[0]


def block(frame: Frame, wide_mm: float, deep_mm: float, high_mm: float, step: str) -> NamedSolid:
    """A block centred on a frame. Faces: ``step/side(left|right|front|back)``, ``step/start`` (below), ``step/end``."""
    x, y = wide_mm / 2, deep_mm / 2
    region = _closed([(-x, -y), (x, -y), (x, y), (-x, y)], ["front", "right", "back", "left"])
    return prism(region, frame, 0.0, high_mm, step)


def wedge(frame: Frame, wide_mm: float, deep_mm: float, high_mm: float, top_mm: float, step: str) -> NamedSolid:
    """A block whose right side leans in until its top is ``top_mm`` wide (0: to an edge). Its left side stands upright."""
    x, y = wide_mm / 2, deep_mm / 2
    region = _closed([(-x, 0.0), (x, 0.0), (-x + top_mm, high_mm), (-x, high_mm)], ["below", "slope", "top", "left"])
    # drawn on an upright plane through the middle, looking towards the back
    upright = Frame(frame.origin, frame.x, frame.z)
    made = prism(region, upright, -y, y, step)
    plain = {
        f"{step}/side(below)": f"{step}/start",
        f"{step}/side(top)": f"{step}/end",
        f"{step}/start": f"{step}/side(back)",
        f"{step}/end": f"{step}/side(front)",
    }
    return made.renamed(lambda n: plain.get(n, n))


def cylinder(frame: Frame, diameter_mm: float, high_mm: float, step: str) -> NamedSolid:
    """A cylinder standing on a frame. Faces: ``step/side(round)``, ``step/start``, ``step/end``."""
    (region,) = find_regions([Circle("round", (0.0, 0.0), diameter_mm / 2)])
    return prism(region, frame, 0.0, high_mm, step)


def prism_across_flats(frame: Frame, sides: int, flats_mm: float, high_mm: float, step: str) -> NamedSolid:
    """A regular prism, so wide from flat to opposite flat (with an odd number: twice from its middle to a flat)."""
    radius = flats_mm / 2 / math.cos(math.pi / sides)
    turns = [2 * math.pi * (k + 0.5) / sides - math.pi / 2 for k in range(sides)]
    places = [(radius * math.cos(t), radius * math.sin(t)) for t in turns]
    region = _closed(places, [f"flat{k + 1}" for k in range(sides)])
    return prism(region, frame, 0.0, high_mm, step)


def _upright(frame: Frame) -> tuple[Frame, Axis]:
    """The plane through a frame's ``x`` and ``z``, and the axis along ``z``."""
    return Frame(frame.origin, frame.x, frame.z), Axis(frame.origin, frame.z)


def lathed(
    frame: Frame, profile: Sequence[tuple[float, float]], names: Sequence[str], step: str, mark: str = ""
) -> NamedSolid:
    """A body turned about a frame's ``z`` from a closed half profile of (radius, height) in mm.

    ``names[k]`` is the stretch from place k to the next; faces are named ``step/<name>``, with ``(mark)`` where one is given.
    """
    plane, axis = _upright(frame)
    made = revolve(_closed(list(profile), names), plane, axis, 0.0, 2 * math.pi, step)
    tail = f"({mark})" if mark else ""
    plain = {f"{step}/side({name})": f"{step}/{name}{tail}" for name in names}
    return made.renamed(lambda n: plain.get(n, n))


def cone(frame: Frame, below_mm: float, top_mm: float, high_mm: float, step: str) -> NamedSolid:
    """A cone by the diameters below and at the top (either may be 0). Faces: ``step/side(round)``, ``step/start``, ``step/end``."""
    r, t = below_mm / 2, top_mm / 2
    made = lathed(
        frame, [(0.0, 0.0), (r, 0.0), (t, high_mm), (0.0, high_mm)], ["start", "round", "end", "middle"], step
    )
    return made.renamed(lambda n: f"{step}/side(round)" if n == f"{step}/round" else n)


def ball(frame: Frame, diameter_mm: float, step: str) -> NamedSolid:
    """A ball that rests on the frame's plane. Its face is ``step/side(round)``."""
    r = diameter_mm / 2
    plane, axis = _upright(frame.shifted(r))
    half: list[Curve] = [Arc("round", (0.0, 0.0), r, (0.0, -r), (0.0, r)), Line("middle", (0.0, r), (0.0, -r))]
    (region,) = find_regions(half)
    return revolve(region, plane, axis, 0.0, 2 * math.pi, step)


def ring(frame: Frame, outside_mm: float, thick_mm: float, step: str) -> NamedSolid:
    """A ring of a round section that rests on the frame's plane, by its outside diameter. Its face is ``step/side(round)``."""
    r = thick_mm / 2
    plane, axis = _upright(frame.shifted(r))
    (region,) = find_regions([Circle("round", (outside_mm / 2 - r, 0.0), r)])
    return revolve(region, plane, axis, 0.0, 2 * math.pi, step)
