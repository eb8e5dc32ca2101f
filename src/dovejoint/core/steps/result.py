"""What becomes of the solids that a step makes from an outline: a new part, or added to one, cut from it, or kept where they overlap."""

from __future__ import annotations

from typing import Literal

from .. import solid as kernel
from ..document import StepFields
from ..errors import StepError
from ..quantities.markers import MadeWhen
from ..recipe import Choice, FieldSpec, StepContext, StepOutput

__all__ = ["RESULT_SAID", "RESULT_SPECS", "ResultFields", "finished"]


class ResultFields(StepFields):
    """Fields that all kinds of step have which make solids."""

    operation: Literal["new", "add", "cut", "overlap"] = "new"
    part: MadeWhen = ""


RESULT_SPECS = (
    FieldSpec(
        "operation",
        "choice",
        "what it does",
        "new",
        (
            Choice("new", "as new part"),
            Choice("add", "and add it to"),
            Choice("cut", "and cut it from"),
            Choice("overlap", "and keep what overlaps with"),
        ),
    ),
    FieldSpec("part", "part", "part", missing="a part"),
)
#: the end of their sentences
RESULT_SAID = (" ", "{operation}", " ", "{part}")


def finished(ctx: StepContext, tools: list[kernel.NamedSolid]) -> StepOutput:
    """Do with the solids what the step says. Raises StepError."""
    fields: ResultFields = ctx.fields
    if fields.operation == "new":
        if ctx.has_part(fields.part):
            raise StepError("The part is made by an earlier step; add to it instead.", field="operation")
        whole = tools[0] if len(tools) == 1 else kernel.fuse(tools[0], tools[1:], ctx.id)
        return StepOutput(parts={fields.part: whole})
    base = ctx.part(fields.part).solid
    work = {"add": kernel.fuse, "cut": kernel.cut, "overlap": kernel.overlap}[fields.operation]
    result = work(base, tools, ctx.id)
    note = f"The part falls into {result.lumps} lumps here." if result.lumps > base.lumps else ""
    return StepOutput(parts={fields.part: result}, note=note)
