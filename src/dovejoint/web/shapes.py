"""What goes over the wire, as pydantic models: the source of the OpenAPI description and of the front end's types."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..core.document import Profile, Project, ThingPick
from ..core.steps.sources import FlatCurve

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
    model_config = ConfigDict(extra="forbid", json_schema_serialization_defaults_required=True)


class Problem(Shape):
    """RFC 9457 problem details; ``detail`` is one sentence fit to show, ``things`` are ids on the board that it speaks of."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    field: str = ""
    changes: list[str] = []
    things: list[str] = []


class SummaryOut(Shape):
    id: str
    name: str
    parts: int
    steps: int
    changed: str


class SampleOut(Shape):
    """A worked example of the start page; ``first``: one to begin with."""

    name: str
    title: str
    about: str
    first: bool


class BroughtSolidOut(Shape):
    """A solid of a file that was brought in."""

    name: str
    size_mm: Vec3
    mended: str


class BroughtFileOut(Shape):
    hash: str
    name: str
    solids: list[BroughtSolidOut]


class NewProjectIn(Shape):
    name: str = Field(default="", max_length=200)
    sample: str = Field(default="", max_length=40)
    copy_of: str = Field(default="", max_length=40)


class SeenIn(Shape):
    seen: int


class CommandIn(Shape):
    """A command with the version that it was written against."""

    seen: int
    command: dict[str, Any]


class OtherPartsIn(Shape):
    """Parts of another project (``of`` is its id, or ``sample:`` and a sample's name), by their ids; none: which there are."""

    of: str = Field(max_length=60)
    parts: list[str] = Field(default=[], max_length=400)


class BringIn(OtherPartsIn):
    seen: int


class OtherPartOut(Shape):
    """``comes``: it was asked for, or what was asked for needs it."""

    id: str
    name: str
    role: str
    colour: str
    comes: bool


class OtherPartsOut(Shape):
    """All parts of another project, and how many steps and values come with those that come."""

    of: str
    parts: list[OtherPartOut]
    steps: int
    values: int


class PreviewIn(Shape):
    """``shown`` asks for the first that there is to look at, before it is vouched for."""

    command: dict[str, Any]
    upto: str | None = None
    shown: bool = False


class MeasureIn(Shape):
    first: ThingPick
    second: ThingPick | None = None


class SolveForIn(Shape):
    """Which figure of a reading should be what (a formula), by the change of which value."""

    first: ThingPick
    second: ThingPick | None = None
    what: str = Field(max_length=80)
    target: str = Field(max_length=400)
    value: str = Field(max_length=40)


class SolveForOut(Shape):
    """What the value is to be, and what the reading is then; or why there is none."""

    formula: str
    reached: float | None
    message: str


class HoldIn(Shape):
    """Which joint should hold in how many prints (a share)."""

    joint: str = Field(max_length=40)
    chance: float = Field(ge=0.05, le=0.99)


class OfferOut(Shape):
    """One figure that would do, and the command that makes it so."""

    says: str
    before: str
    after: str
    chance: float
    command: dict[str, Any]


class HoldOut(Shape):
    """The chance as it is, and the figures that bring it to what is asked; or why none does."""

    now: float
    offers: list[OfferOut]
    message: str


class HalfMapOut(Shape):
    """One half of a joint: triangles' corners (9 floats each) and the gap at each corner (3 each), 32-bit floats in base64; mm."""

    part: str
    corners: str
    gaps: str


class ApartOut(Shape):
    """By how much each part is moved, mm, by its id."""

    parts: dict[str, Vec3]


class MapOut(Shape):
    """A joint's gap on both its halves; ``least`` and ``most`` are of the map's corners (``null``: the halves face each other nowhere)."""

    joint: str
    halves: list[HalfMapOut]
    least: float | None
    most: float | None
    wanted_mm: WantedOut


class WindowOut(Shape):
    """Middle and half sizes (u, v), mm."""

    middle: tuple[float, float]
    half: tuple[float, float]


class CutPartOut(Shape):
    """Closed outlines (u, v; mm) of a part in both windows, filled by the even-odd rule."""

    part: str
    whole: list[list[tuple[float, float]]]
    near: list[list[tuple[float, float]]]


class LeastGapOut(Shape):
    ends: tuple[tuple[float, float], tuple[float, float]]
    mm: float


class DrawingOut(Shape):
    """A joint cut where its gap is least: ``u`` across the gap, ``v`` out of the opening."""

    joint: str
    parts: list[CutPartOut]
    whole: WindowOut
    near: WindowOut
    gap: LeastGapOut
    apart: bool


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


class LookIn(Shape):
    """What of a part would come onto a board."""

    step: str
    pick: ThingPick
    what: Literal["edge", "section", "outline"]


class KeepIn(Shape):
    """A part that a step takes whole (``path``: where in its fields), to stay for it as it is now."""

    seen: int
    step: str
    path: str


class OutlineIn(Shape):
    """A DXF or SVG file to read: its name, its text, and what one of its units is."""

    name: str = Field(max_length=200)
    text: str = Field(max_length=8_000_000)
    unit: Literal["file", "mm", "cm", "m", "inch", "point", "pixel"] = "file"
    scale: float = Field(default=1.0, gt=0, le=1e4, allow_inf_nan=False)


class OutlineOut(Shape):
    """``curves`` for the command PlaceOutline; ``left_out`` and ``mended`` are sentences; sizes in mm."""

    curves: list[FlatCurve]
    unit: str
    width_mm: float
    height_mm: float
    closed: int
    open: int
    mended: list[str]
    left_out: list[str]


class OutlineExportIn(Shape):
    step: str
    format: Literal["dxf", "svg"]
    unit: Literal["mm", "inch"] = "mm"


class FiguresIn(Shape):
    """Formulas of lengths; a plain figure is in the project's unit."""

    formulas: Annotated[list[Annotated[str, Field(max_length=400)]], Field(max_length=200)]


class FiguresOut(Shape):
    """The same in mm."""

    figures: list[float]


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
    laid: bool = False
    together: bool = False


class ProfileIn(Shape):
    """Another printer with nozzle and material, set up for it or not, or other settings; ``machine`` is the simulated printer's number."""

    seen: int
    printer: str | None = None
    nozzle_mm: float = 0.4
    material: str = "PLA"
    machine: int | None = Field(default=None, ge=1, le=10**6)
    tuned: bool | None = None
    settings: dict[str, float] = {}


class LayerIn(Shape):
    part: str
    layer: int = Field(default=1, ge=1, le=100_000)


class TrialIn(Shape):
    """``parts`` are ids (all printed ones when empty), or a ``coupon`` is printed instead."""

    parts: list[str] = []
    coupon: str = Field(default="", max_length=20)
    device: Literal["simulated", "own"] = "simulated"
    note: str = Field(default="", max_length=400)


class NoteIn(Shape):
    note: str = Field(max_length=400)


class ReadingIn(Shape):
    """``text`` is what was typed, a length; ``sure`` takes one that is far from what was drawn."""

    feature: str = Field(max_length=200)
    text: str = Field(default="", max_length=80)
    caliper: bool = False
    sure: bool = False


class ReadingStateIn(Shape):
    excluded: bool


class VerdictIn(Shape):
    """On a joint: what was said, or nothing to try the simulated pieces; on a gap ladder's ``trial``: how many went in. A joint at one of
    its stepped gaps is one of a ``trial``."""

    joint: str = ""
    verdict: Literal["", "too tight", "good", "loose", "broke"] = ""
    trial: str = ""
    went_in: int | None = Field(default=None, ge=0, le=100)


class DrawnIn(Shape):
    """The gap to draw, mm a side."""

    seen: int
    drawn_mm: float = Field(ge=-5, le=20, allow_inf_nan=False)


class RevisionIn(Shape):
    note: str = Field(default="", max_length=400)


class RestoreIn(Shape):
    seen: int


class EstimateOut(Shape):
    layers: int
    height_mm: float
    time_s: float
    length_mm: float
    mass_g: float
    price: float
    left_out_mm3: float
    material_mm3: dict[str, float]
    times_s: dict[str, float]


class FeatureOut(Shape):
    """A size that can be measured; ``direction`` as printed (across, deep, up)."""

    id: str
    part: str
    name: str
    role: Literal["outside", "inside", "depth"]
    direction: Vec3
    drawn_mm: float
    round_hole: bool
    joint: str
    side: str
    ends: tuple[Vec3, Vec3] | None
    foot_of: str
    chamfer_mm: float
    read: bool = True


class LieOut(Shape):
    """The print directions across, deep and up, in the model's coordinates."""

    x: Vec3
    y: Vec3
    z: Vec3


class PrintPartOut(Shape):
    id: str
    name: str
    lie: LieOut
    features: list[FeatureOut]
    estimate: EstimateOut | None
    size_mm: Vec3 | None
    place_mm: Vec2 | None
    plate: int | None
    up_mm: float
    up_layers: int
    in_one_with: list[str]
    lies_with: str
    message: str


class PrintsOut(Shape):
    parts: list[PrintPartOut]
    total: dict[str, float]
    bed_mm: Vec3
    joints: list[dict[str, Any]]


class LayerOut(Shape):
    layer: int
    layers: int
    top_mm: float
    outline: list[list[Vec2]]
    walls: list[list[list[Vec2]]]
    single: list[list[Vec2]]
    solid: list[list[Vec2]]
    infill: list[list[Vec2]]
    size_mm: Vec3


class RungOut(Shape):
    """One of a joint's stepped gaps, mm a side, and the chance that it does with it what is wanted."""

    number: int
    drawn_mm: float
    chance: float | None


class CouponOut(Shape):
    parts: list[PrintPartOut]
    total: dict[str, float]
    bed_mm: Vec3
    joints: list[dict[str, Any]]
    kind: str
    title: str
    ladder_mm: list[float]
    rungs: list[RungOut]
    about: str
    document: Project
    report: Report


class RevisionOut(Shape):
    number: int
    note: str
    at: str


class ReadOut(Shape):
    id: int
    measured_mm: float
    source: Literal["typed", "caliper"]
    excluded: bool


class TrialFeatureOut(FeatureOut):
    readings: list[ReadOut]


class TrialPartOut(Shape):
    id: str
    name: str
    features: list[TrialFeatureOut]


class TrialJointOut(Shape):
    step: str
    name: str
    outer: str
    inner: str
    drawn_mm: float


class TrialVerdictOut(Shape):
    id: int
    joint: str
    verdict: str
    went_in: int | None
    source: Literal["said", "simulated"]
    says: str


class TrialOut(Shape):
    """One print in the diary; ``share`` is how much of it is done while it is under way, ``title`` what a
    coupon is called."""

    id: str
    number: int
    revision: int | None
    coupon: str
    title: str
    state: Literal["printing", "done", "stopped"]
    note: str
    began: str
    ended: str | None
    machine: int | None
    profile: str
    profile_version: int
    share: float | None
    time_s: float
    mass_g: float
    ladder_mm: list[float]
    parts: list[TrialPartOut]
    joints: list[TrialJointOut]
    verdicts: list[TrialVerdictOut]


class BestGapOut(Shape):
    """A gap to draw, mm a side, and the chance that the joint does with it what is wanted, as far as the gap decides it."""

    drawn_mm: float
    chance: float


class PointOut(Shape):
    drawn: float
    off: float
    print: str


class BandOut(Shape):
    drawn: float
    off: float
    half: float


class LineFitOut(Shape):
    a: float
    b: float
    s: float
    se_a: float
    se_b: float
    dof: int
    t: float
    ci_a: Vec2
    ci_b: Vec2
    notes: list[str]
    outliers: list[int]
    covers: str
    prints: int
    band: list[BandOut]


class LineOut(Shape):
    key: str
    title: str
    points: list[PointOut]
    why_no_fit: str
    believed: list[BandOut]
    fit: LineFitOut | None


class TermOut(Shape):
    term: str
    says: str
    unit: str
    before: float
    before_sd: float
    after: float
    after_sd: float


class EffectOut(Shape):
    joint: str
    name: str
    drawn_before_mm: float
    drawn_after_mm: float
    chance_before: float
    chance_after: float
    changes: list[str]


class ProposalOut(Shape):
    version: int
    reason: str
    dismissed: bool
    joints: list[EffectOut]


class VersionOut(Shape):
    version: int
    reason: str
    at: str
    outside_mm: float
    inside_mm: float


class SuspiciousOut(Shape):
    """A reading that all others speak against."""

    reading: int
    trial: str
    number: int
    feature: str
    drawn_mm: float
    measured_mm: float


class LessonOut(Shape):
    profile: Profile
    measured: int
    readings: int
    verdicts: int
    lines: list[LineOut]
    suspicious: list[SuspiciousOut]
    terms: list[TermOut]
    scatter_mm: dict[str, float]
    proposal: ProposalOut | None
    versions: list[VersionOut]


class WorkshopOut(Shape):
    """The print diary, the revisions (``frozen`` is the one that holds the present state), and what was learnt."""

    revisions: list[RevisionOut]
    frozen: int | None
    trials: list[TrialOut]
    lesson: LessonOut


class ChangedValueOut(Shape):
    name: str
    before: str
    after: str


class ChangedStepOut(Shape):
    number: str
    state: Literal["new", "gone", "off", "changed", "order"]
    before: str
    after: str


class ChangedGapOut(Shape):
    joint: str
    name: str
    before_mm: float
    after_mm: float


class ChangedPartOut(Shape):
    id: str
    name: str
    role: str
    state: Literal["same", "changed", "new", "gone"]
    lies: bool
    volume_change_mm3: float = 0.0


class CompareOut(Shape):
    values: list[ChangedValueOut]
    steps: list[ChangedStepOut]
    gaps: list[ChangedGapOut]
    parts: list[ChangedPartOut]
    reprint: list[str]


class CatalogueOut(Shape):
    printers: list[dict[str, Any]]
    nozzles: list[dict[str, float]]
    materials: list[dict[str, Any]]
    others: list[dict[str, Any]]
    sources: list[str]
    coupons: list[dict[str, str]]


class ValueOut(Shape):
    id: str
    name: str
    formula: str
    figure: float | None
    text: str
    error: str
    uses: list[str]


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
    things: list[str]
    called: dict[str, str]


class BoxOut(Shape):
    low: Vec3
    high: Vec3


class PartOut(Shape):
    """What takes long to find is not there at the first stage. ``mesh`` and ``things`` are blobs: how it looks, and what may be pointed at."""

    id: str
    name: str
    role: str
    colour: str
    material: str
    mass_g: float | None
    key: str
    volume_mm3: float | None
    area_mm2: float | None
    centre_mm: Vec3 | None
    bounding_box_mm: BoxOut
    closed: bool | None
    valid: bool | None
    lumps: int | None
    mesh: str
    things: str


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
    unsure: float


class StackRowOut(Shape):
    """By how much a toleranced dimension moves a gap at its limits, mm a side."""

    dimension: str
    name: str
    part: str
    at_lower: float
    at_upper: float


class StackOut(Shape):
    least: float
    most: float
    room: float
    play: float
    likely_room: float
    likely_play: float
    tightest: dict[str, dict[str, str]]
    loosest: dict[str, dict[str, str]]
    left_out: int
    rows: list[StackRowOut]


class DimensionOut(Shape):
    """A toleranced dimension: nominal figure and deviations in mm or rad."""

    id: str
    name: str
    tolerance: str
    kind: Literal["length", "angle", "number"]
    parts: list[str]
    error: str
    nominal: float | None
    lower: float | None
    upper: float | None
    state: str


class MeasuredOut(Shape):
    least: float
    most: float
    least_at: tuple[Vec3, Vec3]
    most_at: tuple[Vec3, Vec3]
    least_by: list[str]
    most_by: list[str]
    room: float
    play: float
    tilt_rad: float
    within: float


class ChanceOut(Shape):
    goes_in: float
    holds: float
    fits: float


class GivenOut(Shape):
    name: str
    value: float
    unit: str
    source: str


class ResultOut(Shape):
    """A figure in the usual case, and the range that nine of ten cases lie in; ``chance`` is the share that keeps the limit."""

    name: str
    unit: str
    value: float | None
    low: float | None
    high: float | None
    limit: float | None
    bound: Literal["most", "least"]
    chance: float | None
    fails: str
    note: str


class PlotOut(Shape):
    across: str
    up: str
    points: list[tuple[float, float]]
    limit: float | None
    here: tuple[float, float]


class WorkingOut(Shape):
    """What the hand-book works out for a joint; ``kept`` is the share of cases that keep all limits."""

    title: str
    source: str
    givens: list[GivenOut]
    results: list[ResultOut]
    plots: list[PlotOut]
    kept: float


class JointOut(Shape):
    step: str
    name: str
    parts: list[str]
    state: Literal["well", "doubtful", "wrong", "failed"]
    says: str
    note: str
    notice: str
    per: Literal["side", "diameter", "across"]
    halves: list[str]
    goes_in: str
    holds: str
    given: str
    printed: tuple[bool, bool]
    steps: bool
    opening_mm: tuple[float, float] | None
    wanted_mm: WantedOut | None
    drawn_mm: float | None
    expected_mm: ExpectedOut | None
    measured_mm: MeasuredOut | None
    tolerance: StackOut | None
    chance: ChanceOut | None
    working: WorkingOut | None


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
    """A check with what it found; ``well`` is what is true when it found nothing, ``empty`` that there was nothing to look at."""

    check: str
    title: str
    state: Literal["well", "doubtful", "wrong"]
    well: str
    empty: bool
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


class OpenEndOut(Shape):
    """An end that meets nothing; ``near`` is the point that it was perhaps meant to meet."""

    at: Vec2
    point: str
    near: str
    gap_mm: float


class SketchOut(Shape):
    frame: FrameOut
    points: dict[str, Vec2]
    radii: dict[str, float]
    freedom: int
    free: list[str]
    ways: dict[str, Vec2]
    sizes: dict[str, float]
    regions: list[RegionOut]
    lines: dict[str, tuple[Vec2, Vec2]]
    letters: dict[str, list[list[Vec2]]]
    open_ends: list[OpenEndOut]
    lost: dict[str, str]
    words: dict[str, str]


class GripOut(Shape):
    """Where a step's main figure is pulled on the stage; ``per`` is by how much it changes for each millimetre."""

    field: str
    at: Vec3
    way: Vec3
    per: float


class LinkOut(Shape):
    """What a step takes of a part for others; cut by putting ``plane`` into its field, by freezing its ``curves``, or by
    KeepOutline with what ``outline`` says, or, where a part is taken ``whole``, by asking for it to be kept. ``source`` is the step that made it; ``at`` and
    ``to_at`` are places on both parts, mm."""

    step: str
    field: str
    of: str
    to: list[str]
    words: str
    curves: list[str]
    plane: dict[str, Any] | None
    outline: dict[str, Any] | None
    whole: str
    source: str
    at: Vec3 | None
    to_at: Vec3 | None


class AxisOut(Shape):
    """A line with a direction: a place on it (mm), and a unit vector."""

    at: Vec3
    way: Vec3


class PictureOut(Shape):
    """An image on flat faces of a part (indices): the frame of its middle, its sides, its file, and the colour that is clear (or none)."""

    part: str
    faces: list[int]
    frame: FrameOut
    wide_mm: float
    high_mm: float
    file: str
    clear: str


class Report(Shape):
    """An evaluation (docs/command-line.md explains each name)."""

    project: str
    ok: bool
    values: list[ValueOut]
    steps: list[StepOut]
    parts: list[PartOut]
    gone: dict[str, str]
    joints: list[JointOut]
    dimensions: list[DimensionOut]
    limits: dict[str, Any]
    checks: list[CheckOut]
    readings: list[ReadingOut]
    sketches: dict[str, SketchOut]
    planes: dict[str, FrameOut]
    axes: dict[str, AxisOut]
    points: dict[str, Vec3]
    works: list[str]
    grips: dict[str, GripOut]
    pictures: dict[str, PictureOut]
    links: list[LinkOut]
    computed: int
    stage: Literal["shown", "tried", "made", "measured"]
    measured: bool


class SegmentOut(Shape):
    """A piece of a sentence: words, or a chip by its field's path with the words that stand in it (empty: not answered yet). ``want`` is
    what a piece is about that appears only when it is wanted; ``hidden``: it does not appear now."""

    text: str
    chip: str = ""
    part: str = ""
    want: str = ""
    hidden: bool = False


class SaidStepOut(Shape):
    """A step as its sentence, in one piece and in segments, and the parts that it makes, changes and reads."""

    sentence: str
    segments: list[SegmentOut]
    makes: list[str]
    changes: list[str]
    reads: list[str]


class ProjectState(Shape):
    """A project's document with what is known at once: values and joints by formula, sentences, undo and redo.

    In answer to a command the ``document`` may be left out: then ``patch`` (RFC 6902) makes it from that of the version ``since``, and
    ``steps`` has only those that are said otherwise now.
    """

    id: str
    version: int
    document: Project | None
    patch: list[dict[str, Any]]
    since: int
    values: list[ValueOut]
    joints: list[JointOut]
    steps: dict[str, SaidStepOut]
    undo: str | None
    redo: str | None
    sentence: str
    created: list[str]


class ChoiceOut(Shape):
    value: str
    label: str


class FieldOut(Shape):
    """``newPart`` says when a part is made by the step; ``fields`` are those of a clause."""

    name: str
    type: str
    label: str
    default: Any
    missing: str
    newPart: str
    choices: list[ChoiceOut]
    fields: list[FieldOut]


class SaidOut(Shape):
    """A piece of a kind's sentence; ``each`` is a field of clauses, for each of which the ``pieces`` are said."""

    text: str
    chip: str
    when: dict[str, list[str]]
    each: str
    want: str
    pieces: list[SaidOut]


class PointingOut(Shape):
    """What pointing at a thing makes: a pick of a rule with the thing in a slot."""

    thing: Literal["face", "edge", "corner", "line", "region", "plane", "axis", "point", "part"]
    rule: str
    slot: str
    many: bool
    one: bool
    only: list[str]
    plus: dict[str, Any]
    words: str
    loops: int
    alike: str


class ReadyOut(Shape):
    """An answer that needs no pointing."""

    pick: dict[str, Any]
    words: str
    each: Literal["", "part", "plane", "axis", "point", "sketch", "work"]
    along: Vec3 | None
    holds: Literal["", "regions", "curves", "spots"]


class PickKindOut(Shape):
    kind: str
    hint: str
    many: bool
    points: list[PointingOut]
    ready: list[ReadyOut]


class SayIn(Shape):
    """A step that is not there yet, to be said."""

    kind: str = Field(max_length=40)
    fields: dict[str, Any]


class BeginIn(SayIn):
    """The same, with the field that was answered last (``""`` at the beginning), and the step after which it comes (``""``: first; absent: last)."""

    answered: str = Field(default="", max_length=80)
    after: str | None = Field(default=None, max_length=40)


class BeginOut(Shape):
    """Further answers that are most likely meant."""

    fields: dict[str, Any]


class LightsIn(Shape):
    """A pick, and the step before which it is to be found (``""``: at the end)."""

    pick: dict[str, Any]
    before: str = ""


class ThingOut(Shape):
    type: str
    part: str = ""
    step: str = ""
    index: int = -1
    name: str = ""


class KindOut(Shape):
    kind: str
    title: str
    group: str
    about: str
    words: str
    suits: list[str]
    sentence: list[SaidOut]
    fields: list[FieldOut]


class FitOut(Shape):
    name: str
    about: str
    wanted_mm: WantedOut


class Kinds(Shape):
    kinds: list[KindOut]
    picks: list[PickKindOut]
    ties: dict[str, str]
    fits: list[FitOut]
    profile: dict[str, Any]
