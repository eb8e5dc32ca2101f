"""How the halves of a joint are printed: in which print directions they meet, and which mating edge lies on the bed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..document import Project, Seen
from ..document.picks import FlatFace
from ..errors import PickError
from ..profiles import Mating, flare_left_mm, profile_of
from ..profiles.deviation import UPRIGHT as STANDING
from ..recipe import JointShape, PartState, StepContext
from ..recipe.lying import Lie, down_of, in_one_with, laid_by, lie_in
from ..solid.frame import Frame, Vec3, dot, scale
from .family import BedEdge, Meeting

__all__ = ["Laid", "facing", "mating_of", "normal_of"]

#: a face lies down when its normal points to the bed within this cosine (2.5°)
FLAT_ON_BED = 0.999
#: a mating face stands upright on the bed within this sine (a draft of 5°, and some)
UPRIGHT = 0.1
#: frames have the same directions within this cosine, and places lie apart from this on, mm
ONE_PLANE, APART_MM = 0.9999, 0.5
#: mating faces that begin higher over the bed than this are out of reach of any first layers, mm
REACH_MM = 1.5


@dataclass(frozen=True)
class Laid:
    """A joint's mating with the edges that lie on the bed; ``halves`` are the parts' ids, the outer first."""

    mating: Mating
    on_bed: tuple[BedEdge, ...] = field(default=())
    halves: tuple[str, str] = ("", "")


def mating_of(
    project: Project, meeting: Meeting, states: Mapping[str, PartState] | None = None, shape: JointShape | None = None
) -> Laid:
    """How a joint's halves are printed: from what was seen of it, or exactly, on the solids as they stand."""
    states = states or {}
    lies = {id: lie_in(project, states, id) for id in (meeting.outer, meeting.inner)}
    if shape is not None:
        places = [(m.frame, m.sizes_mm, m.along, shape.halves(m)) for m in shape.mates]
        round_hole = any(m.round_hole for m in shape.mates)
    else:
        halves = (meeting.outer, meeting.inner)
        places = [(meeting.frame, meeting.sizes_mm, meeting.along, halves)] if meeting.frame is not None else []
        round_hole = meeting.round_hole
    rests = tuple(m.rests for m in shape.mates for _ in range(2)) if shape is not None else (meeting.rests,) * 2
    up = tuple(_up(lies[id], places[0][0]) if places else STANDING for id in (meeting.outer, meeting.inner))
    turned = tuple(outer != meeting.outer for _, _, _, (outer, _) in places for _ in range(2))
    ways = tuple(
        (lies[outer].of(d), lies[inner].of(d), size)
        for frame, sizes, along, (outer, inner) in places
        for d, size in _directions(frame, sizes, along)
    )
    if shape is not None and states:
        on_bed = _flaring(project, meeting, shape, states)
    else:
        out = meeting.frame.z if meeting.frame is not None else None
        on_bed = tuple(e for e in meeting.edges if out and _lies_on(project, meeting, e, out))
    plane = (
        tuple((lies[meeting.outer].of(d), lies[meeting.inner].of(d)) for d in (places[0][0].x, places[0][0].y))
        if places
        else ()
    )
    chamfers = tuple(e.chamfer_mm for e in on_bed)
    flare, unsure = flare_left_mm(profile_of(project), chamfers)
    printed = tuple(
        part is None or part.role == "printed" for part in map(project.part, (meeting.outer, meeting.inner))
    )
    mating = Mating(
        flare_mm=flare, flare_unsure_mm=unsure, round_hole=round_hole, chamfers_mm=chamfers, printed=(printed[0], printed[1]), up=(up[0], up[1]), turned=turned, places=max(1, meeting.places),
        rests=rests if any(rests) else (), stands=shape is not None and all(m.stands for m in shape.mates),
        spots_mm=_spots(shape) if shape is not None else (), plane=plane,
    )  # fmt: skip
    return Laid(replace(mating, ways=ways) if ways else mating, on_bed, (meeting.outer, meeting.inner))


def _spots(shape: JointShape) -> tuple[tuple[float, float], ...]:
    """Where the places of a joint lie in the plane of its frame, from their middle, mm; none where they do not lie apart, or do not lie in one plane's directions. In a zone whose
    halves are swapped it is the other half that is stretched, so there it counts the other way."""
    first = shape.mates[0].frame
    if any(dot(m.frame.x, first.x) < ONE_PLANE or dot(m.frame.y, first.y) < ONE_PLANE for m in shape.mates):
        return ()
    at = np.array([first.to_local(m.frame.to_world(*m.middle_mm))[:2] for m in shape.mates])
    at -= (at.min(axis=0) + at.max(axis=0)) / 2
    if np.abs(at).max() < APART_MM:
        return ()
    return tuple(
        (float(u) * s, float(v) * s)
        for (u, v), s in zip(at, (-1.0 if m.swapped else 1.0 for m in shape.mates), strict=True)
    )


def _up(lie: Lie, frame: Frame) -> Vec3:
    """The upright of a print in a joint's frame."""
    return dot(lie.z, frame.x), dot(lie.z, frame.y), dot(lie.z, frame.z)


def _directions(frame: Frame, sizes_mm: tuple[float, float], along: str) -> list[tuple[Vec3, float]]:
    """The two directions in which halves meet, with the opening's size in each; the one twice where it is only one."""
    both = list(zip((frame.x, frame.y), sizes_mm, strict=True))
    return [both["xy".index(along)]] * 2 if along else both


def _lies_on(project: Project, meeting: Meeting, edge: BedEdge, out: Vec3) -> bool:
    """Whether a half lies on the plane that an edge bounds, as far as that is known before its solid is there."""
    part = project.part(meeting.outer if edge.outer else meeting.inner)
    if part is None or part.role != "printed":
        return False
    try:
        down = down_of(laid_by(project, part.id) or part)
    except PickError:
        return False
    return down is not None and dot(down, out if edge.out else scale(out, -1.0)) >= FLAT_ON_BED


def _flaring(
    project: Project, meeting: Meeting, shape: JointShape, states: Mapping[str, PartState]
) -> tuple[BedEdge, ...]:
    """Where mating faces begin so low over the bed that the first layers stand out there, on the solids as they are: at the edges
    that the family names, or at the other ends of its faces. The leg of the chamfer is how high over the bed they begin."""
    out: dict[tuple[bool, bool], BedEdge] = {}
    for mate in shape.mates:
        for outer, id, names in zip((True, False), shape.halves(mate), (mate.outer, mate.inner), strict=True):
            part, state = project.part(id), states.get(id)
            if part is None or part.role != "printed" or state is None:
                continue
            up = lie_in(project, states, id).z
            along = dot(up, mate.frame.z)
            bed = min(_least(states[p].mesh.positions, up) for p in in_one_with(project, id) if p in states)
            low = _begins(state, names, up, bed)
            if abs(along) < FLAT_ON_BED or low is None or low > REACH_MM:
                continue
            ends = [dot(mate.frame.origin, up) - bed + z * along for z in (mate.low_mm, mate.high_mm)]
            if min(ends) > low + 0.05 + 0.02 * abs(ends[0] - ends[1]):
                # the faces reach to the bed, but the halves do not meet there
                continue
            facing_out = along < 0
            named = next((e for e in meeting.edges if e.outer == outer), None)
            if named is not None and named.out != facing_out:
                what = f"the far {named.what.removeprefix('the ')}"
                named = replace(named, what=what, out=facing_out, place=mate.frame.to_world(0.0, 0.0, mate.low_mm))
            if named is not None:
                before = out.get((outer, facing_out))
                leg = round(low, 3) if before is None else min(before.chamfer_mm, round(low, 3))
                out[outer, facing_out] = replace(named, chamfer_mm=leg)
    return tuple(out.values())


def _least(points: NDArray[Any], up: Vec3) -> float:
    return float((points.astype(np.float64) @ np.array(up)).min())


def _begins(state: PartState, names: tuple[str, ...], up: Vec3, bed: float) -> float | None:
    """How high over the bed the upright ones of some faces begin, mm; ``None`` where none stands upright."""
    mesh, heights = state.mesh, []
    for index in {i for name in names for i in state.solid.find(name)}:
        face = state.faces[index]
        way = face.axis if face.axis is not None else face.normal
        slant = abs(dot(way, up))
        if (1 - slant if face.axis is not None else slant) < UPRIGHT:
            heights.append(_least(mesh.corners_of(index), up))
    return min(heights) - bed if heights else None


def normal_of(seen: Seen | None) -> Vec3 | None:
    """The direction of a face as it was seen when it was picked."""
    return seen.direction if seen is not None and dot(seen.direction, seen.direction) > 0.5 else None


def facing(ctx: StepContext | None, pick: FlatFace | None, field: str) -> Vec3 | None:
    """The way that a picked face looks: exactly with a context, else as it was seen; ``None`` where it is not known. Raises PickError."""
    if pick is None:
        return None
    if ctx is None:
        return normal_of(pick.face.seen)
    part, found = ctx.faces_named(pick, field)
    return part.faces[found].normal
