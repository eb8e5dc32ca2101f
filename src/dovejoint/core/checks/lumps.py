"""Parts that fall into several lumps."""

from __future__ import annotations

from collections.abc import Iterable

from .registry import Finding, Model, register_check


@register_check("lumps", "Parts in several lumps", "Every part is one lump.")
def _(model: Model) -> Iterable[Finding]:
    for part, state in model.parts():
        if state.info.lumps > 1:
            yield Finding(
                "wrong" if part.role == "printed" else "doubtful",
                f"{part.name} falls into {state.info.lumps} lumps.",
                figure=f"{state.info.lumps} lumps",
                limit="1",
                advice="Join them, or make a part of each.",
                parts=(part.id,),
                place=state.info.centre_mm,
            )
