"""A world of simulated printers, in which what the application promises can be counted.

Joints are taken as sizes only (an opening and a lip in two directions), so that hundreds of prints cost seconds.
"""

from __future__ import annotations

import random
from dataclasses import dataclass, field
from types import SimpleNamespace
from typing import Any

from dovejoint.core.document import Profile
from dovejoint.core.fits import FIT_CLASSES, Drawn, Wanted, chance, drawn_for, expected_of
from dovejoint.core.printing.coupons import make_coupon
from dovejoint.core.profiles import SET_UP_PROFILE, Mating, flare_left_mm
from dovejoint.core.profiles.learn import Ladder, SizeReading, Verdict, learn
from dovejoint.simulator import Caliper, Machine, hidden_of
from dovejoint.simulator.hands import tried
from dovejoint.web.learning import joint_evidence

X, Y = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)


@dataclass
class Joint:
    """A lip in an opening, both printed upright; ``chamfers`` are those of mating edges on the bed."""

    width: float = 83.0
    depth: float = 56.6
    wanted: Wanted = FIT_CLASSES["slide"].wanted
    chamfers: tuple[float, ...] = ()
    round_hole: bool = False

    def mating(self, profile: Profile) -> Mating:
        ways = ((X, X, self.width), (Y, Y, self.depth))
        return Mating(
            ways, *flare_left_mm(profile, self.chamfers), round_hole=self.round_hole, chamfers_mm=self.chamfers
        )

    def drawn(self, profile: Profile) -> float:
        return drawn_for(self.wanted, profile, self.mating(profile)).gap_mm

    def chance(self, profile: Profile, drawn: float) -> float:
        return chance(self.wanted, expected_of(Drawn(drawn), profile, self.mating(profile))).fits

    def halves(self, drawn: float) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
        outer, inner = [], []
        for way, direction, size in (("x", X, self.width), ("y", Y, self.depth)):
            hole = {"role": "inside", "direction": direction, "drawn_mm": size, "round_hole": self.round_hole}
            outer.append({"id": f"o:j:{way}", **hole})
            inner.append({"id": f"i:j:{way}", "role": "outside", "direction": direction, "drawn_mm": size - 2 * drawn})
        return outer, inner


@dataclass
class Maker:
    """Someone with one simulated printer, a caliper and a joint: prints, tries, measures, learns."""

    number: int
    joint: Joint = field(default_factory=Joint)
    profile: Profile = SET_UP_PROFILE
    evidence: list[Any] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.machine = Machine(self.number, hidden_of(self.number))
        self.outer: dict[str, float] | None = None
        self.prints = 0

    def try_joint(self, both: bool = True) -> tuple[str, float]:
        """Print the joint (or only its inner half again) and put it together: the verdict, and the drawn gap."""
        drawn = self.joint.drawn(self.profile)
        outer, inner = self.joint.halves(drawn)
        dice = self.machine.next_print()
        self.prints += 1
        if both or self.outer is None:
            self.outer = self.machine.make(outer, dice)
        lip = self.machine.make(inner, dice)
        lost = self.machine.shape_lost_mm(self.joint.width, self.joint.depth, self.joint.round_hole)
        gaps = [(self.outer[f"o:j:{w}"] - lip[f"i:j:{w}"]) / 2 - k for w, k in zip("xy", lost, strict=True)]
        least = min(gaps) - self.machine.gap_lost_mm(self.joint.chamfers)
        verdict = (
            "too tight"
            if least < self.joint.wanted.least_mm
            else "loose"
            if max(gaps) > self.joint.wanted.most_mm
            else "good"
        )
        return verdict, drawn

    def tell(self, verdict: str, drawn: float) -> None:
        wanted = self.joint.wanted
        self.evidence.append(Verdict(drawn, wanted.least_mm, wanted.most_mm, verdict, self.joint.mating(self.profile)))  # type: ignore[arg-type]

    def print_coupon(self, kind: str = "sizes") -> None:
        coupon = make_coupon(kind, self.profile)
        dice = self.machine.next_print()
        self.prints += 1
        caliper, hand = Caliper(), random.Random(f"hand {self.number} {self.prints}")
        features = [f.as_dict() for f in coupon.features]
        true = self.machine.make(features, dice)
        if kind != "sizes":
            plug = {w: next(v for k, v in true.items() if k.endswith(f":plug:{w}")) for w in "xy"}
            wide, deep = 12.0, 80.0 if kind == "walls" else 12.0
            round_hole = kind == "bores"
            hidden = self.machine.hidden
            # walls bow with the square of their length, corners bulge; neither in a round joint
            lost = {
                w: 0.0 if round_hole else hidden.bow * (s / 100) ** 2 + hidden.bulge
                for w, s in (("x", deep), ("y", wide))
            }
            went = 0
            for k in range(len(coupon.ladder_mm)):
                rung = {w: next(v for f, v in true.items() if f.endswith(f":rung{k}:{w}")) for w in "xy"}
                went += min((rung[w] - plug[w]) / 2 - lost[w] for w in "xy") >= 0.03
            mating = Mating(((X, X, wide), (Y, Y, deep)), round_hole=round_hole)
            self.evidence.append(Ladder(coupon.ladder_mm, went, mating))
            return
        for f in coupon.features:
            read = caliper.read(
                true[f.id],
                hand,
                round_hole=f.round_hole,
                seam_mm=self.machine.hidden.seam if f.role == "outside" and f.direction[2] == 0 else 0.0,
            )
            self.evidence.append(
                SizeReading(
                    f.role,
                    f.direction,
                    f.drawn_mm,
                    read,
                    str(self.prints),
                    f.round_hole,
                    caliper.resolution,
                    f.foot_of or f.id,
                    bool(f.foot_of),
                    f.chamfer_mm,
                )
            )

    def learn(self) -> None:
        learnt = learn(SET_UP_PROFILE, self.evidence).profile
        self.profile = learnt.model_copy(update={"version": self.profile.version + 1})


def print_and_try(
    machine: Machine, features: list[dict[str, Any]], joint: dict[str, Any]
) -> tuple[str, dict[str, Any]]:
    """Both halves of a joint of the model in one print, put together by the simulated hands: the verdict, and what it rests on."""
    own = [f for f in features if f["joint"] == joint["step"]]
    return put_together(machine, own, machine.make(own, machine.next_print()), joint)


def put_together(
    machine: Machine, own: list[dict[str, Any]], sizes: dict[str, float], joint: dict[str, Any], which: int = 0
) -> tuple[str, dict[str, Any]]:
    """Two halves with these printed sizes, put together: the verdict, and what it rests on; ``which`` of several of one print it is."""
    trial = SimpleNamespace(id="t", printed={"parts": [{"features": own}], "joints": [joint]})
    evidence = joint_evidence(trial, trial, joint["step"])  # type: ignore[arg-type]
    by_side = {side: dict(evidence["as_drawn_mm"][side]) for side in ("outer", "inner")}
    for f in own:
        by_side[f["side"]][f["id"].rsplit(":", 1)[1]] = sizes[f["id"]]
    dice = random.Random(f"{machine.number} {machine.prints} {which or ''}".strip())
    return tried(machine, by_side, evidence, sum(evidence["printed"]), dice).verdict, evidence
