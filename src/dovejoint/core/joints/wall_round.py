"""The wall round something that is pressed in: how thick it is, and what of it is cut away (a keyway, a slot, a slit all through)."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from .. import solid as kernel
from ..calculators.cut_ring import cut_ring
from ..recipe import PartState
from ..solid import Frame
from ..solid.frame import scale, sub
from .rounds import ring_of, span_along

__all__ = ["CutWall", "cut_facts", "cut_wall"]

#: places round it where the wall is looked at, and where what is narrow is looked for; what lies so far behind the others is cut away, mm; and the share of a bore's area that may lack
_ROUND, _CLOSELY, _BACK_MM, _MISSED = 72, 360, 0.05, 0.002


@dataclass(frozen=True)
class CutWall:
    """What cuts do to a wall: ``gone`` of its round is cut away; it presses ``firm`` times as hard as a whole one, and is ``strained`` times as much, by the same thing."""

    gone: float
    firm: float
    strained: float
    begins_mm: tuple[float, ...]
    walls_mm: tuple[float, ...]
    opened: bool


def cut_facts(host: PartState, faces: Iterable[str], frame: Frame, radius_mm: float, heights_mm: Sequence[float]) -> Mapping[str, float]:  # fmt: skip
    """Where material begins behind a bore (its ``faces`` by name) at each place round it (``begin 0`` and on) and how thick it is there (``round 0`` and on, 0 where it is open), mm; nothing
    where the wall is whole.

    Over the heights: where the wall stands at one of them it stands; how thick it is is their mean.
    """
    if _whole(host, faces):
        return {}
    rays = kernel.Rays(host.solid)
    looks = _look(rays, frame, radius_mm, heights_mm, _ROUND)
    if not _cut_at(looks):
        # something narrow may lie between two places: it is looked for more closely, and the places are turned so that one lies before it
        more = _look(rays, frame, radius_mm, heights_mm, _CLOSELY)
        closely = _cut_at(more)
        if not closely:
            return {}
        # where least is left of the wall
        least = min(closely, key=lambda k: sum(thick for _, thick in more[k]))
        looks = _look(rays, frame.placed(0.0, 0.0, 2 * math.pi * least / _CLOSELY), radius_mm, heights_mm, _ROUND)  # fmt: skip
    found: dict[str, float] = {}
    for k, place in enumerate(looks):
        stands = any(_stands(look) for look in place)
        solid = [begin for begin, thick in place if thick > 0]
        found[f"begin {k}"] = 0.0 if stands or not solid else min(solid)
        found[f"round {k}"] = sum(thick for _, thick in place) / len(place)
    return found


def _whole(host: PartState, faces: Iterable[str]) -> bool:
    """Whether the round faces of a bore have all the area that they would have with nothing cut into them."""
    named = set(faces)
    mine = [i for i, f in enumerate(host.faces) if f.kind == "cylinder" and f.hollow and named & set(f.names)]
    walls = [wall for i in mine if (wall := kernel.round_face(host.solid, i)) is not None]
    if not walls:
        return False
    axis = walls[0].axis
    spans = [span for wall in walls for span in span_along(wall, axis)]
    whole = 2 * math.pi * walls[0].radius_mm * (max(spans) - min(spans))
    return sum(host.faces[i].area_mm2 for i in mine) > (1 - _MISSED) * whole


_Look = tuple[float, float]


def _stands(look: _Look) -> bool:
    return look[0] <= _BACK_MM and look[1] > 0


def _cut_at(looks: Sequence[Sequence[_Look]]) -> list[int]:
    """The places where at some height no wall stands."""
    return [k for k, place in enumerate(looks) if not all(_stands(look) for look in place)]


def _look(rays: kernel.Rays, frame: Frame, radius_mm: float, heights_mm: Sequence[float], count: int) -> list[list[_Look]]:  # fmt: skip
    """At so many places round a bore, at each height: where material begins behind it, and how thick it is (0 where there is none)."""
    out: list[list[_Look]] = [[] for _ in range(count)]
    for height in heights_mm:
        for place, (at, way) in zip(out, ring_of(frame, radius_mm, height, count), strict=True):
            # from a little before the wall, so that its own face is met
            hits = rays.hits(sub(at, scale(way, _BACK_MM)), way, 0.0, 1e4)
            begin = next((h for h, enters in hits if enters), 0.0) if hits and hits[0][1] else 0.0
            end = next((h for h, enters in hits if not enters and h > begin), None)
            place.append((max(0.0, begin - _BACK_MM), 0.0 if end is None else end - max(begin, _BACK_MM)))
    return out


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
