"""Printers, nozzles and materials as data, and the profile that stands for a choice of them until it is measured."""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files
from typing import Any

import numpy as np

from ..calculators.materials import Material
from ..document import PrintSettings, Profile
from ..errors import CommandError
from .belief import Belief, as_set_up, prior_covariance, with_belief
from .default import DEFAULT_PROFILE

__all__ = ["catalogue", "density_of", "make_profile", "material_of"]

#: PRACTICE: offsets go with the width of the line, taken from those of the 0.4 mm nozzle's 0.45 mm line
_LINE_MM = 0.45
_SET_UP = {True: "that is set up for", False: "that is not set up for", None: "with"}


@cache
def catalogue() -> dict[str, Any]:
    """Everything one can choose, with its sources."""
    folder = files("dovejoint.core.profiles").joinpath("data")
    printers, materials = (
        json.loads(folder.joinpath(n).read_text("utf-8")) for n in ("printers.json", "materials.json")
    )
    return {
        "printers": printers["printers"],
        "nozzles": printers["nozzles"],
        "materials": materials["materials"],
        "others": materials["others"],
        "sources": [printers["source"], materials["source"], materials["mechanics_source"]],
    }


def material_of(name: str) -> Material:
    """What a plastic, metal or wood bears; one that is not in the catalogue is taken to be the first of it, and its name says so."""
    row = _row(name)
    m = row["mechanics"]
    low, usual, high = m["strain_once_percent"]
    cold, mid, warm = m["expansion_1e6"]
    return Material(
        row["id"], tuple(m["modulus_mpa"]), m["poisson"], (low / 100, usual / 100, high / 100), tuple(m["strength_mpa"]), tuple(m["friction"]),
        (cold / 1e6, mid / 1e6, warm / 1e6), m["softens_c"], row in catalogue()["materials"],
    )  # fmt: skip


def density_of(name: str) -> float:
    """g/cm³ of a material of the catalogue; of one that is not in it, that of the first."""
    return float(_row(name)["density_g_cm3"])


def _row(name: str) -> dict[str, Any]:
    """A material of the catalogue, whatever it is for; the first of it where there is none of that name."""
    rows: list[dict[str, Any]] = [*catalogue()["materials"], *catalogue()["others"]]
    return next((r for r in rows if r["id"] == name), rows[0])


def make_profile(
    id: str, printer: str, nozzle_mm: float, material: str, machine: int = 1, tuned: bool | None = None
) -> Profile:
    """The profile of a printer that was never measured, set up for its material or not, or nobody knows. Raises CommandError for a choice that is not in the catalogue."""
    data = catalogue()

    def pick(rows: list[dict[str, Any]], key: str, value: Any, what: str) -> dict[str, Any]:
        found = next((r for r in rows if r[key] == value), None)
        if found is None:
            raise CommandError(f"There is no {what} “{value}”; there are {', '.join(str(r[key]) for r in rows)}.")
        return found

    machine_kind = pick(data["printers"], "id", printer, "printer")
    nozzle = pick(data["nozzles"], "mm", nozzle_mm, "nozzle")
    stuff = pick(data["materials"], "id", material, "material")
    wide = nozzle["line_width_mm"] / _LINE_MM
    mean = np.array(DEFAULT_PROFILE.terms, dtype=float)
    mean[0:2] = -stuff["shrink_percent"] / 100
    mean[2] = -stuff["shrink_percent"] / 400
    mean[3:9] *= wide
    covariance = prior_covariance()
    widen = np.ones(len(mean))
    widen[0:2] = stuff["shrink_sd_percent"] / 0.15
    widen[3:9] = wide
    covariance = covariance * np.outer(widen, widen)
    k = machine_kind["speed"]
    base = PrintSettings()
    settings = base.model_copy(update={
        "layer_mm": nozzle["layer_mm"], "first_layer_mm": nozzle["layer_mm"], "wall_mm_s": base.wall_mm_s * k,
        "solid_mm_s": base.solid_mm_s * k, "infill_mm_s": base.infill_mm_s * k, "travel_mm_s": base.travel_mm_s * k,
        "acceleration_mm_s2": machine_kind["acceleration_mm_s2"], "most_flow_mm3_s": machine_kind["most_flow_mm3_s"],
        "density_g_cm3": stuff["density_g_cm3"], "price_per_kg": stuff["price_per_kg"],
    })  # fmt: skip
    plain = DEFAULT_PROFILE.model_copy(update={
        "id": id, "version": 1, "name": f"{machine_kind['name']}, {material}, {nozzle_mm:g} nozzle",
        "source": f"Workshop practice for such a printer {_SET_UP[tuned]} {material}; not measured yet.",
        "common_mm": round(DEFAULT_PROFILE.common_mm * wide, 4), "random_mm": round(DEFAULT_PROFILE.random_mm * wide, 4),
        "flare_mm": round(DEFAULT_PROFILE.flare_mm * wide, 3), "flare_height_mm": 2 * nozzle["layer_mm"],
        "line_width_mm": nozzle["line_width_mm"], "bed_mm": tuple(float(b) for b in machine_kind["bed_mm"]),
        "printer": printer, "material": material, "nozzle_mm": nozzle_mm, "machine": machine, "tuned": tuned, "settings": settings,
    })  # fmt: skip
    return with_belief(plain, as_set_up(Belief(mean, covariance), tuned, wide))
