"""Worked examples of parts between bought things: a clamp's foot that takes a bolt and two washers, and a cord's pulley on a bearing ring."""

from __future__ import annotations

from ..core.document import Project
from ..core.document.files import hash_of, pack
from .builds import GROUND
from .joined import face_of, plane_above
from .making import Making

__all__ = ["make_clamp_foot", "make_pulley"]

ROUND = {"shape": "cylinder"}


def make_clamp_foot() -> Project:
    """The foot of the clamp that holds the mast to a railing: a bolt's head turns it, and two washers of the clamp's lid stand in its top."""
    making = Making("Clamp foot")
    do = making.do
    for name, formula in (
        ("across", "34 mm"), ("tall", "11 mm"), ("apart", "18 mm"), ("washer", "10 mm"), ("deep", "3.25 mm"), ("room", "0.35 mm"), ("flats", "7 mm"),
        ("head", "5 mm"), ("rim", "4 mm"),
    ):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    do("SetTolerance", value=making.project.values[3].id, tolerance="±0.05")
    disc, foot = do(
        "AddStep", kind="body", name="disc", new_part={"name": "Foot"}, fields={**ROUND, "across": "across", "high": "tall", "on": GROUND},
    )  # fmt: skip
    floor = plane_above(making, "floor of the pockets", "tall - deep")
    seats = []
    for sign, name in (("-", "Left washer"), ("", "Right washer")):
        step, washer = do(
            "AddStep", kind="shelf", name=name.lower(), new_part={"name": name},
            fields={"what": "ring", "across": "washer", "bore": "4.3 mm", "high": "deep", "on": floor, "right": f"{sign}apart/2"},
        )  # fmt: skip
        x = (-9.0 if sign else 9.0) + 5.0
        side = face_of(washer, f"{step}/side", f"round side of the {name.lower()}", kind="cylinder", axis=[0.0, 0.0, 1.0], direction=[1.0, 0.0, 0.0], radius=5.0, at=[x, 0.0, 9.4])  # fmt: skip
        (seat,) = do(
            "AddStep", kind="seat", name=f"pocket of the {name.lower()}",
            fields={
                "thing": side, "host": foot, "fit": "own", "least": "room - 0.2 mm", "target": "room", "most": "room + 0.2 mm", "mouth": "0.4 mm",
            },
        )  # fmt: skip
        seats.append(seat)
    do(
        "SetChapter", step=seats[0], title="The pockets",
        note="The washers are fixed to a bought lid, measured with a caliper, 18 apart; both must drop in at once. A trial that is too tight is one value: room.",
    )  # fmt: skip
    bolt, screw = do(
        "AddStep", kind="shelf", name="bolt", new_part={"name": "Bolt"},
        fields={"what": "hexagon screw", "thread": "M4", "long": "12 mm", "on": plane_above(making, "under the bolt's head", "head"), "way": "in"},
    )  # fmt: skip
    under = face_of(
        screw, f"{bolt}/under", "underside of the bolt's head", at=[0.55, 2.82, 5.0], direction=[0.0, 0.0, 1.0]
    )
    (pocket,) = do(
        "AddStep", kind="shaped_shaft", name="bolt's head in foot",
        fields={"halves": "there", "base": under, "host": foot, "fit": "slide", "mouth": "0.4 mm"},
    )  # fmt: skip
    do(
        "SetChapter", step=pocket, title="The bolt",
        note="Its head turns the foot, so the pocket takes the outline of whatever head stands there; it slides, and the thread comes out on top through a clearance hole.",
    )  # fmt: skip
    around = {
        "name": f"{disc}/end|{disc}/side(round)",
        "seen": {"kind": "circle", "label": "rim of the foot", "at": [17.0, 0.0, 11.0]},
    }
    do("AddStep", kind="drill", name="for the thread", fields={
        "part": foot, "at": {"rule": "spots_edges", "part": foot, "edges": [around]}, "size": "screw", "screw": "M4",
    })  # fmt: skip
    low = {
        "name": f"{disc}/side(round)|{disc}/start",
        "seen": {"kind": "circle", "label": "lower rim of the foot", "at": [17.0, 0.0, 0.0]},
    }
    (rim,) = do(
        "AddStep",
        kind="fillet",
        name="rim",
        fields={"edges": {"rule": "edges", "part": foot, "edges": [low]}, "radius": "rim"},
    )
    do(
        "SetChapter", step=rim, title="The rim",
        note="At 4 the face that presses on the railing measures 26. It is printed turned over, so that the rounding needs no support.",
    )  # fmt: skip
    do(
        "LayPart",
        part=foot,
        face=face_of(foot, f"{disc}/end", "top of the foot", at=[0.0, 12.0, 11.0], direction=[0.0, 0.0, 1.0]),
    )
    return making.project


#: a ring with an arrow, on white
MARK = b"""<svg xmlns="http://www.w3.org/2000/svg" width="200" height="200"><rect width="200" height="200" fill="#ffffff"/>
<path d="M100 30 A70 70 0 1 1 30 100" fill="none" stroke="#2b4a46" stroke-width="16"/><path d="M30 62 L56 112 L4 112 Z" fill="#2b4a46"/></svg>"""


def make_pulley() -> Project:
    """The pulley over which the flag's cord runs: hollow, with a hub that grows from its face, and a bought bearing ring pressed into it."""
    making = Making("Cord pulley")
    do = making.do
    for name, formula in (
        ("across", "27 mm"), ("wide", "14 mm"), ("web", "2 mm"), ("rim", "3 mm"), ("bore", "5 mm"), ("ring", "9 mm"), ("ring deep", "3 mm"), ("hub", "15 mm"),
        ("cord", "3 mm"),
    ):  # fmt: skip
        do("AddValue", name=name.replace(" ", "_"), formula=formula)
    wheel, pulley = do(
        "AddStep", kind="body", name="wheel", new_part={"name": "Pulley"}, fields={**ROUND, "across": "across", "high": "wide", "on": GROUND},
    )  # fmt: skip
    inner = plane_above(making, "inner face of the web", "web")
    do("AddStep", kind="body", name="hollow", fields={
        **ROUND, "across": "across - 2*rim", "high": "wide", "on": inner, "operation": "cut", "part": pulley,
    })  # fmt: skip
    do("AddStep", kind="body", name="hub", fields={
        **ROUND, "across": "hub", "high": "wide - web", "on": inner, "operation": "add", "part": pulley,
    })  # fmt: skip
    middle = plane_above(making, "middle of the groove", "wide/2")
    do("AddStep", kind="body", name="groove of the cord", fields={
        "shape": "ring", "across": "across + 2*cord - 2.4 mm", "thick": "cord", "on": middle, "operation": "cut", "part": pulley,
    })  # fmt: skip
    do("AddStep", kind="body", name="bore", fields={
        **ROUND, "across": "bore + 0.4 mm", "high": "wide", "on": inner, "operation": "cut", "part": pulley,
    })  # fmt: skip
    open_end = plane_above(making, "open end", "wide")
    step, bearing = do(
        "AddStep", kind="shelf", name="bearing ring", new_part={"name": "Bearing ring", "material": "brass"},
        fields={"what": "ring", "across": "ring", "bore": "bore", "high": "ring_deep", "on": open_end, "sunk": "ring_deep + 1 mm"},
    )  # fmt: skip
    side = face_of(bearing, f"{step}/side", "round side of the bearing ring", kind="cylinder", axis=[0.0, 0.0, 1.0], direction=[1.0, 0.0, 0.0], radius=4.5, at=[4.5, 0.0, 11.5])  # fmt: skip
    (seat,) = do(
        "AddStep", kind="seat", name="seat of the bearing ring",
        fields={"thing": side, "host": pulley, "grip": "ribs", "mouth": "0.4 mm"},
    )  # fmt: skip
    do(
        "SetChapter", step=seat, title="The bearing",
        note="A plain ring of brass, as it was measured. Ribs hold it, for a wall as thin as the hub's would crack; the axle comes through the bore behind it.",
    )  # fmt: skip
    making.project = making.project.model_copy(update={"files": {hash_of(MARK): pack(MARK)}})
    outer = face_of(pulley, f"{wheel}/start", "outer face of the pulley", at=[0.0, 0.0, 0.0], direction=[0.0, 0.0, -1.0])  # fmt: skip
    do("AddStep", kind="picture", name="which way it turns", fields={
        "file": {"hash": hash_of(MARK), "name": "turns.svg"}, "face": outer, "wide": "across - 8 mm", "turn": "90 deg", "clear": "white",
    })  # fmt: skip
    return making.project
