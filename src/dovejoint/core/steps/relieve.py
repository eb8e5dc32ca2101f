"""Relieve corners: inner corners of a sheet that a round cutter does not get into, cut past or left round."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import EdgePick, StepFields
from ..errors import StepError
from ..quantities.markers import Changed, Length, PartMark
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said, wanted


class RelieveFields(StepFields):
    """All sharp inner corners of ``part`` that run through its sheet, or those of ``edges``; ``cutter`` is its diameter. Where corners are left
    round, what stands in them of ``mate`` takes their radius."""

    which: Literal["all", "some"] = "all"
    part: Annotated[str, PartMark("changes"), Field(max_length=40)]
    edges: Annotated[EdgePick | None, Changed()] = None
    how: Literal["past", "round"] = "past"
    cutter: Length = "3 mm"
    mate: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""


def _apply(ctx: StepContext) -> StepOutput:
    fields: RelieveFields = ctx.fields
    radius = ctx.positive("cutter", "The cutter's diameter") / 2
    state = ctx.part(fields.part)
    sheet = kernel.sheet_of(state.faces)
    if sheet is None:
        raise StepError("The part has no flat face, so it is no sheet; pick another.", field="part")
    found = [c for c in kernel.inner_corners(state.faces, state.edges, sheet.way) if c.radius_mm == 0]
    if fields.which == "some":
        if fields.edges is None:
            raise StepError("Pick the edges in the inner corners.", field="edges")
        if fields.edges.part != fields.part:
            raise StepError("These edges are of another part; pick some of the same.", field="edges")
        _, chosen = ctx.edges(fields.edges, "edges")
        corners = [c for c in found if c.edge in chosen]
        if len(corners) < len(chosen):
            raise StepError(
                "Relieved are sharp inner corners between flat walls that run through the sheet; one of these is none.",
                field="edges",
            )
    else:
        corners = found
    if not corners:
        raise StepError("The part has no sharp inner corner that runs through its sheet.", field="part")
    room = kernel.least_opening(corners, found)
    if 2 * radius > room + 1e-6:
        raise StepError(
            f"The cutter does not get into an opening of {room:.4g} mm; take a thinner one.", field="cutter"
        )
    try:
        if fields.how == "round":
            solid = kernel.rounded_corners(state.solid, corners, radius, ctx.id)
        else:
            names = [state.edges[c.edge].name for c in corners]
            solid = kernel.relieved_corners(state.solid, corners, names, radius, ctx.id)
    except StepError as error:
        raise StepError(error.message, field=error.field or "cutter") from None
    if solid.lumps > state.solid.lumps:
        raise StepError("So wide a cutter cuts the part in pieces; take a thinner one.", field="cutter")
    parts = {fields.part: solid}
    if fields.how == "round" and fields.mate:
        if fields.mate == fields.part:
            raise StepError("The part that goes in is another one; pick it.", field="mate")
        mate = ctx.part(fields.mate, "mate")
        edges = kernel.edges_in_corners(mate.faces, mate.edges, corners)
        if not edges:
            raise StepError(
                "No sharp outer corner of that part stands in these corners; pick another part.", field="mate"
            )
        try:
            parts[fields.mate] = kernel.fillet(mate.solid, dict.fromkeys(edges, radius), ctx.id)
        except StepError as error:
            raise StepError(error.message, field=error.field or "mate") from None
    return StepOutput(parts=parts)


_SOME, _ROUND = {"which": ["some"]}, {"how": ["round"]}

register(
    StepKind(
        kind="relieve",
        title="Relieve corners",
        group="finish edges",
        about="Inner corners of a milled sheet, cut past or left round.",
        fields=RelieveFields,
        specs=(
            FieldSpec(
                "which",
                "choice",
                "which corners",
                "all",
                (Choice("all", "all inner corners"), Choice("some", "the inner corners")),
            ),
            FieldSpec("part", "part", "part", missing="a part"),
            FieldSpec("edges", "edges", "edges", missing="edges in inner corners"),
            FieldSpec(
                "how", "choice", "how", "past", (Choice("past", "cut past them"), Choice("round", "leave them round"))
            ),
            FieldSpec("cutter", "length", "diameter of the cutter", "3 mm"),
            FieldSpec("mate", "part", "what goes in", missing="the part that goes in"),
        ),
        sentence=said(
            "Relieve ",
            "{which}",
            (" at ", _SOME),
            ("{edges}", _SOME),
            " of ",
            "{part}",
            " for a cutter Ø ",
            "{cutter}",
            ": ",
            "{how}",
            *wanted(
                "what goes in takes their radius", (", and round what stands in them of ", _ROUND), ("{mate}", _ROUND)
            ),
        ),
        apply=_apply,
        words="mill router plywood sheet overcut radius sharp",
    )
)
