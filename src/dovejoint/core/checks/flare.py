"""Mating edges that lie on the bed, where the first layers stand out into the gap."""

from __future__ import annotations

from collections.abc import Iterable

from ..profiles import flare_left_mm
from .registry import Finding, Model, register_check

#: less than this of a flare is not worth a word, mm
LEAST_MM = 0.01


@register_check("flare", "First-layer flare on mating edges", "No mating edge flares on the bed.", of="joints")
def _(model: Model) -> Iterable[Finding]:
    profile = model.profile
    names = {p.id: p.name for p in model.project.parts}
    for joint in model.joints:
        for edge in joint.on_bed:
            left, _ = flare_left_mm(profile, [edge.chamfer_mm])
            if left < LEAST_MM:
                continue
            part = joint.parts[0 if edge.outer else 1]
            yield Finding(
                "doubtful",
                f"{edge.what[:1].upper()}{edge.what[1:]} of {names[part]} lies on the bed and flares into {joint.name}.",
                figure=f"{left:.2f} mm a side beyond its {edge.chamfer_mm:.4g} mm chamfer",
                limit="0 mm",
                advice=f"Chamfer it by {profile.flare_height_mm:.4g} mm, or lay {names[part]} on another face.",
                parts=(part,),
                step=joint.step,
                joint=joint.step,
                place=edge.place,
            )
