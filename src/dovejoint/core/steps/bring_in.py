"""Bring in: a part from a STEP, STL or 3MF file, to build around; a newer file takes its place, and what was picked on it follows."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import StepFields
from ..document.picks import Pick
from ..errors import DoveError, StepError
from ..quantities.markers import FileHash, Made
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said, wanted


class BroughtFile(Pick):
    """A file that was brought in: what its contents go by, and what it is called."""

    hash: FileHash
    name: Annotated[str, Field(max_length=200)]


class BringInFields(StepFields):
    """``which`` counts the solids of the file from one. ``former`` are files that this one took the place of, the first one first."""

    new_role: ClassVar[Literal["printed", "bought", "made", "reference"]] = "reference"
    file: BroughtFile
    former: Annotated[list[BroughtFile], Field(max_length=20)] = []
    which: Annotated[int, Field(ge=1, le=400)] = 1
    unit: Literal["mm", "in"] = "mm"
    part: Made


def _read(ctx: StepContext, file: BroughtFile) -> kernel.BroughtSolid:
    fields: BringInFields = ctx.fields
    try:
        found = kernel.brought_solids(ctx.file(file.hash, file.name, "file"), file.name, fields.unit)
    except StepError:
        raise
    except DoveError as error:
        raise StepError(error.message, field="file") from None
    if fields.which > len(found):
        raise StepError(
            f"“{file.name}” has only {len(found)} solids, and number {fields.which} is meant.", field="file"
        )
    return found[fields.which - 1]


def _apply(ctx: StepContext) -> StepOutput:
    fields: BringInFields = ctx.fields
    if ctx.has_part(fields.part):
        raise StepError("The part is made by an earlier step; bring this one in as a part of its own.", field="part")
    first, *later = [*fields.former, fields.file]
    brought = _read(ctx, first)
    solid = brought.named(ctx.id)
    for version, file in enumerate(later, 2):
        brought = _read(ctx, file)
        solid = kernel.fitted(solid, brought.named(ctx.id), ctx.id, version)
    return StepOutput(parts={fields.part: solid}, note=brought.mended)


register(
    StepKind(
        kind="bring_in",
        title="Bring in a file",
        group="refer",
        about="A part from a STEP, STL or 3MF file, to build around.",
        fields=BringInFields,
        specs=(
            FieldSpec("file", "file", "file", missing="a file"),
            FieldSpec("unit", "choice", "unit of an STL", "mm", (Choice("mm", "millimetres"), Choice("in", "inches"))),
            FieldSpec("part", "part", "part", missing="a part"),
        ),
        sentence=said(
            "Bring in ", "{part}", " from ", "{file}", *wanted("another unit (STL)", ", which is in ", "{unit}")
        ),
        apply=_apply,
        words="import step stl 3mf reference bought sensor board file upload",
    )
)
