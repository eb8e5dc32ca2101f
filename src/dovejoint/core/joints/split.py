"""Split and rejoin: a part divided by a plane into two that print well, with pegs on one that find their sockets in the other.

The pegs stand where the cut is wide enough for them, as far from one another as they can. They go with the cut: another plane, or another outline, and they find new
places.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

from pydantic import Field

from .. import solid as kernel
from ..document import PlanePick
from ..document.picks import BasePlane
from ..errors import StepError
from ..quantities.markers import Made, PartMark
from ..recipe import JointShape, StepContext, StepKind, StepOutput, said
from ..solid import Frame
from .family import (  # fmt: skip
    JointFamily,
    Meeting,
    Per,
    drawn_figures,
    fit_specs,
    register_joint,
)
from .halves import CUT_SAID, CUT_SPECS, cut_frame, cut_in_two, in_lumps
from .iso_fit import ISO, ISO_FIT_SAID, ZONES_SPEC, iso_or_wanted
from .pegs import PEG_SAID, PEG_SPECS, PegFields, Pegs, peg_edges
from .places import far_apart, grid_on

__all__ = ["SplitFields"]


class SplitFields(PegFields):
    """``part`` keeps what lies over the plane, with the pegs; ``rest`` is the other piece, with the sockets."""

    part: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    plane: PlanePick = BasePlane(plane="ground")
    rest: Made = ""


def _per(fields: SplitFields) -> Per:
    return "diameter"


def _meeting(fields: SplitFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    size = figures.get("diameter", 0.0)
    edges = peg_edges(figures.get("lead", 0.0), figures.get("mouth", 0.0))
    return Meeting(
        fields.rest,
        fields.part,
        cut_frame(fields, ctx),
        (size, size),
        round_hole=True,
        edges=edges,
        places=round(figures.get("pegs", 1.0)),
    )


def _apply(ctx: StepContext) -> StepOutput:
    fields: SplitFields = ctx.fields
    frame, whole, over, under = cut_in_two(ctx)
    p = Pegs(ctx)
    sticks, holes, mates = p.at(frame, _places(ctx, under, frame, p))
    made = {fields.part: kernel.fuse(over, sticks, ctx.id), fields.rest: kernel.cut(under, holes, ctx.id)}
    joint = JointShape(fields.rest, fields.part, p.drawn, mates)
    return StepOutput(parts=made, joint=joint, note=in_lumps(whole, made))


def _places(ctx: StepContext, under: kernel.NamedSolid, frame: Frame, p: Pegs) -> list[tuple[float, float]]:
    """Places on the cut (u, v of the frame) that keep clear of its outline, with enough below them, far from one another."""
    spots, rooms = grid_on(under, under.find(f"{ctx.id}/divide"), frame)
    if not (rooms >= p.clear).any():
        most = 2 * (float(rooms.max(initial=0.0)) - p.clear + p.socket)
        works = f"Ø {int(10 * most) / 10:.3g} mm is the most" if most > 1.0 else "let it be cut elsewhere"
        raise StepError(f"The cut is nowhere wide enough for these pegs and a wall round them: {works}.", field="diameter")  # fmt: skip

    def deep_enough(place: tuple[float, float]) -> bool:
        below = kernel.thickness_at(under, frame.to_world(*place, -1e-4), frame.z)
        return below is None or below >= p.deep

    found = far_apart(spots, rooms, p.clear, p.count, deep_enough)
    if len(found) < p.count:
        fits = f"only {len(found)} of them" if found else "none of them"
        raise StepError(f"There is room and depth for {fits} on this cut; take fewer, thinner or shorter pegs.", field="pegs")  # fmt: skip
    return found


register_joint(
    JointFamily(
        step=StepKind(
            kind="split",
            title="Split and rejoin",
            group="join",
            about="A part cut in two that print well, with pegs on one and sockets in the other.",
            fields=SplitFields,
            specs=(*CUT_SPECS, *PEG_SPECS, *fit_specs("the pegs", "the sockets", ISO), ZONES_SPEC),
            sentence=said(
                *CUT_SAID,
                "; rejoin them by ",
                *PEG_SAID,
                "; ",
                *ISO_FIT_SAID,
                "; a change of the gap lands on ",
                "{takes}",
            ),
            apply=_apply,
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="cut halves pieces dowel peg pin bed divide saw",
        ),
        outer="sockets",
        inner="pegs",
        meeting=_meeting,
        wanted=iso_or_wanted("diameter"),
        goes_in="All pegs go in",
        holds="without too much play",
        per=_per,
    )
)
