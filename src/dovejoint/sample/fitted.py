"""Worked examples of joints: a lid that clicks on its box, a dial on a bought switch, plates that cross, a tray with tabs in its floor, a spindle in its block, a funnel that snaps onto a tube, a post and its cap with pins, a
cover held by plugs, and rods in sleeves that are copied along a wall."""

from __future__ import annotations

from typing import Any

from ..core.document import Project
from .builds import GROUND
from .joined import face_of, plane_above
from .making import Making

__all__ = [
    "make_dial",
    "make_perch_rail",
    "make_rain_box",
    "make_rain_rim",
    "make_seed_tray",
    "make_sensor_cover",
    "make_sensor_post",
    "make_shield",
    "make_spindle",
    "make_vent_cover",
]

UPRIGHT = {"rule": "axis_base", "axis": "up"}


def make_sensor_cover() -> Project:
    """The cover of the sensor's box: bumps along the sides of its plug click into hollows of the box; a longer box gets another by itself."""
    making = Making("Sensor box and its cover")
    do = making.do
    for name, formula in (
        ("wide", "62 mm"), ("deep", "44 mm"), ("tall", "24 mm"), ("wall", "1.8 mm"), ("gap", "0.3 mm"), ("plug", "5 mm"), ("spacing", "24 mm"),
    ):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    _, box = do("AddStep", kind="body", name="box", new_part={"name": "Box"}, fields={"wide": "wide", "deep": "deep", "high": "tall", "on": GROUND})  # fmt: skip
    floor, rim = plane_above(making, "floor", "wall"), plane_above(making, "rim", "tall")
    inside = {"wide": "wide - 2*wall", "deep": "deep - 2*wall"}
    do("AddStep", kind="body", name="room", fields={**inside, "high": "tall", "on": floor, "operation": "cut", "part": box})  # fmt: skip
    _, cover = do("AddStep", kind="body", name="cover", new_part={"name": "Cover"}, fields={"wide": "wide", "deep": "deep", "high": "2 mm", "on": rim})  # fmt: skip
    below = plane_above(making, "foot of the plug", "tall - plug")
    plugged = {"wide": "wide - 2*(wall + gap)", "deep": "deep - 2*(wall + gap)", "high": "plug", "on": below}
    (plug,) = do("AddStep", kind="body", name="plug", fields={**plugged, "operation": "add", "part": cover})
    half = {"left": (-28.9, 0.0, -1.0, 0.0), "right": (28.9, 0.0, 1.0, 0.0), "front": (0.0, -19.9, 0.0, -1.0), "back": (0.0, 19.9, 0.0, 1.0)}  # fmt: skip

    def side(word: str) -> dict[str, Any]:
        x, y, u, v = half[word]
        return face_of(cover, f"{plug}/side({word})", f"{word} of the plug", at=[x, y, 21.5], direction=[u, v, 0.0])

    long, short = "ceil((wide - 20 mm)/spacing) + 1", "ceil((deep - 20 mm)/spacing) + 1"
    more = [{"side": side(w), "count": n} for w, n in (("back", long), ("left", short), ("right", short))]
    (detent,) = do(
        "AddStep", kind="detent", name="clicks",
        fields={
            "side": side("front"), "count": long, "more": more, "host": box, "way": UPRIGHT, "inset": "8 mm", "rim": "2.5 mm", "edge": "lower",
            "diameter": "3.2 mm", "undercut": "0.25 mm", "fit": "slide",
        },
    )  # fmt: skip
    do(
        "SetChapter", step=detent, title="The clicks",
        note="Round and flat, so that they print upright without support. Their number follows the sides: a box that grows by 12 has one more. The walls of the box bend, not the plug.",
    )  # fmt: skip
    return making.project


def make_dial() -> Project:
    """A dial for a bought switch: its hole takes the outline of the switch's shaft, flat and all, whatever switch stands there."""
    making = Making("Dial on a bought switch")
    do = making.do
    for name, formula in (
        ("panel", "2.5 mm"), ("collar", "4 mm"), ("shaft", "14 mm"), ("across", "6 mm"), ("flat", "4.5 mm"), ("dial", "13.5 mm"), ("clear", "0.4 mm"),
    ):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    round_body = {"shape": "cylinder"}
    do(
        "AddStep", kind="body", name="panel", new_part={"name": "Panel", "role": "reference"},
        fields={"wide": "50 mm", "deep": "40 mm", "high": "panel", "on": GROUND},
    )  # fmt: skip
    front = plane_above(making, "front of the panel", "panel")
    _, switch = do(
        "AddStep", kind="body", name="collar", new_part={"name": "Switch", "role": "bought"},
        fields={**round_body, "across": "9 mm", "high": "collar", "on": front},
    )  # fmt: skip
    shoulder = plane_above(making, "shoulder of the collar", "panel + collar")
    (shaft,) = do("AddStep", kind="body", name="shaft", fields={**round_body, "across": "across", "high": "shaft", "on": shoulder, "operation": "add", "part": switch})  # fmt: skip
    do(
        "AddStep", kind="body", name="its flat",
        fields={"wide": "across", "deep": "2*across", "high": "shaft", "on": shoulder, "right": "flat", "operation": "cut", "part": switch},
    )  # fmt: skip
    begins = plane_above(making, "back of the dial", "panel + collar + clear")
    turned, dial = do(
        "AddStep", kind="body", name="dial", new_part={"name": "Dial"},
        fields={**round_body, "across": "dial", "high": "shaft + 2.5 mm", "on": begins},
    )  # fmt: skip
    do("AddStep", kind="chamfer", name="rim", fields={
        "edges": {"rule": "edges_of_face", "part": dial, "face": {"name": f"{turned}/end", "seen": {"kind": "plane", "label": "front of the dial"}}}, "distance": "0.8 mm",
    })  # fmt: skip
    do("AddStep", kind="body", name="mark", fields={
        "wide": "1 mm", "deep": "dial", "high": "2 mm", "on": plane_above(making, "foot of the mark", "panel + collar + clear + shaft + 1.5 mm"),
        "up": "dial/2 + 1 mm", "operation": "cut", "part": dial,
    })  # fmt: skip
    end = face_of(switch, f"{shaft}/end", "end of the shaft", at=[-0.5, 0.0, 20.5], direction=[0.0, 0.0, 1.0])
    (held,) = do(
        "AddStep", kind="shaped_shaft", name="dial on shaft", fields={"halves": "there", "base": end, "host": dial, "fit": "snug", "mouth": "0.4 mm"},
    )  # fmt: skip
    do(
        "SetChapter", step=held, title="The hole",
        note="Snug: it is pulled off to get at the screws, and must not rattle. Its outline is read half way down the shaft, so that another switch only has to stand there.",
    )  # fmt: skip
    return making.project


def make_shield() -> Project:
    """A wind shield of plywood: two uprights across a base plate, each notched half way; all notches take the thickness of the plates."""
    making = Making("Wind shield of crossed plates")
    do = making.do
    for name, formula in (
        ("ply", "3 mm"),
        ("wide", "100 mm"),
        ("tall", "62 mm"),
        ("deep", "60 mm"),
        ("apart", "56 mm"),
        ("mill", "2 mm"),
    ):
        do("AddValue", name=name, formula=formula)
    do("SetTolerance", value=making.project.values[0].id, tolerance="±0.15")
    plate = {"name": "Base plate", "role": "made", "colour": "#c9a66b", "material": "plywood"}
    base_step, base = do("AddStep", kind="body", name="base plate", new_part=plate, fields={"wide": "wide", "deep": "ply", "high": "tall", "on": GROUND})  # fmt: skip
    front = face_of(base, f"{base_step}/side(front)", "front of the base plate", at=[0.0, -1.5, 31.0], direction=[0.0, -1.0, 0.0])  # fmt: skip
    raised = plane_above(making, "foot of the uprights", "tall/2 - 5 mm")
    for sign, name in (("-", "Left upright"), ("", "Right upright")):
        step, upright = do(
            "AddStep", kind="body", name=name.lower(), new_part={"name": name, "role": "made", "colour": "#b98f52", "material": "plywood"},
            fields={"wide": "ply", "deep": "deep", "high": "50 mm", "on": raised, "right": f"{sign}apart/2"},
        )  # fmt: skip
        x = -29.5 if sign else 26.5
        side = face_of(upright, f"{step}/side(left)", f"left of the {name.lower()}", at=[x, 0.0, 51.0], direction=[-1.0, 0.0, 0.0])  # fmt: skip
        (halved,) = do("AddStep", kind="halving", name=f"{name.split()[0].lower()} crossing", fields={"first": front, "second": side, "fit": "snug", "mill": "mill"})  # fmt: skip
        if sign:
            do(
                "SetChapter", step=halved, title="The crossings",
                note="The base plate is notched from above, the uprights from below, half way each. Snug, for nothing else holds them; thicker plywood is one value, and so is the cutter that leaves round corners.",
            )  # fmt: skip
    for part in making.project.parts:
        do("EditPart", part=part.id, sheet_mm=3, cutter_mm=2)
    return making.project


def make_seed_tray() -> Project:
    """The feeder's tray of plywood: two end boards stand with tabs in its floor, so many as their length takes; the slots are milled."""
    making = Making("Seed tray")
    do = making.do
    for name, formula in (
        ("ply", "4 mm"), ("long", "160 mm"), ("deep", "96 mm"), ("tall", "34 mm"), ("mill", "2 mm"), ("every", "28 mm"),
    ):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    do("SetTolerance", value=making.project.values[0].id, tolerance="±0.15")
    made = {"role": "made", "colour": "#c9a66b", "material": "plywood"}
    _, floor = do("AddStep", kind="body", name="floor", new_part={"name": "Floor", **made}, fields={"wide": "long", "deep": "deep", "high": "ply", "on": GROUND})  # fmt: skip
    top = plane_above(making, "top of the floor", "ply")
    for sign, name in (("-", "Left end"), ("", "Right end")):
        step, end = do(
            "AddStep", kind="body", name=name.lower(), new_part={"name": name, **made, "colour": "#b98f52"},
            fields={"wide": "ply", "deep": "deep - 16 mm", "high": "tall", "on": top, "right": f"{sign}(long/2 - 16 mm)"},
        )  # fmt: skip
        x = -64.0 if sign else 64.0
        foot = face_of(end, f"{step}/start", f"foot of the {name.lower()}", at=[x, 0.0, 4.0], direction=[0.0, 0.0, -1.0])  # fmt: skip
        (tabs,) = do(
            "AddStep", kind="tab", name=f"tabs of the {name.lower()}",
            fields={
                "base": foot, "host": floor, "tabs": "floor((deep - 16 mm)/every)", "wide": "every/2", "lead": "0 mm", "mouth": "0 mm", "mill": "mill", "fit": "snug",
            },
        )  # fmt: skip
        if sign:
            do(
                "SetChapter", step=tabs, title="The ends",
                note="Tabs right through the floor, their number by the depth of the tray. Snug: they are glued, and until then they should stand by themselves. The cutter leaves round corners, so these are eased.",
            )  # fmt: skip
    return making.project


def make_spindle() -> Project:
    """The spindle on which the vane turns, and the block that it turns in: both within limits, so that they can be looked at where they are tightest and loosest."""
    making = Making("Spindle in its block")
    do = making.do
    for name, formula in (("across", "8 mm"), ("deep", "18 mm"), ("stands", "22 mm"), ("block", "26 mm")):
        do("AddValue", name=name, formula=formula)
    do("SetTolerance", value=making.project.values[0].id, tolerance="±0.08")
    _, block = do("AddStep", kind="body", name="block", new_part={"name": "Block"}, fields={"wide": "block", "deep": "block", "high": "deep + 4 mm", "on": GROUND})  # fmt: skip
    (step, _) = do(
        "AddStep", kind="shaft_in_bore", name="spindle in block", new_part={"name": "Spindle"},
        fields={
            "halves": "none", "axis": UPRIGHT, "host": block, "diameter": "across", "depth": "deep", "extent": "by", "stands": "stands", "fit": "slide",
        },
    )  # fmt: skip
    do(
        "SetChapter", step=step, title="The spindle",
        note="It turns, and should not wobble: a slide fit. One value draws both, so its limits move them together; on the Check desk each half can be taken at its own limit.",
    )  # fmt: skip
    return making.project


def make_rain_rim() -> Project:
    """The rain gauge's funnel on its tube: a bead round the tube snaps into the funnel's skirt, which is slotted so that it can spring."""
    making = Making("Rain gauge")
    do = making.do
    for name, formula in (
        ("tube", "54 mm"),
        ("wall", "2 mm"),
        ("tall", "90 mm"),
        ("skirt", "24 mm"),
        ("spring", "1.5 mm"),
        ("rim", "86 mm"),
    ):
        do("AddValue", name=name, formula=formula)
    round_body = {"shape": "cylinder"}
    cup, tube = do(
        "AddStep", kind="body", name="tube", new_part={"name": "Tube"}, fields={**round_body, "across": "tube", "high": "tall", "on": GROUND},
    )  # fmt: skip
    do("AddStep", kind="body", name="measure", fields={
        **round_body, "across": "tube - 2*wall", "high": "tall", "on": plane_above(making, "bottom", "3 mm"), "operation": "cut", "part": tube,
    })  # fmt: skip
    low = plane_above(making, "edge of the skirt", "tall - skirt + 2 mm")
    _, funnel = do(
        "AddStep", kind="body", name="skirt", new_part={"name": "Funnel"},
        fields={**round_body, "across": "tube + 0.8 mm + 2*spring", "high": "skirt + 2 mm", "on": low},
    )  # fmt: skip
    (bore,) = do("AddStep", kind="body", name="inside of the skirt", fields={
        **round_body, "across": "tube + 0.8 mm", "high": "skirt", "on": low, "operation": "cut", "part": funnel,
    })  # fmt: skip
    top = plane_above(making, "foot of the cone", "tall + 3 mm")
    do("AddStep", kind="body", name="cone", fields={
        "shape": "cone", "across": "tube + 0.8 mm + 2*spring", "top": "rim", "high": "26 mm", "on": top, "operation": "add", "part": funnel,
    })  # fmt: skip
    do("AddStep", kind="body", name="inside of the cone", fields={
        "shape": "cone", "across": "9 mm", "top": "rim - 2*wall", "high": "26 mm", "on": top, "operation": "cut", "part": funnel,
    })  # fmt: skip
    do("AddStep", kind="body", name="spout", fields={
        **round_body, "across": "8 mm", "high": "skirt + 4 mm", "on": low, "operation": "cut", "part": funnel,
    })  # fmt: skip
    skirt = face_of(funnel, f"{bore}/side(round)", "inside of the skirt", kind="cylinder", axis=[0.0, 0.0, 1.0], direction=[-1.0, 0.0, 0.0], radius=27.4)  # fmt: skip
    side = face_of(tube, f"{cup}/side(round)", "outside of the tube", kind="cylinder", axis=[0.0, 0.0, 1.0], direction=[1.0, 0.0, 0.0], radius=27.0)  # fmt: skip
    (snap,) = do(
        "AddStep", kind="ring_snap", name="skirt on tube",
        fields={
            "bore": skirt, "shaft": side, "end": "lower", "depth": "4 mm", "undercut": "0.25 mm", "land": "1 mm", "spring": "fingers", "fingers": "8", "slot": "2 mm",
            "long": "skirt - 3 mm", "used": "often", "fit": "slide",
        },
    )  # fmt: skip
    do(
        "SetChapter", step=snap, title="The snap",
        note="As a whole the skirt would not widen: the card says how many newtons it would take. In eight fingers it bends, and comes off for cleaning.",
    )  # fmt: skip
    return making.project


def make_perch_rail() -> Project:
    """Wooden rods in printed sleeves through the feeder's wall, in inches: one of each, its hole, and all of it again along the wall."""
    making = Making("Perch rail")
    do = making.do
    do("SetUnit", unit="in")
    for name, formula in (("many", "5"), ("pitch", "1 1/2 in"), ("rod", "3/8 in"), ("sleeve", "5/8 in"), ("wall", "3/16 in"), ("inside", "1 in"), ("outside", "2 1/2 in")):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    do(
        "AddStep", kind="body", name="wall of the feeder", new_part={"name": "Wall"},
        fields={"wide": "pitch*many", "deep": "wall", "high": "2 in", "on": GROUND, "right": "pitch*(many - 1)/2"},
    )  # fmt: skip
    wall = making.project.parts[0].id
    upright = {"rule": "fixed", "origin": [0.0, 0.0, 25.4], "x": [1.0, 0.0, 0.0], "y": [0.0, 0.0, 1.0]}
    round_body = {"shape": "cylinder", "on": upright}

    def through(name: str, size: str, high: str, **more: Any) -> list[str]:
        return do("AddStep", kind="body", name=name, fields={**round_body, "across": size, "high": high, **more.pop("fields", {})}, **more)  # fmt: skip

    (hole,) = through("hole", "sleeve + 0.2 mm", "4*wall", fields={"on": {**upright, "origin": [0.0, 10.0, 25.4]}, "operation": "cut", "part": wall})  # fmt: skip
    made, sleeve = through("sleeve", "sleeve", "4*wall", new_part={"name": "Sleeve", "colour": "#7d9aa8"}, fields={"on": {**upright, "origin": [0.0, 9.0, 25.4]}})  # fmt: skip
    do("EditPart", part=sleeve, group="perches")
    through("its bore", "rod + 0.3 mm", "4*wall", fields={"on": {**upright, "origin": [0.0, 9.0, 25.4]}, "operation": "cut", "part": sleeve})  # fmt: skip
    _, rod = through("rod", "rod", "outside + inside", new_part={"name": "Rod", "role": "made", "colour": "#c09a6b", "material": "hardwood"}, fields={"on": {**upright, "origin": [0.0, 25.4, 25.4]}})  # fmt: skip
    do("EditPart", part=rod, note="Beech, cut to length.")
    do("AddStep", kind="chamfer", name="ends of the sleeves", fields={
        "edges": {"rule": "edges_of_face", "part": sleeve, "face": {"name": f"{made}/end", "seen": {"kind": "plane", "label": "outer end of the sleeve"}}}, "distance": "1/64 in",
    })  # fmt: skip
    across = {"rule": "axis_base", "axis": "across"}
    (holes,) = do("AddStep", kind="again", name="the other holes", fields={
        "of": {"rule": "work", "step": hole}, "how": "row", "axis": across, "count": "many", "pitch": "pitch", "part": wall,
    })  # fmt: skip
    do("AddStep", kind="copies", name="the other perches", fields={
        "of": sleeve, "also": [{"part": rod}], "how": "row", "axis": across, "count": "many", "pitch": "pitch",
    })  # fmt: skip
    do(
        "SetChapter",
        step=hole,
        title="One perch",
        note="Its hole, its sleeve, its rod: what is made here, all of them get.",
    )
    do("SetChapter", step=holes, title="All of them", note="A rod more is one value: many.")
    return making.project


def make_sensor_post() -> Project:
    """A post for a sensor with its cap cut off it: a room in the post, and pins that bring the cap back to its place."""
    making = Making("Sensor post")
    do = making.do
    for name, formula in (("side", "30 mm"), ("tall", "60 mm"), ("cap", "12 mm"), ("room", "18 mm"), ("deep", "30 mm"), ("rounding", "4 mm")):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    _, post = do("AddStep", kind="body", name="post", new_part={"name": "Post"}, fields={"wide": "side", "deep": "side", "high": "tall", "on": GROUND})  # fmt: skip
    do("AddStep", kind="fillet", name="corners", fields={"edges": {"rule": "edges_along", "part": post, "direction": "up"}, "radius": "rounding"})  # fmt: skip
    cut = plane_above(making, "where the cap is cut off", "tall - cap")
    divided, cap = do("AddStep", kind="divide", name="cap", new_part={"name": "Cap"}, fields={"part": post, "plane": cut, "keep": "both"})  # fmt: skip
    # what lies over the plane keeps the part's name; the rest is the new one
    do("EditPart", part=post, name="Cap of the post")
    do("EditPart", part=cap, name="Post")
    low = plane_above(making, "floor of the room", "tall - cap - deep")
    do("AddStep", kind="body", name="room", fields={"wide": "room", "deep": "room", "high": "deep", "on": low, "operation": "cut", "part": cap})  # fmt: skip
    top = face_of(cap, f"{divided}/divide", "cut face of the post", at=[12.0, 0.0, 48.0], direction=[0.0, 0.0, 1.0])
    (pins,) = do(
        "AddStep", kind="pins", name="pins",
        fields={"base": top, "host": post, "pegs": "2", "diameter": "3 mm", "long": "5 mm", "lead": "0.4 mm", "mouth": "0.4 mm", "fit": "slide"},
    )  # fmt: skip
    do(
        "SetChapter", step=pins, title="The pins",
        note="In opposite corners of the rim, where it is widest: the cap goes on in two ways, and both are right. They slide, for tape seals it against rain. Cut lower, everything follows.",
    )  # fmt: skip
    return making.project


def make_vent_cover() -> Project:
    """A cover over a vent of the weather station, held by two split plugs that come out again for cleaning."""
    making = Making("Vent cover")
    do = making.do
    for name, formula in (("wide", "70 mm"), ("deep", "46 mm"), ("wall", "2.4 mm"), ("apart", "54 mm"), ("stand", "26 mm"), ("plug", "7 mm")):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    _, wall = do("AddStep", kind="body", name="wall", new_part={"name": "Wall"}, fields={"wide": "wide + 20 mm", "deep": "deep + 20 mm", "high": "wall", "on": plane_above(making, "back of the wall", "2 mm + stand")})  # fmt: skip
    do("AddStep", kind="body", name="vent", fields={
        "shape": "cylinder", "across": "30 mm", "high": "wall", "on": plane_above(making, "back of the vent", "2 mm + stand"), "operation": "cut", "part": wall,
    })  # fmt: skip
    cover_step, cover = do("AddStep", kind="body", name="cover", new_part={"name": "Cover"}, fields={"wide": "wide", "deep": "deep", "high": "2 mm", "on": GROUND})  # fmt: skip
    inside = face_of(cover, f"{cover_step}/end", "inside of the cover", at=[0.0, 0.0, 2.0], direction=[0.0, 0.0, 1.0])
    plugs = []
    for sign, name in (("-", "left plug"), ("", "right plug")):
        plugs += do("AddStep", kind="plug", name=name, fields={
            "base": inside, "host": wall, "right": f"{sign}apart/2", "diameter": "plug", "undercut": "0.2 mm", "slit": "2 mm", "long": "stand", "used": "often",
        })  # fmt: skip
    do(
        "SetChapter", step=plugs[0], title="The plugs",
        note="Printed upright with the cover, so their layers lie across them: long arms and little undercut, or they break. The cover stands off the wall by their length, which lets the air through.",
    )  # fmt: skip
    return making.project


def make_rain_box() -> Project:
    """A box for the feeder's camera that no rain comes into: a cord in a groove round its rim, which the lid squeezes."""
    making = Making("Rain-tight box")
    do = making.do
    for name, formula in (("wide", "92 mm"), ("deep", "68 mm"), ("tall", "30 mm"), ("wall", "9 mm"), ("lid", "4 mm"), ("cord", "3 mm"), ("corner", "14 mm")):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    made, box = do("AddStep", kind="body", name="box", new_part={"name": "Box"}, fields={"wide": "wide", "deep": "deep", "high": "tall", "on": GROUND})  # fmt: skip
    do("AddStep", kind="fillet", name="corners", fields={"edges": {"rule": "edges_along", "part": box, "direction": "up"}, "radius": "corner"})  # fmt: skip
    top = face_of(box, f"{made}/end", "top of the box", at=[0.0, 0.0, 30.0], direction=[0.0, 0.0, 1.0])["face"]
    (hollow,) = do("AddStep", kind="shell", name="room", fields={"open": {"rule": "faces", "part": box, "faces": [top]}, "wall": "wall"})  # fmt: skip
    closed, lid = do("AddStep", kind="body", name="lid", new_part={"name": "Lid"}, fields={"wide": "wide", "deep": "deep", "high": "lid", "on": plane_above(making, "rim", "tall")})  # fmt: skip
    do("AddStep", kind="fillet", name="its corners", fields={"edges": {"rule": "edges_along", "part": lid, "direction": "up"}, "radius": "corner"})  # fmt: skip
    rim = face_of(box, f"{hollow}/rim({made}/end)", "rim of the box", at=[0.0, -29.5, 30.0], direction=[0.0, 0.0, 1.0])
    (sealed,) = do(
        "AddStep", kind="cord", name="cord in the rim",
        fields={"face": rim, "host": lid, "cord": "cord", "wide": "1.3*cord", "begins": "(wall - 1.3*cord)/2"},
    )  # fmt: skip
    do(
        "SetChapter", step=sealed, title="The cord",
        note="Of rubber, squeezed by a fifth. Its groove is as deep as the squeezed cord, a third wider, and so round in its corners that the cord does not kink. Its card says how long to cut it.",
    )  # fmt: skip
    return making.project
