"""Drill: holes at points or in the middle of round edges, plain, counterbored, countersunk, by figures or for a named screw."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import Project, StepFields
from ..errors import StepError
from ..quantities.markers import Angle, Length, PartMark
from ..quantities.screws import SCREWS, ScrewFit, ScrewSize
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, Work, register, said, wanted
from ..recipe.picks import SpotsPick, spots_of
from .result import changed

#: a tool stands out over the surface by so much, so that no skin is left, mm
OVER_MM = 1.0
#: and whether there is material at a place is looked at so far before and behind it, mm
LOOK_MM = 0.02


class DrillFields(StepFields):
    """``head_gap`` is what stays free round a screw's head and over it; ``tip`` the angle of the drill's point (180 deg: flat)."""

    part: Annotated[str, PartMark("changes"), Field(max_length=40)]
    at: SpotsPick
    shape: Literal["plain", "bored", "sunk", "tapped"] = "plain"
    size: Literal["free", "screw"] = "free"
    diameter: Length = "4 mm"
    head: Length = "8 mm"
    head_deep: Length = "4 mm"
    head_gap: Length = "0.4 mm"
    screw: ScrewSize = "M4"
    fit: ScrewFit = "medium"
    sink: Angle = "90 deg"
    extent: Literal["through", "by"] = "through"
    depth: Length = "10 mm"
    tip: Angle = "180 deg"


def _sizes(ctx: StepContext) -> tuple[float, float, float]:
    """Diameters of the hole and of its head (0: none), and how deep the head goes in, mm. A countersink's depth follows from its angle."""
    fields: DrillFields = ctx.fields
    if fields.size == "free" and fields.shape != "tapped":
        bore = ctx.positive("diameter", "The diameter")
        if fields.shape == "plain":
            return bore, 0.0, 0.0
        head = ctx.positive("head", "The diameter of the head")
        if head <= bore:
            raise StepError("The head must be wider than the hole under it.", field="head")
        return bore, head, ctx.positive("head_deep", "The depth of the head") if fields.shape == "bored" else 0.0
    screw = SCREWS[fields.screw]
    bore = screw.tap_mm if fields.shape == "tapped" else screw.clear_mm[fields.fit]
    if fields.shape in ("plain", "tapped"):
        return bore, 0.0, 0.0
    gap = ctx.number("head_gap")
    if gap < 0:
        raise StepError("The room round the head is zero or more.", field="head_gap")
    if fields.shape == "bored":
        return bore, screw.head_mm + 2 * gap, screw.head_high_mm + gap
    if screw.sunk_mm is None:
        raise StepError(
            f"ISO 10642 has no countersunk {fields.screw}; take M3 or larger, or give figures.", field="screw"
        )
    return bore, screw.sunk_mm + 2 * gap, 0.0


def _profile(ctx: StepContext, deep: float, over: float) -> tuple[list[tuple[float, float]], list[str]]:
    """Half of the tool, as (radius, height over the surface) from the bottom of its middle, and what its faces are called. It stands out
    by ``over``."""
    fields: DrillFields = ctx.fields
    bore, head, head_deep = _sizes(ctx)
    r, h = bore / 2, head / 2
    tip = ctx.number("tip") if fields.extent == "by" else math.pi
    if not math.radians(10) <= tip <= math.pi + 1e-9:
        raise StepError("A drill's point has an angle from 10 to 180 deg (180: flat).", field="tip")
    point = r / math.tan(tip / 2) if tip < math.pi - 1e-9 else 0.0
    places, names = [(0.0, -deep - point), (r, -deep)], ["floor", "wall"]
    if fields.shape == "sunk":
        angle = math.radians(90) if fields.size == "screw" else ctx.number("sink")
        if not math.radians(30) <= angle <= math.radians(150):
            raise StepError("A countersink has an angle from 30 to 150 deg.", field="sink")
        low = (h - r) / math.tan(angle / 2)
        if low >= deep:
            raise StepError("The countersink goes deeper than the hole; drill deeper.", field="depth")
        places += [(r, -low), (h, 0.0), (h, over)]
        names += ["sink", "over", "lid"]
    elif fields.shape == "bored":
        if head_deep >= deep:
            raise StepError("The head goes as deep as the hole; drill deeper.", field="depth")
        places += [(r, -head_deep), (h, -head_deep), (h, over)]
        names += ["seat", "head", "lid"]
    else:
        places += [(r, over)]
        names += ["lid"]
    if fields.shape == "sunk" and over == 0:
        del places[-1], names[-2]
    return [*places, (0.0, over)], [*names, "middle"]


def _tool(ctx: StepContext, base: kernel.NamedSolid, name: str, frame: kernel.Frame) -> kernel.NamedSolid:
    """One hole; it goes to the side on which there is material, first to the one away from where the plane faces."""
    fields: DrillFields = ctx.fields
    low, high = kernel.prism_extent([base], frame)
    under, above = _beside(base, frame, _sizes(ctx)[0] / 2)
    if (above and not under) or (low > -1e-6 and high > 1e-6):
        frame = kernel.Frame(frame.origin, frame.x, (-frame.y[0], -frame.y[1], -frame.y[2]))
        low, high, above = -high, -low, under
    if low > -1e-6:
        raise StepError("There is nothing to drill at one of the places; pick others.", field="at")
    deep = ctx.positive("depth", "The depth") if fields.extent == "by" else -low + OVER_MM
    if fields.extent == "through" and fields.shape in ("plain", "tapped"):
        # a plain hole through all goes through what stands over the plane too
        over = max(high, 0.0) + OVER_MM
    else:
        # where the plane lies within the part, what stands over it stays
        over = 0.0 if above else OVER_MM
    return kernel.lathed(frame, *_profile(ctx, deep, over), ctx.id, name)


def _beside(base: kernel.NamedSolid, frame: kernel.Frame, radius_mm: float) -> tuple[bool, bool]:
    """Whether there is material of a part just under and just above a place where a hole begins: in its middle and round it, for a smaller hole may be there already."""
    ring = [(0.0, 0.0), *((0.9 * radius_mm * math.cos(k * math.pi / 4), 0.9 * radius_mm * math.sin(k * math.pi / 4)) for k in range(8))]  # fmt: skip
    places = [frame.to_world(u, v, w) for w in (-LOOK_MM, LOOK_MM) for u, v in ring]
    found = kernel.in_material(base, places)
    return any(found[: len(ring)]), any(found[len(ring) :])


def _apply(ctx: StepContext) -> StepOutput:
    fields: DrillFields = ctx.fields
    base = ctx.part(fields.part).solid
    tools = [_tool(ctx, base, name, frame) for name, frame in spots_of(ctx, fields.at, "at")]
    try:
        made = changed(fields.part, base, kernel.cut(base, tools, ctx.id))
    except StepError as error:
        raise StepError(error.message, field=error.field or "at") from None
    return StepOutput(parts=made.parts, note=made.note, works=(Work(fields.part, "cut", tuple(tools)),))


def _begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    """The part drilled is the one whose edges were pointed at, or the one that the points were drawn on, unless it is one that is brought in or bought."""
    at = fields.get("at")
    if answered != "at" or not isinstance(at, Mapping):
        return {}
    sketch = next((s for s in project.recipe if s.id == at.get("step")), None)
    plane = sketch.fields.get("plane") if sketch else None
    part = at.get("part") or (plane.get("part") if isinstance(plane, Mapping) else None)
    return {"part": part} if part in {p.id for p in project.parts if p.role not in ("reference", "bought")} else {}


_HEADED = {"size": ["free"], "shape": ["bored", "sunk"]}
_BORED = {"size": ["free"], "shape": ["bored"]}
_SUNK = {"size": ["free"], "shape": ["sunk"]}
_FREE = {"size": ["free"], "shape": ["plain", "bored", "sunk"]}
_FOR = {"size": ["screw"], "shape": ["plain", "bored", "sunk"]}
_HEAD_ROOM = {"size": ["screw"], "shape": ["bored", "sunk"]}
_NOT_TAPPED = {"shape": ["plain", "bored", "sunk"]}
_TAPPED = {"shape": ["tapped"]}
_BY = {"extent": ["by"]}

register(
    StepKind(
        kind="drill",
        title="Drill",
        group="take away",
        about="Holes at points, plain or with a head, by figures or for a screw.",
        fields=DrillFields,
        specs=(
            FieldSpec("part", "part", "part", missing="a part"),
            FieldSpec("at", "spots", "where", missing="points or round edges"),
            FieldSpec(
                "shape",
                "choice",
                "what hole",
                "plain",
                (
                    Choice("plain", "plain"),
                    Choice("bored", "counterbored"),
                    Choice("sunk", "countersunk"),
                    Choice("tapped", "for a thread"),
                ),
            ),
            FieldSpec("size", "choice", "how large", "free", (Choice("free", "Ø"), Choice("screw", "for"))),
            FieldSpec("diameter", "length", "diameter", "4 mm"),
            FieldSpec("head", "length", "diameter of the head", "8 mm"),
            FieldSpec("head_deep", "length", "depth of the head", "4 mm"),
            FieldSpec("head_gap", "length", "room round the head", "0.4 mm"),
            FieldSpec("screw", "choice", "screw", "M4", tuple(Choice(name, name) for name in SCREWS)),
            FieldSpec(
                "fit",
                "choice",
                "how loose",
                "medium",
                (
                    Choice("fine", "close (ISO 273 fine)"),
                    Choice("medium", "medium (ISO 273)"),
                    Choice("coarse", "loose (ISO 273 coarse)"),
                ),
            ),
            FieldSpec("sink", "angle", "angle of the countersink", "90 deg"),
            FieldSpec(
                "extent",
                "choice",
                "how deep",
                "through",
                (Choice("through", "through all"), Choice("by", "to a depth of")),
            ),
            FieldSpec("depth", "length", "depth", "10 mm"),
            FieldSpec("tip", "angle", "angle of the point", "180 deg"),
        ),
        sentence=said(
            "Drill ",
            "{part}",
            " at ",
            "{at}",
            ", ",
            "{shape}",
            (" ", _NOT_TAPPED),
            ("{size}", _NOT_TAPPED),
            (" ", _FREE),
            ("{diameter}", _FREE),
            (" with a head Ø ", _HEADED),
            ("{head}", _HEADED),
            (", ", _BORED),
            ("{head_deep}", _BORED),
            (" deep", _BORED),
            (" at ", _SUNK),
            ("{sink}", _SUNK),
            (" ", _TAPPED),
            ("{screw}", _TAPPED),
            (" ", _FOR),
            ("{screw}", _FOR),
            (", ", _FOR),
            ("{fit}", _FOR),
            (", with ", _HEAD_ROOM),
            ("{head_gap}", _HEAD_ROOM),
            (" round its head", _HEAD_ROOM),
            ", ",
            "{extent}",
            (" ", _BY),
            ("{depth}", _BY),
            *wanted("a pointed end", (", ending in a point of ", _BY), ("{tip}", _BY)),
        ),
        apply=_apply,
        suits=("edge",),
        words="hole bore screw counterbore countersink tap clearance",
        begin=_begin,
    )
)
