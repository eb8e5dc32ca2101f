"""How the halves of a joint are printed: in which print directions they meet, and which mating edge lies on the bed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from ..document import Project, Seen
from ..errors import PickError
from ..profiles import Mating, flare_left_mm, profile_of
from ..recipe import JointShape, PartState
from ..recipe.lying import AS_MODELLED, Lie, down_of, lie_of
from ..solid.frame import Vec3, dot, scale
from .family import BedEdge, Meeting

__all__ = ["Laid", "mating_of", "normal_of"]

#: a face lies down when its normal points to the bed within this cosine (2.5°)
FLAT_ON_BED = 0.999


@dataclass(frozen=True)
class Laid:
    """A joint's mating with the edges that lie on the bed."""

    mating: Mating
    on_bed: tuple[BedEdge, ...] = field(default=())


def mating_of(
    project: Project, meeting: Meeting, states: Mapping[str, PartState] | None = None, shape: JointShape | None = None
) -> Laid:
    """How a joint's halves are printed: from what was seen of it, or exactly, on the solids as they stand."""
    states = states or {}
    lies = {id: _lie(project, id, states.get(id)) for id in (meeting.outer, meeting.inner)}
    if shape is not None:
        places = [(m.frame, m.sizes_mm) for m in shape.mates]
        round_hole = any(m.round_hole for m in shape.mates)
    else:
        places = [(meeting.frame, meeting.sizes_mm)] if meeting.frame is not None else []
        round_hole = meeting.round_hole
    ways = tuple(
        (lies[meeting.outer].of(d), lies[meeting.inner].of(d), size)
        for frame, sizes in places
        for d, size in zip((frame.x, frame.y), sizes, strict=True)
    )
    frame = shape.mates[0].frame if shape is not None and shape.mates else meeting.frame
    seat = frame.origin if frame is not None and shape is not None else None
    on_bed = tuple(e for e in meeting.edges if frame and _on_bed(project, meeting, e, frame.z, seat, states))
    chamfers = tuple(e.chamfer_mm for e in on_bed)
    flare, unsure = flare_left_mm(profile_of(project), chamfers)
    mating = Mating(flare_mm=flare, flare_unsure_mm=unsure, round_hole=round_hole, chamfers_mm=chamfers)
    return Laid(replace(mating, ways=ways) if ways else mating, on_bed)


def _lie(project: Project, id: str, state: PartState | None) -> Lie:
    part = project.part(id)
    return AS_MODELLED if part is None else lie_of(part, state)


def _on_bed(
    project: Project, meeting: Meeting, edge: BedEdge, out: Vec3, seat: Vec3 | None, states: Mapping[str, PartState]
) -> bool:
    """Whether a half lies on the plane that an edge bounds; where its solid and the seat are known, on that very plane."""
    id = meeting.outer if edge.outer else meeting.inner
    part, state = project.part(id), states.get(id)
    if part is None or part.role != "printed":
        return False
    try:
        down = down_of(part, state)
    except PickError:
        return False
    if down is None or dot(down, out if edge.out else scale(out, -1.0)) < FLAT_ON_BED:
        return False
    if state is None or seat is None or not edge.out:
        return True
    low, high = state.box
    # the lowest corner of the part's box in that direction; exact for directions along the axes
    lowest = sum(max(low[i] * down[i], high[i] * down[i]) for i in range(3))
    return lowest - dot(seat, down) < 0.01 or max(abs(c) for c in down) < FLAT_ON_BED


def normal_of(seen: Seen | None) -> Vec3 | None:
    """The direction of a face as it was seen when it was picked."""
    return seen.direction if seen is not None and dot(seen.direction, seen.direction) > 0.5 else None
