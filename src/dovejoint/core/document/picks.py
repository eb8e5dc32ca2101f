"""Picks: how a step refers to what earlier steps made.

A pick stores names, or a rule; rules survive changes best. With each name goes a description of what it was
when it was picked (``Seen``), which may only decide when one thing clearly fits it.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..quantities.markers import PartId, StepId

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
    "FlatFace",
    "PlanePick",
    "RegionPick",
    "Seen",
    "SeenFace",
    "StepPlane",
    "ThingPick",
]

_Finite = Annotated[float, Field(allow_inf_nan=False)]
Name = Annotated[str, Field(max_length=4000)]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Seen(_Strict):
    """What a face or an edge was when it was picked: kind, a place, a direction, its size, what lay around it."""

    kind: Annotated[str, Field(max_length=40)] = ""
    at: tuple[_Finite, _Finite, _Finite] = (0.0, 0.0, 0.0)
    direction: tuple[_Finite, _Finite, _Finite] = (0.0, 0.0, 0.0)
    size: _Finite = 0.0
    around: list[Name] = []


class SeenFace(_Strict):
    """A face or an edge by its name, as it was seen."""

    name: Name
    seen: Seen | None = None


class FacesPicked(_Strict):
    rule: Literal["faces"] = "faces"
    part: PartId
    faces: Annotated[list[SeenFace], Field(min_length=1, max_length=400)]


class FacesOfStep(_Strict):
    """All faces that one step made on a part."""

    rule: Literal["faces_of_step"] = "faces_of_step"
    part: PartId
    step: StepId


class EdgesPicked(_Strict):
    """Single edges; ``chain`` takes the tangent chain through each."""

    rule: Literal["edges"] = "edges"
    part: PartId
    edges: Annotated[list[SeenFace], Field(min_length=1, max_length=400)]
    chain: bool = True


class EdgesOfFace(_Strict):
    """All edges round one face."""

    rule: Literal["edges_of_face"] = "edges_of_face"
    part: PartId
    face: SeenFace


class EdgesBetween(_Strict):
    """All edges between two faces."""

    rule: Literal["edges_between"] = "edges_between"
    part: PartId
    first: SeenFace
    second: SeenFace


class EdgesAlong(_Strict):
    """All outward edges of a part that run straight in one direction, e.g. its upright edges."""

    rule: Literal["edges_along"] = "edges_along"
    part: PartId
    direction: Literal["up", "across", "deep"] = "up"


class Corner(SeenFace):
    """An end of an edge: the one that lies ``toward`` this direction from the edge's middle."""

    toward: tuple[_Finite, _Finite, _Finite]


class CornersPicked(_Strict):
    """Corners of a part, each as an end of one of its edges."""

    rule: Literal["corners"] = "corners"
    part: PartId
    corners: Annotated[list[Corner], Field(min_length=1, max_length=40)]


class BasePlane(_Strict):
    rule: Literal["base"] = "base"
    plane: Literal["ground", "front", "side"]


class StepPlane(_Strict):
    """A plane that an earlier step made."""

    rule: Literal["plane"] = "plane"
    step: StepId


class FlatFace(_Strict):
    """A flat face taken as a plane."""

    rule: Literal["flat"] = "flat"
    part: PartId
    face: SeenFace


class RegionPick(_Strict):
    """Regions of a sketch: all that are material in the usual reading, or those named."""

    rule: Literal["regions"] = "regions"
    step: StepId
    names: Annotated[list[Name], Field(max_length=400)] | None = None


class ThingPick(_Strict):
    """One face or one edge, as a reading points at it."""

    part: PartId
    kind: Literal["face", "edge"]
    thing: SeenFace


FacePick = Annotated[FacesPicked | FacesOfStep, Field(discriminator="rule")]
EdgePick = Annotated[EdgesPicked | EdgesOfFace | EdgesBetween | EdgesAlong, Field(discriminator="rule")]
PlanePick = Annotated[BasePlane | StepPlane | FlatFace, Field(discriminator="rule")]
