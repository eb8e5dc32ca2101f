"""Commands that bring edges, cuts and outlines of parts onto the board."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...document.commands import CommandModel, Outcome, handler, replace_step
from ...document.model import Project
from ...errors import CommandError
from ...sketch import Sketch, at_rest
from ..sketch import SketchFields
from ..sources import BroughtIn, Source, aimed, brought
from .common import At, done, sizes_of, sketch_of


class BringIn(CommandModel):
    """Brings curves in from parts; they stay fixed on the board and follow what they come from."""

    do: Literal["BringIn"] = "BringIn"
    step: str
    things: Annotated[list[BroughtIn], Field(min_length=1, max_length=200)]


class AimSource(CommandModel):
    """Aims a curve that was brought in at another thing of its kind."""

    do: Literal["AimSource"] = "AimSource"
    step: str
    curve: str
    thing: BroughtIn


class FreezeSources(CommandModel):
    """Cuts curves off from what they came from; they stay where they are. ``points`` and ``radii`` say where that is, if what they came from
    has moved since they were written down."""

    do: Literal["FreezeSources"] = "FreezeSources"
    step: str
    curves: Annotated[list[str], Field(min_length=1, max_length=400)]
    points: dict[str, At] = {}
    radii: dict[str, Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)]] = {}


class RestSketch(CommandModel):
    """Writes down where the sketch stands since what was brought in has moved: that is where its next solve starts."""

    do: Literal["RestSketch"] = "RestSketch"
    step: str
    points: dict[str, At]
    radii: dict[str, Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)]] = {}


def _with(project: Project, id: str, sketch: Sketch, sources: list[Source], sentence: str) -> Outcome:
    step, _ = sketch_of(project, id)
    data = [s.model_dump(mode="json") for s in sources]
    before = replace_step(project, step.model_copy(update={"fields": {**step.fields, "sources": data}}))
    return done(before, sketch_of(before, id)[0], sketch, sentence)


def _sources(project: Project, id: str) -> list[Source]:
    step, _ = sketch_of(project, id)
    return list(SketchFields.model_validate(step.fields).sources)


@handler(BringIn)
def _(project: Project, command: BringIn) -> Outcome:
    _, sketch = sketch_of(project, command.step)
    if any(project.part(t.part) is None for t in command.things):
        raise CommandError("That part is not there any more.")
    grown, sources = brought(sketch, command.things, _sources(project, command.step))
    return _with(project, command.step, grown, sources, "bring in what a part has there")


@handler(AimSource)
def _(project: Project, command: AimSource) -> Outcome:
    _, sketch = sketch_of(project, command.step)
    moved, sources = aimed(sketch, command.curve, command.thing, _sources(project, command.step))
    rested = at_rest(moved, sizes_of(project, moved))
    return _with(project, command.step, rested, sources, "aim what was brought in anew")


def _stood(sketch: Sketch, where: RestSketch | FreezeSources) -> Sketch:
    """The sketch where a command says that it stands."""
    at, radii = where.points, where.radii
    points = [p.model_copy(update={"x": at[p.id][0], "y": at[p.id][1]}) if p.id in at else p for p in sketch.points]
    curves = [c.model_copy(update={"radius": radii[c.id]}) if c.id in radii else c for c in sketch.curves]
    return sketch.model_copy(update={"points": points, "curves": curves})


@handler(FreezeSources)
def _(project: Project, command: FreezeSources) -> Outcome:
    _, sketch = sketch_of(project, command.step)
    sources = _sources(project, command.step)
    rest = [s for s in sources if s.id not in command.curves]
    if len(rest) == len(sources):
        raise CommandError("Select curves that follow a part, to freeze them.")
    return _with(project, command.step, _stood(sketch, command), rest, "freeze what was brought in")


@handler(RestSketch)
def _(project: Project, command: RestSketch) -> Outcome:
    step, sketch = sketch_of(project, command.step)
    return done(project, step, _stood(sketch, command), "follow what was brought in")
