"""Toleranced dimensions and their limit states: each part varies alone, and what is built on it follows its nominal size.

For each part the recipe is evaluated once with the limited figures in those steps that shape this part, and with the
nominal figures in all others; the part's solid is taken from there. So a lid that is built on a box's rim follows the box's
nominal size, never its error.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal

from ..document import Project, Step
from ..document.compiled import compiled, compiled_step
from ..errors import CommandError, FormulaError
from ..quantities import ANGLE, LENGTH, STATES, Limited, Quantity, State, evaluate_table, limited, names_in, parse
from .evaluate import Evaluation, ResultCache, evaluate, figures_of
from .outputs import PartState
from .registry import kind_of

__all__ = ["Dimension", "LimitStates", "Limiter", "PartLimit", "dimensions", "evaluate_at", "uses_of_values"]

PartLimit = Literal["lower", "nominal", "mid", "upper", "least", "most"]


@dataclass(frozen=True)
class Dimension:
    """A toleranced figure: a value (``v3``) or a figure of a step (``s5:distance``), and the parts whose shape it enters."""

    id: str
    name: str
    text: str
    limits: Limited | None
    kind: Literal["length", "angle", "number"]
    parts: tuple[str, ...]
    error: str = ""


@dataclass(frozen=True)
class LimitStates:
    """Which end of the tolerances is taken: a dimension's own state goes before its part's, and that before the overall one.

    A part may also be taken at its least or most material. ``own`` has states of dimensions in one part only, which go before all others: the
    worst cases of a joint need them.
    """

    overall: State = "nominal"
    parts: Mapping[str, PartLimit] = field(default_factory=dict)
    dimensions: Mapping[str, State] = field(default_factory=dict)
    own: Mapping[str, Mapping[str, State]] = field(default_factory=dict)

    @property
    def nominal(self) -> bool:
        return self.overall == "nominal" and all(
            s == "nominal"
            for s in (
                *self.parts.values(),
                *self.dimensions.values(),
                *(s for o in self.own.values() for s in o.values()),
            )
        )

    def as_dict(self) -> dict[str, Any]:
        return {
            "overall": self.overall,
            "parts": dict(self.parts),
            "dimensions": dict(self.dimensions),
            "own": {p: dict(o) for p, o in self.own.items()},
        }

    @staticmethod
    def read(data: Any) -> LimitStates:
        """From plain data. Raises CommandError for a state that does not exist."""
        data = data if isinstance(data, dict) else {}
        overall, parts, dims = data.get("overall", "nominal"), data.get("parts") or {}, data.get("dimensions") or {}
        own = data.get("own") or {}
        if not all(isinstance(d, dict) for d in (parts, dims, own)) or not all(
            isinstance(o, dict) for o in own.values()
        ):
            raise CommandError("Limit states go by part and by dimension.")
        for state, known in (
            [(overall, STATES)] + [(s, (*STATES, "least", "most")) for s in parts.values()] + [(s, STATES) for s in dims.values()]
            + [(s, STATES) for o in own.values() for s in o.values()]
        ):  # fmt: skip
            if state not in known:
                raise CommandError(f"There is no limit state “{state}”; there are {', '.join(known)}.")
        return LimitStates(overall, parts, dims, own)


def _quantity_kind(quantity: Quantity) -> Literal["length", "angle", "number"]:
    return "length" if quantity.dimension == LENGTH else "angle" if quantity.dimension == ANGLE else "number"


def _shapes(project: Project, evaluation: Evaluation) -> dict[str, set[str]]:
    """For each step the parts that it shapes: those it makes or changes, and those of the steps that build on it."""
    out = {s.id: set(evaluation.made[s.id].parts) if s.id in evaluation.made else set() for s in project.recipe}
    for step in reversed(list(compiled(project))):
        for used in step.uses & out.keys():
            # a step that only names another's plane or outline passes its parts on to it, its own solids excepted
            out[used] |= out[step.id] if not _makes_solids(evaluation, used) else set()
    return out


def _makes_solids(evaluation: Evaluation, step: str) -> bool:
    made = evaluation.made.get(step)
    return made is not None and bool(made.parts)


def dimensions(project: Project, evaluation: Evaluation) -> list[Dimension]:
    """All toleranced dimensions of a project, in the order of values and recipe."""
    shapes, uses = _shapes(project, evaluation), uses_of_values(project)
    out = []
    for value in project.values:
        if not value.tolerance:
            continue
        using = uses[value.name]
        parts = tuple(p.id for p in project.parts if any(p.id in shapes[s] for s in using))
        quantity = evaluation.values[value.name].quantity
        out.append(_dimension(project, value.id, value.name, value.tolerance, quantity, parts))
    known = {n: r.quantity for n, r in evaluation.values.items() if r.quantity is not None}
    for number, step in enumerate(project.recipe, 1):
        parts = tuple(p.id for p in project.parts if p.id in shapes[step.id])
        for path, text in step.tolerances.items():
            quantity = _figure(step, path, known)
            name = f"{step.name or f'step {number}'}: {_label(step, path)}"
            out.append(_dimension(project, f"{step.id}:{path}", name, text, quantity, parts))
    return out


def _label(step: Step, path: str) -> str:
    """What a figure of a step is called: its chip's label, or the size on the board (``sketch.dimensions.d1.formula``)."""
    if path.startswith("sketch."):
        return "size " + path.removesuffix(".formula").rsplit(".", 1)[-1]
    spec = kind_of(step).spec(path)
    return spec.label if spec is not None else path


def _figure(step: Step, path: str, known: Mapping[str, Quantity]) -> Quantity | None:
    kind = kind_of(step)
    read = compiled_step(step)
    mark = next((m for p, m, _ in read.formulas if p == path), None)
    if mark is None:
        return None
    dimension = (
        mark.dimension
        if mark.dimension is not None
        else kind.dimension_of(read.fields, path)
        if kind.dimension_of
        else LENGTH
    )
    try:
        return Quantity(figures_of(read, kind, known)[path], dimension)
    except (KeyError, FormulaError):
        return None


def _dimension(
    project: Project, id: str, name: str, text: str, quantity: Quantity | None, parts: tuple[str, ...]
) -> Dimension:
    if quantity is None:
        return Dimension(id, name, text, None, "length", parts, "It has no figure at present.")
    try:
        return Dimension(id, name, text, limited(text, quantity, project.unit), _quantity_kind(quantity), parts)
    except FormulaError as error:
        return Dimension(id, name, text, None, _quantity_kind(quantity), parts, error.message)


def uses_of_values(project: Project) -> dict[str, list[str]]:
    """For each value's name the ids of the steps whose figures rest on it, through other values too, in the recipe's order."""
    direct = {v.name: _names(v.formula) for v in project.values}
    behind: dict[str, set[str]] = {}
    for name in direct:
        found, more = {name}, {name}
        while more:
            more = {n for m in more for n in direct.get(m, ())} - found
            found |= more
        behind[name] = found
    out: dict[str, list[str]] = {name: [] for name in direct}
    for step in compiled(project):
        for name in {n for value in step.values for n in behind.get(value, ())} & out.keys():
            out[name].append(step.id)
    return out


def _names(formula: str) -> set[str]:
    try:
        return names_in(parse(formula)) if formula.strip() else set()
    except FormulaError:
        return set()


class _Alone:
    """The variant in which one part's own steps have limited figures."""

    def __init__(
        self, project: Project, steps: set[str], states: Mapping[str, State], found: Sequence[Dimension]
    ) -> None:
        self._steps = steps
        moved = {d.id: d.limits.deviation(states[d.id]) for d in found if d.limits is not None and d.id in states}
        table = evaluate_table([(v.name, v.formula) for v in project.values])
        fixed = {}
        for value in project.values:
            quantity = table[value.name].quantity
            if abs(moved.get(value.id, 0.0)) > 1e-12 and quantity is not None:
                fixed[value.name] = replace(quantity, value=quantity.value + moved[value.id])
        limited_table = evaluate_table([(v.name, v.formula) for v in project.values], fixed) if fixed else table
        self._known = {n: r.quantity for n, r in limited_table.items() if r.quantity is not None} if fixed else None
        self._moved = moved
        self.moves = any(abs(m) > 1e-12 for m in moved.values())

    def known(self, step: Step) -> Mapping[str, Quantity] | None:
        return self._known if step.id in self._steps else None

    def shifts(self, step: Step) -> Mapping[str, float]:
        if step.id not in self._steps:
            return {}
        return {
            path: self._moved[f"{step.id}:{path}"] for path in step.tolerances if f"{step.id}:{path}" in self._moved
        }


class Limiter:
    """Evaluates parts of one project at limits; keeps what all of that shares."""

    def __init__(self, project: Project, cache: ResultCache, nominal: Evaluation, **options: Any) -> None:
        self.project, self.cache, self.nominal, self.options = project, cache, nominal, options
        self.found = dimensions(project, nominal)
        self._shapes = _shapes(project, nominal)

    def of_part(self, part: str) -> list[Dimension]:
        return [d for d in self.found if part in d.parts and d.limits is not None]

    def part_at(self, part: str, states: Mapping[str, State]) -> tuple[PartState | None, Evaluation]:
        """One part with its own dimensions in given states; ``None`` when it cannot be made so."""
        steps = {s for s, parts in self._shapes.items() if part in parts}
        variant = _Alone(self.project, steps, states, self.of_part(part))
        if not variant.moves:
            return self.nominal.parts.get(part), self.nominal
        evaluation = evaluate(self.project, self.cache, variant=variant, **self.options)
        failed = next(
            (r for r, n in zip(evaluation.steps, self.nominal.steps, strict=True) if r.state in ("failed", "asks") and n.state == "ok" and r.id in steps),
            None,
        )  # fmt: skip
        return (None if failed else evaluation.parts.get(part)), evaluation

    def material(self, part: str, most: bool) -> dict[str, State]:
        """For each of a part's dimensions the limit that gives it the most (or the least) material."""
        out: dict[str, State] = {}
        for dimension in self.of_part(part):
            volumes: dict[State, float] = {}
            for state in ("lower", "upper"):
                made, _ = self.part_at(part, {dimension.id: state})
                if made is not None:
                    volumes[state] = made.info.volume_mm3
            if volumes:
                pick: Callable[..., State] = max if most else min
                out[dimension.id] = pick(volumes, key=lambda s: volumes[s])
        return out

    def states_of(self, part: str, states: LimitStates) -> dict[str, State]:
        of_part = states.parts.get(part, states.overall)
        out: dict[str, State]
        if of_part == "least" or of_part == "most":
            out = self.material(part, of_part == "most")
        else:
            out = {d.id: of_part for d in self.of_part(part)}
        for more in (states.dimensions, states.own.get(part, {})):
            out.update({d.id: more[d.id] for d in self.of_part(part) if d.id in more})
        return out


def evaluate_at(
    project: Project, cache: ResultCache, states: LimitStates, **options: Any
) -> tuple[Evaluation, list[Dimension]]:
    """The model with its toleranced dimensions in given limit states, and those dimensions.

    A part that cannot be made there stays at its nominal size, and its step says so.
    """
    quick = bool(options.pop("quick", False))
    nominal = evaluate(project, cache, quick=quick, **options)
    limiter = Limiter(project, cache, nominal, **options)
    unknown = ({*states.dimensions, *(d for o in states.own.values() for d in o)} - {d.id for d in limiter.found}) | (
        {*states.parts, *states.own} - {p.id for p in project.parts}
    )
    if unknown:
        raise CommandError(f"There is no toleranced dimension or part “{min(unknown)}” to take to a limit.")
    if states.nominal or not limiter.found:
        return nominal, limiter.found
    parts, reports = dict(nominal.parts), {r.id: r for r in nominal.steps}
    for part in nominal.parts:
        made, evaluation = limiter.part_at(part, limiter.states_of(part, states))
        if made is not None:
            parts[part] = made
            continue
        name = next(p.name for p in project.parts if p.id == part)
        for report in evaluation.steps:
            if report.state in ("failed", "asks") and reports[report.id].state == "ok":
                message = f"At this limit {name} cannot be made and is shown as nominal: {report.message}"
                reports[report.id] = replace(reports[report.id], state="failed", message=message, field=report.field)
                break
    return replace(nominal, parts=parts, steps=[reports[r.id] for r in nominal.steps], at_limits=True), limiter.found
