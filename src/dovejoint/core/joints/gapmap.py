"""A joint's gap as a map on both its halves, for looking at and as a file: CSV (x, y, z, gap, half) or PLY with colours."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .. import solid as kernel
from ..document import Project
from ..document.compiled import compiled_step
from ..fits import Wanted
from ..recipe import Evaluation
from .assess import made_joint, reach_of
from .family import family_of

__all__ = ["as_csv", "as_ply", "map_of", "map_report"]

Array = NDArray[np.float64]


def map_of(project: Project, evaluation: Evaluation, joint: str) -> tuple[list[tuple[str, kernel.HalfMap]], Wanted]:
    """The map of each half of a joint's zones, with the id of its part; and what is wanted, a side.

    Raises
    ------
    CommandError : there is no such joint, or it could not be made.
    """
    step, shape = made_joint(project, evaluation, joint)
    out = []
    for mate in shape.mates:
        ids = shape.halves(mate)
        outer, inner = (evaluation.parts[id].solid for id in ids)
        reach, within = reach_of(mate, shape.drawn_mm)
        halves = kernel.gap_map(outer, inner, mate.frame, mate.low_mm, mate.high_mm, reach, within)
        out += list(zip(ids, halves, strict=True))
    figures = next(r.figures for r in evaluation.steps if r.id == joint)
    return out, family_of(step).wanted(compiled_step(step).fields, figures)


def map_report(project: Project, evaluation: Evaluation, joint: str) -> dict[str, Any]:
    """The map as plain data: for each half its part, corners (3·3 floats a triangle) and gaps (3 a triangle) as 32-bit floats in base64."""
    halves, wanted = map_of(project, evaluation, joint)

    def packed(values: Array) -> str:
        return base64.b64encode(values.astype("<f4").tobytes()).decode()

    every = np.concatenate([h.gaps.ravel() for _, h in halves]) if halves else np.zeros(0)
    return {
        "joint": joint,
        "halves": [{"part": part, "corners": packed(h.corners), "gaps": packed(h.gaps)} for part, h in halves],
        "least": float(every.min()) if len(every) else None,
        "most": float(every.max()) if len(every) else None,
        "wanted_mm": {"least": wanted.least_mm, "target": wanted.target_mm, "most": wanted.most_mm},
    }


def _points(halves: Sequence[tuple[str, kernel.HalfMap]]) -> tuple[Array, Array, list[str]]:
    """All corners once, with the gap there and the part."""
    places, gaps, parts = [], [], []
    for part, h in halves:
        points, values = h.corners.reshape(-1, 3), h.gaps.ravel()
        _, first = np.unique(np.round(points, 5), axis=0, return_index=True)
        places.append(points[first])
        gaps.append(values[first])
        parts += [part] * len(first)
    return np.concatenate(places), np.concatenate(gaps), parts


def as_csv(project: Project, halves: Sequence[tuple[str, kernel.HalfMap]]) -> bytes:
    """Points (mm) with the drawn gap a side there and the part that they lie on."""
    places, gaps, parts = _points(halves)
    names = {p.id: p.name.replace('"', '""') for p in project.parts}
    rows = [
        f'{x:.4f},{y:.4f},{z:.4f},{g:.4f},"{names[part]}"'
        for (x, y, z), g, part in zip(places, gaps, parts, strict=True)
    ]
    return ("\n".join(["x_mm,y_mm,z_mm,gap_mm,part", *rows]) + "\n").encode()


def as_ply(halves: Sequence[tuple[str, kernel.HalfMap]]) -> bytes:
    """Points with the gap as a property of their own (PLY 1.0, ascii)."""
    places, gaps, _ = _points(halves)
    head = [
        "ply",
        "format ascii 1.0",
        f"element vertex {len(gaps)}",
        *(f"property float {n}" for n in ("x", "y", "z", "gap")),
        "end_header",
    ]
    rows = [f"{x:.4f} {y:.4f} {z:.4f} {g:.4f}" for (x, y, z), g in zip(places, gaps, strict=True)]
    return ("\n".join([*head, *rows]) + "\n").encode("ascii")
