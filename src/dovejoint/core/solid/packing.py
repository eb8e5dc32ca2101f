"""What steps make, packed to travel between processes of our own: plain data, and shapes in the kernel's binary form.

Only ever for what one of our own processes packed: unpacking runs programs.
"""

from __future__ import annotations

import io
import pickle
from typing import Any

from OCP.BinTools import BinTools
from OCP.TopoDS import TopoDS_Shape

from .kernel import cast
from .named import NamedSolid

__all__ = ["pack", "unpack"]


def _shape_bytes(shape: TopoDS_Shape) -> bytes:
    out = io.BytesIO()
    BinTools.Write_s(shape, out)
    return out.getvalue()


def _shape_of(data: bytes) -> Any:
    shape = TopoDS_Shape()
    BinTools.Read_s(shape, io.BytesIO(data))
    return cast(shape, shape.ShapeType())


class _Packer(pickle.Pickler):
    def reducer_override(self, obj: Any) -> Any:
        if isinstance(obj, NamedSolid):
            return NamedSolid.unpack, (obj.pack(),)
        return (_shape_of, (_shape_bytes(obj),)) if isinstance(obj, TopoDS_Shape) else NotImplemented


def pack(made: Any) -> bytes:
    """What a step made, or anything with shapes in it, as bytes."""
    out = io.BytesIO()
    _Packer(out, pickle.HIGHEST_PROTOCOL).dump(made)
    return out.getvalue()


def unpack(data: bytes) -> Any:
    """What :func:`pack` packed in a process of ours."""
    return pickle.loads(data)
