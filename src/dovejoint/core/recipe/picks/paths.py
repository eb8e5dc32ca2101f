"""Paths: edges of a part that run on from one another, or all lines of a sketch that do (construction lines too, if there are no others)."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import Field

from ... import solid as kernel
from ...document.picks import EdgesOfFace, EdgesPicked, Pick
from ...errors import StepError
from ...quantities.markers import StepId
from . import edges  # its rules are used here
from .kind import PickKind, PickRule, Pointing, Ready, Thing, register_pick

if TYPE_CHECKING:
    from ..context import StepContext

__all__ = ["PathPick", "SketchPath", "path_of"]

_ = edges


class SketchPath(Pick):
    """The lines of a sketch, from end to end."""

    rule: Literal["path_sketch"] = "path_sketch"
    step: StepId


PathPick = Annotated[SketchPath | EdgesPicked | EdgesOfFace, Field(discriminator="rule")]


def path_of(ctx: StepContext, pick: SketchPath | EdgesPicked | EdgesOfFace, field: str) -> Any:
    """One path, as the kernel's wire. Raises PickError, StepError."""
    try:
        if isinstance(pick, SketchPath):
            shape = ctx.sketch(pick.step, field)
            if not shape.curves:
                raise StepError("There is no line in that outline to go along.", field=field)
            return kernel.path_of_curves(shape.curves, shape.frame)
        part, found = ctx.edges(pick, field)
        return kernel.path_of_edges([part.solid.edges[i][0] for i in found])
    except StepError as error:
        raise type(error)(error.message, field=error.field or field) from None


register_pick(
    PickKind(
        "lines",
        "Take the lines of an outline.",
        ("path_sketch",),
        (),
        (Ready({"rule": "path_sketch"}, "the lines of {step}", "sketch", holds="curves"),),
    ),
    PickRule(
        "path_sketch",
        SketchPath,
        lambda namer, pick: f"the lines of {namer.step(pick.step, 'outline')}",
        lambda ctx, pick: [Thing("line", step=pick.step, name=c.id) for c in ctx.sketch(pick.step, "").curves],
    ),
)
register_pick(
    PickKind(
        "path",
        "Point at edges that run on from one another, or take the lines of an outline.",
        ("path_sketch", "edges", "edges_of_face"),
        (
            Pointing("edge", "edges", "edges", many=True, plus={"chain": True}),
            Pointing("face", "edges_of_face", "face", words="all round the {thing}"),
        ),
        (Ready({"rule": "path_sketch"}, "the lines of {step}", "sketch", holds="curves"),),
    )
)
