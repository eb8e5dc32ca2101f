"""Plane: a plane to sketch on, at a distance from another, between two, through edges, against a round side, or across an edge."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any, Literal

from .. import solid as kernel
from ..document import EdgePick, FlatFace, PlanePick, Project, StepFields
from ..document.picks import CornersPicked
from ..errors import PickError, StepError
from ..quantities.markers import Angle, Length, Number
from ..recipe import Choice, FieldSpec, Grip, PartState, StepContext, StepKind, StepOutput, register, said
from ..recipe.picks import PlacePick, along_edge, place_of
from ..solid import Frame, Vec3
from ..solid.frame import add, cross, dot, length, meeting, scale, sub, unit


class PlaneFields(StepFields):
    how: Literal["parallel", "midway", "turned", "through", "corners", "against", "across", "place"] = "parallel"
    base: PlanePick
    second: PlanePick | None = None
    edges: EdgePick | None = None
    corners: CornersPicked | None = None
    side: FlatFace | None = None
    place: PlacePick | None = None
    distance: Length = "10 mm"
    angle: Angle = "45 deg"
    share: Number = "0.5"


def _edges(ctx: StepContext, counts: tuple[int, ...], what: str) -> tuple[PartState, list[int]]:
    pick = ctx.fields.edges
    if pick is None:
        raise PickError(f"Pick {what}.", field="edges")
    part, found = ctx.edges(pick.model_copy(update={"chain": False}) if pick.rule == "edges" else pick, "edges")
    if len(found) not in counts:
        raise StepError(
            f"This plane needs {what}; {len(found)} {'is' if len(found) == 1 else 'are'} picked.", field="edges"
        )
    return part, found


def _parallel(ctx: StepContext) -> Frame:
    return ctx.frame(ctx.fields.base, "base").shifted(ctx.number("distance"))


def _midway(ctx: StepContext) -> Frame:
    """Halfway between two level planes; between planes that lean to each other, the one that halves their angle."""
    if ctx.fields.second is None:
        raise PickError("Pick the second plane or flat face.", field="second")
    one, two = ctx.frame(ctx.fields.base, "base"), ctx.frame(ctx.fields.second, "second")
    facing = dot(one.z, two.z)
    if abs(facing) > 1 - 1e-9:
        apart = dot(sub(two.origin, one.origin), one.z)
        return one.shifted(apart / 2)
    line = meeting(one, two, (0.0, 0.0, 0.0))
    assert line is not None
    normal = unit(sub(one.z, two.z) if facing < 0 else add(one.z, two.z))
    return Frame.on_plane(line.origin, normal)


def _turned(ctx: StepContext) -> Frame:
    """Through a straight edge, turned about it from a plane."""
    part, (index,) = _edges(ctx, (1,), "one straight edge")
    edge = part.edges[index]
    if edge.kind != "line":
        raise StepError("A plane turns about a straight edge; the one picked is not.", field="edges")
    normal = _swung(
        ctx, unit(edge.direction), "The edge stands square on that plane, so no angle can be counted from it."
    )
    return Frame.on_plane(edge.at, normal)


def _swung(ctx: StepContext, axis: Vec3, refusal: str) -> Vec3:
    """The base plane's normal, laid square to an axis and turned about it by the step's angle."""
    base = ctx.frame(ctx.fields.base, "base")
    along = dot(axis, base.z)
    if abs(along) > 1 - 1e-6:
        raise StepError(refusal, field="base")
    flat = unit(sub(base.z, scale(axis, along)))
    angle = ctx.number("angle")
    return add(scale(flat, math.cos(angle)), scale(cross(axis, flat), math.sin(angle)))


def _through(ctx: StepContext) -> Frame:
    """Through two straight edges that meet or run alike, or through the middles of three edges: of round ones that is the centre."""
    part, found = _edges(ctx, (2, 3), "two straight edges or any three")
    places = [kernel.edge_middle(part.solid, i) for i in found]
    if len(found) == 2:
        one, two = (part.edges[i] for i in found)
        if one.kind != "line" or two.kind != "line":
            raise StepError("Two edges carry a plane when both are straight; pick a third one.", field="edges")
        # a further place on the first; the second lies in the plane through the three, or else it carries none
        places.append(add(places[0], unit(one.direction)))
        across = cross(sub(places[1], places[0]), one.direction)
        if abs(dot(across, two.direction)) > 1e-6 * max(length(across), 1e-9):
            raise StepError("The two edges pass each other, so no plane holds both; pick three edges.", field="edges")
    return _over(places, "edges")


def _corners(ctx: StepContext) -> Frame:
    """Through three corners of a part."""
    pick = ctx.fields.corners
    if pick is None:
        raise PickError("Pick three corners.", field="corners")
    places = ctx.corners(pick, "corners")
    if len(places) != 3:
        raise StepError(
            f"This plane needs three corners; {len(places)} {'is' if len(places) == 1 else 'are'} picked.",
            field="corners",
        )
    return _over(places, "corners")


def _over(places: list[Vec3], field: str) -> Frame:
    """The plane over three places."""
    normal = cross(sub(places[1], places[0]), sub(places[2], places[0]))
    if length(normal) < 1e-6 * max(length(sub(places[1], places[0])), 1.0):
        raise StepError("What is picked lies all in one line; pick another.", field=field)
    z = unit(normal)
    # it faces the way that is most nearly up, then to the front, whatever the order of the picks
    facing = next(v for v in (z[2], -z[1], z[0]) if abs(v) > 1e-9)
    return Frame.on_plane(places[0], z if facing > 0 else scale(z, -1))


def _round_side(ctx: StepContext) -> tuple[Vec3, Vec3, float]:
    if ctx.fields.side is None:
        raise PickError("Pick a round side.", field="side")
    part, index = ctx.faces_named(ctx.fields.side, "side")
    found = kernel.cylinder_of(part.solid, index)
    if found is None:
        raise StepError("Only a round side has a plane against it; the face picked is no cylinder.", field="side")
    return found


def _against(ctx: StepContext) -> Frame:
    """Touching a round side, facing as a plane does as nearly as it can, and turned on about the side's axis."""
    foot, axis, radius = _round_side(ctx)
    normal = _swung(ctx, axis, "The side stands square on that plane; pick one that it lies along.")
    return Frame.on_plane(add(foot, scale(normal, radius)), normal)


def _across(ctx: StepContext) -> Frame:
    """Square to an edge, a share of its length along it."""
    part, (index,) = _edges(ctx, (1,), "one edge")
    return Frame.on_plane(*along_edge(ctx, part, index))


def _place(ctx: StepContext) -> Frame:
    """Parallel to another, through a place."""
    base = ctx.frame(ctx.fields.base, "base")
    return base.shifted(dot(sub(place_of(ctx, ctx.fields.place, "place"), base.origin), base.z))


_HOW = {
    "parallel": _parallel,
    "midway": _midway,
    "turned": _turned,
    "through": _through,
    "corners": _corners,
    "against": _against,
    "across": _across,
    "place": _place,
}


def _apply(ctx: StepContext) -> StepOutput:
    plane = _HOW[ctx.fields.how](ctx)
    grip = Grip("distance", plane.origin, plane.z) if ctx.fields.how == "parallel" else None
    return StepOutput(plane=plane, grip=grip)


def _begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """Against a round side it faces as a plane that lies along it, untwisted, until somebody says otherwise."""
    if fields.get("how") != "against" or answered not in ("how", "side"):
        return {}
    out: dict[str, Any] = {}
    if fields.get("angle") == "45 deg":
        out["angle"] = "0 deg"
    side, base = fields.get("side"), fields.get("base")
    seen = (side["face"].get("seen") or {}) if isinstance(side, Mapping) and isinstance(side.get("face"), Mapping) else {}  # fmt: skip
    axis = seen.get("axis") or (0.0, 0.0, 0.0)
    if isinstance(base, Mapping) and base.get("rule") == "base":
        normal = {"ground": 2, "front": 1, "side": 0}[base["plane"]]
        if abs(axis[normal]) > 0.7:
            out["base"] = {"rule": "base", "plane": "front" if abs(axis[1]) < 0.7 else "ground"}
    return out


register(
    StepKind(
        kind="plane",
        title="Plane",
        group="refer",
        about="A plane to sketch on: beside another, midway, through an edge, against a round side, across an edge.",
        fields=PlaneFields,
        specs=(
            FieldSpec(
                "how",
                "choice",
                "how it lies",
                "parallel",
                (
                    Choice("parallel", "parallel to"),
                    Choice("midway", "midway between"),
                    Choice("turned", "turned from"),
                    Choice("through", "through"),
                    Choice("corners", "over"),
                    Choice("against", "facing as"),
                    Choice("across", "square to"),
                    Choice("place", "level with"),
                ),
            ),
            FieldSpec("base", "plane", "plane", {"rule": "base", "plane": "ground"}, missing="a plane or a flat face"),
            FieldSpec("second", "plane", "second plane", missing="the other plane or flat face"),
            FieldSpec("edges", "edges", "edges", missing="edges"),
            FieldSpec("corners", "corners", "corners", missing="three corners"),
            FieldSpec("side", "side", "round side", missing="a round side"),
            FieldSpec("place", "place", "place", missing="a place"),
            FieldSpec("distance", "length", "distance", "10 mm"),
            FieldSpec("angle", "angle", "angle", "45 deg"),
            FieldSpec("share", "number", "how far along (0 to 1)", "0.5"),
        ),
        sentence=said(
            "Plane ",
            "{how}",
            " ",
            ("{base}", {"how": ["parallel", "midway", "turned", "against", "place"]}),
            (" through ", {"how": ["place"]}),
            ("{place}", {"how": ["place"]}),
            (" at ", {"how": ["parallel"]}),
            ("{distance}", {"how": ["parallel"]}),
            (" and ", {"how": ["midway"]}),
            ("{second}", {"how": ["midway"]}),
            (" by ", {"how": ["turned"]}),
            (" against ", {"how": ["against"]}),
            ("{side}", {"how": ["against"]}),
            (" turned by ", {"how": ["against"]}),
            ("{angle}", {"how": ["turned", "against"]}),
            (" about ", {"how": ["turned"]}),
            ("{edges}", {"how": ["turned", "through", "across"]}),
            ("{corners}", {"how": ["corners"]}),
            (" at ", {"how": ["across"]}),
            ("{share}", {"how": ["across"]}),
            (" of its length", {"how": ["across"]}),
        ),
        apply=_apply,
        begin=_begin,
        suits=("face", "edge"),
    )
)
