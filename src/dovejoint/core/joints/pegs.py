"""What joints by pegs share: pegs and their sockets at places of a plane, and how they mate."""

from __future__ import annotations

from collections.abc import Sequence

from .. import solid as kernel
from ..errors import StepError
from ..quantities.markers import Length, Number
from ..recipe import FieldSpec, Mate, StepContext
from ..solid import Frame
from .family import OUTER_SHARE, BedEdge, FitFields

__all__ = ["PEG_SAID", "PEG_SPECS", "WALL_MM", "PegFields", "Pegs", "peg_edges"]

#: a socket keeps this much of a wall round it and under it, mm
WALL_MM = 1.2
#: and is deeper than its peg by this
RELIEF_MM = 0.5


class PegFields(FitFields):
    """``long`` is how far pegs go in, ``lead`` and ``mouth`` the chamfers at their ends and at the sockets' mouths."""

    pegs: Number = "2"
    diameter: Length = "6 mm"
    long: Length = "8 mm"
    lead: Length = "0.6 mm"
    mouth: Length = "0.4 mm"


PEG_SPECS = (
    FieldSpec("pegs", "number", "how many pegs", "2"),
    FieldSpec("diameter", "length", "diameter of the pegs", "6 mm"),
    FieldSpec("long", "length", "how far they go in", "8 mm"),
    FieldSpec("lead", "length", "chamfer at their ends", "0.6 mm"),
    FieldSpec("mouth", "length", "chamfer at the sockets' mouths", "0.4 mm"),
)

#: how pegs are said in a sentence
PEG_SAID = (
    "{pegs}",
    " pegs Ø ",
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
        for k, (u, v) in enumerate(places, 1):
            here = Frame(frame.to_world(u, v), frame.x, frame.y)
            # its pointed end is the lower one
            lead = f"{self.step}/lead"
            sticks.append(kernel.bar(here, self.peg, -self.long, 0.3, self.step, f"peg({k})", self.lead).renamed(lambda n, k=k, lead=lead: f"{lead}({k})" if n == lead else n))  # type: ignore[misc]  # fmt: skip
            holes.append(self._socket(here, k))
            spare = 0.02 * self.long
            mates.append(Mate(
                outer=(f"{self.step}/socket({k})",), inner=(f"{self.step}/peg({k})",), frame=here, low_mm=-(self.long - self.lead) + spare,
                high_mm=-max(self.mouth, 0.05) * 1.02, sizes_mm=(2 * self.socket, 2 * self.socket), round_hole=True, reach_mm=abs(self.drawn) + 0.5, seated=True,
            ))  # fmt: skip
        return sticks, holes, tuple(mates)

    def _socket(self, frame: Frame, k: int) -> kernel.NamedSolid:
        deep, r, m = -self.long - RELIEF_MM, self.socket, self.mouth
        if m <= 0:
            return kernel.lathed(frame, [(0.0, deep), (r, deep), (r, 0.5), (0.0, 0.5)], ["floor", "socket", "lid", "middle"], self.step, str(k))  # fmt: skip
        profile = [(0.0, deep), (r, deep), (r, -m), (r + m, 0.0), (r + m, 0.5), (0.0, 0.5)]
        return kernel.lathed(frame, profile, ["floor", "socket", "mouth", "over", "lid", "middle"], self.step, str(k))
