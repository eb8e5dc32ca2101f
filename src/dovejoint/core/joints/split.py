"""Split and rejoin: a part divided by a plane into two that print well, with pegs on one that find their sockets in the other.

The pegs stand where the cut is wide enough for them, as far from one another as they can. They go with the cut: another plane, or another outline, and they find new
places.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from .. import solid as kernel
from ..document import PlanePick
from ..document.picks import BasePlane
from ..errors import StepError
from ..quantities.markers import Length, Made, Number, PartMark
from ..recipe import FieldSpec, JointShape, Mate, StepContext, StepKind, StepOutput, said
from ..solid import Frame
from .family import (  # fmt: skip
    FIT_SAID,
    OUTER_SHARE,
    BedEdge,
    FitFields,
    JointFamily,
    Meeting,
    Per,
    drawn_figures,
    fit_specs,
    register_joint,
    wanted_of,
)
from .loops import from_loop

__all__ = ["SplitFields"]

Array = NDArray[np.float64]
#: a socket keeps this much of a wall round it and under it, mm
WALL_MM = 1.2
#: and is deeper than its peg by this
RELIEF_MM = 0.5
_GRID = 48


class SplitFields(FitFields):
    """``part`` keeps what lies over the plane, with the pegs; ``rest`` is the other piece, with the sockets."""

    part: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    plane: PlanePick = BasePlane(plane="ground")
    rest: Made = ""
    pegs: Number = "2"
    diameter: Length = "6 mm"
    long: Length = "8 mm"
    lead: Length = "0.6 mm"
    mouth: Length = "0.4 mm"


def _per(fields: SplitFields) -> Per:
    return "diameter"


def _meeting(fields: SplitFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    frame = None
    if ctx is not None:
        frame = ctx.frame(fields.plane, "plane")
    elif isinstance(fields.plane, BasePlane):
        frame = {"ground": kernel.GROUND, "front": kernel.FRONT, "side": kernel.SIDE}[fields.plane.plane]
    size = figures.get("diameter", 0.0)
    edges = (
        BedEdge(True, "the mouths of the sockets", figures.get("mouth", 0.0), True),
        BedEdge(False, "the ends of the pegs", figures.get("lead", 0.0), False),
    )
    return Meeting(fields.rest, fields.part, frame, (size, size), round_hole=True, edges=edges)


def _apply(ctx: StepContext) -> StepOutput:
    fields: SplitFields = ctx.fields
    if ctx.has_part(fields.rest):
        raise StepError("The other piece is made by an earlier step; this one makes its own.", field="rest")
    frame = ctx.frame(fields.plane, "plane")
    whole = ctx.part(fields.part, "part").solid
    try:
        over, under = (kernel.side_of(whole, frame, ctx.id, side) for side in (True, False))
    except StepError as error:
        raise StepError(error.message, field=error.field or "plane") from None
    radius, long = ctx.positive("diameter", "The pegs' diameter") / 2, ctx.positive("long", "The pegs' length")
    lead, mouth, drawn, count = ctx.number("lead"), ctx.number("mouth"), ctx.number("drawn"), ctx.whole("pegs", 1, 24, "pegs")  # fmt: skip
    if not 0 <= lead < min(radius, long / 2) or not 0 <= mouth < long / 2:
        raise StepError("The chamfers leave nothing of the pegs; make them smaller.", field="lead")
    share = OUTER_SHARE[fields.takes]
    peg, socket = radius - (1 - share) * drawn, radius + share * drawn
    if peg < 0.5:
        raise StepError("The gap leaves nothing of the pegs; make them thicker.", field="diameter")
    places = _places(ctx, under, frame, socket + WALL_MM, long + RELIEF_MM + WALL_MM, count)
    sticks, holes, mates = [], [], []
    for k, (u, v) in enumerate(places, 1):
        at = Frame(frame.to_world(u, v), frame.x, frame.y)
        # its pointed end is the lower one
        sticks.append(kernel.bar(at, peg, -long, 0.3, ctx.id, f"peg({k})", lead).renamed(lambda n, k=k: f"{ctx.id}/lead({k})" if n == f"{ctx.id}/lead" else n))  # type: ignore[misc]  # fmt: skip
        deep = -long - RELIEF_MM
        profile = [
            (0.0, deep),
            (socket, deep),
            (socket, -mouth),
            (socket + mouth, 0.0),
            (socket + mouth, 0.5),
            (0.0, 0.5),
        ]
        words = ["floor", "socket", "mouth", "over", "lid", "middle"]
        if mouth <= 0:
            profile, words = [profile[0], profile[1], (socket, 0.5), profile[5]], ["floor", "socket", "lid", "middle"]
        holes.append(kernel.lathed(at, profile, words, ctx.id, str(k)))
        spare = 0.02 * long
        mates.append(Mate(
            outer=(f"{ctx.id}/socket({k})",), inner=(f"{ctx.id}/peg({k})",), frame=at, low_mm=-(long - lead) + spare, high_mm=-max(mouth, 0.05) * 1.02,
            sizes_mm=(2 * socket, 2 * socket), round_hole=True, reach_mm=abs(drawn) + 0.5, seated=True,
        ))  # fmt: skip
    made = {fields.part: kernel.fuse(over, sticks, ctx.id), fields.rest: kernel.cut(under, holes, ctx.id)}
    lumps = max(s.lumps for s in made.values())
    note = f"One of the two pieces falls into {lumps} lumps." if lumps > whole.lumps else ""
    return StepOutput(parts=made, joint=JointShape(fields.rest, fields.part, drawn, tuple(mates)), note=note)


# ---- where the pegs stand --------------------------------------------------------------------------------------------


def _places(
    ctx: StepContext, under: kernel.NamedSolid, frame: Frame, clear_mm: float, deep_mm: float, count: int
) -> list[tuple[float, float]]:
    """Places on the cut (u, v of the frame) that keep clear of its outline, with enough below them, far from one another."""
    spots, room = _spots(ctx, under, frame)
    wide = spots[room >= clear_mm]
    if not len(wide):
        most = 2 * (float(room.max(initial=0.0)) - clear_mm) + 2 * (clear_mm - WALL_MM)
        works = f"Ø {int(10 * most) / 10:.3g} mm is the most" if most > 1.0 else "let it be cut elsewhere"
        raise StepError(f"The cut is nowhere wide enough for these pegs and a wall round them: {works}.", field="diameter")  # fmt: skip
    found: list[tuple[float, float]] = []
    centre = wide.mean(axis=0)
    off = np.linalg.norm(wide - centre, axis=1) if count > 1 else room[room >= clear_mm]
    free = np.ones(len(wide), dtype=bool)
    while len(found) < count and free.any():
        k = int(np.where(free, off, -1.0).argmax())
        free[k] = False
        at = frame.to_world(float(wide[k, 0]), float(wide[k, 1]), -1e-4)
        below = kernel.thickness_at(under, at, frame.z)
        if below is not None and below < deep_mm:
            continue
        found.append((float(wide[k, 0]), float(wide[k, 1])))
        away = np.linalg.norm(wide - wide[k], axis=1)
        off = away if len(found) == 1 else np.minimum(off, away)
        free &= off >= 2 * clear_mm
    if len(found) < count:
        fits = f"only {len(found)} of them" if found else "none of them"
        raise StepError(f"There is room and depth for {fits} on this cut; take fewer, thinner or shorter pegs.", field="pegs")  # fmt: skip
    return found


def _spots(ctx: StepContext, under: kernel.NamedSolid, frame: Frame) -> tuple[Array, Array]:
    """A grid of places within the cut, and how far each lies from its outline, mm."""
    spots, rooms = [], []
    for index in under.find(f"{ctx.id}/divide"):
        own, regions = kernel.region_of_face(under, index)
        for region in regions:
            loops = [np.array([frame.to_local(own.to_world(*p))[:2] for p in loop]) for loop in region.loops]
            low, high = loops[0].min(axis=0), loops[0].max(axis=0)
            step = float((high - low).max()) / _GRID
            u, v = (np.arange(a + step / 2, b, step) for a, b in zip(low, high, strict=True))
            grid = np.array(np.meshgrid(u, v)).reshape(2, -1).T
            within = np.zeros(len(grid), dtype=bool)
            away = np.full(len(grid), np.inf)
            for loop in loops:
                within ^= _inside(grid, loop)
                away = np.minimum(away, from_loop(grid, loop))
            spots.append(grid[within])
            rooms.append(away[within])
    if not spots:
        return np.zeros((0, 2)), np.zeros(0)
    return np.concatenate(spots), np.concatenate(rooms)


def _inside(points: Array, loop: Array) -> NDArray[np.bool_]:
    """Which points lie within a closed loop: crossings of a ray to the right, counted."""
    a, b = loop, np.roll(loop, -1, axis=0)
    straddles = (a[None, :, 1] > points[:, None, 1]) != (b[None, :, 1] > points[:, None, 1])
    with np.errstate(divide="ignore", invalid="ignore"):
        at = a[:, 0] + (points[:, None, 1] - a[:, 1]) * (b[:, 0] - a[:, 0]) / (b[:, 1] - a[:, 1])
    return np.asarray((straddles & (points[:, None, 0] < at)).sum(axis=1) % 2 == 1)


register_joint(
    JointFamily(
        step=StepKind(
            kind="split",
            title="Split and rejoin",
            group="join",
            about="A part cut in two that print well, with pegs on one and sockets in the other.",
            fields=SplitFields,
            specs=(
                FieldSpec("part", "part", "which part", missing="a part"),
                FieldSpec("plane", "plane", "by", missing="a plane or a flat face"),
                FieldSpec("rest", "part", "new part"),
                FieldSpec("pegs", "number", "how many pegs", "2"),
                FieldSpec("diameter", "length", "diameter of the pegs", "6 mm"),
                FieldSpec("long", "length", "how far they go in", "8 mm"),
                FieldSpec("lead", "length", "chamfer at their ends", "0.6 mm"),
                FieldSpec("mouth", "length", "chamfer at the sockets' mouths", "0.4 mm"),
                *fit_specs("the pegs", "the sockets"),
            ),
            sentence=said(
                "Split ",
                "{part}",
                " by ",
                "{plane}",
                ", the other piece new part ",
                "{rest}",
                "; rejoin them by ",
                "{pegs}",
                " pegs Ø ",
                "{diameter}",
                " that go in ",
                "{long}",
                ", lead-in ",
                "{lead}",
                ", mouths ",
                "{mouth}",
                "; ",
                *FIT_SAID,
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
        wanted=wanted_of,
        goes_in="All pegs go in",
        holds="without too much play",
        per=_per,
    )
)
