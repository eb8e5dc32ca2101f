"""Places at distances along a path, and how a thing that goes along it stands there."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

from OCP.BRepTools import BRepTools_WireExplorer
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.gp import gp_Pnt, gp_Quaternion, gp_Trsf, gp_Vec
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopoDS import TopoDS_Wire

from .frame import Vec3, length, scale, sub, unit
from .kernel import BRepAdaptor_Curve, vec, vector
from .twin import Motion

__all__ = ["Route", "route_along"]

#: into so many pieces a path is divided where a turn is summed up over it; the error of a turn in space falls with their square
PIECES = 256


@dataclass(frozen=True)
class _Piece:
    """One edge of a path, and the length before it, mm."""

    curve: BRepAdaptor_Curve
    backward: bool
    before_mm: float
    length_mm: float

    def at(self, way_mm: float) -> tuple[Vec3, Vec3]:
        """The place and the direction so far along the path."""
        local = min(max(way_mm - self.before_mm, 0.0), self.length_mm)
        start = self.curve.LastParameter() if self.backward else self.curve.FirstParameter()
        u = GCPnts_AbscissaPoint(self.curve, -local if self.backward else local, start).Parameter()
        place, along = gp_Pnt(), gp_Vec()
        self.curve.D1(u, place, along)
        return vec(place), scale(unit(vec(along)), -1.0 if self.backward else 1.0)


@dataclass(frozen=True)
class Route:
    """A path with the place on it where something that goes along it begins, ``from_mm`` along its pieces; it goes along them or (``sign`` −1) against."""

    pieces: tuple[_Piece, ...]
    closed: bool
    from_mm: float
    sign: float

    @cached_property
    def length_mm(self) -> float:
        return self.pieces[-1].before_mm + self.pieces[-1].length_mm

    def at(self, way_mm: float) -> tuple[Vec3, Vec3]:
        """The place so far along the way, and the direction there."""
        along = self.from_mm + self.sign * way_mm
        along = along % self.length_mm if self.closed else min(max(along, 0.0), self.length_mm)
        piece = next((p for p in self.pieces if along <= p.before_mm + p.length_mm), self.pieces[-1])
        place, direction = piece.at(along)
        return place, scale(direction, self.sign)

    def motions(self, ways_mm: Sequence[float], turning: bool) -> list[Motion]:
        """What brings a thing from where the way begins to the places so far along it (rising, or falling below zero).

        ``turning``: it turns with the path and never about it (the frame of least rotation; in a plane that is the turn of the direction).
        """
        first, direction = self.at(0.0)
        turn, gone, out = gp_Quaternion(), 0.0, []
        for way in ways_mm:
            steps = max(1, math.ceil(abs(way - gone) / self.length_mm * PIECES)) if turning else 0
            for k in range(1, steps + 1):
                _, onward = self.at(gone + (way - gone) * k / steps)
                turn = gp_Quaternion(vector(direction), vector(onward)).Multiplied(turn)
                direction = onward
            gone = way
            place, _ = self.at(way)
            there, turned, back = gp_Trsf(), gp_Trsf(), gp_Trsf()
            there.SetTranslation(vector(place))
            turned.SetRotation(turn)
            back.SetTranslation(vector(scale(first, -1.0)))
            out.append(Motion(there.Multiplied(turned).Multiplied(back)))
        return out


def route_along(path: TopoDS_Wire, near: Vec3) -> Route:
    """The route along a path from its end that is nearer to a place; along a closed one from its nearest place."""
    pieces, before = [], 0.0
    walk = BRepTools_WireExplorer(path)
    while walk.More():
        curve = BRepAdaptor_Curve(walk.Current())
        size = float(GCPnts_AbscissaPoint.Length_s(curve))
        pieces.append(_Piece(curve, walk.Current().Orientation() == TopAbs_REVERSED, before, size))
        before += size
        walk.Next()
    whole = Route(tuple(pieces), bool(path.Closed()), 0.0, 1.0)

    def away(way_mm: float) -> float:
        return length(sub(whole.at(way_mm)[0], near))

    if not whole.closed:
        back = away(before) < away(0.0) - 1e-9
        return Route(whole.pieces, False, before if back else 0.0, -1.0 if back else 1.0)
    return Route(whole.pieces, True, _nearest(away, before), 1.0)


def _nearest(away: Callable[[float], float], whole_mm: float) -> float:
    """Where a distance along a closed path is least: by samples, then by halving round the best."""
    step = whole_mm / PIECES
    best = min((k * step for k in range(PIECES)), key=away)
    while step > 1e-7:
        best = min((best - step, best, best + step), key=away)
        step /= 2
    return best
