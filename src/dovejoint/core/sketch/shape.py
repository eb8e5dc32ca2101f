"""Working on what is drawn: corners rounded, halves mirrored, copies, lines made construction."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from ..errors import CommandError
from .corner_arcs import Leg, rounding
from .edit import Ids, Place, grown, times_of
from .model import ORIGIN, Constraint, Dimension, Point, Sketch, SketchCurve

__all__ = ["construct", "copied", "copy_by", "curves_of", "cut_corners", "followed", "mirror", "move_by", "offset_chain", "place_of",
           "round_corners", "round_of"]  # fmt: skip


def place_of(sketch: Sketch, id: str) -> Place:
    point = sketch.point(id)
    if point is None:
        raise CommandError("That point is not on the board any more.")
    return (point.x, point.y)


def round_of(sketch: Sketch, c: SketchCurve) -> tuple[Place, float]:
    """Centre and radius (mm) of a circle or an arc."""
    centre = place_of(sketch, c.points[0])
    return centre, (c.radius if c.kind == "circle" else math.dist(centre, place_of(sketch, c.points[1])))


def _stays(curve: SketchCurve) -> bool:
    """Whether what is made of a curve is construction: not of one that was brought in, which is so by itself."""
    return curve.construction and not curve.brought


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
    if any(c.kind == "text" for c in chosen):
        raise CommandError("A text would read backwards in a mirror; leave it out of what is selected.")
    (ax, ay), (bx, by) = (place_of(sketch, p) for p in line.points)
    size = math.dist((ax, ay), (bx, by))
    ux, uy = (bx - ax) / size, (by - ay) / size
    ids, points, made = Ids(sketch), list[Point](), dict[str, str]()
    ties: list[Constraint] = []
    for id in dict.fromkeys(p for c in chosen for p in c.points):
        x, y = place_of(sketch, id)
        across = (x - ax) * -uy + (y - ay) * ux
        if abs(across) < 1e-4 * max(1.0, size) or id in line.points:
            # it lies on the line: both halves meet there
            made[id] = id
            if (
                id not in line.points
                and id != ORIGIN
                and not any(t.kind == "point_on" and t.of == [id, axis] for t in sketch.constraints)
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
        copies.append(
            c.model_copy(update={"id": ids.new(c.id[0]), "points": ends, "brought": False, "construction": _stays(c)})
        )
        if c.sized:
            ties.append(Constraint(id=ids.new("k"), kind="equal", of=[c.id, copies[-1].id]))
    if not copies:
        raise CommandError("What is selected lies on the line; there is nothing to mirror.")
    return grown(sketch, points, copies, ties, [])


def copied(
    ids: Ids, chosen: Sequence[SketchCurve], places: Mapping[str, str], names: Mapping[str, str] | None = None
) -> list[SketchCurve]:
    """Curves like those chosen over other points; ``names`` are ids that the copies are to have again."""
    return [
        c.model_copy(
            update={
                "id": ids.new(c.id[0], (names or {}).get(c.id, "")),
                "points": [places[p] for p in c.points],
                "brought": False,
                "construction": _stays(c),
            }
        )
        for c in chosen
    ]


def curves_of(sketch: Sketch, curves: Sequence[str]) -> list[SketchCurve]:
    found = [c for c in sketch.curves if c.id in curves]
    if not found:
        raise CommandError("Select the curves to repeat.")
    return found


def followed(ids: Ids, kind: str, of: list[str], formula: str, lead: str, times: float = 1) -> Dimension:
    """A dimension that is so many times another one (``lead``), or the one that leads when there is none yet."""
    text = times_of(formula, times)
    return Dimension(id=ids.new("d"), kind=kind, of=of, formula=text, follows=lead, times=times)  # type: ignore[arg-type]


def copy_by(sketch: Sketch, curves: Sequence[str], by: Place) -> Sketch:
    """A copy of curves, so far away (mm), with the ties and sizes that they have among themselves."""
    chosen = curves_of(sketch, curves)
    if math.hypot(*by) < 0.01:
        raise CommandError("A copy needs a distance from what it is a copy of.")
    ids, points = Ids(sketch), list[Point]()
    names: dict[str, str] = {}
    own = list(dict.fromkeys(p for c in chosen for p in c.points))
    for id in [*own, *_hanging(sketch, {*own, *(c.id for c in chosen)})]:
        x, y = place_of(sketch, id)
        points.append(Point(id=ids.new("p"), x=x + by[0], y=y + by[1]))
        names[id] = points[-1].id
    made = copied(ids, chosen, names)
    names |= {c.id: m.id for c, m in zip(chosen, made, strict=True)}

    def inside(item: Constraint | Dimension) -> bool:
        # what ties to the middle of the board stays with the first
        return all(o in names for o in item.of) and ORIGIN not in item.of and item.kind != "fixed"

    ties = [
        t.model_copy(update={"id": ids.new("k"), "of": [names[o] for o in t.of]})
        for t in sketch.constraints
        if inside(t)
    ]
    inner = {d.id: ids.new("d") for d in sketch.dimensions if inside(d)}
    sizes = [
        d.model_copy(update={"id": inner[d.id], "of": [names[o] for o in d.of], "follows": inner.get(d.follows, "")})
        for d in sketch.dimensions
        if d.id in inner
    ]
    return grown(sketch, points, made, ties, sizes)


def _hanging(sketch: Sketch, things: set[str]) -> list[str]:
    """Points of no curve that ties hang on these things alone, like the middle of a rectangle."""
    used = {p for c in sketch.curves for p in c.points}
    return [
        p.id
        for p in sketch.points
        if p.id not in used | things
        and (held := [t for t in sketch.constraints if p.id in t.of])
        and all(set(t.of) - {p.id} <= things for t in held)
    ]


def move_by(sketch: Sketch, ids: Sequence[str], by: Place) -> Sketch:
    """Things moved so far (mm); what ties them to others pulls them back as far as it must."""
    moved = {p for c in sketch.curves if c.id in ids for p in c.points} | {p.id for p in sketch.points if p.id in ids}
    moved |= set(_hanging(sketch, moved | set(ids)))
    if not moved - {ORIGIN}:
        raise CommandError("Select what to move.")
    points = [p.model_copy(update={"x": p.x + by[0], "y": p.y + by[1]}) if p.id in moved else p for p in sketch.points]
    return sketch.model_copy(update={"points": points})


def offset_chain(
    sketch: Sketch, curves: Sequence[str], distance_mm: float, formula: str, *, other_side: bool, rounded: bool = False
) -> Sketch:
    """A chain of lines and arcs beside another, at a distance that stays: of one that closes outside, or inside on the other side; of an open one on the left of its run, or on the other side. Of circles one round each, or inside of it.

    Smooth joints stay smooth, sharp ones run on to where they meet, or are gone round where ``rounded``; the ends of an open chain
    stand squarely beside those of the first.
    """
    if distance_mm < 0.01:
        raise CommandError("An offset needs a distance above zero.")
    if rings := [c for c in sketch.curves if c.id in curves and c.kind == "circle"]:
        return _rings(sketch, rings, len(set(curves)), distance_mm, formula, inside=other_side)
    run = _chained(sketch, curves)
    count = len(run)
    closed = count > 1 and run[0][1] == run[-1][2]
    # what lies outside is on the right of a run that goes round to the left
    left = other_side == _goes_left(sketch, run) if closed else not other_side
    side = distance_mm if left else -distance_mm
    ids, points, made = Ids(sketch), list[Point](), list[SketchCurve]()
    ties: list[Constraint] = []
    sizes: list[Dimension] = []
    #: the new ends of each curve of the run, and the joints that are gone round
    starts, finishes, corners = dict[int, str](), dict[int, str](), dict[int, str]()

    def put(place: Place) -> str:
        points.append(Point(id=ids.new("p"), x=place[0], y=place[1]))
        return points[-1].id

    for k, joint in enumerate([r[1] for r in run] + ([] if closed else [run[-1][2]])):
        before = (k - 1) % count if k > 0 or closed else None
        after = k if k < count else None
        if (
            before is not None
            and after is not None
            and rounded
            and _outer(sketch, joint, run[before], run[after], side)
        ):
            finishes[before] = put(_beside(sketch, joint, run[before], None, side))
            starts[after] = put(_beside(sketch, joint, None, run[after], side))
            corners[after] = joint
            continue
        one, two = (run[i] if i is not None else None for i in (before, after))
        name = put(_beside(sketch, joint, one, two, side))
        if before is not None:
            finishes[before] = name
        if after is not None:
            starts[after] = name
    #: for each curve whether it runs on smoothly into the one after it
    smooth = [(closed or k + 1 < count) and _runs_on(sketch, run[k], run[(k + 1) % count]) for k in range(count)]
    settled = {k for k, (curve, _, _) in enumerate(run) if curve.kind == "line"}
    for k, (curve, first, _) in enumerate(run):
        ends = [starts[k], finishes[k]] if curve.points[-2] == first else [finishes[k], starts[k]]
        if curve.kind == "line":
            new = SketchCurve(id=ids.new("l"), kind="line", points=ends, construction=_stays(curve))
            lead = sizes[0].id if sizes else ""
            sizes.append(followed(ids, "distance", [starts[k], curve.id], formula, lead))
            ties.append(Constraint(id=ids.new("k"), kind="parallel", of=[curve.id, new.id]))
        else:
            radius = round_of(sketch, curve)[1]
            inner = side if curve.points[1] == first else -side
            if radius - inner < 0.05:
                raise CommandError(
                    f"An offset of {distance_mm:.4g} mm leaves nothing of an arc with a radius of {radius:.4g} mm."
                )
            new = SketchCurve(id=ids.new("a"), kind="arc", points=[curve.points[0], *ends], construction=_stays(curve))
            # how far an arc is set off follows from what it runs on smoothly into; otherwise it says so itself
            if not _smoothly(k, smooth, closed) & settled:
                lead = sizes[0].id if sizes else ""
                of = [new.id, curve.id] if inner > 0 else [curve.id, new.id]
                sizes.append(followed(ids, "ring", of, formula, lead))
                settled.add(k)
        made.append(new)
    chain = list(made)
    for after in range(0 if closed else 1, count):
        first_new, second_new = chain[after - 1], chain[after]
        if after in corners:
            # on the left of the run one goes round a corner clockwise, on its right the other way
            ends = [finishes[(after - 1) % count], starts[after]]
            arc = SketchCurve(id=ids.new("a"), kind="arc", points=[corners[after], *(ends[::-1] if side > 0 else ends)])
            made.append(arc)
            ties += [Constraint(id=ids.new("k"), kind="tangent", of=[c.id, arc.id]) for c in (first_new, second_new)]
        elif "arc" in (first_new.kind, second_new.kind) and smooth[(after - 1) % count]:
            ties.append(Constraint(id=ids.new("k"), kind="tangent", of=[first_new.id, second_new.id]))
    if not closed:
        for end, name, curve in ((run[0][1], starts[0], run[0][0]), (run[-1][2], finishes[count - 1], run[-1][0])):
            if curve.kind == "line":
                across = SketchCurve(id=ids.new("l"), kind="line", points=[end, name], construction=True)
                made.append(across)
                ties.append(Constraint(id=ids.new("k"), kind="perpendicular", of=[curve.id, across.id]))
    return grown(sketch, points, made, ties, sizes)


def _goes_left(sketch: Sketch, run: Sequence[_Run]) -> bool:
    """Whether a closed run goes round with what it encloses on its left: by the area between its corners and places of its arcs."""
    places: list[Place] = []
    for curve, first, _ in run:
        places.append(place_of(sketch, first))
        if curve.kind == "arc":
            centre, radius = round_of(sketch, curve)
            one, two = (
                math.atan2(y - centre[1], x - centre[0]) for x, y in (place_of(sketch, p) for p in curve.points[1:])
            )
            turns = [one + k / 4 * ((two - one) % (2 * math.pi)) for k in (1, 2, 3)]
            if curve.points[1] != first:
                turns.reverse()
            places += [(centre[0] + radius * math.cos(t), centre[1] + radius * math.sin(t)) for t in turns]
    return sum(a[0] * b[1] - a[1] * b[0] for a, b in zip(places, places[1:] + places[:1], strict=True)) > 0


def _runs_on(sketch: Sketch, before: _Run, after: _Run) -> bool:
    """Whether one curve of a run goes on into the next without a corner."""
    (ux, uy), (vx, vy) = _leaving(sketch, before, before[2]), _leaving(sketch, after, after[1])
    return abs(ux * vy - uy * vx) < 1e-4 and ux * vx + uy * vy > 0


def _smoothly(k: int, smooth: Sequence[bool], closed: bool) -> set[int]:
    """The curves of a run that hang together smoothly with one of them, itself too."""
    count, out = len(smooth), {k}
    for way in (1, -1):
        at = k
        while smooth[at if way > 0 else (at - 1) % count] and (closed or 0 <= at + way < count):
            at = (at + way) % count
            if at in out:
                break
            out.add(at)
    return out


def _rings(
    sketch: Sketch, circles: Sequence[SketchCurve], count: int, distance_mm: float, formula: str, *, inside: bool
) -> Sketch:
    """Circles round others, at one distance that stays; or inside of them."""
    if len(circles) < count:
        raise CommandError("Set off circles, or one chain of lines and arcs, not both at once.")
    ids, made, sizes = Ids(sketch), list[SketchCurve](), list[Dimension]()
    for circle in circles:
        radius = circle.radius + (-distance_mm if inside else distance_mm)
        if radius < 0.05:
            raise CommandError(
                f"An offset of {distance_mm:.4g} mm leaves nothing of a circle with a radius of {circle.radius:.4g} mm."
            )
        made.append(
            SketchCurve(
                id=ids.new("c"), kind="circle", points=[circle.points[0]], radius=radius, construction=_stays(circle)
            )
        )
        of = [made[-1].id, circle.id] if inside else [circle.id, made[-1].id]
        sizes.append(followed(ids, "ring", of, formula, sizes[0].id if sizes else ""))
    return grown(sketch, [], made, [], sizes)


def _outer(sketch: Sketch, joint: str, before: _Run, after: _Run, side: float) -> bool:
    """Whether the run turns away from the side that it is set off to, so that its offset has a corner to go round."""
    (ux, uy), (vx, vy) = _leaving(sketch, before, joint), _leaving(sketch, after, joint)
    return (ux * vy - uy * vx) * side < -1e-6 * abs(side)


_Run = tuple[SketchCurve, str, str]


def _chained(sketch: Sketch, curves: Sequence[str]) -> list[_Run]:
    """Curves in the order in which they hang together, each with the ends that it is run through from and to."""
    rest = [c for c in sketch.curves if c.id in curves]
    if not rest or any(c.kind not in ("line", "arc") for c in rest):
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
    (ax, ay), (bx, by) = place_of(sketch, first), place_of(sketch, last)
    if curve.kind == "line":
        size = math.dist((ax, ay), (bx, by))
        return (bx - ax) / size, (by - ay) / size
    (cx, cy), radius = round_of(sketch, curve)
    x, y = place_of(sketch, point)
    sense = 1 if curve.points[1] == first else -1
    return -(y - cy) / radius * sense, (x - cx) / radius * sense


def _beside(sketch: Sketch, joint: str, before: _Run | None, after: _Run | None, side: float) -> Place:
    """Where a joint of the chain comes to lie, left of the run by ``side`` (mm): where both neighbours, set off, meet."""
    x, y = place_of(sketch, joint)
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
    """Put arcs of one radius into corners where two lines or arcs meet. The first arc carries the size, the others are equal to it."""
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
        raise CommandError("Select corners where two lines or arcs meet, to round them.")
    return sketch


def _corner(sketch: Sketch, corner: str) -> tuple[list[SketchCurve], list[Place], list[float], float]:
    """The two lines that meet in a corner, their ways out of it, their lengths (mm) and the angle between them (rad)."""
    lines = [c for c in sketch.curves if c.kind == "line" and corner in c.points]
    if len(lines) != 2:
        raise CommandError("A corner that is worked on has two lines that meet in it.")
    at = place_of(sketch, corner)
    ways, rooms = [], []
    for line in lines:
        other = place_of(sketch, next(p for p in line.points if p != corner))
        size = math.dist(at, other)
        ways.append(((other[0] - at[0]) / size, (other[1] - at[1]) / size))
        rooms.append(size)
    (ux, uy), (vx, vy) = ways
    angle = math.acos(max(-1.0, min(1.0, ux * vx + uy * vy)))
    if angle < 1e-3 or math.pi - angle < 1e-3:
        raise CommandError("The two lines run on straight; there is no corner there.")
    return lines, ways, rooms, angle


def cut_corners(sketch: Sketch, corners: Sequence[str], distance_mm: float, formula: str) -> Sketch:
    """Cut corners where two lines meet, as far back along both; the first carries the size, the others follow it."""
    lead = ""
    for corner in corners:
        lines, ways, rooms, _ = _corner(sketch, corner)
        if distance_mm >= min(rooms) - 1e-6:
            raise CommandError(
                f"A cut of {distance_mm:.4g} mm does not fit on that corner; its shorter side is {min(rooms):.4g} mm long."
            )
        at, ids = place_of(sketch, corner), Ids(sketch)
        cut = [Point(id=ids.new("p"), x=at[0] + distance_mm * w[0], y=at[1] + distance_mm * w[1]) for w in ways]
        across = SketchCurve(id=ids.new("l"), kind="line", points=[p.id for p in cut])
        sketch = _shortened(
            sketch, corner, {ln.id: p.id for ln, p in zip(lines, cut, strict=True)}, cut, [across], keep=True
        )
        sizes: list[Dimension] = []
        for point in cut:
            sizes.append(followed(ids, "distance", [corner, point.id], formula, lead))
            lead = lead or sizes[0].id
        sketch = grown(sketch, [], [], [], sizes)
    if not lead:
        raise CommandError("Select corners where two lines meet, to cut them.")
    return sketch


def _shortened(
    sketch: Sketch,
    corner: str,
    ends: Mapping[str, str],
    points: Sequence[Point],
    made: Sequence[SketchCurve],
    *,
    keep: bool,
) -> Sketch:
    """Lines that ended in a corner end in new points. The corner stays where both would meet when something hangs on it."""
    curves = [
        c.model_copy(update={"points": [ends[c.id] if p == corner else p for p in c.points]}) if c.id in ends else c
        for c in sketch.curves
    ]
    # a tie, a size or another curve may hang on it
    used = {o for k in sketch.constraints for o in k.of} | {o for d in sketch.dimensions for o in d.of}
    used |= {p for c in curves for p in c.points}
    # sizes of the two sides go on to mean them up to their corner, which then stays
    sized = any(d.kind == "length" and d.of[0] in ends for d in sketch.dimensions)
    whole = {c.id: [corner if p == ends[c.id] else p for p in c.points] for c in curves if c.id in ends}
    dimensions = [
        d.model_copy(update={"kind": "distance", "of": whole[d.of[0]]}) if d.kind == "length" and d.of[0] in ends else d
        for d in sketch.dimensions
    ]
    ids = Ids(grown(sketch, points, made, [], []))
    stays = keep or corner in used or sized
    ties = (
        [Constraint(id=ids.new("k"), kind="point_on", of=[corner, id]) for id in ends]
        if stays and corner != ORIGIN
        else []
    )
    kept = [p for p in sketch.points if p.id != corner or stays]
    return sketch.model_copy(update={
        "points": [*kept, *points], "curves": [*curves, *made], "constraints": [*sketch.constraints, *ties],
        "dimensions": dimensions,
    })  # fmt: skip


def _rounded(sketch: Sketch, corner: str, radius_mm: float) -> tuple[Sketch, str]:
    curves = [c for c in sketch.curves if c.kind in ("line", "arc") and corner in c.points[-2:]]
    if len(curves) != 2:
        raise CommandError("A corner that is rounded has two lines or arcs that meet in it.")
    at = place_of(sketch, corner)
    one, two = (_leg(sketch, curve, corner) for curve in curves)
    turn = one.way[0] * two.way[1] - one.way[1] * two.way[0]
    if abs(turn) < 1e-3:
        raise CommandError("The two curves touch there; there is no corner to round.")
    found = rounding(at, one, two, radius_mm)
    if found is None:
        fits, not_so = 0.0, radius_mm
        for _ in range(40):
            middle = (fits + not_so) / 2
            fits, not_so = (middle, not_so) if rounding(at, one, two, middle) else (fits, middle)
        raise CommandError(
            f"A radius of {radius_mm:.4g} mm does not fit into that corner; {math.floor(fits * 100) / 100:.4g} mm is the most."
        )
    place, *touches = found
    ids = Ids(sketch)
    cut = [Point(id=ids.new("p"), x=t[0], y=t[1]) for t in touches]
    centre = Point(id=ids.new("p"), x=place[0], y=place[1])
    order = [cut[1].id, cut[0].id] if turn > 0 else [cut[0].id, cut[1].id]
    arc = SketchCurve(id=ids.new("a"), kind="arc", points=[centre.id, *order])
    ends = {curve.id: p.id for curve, p in zip(curves, cut, strict=True)}
    sketch = _shortened(sketch, corner, ends, [*cut, centre], [arc], keep=False)
    ids = Ids(sketch)
    ties = [Constraint(id=ids.new("k"), kind="tangent", of=[curve.id, arc.id]) for curve in curves]
    return grown(sketch, [], [], ties, []), arc.id


def _leg(sketch: Sketch, curve: SketchCurve, corner: str) -> Leg:
    """A curve as it leaves a corner."""
    end = next(p for p in curve.points[-2:] if p != corner)
    way = _leaving(sketch, (curve, corner, end), corner)
    if curve.kind == "line":
        return Leg(place_of(sketch, end), way)
    return Leg(place_of(sketch, end), way, *round_of(sketch, curve))
