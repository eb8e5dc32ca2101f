"""Parts as files: one file a part or all on one plate, with a unit, a resolution fit for the gaps, and a name pattern."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .. import solid as kernel
from ..document import Part, Project
from ..errors import CommandError
from ..joints import JointReport
from ..printing.plate import laid_together, plate_of
from ..printing.slices import Laid, lay
from ..profiles import profile_of
from ..recipe import Evaluation
from ..recipe.lying import in_one_with, lie_in, printed_in_one
from .stl import write_stl
from .textures import textures_of
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
    moment: str = "",
) -> list[ExportedFile]:
    """Write parts as files.

    Parameters
    ----------
    laid : meshes (STL, 3MF) turned as the parts lie on the bed and standing on it, instead of as modelled.
    together : all parts in one file: for 3MF laid out on the printer's plate (a file each where it takes several plates), for STEP as modelled, each
        group an assembly.
    moment : what STEP files say of when they were made (ISO 8601); by itself nothing of now.

    Raises
    ------
    CommandError : unknown format, unit or part, a part that could not be made, or a part that is not closed.
    """
    if format not in EXPORT_FORMATS:
        raise CommandError(f"There is no format “{format}”; there are {', '.join(EXPORT_FORMATS)}.")
    if unit not in ("mm", "in"):
        raise CommandError("The unit of a file is mm or in.")
    if together and format == "stl":
        raise CommandError("An STL file holds one part; 3MF and STEP hold several.")
    chosen = [_ready(project, evaluation, id) for id in parts]
    if not chosen:
        raise CommandError("There is no part to export yet.")
    if together and format == "step":
        made = [(p.name, p.colour, evaluation.parts[p.id].solid) for p in chosen]
        data = kernel.write_step(made, project.name, moment, [p.group for p in chosen])
        return [ExportedFile(file_name(pattern, project.name, "model", format), _MEDIA[format], data)]
    if together:
        plates = _plated(project, evaluation, joints, chosen)
        titles = ["plate"] if len(plates) == 1 else [f"plate {n}" for n in range(1, len(plates) + 1)]
        names = [file_name(pattern, project.name, title, format) for title in titles]
        if len(set(names)) < len(names):
            raise CommandError("The name pattern gives two plates the same file; put {part} into it.")
        return [
            ExportedFile(name, _MEDIA["3mf"], write_3mf(project.name, items, unit))
            for name, items in zip(names, plates, strict=True)
        ]
    out: list[ExportedFile] = []
    taken: set[str] = set()
    for members in _files(project, chosen, laid and format != "step"):
        title = " and ".join(p.name for p in members)
        name = file_name(pattern, project.name, title, format)
        # names that differ in signs only come to the same word
        for again in range(2, len(chosen) + 1):
            if name.lower() in taken and "{part}" in pattern:
                name = file_name(pattern.replace("{part}", f"{{part}} {again}"), project.name, title, format)
        if name.lower() in taken:
            raise CommandError("The name pattern gives two parts the same file; put {part} into it.")
        taken.add(name.lower())
        if format == "step":
            made = [(p.name, p.colour, evaluation.parts[p.id].solid) for p in members]
            data = kernel.write_step(made, project.name, moment)
        else:
            items = _mesh_items(project, evaluation, joints, members, laid)
            if format == "stl":
                one = _merged(items)
                data = write_stl(one.positions.astype("float32"), one.triangles, unit)
            else:
                data = write_3mf(project.name, items, unit)
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


def _files(project: Project, parts: Sequence[Part], laid: bool) -> list[list[Part]]:
    """Which parts share a file: those that are printed in one, where files are for the printer."""
    out: dict[str, list[Part]] = {}
    for part in parts:
        out.setdefault(in_one_with(project, part.id)[0] if laid else part.id, []).append(part)
    return list(out.values())


def _mesh_items(
    project: Project, evaluation: Evaluation, joints: Sequence[JointReport], parts: Sequence[Part], laid: bool
) -> list[MeshItem]:
    """Meshes of parts that share a file: as modelled, or ``laid`` as they lie, together on the bed. Raises CommandError."""
    if not laid:
        made = {p.id: kernel.tessellate(evaluation.parts[p.id].solid, chord_for(p.id, joints), EXPORT_TURN_RAD) for p in parts}  # fmt: skip
        return [_whole(_modelled_item(project, evaluation, p, made[p.id])) for p in parts]
    found = _laid(project, evaluation, joints, parts)
    places = laid_together(found).parts
    return [_whole(_laid_item(project, evaluation, p, found[p.id], places[p.id])) for p in parts]


def _modelled_item(project: Project, evaluation: Evaluation, part: Part, mesh: kernel.Mesh) -> MeshItem:
    textures = textures_of(project, evaluation, part.id, mesh.positions, mesh.triangles, mesh.faces)
    return MeshItem(part.name, part.colour, mesh.positions, mesh.triangles, textures=textures)


def _laid_item(
    project: Project, evaluation: Evaluation, part: Part, laid: Laid, at: tuple[float, float, float]
) -> MeshItem:
    lie = lie_in(project, evaluation.parts, part.id)
    as_modelled = (laid.positions + np.array(laid.from_mm)) @ np.array([lie.x, lie.y, lie.z])
    textures = textures_of(project, evaluation, part.id, as_modelled, laid.triangles, laid.faces)
    return MeshItem(part.name, part.colour, laid.positions, laid.triangles, at, textures)


def _merged(items: Sequence[MeshItem]) -> MeshItem:
    """All in one mesh, each at its place."""
    first = np.cumsum([0, *(len(i.positions) for i in items)])
    positions = np.vstack([i.positions + np.array(i.place_mm) for i in items])
    triangles = np.vstack([i.triangles + np.uint32(k) for i, k in zip(items, first, strict=False)])
    return MeshItem(items[0].name, items[0].colour, positions, triangles)


def _laid(
    project: Project, evaluation: Evaluation, joints: Sequence[JointReport], parts: Sequence[Part]
) -> dict[str, Laid]:
    """Parts turned as they lie, fine enough for their gaps."""
    return {
        p.id: lay(evaluation.parts[p.id].solid, lie_in(project, evaluation.parts, p.id), chord_for(p.id, joints))
        for p in parts
    }


def _whole(item: MeshItem) -> MeshItem:
    """The item, if its triangles close: the kernel's word on the solid is not enough. Raises CommandError."""
    if kernel.leaves_gaps(item.positions, item.triangles):
        raise CommandError(
            f"“{item.name}” leaves gaps in its surface when it is turned into triangles; change its last cut or joining by a little."
        )
    return item


def _plated(
    project: Project, evaluation: Evaluation, joints: Sequence[JointReport], parts: Sequence[Part]
) -> list[list[MeshItem]]:
    """For each plate, parts as they lie, each at its place on the bed. Raises CommandError for one that is larger than the bed."""
    found = _laid(project, evaluation, joints, parts)
    bed = profile_of(project).bed_mm
    out: dict[int, list[MeshItem]] = {}
    places = plate_of(found, printed_in_one(project), (bed[0], bed[1]))
    for part in parts:
        place = places[part.id]
        if place.x_mm is None or place.y_mm is None:
            raise CommandError(f"“{part.name}” is larger than the bed, as it lies; save the others without it.")
        at = (place.x_mm, place.y_mm, place.up_mm)
        out.setdefault(place.plate, []).append(_whole(_laid_item(project, evaluation, part, found[part.id], at)))
    return [out[n] for n in sorted(out)]
