"""Sketches in a plain JSON form (docs/sketch-format.md), solved apart from any project: ``dovejoint solve FILE``."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from ..errors import DoveError, FileError
from .drag import dragged
from .drawing import VALUED, Drawing, Item, Round
from .newton import Settled, dependent_sets, diagnose, fighting, settled
from .system import System, Vector

__all__ = ["read_drawing", "solve_neutral"]

#: where an item of the form names what it ties
_NAMES = ("points", "point", "lines", "line", "curves", "curve")
#: a drag goes in so many moves, and then rests at its end for some more
MOVES, RESTS = 30, 6


def _ids(data: Mapping[str, Any]) -> tuple[str, ...]:
    out: list[str] = []
    for name in _NAMES:
        value = data.get(name)
        out += [str(value)] if isinstance(value, str) else [str(v) for v in value] if isinstance(value, list) else []
    return tuple(out)


def read_drawing(data: Any) -> Drawing:
    """A drawing from its JSON form. Raises FileError when it is no such thing."""
    try:
        points, lines, rounds, splines, held = {}, {}, {}, {}, set()
        for e in data["entities"]:
            if e["type"] == "point":
                points[str(e["id"])] = (float(e["at"][0]), float(e["at"][1]))
            if e.get("external"):
                held.add(str(e["id"]))
        for e in data["entities"]:
            id, kind = str(e["id"]), e["type"]
            if kind == "line":
                lines[id] = (str(e["start"]), str(e["end"]))
            elif kind == "circle":
                rounds[id] = Round(str(e["center"]), float(e["radius"]))
            elif kind == "arc":
                start, end = (str(e[k]) for k in ("start", "end"))
                if e.get("direction", "ccw") == "cw":
                    start, end = end, start
                radius = math.dist(points[str(e["center"])], points[start])
                rounds[id] = Round(str(e["center"]), radius, start, end)
            elif kind == "ellipse":
                rounds[id] = Round(str(e["center"]), float(e["second"]), major=str(e["first"]))
            elif kind in ("spline", "bezier"):
                poles = tuple(map(str, e["points"]))
                if kind == "bezier" and len(poles) != 4:
                    raise FileError(f"The Bézier “{id}” needs 4 points: its start, two handles, its end.")
                if len(poles) < 4 or len(poles) % 3 != 1:
                    raise FileError(f"The spline “{id}” needs 4, 7, 10 … points: node, handle, handle, node.")
                splines[id] = poles
            elif kind != "point":
                raise FileError(f"The sketch has a “{kind}”, which this solver does not know.")
        items = [_item(k) for k in data.get("constraints", [])]
    except (KeyError, TypeError, ValueError, IndexError) as error:
        raise FileError(f"This is not a sketch as docs/sketch-format.md has it: {error}.") from None
    ends = [p for line in lines.values() for p in line] + [
        p for r in rounds.values() for p in (r.centre, *r.ends, *([r.major] if r.major else []))
    ]
    ends += [p for poles in splines.values() for p in poles]
    missing = next((p for p in ends if p not in points), None)
    if missing is not None:
        raise FileError(f"The sketch has no point “{missing}”.")
    return Drawing(points, lines, rounds, items, frozenset(held), splines)


def _item(k: Mapping[str, Any]) -> Item:
    kind, id = str(k["type"]), str(k["id"])
    value = float(k["value"]) if k.get("value") is not None else None
    if kind == "angle" and value is not None:
        value = math.radians(value)
    if kind == "offset":
        side = float(k.get("side", 1))
        return Item(
            id,
            kind,
            tuple(map(str, k["from"])),
            None if value is None else side * value,
            other=tuple(map(str, k["to"])),
        )
    at = (float(k["at"][0]), float(k["at"][1])) if kind == "fixed" else None
    return Item(id, kind, _ids(k), value, at)


def _signed(drawing: Drawing) -> Drawing:
    """Distances from lines get the sign that they have where the drawing stands."""
    items = []
    for i in drawing.items:
        if i.kind == "distance" and i.value is not None and len(i.of) == 2 and i.of[1] in drawing.lines:
            items.append(replace(i, value=math.copysign(i.value, drawing.measure(i))))
        else:
            items.append(i)
    return replace(drawing, items=items)


def _report(drawing: Drawing, found: Settled, now: Mapping[str, float] | None) -> dict[str, Any]:
    told = diagnose(drawing, found.z)
    conflict = [] if found.holds else fighting(drawing, now)[0]
    dependent = dependent_sets(drawing, found.z) if found.holds and told.surplus else []
    status = "conflicting" if not found.holds else "redundant" if told.surplus else "solved"
    slot, radius = found.system.slot, found.system.radius
    return {
        "status": status,
        "dof": told.freedom,
        "points": {p: [float(found.z[k]), float(found.z[k + 1])] for p, k in slot.items()},
        "radii": {r: float(found.z[k]) for r, k in radius.items()},
        "free_points": [f for f in told.free if f in slot],
        "surplus": told.surplus,
        "dependent_sets": dependent,
        "conflict_set": conflict,
    }


def _moved(drawing: Drawing, z: Vector, system: System) -> Drawing:
    """The drawing with its places where it came to rest."""
    points = {p: (float(z[k]), float(z[k + 1])) for p, k in system.slot.items()}
    rounds = {r: replace(drawing.rounds[r], radius=float(z[k])) for r, k in system.radius.items()}
    return replace(drawing, points=points, rounds=rounds)


def solve_neutral(data: Any) -> dict[str, Any]:
    """Solve a sketch and what is to be done with it after.

    Raises
    ------
    FileError, StepError : it is no sketch, or ties something that is not there.
    """
    drawing = _signed(read_drawing(data))
    found = settled(drawing)
    report = _report(drawing, found, None)
    if found.holds:
        drawing = _moved(drawing, found.z, found.system)
    report["then"] = []
    for step in data.get("then", []):
        try:
            drawing, told = _then(drawing, step)
        except (KeyError, TypeError, IndexError, ValueError) as error:
            raise FileError(f"A step after the first solve is not as docs/sketch-format.md has it: {error}.") from None
        report["then"].append(told)
    return report


def _then(drawing: Drawing, step: Mapping[str, Any]) -> tuple[Drawing, dict[str, Any]]:
    if "drag" in step:
        point, to = str(step["drag"]["point"]), np.array(step["drag"]["to"], dtype=float)
        start = np.array(drawing.points[drawing.point(point)])
        for k in range(1, MOVES + RESTS + 1):
            goal = start + min(1.0, k / MOVES) * (to - start)
            z, system = dragged(drawing, point, (float(goal[0]), float(goal[1])))
            drawing = _moved(drawing, z, system)
        return drawing, _report(drawing, Settled(system, z, True, 0.0), None)
    values = {str(k): float(v) for k, v in step["set"].items()}
    unknown = next((k for k in values if all(i.id != k for i in drawing.items)), None)
    if unknown is not None:
        raise DoveError(f"The sketch has no dimension “{unknown}”.")
    now, items = {}, []
    for i in drawing.items:
        if i.id not in values or i.kind not in VALUED:
            items.append(i)
            continue
        value = math.radians(values[i.id]) if i.kind == "angle" else values[i.id]
        if i.value is not None and i.kind in ("offset", "distance"):
            value = math.copysign(value, i.value)
        if i.kind != "offset":
            now[i.id] = drawing.measure(i)
            if i.kind == "angle" and i.value is not None:
                # an angle goes on from what it was said to be, not from the same one a turn away
                now[i.id] = i.value
        elif i.value is not None:
            now[i.id] = i.value
        items.append(replace(i, value=value))
    drawing = replace(drawing, items=items)
    found = settled(drawing, now)
    report = _report(drawing, found, now)
    return (_moved(drawing, found.z, found.system) if found.holds else drawing), report
