"""A worked example of hooks that drop in: the feeder's water cup, which is lifted off to be filled."""

from __future__ import annotations

from ..core.document import Project
from .builds import GROUND
from .fitted import UPRIGHT
from .joined import face_of, plane_above
from .making import Making

__all__ = ["make_water_cup"]


def make_water_cup() -> Project:
    """A water cup that hangs on the feeder's wall by two hooks: lifted it comes off, and by itself it does not."""
    making = Making("Water cup")
    do = making.do
    for name, formula in (
        ("wall", "3.2 mm"), ("wide", "62 mm"), ("deep", "36 mm"), ("tall", "34 mm"), ("cup_wall", "2 mm"), ("apart", "36 mm"), ("drop", "6 mm"),
    ):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    board, panel = do(
        "AddStep", kind="body", name="wall of the feeder", new_part={"name": "Feeder's wall"},
        fields={"wide": "wide + 28 mm", "deep": "wall", "high": "tall + 26 mm", "on": GROUND, "up": "wall/2"},
    )  # fmt: skip
    low = plane_above(making, "foot of the cup", "12 mm")
    outside, cup = do(
        "AddStep", kind="body", name="cup", new_part={"name": "Cup"},
        fields={"wide": "wide", "deep": "deep", "high": "tall", "on": low, "up": "-deep/2"},
    )  # fmt: skip
    do("AddStep", kind="fillet", name="corners", fields={
        "edges": {"rule": "edges", "part": cup, "edges": [
            {"name": f"{outside}/side(front)|{outside}/side({side})", "seen": {"kind": "line", "label": f"{side} front corner of the cup"}} for side in ("left", "right")
        ]}, "radius": "6 mm",
    })  # fmt: skip
    floor = plane_above(making, "floor of the cup", "12 mm + cup_wall")
    do("AddStep", kind="body", name="water", fields={
        "wide": "wide - 2*cup_wall", "deep": "deep - 2*cup_wall", "high": "tall", "on": floor, "up": "-deep/2", "operation": "cut", "part": cup,
    })  # fmt: skip
    back = face_of(cup, f"{outside}/side(back)", "back of the cup", at=[0.0, 0.0, 29.0], direction=[0.0, 1.0, 0.0])
    front = face_of(panel, f"{board}/side(front)", "front of the feeder's wall", at=[0.0, 0.0, 30.0], direction=[0.0, -1.0, 0.0])  # fmt: skip
    hooks = []
    for sign, name in (("-", "left hook"), ("", "right hook")):
        (step,) = do(
            "AddStep", kind="drop_hook", name=name,
            fields={"base": back, "wall": front, "way": UPRIGHT, "right": f"{sign}apart/2", "up": "9 mm", "drop": "drop", "wide": "8 mm", "fit": "loose"},
        )  # fmt: skip
        hooks.append(step)
    do(
        "SetChapter", step=hooks[0], title="The hooks",
        note="Loose, for a wet hand puts it back. Printed standing, its layers lie along the necks, which carry the water; the lips are pulled apart between layers, but nobody pulls at them.",
    )  # fmt: skip
    return making.project
