"""Detents: round bumps along the sides of one part that click into hollows in the walls of another, like those of a snap lid.

Each bump is a cap of a ball on its side; it reaches over to the wall and into it by the undercut, and its hollow is the same ball, larger by the gap. On the way in the wall
bends out by the undercut. A side takes so many bumps, from one end to the other, evenly; a side that grows takes more where their number is a formula of its length.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from .. import solid as kernel
from ..calculators.arms import Arm, friction_factor
from ..document.picks import FlatFace, Pick
from ..errors import StepError
from ..quantities.markers import Changed, Length, Number, PartMark
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, each, said
from ..recipe.picks import AxisPick, axis_of
from ..solid import Frame, Vec3
from ..solid.frame import add, cross, dot, length, scale, sub
from .family import (  # fmt: skip
    FIT_SAID,
    FitFields,
    JointFamily,
    Meeting,
    drawn_figures,
    fit_specs,
    other_half,
    register_joint,
    wanted_of,
)
from .flats import spans_of
from .mating import facing
from .rounds import extent_along, seen_axis
from .sprung import USED
from .working import Array, Draws, Given, Plot, Result, Working

__all__ = ["DetentFields"]

#: a side stands along the way in within this sine
ALONG = 0.02
#: what grows together goes this far into each other, mm
INTO_MM = 0.3
#: what stays of the wall behind a hollow, mm
BEHIND_MM = 0.4
#: the other part's wall is looked for as far as this, mm
LOOK_MM = 5.0
#: a wall that is pushed at its rim in one place gives as one so many times as wide as it is high (clamped plate without ends: w = 0.168·P·a²/D, so b = a/(3·0.168))
SPREADS = 1.98
#: what a nozzle bridges outwards without support, degrees from the upright
HANGS_DEG = 50.0


class MoreSides(Pick):
    """A further side with bumps of its own number."""

    side: FlatFace
    count: Number = "2"


class DetentFields(FitFields):
    """``way`` is how the parts go together; the bumps stand ``inset`` from the ends of their side and ``rim`` from its upper or lower edge (along the way)."""

    side: Annotated[FlatFace | None, Changed()] = None
    count: Number = "2"
    more: Annotated[list[MoreSides], Field(max_length=20)] = []
    host: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    way: AxisPick | None = None
    inset: Length = "8 mm"
    rim: Length = "2 mm"
    edge: Literal["upper", "lower"] = "lower"
    diameter: Length = "3 mm"
    undercut: Length = "0.3 mm"
    used: Literal["once", "often"] = "often"


def _sides(fields: DetentFields) -> list[tuple[FlatFace | None, str]]:
    return [(fields.side, ""), *((m.side, f"more.{k}.") for k, m in enumerate(fields.more))]


def _meeting(fields: DetentFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    pick, frame = fields.side, None
    normal = facing(ctx, pick, "side")
    way = seen_axis(ctx, fields.way)
    if normal is not None and way is not None and abs(dot(normal, way)) < 0.1:
        frame = Frame((0.0, 0.0, 0.0), normal, cross(way, normal))
    return Meeting(fields.host, pick.part if pick is not None else "", frame, along="x")


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: DetentFields = ctx.fields
    if fields.side is None:
        raise StepError("Pick a side that carries bumps.", field="side")
    if fields.way is None:
        raise StepError("Pick the way that the parts go together: an edge, or an axis.", field="way")
    if fields.host == fields.side.part:
        raise StepError("The hollows go into another part than the one with the bumps.", field="host")
    host = ctx.part(fields.host, "host")
    way = axis_of(ctx, fields.way, "way").upward().direction
    radius, undercut, drawn = ctx.positive("diameter", "The diameter") / 2, ctx.positive("undercut", "The undercut"), ctx.number("drawn")  # fmt: skip
    if drawn <= 0:
        raise StepError("A bump needs a gap in its hollow; take a looser fit.", field="fit")
    spots: list[tuple[Frame, float]] = []
    seen = set()
    for pick, at in _sides(fields):
        assert pick is not None
        if pick.part != fields.side.part:
            raise StepError("All sides with bumps belong to one part.", field=f"{at}side")
        carrier, index = ctx.faces_named(pick, f"{at}side")
        if index in seen:
            raise StepError("This side stands here twice; take one of them out.", field=f"{at}side")
        seen.add(index)
        if spots and 0.02 < abs(dot(carrier.faces[index].normal, spots[0][0].x)) < 0.98:
            raise StepError("Sides with bumps stand opposite or square to each other; make another step for this one.", field=f"{at}side")  # fmt: skip
        for spot in _spots(ctx, carrier, index, way, at, radius):
            clear = kernel.free_length(host.solid, [spot.origin], spot.x, LOOK_MM)
            if clear is None:
                raise StepError(f"That side looks at no wall of the other part within {LOOK_MM:g} mm; pick another side, or part.", field=f"{at}side")  # fmt: skip
            tall = clear + undercut
            if tall > radius:
                raise StepError(f"A bump Ø {2 * radius:.3g} mm would stand out {tall:.2f} mm, more than half a ball: Ø {2 * tall:.3g} mm at least.", field="diameter")  # fmt: skip
            deep = undercut + drawn
            mouth = math.sqrt(deep * (2 * (_ball_mm(radius, tall) + drawn) - deep))
            if _least_wall(host, spot, clear, mouth) < deep + BEHIND_MM:
                raise StepError(f"The wall there is {_least_wall(host, spot, clear, mouth):.3g} mm; a hollow {deep:.2f} mm deep leaves too little of it.", field="undercut")  # fmt: skip
            spots.append((spot, tall))
    bumps, hollows = [], []
    for k, (spot, tall) in enumerate(spots, 1):
        ball = _ball_mm(radius, tall)
        outwards = Frame(spot.origin, spot.y, spot.z)
        bumps.append(_ball(outwards, ball, tall - ball, f"{ctx.id}/bump({k})", ctx.id, radius))
        hollows.append(_ball(outwards, ball + drawn, tall - ball, f"{ctx.id}/hollow({k})", ctx.id))
    solid = ctx.part(fields.side.part).solid
    made = kernel.fuse(solid, bumps, ctx.id)
    if made.lumps > solid.lumps:
        raise StepError("A bump would stand beside its side; move it onto it.", field="rim")
    changed = kernel.cut(host.solid, hollows, ctx.id)
    mates = _mates(ctx.id, spots, radius, drawn)
    joint = JointShape(fields.host, fields.side.part, drawn, mates)
    return StepOutput(parts={fields.side.part: made, fields.host: changed}, joint=joint)


def _spots(ctx: StepContext, carrier: PartState, index: int, way: Vec3, at: str, radius_mm: float) -> list[Frame]:
    """Where the bumps of a side stand: ``x`` out of it, ``z`` along the way."""
    fields: DetentFields = ctx.fields
    face = carrier.faces[index]
    if face.kind != "plane":
        raise StepError("Bumps stand on flat sides; pick one.", field=f"{at}side")
    if abs(dot(face.normal, way)) > ALONG:
        raise StepError("The side must stand along the way that the parts go together; pick another.", field=f"{at}side")  # fmt: skip
    aside = cross(way, face.normal)
    frame = Frame(face.at, face.normal, scale(aside, 1.0 / length(aside)))
    (left, low), (right, high) = spans_of(carrier, index, frame)
    inset, rim = ctx.number("inset"), ctx.number("rim")
    count = ctx.whole(f"{at}count", 1, 40, "bumps on a side")
    # a bump that only touches the edge would be neither apart from it nor one with it
    least = radius_mm + 0.05
    if high - low < 2 * least - 1e-9:
        most = high - low - 0.1
        advice = f"Ø {most:.3g} mm at the most" if most > 0 else "pick a higher one"
        raise StepError(
            f"A bump Ø {2 * radius_mm:.3g} mm has no room on a side that is {high - low:.3g} mm high: {advice}.",
            field="diameter",
        )
    up = high - rim if fields.edge == "upper" else low + rim
    if not low + least - 1e-9 <= up <= high - least + 1e-9:
        raise StepError(
            f"A bump Ø {2 * radius_mm:.3g} mm has no room so far from that edge: the side is {high - low:.3g} mm high, so {least:.3g} to {high - low - least:.3g} mm.",
            field="rim",
        )
    room = right - left - 2 * inset
    if inset < radius_mm - 1e-9 or room < -1e-9 or (count > 1 and room / (count - 1) < 2 * radius_mm):
        raise StepError(f"{count} bumps do not find room on a side that is {right - left:.3g} mm long; take fewer, or another distance from its ends.", field=f"{at}count")  # fmt: skip
    places = [(left + right) / 2] if count == 1 else [left + inset + room * k / (count - 1) for k in range(count)]
    return [Frame(frame.to_world(0.0, p, up), frame.x, frame.y) for p in places]


def _mates(step: str, spots: list[tuple[Frame, float]], radius_mm: float, drawn_mm: float) -> tuple[Mate, ...]:
    """One for each bump, all in one frame's directions, so that those of opposite sides hold the part between them. Sizes are over the crests of opposite bumps;
    where only one side has any, nothing centres it there."""
    first = spots[0][0]
    crests = [spot.to_world(tall, 0.0) for spot, tall in spots]
    out = []
    for k, (spot, tall) in enumerate(spots, 1):
        along: Literal["x", "y"] = "x" if abs(dot(spot.x, first.x)) > 0.7 else "y"
        axis = first.x if along == "x" else first.y
        sign = 1.0 if dot(spot.x, axis) > 0 else -1.0
        across = [dot(sub(c, spot.origin), axis) for c, (s, _) in zip(crests, spots, strict=True) if dot(s.x, spot.x) < -0.98]  # fmt: skip
        other = min(across, key=abs) if across else -sign * 2 * tall
        size, middle = abs(sign * tall - other) + 2 * drawn_mm, (sign * tall + other) / 2
        frame = Frame(add(spot.origin, scale(axis, middle)), first.x, first.y)
        # only what lies under the bump: the side beside it is none of it
        there, slim = sign * tall - middle, 0.3 * radius_mm
        window = ((there, 0.0), (drawn_mm + 0.3, slim)) if along == "x" else ((0.0, there), (slim, drawn_mm + 0.3))
        out.append(Mate(
            outer=(f"{step}/hollow({k})",), inner=(f"{step}/bump({k})",), frame=frame, low_mm=-slim, high_mm=slim, sizes_mm=(size, size), along=along,
            reach_mm=drawn_mm + 0.3, window_mm=window, seated=True, stands=not across,
        ))  # fmt: skip
    return tuple(out)


def _ball_mm(foot_mm: float, tall_mm: float) -> float:
    """The radius of a ball whose cap is so wide (a radius) and so high."""
    return (foot_mm**2 + tall_mm**2) / (2 * tall_mm)


def _least_wall(host: PartState, spot: Frame, clear_mm: float, mouth_mm: float) -> float:
    """How thick the other part's wall is round a hollow, mm. Raises StepError where a hollow would break out of it."""
    around = [spot.to_world(clear_mm, mouth_mm * math.cos(t), mouth_mm * math.sin(t)) for t in np.linspace(0, 2 * math.pi, 12, endpoint=False)]  # fmt: skip
    walls = [kernel.thickness_at(host.solid, p, scale(spot.x, -1.0)) for p in around]
    found = [w for w in walls if w is not None]
    if len(found) < len(walls):
        raise StepError(
            "A hollow would not lie within the wall across; move the bumps away from its ends.", field="rim"
        )
    return min(found)


def _ball(at: Frame, radius_mm: float, up_mm: float, name: str, step: str, foot_mm: float = 0.0) -> kernel.NamedSolid:
    """A ball whose middle lies so far over a frame's plane; with a foot only its cap, from a little under that plane."""
    whole = kernel.ball(at.shifted(up_mm - radius_mm), 2 * radius_mm, step).renamed(lambda n: name if n.endswith("side(round)") else n)  # fmt: skip
    if not foot_mm:
        return whole
    return kernel.overlap(whole, [kernel.bar(at, foot_mm, -INTO_MM, 2 * radius_mm, step, "foot")], step)


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    """At the bump where the wall is shortest: how far it is to what holds it, how thick it is, and how far to the next bump; mm. And how far the side stands from
    it, and how many bumps there are."""
    rows = []
    spots = [_spot_of(m) for m in shape.mates]
    for mate, spot in zip(shape.mates, spots, strict=True):
        # beside the hollow, from just within its crest
        aside = mate.high_mm / 0.3 + shape.drawn_mm + 1.0
        ball = _crest_and_side(inner, spot, aside)
        if ball is None:
            continue
        place, way = ball
        clear = kernel.free_length(outer.solid, [place], way, LOOK_MM)
        wall = None if clear is None else kernel.thickness_at(outer.solid, add(place, scale(way, clear)), scale(way, -1.0))  # fmt: skip
        if clear is None or wall is None:
            continue
        middle = add(place, scale(way, clear / 2))
        ways = [kernel.free_length(outer.solid, [middle], scale(spot.z, s), 1e4) for s in (1.0, -1.0)]
        stops = [w for w in ways if w is not None]
        low, high = extent_along(outer, spot)
        held = max(stops) if len(stops) == 2 else stops[0] if stops else max(high, -low)
        others = [length(sub(s.origin, spot.origin)) for s in spots if s is not spot and dot(s.x, spot.x) > 0.99]
        rows.append((held, wall, min(others, default=1e4), clear))
    worst = min(rows, default=(0.0, 0.0, 0.0, 0.0))
    return {"long": worst[0], "wall": worst[1], "next": worst[2], "clear": worst[3], "count": float(len(shape.mates))}


def _spot_of(mate: Mate) -> Frame:
    """A bump's crest, ``x`` outwards."""
    assert mate.window_mm is not None
    (x, y), _ = mate.window_mm
    f = mate.frame
    out = scale(f.x, math.copysign(1.0, x)) if mate.along == "x" else scale(f.y, math.copysign(1.0, y))
    return Frame(f.to_world(x, y), out, cross(f.z, out))


def _crest_and_side(inner: PartState, spot: Frame, aside_mm: float) -> tuple[Vec3, Vec3] | None:
    """A place on the side beside a bump, and the way out of it; looked for from outside, to both sides and from the crest inwards."""
    for sign in (1.0, -1.0):
        start = spot.to_world(0.0, sign * aside_mm)
        back = kernel.free_length(inner.solid, [start], scale(spot.x, -1.0), LOOK_MM)
        if back is not None:
            return add(start, scale(spot.x, -back)), spot.x
    return None


def _works(draws: Draws) -> Working | None:
    fields: DetentFields = draws.fields
    f, facts, stuff = draws.figures, draws.facts, draws.outer
    long, wall, count = facts["long"], facts["wall"], round(facts["count"])
    if long <= 0.5 or wall <= 0.05:
        return None
    # what the printer takes of the gap comes on top of the undercut
    undercut = np.maximum(f["undercut"] + f["drawn"] - draws.gap_mm, 0.0)
    wide = min(SPREADS * long, facts["next"])
    arm = Arm.even(long, wall, wide)
    strain = arm.strain(undercut)
    limit, why = stuff.arm_limit(fields.used == "often", "its foot", True)
    tall = facts["clear"] + f["undercut"]
    ball = _ball_mm(f["diameter"] / 2, tall)
    across = arm.force_n(strain, stuff.modulus_mpa)
    factor, lean = _slope(ball, float(undercut[0]), float(draws.friction[0]))
    push = count * across * factor
    hangs = math.degrees(math.asin(min(1.0, f["diameter"] / 2 / ball)))
    upright = abs(draws.inner.up[2]) > 0.5
    results = (
        Result("undercut as printed", undercut, "mm", draws.felt_mm, "least", "it slips out"),
        Result("strain at the wall's foot", 100 * strain, "%", 100 * limit, "most", "the wall cracks", f"of {stuff.name}" + (f" ({why})" if why else ""), stuff.bears),
        Result("force across at each bump", across, "N"),
        Result("force to push in or pull out", push, "N", note=f"all {count} at once; greatest while the wall's edge lies at {math.degrees(lean):.0f}° on the bump"),
        *([Result("underside of a bump hangs over by", np.full_like(undercut, hangs), "°", HANGS_DEG, "most", "its underside sags", "45° print by themselves")] if upright else []),
    )  # fmt: skip
    givens = (
        Given("wall, from bump to what holds it", long, "mm", "read on the solids"), Given("its thickness", wall, "mm", "read on the solids"),
        Given("width that bends with each bump", wide, "mm", "to the next bump" if facts["next"] < SPREADS * long else "twice its height"),
        Given("bumps", float(count), ""), Given("radius of their ball", ball, "mm"),
        Given(f"stiffness of {stuff.name}", float(stuff.modulus_mpa[0]), "MPa"), Given("friction", float(draws.friction[0]), ""),
    )  # fmt: skip
    acts = {
        "kind": "arm", "called": "wall", "long": long, "thick": wall, "tip": wall, "wide": wide, "undercut": f["undercut"], "gap": f["drawn"], "lead": lean,
        "back": lean, "root": 0.0, "often": fields.used == "often", "many": count, "stuff": stuff.usual(),
    }  # fmt: skip
    return Working(
        "Detents", givens, results, (_plot(arm, undercut, strain, limit),),
        "The wall across bends from what holds it like an arm as wide as its load spreads (a clamped plate pushed at its rim), pushed at the bump; corners near a bump make it stiffer, which is not known here.",
        acts,
    )  # fmt: skip


def _slope(ball_mm: float, undercut_mm: float, friction: float) -> tuple[float, float]:
    """The greatest force along the way, for each newton across at the full undercut, and the angle on the ball at which the wall's edge lies then: it climbs the ball
    from where it meets it, bent by undercut − R·(1 − cos θ) at a slope of θ."""
    start = math.acos(max(0.0, 1 - undercut_mm / ball_mm)) if undercut_mm > 0 else 0.0
    angles = np.linspace(start, 0.0, 501)
    bend = undercut_mm - ball_mm * (1 - np.cos(angles))
    with np.errstate(invalid="ignore"):
        along = np.where(bend > 0, bend * friction_factor(friction, angles), 0.0)
    k = int(along.argmax())
    return (float(along[k]) / undercut_mm if undercut_mm > 0 else 0.0), max(float(angles[k]), math.radians(5))


def _plot(arm: Arm, undercut: Array, strain: Array, limit: Array) -> Plot:
    across = np.linspace(0.0, max(2 * float(undercut[0]), 0.2), 13)
    points = tuple((float(a), float(u)) for a, u in zip(across, 100 * arm.strain(across), strict=True))
    return Plot("undercut, mm", "strain at the wall's foot, %", points, 100 * float(limit[0]), (float(undercut[0]), 100 * float(strain[0])))  # fmt: skip


register_joint(
    JointFamily(
        step=StepKind(
            kind="detent",
            title="Detents",
            group="join",
            about="Round bumps along sides that click into hollows of the walls across: a snap lid.",
            fields=DetentFields,
            specs=(
                FieldSpec("side", "face", "side that carries bumps", missing="a side that carries bumps"),
                FieldSpec("count", "number", "how many on it", "2"),
                FieldSpec(
                    "more",
                    "clauses",
                    "another side with bumps",
                    [],
                    specs=(
                        FieldSpec("side", "face", "side", missing="another side"),
                        FieldSpec("count", "number", "how many on it", "2"),
                    ),
                ),
                FieldSpec("host", "part", "part with the hollows", missing="the part with the hollows"),
                FieldSpec(
                    "way",
                    "axis",
                    "way that they go together",
                    {"rule": "axis_base", "axis": "up"},
                    missing="an edge or axis along it",
                ),  # fmt: skip
                FieldSpec("inset", "length", "distance of the outer ones from the side's ends", "8 mm"),
                FieldSpec("rim", "length", "distance from an edge of the side", "2 mm"),
                FieldSpec(
                    "edge",
                    "choice",
                    "from which edge",
                    "lower",
                    (Choice("upper", "its upper edge"), Choice("lower", "its lower edge")),
                ),
                FieldSpec("diameter", "length", "diameter of a bump", "3 mm"),
                FieldSpec("undercut", "length", "undercut", "0.3 mm"),
                USED,
                *fit_specs("the bumps", "the hollows"),
            ),
            sentence=said(
                "Join by detents: ",
                "{count}",
                " bumps on ",
                "{side}",
                each("more", ", ", "{count}", " on ", "{side}"),
                ", ",
                "{rim}",
                " from ",
                "{edge}",
                " and ",
                "{inset}",
                " from the ends, Ø ",
                "{diameter}",
                ", into hollows of ",
                "{host}",
                " along ",
                "{way}",
                "; undercut ",
                "{undercut}",
                ", used ",
                "{used}",
                "; ",
                *FIT_SAID,
                " in their hollows",
            ),
            apply=_apply,
            begin=other_half("side"),
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="bump dimple click snap lid cover box catch nub",
        ),
        outer="hollow",
        inner="bump",
        meeting=_meeting,
        comes="sprung",
        wanted=wanted_of,
        goes_in="The bumps find their hollows",
        holds="without too much play",
        facts=_facts,
        works=_works,
    )
)
