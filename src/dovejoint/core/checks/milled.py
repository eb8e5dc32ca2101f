"""Made parts that their sheet or their cutter cannot give: another thickness, inner corners too sharp."""

from __future__ import annotations

from collections.abc import Iterable

from .. import solid as kernel
from .registry import Finding, Model, register_check

#: a sheet is as thick as it is said within this, mm
SHEET_MM = 0.01


@register_check(
    "milled",
    "Made parts that cannot be milled",
    "Every made part is as thick as its sheet, and its cutter gets into all inner corners; where neither is said, nothing is known of it.",
)
def _(model: Model) -> Iterable[Finding]:
    for part, state in model.parts("made"):
        sheet = kernel.sheet_of(state.faces) if part.sheet_mm > 0 or part.cutter_mm > 0 else None
        if sheet is None:
            continue
        if part.sheet_mm > 0 and abs(sheet.thick_mm - part.sheet_mm) > SHEET_MM:
            yield Finding(
                "wrong",
                f"{part.name} is not as thick as the sheet that it is cut from.",
                figure=f"{sheet.thick_mm:.4g} mm",
                limit=f"{part.sheet_mm:.4g} mm",
                advice="Make it as thick as its sheet, or say another sheet in its card.",
                parts=(part.id,),
                place=state.info.centre_mm,
            )
        radius = part.cutter_mm / 2
        tight = [c for c in kernel.inner_corners(state.faces, state.edges, sheet.way) if c.radius_mm < radius - 1e-6]
        if radius > 0 and tight:
            sharpest = min(tight, key=lambda c: c.radius_mm)
            yield Finding(
                "wrong",
                f"{len(tight)} inner corner{'s' * (len(tight) > 1)} of {part.name} {'are' if len(tight) > 1 else 'is'} sharper than its cutter makes.",
                figure="sharp" if sharpest.radius_mm == 0 else f"r {sharpest.radius_mm:.4g} mm",
                limit=f"r {radius:.4g} mm",
                advice="Add the step “Relieve corners”, give the joint that cut them this cutter, or round them by at least so much.",
                parts=(part.id,),
                place=sharpest.at,
            )
