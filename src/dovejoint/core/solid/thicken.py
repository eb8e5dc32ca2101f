"""A wall on faces: what lies between some faces of a solid and the same faces at a distance."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from OCP.BRep import BRep_Builder
from OCP.BRepLib import BRepLib
from OCP.BRepOffset import BRepOffset_MakeOffset, BRepOffset_Skin
from OCP.GeomAbs import GeomAbs_Intersection
from OCP.TopoDS import TopoDS_Shell

from ..errors import StepError
from .by_mesh import unlike_mesh
from .check import accept, judge
from .facename import as_part
from .kernel import EDGE, TopoDS, listed, refusing, subshapes
from .measure import describe_faces
from .named import NamedSolid, carry, edge_name, solids_of

__all__ = ["thickened"]


def thickened(solid: NamedSolid, faces: Sequence[int], by_mm: float, step: str) -> NamedSolid:
    """The wall on faces (0-based) of a solid, which hang together: from them so far out, or into the solid where it is below zero.

    Its faces are ``step/under(face)`` where it lies on them, ``step/over(face)`` at the distance, and ``step/side(face|face)`` where they end.

    Raises
    ------
    StepError : the faces do not hang together, or the wall would run into itself.
    """
    refused = StepError(
        f"A wall of {abs(by_mm):.4g} mm does not go on these faces: it would run into itself, or they do not hang together. "
        "Take less, or fewer faces."
    )
    for info in (describe_faces(solid)[i] for i in faces):
        # beyond its middle a round face is there again, the wrong way round
        if info.radius_mm is not None and (by_mm if info.hollow else -by_mm) >= info.radius_mm - 1e-6:
            raise refused
    builder, sheet = BRep_Builder(), TopoDS_Shell()
    builder.MakeShell(sheet)
    for index in faces:
        builder.Add(sheet, solid.faces[index])
    maker = BRepOffset_MakeOffset()
    with refusing(refused):
        maker.Initialize(sheet, by_mm, 1e-5, BRepOffset_Skin, False, False, GeomAbs_Intersection, True, False)
        maker.MakeOffsetShape()
        if not maker.IsDone() or len(solids_of(maker.Shape())) != 1:
            raise refused
        shape = solids_of(maker.Shape())[0]
        if by_mm < 0:
            BRepLib.OrientClosedSolid_s(TopoDS.Solid(shape))
    chosen = NamedSolid(sheet, [solid.names[i] for i in faces])

    def born(source: NamedSolid, found: Any, new: dict[int, str]) -> None:
        for i, face in enumerate(chosen.faces):
            part = as_part(chosen.names[i][0])
            for made in listed(maker.Generated(face)):
                if found.FindIndex(made):
                    new[found.FindIndex(made)] = f"{step}/over({part})"
        # where the wall ends, it begins at an edge of the solid: it is called by the faces on both sides of that
        sides = {solid.edge_map.FindIndex(edge): pair for edge, pair in solid.edges if len(set(pair) & set(faces)) == 1}
        for k in range(1, found.Extent() + 1):
            for edge in subshapes(found.FindKey(k), EDGE):
                pair = sides.get(solid.edge_map.FindIndex(edge))
                if pair is not None:
                    new.setdefault(k, f"{step}/side({edge_name(solid.names[pair[0]][0], solid.names[pair[1]][0])})")

    result = carry(shape, [chosen], maker, born, rest=f"{step}/side")
    own = {name for i in faces for name in solid.names[i]}
    result = result.renamed(lambda name: f"{step}/under({as_part(name)})" if name in own else name)

    def as_thick() -> str | None:
        # between the faces' area and that of the faces at the distance, times the distance
        area = sum(solid.areas[i][0] for i in faces)
        return (
            None
            if result.volume_mm3 < 4 * area * abs(by_mm) and result.volume_mm3 > area * abs(by_mm) / 4
            else "far from its area"
        )

    if accept(result) or judge(as_thick) or judge(lambda: unlike_mesh(result)):
        raise refused
    return result
