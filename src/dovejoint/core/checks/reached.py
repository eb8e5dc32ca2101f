"""What must be got at when a joint is put together, and is covered by the very parts that it holds: the head of a screw, a nut."""

from __future__ import annotations

from collections.abc import Iterable

from .. import solid as kernel
from ..joints.rounds import ring_of
from ..recipe import Reach
from ..solid import Vec3
from .registry import Finding, Model, register_check

#: looked along the middle and round it, at this share of how wide it is, at so many places
AROUND, PLACES = 0.9, 8
#: what begins farther off than this is passed by a driver or by tweezers, mm
FAR_MM = 150.0


@register_check(
    "reached",
    "Screws and nuts that nothing gets at",
    "Every screw's head can be reached by a driver, and every nut gets into its place, past the parts that are held.",
    of="joints",
)
def _(model: Model) -> Iterable[Finding]:
    names = {p.id: p.name for p in model.project.parts}
    for step, shape, report in model.made_joints():
        for reach in shape.reached:
            met = _covered(model, reach)
            if met is None:
                continue
            part, far, place = met
            yield Finding(
                "wrong",
                f"{report.name}: nothing gets at {reach.what}, for {names[part]} lies over it.",
                figure=f"{names[part]} begins {far:.3g} mm from it",
                limit="free all the way",
                advice="Turn the screw round, move it, or leave a way in.",
                parts=(part,), joint=step.id, place=place,
            )  # fmt: skip


def _covered(model: Model, reach: Reach) -> tuple[str, float, Vec3] | None:
    """The held part that lies over it, how far from it, and where: that which comes first."""
    f = reach.frame
    places = [f.to_world(0.0, 0.0, 0.01), *(at for at, _ in ring_of(f, AROUND * reach.radius_mm, 0.01, PLACES))]
    found = []
    for part in reach.past:
        state = model.evaluation.parts.get(part)
        if state is None:
            continue
        key = f"reached {state.key} {reach.frame} {reach.radius_mm}"
        far: float | None = model.cache.get(key, lambda s=state: kernel.free_length(s.solid, places, f.z, FAR_MM))  # type: ignore[misc]
        if far is not None:
            found.append((far, part))
    if not found:
        return None
    far, part = min(found)
    return part, far, f.to_world(0.0, 0.0, far)
