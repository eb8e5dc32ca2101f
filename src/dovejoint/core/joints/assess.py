"""What joints report: wanted, drawn, expected, measured and the chance, by formula and on the solids."""

from __future__ import annotations

import hashlib
import math
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from .. import solid as kernel
from ..calculators.materials import Material
from ..document import Profile, Project, Step
from ..document.compiled import compiled_step
from ..errors import CommandError, DoveError
from ..fits import Chance, Drawn, Expected, Measured, Wanted, chance, expected_of, verdict
from ..kept import Kept, weight_bytes
from ..profiles import Mating, profile_of
from ..profiles.catalogue import material_of
from ..profiles.sides import FREE_MM
from ..quantities import evaluate_table
from ..recipe import Evaluation, JointShape, Mate, PartState, Superseded, kind_of
from ..recipe.evaluate import figures_of
from ..recipe.registry import asked
from ..solid.facename import FaceName, parse
from .family import BedEdge, JointFamily, Per, drawn_mm, family_of, is_joint, meeting_of, steps_gap
from .mating import Laid, mating_of
from .turning import how_far
from .working import Working, draws_of, fitting

__all__ = ["GapCache", "JointReport", "Stack", "StackRow", "assess", "assess_by_formula", "made_joint"]

#: a flare of this much is worth a word, mm
NOTICE_MM = 0.005
#: and what places come to lie otherwise, from this on
MOVED_MM = 0.02
AT_LIMITS = "At these limits"
#: what a half that is not printed is said to be
ROLES = {"bought": "bought", "made": "made otherwise", "reference": "there for reference"}


@dataclass(frozen=True)
class StackRow:
    """What one toleranced dimension of one part does: how the least gap moves at its lower and at its upper limit, and how least, most, room
    and play do at both (``moves_mm``, eight figures); mm a side."""

    dimension: str
    name: str
    part: str
    at_lower_mm: float
    at_upper_mm: float
    moves_mm: tuple[float, ...]

    def as_dict(self) -> dict[str, Any]:
        return {
            "dimension": self.dimension, "name": self.name, "part": self.part, "at_lower": self.at_lower_mm,
            "at_upper": self.at_upper_mm,
        }  # fmt: skip


@dataclass(frozen=True)
class Stack:
    """What tolerances do to a drawn gap, mm a side. Worst cases, built and measured: ``least`` and ``most`` where the halves stand as modelled,
    ``room`` at the best place and ``play``; the statistical case is ``likely_room`` and ``likely_play``. ``tightest`` and ``loosest`` say which
    limits those are (by part and dimension). ``left_out`` counts dimensions that were too many to try, or whose limits could not be made."""

    least_mm: float
    most_mm: float
    room_mm: float
    play_mm: float
    likely_room_mm: float
    likely_play_mm: float
    tightest: Mapping[str, Mapping[str, str]]
    loosest: Mapping[str, Mapping[str, str]]
    rows: tuple[StackRow, ...]
    left_out: int

    def as_dict(self) -> dict[str, Any]:
        return {
            "least": self.least_mm,
            "most": self.most_mm,
            "room": self.room_mm,
            "play": self.play_mm,
            "likely_room": self.likely_room_mm,
            "likely_play": self.likely_play_mm,
            "tightest": {p: dict(s) for p, s in self.tightest.items()},
            "loosest": {p: dict(s) for p, s in self.loosest.items()},
            "left_out": self.left_out,
            "rows": [row.as_dict() for row in self.rows],
        }


@dataclass(frozen=True)
class JointReport:
    """One joint as the gauge shows it. ``measured`` and the places are absent until the solids are there.

    All figures are per side; ``per`` says how they are shown, ``halves`` what the outer and the inner half are called, ``goes_in`` and
    ``holds`` what the chances mean. ``least_by`` and ``most_by`` are the steps that changed the gap where it is least and most. ``note`` is a sentence on what is unusual, ``notice`` the same in a word or two (empty when nothing is).
    ``opening_mm`` is how wide the opening is in its two directions, once that is known. ``given`` says what the chances take for granted: of a half
    that is not printed (``printed`` says of the outer and the inner one whether it is), and of a printer on which nothing was measured. ``steps``: whether its gap
    may be drawn in steps.
    """

    step: str
    name: str
    parts: tuple[str, ...]
    wanted: Wanted | None
    drawn: Drawn | None
    expected: Expected | None
    chance: Chance | None
    state: str
    says: str
    measured: Measured | None = None
    least_at: tuple[kernel.Vec3, kernel.Vec3] | None = None
    most_at: tuple[kernel.Vec3, kernel.Vec3] | None = None
    least_by: tuple[str, ...] = ()
    most_by: tuple[str, ...] = ()
    note: str = ""
    notice: str = ""
    on_bed: tuple[BedEdge, ...] = ()
    tolerance: Stack | None = None
    per: Per = "side"
    halves: tuple[str, str] = ("", "")
    goes_in: str = ""
    holds: str = ""
    opening_mm: tuple[float, float] | None = None
    given: str = ""
    printed: tuple[bool, bool] = (True, True)
    working: Working | None = None
    steps: bool = False

    @property
    def each(self) -> str:
        """What is said behind a figure of its gap in a sentence."""
        return "" if self.per == "across" else " a side"

    def as_dict(self) -> dict[str, Any]:
        """The JSON form that the API, ``build --json`` and the documentation share."""
        wanted, expected, chances = self.wanted, self.expected, self.chance
        return {
            "step": self.step,
            "name": self.name,
            "parts": list(self.parts),
            "state": self.state,
            "says": self.says,
            "note": self.note,
            "notice": self.notice,
            "per": self.per,
            "halves": list(self.halves),
            "goes_in": self.goes_in,
            "holds": self.holds,
            "given": self.given,
            "printed": list(self.printed),
            "steps": self.steps,
            "working": None if self.working is None else self.working.as_dict(),
            "opening_mm": None if self.opening_mm is None else list(self.opening_mm),
            "wanted_mm": None
            if wanted is None
            else {"least": wanted.least_mm, "target": wanted.target_mm, "most": wanted.most_mm},
            "drawn_mm": None if self.drawn is None else self.drawn.gap_mm,
            "expected_mm": None
            if expected is None
            else {
                "low": expected.low_mm,
                "least": expected.least_mm,
                "most": expected.most_mm,
                "high": expected.high_mm,
                "common": expected.common_mm,
                "random": expected.random_mm,
                "unsure": expected.unsure_mm,
            },
            "measured_mm": None
            if self.measured is None
            else {
                "least": self.measured.least_mm,
                "most": self.measured.most_mm,
                "least_at": self.least_at,
                "most_at": self.most_at,
                "least_by": list(self.least_by),
                "most_by": list(self.most_by),
                "room": self.measured.room_mm,
                "play": self.measured.play_mm,
                "tilt_rad": self.measured.tilt_rad,
                "within": self.measured.within_mm,
            },
            "tolerance": None if self.tolerance is None else self.tolerance.as_dict(),
            "chance": None
            if chances is None
            else {"goes_in": chances.goes_in, "holds": chances.holds, "fits": chances.fits},
        }


@dataclass(frozen=True)
class Found:
    """A gap as it was measured, where it is least and most (a point on the outer and one on the inner half), and the names of the faces there."""

    measured: Measured
    least_at: tuple[kernel.Vec3, kernel.Vec3]
    most_at: tuple[kernel.Vec3, kernel.Vec3]
    least_faces: tuple[str, str]
    most_faces: tuple[str, str]


class GapCache:
    """Gaps measured on solids, by the keys of the two parts and the joint; and by what of them lies where they mate, for most changes of a part
    lie elsewhere."""

    def __init__(self) -> None:
        self.readings: Kept[Found | None] = Kept(10_000_000, weight_bytes)
        self.zones: Kept[Found | None] = Kept(10_000_000, weight_bytes)

    def measure(self, key: str, shape: JointShape, outer: PartState, inner: PartState) -> Found | None:
        def find() -> Found | None:
            marks: list[Any] = [
                (m, outer.key, inner.key) if m.pitch_mm else (m, _mark(m, part, shape.drawn_mm))
                for m in shape.mates
                for part in (outer, inner)
            ]
            zone = hashlib.blake2b(f"{shape.drawn_mm} {marks}".encode(), digest_size=16).hexdigest()
            return self.zones.made(zone, lambda: _read(shape, outer, inner))

        return self.readings.made(key, find)


def _mark(mate: Mate, part: PartState, drawn_mm: float) -> str:
    reach, within = reach_of(mate, drawn_mm)
    return kernel.zone_mark(part.solid, mate.frame, mate.low_mm, mate.high_mm, within, reach)


def reach_of(mate: Mate, drawn_mm: float) -> tuple[float, tuple[tuple[float, float], tuple[float, float]] | None]:
    """How far the other half is looked for, mm, and within which part of the zone's plane."""
    # far enough to see a side that was cut back, not so far that the other side of a small piece is seen
    reach = mate.reach_mm or max(2.0, 4 * abs(drawn_mm) + 1.0, min(6.0, min(mate.sizes_mm) / 4))
    if mate.window_mm is not None:
        return reach, mate.window_mm
    half = (mate.sizes_mm[0] / 2 + reach, mate.sizes_mm[1] / 2 + reach)
    return reach, (mate.middle_mm, half) if min(mate.sizes_mm) > 0 else None


def _read(shape: JointShape, one: PartState, other: PartState) -> Found | None:
    """The gap over all zones where the halves mate; ``None`` when there is none anywhere."""
    read: list[kernel.GapReadings] = []
    sides: list[tuple[tuple[float, float, float], ...]] = []
    inner_mm: list[tuple[float, float]] = []
    for m in shape.mates:
        outer, inner = (other, one) if m.swapped else (one, other)
        reach, within = reach_of(m, shape.drawn_mm)
        if m.pitch_mm:
            found = kernel.thread_readings(outer.solid, inner.solid, m.frame, m.low_mm, m.high_mm, m.pitch_mm, reach)
        else:
            found = kernel.gap_readings(
                outer.solid,
                inner.solid,
                m.frame,
                m.low_mm,
                m.high_mm,
                reach,
                within,
                m.along,
                m.slant_rad,
                (*m.outer, *m.inner),
            )
        if found is not None and m.crests:
            found = _of_crests(found, m, outer, inner, reach)
        if found is not None and m.stands:
            # one side is all there is: the other counts as far, so that among halves that are shifted room and play are the gap itself
            gaps = (found.least_mm, found.most_mm)
            x, y = (0.0, 1.0) if m.along == "y" else (1.0, 0.0)
            found = replace(found, ways=tuple((g, sign * x, sign * y) for g in gaps for sign in (1.0, -1.0)))
        if found is not None and m.leans:
            found = _shared(found)
        if found is not None and m.seated:
            found = replace(found, tilt_rad=0.0)
        sides.append(() if found is None else found.ways)
        inner_mm.append((0.0, 0.0) if found is None else found.size_mm)
        read.extend([] if found is None else [found])
    if not read:
        return None
    least, most = min(read, key=lambda f: f.least_mm), max(read, key=lambda f: f.most_mm)
    measured = Measured(
        least.least_mm,
        most.most_mm,
        tuple(sides),
        min(f.tilt_rad for f in read),
        tuple(inner_mm),
        max(f.within_mm for f in read),
        all(m.stands for m in shape.mates),
    )
    return Found(measured, least.least_at, most.most_at, least.least_faces, most.most_faces)


def _shared(found: kernel.GapReadings) -> kernel.GapReadings:
    """A reading of two sides, of which one leans on the other: half of all the gap on either."""
    gaps = [g for g, *_ in found.ways]
    if len(gaps) != 2:
        return found
    half = sum(gaps) / 2
    return replace(found, least_mm=half, most_mm=half, ways=tuple((half, x, y) for _, x, y in found.ways))


def _of_crests(
    found: kernel.GapReadings, mate: Mate, outer: PartState, inner: PartState, reach_mm: float
) -> kernel.GapReadings:
    """A reading in which only crests count: in each direction the gap of the nearest one."""
    read = kernel.crest_gaps(outer.solid, inner.solid, mate.frame, mate.low_mm, mate.high_mm, mate.crests, reach_mm)
    there = [(a, r) for a, r in zip(mate.crests, read, strict=True) if r is not None]
    if not there:
        return found
    angles = np.linspace(0.0, 2 * np.pi, 24, endpoint=False)
    nearest = np.cos(angles[:, None] - np.array([a for a, _ in there])).argmax(axis=1)
    told = tuple((there[k][1][0], math.cos(a), math.sin(a)) for k, a in zip(nearest, angles, strict=True))
    least, most = (pick((r for _, r in there), key=lambda r: r[0]) for pick in (min, max))
    return replace(
        found, least_mm=least[0], most_mm=most[0], least_at=least[1:], most_at=most[1:], most_faces=found.least_faces, ways=told
    )  # fmt: skip


def _name(project: Project, step: Step) -> str:
    """A joint without a name of its own is called what it is; where others are called so too, by its place in the recipe."""
    title = kind_of(step).title
    if step.name or sum(s.kind == step.kind and not s.name for s in project.recipe) < 2:
        return step.name or title
    return f"{title} of step {next(n for n, s in enumerate(project.recipe, 1) if s.id == step.id)}"


def _parts(step: Step) -> tuple[str, ...]:
    meeting = meeting_of(step, {})
    return tuple(p for p in (meeting.outer, meeting.inner) if p)


def _known(project: Project, step: Step) -> dict[str, Any]:
    """What is said of a joint whatever becomes of it."""
    family: JointFamily = family_of(step)
    fields = compiled_step(step).fields
    return {
        "per": family.per(fields), "halves": (family.outer, family.inner), "goes_in": family.goes_in, "holds": family.holds,
        "given": _given(profile_of(project)), "steps": steps_gap(step),
    }  # fmt: skip


def _given(profile: Profile) -> str:
    """What chances take for granted of a printer, as a sentence; nothing once it was measured or judged."""
    if profile.version > 1:
        return ""
    if profile.tuned:
        return "So it is on a printer that is set up well: nothing was measured on this one yet."
    if profile.tuned is None:
        return (
            "Nothing was measured on this printer yet, and nobody said whether it is set up: either makes this surer."
        )
    return "Nothing was measured on this printer yet, and it is not set up: a size coupon tells most."


def _broken(project: Project, step: Step, message: str) -> JointReport:
    who = _name(project, step), _parts(step)
    return JointReport(step.id, *who, None, None, None, None, "failed", message, **_known(project, step))


def joint_steps(project: Project) -> list[Step]:
    return [s for s in project.recipe if is_joint(s) and not s.off]


def made_joint(project: Project, evaluation: Evaluation, joint: str) -> tuple[Step, JointShape]:
    """A joint's step and its shape, both halves of which are there.

    Raises
    ------
    CommandError : there is no such joint, or it could not be made.
    """
    step = project.step(joint)
    if step is None or not is_joint(step) or step.off:
        raise CommandError("That joint is not there any more.")
    made = evaluation.made.get(joint)
    shape = made.joint if made is not None else None
    if shape is None or shape.outer not in evaluation.parts or shape.inner not in evaluation.parts:
        raise CommandError("The joint could not be made; mend it first.")
    return step, shape


def assess_by_formula(project: Project, sizes_mm: Mapping[str, tuple[float, float]] | None = None) -> list[JointReport]:
    """All joints from their formulas alone: there at once, before any solid is made and without the kernel. ``sizes_mm`` has how wide the
    openings of some are in their two directions, where that is known from elsewhere (when they were last made or printed)."""
    table = evaluate_table([(v.name, v.formula) for v in project.values])
    known = {n: r.quantity for n, r in table.items() if r.quantity is not None}
    out = []
    for step in joint_steps(project):
        try:
            read = compiled_step(step)
            figures, seen = figures_of(read, kind_of(step), known), (sizes_mm or {}).get(step.id)
            # most joints are not concerned by an edit: with the same figures, parts and printer all is the same
            basis = (figures, seen, profile_of(project), project.parts)
            memo = read.memo.get("by formula")
            if memo is None or memo[0] != basis:
                found = _from_formulas(project, step, figures, seen)
                # kept for thousands of steps: only what is told of it
                told = found if found.expected is None else replace(found, expected=found.expected.figures())
                memo = read.memo["by formula"] = (basis, told)
            out.append(memo[1])
        except DoveError as error:
            out.append(_broken(project, step, error.message))
    return out


def _from_formulas(
    project: Project, step: Step, figures: dict[str, float], seen_mm: tuple[float, float] | None
) -> JointReport:
    """One joint by its figures; ``seen_mm`` is how wide its opening is, where that was seen."""
    meeting = meeting_of(step, figures)
    laid = mating_of(project, replace(meeting, sizes_mm=seen_mm or meeting.sizes_mm))
    return _report(project, step, figures, drawn_mm(step, figures, profile_of(project), laid.mating), laid)


def _report(project: Project, step: Step, figures: dict[str, float], gap_mm: float | None, laid: Laid) -> JointReport:
    """By formula. Where both halves were there before, nothing is known before they are measured."""
    wanted = family_of(step).wanted(compiled_step(step).fields, figures)
    who, known = (_name(project, step), _parts(step)), _known(project, step)
    known["opening_mm"] = _opening(laid)
    known["printed"] = laid.mating.printed
    # what nobody prints asks no printer
    known["given"] = f"{_as_it_is(project, laid)} {known['given'] if any(laid.mating.printed) else ''}".strip()
    if gap_mm is None:
        says = "read on the solids"
        return JointReport(step.id, *who, wanted, None, None, None, "doubtful", says, **known)
    drawn = Drawn(gap_mm)
    expected = expected_of(drawn, profile_of(project), laid.mating)
    chances = chance(wanted, expected)
    state, says = verdict(chances)
    report = JointReport(
        step.id, *who, wanted, drawn, expected, chances, state, says,
        note=_note(project, step, laid), notice="flares" if laid.mating.flare_mm >= NOTICE_MM else "", on_bed=laid.on_bed, **known,
    )  # fmt: skip
    # what needs nothing of the solids is worked out at once
    return (
        report
        if family_of(step).facts is not None
        else _with_working(project, report, laid.mating, {**figures, "drawn": gap_mm}, dict)
    )


def _opening(laid: Laid) -> tuple[float, float] | None:
    """How wide the first opening is in its two directions, where that is known."""
    sizes = [size for _, _, size in laid.mating.ways[:2]]
    return (sizes[0], sizes[1]) if len(sizes) == 2 and min(sizes) > 0 else None


def _note(project: Project, step: Step, laid: Laid) -> str:
    """What the first layers take of the gap, and what stands in its way, in sentences."""
    out = []
    if laid.mating.flare_mm >= NOTICE_MM:
        edges = " and ".join(e.what for e in laid.on_bed)
        out.append(f"On the bed, {edges} flares into the gap by {laid.mating.flare_mm:.2f} mm.")
    moved = laid.mating.moved_mm(profile_of(project))
    if moved >= MOVED_MM:
        out.append(f"Its halves are printed turned to each other, so its outermost places come to lie about {moved:.2f} mm otherwise: lay them alike.")  # fmt: skip
    fields = compiled_step(step).fields
    # where the sentence does not ask which half takes the gap, there is no choice
    chosen = family_of(step).draws(fields) and "takes" in asked(kind_of(step), fields)
    takes = str(step.fields.get("takes", "")) if chosen else ""
    halves = [project.part(id) for id in laid.halves]
    for k, side in enumerate(("outer", "inner")):
        part, other = halves[k], halves[1 - k]
        if part is not None and other is not None and not laid.mating.printed[k] and takes in (side, "both"):
            out.append(f"The gap is taken off {part.name}, which is {ROLES[part.role]}: let it land on {other.name}.")
    return " ".join(out)


def _as_it_is(project: Project, laid: Laid) -> str:
    """Which half is as it is, because it is not printed, in a sentence."""
    parts = (project.part(id) for id, printed in zip(laid.halves, laid.mating.printed, strict=True) if not printed)
    return " ".join(
        f"{p.name} is {ROLES[p.role]}, of {_material(project, p.id).name}: it counts as drawn, give or take its tolerances."
        for p in parts
        if p is not None
    )


def assess(
    project: Project,
    evaluation: Evaluation,
    gaps: GapCache | None,
    stop: Callable[[], bool] = lambda: False,
    only: Collection[str] | None = None,
) -> list[JointReport]:
    """All joints (or ``only`` some, by their steps) with their gaps measured on the solids, which replace those by formula.

    Without ``gaps`` nothing is measured: a preview, or the first answer after an edit. ``stop`` is asked before each joint; when
    true this ends with :class:`Superseded`.
    """
    out = []
    reports = {r.id: r for r in evaluation.steps}
    for step in joint_steps(project):
        if only is not None and step.id not in only:
            continue
        if stop():
            raise Superseded
        report = reports[step.id]
        made = evaluation.made.get(step.id)
        if made is None or made.joint is None:
            if report.state != "beyond":
                out.append(_broken(project, step, report.message))
            continue
        shape = made.joint
        meeting = meeting_of(step, report.figures)
        laid = mating_of(project, meeting, evaluation.parts if gaps is not None else None, shape)
        drawn = report.figures.get("drawn")
        by_formula = _report(project, step, report.figures, shape.drawn_mm if drawn is None else drawn, laid)
        outer, inner = evaluation.parts.get(shape.outer), evaluation.parts.get(shape.inner)
        found = None
        if gaps is not None and outer is not None and inner is not None:
            found = gaps.measure(f"{report.key}|{outer.key}|{inner.key}", shape, outer, inner)
        if gaps is None or outer is None or inner is None:
            out.append(by_formula)
        elif found is None:
            out.append(_apart(by_formula))
        else:
            out.append(_measured(project, evaluation, by_formula, found, shape, laid, report.figures))
    return out


def _apart(report: JointReport) -> JointReport:
    """A joint whose halves face each other nowhere: no figure of it is true any more."""
    return replace(
        report, expected=None, chance=None, working=None, state="wrong", says="the halves do not meet", notice="apart",
        note="Where the halves should meet there is no gap between them any more: one of them was moved or cut away there.",
    )  # fmt: skip


def _changed_by(
    project: Project, evaluation: Evaluation, joint: Step, shape: JointShape, faces: tuple[str, str]
) -> list[str]:
    """Ids of the later steps that made the gap what it is at a place: that of the youngest face there, or else all that worked on a half."""
    later = [s.id for s in project.recipe[project.recipe.index(joint) + 1 :]]
    made = [f.step for f in map(parse, faces) if isinstance(f, FaceName) and f.step in later]
    if made:
        return [max(made, key=later.index)]
    halves = {shape.outer, shape.inner}
    return [id for id in later if id in evaluation.made and halves & evaluation.made[id].parts.keys()]


def _other_joints(project: Project, evaluation: Evaluation, shape: JointShape, steps: Collection[str]) -> list[str]:
    """The names of these steps, where all of them are joints of the same two parts; else none."""
    out = []
    for step in project.recipe:
        if step.id not in steps:
            continue
        made = evaluation.made.get(step.id)
        if made is None or made.joint is None or {made.joint.outer, made.joint.inner} != {shape.outer, shape.inner}:
            return []
        out.append(_name(project, step))
    return out


def _who(project: Project, evaluation: Evaluation, steps: Sequence[str]) -> str:
    """Who changed a gap, as the beginning of a sentence."""
    if evaluation.at_limits:
        return AT_LIMITS
    numbers = [str(k + 1) for k, s in enumerate(project.recipe) if s.id in steps]
    if not numbers:
        return "The outline changed the gap"
    return f"Step {numbers[0]} changed the gap" if len(numbers) == 1 else f"Steps {', '.join(numbers)} changed the gap"


def judged(
    project: Project,
    report: JointReport,
    mating: Mating,
    figures: Mapping[str, float],
    facts: Callable[[], Mapping[str, float]],
) -> JointReport:
    """A measured joint with what is expected of it, and the chances, by how its halves mate."""
    assert report.wanted is not None and report.measured is not None
    expected = expected_of(report.measured, profile_of(project), mating)
    chances = chance(report.wanted, expected)
    state, says = verdict(chances)
    report = replace(report, expected=expected, chance=chances, state=state, says=says)
    return _with_working(project, report, mating, figures, facts)


def facts_of(step: Step, evaluation: Evaluation, shape: JointShape) -> Callable[[], Mapping[str, float]]:
    """How to ask the solids what they say of a joint beside its gap."""
    found, parts = family_of(step).facts, evaluation.parts

    def ask() -> Mapping[str, float]:
        facts = {} if found is None else dict(found(shape, parts[shape.outer], parts[shape.inner]))
        turning = shape.turns
        if turning is not None and turning.moving in parts and turning.fixed in parts:
            facts |= how_far(turning, parts[turning.moving], parts[turning.fixed])
        return facts

    return ask


def _with_working(
    project: Project,
    report: JointReport,
    mating: Mating,
    figures: Mapping[str, float],
    facts: Callable[[], Mapping[str, float]],
) -> JointReport:
    """The joint with what the hand-book works out for it; where that fails more often than the gap does, it is what the joint is said to do."""
    step = project.step(report.step)
    assert step is not None and report.expected is not None and report.chance is not None and report.wanted is not None
    family, fields = family_of(step), compiled_step(step).fields
    meeting = meeting_of(step, figures)
    draws = draws_of(
        report.expected,
        mating,
        (_material(project, meeting.outer), _material(project, meeting.inner)),
        report.wanted,
        fields,
        figures,
        facts,
        profile_of(project).settings.layer_mm,
        profile_of(project).borne,
    )
    working = family.works(draws)
    if working is None:
        return report
    working = replace(working, fits=fitting(draws))
    chances, kept = report.chance, working.kept()
    worst = working.worst()
    both = replace(chances, fits=chances.fits * kept)
    state, says = verdict(both)
    if worst is not None and state != "well" and worst[1] > max(1 - chances.goes_in, 1 - chances.holds):
        says = f"{worst[0].fails} in {round(100 * worst[1])} of 100"
    return replace(report, chance=both, state=state, says=says, working=working)


def _material(project: Project, id: str) -> Material:
    """What a part is made of: of what the printer is loaded with, or what it says itself."""
    part = project.part(id)
    return material_of((part.made_of if part is not None else "") or profile_of(project).material)


def _measured(
    project: Project,
    evaluation: Evaluation,
    report: JointReport,
    found: Found,
    shape: JointShape,
    laid: Laid,
    figures: Mapping[str, float],
) -> JointReport:
    measured = found.measured
    joint = project.step(report.step)
    assert joint is not None
    note, notice = _note(project, joint, laid), "flares" if laid.mating.flare_mm >= NOTICE_MM else ""
    places = ((measured.least_mm, found.least_faces), (measured.most_mm, found.most_faces))
    by = [
        _changed_by(project, evaluation, joint, shape, faces) if abs(mm - shape.drawn_mm) > measured.within_mm else []
        for mm, faces in places
    ]
    if any(abs(mm - shape.drawn_mm) > measured.within_mm for mm, _ in places):
        who = _who(project, evaluation, [*by[0], *by[1]])
        others = _other_joints(project, evaluation, shape, {*by[0], *by[1]})
        if who != AT_LIMITS and others:
            # it is meant: what else joins the two stands in this gap
            who = f"{' and '.join(others)} is in this gap too"
        else:
            notice = "at limits" if who == AT_LIMITS else "changed since"
        told = f"{who}: drawn {shape.drawn_mm:.2f}{report.each}, on the solids {measured.least_mm:.2f} to {measured.most_mm:.2f}."
        note = f"{told} {note}".strip()
    # a press fit that is drawn to overlap does what its sentence says
    meant = report.wanted is not None and report.wanted.target_mm < 0 and measured.least_mm > shape.drawn_mm - measured.within_mm  # fmt: skip
    if measured.least_mm < 0 and not meant:
        notice = "overlap"
        because = f" {_who(project, evaluation, by[0])}." if by[0] and not evaluation.at_limits else ""
        note = f"The two parts overlap by {-measured.least_mm:.2f} mm as drawn.{because}"
    if measured.play_mm is not None and measured.play_mm > FREE_MM / 4:
        outer, inner = report.halves
        note = (
            f"On one side there is nothing of the {outer} opposite the {inner}, so it can leave there and has no play that could be told: "
            f"let the {outer} go round it, or move the {inner} into it."
        )
        return replace(
            report, measured=measured, expected=None, chance=None, working=None, state="wrong", says="open on one side", notice="open",
            note=note, least_at=found.least_at, most_at=found.most_at,
        )  # fmt: skip
    return replace(
        judged(project, replace(report, measured=measured), laid.mating, figures, facts_of(joint, evaluation, shape)),
        note=note,
        notice=notice,
        on_bed=laid.on_bed,
        least_at=found.least_at,
        most_at=found.most_at,
        least_by=tuple(by[0]),
        most_by=tuple(by[1]),
    )
