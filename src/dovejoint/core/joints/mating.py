"""How the halves of a joint are printed: in which print directions they meet, and which mating edge lies on the bed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from ..document import Project, Seen, Step
from ..errors import PickError
from ..profiles import Mating, flare_left_mm, profile_of
from ..recipe import Evaluation, JointShape, PartState
from ..recipe.lying import AS_MODELLED, Lie, down_of, lie_of
from ..solid.frame import Frame, Vec3, dot, scale

__all__ = ["BedEdge", "Edges", "Laid", "edges_of", "mating_of", "normal_of", "register_edges"]

#: a face lies down when its normal points to the bed within this cosine (2.5°)
FLAT_ON_BED = 0.999


@dataclass(frozen=True)
class BedEdge:
    """A mating edge that would flare if its part lay on it: its half, its name, and the leg of its chamfer, mm."""

    outer: bool
    what: str
    chamfer_mm: float
    place: Vec3 | None = None


@dataclass(frozen=True)
class Edges:
    """What a family says of its mating edges before any solid is there.

    ``outer`` and ``inner`` are part ids, ``normal`` the outward direction of the seat (``None`` when it was not seen);
    ``mouth`` lies on the seat and faces along it, ``tip`` is the inner half's end and faces against it.
    """

    outer: str
    inner: str
    normal: Vec3 | None
    mouth: BedEdge
    tip: BedEdge


@dataclass(frozen=True)
class Laid:
    """A joint's mating with the edges that lie on the bed."""

    mating: Mating
    on_bed: tuple[BedEdge, ...] = field(default=())


def mating_of(
    project: Project, edges: Edges, evaluation: Evaluation | None = None, shape: JointShape | None = None
) -> Laid:
    """How a joint's halves are printed: from what was seen of its seat, or exactly, on the solids."""
    states = {} if evaluation is None else evaluation.parts
    lies = {id: _lie(project, id, states.get(id)) for id in (edges.outer, edges.inner)}
    frame = shape.frame if shape is not None else None
    normal = frame.z if frame is not None else edges.normal
    if normal is None:
        return Laid(Mating())
    frame = frame or Frame.on_plane((0.0, 0.0, 0.0), normal)
    sizes = shape.sizes_mm if shape is not None else (0.0, 0.0)
    ways = tuple(
        (lies[edges.outer].of(d), lies[edges.inner].of(d), size)
        for d, size in zip((frame.x, frame.y), sizes, strict=True)
    )
    on_bed = []
    if _on_bed(project, edges.outer, normal, states.get(edges.outer), frame.origin if shape else None):
        on_bed.append(edges.mouth)
    if _on_bed(project, edges.inner, scale(normal, -1.0), states.get(edges.inner), None):
        on_bed.append(edges.tip)
    flare, unsure = flare_left_mm(profile_of(project), [e.chamfer_mm for e in on_bed])
    round_hole = shape.round_hole if shape is not None else False
    return Laid(Mating(ways, flare, unsure, round_hole), tuple(on_bed))


def _lie(project: Project, id: str, state: PartState | None) -> Lie:
    part = project.part(id)
    return AS_MODELLED if part is None else lie_of(part, state)


def _on_bed(project: Project, id: str, facing: Vec3, state: PartState | None, at: Vec3 | None) -> bool:
    """Whether a part lies on the side that faces in a direction; with a solid and a place, on that very plane."""
    part = project.part(id)
    if part is None or part.role != "printed":
        return False
    try:
        down = down_of(part, state)
    except PickError:
        return False
    if down is None or dot(down, facing) < FLAT_ON_BED:
        return False
    if state is None or at is None:
        return True
    low, high = state.info.low_mm, state.info.high_mm
    # the lowest corner of the part's box in that direction; exact for directions along the axes
    lowest = sum(max(low[i] * down[i], high[i] * down[i]) for i in range(3))
    return lowest - dot(at, down) < 0.01 or max(abs(c) for c in down) < FLAT_ON_BED


_EDGES: dict[str, Callable[[Step, dict[str, float]], Edges]] = {}


def register_edges(kind: str, edges: Callable[[Step, dict[str, float]], Edges]) -> None:
    """A family says where its mating edges are."""
    _EDGES[kind] = edges


def edges_of(step: Step, figures: dict[str, float]) -> Edges:
    return _EDGES[step.kind](step, figures)


def normal_of(seen: Seen | None) -> Vec3 | None:
    """The direction of a face as it was seen when it was picked."""
    return seen.direction if seen is not None and dot(seen.direction, seen.direction) > 0.5 else None
