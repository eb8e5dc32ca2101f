"""Sketches: points, curves, constraints and dimensions, and the least-squares solve that holds them together."""

from .curves import (
    add_arc_about,
    add_arc_slot,
    add_circle_over,
    add_ellipse,
    add_leaning_rectangle,
    add_spline,
    add_text,
    place_curves,
    reword,
)  # fmt: skip
from .cutting import extend, split, trim
from .draw import add_arc, add_line, add_point, add_polygon, add_slot
from .edit import (
    add_circle,
    add_reading,
    add_rectangle,
    as_reading,
    at_rest,
    constrain,
    drag,
    join_ends,
    remove,
    resize,
    size_up,
)  # fmt: skip
from .model import ORIGIN, Constraint, Dimension, Point, Repeat, Sketch, SketchCurve
from .outlines import outlines
from .repeats import MOST_COPIES, change_repeat, counted_by, keep_counts, repeat_in_rows, repeat_round, whole_count
from .shape import (
    construct,
    copy_by,
    cut_corners,
    mirror,
    move_by,
    offset_chain,
    round_corners,
)  # fmt: skip
from .solve import Solution, goes_back, measured, settle, solve
from .words import calling, in_words

__all__ = [
    "MOST_COPIES", "ORIGIN", "Constraint", "Dimension", "Point", "Repeat", "Sketch", "SketchCurve", "Solution", "add_arc", "add_arc_about",
    "add_arc_slot", "add_circle", "add_circle_over", "add_ellipse", "add_leaning_rectangle", "add_line", "add_point", "add_polygon",
    "add_reading", "add_rectangle", "add_slot", "add_spline", "add_text", "as_reading", "at_rest", "calling", "change_repeat", "constrain", "construct", "copy_by", "counted_by", "cut_corners",
    "drag", "extend", "goes_back", "in_words", "join_ends", "keep_counts", "measured", "mirror", "move_by", "offset_chain", "outlines", "place_curves", "remove", "repeat_in_rows",
    "repeat_round", "resize", "reword", "round_corners", "settle", "size_up", "solve", "split", "trim", "whole_count",
]  # fmt: skip
