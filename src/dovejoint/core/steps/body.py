"""Body: a block, cylinder, cone, ball, ring, prism or wedge by its sizes, on a plane or a flat face."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, Literal

from .. import solid as kernel
from ..document import PlanePick, Project
from ..document.picks import BasePlane
from ..errors import StepError
from ..quantities.markers import Length, Number
from ..recipe import Choice, FieldSpec, Grip, StepContext, StepKind, StepOutput, register, said, wanted
from ..solid.frame import scale
from .result import RESULT_SAID, RESULT_SPECS, ResultFields, finished, one_part


class BodyFields(ResultFields):
    """It stands on ``on``, centred on its origin or in the ``middle`` of the face, or so far ``right`` and ``up`` of that, and goes the way the plane
    faces, or into it, or half each. (The origin of a face is where the model's own lies over it.)"""

    shape: Literal["block", "cylinder", "cone", "ball", "ring", "prism", "wedge"] = "block"
    wide: Length = "20 mm"
    deep: Length = "20 mm"
    across: Length = "20 mm"
    top: Length = "10 mm"
    thick: Length = "4 mm"
    sides: Number = "6"
    high: Length = "10 mm"
    on: PlanePick = BasePlane(plane="ground")
    way: Literal["up", "middle", "down"] = "up"
    place: Literal["origin", "middle"] = "origin"
    right: Length = "0 mm"
    up: Length = "0 mm"


def _sides(ctx: StepContext) -> int:
    figure = ctx.number("sides")
    if abs(figure - round(figure)) > 1e-9 or not 3 <= round(figure) <= 60:
        raise StepError(f"A prism has a whole number of sides from 3 to 60, and it is {figure:.4g}.", field="sides")
    return round(figure)


def _not_negative(ctx: StepContext, field: str, what: str) -> float:
    figure = ctx.number(field)
    if figure < 0:
        raise StepError(f"{what} is zero or more, and it is {figure:.4g}.", field=field)
    return figure


def _made(ctx: StepContext, frame: kernel.Frame) -> kernel.NamedSolid:
    shape = ctx.fields.shape
    high = ctx.positive("high", "The height") if shape not in ("ball", "ring") else 0.0
    if shape in ("block", "wedge"):
        wide, deep = ctx.positive("wide", "The width"), ctx.positive("deep", "The depth")
        if shape == "block":
            return kernel.block(frame, wide, deep, high, ctx.id)
        top = _not_negative(ctx, "top", "The width of the top")
        if top >= wide:
            raise StepError("The top of a wedge is narrower than its foot.", field="top")
        return kernel.wedge(frame, wide, deep, high, top, ctx.id)
    across = ctx.positive("across", "The size across")
    if shape == "cylinder":
        return kernel.cylinder(frame, across, high, ctx.id)
    if shape == "cone":
        top = _not_negative(ctx, "top", "The diameter of the top")
        if abs(top - across) < 1e-6:
            raise StepError("With the same diameter above and below it is a cylinder.", field="top")
        return kernel.cone(frame, across, top, high, ctx.id)
    if shape == "ball":
        return kernel.ball(frame, across, ctx.id)
    if shape == "ring":
        thick = ctx.positive("thick", "The thickness")
        if 2 * thick >= across - 1e-6:
            raise StepError(
                "A ring so thick has no hole: the thickness must be below half of the diameter.", field="thick"
            )
        return kernel.ring(frame, across, thick, ctx.id)
    return kernel.prism_across_flats(frame, _sides(ctx), across, high, ctx.id)


def _apply(ctx: StepContext) -> StepOutput:
    fields: BodyFields = ctx.fields
    frame = ctx.frame(fields.on, "on")
    if fields.place == "middle":
        frame = ctx.middle(fields.on, frame, "on")
    frame = frame.placed(ctx.number("right"), ctx.number("up"), 0.0)
    if fields.way == "down":
        # the same plane seen from behind; right stays right
        frame = kernel.Frame(frame.origin, frame.x, (-frame.y[0], -frame.y[1], -frame.y[2]))
    solid = _made(ctx, frame)
    if fields.way == "middle":
        low, high = kernel.prism_extent([solid], frame)
        half = kernel.Motion.shift(scale(frame.z, -(low + high) / 2))
        made = finished(ctx, [kernel.moved(solid, half)])
        frame = frame.shifted(-(low + high) / 2)
    else:
        made = finished(ctx, [solid])
    if fields.shape in ("ball", "ring"):
        return made
    return replace(made, grip=Grip("high", frame.to_world(0.0, 0.0, ctx.number("high")), frame.z))


def _begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """On a part's face it is added to that part, in the middle of it; where it cuts, it goes in, and what goes in cuts."""
    on = fields.get("on")
    part = on.get("part") if isinstance(on, Mapping) else None
    if answered == "on" and part in {p.id for p in project.parts}:
        said, sunk = fields.get("operation"), fields.get("way") == "down"
        work = "cut" if said == "cut" or (said != "add" and sunk) else "add"
        return {"operation": work, "part": part, "place": "middle", **_stance(fields, work)}
    if answered == "on" and fields.get("place") == "middle":
        return {"place": "origin"}
    if answered in ("operation", "shape") and part and fields.get("operation") in ("cut", "add", "new"):
        return _stance(fields, str(fields["operation"]))
    turned = {("down", "add"): "cut", ("up", "cut"): "add"}
    meant = turned.get((str(fields.get("way")), str(fields.get("operation")))) if answered == "way" and part else None
    return {"operation": meant} if meant else {}


def _looks_at_nothing(fields: BodyFields) -> bool:
    return one_part(fields) and fields.place == "origin"


def _stance(fields: Mapping[str, Any], operation: str) -> dict[str, Any]:
    """On a face round bodies only touch where they rest, so they go in by half; others stand on it, or are sunk where they cut."""
    if fields.get("shape") in ("ball", "ring"):
        return {"way": "middle"}
    return {"way": "down" if operation == "cut" else "up"}


_FLAT, _ROUND = {"shape": ["block", "wedge"]}, {"shape": ["cylinder", "cone", "ball", "ring"]}
_TALL = {"shape": ["block", "cylinder", "cone", "prism", "wedge"]}

register(
    StepKind(
        kind="body",
        title="Body",
        group="make",
        about="A block, cylinder, cone, ball, ring, prism or wedge by its sizes.",
        fields=BodyFields,
        specs=(
            FieldSpec(
                "shape",
                "choice",
                "what body",
                "block",
                (
                    Choice("block", "Block"),
                    Choice("cylinder", "Cylinder"),
                    Choice("cone", "Cone"),
                    Choice("ball", "Ball"),
                    Choice("ring", "Ring"),
                    Choice("prism", "Prism"),
                    Choice("wedge", "Wedge"),
                ),
            ),
            FieldSpec("wide", "length", "width", "20 mm"),
            FieldSpec("deep", "length", "depth", "20 mm"),
            FieldSpec("across", "length", "size across", "20 mm"),
            FieldSpec("top", "length", "size of the top", "10 mm"),
            FieldSpec("thick", "length", "thickness", "4 mm"),
            FieldSpec("sides", "number", "sides", "6"),
            FieldSpec("high", "length", "height", "10 mm"),
            FieldSpec(
                "on", "plane", "where it stands", {"rule": "base", "plane": "ground"}, missing="a plane or a flat face"
            ),
            FieldSpec(
                "way",
                "choice",
                "which way",
                "up",
                (Choice("up", "standing on"), Choice("middle", "halfway in"), Choice("down", "sunk into")),
            ),
            FieldSpec(
                "place",
                "choice",
                "where on it",
                "origin",
                (Choice("origin", "over the origin"), Choice("middle", "in its middle")),
            ),
            FieldSpec("right", "length", "to the right", "0 mm"),
            FieldSpec("up", "length", "upwards", "0 mm"),
            *RESULT_SPECS,
        ),
        sentence=said(
            "{shape}",
            " ",
            ("{wide}", _FLAT),
            (" by ", _FLAT),
            ("{deep}", _FLAT),
            ("Ø ", _ROUND),
            ("of ", {"shape": ["prism"]}),
            ("{sides}", {"shape": ["prism"]}),
            (" sides, ", {"shape": ["prism"]}),
            ("{across}", {"shape": ["cylinder", "cone", "ball", "ring", "prism"]}),
            (" across flats", {"shape": ["prism"]}),
            (", ", {"shape": ["ring"]}),
            ("{thick}", {"shape": ["ring"]}),
            (" thick", {"shape": ["ring"]}),
            (", Ø ", {"shape": ["cone"]}),
            (", narrowing to ", {"shape": ["wedge"]}),
            ("{top}", {"shape": ["cone", "wedge"]}),
            (" at the top", {"shape": ["cone"]}),
            (", ", _TALL),
            ("{high}", _TALL),
            (" high", _TALL),
            ", ",
            "{way}",
            " ",
            "{on}",
            *wanted("in its middle or over the origin", ", ", "{place}"),
            *wanted("beside that place", ", ", "{right}", " to the right and ", "{up}", " up"),
            ",",
            *RESULT_SAID,
        ),
        apply=_apply,
        sister=_looks_at_nothing,
        suits=("plane", "part", "face"),
        words="primitive box cube cylinder sphere torus hexagon pin peg pocket",
        begin=_begin,
    )
)
