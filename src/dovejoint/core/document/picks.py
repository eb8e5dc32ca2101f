"""Picks: how a step refers to what earlier steps made.

A pick stores names, or a rule; rules survive changes best. With each name goes a description of what it was
when it was picked (``Seen``), which may only decide when one thing clearly fits it.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..quantities.markers import NameMark, PartId, StepId
from ..solid.frame import dot

__all__ = [
    "BasePlane",
    "Corner",
    "CornersPicked",
    "EdgePick",
    "EdgesAlong",
    "EdgesBetween",
    "EdgesOfFace",
    "EdgesPicked",
    "FacePick",
    "FacesOfStep",
    "FacesPicked",
    "FixedPlane",
    "FlatFace",
    "Pick",
    "PlanePick",
    "RegionPick",
    "Seen",
    "SeenFace",
    "StepPlane",
    "ThingPick",
]

_Finite = Annotated[float, Field(allow_inf_nan=False)]
#: the name of a face or an edge (core/solid/facename.py)
Name = Annotated[str, NameMark(), Field(max_length=4000)]


class Pick(BaseModel):
    """Base of all picks and of what they hold: unknown fields are refused, values never change in place."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class Seen(Pick):
    """What a face or an edge was when it was picked: kind, a place, a direction, its size, what lay around it, what it was
    called (without its part's name); of round ones the radius, of cylinders the direction of their axis."""

    kind: Annotated[str, Field(max_length=40)] = ""
    at: tuple[_Finite, _Finite, _Finite] = (0.0, 0.0, 0.0)
    direction: tuple[_Finite, _Finite, _Finite] = (0.0, 0.0, 0.0)
    size: _Finite = 0.0
    around: list[Name] = []
    label: Annotated[str, Field(max_length=300)] = ""
    radius: Annotated[float, Field(ge=0, allow_inf_nan=False)] = 0.0
    axis: tuple[_Finite, _Finite, _Finite] = (0.0, 0.0, 0.0)


class SeenFace(Pick):
    """A face or an edge by its name, as it was seen. ``part`` is given where it is of another part than the pick's own."""

    name: Name
    seen: Seen | None = None
    part: PartId = ""


class FacesPicked(Pick):
    """Single faces, of one part or of several."""

    rule: Literal["faces"] = "faces"
    part: PartId
    faces: Annotated[list[SeenFace], Field(min_length=1, max_length=400)]


class FacesOfStep(Pick):
    """All faces that one step made on a part; with a ``role`` those that it has made alike, by their names (its sides, say)."""

    rule: Literal["faces_of_step"] = "faces_of_step"
    part: PartId
    step: StepId
    role: Annotated[str, Field(max_length=40)] = ""


class EdgesPicked(Pick):
    """Single edges, of one part or of several; ``chain`` takes the tangent chain through each."""

    rule: Literal["edges"] = "edges"
    part: PartId
    edges: Annotated[list[SeenFace], Field(min_length=1, max_length=400)]
    chain: bool = True


class EdgesOfFace(Pick):
    """All edges round one face."""

    rule: Literal["edges_of_face"] = "edges_of_face"
    part: PartId
    face: SeenFace


class EdgesBetween(Pick):
    """All edges between two faces."""

    rule: Literal["edges_between"] = "edges_between"
    part: PartId
    first: SeenFace
    second: SeenFace


class EdgesAlong(Pick):
    """All outward edges of a part that run straight in one direction, e.g. its upright edges; or in any, curved ones too."""

    rule: Literal["edges_along"] = "edges_along"
    part: PartId
    direction: Literal["up", "across", "deep", "any"] = "up"


class Corner(SeenFace):
    """An end of an edge: the one that lies ``toward`` this direction from the edge's middle."""

    toward: tuple[_Finite, _Finite, _Finite]


class CornersPicked(Pick):
    """Corners of a part, each as an end of one of its edges."""

    rule: Literal["corners"] = "corners"
    part: PartId
    corners: Annotated[list[Corner], Field(min_length=1, max_length=40)]


class BasePlane(Pick):
    rule: Literal["base"] = "base"
    plane: Literal["ground", "front", "side"]


class StepPlane(Pick):
    """A plane that an earlier step made."""

    rule: Literal["plane"] = "plane"
    step: StepId


class FixedPlane(Pick):
    """A plane that stays where it is: what is left of a link to a face when it is cut. ``x`` and ``y`` are unit vectors, square to each other."""

    rule: Literal["fixed"] = "fixed"
    origin: tuple[_Finite, _Finite, _Finite]
    x: tuple[_Finite, _Finite, _Finite]
    y: tuple[_Finite, _Finite, _Finite]

    @model_validator(mode="after")
    def _square(self) -> FixedPlane:
        off = (dot(self.x, self.x) - 1, dot(self.y, self.y) - 1, dot(self.x, self.y))
        if max(map(abs, off)) > 1e-6:
            raise ValueError("the directions of a plane are one long and square to each other")
        return self


class FlatFace(Pick):
    """A flat face taken as a plane."""

    rule: Literal["flat"] = "flat"
    part: PartId
    face: SeenFace


class RegionPick(Pick):
    """Regions of a sketch: all that are material in the usual reading, or those named; ``filled``: without their holes."""

    rule: Literal["regions"] = "regions"
    step: StepId
    names: Annotated[list[Annotated[str, Field(max_length=4000)]], Field(max_length=400)] | None = None
    filled: bool = False


class ThingPick(Pick):
    """One face or one edge, as a reading points at it."""

    part: PartId
    kind: Literal["face", "edge"]
    thing: SeenFace


FacePick = Annotated[FacesPicked | FacesOfStep, Field(discriminator="rule")]
EdgePick = Annotated[EdgesPicked | EdgesOfFace | EdgesBetween | EdgesAlong, Field(discriminator="rule")]
PlanePick = Annotated[BasePlane | StepPlane | FlatFace | FixedPlane, Field(discriminator="rule")]
