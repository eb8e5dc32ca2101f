"""Printed parts that are larger than the printer's room."""

from __future__ import annotations

from collections.abc import Iterable

from .registry import Finding, Model, register_check


@register_check("bed", "Parts larger than the bed", "Every printed part has room on the bed.")
def _(model: Model) -> Iterable[Finding]:
    room = model.profile.bed_mm
    for part, state in model.parts("printed"):
        size = tuple(b - a for a, b in zip(state.info.low_mm, state.info.high_mm, strict=True))
        # it may be turned about any axis by a right angle
        if all(s <= r + 1e-6 for s, r in zip(sorted(size), sorted(room), strict=True)):
            continue
        yield Finding(
            "wrong",
            f"{part.name} is larger than the printer's room.",
            figure=" × ".join(f"{s:.1f}" for s in size) + " mm",
            limit=" × ".join(f"{r:.0f}" for r in room) + " mm",
            advice="Make it smaller, or split it.",
            parts=(part.id,),
            place=state.info.centre_mm,
        )
