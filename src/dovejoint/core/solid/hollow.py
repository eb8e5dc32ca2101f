"""Shell: hollow a solid, leaving walls, with some faces open."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from OCP.BRepOffset import BRepOffset_MakeOffset, BRepOffset_Skin
from OCP.GeomAbs import GeomAbs_Intersection

from ..errors import StepError
from .by_mesh import unlike_mesh
from .check import accept, judge, putting_off
from .facename import short
from .kernel import TopoDS, compound, listed, raised_by_kernel
from .named import NamedSolid, carry, lumps_of

__all__ = ["shell"]


def shell(
    solid: NamedSolid,
    open_faces: Sequence[int],
    wall_mm: float,
    step: str,
    outward: bool = False,
    walls_mm: Mapping[int, float] | None = None,
) -> NamedSolid:
    """Hollow a solid, leaving walls of a thickness; the given faces (0-based) are open, and some others may have a thickness of their own
    (``walls_mm``). Of several lumps only those are hollowed that have an open face.

    Inner walls are named ``step/inner(outer face)`` (outward: ``step/outer(…)``), rims ``step/rim(open face)``.

    Raises
    ------
    StepError : nothing is open, or closed, or a wall does not fit.
    """
    own = dict(walls_mm or {})
    if wall_mm <= 0 or any(w <= 0 for w in own.values()):
        raise StepError("A shell needs a wall above zero.")
    if not open_faces:
        raise StepError("A shell needs at least one open face.")
    if own.keys() & set(open_faces):
        raise StepError("A face is open or has a wall, not both; take it out of one of the two.")
    lumps = lumps_of(solid)
    if len(lumps) == 1:
        return _shelled(solid, open_faces, wall_mm, step, outward, own)
    made = []
    for lump in lumps:
        where = {solid.face_map.FindIndex(face) - 1: k for k, face in enumerate(lump.faces)}
        opened = [where[i] for i in open_faces if i in where]
        mine = {where[i]: w for i, w in own.items() if i in where}
        made.append(_shelled(lump, opened, wall_mm, step, outward, mine) if opened else lump)
    return NamedSolid(compound([m.shape for m in made]), [names for m in made for names in m.names])


def _shelled(
    solid: NamedSolid, open_faces: Sequence[int], wall_mm: float, step: str, outward: bool, own: dict[int, float]
) -> NamedSolid:
    if len(open_faces) >= len(solid.faces):
        raise StepError("At least one face must stay closed.")

    def attempt(wall: float) -> NamedSolid | None:
        return _attempt(solid, open_faces, wall, step, outward, own)

    result = attempt(wall_mm)
    if result is None:
        if own and _attempt(solid, open_faces, wall_mm, step, outward, {}) is not None:
            raise StepError("The walls of their own do not fit beside the others; take figures closer to each other.")
        most = None if putting_off() else _largest(attempt, wall_mm)
        tail = f"{most:.4g} mm is the most." if most else "a thinner one does not either; pick other open faces."
        raise StepError(f"A {wall_mm:.4g} mm wall does not fit into this part: {tail}")
    return result


def _largest(attempt: Callable[[float], NamedSolid | None], wall_mm: float) -> float | None:
    low, high = 0.0, wall_mm
    for _ in range(10):
        middle = (low + high) / 2
        if attempt(middle) is not None:
            low = middle
        else:
            high = middle
    rounded = int(low * 100) / 100
    return rounded if rounded > 0 else None


def _attempt(
    solid: NamedSolid, open_faces: Sequence[int], wall_mm: float, step: str, outward: bool, own: Mapping[int, float]
) -> NamedSolid | None:
    maker, sign = BRepOffset_MakeOffset(), 1.0 if outward else -1.0
    try:
        maker.Initialize(solid.shape, sign * wall_mm, 1e-4, BRepOffset_Skin, False, False, GeomAbs_Intersection, False)
        for i in open_faces:
            maker.AddFace(TopoDS.Face(solid.faces[i]))
        for i, wall in own.items():
            maker.SetOffsetOnFace(TopoDS.Face(solid.faces[i]), sign * wall)
        maker.MakeThickSolid()
        if not maker.IsDone():
            return None
        shape = maker.Shape()
    except Exception as error:
        # a concave radius below the wall makes the kernel raise
        if not raised_by_kernel(error):
            raise
        return None
    word = "outer" if outward else "inner"

    def born(source: NamedSolid, faces: Any, new: dict[int, str]) -> None:
        for i, face in enumerate(source.faces):
            if i in set(open_faces):
                continue
            for made in listed(maker.Generated(face)):
                index = faces.FindIndex(made)
                if index:
                    new[index] = f"{step}/{word}({source.names[i][0]})"

    result = carry(shape, [solid], maker, born, rest=f"{step}/rim")
    # what is left of an open face is the rim; it keeps the face's own name as its second one
    rims = {result.face_map.FindIndex(m) - 1 for i in open_faces for m in listed(maker.Modified(solid.faces[i]))}
    result = NamedSolid(
        result.shape,
        [(short(f"{step}/rim({names[0]})"), *names) if i in rims else names for i, names in enumerate(result.names)],
    )

    def unchanged() -> str | None:
        # a wall too thick gives the solid back unchanged, with the kernel's word that all is well
        before = solid.volume_mm3
        return "nothing was hollowed" if abs(result.volume_mm3 - before) < 1e-6 * before else None

    if judge(unchanged) or judge(lambda: unlike_mesh(result)):
        return None
    return None if accept(result, None if outward else lambda: solid.volume_mm3) else result
