"""One file for each kind of step: its fields, its sentence, its geometry.

Importing this package registers them all. A new kind is a new file here and its name in the line below.
"""

from . import (  # registered by import
    between,
    board,
    chamfer,
    divide,
    extrude,
    fillet,
    mirror,
    plane,
    repeat,
    revolve,
    shell,
    sketch,
)

__all__ = [
    "between",
    "board",
    "chamfer",
    "divide",
    "extrude",
    "fillet",
    "mirror",
    "plane",
    "repeat",
    "revolve",
    "shell",
    "sketch",
]
