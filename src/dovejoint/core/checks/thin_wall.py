"""Walls of printed parts that are too thin for the nozzle."""

from __future__ import annotations

from collections.abc import Iterable

from .. import solid as kernel
from .registry import Finding, Model, register_check

#: PRACTICE: a wall needs two lines side by side to hold
LINES = 2


@register_check("thin_wall", "Walls too thin for the nozzle", "Every wall has room for two lines of the nozzle.")
def _(model: Model) -> Iterable[Finding]:
    line = model.profile.line_width_mm
    limit = LINES * line
    for part, state in model.parts("printed"):
        found = model.cache.get(f"wall {limit} {state.key}", lambda s=state: kernel.thinnest_wall(s.solid, limit))  # type: ignore[misc]
        if found is None:
            continue
        # a hair under two lines is a rounding of the slicer's, not a fault
        if found.least_mm >= limit - 1e-6:
            continue
        place = tuple((p + q) / 2 for p, q in zip(*found.at, strict=True))
        yield Finding(
            "wrong" if found.least_mm < line else "doubtful",
            f"A wall of {part.name} is thinner than {'one line' if found.least_mm < line else 'two lines'} of the nozzle.",
            figure=f"{found.least_mm:.2f} mm",
            limit=f"{limit:.2f} mm",
            advice=f"Make it {limit:.2f} mm or more, or print with a finer nozzle.",
            parts=(part.id,),
            place=place,
        )
