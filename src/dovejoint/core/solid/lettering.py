"""Text as outlines: the letters of the font that ships with the application, as straight and curved pieces."""

from __future__ import annotations

import math
from functools import cache
from importlib.resources import files
from io import BytesIO
from typing import Any

from ..errors import StepError
from .outline import Bezier, Curve, Line, Vec2

__all__ = ["letters"]

#: letters stand this share of their height further apart than on paper, so that a nozzle's line fits between them
SPREAD = 0.15


@cache
def _font() -> Any:
    """Familjen Grotesk, upright at weight 600, under the SIL Open Font License (data/lettering-license.txt)."""
    # loaded with the first text: most projects have none
    from fontTools.ttLib import TTFont

    font = TTFont(BytesIO(files(__package__).joinpath("data/lettering.ttf").read_bytes()), lazy=False)
    # read whole before anybody has it: what is read bit by bit cannot be used by two at once
    font.ensureDecompiled()
    return font


def letters(id: str, text: str, foot: Vec2, top: Vec2) -> list[Curve]:
    """The outlines of a line of text.

    Parameters
    ----------
    foot, top : the base line and the height of capitals at its beginning (mm); the text runs on to the right of that way.

    Returns pieces named ``id.n`` after the outline that they belong to, counted through the text.

    Raises
    ------
    StepError : it has no height, or a sign that the font has not.
    """
    from fontTools.pens.recordingPen import DecomposingRecordingPen

    font = _font()
    known, glyphs = font.getBestCmap(), font.getGlyphSet()
    missing = next((c for c in text if ord(c) not in known), None)
    if missing is not None:
        raise StepError(f"The lettering has no “{missing}”; write it with other letters.")
    height = math.dist(foot, top)
    if height < 1e-3:
        raise StepError("A text needs a height above zero.")
    scale = height / font["OS/2"].sCapHeight
    ux, uy = (top[1] - foot[1]) / height, -(top[0] - foot[0]) / height
    out: list[Curve] = []
    pen_at, loop = 0.0, 0
    for letter in text:
        glyph = glyphs[known[ord(letter)]]
        pen = DecomposingRecordingPen(glyphs)
        glyph.draw(pen)

        def place(p: tuple[float, float], shift: float = pen_at) -> Vec2:
            x, y = (p[0] + shift) * scale, p[1] * scale
            return foot[0] + x * ux - y * uy, foot[1] + x * uy + y * ux

        here = start = (0.0, 0.0)
        name = id
        for verb, points in pen.value:
            if verb == "moveTo":
                loop += 1
                name, here = f"{id}.{loop}", place(points[0])
                start = here
            elif verb == "lineTo":
                here = _straight(out, name, here, place(points[0]))
            elif verb == "qCurveTo":
                here = _quadratic(out, name, here, [place(p) for p in points])
            elif verb in ("closePath", "endPath"):
                _straight(out, name, here, start)
        pen_at += glyph.width + SPREAD * font["OS/2"].sCapHeight
    if not out:
        raise StepError("The text has no letters.")
    return out


def _straight(out: list[Curve], name: str, here: Vec2, there: Vec2) -> Vec2:
    if math.dist(here, there) > 1e-6:
        out.append(Line(name, here, there))
    return there


def _quadratic(out: list[Curve], name: str, here: Vec2, points: list[Vec2]) -> Vec2:
    """A run of quadratic pieces with the places between their poles left out (TrueType), each raised to a cubic."""
    *poles, end = points
    for k, pole in enumerate(poles):
        last = k == len(poles) - 1
        there = end if last else ((pole[0] + poles[k + 1][0]) / 2, (pole[1] + poles[k + 1][1]) / 2)
        one, two = (
            (a[0] + 2 / 3 * (pole[0] - a[0]), a[1] + 2 / 3 * (pole[1] - a[1])) for a in (here, there)
        )  # degree elevation
        out.append(Bezier(name, (here, one, two, there)))
        here = there
    return here
