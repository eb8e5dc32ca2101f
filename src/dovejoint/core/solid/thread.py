"""True helical solids: a bar with a thread, made face by face without any boolean.

Each straight piece of the profile sweeps out one surface: along the helix a periodic B-spline of degree 5 with 24 spans a turn (its poles lie so far out that the
curve lies on the circle, within 3e-8 of the radius), straight across. On such a surface everything that bounds it is a straight line in its own coordinates: the
helices between two pieces, and where a cone about the same axis ends it, for its radius and height are both linear there. So both ends are cones: one that
closes leads in, one that opens out runs into a shoulder or a countersink.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_Transform
from OCP.BRepLib import BRepLib
from OCP.collections import Array1_double, Array1_gp_Pnt2d, Array1_int, Array2_gp_Pnt
from OCP.Geom import Geom_BSplineSurface, Geom_Circle, Geom_ConicalSurface, Geom_CylindricalSurface
from OCP.Geom2d import Geom2d_BSplineCurve, Geom2d_Line
from OCP.gp import gp_Ax2, gp_Ax3, gp_Dir, gp_Dir2d, gp_Pln, gp_Pnt, gp_Pnt2d
from OCP.TopAbs import TopAbs_FORWARD, TopAbs_REVERSED
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Edge, TopoDS_Face, TopoDS_Shell, TopoDS_Solid, TopoDS_Vertex, TopoDS_Wire

from ..errors import StepError
from .check import accept
from .combine import cut
from .frame import Frame
from .helix import DEGREE, SPAN_RAD, clamped_knots, helix_poles
from .kernel import FACE, Shape, placement, shape_map
from .named import NamedSolid

__all__ = ["ConeEnd", "cut_thread", "threaded_bar"]

#: turns at which the seams of a tool's cones are tried, the one that mostly does first
SEAM_TURNS = (-1, 0, -2, 1)

_UP, _ACROSS = gp_Dir(0, 0, 1), gp_Dir(1, 0, 0)
_TOLERANCE = 1e-5
#: ends that are too close to flat or to a profile's flank cannot be told from them
_LEAST_SLOPE = 0.05


@dataclass(frozen=True)
class ConeEnd:
    """An end of a bar: a flat of radius ``radius_mm`` at a height, and from there a cone whose radius changes by ``slope`` for each mm of height. With a
    ``shank_mm`` the bar goes on so far beyond the flat, as thick as that."""

    height_mm: float
    radius_mm: float
    slope: float
    shank_mm: float = 0.0

    def height_at(self, radius_mm: float) -> float:
        return self.height_mm + (radius_mm - self.radius_mm) / self.slope


def threaded_bar(
    frame: Frame,
    profile: Sequence[tuple[float, float]],
    names: Sequence[str],
    lead_mm: float,
    low: ConeEnd,
    high: ConeEnd,
    step: str,
    mark: str,
    left_hand: bool = False,
    around: bool = False,
    seam_turn: int = -1,
) -> NamedSolid:
    """A bar along a frame's ``z`` whose outside is a thread.

    Parameters
    ----------
    profile : heights (rising) and radii of the corners over the whole lead, mm; the last is the first one lead higher. Several starts are their profile
        several times over.
    names : what each piece between two corners is called.
    low, high : its ends; a shank is for the high one only. Faces are called ``step/mark(name)``, ``step/mark_low_cone``, ``step/mark_high_cone``,
        ``step/mark_low`` and ``step/mark_high``, and ``step/mark_shank``.
    around : make what stands round the bar instead, out to where the high cone, which must open out, ends (``step/mark_out`` is its round side).
    seam_turn : at which turn the seams of the cones stand. It changes nothing of the shape, but booleans find faces at one turn that they miss at another.

    Raises
    ------
    StepError : the ends leave no whole thread between them, or the result is not sound.
    """
    ends = (low, high)
    lead = -lead_mm if left_hand else lead_mm
    turn = 2 * math.pi / lead
    reach = [[turn * (end.height_at(r) - z) for z, r in profile] for end in ends]
    if min(abs(end.slope) for end in ends) < _LEAST_SLOPE or any(
        (b - a) / turn < 1e-3 for a, b in zip(*reach, strict=True)
    ):
        raise StepError("The ends of the thread leave nothing of it between them; make it longer.")
    faces, shape = _Bar(list(profile), lead, ends, reach, around, seam_turn).solid()
    mover = BRepBuilderAPI_Transform(shape, placement(frame), True)
    shape = mover.Shape()
    order = shape_map(shape, FACE)
    pieces = [f"{step}/{mark}({name})" for name in names]
    more = ("out", "low") if around else ("low", "shank", "high") if high.shank_mm > 0 else ("low", "high")
    titles = [*pieces, *(f"{step}/{mark}_{end}" for end in ("low_cone", "high_cone", *more))]
    found = {order.FindIndex(mover.ModifiedShape(f)): t for f, t in zip(faces, titles, strict=True)}
    solid = NamedSolid(shape, [(found[i],) for i in range(1, order.Extent() + 1)])
    wrong = accept(solid)
    if wrong:
        raise StepError(f"The thread does not close into a sound solid: {wrong}.")
    return solid


def cut_thread(host: NamedSolid, tool: Callable[[int], NamedSolid], step: str) -> NamedSolid:
    """A part with a threaded tool cut out of it. ``tool`` makes it for the turn that its seams stand at: where a boolean finds nothing or no sound solid with
    one, it is tried with others. Raises StepError of the first try."""
    refused: StepError | None = None
    for turn in SEAM_TURNS:
        try:
            return cut(host, [tool(turn)], step)
        except StepError as error:
            refused = refused or error
    assert refused is not None
    raise refused


@dataclass(frozen=True)
class _Circle:
    edge: TopoDS_Edge
    rim: TopoDS_Vertex
    radius: float
    height: float


class _Bar:
    """A bar under construction; ``corners`` go once more round than there are pieces, ``reach[e][j]`` is the angle at which corner j meets the end e."""

    def __init__(self, corners: list[tuple[float, float]], lead: float, ends: tuple[ConeEnd, ConeEnd], reach: list[list[float]], around: bool, seam_turn: int) -> None:  # fmt: skip
        self.corners, self.lead, self.ends, self.reach, self.around, self.seam_turn = (
            corners,
            lead,
            ends,
            reach,
            around,
            seam_turn,
        )
        self.pieces = len(corners) - 1
        #: 1 for a right-hand thread, whose angles rise with it, −1 for a left-hand one
        self.sense = 1 if lead > 0 else -1
        self.make = BRep_Builder()
        every = [u for row in reach for u in row]
        # whole spans, counted from a common origin, so that neighbours have the same knots
        self.first, self.last = math.floor(min(every) / SPAN_RAD) - 1, math.ceil(max(every) / SPAN_RAD) + 1
        self.helix = helix_poles(self.first * SPAN_RAD, self.last - self.first)

    def solid(self) -> tuple[list[Shape], Shape]:
        n = self.pieces
        vertices = [[self._vertex(e, j) for j in range(n)] for e in (0, 1)]
        for row in vertices:
            row.append(row[0])
        surfaces = [self._surface(j) for j in range(n)]
        cones = [self._cone(e) for e in (0, 1)]
        helices = [self._helix(j, surfaces, vertices) for j in range(n)]
        trims = [[self._trim(e, j, surfaces[j], cones[e], vertices[e]) for j in range(n)] for e in (0, 1)]
        faces: list[Shape] = []
        rims: list[_Circle] = []
        for j in range(n):
            # round the piece with rising angle first: the end where angles end, and back along the next helix to the one where they begin
            begins, ends = (trims[0][j], trims[1][j]) if self.sense > 0 else (trims[1][j], trims[0][j])
            wire = self._wire((helices[j], True), ends, (helices[(j + 1) % n], False), (begins[0], not begins[1]))
            faces.append(self._face(surfaces[j], wire))
        for e in (0, 1):
            face, circle = self._end(e, trims[e], vertices[e], cones[e])
            faces.append(face)
            rims.append(circle)
        low, high = rims
        right = self._right(1)
        if self.around:
            # what stands round the bar: its faces look the other way, and the wide end of the high cone meets the round side
            faces = [f.Reversed() for f in faces]
            wide = self._circle(high.radius, low.height, right - 2 * math.pi, right)
            faces += [self._side(wide, high, 1), self._flat(low.height, False, (wide.edge, False), (low.edge, True))]
        else:
            faces.append(self._flat(low.height, False, (low.edge, False)))
            shank = self.ends[1].shank_mm
            if shank > 0:
                top = self._circle(high.radius, high.height + shank, right - 2 * math.pi, right)
                faces += [self._side(high, top, 1), self._flat(top.height, True, (top.edge, True))]
            else:
                faces.append(self._flat(high.height, True, (high.edge, True)))
        shell, solid = TopoDS_Shell(), TopoDS_Solid()
        self.make.MakeShell(shell)
        for face in faces:
            self.make.Add(shell, face)
        shell.Closed(True)
        self.make.MakeSolid(solid)
        self.make.Add(solid, shell)
        BRepLib.BuildCurves3d_s(solid)
        return faces, solid

    # ---- pieces ------------------------------------------------------------------------------------------------------

    def _place(self, radius: float, angle: float, height: float) -> gp_Pnt:
        return gp_Pnt(radius * math.cos(angle), radius * math.sin(angle), height)

    def _vertex(self, e: int, j: int) -> TopoDS_Vertex:
        z, r = self.corners[j]
        u = self.reach[e][j]
        out = TopoDS_Vertex()
        self.make.MakeVertex(out, self._place(r, u, z + self.lead * u / (2 * math.pi)), _TOLERANCE)
        return out

    def _surface(self, j: int) -> Geom_BSplineSurface:
        spans = self.last - self.first
        knots, mults = clamped_knots(self.first * SPAN_RAD, spans, SPAN_RAD)
        poles = Array2_gp_Pnt(1, spans + DEGREE, 1, 2)
        for v in (0, 1):
            z, r = self.corners[j + v]
            for k, (x, y, angle) in enumerate(self.helix):
                poles.SetValue(k + 1, v + 1, gp_Pnt(r * x, r * y, z + self.lead * angle / (2 * math.pi)))
        ends = Array1_double(1, 2)
        twice = Array1_int(1, 2)
        for v in (0, 1):
            ends.SetValue(v + 1, float(v))
            twice.SetValue(v + 1, 2)
        return Geom_BSplineSurface(poles, knots, ends, mults, twice, DEGREE, 1)

    def _cone(self, e: int) -> Geom_ConicalSurface:
        end = self.ends[e]
        axis = gp_Ax3(gp_Pnt(0, 0, end.height_mm), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0))
        return Geom_ConicalSurface(axis, math.atan(end.slope), end.radius_mm)

    def _along_cone(self, e: int, radius: float) -> float:
        end = self.ends[e]
        return (radius - end.radius_mm) / math.sin(math.atan(end.slope))

    # ---- edges -------------------------------------------------------------------------------------------------------

    def _edge(self, start: TopoDS_Vertex, stop: TopoDS_Vertex, low: float, high: float, edge: TopoDS_Edge) -> TopoDS_Edge:  # fmt: skip
        self.make.Add(edge, start.Oriented(TopAbs_FORWARD))
        self.make.Add(edge, stop.Oriented(TopAbs_REVERSED))
        self.make.Range(edge, low, high)
        return edge

    def _helix(self, j: int, surfaces: list[Geom_BSplineSurface], vertices: list[list[TopoDS_Vertex]]) -> TopoDS_Edge:
        edge = TopoDS_Edge()
        self.make.MakeEdge(edge, surfaces[j].VIso(0.0), _TOLERANCE)
        before, shift = (j - 1) % self.pieces, 0.0 if j > 0 else -2 * math.pi * self.sense
        here = Geom2d_Line(gp_Pnt2d(0.0, 0.0), gp_Dir2d(1, 0))
        there = Geom2d_Line(gp_Pnt2d(shift, 1.0), gp_Dir2d(1, 0))
        self.make.UpdateEdge(edge, here, surfaces[j], TopLoc_Location(), _TOLERANCE)
        self.make.UpdateEdge(edge, there, surfaces[before], TopLoc_Location(), _TOLERANCE)
        first, last = (0, 1) if self.sense > 0 else (1, 0)
        return self._edge(vertices[first][j], vertices[last][j], self.reach[first][j], self.reach[last][j], edge)

    def _trim(
        self, e: int, j: int, surface: Geom_BSplineSurface, cone: Geom_ConicalSurface, vertices: list[TopoDS_Vertex]
    ) -> tuple[TopoDS_Edge, bool]:
        """Where a piece meets a cone, and whether its own way (by rising angle) is the one from corner j to the next."""
        u, v = self.reach[e][j], self.reach[e][j + 1]
        ahead = v > u
        low, high = min(u, v), max(u, v)
        across = (0.0, 1.0) if ahead else (1.0, 0.0)
        heights = [self._along_cone(e, self.corners[j + k][1]) for k in ((0, 1) if ahead else (1, 0))]
        s = self._seam(e)
        shift = self._at_seam(e) - self.reach[e][s] - (2 * math.pi * self.sense if j < s else 0.0)
        edge = TopoDS_Edge()
        self.make.MakeEdge(edge)
        self.make.UpdateEdge(edge, _straight(low, high, (low, across[0]), (high, across[1])), surface, TopLoc_Location(), _TOLERANCE)  # fmt: skip
        self.make.UpdateEdge(edge, _straight(low, high, (low + shift, heights[0]), (high + shift, heights[1])), cone, TopLoc_Location(), _TOLERANCE)  # fmt: skip
        start, stop = (vertices[j], vertices[j + 1]) if ahead else (vertices[j + 1], vertices[j])
        return self._edge(start, stop, low, high, edge), ahead

    def _at_seam(self, e: int) -> float:
        """The angle of the corner from which a cone's seam runs."""
        return self.reach[e][self._seam(e)] % (2 * math.pi) + 2 * math.pi * self.seam_turn

    def _right(self, e: int) -> float:
        """The angle at which a cone's face ends; it begins a turn before."""
        return self._at_seam(e) + (0.0 if self.sense > 0 else 2 * math.pi)

    def _seam(self, e: int) -> int:
        """The corner from which a cone's seam runs to its flat: the nearest to it."""
        radii = [r for _, r in self.corners[:-1]]
        inward = self.ends[e].radius_mm < min(radii)
        return radii.index(min(radii) if inward else max(radii))

    # ---- faces -------------------------------------------------------------------------------------------------------

    def _wire(self, *edges: tuple[TopoDS_Edge, bool]) -> TopoDS_Wire:
        wire = TopoDS_Wire()
        self.make.MakeWire(wire)
        for edge, forward in edges:
            self.make.Add(wire, edge.Oriented(TopAbs_FORWARD if forward else TopAbs_REVERSED))
        wire.Closed(True)
        return wire

    def _face(
        self, surface: Geom_BSplineSurface | Geom_ConicalSurface | Geom_CylindricalSurface, wire: TopoDS_Wire
    ) -> TopoDS_Face:
        face = TopoDS_Face()
        self.make.MakeFace(face, surface, _TOLERANCE)
        self.make.Add(face, wire)
        return face

    def _circle(self, radius: float, height: float, left: float, right: float) -> _Circle:
        rim, edge = TopoDS_Vertex(), TopoDS_Edge()
        self.make.MakeVertex(rim, self._place(radius, right, height), _TOLERANCE)
        self.make.MakeEdge(edge, Geom_Circle(gp_Ax2(gp_Pnt(0, 0, height), _UP, _ACROSS), radius), _TOLERANCE)
        return _Circle(self._edge(rim, rim, left, right, edge), rim, radius, height)

    def _level(self, circle: _Circle, height: float, surface: Geom_ConicalSurface | Geom_CylindricalSurface) -> None:
        """A circle as the line of constant height on a surface about the axis."""
        line = Geom2d_Line(gp_Pnt2d(0, height), gp_Dir2d(1, 0))
        self.make.UpdateEdge(circle.edge, line, surface, TopLoc_Location(), _TOLERANCE)

    def _seamed(self, surface: Geom_ConicalSurface | Geom_CylindricalSurface, left: float, right: float, between: tuple[float, float], ends: tuple[TopoDS_Vertex, TopoDS_Vertex]) -> TopoDS_Edge:  # fmt: skip
        """The seam of a face that goes once round, upwards."""
        seam = TopoDS_Edge()
        self.make.MakeEdge(seam, surface.UIso(right), _TOLERANCE)
        lines = [Geom2d_Line(gp_Pnt2d(u, 0), gp_Dir2d(0, 1)) for u in (right, left)]
        self.make.UpdateEdge(seam, *lines, surface, TopLoc_Location(), _TOLERANCE)
        return self._edge(*ends, *between, seam)

    def _end(self, e: int, trims: list[tuple[TopoDS_Edge, bool]], vertices: list[TopoDS_Vertex], cone: Geom_ConicalSurface) -> tuple[Shape, _Circle]:  # fmt: skip
        """A cone, and the circle that it ends with."""
        end, s = self.ends[e], self._seam(e)
        right = self._right(e)
        left = right - 2 * math.pi
        circle = self._circle(end.radius_mm, end.height_mm, left, right)
        self._level(circle, 0.0, cone)
        far = self._along_cone(e, self.corners[s][1])
        corners = (circle.rim, vertices[s]) if far > 0 else (vertices[s], circle.rim)
        seam = self._seamed(cone, left, right, (min(0.0, far), max(0.0, far)), corners)
        chain = [trims[(s + k) % self.pieces] for k in range(self.pieces)]
        if (e == 0) != (self.sense > 0):
            chain = [(edge, not ahead) for edge, ahead in reversed(chain)]
        if e == 0:
            # the flat below: round it, up the seam, back along the thread, down
            wire = self._wire((circle.edge, True), (seam, True), *chain, (seam, False))
        else:
            wire = self._wire(*chain, (seam, True), (circle.edge, False), (seam, False))
        return self._face(cone, wire), circle

    def _flat(self, height: float, up: bool, *circles: tuple[TopoDS_Edge, bool]) -> Shape:
        """A flat across the axis within a circle, and without those after it."""
        maker = BRepBuilderAPI_MakeFace(
            gp_Pln(gp_Pnt(0, 0, height), gp_Dir(0, 0, 1 if up else -1)), self._wire(circles[0]), True
        )
        for circle in circles[1:]:
            maker.Add(self._wire(circle))
        return maker.Face()

    def _side(self, low: _Circle, high: _Circle, e: int) -> Shape:
        """The round side between two like circles."""
        right = self._right(e)
        left = right - 2 * math.pi
        side = Geom_CylindricalSurface(gp_Ax3(gp_Pnt(0, 0, low.height), _UP, _ACROSS), low.radius)
        far = high.height - low.height
        self._level(low, 0.0, side)
        self._level(high, far, side)
        seam = self._seamed(side, left, right, (0.0, far), (low.rim, high.rim))
        return self._face(side, self._wire((low.edge, True), (seam, True), (high.edge, False), (seam, False)))


def _straight(low: float, high: float, start: tuple[float, float], stop: tuple[float, float]) -> Geom2d_BSplineCurve:
    """A straight line in a surface's coordinates, at an even pace from one parameter to another."""
    poles = Array1_gp_Pnt2d(1, 2)
    poles.SetValue(1, gp_Pnt2d(*start))
    poles.SetValue(2, gp_Pnt2d(*stop))
    knots, mults = Array1_double(1, 2), Array1_int(1, 2)
    for k, u in enumerate((low, high)):
        knots.SetValue(k + 1, u)
        mults.SetValue(k + 1, 2)
    return Geom2d_BSplineCurve(poles, knots, mults, 1)
