"""Worked examples of joints: a jar with a printed thread, a hatch that snaps into its housing, a hub with bought bearings,
a mast's bracket with a rail, a round housing in two halves, a panel on a ball, a
flap that is printed with its hinge, a post in two pieces."""

from __future__ import annotations

from typing import Any

from ..core.document import Project
from .builds import GROUND
from .making import Drawing, Making

__all__ = [
    "face_of",
    "make_bracket",
    "make_flap",
    "make_hatch",
    "make_housing",
    "make_jar",
    "make_panel",
    "make_post",
    "make_perch_bar",
    "make_sill",
    "make_stake",
    "make_vane_hub",
    "plane_above",
]


def face_of(part: str, name: str, label: str, **seen: Any) -> dict[str, Any]:
    """A face as it is seen when it is picked."""
    return {"rule": "flat", "part": part, "face": {"name": name, "seen": {"kind": "plane", "label": label, **seen}}}


def plane_above(making: Making, name: str, distance: str) -> dict[str, Any]:
    (step,) = making.do("AddStep", kind="plane", name=name, fields={"base": GROUND, "distance": distance})
    return {"rule": "plane", "step": step}


def make_jar() -> Project:
    """A jar for a drying agent and its cap: one thread between a neck and a bore, made to print upright without support."""
    making = Making("Desiccant jar")
    do = making.do
    for name, formula in (
        ("mouth", "38 mm"),
        ("wall", "3 mm"),
        ("tall", "36 mm"),
        ("neck", "14 mm"),
        ("pitch", "4 mm"),
    ):
        do("AddValue", name=name, formula=formula)
    round_body = {"shape": "cylinder"}
    _, jar = do(
        "AddStep", kind="body", name="belly", new_part={"name": "Jar"},
        fields={**round_body, "across": "mouth + 8 mm", "high": "tall", "on": GROUND},
    )  # fmt: skip
    shoulder = plane_above(making, "shoulder", "tall")
    (neck,) = do(
        "AddStep", kind="body", name="neck",
        fields={**round_body, "across": "mouth", "high": "neck", "on": shoulder, "operation": "add", "part": jar},
    )  # fmt: skip
    floor = plane_above(making, "floor", "wall")
    do(
        "AddStep", kind="body", name="room inside",
        fields={**round_body, "across": "mouth - 2*wall", "high": "tall + neck", "on": floor, "operation": "cut", "part": jar},
    )  # fmt: skip
    seat = plane_above(making, "under the cap", "tall + 0.6 mm")
    _, cap = do(
        "AddStep", kind="body", name="cap", new_part={"name": "Cap"},
        fields={**round_body, "across": "mouth + 2*wall + 2 mm", "high": "neck + wall", "on": seat},
    )  # fmt: skip
    (bore,) = do(
        "AddStep", kind="body", name="cap's bore",
        fields={**round_body, "across": "mouth - 0.7*pitch", "high": "neck", "on": seat, "operation": "cut", "part": cap},
    )  # fmt: skip
    side = {"kind": "cylinder", "axis": [0.0, 0.0, 1.0], "direction": [1.0, 0.0, 0.0]}
    (thread,) = do(
        "AddStep", kind="thread", name="cap on jar",
        fields={
            "halves": "both", "bore": face_of(cap, f"{bore}/side(round)", "bore", **{**side, "radius": 17.6}),
            "shaft": face_of(jar, f"{neck}/side(round)", "round side of the neck", **{**side, "radius": 19.0}), "profile": "gentle",
            "pitch": "pitch", "starts": "2", "end": "lower", "fit": "loose",
        },
    )  # fmt: skip
    do(
        "SetChapter", step=thread, title="The thread",
        note="Two starts, so that half a turn closes it; flanks of 45 degrees, so that it prints upright by itself; loose, for it is opened with wet hands.",
    )  # fmt: skip
    return making.project


def make_hatch() -> Project:
    """A hatch on a housing, held by two hooks: one that is opened again and again, and one that only finds its place."""
    making = Making("Snapped hatch")
    do = making.do
    for name, formula in (
        ("wide", "70 mm"),
        ("deep", "44 mm"),
        ("tall", "30 mm"),
        ("wall", "2.4 mm"),
        ("undercut", "0.5 mm"),
    ):
        do("AddValue", name=name, formula=formula)
    frame = Drawing(making, "housing outline", plane=GROUND)
    frame.do("DrawRectangle", first=[0, 0], corner=[35, 22], on="origin", width="wide", height="deep")
    body, housing = frame.extrude("Housing", "tall")
    room = Drawing(making, "room inside", plane=GROUND)
    room.do("DrawRectangle", first=[0, 0], corner=[32, 19], on="origin", width="wide - 2*wall", height="deep - 2*wall")
    lines = room.curves("line")
    (cut,) = do(
        "AddStep", kind="extrude", name="hollow",
        fields={"profile": {"rule": "regions", "step": room.step}, "distance": "tall", "operation": "cut", "part": housing},
    )  # fmt: skip
    top = face_of(housing, f"{body}/end", "top of the housing", at=[34.0, 0.0, 30.0], direction=[0.0, 0.0, 1.0])
    plate = Drawing(making, "hatch outline", plane=top)
    plate.do("DrawRectangle", first=[0, 0], corner=[35, 22], on="origin", width="wide", height="deep")
    lid, hatch = plate.extrude("Hatch", "2.4 mm")
    under = face_of(hatch, f"{lid}/start", "underside of the hatch", at=[0.0, 0.0, 30.0], direction=[0.0, 0.0, -1.0])
    for name, way, note, more in (
        ("latch", -1.0, "The latch is pressed open with a finger: a flat slope out, and strained often.", {"back": "40 deg"}),
        (
            "tongue", 1.0, "The tongue goes in first and only finds its place: it may be steep, for nobody pulls it out.",
            {"back": "70 deg", "wide": "10 mm"},
        ),
    ):  # fmt: skip
        # of the lines of the room the right one stands for x > 0, the left one for x < 0
        line = _upright(room, lines, -way)
        wall = face_of(
            housing, f"{cut}/side({line})", f"{'right' if way < 0 else 'left'} wall inside", at=[-way * 32.6, 0.0, 15.0], direction=[way, 0.0, 0.0]
        )  # fmt: skip
        (step,) = do(
            "AddStep", kind="snap_hook", name=name, fields={"base": under, "wall": wall, "undercut": "undercut", "long": "tall - 12 mm", **more}
        )  # fmt: skip
        do("SetChapter", step=step, title=f"The {name}", note=note)
    do("LayPart", part=hatch, face=face_of(hatch, f"{lid}/end", "top of the hatch", at=[0.0, 0.0, 32.4], direction=[0.0, 0.0, 1.0]))  # fmt: skip
    return making.project


def make_vane_hub() -> Project:
    """The hub of a wind vane: two bought bearings pressed against crush ribs, and a magnet in its arm for the reed that counts turns."""
    making = Making("Vane hub")
    do = making.do
    for name, formula in (("across", "28 mm"), ("tall", "16 mm"), ("arm", "52 mm"), ("thick", "7 mm")):
        do("AddValue", name=name, formula=formula)
    _, hub = do(
        "AddStep", kind="body", name="hub", new_part={"name": "Hub"},
        fields={"shape": "cylinder", "across": "across", "high": "tall", "on": GROUND},
    )  # fmt: skip
    do(
        "AddStep", kind="body", name="arm",
        fields={"wide": "arm", "deep": "12 mm", "high": "thick", "right": "arm/2", "on": GROUND, "operation": "add", "part": hub},
    )  # fmt: skip
    top = plane_above(making, "top of the hub", "tall")
    above = plane_above(making, "top of the arm", "thick")
    do("AddStep", kind="body", name="way for the axle", fields={
        "shape": "cylinder", "across": "9 mm", "high": "tall", "on": GROUND, "operation": "cut", "part": hub,
    })  # fmt: skip
    side = {"kind": "cylinder", "axis": [0.0, 0.0, 1.0], "direction": [1.0, 0.0, 0.0]}

    def seated(
        name: str, what: dict[str, Any], radius: float, at: list[float], seat: dict[str, Any], note: str
    ) -> None:
        step, thing = do("AddStep", kind="shelf", name=name.lower(), new_part={"name": name}, fields=what)
        face = face_of(
            thing, f"{step}/side", f"round side of the {name.lower()}", **{**side, "radius": radius, "at": at}
        )
        (made,) = do("AddStep", kind="seat", name=f"seat of the {name.lower()}", fields={"thing": face, "host": hub, **seat})  # fmt: skip
        do("SetChapter", step=made, title=f"The {name.lower()}", note=note)

    ribs = {"grip": "ribs", "rests": "ledge", "ledge": "2 mm"}
    seated(
        "Upper bearing", {"what": "ball bearing", "bearing": "625", "on": top, "sunk": "5 mm"}, 8.0, [8.0, 0.0, 13.5], ribs,
        "Ribs, because the hub is printed before the printer was ever measured: they bear twice the scatter that a plain wall does.",
    )  # fmt: skip
    seated(
        "Lower bearing", {"what": "ball bearing", "bearing": "625", "on": GROUND}, 8.0, [8.0, 0.0, 2.5], {**ribs, "end": "lower"},
        "The same from below; its mouth lies on the bed, and the chamfer takes what the first layers stand out.",
    )  # fmt: skip
    seated(
        "Magnet", {"what": "magnet", "across": "6 mm", "high": "3 mm", "on": above, "right": "arm - 7 mm", "sunk": "3 mm"}, 3.0, [48.0, 0.0, 5.5],
        {"fit": "snug", "push": "2.5 mm"}, "Snug, for a magnet cracks when it is pressed; a drop of glue, and a hole to push it out again.",
    )  # fmt: skip
    return making.project


def make_bracket() -> Project:
    """The wall bracket of the mast: a dovetail rail with a stop, on which the mast's head slides and can be taken off in winter."""
    making = Making("Mast bracket")
    do = making.do
    for name, formula in (
        ("wide", "64 mm"), ("tall", "90 mm"), ("plate", "7 mm"), ("rail", "22 mm"), ("rise", "8 mm"), ("post", "24 mm"),
    ):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    body, bracket = do(
        "AddStep", kind="body", name="wall plate", new_part={"name": "Bracket"},
        fields={"wide": "wide", "deep": "tall", "high": "plate", "on": GROUND},
    )  # fmt: skip
    front = face_of(bracket, f"{body}/end", "front of the plate", at=[0.0, 0.0, 7.0], direction=[0.0, 0.0, 1.0])
    holes = Drawing(making, "screws", plane=front)
    for up in (-1.0, 1.0):
        for right in (-1.0, 1.0):
            (point,) = holes.do("DrawPoint", at={"at": [right * 24, up * 37]})
            for kind, formula in (("distance_x", "wide/2 - 8 mm"), ("distance_y", "tall/2 - 8 mm")):
                holes.do("SizeSketch", kind=kind, of=["origin", point], formula=formula)
    do("AddStep", kind="drill", name="for the wall", fields={
        "part": bracket, "at": {"rule": "spots_sketch", "step": holes.step}, "shape": "sunk", "size": "screw", "screw": "M5",
    })  # fmt: skip
    head_step, head = do(
        "AddStep", kind="body", name="head", new_part={"name": "Mast head"},
        fields={"wide": "rail + 24 mm", "deep": "46 mm", "high": "rise + 8 mm", "on": front, "up": "4 mm"},
    )  # fmt: skip
    above = plane_above(making, "front of the head", "plate + rise + 8 mm")
    do("AddStep", kind="body", name="post", fields={
        "shape": "cylinder", "across": "post", "high": "26 mm", "on": above, "up": "4 mm", "operation": "add", "part": head,
    })  # fmt: skip
    (rail,) = do(
        "AddStep", kind="rail", name="head on bracket",
        fields={
            "base": front, "host": head, "way": {"rule": "axis_base", "axis": "deep"}, "wide": "rail", "high": "rise", "extent": "by", "long": "44 mm",
            "slot": "far", "takes": "inner",
        },
    )  # fmt: skip
    do(
        "SetChapter",
        step=rail,
        title="The rail",
        note="At 60 degrees, so that its sides print by themselves with the plate on the bed. The head comes from above and hangs on its stop; a change of the gap lands on the rail, the smaller print.",
    )
    do("LayPart", part=head, face=face_of(head, f"{head_step}/end", "front of the head", at=[3.0, -14.0, 23.0], direction=[0.0, 0.0, 1.0]))  # fmt: skip
    return making.project


def make_housing() -> Project:
    """The round housing of the weather station in two halves: a lap round their rims, and screws from below into bosses that are part of the upper one."""
    making = Making("Round housing")
    do = making.do
    for name, formula in (
        ("across", "84 mm"),
        ("wall", "3 mm"),
        ("lower", "26 mm"),
        ("upper", "34 mm"),
        ("boss", "9 mm"),
    ):
        do("AddValue", name=name, formula=formula)
    round_body = {"shape": "cylinder"}
    low_step, low = do(
        "AddStep", kind="body", name="lower half", new_part={"name": "Lower half"},
        fields={**round_body, "across": "across", "high": "lower", "on": GROUND},
    )  # fmt: skip
    inside = plane_above(making, "floor", "wall")
    seam = plane_above(making, "seam", "lower")
    do("AddStep", kind="body", name="room below", fields={
        **round_body, "across": "across - 2*wall", "high": "lower", "on": inside, "operation": "cut", "part": low,
    })  # fmt: skip
    upper, up = do(
        "AddStep", kind="body", name="upper half", new_part={"name": "Upper half"},
        fields={**round_body, "across": "across", "high": "upper", "on": seam},
    )  # fmt: skip
    do("AddStep", kind="body", name="room above", fields={
        **round_body, "across": "across - 2*wall", "high": "upper - wall", "on": seam, "operation": "cut", "part": up,
    })  # fmt: skip
    rim = face_of(low, f"{low_step}/end", "rim of the lower half", at=[40.5, 0.0, 26.0], direction=[0.0, 0.0, 1.0])
    (lap,) = do(
        "AddStep", kind="rim", name="halves",
        fields={"rim": rim, "host": up, "thickness": "wall/2", "height": "4 mm", "takes": "inner"},
    )  # fmt: skip
    do(
        "SetChapter",
        step=lap,
        title="The seam",
        note="The lap stands inside, so that rain runs over the seam and not into it. It slides, for the screws hold the halves; a change of the gap lands on the lower half.",
    )
    bosses, screws = [], []
    for sign in (-1, 1):
        right = f"{sign}*(across/2 - wall - boss/2 - 3 mm)"
        bosses.append(do("AddStep", kind="body", name="post", fields={
            **round_body, "across": "boss", "high": "upper", "on": seam, "right": right, "operation": "add", "part": up,
        }))  # fmt: skip
        bosses.append(do("AddStep", kind="body", name="foot of the post", fields={
            **round_body, "across": "boss + 2 mm", "high": "lower", "on": GROUND, "right": right, "operation": "add", "part": low,
        }))  # fmt: skip
        screws.append((sign, right))
    for sign, right in screws:
        side = "left" if sign < 0 else "right"
        step, screw = do(
            "AddStep", kind="shelf", name=f"{side} screw", new_part={"name": f"{side.capitalize()} screw"},
            fields={"what": "socket screw", "thread": "M4", "long": "lower + 4 mm", "on": GROUND, "way": "in", "right": right, "sunk": "12 mm"},
        )  # fmt: skip
        shank = face_of(
            screw,
            f"{step}/shank",
            f"shank of the {side} screw",
            kind="cylinder",
            axis=[0.0, 0.0, 1.0],
            direction=[1.0, 0.0, 0.0],
            radius=2.0,
        )
        (held,) = do(
            "AddStep",
            kind="fastener",
            name=f"{side} fastening",
            fields={"screw": shank, "host": low, "into": up, "end": "self"},
        )
        if sign < 0:
            do(
                "SetChapter",
                step=held,
                title="The screws",
                note="From below, where no rain comes; they cut their own thread into the posts, which are twice as wide as they are.",
            )
    do("LayPart", part=up, face=face_of(up, f"{upper}/end", "top of the housing", at=[0.0, 0.0, 60.0], direction=[0.0, 0.0, 1.0]))  # fmt: skip
    return making.project


def make_panel() -> Project:
    """The holder of the solar panel on a ball, so that it can be aimed at the winter sun."""
    making = Making("Panel on a ball")
    do = making.do
    for name, formula in (("wide", "70 mm"), ("deep", "48 mm"), ("ball", "16 mm"), ("apart", "36 mm")):
        do("AddValue", name=name, formula=formula)
    foot_step, foot = do(
        "AddStep", kind="body", name="foot", new_part={"name": "Foot"},
        fields={"shape": "cylinder", "across": "2.4*ball", "high": "6 mm", "on": GROUND},
    )  # fmt: skip
    on = face_of(foot, f"{foot_step}/end", "top of the foot", at=[0.0, 0.0, 6.0], direction=[0.0, 0.0, 1.0])
    under = plane_above(making, "under the panel", "6 mm + apart")
    tray_step, tray = do(
        "AddStep", kind="body", name="tray", new_part={"name": "Panel tray"}, fields={"wide": "wide", "deep": "deep", "high": "5 mm", "on": under},
    )  # fmt: skip
    above = plane_above(making, "bed of the panel", "6 mm + apart + 2 mm")
    do("AddStep", kind="body", name="room for the panel", fields={
        "wide": "wide - 4 mm", "deep": "deep - 4 mm", "high": "5 mm", "on": above, "operation": "cut", "part": tray,
    })  # fmt: skip
    below = face_of(
        tray, f"{tray_step}/start", "underside of the tray", at=[0.0, 0.0, 42.0], direction=[0.0, 0.0, -1.0]
    )
    (ball,) = do(
        "AddStep", kind="ball", name="aim", fields={"cup": on, "post": below, "ball": "ball", "neck": "ball/2", "finger": "ball - 1 mm", "floor": "7 mm"},
    )  # fmt: skip
    do(
        "SetChapter",
        step=ball,
        title="The ball",
        note="Snug, so that it keeps where it is turned to; the fingers are long and thin, for they are printed upright, where layers part most easily.",
    )
    do("LayPart", part=tray, face=face_of(tray, f"{tray_step}/end", "rim of the tray", at=[0.0, -23.0, 47.0], direction=[0.0, 0.0, 1.0]))  # fmt: skip
    return making.project


def make_flap() -> Project:
    """A flap over the cable's way, printed in one go with its frame: the pin of its hinge grows with the frame, free of the flap."""
    making = Making("Cable flap")
    do = making.do
    for name, formula in (("wide", "44 mm"), ("deep", "30 mm"), ("thick", "4 mm"), ("barrel", "9 mm")):
        do("AddValue", name=name, formula=formula)
    top = plane_above(making, "top", "thick")
    size = {"wide": "deep", "deep": "wide", "high": "thick", "on": GROUND}
    _, frame = do(
        "AddStep", kind="body", name="frame", new_part={"name": "Frame"}, fields={**size, "right": "-(deep/2 + 0.5 mm)"}
    )
    _, flap = do(
        "AddStep", kind="body", name="flap", new_part={"name": "Flap"}, fields={**size, "right": "deep/2 + 0.5 mm"}
    )
    board = Drawing(making, "axis", plane=top)
    (line,) = board.path((0, -10), (0, 10), construction=True)
    board.do("TieSketch", kind="midpoint", of=["origin", *board.points(line)])
    board.do("SizeSketch", kind="length", of=[line], formula="wide - 4 mm")
    (hinge,) = do(
        "AddStep", kind="hinge", name="hinge",
        fields={
            "first": frame, "second": flap, "axis": {"rule": "axis_line", "step": board.step, "line": line}, "long": "wide - 4 mm", "across": "barrel",
            "pin": "in_place", "fit": "loose", "stops": "at", "up": "105 deg",
        },
    )  # fmt: skip
    do(
        "SetChapter",
        step=hinge,
        title="The hinge",
        note="Loose, for what is printed in place must come free of itself: a gap that the nozzle can open, not one that a hand can close. It stops a little beyond upright, so that it stays open by itself.",
    )
    return making.project


def make_post() -> Project:
    """The mast's post, taller than the bed is high: split where it is plain, and rejoined by pegs."""
    making = Making("Mast post")
    do = making.do
    for name, formula in (("tall", "300 mm"), ("across", "42 mm"), ("cable", "14 mm"), ("peg", "6 mm")):
        do("AddValue", name=name, formula=formula)
    round_body = {"shape": "cylinder", "high": "tall", "on": GROUND}
    body, post = do(
        "AddStep", kind="body", name="post", new_part={"name": "Upper piece"}, fields={**round_body, "across": "across"}
    )
    do(
        "AddStep",
        kind="body",
        name="way for the cable",
        fields={**round_body, "across": "cable", "operation": "cut", "part": post},
    )
    middle = plane_above(making, "where it is cut", "tall/2")
    (step, _) = do(
        "AddStep", kind="split", name="pegs", new_part={"name": "Lower piece"},
        fields={"part": post, "plane": middle, "pegs": "3", "diameter": "peg", "long": "1.5*peg"},
    )  # fmt: skip
    do(
        "SetChapter",
        step=step,
        title="The cut",
        note="Three pegs, so that it does not turn; they slide, for glue holds, and the cable keeps its way through the middle.",
    )
    do("LayPart", part=post, face=face_of(post, f"{body}/end", "top of the post", at=[0.0, 0.0, 300.0], direction=[0.0, 0.0, 1.0]))  # fmt: skip
    return making.project


def make_sill() -> Project:
    """A board for the window sill, longer than the bed: cut across, and slid together along dovetails."""
    making = Making("Sill board")
    do = making.do
    for name, formula in (("long", "320 mm"), ("deep", "120 mm"), ("thick", "8 mm"), ("tail", "10 mm")):
        do("AddValue", name=name, formula=formula)
    made, board = do(
        "AddStep", kind="body", name="board", new_part={"name": "Right half"}, fields={"wide": "long", "deep": "deep", "high": "thick", "on": GROUND},
    )  # fmt: skip
    corners = {"rule": "edges_along", "part": board, "direction": "up"}
    do("AddStep", kind="fillet", name="corners", fields={"edges": corners, "radius": "12 mm"})
    rims = {"rule": "edges_of_face", "part": board, "face": {"name": f"{made}/end"}}
    do("AddStep", kind="chamfer", name="upper rim", fields={"edges": rims, "distance": "1 mm"})
    (step, _) = do(
        "AddStep", kind="tails", name="halves", new_part={"name": "Left half"},
        fields={"part": board, "plane": {"rule": "base", "plane": "side"}, "way": {"rule": "axis_base", "axis": "up"}, "tails": "3", "wide": "tail", "high": "0.8*tail", "lead": "0.5 mm"},
    )  # fmt: skip
    do(
        "SetChapter",
        step=step,
        title="The cut",
        note="Three dovetails, since the halves carry the feeder's foot across the cut and nothing else holds them; both lie flat on the bed, so their sides stand upright and print as they are drawn, but for the flare at the bed, which the chamfers keep clear of.",
    )
    return making.project


def make_perch_bar() -> Project:
    """A bar for birds to sit on, longer than the bed: cut in its middle, laid over itself there and hooked together."""
    making = Making("Perch bar")
    do = making.do
    for name, formula in (("long", "300 mm"), ("across", "16 mm"), ("lap", "36 mm")):
        do("AddValue", name=name, formula=formula)
    body, bar = do(
        "AddStep", kind="body", name="bar", new_part={"name": "Right half"}, fields={"wide": "long", "deep": "across", "high": "across", "on": GROUND},
    )  # fmt: skip
    edges = {"rule": "edges_along", "part": bar, "direction": "across"}
    do("AddStep", kind="fillet", name="round for claws", fields={"edges": edges, "radius": "across/4"})
    (step, left) = do(
        "AddStep", kind="lap", name="halves", new_part={"name": "Left half"},
        fields={"part": bar, "plane": {"rule": "base", "plane": "side"}, "way": {"rule": "axis_base", "axis": "up"}, "long": "lap", "deep": "across/6"},
    )  # fmt: skip
    do(
        "SetChapter",
        step=step,
        title="The cut",
        note="The halves are laid on each other from above and hook into each other, so that a drop of glue is not pulled; both lie as they will hang, with their layers along the bar.",
    )
    do("LayPart", part=left, face=face_of(left, f"{body}/end", "top of the bar", at=[0.0, 0.0, 16.0], direction=[0.0, 0.0, 1.0]))  # fmt: skip
    return making.project


def make_stake() -> Project:
    """The stake that the feeder stands on, taller than the bed is high: cut, and plugged together by its own outline, so that it does not turn."""
    making = Making("Feeder stake")
    do = making.do
    for name, formula in (("tall", "340 mm"), ("across", "26 mm"), ("plug", "18 mm")):
        do("AddValue", name=name, formula=formula)
    body, stake = do(
        "AddStep", kind="body", name="stake", new_part={"name": "Upper piece"},
        fields={"shape": "prism", "sides": "6", "across": "across", "high": "tall", "on": GROUND},
    )  # fmt: skip
    edges = {"rule": "edges_along", "part": stake, "direction": "up"}
    do("AddStep", kind="fillet", name="for the hand", fields={"edges": edges, "radius": "across/6"})
    middle = plane_above(making, "where it is cut", "tall/2")
    (step, _) = do(
        "AddStep", kind="stub", name="plug", new_part={"name": "Lower piece"}, fields={"part": stake, "plane": middle, "wall": "2.4 mm", "long": "plug", "lead": "1 mm"},
    )  # fmt: skip
    do(
        "SetChapter",
        step=step,
        title="The cut",
        note="Six sides within six sides: the upper piece is put on without aiming, and does not turn; the wall round the plug is six beads of the nozzle, for what the wind leans on.",
    )
    do("LayPart", part=stake, face=face_of(stake, f"{body}/end", "top of the stake", at=[0.0, 0.0, 340.0], direction=[0.0, 0.0, 1.0]))  # fmt: skip
    return making.project


def _upright(drawing: Drawing, lines: list[str], sign: float) -> str:
    """The upright line of a rectangle round the origin that lies to one side."""
    sketch = drawing.sketch
    at = {p.id: (p.x, p.y) for p in sketch.points}
    for line in lines:
        a, b = (at[p] for p in drawing.points(line))
        if abs(a[0] - b[0]) < 1e-6 and a[0] * sign > 0:
            return line
    raise LookupError("no upright line there")
