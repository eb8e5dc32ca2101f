"""Joints whose halves no straight way brings together, and joints of two parts that want them to come from different sides."""

from __future__ import annotations

import math
from collections.abc import Iterable
from itertools import combinations

from .. import solid as kernel
from ..joints.family import family_of
from ..recipe import PartState
from ..solid.frame import Vec3, dot, scale
from .registry import Finding, Model, register_check

#: ways are the same within this cosine (2.5 degrees)
SAME_WAY = 0.999


@register_check(
    "together",
    "Halves that do not come together",
    "Every joint's halves come together on a straight way, and no two joints of the same parts want different ones.",
    of="joints",
)
def _(model: Model) -> Iterable[Finding]:
    names = {p.id: p.name for p in model.project.parts}
    found = [(report, family_of(step).comes, shape) for step, shape, report in model.made_joints()]
    found = [f for f in found if f[1] != "turned"]
    pairs = {frozenset((s.outer, s.inner)) for _, comes, s in found if comes == "sprung"}
    for report, how, shape in found:
        # where something bends on the way, what it meets is meant
        halves = [model.evaluation.parts.get(p) for p in (shape.outer, shape.inner)]
        if how != "straight" or frozenset((shape.outer, shape.inner)) in pairs or None in halves:
            continue
        met = _met(model, halves[0], halves[1], shape.way_out)  # type: ignore[arg-type]
        if met is not None:
            far, place = met
            yield Finding(
                "wrong",
                f"{report.name}: no straight way brings {names[shape.inner]} out of {names[shape.outer]}, or into it.",
                figure=f"they meet after {far:.3g} mm",
                limit="free all the way",
                advice="Cut away what stands in the way there, or let a part come in two.",
                parts=(shape.outer, shape.inner), joint=report.step, place=place,
            )  # fmt: skip
    for (a, _, one), (b, _, other) in combinations(found, 2):
        if {one.outer, one.inner} != {other.outer, other.inner}:
            continue
        slant = abs(dot(one.way_out, other.way_out))
        if slant < SAME_WAY:
            yield Finding(
                "wrong",
                f"{a.name} and {b.name} want {names[one.outer]} and {names[one.inner]} to come together on different ways.",
                figure=f"{math.degrees(math.acos(slant)):.0f}° apart", limit="the same way",
                advice="Turn one of them, or make one of them a joint that is put in afterwards.",
                parts=(one.outer, one.inner), joint=b.step, place=other.mates[0].frame.origin,
            )  # fmt: skip


def _met(model: Model, outer: PartState, inner: PartState, out: Vec3) -> tuple[float, Vec3] | None:
    """What stands in the way of the inner half, whichever way along the joint it is moved; that where it comes farthest."""
    met: list[tuple[float, Vec3]] = []
    for way in (out, scale(out, -1.0)):
        key = f"way {outer.key} {inner.key} {way}"
        hit: tuple[float, Vec3] | None = model.cache.get(key, lambda w=way: kernel.met_on_the_way((inner.solid, inner.mesh), (outer.solid, outer.mesh), w))  # type: ignore[misc]  # fmt: skip
        if hit is None:
            return None
        met.append(hit)
    return max(met, key=lambda m: round(m[0], 3))
