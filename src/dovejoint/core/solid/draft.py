"""Draft: faces leant over by an angle, about where a plane meets them."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRepOffsetAPI import BRepOffsetAPI_DraftAngle
from OCP.gp import gp_Pln
from OCP.TopoDS import TopoDS_Face

from ..errors import StepError
from .check import accept, judge
from .frame import Frame
from .kernel import TopoDS, direction, listed, plane, refusing
from .named import NamedSolid, carry

__all__ = ["drafted"]


def drafted(solid: NamedSolid, faces: Sequence[int], neutral: Frame, angle_rad: float, step: str) -> NamedSolid:
    """Lean faces (0-based) over by an angle towards the side that a plane faces; where the plane meets them they stay.

    An angle above zero narrows the solid in the direction of the plane's ``z``. All faces keep their names.

    Raises
    ------
    StepError : a face cannot lean so far, or at all.
    """
    if abs(angle_rad) < 1e-9:
        return solid
    maker = BRepOffsetAPI_DraftAngle(solid.shape)
    way, base = direction(neutral.z), plane(neutral)
    refused = StepError(
        "These faces cannot lean over so: a face that lies level, a rounding, or too large an angle does not. "
        "Draft before rounding, or take a smaller angle."
    )
    with refusing(refused):
        for index in faces:
            _add(maker, TopoDS.Face(solid.faces[index]), way, angle_rad, base)
            if not maker.AddDone():
                raise refused
        maker.Build()
        if not maker.IsDone():
            raise refused
        shape = maker.Shape()

    def born(source: NamedSolid, found: object, new: dict[int, str]) -> None:
        # the kernel calls a face that leans “generated” by the one that stood there
        for i, face in enumerate(source.faces):
            for made in listed(maker.Generated(face)):
                index = found.FindIndex(made)  # type: ignore[attr-defined]
                if index:
                    new[index] = source.names[i][0]

    result = carry(shape, [solid], maker, born, rest=f"{step}/draft")

    def changed() -> str | None:
        same = abs(result.volume_mm3 - solid.volume_mm3) < 1e-9 * solid.volume_mm3
        return "nothing leans" if same and len(faces) == 1 else None

    if accept(result) or judge(changed):
        raise refused
    return result


def _add(maker: BRepOffsetAPI_DraftAngle, face: TopoDS_Face, way: object, angle_rad: float, base: gp_Pln) -> None:
    maker.Add(face, way, float(angle_rad), base)
