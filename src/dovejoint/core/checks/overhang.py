"""Faces of joints that hang over as their half is printed: what sags there stands out into the gap, or keeps the halves apart."""

from __future__ import annotations

import math
from collections.abc import Iterable

from ..quantities import plain
from ..recipe import Mate, PartState
from ..recipe.lying import in_one_with, lie_in
from ..solid import Frame
from ..solid.hanging import BRIDGE_MM, REACH_MM, Hanging, hanging
from .registry import Finding, Model, register_check


@register_check(
    "overhang",
    "Joints that hang over",
    f"No face of a joint hangs over by more than {REACH_MM:g} mm, or bridges more than {BRIDGE_MM:g} mm, as its part lies.",
    of="joints",
)
def _(model: Model) -> Iterable[Finding]:
    parts = {p.id: (p, state) for p, state in model.parts("printed")}
    for _, shape, report in model.made_joints():
        for id in dict.fromkeys((shape.outer, shape.inner)):
            # halves that are printed in one hold each other, and their gap is one that the nozzle opens
            if id not in parts or {shape.outer, shape.inner} <= set(in_one_with(model.project, id)):
                continue
            part, state = parts[id]
            found = _worst(model, id, state, shape.mates, id == shape.outer, report.step)
            if found is None:
                continue
            yield Finding(
                "doubtful",
                f"{report.name}: {plain(found.area_mm2, 3)} mm² of it hang over on {part.name} as it lies, and sag.",
                figure=_figure(found), limit=f"{BRIDGE_MM if found.bridged else REACH_MM:g} mm",
                advice=f"Lay {part.name} on another face, lead into it at 45°, or print it with supports and smooth what they leave.",
                parts=(id,), step=report.step, joint=report.step, place=found.place,
            )  # fmt: skip


def _figure(found: Hanging) -> str:
    if math.isinf(found.over_mm):
        return "nothing holds it"
    return f"{found.over_mm:.3g} mm {'between what holds it' if found.bridged else 'out over air'}"


def _worst(model: Model, id: str, state: PartState, mates: tuple[Mate, ...], outer: bool, step: str) -> Hanging | None:
    """The underside of a half that its beads hold least, of what meets and what the joint has made besides; ``None`` where they hold all."""
    faces = {f for m in mates for name in (m.outer if outer != m.swapped else m.inner) for f in state.solid.find(name)}
    faces |= {f for f, names in enumerate(state.solid.names) if any(n.startswith(f"{step}/") for n in names)}
    lie = lie_in(model.project, model.evaluation.parts, id)
    frame = Frame((0.0, 0.0, 0.0), lie.x, lie.y)
    key = f"overhang {state.key} {sorted(faces)} {lie}"
    found: list[Hanging] = model.cache.get(key, lambda: hanging(state.mesh, frame, faces))
    return next((h for h in found if h.over_mm > (BRIDGE_MM if h.bridged else REACH_MM)), None)
