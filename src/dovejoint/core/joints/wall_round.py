"""The wall round something that is pressed in: how thick it is, and what of it is cut away (a keyway, a slot, a slit all through)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from .. import solid as kernel
from ..calculators.cut_ring import cut_ring
from ..solid import Frame
from .rounds import ring_of

__all__ = ["CutWall", "cut_facts", "cut_wall"]

#: places round it where the wall is looked at; what lies so far behind the others is cut away, mm; and the share of looks that may miss (an engraving, a seam of names)
_ROUND, _BACK_MM, _MISSED = 72, 0.05, 0.01


@dataclass(frozen=True)
class CutWall:
    """What cuts do to a wall: ``gone`` of its round is cut away; it presses ``firm`` times as hard as a whole one, and is ``strained`` times as much, by the same thing."""

    gone: float
    firm: float
    strained: float
    begins_mm: tuple[float, ...]
    walls_mm: tuple[float, ...]
    opened: bool


def cut_facts(host: kernel.NamedSolid, frame: Frame, radius_mm: float, heights_mm: Sequence[float]) -> Mapping[str, float]:  # fmt: skip
    """Where material begins behind a bore at each place round it (``begin 0`` and on) and how thick it is there (``round 0`` and on, 0 where it is open), mm; nothing where the wall is whole.

    Over the heights: where the wall stands at one of them it stands; how thick it is is their mean.
    """
    rays = kernel.Rays(host)
    back: list[list[float]] = [[] for _ in range(_ROUND)]
    thick: list[list[float]] = [[] for _ in range(_ROUND)]
    for height in heights_mm:
        for k, (at, out) in enumerate(ring_of(frame, radius_mm, height, _ROUND)):
            # from a little before the wall, so that its own face is met
            start = tuple(a - _BACK_MM * o for a, o in zip(at, out, strict=True))
            hits = rays.hits((start[0], start[1], start[2]), out, 0.0, 1e4)
            begin = next((h for h, enters in hits if enters), 0.0)
            if hits and not hits[0][1]:
                begin = 0.0
            end = next((h for h, enters in hits if not enters and h > begin), None)
            back[k].append(max(0.0, begin - _BACK_MM))
            thick[k].append(0.0 if end is None else end - max(begin, _BACK_MM))
    looks = _ROUND * len(heights_mm)
    if sum(b > _BACK_MM or t <= 0 for bs, ts in zip(back, thick, strict=True) for b, t in zip(bs, ts, strict=True)) <= _MISSED * looks:  # fmt: skip
        return {}
    found: dict[str, float] = {}
    for k, (begins, walls) in enumerate(zip(back, thick, strict=True)):
        stands = any(b <= _BACK_MM and t > 0 for b, t in zip(begins, walls, strict=True))
        solid = [b for b, t in zip(begins, walls, strict=True) if t > 0]
        found[f"begin {k}"] = 0.0 if stands or not solid else min(solid)
        found[f"round {k}"] = sum(walls) / len(walls)
    return found


def cut_wall(facts: Mapping[str, float], radius_mm: float, poisson: float) -> CutWall | None:
    """What the cuts do; ``None`` where the wall is whole. Raises ValueError where it is open at several places, so that nothing ties its pieces."""
    if "round 0" not in facts:
        return None
    thinnest = facts["wall"]
    begins = tuple(facts[f"begin {k}"] for k in range(_ROUND))
    # no thicker than where it is thinnest, as a whole wall is reckoned too
    walls = tuple(min(facts[f"round {k}"], thinnest) for k in range(_ROUND))
    return _cut(begins, walls, thinnest, radius_mm, poisson)


@lru_cache(maxsize=64)
def _cut(
    begins: tuple[float, ...], walls: tuple[float, ...], thinnest_mm: float, radius_mm: float, poisson: float
) -> CutWall:
    whole = cut_ring(radius_mm, [0.0] * _ROUND, [thinnest_mm] * _ROUND, poisson)
    cut = cut_ring(radius_mm, begins, walls, poisson)
    gone = sum(b > 0 or w <= 0 for b, w in zip(begins, walls, strict=True)) / _ROUND
    return CutWall(gone, cut.force / whole.force, cut.strain / whole.strain, begins, walls, min(walls) <= 0)
