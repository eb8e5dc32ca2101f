"""Screw thread: a screw and its hole about an axis, or a round shaft and a round bore that get one thread between them.

Both halves have the same profile. The gap sets it in evenly across the axis: the hole's outwards, the screw's inwards, by shares; so crests, roots and flanks
share one gap across, and the play along the axis is twice the gap times the slope of the flanks. The gap per side is shown on diameter.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from .. import solid as kernel
from ..calculators.materials import ACROSS_LAYERS
from ..calculators.screws import bolt_strip_mm2, nut_strip_mm2
from ..document import Seen
from ..document.picks import FlatFace
from ..errors import PickError, StepError
from ..fits import Wanted
from ..quantities.markers import Angle, Changed, Length, PartMark
from ..quantities.threads import COARSE_PITCH_MM
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, said, wanted
from ..recipe.picks import AxisPick, axis_of
from ..solid import Axis, Frame, Vec3
from ..solid.frame import scale
from .family import (
    FIT_SAID,
    OUTER_SHARE,
    BedEdge,
    FitFields,
    JointFamily,
    Meeting,
    Per,
    drawn_figures,
    figure,
    fit_specs,
    register_joint,
    wanted_of,
)
from .rounds import mouth_frame, ring_of, round_pick, seen_axis, shaft_and_bore
from .working import Draws, Given, Plot, Result, Working

__all__ = ["PROFILES", "Profile", "ThreadFields"]


@dataclass(frozen=True)
class Profile:
    """A thread's form. ``flanks`` are the straight pieces of a flank from the root to the crest: how deep each is as a share of the pitch, and its angle to the plane across
    the axis; ``crest`` is the crest's share of the pitch (the root takes what is left)."""

    title: str
    flanks: tuple[tuple[float, float], ...]
    crest: float
    source: str

    @property
    def depth(self) -> float:
        return sum(deep for deep, _ in self.flanks)

    @property
    def half_rad(self) -> float:
        """Half of the angle between the flanks that carry, those at the root."""
        return self.flanks[0][1]

    @property
    def bends(self) -> list[tuple[float, float]]:
        """From the crest down to the root: how far below the crest a flank bends, and how far beside it, as shares of the pitch."""
        out = [(0.0, 0.0)]
        for deep, angle in reversed(self.flanks):
            out.append((out[-1][0] + deep, out[-1][1] + deep * math.tan(angle)))
        return out

    def beside_mm(self, below_mm: NDArray[np.float64], pitch_mm: float) -> NDArray[np.float64]:
        """How far beside the crest's edge a flank lies so far below the crest."""
        below, beside = np.array(self.bends).T * pitch_mm
        return np.asarray(np.interp(below_mm, below, beside))

    def corners(
        self, major_mm: float, pitch_mm: float, starts: int, off_mm: float, least_mm: float = 0.0
    ) -> list[tuple[float, float]]:
        """Heights and radii of the profile over its lead, set out (or in) across the axis: root, flank, crest, flank, for each start. It is cut off at a
        least radius, which may take of the lowest pieces of the flanks, but not all of them."""
        top = major_mm / 2 + off_mm
        bottom = max(top - self.depth * pitch_mm, least_mm)
        crest = self.crest * pitch_mm
        *bends, (below, beside) = [(b * pitch_mm, s * pitch_mm) for b, s in self.bends]
        # the crest stands where it does in the whole profile, so that a cut one still meets it
        at = pitch_mm - crest - beside
        foot = beside - (bottom - (top - below)) * math.tan(self.half_rad)
        rising = [(at - s, top - b) for b, s in reversed(bends)]
        falling = [(at + crest + s, top - b) for b, s in bends]
        one = [(foot - beside, bottom), (at - foot, bottom), *rising, *falling]
        out = [(z + k * pitch_mm, r) for k in range(starts) for z, r in one]
        return [*out, (one[0][0] + starts * pitch_mm, bottom)]

    @property
    def pieces(self) -> list[str]:
        """What the pieces between two corners are called."""
        more = [f"-{k}" if k > 1 else "" for k in range(1, len(self.flanks) + 1)]
        return ["root", *(f"below{k}" for k in more), "crest", *(f"above{k}" for k in reversed(more))]


def _angled(depth: float, half_deg: float) -> tuple[tuple[float, float], ...]:
    return ((depth, math.radians(half_deg)),)


PROFILES: dict[str, Profile] = {
    # 5/8 H deep, crest P/8, H = √3/2·P
    "metric": Profile("metric, 60°", _angled(5 / 8 * math.sqrt(3) / 2, 30), 1 / 8, "the basic profile of ISO 68-1"),
    # P/2 deep, crest 0.366·P
    "trapezoid": Profile("trapezoid, 30°", _angled(0.5, 15), 0.366, "the basic profile of ISO 2901"),
    # our own: no flank hangs over more than 45 degrees when the axis stands upright
    "gentle": Profile("gentle, 90°", _angled(0.3, 45), 0.15, "our own, made to print upright"),
    # our own: a bead far from the next, whose edges are broken half way, so that fingers and lips find none
    "bottle": Profile(
        "bottle neck, soft crests",
        ((0.17, math.radians(45)), (0.08, math.radians(67.5))),
        0.1,
        "our own, a bead whose edges are broken, made to print upright",
    ),
}
#: radius over height of lead-in, run-out and mouth; no profile's flank has the same
_SLOPE = 0.8
#: the least wall under a thread that is cut into something hollow, mm
LEAST_WALL_MM = 0.4
#: PRACTICE: so many layers at least make a pitch that can be felt
LEAST_LAYERS = 5
#: tools reach so far beyond what they cut, mm
BEYOND_MM = 0.6

#: M20, M20 x 1.5, M20×1.5, Tr20 x 4
_NAME = re.compile(
    r"^(?P<kind>M|Tr)\s*(?P<major>\d{1,3}(?:\.\d{1,2})?)(?:\s*[x×]\s*(?P<pitch>\d{1,2}(?:\.\d{1,3})?))?$", re.IGNORECASE
)

_New = Annotated[str, PartMark("changes", "halves=none"), Field(max_length=40)]


class ThreadFields(FitFields):
    """``halves``: a new screw and its hole, or a shaft and a bore that are there. A new one may be called by its ``size``: M20, M20 x 1.5, Tr20 x 4. ``begin`` turns both
    halves' threads about the axis. Figures of an own band are on diameter."""

    halves: Literal["none", "both"] = "none"
    axis: AxisPick | None = None
    host: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    part: _New = ""
    bore: Annotated[FlatFace | None, Changed()] = None
    shaft: Annotated[FlatFace | None, Changed()] = None
    sized: Literal["figures", "name"] = "figures"
    size: Annotated[str, Field(max_length=20)] = "M20"
    profile: Literal["metric", "trapezoid", "gentle", "bottle"] = "metric"
    diameter: Length = "20 mm"
    pitch: Length = "2.5 mm"
    starts: Literal["1", "2", "3", "4"] = "1"
    hand: Literal["right", "left"] = "right"
    begin: Angle = "0 deg"
    depth: Length = "12 mm"
    stands: Length = "6 mm"
    extent: Literal["by", "through"] = "through"
    end: Literal["upper", "lower"] = "upper"
    least: Length = "0.2 mm"
    target: Length = "0.4 mm"
    most: Length = "0.6 mm"

    @property
    def named(self) -> bool:
        return self.halves == "none" and self.sized == "name"

    @property
    def form(self) -> Profile:
        """The form of the thread: by its size's name, or as it is chosen."""
        name = ("trapezoid" if self.size.strip().lower().startswith("tr") else "metric") if self.named else self.profile
        return PROFILES[name]


def _given(fields: ThreadFields) -> Mapping[str, float]:
    """Diameter and pitch of a size that is called by its name (ISO 261; ISO 2904)."""
    if not fields.named:
        return {}
    found = _NAME.match(fields.size.strip())
    if found is None:
        raise StepError(f"“{fields.size}” is no name of a thread's size; M20, M20 x 1.5 or Tr20 x 4 are.", field="size")
    major, pitch = float(found["major"]), found["pitch"]
    if pitch is not None:
        return {"diameter": major, "pitch": float(pitch)}
    if found["kind"].lower() == "tr":
        raise StepError(f"A trapezoidal thread is called with its pitch: Tr{major:g} x 4, say.", field="size")
    if major not in COARSE_PITCH_MM:
        near = sorted(sorted(COARSE_PITCH_MM, key=lambda d: abs(d - major))[:2])
        raise StepError(
            f"M{major:g} has no coarse pitch in ISO 261; {' and '.join(f'M{d:g}' for d in near)} have, or name the pitch: M{major:g} x 1.5.",
            field="size",
        )
    return {"diameter": major, "pitch": COARSE_PITCH_MM[major]}


def _wanted(fields: ThreadFields, figures: Mapping[str, float]) -> Wanted:
    if fields.fit == "own":
        return Wanted(*(figure(figures, name) / 2 for name in ("least", "target", "most"))).checked()
    return wanted_of(fields, figures)


def _per(fields: ThreadFields) -> Per:
    return "diameter"


def _meeting(fields: ThreadFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    along: Vec3 | None = None
    size = figures.get("diameter", 0.0)
    if fields.halves == "none":
        along = seen_axis(ctx, fields.axis)
    else:
        seen: Seen | None = fields.shaft.face.seen if fields.shaft is not None else None
        if ctx is not None and fields.shaft is not None:
            _, _, shaft = round_pick(ctx, fields.shaft, "shaft", hollow=False)
            along, size = shaft.axis.direction, 2 * shaft.radius_mm
        elif seen is not None and sum(c * c for c in seen.axis) > 0.25:
            along, size = seen.axis, 2 * seen.radius
    frame = mouth_frame(along, fields.end) if along is not None else None
    deep = fields.form.depth * figures.get("pitch", 0.0)
    edges = (BedEdge(True, "the mouth of the thread", deep, True), BedEdge(False, "the end of the screw", deep, False))
    if fields.halves == "none":
        outer, inner = fields.host, fields.part
    else:
        outer, inner = (p.part if p is not None else "" for p in (fields.bore, fields.shaft))
    return Meeting(outer, inner, frame, (size, size), round_hole=True, edges=edges)


# ---- its geometry ----------------------------------------------------------------------------------------------------


_Ends = tuple["kernel.ConeEnd", "kernel.ConeEnd"]


@dataclass(frozen=True)
class _Form:
    """The two halves' profiles, and what their ends need."""

    profile: Profile
    major_mm: float
    pitch_mm: float
    starts: int
    left: bool
    hole: list[tuple[float, float]]
    screw: list[tuple[float, float]]

    @property
    def deep_mm(self) -> float:
        return self.profile.depth * self.pitch_mm

    @property
    def lead_mm(self) -> float:
        return self.starts * self.pitch_mm

    @property
    def names(self) -> Sequence[str]:
        pieces = self.profile.pieces
        return [n if self.starts == 1 else f"{n}-{k + 1}" for k in range(self.starts) for n in pieces]

    def bar(self, frame: Frame, corners: list[tuple[float, float]], ends: _Ends, step: str, mark: str) -> kernel.NamedSolid:  # fmt: skip
        """A solid bar with one half's thread."""
        return kernel.threaded_bar(frame, corners, self.names, self.lead_mm, *ends, step, mark, self.left)

    def cut(self, host: PartState, frame: Frame, corners: list[tuple[float, float]], ends: _Ends, step: str, mark: str, around: bool = False) -> kernel.NamedSolid:  # fmt: skip
        """A part with such a bar, or what stands round it, cut out."""

        def tool(turn: int) -> kernel.NamedSolid:
            return kernel.threaded_bar(frame, corners, self.names, self.lead_mm, *ends, step, mark, self.left, around, turn)  # fmt: skip

        return kernel.cut_thread(host.solid, tool, step)


def _form(ctx: StepContext, major_mm: float, bore_mm: float = 0.0) -> _Form:
    """Both halves about a major diameter; the hole's in a bore of this radius, which cuts its crests off where it is wider."""
    fields: ThreadFields = ctx.fields
    pitch = ctx.positive("pitch", "The pitch")
    profile = fields.form
    if profile.depth * pitch > 0.4 * major_mm:
        raise StepError(
            f"A pitch of {pitch:.4g} mm is too coarse for Ø {major_mm:.4g} mm: at most {0.4 * major_mm / profile.depth:.3g} mm.",
            field="pitch",
        )
    share = OUTER_SHARE[fields.takes]
    drawn = ctx.number("drawn")
    if drawn > 0.9 * profile.depth * pitch:
        raise StepError(
            f"With a gap of {2 * drawn:.2f} mm on diameter this thread does not hold any more: take a coarser pitch or a closer fit.",
            field="pitch",
        )
    starts = int(fields.starts)
    # just over the bore, so that the kernel need not find where its side meets the flanks
    least = bore_mm + 0.01 if bore_mm > 0 else 0.0
    hole = profile.corners(major_mm, pitch, starts, share * drawn, least)
    screw = profile.corners(major_mm, pitch, starts, -(1 - share) * drawn)
    return _Form(profile, major_mm, pitch, starts, fields.hand == "left", hole, screw)


def _top(corners: Sequence[tuple[float, float]]) -> float:
    return max(r for _, r in corners)


def _bottom(corners: Sequence[tuple[float, float]]) -> float:
    return min(r for _, r in corners)


def _apply(ctx: StepContext) -> StepOutput:
    fields: ThreadFields = ctx.fields
    return _screw_and_hole(ctx) if fields.halves == "none" else _between(ctx)


def _note(form: _Form) -> str:
    coarse = COARSE_PITCH_MM.get(round(form.major_mm, 3))
    if form.profile is not PROFILES["metric"] or coarse is None or abs(coarse - form.pitch_mm) < 1e-9:
        return ""
    return f"M{form.major_mm:g} has {coarse:g} mm as its coarse pitch; with {form.pitch_mm:g} mm only this pair goes together."


def _screw_and_hole(ctx: StepContext) -> StepOutput:
    """A threaded hole about an axis through a part, and a screw in it as a new part."""
    fields: ThreadFields = ctx.fields
    if fields.axis is None:
        raise PickError("Pick an axis.", field="axis")
    if ctx.has_part(fields.part):
        raise StepError("The part is made by an earlier step; the joint makes its own.", field="part")
    host = ctx.part(fields.host, "host")
    axis = axis_of(ctx, fields.axis, "axis").upward()
    form = _form(ctx, ctx.positive("diameter", "The diameter"))
    lower = fields.end == "lower"
    mouth_at, thick = _mouth(host, axis, form, lower)
    frame = axis.frame_at(mouth_at, turned=lower).placed(0.0, 0.0, ctx.number("begin"))
    depth = ctx.positive("depth", "The depth")
    through = fields.extent == "through"
    stands = ctx.number("stands")
    if stands < 0:
        raise StepError("It cannot stand out by less than nothing; 0 mm lets it end with the mouth.", field="stands")
    relief = form.pitch_mm
    need = 2 * form.deep_mm / _SLOPE + 1.6 * form.pitch_mm
    if depth < need:
        raise StepError(
            f"Beside lead-in and mouth no whole turn is left; let it go in at least {math.ceil(10 * need) / 10:g} mm.",
            field="depth",
        )
    if through and thick < need:
        raise StepError(
            f"The part is {thick:.4g} mm thick there; a whole turn beside both mouths takes {need:.1f} mm.",
            field="pitch",
        )
    if not through and depth + relief > thick - 0.2:
        raise StepError(
            f"A thread for {depth:.4g} mm comes out on the other side; let it go through, or {max(0.0, thick - 0.2 - relief):.4g} mm is the most.",
            field="depth",
        )
    # the mouth opens to the crest of the hole and a little, so that no sharp edge is left
    mouth = 0.3 * form.pitch_mm
    wide = _top(form.hole) + mouth + BEYOND_MM
    high = kernel.ConeEnd(BEYOND_MM / _SLOPE, wide, _SLOPE)
    floor = _bottom(form.hole) - 0.05
    if through:
        low = kernel.ConeEnd(-thick - BEYOND_MM / _SLOPE, wide, -_SLOPE)
    else:
        low = kernel.ConeEnd(-depth - relief, floor, _SLOPE)
    cut = form.cut(host, frame, form.hole, (low, high), ctx.id, "hole")
    # the screw runs out into a cone that sits in the mouth, as far from it as the flanks are from each other
    gap = ctx.number("drawn")
    collar = _top(form.hole) + mouth - gap
    tip = _bottom(form.screw) - 0.05
    top = kernel.ConeEnd(0.0, collar, _SLOPE, shank_mm=stands)
    screw = form.bar(frame, form.screw, (kernel.ConeEnd(-depth, tip, _SLOPE), top), ctx.id, "screw")
    cone, spare = form.deep_mm / _SLOPE, 0.1 * form.pitch_mm
    far = -depth + cone + spare
    if through:
        far = max(far, -thick + cone + mouth / _SLOPE + spare)
    mate = _mate(form, frame, far, -(cone + mouth / _SLOPE + spare), ctx.id, "depth")
    joint = JointShape(fields.host, fields.part, gap, (mate,))
    return StepOutput(
        parts={fields.part: screw, fields.host: cut}, joint=joint, note="" if fields.named else _note(form)
    )


def _mouth(host: PartState, axis: Axis, form: _Form, lower: bool) -> tuple[float, float]:
    """Where a hole begins and how thick the part is there: along the axis, or where that runs in a hole already, beside it."""
    places = kernel.meets_at(host.solid, axis)
    if len(places) < 2:
        side = axis.frame_at(0.0)
        beside = Axis(side.to_world(_top(form.hole) + 0.3, 0.0, 0.0), axis.direction)
        places = kernel.meets_at(host.solid, beside)
    if len(places) < 2:
        raise StepError("The axis meets no material of that part; pick another axis or part.", field="axis")
    return (places[0] if lower else places[-1]), places[-1] - places[0]


def _mate(form: _Form, frame: Frame, low_mm: float, high_mm: float, step: str, field: str) -> Mate:
    least = form.pitch_mm
    if high_mm - low_mm < least:
        more = least - (high_mm - low_mm)
        raise StepError(
            f"Too little thread meets: no whole turn beside lead-in and mouth; make it at least {more:.2f} mm longer.",
            field=field,
        )
    return Mate(
        outer=tuple(f"{step}/hole({n})" for n in form.names),
        inner=tuple(f"{step}/screw({n})" for n in form.names),
        frame=frame,
        low_mm=low_mm,
        high_mm=high_mm,
        sizes_mm=(2 * _top(form.hole),) * 2,
        round_hole=True,
        pitch_mm=form.pitch_mm,
    )


def _between(ctx: StepContext) -> StepOutput:
    """A shaft and a bore that are there: a thread is cut into both."""
    fields: ThreadFields = ctx.fields
    found = shaft_and_bore(ctx)
    host, bore, part, shaft = found.host, found.bore, found.part, found.shaft
    assert fields.bore is not None and fields.shaft is not None
    plain = _form(ctx, 2 * shaft.radius_mm)
    widest = _bottom(plain.hole) + 0.5 * plain.deep_mm
    if bore.radius_mm > widest:
        raise StepError(
            f"The bore is too wide for a thread of Ø {plain.major_mm:.4g} mm: Ø {2 * widest:.4g} mm at most, and it has Ø {2 * bore.radius_mm:.4g} mm.",
            field="bore",
        )
    form = _form(ctx, 2 * shaft.radius_mm, bore.radius_mm)
    frame = found.frame.placed(0.0, 0.0, ctx.number("begin"))
    reach, (begin, end) = found.deep_mm, found.span_mm
    if begin > -form.pitch_mm or begin >= end:
        raise StepError("The shaft does not reach into the bore from this side; take the other end.", field="end")
    _wall(part, frame, shaft.radius_mm, form, begin, end)
    # the hole: from its mouth to its floor, or a pitch beyond the shaft
    wide = _top(form.hole) + 0.3 * form.pitch_mm + BEYOND_MM
    floor = min(bore.radius_mm, _bottom(form.hole)) - 0.05
    deep = begin - form.pitch_mm
    cone, spare, mouth = form.deep_mm / _SLOPE, 0.1 * form.pitch_mm, 0.3 * form.pitch_mm / _SLOPE
    if deep < -reach + 0.02 and not _has_floor(host, frame, bore.radius_mm, reach, form.pitch_mm):
        # it comes out on the other side, and opens there too
        low_end, whole = kernel.ConeEnd(-reach - BEYOND_MM / _SLOPE, wide, -_SLOPE), -reach + mouth + cone
    else:
        deep = max(deep, -reach + 0.02)
        low_end, whole = kernel.ConeEnd(deep, floor, _SLOPE), deep + (_top(form.hole) - floor) / _SLOPE
    high_end = kernel.ConeEnd(BEYOND_MM / _SLOPE, wide, _SLOPE)
    nut = form.cut(host, frame, form.hole, (low_end, high_end), ctx.id, "hole")
    # the shaft: what stands round a threaded bar is taken away, from its end to where the thread runs out
    out = shaft.radius_mm + 1.0
    runs_out = (out - _bottom(form.screw)) / _SLOPE
    top = min(end - 0.02, runs_out)
    tip = kernel.ConeEnd(begin - 1.0, _bottom(form.screw) - 0.05 - 1.0 * _SLOPE, _SLOPE)
    ends = (tip, kernel.ConeEnd(top, out, _SLOPE))
    screw = form.cut(part, frame, form.screw, ends, ctx.id, "screw", around=True)
    far = max(begin + cone, whole) + spare
    near = min(-(mouth + cone + spare), top - runs_out - spare)
    mate = _mate(form, frame, far, near, ctx.id, "shaft")
    joint = JointShape(fields.bore.part, fields.shaft.part, ctx.number("drawn"), (mate,))
    return StepOutput(parts={fields.bore.part: nut, fields.shaft.part: screw}, joint=joint, note=_note(form))


def _has_floor(host: PartState, frame: Frame, radius_mm: float, reach_mm: float, room_mm: float) -> bool:
    """Whether a bore so deep ends at something, and not in the open."""
    places = [
        frame.to_world((radius_mm - 0.2) * math.cos(t), (radius_mm - 0.2) * math.sin(t), 0.05 - reach_mm)
        for t in (0.3, 2.4, 4.5)
    ]
    return kernel.free_length(host.solid, places, scale(frame.z, -1.0), room_mm + 0.5) is not None


def _wall(part: PartState, frame: Frame, radius_mm: float, form: _Form, low_mm: float, high_mm: float) -> None:
    """Refuse a thread that leaves too little of a hollow shaft's wall."""
    heights = [low_mm + share * (high_mm - low_mm) for share in (0.15, 0.5, 0.85)]
    places = [place for height in heights for place in ring_of(frame, radius_mm, height, 8)]
    wall = kernel.least_thickness(part.solid, places)
    need = radius_mm - _bottom(form.screw) + LEAST_WALL_MM
    if wall is not None and wall < need - 1e-6:
        raise StepError(
            f"The shaft's wall is {wall:.3g} mm; this thread needs {need:.3g} mm of it. Take a finer pitch or a thicker wall.",
            field="pitch",
        )


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    mate = shape.mates[0]
    return {"engaged": mate.high_mm - mate.low_mm, "wide": mate.sizes_mm[0]}


def _works(draws: Draws) -> Working:
    """Overlap of the flanks, play, and what strips: both halves' threads at their thinnest, and the screw's core."""
    fields: ThreadFields = draws.fields
    profile, pitch = fields.form, draws.figures["pitch"]
    engaged, gap = draws.facts["engaged"], np.maximum(draws.gap_mm, 0.0)
    drawn = draws.figures["drawn"]
    share = OUTER_SHARE[fields.takes]
    major = draws.facts["wide"] - 2 * share * drawn
    deep = profile.depth * pitch
    overlap = deep - gap
    # the flanks' thickness at the other half's crest; both halves count as set in by the whole gap, half each
    screw_top, hole_bottom = major / 2 - gap / 2, major / 2 - deep + gap / 2
    tangent = math.tan(profile.half_rad)
    if profile is PROFILES["metric"]:
        middle = major - 0.75 * math.sqrt(3) / 2 * pitch
        nut = nut_strip_mm2(engaged, pitch, 2 * screw_top, middle + gap)
        bolt = bolt_strip_mm2(engaged, pitch, 2 * hole_bottom, middle - gap)
    else:
        crest = profile.crest * pitch
        root = pitch - crest - 2 * profile.bends[-1][1] * pitch
        # at its own root a thread is as thick as the pitch without the other's crest; farther out thinner by both flanks
        nut = (
            2
            * np.pi
            * screw_top
            * np.maximum(pitch - crest - 2 * profile.beside_mm(gap / 2, pitch), 0.0)
            * engaged
            / pitch
        )
        bolt = 2 * np.pi * hole_bottom * np.maximum(pitch - root - 2 * tangent * gap / 2, 0.0) * engaged / pitch
    # shear by the largest distortion energy: 0.577 of the tensile strength; upright layers are sheared apart, and pulled apart in the core
    pulled = [
        ACROSS_LAYERS * s.upright + 1 - s.upright if s.material.plastic else 1.0 for s in (draws.outer, draws.inner)
    ]
    shear = [0.577 * s.strength_mpa * p for s, p in zip((draws.outer, draws.inner), pulled, strict=True)]
    strip = np.minimum(nut * shear[0], bolt * shear[1])
    core = math.pi * (major / 2 - deep - gap / 2) ** 2 * draws.inner.strength_mpa * pulled[1]
    layers = pitch / draws.layer_mm
    hangs = 90 - math.degrees(profile.half_rad)
    upright = max(draws.outer.upright, draws.inner.upright) > 0.5
    results = (
        Result("flanks that meet", overlap, "mm", deep / 2, "least", "it jumps over", f"half of the {profile.title} profile"),
        Result("play along the axis", 2 * gap * tangent, "mm"),
        Result("area that strips, hole", nut, "mm²"),
        Result("area that strips, screw", bolt, "mm²"),
        Result("force until it strips", strip, "N", note="once; months under load leave a third to a half"),
        Result("force until the screw breaks", core, "N", note="its layers are pulled apart" if draws.inner.upright > 0.5 else ""),
        *([Result("lower flanks hang over by", np.full_like(gap, hangs), "°", note="of the half that is printed upright; only its small depth lets it print" if hangs > 50 else "prints by itself")] if upright else []),
        Result("layers to a pitch", np.full_like(gap, layers), "", float(LEAST_LAYERS) - 1e-9, "least", "the thread is too fine for these layers"),
    )  # fmt: skip
    givens = (
        Given("major diameter", major, "mm"), Given("pitch", pitch, "mm"), Given("lead", pitch * int(fields.starts), "mm"),
        Given("length of whole thread", engaged, "mm", "without lead-in and mouth"), Given("depth of the profile", deep, "mm", profile.source),
        Given(f"strength of {draws.outer.name}", float(draws.outer.strength_mpa[0]), "MPa", "the hole"),
        Given(f"strength of {draws.inner.name}", float(draws.inner.strength_mpa[0]), "MPa", "the screw"),
    )  # fmt: skip
    across = np.linspace(0.0, deep, 13)
    plot = Plot(
        "gap on diameter, mm", "flanks that meet, mm", tuple((2 * float(a), float(deep - a)) for a in across), deep / 2,
        (2 * float(gap[0]), float(overlap[0])),
    )  # fmt: skip
    acts = {
        "kind": "thread",
        "deep": deep,
        "pitch": pitch,
        "half": profile.half_rad,
        "upright": bool(upright),
        "layer": draws.layer_mm,
    }
    return Working(
        "Thread", givens, results, (plot,),
        "Stripping areas on the other half's crest; shear at 0.577 of the tensile strength, half of that where layers are pulled apart. The profile is that of the sentence; the gap is read on the solids.", acts,
    )  # fmt: skip


_NEW, _THERE = {"halves": ["none"]}, {"halves": ["both"]}
_CALLED, _FIGURED = {**_NEW, "sized": ["name"]}, {**_NEW, "sized": ["figures"]}
_KIND = StepKind(
    kind="thread",
    title="Screw thread",
    group="join",
    about="A screw and its hole, or a thread between a shaft and a bore that are there: true helical solids.",
    fields=ThreadFields,
    specs=(
        FieldSpec(
            "halves", "choice", "what is there already", "none",
            (Choice("none", "a new screw and hole about"), Choice("both", "what is there:")),
        ),
        FieldSpec("axis", "axis", "axis", missing="an axis"),
        FieldSpec("host", "part", "part with the hole", missing="the part with the hole"),
        FieldSpec("part", "part", "new part"),
        FieldSpec("bore", "bore", "bore", missing="a round bore"),
        FieldSpec("shaft", "shaft", "shaft", missing="the round side of a shaft"),
        FieldSpec(
            "sized", "choice", "how its size is said", "figures",
            (Choice("figures", "by its figures:"), Choice("name", "the size")),
        ),
        FieldSpec("size", "text", "size by its name", "M20"),
        FieldSpec("profile", "choice", "form of the thread", "metric", tuple(Choice(k, p.title) for k, p in PROFILES.items())),
        FieldSpec("diameter", "length", "diameter", "20 mm"),
        FieldSpec("pitch", "length", "pitch", "2.5 mm"),
        FieldSpec(
            "starts", "choice", "how many starts", "1",
            (Choice("1", "one start"), Choice("2", "two starts"), Choice("3", "three starts"), Choice("4", "four starts")),
        ),
        FieldSpec("hand", "choice", "which way it turns", "right", (Choice("right", "right-hand"), Choice("left", "left-hand"))),
        FieldSpec("begin", "angle", "turn of where it starts", "0 deg"),
        FieldSpec("depth", "length", "how deep it goes in", "12 mm"),
        FieldSpec("stands", "length", "how far it stands out", "6 mm"),
        FieldSpec(
            "extent", "choice", "how far the hole goes", "through",
            (Choice("through", "all through"), Choice("by", "to the screw's end")),
        ),
        FieldSpec("end", "choice", "from which end", "upper", (Choice("upper", "the upper end"), Choice("lower", "the lower end"))),
        *fit_specs("the screw", "the hole", band=("0.2 mm", "0.4 mm", "0.6 mm")),
    ),
    sentence=said(
        "Join by a thread: ",
        "{halves}",
        " ",
        ("{axis}", _NEW),
        ("{bore}", _THERE),
        (" with ", _THERE),
        ("{shaft}", _THERE),
        (" of ", _NEW),
        ("{host}", _NEW),
        (", ", _NEW),
        ("{extent}", _NEW),
        (", new part ", _NEW),
        ("{part}", _NEW),
        (" going in ", _NEW),
        ("{depth}", _NEW),
        " from ",
        "{end}",
        (" and standing out ", _NEW),
        ("{stands}", _NEW),
        "; ",
        ("{sized}", _NEW),
        (" ", _NEW),
        ("{size}", _CALLED),
        ("{profile}", _FIGURED),
        (", Ø ", _FIGURED),
        ("{diameter}", _FIGURED),
        (", pitch ", _FIGURED),
        ("{pitch}", _FIGURED),
        ("{profile}", _THERE),
        (", pitch ", _THERE),
        ("{pitch}", _THERE),
        ", ",
        "{starts}",
        ", ",
        "{hand}",
        *wanted("where it starts", ", turned by ", "{begin}"),
        "; ",
        *FIT_SAID,
        (" on diameter", {"fit": ["own"]}),
        "; a change of the gap lands on ",
        "{takes}",
    ),
    apply=_apply,
    given=_given,
    prepare=drawn_figures,
    suits=("face",),
    words="screw bolt nut cap jar bottle neck lid helix pitch metric trapezoid turn",
)  # fmt: skip

register_joint(
    JointFamily(
        step=_KIND,
        outer="hole",
        inner="screw",
        meeting=_meeting,
        comes="turned",
        wanted=_wanted,
        goes_in="The screw turns in",
        holds="without too much play",
        per=_per,
        facts=_facts,
        works=_works,
    )
)
