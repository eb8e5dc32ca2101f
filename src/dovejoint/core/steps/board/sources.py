"""Commands that bring edges, cuts and outlines of parts onto the board."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ...document import Step
from ...document.commands import CommandModel, Outcome, find_step, handler, replace_step, step_title, with_changes
from ...document.fields import read_fields
from ...document.model import Project
from ...document.picks import FixedPlane
from ...errors import CommandError
from ...quantities.markers import NameMark, rewrite
from ...sketch import Sketch, at_rest, place_curves
from ..sketch import SketchFields
from ..sources import BroughtIn, FlatCurve, Source, aimed, brought
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


class KeptCurve(BaseModel):
    """A curve of a face's outline, and the name of the face beyond it, as names hold it."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    beyond: Annotated[str, Field(max_length=4000)]
    curve: FlatCurve


class KeepOutline(CommandModel):
    """Cuts a step off from the face that it takes for its outline: what bounds that is drawn on a board of its own, before the step. Faces that
    the step made keep what is picked on them."""

    do: Literal["KeepOutline"] = "KeepOutline"
    step: str
    field: Annotated[str, Field(max_length=80)]
    plane: FixedPlane
    curves: Annotated[list[KeptCurve], Field(min_length=1, max_length=400)]


@handler(KeepOutline)
def _(project: Project, command: KeepOutline) -> Outcome:
    step = find_step(project, command.step)
    pick = step.fields.get(command.field)
    if not isinstance(pick, Mapping) or pick.get("rule") != "flat":
        raise CommandError("There is no face there to cut it off from.")
    shapes = [(c.curve.kind, c.curve.places, c.curve.radius) for c in command.curves]
    sketch = place_curves(Sketch(), shapes, kept=True, construction=False)
    drawn = Step(
        id=f"s{project.next_id}",
        kind="sketch",
        name="kept outline",
        fields=SketchFields(plane=command.plane, sketch=sketch).model_dump(mode="json"),
    )
    fields = read_fields(step.kind, {**step.fields, command.field: {"rule": "regions", "step": drawn.id}})
    cut = step.model_copy(update={"fields": fields.model_dump(mode="json")})
    # sides are called by their curves: by those of the board from now on
    renamed = {
        f"{step.id}/side({old.beyond})": f"{step.id}/side({new.id})"
        for old, new in zip(command.curves, sketch.curves, strict=True)
    }

    def called(mark: Any, text: str) -> str:
        for old, new in renamed.items() if isinstance(mark, NameMark) else ():
            text = text.replace(old, new)
        return text

    recipe = []
    for one in project.recipe:
        if one.id == step.id:
            recipe += [drawn, cut]
            continue
        read = read_fields(one.kind, one.fields)
        new = rewrite(read, called)
        recipe.append(one if new is read else one.model_copy(update={"fields": new.model_dump(mode="json")}))
    after = with_changes(project, recipe=recipe, next_id=project.next_id + 1)
    return Outcome(
        after,
        frozenset({f"step:{step.id}", f"step:{drawn.id}"}),
        f"cut {step_title(project, step)} off from what it rested on",
        [drawn.id],
    )


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
