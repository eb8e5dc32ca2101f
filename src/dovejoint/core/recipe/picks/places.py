"""Single places: a corner, the middle of an edge (of a round one its centre), a point that a step made, or the origin."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from ... import solid as kernel
from ...document.picks import Corner, CornersPicked, Pick, SeenFace
from ...errors import PickError, StepError
from ...quantities.markers import PartId, StepId
from ...solid import Vec3
from ..names import find_corners, find_edge
from .kind import Namer, PickKind, PickRule, Pointing, Ready, Thing, register_pick

if TYPE_CHECKING:
    from ..context import StepContext
    from ..outputs import PartState

__all__ = ["PlacePick", "along_edge", "place_of"]


class OriginPlace(Pick):
    """Where the three base planes meet."""

    rule: Literal["place_origin"] = "place_origin"


class CornerPlace(Pick):
    """A corner of a part, as an end of one of its edges."""

    rule: Literal["place_corner"] = "place_corner"
    part: PartId
    corner: Corner


class EdgePlace(Pick):
    """The centre of a round edge, the middle of any other."""

    rule: Literal["place_edge"] = "place_edge"
    part: PartId
    edge: SeenFace


class StepPlace(Pick):
    """A point that an earlier step made."""

    rule: Literal["place_step"] = "place_step"
    step: StepId


PlacePick = Annotated[OriginPlace | CornerPlace | EdgePlace | StepPlace, Field(discriminator="rule")]


def place_of(ctx: StepContext, pick: OriginPlace | CornerPlace | EdgePlace | StepPlace | None, field: str) -> Vec3:
    """The place that a pick means now, mm. Raises PickError, StepError."""
    if pick is None:
        raise PickError("Pick a corner, the middle of an edge, or a point.", field=field)
    if isinstance(pick, OriginPlace):
        return (0.0, 0.0, 0.0)
    if isinstance(pick, StepPlace):
        point = ctx.earlier(pick.step, field).point
        if point is None:
            raise PickError("The step picked makes no point; pick another.", field=field)
        return point
    part = ctx.part(pick.part, field)
    try:
        if isinstance(pick, CornerPlace):
            return find_corners(part, CornersPicked(part=pick.part, corners=[pick.corner]))[0]
        return kernel.edge_middle(part.solid, find_edge(part, pick.edge))
    except PickError as error:
        raise PickError(error.message, field=field) from None


def along_edge(ctx: StepContext, part: PartState, index: int) -> tuple[Vec3, Vec3]:
    """The place a ``share`` of its length along an edge (0-based), and the edge's direction there. Raises StepError."""
    share = ctx.number("share")
    if not 0 <= share <= 1:
        raise StepError(f"A place along an edge is a share from 0 to 1, and this one is {share:.4g}.", field="share")
    return kernel.edge_place(part.solid, index, share)


def _edge_words(namer: Namer, pick: EdgePlace) -> str:
    middle = "centre" if pick.edge.seen is not None and pick.edge.seen.kind == "circle" else "middle"
    return f"the {middle} of {namer.thing(pick.edge, pick.part, 'an edge')}"


register_pick(
    PickKind(
        "place",
        "Point at an edge near the corner that is meant, or at a round edge for its centre; or take a point.",
        ("place_origin", "place_corner", "place_edge", "place_step"),
        (
            Pointing("edge", "place_edge", "edge", only=("circle",), words="the centre of the {thing}"),
            Pointing("corner", "place_corner", "corner"),
            Pointing("edge", "place_edge", "edge", words="the middle of the {thing}"),
        ),
        (Ready({"rule": "place_step"}, "{step}", "point"), Ready({"rule": "place_origin"}, "the origin")),
    ),
    PickRule("place_origin", OriginPlace, lambda namer, pick: "the origin", lambda ctx, pick: []),
    PickRule(
        "place_corner",
        CornerPlace,
        lambda namer, pick: f"a corner of {namer.part(pick.part)}",
        lambda ctx, pick: [Thing("edge", pick.part, index=find_edge(ctx.part(pick.part), pick.corner))],
    ),
    PickRule(
        "place_edge",
        EdgePlace,
        _edge_words,
        lambda ctx, pick: [Thing("edge", pick.part, index=find_edge(ctx.part(pick.part), pick.edge))],
    ),
    PickRule(
        "place_step",
        StepPlace,
        lambda namer, pick: namer.step(pick.step, "point"),
        lambda ctx, pick: [Thing("point", step=pick.step)],
    ),
)
