"""Parts that take up the same room, as drawn."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import combinations

from .. import solid as kernel
from ..quantities import plain
from ..recipe import PartState
from ..solid import Vec3
from .registry import Finding, Model, register_check

#: less than this is a touch, mm³
LEAST_MM3 = 1e-3


def _shared(first: PartState, second: PartState) -> tuple[float, Vec3]:
    """Volume that two parts share, mm³, and its middle."""
    if kernel.clearly_apart(first.mesh, second.mesh):
        return 0.0, (0.0, 0.0, 0.0)
    return kernel.common(first.solid, second.solid)


@register_check("overlap", "Parts that overlap as drawn", "No two parts take up the same room.")
def _(model: Model) -> Iterable[Finding]:
    # what stands there for reference is no thing that room is taken from
    solid = model.parts("printed", "bought", "made")
    shapes = [s.joint for s in model.evaluation.made.values() if s.joint is not None]
    threaded = {(shape.inner, part) for shape in shapes for part in shape.cuts_into}
    for (a, first), (b, second) in combinations(solid, 2):
        if (a.id, b.id) in threaded or (b.id, a.id) in threaded:
            continue
        keys = sorted((first.key, second.key))
        volume, centre = model.cache.get(f"overlap {keys}", lambda x=first, y=second: _shared(x, y))  # type: ignore[misc]
        if volume < LEAST_MM3:
            continue
        between = [j for j in model.joints if set(j.parts) == {a.id, b.id}]
        # a press fit may be drawn tighter than nothing; then the joint means it
        press = [j for j in between if j.drawn is not None and j.drawn.gap_mm < 0]
        meant, joint = bool(press), next(iter(press or between), None)
        yield Finding(
            "doubtful" if meant else "wrong",
            f"{a.name} and {b.name} share room.",
            figure=f"{plain(volume)} mm³",
            limit="0 mm³",
            advice="The joint's press fit wants it; see its gauge." if meant else "Move one of them, or cut it away.",
            parts=(a.id, b.id),
            joint=joint.step if joint else "",
            place=centre,
        )
