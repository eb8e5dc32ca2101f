"""Worked examples of boxes of the weather station: one with a catch that is pressed open, one whose rim is interrupted."""

from __future__ import annotations

from ..core.document import Project
from .builds import GROUND
from .joined import face_of, plane_above
from .making import Making

__all__ = ["make_battery_box", "make_cable_box"]


def make_battery_box() -> Project:
    """The box for the station's battery: a lid with a lever on either side, squeezed to open it."""
    making = Making("Battery box")
    do = making.do
    for name, formula in (
        ("wide", "58 mm"), ("deep", "42 mm"), ("tall", "36 mm"), ("wall", "2.4 mm"), ("lid", "3 mm"), ("undercut", "0.6 mm"), ("bar", "2.2 mm"), ("plug", "4 mm"),
        ("gap", "0.35 mm"),
    ):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    outside, box = do(
        "AddStep", kind="body", name="box", new_part={"name": "Box"}, fields={"wide": "wide", "deep": "deep", "high": "tall", "on": GROUND},
    )  # fmt: skip
    inside = {"wide": "wide - 2*wall", "deep": "deep - 2*wall"}
    do("AddStep", kind="body", name="room", fields={**inside, "high": "tall", "on": plane_above(making, "floor", "wall"), "operation": "cut", "part": box})  # fmt: skip
    rim = plane_above(making, "rim", "tall")
    plate, lid = do(
        "AddStep", kind="body", name="lid", new_part={"name": "Lid"}, fields={"wide": "wide + 12 mm", "deep": "deep", "high": "lid", "on": rim},
    )  # fmt: skip
    do("AddStep", kind="body", name="plug", fields={
        "wide": "wide - 2*(wall + gap)", "deep": "deep - 2*(wall + gap)", "high": "plug", "on": plane_above(making, "foot of the plug", "tall - plug"), "operation": "add", "part": lid,
    })  # fmt: skip
    under = face_of(lid, f"{plate}/start", "underside of the lid", at=[32.0, 0.0, 36.0], direction=[0.0, 0.0, -1.0])
    steps = []
    for side, way in (("left", -1.0), ("right", 1.0)):
        wall = face_of(box, f"{outside}/side({side})", f"{side} of the box", at=[way * 29.0, 0.0, 18.0], direction=[way, 0.0, 0.0])  # fmt: skip
        (step,) = do(
            "AddStep", kind="lever", name=f"{side} catch", fields={"base": under, "wall": wall, "undercut": "undercut", "bar": "bar", "used": "often"},
        )  # fmt: skip
        steps.append(step)
    do(
        "SetChapter", step=steps[0], title="The catches",
        note="Their noses do not let go by pulling: both ends under the lid are squeezed. Thicker bars hold harder and crack sooner, and the card says which.",
    )  # fmt: skip
    do(
        "LayPart",
        part=lid,
        face=face_of(lid, f"{plate}/end", "top of the lid", at=[0.0, 0.0, 39.0], direction=[0.0, 0.0, 1.0]),
    )
    return making.project


def make_cable_box() -> Project:
    """The box in which the station's cables are joined: they leave through a gap in its wall, so the lid's groove runs along three sides only."""
    making = Making("Cable box")
    do = making.do
    for name, formula in (("wide", "72 mm"), ("deep", "46 mm"), ("tall", "24 mm"), ("wall", "4.2 mm"), ("lid", "7 mm"), ("cable", "11 mm")):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    outside, box = do("AddStep", kind="body", name="box", new_part={"name": "Box"}, fields={"wide": "wide", "deep": "deep", "high": "tall", "on": GROUND})  # fmt: skip
    floor = plane_above(making, "floor", "2.4 mm")
    (room,) = do("AddStep", kind="body", name="room", fields={"wide": "wide - 2*wall", "deep": "deep - 2*wall", "high": "tall", "on": floor, "operation": "cut", "part": box})  # fmt: skip
    do("AddStep", kind="body", name="gap for the cables", fields={
        "wide": "2*wall", "deep": "cable", "high": "tall", "right": "wide/2 - wall/2", "on": plane_above(making, "foot of the gap", "tall - 9 mm"), "operation": "cut", "part": box,
    })  # fmt: skip
    shut, lid = do("AddStep", kind="body", name="lid", new_part={"name": "Lid"}, fields={"wide": "wide", "deep": "deep", "high": "lid", "on": plane_above(making, "rim", "tall")})  # fmt: skip
    rim = face_of(box, f"{outside}/end", "rim of the box", at=[-33.9, 0.0, 24.0], direction=[0.0, 0.0, 1.0])
    sides = [
        {"name": f"{outside}/end|{room}/side({side})", "seen": {"kind": "line", "at": at, "direction": way, "size": size, "label": f"inner {side} edge of the rim"}}
        for side, at, way, size in (
            ("front", (0.0, -18.8, 24.0), (1.0, 0.0, 0.0), 63.6), ("left", (-31.8, 0.0, 24.0), (0.0, 1.0, 0.0), 37.6), ("back", (0.0, 18.8, 24.0), (1.0, 0.0, 0.0), 63.6),
        )
    ]  # fmt: skip
    (tongue,) = do("AddStep", kind="tongue", name="tongue of the box", fields={
        "base": rim, "along": {"rule": "edges", "part": box, "edges": sides, "chain": False}, "host": lid, "begins": "0.25*wall", "thickness": "0.5*wall",
    })  # fmt: skip
    do(
        "SetChapter", step=tongue, title="The tongue",
        note="Along three walls; the fourth is open where the cables leave. Its ends are sides too, so the lid is held each way although the chain is open.",
    )  # fmt: skip
    do(
        "LayPart",
        part=lid,
        face=face_of(lid, f"{shut}/end", "top of the lid", at=[0.0, 0.0, 31.0], direction=[0.0, 0.0, 1.0]),
    )
    return making.project
