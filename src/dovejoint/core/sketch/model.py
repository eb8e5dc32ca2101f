"""The sketch as the document keeps it. Coordinates are millimetres in the sketch's plane."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..quantities.markers import FormulaMark, Number

__all__ = ["CONSTRAINT_KINDS", "DIMENSION_KINDS", "ORIGIN", "Constraint", "Copy", "Dimension", "Point", "Repeat", "Sketch",
           "SketchCurve"]  # fmt: skip

#: the id of the fixed point at (0, 0), which every sketch has
ORIGIN = "origin"

ConstraintKind = Literal[
    "coincident", "horizontal", "vertical", "parallel", "perpendicular", "equal", "midpoint", "point_on", "concentric",
    "tangent", "smooth", "symmetric", "collinear", "fixed", "turned",
]  # fmt: skip
DimensionKind = Literal[
    "distance", "distance_x", "distance_y", "length", "radius", "diameter", "ring", "angle", "perimeter"
]
CurveKind = Literal["line", "circle", "arc", "ellipse", "spline", "text"]
CONSTRAINT_KINDS: tuple[str, ...] = ConstraintKind.__args__  # type: ignore[attr-defined]
DIMENSION_KINDS: tuple[str, ...] = DimensionKind.__args__  # type: ignore[attr-defined]

Coordinate = Annotated[float, Field(allow_inf_nan=False, ge=-1e5, le=1e5)]
_Id = Annotated[str, Field(max_length=40)]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Point(_Strict):
    """``x`` and ``y`` are where it was last solved: they are where its next solve starts."""

    id: _Id
    x: Coordinate
    y: Coordinate


class SketchCurve(_Strict):
    """``points``: line (start, end); circle (centre); arc (centre, start, end), counter-clockwise; ellipse (centre, end of its
    first half axis); spline (node, handle, handle, node … node), a chain of cubic Béziers that runs on smoothly over its nodes;
    text (foot, top) of its first capital, running on square to it.

    ``radius`` is the last solved one of a circle, or the second half axis of an ellipse. What was ``brought`` in from a part has
    no freedom of its own.
    """

    id: _Id
    kind: CurveKind
    points: Annotated[list[_Id], Field(max_length=400)]
    radius: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1e5)] = 0.0
    construction: bool = False
    text: Annotated[str, Field(max_length=80)] = ""
    brought: bool = False

    @property
    def sized(self) -> bool:
        """Whether its ``radius`` says how large it is."""
        return self.kind in ("circle", "ellipse")

    @property
    def ends(self) -> tuple[str, ...]:
        """The points in which it begins and ends, where it does."""
        if self.kind in ("line", "arc"):
            return tuple(self.points[-2:])
        return (self.points[0], self.points[-1]) if self.kind == "spline" else ()


class Constraint(_Strict):
    """``turn_deg`` is how far the second point of *turned* lies round the third from the first, counter-clockwise."""

    id: _Id
    kind: ConstraintKind
    of: list[_Id]
    turn_deg: Annotated[float, Field(allow_inf_nan=False, ge=-360, le=360)] = 0.0


class Dimension(_Strict):
    """``follows`` names the dimension of which this one is so many ``times``, as for the copies in a row: it has no label of
    its own, and changes with it. A ``reading`` drives nothing: it has no formula and shows what it measures. An angle goes from the way in which
    the first line runs to that of the second, or to where it came from (``back``), so that one in a corner is the corner's own. A ring is how much farther out the second of two rims about one centre lies. A width or height counts to the side where it stands, and one that is ``signed`` along the axis: it is a place, and may be negative."""

    id: _Id
    kind: DimensionKind
    of: list[_Id]
    formula: Annotated[str, FormulaMark(None), Field(max_length=400)]
    follows: _Id = ""
    reading: bool = False
    back: bool = False
    signed: bool = False
    times: Annotated[float, Field(allow_inf_nan=False)] = 1.0


class Copy(_Strict):
    """One copy of a repeat: which it is (steps across and deep, or steps round), and what each of its curves and points is called."""

    at: tuple[int, int]
    names: Annotated[dict[_Id, _Id], Field(max_length=2000)]


class Repeat(_Strict):
    """Curves that stand several times, so that how often can be changed: in rows, so many ``counts`` across and deep by formulas,
    or that often round a point (``centre``). ``by`` are the formulas of the counts, where a formula says them: the document
    keeps the copies to them. ``meets`` says of a ring which points of a copy are which points of one so many before it; ``made`` holds the ties and sizes that keep the copies where they are."""

    id: _Id
    of: Annotated[list[_Id], Field(max_length=400)]
    counts: tuple[Annotated[int, Field(ge=1, le=400)], Annotated[int, Field(ge=1, le=400)]]
    by: tuple[Number, Number] = ("", "")
    pitches: tuple[Annotated[str, Field(max_length=400)], Annotated[str, Field(max_length=400)]] = ("", "")
    centre: _Id = ""
    copies: Annotated[list[Copy], Field(max_length=400)] = []
    left_out: Annotated[list[tuple[int, int]], Field(max_length=400)] = []
    meets: Annotated[list[tuple[_Id, _Id, Annotated[int, Field(ge=1, le=400)]]], Field(max_length=400)] = []
    made: Annotated[list[_Id], Field(max_length=4000)] = []


class Sketch(_Strict):
    points: Annotated[list[Point], Field(max_length=2000)] = []
    curves: Annotated[list[SketchCurve], Field(max_length=1000)] = []
    constraints: Annotated[list[Constraint], Field(max_length=4000)] = []
    dimensions: Annotated[list[Dimension], Field(max_length=1000)] = []
    repeats: Annotated[list[Repeat], Field(max_length=200)] = []

    def ids(self) -> set[str]:
        lists = (self.points, self.curves, self.constraints, self.dimensions, self.repeats)
        return {ORIGIN, *(item.id for items in lists for item in items)}

    def curve(self, id: str) -> SketchCurve | None:
        return next((c for c in self.curves if c.id == id), None)

    def point(self, id: str) -> Point | None:
        return Point(id=ORIGIN, x=0, y=0) if id == ORIGIN else next((p for p in self.points if p.id == id), None)
