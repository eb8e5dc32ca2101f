"""What the pages in docs/shaping/ show: for each group of steps a project that has a part for each, made by the commands that the interface sends. ``shots.py`` takes the pictures."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from building import Bench

from dovejoint.core.document import Project, new_project

FRONT = {"rule": "base", "plane": "front"}


class Gallery(Bench):
    """Parts beside each other, each made by a step that its name tells."""

    def __init__(self, name: str) -> None:
        super().__init__(new_project(name))

    def add(self, kind: str, part: str = "", /, **fields: Any) -> list[str]:
        more = {"new_part": {"name": part}} if part else {}
        return [str(m) for m in self.do("AddStep", kind=kind, fields=fields, **more)]

    def block(self, part: str, x: float, y: float = 0.0, **sizes: Any) -> list[str]:
        return self.add("body", part, **{"wide": "26 mm", "deep": "26 mm", "high": "14 mm", "right": f"{x:g} mm", "up": f"{y:g} mm", **sizes})  # fmt: skip

    def circle(self, plane: dict[str, Any], at: tuple[float, float], radius: float) -> dict[str, Any]:
        (step,) = self.add("sketch", plane=plane)
        self.do("DrawCircle", step=step, centre=list(at), radius=radius)
        return {"rule": "regions", "step": step}

    def box(self, plane: dict[str, Any], at: tuple[float, float], wide: float, deep: float) -> dict[str, Any]:
        """A rectangle about a place."""
        (step,) = self.add("sketch", plane=plane)
        self.do("DrawRectangle", step=step, first=list(at), corner=[at[0] + wide / 2, at[1] + deep / 2])
        return {"rule": "regions", "step": step}

    def lines(self, plane: dict[str, Any], *places: tuple[float, float], through: tuple[float, float] | None = None) -> dict[str, Any]:  # fmt: skip
        """Lines over some places, or an arc over two of them."""
        (step,) = self.add("sketch", plane=plane)
        if through is not None:
            self.do("DrawArc", step=step, start={"at": places[0]}, end={"at": places[1]}, through=through)
        else:
            for a, b in zip(places, places[1:], strict=False):
                self.do("DrawLine", step=step, start={"at": a}, end={"at": b})
        return {"rule": "path_sketch", "step": step}

    def face(self, part: str, step: str, role: str) -> dict[str, Any]:
        return {"rule": "flat", "part": part, "face": {"name": f"{step}/{role}"}}

    def faces(self, part: str, *names: str) -> dict[str, Any]:
        return {"rule": "faces", "part": part, "faces": [{"name": n} for n in names]}


def level(z: float, x: float = 0.0, y: float = 0.0) -> dict[str, Any]:
    return {"rule": "fixed", "origin": [x, y, z], "x": [1, 0, 0], "y": [0, 1, 0]}


def make() -> Project:
    g = Gallery("Steps that make")
    g.add("extrude", "Extruded", profile=g.box(level(0), (-105, 0), 24, 20), distance="26 mm", taper="9 deg")
    (bowl,) = g.add("sketch", plane=FRONT)
    g.do("DrawRectangle", step=bowl, first=[-61, 15], corner=[-57, 27])
    axle = g.lines(FRONT, (-72, 0), (-72, 30))
    about = {"rule": "axis_line", "step": axle["step"], "line": "l1"}
    g.add("revolve", "Revolved", profile={"rule": "regions", "step": bowl}, axis=about, turn="part", angle="250 deg")
    hook = g.lines(FRONT, (-32, 0), (-14, 18), through=(-28, 14))
    g.add("sweep", "Swept", profile=g.circle(level(0), (-32, 0), 4), path=hook)
    g.add("sweep", "Twisted", profile=g.box(level(0), (8, 0), 14, 14), path=g.lines(FRONT, (8, 0), (8, 30)), twist="120 deg")  # fmt: skip
    ends = [g.circle(level(0), (40, 0), 11), g.circle(level(30), (40, 0), 7)]
    side = {"path": g.lines(FRONT, (51, 0), (47, 30), through=(45, 16))}
    g.add("loft", "Lofted on a guide", profile=ends[0], to=ends[1], guides=[side])
    g.add("wall", "Wall", lines=g.lines(level(0), (64, -10), (76, 10), (88, -10)), thick="3 mm", high="20 mm")
    made, knob = g.add("body", "Text laid round", shape="cylinder", across="26 mm", high="26 mm", right="112 mm")
    (word,) = g.add("sketch", plane={"rule": "fixed", "origin": [112, 0, 0], "x": [1, 0, 0], "y": [0, 0, 1]})
    g.do("DrawText", step=word, foot={"at": (-9, 9)}, text="DOVE", size=7)
    g.add("wrap", profile={"rule": "regions", "step": word}, face=g.face(knob, made, "side(round)"), by="1 mm")
    return g.project


def take_away() -> Project:
    g = Gallery("Steps that take away")
    made, plate = g.block("Drilled", -70, high="12 mm", wide="34 mm")
    (spots,) = g.add("sketch", plane=level(12, -70))
    for at in ((-9, 0), (9, 0)):
        g.do("DrawPoint", step=spots, at={"at": at})
    points = {"rule": "spots_sketch", "step": spots}
    g.add("drill", part=plate, at=points, shape="bored", size="screw")
    made, tray = g.block("Shelled", -24, high="18 mm", wide="34 mm")
    g.add("shell", open=g.faces(tray, f"{made}/end"), wall="3 mm")
    made, cover = g.block("Cut with a gap", 22, high="16 mm", wide="32 mm")
    _, peg = g.add("body", "Peg", shape="prism", across="12 mm", high="24 mm", right="22 mm", on=level(6))
    g.add("between", part=cover, other=peg, gap="1 mm")
    made, post = g.block("Divided", 68, high="26 mm", wide="30 mm")
    line = g.lines(FRONT, (48, 6), (64, 6), (72, 18), (88, 18))
    g.do("AddStep", kind="divide", fields={"part": post, "by": "lines", "lines": line, "keep": "both"}, new_part={"name": "Its rest"})  # fmt: skip
    rest = g.project.parts[-1].id
    g.add("move", part=rest, how="by", across="12 mm")
    return g.project


def finish() -> Project:
    g = Gallery("Steps that finish")

    def upright_edges(part: str) -> dict[str, Any]:
        return {"rule": "edges_along", "part": part, "direction": "up"}

    made, one = g.block("Fillet", -105)
    top = {"rule": "edges_of_face", "part": one, "face": {"name": f"{made}/end"}}
    g.add("fillet", edges=upright_edges(one), radius="6 mm", more=[{"edges": top, "radius": "2 mm"}])
    made, one = g.block("Chamfer", -70)
    g.add("chamfer", edges={"rule": "edges_of_face", "part": one, "face": {"name": f"{made}/end"}}, distance="3 mm")
    made, one = g.block("Round over", -38, deep="12 mm", wide="20 mm")
    g.add("round_over", faces=g.faces(one, f"{made}/end"))
    made, one = g.block("Round between", -4)
    first, second = (g.face(one, made, role) for role in ("end", "side(front)"))
    g.add("round_between", first=first, second=second, radius="9 mm")
    made, one = g.block("Draft", 32)
    g.add("draft", faces=g.faces(one, *(f"{made}/side({w})" for w in ("front", "back", "left", "right"))), angle="14 deg")  # fmt: skip
    made, one = g.block("Faces as far as a plane", 68)
    lean = {"rule": "fixed", "origin": [68, 0, 20], "x": [math.cos(0.5), 0, math.sin(0.5)], "y": [0, 1, 0]}
    g.add("push", faces=g.faces(one, f"{made}/end"), way="meet", until=lean)
    made, one = g.block("Relieved", 108, high="5 mm", wide="34 mm")
    g.add("extrude", profile=g.box(level(5), (108, 0), 20, 12), operation="cut", part=one, direction="down", extent="through")  # fmt: skip
    g.add("relieve", part=one, cutter="4 mm")
    return g.project


def repeat() -> Project:
    g = Gallery("Steps that repeat")
    made, one = g.block("Row", -88, wide="40 mm", high="8 mm")
    (cut,) = g.add("extrude", profile=g.circle(level(8), (-100, 0), 3.5), operation="cut", part=one, direction="down", extent="through")  # fmt: skip
    g.add("again", of={"rule": "work", "step": cut}, count="3", pitch="12 mm", part=one)
    made, disc = g.add("body", "Round an axis", shape="cylinder", across="36 mm", high="8 mm", right="-38 mm")
    (cut,) = g.add("extrude", profile=g.circle(level(8), (-38, 12), 3), operation="cut", part=disc, direction="down", extent="through")  # fmt: skip
    axis = {"rule": "axis_face", "part": disc, "face": {"name": f"{made}/side(round)"}}
    g.add("again", of={"rule": "work", "step": cut}, count="6", how="round", axis=axis, part=disc)
    arc = g.lines(level(0), (-8, -14), (32, -14), through=(12, 16))
    _, rail = g.add("wall", "Along a path", lines=arc, thick="3 mm", high="4 mm")
    (bead,) = g.add("body", shape="ball", across="8 mm", way="middle", right="-8 mm", up="-14 mm", on=level(4), operation="add", part=rail)  # fmt: skip
    g.add("again", of={"rule": "work", "step": bead}, count="6", how="along", path=arc, part=rail)
    _, half = g.add("body", "Mirrored", shape="wedge", wide="24 mm", deep="20 mm", high="20 mm", top="6 mm", right="60 mm")  # fmt: skip
    g.do("AddStep", kind="mirror", fields={"of": half, "plane": {"rule": "fixed", "origin": [74, 0, 0], "x": [0, 1, 0], "y": [0, 0, 1]}}, new_part={"name": "Its image"})  # fmt: skip
    return g.project


def move() -> Project:
    g = Gallery("Steps that move and refer")
    made, base = g.block("Base", -30, wide="40 mm", high="12 mm")
    lid_made, lid = g.block("Lid", 30, wide="30 mm", high="6 mm")
    g.add("move", part=lid, how="onto", face=g.face(lid, lid_made, "start"), onto=g.face(base, made, "end"))
    g.add("plane", base=g.face(base, made, "side(right)"), distance="12 mm")
    rim = {"rule": "place_edge", "part": base, "edge": {"name": f"{made}/end|{made}/side(front)"}}
    g.add("point", how="at", first=rim, up="12 mm", base=level(0))
    g.add("axis", how="square", first=rim, base={"rule": "base", "plane": "ground"})
    _, scaled = g.block("Scaled", 40)
    g.add("scale", part=scaled, sizes="each", across="1.4", deep="1", up="0.7")
    return g.project


#: file in docs/shaping, and what is in its picture
GROUPS: dict[str, Callable[[], Project]] = {
    "make": make, "take-away": take_away, "finish": finish, "repeat": repeat, "move": move,
}  # fmt: skip
