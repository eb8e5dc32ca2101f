"""Plug along a cut: a part divided by a plane into two that print well, the end of one of which goes on into the other.

The plug has the outline of the cut, set in by a wall; so it needs no aiming, and the pieces do not turn on each other where that outline is not round.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import accumulate
from typing import Annotated

from pydantic import Field

from .. import solid as kernel
from ..document import PlanePick
from ..document.picks import BasePlane
from ..errors import StepError
from ..quantities.markers import Length, Made, PartMark
from ..recipe import FieldSpec, JointShape, Mate, StepContext, StepKind, StepOutput, said
from ..solid import Curve, Frame
from ..solid.facename import as_part
from ..solid.frame import box_corners
from ..solid.outline import extent, offset_inward, points_along
from .family import (
    FIT_SAID,
    OUTER_SHARE,
    BedEdge,
    FitFields,
    JointFamily,
    Meeting,
    drawn_figures,
    fit_specs,
    register_joint,
    wanted_of,
)
from .halves import CUT_SAID, CUT_SPECS, cut_frame, cut_in_two, in_lumps
from .loops import with_mouth

__all__ = ["StubFields"]

#: what is left of the other piece round and under the socket, mm
WALL_MM = 0.8
#: the socket is deeper than the plug by this, so that the pieces meet at the cut
RELIEF_MM = 0.5
#: the plug begins so far within the part, to grow together with it, mm
INTO_MM = 0.3


class StubFields(FitFields):
    """``part`` keeps what lies over the plane, with the plug; ``rest`` is the other piece, with the socket. ``wall`` is what stays of it beside the socket (the gap comes off that or off the plug)."""

    part: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    plane: PlanePick = BasePlane(plane="ground")
    rest: Made = ""
    wall: Length = "2.4 mm"
    long: Length = "8 mm"
    lead: Length = "0.6 mm"
    mouth: Length = "0.4 mm"


def _meeting(fields: StubFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    cut, sizes = cut_frame(fields, ctx), (0.0, 0.0)
    frame = Frame.on_plane((0.0, 0.0, 0.0), cut.z) if cut is not None else None
    if ctx is not None and frame is not None:
        # as wide as the whole part is: of its cut nothing is known yet
        corners = [frame.to_local(c) for c in box_corners(*kernel.bounds(ctx.part(fields.part, "part").solid.shape))]
        wide, deep = (max(c[k] for c in corners) - min(c[k] for c in corners) for k in (0, 1))
        off = 2 * figures.get("wall", 0.0)
        sizes = max(wide - off, 0.0), max(deep - off, 0.0)
    edges = (
        BedEdge(True, "the mouth of the socket", figures.get("mouth", 0.0), True),
        BedEdge(False, "the end of the plug", figures.get("lead", 0.0), False),
    )
    return Meeting(fields.rest, fields.part, frame, sizes, edges=edges)


def _apply(ctx: StepContext) -> StepOutput:
    fields: StubFields = ctx.fields
    _, whole, over, under = cut_in_two(ctx)
    wall, long = ctx.positive("wall", "The wall beside the socket"), ctx.positive("long", "The plug's length")
    lead, mouth, drawn = ctx.number("lead"), ctx.number("mouth"), ctx.number("drawn")
    for name, figure in (("lead", lead), ("mouth", mouth)):
        if figure < 0:
            raise StepError("A chamfer cannot be negative; 0 mm leaves it out.", field=name)
    if lead + mouth >= long - 0.2:
        raise StepError("The chamfers leave nothing of the plug; make it longer.", field="long")
    share = OUTER_SHARE[fields.takes]
    inset, outset = (1 - share) * drawn, share * drawn
    if wall - outset < WALL_MM:
        raise StepError(f"A wall of {wall:.4g} mm is too thin beside a socket: {WALL_MM + max(outset, 0.0):.3g} mm is the least.", field="wall")  # fmt: skip
    frame, outline = _outline(ctx, under)
    socket, plug = (_set_in(outline, by) for by in (wall - outset, wall + inset))
    try:
        offset_inward(plug, lead + 0.2)
    except StepError:
        raise StepError("The chamfer at its end leaves nothing of the plug; make the wall thinner, or the chamfer smaller.", field="lead") from None  # fmt: skip
    deep = long + RELIEF_MM
    for point, _ in points_along(socket, 3):
        below = kernel.thickness_at(under, frame.to_world(*point, -1e-4), frame.z)
        if below is not None and below < deep + WALL_MM:
            most = below - RELIEF_MM - WALL_MM
            works = f"{int(100 * most) / 100:.4g} mm is the most" if most > 1.0 else "cut it elsewhere"
            raise StepError(f"The other piece is too thin for a plug {long:.4g} mm long: {works}.", field="long")
    stick = _prism(plug, frame, -long, INTO_MM, ctx.id)
    if lead > 0:
        stick = kernel.chamfer(stick, stick.edges_round(f"{ctx.id}/start"), lead, lead, ctx.id)
    tool = _prism(socket, frame, -deep, 1.0, ctx.id)
    taken = tool.volume_mm3 * deep / (deep + 1.0)
    made = kernel.fuse(over, [stick.renamed(lambda n: _called(n, ctx.id, "plug"))], ctx.id)
    changed = kernel.cut(under, [tool.renamed(lambda n: _called(n, ctx.id, "socket"))], ctx.id)
    if under.volume_mm3 - changed.volume_mm3 < taken - 1e-3:
        raise StepError("The socket would come out at a side of the other piece, which is narrower below the cut; make its wall thicker, or the plug shorter.", field="wall")  # fmt: skip
    walls, sides = ([f"{ctx.id}/{word}({c.id})" for c in outline] for word in ("socket", "plug"))
    if mouth > 0:
        changed = with_mouth(changed, set(walls), frame, mouth, ctx.id)
    sizes, middle = extent(socket)
    spare = 0.02 * long
    mate = Mate(
        outer=tuple(walls), inner=tuple(sides), frame=frame, low_mm=-(long - lead) + spare, high_mm=-max(mouth, 0.05) * 1.02, sizes_mm=sizes, middle_mm=middle,
        round_hole=len(outline) == 1, reach_mm=abs(drawn) + 0.5, seated=True,
    )  # fmt: skip
    parts = {fields.part: made, fields.rest: changed}
    return StepOutput(
        parts=parts, joint=JointShape(fields.rest, fields.part, drawn, (mate,)), note=in_lumps(whole, parts)
    )


def _outline(ctx: StepContext, under: kernel.NamedSolid) -> tuple[Frame, list[Curve]]:
    """The one outline of the cut, as the other piece has it, in a frame that looks out of that; each curve with an id of its own."""
    faces = under.find(f"{ctx.id}/divide")
    if len(faces) != 1:
        raise StepError("The plane cuts the part in several places; a plug needs one.", field="plane")
    try:
        frame, loops = kernel.face_loops(under, faces[0])
    except StepError as error:
        raise StepError(error.message, field="plane") from None
    if len(loops) != 1:
        raise StepError("The part is hollow at the cut: divide it there and keep both, and join them by a lap along the rim.", field="plane")  # fmt: skip
    seen: dict[str, int] = {}
    named: list[Curve] = []
    for curve in loops[0]:
        own = as_part(curve.id)
        seen[own] = seen.get(own, 0) + 1
        named.append(replace(curve, id=own if seen[own] == 1 else f"{own}.{seen[own]}"))
    return frame, named


def _set_in(loop: Sequence[Curve], by_mm: float) -> list[Curve]:
    try:
        return offset_inward(loop, by_mm, "the cut")
    except StepError as error:
        raise StepError(error.message, field="wall") from None


def _prism(loop: Sequence[Curve], frame: Frame, low: float, high: float, step: str) -> kernel.NamedSolid:
    regions = kernel.find_regions(loop)
    if len(regions) != 1:
        raise StepError("These sizes leave no sound plug; change the wall.", field="wall")
    return kernel.prism(regions[0], frame, low, high, step, check=False)


def _called(name: str, step: str, word: str) -> str:
    """``s/side(x)`` → ``s/plug(x)``, its ends ``s/plug-end`` and ``s/plug-root``; what a chamfer made ``s/lead(x)``."""
    side = f"{step}/side("
    if name.startswith(f"{step}/chamfer(") and side in name:
        rest = name[name.index(side) + len(side) :]
        # names stand within names: up to the bracket that closes this one
        depths = accumulate({"(": 1, ")": -1}.get(c, 0) for c in rest)
        return f"{step}/lead({rest[: next(k for k, d in enumerate(depths) if d < 0)]})"
    return name.replace(f"{step}/side(", f"{step}/{word}(").replace(f"{step}/start", f"{step}/{word}-end").replace(f"{step}/end", f"{step}/{word}-root")  # fmt: skip


register_joint(
    JointFamily(
        step=StepKind(
            kind="stub",
            title="Split and rejoin by a plug",
            group="join",
            about="A part cut in two that print well; the end of one goes on into the other, all along the cut.",
            fields=StubFields,
            specs=(
                *CUT_SPECS,
                FieldSpec("wall", "length", "wall beside the socket", "2.4 mm"),
                FieldSpec("long", "length", "how far the plug goes in", "8 mm"),
                FieldSpec("lead", "length", "chamfer at its end", "0.6 mm"),
                FieldSpec("mouth", "length", "chamfer at the mouth", "0.4 mm"),
                *fit_specs("the plug", "the socket"),
            ),
            sentence=said(
                *CUT_SAID,
                "; plug them together by the cut's outline within a wall of ",
                "{wall}",
                ", ",
                "{long}",
                " long, lead-in ",
                "{lead}",
                ", mouth ",
                "{mouth}",
                "; ",
                *FIT_SAID,
                "; a change of the gap lands on ",
                "{takes}",
            ),
            apply=_apply,
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="cut halves pieces stub push fit bed divide saw socket",
        ),
        outer="socket",
        inner="plug",
        meeting=_meeting,
        wanted=wanted_of,
        goes_in="The plug goes in",
        holds="without too much play",
    )
)
