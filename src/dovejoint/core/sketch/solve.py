"""A document's sketch solved: least movement from where things are, with freedom and conflicts told in its own words."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import NamedTuple

import numpy as np

from ..errors import StepError
from .drag import dragged
from .drawing import Drawing, Item, drawing_of
from .model import ORIGIN, Constraint, Dimension, Point, Sketch
from .newton import SEARCH_WORK, Budget, Settled, another, diagnose, fighting, normed, rank_of, settled, witness
from .system import System, Vector
from .words import describe

__all__ = ["Solution", "dependent_on", "goes_back", "measured", "pull", "settle", "solve"]

#: shapes smaller than this are slips of the hand, and farther out than this nothing is drawn, mm
SMALLEST_MM = 0.01
LARGEST_MM = 1e5


@dataclass(frozen=True)
class Solution:
    """What became of a sketch.

    ``points`` maps ids to coordinates (mm), ``radii`` circles to radii; ``freedom`` counts the ways things can
    still move and ``free`` names the points and circles that can; ``ways`` has the direction of points that can move along one
    only. ``conflicts`` names constraints and dimensions that cannot all hold; then ``solved`` is false and the coordinates are
    as they were.
    """

    solved: bool
    points: dict[str, tuple[float, float]]
    radii: dict[str, float]
    freedom: int
    free: list[str]
    ways: dict[str, tuple[float, float]] = field(default_factory=dict)
    conflicts: list[str] = field(default_factory=list)
    message: str = ""


class Placed(NamedTuple):
    """Where a sketch stands: coordinates (mm) of points and radii of circles by id."""

    points: dict[str, tuple[float, float]]
    radii: dict[str, float]


def _checked(item: Dimension, sizes: Mapping[str, float]) -> float:
    if item.id not in sizes:
        raise StepError("A dimension has no figure.", things=[item.id])
    size = sizes[item.id]
    if not math.isfinite(size):
        raise StepError("A dimension has no finite figure.")
    if item.kind in ("length", "radius", "diameter", "ring", "perimeter") and size <= 0:
        raise StepError(
            f"A {item.kind} must be above zero, and this one is {size:.4g} mm.", field=item.id, things=[item.id]
        )
    if item.kind == "distance" and size < 0:
        raise StepError(
            f"A distance cannot be negative, and this one is {size:.4g} mm.", field=item.id, things=[item.id]
        )
    return size


def _drawn(sketch: Sketch, sizes: Mapping[str, float], stood: Sketch | None = None) -> tuple[Drawing, dict[str, float]]:
    """The sketch for the solver, its figures signed as it stands (or as it ``stood``), and what they measure now (mm, rad)."""
    figures = {d.id: _checked(d, sizes) for d in sketch.dimensions if not d.reading}
    drawing = drawing_of(sketch, figures)
    before = drawing if stood is None else drawing_of(stood, figures)
    as_places = {d.id for d in sketch.dimensions if d.signed}
    now, items = {}, []
    for item in drawing.items:
        if item.value is None:
            items.append(item)
            continue
        try:
            now[item.id] = drawing.measure(item)
            sense = now[item.id] if stood is None else before.measure(item)
        except (ValueError, IndexError, KeyError):
            raise StepError(
                f"A {item.kind.replace('_', ' ')} needs other things to hold on to.", things=item.of
            ) from None
        sided = item.kind in ("distance_x", "distance_y", "angle") or (
            item.kind == "distance" and len(item.of) == 2 and item.of[1] in drawing.lines
        )
        if sided and item.id not in as_places:
            # a figure below zero is no other side: what is on the one now would be on the other at the next solve
            item = replace(item, value=math.copysign(item.value, sense if sense else 1.0))
        items.append(item)
    return replace(drawing, items=items), now


def _placed(sketch: Sketch, system: System, z: Vector) -> Placed:
    points = {p.id: (float(z[system.slot[p.id]]), float(z[system.slot[p.id] + 1])) for p in sketch.points}
    return Placed(points, {c.id: float(z[system.radius[c.id]]) for c in sketch.curves if c.sized})


def solve(
    sketch: Sketch, sizes: Mapping[str, float], seen: Sketch | None = None, stood: Sketch | None = None
) -> Solution:
    """Bring a sketch to the sizes of its dimensions, moving as little as possible.

    Parameters
    ----------
    sizes : figure of each dimension by id, mm or rad.
    seen : the sketch as a person sees it, when it was moved before: a conflict is told of that.
    stood : the sketch before what was brought in moved: on which side of it things lie is told there.

    Raises
    ------
    StepError : a dimension is zero or negative where it must not be, or something it ties is missing.
    """
    drawing, now = _drawn(sketch, sizes, stood)
    sides = None if stood is None else np.array(drawing_of(stood, {}).places())
    budget = Budget()
    found = settled(drawing, now, sides=sides, budget=budget)
    small = _small(drawing, found.system, found.z)
    if not found.holds or small:
        # a conflict is said only when other starts have failed too
        found = another(drawing, now, Budget(0.4 * SEARCH_WORK), sides) or found
        small = _small(drawing, found.system, found.z)
    if found.holds and not small:
        return _told(sketch, drawing, found, found.z)
    if found.holds:
        conflicts, sure = [i.id for i in drawing.items if small & set(i.of)], True
    else:
        conflicts, sure = fighting(drawing, now, Budget(0.6 * SEARCH_WORK))
    names = " and ".join(describe(seen or sketch, c) for c in conflicts[:4]) or "its sizes"
    if not sure:
        names = f"among others {names}" if conflicts else names
    told = _told(sketch, drawing, found, np.array(drawing.places()))
    return replace(
        told, solved=False, conflicts=conflicts, message=f"The sketch cannot be solved: {names} cannot all hold."
    )


def _told(sketch: Sketch, drawing: Drawing, found: Settled, z: Vector) -> Solution:
    told = diagnose(drawing, z)
    known = {p.id for p in sketch.points} | {c.id for c in sketch.curves if c.sized}
    return Solution(
        True, *_placed(sketch, found.system, z), told.freedom, [f for f in told.free if f in known], told.ways
    )


def _turns(drawing: Drawing, system: System, z: Vector) -> dict[str, float]:
    """How far arcs run from start to end, and at what angle curves meet that touch in a common end (rad).

    Both change little by little; a jump by half a turn or more means that an outline was turned inside out.
    """

    def at(p: str) -> tuple[float, float]:
        return float(z[system.slot[p]]), float(z[system.slot[p] + 1])

    def leaving(id: str, end: str) -> float | None:
        """The direction in which a curve leaves one of its ends."""
        if id in drawing.lines:
            (x, y), (u, v) = at(end), at(next((p for p in drawing.lines[id] if p != end), end))
            return math.atan2(v - y, u - x)
        round = drawing.rounds.get(id)
        if round is None or end not in round.ends:
            return None
        (cx, cy), (x, y) = at(round.centre), at(end)
        return math.atan2(y - cy, x - cx) + (math.pi / 2 if end == round.start else -math.pi / 2)

    out: dict[str, float] = {}
    for id, r in drawing.rounds.items():
        if r.start is not None and r.end is not None:
            (cx, cy), (sx, sy), (ex, ey) = at(r.centre), at(r.start), at(r.end)
            out[id] = (math.atan2(ey - cy, ex - cx) - math.atan2(sy - cy, sx - cx)) % (2 * math.pi)
    for item in drawing.items:
        if item.kind != "tangent" or len(item.of) != 2:
            continue
        ends = [
            set(drawing.lines.get(c, ())) or set(drawing.rounds[c].ends if c in drawing.rounds else ()) for c in item.of
        ]
        for joint in ends[0] & ends[1]:
            ways = [leaving(c, joint) for c in item.of]
            if ways[0] is not None and ways[1] is not None:
                out[f"{item.id} {joint}"] = abs((ways[0] - ways[1] + math.pi) % (2 * math.pi) - math.pi)
    return out


def _small(drawing: Drawing, system: System, z: Vector) -> set[str]:
    """Lines and rounds that are smaller than anything drawn can be."""
    lines = {
        id for id, (p, q) in drawing.lines.items()
        if math.hypot(z[system.slot[q]] - z[system.slot[p]], z[system.slot[q] + 1] - z[system.slot[p] + 1]) < SMALLEST_MM
    }  # fmt: skip
    axes = {
        id for id, r in drawing.rounds.items()
        if r.major is not None
        and math.hypot(*(z[system.slot[r.major] + k] - z[system.slot[r.centre] + k] for k in (0, 1))) < SMALLEST_MM
    }  # fmt: skip
    return lines | axes | {r for r, k in system.radius.items() if z[k] < SMALLEST_MM}


def dependent_on(sketch: Sketch, item: Constraint | Dimension, sizes: Mapping[str, float]) -> list[str] | None:
    """Whether a new constraint or dimension says only what others say already; if so, which.

    ``None`` means that it takes away freedom. The new equation is written as a combination of the old ones, at a place where
    the sketch stands in general.
    """
    drawing, _ = _drawn(sketch, sizes)
    at = drawing.points.get(item.of[0]) if item.kind == "fixed" and item.of else None
    value = 1.0 if isinstance(item, Dimension) else None
    new = Item(item.id, item.kind, tuple(item.of), value, at, back=isinstance(item, Dimension) and item.back)
    if value is not None:
        try:
            new = replace(new, value=drawing.measure(new) or 1.0)
        except (ValueError, IndexError, KeyError):
            raise StepError("That cannot be measured so; point at a line, a circle or two points.") from None
    whole = replace(drawing, items=[*drawing.items, new])
    z = witness(drawing, np.array(drawing.places()))
    system = System(whole, start=z, reduce=False)
    jacobian = normed(system.evaluate(system.y0)[1])
    mine = np.array([owner == item.id for owner in system.owners], dtype=bool)
    old = jacobian[~mine]
    # how far along a curve it lies is an unknown of its own, and takes one equation to say
    slot = system.hidden.get(item.id)
    own = 1 if slot is not None and system.rep[slot] < system.n else 0
    if rank_of(jacobian) > rank_of(old) + own:
        return None
    owners = [o for o, m in zip(system.owners, mine, strict=True) if not m]
    weights = np.linalg.lstsq(old.T, jacobian[mine][0], rcond=1e-9)[0] if len(old) and mine.any() else np.zeros(0)
    members: list[str] = []
    for owner, weight in zip(owners, weights, strict=False):
        if owner and abs(weight) > 1e-6 and owner not in members:
            members.append(owner)
    return members


def pull(sketch: Sketch, sizes: Mapping[str, float], id: str, to: tuple[float, float]) -> Placed:
    """Drag a point (or a circle's rim) as near to a place as the constraints allow; only free things move."""
    drawing, _ = _drawn(sketch, sizes)

    turns: dict[str, float] = {}

    def sound(system: System, z: Vector) -> bool:
        """A drag must never leave what cannot be pulled open again, nor turn a rounding inside out."""
        turns.update(turns or _turns(drawing, system, np.array(drawing.places())))
        if np.any(np.abs(z) > LARGEST_MM) or _small(drawing, system, z):
            return False
        now = _turns(drawing, system, z)
        return all(abs(now[id] - turns[id]) < 0.9 * math.pi for id in now)

    if id == ORIGIN:
        raise StepError("Only a free point or a circle can be dragged.")
    z, system = dragged(drawing, id, to, sound)
    return _placed(sketch, system, z)


def measured(sketch: Sketch, kind: str, of: Sequence[str], back: bool = False) -> float:
    """What a dimension of this kind would read now, without its sign (mm or rad)."""
    return abs(drawing_of(sketch, {}).measure(Item("probe", kind, tuple(of), back=back)))


def goes_back(sketch: Sketch, kind: str, of: Sequence[str]) -> bool:
    """Whether an angle of two lines is told to the second one run the other way: in a corner that they share the corner's own angle is meant, else the smaller one."""
    lines = [curve for id in of if (curve := sketch.curve(id)) is not None and curve.kind == "line"]
    if kind != "angle" or len(lines) != 2:
        return False
    (a, b), (c, d) = (line.points for line in lines)
    if {a, b} & {c, d}:
        return not (a == c or b == d)
    return measured(sketch, kind, of) > math.pi / 2


def settle(sketch: Sketch, solution: Solution | Placed) -> Sketch:
    """The sketch with its solved coordinates, which are where its next solve starts."""

    def near(value: float) -> float:
        rounded = round(value, 9)
        return 0.0 if rounded == 0 else rounded

    points = [Point(id=p.id, x=near(solution.points[p.id][0]), y=near(solution.points[p.id][1])) for p in sketch.points]
    curves = [
        c.model_copy(update={"radius": near(solution.radii[c.id])}) if c.id in solution.radii else c
        for c in sketch.curves
    ]
    return sketch.model_copy(update={"points": points, "curves": curves})
