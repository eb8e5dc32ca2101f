"""Halving: two plates that cross, each notched to where they meet, so that they slide into each other.

The plates stand through each other as they are to be. Each notch is as wide as the other plate is thick there, and the gap to both sides; both take from each other's
thickness, so that a thicker plate has a wider notch without a word. The notches end with a little room between their floors.
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
from ..quantities.markers import Changed, Length
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, said, wanted
from ..solid import Axis, Frame
from ..solid.frame import cross, dot, scale, sub, unit
from .family import JointFamily, Meeting, drawn_figures, fit_specs, register_joint
from .flats import ON_MM, relieved, two_flats
from .iso_fit import ISO, ISO_FIT_SAID, ZONES_SPEC, IsoFitFields, iso_or_wanted, meets_nominal
from .mating import facing
from .working import Draws, Given, Plot, Result, Working

__all__ = ["HalvingFields"]

#: plates stand square to each other within this cosine
SQUARE = 1e-3
#: PRACTICE: a plate that leans more than this looks crooked, degrees
MOST_LEAN_DEG = 3.0
#: what of a plate stays beyond a notch, mm
LEFT_MM = 0.5


class HalvingFields(IsoFitFields):
    """``first`` and ``second`` are broad faces of the two plates; the first one's notch opens at the ``opens`` end and reaches down by ``depth``, or half way. ``mill`` is the diameter of the
    cutter that makes the notches (0: their corners may be sharp), ``nominal`` the plates' thickness that a fit of ISO 286 is taken at."""

    first: Annotated[FlatFace | None, Changed()] = None
    second: Annotated[FlatFace | None, Changed()] = None
    opens: Literal["upper", "lower"] = "upper"
    share: Literal["half", "by"] = "half"
    depth: Length = "20 mm"
    lead: Length = "0.5 mm"
    mill: Length = "0 mm"
    nominal: Length = "3 mm"


def _meeting(fields: HalvingFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    normals = []
    for pick, field in ((fields.first, "first"), (fields.second, "second")):
        normal = facing(ctx, pick, field)
        normals.append(normal)
    frame = None
    if normals[0] is not None and normals[1] is not None and abs(dot(normals[0], normals[1])) < 0.1:
        frame = _frame(normals[0], normals[1], fields.opens)
    outer, inner = (p.part if p is not None else "" for p in (fields.first, fields.second))
    return Meeting(outer, inner, frame, along="x")


def _frame(first: kernel.Vec3, second: kernel.Vec3, opens: str) -> Frame:
    """``x`` across the second plate, which lies in the first one's notch; ``z`` out of that notch."""
    up = Axis((0.0, 0.0, 0.0), unit(cross(first, second))).upward().direction
    z = up if opens == "upper" else scale(up, -1.0)
    return Frame((0.0, 0.0, 0.0), second, cross(z, second))


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: HalvingFields = ctx.fields
    (one, first), (other, second) = two_flats(
        ctx,
        (fields.first, "first", "a broad face of the first plate"),
        (fields.second, "second", "a broad face of the second plate"),
    )
    assert fields.first is not None and fields.second is not None
    if abs(dot(first.normal, second.normal)) > SQUARE:
        raise StepError("The two plates must stand square to each other; pick others.", field="second")
    drawn = ctx.number("drawn")
    thick = [_thickness(p, f, field) for p, f, field in ((one, first, "first"), (other, second, "second"))]
    for it in thick:
        meets_nominal(ctx, it, "nominal", "The nominal thickness", "a plate's thickness is", spare_mm=ON_MM)
    frame = _frame(first.normal, second.normal, fields.opens)
    # where the middles of both plates cross: across the second one by its face, across the first one by its
    at = [dot(sub(second.at, frame.origin), frame.x) - thick[1] / 2, 0.0]
    side = math.copysign(1.0, dot(first.normal, frame.y))
    at[1] = dot(sub(first.at, frame.origin), frame.y) - side * thick[0] / 2
    frame = Frame(frame.to_world(at[0], at[1]), frame.x, frame.y)
    low, high, far = _crossing(one, other, frame)
    tall = high - low
    deep = tall / 2 if fields.share == "half" else ctx.positive("depth", "The depth")
    if not LEFT_MM <= deep <= tall - LEFT_MM:
        raise StepError(f"The plates cross over {tall:.4g} mm; the first one's notch takes {LEFT_MM:g} to {tall - LEFT_MM:.4g} mm of it.", field="depth")  # fmt: skip
    lead = ctx.number("lead")
    if lead < 0 or lead >= min(deep, tall - deep) - 0.2:
        raise StepError("The lead-in is zero or more, and less than the notches are deep.", field="lead")
    split = high - deep
    room = max(drawn, 0.0) / 2
    wide = [t / 2 + drawn for t in thick]
    if min(wide) <= 0.1:
        raise StepError("The overlap leaves nothing of the notches; take a looser fit.", field="fit")
    mill = ctx.number("mill")
    if mill < 0 or mill > 2 * min(wide) + 1e-9:
        raise StepError(f"The cutter goes into the notches: 0 to {2 * min(wide):.4g} mm, and 0 mm leaves the corners sharp.", field="mill")  # fmt: skip
    # the sides count where no relief took of them
    eased = mill / 2 * (1 + math.sqrt(0.5))
    if 2 * eased >= min(deep, tall - deep) - lead:
        raise StepError("The relieved corners leave nothing of the notches' sides; take a thinner cutter, or deeper notches.", field="mill")  # fmt: skip
    turned = Frame(frame.origin, frame.y, scale(frame.x, -1.0))
    # the first plate's notch takes the second plate, and the other way round
    notches = (
        (_notch(ctx, frame, wide[1], thick[0] / 2 + 1.0, split - room, far[1] + 1.0, lead, far[1], "first"), _eased(ctx, frame, wide[1], thick[0], split - room, 1.0, "first")),
        (_notch(ctx, turned, wide[0], thick[1] / 2 + 1.0, far[0] - 1.0, split + room, lead, far[0], "second"), _eased(ctx, turned, wide[0], thick[1], split + room, -1.0, "second")),
    )  # fmt: skip
    parts = {}
    for pick, whole, (tool, circles), field in ((fields.first, one, notches[0], "first"), (fields.second, other, notches[1], "second")):  # fmt: skip
        made = kernel.cut(whole.solid, [tool, *circles], ctx.id)
        if made.lumps > whole.solid.lumps:
            raise StepError("The notch would cut that plate in two; let it end sooner, or make the plate wider.", field=field)  # fmt: skip
        parts[pick.part] = made
    spare = 0.02 * min(deep, tall - deep)
    mates = []
    # each holds the other plate across its own notch, so that neither takes play from the other
    zones: tuple[tuple[str, Literal["x", "y"], tuple[PartState, kernel.FaceInfo], int, float, float], ...] = (
        ("first", "x", (other, second), 1, split + room + eased, min(high, far[1] - lead)),
        ("second", "y", (one, first), 0, max(low, far[0] + lead), split - room - eased),
    )
    for word, along, plate, k, begin, end in zones:
        size = 2 * wide[k]
        window = (size / 2 + 1.0, thick[1 - k] / 2)
        mates.append(Mate(
            outer=tuple(f"{ctx.id}/{word}({s})" for s in ("left", "right")), inner=_broad(plate), frame=frame, low_mm=begin + spare, high_mm=end - spare,
            sizes_mm=(size, size), along=along, reach_mm=max(1.0, 4 * abs(drawn)), window_mm=((0.0, 0.0), window if along == "x" else window[::-1]), seated=True, swapped=word == "second",
        ))  # fmt: skip
    return StepOutput(parts=parts, joint=JointShape(fields.first.part, fields.second.part, drawn, tuple(mates)))


def _suggest(project: Project, ctx: StepContext, answered: str) -> dict[str, Any]:
    """The nominal thickness, once both plates are known and are as thick as each other."""
    fields: HalvingFields = ctx.fields
    if fields.first is None or fields.second is None or answered not in ("first", "second"):
        return {}
    plates = two_flats(ctx, (fields.first, "first", "the first plate"), (fields.second, "second", "the second plate"))
    thick = [kernel.thickness_at(p.solid, f.at, f.normal) for p, f in plates]
    if None in thick or abs(thick[0] - thick[1]) > 0.01:  # type: ignore[operator]
        return {}
    return {"nominal": f"{thick[0]:.5g} mm"}


def _thickness(plate: PartState, face: kernel.FaceInfo, field: str) -> float:
    thick = kernel.thickness_at(plate.solid, face.at, face.normal)
    if thick is None:
        raise StepError("No other side lies across that face; pick a broad face of a plate.", field=field)
    return thick


def _broad(plate: tuple[PartState, kernel.FaceInfo]) -> tuple[str, ...]:
    """The picked face of a plate and those that look the other way."""
    part, face = plate
    return tuple(f.names[0] for f in part.faces if f.kind == "plane" and abs(dot(f.normal, face.normal)) > 1 - 1e-6)


def _crossing(one: PartState, other: PartState, frame: Frame) -> tuple[float, float, tuple[float, float]]:
    """From where to where both plates have material on the line in which their middles cross; and as far as notches have to go out: below in the second, above in
    the first; heights over the frame, mm."""
    axis = Axis(frame.origin, frame.z)
    spans = []
    for part in (one, other):
        places = kernel.meets_at(part.solid, axis)
        spans.append(list(zip(places[::2], places[1::2], strict=False)))
    found = [(max(a[0], b[0]), min(a[1], b[1]), a, b) for a in spans[0] for b in spans[1] if min(a[1], b[1]) - max(a[0], b[0]) > 2 * LEFT_MM]  # fmt: skip
    if not found:
        raise StepError("The two plates do not stand through each other; move one of them to where it is to be.", field="second")  # fmt: skip
    low, high, mine, its = max(found, key=lambda s: s[1] - s[0])
    return low, high, (its[0], mine[1])


def _notch(ctx: StepContext, frame: Frame, half_mm: float, through_mm: float, low: float, high: float, lead: float, mouth: float, word: str) -> kernel.NamedSolid:  # fmt: skip
    """A notch about a frame's ``z``, ``x`` across it, opened wider by the lead-in at its mouth."""
    # drawn in the plane of x and z, looking along y
    upright = Frame(frame.origin, frame.x, frame.z)
    up = mouth > (low + high) / 2
    floor, top = (low, high) if up else (high, low)
    sign = 1.0 if up else -1.0
    ring = [(-half_mm, floor), (half_mm, floor)]
    names = ["floor", "right"]
    if lead > 0:
        ring += [(half_mm, mouth - sign * lead), (half_mm + lead, mouth), (half_mm + lead, top), (-half_mm - lead, top), (-half_mm - lead, mouth), (-half_mm, mouth - sign * lead)]  # fmt: skip
        names += ["leadright", "mouthright", "lid", "mouthleft", "leadleft", "left"]
    else:
        ring += [(half_mm, top), (-half_mm, top)]
        names += ["lid", "left"]
    lines: list[kernel.Curve] = [kernel.Line(n, a, b) for n, a, b in zip(names, ring, [*ring[1:], ring[0]], strict=True) if math.dist(a, b) > 1e-9]  # fmt: skip
    (region,) = kernel.find_regions(lines)
    return kernel.prism(region, upright, -through_mm, through_mm, ctx.id, check=False).renamed(
        lambda n: n.replace(f"{ctx.id}/side(", f"{ctx.id}/{word}(").replace(f"{ctx.id}/start", f"{ctx.id}/{word}-front").replace(f"{ctx.id}/end", f"{ctx.id}/{word}-back")
    )  # fmt: skip


def _eased(ctx: StepContext, frame: Frame, half_mm: float, thick_mm: float, floor_mm: float, up: float, word: str) -> list[kernel.NamedSolid]:  # fmt: skip
    """What a cutter takes out of the two corners of a notch's floor; ``up`` says on which side of it the notch lies."""
    # in the plane of the plate, from a millimetre within the notch
    upright = Frame(frame.to_world(0.0, 0.0, floor_mm + up), frame.x, scale(frame.z, up))
    return relieved(
        upright,
        [(-half_mm, -1.0), (half_mm, -1.0)],
        ctx.number("mill"),
        -thick_mm / 2 - 1.0,
        thick_mm / 2 + 1.0,
        ctx.id,
        f"{word}-relief",
    )


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    """How deep each notch holds the other plate, and how thick that with it is, mm."""
    found = {}
    for word, m in zip(("first", "second"), shape.mates, strict=True):
        assert m.window_mm is not None
        found[word], found[f"{word} thick"] = (m.high_mm - m.low_mm) / 0.96, 2 * m.window_mm[1]["yx".index(m.along)]
    return found


def _works(draws: Draws) -> Working:
    """A plate in a notch rocks until it meets one side at the mouth and the other at the floor: twice the gap over how far it is held."""
    facts, play = draws.facts, 2 * np.maximum(draws.gap_mm, 0.0)
    lean = {word: np.degrees(np.arctan(play / facts[word])) for word in ("first", "second")}
    # about the line in which they cross, the thicker plate's notch holds longest
    twist = np.degrees(np.arctan(play / max(facts["first thick"], facts["second thick"])))
    results = (
        Result("the second plate leans by", lean["first"], "°", MOST_LEAN_DEG, "most", "the second plate leans", "in the first one's notch"),
        Result("the first plate leans by", lean["second"], "°", MOST_LEAN_DEG, "most", "the first plate leans", "in the second one's notch"),
        Result("they turn about the line where they cross by", twist, "°"),
    )  # fmt: skip
    givens = tuple(Given(f"the {word} plate's notch holds over", facts[word], "mm", "read on the solids") for word in ("first", "second"))  # fmt: skip
    across = np.linspace(0.0, max(0.4, 2 * float(draws.gap_mm[0])), 9)
    worst = min(facts["first"], facts["second"])
    points = tuple((float(g), math.degrees(math.atan(2 * float(g) / worst))) for g in across)
    here = (float(draws.gap_mm[0]), max(float(a[0]) for a in lean.values()))
    return Working("Crossed plates", givens, results, (Plot("gap, mm a side", "leans by, °", points, MOST_LEAN_DEG, here),), "By the gap to each side and how far the notches hold; the plates are taken to be flat.")  # fmt: skip


_BY, _ISO = {"share": ["by"]}, {"fit": ["iso"]}
register_joint(
    JointFamily(
        step=StepKind(
            kind="halving",
            title="Halving of plates",
            group="join",
            about="Two plates that cross, each notched to take the other.",
            fields=HalvingFields,
            specs=(
                FieldSpec("first", "face", "broad face of the first plate", missing="a broad face of one plate"),
                FieldSpec("second", "face", "broad face of the second plate", missing="a broad face of the other"),
                FieldSpec(
                    "opens",
                    "choice",
                    "where the first one's notch opens",
                    "upper",
                    (Choice("upper", "above"), Choice("lower", "below")),
                ),
                FieldSpec(
                    "share", "choice", "how deep it goes", "half", (Choice("half", "half way"), Choice("by", "by"))
                ),
                FieldSpec("depth", "length", "depth of its notch", "20 mm"),
                FieldSpec("lead", "length", "lead-in at the notches' mouths", "0.5 mm"),
                FieldSpec("mill", "length", "cutter that makes the notches (0: sharp corners)", "0 mm"),
                *fit_specs("the second", "the first", ISO),
                ZONES_SPEC,
                FieldSpec("nominal", "length", "nominal thickness of the plates", "3 mm"),
            ),
            sentence=said(
                "Halve ",
                "{first}",
                " and ",
                "{second}",
                " where they cross: the first one's notch opens ",
                "{opens}",
                " and goes ",
                "{share}",
                (" ", _BY),
                ("{depth}", _BY),
                ", lead-in ",
                "{lead}",
                *wanted("relief for a milling cutter", ", notches made by a cutter Ø ", "{mill}"),
                "; ",
                *ISO_FIT_SAID,
                (" at nominal ", _ISO),
                ("{nominal}", _ISO),
                " in both notches",
            ),
            apply=_apply,
            suggest=_suggest,
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="cross lap notch slot plates grid egg crate",
        ),
        outer="first plate",
        inner="second plate",
        meeting=_meeting,
        wanted=iso_or_wanted("nominal"),
        goes_in="The plates go into each other",
        holds="without too much play",
        facts=_facts,
        works=_works,
    )
)
