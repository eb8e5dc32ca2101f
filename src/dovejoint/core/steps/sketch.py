"""Sketch: curves with constraints and dimensions on a plane or a flat face."""

from __future__ import annotations

import contextlib
from collections.abc import Mapping
from typing import Annotated

from pydantic import Field

from .. import solid as kernel
from ..document import PlanePick, StepFields
from ..document.picks import BasePlane
from ..errors import CommandError, FormulaError, StepError
from ..quantities import ANGLE, LENGTH, NUMBER, Quantity, evaluate
from ..quantities import Dimension as QuantityDimension
from ..quantities.markers import Angle, Length
from ..recipe import FieldSpec, SketchShape, StepContext, StepKind, StepOutput, register, said, wanted
from ..sketch import MOST_COPIES, Sketch, at_rest, in_words, keep_counts, measured, outlines, settle, solve, whole_count
from .sources import Source, follow

__all__ = ["SketchFields"]


class SketchFields(StepFields):
    """``right`` and ``up`` say where on its plane the board has its origin, ``turn`` how its directions lie there."""

    plane: PlanePick = BasePlane(plane="ground")
    right: Length = "0 mm"
    up: Length = "0 mm"
    turn: Angle = "0 deg"
    sketch: Sketch = Sketch()
    sources: Annotated[list[Source], Field(max_length=400)] = []

    @property
    def follows_counts(self) -> bool:
        return any(text for repeat in self.sketch.repeats for text in repeat.by)

    def kept_to(self, known: Mapping[str, Quantity]) -> StepFields:
        def figure(text: str, dimension: QuantityDimension) -> float | None:
            try:
                return evaluate(text, known, dimension).value
            except FormulaError:
                return None

        def count(text: str) -> int | None:
            found = figure(text, NUMBER)
            return whole_count(found) if found is not None else None

        sketch = keep_counts(self.sketch, count, lambda text: figure(text, LENGTH))
        if sketch is self.sketch:
            return self
        sizes = {d.id: figure(d.formula, _size_of(d.kind)) for d in sketch.dimensions if not d.reading}
        told = {id: size for id, size in sizes.items() if size is not None}
        if len(told) == len(sizes):
            # one that cannot come to rest says so when it is evaluated
            with contextlib.suppress(CommandError):
                sketch = at_rest(sketch, told)
        return self.model_copy(update={"sketch": sketch})


def _size_of(kind: str) -> QuantityDimension:
    return ANGLE if kind == "angle" else LENGTH


def _dimension_of(fields: SketchFields, path: str) -> QuantityDimension:
    """The dimension that the formula at ``sketch.dimensions.<id>.formula`` must have."""
    id = path.split(".")[2]
    return _size_of(next(d.kind for d in fields.sketch.dimensions if d.id == id))


def _apply(ctx: StepContext) -> StepOutput:
    fields: SketchFields = ctx.fields
    frame = ctx.frame(fields.plane, "plane")
    right, up, turn = (ctx.figures.get(name, 0.0) for name in ("right", "up", "turn"))
    if right or up or turn:
        frame = frame.placed(right, up, turn)
    sketch, lost = follow(ctx, fields.sources, fields.sketch, frame)
    for repeat in sketch.repeats:
        for k, text in enumerate(repeat.by):
            if text and abs(ctx.number(f"sketch.repeats.{repeat.id}.by.{k}") - repeat.counts[k]) > 1e-9:
                most = MOST_COPIES // len(repeat.of)
                raise StepError(
                    f"What is repeated “{text}” times stands {repeat.counts[k]} times: so many are a whole number from "
                    f"{2 if repeat.centre else 1} to {most}.",
                    field="sketch",
                )
    sizes = {d.id: ctx.number(f"sketch.dimensions.{d.id}.formula") for d in sketch.dimensions if not d.reading}
    try:
        # on which side of what was brought in things lie is told by where it all stood when it was drawn
        solution = solve(sketch, sizes, stood=fields.sketch if fields.sources else None)
    except StepError as error:
        raise StepError(in_words(sketch, error.message), field="sketch", things=error.things) from None
    if not solution.solved:
        raise StepError(solution.message, field="sketch", things=solution.conflicts)
    stands = settle(sketch, solution)
    try:
        curves = outlines(stands)
    except StepError as error:
        raise StepError(error.message, field="sketch") from None
    sizes |= {d.id: measured(stands, d.kind, d.of, d.back) for d in sketch.dimensions if d.reading}
    shape = SketchShape(
        stands, solution, sizes, frame, kernel.find_regions(curves), kernel.open_ends(curves), curves, lost
    )
    note = (
        f"{len(lost)} of its curves lost what they were brought in from; aim them anew or freeze them." if lost else ""
    )
    return StepOutput(sketch=shape, plane=frame, note=note)


register(
    StepKind(
        kind="sketch",
        title="Sketch",
        group="make",
        about="Draw an outline on a plane or a flat face.",
        fields=SketchFields,
        specs=(
            FieldSpec(
                "plane",
                "plane",
                "where the sketch lies",
                {"rule": "base", "plane": "ground"},
                missing="a plane or a flat face",
            ),
            FieldSpec("sketch", "sketch", "the outline", {}),
            FieldSpec("right", "length", "origin to the right", "0 mm"),
            FieldSpec("up", "length", "origin upwards", "0 mm"),
            FieldSpec("turn", "angle", "turned by", "0 deg"),
        ),
        sentence=said(
            "Sketch ",
            "{sketch}",
            " on ",
            "{plane}",
            *wanted("an origin of its own", ", its origin ", "{right}", " to the right and ", "{up}", " up"),
            *wanted("turned directions", ", turned by ", "{turn}"),
        ),
        apply=_apply,
        suits=("face",),
        words="draw outline profile",
        dimension_of=_dimension_of,
    )
)
