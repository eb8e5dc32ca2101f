"""Readings: what can be said of one thing of the model, or of two, as drawn."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

from .. import solid as kernel
from ..document import Project, Reading, ThingPick
from ..errors import DoveError, PickError
from ..solid import EdgeInfo, FaceInfo, Vec3
from ..solid.frame import add, dot, scale, sub
from .evaluate import Evaluation
from .names import find_edge, find_face
from .outputs import PartState

__all__ = ["Row", "read", "readings_report"]

#: what a least distance is across, deep and up, where it is more than one of them
_ALONG = ("of it across", "of it deep", "of it up")
#: less than this is nothing, mm
ALONG_MM = 1e-4
#: two directions are parallel within this, rad
PARALLEL_RAD = 1e-4


@dataclass(frozen=True)
class Row:
    """One figure of a reading: mm, mm² or rad by ``kind``; ``ends`` are the places between which it was taken."""

    what: str
    kind: Literal["length", "area", "angle"]
    figure: float
    ends: tuple[Vec3, Vec3]

    def as_dict(self) -> dict[str, Any]:
        return {"what": self.what, "kind": self.kind, "figure": self.figure, "ends": [list(e) for e in self.ends]}


def read(parts: Mapping[str, PartState], first: ThingPick, second: ThingPick | None = None) -> list[Row]:
    """What can be read off one thing, or between two. Gaps read so are *drawn* gaps.

    Raises
    ------
    PickError : a thing is not there any more, or could be several.
    """
    a = _Thing(parts, first)
    if second is None:
        return a.alone()
    return _between(a, _Thing(parts, second))


class _Thing:
    """A face or an edge of a part as it stands."""

    def __init__(self, parts: Mapping[str, PartState], pick: ThingPick) -> None:
        if pick.part not in parts:
            raise PickError("The part that was measured is not there.")
        self.part = parts[pick.part]
        if pick.kind == "face":
            index = find_face(self.part, pick.thing)
            self.face: FaceInfo | None = self.part.faces[index]
            self.edge: EdgeInfo | None = None
            self.shape = self.part.solid.faces[index]
        else:
            index = find_edge(self.part, pick.thing)
            self.face, self.edge = None, self.part.edges[index]
            self.shape = self.part.solid.edges[index][0]

    @property
    def at(self) -> Vec3:
        info = self.face or self.edge
        assert info is not None
        return info.at

    @property
    def direction(self) -> Vec3 | None:
        """Normal of a flat face, or direction of a straight edge."""
        if self.face is not None:
            return self.face.normal if self.face.kind == "plane" else None
        return self.edge.direction if self.edge is not None and self.edge.kind == "line" else None

    def alone(self) -> list[Row]:
        here = (self.at, self.at)
        if self.edge is not None:
            if self.edge.radius_mm is not None:
                return [
                    Row("diameter", "length", 2 * self.edge.radius_mm, here),
                    Row("length along it", "length", self.edge.length_mm, here),
                ]
            return [Row("length", "length", self.edge.length_mm, here)]
        assert self.face is not None
        rows = [Row("area", "area", self.face.area_mm2, here)]
        if self.face.radius_mm is not None:
            rows.insert(0, Row("diameter", "length", 2 * self.face.radius_mm, here))
        through = kernel.thickness_at(self.part.solid, self.face.at, self.face.normal)
        if through is not None:
            end = add(self.face.at, scale(self.face.normal, -through))
            rows.append(Row("through the part here", "length", through, (self.face.at, end)))
        return rows


def _between(a: _Thing, b: _Thing) -> list[Row]:
    rows = []
    least, p, q = kernel.exact_distance(a.shape, b.shape)
    rows.append(Row("least distance", "length", least, (p, q)))
    along = [abs(b - a) for a, b in zip(p, q, strict=True)]
    if sum(1 for share in along if share > ALONG_MM) > 1:
        rows += [
            Row(word, "length", share, (p, q)) for word, share in zip(_ALONG, along, strict=True) if share > ALONG_MM
        ]
    if a.direction is None or b.direction is None:
        return rows
    angle = math.acos(max(-1.0, min(1.0, abs(dot(a.direction, b.direction)))))
    if (a.face is None) != (b.face is None):
        # an edge and a face: the angle to the face, not to its normal
        angle = math.pi / 2 - angle
    if angle > PARALLEL_RAD:
        rows.append(Row("angle", "angle", angle, (a.at, b.at)))
    elif a.face is not None:
        normal = a.direction
        apart = dot(sub(b.at, a.at), normal)
        rows.insert(0, Row("apart", "length", abs(apart), (a.at, add(a.at, scale(normal, apart)))))
    return rows


def readings_report(project: Project, evaluation: Evaluation) -> list[dict[str, Any]]:
    """All pinned readings as plain data; one whose thing is lost says so."""
    return [_report(reading, evaluation) for reading in project.readings]


def _report(reading: Reading, evaluation: Evaluation) -> dict[str, Any]:
    try:
        rows = [row.as_dict() for row in read(evaluation.parts, reading.first, reading.second)]
        return {"id": reading.id, "rows": rows, "message": ""}
    except DoveError as error:
        return {"id": reading.id, "rows": [], "message": error.message}
