"""Worked examples of what turns together: a winch whose shaft takes its reel and its crank along by keys, and a crank that springs onto its rod."""

from __future__ import annotations

from typing import Any

from ..core.document import Project
from .builds import GROUND
from .joined import face_of, plane_above
from .making import Making

__all__ = ["make_vent_crank", "make_winch"]

ROUND = {"shape": "cylinder"}


def make_winch() -> Project:
    """A hand winch that lets a feeder down: reel and crank slide onto one shaft, and keys take them along."""
    making = Making("Feeder winch")
    do = making.do
    for name, formula in (
        ("shaft", "12 mm"), ("long", "58 mm"), ("reel", "44 mm"), ("drum", "26 mm"), ("broad", "22 mm"), ("flange", "3 mm"), ("crank", "12 mm"), ("arm", "60 mm"),
    ):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    turned, shaft = do("AddStep", kind="body", name="shaft", new_part={"name": "Shaft"}, fields={**ROUND, "across": "shaft", "high": "long", "on": GROUND})  # fmt: skip
    below, above = (
        plane_above(making, "under the reel", "4 mm"),
        plane_above(making, "upper flange", "4 mm + broad - flange"),
    )
    _, reel = do("AddStep", kind="body", name="lower flange", new_part={"name": "Reel"}, fields={**ROUND, "across": "reel", "high": "flange", "on": below})  # fmt: skip
    for name, across, high, on in (("drum", "drum", "broad", below), ("upper flange", "reel", "flange", above)):
        do("AddStep", kind="body", name=name, fields={**ROUND, "across": across, "high": high, "on": on, "operation": "add", "part": reel})  # fmt: skip
    at = plane_above(making, "under the crank", "long - crank - 2 mm")
    _, crank = do("AddStep", kind="body", name="crank's eye", new_part={"name": "Crank"}, fields={**ROUND, "across": "2*shaft", "high": "crank", "on": at})  # fmt: skip
    do("AddStep", kind="body", name="arm", fields={"wide": "arm", "deep": "shaft", "high": "crank", "right": "arm/2", "on": at, "operation": "add", "part": crank})  # fmt: skip
    side = face_of(shaft, f"{turned}/side(round)", "side of the shaft", kind="cylinder", at=[6.0, 0.0, 29.0], axis=[0.0, 0.0, 1.0], radius=6.0)  # fmt: skip

    def bored(part: str, called: str, low: float) -> dict[str, Any]:
        (step,) = do("AddStep", kind="shaft_in_bore", name=f"{called} on shaft", fields={"halves": "shaft", "shaft": side, "host": part, "fit": "slide", "extent": "through", "end": "lower", "mouth": "0.4 mm"})  # fmt: skip
        return face_of(part, f"{step}/bore", f"bore of the {called}", kind="cylinder", at=[6.1, 0.0, low], axis=[0.0, 0.0, 1.0], radius=6.1)  # fmt: skip

    usual = {"wide": "4 mm", "high": "1.8 mm", "shaft": side, "end": "lower", "mouth": "0.4 mm"}
    (first,) = do("AddStep", kind="key", name="reel's key", fields={**usual, "bore": bored(reel, "reel", 15.0), "long": "broad"})  # fmt: skip
    do(
        "SetChapter", step=first, title="The keys",
        note="Both stand in one line and are alike, so that the reel goes on over the crank's. A key of 4 mm is usual for a shaft of 12; its card says how much turning it bears.",
    )  # fmt: skip
    do("AddStep", kind="key", name="crank's key", fields={**usual, "bore": bored(crank, "crank", 50.0), "long": "crank"})  # fmt: skip
    return making.project


def make_vent_crank() -> Project:
    """The crank that opens the vent: its hub springs onto a steel rod through a slit, and a knurled brass pin bites into its arm for the grip to turn on."""
    making = Making("Vent crank")
    do = making.do
    for name, formula in (("rod", "8 mm"), ("wall", "3.2 mm"), ("arm", "46 mm"), ("thick", "12 mm"), ("pin", "8 mm"), ("grip", "26 mm")):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    hub, crank = do("AddStep", kind="body", name="hub", new_part={"name": "Crank"}, fields={"shape": "cylinder", "across": "rod + 2*wall", "high": "thick", "on": GROUND})  # fmt: skip
    do("AddStep", kind="body", name="arm", fields={"wide": "arm", "deep": "pin + 6 mm", "high": "thick", "right": "arm/2", "on": GROUND, "operation": "add", "part": crank})  # fmt: skip
    do("AddStep", kind="body", name="end of the arm", fields={"shape": "cylinder", "across": "pin + 10 mm", "high": "thick", "right": "arm", "on": GROUND, "operation": "add", "part": crank})  # fmt: skip
    above = plane_above(making, "under the grip", "thick + 0.6 mm")
    _, grip = do("AddStep", kind="body", name="grip", new_part={"name": "Grip"}, fields={"shape": "cylinder", "across": "pin + 10 mm", "high": "grip", "right": "arm", "on": above})  # fmt: skip

    def bought(name: str, **what: str) -> list[str]:
        return do(
            "AddStep",
            kind="shelf",
            name=name.lower(),
            new_part={"name": name},
            fields={"what": "rod", "on": GROUND, **what},
        )

    def seated(step: str, part: str, radius: float, right: float, host: str, name: str, note: str, **seat: str) -> None:
        side = face_of(part, f"{step}/side", "round side", kind="cylinder", axis=[0.0, 0.0, 1.0], direction=[1.0, 0.0, 0.0], radius=radius, at=[right + radius, 0.0, 6.0])  # fmt: skip
        (made,) = do("AddStep", kind="seat", name=name, fields={"thing": side, "host": host, **seat})
        do("SetChapter", step=made, title=name[0].upper() + name[1:], note=note)

    steel, rod = bought("Rod", across="rod", long="70 mm")
    brass, pin = bought("Pin", across="pin", long="thick + grip - 4 mm", right="arm")
    seated(steel, rod, 4.0, 0.0, crank, "hold on the rod", "A slit away from the arm lets the wall spring: a closed one would crack before the crank turned the rod with it.",
        rests="through", grip="split", slit_turn="180 deg")  # fmt: skip
    seated(brass, pin, 4.0, 46.0, crank, "bite of the pin", "Its teeth plough into the wall, so that neither turning nor pulling at the grip brings the pin out.",
        rests="through", grip="knurl", teeth="30", tooth="0.2 mm")  # fmt: skip
    seated(brass, pin, 4.0, 46.0, grip, "turn of the grip", "Loose enough to turn, and closed at its top.", end="lower", fit="slide")  # fmt: skip
    # on its back, so that the mouths of both seats lie on the bed, where the first layers stand out
    do(
        "LayPart",
        part=crank,
        face=face_of(crank, f"{hub}/end", "top of the hub", at=[0.0, 0.0, 12.0], direction=[0.0, 0.0, 1.0]),
    )
    return making.project
