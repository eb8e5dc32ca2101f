"""Curves that stand several times, in rows or round a point, and how often and how far apart changed afterwards."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from ..errors import CommandError
from .edit import Ids, grown
from .model import Constraint, Copy, Dimension, Point, Repeat, Sketch, SketchCurve
from .shape import copied, curves_of, followed, place_of

__all__ = ["change_repeat", "repeat_in_rows", "repeat_round"]

#: so many copies are made at once
MOST_COPIES = 400

At = tuple[int, int]
#: what the copies of a repeat are to be called again, by which copy it is
Names = Mapping[At, Mapping[str, str]]


def repeat_in_rows(
    sketch: Sketch,
    curves: Sequence[str],
    counts: tuple[int, int],
    pitches: tuple[str, str],
    figures_mm: tuple[float, float],
    *,
    again: Repeat | None = None,
) -> Sketch:
    """Repeat curves in rows across and deep. Each copy stays so many pitches away from the first, whatever they come to be.

    ``pitches`` are formulas, ``figures_mm`` what they are now; circles stay as large as the first. ``again`` is a repeat that is made
    anew: its copies keep their names, and what was left out stays so.
    """
    chosen = curves_of(sketch, curves)
    if counts[0] * counts[1] < 2 or min(counts) < 1:
        raise CommandError("Repeat it at least twice, across or deep.")
    if counts[0] * counts[1] * len(chosen) > MOST_COPIES:
        raise CommandError(f"That would be more than {MOST_COPIES} curves at once.")
    for axis in (0, 1):
        if counts[axis] > 1 and abs(figures_mm[axis]) < 0.01:
            raise CommandError("The copies need a distance from each other.")
    ids, points, made, copies = Ids(sketch), list[Point](), list[SketchCurve](), list[Copy]()
    ties: list[Constraint] = []
    sizes: list[Dimension] = []
    names, left_out = _names(again), again.left_out if again else []
    for at in ((i, j) for j in range(counts[1]) for i in range(counts[0]) if i or j):
        if at in left_out:
            continue
        places = {}
        for id in dict.fromkeys(p for c in chosen for p in c.points):
            x, y = place_of(sketch, id)
            name = ids.new("p", names.get(at, {}).get(id, ""))
            points.append(Point(id=name, x=x + at[0] * figures_mm[0], y=y + at[1] * figures_mm[1]))
            places[id] = name
            for k, kind, level in ((0, "distance_x", "vertical"), (1, "distance_y", "horizontal")):
                if at[k] == 0:
                    ties.append(Constraint(id=ids.new("k"), kind=level, of=[id, name]))  # type: ignore[arg-type]
                    continue
                lead = next((d.id for d in sizes if d.kind == kind), "")
                sizes.append(followed(ids, kind, [id, name], pitches[k], lead, at[k]))
        new = copied(ids, chosen, places, names.get(at))
        copies.append(_copy(at, places, chosen, new))
        made += new
    ties += _as_large(ids, chosen, made)
    kept = _kept(ids, again, sizes, chosen, counts, pitches, "", copies, ties)
    return grown(sketch, points, made, ties, sizes).model_copy(update={"repeats": [*sketch.repeats, kept]})


def repeat_round(
    sketch: Sketch, curves: Sequence[str], centre: str, count: int, *, again: Repeat | None = None
) -> Sketch:
    """Repeat curves evenly round a point. Ends that meet the next copy are shared, so that one notch closes to a ring."""
    chosen = curves_of(sketch, curves)
    if not 2 <= count <= MOST_COPIES // len(chosen):
        raise CommandError(f"Round a point there can be 2 to {MOST_COPIES // len(chosen)} of them.")
    cx, cy = place_of(sketch, centre)
    ids, points, made, copies = Ids(sketch), list[Point](), list[SketchCurve](), list[Copy]()
    ties: list[Constraint] = []
    own = list(dict.fromkeys(p for c in chosen for p in c.points))
    known = {id: place_of(sketch, id) for id in own}
    size = max((math.dist(p, (cx, cy)) for p in known.values()), default=1.0) or 1.0
    names, left_out = _names(again), again.left_out if again else []
    #: points of which it was said already where they lie
    placed: set[str] = set()
    for k in range(1, count):
        if (k, 0) in left_out:
            continue
        turn = 2 * math.pi * k / count
        places = {}
        for id in own:
            x, y = place_of(sketch, id)
            if id == centre or math.dist((x, y), (cx, cy)) < 1e-9 * size:
                places[id] = id
                continue
            dx, dy = x - cx, y - cy
            at = (cx + math.cos(turn) * dx - math.sin(turn) * dy, cy + math.sin(turn) * dx + math.cos(turn) * dy)
            there = next((q for q, place in known.items() if math.dist(place, at) < 1e-4 * size), None)
            if there is None:
                there = ids.new("p", names.get((k, 0), {}).get(id, ""))
                points.append(Point(id=there, x=at[0], y=at[1]))
                known[there] = at
            places[id] = there
            # a ring that closes meets its own beginning again: that follows, and is not said twice
            if there in placed or (there in own and k > 1):
                continue
            placed.add(there)
            degrees = round(math.degrees(turn), 9)
            ties.append(Constraint(id=ids.new("k"), kind="turned", of=[id, there, centre], turn_deg=degrees))
        new = copied(ids, chosen, places, names.get((k, 0)))
        copies.append(_copy((k, 0), places, chosen, new))
        made += new
    ties += _as_large(ids, chosen, made)
    kept = _kept(ids, again, [], chosen, (count, 1), ("", ""), centre, copies, ties)
    return grown(sketch, points, made, ties, []).model_copy(update={"repeats": [*sketch.repeats, kept]})


def change_repeat(
    sketch: Sketch, id: str, counts: tuple[int, int], pitches: tuple[str, str], figures_mm: tuple[float, float]
) -> Sketch:
    """Another count or pitch of a repeat. Copies that stay keep their names and what others tied to them; round a point only
    ``counts[0]`` matters. Raises CommandError."""
    was = next((r for r in sketch.repeats if r.id == id), None)
    if was is None or any(sketch.curve(c) is None for c in was.of):
        raise CommandError("What is repeated there is not on the board any more.")
    firsts = {p for c in sketch.curves if c.id in was.of for p in c.points}
    mine = {name for copy in was.copies for name in copy.names.values()} - firsts - {*was.of, was.centre}
    # what hangs on copies is put back where its copies are made again
    bare = sketch.model_copy(update={
        "points": [p for p in sketch.points if p.id not in mine],
        "curves": [c for c in sketch.curves if c.id not in mine and not mine & set(c.points)],
        "constraints": [k for k in sketch.constraints if k.id not in was.made and not mine & set(k.of)],
        "dimensions": [d for d in sketch.dimensions if d.id not in was.made and not mine & set(d.of)],
        "repeats": [r for r in sketch.repeats if r.id != id],
    })  # fmt: skip
    if was.centre:
        new = repeat_round(bare, was.of, was.centre, counts[0], again=was)
    else:
        new = repeat_in_rows(bare, was.of, counts, pitches, figures_mm, again=was)
    there = new.ids()
    curves = [
        c for c in sketch.curves
        if c.id not in mine and c.id not in there and mine & set(c.points) and set(c.points) <= there
    ]  # fmt: skip
    there |= {c.id for c in curves}

    def hangs(item: Constraint | Dimension) -> bool:
        return item.id not in was.made and item.id not in there and set(item.of) <= there

    return grown(
        new, [], curves, [k for k in sketch.constraints if hangs(k)], [d for d in sketch.dimensions if hangs(d)]
    )


def _names(again: Repeat | None) -> Names:
    return {copy.at: copy.names for copy in again.copies} if again else {}


def _copy(at: At, places: Mapping[str, str], chosen: Sequence[SketchCurve], made: Sequence[SketchCurve]) -> Copy:
    return Copy(at=at, names={**places, **{c.id: m.id for c, m in zip(chosen, made, strict=True)}})


def _kept(
    ids: Ids,
    again: Repeat | None,
    sizes: Sequence[Dimension],
    chosen: Sequence[SketchCurve],
    counts: tuple[int, int],
    pitches: tuple[str, str],
    centre: str,
    copies: list[Copy],
    ties: Sequence[Constraint],
) -> Repeat:
    return Repeat(
        id=again.id if again else ids.new("r"), of=[c.id for c in chosen], counts=counts, pitches=pitches, centre=centre,
        copies=copies, left_out=again.left_out if again else [], made=[*(k.id for k in ties), *(d.id for d in sizes)],
    )  # fmt: skip


def _as_large(ids: Ids, chosen: Sequence[SketchCurve], made: Sequence[SketchCurve]) -> list[Constraint]:
    """Circles stay as large as the first; ``made`` holds copy after copy of what was chosen."""
    return [
        Constraint(id=ids.new("k"), kind="equal", of=[c.id, *(m.id for m in made[k :: len(chosen)])])
        for k, c in enumerate(chosen)
        if c.sized
    ]
