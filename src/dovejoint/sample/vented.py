"""A worked example of a flap built round a bought actuator, on a base whose halves lie on their sides when they are printed."""

from __future__ import annotations

from typing import Any

from ..core.document import Project
from .builds import GROUND, SIDE
from .joined import face_of, plane_above
from .making import Drawing, Making

__all__ = ["make_shutter"]


def make_shutter() -> Project:
    """A vent shutter: the actuator first, the flap round it, the base under both with the pins that the flap turns on."""
    making = Making("Vent shutter round an actuator")
    do = making.do
    for name, formula in (
        ("wide", "84 mm"), ("deep", "34 mm"), ("tall", "46 mm"), ("wall", "2 mm"), ("clear", "2.5 mm"), ("play", "0.3 mm"), ("foot", "12 mm"),
        ("motor", "23 mm"), ("pin", "6 mm"), ("base", "7 mm"), ("pivot", "36 mm"),
    ):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    on_foot = plane_above(making, "actuator's foot", "foot")
    bought = {"name": "Actuator", "role": "reference", "colour": "#8a8f98"}
    motor, actuator = do("AddStep", kind="body", name="actuator", new_part=bought, fields={"wide": "motor", "deep": "12 mm", "high": "22 mm", "up": "6 mm", "on": on_foot})  # fmt: skip
    back = face_of(actuator, f"{motor}/side(back)", "back", at=[0.0, 12.0, 23.0], direction=[0.0, 1.0, 0.0])
    do("AddStep", kind="body", name="its shaft", fields={"shape": "cylinder", "across": "6 mm", "high": "3 mm", "up": "foot + 11 mm", "on": back, "operation": "add", "part": actuator})  # fmt: skip

    body, flap = do("AddStep", kind="body", name="flap's block", new_part={"name": "Flap"}, fields={"wide": "wide", "deep": "deep", "high": "tall", "on": GROUND})  # fmt: skip
    do("SetChapter", step=body, title="The flap", note="A block cut slanted and hollowed; what holds the actuator is drawn for one side and mirrored.")  # fmt: skip
    slant = Drawing(making, "slant", plane=SIDE)
    (line,) = slant.path((-17, 16), (-3, 46))
    low, high = slant.points(line)
    for point, across, up in ((low, "deep / 2", "tall / 3"), (high, "deep / 10", "tall")):
        slant.do("SizeSketch", kind="distance_x", of=[point, "origin"], formula=across)
        slant.do("SizeSketch", kind="distance_y", of=["origin", point], formula=up)
    do("AddStep", kind="divide", name="slanted front", fields={"part": flap, "by": "lines", "lines": {"rule": "path_sketch", "step": slant.step}, "keep": "under"})  # fmt: skip
    open_back = {"name": f"{body}/side(back)", "seen": {"kind": "plane", "label": "back", "at": [0.0, 17.0, 23.0], "direction": [0.0, 1.0, 0.0]}}  # fmt: skip
    do("AddStep", kind="shell", fields={"open": {"rule": "faces", "part": flap, "faces": [open_back]}, "wall": "wall"})
    roof = Drawing(making, "rib line", plane=plane_above(making, "under the roof", "tall - wall"))
    (rib_line,) = roof.path((26, 15), (26, -2))
    first, last = roof.points(rib_line)
    for point, away in ((first, "deep / 2 - wall"), (last, "-2 mm")):
        roof.do("SizeSketch", kind="distance_y", of=["origin", point], formula=away)
    roof.do("SizeSketch", kind="distance_x", of=["origin", first], formula="wide / 2 - 16 mm")
    (rib,) = do("AddStep", kind="wall", name="rib", fields={"lines": {"rule": "path_sketch", "step": roof.step}, "thick": "1.6 mm", "high": "8 mm", "direction": "down", "operation": "add", "part": flap})  # fmt: skip
    (beside,) = do("AddStep", kind="plane", name="beside the actuator", fields={"base": SIDE, "distance": "motor/2 + play"})  # fmt: skip
    at = {"rule": "plane", "step": beside}
    strut_board = Drawing(making, "strut outline", plane=at)
    strut_board.do("DrawRectangle", first=[6, 16], corner=[10, 30], x="6 mm", y="(foot + 18 mm + wall) / 2", width="9 mm", height="foot + 18 mm - wall")  # fmt: skip
    outline = {"rule": "regions", "step": strut_board.step}
    (strut,) = do("AddStep", kind="extrude", name="strut", fields={"profile": outline, "distance": "4 mm", "operation": "add", "part": flap})  # fmt: skip
    (indent,) = do("AddStep", kind="body", name="indent for its rivet", fields={"shape": "ball", "across": "1.6 mm", "on": at, "way": "middle", "right": "6 mm", "up": "foot + 12 mm", "operation": "cut", "part": flap})  # fmt: skip
    also = [{"of": {"rule": "work", "step": step}} for step in (strut, indent)]
    do("AddStep", kind="again", name="the same on the left", fields={"of": {"rule": "work", "step": rib}, "also": also, "how": "mirror", "plane": SIDE, "part": flap})  # fmt: skip

    level = plane_above(making, "base level", "-clear - base")
    plate, base = do("AddStep", kind="body", name="base plate", new_part={"name": "Base"}, fields={"wide": "wide + 28 mm", "deep": "deep + 10 mm", "high": "base", "on": level})  # fmt: skip
    do("SetChapter", step=plate, title="The base", note="It clears the flap all along; two pillars take the screws, two ears the pins that the flap turns on.")  # fmt: skip
    top = face_of(base, f"{plate}/end", "top of the base", at=[0.0, 0.0, -2.5], direction=[0.0, 0.0, 1.0])
    (pillar,) = do("AddStep", kind="body", name="pillar", fields={"shape": "cylinder", "across": "9 mm", "high": "14 mm", "right": "wide/2 + 8 mm", "up": "-12 mm", "on": top, "operation": "add", "part": base})  # fmt: skip
    (ear,) = do("AddStep", kind="body", name="ear", fields={"wide": "4 mm", "deep": "12 mm", "high": "pivot + clear + pin", "right": "wide/2 + clear + 2 mm", "up": "10 mm", "on": top, "operation": "add", "part": base})  # fmt: skip
    (inner,) = do("AddStep", kind="plane", name="inner side of the ear", fields={"base": SIDE, "distance": "wide/2 + clear"})  # fmt: skip
    pins = Drawing(making, "pin outline", plane={"rule": "plane", "step": inner})
    pins.do("DrawCircle", centre=[10, 36], radius=3, x="10 mm", y="pivot", diameter="pin")
    (pin,) = do("AddStep", kind="extrude", name="pin", fields={"profile": {"rule": "regions", "step": pins.step}, "direction": "down", "distance": "clear + 2*wall", "operation": "add", "part": base})  # fmt: skip
    also = [{"of": {"rule": "work", "step": step}} for step in (ear, pin)]
    (left,) = do("AddStep", kind="again", name="pillar, ear and pin on the left", fields={"of": {"rule": "work", "step": pillar}, "also": also, "how": "mirror", "plane": SIDE, "part": base})  # fmt: skip
    holes = Drawing(making, "screw places", plane=top)
    for place in (-50, 50):
        (point, *_) = holes.do("DrawPoint", at={"at": (place, -12)})
        holes.do("SizeSketch", kind="distance_x", of=["origin", point] if place > 0 else [point, "origin"], formula="wide/2 + 8 mm")  # fmt: skip
        holes.do("SizeSketch", kind="distance_y", of=[point, "origin"], formula="12 mm")
    do("AddStep", kind="drill", name="screw holes", fields={"part": base, "at": {"rule": "spots_sketch", "step": holes.step}, "shape": "plain", "size": "screw", "screw": "M3"})  # fmt: skip

    (halves, half) = do("AddStep", kind="split", name="halves of the base", new_part={"name": "Left base"}, fields={"part": base, "plane": SIDE, "pegs": "2", "diameter": "2.4 mm", "long": "5 mm", "fit": "own", "least": "0 mm", "target": "0.2 mm", "most": "0.4 mm"})  # fmt: skip
    do("SetChapter", step=halves, title="Two halves", note="In one piece the pins would hang over and need support. Each half stands on its cut face, so that its pin stands upright, and pegs hold them together.")  # fmt: skip
    turning = {"fit": "own", "least": "0.1 mm", "target": "0.45 mm", "most": "0.9 mm"}
    for name, part, face, x, end in (("right", base, f"{pin}/side(c1)", 1.0, "upper"), ("left", half, f"{left}/copy2({pin}/side(c1))", -1.0, "lower")):  # fmt: skip
        seen = {"kind": "cylinder", "at": [41.0 * x, 10.0, 39.0], "axis": [1.0, 0.0, 0.0], "radius": 3.0}
        shaft: dict[str, Any] = face_of(part, face, f"{name} pin", **seen)
        do("AddStep", kind="shaft_in_bore", name=f"{name} pin in the flap", fields={"halves": "shaft", "shaft": shaft, "host": flap, **turning, "extent": "by", "end": end})  # fmt: skip
    for part, side, x in ((base, "right", 1.0), (half, "left", -1.0)):
        do("LayPart", part=part, face=face_of(part, f"{plate}/side({side})", f"{side} side", at=[56.0 * x, 0.0, -6.0], direction=[x, 0.0, 0.0]))  # fmt: skip
    standing = plane_above(making, "under the base", "-clear - base - 18 mm")
    (last_step, _) = do("AddStep", kind="body", name="stand-in for the duct", new_part={"name": "Duct", "role": "reference", "colour": "#b9bec4"}, fields={"wide": "wide - 8 mm", "deep": "deep", "high": "18 mm", "on": standing})  # fmt: skip
    do("SetChapter", step=last_step, title="To try the height", note="Made quickly, to see how the shutter stands on what it is for.")  # fmt: skip
    return making.project
