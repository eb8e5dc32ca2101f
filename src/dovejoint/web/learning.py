"""What the kept readings and verdicts teach of the printer that a project rests on: rows of the store as evidence."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..core.document import Profile, Project, apply, command_from
from ..core.errors import CommandError
from ..core.joints import assess_by_formula
from ..core.profiles import Mating, profile_of, shipped_profile
from ..core.profiles.learn import Ladder, Learnt, SizeReading, Stepped, Tried, Verdict, learn
from ..core.profiles.lines import lines_of
from ..core.profiles.propose import Proposal, propose
from ..store import ReadingRow, Trial, VerdictRow, WorkshopStore

__all__ = ["Lesson", "joint_evidence", "lesson", "lesson_report", "stepped_evidence", "trial_report"]


@dataclass(frozen=True)
class Lesson:
    """All evidence on a project's printer, what is learnt from it, and the proposal that follows (if it changes anything)."""

    present: Profile
    prior: Profile
    readings: list[tuple[ReadingRow, SizeReading]]
    learnt: Learnt
    proposal: Proposal | None
    mark: str
    dismissed: bool


def feature_of(trial: Trial, feature: str) -> dict[str, Any]:
    """A feature of a trial. Raises CommandError when it has none such."""
    for part in trial.printed["parts"]:
        for found in part["features"]:
            if found["id"] == feature:
                return dict(found)
    raise CommandError("That print has no such feature.")


def _prior(store: WorkshopStore, present: Profile) -> Profile:
    versions = store.profile_versions(present.id)
    if versions and versions[0][0].version == 1:
        return versions[0][0]
    return shipped_profile(present.id) or present


def _size(row: ReadingRow, trial: Trial) -> SizeReading:
    f = feature_of(trial, row.feature)
    return SizeReading(
        f["role"], tuple(f["direction"]), f["drawn_mm"], row.measured_mm, trial.id, f["round_hole"], row.resolution_mm,
        f.get("foot_of") or row.feature, bool(f.get("foot_of")), f.get("chamfer_mm", 0.0),
    )  # fmt: skip


def _mating(evidence: dict[str, Any]) -> Mating:
    ways = tuple((tuple(o), tuple(i), size) for o, i, size in evidence["ways"])
    chamfers = tuple(evidence.get("flare_chamfers_mm", ()))
    outer, inner = evidence.get("printed", (True, True))
    depth, stands = bool(evidence.get("rests")), bool(evidence.get("stands"))
    return Mating(
        ways, evidence["flare_mm"], evidence["flare_unsure_mm"], evidence["round_hole"], chamfers, (outer, inner), turned=tuple(evidence.get("turned", ())),
        spots_mm=tuple((u, v) for u, v in evidence.get("spots_mm", ())), plane=tuple((tuple(o), tuple(i)) for o, i in evidence.get("plane", ())), rests=(True,) * len(ways) if depth else (), stands=stands,
    )  # fmt: skip


def _heard(row: VerdictRow) -> Verdict | Ladder:
    e = row.evidence
    if row.went_in is not None:
        return Ladder(tuple(e["ladder_mm"]), row.went_in, _mating(e))
    return Verdict(e["drawn_mm"], e["least_mm"], e["most_mm"], row.verdict, _mating(e), _zones(e), e.get("load"))  # type: ignore[arg-type]


def stepped_evidence(rows: Sequence[VerdictRow]) -> Stepped | None:
    """The verdicts of a print on a joint at stepped gaps, tightest first, as one piece of evidence; ``None`` where there are none."""
    rows = sorted((v for v in rows if v.evidence.get("shared")), key=lambda v: v.evidence["drawn_mm"])
    if not rows:
        return None
    of = [v.evidence for v in rows]
    middle = of[len(of) // 2]
    return Stepped(
        tuple(e["drawn_mm"] for e in of), tuple(v.verdict for v in rows), tuple(e.get("load") for e in of),  # type: ignore[misc]
        middle["least_mm"], middle["most_mm"], _mating(middle), _zones(middle),
    )  # fmt: skip


def _zones(evidence: dict[str, Any]) -> tuple[tuple[tuple[float, float, float], ...], ...]:
    return tuple(tuple((g, x, y) for g, x, y in zone) for zone in evidence.get("sides", []))


def joint_evidence(outer: Trial, inner: Trial, step: str) -> dict[str, Any]:
    """What a verdict on a joint rests on: the gap drawn between the two printed halves, its need, and how they lay.

    Raises
    ------
    CommandError : one of the prints does not hold its half.
    """
    joint = next((j for j in inner.printed["joints"] if j["step"] == step), None) or next(
        (j for j in outer.printed["joints"] if j["step"] == step), None
    )
    if joint is None:
        raise CommandError("That joint was not there yet when this was printed.")
    sides: dict[str, dict[str, dict[str, Any]]] = {"outer": {}, "inner": {}}
    printed = joint.get("printed", [True, True])
    as_drawn: dict[str, dict[str, float]] = {"outer": {}, "inner": {}}
    for half, (who, trial, is_printed) in enumerate(zip(("outer", "inner"), (outer, inner), printed, strict=True)):
        if is_printed:
            mine = [f for part in trial.printed["parts"] for f in part["features"] if f["joint"] in (step, joint.get("shared") or step) and f["part"] == joint[who]]  # fmt: skip
            for f in mine:
                sides[f["side"]][f["id"].rsplit(":", 1)[1]] = f
        else:
            for side, way, f in _as_drawn(joint, half):
                sides[side][way] = f
                as_drawn[side][way] = f["drawn_mm"]
    rests = bool(joint.get("rests"))
    if rests and sides["outer"]:
        # a depth within one half, as if nothing stood in an opening twice as wide
        doubled = 1.0 if as_drawn["outer"] else 2.0
        as_drawn = {"outer": {k: mm / 2 for k, mm in as_drawn["outer"].items()}, "inner": {}}
        sides["inner"] = {k: {**f, "drawn_mm": 0.0} for k, f in sides["outer"].items()}
        sides["outer"] = {k: {**f, "drawn_mm": doubled * f["drawn_mm"]} for k, f in sides["outer"].items()}
    shared = sorted(sides["outer"].keys() & sides["inner"].keys())
    if not shared:
        raise CommandError("Print both halves of the joint before you try it.")
    gaps = [(sides["outer"][k]["drawn_mm"] - sides["inner"][k]["drawn_mm"]) / 2 for k in shared]
    # two ways a zone; where the halves meet in one only, that one twice; where nothing of a zone was printed to a size, as it was drawn
    ways = []
    for z in range(len(joint["ways"]) // 2):
        for n, way in enumerate("xy"):
            k = next((k for k in (f"{w}{z or ''}" for w in (way, "x", "y")) if k in shared), None)
            ways.append(
                list(joint["ways"][2 * z + n])
                if k is None or rests
                else [sides["outer"][k]["direction"], sides["inner"][k]["direction"], sides["outer"][k]["drawn_mm"]]
            )
    drawn = {k: (sides["outer"][k]["drawn_mm"], sides["inner"][k]["drawn_mm"]) for k in shared}
    spots = joint.get("spots_mm", ())
    # the frame as both halves were printed; where its zones meet in one direction only, as they lay when the joint was last made
    plane = [next(([sides[side][k]["direction"] for side in ("outer", "inner")] for k in shared if k[0] == way), joint["ways"]["xy".index(way)][:2]) for way in "xy"]  # fmt: skip
    return {
        "sides": _sides_between(joint, drawn), "drawn_by_way_mm": {k: (a - b) / 2 for k, (a, b) in drawn.items()},
        "drawn_mm": sum(gaps) / len(gaps), "least_mm": joint["least_mm"], "most_mm": joint["most_mm"], "ways": ways,
        "flare_mm": joint["flare_mm"], "flare_unsure_mm": joint["flare_unsure_mm"], "round_hole": joint["round_hole"],
        "flare_chamfers_mm": joint["flare_chamfers_mm"], "step": step, "acts": joint.get("acts"), "load": joint.get("load"), "outer_trial": outer.id, "inner_trial": inner.id,
        "spots_mm": list(spots), "plane": plane, "stands": bool(joint.get("stands")), "rests": rests,
        "shared": joint.get("shared", ""), "printed": printed, "as_drawn_mm": as_drawn, "turned": [_swapped(joint, n // 2) for n in range(len(ways))],
    }  # fmt: skip


def _swapped(joint: dict[str, Any], zone: int) -> bool:
    """Whether in a zone the joint's inner half is the outer one."""
    return any(joint.get("swapped", ())[zone : zone + 1])


def _as_drawn(joint: dict[str, Any], half: int) -> Iterator[tuple[str, str, dict[str, Any]]]:
    """The mating sizes of a half that is not printed, as if they were features of a print: side, way and feature."""
    for zone, sizes in enumerate(joint["sizes_mm"]):
        role = 1 - half if _swapped(joint, zone) else half
        for k, way in enumerate("xy"):
            f = {"drawn_mm": sizes[role][k], "direction": joint["ways"][2 * zone + k][role]}
            yield ("outer", "inner")[role], f"{way}{zone or ''}", f


def _sides_between(
    joint: dict[str, Any], drawn: dict[str, tuple[float, float]]
) -> list[list[tuple[float, float, float]]]:
    """The drawn gaps on all sides of each zone, moved by what the halves that were printed differ from those they were measured on."""
    out: list[list[tuple[float, float, float]]] = []
    for number, zone in enumerate(joint.get("sides", [])):
        if not any(f"{way}{number or ''}" in drawn for way in "xy"):
            # what only stands there was not tried
            out.append([])
            continue
        moved = []
        for k, way in enumerate("xy"):
            outer, inner = (joint["sizes_mm"][number][half][k] for half in (0, 1))
            now = drawn.get(f"{way}{number or ''}", (outer, inner))
            moved.append(((now[0] - outer) - (now[1] - inner)) / 2)
        out.append([(g + x * x * moved[0] + y * y * moved[1], x, y) for g, x, y in zone])
    return out


def lesson(store: WorkshopStore, project: Project) -> Lesson:
    """Gather the evidence on the project's printer and learn from it."""
    present = profile_of(project)
    trials = store.trials_with(present.id, present.machine)
    # once there are prints of a real printer, the simulated one that stood in for it teaches nothing of it any more
    trials = [t for t in trials if t.machine is None] or trials
    sizes: list[tuple[ReadingRow, SizeReading]] = []
    verdicts: list[VerdictRow] = []
    heard: list[Tried] = []
    for trial in trials:
        sizes += [(r, _size(r, trial)) for r in store.readings(trial.id)]
        rows = store.verdicts(trial.id)
        verdicts += rows
        heard += [_heard(v) for v in rows if not v.evidence.get("shared")]
        stepped = stepped_evidence(rows)
        heard += [stepped] if stepped is not None else []
    counted = [s for r, s in sizes if not r.excluded]
    prior = _prior(store, present)
    learnt = learn(prior, [*counted, *heard])
    mark = hashlib.sha256(
        json.dumps(
            [
                [(r.id, r.measured_mm) for r, _ in sizes if not r.excluded],
                [(v.id, v.verdict, v.went_in) for v in verdicts],
            ]
        ).encode()
    ).hexdigest()[:24]
    prints = len({s.print_id for s in counted} | {v.trial for v in verdicts})
    proposal = None
    if counted or verdicts:
        found = propose(present, learnt.profile, learnt.readings, learnt.verdicts, prints)
        proposal = found if found.worthwhile else None
    return Lesson(present, prior, sizes, learnt, proposal, mark, store.dismissed(present.id, mark))


def _printed_sizes(store: WorkshopStore, profile: Profile) -> dict[str, tuple[float, float]]:
    """How wide the openings of joints were when they were last printed."""
    out: dict[str, tuple[float, float]] = {}
    for trial in store.trials_with(profile.id, profile.machine):
        for joint in trial.printed["joints"]:
            if len(joint["ways"]) == 2:
                out[joint["step"]] = (float(joint["ways"][0][2]), float(joint["ways"][1][2]))
    return out


def _effects(project: Project, proposal: Proposal, sizes_mm: dict[str, tuple[float, float]]) -> list[dict[str, Any]]:
    """What a proposal does to each joint: drawn gap, chance, and the half that changes."""
    command = command_from({"do": "SetProfile", "profile": proposal.profile.model_dump(mode="json")})
    after = apply(project, command).project
    names = {p.id: p.name for p in project.parts}
    out = []
    for old, new in zip(assess_by_formula(project, sizes_mm), assess_by_formula(after, sizes_mm), strict=True):
        if old.drawn is None or new.drawn is None or old.chance is None or new.chance is None:
            continue
        step = project.step(old.step)
        takes = str(step.fields.get("takes", "inner")) if step else "inner"
        changed = (
            []
            if old.drawn == new.drawn
            else [p for p, side in zip(old.parts, ("outer", "inner"), strict=False) if takes in (side, "both")]
        )
        out.append({
            "joint": old.step, "name": old.name, "drawn_before_mm": old.drawn.gap_mm, "drawn_after_mm": new.drawn.gap_mm,
            "chance_before": old.chance.fits, "chance_after": new.chance.fits,
            "changes": [names.get(p, "") for p in changed],
        })  # fmt: skip
    return out


def trial_report(store: WorkshopStore, trial: Trial, share: float | None) -> dict[str, Any]:
    """A trial with its readings and verdicts, as plain data (no simulated piece says more than that it is there)."""
    printed = trial.printed
    readings: dict[str, list[dict[str, Any]]] = {}
    for r in store.readings(trial.id):
        readings.setdefault(r.feature, []).append(
            {"id": r.id, "measured_mm": r.measured_mm, "source": r.source, "excluded": r.excluded}
        )
    return {
        "id": trial.id, "number": trial.number, "revision": trial.revision, "coupon": trial.coupon, "title": printed.get("title", ""), "state": trial.state,
        "note": trial.note, "began": trial.began, "ended": trial.ended, "machine": trial.machine,
        "profile": trial.profile, "profile_version": trial.profile_version, "share": share,
        "time_s": printed["total"]["time_s"], "mass_g": printed["total"]["mass_g"], "ladder_mm": printed.get("ladder_mm", []),
        "parts": [
            {"id": p["id"], "name": p["name"], "features": [{**f, "readings": readings.get(f["id"], [])} for f in p["features"] if f.get("read", True)]}
            for p in printed["parts"]
        ],
        "joints": [
            {"step": j["step"], "name": j["name"], "outer": j["outer"], "inner": j["inner"], "drawn_mm": j["drawn_mm"]}
            for j in printed["joints"]
        ],
        "verdicts": [
            {"id": v.id, "joint": v.joint, "verdict": v.verdict, "went_in": v.went_in, "source": v.source, "says": v.evidence.get("says", "")} for v in store.verdicts(trial.id)
        ],
    }  # fmt: skip


def _suspicious(store: WorkshopStore, found: Lesson) -> list[dict[str, Any]]:
    """Readings that count for hardly anything because all others speak against them, to be read again."""
    counted = [row for row, _ in found.readings if not row.excluded]
    out = []
    for row in (counted[k] for k in found.learnt.suspicious):
        trial = store.trial(row.trial)
        feature = feature_of(trial, row.feature)
        out.append({
            "reading": row.id, "trial": row.trial, "number": trial.number, "feature": feature["name"],
            "drawn_mm": feature["drawn_mm"], "measured_mm": row.measured_mm,
        })  # fmt: skip
    return out


def lesson_report(
    store: WorkshopStore, project: Project, found: Lesson, openings_mm: Mapping[str, tuple[float, float]]
) -> dict[str, Any]:
    """What the Learn desk shows of the printer: lines, terms before and after, the proposal, versions. ``openings_mm`` is how wide the
    openings of joints were when they were last made."""
    proposal = found.proposal
    terms = proposal.terms if proposal is not None else propose(found.present, found.learnt.profile, 0, 0, 0).terms
    return {
        "profile": found.present.model_dump(mode="json"),
        "measured": found.learnt.readings + found.learnt.verdicts,
        "readings": found.learnt.readings,
        "verdicts": found.learnt.verdicts,
        "lines": [
            line.as_dict() for line in lines_of(found.learnt.profile, [s for r, s in found.readings if not r.excluded])
        ],
        "suspicious": _suspicious(store, found),
        "terms": [t.as_dict() for t in terms],
        "scatter_mm": {"common": found.learnt.profile.common_mm, "random": found.learnt.profile.random_mm},
        "proposal": None
        if proposal is None
        else {
            "version": proposal.profile.version,
            "reason": proposal.reason,
            "dismissed": found.dismissed,
            "joints": _effects(project, proposal, {**_printed_sizes(store, found.present), **openings_mm}),
        },
        "versions": [
            {"version": p.version, "reason": reason, "at": at, "outside_mm": p.outside_mm, "inside_mm": p.inside_mm}
            for p, reason, at in store.profile_versions(found.present.id)
        ],
    }
