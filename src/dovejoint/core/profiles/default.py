"""The profiles that gaps rest on until a printer has been measured."""

from __future__ import annotations

from ..document import Profile, Project
from .belief import as_set_up, belief_of, prior_covariance, with_belief

__all__ = ["DEFAULT_PROFILE", "SET_UP_PROFILE", "profile_of", "shipped_profile"]

#: PRACTICE, not a standard: cautious middle values for a tuned desktop printer with a 0.4 mm nozzle. Outside
#: faces lie 0.05 mm proud; walls of openings close in by 0.10 mm a side, round holes by 0.3/D more; prints shrink by
#: 0.2 % in the layers' plane. Repeatability 0.04 mm outside and 0.05 mm in openings on diameter, split here into a share
#: common to a print and one of each feature by itself. How far a printer may lie from this is in ``belief.py``.
SET_UP_PROFILE = Profile(
    id="pr2",
    name="Bench printer, PLA, 0.4 nozzle",
    source="Workshop practice for a tuned desktop printer with a 0.4 mm nozzle and 0.2 mm layers; not measured yet.",
    outside_mm=0.05,
    inside_mm=0.10,
    common_mm=0.015,
    random_mm=0.022,
    line_width_mm=0.45,
    bed_mm=(220.0, 220.0, 250.0),
    terms=[-0.002, -0.002, -0.0005, 0.05, 0.05, -0.02, 0.10, 0.10, 0.05, 0.3, 0.0, 0.0, 0.0],
    covariance=[[float(f"{c:.4g}") for c in row] for row in prior_covariance()],
    printer="bench",
    material="PLA",
    # of the simulated printers one whose first print shows what the loop is for
    machine=10,
    tuned=True,
)
#: the same printer where nobody said that it is set up: what a new project rests on
DEFAULT_PROFILE = with_belief(
    SET_UP_PROFILE, as_set_up(belief_of(SET_UP_PROFILE), None), id="pr1", tuned=None,
    source="Workshop practice for a desktop printer with a 0.4 mm nozzle and 0.2 mm layers; not measured yet.",
)  # fmt: skip


def shipped_profile(id: str) -> Profile | None:
    """The profile of that id that the application ships with."""
    return next((p for p in (DEFAULT_PROFILE, SET_UP_PROFILE) if p.id == id), None)


def profile_of(project: Project) -> Profile:
    """The profile that a project rests on; the default one until it has its own."""
    return project.used_profile() or DEFAULT_PROFILE
