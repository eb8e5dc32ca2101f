"""Dimensions and units. Inside, lengths are millimetres and angles radians."""

from __future__ import annotations

import math
from dataclasses import dataclass

__all__ = ["ANGLE", "LENGTH", "NUMBER", "UNITS", "Dimension", "Quantity", "show"]


@dataclass(frozen=True)
class Dimension:
    """Exponents of length and angle, e.g. an area is ``Dimension(2, 0)``."""

    length: float = 0
    angle: float = 0

    def __mul__(self, other: Dimension) -> Dimension:
        return Dimension(self.length + other.length, self.angle + other.angle)

    def __truediv__(self, other: Dimension) -> Dimension:
        return Dimension(self.length - other.length, self.angle - other.angle)

    def __pow__(self, exponent: float) -> Dimension:
        return Dimension(self.length * exponent, self.angle * exponent)

    def __str__(self) -> str:
        if self == NUMBER:
            return "a plain number"
        if self == LENGTH:
            return "a length"
        if self == ANGLE:
            return "an angle"
        if self == Dimension(2, 0):
            return "an area"
        if self == Dimension(3, 0):
            return "a volume"
        bits = []
        if self.length:
            bits.append(f"mm^{self.length:g}")
        if self.angle:
            bits.append(f"deg^{self.angle:g}")
        return "a quantity in " + "·".join(bits)


NUMBER = Dimension(0, 0)
LENGTH = Dimension(1, 0)
ANGLE = Dimension(0, 1)

#: unit -> (factor to mm or rad, dimension). The inch is 25.4 mm exactly (ISO 31-1).
UNITS: dict[str, tuple[float, Dimension]] = {
    "mm": (1.0, LENGTH),
    "cm": (10.0, LENGTH),
    "m": (1000.0, LENGTH),
    "in": (25.4, LENGTH),
    '"': (25.4, LENGTH),
    "″": (25.4, LENGTH),
    "deg": (math.pi / 180.0, ANGLE),
    "°": (math.pi / 180.0, ANGLE),
    "rad": (1.0, ANGLE),
}


@dataclass(frozen=True)
class Quantity:
    """A number in base units (mm, rad) with its dimension."""

    value: float
    dimension: Dimension


def show(quantity: Quantity, unit: str = "mm", digits: int = 4) -> str:
    """Write a quantity for people, in the project's length unit; angles in degrees."""
    if quantity.dimension == ANGLE:
        return f"{_plain(math.degrees(quantity.value), digits)} deg"
    if quantity.dimension == NUMBER:
        return _plain(quantity.value, digits)
    factor = UNITS[unit][0] ** quantity.dimension.length
    power = {1: "", 2: "²", 3: "³"}.get(int(quantity.dimension.length), f"^{quantity.dimension.length:g}")
    text = _plain(quantity.value / factor, digits)
    return f"{text} {unit}{power}" if quantity.dimension.angle == 0 else text


def _plain(number: float, digits: int) -> str:
    text = f"{number:.{digits}f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def plain(figure: float, digits: int = 4) -> str:
    """A figure to so many digits as people write it: never by powers of ten, as ``:g`` does of large ones."""
    return _plain(float(f"{figure:.{digits}g}"), 6)
