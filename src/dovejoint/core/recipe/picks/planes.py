"""Planes to work on: the three base planes, one that a step made, or a flat face; and the regions of a sketch."""

from __future__ import annotations

from ...document.picks import BasePlane, FixedPlane, RegionPick, StepPlane
from .kind import Namer, PickKind, PickRule, Pointing, Ready, Thing, register_pick

__all__: list[str] = []

_BASE = {"ground": "the ground", "front": "the front plane", "side": "the side plane"}


def _region_words(namer: Namer, pick: RegionPick) -> str:
    name = namer.step(pick.step, "outline")
    if pick.names is None:
        return f"{name}, its holes filled" if pick.filled else name
    regions = f"{len(pick.names)} {'region' if len(pick.names) == 1 else 'regions'} of {name}"
    return f"{regions}, {'its' if len(pick.names) == 1 else 'their'} holes filled" if pick.filled else regions


#: outlines that have closed areas, as answers: with their holes, or filled
WHOLE_OUTLINES = (
    Ready({"rule": "regions", "names": None}, "{step}", "sketch", holds="regions"),
    Ready({"rule": "regions", "names": None, "filled": True}, "{step}, its holes filled", "sketch", holds="regions"),
)
register_pick(
    PickKind(
        "plane",
        "Point at a flat face, or take one of these.",
        ("base", "plane", "flat", "fixed"),
        (Pointing("face", "flat", "face", only=("plane",)), Pointing("plane", "plane", "step")),
        (
            *(Ready({"rule": "base", "plane": plane}, words) for plane, words in _BASE.items()),
            Ready({"rule": "plane"}, "{step}", "plane"),
        ),
    ),
    PickRule("base", BasePlane, lambda namer, pick: _BASE[pick.plane], lambda ctx, pick: []),
    PickRule(
        "plane",
        StepPlane,
        lambda namer, pick: namer.step(pick.step, "plane"),
        lambda ctx, pick: [Thing("plane", step=pick.step)],
    ),
    PickRule("fixed", FixedPlane, lambda namer, pick: "a plane that stays where it is", lambda ctx, pick: []),
)
register_pick(
    PickKind(
        "regions",
        "Point at areas of an outline, or take a whole one.",
        ("regions",),
        (Pointing("region", "regions", "names", many=True),),
        WHOLE_OUTLINES,
    ),
    PickRule(
        "regions",
        RegionPick,
        _region_words,
        lambda ctx, pick: [Thing("region", step=pick.step, name=r.told) for r in ctx.regions(pick, "")[1]],
    ),
)
