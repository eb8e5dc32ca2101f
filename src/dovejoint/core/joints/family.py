"""A joint family as one object: its halves, where its wanted band comes from, how its faces mate, and what that means.

Everything that is said of a joint (gauge, chance, checks, simulated trial, verdict, coupon, revision) is worked out from this
object and from the :class:`~dovejoint.core.recipe.JointShape` that its step makes; none of it knows a family by name. A new
family is one file that ends with ``register_joint(…)``.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Literal

from ..document import Profile, Project, Step, StepFields
from ..document.compiled import compiled_step
from ..errors import StepError
from ..fits import FIT_CLASSES, Wanted, drawn_for
from ..profiles import profile_of
from ..quantities.markers import Length
from ..recipe import Choice, FieldSpec, JointShape, PartState, StepContext, StepKind, register
from ..solid import Frame, Vec3
from .working import Draws, Working

__all__ = [
    "FIT_SAID", "OUTER_SHARE", "BedEdge", "another", "other_half", "stands_on", "straight_across", "FitFields", "JointFamily", "Meeting", "families", "family_of", "figure", "fit_specs", "is_joint", "meeting_of", "register_joint",
    "wanted_of",
]  # fmt: skip

Per = Literal["side", "diameter", "across"]


class FitFields(StepFields):
    """Fields of every joint: the fit class or an own band (per side), and which half takes a change of the gap."""

    fit: Literal["press", "snug", "slide", "loose", "own"] = "slide"
    least: Length = "0.1 mm"
    target: Length = "0.2 mm"
    most: Length = "0.3 mm"
    takes: Literal["inner", "outer", "both"] = "inner"


def fit_specs(
    inner: str,
    outer: str,
    *more: Choice,
    band: tuple[str, str, str] = ("0.1 mm", "0.2 mm", "0.3 mm"),
    fit: str = "slide",
    takes: str = "inner",
) -> tuple[FieldSpec, ...]:
    """How the interface asks for a fit; ``inner`` and ``outer`` are what the halves are called, ``more`` further kinds of fit, ``band`` what
    an own band begins with, ``fit`` and ``takes`` what a new joint begins with."""
    return (
        FieldSpec("fit", "choice", "fit", fit, (*(Choice(f, f) for f in (*FIT_CLASSES, "own")), *more)),
        FieldSpec("least", "length", "least wanted gap", band[0]),
        FieldSpec("target", "length", "target gap", band[1]),
        FieldSpec("most", "length", "most wanted gap", band[2]),
        FieldSpec(
            "takes",
            "choice",
            "which half takes a change of the gap",
            takes,
            (Choice("inner", inner), Choice("outer", outer), Choice("both", "both halves")),
        ),
    )


#: how a fit is said in the sentences of all families
FIT_SAID = (
    "{fit}",
    " fit",
    (", gap from ", {"fit": ["own"]}),
    ("{least}", {"fit": ["own"]}),
    (" over ", {"fit": ["own"]}),
    ("{target}", {"fit": ["own"]}),
    (" to ", {"fit": ["own"]}),
    ("{most}", {"fit": ["own"]}),
)


def another(project: Project, *taken: str) -> str:
    """The newest printed part that is none of these; empty where there is none."""
    return next((p.id for p in reversed(project.parts) if p.role == "printed" and p.id not in taken), "")


def other_half(picked: str) -> Callable[[Project, Mapping[str, Any], str], dict[str, Any]]:
    """A beginning (``StepKind.begin``): once the face in this field is picked, ``host`` is another part than its."""

    def begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
        pick = fields.get(picked)
        if answered != picked or not isinstance(pick, Mapping):
            return {}
        host = another(project, str(pick.get("part")))
        return {"host": host} if host else {}

    return begin


def stands_on(project: Project, part: str) -> str:
    """The part on which the step that made another one put it; empty where it stands on none."""
    step = next((s for s in project.recipe if s.fields.get("part") == part), None)
    places = (step.fields.get("on"), step.fields.get("at")) if step is not None else ()
    return next((str(p["part"]) for p in places if isinstance(p, Mapping) and p.get("part")), "")


#: the share of a gap that the outer half takes, by which half takes its change
OUTER_SHARE = {"inner": 0.0, "outer": 1.0, "both": 0.5}


@dataclass(frozen=True)
class BedEdge:
    """A mating edge that flares when its half lies on the plane it bounds: which half, what it is called, and the leg of its chamfer, mm.

    ``out`` says that this plane faces out of the opening and goes through the mate's frame (a mouth); else it faces inwards (the end
    of what goes in). ``place`` is where a flag may stand.
    """

    outer: bool
    what: str
    chamfer_mm: float
    out: bool
    place: Vec3 | None = None


@dataclass(frozen=True)
class Meeting:
    """What a family says of a joint's halves: their parts, the directions in which they meet, the opening's size in each (mm; 0 where
    not known), and the edges that may flare; ``along`` is the one direction in which they meet, where it is only one, ``places`` at how many places alike, ``rests`` whether the gap is a depth within the outer half (``Mate``). Before any solid is there it goes by what was seen when the picks were made."""

    outer: str
    inner: str
    frame: Frame | None = None
    sizes_mm: tuple[float, float] = (0.0, 0.0)
    round_hole: bool = False
    edges: tuple[BedEdge, ...] = ()
    along: Literal["", "x", "y"] = ""
    places: int = 1
    rests: bool = False


def _per_side(fields: Any) -> Per:
    return "side"


def straight_across(fields: Any) -> Per:
    """How a family's gap is told that has no two sides: as it is."""
    return "across"


def _always_drawn(fields: Any) -> bool:
    return True


def _nothing_to_work_out(draws: Draws) -> Working | None:
    return None


@dataclass(frozen=True)
class JointFamily:
    """One family of joints.

    Parameters
    ----------
    step : the kind of step that makes it.
    outer, inner : what its halves are called (``opening``, ``lip``).
    meeting : the halves from the fields and figures, and exactly where a context is given.
    wanted : the band of the gap per side, from the fields and figures. Raises StepError, FormulaError.
    goes_in, holds : what the two chances mean, as the end of “… in 93 of 100 prints”.
    per : whether its figures are shown per side, on diameter, or straight across one gap.
    draws : whether it draws the gap itself (not where both halves were there before and it only watches them).
    facts : sizes that its calculation needs and only the solids know (mm, by name), from both halves as they stand in the end; ``None`` where
        its formulas say all.
    comes : how the halves come together: ``straight`` along the frame's ``z``, ``sprung`` (the same, but something bends on the way), or ``turned`` (or not at all).
    works : what the hand-book works out for it, over all cases; ``None`` where there is nothing to work out for these fields.
    gauged : whether nothing goes into anything, so that its gap is looked at as the parts lie instead of being tried by hand.
    """

    step: StepKind
    outer: str
    inner: str
    meeting: Callable[[Any, Mapping[str, float], StepContext | None], Meeting]
    wanted: Callable[[Any, Mapping[str, float]], Wanted]
    goes_in: str
    holds: str
    per: Callable[[Any], Per] = field(default=_per_side)
    draws: Callable[[Any], bool] = field(default=_always_drawn)
    facts: Callable[[JointShape, PartState, PartState], Mapping[str, float]] | None = None
    comes: Literal["straight", "sprung", "turned"] = "straight"
    works: Callable[[Draws], Working | None] = field(default=_nothing_to_work_out)
    gauged: bool = False


_FAMILIES: dict[str, JointFamily] = {}


def register_joint(family: JointFamily) -> JointFamily:
    """Make a family known, and its kind of step."""
    register(family.step)
    _FAMILIES[family.step.kind] = family
    return family


def families() -> list[JointFamily]:
    return list(_FAMILIES.values())


def family_of(step: Step) -> JointFamily:
    return _FAMILIES[step.kind]


def is_joint(step: Step) -> bool:
    return step.kind in _FAMILIES


def steps_gap(step: Step) -> bool:
    """Whether a joint draws a gap of its own, which may be drawn a little tighter or wider: none that a standard sizes, or that was there before."""
    family = family_of(step)
    return "fit" in step.fields and not family.gauged and family.draws(compiled_step(step).fields)


def figure(figures: Mapping[str, float], name: str) -> float:
    """A figure of the joint's sentence. Raises StepError when it was left empty."""
    if name not in figures:
        raise StepError("This figure is missing.", field=name)
    return figures[name]


def wanted_of(fields: FitFields, figures: Mapping[str, float]) -> Wanted:
    """The wanted band per side, from the class or the joint's own figures. Raises StepError when it is out of order."""
    if fields.fit != "own":
        return FIT_CLASSES[fields.fit].wanted
    return Wanted(*(figure(figures, name) for name in ("least", "target", "most"))).checked()


def meeting_of(step: Step, figures: Mapping[str, float], ctx: StepContext | None = None) -> Meeting:
    return family_of(step).meeting(compiled_step(step).fields, figures, ctx)


def drawn_mm(step: Step, figures: Mapping[str, float], profile: Profile, mating: Any) -> float | None:
    """The gap that a joint draws, per side; ``None`` where it draws none."""
    family, fields = family_of(step), compiled_step(step).fields
    if not family.draws(fields):
        return None
    return drawn_for(family.wanted(fields, figures), profile, mating).gap_mm


def drawn_figures(project: Project, step: Step, figures: dict[str, float], ctx: StepContext | None) -> dict[str, float]:
    """The drawn gap as a figure of the step, so that a change of profile or fit makes it anew."""
    from .mating import mating_of

    # what flares is no matter of the drawn gap: a chamfer takes it
    meeting = replace(meeting_of(step, figures, ctx), edges=())
    laid = mating_of(project, meeting, None if ctx is None else ctx.states)
    found = drawn_mm(step, figures, profile_of(project), laid.mating)
    return {} if found is None else {"drawn": found}
