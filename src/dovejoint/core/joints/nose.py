"""What hooks with a nose share: where they stand beside a wall, the nose's slopes, and the window or the pocket that it springs into."""

from __future__ import annotations

import math

from .. import solid as kernel
from ..document.picks import FlatFace
from ..errors import StepError
from ..recipe import PartState, StepContext
from ..solid import Curve, FaceInfo, Frame, Line, Vec3
from ..solid.frame import add, cross, dot, scale, sub
from .flats import two_flats
from .mating import facing

__all__ = ["NOSE_FLAT_MM", "beside_wall", "opened", "seen_frame", "slopes"]

#: face and wall stand square on each other within this cosine
SQUARE = 1e-3
#: the flat of a nose between its two slopes, mm
NOSE_FLAT_MM = 0.4
#: what is left of a wall behind a pocket, mm
BEHIND_MM = 0.6


def _frame(origin: Vec3, wall: Vec3, base: Vec3) -> Frame:
    """``x`` out of the wall, ``z`` back to the base: the way in which the hook comes out."""
    return Frame(origin, wall, cross(scale(base, -1.0), wall))


def seen_frame(ctx: StepContext | None, wall: FlatFace | None, base: FlatFace | None) -> Frame | None:
    """The directions of a hook on ``base`` beside ``wall``, as far as they are known."""
    out, face = facing(ctx, wall, "wall"), facing(ctx, base, "base")
    return (
        _frame((0.0, 0.0, 0.0), out, face)
        if out is not None and face is not None and abs(dot(out, face)) < 0.1
        else None
    )


def beside_wall(ctx: StepContext) -> tuple[PartState, PartState, FaceInfo, Frame]:
    """The part on whose face ``base`` a hook stands, the part and its face ``wall`` that it springs into, and the frame where the two meet, ``along`` from the wall's middle:
    ``x`` out of the wall, ``z`` back to the base. Raises PickError, StepError."""
    (carrier, base), (host, wall) = two_flats(
        ctx,
        (ctx.fields.base, "base", "the face that the hook stands on"),
        (ctx.fields.wall, "wall", "the wall that it snaps into"),
    )
    if abs(dot(base.normal, wall.normal)) > SQUARE:
        raise StepError("The wall must stand square to the face that the hook stands on; pick another.", field="wall")
    middle = add(wall.at, scale(base.normal, dot(sub(base.at, wall.at), base.normal)))
    frame = _frame(middle, wall.normal, base.normal)
    return carrier, host, wall, Frame(frame.to_world(0.0, ctx.number("along")), frame.x, frame.y)


def slopes(ctx: StepContext) -> tuple[float, float]:
    """The angles of a nose's slopes on the way in and out, rad. Raises StepError."""
    lead, back = ctx.number("lead"), ctx.number("back")
    for name, angle, low, high in (("lead", lead, 10, 60), ("back", back, 20, 90)):
        if not math.radians(low) - 1e-9 <= angle <= math.radians(high) + 1e-9:
            raise StepError(f"This slope lies between {low} and {high} deg.", field=name)
    return lead, back


def opened(
    ctx: StepContext, frame: Frame, long_mm: float, nose_mm: float, wide_mm: float, undercut_mm: float, gap_mm: float, host: PartState, wall: Vec3
) -> kernel.NamedSolid:  # fmt: skip
    """The other part with a window through its wall, or a pocket in it (``ctx.fields.opening``), for a nose that begins so far from the base, is so high and so wide."""
    near, far = long_mm - gap_mm, long_mm + nose_mm + gap_mm
    half = wide_mm / 2 + gap_mm
    heights = (near + 0.2, (near + far) / 2, far - 0.2)
    spots = [(frame.to_world(0.0, y, -h), wall) for y in (-half + 0.1, 0.0, half - 0.1) for h in heights]
    thick = [kernel.thickness_at(host.solid, at, normal) for at, normal in spots]
    found = [t for t in thick if t is not None]
    if len(found) < len(thick):
        raise StepError(
            "The window would not lie within the wall: move the hook along, or make the arm shorter.", field="wall"
        )
    deep = max(found) + 0.5
    if ctx.fields.opening == "pocket":
        deep = undercut_mm + gap_mm
        if deep > min(found) - BEHIND_MM:
            raise StepError(
                f"The wall is {min(found):.3g} mm thick; a pocket {deep:.3g} mm deep leaves too little of it. Let it be a window, or take less undercut.",
                field="opening",
            )
    plane = Frame(frame.origin, frame.x, scale(frame.z, -1.0))
    corners = [(0.3, near), (0.3, far), (-deep, far), (-deep, near)]
    names = ["far", "floor", "near", "front"]
    lines: list[Curve] = [Line(n, a, b) for n, a, b in zip(names, corners, [*corners[1:], corners[0]], strict=True)]
    (region,) = kernel.find_regions(lines)
    tool = kernel.prism(region, plane, -half, half, ctx.id, check=False).renamed(
        lambda n: {f"{ctx.id}/start": f"{ctx.id}/opening(left)", f"{ctx.id}/end": f"{ctx.id}/opening(right)"}.get(
            n, n.replace("/side(", "/opening(")
        )
    )
    return kernel.cut(host.solid, [tool], ctx.id)
