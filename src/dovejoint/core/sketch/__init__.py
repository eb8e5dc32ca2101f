"""Sketches: points, curves, constraints and dimensions, and the least-squares solve that holds them together."""

from .draw import add_arc, add_line, add_polygon, add_slot
from .edit import add_circle, add_rectangle, constrain, drag, remove, resize, size_up
from .model import ORIGIN, Constraint, Dimension, Point, Sketch, SketchCurve
from .shape import construct, mirror, offset_chain, repeat_in_rows, repeat_round, round_corners, trim
from .solve import Solution, measured, settle, solve

__all__ = [
    "ORIGIN",
    "Constraint",
    "Dimension",
    "Point",
    "Sketch",
    "SketchCurve",
    "Solution",
    "add_arc",
    "add_circle",
    "add_line",
    "add_polygon",
    "add_rectangle",
    "add_slot",
    "constrain",
    "construct",
    "drag",
    "measured",
    "mirror",
    "offset_chain",
    "remove",
    "repeat_in_rows",
    "repeat_round",
    "resize",
    "round_corners",
    "settle",
    "size_up",
    "solve",
    "trim",
]
