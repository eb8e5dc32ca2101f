"""Parts as files: one file a part or all on one plate, with a unit, a resolution fit for the gaps, and a name pattern."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from .. import solid as kernel
from ..document import Part, Project
from ..errors import CommandError
from ..joints import JointReport
from ..printing.plate import lay_out
from ..printing.slices import lay
from ..profiles import profile_of
from ..recipe import Evaluation, PartState
from ..recipe.lying import lie_of
from .stl import write_stl
from .threemf import MeshItem, write_3mf

__all__ = ["EXPORT_FORMATS", "ExportedFile", "chord_for", "export_parts", "file_name"]

EXPORT_FORMATS = ("stl", "3mf", "step")
#: chord error of exported meshes where no gap asks for less, mm
COARSEST_CHORD_MM = 0.02
#: facets turn by at most this from one to the next, rad
EXPORT_TURN_RAD = 0.15
_MEDIA = {"stl": "model/stl", "3mf": "model/3mf", "step": "model/step"}


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


def _safe(text: str) -> str:
    return re.sub(r"[^\w. -]+", "-", text).strip(" .-")


def file_name(pattern: str, project: str, part: str, extension: str) -> str:
    """A safe file name from a pattern with ``{project}`` and ``{part}``.

    Raises
    ------
    CommandError : the pattern asks for something unknown, or leaves nothing.
    """
    unknown = [m for m in re.findall(r"\{(.*?)\}", pattern) if m not in ("project", "part")]
    if unknown:
        raise CommandError(f"The name pattern knows {{project}} and {{part}}, not {{{unknown[0]}}}.")
    # a name of signs only (🙂) leaves nothing that every file system takes
    words = {"project": _safe(project) or "project", "part": _safe(part) or ("part" if part else "")}
    name = _safe(re.sub(r"\{(project|part)\}", lambda found: words[found[1]], pattern))[:120]
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
    laid: bool = False,
    together: bool = False,
) -> list[ExportedFile]:
    """Write parts as files.

    Parameters
    ----------
    laid : meshes (STL, 3MF) turned as the parts lie on the bed and standing on it, instead of as modelled.
    together : for 3MF, all parts in one file, laid out on the printer's plate.

    Raises
    ------
    CommandError : unknown format, unit or part, a part that could not be made, or a part that is not closed.
    """
    if format not in EXPORT_FORMATS:
        raise CommandError(f"There is no format “{format}”; there are {', '.join(EXPORT_FORMATS)}.")
    if unit not in ("mm", "in"):
        raise CommandError("The unit of a file is mm or in.")
    if together and format != "3mf":
        raise CommandError("Only a 3MF file holds several parts.")
    chosen = [_ready(project, evaluation, id) for id in parts]
    if not chosen:
        raise CommandError("There is no part to export yet.")
    if together:
        items = _plated(project, evaluation, joints, chosen)
        name = file_name(pattern, project.name, "plate", format)
        return [ExportedFile(name, _MEDIA["3mf"], write_3mf(project.name, items, unit))]
    out: list[ExportedFile] = []
    taken: set[str] = set()
    for part in chosen:
        name = file_name(pattern, project.name, part.name, format)
        # names that differ in signs only come to the same word
        for again in range(2, len(chosen) + 1):
            if name.lower() in taken and "{part}" in pattern:
                name = file_name(pattern.replace("{part}", f"{{part}} {again}"), project.name, part.name, format)
        if name.lower() in taken:
            raise CommandError("The name pattern gives two parts the same file; put {part} into it.")
        taken.add(name.lower())
        state = evaluation.parts[part.id]
        if format == "step":
            data = kernel.write_step([(part.name, part.colour, state.solid)])
        else:
            item = _whole(_mesh_item(part, state, chord_for(part.id, joints), laid))
            if format == "stl":
                data = write_stl(item.positions.astype("float32"), item.triangles, unit)
            else:
                data = write_3mf(project.name, [item], unit)
        out.append(ExportedFile(name, _MEDIA[format], data))
    return out


def _ready(project: Project, evaluation: Evaluation, id: str) -> Part:
    part = project.part(id)
    if part is None:
        raise CommandError("That part is not there any more.")
    state = evaluation.parts.get(id)
    if state is None:
        raise CommandError(f"“{part.name}” could not be made; mend its steps first.")
    if not state.info.closed:
        raise CommandError(f"“{part.name}” is not closed, so it cannot be printed from a file.")
    return part


def _mesh_item(part: Part, state: PartState, chord_mm: float, laid: bool) -> MeshItem:
    if laid:
        found = lay(state.solid, lie_of(part, state), chord_mm)
        return MeshItem(part.name, part.colour, found.positions, found.triangles)
    mesh = kernel.tessellate(state.solid, chord_mm, EXPORT_TURN_RAD)
    return MeshItem(part.name, part.colour, mesh.positions, mesh.triangles)


def _whole(item: MeshItem) -> MeshItem:
    """The item, if its triangles close: the kernel's word on the solid is not enough. Raises CommandError."""
    if kernel.leaves_gaps(item.positions, item.triangles):
        raise CommandError(
            f"“{item.name}” leaves gaps in its surface when it is turned into triangles; change its last cut or joining by a little."
        )
    return item


def _plated(
    project: Project, evaluation: Evaluation, joints: Sequence[JointReport], parts: Sequence[Part]
) -> list[MeshItem]:
    """Parts as they lie, each at its place on the bed. Raises CommandError when they do not all fit."""
    found = {
        p.id: lay(evaluation.parts[p.id].solid, lie_of(p, evaluation.parts[p.id]), chord_for(p.id, joints))
        for p in parts
    }
    bed = profile_of(project).bed_mm
    out = []
    for place in lay_out([(id, laid.size_mm[0], laid.size_mm[1]) for id, laid in found.items()], (bed[0], bed[1])):
        part = next(p for p in parts if p.id == place.part)
        if place.x_mm is None or place.y_mm is None:
            raise CommandError(f"“{part.name}” finds no room on the bed beside the others; save fewer parts together.")
        laid = found[part.id]
        out.append(_whole(MeshItem(part.name, part.colour, laid.positions, laid.triangles, (place.x_mm, place.y_mm))))
    return out
