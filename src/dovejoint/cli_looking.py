"""The command line's questions about a project's model: measure, links, parts."""

from __future__ import annotations

import argparse
import csv
import io
import json
import math
from pathlib import Path
from typing import Any

from .core.document import Project, ThingPick
from .core.errors import CommandError
from .core.joints.family import is_joint
from .core.joints.gapmap import as_csv, as_ply, map_of
from .core.recipe import Evaluation, ResultCache, evaluate, kind_of, links, read
from .core.recipe.labels import of_part
from .core.recipe.names import seen_edge, seen_face

__all__ = ["add_commands"]

#: what is to be done with parts of each role
_TO = {"printed": "print", "bought": "buy", "made": "make", "reference": "-"}


def add_commands(commands: Any, project_of: Any) -> None:
    """Add the commands to a parser's sub-commands; ``project_of`` reads a project file."""
    measure = commands.add_parser("measure", help="a reading of one thing of the model, or between two")
    measure.add_argument("file")
    measure.add_argument(
        "things", nargs="+", metavar="THING", help='a face or an edge as it is called: "top of Hopper"'
    )
    measure.add_argument("--json", action="store_true")
    measure.set_defaults(run=lambda a: _measure(project_of(a.file), a))
    mapped = commands.add_parser("map", help="a joint's gap on both its halves, as points: CSV or PLY")
    mapped.add_argument("file")
    mapped.add_argument("joint", help="the joint's name, or the number of its step")
    mapped.add_argument("--out", required=True, help="a file that ends in .csv or .ply")
    mapped.set_defaults(run=lambda a: _map(project_of(a.file), a))
    linked = commands.add_parser("links", help="what of one part others are built on")
    linked.add_argument("file")
    linked.add_argument("--json", action="store_true")
    linked.set_defaults(run=lambda a: _links(project_of(a.file), a))
    parts = commands.add_parser("parts", help="what to print, buy and make")
    parts.add_argument("file")
    parts.add_argument("--csv", action="store_true", help="as comma-separated values")
    parts.set_defaults(run=lambda a: _parts(project_of(a.file), a))


def _map(project: Project, arguments: argparse.Namespace) -> int:
    form = Path(arguments.out).suffix.lower()
    if form not in (".csv", ".ply"):
        raise CommandError("A map is written as CSV or PLY; name a file that ends so.")
    asked = arguments.joint
    steps = [s for k, s in enumerate(project.recipe, 1) if is_joint(s) and asked in (s.name, str(k), kind_of(s).title)]
    if not steps:
        names = ", ".join(f"“{s.name or kind_of(s).title}”" for s in project.recipe if is_joint(s))
        raise CommandError(f"There is no joint “{asked}”; there is {names or 'none'}.")
    halves, wanted = map_of(project, evaluate(project, ResultCache()), steps[0].id)
    data = as_csv(project, halves) if form == ".csv" else as_ply(halves)
    Path(arguments.out).write_bytes(data)
    gaps = [g for _, half in halves if len(half.gaps) for g in (half.gaps.min(), half.gaps.max())]
    if gaps:
        print(f"  {min(gaps):.3f} to {max(gaps):.3f} mm as drawn, square to the faces; wanted as printed {wanted.least_mm:.2f} to {wanted.most_mm:.2f}")  # fmt: skip
    else:
        print("  The halves face each other nowhere.")
    return 0


def _things(project: Project, evaluation: Evaluation) -> dict[str, ThingPick]:
    """All faces and edges by what they are called."""
    out: dict[str, ThingPick] = {}
    for part in project.parts:
        state = evaluation.parts.get(part.id)
        if state is None:
            continue
        for face, label in zip(state.faces, state.face_labels, strict=True):
            thing = {"name": face.names[0], "seen": seen_face(face, label).model_dump()}
            out[of_part(label, part.name)] = ThingPick.model_validate({"part": part.id, "kind": "face", "thing": thing})
        for edge, label in zip(state.edges, state.edge_labels, strict=True):
            thing = {"name": edge.name, "seen": seen_edge(edge, label).model_dump()}
            out[of_part(label, part.name)] = ThingPick.model_validate({"part": part.id, "kind": "edge", "thing": thing})
    return out


def _measure(project: Project, arguments: argparse.Namespace) -> int:
    if len(arguments.things) > 2:
        raise CommandError("A reading is of one thing, or between two.")
    evaluation = evaluate(project, ResultCache())
    known = _things(project, evaluation)
    picks = []
    for said in arguments.things:
        found = known.get(said) or known.get(said.removeprefix("the "))
        if found is None:
            like = [name for name in known if said.lower() in name.lower()][:4] or list(known)[:4]
            raise CommandError(
                f"There is nothing called “{said}”; there is {', '.join(f'“{name}”' for name in like)} …"
            )
        picks.append(found)
    rows = read(evaluation.parts, *picks)
    if arguments.json:
        print(json.dumps([row.as_dict() for row in rows], indent=2))
        return 0
    for row in rows:
        unit = {"length": "mm", "area": "mm²", "angle": "deg"}[row.kind]
        print(f"  {row.what}: {math.degrees(row.figure) if row.kind == 'angle' else row.figure:.4f} {unit}")
    return 0


def _links(project: Project, arguments: argparse.Namespace) -> int:
    evaluation = evaluate(project, ResultCache())
    found = links(project, evaluation)
    if arguments.json:
        print(json.dumps([link.as_dict() for link in found], indent=2, ensure_ascii=False))
        return 0
    names = {p.id: p.name for p in project.parts}
    place = {s.id: i + 1 for i, s in enumerate(project.recipe)}
    for link in found:
        print(
            f"  {', '.join(names[p] for p in link.to)} rests on {names[link.of]}: {link.words} (step {place[link.step]})"
        )
    if not found:
        print("  no part is built on another")
    return 0


def _parts(project: Project, arguments: argparse.Namespace) -> int:
    evaluation = evaluate(project, ResultCache())
    rows: list[list[str]] = []
    for part in project.parts:
        state = evaluation.parts.get(part.id)
        low, high = state.box if state is not None else ((0.0,) * 3, (0.0,) * 3)
        size = [f"{b - a:.2f}" for a, b in zip(low, high, strict=True)] if state is not None else ["", "", ""]
        volume = f"{state.info.volume_mm3 / 1000:.3f}" if state is not None else ""
        rows.append([part.name, _TO[part.role], part.role, part.group, *size, volume, part.note])
    if arguments.csv:
        out = io.StringIO()
        writer = csv.writer(out, lineterminator="\n")
        writer.writerow(["part", "to do", "role", "group", "x mm", "y mm", "z mm", "volume cm3", "note"])
        # a sheet must not take a name for a formula
        writer.writerows(
            [[f"'{c}" if c[:1] in ("=", "+", "@", "-") and len(c) > 1 else c for c in row] for row in rows]
        )
        print(out.getvalue(), end="")
        return 0
    for name, to, _, group, x, y, z, volume, note in rows:
        size_said = f"{x} × {y} × {z} mm, {volume} cm³" if volume else "not made"
        print(f"  {to:6} {name}: {size_said}" + (f", in {group}" if group else "") + (f"; {note}" if note else ""))
    return 0
