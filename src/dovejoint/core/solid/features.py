"""What faces of a solid stand for: the boss that they bound, the pocket that they line, or both; and roundings between two faces."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut

from ..errors import StepError
from .combine import run
from .finish import fillet
from .measure import edge_length
from .named import NamedSolid, carry, solids_of
from .push import without_faces

__all__ = ["rounded_between", "works_of_faces"]

Operation = Literal["add", "cut"]

#: less than this is nothing, mm³
LEAST_MM3 = 1e-6


def works_of_faces(solid: NamedSolid, faces: Sequence[int], step: str) -> list[tuple[Operation, NamedSolid]]:
    """What was added to a solid and what was cut from it where some of its faces (0-based) are: what it would be without them, against what it is.

    Gives ``("add", solid)`` and ``("cut", solid)``, either or both, in this order; their faces keep the names that they have on the solid.

    Raises
    ------
    StepError : what lies around the faces does not close over them.
    """
    healed = without_faces(solid, faces, step)
    found: list[tuple[Operation, NamedSolid]] = []
    sides: tuple[tuple[Operation, NamedSolid, NamedSolid], ...] = (("add", solid, healed), ("cut", healed, solid))
    for operation, more, less in sides:
        maker = run(BRepAlgoAPI_Cut(), more, [less])
        if not solids_of(maker.Shape()):
            continue
        tool = carry(maker.Shape(), [more, less], maker, rest=f"{step}/foot")
        if tool.volume_mm3 > LEAST_MM3:
            found.append((operation, tool))
    if not found:
        raise StepError("These faces bound nothing that could be done again; take all faces of a pocket or a boss.")
    return found


def rounded_between(solid: NamedSolid, one: int, other: int, radius_mm: float, step: str) -> NamedSolid:
    """Round from one face (0-based) to another: their common edges, or, where a strip lies between them, what is left of the two when the strip is taken away.

    The new faces are ``step/fillet(face|face)``.

    Raises
    ------
    StepError : the two do not meet, even without what lies between them, or the radius does not fit.
    """
    first, second = solid.names[one][0], solid.names[other][0]
    between = _between(solid, solid.find(first), solid.find(second))
    if not between:
        solid = _without_strip(solid, one, other, step)
        between = _between(solid, solid.find(first), solid.find(second))
    if between:
        return fillet(solid, dict.fromkeys(between, radius_mm), step)
    raise StepError("These two faces do not meet, nor do they when what lies between them is taken away; pick others.")


def _between(solid: NamedSolid, one: list[int], other: list[int]) -> list[int]:
    return [k for k, (_, (a, b)) in enumerate(solid.edges) if (a in one and b in other) or (a in other and b in one)]


def _without_strip(solid: NamedSolid, one: int, other: int, step: str) -> NamedSolid:
    """The solid without the faces that touch both of two others, and look neither way along them as an end would."""
    near = [{b for _, pair in solid.edges for a, b in (pair, pair[::-1]) if a == face} for face in (one, other)]
    strip = sorted((near[0] & near[1]) - {one, other})
    apart = StepError("These two faces do not meet, and no strip of faces runs between them; pick others.")
    if not strip:
        raise apart
    # faces that bound the ends of the strip touch both too, but they are not as long along them
    shared = {f: _common_mm(solid, f, one) + _common_mm(solid, f, other) for f in strip}
    longest = max(shared.values())
    strip = [f for f in strip if shared[f] > longest / 2]
    try:
        return without_faces(solid, strip, step)
    except StepError:
        raise apart from None


def _common_mm(solid: NamedSolid, one: int, other: int) -> float:
    return sum(edge_length(edge) for edge, pair in solid.edges if set(pair) == {one, other})
