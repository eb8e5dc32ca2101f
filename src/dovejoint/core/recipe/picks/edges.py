"""Edges: single ones with what runs on from them, all round a face, between two faces, or all that run one way; and corners."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...document.picks import CornersPicked, EdgesAlong, EdgesBetween, EdgesOfFace, EdgesPicked
from ..names import EdgesPick, find_edge, find_edges, picked_parts
from .kind import Namer, PickKind, PickRule, Pointing, Ready, Thing, register_pick

if TYPE_CHECKING:
    from ..context import StepContext

__all__: list[str] = []

_WAYS = {"up": "the upright", "across": "the left-to-right", "deep": "the front-to-back", "any": "all outward"}
_ALONG = {"up": (0.0, 0.0, 1.0), "across": (1.0, 0.0, 0.0), "deep": (0.0, 1.0, 0.0), "any": None}


def _edges_words(namer: Namer, pick: EdgesPicked) -> str:
    if len(pick.edges) == 1:
        return namer.thing(pick.edges[0], pick.part, "an edge")
    return f"{len(pick.edges)} edges of {' and '.join(namer.part(p) for p in picked_parts(pick))}"


def _corners_words(namer: Namer, pick: CornersPicked) -> str:
    n = len(pick.corners)
    return f"{n} corners of {namer.part(pick.part)}" if n > 1 else f"a corner of {namer.part(pick.part)}"


def _lights(ctx: StepContext, pick: EdgesPick) -> list[Thing]:
    return [Thing("edge", p, index=i) for p in picked_parts(pick) for i in find_edges(ctx.part(p), pick, p)]


def _corner_lights(ctx: StepContext, pick: CornersPicked) -> list[Thing]:
    part = ctx.part(pick.part)
    return [Thing("edge", pick.part, index=find_edge(part, corner)) for corner in pick.corners]


register_pick(
    PickKind(
        "edges",
        "Point at edges, or at a face for all its edges.",
        ("edges", "edges_of_face", "edges_between", "edges_along"),
        (
            Pointing("edge", "edges", "edges", many=True, plus={"chain": True}),
            Pointing("face", "edges_of_face", "face", words="all round the {thing}"),
        ),
        tuple(
            Ready({"rule": "edges_along", "direction": way}, f"{word} edges of {{part}}", "part", _ALONG[way])
            for way, word in _WAYS.items()
        ),
    ),
    PickRule("edges", EdgesPicked, _edges_words, _lights),
    PickRule(
        "edges_of_face",
        EdgesOfFace,
        lambda namer, pick: f"the edges round {namer.thing(pick.face, pick.part, 'a face')}",
        _lights,
    ),
    PickRule(
        "edges_between",
        EdgesBetween,
        lambda namer, pick: (
            f"the edges between {namer.thing(pick.first, pick.part, 'a face')} and {namer.thing(pick.second, pick.part, 'another')}"
        ),
        _lights,
    ),
    PickRule(
        "edges_along",
        EdgesAlong,
        lambda namer, pick: f"{_WAYS[pick.direction]} edges of {namer.part(pick.part)}",
        _lights,
    ),
)
# the same answers are kept; only one that is a single edge can be meant
register_pick(
    PickKind(
        "edge",
        "Point at an edge.",
        ("edges", "edges_of_face", "edges_between", "edges_along"),
        (Pointing("edge", "edges", "edges", one=True, plus={"chain": False}),),
    )
)
register_pick(
    PickKind(
        "corners",
        "Point at edges, near the corners that are meant; once more takes one back.",
        ("corners",),
        (Pointing("corner", "corners", "corners", many=True),),
    ),
    PickRule("corners", CornersPicked, _corners_words, _corner_lights),
)
