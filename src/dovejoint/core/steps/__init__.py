"""One file for each kind of step: its fields, its sentence, its geometry.

Importing this package registers them all. A new kind is a new file here and its name in the line below.
"""

from . import chamfer, extrude, fillet, plane, shell, sketch  # registered by import

__all__ = ["chamfer", "extrude", "fillet", "plane", "shell", "sketch"]
