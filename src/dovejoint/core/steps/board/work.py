"""Commands that work on what is drawn on the board."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...document.commands import CommandModel, Outcome, handler, known_values
from ...document.model import Project
from ...errors import CommandError
from ...quantities import NUMBER, evaluate, names_in, parse
from ...sketch import (
    MOST_COPIES,
    change_repeat,
    construct,
    copy_by,
    counted_by,
    cut_corners,
    extend,
    join_ends,
    mirror,
    move_by,
    offset_chain,
    repeat_in_rows,
    repeat_round,
    round_corners,
    split,
    trim,
    whole_count,
)  # fmt: skip
from .common import At, checked, done, drawn, sizes_of, sketch_of

#: how often, as a figure or a formula
Count = Annotated[int, Field(ge=1, le=MOST_COPIES)] | Annotated[str, Field(max_length=400)]


class ConstructSketch(CommandModel):
    """Makes curves construction, or real again."""

    do: Literal["ConstructSketch"] = "ConstructSketch"
    step: str
    ids: list[str]
    on: bool


class MirrorSketch(CommandModel):
    do: Literal["MirrorSketch"] = "MirrorSketch"
    step: str
    ids: list[str]
    axis: str


class RoundSketch(CommandModel):
    """Rounds corners where two lines or arcs meet, with one radius for all."""

    do: Literal["RoundSketch"] = "RoundSketch"
    step: str
    corners: list[str]
    radius: str = Field(max_length=400)


class RepeatSketch(CommandModel):
    """Repeats curves in rows: so many across and deep, so far apart, all by formulas."""

    do: Literal["RepeatSketch"] = "RepeatSketch"
    step: str
    ids: list[str]
    across: Count = 1
    deep: Count = 1
    pitch_x: str = Field(default="", max_length=300)
    pitch_y: str = Field(default="", max_length=300)


class ChangeRepeat(CommandModel):
    """Another count, or another distance, of what is repeated; round a point ``across`` is how often."""

    do: Literal["ChangeRepeat"] = "ChangeRepeat"
    step: str
    repeat: str = Field(max_length=40)
    across: Count = 1
    deep: Count = 1
    pitch_x: str = Field(default="", max_length=300)
    pitch_y: str = Field(default="", max_length=300)


class OffsetSketch(CommandModel):
    """Sets a chain of lines and arcs off at a distance: a closed one or circles outside, or inside (``other_side``); an open one on the left of its run, or on the other side."""

    do: Literal["OffsetSketch"] = "OffsetSketch"
    step: str
    ids: list[str]
    distance: str = Field(max_length=400)
    other_side: bool = False
    rounded: bool = False


class RingSketch(CommandModel):
    """Repeats curves evenly round a point."""

    do: Literal["RingSketch"] = "RingSketch"
    step: str
    ids: list[str]
    centre: str
    count: Count


class TrimSketch(CommandModel):
    """Takes away the stretch of a curve between its crossings on both sides of a place."""

    do: Literal["TrimSketch"] = "TrimSketch"
    step: str
    id: str
    near: At


@handler(ConstructSketch)
def _(project: Project, command: ConstructSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    words = "make construction" if command.on else "make real"
    return done(project, step, construct(sketch, command.ids, command.on), words)


@handler(MirrorSketch)
def _(project: Project, command: MirrorSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    return drawn(project, step, mirror(sketch, command.ids, command.axis), "mirror")


@handler(RoundSketch)
def _(project: Project, command: RoundSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    text, figure = checked(project, command.radius, False)
    if figure <= 0:
        raise CommandError("A radius must be above zero.", field="radius")
    rounded = round_corners(sketch, command.corners, figure, text)
    return drawn(project, step, rounded, f"round corners by {text}")


@handler(RepeatSketch)
def _(project: Project, command: RepeatSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    counts, by = _counts(project, command.across, command.deep)
    grid = repeat_in_rows(sketch, command.ids, counts, *_pitches(project, command, counts))
    return drawn(project, step, counted_by(grid, grid.repeats[-1].id, by), "repeat in rows")


@handler(ChangeRepeat)
def _(project: Project, command: ChangeRepeat) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    counts, by = _counts(project, command.across, command.deep)
    changed = change_repeat(sketch, command.repeat, counts, *_pitches(project, command, counts))
    changed = counted_by(changed, command.repeat, by)
    return drawn(project, step, changed, f"repeat {counts[0] * counts[1]} times")


def _counts(project: Project, across: int | str, deep: int | str = 1) -> tuple[tuple[int, int], tuple[str, str]]:
    """How often across and deep, and the formulas that say so where they are more than figures. Raises CommandError."""
    read = [_count(project, text) for text in (across, deep)]
    return (read[0][0], read[1][0]), (read[0][1], read[1][1])


def _count(project: Project, text: int | str) -> tuple[int, str]:
    if isinstance(text, int):
        return text, ""
    figure = evaluate(text.strip(), known_values(project), NUMBER).value
    count = whole_count(figure)
    if count is None:
        raise CommandError(f"So many are a whole number from 1 to {MOST_COPIES}, and it is {figure:.4g}.")
    return count, text.strip() if names_in(parse(text)) else ""


def _pitches(
    project: Project, command: RepeatSketch | ChangeRepeat, counts: tuple[int, int]
) -> tuple[tuple[str, str], tuple[float, float]]:
    """The formulas of both pitches, where there is more than one in that direction, and what they are (mm)."""
    read = [
        checked(project, formula, False) if count > 1 and formula.strip() else ("", 0.0)
        for count, formula in zip(counts, (command.pitch_x, command.pitch_y), strict=True)
    ]
    return (read[0][0], read[1][0]), (read[0][1], read[1][1])


@handler(OffsetSketch)
def _(project: Project, command: OffsetSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    text, figure = checked(project, command.distance, False)
    moved = offset_chain(sketch, command.ids, figure, text, other_side=command.other_side, rounded=command.rounded)
    return drawn(project, step, moved, f"set off by {text}")


@handler(RingSketch)
def _(project: Project, command: RingSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    (count, _), by = _counts(project, command.count)
    ring = repeat_round(sketch, command.ids, command.centre, count)
    return drawn(project, step, counted_by(ring, ring.repeats[-1].id, by), f"repeat {count} times round a point")


@handler(TrimSketch)
def _(project: Project, command: TrimSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    return drawn(project, step, trim(sketch, command.id, command.near), "trim")


class CutCornersSketch(CommandModel):
    """Cuts corners where two lines meet, as far back on both sides."""

    do: Literal["CutCornersSketch"] = "CutCornersSketch"
    step: str
    corners: list[str]
    distance: str = Field(max_length=400)


class SplitSketch(CommandModel):
    do: Literal["SplitSketch"] = "SplitSketch"
    step: str
    id: str
    near: At


class ExtendSketch(CommandModel):
    """Runs a line or an arc on to the next curve beyond its end nearer to a place."""

    do: Literal["ExtendSketch"] = "ExtendSketch"
    step: str
    id: str
    near: At


class ShiftSketch(CommandModel):
    """Moves things by formulas, or leaves them and makes a copy there."""

    do: Literal["ShiftSketch"] = "ShiftSketch"
    step: str
    ids: list[str]
    right: str = Field(default="", max_length=400)
    up: str = Field(default="", max_length=400)
    copied: bool = False


class JoinEnds(CommandModel):
    """Ties pairs of ends together: open ends with a tiny gap between them."""

    do: Literal["JoinEnds"] = "JoinEnds"
    step: str
    pairs: Annotated[list[tuple[str, str]], Field(min_length=1, max_length=200)]


@handler(CutCornersSketch)
def _(project: Project, command: CutCornersSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    text, figure = checked(project, command.distance, False)
    if figure <= 0:
        raise CommandError("A corner is cut by a distance above zero.", field="distance")
    return drawn(project, step, cut_corners(sketch, command.corners, figure, text), f"cut corners by {text}")


@handler(SplitSketch)
def _(project: Project, command: SplitSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    return drawn(project, step, split(sketch, command.id, command.near), "split a curve")


@handler(ExtendSketch)
def _(project: Project, command: ExtendSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    return drawn(project, step, extend(sketch, command.id, command.near), "run a curve on")


@handler(ShiftSketch)
def _(project: Project, command: ShiftSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    right, up = (checked(project, f, False)[1] if f.strip() else 0.0 for f in (command.right, command.up))
    if command.copied:
        return drawn(project, step, copy_by(sketch, command.ids, (right, up)), "copy")
    return drawn(project, step, move_by(sketch, command.ids, (right, up)), "move")


@handler(JoinEnds)
def _(project: Project, command: JoinEnds) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    joined = join_ends(sketch, command.pairs, sizes_of(project, sketch))
    return done(project, step, joined, "close gaps" if len(command.pairs) > 1 else "close a gap")
