"""A window bird feeder: a hopper with a plug-in floor."""

from __future__ import annotations

from ..core.document import Project
from .making import Making

__all__ = ["make_feeder"]


def make_feeder() -> Project:
    """The feeder as a person would build it, one command after another."""
    making = Making("Window bird feeder")
    do = making.do
    do("AddValue", name="wall", formula="1.7 mm")
    do("AddValue", name="inside", formula="83 mm")
    do("AddValue", name="deep", formula="inside * 2/3")
    do("AddValue", name="tall", formula="74 mm")
    (outline,) = do("AddStep", kind="sketch", fields={}, name="hopper outline")
    do(
        "DrawRectangle",
        step=outline,
        first=[0, 0],
        corner=[43, 30],
        on="origin",
        width="inside + 2*wall",
        height="deep + 2*wall",
    )
    body, hopper = do(
        "AddStep",
        kind="extrude",
        new_part={"name": "Hopper"},
        fields={"profile": {"rule": "regions", "step": outline}, "distance": "tall"},
    )
    do(
        "AddStep",
        kind="fillet",
        fields={"edges": {"rule": "edges_along", "part": hopper, "direction": "up"}, "radius": "9 mm"},
    )
    foot = {"kind": "plane", "direction": [0, 0, -1], "label": "underside"}
    (hollow,) = do(
        "AddStep",
        kind="shell",
        fields={
            "open": {"rule": "faces", "part": hopper, "faces": [{"name": f"{body}/start", "seen": foot}]},
            "wall": "wall",
        },
    )
    (mouth,) = do("AddStep", kind="sketch", name="seed mouth", fields={"plane": {"rule": "base", "plane": "front"}})
    do("DrawRectangle", step=mouth, first=[0, 20], corner=[14, 26], width="34 mm", height="11 mm")
    do(
        "AddStep",
        kind="extrude",
        fields={
            "profile": {"rule": "regions", "step": mouth},
            "direction": "up",
            "extent": "through",
            "operation": "cut",
            "part": hopper,
        },
    )
    rim = {"kind": "plane", "at": [0, 0, 0], "direction": [0, 0, -1], "label": "lower rim"}
    do(
        "AddStep",
        kind="plug_in_lip",
        name="Floor in hopper",
        new_part={"name": "Floor"},
        fields={
            # the rim as one sees it when one picks it, so that gauges know without the solid that it looks down
            "host": {"rule": "flat", "part": hopper, "face": {"name": f"{hollow}/rim({body}/start)", "seen": rim}},
            "plate": "2.4 mm",
            "height": "7 mm",
            "thickness": "wall",
            "lead": "0.6 mm",
        },
    )
    return making.project
