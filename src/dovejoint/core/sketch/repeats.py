"""Curves that stand several times, in rows or round a point, and how often and how far apart changed afterwards, also by formulas."""

from __future__ import annotations

import contextlib
import math
from collections.abc import Callable, Mapping, Sequence

from ..errors import CommandError
from .edit import Ids, grown
from .model import Constraint, Copy, Dimension, Point, Repeat, Sketch, SketchCurve
from .shape import copied, curves_of, followed, place_of

__all__ = ["MOST_COPIES", "change_repeat", "counted_by", "keep_counts", "repeat_in_rows", "repeat_round", "whole_count"]

#: so many copies are made at once
MOST_COPIES = 400


def whole_count(figure: float) -> int | None:
    """How often something can stand by a formula's figure; ``None`` for what is no whole number, none or too many."""
    whole = round(figure)
    return whole if abs(figure - whole) < 1e-9 and 1 <= whole <= MOST_COPIES else None


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
    still = {id for id, place in known.items() if id == centre or math.dist(place, (cx, cy)) < 1e-9 * size}

    def turned(id: str, k: int) -> tuple[float, float]:
        dx, dy, turn = known[id][0] - cx, known[id][1] - cy, 2 * math.pi * k / count
        return cx + math.cos(turn) * dx - math.sin(turn) * dy, cy + math.sin(turn) * dx + math.cos(turn) * dy

    meets = _meets(again, own) if again else {
        one: (other, k)
        for k in range(count // 2, 0, -1) for one in own for other in own
        if one not in still and math.dist(turned(one, k), known[other]) < 1e-4 * size
    }  # fmt: skip
    # half a turn on is half a turn back: one of the two says it
    meets = {
        one: (other, k) for one, (other, k) in meets.items() if one < other or meets.get(other, ("", 0)) != (one, k)
    }
    met = {other: (one, k) for one, (other, k) in meets.items()}
    names, left_out = _names(again), again.left_out if again else []
    all_places: dict[int, dict[str, str]] = {0: {id: id for id in own}}
    #: points of which it was said already where they lie
    placed: set[str] = set()
    for k in range(1, count):
        if (k, 0) in left_out:
            continue
        places = all_places[k] = {}
        for id in own:
            if id in still:
                places[id] = id
                continue
            before, back = meets.get(id, ("", count))
            beyond, on = met.get(id, ("", 0))
            if before and k - back in all_places:
                there = all_places[k - back][before]
            elif beyond and k + on >= count and k + on - count in all_places:
                # the ring closes: that follows, and is not said twice
                places[id] = all_places[k + on - count][beyond]
                continue
            else:
                there = ids.new("p", names.get((k, 0), {}).get(id, ""))
                x, y = turned(id, k)
                points.append(Point(id=there, x=x, y=y))
            places[id] = there
            if there in placed:
                continue
            placed.add(there)
            degrees = round(360 * k / count, 9)
            ties.append(Constraint(id=ids.new("k"), kind="turned", of=[id, there, centre], turn_deg=degrees))
        new = copied(ids, chosen, places, names.get((k, 0)))
        copies.append(_copy((k, 0), places, chosen, new))
        made += new
    ties += _as_large(ids, chosen, made)
    kept = _kept(ids, again, [], chosen, (count, 1), ("", ""), centre, copies, ties)
    kept = kept.model_copy(update={"meets": [(one, other, k) for one, (other, k) in meets.items()]})
    return grown(sketch, points, made, ties, []).model_copy(update={"repeats": [*sketch.repeats, kept]})


def _meets(again: Repeat, own: Sequence[str]) -> dict[str, tuple[str, int]]:
    """Which points of a copy are points of one so many before it, as ``its own: (the other's, how many)``: so a ring that closed closes
    again however many there are. One that was drawn by an older version says so by what its copies are called."""
    if again.meets:
        return {one: (other, k) for one, other, k in again.meets if one in own and other in own}
    by_copy = {0: {id: id for id in own}, **{copy.at[0]: copy.names for copy in again.copies}}
    found: dict[str, tuple[str, int]] = {}
    for back in range(again.counts[0] // 2, 0, -1):
        for k, names in by_copy.items():
            there = {name: id for id, name in by_copy.get(k - back, {}).items()}
            found |= {id: (there[names[id]], back) for id in own if names.get(id) in there and id != names[id]}
    return found


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


def counted_by(sketch: Sketch, id: str, by: tuple[str, str]) -> Sketch:
    """The same with formulas for the counts of a repeat."""
    kept = [r.model_copy(update={"by": by}) if r.id == id else r for r in sketch.repeats]
    return sketch.model_copy(update={"repeats": kept})


def keep_counts(
    sketch: Sketch, count_of: Callable[[str], int | None], length_of: Callable[[str], float | None]
) -> Sketch:
    """The sketch with as many copies as the formulas of its repeats say now; itself where it has them already. A count that cannot be had
    (no whole number, too many) leaves the copies as they are: what says so is the evaluation of the sketch."""
    for repeat in sketch.repeats:
        counts = tuple(count_of(text) if text else was for text, was in zip(repeat.by, repeat.counts, strict=True))
        if counts == repeat.counts or counts[0] is None or counts[1] is None:
            continue
        # the size on the board may say another distance by now
        own = {d.kind: d.formula for d in sketch.dimensions if d.id in repeat.made and not d.follows}
        pitches = (own.get("distance_x", repeat.pitches[0]), own.get("distance_y", repeat.pitches[1]))
        figures = [length_of(text) if text else 0.0 for text in pitches]
        if figures[0] is None or figures[1] is None:
            continue
        with contextlib.suppress(CommandError):
            sketch = change_repeat(sketch, repeat.id, (counts[0], counts[1]), pitches, (figures[0], figures[1]))
    return sketch


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
        by=again.by if again else ("", ""),
        copies=copies, left_out=again.left_out if again else [], made=[*(k.id for k in ties), *(d.id for d in sizes)],
    )  # fmt: skip


def _as_large(ids: Ids, chosen: Sequence[SketchCurve], made: Sequence[SketchCurve]) -> list[Constraint]:
    """Circles stay as large as the first; ``made`` holds copy after copy of what was chosen."""
    return [
        Constraint(id=ids.new("k"), kind="equal", of=[c.id, *(m.id for m in made[k :: len(chosen)])])
        for k, c in enumerate(chosen)
        if c.sized
    ]
