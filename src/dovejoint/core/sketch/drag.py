"""Dragging: what is free follows the pointer, as near as the equations allow, and nothing else moves."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from ..errors import StepError
from .drawing import Drawing
from .newton import RELATIVE_TOLERANCE, improve
from .system import Matrix, System, Vector

__all__ = ["dragged"]

_ROUNDS = 12


def _reach(jacobian: Matrix, weight: Vector, places: Matrix, way: Vector) -> Vector | None:
    """The least movement that takes some places along a way without changing any equation to first order.

    With S the rows that pick the places, P = W⁻¹ − W⁻¹Jᵀ(JW⁻¹Jᵀ)⁺JW⁻¹ it is P Sᵀ (S P Sᵀ)⁺ way; ``None`` when they cannot move.
    """
    free = (places / weight).T
    if jacobian.shape[0]:
        spread = jacobian / weight
        gram = spread @ jacobian.T
        # redundant equations leave it singular; so little weight on the diagonal moves nothing that is held
        gram[np.diag_indices_from(gram)] += 1e-10 * max(float(np.trace(gram)) / len(gram), 1e-12)
        free = free - spread.T @ np.linalg.solve(gram, jacobian @ free)
    inner = places @ free
    if float(np.max(np.abs(inner))) < 1e-7:
        return None
    return np.asarray(free @ np.linalg.lstsq(inner, way, rcond=1e-6)[0])


def _handles(drawing: Drawing, node: str) -> list[str]:
    out = []
    for poles in drawing.splines.values():
        for k in range(0, len(poles), 3):
            if poles[k] == node:
                out += [poles[j] for j in (k - 1, k + 1) if 0 <= j < len(poles)]
    return [h for h in out if h not in drawing.held]


def dragged(
    drawing: Drawing, id: str, to: tuple[float, float], sound: Callable[[System, Vector], bool] | None = None
) -> tuple[Vector, System]:
    """Drag a point, or the rim of a round, towards a place (mm). Returns all coordinates and radii, and their system.

    Raises
    ------
    StepError : it is neither.
    """
    system = System(drawing)
    y, _ = improve(system, system.y0)
    z = system.full(y)
    if id in system.radius:
        slots = [system.radius[id]]
        centre = system.slot[drawing.rounds[id].centre]
        wx, wy = to[0] - z[centre], to[1] - z[centre + 1]
        reach_mm = math.hypot(wx, wy)
        if (major := drawing.rounds[id].major) is not None:
            # how far out of an ellipse's first axis
            k = system.slot[major]
            ax, ay = z[k] - z[centre], z[k + 1] - z[centre + 1]
            reach_mm = abs(ax * wy - ay * wx) / max(math.hypot(ax, ay), 1e-12)
        goal = np.array([max(reach_mm, 0.05)])
    elif id in system.slot:
        # the handles of a spline's node come along with it
        moved = [id, *_handles(drawing, id)]
        slots = [system.slot[p] + k for p in moved for k in (0, 1)]
        goal = z[slots] + np.tile(np.array(to, dtype=float) - z[slots[:2]], len(moved))
    else:
        raise StepError("Only a free point or a circle can be dragged.")
    places = np.zeros((len(slots), system.n))
    for k, slot in enumerate(slots):
        if system.rep[slot] < system.n:
            places[k, system.rep[slot]] = 1.0
    # only what hangs together with it can move
    held = np.flatnonzero(places.any(axis=0))
    near = [c for c in system.clusters if np.isin(held, c[1]).any()]
    rows = np.concatenate([r for r, _ in near]) if near else np.zeros(0, dtype=np.int64)
    columns = np.unique(np.concatenate([held, *(c for _, c in near)])).astype(np.int64)
    away = float(np.linalg.norm(goal - z[slots]))
    for _ in range(_ROUNDS):
        if away < 1e-6 or not system.n:
            break
        _, jacobian = system.evaluate(y)
        part = _reach(jacobian[np.ix_(rows, columns)], system.weight[columns], places[:, columns], goal - z[slots])
        if part is None:
            break
        reach = np.zeros(system.n)
        reach[columns] = part
        nearer = None
        for share in (1.0, 0.5, 0.25, 0.1):
            trial, rest = improve(system, y + share * reach, 12)
            full = system.full(trial)
            distance = float(np.linalg.norm(goal - full[slots]))
            # a step that does not bring it nearer would make the drag swing to and fro
            if (
                rest <= 10 * RELATIVE_TOLERANCE * system.size
                and distance < away - 1e-9
                and (sound is None or sound(system, full))
            ):
                nearer = trial
                break
        if nearer is None:
            break
        better = away - distance
        y, z, away = nearer, full, distance
        if better < 1e-4 * away:
            break
    return z, system
