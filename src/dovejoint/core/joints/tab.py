"""Tabs and slots: a plate whose end stands on another part, with tabs that go into slots there.

The tabs share the length of the face that they stand on evenly, so that a longer plate or another number moves them by itself. They are as thick as the plate, or thinner.
Both sides and both ends of each tab meet its slot by the same gap. Slots that are milled have their corners relieved; there the gap does not count.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from .. import solid as kernel
from ..calculators.materials import ACROSS_LAYERS
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Changed, Length, Number, PartMark
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, said, wanted
from ..solid import Axis, Frame
from ..solid.frame import cross, scale, sub, unit
from .family import OUTER_SHARE, BedEdge, JointFamily, Meeting, drawn_figures, fit_specs, other_half, register_joint
from .flats import block_named, lying_on, relieved, stands_and_host
from .iso_fit import ISO, ISO_FIT_SAID, ZONES_SPEC, IsoFitFields, iso_or_wanted
from .mating import facing
from .places import rooms_at
from .shaft_in_bore import with_mouth
from .working import SHEARED, Draws, Given, Plot, Result, Working

__all__ = ["TabFields"]

#: what stays of a part round a slot and below it, and between two tabs, mm
WALL_MM = 0.8
#: a slot that does not go through is deeper than its tab by this, mm
RELIEF_MM = 0.5
#: how far tabs begin within the part that they stand on, mm
INTO_MM = 0.3
#: a side of a tab between relieved corners counts when it is so long, mm
COUNTS_MM = 0.5
SIDES = ("left", "right", "front", "back")


class TabFields(IsoFitFields):
    """``base`` is the end of the plate with the tabs, ``host`` the part with the slots. ``mill`` is the diameter of the cutter that makes the slots (0: corners may be sharp)."""

    base: Annotated[FlatFace | None, Changed()] = None
    host: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    tabs: Number = "2"
    wide: Length = "12 mm"
    breadth: Literal["all", "by"] = "all"
    thick: Length = "3 mm"
    extent: Literal["through", "by"] = "through"
    long: Length = "6 mm"
    lead: Length = "0.6 mm"
    mouth: Length = "0.3 mm"
    mill: Length = "0 mm"
    takes: Literal["inner", "outer", "both"] = "outer"


def _meeting(fields: TabFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    normal = facing(ctx, fields.base, "base")
    frame = Frame.on_plane((0.0, 0.0, 0.0), scale(normal, -1.0)) if normal is not None else None
    if frame is not None and ctx is not None and fields.base is not None:
        part, found = ctx.faces_named(fields.base, "base")
        frame = _along(part, found)
    edges = (
        BedEdge(True, "the mouths of the slots", figures.get("mouth", 0.0), True),
        BedEdge(False, "the ends of the tabs", figures.get("lead", 0.0), False),
    )
    sizes = (figures.get("wide", 0.0), figures.get("thick", 0.0) if fields.breadth == "by" else 0.0)
    return Meeting(
        fields.host,
        fields.base.part if fields.base is not None else "",
        frame,
        sizes,
        edges=edges,
        places=round(figures.get("tabs", 1.0)),
    )


def _along(carrier: PartState, face: int) -> Frame:
    """A frame on a face, ``x`` along its longest straight side, ``z`` into the part that it belongs to."""
    own, regions = kernel.region_of_face(carrier.solid, face)
    best = (0.0, own.x)
    for region in regions:
        for loop in region.loops:
            for a, b in zip(loop, [*loop[1:], loop[0]], strict=True):
                side = math.dist(a, b)
                if side > best[0] + 1e-6:
                    best = side, unit(sub(own.to_world(*b), own.to_world(*a)))
    way = best[1]
    # to the right, to the back or up, whichever way its outline goes round
    first = max(way, key=abs)
    z = scale(carrier.faces[face].normal, -1.0)
    x = way if first > 0 else scale(way, -1.0)
    return Frame(carrier.faces[face].at, x, cross(z, x))


def _spread(carrier: PartState, face: int, frame: Frame) -> tuple[Frame, float, float]:
    """The frame moved to the middle of the face, and how far that goes along ``x`` and ``y``, mm."""
    local = (carrier.mesh.corners_of(face) - np.array(frame.origin)) @ np.array([frame.x, frame.y]).T
    low, high = local.min(axis=0), local.max(axis=0)
    (u, v), (long, broad) = (low + high) / 2, high - low
    return Frame(frame.to_world(float(u), float(v)), frame.x, frame.y), float(long), float(broad)


def _apply(ctx: StepContext) -> StepOutput:
    fields: TabFields = ctx.fields
    carrier, found, host = stands_and_host(ctx, "the tabs stand", "the slots go into")
    assert fields.base is not None
    face = carrier.faces[found]
    frame, length, broad = _spread(carrier, found, _along(carrier, found))
    lying = lying_on(host, face.at, face.normal)
    count, wide, drawn = ctx.whole("tabs", 1, 60, "tabs"), ctx.positive("wide", "The width of the tabs"), ctx.number("drawn")  # fmt: skip
    thick = broad if fields.breadth == "all" else ctx.positive("thick", "The thickness of the tabs")
    if thick > broad + 1e-6:
        raise StepError(f"That end is {broad:.4g} mm thick; the tabs cannot be thicker.", field="thick")
    cell = length / count
    share = OUTER_SHARE[fields.takes]
    outset, inset = share * drawn, (1 - share) * drawn
    most = cell - 2 * max(outset, 0.0) - (WALL_MM if count > 1 else 0.0)
    if wide > most + 1e-9:
        raise StepError(f"So many tabs share {length:.4g} mm: each is {max(0.0, most):.4g} mm wide at most.", field="wide")  # fmt: skip
    tab, slot = (wide - 2 * inset, thick - 2 * inset), (wide + 2 * outset, thick + 2 * outset)
    if min(*tab, *slot) < 0.4:
        raise StepError("The gap leaves nothing of the tabs; make them wider or thicker.", field="wide")
    mill = ctx.number("mill")
    if mill < 0 or mill > min(slot) + 1e-9:
        raise StepError(f"The cutter goes into the slots: 0 to {min(slot):.4g} mm, and 0 mm leaves the corners sharp.", field="mill")  # fmt: skip
    places = [frame.to_world((k + 0.5) * cell - length / 2, 0.0) for k in range(count)]
    spots = [Frame(p, frame.x, frame.y) for p in places]
    depths = _depths(ctx, host, spots)
    _check_room((carrier, found), (host, lying), frame, spots, tab, slot)
    lead, mouth = ctx.number("lead"), ctx.number("mouth")
    shortest = min(long for long, _ in depths)
    if lead < 0 or mouth < 0 or lead + mouth >= shortest - 0.2 or lead >= min(tab) / 2:
        raise StepError("The chamfers at the tabs' ends and the slots' mouths leave nothing of the tabs; make them smaller.", field="lead")  # fmt: skip
    sticks, tools, mates = [], [], []
    for k, (here, (long, deep)) in enumerate(zip(spots, depths, strict=True), 1):
        sticks.append(_tab(here, tab, long, lead, ctx.id, f"tab{k}"))
        tools.append(block_named(here, *slot, -deep, 1.0, ctx.id, f"slot{k}"))
        corners = [(x * slot[0] / 2, y * slot[1] / 2) for x, y in ((1, 1), (1, -1), (-1, 1), (-1, -1))]
        tools += relieved(here, corners, mill, -deep, 1.0, ctx.id, f"relief{k}")
        low, high = -(long - lead), -max(mouth, 0.05) * 1.02
        spare = 0.02 * (high - low)
        mates += _mates(ctx, here, k, slot, mill, (low + spare, high), drawn)
    made = kernel.fuse(carrier.solid, sticks, ctx.id)
    changed = kernel.cut(host.solid, tools, ctx.id)
    if changed.lumps > host.solid.lumps:
        raise StepError("The slots cut that part to pieces; take fewer or smaller tabs.", field="tabs")
    if mouth > 0:
        walls = [f"{ctx.id}/slot{k}({s})" for k in range(1, count + 1) for s in SIDES]
        walls += [f"{ctx.id}/relief{k}({c})" for k in range(1, count + 1) for c in range(1, 5)]
        changed = with_mouth(changed, walls, frame, mouth, ctx.id)
    joint = JointShape(fields.host, fields.base.part, drawn, tuple(mates))
    return StepOutput(parts={fields.base.part: made, fields.host: changed}, joint=joint)


def _depths(ctx: StepContext, host: PartState, spots: list[Frame]) -> list[tuple[float, float]]:
    """How far each tab goes in, and how deep its slot is (as deep as the part is thick, and more, where it goes through)."""
    fields: TabFields = ctx.fields
    out = []
    for here in spots:
        places = kernel.meets_at(host.solid, Axis(here.origin, here.z))
        # of what is met on the way, that whose top is nearest
        spans = list(zip(places[::2], places[1::2], strict=False))
        if not spans:
            raise StepError("No material of that part lies behind all tabs; move the plate, or take another number.", field="host")  # fmt: skip
        low, _ = min(spans, key=lambda s: abs(s[1]))
        if fields.extent == "through":
            out.append((-low, -low + 1.0))
            continue
        long = ctx.positive("long", "The depth")
        if long + RELIEF_MM + WALL_MM > -low:
            most = max(0.0, -low - RELIEF_MM - WALL_MM)
            raise StepError(f"The slots would come out on the far side: {most:.4g} mm is the most, or let the tabs go through.", field="long")  # fmt: skip
        out.append((long, long + RELIEF_MM))
    return out


def _check_room(
    carrier: tuple[PartState, int], host: tuple[PartState, list[int]], frame: Frame, spots: list[Frame], tab: tuple[float, float],
    slot: tuple[float, float],
) -> None:  # fmt: skip
    """Raises StepError where a tab does not stand wholly on its face, or a slot comes too near to the outline of the face that it is in."""
    for (part, faces), size, off, field, words in (
        ((carrier[0], [carrier[1]]), tab, -0.05, "wide", "The tabs would stand beside that face; make them narrower, or take another number."),
        (host, slot, 0.0, "host", f"The slots come nearer than {WALL_MM:g} mm to the outline of that face; move the plate, or make the tabs narrower."),
    ):  # fmt: skip
        x, y = size[0] / 2 + off, size[1] / 2 + off
        corners = np.array([frame.to_local(s.to_world(u * x, v * y))[:2] for s in spots for u in (-1, 0, 1) for v in (-1, 0, 1)])  # fmt: skip
        rooms = rooms_at(part.solid, faces, frame, corners)
        if (rooms < (WALL_MM if field == "host" else 0.0)).any():
            raise StepError(words, field=field)


def _tab(here: Frame, size: tuple[float, float], long: float, lead: float, step: str, word: str) -> kernel.NamedSolid:
    """A tab that goes down from a frame's plane, its end chamfered all round; it begins a little above, in its part."""
    made = block_named(here, *size, -long, INTO_MM, step, word)
    if lead <= 0:
        return made
    return kernel.chamfer(made, made.edges_round(f"{step}/{word}(floor)"), lead, lead, step)


def _mates(
    ctx: StepContext, here: Frame, k: int, slot: tuple[float, float], mill: float, heights: tuple[float, float], drawn: float
) -> list[Mate]:  # fmt: skip
    """How a tab meets its slot: all round; or, between relieved corners, along each direction by itself."""

    def named(word: str, sides: tuple[str, ...]) -> tuple[str, ...]:
        return tuple(f"{ctx.id}/{word}{k}({s})" for s in sides)

    half = (slot[0] / 2 + 1.0, slot[1] / 2 + 1.0)
    whole = Mate(
        outer=named("slot", SIDES), inner=named("tab", SIDES), frame=here, low_mm=heights[0], high_mm=heights[1], sizes_mm=slot, reach_mm=abs(drawn) + 0.5,
        window_mm=((0.0, 0.0), half), seated=True,
    )  # fmt: skip
    if mill <= 0:
        return [whole]
    # a circle through a corner, set in along the diagonal, takes so much of each side
    taken = mill / 2 * (1 + math.sqrt(0.5))
    out = []
    ways: tuple[tuple[Literal["x", "y"], int, tuple[str, ...]], ...] = (("x", 1, SIDES[:2]), ("y", 0, SIDES[2:]))
    for along, own, sides in ways:
        left = slot[own] / 2 - taken - 0.05
        if 2 * left < COUNTS_MM:
            continue
        window = ((0.0, 0.0), (half[0], left) if along == "x" else (left, half[1]))
        out.append(replace(whole, outer=named("slot", sides), inner=named("tab", sides), along=along, window_mm=window))
    if not out:
        raise StepError("The relieved corners leave nothing of the slots' sides; take a thinner cutter, or larger tabs.", field="mill")  # fmt: skip
    return out


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    """How deep the tabs are held, how many there are, and how wide and thick they are, mm."""
    mate = shape.mates[0]
    wide, thick = mate.sizes_mm
    return {"held": (mate.high_mm - mate.low_mm) / 0.98, "tabs": float(len({m.frame for m in shape.mates})), "wide": wide, "thick": thick}  # fmt: skip


def _works(draws: Draws) -> Working:
    """How far the plate leans and shifts, and what shears its tabs off."""
    facts, inner = draws.facts, draws.inner
    play = 2 * np.maximum(draws.gap_mm, 0.0)
    held = facts["held"]
    lean = np.degrees(np.arctan2(play, held))
    # printed with the tabs upright, their layers lie across them and are sheared apart
    layers = 1 - (1 - ACROSS_LAYERS) * inner.upright if inner.material.plastic else 1.0
    area = facts["tabs"] * facts["wide"] * facts["thick"]
    sheared = SHEARED * area * inner.strength_mpa * layers
    results = (
        Result("the plate leans by", lean, "°", note="where nothing else holds it"),
        Result("it shifts by", play, "mm", note="from side to side"),
        Result("force until the tabs shear off", sheared, "N", note="between two layers" if layers < 0.75 else "once"),
    )  # fmt: skip
    givens = (
        Given("tabs", facts["tabs"], ""), Given("width and thickness of a slot", facts["wide"], "mm", f"by {facts['thick']:.4g} mm"),
        Given("its sides hold over", held, "mm", "read on the solids"),
    )  # fmt: skip
    across = np.linspace(0.0, max(0.4, 2 * float(draws.gap_mm[0])), 9)
    points = tuple((float(g), math.degrees(math.atan2(2 * float(g), held))) for g in across)
    plot = Plot("gap, mm a side", "leans by, °", points, None, (float(draws.gap_mm[0]), float(lean[0])))
    return Working("Tabs", givens, results, (plot,), "By the gap to each side and how deep the tabs are held; that the plate's end lies on the other part is not counted.")  # fmt: skip


_BY, _THICK = {"extent": ["by"]}, {"breadth": ["by"]}
register_joint(
    JointFamily(
        step=StepKind(
            kind="tab",
            title="Tabs and slots",
            group="join",
            about="Tabs at the end of a plate that go into slots of the part it stands on.",
            fields=TabFields,
            specs=(
                FieldSpec("base", "face", "end that the tabs stand on", missing="the end of the plate with the tabs"),
                FieldSpec("host", "part", "part with the slots", missing="the part with the slots"),
                FieldSpec("tabs", "number", "how many tabs", "2"),
                FieldSpec("wide", "length", "width of a tab", "12 mm"),
                FieldSpec(
                    "breadth",
                    "choice",
                    "how thick they are",
                    "all",
                    (Choice("all", "as thick as the plate"), Choice("by", "thick by")),
                ),
                FieldSpec("thick", "length", "thickness of the tabs", "3 mm"),
                FieldSpec(
                    "extent",
                    "choice",
                    "how far they go in",
                    "through",
                    (Choice("through", "right through"), Choice("by", "in by")),
                ),
                FieldSpec("long", "length", "how far they go in", "6 mm"),
                FieldSpec("lead", "length", "chamfer at the tabs' ends", "0.6 mm"),
                FieldSpec("mouth", "length", "chamfer at the slots' mouths", "0.3 mm"),
                FieldSpec("mill", "length", "cutter that makes the slots (0: sharp corners)", "0 mm"),
                *fit_specs("the tabs", "the slots", ISO, takes="outer"),
                ZONES_SPEC,
            ),
            sentence=said(
                "Join by ",
                "{tabs}",
                " tabs on ",
                "{base}",
                ", each ",
                "{wide}",
                " wide and ",
                "{breadth}",
                (" ", _THICK),
                ("{thick}", _THICK),
                ", that go ",
                "{extent}",
                (" ", _BY),
                ("{long}", _BY),
                " into ",
                "{host}",
                ", lead-in ",
                "{lead}",
                ", mouths ",
                "{mouth}",
                *wanted("relief for a milling cutter", ", slots made by a cutter Ø ", "{mill}"),
                "; ",
                *ISO_FIT_SAID,
                "; a change of the gap lands on ",
                "{takes}",
            ),
            apply=_apply,
            begin=other_half("base"),
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="finger box board plate tenon mortise plywood tongue",
        ),
        outer="slots",
        inner="tabs",
        meeting=_meeting,
        wanted=iso_or_wanted("wide"),
        goes_in="All tabs go in",
        holds="without too much play",
        facts=_facts,
        works=_works,
    )
)
