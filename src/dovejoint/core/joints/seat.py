"""Seat: a pocket for something round that is there already (a bought bearing, magnet or pin), held by its whole wall, by crush ribs, by a wall that is split and springs, or by a knurl of its own.

The thing stands where it is to sit, and the pocket is cut round it in another part, from one end. It rests on a floor, on a ledge round a hole, or goes through. Crush
ribs stand in a pocket that is free of the thing; they are flattened as it goes in, and so take up what the printer scatters. The gap is that of the wall, or of
the ribs' crests, or that of the wall at the crests of a knurl; it is shown on diameter.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import Project, Step
from ..document.compiled import compiled_step
from ..document.picks import FlatFace
from ..errors import StepError
from ..fits import Wanted
from ..quantities.markers import Angle, Length, Number, PartMark
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, said, wanted
from ..solid import Axis, Frame, Vec3
from ..solid.frame import length
from .crush_ribs import CRUSHED, crushed, ribbed
from .family import (
    BedEdge,
    JointFamily,
    Meeting,
    Per,
    another,
    drawn_figures,
    figure,
    fit_specs,
    register_joint,
    stands_on,  # fmt: skip
    wanted_of,
)
from .iso_fit import ISO, ISO_FIT_SAID, ZONES_SPEC, IsoFitFields, iso_band
from .knurl import ploughed, ploughing
from .pressed import in_pieces, pressed
from .rounds import diameter_mm, extent_along, mouth_frame, ring_of, round_pick, span_along
from .shaft_in_bore import bore_facts, with_mouth
from .split_wall import SPRUNG, split_walls, springs, with_slit
from .working import Draws, Working

__all__ = ["SeatFields"]

#: a pocket keeps this much of a wall round it, mm
WALL_MM = 0.4
_LOOKS = 12
#: what holds a thing, beside the whole wall: the band of a press fit
_BANDS: Mapping[str, Callable[[Mapping[str, float]], Wanted]] = {
    "ribs": lambda figures: CRUSHED,
    "split": lambda figures: SPRUNG,
    "knurl": lambda figures: ploughing(figure(figures, "tooth")),
}
#: and how its figures come out
_WORKS: Mapping[str, Callable[[Draws], Working | None]] = {"ribs": crushed, "split": springs, "knurl": ploughed}


class SeatFields(IsoFitFields):
    """``thing`` is the round outside of what is there. ``clear`` is the room round it between ``ribs`` whose crests are round, ``rib`` in radius. ``slit_turn`` is about the axis of the mouth; a knurl has ``teeth`` that are a ``tooth`` deep."""

    thing: FlatFace | None = None
    host: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    end: Literal["upper", "lower"] = "upper"
    rests: Literal["floor", "ledge", "through"] = "floor"
    ledge: Length = "1.5 mm"
    push: Length = "0 mm"
    mouth: Length = "0.4 mm"
    grip: Literal["wall", "ribs", "split", "knurl"] = "wall"
    ribs: Number = "6"
    rib: Length = "0.6 mm"
    clear: Length = "0.2 mm"
    slit: Length = "1.2 mm"
    slit_turn: Angle = "0 deg"
    teeth: Number = "24"
    tooth: Length = "0.3 mm"
    fit: Literal["press", "snug", "slide", "loose", "own", "iso"] = "press"
    zones: Annotated[str, Field(max_length=20)] = "N7/h6"
    takes: Literal["inner", "outer", "both"] = "outer"
    least: Length = "-0.2 mm"
    target: Length = "-0.1 mm"
    most: Length = "0 mm"


def _wanted(fields: SeatFields, figures: Mapping[str, float]) -> Wanted:
    """Own figures are on diameter; the nominal size of ISO 286 is the thing's, to a thousandth. Ribs that are crushed, walls that spring and teeth that plough bear a wider band than a closed wall."""
    if fields.fit == "own":
        return Wanted(*(figure(figures, name) / 2 for name in ("least", "target", "most"))).checked()
    if fields.fit == "iso":
        return iso_band(round(figures.get("thing") or diameter_mm(None, fields.thing, "thing"), 3), fields.zones)
    if fields.fit == "press" and fields.grip in _BANDS:
        return _BANDS[fields.grip](figures)
    return wanted_of(fields, figures)


def _prepare(project: Project, step: Step, figures: dict[str, float], ctx: StepContext | None) -> dict[str, float]:
    """The thing's diameter as it stands, and the gap to draw with it."""
    known = {"thing": diameter_mm(ctx, compiled_step(step).fields.thing, "thing")}  # type: ignore[attr-defined]
    return {**known, **drawn_figures(project, step, {**figures, **known}, ctx)}


def _per(fields: SeatFields) -> Per:
    return "diameter"


def _meeting(fields: SeatFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    along: Vec3 | None = None
    size = 0.0
    pick = fields.thing
    if pick is not None and ctx is not None:
        part, index = ctx.faces_named(pick, "thing")
        found = kernel.round_face(part.solid, index)
        if found is not None:
            along, size = found.axis.direction, 2 * found.radius_mm
    elif pick is not None and pick.face.seen is not None and length(pick.face.seen.axis) > 0.5:
        along, size = pick.face.seen.axis, 2 * pick.face.seen.radius
    frame = mouth_frame(along, fields.end) if along is not None else None
    edges = (BedEdge(True, "the mouth of the seat", figures.get("mouth", 0.0), True),)
    return Meeting(fields.host, pick.part if pick else "", frame, (size, size), round_hole=True, edges=edges)


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: SeatFields = ctx.fields
    thing, _, face = round_pick(ctx, fields.thing, "thing", hollow=False)
    assert fields.thing is not None
    if fields.host == fields.thing.part:
        raise StepError("The seat goes into another part than the thing itself.", field="host")
    host = ctx.part(fields.host, "host")
    drawn, radius = ctx.number("drawn"), face.radius_mm
    with_ribs = fields.grip == "ribs"
    clear = drawn
    if with_ribs:
        # what the printer takes of the crests' gap it takes of the wall's too
        clear = ctx.positive("clear", "The room round the thing") + drawn - _wanted(fields, ctx.figures).target_mm
    if with_ribs and clear <= drawn + 0.05:
        raise StepError("The ribs must stand out of the wall: give more room round the thing.", field="clear")
    axis = face.axis.upward()
    lower = fields.end == "lower"
    ends = extent_along(thing, axis.frame_at(0.0, turned=False))
    mouth_at = _mouth(host, axis, radius + max(clear, 0.0) + WALL_MM, ends, lower)
    frame = axis.frame_at(mouth_at, turned=lower)
    # heights in the frame, whose z points out of the mouth
    heights = sorted((h - mouth_at) * (-1 if lower else 1) for h in ends)
    deep = -heights[0]
    if deep < 0.2:
        raise StepError("The thing does not reach into that part from this end; move it in, or take the other end.", field="end")  # fmt: skip
    mouth = ctx.number("mouth")
    if not 0 <= mouth < deep / 2:
        raise StepError(f"The chamfer at the mouth is from 0 to {deep / 2:.3g} mm here.", field="mouth")
    through = fields.rests == "through"
    if fields.grip == "split" and not through:
        raise StepError("A wall that is split springs where nothing ties it: let the thing go all through.", field="rests")  # fmt: skip
    if fields.grip == "knurl":
        _check_knurl(ctx, radius)
    floor = min(extent_along(host, frame)[0], -deep) - 1.0
    made = kernel.cut(host.solid, [kernel.bar(frame, radius + clear, floor if through else -deep, 1.0, ctx.id, "seat")], ctx.id)  # fmt: skip
    if not through:
        made = _opened_below(ctx, made, frame, radius, deep, floor)
    wall = f"{ctx.id}/seat"
    if mouth > 0:
        made = with_mouth(made, (wall,), frame, mouth, ctx.id)
    names = [wall]
    crests: tuple[float, ...] = ()
    if fields.grip == "split":
        frame = frame.placed(0.0, 0.0, ctx.number("slit_turn"))
        made = with_slit(made, ctx, frame, radius + clear, floor)
    if with_ribs:
        made, ribs = ribbed(ctx, made, frame, radius, clear, deep, mouth, through)
        names = [*ribs, wall]
        crests = tuple(2 * math.pi * k / len(ribs) for k in range(len(ribs)))
    size = 2 * (radius + drawn)
    side = sorted((h - mouth_at) * (-1 if lower else 1) for h in span_along(face, axis))
    points = ctx.number("rib") if with_ribs else 0.0
    low, high = max(side[0], -deep), min(side[1], -max(mouth, 0.05) * 1.02 - points)
    if high - low < 0.2:
        raise StepError("Too little of the thing is in the seat to hold it; let it go in deeper.", field="thing")
    spare = 0.02 * (high - low)
    mate = Mate(outer=tuple(names), inner=(fields.thing.face.name,), frame=frame, low_mm=low + spare, high_mm=high - spare, sizes_mm=(size, size), round_hole=True, crests=crests, reach_mm=max(clear, 0.0) + 2.0, seated=fields.rests != "through")  # fmt: skip
    return StepOutput(parts={fields.host: made}, joint=JointShape(fields.host, fields.thing.part, drawn, (mate,)))


def _mouth(host: PartState, axis: Axis, radius_mm: float, ends: tuple[float, float], lower: bool) -> float:
    """Where the host ends on the side of the mouth, all round the thing. Raises StepError where the pocket would break out of its side."""
    frame = axis.frame_at(0.0, turned=False)
    found = []
    for at, _ in ring_of(frame, radius_mm, 0.0, _LOOKS):
        places = kernel.meets_at(host.solid, Axis(at, axis.direction))
        if len(places) < 2:
            raise StepError("The pocket would break out of the side of that part, or lies beside it; make the part wider, or move the thing.", field="host")  # fmt: skip
        # of several stretches of material the one in which the thing's end lies
        stretches = list(zip(places[::2], places[1::2], strict=False))
        inner = ends[0] if not lower else ends[1]
        here = [s for s in stretches if s[0] - 0.5 <= inner + (0.1 if not lower else -0.1) <= s[1] + 0.5]
        if not here:
            raise StepError("The thing does not reach into that part from this end; move it in, or take the other end.", field="end")  # fmt: skip
        found.append(here[0][0] if lower else here[0][1])
    return min(found) if lower else max(found)


def _opened_below(
    ctx: StepContext, host: kernel.NamedSolid, frame: Frame, radius_mm: float, deep_mm: float, floor_mm: float
) -> kernel.NamedSolid:
    """The hole under a ledge, or the one to push the thing out again."""
    fields: SeatFields = ctx.fields
    if fields.rests == "ledge":
        hole = radius_mm - ctx.positive("ledge", "The ledge")
        if hole <= 0.2:
            raise StepError("A ledge so wide leaves no hole; let it rest on a floor.", field="ledge")
    else:
        hole = ctx.number("push") / 2
        if hole < 0:
            raise StepError("A hole cannot be negative; 0 mm leaves it out.", field="push")
        if hole >= radius_mm:
            raise StepError(f"The hole must be smaller than the thing: below {2 * radius_mm:.4g} mm.", field="push")
        if hole == 0:
            return host
    try:
        return kernel.cut(host, [kernel.bar(frame, hole, floor_mm, -deep_mm + 0.2, ctx.id, "out")], ctx.id)
    except StepError:
        # there was a hole as wide before
        return host


def _check_knurl(ctx: StepContext, radius_mm: float) -> None:
    """Teeth of 90° stand beside each other round the thing."""
    count, tooth = ctx.whole("teeth", 6, 200, "teeth"), ctx.positive("tooth", "The depth of a tooth")
    if 2 * tooth * count > 2 * math.pi * radius_mm:
        raise StepError(f"So many teeth of 90° are {math.pi * radius_mm / count:.2g} mm deep at most on Ø {2 * radius_mm:.4g} mm.", field="tooth")  # fmt: skip


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    """As of a bore; between ribs the wall stands back."""
    wall = next((kernel.round_face(outer.solid, i) for i in outer.solid.find(shape.mates[0].outer[-1])), None)
    found = bore_facts(shape, outer, inner, None if wall is None else wall.radius_mm)
    # only a wall that is split has a slit's sides
    slit = f"{shape.mates[0].outer[-1].partition('/')[0]}/slit-"
    split = any(name.startswith(slit) for names in outer.solid.names for name in names)
    return {**found, **split_walls(shape, outer)} if split else found


def _works(draws: Draws) -> Working | None:
    if draws.facts["wall"] <= 0.05:
        return None
    if draws.fields.grip != "split" and draws.wanted.target_mm <= 0 and (pieces := in_pieces(draws)) is not None:
        return pieces
    if draws.fields.grip in _WORKS:
        return _WORKS[draws.fields.grip](draws)
    return pressed(draws) if draws.wanted.target_mm <= 0 else None


def _begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """The part that takes a thing is most likely the one that it was put on; a wall that springs is open below."""
    if answered == "grip" and fields.get("grip") == "split":
        return {"rests": "through"}
    thing = fields.get("thing")
    if answered != "thing" or not isinstance(thing, Mapping):
        return {}
    host = stands_on(project, str(thing.get("part"))) or another(project, str(thing.get("part")))
    return {"host": host} if host else {}


_RIBS, _SPLIT, _KNURL = {"grip": ["ribs"]}, {"grip": ["split"]}, {"grip": ["knurl"]}
_LEDGE, _FLOOR = {"rests": ["ledge"]}, {"rests": ["floor"]}
register_joint(
    JointFamily(
        step=StepKind(
            kind="seat",
            title="Seat",
            group="join",
            about="A pocket for a bought bearing, magnet, pin or insert, pressed in plainly, against crush ribs, into a split wall or with its knurl.",
            fields=SeatFields,
            specs=(
                FieldSpec("thing", "shaft", "round side of the thing", missing="the round side of the thing"),
                FieldSpec("host", "part", "part with the seat", missing="the part that takes it"),
                FieldSpec(
                    "end",
                    "choice",
                    "from which end",
                    "upper",
                    (Choice("upper", "the upper end"), Choice("lower", "the lower end")),
                ),
                FieldSpec(
                    "rests",
                    "choice",
                    "what it rests on",
                    "floor",
                    (
                        Choice("floor", "resting on a floor"),
                        Choice("ledge", "resting on a ledge of"),
                        Choice("through", "all through"),
                    ),
                ),
                FieldSpec("ledge", "length", "width of the ledge", "1.5 mm"),
                FieldSpec("push", "length", "hole to push it out", "0 mm"),
                FieldSpec("mouth", "length", "chamfer at the mouth", "0.4 mm"),
                FieldSpec(
                    "grip",
                    "choice",
                    "what holds it",
                    "wall",
                    (
                        Choice("wall", "its whole wall"),
                        Choice("ribs", "crush ribs"),
                        Choice("split", "a wall that is split"),
                        Choice("knurl", "the thing's own knurl"),
                    ),
                ),
                FieldSpec("ribs", "number", "how many ribs", "6"),
                FieldSpec("rib", "length", "radius of a rib", "0.6 mm"),
                FieldSpec("clear", "length", "room round the thing", "0.2 mm"),
                FieldSpec("slit", "length", "width of the slit", "1.2 mm"),
                FieldSpec("slit_turn", "angle", "turned about the axis", "0 deg"),
                FieldSpec("teeth", "number", "how many teeth", "24"),
                FieldSpec("tooth", "length", "depth of a tooth", "0.3 mm"),
                *fit_specs(
                    "the thing", "the seat", ISO, band=("-0.2 mm", "-0.1 mm", "0 mm"), fit="press", takes="outer"
                ),
                replace(ZONES_SPEC, default="N7/h6"),
            ),
            sentence=said(
                "Seat ",
                "{thing}",
                " in ",
                "{host}",
                " from ",
                "{end}",
                ", ",
                "{rests}",
                (" ", _LEDGE),
                ("{ledge}", _LEDGE),
                *wanted(
                    "a hole to push it out",
                    (" with a hole Ø ", _FLOOR),
                    ("{push}", _FLOOR),
                    (" to push it out", _FLOOR),
                ),
                ", mouth ",
                "{mouth}",
                "; held by ",
                "{grip}",
                (": ", _RIBS),
                ("{ribs}", _RIBS),
                (" of radius ", _RIBS),
                ("{rib}", _RIBS),
                (", ", _RIBS),
                ("{clear}", _RIBS),
                (" room round it", _RIBS),
                (" by ", _SPLIT),
                ("{slit}", _SPLIT),
                (", turned ", _SPLIT),
                ("{slit_turn}", _SPLIT),
                (": ", _KNURL),
                ("{teeth}", _KNURL),
                (" teeth, ", _KNURL),
                ("{tooth}", _KNURL),
                (" deep", _KNURL),
                "; ",
                *ISO_FIT_SAID,
                (" on diameter", {"fit": ["own"]}),
            ),
            apply=_apply,
            begin=_begin,
            prepare=_prepare,
            # a face is mostly pointed at for something simpler
            suits=("plane", "part", "face"),
            words="press bearing magnet pin bushing pocket crush ribs bought split hub slit knurl knurled insert",
        ),
        outer="seat",
        inner="thing",
        meeting=_meeting,
        wanted=_wanted,
        goes_in="The thing goes into its seat",
        holds="and is held",
        per=_per,
        facts=_facts,
        works=_works,
    )
)
