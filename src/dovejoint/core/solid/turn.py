"""Solids about an axis: outlines revolved, pins and bores, and where an axis meets a part."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from OCP.BRepPrimAPI import BRepPrimAPI_MakeRevol
from OCP.gp import gp_Ax1, gp_Lin, gp_Trsf
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector
from OCP.TopLoc import TopLoc_Location

from ..errors import StepError
from .check import accept
from .facename import as_part
from .finish import chamfer
from .frame import Axis, Frame, Vec3, add, cross, dot, scale, sub, unit
from .kernel import BRepAdaptor_Surface, direction, placement, point, vec
from .make import prism, swept
from .measure import normal_at
from .named import NamedSolid
from .outline import Circle
from .regions import Region, region_between

__all__ = ["RoundFace", "bar", "meets_at", "revolve", "round_face"]

#: an axis lies in a plane, and an outline on its side of it, within this, mm
ON_MM = 1e-5


def _flat_axis(axis: Axis, frame: Frame) -> None:
    """Refuse an axis that does not lie in the outline's plane."""
    away = dot(sub(axis.origin, frame.origin), frame.z)
    if abs(dot(axis.direction, frame.z)) > 1e-9 or abs(away) > ON_MM:
        raise StepError("An outline turns about an axis in its own plane; this axis does not lie in it.", field="axis")


def _one_side(region: Region, frame: Frame, axis: Axis) -> float:
    """The distance of the region's middle from the axis, signed; refuses a region that the axis goes through."""
    across = unit(cross(axis.direction, frame.z))
    away = [dot(sub(frame.to_world(*p), axis.origin), across) for loop in region.loops for p in loop]
    if min(away) < -ON_MM and max(away) > ON_MM:
        raise StepError("The axis goes through the outline; an outline may touch it but not cross it.", field="axis")
    return dot(sub(frame.to_world(*region.centre), axis.origin), across)


def revolve(
    region: Region, frame: Frame, axis: Axis, start_rad: float, end_rad: float, step: str, mark: str = ""
) -> NamedSolid:
    """Turn a region about an axis in its plane, from one angle to another (right-handed about the axis's direction).

    Faces are named ``step/side(curve)``, and ``step/start`` and ``step/end`` where it is no full turn; ``mark`` tells the regions of one
    step apart. The volume is checked against Pappus's theorem: area × way of the middle.

    Raises
    ------
    StepError : the axis lies elsewhere or goes through the outline, or the result is not sound.
    """
    sweep = end_rad - start_rad
    if abs(sweep) < 1e-6:
        raise StepError("A turn needs an angle above zero.", field="angle")
    if abs(sweep) > 2 * math.pi + 1e-9:
        raise StepError("A turn goes once round at most: 360 deg.", field="angle")
    _flat_axis(axis, frame)
    radius = _one_side(region, frame, axis)
    full = abs(abs(sweep) - 2 * math.pi) < 1e-9
    about = gp_Ax1(point(axis.origin), direction(axis.direction))
    trsf = gp_Trsf()
    trsf.SetRotation(about, 0.0 if full else start_rad)
    location = TopLoc_Location(trsf.Multiplied(placement(frame)))
    face = region.face.Moved(location)
    # the kernel reads a whole number as its flag for copying
    maker = BRepPrimAPI_MakeRevol(face, about, float(sweep), True)
    shape = maker.Shape()
    if shape is None or shape.IsNull():
        raise StepError(f"The region {region.name} does not turn into a solid.")
    solid = swept(maker, region, location, step, mark, ends=not full, called=as_part)
    expected = region.area_mm2 * abs(radius * sweep)
    wrong = accept(solid, expected * (1 + 1e-4), expected * (1 - 1e-4))
    if wrong:
        raise StepError(f"The region {region.name} does not turn into a solid: {wrong}.")
    return solid


@dataclass(frozen=True)
class RoundFace:
    """A cylindrical face: its axis, radius (mm), between which heights over the axis's origin it lies, and whether it is a bore."""

    axis: Axis
    radius_mm: float
    low_mm: float
    high_mm: float
    hollow: bool


def round_face(solid: NamedSolid, index: int) -> RoundFace | None:
    """A cylindrical face (0-based) with its extent; ``None`` when it is another one."""
    surface = BRepAdaptor_Surface(solid.faces[index])
    if surface.GetType().name != "GeomAbs_Cylinder":
        return None
    cylinder = surface.Cylinder()
    axis = Axis(vec(cylinder.Axis().Location()), vec(cylinder.Axis().Direction()))
    low, high = surface.FirstVParameter(), surface.LastVParameter()
    u = (surface.FirstUParameter() + surface.LastUParameter()) / 2
    at, normal = normal_at(solid.faces[index], u, (low + high) / 2, surface)
    ends = sorted(dot(sub(vec(surface.Value(u, v)), axis.origin), axis.direction) for v in (low, high))
    return RoundFace(axis, float(cylinder.Radius()), ends[0], ends[1], dot(axis.away(at), normal) < 0)


def meets_at(solid: NamedSolid, axis: Axis) -> list[float]:
    """Where an axis goes through a part's surface: distances from its origin along it, sorted, mm."""
    tool = IntCurvesFace_ShapeIntersector()
    tool.Load(solid.shape, 1e-7)
    tool.Perform(gp_Lin(point(axis.origin), direction(axis.direction)), -1e5, 1e5)
    if not tool.IsDone():
        return []
    found = sorted(float(tool.WParameter(i)) for i in range(1, tool.NbPnt() + 1))
    return [w for i, w in enumerate(found) if i == 0 or w - found[i - 1] > 1e-6]


def crest_gaps(
    outer: NamedSolid,
    inner: NamedSolid,
    frame: Frame,
    low_mm: float,
    high_mm: float,
    crests_rad: Sequence[float],
    reach_mm: float,
) -> list[tuple[float, Vec3, Vec3] | None]:
    """The least gap of each crest that stands in towards a frame's ``z``: along lines out of it at three heights, with the points on both halves; signed.

    ``None`` where one of them is not met there. ``crests_rad`` count from the frame's ``x``; what lies farther in than ``reach_mm`` from the inner half is not its crest.
    """
    out: list[tuple[float, Vec3, Vec3] | None] = []
    for angle in crests_rad:
        way = sub(frame.to_world(math.cos(angle), math.sin(angle), 0.0), frame.origin)
        read = []
        for share in (0.1, 0.5, 0.9):
            line = Axis(frame.to_world(0.0, 0.0, low_mm + share * (high_mm - low_mm)), way)
            mine = [w for w in meets_at(inner, line) if w > 0]
            theirs = [w for w in meets_at(outer, line) if mine and w > mine[-1] - reach_mm]
            if mine and theirs:
                ends = [add(line.origin, scale(way, w)) for w in (theirs[0], mine[-1])]
                read.append((theirs[0] - mine[-1], ends[0], ends[1]))
        out.append(min(read, key=lambda r: r[0]) if read else None)
    return out


def bar(
    frame: Frame, radius_mm: float, low_mm: float, high_mm: float, step: str, word: str, lead_mm: float = 0.0
) -> NamedSolid:
    """A round bar along a frame's ``z``, centred on it, between two heights, with a chamfer at its lower end.

    Faces: ``step/word``, ``step/word-end`` (lower), ``step/word-head`` (upper) and ``step/lead``.
    """
    outline = region_between("bar", [Circle("bar", (0.0, 0.0), radius_mm)])
    made = prism(outline, frame, high_mm, low_mm, step, check=False)
    plain = {
        f"{step}/side(bar)": f"{step}/{word}",
        f"{step}/end": f"{step}/{word}-end",
        f"{step}/start": f"{step}/{word}-head",
    }
    made = made.renamed(lambda n: plain.get(n, n))
    if lead_mm > 0:
        end = made.find(f"{step}/{word}-end")[0]
        rim = [i for i, (_, pair) in enumerate(made.edges) if end in pair and pair[0] != pair[1]]
        made = chamfer(made, rim, lead_mm, lead_mm, step).renamed(
            lambda n: f"{step}/lead" if n.startswith(f"{step}/chamfer(") else n
        )
    return made
