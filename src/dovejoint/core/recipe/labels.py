"""What a person calls the faces and edges of a part: one name everywhere, told apart where there are two.

“top”, “inner side of the back wall”, “bore, Ø 5”, “edge between front and top, 83 long”. The name of the part is put behind by
:func:`of_part`, so that calling a part something else changes nothing here.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from ..solid import EdgeInfo, FaceInfo, Vec3
from ..solid.facename import FaceName, parse

__all__ = ["SIZE", "edge_labels", "face_labels", "of_part"]

#: cosine from which on a face counts as facing along an axis
ALONG = 0.98
#: what goes round by clearly less than half of a turn is the rounding of a corner, no bore and no pin, rad
HALF_ROUND_RAD = 2.8
_FACING = (("left", "right"), ("front", "back"), ("down", "up"))
_OUTER = (("left side", "right side"), ("front", "back"), ("underside", "top"))
_WALLS = (("left wall", "right wall"), ("front wall", "back wall"), ("bottom", "top"))
#: a wall is at most this share of its part
WALL_SHARE = 0.25
#: faces that joints make, by their role
_ROLES = {
    "seat": "seat", "lip-end": "end of the lip", "shaft-end": "end of the shaft", "shaft-head": "head of the shaft",
    "bore-end": "floor of the bore",
}  # fmt: skip
_SIDES = (("left", "right"), ("front", "back"), ("lower", "upper"))


#: a size within a label, mm: “Ø 5”, “r 2.6”, “83 long”
SIZE = re.compile(r"(?<=, )(?:(Ø |r )(\d+(?:\.\d+)?(?:e[-+]\d+)?)|(\d+(?:\.\d+)?(?:e[-+]\d+)?)( long))(?=,|$)")


def of_part(label: str, part: str, unit: str = "mm") -> str:
    """A label with the part's name: figures stay at the end (“bore of Hub, Ø 5”), and say when they are inches (“Ø 0.1969 in”)."""
    head, comma, figures = label.partition(", ")
    if unit == "in":
        figures = SIZE.sub(_in_inches, comma + figures)[len(comma) :]
    return f"{head} of {part}{comma}{figures}"


def _in_inches(size: re.Match[str]) -> str:
    before, round_mm, long_mm, after = size.groups("")
    return f"{before}{float(round_mm or long_mm) / 25.4:.4g} in{after}"


def face_labels(faces: Sequence[FaceInfo], low: Vec3, high: Vec3) -> list[str]:
    """One label for each face of a part whose bounding box is given; all different."""
    openings = _openings(faces)
    # a bore that a groove divides goes round in pieces, which have one name
    turns: dict[str, float] = {}
    for info in faces:
        turns[info.names[0]] = turns.get(info.names[0], 0.0) + info.turn_rad
    floors = _floors(faces, openings)
    said = [
        "floor of the opening"
        if i in floors
        else _face(info, low, high, i in openings, turns[info.names[0]] < HALF_ROUND_RAD)
        for i, info in enumerate(faces)
    ]
    return _told_apart(said, [f.middle for f in faces], [f.area_mm2 for f in faces])


def _openings(faces: Sequence[FaceInfo]) -> set[int]:
    """The flat sides of openings: those that face the middle of all sides that the same step drew, not away from it."""
    groups: dict[str, list[int]] = {}
    for i, info in enumerate(faces):
        name = parse(info.names[0])
        if isinstance(name, FaceName) and name.role == "side":
            groups.setdefault(name.step, []).append(i)
    out = set()
    for members in groups.values():
        middle = [sum(faces[i].at[k] for i in members) / len(members) for k in range(3)]
        for i in members:
            away = sum(n * (p - m) for n, p, m in zip(faces[i].normal, faces[i].at, middle, strict=True))
            if len(members) > 1 and away < -1e-6:
                out.add(i)
    return out


def _floors(faces: Sequence[FaceInfo], openings: set[int]) -> set[int]:
    """The flat faces that the flat sides of an opening stand on, all on the side to which they look."""
    walls: dict[str, list[Vec3]] = {}
    for i in openings:
        walls.setdefault(faces[i].names[0], []).append(faces[i].at)
    out = set()
    for i, info in enumerate(faces):
        beside = [at for name in info.neighbours for at in walls.get(name, ())]
        if info.kind == "plane" and i not in openings and beside:
            over = [sum(n * (a - b) for n, a, b in zip(info.normal, at, info.at, strict=True)) for at in beside]
            if min(over) > 1e-6:
                out.add(i)
    return out


def edge_labels(edges: Sequence[EdgeInfo], faces: Sequence[str]) -> list[str]:
    """One label for each edge, from the labels of the faces that it lies between; all different."""
    said = [_edge(info, faces) for info in edges]
    return _told_apart(said, [e.at for e in edges], [e.length_mm for e in edges])


def _axis(direction: Vec3) -> tuple[int, bool] | None:
    """The axis that a direction runs along, and whether upwards on it; ``None`` when it leans."""
    k = max(range(3), key=lambda i: abs(direction[i]))
    return (k, direction[k] > 0) if abs(direction[k]) >= ALONG else None


def _leaning(direction: Vec3) -> str:
    words = [_FACING[k][direction[k] > 0] for k in (2, 0, 1) if abs(direction[k]) > 0.17]
    return " and ".join(words[:2])


def _face(info: FaceInfo, low: Vec3, high: Vec3, opening: bool, corner: bool) -> str:
    name = parse(info.names[0])
    role = name.role if isinstance(name, FaceName) else ""
    facing = _axis(info.normal)
    if role == "fillet":
        return f"fillet, r {info.radius_mm:.5g}" if info.radius_mm else "fillet"
    if role in ("chamfer", "lead"):
        return "chamfer" if info.kind == "plane" else "round chamfer"
    if role == "rim" and info.kind == "plane" and facing:
        return f"{_SIDES[facing[0]][facing[1]]} rim"
    if role == "lip":
        return f"{_OUTER[facing[0]][facing[1]]} of the lip" if info.kind == "plane" and facing else "corner of the lip"
    if role == "lip-inner":
        side = f", {_SIDES[facing[0]][not facing[1]]}" if info.kind == "plane" and facing else ""
        return f"inner side of the lip{side}" if info.kind == "plane" else "inner corner of the lip"
    if role in _ROLES:
        return _ROLES[role]
    if info.kind == "plane":
        if opening and facing:
            return f"{_SIDES[facing[0]][not facing[1]]} side of the opening"
        return _flat(info, role, facing, low, high)
    if info.kind == "cylinder":
        # what was rounded before it was offset or copied keeps that in its name; a drawn corner goes round by less than half
        if corner or (isinstance(name, FaceName) and any("fillet" in str(p) for p in name.parts)):
            return f"{'inner ' if info.hollow else ''}rounding, r {info.radius_mm:.5g}"
        return f"{'bore' if info.hollow else 'round side'}, Ø {2 * (info.radius_mm or 0):.5g}"
    words = {"cone": "tapered side", "sphere": "ball", "torus": "rounded ring"}.get(info.kind, "curved face")
    return f"inner {words}" if info.hollow else words


def _flat(info: FaceInfo, role: str, facing: tuple[int, bool] | None, low: Vec3, high: Vec3) -> str:
    if facing is None:
        return f"{'inner ' if role == 'inner' else ''}slope facing {_leaning(info.normal)}"
    k, up = facing
    if role not in ("inner", "recess") and abs(info.at[k] - (high if up else low)[k]) < 1e-3:
        return _OUTER[k][up]
    # what looks inwards is a wall's inner side where that wall is near the outside; ribs and steps farther in are none
    behind = info.at[k] - low[k] if up else high[k] - info.at[k]
    if behind < WALL_SHARE * (high[k] - low[k]) or role in ("inner", "recess"):
        # a wall is called after the side on which it stands, and its inner side faces the other way
        return f"inner side of the {_WALLS[k][not up]}"
    return f"{_FACING[k][up]}-facing face"


def _edge(info: EdgeInfo, faces: Sequence[str]) -> str:
    first, second = (faces[i].partition(", ")[0] for i in info.faces)
    if info.radius_mm is not None:
        whole = abs(info.length_mm - 6.283185307179586 * info.radius_mm) < 1e-3 * info.radius_mm
        figure = f"Ø {2 * info.radius_mm:.5g}" if whole else f"r {info.radius_mm:.5g}"
        # the round side says less than the face that the edge bounds
        near = second if first.startswith(("round side", "bore", "fillet", "inner rounding", "rounding")) else first
        return f"round edge at {near}, {figure}"
    tail = f", {info.length_mm:.5g} long"
    if first == second:
        return f"edge on {first}{tail}"
    a, b = sorted((first, second))
    return f"{'' if info.kind == 'line' else 'curved '}edge between {a} and {b}{tail}"


def _told_apart(said: list[str], places: Sequence[Vec3], sizes: Sequence[float]) -> list[str]:
    """Labels that come more than once get their place, or else their size, or else a number."""
    groups: dict[str, list[int]] = {}
    for i, label in enumerate(said):
        groups.setdefault(label, []).append(i)
    out = list(said)
    for label, members in groups.items():
        if len(members) > 1:
            more = _differences([places[i] for i in members], [sizes[i] for i in members])
            for i, words in zip(members, more, strict=True):
                out[i] = f"{label}, {words}"
    return out


def _differences(places: Sequence[Vec3], sizes: Sequence[float]) -> list[str]:
    if len(sizes) == 2 and max(sizes) > 1.5 * min(sizes):
        return ["larger" if s == max(sizes) else "smaller" for s in sizes]
    spread = [max(p[k] for p in places) - min(p[k] for p in places) for k in range(3)]
    middle = [(max(p[k] for p in places) + min(p[k] for p in places)) / 2 for k in range(3)]
    # by sides: as few words as tell all apart; what lies in the middle of a direction says nothing of it
    for axes in ((0,), (1,), (2,), (1, 0), (2, 0), (2, 1), (2, 1, 0)):
        if all(spread[k] > 0.05 for k in axes):
            said = [
                " ".join(_SIDES[k][p[k] > middle[k]] for k in axes if abs(p[k] - middle[k]) > 0.02) or "middle"
                for p in places
            ]
            if len(set(said)) == len(said):
                return said
    k = max(range(3), key=lambda axis: spread[axis])
    order = sorted(range(len(places)), key=lambda i: places[i][k])
    if all(places[b][k] - places[a][k] > 0.02 for a, b in zip(order, order[1:], strict=False)):
        ranks = {i: n for n, i in enumerate(order, 1)}
        start = ("the left", "the front", "below")[k]
        return [f"{_ordinal(ranks[i])} from {start}" for i in range(len(places))]
    return [f"number {n}" for n in range(1, len(places) + 1)]


def _ordinal(n: int) -> str:
    ending = "th" if 10 <= n % 100 <= 20 else {1: "st", 2: "nd", 3: "rd"}.get(n % 10, "th")
    return f"{n}{ending}"
