"""What joint families have in common: their fit, and which half takes a change of the gap."""

from __future__ import annotations

from typing import Any, Literal

from ..document import Project, Step, StepFields
from ..fits import FIT_CLASSES, Wanted, drawn_for
from ..profiles import profile_of
from ..quantities.markers import Length
from ..recipe import Choice, FieldSpec
from .mating import edges_of, mating_of

__all__ = ["FIT_SPECS", "FitFields", "drawn_figures", "joint_kinds", "register_joint", "wanted_of"]


class FitFields(StepFields):
    """Fields of every joint: the fit class or an own band (per side), and which half takes a change of the gap."""

    fit: Literal["press", "snug", "slide", "loose", "own"] = "slide"
    least: Length = "0.1 mm"
    target: Length = "0.2 mm"
    most: Length = "0.3 mm"
    takes: Literal["inner", "outer", "both"] = "inner"


FIT_SPECS = (
    FieldSpec(
        "fit",
        "choice",
        "fit",
        "slide",
        (
            Choice("press", "press"),
            Choice("snug", "snug"),
            Choice("slide", "slide"),
            Choice("loose", "loose"),
            Choice("own", "own"),
        ),
    ),
    FieldSpec("least", "length", "least wanted gap a side", "0.1 mm"),
    FieldSpec("target", "length", "target gap a side", "0.2 mm"),
    FieldSpec("most", "length", "most wanted gap a side", "0.3 mm"),
    FieldSpec(
        "takes",
        "choice",
        "which half takes a change of the gap",
        "inner",
        (Choice("inner", "the lip"), Choice("outer", "the opening"), Choice("both", "both halves")),
    ),
)

_JOINTS: set[str] = set()


def register_joint(kind: str) -> None:
    """Tell the gauges that a kind of step is a joint."""
    _JOINTS.add(kind)


def joint_kinds() -> set[str]:
    return set(_JOINTS)


def wanted_of(fields: dict[str, Any], figures: dict[str, float]) -> Wanted:
    """The wanted band of a joint, from its class or its own figures. Raises StepError when it is out of order."""
    if fields.get("fit", "slide") != "own":
        return FIT_CLASSES[fields.get("fit", "slide")].wanted
    return Wanted(figures["least"], figures["target"], figures["most"]).checked()


def drawn_figures(project: Project, step: Step, figures: dict[str, float]) -> dict[str, float]:
    """The drawn gap as a figure of the step, so that a change of profile or fit makes it anew."""
    laid = mating_of(project, edges_of(step, figures))
    return {"drawn": drawn_for(wanted_of(step.fields, figures), profile_of(project), laid.mating).gap_mm}
