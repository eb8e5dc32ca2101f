"""Curves drawn by hand that are not straight or plainly round: ellipses, splines, text; and the other ways to draw round ones."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..errors import CommandError, StepError
from ..solid.lettering import letters
from .draw import Spot, add_arc, centre_over, spot_place, spot_point
from .edit import Ids, Place, grown
from .model import Constraint, CurveKind, Dimension, Point, Sketch, SketchCurve
from .solve import SMALLEST_MM

__all__ = [
    "add_arc_about",
    "add_arc_slot",
    "add_circle_over",
    "add_ellipse",
    "add_leaning_rectangle",
    "add_spline",
    "add_text",
    "place_curves",
    "reword",
]

#: so many nodes has one spline
MOST_NODES = 60


def add_circle_over(sketch: Sketch, spots: Sequence[Spot], *, construction: bool = False) -> Sketch:
    """A circle over two places that lie opposite each other, or over three. Points that were pointed at stay on it."""
    places = [spot_place(sketch, s) for s in spots]
    if len(places) == 2:
        centre: Place | None = ((places[0][0] + places[1][0]) / 2, (places[0][1] + places[1][1]) / 2)
    elif len(places) == 3:
        centre = centre_over(*places)
    else:
        raise CommandError("A circle goes over two or three places.")
    if centre is None or max(map(abs, centre)) > 5e4:
        raise CommandError("The three places lie all but in one line; a circle needs one beside it.")
    radius = math.dist(centre, places[0])
    if radius < SMALLEST_MM:
        raise CommandError("A circle needs places apart.")
    ids = Ids(sketch)
    middle = Point(id=ids.new("p"), x=centre[0], y=centre[1])
    circle = SketchCurve(id=ids.new("c"), kind="circle", points=[middle.id], radius=radius, construction=construction)
    on = [s[1] for s in spots if s[1] is not None]
    ties = [Constraint(id=ids.new("k"), kind="point_on", of=[p, circle.id]) for p in on]
    if len(spots) == 2 and len(on) == 2:
        # both ends of a diameter: the middle then lies between them, and one of the two is on the rim by that
        ties = [ties[0], Constraint(id=ids.new("k"), kind="midpoint", of=[middle.id, *on])]
    return grown(sketch, [middle], [circle], ties, [])


def add_leaning_rectangle(
    sketch: Sketch, first: Spot, second: Spot, beside: Place, *, width: str = "", height: str = ""
) -> Sketch:
    """A rectangle with one side from one spot to another, as deep as a third place lies beside it."""
    (ax, ay), (bx, by) = spot_place(sketch, first), spot_place(sketch, second)
    size = math.dist((ax, ay), (bx, by))
    if size < SMALLEST_MM:
        raise CommandError("A rectangle needs two corners apart.")
    nx, ny = -(by - ay) / size, (bx - ax) / size
    deep = (beside[0] - ax) * nx + (beside[1] - ay) * ny
    if abs(deep) < SMALLEST_MM:
        raise CommandError("A rectangle needs a place beside its first side.")
    ids, points = Ids(sketch), list[Point]()
    names = [spot_point(sketch, ids, first, points), spot_point(sketch, ids, second, points)]
    for x, y in ((bx, by), (ax, ay)):
        points.append(Point(id=ids.new("p"), x=x + nx * deep, y=y + ny * deep))
        names.append(points[-1].id)
    lines = [SketchCurve(id=ids.new("l"), kind="line", points=[names[i], names[(i + 1) % 4]]) for i in range(4)]
    a, b, c, d = (line.id for line in lines)
    ties = [
        Constraint(id=ids.new("k"), kind="perpendicular", of=[a, b]),
        Constraint(id=ids.new("k"), kind="parallel", of=[a, c]),
        Constraint(id=ids.new("k"), kind="parallel", of=[b, d]),
    ]
    sizes = [
        Dimension(id=ids.new("d"), kind="length", of=[line], formula=f) for line, f in ((a, width), (b, height)) if f
    ]
    return grown(sketch, points, lines, ties, sizes)


def add_arc_about(sketch: Sketch, centre: Spot, start: Spot, towards: Place, *, construction: bool = False) -> Sketch:
    """An arc about a centre from one spot to the direction of another, the shorter way round."""
    (cx, cy), (ax, ay) = spot_place(sketch, centre), spot_place(sketch, start)
    radius = math.dist((cx, cy), (ax, ay))
    if radius < SMALLEST_MM:
        raise CommandError("An arc needs a start away from its centre.")
    turn = (math.atan2(towards[1] - cy, towards[0] - cx) - math.atan2(ay - cy, ax - cx) + math.pi) % (
        2 * math.pi
    ) - math.pi
    if abs(turn) < 1e-3:
        raise CommandError("An arc needs an end in another direction than its start.")
    ids, points = Ids(sketch), list[Point]()
    middle, one = spot_point(sketch, ids, centre, points), spot_point(sketch, ids, start, points)
    angle = math.atan2(ay - cy, ax - cx) + turn
    points.append(Point(id=ids.new("p"), x=cx + radius * math.cos(angle), y=cy + radius * math.sin(angle)))
    ends = [one, points[-1].id] if turn > 0 else [points[-1].id, one]
    arc = SketchCurve(id=ids.new("a"), kind="arc", points=[middle, *ends], construction=construction)
    return grown(sketch, points, [arc], [], [])


def add_arc_slot(
    sketch: Sketch, start: Spot, end: Spot, through: Place, radius_mm: float, *, width: str = ""
) -> Sketch:
    """A slot along an arc: its middle line goes from one centre to another over a place; ``width`` is across it."""
    if radius_mm < SMALLEST_MM:
        raise CommandError("A slot needs a width.")
    drawn = add_arc(sketch, start, end, through, construction=True)
    middle = drawn.curves[-1]
    hub, first, last = middle.points
    (cx, cy), a, b = (spot_place(drawn, ((0.0, 0.0), p)) for p in middle.points)
    radius = math.dist((cx, cy), a)
    if radius_mm >= radius - SMALLEST_MM:
        raise CommandError(f"The slot is as wide as its bend: its middle line has a radius of {radius:.4g} mm.")
    ids, points = Ids(drawn), list[Point]()

    def put(of: Place, r: float) -> str:
        points.append(Point(id=ids.new("p"), x=cx + (of[0] - cx) / radius * r, y=cy + (of[1] - cy) / radius * r))
        return points[-1].id

    outer = [put(a, radius + radius_mm), put(b, radius + radius_mm)]
    inner = [put(a, radius - radius_mm), put(b, radius - radius_mm)]
    ends = [[hub, *outer], [hub, *inner], [first, inner[0], outer[0]], [last, outer[1], inner[1]]]
    arcs = [SketchCurve(id=ids.new("a"), kind="arc", points=points_of) for points_of in ends]
    pairs = [(arcs[0], arcs[2]), (arcs[1], arcs[2]), (arcs[0], arcs[3]), (arcs[1], arcs[3])]
    ties = [Constraint(id=ids.new("k"), kind="tangent", of=[p.id, q.id]) for p, q in pairs]
    sizes = [Dimension(id=ids.new("d"), kind="diameter", of=[arcs[2].id], formula=width)] if width else []
    return grown(drawn, points, arcs, ties, sizes)


def add_ellipse(sketch: Sketch, centre: Spot, first: Spot, beside: Place, *, construction: bool = False) -> Sketch:
    """An ellipse by its centre, the end of one half axis, and a place that lies as far beside that axis as the other is long."""
    (cx, cy), (ax, ay) = spot_place(sketch, centre), spot_place(sketch, first)
    half = math.dist((cx, cy), (ax, ay))
    if half < SMALLEST_MM:
        raise CommandError("An ellipse needs the end of a half axis away from its middle.")
    other = abs((ax - cx) * (beside[1] - cy) - (ay - cy) * (beside[0] - cx)) / half
    if other < SMALLEST_MM:
        raise CommandError("An ellipse needs a place beside its first axis.")
    ids, points = Ids(sketch), list[Point]()
    names = [spot_point(sketch, ids, centre, points), spot_point(sketch, ids, first, points)]
    curve = SketchCurve(id=ids.new("e"), kind="ellipse", points=names, radius=other, construction=construction)
    return grown(sketch, points, [curve], [], [])


def add_spline(sketch: Sketch, spots: Sequence[Spot], *, closed: bool = False, construction: bool = False) -> Sketch:
    """A spline through spots, smooth over all of them. Each node runs along the line through its neighbours, its handles a third
    of the way to them (a cubic Hermite spline as E. Catmull and R. Rom have it, 1974)."""
    places = [spot_place(sketch, s) for s in spots]
    if len(spots) > MOST_NODES:
        raise CommandError(f"A spline has at most {MOST_NODES} nodes.")
    if len(spots) < (3 if closed else 2):
        raise CommandError("A spline needs two nodes, and three to close.")
    if any(
        math.dist(p, q) < SMALLEST_MM for p, q in zip(places, places[1:] + (places[:1] if closed else []), strict=False)
    ):
        raise CommandError("Two neighbouring nodes of the spline lie in one place.")
    ids, points = Ids(sketch), list[Point]()
    nodes = [spot_point(sketch, ids, s, points) for s in spots]
    count = len(nodes)

    def handle(x: float, y: float) -> str:
        points.append(Point(id=ids.new("p"), x=x, y=y))
        return points[-1].id

    def way(k: int) -> Place:
        before = places[(k - 1) % count] if closed or k > 0 else places[k]
        after = places[(k + 1) % count] if closed or k < count - 1 else places[k]
        dx, dy = after[0] - before[0], after[1] - before[1]
        size = math.hypot(dx, dy) or 1.0
        return dx / size, dy / size

    run = [nodes[0]]
    for k in range(count if closed else count - 1):
        j = (k + 1) % count
        third = math.dist(places[k], places[j]) / 3
        (ux, uy), (vx, vy) = way(k), way(j)
        run += [
            handle(places[k][0] + ux * third, places[k][1] + uy * third),
            handle(places[j][0] - vx * third, places[j][1] - vy * third),
            nodes[j],
        ]
    curve = SketchCurve(id=ids.new("s"), kind="spline", points=run, construction=construction)
    return grown(sketch, points, [curve], [], [])


def _words(text: str) -> str:
    """A text in one line. Raises CommandError when it is empty or has a sign that the lettering has not."""
    words = " ".join(text.split())
    if not words:
        raise CommandError("Write the text first.")
    try:
        letters("", words, (0.0, 0.0), (0.0, 1.0))
    except StepError as error:
        raise CommandError(error.message) from None
    return words


def add_text(sketch: Sketch, foot: Spot, text: str, height_mm: float, *, height: str = "") -> Sketch:
    """A line of text on a level base line from a spot on; ``height`` is a formula for that of its capitals."""
    words = _words(text)
    if height_mm < SMALLEST_MM:
        raise CommandError("A text needs a height above zero.")
    x, y = spot_place(sketch, foot)
    ids, points = Ids(sketch), list[Point]()
    start = spot_point(sketch, ids, foot, points)
    points.append(Point(id=ids.new("p"), x=x, y=y + height_mm))
    curve = SketchCurve(id=ids.new("t"), kind="text", points=[start, points[-1].id], text=words)
    ties = [Constraint(id=ids.new("k"), kind="vertical", of=list(curve.points))]
    sizes = [Dimension(id=ids.new("d"), kind="distance", of=list(curve.points), formula=height)] if height else []
    return grown(sketch, points, [curve], ties, sizes)


def reword(sketch: Sketch, id: str, text: str) -> Sketch:
    """Other words for a text, in the same place. Raises CommandError."""
    curve = sketch.curve(id)
    if curve is None or curve.kind != "text":
        raise CommandError("Select a text to write other words.")
    curves = [c.model_copy(update={"text": _words(text)}) if c.id == id else c for c in sketch.curves]
    return sketch.model_copy(update={"curves": curves})


#: how many places a curve of each kind has; a spline one more than three for each stretch
_PLACES = {"line": 2, "circle": 1, "arc": 3, "ellipse": 2}


def _sound(kind: CurveKind, places: Sequence[Place], radius: float) -> None:
    """Refuse a curve with the wrong number of places, an arc whose ends lie at different distances, a round one of no size."""
    count = len(places)
    right = count == _PLACES[kind] if kind in _PLACES else kind == "spline" and count >= 4 and count % 3 == 1
    if not right:
        raise CommandError(f"A {kind} cannot be placed by {count} place{'' if count == 1 else 's'}.")
    if kind == "arc":
        one, other = (math.dist(places[0], p) for p in places[1:])
        if min(one, other) < 1e-6 or abs(one - other) > 1e-3 * max(one, other):
            raise CommandError("The ends of an arc lie at one distance from its middle; these do not.")
    if kind in ("circle", "ellipse") and radius < 1e-6:
        raise CommandError(f"A {kind} needs a size above zero.")


def place_curves(
    sketch: Sketch,
    shapes: Sequence[tuple[CurveKind, Sequence[Place], float]],
    *,
    kept: bool,
    construction: bool = False,
) -> Sketch:
    """Curves by kind, places and radius (mm), in that order behind the others. ``kept`` ones have no freedom; ends of theirs that
    lie in one place are one point."""
    held = {p for c in sketch.curves if c.brought for p in c.points} if kept else set()
    known = {(round(p.x, 6), round(p.y, 6)): p.id for p in sketch.points if p.id in held}
    ids, points, curves = Ids(sketch), list[Point](), list[SketchCurve]()
    for kind, places, radius in shapes:
        _sound(kind, places, radius)
        names = []
        for x, y in places:
            key = (round(x, 6), round(y, 6))
            if key not in known:
                points.append(Point(id=ids.new("p"), x=x, y=y))
                known[key] = points[-1].id
            names.append(known[key])
        letter = {"circle": "c", "arc": "a", "ellipse": "e", "spline": "s"}.get(kind, "l")
        curves.append(
            SketchCurve(
                id=ids.new(letter), kind=kind, points=names, radius=radius, brought=kept, construction=construction
            )
        )
    return grown(sketch, points, curves, [], [])
