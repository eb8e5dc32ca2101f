"""What a worker does. Plain functions with plain arguments, so that any executor can run them."""

from __future__ import annotations

import json
import math
import time
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import cached_property
from typing import Any

from pydantic import ValidationError

from ..core import joints as _joints  # registers the joints
from ..core import solid as kernel
from ..core import steps as _steps  # registers the steps
from ..core.checks import CheckCache, run_checks
from ..core.document import Project, Step, ThingPick
from ..core.document.compiled import compiled
from ..core.document.fields import read_fields
from ..core.document.file import check
from ..core.errors import CommandError, StepError
from ..core.formats import (
    build_report,
    export_parts,
    frame_report,
    outline_file,
    part_blob,
    read_outline,
    sketch_report,
    things_report,
)
from ..core.formats.picture import picture
from ..core.joints import with_stacks
from ..core.joints.apart import pulled_apart
from ..core.joints.assess import GapCache, JointReport, assess
from ..core.joints.drawing import drawing_of
from ..core.joints.gapmap import map_report
from ..core.joints.hold import make_it_hold
from ..core.kept import Kept
from ..core.printing.coupons import make_coupon
from ..core.printing.prints import PrintCache, layer_report, print_report
from ..core.printing.stepped import stepped_coupon
from ..core.profiles import profile_of
from ..core.quantities.markers import PartMark
from ..core.recipe import (
    Dimension,
    Evaluation,
    JointShape,
    Limiter,
    LimitStates,
    PartState,
    ResultCache,
    StepOutput,
    StepReport,
    Superseded,
    compare,
    evaluate,
    evaluate_at,
    kind_of,
    links_report,
    read,
    readings_report,
)
from ..core.recipe.evaluate import context_at, showable, vouched
from ..core.recipe.picks import rule_of
from ..core.recipe.solve_for import solve_for
from ..core.steps.sources import look
from . import channel
from .executor import JobStopped
from .parallel import PACE, make_in_parallel

__all__ = [
    "brought_job",
    "compare_job",
    "coupon_job",
    "evaluate_job",
    "export_job",
    "layer_job",
    "lights_job",
    "load",
    "look_job",
    "MissingSolids",
    "Snapshot",
    "measure_job",
    "measured_job",
    "outline_in_job",
    "outline_job",
    "print_job",
    "hold_job",
    "drawing_job",
    "apart_job",
    "map_job",
    "solve_for_job",
]

_ = (_joints, _steps)
_results = ResultCache()
_gaps = GapCache()
_checks = CheckCache()
_prints = PrintCache()


#: meshes and descriptions with their hashes, and sketches as they were written once
_blobs: Kept[tuple[str, bytes]] = Kept(40_000_000, lambda made: len(made[1]))
_sketches: Kept[bytes] = Kept(20_000_000, len)
#: coupons that were made, as JSON
_coupons: Kept[bytes] = Kept(10_000_000, len)


@dataclass(frozen=True, eq=False)
class Snapshot:
    """An evaluation as it travels to another process: what is not solids, and the keys of those."""

    values: dict[str, Any]
    steps: list[StepReport]
    figures: dict[str, dict[str, float]]
    parts: dict[str, str]
    shapes: dict[str, tuple[str, ...]]
    joints: dict[str, JointShape]
    gone: dict[str, tuple[str, ...]]

    @property
    def weight(self) -> int:
        """About how many bytes it takes: by its steps and figures."""
        return 2000 * (len(self.steps) + len(self.joints)) + 200 * sum(len(f) for f in self.figures.values())

    @staticmethod
    def of(evaluation: Evaluation) -> Snapshot:
        made = evaluation.made
        return Snapshot(
            evaluation.values,
            evaluation.steps,
            evaluation.figures,
            {id: state.key for id, state in evaluation.parts.items()},
            {id: tuple(out.parts) for id, out in made.items()},
            {id: out.joint for id, out in made.items() if out.joint is not None},
            {id: out.gone for id, out in made.items() if out.gone},
        )

    def evaluation(self) -> Evaluation:
        """The evaluation with the solids that this process has. Raises MissingSolids."""
        missing = [key for key in self.parts.values() if key not in _states]
        if missing:
            raise MissingSolids(missing)
        parts = {id: _states[key] for id, key in self.parts.items()}
        # of what steps made only their joints matter here, and which parts they shaped
        made = {
            id: StepOutput(
                parts={p: parts[p].solid for p in shaped if p in parts},
                joint=self.joints.get(id),
                gone=self.gone.get(id, ()),
            )
            for id, shaped in self.shapes.items()
        }
        return Evaluation(self.values, self.steps, parts, made, self.figures)


class MissingSolids(Exception):
    """This process does not have some solids, by their keys: they must come with the job."""

    def __init__(self, keys: list[str]) -> None:
        super().__init__(keys)
        self.keys = keys


#: solids that came from another process, by key; the oldest go when there are too many faces
_states: OrderedDict[str, PartState] = OrderedDict()
_MOST_FACES = 8_000


def _take(solids: Mapping[str, bytes]) -> None:
    for key, data in solids.items():
        _states[key] = PartState(key, kernel.NamedSolid.unpack(data))
        _states.move_to_end(key)
    while len(_states) > 1 and sum(len(s.solid.names) for s in _states.values()) > _MOST_FACES:
        _states.popitem(last=False)


def load() -> None:
    """Load the kernel and run it once, so that the first real job finds it warm."""
    square = [
        kernel.Line(str(i), a, b)
        for i, (a, b) in enumerate([((0, 0), (9, 0)), ((9, 0), (9, 9)), ((9, 9), (0, 9)), ((0, 9), (0, 0))])
    ]
    block = kernel.prism(kernel.find_regions(square)[0], kernel.GROUND, 0, 9, "warm")
    upright = [i for i, e in enumerate(kernel.describe_edges(block)) if abs(e.direction[2]) > 0.9]
    soft = kernel.fillet(block, dict.fromkeys(upright, 2.0), "warm")
    hollow = kernel.shell(soft, soft.find("warm/end"), 1, "warm")
    kernel.tessellate(kernel.fuse(hollow, [block], "warm"))
    kernel.describe_edges(hollow)


def evaluate_job(
    document: str, upto: str | None, barred: dict[str, str], known: list[str], depth: str, limits: str = ""
) -> tuple[str, dict[str, bytes], Snapshot | None, dict[str, bytes]]:
    """Evaluate a document: what it looks like first, then what of it must be vouched for.

    Tells ``("step", id, key)`` before each step that it computes, and ``("shown", report, blobs)`` as soon as there is something to
    look at: its checks are still to be made, and its parts are not described or weighed.

    Parameters
    ----------
    barred : keys of steps that killed a worker, with the message to show.
    known : hashes of blobs, or keys of solids, that the other side has.
    depth : ``tried`` (vouched for), ``made`` (also described, weighed and packed to travel) or ``measured`` (also gaps,
        readings and checks, in this process).
    limits : limit states of toleranced dimensions as JSON; nominal when empty.

    Returns
    -------
    The report as JSON, the blobs that are not known, and for ``made`` the evaluation and the solids, packed, that are not known.

    Raises
    ------
    JobStopped : a newer job has come.
    """
    project = check(json.loads(document))
    before = _results.computed
    have = set(known)
    pace = _Paced(project)
    options: dict[str, Any] = {"upto": upto, "stop": channel.stopped, "started": pace.started, "barred": barred}
    states = LimitStates.read(json.loads(limits)) if limits else LimitStates()
    try:
        quick = states.nominal
        if quick and upto is None and not barred and channel.alone():
            make_in_parallel(project, _results, channel.stopped, pace.started)
        evaluation, found = _to_show(project, states, quick=quick, **options)
        view = _View(project, evaluation, found, states, have, _results.computed - before)
        if quick:
            channel.tell(("shown", *view.told("shown")))
            if not vouched(evaluation, _results, channel.stopped):
                evaluation, found = _to_show(project, states, **options)
                view = _View(project, evaluation, found, states, have, _results.computed - before)
        if channel.stopped():
            raise Superseded
        if depth == "measured":
            measured = _measure(project, evaluation, Limiter(project, _results, evaluation, **options), found, states)
            report, blobs = view.told("measured", measured)
            return report, blobs, None, {}
        report, blobs = view.told("tried" if depth == "tried" else "made")
    except Superseded:
        raise JobStopped from None
    if depth == "tried" or upto is not None:
        return report, blobs, None, {}
    solids = {s.key: s.solid.pack() for s in evaluation.parts.values() if s.key not in have}
    return report, blobs, Snapshot.of(evaluation), solids


class _Paced:
    """Tells of each step that is made, and learns how long its kind takes."""

    def __init__(self, project: Project) -> None:
        self._kinds = {s.id: s.kind for s in project.recipe}
        self._at: tuple[str, float] | None = None

    def started(self, step: str, key: str) -> None:
        now = time.perf_counter()
        if self._at is not None:
            PACE.saw(self._kinds.get(self._at[0], ""), now - self._at[1])
        self._at = (step, now)
        channel.tell(("step", step, key))


def _to_show(project: Project, states: LimitStates, **options: Any) -> tuple[Evaluation, list[Dimension]]:
    """An evaluation of which all parts can be shown; where one could not, its step says so and the rest stands."""
    evaluation, found = evaluate_at(project, _results, states, **options)
    while not showable(evaluation, _results):
        evaluation, found = evaluate_at(project, _results, states, **options)
    return evaluation, found


def build_job(document: str, limits: dict[str, Any], barred: dict[str, str]) -> dict[str, Any]:
    """The whole report of a document, as the command line gives it; tells ``("step", id, key)`` before each step, and ``("rest", "", "")``
    when all are made."""
    project = check(json.loads(document))
    states = LimitStates.read(limits)
    evaluation, found = evaluate_at(
        project, ResultCache(), states, started=lambda step, key: channel.tell(("step", step, key)), barred=barred
    )
    channel.tell(("rest", "", ""))
    return build_report(project, evaluation, assess(project, evaluation, GapCache()), found, states)


class _View:
    """What is told of an evaluation, stage by stage. Blobs that the other side has are not sent again."""

    def __init__(
        self,
        project: Project,
        evaluation: Evaluation,
        found: Sequence[Dimension],
        states: LimitStates,
        have: set[str],
        computed: int,
    ) -> None:
        self.project, self.evaluation, self.found, self.states = project, evaluation, found, states
        self.have, self.computed = have, computed

    @cached_property
    def by_formula(self) -> list[JointReport]:
        """The joints by formula: the same at each stage."""
        return assess(self.project, self.evaluation, None)

    def _blob(self, key: str, make: Callable[[], tuple[str, bytes]], fresh: dict[str, bytes]) -> str:
        hash, blob = _blobs.made(key, make)
        if hash not in self.have:
            fresh[hash] = blob
            self.have.add(hash)
        return hash

    def told(self, stage: str, more: dict[str, Any] | None = None) -> tuple[str, dict[str, bytes]]:
        fresh: dict[str, bytes] = {}
        weighed, described = stage in ("made", "measured"), stage != "shown"
        joints = [] if more else self.by_formula
        report = build_report(
            self.project, self.evaluation, joints, self.found, self.states, said=False, weighed=weighed
        )
        for part in report["parts"]:
            state = self.evaluation.parts[part["id"]]
            part["mesh"] = self._blob(f"mesh {state.key}", lambda s=state: part_blob(s), fresh)  # type: ignore[misc]
            part["things"] = (
                self._blob(f"things {state.key}", lambda s=state: things_report(s), fresh) if described else ""  # type: ignore[misc]
            )
        report["planes"] = {
            id: frame_report(made.plane)
            for id, made in self.evaluation.made.items()
            if made.plane is not None and made.sketch is None
        }
        made = self.evaluation.made
        report["axes"] = {
            id: {"at": o.axis.origin, "way": o.axis.direction} for id, o in made.items() if o.axis is not None
        }
        report["points"] = {id: o.point for id, o in made.items() if o.point is not None}
        report["links"] = links_report(self.project, self.evaluation)
        report["grips"] = {
            id: {"field": g.field, "at": g.at, "way": g.way, "per": g.per}
            for id, made in self.evaluation.made.items()
            if (g := made.grip) is not None
        }
        report["pictures"] = self._pictures()
        report["works"] = [id for id, made in self.evaluation.made.items() if made.works]
        report |= {
            "readings": [],
            "checks": [],
            "computed": self.computed,
            "stage": stage,
            "measured": stage == "measured",
        }
        report |= more or {}
        return self._text(report), fresh

    def _pictures(self) -> dict[str, Any]:
        """Images by the steps that laid them, on the faces as they are at the end. One whose face is gone is not shown."""
        out = {}
        for id, made in self.evaluation.made.items():
            decal = made.decal
            state = self.evaluation.parts.get(decal.part) if decal else None
            faces = state.solid.find(decal.face) if decal and state else []
            if decal and faces:
                size = {"wide_mm": decal.wide_mm, "high_mm": decal.high_mm}
                out[id] = {
                    "part": decal.part,
                    "faces": faces,
                    "frame": frame_report(decal.frame),
                    **size,
                    "file": decal.file,
                    "clear": decal.clear,
                }
        return out

    def _text(self, report: dict[str, Any]) -> str:
        """The report as JSON, with the sketches as they were written once."""
        keys = {r.id: r.key for r in self.evaluation.steps}
        sketches = []
        for id, made in self.evaluation.made.items():
            shape = made.sketch
            if shape is not None:
                text = _sketches.made(keys[id], lambda s=shape: json.dumps(sketch_report(s)).encode())  # type: ignore[misc]
                sketches.append(f'"{id}": {text.decode()}')
        return f'{json.dumps(report)[:-1]}, "sketches": {{{", ".join(sketches)}}}}}'


def _measure(
    project: Project, evaluation: Evaluation, limiter: Limiter, found: Sequence[Dimension], states: LimitStates
) -> dict[str, Any]:
    """Gaps on the solids, what tolerances do to them, readings and checks. Ends between its pieces when it is stopped."""
    joints = assess(project, evaluation, _gaps, channel.stopped)
    if found and states.nominal:
        joints = with_stacks(project, limiter, evaluation, joints, _gaps, channel.stopped)
    if channel.stopped():
        raise Superseded
    return {
        "joints": [j.as_dict() for j in joints],
        "readings": readings_report(project, evaluation),
        "checks": run_checks(project, evaluation, joints, _checks, channel.stopped),
    }


def measured_job(document: str, snapshot: Snapshot, solids: dict[str, bytes]) -> str:
    """What is measured on an evaluation that another process made, as JSON: joints, readings, checks.

    Raises
    ------
    MissingSolids : solids that are not here and did not come along.
    JobStopped : a newer edit has come.
    """
    _take(solids)
    project = check(json.loads(document))
    try:
        evaluation = snapshot.evaluation()
        limiter = Limiter(project, _results, evaluation, stop=channel.stopped)
        return json.dumps(_measure(project, evaluation, limiter, limiter.found, LimitStates()))
    except Superseded:
        raise JobStopped from None


def picture_job(meshes: list[tuple[str, bytes]]) -> bytes:
    """A small picture (PNG) of parts given by their colours and packed meshes."""
    parts = []
    for colour, blob in meshes:
        arrays = kernel.read_mesh_blob(blob)
        parts.append((colour, arrays["positions"].reshape(-1, 3), arrays["triangles"].reshape(-1, 3)))
    return picture(parts)


def measure_job(document: str, first: str, second: str | None) -> str:
    """A reading of one thing, or between two, as JSON. Raises PickError."""
    project = check(json.loads(document))
    evaluation = evaluate(project, _results, started=lambda step, key: channel.tell(("step", step, key)))
    picks = [ThingPick.model_validate_json(text) for text in (first, second) if text is not None]
    return json.dumps([row.as_dict() for row in read(evaluation.parts, *picks)])


def solve_for_job(
    document: str, first: str, second: str | None, what: str, target: float, value: str
) -> dict[str, Any]:
    """The figure of one value that brings a reading to a target, or why none does. Raises PickError, CommandError."""
    project = check(json.loads(document))
    one, two = (None if text is None else ThingPick.model_validate_json(text) for text in (first, second))
    assert one is not None
    found = solve_for(project, _results, one, two, what, target, value, channel.stopped)
    reached = None if math.isnan(found.reached) else found.reached
    return {"formula": found.formula, "reached": reached, "message": found.message}


def hold_job(document: str, joint: str, chance: float) -> dict[str, Any]:
    """The figures that bring a joint's chance to what is asked, or why none does. Raises CommandError."""
    project = check(json.loads(document))
    found = make_it_hold(project, joint, chance, _results, _gaps, channel.stopped)
    return {"now": found.now, "offers": [o.as_dict() for o in found.offers], "message": found.message}


def map_job(document: str, joint: str) -> str:
    """A joint's gap as a map on both halves, as JSON. Raises CommandError."""
    project = check(json.loads(document))
    evaluation = evaluate(project, _results, started=lambda step, key: channel.tell(("step", step, key)))
    return json.dumps(map_report(project, evaluation, joint))


def apart_job(document: str) -> dict[str, Any]:
    """By how much each part is moved when the model is pulled wholly apart."""
    project = check(json.loads(document))
    evaluation = evaluate(project, _results, started=lambda step, key: channel.tell(("step", step, key)))
    return {"parts": {part: list(by) for part, by in pulled_apart(project, evaluation).items()}}


def drawing_job(document: str, joint: str) -> str:
    """A joint's halves cut where its gap is least, as JSON. Raises CommandError."""
    project = check(json.loads(document))
    evaluation = evaluate(project, _results, started=lambda step, key: channel.tell(("step", step, key)))
    return json.dumps(drawing_of(project, evaluation, joint, _gaps))


def look_job(document: str, step: str, pick: str, what: str) -> str:
    """What of a part would come onto a board, as JSON. Raises CommandError, PickError, StepError."""
    project = check(json.loads(document))
    thing = ThingPick.model_validate_json(pick)
    evaluation = evaluate(project, _results, upto=step, started=lambda id, key: channel.tell(("step", id, key)))
    made = evaluation.made.get(step)
    if made is None or made.plane is None:
        raise CommandError("The sketch cannot be worked out now; mend it first.")
    if thing.part not in evaluation.parts:
        raise CommandError("That part comes later in the recipe than this sketch; move the sketch behind it.")
    seen = look(evaluation.parts[thing.part], thing.part, thing, what, made.plane)  # type: ignore[arg-type]
    return json.dumps(seen)


def outline_job(document: str, step: str, format: str, unit: str) -> bytes:
    """A sketch's outline as a file. Raises CommandError."""
    project = check(json.loads(document))
    made = evaluate(project, _results, upto=step).made.get(step)
    if made is None or made.sketch is None:
        raise CommandError("The sketch cannot be worked out now; mend it first.")
    return outline_file(made.sketch.curves, format, unit)


def outline_in_job(name: str, text: str, unit: str, scale: float) -> str:
    """The curves of an outline file, as JSON. Raises FileError."""
    return json.dumps(read_outline(name, text, unit, scale).as_dict())


def brought_job(data: bytes, name: str, unit: str) -> list[dict[str, Any]]:
    """What solids a file of another program holds: their names, sizes (mm) and what was mended. Raises FileError."""
    out = []
    for solid in kernel.brought_solids(data, name, unit):
        low, high = kernel.bounds(solid.shape)
        out.append(
            {"name": solid.name, "size_mm": [b - a for a, b in zip(low, high, strict=True)], "mended": solid.mended}
        )
    return out


def keep_job(document: str, step: str, path: str) -> tuple[bytes, str, list[list[str]]]:
    """The part that a step takes whole, at a path of its fields, as it is just before it: a STEP file, the part's name, and what the file's faces are called.
    Raises CommandError."""
    project = check(json.loads(document))
    read = compiled(project).of(step)
    part = next((t for p, m, t in (read.marks if read else ()) if p == path and isinstance(m, PartMark)), "")
    place = next((i for i, s in enumerate(project.recipe) if s.id == step), len(project.recipe))
    there = evaluate(project.model_copy(update={"recipe": project.recipe[:place]}), _results).parts.get(part)
    made = project.part(part)
    if there is None or made is None:
        raise CommandError("There is no part there to cut it off from.")
    if there.solid.lumps > 1:
        raise CommandError(
            f"“{made.name}” is {there.solid.lumps} lumps there, and what is kept of a part is one; make it one first."
        )
    data = kernel.write_step([(made.name, made.colour, there.solid)], project.name, _now())
    return data, made.name, [list(names) for names in kernel.names_kept(there.solid, data)]


def lights_job(document: str, pick: str, before: str) -> str:
    """The things that a pick stands for just before a step (``""``: at the end), as JSON. Raises PickError, StepError, CommandError."""
    project = check(json.loads(document))
    data = json.loads(pick)
    try:
        rule = rule_of(data)
        found = rule.model.model_validate(data)
    except (KeyError, ValidationError):
        raise CommandError("There is no such kind of pick.") from None
    place = next((i for i, s in enumerate(project.recipe) if s.id == before), len(project.recipe))
    shown = project.model_copy(update={"recipe": project.recipe[:place]})
    context = context_at(shown, evaluate(shown, _results), Step(id="s0", kind="", fields={}))
    return json.dumps([thing.as_dict() for thing in rule.lights(context, found)])


def suggest_job(document: str, kind: str, fields: str, answered: str, after: str | None) -> str:
    """What a step's solids make likely for its other answers, as JSON: nothing where what was answered so far does not tell."""
    project = check(json.loads(document))
    place = len(project.recipe) if after is None else next((i + 1 for i, s in enumerate(project.recipe) if s.id == after), 0)  # fmt: skip
    shown = project.model_copy(update={"recipe": project.recipe[:place]})
    step = Step(id="s0", kind=kind, fields=json.loads(fields))
    suggest = kind_of(step).suggest
    try:
        context = context_at(shown, evaluate(shown, _results), step, read_fields(kind, step.fields))
        return json.dumps(suggest(shown, context, answered) if suggest else {})
    except (CommandError, StepError):
        # an answer that does not work is told where the step is tried
        return "{}"


def _evaluated(
    project: Project, snapshot: Snapshot | None = None, solids: Mapping[str, bytes] | None = None
) -> Evaluation:
    """The evaluation that another process made, if it came along; else worked out here. Raises MissingSolids."""
    if snapshot is not None:
        _take(solids or {})
        return snapshot.evaluation()
    return evaluate(project, _results, started=lambda step, key: channel.tell(("step", step, key)))


def print_job(
    document: str, snapshot: Snapshot | None, solids: dict[str, bytes], parts: list[str], worked: bool = True
) -> str:
    """What printing some parts takes, what can be measured on them, and their joints (or only where they lie, at once), as JSON. Raises CommandError."""
    project = check(json.loads(document))
    evaluation = _evaluated(project, snapshot, solids)
    # to ask also tells that one lives: all parts together may take longer than one piece of work may
    joints = assess(project, evaluation, _gaps, channel.stopped) if worked else []
    return json.dumps(print_report(project, evaluation, joints, parts, _prints, worked=worked, stop=channel.stopped))


def layer_job(document: str, snapshot: Snapshot | None, solids: dict[str, bytes], part: str, number: int) -> str:
    """One layer of a part, to look at, as JSON. Raises CommandError."""
    project = check(json.loads(document))
    return json.dumps(layer_report(project, _evaluated(project, snapshot, solids), part, number, _prints))


def coupon_job(document: str, kind: str) -> str:
    """A coupon for the profile that a project rests on, or (``joint:s12``) of a joint at stepped gaps: its own document, its print report, its
    ladder or its rungs, as JSON. Raises CommandError."""
    # to look at it, to save it and to print it is the same
    return _coupons.made(f"{kind} {document}", lambda: _coupon(check(json.loads(document)), kind).encode()).decode()


def _coupon(project: Project, kind: str) -> str:
    what, _, joint = kind.partition(":")
    if what == "joint":
        coupon = stepped_coupon(project, joint, _results, _gaps, channel.stopped)
    else:
        coupon = make_coupon(kind, profile_of(project))
    report = print_report(
        coupon.project, _evaluated(coupon.project), [], [], _prints, coupon.features, stop=channel.stopped
    )
    return json.dumps({**report, **coupon.as_dict(), "document": coupon.project.model_dump(mode="json")})


def compare_job(before: str, after: str) -> str:
    """Two documents side by side, as JSON."""
    one, two = check(json.loads(before)), check(json.loads(after))
    return json.dumps(compare(one, _evaluated(one), two, _evaluated(two), channel.stopped))


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="seconds")


def export_job(
    document: str,
    snapshot: Snapshot | None,
    solids: dict[str, bytes],
    parts: list[str],
    format: str,
    unit: str,
    pattern: str,
    laid: bool,
    together: bool,
) -> list[tuple[str, str, bytes]]:
    """Parts as files: ``(name, media type, bytes)`` each. An empty list of parts means all printed ones."""
    project = check(json.loads(document))
    evaluation = _evaluated(project, snapshot, solids)
    joints = assess(project, evaluation, _gaps, channel.stopped)
    chosen = parts or [p.id for p in project.parts if p.role == "printed" and p.id in evaluation.parts]
    files = export_parts(project, evaluation, joints, chosen, format, unit, pattern, laid, together, _now())
    return [(f.name, f.media_type, f.data) for f in files]
