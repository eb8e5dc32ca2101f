"""From picks to geometry: which faces and edges a pick means now.

A name usually finds its face. Where it finds several (an earlier step split the face) or none, what the face
was when it was picked may decide, but only if one candidate clearly fits. Otherwise the pick is lost and
the step asks: never silently a wrong face.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from .. import solid as kernel
from ..document.picks import (
    CornersPicked,
    EdgesAlong,
    EdgesBetween,
    EdgesOfFace,
    EdgesPicked,
    FacesOfStep,
    FacesPicked,
    Seen,
    SeenFace,
)
from ..errors import PickError
from ..solid import EdgeInfo, FaceInfo, Vec3
from ..solid.facename import alike, edge_parts, short
from ..solid.frame import dot, length, sub
from .outputs import PartState

__all__ = [
    "find_corners",
    "find_edge",
    "find_edges",
    "find_face",
    "find_faces",
    "picked_parts",
    "seen_edge",
    "seen_face",
]

EdgesPick = EdgesPicked | EdgesOfFace | EdgesBetween | EdgesAlong
FacesPick = FacesPicked | FacesOfStep
#: what follows a role in a face's name (solid.facename): what it was made from, a count, or nothing
_AFTER_ROLE = ("", "(", ".")


def seen_face(info: FaceInfo, label: str = "") -> Seen:
    """What a pick stores of a face beside its name."""
    around = list(info.neighbours)
    return Seen(
        kind=info.kind,
        at=info.at,
        direction=info.normal,
        size=info.area_mm2,
        around=around,
        label=label,
        radius=info.radius_mm or 0.0,
        axis=info.axis or (0.0, 0.0, 0.0),
    )


def seen_edge(info: EdgeInfo, label: str = "") -> Seen:
    return Seen(kind=info.kind, at=info.at, direction=info.direction, size=info.length_mm, label=label)


def _alike(
    seen: Seen, kind: str, at: tuple[float, float, float], direction: tuple[float, float, float], size: float
) -> bool:
    """Whether a thing is clearly what was seen: kind, direction, about its size and place."""
    if seen.kind != kind or seen.size <= 0 or size <= 0:
        return False
    if not 0.75 <= size / seen.size <= 1.34:
        return False
    if kind in ("plane", "line") and length(seen.direction) > 0 and abs(dot(seen.direction, direction)) < 0.98:
        return False
    reach = 0.25 * (math.sqrt(size) if kind not in ("line", "circle") else size)
    return length(sub(seen.at, at)) <= max(reach, 0.5)


def _called(wanted: SeenFace, otherwise: str) -> str:
    """What the thing was called when it was picked."""
    return f"“{wanted.seen.label}”" if wanted.seen is not None and wanted.seen.label else otherwise


def find_face(part: PartState, wanted: SeenFace) -> int:
    """The one face that a name means (0-based). Raises PickError when none or several could be meant."""
    what = _called(wanted, "the face picked")
    found = part.solid.find(wanted.name)
    if len(found) == 1:
        return found[0]
    seen = wanted.seen
    if found and seen is not None:
        # the pieces of a split face are told apart by what lies around them, which survives changes of size
        around = [i for i in found if set(part.faces[i].neighbours) == set(seen.around)]
        if len(around) == 1:
            return around[0]
        clear = [i for i in found if _alike(seen, *_facts(part.faces[i]))]
        if len(clear) == 1:
            return clear[0]
    if not found and seen is not None:
        # the outline that it came of has got other curves or holes
        like = [i for i, f in enumerate(part.faces) if f.kind == seen.kind and _called_alike(part, i, wanted.name)]
        if len(like) == 1 and (seen.kind != "plane" or dot(seen.direction, part.faces[like[0]].normal) > 0.98):
            return like[0]
        same = [i for i, f in enumerate(part.faces) if _alike(seen, *_facts(f)) and _same_spot(seen, f)]
        if len(same) == 1:
            return same[0]
    if found:
        raise PickError(
            f"{what[:1].upper()}{what[1:]} stands for {len(found)} faces now; point at the one that is meant."
        )
    raise PickError(f"{what[:1].upper()}{what[1:]} is not there any more; point at another one.")


def _called_alike(part: PartState, index: int, name: str) -> bool:
    return any(alike(name, own) for own in part.solid.names[index])


def _facts(face: FaceInfo) -> tuple[str, tuple[float, float, float], tuple[float, float, float], float]:
    return face.kind, face.at, face.normal, face.area_mm2


def _same_spot(seen: Seen, face: FaceInfo) -> bool:
    """A lost name may only be replaced by a face in the very place: same plane, same size."""
    return length(sub(seen.at, face.at)) < 0.05 and abs(face.area_mm2 / seen.size - 1) < 0.02


def picked_parts(pick: Any) -> list[str]:
    """Ids of the parts that a pick speaks of: its own first, then those that its things name themselves."""
    things = getattr(pick, "faces", None) or getattr(pick, "edges", None) or []
    own = [pick.part] if not things or any(not t.part for t in things) else []
    return list(dict.fromkeys([*own, *(t.part for t in things if t.part)]))


def _of_part(pick: Any, things: Sequence[SeenFace], part: str) -> list[SeenFace]:
    return [t for t in things if not part or (t.part or pick.part) == part]


def find_faces(part: PartState, pick: FacesPick, id: str = "") -> list[int]:
    """All faces of one part that a pick means. ``id`` is that part's, for picks that span several. Raises PickError."""
    if isinstance(pick, FacesOfStep):
        meant = f"{pick.step}/{pick.role}"
        found = [
            i for i, names in enumerate(part.solid.names)
            if any(n.startswith(meant) and (not pick.role or n[len(meant) : len(meant) + 1] in _AFTER_ROLE) for n in names)
        ]  # fmt: skip
        if not found:
            raise PickError("The step picked left no faces on this part; point at others.")
        return found
    return sorted({find_face(part, face) for face in _of_part(pick, pick.faces, id)})


def _edges_alike(part: PartState, a: str, b: str) -> list[int]:
    """Edges between faces whose outlines have got other curves or holes since they were called so."""
    return [
        i
        for i, (_, (f, g)) in enumerate(part.solid.edges)
        if (_called_alike(part, f, a) and _called_alike(part, g, b))
        or (_called_alike(part, f, b) and _called_alike(part, g, a))
    ]


def _edges_between(part: PartState, a: str, b: str) -> list[int]:
    names = part.solid.names
    return [
        i
        for i, (_, (f, g)) in enumerate(part.solid.edges)
        if (a in names[f] and b in names[g]) or (b in names[f] and a in names[g])
    ]


def find_edge(part: PartState, wanted: SeenFace) -> int:
    """An edge by the names of its two faces, in any spelling that merging has left them."""
    found = [i for i, e in enumerate(part.edges) if e.name == wanted.name]
    what = _called(wanted, "an edge picked")
    if not found:
        sides = edge_parts(wanted.name)
        if len(sides) == 2:
            found = _edges_between(part, short(sides[0]), short(sides[1])) or _edges_alike(part, *sides)
    if len(found) == 1:
        return found[0]
    if found and wanted.seen is not None:
        clear = [i for i in found if _alike(wanted.seen, *_edge_facts(part.edges[i]))]
        if len(clear) == 1:
            return clear[0]
    if found:
        raise PickError(
            f"{what[:1].upper()}{what[1:]} stands for {len(found)} edges now; point at the one that is meant."
        )
    raise PickError(f"{what[:1].upper()}{what[1:]} is not there any more; point at another one.")


def _edge_facts(edge: EdgeInfo) -> tuple[str, tuple[float, float, float], tuple[float, float, float], float]:
    return edge.kind, edge.at, edge.direction, edge.length_mm


def find_edges(part: PartState, pick: EdgesPick, id: str = "") -> list[int]:
    """All edges of one part that a pick means (0-based into ``solid.edges``); ``id`` as in :func:`find_faces`. Raises PickError."""
    edges = part.edges
    if isinstance(pick, EdgesOfFace):
        face = find_face(part, pick.face)
        found = [i for i, e in enumerate(edges) if (face in e.faces) and e.faces[0] != e.faces[1]]
    elif isinstance(pick, EdgesBetween):
        first, second = (_all_of(part, face) for face in (pick.first, pick.second))
        found = [i for i, e in enumerate(edges) if _joins(e, first, second)]
    elif isinstance(pick, EdgesAlong) and pick.direction == "any":
        found = [i for i, e in enumerate(edges) if e.convex and not e.smooth]
    elif isinstance(pick, EdgesAlong):
        axis = {"across": 0, "deep": 1, "up": 2}[pick.direction]
        found = [
            i
            for i, e in enumerate(edges)
            if e.kind == "line" and abs(e.direction[axis]) > 1 - 1e-9 and e.convex and not e.smooth
        ]
    else:
        chosen = [find_edge(part, edge) for edge in _of_part(pick, pick.edges, id)]
        found = _chains(edges, part, chosen) if pick.chain else chosen
    found = sorted({i for i in found if edges[i].kind != "point"})
    if not found:
        raise PickError("No edge fits this pick any more; point at others.")
    return found


def find_corners(part: PartState, pick: CornersPicked) -> list[Vec3]:
    """The places of the corners that a pick means, mm. Raises PickError."""
    out = []
    for corner in pick.corners:
        index = find_edge(part, corner)
        middle = part.edges[index].at
        ends = [kernel.edge_place(part.solid, index, share)[0] for share in (0.0, 1.0)]
        out.append(max(ends, key=lambda end: dot(sub(end, middle), corner.toward)))
    return out


def _joins(edge: EdgeInfo, first: Sequence[int], second: Sequence[int]) -> bool:
    a, b = edge.faces
    return (a in first and b in second) or (b in first and a in second)


def _all_of(part: PartState, face: SeenFace) -> list[int]:
    """For a rule between faces, all pieces of a split face take part."""
    found = part.solid.find(face.name)
    return found or [find_face(part, face)]


def _chains(edges: list[EdgeInfo], part: PartState, chosen: list[int]) -> list[int]:
    """Edges reached from the chosen ones by running on without a corner."""
    from ..solid.named import tangent_neighbours

    reached, todo = set(chosen), list(chosen)
    while todo:
        for other in tangent_neighbours(part.solid, todo.pop()):
            if other not in reached and not edges[other].smooth:
                reached.add(other)
                todo.append(other)
    return sorted(reached)
