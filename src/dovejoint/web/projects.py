"""Routes of projects: the document, its commands, undo and redo, files in and out."""

from __future__ import annotations

import functools
import hashlib
import itertools
import json
import logging
from collections.abc import Callable, Mapping
from typing import Any

from flask import Blueprint, Response, jsonify, request
from pydantic import ValidationError

from ..core.document import Project, Step, apply, bundled, command_from, field_model, unbundled
from ..core.document.bringing import excerpt, needed
from ..core.document.bundle import LARGEST_BUNDLE_BYTES
from ..core.document.commands import known_values
from ..core.document.files import LARGEST_BROUGHT_BYTES, unpack, with_files
from ..core.errors import CommandError, DoveError, FileError
from ..core.fits import FIT_CLASSES
from ..core.formats import OUTLINE_TYPES, file_name, kinds_report, picks_report
from ..core.formats.report import steps_report, values_report
from ..core.image import image_of
from ..core.joints import assess_by_formula
from ..core.profiles import DEFAULT_PROFILE
from ..core.quantities import ANGLE, LENGTH, NUMBER, evaluate_table, with_unit
from ..core.quantities import evaluate as evaluate_formula
from ..core.recipe import LimitStates
from ..core.recipe.registry import kind_of, segments
from ..core.sketch.words import TIE_WORDS
from ..core.steps.board import drag_preview, lengths
from ..core.steps.keep_shape import KeepShape
from ..engine import Engine, WorkerDied, jobs
from ..sample import SAMPLES, Sample, begin_from, picture_of
from ..store import Committed, ProjectStore
from .body import body
from .events import EventHub, TooMany
from .files import download, packed
from .problems import problem
from .shapes import (
    BeginIn,
    BringIn,
    CommandIn,
    DragIn,
    ExportIn,
    FiguresIn,
    HoldIn,
    KeepIn,
    LightsIn,
    LookIn,
    MeasureIn,
    NewProjectIn,
    OtherPartsIn,
    OutlineExportIn,
    OutlineIn,
    PreviewIn,
    SayIn,
    SeenIn,
    SolveForIn,
)  # fmt: skip

_log = logging.getLogger(__name__)

__all__ = ["Recorder", "projects", "recorder"]


#: how wide the openings of joints were when they were last made, by step; empty while nothing was made
Openings = Mapping[str, tuple[float, float]]


def state(found: Committed, openings_mm: Openings) -> dict[str, Any]:
    """A project as the interface needs it, with what is known without the geometry kernel."""
    project = found.project
    return {
        **_or_nothing(lambda: _figures(project, openings_mm), {"values": [], "joints": []}),
        "id": found.id,
        "version": found.version,
        "document": project.model_dump(mode="json"),
        "patch": [],
        "since": found.version,
        "steps": _or_nothing(lambda: steps_report(project), {}),
        "undo": found.undo,
        "redo": found.redo,
        "sentence": found.sentence,
        "created": found.created,
    }


def _sayable(project: Project) -> None:
    """Refuse a file that could be kept but not opened. Raises FileError."""
    try:
        _figures(project, {})
        steps_report(project)
    except DoveError as error:
        raise FileError(f"The project file does not hold together: {error.message}") from None
    except (ValueError, KeyError, TypeError, OverflowError, ArithmeticError, RecursionError) as error:
        _log.exception("a project file that cannot be said")
        raise FileError(
            f"The project file holds something that cannot be worked out ({type(error).__name__})."
        ) from None


def _or_nothing(work: Callable[[], dict[str, Any]], otherwise: dict[str, Any]) -> dict[str, Any]:
    """What is said of a stored project; a mistake of ours in that must not keep it from being opened, saved and taken back."""
    try:
        return work()
    except Exception:
        _log.exception("a project that cannot be said")
        return otherwise


def _figures(project: Project, openings_mm: Openings) -> dict[str, Any]:
    """Values and joints by formula: there at once, without the kernel."""
    table = evaluate_table([(v.name, v.formula) for v in project.values])
    joints = assess_by_formula(project, openings_mm)
    return {"values": values_report(project, table), "joints": [j.as_dict() for j in joints]}


def changed(found: Committed, seen: int, openings_mm: Openings) -> dict[str, Any]:
    """The answer to a command: what it changed, for one who saw the version before; else everything."""
    change = found.change
    if change is None or change.version != seen:
        return state(found, openings_mm)
    return {
        **_or_nothing(lambda: _figures(found.project, openings_mm), {"values": [], "joints": []}),
        "id": found.id,
        "version": found.version,
        "document": None,
        "patch": change.patch,
        "since": change.version,
        "steps": _or_nothing(lambda: steps_report(found.project, change.before), {}),
        "undo": found.undo,
        "redo": found.redo,
        "sentence": found.sentence,
        "created": found.created,
    }


def _limits(text: str) -> Any:
    try:
        return json.loads(text)
    except (ValueError, RecursionError):
        raise CommandError("The limit states are not JSON.") from None


#: the longest time that reading an outline may take, s
OUTLINE_S = 15.0
Recorder = Callable[[Committed, int], Response]


def recorder(engine: Engine, hub: EventHub) -> Recorder:
    def recorded(found: Committed, seen: int) -> Response:
        """Acknowledge what is already on disk, tell the other windows, and only then start to compute."""
        window = request.headers.get("X-Window", "")
        hub.send(found.id, "document", {"version": found.version, "window": window, "sentence": found.sentence})
        engine.request(found.id, found.version, found.project)
        return jsonify(changed(found, seen, engine.openings_mm(found.id)))

    return recorded


def _target(project: Project, what: str, formula: str) -> float:
    """The figure that a reading should have, in mm, mm² or rad; a bare number is in the project's unit. Raises FormulaError."""
    known = known_values(project)
    if what == "area":
        found = evaluate_formula(formula, known)
        if found.dimension == NUMBER:
            return found.value * (25.4**2 if project.unit == "in" else 1.0)
        return evaluate_formula(formula, known, LENGTH * LENGTH).value
    expected = ANGLE if what == "angle" else LENGTH
    return evaluate_formula(with_unit(formula, expected, project.unit), known, expected).value


def _sample(name: str) -> Sample:
    """A sample by its name. Raises CommandError."""
    if name not in SAMPLES:
        raise CommandError("There is no such sample.")
    return SAMPLES[name]


def projects(store: ProjectStore, engine: Engine, hub: EventHub, recorded: Recorder) -> Blueprint:
    blueprint = Blueprint("projects", __name__, url_prefix="/api")

    @blueprint.get("/kinds")
    def kinds() -> Response:
        return jsonify(
            {
                "kinds": kinds_report(),
                "picks": picks_report(),
                "ties": TIE_WORDS,
                "fits": [
                    {
                        "name": f.name,
                        "about": f.about,
                        "wanted_mm": {
                            "least": f.wanted.least_mm,
                            "target": f.wanted.target_mm,
                            "most": f.wanted.most_mm,
                        },
                    }
                    for f in FIT_CLASSES.values()
                ],
                "profile": DEFAULT_PROFILE.model_dump(mode="json"),
            }
        )

    def _free_name(name: str, taken: set[str]) -> str:
        return next(n for k in itertools.count(1) if (n := f"{name[:70]} copy{f' {k}' if k > 1 else ''}") not in taken)

    @blueprint.get("/projects")
    def listing() -> Response:
        return jsonify([s.__dict__ for s in store.summaries()])

    @blueprint.post("/projects")
    def create() -> Response:
        data = NewProjectIn.model_validate(body())
        if data.copy_of:
            source = store.get(data.copy_of).project
            name = data.name or _free_name(source.name, {s.name for s in store.summaries()})
            found = store.insert(source.model_copy(update={"name": name}))
        else:
            found = begin_from(_sample(data.sample), store) if data.sample else store.create(data.name)
        engine.request(found.id, found.version, found.project)
        return jsonify(state(found, engine.openings_mm(found.id)))

    @blueprint.post("/projects/import")
    def bring_in() -> Response:
        # a zip may carry large parts of others
        request.max_content_length = LARGEST_BUNDLE_BYTES
        project = unbundled(request.get_data())
        _sayable(project)
        found = store.insert(project)
        engine.request(found.id, found.version, found.project)
        return jsonify(state(found, engine.openings_mm(found.id)))

    @blueprint.get("/projects/<id>")
    def show(id: str) -> Response:
        return jsonify(state(store.get(id), engine.openings_mm(id)))

    @blueprint.delete("/projects/<id>")
    def remove(id: str) -> Response:
        """Remove a project with its history, for good."""
        engine.forget(store.get(id).id)
        store.delete(id)
        engine.store.drop_picture(id)
        hub.send(id, "removed", {})
        return jsonify({})

    @blueprint.post("/projects/<id>/commands")
    def command(id: str) -> Response:
        data = CommandIn.model_validate(body())
        return recorded(store.commit(id, data.seen, command_from(data.command)), data.seen)

    def other(of: str) -> Project:
        sample = of.removeprefix("sample:")
        return _sample(sample).make() if sample != of else store.get(of).project

    @blueprint.post("/parts")
    def other_parts() -> Response:
        data = OtherPartsIn.model_validate(body())
        source = other(data.of)
        found = needed(source, data.parts)
        rows = [
            {"id": p.id, "name": p.name, "role": p.role, "colour": p.colour, "comes": p.id in found.parts}
            for p in source.parts
        ]
        return jsonify({"of": source.name, "parts": rows, "steps": len(found.steps), "values": len(found.values)})

    @blueprint.post("/projects/<id>/bring")
    def bring(id: str) -> Response:
        data = BringIn.model_validate(body())
        if not data.parts:
            raise CommandError("Choose the parts that are to come.")
        return recorded(store.commit(id, data.seen, excerpt(other(data.of), data.parts)), data.seen)

    @blueprint.post("/projects/<id>/undo")
    def undo(id: str) -> Response:
        seen = SeenIn.model_validate(body()).seen
        return recorded(store.undo(id, seen), seen)

    @blueprint.post("/projects/<id>/redo")
    def redo(id: str) -> Response:
        seen = SeenIn.model_validate(body()).seen
        return recorded(store.redo(id, seen), seen)

    @blueprint.get("/projects/<id>/history")
    def history(id: str) -> Response:
        store.get(id)
        return jsonify(store.history(id))

    @blueprint.get("/projects/<id>/evaluation")
    def evaluation(id: str) -> Response:
        found = store.get(id)
        upto, limits = request.args.get("upto"), request.args.get("limits", "")
        if limits:
            states = LimitStates.read(_limits(limits)).as_dict()
            report = engine.at_limits(id, found.version, found.project, json.dumps(states, sort_keys=True))
            return Response(report, mimetype="application/json", headers={"X-Project-Version": str(found.version)})
        if upto and found.project.step(upto) is None:
            raise CommandError("That step is not there any more.")
        report = engine.evaluation(id, found.version, found.project, upto, shown="shown" in request.args)
        return Response(report, mimetype="application/json", headers={"X-Project-Version": str(found.version)})

    @blueprint.post("/projects/<id>/halt")
    def halt(id: str) -> Response:
        """Stop working out a project; asking for its evaluation starts again."""
        engine.halt(store.get(id).id)
        return jsonify({})

    @blueprint.post("/projects/<id>/preview")
    def preview(id: str) -> Response:
        data = PreviewIn.model_validate(body())
        outcome = apply(store.get(id).project, command_from(data.command))
        report = engine.preview(id, outcome.project, data.upto, shown=data.shown)
        joints = [j.as_dict() for j in assess_by_formula(outcome.project, engine.openings_mm(id))]
        told = json.dumps({"joints": joints, "created": outcome.created})
        return Response(f'{{"report": {report}, {told[1:]}', mimetype="application/json")

    @blueprint.post("/projects/<id>/gauge")
    def gauge(id: str) -> Response:
        """Joints and values by formula for a command that is not recorded: at once, without the kernel."""
        data = PreviewIn.model_validate(body())
        tried = apply(store.get(id).project, command_from(data.command)).project
        return jsonify(_figures(tried, engine.openings_mm(id)))

    @blueprint.post("/projects/<id>/solve-for")
    def solve_for(id: str) -> Response:
        data = SolveForIn.model_validate(body())
        project = store.get(id).project
        target = _target(project, data.what, data.target)
        second = data.second.model_dump_json() if data.second else None
        words = (data.first.model_dump_json(), second, data.what, target, data.value)
        return jsonify(engine.work(jobs.solve_for_job, engine.text(project), *words, wait_s=60.0))

    @blueprint.post("/projects/<id>/hold")
    def hold(id: str) -> Response:
        data = HoldIn.model_validate(body())
        document = engine.text(store.get(id).project)
        return jsonify(engine.work(jobs.hold_job, document, data.joint, data.chance, wait_s=60.0))

    @blueprint.get("/projects/<id>/apart")
    def apart(id: str) -> Response:
        """By how much each part is moved when the model is pulled wholly apart."""
        return jsonify(engine.work(jobs.apart_job, engine.text(store.get(id).project), wait_s=60.0))

    @blueprint.get("/projects/<id>/joints/<joint>/map")
    def gap_map(id: str, joint: str) -> Response:
        """A joint's gap on both its halves, where they face each other."""
        text = engine.work(jobs.map_job, engine.text(store.get(id).project), joint, wait_s=60.0)
        return Response(text, mimetype="application/json")

    @blueprint.get("/projects/<id>/joints/<joint>/drawing")
    def drawing(id: str, joint: str) -> Response:
        """A joint's halves cut where its gap is least."""
        text = engine.work(jobs.drawing_job, engine.text(store.get(id).project), joint, wait_s=60.0)
        return Response(text, mimetype="application/json")

    @blueprint.post("/projects/<id>/say")
    def say(id: str) -> Response:
        """A step that is being written, as its sentence; what is not answered yet stays empty."""
        data = SayIn.model_validate(body())
        field_model(data.kind)
        step = Step(id="s0", kind=data.kind, fields=data.fields)
        try:
            said = segments(store.get(id).project, step)
        except (ValidationError, KeyError, TypeError, AttributeError):
            raise CommandError("That is no step that could be said.") from None
        return jsonify([s.as_dict() for s in said])

    @blueprint.post("/projects/<id>/begin")
    def begin(id: str) -> Response:
        data = BeginIn.model_validate(body())
        field_model(data.kind)
        kind = kind_of(Step(id="s0", kind=data.kind, fields={}))
        project = store.get(id).project
        meant = kind.begin(project, data.fields, data.answered) if kind.begin else {}
        if kind.suggest and data.answered:
            fields = json.dumps({**data.fields, **meant})
            found = engine.edit(
                id, jobs.suggest_job, engine.text(project), data.kind, fields, data.answered, data.after
            )
            meant |= json.loads(found)
        return jsonify({"fields": meant})

    @blueprint.post("/projects/<id>/lights")
    def lights(id: str) -> Response:
        """The things on the stage that a pick stands for, as the model is before a step."""
        data = LightsIn.model_validate(body())
        found = engine.edit(id, jobs.lights_job, engine.text(store.get(id).project), json.dumps(data.pick), data.before)
        return Response(found, mimetype="application/json")

    @blueprint.post("/projects/<id>/measure")
    def measure(id: str) -> Response:
        data = MeasureIn.model_validate(body())
        return Response(engine.measure(id, store.get(id).project, data.first, data.second), mimetype="application/json")

    @blueprint.post("/projects/<id>/drag")
    def drag(id: str) -> Response:
        data = DragIn.model_validate(body())
        return jsonify(drag_preview(store.get(id).project, data.step, data.id, data.to))

    @blueprint.post("/projects/<id>/figures")
    def figures(id: str) -> Response:
        data = FiguresIn.model_validate(body())
        return jsonify({"figures": lengths(store.get(id).project, data.formulas)})

    @blueprint.post("/projects/<id>/look")
    def look(id: str) -> Response:
        data = LookIn.model_validate(body())
        project = store.get(id).project
        seen = engine.edit(id, jobs.look_job, engine.text(project), data.step, data.pick.model_dump_json(), data.what)
        return Response(seen, mimetype="application/json")

    @blueprint.post("/projects/<id>/keep")
    def keep(id: str) -> Response:
        """Cut a step off from a part that it takes whole: that stays as it is now, as a file that is kept with the project."""
        asked = KeepIn.model_validate(body())
        data, name, names = engine.edit(id, jobs.keep_job, engine.text(store.get(id).project), asked.step, asked.path)
        if len(data) > LARGEST_BROUGHT_BYTES:
            raise CommandError(
                f"“{name}” is too large to be kept as a file: {LARGEST_BROUGHT_BYTES // 1024**2} MB are the most."
            )
        file = {"hash": store.keep_file(data), "name": file_name("{part}", "", name, "step")}
        command = KeepShape.model_validate({"step": asked.step, "path": asked.path, "file": file, "names": names})
        return recorded(store.commit(id, asked.seen, command), asked.seen)

    @blueprint.post("/projects/<id>/files")
    def add_file(id: str) -> Response:
        """Keep a STEP, STL or 3MF file (the body), once it is known that it can be read; what solids it holds."""
        store.get(id)
        name, data = request.args.get("name", "")[:200], request.get_data()
        if not data:
            raise FileError("That file is empty.")
        if request.args.get("what") == "image":
            if len(data) > LARGEST_BROUGHT_BYTES:
                raise FileError(f"A picture has at most {LARGEST_BROUGHT_BYTES // 1024**2} MB.")
            image_of(data)
            return jsonify({"hash": store.keep_file(data), "name": name, "solids": []})
        try:
            solids = engine.work(
                jobs.brought_job, data, name, request.args.get("unit", "mm"), wait_s=2 * OUTLINE_S, limit_s=OUTLINE_S
            )
        except WorkerDied:
            raise FileError("That file takes too long to read, or too much memory; simplify it first.") from None
        return jsonify({"hash": store.keep_file(data), "name": name, "solids": solids})

    @blueprint.get("/projects/<id>/files/<hash>")
    def image_file(id: str, hash: str) -> Response:
        """An image that was brought in, as it came. Nothing else is given out so."""
        store.get(id)
        found = store.file(hash)
        if found is None:
            raise FileError("That picture is not there any more.")
        data = unpack(found)
        image = image_of(data)
        return download(f"picture.{image.kind}", image.media, data)

    @blueprint.post("/projects/<id>/outline")
    def outline(id: str) -> Response:
        """The curves of a DXF or SVG file, ready to be drawn, and what was left out of it."""
        data = OutlineIn.model_validate(body())
        store.get(id)
        words = (data.name, data.text, data.unit, data.scale)
        try:
            found = engine.work(jobs.outline_in_job, *words, wait_s=2 * OUTLINE_S, limit_s=OUTLINE_S)
        except WorkerDied:
            raise FileError("That file takes too long to read, or too much memory; simplify it first.") from None
        return Response(found, mimetype="application/json")

    @blueprint.post("/projects/<id>/outline/export")
    def outline_export(id: str) -> Response:
        data = OutlineExportIn.model_validate(body())
        project = store.get(id).project
        step = project.step(data.step)
        if step is None:
            raise CommandError("That sketch is not there any more.")
        file = engine.edit(id, jobs.outline_job, engine.text(project), data.step, data.format, data.unit)
        name = file_name("{project} {part}", project.name, step.name or "outline", data.format)
        return download(name, OUTLINE_TYPES[data.format], file)

    @functools.cache
    def samples() -> dict[str, Project]:
        return {name: sample.make() for name, sample in SAMPLES.items()}

    def shown_picture(made: bytes | None) -> Response:
        if made is None:
            return problem(404, "No picture yet", "There is no picture of that project yet; open it once.")
        response = Response(made, mimetype="image/png")
        response.headers["Cache-Control"] = "no-cache"
        response.set_etag(hashlib.sha256(made).hexdigest()[:20])
        response.make_conditional(request)
        return response

    @blueprint.get("/projects/<id>/picture")
    def project_picture(id: str) -> Response:
        project = store.get(id).project
        made = engine.picture(id, project)
        if made is None:
            # a sample that nobody opened yet looks as its sample does
            same = next((n for n, s in samples().items() if s == project), None)
            made = picture_of(same) if same else None
        return shown_picture(made)

    @blueprint.get("/samples")
    def shelf() -> Response:
        return jsonify([{"name": n, "title": s.title, "about": s.about, "first": s.first} for n, s in SAMPLES.items()])

    @blueprint.get("/samples/<name>/picture")
    def sample_picture(name: str) -> Response:
        _sample(name)
        return shown_picture(picture_of(name))

    @blueprint.get("/projects/<id>/file")
    def file(id: str) -> Response:
        project = store.get(id).project
        made = bundled(with_files(project, store.file))
        return download(file_name("{project}", project.name, "", made.ending), made.media, made.data)

    @blueprint.post("/projects/<id>/export")
    def export(id: str) -> Response:
        data = ExportIn.model_validate(body())
        project = store.get(id).project
        files = engine.export(project, data.parts, data.format, data.unit, data.pattern, data.laid, data.together)
        return packed(project.name, files)

    @blueprint.get("/mesh/<hash>")
    def mesh(hash: str) -> Response:
        blob = engine.blob(hash)
        if blob is None:
            raise CommandError("That mesh is not there; reload.")
        response = Response(blob, mimetype="application/octet-stream")
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response

    @blueprint.get("/events")
    def events() -> Response:
        """Server-sent events of ``?project=``, or of all; 503 when there are too many streams already."""
        after = _number(request.headers.get("Last-Event-ID", ""))
        gone = request.environ.get("waitress.client_disconnected", lambda: False)
        try:
            stream = hub.stream(request.args.get("project", ""), after, gone, request.remote_addr or "")
        except TooMany:
            return problem(
                503, "Too many windows", "Too many windows listen at once; this one asks now and then instead."
            )
        return Response(stream, mimetype="text/event-stream", headers={"Cache-Control": "no-store"})

    @blueprint.get("/events/since")
    def events_since() -> Response:
        """What happened after ``?after=NUMBER``, at once."""
        newest, found = hub.since(request.args.get("project", ""), _number(request.args.get("after", "")))
        told = [{"event": event, "data": json.loads(text)} for event, text in found]
        return jsonify({"newest": newest, "events": told})

    return blueprint


def _number(text: str) -> int:
    """A whole number as it may come from outside; 0 for anything else."""
    return int(text) if text.isascii() and text.isdigit() and len(text) < 16 else 0
