"""All that is worked out of a print before it is made: estimates, features, joints, the plate, and one layer to look at."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from typing import Any

from manifold3d import CrossSection

from ..document import Project
from ..errors import CommandError, DoveError
from ..joints import JointReport
from ..kept import Kept
from ..profiles import profile_of
from ..recipe import Evaluation, Superseded
from ..recipe.lying import Lie, in_one_with, laid_by, lie_in, printed_in_one
from .estimate import Estimate, estimate, layer_of
from .features import Feature, features_of, joint_prints
from .plate import plate_of
from .slices import Laid, lay, slices

__all__ = ["PrintCache", "layer_report", "print_report"]


class PrintCache:
    """Laid meshes and their estimates by the keys of their parts, how they lie and the settings."""

    def __init__(self) -> None:
        self.laid: Kept[Laid] = Kept(40_000_000, _weight)
        self.estimates: Kept[Estimate] = Kept(4_000_000, lambda _: 4000)


def _weight(laid: Laid) -> int:
    return 2000 + laid.positions.nbytes + laid.triangles.nbytes


def _lie(project: Project, evaluation: Evaluation, part: str) -> Lie:
    return lie_in(project, evaluation.parts, part)


def _key(project: Project, evaluation: Evaluation, part: str, *more: object) -> str:
    text = "|".join(str(m) for m in (evaluation.parts[part].key, _lie(project, evaluation, part), *more))
    return hashlib.sha256(text.encode()).hexdigest()


def _laid(project: Project, evaluation: Evaluation, part: str, cache: PrintCache) -> Laid:
    def make() -> Laid:
        return lay(evaluation.parts[part].solid, _lie(project, evaluation, part))

    return cache.laid.made(_key(project, evaluation, part), make)


def _estimated(
    project: Project, evaluation: Evaluation, part: str, cache: PrintCache, stop: Callable[[], bool]
) -> Estimate:
    profile = profile_of(project)
    key = _key(project, evaluation, part, profile.settings.model_dump_json(), profile.line_width_mm)
    return cache.estimates.made(key, lambda: estimate(_laid(project, evaluation, part, cache), profile, stop))


def chosen_parts(project: Project, evaluation: Evaluation, parts: Sequence[str]) -> list[str]:
    """The parts meant: those named, or all printed ones that could be made.

    Raises
    ------
    CommandError : one is not there, could not be made, or is not printed.
    """
    out = []
    for id in parts or [p.id for p in project.parts if p.role == "printed" and p.id in evaluation.parts]:
        part = project.part(id)
        if part is None:
            raise CommandError("That part is not there any more.")
        if part.role != "printed":
            raise CommandError(f"{part.name} is {part.role}, not printed.")
        if id not in evaluation.parts:
            raise CommandError(f"{part.name} could not be made; mend its steps first.")
        out.append(id)
    return out


def print_report(
    project: Project,
    evaluation: Evaluation,
    joints: Sequence[JointReport],
    parts: Sequence[str],
    cache: PrintCache,
    known: Sequence[Feature] | None = None,
    worked: bool = True,
    stop: Callable[[], bool] = lambda: False,
) -> dict[str, Any]:
    """Estimates, features and places of parts, and the joints between them, as plain data.

    ``known`` are a coupon's features, which are known from how it was built. Where it is not ``worked`` out there are only the places of the parts, at once.
    ``stop`` is asked at each part and layer; when true this ends with :class:`Superseded`.
    """
    chosen = chosen_parts(project, evaluation, parts)
    profile = profile_of(project)
    features: Sequence[Feature] = []
    if worked:
        features = known if known is not None else features_of(project, evaluation, joints)
    placed: dict[str, Laid] = {}
    rows, total = [], {"time_s": 0.0, "length_mm": 0.0, "mass_g": 0.0, "price": 0.0}
    for id in chosen:
        if stop():
            raise Superseded
        part = project.part(id)
        assert part is not None
        lie = _lie(project, evaluation, id)
        leader = laid_by(project, id)
        row: dict[str, Any] = {
            "id": id,
            "in_one_with": [p for p in in_one_with(project, id) if p != id],
            "lies_with": leader.id if leader is not None and leader.id != id else "",
            "name": part.name,
            "lie": {"x": list(lie.x), "y": list(lie.y), "z": list(lie.z)},
            "features": [f.as_dict() for f in features if f.part == id],
            "estimate": None,
            "size_mm": None,
            "message": "",
        }
        try:
            laid = _laid(project, evaluation, id, cache)
            row["size_mm"] = list(laid.size_mm)
            if worked:
                row["estimate"] = _estimated(project, evaluation, id, cache, stop).as_dict()
                for key in total:
                    total[key] += row["estimate"][key]
            placed[id] = laid
        except DoveError as error:
            row["message"] = error.message
        rows.append(row)
    places = plate_of(placed, printed_in_one(project), (profile.bed_mm[0], profile.bed_mm[1]))
    for row in rows:
        place = places.get(row["id"])
        row["up_mm"] = 0.0 if place is None else place.up_mm
        # so many layers lie under its first one
        row["up_layers"] = 0 if place is None else round(place.up_mm / profile.settings.layer_mm)
        stands = place if place is not None and place.x_mm is not None else None
        row["place_mm"] = [stands.x_mm, stands.y_mm] if stands else None
        row["plate"] = stands.plate if stands else None
    return {
        "parts": rows,
        "total": total,
        "bed_mm": list(profile.bed_mm),
        "joints": [j.as_dict() for j in joint_prints(project, evaluation, joints)] if worked else [],
    }


def layer_report(project: Project, evaluation: Evaluation, part: str, number: int, cache: PrintCache) -> dict[str, Any]:
    """One layer (1-based) of a part: outlines, walls, single beads, solid and latticed areas as polygons, mm, for looking at."""
    (id,) = chosen_parts(project, evaluation, [part])
    laid = _laid(project, evaluation, id, cache)
    profile = profile_of(project)
    stack = slices(laid, profile.settings)
    k = max(1, min(number, len(stack))) - 1
    found = layer_of(stack, k, profile)
    first = profile.settings.first_layer_mm
    return {
        "layer": k + 1,
        "layers": len(stack),
        "top_mm": first + k * profile.settings.layer_mm,
        "outline": _polygons(stack[k][0]),
        "walls": [_polygons(w) for w in found.walls.loops],
        "single": _polygons(found.walls.single),
        "solid": _polygons(found.solid),
        "infill": _polygons(found.sparse),
        "size_mm": list(laid.size_mm),
    }


def _polygons(section: CrossSection) -> list[list[list[float]]]:
    return [[[round(float(x), 3), round(float(y), 3)] for x, y in polygon] for polygon in section.to_polygons()]
