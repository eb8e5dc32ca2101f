"""What goes over the wire, as pydantic models: the source of the OpenAPI description and of the front end's types."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..core.document import Project, ThingPick

__all__ = [
    "CommandIn",
    "DragIn",
    "DragOut",
    "ExportIn",
    "Kinds",
    "NewProjectIn",
    "PreviewIn",
    "Problem",
    "ProjectState",
    "Report",
    "SeenIn",
    "SummaryOut",
]

Vec3 = tuple[float, float, float]
Vec2 = tuple[float, float]


class Shape(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Problem(Shape):
    """RFC 9457 problem details; ``detail`` is one sentence fit to show."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    field: str = ""
    changes: list[str] = []


class SummaryOut(Shape):
    id: str
    name: str
    parts: int
    steps: int
    changed: str


class NewProjectIn(Shape):
    name: str = Field(default="", max_length=200)
    sample: Literal["", "feeder"] = ""


class SeenIn(Shape):
    seen: int


class CommandIn(Shape):
    """A command with the version that it was written against."""

    seen: int
    command: dict[str, Any]


class PreviewIn(Shape):
    command: dict[str, Any]
    upto: str | None = None


class MeasureIn(Shape):
    first: ThingPick
    second: ThingPick | None = None


class RowOut(Shape):
    """A figure in mm, mm² or rad by its kind, with the places between which it was taken."""

    what: str
    kind: Literal["length", "area", "angle"]
    figure: float
    ends: tuple[Vec3, Vec3]


class ReadingOut(Shape):
    id: str
    rows: list[RowOut]
    message: str


class DragIn(Shape):
    step: str
    id: str
    to: Vec2


class DragOut(Shape):
    points: dict[str, Vec2]
    radii: dict[str, float]


class ExportIn(Shape):
    parts: list[str] = []
    format: str = "stl"
    unit: str = "mm"
    pattern: str = Field(default="{project} {part}", max_length=120)


class ValueOut(Shape):
    id: str
    name: str
    formula: str
    figure: float | None
    text: str
    error: str


class StepOut(Shape):
    id: str
    number: int
    kind: str
    name: str
    sentence: str
    state: Literal["ok", "failed", "asks", "off", "beyond"]
    message: str
    field: str
    figures: dict[str, float]


class BoxOut(Shape):
    low: Vec3
    high: Vec3


class PartOut(Shape):
    id: str
    name: str
    role: str
    colour: str
    key: str
    volume_mm3: float
    area_mm2: float
    centre_mm: Vec3
    bounding_box_mm: BoxOut
    closed: bool
    valid: bool
    lumps: int
    mesh: str


class WantedOut(Shape):
    least: float
    target: float
    most: float


class ExpectedOut(Shape):
    low: float
    least: float
    most: float
    high: float
    common: float
    random: float


class MeasuredOut(Shape):
    least: float
    most: float
    least_at: tuple[Vec3, Vec3]
    most_at: tuple[Vec3, Vec3]


class ChanceOut(Shape):
    goes_in: float
    holds: float
    fits: float


class JointOut(Shape):
    step: str
    name: str
    parts: list[str]
    state: Literal["well", "doubtful", "wrong", "failed"]
    says: str
    note: str
    per: Literal["side", "diameter"]
    wanted_mm: WantedOut | None
    drawn_mm: float | None
    expected_mm: ExpectedOut | None
    measured_mm: MeasuredOut | None
    chance: ChanceOut | None


class FindingOut(Shape):
    state: Literal["doubtful", "wrong"]
    says: str
    figure: str
    limit: str
    advice: str
    parts: list[str]
    step: str
    joint: str
    place: Vec3 | None


class CheckOut(Shape):
    """A check with what it found; ``well`` is what is true when it found nothing."""

    check: str
    title: str
    state: Literal["well", "doubtful", "wrong"]
    well: str
    findings: list[FindingOut]


class FrameOut(Shape):
    origin: Vec3
    x: Vec3
    y: Vec3
    z: Vec3


class RegionOut(Shape):
    name: str
    area_mm2: float
    centre: Vec2
    depth: int
    loops: list[list[Vec2]]


class SketchOut(Shape):
    frame: FrameOut
    points: dict[str, Vec2]
    radii: dict[str, float]
    freedom: int
    free: list[str]
    sizes: dict[str, float]
    regions: list[RegionOut]


class Report(Shape):
    """An evaluation (docs/command-line.md explains each name)."""

    project: str
    ok: bool
    values: list[ValueOut]
    steps: list[StepOut]
    parts: list[PartOut]
    joints: list[JointOut]
    checks: list[CheckOut]
    readings: list[ReadingOut]
    sketches: dict[str, SketchOut]
    planes: dict[str, FrameOut]
    computed: int
    measured: bool


class ProjectState(Shape):
    """A project's document with what is known at once: values and joints by formula, sentences, undo and redo."""

    id: str
    version: int
    document: Project
    values: list[ValueOut]
    joints: list[JointOut]
    sentences: dict[str, str]
    undo: str | None
    redo: str | None
    sentence: str
    created: list[str]


class ChoiceOut(Shape):
    value: str
    label: str


class FieldOut(Shape):
    name: str
    type: str
    label: str
    default: Any
    missing: str
    newPart: str
    choices: list[ChoiceOut]


class SaidOut(Shape):
    text: str
    chip: str
    when: dict[str, list[str]]


class KindOut(Shape):
    kind: str
    title: str
    group: str
    about: str
    suits: list[str]
    sentence: list[SaidOut]
    fields: list[FieldOut]


class FitOut(Shape):
    name: str
    about: str
    wanted_mm: WantedOut


class Kinds(Shape):
    kinds: list[KindOut]
    fits: list[FitOut]
    profile: dict[str, Any]
