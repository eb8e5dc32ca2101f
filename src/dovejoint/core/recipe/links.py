"""Links across parts: where a step takes from one part what it makes another of, and how such a link is cut."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..document import Project
from ..document.compiled import Compiled, CompiledStep, compiled
from ..quantities.markers import NameMark, PartMark
from ..solid.facename import FaceName, edge_parts, parse
from .evaluate import Evaluation
from .picks import Namer, rule_of, said_pick
from .registry import kind_of

__all__ = ["Link", "links", "links_report"]


@dataclass(frozen=True)
class Link:
    """A step takes something ``of`` a part that shapes the parts ``to``; ``field`` is where it stands in the step, ``words`` say what.

    ``curves`` are those of a sketch that were brought in from it. Cut by ``plane``, what stood in the field stays where it is now; by ``outline``,
    what bounds the face that was taken for an outline does (see KeepOutline). Where a part is taken ``whole``, that says where its id stands, and the
    part stays as it is now (see KeepShape). ``source`` is the
    step that made what is taken, as far as it is known.
    """

    step: str
    field: str
    of: str
    to: tuple[str, ...]
    words: str
    curves: tuple[str, ...] = ()
    plane: Mapping[str, Any] | None = None
    outline: Mapping[str, Any] | None = None
    source: str = ""
    whole: str = ""
    names: tuple[str, ...] = ()

    def as_dict(self) -> dict[str, Any]:
        return {
            "step": self.step, "field": self.field, "of": self.of, "to": list(self.to), "words": self.words,
            "curves": list(self.curves), "plane": dict(self.plane) if self.plane is not None else None, "source": self.source,
            "whole": self.whole,
            "outline": dict(self.outline) if self.outline is not None else None,
        }  # fmt: skip


def links(project: Project, evaluation: Evaluation | None = None) -> list[Link]:
    """All links across parts, in the order of the recipe. With an evaluation those to planes say how they are cut."""
    read, namer = compiled(project), Namer(project)
    shaped = _shaped(read)
    out: list[Link] = []
    for step in read:
        to = shaped[step.id]
        if to:
            out += _of_step(project, read, namer, step, to, evaluation)
    return [_from(read, link) for link in out]


def _from(read: Compiled, link: Link) -> Link:
    """The same link with its thread's other end: the last of the steps that made the faces which it names, or the one that made the part."""
    faces = [parse(face) for name in link.names for face in edge_parts(name)]
    steps = [f.step for f in faces if isinstance(f, FaceName) and f.step in read.place]
    return replace(link, source=max(steps, key=read.place.__getitem__, default=read.makers.get(link.of, "")))


def _shaped(read: Compiled) -> dict[str, tuple[str, ...]]:
    """The parts that each step shapes: itself, or through the steps that take what it made (a sketch, a plane)."""
    found: dict[str, dict[str, None]] = {s.id: dict.fromkeys(s.shapes) for s in read}
    for step in reversed(read.steps):
        for used in step.uses & found.keys():
            maker = read.of(used)
            if maker is not None and not maker.shapes:
                found[used].update(found[step.id])
    return {id: tuple(parts) for id, parts in found.items()}


def _of_step(
    project: Project,
    read: Compiled,
    namer: Namer,
    step: CompiledStep,
    to: tuple[str, ...],
    evaluation: Evaluation | None,
) -> list[Link]:
    kind = kind_of(step.step)
    out: list[Link] = []
    brought: dict[str, list[str]] = {}
    for path, mark, part in step.marks:
        if not isinstance(mark, PartMark) or mark.does != "reads" or not part or part in to:
            continue
        top, *rest = path.split(".")
        if top == "sources":
            # what a list holds goes by its id
            brought.setdefault(part, []).append(rest[0])
            continue
        if any(link.field == top and link.of == part for link in out):
            continue
        pick = step.step.fields.get(top)
        named = tuple(text for where, m, text in step.marks if isinstance(m, NameMark) and where.split(".")[0] == top)
        ruled = isinstance(pick, Mapping) and "rule" in pick
        words = said_pick(namer, pick) if ruled else "all of it"
        spec = kind.spec(top)
        flat = spec is not None and spec.type in ("plane", "until") and ruled and rule_of(pick).rule == "flat"
        plane = _kept(evaluation, step.id, top) if flat else None
        inner = spec.specs[0] if spec is not None and spec.type == "clauses" and spec.specs else spec
        # the halves of a joint are judged together: there is nothing to keep of one of them
        takes_all = inner is not None and inner.type == "part" and kind.group != "join"
        maker = read.of(read.makers.get(part, ""))
        # what a file gave changes only with the file
        whole = path if takes_all and (maker is None or maker.step.kind != "bring_in") else ""
        outline = _outline(evaluation, step.id, top)
        out.append(Link(step.id, top, part, to, words, plane=plane, outline=outline, whole=whole, names=named))
    for part, curves in brought.items():
        n = len(curves)
        words = f"{n} {'curve' if n == 1 else 'curves'} brought in from {namer.part(part)}"
        named = tuple(
            text
            for where, m, text in step.marks
            if isinstance(m, NameMark) and where.startswith(tuple(f"sources.{c}." for c in curves))
        )
        out.append(Link(step.id, "sources", part, to, words, tuple(curves), names=named))
    return out


def _kept(evaluation: Evaluation | None, step: str, field: str) -> dict[str, Any] | None:
    """The plane that a pick means now, as one that stays."""
    made = evaluation.made.get(step) if evaluation is not None else None
    frame = made.frames.get(field) if made is not None else None
    if frame is None:
        return None
    return {"rule": "fixed", "origin": list(frame.origin), "x": list(frame.x), "y": list(frame.y)}


def _outline(evaluation: Evaluation | None, step: str, field: str) -> dict[str, Any] | None:
    """What bounds the face that a step took for an outline now, as the fields of a KeepOutline."""
    made = evaluation.made.get(step) if evaluation is not None else None
    found = made.outlines.get(field) if made is not None else None
    if found is None:
        return None
    plane = {"rule": "fixed", "origin": list(found.frame.origin), "x": list(found.frame.x), "y": list(found.frame.y)}
    curves = [
        {"beyond": beyond, "curve": {"kind": kind, "places": [list(p) for p in places], "radius": radius}}
        for beyond, kind, places, radius in found.curves
    ]
    return {"plane": plane, "curves": curves}


def links_report(project: Project, evaluation: Evaluation) -> list[dict[str, Any]]:
    """All links as plain data, with places on the model (mm) from which and to which they go, where those are there now."""
    return [
        {
            **link.as_dict(),
            "at": _place_of(evaluation, link.of, link.names),
            "to_at": _place_of(evaluation, link.to[0], ()),
        }
        for link in links(project, evaluation)
    ]


def _place_of(evaluation: Evaluation, part: str, names: Sequence[str]) -> list[float] | None:
    """The middle of the first face or edge that goes by one of some names (of an edge, where the boxes of its faces meet), or else of the part."""
    state = evaluation.parts.get(part)
    if state is None:
        return None
    low, high = np.array(state.rough_box)
    for name in names:
        found = [state.solid.find(face) for face in edge_parts(name)]
        if all(found):
            for index in (indices[0] for indices in found):
                corners = state.mesh.corners_of(index)
                low, high = np.maximum(low, corners.min(axis=0)), np.minimum(high, corners.max(axis=0))
            break
    middle: list[float] = ((low + high) / 2).tolist()
    return middle
