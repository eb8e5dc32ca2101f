"""What steps make: parts as named solids, sketches with regions, planes, and the geometry of joints."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from .. import solid as kernel
from ..sketch import Sketch, Solution
from ..solid import Axis, BodyInfo, EdgeInfo, FaceInfo, Frame
from .labels import edge_labels, face_labels

__all__ = ["Grip", "JointShape", "Mate", "PartState", "Reach", "SketchShape", "StepOutput", "Turning", "Work"]


class PartState:
    """A part as it stands after a step. ``key`` tells its contents; equal keys mean equal solids.

    Its solid may be one that is still to be made when it is looked at. Then ``before`` is the part before the works that it waits for,
    and ``saw`` is to be told of each face whose plane was read from there.
    """

    def __init__(
        self,
        key: str,
        solid: kernel.NamedSolid | Callable[[], kernel.NamedSolid],
        before: PartState | None = None,
        saw: Callable[[str], None] = lambda name: None,
    ) -> None:
        self.key = key
        self.before, self.saw = before, saw
        self._solid = solid

    @property
    def solid(self) -> kernel.NamedSolid:
        if callable(self._solid):
            self._solid = self._solid()
            self.before = None
        return self._solid

    @cached_property
    def info(self) -> BodyInfo:
        return kernel.body_info(self.solid)

    @cached_property
    def faces(self) -> list[FaceInfo]:
        return kernel.describe_faces(self.solid)

    @cached_property
    def edges(self) -> list[EdgeInfo]:
        return kernel.describe_edges(self.solid)

    @cached_property
    def face_labels(self) -> list[str]:
        """What each face is called, without the part's name."""
        return face_labels(self.faces, *self.box)

    @cached_property
    def edge_labels(self) -> list[str]:
        return edge_labels(self.edges, self.face_labels)

    @cached_property
    def mesh(self) -> kernel.Mesh:
        """Its triangles as they are shown."""
        return kernel.tessellate(self.solid)

    @cached_property
    def rough_box(self) -> tuple[kernel.Vec3, kernel.Vec3]:
        """The bounding box of its triangles: at once, and within the error of the mesh."""
        low, high = self.mesh.positions.min(axis=0).tolist(), self.mesh.positions.max(axis=0).tolist()
        return (low[0], low[1], low[2]), (high[0], high[1], high[2])

    @cached_property
    def box(self) -> tuple[kernel.Vec3, kernel.Vec3]:
        """Low and high corner of the bounding box, mm."""
        return kernel.bounds(self.solid.shape)


@dataclass(frozen=True, eq=False)
class SketchShape:
    """A solved sketch on its plane (``sketch`` stands where it was solved), its curves, the closed areas found between them and the
    ends that meet nothing. ``lost`` says why curves do not follow any more what they were brought in from. ``sizes`` are the figures of its dimensions and readings (mm, rad)."""

    sketch: Sketch
    solution: Solution
    sizes: dict[str, float]
    frame: Frame
    regions: list[kernel.Region]
    open_ends: list[kernel.OpenEnd] = field(default_factory=list)
    curves: list[kernel.Curve] = field(default_factory=list)
    lost: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Mate:
    """Two sets of faces that meet, as data: how their gap is measured and in which directions it acts.

    ``outer`` and ``inner`` are names of faces; ``frame`` stands where the inner half goes in, its ``z`` pointing out of the opening, and the
    gap counts between the heights ``low_mm`` and ``high_mm`` over it, along its ``x`` and ``y``. ``sizes_mm`` is how wide the opening is in those
    two directions, ``middle_mm`` its middle, ``round_hole`` whether it is one round hole. With a ``pitch_mm`` they are threads about the
    frame's ``z``, whose gap is read across it. ``along`` is ``x`` or ``y`` where the halves meet in that direction only, on sides that
    lean by ``slant_rad`` from standing square to it. ``crests`` are directions in which a half
    stands out to the other (rad, from ``x`` to ``y``), where only that touches and what lies between is left free on purpose. What of a
    half is farther than ``reach_mm`` from the other (0: as far as sides are usually cut back) is none of this joint, nor is what lies outside of its ``window_mm``, a
    middle and half sizes along ``x`` and ``y`` (``None``: as wide as the opening). ``seated`` halves
    lie on each other besides, so that they do not rock; halves that ``stands`` count as they are placed, for nothing centres them. Where they are
    ``swapped`` what is the joint's inner half elsewhere is the outer one: ``outer`` names its faces. Where one ``leans`` on the other along its one direction, all of
    the gap is on the other side as they stand, and half of it counts on either. Where the inner half ``rests`` on the outer one beside it, the gap is a depth within that, as deep as the first
    of ``sizes_mm`` says: what surfaces grow by takes nothing of it.
    """

    outer: tuple[str, ...]
    inner: tuple[str, ...]
    frame: Frame
    low_mm: float
    high_mm: float
    sizes_mm: tuple[float, float] = (0.0, 0.0)
    middle_mm: tuple[float, float] = (0.0, 0.0)
    round_hole: bool = False
    pitch_mm: float = 0.0
    along: Literal["", "x", "y"] = ""
    slant_rad: float = 0.0
    reach_mm: float = 0.0
    window_mm: tuple[tuple[float, float], tuple[float, float]] | None = None
    seated: bool = False
    stands: bool = False
    crests: tuple[float, ...] = ()
    swapped: bool = False
    leans: bool = False
    rests: bool = False


@dataclass(frozen=True)
class Turning:
    """That a part turns about a frame's ``z``, and another one stays (their ids)."""

    frame: kernel.Frame
    moving: str
    fixed: str


@dataclass(frozen=True)
class Reach:
    """Something of a joint that must be got at when all its parts are in place: what, from where and which way (a frame's ``z``), so wide, and past which parts."""

    what: str
    frame: kernel.Frame
    radius_mm: float
    past: tuple[str, ...]


@dataclass(frozen=True)
class JointShape:
    """Where the two halves of a joint meet: the parts, the gap drawn between them per side, and the sets of faces that mate. ``cuts_into`` are parts that
    the inner half is meant to share room with: its thread is cut there. ``turns`` says what turns about what, where a joint is for that, ``reached`` what must be got at to put it together, ``out`` the way in
    which the inner half comes out, where that is not the ``z`` of its first zone. ``seen`` is the plane in which it is best seen as a whole, where that is not the one in which its gap is least: a frame
    in the middle of it, ``y`` upwards, and how far it is to the edge, mm."""

    outer: str
    inner: str
    drawn_mm: float
    mates: tuple[Mate, ...]
    cuts_into: tuple[str, ...] = ()
    turns: Turning | None = None
    reached: tuple[Reach, ...] = ()
    out: kernel.Vec3 | None = None
    seen: tuple[kernel.Frame, float] | None = None

    @property
    def way_out(self) -> kernel.Vec3:
        """The way in which the inner half comes out of the outer one."""
        return self.mates[0].frame.z if self.out is None else self.out

    def halves(self, mate: Mate) -> tuple[str, str]:
        """Which parts are the outer and the inner half of a mate."""
        return (self.inner, self.outer) if mate.swapped else (self.outer, self.inner)


@dataclass(frozen=True)
class Grip:
    """Where a step's main figure is pulled on the stage: a place (mm), the way, and by how much the figure of the ``field`` changes for
    each millimetre."""

    field: str
    at: kernel.Vec3
    way: kernel.Vec3
    per: float = 1.0


@dataclass(frozen=True, eq=False)
class Work:
    """What a step did to a part: solids that it added to it, cut from it, or kept of it."""

    part: str
    operation: Literal["add", "cut", "overlap"]
    tools: tuple[kernel.NamedSolid, ...]


@dataclass(frozen=True)
class Decal:
    """An image on a flat face of a part: the frame of its middle (``x`` to its right, ``y`` up), its sides, mm, the hash of its file, and the colour
    that is clear (``#rrggbb``, or none)."""

    part: str
    face: str
    frame: Frame
    wide_mm: float
    high_mm: float
    file: str
    clear: str = ""


@dataclass(frozen=True, eq=False)
class FaceOutline:
    """What bounds a flat face: its plane, and curves on it (kind, places in mm, radius), each with the name of the face beyond as names hold it."""

    frame: Frame
    curves: tuple[tuple[str, str, tuple[tuple[float, float], ...], float], ...]


@dataclass(frozen=True, eq=False)
class StepOutput:
    """What one step made. ``parts`` holds only the parts that it made or changed; ``note`` is a word of warning; ``works`` are kept so that
    a later step can do the same elsewhere; ``gone`` are parts of which nothing is left after it; ``frames`` are the planes that its picks were found to mean, by field,
    ``outlines`` what bounds the faces that it took for outlines, and ``called`` what things that it picked are called now, by name, where their size has changed."""

    parts: Mapping[str, kernel.NamedSolid] = field(default_factory=dict)
    sketch: SketchShape | None = None
    plane: Frame | None = None
    axis: Axis | None = None
    point: kernel.Vec3 | None = None
    joint: JointShape | None = None
    note: str = ""
    works: tuple[Work, ...] = ()
    gone: tuple[str, ...] = ()
    frames: dict[str, Frame] = field(default_factory=dict)
    outlines: dict[str, FaceOutline] = field(default_factory=dict)
    called: dict[str, str] = field(default_factory=dict)
    grip: Grip | None = None
    decal: Decal | None = None
