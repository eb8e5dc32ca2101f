"""The typed project document. It holds what the user said, never a computed result."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from .picks import FlatFace, ThingPick

__all__ = [
    "MOST_PARTS",
    "MOST_VIEWS",
    "MOST_STEPS",
    "MOST_VALUES",
    "PIGMENTS",
    "TERMS",
    "Part",
    "PrintSettings",
    "Profile",
    "Project",
    "Reading",
    "Role",
    "Step",
    "Value",
]

Role = Literal["printed", "bought", "made", "reference"]
_Id = Annotated[str, Field(pattern=r"^[a-z]{1,3}[0-9]{1,9}$")]
_Name = Annotated[str, Field(min_length=1, max_length=80)]
_Finite = Annotated[float, Field(allow_inf_nan=False)]
_NotNegative = Annotated[float, Field(ge=0, allow_inf_nan=False)]
_Share = Annotated[float, Field(ge=0, le=1)]
_Positive = Annotated[float, Field(gt=0, allow_inf_nan=False)]
#: a tolerance as it was written: ±0.1 mm, +0.1 -0.05, 24.9 .. 25.1, H8
_Tolerance = Annotated[str, Field(max_length=80)]

#: muted mineral pigments that new parts take in turn
PIGMENTS = ["#D9AE8F", "#A9C2B6", "#E2C684", "#B9B4CC", "#C9A3A0", "#9DB4C4", "#C7C29A", "#B59E8B"]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Value(_Strict):
    id: _Id
    name: _Name
    formula: Annotated[str, Field(max_length=400)]
    tolerance: _Tolerance = ""


#: so many a project holds
MOST_PARTS, MOST_STEPS, MOST_VALUES, MOST_VIEWS = 400, 2000, 400, 60


class Part(_Strict):
    """``lies`` is the face that lies down on the bed (its lowest side as modelled when absent), ``turn_deg`` its turn
    about the upright: both decide what its faces will measure. Parts of one ``group`` are one lump to hide, show and move. ``material`` is what a
    part is made of that is not printed, by its name in the catalogue (empty: steel); one that is printed is of what its printer is loaded with."""

    id: _Id
    name: _Name
    role: Role = "printed"
    colour: Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]
    group: Annotated[str, Field(max_length=80)] = ""
    note: Annotated[str, Field(max_length=2000)] = ""
    material: Annotated[str, Field(max_length=40)] = ""
    #: the part within which, or round which, it is printed in one (its id): they keep their places to each other
    within: Annotated[str, Field(max_length=20)] = ""
    #: of one that is made: how thick the sheet is that it is cut from, and the diameter of the cutter, mm (0: nobody said)
    sheet_mm: Annotated[float, Field(ge=0, le=1e4, allow_inf_nan=False)] = 0.0
    cutter_mm: Annotated[float, Field(ge=0, le=1e3, allow_inf_nan=False)] = 0.0
    lies: FlatFace | None = None
    turn_deg: Annotated[float, Field(ge=0, lt=360, allow_inf_nan=False)] = 0.0

    @property
    def made_of(self) -> str:
        """What it is made of, by its name in the catalogue; empty for what is printed."""
        return "" if self.role == "printed" else self.material or "steel"

    def another(self, id: str, name: str) -> Part:
        """One more of the same role, colour, group, material, note, sheet and cutter; how it lies on the bed is its own."""
        return Part(id=id, name=name, role=self.role, colour=self.colour, group=self.group, note=self.note, material=self.material, sheet_mm=self.sheet_mm, cutter_mm=self.cutter_mm)  # fmt: skip


class Step(_Strict):
    """``fields`` belong to the kind of step and are checked by it; ``tolerances`` go with its figures, by their paths. With a ``chapter`` a
    chapter of that title begins at the step, and goes on until the next one begins."""

    id: _Id
    kind: Annotated[str, Field(max_length=40)]
    name: Annotated[str, Field(max_length=80)] = ""
    off: bool = False
    chapter: Annotated[str, Field(max_length=80)] = ""
    chapter_note: Annotated[str, Field(max_length=2000)] = ""
    fields: dict[str, Any]
    tolerances: Annotated[dict[str, _Tolerance], Field(max_length=400)] = {}


class Reading(_Strict):
    """A reading pinned to one thing of the model, or between two; it follows them."""

    id: _Id
    first: ThingPick
    second: ThingPick | None = None


#: what a profile believes of a printer, in the order of its figures: scales (printed/drawn - 1), then the growth of
#: outside faces and the closing of inside ones per side (mm), then k of round holes, which lose k/D more (mm²), then what
#: joints about 10, 30 and 100 mm wide lose of their gap besides (mm a side), which no caliper finds
TERMS = (
    "scale_x", "scale_y", "scale_z", "outside_x", "outside_y", "outside_z", "inside_x", "inside_y", "inside_z", "hole",
    "joint_10", "joint_30", "joint_100",
)  # fmt: skip


class PrintSettings(_Strict):
    """How parts are printed: what layers, times and masses are worked out from (docs/printing.md)."""

    layer_mm: _Positive = 0.2
    first_layer_mm: _Positive = 0.2
    walls: Annotated[int, Field(ge=1, le=20)] = 2
    top_layers: Annotated[int, Field(ge=0, le=100)] = 4
    bottom_layers: Annotated[int, Field(ge=0, le=100)] = 4
    infill: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 0.15
    wall_mm_s: _Positive = 50.0
    solid_mm_s: _Positive = 80.0
    infill_mm_s: _Positive = 100.0
    travel_mm_s: _Positive = 150.0
    first_layer_mm_s: _Positive = 25.0
    acceleration_mm_s2: _Positive = 1500.0
    junction_mm_s: _Positive = 8.0
    layer_change_s: _NotNegative = 1.0
    least_layer_s: _NotNegative = 8.0
    most_flow_mm3_s: _Positive = 11.0
    filament_mm: _Positive = 1.75
    density_g_cm3: _Positive = 1.24
    price_per_kg: _NotNegative = 20.0


_Terms = Annotated[list[_Finite], Field(max_length=len(TERMS))]
_Covariance = Annotated[list[_Terms], Field(max_length=len(TERMS))]


class Kind(_Strict):
    """A kind of printer that one may be: how much that is believed, and its terms and their covariance."""

    share: _Share
    terms: _Terms
    covariance: _Covariance


class Profile(_Strict):
    """How prints of one printer, nozzle, material and setting deviate. A copy of what the gaps rest on.

    Offsets are per side in mm, positive when a printed surface lies proud of the drawn one: an outside face
    grows by ``outside_mm``, the walls of an opening close in by ``inside_mm``, in the layers' plane. ``terms`` says
    the same term by term and direction by direction (see TERMS; empty means: those two, and no scale), and
    ``covariance`` how unsure they are (empty: taken as sure). Where one normal law does not tell what is believed, ``kinds`` are several, each with its share, of which those are mean and covariance. ``common_mm`` is the standard deviation of the offset that
    all faces of one print share, ``random_mm`` that of each feature by itself. On the bed the first layers stand out by
    ``flare_mm`` a side, up to ``flare_height_mm``, both unsure. ``bed_mm`` is the room on the bed: across, deep, high. ``machine`` is the
    number of the simulated printer that stands in for it. ``tuned`` says whether it was set up for its material before anything was measured (nothing: nobody said). ``record`` holds the chances that stood before verdicts on this machine, and
    whether they were good; ``borne`` what pieces of it were loaded to, as a share of what their material usually bears, and whether they broke. A version is never changed, only followed.
    """

    id: _Id
    name: _Name
    source: Annotated[str, Field(max_length=400)]
    outside_mm: _Finite
    inside_mm: _Finite
    common_mm: _NotNegative
    random_mm: _NotNegative
    line_width_mm: _Positive
    bed_mm: tuple[_Finite, _Finite, _Finite]
    version: Annotated[int, Field(ge=1, le=10**6)] = 1
    terms: _Terms = []
    covariance: _Covariance = []
    kinds: Annotated[list[Kind], Field(max_length=12)] = []
    record: Annotated[list[tuple[_Share, bool]], Field(max_length=400)] = []
    borne: Annotated[list[tuple[_NotNegative, bool]], Field(max_length=200)] = []
    flare_mm: _NotNegative = 0.2
    flare_height_mm: _Positive = 0.4
    flare_unsure_mm: _NotNegative = 0.06
    flare_height_unsure_mm: _NotNegative = 0.09
    printer: Annotated[str, Field(max_length=80)] = ""
    material: Annotated[str, Field(max_length=80)] = ""
    nozzle_mm: _Positive = 0.4
    machine: Annotated[int, Field(ge=1, le=10**6)] = 1
    tuned: bool | None = None
    settings: PrintSettings = PrintSettings()


class View(_Strict):
    """A view of the model that was kept: the place in its middle, how far the eye is turned about the vertical and stands over the ground, how much there is
    from top to bottom, and which parts are out of sight."""

    id: _Id
    name: _Name
    middle_mm: tuple[_Finite, _Finite, _Finite]
    turn_deg: _Finite
    over_deg: Annotated[float, Field(allow_inf_nan=False, ge=-90, le=90)]
    tall_mm: _Positive
    hidden: Annotated[list[_Id], Field(max_length=MOST_PARTS)] = []


class Project(_Strict):
    """Everything that the user said about one product. ``files`` are those brought in, packed, by their hashes: they travel in the project file,
    and are kept apart from the document (files.py)."""

    format: Literal[1] = 1
    name: _Name
    unit: Literal["mm", "in"] = "mm"
    next_id: Annotated[int, Field(ge=1, le=10**9)] = 1
    values: Annotated[list[Value], Field(max_length=MOST_VALUES)] = []
    parts: Annotated[list[Part], Field(max_length=MOST_PARTS)] = []
    recipe: Annotated[list[Step], Field(max_length=MOST_STEPS)] = []
    profiles: Annotated[list[Profile], Field(max_length=40)] = []
    profile: str = ""
    readings: Annotated[list[Reading], Field(max_length=200)] = []
    views: Annotated[list[View], Field(max_length=MOST_VIEWS)] = []
    files: Annotated[dict[Annotated[str, Field(pattern=r"^[0-9a-f]{32}$")], str], Field(max_length=60)] = {}

    def step(self, id: str) -> Step | None:
        return next((s for s in self.recipe if s.id == id), None)

    def part(self, id: str) -> Part | None:
        return next((p for p in self.parts if p.id == id), None)

    def used_profile(self) -> Profile | None:
        return next((p for p in self.profiles if p.id == self.profile), None)
