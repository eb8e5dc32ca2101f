"""The evaluation as JSON: the same names in the API, in ``build --json`` and in docs/command-line.md."""

from __future__ import annotations

import hashlib
import json
import math
from collections.abc import Mapping, Sequence
from typing import Any

from .. import solid as kernel
from ..document import Part, Project, Step
from ..document.compiled import CompiledStep, compiled
from ..joints import JointReport
from ..profiles.catalogue import density_of
from ..quantities import ValueResult, show
from ..recipe import (
    Dimension,
    Evaluation,
    FieldSpec,
    LimitStates,
    PartState,
    SketchShape,
    StepKind,
    all_kinds,
    uses_of_values,
)
from ..recipe.called import resized
from ..recipe.labels import of_part
from ..recipe.names import seen_edge, seen_face
from ..recipe.picks import Namer, all_picks
from ..recipe.registry import Said, new_part_when, segments_with
from ..sketch import Sketch, calling
from ..sketch.outlines import pieces_of
from ..solid import Frame, Line, OpenEnd
from ..solid.outline import Vec2, place_at

__all__ = [
    "build_report",
    "kinds_report",
    "part_blob",
    "picks_report",
    "frame_report",
    "sketch_report",
    "things_report",
    "values_report",
]


def values_report(project: Project, table: dict[str, ValueResult]) -> list[dict[str, Any]]:
    """All values: ``figure`` in mm or rad, ``text`` in the project's unit, or ``error``; and the steps that rest on each."""
    out, uses = [], uses_of_values(project)
    for value in project.values:
        result = table[value.name]
        out.append(
            {
                "id": value.id,
                "name": value.name,
                "formula": value.formula,
                "figure": result.quantity.value if result.quantity else None,
                "text": show(result.quantity, project.unit) if result.quantity else "",
                "error": result.error or "",
                "uses": uses[value.name],
            }
        )
    return out


def steps_report(project: Project, before: Project | None = None) -> dict[str, dict[str, Any]]:
    """All steps as their sentences, with the parts that they make, change and read; with ``before`` only those said otherwise there."""
    namer = Namer(project)
    if before is None:
        return {read.id: _said_step(namer, read) for read in compiled(project)}
    earlier, old = Namer(before), compiled(before)
    out = {}
    for read in compiled(project):
        was = old.of(read.id)
        if was is read and earlier.key == namer.key:
            continue
        said = _said_step(namer, read)
        if was is None or said != _said_step(earlier, was):
            out[read.id] = said
    return out


def _said_step(namer: Namer, read: CompiledStep) -> dict[str, Any]:
    """One step as its sentence; said once for each way in which parts and steps are called."""
    memo = read.memo.get("said")
    if memo is not None and memo[0] == namer.key:
        return dict(memo[1])
    pieces = segments_with(namer, read.step)
    said = {
        "sentence": "".join(p.text for p in pieces if not p.hidden),
        "segments": [p.as_dict() for p in pieces],
        "makes": list(read.makes),
        "changes": list(read.changes),
        "reads": list(read.reads),
    }
    read.memo["said"] = (namer.key, said)
    return dict(said)


def dimensions_report(found: Sequence[Dimension], states: LimitStates) -> list[dict[str, Any]]:
    """All toleranced dimensions: nominal figure and deviations (mm, rad), and the state that each is asked to be in."""
    return [
        {
            "id": d.id, "name": d.name, "tolerance": d.text, "kind": d.kind, "parts": list(d.parts), "error": d.error,
            "nominal": d.limits.nominal if d.limits else None, "lower": d.limits.lower if d.limits else None,
            "upper": d.limits.upper if d.limits else None, "state": states.dimensions.get(d.id, ""),
        }
        for d in found
    ]  # fmt: skip


def build_report(
    project: Project,
    evaluation: Evaluation,
    joints: Sequence[JointReport],
    found: Sequence[Dimension] = (),
    states: LimitStates | None = None,
    said: bool = True,
    weighed: bool = True,
) -> dict[str, Any]:
    """The whole evaluation as plain data (shape in docs/command-line.md).

    ``said=False`` leaves out the steps' sentences (the page has them from the project's state), ``weighed=False`` what takes long to
    find of parts: their mass and whether they are sound.
    """
    states = states or LimitStates()
    namer = Namer(project)
    now = {
        report.id: _called_now(namer, step, report.called)
        for step, report in zip(project.recipe, evaluation.steps, strict=True)
        if report.called
    }
    return {
        "project": project.name,
        "values": values_report(project, evaluation.values),
        "steps": [
            {
                "id": report.id,
                "number": i + 1,
                "kind": step.kind,
                "name": step.name,
                "sentence": "".join(
                    p.text for p in segments_with(namer, now.get(step.id, (step, {}))[0]) if not p.hidden
                )
                if said
                else "",
                "state": report.state,
                "message": report.message,
                "field": report.field,
                "figures": report.figures,
                "things": list(report.things),
                "called": now[step.id][1] if step.id in now else {},
            }
            for i, (step, report) in enumerate(zip(project.recipe, evaluation.steps, strict=True))
        ],
        "parts": [
            _part(part, evaluation.parts[part.id], weighed) for part in project.parts if part.id in evaluation.parts
        ],
        "gone": evaluation.gone,
        "joints": [j.as_dict() for j in joints],
        "dimensions": dimensions_report(found, states),
        "limits": states.as_dict(),
        "ok": _all_well(project, evaluation, weighed),
    }


def _called_now(namer: Namer, step: Step, labels: Mapping[str, str]) -> tuple[Step, dict[str, str]]:
    """A step with its picks called as they are now, and the words of its chips that read otherwise then, by their fields."""
    fresh = step.model_copy(update={"fields": resized(step.fields, labels)})
    was = {p.chip: p.text for p in segments_with(namer, step)}
    return fresh, {p.chip: p.text for p in segments_with(namer, fresh) if p.chip and p.text != was.get(p.chip)}


def _all_well(project: Project, evaluation: Evaluation, weighed: bool) -> bool:
    steps = all(r.state in ("ok", "off", "beyond") for r in evaluation.steps)
    values = all(r.error is None for r in evaluation.values.values())
    # a part that does not close is not well, whatever its steps say
    sound = not weighed or all(s.info.closed and s.info.valid for s in evaluation.parts.values())
    return steps and values and sound


def _part(part: Part, state: PartState, weighed: bool) -> dict[str, Any]:
    low, high = state.box if weighed else state.rough_box
    out: dict[str, Any] = {
        "id": part.id,
        "name": part.name,
        "role": part.role,
        "colour": part.colour,
        "key": state.key,
        "material": part.made_of,
        "mass_g": _mass_g(part, state) if weighed else None,
        "bounding_box_mm": {"low": list(low), "high": list(high)},
    }
    names = ("volume_mm3", "area_mm2", "centre_mm", "closed", "valid", "lumps")
    if not weighed:
        return {**out, **dict.fromkeys(names)}
    return {**out, **{name: getattr(state.info, name) for name in names}}


def _mass_g(part: Part, state: PartState) -> float | None:
    """What a part weighs that is not printed; of one that is, the layers tell."""
    return state.info.volume_mm3 / 1000 * density_of(part.made_of) if part.made_of else None


def part_blob(state: PartState) -> tuple[str, bytes]:
    """A part's mesh as it is shown, and the hash that it is served under."""
    blob = kernel.mesh_blob(state.mesh, {})
    return hashlib.sha256(blob).hexdigest()[:32], blob


def things_report(state: PartState) -> tuple[str, bytes]:
    """What pointing at a part needs to know, as JSON, and the hash that it is served under.

    ``faces`` and ``edges`` say for each, in the order of the mesh, its name, its label (with ``{part}`` where the part's name
    stands), and what a pick that points at it stores.
    """
    told = {
        "faces": [
            {
                "name": f.names[0],
                "label": of_part(label, "{part}"),
                "kind": f.kind,
                "hollow": f.hollow,
                "loops": loops,
                "seen": seen_face(f, label).model_dump(),
            }
            for f, label, loops in zip(state.faces, state.face_labels, state.solid.loops, strict=True)
        ],
        "edges": [
            {
                "name": e.name,
                "label": of_part(label, "{part}"),
                "kind": e.kind,
                "between": list(e.faces),
                "seen": seen_edge(e, label).model_dump(),
            }
            for e, label in zip(state.edges, state.edge_labels, strict=True)
        ],
    }
    text = json.dumps(told, separators=(",", ":")).encode()
    return hashlib.sha256(text).hexdigest()[:32], text


def frame_report(frame: Frame) -> dict[str, Any]:
    """A frame: its origin (mm) and its three directions."""
    return {"origin": frame.origin, "x": frame.x, "y": frame.y, "z": frame.z}


def sketch_report(shape: SketchShape) -> dict[str, Any]:
    """A solved sketch for the board: frame, coordinates, what is free, sizes, and regions as sampled loops (mm)."""
    frame, solution = shape.frame, shape.solution
    return {
        "frame": frame_report(frame),
        "points": solution.points,
        "radii": solution.radii,
        "freedom": solution.freedom,
        "free": solution.free,
        "ways": solution.ways,
        "sizes": shape.sizes,
        "regions": [
            {"name": r.told, "area_mm2": r.area_mm2, "centre": r.centre, "depth": r.depth, "loops": r.loops}
            for r in shape.regions
        ],
        "lines": {c.id: [_at(shape.sketch, p) for p in c.points] for c in shape.sketch.curves if c.kind == "line"},
        "letters": _letters(shape),
        "open_ends": [_open_end(shape.sketch, end) for end in shape.open_ends],
        "lost": shape.lost,
        "words": calling(shape.sketch),
    }


def _letters(shape: SketchShape) -> dict[str, list[list[Vec2]]]:
    """The outlines of texts as sampled runs, by the text's id."""
    out: dict[str, list[list[Vec2]]] = {}
    texts = [c.id for c in shape.sketch.curves if c.kind == "text"]
    for id in texts:
        pieces = pieces_of(shape.sketch, next(c for c in shape.sketch.curves if c.id == id))
        out[id] = [
            [place_at(p, k / n) for k in range(n + 1)] for p in pieces for n in (1 if isinstance(p, Line) else 8,)
        ]
    return out


def _open_end(sketch: Sketch, end: OpenEnd) -> dict[str, Any]:
    """An open end with the points that it is, and that it was perhaps meant to meet."""

    def point(curve: str, at: Vec2) -> str:
        found = sketch.curve(curve)
        ends = found.ends if found is not None else ()
        return min(ends, key=lambda p: math.dist(_at(sketch, p), at), default="")

    near = point(end.near_curve, end.near) if end.near is not None else ""
    return {"at": end.at, "point": point(end.curve, end.at), "near": near, "gap_mm": end.gap_mm}


def _at(sketch: Sketch, id: str) -> Vec2:
    point = sketch.point(id)
    return (point.x, point.y) if point is not None else (math.inf, math.inf)


def kinds_report() -> list[dict[str, Any]]:
    """All kinds of step as the interface needs them: sentence, fields, choices, palette group."""
    return [_kind(kind) for kind in all_kinds()]


def picks_report() -> list[dict[str, Any]]:
    """All kinds of pick: what may be pointed at for them, what that becomes, and what needs no pointing."""
    return [kind.as_dict() for kind in all_picks()]


def _kind(kind: StepKind) -> dict[str, Any]:
    return {
        "kind": kind.kind,
        "title": kind.title,
        "group": kind.group,
        "about": kind.about,
        "words": kind.words,
        "suits": list(kind.suits),
        "sentence": [_said(piece) for piece in kind.sentence],
        "fields": [_field(spec, new_part_when(kind, spec.name)) for spec in kind.specs],
    }


def _said(piece: Said) -> dict[str, Any]:
    return {
        "text": piece.text,
        "chip": piece.chip,
        "when": dict(piece.when),
        "each": piece.each,
        "want": piece.want,
        "pieces": [_said(inner) for inner in piece.pieces],
    }


def _field(spec: FieldSpec, new_part: str) -> dict[str, Any]:
    return {
        "name": spec.name,
        "type": spec.type,
        "label": spec.label,
        "default": spec.default,
        "missing": spec.missing,
        "newPart": new_part,
        "choices": [{"value": c.value, "label": c.label} for c in spec.choices],
        "fields": [_field(inner, "") for inner in spec.specs],
    }


def as_json(report: dict[str, Any]) -> str:
    return json.dumps(report, separators=(",", ":"), ensure_ascii=False, allow_nan=False)
