"""Joints that break, slip or jump over: limits of what they work out that are not kept often enough."""

from __future__ import annotations

from collections.abc import Iterable

from ..fits.gaps import DOUBTFUL, WELL
from .registry import Finding, Model, register_check


def _figure(value: float | None) -> str:
    return "without bound" if value is None else f"{value:.3g}"


@register_check(
    "bears",
    "Joints that break or do not hold",
    "Every joint keeps the limits of what it works out, in 95 of 100 prints and more.",
    of="joints",
)
def _(model: Model) -> Iterable[Finding]:
    for joint in model.joints:
        if joint.working is None:
            continue
        place = None if joint.least_at is None else tuple((p + q) / 2 for p, q in zip(*joint.least_at, strict=True))
        for result in (r.as_dict() for r in joint.working.results):
            kept = result["chance"]
            if kept is None or kept >= WELL:
                continue
            unit = f" {result['unit']}".rstrip()
            yield Finding(
                "wrong" if kept < DOUBTFUL else "doubtful",
                f"{joint.name}: {result['fails']} in {round(100 * (1 - kept))} of 100.",
                figure=f"{result['name']} {_figure(result['value'])}{unit} ({_figure(result['low'])} to {_figure(result['high'])})",
                limit=f"at {result['bound']} {_figure(result['limit'])}{unit} {result['note']}".strip(),
                advice="Ask on the Join desk which of its figures would make it hold.",
                parts=joint.parts,
                joint=joint.step,
                place=place,  # type: ignore[arg-type]
            )
