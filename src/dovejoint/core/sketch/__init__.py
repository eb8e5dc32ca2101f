"""Sketches: points, curves, constraints and dimensions, and the least-squares solve that holds them together."""

from .edit import add_circle, add_rectangle, constrain, drag, remove, resize, size_up
from .model import ORIGIN, Constraint, Dimension, Point, Sketch, SketchCurve
from .solve import Solution, measured, settle, solve

__all__ = [
    "ORIGIN",
    "Constraint",
    "Dimension",
    "Point",
    "Sketch",
    "SketchCurve",
    "Solution",
    "add_circle",
    "add_rectangle",
    "constrain",
    "drag",
    "measured",
    "remove",
    "resize",
    "settle",
    "size_up",
    "solve",
]
