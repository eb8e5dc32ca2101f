"""Pins: pegs on a flat face that find their sockets in the face of another part that lies on it, so that the two always come to the same place."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

import numpy as np
from pydantic import Field

from .. import solid as kernel
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Changed, PartMark
from ..recipe import FieldSpec, JointShape, StepContext, StepKind, StepOutput, said
from ..solid import Frame
from ..solid.frame import scale
from .family import JointFamily, Meeting, Per, drawn_figures, fit_specs, other_half, register_joint
from .flats import lying_on, stands_and_host
from .iso_fit import ISO, ISO_FIT_SAID, ZONES_SPEC, iso_or_wanted
from .mating import facing
from .pegs import PEG_SAID, PEG_SPECS, PegFields, Pegs, peg_edges
from .places import far_apart, grid_on, rooms_at

__all__ = ["PinsFields"]


class PinsFields(PegFields):
    """``base`` is the face that the pins stand on; ``host`` the part that lies on it, with the sockets."""

    base: Annotated[FlatFace | None, Changed()] = None
    host: Annotated[str, PartMark("changes"), Field(max_length=40)] = ""


def _per(fields: PinsFields) -> Per:
    return "diameter"


def _meeting(fields: PinsFields, figures: Mapping[str, float], ctx: StepContext | None) -> Meeting:
    pick, frame = fields.base, None
    normal = facing(ctx, pick, "base")
    if normal is not None:
        frame = Frame.on_plane((0.0, 0.0, 0.0), scale(normal, -1.0))
    size = figures.get("diameter", 0.0)
    edges = peg_edges(figures.get("lead", 0.0), figures.get("mouth", 0.0))
    return Meeting(fields.host, pick.part if pick is not None else "", frame, (size, size), round_hole=True, edges=edges, places=round(figures.get("pegs", 1.0)))  # fmt: skip


def _apply(ctx: StepContext) -> StepOutput:
    fields: PinsFields = ctx.fields
    carrier, found, host = stands_and_host(ctx, "the pins stand", "the sockets go into")
    assert fields.base is not None
    face = carrier.faces[found]
    # pins go down from the frame's plane
    frame = Frame.on_plane(face.at, scale(face.normal, -1.0))
    lying = lying_on(host, face.at, face.normal)
    p = Pegs(ctx)
    spots, rooms = grid_on(host.solid, lying, frame)
    rooms = np.minimum(rooms, rooms_at(carrier.solid, [found], frame, spots))
    if not (rooms >= p.clear).any():
        most = 2 * (float(rooms.max(initial=0.0)) - p.clear + p.socket)
        works = f"Ø {int(10 * most) / 10:.3g} mm is the most" if most > 1.0 else "let more of them lie on each other"
        raise StepError(f"The faces lie on each other nowhere wide enough for these pins and a wall round them: {works}.", field="diameter")  # fmt: skip

    def deep_enough(place: tuple[float, float]) -> bool:
        thick = kernel.thickness_at(host.solid, frame.to_world(*place, -1e-4), frame.z)
        return thick is None or thick >= p.deep

    places = far_apart(spots, rooms, p.clear, p.count, deep_enough)
    if len(places) < p.count:
        fits = f"only {len(places)} of them" if places else "none of them"
        raise StepError(f"There is room and depth for {fits} here; take fewer, thinner or shorter pins.", field="pegs")
    sticks, holes, mates = p.at(frame, places)
    parts = {
        fields.base.part: kernel.fuse(carrier.solid, sticks, ctx.id),
        fields.host: kernel.cut(host.solid, holes, ctx.id),
    }
    return StepOutput(parts=parts, joint=JointShape(fields.host, fields.base.part, p.drawn, mates))


register_joint(
    JointFamily(
        step=StepKind(
            kind="pins",
            title="Locating pins",
            group="join",
            about="Pegs on a face that find their sockets in the part that lies on it.",
            fields=PinsFields,
            specs=(
                FieldSpec("base", "face", "face that the pins stand on", missing="the face that they stand on"),
                FieldSpec("host", "part", "part with the sockets", missing="the part that lies on it"),
                *PEG_SPECS,
                *fit_specs("the pegs", "the sockets", ISO),
                ZONES_SPEC,
            ),
            sentence=said(
                "Join by locating pins on ",
                "{base}",
                ", sockets in ",
                "{host}",
                ": ",
                *PEG_SAID,
                "; ",
                *ISO_FIT_SAID,
                "; a change of the gap lands on ",
                "{takes}",
            ),
            apply=_apply,
            begin=other_half("base"),
            prepare=drawn_figures,
            suits=("plane", "part", "face"),
            words="dowel register align peg socket halves shells",
        ),
        outer="sockets",
        inner="pegs",
        meeting=_meeting,
        wanted=iso_or_wanted("diameter"),
        goes_in="All pins go in",
        holds="without too much play",
        per=_per,
    )
)
