"""Shaped shaft: one that takes its hole along when it turns: square, hexagonal, or round with one or two flats.

Either the shaft is made by the joint and stands on a face, or it is there (a bought switch's, say) and the hole goes round its outline, whatever that is, read half way
of what goes in, so that a chamfered end does not matter. The hole is the outline set off by the gap, square to each side, corners kept sharp.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from .. import solid as kernel
from ..document import Project
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Angle, Changed, Length, PartMark
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, said
from ..solid import Arc, Axis, Curve, Frame, Line
from ..solid.frame import dot, scale
from ..solid.outline import Vec2
from .family import (
    OUTER_SHARE,
    BedEdge,
    JointFamily,
    Meeting,
    another,
    drawn_figures,
    fit_specs,
    register_joint,
    stands_on,
)
from .flats import stands_and_host
from .iso_fit import ISO, ISO_FIT_SAID, ZONES_SPEC, IsoFitFields, iso_or_wanted
from .mating import facing
from .working import Array, Draws, Given, Plot, Result, Working

__all__ = ["ShapedShaftFields"]

#: what grows together goes this far into each other, mm
INTO_MM = 0.2
#: how far a hole goes beyond the end of its shaft, mm
RELIEF_MM = 0.5
#: what stays of a wall round the hole and over it, mm
WALL_MM = 0.8
#: PRACTICE: sides that reach less over the hole's flats round themselves off and turn, mm
LEAST_OVER_MM = 0.15


class ShapedShaftFields(IsoFitFields):
    """``base`` is the face that a new shaft stands on, or the end of the one that is there. ``across`` is its diameter, of a square or hexagon from flat to opposite
    flat; ``over`` what a caliper reads over a flat: to the round side opposite, or to the other flat."""

    halves: Literal["new", "there"] = "new"
    base: Annotated[FlatFace | None, Changed()] = None
    shape: Literal["flat", "flats", "square", "hexagon"] = "flat"
    across: Length = "6 mm"
    over: Length = "4.5 mm"
    long: Length = "12 mm"
    right: Length = "0 mm"
    up: Length = "0 mm"
    turn: Angle = "0 deg"
    lead: Length = "0.5 mm"
    host: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    extent: Literal["blind", "through"] = "blind"
    mouth: Length = "0.4 mm"


def _meeting(fields: ShapedShaftFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    pick, frame = fields.base, None
    normal = facing(ctx, pick, "base")
    if normal is not None:
        # out of the hole is back to the face that the shaft stands on
        frame = Frame.on_plane((0.0, 0.0, 0.0), scale(normal, -1.0))
    size = figures.get("across", 0.0) if fields.halves == "new" else 0.0
    edges = (
        BedEdge(True, "the mouth of the hole", figures.get("mouth", 0.0), True),
        BedEdge(False, "the end of the shaft", figures.get("lead", 0.0), False),
    )
    return Meeting(fields.host, pick.part if pick is not None else "", frame, (size, size), edges=edges)


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: ShapedShaftFields = ctx.fields
    stands = "the shaft stands" if fields.halves == "new" else "the shaft ends"
    carrier, found, host = stands_and_host(ctx, stands, "the hole goes into")
    assert fields.base is not None
    face, drawn = carrier.faces[found], ctx.number("drawn")
    new = fields.halves == "new"
    share = OUTER_SHARE[fields.takes] if new else 1.0
    if new:
        plane = Frame.on_plane(face.at, face.normal)
        u, v, _ = plane.to_local(face.at)
        long = ctx.positive("long", "The shaft")
        tip = plane.placed(u + ctx.number("right"), v + ctx.number("up"), ctx.number("turn")).shifted(long)
        region = _drawn(ctx)
    else:
        tip, region, long = _outline_there(ctx, carrier, host, face.at, face.normal)
    middle = region.centre if not new else (0.0, 0.0)
    entry, beyond = _stretch(host, tip, middle)
    deep = drawn * share + RELIEF_MM
    if fields.extent == "blind" and beyond < deep + WALL_MM:
        where = f"the shaft ends {beyond:.3g} mm before it" if beyond > 1e-3 else "the shaft comes out there, or ends level with it"  # fmt: skip
        raise StepError(f"The hole would come out on the far side: {where}. Let it go through, or make that part thicker.", field="extent")  # fmt: skip
    stop = beyond + 1.0 if fields.extent == "through" else deep
    engaged = min(-entry, long) + min(0.0, beyond)
    lead, mouth = ctx.number("lead") if new else 0.0, ctx.number("mouth")
    if lead < 0 or mouth < 0 or lead + mouth >= engaged - 0.2:
        raise StepError(f"The chamfers are zero or more, and leave something of the {engaged:.3g} mm that go in.", field="lead" if lead > mouth else "mouth")  # fmt: skip
    wide = kernel.region_set_in(region, -share * drawn) if abs(share * drawn) > 1e-9 else region
    _walled(host, tip, wide, entry)
    hole = kernel.prism(wide, tip, entry - 1.0, stop, ctx.id, check=False).renamed(lambda n: _named(n, ctx.id, "hole"))
    changed = kernel.cut(host.solid, [hole], ctx.id)
    sides = _those(changed, f"{ctx.id}/hole(")
    frame = Frame(tip.to_world(*middle, entry), tip.x, scale(tip.y, -1.0))
    if mouth > 0:
        changed = _mouthed(changed, sides, frame, mouth, ctx.id)
    parts = {fields.host: changed}
    if new:
        parts[fields.base.part] = _stood(ctx, carrier, region, tip, (1 - share) * drawn, long, lead)
        inner = _those(parts[fields.base.part], f"{ctx.id}/shaft(")
    else:
        inner = _round_about(carrier, tip, long)
    spare = 0.02 * engaged
    sizes = _sizes(wide)
    mate = Mate(
        outer=sides, inner=inner, frame=frame, low_mm=-(engaged - lead) + spare, high_mm=-max(mouth, 0.05) * 1.02, sizes_mm=sizes,
        reach_mm=max(1.0, 4 * abs(drawn)),
    )  # fmt: skip
    return StepOutput(parts=parts, joint=JointShape(fields.host, fields.base.part, drawn, (mate,)))


def _drawn(ctx: StepContext) -> kernel.Region:
    """The outline of a new shaft about the origin; ``x`` goes through a flat."""
    fields: ShapedShaftFields = ctx.fields
    across = ctx.positive("across", "The width across")
    curves: list[Curve]
    if fields.shape in ("square", "hexagon"):
        count = 4 if fields.shape == "square" else 6
        out = across / 2 / math.cos(math.pi / count)
        turns = [(2 * k - 1) * math.pi / count for k in range(count)]
        corners = [(out * math.cos(t), out * math.sin(t)) for t in turns]
        curves = [Line(f"flat{k + 1}", a, b) for k, (a, b) in enumerate(zip(corners, [*corners[1:], corners[0]], strict=True))]  # fmt: skip
    else:
        radius, over = across / 2, ctx.positive("over", "The width over the flat")
        least = radius if fields.shape == "flat" else 0.0
        if not least + 0.2 <= over <= across - 0.05:
            raise StepError(f"Over the flat a shaft of Ø {across:.4g} mm has {least + 0.2:.3g} to {across - 0.05:.4g} mm.", field="over")  # fmt: skip
        at = over - radius if fields.shape == "flat" else over / 2
        up = math.sqrt(radius**2 - at**2)
        a, b = (at, -up), (at, up)
        if fields.shape == "flat":
            curves = [Line("flat1", a, b), Arc("round", (0.0, 0.0), radius, b, a)]
        else:
            c, d = (-at, up), (-at, -up)
            curves = [Line("flat1", a, b), Arc("round1", (0.0, 0.0), radius, b, c), Line("flat2", c, d), Arc("round2", (0.0, 0.0), radius, d, a)]  # fmt: skip
    (region,) = kernel.find_regions(curves)
    return region


def _outline_there(ctx: StepContext, carrier: PartState, host: PartState, at: kernel.Vec3, normal: kernel.Vec3) -> tuple[Frame, kernel.Region, float]:  # fmt: skip
    """A frame at the end of a shaft that is there, its outline, and how far it goes down from its end within the host at least."""
    end = Frame.on_plane(at, normal)
    entry, _ = _stretch(host, end, end.to_local(at)[:2])
    try:
        lower = kernel.side_of(carrier.solid, end.shifted(entry / 2), ctx.id, over=False)
    except StepError:
        raise StepError("Nothing of the shaft lies within that part.", field="base") from None
    place = end.to_local(at)[:2]
    for index in lower.find(f"{ctx.id}/divide"):
        own, regions = kernel.region_of_face(lower, index)
        for region in regions:
            u, v, _ = own.to_local(end.to_world(*place, entry / 2))
            if kernel.inside((u, v), region.loops[0]):
                return own.shifted(-entry / 2), kernel.region_filled(region), -entry
    raise StepError("That face is not the end of a shaft that reaches into that part.", field="base")


def _stretch(host: PartState, tip: Frame, place: Vec2) -> tuple[float, float]:
    """Where the host begins and ends along the shaft, as heights over its end (the beginning is below it)."""
    places = kernel.meets_at(host.solid, Axis(tip.to_world(*place), tip.z))
    stretches = [s for s in zip(places[::2], places[1::2], strict=False) if s[0] < -0.2]
    if not stretches:
        raise StepError("The shaft does not reach into that part; move one of them, or pick another part.", field="host")  # fmt: skip
    return stretches[-1]


def _walled(host: PartState, tip: Frame, region: kernel.Region, entry_mm: float) -> None:
    """Refuse a hole that breaks out of the host's side."""
    loop = kernel.region_set_in(region, -WALL_MM).loops[0]
    for p in loop[:: max(1, len(loop) // 24)]:
        places = kernel.meets_at(host.solid, Axis(tip.to_world(*p), tip.z))
        if not any(a < 0 and b > entry_mm for a, b in zip(places[::2], places[1::2], strict=False)):
            raise StepError("The hole would break out of the side of that part; make the part wider, or move the shaft.", field="host")  # fmt: skip


def _named(name: str, step: str, word: str) -> str:
    ends = {f"{step}/start": f"{step}/{word}-start", f"{step}/end": f"{step}/{word}-end"}
    return ends.get(name, name.replace(f"{step}/side(", f"{step}/{word}(", 1))


def _those(solid: kernel.NamedSolid, begin: str) -> tuple[str, ...]:
    return tuple(sorted({n for names in solid.names for n in names if n.startswith(begin)}))


def _stood(ctx: StepContext, carrier: PartState, region: kernel.Region, tip: Frame, off_mm: float, long_mm: float, lead_mm: float) -> kernel.NamedSolid:  # fmt: skip
    slim = kernel.region_set_in(region, off_mm) if abs(off_mm) > 1e-9 else region
    shaft = kernel.prism(slim, tip, -long_mm - INTO_MM, 0.0, ctx.id).renamed(lambda n: _named(n, ctx.id, "shaft"))
    if lead_mm > 0:
        shaft = kernel.chamfer(shaft, shaft.edges_round(f"{ctx.id}/shaft-end"), lead_mm, lead_mm, ctx.id)
    made = kernel.fuse(carrier.solid, [shaft], ctx.id)
    if made.lumps > carrier.solid.lumps:
        raise StepError("The shaft would stand beside that face; move it onto it.", field="right")
    return made


def _mouthed(host: kernel.NamedSolid, sides: tuple[str, ...], frame: Frame, mouth_mm: float, step: str) -> kernel.NamedSolid:  # fmt: skip
    walls = {i for n in sides for i in host.find(n)}
    edges = [
        i
        for i, (_, pair) in enumerate(host.edges)
        if len(walls & set(pair)) == 1 and abs(frame.to_local(kernel.edge_middle(host, i))[2]) < 1e-3
    ]
    return kernel.chamfer(host, edges, mouth_mm, mouth_mm, step) if edges else host


def _round_about(carrier: PartState, tip: Frame, long_mm: float) -> tuple[str, ...]:
    """Sides of a shaft that is there: faces along it that reach up into the last half of what goes in."""
    out = []
    for i, face in enumerate(carrier.faces):
        way = face.axis if face.axis is not None else face.normal
        slant = abs(dot(way, tip.z))
        if slant > 1e-3 if face.axis is None else slant < 0.999:
            continue
        high = float(((carrier.mesh.corners_of(i) - np.array(tip.origin)) @ np.array(tip.z)).max())
        if -long_mm / 2 < high < 1e-6:
            out.append(face.names[0])
    return tuple(out)


def _sizes(region: kernel.Region) -> tuple[float, float]:
    loop = np.array(region.loops[0])
    wide, deep = np.ptp(loop, axis=0)
    return float(wide), float(deep)


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    """Of the side that stops a turn first: how far its end is from its middle (``lever``) and it from the axis (``flat``), mm. ``presses`` is half of ∫ l²·dA over
    all sides for each mm of length, by the longest lever (mm²): what one turning way presses on."""
    mate = shape.mates[0]
    sums, long, longest = 0.0, 0.0, 0.0
    stops: list[tuple[float, float, float]] = []
    axis, middle = np.array(mate.frame.z), np.array(mate.frame.origin)
    for name in mate.inner:
        for index in inner.solid.find(name):
            corners = inner.mesh.corners_of(index).reshape(-1, 3, 3)
            across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
            area = np.linalg.norm(across, axis=1) / 2
            normal = across / np.maximum(2 * area, 1e-12)[:, None]
            lever = np.einsum("tij,j->ti", np.cross(corners - middle, normal[:, None, :]), axis)
            # over a triangle ∫ l² is its area/12 times the sum of squares and the square of the sum of its corners'
            sums += float((area / 12 * ((lever**2).sum(axis=1) + lever.sum(axis=1) ** 2)).sum()) / 2
            long = max(long, float(np.ptp((corners.reshape(-1, 3) - middle) @ axis)))
            longest = max(longest, float(np.abs(lever).max()))
            if inner.faces[index].kind == "plane":
                flat, end = float(((corners[0] - middle) @ normal[0])[0]), float(np.abs(lever).max())
                stops.append((_turn_rad(end, flat, np.array([shape.drawn_mm]))[0], end, flat))
    _, lever_mm, flat_mm = min(stops, default=(0.0, 0.0, 0.0))
    return {"lever": lever_mm, "flat": flat_mm, "presses": sums / max(long * longest, 1e-9), "engaged": (mate.high_mm - mate.low_mm) / 0.98}  # fmt: skip


def _turn_rad(lever_mm: float, flat_mm: float, gap_mm: Array) -> Array:
    """How far a side turns until its end meets the hole's, which stands off by the gap: R·cos(α − φ) = d + g, with R and α of its end; π where it never does."""
    out, at = math.hypot(lever_mm, flat_mm), math.atan2(lever_mm, flat_mm)
    share = (flat_mm + np.maximum(gap_mm, 0.0)) / max(out, 1e-9)
    return np.where(share < 1.0, at - np.arccos(np.minimum(share, 1.0)), math.pi)


def _works(draws: Draws) -> Working | None:
    facts, gap = draws.facts, draws.gap_mm
    lever, flat = facts["lever"], facts["flat"]
    if lever < 0.05:
        return None
    turns = np.degrees(_turn_rad(lever, flat, gap))
    ends = math.hypot(lever, flat) - flat - gap
    strength = draws.weaker_mpa
    moment = strength * facts["presses"] * facts["engaged"] / 1000
    results = (
        Result("ends of its sides reach over the hole's flats by", ends, "mm", LEAST_OVER_MM, "least", "it turns in its hole"),
        Result("it turns to each side by", turns, "°", note="until its sides press"),
        Result("turning moment until its sides are crushed", moment, "N·m", note="the pressure grows with the lever"),
    )  # fmt: skip
    givens = (
        Given("from the middle of a side to its end", lever, "mm", "read on the solids"), Given("from the axis to that side", flat, "mm", "read on the solids"),
        Given("length that meets", facts["engaged"], "mm", "read on the solids"), Given("strength of the weaker half", float(strength[0]), "MPa"),
    )  # fmt: skip
    across = np.linspace(0.0, max(0.4, 2 * float(gap[0])), 13)
    angles = np.degrees(_turn_rad(lever, flat, across))
    points = tuple((float(g), float(a)) for g, a in zip(across, angles, strict=True) if a < 179)
    plot = Plot("gap, mm a side", "turns to each side, °", points, None, (float(gap[0]), float(turns[0])))
    return Working(
        "Shaped shaft", givens, results, (plot,),
        "About its own axis, until the end of a side meets the hole's flat; pressed on, a side bears the more the longer its lever. Torsion of the shaft itself is not in it.",
        {"kind": "drive", "lever": lever, "flat": flat},
    )  # fmt: skip


def _begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """The hole goes into another part: that which the picked one stands on, or the newest."""
    picked = fields.get("base")
    if answered != "base" or not isinstance(picked, Mapping):
        return {}
    part = str(picked.get("part"))
    host = another(project, part) or stands_on(project, part)
    return {"host": host} if host else {}


_NOMINAL = {"halves": ["there"], "fit": ["iso"]}
_NEW, _ROUND = {"halves": ["new"]}, {"halves": ["new"], "shape": ["flat", "flats"]}
register_joint(
    JointFamily(
        step=StepKind(
            kind="shaped_shaft",
            title="Shaped shaft",
            group="join",
            about="A square, hexagonal or flatted shaft that takes its hole along; or a hole round a shaft that is there.",
            fields=ShapedShaftFields,
            specs=(
                FieldSpec(
                    "halves",
                    "choice",
                    "what is there already",
                    "new",
                    (Choice("new", "a new shaft on"), Choice("there", "a hole round the one that ends with")),
                ),
                FieldSpec("base", "face", "face", missing="a flat face"),
                FieldSpec(
                    "shape",
                    "choice",
                    "outline",
                    "flat",
                    (
                        Choice("flat", "round with a flat"),
                        Choice("flats", "round with two flats"),
                        Choice("square", "square"),
                        Choice("hexagon", "hexagonal"),
                    ),
                ),
                FieldSpec("across", "length", "width across", "6 mm"),
                FieldSpec("over", "length", "width over the flat", "4.5 mm"),
                FieldSpec("long", "length", "length", "12 mm"),
                FieldSpec("right", "length", "to the right", "0 mm"),
                FieldSpec("up", "length", "upwards", "0 mm"),
                FieldSpec("turn", "angle", "turned by", "0 deg"),
                FieldSpec("lead", "length", "chamfer at its end", "0.5 mm"),
                FieldSpec("host", "part", "part with the hole", missing="the part with the hole"),
                FieldSpec(
                    "extent",
                    "choice",
                    "how far the hole goes",
                    "blind",
                    (Choice("blind", "to its end"), Choice("through", "all through")),
                ),
                FieldSpec("mouth", "length", "chamfer at the mouth", "0.4 mm"),
                *fit_specs("the shaft", "the hole", ISO),
                ZONES_SPEC,
            ),
            sentence=said(
                "Join by a shaped shaft: ",
                "{halves}",
                " ",
                "{base}",
                (", ", _NEW),
                ("{shape}", _NEW),
                (", ", _NEW),
                ("{across}", _NEW),
                (" across, ", _NEW),
                ("{over}", _ROUND),
                (" over the flat, ", _ROUND),
                ("{long}", _NEW),
                (" long, ", _NEW),
                ("{right}", _NEW),
                (" right and ", _NEW),
                ("{up}", _NEW),
                (" up from its middle, turned ", _NEW),
                ("{turn}", _NEW),
                (", lead-in ", _NEW),
                ("{lead}", _NEW),
                "; hole in ",
                "{host}",
                " ",
                "{extent}",
                ", mouth ",
                "{mouth}",
                (", at nominal ", _NOMINAL),
                ("{across}", _NOMINAL),
                "; ",
                *ISO_FIT_SAID,
                ("; a change of the gap lands on ", _NEW),
                ("{takes}", _NEW),
            ),
            apply=_apply,
            begin=_begin,
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="square hexagon flatted D axle drive knob dial handle key torque",
        ),
        outer="hole",
        inner="shaft",
        meeting=_meeting,
        wanted=iso_or_wanted("across"),
        goes_in="The shaft goes in",
        holds="without too much play",
        facts=_facts,
        works=_works,
    )
)
