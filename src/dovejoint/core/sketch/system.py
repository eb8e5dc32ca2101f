"""A drawing as equations: what is plainly equal is eliminated, the rest are a few vectorised kernels with analytic Jacobians.

Unknowns are point coordinates and radii. An offset union-find over ``z_i = z_j + c`` absorbs coincident, horizontal,
vertical, signed distances, fixed places, radii and equal radii; what is left is

    distance   |q − p| − (c + s₁·r₁ + s₂·r₂)        side    signed distance of points from a line, less c + s·r
    direction  (∠(cd) − ∠(ab) − target) · a length   along   (q − p) along a line's direction, less c
    lengths    |q − p| − |s − r|                      linear  sums of unknowns
    special    what ellipses, splines and lengths along curves need (special.py)

A point on an ellipse or a spline, and a curve that touches a spline along its run, bring a hidden unknown, how far along that is;
it follows the radii.

Every residual is a length in mm, so that one tolerance fits all. Which of two solutions is meant (side, inside or outside, 0 or
180 degrees) is taken from where the drawing stands and kept.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from ..errors import StepError
from .drawing import Drawing, Item, Round
from .special import (
    Special,
    bezier_at,
    bezier_touches_line,
    bezier_touches_round,
    derivatives,
    equal_bend,
    nearest_on_bezier,
    nearest_on_ellipse,
    on_bezier,
    on_ellipse,
    total_length,
    touches_ellipse,
)  # fmt: skip

__all__ = ["Matrix", "System", "Vector"]

Vector = NDArray[np.float64]
Matrix = NDArray[np.float64]
_Ints = NDArray[np.int64]
#: columns of a kernel: slots and figures, an array each
_Columns = list[NDArray[Any]]


class _Union:
    """``z_i = z_root + offset``; the last slot stands for the constant 0."""

    def __init__(self, count: int) -> None:
        self.parent = list(range(count + 1))
        self.offset = [0.0] * (count + 1)
        self.const = count

    def find(self, i: int) -> tuple[int, float]:
        path, total = [], 0.0
        while self.parent[i] != i:
            path.append(i)
            i = self.parent[i]
        for k in reversed(path):
            total += self.offset[k]
            self.parent[k], self.offset[k] = i, total
        return i, total

    def tie(self, i: int, j: int, c: float) -> float | None:
        """``z_i = z_j + c``. Returns what is left of it when both hung together already, else nothing."""
        (a, u), (b, v) = self.find(i), self.find(j)
        if a == b:
            return u - v - c
        # z_a + u = z_b + v + c; the constant stays a root
        if a == self.find(self.const)[0]:
            self.parent[b], self.offset[b] = a, u - v - c
        else:
            self.parent[a], self.offset[a] = b, v + c - u
        return None


class System:
    """Equations of a drawing at given places.

    Parameters
    ----------
    only : ids of the items that count (all without).
    start : places to start from, instead of the drawing's.
    sides : places to take sides and senses from, instead of those to start from.
    reduce : whether plain equalities are eliminated; diagnosis looks at all equations as they are.
    """

    def __init__(
        self,
        drawing: Drawing,
        *,
        only: set[str] | None = None,
        start: Vector | None = None,
        sides: Vector | None = None,
        reduce: bool = True,
    ) -> None:
        self.drawing = drawing
        self.slot = {p: 2 * i for i, p in enumerate(drawing.points)}
        first = 2 * len(drawing.points)
        self.radius = {r: first + i for i, r in enumerate(drawing.rounds)}
        #: where each point on an ellipse or a spline is told how far along it lies
        self.hidden = {
            i.id: first + len(drawing.rounds) + k
            for k, i in enumerate(i for i in drawing.items if _winding(drawing, i))
        }
        base = first + len(drawing.rounds)
        self.count = base + len(self.hidden)
        self.z0: Vector = np.append(
            np.array(drawing.places() if start is None else start, dtype=float)[:base], np.zeros(len(self.hidden))
        )
        self.size = float(max(1e-3, np.max(np.abs(self.z0), initial=0.0)))
        items = [i for i in drawing.items if only is None or i.id in only]
        self._open_up(items)
        self.sides = self.z0 if sides is None else sides
        self.union = _Union(self.count)
        #: eliminated equalities that said nothing new, and by how much they fail
        self.surplus: list[tuple[str, float]] = []
        self._linear: list[tuple[list[int], list[float], float, str]] = []
        self._distance: list[tuple[int, int, float, int, float, int, float, str]] = []
        self._side: list[tuple[int, int, float, int, int, float, int, float, str]] = []
        self._direction: list[tuple[int, int, int, int, float, float, str]] = []
        self._along: list[tuple[int, int, int, int, float, str]] = []
        self._lengths: list[tuple[int, int, int, int, str]] = []
        self._special: list[Special] = []
        self._reduce = reduce
        for id in drawing.held:
            if id in self.slot:
                self._same(self.slot[id], self.union.const, self.z0[self.slot[id]], "", always=True)
                self._same(self.slot[id] + 1, self.union.const, self.z0[self.slot[id] + 1], "", always=True)
            elif id in self.radius:
                self._same(self.radius[id], self.union.const, self.z0[self.radius[id]], "", always=True)
        for id, slot in self.hidden.items():
            if only is not None and id not in only:
                self._same(slot, self.union.const, 0.0, "", always=True)
        for poles in drawing.splines.values():
            self._run_on(poles)
        # equalities first: tangents need to know which points are one
        for item in sorted(items, key=lambda i: i.kind not in _PLAIN):
            self._add(item)
        implied = self._implied_ends(items)
        for id, r in drawing.rounds.items():
            for p in r.ends:
                if (id, p) not in implied:
                    self._distance.append((self.slot[r.centre], self.slot[p], 0.0, self.radius[id], 1.0, 0, 0.0, ""))
        self._compile()

    # ---- building ----------------------------------------------------------------------------------------------

    def _open_up(self, items: Sequence[Item]) -> None:
        """Lines of no length get a direction: an angle has none there. Those that stand square to what they are tied to be
        are laid down first: the least movement would be to squeeze them to nothing."""
        for item in items:
            if item.kind not in ("horizontal", "vertical") or any(p in self.drawing.held for p in item.of):
                continue
            p, q = self.drawing.ends(item.of)
            k = 0 if item.kind == "horizontal" else 1
            if p in self.drawing.held or q in self.drawing.held or p not in self.slot or q not in self.slot:
                # what it cannot hold on to is said where it is added
                continue
            i, j = self.slot[p], self.slot[q]
            along, across = self.z0[j + k] - self.z0[i + k], self.z0[j + 1 - k] - self.z0[i + 1 - k]
            size = math.hypot(along, across)
            if size > 1e-9 * self.size and abs(along) < 0.05 * size:
                middle = [(self.z0[i + o] + self.z0[j + o]) / 2 for o in (0, 1)]
                half = math.copysign(size / 2, along or 1.0)
                self.z0[i + k], self.z0[j + k] = middle[k] - half, middle[k] + half
                self.z0[i + 1 - k] = self.z0[j + 1 - k] = middle[1 - k]
        nudge = 1e-3 * self.size
        for p, q in self.drawing.lines.values():
            if p not in self.slot or q not in self.slot:
                continue
            i, j = self.slot[p], self.slot[q]
            if math.hypot(self.z0[j] - self.z0[i], self.z0[j + 1] - self.z0[i + 1]) < 1e-9 * self.size:
                self.z0[j if q not in self.drawing.held else i] += nudge

    def _same(self, i: int, j: int, c: float, owner: str, always: bool = False) -> None:
        if self._reduce or always:
            left = self.union.tie(i, j, c)
            if left is None:
                return
            self.surplus.append((owner, left))
            if abs(left) <= 1e-9 * self.size:
                return
        slots, factors = ([i], [1.0]) if j == self.union.const else ([i, j], [1.0, -1.0])
        self._linear.append((slots, factors, -c, owner))

    def _one(self, p: str, q: str) -> bool:
        """Whether two points are the same one by name or by what ties them."""
        if p == q:
            return True
        a, b = self.slot[p], self.slot[q]
        if self._reduce:
            x, y = (self.union.find(a + k) for k in (0, 1)), (self.union.find(b + k) for k in (0, 1))
            return all(u[0] == v[0] and abs(u[1] - v[1]) < 1e-9 for u, v in zip(x, y, strict=True))
        return any(i.kind == "coincident" and set(i.of) == {p, q} for i in self.drawing.items)

    def _at(self, p: str) -> tuple[float, float]:
        k = self.slot[p]
        return float(self.sides[k]), float(self.sides[k + 1])

    def _away(self, p: str, line: tuple[str, str]) -> float:
        (px, py), (ax, ay), (bx, by) = self._at(p), self._at(line[0]), self._at(line[1])
        size = max(math.hypot(bx - ax, by - ay), 1e-12)
        return ((bx - ax) * (py - ay) - (by - ay) * (px - ax)) / size

    def _length(self, p: str, q: str) -> float:
        return math.dist(self._at(p), self._at(q))

    def _angle(self, p: str, q: str) -> float:
        (ax, ay), (bx, by) = self._at(p), self._at(q)
        return math.atan2(by - ay, bx - ax)

    def _add_side(
        self, p: str, line: tuple[str, str], c: float, owner: str, r: int = 0, s: float = 0.0, also: str | None = None
    ) -> None:
        second, weight = (self.slot[also], 1.0) if also is not None else (0, 0.0)
        self._side.append((self.slot[p], second, weight, self.slot[line[0]], self.slot[line[1]], c, r, s, owner))

    def _add_direction(self, ab: tuple[str, str], cd: tuple[str, str], target: float, half: bool, owner: str) -> None:
        """``half``: half turns are all the same to it; the nearest sense is kept."""
        if half:
            off = self._angle(*cd) - self._angle(*ab) - target
            target += math.pi * round(off / math.pi)
        scale = max((self._length(*ab) + self._length(*cd)) / 2, 1e-3 * self.size)
        a, b, c, d = (self.slot[p] for p in (*ab, *cd))
        self._direction.append((a, b, c, d, target, scale, owner))

    def _add_along(self, p: str, q: str, line: tuple[str, str], c: float, owner: str) -> None:
        self._along.append((self.slot[p], self.slot[q], self.slot[line[0]], self.slot[line[1]], c, owner))

    def _add(self, item: Item) -> None:
        d, of, id, value = self.drawing, item.of, item.id, item.value
        try:
            match item.kind:
                case "coincident" | "concentric":
                    ends = of[:2] if item.kind == "coincident" else tuple(d.round(c).centre for c in of[:2])
                    p, q = (self.slot[d.point(e)] for e in ends)
                    self._same(p, q, 0.0, id)
                    self._same(p + 1, q + 1, 0.0, id)
                case "horizontal" | "vertical" | "distance_x" | "distance_y":
                    p, q = (self.slot[e] for e in d.ends(of))
                    k = 1 if item.kind in ("horizontal", "distance_y") else 0
                    self._same(q + k, p + k, value or 0.0, id)
                case "fixed":
                    p, place = self.slot[d.point(of[0])], item.at or self._at(of[0])
                    self._same(p, self.union.const, place[0], id)
                    self._same(p + 1, self.union.const, place[1], id)
                case "radius" | "diameter":
                    d.round(of[0])
                    size = float(value or 0.0) / (2 if item.kind == "diameter" else 1)
                    self._same(self.radius[of[0]], self.union.const, size, id)
                case "ring":
                    d.round(of[0]), d.round(of[1])
                    self._same(self.radius[of[1]], self.radius[of[0]], float(value or 0.0), id)
                case "midpoint":
                    p, (a, b) = self.slot[d.point(of[0])], (self.slot[e] for e in d.ends(of[1:]))
                    for k in (0, 1):
                        self._linear.append(([p + k, a + k, b + k], [1.0, -0.5, -0.5], 0.0, id))
                case "equal":
                    self._equal(of, id)
                case "point_on":
                    self._on(d.point(of[0]), of[1], id)
                case "parallel" | "perpendicular" | "collinear":
                    first, second = d.line(of[0]), d.line(of[1])
                    if item.kind == "collinear":
                        for end in second:
                            if end not in first:
                                self._add_side(end, first, 0.0, id)
                    else:
                        turn = 0.0 if item.kind == "parallel" else math.pi / 2
                        self._add_direction(first, second, turn, True, id)
                case "angle":
                    self._add_direction(*d.ways(item), float(value or 0.0), False, id)
                case "tangent":
                    self._tangent(of[0], of[1], id)
                case "smooth":
                    self._smooth(of[0], of[1], id)
                case "perimeter":
                    self._perimeter(item)
                case "symmetric":
                    one, two, axis = d.point(of[0]), d.point(of[1]), d.line(of[2])
                    self._add_along(one, two, axis, 0.0, id)
                    self._add_side(one, axis, 0.0, id, also=two)
                case "turned":
                    self._turned(item)
                case "length" | "distance":
                    self._sized(item)
                case "offset":
                    self._offset(item)
                case _:
                    raise StepError(f"There is no tie called “{item.kind}”.")
        except (IndexError, TypeError, ValueError, KeyError):
            raise StepError(
                f"A {item.kind.replace('_', ' ')} tie needs other things to hold on to.", things=item.of
            ) from None

    def _turned(self, item: Item) -> None:
        """A point as another one turned about a third: q = c + R (p − c)."""
        p, q, c = (self.slot[self.drawing.point(e)] for e in item.of[:3])
        cos, sin = math.cos(item.turn), math.sin(item.turn)
        self._linear.append(([q, p, p + 1, c, c + 1], [1.0, -cos, sin, cos - 1, -sin], 0.0, item.id))
        self._linear.append(([q + 1, p, p + 1, c, c + 1], [1.0, -sin, -cos, sin, cos - 1], 0.0, item.id))

    def _sized(self, item: Item) -> None:
        d, of, value = self.drawing, item.of, float(item.value or 0.0)
        if len(of) == 2 and of[1] in d.lines:
            line = d.line(of[1])
            if of[0] in d.lines:
                # two lines so far apart: either end of the first
                self._add_side(d.line(of[0])[0], line, value, item.id)
            else:
                self._add_side(d.point(of[0]), line, value, item.id)
            return
        p, q = d.ends(of)
        if value == 0.0:
            for k in (0, 1):
                self._same(self.slot[p] + k, self.slot[q] + k, 0.0, item.id)
            return
        self._distance.append((self.slot[p], self.slot[q], value, 0, 0.0, 0, 0.0, item.id))

    def _equal(self, of: Sequence[str], owner: str) -> None:
        d = self.drawing
        for other in of[1:]:
            if of[0] in d.lines:
                (p, q), (r, s) = d.line(of[0]), d.line(other)
                self._lengths.append((self.slot[p], self.slot[q], self.slot[r], self.slot[s], owner))
            else:
                d.round(of[0]), d.round(other)
                self._same(self.radius[of[0]], self.radius[other], 0.0, owner)

    def _run_on(self, poles: Sequence[str]) -> None:
        """The handles on both sides of a node of a spline lie in line with it."""
        joints = [(k - 1, k, k + 1) for k in range(3, len(poles) - 1, 3)]
        if len(poles) > 4 and poles[0] == poles[-1]:
            joints.append((len(poles) - 2, 0, 1))
        for before, node, after in joints:
            self._add_side(poles[node], (poles[before], poles[after]), 0.0, "")

    def _slots(self, points: Sequence[str]) -> list[int]:
        return [self.slot[p] + k for p in points for k in (0, 1)]

    def _oval(self, id: str) -> list[int]:
        """The unknowns of an ellipse: centre, the end of its first half axis, its second half axis."""
        r = self.drawing.round(id)
        return [*self._slots((r.centre, str(r.major))), self.radius[id]]

    def _on_winding(self, p: str, curve: str, owner: str) -> None:
        """A point on an ellipse or a spline, as far along it as the nearest place is where the drawing stands."""
        hidden, (x, y) = self.hidden[owner], (float(self.z0[self.slot[p] + k]) for k in (0, 1))
        if curve in self.drawing.splines:
            found = []
            for poles in self.drawing.pieces(curve):
                slots = self._slots(poles)
                t, away = nearest_on_bezier(self.z0[slots], x, y)
                found.append((away, t, slots))
            _, t, slots = min(found, key=lambda f: f[0])
            places = self.z0[slots].reshape(4, 2)
            scale = max(float(np.sum(np.hypot(*np.diff(places, axis=0).T))), 1e-3 * self.size)
            make = on_bezier(scale)
        else:
            slots = self._oval(curve)
            c = self.z0[slots]
            scale = max(math.hypot(c[2] - c[0], c[3] - c[1]), 1e-3 * self.size)
            t, make = nearest_on_ellipse(c, x, y), on_ellipse(scale)
        self.z0[hidden] = t * scale
        self._special.append(Special([*self._slots((p,)), hidden, *slots], make, owner))

    def _on(self, p: str, curve: str, owner: str) -> None:
        d = self.drawing
        if curve in d.lines:
            self._add_side(p, d.line(curve), 0.0, owner)
        elif owner in self.hidden:
            self._on_winding(p, curve, owner)
        else:
            r = d.round(curve)
            self._distance.append((self.slot[r.centre], self.slot[p], 0.0, self.radius[curve], 1.0, 0, 0.0, owner))

    def _ends(self, id: str) -> tuple[str, ...]:
        """Where a curve can be met so that its direction is known there: ends, and the nodes of a spline."""
        d = self.drawing
        return d.lines[id] if id in d.lines else d.splines[id][::3] if id in d.splines else d.round(id).ends

    def _met(self, a: str, b: str) -> tuple[str, str] | None:
        """The ends in which two curves meet; an end of a line may lie on a round without being one of its ends."""
        d = self.drawing
        for p in self._ends(a):
            for q in self._ends(b):
                if self._one(p, q):
                    return p, q
        for one, two in ((a, b), (b, a)):
            if one in d.lines and two in d.rounds:
                for p in d.lines[one]:
                    if any(i.kind == "point_on" and i.of[1] == two and self._one(p, i.of[0]) for i in d.items):
                        return p, p
        return None

    def _heading(self, id: str, p: str) -> tuple[tuple[str, str], float]:
        """Two points whose direction, turned by an angle, is that of a curve in one of its ends."""
        d = self.drawing
        if id in d.lines:
            return d.lines[id], 0.0
        if id in d.splines:
            k = 3 * d.splines[id][::3].index(p)
            return (p, d.splines[id][k + 1 if k + 1 < len(d.splines[id]) else k - 1]), 0.0
        return (d.round(id).centre, p), math.pi / 2

    def _tangent(self, a: str, b: str, owner: str) -> None:
        d = self.drawing
        if a in d.lines and b in d.lines:
            raise StepError("Two lines touch nowhere in particular; make them parallel or in line.")
        met = self._met(a, b)
        if met is not None:
            if owner in self.hidden:
                self._same(self.hidden[owner], self.union.const, 0.0, "", always=True)
            # as a distance it would be singular where they meet; there their directions are one
            (one, first), (two, second) = self._heading(a, met[0]), self._heading(b, met[1])
            self._add_direction(one, two, first - second, True, owner)
            return
        if a in d.splines or b in d.splines:
            self._touch_spline(*((a, b) if a in d.splines else (b, a)), owner)
            return
        if b in d.lines:
            a, b = b, a
        ovals = [c for c in (a, b) if c in d.rounds and d.rounds[c].major is not None]
        if a in d.lines:
            line, r = d.line(a), d.round(b)
            side = -1.0 if self._away(r.centre, line) < 0 else 1.0
            if ovals:
                self._special.append(Special([*self._slots(line), *self._oval(b)], touches_ellipse(side), owner))
            else:
                self._add_side(r.centre, line, 0.0, owner, self.radius[b], side)
            return
        if ovals:
            raise StepError("An ellipse can touch lines only.")
        one_round, two_round = d.round(a), d.round(b)
        p, q = one_round.centre, two_round.centre
        apart, big, small = self._length(p, q), self.sides[self.radius[a]], self.sides[self.radius[b]]
        if abs(apart - (big + small)) <= abs(apart - abs(big - small)):
            signs = (1.0, 1.0)
        else:
            signs = (1.0, -1.0) if big >= small else (-1.0, 1.0)
        self._distance.append(
            (self.slot[p], self.slot[q], 0.0, self.radius[a], signs[0], self.radius[b], signs[1], owner)
        )

    def _touch_spline(self, spline: str, other: str, owner: str) -> None:
        """A line or a round touches a spline along its run: where the spline is nearest to it without crossing it, or crosses it
        least, on the stretch on which that is where the drawing stands."""
        d = self.drawing
        straight = other in d.lines
        if not straight and (other in d.splines or d.round(other).major is not None):
            raise StepError(
                "A spline touches lines, circles and arcs along its run, and other curves where their ends meet."
            )
        held = self._slots(d.lines[other]) if straight else [*self._slots((d.round(other).centre,)), self.radius[other]]
        at = self.z0[held]
        found = []
        for poles in d.pieces(spline):
            slots = self._slots(poles)
            t = np.linspace(0.0, 1.0, 65)
            x, y = bezier_at(self.z0[slots], t)
            if straight:
                ux, uy = at[2] - at[0], at[3] - at[1]
                off = (ux * (y - at[1]) - uy * (x - at[0])) / max(math.hypot(ux, uy), 1e-12)
            else:
                off = np.hypot(x - at[0], y - at[1]) - at[2]
            # where it runs alike it is nearest or farthest; without such a place, where it is nearest
            turns = 1 + np.flatnonzero(np.diff(off)[:-1] * np.diff(off)[1:] <= 0)
            some = turns if len(turns) else np.arange(len(t))
            k = int(some[np.argmin(np.abs(off[some]))])
            found.append((not len(turns), abs(float(off[k])), float(t[k]), slots))
        _, _, t0, slots = min(found, key=lambda f: f[:3])
        places = self.z0[slots].reshape(4, 2)
        scale = max(float(np.sum(np.hypot(*np.diff(places, axis=0).T))), 1e-3 * self.size)
        hidden = self.hidden[owner]
        self.z0[hidden] = t0 * scale
        left = bezier_touches_line(scale) if straight else bezier_touches_round(scale)
        self._special.append(Special([hidden, *slots, *held], left, owner))

    def _bend(self, id: str, p: str) -> tuple[str, list[str]]:
        """What ``bend_of`` needs of a curve that is left from one of its ends."""
        d = self.drawing
        if id in d.lines:
            one, two = d.lines[id]
            return "line", [p, two if p == one else one]
        if id in d.splines:
            poles = d.splines[id]
            k = 3 * poles[::3].index(p)
            if len(poles) - 1 > k > 0:
                raise StepError("A spline runs on smoothly into other curves at its ends only.")
            return "cubic", list(poles[k : k + 3] if k == 0 else poles[k : k - 3 : -1])
        r = d.round(id)
        return ("arc" if p == r.start else "back"), [r.centre, p]

    def _smooth(self, a: str, b: str, owner: str) -> None:
        """Two curves that meet have one direction and one curvature there."""
        met = self._met(a, b)
        if met is None or (a not in self.drawing.splines and b not in self.drawing.splines):
            raise StepError("Smooth needs a spline and another curve that meet in their ends.")
        self._tangent(a, b, owner)
        (first, one), (second, two) = self._bend(a, met[0]), self._bend(b, met[1])
        ways = []
        for kind, points in ((first, one), (second, two)):
            (x, y), (u, v) = self._at(points[0]), self._at(points[1])
            turned = {"arc": (-(v - y), u - x), "back": (v - y, -(u - x))}
            ways.append(turned.get(kind, (u - x, v - y)))
        facing = ways[0][0] * ways[1][0] + ways[0][1] * ways[1][1]
        cubic = one if first == "cubic" else two
        scale = max(self._length(cubic[0], cubic[1]), 1e-3 * self.size)
        left = equal_bend(first, 2 * len(one), second, 1.0 if facing > 0 else -1.0, scale)
        self._special.append(Special(self._slots([*one, *two]), left, owner))

    def _perimeter(self, item: Item) -> None:
        pieces = [piece for id in item.of for piece in self.drawing.pieces(id)]
        slots = [[self.radius[p[0]]] if len(p) == 1 else self._slots(p) for p in pieces]
        left = total_length([len(s) for s in slots], float(item.value or 0.0))
        self._special.append(Special([k for s in slots for k in s], left, item.id))

    def _offset(self, item: Item) -> None:
        """A chain beside another: lines and arcs in the same order; where they run on smoothly the ends stand squarely over each other."""
        d, value = self.drawing, float(item.value or 0.0)
        done: set[str] = set()
        for k, (one, two) in enumerate(zip(item.of, item.other, strict=True)):
            if one in d.rounds:
                r, s = d.round(one), d.round(two)
                self._same(self.slot[s.centre], self.slot[r.centre], 0.0, item.id)
                self._same(self.slot[s.centre] + 1, self.slot[r.centre] + 1, 0.0, item.id)
                if not s.ends or not done & set(s.ends):
                    # left of a run that turns left is nearer its centre
                    self._same(self.radius[two], self.radius[one], -value, item.id)
                continue
            line, moved = d.line(one), d.line(two)
            neighbours = [item.other[j] for j in (k - 1, k + 1) if 0 <= j < len(item.other)]
            for p, q in zip(line, moved, strict=True):
                sharp = any(q in d.lines[n] for n in neighbours if n in d.lines)
                if q in done and not sharp:
                    continue
                self._add_side(q, line, value, item.id)
                if not sharp:
                    self._add_along(p, q, line, 0.0, item.id)
                done.add(q)

    def _implied_ends(self, items: Sequence[Item]) -> set[tuple[str, str]]:
        """Ends of offset arcs that follow from lines which run into them: only one of the two still says something."""
        out = set()
        for item in items:
            if item.kind != "offset":
                continue
            placed = {q for two in item.other if two in self.drawing.lines for q in self.drawing.lines[two]}
            for two in item.other:
                if two in self.drawing.rounds:
                    ends = [p for p in self.drawing.rounds[two].ends if p in placed]
                    out |= {(two, p) for p in ends[1:]}
        return out

    # ---- as arrays ---------------------------------------------------------------------------------------------

    def _compile(self) -> None:
        roots, offsets = np.empty(self.count, dtype=np.int64), np.empty(self.count)
        const = self.union.find(self.union.const)
        place: dict[int, int] = {}
        for i in range(self.count):
            root, off = self.union.find(i)
            if root == const[0]:
                roots[i], offsets[i] = -1, off - const[1]
            else:
                roots[i], offsets[i] = place.setdefault(root, len(place)), off
        self.n = len(place)
        self.rep = np.where(roots < 0, self.n, roots)
        self.offset = offsets
        self.weight = np.bincount(roots[roots >= 0], minlength=self.n).astype(float)
        sums = np.bincount(roots[roots >= 0], weights=(self.z0 - offsets)[roots >= 0], minlength=self.n)
        #: where it starts: members of one class in their middle, which is the least movement
        self.y0: Vector = sums / np.maximum(self.weight, 1.0)
        self.dist = _columns(self._distance, 7, (0, 1, 3, 5))
        self.side = _columns(self._side, 8, (0, 1, 3, 4, 6))
        self.turn = _columns(self._direction, 6, (0, 1, 2, 3))
        self.along = _columns(self._along, 5, (0, 1, 2, 3))
        self.lens = _columns(self._lengths, 4, (0, 1, 2, 3))
        self.owners = [
            *(row[-1] for row in self._distance), *(row[-1] for row in self._side), *(row[-1] for row in self._direction),
            *(row[-1] for row in self._along), *(row[-1] for row in self._lengths), *(row[-1] for row in self._linear),
            *(s.owner for s in self._special for _ in range(2 if s.owner in self.hidden else 1)),
        ]  # fmt: skip
        self.m = len(self.owners)
        #: slots of each linear row, flat
        self._flat = (
            np.array([k for k, row in enumerate(self._linear) for _ in row[0]], dtype=np.int64),
            np.array([s for row in self._linear for s in row[0]], dtype=np.int64),
            np.array([f for row in self._linear for f in row[1]], dtype=float),
            np.array([row[2] for row in self._linear], dtype=float),
        )

    def full(self, y: Vector) -> Vector:
        """All coordinates and radii (mm) at a state of the reduced unknowns."""
        return np.asarray(np.append(y, 0.0)[self.rep] + self.offset)

    def evaluate(self, y: Vector, jacobian: bool = True) -> tuple[Vector, Matrix]:
        """Residuals (mm), and their derivatives by the reduced unknowns."""
        z = self.full(y)
        left: list[Vector] = []
        rows: list[_Ints] = []
        slots: list[_Ints] = []
        values: list[Vector] = []
        at = 0

        def put(count: int, *pairs: tuple[NDArray[Any], Any]) -> None:
            nonlocal at
            if jacobian:
                index = np.arange(at, at + count)
                for slot, value in pairs:
                    rows.append(index)
                    slots.append(slot)
                    values.append(value if np.ndim(value) else np.full(count, value))
            at += count

        p, q, c, r1, s1, r2, s2 = self.dist
        if len(p):
            dx, dy = z[q] - z[p], z[q + 1] - z[p + 1]
            d = np.hypot(dx, dy)
            safe = np.maximum(d, 1e-12)
            ux, uy = np.where(d > 1e-12, dx / safe, 1.0), np.where(d > 1e-12, dy / safe, 0.0)
            left.append(d - c - s1 * z[r1] - s2 * z[r2])
            put(len(p), (p, -ux), (p + 1, -uy), (q, ux), (q + 1, uy), (r1, -s1), (r2, -s2))
        p, p2, w, a, b, c, r, s = self.side
        if len(p):
            dx, dy = z[b] - z[a], z[b + 1] - z[a + 1]
            size = np.maximum(np.hypot(dx, dy), 1e-12)
            nx, ny = -dy / size, dx / size
            total, gax, gay, gbx, gby = -c - s * z[r], 0.0, 0.0, 0.0, 0.0
            for point, weight in ((p, np.ones(len(p))), (p2, w)):
                wx, wy = z[point] - z[a], z[point + 1] - z[a + 1]
                total = total + weight * (wx * nx + wy * ny)
                t = (wx * dx + wy * dy) / size**2
                gax, gay = gax - weight * nx * (1 - t), gay - weight * ny * (1 - t)
                gbx, gby = gbx - weight * nx * t, gby - weight * ny * t
            left.append(total)
            put(len(p), (p, nx), (p + 1, ny), (p2, w * nx), (p2 + 1, w * ny), (a, gax), (a + 1, gay), (b, gbx), (b + 1, gby), (r, -s))  # fmt: skip
        a, b, c_, d_, target, scale = self.turn
        if len(a):
            ux, uy, vx, vy = z[b] - z[a], z[b + 1] - z[a + 1], z[d_] - z[c_], z[d_ + 1] - z[c_ + 1]
            u2, v2 = np.maximum(ux**2 + uy**2, 1e-18), np.maximum(vx**2 + vy**2, 1e-18)
            off = np.arctan2(vy, vx) - np.arctan2(uy, ux) - target
            left.append(((off + math.pi) % (2 * math.pi) - math.pi) * scale)
            put(
                len(a), (a, -uy / u2 * scale), (a + 1, ux / u2 * scale), (b, uy / u2 * scale), (b + 1, -ux / u2 * scale),
                (c_, vy / v2 * scale), (c_ + 1, -vx / v2 * scale), (d_, -vy / v2 * scale), (d_ + 1, vx / v2 * scale),
            )  # fmt: skip
        p, q, a, b, c = self.along
        if len(p):
            dx, dy = z[b] - z[a], z[b + 1] - z[a + 1]
            size = np.maximum(np.hypot(dx, dy), 1e-12)
            tx, ty = dx / size, dy / size
            wx, wy = z[q] - z[p], z[q + 1] - z[p + 1]
            across = (wx * -ty + wy * tx) / size
            left.append(wx * tx + wy * ty - c)
            put(len(p), (p, -tx), (p + 1, -ty), (q, tx), (q + 1, ty), (a, across * ty), (a + 1, -across * tx), (b, -across * ty), (b + 1, across * tx))  # fmt: skip
        p, q, r_, s_ = self.lens
        if len(p):
            dx, dy, ex, ey = z[q] - z[p], z[q + 1] - z[p + 1], z[s_] - z[r_], z[s_ + 1] - z[r_ + 1]
            d, e = np.maximum(np.hypot(dx, dy), 1e-12), np.maximum(np.hypot(ex, ey), 1e-12)
            left.append(d - e)
            put(len(p), (p, -dx / d), (p + 1, -dy / d), (q, dx / d), (q + 1, dy / d), (r_, ex / e), (r_ + 1, ey / e), (s_, -ex / e), (s_ + 1, -ey / e))  # fmt: skip
        which, slot, factor, constant = self._flat
        if len(constant):
            left.append(np.bincount(which, weights=factor * z[slot], minlength=len(constant)) + constant)
            if jacobian:
                rows.append(which + at)
                slots.append(slot)
                values.append(factor)
            at += len(constant)
        for special in self._special:
            rest, slopes = derivatives(special, z[special.of])
            left.append(rest)
            if jacobian:
                rows.append(np.repeat(np.arange(at, at + len(rest)), len(special.of)))
                slots.append(np.tile(np.array(special.of, dtype=np.int64), len(rest)))
                values.append(slopes.ravel())
            at += len(rest)
        rest = np.concatenate(left) if left else np.zeros(0)
        if not jacobian or not len(rest) or not self.n:
            return rest, np.zeros((len(rest), self.n))
        row, column, value = np.concatenate(rows), self.rep[np.concatenate(slots)], np.concatenate(values)
        inside = column < self.n
        flat = np.bincount(row[inside] * self.n + column[inside], weights=value[inside], minlength=len(rest) * self.n)
        return rest, np.asarray(flat, dtype=float).reshape(len(rest), self.n)

    @cached_property
    def clusters(self) -> list[tuple[_Ints, _Ints]]:
        """Rows and unknowns that hang together, each by itself; unknowns that no row holds are left out."""
        if not self.m:
            return []
        row, column = self._touched()
        size = self.m + self.n
        graph = coo_matrix((np.ones(len(row)), (row, self.m + column)), shape=(size, size))
        _, label = connected_components(graph, directed=False)
        order = np.argsort(label, kind="stable")
        parts = np.split(order, np.flatnonzero(np.diff(label[order])) + 1)
        # rows come first in each part
        return [(p[p < self.m], p[p >= self.m] - self.m) for p in parts if p[0] < self.m]

    def _touched(self) -> tuple[_Ints, _Ints]:
        """Which unknowns each row speaks of (by structure: a derivative may be zero where the drawing stands)."""
        rows: list[_Ints] = []
        slots: list[_Ints] = []
        at = 0

        def speaks(count: int, points: Sequence[_Ints], single: Sequence[tuple[_Ints, Vector]] = ()) -> None:
            nonlocal at
            index = np.arange(at, at + count)
            for slot in points:
                rows.extend((index, index))
                slots.extend((slot, slot + 1))
            for slot, factor in single:
                rows.append(index[factor != 0])
                slots.append(slot[factor != 0])
            at += count

        d, s = self.dist, self.side
        speaks(len(d[0]), d[:2], ((d[3], d[4]), (d[5], d[6])))
        # the second point of a side counts where it has a weight
        speaks(len(s[0]), (s[0], s[3], s[4]), ((s[1], s[2]), (s[1] + 1, s[2]), (s[6], s[7])))
        speaks(len(self.turn[0]), self.turn[:4])
        speaks(len(self.along[0]), self.along[:4])
        speaks(len(self.lens[0]), self.lens)
        which, slot, _, _ = self._flat
        rows.append(which + at)
        slots.append(slot)
        at += len(self._flat[3])
        for special in self._special:
            count = 2 if special.owner in self.hidden else 1
            rows.append(np.repeat(np.arange(at, at + count), len(special.of)))
            slots.append(np.tile(np.array(special.of, dtype=np.int64), count))
            at += count
        row, column = np.concatenate(rows), self.rep[np.concatenate(slots)]
        return row[column < self.n], column[column < self.n]


def _columns(rows: Sequence[tuple[Any, ...]], count: int, slots: Sequence[int]) -> _Columns:
    """Rows of a kernel as columns, without their owners."""
    return [np.array([row[k] for row in rows], dtype=np.int64 if k in slots else float) for k in range(count)]


def _winding(drawing: Drawing, item: Item) -> bool:
    """Whether a place along an ellipse or a spline belongs to it: a point that is to lie there, or a touch."""
    if item.kind == "tangent":
        return any(o in drawing.splines for o in item.of)
    if item.kind != "point_on":
        return False
    curve = item.of[1] if len(item.of) > 1 else ""
    oval = drawing.rounds.get(curve, Round("", 0.0)).major is not None
    return curve in drawing.splines or oval


_PLAIN = frozenset(
    ["coincident", "concentric", "horizontal", "vertical", "distance_x", "distance_y", "fixed", "radius", "diameter", "ring"]
)  # fmt: skip
