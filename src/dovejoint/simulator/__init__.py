"""A simulated printer and caliper, so that the whole loop can be tried without hardware.

A small service of its own: it knows nothing of the core, and the core nothing of it. It is told which sizes a piece has and
how they lie, and keeps to itself what it made of them; only its caliper, and putting two pieces together, tell something.
"""

from .caliper import Caliper
from .machine import Hidden, Machine, hidden_of
from .workshop import Workshop

__all__ = ["Caliper", "Hidden", "Machine", "Workshop", "hidden_of"]
