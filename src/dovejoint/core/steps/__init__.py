"""One file for each kind of step: its fields, its sentence, its geometry.

Importing this package registers them all. A new kind is a new file here and its name in the line below.
"""

from . import (  # registered by import
    between,
    board,
    body,
    bring_in,
    chamfer,
    divide,
    draft,
    drill,
    extrude,
    fillet,
    loft,
    mirror,
    move,
    plane,
    push,
    repeat,
    revolve,
    shelf,
    shell,
    sketch,
    sweep,
    wall,
)

__all__ = [
    "between",
    "board",
    "body",
    "bring_in",
    "chamfer",
    "divide",
    "draft",
    "drill",
    "extrude",
    "fillet",
    "loft",
    "mirror",
    "move",
    "plane",
    "push",
    "repeat",
    "revolve",
    "shelf",
    "shell",
    "sketch",
    "sweep",
    "wall",
]
