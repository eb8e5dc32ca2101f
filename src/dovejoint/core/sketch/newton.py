"""Moving a drawing onto its equations: least movement, no jumps to mirrored branches, minimal sets that fight."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.linalg import LinAlgError, cho_factor, cho_solve

from .drawing import VALUED, Drawing
from .system import Matrix, System, Vector

__all__ = [
    "RELATIVE_TOLERANCE",
    "SEARCH_WORK",
    "Budget",
    "Diagnosis",
    "Settled",
    "another",
    "dependent_sets",
    "diagnose",
    "elsewhere",
    "fighting",
    "improve",
    "normed",
    "rank_of",
    "reached",
    "settled",
    "witness",
]

#: a solved drawing leaves less than this of any equation, as a share of its size
RELATIVE_TOLERANCE = 1e-9
RANK_TOLERANCE = 1e-6
#: in one step of a large change no line may turn by more than this, rad
MOST_TURN_RAD = math.radians(40)
SMALLEST_SHARE = 1 / 64
#: a line or radius of which less than this share is left has been brought to nothing
SHRUNK = 1e-5
#: work that looking for another solution, or for what fights, may cost: about two seconds here
SEARCH_WORK = 2.5e9
#: a solution in which everything keeps this share of its size is taken without looking for a better one
FAIR = 0.15
#: so few items are all looked through for a conflict; of more only those that still pull
FEW = 60


class Budget:
    """Work that may still be spent on a search, counted as operations so that the same sketch always gets the same answer."""

    def __init__(self, work: float = SEARCH_WORK) -> None:
        self.left = work

    def spend(self, rows: int, columns: int) -> None:
        """One round of improving a cluster of equations: a factorisation, and some calls of constant cost."""
        self.left -= 1.2e6 + 2.0 * rows * rows * columns + rows**3 / 3

    @property
    def gone(self) -> bool:
        return self.left < 0


class _SpentError(Exception):
    """A search has used up its work."""


def _least(jacobian: Matrix, weight: Vector, left: Vector, damping: float) -> Vector:
    """The least movement (members of a class counted each) that takes the equations down: −W⁻¹Jᵀ(JW⁻¹Jᵀ + λ)⁻¹ r."""
    spread = jacobian / weight
    gram = spread @ jacobian.T
    gram[np.diag_indices_from(gram)] += damping * max(float(np.trace(gram)) / len(gram), 1e-300)
    try:
        pull = cho_solve(cho_factor(gram, check_finite=False), left, check_finite=False)
    except (LinAlgError, ValueError):
        pull = np.linalg.lstsq(gram, left, rcond=1e-13)[0]
    return np.asarray(-spread.T @ pull)


def improve(system: System, y: Vector, rounds: int = 50, budget: Budget | None = None) -> tuple[Vector, float]:
    """Damped least-norm Gauss–Newton steps, cluster by cluster. Returns the state and the largest rest, mm.

    With a budget that is used up it ends where it is.
    """
    if not system.m or not system.n:
        rest, _ = system.evaluate(y, False)
        return y, float(np.max(np.abs(rest), initial=0.0))
    goal = 1e-3 * RELATIVE_TOLERANCE * system.size
    y = y.copy()
    left, jacobian = system.evaluate(y)
    for rows, columns in system.clusters:
        damping = 1e-13
        mine = left[rows]
        for _ in range(rounds):
            size = float(np.linalg.norm(mine))
            if float(np.max(np.abs(mine))) < goal:
                break
            if budget is not None:
                if budget.gone:
                    break
                budget.spend(len(rows), len(columns))
            step = _least(jacobian[np.ix_(rows, columns)], system.weight[columns], mine, damping)
            better = False
            # a full step most of the time; a shorter one where the drawing bends
            for share in (1.0, 0.5, 0.2, 0.05):
                trial = y.copy()
                trial[columns] += share * step
                trial_left, trial_jacobian = system.evaluate(trial)
                if np.linalg.norm(trial_left[rows]) < size * (1 - 1e-4 * share):
                    better = True
                    break
            if better:
                y, jacobian, mine = trial, trial_jacobian, trial_left[rows]
                damping = max(damping / 10, 1e-13)
            else:
                damping = max(damping * 100, 1e-6)
                if damping > 1e4:
                    break
    left, _ = system.evaluate(y, False)
    return y, float(np.max(np.abs(left), initial=0.0))


@dataclass(frozen=True, eq=False)
class Settled:
    """Where a drawing came to rest: all coordinates and radii (mm), whether everything holds, and the largest rest, mm."""

    system: System
    z: Vector
    holds: bool
    rest_mm: float


def reached(system: System, z: Vector, rest_mm: float) -> bool:
    clash = max((abs(left) for _, left in system.surplus), default=0.0)
    return bool(np.all(np.isfinite(z))) and max(rest_mm, clash) <= 100 * RELATIVE_TOLERANCE * system.size


def shrunk(drawing: Drawing, system: System, z: Vector) -> set[str]:
    """Lines and rounds that were brought to nothing: equations that can hold in no other way are not held."""
    out = set()
    for id, (p, q) in drawing.lines.items():
        i, j = system.slot[p], system.slot[q]
        was = math.dist(drawing.points[p], drawing.points[q])
        if was > 1e-6 * system.size and math.hypot(z[j] - z[i], z[j + 1] - z[i + 1]) < SHRUNK * was:
            out.add(id)
    for id, r in drawing.rounds.items():
        if r.radius > 1e-6 * system.size and z[system.radius[id]] < SHRUNK * r.radius:
            out.add(id)
    return out


def _turns(drawing: Drawing, system: System, before: Vector, after: Vector) -> float:
    """By how much the line turned that turned most, rad."""
    most = 0.0
    for p, q in drawing.lines.values():
        i, j = system.slot[p], system.slot[q]
        a, b = (math.atan2(z[j + 1] - z[i + 1], z[j] - z[i]) for z in (before, after))
        if math.hypot(before[j] - before[i], before[j + 1] - before[i + 1]) > 1e-6 * system.size:
            most = max(most, abs((b - a + math.pi) % (2 * math.pi) - math.pi))
    return most


def settled(
    drawing: Drawing,
    now: Mapping[str, float] | None = None,
    *,
    only: set[str] | None = None,
    start: Vector | None = None,
    sides: Vector | None = None,
    budget: Budget | None = None,
) -> Settled:
    """Solve a drawing.

    Parameters
    ----------
    now : what its valued items measure at the start; where given, large changes of value go in steps.
    """
    goals = {i.id: i.value for i in drawing.items if i.value is not None and (only is None or i.id in only)}
    moved = {
        id: (now[id], goal)
        for id, goal in goals.items()
        if now is not None and id in now and abs(now[id] - goal) > 1e-12
    }
    z = None if start is None else np.array(start, dtype=float)

    def at(share: float, z: Vector | None) -> Settled:
        items = [
            replace(i, value=moved[i.id][0] + share * (moved[i.id][1] - moved[i.id][0]))
            if i.id in moved and share < 1
            else i
            for i in drawing.items
        ]
        system = System(replace(drawing, items=items), only=only, start=z, sides=sides)
        y, rest = improve(system, system.y0, budget=budget)
        full = system.full(y)
        return Settled(system, full, reached(system, full, rest) and not shrunk(drawing, system, full), rest)

    whole = at(1.0, z)
    if not moved or (whole.holds and _turns(drawing, whole.system, whole.system.z0, whole.z) < MOST_TURN_RAD):
        return whole
    done, share, best = 0.0, 0.5, whole
    while done < 1.0:
        if budget is not None and budget.gone:
            return whole
        goal = min(1.0, done + share)
        tried = at(goal, z)
        if tried.holds and (
            share <= SMALLEST_SHARE or _turns(drawing, tried.system, tried.system.z0, tried.z) < MOST_TURN_RAD
        ):
            done, z, best, share = goal, tried.z, tried, min(0.5, share * 1.5)
        elif share > SMALLEST_SHARE:
            share /= 2
        else:
            # it cannot be brought there bit by bit; what a direct solve found is as good as there is
            return whole if whole.holds or done == 0.0 else tried
    return best


# ---- diagnosis ---------------------------------------------------------------------------------------------------


@dataclass(frozen=True, eq=False)
class Diagnosis:
    """``freedom`` counts the ways things can still move, ``free`` names the points and rounds that can, ``ways`` are unit
    directions of free points; ``surplus`` counts equations that say nothing new."""

    freedom: int
    free: list[str]
    ways: dict[str, tuple[float, float]]
    surplus: int


def witness(drawing: Drawing, z: Vector, only: set[str] | None = None) -> Vector:
    """The drawing shaken and put back onto what holds no value: ranks there are those of the drawing in general.

    At the solution itself a rank may drop by chance (three points in line), at any place it may be too high (a right angle in a
    semicircle); J. E. Graver, *Counting on Frameworks*, calls it a generic configuration.
    """
    structural = {i.id for i in drawing.items if i.kind not in VALUED and (only is None or i.id in only)}
    probe = System(drawing, only=structural, start=z)
    dice = np.random.default_rng(7)
    _, jacobian = probe.evaluate(probe.y0)
    for share in (0.02, 0.005, 0.001):
        shake = dice.normal(0, share * probe.size, probe.n)
        # only along what the equations leave free: where many of them say the same, shaken apart they would hold at nothing but a point
        for rows, columns in probe.clusters:
            part = jacobian[np.ix_(rows, columns)]
            shake[columns] += _least(part, np.ones(len(columns)), part @ shake[columns], 1e-10)
        y, rest = improve(probe, probe.y0 + shake)
        full = probe.full(y)
        far = float(np.max(np.abs(y - probe.y0), initial=0.0))
        # a rank read off a place that fails its equations by more than this would count what is dependent
        if (
            rest <= 10 * RELATIVE_TOLERANCE * probe.size
            and far <= 20 * share * probe.size
            and np.all(np.isfinite(full))
        ):
            return full
    return z


def _jacobian_at(drawing: Drawing, z: Vector, only: set[str] | None, reduce: bool) -> tuple[System, Matrix]:
    """Derivatives at a witness. Values do not count there: every valued item is taken to measure what it does."""
    system = System(drawing, only=only, start=z, reduce=reduce)
    z = system.z0
    held = z - system.offset
    inside = system.rep < system.n
    sums = np.bincount(system.rep[inside], weights=held[inside], minlength=system.n)
    y = sums / np.maximum(system.weight, 1.0)
    # places that a value fixes are where the witness has them: only the derivatives are asked for
    system.offset = np.where(inside, z - y[np.minimum(system.rep, max(system.n - 1, 0))] if system.n else z, z)
    _, jacobian = system.evaluate(y)
    return system, normed(jacobian)


def normed(jacobian: Matrix) -> Matrix:
    """Rows of length one, so that a rank does not depend on how steep an equation happens to be."""
    size = np.linalg.norm(jacobian, axis=1, keepdims=True)
    return np.asarray(jacobian / np.maximum(size, 1e-12))


def rank_of(jacobian: Matrix) -> int:
    """The rank of rows of length one: real singular values stand far from those of rounding."""
    sizes = np.linalg.svd(jacobian, compute_uv=False) if jacobian.size else np.zeros(0)
    return int(np.sum(sizes > RANK_TOLERANCE * max(sizes[0], 1e-300))) if len(sizes) else 0


def diagnose(drawing: Drawing, z: Vector, only: set[str] | None = None) -> Diagnosis:
    """Freedom and surplus of a drawing at a solution (or at the best that was found)."""
    system, jacobian = _jacobian_at(drawing, witness(drawing, z, only), only, True)
    surplus = len(system.surplus) - sum(1 for owner, left in system.surplus if abs(left) > 1e-9 * system.size)
    moving = np.ones(system.n, dtype=bool)
    spaces: dict[int, tuple[Matrix, int]] = {}
    freedom = system.n
    for rows, columns in system.clusters:
        _, sizes, right = np.linalg.svd(jacobian[np.ix_(rows, columns)], full_matrices=True)
        rank = int(np.sum(sizes > RANK_TOLERANCE * max(sizes[0], 1e-300))) if len(sizes) else 0
        space = right[rank:].T
        freedom -= rank
        surplus += len(rows) - rank
        moving[columns] = np.linalg.norm(space, axis=1) > 1e-6 if space.shape[1] else False
        spaces |= {int(c): (space, k) for k, c in enumerate(columns)}
    free, ways = [], {}

    for p, slot in system.slot.items():
        able = [system.rep[slot + k] < system.n and moving[system.rep[slot + k]] for k in (0, 1)]
        if any(able):
            free.append(p)
            way = _way(system, spaces, slot)
            if way is not None:
                ways[p] = way
    free += [r for r, slot in system.radius.items() if system.rep[slot] < system.n and moving[system.rep[slot]]]
    return Diagnosis(freedom, free, ways, surplus)


def _way(system: System, spaces: Mapping[int, tuple[Matrix, int]], slot: int) -> tuple[float, float] | None:
    """The one direction in which a point can move; nothing when there are two."""
    x, y = (int(system.rep[slot + k]) for k in (0, 1))
    if x >= system.n or y >= system.n:
        return (0.0, 1.0) if x >= system.n else (1.0, 0.0)
    if x not in spaces or y not in spaces or spaces[x][0] is not spaces[y][0]:
        return None
    space = spaces[x][0]
    u, sizes, _ = np.linalg.svd(space[[spaces[x][1], spaces[y][1]]], full_matrices=False)
    return (float(u[0, 0]), float(u[1, 0])) if len(sizes) < 2 or sizes[1] < 1e-6 else None


def dependent_sets(drawing: Drawing, z: Vector, only: set[str] | None = None) -> list[list[str]]:
    """Sets of items of which one follows from the others, newest member last."""
    system, jacobian = _jacobian_at(drawing, witness(drawing, z, only), only, False)
    out: list[list[str]] = []
    kept: list[int] = []
    basis = np.zeros((0, system.n))
    order = {i.id: k for k, i in enumerate(drawing.items)}
    for k in sorted(range(system.m), key=lambda k: order.get(system.owners[k], -1)):
        row = jacobian[k]
        size = float(np.linalg.norm(row))
        rest = row - basis.T @ (basis @ row)
        rest -= basis.T @ (basis @ rest)
        if size > 1e-12 and float(np.linalg.norm(rest)) > 1e-6 * size:
            basis = np.vstack([basis, rest / np.linalg.norm(rest)])
            kept.append(k)
            continue
        weights = np.linalg.lstsq(jacobian[kept].T, row, rcond=1e-9)[0] if kept else np.zeros(0)
        members = {system.owners[i] for i, w in zip(kept, weights, strict=True) if abs(w) > 1e-5} | {system.owners[k]}
        names = sorted((m for m in members if m), key=lambda m: order[m])
        if names and names not in out:
            out.append(names)
    return out


def _starts(drawing: Drawing) -> Iterator[tuple[Vector, bool]]:
    """Places from which a drawing may find what it does not find from where it stands, and whether sides are kept as they are there.

    Where it stands some way out may be hidden by symmetry, so it is shaken, and turned by a quarter (brought round by equations alone it
    would be squeezed to nothing), and spread apart, so that what lies within another lies beside it.
    """
    start = np.array(drawing.places())
    size = float(max(1e-3, np.max(np.abs(start), initial=0.0)))
    count = 2 * len(drawing.points)
    dice = np.random.default_rng(11)
    # what does not move is where it is, wherever one starts: the origin, and what was brought in
    held = [k for i, p in enumerate(drawing.points) if p in drawing.held for k in (2 * i, 2 * i + 1)]
    held += [count + i for i, r in enumerate(drawing.rounds) if r in drawing.held]

    def kept(z: Vector) -> Vector:
        z[held] = start[held]
        return z

    def shaken(share: float) -> Vector:
        moved = start + dice.normal(0, share * size, len(start))
        # sizes of rounds must stay above zero
        moved[count:] = start[count:] * np.exp(dice.normal(0, share, len(start) - count))
        return kept(moved)

    turned, spread = start.copy(), start.copy()
    turned[0:count:2], turned[1:count:2] = -start[1:count:2], start[0:count:2]
    for k in (0, 1):
        middle = float(np.mean(start[k:count:2])) if count else 0.0
        spread[k:count:2] = middle + 3.0 * (start[k:count:2] - middle)
    yield shaken(0.05), True
    yield shaken(0.2), True
    yield kept(turned), False
    yield shaken(0.05), True
    for share in (0.05, 0.2, 0.5, 0.5):
        yield shaken(share), True
    yield kept(spread), False


def elsewhere(
    drawing: Drawing, now: Mapping[str, float] | None, only: set[str] | None, budget: Budget, few: bool = False
) -> Settled | None:
    """A solution found from another start than where the drawing stands, if there is one.

    ``few`` tries only the starts that help most often. Raises _SpentError.
    """
    start = np.array(drawing.places())
    for k, (z, sided) in enumerate(_starts(drawing)):
        if few and k > 3:
            break
        if budget.gone:
            raise _SpentError
        found = settled(
            drawing, None if sided else now, only=only, start=z, sides=start if sided else None, budget=budget
        )
        if not found.holds and sided:
            # which side things touch on is not said anywhere: from there it may be another one
            found = settled(drawing, only=only, start=z, budget=budget)
        if found.holds:
            return found
    return None


def another(drawing: Drawing, now: Mapping[str, float], budget: Budget, stood: Vector | None = None) -> Settled | None:
    """A drawing solved from other starts, when it cannot be from where it stands; ``None`` where none of them helps. ``stood`` are the
    places to take sides from, where those are others.

    Of the solutions found it is the first in which nothing shrank to a small part of what it was, else the one that left most.
    """
    best: tuple[float, Settled] | None = None
    for z, sided in _starts(drawing):
        if budget.gone:
            break
        sides = (np.array(drawing.places()) if stood is None else stood) if sided else stood
        found = settled(drawing, None if sided else now, start=z, sides=sides, budget=budget)
        if not found.holds and sided:
            found = settled(drawing, start=z, budget=budget)
        if found.holds:
            left = _left(drawing, found.system, found.z)
            if best is None or left > best[0]:
                best = left, found
            if left > FAIR:
                break
    return None if best is None else best[1]


def _left(drawing: Drawing, system: System, z: Vector) -> float:
    """What is left of the line or round that shrank most, as a share of what it was."""
    shares = [1.0]
    for p, q in drawing.lines.values():
        i, j = system.slot[p], system.slot[q]
        was = math.dist(drawing.points[p], drawing.points[q])
        if was > 1e-6 * system.size:
            shares.append(math.hypot(z[j] - z[i], z[j + 1] - z[i + 1]) / was)
    for id, r in drawing.rounds.items():
        if r.radius > 1e-6 * system.size:
            shares.append(float(z[system.radius[id]]) / r.radius)
    return min(shares)


def fighting(
    drawing: Drawing, now: Mapping[str, float] | None = None, budget: Budget | None = None
) -> tuple[list[str], bool]:
    """A minimal set of items that cannot all hold (QuickXplain, U. Junker 2004): without any one of them the others can.

    Returns the set and whether it is known to be minimal; when the search would take too long it is what pulls most.
    """
    budget = budget or Budget()

    def holds(ids: Sequence[str]) -> bool:
        if budget.gone:
            raise _SpentError
        if settled(drawing, now, only=set(ids), budget=budget).holds:
            return True
        return elsewhere(drawing, now, set(ids), budget, few=True) is not None

    everything = [i.id for i in drawing.items]
    # of all sets that fight, one with the fewest sizes: ties are offered first
    valued = {i.id for i in drawing.items if i.kind in VALUED and i.kind != "fixed"}
    candidates = everything if len(everything) <= FEW else _pulling(drawing)
    try:
        if holds(candidates):
            candidates = everything
            if len(everything) <= FEW or holds(everything):
                return [], True
        found = set(_explain(holds, [], sorted(candidates, key=lambda c: c in valued), False))
        return [i.id for i in drawing.items if i.id in found], True
    except _SpentError:
        return (candidates if len(candidates) < len(everything) else _pulling(drawing)), False


def _pulling(drawing: Drawing) -> list[str]:
    """Items that still pull where a least-squares compromise of all of them stands, in their order."""
    system = System(drawing, reduce=False)
    y = system.y0.copy()
    damping = 1e-6
    left, jacobian = system.evaluate(y)
    # a least-squares step costs some ten times the cube of its unknowns
    rounds = int(min(40, max(4, 0.3 * SEARCH_WORK / max(1.0, 10.0 * system.n**3))))
    for _ in range(rounds):
        gram = jacobian.T @ jacobian
        gram[np.diag_indices_from(gram)] += damping * max(float(np.trace(gram)) / max(len(gram), 1), 1e-300)
        step = -np.linalg.lstsq(gram, jacobian.T @ left, rcond=1e-13)[0]
        trial_left, trial_jacobian = system.evaluate(y + step)
        if np.linalg.norm(trial_left) < np.linalg.norm(left) * (1 - 1e-9):
            y, left, jacobian, damping = y + step, trial_left, trial_jacobian, max(damping / 5, 1e-10)
        else:
            damping *= 20
            if damping > 1e6:
                break
    worst = float(np.max(np.abs(left), initial=0.0))
    pulling = {o for o, r in zip(system.owners, left, strict=True) if abs(r) > 1e-3 * worst}
    return [i.id for i in drawing.items if i.id in pulling]


def _explain(
    holds: Callable[[Sequence[str]], bool], background: list[str], items: list[str], changed: bool
) -> list[str]:
    if changed and not holds(background):
        return []
    if len(items) == 1:
        return items
    half = len(items) // 2
    first, second = items[:half], items[half:]
    found_second = _explain(holds, [*background, *first], second, bool(first))
    found_first = _explain(holds, [*background, *found_second], first, bool(found_second))
    return [*found_first, *found_second]
