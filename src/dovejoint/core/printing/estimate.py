"""Time, length, mass and price of a print, from its layers. Every assumption stands in docs/printing.md.

A move of length l at speed v, met and left at the junction speed u, takes l/v + (v − u)²/(a·v) where it reaches v, which
needs l ≥ (v² − u²)/a, and else 2·(vp − u)/a with vp = √(u² + a·l) (constant acceleration a).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from manifold3d import CrossSection
from numpy.typing import NDArray

from ..document import PrintSettings, Profile
from ..recipe import Superseded
from .beads import Path, Walls, bead_spacing_mm, least_spacing_mm, opened, parted, single_paths, tour_mm, walls_of
from .slices import Laid, slices

__all__ = ["Estimate", "Layer", "estimate", "layer_of", "move_time_s"]


def move_time_s(length_mm: Any, speed_mm_s: float, acceleration_mm_s2: float, junction_mm_s: float) -> Any:
    """Time of moves that are met and left at the junction speed; works on arrays."""
    length = np.asarray(length_mm, dtype=float)
    v, a = speed_mm_s, acceleration_mm_s2
    u = min(junction_mm_s, v)
    peak = np.sqrt(u**2 + a * length)
    return np.where(length >= (v**2 - u**2) / a, length / v + (v - u) ** 2 / (a * v), 2 * (peak - u) / a)


@dataclass
class Estimate:
    """What one part takes: volumes of material in mm³, times in s. ``layers_s`` is the time of each layer, ``left_out_mm3``
    what is too thin for any bead and will not be there.
    """

    layers: int = 0
    height_mm: float = 0.0
    walls_mm3: float = 0.0
    solid_mm3: float = 0.0
    infill_mm3: float = 0.0
    left_out_mm3: float = 0.0
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
            "left_out_mm3": self.left_out_mm3,
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
    # the levels that each edge crosses: half way between whole multiples of the spacing, its lower end counted and its upper one not
    first, stop = (np.ceil(np.sort(np.column_stack([a[:, 1], b[:, 1]]), axis=1) / spacing_mm - 0.5)).astype(int).T
    edge = np.repeat(np.arange(len(a)), stop - first)
    level = np.arange(len(edge)) - np.repeat(np.cumsum(stop - first) - (stop - first), stop - first) + first[edge]
    p, q = a[edge], b[edge]
    x = p[:, 0] + ((level + 0.5) * spacing_mm - p[:, 1]) / (q[:, 1] - p[:, 1]) * (q[:, 0] - p[:, 0])
    x = x[np.lexsort((x, level))]
    return np.asarray(x[1::2] - x[0::2])


def _mark(section: CrossSection) -> tuple[Any, ...]:
    """Tells sections apart that come one after another in a part."""
    return round(section.area(), 4), section.num_vert(), tuple(round(b, 3) for b in section.bounds())


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
    sparse = opened(sparse, width_mm)
    return inside - sparse, sparse


@dataclass(frozen=True)
class Layer:
    """One layer: its walls, what is filled beside them, and what is latticed."""

    walls: Walls
    solid: CrossSection
    sparse: CrossSection


def layer_of(stack: list[tuple[CrossSection, float]], k: int, profile: Profile) -> Layer:
    """What one layer (counted from 0) of a part is made of."""
    section, thick = stack[k]
    walls = walls_of(section, profile.line_width_mm, thick, profile.settings.walls)
    solid, sparse = _parted([s for s, _ in stack], k, walls.inside, profile.settings, profile.line_width_mm)
    return Layer(walls, solid, sparse)


class _Layers:
    """Works a stack of sections out, keeping what equal neighbours share."""

    def __init__(self, profile: Profile) -> None:
        self.settings, self.width = profile.settings, profile.line_width_mm
        self.filled: dict[Any, list[Path]] = {}
        self.travelled: dict[Any, float] = {}
        self.walls_key: Any = None
        self.walls_kept: tuple[Walls, float] | None = None

    def time(self, paths: list[Path], speed_mm_s: float, thick_mm: float, first: bool) -> float:
        """How long paths take, as fast as was asked and the hot end melts for a bead of their width."""
        s = self.settings
        seconds = 0.0
        for path in paths:
            v = min(s.first_layer_mm_s if first else speed_mm_s, s.most_flow_mm3_s / (path.spacing_mm * thick_mm))
            seconds += float(move_time_s(path.lengths_mm, v, s.acceleration_mm_s2, s.junction_mm_s).sum())
        return seconds

    def walls(self, section: CrossSection, mark: tuple[Any, ...], thick_mm: float, first: bool) -> tuple[Walls, float]:
        key = (*mark, thick_mm, first)
        if key != self.walls_key or self.walls_kept is None:
            walls = walls_of(section, self.width, thick_mm, self.settings.walls)
            self.walls_kept = walls, self.time(walls.paths, self.settings.wall_mm_s, thick_mm, first)
            self.walls_key = key
        return self.walls_kept

    def fill(self, section: CrossSection, thick_mm: float, share: float, odd: bool) -> list[Path]:
        """The paths that fill a share of an area: beads at 45°, and one along what is too narrow for two."""
        if section.area() < 1e-6 or share <= 0:
            return []
        key = (*_mark(section), thick_mm, share, odd)
        if key not in self.filled:
            spacing, least = bead_spacing_mm(self.width, thick_mm), least_spacing_mm(self.width, thick_mm)
            # what one area leaves of another is full of crumbs along their outlines, and no head goes to these
            wide, narrow = parted(opened(section, least / 2), spacing, least)
            self.filled[key] = single_paths(narrow) + [
                path for piece in wide.decompose() if (path := _hatched(piece, spacing, share, odd)) is not None
            ]
        return self.filled[key]

    def travel(self, key: Any, paths: list[Path]) -> float:
        if key not in self.travelled:
            s = self.settings
            moves = move_time_s(tour_mm(paths), s.travel_mm_s, s.acceleration_mm_s2, s.junction_mm_s)
            self.travelled[key] = float(moves.sum())
        return self.travelled[key]


def _hatched(piece: CrossSection, spacing_mm: float, share: float, odd: bool) -> Path | None:
    """Parallel beads across one piece, from one corner to the other."""
    lengths = _beads(piece, spacing_mm / share, odd)
    if not len(lengths):
        return None
    at = np.concatenate([np.asarray(p, dtype=float) for p in piece.to_polygons()])
    up = at @ np.array([1.0, -1.0] if odd else [1.0, 1.0])
    low, high = at[np.argmin(up)], at[np.argmax(up)]
    return Path(lengths, spacing_mm, np.array([low, high]), np.array([high, low]))


def estimate(laid: Laid, profile: Profile, stop: Callable[[], bool] = lambda: False) -> Estimate:
    """Work one part out as it lies. Raises StepError when its mesh is not closed, and Superseded when ``stop``, asked at each layer, is true."""
    settings: PrintSettings = profile.settings
    stack = slices(laid, settings)
    layers = _Layers(profile)
    out = Estimate(layers=len(stack), height_mm=laid.size_mm[2])
    sections = [section for section, _ in stack]
    marks = [_mark(section) for section in sections]
    around: Any = None
    solid = sparse = CrossSection()
    for k, (section, thick) in enumerate(stack):
        if stop():
            raise Superseded
        first, odd = k == 0, k % 2 == 1
        walls, walls_s = layers.walls(section, marks[k], thick, first)
        out.left_out_mm3 += walls.left_out_mm2 * thick
        if not walls.paths:
            # nothing is laid: the head does not even come here
            out.layers_s.append(0.0)
            continue
        # what lies over and under a layer is mostly the same as for the one before
        near = (
            layers.walls_key,
            marks[k + 1 : k + 1 + settings.top_layers],
            marks[max(0, k - settings.bottom_layers) : k],
        )
        if near != around:
            solid, sparse = _parted(sections, k, walls.inside, settings, layers.width)
            around = near
        filled, latticed = layers.fill(solid, thick, 1.0, odd), layers.fill(sparse, thick, settings.infill, odd)
        solid_s = layers.time(filled, settings.solid_mm_s, thick, first)
        infill_s = layers.time(latticed, settings.infill_mm_s, thick, first)
        key = (*layers.walls_key, *_mark(solid), *_mark(sparse), odd)
        travel_s = layers.travel(key, [*walls.paths, *filled, *latticed])
        layer_s = walls_s + solid_s + infill_s + travel_s + settings.layer_change_s
        waiting_s = max(0.0, settings.least_layer_s - layer_s)
        out.walls_mm3 += walls.area_mm2 * thick
        out.solid_mm3 += solid.area() * thick
        out.infill_mm3 += sparse.area() * thick * settings.infill
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
