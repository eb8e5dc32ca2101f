"""What the core's tests share: projects made by commands, and one evaluation after another."""

from __future__ import annotations

import struct
import zlib
from typing import Any

import numpy as np
from world import print_and_try

from dovejoint.core import joints as _joints
from dovejoint.core import steps as _steps
from dovejoint.core.checks import CheckCache, run_checks
from dovejoint.core.document import Project, Step, apply, command_from, new_project
from dovejoint.core.document.fields import read_fields
from dovejoint.core.errors import StepError
from dovejoint.core.formats.picture import picture
from dovejoint.core.joints.assess import GapCache, assess
from dovejoint.core.printing.features import features_of, joint_prints
from dovejoint.core.profiles import SET_UP_PROFILE
from dovejoint.core.recipe import Evaluation, ResultCache, evaluate, kind_of
from dovejoint.core.recipe.evaluate import context_at
from dovejoint.core.recipe.names import seen_face
from dovejoint.core.sketch import Sketch
from dovejoint.core.solid import NamedSolid, overlap
from dovejoint.sample import SAMPLES
from dovejoint.simulator import Machine, hidden_of

_ = (_joints, _steps)


def pictured(project: Project) -> bytes:
    """A project's small picture (PNG), made anew."""
    parts = evaluate(project, _KNOWN).parts
    shown = [(p.colour, parts[p.id].mesh) for p in project.parts if p.id in parts]
    return picture([(colour, mesh.positions, mesh.triangles) for colour, mesh in shown])


def decoded(data: bytes) -> np.ndarray:
    """The image of a PNG with rows that are not filtered, its checksums tried."""
    assert data[:8] == b"\x89PNG\r\n\x1a\n"
    at, packed, size = 8, b"", (0, 0)
    while at < len(data):
        (n,) = struct.unpack(">I", data[at : at + 4])
        kind, body = data[at + 4 : at + 8], data[at + 8 : at + 8 + n]
        assert struct.unpack(">I", data[at + 8 + n : at + 12 + n])[0] == zlib.crc32(kind + body)
        if kind == b"IHDR":
            size = struct.unpack(">II", body[:8])
        packed += body if kind == b"IDAT" else b""
        at += 12 + n
    rows = np.frombuffer(zlib.decompress(packed), np.uint8).reshape(size[1], -1)
    assert (rows[:, 0] == 0).all()
    return rows[:, 1:].reshape(size[1], size[0], 4)


class Bench:
    """A project that is changed by commands and evaluated with one cache, as an engine would. It rests on a printer that is set up, as the simulated ones are."""

    def __init__(self, project: Project) -> None:
        rests_on = {"profiles": [SET_UP_PROFILE], "profile": SET_UP_PROFILE.id}
        self.project = project if project.profile else project.model_copy(update=rests_on)
        self.cache = ResultCache()
        self.gaps = GapCache()

    def do(self, command: str, **fields: Any) -> list[str]:
        outcome = apply(self.project, command_from({"do": command, **fields}))
        self.project = outcome.project
        return outcome.created

    def evaluate(self, **options: Any) -> Evaluation:
        return evaluate(self.project, self.cache, **options)

    def states(self) -> dict[str, str]:
        return {r.id: r.state for r in self.evaluate().steps}

    def message(self, step: str) -> str:
        return next(r.message for r in self.evaluate().steps if r.id == step)

    def joint(self) -> Any:
        return assess(self.project, self.evaluate(), self.gaps)[0]

    def suggested(self, kind: str, fields: dict[str, Any], answered: str) -> dict[str, Any]:
        """What a new step at the end would take from the solids once ``answered`` is answered."""
        suggest = kind_of(step := Step(id="s0", kind=kind, fields={})).suggest
        assert suggest is not None
        return suggest(
            self.project, context_at(self.project, self.evaluate(), step, read_fields(kind, fields)), answered
        )

    def volume(self, part: str) -> float:
        return self.evaluate().parts[part].solid.volume_mm3

    def value(self, name: str) -> str:
        return next(v.id for v in self.project.values if v.name == name)

    def set(self, name: str, formula: str) -> None:
        self.do("SetValue", value=self.value(name), formula=formula)

    def rectangle(self, width: str, height: str, plane: Any = None, name: str = "", at: Any = None) -> str:
        """A sketch of one rectangle round the middle (or a place); its id."""
        fields = {"plane": plane} if plane else {}
        (sketch,) = self.do("AddStep", kind="sketch", fields=fields, name=name)
        self.draw(sketch, width, height, at)
        return sketch

    def draw(self, sketch: str, width: str, height: str, at: Any = None) -> None:
        x, y = at or (0, 0)
        self.do(
            "DrawRectangle",
            step=sketch,
            first=[x, y],
            corner=[x + 10, y + 8],
            on=None if at else "origin",
            width=width,
            height=height,
        )

    def extrude(self, sketch: str, distance: str, part: str = "", operation: str = "new", **more: Any) -> list[str]:
        fields = {"profile": {"rule": "regions", "step": sketch}, "distance": distance, "operation": operation, **more}
        if operation == "new":
            return self.do("AddStep", kind="extrude", fields=fields, new_part={"name": part or "Block"})
        return self.do("AddStep", kind="extrude", fields={**fields, "part": part})


def findings(bench: Bench, name: str) -> list[dict[str, Any]]:
    """What one check finds."""
    evaluation = bench.evaluate()
    checks = run_checks(bench.project, evaluation, assess(bench.project, evaluation, bench.gaps), CheckCache())
    return next(c for c in checks if c["check"] == name)["findings"]  # type: ignore[no-any-return]


def flat(bench: Bench, part: str, name: str) -> dict[str, object]:
    """A pick of a flat face by its name, as pointing at it makes one."""
    state = bench.evaluate().parts[part]
    info = next(f for f in state.faces if f.names[0] == name)
    return {"rule": "flat", "part": part, "face": {"name": name, "seen": seen_face(info).model_dump()}}


#: results of the samples, which several tests of one process ask for: the mast alone is a quarter of a minute's work
_KNOWN, _KNOWN_GAPS = ResultCache(400_000_000), GapCache()


def of_sample(name: str) -> Bench:
    """A worked example on its bench, with what was found of it already; for tests that are not about what is worked out anew."""
    return known(Bench(SAMPLES[name].make()))


def known(bench: Bench) -> Bench:
    """A bench that keeps what it finds with the samples'."""
    bench.cache, bench.gaps = _KNOWN, _KNOWN_GAPS
    return bench


class Hub(Bench):
    """A hub Ø 26 × 14 with a 625 bearing sunk into its upper end, and its seat."""

    def __init__(self, sunk: str = "5 mm", across: str = "26 mm", right: str = "0 mm", **seat: Any) -> None:
        super().__init__(new_project("Hub"))
        self.do("AddValue", name="wide", formula=across)
        fields = {"shape": "cylinder", "across": "wide", "high": "14 mm", "on": {"rule": "base", "plane": "ground"}}
        _, self.hub = self.do("AddStep", kind="body", fields=fields, new_part={"name": "Hub"})
        top = next(n for names in self.evaluate().parts[self.hub].solid.names for n in names if n.endswith("/end"))
        on = {"on": flat(self, self.hub, top), "sunk": sunk, "right": right}
        step, self.bearing = self.do("AddStep", kind="shelf", fields=on, new_part={"name": "Bearing"})
        self.thing = flat(self, self.bearing, f"{step}/side")
        (self.seat,) = self.do("AddStep", kind="seat", fields={"thing": self.thing, "host": self.hub, **seat})


class Feeder(Bench):
    """A hopper with rounded corners, shelled from below, and a floor that plugs in."""

    def __init__(self) -> None:
        super().__init__(new_project("Bird feeder"))
        self.do("AddValue", name="wall", formula="1.7 mm")
        self.do("AddValue", name="inside", formula="83 mm")
        self.outline = self.rectangle("inside + 2*wall", "60 mm", name="outline")
        self.body, self.hopper = self.extrude(self.outline, "70 mm", "Hopper")
        (self.rounding,) = self.do(
            "AddStep",
            kind="fillet",
            fields={"edges": {"rule": "edges_along", "part": self.hopper, "direction": "up"}, "radius": "9 mm"},
        )
        (self.hollow,) = self.do(
            "AddStep",
            kind="shell",
            fields={
                "open": {"rule": "faces", "part": self.hopper, "faces": [{"name": f"{self.body}/start"}]},
                "wall": "wall",
            },
        )
        self.rim = f"{self.hollow}/rim({self.body}/start)"
        self.lip, self.floor = self.do(
            "AddStep",
            kind="plug_in_lip",
            new_part={"name": "Floor"},
            fields={"host": {"rule": "flat", "part": self.hopper, "face": {"name": self.rim}}},
        )


class Board(Bench):
    """One sketch, drawn by commands."""

    def __init__(self, bench: Bench) -> None:
        self.__dict__ = bench.__dict__
        (self.step,) = self.do("AddStep", kind="sketch", fields={})

    def draw(self, command: str, **fields: Any) -> list[str]:
        return self.do(command, step=self.step, **fields)

    @property
    def sketch(self) -> Sketch:
        return Sketch.model_validate(next(s for s in self.project.recipe if s.id == self.step).fields["sketch"])

    @property
    def shape(self) -> Any:
        return self.evaluate().made[self.step].sketch

    def at(self, id: str) -> tuple[float, float]:
        point = self.sketch.point(id)
        assert point is not None
        return point.x, point.y

    def path(self, *places: tuple[float, float], closed: bool = True, ties: dict[int, str] | None = None) -> list[str]:
        """Lines from place to place; the ids of their first ends."""
        ends: list[str] = []
        first = ""
        for k in range(len(places) if closed else len(places) - 1):
            a, b = places[k], places[(k + 1) % len(places)]
            last = closed and k == len(places) - 1
            made = self.draw(
                "DrawLine", start={"at": a, "on": ends[-1] if ends else None}, end={"at": b, "on": first if last else None},
                tie=(ties or {}).get(k, ""),
            )  # fmt: skip
            line = next(m for m in made if m.startswith("l"))
            points = self.sketch.curve(line).points  # type: ignore[union-attr]
            first = first or points[0]
            ends.append(points[1])
        return [first, *ends[:-1]] if closed else [first, *ends]


def good_on_hidden_machines(bench: Bench, step: str, machines: int = 150) -> tuple[float, float]:
    """The first joint printed unmeasured on hidden machines with filaments of their own, and tried: the share that is good, and the share that is said to be."""
    evaluation = bench.evaluate()
    reports = assess(bench.project, evaluation, bench.gaps)
    features = [f.as_dict() for f in features_of(bench.project, evaluation, reports)]
    joint = next(j for j in joint_prints(bench.project, evaluation, reports) if j.step == step).as_dict()
    good = sum(
        print_and_try(Machine(number, hidden_of(number)), features, joint)[0] == "good" for number in range(machines)
    )
    return good / machines, reports[0].chance.fits


def shared_mm3(one: NamedSolid, other: NamedSolid) -> float:
    """How much room two solids share; none where they do not even touch."""
    try:
        return float(overlap(one, [other], "o").volume_mm3)
    except StepError:
        return 0.0
