"""The shelf: things that are bought, by their standards or as they were measured, with their true outer geometry."""

from .shapes import shape_of
from .things import KINDS, Thing, find_things, thing_of, things

__all__ = ["KINDS", "Thing", "find_things", "shape_of", "thing_of", "things"]
