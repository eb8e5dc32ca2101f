"""What can be measured on a printed part: its sizes over outside faces, between the walls of openings, and at its joints.

Each feature knows its role and its direction as printed, because a printer deviates differently in each.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from .. import solid as kernel
from ..document import Project
from ..fits import Measured
from ..joints import JointReport
from ..joints.family import JointFamily, family_of, meeting_of
from ..joints.mating import mating_of
from ..profiles.sides import Side
from ..recipe import Evaluation, JointShape, Mate, PartState
from ..recipe.lying import Lie, lie_in
from ..solid.frame import Frame, Vec3, add, scale, sub

__all__ = ["Feature", "JointPrint", "features_of", "joint_prints"]

Direction = tuple[float, float, float]
_WORDS = ("across", "deep", "tall")
_MOST_OPENINGS = 4
#: what is taken to stand between two faces that look at each other: no smaller, for small sizes come out otherwise, mm
BETWEEN_MM = 8.0


@dataclass(frozen=True)
class Feature:
    """A size that a caliper can take. ``direction`` is in print coordinates; ``ends`` in the model's, where they are known.

    ``joint`` is the id of the joint's step when it is a mating size, ``side`` then says of which half. ``foot_of`` is the id of the feature
    that this is the foot of: the same size, read where it stands on the bed, over edges that are chamfered there by ``chamfer_mm``. A ``depth`` lies between two faces
    that look the same way. What no caliper can ``read`` is printed and tried all the same.
    """

    id: str
    part: str
    name: str
    role: Literal["outside", "inside", "depth"]
    direction: Direction
    drawn_mm: float
    round_hole: bool = False
    joint: str = ""
    side: str = ""
    ends: tuple[Vec3, Vec3] | None = None
    foot_of: str = ""
    chamfer_mm: float = 0.0
    read: bool = True

    def as_dict(self) -> dict[str, Any]:
        return {**self.__dict__, "direction": list(self.direction)}


@dataclass(frozen=True)
class JointPrint:
    """A joint as it is printed: the gap that was drawn, what it needs, how its halves lie, and what flares; where it was measured, the drawn
    gaps on all ``sides`` of each zone, and the sizes of its halves, ((outer x, y), (inner x, y)). ``printed`` says of the outer and the inner half
    whether it is; one that is not is taken to be as it was drawn. ``acts`` is what its family says of it to who tries it, and ``load`` how much of what its
    material bears is asked of it (``None`` where nothing is). In zones that are ``swapped`` the inner half is the outer one. Of several joints that have a half in
    common, its features go by ``shared``. ``spots_mm`` is where its zones lie, where they lie apart (``Mating``). One that ``stands`` is looked at as its parts lie, for
    nothing goes into anything; where it ``rests`` its gap is a depth within the outer half."""

    step: str
    name: str
    outer: str
    inner: str
    drawn_mm: float
    least_mm: float
    most_mm: float
    ways: tuple[tuple[Direction, Direction, float], ...]
    flare_chamfers_mm: tuple[float, ...]
    flare_mm: float
    flare_unsure_mm: float
    round_hole: bool
    sides: tuple[tuple[Side, ...], ...] = ()
    sizes_mm: tuple[tuple[tuple[float, float], tuple[float, float]], ...] = ()
    printed: tuple[bool, bool] = (True, True)
    acts: Mapping[str, Any] | None = None
    load: float | None = None
    swapped: tuple[bool, ...] = ()
    shared: str = ""
    spots_mm: tuple[tuple[float, float], ...] = ()
    stands: bool = False
    rests: bool = False

    def as_dict(self) -> dict[str, Any]:
        return {**self.__dict__, "ways": [[list(o), list(i), size] for o, i, size in self.ways]}


def _nearly(direction: Direction) -> str:
    """A print direction in a word."""
    return _WORDS[int(np.argmax(np.abs(direction)))]


def features_of(project: Project, evaluation: Evaluation, joints: Sequence[JointReport] = ()) -> list[Feature]:
    """All features of all printed parts, the mating ones first; mating sizes as they were measured where ``joints`` say so."""
    out: list[Feature] = []
    for part in project.parts:
        state = evaluation.parts.get(part.id)
        if state is None or part.role != "printed":
            continue
        lie = lie_in(project, evaluation.parts, part.id)
        found = [
            *_mating(project, evaluation, joints, part.id, lie),
            *_overall(part.id, state, lie),
            *_openings(part.id, state, lie),
        ]
        seen: list[Feature] = []
        for f in found:
            # the walls of a joint's opening are an opening too: once is enough; but each of a joint's zones errs by itself
            if f.joint or not any(
                s.role == f.role
                and abs(s.drawn_mm - f.drawn_mm) < 0.01
                and abs(np.dot(s.direction, f.direction)) > 0.99
                for s in seen
            ):
                seen.append(f)
        out.extend(seen)
    return out


def _mating(
    project: Project, evaluation: Evaluation, joints: Sequence[JointReport], part: str, lie: Lie
) -> list[Feature]:
    out = []
    reports = {j.step: j.measured for j in joints}
    for step in project.recipe:
        made = evaluation.made.get(step.id)
        if made is None or made.joint is None or part not in (made.joint.outer, made.joint.inner):
            continue
        shape, family = made.joint, family_of(step)
        if family.gauged:
            out += _gauged(step.id, shape, family, part, lie)
            continue
        for number, mate in enumerate(shape.mates):
            outer = part == shape.halves(mate)[0]
            which = f", place {number + 1}" if len(shape.mates) > 1 else ""
            sizes = _sizes(shape, number, reports.get(step.id))[0 if outer else 1]
            for k, (axis, size) in enumerate(zip((mate.frame.x, mate.frame.y), sizes, strict=True)):
                if mate.stands or mate.along not in ("", "xy"[k]):
                    # across it the halves do not meet, and what only stands there has no size of its own
                    continue
                direction = lie.of(axis)
                middle = mate.frame.to_world(*mate.middle_mm, (mate.low_mm + mate.high_mm) / 2)
                half = scale(axis, size / 2)
                out.append(
                    Feature(
                        id=f"{part}:{step.id}:{'xy'[k]}{number or ''}",
                        part=part,
                        name=f"{_half(family, mate, outer)}{which}, {_nearly(direction)}",
                        role="inside" if outer else "outside",
                        direction=direction,
                        drawn_mm=round(size, 4),
                        round_hole=mate.round_hole and outer,
                        joint=step.id,
                        side="outer" if outer else "inner",
                        ends=(sub(middle, half), add(middle, half)),
                    )
                )
    return out


def _gauged(step: str, shape: JointShape, family: JointFamily, part: str, lie: Lie) -> list[Feature]:
    """What a half has to do with a gap that is only looked at: how deep it is, or where one of the two faces stands."""
    outer = part == shape.outer
    out = []
    for number, (mate, sizes) in enumerate(zip(shape.mates, _gauged_sizes(shape), strict=True)):
        name = f"{family.outer if outer else family.inner}{f', place {number + 1}' if len(shape.mates) > 1 else ''}"
        role: Literal["outside", "inside", "depth"] = "depth" if mate.rests else "inside" if outer else "outside"
        # what lies on the face has nothing to do with how deep it is, but must be there
        size = shape.drawn_mm * outer if mate.rests else sizes[0 if outer else 1][0]
        out.append(Feature(f"{part}:{step}:x{number or ''}", part, name, role, lie.of(mate.frame.x), round(size, 4), joint=step, side="outer" if outer else "inner", read=False))  # fmt: skip
    return out


def _gauged_sizes(shape: JointShape) -> tuple[tuple[tuple[float, float], tuple[float, float]], ...]:
    """A gap that is only looked at as if something stood in an opening: ((outer x, y), (inner x, y)) for each place. What that is cancels out, but for what it shrinks by."""
    inner = 0.0 if all(m.rests for m in shape.mates) else BETWEEN_MM
    wide = inner + 2 * shape.drawn_mm
    return (((wide, wide), (inner, inner)),) * len(shape.mates)


def _half(family: JointFamily, mate: Mate, outer: bool) -> str:
    """What a half is called where its size is read: threads over their crests, which inside no caliper reaches."""
    if not mate.pitch_mm:
        return family.outer if outer else family.inner
    return f"{family.outer} at its roots (no caliper reaches)" if outer else f"{family.inner} over its crests"


def _sizes(shape: JointShape, zone: int, measured: Measured | None) -> tuple[tuple[float, float], tuple[float, float]]:
    """Outer and inner sizes of a zone in its two directions: as measured, or where it was not, as drawn."""
    found = measured.sizes_mm(zone) if measured is not None else None
    if found is not None:
        (a, b), (c, d) = found
        return (a, c), (b, d)
    x, y = shape.mates[zone].sizes_mm
    return (x, y), (x - 2 * shape.drawn_mm, y - 2 * shape.drawn_mm)


def _overall(part: str, state: PartState, lie: Lie) -> list[Feature]:
    points = state.mesh.positions
    # of the solid: the corners of a mesh lie on a round side, but seldom where it is widest
    sizes = kernel.extents(state.solid.shape, Frame((0.0, 0.0, 0.0), lie.x, lie.y))
    out = []
    for axis, size, direction in zip(
        (lie.x, lie.y, lie.z), sizes, ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)), strict=True
    ):
        low = points[int((points @ np.array(axis)).argmin())]
        high = low + size * np.array(axis)
        ends = ((float(low[0]), float(low[1]), float(low[2])), (float(high[0]), float(high[1]), float(high[2])))
        name = f"whole part, {_nearly(direction)}"
        out.append(
            Feature(
                f"{part}:whole:{'xyz'[int(np.argmax(direction))]}",
                part,
                name,
                "outside",
                direction,
                round(size, 4),
                ends=ends,
            )
        )
    return out


def _openings(part: str, state: PartState, lie: Lie) -> list[Feature]:
    """Pairs of flat walls that face each other over free space, square to a print direction."""
    mesh = state.mesh
    boxes = []
    for index, info in enumerate(state.faces):
        corners = mesh.corners_of(index)
        boxes.append((info, corners))
    out: list[Feature] = []
    for k, (axis, direction) in enumerate(
        ((lie.x, (1.0, 0.0, 0.0)), (lie.y, (0.0, 1.0, 0.0)), (lie.z, (0.0, 0.0, 1.0)))
    ):
        others = [np.array(a) for j, a in enumerate((lie.x, lie.y, lie.z)) if j != k]
        walls = [(i, c) for i, c in boxes if i.kind == "plane" and abs(abs(np.dot(i.normal, axis)) - 1) < 1e-4]
        near: dict[int, tuple[float, Vec3]] = {}
        for n, (a, ca) in enumerate(walls):
            if np.dot(a.normal, axis) < 0:
                continue
            at = float(np.dot(a.at, axis))
            best = None
            for b, cb in walls:
                gap = float(np.dot(b.at, axis)) - at
                if np.dot(b.normal, axis) > 0 or gap < 0.5 or not all(_overlap(ca @ o, cb @ o) for o in others):
                    continue
                best = gap if best is None else min(best, gap)
            if best is not None:
                near[n] = (best, a.at)
        for n, (gap, at3) in sorted(near.items(), key=lambda item: -item[1][0]):
            if any(abs(f.drawn_mm - gap) < 0.01 and f.direction == direction for f in out):
                continue
            end = (at3[0] + gap * axis[0], at3[1] + gap * axis[1], at3[2] + gap * axis[2])
            out.append(
                Feature(
                    f"{part}:open{n}:{'xyz'[k]}",
                    part,
                    f"opening of {gap:.4g}, {_nearly(direction)}",
                    "inside",
                    direction,
                    round(gap, 4),
                    ends=(at3, end),
                )
            )
    return sorted(out, key=lambda f: -f.drawn_mm)[:_MOST_OPENINGS]


def _overlap(a: Any, b: Any) -> bool:
    return bool(min(a.max(), b.max()) - max(a.min(), b.min()) > 0.3)


def joint_prints(project: Project, evaluation: Evaluation, joints: Any) -> list[JointPrint]:
    """All joints that could be made, as they are printed now."""
    reports = {j.step: j for j in joints}
    steps = {r.id: r for r in evaluation.steps}
    out = []
    for step in project.recipe:
        made, report = evaluation.made.get(step.id), reports.get(step.id)
        if made is None or made.joint is None or report is None or report.wanted is None:
            continue
        shape = made.joint
        gauged = family_of(step).gauged
        if all(m.stands for m in shape.mates) and not gauged:
            # nothing goes in anywhere, so there is nothing to try
            continue
        laid = mating_of(project, meeting_of(step, steps[step.id].figures), evaluation.parts, shape)
        out.append(
            JointPrint(
                step=step.id, name=report.name, outer=shape.outer, inner=shape.inner, drawn_mm=shape.drawn_mm,
                least_mm=report.wanted.least_mm, most_mm=report.wanted.most_mm, ways=laid.mating.ways,
                flare_chamfers_mm=tuple(e.chamfer_mm for e in laid.on_bed), flare_mm=laid.mating.flare_mm,
                flare_unsure_mm=laid.mating.flare_unsure_mm, round_hole=laid.mating.round_hole,
                sides=report.measured.sides if report.measured is not None else (),
                sizes_mm=_gauged_sizes(shape) if gauged else tuple(_sizes(shape, k, report.measured) for k in range(len(shape.mates))), printed=laid.mating.printed,
                acts=report.working.acts if report.working is not None else None,
                load=report.working.load() if report.working is not None else None, swapped=tuple(m.swapped for m in shape.mates),
                spots_mm=laid.mating.spots_mm, stands=gauged, rests=gauged and all(m.rests for m in shape.mates),
            )
        )  # fmt: skip
    return out
