"""Fastener: a screw that is there (from the shelf, say) fastens parts: holes through those it holds, room for its head, and what its end turns into.

The screw stands where it is to be; everything is cut round it, so that all holes lie in one line and follow it. Holes are those of ISO 273, as the printed pieces should
have them: what the printer takes is added, as for every joint. The gap is that between the screw and the hole in the part under its head, on diameter.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from .. import solid as kernel
from ..calculators.materials import ACROSS_LAYERS
from ..calculators.screws import insert_pull_n, nut_strip_mm2
from ..document import Project, Step, StepFields
from ..document.compiled import compiled_step
from ..document.picks import FlatFace, Pick
from ..errors import StepError
from ..fits import Wanted
from ..quantities.markers import Length, PartMark
from ..quantities.screws import SCREWS, ScrewFit
from ..quantities.threads import COARSE_PITCH_MM
from ..recipe import (
    Choice,
    FieldSpec,
    JointShape,
    Mate,
    PartState,
    Reach,
    StepContext,
    StepKind,
    StepOutput,
    each,
    said,
)
from ..shelf import thing_of
from ..solid import Axis, Frame, Vec3
from ..solid.frame import add, box_corners, cross, dot, length, scale, sub, unit
from .family import BedEdge, JointFamily, Meeting, Per, another, drawn_figures, register_joint, stands_on
from .rounds import diameter_mm, extent_along, ring_of, round_pick, span_along
from .working import Draws, Given, Result, Working

__all__ = ["FastenerFields"]

#: PRACTICE: a screw that cuts its own thread into plastic takes a hole of this share of its diameter
SELF_SHARE = 0.85
#: PRACTICE: turns into plastic hold when they are this many diameters long; into a nut or an insert their own length does
LONG_ENOUGH = 1.5
#: PRACTICE: a boss round a thread in plastic is twice the screw's diameter wide
BOSS_SHARE = 2.0
#: a blind hole goes this much deeper than what is in it, mm
DEEPER_MM = 1.0
#: a screw lies in a part with so much of its shank at least, mm
LIES_MM = 0.1
#: a shank counts as of a metric size within this, mm
SIZE_MM = 0.12


class AlsoHeld(Pick):
    """A further part that the screw holds."""

    part: Annotated[str, PartMark("changes"), Field(max_length=40)]


class FastenerFields(StepFields):
    """``screw`` is the round side of its shank, ``host`` the part under its head, ``into`` the last one. ``head`` is the room round its head, ``edge`` the chamfer
    where a hole comes out of a part that is held: what the first layers stand out there."""

    screw: FlatFace | None = None
    host: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    also: Annotated[list[AlsoHeld], Field(max_length=20)] = []
    into: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    end: Literal["self", "tapped", "insert", "nut", "through"] = "self"
    nut: FlatFace | None = None
    enters: Literal["below", "left", "right"] = "below"
    holes: ScrewFit = "medium"
    head: Length = "0.3 mm"
    edge: Length = "0.4 mm"
    #: a screw's hole is always that which takes the gap
    takes: Literal["outer"] = "outer"


def _size_of(diameter_mm: float) -> str | None:
    return next((name for name in SCREWS if abs(float(name[1:]) - diameter_mm) < SIZE_MM), None)


def _wanted(fields: FastenerFields, figures: Mapping[str, float]) -> Wanted:
    """Half of what a clearance hole by ISO 273 is wider than its screw; PRACTICE: from a third of it to as much again and 0.2 mm."""
    size = _size_of(figures.get("screw") or _seen_mm(fields)) or "M4"
    room = (SCREWS[size].clear_mm[fields.holes] - float(size[1:])) / 2
    return Wanted(room / 3, room, 2 * room + 0.2).checked()


def _seen_mm(fields: FastenerFields) -> float:
    return diameter_mm(None, fields.screw, "screw")


def _prepare(project: Project, step: Step, figures: dict[str, float], ctx: StepContext | None) -> dict[str, float]:
    """The screw's diameter as it stands, not as it was seen when it was picked, and the gap to draw with it."""
    fields: FastenerFields = compiled_step(step).fields  # type: ignore[assignment]
    known = {"screw": diameter_mm(ctx, fields.screw, "screw")}
    return {**known, **drawn_figures(project, step, {**figures, **known}, ctx)}


def _per(fields: FastenerFields) -> Per:
    return "diameter"


def _meeting(fields: FastenerFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    pick, frame, size = fields.screw, None, _seen_mm(fields)
    seen = pick.face.seen if pick is not None else None
    along: Vec3 | None = seen.axis if seen is not None and length(seen.axis) > 0.5 else None
    if pick is not None and ctx is not None:
        part, index = ctx.faces_named(pick, "screw")
        found = kernel.round_face(part.solid, index)
        if found is not None:
            along, size = found.axis.direction, 2 * found.radius_mm
    if along is not None:
        frame = Frame.on_plane((0.0, 0.0, 0.0), along)
    return Meeting(fields.host, pick.part if pick is not None else "", frame, (size, size), round_hole=True, edges=(BedEdge(True, "the screw's hole", figures.get("edge", 0.0), False),))  # fmt: skip


# ---- the screw -------------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class _Screw:
    """A screw as it stands: a frame whose origin is where its shank begins under the head and whose ``z`` points to the head; radii and lengths in mm."""

    size: str
    frame: Frame
    radius: float
    shank: float
    head_radius: float
    head_high: float
    sunk: bool


def _screw(ctx: StepContext) -> _Screw:
    part, _, face = round_pick(ctx, ctx.fields.screw, "screw", hollow=False)
    size = _size_of(2 * face.radius_mm)
    if size is None:
        raise StepError(f"What is picked has Ø {2 * face.radius_mm:.4g} mm, which is no metric screw; pick the shank of one.", field="screw")  # fmt: skip
    axis = face.axis.upward()
    low, high = span_along(face, axis)
    bottom, top = extent_along(part, axis.frame_at(0.0, turned=False))
    headed_up = top - high >= low - bottom
    frame = axis.frame_at(high if headed_up else low, turned=not headed_up)
    high_of_head = max(top - high, low - bottom)
    if high_of_head < 0.1:
        raise StepError("What is picked has no head; pick the shank of a screw.", field="screw")
    local = np.array([frame.to_local(tuple(p)) for p in part.mesh.positions])
    head = local[local[:, 2] > 0.05]
    at_foot = local[np.abs(local[:, 2]) < 1e-3]
    wide = float(np.hypot(head[:, 0], head[:, 1]).max())
    # a head that begins as narrow as its shank is a sunk one
    sunk = not len(at_foot) or float(np.hypot(at_foot[:, 0], at_foot[:, 1]).max()) < face.radius_mm + 0.05
    return _Screw(size, frame, face.radius_mm, high - low, wide, high_of_head, sunk)


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: FastenerFields = ctx.fields
    screw = _screw(ctx)
    assert fields.screw is not None
    held = [(fields.host, "host"), *((a.part, f"also.{k}.part") for k, a in enumerate(fields.also))]
    everyone = [*held, (fields.into, "into")]
    names = [p for p, _ in everyone]
    for part, field in everyone:
        if part == fields.screw.part:
            raise StepError("The screw itself is not a part that it holds.", field=field)
        if names.count(part) > 1:
            raise StepError("A part stands here twice; take one of them out.", field=field)
    gap = ctx.number("drawn")
    made: dict[str, kernel.NamedSolid] = {}
    first = (0.0, 0.0)
    for k, (part, field) in enumerate(held):
        solid = ctx.part(part, field).solid
        stretch = _stretch(solid, screw, gap)
        if stretch is None:
            raise StepError("The screw does not go through that part; move one of them, or take another part.", field=field)  # fmt: skip
        if k == 0:
            first = stretch
        made[part] = kernel.cut(solid, [_hole(ctx, solid, screw, gap, stretch, k == 0)], ctx.id)
    last = ctx.part(fields.into, "into").solid
    stretch = _stretch(last, screw, gap)
    if stretch is None:
        raise StepError("The screw does not reach into that part; take a longer one, or move it.", field="into")
    made[fields.into] = kernel.cut(last, _end(ctx, last, screw, gap, stretch), ctx.id)
    low, high = max(first[0] + 1.02 * ctx.number("edge"), -screw.shank), min(first[1], 0.0)
    if high - low < 0.2:
        raise StepError("The shank does not lie in the part under the head; move the screw in.", field="host")
    spare = 0.02 * (high - low)
    size = 2 * (screw.radius + gap)
    mate = Mate(
        outer=(f"{ctx.id}/hole",), inner=(fields.screw.face.name,), frame=screw.frame, low_mm=low + spare, high_mm=high - spare, sizes_mm=(size, size),
        round_hole=True, seated=True,
    )  # fmt: skip
    cut = (fields.into,) if fields.end in ("self", "tapped") else ()
    note = _note(ctx, made[fields.into], screw, stretch)
    joint = JointShape(fields.host, fields.screw.part, gap, (mate,), cut, reached=_reached(ctx, screw, tuple(names)))
    return StepOutput(parts=made, joint=joint, note=note)


def _reached(ctx: StepContext, screw: _Screw, past: tuple[str, ...]) -> tuple[Reach, ...]:
    """Its head by a driver, along the screw; and a nut by the way that its pocket opens."""
    fields: FastenerFields = ctx.fields
    out = [Reach("the head", screw.frame.shifted(screw.head_high), screw.head_radius, past)]
    if fields.end == "nut" and fields.nut is not None:
        nut, picked = ctx.faces_named(fields.nut, "nut")
        low, high = extent_along(nut, screw.frame)
        if fields.enters == "below":
            way, at = scale(screw.frame.z, -1.0), screw.frame.shifted(low).origin
        else:
            way = _side_way(ctx, screw, nut, picked)
            at = screw.frame.shifted((low + high) / 2).origin
        out.append(Reach("the nut", Frame.on_plane(at, way), (high - low) / 2, past))
    return tuple(out)


def _note(ctx: StepContext, last: kernel.NamedSolid, screw: _Screw, stretch: tuple[float, float]) -> str:
    """What is short or thin at the screw's end, in a sentence. The bosses are PRACTICE."""
    fields: FastenerFields = ctx.fields
    d = 2 * screw.radius
    mouth, tip = stretch[1], -screw.shank
    enters = mouth - max(tip, stretch[0])
    if fields.end == "nut" and fields.nut is not None:
        nut, _ = ctx.faces_named(fields.nut, "nut")
        if tip > extent_along(nut, screw.frame)[0] + 1e-4:
            return "The screw ends within its nut; take a longer one."
        return ""
    wanted = {"self": LONG_ENOUGH * d, "tapped": LONG_ENOUGH * d, "insert": d}.get(fields.end, 0.0)
    if enters < wanted - 1e-6:
        return f"Only {max(enters, 0.0):.3g} mm of the screw are in that part; {wanted:.3g} mm hold."
    if fields.end not in ("self", "tapped", "insert"):
        return ""
    boss = _insert(screw)["boss"] if fields.end == "insert" else BOSS_SHARE * d
    found = [i for i in last.find(f"{ctx.id}/bore") if kernel.round_face(last, i) is not None]
    if not found:
        return ""
    bore = kernel.round_face(last, found[0])
    assert bore is not None
    heights = [mouth - share * min(enters, 2 * d) for share in (0.4, 0.9)]
    round_it = [p for h in heights for p in ring_of(screw.frame, bore.radius_mm, h, 16)]
    thin = kernel.least_thickness(last, [(at, scale(out, -1.0)) for at, out in round_it])
    needs = boss / 2 - bore.radius_mm
    if thin is not None and thin < needs - 1e-3:
        return f"The wall round it is {thin:.2g} mm at its thinnest; {needs:.2g} mm are usual, or it bursts."
    return ""


def _stretch(solid: kernel.NamedSolid, screw: _Screw, gap: float) -> tuple[float, float] | None:
    """Where the shank, or the room just round it, is in the material of a part: from, to, over the head's underside; ``None`` where it is nowhere."""
    found = []
    for at, _ in [(screw.frame.origin, None), *ring_of(screw.frame, screw.radius + gap + 0.3, 0.0, 8)]:
        places = kernel.meets_at(solid, Axis(at, screw.frame.z))
        for low, high in zip(places[::2], places[1::2], strict=False):
            if low < screw.head_high and high > -screw.shank - 1e-6:
                found.append((low, high))
    if not found:
        return None
    # what lies farther down than the screw is another wall of the same part
    return min(low for low, _ in found), max(high for _, high in found)


def _hole(
    ctx: StepContext, solid: kernel.NamedSolid, screw: _Screw, gap: float, stretch: tuple[float, float], first: bool
) -> kernel.NamedSolid:
    """The hole through a part that is held, chamfered where it comes out; in the first one with the room for the head, and out to where a driver comes from."""
    room, edge = ctx.number("head"), ctx.number("edge")
    for name, figure, what in (("head", room, "The room round the head"), ("edge", edge, "The chamfer")):
        if figure < 0:
            raise StepError(f"{what} is zero or more.", field=name)
    low, upper, narrow = stretch[0], min(stretch[1], 0.0), screw.radius + gap
    if edge >= upper - low:
        raise StepError("The chamfer goes through the whole part; make it smaller.", field="edge")
    foot = [(0.0, low - 0.5), (narrow + edge, low - 0.5), (narrow + edge, low), (narrow, low + edge)] if edge > 0 else [(0.0, low - 0.5), (narrow, low - 0.5)]  # fmt: skip
    names = ["foot", "below", "edge", "hole"] if edge > 0 else ["foot", "hole"]
    taken = gap - _wanted(ctx.fields, ctx.figures).target_mm
    wide = screw.head_radius + room + taken
    out = max(stretch[1], kernel.prism_extent([solid], screw.frame)[1]) + 1.0
    if not first or stretch[1] <= 1e-6:
        top = stretch[1] + 0.5
        places, more = [(narrow, top), (0.0, top)], ["lid", "middle"]
    elif screw.sunk:
        # the printed cone is the head's own, so that it sits on it; the drawn one is wider by what the printer takes
        steep = screw.head_high / (screw.head_radius - screw.radius)
        begins = (narrow - screw.radius - taken) * steep
        places = [(narrow, begins), (wide, begins + (wide - narrow) * steep), (wide, out), (0.0, out)]
        more = ["sink", "access", "lid", "middle"]
    else:
        places, more = [(narrow, 0.0), (wide, 0.0), (wide, out), (0.0, out)], ["seat", "access", "lid", "middle"]
    return kernel.lathed(screw.frame, [*foot, *places], [*names, *more], ctx.id)


def _end(
    ctx: StepContext, solid: kernel.NamedSolid, screw: _Screw, gap: float, stretch: tuple[float, float]
) -> list[kernel.NamedSolid]:
    """What the screw's end goes into: a bore to cut or tap a thread in, one for an insert, a hole with a pocket for a nut, or just a hole."""
    fields: FastenerFields = ctx.fields
    frame, upper = screw.frame, stretch[1] + 0.5
    tip = -screw.shank - DEEPER_MM
    # what the printer takes of one hole it takes of all
    taken = gap - _wanted(fields, ctx.figures).target_mm
    deep = max(tip, stretch[0] - 0.5)
    if fields.end in ("self", "tapped"):
        diameter = SELF_SHARE * 2 * screw.radius if fields.end == "self" else SCREWS[screw.size].tap_mm
        return [kernel.bar(frame, diameter / 2 + taken, deep, upper, ctx.id, "bore")]
    if fields.end == "through":
        return [kernel.bar(frame, screw.radius + gap, stretch[0] - 0.5, upper, ctx.id, "hole")]
    hole = kernel.bar(frame, screw.radius + gap, deep, upper, ctx.id, "hole")
    if fields.end == "insert":
        insert = _insert(screw)
        floor = stretch[1] - insert["high"] - DEEPER_MM
        wide = insert["bore_for_it"] / 2 + taken
        mouth = stretch[1]
        places = [(0.0, floor), (wide, floor), (wide, mouth - 0.6), (wide + 0.6, mouth), (wide + 0.6, mouth + 0.5), (0.0, mouth + 0.5)]  # fmt: skip
        seat = kernel.lathed(frame, places, ["floor", "bore", "lead", "over", "lid", "middle"], ctx.id)
        return [seat, hole] if tip < floor else [seat]
    return [hole, _nut_pocket(ctx, solid, screw, taken)]


def _insert(screw: _Screw) -> Mapping[str, float]:
    try:
        return thing_of("heat-set insert", screw.size).figures
    except KeyError:
        raise StepError(f"There is no heat-set insert for {screw.size}; take a nut, or another screw.", field="end") from None  # fmt: skip


def _nut_pocket(ctx: StepContext, solid: kernel.NamedSolid, screw: _Screw, taken: float) -> kernel.NamedSolid:
    """A pocket round the nut as it stands, open along the screw or to one side, point first."""
    fields: FastenerFields = ctx.fields
    if fields.nut is None:
        raise StepError("Pick a side of the nut.", field="nut")
    nut, picked = ctx.faces_named(fields.nut, "nut")
    sides, face = _nut_side(screw, nut, picked)
    away = dot(sub(face.at, screw.frame.origin), face.normal)
    centre = _middle_of(sides)
    off = sub(centre, screw.frame.origin)
    if length(sub(off, scale(screw.frame.z, dot(off, screw.frame.z)))) > 0.2:
        raise StepError("The nut does not stand in line with the screw; move one of them.", field="nut")
    room = ctx.number("head")
    flats = 2 * (away + room / 2 + taken)
    low, high = extent_along(nut, screw.frame)
    bottom = kernel.prism_extent([solid], screw.frame)[0]
    turned = _by_flat(screw, face.normal)
    if fields.enters == "below":
        hexagon = kernel.prism_across_flats(
            _flat_up(turned).shifted(bottom - 1.0), 6, flats, high - bottom + 1.0, ctx.id
        )
        return _named(hexagon, ctx.id)
    way = _side_way(ctx, screw, nut, picked)
    far = max(dot(sub(p, screw.frame.origin), way) for p in _corners(solid)) + 1.0
    plane = _flat_up(turned).shifted(low - room / 2)
    hexagon = kernel.prism_across_flats(plane, 6, flats, high - low + room / 2, ctx.id)
    slot = kernel.block(
        Frame(add(plane.origin, scale(way, far / 2)), way, cross(screw.frame.z, way)), far, flats, high - low + room / 2, ctx.id
    )  # fmt: skip
    return _named(kernel.fuse(hexagon, [slot.renamed(lambda n: n.replace("/side(", "/slot("))], ctx.id), ctx.id)


def _nut_side(screw: _Screw, nut: PartState, picked: int) -> tuple[list[kernel.FaceInfo], kernel.FaceInfo]:
    """The sides of a nut, and the one that was picked, or the first where that is none."""
    sides = [f for f in nut.faces if f.kind == "plane" and abs(dot(f.normal, screw.frame.z)) < 1e-3]
    if len(sides) < 6:
        raise StepError("What is picked is no hexagon nut; pick a side of one.", field="nut")
    return sides, nut.faces[picked] if nut.faces[picked] in sides else sides[0]


def _by_flat(screw: _Screw, normal: Vec3) -> Frame:
    x = unit(normal)
    return Frame(screw.frame.origin, x, cross(screw.frame.z, x))


def _side_way(ctx: StepContext, screw: _Screw, nut: PartState, picked: int) -> Vec3:
    """Which way a pocket opens whose nut comes in from the side."""
    y = _by_flat(screw, _nut_side(screw, nut, picked)[1].normal).y
    return y if ctx.fields.enters == "left" else scale(y, -1.0)


def _named(pocket: kernel.NamedSolid, step: str) -> kernel.NamedSolid:
    return pocket.renamed(lambda n: n.replace(f"{step}/side(", f"{step}/nut(").replace(f"{step}/end", f"{step}/nut(seat)").replace(f"{step}/start", f"{step}/nut(foot)"))  # fmt: skip


def _flat_up(frame: Frame) -> Frame:
    """So turned that one of a hexagon's flats faces along the given frame's ``x`` (they face along a prism's ``y``)."""
    return Frame(frame.origin, scale(frame.y, -1.0), frame.x)


def _middle_of(sides: list[kernel.FaceInfo]) -> Vec3:
    n = len(sides)
    return (sum(f.at[0] for f in sides) / n, sum(f.at[1] for f in sides) / n, sum(f.at[2] for f in sides) / n)


def _corners(solid: kernel.NamedSolid) -> list[Vec3]:
    return box_corners(*kernel.bounds(solid.shape))


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    """The screw's diameter and how much of its shank lies in the part under its head, mm."""
    mate = shape.mates[0]
    return {"held": (mate.high_mm - mate.low_mm) / 0.96, "hole": mate.sizes_mm[0]}


def _works(draws: Draws) -> Working | None:
    """How deep the screw goes into plastic, and what pulls it out there."""
    fields: FastenerFields = draws.fields
    size = _size_of(draws.figures.get("screw") or _seen_mm(fields))
    if size is None:
        return None
    d, plastic = float(size[1:]), draws.outer
    pitch = COARSE_PITCH_MM[d]
    weakened = ACROSS_LAYERS * plastic.upright + 1 - plastic.upright if plastic.material.plastic else 1.0
    shear = 0.577 * plastic.strength_mpa * weakened
    givens = [Given("screw", d, "mm"), Given("its pitch", pitch, "mm"), Given("length in the part under its head", draws.facts["held"], "mm")]  # fmt: skip
    results = [Result("hole under the head", 2 * draws.gap_mm + d, "mm", note="as printed")]
    if fields.end in ("self", "tapped"):
        long = LONG_ENOUGH * d
        share = SELF_SHARE * d if fields.end == "self" else SCREWS[size].tap_mm
        # the thread is as deep as the bore is narrower than the screw
        pull = nut_strip_mm2(long, pitch, d, d - 0.65 * pitch) * shear * min(1.0, (d - share) / (1.0825 * pitch))
        results.append(Result(f"force that strips {LONG_ENOUGH:g} diameters of thread", pull, "N", note="in proportion to how deep it goes"))  # fmt: skip
        results.append(Result("boss round it at least", np.full_like(draws.gap_mm, BOSS_SHARE * d), "mm", note="across; practice"))  # fmt: skip
    if fields.end == "insert":
        try:
            insert = thing_of("heat-set insert", size).figures
        except KeyError:
            return None
        pull = np.array([insert_pull_n(insert["across"], insert["high"], float(t)) for t in shear])
        results.append(Result("force that pulls the insert out, at most", pull, "N"))
        results.append(Result("boss round it at least", np.full_like(draws.gap_mm, insert["boss"]), "mm", note="across; practice, the maker's sheet counts"))  # fmt: skip
    return Working(
        "Screw", tuple(givens), tuple(results), (),
        "Holes by ISO 273; stripping at the screw's major diameter, shear at 0.577 of the tensile strength. Bosses and inserts are practice, not a standard.",
    )  # fmt: skip


def _begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """Under its head is most likely what the screw was put on, and it turns into another part; before it is picked, nobody knows either."""
    if not answered:
        return {"host": "", "into": ""}
    screw = fields.get("screw")
    if answered != "screw" or not isinstance(screw, Mapping):
        return {}
    bought = str(screw.get("part"))
    host = fields.get("host") or stands_on(project, bought) or another(project, bought, str(fields.get("into")))
    into = fields.get("into") or another(project, str(host), bought)
    return {k: v for k, v in (("host", host), ("into", into)) if v and v != fields.get(k)}


def _suggest(project: Project, ctx: StepContext, answered: str) -> dict[str, Any]:
    """The parts that the screw lies in, as it comes through them: under its head, those between, and the last, which it turns into."""
    fields: FastenerFields = ctx.fields
    if answered != "screw" or fields.screw is None:
        return {}
    screw = _screw(ctx)
    lies = []
    for part in project.parts:
        if part.id == fields.screw.part or part.role in ("bought", "reference") or not ctx.has_part(part.id):
            continue
        stretch = _stretch(ctx.part(part.id).solid, screw, 0.0)
        if stretch is not None and min(stretch[1], 0.0) - max(stretch[0], -screw.shank) > LIES_MM:
            lies.append((stretch[1], part.id))
    if not lies:
        return {}
    first, *between = [part for _, part in sorted(lies, reverse=True)]
    return {"host": first, "also": [{"part": p} for p in between[:-1]], "into": between[-1] if between else ""}


_NUT = {"end": ["nut"]}
register_joint(
    JointFamily(
        step=StepKind(
            kind="fastener",
            title="Fastener",
            group="join",
            about="A screw through all the parts it holds: holes, room for its head, and what it turns into.",
            fields=FastenerFields,
            specs=(
                FieldSpec("screw", "shaft", "shank of the screw", missing="the shank of a screw"),
                FieldSpec("host", "part", "part under the head", missing="the part under its head"),
                FieldSpec(
                    "also",
                    "clauses",
                    "another part that it goes through",
                    [],
                    specs=(FieldSpec("part", "part", "part", missing="a part"),),
                ),
                FieldSpec("into", "part", "part that it turns into", missing="the last part"),
                FieldSpec(
                    "end",
                    "choice",
                    "what it turns into",
                    "self",
                    (
                        Choice("self", "where it cuts its own thread"),
                        Choice("tapped", "a hole to be tapped"),
                        Choice("insert", "a heat-set insert"),
                        Choice("nut", "a nut"),
                        Choice("through", "a plain hole"),
                    ),
                ),
                FieldSpec("nut", "face", "side of the nut", missing="a side of the nut"),
                FieldSpec(
                    "enters",
                    "choice",
                    "from where the nut comes",
                    "below",
                    (
                        Choice("below", "coming from below"),
                        Choice("left", "coming from its left"),
                        Choice("right", "coming from its right"),
                    ),
                ),
                FieldSpec(
                    "holes",
                    "choice",
                    "how wide the holes are",
                    "medium",
                    (
                        Choice("fine", "close (ISO 273 fine)"),
                        Choice("medium", "medium (ISO 273)"),
                        Choice("coarse", "loose (ISO 273 coarse)"),
                    ),
                ),
                FieldSpec("head", "length", "room round head and nut", "0.3 mm"),
                FieldSpec("edge", "length", "chamfer where holes come out", "0.4 mm"),
                FieldSpec(
                    "takes", "choice", "which half takes a change of the gap", "outer", (Choice("outer", "the holes"),)
                ),
            ),
            sentence=said(
                "Fasten ",
                "{host}",
                each("also", ", ", "{part}"),
                " with ",
                "{screw}",
                " to ",
                "{into}",
                ", ",
                "{end}",
                (" ", _NUT),
                ("{nut}", _NUT),
                (" ", _NUT),
                ("{enters}", _NUT),
                "; holes ",
                "{holes}",
                ", ",
                "{head}",
                " room round its head, edges ",
                "{edge}",
            ),
            apply=_apply,
            begin=_begin,
            suggest=_suggest,
            prepare=_prepare,
            # a face is mostly pointed at for something simpler
            suits=("plane", "part", "face"),
            words="screw bolt nut insert boss clearance counterbore countersink tap",
        ),
        outer="hole",
        inner="screw",
        meeting=_meeting,
        comes="turned",
        wanted=_wanted,
        goes_in="The screw goes through",
        holds="without too much play",
        per=_per,
        facts=_facts,
        works=_works,
    )
)
