"""Every family of joints, printed and tried on hidden machines: how often what was shown comes true, and what one coupon does for the second print.

Each family stands in a sample. Its solids are made and measured twice, at two drawn gaps; between and beyond them features, sides and what the hands are told follow
in proportion (:func:`Case.off_mm` says how far that is from a third that is made in truth). Machines, filaments and hands are those of the application; what is shown
is what its Join desk shows. Nothing of the estimator is known to them.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from building import Bench, known, of_sample
from world import Maker, print_and_try, put_together

from dovejoint.core.document import Profile, Project
from dovejoint.core.fits.stepped import best_gap
from dovejoint.core.joints import assess, assess_by_formula
from dovejoint.core.joints.assess import JointReport, facts_of, judged
from dovejoint.core.joints.family import drawn_mm, meeting_of
from dovejoint.core.joints.mating import mating_of
from dovejoint.core.printing.features import features_of, joint_prints
from dovejoint.core.profiles import SET_UP_PROFILE, Mating
from dovejoint.core.profiles.learn import Stepped, Verdict
from dovejoint.core.recipe import Evaluation
from dovejoint.simulator import Machine, hidden_of

#: which sample shows a family, and which of its joints (the first of its kind)
SHOWN_BY = {
    "plug_in_lip": "feeder", "rail": "bracket", "rim": "housing", "hinge": "flap", "split": "post", "tails": "sill", "lap": "perch-bar", "stub": "stake", "ball": "panel", "seat": "vane-hub", "snap_hook": "hatch",
    "detent": "sensor-cover", "shaped_shaft": "dial", "ring_snap": "rain-rim", "tab": "seed-tray", "halving": "shield", "pins": "sensor-post", "plug": "vent-cover",
    "thread": "jar", "fastener": "housing", "shaft_in_bore": "spindle", "drop_hook": "water-cup", "lever": "battery-box", "key": "winch", "tongue": "cable-box",
}  # fmt: skip
#: and joints of a family that work in another way: their samples and what they are called there
OTHER_WAYS = {
    "split_seat": ("vent-crank", "hold on the rod"),
    "knurled_seat": ("vent-crank", "bite of the pin"),
    "chamfered_lip": ("feeder", "plug_in_lip"),
}
#: what is said otherwise there: a tray that is printed, not milled; a lip's mouth with the chamfer that is usual where it lies on the bed
OTHERWISE = {
    "chamfered_lip": {"mouth": "0.8 mm"},
    "tab": {"extent": "by", "long": "2.5 mm", "lead": "0.6 mm", "mouth": "0.3 mm", "mill": "0 mm"},
}
#: drawn gaps at which the hands are asked whether there is one that does at all, mm from the one that is drawn
_ASKED_MM = [k * 0.04 for k in range(-12, 13)]
#: and the finer ones among which the best is looked for
_SEARCHED_MM = [k * 0.03 for k in range(-6, 11)]


def _with(project: Project, profile: Profile) -> Project:
    """The project resting on a profile; parts that are made are printed here, for it is printers that are counted."""
    parts = [p.model_copy(update={"role": "printed"}) if p.role == "made" else p for p in project.parts]
    return project.model_copy(update={"profiles": [profile], "profile": profile.id, "parts": parts})


@dataclass(frozen=True)
class Made:
    """A joint's solids at one drawn gap: what is printed of them, what is measured, what the hands are told."""

    project: Project
    evaluation: Evaluation
    report: JointReport
    features: list[dict[str, Any]]
    joint: dict[str, Any]

    @property
    def drawn_mm(self) -> float:
        return float(self.joint["drawn_mm"])


def _made(project: Project, step: str, profile: Profile) -> Made:
    bench = known(Bench(_with(project, profile)))
    evaluation = bench.evaluate()
    reports = assess(bench.project, evaluation, bench.gaps, only=[step])
    (report,) = reports
    features = [f.as_dict() for f in features_of(bench.project, evaluation, reports) if f.joint == step]
    joint = next(j for j in joint_prints(bench.project, evaluation, reports) if j.step == step)
    return Made(bench.project, evaluation, report, features, joint.as_dict())


def _between(a: Any, b: Any, share: float) -> Any:
    """What lies between two alike things, by a share that may go beyond them; what is no figure is that of the first."""
    if isinstance(a, bool | str) or a is None:
        return a
    if isinstance(a, Mapping):
        return {k: _between(v, b[k], share) for k, v in a.items()}
    if isinstance(a, list | tuple):
        return type(a)(_between(x, y, share) for x, y in zip(a, b, strict=True))
    return a + share * (b - a) if isinstance(a, float) else a


def _way(side: Any) -> tuple[float, float]:
    return round(side[1], 3), round(side[2], 3)


def _sides(one: Any, other: Any, share: float, apart_mm: float) -> tuple[Any, ...]:
    """The gaps on all sides of a zone: in each direction between those that are read, or where it was read once only, moved by what is drawn more."""
    by_way = {_way(side): side[0] for side in other}
    return tuple((g + share * (by_way.get(_way((g, x, y)), g + apart_mm) - g), x, y) for g, x, y in one)


class Case:
    """One family in its sample."""

    def __init__(self, family: str) -> None:
        self.family = family
        sample, called = OTHER_WAYS[family] if family in OTHER_WAYS else (SHOWN_BY[family], family)
        bench = of_sample(sample)
        self.step = next(s.id for s in bench.project.recipe if called in (s.kind, s.name))
        if family in OTHERWISE:
            bench.do("EditStep", step=self.step, fields=OTHERWISE[family])
        self.project = bench.project
        self.first = _made(self.project, self.step, SET_UP_PROFILE)
        self.second = _made(self.project, self.step, grown(0.06))

    @cached_property
    def shape(self) -> Any:
        return self.first.evaluation.made[self.step].joint

    def at(self, drawn_mm: float) -> tuple[list[dict[str, Any]], dict[str, Any], JointReport]:
        """Features, joint and report at a drawn gap."""
        apart = self.second.drawn_mm - self.first.drawn_mm
        share = (drawn_mm - self.first.drawn_mm) / apart if abs(apart) > 1e-9 else 0.0
        features = [{**f, "drawn_mm": _between(f["drawn_mm"], g["drawn_mm"], share)} for f, g in zip(self.first.features, self.second.features, strict=True)]  # fmt: skip
        joint = {k: _between(v, self.second.joint[k], share) if k in ("drawn_mm", "sizes_mm", "acts", "load") else v for k, v in self.first.joint.items()}  # fmt: skip
        one, other = self.first.report.measured, self.second.report.measured
        assert one is not None and other is not None
        sides = tuple(_sides(a, b, share, apart) for a, b in zip(one.sides, other.sides, strict=True))
        measured = replace(one, sides=sides, **{k: _between(getattr(one, k), getattr(other, k), share) for k in ("least_mm", "most_mm", "inner_mm")})  # fmt: skip
        joint["sides"] = sides
        return features, joint, replace(self.first.report, measured=measured)

    def off_mm(self, profile: Profile) -> float:
        """How far features and sides at another drawn gap are from those of solids that are made so."""
        true = _made(self.project, self.step, profile)
        features, joint, _ = self.at(true.drawn_mm)
        sizes = [abs(f["drawn_mm"] - g["drawn_mm"]) for f, g in zip(features, true.features, strict=True)]
        for mine, its in zip(joint["sides"], true.joint["sides"], strict=True):
            by_way = {_way(side): side[0] for side in its}
            sizes += [abs(side[0] - by_way[_way(side)]) for side in mine if _way(side) in by_way]
        return max([0.0, *sizes])

    @cached_property
    def figures(self) -> Mapping[str, float]:
        return next(r.figures for r in self.first.evaluation.steps if r.id == self.step)

    @cached_property
    def _seen(self) -> bool:
        """Whether what was seen of it says how its halves lie: then its formula draws the gap that its solids get."""
        formula = next(r for r in assess_by_formula(self.first.project) if r.step == self.step)
        return formula.drawn is None or abs(formula.drawn.gap_mm - self.first.drawn_mm) < 1e-9

    def _drawn_mm(self, profile: Profile) -> float:
        """The gap that is drawn with a profile, as its solids get it."""
        project = _with(self.project, profile)
        if self._seen:
            formula = next(r for r in assess_by_formula(project) if r.step == self.step)
            return formula.drawn.gap_mm if formula.drawn is not None else self.first.drawn_mm
        # else by how its solids lie, which is known to all but what the step had before it was made
        step, parts = project.step(self.step), self.first.evaluation.parts
        mating = replace(
            mating_of(project, meeting_of(step, self.figures), parts, self.shape).mating,
            flare_mm=0.0,
            flare_unsure_mm=0.0,
        )
        now, first = (drawn_mm(step, self.figures, p, mating) for p in (profile, SET_UP_PROFILE))
        assert now is not None and first is not None
        return self.first.drawn_mm + now - first

    def shown(self, profile: Profile) -> tuple[float, float]:
        """The gap that is drawn with a profile, and the chance that is shown of it."""
        drawn, found = self.judged(profile)
        assert found.chance is not None
        return drawn, found.chance.fits

    def judged(self, profile: Profile) -> tuple[float, JointReport]:
        """The gap that is drawn with a profile, and all that is said of it."""
        project = _with(self.project, profile)
        step, figures = project.step(self.step), self.figures
        drawn = self._drawn_mm(profile)
        _, _, report = self.at(drawn)
        mating = mating_of(project, meeting_of(step, figures), self.first.evaluation.parts, self.shape).mating
        facts = facts_of(step, self.first.evaluation, self.shape)
        return drawn, judged(project, report, mating, {**figures, "drawn": drawn}, facts)

    def print_and_try(self, machine: Machine, drawn_mm: float) -> tuple[str, dict[str, Any]]:
        """Both halves in one print, put together: the verdict, and what it rests on."""
        features, joint, _ = self.at(drawn_mm)
        return print_and_try(machine, features, joint)

    def step_through(self, machine: Machine, profile: Profile) -> Stepped:
        """The very joint at five gaps in one print, as its coupon has it: what does not change with the gap is printed once, and tried with all."""
        middle, report = self.judged(profile)
        assert report.expected is not None and report.wanted is not None
        wide = report.wanted.most_mm - report.wanted.least_mm
        apart = max(0.03, min(report.expected.unsure_mm + 0.02, 0.8 * wide))
        dice, shared = machine.next_print(), {f["id"]: f for f in self.first.features}
        changing = {f["id"] for f in self.second.features if abs(f["drawn_mm"] - shared[f["id"]]["drawn_mm"]) > 1e-4}
        once = machine.make([f for id, f in shared.items() if id not in changing], dice)
        rungs = []
        for k in range(-2, 3):
            features, joint, _ = self.at(middle + k * apart)
            sizes = {**once, **machine.make([f for f in features if f["id"] in changing], dice)}
            said, evidence = put_together(machine, features, sizes, joint, k)
            rungs.append((_verdict(said, evidence), said))
        ref = rungs[2][0]
        return Stepped(
            tuple(v.drawn_mm for v, _ in rungs), tuple(said for _, said in rungs), tuple(v.load for v, _ in rungs),  # type: ignore[misc]
            ref.least_mm, ref.most_mm, ref.mating, ref.sides,
        )  # fmt: skip

    def possible(self, number: int) -> bool:
        """Whether there is a drawn gap at which this machine makes one that is good at all."""
        for off in _ASKED_MM:
            machine = Machine(number, hidden_of(number))
            if self.print_and_try(machine, self.first.drawn_mm + off)[0] == "good":
                return True
        return False

    def most(self, number: int, tries: int = 10) -> float:
        """The share of good ones at the gap that is best on this machine, found by printing many: more than no rule for drawing one can reach."""
        machine = Machine(number, hidden_of(number))

        def good(drawn_mm: float) -> float:
            return sum(self.print_and_try(machine, drawn_mm)[0] == "good" for _ in range(tries)) / tries

        gaps = [self.first.drawn_mm + off for off in _SEARCHED_MM]
        found = [good(gap) for gap in gaps]
        # counted anew: the one that came out best was lucky, too
        return good(gaps[found.index(max(found))])

    def life(self, number: int, possible: bool = True) -> dict[str, Any]:
        """One maker: a print that is tried, a size coupon that is read, and the second print. What was shown and whether it was good, at both; and, if asked,
        whether any could be. And another one with the same machine, who tries the joint at stepped gaps instead and draws the best one."""
        maker = Maker(number)
        first, shown = self.shown(SET_UP_PROFILE)
        said, evidence = self.print_and_try(maker.machine, first)
        maker.evidence.append(_verdict(said, evidence))
        maker.print_coupon()
        maker.learn()
        second, then = self.shown(maker.profile)
        again, _ = self.print_and_try(maker.machine, second)
        could = again == "good" or said == "good" or (possible and self.possible(number))
        return {
            "first": (shown, said == "good"), "second": (then, again == "good"), "stepped": self.stepped(number), "possible": could, "ends": again,
        }  # fmt: skip

    def stepped(self, number: int) -> tuple[float, bool]:
        """The joint tried at stepped gaps in one print, and printed again at the gap that is best then: what was shown, and whether it was good."""
        maker = Maker(number)
        tried = self.step_through(maker.machine, SET_UP_PROFILE)
        maker.evidence.append(tried)
        maker.learn()
        drawn, shown = best_gap(tried, maker.profile)
        return shown, self.print_and_try(maker.machine, drawn)[0] == "good"


def _verdict(said: str, e: dict[str, Any]) -> Verdict:
    ways = tuple((tuple(o), tuple(i), size) for o, i, size in e["ways"])
    mating = Mating(
        ways, e["flare_mm"], e["flare_unsure_mm"], e["round_hole"], tuple(e["flare_chamfers_mm"]), tuple(e["printed"]), turned=tuple(e["turned"]),
        spots_mm=tuple((u, v) for u, v in e["spots_mm"]), plane=tuple((tuple(o), tuple(i)) for o, i in e["plane"]),
    )  # fmt: skip
    sides = tuple(tuple((g, x, y) for g, x, y in zone) for zone in e["sides"])
    return Verdict(e["drawn_mm"], e["least_mm"], e["most_mm"], said, mating, sides, e["load"])  # type: ignore[arg-type]


def grown(by_mm: float) -> Profile:
    """The default profile with all surfaces in the layers' plane growing by so much more, outside and inside."""
    terms = [t + by_mm if 3 <= k < 9 else t for k, t in enumerate(SET_UP_PROFILE.terms)]
    return SET_UP_PROFILE.model_copy(update={"id": "grown", "terms": terms})
