"""The typed project document. It holds what the user said, never a computed result."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from .picks import ThingPick

__all__ = ["PIGMENTS", "Part", "Profile", "Project", "Reading", "Role", "Step", "Value"]

Role = Literal["printed", "bought", "made", "reference"]
_Id = Annotated[str, Field(pattern=r"^[a-z]{1,3}[0-9]{1,9}$")]
_Name = Annotated[str, Field(min_length=1, max_length=80)]
_Finite = Annotated[float, Field(allow_inf_nan=False)]

#: muted mineral pigments that new parts take in turn
PIGMENTS = ["#D9AE8F", "#A9C2B6", "#E2C684", "#B9B4CC", "#C9A3A0", "#9DB4C4", "#C7C29A", "#B59E8B"]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Value(_Strict):
    id: _Id
    name: _Name
    formula: Annotated[str, Field(max_length=400)]


class Part(_Strict):
    id: _Id
    name: _Name
    role: Role = "printed"
    colour: Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]


class Step(_Strict):
    """``fields`` belong to the kind of step and are checked by it."""

    id: _Id
    kind: Annotated[str, Field(max_length=40)]
    name: Annotated[str, Field(max_length=80)] = ""
    off: bool = False
    fields: dict[str, Any]


class Reading(_Strict):
    """A reading pinned to one thing of the model, or between two; it follows them."""

    id: _Id
    first: ThingPick
    second: ThingPick | None = None


class Profile(_Strict):
    """How prints of one printer, nozzle, material and setting deviate. A copy of what the gaps rest on.

    Offsets are per side in mm, positive when a printed surface lies proud of the drawn one: an outside face
    grows by ``outside_mm``, the walls of an opening close in by ``inside_mm``. ``common_mm`` is the standard
    deviation of the offset that all faces of one print share, ``random_mm`` that of each face by itself. ``bed_mm`` is
    the room on the bed: across, deep, high.
    """

    id: _Id
    name: _Name
    source: Annotated[str, Field(max_length=400)]
    outside_mm: _Finite
    inside_mm: _Finite
    common_mm: Annotated[float, Field(ge=0, allow_inf_nan=False)]
    random_mm: Annotated[float, Field(ge=0, allow_inf_nan=False)]
    line_width_mm: Annotated[float, Field(gt=0, allow_inf_nan=False)]
    bed_mm: tuple[_Finite, _Finite, _Finite]


class Project(_Strict):
    """Everything that the user said about one product."""

    format: Literal[1] = 1
    name: _Name
    unit: Literal["mm", "in"] = "mm"
    next_id: Annotated[int, Field(ge=1, le=10**9)] = 1
    values: Annotated[list[Value], Field(max_length=400)] = []
    parts: Annotated[list[Part], Field(max_length=400)] = []
    recipe: Annotated[list[Step], Field(max_length=2000)] = []
    profiles: Annotated[list[Profile], Field(max_length=40)] = []
    profile: str = ""
    readings: Annotated[list[Reading], Field(max_length=200)] = []

    def step(self, id: str) -> Step | None:
        return next((s for s in self.recipe if s.id == id), None)

    def part(self, id: str) -> Part | None:
        return next((p for p in self.parts if p.id == id), None)

    def used_profile(self) -> Profile | None:
        return next((p for p in self.profiles if p.id == self.profile), None)
