"""Thin walls: built pieces of which the thinnest place is known by hand; what must be found, and what must not."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import pytest
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakePolygon
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeCylinder, BRepPrimAPI_MakePrism, BRepPrimAPI_MakeSphere
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt, gp_Vec

from dovejoint.core.solid import thinnest_wall
from dovejoint.core.solid.kernel import FACE, subshapes
from dovejoint.core.solid.named import NamedSolid

#: two lines of a 0.4 nozzle, and two layers of 0.2
LIMIT, LYING = 0.9, 0.4
UP = (0.0, 0.0, 1.0)


def box(x: float, y: float, z: float, at: tuple[float, float, float] = (0, 0, 0)) -> Any:
    return BRepPrimAPI_MakeBox(gp_Pnt(*at), x, y, z).Shape()


def bar(r: float, long: float, at: tuple[float, float, float], way: tuple[float, float, float] = (0, 0, 1)) -> Any:
    return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(*at), gp_Dir(*way)), r, long).Shape()


def less(a: Any, *b: Any) -> Any:
    for tool in b:
        a = BRepAlgoAPI_Cut(a, tool).Shape()
    return a


def plus(a: Any, b: Any) -> Any:
    return BRepAlgoAPI_Fuse(a, b).Shape()


def prism(points: list[tuple[float, float]], tall: float) -> Any:
    polygon = BRepBuilderAPI_MakePolygon()
    for x, y in points:
        polygon.Add(gp_Pnt(x, y, 0))
    polygon.Close()
    return BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(polygon.Wire(), True).Face(), gp_Vec(0, 0, tall)).Shape()


def shell(wall: float) -> Any:
    return less(box(30, 20, 20), box(30 - 2 * wall, 20 - 2 * wall, 20, (wall, wall, 2)))


#: what it is, how it is built, and its thinnest wall, mm (None: nothing that is thinner than the limit)
CASES: list[tuple[str, Callable[[], Any], float | None]] = [
    ("wall of two lines", lambda: shell(0.9), None),
    ("wall of 0.85", lambda: shell(0.85), 0.85),
    ("wall of 0.4", lambda: shell(0.4), 0.4),
    ("massive block", lambda: box(20, 20, 20), None),
    ("blade upright", lambda: box(20, 0.6, 10), 0.6),
    ("rib of 0.7 on a block", lambda: plus(box(20, 20, 5), box(0.7, 20, 5, (10, 0, 5))), 0.7),
    ("rib of 1.2 on a block", lambda: plus(box(20, 20, 5), box(1.2, 20, 5, (10, 0, 5))), None),
    ("web beside a hole across", lambda: less(box(20, 10, 10), bar(3, 30, (-5, 3.5, 5), (1, 0, 0))), 0.5),
    ("web beside a hole across, wide", lambda: less(box(20, 10, 10), bar(3, 30, (-5, 5, 5), (1, 0, 0))), None),
    ("web between two holes", lambda: less(box(20, 20, 8), bar(3, 10, (6.6, 10, -1)), bar(3, 10, (13.3, 10, -1))), 0.7),
    ("level web of nearly three layers between holes that cross", lambda: less(box(20, 20, 12), bar(2, 30, (-5, 10, 3), (1, 0, 0)), bar(2, 30, (10, -5, 7.55), (0, 1, 0))), None),
    ("tube", lambda: less(bar(10, 8, (0, 0, 0)), bar(9.2, 10, (0, 0, -1))), 0.8),
    ("tube off its middle", lambda: less(bar(10, 8, (0, 0, 0)), bar(8.8, 10, (0.7, 0, -1))), 0.5),
    ("thick tube", lambda: less(bar(10, 8, (0, 0, 0)), bar(8.8, 10, (0, 0, -1))), None),
    ("hollow ball", lambda: less(BRepPrimAPI_MakeSphere(gp_Pnt(0, 0, 0), 10).Shape(), BRepPrimAPI_MakeSphere(gp_Pnt(0, 0, 0.3), 9).Shape()), 0.7),
    ("plate of three layers", lambda: box(30, 20, 0.6), None),
    ("plate of one layer and a half", lambda: box(30, 20, 0.3), 0.3),
    ("knife edge of 15 degrees", lambda: prism([(0, 0), (20, 0), (20, 20 * math.tan(math.radians(15)))], 10), 0.0),
    ("wedge of 40 degrees", lambda: prism([(0, 0), (20, 0), (20, 20 * math.tan(math.radians(40)))], 10), None),
    ("wall leaning by 20 degrees", lambda: prism([(0, 0), (0.7, 0), (0.7 + 3.64, 10), (3.64, 10)], 10), 0.7 * math.cos(math.radians(20))),
    ("step down to 0.5", lambda: less(box(20, 3, 10), box(10, 3, 6, (5, 0.5, 4))), 0.5),
    ("pin of 0.8 across", lambda: plus(box(10, 10, 3), bar(0.4, 6, (5, 5, 3))), 0.8),
    ("pin of 1.0 across", lambda: plus(box(10, 10, 3), bar(0.5, 6, (5, 5, 3))), None),
    ("pocket floor of 0.5", lambda: less(box(20, 20, 6), box(10, 10, 6, (5, 5, 0.5))), None),
    ("groove that leaves 0.4 of a wall", lambda: less(box(20, 2, 10), box(2, 1.6, 12, (9, -0.001, -1))), 0.4),
]  # fmt: skip


@pytest.mark.parametrize(("what", "build", "thin"), CASES, ids=[c[0] for c in CASES])
def test_thinnest_walls(what: str, build: Callable[[], Any], thin: float | None) -> None:
    shape = build()
    solid = NamedSolid(shape, [(f"s1/f({k})",) for k in range(len(subshapes(shape, FACE)))])
    found = thinnest_wall(solid, LIMIT, UP, LYING)
    if thin is None:
        assert found is None or found.least_mm > LIMIT - 1e-6, what
    else:
        assert found is not None, what
        assert found.least_mm == pytest.approx(thin, abs=max(0.02, 0.05 * thin)), what
        assert math.dist(*found.at) == pytest.approx(found.least_mm, abs=1e-6)
