"""Binary STL: an 80-byte header, a count, and for each triangle a normal, three corners and two spare bytes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

__all__ = ["read_stl", "write_stl"]

_RECORD = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("spare", "<u2")])


def write_stl(positions: NDArray[np.float32], triangles: NDArray[np.uint32], unit: str = "mm") -> bytes:
    """Triangles as binary STL. The format has no unit of its own; the header says which is meant.

    Parameters
    ----------
    positions : (n, 3) in mm. triangles : (m, 3) indices, counter-clockwise seen from outside.
    unit : ``mm`` or ``in``; coordinates are written in it.
    """
    corners = positions[triangles].astype(np.float64) / (25.4 if unit == "in" else 1.0)
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    sizes = np.linalg.norm(normals, axis=1, keepdims=True)
    records = np.zeros(len(triangles), dtype=_RECORD)
    records["normal"] = np.divide(normals, sizes, out=np.zeros_like(normals), where=sizes > 0)
    records["corners"] = corners
    header = f"Dove Joint part, unit {unit}".encode().ljust(80)
    return header + np.uint32(len(triangles)).tobytes() + records.tobytes()


def read_stl(data: bytes) -> NDArray[np.float32]:
    """Corners (m, 3, 3) of a binary STL; for checking what was written. Raises ValueError when it is cut short."""
    count = int(np.frombuffer(data[80:84], dtype="<u4")[0])
    if len(data) < 84 + count * _RECORD.itemsize:
        raise ValueError("the STL data is cut short")
    return np.asarray(np.frombuffer(data[84:], dtype=_RECORD, count=count)["corners"])
