"""Walls of printed parts that are too thin for the nozzle."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial

from .. import solid as kernel
from ..recipe.lying import lie_in
from .registry import Finding, Model, register_check

#: PRACTICE: a wall needs two lines side by side to hold, and a plate that lies two layers
LINES, LAYERS = 2, 2


@register_check("thin_wall", "Walls too thin for the nozzle", "Every wall has room for two lines of the nozzle.")
def _(model: Model) -> Iterable[Finding]:
    line, layer = model.profile.line_width_mm, model.profile.settings.layer_mm
    limit, lying = LINES * line, LAYERS * layer
    for part, state in model.parts("printed"):
        up = lie_in(model.project, model.evaluation.parts, part.id).z
        probe = partial(kernel.thinnest_wall, state.solid, limit, up, lying)
        found = model.cache.get(f"wall {limit} {lying} {up} {state.key}", probe)
        if found is None:
            continue
        most = lying if found.lying else limit
        # a hair under two lines is a rounding of the slicer's, not a fault
        if found.least_mm >= most - 1e-6:
            continue
        place = tuple((p + q) / 2 for p, q in zip(*found.at, strict=True))
        less = found.least_mm < most / 2
        what = (
            f"A plate of {part.name} that lies is thinner than {'one layer' if less else 'two layers'}."
            if found.lying
            else f"A wall of {part.name} is thinner than {'one line' if less else 'two lines'} of the nozzle."
        )
        yield Finding(
            "wrong" if less else "doubtful",
            what,
            figure=f"{found.least_mm:.2f} mm",
            limit=f"{most:.2f} mm",
            advice=f"Make it {most:.2f} mm or more, or print {'thinner layers' if found.lying else 'with a finer nozzle'}.",
            parts=(part.id,),
            place=place,
        )
