"""Worked examples: single parts and parts built around others, as a careful designer writes them down."""

from __future__ import annotations

import math
from typing import Any

from ..core.document import Project
from .making import Drawing, Making

__all__ = ["make_anchor", "make_cable_comb", "make_cover_link", "make_roof", "make_tail_ring"]

GROUND = {"rule": "base", "plane": "ground"}
FRONT = {"rule": "base", "plane": "front"}
SIDE = {"rule": "base", "plane": "side"}
UPRIGHT = {"rule": "axis_base", "axis": "up"}


def _regions(step: str, **more: Any) -> dict[str, Any]:
    return {"rule": "regions", "step": step, **more}


def _values(making: Making, *values: tuple[str, str]) -> None:
    for name, formula in values:
        making.do("AddValue", name=name, formula=formula)


def _plane_face(part: str, name: str, label: str, **seen: Any) -> dict[str, Any]:
    """A flat face as it is seen when it is picked."""
    return {"rule": "flat", "part": part, "face": {"name": name, "seen": {"kind": "plane", "label": label, **seen}}}


def make_anchor() -> Project:
    """A block for a guy line: two grooves turned round it in one cut, two pegs through it, one fillet step with two radii."""
    making = Making("Anchor block for a guy line")
    do = making.do
    _values(
        making, ("side", "16.2 mm"), ("tall", "21 mm"), ("flank", "28 deg"), ("groove", "6.6 mm"), ("peg", "5.2 mm"),
        ("pegs", "26 mm"),
    )  # fmt: skip
    do(
        "AddStep", kind="body", name="mast tube", new_part={"name": "Mast tube", "role": "reference"},
        fields={"shape": "cylinder", "across": "24 mm", "high": "42 mm", "right": "-30 mm", "on": GROUND},
    )  # fmt: skip
    outline = Drawing(making, "block outline", plane=GROUND)
    made = outline.do("DrawRectangle", first=[0, 0], corner=[8, 8], on="origin", width="side")
    sides = [m for m in made if m.startswith("l")][:2]
    outline.do("TieSketch", kind="equal", of=sides)
    body, block = outline.extrude("Anchor block", "tall")
    grooves = Drawing(making, "groove profile", plane=FRONT)
    for low in (1.4, 14.1):
        high, far = low + 1.4, 6.4 * math.tan(math.radians(28))
        places = [(6.6, low), (13, low - far), (13, high + far), (6.6, high)]
        under, outer, over, inner = grooves.path(*places, closed=True)
        foot = grooves.points(under)[0]
        grooves.do("SizeSketch", kind="distance_x", of=["origin", foot], formula="groove")
        grooves.do("SizeSketch", kind="distance_y", of=["origin", foot], formula=f"{low} mm")
        grooves.do("SizeSketch", kind="length", of=[inner], formula="1.4 mm")
        grooves.do("SizeSketch", kind="distance", of=[grooves.points(outer)[0], inner], formula="13 mm - groove")
        # both flanks lean as far: the upper one comes back at 180 deg and more
        grooves.do("TieSketch", kind="equal", of=[under, over])
        grooves.do("SizeSketch", kind="angle", of=[outer, under], formula="90 deg - flank")
    (turned,) = do(
        "AddStep", kind="revolve", name="grooves",
        fields={"profile": _regions(grooves.step), "axis": UPRIGHT, "operation": "cut", "part": block},
    )  # fmt: skip
    pegs: list[str] = []
    for plane, name in ((FRONT, "pegs across"), (SIDE, "pegs deep")):
        board = Drawing(making, f"{name} outline", plane=plane)
        board.do("DrawCircle", centre=[0, 7.4], radius=2.6, x="0 mm", y="7.4 mm", diameter="peg")
        fields = {"profile": _regions(board.step), "direction": "both", "distance": "pegs", "operation": "add"}
        pegs += do("AddStep", kind="extrude", name=name, fields={**fields, "part": block})
    # ten rims: the pegs' four ends, the four upper edges, and both edges of the upper groove's floor
    floor = [f"{turned}/side({line})" for line in grooves.curves("line")[4:]]
    pairs = [
        *((f"{peg}/{end}", f"{peg}/side(c1)") for peg in pegs for end in ("start", "end")),
        *((f"{body}/end", f"{body}/side({line})") for line in outline.curves("line")),
        (floor[0], floor[3]),
        (floor[2], floor[3]),
    ]
    rims = [{"name": "|".join(sorted(pair))} for pair in pairs]
    do(
        "AddStep", kind="fillet", name="roundings",
        fields={
            "edges": {"rule": "edges_along", "part": block, "direction": "up"}, "radius": "1.4 mm",
            "more": [{"edges": {"rule": "edges", "part": block, "edges": rims, "chain": False}, "radius": "0.3 mm"}],
        },
    )  # fmt: skip
    return making.project


def make_cable_comb() -> Project:
    """A spacer in the mast tube: a land, a notch and a hole drawn once and repeated round; hollowed, then drilled."""
    making = Making("Spacer for cables in the mast tube")
    do = making.do
    _values(
        making,
        ("across", "13.8 mm"),
        ("notch", "1.6 mm"),
        ("tall", "7.5 mm"),
        ("wall", "0.9 mm"),
        ("hole", "1.6 mm"),
        ("count", "4"),
    )
    board = Drawing(making, "comb outline", plane=GROUND)
    n, r, deep = 4, 6.9, 1.6
    half = math.asin(_half_notch(r, deep) / r)

    def at(radius: float, turn: float) -> tuple[float, float]:
        return radius * math.cos(turn), radius * math.sin(turn)

    first, second = half, 2 * math.pi / n - half
    made = board.do(
        "DrawArcAbout", centre={"at": (0, 0), "on": "origin"}, start={"at": at(r, first)}, towards=at(r, second)
    )
    land = next(m for m in made if m.startswith("a"))
    start, end = board.points(land)[1:]
    # a hole in the middle of each land: on the line from the middle to halfway between its ends
    (chord,) = board.path(at(r, first), at(r, second), start=start, construction=True)
    board.do("TieSketch", kind="coincident", of=[board.points(chord)[1], end])
    halfway = (r * math.cos(half + (second - first) / 2) * math.cos((second - first) / 2),) * 2
    (ray,) = board.path((0, 0), halfway, construction=True)
    board.do("TieSketch", kind="coincident", of=[board.points(ray)[0], "origin"])
    board.do("TieSketch", kind="midpoint", of=[board.points(ray)[1], chord])
    # the notch points at the middle, along a construction line
    bottom = at(r - deep, 2 * math.pi / n)
    (spoke,) = board.path((0, 0), at(r + 1, 2 * math.pi / n), construction=True)
    board.do("TieSketch", kind="coincident", of=[board.points(spoke)[0], "origin"])
    down, up = board.path(at(r, second), bottom, at(r, 2 * math.pi / n + half), start=end)
    tip = board.points(down)[1]
    board.do("TieSketch", kind="point_on", of=[tip, spoke])
    board.do("TieSketch", kind="equal", of=[down, up])
    board.do("TieSketch", kind="perpendicular", of=[down, up])
    made = board.do("DrawCircle", centre=at(3.45, math.pi / n), radius=0.8, diameter="hole")
    hole = next(m for m in made if m.startswith("c"))
    board.do("TieSketch", kind="point_on", of=[board.points(hole)[0], ray])
    board.do("RingSketch", ids=[land, down, up, hole], centre="origin", count="count")
    board.do("SizeSketch", kind="radius", of=[land], formula="across / 2")
    board.do("SizeSketch", kind="distance", of=["origin", tip], formula="across / 2 - notch")
    board.do("TieSketch", kind="vertical", of=[spoke])
    board.do("SizeSketch", kind="length", of=[spoke], formula="across / 2 + wall")
    middle = board.points(hole)[0]
    board.do("SizeSketch", kind="distance", of=["origin", middle], formula="across / 4")
    fields = {"profile": _regions(board.step, filled=True), "distance": "tall"}
    body, comb = do(
        "AddStep", kind="extrude", name="comb", new_part={"name": "Cable comb", "colour": "#9DB4C4"}, fields=fields
    )
    foot = {"name": f"{body}/start", "seen": {"kind": "plane", "direction": [0, 0, -1], "label": "underside"}}
    do("AddStep", kind="shell", fields={"open": {"rule": "faces", "part": comb, "faces": [foot]}, "wall": "wall"})
    fields = {"part": comb, "at": {"rule": "spots_sketch", "step": board.step}, "diameter": "hole"}
    do("AddStep", kind="drill", name="cable holes", fields=fields)
    return making.project


def _half_notch(radius: float, deep: float) -> float:
    """How far to the side the flanks of a notch of 90 degrees meet a circle, the notch so deep from it."""
    inner = radius - deep
    # from (inner, 0) along (1, 1): inner + s, s on the circle
    return (-2 * inner + math.sqrt(4 * inner**2 - 8 * (inner**2 - radius**2))) / 4


def make_tail_ring() -> Project:
    """A sleeve with blades on a tube, in inches: a blade drawn once, cut to its silhouette, done again round the sleeve."""
    making = Making("Sleeve with blades for a tube")
    do = making.do
    do("SetUnit", unit="in")
    _values(
        making, ("outside", "1 3/16 in"), ("inside", "1 1/16 in"), ("long", "1 in"), ("thick", "0.12 in"), ("reach", "5/8 in"),
        ("blades", "3"),
    )  # fmt: skip
    board = Drawing(making, "sleeve outline", plane=GROUND)
    for name, radius in (("outside", 15.08), ("inside", 13.49)):
        board.do("DrawCircle", centre=[0, 0], on="origin", radius=radius, diameter=name)
    body, sleeve = board.extrude("Sleeve", "long")
    round_side = {
        "rule": "flat", "part": sleeve,
        "face": {"name": f"{body}/side(c1)", "seen": {"kind": "cylinder", "label": "outer round side", "axis": [0, 0, 1]}},
    }  # fmt: skip
    (touching,) = do(
        "AddStep", kind="plane", name="against the sleeve",
        fields={"how": "against", "base": FRONT, "side": round_side, "angle": "0 deg"},
    )  # fmt: skip
    blade = Drawing(making, "blade foot", plane={"rule": "plane", "step": touching})
    blade.do("DrawRectangle", first=[0, 12.7], corner=[1.5, 25.4], x="0 in", y="long / 2", width="thick", height="long")
    fields: dict[str, Any] = {
        "profile": _regions(blade.step),
        "direction": "two",
        "distance": "reach",
        "below": "(outside - inside) / 4",
    }
    (wing,) = do("AddStep", kind="extrude", name="blade", fields={**fields, "operation": "add", "part": sleeve})
    # seen from the side: what stands over the line from the sleeve's upper rim down to the tip is cut away
    cut = Drawing(making, "silhouette", plane=SIDE)
    top, tip, beyond = (-15.3, 27.0), (-32.5, 6.0), (-32.5, 27.0)
    slope, side, over = cut.path(top, tip, beyond, closed=True)
    a, b = cut.points(slope)
    cut.do("SizeSketch", kind="distance_x", of=[a, "origin"], formula="outside / 2 + 1/128 in")
    cut.do("SizeSketch", kind="distance_y", of=["origin", a], formula="long + 1/16 in")
    cut.do("SizeSketch", kind="distance_x", of=[b, "origin"], formula="outside / 2 + reach + 1/16 in")
    cut.do("SizeSketch", kind="distance_y", of=["origin", b], formula="long / 4")
    _ = side, over
    fields = {
        "profile": _regions(cut.step),
        "direction": "both",
        "distance": "2 * thick",
        "operation": "cut",
        "part": sleeve,
    }
    (shaped,) = do("AddStep", kind="extrude", name="silhouette cut", fields=fields)
    fields = {
        "of": {"rule": "work", "step": wing}, "also": [{"of": {"rule": "work", "step": shaped}}], "count": "blades",
        "how": "round", "axis": UPRIGHT, "part": sleeve,
    }  # fmt: skip
    do("AddStep", kind="again", name="blades round the sleeve", fields=fields)
    return making.project


def make_roof() -> Project:
    """A lid made in place: the box's own edges, set off by a gap and a wall, pulled down, and closed above."""
    making = Making("Lid made in place on a box")
    do = making.do
    _values(
        making,
        ("wide", "72 mm"),
        ("deep", "48 mm"),
        ("tall", "34 mm"),
        ("wall", "2 mm"),
        ("gap", "0.3 mm"),
        ("skirt", "9 mm"),
    )
    body, box = do(
        "AddStep", kind="body", name="box", new_part={"name": "Box"},
        fields={"wide": "wide", "deep": "deep", "high": "tall", "on": GROUND},
    )  # fmt: skip
    top = {"kind": "plane", "at": [0, 0, 34], "direction": [0, 0, 1], "label": "top"}
    (hollow,) = do(
        "AddStep", kind="shell",
        fields={"open": {"rule": "faces", "part": box, "faces": [{"name": f"{body}/end", "seen": top}]}, "wall": "wall"},
    )  # fmt: skip
    rim = f"{hollow}/rim({body}/end)"
    board = Drawing(
        making, "roof outline", plane=_plane_face(box, rim, "upper rim", at=[0, 0, 34], direction=[0, 0, 1])
    )
    x, y = 36.0, 24.0
    corners = [(-x, -y), (x, -y), (x, y), (-x, y)]
    things: list[dict[str, Any]] = []
    for side, a, b in zip(("front", "right", "back", "left"), corners, [*corners[1:], corners[0]], strict=True):
        # the edge as the kernel runs it does not matter; where it lies does
        name = "|".join(sorted((rim, f"{body}/side({side})")))
        middle = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, 34.0]
        seen = {
            "kind": "line",
            "at": middle,
            "direction": [float(a[1] == b[1]), float(a[0] == b[0]), 0.0],
            "size": math.dist(a, b),
        }
        things.append(
            {
                "part": box,
                "what": "edge",
                "thing": {"name": name, "seen": seen},
                "curve": {"kind": "line", "places": [a, b]},
            }
        )
    board.do("BringIn", things=things)
    edges = [c.id for c in board.sketch.curves if c.brought]
    for distance in ("gap", "gap + wall"):
        board.do("OffsetSketch", ids=edges, distance=distance)
    fields = {"profile": _regions(board.step), "direction": "down", "distance": "skirt"}
    _, roof = do("AddStep", kind="extrude", name="skirt", new_part={"name": "Roof"}, fields=fields)
    fields = {"profile": _regions(board.step, filled=True), "distance": "wall", "operation": "add", "part": roof}
    do("AddStep", kind="extrude", name="roof plate", fields=fields)
    return making.project


def make_cover_link() -> Project:
    """Two parts that share faces: a box with a bore and its mirror image, a cover over its front, faces that follow others."""
    making = Making("Box and cover that share faces")
    do = making.do
    _values(making, ("wide", "60 mm"), ("deep", "30 mm"), ("tall", "24 mm"), ("bore", "6 mm"), ("plate", "3 mm"))
    body, box = do(
        "AddStep", kind="body", name="box", new_part={"name": "Box"},
        fields={"wide": "wide", "deep": "deep", "high": "tall", "on": GROUND},
    )  # fmt: skip
    top = _plane_face(box, f"{body}/end", "top", at=[0, 0, 24], direction=[0, 0, 1])
    board = Drawing(making, "bore place", plane=top)
    made = board.do("DrawPoint", at={"at": (-18, 0)})
    board.do("SizeSketch", kind="distance_x", of=[made[0], "origin"], formula="wide / 2 - 2 * bore")
    board.do("TieSketch", kind="horizontal", of=[made[0], "origin"])
    fields = {"part": box, "at": {"rule": "spots_sketch", "step": board.step}, "diameter": "bore"}
    (hole,) = do("AddStep", kind="drill", name="bore", fields=fields)
    do(
        "AddStep", kind="again", name="the other bore",
        fields={"of": {"rule": "work", "step": hole}, "how": "mirror", "plane": SIDE, "part": box},
    )  # fmt: skip
    front = _plane_face(box, f"{body}/side(front)", "front", at=[0, -15, 12], direction=[0, -1, 0])
    cover_step, cover = do(
        "AddStep", kind="extrude", name="cover", new_part={"name": "Cover"}, fields={"profile": front, "distance": "plate"}
    )  # fmt: skip

    # the outer edges of the cover's face are the box's own: the names of its sides tell them
    def named(label: str) -> dict[str, str]:
        return {"kind": "plane", "label": label}

    right, left, upper = (f"{cover_step}/side({body}/{face})" for face in ("side(right)", "side(left)", "end"))
    do(
        "AddStep", kind="push", name="both higher, once",
        fields={
            "faces": {"rule": "faces", "part": box, "faces": [{"name": f"{body}/end", "seen": named("top")}, {"name": upper, "part": cover, "seen": named("top")}]},
            "distance": "2 mm",
        },
    )  # fmt: skip
    do(
        "AddStep", kind="push", name="cover stays under the top",
        fields={
            "faces": {"rule": "faces", "part": cover, "faces": [{"name": upper, "seen": named("top")}]}, "way": "level",
            "to": top, "gap": "-0.5 mm",
        },
    )  # fmt: skip
    do(
        "AddStep", kind="push", name="one side out",
        fields={"faces": {"rule": "faces", "part": cover, "faces": [{"name": right, "seen": named("right side")}]}, "distance": "4 mm"},
    )  # fmt: skip
    like = _plane_face(cover, right, "right side", direction=[1, 0, 0])
    do(
        "AddStep", kind="push", name="the other side follows",
        fields={"faces": {"rule": "faces", "part": cover, "faces": [{"name": left, "seen": named("left side")}]}, "way": "mirror", "like": like, "to": SIDE},
    )  # fmt: skip
    return making.project
