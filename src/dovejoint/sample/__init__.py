"""The sample projects, built by the same commands that the interface sends."""

from .feeder import make_feeder
from .mast import make_mast

__all__ = ["SAMPLES", "make_feeder", "make_mast"]

#: what each sample is asked for by
SAMPLES = {"feeder": make_feeder, "mast": make_mast}
