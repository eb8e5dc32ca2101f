"""Divide: a part by a plane, drawn lines or a face of any shape, keeping one side, or both as two parts."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import PlanePick, StepFields
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import PartMark
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said
from ..recipe.picks.paths import SketchPath


class DivideFields(StepFields):
    """``keep`` says what stays of ``part``: what lies over the plane (the way it faces), where the face looks to, or left of the lines; the other side;
    or both, the latter as ``rest``."""

    piece_of: ClassVar[str] = "part"

    part: Annotated[str, PartMark("changes"), Field(max_length=40)]
    by: Literal["plane", "lines", "face"] = "plane"
    plane: PlanePick | None = None
    lines: SketchPath | None = None
    face: FlatFace | None = None
    keep: Literal["over", "under", "both"] = "over"
    rest: Annotated[str, PartMark("changes", "keep=both"), Field(max_length=40)] = ""


def _side_of_plane(ctx: StepContext, solid: kernel.NamedSolid) -> Callable[[bool], kernel.NamedSolid]:
    fields: DivideFields = ctx.fields
    if fields.plane is None:
        raise StepError("Pick the plane or the flat face that divides it.", field="plane")
    frame = ctx.frame(fields.plane, "plane")
    return lambda over: kernel.side_of(solid, frame, ctx.id, over)


def _side_of_lines(ctx: StepContext, solid: kernel.NamedSolid) -> Callable[[bool], kernel.NamedSolid]:
    fields: DivideFields = ctx.fields
    if fields.lines is None:
        raise StepError("Pick the outline whose lines divide it.", field="lines")
    shape = ctx.sketch(fields.lines.step, "lines")
    if not shape.curves:
        raise StepError("There is no line in that outline to divide by.", field="lines")
    return lambda over: kernel.side_of_lines(solid, shape.curves, shape.frame, ctx.id, over)


def _side_of_face(ctx: StepContext, solid: kernel.NamedSolid) -> Callable[[bool], kernel.NamedSolid]:
    fields: DivideFields = ctx.fields
    if fields.face is None:
        raise StepError("Pick the face along which it is divided.", field="face")
    if fields.face.part == fields.part:
        raise StepError("A part is divided along a face of another one; pick one.", field="face")
    other, index = ctx.faces_named(fields.face, "face")
    return lambda over: kernel.side_of_face(solid, other.solid, index, ctx.id, over)


_WAYS = {"plane": _side_of_plane, "lines": _side_of_lines, "face": _side_of_face}


def _apply(ctx: StepContext) -> StepOutput:
    fields: DivideFields = ctx.fields
    solid = ctx.part(fields.part).solid
    side = _WAYS[fields.by](ctx, solid)
    try:
        kept = side(fields.keep != "under")
        rest = side(False) if fields.keep == "both" else None
    except StepError as error:
        raise StepError(error.message, field=error.field or fields.by) from None
    parts = {fields.part: kept}
    if rest is not None:
        if ctx.has_part(fields.rest):
            raise StepError(
                "The other side becomes a part of its own; that one is made by an earlier step.", field="rest"
            )
        parts[fields.rest] = rest
    lumps = max(s.lumps for s in parts.values())
    note = f"One of the two sides falls into {lumps} lumps." if lumps > solid.lumps else ""
    return StepOutput(parts=parts, note=note)


register(
    StepKind(
        kind="divide",
        title="Divide",
        group="divide",
        about="A part by a plane, drawn lines or a face, keeping one side, or both as two parts.",
        fields=DivideFields,
        specs=(
            FieldSpec("part", "part", "which part", missing="a part"),
            FieldSpec(
                "by",
                "choice",
                "by what",
                "plane",
                (Choice("plane", "by"), Choice("lines", "along"), Choice("face", "along the face")),
            ),
            FieldSpec("plane", "plane", "by", missing="a plane or a flat face"),
            FieldSpec("lines", "lines", "lines", missing="the lines of an outline"),
            FieldSpec("face", "any_face", "face", missing="a face of another part"),
            FieldSpec(
                "keep",
                "choice",
                "what stays",
                "over",
                (
                    Choice("over", "one side"),
                    Choice("under", "the other side"),
                    Choice("both", "both, the other side as new part"),
                ),
            ),
            FieldSpec("rest", "part", "new part"),
        ),
        sentence=said(
            "Divide ",
            "{part}",
            " ",
            "{by}",
            " ",
            ("{plane}", {"by": ["plane"]}),
            ("{lines}", {"by": ["lines"]}),
            ("{face}", {"by": ["face"]}),
            ", keeping ",
            "{keep}",
            (" ", {"keep": ["both"]}),
            ("{rest}", {"keep": ["both"]}),
        ),
        apply=_apply,
        words="split halve cut in two saw bed",
    )
)
