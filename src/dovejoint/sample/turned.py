"""Worked examples of what turns together: a winch whose shaft takes its reel and its crank along by keys."""

from __future__ import annotations

from typing import Any

from ..core.document import Project
from .builds import GROUND
from .joined import face_of, plane_above
from .making import Making

__all__ = ["make_winch"]

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
