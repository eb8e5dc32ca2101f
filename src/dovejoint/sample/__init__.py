"""The sample projects, built by the same commands that the interface sends."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from importlib.resources import files

from ..core.document import Project
from .begin import begin_from
from .bought import make_clamp_foot, make_pulley
from .builds import make_anchor, make_cable_comb, make_cover_link, make_roof, make_tail_ring
from .cut_off import make_visor
from .feeder import make_feeder
from .fitted import (
    make_dial,
    make_perch_rail,
    make_rain_box,
    make_rain_rim,
    make_seed_tray,
    make_sensor_cover,
    make_sensor_post,
    make_shield,
    make_spindle,
    make_vent_cover,
)
from .hung import make_water_cup
from .joined import (
    make_bracket,
    make_flap,
    make_hatch,
    make_housing,
    make_jar,
    make_panel,
    make_perch_bar,
    make_post,
    make_sill,
    make_stake,
    make_vane_hub,
)
from .mast import make_mast, mast_before
from .outlines import make_outlines
from .sensor import make_sensor_head
from .squeezed import make_battery_box, make_cable_box
from .strained import make_twist_core
from .turned import make_vent_crank, make_winch
from .vented import make_shutter

__all__ = ["SAMPLES", "Sample", "make_feeder", "make_mast", "begin_from", "make_outlines", "picture_of"]


@dataclass(frozen=True)
class Sample:
    """How a sample is made, what it is called on the shelf, and what it shows. ``first``: one to begin with. ``before`` are the states that came before it, each with its note, and
    ``now`` is the note of the last one."""

    make: Callable[[], Project]
    title: str
    about: str
    first: bool = False
    before: Callable[[], list[tuple[Project, str]]] = list
    now: str = ""


#: what each sample is asked for by
SAMPLES = {
    "feeder": Sample(make_feeder, "Window bird feeder", "two parts and the lip between them", True),
    "mast": Sample(
        make_mast,
        "Weather mast",
        "eighteen parts, and all the joints between them",
        True,
        mast_before,
        "The latch bends by less than half of that, and the screws reach into their posts by twice their diameter.",
    ),  # fmt: skip
    "outlines": Sample(make_outlines, "Outlines of the mast", "five drawings driven by seven values"),
    "anchor": Sample(make_anchor, "Anchor block", "two grooves turned in one cut, two radii in one step"),
    "cable-comb": Sample(make_cable_comb, "Cable comb", "drawn once, repeated round, hollowed, then drilled"),
    "tail-ring": Sample(make_tail_ring, "Sleeve with blades", "in inches; one blade, done again round a tube"),
    "roof": Sample(make_roof, "Lid made in place", "a part from the edges of another"),
    "jar": Sample(make_jar, "Desiccant jar", "a printed thread between a neck and a cap"),
    "bracket": Sample(make_bracket, "Mast bracket", "a head that slides on a dovetail and hangs on its stop"),
    "housing": Sample(make_housing, "Round housing", "two halves with a lap along their rims, screwed from below"),
    "flap": Sample(make_flap, "Cable flap", "a hinge whose pin is printed in place"),
    "post": Sample(make_post, "Mast post", "too tall for the bed: split, and rejoined by pegs"),
    "sill": Sample(make_sill, "Sill board", "longer than the bed: cut across, slid together by dovetails"),
    "perch-bar": Sample(make_perch_bar, "Perch bar", "longer than the bed: halves that hook into each other"),
    "stake": Sample(make_stake, "Feeder stake", "too tall for the bed: plugged together by its own outline"),
    "panel": Sample(make_panel, "Panel on a ball", "a socket that springs round a ball and lets it be aimed"),
    "vane-hub": Sample(make_vane_hub, "Vane hub", "bought bearings and a magnet, pressed into their seats"),
    "hatch": Sample(make_hatch, "Snapped hatch", "two hooks that are told whether they break"),
    "sensor-cover": Sample(make_sensor_cover, "Sensor box", "a cover that clicks on; more clicks as the box grows"),
    "dial": Sample(make_dial, "Dial on a switch", "a hole that takes the outline of a bought shaft"),
    "rain-rim": Sample(make_rain_rim, "Rain gauge", "a funnel that snaps onto its tube in fingers"),
    "twist-core": Sample(make_twist_core, "Funnel strainer", "a twisted core, and the shell that it was cut out of"),
    "shutter": Sample(make_shutter, "Vent shutter", "a flap built round an actuator, on a base in two halves"),
    "seed-tray": Sample(make_seed_tray, "Seed tray", "end boards with tabs in milled slots of a plywood floor"),
    "spindle": Sample(make_spindle, "Spindle", "a shaft and its bore within limits, at their tightest and loosest"),
    "rain-box": Sample(make_rain_box, "Rain-tight box", "a cord round its rim, squeezed by the lid"),
    "sensor-head": Sample(
        make_sensor_head, "Sensor head", "built round bought sensors from a file, which may be replaced"
    ),
    "winch": Sample(make_winch, "Feeder winch", "reel and crank on one shaft, which takes them along by keys"),
    "vent-crank": Sample(make_vent_crank, "Vent crank", "springs onto a steel rod; its grip turns on a knurled pin"),
    "shield": Sample(make_shield, "Wind shield", "plates that cross, each notched to take the other"),
    "sensor-post": Sample(make_sensor_post, "Sensor post", "a cap cut off its post, and pins that bring it back"),
    "vent-cover": Sample(make_vent_cover, "Vent cover", "held by two split plugs that come out again"),
    "perch-rail": Sample(
        make_perch_rail, "Perch rail", "in inches; a rod, its sleeve and its hole, copied along a wall"
    ),
    "clamp-foot": Sample(
        make_clamp_foot, "Clamp foot", "between a bought bolt and two washers, which are placed and cut round"
    ),
    "pulley": Sample(make_pulley, "Cord pulley", "hollow, with a hub that holds a bought bearing ring"),
    "water-cup": Sample(make_water_cup, "Water cup", "two hooks that drop in behind a wall, and lift off"),
    "battery-box": Sample(make_battery_box, "Battery box", "levers on twisted bars, squeezed to open the lid"),
    "cable-box": Sample(make_cable_box, "Cable box", "a tongue along three sides of a rim that cables interrupt"),
    "visor": Sample(make_visor, "Visor", "a nose cut off, hollowed in its middle, plugged into what it came from"),
    "cover-link": Sample(make_cover_link, "Box and cover", "faces that follow the faces of another part"),
}


def picture_of(name: str) -> bytes:
    """A small picture (PNG) of a sample, which ships with it so that nothing has to be made before it is chosen; ``./dove shots`` makes
    it anew."""
    return files(__package__).joinpath(f"pictures/{name}.png").read_bytes()
