"""Random halves of joints with later changes, built straight with the kernel, and their gaps worked out by hand.

Their least and widest gap follow from a few lines of plane geometry; where the halves do not overlap, the least one is also asked of the
kernel's exact distance of both solids cut off at the zone's heights. Neither shares anything with how gaps are read.
"""

from __future__ import annotations

import math
import random
from dataclasses import dataclass
from typing import Any

from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakePolygon, BRepBuilderAPI_Transform
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepFilletAPI import BRepFilletAPI_MakeFillet
from OCP.BRepOffsetAPI import BRepOffsetAPI_ThruSections
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeCone, BRepPrimAPI_MakeCylinder
from OCP.gp import gp_Ax1, gp_Ax2, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.TopAbs import TopAbs_EDGE, TopAbs_FACE
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS

from dovejoint.core.solid import Frame
from dovejoint.core.solid.kernel import subshapes
from dovejoint.core.solid.named import NamedSolid

TALL, LOW, HIGH = 10.0, -8.0, -0.5


@dataclass(frozen=True, eq=False)
class Case:
    """Two halves, the zone in which they meet, and the gaps that hand computation gives."""

    what: str
    outer: NamedSolid
    inner: NamedSolid
    frame: Frame
    least_mm: float
    most_mm: float
    exact_mm: float | None


def _box(x0: float, y0: float, z0: float, x1: float, y1: float, z1: float) -> Any:
    return BRepPrimAPI_MakeBox(gp_Pnt(x0, y0, z0), gp_Pnt(x1, y1, z1)).Shape()


def _bar(x: float, y: float, r: float, z0: float, z1: float) -> Any:
    return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(x, y, z0), gp_Dir(0, 0, 1)), r, z1 - z0).Shape()


def _cut(a: Any, b: Any) -> Any:
    return BRepAlgoAPI_Cut(a, b).Shape()


def _fuse(a: Any, b: Any) -> Any:
    return BRepAlgoAPI_Fuse(a, b).Shape()


def _rounded(shape: Any, radius: float) -> Any:
    """A box with its four upright edges rounded."""
    maker = BRepFilletAPI_MakeFillet(shape)
    seen = set()
    walk = TopExp_Explorer(shape, TopAbs_EDGE)
    while walk.More():
        edge = TopoDS.Edge(walk.Current())
        curve = BRepAdaptor_Curve(edge)
        d = curve.Line().Direction()
        at = curve.Value(curve.FirstParameter())
        key = (round(at.X(), 3), round(at.Y(), 3))
        if abs(d.Z()) > 0.9 and key not in seen:
            seen.add(key)
            maker.Add(radius, edge)
        walk.Next()
    return maker.Shape()


def _named(shape: Any) -> NamedSolid:
    return NamedSolid(shape, [(f"s1/face({k})",) for k in range(len(subshapes(shape, TopAbs_FACE)))])


def make(seed: int) -> Case:
    """One random joint, turned and shifted anyhow in space."""
    dice = random.Random(f"joint {seed}")
    kind = dice.choice(["lip", "lip", "rounded lip", "drafted lip", "shaft", "shaft", "tapered shaft"])
    what, outer, inner, least, most = _shaft(dice, kind) if "shaft" in kind else _lip(dice, kind)
    exact = None
    if least > 0:
        zone = _box(-200, -200, LOW, 200, 200, HIGH)
        both = [BRepAlgoAPI_Common(s, zone).Shape() for s in (outer, inner)]
        exact = float(BRepExtrema_DistShapeShape(*both).Value())
    turn, shift = gp_Trsf(), gp_Trsf()
    axis = gp_Dir(dice.gauss(0, 1), dice.gauss(0, 1), dice.gauss(0, 1))
    turn.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), axis), dice.uniform(0, 6))
    shift.SetTranslation(gp_Vec(dice.uniform(-50, 50), dice.uniform(-50, 50), dice.uniform(-50, 50)))
    move = shift.Multiplied(turn)

    def at(x: float, y: float, z: float, way: bool = False) -> tuple[float, float, float]:
        p = gp_Dir(x, y, z).Transformed(move) if way else gp_Pnt(x, y, z).Transformed(move)
        return (p.X(), p.Y(), p.Z())

    frame = Frame(at(0, 0, 0), at(1, 0, 0, True), at(0, 1, 0, True))
    solids = [_named(BRepBuilderAPI_Transform(s, move, True).Shape()) for s in (outer, inner)]
    return Case(what, solids[0], solids[1], frame, least, most, exact)


def _lip(dice: random.Random, kind: str) -> tuple[str, Any, Any, float, float]:
    """A hollow or massive lip in a pocket, off its middle, with a change or two on its right side or in the wall there."""
    w, d, g = dice.uniform(10, 60), dice.uniform(10, 50), dice.uniform(0.1, 0.6)
    limit = 0.5 * g
    ex, ey = dice.uniform(-limit, limit), dice.uniform(-limit, limit)
    if dice.random() < 0.3:
        ex = ey = 0.0
    outer = _cut(_box(-w - 5, -d - 5, -TALL, w + 5, d + 5, 0), (pocket := _box(-w, -d, -TALL, w, d, 1)))
    x0, x1, y0, y1 = -w + g + ex, w - g + ex, -d + g + ey, d - g + ey
    gaps = [g + ex, g - ex, g + ey, g - ey]
    words = [kind]
    if kind == "rounded lip":
        r = dice.uniform(2.0, 0.4 * min(w, d))
        outer = _cut(_box(-w - 5, -d - 5, -TALL, w + 5, d + 5, 0), _rounded(pocket, r))
        inner = _rounded(_box(x0, y0, -TALL + 1, x1, y1, 3), r - g)
        e = math.hypot(ex, ey)
        gaps = [*gaps, g - e, g + e]
    elif kind == "drafted lip":
        # thinner downwards by a lean on all sides, full at the zone's upper end
        lean = math.tan(math.radians(dice.uniform(0.5, 3.0)))
        tall = 3 + TALL - 1
        less = lean * tall
        inner = _frustum(x0, y0, x1, y1, 3, -TALL + 1, less)
        top, bottom = lean * (3 - HIGH), lean * (3 - LOW)
        gaps = [*(h + top for h in gaps), *(h + bottom for h in gaps)]
    else:
        inner = _box(x0, y0, -TALL + 1, x1, y1, 3)
    if dice.random() < 0.5 and min(w, d) > 6:
        inner = _cut(inner, _box(x0 + 3, y0 + 3, -TALL, x1 - 3, y1 - 3, 4))
        words.append("hollow")
    least, most = min(gaps), max(gaps)
    if kind != "drafted lip":
        right = g - ex
        room = 0.5 * d
        y = dice.uniform(-0.5, 0.5) * room
        change = dice.choice(["none", "rib", "rib", "notch", "cut side", "groove", "pin"])
        if change == "rib":
            proud = dice.uniform(0.03, right + 0.3)
            wide = dice.uniform(0.6, 3.0)
            inner = _fuse(
                inner, _box(x1 - 1, y - wide / 2, -TALL + 1, x1 + proud, y + wide / 2, dice.choice([3, -2.0, -5.0]))
            )
            least = min(least, right - proud)
        elif change == "pin":
            proud, wide = dice.uniform(0.03, right + 0.2), dice.uniform(0.5, 1.5)
            axis = gp_Ax2(gp_Pnt(x1 - 1, y, -4), gp_Dir(1, 0, 0))
            inner = _fuse(inner, BRepPrimAPI_MakeCylinder(axis, wide, 1 + proud).Shape())
            least = min(least, right - proud)
        elif change == "notch":
            deep, wide = dice.uniform(0.1, 1.0), dice.uniform(2.0, 5.0)
            inner = _cut(inner, _box(x1 - deep, y - wide / 2, -TALL, x1 + 1, y + wide / 2, 4))
            # a notch as narrow as it is far away is seen aslant from its rim, so none here is
            most = max(most, right + deep)
        elif change == "cut side" and kind == "lip":
            deep = dice.uniform(0.1, 0.6)
            inner = _cut(inner, _box(x1 - deep, -d - 2, -TALL, x1 + 1, d + 2, 4))
            left, front, back = gaps[0], gaps[2], gaps[3]
            least, most = min(left, front, back, right + deep), max(left, front, back, right + deep)
        elif change == "groove":
            deep, wide = dice.uniform(0.1, 0.8), dice.uniform(2.5, 6.0)
            outer = _cut(outer, _box(w - 1, y - wide / 2, -TALL - 1, w + deep, y + wide / 2, 1))
            most = max(most, right + deep)
        words.append(change)
    return ", ".join(words), outer, inner, least, most


def _frustum(x0: float, y0: float, x1: float, y1: float, top: float, bottom: float, less: float) -> Any:
    """A block whose four sides lean in downwards by ``less`` over its height."""
    loft = BRepOffsetAPI_ThruSections(True, True)
    for z, k in ((bottom, less), (top, 0.0)):
        wire = BRepBuilderAPI_MakePolygon()
        for x, y in ((x0 + k, y0 + k), (x1 - k, y0 + k), (x1 - k, y1 - k), (x0 + k, y1 - k)):
            wire.Add(gp_Pnt(x, y, z))
        wire.Close()
        loft.AddWire(wire.Wire())
    loft.Build()
    return loft.Shape()


def _shaft(dice: random.Random, kind: str) -> tuple[str, Any, Any, float, float]:
    """A shaft in a bore, off its axis, tapered or with a flat, a hole across or a rib along it."""
    r, g = dice.uniform(2.5, 20), dice.uniform(0.05, 0.5)
    e, way = dice.uniform(0, 0.6 * g), dice.uniform(0, 2 * math.pi)
    x, y = e * math.cos(way), e * math.sin(way)
    outer = _cut(_box(-r - 6, -r - 6, -TALL, r + 6, r + 6, 0), _bar(0, 0, r + g, -TALL - 1, 1))
    words = [kind]
    if kind == "tapered shaft":
        lean = math.tan(math.radians(dice.uniform(0.3, 2.5)))
        tall = TALL - 1 + 3
        axis = gp_Ax2(gp_Pnt(x, y, -TALL + 1), gp_Dir(0, 0, 1))
        inner = BRepPrimAPI_MakeCone(axis, r - lean * tall, r, tall).Shape()
        # from the cone straight out to the bore: level
        return kind, outer, inner, g - e + lean * (3 - HIGH), g + e + lean * (3 - LOW)
    inner = _bar(x, y, r, -TALL + 1, 3)
    least, most = g - e, g + e
    change = dice.choice(["none", "flat", "rib", "hole across"])
    if change == "flat":
        # opposite to where it stands nearest, so that the flat is the widest place
        deep = min(dice.uniform(0.05, 0.3) * r, 2.0)
        t = gp_Trsf()
        t.SetRotation(gp_Ax1(gp_Pnt(x, y, 0), gp_Dir(0, 0, 1)), way + math.pi)
        tool = _box(x + r - deep, y - 2 * r, -TALL - 1, x + r + 5, y + 2 * r, 4)
        inner = _cut(inner, BRepBuilderAPI_Transform(tool, t, True).Shape())
        most = max(g + e + deep, most)
    elif change == "rib":
        # where it stands nearest
        proud, wide = dice.uniform(0.03, g + 0.2), dice.uniform(0.5, min(2.0, r))
        t = gp_Trsf()
        t.SetRotation(gp_Ax1(gp_Pnt(x, y, 0), gp_Dir(0, 0, 1)), way)
        tool = _box(x + r - 1, y - wide / 2, -TALL + 1, x + r + proud, y + wide / 2, 3)
        inner = _fuse(inner, BRepBuilderAPI_Transform(tool, t, True).Shape())
        # its two front edges come nearest to a round bore
        least = r + g - math.hypot(r + proud + e, wide / 2)
        if least < 0:
            # how deep it stands in: from the front edges as well
            words.append("overlapping")
    elif change == "hole across":
        axis = gp_Ax2(gp_Pnt(x - 2 * r, y, -4.5), gp_Dir(1, 0, 0))
        inner = _cut(inner, BRepPrimAPI_MakeCylinder(axis, 0.25 * r, 4 * r).Shape())
    words.append(change)
    return ", ".join(words), outer, inner, least, most
