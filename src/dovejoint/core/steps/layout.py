"""How copies are laid out: in rows, round an axis, along a path, or at the points of a sketch; how many is a formula, and some may be left out."""

from __future__ import annotations

import math
import re
from typing import Annotated, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import StepFields
from ..errors import StepError
from ..quantities.markers import Angle, Length, Number
from ..recipe import Choice, FieldSpec, StepContext, said, wanted
from ..recipe.picks import AxisPick, PathPick, SpotsPick, axis_of, path_of, spots_of
from ..recipe.picks.axes import BaseAxis
from ..recipe.registry import Said
from ..solid.frame import add, scale, sub

__all__ = ["LAYOUT_CHOICES", "LayoutFields", "counted", "layout_said", "layout_specs", "left_out_of", "motions"]

#: more copies than this are no row that a person means
MOST = 400


class LayoutFields(StepFields):
    """``count`` are there in all, the first one too; ``rows`` of them stand side by side, every ``row_pitch`` along ``row_axis``. ``pitch`` is from one to
    the next, or from the first to the last where ``span`` says so. Along ``path`` they stand ``share`` of it apart, and ``stance`` says whether they turn with it.
    ``left_out`` has the numbers of those that are not made."""

    count: Number = "3"
    how: Literal["row", "round", "turned", "along", "points"] = "row"
    axis: AxisPick = BaseAxis(axis="across")
    path: Annotated[PathPick | None, Field()] = None
    share: Literal["even", "every"] = "even"
    stance: Literal["turning", "upright"] = "turning"
    span: Literal["every", "over"] = "every"
    pitch: Length = "10 mm"
    angle: Angle = "30 deg"
    rows: Number = "1"
    row_axis: AxisPick = BaseAxis(axis="deep")
    row_pitch: Length = "10 mm"
    points: Annotated[SpotsPick | None, Field()] = None
    left_out: Annotated[str, Field(max_length=400)] = ""


def counted(ctx: StepContext, field: str, least: int, what: str) -> int:
    """A figure that counts things. Raises StepError where it is no whole number, too few or too many."""
    figure = ctx.number(field)
    if abs(figure - round(figure)) > 1e-9:
        raise StepError(f"So many are a whole number, and it is {figure:.4g}.", field=field)
    if not least <= round(figure) <= MOST:
        raise StepError(f"There are {what}, and at most {MOST}.", field=field)
    return round(figure)


def left_out_of(text: str) -> set[int] | None:
    """The numbers in a list of those to leave out; ``None`` where it is none."""
    if not text.strip():
        return set()
    if not re.fullmatch(r"\d+(\s*[,; ]\s*\d+)*", text.strip()):
        return None
    return {int(n) for n in re.findall(r"\d+", text)}


def _left_out(ctx: StepContext, most: int) -> set[int]:
    found = left_out_of(ctx.fields.left_out)
    if found is None:
        raise StepError("Those to leave out are numbers with commas between them, e.g. 2, 5.", field="left_out")
    wrong = sorted(n for n in found if not 2 <= n <= most)
    if wrong:
        raise StepError(f"There is no copy {wrong[0]}: the first one stays, and there are {most}.", field="left_out")
    return found


def motions(ctx: StepContext, first: kernel.NamedSolid) -> list[tuple[int, kernel.Motion]]:
    """The copies besides the ``first`` one, by their numbers (2, 3 …), as motions from where that one is. Raises StepError."""
    fields: LayoutFields = ctx.fields
    made = _along(ctx, first) if fields.how == "along" else _all(ctx)
    left_out = _left_out(ctx, len(made) + 1)
    out = [(k, motion) for k, motion in enumerate(made, 2) if k not in left_out]
    if not out:
        raise StepError(
            "With those left out there is no copy at all.", field="left_out" if fields.left_out else "count"
        )
    return out


def motions_or_mirrored(ctx: StepContext, first: kernel.NamedSolid) -> list[tuple[int, kernel.Motion]]:
    """The same for fields that may also say ``mirror``, across their ``plane``. Raises StepError."""
    if ctx.fields.how == "mirror":
        return [(2, kernel.Motion.mirror(ctx.frame(ctx.fields.plane, "plane")))]
    return motions(ctx, first)


def _along(ctx: StepContext, first: kernel.NamedSolid) -> list[kernel.Motion]:
    """Along a path: from its end that is nearer to the first one, or all round from where it is nearest. Raises StepError."""
    fields: LayoutFields = ctx.fields
    if fields.path is None:
        raise StepError("Pick the edges or the outline along which they stand.", field="path")
    low, high = kernel.bounds(first.shape)
    route = kernel.route_along(path_of(ctx, fields.path, "path"), scale(add(low, high), 0.5))
    count, long = counted(ctx, "count", 2, "two or more of it"), route.length_mm
    if fields.share == "even":
        pitch = long / (count if route.closed else count - 1)
    else:
        pitch = ctx.number("pitch")
        if abs(pitch) < 1e-9:
            raise StepError("With no distance between them they are all one.", field="pitch")
        if pitch < 0 and not route.closed:
            raise StepError("The path ends where they begin; take a distance above zero.", field="pitch")
        needed = abs(pitch) * (count - 1)
        # all round, the last must not come to lie on the first
        if needed > long + (-1e-6 if route.closed else 1e-6):
            raise StepError(
                f"The path is {long:.4g} mm long, and so many need {needed:.4g} mm; take fewer, or less between them.",
                field="pitch",
            )
    return route.motions([k * pitch for k in range(1, count)], fields.stance == "turning")


def _all(ctx: StepContext) -> list[kernel.Motion]:
    fields: LayoutFields = ctx.fields
    if fields.how == "points":
        if fields.points is None:
            raise StepError("Pick the outline at whose points they stand.", field="points")
        spots = [frame.origin for _, frame in spots_of(ctx, fields.points, "points")]
        if len(spots) < 2:
            raise StepError("There is only one point; the first is where the first one stands.", field="points")
        return [kernel.Motion.shift(sub(spot, spots[0])) for spot in spots[1:]]
    axis = axis_of(ctx, fields.axis, "axis")
    if fields.how == "row":
        rows = counted(ctx, "rows", 1, "one row or more")
        count = counted(ctx, "count", 1 if rows > 1 else 2, "two or more of it")
        pitch = ctx.number("pitch") / (max(1, count - 1) if fields.span == "over" else 1)
        if count > 1 and abs(pitch) < 1e-9:
            raise StepError("With no distance between them they are all one.", field="pitch")
        aside = (0.0, 0.0, 0.0)
        if rows > 1:
            across = axis_of(ctx, fields.row_axis, "row_axis")
            if abs(ctx.number("row_pitch")) < 1e-9:
                raise StepError("With no distance between the rows they are all one.", field="row_pitch")
            aside = scale(across.direction, ctx.number("row_pitch"))
        if rows * count > MOST:
            raise StepError(f"So many in so many rows are more than {MOST}.", field="rows")
        places = [add(scale(axis.direction, k * pitch), scale(aside, r)) for r in range(rows) for k in range(count)]
        return [kernel.Motion.shift(place) for place in places[1:]]
    count = counted(ctx, "count", 2, "two or more of it")
    angle = 2 * math.pi / count if fields.how == "round" else ctx.number("angle")
    if abs(math.remainder(angle, 2 * math.pi)) < 1e-9:
        raise StepError("Turned so far they are all one; take another angle.", field="angle")
    if (count - 1) * abs(angle) >= 2 * math.pi - 1e-9:
        raise StepError("So many go more than once round; take fewer, or a smaller angle.", field="angle")
    return [kernel.Motion.turn(axis, k * angle) for k in range(1, count)]


LAYOUT_CHOICES = (
    Choice("row", "in a row along"),
    Choice("round", "evenly round"),
    Choice("turned", "step by step round"),
    Choice("along", "following"),
    Choice("points", "at"),
)


def layout_specs(choices: tuple[Choice, ...] = LAYOUT_CHOICES) -> tuple[FieldSpec, ...]:
    """The specs of the fields."""
    return (
        FieldSpec("count", "number", "how many in all", "3"),
        FieldSpec("how", "choice", "how they are laid out", "row", choices),
        FieldSpec("axis", "axis", "axis", {"rule": "axis_base", "axis": "across"}, missing="an axis"),
        FieldSpec(
            "span", "choice", "how far apart", "every", (Choice("every", "every"), Choice("over", "over, in all,"))
        ),
        FieldSpec("pitch", "length", "distance", "10 mm"),
        FieldSpec("angle", "angle", "angle from one to the next", "30 deg"),
        FieldSpec("rows", "number", "how many rows", "1"),
        FieldSpec(
            "row_axis", "axis", "along which the rows follow", {"rule": "axis_base", "axis": "deep"}, missing="an axis"
        ),
        FieldSpec("row_pitch", "length", "distance from row to row", "10 mm"),
        FieldSpec("path", "path", "path", missing="edges or an outline"),
        FieldSpec("share", "choice", "how far apart", "even", (Choice("even", "evenly"), Choice("every", "every"))),
        FieldSpec(
            "stance",
            "choice",
            "how they stand",
            "turning",
            (Choice("turning", "turning with it"), Choice("upright", "all standing alike")),
        ),
        FieldSpec("points", "spots", "at which points", missing="the points of an outline"),
        FieldSpec("left_out", "text", "which are left out", ""),
    )


def layout_said(more: tuple[Said, ...] = ()) -> tuple[Said, ...]:
    """That part of a sentence; ``more`` are further ways of laying out."""
    counted_ones, lines = {"how": ["row", "round", "turned", "along"]}, {"how": ["row", "round", "turned"]}
    along, every = {"how": ["along"]}, {"how": ["along"], "share": ["every"]}
    row, turned, points = {"how": ["row"]}, {"how": ["turned"]}, {"how": ["points"]}
    return (
        *said(
            (" ", counted_ones),
            ("{count}", counted_ones),
            (" in all,", counted_ones),
            " ",
            "{how}",
            " ",
            ("{axis}", lines),
            (" ", row),
            ("{span}", row),
            (" ", row),
            ("{pitch}", row),
            (" by ", turned),
            ("{angle}", turned),
            ("{points}", points),
            ("{path}", along),
            (", ", along),
            ("{share}", along),
            (" ", every),
            ("{pitch}", every),
            (", ", along),
            ("{stance}", along),
        ),
        *more,
        *wanted(
            "several rows", (", in ", row), ("{rows}", row), (" rows along ", row), ("{row_axis}", row), (" every ", row), ("{row_pitch}", row)
        ),
        *wanted("leave some out", ", but not number ", "{left_out}"),
    )  # fmt: skip
