"""How a part lies on the bed, and so in which print direction each direction of the model is printed."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from ..document import Part, Project
from ..document.compiled import compiled
from ..errors import PickError
from ..solid.frame import Vec3, add, cross, dot, scale, sub, unit
from .names import find_face
from .outputs import PartState
from .registry import kind_of

__all__ = [
    "AS_MODELLED",
    "BED_EDGE_MM",
    "Lie",
    "down_of",
    "in_one_with",
    "laid_by",
    "lie_in",
    "lie_of",
    "printed_in_one",
]


@dataclass(frozen=True)
class Lie:
    """The print directions in the model's coordinates: ``x`` across the bed, ``y`` deep, ``z`` up from it."""

    x: Vec3
    y: Vec3
    z: Vec3

    def of(self, direction: Vec3) -> Vec3:
        """A direction of the model as it is printed."""
        return (dot(direction, self.x), dot(direction, self.y), dot(direction, self.z))


#: kept free to the edge of the bed, mm
BED_EDGE_MM = 4.0
AS_MODELLED = Lie((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))


def down_of(part: Part, state: PartState | None = None) -> Vec3 | None:
    """The direction that points to the bed. Without a solid it is the one that was seen when the face was picked.

    ``None`` when the face is known neither way.

    Raises
    ------
    PickError : the face is not there any more, or could be several.
    """
    if part.lies is None:
        return (0.0, 0.0, -1.0)
    if state is not None:
        info = state.faces[find_face(state, part.lies.face)]
        if info.kind != "plane":
            raise PickError("The face that lay down is not flat any more; pick another.")
        return info.normal
    seen = part.lies.face.seen
    return unit(seen.direction) if seen is not None and dot(seen.direction, seen.direction) > 0.5 else None


def lie_of(part: Part, state: PartState | None = None) -> Lie:
    """How a part lies. A face that is lost leaves it as modelled (a check says so)."""
    try:
        down = down_of(part, state)
    except PickError:
        down = None
    z = scale(down, -1.0) if down is not None else AS_MODELLED.z
    # across stays the model's across where it can, so that laying a part down does not also turn it
    guide: Vec3 = (1.0, 0.0, 0.0) if abs(z[0]) < 0.9 else (0.0, 1.0, 0.0)
    x = unit(sub(guide, scale(z, dot(guide, z))))
    y = cross(z, x)
    turn = math.radians(part.turn_deg)
    c, s = math.cos(turn), math.sin(turn)
    return Lie(add(scale(x, c), scale(y, -s)), add(scale(x, s), scale(y, c)), z)


def printed_in_one(project: Project) -> list[tuple[str, ...]]:
    """Which printed parts grow within each other (a hinge whose pin is printed in place, or as a person says), by their ids: two or more at a time, in
    the order of the parts."""
    links = [*((p.id, p.within) for p in project.parts if p.within), *_made_in_one(project)]
    if not links:
        return []
    order = {p.id: k for k, p in enumerate(project.parts) if p.role == "printed"}
    sets: list[set[str]] = []
    for link in links:
        met = {p for p in link if p in order}
        for other in [s for s in sets if s & met]:
            sets.remove(other)
            met |= other
        sets.append(met)
    return sorted((tuple(sorted(s, key=order.__getitem__)) for s in sets if len(s) > 1), key=lambda s: order[s[0]])


def _made_in_one(project: Project) -> list[tuple[str, ...]]:
    """The same of what steps make so; asked for with every joint, so it is kept with the recipe."""
    recipe = compiled(project)
    found: list[tuple[str, ...]] | None = recipe.memo.get("in one")
    if found is None:
        kinds = [(s, kind_of(s.step)) for s in recipe if not s.step.off]
        found = recipe.memo["in one"] = [k.in_one(s.fields) for s, k in kinds if k.in_one is not None]
    return found


def in_one_with(project: Project, id: str) -> tuple[str, ...]:
    """A part with those that it is printed in one with, in the order of the parts; mostly by itself."""
    return next((s for s in printed_in_one(project) if id in s), (id,))


def laid_by(project: Project, id: str) -> Part | None:
    """The part that says how a part lies: itself, or the one of those it is printed in one with that was laid down or turned."""
    parts = [p for p in map(project.part, in_one_with(project, id)) if p is not None]
    return next((p for p in parts if p.lies is not None or p.turn_deg), parts[0] if parts else None)


def lie_in(project: Project, states: Mapping[str, PartState], id: str) -> Lie:
    """How a part lies among the others."""
    part = laid_by(project, id)
    return AS_MODELLED if part is None else lie_of(part, states.get(part.id))
