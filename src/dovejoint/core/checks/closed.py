"""Parts whose surface is not closed or not sound."""

from __future__ import annotations

from collections.abc import Iterable

from .registry import Finding, Model, register_check


@register_check("closed", "Parts that are not closed", "Every part is closed and sound.")
def _(model: Model) -> Iterable[Finding]:
    for part, state in model.parts():
        if state.info.closed and state.info.valid:
            continue
        yield Finding(
            "wrong",
            f"The surface of {part.name} is {'not closed' if not state.info.closed else 'not sound'}.",
            advice="Look at it after each of its steps, and change the first where it is wrong.",
            parts=(part.id,),
            place=state.info.centre_mm,
        )
