"""Move faces: faces of one part or of several moved out or in together; and faces taken away, what lay around them closing up."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Annotated, Literal

from pydantic import Field

from .. import solid as kernel
from ..document import FacePick, PlanePick, StepFields
from ..document.picks import FlatFace
from ..errors import StepError
from ..quantities.markers import Changed, Length
from ..recipe import Choice, FieldSpec, Grip, PartState, StepContext, StepKind, StepOutput, register, said, wanted
from ..recipe.picks import PartEnd, UntilPick
from ..solid.frame import add, dot, length, scale, sub
from .result import one_by_one


class PushFields(StepFields):
    """``level`` moves faces onto the plane ``to``, ``gap`` beyond it, or until they touch it where they are round; ``meet`` draws each
    straight out or in until it meets ``until``, and takes its shape, or grows a round one to the size of a round face about the same axis;
    ``mirror`` to where the face ``like`` would lie mirrored across ``to``. Both follow what they
    refer to."""

    faces: Annotated[FacePick, Changed()]
    way: Literal["out", "in", "level", "meet", "mirror"] = "out"
    distance: Length = "1 mm"
    like: FlatFace | None = None
    to: PlanePick | None = None
    gap: Length = "0 mm"
    until: Annotated[UntilPick | None, Field()] = None


def _target(ctx: StepContext) -> kernel.Frame | None:
    """The plane that the faces come to lie on, where that is how they move."""
    fields: PushFields = ctx.fields
    if fields.way not in ("level", "mirror"):
        return None
    if fields.to is None:
        raise StepError("Pick the plane or the flat face that it follows.", field="to")
    to = ctx.frame(fields.to, "to")
    if fields.way == "level":
        return to.shifted(ctx.number("gap"))
    if fields.like is None:
        raise StepError("Pick the face that it mirrors.", field="like")
    like = ctx.frame(fields.like, "like")
    if abs(abs(dot(like.z, to.z)) - 1) > _PARALLEL:
        raise StepError("The face that is mirrored and the plane are not parallel; pick others.", field="to")
    away = dot(sub(like.origin, to.origin), to.z)
    return to.shifted(-away)


#: directions are parallel when their product differs from one by no more
_PARALLEL = 1e-9
#: a plane lies along an axis within this sine, and axes are the same within so many mm
_ALONG = 1e-6


def _way_to(ctx: StepContext, part: PartState, faces: list[int], target: kernel.Frame) -> float:
    """How far out the faces of a part move to lie on a plane, mm."""
    found = set()
    for index in faces:
        info = part.faces[index]
        if (side := kernel.round_face(part.solid, index)) is not None:
            found.add(round(_round_way(side, target, "to"), 9))
            continue
        if info.kind != "plane" or abs(abs(dot(info.normal, target.z)) - 1) > _PARALLEL:
            raise StepError("A face and what it follows are not parallel; pick flat faces that are.", field="to")
        found.add(round(dot(sub(target.origin, info.at), info.normal), 9))
    if len(found) > 1:
        raise StepError("These faces lie on different planes, so they do not move together; pick one.", field="faces")
    return found.pop()


def _round_way(face: kernel.RoundFace, to: kernel.Frame | kernel.RoundFace | None, field: str) -> float:
    """How far out a round side moves to touch a plane along it, or to be as large as a round face about the same axis, mm."""
    wrong = "A round side grows until it touches a plane along its axis, or is as large as a round face about the same axis; pick such a one."
    if to is None:
        raise StepError(wrong, field=field)
    if isinstance(to, kernel.Frame):
        if abs(dot(face.axis.direction, to.z)) > _ALONG:
            raise StepError(wrong, field=field)
        radius = abs(dot(sub(face.axis.origin, to.origin), to.z))
    else:
        apart = sub(to.axis.origin, face.axis.origin)
        beside = sub(apart, scale(face.axis.direction, dot(apart, face.axis.direction)))
        if abs(abs(dot(face.axis.direction, to.axis.direction)) - 1) > _PARALLEL or length(beside) > _ALONG:
            raise StepError(wrong, field=field)
        radius = to.radius_mm
    return (face.radius_mm - radius) * (1 if face.hollow else -1)


def _drawn(ctx: StepContext) -> Callable[[kernel.NamedSolid, int], kernel.NamedSolid]:
    """How one face is drawn until it meets a plane, a face of any kind, or a part."""
    until = ctx.fields.until
    if until is None:
        raise StepError("Pick the face, the plane or the part that they meet.", field="until")
    if isinstance(until, PartEnd):
        whole = ctx.part(until.part, "until").solid
        return lambda solid, face: kernel.drawn_until(
            solid, face, lambda region, frame, up: kernel.prism_to_part(region, frame, whole, up, ctx.id), ctx.id
        )
    if isinstance(until, FlatFace):
        state, index = ctx.faces_named(until, "until")
        if state.faces[index].kind != "plane":
            return lambda solid, face: kernel.drawn_until(
                solid, face, lambda region, frame, up: kernel.prism_to_face(region, frame, state.solid, index, up, 0.0, ctx.id), ctx.id
            )  # fmt: skip
    plane = ctx.frame(until, "until")
    return lambda solid, face: kernel.drawn_to_plane(solid, face, plane, ctx.id)


def _until_met(ctx: StepContext) -> StepOutput:
    until, drawn, parts = ctx.fields.until, _drawn(ctx), {}
    to = _round_until(ctx)
    for id, part, faces in ctx.faces_by_part(ctx.fields.faces, "faces"):
        if isinstance(until, PartEnd | FlatFace) and until.part == id:
            raise StepError("They meet something of another part, or a plane; pick one.", field="until")

        def draw(solid: kernel.NamedSolid, index: int) -> kernel.NamedSolid:
            side = kernel.round_face(solid, index)
            return (
                drawn(solid, index)
                if side is None
                else kernel.pushed(solid, [index], _round_way(side, to, "until"), ctx.id)
            )

        try:
            parts[id] = one_by_one(part.solid, faces, draw)
        except StepError as error:
            raise StepError(error.message, field=error.field or "until") from None
    return StepOutput(parts=parts)


def _round_until(ctx: StepContext) -> kernel.Frame | kernel.RoundFace | None:
    """What a round side can be drawn to of what was picked: a plane, or a round face."""
    until = ctx.fields.until
    if until is None or isinstance(until, PartEnd):
        return None
    if isinstance(until, FlatFace):
        state, index = ctx.faces_named(until, "until")
        if state.faces[index].kind != "plane":
            return kernel.round_face(state.solid, index)
    return ctx.frame(until, "until")


def _push(ctx: StepContext) -> StepOutput:
    fields: PushFields = ctx.fields
    if fields.way == "meet":
        return _until_met(ctx)
    target = _target(ctx)
    by = 0.0
    if target is None:
        by = ctx.positive("distance", "The distance") * (1 if fields.way == "out" else -1)
    parts = {}
    for id, part, faces in ctx.faces_by_part(fields.faces, "faces"):
        try:
            parts[id] = kernel.pushed(
                part.solid, faces, by if target is None else _way_to(ctx, part, faces, target), ctx.id
            )
        except StepError as error:
            raise StepError(error.message, field=error.field or ("distance" if target is None else "to")) from None
    return StepOutput(parts=parts, grip=None if target is not None else _grip(ctx, by))


def _grip(ctx: StepContext, by: float) -> Grip:
    """On the first face, where it is now."""
    _, part, faces = ctx.faces_by_part(ctx.fields.faces, "faces")[0]
    info = part.faces[faces[0]]
    return Grip("distance", add(info.at, scale(info.normal, by)), scale(info.normal, math.copysign(1.0, by)))


_BY, _LEVEL, _MIRROR = {"way": ["out", "in"]}, {"way": ["level"]}, {"way": ["mirror"]}
_TO, _MEET = {"way": ["level", "mirror"]}, {"way": ["meet"]}

register(
    StepKind(
        kind="push",
        title="Move faces",
        group="change faces",
        about="Out, in, level with others, as far as something, or symmetric to others.",
        fields=PushFields,
        specs=(
            FieldSpec("faces", "faces", "faces", missing="faces"),
            FieldSpec(
                "way",
                "choice",
                "which way",
                "out",
                (
                    Choice("out", "out"),
                    Choice("in", "in"),
                    Choice("level", "until level with"),
                    Choice("meet", "as far as"),
                    Choice("mirror", "until symmetric with"),
                ),
            ),
            FieldSpec("distance", "length", "distance", "1 mm"),
            FieldSpec("like", "face", "the face that it mirrors", missing="a flat face"),
            FieldSpec("to", "plane", "what it follows", missing="a plane or a flat face"),
            FieldSpec("gap", "length", "beyond it by", "0 mm"),
            FieldSpec("until", "until", "what they meet", missing="a face, a plane or a part"),
        ),
        sentence=said(
            "Move ",
            "{faces}",
            " ",
            "{way}",
            (" by ", _BY),
            ("{distance}", _BY),
            (" ", _MIRROR),
            ("{like}", _MIRROR),
            (" across", _MIRROR),
            (" ", _TO),
            ("{to}", _TO),
            (" ", _MEET),
            ("{until}", _MEET),
            *wanted("stay off it by some way", (", ", _LEVEL), ("{gap}", _LEVEL), (" beyond it", _LEVEL)),
        ),
        apply=_push,
        suits=("face",),
        words="offset push pull thicken widen bore larger smaller level flush align symmetric tie hold",
    )
)


class ClosedFields(StepFields):
    faces: Annotated[FacePick, Changed()]


def _without(ctx: StepContext) -> StepOutput:
    parts = {}
    for id, part, faces in ctx.faces_by_part(ctx.fields.faces, "faces"):
        try:
            parts[id] = kernel.without_faces(part.solid, faces, ctx.id)
        except StepError as error:
            raise StepError(error.message, field=error.field or "faces") from None
    return StepOutput(parts=parts)


register(
    StepKind(
        kind="close_over",
        title="Take faces away",
        group="change faces",
        about="Holes, roundings, bosses: what lies around closes.",
        fields=ClosedFields,
        specs=(FieldSpec("faces", "faces", "faces", missing="faces"),),
        sentence=said("Take ", "{faces}", " away, and close over them"),
        apply=_without,
        suits=("plane", "part", "face"),
        words="remove delete heal fill hole unround",
    )
)
