"""Snap hook: an arm on a flat face of one part, whose nose springs into a window or a pocket in a wall of another.

The arm stands beside the wall, clear of it by the gap; its nose reaches past the wall by the undercut, and must bend back by that on the way in. What holds is
the nose behind the window's edge. The gap is that between the nose and the sides of its window, and along the arm as well; what the printer takes of it, it also
adds to the undercut, for arm and wall both grow towards each other.

Where there is little room its arm is folded back on itself: a leg down from the face, half a circle, and a leg up again beside the wall, near whose end the nose is. It bends over both legs.

Or it snaps over the wall's far edge, as what holds a board or a bought thing: then the part lies between the face that the hook stands on and its nose, nothing of it is cut, and the arm is
as long as that asks for. The gap is that along the arm, half of it on either side.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Annotated, Literal

import numpy as np

from .. import solid as kernel
from ..calculators.arms import Arm, friction_factor, u_arm
from ..document import Project, Step
from ..document.compiled import compiled_step
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Angle, Changed, Length
from ..recipe import Choice, FieldSpec, JointShape, Mate, StepContext, StepKind, StepOutput, said
from ..solid import Arc, Curve, Frame, Line
from ..solid.frame import scale
from .family import (
    FIT_SAID,
    FitFields,
    JointFamily,
    Meeting,
    drawn_figures,
    figure,
    fit_specs,
    register_joint,
    wanted_of,
)
from .nose import NOSE_FLAT_MM, beside_wall, opened, seen_frame, slopes
from .sprung import USED, in_and_out
from .working import ROUNDED, Array, Draws, Given, Plot, Result, Working

__all__ = ["SnapHookFields"]

_STEPS = 49
#: between the face and the end of an arm that is folded back stays so much free beside the gap, mm
FREE_MM = 0.8
#: what is held lies on the hook's face within this, mm
ON_MM = 0.3


class SnapHookFields(FitFields):
    """``base`` is the face that the arm stands on, ``wall`` the one that it snaps into. Angles are those of the nose's slopes to the arm. A folded one goes back by ``fold`` from where it
    turns round by ``bend`` (the radius within); it is as thick all along."""

    base: Annotated[FlatFace | None, Changed()] = None
    wall: Annotated[FlatFace | None, Changed()] = None
    along: Length = "0 mm"
    shape: Literal["straight", "folded"] = "straight"
    long: Length = "16 mm"
    fold: Length = "12 mm"
    bend: Length = "1.5 mm"
    thick: Length = "1.4 mm"
    tip: Length = "0.9 mm"
    wide: Length = "6 mm"
    undercut: Length = "0.5 mm"
    lead: Angle = "30 deg"
    back: Angle = "45 deg"
    root: Length = "0.8 mm"
    used: Literal["once", "often"] = "often"
    opening: Literal["window", "pocket", "edge"] = "window"


def _meeting(fields: SnapHookFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    frame = seen_frame(ctx, fields.wall, fields.base)
    outer, inner = (p.part if p is not None else "" for p in (fields.wall, fields.base))
    wide = figures.get("wide", 0.0)
    if fields.opening == "edge":
        far = figures.get("far", 0.0)
        return Meeting(outer, inner, _along_arm(frame) if frame is not None else None, (far, far), along="x")
    return Meeting(outer, inner, frame, (wide, wide), along="y")


def _along_arm(frame: Frame) -> Frame:
    """A hook's frame turned so that ``x`` goes along its arm and ``z`` out of the wall."""
    return Frame(frame.origin, frame.z, scale(frame.y, -1.0))


def _prepare(project: Project, step: Step, figures: dict[str, float], ctx: StepContext | None) -> dict[str, float]:
    """How far it is to the edge that it snaps over, and the gap to draw."""
    fields: SnapHookFields = compiled_step(step).fields  # type: ignore[assignment]
    known: dict[str, float] = {}
    if ctx is not None and fields.opening == "edge" and fields.base is not None and fields.wall is not None:
        carrier, base = ctx.faces_named(fields.base, "base")
        held, wall = ctx.faces_named(fields.wall, "wall")
        at, out = carrier.faces[base].at, carrier.faces[base].normal
        known["far"] = float(((held.mesh.corners_of(wall) - np.array(at)) @ np.array(out)).max())
    return {**known, **drawn_figures(project, step, {**figures, **known}, ctx)}


def _arm_long(fields: SnapHookFields, figures: Mapping[str, float]) -> float:
    """The length of the arm to its catch, mm: as it is said, or so that the wall's edge meets the catch's slope after twice the gap."""
    if fields.opening != "edge":
        return figure(figures, "long")
    gap, back = figure(figures, "drawn"), figure(figures, "back")
    slope = 0.0 if back > math.radians(89.9) else gap / math.tan(back)
    return figures["far"] + 2 * gap - slope


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: SnapHookFields = ctx.fields
    carrier, host, wall, frame = beside_wall(ctx)
    assert fields.base is not None and fields.wall is not None
    sizes = _Sizes(ctx)
    arm = _arm(ctx, frame, sizes)
    if fields.opening == "edge":
        _lies_on_base(ctx, frame)
    made = kernel.fuse(carrier.solid, [arm], ctx.id)
    if made.lumps > carrier.solid.lumps:
        raise StepError(
            "The arm stands beside that face, not on it: the face must reach to within the gap of the wall.",
            field="base",
        )
    if fields.opening == "edge":
        joint = JointShape(
            fields.wall.part,
            fields.base.part,
            sizes.gap,
            (_over_edge(ctx, frame, sizes),),
            out=frame.z,
            seen=_seen(frame, sizes),
        )
        return StepOutput(parts={fields.base.part: made}, joint=joint)
    changed = opened(ctx, frame, sizes.at, sizes.nose, sizes.wide, sizes.undercut, sizes.gap, host, wall.normal)
    spare = 0.02 * sizes.nose
    mate = Mate(
        outer=(f"{ctx.id}/opening(left)", f"{ctx.id}/opening(right)"),
        inner=(f"{ctx.id}/arm(left)", f"{ctx.id}/arm(right)"),
        frame=frame,
        low_mm=-(sizes.at + sizes.nose) + spare,
        high_mm=-sizes.at - spare,
        sizes_mm=(sizes.wide + 2 * sizes.gap, sizes.wide + 2 * sizes.gap),
        middle_mm=(-sizes.undercut / 2, 0.0),
        along="y",
    )
    joint = JointShape(fields.wall.part, fields.base.part, sizes.gap, (mate,), seen=_seen(frame, sizes))
    return StepOutput(parts={fields.base.part: made, fields.wall.part: changed}, joint=joint)


def _seen(frame: Frame, s: _Sizes) -> tuple[Frame, float]:
    """The plane along the arm, square to the wall."""
    deep = max(s.at + s.nose, s.long + s.bend + s.thick)
    wide = s.gap + (2 * (s.bend + s.thick) if s.fold else s.thick)
    return Frame(frame.to_world(wide / 2, 0.0, -deep / 2), frame.x, frame.z), 0.6 * deep + 1.0


def _lies_on_base(ctx: StepContext, frame: Frame) -> None:
    """Refuse to hold what does not lie on the face that the hook stands on."""
    held, wall = ctx.faces_named(ctx.fields.wall, "wall")
    off = -float(((held.mesh.corners_of(wall) - np.array(frame.origin)) @ np.array(frame.z)).max())
    if abs(off) > ON_MM:
        raise StepError(f"What it holds must lie on the face that the hook stands on; it is {abs(off):.3g} mm {'away from' if off > 0 else 'in'} it.", field="wall")  # fmt: skip


def _over_edge(ctx: StepContext, frame: Frame, s: _Sizes) -> Mate:
    """How what is held lies between the face and the catch: the room for it is the hook's part."""
    fields: SnapHookFields = ctx.fields
    assert fields.base is not None and fields.wall is not None
    far, half = ctx.number("far"), s.wide / 2
    back = ctx.number("back")
    return Mate(
        outer=(f"{ctx.id}/arm(catch)", fields.base.face.name), inner=(fields.wall.face.name,), frame=_along_arm(frame), low_mm=-0.98 * s.undercut, high_mm=0.98 * s.gap,
        sizes_mm=(far + 2 * s.gap, s.wide), middle_mm=(-far / 2 - s.gap, 0.0), along="x", slant_rad=math.pi / 2 - back, reach_mm=4 * s.gap + 0.5,
        window_mm=((-far / 2 - s.gap, 0.0), (far / 2 + s.gap + s.nose, 0.98 * half)), seated=True, swapped=True, leans=True,
    )  # fmt: skip


class _Sizes:
    """The step's figures, checked against each other, mm and rad."""

    def __init__(self, ctx: StepContext) -> None:
        edge, folded = ctx.fields.opening == "edge", ctx.fields.shape == "folded"
        if edge and folded:
            raise StepError("A hook that snaps over an edge is straight.", field="shape")
        self.long = _arm_long(ctx.fields, ctx.figures) if edge else ctx.positive("long", "The length of the arm")
        self.thick = ctx.positive("thick", "The thickness at the root")
        self.tip = self.thick if folded else ctx.positive("tip", "The thickness at the tip")
        self.wide = ctx.positive("wide", "The width")
        self.undercut = ctx.positive("undercut", "The undercut")
        self.root = ctx.number("root")
        self.gap = max(0.0, ctx.number("drawn"))
        if ctx.number("drawn") <= 0:
            raise StepError("A hook needs a gap in its window; take a looser fit.", field="fit")
        lead, back = slopes(ctx)
        if self.tip > self.thick + 1e-9:
            raise StepError(f"The arm grows thinner to its tip: {self.thick:.4g} mm at most.", field="tip")
        if self.thick > self.long / 3:
            raise StepError(
                f"An arm {self.long:.4g} mm long does not bend but shears: at most {self.long / 3:.3g} mm thick."
                if edge
                else f"So short an arm does not bend but shears: at least {3 * self.thick:.4g} mm for this thickness.",
                field="thick" if edge else "long",
            )
        if self.root < 0:
            raise StepError("A rounding cannot be negative; 0 mm leaves it out.", field="root")
        if self.root > self.long / 3:
            raise StepError(f"The rounding takes the arm away: {self.long / 3:.3g} mm at most.", field="root")
        #: how far the nose reaches out of the arm, and its heights: catch, flat and lead
        self.reach = self.gap + self.undercut
        self.catch = 0.0 if back > math.radians(89.9) else self.reach / math.tan(back)
        #: a folded arm has its nose on the leg that comes back, and its slope ends on that; of a straight one it cuts half of the tip off
        cut = 0.0 if folded else 0.5 * self.tip
        self.lead_high = (self.reach + cut) / math.tan(lead)
        self.nose = self.catch + NOSE_FLAT_MM + self.lead_high
        #: how far from the face the nose begins
        self.at, self.fold, self.bend = self.long, 0.0, 0.0
        if folded:
            self._folded(ctx)

    def _folded(self, ctx: StepContext) -> None:
        self.fold, self.bend = (
            ctx.positive("fold", "What is folded back"),
            ctx.positive("bend", "The radius of the bend"),
        )
        self.at = self.long - self.fold
        if self.at < self.gap + FREE_MM:
            raise StepError(f"The end of what is folded back comes too near to the face: {max(0.0, self.long - self.gap - FREE_MM):.3g} mm at most.", field="fold")  # fmt: skip
        if self.fold < self.nose + self.thick:
            raise StepError(f"What is folded back is too short for its nose: at least {self.nose + self.thick:.3g} mm.", field="fold")  # fmt: skip
        if self.bend < 0.4:
            raise StepError("The bend is too tight to be printed: round it by 0.4 mm at least.", field="bend")


def _arm(ctx: StepContext, frame: Frame, s: _Sizes) -> kernel.NamedSolid:
    """The arm with its nose: an outline in the plane across wall and face, as wide as it is. It goes a little into the face, to grow together with it."""
    into = 0.2
    if s.fold:
        return _in_plane(ctx, frame, s, _folded_outline(s, into))
    g, back_root, back_tip = s.gap, s.gap + s.thick, s.gap + s.tip
    top = s.long + s.nose
    points = [
        ("front", (g, -into)),
        ("catch", (g, s.long)),
        ("flat", (-s.undercut, s.long + s.catch)),
        ("lead", (-s.undercut, s.long + s.catch + NOSE_FLAT_MM)),
        ("end", (g + 0.5 * s.tip, top)),
        ("back", (back_tip, top)),
    ]
    # the back leans from the root to the tip; its slope goes on to the nose's end
    lean = (s.thick - s.tip) / top
    curves: list[Curve] = [Line(name, a, b) for (name, a), (_, b) in zip(points, points[1:], strict=False)]
    if s.root > 0.05:
        r = s.root
        at = back_root - lean * r
        curves += [
            Line("back", (back_tip, top), (at, r)),
            Arc("root", (at + r, r), r, (at, r), (at + r, 0.0)),
            Line("foot", (at + r, 0.0), (at + r, -into)),
            Line("under", (at + r, -into), (g, -into)),
        ]
    else:
        curves += [
            Line("back", (back_tip, top), (back_root, 0.0)),
            Line("foot", (back_root, 0.0), (back_root, -into)),
            Line("under", (back_root, -into), (g, -into)),
        ]
    return _in_plane(ctx, frame, s, curves)


def _folded_outline(s: _Sizes, into: float) -> list[Curve]:
    """Down beside the free leg, round, up it to its end, over the nose, and back outside."""
    g, t, r = s.gap, s.thick, s.bend
    middle = (g + t + r, s.long)
    first, second = g + t + 2 * r, g + t
    outside = first + t
    nose = [(g, s.at), (-s.undercut, s.at + s.catch), (-s.undercut, s.at + s.catch + NOSE_FLAT_MM), (g, s.at + s.nose)]
    curves: list[Curve] = [
        Line("within", (first, -into), (first, s.long)), Arc("bend-inner", middle, r, (first, s.long), (second, s.long)),
        Line("back", (second, s.long), (second, s.at)), Line("end", (second, s.at), nose[0]),
        *(Line(n, a, b) for n, a, b in zip(("catch", "flat", "lead"), nose, nose[1:], strict=False)),
        Line("front", nose[3], (g, s.long)), Arc("bend", middle, r + t, (g, s.long), (outside, s.long), clockwise=True),
    ]  # fmt: skip
    if s.root > 0.05:
        curves += [
            Line("outside", (outside, s.long), (outside, s.root)), Arc("root", (outside + s.root, s.root), s.root, (outside, s.root), (outside + s.root, 0.0)),
            Line("foot", (outside + s.root, 0.0), (outside + s.root, -into)), Line("under", (outside + s.root, -into), (first, -into)),
        ]  # fmt: skip
    else:
        curves += [
            Line("outside", (outside, s.long), (outside, -into)),
            Line("under", (outside, -into), (first, -into)),
        ]
    return curves


def _in_plane(ctx: StepContext, frame: Frame, s: _Sizes, curves: list[Curve]) -> kernel.NamedSolid:
    regions = kernel.find_regions(curves)
    if len(regions) != 1:
        raise StepError("These sizes give no sound hook; change one of them.", field="undercut")
    # the outline lies in the plane of the wall's normal and the arm's way
    plane = Frame(frame.origin, frame.x, scale(frame.z, -1.0))
    return kernel.prism(regions[0], plane, -s.wide / 2, s.wide / 2, ctx.id).renamed(
        lambda n: {f"{ctx.id}/start": f"{ctx.id}/arm(left)", f"{ctx.id}/end": f"{ctx.id}/arm(right)"}.get(
            n, n.replace("/side(", "/arm(")
        )
    )


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _works(draws: Draws) -> Working | None:
    fields: SnapHookFields = draws.fields
    f, stuff = draws.figures, draws.inner
    if fields.opening == "edge" and "far" not in f:
        # how long its arm is only the parts say
        return None
    if fields.shape == "folded":
        return _works_folded(draws)
    long = _arm_long(fields, f)
    arm = Arm(long, f["thick"], f["wide"], f["tip"], f["wide"])
    at, times = arm.worst
    # what the printer takes of the gap between arm and wall comes on top of the undercut
    bend = np.maximum(f["undercut"] + f["drawn"] - draws.gap_mm, 0.0)
    root = arm.strain(bend)
    strain = root * times
    # the way of the joint's frame that the arm goes
    way = 0 if fields.opening == "edge" else 2
    limit, why = stuff.arm_limit(fields.used == "often", "its root", f["root"] < ROUNDED * f["thick"], way)
    across = arm.force_n(root, stuff.modulus_mpa)
    allowed = arm.bend_for(limit / times)
    results = (
        Result("undercut as printed", bend, "mm", draws.felt_mm, "least", "it slips off"),
        Result("strain where greatest", 100 * strain, "%", 100 * limit, "most", "the arm breaks", f"of {stuff.name}" + (f" ({why})" if why else ""), bears=stuff.bears),
        Result("undercut that it bears", allowed, "mm"),
        Result("force across", across, "N"),
        *in_and_out(draws, across, bend, "it lets go only when the arm is bent back"),
    )  # fmt: skip
    givens = (
        Given("length of the arm", arm.length_mm, "mm"), Given("thickness at root", arm.thick_mm, "mm"),
        Given("thickness at tip", arm.tip_thick_mm, "mm"), Given("width", arm.wide_mm, "mm"),
        Given("greatest strain from the tip", at * arm.length_mm, "mm", "its place along the arm"),
        Given(f"stiffness of {stuff.name}", float(stuff.modulus_mpa[0]), "MPa"),
        Given("friction", float(draws.friction[0]), ""),
    )  # fmt: skip
    acts = {
        "kind": "arm", "long": long, "thick": f["thick"], "tip": f["tip"], "wide": f["wide"], "undercut": f["undercut"], "gap": f["drawn"],
        "lead": f["lead"], "back": f["back"], "root": f["root"], "often": fields.used == "often", "stuff": stuff.usual(way),
    }  # fmt: skip
    return Working(
        "Snap arm", givens, results, (_strains(arm, times, bend, strain, limit), _way_in(arm, draws, bend)),
        "A bending arm of small deflection, its strain where it is greatest; the wall is taken to be stiff. By the sentence's figures: what later steps do to arm or wall is not in it.",
        acts,
    )  # fmt: skip


def _works_folded(draws: Draws) -> Working:
    """Both legs and the bend between them, by Castigliano's theorem; they bear most in the bend, or at the root."""
    fields: SnapHookFields = draws.fields
    f, stuff = draws.figures, draws.inner
    undercut = np.maximum(f["undercut"] + f["drawn"] - draws.gap_mm, 0.0)
    middle = f["bend"] + f["thick"] / 2
    # force and strain go with the modulus and the way; the inner side of the bend bears more than a straight arm would
    one = u_arm(f["fold"], middle, f["long"], f["thick"], f["wide"], 1.0, 1.0)
    times = max(one.strain * one.inner_factor if one.where == "bend" else one.strain, one.root_strain)
    strain = times * undercut
    limit, why = stuff.arm_limit(
        fields.used == "often", "its legs", f["root"] < ROUNDED * f["thick"] and one.where == "root"
    )
    across = one.force_n * stuff.modulus_mpa * undercut
    results = (
        Result("undercut as printed", undercut, "mm", draws.felt_mm, "least", "it slips off"),
        Result("strain where greatest", 100 * strain, "%", 100 * limit, "most", "the arm breaks", f"in its {one.where}, of {stuff.name}" + (f" ({why})" if why else ""), bears=stuff.bears),
        Result("undercut that it bears", limit / times, "mm"),
        Result("force across", across, "N"),
        *in_and_out(draws, across, undercut, "it lets go only when the arm is bent back"),
    )  # fmt: skip
    givens = (
        Given("leg that stands on the face", f["long"], "mm"), Given("leg that comes back", f["fold"], "mm"), Given("radius of the bend, to its middle", middle, "mm"),
        Given("thickness", f["thick"], "mm"), Given("width", f["wide"], "mm"), Given("more on the inner side of the bend", one.inner_factor, "", "Winkler's curved beam"),
        Given(f"stiffness of {stuff.name}", float(stuff.modulus_mpa[0]), "MPa"), Given("friction", float(draws.friction[0]), ""),
    )  # fmt: skip
    along = np.linspace(0.0, max(2 * float(undercut[0]), 0.1), 13)
    plot = Plot("undercut, mm", "greatest strain, %", tuple((float(a), float(100 * times * a)) for a in along), 100 * float(limit[0]), (float(undercut[0]), float(100 * strain[0])))  # fmt: skip
    acts = {
        "kind": "arm", "long": f["long"], "fold": f["fold"], "radius": middle, "thick": f["thick"], "tip": f["thick"], "wide": f["wide"], "undercut": f["undercut"], "gap": f["drawn"],
        "lead": f["lead"], "back": f["back"], "root": f["root"], "often": fields.used == "often", "stuff": stuff.usual(),
    }  # fmt: skip
    return Working(
        "Folded snap arm", givens, results, (plot,),
        "Bending of both legs and the half circle between them, pushed across at the end that comes back; the wall is taken to be stiff. By the sentence's figures.", acts,
    )  # fmt: skip


def _strains(arm: Arm, times: float, bend: Array, strain: Array, limit: Array) -> Plot:
    across = np.linspace(0.0, max(2 * float(bend[0]), 0.1), 13)
    up = 100 * times * arm.strain(across)
    points = tuple((float(a), float(u)) for a, u in zip(across, up, strict=True))
    return Plot("undercut, mm", "greatest strain, %", points, 100 * float(limit[0]), (float(bend[0]), 100 * float(strain[0])))  # fmt: skip


def _way_in(arm: Arm, draws: Draws, bend: Array) -> Plot:
    """Force over the way while it is pushed in, in the usual case: up the lead, along the flat, and gone."""
    lead, friction = draws.figures["lead"], float(draws.friction[0])
    most = float(bend[0])
    rise = most / math.tan(lead)
    way = np.r_[np.linspace(0.0, rise, _STEPS), rise, rise + NOSE_FLAT_MM, rise + NOSE_FLAT_MM, rise + NOSE_FLAT_MM + 0.5]  # fmt: skip
    across = arm.force_n(arm.strain(np.minimum(way * math.tan(lead), most)), float(draws.inner.modulus_mpa[0]))
    factor = float(friction_factor(friction, lead))
    force = np.r_[across[:_STEPS] * factor, across[_STEPS : _STEPS + 2] * friction, 0.0, 0.0]
    k = int(force.argmax())
    points = tuple((float(a), float(u)) for a, u in zip(way, force, strict=True))
    return Plot("way in, mm", "force, N", points, None, points[k])


_CUT = {"opening": ["window", "pocket"]}
_STRAIGHT, _FOLDED = {"shape": ["straight"]}, {"shape": ["folded"]}
_KIND = StepKind(
    kind="snap_hook",
    title="Snap hook",
    group="join",
    about="An arm that springs into a window or a pocket of another part's wall, or over its edge, and is told whether it breaks.",
    fields=SnapHookFields,
    specs=(
        FieldSpec("base", "face", "face that it stands on", missing="the face that it stands on"),
        FieldSpec("wall", "face", "wall that it snaps into", missing="the wall that it snaps into"),
        FieldSpec("along", "length", "how far along from the wall's middle", "0 mm"),
        FieldSpec("shape", "choice", "shape of the arm", "straight", (Choice("straight", "a straight arm"), Choice("folded", "an arm folded back on itself"))),
        FieldSpec("long", "length", "length of the arm", "16 mm"),
        FieldSpec("fold", "length", "how far it is folded back", "12 mm"),
        FieldSpec("bend", "length", "radius within the bend", "1.5 mm"),
        FieldSpec("thick", "length", "thickness at the root", "1.4 mm"),
        FieldSpec("tip", "length", "thickness at the tip", "0.9 mm"),
        FieldSpec("wide", "length", "width", "6 mm"),
        FieldSpec("undercut", "length", "undercut", "0.5 mm"),
        FieldSpec("lead", "angle", "slope on the way in", "30 deg"),
        FieldSpec("back", "angle", "slope on the way out", "45 deg"),
        FieldSpec("root", "length", "rounding at the root", "0.8 mm"),
        USED,
        FieldSpec("opening", "choice", "what it snaps into", "window", (Choice("window", "into a window through"), Choice("pocket", "into a pocket in"), Choice("edge", "over the far edge of"))),
        *fit_specs("the hook", "the opening"),
    ),
    sentence=said(
        "Join by a snap hook on ",
        "{base}",
        " ",
        "{opening}",
        " ",
        "{wall}",
        ", ",
        "{along}",
        " along; ",
        "{shape}",
        ", ",
        ("{long}", _CUT),
        (" long, ", _CUT),
        ("{fold}", _FOLDED),
        (" back round ", _FOLDED),
        ("{bend}", _FOLDED),
        (", ", _FOLDED),
        "{thick}",
        " thick",
        (" at its root and ", _STRAIGHT),
        ("{tip}", _STRAIGHT),
        (" at its tip", _STRAIGHT),
        ", ",
        "{wide}",
        " wide, rounded ",
        "{root}",
        "; undercut ",
        "{undercut}",
        ", in over ",
        "{lead}",
        " and out over ",
        "{back}",
        ", used ",
        "{used}",
        "; ",
        *FIT_SAID,
        (" in its opening", _CUT),
    ),
    apply=_apply,
    prepare=_prepare,
    # a flat face is mostly pointed at for something simpler
    suits=("plane", "part", "face"),
    words="clip latch catch cantilever barb hatch spring",
)  # fmt: skip

register_joint(
    JointFamily(
        step=_KIND,
        outer="opening",
        inner="hook",
        meeting=_meeting,
        comes="sprung",
        wanted=wanted_of,
        goes_in="The hook finds its opening",
        holds="without too much play",
        works=_works,
    )
)
