"""Places with a direction, where something is drilled: lone points and circles' centres of a sketch, or the middles of round edges."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from ... import solid as kernel
from ...document.picks import Pick, SeenFace
from ...errors import PickError, StepError
from ...quantities.markers import PartId, StepId
from ...solid import Frame
from ...solid.frame import dot
from ..names import find_edge
from .kind import Namer, PickKind, PickRule, Pointing, Ready, Thing, register_pick

if TYPE_CHECKING:
    from ..context import StepContext

__all__ = ["EdgeSpots", "SketchSpots", "SpotsPick", "spots_of"]


class SketchSpots(Pick):
    """All lone points of a sketch and the centres of its circles, or only of those ``inside``, that go round no other of them; the sketch's
    plane faces away from what is drilled."""

    rule: Literal["spots_sketch"] = "spots_sketch"
    step: StepId
    inside: bool = False


class EdgeSpots(Pick):
    """The middles of round edges, each of which has a flat face beside it that faces away from what is drilled."""

    rule: Literal["spots_edges"] = "spots_edges"
    part: PartId
    edges: Annotated[list[SeenFace], Field(min_length=1, max_length=400)]


SpotsPick = Annotated[SketchSpots | EdgeSpots, Field(discriminator="rule")]


def spots_of(ctx: StepContext, pick: SketchSpots | EdgeSpots, field: str) -> list[tuple[str, Frame]]:
    """Places by what they come from (a point's or an edge's name), each with a frame whose ``z`` faces away from what is drilled.

    Raises PickError, StepError.
    """
    return _in_sketch(ctx, pick, field) if isinstance(pick, SketchSpots) else _on_edges(ctx, pick, field)


def _in_sketch(ctx: StepContext, pick: SketchSpots, field: str) -> list[tuple[str, Frame]]:
    shape = ctx.sketch(pick.step, field)
    sketch, frame = shape.sketch, shape.frame
    # the middle of a rectangle is a point that nobody drew: it is tied between two corners
    taken = {p for c in sketch.curves for p in c.points}
    taken |= {
        k.of[0] for k in sketch.constraints if k.kind == "midpoint" and len(k.of) == 3 and taken.issuperset(k.of[1:])
    }
    at = {p.id: (p.x, p.y) for p in sketch.points} | {"origin": (0.0, 0.0)}
    circles = [(at[c.points[0]], c.radius) for c in sketch.curves if c.kind == "circle"]
    lone = {place for id, place in at.items() if id not in taken and id != "origin"}

    def goes_round(centre: tuple[float, float], radius: float) -> bool:
        others = [(p, 0.0) for p in lone] + [(c, r) for c, r in circles if c != centre]
        return any(math.dist(centre, other) + r < radius for other, r in others)

    meant = {centre for centre, radius in circles if not (pick.inside and goes_round(centre, radius))}
    centres = {c.points[0] for c in sketch.curves if c.kind == "circle" and at[c.points[0]] in meant}
    out: dict[tuple[float, float], tuple[str, Frame]] = {}
    for point in sketch.points:
        if point.id in centres or point.id not in taken:
            # several circles about one centre are one place
            out.setdefault((round(point.x, 6), round(point.y, 6)), (point.id, frame.placed(point.x, point.y, 0.0)))
    if "origin" in centres:
        out.setdefault((0.0, 0.0), ("origin", frame))
    if not out:
        raise StepError(
            "The outline has no lone point and no circle; draw points where it is to be drilled.", field=field
        )
    return list(out.values())


def _on_edges(ctx: StepContext, pick: EdgeSpots, field: str) -> list[tuple[str, Frame]]:
    part = ctx.part(pick.part, field)
    out = []
    for wanted in pick.edges:
        try:
            index = find_edge(part, wanted)
        except PickError as error:
            raise PickError(error.message, field=field) from None
        axis = kernel.edge_axis(part.solid, index)
        edge = part.edges[index]
        flat = next((part.faces[f] for f in edge.faces if part.faces[f].kind == "plane"), None)
        if edge.kind != "circle" or axis is None or flat is None or abs(dot(flat.normal, axis.direction)) < 1 - 1e-6:
            raise StepError(
                "A place to drill is the middle of a round edge of a flat face; pick such edges.", field=field
            )
        level = Frame.on_plane(flat.at, flat.normal)
        u, v, _ = level.to_local(axis.origin)
        out.append((edge.name, level.placed(u, v, 0.0)))
    return out


def _edge_words(namer: Namer, pick: EdgeSpots) -> str:
    if len(pick.edges) == 1:
        return f"the middle of {namer.thing(pick.edges[0], pick.part, 'a round edge')}"
    return f"the middles of {len(pick.edges)} round edges of {namer.part(pick.part)}"


register_pick(
    PickKind(
        "spots",
        "Point at round edges whose middles are meant, or take the points of an outline.",
        ("spots_sketch", "spots_edges"),
        (Pointing("edge", "spots_edges", "edges", many=True, only=("circle",)),),
        (
            Ready({"rule": "spots_sketch"}, "the points and circles of {step}", "sketch", holds="spots"),
            Ready(
                {"rule": "spots_sketch", "inside": True},
                "those of {step} that go round no others",
                "sketch",
                holds="spots",
            ),
        ),
    ),
    PickRule(
        "spots_sketch",
        SketchSpots,
        lambda namer, pick: f"the {'inner ' if pick.inside else ''}points of {namer.step(pick.step, 'outline')}",
        lambda ctx, pick: [],
    ),
    PickRule(
        "spots_edges",
        EdgeSpots,
        _edge_words,
        lambda ctx, pick: [Thing("edge", pick.part, index=find_edge(ctx.part(pick.part), e)) for e in pick.edges],
    ),
)
