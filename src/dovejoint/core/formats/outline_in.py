"""Outlines from DXF and SVG files, cleaned so that a sketch can use them.

Lines, arcs, circles and ellipses stay what they are; other curves become cubic splines. Ends that lie in one place all but a hair are
brought together, pieces that lie twice are dropped, and what is no outline is counted and said.
"""

from __future__ import annotations

import io
import math
import re
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from ..errors import FileError
from ..solid.outline import Arc, Bezier, Circle, Curve, Ellipse, Line, Vec2, ends_of, place_at

__all__ = ["UNITS_MM", "Outline", "read_outline"]

#: what one unit of a file can be, mm; a point is 1/72 inch, a pixel 1/96 (CSS Values and Units 3)
UNITS_MM = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "inch": 25.4, "point": 25.4 / 72, "pixel": 25.4 / 96}
#: $INSUNITS of DXF (Autodesk's published DXF reference, group code 70)
_DXF_UNITS = {1: "inch", 4: "mm", 5: "cm", 6: "m"}
#: ends nearer than this share of the whole, and than this at most, are one
_NEAR_SHARE, _NEAR_MM = 2e-4, 0.05
MOST_CURVES = 800
MOST_SIZE_MM = 5e3
#: what a file may hold before it is worked out
MOST_SHAPES, MOST_NESTED, MOST_PATH_SIGNS, MOST_COPIES = 20_000, 40, 1_500_000, 2_000


@dataclass
class Outline:
    """``curves`` in mm about the middle of what they cover, as sketches keep them."""

    curves: list[dict[str, Any]]
    unit: str
    width_mm: float
    height_mm: float
    closed: int
    open: int
    mended: list[str] = field(default_factory=list)
    left_out: list[str] = field(default_factory=list)

    def as_dict(self) -> dict[str, Any]:
        return dict(self.__dict__)


def read_outline(name: str, text: str, unit: str = "file", scale: float = 1.0) -> Outline:
    """Read an outline.

    Parameters
    ----------
    unit : what one of the file's units is; ``file`` takes what it says itself (mm when it says nothing).
    scale : everything so many times larger.

    Raises
    ------
    FileError : it is no such file, holds no outline, or too much of one.
    """
    left: Counter[str] = Counter()
    if name.lower().endswith(".dxf"):
        own, curves = _dxf(text, left)
    elif name.lower().endswith(".svg"):
        own, curves = _svg(text, left)
    else:
        raise FileError("An outline is read from a file that ends in .dxf or .svg.")
    used = own if unit == "file" else unit
    factor = UNITS_MM[used] * scale
    curves = [_scaled(c, factor) for c in curves]
    if not curves:
        raise FileError("There is no outline in this file: no line, arc, circle or curve.")
    if any(not all(map(math.isfinite, p)) for c in curves for p in _box(c)):
        raise FileError("The file holds places that are no figures.")
    low = [min(p[k] for c in curves for p in _box(c)) for k in (0, 1)]
    high = [max(p[k] for c in curves for p in _box(c)) for k in (0, 1)]
    size = max(high[0] - low[0], high[1] - low[1])
    if size > MOST_SIZE_MM or size < 1e-3:
        raise FileError(f"In {used} the outline would be {size:.3g} mm large; choose another unit or scale it.")
    curves = [_moved(c, (-(low[0] + high[0]) / 2, -(low[1] + high[1]) / 2)) for c in curves]
    near = min(_NEAR_MM, _NEAR_SHARE * size)
    curves, mended = _cleaned(curves, near)
    drawn = _as_drawn(curves)
    if len(drawn) > MOST_CURVES:
        raise FileError(
            f"The outline has {len(drawn)} curves; a sketch takes {MOST_CURVES} at once. Simplify it first."
        )
    ends = Counter(_cell(p, near) for c in curves for p in (ends_of(c) or ()))
    loose = sum(1 for n in ends.values() if n == 1)
    whole = sum(1 for c in curves if ends_of(c) is None)
    said = [f"{n} × {what}" for what, n in sorted(left.items())]
    return Outline(drawn, used, high[0] - low[0], high[1] - low[1], whole + _loops(curves, near), loose, mended, said)


# ---- files ---------------------------------------------------------------------------------------------------------


def _dxf(text: str, left: Counter[str]) -> tuple[str, list[Curve]]:
    import ezdxf
    from ezdxf import recover

    try:
        document, _ = recover.read(io.BytesIO(text.encode("utf-8", "surrogateescape")))
    except (ezdxf.DXFError, OSError, ValueError, KeyError, IndexError, TypeError, AttributeError):
        raise FileError("This is not a DXF file that can be read.") from None
    out: list[Curve] = []
    room = _Room()
    try:
        for entity in document.modelspace():
            _dxf_entity(entity, out, left, 0, room)
    except (ezdxf.DXFError, ValueError, KeyError, IndexError, TypeError, AttributeError, ZeroDivisionError):
        raise FileError("This DXF file holds something that cannot be read; save it as plain lines and arcs.") from None
    return _DXF_UNITS.get(int(document.header.get("$INSUNITS", 0)), "mm"), out


class _Room:
    """How many entities may still be taken from a DXF file, those of blocks and of their copies counted each time."""

    def __init__(self) -> None:
        self.left = MOST_SHAPES

    def take(self, count: int = 1) -> None:
        self.left -= count
        if self.left < 0:
            raise FileError(f"The drawing holds more than {MOST_SHAPES} pieces; simplify it first.")


def _dxf_entity(entity: Any, out: list[Curve], left: Counter[str], depth: int, room: _Room) -> None:
    from ezdxf import path as paths

    room.take()

    kind = entity.dxftype()
    flat = getattr(entity.dxf, "extrusion", None)
    upright = flat is None or abs(flat[2] - 1) < 1e-9
    if kind == "LINE":
        a, b = entity.dxf.start, entity.dxf.end
        out.append(Line("", (a[0], a[1]), (b[0], b[1])))
    elif kind == "CIRCLE" and upright:
        c = entity.dxf.center
        out.append(Circle("", (c[0], c[1]), float(entity.dxf.radius)))
    elif kind == "ARC" and upright:
        c, s, e = entity.dxf.center, entity.start_point, entity.end_point
        out.append(Arc("", (c[0], c[1]), float(entity.dxf.radius), (s[0], s[1]), (e[0], e[1])))
    elif kind == "POLYLINE" and not (entity.is_2d_polyline or entity.is_3d_polyline):
        left["mesh"] += 1
    elif kind == "INSERT" and depth < 8:
        if entity.mcount > MOST_COPIES:
            raise FileError(f"A block stands in the drawing {entity.mcount} times; {MOST_COPIES} are the most.")
        # one that stands in rows and columns is as many
        for copy in entity.multi_insert() if entity.mcount > 1 else (entity,):
            for part in copy.virtual_entities():
                _dxf_entity(part, out, left, depth + 1, room)
    elif kind in ("LWPOLYLINE", "POLYLINE"):
        for part in entity.virtual_entities():
            _dxf_entity(part, out, left, depth + 1, room)
    elif kind in ("ELLIPSE", "SPLINE", "CIRCLE", "ARC"):
        turn = abs(entity.dxf.end_param - entity.dxf.start_param) if kind == "ELLIPSE" else 0.0
        if kind == "ELLIPSE" and upright and abs(turn - 2 * math.pi) < 1e-9:
            c, m = entity.dxf.center, entity.dxf.major_axis
            half = math.hypot(m[0], m[1])
            out.append(Ellipse("", (c[0], c[1]), (c[0] + m[0], c[1] + m[1]), half * float(entity.dxf.ratio)))
            return
        path = paths.make_path(entity)
        here = path.start
        for step in path.commands():
            there = step.end
            if step.type == paths.Command.LINE_TO:
                out.append(Line("", (here[0], here[1]), (there[0], there[1])))
            elif step.type == paths.Command.CURVE4_TO:
                poles = [(p[0], p[1]) for p in (here, step.ctrl1, step.ctrl2, there)]
                out.append(Bezier("", (poles[0], poles[1], poles[2], poles[3])))
            elif step.type == paths.Command.CURVE3_TO:
                out.append(_raised((here[0], here[1]), (step.ctrl[0], step.ctrl[1]), (there[0], there[1])))
            here = there
    else:
        left[kind.lower()] += 1


def _raised(a: Vec2, b: Vec2, c: Vec2) -> Bezier:
    """A quadratic Bézier as a cubic."""
    one, two = ((p[0] + 2 / 3 * (b[0] - p[0]), p[1] + 2 / 3 * (b[1] - p[1])) for p in (a, c))
    return Bezier("", (a, one, two, c))


def _counted_svg(text: str) -> None:
    """Refuse an SVG that swells when it is read: entities, shapes used in shapes used in shapes, endless paths.

    Everything is counted on the tree as it stands in the file, before any of it is worked out.
    """
    import xml.etree.ElementTree as ElementTree

    from defusedxml import DefusedXmlException
    from defusedxml import ElementTree as Defused

    try:
        root = Defused.fromstring(text, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except DefusedXmlException:
        raise FileError("This SVG file declares entities, which are not read; save it as a plain SVG.") from None
    except (ElementTree.ParseError, ValueError, RecursionError):
        raise FileError("This is not an SVG file that can be read.") from None
    by_id = {e.get("id"): e for e in root.iter() if e.get("id")}
    sizes: dict[int, int] = {}

    def size(element: Any, depth: int) -> int:
        """How many shapes an element stands for, with those that it uses."""
        if depth > MOST_NESTED:
            raise FileError(f"The drawing is nested more than {MOST_NESTED} deep; simplify it first.")
        known = sizes.get(id(element))
        if known is not None:
            return known
        total = 1 + sum(size(child, depth + 1) for child in element)
        if str(element.tag).rpartition("}")[2] == "use":
            name = element.get("{http://www.w3.org/1999/xlink}href") or element.get("href") or ""
            used = by_id.get(name.removeprefix("#"))
            total += size(used, depth + 1) if used is not None else 0
        if total > MOST_SHAPES:
            raise FileError(f"The drawing holds more than {MOST_SHAPES} shapes; simplify it first.")
        sizes[id(element)] = total
        return total

    size(root, 0)
    if sum(len(e.get("d", "")) + len(e.get("points", "")) for e in root.iter()) > MOST_PATH_SIGNS:
        raise FileError("The drawing's paths are too long; simplify it first.")


def _svg(text: str, left: Counter[str]) -> tuple[str, list[Curve]]:
    """Units of an SVG are CSS pixels once its own are worked out; y points down there and up here."""
    import xml.etree.ElementTree as ElementTree

    import svgelements as svg

    _counted_svg(text)
    try:
        picture = svg.SVG.parse(io.StringIO(text), reify=True, ppi=96.0)
        elements = list(picture.elements())
    except (
        ElementTree.ParseError,
        ValueError,
        TypeError,
        AttributeError,
        IndexError,
        ZeroDivisionError,
        RecursionError,
    ):
        raise FileError("This is not an SVG file that can be read.") from None
    out: list[Curve] = []
    for element in elements:
        if isinstance(element, svg.Shape):
            if (
                str(element.values.get("visibility", "")) == "hidden"
                or str(element.values.get("display", "")) == "none"
            ):
                left["hidden shape"] += 1
                continue
            out += _whole_circles([c for segment in svg.Path(element) for c in _svg_segment(segment)])
        elif isinstance(element, svg.Text | svg.Image):
            left["text (make it outlines first)" if isinstance(element, svg.Text) else "picture"] += 1
    # the library takes a millimetre for 0.0393701 inch; a file in millimetres is put right by what that is off
    start = text.find("<svg")
    head = text[start : text.find(">", start)][:4000]
    metric = re.search(r"\bwidth\s*=\s*[\"'][\d.eE+-]{1,40}\s{0,9}[mc]m", head)
    return "pixel", [_scaled(_flipped(c), 1 / 25.4 / 0.0393701 if metric else 1.0) for c in out]


def _svg_segment(segment: Any) -> Iterator[Curve]:
    import svgelements as svg

    if isinstance(segment, svg.Line | svg.Close):
        # a path may close where it is closed already
        ends = segment.start, segment.end
        if None not in ends and not (isinstance(segment, svg.Close) and math.dist(_xy(ends[0]), _xy(ends[1])) < 1e-9):
            yield Line("", _xy(segment.start), _xy(segment.end))
    elif isinstance(segment, svg.CubicBezier):
        yield Bezier("", (_xy(segment.start), _xy(segment.control1), _xy(segment.control2), _xy(segment.end)))
    elif isinstance(segment, svg.QuadraticBezier):
        yield _raised(_xy(segment.start), _xy(segment.control), _xy(segment.end))
    elif isinstance(segment, svg.Arc):
        rx, ry = float(segment.rx), float(segment.ry)
        if abs(rx - ry) <= 1e-6 * max(rx, ry) and _xy(segment.start) != _xy(segment.end):
            turns_left = float(segment.sweep) > 0
            ends = (_xy(segment.start), _xy(segment.end))
            # with y down a positive sweep runs clockwise to the eye; counter-clockwise in plain coordinates
            start, end = ends if turns_left else (ends[1], ends[0])
            yield Arc("", _xy(segment.center), rx, start, end)
            return
        for cubic in segment.as_cubic_curves():
            yield from _svg_segment(cubic)


def _whole_circles(curves: Sequence[Curve]) -> list[Curve]:
    """Arcs one after another that go once round their centre are one circle."""
    out: list[Curve] = []
    run: list[Arc] = []

    def turn(a: Arc) -> float:
        first, last = (math.atan2(p[1] - a.centre[1], p[0] - a.centre[0]) for p in (a.start, a.end))
        return (last - first) % (2 * math.pi)

    def flush() -> None:
        if len(run) > 1 and abs(sum(map(turn, run)) - 2 * math.pi) < 1e-4:
            out.append(Circle("", run[0].centre, run[0].radius))
        else:
            out.extend(run)
        run.clear()

    for c in curves:
        same = (
            isinstance(c, Arc)
            and run
            and math.dist(c.centre, run[0].centre) + abs(c.radius - run[0].radius) < 1e-4 * c.radius
        )
        if run and (not same or abs(sum(map(turn, run)) - 2 * math.pi) < 1e-4):
            flush()
        if isinstance(c, Arc):
            run.append(c)
        else:
            out.append(c)
    flush()
    return out


def _counted(n: int, one: str, many: str) -> str:
    return f"1 {one}" if n == 1 else f"{n} {many}"


def _xy(p: Any) -> Vec2:
    return float(p.x), float(p.y)


# ---- shaping -------------------------------------------------------------------------------------------------------


def _flipped(c: Curve) -> Curve:
    """With y the other way up. What ran counter-clockwise then runs clockwise, so arcs change their ends."""

    def f(p: Vec2) -> Vec2:
        return p[0], -p[1]

    if isinstance(c, Arc):
        return replace(c, centre=f(c.centre), start=f(c.end), end=f(c.start))
    return _each(c, f, 1.0)


def _scaled(c: Curve, k: float) -> Curve:
    return _each(c, lambda p: (p[0] * k, p[1] * k), k)


def _moved(c: Curve, by: Vec2) -> Curve:
    return _each(c, lambda p: (p[0] + by[0], p[1] + by[1]), 1.0)


def _each(c: Curve, f: Any, k: float) -> Curve:
    if isinstance(c, Line):
        return replace(c, start=f(c.start), end=f(c.end))
    if isinstance(c, Arc):
        return replace(c, centre=f(c.centre), start=f(c.start), end=f(c.end), radius=c.radius * k)
    if isinstance(c, Circle):
        return replace(c, centre=f(c.centre), radius=c.radius * k)
    if isinstance(c, Ellipse):
        return replace(c, centre=f(c.centre), major=f(c.major), minor=c.minor * k)
    return replace(c, poles=(f(c.poles[0]), f(c.poles[1]), f(c.poles[2]), f(c.poles[3])))


def _box(c: Curve) -> list[Vec2]:
    return [place_at(c, k / 16) for k in range(17)]


def _cell(p: Vec2, near: float) -> tuple[int, int]:
    return round(p[0] / near / 2), round(p[1] / near / 2)


def _cleaned(curves: Sequence[Curve], near: float) -> tuple[list[Curve], list[str]]:
    """Without pieces of no length and pieces that lie twice, ends brought together."""
    mended = []
    real = [c for c in curves if max(math.dist(p, _box(c)[0]) for p in _box(c)) > near]
    if len(real) < len(curves):
        mended.append(_counted(len(curves) - len(real), "piece of no length dropped", "pieces of no length dropped"))
    # ends of arcs come first: a line can be bent to them, an arc not to a line
    order = sorted(real, key=lambda c: not isinstance(c, Arc))
    grid: dict[tuple[int, int], list[Vec2]] = {}
    joined = 0

    def meet(p: Vec2) -> Vec2:
        nonlocal joined
        u, v = round(p[0] / near), round(p[1] / near)
        around = [q for a in (-1, 0, 1) for b in (-1, 0, 1) for q in grid.get((u + a, v + b), ())]
        best = min(around, key=lambda q: math.dist(p, q), default=None)
        if best is not None and math.dist(p, best) <= near:
            joined += math.dist(p, best) > 1e-9
            return best
        grid.setdefault((u, v), []).append(p)
        return p

    placed: dict[int, Curve] = {}
    for c in order:
        if isinstance(c, Line | Arc):
            placed[id(c)] = replace(c, start=meet(c.start), end=meet(c.end))
        elif isinstance(c, Bezier):
            placed[id(c)] = replace(c, poles=(meet(c.poles[0]), c.poles[1], c.poles[2], meet(c.poles[3])))
        else:
            placed[id(c)] = c
    if joined:
        mended.append(_counted(joined, "end brought to another", "ends brought to others"))
    out: list[Curve] = []
    seen: set[Any] = set()
    for c in real:
        c = placed[id(c)]
        key = (type(c).__name__, frozenset(_cell(place_at(c, t), near) for t in (0.0, 0.25, 0.5, 0.75, 1.0)))
        if key not in seen:
            seen.add(key)
            out.append(c)
    if len(out) < len(real):
        mended.append(_counted(len(real) - len(out), "piece that lay twice dropped", "pieces that lay twice dropped"))
    return out, mended


def _as_drawn(curves: Sequence[Curve]) -> list[dict[str, Any]]:
    """As a sketch keeps them; free curves that run on in each other smoothly become one spline."""
    out: list[dict[str, Any]] = []
    for c in curves:
        if isinstance(c, Bezier):
            last = out[-1] if out and out[-1]["kind"] == "spline" else None
            if last is not None and _runs_on(last["places"], c) and len(last["places"]) < 58:
                last["places"] += list(c.poles[1:])
            else:
                out.append({"kind": "spline", "places": list(c.poles), "radius": 0.0})
        elif isinstance(c, Line):
            out.append({"kind": "line", "places": [c.start, c.end], "radius": 0.0})
        elif isinstance(c, Arc):
            out.append({"kind": "arc", "places": [c.centre, c.start, c.end], "radius": 0.0})
        elif isinstance(c, Circle):
            out.append({"kind": "circle", "places": [c.centre], "radius": c.radius})
        else:
            out.append({"kind": "ellipse", "places": [c.centre, c.major], "radius": c.minor})
    return out


def _runs_on(places: Sequence[Vec2], c: Bezier) -> bool:
    if math.dist(places[-1], c.poles[0]) > 1e-9:
        return False
    ux, uy = places[-1][0] - places[-2][0], places[-1][1] - places[-2][1]
    vx, vy = c.poles[1][0] - c.poles[0][0], c.poles[1][1] - c.poles[0][1]
    size = math.hypot(ux, uy) * math.hypot(vx, vy)
    return size > 1e-12 and ux * vx + uy * vy > 0 and abs(ux * vy - uy * vx) < 1e-4 * size


def _loops(curves: Sequence[Curve], near: float) -> int:
    """How many runs of curves close on themselves."""
    parent: dict[tuple[int, int], tuple[int, int]] = {}

    def find(p: tuple[int, int]) -> tuple[int, int]:
        while parent.setdefault(p, p) != p:
            p = parent[p]
        return p

    degree: Counter[tuple[int, int]] = Counter()
    for c in curves:
        ends = ends_of(c)
        if ends is not None:
            a, b = (_cell(p, near) for p in ends)
            degree[a] += 1
            degree[b] += 1
            parent[find(a)] = find(b)
    groups: dict[tuple[int, int], bool] = {}
    for p, n in degree.items():
        groups[find(p)] = groups.get(find(p), True) and n == 2
    return sum(groups.values())
