"""Worked example of a housing built round bought sensors that were brought in from a file."""

from __future__ import annotations

from importlib.resources import files
from typing import Any

from ..core.document import Project
from ..core.document.files import hash_of, pack
from .joined import face_of, plane_above
from .making import Drawing, Making

__all__ = ["make_sensor_head"]

SIDE = {"rule": "base", "plane": "side"}
#: the ground seen from below: what is drilled goes up
FROM_BELOW = {"rule": "fixed", "origin": [0.0, 0.0, 0.0], "x": [1.0, 0.0, 0.0], "y": [0.0, -1.0, 0.0]}


def make_sensor_head() -> Project:
    """A head with a light sensor to either side: walls, holes and hooks take their places and sizes from the sensor, whatever file it comes from."""
    making = Making("Sensor head")
    do = making.do
    for name, formula in (
        ("sides", "36 mm"), ("deep", "32 mm"), ("low", "36 mm"), ("high", "44 mm"), ("wall", "2 mm"), ("plate", "2.5 mm"), ("gap", "0.4 mm"), ("ribs", "2"), ("pillar", "7 mm"), ("cable", "6 mm"),
    ):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    data = files(__package__).joinpath("files/light-sensor.step").read_bytes()
    making.project = making.project.model_copy(update={"files": {hash_of(data): pack(data)}})
    brought, left = do("AddStep", kind="bring_in", name="sensor", new_part={"name": "Left sensor", "role": "bought"}, fields={"file": {"hash": hash_of(data), "name": "light-sensor.step"}})  # fmt: skip
    do("SetChapter", step=brought, title="The sensors", note="Brought in from a file as they are bought. The left one stands where the file has it; a newer file takes its place, and everything round it follows.")  # fmt: skip
    mirrored, right = do("AddStep", kind="mirror", name="the other sensor", new_part={"name": "Right sensor", "role": "bought"}, fields={"of": left, "plane": SIDE})  # fmt: skip
    housing, inner, front = _shell(making)
    _within(making, housing)
    _cover(making, housing, inner)
    for part, word, x, name in ((left, "left", -1.0, "{}"), (right, "right", 1.0, f"{mirrored}/mirror({{}})")):

        def face(number: int, part: str = part, name: str = name, **seen: Any) -> dict[str, Any]:
            return face_of(part, name.format(f"{brought}/face({number})"), "face of the sensor", **seen)

        hole = {"halves": "there", "base": face(11, at=[22 * x, 0.0, 22.5], direction=[x, 0.0, 0.0]), "host": housing, "fit": "loose", "extent": "through", "mouth": "0.4 mm"}  # fmt: skip
        (first,) = do("AddStep", kind="shaped_shaft", name=f"{word} lens", fields=hole)
        if word == "left":
            do("SetChapter", step=first, title="Round the sensors", note="Holes with the outline of the lens, flat and all; two small ones where its own holes are; and hooks that snap over its back.")  # fmt: skip
        edges = ["|".join(sorted(name.format(f"{brought}/face({n})") for n in (5, hole))) for hole in (7, 8)]
        seen = [{"kind": "circle", "at": [8 * x, y, 13.5], "direction": [1.0, 0.0, 0.0], "radius": 1.2} for y in (7.0, -7.0)]  # fmt: skip
        do(
            "AddStep", kind="drill", name=f"screws of the {word} one",
            fields={
                "part": housing, "at": {"rule": "spots_edges", "part": part, "edges": [{"name": e, "seen": s} for e, s in zip(edges, seen, strict=True)]},
                "diameter": "2.4 mm + gap", "extent": "by", "depth": "sides/2",
            },
        )  # fmt: skip
        wall = face_of(housing, inner(word), f"inner side of the {word} wall", at=[16 * x, 0.0, 20.0], direction=[-x, 0.0, 0.0])  # fmt: skip
        for number, y, where in ((2, -1.0, "front"), (3, 1.0, "back")):
            do(
                "AddStep", kind="snap_hook", name=f"{where} hook, {word}",
                fields={
                    "base": wall, "wall": face(number, at=[12 * x, 11 * y, 20.0], direction=[0.0, y, 0.0]), "opening": "edge", "thick": "1 mm", "tip": "0.9 mm", "wide": "6 mm",
                    "root": "0.5 mm", "undercut": "0.35 mm", "used": "once", "lead": "45 deg", "back": "60 deg", "fit": "own", "least": "0.2 mm", "target": "0.4 mm", "most": "0.6 mm",
                },
            )  # fmt: skip
    do("LayPart", part=housing, face=front)
    return making.project


def _shell(making: Making) -> tuple[str, Any, dict[str, Any]]:
    """The housing, what its inner faces are called by the words for their sides, and its front."""
    do = making.do
    board = Drawing(making, "seen from the side", plane=SIDE)
    foot, back, roof, front = board.path((-16, 0), (16, 0), (16, 44), (-16, 36), closed=True)
    a, b = board.points(foot)
    board.do("SizeSketch", kind="length", of=[foot], formula="deep")
    board.do("SizeSketch", kind="length", of=[back], formula="high")
    board.do("SizeSketch", kind="length", of=[front], formula="low")
    board.do("SizeSketch", kind="distance_x", of=[a, "origin"], formula="deep/2")
    board.do("TieSketch", kind="horizontal", of=["origin", b])
    _ = roof
    body, housing = board.extrude("Housing", "sides", direction="both")
    do("SetChapter", step=board.step, title="The housing", note="Its roof leans, so that rain runs off to the front. Open below and behind.")  # fmt: skip
    faces = [
        {"name": f"{body}/side({line})", "seen": {"kind": "plane", "label": word, "at": at, "direction": way}}
        for line, word, at, way in ((foot, "underside", [0.0, 0.0, 0.0], [0.0, 0.0, -1.0]), (back, "back", [0.0, 16.0, 22.0], [0.0, 1.0, 0.0]))
    ]  # fmt: skip
    (shell,) = do("AddStep", kind="shell", name="walls", fields={"open": {"rule": "faces", "part": housing, "faces": faces}, "wall": "wall"})  # fmt: skip
    ends = {"left": f"{body}/start", "right": f"{body}/end"}
    lying = face_of(housing, f"{body}/side({front})", "front of the housing", at=[0.0, -16.0, 18.0], direction=[0.0, -1.0, 0.0])  # fmt: skip
    return housing, lambda word: f"{shell}/inner({ends[word]})", lying


def _within(making: Making, housing: str) -> None:
    """Ribs along the front wall, one drawn, repeated in a row and mirrored; and a pillar in each corner, drawn once. What was made for them is used up."""
    do = making.do
    low = plane_above(making, "over the cover", "plate")
    (first, rib) = do(
        "AddStep", kind="body", name="rib", new_part={"name": "Rib"},
        fields={"wide": "1.6 mm", "deep": "2.5 mm", "high": "low - plate - wall", "right": "sides/24", "up": "-(deep/2 - wall - 0.75 mm)", "on": low},
    )  # fmt: skip
    do("SetChapter", step=first, title="Inside", note="One rib and one pillar are drawn; rows and mirror images make the others, and all of them grow into the housing.")  # fmt: skip
    do("AddStep", kind="repeat", name="in a row", fields={"of": rib, "part": rib, "count": "ribs", "pitch": "2.5 mm"})
    do("AddStep", kind="mirror", name="on both sides", fields={"of": rib, "plane": SIDE, "operation": "add", "part": rib})  # fmt: skip
    _, pillar = do(
        "AddStep", kind="body", name="pillar", new_part={"name": "Pillar"},
        fields={"shape": "cylinder", "across": "pillar", "high": "9 mm - plate", "right": "-(sides/2 - wall - 3 mm)", "up": "-(deep/2 - wall - 3 mm)", "on": low},
    )  # fmt: skip
    do("AddStep", kind="repeat", name="in all corners", fields={"of": pillar, "part": pillar, "count": "2", "pitch": "sides - 2*wall - 6 mm", "rows": "2", "row_pitch": "deep - 2*wall - 6 mm"})  # fmt: skip
    for name, other in (("ribs grow in", rib), ("pillars grow in", pillar)):
        do("AddStep", kind="between", name=name, fields={"work": "add", "part": housing, "other": other, "after": "goes"})  # fmt: skip


def _cover(making: Making, housing: str, inner: Any) -> None:
    """A plate in the open underside, screwed to the pillars from below, with a recess for the cable; its gap to the walls is watched."""
    do = making.do
    (plate, cover) = do(
        "AddStep", kind="body", name="cover", new_part={"name": "Cover"},
        fields={"wide": "sides - 2*(wall + gap)", "deep": "deep - wall - gap", "high": "plate", "up": "(wall + gap)/2", "on": {"rule": "base", "plane": "ground"}},
    )  # fmt: skip
    do("SetChapter", step=plate, title="The cover", note="Drawn round what is there: set in from the walls by the gap, its screws under the pillars, and room for the cable behind.")  # fmt: skip
    do("AddStep", kind="body", name="room for the cable", fields={"shape": "cylinder", "across": "cable", "high": "plate", "up": "deep/2", "on": {"rule": "base", "plane": "ground"}, "operation": "cut", "part": cover})  # fmt: skip
    screws = Drawing(making, "screws", plane=FROM_BELOW)
    for u in (-1.0, 1.0):
        for v in (-1.0, 1.0):
            (point,) = screws.do("DrawPoint", at={"at": [u * 13, v * 11]})
            for kind, formula in (("distance_x", "sides/2 - wall - 3 mm"), ("distance_y", "deep/2 - wall - 3 mm")):
                screws.do("SizeSketch", kind=kind, of=["origin", point], formula=formula)
    spots = {"rule": "spots_sketch", "step": screws.step}
    do(
        "AddStep",
        kind="drill",
        name="through the cover",
        fields={"part": cover, "at": spots, "size": "screw", "screw": "M3"},
    )
    do("AddStep", kind="drill", name="into the pillars", fields={"part": housing, "at": spots, "diameter": "2.5 mm", "extent": "by", "depth": "7.5 mm"})  # fmt: skip
    own = {"fit": "own", "least": "gap - 0.35 mm", "target": "gap - 0.15 mm", "most": "gap + 0.1 mm"}
    side = face_of(cover, f"{plate}/side(right)", "right side of the cover", at=[15.7, 1.0, 1.2], direction=[1.0, 0.0, 0.0])  # fmt: skip
    wall = face_of(housing, inner("right"), "inner side of the right wall", at=[16.0, 0.0, 20.0], direction=[-1.0, 0.0, 0.0])  # fmt: skip
    do("AddStep", kind="watch", name="cover beside the wall", fields={"first": side, "second": wall, **own})
