"""Tolerances as people write them: symmetric, upper and lower, limits, or an ISO 286 zone; and the limit states."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from ..errors import FormulaError
from .formula import evaluate, with_unit
from .iso286 import limits_of
from .units import LENGTH, Quantity

__all__ = ["STATES", "Limited", "State", "limited", "said_tolerance"]

State = Literal["lower", "nominal", "mid", "upper"]
STATES: tuple[State, ...] = ("lower", "nominal", "mid", "upper")

_ZONE = re.compile(r"[A-Za-z]{1,2}\d{1,2}$")


@dataclass(frozen=True)
class Limited:
    """A nominal figure with its deviations (mm or rad); ``lower`` ≤ ``upper``, and either may have any sign."""

    nominal: float
    lower: float
    upper: float

    def at(self, state: State) -> float:
        """The figure in a limit state."""
        return self.nominal + self.deviation(state)

    def deviation(self, state: State) -> float:
        match state:
            case "lower":
                return self.lower
            case "upper":
                return self.upper
            case "mid":
                return (self.lower + self.upper) / 2
        return 0.0


def limited(text: str, nominal: Quantity, unit: str = "mm") -> Limited:
    """Read a tolerance of a figure.

    Parameters
    ----------
    text : ``±0.1``, ``+0.2 -0.1``, ``24.9 .. 25.1`` or a zone such as ``H8`` (lengths only). Bare figures are in ``unit``.

    Raises
    ------
    FormulaError : it is none of these, its unit is of another kind, or upper and lower are the wrong way round.
    """
    text = text.strip().replace("−", "-").replace("–", "-")
    if _ZONE.match(text):
        if nominal.dimension != LENGTH:
            raise FormulaError(f"The zone “{text}” is for lengths, and this is {nominal.dimension}.")
        zone = limits_of(nominal.value, text)
        return Limited(nominal.value, zone.lower_um / 1000, zone.upper_um / 1000)
    for sign in ("±", "+/-", "+-"):
        if text.startswith(sign):
            half = _figure(text[len(sign) :], nominal, unit, text)
            if half < 0:
                raise FormulaError(f"“{text}” has two signs; write ±{abs(half):.4g}.")
            return Limited(nominal.value, -half, half)
    if ".." in text or " to " in text:
        low, high = (_figure(t, nominal, unit, text) for t in re.split(r"\.\.\.?| to ", text, maxsplit=1))
        return _ordered(nominal.value, low - nominal.value, high - nominal.value, text)
    pair = _pair(text)
    if pair is None:
        raise FormulaError(f"“{text}” is no tolerance; write ±0.1, +0.2 -0.1, 24.9 .. 25.1 or a zone such as H8.")
    first, second = (_figure(t, nominal, unit, text) for t in pair)
    return _ordered(nominal.value, min(first, second), max(first, second), text)


def _pair(text: str) -> tuple[str, str] | None:
    """Two signed figures: ``+0.2 -0.1``, ``+0.2/-0.1``, ``0 -0.2``."""
    signed = re.findall(r"[+-]\s*[\d.,]+\s*(?:[a-z]+)?|\b0\b", text)
    rest = re.sub(r"[+-]\s*[\d.,]+\s*(?:[a-z]+)?|\b0\b|[/\s]", "", text)
    return (signed[0], signed[1]) if len(signed) == 2 and not rest else None


def _ordered(nominal: float, lower: float, upper: float, text: str) -> Limited:
    if lower > upper:
        raise FormulaError(f"“{text}” has its lower limit above its upper one.")
    return Limited(nominal, lower, upper)


def _figure(text: str, nominal: Quantity, unit: str, whole: str) -> float:
    try:
        text = text.strip().lstrip("+").strip()
        return evaluate(with_unit(text, nominal.dimension, unit), {}, nominal.dimension).value
    except FormulaError:
        raise FormulaError(
            f"“{whole}” is no tolerance; write ±0.1, +0.2 -0.1, 24.9 .. 25.1 or a zone such as H8."
        ) from None


def said_tolerance(limits: Limited, scale: float = 1.0) -> str:
    """Deviations in words: ``±0.1`` or ``+0.2 −0.1``; ``scale`` turns them into the unit to show."""
    lower, upper = limits.lower / scale, limits.upper / scale
    if abs(lower + upper) < 1e-9:
        return f"±{upper:.4g}"
    return f"{upper:+.4g} {lower:+.4g}".replace("-", "−")
