"""Rail: a rail on a flat face of one part and its slot through another, which slides along it: dovetail, T or plain.

The rail stands on the face and goes along it; the slot is its outline set off by the gap, square to each side, and a little deeper, so that the faces on which the
parts lie guide and not the slot's floor. With a stop the slot ends where the rail does. The gap counts square to the sides.

A rail may grow narrower to the end that goes in first: it is loose until the last of the way, and wedges itself, or comes to its stop with the gap that is drawn.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from .. import solid as kernel
from ..calculators.play import Dovetail
from ..document.picks import FlatFace
from ..errors import StepError
from ..fits import Wanted
from ..quantities.markers import Angle, Changed, Length, PartMark
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, said, wanted
from ..recipe.picks import AxisPick, axis_of
from ..solid import Frame
from ..solid.frame import add, cross, dot, scale
from .family import (
    OUTER_SHARE,
    JointFamily,
    Meeting,
    drawn_figures,
    figure,
    fit_specs,
    other_half,
    register_joint,
    wanted_of,
)
from .flats import stands_and_host
from .iso_fit import ISO, ISO_FIT_SAID, ZONES_SPEC, IsoFitFields, iso_band
from .mating import facing
from .prismatic import INTO_MM, RELIEF_MM, Outline, dovetail, engaged, held_by_sides, prism_of, seen_across
from .rounds import extent_along, seen_axis
from .working import Draws, Given, Plot, Result, Working

__all__ = ["RailFields"]

#: the way lies in the face within this sine
IN_FACE = 1e-3


class RailFields(IsoFitFields):
    """``base`` carries the rail, ``host`` gets the slot. ``wide`` is the width at the face, of a T that of its stem, and where it is tapered in its middle; ``head`` how wide and ``neck`` how high under its head a T is."""

    base: Annotated[FlatFace | None, Changed()] = None
    host: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    way: AxisPick | None = None
    profile: Literal["dovetail", "tee", "plain"] = "dovetail"
    wide: Length = "10 mm"
    high: Length = "5 mm"
    taper: Angle = "0 deg"
    angle: Angle = "60 deg"
    head: Length = "16 mm"
    neck: Length = "2.5 mm"
    aside: Length = "0 mm"
    extent: Literal["all", "by"] = "all"
    long: Length = "30 mm"
    slot: Literal["through", "far", "near"] = "through"
    lead: Length = "0.8 mm"


def _meeting(fields: RailFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    pick, frame = fields.base, None
    normal = facing(ctx, pick, "base")
    along = seen_axis(ctx, fields.way)
    if normal is not None and along is not None and abs(dot(normal, along)) < 0.1:
        frame = Frame((0.0, 0.0, 0.0), cross(normal, along), normal)
    wide = figures.get("wide", 0.0)
    return Meeting(fields.host, pick.part if pick is not None else "", frame, (wide, wide), along="x")


def _wanted(fields: RailFields, figures: Mapping[str, float]) -> Wanted:
    """A fit of ISO 286 is taken at the width of what guides: a T's head, else the rail at its face."""
    if fields.fit != "iso":
        return wanted_of(fields, figures)
    return iso_band(figure(figures, "head" if fields.profile == "tee" else "wide"), fields.zones)


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _outline(ctx: StepContext) -> Outline:
    fields: RailFields = ctx.fields
    wide, high = ctx.positive("wide", "The width"), ctx.positive("high", "The height")
    if fields.profile == "plain":
        return Outline(((wide / 2, 0.0), (wide / 2, high)), ("",))
    if fields.profile == "dovetail":
        return dovetail(ctx, wide, high)
    head, neck = ctx.positive("head", "The width of the head"), ctx.positive("neck", "The height under the head")
    if head <= wide + 0.8:
        raise StepError(f"The head is wider than the stem: at least {wide + 0.8:.4g} mm.", field="head")
    if neck >= high - 0.6:
        raise StepError(f"This leaves nothing of the head: {high - 0.6:.4g} mm is the most.", field="neck")
    return Outline(((wide / 2, 0.0), (wide / 2, neck), (head / 2, neck), (head / 2, high)), ("stem", "under", ""))


def _apply(ctx: StepContext) -> StepOutput:
    fields: RailFields = ctx.fields
    carrier, found, host = stands_and_host(ctx, "the rail stands", "the slot goes into")
    assert fields.base is not None
    if fields.way is None:
        raise StepError("Pick the way that the rail goes: an edge, or an axis.", field="way")
    face = carrier.faces[found]
    along = axis_of(ctx, fields.way, "way").direction
    if abs(dot(along, face.normal)) > IN_FACE:
        raise StepError("The way must lie in the face that the rail stands on; pick an edge of it.", field="way")
    frame = Frame(face.at, cross(face.normal, along), face.normal)
    middle, length = _span(ctx, carrier, found, frame)
    frame = Frame(add(frame.to_world(ctx.number("aside"), 0.0), scale(along, middle)), frame.x, frame.y)
    outline, drawn = replace(_outline(ctx), grows=_growth(ctx)), ctx.number("drawn")
    if drawn <= 0:
        raise StepError("A rail needs a gap to slide; take a looser fit.", field="fit")
    share = OUTER_SHARE[fields.takes]
    narrowed, widened = outline.set_off(-(1 - share) * drawn, 0.0), outline.set_off(share * drawn, drawn + RELIEF_MM)
    if min(x for x, _ in narrowed.places) < 0.3:
        raise StepError("The gap leaves nothing of the rail; make it wider.", field="wide")
    _not_pointed(narrowed, length)
    rail = prism_of(narrowed.down_to(-INTO_MM), frame, -length / 2, length / 2, ctx.id, "rail")
    lead = ctx.number("lead")
    if not 0 <= lead < min(length / 3, outline.places[-1][1]):
        raise StepError("The chamfer at the rail's ends is zero or more, and less than its height.", field="lead")
    if lead > 0:
        rail = _pointed(rail, frame, length, lead, ctx.id)
    made = kernel.fuse(carrier.solid, [rail], ctx.id)
    if made.lumps > carrier.solid.lumps:
        raise StepError("The rail would stand beside that face; move it onto it.", field="aside")
    low, high = extent_along(host, frame)
    ends = {"through": (low - 1.0, high + 1.0), "far": (low - 1.0, length / 2 + drawn), "near": (-length / 2 - drawn, high + 1.0)}[fields.slot]  # fmt: skip
    if fields.slot != "through" and not low + 0.2 < ends[1 if fields.slot == "far" else 0] < high - 0.2:
        raise StepError("The rail does not end within that part, so there is nothing to stop at; let the slot go through.", field="slot")  # fmt: skip
    floor = widened.places[-1][1]
    if extent_along(host, _across(frame))[1] < floor + 0.4:
        raise StepError(f"The slot, {floor:.3g} mm deep, leaves nothing over it; make that part thicker, or the rail lower.", field="high")  # fmt: skip
    slot = prism_of(widened.down_to(-1.0), frame, *ends, ctx.id, "slot")
    changed = kernel.cut(host.solid, [slot], ctx.id)
    begins, stops = max(-length / 2 + lead, ends[0], low), min(length / 2 - lead, ends[1], high)
    if stops - begins < 0.5:
        raise StepError("The rail does not reach into that part; make it longer, or move one of them.", field="host")
    spare = 0.02 * (stops - begins)
    middle_wide = widened.places[-1][0] + widened.places[-2][0]
    sides = ("left", "right")
    mate = Mate(
        outer=tuple(f"{ctx.id}/slot({s})" for s in sides), inner=tuple(f"{ctx.id}/rail({s})" for s in sides), frame=frame,
        low_mm=begins + spare, high_mm=stops - spare, sizes_mm=(middle_wide, outline.places[-1][1]), middle_mm=(0.0, outline.places[-1][1] / 2), along="x",
        slant_rad=outline.slant_rad,
    )  # fmt: skip
    joint = JointShape(
        fields.host, fields.base.part, drawn, (mate,), seen=seen_across(widened, frame, (begins + stops) / 2)
    )
    return StepOutput(parts={fields.base.part: made, fields.host: changed}, joint=joint)


def _growth(ctx: StepContext) -> float:
    """By how much a rail is wider a side for each millimetre along: its narrow end is the one that goes in first."""
    fields: RailFields = ctx.fields
    taper = ctx.number("taper")
    if not 0 <= taper <= math.radians(10) + 1e-9:
        raise StepError("A rail grows narrower by 0 to 10 deg a side.", field="taper")
    return math.tan(taper) * (1.0 if fields.slot == "near" else -1.0)


def _not_pointed(rail: Outline, length: float) -> None:
    """Refuse a rail that grows so narrow that nothing is left of it."""
    if min(x for end in (-1, 1) for x, _ in rail.at(end * length / 2).places) < 0.3:
        widest = min(x for x, _ in rail.places) - 0.3
        raise StepError(f"So long a rail comes to a point: {math.degrees(math.atan(2 * widest / length)):.2g} deg a side are the most.", field="taper")  # fmt: skip


def _across(frame: Frame) -> Frame:
    """A frame whose ``z`` is the other's ``y``."""
    return Frame(frame.origin, frame.z, frame.x)


def _span(ctx: StepContext, carrier: PartState, face: int, frame: Frame) -> tuple[float, float]:
    """Where along the way the rail's middle lies from the face's, and how long it is."""
    fields: RailFields = ctx.fields
    heights = (carrier.mesh.corners_of(face) - np.array(frame.origin)) @ np.array(frame.z)
    low, high = float(heights.min()), float(heights.max())
    if fields.extent == "all":
        return (low + high) / 2, high - low
    return (low + high) / 2, ctx.positive("long", "The length")


def _pointed(rail: kernel.NamedSolid, frame: Frame, length: float, lead: float, step: str) -> kernel.NamedSolid:
    """With both ends chamfered all round, as far as they stand over the face."""
    ends = {i for side in ("near", "far") for i in rail.find(f"{step}/rail({side})")}
    edges = []
    for i, (_, pair) in enumerate(rail.edges):
        if len(ends & set(pair)) == 1 and frame.to_local(kernel.edge_middle(rail, i))[1] > 1e-3:
            edges.append(i)
    return kernel.chamfer(rail, edges, lead, lead, step)


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _works(draws: Draws) -> Working:
    """Play to the side and off the face, what the rail bears when it is pulled off, and how it is measured over pins."""
    fields: RailFields = draws.fields
    f, inner = draws.figures, draws.inner
    gap = np.maximum(draws.gap_mm, 0.0)
    slant = math.pi / 2 - f["angle"] if fields.profile == "dovetail" else 0.0
    engaged = draws.facts["engaged"]
    results = [Result("play to each side", gap / math.cos(slant), "mm")]
    if f["taper"] > 0 and fields.slot == "through":
        results.append(Result("it goes on past its place, until it wedges, by", gap / (math.cos(slant) * math.tan(f["taper"])), "mm", note="and holds by itself up to about 7 deg a side"))  # fmt: skip
    elif f["taper"] > 0:
        results.append(
            Result("looser a side for each millimetre that it is out", np.full_like(gap, math.tan(f["taper"])), "mm")
        )
    givens = [Given("width at the face", f["wide"], "mm"), Given("height", f["high"], "mm"), Given("length that meets", engaged, "mm")]  # fmt: skip
    if fields.profile == "dovetail":
        tail = Dovetail(f["wide"], f["high"], f["angle"])
        pin = round(0.7 * f["high"] * 2) / 2
        off = draws.figures["drawn"] * (1 - OUTER_SHARE[fields.takes])
        givens += [
            Given("width at its top", tail.wide_mm, "mm"),
            Given(f"over two pins of Ø {pin:g}, as drawn", tail.over_pins_mm(pin) - 2 * tail.sideways_mm(off), "mm", "to measure the rail by"),
        ]  # fmt: skip
        results += held_by_sides(gap, f["high"], slant, "it lifts off the face by")
        results.append(Result("sides hang over by", np.full_like(gap, math.degrees(slant)), "°", 50.0, "most", "its sides sag", "where the face lies on the bed; 45° print by themselves"))  # fmt: skip
    if fields.profile == "tee":
        results += [
            Result("it lifts off the face by", gap, "mm"),
            Result("head that holds, each side", np.maximum((f["head"] - f["wide"]) / 2 - gap, 0.0), "mm", 0.4, "least", "it is lifted out"),
        ]  # fmt: skip
    # pulled off its face the rail tears at its foot; where its layers lie on the face, between two of them
    plastic = inner.material.plastic
    # its layers lie on the face where that face's normal stands upright
    lying = abs(inner.up[1])
    tear = f["wide"] * engaged * inner.strength_mpa * inner.layered(1)
    results.append(Result("force until the rail tears off", tear, "N", note="its layers are pulled apart" if plastic and lying > 0.5 else "once"))  # fmt: skip
    across = np.linspace(0.0, max(0.6, 2 * float(gap[0])), 13)
    plot = Plot("gap, mm", "play to each side, mm", tuple((float(a), float(a / math.cos(slant))) for a in across), None, (float(gap[0]), float(gap[0] / math.cos(slant))))  # fmt: skip
    acts = {"kind": "rail", "slant": slant, "engaged": engaged, "high": f["high"], "lying": bool(lying > 0.5)}
    return Working(
        "Rail", tuple(givens), tuple(results), (plot,),
        "Gaps square to the sides; the parts lie on each other at the rail's face. By the sentence's figures: what later steps do to it is not in it.", acts,
    )  # fmt: skip


_TAIL, _TEE = {"profile": ["dovetail"]}, {"profile": ["tee"]}
register_joint(
    JointFamily(
        step=StepKind(
            kind="rail",
            title="Rail and slot",
            group="join",
            about="A part that slides along another: dovetail, T or plain, with a stop or through.",
            fields=RailFields,
            specs=(
                FieldSpec("base", "face", "face that the rail stands on", missing="the face that it stands on"),
                FieldSpec("host", "part", "part with the slot", missing="the part with the slot"),
                FieldSpec("way", "axis", "way that it goes", missing="an edge or axis along it"),
                FieldSpec(
                    "profile",
                    "choice",
                    "outline",
                    "dovetail",
                    (Choice("dovetail", "a dovetail"), Choice("tee", "a T"), Choice("plain", "a plain tongue")),
                ),
                FieldSpec("wide", "length", "width at the face", "10 mm"),
                FieldSpec("high", "length", "height", "5 mm"),
                FieldSpec("angle", "angle", "angle of its sides", "60 deg"),
                FieldSpec("taper", "angle", "how much it narrows to the end that goes in, a side", "0 deg"),
                FieldSpec("head", "length", "width of the head", "16 mm"),
                FieldSpec("neck", "length", "height under the head", "2.5 mm"),
                FieldSpec("aside", "length", "aside from the face's middle", "0 mm"),
                FieldSpec(
                    "extent",
                    "choice",
                    "how long",
                    "all",
                    (Choice("all", "as long as the face"), Choice("by", "over a length of")),
                ),
                FieldSpec("long", "length", "length", "30 mm"),
                FieldSpec(
                    "slot",
                    "choice",
                    "how far the slot goes",
                    "through",
                    (
                        Choice("through", "all through"),
                        Choice("far", "to a stop at its far end"),
                        Choice("near", "to a stop at its near end"),
                    ),
                ),
                FieldSpec("lead", "length", "chamfer at its ends", "0.8 mm"),
                *fit_specs("the rail", "the slot", ISO),
                ZONES_SPEC,
            ),
            sentence=said(
                "Join by a rail on ",
                "{base}",
                " along ",
                "{way}",
                ": ",
                "{profile}",
                " ",
                "{wide}",
                " wide and ",
                "{high}",
                " high",
                (" at ", _TAIL),
                ("{angle}", _TAIL),
                (", with a head ", _TEE),
                ("{head}", _TEE),
                (" wide from ", _TEE),
                ("{neck}", _TEE),
                (" on", _TEE),
                ", ",
                "{extent}",
                (" ", {"extent": ["by"]}),
                ("{long}", {"extent": ["by"]}),
                *wanted("a wedge", ", narrowing by ", "{taper}", " a side"),
                ", ",
                "{aside}",
                " aside, ends chamfered ",
                "{lead}",
                "; its slot in ",
                "{host}",
                " goes ",
                "{slot}",
                "; ",
                *ISO_FIT_SAID,
                "; a change of the gap lands on ",
                "{takes}",
            ),
            apply=_apply,
            begin=other_half("base"),
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="dovetail slide tongue groove key T slot guide rail",
        ),
        outer="slot",
        inner="rail",
        meeting=_meeting,
        wanted=_wanted,
        goes_in="The rail goes into its slot",
        holds="without too much play",
        facts=engaged,
        works=_works,
    )
)
