"""Shaft in bore: a round shaft in a round bore, either or both of them made by the joint, or both there before.

Where the bore is there, the shaft is made to it; where the shaft is there, a bore is cut round it; where neither is, both are made about
an axis; where both are, the joint changes nothing and watches the gap between them. The gap per side is half the difference
of the diameters, and is shown on diameter, as the trade has it.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Annotated, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import Seen
from ..document.picks import FlatFace
from ..errors import PickError, StepError
from ..fits import Wanted
from ..quantities.markers import Changed, Length, PartMark
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, said
from ..recipe.picks import AxisPick, axis_of
from ..solid import Frame, Vec3
from ..solid.frame import length, scale
from .family import OUTER_SHARE, BedEdge, JointFamily, Meeting, Per, drawn_figures, figure, fit_specs, register_joint
from .iso_fit import ISO, ISO_FIT_SAID, ZONES_SPEC, IsoFitFields, iso_or_wanted, meets_nominal
from .pressed import in_pieces, pressed
from .rounds import mouth_frame, ring_of, round_pick, seen_axis, shaft_and_bore, span_along
from .wall_round import cut_facts
from .working import Draws, Working

__all__ = ["ShaftInBoreFields", "bore_facts", "with_mouth"]

#: how far a shaft's bore goes beyond its end where it does not go through, mm
RELIEF_MM = 0.5

_New = Annotated[str, PartMark("changes", "halves=bore,none"), Field(max_length=40)]


class ShaftInBoreFields(IsoFitFields):
    """``halves`` says what is there already. Figures of an own band are on diameter or per side, as ``counted`` says."""

    halves: Literal["bore", "shaft", "both", "none"] = "bore"
    bore: Annotated[FlatFace | None, Changed()] = None
    shaft: FlatFace | None = None
    axis: AxisPick | None = None
    host: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    part: _New = ""
    diameter: Length = "8 mm"
    depth: Length = "12 mm"
    stands: Length = "6 mm"
    lead: Length = "0.6 mm"
    mouth: Length = "0.3 mm"
    extent: Literal["by", "through"] = "through"
    end: Literal["upper", "lower"] = "upper"
    counted: Literal["diameter", "side"] = "diameter"
    least: Length = "0.2 mm"
    target: Length = "0.4 mm"
    most: Length = "0.6 mm"


_by_class = iso_or_wanted("diameter")


def _wanted(fields: ShaftInBoreFields, figures: Mapping[str, float]) -> Wanted:
    """The band per side."""
    if fields.fit == "own" and fields.counted == "diameter":
        return Wanted(*(figure(figures, name) / 2 for name in ("least", "target", "most"))).checked()
    return _by_class(fields, figures)


def _per(fields: ShaftInBoreFields) -> Per:
    return "side" if fields.fit == "own" and fields.counted == "side" else "diameter"


# ---- what is there ---------------------------------------------------------------------------------------------------


def _axis_and_size(
    fields: ShaftInBoreFields, figures: Mapping[str, float], ctx: StepContext | None
) -> tuple[Vec3 | None, float]:
    """The direction of the axis and the nominal diameter: exactly with a context, else by what was seen (``None``, 0: not known)."""
    pick = fields.shaft if fields.halves == "shaft" else fields.bore
    if fields.halves == "none":
        return seen_axis(ctx, fields.axis), figures.get("diameter", 0.0)
    if ctx is not None and pick is not None:
        part, index = ctx.faces_named(pick, "shaft" if fields.halves == "shaft" else "bore")
        found = kernel.round_face(part.solid, index)
        return (found.axis.direction, 2 * found.radius_mm) if found is not None else (None, 0.0)
    seen: Seen | None = pick.face.seen if pick is not None else None
    if seen is None or length(seen.axis) < 0.5:
        return None, 0.0
    return seen.axis, 2 * seen.radius


def _meeting(fields: ShaftInBoreFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    along, size = _axis_and_size(fields, figures, ctx)
    frame = mouth_frame(along, fields.end) if along is not None else None
    edges = (
        BedEdge(True, "the mouth of the bore", figures.get("mouth", 0.0), True),
        BedEdge(False, "the end of the shaft", figures.get("lead", 0.0), False),
    )
    outer = fields.host if fields.halves in ("shaft", "none") else fields.bore.part if fields.bore else ""
    inner = fields.part if fields.halves in ("bore", "none") else fields.shaft.part if fields.shaft else ""
    return Meeting(outer, inner, frame, (size, size), round_hole=True, edges=edges)


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: ShaftInBoreFields = ctx.fields
    make = {"bore": _shaft_to_bore, "shaft": _bore_round_shaft, "both": _watched, "none": _both_made}
    return make[fields.halves](ctx)


def _nominal(ctx: StepContext, diameter_mm: float) -> None:
    meets_nominal(ctx, diameter_mm, "diameter", "The diameter", "what is picked has", "Ø ")


def _chamfers(ctx: StepContext, radius_mm: float, depth_mm: float) -> tuple[float, float]:
    # a shaft that was there before has the end that it has
    lead, mouth = ctx.figures.get("lead", 0.0), ctx.number("mouth")
    for name, leg, most in (("lead", lead, min(radius_mm, depth_mm)), ("mouth", mouth, depth_mm)):
        if leg < 0:
            raise StepError("A chamfer cannot be negative; 0 mm leaves it out.", field=name)
        if leg >= most:
            raise StepError(f"A chamfer of {leg:.4g} mm is more than there is room for.", field=name)
    if lead + mouth >= depth_mm:
        raise StepError("Lead-in and mouth chamfer leave nothing of the depth; let it go in deeper.", field="depth")
    return lead, mouth


def _shaft_to_bore(ctx: StepContext) -> StepOutput:
    """The bore is there: a new part, or the bore widened round it, by the drawn gap."""
    fields: ShaftInBoreFields = ctx.fields
    host, index, bore = round_pick(ctx, fields.bore, "bore", hollow=True)
    assert fields.bore is not None
    _nominal(ctx, 2 * bore.radius_mm)
    axis = bore.axis.upward()
    low, high = span_along(bore, axis)
    lower = fields.end == "lower"
    frame = axis.frame_at(low if lower else high, turned=lower)
    free = kernel.free_length(host.solid, [frame.to_world(0.0, 0.0, -1e-3)], scale(frame.z, -1.0), 1e4)
    depth = ctx.positive("depth", "The depth")
    if free is not None and depth > free - 0.2:
        raise StepError(
            f"A shaft {depth:.4g} mm deep meets the floor of the bore: {max(0.0, free - 0.2):.4g} mm is the most.",
            field="depth",
        )
    outset, inset = _shares(ctx)
    wall = fields.bore.face.name
    return _pair(ctx, fields.bore.part, host.solid, frame, bore.radius_mm, depth, high - low, outset, inset, wall)


def _shares(ctx: StepContext) -> tuple[float, float]:
    """By how much the bore is wider and the shaft thinner than nominal, per side."""
    share = OUTER_SHARE[ctx.fields.takes]
    drawn = ctx.number("drawn")
    return share * drawn, (1 - share) * drawn


def _both_made(ctx: StepContext) -> StepOutput:
    """Neither is there: a bore about an axis through a part, and a shaft in it."""
    fields: ShaftInBoreFields = ctx.fields
    if fields.axis is None:
        raise PickError("Pick an axis.", field="axis")
    host = ctx.part(fields.host, "host")
    axis = axis_of(ctx, fields.axis, "axis").upward()
    radius = ctx.positive("diameter", "The diameter") / 2
    places = kernel.meets_at(host.solid, axis)
    if len(places) < 2:
        raise StepError("The axis meets no material of that part; pick another axis or part.", field="axis")
    lower = fields.end == "lower"
    mouth_at, beyond = (places[0], places[-1]) if lower else (places[-1], places[0])
    frame = axis.frame_at(mouth_at, turned=lower)
    thick = abs(mouth_at - beyond)
    depth = ctx.positive("depth", "The depth")
    through = fields.extent == "through"
    if not through and depth + RELIEF_MM > thick - 0.2:
        raise StepError(
            f"A bore for {depth:.4g} mm comes out on the other side; let it go through, or {max(0.0, thick - 0.2 - RELIEF_MM):.4g} mm is the most.",
            field="depth",
        )
    outset, inset = _shares(ctx)
    floor = -thick - 1.0 if through else -depth - RELIEF_MM
    tool = kernel.bar(frame, radius + outset, floor, 1.0, ctx.id, "bore")
    cut = kernel.cut(host.solid, [tool], ctx.id)
    return _pair(ctx, fields.host, cut, frame, radius, depth, thick if through else depth + RELIEF_MM, outset, inset, f"{ctx.id}/bore", True)  # fmt: skip


def _pair(
    ctx: StepContext,
    host_id: str,
    host: kernel.NamedSolid,
    frame: Frame,
    radius_mm: float,
    depth_mm: float,
    bore_mm: float,
    outset_mm: float,
    inset_mm: float,
    wall: str,
    cut_already: bool = False,
) -> StepOutput:
    """The shaft as a new part in a bore whose mouth is at the frame; the bore widened where it takes the gap, and chamfered."""
    fields: ShaftInBoreFields = ctx.fields
    if ctx.has_part(fields.part):
        raise StepError("The part is made by an earlier step; the joint makes its own.", field="part")
    engaged = min(depth_mm, bore_mm)
    lead, mouth = _chamfers(ctx, radius_mm - inset_mm, engaged)
    stands = ctx.number("stands")
    if stands < 0:
        raise StepError("It cannot stand out by less than nothing; 0 mm lets it end with the mouth.", field="stands")
    if radius_mm - inset_mm <= 0.1:
        raise StepError("The gap leaves nothing of the shaft; take a larger bore.", field="diameter")
    shaft = kernel.bar(frame, radius_mm - inset_mm, -depth_mm, stands, ctx.id, "shaft", lead)
    if outset_mm > 1e-6 and not cut_already:
        tool = kernel.bar(frame, radius_mm + outset_mm, -min(depth_mm + RELIEF_MM, bore_mm + 1.0), 1.0, ctx.id, "bore")
        host, wall = kernel.cut(host, [tool], ctx.id), f"{ctx.id}/bore"
    changed = with_mouth(host, (wall,), frame, mouth, ctx.id) if mouth > 0 else host
    size = 2 * (radius_mm + outset_mm)
    mate = Mate(
        outer=(wall,),
        inner=(f"{ctx.id}/shaft",),
        frame=frame,
        low_mm=-(engaged - (lead if depth_mm <= bore_mm else 0.0)) * 0.98,
        high_mm=-max(mouth, 0.05) * 1.02,
        sizes_mm=(size, size),
        round_hole=True,
    )
    joint = JointShape(host_id, fields.part, ctx.number("drawn"), (mate,))
    return StepOutput(parts={fields.part: shaft, host_id: changed}, joint=joint)


def with_mouth(host: kernel.NamedSolid, walls: Iterable[str], frame: Frame, mouth_mm: float, step: str) -> kernel.NamedSolid:  # fmt: skip
    """Chamfer the edges where walls of an opening (by their names) end at its mouth, a frame's plane; where there are none it is left sharp."""
    inside = {i for name in walls for i in host.find(name)}
    edges = []
    for i, (_, (a, b)) in enumerate(host.edges):
        if (a in inside) != (b in inside):
            middle = kernel.edge_middle(host, i)
            if abs(frame.to_local(middle)[2]) < 1e-3:
                edges.append(i)
    return kernel.chamfer(host, edges, mouth_mm, mouth_mm, step) if edges else host


def _bore_round_shaft(ctx: StepContext) -> StepOutput:
    """The shaft is there: a bore in another part, wider by the drawn gap."""
    fields: ShaftInBoreFields = ctx.fields
    _, _, shaft = round_pick(ctx, fields.shaft, "shaft", hollow=False)
    assert fields.shaft is not None
    if fields.host == fields.shaft.part:
        raise StepError("The bore goes into another part than the shaft's own.", field="host")
    host = ctx.part(fields.host, "host")
    _nominal(ctx, 2 * shaft.radius_mm)
    axis = shaft.axis.upward()
    low, high = span_along(shaft, axis)
    drawn = ctx.number("drawn")
    lower = fields.end == "lower"
    places = kernel.meets_at(host.solid, axis)
    if len(places) < 2:
        raise StepError("The shaft does not reach into that part; pick another one.", field="host")
    mouth_at = places[0] if lower else places[-1]
    frame = axis.frame_at(mouth_at, turned=lower)
    thick = places[-1] - places[0]
    if fields.extent == "through":
        floor = -thick - 1.0
    else:
        tip = (low if not lower else high) - mouth_at
        floor = (tip if not lower else -tip) - RELIEF_MM
        if floor >= -0.2:
            raise StepError("The shaft does not reach into that part from this side; take the other end.", field="end")
    tool = kernel.bar(frame, shaft.radius_mm + drawn, floor, 1.0, ctx.id, "bore")
    cut = kernel.cut(host.solid, [tool], ctx.id)
    engaged = min(thick, high - low)
    _, mouth = _chamfers(ctx, shaft.radius_mm, engaged)
    changed = with_mouth(cut, (f"{ctx.id}/bore",), frame, mouth, ctx.id) if mouth > 0 else cut
    heights = sorted(((low - mouth_at) * (-1 if lower else 1), (high - mouth_at) * (-1 if lower else 1)))
    mate = Mate(
        outer=(f"{ctx.id}/bore",),
        inner=(fields.shaft.face.name,),
        frame=frame,
        low_mm=max(heights[0], -thick) * 0.98,
        high_mm=-max(mouth, 0.05) * 1.02,
        sizes_mm=(2 * (shaft.radius_mm + drawn),) * 2,
        round_hole=True,
    )
    joint = JointShape(fields.host, fields.shaft.part, drawn, (mate,))
    return StepOutput(parts={fields.host: changed}, joint=joint)


def _watched(ctx: StepContext) -> StepOutput:
    """Both are there: nothing is changed, and the gap is what it is."""
    fields: ShaftInBoreFields = ctx.fields
    found = shaft_and_bore(ctx)
    bore, shaft = found.bore, found.shaft
    assert fields.bore is not None and fields.shaft is not None
    _nominal(ctx, 2 * bore.radius_mm)
    start, stop = max(-found.deep_mm, found.span_mm[0]), min(0.0, found.span_mm[1])
    if stop - start < 0.1:
        raise StepError("The shaft does not reach into the bore; pick two that do.", field="shaft")
    room = 0.02 * (stop - start)
    mate = Mate(
        outer=(fields.bore.face.name,),
        inner=(fields.shaft.face.name,),
        frame=found.frame,
        low_mm=start + room,
        high_mm=stop - room,
        sizes_mm=(2 * bore.radius_mm,) * 2,
        round_hole=True,
    )
    gap = bore.radius_mm - shaft.radius_mm
    return StepOutput(joint=JointShape(fields.bore.part, fields.shaft.part, gap, (mate,)))


# ---- what the hand-book works out for a press ----------------------------------------------------------------------------


def bore_facts(
    shape: JointShape, outer: PartState, inner: PartState, wall_radius_mm: float | None = None
) -> Mapping[str, float]:
    """``wall_radius_mm`` is where the wall itself stands, if not where the halves meet. How thick the wall round the bore is where it is thinnest, what of it is cut away, how far the halves meet, and how wide a bore the shaft itself has."""
    mate = shape.mates[0]
    radius = mate.sizes_mm[0] / 2
    heights = [mate.low_mm + (mate.high_mm - mate.low_mm) * share for share in (0.1, 0.5, 0.9)]
    shaft = radius - shape.drawn_mm
    places = [
        (at, scale(out, -1.0)) for h in heights for at, out in ring_of(mate.frame, wall_radius_mm or radius, h, 16)
    ]
    inside = [place for h in heights for place in ring_of(mate.frame, shaft, h, 16)]
    wall = kernel.least_thickness(outer.solid, places)
    cuts = cut_facts(outer, mate.outer, mate.frame, wall_radius_mm or radius, heights) if wall is not None else {}
    through = kernel.least_thickness(inner.solid, inside)
    hollow = max(0.0, 2 * (shaft - through)) if through is not None else 0.0
    return {
        "diameter": 2 * radius, "wall": wall or 0.0, "engaged": abs(mate.high_mm - mate.low_mm) / 0.98,
        "hollow": hollow if hollow > 0.05 else 0.0, **cuts,
    }  # fmt: skip


def _works(draws: Draws) -> Working | None:
    """A press fit as two rings; nothing where the gap is meant to be open, or no wall was found."""
    if draws.facts["wall"] <= 0.05 or draws.wanted.target_mm > 0:
        return None
    return in_pieces(draws) or pressed(draws)


_MAKING = {"halves": ["bore", "none"]}
_KIND = StepKind(
    kind="shaft_in_bore",
    title="Shaft in bore",
    group="join",
    about="A round shaft in a round bore: one half to the other, both, or a watch on two that are there.",
    fields=ShaftInBoreFields,
    specs=(
        FieldSpec(
            "halves",
            "choice",
            "what is there already",
            "bore",
            (
                Choice("bore", "a new shaft in"),
                Choice("shaft", "a new bore round"),
                Choice("none", "a new bore and shaft about"),
                Choice("both", "what is there:"),
            ),
        ),
        FieldSpec("bore", "bore", "bore", missing="a round bore"),
        FieldSpec("shaft", "shaft", "shaft", missing="the round side of a shaft"),
        FieldSpec("axis", "axis", "axis", missing="an axis"),
        FieldSpec("host", "part", "part with the bore", missing="the part with the bore"),
        FieldSpec("part", "part", "new part"),
        FieldSpec("diameter", "length", "diameter", "8 mm"),
        FieldSpec("depth", "length", "how deep it goes in", "12 mm"),
        FieldSpec("stands", "length", "how far it stands out", "6 mm"),
        FieldSpec("lead", "length", "lead-in chamfer", "0.6 mm"),
        FieldSpec("mouth", "length", "chamfer at the mouth", "0.3 mm"),
        FieldSpec(
            "extent",
            "choice",
            "how far the bore goes",
            "through",
            (Choice("through", "all through"), Choice("by", "to the shaft's end")),
        ),
        FieldSpec(
            "end",
            "choice",
            "from which end",
            "upper",
            (Choice("upper", "the upper end"), Choice("lower", "the lower end")),
        ),
        *fit_specs("the shaft", "the bore", ISO, band=("0.2 mm", "0.4 mm", "0.6 mm")),
        FieldSpec(
            "counted",
            "choice",
            "how the gap is counted",
            "diameter",
            (Choice("diameter", "on diameter"), Choice("side", "per side")),
        ),
        ZONES_SPEC,
    ),
    sentence=said(
        "Join by a shaft: ",
        "{halves}",
        " ",
        ("{axis}", {"halves": ["none"]}),
        ("{bore}", {"halves": ["bore", "both"]}),
        (" with ", {"halves": ["both"]}),
        ("{shaft}", {"halves": ["shaft", "both"]}),
        (", bored through ", {"halves": ["none"]}),
        (", in ", {"halves": ["shaft"]}),
        ("{host}", {"halves": ["shaft", "none"]}),
        (" ", {"halves": ["shaft", "none"]}),
        ("{extent}", {"halves": ["shaft", "none"]}),
        (", new part ", _MAKING),
        ("{part}", _MAKING),
        (" going in ", _MAKING),
        ("{depth}", _MAKING),
        (" from ", {"halves": ["bore", "shaft", "none"]}),
        ("{end}", {"halves": ["bore", "shaft", "none"]}),
        (" and standing out ", _MAKING),
        ("{stands}", _MAKING),
        (", lead-in ", _MAKING),
        ("{lead}", _MAKING),
        (", mouth ", {"halves": ["bore", "shaft", "none"]}),
        ("{mouth}", {"halves": ["bore", "shaft", "none"]}),
        (", nominal Ø ", {"halves": ["none"]}),
        (", at nominal Ø ", {"halves": ["bore", "shaft", "both"], "fit": ["iso"]}),
        ("{diameter}", {"halves": ["none"]}),
        ("{diameter}", {"halves": ["bore", "shaft", "both"], "fit": ["iso"]}),
        "; ",
        *ISO_FIT_SAID,
        (" ", {"fit": ["own"]}),
        ("{counted}", {"fit": ["own"]}),
        ("; a change of the gap lands on ", _MAKING),
        ("{takes}", _MAKING),
    ),
    apply=_apply,
    prepare=drawn_figures,
    suits=("face",),
    words="pin axle hole peg rod bearing",
)

register_joint(
    JointFamily(
        step=_KIND,
        outer="bore",
        inner="shaft",
        meeting=_meeting,
        wanted=_wanted,
        goes_in="The shaft goes in",
        holds="without too much play",
        per=_per,
        draws=lambda fields: fields.halves != "both",
        facts=bore_facts,
        works=_works,
    )
)
