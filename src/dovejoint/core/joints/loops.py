"""What joints along outlines share: distances from loops of points in a plane, lips that stand on rims, and the mouths of what takes them."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .. import solid as kernel
from ..errors import StepError
from ..recipe import StepContext
from ..recipe.registry import Piece
from ..solid import Frame
from ..solid.frame import scale
from .family import FIT_SAID, OUTER_SHARE, BedEdge

__all__ = [
    "INTO_MM",
    "RELIEF_MM",
    "Lip",
    "from_loop",
    "lead_said",
    "lip_edges",
    "lip_said",
    "turned_down",
    "with_mouth",
]

Array = NDArray[np.float64]
#: a recess goes this much deeper than its lip, so that the parts meet at their rims
RELIEF_MM = 0.3
#: a lip goes this far into the rim that it stands on, to grow together with it, mm
INTO_MM = 0.2
#: what is left of a wall beside a lip or a recess, mm
LEFT_MM = 0.4


def lead_said(*fit: Piece) -> tuple[Piece, ...]:
    """How a lip is said in a sentence, from its lead-in on."""
    return ("{lead}", ", mouth ", "{mouth}", "; ", *(fit or FIT_SAID), "; a change of the gap lands on ", "{takes}")


def lip_said(*fit: Piece) -> tuple[Piece, ...]:
    """And from its thickness on."""
    return ("{thickness}", " thick and ", "{height}", " high, lead-in ", *lead_said(*fit))


def from_loop(points: Array, loop: Array) -> Array:
    """How far points (n, 2) are from the straight pieces of a closed loop (m, 2), mm."""
    way = np.roll(loop, -1, axis=0) - loop
    rel = points[:, None] - loop[None]
    share = np.clip((rel * way).sum(axis=2) / np.maximum((way * way).sum(axis=1), 1e-12), 0.0, 1.0)
    return np.asarray(np.linalg.norm(rel - share[..., None] * way, axis=2).min(axis=1))


@dataclass(frozen=True)
class Lip:
    """Figures of a lip on a rim, or of a tongue, mm: how far from the edges it begins, how thick it and its recess are there without the gap, the chamfers, and by how much the
    recess is wider and the lip thinner on each side that mates."""

    word: str
    thick: float
    high: float
    begins: float
    lead: float
    mouth: float
    drawn: float
    wider: float
    thinner: float
    sides: int

    @staticmethod
    def of(ctx: StepContext, word: str, sides: int, begins: float) -> Lip:
        """A step's figures, checked against each other; it mates on one side, or on two. Raises StepError."""
        thick, high = (
            ctx.positive("thickness", f"The {word}'s thickness"),
            ctx.positive("height", f"The {word}'s height"),
        )
        lead, mouth, drawn = ctx.number("lead"), ctx.number("mouth"), ctx.number("drawn")
        if lead < 0 or mouth < 0:
            raise StepError("A chamfer cannot be negative; 0 mm leaves it out.", field="lead" if lead < 0 else "mouth")
        share = OUTER_SHARE[ctx.fields.takes]
        lip = Lip(word, thick, high, begins, lead, mouth, drawn, share * drawn, (1 - share) * drawn, sides)
        if lip.left < 0.3:
            raise StepError(f"The gap leaves nothing of the {word}; make it thicker.", field="thickness")
        if sides * lead > lip.left - 0.1 or lead + mouth >= high - 0.2:
            raise StepError(f"The chamfers leave nothing of the {word}, which is {lip.left:.3g} mm thick without the gap; make them smaller.", field="lead")  # fmt: skip
        return lip

    @property
    def left(self) -> float:
        return self.thick - self.sides * self.thinner

    @property
    def meets(self) -> tuple[float, float]:
        """Between which heights it mates, over the frame of what takes it: beside its lead-in and the mouth."""
        return -(self.high - self.lead) * 0.98, -max(self.mouth, 0.05) * 1.02

    @property
    def out(self) -> float:
        """By how much the recess is wider than the edges lie apart, both sides together."""
        return 2 * (self.begins + self.thick + self.wider)

    def fits_in(self, wall_mm: float, edges: str) -> None:
        """Refuse it where it leaves too little of a wall, saying what would do; ``edges`` are what it begins from."""
        room = wall_mm - LEFT_MM - self.wider - self.begins
        if self.thick > room + 1e-6:
            works = (
                f"{math.floor(room * 100 + 1e-6) / 100:.4g} mm is the most"
                if room > 0.3
                else "the wall is too thin for one"
            )
            raise StepError(f"The wall is {wall_mm:.3g} mm thick at its thinnest; a {self.word} {self.thick:.4g} mm thick leaves too little beside it: {works}.", field="thickness")  # fmt: skip
        if self.begins and self.begins - self.wider < LEFT_MM:
            raise StepError(f"The groove leaves too little on its inner side: let it begin {LEFT_MM + self.wider:.3g} mm from {edges} or more.", field="begins")  # fmt: skip


def lip_edges(
    word: str, recess: str, mouth_mm: float, lead_mm: float, place: tuple[float, float, float] | None
) -> tuple[BedEdge, BedEdge]:
    """The edges of a lip and its recess that may flare on the bed."""
    return (
        BedEdge(True, f"the mouth of the {recess}", mouth_mm, True, place),
        BedEdge(False, f"the end of the {word}", lead_mm, False),
    )


def turned_down(frame: Frame) -> Frame:
    """The frame of a rim as the part on it sees it."""
    return Frame(frame.origin, frame.x, scale(frame.y, -1.0))


def with_mouth(host: kernel.NamedSolid, walls: set[str], frame: Frame, mouth_mm: float, step: str) -> kernel.NamedSolid:
    """Chamfer the edges where what takes a lip comes out at the rim, the plane of a frame."""
    edges = [i for i in host.edges_round(*walls) if abs(frame.to_local(kernel.edge_middle(host, i))[2]) < 1e-4]
    return kernel.chamfer(host, edges, mouth_mm, mouth_mm, step) if edges else host
