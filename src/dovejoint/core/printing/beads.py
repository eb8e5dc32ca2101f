"""Beads of true width: what runs round a layer's walls and along what is too narrow for two of them.

A bead's section is a stadium, (w − h)·h + π·h²/4. Taken in by c/2 = h·(1 − π/4)/2 all round, a section is tiled by strips one
spacing s = w − c wide without gap or overlap, and a strip's area times h is what its bead holds, whatever its width: that
is why material is worked out from areas, and only time from lengths.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection, JoinType
from numpy.typing import NDArray

from .slices import SMOOTH_MM

__all__ = [
    "LEAST_BEAD",
    "Path",
    "Walls",
    "bead_area_mm2",
    "bead_spacing_mm",
    "rounding_mm",
    "tour_mm",
    "wall_width_mm",
    "walls_of",
]

#: the narrowest bead that is laid, in widths of a line; what is narrower is left out by itself, and taken along by neighbours
LEAST_BEAD = 0.6
#: up to so many spacings across there is one bead, then two (half of each more: neither is over 1.5 nor under 0.75)
ONE_BEAD = 1.5
#: outlines run on at full speed through turns below this, rad
SMOOTH_TURN_RAD = math.radians(20)
#: so many places of an outline are looked at for where a head comes down on it
LANDINGS = 24
#: what is longer than this many widths is a strip; areas below DUST are rounding of outlines, mm²
STRIP, DUST_MM2 = 2.0, 1e-5


def rounding_mm(layer_mm: float) -> float:
    """By how much a wall's beads, as rectangles a layer high, are narrower than the wall: h·(1 − π/4)."""
    return layer_mm * (1 - math.pi / 4)


def bead_area_mm2(width_mm: float, layer_mm: float) -> float:
    return (width_mm - layer_mm) * layer_mm + math.pi * layer_mm**2 / 4


def bead_spacing_mm(width_mm: float, layer_mm: float) -> float:
    return width_mm - rounding_mm(layer_mm)


def wall_width_mm(lines: int, width_mm: float, layer_mm: float) -> float:
    """How thick a wall of so many beads is: w + (n − 1)·spacing."""
    return width_mm + (lines - 1) * bead_spacing_mm(width_mm, layer_mm)


@dataclass(frozen=True)
class Path:
    """What is laid without lifting: the lengths between its sharp turns (mm), how wide its bead is (mm, as spacing), and
    where the head comes down and leaves: ``begins`` and ``ends`` (n, 2) are chosen from together."""

    lengths_mm: NDArray[np.float64]
    spacing_mm: float
    begins: NDArray[np.float64]
    ends: NDArray[np.float64]


@dataclass(frozen=True)
class Walls:
    """A layer's walls: ``loops`` are their middles, ``single`` what one bead fills by itself, ``inside`` what is left for
    filling (taken in to the innermost beads' edges), ``area_mm2`` what the walls' strips cover, ``left_out_mm2`` what of the
    section is too thin for any bead."""

    paths: list[Path]
    loops: list[CrossSection]
    single: CrossSection
    inside: CrossSection
    area_mm2: float
    left_out_mm2: float


def _in(section: CrossSection, by_mm: float) -> CrossSection:
    return section.offset(-by_mm, JoinType.Miter).simplify(SMOOTH_MM)


def opened(section: CrossSection, half_mm: float) -> CrossSection:
    """What of a section is at least twice so wide: shrunk, grown again, and nowhere more than it was."""
    small = _in(section, half_mm)
    return small if small.is_empty() else _in(small, -half_mm) ^ section


def runs_mm(section: CrossSection) -> list[NDArray[np.float64]]:
    """For each outline the lengths between its sharp turns, mm."""
    out = []
    for polygon in section.to_polygons():
        points = np.asarray(polygon, dtype=float)
        edges = np.roll(points, -1, axis=0) - points
        lengths = np.hypot(edges[:, 0], edges[:, 1])
        edges, lengths = edges[lengths > 1e-9], lengths[lengths > 1e-9]
        if not len(edges):
            out.append(np.zeros(0))
            continue
        before = np.roll(edges, 1, axis=0)
        turn = np.abs(np.arctan2(before[:, 0] * edges[:, 1] - before[:, 1] * edges[:, 0], (before * edges).sum(axis=1)))
        corners = np.flatnonzero(turn > SMOOTH_TURN_RAD)
        out.append(
            np.add.reduceat(np.roll(lengths, -corners[0]), corners - corners[0])
            if len(corners)
            else lengths.sum(keepdims=True)
        )
    return out


def _landings(polygon: NDArray[np.float64]) -> NDArray[np.float64]:
    return polygon if len(polygon) <= LANDINGS else polygon[np.linspace(0, len(polygon) - 1, LANDINGS).astype(int)]


def loop_paths(middles: CrossSection, spacing_mm: float) -> list[Path]:
    """Closed beads along outlines: they end where they began."""
    out = []
    for polygon, lengths in zip(middles.to_polygons(), runs_mm(middles), strict=True):
        if len(lengths):
            at = _landings(np.asarray(polygon, dtype=float))
            out.append(Path(lengths, spacing_mm, at, at))
    return out


def _strip(piece: CrossSection) -> tuple[float, float]:
    """How long and how wide a narrow piece is, mm. Of a strip L by T the outline is 2·(L + T) and the area L·T; of a closed one
    (with a hole) the outlines are 2·L: so much says it also where the strip bends."""
    around = sum(float(np.hypot(*(np.roll(p, -1, axis=0) - p).T).sum()) for p in piece.to_polygons())
    area = piece.area()
    closed = piece.num_contour() > 1
    long = around / 2 if closed else (around + math.sqrt(max(0.0, around**2 - 16 * area))) / 4
    return long, area / max(long, 1e-9)


def single_paths(narrow: CrossSection) -> list[Path]:
    """One bead along each piece of a narrow section."""
    out: list[Path] = []
    if narrow.is_empty():
        return out
    for piece in narrow.decompose():
        long, wide = _strip(piece)
        at = np.concatenate([np.asarray(p, dtype=float) for p in piece.to_polygons()])
        if piece.num_contour() > 1:
            begins = ends = _landings(at)
        else:
            # the ends of a strip are its points that lie farthest apart, seen from any of them
            far = at[np.argmax(((at - at[0]) ** 2).sum(axis=1))]
            other = at[np.argmax(((at - far) ** 2).sum(axis=1))]
            begins, ends = np.array([far, other]), np.array([other, far])
        out.append(Path(np.array([long]), wide, begins, ends))
    return out


def parted(section: CrossSection, spacing_mm: float, least_mm: float) -> tuple[CrossSection, CrossSection]:
    """What of a section is laid in beads side by side, and what one bead fills by itself (from the narrowest bead on)."""
    over = section - opened(section, ONE_BEAD * spacing_mm / 2)
    if over.area() < DUST_MM2:
        return section, CrossSection()
    strips = []
    for piece in opened(over, least_mm / 2).decompose():
        long, wide = _strip(piece)
        # a strip, not the tip of a corner, which the beads round it reach into
        if long > STRIP * wide:
            strips.append(piece)
    if not strips:
        return section, CrossSection()
    narrow = CrossSection.compose(strips)
    return section - narrow, narrow


def least_spacing_mm(width_mm: float, layer_mm: float) -> float:
    """How wide the strip of the narrowest bead is."""
    return max(LEAST_BEAD * width_mm - rounding_mm(layer_mm), 0.05 * width_mm)


def walls_of(section: CrossSection, width_mm: float, layer_mm: float, count: int) -> Walls:
    """The walls of one layer's cross-section, from outside in."""
    spacing, least = bead_spacing_mm(width_mm, layer_mm), least_spacing_mm(width_mm, layer_mm)
    rest = opened(_in(section, rounding_mm(layer_mm) / 2), least / 2)
    left_out = section - _in(rest, -rounding_mm(layer_mm) / 2)
    whole = rest.area()
    paths: list[Path] = []
    loops: list[CrossSection] = []
    single = CrossSection()
    for _ in range(count):
        if rest.is_empty():
            break
        wide, narrow = parted(rest, spacing, least)
        paths += single_paths(narrow)
        single = single + narrow
        middles = _in(wide, spacing / 2)
        # what lies between one and two spacings from side to side holds two beads, each narrower
        paths += loop_paths(middles, spacing)
        loops.append(middles)
        rest = _in(wide, spacing)
    # what is too narrow for a bead of its own inside is taken by the walls round it
    inside = opened(rest, least / 2)
    return Walls(paths, loops, single, inside, whole - inside.area(), left_out.area())


def tour_mm(paths: list[Path]) -> NDArray[np.float64]:
    """Lengths of the travels of one layer, mm: from each path's end to the nearest that is not laid yet, and back to the first
    (where the next layer begins)."""
    if len(paths) < 2:
        return np.zeros(0)
    begins, ends = np.concatenate([p.begins for p in paths]), np.concatenate([p.ends for p in paths])
    owner = np.repeat(np.arange(len(paths)), [len(p.begins) for p in paths])
    start, at = begins[0], ends[0]
    left = owner != 0
    out = []
    while left.any():
        away = np.where(left, ((begins - at) ** 2).sum(axis=1), np.inf)
        nearest = int(np.argmin(away))
        out.append(math.sqrt(float(away[nearest])))
        at = ends[nearest]
        left &= owner != owner[nearest]
    out.append(float(np.hypot(*(start - at))))
    return np.array(out)
