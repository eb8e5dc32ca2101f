"""Solids from loose faces that meet edge to edge."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_Sewing
from OCP.BRepLib import BRepLib
from OCP.TopAbs import TopAbs_SHELL
from OCP.TopoDS import TopoDS_Shell, TopoDS_Solid

from .by_mesh import unlike_mesh
from .check import accept, judge
from .kernel import FACE, Shape, TopoDS, shape_map, subshapes
from .named import NamedSolid

__all__ = ["sewn", "sewn_named"]


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


def sewn_named(faces: Sequence[tuple[Shape, str]], within_mm: float) -> NamedSolid | None:
    """One sound solid of faces, each with its name; ``None`` where there is none."""
    found = sewn([face for face, _ in faces], within_mm)
    if found is None:
        return None
    solid, images = found
    order = shape_map(solid, FACE)
    names = {order.FindIndex(image): name for image, (_, name) in zip(images, faces, strict=True)}
    if sorted(names) != list(range(1, order.Extent() + 1)):
        return None
    result = NamedSolid(solid, [(names[k],) for k in sorted(names)])
    return None if accept(result) or judge(lambda: unlike_mesh(result)) else result
