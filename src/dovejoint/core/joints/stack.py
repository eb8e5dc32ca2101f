"""What tolerances do to a gap: each toleranced dimension moved to its limits by itself, each part alone.

The worst case adds all moves up in the same direction; which dimension moves the gap most is the first row.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ..document import Project
from ..recipe import Evaluation, JointShape, PartState
from ..recipe.limits import Limiter
from .assess import GapCache, JointReport, Stack

__all__ = ["with_stacks"]

#: more toleranced dimensions than this are not tried one by one: each costs up to four measured gaps
MOST_DIMENSIONS = 12


def with_stacks(
    project: Project, limiter: Limiter, evaluation: Evaluation, joints: Sequence[JointReport], gaps: GapCache
) -> list[JointReport]:
    """The joints with what tolerances do to their measured gaps."""
    out = []
    for report in joints:
        made = evaluation.made.get(report.step)
        if made is not None and made.joint is not None and report.measured is not None:
            report = replace(report, tolerance=_stack(project, limiter, evaluation, report, made.joint, gaps))
        out.append(report)
    return out


def _stack(
    project: Project, limiter: Limiter, evaluation: Evaluation, report: JointReport, shape: JointShape, gaps: GapCache
) -> Stack | None:
    assert report.measured is not None
    base = report.measured
    names = {p.id: p.name for p in project.parts}
    pairs = [(d, p) for p in (shape.outer, shape.inner) for d in limiter.of_part(p)]
    if not pairs:
        return None
    left_out = max(0, len(pairs) - MOST_DIMENSIONS)
    rows, least, most = [], base.least_mm, base.most_mm
    for dimension, part in pairs[:MOST_DIMENSIONS]:
        moves: dict[str, tuple[float, float]] = {}
        for state in ("lower", "upper"):
            state_of, _ = limiter.part_at(part, {dimension.id: state})
            halves: dict[str, PartState] = {p: evaluation.parts[p] for p in (shape.outer, shape.inner)}
            if state_of is None:
                continue
            halves[part] = state_of
            key = f"{report.step}|{halves[shape.outer].key}|{halves[shape.inner].key}"
            read = gaps.measure(key, shape, halves[shape.outer], halves[shape.inner])
            if read is not None:
                moves[state] = (read.measured.least_mm - base.least_mm, read.measured.most_mm - base.most_mm)
        if len(moves) < 2:
            left_out += 1
            continue
        (low_least, low_most), (high_least, high_most) = moves["lower"], moves["upper"]
        rows.append((dimension.id, dimension.name, names[part], round(low_least, 4), round(high_least, 4)))
        least += min(0.0, low_least, high_least)
        most += max(0.0, low_most, high_most)
    rows.sort(key=lambda r: -max(abs(r[3]), abs(r[4])))
    return Stack(least, most, tuple(r for r in rows if max(abs(r[3]), abs(r[4])) > 1e-3), left_out)
