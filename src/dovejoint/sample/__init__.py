"""The sample projects, built by the same commands that the interface sends."""

from importlib.resources import files

from .feeder import make_feeder
from .mast import make_mast

__all__ = ["SAMPLES", "make_feeder", "make_mast", "picture_of"]

#: what each sample is asked for by
SAMPLES = {"feeder": make_feeder, "mast": make_mast}


def picture_of(name: str) -> bytes:
    """A small picture (PNG) of a sample, which ships with it so that nothing has to be made before it is chosen; ``./dove shots`` makes
    it anew."""
    return files(__package__).joinpath(f"pictures/{name}.png").read_bytes()
