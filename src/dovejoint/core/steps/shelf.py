"""From the shelf: a bought thing as a part of its own, by its standard size or as it was measured, put on a face or in the middle of a round edge."""

from __future__ import annotations

from typing import Any, ClassVar, Literal, get_args

from ..document import PlanePick, StepFields
from ..document.picks import BasePlane
from ..errors import StepError
from ..quantities.markers import Length, Made
from ..quantities.screws import ScrewSize
from ..recipe import Choice, FieldSpec, StepContext, StepKind, StepOutput, register, said
from ..recipe.picks import SpotsPick, spots_of
from ..shelf import KINDS, shape_of, thing_of
from ..solid import Frame
from ..solid.frame import scale

What = Literal[
    "ball bearing", "magnet", "rod", "socket screw", "hexagon screw", "countersunk screw", "hexagon nut", "washer", "heat-set insert", "ring", "block"
]  # fmt: skip
Bearing = Literal["623", "624", "625", "626", "627", "688", "608", "6000", "6200", "6001", "6201", "6002"]

#: which further figures each kind asks for
_SCREWS = ("socket screw", "hexagon screw", "countersunk screw")
_BY_THREAD = (*_SCREWS, "hexagon nut", "washer", "heat-set insert")


class ShelfFields(StepFields):
    """``across``, ``bore``, ``deep``, ``high`` are of things without a standard, as they were measured (a tolerance says how surely). ``sunk`` is how far
    it lies under its place."""

    new_role: ClassVar[Literal["printed", "bought", "made", "reference"]] = "bought"
    what: What = "ball bearing"
    bearing: Bearing = "625"
    thread: ScrewSize = "M4"
    across: Length = "8 mm"
    bore: Length = "0 mm"
    deep: Length = "10 mm"
    high: Length = "3 mm"
    long: Length = "16 mm"
    place: Literal["plane", "edge"] = "plane"
    on: PlanePick = BasePlane(plane="ground")
    right: Length = "0 mm"
    up: Length = "0 mm"
    at: SpotsPick | None = None
    way: Literal["out", "in"] = "out"
    sunk: Length = "0 mm"
    part: Made


def _figures(ctx: StepContext) -> dict[str, float]:
    fields: ShelfFields = ctx.fields
    if fields.what == "ball bearing":
        return dict(thing_of(fields.what, fields.bearing).figures)
    if fields.what in _BY_THREAD:
        if fields.thread not in KINDS[fields.what]:
            raise StepError(
                f"There is no {fields.what} {fields.thread}; there are {', '.join(KINDS[fields.what])}.", field="thread"
            )
        figures = dict(thing_of(fields.what, fields.thread).figures)
        return {**figures, "long": ctx.positive("long", "The length")} if fields.what in _SCREWS else figures
    if fields.what == "rod":
        return {"across": ctx.positive("across", "The diameter"), "high": ctx.positive("long", "The length")}
    return {name: ctx.number(name) for name in ("across", "bore", "deep", "high") if name in ctx.figures}


def _place(ctx: StepContext) -> Frame:
    fields: ShelfFields = ctx.fields
    if fields.place == "edge":
        if fields.at is None:
            raise StepError("Pick a round edge, or a sketch with a point.", field="at")
        spots = spots_of(ctx, fields.at, "at")
        if len(spots) != 1:
            raise StepError(
                f"It is put at one place, and {len(spots)} are picked; repeat the step for the others.", field="at"
            )
        frame = spots[0][1]
    else:
        frame = ctx.frame(fields.on, "on").placed(ctx.number("right"), ctx.number("up"), 0.0)
    if fields.way == "in":
        frame = Frame(frame.origin, frame.x, scale(frame.y, -1.0))
    return frame.shifted(-ctx.number("sunk"))


def _apply(ctx: StepContext) -> StepOutput:
    fields: ShelfFields = ctx.fields
    if ctx.has_part(fields.part):
        raise StepError("The part is made by an earlier step; this thing is a part of its own.", field="part")
    return StepOutput(parts={fields.part: shape_of(fields.what, _figures(ctx), _place(ctx), ctx.id)})


def _only(*kinds: str) -> dict[str, Any]:
    return {"what": list(kinds)}


_OWN_ROUND = _only("magnet", "rod", "ring")
_TITLES = {"rod": "rod or pin", "ring": "disc or ring as measured", "block": "block as measured"}

register(
    StepKind(
        kind="shelf",
        title="From the shelf",
        group="refer",
        about="A bought thing: a bearing, screw, nut, magnet or pin, by its standard or as measured.",
        fields=ShelfFields,
        specs=(
            FieldSpec(
                "what", "choice", "what", "ball bearing", tuple(Choice(k, _TITLES.get(k, k)) for k in get_args(What))
            ),
            FieldSpec("bearing", "choice", "size", "625", tuple(Choice(k, k) for k in KINDS["ball bearing"])),
            FieldSpec("thread", "choice", "thread", "M4", tuple(Choice(k, k) for k in get_args(ScrewSize))),
            FieldSpec("across", "length", "size across", "8 mm"),
            FieldSpec("bore", "length", "bore", "0 mm"),
            FieldSpec("deep", "length", "depth", "10 mm"),
            FieldSpec("high", "length", "height", "3 mm"),
            FieldSpec("long", "length", "length", "16 mm"),
            FieldSpec("place", "choice", "where", "plane", (Choice("plane", "on"), Choice("edge", "at"))),
            FieldSpec("on", "plane", "plane", missing="a plane or face"),
            FieldSpec("right", "length", "to the right", "0 mm"),
            FieldSpec("up", "length", "upwards", "0 mm"),
            FieldSpec("at", "spots", "round edge", missing="a round edge"),
            FieldSpec("way", "choice", "which way", "out", (Choice("out", "facing out"), Choice("in", "turned over"))),
            FieldSpec("sunk", "length", "how far under its place", "0 mm"),
            FieldSpec("part", "part", "part", missing="a part"),
        ),
        sentence=said(
            "Take a ",
            "{what}",
            (" ", _only("ball bearing", *_BY_THREAD)),
            ("{bearing}", _only("ball bearing")),
            ("{thread}", _only(*_BY_THREAD)),
            (" ", _only("magnet", "rod", "ring", "block")),
            ("Ø ", _OWN_ROUND),
            ("{across}", _only("magnet", "rod", "ring", "block")),
            (" × ", _only("block")),
            ("{deep}", _only("block")),
            (", bore ", _only("magnet", "ring")),
            ("{bore}", _only("magnet", "ring")),
            (", ", _only("magnet", "ring", "block")),
            ("{high}", _only("magnet", "ring", "block")),
            (" high", _only("magnet", "ring", "block")),
            (", ", _only("rod", *_SCREWS)),
            ("{long}", _only("rod", *_SCREWS)),
            (" long", _only("rod", *_SCREWS)),
            " from the shelf as ",
            "{part}",
            ", ",
            "{place}",
            " ",
            ("{on}", {"place": ["plane"]}),
            (", ", {"place": ["plane"]}),
            ("{right}", {"place": ["plane"]}),
            (" right and ", {"place": ["plane"]}),
            ("{up}", {"place": ["plane"]}),
            (" up", {"place": ["plane"]}),
            ("{at}", {"place": ["edge"]}),
            ", ",
            "{way}",
            ", sunk by ",
            "{sunk}",
        ),
        apply=_apply,
        words="bought bearing screw bolt nut washer magnet pin rod tube insert hardware standard",
    )
)
