"""How far something is pulled up: until a plane, a face or a part is met. For steps with ``until`` and a ``direction``."""

from __future__ import annotations

from .. import solid as kernel
from ..document.picks import FlatFace
from ..errors import StepError
from ..recipe import StepContext
from ..recipe.picks import PartEnd
from ..solid import Frame


def until_met(
    ctx: StepContext, region: kernel.Region, frame: Frame, mark: str, short_mm: float = 0.0
) -> kernel.NamedSolid:
    """A region pulled up or down until it meets what is picked in ``until``, all over, or ``short_mm`` before it. Raises StepError."""
    until, direction = ctx.fields.until, ctx.fields.direction
    if until is None:
        raise StepError("Pick the face, the plane or the part where it ends.", field="until")
    if direction not in ("up", "down"):
        raise StepError("It goes one way until something is met: up or down.", field="direction")
    up = direction == "up"
    try:
        if isinstance(until, PartEnd):
            if short_mm < 0:
                raise StepError("It ends where the part begins or short of it, never within it.", field="short")
            other = kernel.grown(ctx.part(until.part, "until").solid, short_mm, ctx.id)
            return kernel.prism_to_part(region, frame, other, up, ctx.id, mark)
        if isinstance(until, FlatFace):
            part, index = ctx.faces_named(until, "until")
            if part.faces[index].kind != "plane":
                return kernel.prism_to_face(region, frame, part.solid, index, up, short_mm, ctx.id, mark)
        return kernel.prism_to_plane(region, frame, ctx.frame(until, "until"), up, short_mm, ctx.id, mark)
    except StepError as error:
        raise StepError(error.message, field=error.field or "until") from None
