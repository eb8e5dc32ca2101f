"""What is the same all along its way, or grows evenly: outlines of rails and tails, and of the slots that take them."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from .. import solid as kernel
from ..errors import StepError
from ..recipe import JointShape, PartState, StepContext
from ..solid import Curve, Frame, Line
from .working import Result

__all__ = ["INTO_MM", "RELIEF_MM", "Outline", "dovetail", "engaged", "held_by_sides", "prism_of", "seen_across"]

#: what stands on a face goes this far into it, to grow together with it, mm
INTO_MM = 0.2
#: between the floor of a slot and the top of what lies in it stays this much beside the gap, mm
RELIEF_MM = 0.2


@dataclass(frozen=True)
class Outline:
    """Half an outline, from the face out to the top: (half width, height over the face), and what its sides are called."""

    places: tuple[tuple[float, float], ...]
    sides: tuple[str, ...]
    #: how far its sides lean out of the upright
    slant_rad: float = 0.0
    #: by how much it is wider a side for each millimetre along
    grows: float = 0.0

    def set_off(self, by_mm: float, deeper_mm: float) -> Outline:
        """Each side farther out by this, square to it, and the top higher."""
        if not by_mm and not deeper_mm:
            return self
        out: list[tuple[float, float]] = []
        lean = math.tan(self.slant_rad)
        # a plane moved square to itself by d moves by d·√(1 + tan²S + tan²T) across, where it leans by S and T
        sideways = by_mm * math.sqrt(1 + lean**2 + self.grows**2)
        if len(self.places) == 2:
            (x, y), (x2, y2) = self.places
            out = [(x + sideways, y), (x2 + sideways + lean * deeper_mm, y2 + deeper_mm)]
        else:
            # a T: its stem, the underside of its head, which moves towards the face, and its head
            (x, y), (_, under), (wide, _), (_, top) = self.places
            out = [(x + sideways, y), (x + sideways, under - by_mm), (wide + sideways, under - by_mm), (wide + sideways, top + deeper_mm)]  # fmt: skip
        return Outline(tuple(out), self.sides, self.slant_rad, self.grows)

    def at(self, along_mm: float) -> Outline:
        """So far along from its middle."""
        return replace(self, places=tuple((x + self.grows * along_mm, y) for x, y in self.places))

    def down_to(self, height_mm: float) -> Outline:
        """Begun lower than the face, straight down."""
        return replace(self, places=((self.places[0][0], height_mm), *self.places), sides=("root", *self.sides))

    def curves(self) -> list[Curve]:
        left = [(-x, y) for x, y in self.places]
        ring = [*self.places, *left[::-1]]
        names = [*(f"right{n}" for n in self.sides), "top", *(f"left{n}" for n in self.sides[::-1]), "foot"]
        return [Line(n, a, b) for n, a, b in zip(names, ring, [*ring[1:], ring[0]], strict=True)]


def dovetail(ctx: StepContext, wide: float, high: float) -> Outline:
    """A tail, ``wide`` at the face, by the step's field ``angle``. Raises StepError."""
    angle = ctx.number("angle")
    if not math.radians(45) - 1e-9 <= angle <= math.radians(80) + 1e-9:
        raise StepError("A dovetail's sides stand at 45 to 80 deg to the face.", field="angle")
    return Outline(((wide / 2, 0.0), (wide / 2 + high / math.tan(angle), high)), ("",), math.pi / 2 - angle)


def prism_of(outline: Outline, frame: Frame, low: float, high: float, step: str, word: str) -> kernel.NamedSolid:
    """The solid of an outline from one place along a frame's ``z`` to another; faces are called ``step/word(side)``. Raises StepError."""

    def region(along_mm: float) -> kernel.Region:
        regions = kernel.find_regions(outline.at(along_mm).curves())
        if len(regions) != 1:
            raise StepError("These sizes give no sound rail; change one of them.", field="wide")
        return regions[0]

    plain = {f"{step}/start": f"{step}/{word}(near)", f"{step}/end": f"{step}/{word}(far)"}
    if outline.grows:
        # a slot goes on beyond its rail: where that would come to a point it ends
        point = min(x for x, _ in outline.places) / abs(outline.grows)

        def short_of(z: float) -> float:
            return z if min(x for x, _ in outline.at(z).places) > 0.1 else math.copysign(0.95 * point, z)

        low, high = short_of(low), short_of(high)
        made = kernel.lofted([(region(z), frame.shifted(z)) for z in (low, high)], step, ruled=True)
    else:
        made = kernel.prism(region(0.0), frame, low, high, step, check=False)
    return made.renamed(lambda n: plain.get(n, n.replace(f"{step}/side(", f"{step}/{word}(")))


def engaged(shape: JointShape, outer: PartState, inner: PartState) -> Mapping[str, float]:
    """Over how long a way the halves meet, mm: their mates leave out two hundredths at either end."""
    mate = shape.mates[0]
    return {"engaged": (mate.high_mm - mate.low_mm) / 0.96}


def seen_across(slot: Outline, frame: Frame, along_mm: float) -> tuple[Frame, float]:
    """Where a slot and what lies in it are best seen: cut square to their way, so far along it; and half of what is to be seen there, mm."""
    wide, deep = max(x for x, _ in slot.places), slot.places[-1][1]
    return Frame(frame.to_world(0.0, deep / 2, along_mm), frame.x, frame.y), 1.25 * max(wide, deep / 2) + 2.0


def held_by_sides(gap_mm: NDArray[np.float64], high_mm: float, slant_rad: float, lifts: str) -> list[Result]:
    """How far a dovetail comes out of its slot square to the face before its sides touch, and how much of them holds it then."""
    holds = np.maximum(high_mm * math.tan(slant_rad) - gap_mm / math.cos(slant_rad), 0.0)
    return [
        Result(lifts, gap_mm / math.sin(slant_rad), "mm"),
        Result("sides that hold, each", holds, "mm", 0.4, "least", "it is lifted out"),
    ]
