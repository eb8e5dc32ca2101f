"""Closed areas between the curves of a sketch, holes included, with exact curves."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from OCP.BOPAlgo import BOPAlgo_Builder, BOPAlgo_Tools
from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepGProp import BRepGProp
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeOffset
from OCP.BRepTools import BRepTools
from OCP.collections import Array1_gp_Pnt
from OCP.Geom import Geom_BezierCurve
from OCP.GeomAbs import GeomAbs_Intersection
from OCP.gp import gp_Ax2, gp_Circ, gp_Dir, gp_Elips, gp_Pnt, gp_Trsf
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_FORWARD, TopAbs_REVERSED
from OCP.TopExp import TopExp
from OCP.TopoDS import TopoDS_Compound, TopoDS_Edge, TopoDS_Vertex, TopoDS_Wire

from ..errors import StepError
from .ends import unlooped
from .facename import as_part
from .frame import Frame
from .kernel import (
    EDGE,
    FACE,
    WIRE,
    BRep_Tool,
    BRepAdaptor_Curve,
    Shape,
    ShapeMap,
    TopoDS,
    compound,
    in_turn,
    listed,
    placement,
    raised_by_kernel,
    refusing,
    subshapes,
)
from .outline import Arc, Bezier, Circle, Curve, Ellipse, Line, Vec2, place_at

__all__ = [
    "Region",
    "edge_of",
    "find_regions",
    "inside",
    "region_between",
    "region_filled",
    "region_of_face",
    "region_set_in",
]


#: a circle smaller than this is none, mm
SMALLEST_MM = 0.01


@dataclass(frozen=True, eq=False)
class Region:
    """A closed area of a sketch, flat in sketch coordinates.

    ``told`` tells the curves around it, and on which side of each it lies: outer ones, then ``-`` and those of its holes.
    ``c1<+c2>`` is left of ``c1`` and right of ``c2`` as they run, ``=`` on both. ``name`` is the same without the sides, where
    that stands for no other region (of circles that cross it would), and goes into the names of faces. ``depth`` counts the
    loops that it lies within (0 outermost): even ones are material in the usual reading of a drawing.
    """

    name: str
    told: str
    face: Shape
    edges: tuple[tuple[Shape, str], ...]
    area_mm2: float
    centre: Vec2
    loops: tuple[tuple[Vec2, ...], ...]
    depth: int


def edge_of(curve: Curve) -> Shape:
    up = gp_Dir(0, 0, 1)
    if isinstance(curve, Line):
        a, b = gp_Pnt(*curve.start, 0), gp_Pnt(*curve.end, 0)
        return BRepBuilderAPI_MakeEdge(a, b).Edge()
    if isinstance(curve, Bezier):
        poles = Array1_gp_Pnt(1, 4)
        for k, pole in enumerate(curve.poles):
            poles.SetValue(k + 1, gp_Pnt(*pole, 0))
        return BRepBuilderAPI_MakeEdge(Geom_BezierCurve(poles)).Edge()
    if isinstance(curve, Ellipse):
        return BRepBuilderAPI_MakeEdge(_ellipse(curve)).Edge()
    circle = gp_Circ(gp_Ax2(gp_Pnt(*curve.centre, 0), up), curve.radius)
    if isinstance(curve, Circle):
        return BRepBuilderAPI_MakeEdge(circle).Edge()
    start, end = (curve.end, curve.start) if curve.clockwise else (curve.start, curve.end)
    return BRepBuilderAPI_MakeEdge(circle, gp_Pnt(*start, 0), gp_Pnt(*end, 0)).Edge()


def _ellipse(curve: Ellipse) -> Any:
    """The kernel wants the longer half axis first."""
    (cx, cy), (mx, my) = curve.centre, curve.major
    first = math.hypot(mx - cx, my - cy)
    along = gp_Dir(mx - cx, my - cy, 0) if first >= curve.minor else gp_Dir(cy - my, mx - cx, 0)
    axes = gp_Ax2(gp_Pnt(cx, cy, 0), gp_Dir(0, 0, 1), along)
    return gp_Elips(axes, max(first, curve.minor), min(first, curve.minor))


def _size(curve: Curve) -> float:
    if isinstance(curve, Line | Arc):
        return math.dist(curve.start, curve.end)
    if isinstance(curve, Bezier):
        return max(math.dist(curve.poles[0], p) for p in curve.poles[1:])
    return min(curve.minor, math.dist(curve.centre, curve.major)) if isinstance(curve, Ellipse) else curve.radius


def find_regions(curves: Sequence[Curve]) -> list[Region]:
    """All closed areas between curves that may cross, in a stable order (largest first).

    Curves of no length are left out. Uses the kernel's general splitting, so the pieces keep their exact
    geometry and each piece knows the curve that it came from.
    """
    sound = [piece for c in curves if _size(c) > 1e-6 for piece in unlooped(c)]
    if not sound:
        return []
    edges = [edge_of(c) for c in sound]
    builder = BOPAlgo_Builder()
    for edge in edges:
        builder.AddArgument(edge)
    if len(edges) > 1:
        builder.Perform()
        split = builder.Shape()
    else:
        split = compound(edges)
    origin = ShapeMap()
    owners: list[str] = []
    for edge, curve in zip(edges, sound, strict=True):
        pieces = listed(builder.Modified(edge)) if len(edges) > 1 else []
        for piece in pieces or [edge]:
            if not origin.Contains(piece):
                origin.Add(piece)
                owners.append(curve.id)
    wires, faces = TopoDS_Compound(), TopoDS_Compound()
    if BOPAlgo_Tools.EdgesToWires_s(split, wires, True) != 0:
        return []
    if not BOPAlgo_Tools.WiresToFaces_s(wires, faces):
        return []
    found = [_region(face, origin, owners) for face in subshapes(faces, FACE)]
    found = _told_apart([r for r in found if r.area_mm2 > 1e-6])
    outer = [np.array(r.loops[0]) for r in found]
    boxes = np.array([[*loop.min(axis=0), *loop.max(axis=0)] for loop in outer]).reshape(-1, 4)
    placed = _not_filled([_with_depth(k, found, outer, boxes) for k in range(len(found))], outer, sound)
    return sorted(placed, key=lambda r: (-round(r.area_mm2, 6), r.name))


def _region(face: Shape, origin: Any, owners: list[str]) -> Region:
    outer = BRepTools.OuterWire_s(face)
    loops, edges = [], []
    around: dict[str, set[str]] = {}
    holes: set[str] = set()
    for wire in [outer] + [w for w in subshapes(face, WIRE) if not w.IsSame(outer)]:
        pieces = subshapes(wire, EDGE)
        loop, along = _loop(pieces)
        left = _turns_left(loop)
        for piece, runs_along in zip(pieces, along, strict=True):
            index = origin.FindIndex(piece)
            owner = owners[index - 1] if index else "?"
            edges.append((piece, owner))
            if wire.IsSame(outer):
                around.setdefault(owner, set()).add("<" if runs_along == left else ">")
            else:
                holes.add(owner)
        loops.append(loop)
    of_holes = "-" + "+".join(sorted(holes)) if holes else ""
    name = "+".join(sorted(around)) + of_holes
    told = "+".join(c + (min(around[c]) if len(around[c]) == 1 else "=") for c in sorted(around)) + of_holes
    props = GProp_GProps()
    BRepGProp.SurfaceProperties_s(face, props)
    centre = props.CentreOfMass()
    return Region(name, told, face, tuple(edges), abs(props.Mass()), (centre.X(), centre.Y()), tuple(loops), 0)


def _told_apart(found: list[Region]) -> list[Region]:
    """Regions that the same curves bound on the same sides, as a line cuts several bows off one curve, are told apart by their order along
    the first. Where a plain name would stand for several, each takes the full one."""
    full = Counter(r.told for r in found)
    counted: dict[str, list[Region]] = {told: [] for told, count in full.items() if count > 1}
    for region in found:
        if region.told in counted:
            counted[region.told].append(region)
    for told, regions in counted.items():
        first = told.partition("+")[0].rstrip("<>=")
        turn = sorted(regions, key=lambda r: min(_along(edge) for edge, owner in r.edges if owner == first))
        counted[told] = [replace(r, told=f"{told}#{turn.index(r) + 1}") for r in regions]
    found = [counted[r.told].pop(0) if r.told in counted else r for r in found]
    plain = Counter(r.name for r in found)
    return [replace(r, name=r.told) if plain[r.name] > 1 else r for r in found]


def _along(edge: Shape) -> float:
    return float(BRepAdaptor_Curve(edge).FirstParameter())


def _run(piece: Shape) -> list[Vec2]:
    """A piece of a wire sampled from its start to its end as its curve runs."""
    curve = BRepAdaptor_Curve(piece)
    first, last = curve.FirstParameter(), curve.LastParameter()
    kind = curve.GetType().name
    if kind == "GeomAbs_Line":
        parameters = [first, last]
    else:
        bent = kind in ("GeomAbs_Circle", "GeomAbs_Ellipse")
        n = max(4, int(math.ceil((last - first) / (math.pi / 32)))) if bent else 24
        parameters = [first + (last - first) * k / n for k in range(n + 1)]
    if kind != "GeomAbs_Circle":
        return [(p.X(), p.Y()) for p in map(curve.Value, parameters)]
    # most of all places lie on circles, and each one asked of the kernel costs a microsecond
    circle = curve.Circle()
    at, across, up = circle.Location(), circle.XAxis().Direction(), circle.YAxis().Direction()
    x, y, r = at.X(), at.Y(), circle.Radius()
    ux, uy, vx, vy = r * across.X(), r * across.Y(), r * up.X(), r * up.Y()
    return [
        (x + ux * cos + vx * sin, y + uy * cos + vy * sin)
        for cos, sin in ((math.cos(t), math.sin(t)) for t in parameters)
    ]


def _loop(pieces: list[Shape]) -> tuple[tuple[Vec2, ...], list[bool]]:
    """The pieces of a wire sampled and chained end to end, for drawing and pointing only, and which of them run along with the chain."""
    runs = {k: _run(piece) for k, piece in enumerate(pieces)}
    chain, along = runs.pop(0), [True] * len(pieces)
    while runs:
        end = chain[-1]
        best = min(runs, key=lambda k: min(math.dist(end, runs[k][0]), math.dist(end, runs[k][-1])))
        run = runs.pop(best)
        if math.dist(end, run[0]) > math.dist(end, run[-1]):
            run.reverse()
            along[best] = False
        chain.extend(run[1:])
    return tuple(chain), along


def _turns_left(loop: Sequence[Vec2]) -> bool:
    """Whether a closed loop runs counter-clockwise."""
    x, y = np.array(loop).T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) > 0


def _inside(p: Vec2, loop: NDArray[np.float64]) -> bool:
    """Even-odd test of a point in a sampled loop."""
    (x1, y1), (x2, y2) = loop.T, np.roll(loop, -1, axis=0).T
    crossed = (y1 > p[1]) != (y2 > p[1])
    x1, y1, x2, y2 = x1[crossed], y1[crossed], x2[crossed], y2[crossed]
    return bool(np.count_nonzero(p[0] < (x2 - x1) * (p[1] - y1) / (y2 - y1) + x1) % 2)


def _interior_point(loop: NDArray[np.float64], share: float = 1e-4) -> Vec2:
    """A point inside a loop: beside the middle of its longest sampled stretch, by a share of that."""
    after = np.roll(loop, -1, axis=0)
    k = int(np.argmax(np.hypot(*(after - loop).T)))
    (x1, y1), (x2, y2) = loop[k], after[k]
    size = math.hypot(x2 - x1, y2 - y1)
    nudge = share * size
    mx, my, nx, ny = (x1 + x2) / 2, (y1 + y2) / 2, -(y2 - y1) / size * nudge, (x2 - x1) / size * nudge
    inner = (float(mx + nx), float(my + ny))
    return inner if _inside(inner, loop) else (float(mx - nx), float(my - ny))


def _with_depth(
    own: int, everything: list[Region], outer: list[NDArray[np.float64]], boxes: NDArray[np.float64]
) -> Region:
    x, y = _interior_point(outer[own])
    around = np.flatnonzero((boxes[:, 0] < x) & (x < boxes[:, 2]) & (boxes[:, 1] < y) & (y < boxes[:, 3]))
    depth = sum(1 for k in around if k != own and _inside((x, y), outer[k]))
    return replace(everything[own], depth=depth)


#: so many chords stand for a curve of a letter where it is asked what its contour goes round
SAMPLES = 16


def _not_filled(found: list[Region], outer: list[NDArray[np.float64]], curves: Sequence[Curve]) -> list[Region]:
    """Letters whose contours run over each other (an A as its legs and its bar) close areas that no contour goes round: those are no
    material, so they lie one deeper. A font's contours fill what they go round a number of times that is not zero."""
    contours: dict[str, list[Vec2]] = {}
    for curve in curves:
        if "." in curve.id:
            contours.setdefault(curve.id, []).extend(place_at(curve, k / SAMPLES) for k in range(SAMPLES))
    if not contours:
        return found
    loops = [(id.split(".")[0], np.array(places)) for id, places in contours.items()]
    boxes = np.array([[*loop.min(axis=0), *loop.max(axis=0)] for _, loop in loops])
    text_of = [{c.split(".")[0] for _, c in r.edges} if all("." in c for _, c in r.edges) else set() for r in found]
    places = [_well_within(r) for r in found]

    def wound(k: int) -> int:
        x, y = places[k]
        around = np.flatnonzero((boxes[:, 0] < x) & (x < boxes[:, 2]) & (boxes[:, 1] < y) & (y < boxes[:, 3]))
        return sum(_winding(places[k], loop) for text, loop in (loops[i] for i in around) if text in text_of[k])

    def counted(k: int) -> bool:
        return any(filled[i] and text_of[i] == text_of[k] and _inside(places[k], outer[i]) for i in range(len(found)) if i != k)  # fmt: skip

    filled = [bool(texts) and wound(k) != 0 for k, texts in enumerate(text_of)]
    out = []
    for k, region in enumerate(found):
        missed = len(text_of[k]) == 1 and not filled[k] and not counted(k)
        out.append(replace(region, depth=region.depth + 1) if missed else region)
    return out


def _well_within(region: Region) -> Vec2:
    """A place in a region as far from its bounds as can be had beside the middle of a long stretch of them."""
    loops = [np.array(loop) for loop in region.loops]
    for share in (0.3, 0.1, 0.03, 0.01, 1e-3):
        place = _interior_point(loops[0], share)
        if _inside(place, loops[0]) and not any(_inside(place, hole) for hole in loops[1:]):
            return place
    return _interior_point(loops[0])


def _winding(p: Vec2, loop: NDArray[np.float64]) -> int:
    """How often a closed loop goes round a place, counter-clockwise."""
    x, y = loop.T[0] - p[0], loop.T[1] - p[1]
    u, v = np.roll(x, -1), np.roll(y, -1)
    return round(float(np.arctan2(x * v - y * u, x * u + y * v).sum()) / (2 * math.pi))


def region_between(name: str, outer: Sequence[Curve], inner: Sequence[Curve] = ()) -> Region:
    """A region straight from closed loops that are known not to cross, e.g. offsets of an outline."""
    edges: list[tuple[Shape, str]] = []
    wires = []
    for loop in (outer, inner):
        if not loop:
            continue
        maker = BRepBuilderAPI_MakeWire()
        for curve in loop:
            maker.Add(edge_of(curve))
            edges.append((maker.Edge(), curve.id))
        wires.append(maker.Wire())
    face_maker = BRepBuilderAPI_MakeFace(wires[0], True)
    if len(wires) > 1:
        face_maker.Add(TopoDS.Wire(wires[1].Reversed()))
    face = face_maker.Face()
    props = GProp_GProps()
    BRepGProp.SurfaceProperties_s(face, props)
    centre = props.CentreOfMass()
    return Region(name, name, face, tuple(edges), abs(props.Mass()), (centre.X(), centre.Y()), (), 0)


def _built(name: str, wires: Sequence[Shape], edges: Sequence[tuple[Shape, str]]) -> Region:
    """A region in the plane of sketches from its outer wire and those of its holes, whichever way they run."""
    face = BRepBuilderAPI_MakeFace(TopoDS.Wire(wires[0]), True).Face()
    for wire in wires[1:]:
        # a hole runs the other way round; which way it runs now, nobody says
        tries = [_with_hole(face, w) for w in (wire, wire.Reversed())]
        face = next((f for f in tries if BRepCheck_Analyzer(f).IsValid()), tries[0])
    props = GProp_GProps()
    BRepGProp.SurfaceProperties_s(face, props)
    centre = props.CentreOfMass()
    loops = tuple(_loop(subshapes(wire, EDGE))[0] for wire in wires)
    return Region(name, name, face, tuple(edges), abs(props.Mass()), (centre.X(), centre.Y()), loops, 0)


def _with_hole(face: Any, wire: Shape) -> Any:
    maker = BRepBuilderAPI_MakeFace(face)
    maker.Add(TopoDS.Wire(wire))
    return maker.Face()


def region_of_face(solid: Any, index: int) -> tuple[Frame, list[Region]]:
    """A flat face of a named solid as a region on its own plane, ``z`` pointing out of the solid; its curves are named by the faces beyond."""
    from .measure import flat_normal

    face = solid.faces[index]
    at, normal = flat_normal(face)
    frame = Frame.on_plane(at, normal)
    home = placement(frame).Inverted()
    outer = BRepTools.OuterWire_s(face)
    wires, edges = [], []
    for wire in [outer] + [w for w in subshapes(face, WIRE) if not w.IsSame(outer)]:
        around = [edge for edge, _ in in_turn(wire)]
        made, anew = _flat_wire(around, home)
        edges += [(e, as_part(solid.names[solid.across(edge, index)][0])) for edge, e in zip(around, made, strict=True)]
        wires.append(anew)
    return frame, [_built(as_part(solid.names[index][0]), wires, edges)]


def _flat_wire(around: Sequence[Shape], home: gp_Trsf) -> tuple[list[Shape], Shape]:
    """Edges that follow each other, made anew where they lie under a transformation (the kernel's offsets go wrong on edges that only carry another place), and their wire."""
    curves = []
    for edge in around:
        adaptor = BRepAdaptor_Curve(edge)
        first, last = adaptor.FirstParameter(), adaptor.LastParameter()
        curves.append((BRep_Tool.Curve_s(edge, first, last).Transformed(home), first, last))
    maker, made = BRepBuilderAPI_MakeWire(), []
    for curve, first, last in curves:
        maker.Add(BRepBuilderAPI_MakeEdge(curve, first, last).Edge())
        if not maker.IsDone():
            break
        made.append(maker.Edge())
    else:
        return made, maker.Wire()
    # ends that lie apart by less than the solid's own tolerance, but more than the maker's
    builder, wire, corners, made = BRep_Builder(), TopoDS_Wire(), ShapeMap(), []
    builder.MakeWire(wire)
    anew: list[TopoDS_Vertex] = []
    for edge, (curve, first, last) in zip(around, curves, strict=True):
        one = TopoDS_Edge()
        builder.MakeEdge(one, curve, BRep_Tool.Tolerance_s(edge))
        for corner, way in ((TopExp.FirstVertex_s(edge), TopAbs_FORWARD), (TopExp.LastVertex_s(edge), TopAbs_REVERSED)):
            place = corners.Add(corner)
            if place > len(anew):
                vertex = TopoDS_Vertex()
                builder.MakeVertex(vertex, BRep_Tool.Pnt_s(corner).Transformed(home), BRep_Tool.Tolerance_s(corner))
                anew.append(vertex)
            builder.Add(one, anew[place - 1].Oriented(way))
        builder.Range(one, first, last)
        made.append(one.Oriented(edge.Orientation()))
        builder.Add(wire, made[-1])
    wire.Closed(True)
    return made, wire


def region_set_in(region: Region, by_mm: float) -> Region:
    """A region whose outline, holes too, is moved towards its inside (less than 0: outwards); sharp corners stay sharp.

    Raises
    ------
    StepError : nothing of it would be left, or it would fall into pieces.
    """
    way = "in" if by_mm > 0 else "out"
    refused = StepError(f"The outline cannot be set {way} by {abs(by_mm):.4g} mm; take less.")
    outer = BRepTools.OuterWire_s(TopoDS.Face(region.face))
    wires, edges = [], []
    # each outline by itself: the kernel takes them together only as they happen to run
    for wire in [outer] + [w for w in subshapes(region.face, WIRE) if not w.IsSame(outer)]:
        inwards = by_mm if wire.IsSame(outer) else -by_mm
        mine = [(edge, curve) for edge, curve in region.edges if any(edge.IsSame(e) for e in subshapes(wire, EDGE))]
        moved = _offset(wire, -inwards, mine)
        if moved is None:
            raise refused
        wires.append(moved[0])
        edges += moved[1]
    # holes that have outgrown the outline make no face
    with refusing(refused):
        made = _built(region.name, wires, edges)
    if (region.area_mm2 - made.area_mm2) * by_mm <= 0 or not BRepCheck_Analyzer(made.face).IsValid():
        raise refused
    return made


def _offset(wire: Shape, by_mm: float, edges: list[tuple[Shape, str]]) -> tuple[Shape, list[tuple[Shape, str]]] | None:
    """One closed outline moved outwards, with the curves that its edges come from; nothing where it falls apart or vanishes."""
    curve = BRepAdaptor_Curve(edges[0][0]) if len(edges) == 1 else None
    if curve is not None and curve.GetType().name == "GeomAbs_Circle":
        # the kernel crashes on circles that would vanish
        circle = curve.Circle()
        radius = circle.Radius() + by_mm
        if radius < SMALLEST_MM:
            return None
        centre = (circle.Location().X(), circle.Location().Y())
        maker = BRepBuilderAPI_MakeWire(edge_of(Circle(edges[0][1], centre, radius)))
        return maker.Wire(), [(maker.Edge(), edges[0][1])]
    try:
        face = BRepBuilderAPI_MakeFace(TopoDS.Wire(wire), True).Face()
        # which way is out depends on how the outline happens to run; a hair tells, and vanishes nothing
        hair = _set_off(face, min(abs(by_mm), 1e-3))
        if hair is None:
            return None
        way = by_mm if _area_within(hair[1]) > _area_within(wire) else -by_mm
        found = _set_off(face, way)
        if found is None or (_area_within(found[1]) - _area_within(wire)) * by_mm <= 0:
            return None
        return found[1], [(made, curve) for edge, curve in edges for made in listed(found[0].Generated(edge))]
    except Exception as error:
        if not raised_by_kernel(error):
            raise
    return None


def _set_off(face: Any, by_mm: float) -> tuple[Any, Shape] | None:
    """The kernel's offset of a face's one outline, with the wire that it gives."""
    maker = BRepOffsetAPI_MakeOffset(face, GeomAbs_Intersection, False)
    maker.Perform(by_mm)
    wires = subshapes(maker.Shape(), WIRE) if maker.IsDone() else []
    return (maker, wires[0]) if len(wires) == 1 else None


def _area_within(wire: Shape) -> float:
    props = GProp_GProps()
    BRepGProp.SurfaceProperties_s(BRepBuilderAPI_MakeFace(TopoDS.Wire(wire), True).Face(), props)
    return abs(float(props.Mass()))


def region_filled(region: Region) -> Region:
    """A region without its holes."""
    if len(region.loops) < 2:
        return region
    outer = BRepTools.OuterWire_s(TopoDS.Face(region.face))
    mine = ShapeMap()
    for edge in subshapes(outer, EDGE):
        mine.Add(edge)
    edges = [(edge, curve) for edge, curve in region.edges if mine.Contains(edge)]
    return replace(_built(region.name.partition("-")[0], [outer], edges), depth=region.depth)


def inside(place: Vec2, loop: tuple[Vec2, ...]) -> bool:
    """Whether a place lies within a sampled loop."""
    return _inside(place, np.array(loop))
