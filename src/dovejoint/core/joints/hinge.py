"""Hinge: knuckles in turn on two parts about one axis, round a pin of its own or one that is printed in place.

The barrel stands where the axis is; each knuckle grows together with its own part, and the other part is cut free round it. The gap is that between the pin and the holes
of the second part; a pin that is printed in place belongs to the first. Where it is to stop, lugs on the outermost knuckles run in grooves of their neighbours.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from .. import solid as kernel
from ..document import Project
from ..errors import StepError
from ..quantities.markers import Angle, Length, Number, PartMark
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, Turning, said
from ..recipe.picks import AxisPick, axis_of
from ..solid import Axis, Frame
from .family import (
    OUTER_SHARE,
    JointFamily,
    Meeting,
    Per,
    another,  # fmt: skip
    drawn_figures,
    fit_specs,
    register_joint,
)
from .iso_fit import ISO, ISO_FIT_SAID, ZONES_SPEC, IsoFitFields, iso_or_wanted
from .rounds import extent_along, mouth_frame, seen_axis
from .turning import rising, turns
from .working import SHEARED, Draws, Given, Plot, Result, Working

__all__ = ["HingeFields"]

Array = NDArray[np.float64]

#: what is left of a knuckle round its hole, mm
LEFT_MM = 1.0
#: a lug that stops it is as wide and as thick as this, mm, and so much of the knuckle stays between the ends of its groove, rad
LUG_MM, WALL_RAD = 1.2, math.radians(40)


class HingeFields(IsoFitFields):
    """``first`` has the outer knuckles, ``second`` those between them. ``clear`` is the room round and beside the knuckles, ``shift`` moves the barrel along; it
    stops after turning ``up`` in the sense that lifts the second part (about an upright axis: anticlockwise from above), and ``down`` in the other."""

    first: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    second: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    axis: AxisPick | None = None
    long: Length = "40 mm"
    shift: Length = "0 mm"
    across: Length = "9 mm"
    knuckles: Number = "5"
    clear: Length = "0.4 mm"
    pin: Literal["own", "in_place"] = "own"
    part: Annotated[str, PartMark("changes", "pin=own"), Field(max_length=40)] = ""
    diameter: Length = "4 mm"
    stops: Literal["free", "at"] = "free"
    up: Angle = "110 deg"
    down: Angle = "12 deg"


def _per(fields: HingeFields) -> Per:
    return "diameter"


def _meeting(fields: HingeFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    along, size = seen_axis(ctx, fields.axis), figures.get("diameter", 0.0)
    frame = mouth_frame(along, "upper") if along is not None else None
    inner = fields.part if fields.pin == "own" else fields.first
    return Meeting(fields.second, inner, frame, (size, size), round_hole=True)


def _apply(ctx: StepContext) -> StepOutput:
    fields: HingeFields = ctx.fields
    if fields.axis is None:
        raise StepError("Pick the axis that it turns about: an edge, or a line.", field="axis")
    if fields.first == fields.second:
        raise StepError("A hinge is between two parts.", field="second")
    first, second = ctx.part(fields.first, "first"), ctx.part(fields.second, "second")
    if fields.pin == "own" and ctx.has_part(fields.part):
        raise StepError("The pin is made by an earlier step; the joint makes its own.", field="part")
    found = axis_of(ctx, fields.axis, "axis").upward()
    frame = found.frame_at(_middle(found, first, second) + ctx.number("shift"), turned=False)
    long, across, diameter = ctx.positive("long", "The length"), ctx.positive("across", "The barrel"), ctx.positive("diameter", "The pin")  # fmt: skip
    clear, drawn = ctx.positive("clear", "The room beside the knuckles"), ctx.number("drawn")
    count = ctx.number("knuckles")
    if abs(count - round(count)) > 1e-9 or not 3 <= round(count) <= 25 or round(count) % 2 == 0:
        raise StepError(f"There is an odd number of knuckles from 3 to 25, and it is {count:.4g}.", field="knuckles")
    n = round(count)
    each = _knuckle_mm(long, clear, n)
    if each < 1.5:
        raise StepError(f"So many knuckles are {max(each, 0.0):.2g} mm long each; take fewer, or a longer barrel.", field="knuckles")  # fmt: skip
    share = OUTER_SHARE[fields.takes]
    hole, pin = _hole_mm(fields, diameter, drawn), diameter / 2 - (1 - share) * drawn
    if across / 2 - hole < LEFT_MM:
        raise StepError(f"The pin leaves too little of the knuckles: a barrel of {2 * (hole + LEFT_MM):.4g} mm at least.", field="across")  # fmt: skip
    if pin < 0.5:
        raise StepError("The gap leaves nothing of the pin; make it thicker.", field="diameter")
    spans = [(-long / 2 + k * (each + clear), -long / 2 + k * (each + clear) + each) for k in range(n)]
    mine = {"first": spans[::2], "second": spans[1::2]}
    lugs, grooves = _stops(ctx, frame, second, spans, hole, across / 2) if fields.stops == "at" else ([], [])
    made = {}
    for name, state, others in (("first", first, spans[1::2]), ("second", second, spans[::2])):
        free = [kernel.bar(frame, across / 2 + clear, low - clear, high + clear, ctx.id, f"{name}-free({k + 1})") for k, (low, high) in enumerate(others)]  # fmt: skip
        body = _freed(state.solid, free, ctx.id)
        bars = [kernel.bar(frame, across / 2, low, high, ctx.id, f"knuckle({2 * k + (1 if name == 'first' else 2)})") for k, (low, high) in enumerate(mine[name])]  # fmt: skip
        grown = kernel.fuse(body, [*bars, *lugs] if name == "first" else bars, ctx.id)
        if grown.lumps > max(state.solid.lumps, body.lumps):
            raise StepError("Not all knuckles touch their part; bring the axis nearer to it, or make the barrel wider.", field=name)  # fmt: skip
        if body.lumps > state.solid.lumps:
            raise StepError("Cut free round the knuckles that part falls to pieces; make the barrel thinner or shorter.", field=name)  # fmt: skip
        made[name] = grown
    bore = kernel.bar(frame, hole, -long / 2 - 1.0, long / 2 + 1.0, ctx.id, "hole")
    made["second"] = kernel.cut(made["second"], [bore, *grooves], ctx.id)
    if made["second"].lumps > second.solid.lumps:
        raise StepError("The grooves that stop it cut that part to pieces; let it turn less far.", field="up")
    parts = {fields.second: made["second"]}
    stick = kernel.bar(frame, pin, -long / 2, long / 2, ctx.id, "pin")
    if fields.pin == "own":
        made["first"] = kernel.cut(made["first"], [bore], ctx.id)
        parts[fields.part] = stick
    else:
        made["first"] = kernel.fuse(made["first"], [stick], ctx.id)
    parts[fields.first] = made["first"]
    inner = fields.part if fields.pin == "own" else fields.first
    # where the grooves are the hole is not whole
    away = _groove_mm(ctx, spans) if fields.stops == "at" else 0.0
    low, high = spans[1][0] + away, spans[-2][1] - away
    spare = 0.02 * (high - low)
    mate = Mate(
        outer=(f"{ctx.id}/hole",), inner=(f"{ctx.id}/pin",), frame=frame, low_mm=low + spare, high_mm=high - spare, sizes_mm=(2 * hole, 2 * hole),
        round_hole=True, reach_mm=drawn + 0.5, window_mm=((0.0, 0.0), (hole + LEFT_MM / 2, hole + LEFT_MM / 2)),
    )  # fmt: skip
    turning = Turning(frame, fields.second, fields.first)
    return StepOutput(parts=parts, joint=JointShape(fields.second, inner, drawn, (mate,), turns=turning))


@dataclass(frozen=True)
class _Lug:
    """A lug that stops a hinge: from ``inside`` to ``outside`` about the axis, so ``wide`` round it, and ``deep`` beyond its knuckle; mm, rad."""

    inside_mm: float
    outside_mm: float
    wide_rad: float
    deep_mm: float

    @property
    def radius_mm(self) -> float:
        return (self.inside_mm + self.outside_mm) / 2

    @staticmethod
    def of(hole_mm: float, barrel_mm: float, clear_mm: float, knuckle_mm: float) -> _Lug:
        """From the radii of hole and barrel, the room beside the knuckles and how long each is."""
        inside = hole_mm + clear_mm
        wide = max(math.radians(30), LUG_MM * 2 / (barrel_mm + inside))
        return _Lug(inside, barrel_mm, wide, _lug_deep_mm(knuckle_mm))

    def bears_n(self, strength_mpa: Array, clear_mm: float) -> Array:
        """The force round the axis that one bears where it meets the end of its groove: sheared off at its knuckle (von Mises), or bent there as a bar of that
        section, whichever is less."""
        across, round_it = self.outside_mm - self.inside_mm, self.wide_rad * self.radius_mm
        sheared = SHEARED * strength_mpa * across * round_it
        # its outer corner stands farthest from the middle of what is bent
        resists = across * round_it**3 / 12 / (self.outside_mm * math.sin(self.wide_rad / 2))
        bent = strength_mpa * resists / ((clear_mm + self.deep_mm) / 2)
        return np.minimum(sheared, bent)


def _lug_deep_mm(knuckle_mm: float) -> float:
    return min(2.5, knuckle_mm / 3)


def _knuckle_mm(long_mm: float, clear_mm: float, count: int) -> float:
    return (long_mm - (count - 1) * clear_mm) / count


def _hole_mm(fields: HingeFields, diameter_mm: float, drawn_mm: float) -> float:
    """The radius of the holes."""
    return diameter_mm / 2 + OUTER_SHARE[fields.takes] * drawn_mm


def _stops(
    ctx: StepContext,
    frame: Frame,
    second: PartState,
    spans: list[tuple[float, float]],
    hole_mm: float,
    barrel_mm: float,
) -> tuple[list[kernel.NamedSolid], list[kernel.NamedSolid]]:
    """Lugs on the outermost knuckles, and the tools that cut the grooves in which they run; on the side away from the second part's body."""
    clear = ctx.number("clear")
    up, down = ctx.number("up"), ctx.number("down")
    shape = _Lug.of(hole_mm, barrel_mm, clear, spans[0][1] - spans[0][0])
    inside, wide, deep = shape.inside_mm, shape.wide_rad, _groove_mm(ctx, spans)
    if barrel_mm - inside < LUG_MM:
        raise StepError(f"The lugs that stop it need a wider barrel: {2 * (inside + LUG_MM):.4g} mm at least.", field="across")  # fmt: skip
    least = clear / inside if ctx.fields.pin == "in_place" else 0.0
    for name, turn in (("up", up), ("down", down)):
        if turn < least - 1e-9:
            raise StepError(
                f"Printed in place it turns {math.degrees(least):.2g} deg at least each way, so that nothing fuses."
                if least
                else "It cannot turn less than not at all; 0 deg stops it as it is drawn.",
                field=name,
            )
    most = 2 * math.pi - wide - WALL_RAD
    if up + down > most:
        raise StepError(f"Both ways together it turns {math.degrees(most):.0f} deg at most between stops.", field="up")
    sense, _ = rising(frame, second.info.centre_mm)
    ahead, back = (up, down) if sense > 0 else (down, up)
    x, y, _ = frame.to_local(second.info.centre_mm)
    middle = math.atan2(y, x) + math.pi
    lug = middle + (ahead - back) / 2
    lugs, grooves = [], []
    for k, at, way in ((1, spans[0][1], 1.0), (2, spans[-1][0], -1.0)):
        low, high = sorted((at - way * 0.2, at + way * deep))
        lugs.append(_sector(frame, (inside, barrel_mm), (lug - wide / 2, lug + wide / 2), (low, high), ctx.id, f"lug({k})"))  # fmt: skip
        low, high = sorted((at + way * 0.5 * clear, at + way * (clear + deep)))
        grooves.append(_sector(frame, (hole_mm / 2, barrel_mm + clear), (lug - wide / 2 - ahead, lug + wide / 2 + back), (low, high), ctx.id, f"groove({k})"))  # fmt: skip
    return lugs, grooves


def _groove_mm(ctx: StepContext, spans: list[tuple[float, float]]) -> float:
    """How deep the grooves go into their knuckles along the axis, mm; the lugs end short of that by the room beside the knuckles."""
    clear = ctx.number("clear")
    deep = _lug_deep_mm(spans[0][1] - spans[0][0])
    if deep < clear + LUG_MM / 2:
        raise StepError(f"For the lugs that stop it each knuckle is {3 * (clear + LUG_MM / 2):.3g} mm long at least; take fewer, or a longer barrel.", field="knuckles")  # fmt: skip
    return deep


def _sector(
    frame: Frame, radii_mm: tuple[float, float], turns_rad: tuple[float, float], heights_mm: tuple[float, float], step: str, word: str
) -> kernel.NamedSolid:  # fmt: skip
    """A piece of a ring between two radii, two angles and two heights."""

    def at(radius: float, turn: float) -> tuple[float, float]:
        return radius * math.cos(turn), radius * math.sin(turn)

    (r, big), (a, b) = radii_mm, turns_rad
    curves: list[kernel.Curve] = [
        kernel.Arc("outside", (0.0, 0.0), big, at(big, a), at(big, b)), kernel.Line("end", at(big, b), at(r, b)),
        kernel.Arc("inside", (0.0, 0.0), r, at(r, b), at(r, a), clockwise=True), kernel.Line("begin", at(r, a), at(big, a)),
    ]  # fmt: skip
    (region,) = kernel.find_regions(curves)
    plain = {f"{step}/start": f"{step}/{word}-start", f"{step}/end": f"{step}/{word}-end"}
    return kernel.prism(region, frame, *heights_mm, step, check=False).renamed(
        lambda n: plain.get(n, n.replace(f"{step}/side(", f"{step}/{word}-("))
    )


def _middle(axis: Axis, first: PartState, second: PartState) -> float:
    """Where along the axis the stretch that both parts share has its middle."""
    along = axis.frame_at(0.0, turned=False)
    spans = [extent_along(p, along) for p in (first, second)]
    low, high = max(s[0] for s in spans), min(s[1] for s in spans)
    if high - low < 1.0:
        raise StepError("The two parts do not lie beside each other along that axis; pick another.", field="axis")
    return (low + high) / 2


def _freed(body: kernel.NamedSolid, free: list[kernel.NamedSolid], step: str) -> kernel.NamedSolid:
    """A part cut free round the other's knuckles, where it reaches there at all."""
    tools = [t for t in free if kernel.common(body, t)[0] > 1e-6]
    return kernel.cut(body, tools, step) if tools else body


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    mate = shape.mates[0]
    return {"held": (mate.high_mm - mate.low_mm) / 0.96}


def _works(draws: Draws) -> Working:
    """How far the leaf wobbles, and whether a pin that is printed in place comes loose at all."""
    fields: HingeFields = draws.fields
    f = draws.figures
    gap = np.maximum(draws.gap_mm, 0.0)
    held = draws.facts["held"]
    wobble = np.degrees(np.arctan2(2 * gap, held))
    results = [
        Result("play of the pin", 2 * gap, "mm", note="on diameter"),
        Result("the second part wobbles by", wobble, "°", note="from end to end of its knuckles"),
        *_turns(draws),
        *_stopped(draws),
    ]
    if fields.pin == "in_place":
        results.insert(
            0,
            Result(
                "gap that opens",
                draws.gap_mm,
                "mm",
                0.1,
                "least",
                "it is fused",
                "a side; practice, for a nozzle of 0.4 mm",
            ),
        )
    givens = (
        Given("pin", f["diameter"], "mm"), Given("barrel", f["across"], "mm"), Given("knuckles", f["knuckles"], ""),
        Given("from end to end of the second part's knuckles", held, "mm"), Given("room beside and round the knuckles, as drawn", f["clear"], "mm"),
    )  # fmt: skip
    across = np.linspace(0.0, max(0.5, 2 * float(gap[0])), 11)
    points = tuple((float(a), math.degrees(math.atan2(2 * float(a), held))) for a in across)
    acts = {"kind": "hinge", "held": held, "in_place": fields.pin == "in_place"}
    return Working(
        "Hinge", givens, tuple(results), (Plot("gap, mm a side", "wobble, degrees", points, None, (float(gap[0]), float(wobble[0]))),),
        "A straight pin in holes in one line. How far it turns is read on the solids as drawn, without what the print adds.", acts,
    )  # fmt: skip


def _turns(draws: Draws) -> list[Result]:
    """How far it turns each way, and whether that is as far as it is to."""
    fields: HingeFields = draws.fields
    found = turns(draws, "the second part")
    if fields.stops == "free":
        return list(found)
    wanted = (math.degrees(draws.figures[name]) for name in ("up", "down"))
    return [
        replace(r, limit=most - 0.5, bound="least", fails="the parts meet before it stops", note=f"it is to stop at {most:.4g}°")
        for r, most in zip(found, wanted, strict=True)
    ]  # fmt: skip


def _stopped(draws: Draws) -> list[Result]:
    """What turns it beyond its stops: both lugs together, which belong to the first part. That of a pin of its own is not seen here, and is taken to be as strong as the second."""
    fields, f = draws.fields, draws.figures
    if fields.stops == "free":
        return []
    lug = _Lug.of(
        _hole_mm(fields, f["diameter"], f["drawn"]), f["across"] / 2, f["clear"],
        _knuckle_mm(f["long"], f["clear"], round(f["knuckles"])),
    )  # fmt: skip
    half = draws.inner if fields.pin == "in_place" else draws.outer
    # they stand out along the axis: where that is upright, their foot lies between two layers
    force = lug.bears_n(half.strength_mpa * half.layered(2), f["clear"])
    note = "between two layers" if half.upright > 0.5 and half.material.plastic else "once"
    if fields.pin == "own":
        note += "; as if both parts were of one material"
    return [Result("turning moment until its stops break off", 2 * force * lug.radius_mm / 1000, "N·m", note=note)]


def _begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """The last two parts, as long as nobody said which."""
    if answered:
        return {}
    second = another(project)
    return {"first": another(project, second), "second": second}


_OWN, _STOPS = {"pin": ["own"]}, {"stops": ["at"]}
register_joint(
    JointFamily(
        step=StepKind(
            kind="hinge",
            title="Hinge",
            group="join",
            about="Knuckles in turn on two parts, round a pin of its own or one that is printed in place.",
            fields=HingeFields,
            in_one=lambda f: (f.first, f.second) if f.pin == "in_place" else (),
            specs=(
                FieldSpec("first", "part", "part with the outer knuckles", missing="the part with the outer knuckles"),
                FieldSpec("second", "part", "part with those between", missing="the other part"),
                FieldSpec("axis", "axis", "axis", missing="an edge or line that it turns about"),
                FieldSpec("long", "length", "length of the barrel", "40 mm"),
                FieldSpec("shift", "length", "along from the middle", "0 mm"),
                FieldSpec("across", "length", "diameter of the barrel", "9 mm"),
                FieldSpec("knuckles", "number", "how many knuckles", "5"),
                FieldSpec("clear", "length", "room round and beside them", "0.4 mm"),
                FieldSpec(
                    "pin",
                    "choice",
                    "what pin",
                    "own",
                    (Choice("own", "a pin of its own:"), Choice("in_place", "a pin printed in place")),
                ),
                FieldSpec("part", "part", "new part"),
                FieldSpec("diameter", "length", "diameter of the pin", "4 mm"),
                FieldSpec(
                    "stops",
                    "choice",
                    "how far it turns",
                    "free",
                    (Choice("free", "as far as it goes"), Choice("at", "no farther than")),
                ),
                FieldSpec("up", "angle", "turn that lifts the second part (or anticlockwise)", "110 deg"),
                FieldSpec("down", "angle", "turn that lowers it (or clockwise)", "12 deg"),
                *fit_specs("the pin", "the holes", ISO),
                ZONES_SPEC,
            ),
            sentence=said(
                "Hinge ",
                "{first}",
                " and ",
                "{second}",
                " about ",
                "{axis}",
                ": a barrel Ø ",
                "{across}",
                ", ",
                "{long}",
                " long, ",
                "{shift}",
                " along, of ",
                "{knuckles}",
                " knuckles with ",
                "{clear}",
                " round them; ",
                "{pin}",
                (" ", _OWN),
                ("{part}", _OWN),
                ", Ø ",
                "{diameter}",
                "; it turns ",
                "{stops}",
                (" ", _STOPS),
                ("{up}", _STOPS),
                (" up and ", _STOPS),
                ("{down}", _STOPS),
                (" down", _STOPS),
                "; ",
                *ISO_FIT_SAID,
                "; a change of the gap lands on ",
                "{takes}",
            ),
            apply=_apply,
            begin=_begin,
            prepare=drawn_figures,
            suits=("plane", "part", "edge"),
            words="turn pivot knuckle pin lid door flap leaf",
        ),
        outer="hole",
        inner="pin",
        meeting=_meeting,
        comes="turned",
        wanted=iso_or_wanted("diameter"),
        goes_in="The pin goes through",
        holds="without too much play",
        per=_per,
        facts=_facts,
        works=_works,
    )
)
