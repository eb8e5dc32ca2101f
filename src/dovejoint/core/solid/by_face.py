"""Dividing a solid along a face of another one, whatever its shape: round ones run on all round and as far as the solid goes."""

from __future__ import annotations

import math
from typing import Any

from OCP.BRep import BRep_Tool
from OCP.BRepAlgoAPI import BRepAlgoAPI_Splitter
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepTools import BRepTools
from OCP.GeomAPI import GeomAPI_ProjectPointOnSurf
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopoDS import TopoDS_Face

from ..errors import StepError
from .check import accept
from .frame import box_corners, dot, length, sub
from .kernel import FACE, BRepAdaptor_Surface, Shape, TopoDS, as_list, compound, listed, point, refusing, subshapes
from .measure import bounds, inside_point, normal_at
from .named import NamedSolid, carry, solids_of

__all__ = ["side_of_face"]


def side_of_face(solid: NamedSolid, other: NamedSolid, face: int, step: str, over: bool) -> NamedSolid:
    """What of a solid lies on the side that a face (0-based) of another looks to, or on the other side. New faces are ``step/divide``.

    Raises
    ------
    StepError : the face, run on, does not go through the solid.
    """
    refused = StepError("That face does not go through the part, so there is nothing to divide.")
    with refusing(refused):
        sheet = _run_on(TopoDS.Face(other.faces[face]), solid)
        maker = BRepAlgoAPI_Splitter()
        maker.SetArguments(as_list([solid.shape]))
        maker.SetTools(as_list([sheet]))
        maker.SetNonDestructive(True)
        maker.Build()
        if not maker.IsDone():
            raise refused
        pieces = solids_of(maker.Shape())
    if len(pieces) < 2:
        raise refused
    made = [sheet, *listed(maker.Modified(sheet))]
    mine = [p for p in pieces if _looked_to(p, sheet, made) == over]
    if not mine or len(mine) == len(pieces):
        raise refused

    def born(source: NamedSolid, found: Any, new: dict[int, str]) -> None:
        for piece in made:
            for image in subshapes(piece, FACE):
                if found.FindIndex(image):
                    new[found.FindIndex(image)] = f"{step}/divide"

    result = carry(mine[0] if len(mine) == 1 else compound(mine), [solid], maker, born, rest=f"{step}/divide")
    if accept(result, lambda: solid.volume_mm3):
        raise StepError("Divided along that face it does not leave a sound solid; move one of them by a little.")
    return result


def _looked_to(piece: Shape, sheet: Shape, made: list[Shape]) -> bool:
    """Whether a piece lies where the sheet looks to: there the piece's own face on it looks the other way."""
    whole = TopoDS.Face(sheet)
    for face in subshapes(piece, FACE):
        if any(face.IsSame(m) for m in made):
            place, outward = inside_point(face)
            at = GeomAPI_ProjectPointOnSurf(point(place), BRep_Tool.Surface_s(whole))
            u, v = at.LowerDistanceParameters()
            return dot(outward, normal_at(whole, u, v)[1]) < 0
    return False


def _run_on(face: TopoDS_Face, solid: NamedSolid) -> Shape:
    """A face as large as its surface goes, or as it need be, that looks the same way. Free surfaces end where they end."""
    surface, adaptor = BRep_Tool.Surface_s(face), BRepAdaptor_Surface(face)
    corners = box_corners(*bounds(solid.shape))
    reach = max(length(sub(a, b)) for a in corners for b in (*corners, *box_corners(*bounds(face)))) + 1.0
    low_u, high_u, low_v, high_v = surface.Bounds()
    left, right, bottom, top = BRepTools.UVBounds_s(face)
    kind = adaptor.GetType().name
    if kind == "GeomAbs_Plane":
        low_u, high_u = left - reach, right + reach
    if kind in ("GeomAbs_Plane", "GeomAbs_Cylinder", "GeomAbs_Cone", "GeomAbs_SurfaceOfExtrusion"):
        low_v, high_v = bottom - reach, top + reach
    if kind == "GeomAbs_Cone":
        # on its own side of the tip
        cone = adaptor.Cone()
        tip = -cone.RefRadius() / math.sin(cone.SemiAngle())
        low_v, high_v = (max(low_v, tip), high_v) if bottom >= tip - 1e-9 else (low_v, min(high_v, tip))
    made = BRepBuilderAPI_MakeFace(surface, low_u, high_u, low_v, high_v, 1e-6).Face()
    return made.Reversed() if face.Orientation() == TopAbs_REVERSED else made
