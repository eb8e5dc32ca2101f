"""A joint's halves cut where its gap is least: once as a whole, to scale, and once near by."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from .. import solid as kernel
from ..document import Project
from ..errors import CommandError
from ..recipe import Evaluation, JointShape, Mate
from ..solid import Frame
from ..solid.frame import Vec3, add, cross, dot, length, scale, sub, unit
from .assess import Found, GapCache, made_joint

__all__ = ["drawing_of"]

#: half of what is seen near by, mm: at least so much, and so many gaps
NEAR_MM, NEAR_GAPS = 1.2, 4.0
#: what is seen near by is so much smaller than the whole at least
CLOSER = 2.5
#: what is seen of the whole beyond the zone, as a share of it and mm
AROUND, MARGIN_MM = 0.2, 2.0
#: the whole is not drawn wider than this many times as high as the zone, so that one still sees how the halves engage
WIDEST = 1.6
#: outlines go on so far beyond their windows, as a share of these, so that no edge is drawn where they are cut off
BEYOND = 1.1
#: how far beside the place the cut may go, mm
ASIDE_MM = (0.0, 0.15, -0.15, 0.5, -0.5, 1.2, -1.2)


def drawing_of(project: Project, evaluation: Evaluation, joint: str, gaps: GapCache) -> dict[str, Any]:
    """Both halves of a joint, cut along its axis through the place where the gap is least.

    ``parts`` have their outlines (u, v; mm) in the windows ``whole`` and ``near`` (each a middle and half sizes; they go on a little beyond), ``gap`` the two ends of the
    least gap and what it is as drawn, mm a side. ``u`` runs across the gap, ``v`` out of the opening; the place is at the origin. Where they are ``apart`` the whole is cut in another plane, in which it
    is better seen.

    Raises
    ------
    CommandError : there is no such joint, it could not be made, or its halves face each other nowhere.
    """
    _, shape = made_joint(project, evaluation, joint)
    outer, inner = evaluation.parts[shape.outer], evaluation.parts[shape.inner]
    key = next(r.key for r in evaluation.steps if r.id == joint)
    found = gaps.measure(f"{key}|{outer.key}|{inner.key}", shape, outer, inner)
    if found is None:
        raise CommandError("The halves of this joint do not face each other anywhere.")
    mate = _zone(shape, found)
    frame = _plane(mate, found)
    gap = found.measured.least_mm
    low, high = (z + dot(sub(mate.frame.origin, frame.origin), mate.frame.z) for z in (mate.low_mm, mate.high_mm))
    deep = (high - low) / 2
    half_v = deep * (1 + AROUND) + MARGIN_MM
    # as far as the opening's other side, where that is near enough to be seen
    middle = dot(sub(mate.frame.to_world(*mate.middle_mm), frame.origin), frame.x)
    size = abs(dot(frame.x, mate.frame.x)) * mate.sizes_mm[0] + abs(dot(frame.x, mate.frame.y)) * mate.sizes_mm[1]
    half_u = size / 2 * (1 + AROUND) + MARGIN_MM
    side = max(half_u, half_v)
    if half_u > WIDEST * half_v:
        # the other side is too far off: the place, a little to the side that the opening is on
        side = WIDEST * half_v
        middle = math.copysign(side / 3, middle)
    half = max(NEAR_MM, NEAR_GAPS * abs(gap), 1.2 * mate.pitch_mm)
    if half > side / CLOSER:
        # a wide gap in a small zone: that is what is seen near by, and the whole is what is about it
        half, side = side, CLOSER * side
    whole = ((middle, (low + high) / 2), (side, side))
    if shape.seen is not None:
        whole = ((0.0, 0.0), (shape.seen[1], shape.seen[1]))
    near = ((0.0, 0.0), (half, half))
    parts: list[dict[str, Any]] = []
    # where it is least may be on an edge, beside which only one half goes on
    for aside in ASIDE_MM:
        here = frame.shifted(aside)
        cuts = {id: kernel.Cut(evaluation.parts[id].solid, here) for id in (shape.outer, shape.inner)}
        parts = [{"part": id, "whole": [] if shape.seen else _loops(cut, whole), "near": _loops(cut, near)} for id, cut in cuts.items()]  # fmt: skip
        if all(p["near"] for p in parts):
            break
    if shape.seen is not None:
        for part in parts:
            part["whole"] = _loops(kernel.Cut(evaluation.parts[part["part"]].solid, shape.seen[0]), whole)
    ends = [[dot(sub(p, frame.origin), frame.x), dot(sub(p, frame.origin), frame.y)] for p in found.least_at]
    return {
        "joint": joint,
        "parts": parts,
        "whole": _window(whole),
        "near": _window(near),
        "gap": {"ends": ends, "mm": gap},
        "apart": shape.seen is not None,
    }


def _loops(cut: kernel.Cut, window: tuple[tuple[float, float], tuple[float, float]]) -> list[list[list[float]]]:
    middle, (wide, high) = window
    return [np.round(loop, 4).tolist() for loop in cut.within(middle, (BEYOND * wide, BEYOND * high))]


def _window(window: tuple[tuple[float, float], tuple[float, float]]) -> dict[str, list[float]]:
    return {"middle": list(window[0]), "half": list(window[1])}


def _zone(shape: JointShape, found: Found) -> Mate:
    """The zone in which the gap is least."""
    at = _middle(found.least_at)

    def off(mate: Mate) -> float:
        x, y, z = mate.frame.to_local(at)
        away = math.hypot(max(0.0, abs(x - mate.middle_mm[0]) - mate.sizes_mm[0] / 2), max(0.0, abs(y - mate.middle_mm[1]) - mate.sizes_mm[1] / 2))  # fmt: skip
        return max(mate.low_mm - z, z - mate.high_mm, 0.0) + away

    return min(shape.mates, key=off)


def _middle(ends: tuple[Vec3, Vec3]) -> Vec3:
    return scale(add(*ends), 0.5)


def _plane(mate: Mate, found: Found) -> Frame:
    """The plane of the cut: through the place, along the zone's axis and across the gap."""
    at, axis = _middle(found.least_at), mate.frame.z
    across = sub(found.least_at[1], found.least_at[0])
    across = sub(across, scale(axis, dot(across, axis)))
    if mate.round_hole or mate.pitch_mm:
        # where halves touch all round the way out of the axis says it better
        across = sub(at, add(mate.frame.to_world(*mate.middle_mm), scale(axis, dot(sub(at, mate.frame.origin), axis))))
    if length(across) < 1e-6:
        across = mate.frame.y if mate.along == "y" else mate.frame.x
    x = unit(across)
    return Frame(at, x, unit(cross(cross(x, axis), x)))
