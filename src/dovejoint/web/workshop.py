"""Routes of the measured world: estimates and plates, prints on the simulated printer, readings, verdicts, proposals, revisions."""

from __future__ import annotations

import json
from typing import Any

from flask import Blueprint, Response, jsonify, request

from ..core.document import PrintSettings, Profile, Project, command_from
from ..core.errors import CommandError
from ..core.fits.stepped import best_gap
from ..core.joints import assess_by_formula
from ..core.joints.other_gap import draw_gap
from ..core.printing.coupons import COUPONS, mating_on
from ..core.profiles import profile_of
from ..core.profiles.catalogue import catalogue, make_profile
from ..core.profiles.learn import SizeReading
from ..core.profiles.plausible import doubt
from ..core.quantities import LENGTH, evaluate, with_unit
from ..engine import Engine, jobs
from ..simulator import Workshop
from ..store import Committed, ProjectStore, Trial, WorkshopStore
from .body import body
from .events import EventHub
from .files import packed
from .learning import feature_of, joint_evidence, lesson, lesson_report, stepped_evidence, trial_report
from .shapes import (
    DrawnIn,
    LayerIn,
    NoteIn,
    ProfileIn,
    ReadingIn,
    ReadingStateIn,
    RestoreIn,
    RevisionIn,
    SeenIn,
    TrialIn,
    VerdictIn,
)

__all__ = ["workshop"]


def _json(text: str) -> Response:
    return Response(text, mimetype="application/json")


def workshop(
    projects: ProjectStore, store: WorkshopStore, engine: Engine, hub: EventHub, devices: Workshop, recorded: Any
) -> Blueprint:
    """``recorded`` acknowledges a committed project, as the routes of projects do."""
    blueprint = Blueprint("workshop", __name__, url_prefix="/api")

    def told(project: str) -> None:
        hub.send(project, "workshop", {})

    def commit(id: str, seen: int, command: dict[str, Any]) -> Response:
        answer: Response = recorded(projects.commit(id, seen, command_from(command)), seen)
        return answer

    def share(trial: Trial) -> float | None:
        job = devices.job(trial.id)
        return job.share if job is not None and trial.state == "printing" else None

    def report(trial: Trial) -> dict[str, Any]:
        return trial_report(store, trial, share(trial))

    # ---- printers ----------------------------------------------------------------------------------------------

    @blueprint.get("/catalogue")
    def printers() -> Response:
        """Printers, nozzles, materials and coupons that one can choose."""
        coupons = [{"kind": k, "title": title, "about": about} for k, (title, about) in COUPONS.items()]
        return jsonify({**catalogue(), "coupons": coupons})

    @blueprint.post("/projects/<id>/profile")
    def choose_profile(id: str) -> Response:
        """Rest the gaps on another printer, nozzle and material, or print with other settings."""
        data = ProfileIn.model_validate(body())
        present = profile_of(projects.get(id).project)
        if data.printer is not None:
            number = store.next_profile_number()
            profile = make_profile(
                f"pr{number}", data.printer, data.nozzle_mm, data.material, data.machine or present.machine, data.tuned
            )
            if (profile.printer, profile.nozzle_mm, profile.material) == (
                present.printer,
                present.nozzle_mm,
                present.material,
            ):
                # only what is known of it changes, not how it prints
                profile = profile.model_copy(update={"settings": present.settings})
            store.keep_profile(profile, profile.source)
        else:
            settings = PrintSettings.model_validate({**present.settings.model_dump(), **data.settings})
            profile = present.model_copy(update={"settings": settings, "machine": data.machine or present.machine})
        return commit(id, data.seen, {"do": "SetProfile", "profile": profile.model_dump(mode="json")})

    # ---- before the print --------------------------------------------------------------------------------------

    @blueprint.get("/projects/<id>/prints")
    def prints(id: str) -> Response:
        """What printing takes: ?parts=p1,p2 (all printed ones without); with ?places=1 only where they lie on the bed, at once."""
        parts = [p for p in request.args.get("parts", "").split(",") if p]
        worked = request.args.get("places") != "1"
        return _json(engine.heavy(projects.get(id).project, jobs.print_job, parts, worked))

    @blueprint.get("/projects/<id>/layer")
    def layer(id: str) -> Response:
        data = LayerIn.model_validate({"part": request.args.get("part", ""), "layer": request.args.get("layer", 1)})
        return _json(engine.heavy(projects.get(id).project, jobs.layer_job, data.part, data.layer))

    @blueprint.get("/projects/<id>/coupons/<kind>")
    def coupon(id: str, kind: str) -> Response:
        """A coupon for the project's printer: its document, estimate, features, and the model to look at."""
        made = json.loads(engine.work(jobs.coupon_job, engine.text(projects.get(id).project), kind))
        document = Project.model_validate(made["document"])
        return jsonify({**made, "report": json.loads(engine.look(id, "coupon", document))})

    @blueprint.get("/projects/<id>/coupons/<kind>/export")
    def export_coupon(id: str, kind: str) -> Response:
        made = json.loads(engine.work(jobs.coupon_job, engine.text(projects.get(id).project), kind))
        format = request.args.get("format", "3mf")
        document = Project.model_validate(made["document"])
        files = engine.export(document, [], format, "mm", "{project} {part}", True, format == "3mf")
        return packed(made["title"], files)

    # ---- trials ------------------------------------------------------------------------------------------------

    @blueprint.get("/projects/<id>/workshop")
    def diary(id: str) -> Response:
        """The print diary, the revisions, and what was learnt of the printer."""
        found = projects.get(id)
        return jsonify(
            {
                "revisions": [r.__dict__ for r in store.revisions(id)],
                "frozen": store.revision_of(id, found.project),
                "trials": [report(t) for t in store.trials(id)],
                "lesson": lesson_report(store, found.project, lesson(store, found.project), engine.openings_mm(id)),
            }
        )

    def freeze_if_new(found: Committed, note: str) -> int:
        """The revision that holds the present state; a new one when it changed since the last."""
        number = store.revision_of(found.id, found.project)
        return number if number is not None else store.freeze(found.id, found.project, note).number

    @blueprint.post("/projects/<id>/trials")
    def print_trial(id: str) -> Response:
        """Print parts, or a coupon, on the simulated printer or on one's own. What is printed is frozen as a revision."""
        data = TrialIn.model_validate(body())
        found = projects.get(id)
        profile = profile_of(found.project)
        document = engine.text(found.project)
        if data.coupon:
            printed = json.loads(engine.work(jobs.coupon_job, document, data.coupon))
            printed.pop("document")
            revision = None
        else:
            # whoever prints waits for all layers, also on a machine that does much else
            printed = json.loads(engine.heavy(found.project, jobs.print_job, data.parts, wait_s=600.0))
            if not printed["parts"]:
                raise CommandError("There is no part to print yet.")
            revision = freeze_if_new(found, data.note or "as printed")
        wrong = next((p["message"] for p in printed["parts"] if p["message"]), "")
        if wrong:
            raise CommandError(wrong)
        trial = store.begin_trial(
            id,
            profile,
            printed,
            revision=revision,
            coupon=data.coupon,
            simulated=data.device == "simulated",
            note=data.note,
        )
        if data.device == "simulated":
            pieces = [{"part": p["id"], "features": p["features"]} for p in printed["parts"]]

            def finished(state: str, made: dict[str, str]) -> None:
                store.end_trial(trial.id, state, made)
                told(id)

            devices.print(trial.id, profile.machine, pieces, printed["total"]["time_s"], finished)
        told(id)
        return jsonify(report(store.trial(trial.id)))

    @blueprint.get("/trials/<trial>")
    def show_trial(trial: str) -> Response:
        return jsonify(report(store.trial(trial)))

    @blueprint.get("/trials/<trial>/best")
    def best(trial: str) -> Response:
        """Of a joint that was tried at stepped gaps: the gap that is best by what is known now, and its chance."""
        found = store.trial(trial)
        tried = stepped_evidence(store.verdicts(trial))
        if tried is None:
            raise CommandError("Nothing was said yet of how this joint went at its gaps.")
        profile = lesson(store, projects.get(found.project).project).learnt.profile
        drawn, share = best_gap(tried, profile)
        return jsonify({"drawn_mm": drawn, "chance": share})

    @blueprint.post("/trials/<trial>/stop")
    def stop_trial(trial: str) -> Response:
        """Stop a print under way; nothing comes of it."""
        devices.stop(store.trial(trial).id)
        return jsonify({})

    @blueprint.post("/trials/<trial>/note")
    def note_trial(trial: str) -> Response:
        store.note_trial(trial, NoteIn.model_validate(body()).note)
        told(store.trial(trial).project)
        return jsonify(report(store.trial(trial)))

    @blueprint.delete("/trials/<trial>")
    def remove_trial(trial: str) -> Response:
        """Remove a print with its readings and verdicts."""
        found = store.trial(trial)
        devices.stop(trial)
        store.remove_trial(trial)
        told(found.project)
        return jsonify({})

    # ---- readings ----------------------------------------------------------------------------------------------

    def read_by_caliper(trial: Trial, feature: str) -> float:
        part = next(p["id"] for p in trial.printed["parts"] if any(f["id"] == feature for f in p["features"]))
        piece = trial.printed.get("pieces", {}).get(part)
        if piece is None:
            raise CommandError("Only what the simulated printer made can be read with its caliper; type the reading.")
        try:
            return devices.measure(piece, feature)
        except KeyError:
            raise CommandError("The simulated piece is not there any more.") from None

    @blueprint.post("/trials/<trial>/readings")
    def measure(trial: str) -> Response:
        """A reading that was typed (with a unit, or in the project's), or one of the simulated caliper."""
        data = ReadingIn.model_validate(body())
        found = store.trial(trial)
        if found.state != "done":
            raise CommandError("There is nothing to measure until the print is done.")
        if data.caliper:
            figure, source = read_by_caliper(found, data.feature), "caliper"
        else:
            unit = projects.get(found.project).project.unit
            figure, source = evaluate(with_unit(data.text, LENGTH, unit), {}, LENGTH).value, "typed"
            if not 0 < figure < 10_000:
                raise CommandError("A reading is a length above zero.", field="reading")
            feature = feature_of(found, data.feature)
            said = SizeReading(
                feature["role"], tuple(feature["direction"]), feature["drawn_mm"], figure, trial, feature["round_hole"],
                foot=bool(feature.get("foot_of")), chamfer_mm=feature.get("chamfer_mm", 0.0),
            )  # fmt: skip
            question = doubt(profile_of(projects.get(found.project).project), said)
            if question and not data.sure:
                raise CommandError(question, field="reading")
        store.add_reading(trial, data.feature, figure, devices.caliper.resolution, source)
        told(found.project)
        return jsonify(report(store.trial(trial)))

    @blueprint.post("/trials/<trial>/caliper")
    def measure_all(trial: str) -> Response:
        """Read everything that has no reading yet with the simulated caliper."""
        found = store.trial(trial)
        have = {r.feature for r in store.readings(trial)}
        for part in found.printed["parts"]:
            for f in part["features"]:
                if f["id"] not in have and f.get("read", True):
                    store.add_reading(
                        trial, f["id"], read_by_caliper(found, f["id"]), devices.caliper.resolution, "caliper"
                    )
        told(found.project)
        return jsonify(report(store.trial(trial)))

    @blueprint.post("/readings/<int:reading>")
    def exclude(reading: int) -> Response:
        """Leave a reading out of the learning, or count it again."""
        row = store.reading(reading)
        store.exclude_reading(reading, ReadingStateIn.model_validate(body()).excluded)
        told(store.trial(row.trial).project)
        return jsonify(report(store.trial(row.trial)))

    @blueprint.delete("/readings/<int:reading>")
    def remove_reading(reading: int) -> Response:
        row = store.reading(reading)
        store.remove_reading(reading)
        told(store.trial(row.trial).project)
        return jsonify(report(store.trial(row.trial)))

    # ---- verdicts ----------------------------------------------------------------------------------------------

    def climbed(trial: Trial, said: int | None) -> None:
        """A ladder: how many openings took the plug."""
        ladder = trial.printed["ladder_mm"]
        went, source = said, "said"
        if went is None:
            pieces = trial.printed.get("pieces", {})
            ids = [p["id"] for p in trial.printed["parts"]]
            if not all(p in pieces for p in ids):
                raise CommandError(
                    "Only what the simulated printer made can be tried here; say how many took the plug."
                )
            went, source = devices.climb(pieces[ids[0]], pieces[ids[1]]), "simulated"
        if not 0 <= went <= len(ladder):
            raise CommandError(f"The ladder has {len(ladder)} openings.")
        mating = mating_on(trial.coupon)  # type: ignore[arg-type]
        ways = [[list(outer), list(inner), size] for outer, inner, size in mating.ways]
        evidence = {
            "ladder_mm": ladder, "ways": ways, "flare_mm": 0.0, "flare_unsure_mm": 0.0, "round_hole": mating.round_hole,
        }  # fmt: skip
        store.add_verdict(trial.id, "ladder", f"{went} of {len(ladder)} went in", went, source, evidence)

    @blueprint.post("/projects/<id>/verdicts")
    def judge(id: str) -> Response:
        """How a joint behaved: said, or tried with the simulated pieces. Its halves are the newest printed ones."""
        data = VerdictIn.model_validate(body())
        if data.trial and not data.joint:
            trial = store.trial(data.trial)
            climbed(trial, data.went_in)
            told(id)
            return jsonify(report(store.trial(trial.id)))
        outer, inner = halves_of(data.trial, data.joint) if data.trial else newest_halves(id, data.joint)
        evidence = joint_evidence(outer, inner, data.joint)
        later = max((outer, inner), key=lambda t: t.number)
        verdict: str = data.verdict
        source = "said"
        if not verdict:
            # a half that is not printed needs no piece: it is as it was drawn
            pieces = [
                t.printed.get("pieces", {}).get(_half(t, data.joint, side)) if is_printed else ""
                for t, side, is_printed in zip((outer, inner), ("outer", "inner"), evidence["printed"], strict=True)
            ]
            if None in pieces:
                raise CommandError("Only what the simulated printer made can be tried here; say how it went.")
            outcome, source = devices.put_together(str(pieces[0]), str(pieces[1]), evidence), "simulated"
            verdict, evidence["says"] = outcome.verdict, outcome.says
        store.add_verdict(later.id, data.joint, verdict, None, source, evidence)
        told(id)
        return jsonify(report(store.trial(later.id)))

    def halves_of(trial: str, step: str) -> tuple[Trial, Trial]:
        """Both halves of one print, as of a joint at one of its stepped gaps."""
        found = store.trial(trial)
        if found.state != "done":
            raise CommandError("There is nothing to try until the print is done.")
        return found, found

    def newest_halves(id: str, step: str) -> tuple[Trial, Trial]:
        done = [t for t in reversed(store.trials(id)) if t.state == "done" and not t.coupon]
        halves = [
            next((t for t in done if _half(t, step, side) or _is_bought(t, step, half)), None)
            for half, side in enumerate(("outer", "inner"))
        ]
        if halves[0] is None or halves[1] is None:
            raise CommandError("Print both halves of the joint before you try it.")
        return halves[0], halves[1]

    @blueprint.delete("/verdicts/<int:verdict>")
    def remove_verdict(verdict: int) -> Response:
        trial = store.remove_verdict(verdict)
        told(trial.project)
        return jsonify(report(trial))

    @blueprint.post("/projects/<id>/joints/<joint>/drawn")
    def draw(id: str, joint: str) -> Response:
        """Draw the gap at which a joint went well: its wanted band becomes its own, so that this is what is drawn."""
        data = DrawnIn.model_validate(body())
        project = projects.get(id).project
        found = lesson(store, project)
        if found.proposal is not None and not found.dismissed:
            raise CommandError(
                "What was tried proposes a correction of the printer, which moves this gap too: accept it or set it aside first."
            )
        reports = assess_by_formula(project, engine.openings_mm(id))
        now = next((r.drawn for r in reports if r.step == joint), None)
        if now is None:
            raise CommandError("That joint is not there any more, or could not be made.")
        return commit(id, data.seen, draw_gap(project, joint, data.drawn_mm - now.gap_mm))

    # ---- proposals ---------------------------------------------------------------------------------------------

    @blueprint.post("/projects/<id>/proposal/accept")
    def accept(id: str) -> Response:
        """Follow the proposal: a new version of the profile, and the gaps that rest on it. Undo takes it back."""
        seen = SeenIn.model_validate(body()).seen
        found = lesson(store, projects.get(id).project)
        if found.proposal is None:
            raise CommandError("There is no proposal: measure something first.")
        versions = store.profile_versions(found.present.id)
        number = max([found.present.version, *(p.version for p, _, _ in versions)]) + 1
        profile: Profile = found.proposal.profile.model_copy(update={"version": number})
        store.keep_profile(found.prior, found.prior.source)
        store.keep_profile(profile, found.proposal.reason)
        answer = commit(id, seen, {"do": "SetProfile", "profile": profile.model_dump(mode="json")})
        told(id)
        return answer

    @blueprint.post("/projects/<id>/proposal/dismiss")
    def dismiss(id: str) -> Response:
        """Set the proposal aside until there is new evidence; asked again, take it up again."""
        found = lesson(store, projects.get(id).project)
        if found.dismissed:
            store.recall(found.present.id, found.mark)
        else:
            store.dismiss(found.present.id, found.mark)
        told(id)
        return jsonify({})

    # ---- revisions ---------------------------------------------------------------------------------------------

    @blueprint.post("/projects/<id>/revisions")
    def freeze(id: str) -> Response:
        data = RevisionIn.model_validate(body())
        found = projects.get(id)
        same = store.revision_of(id, found.project)
        if same is not None:
            # nothing changed since: the note is put on what is there
            store.note_revision(id, same, data.note)
        else:
            store.freeze(id, found.project, data.note)
        told(id)
        return jsonify([r.__dict__ for r in store.revisions(id)])

    def state_of(id: str, which: str) -> Project:
        if which == "now":
            return projects.get(id).project
        if not which.isdigit():
            raise CommandError("A revision has a number.")
        return store.frozen(id, int(which))

    @blueprint.get("/projects/<id>/compare")
    def compare_revisions(id: str) -> Response:
        """Two states side by side: ?from=1&to=now."""
        one, two = (state_of(id, request.args.get(k, "now")) for k in ("from", "to"))
        return _json(engine.work(jobs.compare_job, engine.text(one), engine.text(two)))

    @blueprint.get("/projects/<id>/revisions/<int:number>/evaluation")
    def look_at_revision(id: str, number: int) -> Response:
        """The model as it was frozen."""
        return _json(engine.look(id, "revision", store.frozen(id, number)))

    @blueprint.post("/projects/<id>/revisions/<int:number>/restore")
    def restore(id: str, number: int) -> Response:
        """Go back to a revision; like any change it can be taken back."""
        data = RestoreIn.model_validate(body())
        document = store.frozen(id, number).model_dump(mode="json")
        return commit(id, data.seen, {"do": "RestoreDocument", "document": document, "label": f"revision {number}"})

    return blueprint


def _is_bought(trial: Trial, step: str, half: int) -> bool:
    """Whether a half of a joint (0 the outer) was none that is printed when a trial was made."""
    return any(j["step"] == step and not j.get("printed", (True, True))[half] for j in trial.printed["joints"])


def _half(trial: Trial, step: str, side: str) -> str:
    """The part of a trial that holds one half of a joint, or nothing."""
    half = next((j[side] for j in trial.printed["joints"] if j["step"] == step), "")
    shared = next((j.get("shared") for j in trial.printed["joints"] if j["step"] == step), "") or step
    there = (p["id"] for p in trial.printed["parts"] if any(f["joint"] in (step, shared) for f in p["features"]))
    return half if half in there else ""
