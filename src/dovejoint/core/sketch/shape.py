"""Working on what is drawn: corners rounded, halves mirrored, overlaps trimmed, lines made construction."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from ..errors import CommandError
from .edit import Ids, Place, grown, remove
from .model import ORIGIN, Constraint, Dimension, Point, Sketch, SketchCurve

__all__ = ["construct", "mirror", "offset_chain", "repeat_in_rows", "repeat_round", "round_corners", "trim"]

#: so many copies are made at once
MOST_COPIES = 400

_NEAR_MM = 1e-6


def _place(sketch: Sketch, id: str) -> Place:
    point = sketch.point(id)
    if point is None:
        raise CommandError(f"The sketch has no point “{id}”.")
    return (point.x, point.y)


def construct(sketch: Sketch, ids: Sequence[str], on: bool) -> Sketch:
    """Make curves construction (they bound nothing), or real again."""
    if not ids or any(sketch.curve(i) is None for i in ids):
        raise CommandError("Select curves to make them construction.")
    curves = [c.model_copy(update={"construction": on}) if c.id in ids else c for c in sketch.curves]
    return sketch.model_copy(update={"curves": curves})


def mirror(sketch: Sketch, curves: Sequence[str], axis: str) -> Sketch:
    """Mirror curves in a line; the copies stay mirrored. Points on the line are shared."""
    line = sketch.curve(axis)
    chosen = [c for c in sketch.curves if c.id in curves and c.id != axis]
    if line is None or line.kind != "line":
        raise CommandError("Select the line to mirror in last.")
    if not chosen:
        raise CommandError("Select curves to mirror, and last the line to mirror in.")
    (ax, ay), (bx, by) = (_place(sketch, p) for p in line.points)
    size = math.dist((ax, ay), (bx, by))
    ux, uy = (bx - ax) / size, (by - ay) / size
    ids, points, made = Ids(sketch), list[Point](), dict[str, str]()
    ties: list[Constraint] = []
    for id in dict.fromkeys(p for c in chosen for p in c.points):
        x, y = _place(sketch, id)
        across = (x - ax) * -uy + (y - ay) * ux
        if abs(across) < 1e-4 * max(1.0, size) or id == ORIGIN or id in line.points:
            # it lies on the line: both halves meet there
            made[id] = id
            if id not in line.points and not any(
                t.kind == "point_on" and t.of == [id, axis] for t in sketch.constraints
            ):
                ties.append(Constraint(id=ids.new("k"), kind="point_on", of=[id, axis]))
            continue
        points.append(Point(id=ids.new("p"), x=x + 2 * across * uy, y=y - 2 * across * ux))
        made[id] = points[-1].id
        ties.append(Constraint(id=ids.new("k"), kind="symmetric", of=[id, made[id], axis]))
    copies = []
    for c in chosen:
        ends = [made[p] for p in c.points]
        if c.kind == "arc":
            # mirrored it would run the other way
            ends = [ends[0], ends[2], ends[1]]
        if ends == c.points or (c.kind == "line" and set(ends) == set(c.points)):
            continue
        copies.append(c.model_copy(update={"id": ids.new(c.id[0]), "points": ends}))
        if c.kind == "circle":
            ties.append(Constraint(id=ids.new("k"), kind="equal", of=[c.id, copies[-1].id]))
    if not copies:
        raise CommandError("What is selected lies on the line; there is nothing to mirror.")
    return grown(sketch, points, copies, ties, [])


def _copied(ids: Ids, chosen: Sequence[SketchCurve], places: Mapping[str, str]) -> list[SketchCurve]:
    return [c.model_copy(update={"id": ids.new(c.id[0]), "points": [places[p] for p in c.points]}) for c in chosen]


def _chosen(sketch: Sketch, curves: Sequence[str]) -> list[SketchCurve]:
    found = [c for c in sketch.curves if c.id in curves]
    if not found:
        raise CommandError("Select the curves to repeat.")
    return found


def followed(ids: Ids, kind: str, of: list[str], formula: str, lead: str, times: float = 1) -> Dimension:
    """A dimension that is so many times another one (``lead``), or the one that leads when there is none yet."""
    text = formula if times == 1 else f"{times:g}*({formula})"
    return Dimension(id=ids.new("d"), kind=kind, of=of, formula=text, follows=lead, times=times)  # type: ignore[arg-type]


def repeat_in_rows(
    sketch: Sketch,
    curves: Sequence[str],
    counts: tuple[int, int],
    pitches: tuple[str, str],
    figures_mm: tuple[float, float],
) -> Sketch:
    """Repeat curves in rows across and deep. Each copy stays so many pitches away from the first, whatever they come to be.

    ``pitches`` are formulas, ``figures_mm`` what they are now; circles stay as large as the first.
    """
    chosen = _chosen(sketch, curves)
    if counts[0] * counts[1] < 2 or min(counts) < 1:
        raise CommandError("Repeat it at least twice, across or deep.")
    if counts[0] * counts[1] * len(chosen) > MOST_COPIES:
        raise CommandError(f"That would be more than {MOST_COPIES} curves at once.")
    for axis in (0, 1):
        if counts[axis] > 1 and abs(figures_mm[axis]) < 0.01:
            raise CommandError("The copies need a distance from each other.")
    ids, points, made = Ids(sketch), list[Point](), list[SketchCurve]()
    ties: list[Constraint] = []
    sizes: list[Dimension] = []
    circles: dict[str, list[str]] = {c.id: [c.id] for c in chosen if c.kind == "circle"}
    for i, j in ((i, j) for j in range(counts[1]) for i in range(counts[0]) if i or j):
        places = {}
        for id in dict.fromkeys(p for c in chosen for p in c.points):
            x, y = _place(sketch, id)
            points.append(Point(id=ids.new("p"), x=x + i * figures_mm[0], y=y + j * figures_mm[1]))
            places[id] = points[-1].id
            for k, kind, level, steps in ((0, "distance_x", "vertical", i), (1, "distance_y", "horizontal", j)):
                of = [id, points[-1].id]
                if steps == 0:
                    ties.append(Constraint(id=ids.new("k"), kind=level, of=of))  # type: ignore[arg-type]
                    continue
                lead = next((d.id for d in sizes if d.kind == kind), "")
                sizes.append(followed(ids, kind, of, pitches[k], lead, steps))
        copies = _copied(ids, chosen, places)
        for old, new in zip(chosen, copies, strict=True):
            if old.kind == "circle":
                circles[old.id].append(new.id)
        made += copies
    ties += [Constraint(id=ids.new("k"), kind="equal", of=of) for of in circles.values()]
    return grown(sketch, points, made, ties, sizes)


def repeat_round(sketch: Sketch, curves: Sequence[str], centre: str, count: int) -> Sketch:
    """Repeat curves evenly round a point. Ends that meet the next copy are shared, so that one notch closes to a ring."""
    chosen = _chosen(sketch, curves)
    if not 2 <= count <= MOST_COPIES // len(chosen):
        raise CommandError(f"Round a point there can be 2 to {MOST_COPIES // len(chosen)} of them.")
    cx, cy = _place(sketch, centre)
    ids, points, made = Ids(sketch), list[Point](), list[SketchCurve]()
    ties: list[Constraint] = []
    circles: dict[str, list[str]] = {c.id: [c.id] for c in chosen if c.kind == "circle"}
    own = list(dict.fromkeys(p for c in chosen for p in c.points))
    known = {id: _place(sketch, id) for id in own}
    size = max((math.dist(p, (cx, cy)) for p in known.values()), default=1.0) or 1.0
    #: points of which it was said already where they lie
    placed: set[str] = set()
    for k in range(1, count):
        turn = 2 * math.pi * k / count
        places = {}
        for id in own:
            x, y = _place(sketch, id)
            if id == centre or math.dist((x, y), (cx, cy)) < 1e-9 * size:
                places[id] = id
                continue
            dx, dy = x - cx, y - cy
            at = (cx + math.cos(turn) * dx - math.sin(turn) * dy, cy + math.sin(turn) * dx + math.cos(turn) * dy)
            there = next((q for q, place in known.items() if math.dist(place, at) < 1e-4 * size), None)
            if there is None:
                points.append(Point(id=ids.new("p"), x=at[0], y=at[1]))
                there = points[-1].id
                known[there] = at
            places[id] = there
            # a ring that closes meets its own beginning again: that follows, and is not said twice
            if there in placed or (there in own and k > 1):
                continue
            placed.add(there)
            degrees = round(math.degrees(turn), 9)
            ties.append(Constraint(id=ids.new("k"), kind="turned", of=[id, there, centre], turn_deg=degrees))
        copies = _copied(ids, chosen, places)
        for old, new in zip(chosen, copies, strict=True):
            if old.kind == "circle":
                circles[old.id].append(new.id)
        made += copies
    ties += [Constraint(id=ids.new("k"), kind="equal", of=of) for of in circles.values()]
    return grown(sketch, points, made, ties, [])


def offset_chain(
    sketch: Sketch, curves: Sequence[str], distance_mm: float, formula: str, *, other_side: bool
) -> Sketch:
    """A chain of lines and arcs beside another, at a distance that stays; on the left of its run, or on the other side.

    Smooth joints stay smooth, sharp ones run on to where they meet; the ends of an open chain stand squarely beside those of the first.
    """
    run = _chained(sketch, curves)
    if distance_mm < 0.01:
        raise CommandError("An offset needs a distance above zero.")
    side = -distance_mm if other_side else distance_mm
    ids, points, made = Ids(sketch), list[Point](), list[SketchCurve]()
    ties: list[Constraint] = []
    sizes: list[Dimension] = []
    closed = len(run) > 1 and run[0][1] == run[-1][2]
    joints = [r[1] for r in run] + ([] if closed else [run[-1][2]])
    names = {}
    for k, joint in enumerate(joints):
        before = run[k - 1] if k > 0 or closed else None
        after = run[k] if k < len(run) else None
        place = _beside(sketch, joint, before, after, side)
        points.append(Point(id=ids.new("p"), x=place[0], y=place[1]))
        names[joint] = points[-1].id
    for curve, first, _ in run:
        ends = [names[p] for p in (curve.points if curve.kind == "line" else curve.points[1:])]
        if curve.kind == "line":
            new = SketchCurve(id=ids.new("l"), kind="line", points=ends, construction=curve.construction)
            lead = sizes[0].id if sizes else ""
            sizes.append(followed(ids, "distance", [names[first], curve.id], formula, lead))
            ties.append(Constraint(id=ids.new("k"), kind="parallel", of=[curve.id, new.id]))
        else:
            radius = _round(sketch, curve)[1]
            inner = side if curve.points[1] == first else -side
            if radius - inner < 0.05:
                raise CommandError(
                    f"An offset of {distance_mm:.4g} mm leaves nothing of an arc with a radius of {radius:.4g} mm."
                )
            new = SketchCurve(
                id=ids.new("a"), kind="arc", points=[curve.points[0], *ends], construction=curve.construction
            )
        made.append(new)
        if len(made) > 1 and "arc" in (new.kind, made[-2].kind):
            ties.append(Constraint(id=ids.new("k"), kind="tangent", of=[made[-2].id, new.id]))
    if closed and "arc" in (made[0].kind, made[-1].kind):
        ties.append(Constraint(id=ids.new("k"), kind="tangent", of=[made[-1].id, made[0].id]))
    if not sizes:
        raise CommandError("A chain that is set off has a line in it; for arcs alone draw them with the same centre.")
    if not closed:
        for end, (curve, _, _) in ((run[0][1], run[0]), (run[-1][2], run[-1])):
            if curve.kind == "line":
                across = SketchCurve(id=ids.new("l"), kind="line", points=[end, names[end]], construction=True)
                made.append(across)
                ties.append(Constraint(id=ids.new("k"), kind="perpendicular", of=[curve.id, across.id]))
    return grown(sketch, points, made, ties, sizes)


_Run = tuple[SketchCurve, str, str]


def _chained(sketch: Sketch, curves: Sequence[str]) -> list[_Run]:
    """Curves in the order in which they hang together, each with the ends that it is run through from and to."""
    rest = [c for c in sketch.curves if c.id in curves]
    if not rest or any(c.kind == "circle" for c in rest):
        raise CommandError("Select lines and arcs that hang together, to set them off.")
    ends = {c.id: (c.points[-2], c.points[-1]) for c in rest}
    count: dict[str, int] = {}
    for pair in ends.values():
        for p in pair:
            count[p] = count.get(p, 0) + 1
    loose = [p for p, n in count.items() if n == 1]
    if any(n > 2 for n in count.values()) or len(loose) not in (0, 2):
        raise CommandError("What is set off is one chain, without branches.")
    start = rest[0] if not loose else next(c for c in rest if loose[0] in ends[c.id] or loose[1] in ends[c.id])
    first = ends[start.id][0] if not loose else next(p for p in ends[start.id] if p in loose)
    out: list[_Run] = []
    at = first
    while rest:
        found = next((c for c in rest if at in ends[c.id]), None)
        if found is None:
            raise CommandError("What is set off is one chain, without gaps.")
        one, two = ends[found.id]
        last = two if one == at else one
        out.append((found, at, last))
        rest.remove(found)
        at = last
    return out


def _leaving(sketch: Sketch, run: _Run, point: str) -> Place:
    """The direction of the run at one of its ends."""
    curve, first, last = run
    (ax, ay), (bx, by) = _place(sketch, first), _place(sketch, last)
    if curve.kind == "line":
        size = math.dist((ax, ay), (bx, by))
        return (bx - ax) / size, (by - ay) / size
    (cx, cy), radius = _round(sketch, curve)
    x, y = _place(sketch, point)
    sense = 1 if curve.points[1] == first else -1
    return -(y - cy) / radius * sense, (x - cx) / radius * sense


def _beside(sketch: Sketch, joint: str, before: _Run | None, after: _Run | None, side: float) -> Place:
    """Where a joint of the chain comes to lie, left of the run by ``side`` (mm): where both neighbours, set off, meet."""
    x, y = _place(sketch, joint)
    ways = [_leaving(sketch, r, joint) for r in (before, after) if r is not None]
    if len(ways) == 1 or abs(ways[0][0] * ways[1][1] - ways[0][1] * ways[1][0]) < 1e-6:
        u = ways[0]
        return x - u[1] * side, y + u[0] * side
    (ux, uy), (vx, vy) = ways
    # the point that lies ``side`` to the left of both
    turn = ux * vy - uy * vx
    dot = ux * vx + uy * vy
    t = side * (dot - 1) / turn
    return x - uy * side + ux * t, y + ux * side + uy * t


def round_corners(sketch: Sketch, corners: Sequence[str], radius_mm: float, formula: str) -> Sketch:
    """Put arcs of one radius into corners where two lines meet. The first arc carries the size, the others are equal to it."""
    first = ""
    for corner in corners:
        sketch, arc = _rounded(sketch, corner, radius_mm)
        ids = Ids(sketch)
        if not first:
            first = arc
            size = Dimension(id=ids.new("d"), kind="radius", of=[arc], formula=formula)
            sketch = grown(sketch, [], [], [], [size])
        else:
            sketch = grown(sketch, [], [], [Constraint(id=ids.new("k"), kind="equal", of=[first, arc])], [])
    if not first:
        raise CommandError("Select corners where two lines meet, to round them.")
    return sketch


def _rounded(sketch: Sketch, corner: str, radius_mm: float) -> tuple[Sketch, str]:
    lines = [c for c in sketch.curves if c.kind == "line" and corner in c.points]
    if len(lines) != 2:
        raise CommandError("A corner that is rounded has two lines that meet in it.")
    at = _place(sketch, corner)
    ways, rooms = [], []
    for line in lines:
        other = _place(sketch, next(p for p in line.points if p != corner))
        size = math.dist(at, other)
        ways.append(((other[0] - at[0]) / size, (other[1] - at[1]) / size))
        rooms.append(size)
    (ux, uy), (vx, vy) = ways
    angle = math.acos(max(-1.0, min(1.0, ux * vx + uy * vy)))
    if angle < 1e-3 or math.pi - angle < 1e-3:
        raise CommandError("The two lines run on straight; there is no corner to round.")
    back = radius_mm / math.tan(angle / 2)
    if back >= min(rooms) - 1e-6:
        most = min(rooms) * math.tan(angle / 2)
        raise CommandError(
            f"A radius of {radius_mm:.4g} mm does not fit into that corner; {math.floor(most * 100) / 100:.4g} mm is the most."
        )
    ids = Ids(sketch)
    cut = [Point(id=ids.new("p"), x=at[0] + back * w[0], y=at[1] + back * w[1]) for w in ways]
    away = radius_mm / math.sin(angle / 2)
    bx, by = ux + vx, uy + vy
    size = math.hypot(bx, by)
    centre = Point(id=ids.new("p"), x=at[0] + away * bx / size, y=at[1] + away * by / size)
    left = ux * vy - uy * vx > 0
    order = [cut[1].id, cut[0].id] if left else [cut[0].id, cut[1].id]
    arc = SketchCurve(id=ids.new("a"), kind="arc", points=[centre.id, *order])
    swap = {lines[0].id: cut[0].id, lines[1].id: cut[1].id}
    curves = [
        c.model_copy(update={"points": [swap[c.id] if p == corner else p for p in c.points]}) if c.id in swap else c
        for c in sketch.curves
    ]
    ties = [Constraint(id=ids.new("k"), kind="tangent", of=[line.id, arc.id]) for line in lines]
    used = {o for k in sketch.constraints for o in k.of} | {o for d in sketch.dimensions for o in d.of}
    # sizes of the two sides go on to mean them up to their corner, which then stays
    sized = any(d.kind == "length" and d.of[0] in swap for d in sketch.dimensions)
    points = [*sketch.points, *cut, centre]
    if corner not in used and not sized:
        points = [p for p in points if p.id != corner]
    elif corner != ORIGIN:
        # something still hangs on the corner: it stays where both sides would meet
        ties += [Constraint(id=ids.new("k"), kind="point_on", of=[corner, line.id]) for line in lines]
    ends = {c.id: [corner if p in (cut[0].id, cut[1].id) else p for p in c.points] for c in curves if c.id in swap}
    dimensions = [
        d.model_copy(update={"kind": "distance", "of": ends[d.of[0]]}) if d.kind == "length" and d.of[0] in swap else d
        for d in sketch.dimensions
    ]
    return sketch.model_copy(update={
        "points": points, "curves": [*curves, arc], "constraints": [*sketch.constraints, *ties], "dimensions": dimensions,
    }), arc.id  # fmt: skip


# ---- trimming ------------------------------------------------------------------------------------------------------


def _round(sketch: Sketch, c: SketchCurve) -> tuple[Place, float]:
    centre = _place(sketch, c.points[0])
    return centre, (c.radius if c.kind == "circle" else math.dist(centre, _place(sketch, c.points[1])))


def _on_arc(sketch: Sketch, c: SketchCurve, place: Place) -> bool:
    if c.kind == "circle":
        return True
    centre = _place(sketch, c.points[0])
    first, last, here = (
        math.atan2(p[1] - centre[1], p[0] - centre[0])
        for p in (_place(sketch, c.points[1]), _place(sketch, c.points[2]), place)
    )
    return (here - first) % (2 * math.pi) <= (last - first) % (2 * math.pi) + 1e-9


def _crossings(sketch: Sketch, a: SketchCurve, b: SketchCurve) -> list[Place]:
    """Where two curves cross, within both."""
    if a.kind != "line" and b.kind == "line":
        a, b = b, a
    found: list[Place] = []
    if a.kind == "line":
        (px, py), (qx, qy) = (_place(sketch, p) for p in a.points)
        dx, dy = qx - px, qy - py
        if b.kind == "line":
            (rx, ry), (sx, sy) = (_place(sketch, p) for p in b.points)
            ex, ey = sx - rx, sy - ry
            turn = dx * ey - dy * ex
            if abs(turn) < 1e-12:
                return []
            t, u = ((rx - px) * ey - (ry - py) * ex) / turn, ((rx - px) * dy - (ry - py) * dx) / turn
            return [(px + t * dx, py + t * dy)] if -1e-9 <= t <= 1 + 1e-9 and -1e-9 <= u <= 1 + 1e-9 else []
        (cx, cy), radius = _round(sketch, b)
        aa, bb, cc = (
            dx * dx + dy * dy,
            2 * (dx * (px - cx) + dy * (py - cy)),
            (px - cx) ** 2 + (py - cy) ** 2 - radius**2,
        )
        root = bb * bb - 4 * aa * cc
        if root < 0:
            return []
        for sign in (-1, 1):
            t = (-bb + sign * math.sqrt(root)) / (2 * aa)
            if -1e-9 <= t <= 1 + 1e-9:
                found.append((px + t * dx, py + t * dy))
    else:
        ((ax, ay), ra), ((bx, by), rb) = _round(sketch, a), _round(sketch, b)
        apart = math.dist((ax, ay), (bx, by))
        if apart < 1e-9 or apart > ra + rb or apart < abs(ra - rb):
            return []
        along = (apart**2 + ra**2 - rb**2) / (2 * apart)
        up = math.sqrt(max(0.0, ra**2 - along**2))
        ux, uy = (bx - ax) / apart, (by - ay) / apart
        found = [(ax + along * ux - s * up * uy, ay + along * uy + s * up * ux) for s in (-1, 1)]
    return [p for p in found if all(c.kind == "line" or _on_arc(sketch, c, p) for c in (a, b))]


def trim(sketch: Sketch, id: str, near: Place) -> Sketch:
    """Take away the stretch of a curve between its crossings on both sides of a place; with none it goes whole.

    What is left ends on the curve that cut it, and keeps its ties where they still make sense.
    """
    curve = sketch.curve(id)
    if curve is None:
        raise CommandError("Point at a curve to trim it.")
    cuts: list[tuple[float, Place, str]] = []
    for other in sketch.curves:
        if other.id == id or other.construction:
            continue
        for place in _crossings(sketch, curve, other):
            cuts.append((_param(sketch, curve, place), place, other.id))
    here = _param(sketch, curve, near)
    span = 1.0 if curve.kind == "line" else _sweep(sketch, curve)
    inner = sorted(c for c in cuts if curve.kind == "circle" or 1e-7 * span < c[0] < span - 1e-7 * span)
    if not inner or (curve.kind == "circle" and len(inner) < 2):
        return remove(sketch, [id])
    if curve.kind == "circle":
        after = next((c for c in inner if c[0] > here), inner[0])
        before = next((c for c in reversed(inner) if c[0] <= here), inner[-1])
        return _opened(sketch, curve, after, before)
    before_line = next((c for c in reversed(inner) if c[0] <= here), None)
    after_line = next((c for c in inner if c[0] > here), None)
    return _cut(sketch, curve, before_line, after_line)


def _param(sketch: Sketch, curve: SketchCurve, place: Place) -> float:
    """How far along a curve a place lies: a share of a line, an angle from the start of an arc (rad)."""
    if curve.kind == "line":
        (px, py), (qx, qy) = (_place(sketch, p) for p in curve.points)
        return ((place[0] - px) * (qx - px) + (place[1] - py) * (qy - py)) / ((qx - px) ** 2 + (qy - py) ** 2)
    centre, _ = _round(sketch, curve)
    here = math.atan2(place[1] - centre[1], place[0] - centre[0])
    if curve.kind == "circle":
        return here % (2 * math.pi)
    start = _place(sketch, curve.points[1])
    return (here - math.atan2(start[1] - centre[1], start[0] - centre[0])) % (2 * math.pi)


def _sweep(sketch: Sketch, curve: SketchCurve) -> float:
    return 2 * math.pi if curve.kind == "circle" else _param(sketch, curve, _place(sketch, curve.points[2]))


def _ended(ids: Ids, cut: tuple[float, Place, str], points: list[Point], ties: list[Constraint], sketch: Sketch) -> str:
    """A point where a curve was cut, on the curve that cut it."""
    for p in sketch.points:
        if (
            math.dist((p.x, p.y), cut[1]) < _NEAR_MM
            and p.id in (sketch.curve(cut[2]) or SketchCurve(id="", kind="line", points=[])).points
        ):
            return p.id
    points.append(Point(id=ids.new("p"), x=cut[1][0], y=cut[1][1]))
    ties.append(Constraint(id=ids.new("k"), kind="point_on", of=[points[-1].id, cut[2]]))
    return points[-1].id


def _opened(
    sketch: Sketch, circle: SketchCurve, start: tuple[float, Place, str], end: tuple[float, Place, str]
) -> Sketch:
    """A circle of which a stretch was taken away is an arc, with the same centre and sizes."""
    ids, points, ties = Ids(sketch), list[Point](), list[Constraint]()
    ends = [_ended(ids, cut, points, ties, sketch) for cut in (start, end)]
    arc = SketchCurve(id=circle.id, kind="arc", points=[circle.points[0], *ends], construction=circle.construction)
    curves = [arc if c.id == circle.id else c for c in sketch.curves]
    return grown(sketch.model_copy(update={"curves": curves}), points, [], ties, [])


def _cut(
    sketch: Sketch, curve: SketchCurve, before: tuple[float, Place, str] | None, after: tuple[float, Place, str] | None
) -> Sketch:
    ids, points, ties = Ids(sketch), list[Point](), list[Constraint]()
    first, last = curve.points[-2], curve.points[-1]
    lead = curve.points[:-2]
    lost = {"length", "distance", "midpoint", "equal"}
    kept: list[SketchCurve] = []
    if before is not None:
        kept.append(curve.model_copy(update={"points": [*lead, first, _ended(ids, before, points, ties, sketch)]}))
    if after is not None:
        name = curve.id if before is None else ids.new(curve.id[0])
        kept.append(
            curve.model_copy(update={"id": name, "points": [*lead, _ended(ids, after, points, ties, sketch), last]})
        )
    if before is not None and after is not None and curve.kind == "line":
        ties.append(Constraint(id=ids.new("k"), kind="collinear", of=[kept[0].id, kept[1].id]))
    # a size of the whole says nothing of what is left
    dimensions = [d for d in sketch.dimensions if not (curve.id in d.of and (d.kind in lost and curve.kind == "line"))]
    constraints = [k for k in sketch.constraints if not (curve.id in k.of and k.kind in lost and curve.kind == "line")]
    curves = [c for c in sketch.curves if c.id != curve.id] + kept
    used = (
        {p for c in curves for p in c.points}
        | {o for k in constraints for o in k.of}
        | {o for d in dimensions for o in d.of}
    )
    whole = sketch.model_copy(update={"curves": curves, "dimensions": dimensions, "constraints": constraints})
    ended = grown(whole, points, [], ties, [])
    gone = {
        p
        for p in (first, last)
        if p not in used and p not in {q for c in ended.curves for q in c.points} and p != ORIGIN
    }
    return ended.model_copy(update={"points": [p for p in ended.points if p.id not in gone]})
