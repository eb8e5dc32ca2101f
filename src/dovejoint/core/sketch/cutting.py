"""Curves cut, split and run on at places where others cross them."""

from __future__ import annotations

import math
from typing import NamedTuple

from ..errors import CommandError
from ..solid.ends import halved
from ..solid.outline import Arc, Bezier, Curve, Line, place_at
from .edit import Ids, Place, grown, remove
from .model import ORIGIN, Constraint, Point, Sketch, SketchCurve
from .outlines import crossings, pieces_of
from .shape import place_of, round_of

__all__ = ["extend", "split", "trim"]

_NEAR_MM = 1e-6
#: so many times its own length a line is run on to look for what it meets
_REACH_MM = 2e4


class _Cut(NamedTuple):
    """How far along a curve a place lies (a share; stretches of a spline count one each), and the curve that crosses it there."""

    along: float
    place: Place
    by: SketchCurve | None


def _curve(sketch: Sketch, id: str, verb: str) -> SketchCurve:
    curve = sketch.curve(id)
    if curve is None:
        raise CommandError(f"Point at a curve to {verb}.")
    if curve.brought:
        raise CommandError("What was brought in from a part stays as it is; draw over it instead.")
    if curve.kind in ("text", "ellipse"):
        raise CommandError("A text or an ellipse stays whole here; cut it by another curve's region instead.")
    return curve


def _cuts(sketch: Sketch, curve: SketchCurve) -> list[_Cut]:
    mine = pieces_of(sketch, curve)
    found = [
        _Cut(k + t, place, other)
        for other in sketch.curves
        if other.id != curve.id and not other.construction
        for piece in pieces_of(sketch, other)
        for k, own in enumerate(mine)
        for t, _, place in crossings(own, piece)
    ]
    return sorted(found, key=lambda c: (c.along, c.place, c.by.id if c.by else ""))


def _nearest(pieces: list[Curve], near: Place) -> float:
    """How far along a run of pieces the place nearest to another lies."""
    best = (math.inf, 0.0)
    for k, piece in enumerate(pieces):
        low, high = 0.0, 1.0
        for _ in range(5):
            step = (high - low) / 32
            away, t = min((math.dist(near, place_at(piece, low + i * step)), low + i * step) for i in range(33))
            low, high = max(0.0, t - step), min(1.0, t + step)
        best = min(best, (away, k + t))
    return best[1]


def trim(sketch: Sketch, id: str, near: Place) -> Sketch:
    """Take away the stretch of a curve between its crossings on both sides of a place; with none it goes whole.

    What is left ends on the curve that cut it, and keeps its ties where they still make sense.
    """
    curve = _curve(sketch, id, "trim")
    pieces = pieces_of(sketch, curve)
    span, here = float(len(pieces)), _nearest(pieces, near)
    cuts = _cuts(sketch, curve)
    inner = [c for c in cuts if curve.kind == "circle" or 1e-7 * span < c.along < span - 1e-7 * span]
    if not inner or (curve.kind == "circle" and len(inner) < 2):
        return remove(sketch, [id])
    after = next((c for c in inner if c.along > here), None)
    before = next((c for c in reversed(inner) if c.along <= here), None)
    if curve.kind == "circle":
        return _opened(sketch, curve, after or inner[0], before or inner[-1])
    return _left(sketch, curve, before, after)


def split(sketch: Sketch, id: str, near: Place) -> Sketch:
    """Two curves of one, in the place nearest to another; they run on in each other as the one did."""
    curve = _curve(sketch, id, "split")
    if curve.kind == "circle":
        raise CommandError("A circle has no ends to split between; trim it, or draw arcs.")
    pieces = pieces_of(sketch, curve)
    along = _nearest(pieces, near)
    k = min(int(along), len(pieces) - 1)
    if min(along, len(pieces) - along) < 1e-3:
        raise CommandError("Point at a place between the curve's ends to split it there.")
    cut = _Cut(along, place_at(pieces[k], along - k), None)
    done = _left(sketch, curve, cut, cut)
    if curve.kind != "spline":
        return done
    tie = Constraint(
        id=Ids(done).new("k"), kind="tangent", of=[c.id for c in done.curves if c.id == id or not sketch.curve(c.id)]
    )
    return grown(done, [], [], [tie], [])


def extend(sketch: Sketch, id: str, near: Place) -> Sketch:
    """Run a line or an arc on, from its end nearer to a place, to the next curve that it meets; it stays on that curve."""
    curve = _curve(sketch, id, "run on")
    if curve.kind not in ("line", "arc"):
        raise CommandError("Only lines and arcs can be run on.")
    ends = list(curve.points[-2:])
    end = min(ends, key=lambda p: math.dist(place_of(sketch, p), near))
    if end == ORIGIN or any(c.id != id and end in c.points for c in sketch.curves):
        raise CommandError("That end meets another curve already; point nearer to the open one.")
    beyond = _beyond(sketch, curve, end)
    best: tuple[float, Place, SketchCurve] | None = None
    for other in sketch.curves:
        if other.id == id or other.construction:
            continue
        for piece in pieces_of(sketch, other):
            for t, _, place in crossings(beyond, piece):
                if isinstance(beyond, Arc) and end == curve.points[1]:
                    # it runs backwards from the start
                    t = 1 - t
                if math.dist(place, place_of(sketch, end)) > 1e-6 and (best is None or t < best[0]):
                    best = (t, place, other)
    if best is None:
        raise CommandError("Nothing lies in its way that it could be run on to.")
    _, place, target = best
    lost = [d.id for d in sketch.dimensions if id in d.of and d.kind in ("length", "perimeter")]
    points = [p.model_copy(update={"x": place[0], "y": place[1]}) if p.id == end else p for p in sketch.points]
    sizes = [d for d in sketch.dimensions if d.id not in lost and not (d.kind.startswith("distance") and end in d.of)]
    gone = {d.id for d in sketch.dimensions} - {d.id for d in sizes}
    ties = [t for t in sketch.constraints if not (end in t.of and t.kind in ("point_on", "coincident", "fixed"))]
    tie = Constraint(id=Ids(sketch).new("k"), kind="point_on", of=[end, target.id])
    sizes = [d.model_copy(update={"follows": ""}) if d.follows in gone else d for d in sizes]
    return sketch.model_copy(update={"points": points, "dimensions": sizes, "constraints": [*ties, tie]})


def _beyond(sketch: Sketch, curve: SketchCurve, end: str) -> Line | Arc:
    """What lies beyond an end: far out along a line, the rest of the circle of an arc."""
    here = place_of(sketch, end)
    if curve.kind == "line":
        start = place_of(sketch, next(p for p in curve.points if p != end))
        size = math.dist(start, here)
        ux, uy = (here[0] - start[0]) / size, (here[1] - start[1]) / size
        return Line("", here, (here[0] + ux * _REACH_MM, here[1] + uy * _REACH_MM))
    centre, radius = round_of(sketch, curve)
    return Arc("", centre, radius, place_of(sketch, curve.points[2]), place_of(sketch, curve.points[1]))


def _ended(ids: Ids, cut: _Cut, points: list[Point], ties: list[Constraint], sketch: Sketch) -> str:
    """A point where a curve was cut, on the curve that cut it."""
    by = cut.by
    for p in sketch.points:
        if by is not None and math.dist((p.x, p.y), cut.place) < _NEAR_MM and p.id in by.points:
            return p.id
    points.append(Point(id=ids.new("p"), x=cut.place[0], y=cut.place[1]))
    if by is not None:
        ties.append(Constraint(id=ids.new("k"), kind="point_on", of=[points[-1].id, by.id]))
    return points[-1].id


def _opened(sketch: Sketch, circle: SketchCurve, start: _Cut, end: _Cut) -> Sketch:
    """A circle of which a stretch was taken away is an arc, with the same centre and sizes."""
    ids, points, ties = Ids(sketch), list[Point](), list[Constraint]()
    ends = [_ended(ids, cut, points, ties, sketch) for cut in (start, end)]
    arc = SketchCurve(id=circle.id, kind="arc", points=[circle.points[0], *ends], construction=circle.construction)
    curves = [arc if c.id == circle.id else c for c in sketch.curves]
    return grown(sketch.model_copy(update={"curves": curves}), points, [], ties, [])


def _run(
    sketch: Sketch, ids: Ids, curve: SketchCurve, cut: _Cut, node: str, points: list[Point], *, first: bool
) -> list[str]:
    """The points of what a curve is up to a cut (``first``), or from it on."""
    if curve.kind != "spline":
        lead = curve.points[:-2]
        return [*lead, curve.points[-2], node] if first else [*lead, node, curve.points[-1]]
    k = min(int(cut.along), (len(curve.points) - 1) // 3 - 1)
    piece = pieces_of(sketch, curve)[k]
    assert isinstance(piece, Bezier)
    half = halved(piece.poles, cut.along - k)[0 if first else 1]
    made = []
    for place in half[1:3]:
        points.append(Point(id=ids.new("p"), x=place[0], y=place[1]))
        made.append(points[-1].id)
    return [*curve.points[: 3 * k + 1], *made, node] if first else [node, *made, *curve.points[3 * k + 3 :]]


def _left(sketch: Sketch, curve: SketchCurve, before: _Cut | None, after: _Cut | None) -> Sketch:
    """What is left of a curve before one place and after another; where both are one place they share a point."""
    ids, points, ties = Ids(sketch), list[Point](), list[Constraint]()
    lost = {"length", "distance", "midpoint", "equal", "perimeter"}
    kept: list[SketchCurve] = []
    node = ""
    if before is not None:
        node = _ended(ids, before, points, ties, sketch)
        run = _run(sketch, ids, curve, before, node, points, first=True)
        kept.append(curve.model_copy(update={"points": run}))
    if after is not None:
        name = curve.id if before is None else ids.new(curve.id[0])
        if after is not before:
            node = _ended(ids, after, points, ties, sketch)
        run = _run(sketch, ids, curve, after, node, points, first=False)
        kept.append(curve.model_copy(update={"id": name, "points": run}))
    if before is not None and after is not None and curve.kind == "line":
        ties.append(Constraint(id=ids.new("k"), kind="collinear", of=[kept[0].id, kept[1].id]))
    if before is not None and after is not None and curve.kind == "arc":
        ties.append(Constraint(id=ids.new("k"), kind="equal", of=[kept[0].id, kept[1].id]))
    # a size of the whole says nothing of what is left
    sized = curve.kind in ("line", "spline")
    dimensions = [d for d in sketch.dimensions if not (sized and curve.id in d.of and d.kind in lost)]
    constraints = [k for k in sketch.constraints if not (sized and curve.id in k.of and k.kind in lost)]
    curves = [c for c in sketch.curves if c.id != curve.id] + kept
    used = (
        {p for c in curves for p in c.points}
        | {o for k in constraints for o in k.of}
        | {o for d in dimensions for o in d.of}
    )
    whole = sketch.model_copy(update={"curves": curves, "dimensions": dimensions, "constraints": constraints})
    ended = grown(whole, points, [], ties, [])
    gone = {p for p in curve.points if p not in used and p != ORIGIN}
    return ended.model_copy(update={"points": [p for p in ended.points if p.id not in gone]})
