"""Solids made from a whole other one: mirrored, copied to another place, and grown by the same distance all round."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy, BRepBuilderAPI_GTransform, BRepBuilderAPI_Transform
from OCP.BRepOffset import BRepOffset_Skin
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeOffsetShape
from OCP.Geom import Geom_Line
from OCP.GeomAbs import GeomAbs_Arc, GeomAbs_Intersection
from OCP.gp import gp_Ax1, gp_Ax2, gp_Dir, gp_GTrsf, gp_Trsf, gp_Vec
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Face

from ..errors import StepError
from .by_mesh import unlike_mesh
from .check import accept, judge
from .facename import as_part
from .frame import Axis, Frame, Vec3, cross, dot, length, scale, sub, unit
from .kernel import (
    EDGE,
    FACE,
    TOLERANCE_MM,
    BRepAdaptor_Curve,
    BRepAdaptor_Surface,
    Shape,
    ShapeMap,
    TopoDS,
    ancestors,
    direction,
    flattened,
    listed,
    placement,
    point,
    raised_by_kernel,
    refusing,
    vector,
)
from .named import NamedSolid, carry, solids_of
from .screwed import moved_on_screw

__all__ = ["Motion", "grown", "moved", "scaled", "stretched"]


@dataclass(frozen=True)
class Motion:
    """A rigid motion (or a reflection), as the kernel keeps it."""

    trsf: gp_Trsf

    @staticmethod
    def shift(by_mm: Vec3) -> Motion:
        trsf = gp_Trsf()
        trsf.SetTranslation(vector(by_mm))
        return Motion(trsf)

    @staticmethod
    def turn(about: Axis, angle_rad: float) -> Motion:
        trsf = gp_Trsf()
        trsf.SetRotation(gp_Ax1(point(about.origin), direction(about.direction)), angle_rad)
        return Motion(trsf)

    @staticmethod
    def mirror(across: Frame) -> Motion:
        trsf = gp_Trsf()
        trsf.SetMirror(gp_Ax2(point(across.origin), direction(across.z)))
        return Motion(trsf)

    @staticmethod
    def into(frame: Frame) -> Motion:
        """So that what stood in a frame stands the same way at the origin."""
        return Motion(placement(frame).Inverted())

    @staticmethod
    def face_to_face(mine: Frame, theirs: Frame, against: bool) -> Motion:
        """The least turn and shift that bring one plane onto another, facing against it or the same way; along the plane nothing shifts
        that need not."""
        way = scale(theirs.z, -1.0 if against else 1.0)
        across, angle = cross(mine.z, way), math.acos(max(-1.0, min(1.0, dot(mine.z, way))))
        turn = gp_Trsf()
        if angle > 1e-12:
            # turned right over, any axis in the plane does
            about = unit(across) if length(across) > 1e-9 else mine.x
            turn.SetRotation(gp_Ax1(point(mine.origin), direction(about)), angle)
        shift = gp_Trsf()
        shift.SetTranslation(vector(scale(theirs.z, dot(sub(theirs.origin, mine.origin), theirs.z))))
        return Motion(shift.Multiplied(turn))


def moved(solid: NamedSolid, motion: Motion, made: str = "") -> NamedSolid:
    """A solid elsewhere. Faces keep their names, or are named ``made(face)``."""
    maker = BRepBuilderAPI_Transform(solid.shape, motion.trsf, True)
    result = carry(maker.Shape(), [solid], maker)
    if made:
        result = result.renamed(lambda name: f"{made}({as_part(name)})")
    wrong = accept(result, lambda: solid.volume_mm3, lambda: solid.volume_mm3)
    if wrong:
        raise StepError(f"What was moved is not a sound solid: {wrong}.")
    return result


def scaled(solid: NamedSolid, factor: float) -> NamedSolid:
    """A solid so many times as large, from the origin. Faces keep their names."""
    trsf = gp_Trsf()
    trsf.SetScale(point((0.0, 0.0, 0.0)), factor)
    maker = BRepBuilderAPI_Transform(solid.shape, trsf, True)
    result = carry(maker.Shape(), [solid], maker)

    def expected() -> float:
        return solid.volume_mm3 * factor**3

    wrong = accept(result, lambda: expected() * (1 + 1e-6), lambda: expected() * (1 - 1e-6))
    if wrong:
        raise StepError(f"So scaled it is not a sound solid: {wrong}.")
    return result


def stretched(solid: NamedSolid, factors: Vec3) -> NamedSolid:
    """A solid so many times as large in X, Y and Z, from the origin. Faces keep their names; flat ones stay flat, others become free ones.

    Raises
    ------
    StepError : the result is not sound.
    """
    if max(factors) - min(factors) < 1e-12:
        return scaled(solid, factors[0])
    gtrsf = gp_GTrsf()
    for k, factor in enumerate(factors, 1):
        gtrsf.SetValue(k, k, factor)
    refused = StepError("So scaled it is not a sound solid; take factors that are closer to one.")
    # of surfaces that others share the kernel's own transformation crashes
    copier = BRepBuilderAPI_Copy(solid.shape, True, False)
    solid = carry(copier.Shape(), [solid], copier)
    with refusing(refused):
        maker = BRepBuilderAPI_GTransform(solid.shape, gtrsf, True)
        shape = maker.Shape()
    flat = [k for k, face in enumerate(solid.faces) if BRepAdaptor_Surface(face).GetType().name == "GeomAbs_Plane"]
    _straightened(shape, [TopoDS.Face(made) for k in flat for made in listed(maker.Modified(solid.faces[k]))])
    result = carry(shape, [solid], maker)

    def expected() -> float:
        return solid.volume_mm3 * math.prod(factors)

    # a free surface follows what it came from as closely as the kernel fits it
    if accept(result, lambda: expected() * (1 + 1e-5), lambda: expected() * (1 - 1e-5)) or judge(lambda: unlike_mesh(result)):  # fmt: skip
        raise refused
    return result


def _straightened(shape: Shape, flat: list[TopoDS_Face]) -> None:
    """Give flat faces planes for their surfaces, and the straight edges between two of them lines, in place: stretched, all come as free ones."""
    builder, faces = BRep_Builder(), ShapeMap()
    for face in flat:
        faces.Add(face)
    edges = ancestors(shape, EDGE, FACE)
    for i in range(1, edges.Extent() + 1):
        edge, around = TopoDS.Edge(edges.FindKey(i)), listed(edges.FindFromIndex(i))
        curve = BRepAdaptor_Curve(edge)
        straight = curve.GetType().name == "GeomAbs_BSplineCurve" and curve.NbPoles() == 2
        if not straight or not all(faces.Contains(face) for face in around):
            continue
        for face in around:
            # what the edge is in the old surface speaks of other parameters than a line's
            where = TopLoc_Location()
            builder.UpdateEdge(edge, None, BRep_Tool.Surface_s(TopoDS.Face(face), where), where, TOLERANCE_MM)
        start, end = curve.Value(curve.FirstParameter()), curve.Value(curve.LastParameter())
        builder.UpdateEdge(edge, Geom_Line(start, gp_Dir(gp_Vec(start, end))), TopLoc_Location(), TOLERANCE_MM)
        builder.Range(edge, 0.0, start.Distance(end))
    for face in flat:
        flattened(face)


def grown(solid: NamedSolid, by_mm: float, step: str) -> NamedSolid:
    """A solid with all its faces moved outwards by a distance; sharp edges stay sharp where that is possible, else they are rounded.

    Faces are named ``step/grown(face)``. With 0 it is the solid itself, so named.

    Raises
    ------
    StepError : its faces cannot all be moved so far.
    """
    if by_mm <= 0:
        return solid.renamed(lambda name: f"{step}/grown({as_part(name)})")
    on_screw = moved_on_screw(
        solid, dict.fromkeys(range(len(solid.faces)), by_mm), lambda name: f"{step}/grown({as_part(name)})"
    )
    if on_screw is not None:
        return on_screw
    for joined in (GeomAbs_Intersection, GeomAbs_Arc):
        found = _grown(solid, by_mm, step, joined)
        if found is not None:
            return found
    raise StepError(f"The shape cannot be grown by {by_mm:.4g} mm all round; take a smaller gap.")


def _grown(solid: NamedSolid, by_mm: float, step: str, joined: Any) -> NamedSolid | None:
    maker = BRepOffsetAPI_MakeOffsetShape()
    try:
        maker.PerformByJoin(solid.shape, by_mm, 1e-4, BRepOffset_Skin, False, False, joined, False)
        if not maker.IsDone():
            return None
        shape = maker.Shape()
    except Exception as error:
        if not raised_by_kernel(error):
            raise
        return None
    if not solids_of(shape):
        return None

    def born(source: NamedSolid, faces: Any, new: dict[int, str]) -> None:
        for i, face in enumerate(source.faces):
            for made in listed(maker.Generated(face)):
                index = faces.FindIndex(made)
                if index:
                    new[index] = f"{step}/grown({as_part(source.names[i][0])})"

    result = carry(shape, [solid], maker, born, rest=f"{step}/round")

    def larger() -> str | None:
        # each face moves out by so much: the volume grows by at least its area's share, and never by nothing
        return None if result.volume_mm3 > solid.volume_mm3 * (1 + 1e-9) else "nothing was grown"

    return (
        None
        if accept(result, least_volume_mm3=lambda: solid.volume_mm3)
        or judge(larger)
        or judge(lambda: unlike_mesh(result))
        else result
    )
