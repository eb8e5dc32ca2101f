"""Geometry of the plug-in lip: a plate on an open end, with a rim that goes in."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from OCP.BRepTools import BRepTools, BRepTools_WireExplorer
from OCP.TopAbs import TopAbs_REVERSED

from ..errors import StepError
from .combine import cut, fuse
from .facename import as_part
from .finish import chamfer
from .flatten import edge_place
from .frame import Frame
from .kernel import WIRE, BRepAdaptor_Curve, Shape, TopoDS, subshapes, vec
from .make import prism
from .mass import surface_kind
from .measure import flat_normal
from .named import NamedSolid
from .outline import Arc, Circle, Curve, Line, Vec2, area_mm2, offset_chain, offset_inward, place_at
from .regions import region_between

__all__ = ["face_chain", "face_loops", "plain_names", "plate_with_lip", "pointed", "recess", "rim_ring", "rim_strip"]


def face_loops(solid: NamedSolid, index: int) -> tuple[Frame, list[list[Curve]]]:
    """A flat face's frame (``z`` out of the solid) and its loops, the outer one first.

    Each loop runs counter-clockwise seen from outside; each curve's id is the name of the face beyond it.

    Raises
    ------
    StepError : the face is not flat, or an edge is neither straight nor round.
    """
    face = solid.faces[index]
    if surface_kind(face) != "plane":
        raise StepError("This joint needs a flat face; the one picked is round.")
    at, normal = flat_normal(face)
    frame = Frame.on_plane(at, normal)
    outer = BRepTools.OuterWire_s(face)
    wires = [outer] + [w for w in subshapes(face, WIRE) if not w.IsSame(outer)]
    return frame, [_loop(solid, index, wire, frame) for wire in wires]


def _loop(solid: NamedSolid, index: int, wire: Shape, frame: Frame) -> list[Curve]:
    curves: list[Curve] = []
    explorer = BRepTools_WireExplorer(TopoDS.Wire(wire), solid.faces[index])
    while explorer.More():
        edge = explorer.Current()
        curves.append(_curve(edge, frame, solid.names[solid.across(edge, index)][0]))
        explorer.Next()
    if len(curves) > 1 and area_mm2(curves) < 0:
        curves = [_turned(c) for c in reversed(curves)]
    return curves


def face_chain(solid: NamedSolid, index: int, edges: Sequence[int]) -> tuple[Frame, list[list[Curve]], list[Curve]]:
    """A flat face's frame and loops, and the open chain that some edges of the part make along it, which runs so that the face lies on its right.

    Each curve of the chain has an id of its own: the name of the face beyond it, counted where that face lies beyond several.

    Raises
    ------
    StepError : as :func:`face_loops`; an edge does not bound the face, or they make no single chain with two ends.
    """
    frame, loops = face_loops(solid, index)
    places = [frame.to_local(edge_place(solid, k, 0.5)[0]) for k in edges]
    middles = [[place_at(c, 0.5) for c in loop] for loop in loops]
    wanted: set[tuple[int, int]] = set()
    for x, y, z in places:
        hit = [
            (k, i)
            for k, row in enumerate(middles)
            for i, (u, v) in enumerate(row)
            if abs(x - u) + abs(y - v) + abs(z) < 1e-4
        ]
        if not hit:
            raise StepError("One of these edges does not bound that face; pick edges of the face itself.")
        wanted.add(hit[0])
    which = {k for k, _ in wanted}
    if len(which) > 1:
        raise StepError("These edges belong to different outlines of the face; pick a chain of one of them.")
    number = which.pop()
    loop, picked = loops[number], sorted(i for _, i in wanted)
    if len(picked) == len(loop):
        raise StepError("These edges go all the way round: take the joint along a rim, which has no ends.")
    begins = [i for i in picked if (i - 1) % len(loop) not in picked]
    if len(begins) != 1:
        raise StepError("These edges do not run on from one another; pick edges that make one chain.")
    chain = [loop[(begins[0] + k) % len(loop)] for k in range(len(picked))]
    if number == 0:
        # an outline runs with its face on the left
        chain = [_turned(c) for c in reversed(chain)]
    seen: dict[str, int] = {}
    named = []
    for curve in chain:
        seen[curve.id] = seen.get(curve.id, 0) + 1
        named.append(replace(curve, id=curve.id if seen[curve.id] == 1 else f"{curve.id}.{seen[curve.id]}"))
    return frame, loops, named


def _curve(edge: Shape, frame: Frame, name: str) -> Curve:
    adaptor = BRepAdaptor_Curve(TopoDS.Edge(edge))
    first, last = adaptor.FirstParameter(), adaptor.LastParameter()
    if edge.Orientation() == TopAbs_REVERSED:
        first, last = last, first

    def flat(p: Any) -> Vec2:
        local = frame.to_local(vec(p))
        return (local[0], local[1])

    start, end = flat(adaptor.Value(first)), flat(adaptor.Value(last))
    kind = adaptor.GetType().name
    if kind == "GeomAbs_Line":
        return Line(name, start, end)
    if kind == "GeomAbs_Circle":
        circle = adaptor.Circle()
        centre = flat(circle.Location())
        if abs(abs(last - first) - 6.283185307179586) < 1e-9:
            return Circle(name, centre, circle.Radius())
        middle = flat(adaptor.Value((first + last) / 2))
        side = (end[0] - start[0]) * (middle[1] - start[1]) - (end[1] - start[1]) * (middle[0] - start[0])
        return Arc(name, centre, circle.Radius(), start, end, clockwise=side > 0)
    raise StepError("This joint needs an outline of straight and round edges; one of these is a free curve.")


def _turned(curve: Curve) -> Curve:
    if isinstance(curve, Line):
        return Line(curve.id, curve.end, curve.start)
    if isinstance(curve, Arc):
        return replace(curve, start=curve.end, end=curve.start, clockwise=not curve.clockwise)
    return curve


def _marked(loop: Sequence[Curve], mark: str) -> list[Curve]:
    return [replace(curve, id=f"{mark}:{as_part(curve.id)}") for curve in loop]


def plate_with_lip(
    frame: Frame,
    outer: Sequence[Curve],
    opening: Sequence[Curve],
    *,
    inset_mm: float,
    lip_mm: float,
    height_mm: float,
    plate_mm: float,
    lead_mm: float,
    step: str,
) -> NamedSolid:
    """A plate on an outline with a rim that goes into the opening.

    Faces: ``step/plate(edge)``, ``step/seat``, ``step/back``, ``step/lip(wall)`` on the mating side,
    ``step/lip-inner(wall)``, ``step/lip-end`` and ``step/lead(wall)``.
    """
    outside = offset_inward(opening, inset_mm, "the opening")
    inside = offset_inward(outside, lip_mm, "the lip")
    plate = prism(region_between("plate", _marked(outer, "plate")), frame, 0.0, plate_mm, step, check=False)
    ring = prism(
        region_between("lip", _marked(outside, "lip"), _marked(inside, "lip-inner")),
        frame,
        0.0,
        -height_mm,
        step,
        check=False,
    )
    ring = _ends_named(ring, "lip")
    plate = plate.renamed(lambda n: n.replace("/start", "/seat").replace("/end", "/back"))
    if lead_mm > 0:
        ring = pointed(ring, lead_mm, step, inner=False)
    # plate and lip meet at right angles, so no faces lie level
    whole = fuse(plate, [ring], step, merge=False)
    return whole.renamed(_plain)


def rim_ring(
    frame: Frame,
    opening: Sequence[Curve],
    *,
    begins_mm: float,
    wide_mm: float,
    low_mm: float,
    high_mm: float,
    step: str,
    mark: str,
) -> NamedSolid:
    """A ring that follows an opening so far outside of it, between two heights.

    Faces: ``step/mark(wall)`` outside, ``step/mark-inner(wall)`` inside, ``step/mark-root`` (low) and ``step/mark-end`` (high). ``mark`` is ``lip`` or ``recess``.
    """
    inside = offset_inward(opening, -begins_mm, "the opening") if abs(begins_mm) > 1e-9 else list(opening)
    outside = offset_inward(opening, -begins_mm - wide_mm, "the opening")
    region = region_between(mark, _marked(outside, mark), _marked(inside, f"{mark}-inner"))
    made = prism(region, frame, low_mm, high_mm, step, check=False)
    return _ends_named(made, mark)


def _ends_named(made: NamedSolid, mark: str) -> NamedSolid:
    return made.renamed(lambda n: n.replace("/start", f"/{mark}-root").replace("/end", f"/{mark}-end"))


def rim_strip(
    frame: Frame,
    chain: Sequence[Curve],
    *,
    begins_mm: float,
    wide_mm: float,
    longer_mm: float,
    low_mm: float,
    high_mm: float,
    step: str,
    mark: str,
) -> NamedSolid:
    """As :func:`rim_ring`, along an open chain with what it begins from on its left, as much longer at both ends as is told (or shorter); these are ``step/mark(from)`` and
    ``step/mark(to)``.

    Raises
    ------
    StepError : as :func:`offset_chain`; or the chain does not begin and end straight.
    """
    first, last = chain[0], chain[-1]
    if not isinstance(first, Line) or not isinstance(last, Line):
        raise StepError("A chain begins and ends with a straight edge; pick one more edge, or one less.")
    near, far = (_longer(offset_chain(chain, -by, "the chain"), longer_mm) for by in (begins_mm, begins_mm + wide_mm))
    (a, b), (c, d) = ((row[0].start, row[-1].end) for row in (near, far))  # type: ignore[union-attr]
    outline = [
        *_marked(near, f"{mark}-inner"), Line(f"{mark}:to", b, d), *(_turned(x) for x in reversed(_marked(far, mark))), Line(f"{mark}:from", c, a),
    ]  # fmt: skip
    made = prism(region_between(mark, outline), frame, low_mm, high_mm, step, check=False)
    return _ends_named(made, mark)


def _longer(chain: list[Curve], by_mm: float) -> list[Curve]:
    """A chain whose straight ends go on by so much. Raises StepError where it takes them away."""
    out = list(chain)
    for k, sign in ((0, 1.0), (-1, -1.0)):
        line = out[k]
        assert isinstance(line, Line)
        size = math.dist(line.start, line.end)
        if size + by_mm < 1e-3:
            raise StepError("The gap leaves nothing of the edge that the chain ends with; pick one edge less.")
        dx, dy = ((line.end[i] - line.start[i]) / size * by_mm * sign for i in (0, 1))
        if k == 0:
            out[0] = replace(line, start=(line.start[0] - dx, line.start[1] - dy))
        else:
            out[-1] = replace(line, end=(line.end[0] - dx, line.end[1] - dy))
    return out


def pointed(ring: NamedSolid, lead_mm: float, step: str, inner: bool) -> NamedSolid:
    """A ring with its high end chamfered outside, and inside too where that is asked."""
    marks = ("(lip:", "(lip-inner:") if inner else ("(lip:",)
    end = ring.find(f"{step}/lip-end")[0]
    edges = [
        i
        for i, (_, pair) in enumerate(ring.edges)
        if end in pair and any(m in ring.names[f][0] for f in pair for m in marks)
    ]
    return chamfer(ring, edges, lead_mm, lead_mm, step)


def plain_names(solid: NamedSolid) -> NamedSolid:
    """With the names that rings have once they are part of something."""
    return solid.renamed(_plain)


def _plain(name: str) -> str:
    """``s/side(lip:x)`` → ``s/lip(x)`` and ``s/chamfer(s/lip-end|s/side(lip:x))`` → ``s/lead(x)``."""
    head, _, tail = name.partition("/")
    for mark in ("plate", "lip-inner", "lip", "recess", "recess-inner"):
        if tail.startswith(f"side({mark}:"):
            return f"{head}/{mark}({tail[len(f'side({mark}:') : -1]})"
        if tail.startswith("chamfer(") and f"/side({mark}:" in tail:
            inner = tail[tail.index(f"/side({mark}:") + len(f"/side({mark}:") :]
            return (
                f"{head}/lead({inner[: inner.rindex('))')]})" if inner.endswith("))") else f"{head}/lead({inner[:-1]})"
            )
    return name


def recess(
    host: NamedSolid, frame: Frame, opening: Sequence[Curve], *, outset_mm: float, depth_mm: float, step: str
) -> NamedSolid:
    """Widen an opening by a distance all round, down to a depth. New walls are ``step/recess(wall)``."""
    outside = offset_inward(opening, -outset_mm, "the opening")
    # the cutter's inner side lies in the free opening, far enough in to cut nothing there
    inside = offset_inward(opening, min(0.2, outset_mm), "the opening")
    tool = prism(
        region_between("recess", _marked(outside, "recess"), _marked(inside, "recess-inner")),
        frame,
        1.0,
        -depth_mm,
        step,
    )
    tool = tool.renamed(lambda n: n.replace("/start", "/recess-mouth").replace("/end", "/recess-floor"))
    return cut(host, [tool], step).renamed(_plain)
