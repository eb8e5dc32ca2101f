"""What joints by pegs share: pegs and their sockets at places of a plane, and how they mate."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

from .. import solid as kernel
from ..errors import StepError
from ..quantities.markers import Length, Number
from ..recipe import Choice, FieldSpec, Mate, StepContext
from ..solid import Arc, Curve, Frame, Line
from .family import OUTER_SHARE, BedEdge
from .iso_fit import IsoFitFields

__all__ = ["PEG_SAID", "PEG_SPECS", "WALL_MM", "PegFields", "Pegs", "peg_edges"]

#: a socket keeps this much of a wall round it and under it, mm
WALL_MM = 1.2
#: and is deeper than its peg by this
RELIEF_MM = 0.5


#: PRACTICE: the lands of a diamond peg reach so far to each side of where they touch, rad; thirty degrees leave it half as wide as it is long
LAND_RAD = math.radians(30)


class PegFields(IsoFitFields):
    """``long`` is how far pegs go in, ``lead`` and ``mouth`` the chamfers at their ends and at the sockets' mouths. With a ``diamond`` the second of two pegs has flats towards the
    first one, so that it holds only across the line between them and their distance does not matter."""

    pegs: Number = "2"
    second: Literal["round", "diamond"] = "round"
    diameter: Length = "6 mm"
    long: Length = "8 mm"
    lead: Length = "0.6 mm"
    mouth: Length = "0.4 mm"


PEG_SPECS = (
    FieldSpec("pegs", "number", "how many pegs", "2"),
    FieldSpec(
        "second",
        "choice",
        "form of the second peg",
        "round",
        (Choice("round", "all round"), Choice("diamond", "the second one a diamond")),
    ),
    FieldSpec("diameter", "length", "diameter of the pegs", "6 mm"),
    FieldSpec("long", "length", "how far they go in", "8 mm"),
    FieldSpec("lead", "length", "chamfer at their ends", "0.6 mm"),
    FieldSpec("mouth", "length", "chamfer at the sockets' mouths", "0.4 mm"),
)

#: how pegs are said in a sentence
PEG_SAID = (
    "{pegs}",
    " pegs, ",
    "{second}",
    ", Ø ",
    "{diameter}",
    " that go in ",
    "{long}",
    ", lead-in ",
    "{lead}",
    ", mouths ",
    "{mouth}",
)


def peg_edges(lead_mm: float, mouth_mm: float) -> tuple[BedEdge, BedEdge]:
    """The edges of pegs and sockets that may flare on the bed."""
    return (
        BedEdge(True, "the mouths of the sockets", mouth_mm, True),
        BedEdge(False, "the ends of the pegs", lead_mm, False),
    )


class Pegs:
    """The step's figures, checked against each other; radii, mm."""

    def __init__(self, ctx: StepContext) -> None:
        radius, self.long = ctx.positive("diameter", "The pegs' diameter") / 2, ctx.positive("long", "The pegs' length")
        self.lead, self.mouth, self.drawn = ctx.number("lead"), ctx.number("mouth"), ctx.number("drawn")
        self.count = ctx.whole("pegs", 1, 24, "pegs")
        if not 0 <= self.lead < min(radius, self.long / 2) or not 0 <= self.mouth < self.long / 2:
            raise StepError("The chamfers leave nothing of the pegs; make them smaller.", field="lead")
        share = OUTER_SHARE[ctx.fields.takes]
        self.peg, self.socket = radius - (1 - share) * self.drawn, radius + share * self.drawn
        if self.peg < 0.5:
            raise StepError("The gap leaves nothing of the pegs; make them thicker.", field="diameter")
        self.diamond = ctx.fields.second == "diamond"
        if self.diamond and self.count != 2:
            raise StepError("A diamond is the second of two pegs; take two, or all of them round.", field="second")
        self.step = ctx.id

    @property
    def clear(self) -> float:
        """How far the middle of a socket stays from an outline."""
        return self.socket + WALL_MM

    @property
    def deep(self) -> float:
        """How thick a part is that takes a socket, at least."""
        return self.long + RELIEF_MM + WALL_MM

    def at(
        self, frame: Frame, places: Sequence[tuple[float, float]]
    ) -> tuple[list[kernel.NamedSolid], list[kernel.NamedSolid], tuple[Mate, ...]]:
        """Pegs that go down from a frame's plane, the tools that cut their sockets, and how they mate."""
        sticks, holes, mates = [], [], []
        turn = math.atan2(places[1][1] - places[0][1], places[1][0] - places[0][0]) if self.diamond else 0.0
        for k, (u, v) in enumerate(places, 1):
            here = frame.placed(u, v, turn)
            holes.append(self._socket(here, k))
            spare = 0.02 * self.long
            mate = Mate(
                outer=(f"{self.step}/socket({k})",), inner=(f"{self.step}/peg({k})",), frame=here, low_mm=-(self.long - self.lead) + spare,
                high_mm=-max(self.mouth, 0.05) * 1.02, sizes_mm=(2 * self.socket, 2 * self.socket), round_hole=True, reach_mm=abs(self.drawn) + 0.5, seated=True,
            )  # fmt: skip
            if self.diamond and k == 2:
                sticks.append(self._diamond(here))
                mate = replace(mate, inner=tuple(f"{self.step}/land{n}(2)" for n in (1, 2)), along="y")
            else:
                sticks.append(self._peg(here, k))
            mates.append(mate)
        return sticks, holes, tuple(mates)

    def _peg(self, frame: Frame, k: int) -> kernel.NamedSolid:
        # its pointed end is the lower one
        lead = f"{self.step}/lead"
        made = kernel.bar(frame, self.peg, -self.long, 0.3, self.step, f"peg({k})", self.lead)
        return made.renamed(lambda n: f"{lead}({k})" if n == lead else n)

    def _diamond(self, frame: Frame) -> kernel.NamedSolid:
        """A peg with two flats, across the frame's ``x``; its lands touch along ``y``."""
        x, y = self.peg * math.sin(LAND_RAD), self.peg * math.cos(LAND_RAD)
        a, b, c, d = (x, -y), (x, y), (-x, y), (-x, -y)
        middle = (0.0, 0.0)
        curves: list[Curve] = [Line("flat1", a, b), Arc("land1", middle, self.peg, b, c), Line("flat2", c, d), Arc("land2", middle, self.peg, d, a)]  # fmt: skip
        (region,) = kernel.find_regions(curves)
        made = kernel.prism(region, frame, -self.long, 0.3, self.step, check=False)
        if self.lead > 0:
            made = kernel.chamfer(made, made.edges_round(f"{self.step}/start"), self.lead, self.lead, self.step)
        return made.renamed(self._plain)

    def _plain(self, name: str) -> str:
        for word in ("flat1", "flat2", "land1", "land2"):
            if f"/side({word})" in name:
                return f"{self.step}/{'lead-' if '/chamfer(' in name else ''}{word}(2)"
        return name.replace(f"{self.step}/start", f"{self.step}/peg-end(2)").replace(
            f"{self.step}/end", f"{self.step}/peg-root(2)"
        )

    def _socket(self, frame: Frame, k: int) -> kernel.NamedSolid:
        deep, r, m = -self.long - RELIEF_MM, self.socket, self.mouth
        if m <= 0:
            return kernel.lathed(frame, [(0.0, deep), (r, deep), (r, 0.5), (0.0, 0.5)], ["floor", "socket", "lid", "middle"], self.step, str(k))  # fmt: skip
        profile = [(0.0, deep), (r, deep), (r, -m), (r + m, 0.0), (r + m, 0.5), (0.0, 0.5)]
        return kernel.lathed(frame, profile, ["floor", "socket", "mouth", "over", "lid", "middle"], self.step, str(k))
