"""Parts of a balcony weather mast: five outlines that are drawn, tied and driven by values."""

from __future__ import annotations

import math

from ..core.document import Project
from .making import Drawing, Making

__all__ = ["make_outlines"]


def make_outlines() -> Project:
    """The mast's bracket, jar cap, vane ring, hatch hook and vent plate, as a person would draw them."""
    mast = Making("Outlines of the mast")
    for name, formula in (
        ("wall", "2.4 mm"), ("arm", "64 mm"), ("rise", "46 mm"), ("cap", "54 mm"), ("bearing", "16 mm"), ("vent", "3.2 mm"),
        ("bar", "2 mm"),
    ):  # fmt: skip
        mast.do("AddValue", name=name, formula=formula)
    _bracket(mast)
    _cap(mast)
    _ring(mast)
    _hook(mast)
    _vent(mast)
    return mast.project


def _bracket(mast: Making) -> None:
    """An L with one radius for its inner corner and its ends, and two screw slots."""
    board = Drawing(mast, "bracket outline", plane={"rule": "base", "plane": "ground"}, right="-95 mm", up="15 mm")
    foot, tip, under, inner, top, back = board.path((0, 0), (60, 0), (60, 14), (14, 14), (14, 44), (0, 44), closed=True)
    board.do("TieSketch", kind="coincident", of=[board.points(foot)[0], "origin"])
    board.do("SizeSketch", kind="length", of=[foot], formula="arm")
    board.do("SizeSketch", kind="length", of=[back], formula="rise")
    board.do("SizeSketch", kind="length", of=[tip], formula="6 * wall")
    board.do("TieSketch", kind="equal", of=[tip, top])
    corner = board.points(under)[1]
    board.do("RoundSketch", corners=[corner], radius="3 * wall")
    ends = [board.points(foot)[1], board.points(tip)[1], board.points(inner)[1], board.points(top)[1]]
    board.do("CutCornersSketch", corners=ends, distance="wall")
    for first, second, across, along in (
        ((30, 7), (46, 7), "arm / 2", "arm / 4"),
        ((7, 26), (7, 34), "rise / 2", "rise / 4"),
    ):
        slot = board.do("DrawSlot", start={"at": first}, end={"at": second}, radius=2.2, width="4.4 mm", length=along)
        middle = next(c for c in board.sketch.curves if c.id in slot and c.construction)
        level = first[1] == second[1]
        board.do("TieSketch", kind="horizontal" if level else "vertical", of=[middle.id])
        near, far = ("distance_y", "distance_x") if level else ("distance_x", "distance_y")
        board.do("SizeSketch", kind=near, of=["origin", middle.points[0]], formula="3 * wall")
        board.do("SizeSketch", kind=far, of=["origin", middle.points[0]], formula=across)
    board.extrude("Wall bracket", "24 mm")


def _cap(mast: Making) -> None:
    """One scallop of a grip, repeated round the middle until it closes."""
    board = Drawing(mast, "cap grip", plane={"rule": "base", "plane": "ground"}, right="5 mm", up="45 mm")
    n, r = 24, 26.0
    a, b, c = ((r * math.cos(t), r * math.sin(t)) for t in (0.0, math.pi / n, 2 * math.pi / n))
    # out over a rib, and back in over a groove
    rib = (1.05 * r * math.cos(math.pi / n / 2), 1.05 * r * math.sin(math.pi / n / 2))
    groove = (0.97 * r * math.cos(1.5 * math.pi / n), 0.97 * r * math.sin(1.5 * math.pi / n))
    made = board.do("DrawArc", start={"at": a}, end={"at": b}, through=rib)
    first = next(m for m in made if m.startswith("a"))
    joint = board.points(first)[2]
    made = board.do("DrawArc", start={"at": b, "on": joint}, end={"at": c}, through=groove)
    second = next(m for m in made if m.startswith("a"))
    board.do("RingSketch", ids=[first, second], centre="origin", count=n)
    # ribs and grooves run on in each other
    board.do("TieSketch", kind="tangent", of=[first, second])
    start = board.points(first)[1]
    board.do("TieSketch", kind="horizontal", of=["origin", start])
    board.do("SizeSketch", kind="distance", of=["origin", start], formula="cap / 2")
    board.do("SizeSketch", kind="distance", of=["origin", joint], formula="cap / 2")
    board.do("SizeSketch", kind="radius", of=[first], formula="wall")
    board.do("TieSketch", kind="equal", of=[first, second])
    board.do("DrawCircle", centre=[0, 0], on="origin", radius=20, diameter="cap - 4 * wall")
    board.extrude("Jar cap", "14 mm")


def _ring(mast: Making) -> None:
    """A ring that the vane clicks round in: one notch of two lines, repeated round a bearing's seat."""
    board = Drawing(mast, "detent ring", plane={"rule": "base", "plane": "ground"}, right="65 mm", up="45 mm")
    n, r, deep = 16, 15.0, 1.6
    step = 2 * math.pi / n

    def at(radius: float, turn: float) -> tuple[float, float]:
        return radius * math.cos(turn), radius * math.sin(turn)

    # a land between two notches, then down and up again
    made = board.do(
        "DrawArcAbout", centre={"at": (0, 0), "on": "origin"}, start={"at": at(r, 0)}, towards=at(r, 0.4 * step)
    )
    land = next(m for m in made if m.startswith("a"))
    end = board.points(land)[2]
    down, up = board.path(at(r, 0.4 * step), at(r - deep, 0.7 * step), at(r, step), start=end)
    board.do("TieSketch", kind="equal", of=[down, up])
    board.do("RingSketch", ids=[land, down, up], centre="origin", count=n)
    start, bottom = board.points(land)[1], board.points(down)[1]
    board.do("TieSketch", kind="horizontal", of=["origin", start])
    board.do("SizeSketch", kind="radius", of=[land], formula="bearing / 2 + 3 * wall")
    board.do("SizeSketch", kind="distance", of=["origin", bottom], formula="bearing / 2 + 3 * wall - 1.6 mm")
    board.do("SizeSketch", kind="length", of=[down], formula="2.4 mm")
    board.do("DrawCircle", centre=[0, 0], on="origin", radius=8, diameter="bearing")
    board.extrude("Vane ring", "6 mm")


def _hook(mast: Making) -> None:
    """Half a hook whose flank is a spline, mirrored."""
    board = Drawing(mast, "hatch hook", plane={"rule": "base", "plane": "ground"}, right="-40 mm", up="-60 mm")
    (axis,) = board.path((0, -4), (0, 38), construction=True)
    board.do("TieSketch", kind="point_on", of=["origin", axis])
    (foot,) = board.path((0, 0), (9, 0))
    board.do("TieSketch", kind="coincident", of=[board.points(foot)[0], "origin"])
    corner = board.points(foot)[1]
    made = board.do(
        "DrawSpline", spots=[{"at": (9, 0), "on": corner}, {"at": (5, 14)}, {"at": (8.5, 27)}, {"at": (0, 34)}]
    )
    flank = next(m for m in made if m.startswith("s"))
    nodes = board.points(flank)[::3]
    tip, tip_handle = board.points(flank)[-1], board.points(flank)[-2]
    board.do("TieSketch", kind="point_on", of=[tip, axis])
    # level over the tip, so that both halves run on in each other
    board.do("TieSketch", kind="horizontal", of=[tip, tip_handle])
    board.do("MirrorSketch", ids=[foot, flank], axis=axis)
    board.do("SizeSketch", kind="length", of=[foot], formula="4 * wall")
    board.do("SizeSketch", kind="distance", of=[nodes[1], axis], formula="2 * wall")
    board.do("SizeSketch", kind="distance", of=[nodes[2], axis], formula="3.5 * wall")
    board.do("SizeSketch", kind="distance_y", of=["origin", tip], formula="14 * wall")
    board.extrude("Hatch hook", "8 mm")


def _vent(mast: Making) -> None:
    """Forty holes in five rows of eight, as far apart as their size and the bars between them say; a word in a corner."""
    board = Drawing(mast, "vent plate", plane={"rule": "base", "plane": "ground"}, right="40 mm", up="-45 mm")
    board.do(
        "DrawRectangle",
        first=[0, 0],
        corner=[27, 18],
        on="origin",
        width="8 * vent + 7 * bar + 8 * wall",
        height="5 * vent + 4 * bar + 9 * wall",
    )
    made = board.do("DrawCircle", centre=[-18, -8], radius=1.6, diameter="vent")
    hole = next(m for m in made if m.startswith("c"))
    centre = board.points(hole)[0]
    left, low = "3.5 * (vent + bar)", "2 * (vent + bar) + 1.5 * wall"
    board.do("SizeSketch", kind="distance_x", of=[centre, "origin"], formula=left)
    board.do("SizeSketch", kind="distance_y", of=[centre, "origin"], formula=low)
    board.do("RepeatSketch", ids=[hole], across=8, deep=5, pitch_x="vent + bar", pitch_y="vent + bar")
    made = board.do("DrawText", foot={"at": (-18, 12)}, text="LIFT", size=5, height="2 * wall")
    foot = board.points(next(m for m in made if m.startswith("t")))[0]
    board.do("SizeSketch", kind="distance_x", of=[foot, "origin"], formula="3.5 * (vent + bar) + vent / 2")
    board.do("SizeSketch", kind="distance_y", of=["origin", foot], formula="2.5 * vent + 2 * bar + wall / 2")
    board.extrude("Vent plate", "wall")
