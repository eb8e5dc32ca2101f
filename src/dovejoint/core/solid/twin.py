"""Solids made from a whole other one: mirrored, copied to another place, and grown by the same distance all round."""

from __future__ import annotations

from typing import Any

from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.BRepOffset import BRepOffset_Skin
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeOffsetShape
from OCP.GeomAbs import GeomAbs_Arc, GeomAbs_Intersection
from OCP.gp import gp_Ax1, gp_Ax2, gp_Trsf

from ..errors import StepError
from .check import accept, judge
from .facename import as_part
from .frame import Axis, Frame, Vec3
from .kernel import direction, listed, point, raised_by_kernel, vector
from .named import NamedSolid, carry, solids_of

__all__ = ["grown", "mirrored", "shifted", "turned"]


def mirrored(solid: NamedSolid, across: Frame, step: str) -> NamedSolid:
    """A solid as its mirror image across a frame's plane. Faces are named ``step/mirror(face)``."""
    reflection = gp_Trsf()
    reflection.SetMirror(gp_Ax2(point(across.origin), direction(across.z)))
    return _placed(solid, reflection, f"{step}/mirror")


def shifted(solid: NamedSolid, by_mm: Vec3, step: str, number: int) -> NamedSolid:
    """A copy of a solid elsewhere. Faces are named ``step/copy<number>(face)``."""
    shift = gp_Trsf()
    shift.SetTranslation(vector(by_mm))
    return _placed(solid, shift, f"{step}/copy{number}")


def turned(solid: NamedSolid, about: Axis, angle_rad: float, step: str, number: int) -> NamedSolid:
    """A copy of a solid, turned about an axis (the way a right-hand screw goes along it). Faces are named ``step/copy<number>(face)``."""
    turn = gp_Trsf()
    turn.SetRotation(gp_Ax1(point(about.origin), direction(about.direction)), angle_rad)
    return _placed(solid, turn, f"{step}/copy{number}")


def _placed(solid: NamedSolid, where: gp_Trsf, made: str) -> NamedSolid:
    maker = BRepBuilderAPI_Transform(solid.shape, where, True)
    result = carry(maker.Shape(), [solid], maker).renamed(lambda name: f"{made}({as_part(name)})")
    wrong = accept(result, lambda: solid.volume_mm3, lambda: solid.volume_mm3)
    if wrong:
        raise StepError(f"The copy is not a sound solid: {wrong}.")
    return result


def grown(solid: NamedSolid, by_mm: float, step: str) -> NamedSolid:
    """A solid with all its faces moved outwards by a distance; sharp edges stay sharp where that is possible, else they are rounded.

    Faces are named ``step/grown(face)``. With 0 it is the solid itself, so named.

    Raises
    ------
    StepError : its faces cannot all be moved so far.
    """
    if by_mm <= 0:
        return solid.renamed(lambda name: f"{step}/grown({as_part(name)})")
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

    return None if accept(result, least_volume_mm3=lambda: solid.volume_mm3) or judge(larger) else result
