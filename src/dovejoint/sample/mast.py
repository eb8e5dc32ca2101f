"""The whole balcony weather mast: bracket and head, housing and hatch, jar, vane on bought bearings, panel on its ball; every joint with its reason."""

from __future__ import annotations

from typing import Any

from ..core.document import Project
from .builds import GROUND, UPRIGHT
from .joined import face_of, plane_above
from .making import Drawing, Making

__all__ = ["make_mast", "mast_before"]

ROUND = {"shape": "cylinder"}
#: a cylinder's side as it is seen when it is picked
SIDE = {"kind": "cylinder", "axis": [0.0, 0.0, 1.0], "direction": [1.0, 0.0, 0.0]}


class _Mast:
    """The mast in the making. The housing stands on the ground plane about the upright axis; the wall is behind it."""

    def __init__(self) -> None:
        self.making = Making("Balcony weather mast")
        self.do = self.making.do
        for name, formula in (
            ("across", "84 mm"), ("wall", "3 mm"), ("lower", "30 mm"), ("upper", "36 mm"), ("boss", "9 mm"), ("jar", "26 mm"), ("pitch", "4 mm"),
            ("reach", "66 mm"), ("plate", "7 mm"), ("rail", "22 mm"), ("arm", "52 mm"), ("ball", "16 mm"), ("apart", "36 mm"),
        ):  # fmt: skip
            self.do("AddValue", name=name, formula=formula)
        self.parts: dict[str, str] = {}

    def level(self, name: str, height: str) -> dict[str, Any]:
        return plane_above(self.making, name, height)

    def body(self, name: str, on: dict[str, Any], part: str = "", **fields: Any) -> str:
        """A body: as a new part of its name where no ``part`` is told, else added to it or, by ``operation``, cut out of it."""
        if part:
            fields = {"operation": "add", **fields, "part": self.parts[part]}
            (step,) = self.do("AddStep", kind="body", name=name, fields={**fields, "on": on})
        else:
            title = name[0].upper() + name[1:]
            step, self.parts[title] = self.do("AddStep", kind="body", name=name, new_part={"name": title}, fields={**fields, "on": on})  # fmt: skip
        return step

    def shelf(self, name: str, **fields: Any) -> str:
        step, self.parts[name] = self.do("AddStep", kind="shelf", name=name.lower(), new_part={"name": name}, fields=fields)  # fmt: skip
        return step

    def face(self, part: str, name: str, label: str, **seen: Any) -> dict[str, Any]:
        return face_of(self.parts[part], name, label, **seen)

    def joint(self, kind: str, name: str, **fields: Any) -> str:
        (step,) = self.do("AddStep", kind=kind, name=name, fields=fields)
        return step

    def chapter(self, step: str, title: str, note: str) -> None:
        self.do("SetChapter", step=step, title=title, note=note)

    def group(self, group: str, *parts: str) -> None:
        for part in parts:
            self.do("EditPart", part=self.parts[part], group=group)


def _step(mast: _Mast, name: str) -> str:
    """A step by its name."""
    return next(s.id for s in mast.making.project.recipe if s.name == name)


def make_mast() -> Project:
    """Eighteen parts, half of them bought, and fifteen joints of eight families."""
    mast = _Mast()
    _housing(mast)
    _hatch(mast)
    _jar(mast)
    _head(mast)
    _vane(mast)
    _panel(mast)
    return mast.making.project


def mast_before() -> list[tuple[Project, str]]:
    """The draft that came before it, with two mistakes for the checks to find: a latch bent too far, and screws that are too short."""
    making = Making("The draft")
    making.project = make_mast()
    for step in making.project.recipe:
        if step.name == "latch":
            making.do("EditStep", step=step.id, fields={"undercut": "0.9 mm"})
        if step.kind == "shelf" and step.name in ("left screw", "right screw"):
            making.do("EditStep", step=step.id, fields={"long": "lower - 8 mm"})
    return [
        (
            making.project,
            "First draft. The latch catches deep, so that no wind opens it; screws as long as the drawer had them.",
        )
    ]


def _housing(mast: _Mast) -> None:
    """Two halves with a lap round their rims, and screws from below."""
    low = mast.body("lower half", GROUND, **ROUND, across="across", high="lower")
    mast.chapter(low, "The housing", "Round, so that it stands in any wind; all else is placed about its middle.")
    seam = mast.level("seam", "lower")
    inside = {**ROUND, "across": "across - 2*wall", "operation": "cut"}
    mast.body("room below", mast.level("floor", "wall"), "Lower half", **inside, high="lower")
    mast.body("upper half", seam, **ROUND, across="across", high="upper")
    mast.body("room above", seam, "Upper half", **inside, high="upper - wall")
    rim = mast.face("Lower half", f"{low}/end", "rim of the lower half", at=[40.5, 0.0, 30.0], direction=[0.0, 0.0, 1.0])  # fmt: skip
    lap = mast.joint(
        "rim", "halves", rim=rim, host=mast.parts["Upper half"], thickness="wall/2", height="4 mm", takes="inner"
    )
    mast.chapter(lap, "The seam", "The lap stands inside, so that rain runs over the seam and not into it; it slides, for the screws hold.")  # fmt: skip
    places = [(sign, f"{sign}(across/2 - wall - boss/2 - 3 mm)") for sign in ("-", "")]
    for _, right in places:
        mast.body("post", seam, "Upper half", **ROUND, across="boss", high="upper", right=right)
        mast.body("foot of the post", GROUND, "Lower half", **ROUND, across="boss + 2 mm", high="lower", right=right)
    for sign, right in places:
        name = "Left screw" if sign else "Right screw"
        step = mast.shelf(name, what="socket screw", thread="M4", long="lower + 4 mm", on=GROUND, way="in", right=right, sunk="12 mm")  # fmt: skip
        x = -33.5 if sign else 29.5
        shank = mast.face(name, f"{step}/shank", f"shank of the {name.lower()}", **SIDE, radius=2.0, at=[x, 0.0, 20.0])
        held = mast.joint("fastener", f"{name.lower()} holds", screw=shank, host=mast.parts["Lower half"], into=mast.parts["Upper half"], end="self")  # fmt: skip
        if sign:
            mast.chapter(held, "The screws", "From below, where no rain comes; they cut their own thread into the posts.")  # fmt: skip


def _hatch(mast: _Mast) -> None:
    """A hatch in the top, in a frame that is deep enough for hooks."""
    mast.body("frame of the hatch", mast.level("foot of the frame", "lower + upper - 20 mm"), "Upper half", wide="46 mm", deep="24 mm", high="20 mm", up="-22 mm")  # fmt: skip
    opening = mast.body("opening", {"rule": "plane", "step": _step(mast, "foot of the frame")}, "Upper half", wide="40 mm", deep="18 mm", high="20 mm", up="-22 mm", operation="cut")  # fmt: skip
    lid = mast.body("hatch", mast.level("top of the housing", "lower + upper"), wide="46 mm", deep="24 mm", high="2.4 mm", up="-22 mm")  # fmt: skip
    under = mast.face("Hatch", f"{lid}/start", "underside of the hatch", at=[0.0, -22.0, 66.0], direction=[0.0, 0.0, -1.0])  # fmt: skip
    for name, sign, more, note in (
        ("latch", 1.0, {"back": "40 deg"}, "Pressed open with a finger, and strained often: a flat slope on the way out."),
        ("tongue", -1.0, {"back": "70 deg"}, "Goes in first and only finds its place, so it may be steep."),
    ):  # fmt: skip
        word = "right" if sign > 0 else "left"
        wall = mast.face("Upper half", f"{opening}/side({word})", f"{word} side of the opening", at=[sign * 20.0, -22.0, 57.0], direction=[-sign, 0.0, 0.0])  # fmt: skip
        hook = mast.joint("snap_hook", name, base=under, wall=wall, undercut="0.4 mm", long="14 mm", wide="8 mm", **more)  # fmt: skip
        mast.chapter(hook, f"The {name}", note)


def _jar(mast: _Mast) -> None:
    """The jar for the drying agent, screwed into the floor from below."""
    collar = {**ROUND, "up": "-18 mm"}
    mast.body("collar of the jar", GROUND, "Lower half", **collar, across="jar + 9 mm", high="13.4 mm")
    bore = mast.body("its bore", GROUND, "Lower half", **collar, across="jar - 0.7*pitch", high="13.4 mm", operation="cut")  # fmt: skip
    belly = mast.level("foot of the jar", "-40 mm")
    mast.body("jar", belly, **collar, across="jar + 10 mm", high="39.4 mm")
    neck = mast.body("neck", mast.level("shoulder of the jar", "-0.6 mm"), "Jar", **collar, across="jar", high="14 mm")
    mast.body("room in the jar", mast.level("floor of the jar", "-37 mm"), "Jar", **collar, across="jar - 2*wall", high="60 mm", operation="cut")  # fmt: skip
    thread = mast.joint(
        "thread", "jar in floor", halves="both", profile="gentle", pitch="pitch", starts="2", end="lower", fit="loose",
        bore=mast.face("Lower half", f"{bore}/side(round)", "bore of the collar", **SIDE, radius=11.6, at=[11.6, -18.0, 5.0]),
        shaft=mast.face("Jar", f"{neck}/side(round)", "neck of the jar", **SIDE, radius=13.0, at=[13.0, -18.0, 5.0]),
    )  # fmt: skip
    mast.chapter(thread, "The jar", "Two starts and flanks of 45 degrees: half a turn opens it, and it prints upright by itself. Loose, for wet hands.")  # fmt: skip


def _head(mast: _Mast) -> None:
    """The wall's bracket, and the head that slides on its rail and carries the housing."""
    foot = mast.level("foot of the bracket", "-73 mm")
    plate = mast.body("bracket", foot, wide="64 mm", deep="plate", high="92 mm", up="reach + plate/2")
    mast.chapter(plate, "On the wall", "The bracket stays on the wall; the mast comes off its rail in winter.")
    front = mast.face("Bracket", f"{plate}/side(front)", "front of the bracket", at=[0.0, 66.0, -27.0], direction=[0.0, -1.0, 0.0])  # fmt: skip
    holes = Drawing(mast.making, "wall screws", plane=front)
    for right in (-1.0, 1.0):
        for up in (-65.0, 11.0):
            (point,) = holes.do("DrawPoint", at={"at": [right * 24.0, up]})
            for kind, formula in (("distance_x", "24 mm"), ("distance_y", f"{abs(up)} mm")):
                holes.do("SizeSketch", kind=kind, of=["origin", point], formula=formula)
    mast.joint("drill", "for the wall", part=mast.parts["Bracket"], at={"rule": "spots_sketch", "step": holes.step}, shape="sunk", size="screw", screw="M5")  # fmt: skip
    mast.body("mast head", mast.level("foot of the head", "-46 mm"), wide="rail + 24 mm", deep="16 mm", high="46 mm", up="reach - 8 mm")  # fmt: skip
    mast.body("shelf of the head", mast.level("foot of the shelf", "-8 mm"), "Mast head", wide="40 mm", deep="reach - 8 mm", high="8 mm", up="reach/2 + 4 mm")  # fmt: skip
    rail = mast.joint(
        "rail", "head on bracket", base=front, host=mast.parts["Mast head"], way=UPRIGHT, wide="rail", high="8 mm", extent="by", long="44 mm",
        slot="far", takes="inner",
    )  # fmt: skip
    mast.chapter(rail, "The rail", "At 60 degrees, so that it prints by itself with the bracket on its back; the head comes from above and hangs on its stop.")  # fmt: skip
    below = {"rule": "plane", "step": _step(mast, "foot of the shelf")}
    for sign in ("-", ""):
        mast.body("boss of the foot", GROUND, "Lower half", **ROUND, across="boss", high="20 mm", right=f"{sign}12 mm", up="26 mm")  # fmt: skip
    for sign in ("-", ""):
        name = "Left foot screw" if sign else "Right foot screw"
        step = mast.shelf(name, what="socket screw", thread="M4", long="16 mm", on=below, way="in", right=f"{sign}12 mm", up="26 mm", sunk="4.4 mm")  # fmt: skip
        x = -10.0 if sign else 14.0
        shank = mast.face(name, f"{step}/shank", f"shank of the {name.lower()}", **SIDE, radius=2.0, at=[x, 26.0, 4.0])
        mast.joint("fastener", f"{name.lower()} holds", screw=shank, host=mast.parts["Mast head"], into=mast.parts["Lower half"], end="self")  # fmt: skip


def _vane(mast: _Mast) -> None:
    """The vane's hub on two bearings about a steel axle, and a magnet in its arm."""
    mast.body("boss of the axle", mast.level("foot of the axle's boss", "lower + upper - 16 mm"), "Upper half", **ROUND, across="16 mm", high="16 mm")  # fmt: skip
    axle = mast.shelf("Axle", what="rod", across="5 mm", long="33 mm", on=mast.level("foot of the axle", "lower + upper - 12 mm"))  # fmt: skip
    side = mast.face("Axle", f"{axle}/side", "round side of the axle", **SIDE, radius=2.5, at=[2.5, 0.0, 60.0])
    held = mast.joint("seat", "seat of the axle", thing=side, host=mast.parts["Upper half"], grip="ribs", rib="0.5 mm")
    mast.chapter(held, "The vane", "A steel axle pressed into the housing, and bought bearings: nothing printed turns on anything printed.")  # fmt: skip
    low = mast.level("foot of the hub", "lower + upper + 5 mm")
    mast.shelf("Distance ring", what="ring", across="8 mm", bore="5.2 mm", high="5 mm", on={"rule": "plane", "step": _step(mast, "top of the housing")})  # fmt: skip
    mast.body("hub", low, **ROUND, across="28 mm", high="16 mm")
    mast.body("arm", low, "Hub", wide="arm", deep="12 mm", high="7 mm", right="arm/2")
    mast.body("blade", low, "Hub", wide="46 mm", deep="2.4 mm", high="34 mm", right="-34 mm")
    mast.body("way for the axle", low, "Hub", **ROUND, across="9 mm", high="40 mm", operation="cut")
    top, above = mast.level("top of the hub", "lower + upper + 21 mm"), mast.level("top of the arm", "lower + upper + 12 mm")  # fmt: skip
    ribs = {"grip": "ribs", "rests": "ledge", "ledge": "2 mm"}
    for name, what, radius, at, seat in (
        ("Upper bearing", {"what": "ball bearing", "bearing": "625", "on": top, "sunk": "5 mm"}, 8.0, [8.0, 0.0, 84.5], ribs),
        ("Lower bearing", {"what": "ball bearing", "bearing": "625", "on": low}, 8.0, [8.0, 0.0, 73.5], {**ribs, "end": "lower"}),
        ("Magnet", {"what": "magnet", "across": "6 mm", "high": "3 mm", "on": above, "right": "arm - 7 mm", "sunk": "3 mm"}, 3.0, [48.0, 0.0, 76.5], {"fit": "snug", "push": "2.5 mm"}),
    ):  # fmt: skip
        step = mast.shelf(name, **what)
        face = mast.face(name, f"{step}/side", f"round side of the {name.lower()}", **SIDE, radius=radius, at=at)
        mast.joint("seat", f"seat of the {name.lower()}", thing=face, host=mast.parts["Hub"], **seat)


def _panel(mast: _Mast) -> None:
    """The solar panel on a ball, on an arm that stands with tabs in the bracket."""
    wing = mast.level("foot of the wing", "4 mm")
    mast.body("wing", wing, "Bracket", wide="90 mm", deep="plate", high="26 mm", up="reach + plate/2", right="70 mm")
    low = mast.level("foot of the arm", "14 mm")
    arm = mast.body("panel arm", low, wide="34 mm", deep="46 mm", high="8 mm", up="reach - 23 mm", right="95 mm")
    end = mast.face("Panel arm", f"{arm}/side(back)", "end of the arm", at=[95.0, 66.0, 18.0], direction=[0.0, 1.0, 0.0])  # fmt: skip
    tabs = mast.joint("tab", "arm in bracket", base=end, host=mast.parts["Bracket"], tabs="2", wide="8 mm", fit="slide")
    mast.chapter(tabs, "The panel", "Its arm stands with tabs in the bracket, right through it, and is glued; the bracket is printed flat with it or without.")  # fmt: skip
    foot = mast.body("foot of the ball", mast.level("top of the arm of the panel", "22 mm"), "Panel arm", **ROUND, across="2*ball", high="4 mm", up="reach - 26 mm", right="95 mm")  # fmt: skip
    tray = mast.body("panel tray", mast.level("under the panel", "26 mm + apart"), wide="62 mm", deep="44 mm", high="5 mm", up="reach - 26 mm", right="95 mm")  # fmt: skip
    mast.body("room for the panel", mast.level("bed of the panel", "28 mm + apart"), "Panel tray", wide="58 mm", deep="40 mm", high="5 mm", up="reach - 26 mm", right="95 mm", operation="cut")  # fmt: skip
    cup = mast.face("Panel arm", f"{foot}/end", "top of the foot", at=[95.0, 40.0, 26.0], direction=[0.0, 0.0, 1.0])
    under = mast.face("Panel tray", f"{tray}/start", "underside of the tray", at=[95.0, 40.0, 60.0], direction=[0.0, 0.0, -1.0])  # fmt: skip
    mast.joint("ball", "aim", cup=cup, post=under, ball="ball", neck="ball/2", finger="ball - 1 mm", floor="7 mm")
    for part, name, seen in (
        ("Bracket", f"{_step(mast, 'bracket')}/side(back)", {"at": [0.0, 73.0, -27.0], "direction": [0.0, 1.0, 0.0]}),
        ("Mast head", f"{_step(mast, 'mast head')}/end", {"at": [0.0, 58.0, 0.0], "direction": [0.0, 0.0, 1.0]}),
        ("Upper half", f"{_step(mast, 'upper half')}/end", {"at": [30.0, 0.0, 66.0], "direction": [0.0, 0.0, 1.0]}),
        ("Hatch", f"{_step(mast, 'hatch')}/end", {"at": [0.0, -22.0, 68.4], "direction": [0.0, 0.0, 1.0]}),
        ("Panel tray", f"{tray}/end", {"at": [65.0, 40.0, 67.0], "direction": [0.0, 0.0, 1.0]}),
    ):
        mast.do("LayPart", part=mast.parts[part], face=mast.face(part, name, "", **seen))
    mast.group("wall", "Bracket", "Panel arm")
    mast.group("housing", "Lower half", "Upper half", "Left screw", "Right screw", "Mast head", "Left foot screw", "Right foot screw", "Axle", "Distance ring")  # fmt: skip
    mast.group("vane", "Hub", "Upper bearing", "Lower bearing", "Magnet")
