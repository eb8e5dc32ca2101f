"""What a step sees while it does its geometry: its figures, and what its picks mean at its place in the recipe."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from .. import solid as kernel
from ..document.files import unpack
from ..document.picks import BasePlane, CornersPicked, FixedPlane, FlatFace, RegionPick, StepPlane
from ..errors import PickError, StepError
from ..solid import FRONT, GROUND, SIDE, Frame, Vec3
from ..solid.facename import alike_regions, same_curves
from .names import EdgesPick, FacesPick, find_corners, find_edges, find_face, find_faces, picked_parts
from .outputs import FaceOutline, PartState, SketchShape, StepOutput

if TYPE_CHECKING:
    from ..document import Step

__all__ = ["StepContext"]

_BASE = {"ground": GROUND, "front": FRONT, "side": SIDE}


class StepContext:
    """``figures`` are the step's formulas worked out (mm, rad), ``parts`` and ``made`` the state before it."""

    def __init__(
        self,
        step: Step,
        fields: Any,
        figures: dict[str, float],
        parts: dict[str, PartState],
        made: dict[str, StepOutput],
        titles: dict[str, str],
        names: dict[str, str],
        files: Mapping[str, str] | None = None,
    ) -> None:
        self.step = step
        self.id = step.id
        self.fields = fields
        self.figures = figures
        self._parts = parts
        self._made = made
        self._titles = titles
        self._names = names
        self._files = files or {}
        #: the planes that its picks were found to mean, by field
        self.frames: dict[str, Frame] = {}
        #: the outlines of faces that it was found to take, by field: their plane, and what bounds them
        self.outlines: dict[str, FaceOutline] = {}
        #: its solids are only made, and combined later with those of its sisters (see at_once.py)
        self.at_once = False

    def number(self, field: str) -> float:
        """The figure of a field. Raises StepError when it was left empty."""
        if field not in self.figures:
            raise StepError("This figure is missing.", field=field)
        return self.figures[field]

    def positive(self, field: str, what: str) -> float:
        figure = self.number(field)
        if figure <= 0:
            raise StepError(f"{what} must be above zero, and it is {figure:.4g}.", field=field)
        return figure

    def whole(self, field: str, low: int, high: int, what: str) -> int:
        """A figure that counts things. Raises StepError where it is no whole number, too few or too many."""
        figure = self.number(field)
        if abs(figure - round(figure)) > 1e-9 or not low <= round(figure) <= high:
            raise StepError(f"There are {low} to {high} {what}, and it is {figure:.4g}.", field=field)
        return round(figure)

    def part(self, id: str, field: str = "part") -> PartState:
        """A part as it stands before this step."""
        if id not in self._parts and id in self._names:
            raise StepError(
                f"“{self._names[id]}” is not there at this place of the recipe (its step failed, is off or comes later, or it was used up before).",
                field=field,
            )
        if id not in self._parts:
            raise PickError("A part is missing; pick one.", field=field)
        return self._parts[id]

    def file(self, hash: str, name: str, field: str) -> bytes:
        """A file that was brought in. Raises StepError where it did not come with the project."""
        if hash not in self._files:
            raise StepError(f"The file “{name}” did not come with this project; bring it in again.", field=field)
        return unpack(self._files[hash])

    @property
    def states(self) -> Mapping[str, PartState]:
        """All parts as they stand before this step."""
        return self._parts

    def has_part(self, id: str) -> bool:
        return id in self._parts

    def earlier(self, id: str, field: str) -> StepOutput:
        """What an earlier step made. Raises PickError."""
        if id not in self._made:
            title = self._titles.get(id)
            if title is None:
                raise PickError("It builds on a step that is not there any more; pick another.", field=field)
            raise PickError(
                f"It builds on {title}, which gives nothing here (it failed, is off or comes later).", field=field
            )
        return self._made[id]

    def faces(self, pick: FacesPick, field: str) -> tuple[PartState, list[int]]:
        """The part and its faces (0-based) that a pick means, for a step that works on one part."""
        return self.faces_of_one(pick, field)[1:]

    def faces_of_one(self, pick: FacesPick, field: str) -> tuple[str, PartState, list[int]]:
        """The same with the part's id."""
        ((id, part, found),) = self._one(self.faces_by_part(pick, field), field)
        return id, part, found

    def faces_by_part(self, pick: FacesPick, field: str) -> list[tuple[str, PartState, list[int]]]:
        """For each part that a pick speaks of: its id, the part as it stands here, and its faces."""
        return self._by_part(find_faces, pick, field)

    def _by_part(self, find: Any, pick: Any, field: str) -> list[tuple[str, PartState, list[int]]]:
        out = []
        for id in picked_parts(pick):
            part = self.part(id, field)
            try:
                out.append((id, part, find(part, pick, id)))
            except PickError as error:
                raise PickError(error.message, field=field) from None
        return out

    @staticmethod
    def _one(found: list[Any], field: str) -> list[Any]:
        if len(found) != 1:
            raise StepError("This step works on one part; what is picked belongs to several.", field=field)
        return found

    def faces_named(self, pick: FlatFace, field: str) -> tuple[PartState, int]:
        """The part and the one face (0-based) that a pick means."""
        part = self.part(pick.part, field)
        try:
            return part, find_face(part, pick.face)
        except PickError as error:
            raise PickError(error.message, field=field) from None

    def edges(self, pick: EdgesPick, field: str) -> tuple[PartState, list[int]]:
        """The part and its edges (0-based) that a pick means, for a step that works on one part."""
        ((_, part, found),) = self._one(self.edges_by_part(pick, field), field)
        return part, found

    def edges_by_part(self, pick: EdgesPick, field: str) -> list[tuple[str, PartState, list[int]]]:
        """For each part that a pick speaks of: its id, the part as it stands here, and its edges."""
        return self._by_part(find_edges, pick, field)

    def corners(self, pick: CornersPicked, field: str) -> list[Vec3]:
        """The places of corners, mm."""
        part = self.part(pick.part, field)
        try:
            return find_corners(part, pick)
        except PickError as error:
            raise PickError(error.message, field=field) from None

    def frame(self, pick: BasePlane | StepPlane | FlatFace | FixedPlane, field: str) -> Frame:
        """The plane that a pick means. Pieces of a split face still give one plane when they lie level."""
        found = self.frames[field] = self._frame(pick, field)
        return found

    def _frame(self, pick: BasePlane | StepPlane | FlatFace | FixedPlane, field: str) -> Frame:
        if isinstance(pick, BasePlane):
            return _BASE[pick.plane]
        if isinstance(pick, StepPlane):
            plane = self.earlier(pick.step, field).plane
            if plane is None:
                raise PickError("The step picked makes no plane; pick another.", field=field)
            return plane
        if isinstance(pick, FixedPlane):
            return Frame(pick.origin, pick.x, pick.y)
        part = self.part(pick.part, field)
        if part.before is not None:
            # what waits to be made does not move a face that was there before
            level = _plane_of(part.before, pick.face.name)
            if level is not None:
                part.saw(pick.face.name)
                return level
        level = _plane_of(part, pick.face.name)
        if level is not None:
            return level
        try:
            info = part.faces[find_face(part, pick.face)]
        except PickError as error:
            raise PickError(error.message, field=field) from None
        if info.kind != "plane":
            raise StepError("A sketch needs a flat face; the one picked is round.", field=field)
        return Frame.on_plane(info.at, info.normal)

    def middle(self, pick: BasePlane | StepPlane | FlatFace | FixedPlane, frame: Frame, field: str) -> Frame:
        """The plane's frame with its origin in the middle of the face that was picked: of the box round it, or round all its pieces. A plane has none but its origin."""
        if not isinstance(pick, FlatFace):
            return frame
        part = self.part(pick.part, field)
        pieces = [k for k, names in enumerate(part.solid.names) if pick.face.name in names] or [
            self.faces_named(pick, field)[1]
        ]
        return frame.placed(*kernel.middle_of([part.solid.faces[k] for k in pieces], frame), 0.0)

    def sketch(self, id: str, field: str) -> SketchShape:
        sketch = self.earlier(id, field).sketch
        if sketch is None:
            raise PickError("The step picked is no sketch; pick another.", field=field)
        return sketch

    def regions(self, pick: RegionPick, field: str) -> tuple[SketchShape, list[kernel.Region]]:
        """The regions that a pick means: those named, or all that are material (not a hole in another)."""
        sketch = self.sketch(pick.step, field)
        if pick.names is None:
            chosen = [r for r in sketch.regions if r.depth % 2 == 0]
        else:
            chosen = _named(sketch.regions, pick.names, field)
        if not chosen:
            raise StepError("The sketch has no closed area to use; close an outline first.", field=field)
        if pick.filled:
            chosen = [kernel.region_filled(r) for r in chosen if not any(_within(r, other) for other in chosen)]
        return sketch, chosen


def _named(regions: list[kernel.Region], names: list[str], field: str) -> list[kernel.Region]:
    """The regions that go by some names. One that got other curves round its outside or other holes is found by those it kept, and by
    their sides on which it lies, if only one fits."""
    by_name = {**{r.name: r for r in regions}, **{r.told: r for r in regions}}
    chosen = []
    for name in names:
        found = by_name.get(name)
        if found is None:
            others = [r for r in regions if r.name not in names and r.told not in names]
            same = [r for r in others if same_curves(r.told) == same_curves(name)]
            like = same or [r for r in others if alike_regions(name, r.told)]
            if len(like) > 1 and same:
                raise PickError("A region picked has been divided; point at the regions again.", field=field)
            if len(like) != 1:
                raise PickError("A region picked is not there any more; point at the regions again.", field=field)
            found = like[0]
        chosen.append(found)
    return chosen


def _within(region: kernel.Region, other: kernel.Region) -> bool:
    """Whether a region lies in a hole of another."""
    return region.depth > other.depth and kernel.inside(region.loops[0][0], other.loops[0])


def _plane_of(part: PartState, name: str) -> Frame | None:
    """The plane of the faces of a name, where they are flat and lie level."""
    found = (part.faces[i] for i in part.solid.find(name))
    frames = [Frame.on_plane(f.at, f.normal) for f in found if f.kind == "plane"]
    return frames[0] if frames and all(_level(frames[0], other) for other in frames) else None


def _level(a: Frame, b: Frame) -> bool:
    return all(abs(p - q) < 1e-6 for p, q in zip((*a.origin, *a.z), (*b.origin, *b.z), strict=True))
