"""The outer geometry of things from the shelf, in a frame whose ``z`` points out of the face that they are put on. Threads are plain cylinders."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from .. import solid as kernel
from ..errors import StepError
from ..solid import Frame

__all__ = ["shape_of"]

_Figures = Mapping[str, float]
#: corners of rings are rounded; they are drawn as chamfers of this leg (ISO 15 has 0.15 to 0.6 for these sizes), mm
_CORNER_MM = 0.3
#: the groove that shows where the rings of a bearing part, mm
_GROOVE_MM = 0.4


def shape_of(kind: str, figures: _Figures, frame: Frame, step: str) -> kernel.NamedSolid:
    """A thing with these figures (mm). Faces: ``step/side`` (outside), ``step/bore``, ``step/upper`` and ``step/lower``, of screws ``step/shank``, ``step/head``, ``step/under``.

    Raises StepError for figures that make no solid.
    """
    return _SHAPES[kind](figures, frame, step)


def _positive(figures: _Figures, *names: str) -> None:
    for name in names:
        if figures[name] <= 0:
            raise StepError("This size must be above zero.", field=name)


def _bearing(f: _Figures, frame: Frame, step: str) -> kernel.NamedSolid:
    bore, out, high, c = f["bore"] / 2, f["across"] / 2, f["high"], _CORNER_MM
    a, b = bore + 0.3 * (out - bore), out - 0.25 * (out - bore)
    g = _GROOVE_MM
    places = [
        (bore, c), (bore + c, 0.0), (a, 0.0), (a, g), (b, g), (b, 0.0), (out - c, 0.0), (out, c), (out, high - c), (out - c, high), (b, high),
        (b, high - g), (a, high - g), (a, high), (bore + c, high), (bore, high - c),
    ]  # fmt: skip
    names = [
        "corner1", "lower-inner", "step1", "shield-lower", "step2", "lower", "corner2", "side", "corner3", "upper", "step3", "shield-upper", "step4",
        "upper-inner", "corner4", "bore",
    ]  # fmt: skip
    return kernel.lathed(frame, places, names, step)


def _ring(f: _Figures, frame: Frame, step: str) -> kernel.NamedSolid:
    _positive(f, "across", "high")
    out, bore, high = f["across"] / 2, f["bore"] / 2, f["high"]
    if bore < 0 or bore >= out - 0.05:
        raise StepError("The bore must be smaller than the outside; 0 mm leaves it out.", field="bore")
    if bore == 0:
        return _disc(f, frame, step)
    places = [(bore, 0.0), (out, 0.0), (out, high), (bore, high)]
    return kernel.lathed(frame, places, ["lower", "side", "upper", "bore"], step)


def _disc(f: _Figures, frame: Frame, step: str) -> kernel.NamedSolid:
    _positive(f, "across", "high")
    out, high = f["across"] / 2, f["high"]
    places = [(0.0, 0.0), (out, 0.0), (out, high), (0.0, high)]
    return kernel.lathed(frame, places, ["lower", "side", "upper", "middle"], step)


def _block(f: _Figures, frame: Frame, step: str) -> kernel.NamedSolid:
    _positive(f, "across", "deep", "high")
    return kernel.block(frame, f["across"], f["deep"], f["high"], step)


def _nut(f: _Figures, frame: Frame, step: str) -> kernel.NamedSolid:
    body = kernel.prism_across_flats(frame, 6, f["flats"], f["high"], step)
    hole = kernel.bar(frame, f["thread"] / 2, -1.0, f["high"] + 1.0, step, "bore")
    return kernel.cut(body, [hole], step)


def _insert(f: _Figures, frame: Frame, step: str) -> kernel.NamedSolid:
    out, bore, high = f["across"] / 2, f["thread"] / 2, f["high"]
    places = [(bore, -high), (out, -high), (out, 0.0), (bore, 0.0)]
    return kernel.lathed(frame, places, ["lower", "side", "upper", "bore"], step)


def _socket_screw(f: _Figures, frame: Frame, step: str) -> kernel.NamedSolid:
    _positive(f, "long")
    shank, head, k = f["thread"] / 2, f["head"] / 2, f["head_high"]
    places = [(0.0, -f["long"]), (shank, -f["long"]), (shank, 0.0), (head, 0.0), (head, k), (0.0, k)]
    whole = kernel.lathed(frame, places, ["tip", "shank", "under", "head", "upper", "middle"], step)
    return _with_key(whole, f, frame, k, step)


def _sunk_screw(f: _Figures, frame: Frame, step: str) -> kernel.NamedSolid:
    shank, head = f["thread"] / 2, f["head"] / 2
    low = head - shank
    if f["long"] <= low + 0.5:
        raise StepError(f"It is {low:.3g} mm long by its head alone; give more.", field="long")
    places = [(0.0, -f["long"]), (shank, -f["long"]), (shank, -low), (head, 0.0), (0.0, 0.0)]
    whole = kernel.lathed(frame, places, ["tip", "shank", "under", "upper", "middle"], step)
    return _with_key(whole, f, frame, 0.0, step)


def _with_key(whole: kernel.NamedSolid, f: _Figures, frame: Frame, top: float, step: str) -> kernel.NamedSolid:
    """With the hexagon for its key, half as deep as the thread is wide."""
    deep = 0.45 * f["thread"]
    key = kernel.prism_across_flats(frame.shifted(top - deep), 6, f["key"], deep + 1.0, step).renamed(
        lambda n: n.replace("/side(", "/key(").replace("/start", "/key(floor)").replace("/end", "/key(lid)")
    )
    return kernel.cut(whole, [key], step)


def _hex_screw(f: _Figures, frame: Frame, step: str) -> kernel.NamedSolid:
    _positive(f, "long")
    head = kernel.prism_across_flats(frame, 6, f["flats"], f["head_high"], step).renamed(
        lambda n: n.replace("/start", "/under").replace("/end", "/upper")
    )
    shank = kernel.bar(frame, f["thread"] / 2, -f["long"], 0.1, step, "shank")
    return kernel.fuse(head, [shank], step)


_SHAPES: dict[str, Callable[[_Figures, Frame, str], kernel.NamedSolid]] = {
    "ball bearing": _bearing, "washer": _ring, "ring": _ring, "disc": _disc, "rod": _disc, "magnet": _ring, "block": _block, "hexagon nut": _nut,
    "heat-set insert": _insert, "socket screw": _socket_screw, "hexagon screw": _hex_screw, "countersunk screw": _sunk_screw,
}  # fmt: skip
