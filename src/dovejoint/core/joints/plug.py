"""Split plug: a round pin with a barb, slit so that its parts spring together, pushed through a hole of another part's wall.

The plug stands on a flat face and goes through the wall that lies on it, or close by: the barb comes out on the far side and holds there by the undercut. The gap is that
between plug and hole; what the printer takes of it adds to the undercut.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from .. import solid as kernel
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Angle, Changed, Length, PartMark
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, said
from ..solid import Axis, Frame
from ..solid.frame import scale
from .family import (
    FIT_SAID,
    BedEdge,
    FitFields,
    JointFamily,
    Meeting,
    Per,
    drawn_figures,
    fit_specs,
    other_half,
    register_joint,
    wanted_of,
)
from .flats import stands_and_host
from .mating import facing
from .shaft_in_bore import with_mouth
from .sprung import USED, in_and_out, slits, slope
from .working import Array, Draws, Given, Plot, Result, Working

__all__ = ["PlugFields"]

#: what grows together goes this far into each other, mm
INTO_MM = 0.2
#: the flat of the barb between its slopes, mm
LAND_MM = 0.4
#: what is left of the pin at its tip, as a share of its radius
TIP = 0.55
#: the wall lies on the face, or no farther from it than this, mm
LOOK_MM = 40.0
#: what stays of a wall round the hole, mm
WALL_MM = 1.2


class PlugFields(FitFields):
    """``slits`` one or two of a width, from the tip down to ``long`` below the wall's far side; ``undercut`` (a side) is how far the barb stands out over the hole."""

    base: Annotated[FlatFace | None, Changed()] = None
    host: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    right: Length = "0 mm"
    up: Length = "0 mm"
    diameter: Length = "7 mm"
    undercut: Length = "0.4 mm"
    lead: Angle = "30 deg"
    back: Angle = "45 deg"
    slits: Literal["one", "two"] = "one"
    slit: Length = "1.6 mm"
    long: Length = "9 mm"
    mouth: Length = "0.4 mm"
    used: Literal["once", "often"] = "often"


def _per(fields: PlugFields) -> Per:
    return "diameter"


def _meeting(fields: PlugFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    pick, frame = fields.base, None
    normal = facing(ctx, pick, "base")
    if normal is not None:
        frame = Frame.on_plane((0.0, 0.0, 0.0), scale(normal, -1.0))
    size = figures.get("diameter", 0.0)
    edges = (BedEdge(True, "the mouth of the hole", figures.get("mouth", 0.0), True),)
    return Meeting(
        fields.host, pick.part if pick is not None else "", frame, (size, size), round_hole=True, edges=edges
    )


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: PlugFields = ctx.fields
    carrier, found, host = stands_and_host(ctx, "the plug stands", "the plug goes through")
    assert fields.base is not None
    face = carrier.faces[found]
    plane = Frame.on_plane(face.at, face.normal)
    u, v, _ = plane.to_local(face.at)
    frame = Frame(plane.to_world(u + ctx.number("right"), v + ctx.number("up")), plane.x, plane.y)
    near, far = _wall(host, frame)
    s = _Sizes(ctx, near, far)
    for k in range(16):
        turn = 2 * math.pi * k / 16
        place = frame.to_world((s.hole + WALL_MM) * math.cos(turn), (s.hole + WALL_MM) * math.sin(turn))
        if len([h for h in kernel.meets_at(host.solid, Axis(place, frame.z)) if near - 1e-6 <= h <= far + 1e-6]) < 2:
            raise StepError("The hole would come too near to the edge of that wall; move the plug.", field="right")
    pin = kernel.lathed(frame, s.outline(), ("foot", "plug", "back", "barb", "lead", "tip", "middle"), ctx.id)
    turns = (0.0,) if fields.slits == "one" else (0.0, math.pi / 2)
    tools = slits(frame, turns, (-2 * s.barb, 2 * s.barb), s.slit, far - s.long, far + s.end + 1.0, ctx.id, "slit")
    slitted = kernel.cut(pin, tools, ctx.id)
    made = kernel.fuse(carrier.solid, [slitted], ctx.id)
    if made.lumps > carrier.solid.lumps:
        raise StepError("The plug would stand beside that face; move it onto it.", field="right")
    changed = kernel.cut(host.solid, [kernel.bar(frame, s.hole, near - 1.0, far + 1.0, ctx.id, "hole")], ctx.id)
    mouth_mm = ctx.number("mouth")
    if not 0 <= mouth_mm < (far - near) / 2:
        raise StepError(f"The chamfer at the mouth is from 0 to {(far - near) / 2:.3g} mm here.", field="mouth")
    mouth = Frame(frame.to_world(0.0, 0.0, near), frame.x, scale(frame.y, -1.0))
    if mouth_mm > 0:
        changed = with_mouth(changed, (f"{ctx.id}/hole",), mouth, mouth_mm, ctx.id)
    spare = 0.02 * (far - near)
    mate = Mate(
        outer=(f"{ctx.id}/hole",), inner=(f"{ctx.id}/plug",), frame=mouth, low_mm=-(far - near) + spare, high_mm=-max(mouth_mm, 0.05) * 1.02, sizes_mm=(2 * s.hole, 2 * s.hole),
        round_hole=True, reach_mm=s.gap + 1.0, seated=True,
    )  # fmt: skip
    return StepOutput(parts={fields.base.part: made, fields.host: changed}, joint=JointShape(fields.host, fields.base.part, s.gap, (mate,)))  # fmt: skip


def _wall(host: PartState, frame: Frame) -> tuple[float, float]:
    """From where to where the wall goes that the plug stands before, over the face, mm."""
    places = kernel.meets_at(host.solid, Axis(frame.origin, frame.z))
    ahead = [s for s in zip(places[::2], places[1::2], strict=False) if -1e-3 <= s[0] <= LOOK_MM]
    if not ahead:
        raise StepError("No wall of that part lies over this face; move the plug, or pick another part.", field="host")
    return ahead[0]


class _Sizes:
    """The step's figures, checked against each other; radii and heights over the face, mm."""

    def __init__(self, ctx: StepContext, near_mm: float, far_mm: float) -> None:
        self.gap = ctx.number("drawn")
        if self.gap <= 0:
            raise StepError("A plug needs a gap in its hole; take a looser fit.", field="fit")
        self.hole = ctx.positive("diameter", "The hole") / 2
        self.pin = self.hole - self.gap
        if self.pin < 1.0:
            raise StepError("The gap leaves nothing of the plug; make the hole larger.", field="diameter")
        self.undercut, self.slit = ctx.positive("undercut", "The undercut"), ctx.positive("slit", "The slit")
        self.lead, self.back = slope(ctx, "lead", 60.0), slope(ctx, "back", 90.0)
        self.barb = self.hole + self.undercut
        if self.slit > 1.2 * self.pin:
            raise StepError(f"So wide a slit leaves no arms: {1.2 * self.pin:.3g} mm is the most.", field="slit")
        self.long = ctx.positive("long", "The slit's length")
        if self.long > far_mm - INTO_MM:
            raise StepError(f"The slit goes into the face: {far_mm - INTO_MM:.4g} mm is the most.", field="long")
        # the barb begins a gap behind the wall, so that it does not clamp it
        self.begin = far_mm + self.gap
        self.near, self.far = near_mm, far_mm
        square = self.back > math.radians(89.9)
        self.back_mm = 0.0 if square else (self.barb - self.pin) / math.tan(self.back)
        self.tip = TIP * self.pin
        self.end = self.gap + self.back_mm + LAND_MM + (self.barb - self.tip) / math.tan(self.lead)

    def outline(self) -> list[tuple[float, float]]:
        crest = self.begin + self.back_mm
        end = self.far + self.end
        return [
            (0.0, -INTO_MM), (self.pin, -INTO_MM), (self.pin, self.begin), (self.barb, crest), (self.barb, crest + LAND_MM), (self.tip, end), (0.0, end),
        ]  # fmt: skip


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def section_of(radius_mm: float, slit_mm: float, parts: int) -> tuple[float, float, float]:
    """What one of ``parts`` (2 or 4) of a slit round pin is like where it bends, about its own middle across the way it moves: second moment of area (mm⁴), how far
    its outermost fibre is from its middle (mm), and its area (mm²). By thin strips across the way in which it moves."""
    n = 4000
    if parts == 2:
        x = slit_mm / 2 + (radius_mm - slit_mm / 2) * (np.arange(n) + 0.5) / n
        wide = 2 * np.sqrt(np.maximum(radius_mm**2 - x**2, 0.0))
        step = (radius_mm - slit_mm / 2) / n
    else:
        # a quarter moves along its own diagonal: from the corner of the slits outwards
        corner = slit_mm / math.sqrt(2)
        x = corner + (radius_mm - corner) * (np.arange(n) + 0.5) / n
        wide = 2 * np.minimum(x - corner, np.sqrt(np.maximum(radius_mm**2 - x**2, 0.0)))
        step = (radius_mm - corner) / n
    area = float(wide.sum() * step)
    middle = float((wide * x).sum() * step) / area
    moment = float((wide * (x - middle) ** 2).sum() * step)
    return moment, max(radius_mm - middle, middle - float(x[0])), area


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    mate = shape.mates[0]
    return {"wall": (mate.high_mm - mate.low_mm) / 0.96}


def _works(draws: Draws) -> Working:
    fields: PlugFields = draws.fields
    f, stuff = draws.figures, draws.inner
    parts = 2 if fields.slits == "one" else 4
    pin = f["diameter"] / 2 - f["drawn"]
    moment, fibre, _ = section_of(pin, f["slit"], parts)
    # what the printer takes of the gap comes on top of the undercut
    undercut = np.maximum(f["undercut"] + f["drawn"] - draws.gap_mm, 0.0)
    # an arm that is bent by its end: ε = 3·y·c/L², P = 3·E·I·y/L³
    strain = 3 * undercut * fibre / f["long"] ** 2
    across = 3 * stuff.modulus_mpa * moment * undercut / f["long"] ** 3
    limit, why = stuff.arm_limit(fields.used == "often", "their roots", True)
    room = f["slit"] / (2 if parts == 2 else math.sqrt(2))
    results = (
        Result("undercut as printed, a side", undercut, "mm", draws.felt_mm, "least", "it slips out"),
        Result("strain at the arms' roots", 100 * strain, "%", 100 * limit, "most", "an arm breaks", f"of {stuff.name}" + (f" ({why})" if why else ""), stuff.bears),
        Result("its arms bend inwards by", undercut, "mm", room, "most", "its arms meet in the slit before it is in", "(what the slit leaves)"),
        *in_and_out(draws, parts * across, undercut, "it comes out only when its arms are pressed together"),
    )  # fmt: skip
    givens = (
        Given("arms", float(parts), ""), Given("their length, from the slit's floor to the wall's far side", f["long"], "mm"),
        Given("second moment of area of one", moment, "mm⁴"), Given("its outermost fibre from its middle", fibre, "mm"),
        Given(f"stiffness of {stuff.name}", float(stuff.modulus_mpa[0]), "MPa"), Given("friction", float(draws.friction[0]), ""),
    )  # fmt: skip
    # the hands know only arms of a plain section: one as stiff, and as thick
    acts = {
        "kind": "arm", "called": "arm of the plug", "long": f["long"], "thick": 2 * fibre, "tip": 2 * fibre, "wide": 12 * moment / (2 * fibre) ** 3, "undercut": f["undercut"],
        "gap": f["drawn"], "lead": f["lead"], "back": f["back"], "root": 0.0, "often": fields.used == "often", "many": parts, "stuff": stuff.usual(),
    }  # fmt: skip
    return Working(
        "Split plug", givens, results, (_plot(fibre, f["long"], undercut, strain, limit),),
        "Its parts as arms from the slit's floor, of the section that they have; the wall is taken to be stiff. By the sentence's figures: what later steps do to plug or wall is not in it.", acts,
    )  # fmt: skip


def _plot(fibre: float, long: float, undercut: Array, strain: Array, limit: Array) -> Plot:
    across = np.linspace(0.0, max(2 * float(undercut[0]), 0.2), 13)
    points = tuple((float(a), 100 * 3 * float(a) * fibre / long**2) for a in across)
    return Plot("undercut, mm a side", "strain, %", points, 100 * float(limit[0]), (float(undercut[0]), 100 * float(strain[0])))  # fmt: skip


register_joint(
    JointFamily(
        step=StepKind(
            kind="plug",
            title="Split plug",
            group="join",
            about="A slit pin with a barb that springs through a hole of another part and holds behind it.",
            fields=PlugFields,
            specs=(
                FieldSpec("base", "face", "face that the plug stands on", missing="the face that it stands on"),
                FieldSpec("host", "part", "part with the hole", missing="the part that it goes through"),
                FieldSpec("right", "length", "to the right", "0 mm"),
                FieldSpec("up", "length", "upwards", "0 mm"),
                FieldSpec("diameter", "length", "diameter of the hole", "7 mm"),
                FieldSpec("undercut", "length", "undercut a side", "0.4 mm"),
                FieldSpec("lead", "angle", "slope on the way in", "30 deg"),
                FieldSpec("back", "angle", "slope on the way out", "45 deg"),
                FieldSpec(
                    "slits", "choice", "slits", "one", (Choice("one", "slit once"), Choice("two", "slit crosswise"))
                ),
                FieldSpec("slit", "length", "width of the slit", "1.6 mm"),
                FieldSpec("long", "length", "its length below the wall's far side", "9 mm"),
                FieldSpec("mouth", "length", "chamfer at the hole's mouth", "0.4 mm"),
                USED,
                *fit_specs("the plug", "the hole"),
            ),
            sentence=said(
                "Join by a split plug on ",
                "{base}",
                ", ",
                "{right}",
                " right and ",
                "{up}",
                " up from its middle, through ",
                "{host}",
                "; hole Ø ",
                "{diameter}",
                ", undercut ",
                "{undercut}",
                " a side, in over ",
                "{lead}",
                " and out over ",
                "{back}",
                ", ",
                "{slits}",
                " ",
                "{slit}",
                " wide and ",
                "{long}",
                " deep, mouth ",
                "{mouth}",
                ", used ",
                "{used}",
                "; ",
                *FIT_SAID,
                " in its hole",
            ),
            apply=_apply,
            begin=other_half("base"),
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="rivet pin push fastener barb clip dowel snap",
        ),
        outer="hole",
        inner="plug",
        meeting=_meeting,
        comes="sprung",
        wanted=wanted_of,
        goes_in="The plug goes through its hole",
        holds="without too much play",
        per=_per,
        facts=_facts,
        works=_works,
    )
)
