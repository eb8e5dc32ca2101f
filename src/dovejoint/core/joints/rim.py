"""Rim: two open parts that meet edge to edge, one with a lip along its rim that goes into the other: a lap over half the wall, or a tongue in a groove.

The lip follows the opening of the rim that was picked, corners and roundings too. On the inside of the wall it laps (the other part's wall is cut back to take it); in its
middle it is a tongue, and the other part gets a groove. The gap is that between the lip and what takes it, a side; lip and recess share it as asked.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from .. import solid as kernel
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Changed, Length, PartMark
from ..recipe import Choice, FieldSpec, JointShape, Mate, StepContext, StepKind, StepOutput, said
from ..solid import Curve, Frame
from ..solid.facename import as_part
from ..solid.outline import extent, points_along
from .family import (
    FitFields,
    JointFamily,
    Meeting,
    drawn_figures,
    fit_specs,
    other_half,  # fmt: skip
    register_joint,
    wanted_of,
)
from .loops import INTO_MM, RELIEF_MM, Lip, from_loop, lip_edges, lip_said, turned_down, with_mouth
from .mating import normal_of
from .plug_in_lip import opening_of

__all__ = ["RimFields"]

#: points on each curve when walls are looked at
_LOOKS = 40


class RimFields(FitFields):
    """``rim`` carries the lip, ``host`` stands on it. ``begins`` is how far from the opening a tongue begins."""

    rim: Annotated[FlatFace | None, Changed()] = None
    host: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    form: Literal["lap", "tongue"] = "lap"
    thickness: Length = "1 mm"
    begins: Length = "1 mm"
    height: Length = "3 mm"
    lead: Length = "0.4 mm"
    mouth: Length = "0.5 mm"


def _meeting(fields: RimFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    pick, frame, sizes = fields.rim, None, (0.0, 0.0)
    normal = normal_of(pick.face.seen) if pick is not None else None
    if ctx is not None and pick is not None:
        part, found = ctx.faces_named(pick, "rim")
        normal = part.faces[found].normal
        sizes = opening_of(part.solid, found)
    if normal is not None:
        # out of what takes the lip
        frame = turned_down(Frame.on_plane((0.0, 0.0, 0.0), normal))
    place = pick.face.seen.at if pick is not None and pick.face.seen is not None else None
    edges = lip_edges("lip", "recess", figures.get("mouth", 0.0), figures.get("lead", 0.0), place)
    return Meeting(fields.host, pick.part if pick is not None else "", frame, sizes, edges=edges)


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: RimFields = ctx.fields
    if fields.rim is None:
        raise StepError("Pick the rim that the lip stands on.", field="rim")
    if fields.host == fields.rim.part:
        raise StepError("The recess goes into another part than the one with the lip.", field="host")
    carrier, found = ctx.faces_named(fields.rim, "rim")
    host = ctx.part(fields.host, "host")
    frame, loops = kernel.face_loops(carrier.solid, found)
    if len(loops) != 2:
        raise StepError("Pick a rim round one opening: a flat face with one hole.", field="rim")
    outer, opening = loops
    tongue = fields.form == "tongue"
    begins = ctx.positive("begins", "How far from the opening it begins") if tongue else 0.0
    lip = Lip.of(ctx, "lip", 2 if tongue else 1, begins)
    lip.fits_in(_wall_mm(outer, opening), "the opening")
    inside = begins + (lip.thinner if tongue else 0.0)
    try:
        ring = kernel.rim_ring(frame, opening, begins_mm=inside, wide_mm=lip.left, low_mm=-INTO_MM, high_mm=lip.high, step=ctx.id, mark="lip")  # fmt: skip
        if lip.lead > 0:
            ring = kernel.pointed(ring, lip.lead, ctx.id, inner=tongue)
        # a lap's recess opens into the part; its tool begins a little in the free opening
        within = begins - lip.wider if tongue else -0.2
        tool = kernel.rim_ring(frame, opening, begins_mm=within, wide_mm=begins + lip.thick + lip.wider - within, low_mm=-1.0, high_mm=lip.high + RELIEF_MM, step=ctx.id, mark="recess")  # fmt: skip
    except StepError as error:
        raise StepError(error.message, field=error.field or "thickness") from None
    made = kernel.plain_names(kernel.fuse(carrier.solid, [ring], ctx.id))
    changed = kernel.plain_names(kernel.cut(host.solid, [tool], ctx.id))
    walls = [as_part(c.id) for c in opening]
    outers, lips = [f"{ctx.id}/recess({w})" for w in walls], [f"{ctx.id}/lip({w})" for w in walls]
    if tongue:
        outers += [f"{ctx.id}/recess-inner({w})" for w in walls]
        lips += [f"{ctx.id}/lip-inner({w})" for w in walls]
    if lip.mouth > 0:
        changed = with_mouth(changed, set(outers), frame, lip.mouth, ctx.id)
    (wide, deep), middle = extent(opening)
    mate = Mate(
        outer=tuple(outers), inner=tuple(lips), frame=turned_down(frame), low_mm=lip.meets[0], high_mm=lip.meets[1], sizes_mm=(wide + lip.out, deep + lip.out), middle_mm=(middle[0], -middle[1]),
        round_hole=len(opening) == 1 and not tongue, reach_mm=4 * abs(lip.drawn) + 1.0, seated=True,
    )  # fmt: skip
    joint = JointShape(fields.host, fields.rim.part, lip.drawn, (mate,))
    return StepOutput(parts={fields.rim.part: made, fields.host: changed}, joint=joint)


def _wall_mm(outer: list[Curve], opening: list[Curve]) -> float:
    """How far apart two loops are where they are nearest: from points of each to the straight pieces between points of the other."""
    rings = [
        np.array([p for p, _ in points_along(loop, _LOOKS if len(loop) > 1 else 8 * _LOOKS)])
        for loop in (outer, opening)
    ]
    return float(min(from_loop(one, other).min() for one, other in (rings, rings[::-1])))


_TONGUE = {"form": ["tongue"]}
register_joint(
    JointFamily(
        step=StepKind(
            kind="rim",
            title="Lap or tongue along a rim",
            group="join",
            about="Two open parts that meet edge to edge: a lip on one rim, and a recess or groove in the other.",
            fields=RimFields,
            specs=(
                FieldSpec("rim", "rim", "rim with the lip", missing="the rim that the lip stands on"),
                FieldSpec("host", "part", "part on that rim", missing="the part that stands on it"),
                FieldSpec(
                    "form",
                    "choice",
                    "what stands on it",
                    "lap",
                    (Choice("lap", "a lap inside"), Choice("tongue", "a tongue, from the opening")),
                ),
                FieldSpec("begins", "length", "how far from the opening it begins", "1 mm"),
                FieldSpec("thickness", "length", "thickness", "1 mm"),
                FieldSpec("height", "length", "height", "3 mm"),
                FieldSpec("lead", "length", "lead-in chamfer", "0.4 mm"),
                FieldSpec("mouth", "length", "chamfer at the mouth", "0.5 mm"),
                *fit_specs("the lip", "the recess"),
            ),
            sentence=said(
                "Join ",
                "{host}",
                " to ",
                "{rim}",
                " by ",
                "{form}",
                (" ", _TONGUE),
                ("{begins}", _TONGUE),
                " ",
                *lip_said(),
            ),
            apply=_apply,
            begin=other_half("rim"),
            prepare=drawn_figures,
            # a face is mostly pointed at for something simpler
            suits=("plane", "part", "face"),
            words="lid housing halves shell lap groove seal edge",
        ),
        outer="recess",
        inner="lip",
        meeting=_meeting,
        wanted=wanted_of,
        goes_in="The lip goes into its recess",
        holds="without too much play",
    )
)
