"""One file for each kind of pick. Importing this package registers them all; a new one is a new file and its name in the line below."""

from . import axes, edges, faces, outlines, paths, places, planes, spots, works  # registered by import
from .axes import AxisPick, axis_of
from .kind import (
    Namer,
    PickKind,
    PickRule,
    Pointing,
    Ready,
    Thing,
    all_picks,
    all_rules,
    fits_kind,
    pick_kind,
    register_pick,
    rule_of,
    said_pick,
)
from .outlines import OutlinePick, PartEnd, UntilPick, outline_of
from .paths import PathPick, path_of
from .places import PlacePick, along_edge, place_of
from .spots import SpotsPick, spots_of
from .works import WorkPick, work_of

__all__ = [
    "AxisPick", "Namer", "OutlinePick", "PartEnd", "UntilPick", "outline_of", "outlines", "PathPick", "path_of", "paths", "PlacePick", "along_edge", "place_of", "places", "SpotsPick", "spots_of", "spots", "WorkPick", "work_of", "works", "PickKind", "PickRule", "Pointing", "Ready", "Thing", "all_picks", "all_rules", "axes", "axis_of", "edges", "faces", "fits_kind",
    "pick_kind", "planes", "register_pick", "rule_of", "said_pick",
]  # fmt: skip
