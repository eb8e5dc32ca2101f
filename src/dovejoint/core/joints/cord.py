"""Cord: a groove in a flat face for a round cord that another part, lying on that face, squeezes: so that no rain comes in between them.

The groove runs round the face's opening, or along its outline where it has none. Its depth is the gap: what the lid leaves the cord, which is the cord less what it is squeezed by.
The lid rests on the face beside the groove, so the gap is a depth within one part. Nothing of it is put into something else: who tries it lays the lid on and looks whether water comes in.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from .. import solid as kernel
from ..document import StepFields
from ..document.picks import FlatFace
from ..errors import StepError
from ..fits import Wanted
from ..quantities.markers import Changed, Length, Number, PartMark
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, said
from ..solid import Arc, Circle, Curve, Frame, Line
from ..solid.outline import Vec2, offset_inward, place_at, points_along
from .family import JointFamily, Meeting, drawn_figures, figure, other_half, register_joint, straight_across
from .flats import lying_on
from .loops import from_loop
from .mating import facing
from .working import Draws, Given, Plot, Result, Working

__all__ = ["CordFields"]

#: PRACTICE: by how much of their diameter cords are squeezed at least, best and at most, %: of solid rubber as makers of such cords advise for lids that are screwed on, of foam about twice that
SQUEEZED: dict[str, tuple[float, float, float]] = {"rubber": (12.0, 20.0, 30.0), "foam": (25.0, 40.0, 55.0)}
#: what is left of the face beside the groove, and of the part below it, mm
LEFT_MM, FLOOR_MM = 0.8, 0.8
#: the gap is read at so many places at most, each so long to either side at most, mm, or so far round, rad
PLACES, ALONG_MM, ROUND_RAD = 6, 8.0, 0.12
#: PRACTICE: a cord bent round an inner radius of less than its diameter kinks, and one that fills more of its groove than this has nowhere to go, %
KINKS, FULL = 1.0, 95.0


class CordFields(StepFields):
    """``face`` gets the groove, ``host`` lies on it. ``begins`` is how far from the opening (or the outline) the groove begins. Figures of an own squeeze are in percent of the cord."""

    face: Annotated[FlatFace | None, Changed()] = None
    host: Annotated[str, PartMark("reads"), Field(max_length=40)] = ""
    cord: Length = "3 mm"
    stuff: Literal["rubber", "foam", "own"] = "rubber"
    least: Number = "12"
    target: Number = "20"
    most: Number = "30"
    wide: Length = "3.9 mm"
    begins: Length = "2 mm"


def _squeezed(fields: CordFields, figures: Mapping[str, float]) -> tuple[float, float, float]:
    if fields.stuff != "own":
        return SQUEEZED[fields.stuff]
    return figure(figures, "least"), figure(figures, "target"), figure(figures, "most")


def _wanted(fields: CordFields, figures: Mapping[str, float]) -> Wanted:
    """What the squeezed cord leaves between floor and lid. Raises StepError."""
    least, target, most = _squeezed(fields, figures)
    if not 0 <= least <= target <= most <= 80 or least == most:
        raise StepError(f"The squeeze rises from least over best to most, and stays below 80 %; {least:g}, {target:g}, {most:g} do not.", field="target")  # fmt: skip
    cord = figure(figures, "cord")
    return Wanted(*(cord * (1 - s / 100) for s in (most, target, least))).checked()


def _meeting(fields: CordFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    pick, frame = fields.face, None
    normal = facing(ctx, pick, "face")
    if normal is not None:
        upright = Frame.on_plane((0.0, 0.0, 0.0), normal)
        frame = Frame((0.0, 0.0, 0.0), normal, upright.x)
    deep = figures.get("cord", 0.0) * (1 - figures.get("target", SQUEEZED.get(fields.stuff, (0.0, 20.0, 0.0))[1]) / 100)
    return Meeting(pick.part if pick is not None else "", fields.host, frame, (deep, deep), along="x", rests=True)


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: CordFields = ctx.fields
    if fields.face is None:
        raise StepError("Pick the flat face that the groove is cut in.", field="face")
    if fields.host == fields.face.part:
        raise StepError("What squeezes the cord is another part than the one with the groove.", field="host")
    carrier, found = ctx.faces_named(fields.face, "face")
    host = ctx.part(fields.host, "host")
    frame, loops = kernel.face_loops(carrier.solid, found)
    if len(loops) > 2:
        raise StepError("The face has several openings; a cord runs round one. Pick a face with one opening, or none.", field="face")  # fmt: skip
    face = carrier.faces[found]
    lids = lying_on(host, face.at, face.normal)
    cord, wide, begins = ctx.positive("cord", "The cord"), ctx.positive("wide", "The groove's width"), ctx.number("begins")  # fmt: skip
    deep = ctx.number("drawn")
    if begins < LEFT_MM:
        raise StepError(f"A face of at least {LEFT_MM:g} mm stays beside the groove; let it begin there.", field="begins")  # fmt: skip
    if wide < cord:
        raise StepError(f"The groove is narrower than its cord of {cord:.4g} mm.", field="wide")
    # round an opening it lies outside, along an outline inside
    sign = -1.0 if len(loops) == 2 else 1.0
    loop, other = loops[-1], loops[0]
    try:
        near, middle, far = (offset_inward(loop, sign * by, "the outline") for by in (begins, begins + wide / 2, begins + wide))  # fmt: skip
        offset = begins if sign < 0 else -(begins + wide)
        tool = kernel.rim_ring(frame, loop, begins_mm=offset, wide_mm=wide, low_mm=-deep, high_mm=1.0, step=ctx.id, mark="recess")  # fmt: skip
    except StepError as error:
        raise StepError(error.message, field=error.field or "wide") from None
    if len(loops) == 2:
        _beside(far, other, begins, wide)
    places = _places(middle)
    for at, _, _ in places:
        thick = kernel.thickness_at(carrier.solid, frame.to_world(*at), frame.z)
        if thick is not None and thick < deep + FLOOR_MM:
            raise StepError(f"Under the groove, {deep:.3g} mm deep, there are {thick:.3g} mm of the part; {deep + FLOOR_MM:.3g} are needed.", field="cord")  # fmt: skip
    names = {f"{ctx.id}/recess-root": f"{ctx.id}/floor"}
    cut = kernel.plain_names(kernel.cut(carrier.solid, [tool], ctx.id)).renamed(lambda n: names.get(n, n))
    lid = tuple(host.faces[i].names[0] for i in lids)
    mates = tuple(_mate(ctx.id, frame, place, deep, wide, lid) for place in places)
    across = frame.placed(*places[0][0], places[0][1])
    seen = (Frame(across.shifted(-deep / 2).origin, across.y, across.z), 1.5 * max(deep, wide))
    joint = JointShape(fields.face.part, fields.host, deep, mates, seen=seen)
    return StepOutput(parts={fields.face.part: cut}, joint=joint, note=_note(near, far, cord))


def _beside(far: Sequence[Curve], outline: Sequence[Curve], begins: float, wide: float) -> None:
    """Refuse a groove that comes out at the face's outline, or nearly so."""
    ring, edge = (np.array([p for p, _ in points_along(loop, 40 if len(loop) > 1 else 320)]) for loop in (far, outline))
    within = all(kernel.inside((float(x), float(y)), tuple((float(u), float(v)) for u, v in edge)) for x, y in ring[::5])  # fmt: skip
    left = float(from_loop(ring, edge).min()) if within else -float(from_loop(ring, edge).max())
    # rounds are looked at as short straight pieces
    if left < LEFT_MM - 0.01:
        fits = begins + wide + left - LEFT_MM
        works = f"Beginning and width come to {fits:.3g} mm at most" if fits > LEFT_MM else "The face is too narrow for a cord"  # fmt: skip
        raise StepError(f"The groove comes out at the side of the face, or nearly. {works}.", field="wide")


_Place = tuple[Vec2, float, float]


def _places(middle: Sequence[Curve]) -> list[_Place]:
    """Where the gap is read: places on the groove's middle line, the direction of the line there (rad) and how far to either side, mm."""
    out: list[_Place] = []
    for curve in middle:
        if isinstance(curve, Line):
            (x, y), (u, v) = curve.start, curve.end
            long = math.hypot(u - x, v - y)
            out.append((((x + u) / 2, (y + v) / 2), math.atan2(v - y, u - x), min(0.3 * long, ALONG_MM)))
        elif isinstance(curve, Circle | Arc):
            shares = (0.0, 0.25, 0.5, 0.75) if isinstance(curve, Circle) else (0.5,)
            for share in shares:
                x, y = place_at(curve, share)
                turn = math.atan2(y - curve.centre[1], x - curve.centre[0]) + math.pi / 2
                out.append(((x, y), turn, ROUND_RAD * curve.radius))
    return sorted(out, key=lambda p: -p[2])[:PLACES]


def _mate(step: str, face: Frame, place: _Place, deep: float, wide: float, lid: tuple[str, ...]) -> Mate:
    """How floor and lid look at each other at one place: ``x`` out of the face, ``y`` along the groove, so that it is drawn cut across."""
    (u, v), turn, half = place
    here = face.placed(u, v, turn)
    return Mate(
        outer=(f"{step}/floor",), inner=lid, frame=Frame(here.origin, here.z, here.x), low_mm=-0.3 * wide, high_mm=0.3 * wide, sizes_mm=(deep, 2 * half), along="x",
        reach_mm=deep + 0.6, window_mm=((-deep / 2, 0.0), (deep / 2 + 0.3, half)), stands=True, rests=True,
    )  # fmt: skip


def _note(near: Sequence[Curve], far: Sequence[Curve], cord: float) -> str:
    tight = _tightest(near, far)
    if tight >= KINKS * cord:
        return ""
    how = "sharp" if tight <= 1e-6 else f"round by {tight:.3g} mm"
    return f"The groove's corners are {how}; a cord of {cord:.3g} mm kinks there: round them by {KINKS * cord:.3g} mm on their inner side."


def _tightest(*loops: Sequence[Curve]) -> float:
    """The least radius of the inner one of two lines along a groove, mm; 0 where it has a sharp corner."""
    inner = min(loops, key=lambda loop: np.ptp(np.array([p for p, _ in points_along(loop, 16)]), axis=0).sum())
    if any(isinstance(a, Line) and isinstance(b, Line) for a, b in zip(inner, [*inner[1:], inner[0]], strict=True)):
        return 0.0
    return min((c.radius for c in inner if isinstance(c, Circle | Arc)), default=math.inf)


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    """How long the groove is along its middle, mm: its floor over its width."""
    (floor,) = outer.solid.find(shape.mates[0].outer[0])
    corners = outer.mesh.corners_of(floor).reshape(-1, 3, 3)
    area = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1).sum() / 2
    return {"floor": float(area)}


def _works(draws: Draws) -> Working:
    """How far the cord is squeezed, and how much of its groove it fills."""
    f = draws.figures
    cord, wide = f["cord"], f["wide"]
    gap = np.maximum(draws.gap_mm, 1e-6)
    squeezed = 100 * (1 - gap / cord)
    fills = 100 * math.pi * cord**2 / 4 / (wide * gap)
    results = [Result("the cord is squeezed by", squeezed, "%")]
    if draws.fields.stuff != "foam":
        # rubber does not shrink, it only moves aside
        results.append(Result("it fills of its groove", fills, "%", FULL, "most", "the cord has nowhere to go"))
    least, target, most = _squeezed(draws.fields, f)
    givens = (
        Given("cord", cord, "mm"), Given("squeezed by at least, best, at most", target, "%", f"{least:g} to {most:g}: practice, for {draws.fields.stuff}" if draws.fields.stuff != "own" else f"{least:g} to {most:g}"),
        Given("length of the groove along its middle", draws.facts["floor"] / wide, "mm", "cut the cord so long"), Given("depth, as drawn", f["drawn"], "mm"),
        *_in_layers(draws),
    )  # fmt: skip
    across = np.linspace(0.5 * cord, cord, 13)
    plot = Plot("depth of the groove, mm", "squeezed by, %", tuple((float(g), float(100 * (1 - g / cord))) for g in across), most, (float(gap[0]), float(squeezed[0])))  # fmt: skip
    return Working(
        "Cord", givens, tuple(results), (plot,),
        "The lid is taken to lie on the face all round: a thin lid between few screws bends away from it, and that is not in it. Neither is how far the cord sets over the years.",
    )  # fmt: skip


def _in_layers(draws: Draws) -> tuple[Given, ...]:
    """Of a depth that is printed upright, how many layers it is: what is left over a whole number comes and goes with where the first of them begins."""
    if abs(draws.outer.up[0]) < 0.7 or not draws.outer.material.plastic:
        return ()
    return (Given("depth, in layers", draws.figures["drawn"] / draws.layer_mm, "", "whole ones come out alike in every print"),)  # fmt: skip


_OWN = {"stuff": ["own"]}
register_joint(
    JointFamily(
        step=StepKind(
            kind="cord",
            title="Groove for a cord",
            group="join",
            about="A groove round an opening, or along an outline, whose cord the part on it squeezes: against rain.",
            fields=CordFields,
            specs=(
                FieldSpec("face", "face", "face with the groove", missing="the flat face that it is cut in"),
                FieldSpec("host", "part", "part that lies on it", missing="the part that lies on it"),
                FieldSpec("cord", "length", "diameter of the cord", "3 mm"),
                FieldSpec("stuff", "choice", "what the cord is of", "rubber", (Choice("rubber", "rubber"), Choice("foam", "foam"), Choice("own", "its own kind"))),
                FieldSpec("least", "number", "squeezed by at least, percent", "12"),
                FieldSpec("target", "number", "squeezed best by, percent", "20"),
                FieldSpec("most", "number", "squeezed by at most, percent", "30"),
                FieldSpec("wide", "length", "width of the groove", "3.9 mm"),
                FieldSpec("begins", "length", "how far in it begins", "2 mm"),
            ),
            sentence=said(
                "Seal with a cord in ",
                "{face}",
                ", squeezed by ",
                "{host}",
                ": Ø ",
                "{cord}",
                " of ",
                "{stuff}",
                (", by ", _OWN),
                ("{least}", _OWN),
                (" over ", _OWN),
                ("{target}", _OWN),
                (" to ", _OWN),
                ("{most}", _OWN),
                (" %", _OWN),
                ", in a groove ",
                "{wide}",
                " wide that begins ",
                "{begins}",
                " in",
            ),
            apply=_apply,
            begin=other_half("face"),
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="seal gasket ring rubber water rain tight lid O-ring",
        ),
        outer="groove",
        inner="lid",
        meeting=_meeting,
        comes="turned",
        per=straight_across,
        wanted=_wanted,
        goes_in="The lid closes on the cord",
        holds="and squeezes it enough",
        facts=_facts,
        works=_works,
        gauged=True,
    )
)  # fmt: skip
