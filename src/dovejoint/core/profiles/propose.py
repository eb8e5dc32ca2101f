"""Proposals: what the evidence would change in a profile, term by term, and in the gaps that rest on it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..document import Profile
from .belief import belief_of
from .borne import bears_now
from .catalogue import material_of

__all__ = ["Proposal", "TermChange", "propose"]

_WORDS = (
    ("scale_x", "prints across the bed come out larger by", "%"),
    ("scale_y", "prints deep on the bed come out larger by", "%"),
    ("scale_z", "prints come out taller by", "%"),
    ("outside_x", "outside faces lie proud, across", "mm a side"),
    ("outside_y", "outside faces lie proud, deep", "mm a side"),
    ("outside_z", "outside faces lie proud, upright", "mm a side"),
    ("inside_x", "openings close in, across", "mm a side"),
    ("inside_y", "openings close in, deep", "mm a side"),
    ("inside_z", "openings close in, upright", "mm a side"),
    ("hole", "round holes lose besides, times 1/diameter", "mm²"),
    ("joint_10", "gaps lose besides, in joints 10 mm wide", "mm a side"),
    ("joint_30", "gaps lose besides, in joints 30 mm wide", "mm a side"),
    ("joint_100", "gaps lose besides, in joints 100 mm wide", "mm a side"),
)


@dataclass(frozen=True)
class TermChange:
    """One term: what the profile said and what the evidence says, each with its standard deviation."""

    term: str
    says: str
    unit: str
    before: float
    before_sd: float
    after: float
    after_sd: float

    def as_dict(self) -> dict[str, Any]:
        return dict(self.__dict__)


@dataclass(frozen=True)
class Proposal:
    """A profile to go on with, why, and what it changes."""

    profile: Profile
    reason: str
    terms: tuple[TermChange, ...]

    @property
    def worthwhile(self) -> bool:
        """Whether a term moves, or becomes surer, by more than a hundredth of a millimetre (or of a per cent)."""
        return any(
            abs(t.after - t.before) > 0.01 or t.before_sd - t.after_sd > 0.005 for t in self.terms if t.unit != "mm²"
        )


def propose(present: Profile, learnt: Profile, readings: int, verdicts: int, prints: int) -> Proposal:
    """The step from the present profile to what was learnt, as its next version."""
    before, after = belief_of(present), belief_of(learnt)
    changes = []
    for i, (term, says, unit) in enumerate(_WORDS):
        k = 100.0 if unit == "%" else 1.0
        changes.append(
            TermChange(term, says, unit, k * before.mean[i], k * before.sd()[i], k * after.mean[i], k * after.sd()[i])
        )
    for term, says, unit, told in (
        ("flare", "first layers stand out on the bed by", "mm a side", [(p.flare_mm, p.flare_unsure_mm) for p in (present, learnt)]),
        ("flare_height", "first layers stand out up to", "mm", [(p.flare_height_mm, p.flare_height_unsure_mm) for p in (present, learnt)]),
    ):  # fmt: skip
        if told[0] != told[1]:
            changes.append(TermChange(term, says, unit, *told[0], *told[1]))
    if present.borne != learnt.borne:
        between = material_of(present.material).strain_once
        bears = [100 * f for p in (present, learnt) for f in bears_now(between, p.borne)]
        changes.append(
            TermChange("bears", "its prints bear, of the strain that is usual for the material,", "%", *bears)
        )
    evidence = [f"{n} {word}{'' if n == 1 else 's'}" for n, word in ((readings, "reading"), (verdicts, "verdict")) if n]
    reason = f"Learnt from {' and '.join(evidence)} on {prints} print{'' if prints == 1 else 's'}."
    profile = learnt.model_copy(update={"version": present.version + 1, "source": reason, "machine": present.machine, "id": present.id, "name": present.name})  # fmt: skip
    return Proposal(profile, reason, tuple(changes))
