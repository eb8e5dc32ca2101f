"""Ring snap: a bead round one half that snaps into a groove round the inside of the other, like a cap on a tube.

Both halves are there, a round one within a round one. The bead stands out over the bore's wall by the undercut; on the way in the tube must widen by that, as a
whole, or where it is slotted its fingers bend. The groove is the bead's outline set off by the gap; what the printer takes of the gap it adds to the undercut.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Annotated, Literal

import numpy as np

from .. import solid as kernel
from ..calculators.arms import Arm
from ..calculators.materials import OFTEN
from ..calculators.rings import Ring
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Angle, Changed, Length, Number
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, said
from ..solid import Frame
from ..solid.frame import length, scale
from .family import FIT_SAID, FitFields, JointFamily, Meeting, drawn_figures, fit_specs, register_joint, wanted_of
from .rounds import mouth_frame, ring_of, round_pick, shaft_and_bore
from .sprung import USED, in_and_out, slits, slope
from .working import Array, Draws, Given, Plot, Result, Working

__all__ = ["RingSnapFields"]

#: what grows together goes this far into each other, mm
INTO_MM = 0.2
#: what stays of the wall behind the groove, mm
BEHIND_MM = 0.6
#: PRACTICE: what a vice or a mallet still drives on without crushing the print, N
MOST_PUSH_N = 2500.0
_LOOKS = 24


class RingSnapFields(FitFields):
    """``depth`` is where the middle of the bead lies, from the bore's mouth; ``undercut`` (a side) how far it stands out over the bore's wall; ``land`` how wide
    its crest is. Slopes are angles to the axis. With ``spring`` fingers the tube is slotted from its mouth."""

    bore: Annotated[FlatFace | None, Changed()] = None
    shaft: Annotated[FlatFace | None, Changed()] = None
    end: Literal["upper", "lower"] = "upper"
    depth: Length = "5 mm"
    undercut: Length = "0.4 mm"
    land: Length = "0.8 mm"
    lead: Angle = "30 deg"
    back: Angle = "45 deg"
    spring: Literal["whole", "fingers"] = "whole"
    fingers: Number = "6"
    slot: Length = "1.5 mm"
    long: Length = "14 mm"
    used: Literal["once", "often"] = "often"


def _meeting(fields: RingSnapFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    pick, along, size = fields.bore, None, 0.0
    if ctx is not None and pick is not None:
        _, _, bore = round_pick(ctx, pick, "bore", hollow=True)
        along, size = bore.axis.direction, 2 * bore.radius_mm
    elif pick is not None and pick.face.seen is not None and length(pick.face.seen.axis) > 0.5:
        along, size = pick.face.seen.axis, 2 * pick.face.seen.radius
    frame = mouth_frame(along, fields.end) if along is not None else None
    outer, inner = (p.part if p is not None else "" for p in (fields.bore, fields.shaft))
    wide = size + 2 * figures.get("undercut", 0.0) if size else 0.0
    return Meeting(outer, inner, frame, (wide, wide), round_hole=True)


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: RingSnapFields = ctx.fields
    found = shaft_and_bore(ctx)
    host, bore, core, shaft, frame = found.host, found.bore, found.part, found.shaft, found.frame
    assert fields.bore is not None and fields.shaft is not None
    clear = bore.radius_mm - shaft.radius_mm
    if clear < 0:
        raise StepError(f"The shaft is {-2 * clear:.3g} mm thicker than the bore; it must fit into it with some room.", field="shaft")  # fmt: skip
    s = _Sizes(ctx, bore.radius_mm, clear)
    start, stop = found.span_mm
    if s.bottom < start - 1e-9 or s.top > stop + 1e-9:
        raise StepError(
            f"The bead, from {-s.top:.3g} to {-s.bottom:.3g} mm behind the mouth, would stand beyond the end of that shaft, which goes from {-stop:.3g} to {-start:.3g}; give it another place.",
            field="depth",
        )
    bead = kernel.lathed(frame, s.bead(shaft.radius_mm - INTO_MM), ("in", "inner", "out", "back", "bead", "lead"), ctx.id)  # fmt: skip
    made = kernel.fuse(core.solid, [bead], ctx.id)
    cut = _grooved(ctx, host, frame, s, found.deep_mm)
    spare = 0.02 * s.land
    size = 2 * (s.crest + s.gap)
    mate = Mate(
        outer=(f"{ctx.id}/groove",), inner=(f"{ctx.id}/bead",), frame=frame, low_mm=-s.depth - s.land / 2 + spare, high_mm=-s.depth + s.land / 2 - spare,
        sizes_mm=(size, size), round_hole=True, reach_mm=s.gap + 1.0, seated=True,
    )  # fmt: skip
    joint = JointShape(fields.bore.part, fields.shaft.part, s.gap, (mate,))
    return StepOutput(parts={fields.shaft.part: made, fields.bore.part: cut}, joint=joint)


class _Sizes:
    """The step's figures, checked against each other; radii, and heights over the mouth (which are negative), mm."""

    def __init__(self, ctx: StepContext, bore_mm: float, clear_mm: float) -> None:
        self.bore, self.clear = bore_mm, clear_mm
        self.gap = ctx.number("drawn")
        if self.gap <= 0:
            raise StepError("A bead needs a gap in its groove; take a looser fit.", field="fit")
        self.depth, self.undercut = ctx.positive("depth", "The depth"), ctx.positive("undercut", "The undercut")
        self.land = ctx.positive("land", "The crest of the bead")
        self.lead, self.back = slope(ctx, "lead", 60.0), slope(ctx, "back", 90.0)
        self.crest = bore_mm + self.undercut
        tall = self.undercut + clear_mm
        self.bottom = -self.depth - self.land / 2 - tall / math.tan(self.lead)
        self.top = -self.depth + self.land / 2 + tall / math.tan(self.back)
        out = self.groove()
        if out[3][1] > -0.4:
            raise StepError(f"The groove would break out of the mouth: {self.depth + out[3][1] + 0.4:.3g} mm is the least depth.", field="depth")  # fmt: skip

    def _slope(self, radius_mm: float, off_mm: float, angle_rad: float) -> float:
        """How far from the land's middle a slope, set off square to itself, is at a radius."""
        return self.land / 2 + (self.crest - radius_mm + off_mm / math.cos(angle_rad)) / math.tan(angle_rad)

    def bead(self, inside_mm: float) -> list[tuple[float, float]]:
        """Its half outline from a place within the shaft: below, along the shaft, back, crest, lead."""
        return self._outline(inside_mm, self.bore - self.clear, 0.0)

    def groove(self) -> list[tuple[float, float]]:
        return self._outline(self.bore - 0.5 * self.clear - 0.02, self.bore, self.gap)

    def _outline(self, inside_mm: float, foot_mm: float, off_mm: float) -> list[tuple[float, float]]:
        top = self.crest + off_mm
        # slopes up to 90°, where they stand square to the axis
        square = self.back > math.radians(89.9)
        back = [self.land / 2 + off_mm] * 2 if square else [self._slope(r, off_mm, self.back) for r in (foot_mm, top)]
        lead = [self._slope(r, off_mm, self.lead) for r in (foot_mm, top)]
        return [
            (foot_mm, -self.depth - lead[0]), (inside_mm, -self.depth - lead[0]), (inside_mm, -self.depth + back[0]), (foot_mm, -self.depth + back[0]),
            (top, -self.depth + back[1]), (top, -self.depth - lead[1]),
        ]  # fmt: skip


def _grooved(ctx: StepContext, host: PartState, frame: Frame, s: _Sizes, bore_mm: float) -> kernel.NamedSolid:
    fields: RingSnapFields = ctx.fields
    outline = s.groove()
    if outline[0][1] < -bore_mm:
        raise StepError(f"The groove, {-outline[0][1]:.3g} mm deep at its far side, lies beyond the bore, which is {bore_mm:.3g} mm long.", field="depth")  # fmt: skip
    places = [(at, scale(out, -1.0)) for at, out in ring_of(frame, s.bore, -s.depth, _LOOKS)]
    walls = [kernel.thickness_at(host.solid, at, normal) for at, normal in places]
    thick = [w for w in walls if w is not None]
    if len(thick) < len(walls):
        raise StepError("There is no wall all round the bead; give it another depth.", field="depth")
    if min(thick) < s.undercut + s.gap + BEHIND_MM:
        raise StepError(
            f"The wall round the bore is {min(thick):.3g} mm; a groove {s.undercut + s.gap:.2f} mm deep leaves too little of it. Take less undercut, or a thicker wall.",
            field="undercut",
        )
    made = kernel.cut(host.solid, [kernel.lathed(frame, outline, ("low", "inside", "high", "groove-back", "groove", "groove-lead"), ctx.id)], ctx.id)  # fmt: skip
    if fields.spring == "whole":
        return made
    count, slot, long = _fingers(ctx)
    if long < s.depth + s.land + 2.0:
        raise StepError(f"The fingers must reach well behind the bead: {s.depth + s.land + 2.0:.3g} mm at least.", field="long")  # fmt: skip
    if long > bore_mm + 1e-6:
        raise StepError(f"The slots go beyond the bore, which is {bore_mm:.4g} mm long; make them shorter.", field="long")  # fmt: skip
    if math.pi * (2 * s.bore + min(thick)) / count - slot < 2 * min(thick):
        raise StepError("So many slots leave fingers narrower than twice their wall; take fewer or narrower ones.", field="fingers")  # fmt: skip
    turns = [2 * math.pi * (k + 0.5) / count for k in range(count)]
    # from just within the wall: what else of the part stands inside is left alone
    within = math.sqrt(max(s.bore**2 - slot**2 / 4, 0.0)) - 0.5
    tools = slits(frame, turns, (max(0.0, within), s.bore + max(thick) + 1.0), slot, -long, 1.0, ctx.id, "slot")
    slotted = kernel.cut(made, tools, ctx.id)
    if slotted.lumps > made.lumps:
        raise StepError("So long the slots cut the tube into pieces; make them shorter.", field="long")
    return slotted


def _fingers(ctx: StepContext) -> tuple[int, float, float]:
    return (
        ctx.whole("fingers", 2, 24, "fingers"),
        ctx.positive("slot", "The slot"),
        ctx.positive("long", "The length of the fingers"),
    )


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    """How thick the wall is behind the groove where it is thinnest, and the groove's diameter, mm."""
    mate = shape.mates[0]
    radius = mate.sizes_mm[0] / 2
    # between slots too: what is met there is farther away, or nothing
    places = [(at, scale(out, -1.0)) for at, out in ring_of(mate.frame, radius, (mate.low_mm + mate.high_mm) / 2, _LOOKS)]  # fmt: skip
    return {"diameter": 2 * radius, "wall": kernel.least_thickness(outer.solid, places) or 0.0}


def _works(draws: Draws) -> Working | None:
    fields: RingSnapFields = draws.fields
    f, stuff, facts = draws.figures, draws.outer, draws.facts
    if facts["wall"] <= 0.05:
        return None
    bore = facts["diameter"] - 2 * f["undercut"] - 2 * f["drawn"]
    wall = facts["wall"] + f["undercut"] + f["drawn"]
    # what the printer takes of the gap comes on top of the undercut
    undercut = np.maximum(f["undercut"] + f["drawn"] - draws.gap_mm, 0.0)
    often = fields.used == "often"
    whole = fields.spring == "whole"
    if whole:
        ring = Ring(bore, wall, 2 * f["undercut"], float(stuff.modulus_mpa[0]), stuff.material.poisson)
        strain = 2 * undercut / bore
        across = ring.force_n(f["depth"]) * undercut / f["undercut"] * stuff.modulus_mpa / stuff.modulus_mpa[0]
        limit, weakened = stuff.round_limit()
        limit = limit * (OFTEN if often else 1.0)
        reasons = (("its layers are pulled apart", weakened < 0.75 and stuff.material.plastic), ("stretched often", often))  # fmt: skip
        why = " and ".join(word for word, is_so in reasons if is_so)
        named = ("strain round the tube", "the tube cracks")
        givens = [Given("diameter of the bore", bore, "mm"), Given("end felt as far as", 3 * ring.decay_mm, "mm", "three decays of the tube's wall")]  # fmt: skip
    else:
        count = round(f["fingers"])
        wide = math.pi * (bore + wall) / count - f["slot"]
        arm = Arm.even(f["long"] - f["depth"], wall, wide)
        strain = arm.strain(undercut)
        across = count * arm.force_n(strain, stuff.modulus_mpa)
        limit, why = stuff.arm_limit(often, "their roots", True)
        named = ("strain at the fingers' roots", "a finger breaks")
        givens = [Given("length of the fingers", arm.length_mm, "mm"), Given("their width, on the wall's middle", wide, "mm")]  # fmt: skip
    results = (
        Result("undercut as printed, a side", undercut, "mm", draws.felt_mm, "least", "it slips off"),
        Result(named[0], 100 * strain, "%", 100 * limit, "most", named[1], f"of {stuff.name}" + (f" ({why})" if why else ""), stuff.bears),
        Result("force across, all round", across, "N", note="good to a factor of two" if whole else ""),
        *in_and_out(draws, across, undercut, "it does not come out by pulling", MOST_PUSH_N),
    )  # fmt: skip
    givens += [
        Given("wall of the tube, where thinnest", wall, "mm", "read on the solids"),
        Given(f"stiffness of {stuff.name}", float(stuff.modulus_mpa[0]), "MPa"), Given("friction", float(draws.friction[0]), ""),
    ]  # fmt: skip
    shared = {"undercut": f["undercut"], "gap": f["drawn"], "lead": f["lead"], "back": f["back"], "often": often, "stuff": stuff.usual()}  # fmt: skip
    if whole:
        acts = {"kind": "bead", "diameter": bore, "wall": wall, "depth": f["depth"], **shared}
    else:
        acts = {"kind": "arm", "called": "finger", "long": f["long"] - f["depth"], "thick": wall, "tip": wall, "wide": wide, "root": 0.0, "many": count, **shared}  # fmt: skip
    return Working(
        "Ring snap", tuple(givens), results, (_plot(strain, limit, undercut),),
        "The tube widens all round as a thin shell on itself, its end near the bead felt as by Hetényi; what snaps in is taken to be stiff."
        if whole else "Fingers as straight arms from the slots' floor, which is taken to be stiff; so is what snaps in.",
        acts,
    )  # fmt: skip


def _plot(strain: Array, limit: Array, undercut: Array) -> Plot:
    """Strain over undercut, which both ways of springing share: it grows evenly."""
    here = float(undercut[0])
    per = float(strain[0]) / here if here > 0 else 0.0
    across = np.linspace(0.0, max(2 * here, 0.2), 13)
    return Plot("undercut, mm a side", "strain, %", tuple((float(a), float(100 * per * a)) for a in across), 100 * float(limit[0]), (here, 100 * float(strain[0])))  # fmt: skip


_FINGERS = {"spring": ["fingers"]}
register_joint(
    JointFamily(
        step=StepKind(
            kind="ring_snap",
            title="Ring snap",
            group="join",
            about="A bead round a shaft that snaps into a groove of its bore, like a cap on a tube.",
            fields=RingSnapFields,
            specs=(
                FieldSpec("bore", "bore", "bore with the groove", missing="the bore round it"),
                FieldSpec("shaft", "shaft", "round side with the bead", missing="the round side of the inner part"),
                FieldSpec(
                    "end",
                    "choice",
                    "from which end",
                    "upper",
                    (Choice("upper", "the upper end"), Choice("lower", "the lower end")),
                ),
                FieldSpec("depth", "length", "how far behind the mouth", "5 mm"),
                FieldSpec("undercut", "length", "undercut a side", "0.4 mm"),
                FieldSpec("land", "length", "width of the bead's crest", "0.8 mm"),
                FieldSpec("lead", "angle", "slope on the way in", "30 deg"),
                FieldSpec("back", "angle", "slope on the way out", "45 deg"),
                FieldSpec(
                    "spring",
                    "choice",
                    "what springs",
                    "whole",
                    (Choice("whole", "the tube widens as a whole"), Choice("fingers", "the tube is slotted into")),
                ),
                FieldSpec("fingers", "number", "fingers", "6"),
                FieldSpec("slot", "length", "width of the slots", "1.5 mm"),
                FieldSpec("long", "length", "length of the slots", "14 mm"),
                USED,
                *fit_specs("the bead", "the groove"),
            ),
            sentence=said(
                "Join by a ring snap: a bead on ",
                "{shaft}",
                " into a groove in ",
                "{bore}",
                ", ",
                "{depth}",
                " behind ",
                "{end}",
                "; undercut ",
                "{undercut}",
                " a side, crest ",
                "{land}",
                " wide, in over ",
                "{lead}",
                " and out over ",
                "{back}",
                "; ",
                "{spring}",
                (" ", _FINGERS),
                ("{fingers}", _FINGERS),
                (" fingers by slots ", _FINGERS),
                ("{slot}", _FINGERS),
                (" wide and ", _FINGERS),
                ("{long}", _FINGERS),
                (" long", _FINGERS),
                ", used ",
                "{used}",
                "; ",
                *FIT_SAID,
                " in its groove",
            ),
            apply=_apply,
            prepare=drawn_figures,
            suits=("face",),
            words="annular bead groove cap lid tube click jar cover",
        ),
        outer="groove",
        inner="bead",
        meeting=_meeting,
        comes="sprung",
        wanted=wanted_of,
        goes_in="The bead finds its groove",
        holds="without too much play",
        facts=_facts,
        works=_works,
    )
)
