"""What tolerances do to a gap: worst cases by place, built and measured, and the statistical case beside them.

Each toleranced dimension is moved to its limits by itself, each part alone, and the gaps on all sides are measured there: that is by how
much each side moves with each dimension. A worst case is looked for among all combinations as far as these moves add up (side by
side: what two dimensions do on different sides is never added to each other), and the combination found is built and measured.
The statistical case takes a dimension's limits as three standard deviations from their middle, and adds variances.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..document import Project
from ..fits import Measured
from ..profiles import Mating
from ..profiles.sides import left_by
from ..quantities.tolerance import State
from ..recipe import Evaluation, JointShape, Superseded
from ..recipe.limits import Dimension, Limiter
from .assess import Found, GapCache, JointReport, Stack, StackRow, facts_of, judged
from .family import meeting_of
from .mating import mating_of

__all__ = ["with_stacks"]

Array = NDArray[np.float64]
#: directions that are told apart, as the gaps are read
_WAYS = 72
#: more toleranced dimensions than this are not tried one by one: each costs two builds of a part, and where it moves what mates two
#: measured gaps
MOST_DIMENSIONS = 400
#: less than this is no move, mm
_STILL_MM = 1e-3

Corner = dict[tuple[str, str], State]


def with_stacks(
    project: Project,
    limiter: Limiter,
    evaluation: Evaluation,
    joints: Sequence[JointReport],
    gaps: GapCache,
    stop: Callable[[], bool] = lambda: False,
) -> list[JointReport]:
    """The joints with what tolerances do to their measured gaps. ``stop`` is asked before each dimension; when true this ends with
    :class:`Superseded`."""
    out = []
    for report in joints:
        made, measured = evaluation.made.get(report.step), report.measured
        if made is not None and made.joint is not None and measured is not None:
            stacker = _Stacker(project, limiter, evaluation, report, made.joint, gaps, stop)
            found = stacker.stack()
            mating = _with_made(project, evaluation, report, made.joint, stacker)
            if mating is not None:
                step = project.step(report.step)
                assert step is not None
                facts = facts_of(step, evaluation, made.joint)
                figures = next(r.figures for r in evaluation.steps if r.id == report.step)
                report = judged(project, report, mating, figures, facts)
            if found is not None and found.left_out:
                many = "A toleranced dimension" if found.left_out == 1 else f"{found.left_out} toleranced dimensions"
                more = f"{many} could not be tried at the limits: what that does to the gap is not in these figures."
                report = replace(report, note=f"{report.note} {more}".strip(), notice=report.notice or "limits not all tried")  # fmt: skip
            only = found is not None and found.least_mm < 0 <= measured.least_mm
            report = replace(report, tolerance=found)
            if found is not None and only:
                more = f"At the worst case of the tolerances the two parts overlap by {-found.least_mm:.2f} mm."
                report = replace(
                    report, note=f"{report.note} {more}".strip(), notice=report.notice or "overlap at limits"
                )
        out.append(report)
    return out


def _with_made(
    project: Project, evaluation: Evaluation, report: JointReport, shape: JointShape, stacker: _Stacker
) -> Mating | None:
    """How the halves mate with the tolerances of those that are not printed; ``None`` where there are none. (The tolerances of a printed half
    are what its maker allows, not what its printer does: they stand beside the chance.)"""
    moved = [
        m for (part, _), m in stacker.moves.items() if (p := project.part(part)) is not None and p.role != "printed"
    ]
    if not moved:
        return None
    figures = next(r.figures for r in evaluation.steps if r.id == report.step)
    step = project.step(report.step)
    assert step is not None
    mating = mating_of(project, meeting_of(step, figures), evaluation.parts, shape).mating
    low, high = (np.array([_by_axis(m[state]) for m in moved]) for state in ("lower", "upper"))
    # limits are three standard deviations from their middle
    return replace(
        mating,
        made_mm=tuple(tuple(float(v) for v in row) for row in (high - low) / 6),
        made_off_mm=tuple(float(v) for v in ((high + low) / 2).sum(axis=0)),
    )


def _by_axis(moves: Array) -> Array:
    """By how much gaps that moved on all sides (zones, _WAYS) moved in the two directions of each zone."""
    quarter = _WAYS // 4
    sides = np.nan_to_num(moves)
    return np.asarray((sides[:, [0, quarter]] + sides[:, [2 * quarter, 3 * quarter]]) / 2).ravel()


class _Stacker:
    """One joint's worst cases."""

    def __init__(
        self,
        project: Project,
        limiter: Limiter,
        evaluation: Evaluation,
        report: JointReport,
        shape: JointShape,
        gaps: GapCache,
        stop: Callable[[], bool],
    ) -> None:
        base = report.measured
        assert base is not None
        self.base: Measured = base
        self.limiter, self.evaluation, self.report, self.shape, self.gaps, self.stop = (
            limiter, evaluation, report, shape, gaps, stop,
        )  # fmt: skip
        self.names = {p.id: p.name for p in project.parts}
        self.gap = _by_way(self.base)
        #: for each dimension of a part by how much each side moves at its lower and at its upper limit
        self.moves: dict[tuple[str, str], dict[State, Array]] = {}
        #: all that was measured, by the states that were built
        self.measured: list[tuple[Corner, Measured]] = []

    def stack(self) -> Stack | None:
        halves = (self.shape.outer, self.shape.inner)
        pairs = [(d, p) for p in halves for d in self.limiter.of_part(p)]
        if not pairs:
            return None
        left_out = max(0, len(pairs) - MOST_DIMENSIONS)
        rows: list[StackRow] = []
        for dimension, part in pairs[:MOST_DIMENSIONS]:
            row = self._try(dimension, part)
            if row is None:
                left_out += 1
            elif max(abs(m) for m in row.moves_mm) > _STILL_MM:
                rows.append(row)
            else:
                del self.moves[(part, dimension.id)]
        rows.sort(key=lambda r: -max(abs(m) for m in r.moves_mm))
        tightest = self._corner(lambda g: -self._left(g)[0], -1.0)
        loosest = self._corner(lambda g: self._left(g)[1], 1.0)
        for corner in (tightest, loosest, self._at_place(-1.0), self._at_place(1.0)):
            self._measure(corner)
        all_measured = [self.base, *(m for _, m in self.measured)]
        likely = self._likely()
        return Stack(
            least_mm=min(m.least_mm for m in all_measured),
            most_mm=max(m.most_mm for m in all_measured),
            room_mm=min(m.room_mm for m in all_measured),
            play_mm=max(m.play_mm for m in all_measured),
            likely_room_mm=likely[0],
            likely_play_mm=likely[1],
            tightest=_by_part(self._best(lambda m: -m.room_mm)),
            loosest=_by_part(self._best(lambda m: m.play_mm)),
            rows=tuple(rows),
            left_out=left_out,
        )

    def _try(self, dimension: Dimension, part: str) -> StackRow | None:
        """One dimension at both limits; ``None`` where a part cannot be made there."""
        key = (part, dimension.id)
        found: dict[State, Measured] = {}
        for state in ("lower", "upper"):
            measured = self._measure({key: state})
            if measured is None:
                return None
            found[state] = measured
        self.moves[key] = {s: np.nan_to_num(_by_way(m) - self.gap) for s, m in found.items()}
        low, high = found["lower"], found["upper"]
        base = self.base
        return StackRow(
            dimension.id, dimension.name, self.names[part],
            round(low.least_mm - base.least_mm, 4), round(high.least_mm - base.least_mm, 4),
            tuple(
                round(m, 4)
                for f in (low, high)
                for m in (f.least_mm - base.least_mm, f.most_mm - base.most_mm, f.room_mm - base.room_mm, f.play_mm - base.play_mm)
            ),
        )  # fmt: skip

    def _measure(self, corner: Corner) -> Measured | None:
        """The joint with some dimensions at limits, built and measured."""
        for known, measured in self.measured:
            if known == corner:
                return measured
        if self.stop():
            raise Superseded
        halves = {}
        for part in (self.shape.outer, self.shape.inner):
            states = {d: s for (p, d), s in corner.items() if p == part}
            made = self.limiter.part_at(part, states)[0] if states else self.evaluation.parts[part]
            if made is None:
                return None
            halves[part] = made
        outer, inner = halves[self.shape.outer], halves[self.shape.inner]
        key = f"{self.report.step}|{outer.key}|{inner.key}"
        found: Found | None = self.gaps.measure(key, self.shape, outer, inner)
        if found is None:
            return None
        self.measured.append((corner, found.measured))
        return found.measured

    def _left(self, gap: Array) -> tuple[float, float]:
        """Room and play that gaps on all sides leave."""
        mates = tuple(
            tuple((float(g), math.cos(t), math.sin(t)) for g, t in zip(zone, _ANGLES, strict=True) if math.isfinite(g))
            for zone in gap
        )
        return left_by(mates, self.base.stands)

    def _summed(self, corner: Corner) -> Array:
        return self.gap + sum((self.moves[k][s] for k, s in corner.items()), np.zeros_like(self.gap))

    def _corner(self, worth: Callable[[Array], float], sign: float) -> Corner:
        """The combination that makes a figure of the gaps greatest, by what the dimensions do by themselves: begun from those that close
        (or open) two opposite sides most, then one dimension after the other turned as long as that helps."""
        best: tuple[float, Corner] = (worth(self.gap), {})
        opposite = np.roll(np.arange(_WAYS), -_WAYS // 2)
        for k in range(0, _WAYS // 2, 3):
            corner: Corner = {}
            for key, states in self.moves.items():
                pull = {s: sign * float(m[:, k].sum() + m[:, opposite[k]].sum()) for s, m in states.items()}
                state = max(pull, key=lambda s: pull[s])
                if pull[state] > 1e-9:
                    corner[key] = state
            value = worth(self._summed(corner))
            if value > best[0] + 1e-9:
                best = value, corner
        improved = True
        while improved:
            improved = False
            for key, states in self.moves.items():
                for turn in (*states, None):
                    turned: Corner = {k: s for k, s in best[1].items() if k != key}
                    if turn is not None:
                        turned[key] = turn
                    value = worth(self._summed(turned))
                    if value > best[0] + 1e-6:
                        best, improved = (value, turned), True
        return best[1]

    def _at_place(self, sign: float) -> Corner:
        """The combination that makes the gap at one place least (−1) or widest (1), by what the dimensions do there."""
        best: tuple[float, Corner] = (-math.inf, {})
        for zone, k in zip(*np.nonzero(np.isfinite(self.gap)), strict=True):
            corner: Corner = {}
            value = sign * float(self.gap[zone, k])
            for key, states in self.moves.items():
                state = max(states, key=lambda s: sign * states[s][zone, k])
                if sign * states[state][zone, k] > 1e-9:
                    corner[key] = state
                    value += sign * float(states[state][zone, k])
            if value > best[0]:
                best = value, corner
        return best[1]

    def _best(self, worth: Callable[[Measured], float]) -> Corner:
        return max([({}, self.base), *self.measured], key=lambda cm: worth(cm[1]))[0]

    def _likely(self) -> tuple[float, float]:
        """Room and play that 3 standard deviations of all dimensions together leave."""
        shift, variance = np.zeros(2), np.zeros(2)
        base = np.array([self.base.room_mm, self.base.play_mm])
        for key in self.moves:
            ends = [np.array([m.room_mm, m.play_mm]) for c, m in self.measured if list(c) == [key]]
            shift += (ends[0] + ends[1]) / 2 - base
            variance += ((ends[1] - ends[0]) / 6) ** 2
        far = 3 * np.sqrt(variance)
        return float((base + shift - far)[0]), float((base + shift + far)[1])


_ANGLES = 2 * np.pi * np.arange(_WAYS) / _WAYS


def _by_way(measured: Measured) -> Array:
    """The gaps of each zone by direction (zones, _WAYS); not a number where no side is."""
    out = np.full((len(measured.sides), _WAYS), np.nan)
    for zone, sides in enumerate(measured.sides):
        for gap, x, y in sides:
            k = round(math.atan2(y, x) / (2 * math.pi) * _WAYS) % _WAYS
            out[zone, k] = np.fmin(out[zone, k], gap)
    return out


def _by_part(corner: Corner) -> Mapping[str, Mapping[str, State]]:
    out: dict[str, dict[str, State]] = {}
    for (part, dimension), state in corner.items():
        out.setdefault(part, {})[dimension] = state
    return out
