"""Key: a rib along a round shaft that lies in a slot of the bore round it, so that the two turn together and one slides along the other.

The key grows on the shaft. Its sides guide: the gap is that between them and the slot's, square to them, a side. The slot's roof stays off the key's top, and how the round
shaft lies in its bore is a joint of its own.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Annotated, Any, Literal

import numpy as np

from .. import solid as kernel
from ..document import Project
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.keys import key_for
from ..quantities.markers import Angle, Changed, Length
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, said
from ..solid import Curve, Frame, Line
from ..solid.frame import scale
from .family import OUTER_SHARE, BedEdge, JointFamily, Meeting, drawn_figures, fit_specs, register_joint
from .iso_fit import ISO, ISO_FIT_SAID, ZONES_SPEC, IsoFitFields, iso_or_wanted
from .rounds import mouth_frame, round_pick, shaft_and_bore
from .shaft_in_bore import with_mouth
from .working import Draws, Given, Plot, Result, Working

__all__ = ["KeyFields"]

#: between the roof of the slot and the key's top stays this much beside the gap, and beyond the key's end where the slot ends there, mm
RELIEF_MM = 0.3
#: a key goes this far into its shaft, to grow together with it, and the slot's tool so far into the free bore, mm
INTO_MM = 0.3
#: what is left of the hub over the slot at least, mm
WALL_MM = 0.8
#: a key is no wider than this share of its shaft's diameter
WIDEST = 0.6


class KeyFields(IsoFitFields):
    """``high`` is how far the key stands out of the shaft; its upper end lies ``inset`` below the bore's mouth. ``turn`` is about the axis."""

    shaft: Annotated[FlatFace | None, Changed()] = None
    bore: Annotated[FlatFace | None, Changed()] = None
    wide: Length = "4 mm"
    high: Length = "1.8 mm"
    long: Length = "10 mm"
    inset: Length = "0 mm"
    turn: Angle = "0 deg"
    end: Literal["upper", "lower"] = "upper"
    slot: Literal["through", "by"] = "through"
    lead: Length = "0.5 mm"
    mouth: Length = "0.3 mm"


def _meeting(fields: KeyFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    pick, along, frame = fields.bore, None, None
    if ctx is not None and pick is not None:
        _, _, bore = round_pick(ctx, pick, "bore", hollow=True)
        along = bore.axis.direction
    elif pick is not None and pick.face.seen is not None and sum(c * c for c in pick.face.seen.axis) > 0.25:
        along = pick.face.seen.axis
    if along is not None:
        frame = _across(mouth_frame(along, fields.end).placed(0.0, 0.0, figures.get("turn", 0.0)))
    wide = figures.get("wide", 0.0)
    outer, inner = (p.part if p is not None else "" for p in (fields.bore, fields.shaft))
    edges = (
        BedEdge(True, "the mouth of the slot", figures.get("mouth", 0.0), True),
        BedEdge(False, "the end of the key", figures.get("lead", 0.0), False),
    )
    return Meeting(outer, inner, frame, (wide, wide), edges=edges, along="x")


def _across(frame: Frame) -> Frame:
    """The frame of a key from that of its axis, in which the key stands out along ``x``: across the key is ``x`` here."""
    return Frame(frame.origin, frame.y, scale(frame.x, -1.0))


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: KeyFields = ctx.fields
    found = shaft_and_bore(ctx)
    carrier, shaft, host, bore = found.part, found.shaft, found.host, found.bore
    assert fields.bore is not None and fields.shaft is not None
    if shaft.radius_mm > bore.radius_mm:
        raise StepError("The shaft is thicker than its bore; make their gap first.", field="shaft")
    frame = found.frame.placed(0.0, 0.0, ctx.number("turn"))
    reach, (foot, tip) = -found.deep_mm, found.span_mm
    wide, tall, long = ctx.positive("wide", "The key's width"), ctx.positive("high", "The key's height"), ctx.positive("long", "The key's length")  # fmt: skip
    drawn, inset = ctx.number("drawn"), ctx.number("inset")
    share = OUTER_SHARE[fields.takes]
    slim, room = wide / 2 - (1 - share) * drawn, wide / 2 + share * drawn
    if slim < 0.4:
        raise StepError("The gap leaves nothing of the key; make it wider.", field="wide")
    if wide > 2 * WIDEST * shaft.radius_mm:
        raise StepError(f"The key is too wide for its shaft: {2 * WIDEST * shaft.radius_mm:.3g} mm at most.", field="wide")  # fmt: skip
    out, deep = shaft.radius_mm + tall, -inset - long
    if out < bore.radius_mm + drawn + 0.3:
        raise StepError(f"The key hardly reaches over the gap round the shaft; let it stand out {bore.radius_mm + drawn + 0.3 - shaft.radius_mm:.2f} mm at least.", field="high")  # fmt: skip
    if -inset > tip + 1e-6 or deep < foot - 1e-6:
        raise StepError(f"The key lies beyond the end of its shaft, which goes from {tip:.4g} to {foot:.4g} mm over the mouth.", field="long" if deep < foot else "inset")  # fmt: skip
    lead, mouth = ctx.number("lead"), ctx.number("mouth")
    if lead < 0 or mouth < 0 or lead > min(slim - 0.2, tall - 0.2, long / 2):
        raise StepError("The chamfers are zero or more, and leave something of the key.", field="lead" if lead != 0 else "mouth")  # fmt: skip
    # made on the shaft
    key = _bar(frame, _rooted(shaft.radius_mm, slim), out, slim, deep, -inset, ctx.id, "key")
    if lead > 0:
        foot_edges = set(key.edges_round(f"{ctx.id}/key(foot)"))
        edges = [i for i in key.edges_round(f"{ctx.id}/key-start") if i not in foot_edges]
        key = kernel.chamfer(key, edges, lead, lead, ctx.id)
    made = kernel.fuse(carrier.solid, [key], ctx.id)
    # and cut into the hub
    roof = out + max(drawn, 0.0) + RELIEF_MM
    wall = kernel.thickness_at(host.solid, frame.to_world(roof, 0.0, max(deep, reach) / 2), scale(frame.x, -1.0))
    if wall is None or wall < WALL_MM:
        raise StepError(f"The slot leaves {wall or 0:.2g} mm of the hub over it; make the hub thicker, or the key lower.", field="high")  # fmt: skip
    bottom = reach - 1.0 if fields.slot == "through" else deep - max(drawn, 0.0) - RELIEF_MM
    tool = _bar(frame, _rooted(bore.radius_mm, room), roof, room, bottom, 1.0, ctx.id, "slot")
    changed = kernel.cut(host.solid, [tool], ctx.id)
    sides = tuple(f"{ctx.id}/slot({s})" for s in ("left", "right"))
    if mouth > 0:
        changed = with_mouth(changed, sides, frame, mouth, ctx.id)
    begins, ends_at = max(deep + lead, reach), min(-inset, -mouth)
    if ends_at - begins < 0.5:
        raise StepError("Hardly anything of the key lies in the hub; make it longer, or set it deeper.", field="long")
    spare, middle = 0.02 * (ends_at - begins), shaft.radius_mm + tall / 2
    mate = Mate(
        outer=sides, inner=tuple(f"{ctx.id}/key({s})" for s in ("left", "right")), frame=_across(frame),
        low_mm=begins + spare, high_mm=ends_at - spare, sizes_mm=(2 * room, tall), middle_mm=(0.0, -middle), along="x", reach_mm=abs(drawn) + 0.5,
        window_mm=((0.0, -middle), (room + 0.5, tall / 2)), seated=True,
    )  # fmt: skip
    joint = JointShape(fields.bore.part, fields.shaft.part, drawn, (mate,))
    return StepOutput(parts={fields.shaft.part: made, fields.bore.part: changed}, joint=joint, note=_note(2 * shaft.radius_mm, wide))  # fmt: skip


def _note(diameter_mm: float, wide_mm: float) -> str:
    usual = key_for(round(diameter_mm, 3))
    if usual is None or abs(usual[0] - wide_mm) < 1e-6:
        return ""
    return f"A bought hub for Ø {diameter_mm:.4g} mm has a slot {usual[0]:g} mm wide (ISO 773)."


def _rooted(radius_mm: float, half_mm: float) -> float:
    """How far out of the axis something so wide begins that it lies within a round of this radius all over."""
    return math.sqrt(radius_mm**2 - half_mm**2) - INTO_MM


def _bar(frame: Frame, begin: float, out: float, half: float, low: float, high: float, step: str, word: str) -> kernel.NamedSolid:  # fmt: skip
    """A bar along a frame's ``z``, from ``begin`` to ``out`` over the axis. Faces: ``word(left)``, ``(right)``, ``(top)``, ``(foot)``, ``word-start``, ``word-end``."""
    ring = [(begin, -half), (out, -half), (out, half), (begin, half)]
    names = ("right", "top", "left", "foot")
    curves: list[Curve] = [Line(n, a, b) for n, a, b in zip(names, ring, [*ring[1:], ring[0]], strict=True)]
    (region,) = kernel.find_regions(curves)
    ends = {f"{step}/start": f"{step}/{word}-start", f"{step}/end": f"{step}/{word}-end"}
    made = kernel.prism(region, frame, low, high, step, check=False)
    return made.renamed(lambda n: ends.get(n, n.replace(f"{step}/side(", f"{step}/{word}(")))


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    """Radii of bore and shaft where slot and key begin, and the length that meets; mm."""
    mate = shape.mates[0]
    radii = {}
    for word, part, names in (("bore", outer, mate.outer), ("shaft", inner, mate.inner)):
        corners = np.concatenate(
            [part.mesh.corners_of(i).reshape(-1, 3) for name in names for i in part.solid.find(name)]
        )
        radii[word] = float(
            np.hypot(*((corners - mate.frame.origin) @ np.array([mate.frame.x, mate.frame.y]).T).T).min()
        )
    return {**radii, "engaged": (mate.high_mm - mate.low_mm) / 0.96}


def _works(draws: Draws) -> Working:
    """How far one turns before the other, and what presses and shears the key.

    The turning moment presses on one side of the key, p = T/(r·h·l), and shears it at its foot, τ = T/(r·b·l) (DIN 6892, method C, with one key).
    """
    f = draws.figures
    gap, long = np.maximum(draws.gap_mm, 0.0), draws.facts["engaged"]
    share = OUTER_SHARE[draws.fields.takes]
    bore, shaft = draws.facts["bore"], draws.facts["shaft"]
    lever, meets = shaft + f["high"] / 2, shaft + f["high"] - bore
    turns = np.degrees(gap / lever)
    crushed = draws.weaker_mpa * meets * long * lever / 1000
    # the key is sheared off along the shaft: between two layers where these lie in that plane
    slim = f["wide"] - 2 * (1 - share) * f["drawn"]
    lying = abs(draws.inner.up[1])
    sheared = 0.577 * draws.inner.strength_mpa * draws.inner.layered(1) * slim * long * lever / 1000
    results = (
        Result("it turns to each side by", turns, "°", note="until the key's side presses"),
        Result("turning moment until its sides are crushed", crushed, "N·m"),
        Result("turning moment until it is sheared off", sheared, "N·m", note="its layers are parted" if lying > 0.5 and draws.inner.material.plastic else "once"),
    )  # fmt: skip
    givens = (
        Given("width of the key", slim, "mm", "as drawn"), Given("height of its sides that meets", meets, "mm", "read on the solids"),
        Given("length that meets", long, "mm", "read on the solids"), Given("from the axis to its middle", lever, "mm"),
    )  # fmt: skip
    across = np.linspace(0.0, max(0.4, 2 * float(gap[0])), 13)
    plot = Plot("gap, mm a side", "turns to each side, °", tuple((float(g), float(math.degrees(g / lever))) for g in across), None, (float(gap[0]), float(turns[0])))  # fmt: skip
    return Working(
        "Key", givens, results, (plot,), "DIN 6892, method C, for one key; torsion of the shaft itself is not in it.",
        {"kind": "key", "lever": lever, "engaged": long},
    )  # fmt: skip


def _begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """The usual key for the shaft that was picked."""
    pick = fields.get("shaft")
    if answered != "shaft" or not isinstance(pick, Mapping):
        return {}
    seen = pick.get("face", {}).get("seen") or {}
    usual = key_for(2 * float(seen.get("radius", 0.0)))
    return {} if usual is None else {"wide": f"{usual[0]:g} mm", "high": f"{usual[1]:g} mm"}


register_joint(
    JointFamily(
        step=StepKind(
            kind="key",
            title="Key and slot",
            group="join",
            about="A rib along a round shaft that lies in a slot of the bore round it: both turn together.",
            fields=KeyFields,
            specs=(
                FieldSpec("shaft", "shaft", "shaft", missing="the round side of a shaft"),
                FieldSpec("bore", "bore", "bore", missing="the round bore that it stands in"),
                FieldSpec("wide", "length", "width of the key", "4 mm"),
                FieldSpec("high", "length", "how far it stands out of the shaft", "1.8 mm"),
                FieldSpec("long", "length", "length of the key", "10 mm"),
                FieldSpec("inset", "length", "how far below the mouth it begins", "0 mm"),
                FieldSpec("turn", "angle", "turned about the axis", "0 deg"),
                FieldSpec("end", "choice", "from which end", "upper", (Choice("upper", "the upper end"), Choice("lower", "the lower end"))),
                FieldSpec("slot", "choice", "how far the slot goes", "through", (Choice("through", "all through"), Choice("by", "to the key's end"))),
                FieldSpec("lead", "length", "chamfer at its end", "0.5 mm"),
                FieldSpec("mouth", "length", "chamfer at the slot's mouth", "0.3 mm"),
                *fit_specs("the key", "the slot", ISO),
                ZONES_SPEC,
            ),
            sentence=said(
                "Join by a key on ",
                "{shaft}",
                " in ",
                "{bore}",
                ": ",
                "{wide}",
                " wide, standing out ",
                "{high}",
                ", ",
                "{long}",
                " long, beginning ",
                "{inset}",
                " below ",
                "{end}",
                ", turned ",
                "{turn}",
                ", lead-in ",
                "{lead}",
                "; its slot goes ",
                "{slot}",
                ", mouth ",
                "{mouth}",
                "; ",
                *ISO_FIT_SAID,
                "; a change of the gap lands on ",
                "{takes}",
            ),
            apply=_apply,
            begin=_begin,
            prepare=drawn_figures,
            suits=("face",),
            words="keyway spline feather wheel axle torque drive hub",
        ),
        outer="slot",
        inner="key",
        meeting=_meeting,
        wanted=iso_or_wanted("wide"),
        goes_in="The key goes into its slot",
        holds="without too much play",
        facts=_facts,
        works=_works,
    )
)  # fmt: skip
