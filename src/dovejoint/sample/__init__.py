"""The sample projects, built by the same commands that the interface sends."""

from .feeder import make_feeder

__all__ = ["make_feeder"]
