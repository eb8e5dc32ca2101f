"""Drop-in hook: a hook on a flat face of one part goes through a window in the wall of another and drops behind it, so that the part hangs there and can be lifted off.

The hook's neck lies on the window's sill, its lip behind the wall. Two gaps are one figure: to each side of the neck in its window, and half of what the wall has between
the face and the lip, for hung the face lies on the wall and all of that gap is behind it.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

import numpy as np

from .. import solid as kernel
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Changed, Length
from ..recipe import Choice, FieldSpec, JointShape, Mate, PartState, StepContext, StepKind, StepOutput, said
from ..recipe.picks import AxisPick, axis_of
from ..solid import Axis, Curve, FaceInfo, Frame, Line, Vec3
from ..solid.frame import cross, dot, scale, sub, unit
from .family import (
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
from .flats import block_named, spans_of, two_flats
from .mating import facing
from .rounds import seen_axis
from .working import Draws, Given, Plot, Result, Working

__all__ = ["DropHookFields"]

#: the way lies in the face within this sine, and face and wall look at each other within this cosine
SQUARE = 1e-3
#: a hook goes this far into the face that it stands on, to grow together with it, mm
INTO_MM = 0.2
#: it is lifted so far over its sill when it goes in, mm
OVER_MM = 0.5
#: a wall is even within this where the hook holds it, mm
EVEN_MM = 0.05


class DropHookFields(FitFields):
    """``base`` carries the hook, ``wall`` gets the window. ``neck`` is how high the hook is in the window, ``drop`` how far its lip reaches down behind the wall, ``lip`` how thick that is."""

    base: Annotated[FlatFace | None, Changed()] = None
    wall: Annotated[FlatFace | None, Changed()] = None
    way: AxisPick | None = None
    drops: Literal["lower", "upper"] = "lower"
    right: Length = "0 mm"
    up: Length = "0 mm"
    wide: Length = "8 mm"
    neck: Length = "5 mm"
    drop: Length = "5 mm"
    lip: Length = "3 mm"
    lead: Length = "0.8 mm"
    fit: Literal["press", "snug", "slide", "loose", "own"] = "loose"


def _frame(normal: Vec3, along: Vec3, drops: str) -> Frame:
    """``z`` against the way that it drops, ``y`` from the face into the wall."""
    up = Axis((0.0, 0.0, 0.0), along).upward().direction
    z = unit(up if drops == "lower" else scale(up, -1.0))
    return Frame((0.0, 0.0, 0.0), cross(normal, z), normal)


def _meeting(fields: DropHookFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    normal, along = facing(ctx, fields.base, "base"), seen_axis(ctx, fields.way)
    frame = None
    if normal is not None and along is not None and abs(dot(normal, along)) < 0.1:
        frame = _frame(normal, along, fields.drops)
    outer, inner = (p.part if p is not None else "" for p in (fields.wall, fields.base))
    wide = figures.get("wide", 0.0)
    return Meeting(outer, inner, frame, (wide, wide), along="x")


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: DropHookFields = ctx.fields
    (carrier, base), (host, wall) = two_flats(
        ctx,
        (fields.base, "base", "the face that the hook stands on"),
        (fields.wall, "wall", "the wall that it hangs in"),
    )
    assert fields.base is not None and fields.wall is not None
    if fields.way is None:
        raise StepError("Pick the way that it drops: an edge, or an axis.", field="way")
    along = axis_of(ctx, fields.way, "way").direction
    if abs(dot(along, base.normal)) > SQUARE:
        raise StepError("The way must lie in the face that the hook stands on; pick an edge of it.", field="way")
    if dot(base.normal, wall.normal) > SQUARE - 1:
        raise StepError("The wall must look at the face that the hook stands on; pick another.", field="wall")
    drawn = ctx.number("drawn")
    if drawn <= 0:
        raise StepError("A hook needs a gap to drop in; take a looser fit.", field="fit")
    off = dot(sub(wall.at, base.at), base.normal)
    if not -1e-6 <= off <= 2 * drawn + 1e-6:
        raise StepError(f"Hung, the face lies on the wall, and they are {off:.3g} mm apart; move one of them there.", field="wall")  # fmt: skip
    frame = _stand(ctx, carrier, fields.base, base, along)
    wide, neck, drop, lip = (ctx.positive(n, w) for n, w in (("wide", "The width"), ("neck", "The height of the neck"), ("drop", "The way that it drops"), ("lip", "The thickness of the lip")))  # fmt: skip
    lead = ctx.number("lead")
    if not 0 <= lead <= min(lip, drop) - 0.4:
        raise StepError(f"The chamfer of the lip is zero or more, and leaves something of it: {max(0.0, min(lip, drop) - 0.4):.3g} mm at most.", field="lead")  # fmt: skip
    share = OUTER_SHARE[fields.takes]
    half_hook, half_window = wide / 2 - (1 - share) * drawn, wide / 2 + share * drawn
    if half_hook < 0.4:
        raise StepError("The gap leaves nothing of the hook; make it wider.", field="wide")
    thick = _thickness(host, frame, wall.normal, off, half_window, neck, drop)
    throat = thick + 2 * drawn
    hook = _hook(ctx, frame, half_hook, throat, neck, drop, lip, lead)
    made = kernel.fuse(carrier.solid, [hook], ctx.id)
    if made.lumps > carrier.solid.lumps:
        raise StepError("The hook would stand beside that face; move it onto it.", field="right")
    top = neck + drop + OVER_MM + drawn
    middle = Frame(frame.to_world(0.0, off + thick / 2), frame.x, frame.y)
    window = block_named(middle, 2 * half_window, thick + 1.0, 0.0, top, ctx.id, "window")
    changed = kernel.cut(host.solid, [window], ctx.id)
    if changed.lumps > host.solid.lumps:
        raise StepError("The window would cut the wall in two; make the hook narrower, or lower.", field="wide")
    spare = 0.02 * min(neck, drop - lead)
    reach = max(1.0, 4 * drawn)
    sides = Mate(
        outer=(f"{ctx.id}/window(left)", f"{ctx.id}/window(right)"), inner=(f"{ctx.id}/hook(left)", f"{ctx.id}/hook(right)"), frame=frame,
        low_mm=spare, high_mm=neck - spare, sizes_mm=(2 * half_window, 2 * half_window), along="x", reach_mm=reach,
        window_mm=((0.0, off + thick / 2), (wide / 2 + reach, thick / 2 - spare)), seated=True,
    )  # fmt: skip
    held = Mate(
        outer=(f"{ctx.id}/hook(throat)", fields.base.face.name), inner=(fields.wall.face.name,), frame=frame, low_mm=-drop + lead + spare, high_mm=-spare,
        sizes_mm=(throat, throat), middle_mm=(0.0, throat / 2), along="y", reach_mm=reach + 2 * drawn, window_mm=((0.0, throat / 2), (half_hook - spare, throat / 2 + reach)),
        seated=True, swapped=True, leans=True,
    )  # fmt: skip
    # cut through the hook's middle, square to the wall
    seen = (Frame(frame.to_world(0.0, throat / 2, (neck - drop) / 2), frame.y, frame.z), 0.6 * (drop + neck) + throat / 2 + 1.0)  # fmt: skip
    joint = JointShape(fields.wall.part, fields.base.part, drawn, (sides, held), seen=seen)
    return StepOutput(parts={fields.base.part: made, fields.wall.part: changed}, joint=joint)


def _stand(ctx: StepContext, carrier: PartState, pick: FlatFace, base: FaceInfo, along: Vec3) -> Frame:
    """The frame at the sill: from the middle of the face, as far aside as is said. The face goes on behind the lip."""
    fields: DropHookFields = ctx.fields
    turned = _frame(base.normal, along, fields.drops)
    frame = Frame(base.at, turned.x, turned.y)
    # aside and up, as a frame's y and z
    (left, low), (right, high) = spans_of(
        carrier, ctx.faces_named(pick, "base")[1], Frame(base.at, scale(turned.y, -1.0), turned.x)
    )
    x, z = float(left + right) / 2 + ctx.number("right"), float(low + high) / 2 + ctx.number("up")
    if z - ctx.number("drop") < low - 1e-6 or z + ctx.number("neck") > high + 1e-6:
        raise StepError(
            f"The face must reach over the hook: it is {high - low:.4g} mm high, and the hook takes {ctx.number('drop') + ctx.number('neck'):.4g}.",
            field="up",
        )
    return Frame(frame.to_world(x, 0.0, z), frame.x, frame.y)


def _thickness(host: PartState, frame: Frame, normal: Vec3, off: float, half: float, neck: float, drop: float) -> float:
    """How thick the wall is round the window and under its sill, where it must be even."""
    top = neck + drop + OVER_MM
    heights = (-drop + 0.1, -drop / 2, -0.1, top / 2, top + 0.3)
    spots = [(frame.to_world(x, off, z), normal) for z in heights for x in (-half - 0.3, 0.0, half + 0.3)]
    found = [kernel.thickness_at(host.solid, at, way) for at, way in spots]
    if any(t is None for t in found):
        raise StepError("The window would not lie within the wall: move the hook, or make it smaller.", field="up")
    whole = [t for t in found if t is not None]
    if max(whole) - min(whole) > EVEN_MM:
        raise StepError(f"The wall is {min(whole):.3g} to {max(whole):.3g} mm thick there; the lip needs an even one.", field="wall")  # fmt: skip
    return min(whole)


def _hook(
    ctx: StepContext, frame: Frame, half: float, throat: float, neck: float, drop: float, lip: float, lead: float
) -> kernel.NamedSolid:
    """The hook: its outline in the plane of the way and the wall's normal, as wide as it is."""
    ring = [(-INTO_MM, 0.0), (throat, 0.0), (throat, -drop + lead), (throat + lead, -drop), (throat + lip, -drop), (throat + lip, neck), (-INTO_MM, neck)]  # fmt: skip
    names = ["seat", "throat", "lead", "tip", "back", "top", "foot"]
    if lead <= 0:
        ring.pop(3)
        names.remove("lead")
    curves: list[Curve] = [Line(n, a, b) for n, a, b in zip(names, ring, [*ring[1:], ring[0]], strict=True)]
    (region,) = kernel.find_regions(curves)
    plane = Frame(frame.origin, frame.y, frame.z)
    ends = {f"{ctx.id}/start": f"{ctx.id}/hook(left)", f"{ctx.id}/end": f"{ctx.id}/hook(right)"}
    return kernel.prism(region, plane, -half, half, ctx.id, check=False).renamed(
        lambda n: ends.get(n, n.replace(f"{ctx.id}/side(", f"{ctx.id}/hook("))
    )


# ---- what the hand-book works out ------------------------------------------------------------------------------------


def _facts(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    """How thick the wall is, mm."""
    return {"wall": shape.mates[1].sizes_mm[1] - 2 * shape.drawn_mm}


def _works(draws: Draws) -> Working:
    """What hangs on the neck bends it over the middle of the sill; what pulls at the part bends the lip open."""
    fields: DropHookFields = draws.fields
    f, inner, wall = draws.figures, draws.inner, draws.facts["wall"]
    gap = np.maximum(draws.gap_mm, 0.0)
    strength = inner.strength_mpa
    # layers lie square to the print's upright: the neck's root is torn along it where that is the wall's normal, the lip's where it is the way
    weak = [inner.layered(way) for way in (1, 2)]
    wide = f["wide"] - 2 * (1 - OUTER_SHARE[fields.takes]) * f["drawn"]
    bends = strength * weak[0] * wide * f["neck"] ** 2 / (6 * (wall / 2 + gap))
    shears = 0.577 * strength * weak[0] * wide * f["neck"]
    opens = strength * weak[1] * wide * f["lip"] ** 2 / (6 * f["drop"] / 2)
    layers = "its layers are pulled apart"
    results = (
        Result("slack behind the wall", 2 * gap, "mm"),
        Result("lip behind the wall", np.full_like(gap, f["drop"]), "mm", 1.0, "least", "it slips off"),
        Result(
            "weight until the neck breaks", np.minimum(bends, shears), "N", note=layers if weak[0] < 0.75 else "once"
        ),
        Result("pull until the lip breaks", opens, "N", note=layers if weak[1] < 0.75 else "once"),
    )
    givens = (
        Given("thickness of the wall", wall, "mm", "read on the solids"), Given("width of the hook", wide, "mm"), Given("height of the neck", f["neck"], "mm"),
        Given("thickness of the lip", f["lip"], "mm"), Given("it is lifted off by", f["drop"], "mm"),
    )  # fmt: skip
    across = np.linspace(0.0, max(0.6, 2 * float(gap[0])), 9)
    plot = Plot("gap, mm a side", "slack behind the wall, mm", tuple((float(g), 2 * float(g)) for g in across), None, (float(gap[0]), 2 * float(gap[0])))  # fmt: skip
    return Working(
        "Hook in its window", givens, results, (plot,),
        "A short beam from the face to the middle of the sill (bending, and shear at 0.577 of the strength), and the lip as a beam from the neck to half its length. By the sentence's figures: what later steps do to it is not in it.",
    )  # fmt: skip


register_joint(
    JointFamily(
        step=StepKind(
            kind="drop_hook",
            title="Drop-in hook",
            group="join",
            about="A hook that goes through a window of another part's wall and drops behind it; lifted, it comes off.",
            fields=DropHookFields,
            specs=(
                FieldSpec("base", "face", "face that it stands on", missing="the face that it stands on"),
                FieldSpec("wall", "face", "wall that it hangs in", missing="the wall that it hangs in"),
                FieldSpec("way", "axis", "way that it drops", missing="an edge or axis along it"),
                FieldSpec("drops", "choice", "which way", "lower", (Choice("lower", "down along"), Choice("upper", "up along"))),
                FieldSpec("right", "length", "aside from the face's middle", "0 mm"),
                FieldSpec("up", "length", "up from the face's middle", "0 mm"),
                FieldSpec("wide", "length", "width", "8 mm"),
                FieldSpec("neck", "length", "height of the neck", "5 mm"),
                FieldSpec("drop", "length", "how far it drops", "5 mm"),
                FieldSpec("lip", "length", "thickness of the lip", "3 mm"),
                FieldSpec("lead", "length", "chamfer of the lip", "0.8 mm"),
                *fit_specs("the hook", "the window", fit="loose"),
            ),
            sentence=said(
                "Join by a hook on ", "{base}", " that drops ", "{drops}", " ", "{way}", " behind ", "{wall}", ", ", "{right}", " aside and ", "{up}",
                " up from the face's middle: ", "{wide}", " wide, its neck ", "{neck}", " high, its lip ", "{drop}", " long and ", "{lip}", " thick, chamfered ", "{lead}", "; ",
                *FIT_SAID, "; a change of the gap lands on ", "{takes}",
            ),
            apply=_apply,
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="hang hook drop lift off bayonet slot window wall mount",
        ),
        outer="window",
        inner="hook",
        meeting=_meeting,
        # first in, then down: no straight way brings it out
        comes="turned",
        wanted=wanted_of,
        goes_in="The hook drops into its window",
        holds="without too much play",
        facts=_facts,
        works=_works,
    )
)  # fmt: skip
