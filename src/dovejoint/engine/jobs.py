"""What a worker does. Plain functions with plain arguments, so that any executor can run them."""

from __future__ import annotations

import hashlib
import json
from typing import Any

from pydantic import ValidationError

from ..core import joints as _joints  # registers the joints
from ..core import solid as kernel
from ..core import steps as _steps  # registers the steps
from ..core.checks import CheckCache, run_checks
from ..core.document import Project, Step, ThingPick
from ..core.document.file import check
from ..core.errors import CommandError
from ..core.formats import build_report, export_parts, outline_file, part_blob, sketch_report
from ..core.joints import with_stacks
from ..core.joints.assess import GapCache, assess
from ..core.printing.coupons import make_coupon
from ..core.printing.prints import PrintCache, layer_report, print_report
from ..core.profiles import profile_of
from ..core.recipe import (
    Evaluation,
    Limiter,
    LimitStates,
    PartState,
    ResultCache,
    Superseded,
    compare,
    evaluate,
    evaluate_at,
    read,
    readings_report,
)
from ..core.recipe.evaluate import context_at
from ..core.recipe.picks import rule_of
from ..core.steps.sources import look
from . import channel
from .executor import JobStopped

__all__ = [
    "compare_job",
    "coupon_job",
    "evaluate_job",
    "export_job",
    "layer_job",
    "lights_job",
    "load",
    "look_job",
    "measure_job",
    "outline_job",
    "print_job",
]

_ = (_joints, _steps)
_results = ResultCache()
_gaps = GapCache()
_checks = CheckCache()
_prints = PrintCache()
_blobs: dict[str, str] = {}


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


def _mesh(project: Any, part: Any, state: PartState, fresh: dict[str, bytes]) -> str:
    """The hash of a part's mesh. Its labels carry the part's name, so that counts too."""
    key = hashlib.sha256(f"{state.key}|{part.name}".encode()).hexdigest()
    if key not in _blobs:
        hash, blob = part_blob(part, state)
        if len(_blobs) > 3000:
            _blobs.clear()
        _blobs[key] = hash
        fresh[hash] = blob
    return _blobs[key]


def evaluate_job(
    document: str, upto: str | None, barred: dict[str, str], known: list[str], measure: bool, limits: str = ""
) -> tuple[str, dict[str, bytes]]:
    """Evaluate a document.

    Tells ``("step", id, key)`` before each step that it computes.

    Parameters
    ----------
    barred : keys of steps that killed a worker, with the message to show.
    known : hashes of meshes that the other side has.
    measure : whether gaps are measured on the solids and checks are made too.
    limits : limit states of toleranced dimensions as JSON; nominal when empty.

    Returns
    -------
    The report as JSON and the meshes that are not known.

    Raises
    ------
    JobStopped : a newer job has come.
    """
    project = check(json.loads(document))
    before = _results.computed
    try:
        options: dict[str, Any] = {
            "upto": upto, "stop": channel.stopped, "started": lambda step, key: channel.tell(("step", step, key)), "barred": barred,
        }  # fmt: skip
        states = LimitStates.read(json.loads(limits)) if limits else LimitStates()
        evaluation, found = evaluate_at(project, _results, states, **options)
    except Superseded:
        raise JobStopped from None
    fresh: dict[str, bytes] = {}
    meshes = {
        part.id: _mesh(project, part, evaluation.parts[part.id], fresh)
        for part in project.parts
        if part.id in evaluation.parts
    }
    have = set(known)
    for part in project.parts:
        # a mesh made in this process's past may have been lost on the other side
        if part.id in meshes and meshes[part.id] not in fresh and meshes[part.id] not in have:
            hash, blob = part_blob(part, evaluation.parts[part.id])
            meshes[part.id] = hash
            fresh[hash] = blob
    joints = assess(project, evaluation, _gaps if measure else None)
    if measure and found and states.nominal:
        joints = with_stacks(project, Limiter(project, _results, evaluation, **options), evaluation, joints, _gaps)
    report = build_report(project, evaluation, joints, found, states)
    # readings and checks look at the solids too, so they come with the measured gaps
    report["readings"] = readings_report(project, evaluation) if measure else []
    report["checks"] = run_checks(project, evaluation, joints, _checks) if measure else []
    for part_report in report["parts"]:
        part_report["mesh"] = meshes[part_report["id"]]
    report["sketches"] = {
        id: sketch_report(made.sketch) for id, made in evaluation.made.items() if made.sketch is not None
    }
    report["planes"] = {
        id: {"origin": made.plane.origin, "x": made.plane.x, "y": made.plane.y, "z": made.plane.z}
        for id, made in evaluation.made.items()
        if made.plane is not None and made.sketch is None
    }
    report["computed"] = _results.computed - before
    report["measured"] = measure
    return json.dumps(report), fresh


def measure_job(document: str, first: str, second: str | None) -> str:
    """A reading of one thing, or between two, as JSON. Raises PickError."""
    project = check(json.loads(document))
    evaluation = evaluate(project, _results, started=lambda step, key: channel.tell(("step", step, key)))
    picks = [ThingPick.model_validate_json(text) for text in (first, second) if text is not None]
    return json.dumps([row.as_dict() for row in read(evaluation.parts, *picks)])


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


def _evaluated(project: Project) -> Evaluation:
    return evaluate(project, _results, started=lambda step, key: channel.tell(("step", step, key)))


def print_job(document: str, parts: list[str]) -> str:
    """What printing some parts takes, what can be measured on them, and their joints, as JSON. Raises CommandError."""
    project = check(json.loads(document))
    evaluation = _evaluated(project)
    return json.dumps(print_report(project, evaluation, assess(project, evaluation, _gaps), parts, _prints))


def layer_job(document: str, part: str, number: int) -> str:
    """One layer of a part, to look at, as JSON. Raises CommandError."""
    project = check(json.loads(document))
    return json.dumps(layer_report(project, _evaluated(project), part, number, _prints))


def coupon_job(document: str, kind: str) -> str:
    """A coupon for the profile that a project rests on: its own document, its print report, and its ladder, as JSON."""
    coupon = make_coupon(kind, profile_of(check(json.loads(document))))
    report = print_report(coupon.project, _evaluated(coupon.project), [], [], _prints, coupon.features)
    return json.dumps(
        {
            **report,
            "kind": coupon.kind,
            "title": coupon.title,
            "ladder_mm": coupon.ladder_mm,
            "document": coupon.project.model_dump(mode="json"),
        }
    )


def compare_job(before: str, after: str) -> str:
    """Two documents side by side, as JSON."""
    one, two = check(json.loads(before)), check(json.loads(after))
    return json.dumps(compare(one, _evaluated(one), two, _evaluated(two)))


def export_job(
    document: str, parts: list[str], format: str, unit: str, pattern: str, laid: bool, together: bool
) -> list[tuple[str, str, bytes]]:
    """Parts as files: ``(name, media type, bytes)`` each. An empty list of parts means all printed ones."""
    project = check(json.loads(document))
    evaluation = evaluate(project, _results, started=lambda step, key: channel.tell(("step", step, key)))
    joints = assess(project, evaluation, _gaps)
    chosen = parts or [p.id for p in project.parts if p.role == "printed" and p.id in evaluation.parts]
    files = export_parts(project, evaluation, joints, chosen, format, unit, pattern, laid, together)
    return [(f.name, f.media_type, f.data) for f in files]
