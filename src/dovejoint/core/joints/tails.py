"""Tails: a part divided by a plane into two that print well, with dovetails on one that are slid into their slots in the other.

The tails go as far along their way as the part does, and have its outline at their ends. They share the width of the cut evenly. The slot is the tail's outline set off by
the gap, square to its sides, and a little deeper: the cut faces guide, and the sides hold.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Annotated

import numpy as np
from pydantic import Field

from .. import solid as kernel
from ..document import PlanePick
from ..document.picks import BasePlane
from ..errors import StepError
from ..quantities.markers import Angle, Length, Made, Number, PartMark
from ..recipe import FieldSpec, JointShape, Mate, StepContext, StepKind, StepOutput, said
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
from .prismatic import INTO_MM, RELIEF_MM, Outline, dovetail, engaged, held_by_sides, prism_of, seen_across
from .rounds import seen_axis
from .working import Draws, Given, Plot, Result, Working

__all__ = ["TailsFields"]

#: between two slots, and beside the outermost, stays this much, mm
WALL_MM = 1.2


class TailsFields(FitFields):
    """``part`` keeps what lies over the plane, with the tails; ``rest`` is the other piece, with the slots. ``wide`` is a tail's width at the cut."""

    part: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    plane: PlanePick = BasePlane(plane="ground")
    rest: Made = ""
    way: AxisPick | None = None
    tails: Number = "2"
    wide: Length = "8 mm"
    high: Length = "6 mm"
    angle: Angle = "75 deg"
    lead: Length = "0.4 mm"


def _frame(cut: Frame, along: tuple[float, float, float]) -> Frame:
    """``y`` out of the piece with the tails, ``z`` along them."""
    down = scale(cut.z, -1.0)
    return Frame(cut.origin, cross(down, along), down)


def _meeting(fields: TailsFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    cut, frame = cut_frame(fields, ctx), None
    along = seen_axis(ctx, fields.way)
    if cut is not None and along is not None and abs(dot(cut.z, along)) < 0.1:
        frame = _frame(cut, along)
    wide = figures.get("wide", 0.0)
    return Meeting(fields.rest, fields.part, frame, (wide, wide), along="x", places=round(figures.get("tails", 1.0)))


def _apply(ctx: StepContext) -> StepOutput:
    fields: TailsFields = ctx.fields
    cut, whole, over, under = cut_in_two(ctx)
    along = way_in_cut(ctx, cut, "Pick the way that the tails are slid in: an edge, or an axis.")
    outline = dovetail(ctx, ctx.positive("wide", "The width"), ctx.positive("high", "How far they reach in"))
    count, drawn, lead = ctx.whole("tails", 1, 40, "tails"), ctx.number("drawn"), ctx.number("lead")
    if drawn <= 0:
        raise StepError("Tails need a gap to be slid in; take a looser fit.", field="fit")
    if not 0 <= lead < outline.places[-1][1] / 2:
        raise StepError("The chamfer at the tails' ends is zero or more, and less than half as far as they reach in.", field="lead")  # fmt: skip
    frame = _frame(cut, along)
    (left, right), (low, high) = extent_on(under, under.find(f"{ctx.id}/divide"), Frame(frame.origin, frame.x, frame.z))
    share = OUTER_SHARE[fields.takes]
    tail, slot = outline.set_off(-(1 - share) * drawn, 0.0), outline.set_off(share * drawn, drawn + RELIEF_MM)
    if tail.places[0][0] < 0.3:
        raise StepError("The gap leaves nothing of the tails; make them wider.", field="wide")
    bay = (right - left) / count
    needed = 2 * slot.places[-1][0] + WALL_MM
    if needed > bay:
        fits = int((right - left) / needed)
        works = f"{fits} of them fit" if fits else "make them narrower, or less deep"
        raise StepError(f"The cut is {right - left:.4g} mm wide, and each tail takes {needed:.4g} mm of it: {works}.", field="tails")  # fmt: skip
    _with_a_floor(ctx, under, frame, slot.places[-1][1])
    made, tools, mates = [], [], []
    spare = 0.02 * (high - low)
    for k in range(1, count + 1):
        at = left + (k - 0.5) * bay
        here = Frame(frame.to_world(at, 0.0), frame.x, frame.y)
        made.append(_tail(ctx, whole, tail, here, (low, high), lead, k))
        tools.append(_called(prism_of(slot.down_to(-1.0), here, low - 1.0, high + 1.0, ctx.id, "slot"), "slot", k))
        sides = ("left", "right")
        mates.append(
            Mate(
                outer=tuple(f"{ctx.id}/slot({s}|{k})" for s in sides), inner=tuple(f"{ctx.id}/tail({s}|{k})" for s in sides), frame=here,
                low_mm=low + lead + spare, high_mm=high - lead - spare, sizes_mm=(slot.places[-1][0] + slot.places[0][0], outline.places[-1][1]),
                middle_mm=(0.0, outline.places[-1][1] / 2), along="x", slant_rad=outline.slant_rad,
            )
        )  # fmt: skip
    parts = {fields.part: kernel.fuse(over, made, ctx.id), fields.rest: kernel.cut(under, tools, ctx.id)}
    shape = JointShape(
        fields.rest, fields.part, drawn, tuple(mates), seen=seen_across(slot, mates[0].frame, (low + high) / 2)
    )
    return StepOutput(parts=parts, joint=shape, note=in_lumps(whole, parts))


def _with_a_floor(ctx: StepContext, under: kernel.NamedSolid, frame: Frame, deep_mm: float) -> None:
    """Refuse slots that would go all through the other piece."""
    low, high = kernel.bounds(under.shape)
    reach = max(frame.to_local(place)[1] for place in box_corners(low, high))
    if reach < deep_mm + WALL_MM:
        raise StepError(f"The other piece is {reach:.4g} mm deep there, and the slots need {deep_mm + WALL_MM:.4g} mm: let the tails reach in less.", field="high")  # fmt: skip


def _called(solid: kernel.NamedSolid, word: str, k: int) -> kernel.NamedSolid:
    return solid.renamed(lambda n: f"{n[:-1]}|{k})" if f"/{word}(" in n and n.endswith(")") else n)


def _tail(
    ctx: StepContext, whole: kernel.NamedSolid, outline: Outline, frame: Frame, ends: tuple[float, float], lead: float, k: int
) -> kernel.NamedSolid:  # fmt: skip
    """What lies of the part within a tail's outline, its edges chamfered where it ends."""
    bar = _called(prism_of(outline.down_to(-INTO_MM), frame, ends[0] - 1.0, ends[1] + 1.0, ctx.id, "tail"), "tail", k)
    try:
        made = kernel.overlap(whole, [bar], ctx.id)
    except StepError:
        raise StepError("A tail meets no material; take another number of them, or another cut.", field="tails") from None  # fmt: skip
    if lead <= 0:
        return made
    own = f"{ctx.id}/tail("
    mine = {i for s in ("left", "right", "top") for i in made.find(f"{own}{s}|{k})")}
    ends_in = {i for i, names in enumerate(made.names) if not any(n.startswith(own) for n in names)}
    edges = [i for i, (_, pair) in enumerate(made.edges) if mine & set(pair) and ends_in & set(pair)]
    return kernel.chamfer(made, edges, lead, lead, ctx.id) if edges else made


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _works(draws: Draws) -> Working:
    """Play to the side and apart, and what the tails bear when the pieces are pulled apart."""
    f, inner = draws.figures, draws.inner
    gap = np.maximum(draws.gap_mm, 0.0)
    slant = math.pi / 2 - f["angle"]
    engaged, count = draws.facts["engaged"], round(f["tails"])
    plastic = inner.material.plastic
    # its layers lie on the cut where that stands level
    lying = abs(inner.up[1])
    tear = count * f["wide"] * engaged * inner.strength_mpa * inner.layered(1)
    note = "its layers are pulled apart" if plastic and lying > 0.5 else "once, at the necks of all tails together"
    givens = (
        Given("tails", count, ""), Given("width at the cut", f["wide"], "mm"), Given("how far they reach in", f["high"], "mm"),
        Given("width at their tops", f["wide"] + 2 * f["high"] * math.tan(slant), "mm"), Given("length that meets", engaged, "mm"),
    )  # fmt: skip
    results = (
        Result("play to each side", gap / math.cos(slant), "mm"),
        *held_by_sides(gap, f["high"], slant, "the pieces come apart by"),
        Result("force until the tails tear off", tear, "N", note=note),
    )
    across = np.linspace(0.0, max(0.6, 2 * float(gap[0])), 13)
    plot = Plot("gap, mm", "the pieces come apart by, mm", tuple((float(a), float(a / math.sin(slant))) for a in across), None, (float(gap[0]), float(gap[0] / math.sin(slant))))  # fmt: skip
    acts = {"kind": "rail", "slant": slant, "engaged": engaged, "high": f["high"], "lying": bool(lying > 0.5)}
    return Working(
        "Tails", givens, results, (plot,),
        "Gaps square to the sides; the pieces meet at the cut. By the sentence's figures: what later steps do to it is not in it.", acts,
    )  # fmt: skip


register_joint(
    JointFamily(
        step=StepKind(
            kind="tails",
            title="Split and rejoin by dovetails",
            group="join",
            about="A part cut in two that print well, slid together along dovetails.",
            fields=TailsFields,
            specs=(
                *CUT_SPECS,
                FieldSpec("way", "axis", "way that they are slid in", missing="an edge or axis along the cut"),
                FieldSpec("tails", "number", "how many tails", "2"),
                FieldSpec("wide", "length", "width at the cut", "8 mm"),
                FieldSpec("high", "length", "how far they reach in", "6 mm"),
                FieldSpec("angle", "angle", "angle of their sides", "75 deg"),
                FieldSpec("lead", "length", "chamfer at their ends", "0.4 mm"),
                *fit_specs("the tails", "the slots"),
            ),
            sentence=said(
                *CUT_SAID,
                "; slide them together along ",
                "{way}",
                " by ",
                "{tails}",
                " dovetails, ",
                "{wide}",
                " wide and ",
                "{high}",
                " deep at ",
                "{angle}",
                ", ends chamfered ",
                "{lead}",
                "; ",
                *FIT_SAID,
                "; a change of the gap lands on ",
                "{takes}",
            ),
            apply=_apply,
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="cut halves pieces dovetail jigsaw bed divide saw slide",
        ),
        outer="slots",
        inner="tails",
        meeting=_meeting,
        wanted=wanted_of,
        goes_in="All tails go into their slots",
        holds="without too much play",
        facts=engaged,
        works=_works,
    )
)
