"""A worked example of a catch that is pressed open: the box for the weather station's battery."""

from __future__ import annotations

from ..core.document import Project
from .builds import GROUND
from .joined import face_of, plane_above
from .making import Making

__all__ = ["make_battery_box"]


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
