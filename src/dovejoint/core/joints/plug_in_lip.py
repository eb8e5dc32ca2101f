"""Plug-in lip: a new part on the outline of an open end, with a rim that goes into the opening.

The step shapes both parts. The lip stands ``drawn`` inside the opening's wall where the lip takes the gap; where
the opening takes it, the wall is widened by it over the lip's height; or each takes half. The mouth of the
opening gets a small chamfer, and the lip's end a larger one, so that they find each other.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Annotated

from .. import solid as kernel
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Changed, Length, Made
from ..recipe import FieldSpec, JointShape, Mate, StepContext, StepKind, StepOutput, said
from ..solid import Curve, Frame
from ..solid.facename import as_part
from ..solid.outline import extent, offset_inward, points_along
from .family import (
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
from .loops import lead_said
from .mating import normal_of

if TYPE_CHECKING:
    from ..solid import NamedSolid

__all__ = ["PlugInLipFields", "opening_of"]

#: spare depth of a widened wall beyond the lip's end, mm
RELIEF_MM = 0.5


class PlugInLipFields(FitFields):
    host: Annotated[FlatFace, Changed()]
    part: Made = ""
    plate: Length = "2 mm"
    height: Length = "6 mm"
    thickness: Length = "1.6 mm"
    lead: Length = "0.6 mm"
    mouth: Length = "0.3 mm"


def _widest_inset(opening: list[Curve]) -> float:
    """An inset that still leaves something of the opening, found by halving."""
    low, high = 0.0, max(abs(c) for p, _ in points_along(opening, 2) for c in p) * 2
    for _ in range(18):
        middle = (low + high) / 2
        try:
            offset_inward(opening, middle)
            low = middle
        except StepError:
            high = middle
    return low


def _check(ctx: StepContext, host: NamedSolid, frame: Frame, opening: list[Curve], inset: float) -> None:
    """Refuse a lip that does not fit, saying what would."""
    height, thickness = ctx.number("height"), ctx.number("thickness")
    lead, mouth = ctx.number("lead"), ctx.number("mouth")
    try:
        offset_inward(opening, inset + thickness + 0.1)
    except StepError:
        room = _widest_inset(opening)
        most = room - inset - 0.1
        works = (
            f"{_down(most)} mm is the most" if most > 0.2 else "the opening or its corner radius is too small for a lip"
        )
        raise StepError(
            f"A lip {thickness:.4g} mm thick does not fit into the opening: {works}.", field="thickness"
        ) from None
    if lead >= min(thickness, height):
        raise StepError(
            f"A lead-in of {lead:.4g} mm is more than the lip has: {_down(min(thickness, height) - 0.1)} mm is the most.",
            field="lead",
        )
    if mouth + lead >= height:
        raise StepError(
            "Lead-in and mouth chamfer leave nothing of the lip's height; make the lip higher.", field="height"
        )
    middle = offset_inward(opening, inset + thickness / 2)
    places = [frame.to_world(p[0], p[1], -1e-3) for p, _ in points_along(middle, 3)]
    down = tuple(-c for c in frame.z)
    free = kernel.free_length(host, places, down, height + 100.0)  # type: ignore[arg-type]
    if free is not None and free < height + 0.2:
        raise StepError(
            f"A lip {height:.4g} mm high runs into the part: {_down(free - 0.2)} mm is the most.", field="height"
        )


def _down(value: float) -> str:
    """Rounded down to a hundredth, so that what is named does work."""
    return f"{max(0.0, int(value * 100) / 100):.4g}"


def _apply(ctx: StepContext) -> StepOutput:
    fields: PlugInLipFields = ctx.fields
    if ctx.has_part(fields.part):
        raise StepError("The part is made by an earlier step; the joint makes its own.", field="part")
    part, found = ctx.faces_named(fields.host, "host")
    host = part.solid
    height, plate = ctx.positive("height", "The lip's height"), ctx.positive("plate", "The plate's thickness")
    thickness = ctx.positive("thickness", "The lip's thickness")
    lead, mouth, drawn = ctx.number("lead"), ctx.number("mouth"), ctx.number("drawn")
    for name, figure in (("lead", lead), ("mouth", mouth)):
        if figure < 0:
            raise StepError("A chamfer cannot be negative; 0 mm leaves it out.", field=name)
    frame, loops = kernel.face_loops(host, found)
    if len(loops) != 2:
        raise StepError(
            "The face picked has no opening to plug; pick the rim round an open end."
            if len(loops) < 2
            else "The face picked has several openings; this joint needs a rim round one.",
            field="host",
        )
    outer, opening = loops
    share = OUTER_SHARE[fields.takes]
    outset, inset = share * drawn, (1 - share) * drawn
    try:
        _check(ctx, host, frame, opening, inset)
        lid = kernel.plate_with_lip(
            frame,
            outer,
            opening,
            inset_mm=inset,
            lip_mm=thickness,
            height_mm=height,
            plate_mm=plate,
            lead_mm=lead,
            step=ctx.id,
        )
        walls = tuple(dict.fromkeys(c.id for c in opening))
        lips = tuple(f"{ctx.id}/lip({as_part(c.id)})" for c in opening)
        changed = host
        if outset > 1e-6:
            changed = kernel.recess(host, frame, opening, outset_mm=outset, depth_mm=height + RELIEF_MM, step=ctx.id)
            walls = tuple(f"{ctx.id}/recess({as_part(c.id)})" for c in opening)
        if mouth > 0:
            changed = _with_mouth(changed, host.names[found], walls, mouth, ctx.id)
    except StepError as error:
        raise StepError(error.message, field=error.field or "host") from None
    (width, depth), middle = extent(opening)
    mate = Mate(
        outer=walls,
        inner=lips,
        frame=frame,
        low_mm=-(height - lead) * 0.98,
        high_mm=-max(mouth, 0.05) * 1.02,
        sizes_mm=(width + 2 * outset, depth + 2 * outset),
        middle_mm=middle,
        round_hole=len(opening) == 1,
        seated=True,
    )
    joint = JointShape(fields.host.part, fields.part, drawn, (mate,))
    parts = {fields.part: lid}
    if changed is not host:
        parts[fields.host.part] = changed
    return StepOutput(parts=parts, joint=joint)


def _with_mouth(
    host: NamedSolid, rim: tuple[str, ...], walls: tuple[str, ...], mouth_mm: float, step: str
) -> NamedSolid:
    """Chamfer the edges where the opening's walls meet the rim."""
    sides = {i for wall in walls for i in host.find(wall)}
    seat = {i for name in rim for i in host.find(name)}
    edges = [i for i, (_, (a, b)) in enumerate(host.edges) if (a in sides and b in seat) or (b in sides and a in seat)]
    return kernel.chamfer(host, edges, mouth_mm, mouth_mm, step) if edges else host


def _meeting(fields: PlugInLipFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    seen = fields.host.face.seen
    normal, sizes = normal_of(seen), (0.0, 0.0)
    if ctx is not None:
        part, found = ctx.faces_named(fields.host, "host")
        normal = part.faces[found].normal if normal is None else normal
        sizes = opening_of(part.solid, found)
    frame = Frame.on_plane((0.0, 0.0, 0.0), normal) if normal is not None else None
    edges = (
        BedEdge(True, "the mouth of the opening", figures.get("mouth", 0.0), True, seen.at if seen else None),
        BedEdge(False, "the end of the lip", figures.get("lead", 0.0), False),
    )
    return Meeting(fields.host.part, fields.part, frame, sizes, edges=edges)


def opening_of(host: NamedSolid, rim: int) -> tuple[float, float]:
    """How wide the opening inside a rim is along the rim's frame, mm; 0 where making the joint will say what is wrong with it."""
    try:
        _, loops = kernel.face_loops(host, rim)
    except StepError:
        return 0.0, 0.0
    return extent(loops[1])[0] if len(loops) == 2 else (0.0, 0.0)


_KIND = StepKind(
    kind="plug_in_lip",
    title="Plug-in lip",
    group="join",
    about="A lid for an open end, with a lip that keeps its gap.",
    fields=PlugInLipFields,
    specs=(
        FieldSpec("host", "rim", "the rim of an open end", missing="the rim of an open end"),
        FieldSpec("part", "part", "new part"),
        FieldSpec("plate", "length", "plate thickness", "2 mm"),
        FieldSpec("height", "length", "lip height", "6 mm"),
        FieldSpec("thickness", "length", "lip thickness", "1.6 mm"),
        FieldSpec("lead", "length", "lead-in chamfer", "0.6 mm"),
        FieldSpec("mouth", "length", "chamfer at the mouth", "0.3 mm"),
        *fit_specs("the lip", "the opening"),
    ),
    sentence=said(
        "Join new part ",
        "{part}",
        " to ",
        "{host}",
        " with a plug-in lip, plate ",
        "{plate}",
        " thick, lip ",
        "{height}",
        " high and ",
        "{thickness}",
        " thick, lead-in ",
        *lead_said(),
    ),
    apply=_apply,
    prepare=drawn_figures,
    suits=("face",),
    words="lid cover cap close",
)

register_joint(
    JointFamily(
        step=_KIND,
        outer="opening",
        inner="lip",
        meeting=_meeting,
        wanted=wanted_of,
        goes_in="The lip goes in",
        holds="without too much play",
    )
)
