"""Copies: parts repeated in a row, round an axis or along a path, each copy a part of its own that takes role and colour from the first and is numbered."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import Project
from ..document.fields import CopyingFields, copy_key
from ..document.picks import Pick
from ..errors import FormulaError, StepError
from ..quantities import NUMBER, Quantity, evaluate
from ..quantities.markers import PartId
from ..recipe import FieldSpec, StepContext, StepKind, StepOutput, each, register, said
from .layout import LAYOUT_CHOICES, MOST, LayoutFields, layout_said, layout_specs, left_out_of, motions


class AlsoCopied(Pick):
    """A further part that is copied with the first."""

    part: PartId


class CopiesFields(LayoutFields, CopyingFields):
    """``of`` and ``also`` are the first ones; how many there are in all ``count`` and ``rows`` say."""

    of: PartId
    also: Annotated[list[AlsoCopied], Field(max_length=40)] = []
    how: Literal["row", "round", "turned", "along"] = "row"

    def copies(self, known: Mapping[str, Quantity]) -> list[tuple[str, int]] | None:
        try:
            count = evaluate(self.count, known, NUMBER).value * (evaluate(self.rows, known, NUMBER).value if self.how == "row" else 1)  # fmt: skip
        except FormulaError:
            return None
        left_out = left_out_of(self.left_out)
        if left_out is None or abs(count - round(count)) > 1e-9 or not 1 <= round(count) <= MOST:
            return None
        parts = dict.fromkeys([self.of, *(a.part for a in self.also)])
        return [(p, k) for p in parts for k in range(2, round(count) + 1) if k not in left_out]


def _apply(ctx: StepContext) -> StepOutput:
    fields: CopiesFields = ctx.fields
    sources = [(fields.of, "of"), *((a.part, f"also.{k}.part") for k, a in enumerate(fields.also))]
    if len({part for part, _ in sources}) < len(sources):
        raise StepError("A part stands here twice; take one of them out.", field="also")
    moves = motions(ctx, ctx.part(fields.of, "of").solid)
    parts = {}
    for part, field in sources:
        first = ctx.part(part, field).solid
        for k, motion in moves:
            made = fields.made.get(copy_key(part, k))
            if made is not None:
                parts[made] = kernel.moved(first, motion, f"{ctx.id}/copy{k}")
    return StepOutput(parts=parts)


def _begin(project: Project, fields: Mapping[str, Any], answered: str) -> dict[str, Any]:
    return {"of": project.parts[-1].id} if answered == "" and project.parts else {}


register(
    StepKind(
        kind="copies",
        title="Copies",
        group="repeat",
        about="Parts repeated in a row, round an axis or along a path, each copy a numbered part of its own.",
        fields=CopiesFields,
        specs=(
            FieldSpec("of", "part", "which part", missing="a part"),
            FieldSpec(
                "also",
                "clauses",
                "another part",
                [],
                specs=(FieldSpec("part", "part", "which part", missing="a part"),),
            ),
            *layout_specs(tuple(c for c in LAYOUT_CHOICES if c.value != "points")),
        ),
        sentence=said(
            "Copy ", "{of}", each("also", " and ", "{part}"), ",", *layout_said(), ", each a part of its own"
        ),
        apply=_apply,
        begin=_begin,
        suits=("part",),
        words="pattern array repeat parts numbered several instances row ring",
    )
)
