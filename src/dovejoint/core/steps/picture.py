"""Picture: an image laid on a flat face, so large, turned, with one colour made clear. The solid stays as it is."""

from __future__ import annotations

import math
import re
from typing import Annotated

from pydantic import Field

from .. import solid as kernel
from ..document import StepFields
from ..document.picks import FlatFace
from ..errors import FileError, StepError
from ..image import image_of
from ..quantities.markers import Angle, Length
from ..recipe import FieldSpec, StepContext, StepKind, StepOutput, register, said, wanted
from ..recipe.outputs import Decal
from .bring_in import BroughtFile

_NAMED = {"white": "#ffffff", "black": "#000000", "": ""}


class PictureFields(StepFields):
    """The image lies in the middle of the face, or so far to the ``right`` and ``up`` of it; ``clear`` is a colour that lets the part be seen (empty: none)."""

    file: BroughtFile
    face: FlatFace
    wide: Length = "20 mm"
    turn: Angle = "0 deg"
    right: Length = "0 mm"
    up: Length = "0 mm"
    clear: Annotated[str, Field(max_length=20)] = ""


def _clear(ctx: StepContext) -> str:
    text = str(ctx.fields.clear).strip().lower()
    colour = _NAMED.get(text, text)
    if colour and not re.fullmatch(r"#[0-9a-f]{6}", colour):
        raise StepError("A colour is white, black, or six digits after a sign, e.g. #1a7f5a.", field="clear")
    return colour


def _apply(ctx: StepContext) -> StepOutput:
    fields: PictureFields = ctx.fields
    wide = ctx.positive("wide", "The width")
    try:
        image = image_of(ctx.file(fields.file.hash, fields.file.name, "file"))
    except FileError as error:
        raise StepError(error.message, field="file") from None
    part, index = ctx.faces_named(fields.face, "face")
    if part.faces[index].kind != "plane":
        raise StepError("A picture is laid on a flat face; pick one.", field="face")
    frame, (region,) = kernel.region_of_face(part.solid, index)
    x, y = region.centre
    right, up = ctx.number("right"), ctx.number("up")
    turn = math.remainder(ctx.number("turn"), 2 * math.pi)
    placed = frame.placed(x + right, y + up, turn)
    return StepOutput(
        decal=Decal(fields.face.part, part.faces[index].names[0], placed, wide, wide * image.high / image.wide, fields.file.hash, _clear(ctx))
    )  # fmt: skip


register(
    StepKind(
        kind="picture",
        title="Picture",
        group="refer",
        about="An image (PNG, JPEG, SVG) laid on a flat face.",
        fields=PictureFields,
        specs=(
            FieldSpec("file", "image", "image", missing="an image"),
            FieldSpec("face", "face", "face", missing="a flat face"),
            FieldSpec("wide", "length", "width", "20 mm"),
            FieldSpec("turn", "angle", "turned by", "0 deg"),
            FieldSpec("right", "length", "to the right of the face's middle", "0 mm"),
            FieldSpec("up", "length", "up from the face's middle", "0 mm"),
            FieldSpec("clear", "text", "colour made clear", ""),
        ),
        sentence=said(
            "Lay the picture ",
            "{file}",
            " on ",
            "{face}",
            ", ",
            "{wide}",
            " wide",
            *wanted("turn it", ", turned by ", "{turn}"),
            *wanted("beside the middle", ", ", "{right}", " to the right and ", "{up}", " up"),
            *wanted("make a colour clear", ", its ", "{clear}", " clear"),
        ),
        apply=_apply,
        suits=("plane", "part", "face"),
        words="image logo decal label photo png jpeg svg",
    )
)
