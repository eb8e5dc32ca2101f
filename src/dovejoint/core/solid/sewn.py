"""Solids from loose faces that meet edge to edge."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_Sewing
from OCP.BRepLib import BRepLib
from OCP.TopAbs import TopAbs_SHELL
from OCP.TopoDS import TopoDS_Shell, TopoDS_Solid

from .kernel import Shape, TopoDS, subshapes

__all__ = ["sewn"]


def sewn(faces: Sequence[Shape], within_mm: float) -> tuple[Shape, list[Shape]] | None:
    """One solid bounded by faces whose edges lie within so much of each other, and what became of each of them; ``None`` where they do not close."""
    sewing = BRepBuilderAPI_Sewing(within_mm)
    for face in faces:
        sewing.Add(face)
    sewing.Perform()
    shells = subshapes(sewing.SewedShape(), TopAbs_SHELL)
    if len(faces) == 1 and not shells:
        # a face that closes on itself is sewn to nothing
        shell = TopoDS_Shell()
        BRep_Builder().MakeShell(shell)
        BRep_Builder().Add(shell, sewing.SewedShape())
        shells = [shell]
    if len(shells) != 1 or sewing.NbFreeEdges():
        return None
    solid = TopoDS_Solid()
    BRep_Builder().MakeSolid(solid)
    BRep_Builder().Add(solid, TopoDS.Shell(shells[0]))
    BRepLib.OrientClosedSolid_s(solid)
    return solid, [sewing.Modified(face) if sewing.IsModified(face) else face for face in faces]
