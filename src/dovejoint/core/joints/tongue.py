"""Tongue along edges: two parts that meet face to face, one with a tongue along a chain of edges that has two ends, the other with its groove.

For rims that are interrupted, as where a cable leaves, and for walls that stand free. The tongue runs beside the edges as far within the face as is told; its ends count as sides too,
with the gap of the others: so it holds along the chain as well as across.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from .. import solid as kernel
from ..document import EdgePick
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Changed, Length, PartMark
from ..recipe import FieldSpec, JointShape, Mate, StepContext, StepKind, StepOutput, said
from ..recipe.names import picked_parts
from ..solid import Curve, Frame
from ..solid.facename import as_part
from ..solid.outline import extent, points_along
from .family import JointFamily, Meeting, drawn_figures, fit_specs, other_half, register_joint
from .iso_fit import ISO, ISO_FIT_SAID, ZONES_SPEC, IsoFitFields, iso_or_wanted
from .loops import INTO_MM, RELIEF_MM, Lip, lip_edges, lip_said, turned_down, with_mouth
from .mating import facing

__all__ = ["TongueFields"]

#: points on each curve where the wall is looked at
_LOOKS = 24


class TongueFields(IsoFitFields):
    """``base`` carries the tongue along its edges ``along``, ``begins`` from them; ``host`` lies on it and gets the groove."""

    base: Annotated[FlatFace | None, Changed()] = None
    along: Annotated[EdgePick | None, Changed()] = None
    host: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""
    begins: Length = "1.2 mm"
    thickness: Length = "1.6 mm"
    height: Length = "3 mm"
    lead: Length = "0.3 mm"
    mouth: Length = "0.5 mm"


def _meeting(fields: TongueFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    pick, frame, sizes = fields.base, None, (0.0, 0.0)
    normal = facing(ctx, pick, "base")
    if normal is not None:
        # out of what takes the tongue
        frame = turned_down(Frame.on_plane((0.0, 0.0, 0.0), normal))
    if ctx is not None and pick is not None and fields.along is not None:
        try:
            _, _, chain = _chain(ctx)
        except StepError:
            # making the joint says what is wrong with it
            chain = []
        sizes = extent(chain)[0] if chain else sizes
    place = pick.face.seen.at if pick is not None and pick.face.seen is not None else None
    edges = lip_edges("tongue", "groove", figures.get("mouth", 0.0), figures.get("lead", 0.0), place)
    return Meeting(fields.host, pick.part if pick is not None else "", frame, sizes, edges=edges)


def _chain(ctx: StepContext) -> tuple[Frame, list[list[Curve]], list[Curve]]:
    """The face's frame and loops, and the chain along it. Raises StepError, PickError."""
    fields: TongueFields = ctx.fields
    assert fields.base is not None and fields.along is not None
    if set(picked_parts(fields.along)) != {fields.base.part}:
        raise StepError("The edges belong to another part than the face that the tongue stands on.", field="along")
    carrier, found = ctx.faces_named(fields.base, "base")
    _, edges = ctx.edges(fields.along, "along")
    try:
        return kernel.face_chain(carrier.solid, found, edges)
    except StepError as error:
        raise StepError(error.message, field=error.field or "along") from None


# ---- its geometry ----------------------------------------------------------------------------------------------------


def _apply(ctx: StepContext) -> StepOutput:
    fields: TongueFields = ctx.fields
    if fields.base is None:
        raise StepError("Pick the flat face that the tongue stands on.", field="base")
    if fields.along is None:
        raise StepError("Pick the edges of that face that the tongue runs along.", field="along")
    if fields.host == fields.base.part:
        raise StepError("The groove goes into another part than the one with the tongue.", field="host")
    carrier, _ = ctx.faces_named(fields.base, "base")
    host = ctx.part(fields.host, "host")
    frame, loops, chain = _chain(ctx)
    begins = ctx.positive("begins", "How far from the edges it begins")
    lip = Lip.of(ctx, "tongue", 2, begins)
    lip.fits_in(_wall_mm(loops, chain), "the edges")
    try:
        tongue = kernel.rim_strip(frame, chain, begins_mm=begins + lip.thinner, wide_mm=lip.left, longer_mm=-lip.thinner, low_mm=-INTO_MM, high_mm=lip.high, step=ctx.id, mark="lip")  # fmt: skip
        if lip.lead > 0:
            tongue = kernel.pointed(tongue, lip.lead, ctx.id, inner=True)
        tool = kernel.rim_strip(frame, chain, begins_mm=begins - lip.wider, wide_mm=lip.thick + 2 * lip.wider, longer_mm=lip.wider, low_mm=-1.0, high_mm=lip.high + RELIEF_MM, step=ctx.id, mark="recess")  # fmt: skip
    except StepError as error:
        raise StepError(error.message, field=error.field or "thickness") from None
    made = kernel.plain_names(kernel.fuse(carrier.solid, [tongue], ctx.id))
    changed = kernel.plain_names(kernel.cut(host.solid, [tool], ctx.id))
    walls = [as_part(c.id) for c in chain]
    faces = [*walls, "from", "to"], walls
    outers, lips = (
        tuple(f"{ctx.id}/{mark}{side}({w})" for side, row in zip(("", "-inner"), faces, strict=True) for w in row)
        for mark in ("recess", "lip")
    )
    if lip.mouth > 0:
        changed = with_mouth(changed, set(outers), frame, lip.mouth, ctx.id)
    (wide, deep), middle = extent(chain)
    mate = Mate(
        outer=outers, inner=lips, frame=turned_down(frame), low_mm=lip.meets[0], high_mm=lip.meets[1], sizes_mm=(wide + lip.out, deep + lip.out), middle_mm=(middle[0], -middle[1]),
        reach_mm=4 * abs(lip.drawn) + 1.0, seated=True,
    )  # fmt: skip
    joint = JointShape(fields.host, fields.base.part, lip.drawn, (mate,))
    return StepOutput(parts={fields.base.part: made, fields.host: changed}, joint=joint)


def _wall_mm(loops: Sequence[Sequence[Curve]], chain: Sequence[Curve]) -> float:
    """How thick a wall is along a chain, mm: from points of it straight into the face, to the next outline that is met."""
    starts, ways = _looks(chain)
    least = np.full(len(starts), np.inf)
    for loop in loops:
        a = np.array([p for p, _ in points_along(loop, _LOOKS)])
        along = np.roll(a, -1, axis=0) - a
        rel = a[None] - starts[:, None]
        det = ways[:, None, 0] * along[None, :, 1] - ways[:, None, 1] * along[None, :, 0]
        with np.errstate(divide="ignore", invalid="ignore"):
            far = (rel[..., 0] * along[None, :, 1] - rel[..., 1] * along[None, :, 0]) / det
            share = (rel[..., 0] * ways[:, None, 1] - rel[..., 1] * ways[:, None, 0]) / det
        met = (np.abs(det) > 1e-12) & (far > 0.02) & (share >= -1e-9) & (share <= 1 + 1e-9)
        least = np.minimum(least, np.where(met, far, np.inf).min(axis=1))
    return float(least.min())


def _looks(chain: Sequence[Curve]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Points within a chain's curves, and the way from each into the face, which lies on its right (n, 2)."""
    starts, ways = [], []
    for curve in chain:
        points = np.array([p for p, _ in points_along([curve], _LOOKS)])
        middle, way = (points[1:] + points[:-1]) / 2, points[1:] - points[:-1]
        starts.append(middle)
        ways.append(np.column_stack([way[:, 1], -way[:, 0]]) / np.linalg.norm(way, axis=1)[:, None])
    return np.concatenate(starts), np.concatenate(ways)


register_joint(
    JointFamily(
        step=StepKind(
            kind="tongue",
            title="Tongue along edges",
            group="join",
            about="Two parts that meet face to face: a tongue along a chain of edges with two ends, and its groove in the other part.",
            fields=TongueFields,
            specs=(
                FieldSpec("base", "face", "face that the tongue stands on", missing="the flat face that it stands on"),
                FieldSpec("along", "edges", "edges that it runs along", missing="the edges that it runs along"),
                FieldSpec("host", "part", "part with the groove", missing="the part that lies on it"),
                FieldSpec("begins", "length", "how far from the edges it begins", "1.2 mm"),
                FieldSpec("thickness", "length", "thickness", "1.6 mm"),
                FieldSpec("height", "length", "height", "3 mm"),
                FieldSpec("lead", "length", "lead-in chamfer", "0.3 mm"),
                FieldSpec("mouth", "length", "chamfer at the mouth", "0.5 mm"),
                *fit_specs("the tongue", "the groove", ISO),
                ZONES_SPEC,
            ),
            sentence=said(
                "Join ",
                "{host}",
                " to ",
                "{base}",
                " by a tongue along ",
                "{along}",
                ", ",
                "{begins}",
                " from them, ",
                *lip_said(*ISO_FIT_SAID),
            ),
            apply=_apply,
            begin=other_half("base"),
            prepare=drawn_figures,
            suits=("edge", "face"),
            words="groove chain open rim wall edge seam halves interrupted lap",
        ),
        outer="groove",
        inner="tongue",
        meeting=_meeting,
        wanted=iso_or_wanted("thickness"),
        goes_in="The tongue goes into its groove",
        holds="without too much play",
    )
)
