"""The model pulled apart: how far each part is moved so that all are seen by themselves, on the ways on which the halves of its joints come out of each other.

The largest part of those that joints hold together stays, and what it holds moves out of it, with what that holds in turn. What lies deeper moves first, so that what lies
over it goes farther. A part goes as far as it takes to clear the one it comes out of, as seen along its way, and any that stands there by then. What is printed in one cannot
come apart and moves as one; what no joint holds stays where it is.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..document import Project
from ..recipe import Evaluation
from ..recipe.lying import printed_in_one
from ..solid.frame import Vec3
from .family import family_of

__all__ = ["pulled_apart"]

Array = NDArray[np.float64]
#: what is left free between two parts, as a share of the whole model's diagonal, and at least, mm
SPARE, LEAST_SPARE_MM = 0.04, 2.0


@dataclass(frozen=True, eq=False)
class _Body:
    """A part, or some that are printed in one: the corners of its triangles (t, 3, 3), mm."""

    corners: Array

    @property
    def diagonal_mm(self) -> float:
        points = self.corners.reshape(-1, 3)
        return float(np.linalg.norm(points.max(axis=0) - points.min(axis=0)))


@dataclass(frozen=True)
class _Link:
    """One body comes out of the other on a way (a unit vector)."""

    outer: str
    inner: str
    way: Vec3
    straight: bool


def pulled_apart(project: Project, evaluation: Evaluation) -> dict[str, Vec3]:
    """By how much each part is moved when the model is pulled wholly apart, mm; parts that could not be made are left out."""
    parts = [p.id for p in project.parts if p.id in evaluation.parts]
    one = {p: group[0] for group in printed_in_one(project) for p in group}
    bodies: dict[str, list[Array]] = {}
    for part in parts:
        mesh = evaluation.parts[part].mesh
        corners = np.asarray(mesh.positions, dtype=np.float64).reshape(-1, 3)[np.asarray(mesh.triangles).reshape(-1, 3)]
        bodies.setdefault(one.get(part, part), []).append(corners)
    whole = {name: _Body(np.concatenate(lots)) for name, lots in bodies.items()}
    moved = _moved(whole, _links(project, evaluation, one, whole))
    out: dict[str, Vec3] = {}
    for part in parts:
        x, y, z = (round(float(c), 3) + 0.0 for c in moved[one.get(part, part)])
        out[part] = (x, y, z)
    return out


def _links(
    project: Project, evaluation: Evaluation, one: Mapping[str, str], bodies: Mapping[str, _Body]
) -> list[_Link]:
    out = []
    for step in project.recipe:
        made = evaluation.made.get(step.id)
        if made is None or made.joint is None or all(m.stands for m in made.joint.mates):
            # what only stands beside the other half is not held by it
            continue
        shape = made.joint
        outer, inner = (one.get(p, p) for p in (shape.outer, shape.inner))
        if outer != inner and outer in bodies and inner in bodies:
            out.append(_Link(outer, inner, shape.way_out, family_of(step).comes != "turned"))
    # of several joints of a pair one that comes straight out tells the way
    return sorted(out, key=lambda link: not link.straight)


def _moved(bodies: Mapping[str, _Body], links: Sequence[_Link]) -> dict[str, Array]:
    spare = max(LEAST_SPARE_MM, SPARE * _Body(np.concatenate([b.corners for b in bodies.values()])).diagonal_mm) if bodies else 0.0  # fmt: skip
    moved: dict[str, Array] = {}
    for root in sorted(bodies, key=lambda name: -bodies[name].diagonal_mm):
        if root in moved:
            continue
        moved[root] = np.zeros(3)
        held, layer = [root], [root]
        while layer:
            coming: dict[str, tuple[str, Array]] = {}
            for link in links:
                for here, there, sign in ((link.outer, link.inner, 1.0), (link.inner, link.outer, -1.0)):
                    if here in layer and there not in moved and there not in coming:
                        coming[there] = here, sign * np.array(link.way)
            # what lies deeper goes first
            order = sorted(coming, key=lambda name: float((bodies[name].corners @ coming[name][1]).min()))
            for name in order:
                here, way = coming[name]
                moved[name] = _clear(bodies, moved, held, name, here, way, spare)
                held.append(name)
            layer = order
    return moved


def _clear(
    bodies: Mapping[str, _Body], moved: Mapping[str, Array], held: Sequence[str], name: str, out_of: str, way: Array, spare: float
) -> Array:  # fmt: skip
    """Where a body comes to lie that is moved on a way until it clears the one it comes out of, and all others that are already out."""
    mine = bodies[name].corners + moved[out_of]
    low, high = float((mine @ way).min()), float((mine @ way).max())
    spans = {other: s for other in held if (s := _span(bodies[other].corners + moved[other], mine, way)) is not None}
    by = 0.0
    if out_of in spans:
        by = max(by, spans[out_of][1] + spare - low)
    # each time round it clears one more of them
    for _ in held:
        met = [s for s in spans.values() if s[0] - spare < high + by and low + by < s[1] + spare - 1e-9]
        if not met:
            break
        by = max(s[1] for s in met) + spare - low
    return np.asarray(moved[out_of] + by * way)


def _span(corners: Array, mine: Array, way: Array) -> tuple[float, float] | None:
    """From where to where along a way triangles reach that lie in the shadow which a body throws on it; nothing where none do."""
    guide = np.eye(3)[int(np.abs(way).argmin())]
    across = np.cross(way, guide)
    across /= np.linalg.norm(across)
    plane = np.column_stack([across, np.cross(way, across)])
    shadow = mine.reshape(-1, 3) @ plane
    theirs = corners @ plane
    lies = ((theirs.max(axis=1) >= shadow.min(axis=0)) & (theirs.min(axis=1) <= shadow.max(axis=0))).all(axis=1)
    if not lies.any():
        return None
    along = corners[lies] @ way
    return float(along.min()), float(along.max())
