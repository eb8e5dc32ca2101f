"""Hooked lap: a part divided into two that print well, which lie over each other at the cut and hook into each other.

Each piece goes on beyond the cut by half of the lap, over half of the height there, and ends in a hook that lies behind the other one's. They are laid on each other; then neither can
be pulled off or pushed on along the cut's normal by more than the gap. The part's hooks rest on the floors of the other piece, whose own hooks end with a little room.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Annotated

import numpy as np
from pydantic import Field

from .. import solid as kernel
from ..document import PlanePick
from ..document.picks import BasePlane
from ..errors import StepError
from ..quantities.markers import Length, Made, PartMark
from ..recipe import FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, said
from ..recipe.picks import AxisPick
from ..solid import Frame
from ..solid.frame import box_corners, cross, dot, scale
from .family import (
    FIT_SAID,
    OUTER_SHARE,
    FitFields,
    JointFamily,
    Meeting,
    drawn_figures,
    fit_specs,
    register_joint,
    wanted_of,
)
from .halves import CUT_SAID, CUT_SPECS, cut_frame, cut_in_two, in_lumps, way_in_cut
from .places import extent_on
from .rounds import seen_axis
from .working import SHEARED, Draws, Given, Plot, Result, Working

__all__ = ["LapFields"]

#: what is left of a tongue over its hook's root, and of a piece behind the lap, mm
WALL_MM = 1.2
#: the other piece's hooks end so far above what they lie on, so that one pair of faces says how high the pieces lie
RELIEF_MM = 0.2
#: PRACTICE: hooks that stand out less hold nothing, three layers' height, mm
LEAST_MM = 0.6


class LapFields(FitFields):
    """``part`` keeps what lies over the plane, ``rest`` is the other piece, which is laid on from where ``way`` points to. ``long`` is the whole lap, ``deep`` how far the hooks stand out."""

    part: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    plane: PlanePick = BasePlane(plane="ground")
    rest: Made = ""
    way: AxisPick | None = None
    long: Length = "24 mm"
    deep: Length = "2 mm"
    lead: Length = "0.4 mm"


def _frame(cut: Frame, way: tuple[float, float, float]) -> Frame:
    """``x`` the way the cut looks, ``z`` out of the other piece's notch: against the way it is laid on from."""
    down = scale(way, -1.0)
    return Frame(cut.origin, cut.z, cross(down, cut.z))


def _meeting(fields: LapFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    cut, frame = cut_frame(fields, ctx), None
    way = seen_axis(ctx, fields.way)
    if cut is not None and way is not None and abs(dot(cut.z, way)) < 0.1:
        frame = _frame(cut, way)
    half = figures.get("long", 0.0) / 2
    return Meeting(fields.rest, fields.part, frame, (half, half), along="x", places=2)


def _apply(ctx: StepContext) -> StepOutput:
    fields: LapFields = ctx.fields
    cut, whole, _, under = cut_in_two(ctx)
    way = way_in_cut(ctx, cut, "Pick the way that the pieces are laid on each other: an edge, or an axis.")
    drawn, lead = ctx.number("drawn"), ctx.number("lead")
    half, deep = ctx.positive("long", "The lap's length") / 2, ctx.positive("deep", "How far the hooks stand out")
    if drawn <= 0:
        raise StepError("A lap needs a gap to be laid together; take a looser fit.", field="fit")
    upright = Frame(cut.origin, cut.z, way)
    _, (low, high) = extent_on(under, under.find(f"{ctx.id}/divide"), Frame(cut.origin, cross(way, cut.z), way))
    box = [upright.to_local(c) for c in box_corners(*kernel.bounds(whole.shape))]
    _check((min(c[0] for c in box), max(c[0] for c in box)), half, deep, lead, drawn, high - low)
    middle = (low + high) / 2
    share = OUTER_SHARE[fields.takes]
    own, other = (1 - share) * drawn, share * drawn
    far = [(min(c[k] for c in box) - 1.0, max(c[k] for c in box) + 1.0) for k in range(3)]
    floor, top = middle - deep / 2, middle + deep / 2
    # all that lies beyond the part's own end, hook and shoulder; and the same of the other piece
    beyond = [
        (far[0][0], far[1][0]), (-half + own, far[1][0]), *_hook(-half + own, -own, top, lead), (-own, floor), (half + own, floor), (half + own, far[1][1]), (far[0][0], far[1][1])
    ]  # fmt: skip
    words = ["", "end", "lead1", "top", "lead2", "hook", "floor", "shoulder", "", ""]
    under_top = floor + RELIEF_MM
    within = [
        (far[0][1], far[1][1]), (half - other, far[1][1]), *_hook(half - other, other, under_top, -lead), (other, top), (-half - other, top), (-half - other, far[1][0]), (far[0][1], far[1][0])
    ]  # fmt: skip
    tools = [_tool(ctx, ring, words, upright, far[2], word) for ring, word in ((beyond, "first"), (within, "second"))]
    try:
        parts = {p: kernel.cut(whole, [tool], ctx.id) for p, tool in zip((fields.part, fields.rest), tools, strict=True)}  # fmt: skip
    except StepError as error:
        raise StepError(error.message, field=error.field or "plane") from None
    frame = _frame(cut, way)
    mates = []
    for word, facing, at in (("first", "second", -half / 2), ("second", "first", half / 2)):
        walls = {"outer": f"{ctx.id}/{facing}(%s)", "inner": f"{ctx.id}/{word}(%s)"}
        spare = 0.02 * deep
        mates.append(
            Mate(
                outer=(walls["outer"] % "shoulder", walls["outer"] % "hook"), inner=(walls["inner"] % "end", walls["inner"] % "hook"), frame=frame,
                low_mm=-top + (lead if word == "first" else 0.0) + spare, high_mm=-floor - (0.0 if word == "first" else RELIEF_MM + lead) - spare,
                sizes_mm=(half + 2 * (other if word == "first" else own), deep), middle_mm=(at, 0.0), along="x", reach_mm=max(1.0, 4 * drawn), seated=True, swapped=word == "second",
            )
        )  # fmt: skip
    # seen as a whole, square to the cut and to the way they are laid on each other
    seen = Frame(upright.to_world(0.0, middle, (far[2][0] + far[2][1]) / 2), upright.x, upright.y), 1.1 * half + 2.0
    joint = JointShape(fields.rest, fields.part, drawn, tuple(mates), seen=seen)
    return StepOutput(parts=parts, joint=joint, note=in_lumps(whole, parts))


def _check(ends: tuple[float, float], half: float, deep: float, lead: float, drawn: float, tall: float) -> None:
    """Raises StepError where the lap leaves too little of itself or of the pieces; the part ends so far from the cut on either side, and is so tall there."""
    reach = min(ends[1], -ends[0]) - WALL_MM - drawn
    if half > reach:
        works = f"{2 * reach:.4g} mm is the most" if reach > 1.0 else "cut it farther from its end"
        raise StepError(f"A lap {2 * half:.4g} mm long leaves nothing of one of the pieces: {works}.", field="long")
    if deep < LEAST_MM:
        raise StepError(f"Hooks {deep:.4g} mm deep would slip over each other: {LEAST_MM:g} mm is the least.", field="deep")  # fmt: skip
    if deep / 2 > tall / 2 - WALL_MM - RELIEF_MM:
        most = tall - 2 * (WALL_MM + RELIEF_MM)
        works = f"{int(100 * most) / 100:.4g} mm is the most" if most > 0.5 else "the part is too thin there for a lap"
        raise StepError(f"The part is {tall:.4g} mm high at the cut; hooks {deep:.4g} mm deep leave too little over them: {works}.", field="deep")  # fmt: skip
    if half - 2 * drawn < 1.0:
        raise StepError("The gap leaves nothing of the hooks; make the lap longer.", field="long")
    if not 0 <= lead < min((deep - RELIEF_MM) / 2, half / 2 - drawn) - 0.05:
        raise StepError("The chamfer at the hooks is zero or more, and less than half as large as they are.", field="lead")  # fmt: skip


def _hook(end: float, wall: float, level: float, lead: float) -> list[tuple[float, float]]:
    """The corners of a hook from its end to its wall, at a level; with a chamfer (towards the root where it is positive downwards)."""
    side = math.copysign(abs(lead), wall - end)
    return [(end, level - lead), (end + side, level), (wall - side, level), (wall, level - lead)]


def _tool(
    ctx: StepContext, ring: Sequence[tuple[float, float]], words: Sequence[str], frame: Frame, through: tuple[float, float], piece: str
) -> kernel.NamedSolid:  # fmt: skip
    """The prism of an outline, its sides called ``step/piece(word)``."""
    lines: list[kernel.Curve] = [
        kernel.Line(w or f"far{k}", a, b)
        for k, (w, a, b) in enumerate(zip(words, ring, [*ring[1:], ring[0]], strict=True))
        if math.dist(a, b) > 1e-9
    ]
    (region,) = kernel.find_regions(lines)
    made = kernel.prism(region, frame, through[0], through[1], ctx.id, check=False)
    return made.renamed(lambda n: n.replace(f"{ctx.id}/side(", f"{ctx.id}/{piece}("))


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    """How large the part's hook is where it holds and where it ends, mm²."""
    areas = inner.solid.areas_mm2
    end, hook = (sum(areas[i] for i in inner.solid.find(name)) for name in shape.mates[0].inner)
    return {"hook": hook, "end": end}


def _works(draws: Draws) -> Working:
    """Play along the cut's normal, and what tears when the pieces are pulled apart."""
    f, facts = draws.figures, draws.facts
    play = 2 * np.maximum(draws.gap_mm, 0.0)
    tall = f["deep"] - f["lead"]
    wide = facts["hook"] / tall
    # what is left of the tongue where the other piece's hook lies in it
    neck = facts["end"] / wide - tall
    # the two walls face each other between both chamfers, and above the room that the other hook ends with
    bears = tall - f["lead"] - RELIEF_MM
    halves = (draws.outer, draws.inner)
    pulled = np.minimum(*(s.strength_mpa * s.layered(0) for s in halves))
    sheared = np.minimum(*(s.strength_mpa * s.layered(2) for s in halves)) * SHEARED
    layers = any(s.layered(0) < 0.75 for s in halves)
    givens = (
        Given("width of the hooks", wide, "mm", "read on the solids"), Given("length of a hook", f["long"] / 2, "mm"),
        Given("a hook holds over", bears, "mm"), Given("what is left of a tongue beside it", neck, "mm", "read on the solids"),
    )  # fmt: skip
    results = (
        Result("the pieces come apart by", play, "mm", note="along the cut's normal, before the hooks hold"),
        Result("force until a tongue tears", wide * neck * pulled, "N", note="its layers are pulled apart" if layers else "once"),
        Result("force until a hook is sheared off", wide * f["long"] / 2 * sheared, "N"),
        Result("force until a hook is crushed", wide * bears * np.minimum(*(s.strength_mpa for s in halves)), "N"),
    )  # fmt: skip
    across = np.linspace(0.0, max(0.4, 2 * float(draws.gap_mm[0])), 9)
    plot = Plot("gap, mm a side", "come apart by, mm", tuple((float(g), 2 * float(g)) for g in across), None, (float(draws.gap_mm[0]), float(play[0])))  # fmt: skip
    return Working(
        "Hooked lap", givens, results, (plot,),
        "Pulled straight; that the tongues bend open when they are pulled is not counted, and what keeps the pieces on each other (glue, screws, a sleeve) neither.",
    )  # fmt: skip


register_joint(
    JointFamily(
        step=StepKind(
            kind="lap",
            title="Split and rejoin by a hooked lap",
            group="join",
            about="A part cut in two that print well, laid over each other at the cut and hooked together.",
            fields=LapFields,
            specs=(
                *CUT_SPECS,
                FieldSpec(
                    "way", "axis", "way that they are laid on each other", missing="an edge or axis along the cut"
                ),
                FieldSpec("long", "length", "how far they lie over each other", "24 mm"),
                FieldSpec("deep", "length", "how far the hooks stand out", "2 mm"),
                FieldSpec("lead", "length", "chamfer at the hooks", "0.4 mm"),
                *fit_specs("the part's hook", "the other piece's hook"),
            ),
            sentence=said(
                *CUT_SAID,
                "; lay them over each other along ",
                "{way}",
                ", ",
                "{long}",
                " long, with hooks ",
                "{deep}",
                " deep, chamfered ",
                "{lead}",
                "; ",
                *FIT_SAID,
                "; a change of the gap lands on ",
                "{takes}",
            ),
            apply=_apply,
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="cut halves pieces scarf overlap bed divide saw beam long",
        ),
        outer="room for a hook",
        inner="hook",
        meeting=_meeting,
        wanted=wanted_of,
        goes_in="The hooks go behind each other",
        holds="without too much play",
        facts=_facts,
        works=_works,
    )
)
