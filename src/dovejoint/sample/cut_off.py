"""A worked example of a nose that is cut off a body, hollowed in its middle, put together again and plugged into what it came from."""

from __future__ import annotations

from typing import Any

from ..core.document import Project
from .builds import GROUND
from .joined import face_of, plane_above
from .making import Making

__all__ = ["make_visor"]


def make_visor() -> Project:
    """A camera's housing of plywood and the printed visor over it: one body cut in two, with a plug in between."""
    making = Making("Visor on its housing")
    do = making.do
    for name, formula in (
        ("wide", "62 mm"), ("deep", "46 mm"), ("tall", "120 mm"), ("nose", "44 mm"), ("rounding", "6 mm"), ("wall", "4 mm"), ("gap", "0.3 mm"), ("mill", "2 mm"),
        ("plug", "9 mm"), ("hood", "2.4 mm"), ("foot", "8 mm"),
    ):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    body, visor = do("AddStep", kind="body", name="the whole body", new_part={"name": "Visor"}, fields={"wide": "wide", "deep": "deep", "high": "tall", "on": GROUND})  # fmt: skip
    do("AddStep", kind="fillet", name="corners", fields={"edges": _upright(visor, body, ("back",)), "radius": "rounding"})  # fmt: skip
    cut = plane_above(making, "where the nose is cut off", "tall - nose")
    cutting, housing = do("AddStep", kind="divide", name="nose", new_part={"name": "Housing"}, fields={"part": visor, "plane": cut, "keep": "both"})  # fmt: skip
    do("SetChapter", step=cutting, title="Two of one", note="What lies over the plane stays the visor and is printed; the rest is milled of plywood.")  # fmt: skip
    do("EditPart", part=housing, role="made", material="plywood", colour="#c9a66b")
    room = {"wide": "wide - 2*wall", "deep": "deep - 2*wall"}
    (hollow,) = do("AddStep", kind="body", name="room", fields={**room, "high": "tall", "on": plane_above(making, "floor of the room", "wall"), "operation": "cut", "part": housing})  # fmt: skip
    do("AddStep", kind="fillet", name="what the cutter leaves", fields={"edges": _upright(housing, hollow), "radius": "mill"})  # fmt: skip
    plugged = {"wide": "wide - 2*(wall + gap)", "deep": "deep - 2*(wall + gap)"}
    (plug,) = do("AddStep", kind="body", name="plug", fields={**plugged, "high": "plug", "on": cut, "way": "down", "operation": "add", "part": visor})  # fmt: skip
    do("SetChapter", step=plug, title="The plug", note="The room's outline set in by the gap, its corners as round as the cutter's. One value makes it tighter.")  # fmt: skip
    do("AddStep", kind="fillet", name="corners of the plug", fields={"edges": _upright(visor, plug), "radius": "mill"})
    low, high = plane_above(making, "under the hood", "tall - nose + foot"), plane_above(making, "over the hood", "tall - foot")  # fmt: skip
    splitting, foot = do("AddStep", kind="divide", name="foot", new_part={"name": "Foot of the visor"}, fields={"part": visor, "plane": low, "keep": "both"})  # fmt: skip
    do("SetChapter", step=splitting, title="The hood", note="Only the middle is hollow, open to the front: it is cut out, shelled, and put back. What was used for it is used up.")  # fmt: skip
    _, middle = do("AddStep", kind="divide", name="middle", new_part={"name": "Middle of the visor"}, fields={"part": visor, "plane": high, "keep": "both"})  # fmt: skip
    front = {"name": f"{body}/side(front)", "seen": {"kind": "plane", "label": "front", "at": [0.0, -23.0, 98.0], "direction": [0.0, -1.0, 0.0]}}  # fmt: skip
    do("AddStep", kind="shell", name="hood", fields={"open": {"rule": "faces", "part": middle, "faces": [front]}, "wall": "hood"})  # fmt: skip
    for name, lump in (("hood back on", middle), ("foot back on", foot)):
        (joined,) = do("AddStep", kind="between", name=name, fields={"work": "add", "part": visor, "other": lump, "after": "goes"})  # fmt: skip
    own = {"fit": "own", "least": "gap - 0.2 mm", "target": "gap - 0.05 mm", "most": "gap + 0.1 mm"}
    # the plug was drawn downwards, so its front is what the room's back looks at
    for name, side, facing, x, y in (("across", "right", "right", 1.0, 0.0), ("deep", "back", "front", 0.0, 1.0)):
        at = [27.0 * x, 19.0 * y, 71.0]
        outer = face_of(housing, f"{hollow}/side({side})", f"{side} side of the room", at=at, direction=[-x, -y, 0.0])
        inner = face_of(
            visor, f"{joined}/grown({plug}/side({facing}))", f"{side} side of the plug", at=at, direction=[x, y, 0.0]
        )
        (seen,) = do("AddStep", kind="watch", name=f"plug, {name}", fields={"first": inner, "second": outer, **own})
        if side == "right":
            do("SetChapter", step=seen, title="What is looked after", note="Drawn by hand, so the gap is watched: across and deep, for what is printed and what is milled err by themselves.")  # fmt: skip
    top = face_of(visor, f"{body}/end", "top of the visor", at=[0.0, 0.0, 120.0], direction=[0.0, 0.0, 1.0])
    do("LayPart", part=visor, face=top)
    return making.project


def _upright(part: str, step: str, depth: tuple[str, ...] = ("front", "back")) -> dict[str, Any]:
    """The upright edges of a block."""
    corners = [(a, b) for a in ("left", "right") for b in depth]
    edges = []
    for a, b in corners:
        names = sorted((f"{step}/side({a})", f"{step}/side({b})"))
        edges.append({"name": "|".join(names), "seen": {"kind": "line", "label": f"{a} {b} edge"}})
    return {"rule": "edges", "part": part, "edges": edges}
