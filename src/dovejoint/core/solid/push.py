"""Faces moved out or in along their own normals, and faces taken away with what lay around them closing up."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from OCP.BRepAlgoAPI import BRepAlgoAPI_Defeaturing
from OCP.BRepOffset import BRepOffset_MakeOffset, BRepOffset_Skin
from OCP.GeomAbs import GeomAbs_Intersection

from ..errors import StepError
from .by_mesh import unlike_mesh
from .check import accept, judge
from .combine import cut, fuse
from .divide import side_of
from .facename import as_part
from .frame import Frame, dot, sub
from .info import FaceInfo
from .kernel import listed, refusing
from .make import prism
from .measure import describe_faces, exact_distance
from .named import NamedSolid, carry, solids_of
from .regions import Region, region_of_face
from .screwed import moved_on_screw

__all__ = ["drawn_to_plane", "drawn_until", "pushed", "without_faces"]

#: a face lies on a plane within this, mm
FLAT_MM = 1e-6
#: what lies away from the faces that move stays where it is within this, mm
STAYS_MM = 1e-4


def pushed(solid: NamedSolid, faces: Sequence[int], by_mm: float, step: str) -> NamedSolid:
    """Move faces (0-based) out of the solid by a distance, in where it is below zero; what adjoins them follows. All keep their names.

    Raises
    ------
    StepError : they cannot be moved so far.
    """
    if abs(by_mm) < 1e-9:
        return solid
    refused = StepError(
        f"These faces cannot move {'out' if by_mm > 0 else 'in'} by {abs(by_mm):.4g} mm: what adjoins them does not reach. "
        "Take less, or all faces that run on from them."
    )
    info = describe_faces(solid)
    for index in faces:
        # a bore that closes and a pin that vanishes are no faces any more, whatever the kernel makes of them
        radius = info[index].radius_mm
        if radius is not None and (-by_mm if not info[index].hollow else by_mm) >= radius - 1e-6:
            raise refused
    if all(_stands_square(solid, info, index) for index in faces):
        return _by_prisms(solid, faces, by_mm, step, refused)
    on_screw = moved_on_screw(solid, dict.fromkeys(faces, by_mm))
    if on_screw is not None:
        return on_screw
    maker = BRepOffset_MakeOffset()
    with refusing(refused):
        maker.Initialize(
            solid.shape, 0.0, 1e-5, BRepOffset_Skin, False, False, GeomAbs_Intersection, False, False
        )  # fmt: skip
        for index in faces:
            maker.SetOffsetOnFace(solid.faces[index], by_mm)
        maker.MakeOffsetShape()
        if not maker.IsDone() or not solids_of(maker.Shape()):
            raise refused
        shape = maker.Shape()

    def born(source: NamedSolid, found: Any, new: dict[int, str]) -> None:
        for i, face in enumerate(source.faces):
            for made in listed(maker.Generated(face)):
                index = found.FindIndex(made)
                if index:
                    new[index] = source.names[i][0]

    result = carry(shape, [solid], maker, born, rest=f"{step}/moved")

    def elsewhere() -> str | None:
        # with tangent neighbours the kernel moves everything, and says that all is well
        near = set(faces) | {b for _, pair in solid.edges for a, b in (pair, pair[::-1]) if a in set(faces)}
        for i, face in enumerate(solid.faces):
            if i not in near:
                image = [result.faces[k] for k in result.find(solid.names[i][0])]
                if not image or min(exact_distance(face, other)[0] for other in image) > STAYS_MM:
                    return "a face elsewhere moved too"
        grew = result.volume_mm3 - solid.volume_mm3
        flat = [i for i in faces if info[i].kind == "plane"]
        if len(flat) == len(set(faces)) and grew * by_mm <= 0:
            return "it moved the wrong way"
        return None

    if accept(result) or judge(elsewhere) or judge(lambda: unlike_mesh(result)):
        raise refused
    return result


def _stands_square(solid: NamedSolid, info: list[FaceInfo], index: int) -> bool:
    """Whether a face is flat and all that adjoins it stands square on it: then it moves by a prism of itself, which the kernel does soundly."""
    face = info[index]
    if face.kind != "plane":
        return False
    for other in {b for _, pair in solid.edges for a, b in (pair, pair[::-1]) if a == index and b != index}:
        near = info[other]
        flat = near.kind == "plane" and abs(dot(near.normal, face.normal)) < 1e-9
        round_one = near.kind == "cylinder" and near.axis is not None and abs(dot(near.axis, face.normal)) > 1 - 1e-9
        if not flat and not round_one:
            return False
    return True


def _by_prisms(solid: NamedSolid, faces: Sequence[int], by_mm: float, step: str, refused: StepError) -> NamedSolid:
    """Faces that stand square on what adjoins them, moved one after the other."""
    result = solid
    for name in [solid.names[i][0] for i in faces]:
        found = result.find(name)
        if len(found) != 1:
            raise refused
        frame, (region,) = region_of_face(result, found[0])
        beyond = {as_part(names[0]): names[0] for names in result.names}
        tool = prism(region, frame, 0.0, by_mm, step, check=False)
        called = {f"{step}/side({part})": whole for part, whole in beyond.items()} | {f"{step}/end": name}
        tool = tool.renamed(lambda n, called=called: called.get(n, n))  # type: ignore[misc]
        before, share = result, region.area_mm2 * by_mm
        try:
            result = (fuse if by_mm > 0 else cut)(result, [tool], step)
        except StepError:
            raise refused from None

        def as_much(before: NamedSolid = before, share: float = share, after: NamedSolid = result) -> str | None:
            # what it runs into on its way, or what it opens, is no move of a face any more
            grew = after.volume_mm3 - before.volume_mm3
            return None if abs(grew - share) <= 1e-6 * abs(share) + 1e-9 * before.volume_mm3 else "it meets something"

        if judge(as_much):
            raise refused
    return result


def drawn_to_plane(solid: NamedSolid, face: int, plane: Frame, step: str) -> NamedSolid:
    """Draw a flat face (0-based) straight out and in until it lies on a plane, level or slanted, however that lies to it. It keeps its name.

    Raises
    ------
    StepError : the face is not flat, or the plane runs along its way.
    """
    frame, region = _flat(solid, face)
    slope = dot(frame.z, plane.z)
    if abs(slope) < 1e-6:
        raise StepError("That runs along the way of the face, so it is never met; pick another.")
    corners = [frame.to_world(*p) for loop in region.loops for p in loop]
    heights = [dot(sub(plane.origin, c), plane.z) / slope for c in corners]
    result = solid
    if max(heights) > FLAT_MM:
        tool = side_of(prism(region, frame, 0.0, max(heights) + 1.0, step), plane, step, over=slope < 0)
        result = fuse(result, [_called(solid, face, tool, step)], step)
    if min(heights) < -FLAT_MM:
        tool = side_of(prism(region, frame, min(heights) - 1.0, 0.0, step), plane, step, over=slope > 0)
        result = cut(result, [_called(solid, face, tool, step)], step)
    return result


def drawn_until(
    solid: NamedSolid, face: int, reach: Callable[[Region, Frame, bool], NamedSolid], step: str
) -> NamedSolid:
    """Draw a flat face (0-based) straight out, or where that meets nothing in, until ``reach`` (which extrudes a region up or down) ends. It keeps its
    name.

    Raises
    ------
    StepError : the face is not flat, or meets nothing all over on either side.
    """
    frame, region = _flat(solid, face)
    try:
        return fuse(solid, [_called(solid, face, reach(region, frame, True), step)], step)
    except StepError:
        pass
    try:
        return cut(solid, [_called(solid, face, reach(region, frame, False), step)], step)
    except StepError:
        raise StepError("That does not stand over all of the face, on either side of it; pick another.") from None


def _flat(solid: NamedSolid, face: int) -> tuple[Frame, Region]:
    if describe_faces(solid)[face].kind != "plane":
        raise StepError("Only a flat face is drawn straight out until something is met; pick a flat one.")
    frame, (region,) = region_of_face(solid, face)
    return frame, region


def _called(solid: NamedSolid, face: int, tool: NamedSolid, step: str) -> NamedSolid:
    """A tool drawn from a face: its end is that face, its sides run on from those beside it."""
    name = solid.names[face][0]
    called = {f"{step}/side({as_part(names[0])})": names[0] for names in solid.names}
    called |= dict.fromkeys((f"{step}/end", f"{step}/divide"), name)
    return tool.renamed(lambda n: called.get(n, n))


def without_faces(solid: NamedSolid, faces: Sequence[int], step: str) -> NamedSolid:
    """Take faces (0-based) away; the faces around them are drawn out until they meet. All others keep their names.

    Raises
    ------
    StepError : what lies around them does not close.
    """
    refused = StepError("What lies around these faces does not close over them; take all faces of the pocket or boss.")
    if len(set(faces)) >= len(solid.faces):
        raise StepError("Some faces must stay; these are all that there are.")
    maker = BRepAlgoAPI_Defeaturing()
    with refusing(refused):
        maker.SetShape(solid.shape)
        for index in faces:
            maker.AddFaceToRemove(solid.faces[index])
        maker.SetToFillHistory(True)
        maker.Build()
        if not maker.IsDone() or not solids_of(maker.Shape()):
            raise refused
        shape = maker.Shape()
    result = carry(shape, [solid], maker, rest=f"{step}/closed")
    gone = {n for i in faces for n in solid.names[i]} - {n for i, names in enumerate(solid.names) if i not in set(faces) for n in names}  # fmt: skip
    # the kernel leaves what it could not take away as it was, and says that all is well
    if accept(result) or any(result.find(name) for name in gone):
        raise refused
    return result
