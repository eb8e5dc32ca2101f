"""Coupons: small prints made to measure a printer, or to try a gap, generated from what its profile does not know yet.

A coupon is a project of its own, built by the same commands as any other, so that it is evaluated, estimated and exported
like one. What can be measured on it is known from the way it was built.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from .. import steps as _steps  # registers the steps that coupons are made of
from ..document import Profile, Project, apply, command_from, new_project
from ..errors import CommandError
from ..profiles import Mating, gap_shift
from ..profiles.learn import GO_GAP_MM
from .features import Feature, JointPrint

__all__ = ["COUPONS", "Builder", "Coupon", "Rung", "ladder_of", "make_coupon", "mating_on"]

_ = _steps
CouponKind = Literal["sizes", "gaps", "bores", "walls"]
COUPONS: dict[CouponKind, tuple[str, str]] = {
    "sizes": (
        "Size coupon",
        "steps, holes, slots, lying holes and a chamfered foot: what outside and inside faces, each direction, and the first layers really come out at",
    ),
    "gaps": ("Gap ladder", "one plug and seven openings: which gap it just goes into, without a caliper"),
    "bores": (
        "Bore ladder",
        "one round plug and seven bores: which it just goes into; round holes come out tighter than slots",
    ),
    "walls": (
        "Long ladder",
        "one long bar and five openings for it: what bowed walls and sharp corners take, which no caliper finds",
    ),
}
#: sizes of the steps, five over a range of ten (a line needs that), and the height of each, mm
STEPS_MM, STEP_TALL_MM = (60.0, 36.0, 20.0, 11.0, 6.0), 3.0
#: a block whose edges on the bed are chamfered: what its first layers stand out beyond that tells how high they do, mm
FOOT_MM, FOOT_TALL_MM, FOOT_CHAMFER_MM = 30.0, 6.0, 0.3
HOLES_MM = (3.0, 4.0, 6.0, 9.0, 13.0, 18.0)
SLOTS_MM = (6.0, 12.0, 24.0)
#: openings through a wall that stands, round ones and square ones, read upright: their roofs sag and their layers are whole. Of whole layers of 0.2 and 0.1 mm
LYING_MM, WINDOWS_MM, LYING_TALL_MM, LYING_THICK_MM = (4.0, 8.0), (4.0, 8.0), 14.0, 8.0
#: how far the gaps of a ladder's openings lie apart at least, mm
RUNG_STEP_MM = 0.04
#: and at most: a ladder that all or none of the openings took says so too, and a coarse one says little of any printer
MOST_RUNG_STEP_MM = 0.07


@dataclass(frozen=True)
class _LadderShape:
    """A plug (``deep_mm`` 0: round), how many openings, and how tall the plate and the plug are, mm."""

    wide_mm: float
    deep_mm: float
    rungs: int
    plate_mm: float
    plug_mm: float


LADDERS: dict[str, _LadderShape] = {
    "gaps": _LadderShape(12.0, 12.0, 7, 8.0, 20.0),
    "bores": _LadderShape(12.0, 0.0, 7, 8.0, 20.0),
    "walls": _LadderShape(12.0, 80.0, 5, 5.0, 12.0),
}


@dataclass(frozen=True)
class Rung:
    """One of the gaps of a joint at stepped gaps: the drawn one, mm a side, and the chance that the halves do what is wanted with it, as far as is
    known now."""

    number: int
    drawn_mm: float
    chance: float | None

    def as_dict(self) -> dict[str, Any]:
        return self.__dict__.copy()


@dataclass(frozen=True)
class Coupon:
    """``ladder_mm`` are the gaps per side of the openings, tightest first (only of a ladder). ``joints`` and ``rungs`` are those of a joint at
    stepped gaps; ``about`` says what its pieces are."""

    kind: str
    title: str
    project: Project
    features: tuple[Feature, ...]
    ladder_mm: tuple[float, ...] = ()
    joints: tuple[JointPrint, ...] = ()
    rungs: tuple[Rung, ...] = ()
    about: str = ""

    def as_dict(self) -> dict[str, Any]:
        out = {
            "kind": self.kind,
            "title": self.title,
            "ladder_mm": list(self.ladder_mm),
            "rungs": [r.as_dict() for r in self.rungs],
            "about": self.about,
        }
        return {**out, "joints": [j.as_dict() for j in self.joints]} if self.joints else out


class Builder:
    """A project that grows by commands."""

    def __init__(self, name: str, profile: Profile) -> None:
        self.project = new_project(name)
        self.do("SetProfile", profile=profile.model_dump(mode="json"))

    def do(self, command: str, **fields: Any) -> list[str]:
        outcome = apply(self.project, command_from({"do": command, **fields}))
        self.project = outcome.project
        return outcome.created

    def outline(self, shapes: list[tuple[float, float, float, float]], plane: str = "ground") -> str:
        """A sketch of rectangles (x, y of the middle, width, depth) and, with a depth of 0, circles."""
        (sketch,) = self.do("AddStep", kind="sketch", fields={"plane": {"rule": "base", "plane": plane}})
        for x, y, width, deep in shapes:
            if deep:
                self.do("DrawRectangle", step=sketch, first=[x, y], corner=[x + width / 2, y + deep / 2])
            else:
                self.do("DrawCircle", step=sketch, centre=[x, y], radius=width / 2)
        return sketch

    def block(
        self, sketch: str, tall_mm: float, part: str = "", name: str = "", regions: list[str] | None = None
    ) -> str:
        fields: dict[str, Any] = {
            "profile": {"rule": "regions", "step": sketch, "names": regions},
            "distance": f"{tall_mm:g} mm",
        }
        if part:
            self.do("AddStep", kind="extrude", fields={**fields, "operation": "add", "part": part})
            return part
        return self.do("AddStep", kind="extrude", fields={**fields, "operation": "new"}, new_part={"name": name})[1]


def make_coupon(kind: str, profile: Profile) -> Coupon:
    """Generate a coupon for a profile. Raises CommandError for a kind that does not exist."""
    if kind == "sizes":
        return _sizes(profile)
    if kind in LADDERS:
        return _ladder(kind, profile)  # type: ignore[arg-type]
    raise CommandError(f"There is no coupon “{kind}”; there are {' and '.join(COUPONS)}.")


def _sizes(profile: Profile) -> Coupon:
    build = Builder("Size coupon", profile)
    features: list[Feature] = []
    steps = ""
    for k, size in enumerate(STEPS_MM):
        tall = STEP_TALL_MM * (k + 1)
        steps = build.block(build.outline([(0.0, 0.0, size, size)]), tall, steps, "Steps")
        for axis, direction in (("x", (1.0, 0.0, 0.0)), ("y", (0.0, 1.0, 0.0))):
            word = "across" if axis == "x" else "deep"
            features.append(
                Feature(f"{steps}:step{k}:{axis}", steps, f"step of {size:g}, {word}", "outside", direction, size)
            )
            if k == 0:
                # only the widest step stands on the bed
                id, name = f"{steps}:step{k}:{axis}", f"step of {size:g}, {word}, at its foot"
                features.append(Feature(f"{id}:foot", steps, name, "outside", direction, size, foot_of=id))
        if k in (1, 2, 4):
            features.append(
                Feature(f"{steps}:tall{k}:z", steps, f"height of {tall:g}", "outside", (0.0, 0.0, 1.0), tall)
            )
    # the plate lies beside the steps
    left = STEPS_MM[0] / 2 + 6
    x, holes = left, []
    for size in HOLES_MM:
        x += size / 2 + 3
        holes.append((x, 16.0, size, 0.0))
        x += size / 2
    wide = x + 3
    slots: list[tuple[float, float, float, float]] = []
    at = left
    for size in SLOTS_MM:
        # each slot is measured in both directions: it is square
        at += size / 2 + 3
        slots.append((at, -8.0, size, size))
        at += size / 2
    wide = max(wide, at + 3)
    plate = build.block(build.outline([((left + wide) / 2, 2.0, wide - left, 50.0), *holes, *slots]), 6.0, "", "Holes")
    for size in HOLES_MM:
        features.append(
            Feature(
                f"{plate}:hole{size:g}:r",
                plate,
                f"hole of {size:g}",
                "inside",
                (0.70710678, 0.70710678, 0.0),
                size,
                round_hole=True,
            )
        )
    for size in SLOTS_MM:
        for axis, direction in (("x", (1.0, 0.0, 0.0)), ("y", (0.0, 1.0, 0.0))):
            word = "across" if axis == "x" else "deep"
            features.append(
                Feature(f"{plate}:slot{size:g}:{axis}", plate, f"slot of {size:g}, {word}", "inside", direction, size)
            )
    features += _foot(build, left)
    features += _lying(build)
    return Coupon("sizes", COUPONS["sizes"][0], build.project, tuple(features))


def _foot(build: Builder, left_mm: float) -> list[Feature]:
    """A block with a chamfered foot, behind the plate, and its sizes above and at the foot."""
    outline = build.outline([(left_mm + FOOT_MM / 2, 33.0 + FOOT_MM / 2, FOOT_MM, FOOT_MM)])
    profile = {"rule": "regions", "step": outline, "names": None}
    block, part = build.do("AddStep", kind="extrude", fields={"profile": profile, "distance": f"{FOOT_TALL_MM:g} mm", "operation": "new"}, new_part={"name": "Foot"})  # fmt: skip
    below = {"rule": "edges_of_face", "part": part, "face": {"name": f"{block}/start", "seen": {"kind": "plane", "label": "foot of the block"}}}  # fmt: skip
    build.do("AddStep", kind="chamfer", fields={"edges": below, "distance": f"{FOOT_CHAMFER_MM:g} mm"})
    out = []
    for axis, word, direction in (("x", "across", (1.0, 0.0, 0.0)), ("y", "deep", (0.0, 1.0, 0.0))):
        id, name = f"{part}:foot:{axis}", f"block of {FOOT_MM:g}, {word}"
        out.append(Feature(id, part, name, "outside", direction, FOOT_MM))
        out.append(Feature(f"{id}:foot", part, f"{name}, at its chamfered foot", "outside", direction, FOOT_MM, foot_of=id, chamfer_mm=FOOT_CHAMFER_MM))  # fmt: skip
    return out


def _lying(build: Builder) -> list[Feature]:
    """A wall with openings through it, beside the steps, and how tall they are."""
    x = right = -STEPS_MM[0] / 2 - 8
    shapes: list[tuple[float, float, float, float]] = []
    openings = [*((size, True) for size in LYING_MM), *((size, False) for size in WINDOWS_MM)]
    for size, is_round in openings:
        x -= 4 + size / 2
        shapes.append((x, LYING_TALL_MM / 2, size, 0.0 if is_round else size))
        x -= size / 2
    wide = right - x + 4
    wall = (right - wide / 2, LYING_TALL_MM / 2, wide, LYING_TALL_MM)
    profile = {"rule": "regions", "step": build.outline([wall, *shapes], "front"), "names": None}
    fields = {"profile": profile, "distance": f"{LYING_THICK_MM:g} mm", "direction": "both", "operation": "new"}
    _, part = build.do("AddStep", kind="extrude", fields=fields, new_part={"name": "Lying holes"})
    return [
        Feature(
            f"{part}:{'lying' if is_round else 'window'}{size:g}:z", part, f"{'lying hole' if is_round else 'window'} of {size:g}, tall", "inside", (0.0, 0.0, 1.0), size, is_round,
        )
        for size, is_round in openings
    ]  # fmt: skip


def mating_on(kind: CouponKind) -> Mating:
    """How plug and openings of a ladder meet: in both directions of the bed."""
    across, deep = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)
    shape = LADDERS[kind]
    ways = ((across, across, shape.wide_mm), (deep, deep, shape.deep_mm or shape.wide_mm))
    return Mating(ways, round_hole=not shape.deep_mm)


def ladder_of(profile: Profile, kind: CouponKind = "gaps") -> tuple[float, ...]:
    """Gaps that straddle the one at which a plug should just go in, as wide as the profile is unsure of it."""
    shift, half = gap_shift(profile, mating_on(kind)), LADDERS[kind].rungs // 2
    middle = shift.mean_mm + GO_GAP_MM
    step = min(MOST_RUNG_STEP_MM, max(RUNG_STEP_MM, round(2 * (shift.unsure_mm + 0.02) / half, 2)))
    return tuple(round(middle + (k - half) * step, 2) for k in range(2 * half + 1))


def _ladder(kind: CouponKind, profile: Profile) -> Coupon:
    """A plate with openings in a row, and a plug as high as it is handy."""
    title, shape = COUPONS[kind][0], LADDERS[kind]
    is_round, deep = not shape.deep_mm, shape.deep_mm or shape.wide_mm
    build = Builder(title, profile)
    gaps = ladder_of(profile, kind)
    pitch = shape.wide_mm + 6
    sizes = [(shape.wide_mm + 2 * gap, deep + 2 * gap) for gap in gaps]
    row = [(pitch * (k + 0.5), 0.0, wide, 0.0 if is_round else tall) for k, (wide, tall) in enumerate(sizes)]
    across = pitch * len(gaps)
    ladder = build.block(build.outline([(across / 2, 0.0, across, deep + 8), *row]), shape.plate_mm, "", "Ladder")
    beside = -(deep / 2 + 4) - 12 - deep / 2
    plug = build.block(
        build.outline([(across / 2, beside, shape.wide_mm, 0.0 if is_round else deep)]), shape.plug_mm, "", "Plug"
    )
    opening = "bore" if is_round else "opening"
    features = []
    for way, word, (direction, _, size) in zip("xy", ("across", "deep"), mating_on(kind).ways, strict=True):
        features.append(Feature(f"{plug}:plug:{way}", plug, f"plug, {word}", "outside", direction, size))
        features += [
            Feature(
                f"{ladder}:rung{k}:{way}", ladder, f"{opening} {k + 1}, {word}", "inside", direction,
                round(both["xy".index(way)], 4), round_hole=is_round,
            )
            for k, both in enumerate(sizes)
        ]  # fmt: skip
    return Coupon(kind, title, build.project, tuple(features), gaps)
