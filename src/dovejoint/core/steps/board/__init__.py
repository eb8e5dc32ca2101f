"""What a hand does on the board, as commands: drawing, working on what is drawn, bringing in from parts.

Importing this package registers them all. ``common`` is what they share; the geometry itself is in ``core.sketch``.
"""

from . import draw, sources, work  # registered by import
from .common import drag_preview, lengths

__all__ = ["drag_preview", "draw", "lengths", "sources", "work"]
