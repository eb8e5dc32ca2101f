"""A sketch's outline as DXF or SVG, by libraries; curves stay exact."""

from __future__ import annotations

import io
import math
import xml.etree.ElementTree as ElementTree
from collections.abc import Callable, Sequence

from ..errors import CommandError
from ..solid.outline import Arc, Bezier, Circle, Curve, Ellipse, Line, Vec2, ends_of, place_at
from .outline_in import UNITS_MM

#: writes a place (mm) as the file has it
_Put = Callable[[Vec2], str]

__all__ = ["OUTLINE_TYPES", "outline_file"]

OUTLINE_TYPES = {"dxf": "image/vnd.dxf", "svg": "image/svg+xml"}


def outline_file(curves: Sequence[Curve], format: str, unit: str = "mm") -> bytes:
    """The curves (mm) as a file in a unit. Raises CommandError when there is nothing to write."""
    if not curves:
        raise CommandError("The sketch has no outline to save; construction lines are not part of it.")
    return _dxf(curves, unit) if format == "dxf" else _svg(curves, unit)


def _dxf(curves: Sequence[Curve], unit: str) -> bytes:
    import ezdxf

    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = {"mm": 4, "inch": 1}[unit]
    space, k = document.modelspace(), 1 / UNITS_MM[unit]

    def p(place: Vec2) -> Vec2:
        return place[0] * k, place[1] * k

    for c in curves:
        if isinstance(c, Line):
            space.add_line(p(c.start), p(c.end))
        elif isinstance(c, Circle):
            space.add_circle(p(c.centre), c.radius * k)
        elif isinstance(c, Arc):
            start, end = (c.end, c.start) if c.clockwise else (c.start, c.end)
            angles = (math.degrees(math.atan2(q[1] - c.centre[1], q[0] - c.centre[0])) for q in (start, end))
            space.add_arc(p(c.centre), c.radius * k, *angles)
        elif isinstance(c, Ellipse):
            ax, ay = (c.major[0] - c.centre[0]) * k, (c.major[1] - c.centre[1]) * k
            ratio = c.minor * k / math.hypot(ax, ay)
            if ratio > 1:
                # the longer half axis comes first there
                ax, ay, ratio = -ay * ratio, ax * ratio, 1 / ratio
            space.add_ellipse(p(c.centre), (ax, ay), ratio)
        else:
            space.add_open_spline([p(q) for q in c.poles], degree=3)
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def _svg(curves: Sequence[Curve], unit: str) -> bytes:
    """Runs of curves that meet are one path each, so that they can be filled or cut in one go; holes by the even-odd rule."""
    k = 1 / UNITS_MM[unit]
    places = [place_at(c, i / 32) for c in curves for i in range(33)]
    low = min(p[0] for p in places), min(p[1] for p in places)
    high = max(p[0] for p in places), max(p[1] for p in places)
    margin = 1.0
    wide, tall = ((high[i] - low[i] + 2 * margin) * k for i in (0, 1))

    def xy(p: Vec2) -> str:
        return f"{_figure((p[0] - low[0] + margin) * k)} {_figure((high[1] - p[1] + margin) * k)}"

    picture = ElementTree.Element(
        "svg", xmlns="http://www.w3.org/2000/svg", width=f"{_figure(wide)}{'in' if unit == 'inch' else 'mm'}",
        height=f"{_figure(tall)}{'in' if unit == 'inch' else 'mm'}", viewBox=f"0 0 {_figure(wide)} {_figure(tall)}",
    )  # fmt: skip
    d = []
    for run in _runs(curves):
        first = ends_of(run[0][0])
        if first is None:
            d.append(_round(run[0][0], xy, k))
            continue
        d.append(f"M{xy(first[1] if run[0][1] else first[0])}")
        d += [_step(c, back, xy, k) for c, back in run]
        last = ends_of(run[-1][0])
        begin = first[1] if run[0][1] else first[0]
        if last is not None and math.dist(last[0] if run[-1][1] else last[1], begin) < 1e-6:
            d.append("Z")
    stroke = {"fill": "none", "stroke": "black", "stroke-width": _figure(0.2 * k), "fill-rule": "evenodd"}
    ElementTree.SubElement(picture, "path", {"d": " ".join(d), **stroke})
    text: bytes = ElementTree.tostring(picture, encoding="utf-8", xml_declaration=True)
    return text


def _figure(v: float) -> str:
    return f"{v:.6f}".rstrip("0").rstrip(".") or "0"


def _step(c: Curve, back: bool, xy: _Put, k: float) -> str:
    if isinstance(c, Bezier):
        poles = c.poles[::-1] if back else c.poles
        return f"C{xy(poles[1])} {xy(poles[2])} {xy(poles[3])}"
    assert isinstance(c, Line | Arc)
    end = c.start if back else c.end
    if isinstance(c, Line):
        return f"L{xy(end)}"
    first, last = (math.atan2(q[1] - c.centre[1], q[0] - c.centre[0]) for q in (c.start, c.end))
    sweep = (first - last if c.clockwise else last - first) % (2 * math.pi)
    radius = _figure(c.radius * k)
    # y points down there: what runs counter-clockwise has the flag 0
    return f"A{radius} {radius} 0 {int(sweep > math.pi)} {int(c.clockwise != back)} {xy(end)}"


def _round(c: Curve, xy: _Put, k: float) -> str:
    """A circle or an ellipse as two halves."""
    one, two = place_at(c, 0.0), place_at(c, 0.5)
    if isinstance(c, Circle):
        radii = f"{_figure(c.radius * k)} {_figure(c.radius * k)} 0"
    else:
        assert isinstance(c, Ellipse)
        ax, ay = c.major[0] - c.centre[0], c.major[1] - c.centre[1]
        lean = -math.degrees(math.atan2(ay, ax))
        radii = f"{_figure(math.hypot(ax, ay) * k)} {_figure(c.minor * k)} {_figure(lean)}"
    return f"M{xy(one)} A{radii} 0 0 {xy(two)} A{radii} 0 0 {xy(one)} Z"


def _runs(curves: Sequence[Curve]) -> list[list[tuple[Curve, bool]]]:
    """Curves linked end to end, each with whether it is run through backwards."""
    rest = list(curves)
    out = []
    while rest:
        run = [(rest.pop(0), False)]
        here = ends_of(run[0][0])
        at = here[1] if here is not None else None
        while at is not None:
            found = None
            for c in rest:
                ends = ends_of(c)
                if ends is not None and min(math.dist(ends[0], at), math.dist(ends[1], at)) < 1e-6:
                    found = c, math.dist(ends[0], at) >= 1e-6
                    break
            if found is None:
                break
            rest.remove(found[0])
            run.append(found)
            ends = ends_of(found[0])
            assert ends is not None
            at = ends[0] if found[1] else ends[1]
        out.append(run)
    return out
