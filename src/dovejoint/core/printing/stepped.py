"""A joint at stepped gaps: a coupon of its very halves, trimmed to what matters of them, with the gap drawn a little tighter or wider each time.

The project itself is made anew for each gap, so that what is printed is what its steps make. Of the half that stays the same only one is printed.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from .. import solid as kernel
from ..document import Project, Step, apply, command_from
from ..document.files import hash_of, pack
from ..errors import CommandError, DoveError
from ..fits import Wanted, chance
from ..fits.gaps import DRAWN_STEP_MM
from ..joints.assess import GapCache, JointReport, assess, made_joint, reach_of
from ..joints.family import family_of
from ..joints.other_gap import draw_gap, drawing_step
from ..profiles import profile_of
from ..recipe import Evaluation, JointShape, ResultCache, evaluate
from ..recipe.lying import lie_in, printed_in_one
from ..solid.frame import Vec3, dot, sub
from .coupons import Builder, Coupon, Rung
from .features import Feature, JointPrint, features_of, joint_prints

__all__ = ["rung_id", "stepped_coupon"]

#: so many gaps are tried, and how far they lie apart at least, mm a side
RUNGS, LEAST_STEP_MM = 5, 0.03
#: what is kept of a half beyond the zone where it meets the other: along the joint, and across it at least, mm
ALONG_MM, ACROSS_MM = 3.0, 4.0
#: between pieces, mm
APART_MM = 6.0
#: directions this close (cosine) are the same
_SAME = 0.9999


@dataclass(frozen=True, eq=False)
class _Tried:
    """The project with one gap."""

    project: Project
    evaluation: Evaluation
    report: JointReport
    shape: JointShape
    joint: JointPrint
    features: list[Feature]


def rung_id(joint: str, number: int) -> str:
    """What a rung's joint goes by in a print; with 0 the half that all rungs share."""
    return f"{joint}@{number}"


def stepped_coupon(
    project: Project, joint: str, cache: ResultCache, gaps: GapCache, stop: Callable[[], bool] = lambda: False
) -> Coupon:
    """A coupon of a joint's halves at stepped gaps.

    Raises
    ------
    CommandError : the joint is not there, could not be made, draws no gap, is printed in one piece, or can be made at no other gap.
    """
    step = drawing_step(project, joint)
    now = _tried(project, joint, cache, gaps, stop)
    if now is None or now.report.expected is None or now.report.wanted is None:
        raise CommandError("The joint could not be made; mend it first.")
    wanted = now.report.wanted
    unsure, wide = now.report.expected.unsure_mm, wanted.most_mm - wanted.least_mm
    # as far apart as one is unsure of the gap, but no farther than what is wanted is wide: one of them should hit it
    apart = max(LEAST_STEP_MM, min(unsure + 0.02, 0.8 * wide))
    apart = round(apart / DRAWN_STEP_MM) * DRAWN_STEP_MM
    tried: list[_Tried] = []
    for k in range(RUNGS):
        by = (k - RUNGS // 2) * apart
        try:
            other = project if by == 0 else apply(project, command_from(draw_gap(project, joint, by))).project
        except DoveError:
            continue
        found = now if by == 0 else _tried(other, joint, cache, gaps, stop)
        if found is not None:
            tried.append(found)
    if len(tried) < 2:
        raise CommandError("The joint can be made with no other gap than the one it has; change its sizes first.")
    return _Row(project, step, tried, wanted).coupon()


def _tried(project: Project, joint: str, cache: ResultCache, gaps: GapCache, stop: Callable[[], bool]) -> _Tried | None:
    """The project with its solids and the joint as it is; ``None`` where it could not be made."""
    evaluation = evaluate(project, cache, stop=stop)
    try:
        _, shape = made_joint(project, evaluation, joint)
    except CommandError:
        return None
    reports = assess(project, evaluation, gaps, stop, only={joint})
    prints = [p for p in joint_prints(project, evaluation, reports) if p.step == joint]
    if not prints or reports[0].measured is None:
        return None
    features = [f for f in features_of(project, evaluation, reports) if f.joint == joint]
    return _Tried(project, evaluation, reports[0], shape, prints[0], features)


class _Row:
    """The pieces of a coupon in a row, as they are to be printed."""

    def __init__(self, project: Project, step: Step, tried: Sequence[_Tried], wanted: Wanted) -> None:
        self.source, self.joint, self.tried, self.wanted = project, step, tried, wanted
        self.title = f"{tried[0].report.name} at stepped gaps"
        self.build = Builder(self.title, profile_of(project))
        self.features: list[Feature] = []
        self.at, self.row, self.deep = 0.0, 0.0, 0.0
        # rows as long as the bed is wide, to be looked at; the plate is laid out anew
        self.wide = profile_of(project).bed_mm[0]
        self.unmarked = False
        report = tried[0].report
        #: both halves of each gap grow within each other
        self.in_one = any(set(report.parts) <= set(s) for s in printed_in_one(project))

    def coupon(self) -> Coupon:
        first = self.tried[0].joint
        changing = [side for side in ("outer", "inner") if self._changes(side)]
        for half, side in enumerate(("outer", "inner")):
            if side in changing and not first.printed[half]:
                part = self.source.part(getattr(first, side))
                name = part.name if part is not None else "a half"
                raise CommandError(
                    f"The gap is taken off {name}, which is not printed: let it land on the other half to try it at steps."
                )
        parts: dict[tuple[str, int], str] = {}
        if self.in_one:
            for number, tried in enumerate(self.tried, 1):
                parts |= {
                    (side, number): made for side, made in self._pieces(tried, ("outer", "inner"), number).items()
                }
        for half, side in enumerate(("outer", "inner")):
            if not first.printed[half] or self.in_one:
                continue
            for number, tried in enumerate(self.tried, 1):
                if side in changing:
                    parts |= {(side, number): self._pieces(tried, (side,), number)[side]}
                elif number == 1:
                    parts |= {(side, 0): self._pieces(tried, (side,), 0)[side]}
        joints = []
        for number, tried in enumerate(self.tried, 1):
            outer, inner = (parts.get((s, number), parts.get((s, 0), "")) for s in ("outer", "inner"))
            joints.append(
                replace(
                    tried.joint,
                    step=rung_id(self.joint.id, number),
                    shared=rung_id(self.joint.id, 0),
                    name=f"{tried.report.name}, gap {number}",
                    outer=outer,
                    inner=inner,
                    least_mm=self.wanted.least_mm,
                    most_mm=self.wanted.most_mm,
                )
            )
        rungs = tuple(Rung(k, t.joint.drawn_mm, self._chance(t)) for k, t in enumerate(self.tried, 1))
        return Coupon(
            f"joint:{self.joint.id}",
            self.title,
            self.build.project,
            tuple(self.features),
            joints=tuple(joints),
            rungs=rungs,
            about=self._about(changing),
        )

    def _about(self, changing: Sequence[str]) -> str:
        """What its pieces are, in sentences."""
        first = self.tried[0].joint
        out = []
        if self.in_one:
            out.append("Each is printed in one with its other half: move it until it comes free, and say how it went.")
        for half, side in enumerate(("outer", "inner")):
            part = self.source.part(getattr(first, side))
            if self.in_one:
                continue
            if side not in changing and part is not None:
                out.append(f"{part.name} is printed once: it is the same at all gaps." if first.printed[half] else f"{part.name} is not printed: try the pieces on it.")  # fmt: skip
        if self.unmarked:
            out.append("There is no room for marks on some pieces: number them as they come off the bed.")
        else:
            out.append(
                "Each other piece has as many dots as its number."
                if out and not self.in_one
                else "Each piece has as many dots as its number."
            )
        return " ".join(out)

    def _chance(self, tried: _Tried) -> float | None:
        report = tried.report
        if report.expected is None:
            return None
        kept = report.working.kept() if report.working is not None else 1.0
        return chance(self.wanted, report.expected).fits * kept

    def _changes(self, side: str) -> bool:
        """Whether a half is another one at another gap."""
        sizes = [sorted((f.id, f.drawn_mm) for f in t.features if f.part == getattr(t.joint, side)) for t in self.tried]
        if any(abs(a - b) > 1e-3 for one in sizes for (_, a), (_, b) in zip(one, sizes[0], strict=False)):
            return True
        # a nose may keep its size and stand elsewhere, or its undercut may follow the gap
        solids = [t.evaluation.parts[getattr(t.joint, side)].solid for t in self.tried]
        return any(abs(s.volume_mm3 - solids[0].volume_mm3) > 1e-3 for s in solids)

    def _pieces(self, tried: _Tried, sides: Sequence[str], number: int) -> dict[str, str]:
        """Halves that are printed in one, or one by itself, in their place in the row; returns their parts. Number 0 is the half that all share."""
        solids = {side: self._shaped(tried, side, number) for side in sides}
        ends = [kernel.bounds(s.shape) for s in solids.values()]
        low = [min(e[0][k] for e in ends) for k in range(3)]
        high = [max(e[1][k] for e in ends) for k in range(3)]
        wide, deep = high[0] - low[0], high[1] - low[1]
        if self.at > 0 and self.at + wide > self.wide:
            self.at, self.row, self.deep = 0.0, self.row - self.deep - APART_MM, 0.0
        by = kernel.Motion.shift((self.at - low[0], self.row - high[1], -low[2]))
        self.at, self.deep = self.at + wide + APART_MM, max(self.deep, deep)
        made = {side: self._stood(tried, side, number, kernel.moved(solid, by)) for side, solid in solids.items()}
        first, *others = made.values()
        for other in others:
            self.build.do("EditPart", part=other, within=first)
        return made

    def _shaped(self, tried: _Tried, side: str, number: int) -> kernel.NamedSolid:
        """One half, trimmed, turned as it lies, with its number in dots."""
        id = getattr(tried.joint, side)
        part, state = tried.project.part(id), tried.evaluation.parts[id]
        assert part is not None
        lie = lie_in(tried.project, tried.evaluation.parts, id)
        faces = {
            name
            for mate in tried.shape.mates
            for name in (mate.outer if tried.shape.halves(mate)[0] == id else mate.inner)
        }
        solid = state.solid
        # one box for all: with a wider gap the other half is looked for farther off
        box = _box(self.tried[-1])
        axes = (tried.shape.mates[0].frame.x, tried.shape.mates[0].frame.y, tried.shape.mates[0].frame.z)
        if box is not None and all(any(abs(dot(a, b)) > _SAME for b in (lie.x, lie.y, lie.z)) for a in axes):
            # cut square to the bed only: else it would stand on an edge
            solid = kernel.trimmed(solid, tried.shape.mates[0].frame, *box, faces, "trimmed")
        solid = kernel.in_print(solid, lie.x, lie.y)
        if number:
            row = kernel.room_for_dots(solid, number, faces, (0.0, 0.0, -1.0))
            self.unmarked |= row is None
            if row is not None:
                solid = kernel.dotted(solid, row, number, "number")
        return solid

    def _stood(self, tried: _Tried, side: str, number: int, solid: kernel.NamedSolid) -> str:
        """The part of a piece, with what is measured on it."""
        id = getattr(tried.joint, side)
        part = tried.project.part(id)
        assert part is not None
        name = self._called(part.name, number)
        made = self._brought(solid, name)
        label = rung_id(self.joint.id, number)
        for f in tried.features:
            if f.part == id:
                key = f.id.rsplit(":", 1)[1]
                self.features.append(
                    replace(f, id=f"{made}:{label}:{key}", part=made, joint=label, ends=None, name=f"{name}: {f.name}")
                )
        return made

    def _called(self, name: str, number: int) -> str:
        """A piece's name, which no other has: a part may be called “Cap 1” by itself."""
        taken = {p.name.lower() for p in self.build.project.parts}
        names = (
            (f"{name[:60]} {number}", f"{name[:60]}, gap {number}") if number else (name[:60], f"{name[:60]}, for all")
        )
        return next((n for n in names if n.lower() not in taken), f"{name[:60]} ({len(taken) + 1})")

    def _brought(self, solid: kernel.NamedSolid, name: str) -> str:
        data = kernel.write_step([(name, "#B9A37A", solid)])
        project = self.build.project
        self.build.project = project.model_copy(update={"files": {**project.files, hash_of(data): pack(data)}})
        file = {"hash": hash_of(data), "name": f"{name}.step"}
        return self.build.do(
            "AddStep", kind="bring_in", fields={"file": file}, new_part={"name": name, "role": "printed"}
        )[1]


def _box(tried: _Tried) -> tuple[Vec3, Vec3] | None:
    """What of the halves matters, in the frame of the first zone; ``None`` where all of them does: something bends that is as long as it is."""
    step = tried.project.step(tried.report.step)
    assert step is not None
    if family_of(step).comes == "sprung":
        return None
    frame = tried.shape.mates[0].frame
    low, high = [math.inf] * 3, [-math.inf] * 3
    for point in _corners(tried):
        at = sub(point, frame.origin)
        for k, axis in enumerate((frame.x, frame.y, frame.z)):
            low[k], high[k] = min(low[k], dot(at, axis)), max(high[k], dot(at, axis))
    # a wall round a hole as thick as its radius bears as one without end does, nearly
    across = [max(ACROSS_MM, size / 2) for size in tried.shape.mates[0].sizes_mm]
    more = (*across, ALONG_MM)
    return tuple(a - m for a, m in zip(low, more, strict=True)), tuple(b + m for b, m in zip(high, more, strict=True))  # type: ignore[return-value]


def _corners(tried: _Tried) -> Iterator[Vec3]:
    """The corners of the boxes in which the halves are looked at."""
    for mate in tried.shape.mates:
        _, within = reach_of(mate, tried.shape.drawn_mm)
        (mx, my), (hx, hy) = within or ((0.0, 0.0), (math.inf, math.inf))
        for x, y, z in itertools.product((mx - hx, mx + hx), (my - hy, my + hy), (mate.low_mm, mate.high_mm)):
            if math.isfinite(x) and math.isfinite(y):
                yield mate.frame.to_world(x, y, z)
