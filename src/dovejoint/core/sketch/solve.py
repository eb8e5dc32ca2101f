"""The plain least-squares solve: least movement from where things are, with freedom and conflicts told."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..errors import StepError
from .equations import Row, Unknowns, Vector, arc_rows, equation, value_of
from .model import ORIGIN, Constraint, Dimension, Point, Sketch

__all__ = ["Solution", "dependent_on", "measured", "pull", "settle", "solve"]

#: a solved sketch leaves less than this of any equation, as a share of the sketch's size
RELATIVE_TOLERANCE = 1e-9
_RANK_TOLERANCE = 1e-7
#: shapes smaller than this are slips of the hand, and farther out than this nothing is drawn, mm
SMALLEST_MM = 0.01
LARGEST_MM = 1e5


@dataclass(frozen=True)
class Solution:
    """What became of a sketch.

    ``points`` maps ids to coordinates (mm), ``radii`` circles to radii; ``freedom`` counts the ways things can
    still move and ``free`` names the points and circles that can. ``conflicts`` names constraints and
    dimensions that cannot all hold; then ``solved`` is false and the coordinates are as they were.
    """

    solved: bool
    points: dict[str, tuple[float, float]]
    radii: dict[str, float]
    freedom: int
    free: list[str]
    conflicts: list[str] = field(default_factory=list)
    message: str = ""


def _items(sketch: Sketch) -> list[Constraint | Dimension]:
    return [*sketch.constraints, *sketch.dimensions]


def _rows(u: Unknowns, x: Vector, targets: Mapping[str, float]) -> tuple[list[Row], list[str]]:
    rows, owners = [], []
    for item in _items(u.sketch):
        for row in equation(u, x, item, targets):
            rows.append(row)
            owners.append(item.id)
    for row in arc_rows(u, x):
        rows.append(row)
        owners.append("")
    return rows, owners


def _system(rows: Sequence[Row], count: int) -> tuple[Vector, NDArray[np.float64]]:
    left = np.array([r.left for r in rows], dtype=float)
    jacobian = np.zeros((len(rows), count))
    for i, row in enumerate(rows):
        for k, d in row.by.items():
            jacobian[i, k] = d
    return left, jacobian


def _size(x: Vector) -> float:
    return float(max(1e-3, np.max(np.abs(x), initial=0.0)))


def signed_targets(u: Unknowns, x: Vector, sizes: Mapping[str, float]) -> dict[str, float]:
    """What each dimension must measure, with the sign that it has where the sketch stands."""
    out = {}
    for item in u.sketch.dimensions:
        if item.id not in sizes:
            raise StepError(f"The dimension “{item.id}” has no figure.")
        size = sizes[item.id]
        if not math.isfinite(size):
            raise StepError("A dimension has no finite figure.")
        if item.kind in ("length", "radius", "diameter") and size <= 0:
            raise StepError(f"A {item.kind} must be above zero, and this one is {size:.4g} mm.", field=item.id)
        if item.kind == "distance" and size < 0:
            raise StepError(f"A distance cannot be negative, and this one is {size:.4g} mm.", field=item.id)
        now = value_of(u, x, item)
        signed = item.kind in ("distance_x", "distance_y", "angle") or (
            item.kind == "distance" and len(item.of) == 2 and item.of[1] in u.curves
        )
        out[item.id] = -size if signed and now < 0 else size
    return out


def _newton(u: Unknowns, x: Vector, targets: Mapping[str, float], rounds: int = 60) -> tuple[Vector, float]:
    """Least-norm Gauss–Newton steps, damped where a full one does not help. Returns the state and the rest."""
    rows, _ = _rows(u, x, targets)
    if not rows or u.count == 0:
        return x, float(np.max(np.abs([r.left for r in rows]), initial=0.0))
    left, jacobian = _system(rows, u.count)
    damping = 1e-13
    for _ in range(rounds):
        rest = float(np.max(np.abs(left)))
        if rest < 1e-3 * RELATIVE_TOLERANCE * _size(x):
            break
        gram = jacobian @ jacobian.T
        scale = float(np.trace(gram)) / len(rows) or 1.0
        step = -jacobian.T @ np.linalg.lstsq(gram + damping * scale * np.eye(len(rows)), left, rcond=1e-13)[0]
        trial = x + step
        trial_rows, _ = _rows(u, trial, targets)
        trial_left, trial_jacobian = _system(trial_rows, u.count)
        if np.linalg.norm(trial_left) < np.linalg.norm(left):
            x, left, jacobian = trial, trial_left, trial_jacobian
            damping = max(damping / 10, 1e-13)
        else:
            damping = max(damping * 100, 1e-6)
            if damping > 1e6:
                break
    return x, float(np.max(np.abs(left)))


def _walked(u: Unknowns, targets: Mapping[str, float]) -> tuple[Vector, float]:
    """Go to new sizes in steps where they change much, so that nothing jumps to a mirrored branch."""
    x = u.start.copy()
    now = {d.id: value_of(u, x, d) for d in u.sketch.dimensions}
    reach = 0.0
    for id, target in targets.items():
        reach = max(reach, abs(target - now[id]) / max(abs(now[id]), 0.05 * _size(x)))
    steps = min(12, 1 + int(reach / 0.4))
    rest = 0.0
    for k in range(1, steps + 1):
        between = {id: now[id] + (target - now[id]) * k / steps for id, target in targets.items()}
        x, rest = _newton(u, x, between)
    return x, rest


def solve(sketch: Sketch, sizes: Mapping[str, float]) -> Solution:
    """Bring a sketch to the sizes of its dimensions, moving as little as possible.

    Parameters
    ----------
    sizes : figure of each dimension by id, mm or rad.

    Raises
    ------
    StepError : a dimension is zero or negative where it must not be, or something it ties is missing.
    """
    u = Unknowns(sketch)
    targets = signed_targets(u, u.start, sizes)
    x, rest = _walked(u, targets)
    collapsed = _collapsed(u, x)
    if rest > 100 * RELATIVE_TOLERANCE * _size(x) or collapsed or not np.all(np.isfinite(x)):
        # equations that can only hold at nothing “solve” by shrinking a line to a point: that is a conflict as well
        conflicts = [i.id for i in _items(sketch) if collapsed & set(i.of)] or _fighting(u, x, targets)
        names = " and ".join(describe(sketch, c) for c in conflicts[:4]) or "its sizes"
        return Solution(
            False,
            *_coordinates(u, u.start),
            *_freedom(u, u.start, targets),
            conflicts,
            f"The sketch cannot be solved: {names} cannot all hold.",
        )
    return Solution(True, *_coordinates(u, x), *_freedom(u, x, targets))


def _coordinates(u: Unknowns, x: Vector) -> tuple[dict[str, tuple[float, float]], dict[str, float]]:
    points = {p.id: u.xy(x, p.id) for p in u.sketch.points}
    return points, {c: float(x[k]) for c, k in u.radius_place.items()}


def _null_space(jacobian: NDArray[np.float64], count: int) -> NDArray[np.float64]:
    if jacobian.size == 0:
        return np.eye(count)
    _, sizes, right = np.linalg.svd(jacobian, full_matrices=True)
    top = sizes[0] if len(sizes) and sizes[0] > 0 else 1.0
    rank = int(np.sum(sizes > _RANK_TOLERANCE * top))
    return np.asarray(right[rank:].T)


def _freedom(u: Unknowns, x: Vector, targets: Mapping[str, float]) -> tuple[int, list[str]]:
    if u.count == 0:
        return 0, []
    rows, _ = _rows(u, x, targets)
    _, jacobian = _system(rows, u.count)
    space = _null_space(jacobian, u.count)
    moving = np.linalg.norm(space, axis=1) > 1e-6 if space.shape[1] else np.zeros(u.count, dtype=bool)
    free = [p for p, k in u.place.items() if moving[k] or moving[k + 1]]
    return space.shape[1], free + [c for c, k in u.radius_place.items() if moving[k]]


def _fighting(u: Unknowns, x: Vector, targets: Mapping[str, float]) -> list[str]:
    """Constraints and dimensions that still pull where the least-squares compromise stands."""
    rows, owners = _rows(u, x, targets)
    pulls: dict[str, float] = {}
    for row, owner in zip(rows, owners, strict=True):
        pulls[owner] = max(pulls.get(owner, 0.0), abs(row.left))
    worst = max(pulls.values(), default=0.0)
    return [o for o, p in sorted(pulls.items(), key=lambda i: -i[1]) if o and p > 0.05 * worst]


def dependent_on(sketch: Sketch, item: Constraint | Dimension, sizes: Mapping[str, float]) -> list[str] | None:
    """Whether a new constraint or dimension says only what others say already; if so, which.

    ``None`` means that it takes away freedom. The new row is written as a combination of the old ones.
    """
    u = Unknowns(sketch)
    with_item = Unknowns(sketch)
    targets = signed_targets(u, u.start, sizes)
    rows, owners = _rows(u, u.start, targets)
    probe = equation(with_item, u.start, item, {item.id: 0.0})
    _, old = _system(rows, u.count)
    _, new = _system(probe, u.count)
    before = u.count - _null_space(old, u.count).shape[1] if len(rows) else 0
    both = np.vstack([old, new]) if len(rows) else new
    after = u.count - _null_space(both, u.count).shape[1]
    if after >= before + len(probe):
        return None
    if after > before:
        return None
    members: list[str] = []
    weights = np.linalg.lstsq(old.T, new[0], rcond=1e-9)[0] if len(rows) else np.zeros(0)
    for owner, weight in zip(owners, weights, strict=True):
        if owner and abs(weight) > 1e-6 and owner not in members:
            members.append(owner)
    return members


def _sound(u: Unknowns, x: Vector) -> bool:
    """Whether nothing has collapsed or flown off: a drag must never leave what cannot be pulled open again."""
    far = float(np.max(np.abs(x), initial=0.0))
    return bool(np.all(np.isfinite(x))) and far <= LARGEST_MM and not _collapsed(u, x)


def _collapsed(u: Unknowns, x: Vector) -> set[str]:
    """Lines and circles that are smaller than anything drawn can be."""
    lines = (c for c in u.sketch.curves if c.kind == "line")
    small = {c.id for c in lines if math.dist(u.xy(x, c.points[0]), u.xy(x, c.points[1])) < SMALLEST_MM}
    return small | {id for id, k in u.radius_place.items() if x[k] < SMALLEST_MM}


class Placed(NamedTuple):
    """Where a sketch stands: coordinates (mm) of points and radii of circles by id."""

    points: dict[str, tuple[float, float]]
    radii: dict[str, float]


def _reach(jacobian: NDArray[np.float64], places: Sequence[int], way: Vector) -> Vector | None:
    """The least movement that takes some unknowns along a way without changing any equation to first order.

    With ``S`` the rows that pick the unknowns and ``P = I − Jᵀ(JJᵀ)⁺J`` it is ``P Sᵀ (S P Sᵀ)⁺ way``; ``None`` when
    they cannot move at all.
    """
    pick = np.zeros((jacobian.shape[1], len(places)))
    pick[list(places), range(len(places))] = 1.0
    free = pick
    if jacobian.shape[0]:
        gram = jacobian @ jacobian.T
        # redundant equations leave it singular; so little weight on the diagonal moves nothing that is held
        gram[np.diag_indices_from(gram)] += 1e-10 * max(float(np.trace(gram)) / len(gram), 1e-12)
        free = pick - jacobian.T @ np.linalg.solve(gram, jacobian @ pick)
    inner = free[list(places)]
    if float(np.max(np.abs(inner))) < 1e-7:
        return None
    return np.asarray(free @ np.linalg.lstsq(inner, way, rcond=1e-6)[0])


def pull(sketch: Sketch, sizes: Mapping[str, float], id: str, to: tuple[float, float]) -> Placed:
    """Drag a point (or a circle's rim) as near to a place as the constraints allow; only free things move."""
    u = Unknowns(sketch)
    targets = signed_targets(u, u.start, sizes)
    x, _ = _newton(u, u.start.copy(), targets)
    if id in u.radius_place:
        rim, centre = u.radius_place[id], u.curves[id].points[0]
        goal = np.array([max(math.dist(u.xy(x, centre), to), 0.05)])
        places = [rim]
    elif id in u.place:
        places, goal = [u.place[id], u.place[id] + 1], np.array(to, dtype=float)
    else:
        raise StepError("Only a free point or a circle can be dragged.")
    away = float(np.linalg.norm(goal - x[places]))
    for _ in range(12):
        if away < 1e-6:
            break
        rows, _ = _rows(u, x, targets)
        _, jacobian = _system(rows, u.count)
        reach = _reach(jacobian, places, goal - x[places])
        if reach is None:
            break
        nearer = None
        for share in (1.0, 0.5, 0.25, 0.1):
            trial, rest = _newton(u, x + share * reach, targets)
            distance = float(np.linalg.norm(goal - trial[places]))
            # a step that does not bring it nearer would make the drag swing to and fro
            if rest <= 10 * RELATIVE_TOLERANCE * _size(trial) and distance < away - 1e-9 and _sound(u, trial):
                nearer = trial
                break
        if nearer is None:
            break
        x, away = nearer, distance
    return Placed(*_coordinates(u, x))


def measured(sketch: Sketch, kind: str, of: Sequence[str]) -> float:
    """What a dimension of this kind would read now, without its sign (mm or rad)."""
    u = Unknowns(sketch)
    probe = Dimension.model_construct(id="probe", kind=kind, of=list(of), formula="")
    return abs(value_of(u, u.start, probe))


def settle(sketch: Sketch, solution: Solution | Placed) -> Sketch:
    """The sketch with its solved coordinates, which are where its next solve starts."""

    def near(value: float) -> float:
        rounded = round(value, 9)
        return 0.0 if rounded == 0 else rounded

    points = [Point(id=p.id, x=near(solution.points[p.id][0]), y=near(solution.points[p.id][1])) for p in sketch.points]
    curves = [
        c.model_copy(update={"radius": near(solution.radii[c.id])}) if c.id in solution.radii else c
        for c in sketch.curves
    ]
    return sketch.model_copy(update={"points": points, "curves": curves})


_WORDS = {
    "coincident": "“together”",
    "horizontal": "“level”",
    "vertical": "“upright”",
    "parallel": "“parallel”",
    "perpendicular": "“square”",
    "equal": "“equal”",
    "midpoint": "“middle”",
    "point_on": "“on”",
    "concentric": "“same centre”",
}


def describe(sketch: Sketch, id: str) -> str:
    """How a sentence speaks of a constraint or dimension."""
    for dimension in sketch.dimensions:
        if dimension.id == id:
            return f"{dimension.kind.replace('distance_', '').replace('x', 'width').replace('y', 'height') if dimension.kind.startswith('distance_') else dimension.kind} {dimension.formula}"
    for constraint in sketch.constraints:
        if constraint.id == id:
            return f"{_WORDS[constraint.kind]} on {', '.join(o for o in constraint.of if o != ORIGIN) or ORIGIN}"
    return id
