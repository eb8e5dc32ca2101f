"""Ball: a ball on a post of one part, in a slotted socket on another, which wraps beyond the ball's middle and springs open for it.

The two faces look at each other; the socket stands on one of them, the post on the other, in one line. What of the wrap is narrower than the ball is the undercut, which
the fingers between the slots bend open by. The gap is that between ball and socket all round; what the printer takes of it adds to the undercut.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Annotated, Literal

import numpy as np

from .. import solid as kernel
from ..calculators.rings import Ball, swing_rad
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Angle, Changed, Length, Number
from ..recipe import FieldSpec, JointShape, Mate, StepContext, StepKind, StepOutput, said
from ..solid import Frame
from ..solid.frame import dot, sub
from .family import (  # fmt: skip
    FIT_SAID,
    OUTER_SHARE,
    FitFields,
    JointFamily,
    Meeting,
    drawn_figures,
    fit_specs,
    register_joint,
    wanted_of,
)
from .flats import two_flats
from .mating import facing
from .sprung import USED, slits
from .working import Array, Draws, Given, Plot, Result, Working

__all__ = ["BallFields"]

#: faces look at each other within this cosine
OPPOSITE = 1e-3
#: what grows together goes this far into each other, mm
INTO_MM = 0.2
#: the gap is read on a band about the ball's middle of this share of its radius
_BAND = 0.35


class BallFields(FitFields):
    """``wrap`` is how far the socket goes beyond the ball's middle, as an angle at its centre; ``slot`` and ``finger`` are width and length of the slots."""

    cup: Annotated[FlatFace | None, Changed()] = None
    post: Annotated[FlatFace | None, Changed()] = None
    ball: Length = "14 mm"
    neck: Length = "7 mm"
    wrap: Angle = "18 deg"
    wall: Length = "1.4 mm"
    fingers: Number = "6"
    slot: Length = "1.2 mm"
    finger: Length = "14 mm"
    floor: Length = "6 mm"
    right: Length = "0 mm"
    up: Length = "0 mm"
    used: Literal["once", "often"] = "often"
    fit: Literal["press", "snug", "slide", "loose", "own"] = "snug"


def _meeting(fields: BallFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    pick, frame = fields.cup, None
    normal = facing(ctx, pick, "cup")
    if normal is not None:
        frame = Frame.on_plane((0.0, 0.0, 0.0), normal)
    size = figures.get("ball", 0.0)
    outer, inner = (p.part if p is not None else "" for p in (fields.cup, fields.post))
    return Meeting(outer, inner, frame, (size, size), round_hole=True)


def _apply(ctx: StepContext) -> StepOutput:
    fields: BallFields = ctx.fields
    (carrier, base), (other, far) = two_flats(
        ctx,
        (fields.cup, "cup", "the face that the socket stands on"),
        (fields.post, "post", "the face that the post stands on"),
    )
    assert fields.cup is not None and fields.post is not None
    if dot(base.normal, far.normal) > OPPOSITE - 1:
        raise StepError("The two faces must look at each other; pick others.", field="post")
    plane = Frame.on_plane(base.at, base.normal)
    u, v, _ = plane.to_local(base.at)
    frame = Frame(plane.to_world(u + ctx.number("right"), v + ctx.number("up")), plane.x, plane.y)
    apart = dot(sub(far.at, base.at), base.normal)
    s = _Sizes(ctx, apart)
    cup = _cup(ctx, frame, s)
    ball = kernel.ball(frame.shifted(s.centre - s.ball), 2 * s.ball, ctx.id).renamed(
        lambda n: f"{ctx.id}/ball" if n.endswith("side(round)") else n
    )
    post = kernel.bar(frame, s.neck, s.centre, apart + INTO_MM, ctx.id, "post")
    made = kernel.fuse(carrier.solid, [cup], ctx.id)
    ended = kernel.fuse(other.solid, [kernel.fuse(ball, [post], ctx.id)], ctx.id)
    for before, after, field in ((carrier, made, "cup"), (other, ended, "post")):
        if after.lumps > before.solid.lumps:
            raise StepError("It would stand beside that face; move it onto it.", field=field)
    mouth = frame.shifted(s.lip)
    middle = s.centre - s.lip
    band = min(_BAND * s.socket, 0.9 * (s.lip - s.centre))
    mate = Mate(
        outer=(f"{ctx.id}/socket",), inner=(f"{ctx.id}/ball",), frame=mouth, low_mm=middle - band, high_mm=middle + band,
        sizes_mm=(2 * s.socket, 2 * s.socket), round_hole=True, seated=True,
    )  # fmt: skip
    joint = JointShape(fields.cup.part, fields.post.part, ctx.number("drawn"), (mate,))
    return StepOutput(parts={fields.cup.part: made, fields.post.part: ended}, joint=joint)


class _Sizes:
    """The step's figures, checked against each other; radii and heights over the socket's face, mm."""

    def __init__(self, ctx: StepContext, apart_mm: float) -> None:
        radius, drawn = ctx.positive("ball", "The ball") / 2, ctx.number("drawn")
        share = OUTER_SHARE[ctx.fields.takes]
        self.ball, self.socket = radius - (1 - share) * drawn, radius + share * drawn
        self.wall, self.slot = ctx.positive("wall", "The wall"), ctx.positive("slot", "The slot")
        self.finger = ctx.positive("finger", "The length of the slots")
        wrap = ctx.number("wrap")
        if not math.radians(8) - 1e-9 <= wrap <= math.radians(40) + 1e-9:
            raise StepError("The socket wraps 8 to 40 deg beyond the ball's middle.", field="wrap")
        self.fingers = ctx.whole("fingers", 2, 12, "fingers")
        wide = math.pi * (2 * radius + self.wall) / self.fingers - self.slot
        if wide < 2 * self.wall:
            raise StepError("So many slots leave fingers narrower than twice their wall; take fewer or narrower ones.", field="fingers")  # fmt: skip
        self.neck = ctx.positive("neck", "The neck") / 2
        opening = radius * math.cos(wrap)
        if self.neck > opening - 0.5:
            raise StepError(f"The neck does not pass the socket's mouth: {2 * (opening - 0.5):.4g} mm is the most.", field="neck")  # fmt: skip
        floor = ctx.positive("floor", "The floor under the ball")
        self.centre = floor + self.socket
        self.lip = self.centre + radius * math.sin(wrap)
        if self.finger > self.lip - 0.3:
            raise StepError(f"The slots go into the face: {self.lip - 0.3:.4g} mm is the most.", field="finger")
        if apart_mm < self.lip + 0.5:
            raise StepError(f"The faces are {apart_mm:.4g} mm apart; socket and ball need {self.lip + 0.5:.4g} mm at least.", field="post")  # fmt: skip


def _cup(ctx: StepContext, frame: Frame, s: _Sizes) -> kernel.NamedSolid:
    body = kernel.bar(frame, s.socket + s.wall, -INTO_MM, s.lip, ctx.id, "cup")
    ball = kernel.ball(frame.shifted(s.centre - s.socket), 2 * s.socket, ctx.id).renamed(lambda n: f"{ctx.id}/socket" if n.endswith("side(round)") else n)  # fmt: skip
    turns = [2 * math.pi * k / s.fingers for k in range(s.fingers)]
    slots = slits(frame, turns, (0.0, s.socket + s.wall + 1.0), s.slot, s.lip - s.finger, s.lip + 1.0, ctx.id, "slot")
    return kernel.cut(body, [ball, *slots], ctx.id)


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _works(draws: Draws) -> Working:
    fields: BallFields = draws.fields
    f, stuff = draws.figures, draws.outer
    radius, wrap, count = f["ball"] / 2, f["wrap"], round(f["fingers"])
    undercut = _undercut(radius, wrap, draws.gap_mm)
    # as the middle case has it: what the printer takes of the gap makes the wrap a little deeper
    deep = math.acos(min(1.0, max(0.0, 1 - float(undercut[0]) / radius)))
    ball = Ball(f["ball"], max(deep, 1e-3), f["finger"], f["wall"], count, f["slot"])
    arm = ball.arm
    strain = arm.strain(undercut)
    limit, why = stuff.arm_limit(fields.used == "often", "their roots", True)
    modulus = float(stuff.modulus_mpa[0])
    pull, angle = ball.pull(modulus, float(draws.friction[0]))
    across = arm.force_n(strain, stuff.modulus_mpa)
    usual = float(across[0])
    pulls = across / usual * pull if usual > 0 else np.zeros_like(across)
    swing = swing_rad(f["ball"], wrap, f["neck"])
    results = (
        Result("undercut as printed, a side", undercut, "mm", draws.felt_mm, "least", "it falls out"),
        Result("strain at the fingers' roots", 100 * strain, "%", 100 * limit, "most", "a finger breaks", f"of {stuff.name}" + (f" ({why})" if why else ""), stuff.bears),
        Result("force across on each finger", across, "N"),
        Result("force to pull it out", pulls, "N", note=f"greatest while the lip touches {math.degrees(angle):.0f}° over the ball's middle"),
        Result("it swings to each side by", np.full_like(strain, math.degrees(swing)), "°", 10.0, "least", "it hardly swings"),
    )  # fmt: skip
    givens = (
        Given("ball", f["ball"], "mm"), Given("mouth as drawn for a ball without gap", ball.opening_mm, "mm"), Given("length of the fingers", arm.length_mm, "mm"),
        Given("their thickness", arm.thick_mm, "mm"), Given("their width, on the wall's middle", arm.wide_mm, "mm"),
        Given(f"stiffness of {stuff.name}", modulus, "MPa"), Given("friction", float(draws.friction[0]), ""),
    )  # fmt: skip
    lean = max(angle, math.radians(5))
    acts = {
        "kind": "arm", "called": "finger", "long": arm.length_mm, "thick": arm.thick_mm, "tip": arm.thick_mm, "wide": arm.wide_mm,
        "undercut": radius * (1 - math.cos(wrap)), "gap": 0.0, "lead": lean, "back": lean, "root": 0.0, "often": fields.used == "often", "many": count,
        "stuff": stuff.usual(),
    }  # fmt: skip
    return Working(
        "Ball in its socket", givens, results, (_plot(arm.strain, radius, draws, undercut, limit),),
        "Fingers as straight arms that bend at the lip; the floor of the slots is taken to be stiff. By the sentence's figures: what later steps do to the socket is not in it.",
        acts,
    )  # fmt: skip


def _undercut(radius_mm: float, wrap_rad: float, gap_mm: Array) -> Array:
    """By how much the lip of a socket wider by the gap is narrower than the ball, a side; its lip stands at R·sin β over the middle."""
    up = radius_mm * math.sin(wrap_rad)
    return np.maximum(radius_mm - np.sqrt(np.maximum((radius_mm + gap_mm) ** 2 - up**2, 0.0)), 0.0)


def _plot(strain: Callable[[Array], Array], radius: float, draws: Draws, undercut: Array, limit: Array) -> Plot:
    angles = np.radians(np.linspace(8.0, 40.0, 17))
    up = [100 * float(strain(_undercut(radius, float(a), draws.gap_mm[:1]))[0]) for a in angles]
    points = tuple((math.degrees(float(a)), u) for a, u in zip(angles, up, strict=True))
    return Plot("wrap, degrees", "strain at the roots, %", points, 100 * float(limit[0]), (math.degrees(draws.figures["wrap"]), 100 * float(strain(undercut[:1])[0])))  # fmt: skip


register_joint(
    JointFamily(
        step=StepKind(
            kind="ball",
            title="Ball and socket",
            group="join",
            about="A ball on a post in a slotted socket that springs round it, and is told whether it breaks.",
            fields=BallFields,
            specs=(
                FieldSpec(
                    "cup", "face", "face that the socket stands on", missing="the face that the socket stands on"
                ),
                FieldSpec("post", "face", "face that the post stands on", missing="the face that the post stands on"),
                FieldSpec("ball", "length", "diameter of the ball", "14 mm"),
                FieldSpec("neck", "length", "diameter of its neck", "7 mm"),
                FieldSpec("wrap", "angle", "wrap beyond its middle", "18 deg"),
                FieldSpec("wall", "length", "wall of the socket", "1.4 mm"),
                FieldSpec("fingers", "number", "fingers", "6"),
                FieldSpec("slot", "length", "width of the slots", "1.2 mm"),
                FieldSpec("finger", "length", "length of the slots", "14 mm"),
                FieldSpec("floor", "length", "floor under the ball", "6 mm"),
                FieldSpec("right", "length", "to the right", "0 mm"),
                FieldSpec("up", "length", "upwards", "0 mm"),
                USED,
                *fit_specs("the ball", "the socket", fit="snug"),
            ),
            sentence=said(
                "Join by a ball: socket on ",
                "{cup}",
                ", ",
                "{right}",
                " right and ",
                "{up}",
                " up from its middle, post on ",
                "{post}",
                "; ball Ø ",
                "{ball}",
                " on a neck Ø ",
                "{neck}",
                ", wrapped ",
                "{wrap}",
                " beyond its middle over a floor of ",
                "{floor}",
                "; wall ",
                "{wall}",
                " in ",
                "{fingers}",
                " fingers, slots ",
                "{slot}",
                " wide and ",
                "{finger}",
                " long, used ",
                "{used}",
                "; ",
                *FIT_SAID,
                "; a change of the gap lands on ",
                "{takes}",
            ),
            apply=_apply,
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="ball socket joint swivel pivot tilt aim",
        ),
        outer="socket",
        inner="ball",
        meeting=_meeting,
        comes="sprung",
        wanted=wanted_of,
        goes_in="The ball turns in its socket",
        holds="without too much play",
        works=_works,
    )
)
