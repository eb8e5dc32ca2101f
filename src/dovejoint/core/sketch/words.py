"""What a person calls the things of a sketch: by what they are, where they lie, and how large they are."""

from __future__ import annotations

import math
import re
from collections import Counter
from collections.abc import Iterable

from .model import ORIGIN, Constraint, Dimension, Sketch, SketchCurve

__all__ = ["TIE_WORDS", "calling", "describe", "in_words"]

#: what a tie is called, as on the board
TIE_WORDS = {
    "coincident": "together", "horizontal": "level", "vertical": "upright", "parallel": "parallel", "perpendicular": "square",
    "equal": "equal", "midpoint": "in the middle", "point_on": "on the curve", "concentric": "same centre", "tangent": "touching",
    "smooth": "smooth", "symmetric": "mirrored", "collinear": "in line", "fixed": "stays here", "turned": "repeated",
}  # fmt: skip
_SIZE_WORDS = {"distance_x": "width", "distance_y": "height", "perimeter": "length along", "ring": "width of the ring"}
#: nearer to a side than this share of the whole drawing, a thing is called by that side
_SIDE = 0.3

Place = tuple[float, float]


def calling(sketch: Sketch, ids: Iterable[str] | None = None) -> dict[str, str]:
    """What things are called, “the upper line, 60 mm”, by id; all curves and points when none are asked for.

    Two things that would be called the same are told apart by where they lie (mm on the board).
    """
    at = {p.id: (p.x, p.y) for p in sketch.points} | {ORIGIN: (0.0, 0.0)}
    places = {c.id: _middle(sketch, c, at) for c in sketch.curves} | at
    low = [min((p[k] for p in places.values()), default=0.0) for k in (0, 1)]
    high = [max((p[k] for p in places.values()), default=0.0) for k in (0, 1)]

    def side(place: Place) -> str:
        words = []
        for k, (less, more) in ((1, ("lower", "upper")), (0, ("left", "right"))):
            wide = high[k] - low[k]
            share = (place[k] - low[k]) / wide if wide > 1e-9 else 0.5
            words += [less] if share < _SIDE else [more] if share > 1 - _SIDE else []
        return " ".join(words) + " " if words else ""

    plain = {c.id: f"the {side(places[c.id])}{c.kind}{_size(c, at)}" for c in sketch.curves}
    uses = _uses(sketch)
    for id, place in at.items():
        if id == ORIGIN:
            plain[id] = "the origin"
        else:
            word, of = uses.get(id, ("point", ""))
            plain[id] = f"the {word} of {plain[of]}" if of else f"the {side(place)}{word}"
    often = Counter(plain.values())
    told = {
        id: f"{text} at {places[id][0]:.4g}, {places[id][1]:.4g}" if often[text] > 1 else text
        for id, text in plain.items()
    }
    return told if ids is None else {id: told.get(id, "something that is gone") for id in ids}


def _middle(sketch: Sketch, curve: SketchCurve, at: dict[str, Place]) -> Place:
    """About where a curve is looked for: its middle."""
    known = [at[p] for p in curve.points if p in at]
    if curve.kind == "arc" and len(known) == 3:
        (cx, cy), (sx, sy), (ex, ey) = known
        first, last = math.atan2(sy - cy, sx - cx), math.atan2(ey - cy, ex - cx)
        half = first + ((last - first) % (2 * math.pi)) / 2
        radius = math.hypot(sx - cx, sy - cy)
        return (cx + radius * math.cos(half), cy + radius * math.sin(half))
    if curve.kind in ("circle", "ellipse"):
        known = known[:1]
    if not known:
        return (0.0, 0.0)
    return (sum(p[0] for p in known) / len(known), sum(p[1] for p in known) / len(known))


def _size(curve: SketchCurve, at: dict[str, Place]) -> str:
    known = [at[p] for p in curve.points if p in at]
    if curve.kind == "line" and len(known) == 2:
        return f", {math.dist(*known):.4g} mm"
    if curve.kind == "circle":
        return f", Ø {2 * curve.radius:.4g} mm"
    if curve.kind == "arc" and len(known) == 3:
        return f", r {math.dist(known[0], known[1]):.4g} mm"
    return f" “{curve.text}”" if curve.kind == "text" else ""


def _uses(sketch: Sketch) -> dict[str, tuple[str, str]]:
    """What points are for: a word, and the curve that they belong to where that says more than their place."""
    out: dict[str, tuple[str, str]] = {}
    for c in sketch.curves:
        if c.kind in ("circle", "arc", "ellipse") and c.points:
            out.setdefault(c.points[0], ("centre", c.id))
        if c.kind == "ellipse":
            out.setdefault(c.points[1], ("end of the axis", c.id))
        if c.kind == "spline":
            for k, p in enumerate(c.points):
                out.setdefault(p, ("handle" if k % 3 else "node", ""))
        if c.kind == "text":
            out |= {c.points[0]: ("foot", c.id), c.points[1]: ("top", c.id)}
    ends = Counter(p for c in sketch.curves for p in c.ends)
    for p, n in ends.items():
        if p not in out or out[p][0] == "centre":
            out[p] = ("corner" if n > 1 else "end", "")
    return out


def describe(sketch: Sketch, item: str | Constraint | Dimension) -> str:
    """How a sentence speaks of a tie or a size, with what it ties or measures."""
    all_items: list[Constraint | Dimension] = [*sketch.dimensions, *sketch.constraints]
    found = next((k for k in all_items if k.id == item), None) if isinstance(item, str) else item
    if found is None:
        return "something that is gone"
    # the middle of the board is named only when it is all there is
    things = [o for o in found.of if o != ORIGIN] or [ORIGIN]
    names = calling(sketch, things)
    of = " and ".join(names[o] for o in things[:2]) + (" and others" if len(things) > 2 else "")
    if isinstance(found, Dimension):
        # its figure is said already
        of = re.sub(r", (Ø |r )?[\d.e+-]+ mm(?= and |$)", "", of)
        return f"the {_SIZE_WORDS.get(found.kind, found.kind)} {found.formula} of {of}"
    return f"“{TIE_WORDS[found.kind]}” on {of}"


def in_words(sketch: Sketch, sentence: str) -> str:
    """A sentence in which ids of the sketch's things, in quotes, are replaced by what they are called."""
    ids = set(re.findall("“([^”]+)”", sentence)) & {*(c.id for c in sketch.curves), *(p.id for p in sketch.points)}
    for id, name in calling(sketch, ids).items():
        sentence = sentence.replace(f"“{id}”", name)
    return sentence[:1].upper() + sentence[1:]
