"""Make it hold: for a joint that fails too often, each single figure that would bring its chance to what is asked, or why none does.

Figures of the joint's own sentence, and the values that stand in it, are tried one by one: a little up and down first, then farther in the better direction, and halved
back to the nearest that does. Each is tried as it would be in truth: the model made with it, its gap measured, its chance worked out. Nothing is changed.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ..document import Project, apply, command_from
from ..document.compiled import compiled_step
from ..errors import CommandError, DoveError
from ..quantities import ANGLE, LENGTH, Quantity, evaluate_table, names_in, parse, show
from ..recipe import ResultCache, evaluate, kind_of
from ..recipe.evaluate import figures_of
from .assess import GapCache, assess, assess_by_formula
from .family import family_of, is_joint

__all__ = ["Held", "Offer", "make_it_hold"]

#: what the wish itself is: a joint does not hold better because less is asked of it
_WISHES = {"least", "target", "most", "drawn"}
#: how far a figure is taken, step by step, as a share of itself
_FARTHER = (1.12, 1.3, 1.55, 1.9, 2.4, 3.0)
_HALVINGS = 4
#: less than this is no change of a chance
_FELT = 0.003


@dataclass(frozen=True)
class Offer:
    """One figure that would do: what it is called, from what to what, the chance then, and the command that makes it so."""

    says: str
    before: str
    after: str
    chance: float
    command: dict[str, Any]

    def as_dict(self) -> dict[str, Any]:
        return {
            "says": self.says, "before": self.before, "after": self.after, "chance": self.chance, "command": self.command,
        }  # fmt: skip


@dataclass(frozen=True)
class Held:
    """``now`` is the chance as it is; ``offers`` the figures that do, the least change first; ``message`` why there is none."""

    now: float
    offers: tuple[Offer, ...]
    message: str = ""


@dataclass(frozen=True)
class _Candidate:
    says: str
    figure: float
    dimension: Any
    command: Callable[[str], dict[str, Any]]

    def written(self, figure: float, unit: str = "mm") -> str:
        return show(Quantity(figure, self.dimension), unit, 6)

    def rounded(self, figure: float) -> float:
        """To a figure that a person would type, farther from what it was."""
        grain = math.radians(1.0) if self.dimension == ANGLE else 0.05 if abs(figure) >= 1 else 0.01
        steps = figure / grain
        return grain * (math.ceil(steps - 1e-9) if figure > self.figure else math.floor(steps + 1e-9))


def make_it_hold(
    project: Project, joint: str, chance: float, cache: ResultCache, gaps: GapCache, stop: Callable[[], bool] = lambda: False
) -> Held:  # fmt: skip
    """The figures that bring a joint's chance to at least this.

    Raises
    ------
    CommandError : there is no such joint, or it could not be made as it is.
    """
    step = project.step(joint)
    if step is None or not is_joint(step) or step.off:
        raise CommandError("That joint is not there any more.")

    def truly(tried: Project) -> float | None:
        evaluation = evaluate(tried, cache, stop=stop)
        if any(r.state in ("failed", "asks") for r in evaluation.steps):
            return None
        found = next((r for r in assess(tried, evaluation, gaps, stop, only={joint})), None)
        return found.chance.fits if found is not None and found.chance is not None else None

    def quickly(tried: Project) -> float | None:
        found = next((r for r in assess_by_formula(tried) if r.step == joint), None)
        return found.chance.fits if found is not None and found.chance is not None else None

    now = truly(project)
    if now is None:
        raise CommandError("The joint, or another step, could not be made as it is; mend that first.")
    if now >= chance:
        return Held(now, (), f"It holds in {round(100 * now)} of 100 as it is.")

    def at(candidate: _Candidate, figure: float, how: Callable[[Project], float | None]) -> float | None:
        try:
            return how(apply(project, command_from(candidate.command(candidate.written(figure)))).project)
        except DoveError:
            return None

    offers, best = [], (now, "")
    quick = quickly if family_of(step).facts is None else truly
    begins = now if quick is truly else quickly(project) or now
    for candidate in _candidates(project, joint):
        figure = _search(lambda x, c=candidate: at(c, x, quick), candidate.figure, begins, chance)  # type: ignore[misc]
        if figure is None:
            continue
        share, figure = _verified(lambda x, c=candidate: at(c, x, truly), candidate, figure, chance)  # type: ignore[misc]
        after = candidate.written(figure, project.unit)
        if share is not None and share > best[0]:
            best = (share, f"{candidate.says} {after}")
        if share is not None and share >= chance:
            before = candidate.written(candidate.figure, project.unit)
            offers.append((abs(math.log(figure / candidate.figure)), Offer(candidate.says, before, after, share, candidate.command(candidate.written(figure)))))  # fmt: skip
    if offers:
        return Held(now, tuple(o for _, o in sorted(offers, key=lambda o: o[0])))
    near = f" The nearest is {best[1]}, with {round(100 * best[0])}." if best[1] else ""
    return Held(now, (), f"No single figure of it brings it to {round(100 * chance)} of 100; as it is it holds in {round(100 * now)}.{near} Measure the printer, or take another fit or kind of joint.")  # fmt: skip


def _candidates(project: Project, joint: str) -> list[_Candidate]:
    """The plain figures of the joint's sentence, and the plain values that its formulas come from."""
    step = project.step(joint)
    assert step is not None
    compiled, kind = compiled_step(step), kind_of(step)
    table = evaluate_table([(v.name, v.formula) for v in project.values])
    known = {n: r.quantity for n, r in table.items() if r.quantity is not None}
    figures = figures_of(compiled, kind, known)
    labels = {spec.name: spec.label for spec in kind.specs}
    out: list[_Candidate] = []
    for path, mark, text in compiled.formulas:
        if path not in figures or path in _WISHES or mark.dimension not in (LENGTH, ANGLE) or figures[path] <= 0:
            continue
        if not names_in(parse(text)):
            out.append(_Candidate(labels.get(path, path), figures[path], mark.dimension, lambda t, p=path: {"do": "EditStep", "step": joint, "fields": {p: t}}))  # type: ignore[misc]  # fmt: skip
    by_name = {v.name: v for v in project.values}
    asked, seen = list(compiled.values), set[str]()
    while asked:
        name = asked.pop()
        value = by_name.get(name)
        if value is None or name in seen or name not in known:
            continue
        seen.add(name)
        below = names_in(parse(value.formula))
        if below:
            asked += below
        elif known[name].dimension in (LENGTH, ANGLE) and known[name].value > 0:
            out.append(_Candidate(f"the value {name}", known[name].value, known[name].dimension, lambda t, v=value.id: {"do": "SetValue", "value": v, "formula": t}))  # type: ignore[misc]  # fmt: skip
    return out


def _search(f: Callable[[float], float | None], begin: float, now: float, chance: float) -> float | None:
    """The figure nearest to where it begins that brings the chance there, or else the best one on the way; ``None`` where it changes nothing."""
    sides = [(f(begin * k), k) for k in (1.05, 1 / 1.05)]
    gains = [(found - now, k) for found, k in sides if found is not None]
    gain, k = max(gains, default=(0.0, 1.0))
    if gain < _FELT:
        # where all fails a little changes nothing; far away it may
        sides = [(f(begin * far), far) for far in (1.6, 1 / 1.6)]
        gain, k = max(((found - now, far) for found, far in sides if found is not None), default=(0.0, 1.0))
        if gain < _FELT:
            return None
    last, best = begin, (now, begin)
    for factor in _FARTHER:
        x = begin * (factor if k > 1 else 1 / factor)
        found = f(x)
        if found is None:
            break
        if found >= chance:
            good = x
            for _ in range(_HALVINGS):
                middle = (last + good) / 2
                share = f(middle)
                last, good = (last, middle) if share is not None and share >= chance else (middle, good)
            return good
        if found < best[0] - 0.05:
            break
        best = max(best, (found, x))
        last = x
    return best[1] if best[1] != begin else None


def _verified(
    f: Callable[[float], float | None], candidate: _Candidate, figure: float, chance: float
) -> tuple[float | None, float]:
    """The chance with a rounded figure, made in truth; a little farther where what was reckoned quickly was too hopeful."""
    share: float | None = None
    for farther in (1.0, 1.04, 1.1):
        ratio = figure / candidate.figure
        tried = candidate.rounded(candidate.figure * (ratio * farther if ratio > 1 else ratio / farther))
        if tried <= 0:
            break
        found = f(tried)
        if found is None:
            break
        share, best = found, tried
        if share >= chance:
            return share, best
    return (None, figure) if share is None else (share, best)
