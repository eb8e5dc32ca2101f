"""Equations of few unknowns that are rarely needed: places on ellipses and splines, their tangents, curvature and lengths.

Each is a plain function of its unknowns, written so that it can be taken at complex places: with a step of i·10⁻³⁰ the imaginary
part of the outcome is its derivative to the last digit (W. Squire and G. Trapp, *Using Complex Variables to Estimate Derivatives of
Real Functions*, SIAM Review 40, 1998), which no difference of two values gives.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

__all__ = [
    "Special", "bend_of", "bezier_at", "bezier_touches_line", "bezier_touches_round", "derivatives", "ellipse_at", "equal_bend",
    "length_of", "nearest_on_bezier", "nearest_on_ellipse", "on_bezier", "on_ellipse", "slope_at", "total_length", "touches_ellipse",
]  # fmt: skip

#: arrays of unknowns along the first axis; real, or complex with a step in each along the second
Values = Any
_STEP = 1e-30
#: Gauss–Legendre of 12 places: the length of a stretch without a sharp bend to a millionth or better
_AT, _SHARE = np.polynomial.legendre.leggauss(12)


class Special(NamedTuple):
    """``of`` are the unknowns' places in the whole; ``left`` gives the residuals (mm) along the first axis."""

    of: list[int]
    left: Callable[[Values], Values]
    owner: str


def derivatives(special: Special, x: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Residuals, and their derivatives by the unknowns (a row each)."""
    stepped = x[:, None] + 1j * _STEP * np.eye(len(x))
    out = np.atleast_2d(special.left(stepped))
    return np.nan_to_num(out[:, 0].real), np.nan_to_num(out.imag / _STEP)


def _size(x: Values, y: Values) -> Values:
    """A length; so little is added that one of nothing still has a slope that is a figure."""
    return np.sqrt(x * x + y * y + 1e-24)


def _angle(x: Values, y: Values) -> Values:
    """atan2 that lets a complex step through."""
    angle = np.arctan2(y.real, x.real)
    if not np.iscomplexobj(x):
        return angle
    return angle + 1j * (x.real * y.imag - y.real * x.imag) / np.maximum(x.real**2 + y.real**2, 1e-300)


def bezier_at(poles: Values, t: Values) -> tuple[Values, Values]:
    """A place on a cubic Bézier whose poles are x0, y0 … y3."""
    s = 1 - t
    shares = (s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t)
    return sum(b * poles[2 * k] for k, b in enumerate(shares)), sum(b * poles[2 * k + 1] for k, b in enumerate(shares))


def on_bezier(scale: float) -> Callable[[Values], Values]:
    """Unknowns: the point's x, y; how far along, times ``scale`` (mm); the poles' x0 … y3."""

    def left(v: Values) -> Values:
        x, y = bezier_at(v[3:11], v[2] / scale)
        return np.array([v[0] - x, v[1] - y])

    return left


def nearest_on_bezier(poles: NDArray[np.float64], x: float, y: float) -> tuple[float, float]:
    """How far along (0 to 1) the nearest place of a cubic lies, and how far away it is, mm."""
    t = np.linspace(0, 1, 65)
    for _ in range(4):
        bx, by = bezier_at(poles, t)
        away = np.hypot(bx - x, by - y)
        best = int(np.argmin(away))
        low, high = t[max(best - 1, 0)], t[min(best + 1, len(t) - 1)]
        found = float(t[best]), float(away[best])
        t = np.linspace(low, high, 33)
    return found


def ellipse_at(c: Values, angle: Values) -> tuple[Values, Values]:
    """A place on an ellipse; ``c`` holds the centre, the end of its first half axis, and the second half axis (mm)."""
    ax, ay = c[2] - c[0], c[3] - c[1]
    a = _size(ax, ay)
    cos, sin = np.cos(angle), np.sin(angle) * c[4] / a
    return c[0] + cos * ax - sin * ay, c[1] + cos * ay + sin * ax


def on_ellipse(scale: float) -> Callable[[Values], Values]:
    """Unknowns: the point's x, y; the angle on the ellipse, times ``scale`` (mm); centre, first half axis' end, second half axis."""

    def left(v: Values) -> Values:
        x, y = ellipse_at(v[3:8], v[2] / scale)
        return np.array([v[0] - x, v[1] - y])

    return left


def slope_at(poles: Values, t: Values) -> tuple[Values, Values]:
    """The derivative of a cubic Bézier whose poles are x0, y0 … y3."""
    s = 1 - t
    weights = (-3 * s * s, 3 * s * s - 6 * s * t, 6 * s * t - 3 * t * t, 3 * t * t)
    return sum(w * poles[2 * k] for k, w in enumerate(weights)), sum(
        w * poles[2 * k + 1] for k, w in enumerate(weights)
    )


def bezier_touches_line(scale: float) -> Callable[[Values], Values]:
    """Unknowns: how far along, times ``scale`` (mm); the poles' x0 … y3; the ends of the line. The place lies on the line and runs
    along it."""

    def left(v: Values) -> Values:
        (x, y), (dx, dy) = bezier_at(v[1:9], v[0] / scale), slope_at(v[1:9], v[0] / scale)
        ux, uy = v[11] - v[9], v[12] - v[10]
        size = _size(ux, uy)
        off = (ux * (y - v[10]) - uy * (x - v[9])) / size
        return np.array([off, (ux * dy - uy * dx) / size / _size(dx, dy) * scale])

    return left


def bezier_touches_round(scale: float) -> Callable[[Values], Values]:
    """Unknowns: how far along, times ``scale`` (mm); the poles' x0 … y3; centre and radius. The place lies on the rim and runs square
    to the radius."""

    def left(v: Values) -> Values:
        (x, y), (dx, dy) = bezier_at(v[1:9], v[0] / scale), slope_at(v[1:9], v[0] / scale)
        wx, wy = x - v[9], y - v[10]
        size = _size(wx, wy)
        return np.array([size - v[11], (wx * dx + wy * dy) / size / _size(dx, dy) * scale])

    return left


def nearest_on_ellipse(c: NDArray[np.float64], x: float, y: float) -> float:
    """The angle on an ellipse that belongs to the place nearest to a point."""
    angles = np.linspace(0, 2 * math.pi, 361)
    px, py = ellipse_at(c, angles)
    return float(angles[int(np.argmin(np.hypot(px - x, py - y)))])


def touches_ellipse(side: float) -> Callable[[Values], Values]:
    """Unknowns: the ends of the line, then the ellipse as in ``ellipse_at``. Its reach square to the line, sqrt((n·a)² + (n·b)²),
    is what the centre is away from the line."""

    def left(v: Values) -> Values:
        dx, dy = v[2] - v[0], v[3] - v[1]
        size = _size(dx, dy)
        nx, ny = -dy / size, dx / size
        ax, ay = v[6] - v[4], v[7] - v[5]
        a = _size(ax, ay)
        along, across = nx * ax + ny * ay, (ny * ax - nx * ay) / a * v[8]
        return np.array([side * (nx * (v[4] - v[0]) + ny * (v[5] - v[1])) - _size(along, across)])

    return left


def length_of(v: Values) -> Values:
    """The length of a stretch: two places of a line, centre, start and end of an arc, or four poles of a cubic (mm)."""
    if len(v) == 4:
        return _size(v[2] - v[0], v[3] - v[1])
    if len(v) == 6:
        turn = _angle(v[4] - v[0], v[5] - v[1]) - _angle(v[2] - v[0], v[3] - v[1])
        turn = turn + 2 * math.pi * (np.real(turn) <= 0)
        return _size(v[2] - v[0], v[3] - v[1]) * turn
    total = 0.0 * v[0]
    for at, share in zip((_AT + 1) / 2, _SHARE / 2, strict=True):
        total = total + share * _size(*slope_at(v, at))
    return total


def total_length(counts: Sequence[int], goal_mm: float) -> Callable[[Values], Values]:
    """``counts`` says how many unknowns each stretch has; 1 is the radius of a whole circle."""

    def left(v: Values) -> Values:
        total, at = 0.0 * v[0] - goal_mm, 0
        for count in counts:
            piece = v[at : at + count]
            total = total + (2 * math.pi * piece[0] if count == 1 else length_of(piece))
            at += count
        return np.array([total])

    return left


def bend_of(kind: str, v: Values, scale: float) -> Values:
    """The curvature of a curve as one leaves along it, times ``scale``² (mm), left turns positive.

    A line has none; ``arc`` is its centre and the place, and turns left; ``back`` the same, left backwards; ``cubic`` is the place,
    its handle, and the handle after that: 2/3 · (d₁ × d₂) / |d₁|³ (G. Farin, *Curves and Surfaces for CAGD*).
    """
    if kind == "line":
        return 0.0 * v[0]
    if kind in ("arc", "back"):
        bend = scale**2 / _size(v[2] - v[0], v[3] - v[1])
        return bend if kind == "arc" else -bend
    dx, dy, ex, ey = v[2] - v[0], v[3] - v[1], v[4] - v[2], v[5] - v[3]
    return 2 / 3 * (dx * ey - dy * ex) / _size(dx, dy) ** 3 * scale**2


def equal_bend(first: str, count: int, second: str, sign: float, scale: float) -> Callable[[Values], Values]:
    """Two curves that leave a place bend alike there; ``sign`` −1 when they leave in opposite ways."""

    def left(v: Values) -> Values:
        return np.array([bend_of(first, v[:count], scale) - sign * bend_of(second, v[count:], scale)])

    return left
