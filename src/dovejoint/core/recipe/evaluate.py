"""Evaluation: from the document to solids, reusing whatever did not change.

Each step has a key: a hash of its kind, its fields with all formulas worked out, the keys of the parts and steps
that it uses, and the kernel's version. The same key gives the same result, so an edit costs what depends on
it and nothing else, and undo costs nothing. A step that fails leaves its input standing.
"""

from __future__ import annotations

import hashlib
import json
import logging
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from dataclasses import field as with_default
from functools import partial
from typing import Protocol, TypeVar

from .. import solid as kernel
from ..document import Project, Step, StepFields
from ..document.compiled import CompiledStep, compiled
from ..errors import DoveError, FormulaError, PickError
from ..quantities import LENGTH, Quantity, ValueResult, evaluate_table
from ..quantities import evaluate as compute
from ..quantities.markers import PartMark, StepMark
from .at_once import Apart, Later, Run, runs_of
from .called import sizes_now
from .context import StepContext
from .outputs import PartState, StepOutput
from .registry import StepKind, asked, chips, kind_of

_log = logging.getLogger(__name__)
_Made = TypeVar("_Made")

__all__ = [
    "Evaluation",
    "ResultCache",
    "StepReport",
    "Superseded",
    "context_at",
    "evaluate",
    "figures_of",
    "showable",
    "vouched",
]


#: so many keys of steps that are made one by one are remembered
MOST_ALONE = 10_000
#: the longest figure of a step: beyond it the kernel and its meshes only burn time, mm
LONGEST_MM = 10_000.0
#: lengths below this are none: points that near are one for the kernel, and no chamfer, step or gap of that size can be made or printed
SHORTEST_MM = 1e-5


UNSEEN = "What this step makes could not be shown or printed (a face of it cannot be turned into triangles); change its figures a little."


class Variant(Protocol):
    """Figures that differ from the nominal ones, step by step (see limits.py)."""

    def known(self, step: Step) -> Mapping[str, Quantity] | None:
        """The values as a step has them; ``None`` for the nominal ones."""

    def shifts(self, step: Step) -> Mapping[str, float]:
        """Deviations of a step's own figures, by path."""


class Superseded(Exception):
    """A newer edit has come; this evaluation is of no use any more."""


#: what a face and a curve of a kept result weigh, and a face that another kept result has too (most faces of a part pass through a step
#: as they are), bytes: found by counting a worker's memory over many results
FACE_BYTES, SHARED_BYTES, CURVE_BYTES, LEAST_BYTES = 9000, 1600, 3000, 2000


def _faces(result: StepOutput | DoveError) -> list[int]:
    """The faces of a kept result, tools included, by what is the same wherever a face is."""
    if isinstance(result, DoveError):
        return []
    solids = {id(s): s for s in (*result.parts.values(), *(tool for work in result.works for tool in work.tools))}
    return [hash(face) for solid in solids.values() for face in solid.faces]


def _besides(result: StepOutput | DoveError) -> int:
    """About how many bytes of a kept result are no faces."""
    if isinstance(result, DoveError) or result.sketch is None:
        return LEAST_BYTES
    return LEAST_BYTES + CURVE_BYTES * (len(result.sketch.curves) + len(result.sketch.regions))


class ResultCache:
    """Results by key. The least recently used go first when all together take more than ``most_bytes``.

    Some results were shown before they were vouched for: their checks were put off and are kept with them.
    """

    def __init__(self, most_bytes: int = 120_000_000) -> None:
        self.most_bytes = most_bytes
        self.results: OrderedDict[str, StepOutput | DoveError] = OrderedDict()
        self.parts: dict[str, PartState] = {}
        self.tests: dict[str, list[kernel.Test]] = {}
        self.bytes = 0
        self.computed = 0
        #: how many kept results have a face
        self._faces: dict[int, int] = {}
        #: keys of steps that were found not to be made at once with their sisters
        self.alone: set[str] = set()

    def get(self, key: str) -> StepOutput | DoveError | None:
        if key in self.results:
            self.results.move_to_end(key)
            return self.results[key]
        return None

    def put(
        self, key: str, result: StepOutput | DoveError, tests: Sequence[kernel.Test] = (), new: bool = True
    ) -> None:
        """Keep a result; ``new`` where it counts as computed by itself."""
        self.drop(key)
        self.results[key] = result
        self.bytes += _besides(result)
        for face in _faces(result):
            known = self._faces.get(face, 0)
            self._faces[face] = known + 1
            self.bytes += SHARED_BYTES if known else FACE_BYTES
        if tests:
            self.tests[key] = list(tests)
        self.computed += new
        while self.bytes > self.most_bytes and len(self.results) > 1:
            self.drop(next(iter(self.results)))

    def drop(self, key: str) -> None:
        result = self.results.pop(key, None)
        self.tests.pop(key, None)
        if result is None:
            return
        self.bytes -= _besides(result)
        for face in _faces(result):
            left = self._faces[face] - 1
            if left:
                self._faces[face] = left
            else:
                del self._faces[face]
            self.bytes -= SHARED_BYTES if left else FACE_BYTES
        if isinstance(result, StepOutput):
            for part in result.parts:
                self.parts.pop(f"{key}:{part}", None)

    def sure(self, key: str) -> bool:
        """Make the checks of a result that were put off, if any. One that does not pass is forgotten."""
        for test in self.tests.pop(key, ()):
            try:
                wrong = test()
            except Exception as error:
                if not kernel.raised_by_kernel(error):
                    raise
                wrong = str(error)
            if wrong is not None:
                self.drop(key)
                return False
        return True

    def part(self, key: str, make: Callable[[], PartState]) -> PartState:
        """One state object for each part key, so that its descriptions are made once."""
        if key not in self.parts:
            self.parts[key] = make()
        return self.parts[key]


@dataclass(frozen=True)
class StepReport:
    """How one step fared: ``state`` is ok, failed, asks (a pick is lost), off or beyond (after the step looked at)."""

    id: str
    state: str
    key: str = ""
    message: str = ""
    field: str = ""
    figures: dict[str, float] = with_default(default_factory=dict)
    #: ids on the board that the message speaks of
    things: tuple[str, ...] = ()
    #: what things that it picks are called now, by their names, where that has changed
    called: dict[str, str] = with_default(default_factory=dict)


@dataclass(frozen=True, eq=False)
class Evaluation:
    """The model that a document describes, as far as it could be made; ``at_limits`` when parts are not at nominal size."""

    values: dict[str, ValueResult]
    steps: list[StepReport]
    parts: dict[str, PartState]
    made: dict[str, StepOutput]
    figures: dict[str, dict[str, float]]
    at_limits: bool = False
    #: the keys of all kept results that it was made from
    rests_on: tuple[str, ...] = ()

    @property
    def gone(self) -> dict[str, str]:
        """Parts of which nothing is left, with the step that used them up."""
        return {part: id for id, out in self.made.items() for part in out.gone if part not in self.parts}


def within_reach(formula: str, figure_mm: float) -> None:
    """Raises FormulaError for a length that is longer than anything here can be."""
    if abs(figure_mm) > LONGEST_MM:
        raise FormulaError(
            f"“{formula.strip()}” is longer than anything here can be; {LONGEST_MM / 1000:g} m is the most."
        )


def figures_of(
    step: CompiledStep, kind: StepKind, known: Mapping[str, Quantity], shifts: Mapping[str, float] | None = None
) -> dict[str, float]:
    """All formulas of a step's fields worked out, by path. Empty formulas are left out.

    ``shifts`` are deviations of some of them from their nominal figures (mm, rad), as limit states have them.

    Raises
    ------
    FormulaError : with ``field`` set to the field concerned.
    StepError : what is called by its name is not known.
    """
    # with the same values it is the same: most steps of an edit are not concerned
    basis = tuple(known.get(name) for name in sorted(step.values)) if not shifts else None
    memo = step.memo.get("figures")
    if basis is not None and memo is not None and memo[0] == basis:
        return dict(memo[1])
    out = {}
    silent = _silent(step, kind)
    for path, mark, text in step.formulas:
        if path in silent or not text.strip():
            continue
        dimension = mark.dimension
        if dimension is None and kind.dimension_of is not None:
            dimension = kind.dimension_of(step.fields, path)
        try:
            out[path] = compute(text, known, dimension).value + (shifts or {}).get(path, 0.0)
            if dimension == LENGTH:
                within_reach(text, out[path])
                if abs(out[path]) < SHORTEST_MM:
                    out[path] = 0.0
        except FormulaError as error:
            # what stands on the board is the board's; everything else is a chip by its own path
            raise FormulaError(error.message, field="sketch" if path.startswith("sketch.") else path) from None
    if kind.given is not None:
        out.update(kind.given(step.fields))
    if basis is not None:
        step.memo["figures"] = (basis, dict(out))
    return out


def _silent(step: CompiledStep, kind: StepKind) -> set[str]:
    """The fields that the sentence does not ask for with the present answers."""
    found: set[str] | None = step.memo.get("silent")
    if found is None:
        found = step.memo["silent"] = chips(kind) - asked(kind, step.fields)
    return found


def _key(step: CompiledStep, figures: dict[str, float], inputs: list[str], version: str) -> str:
    """The formulas' texts do not count, their figures do; so writing 3 mm as wall + 1 mm costs nothing."""
    text = json.dumps([step.id, figures, inputs, version], sort_keys=True, separators=(",", ":"))
    return hashlib.sha256(f"{step.bare}{text}".encode()).hexdigest()[:32]


def evaluate(
    project: Project,
    cache: ResultCache,
    *,
    upto: str | None = None,
    stop: Callable[[], bool] = lambda: False,
    started: Callable[[str, str], None] = lambda step, key: None,
    barred: Mapping[str, str] | None = None,
    kernel_version: str | None = None,
    variant: Variant | None = None,
    quick: bool = False,
) -> Evaluation:
    """Evaluate a document.

    Parameters
    ----------
    cache : results so far; used and added to.
    upto : id of the last step to take, to look at the model as it stood then.
    stop : asked before each step; when true the evaluation ends with :class:`Superseded`.
    started : told the id and key of each step that must be computed, before it is.
    barred : keys of steps that must not be computed (they killed a worker), with the message to show.
    variant : figures other than the nominal ones.
    quick : put the checks of results off; :func:`vouched` makes them.
    """
    options = (upto, stop, started, barred or {}, kernel_version or kernel.KERNEL_VERSION, variant, quick)
    while True:
        try:
            return _evaluated(project, cache, *options)
        except Apart as apart:
            if len(cache.alone) > MOST_ALONE:
                cache.alone.clear()
            cache.alone.update(apart.keys)


def _evaluated(
    project: Project,
    cache: ResultCache,
    upto: str | None,
    stop: Callable[[], bool],
    started: Callable[[str, str], None],
    barred: Mapping[str, str],
    version: str,
    variant: Variant | None,
    quick: bool,
) -> Evaluation:
    """One attempt of :func:`evaluate`. Raises Apart where sisters must be made one by one."""
    table = evaluate_table([(v.name, v.formula) for v in project.values])
    known = {name: r.quantity for name, r in table.items() if r.quantity is not None}
    parts: dict[str, PartState] = {}
    made: dict[str, StepOutput] = {}
    keys: dict[str, str] = {}
    reports: list[StepReport] = []
    all_figures: dict[str, dict[str, float]] = {}
    titles = {s.id: f"step {i + 1}" for i, s in enumerate(project.recipe)}
    names = {p.id: p.name for p in project.parts}
    beyond = False
    recipe = compiled(project)
    rows: dict[str, int] | None = None
    runs: dict[str, Run] = {}
    rests_on: list[str] = []

    def at_once(run: Run, count: int, part: str, step: str, key: str, output: StepOutput) -> kernel.NamedSolid:
        """The part after some sisters, made and kept."""
        if stop():
            raise Superseded
        solid, tests = _checked_later(quick, lambda: run.solid(count, barred, lambda mark: started(step, mark)))
        cache.put(key, replace(output, parts={part: solid}), tests, new=False)
        return solid

    for read in recipe:
        step = read.step
        if beyond or step.off:
            reports.append(StepReport(step.id, "beyond" if beyond else "off"))
            beyond = beyond or step.id == upto
            continue
        beyond = step.id == upto
        kind = kind_of(step)
        key = ""
        figures: dict[str, float] = {}
        try:
            other = variant.known(step) if variant is not None else None
            figures = figures_of(
                read, kind, known if other is None else other, variant.shifts(step) if variant else None
            )
            context = StepContext(step, read.fields, figures, parts, made, titles, names, project.files)
            if kind.prepare is not None:
                figures.update(kind.prepare(project, step, figures, context))
            inputs = _inputs(read, kind, parts, keys, titles, names)
            key = _key(read, figures, inputs, version)
            rests_on.append(key)
            if key in barred:
                raise DoveError(barred[key])
            result = cache.get(key)
            if result is not None and not quick and not cache.sure(key):
                result = None
            if result is None and kind.sister is not None and key not in cache.alone:
                rows = runs_of(recipe) if rows is None else rows
                # without its part it says so itself, whatever was made for it before
                context.at_once = step.id in rows and all(part in parts for part in read.changes)
            if result is None:
                kept = key
                if context.at_once:
                    # it does not look at the part that it changes, so that may have changed
                    others = [i for i in inputs if i.partition("=")[0] not in read.changing]
                    kept = f"{_key(read, figures, others, version)} works"
                    result = cache.get(kept)
                    rests_on.append(kept)
                if result is not None and not quick and not cache.sure(kept):
                    result = None
                if result is None:
                    result = _computed(kind, context, kept, cache, stop, started, quick)
            if isinstance(result, DoveError):
                raise result
            if context.at_once:
                part = result.works[0].part
                run = runs.get(part)
                if run is None or run.row != rows[step.id]:  # type: ignore[index]
                    run = runs[part] = Run(rows[step.id], parts[part])  # type: ignore[index]
                run.keys.append(key)
                run.works.append(result.works[0])
                make = partial(at_once, run, len(run.keys), part, step.id, key, result)
                parts[part] = PartState(f"{key}:{part}", make, run.base, run.seen.add)
                made[step.id] = replace(result, parts=Later(part, parts[part]))
                keys[step.id] = key
                reports.append(StepReport(step.id, "ok", key, "", "", figures))
                all_figures[step.id] = figures
                continue
        except DoveError as error:
            state = "asks" if isinstance(error, PickError) else "failed"
            reports.append(
                StepReport(step.id, state, key, error.message, error.field or "", figures, tuple(error.things))
            )
            all_figures[step.id] = figures
            continue
        made[step.id] = result
        keys[step.id] = key
        for part, solid in result.parts.items():
            parts[part] = cache.part(f"{key}:{part}", lambda k=key, p=part, s=solid: PartState(f"{k}:{p}", s))  # type: ignore[misc]
            runs.pop(part, None)
        for part in result.gone:
            parts.pop(part, None)
            runs.pop(part, None)
        reports.append(StepReport(step.id, "ok", key, result.note, "", figures, called=result.called))
        all_figures[step.id] = figures
    for part in runs:
        waiting = parts[part]
        parts[part] = cache.part(waiting.key, partial(PartState, waiting.key, waiting.solid))
    return Evaluation(table, reports, parts, made, all_figures, rests_on=tuple(rests_on))


def _checked_later(quick: bool, work: Callable[[], _Made]) -> tuple[_Made, list[kernel.Test]]:
    """What some work makes, and the checks of it that are put off: none unless it is to be quick."""
    if not quick:
        return work(), []
    with kernel.deferring() as tests:
        return work(), tests


def _computed(
    kind: StepKind,
    context: StepContext,
    key: str,
    cache: ResultCache,
    stop: Callable[[], bool],
    started: Callable[[str, str], None],
    quick: bool,
) -> StepOutput | DoveError:
    """A step's result, made now and kept under a key."""
    if stop():
        raise Superseded
    started(context.id, key.removesuffix(" works"))
    result, tests = _checked_later(quick, lambda: _run(kind, context))
    if quick and isinstance(result, DoveError):
        # an error is worked out with all checks in place, so that it says what would work
        result, tests = _run(kind, context), []
    cache.put(key, result, tests)
    return result


def vouched(evaluation: Evaluation, cache: ResultCache, stop: Callable[[], bool] = lambda: False) -> bool:
    """Make the checks that a quick evaluation put off. When one does not pass, the document must be evaluated anew, not quickly."""
    for key in evaluation.rests_on:
        if key in cache.tests:
            if stop():
                raise Superseded
            if not cache.sure(key):
                return False
    return True


def showable(evaluation: Evaluation, cache: ResultCache) -> bool:
    """Whether all parts can be turned into triangles. Where one cannot, the step that left it so is kept as failed, and the document
    must be evaluated anew: a part that nobody can see or print is no result."""
    well = True
    for state in evaluation.parts.values():
        try:
            _ = state.mesh
        except DoveError:
            cache.put(state.key.rpartition(":")[0], DoveError(UNSEEN))
            well = False
    return well


def context_at(project: Project, evaluation: Evaluation, place: Step, fields: StepFields | None = None) -> StepContext:
    """What picks mean at the end of an evaluation (which went up to just before some place), for looking only; with the fields of a step there."""
    titles = {s.id: f"step {i + 1}" for i, s in enumerate(project.recipe)}
    names = {p.id: p.name for p in project.parts}
    return StepContext(place, fields, {}, evaluation.parts, evaluation.made, titles, names)


def _inputs(
    step: CompiledStep,
    kind: StepKind,
    parts: dict[str, PartState],
    keys: dict[str, str],
    titles: dict[str, str],
    names: dict[str, str],
) -> list[str]:
    """Keys of all that a step's fields refer to, as it stands now; of what is missing, what an error would call it.

    Answers that the sentence does not ask for with the present ones do not count.
    """
    out = []
    silent = _silent(step, kind)
    for path, mark, text in step.marks:
        if path.split(".")[0] in silent:
            continue
        if isinstance(mark, PartMark):
            if not text:
                continue
            # the name of a part that the step itself makes does not matter
            missing = "" if mark.does == "makes" else names.get(text)
            out.append(f"{path}={parts[text].key if text in parts else missing}")
        elif isinstance(mark, StepMark):
            out.append(f"{path}={keys.get(text) or titles.get(text)}")
    return out


def _run(kind: StepKind, context: StepContext) -> StepOutput | DoveError:
    """A step's result, or its error: both are kept, so that a step that fails does not fail anew each time.

    What the kernel raises, the calls round it turn into errors with a sentence. Anything else that comes out of a step is a
    mistake in our programs: it is logged with its place and told as such, and takes nothing else down with it.
    """
    try:
        output = replace(kind.apply(context), frames=context.frames, outlines=context.outlines)
        # what is made at once does not look at the part that it changes
        return output if context.at_once else replace(output, called=sizes_now(context))
    except DoveError as error:
        return error
    except (Superseded, Apart):
        raise
    except Exception as error:
        if kernel.raised_by_kernel(error):
            return DoveError(
                f"The geometry kernel could not do this step ({type(error).__name__}); change its figures a little."
            )
        _log.exception("a step of the kind %s failed by our own fault", kind.kind)
        return DoveError(
            f"This step failed by a mistake of ours ({type(error).__name__}), which is in the log; the rest still stands."
        )
