"""Watch: the gap between two flat faces that look at each other, which no joint made. It is judged like any other; or the second face is moved so that it is what is wanted.

The gap counts straight across, where the two faces lie over each other, and as the parts stand: nothing centres them.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

from .. import solid as kernel
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Changed
from ..recipe import Choice, FieldSpec, JointShape, Mate, StepContext, StepKind, StepOutput, said
from ..solid import Frame, Vec3
from ..solid.frame import cross, dot, sub, unit
from .family import (
    FIT_SAID,
    FitFields,
    JointFamily,
    Meeting,
    drawn_figures,
    fit_specs,
    register_joint,
    straight_across,
    wanted_of,
)
from .flats import spans_of, two_flats
from .mating import facing

__all__ = ["WatchFields"]

#: faces look at each other within this cosine
OPPOSITE = 1e-3


class WatchFields(FitFields):
    """``first`` and ``second`` are the faces. Where the gap is ``driven`` the second one moves straight out or in, what adjoins it following; ``takes`` says nothing here."""

    first: FlatFace | None = None
    second: Annotated[FlatFace | None, Changed()] = None
    how: Literal["watched", "driven"] = "watched"
    fit: Literal["press", "snug", "slide", "loose", "own"] = "own"


def _frame(origin: Vec3, normal: Vec3) -> Frame:
    """``x`` straight across the gap; ``z`` along the faces, as level as may be."""
    guide: Vec3 = (0.0, 0.0, 1.0) if abs(normal[2]) < 0.9 else (0.0, 1.0, 0.0)
    along = unit(cross(normal, guide))
    return Frame(origin, normal, cross(along, normal))


def _meeting(fields: WatchFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    pick, frame = fields.first, None
    normal = facing(ctx, pick, "first")
    if normal is not None:
        frame = _frame((0.0, 0.0, 0.0), normal)
    outer, inner = (p.part if p is not None else "" for p in (fields.second, fields.first))
    return Meeting(outer, inner, frame, along="x")


def _apply(ctx: StepContext) -> StepOutput:
    fields: WatchFields = ctx.fields
    (mine, first), (its, second) = two_flats(
        ctx, (fields.first, "first", "one of the faces"), (fields.second, "second", "the other face")
    )
    assert fields.first is not None and fields.second is not None
    if dot(first.normal, second.normal) > OPPOSITE - 1:
        raise StepError("The two faces must look at each other; pick others.", field="second")
    frame = _frame(first.at, first.normal)
    spans = [spans_of(part, part.faces.index(face), frame) for part, face in ((mine, first), (its, second))]
    low, high = (pick(s[k][1] for s in spans) for k, pick in ((0, max), (1, min)))  # along z
    left, right = (pick(s[k][0] for s in spans) for k, pick in ((0, max), (1, min)))  # along y
    if high - low < 0.2 or right - left < 0.2:
        raise StepError("The two faces do not lie over each other; pick others.", field="second")
    gap = dot(sub(second.at, first.at), first.normal)
    parts = {}
    if fields.how == "driven":
        drawn = ctx.number("drawn")
        try:
            parts = {fields.second.part: kernel.pushed(its.solid, [its.faces.index(second)], gap - drawn, ctx.id)}
        except StepError as error:
            raise StepError(error.message, field=error.field or "second") from None
        gap = drawn
    spare = 0.02 * (high - low)
    mate = Mate(
        outer=(fields.second.face.name,), inner=(fields.first.face.name,), frame=frame, low_mm=low + spare, high_mm=high - spare,
        # only what lies over each other, and only the two faces: what is farther off is none of it
        sizes_mm=(2 * abs(gap) + 0.4, max(0.1, right - left)), middle_mm=(gap / 2, (left + right) / 2), along="x", reach_mm=2 * abs(gap) + 0.5, stands=True,
    )  # fmt: skip
    return StepOutput(parts=parts, joint=JointShape(fields.second.part, fields.first.part, gap, (mate,)))


register_joint(
    JointFamily(
        step=StepKind(
            kind="watch",
            title="Watch a gap",
            group="join",
            about="The gap between two flat faces that are there, judged like a joint's; or one of them moved to what is wanted.",
            fields=WatchFields,
            specs=(
                FieldSpec("first", "face", "one face", missing="one of the faces"),
                FieldSpec("second", "face", "the other face", missing="the face that it looks at"),
                FieldSpec(
                    "how",
                    "choice",
                    "what is done with it",
                    "watched",
                    (Choice("watched", "as it stands"), Choice("driven", "which moves until it is right")),
                ),
                *fit_specs("the first", "the second", fit="own"),
            ),
            sentence=said("Watch the gap between ", "{first}", " and ", "{second}", ", ", "{how}", "; ", *FIT_SAID),
            apply=_apply,
            prepare=drawn_figures,
            # a face is mostly pointed at for something simpler
            suits=("plane", "part", "face"),
            words="clearance offset drive distance between faces check guard",
        ),
        outer="second face",
        inner="first face",
        meeting=_meeting,
        comes="turned",
        per=straight_across,
        wanted=wanted_of,
        goes_in="There is room between them",
        holds="and not too much",
        draws=lambda fields: fields.how == "driven",
        gauged=True,
    )
)
