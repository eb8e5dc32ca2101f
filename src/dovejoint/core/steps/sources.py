"""Curves of the board that come from a part and follow it: where from, how they follow, and the commands on them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from .. import solid as kernel
from ..document.picks import SeenFace, ThingPick
from ..errors import CommandError, DoveError, PickError, StepError
from ..quantities.markers import PartId
from ..recipe.names import find_edge, find_face, seen_edge
from ..recipe.outputs import PartState
from ..sketch import Sketch, place_curves
from ..sketch.edit import Place
from ..sketch.model import Coordinate, SketchCurve
from ..solid import Frame

if TYPE_CHECKING:
    from ..recipe import StepContext

__all__ = ["BroughtIn", "FlatCurve", "Source", "aimed", "brought", "follow", "look"]

What = Literal["edge", "section", "outline"]
_At = tuple[Coordinate, Coordinate]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Source(_Strict):
    """What of a part a curve comes from: an edge, where the board's plane cuts a face, or how far a round face reaches to both
    sides; ``nth`` of the curves that it gives. ``id`` is the curve's."""

    id: Annotated[str, Field(max_length=40)]
    part: PartId
    what: What
    thing: SeenFace
    nth: Annotated[int, Field(ge=0, le=200)] = 0


class FlatCurve(_Strict):
    """A curve in the board's plane, mm."""

    kind: Literal["line", "circle", "arc", "ellipse", "spline"]
    places: Annotated[list[_At], Field(min_length=1, max_length=61)]
    radius: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1e5)] = 0.0


class BroughtIn(_Strict):
    """One curve to bring in, as it was seen."""

    part: str
    what: What
    thing: SeenFace
    nth: int = 0
    curve: FlatCurve


def _flats(part: PartState, what: What, thing: SeenFace, frame: Frame) -> list[Any]:
    if what == "edge":
        return [kernel.flat_edge(part.solid, find_edge(part, thing), frame)]
    face = find_face(part, thing)
    lay = kernel.flat_section if what == "section" else kernel.flat_outline
    return list(lay(part.solid, face, frame))


def look(part: PartState, part_id: str, pick: ThingPick, what: What, frame: Frame) -> list[dict[str, Any]]:
    """What bringing in would give, as :class:`BroughtIn` in plain data. All edges round a face that is pointed at.

    Raises
    ------
    PickError, StepError : it is not there, or is nothing on this board.
    """
    if pick.kind == "face" and what == "edge":
        face = find_face(part, pick.thing)
        things = [SeenFace(name=e.name, seen=seen_edge(e)) for e in part.edges if face in e.faces and not e.smooth]
    else:
        things = [pick.thing]
    out, refused = [], None
    for thing in things:
        try:
            flats = _flats(part, what, thing, frame)
        except StepError as error:
            refused = error
            continue
        except PickError:
            if len(things) == 1:
                raise
            continue
        for nth, flat in enumerate(flats):
            curve = FlatCurve(kind=flat.kind, places=[(p[0], p[1]) for p in flat.places], radius=flat.radius)
            seen = BroughtIn(part=part_id, what=what, thing=thing, nth=nth, curve=curve)
            out.append(seen.model_dump(mode="json"))
    if not out:
        raise refused or StepError("There is nothing there that could be brought in.")
    return out


def follow(ctx: StepContext, sources: Sequence[Source], sketch: Sketch, frame: Frame) -> tuple[Sketch, dict[str, str]]:
    """The sketch with what was brought in where it is now; and why, where a source is lost. That curve stays as it was."""
    lost: dict[str, str] = {}
    for source in sources:
        curve = sketch.curve(source.id)
        if curve is None:
            continue
        try:
            flats = _flats(ctx.part(source.part, "sketch"), source.what, source.thing, frame)
            if source.nth >= len(flats):
                raise PickError("Less of it lies on the board now.")
            flat = flats[source.nth]
            if (flat.kind, len(flat.places)) != (curve.kind, len(curve.points)):
                raise PickError(f"It was brought in as {_A[curve.kind]} and is {_A[flat.kind]} now.")
        except DoveError as error:
            lost[curve.id] = error.message
            continue
        sketch = _moved(sketch, curve, flat.places, flat.radius)
    return sketch, lost


_A = {"line": "a line", "circle": "a circle", "arc": "an arc", "ellipse": "an ellipse", "spline": "a free curve"}


def _moved(sketch: Sketch, curve: SketchCurve, places: Sequence[Place], radius: float) -> Sketch:
    at = dict(zip(curve.points, places, strict=True))
    points = [p.model_copy(update={"x": at[p.id][0], "y": at[p.id][1]}) if p.id in at else p for p in sketch.points]
    curves = [c.model_copy(update={"radius": radius}) if c.id == curve.id else c for c in sketch.curves]
    return sketch.model_copy(update={"points": points, "curves": curves})


def brought(sketch: Sketch, things: Sequence[BroughtIn], sources: Sequence[Source]) -> tuple[Sketch, list[Source]]:
    """The sketch with curves brought in, and where they come from. Ends that meet share a point. Raises CommandError."""
    have = {(s.part, s.what, s.thing.name, s.nth) for s in sources}
    fresh = [t for t in things if (t.part, t.what, t.thing.name, t.nth) not in have]
    if not fresh:
        raise CommandError("That was brought in already.")
    shapes = [(t.curve.kind, t.curve.places, t.curve.radius) for t in fresh]
    grown = place_curves(sketch, shapes, kept=True, construction=True)
    made = grown.curves[len(sketch.curves) :]
    new = [
        Source(id=c.id, part=t.part, what=t.what, thing=t.thing, nth=t.nth) for c, t in zip(made, fresh, strict=True)
    ]
    return grown, [*sources, *new]


def aimed(sketch: Sketch, id: str, thing: BroughtIn, sources: Sequence[Source]) -> tuple[Sketch, list[Source]]:
    """One curve aimed at another thing of the same kind. Raises CommandError."""
    curve = sketch.curve(id)
    if curve is None or not curve.brought:
        raise CommandError("That curve was not brought in from a part.")
    if (thing.curve.kind, len(thing.curve.places)) != (curve.kind, len(curve.points)):
        raise CommandError(
            f"It is {_A[curve.kind]}, and {_A[thing.curve.kind]} cannot stand for it; bring that in anew."
        )
    rest = [s for s in sources if s.id != id]
    new = Source(id=id, part=thing.part, what=thing.what, thing=thing.thing, nth=thing.nth)
    return _moved(sketch, curve, thing.curve.places, thing.curve.radius), [*rest, new]
