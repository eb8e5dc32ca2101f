"""The only place that imports the geometry kernel: solids with named faces, and what one can ask of them.

The kernel weighs a quarter of a gigabyte and takes two seconds to load, so it is loaded on the first use of
a function from this package, not by importing it: a server or a calculation that needs no geometry never
pays for it. ``frame``, ``outline`` and ``info`` are plain Python and never load it.
"""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, Any

from .ends import OpenEnd, open_ends
from .frame import FRONT, GROUND, SIDE, Axis, Frame, Vec3
from .info import BodyInfo, EdgeInfo, FaceInfo, GapReadings
from .outline import Arc, Bezier, Circle, Curve, Ellipse, Line

if TYPE_CHECKING:
    from .along import path_of_curves, path_of_edges, swept_along
    from .at_once import combined
    from .body import ball, block, cone, cylinder, lathed, prism_across_flats, ring, wedge
    from .brought import BroughtSolid, brought_solids, fitted, names_kept
    from .by_face import side_of_face
    from .by_mesh import leaves_gaps
    from .check import Test, deferring
    from .combine import common, cut, fuse, overlap
    from .corners import (
        InnerCorner,
        edges_in_corners,
        inner_corners,
        least_opening,
        relieved_corners,
        rounded_corners,
        sheet_of,
    )
    from .divide import side_of, side_of_lines
    from .draft import drafted
    from .exchange import read_step, write_step
    from .features import rounded_between, works_of_faces
    from .finish import chamfer, fillet, largest_that_fits
    from .flatten import (
        cylinder_of,
        edge_axis,
        edge_middle,
        edge_place,
        face_axis,
        face_curves,
        flat_edge,
        flat_outline,
        flat_section,
    )
    from .full_round import rounded_over
    from .gap_map import HalfMap, gap_map
    from .gaps import gap_readings, zone_mark
    from .hollow import shell
    from .kernel import KERNEL_VERSION, raised_by_kernel
    from .lip import face_chain, face_loops, plain_names, plate_with_lip, pointed, recess, rim_ring, rim_strip
    from .lofts import lofted
    from .make import narrowed, prism, prism_extent
    from .measure import (
        body_info,
        bounds,
        describe_edges,
        describe_faces,
        exact_distance,
        extents,
        in_material,
        middle_of,
    )
    from .mesh import Mesh, mesh_blob, read_mesh_blob, tessellate
    from .mesh_bodies import clearly_apart, mesh_body
    from .named import NamedSolid, lumps_of
    from .packing import pack, unpack
    from .probe import Rays, free_length, least_thickness, thickness_at, thinnest_wall
    from .push import drawn_to_plane, drawn_until, pushed, without_faces
    from .reach import prism_to_face, prism_to_part, prism_to_plane
    from .regions import Region, find_regions, inside, region_filled, region_of_face, region_set_in
    from .section import Cut
    from .stations import Route, route_along
    from .strip import strips
    from .swing import Swing, swing_of
    from .thicken import thickened
    from .thread import ConeEnd, cut_thread, threaded_bar
    from .thread_gap import thread_readings
    from .trim import dotted, in_print, room_for_dots, trimmed
    from .turn import RoundFace, bar, crest_gaps, meets_at, revolve, round_face
    from .twin import Motion, grown, moved, scaled, stretched
    from .way import met_on_the_way
    from .wrap import wrapped

_HOME = {
    "leaves_gaps": "by_mesh",
    "clearly_apart": "mesh_bodies",
    "mesh_body": "mesh_bodies",
    "met_on_the_way": "way",
    "combined": "at_once",
    "pack": "packing",
    "unpack": "packing",
    "Swing": "swing",
    "swing_of": "swing",
    "Cut": "section",
    "strips": "strip",
    "ConeEnd": "thread",
    "cut_thread": "thread",
    "threaded_bar": "thread",
    "thread_readings": "thread_gap",
    "BroughtSolid": "brought",
    "brought_solids": "brought",
    "fitted": "brought",
    "names_kept": "brought",
    "inside": "regions",
    "region_filled": "regions",
    "ball": "body",
    "block": "body",
    "cone": "body",
    "cylinder": "body",
    "lathed": "body",
    "prism_across_flats": "body",
    "ring": "body",
    "wedge": "body",
    "Motion": "twin",
    "moved": "twin",
    "scaled": "twin",
    "stretched": "twin",
    "lofted": "lofts",
    "path_of_curves": "along",
    "path_of_edges": "along",
    "swept_along": "along",
    "drafted": "draft",
    "pushed": "push",
    "drawn_to_plane": "push",
    "drawn_until": "push",
    "without_faces": "push",
    "prism_to_face": "reach",
    "prism_to_part": "reach",
    "prism_to_plane": "reach",
    "region_of_face": "regions",
    "region_set_in": "regions",
    "Test": "check",
    "common": "combine",
    "deferring": "check",
    "cut": "combine",
    "fuse": "combine",
    "overlap": "combine",
    "read_step": "exchange",
    "write_step": "exchange",
    "chamfer": "finish",
    "cylinder_of": "flatten",
    "edge_axis": "flatten",
    "edge_middle": "flatten",
    "face_axis": "flatten",
    "face_curves": "flatten",
    "edge_place": "flatten",
    "flat_edge": "flatten",
    "flat_outline": "flatten",
    "flat_section": "flatten",
    "fillet": "finish",
    "largest_that_fits": "finish",
    "shell": "hollow",
    "KERNEL_VERSION": "kernel",
    "raised_by_kernel": "kernel",
    "face_chain": "lip",
    "face_loops": "lip",
    "plain_names": "lip",
    "plate_with_lip": "lip",
    "pointed": "lip",
    "rim_ring": "lip",
    "rim_strip": "lip",
    "recess": "lip",
    "narrowed": "make",
    "prism": "make",
    "prism_extent": "make",
    "body_info": "measure",
    "bounds": "measure",
    "describe_edges": "measure",
    "describe_faces": "measure",
    "exact_distance": "measure",
    "extents": "measure",
    "in_material": "measure",
    "middle_of": "measure",
    "free_length": "probe",
    "least_thickness": "probe",
    "HalfMap": "gap_map",
    "gap_map": "gap_map",
    "gap_readings": "gaps",
    "zone_mark": "gaps",
    "Rays": "probe",
    "thickness_at": "probe",
    "thinnest_wall": "probe",
    "Mesh": "mesh",
    "mesh_blob": "mesh",
    "read_mesh_blob": "mesh",
    "tessellate": "mesh",
    "NamedSolid": "named",
    "lumps_of": "named",
    "Region": "regions",
    "find_regions": "regions",
    "RoundFace": "turn",
    "bar": "turn",
    "crest_gaps": "turn",
    "meets_at": "turn",
    "revolve": "turn",
    "round_face": "turn",
    "dotted": "trim",
    "in_print": "trim",
    "room_for_dots": "trim",
    "trimmed": "trim",
    "grown": "twin",
    "side_of": "divide",
    "side_of_lines": "divide",
    "InnerCorner": "corners",
    "edges_in_corners": "corners",
    "inner_corners": "corners",
    "least_opening": "corners",
    "relieved_corners": "corners",
    "rounded_corners": "corners",
    "sheet_of": "corners",
    "rounded_over": "full_round",
    "rounded_between": "features",
    "works_of_faces": "features",
    "side_of_face": "by_face",
    "thickened": "thicken",
    "Route": "stations",
    "route_along": "stations",
    "wrapped": "wrap",
}

__all__ = [
    "ConeEnd",
    "cut_thread",
    "thread_readings",
    "threaded_bar",
    "leaves_gaps",
    "Cut",
    "met_on_the_way",
    "Swing",
    "combined",
    "clearly_apart",
    "mesh_body",
    "pack",
    "unpack",
    "swing_of",
    "least_thickness",
    "strips",
    "Route",
    "InnerCorner",
    "inner_corners",
    "least_opening",
    "relieved_corners",
    "rounded_corners",
    "sheet_of",
    "rounded_between",
    "rounded_over",
    "route_along",
    "wrapped",
    "BroughtSolid",
    "brought_solids",
    "fitted",
    "names_kept",
    "inside",
    "region_filled",
    "ball",
    "block",
    "cone",
    "cylinder",
    "lathed",
    "prism_across_flats",
    "ring",
    "wedge",
    "Motion",
    "moved",
    "scaled",
    "stretched",
    "lofted",
    "path_of_curves",
    "path_of_edges",
    "swept_along",
    "drafted",
    "pushed",
    "drawn_to_plane",
    "drawn_until",
    "without_faces",
    "prism_to_face",
    "prism_to_part",
    "prism_to_plane",
    "region_of_face",
    "region_set_in",
    "RoundFace",
    "Test",
    "deferring",
    "crest_gaps",
    "meets_at",
    "revolve",
    "round_face",
    "FRONT",
    "GROUND",
    "GapReadings",
    "KERNEL_VERSION",
    "SIDE",
    "Arc",
    "Axis",
    "Bezier",
    "BodyInfo",
    "Circle",
    "Curve",
    "Ellipse",
    "EdgeInfo",
    "FaceInfo",
    "Frame",
    "Line",
    "Mesh",
    "NamedSolid",
    "OpenEnd",
    "Region",
    "Vec3",
    "bar",
    "body_info",
    "bounds",
    "chamfer",
    "common",
    "cut",
    "cylinder_of",
    "describe_edges",
    "describe_faces",
    "edge_axis",
    "edges_in_corners",
    "edge_middle",
    "edge_place",
    "exact_distance",
    "extents",
    "in_material",
    "lumps_of",
    "middle_of",
    "face_axis",
    "face_curves",
    "face_chain",
    "face_loops",
    "fillet",
    "find_regions",
    "flat_edge",
    "flat_outline",
    "flat_section",
    "free_length",
    "least_thickness",
    "fuse",
    "HalfMap",
    "gap_map",
    "gap_readings",
    "zone_mark",
    "largest_that_fits",
    "mesh_blob",
    "read_mesh_blob",
    "open_ends",
    "overlap",
    "plain_names",
    "plate_with_lip",
    "pointed",
    "rim_ring",
    "rim_strip",
    "narrowed",
    "prism",
    "prism_extent",
    "raised_by_kernel",
    "read_step",
    "recess",
    "shell",
    "tessellate",
    "Rays",
    "thickness_at",
    "thinnest_wall",
    "write_step",
    "dotted",
    "in_print",
    "room_for_dots",
    "trimmed",
    "grown",
    "side_of",
    "side_of_face",
    "side_of_lines",
    "thickened",
    "works_of_faces",
]


def __getattr__(name: str) -> Any:
    if name not in _HOME:
        raise AttributeError(name)
    value = getattr(importlib.import_module(f".{_HOME[name]}", __name__), name)
    globals()[name] = value
    return value
