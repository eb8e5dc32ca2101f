"""Parts as files: one file a part, with a unit, a resolution fit for the gaps, and a name pattern."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from .. import solid as kernel
from ..document import Project
from ..errors import CommandError
from ..joints import JointReport
from ..recipe import Evaluation
from .stl import write_stl

__all__ = ["EXPORT_FORMATS", "ExportedFile", "chord_for", "export_parts", "file_name"]

EXPORT_FORMATS = ("stl", "step")
#: chord error of exported meshes where no gap asks for less, mm
COARSEST_CHORD_MM = 0.02
#: facets turn by at most this from one to the next, rad
EXPORT_TURN_RAD = 0.15


@dataclass(frozen=True)
class ExportedFile:
    name: str
    media_type: str
    data: bytes


def chord_for(part: str, joints: Sequence[JointReport]) -> float:
    """Chord error in mm for a part's mesh: finer than a tenth of the least gap of its joints, as drawn.

    A round wall becomes a polygon when meshed, and both halves lose their chord error to the gap; so each
    half stays under a twelfth of it.
    """
    gaps = [abs(j.measured.least_mm if j.measured else j.drawn.gap_mm) for j in joints if j.drawn and part in j.parts]
    tightest = min((g for g in gaps if g > 1e-3), default=12 * COARSEST_CHORD_MM)
    return max(0.002, min(COARSEST_CHORD_MM, tightest / 12))


def file_name(pattern: str, project: str, part: str, extension: str) -> str:
    """A safe file name from a pattern with ``{project}`` and ``{part}``.

    Raises
    ------
    CommandError : the pattern asks for something unknown, or leaves nothing.
    """
    unknown = [m for m in re.findall(r"\{(.*?)\}", pattern) if m not in ("project", "part")]
    if unknown:
        raise CommandError(f"The name pattern knows {{project}} and {{part}}, not {{{unknown[0]}}}.")
    name = pattern.replace("{project}", project).replace("{part}", part)
    name = re.sub(r"[^\w. -]+", "-", name).strip(" .-")[:120]
    if not name:
        raise CommandError("The name pattern leaves no name; use {project} or {part}.")
    return f"{name}.{extension}"


def export_parts(
    project: Project,
    evaluation: Evaluation,
    joints: Sequence[JointReport],
    parts: Sequence[str],
    format: str,
    unit: str = "mm",
    pattern: str = "{project} {part}",
) -> list[ExportedFile]:
    """Write parts as files.

    Raises
    ------
    CommandError : unknown format, unit or part, a part that could not be made, or a part that is not closed.
    """
    if format not in EXPORT_FORMATS:
        raise CommandError(f"There is no format “{format}”; there are {' and '.join(EXPORT_FORMATS)}.")
    if unit not in ("mm", "in"):
        raise CommandError("The unit of a file is mm or in.")
    out: list[ExportedFile] = []
    taken: set[str] = set()
    for id in parts:
        part = project.part(id)
        if part is None:
            raise CommandError("That part is not there any more.")
        state = evaluation.parts.get(id)
        if state is None:
            raise CommandError(f"“{part.name}” could not be made; mend its steps first.")
        if not state.info.closed:
            raise CommandError(f"“{part.name}” is not closed, so it cannot be printed from a file.")
        name = file_name(pattern, project.name, part.name, format)
        if name.lower() in taken:
            raise CommandError("The name pattern gives two parts the same file; put {part} into it.")
        taken.add(name.lower())
        if format == "stl":
            mesh = kernel.tessellate(state.solid, chord_for(id, joints), EXPORT_TURN_RAD)
            data, media = write_stl(mesh.positions, mesh.triangles, unit), "model/stl"
        else:
            data, media = kernel.write_step([(part.name, part.colour, state.solid)]), "model/step"
        out.append(ExportedFile(name, media, data))
    if not out:
        raise CommandError("There is no part to export yet.")
    return out
