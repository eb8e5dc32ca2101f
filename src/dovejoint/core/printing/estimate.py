"""Time, length, mass and price of a print, from its layers. Every assumption stands in docs/printing.md.

A bead's section is a stadium, (w − h)·h + π·h²/4, so neighbouring beads lie w − h·(1 − π/4) apart. A move of length l at speed v,
met and left at the junction speed u, takes l/v + (v − u)²/(a·v) where it reaches v, which needs l ≥ (v² − u²)/a, and else
2·(vp − u)/a with vp = √(u² + a·l) (constant acceleration a).
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from manifold3d import CrossSection, JoinType
from numpy.typing import NDArray

from ..document import PrintSettings, Profile
from .slices import Laid, slices

__all__ = ["Estimate", "bead_area_mm2", "bead_spacing_mm", "estimate", "fills", "move_time_s", "wall_width_mm"]

#: the travels that each layer is taken to need, and how long each is, mm
TRAVELS, TRAVEL_MM = 4, 10.0
#: beads run on at full speed through turns below this, rad
SMOOTH_TURN_RAD = math.radians(20)


def bead_area_mm2(width_mm: float, layer_mm: float) -> float:
    return (width_mm - layer_mm) * layer_mm + math.pi * layer_mm**2 / 4


def bead_spacing_mm(width_mm: float, layer_mm: float) -> float:
    return width_mm - layer_mm * (1 - math.pi / 4)


def wall_width_mm(lines: int, width_mm: float, layer_mm: float) -> float:
    """How thick a wall of so many beads is: w + (n − 1)·spacing."""
    return width_mm + (lines - 1) * bead_spacing_mm(width_mm, layer_mm)


def move_time_s(length_mm: Any, speed_mm_s: float, acceleration_mm_s2: float, junction_mm_s: float) -> Any:
    """Time of moves that are met and left at the junction speed; works on arrays."""
    length = np.asarray(length_mm, dtype=float)
    v, a = speed_mm_s, acceleration_mm_s2
    u = min(junction_mm_s, v)
    peak = np.sqrt(u**2 + a * length)
    return np.where(length >= (v**2 - u**2) / a, length / v + (v - u) ** 2 / (a * v), 2 * (peak - u) / a)


@dataclass
class Estimate:
    """What one part takes: volumes of material in mm³, times in s. ``layers_s`` is the time of each layer."""

    layers: int = 0
    height_mm: float = 0.0
    walls_mm3: float = 0.0
    solid_mm3: float = 0.0
    infill_mm3: float = 0.0
    walls_s: float = 0.0
    solid_s: float = 0.0
    infill_s: float = 0.0
    travel_s: float = 0.0
    change_s: float = 0.0
    waiting_s: float = 0.0
    layers_s: list[float] = field(default_factory=list)
    length_mm: float = 0.0
    mass_g: float = 0.0
    price: float = 0.0

    @property
    def material_mm3(self) -> float:
        return self.walls_mm3 + self.solid_mm3 + self.infill_mm3

    @property
    def time_s(self) -> float:
        return self.walls_s + self.solid_s + self.infill_s + self.travel_s + self.change_s + self.waiting_s

    def as_dict(self) -> dict[str, Any]:
        return {
            "layers": self.layers,
            "height_mm": self.height_mm,
            "time_s": self.time_s,
            "length_mm": self.length_mm,
            "mass_g": self.mass_g,
            "price": self.price,
            "material_mm3": {
                "walls": self.walls_mm3,
                "solid": self.solid_mm3,
                "infill": self.infill_mm3,
                "total": self.material_mm3,
            },
            "times_s": {
                "walls": self.walls_s, "solid": self.solid_s, "infill": self.infill_s, "travel": self.travel_s,
                "layer_change": self.change_s, "waiting": self.waiting_s,
            },
        }  # fmt: skip


def _runs(section: CrossSection) -> NDArray[np.float64]:
    """Lengths of a section's outlines between their sharp turns, mm."""
    out: list[float] = []
    for polygon in section.to_polygons():
        points = np.asarray(polygon, dtype=float)
        if len(points) < 2:
            continue
        edges = np.roll(points, -1, axis=0) - points
        lengths = np.hypot(edges[:, 0], edges[:, 1])
        edges, lengths = edges[lengths > 1e-9], lengths[lengths > 1e-9]
        if not len(edges):
            continue
        before = np.roll(edges, 1, axis=0)
        turn = np.abs(np.arctan2(before[:, 0] * edges[:, 1] - before[:, 1] * edges[:, 0], (before * edges).sum(axis=1)))
        corners = np.flatnonzero(turn > SMOOTH_TURN_RAD)
        if not len(corners):
            out.append(float(lengths.sum()))
            continue
        sums = np.add.reduceat(np.roll(lengths, -corners[0]), corners - corners[0])
        out.extend(sums.tolist())
    return np.array(out)


def _beads(section: CrossSection, spacing_mm: float, turned: bool) -> NDArray[np.float64]:
    """Lengths of parallel beads that fill a section, at 45° one way or the other, mm."""
    angle = math.pi / 4 * (1 if turned else -1)
    c, s = math.cos(angle), math.sin(angle)
    rows: list[NDArray[np.float64]] = []
    starts: list[NDArray[np.float64]] = []
    for polygon in section.to_polygons():
        points = np.asarray(polygon, dtype=float) @ np.array([[c, s], [-s, c]])
        starts.append(points)
        rows.append(np.roll(points, -1, axis=0))
    if not starts:
        return np.zeros(0)
    a, b = np.concatenate(starts), np.concatenate(rows)
    levels = np.arange(math.floor(a[:, 1].min() / spacing_mm) + 0.5, a[:, 1].max() / spacing_mm, 1.0) * spacing_mm
    lengths: list[NDArray[np.float64]] = []
    for y in levels:
        hit = (a[:, 1] <= y) != (b[:, 1] <= y)
        p, q = a[hit], b[hit]
        x = np.sort(p[:, 0] + (y - p[:, 1]) / (q[:, 1] - p[:, 1]) * (q[:, 0] - p[:, 0]))
        lengths.append(x[1::2] - x[0::2])
    return np.concatenate(lengths) if lengths else np.zeros(0)


class _Layers:
    """Works a stack of sections out, keeping what equal neighbours share."""

    def __init__(self, profile: Profile) -> None:
        self.settings, self.width = profile.settings, profile.line_width_mm
        self.kept: dict[Any, tuple[float, float]] = {}

    def speed(self, speed_mm_s: float, thick_mm: float, first: bool) -> float:
        s = self.settings
        most = s.most_flow_mm3_s / bead_area_mm2(self.width, thick_mm)
        return min(s.first_layer_mm_s if first else speed_mm_s, most)

    def time(self, lengths: NDArray[np.float64], speed_mm_s: float) -> float:
        s = self.settings
        return float(move_time_s(lengths, speed_mm_s, s.acceleration_mm_s2, s.junction_mm_s).sum())

    def walls(self, section: CrossSection, thick_mm: float, first: bool) -> tuple[float, float, CrossSection]:
        """Material and time of the walls, and what is left inside them."""
        spacing = bead_spacing_mm(self.width, thick_mm)
        speed = self.speed(self.settings.wall_mm_s, thick_mm, first)
        length = seconds = 0.0
        for k in range(self.settings.walls):
            runs = _runs(section.offset(-(self.width / 2 + k * spacing), JoinType.Miter))
            length += float(runs.sum())
            seconds += self.time(runs, speed)
        inside = section.offset(-(self.width / 2 + (self.settings.walls - 0.5) * spacing), JoinType.Miter)
        return length * bead_area_mm2(self.width, thick_mm), seconds, inside

    def fill(
        self, section: CrossSection, thick_mm: float, share: float, speed_mm_s: float, first: bool, odd: bool
    ) -> tuple[float, float]:
        """Material and time of a share of an area."""
        area = section.area()
        if area < 1e-6 or share <= 0:
            return 0.0, 0.0
        speed = self.speed(speed_mm_s, thick_mm, first)
        key = (
            round(area, 4),
            tuple(round(b, 3) for b in section.bounds()),
            section.num_vert(),
            thick_mm,
            share,
            speed,
            odd,
        )
        if key not in self.kept:
            spacing = bead_spacing_mm(self.width, thick_mm) / share
            self.kept[key] = (area * thick_mm * share, self.time(_beads(section, spacing, odd), speed))
        return self.kept[key]


def _common(sections: list[CrossSection]) -> CrossSection:
    out = sections[0]
    for other in sections[1:]:
        out = out ^ other
    return out


def _parted(
    sections: list[CrossSection], k: int, inside: CrossSection, settings: PrintSettings, width_mm: float
) -> tuple[CrossSection, CrossSection]:
    """What of a layer's inside is filled, and what is latticed: that which enough layers cover above and below."""
    above = sections[k + 1 : k + 1 + settings.top_layers]
    below = sections[max(0, k - settings.bottom_layers) : k]
    if len(above) < settings.top_layers or len(below) < settings.bottom_layers:
        return inside, CrossSection()
    sparse = _common([inside, *above, *below]) if above or below else inside
    # what is narrower than two beads is filled, not latticed
    sparse = sparse.offset(-width_mm, JoinType.Miter).offset(width_mm, JoinType.Miter) ^ sparse
    return inside - sparse, sparse


def fills(
    stack: list[tuple[CrossSection, float]], k: int, profile: Profile
) -> tuple[list[CrossSection], CrossSection, CrossSection]:
    """One layer to look at: the middles of its walls, what is filled and what is latticed."""
    section, thick = stack[k]
    spacing = bead_spacing_mm(profile.line_width_mm, thick)
    half = profile.line_width_mm / 2
    walls = [section.offset(-(half + n * spacing), JoinType.Miter) for n in range(profile.settings.walls)]
    inside = section.offset(-(half + (profile.settings.walls - 0.5) * spacing), JoinType.Miter)
    solid, sparse = _parted([s for s, _ in stack], k, inside, profile.settings, profile.line_width_mm)
    return walls, solid, sparse


def estimate(laid: Laid, profile: Profile) -> Estimate:
    """Work one part out as it lies. Raises StepError when its mesh is not closed."""
    settings: PrintSettings = profile.settings
    stack = slices(laid, settings)
    layers = _Layers(profile)
    out = Estimate(layers=len(stack), height_mm=laid.size_mm[2])
    sections = [section for section, _ in stack]
    last_key, last = None, None
    for k, (section, thick) in enumerate(stack):
        first = k == 0
        key = (round(section.area(), 4), section.num_vert(), tuple(round(b, 3) for b in section.bounds()), thick, first)
        if key != last_key:
            last = layers.walls(section, thick, first)
            last_key = key
        assert last is not None
        walls_mm3, walls_s, inside = last
        solid, sparse = _parted(sections, k, inside, settings, layers.width)
        solid_mm3, solid_s = layers.fill(solid, thick, 1.0, settings.solid_mm_s, first, k % 2 == 1)
        infill_mm3, infill_s = layers.fill(sparse, thick, settings.infill, settings.infill_mm_s, first, k % 2 == 1)
        travel_s = TRAVELS * float(
            move_time_s(TRAVEL_MM, settings.travel_mm_s, settings.acceleration_mm_s2, settings.junction_mm_s)
        )
        layer_s = walls_s + solid_s + infill_s + travel_s + settings.layer_change_s
        waiting_s = max(0.0, settings.least_layer_s - layer_s)
        out.walls_mm3 += walls_mm3
        out.solid_mm3 += solid_mm3
        out.infill_mm3 += infill_mm3
        out.walls_s += walls_s
        out.solid_s += solid_s
        out.infill_s += infill_s
        out.travel_s += travel_s
        out.change_s += settings.layer_change_s
        out.waiting_s += waiting_s
        out.layers_s.append(layer_s + waiting_s)
    out.length_mm = out.material_mm3 / (math.pi / 4 * settings.filament_mm**2)
    out.mass_g = out.material_mm3 * settings.density_g_cm3 / 1000
    out.price = out.mass_g / 1000 * settings.price_per_kg
    return out
