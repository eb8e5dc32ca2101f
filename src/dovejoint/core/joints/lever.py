"""Torsion lever: a lever beside a wall that rocks on two bars between posts; its nose springs into a window or a pocket, and pressing its other end lets it go.

The posts stand on a flat face of one part, the bars lie square to the lever between them and it. On the way in the nose is bent back by the undercut, and the bars are
twisted by that over the lever's length. The end that is pressed lies near the face, and leans back so far from the wall that it has room to be pressed in.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np

from .. import solid as kernel
from ..calculators.materials import OFTEN
from ..calculators.rings import bar_stiffness
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Angle, Changed, Length
from ..recipe import Choice, FieldSpec, JointShape, Mate, StepContext, StepKind, StepOutput, said
from ..solid import Curve, Frame, Line
from ..solid.frame import scale
from .family import FIT_SAID, FitFields, JointFamily, Meeting, drawn_figures, fit_specs, register_joint, wanted_of
from .flats import block_named
from .nose import NOSE_FLAT_MM, beside_wall, opened, seen_frame, slopes
from .sprung import USED, in_and_out
from .working import SHARP, Draws, Given, Plot, Result, Working

__all__ = ["LeverFields"]

#: what grows together goes so far into each other, mm
INTO_MM = 0.2
#: the pressed end keeps clear of the face by this, and its way has so much to spare, mm
CLEAR_MM, SPARE_MM = 1.0, 0.3
#: the lever is at least so thick at its pressed end, mm
LEAST_MM = 0.8
#: a post is so many times as thick as the bars, and goes on over them by this, mm
POST, OVER_MM = 1.6, 1.0


class LeverFields(FitFields):
    """``base`` is the face that the posts stand on, ``wall`` the one that the nose springs into. ``long`` is from the bars to the nose, ``short`` from the bars to the end that is pressed;
    ``bar`` how thick the square bars are and ``span`` how long each. Angles are those of the nose's slopes to the lever."""

    base: Annotated[FlatFace | None, Changed()] = None
    wall: Annotated[FlatFace | None, Changed()] = None
    along: Length = "0 mm"
    long: Length = "16 mm"
    short: Length = "8 mm"
    thick: Length = "3 mm"
    wide: Length = "8 mm"
    bar: Length = "2.2 mm"
    span: Length = "7 mm"
    undercut: Length = "0.6 mm"
    lead: Angle = "30 deg"
    back: Angle = "80 deg"
    used: Literal["once", "often"] = "often"
    opening: Literal["window", "pocket"] = "window"


def _meeting(fields: LeverFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    frame = seen_frame(ctx, fields.wall, fields.base)
    outer, inner = (p.part if p is not None else "" for p in (fields.wall, fields.base))
    wide = figures.get("wide", 0.0)
    return Meeting(outer, inner, frame, (wide, wide), along="y")


# ---- its geometry ----------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class _Sizes:
    """The step's figures, checked against each other, mm: heights count from the face. ``travel`` is how far the pressed end must come."""

    gap: float
    long: float
    short: float
    thick: float
    wide: float
    bar: float
    span: float
    undercut: float
    catch: float
    nose: float
    travel: float

    @property
    def bars(self) -> float:
        """How high the bars lie."""
        return CLEAR_MM + self.short

    @property
    def begins(self) -> float:
        """How high the nose begins."""
        return self.bars + self.long


def _sizes(ctx: StepContext) -> _Sizes:
    named = {"long": "The lever", "short": "The pressed end", "thick": "The thickness", "wide": "The width", "bar": "The bars' thickness", "span": "The bars' length", "undercut": "The undercut"}  # fmt: skip
    f = {name: ctx.positive(name, what) for name, what in named.items()}
    gap = ctx.number("drawn")
    if gap <= 0:
        raise StepError("A nose needs a gap in its window; take a looser fit.", field="fit")
    lead, back = slopes(ctx)
    if f["bar"] > f["thick"] + 1e-9:
        raise StepError(f"The bars are as thick as the lever at most: {f['thick']:.4g} mm.", field="bar")
    if f["long"] < 2 * f["bar"]:
        raise StepError(f"So near to its bars the nose does not rock but bends: at least {2 * f['bar']:.4g} mm.", field="long")  # fmt: skip
    if f["short"] < f["bar"]:
        raise StepError(f"The end that is pressed reaches beyond the bars: at least {f['bar']:.4g} mm.", field="short")
    reach = gap + f["undercut"]
    travel = reach * f["short"] / f["long"] + SPARE_MM
    if f["thick"] - travel < LEAST_MM:
        raise StepError(f"The pressed end must come {travel:.2g} mm towards the wall, which leaves nothing of the lever; make it {travel + LEAST_MM:.2g} mm thick, or that end shorter.", field="thick")  # fmt: skip
    catch = 0.0 if back > math.radians(89.9) else reach / math.tan(back)
    nose = catch + NOSE_FLAT_MM + (reach + f["thick"] / 2) / math.tan(lead)
    return _Sizes(gap, **f, catch=catch, nose=nose, travel=travel)


def _apply(ctx: StepContext) -> StepOutput:
    fields: LeverFields = ctx.fields
    carrier, host, wall, frame = beside_wall(ctx)
    assert fields.base is not None and fields.wall is not None
    s = _sizes(ctx)
    bars, posts = _bars_and_posts(ctx, frame, s)
    foot = INTO_MM * s.thick * _post(s)
    if any(kernel.common(carrier.solid, post)[0] < foot * (1 - 1e-3) for post in posts):
        raise StepError("The posts stand beside that face, not on it: it must reach to within the gap of the wall, and as far as both posts.", field="base")  # fmt: skip
    made = kernel.fuse(carrier.solid, [_lever(ctx, frame, s), *bars, *posts], ctx.id)
    changed = opened(ctx, frame, s.begins, s.nose, s.wide, s.undercut, s.gap, host, wall.normal)
    spare = 0.02 * s.nose
    size = s.wide + 2 * s.gap
    mate = Mate(
        outer=(f"{ctx.id}/opening(left)", f"{ctx.id}/opening(right)"), inner=(f"{ctx.id}/lever(left)", f"{ctx.id}/lever(right)"), frame=frame,
        low_mm=-(s.begins + s.nose) + spare, high_mm=-s.begins - spare, sizes_mm=(size, size), middle_mm=(-s.undercut / 2, 0.0), along="y",
    )  # fmt: skip
    deep = s.begins + s.nose
    seen = (Frame(frame.to_world(s.gap + s.thick / 2, 0.0, -deep / 2), frame.x, frame.z), 0.6 * deep + 1.0)
    joint = JointShape(fields.wall.part, fields.base.part, s.gap, (mate,), seen=seen)
    return StepOutput(parts={fields.base.part: made, fields.wall.part: changed}, joint=joint)


def _lever(ctx: StepContext, frame: Frame, s: _Sizes) -> kernel.NamedSolid:
    """The lever with its nose: an outline in the plane across wall and face, as wide as it is."""
    g, top = s.gap, s.begins + s.nose
    points = [
        ("pressed", (g + s.travel, CLEAR_MM)), ("front", (g, s.bars)), ("catch", (g, s.begins)), ("flat", (-s.undercut, s.begins + s.catch)),
        ("lead", (-s.undercut, s.begins + s.catch + NOSE_FLAT_MM)), ("end", (g + s.thick / 2, top)), ("back", (g + s.thick, top)), ("head", (g + s.thick, CLEAR_MM)),
    ]  # fmt: skip
    curves: list[Curve] = [Line(n, a, b) for (n, a), (_, b) in zip(points, [*points[1:], points[0]], strict=True)]
    regions = kernel.find_regions(curves)
    if len(regions) != 1:
        raise StepError("These sizes give no sound lever; change one of them.", field="undercut")
    plane = Frame(frame.origin, frame.x, scale(frame.z, -1.0))
    ends = {f"{ctx.id}/start": f"{ctx.id}/lever(left)", f"{ctx.id}/end": f"{ctx.id}/lever(right)"}
    return kernel.prism(regions[0], plane, -s.wide / 2, s.wide / 2, ctx.id).renamed(
        lambda n: ends.get(n, n.replace("/side(", "/lever("))
    )


def _post(s: _Sizes) -> float:
    """How thick a post is along the bars, mm."""
    return max(2.0, POST * s.bar)


def _bars_and_posts(ctx: StepContext, frame: Frame, s: _Sizes) -> tuple[list[kernel.NamedSolid], list[kernel.NamedSolid]]:  # fmt: skip
    """On either side of the lever a bar, and the post that it ends in."""
    bars, posts = [], []
    middle = s.gap + s.thick / 2
    for k, side in enumerate((-1.0, 1.0), 1):
        at = Frame(frame.to_world(middle, side * (s.wide + s.span) / 2), frame.x, frame.y)
        bars.append(block_named(at, s.bar, s.span + 2 * INTO_MM, -s.bars - s.bar / 2, -s.bars + s.bar / 2, ctx.id, f"bar{k}"))  # fmt: skip
        stand = Frame(frame.to_world(middle, side * (s.wide / 2 + s.span + _post(s) / 2)), frame.x, frame.y)
        posts.append(block_named(stand, s.thick, _post(s), -s.bars - s.bar / 2 - OVER_MM, INTO_MM, ctx.id, f"post{k}"))
    return bars, posts


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _works(draws: Draws) -> Working:
    """Two square bars twisted by the nose's way over the lever's length (Saint-Venant); the lever itself is taken to be stiff."""
    fields: LeverFields = draws.fields
    f, stuff = draws.figures, draws.inner
    bend = np.maximum(f["undercut"] + f["drawn"] - draws.gap_mm, 0.0)
    turn = bend / f["long"]
    stiff, section = bar_stiffness(f["bar"], f["bar"])
    poisson = stuff.material.poisson
    shear_mpa = stuff.modulus_mpa / (2 * (1 + poisson))
    moment = shear_mpa * stiff * turn / f["span"]
    strain = stiff * turn / (section * f["span"])
    # shear that is as bad as a pull: τ = σ/√3 (von Mises), γ = τ/G; bars that stand upright are twisted off between two layers
    stands = abs(stuff.up[1]) if stuff.material.plastic else 0.0
    often = fields.used == "often"
    limit = 2 * (1 + poisson) / math.sqrt(3) * stuff.strain_once * stuff.layered(1) * SHARP * (OFTEN if often else 1.0)
    why = " and ".join(w for w, is_so in (("layers across the bars", stands > 0.5), ("twisted often", often), ("sharp corners", True)) if is_so)  # fmt: skip
    across = 2 * moment / f["long"]
    results = (
        Result("undercut as printed", bend, "mm", draws.felt_mm, "least", "it slips off"),
        Result("shear of the bars", 100 * strain, "%", 100 * limit, "most", "the bars crack", f"of {stuff.name} ({why})", bears=stuff.bears),
        Result("the lever turns by", np.degrees(turn), "°"),
        *in_and_out(draws, across, bend, "it lets go only when its end is pressed"),
        Result("force to press it open", 2 * moment / f["short"], "N", note="at its end, until the nose is free"),
        Result("way to press it", bend * f["short"] / f["long"], "mm"),
    )  # fmt: skip
    givens = (
        Given("from the bars to the nose", f["long"], "mm"), Given("from the bars to the pressed end", f["short"], "mm"), Given("thickness of the bars", f["bar"], "mm"),
        Given("length of each bar", f["span"], "mm"), Given(f"stiffness of {stuff.name} in shear", float(shear_mpa[0]), "MPa", "E/(2 + 2ν)"), Given("friction", float(draws.friction[0]), ""),
    )  # fmt: skip
    acts = {
        "kind": "lever", "long": f["long"], "short": f["short"], "bar": f["bar"], "span": f["span"], "undercut": f["undercut"], "gap": f["drawn"], "lead": f["lead"],
        "back": f["back"], "often": often, "stuff": {**stuff.usual(), "upright": stands},
    }  # fmt: skip
    most = max(2 * float(bend[0]), 0.1)
    points = tuple((float(b), float(100 * stiff * b / f["long"] / (section * f["span"]))) for b in np.linspace(0.0, most, 13))  # fmt: skip
    plot = Plot("undercut, mm", "shear of the bars, %", points, 100 * float(limit[0]), (float(bend[0]), 100 * float(strain[0])))  # fmt: skip
    return Working(
        "Lever on twisted bars", givens, results, (plot,),
        "Two square bars in torsion (Saint-Venant's series); lever and posts are taken to be stiff, so it is a little softer in truth. By the sentence's figures: what later steps do to it is not in it.",
        acts,
    )  # fmt: skip


register_joint(
    JointFamily(
        step=StepKind(
            kind="lever",
            title="Torsion lever",
            group="join",
            about="A lever that rocks on two bars; its nose springs into another part's wall, and pressing its end lets it go.",
            fields=LeverFields,
            specs=(
                FieldSpec("base", "face", "face that its posts stand on", missing="the face that its posts stand on"),
                FieldSpec("wall", "face", "wall that it snaps into", missing="the wall that it snaps into"),
                FieldSpec("along", "length", "how far along from the wall's middle", "0 mm"),
                FieldSpec("long", "length", "from the bars to the nose", "16 mm"),
                FieldSpec("short", "length", "from the bars to the pressed end", "8 mm"),
                FieldSpec("thick", "length", "thickness of the lever", "3 mm"),
                FieldSpec("wide", "length", "width of the lever", "8 mm"),
                FieldSpec("bar", "length", "thickness of the bars", "2.2 mm"),
                FieldSpec("span", "length", "length of each bar", "7 mm"),
                FieldSpec("undercut", "length", "undercut", "0.6 mm"),
                FieldSpec("lead", "angle", "slope on the way in", "30 deg"),
                FieldSpec("back", "angle", "slope on the way out", "80 deg"),
                USED,
                FieldSpec("opening", "choice", "what it snaps into", "window", (Choice("window", "a window through"), Choice("pocket", "a pocket in"))),
                *fit_specs("the lever", "the opening"),
            ),
            sentence=said(
                "Join by a torsion lever on ", "{base}", " into ", "{opening}", " ", "{wall}", ", ", "{along}", " along: ", "{long}", " from its bars to the nose and ", "{short}",
                " to the end that is pressed, ", "{thick}", " thick and ", "{wide}", " wide, on bars ", "{bar}", " thick and ", "{span}", " long each; undercut ", "{undercut}", ", in over ",
                "{lead}", " and out over ", "{back}", ", used ", "{used}", "; ", *FIT_SAID, " in its opening",
            ),
            apply=_apply,
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="latch catch release press button rock twist squeeze open clip",
        ),
        outer="opening",
        inner="lever",
        meeting=_meeting,
        comes="sprung",
        wanted=wanted_of,
        goes_in="The nose finds its opening",
        holds="without too much play",
        works=_works,
    )
)  # fmt: skip
