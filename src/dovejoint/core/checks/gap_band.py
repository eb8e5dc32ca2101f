"""Joints whose printed gap is likely to lie outside the wanted band."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from ..document import Profile
from ..fits import verdict
from ..joints import JointReport
from ..recipe import kind_of
from .registry import Finding, Model, register_check


def _advice(joint: JointReport, at_limits: bool, profile: Profile) -> str:
    """What would help most: a wider band, the gap moved to its middle by a figure, or to know more of the printer."""
    assert joint.wanted and joint.expected
    wanted, expected = joint.wanted, joint.expected
    off = (wanted.least_mm + wanted.most_mm) / 2 - (expected.least_mm + expected.most_mm) / 2
    band, needs = wanted.most_mm - wanted.least_mm, expected.high_mm - expected.low_mm
    if at_limits:
        return "So it is at these limits of the tolerances: narrow the one that moves the gap most, or widen the gap."
    if joint.measured is not None and joint.measured.most_mm - joint.measured.least_mm > 0.005:
        return "A later step made the gap uneven; look there first."
    if abs(off) > 0.01:
        return f"Draw the gap {abs(off):.2f} mm{joint.each} {'wider' if off > 0 else 'tighter'}."
    if expected.unsure_mm > max(expected.common_mm, expected.random_mm) and needs > band:
        said = "" if profile.version > 1 or profile.tuned is not None else "say whether it is set up, "
        return f"Little is known of this printer: {said}print a coupon and measure it, or print the joint and say how it went."
    if needs > band:
        return f"This printer scatters over {needs:.2f} mm, the band is {band:.2f}: choose a wider class, or measure the printer."
    return "Look at the joint."


@register_check(
    "gap_band", "Joints outside their wanted gap", "Every joint's expected gap lies in its wanted band.", of="joints"
)
def _(model: Model) -> Iterable[Finding]:
    for joint in model.joints:
        if joint.state in ("well", "failed") or joint.wanted is None or joint.expected is None or joint.chance is None:
            continue
        state, says = joint.state, joint.says
        if joint.working is not None:
            # what breaks is another check's matter: here it is the gap alone
            alone = max(0.0, joint.chance.goes_in + joint.chance.holds - 1)
            state, says = verdict(replace(joint.chance, fits=alone))
            if state == "well":
                continue
            # the gauge's figure has all that must hold in it, so it may be lower
            says = says.replace("fits in", "the gap fits in")
        step = model.project.step(joint.step)
        tight = joint.chance.goes_in < joint.chance.holds
        at = joint.least_at if tight else joint.most_at
        place = None if at is None else tuple((p + q) / 2 for p, q in zip(*at, strict=True))
        yield Finding(
            "wrong" if state == "wrong" else "doubtful",
            f"{joint.name or (kind_of(step).title if step else '')}: {says}.",
            figure=f"expected {joint.expected.low_mm:.2f} to {joint.expected.high_mm:.2f} mm{joint.each}",
            limit=f"wanted {joint.wanted.least_mm:.2f} to {joint.wanted.most_mm:.2f}",
            advice=_advice(joint, model.evaluation.at_limits, model.profile),
            parts=joint.parts,
            joint=joint.step,
            place=place,  # type: ignore[arg-type]
        )
