"""ISO 286 tolerance zones for sizes to 500 mm: limit deviations of shafts and holes, and the fits between them.

Source: ISO 286-1 (standard tolerances IT, fundamental deviations, the Δ rule) and ISO 286-2 (limit deviations), at 20 °C. Where the
defining formulas and the standard's rounded tables differ, the tables count. Bands are (over, up to and including].
Left out, because they are not settled here: letters cd, ef, fg and j, K and M above IT8, sizes over 500 mm.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from dataclasses import dataclass
from typing import Literal

from ..errors import FormulaError

__all__ = ["Fit", "Limits", "fit_of", "limits_of"]

#: upper ends of the main bands, mm, and the standard tolerances in µm for each (ISO 286-1, table 1)
_BANDS_MM = (3, 6, 10, 18, 30, 50, 80, 120, 180, 250, 315, 400, 500)
_IT_UM: dict[int, tuple[float, ...]] = {
    5: (4, 5, 6, 8, 9, 11, 13, 15, 18, 20, 23, 25, 27),
    6: (6, 8, 9, 11, 13, 16, 19, 22, 25, 29, 32, 36, 40),
    7: (10, 12, 15, 18, 21, 25, 30, 35, 40, 46, 52, 57, 63),
    8: (14, 18, 22, 27, 33, 39, 46, 54, 63, 72, 81, 89, 97),
    9: (25, 30, 36, 43, 52, 62, 74, 87, 100, 115, 130, 140, 155),
    10: (40, 48, 58, 70, 84, 100, 120, 140, 160, 185, 210, 230, 250),
    11: (60, 75, 90, 110, 130, 160, 190, 220, 250, 290, 320, 360, 400),
    12: (100, 120, 150, 180, 210, 250, 300, 350, 400, 460, 520, 570, 630),
    13: (140, 180, 220, 270, 330, 390, 460, 540, 630, 720, 810, 890, 970),
    14: (250, 300, 360, 430, 520, 620, 740, 870, 1000, 1150, 1300, 1400, 1550),
}  # fmt: skip
#: upper ends of the finer bands, mm, and the fundamental deviations of shafts in µm (ISO 286-1, tables 2 and 3): for a to g the
#: upper deviation, for k to zc the lower one (k holds for IT4 to IT7)
_FINE_MM = (
    3,
    6,
    10,
    14,
    18,
    24,
    30,
    40,
    50,
    65,
    80,
    100,
    120,
    140,
    160,
    180,
    200,
    225,
    250,
    280,
    315,
    355,
    400,
    450,
    500,
)
_DEVIATION_UM: dict[str, tuple[float | None, ...]] = {
    "a": (-270, -270, -280, -290, -290, -300, -300, -310, -320, -340, -360, -380, -410, -460, -520, -580, -660, -740, -820, -920, -1050, -1200, -1350, -1500, -1650),
    "b": (-140, -140, -150, -150, -150, -160, -160, -170, -180, -190, -200, -220, -240, -260, -280, -310, -340, -380, -420, -480, -540, -600, -680, -760, -840),
    "c": (-60, -70, -80, -95, -95, -110, -110, -120, -130, -140, -150, -170, -180, -200, -210, -230, -240, -260, -280, -300, -330, -360, -400, -440, -480),
    "d": (-20, -30, -40, -50, -50, -65, -65, -80, -80, -100, -100, -120, -120, -145, -145, -145, -170, -170, -170, -190, -190, -210, -210, -230, -230),
    "e": (-14, -20, -25, -32, -32, -40, -40, -50, -50, -60, -60, -72, -72, -85, -85, -85, -100, -100, -100, -110, -110, -125, -125, -135, -135),
    "f": (-6, -10, -13, -16, -16, -20, -20, -25, -25, -30, -30, -36, -36, -43, -43, -43, -50, -50, -50, -56, -56, -62, -62, -68, -68),
    "g": (-2, -4, -5, -6, -6, -7, -7, -9, -9, -10, -10, -12, -12, -14, -14, -14, -15, -15, -15, -17, -17, -18, -18, -20, -20),
    "k": (0, 1, 1, 1, 1, 2, 2, 2, 2, 2, 2, 3, 3, 3, 3, 3, 4, 4, 4, 4, 4, 4, 4, 5, 5),
    "m": (2, 4, 6, 7, 7, 8, 8, 9, 9, 11, 11, 13, 13, 15, 15, 15, 17, 17, 17, 20, 20, 21, 21, 23, 23),
    "n": (4, 8, 10, 12, 12, 15, 15, 17, 17, 20, 20, 23, 23, 27, 27, 27, 31, 31, 31, 34, 34, 37, 37, 40, 40),
    "p": (6, 12, 15, 18, 18, 22, 22, 26, 26, 32, 32, 37, 37, 43, 43, 43, 50, 50, 50, 56, 56, 62, 62, 68, 68),
    "r": (10, 15, 19, 23, 23, 28, 28, 34, 34, 41, 43, 51, 54, 63, 65, 68, 77, 80, 84, 94, 98, 108, 114, 126, 132),
    "s": (14, 19, 23, 28, 28, 35, 35, 43, 43, 53, 59, 71, 79, 92, 100, 108, 122, 130, 140, 158, 170, 190, 208, 232, 252),
    "t": (None, None, None, None, None, None, 41, 48, 54, 66, 75, 91, 104, 122, 134, 146, 166, 180, 196, 218, 240, 268, 294, 330, 360),
    "u": (18, 23, 28, 33, 33, 41, 48, 60, 70, 87, 102, 124, 144, 170, 190, 210, 236, 258, 284, 315, 350, 390, 435, 490, 540),
    "v": (None, None, None, None, 39, 47, 55, 68, 81, 102, 120, 146, 172, 202, 228, 252, 284, 310, 340, 385, 425, 475, 530, 595, 660),
    "x": (20, 28, 34, 40, 45, 54, 64, 80, 97, 122, 146, 178, 210, 248, 280, 310, 350, 385, 425, 475, 525, 590, 660, 740, 820),
    "y": (None, None, None, None, None, 63, 75, 94, 114, 144, 174, 214, 254, 300, 340, 380, 425, 470, 520, 580, 650, 730, 820, 920, 1000),
    "z": (26, 35, 42, 50, 60, 73, 88, 112, 136, 172, 210, 258, 310, 365, 415, 465, 520, 575, 640, 710, 790, 900, 1000, 1100, 1250),
    "za": (32, 42, 52, 64, 77, 98, 118, 148, 180, 226, 274, 335, 400, 470, 535, 600, 670, 740, 820, 920, 1000, 1150, 1300, 1450, 1600),
    "zb": (40, 50, 67, 90, 108, 136, 160, 200, 242, 300, 360, 445, 525, 620, 700, 780, 880, 960, 1050, 1200, 1300, 1500, 1650, 1850, 2100),
    "zc": (60, 80, 97, 130, 150, 188, 218, 274, 325, 405, 480, 585, 690, 800, 900, 1000, 1150, 1250, 1350, 1550, 1700, 1900, 2100, 2400, 2600),
}  # fmt: skip
#: Δ for holes K, M, N to IT8 and P to ZC to IT7, µm: IT(n) − IT(n−1) over 3 mm (ISO 286-1, 4.3.2.5)
_DELTA_UM: dict[int, tuple[float, ...]] = {
    5: (0, 1, 2, 3, 3, 4, 5, 5, 6, 6, 7, 7, 7),
    6: (0, 3, 3, 3, 4, 5, 6, 7, 7, 9, 9, 11, 13),
    7: (0, 4, 6, 7, 8, 9, 11, 13, 15, 17, 20, 21, 23),
    8: (0, 6, 7, 9, 12, 14, 16, 19, 23, 26, 29, 32, 34),
}  # fmt: skip
_NOT_USED = set("iloqw")
_UP_TO_G = set("abcdefg")


@dataclass(frozen=True)
class Limits:
    """Limit deviations from the nominal size, µm."""

    nominal_mm: float
    zone: str
    lower_um: float
    upper_um: float

    @property
    def low_mm(self) -> float:
        return self.nominal_mm + self.lower_um / 1000

    @property
    def high_mm(self) -> float:
        return self.nominal_mm + self.upper_um / 1000


@dataclass(frozen=True)
class Fit:
    """A hole with a shaft: clearances on diameter, µm; negative ones are interference."""

    hole: Limits
    shaft: Limits
    kind: Literal["clearance", "transition", "interference"]

    @property
    def least_um(self) -> float:
        return self.hole.lower_um - self.shaft.upper_um

    @property
    def most_um(self) -> float:
        return self.hole.upper_um - self.shaft.lower_um


def limits_of(nominal_mm: float, zone: str) -> Limits:
    """Limit deviations of a zone such as ``H7`` (a hole) or ``f7`` (a shaft).

    Raises
    ------
    FormulaError : the size or the zone is not in the tables; says which and why.
    """
    match = re.fullmatch(r"\s*([A-Za-z]{1,2})\s*(\d{1,2})\s*", zone)
    if match is None:
        raise FormulaError(f"“{zone}” is not a tolerance zone; write a letter and a grade, as in H7 or f7.")
    letter, grade = match.group(1), int(match.group(2))
    if not 0 < nominal_mm <= 500:
        raise FormulaError(f"Zones are tabled for sizes over 0 to 500 mm, and {nominal_mm:g} mm is not among them.")
    hole = letter.isupper()
    if not hole and not letter.islower():
        raise FormulaError(f"“{letter}” mixes large and small letters: large ones are holes, small ones shafts.")
    low = letter.lower()
    if set(low) & _NOT_USED:
        raise FormulaError(
            f"The letter “{letter}” is not used; i, l, o, q and w could be taken for figures or other letters."
        )
    if grade not in _IT_UM:
        raise FormulaError(f"Grades from 5 to 14 are tabled, not {grade}.")
    if low not in _DEVIATION_UM and low not in ("h", "js"):
        raise FormulaError(f"The zone “{letter}” is not tabled here.")
    if nominal_mm <= 1 and grade >= 14:
        raise FormulaError("Grades from 14 on are not used up to 1 mm.")
    if nominal_mm <= 1 and low in ("a", "b"):
        raise FormulaError(f"The zone “{letter}” is not used up to 1 mm.")
    band = bisect_left(_BANDS_MM, nominal_mm)
    it = _IT_UM[grade][band]
    lower, upper = _hole(nominal_mm, low, grade, band, it) if hole else _shaft(nominal_mm, low, grade, it)
    # -0.0 would print as such
    return Limits(nominal_mm, f"{letter}{grade}", lower + 0.0, upper + 0.0)


def _deviation(nominal_mm: float, letter: str) -> float:
    value = _DEVIATION_UM[letter][bisect_left(_FINE_MM, nominal_mm)]
    if value is None:
        raise FormulaError(f"The zone “{letter}” is not tabled for {nominal_mm:g} mm.")
    return value


def _shaft(nominal_mm: float, letter: str, grade: int, it: float) -> tuple[float, float]:
    if letter == "h":
        return -it, 0.0
    if letter == "js":
        return -it / 2, it / 2
    if letter in _UP_TO_G:
        upper = _deviation(nominal_mm, letter)
        return upper - it, upper
    lower = 0.0 if letter == "k" and grade > 7 else _deviation(nominal_mm, letter)
    return lower, lower + it


def _hole(nominal_mm: float, letter: str, grade: int, band: int, it: float) -> tuple[float, float]:
    if letter == "h":
        return 0.0, it
    if letter == "js":
        return -it / 2, it / 2
    if letter in _UP_TO_G:
        lower = -_deviation(nominal_mm, letter)
        return lower, lower + it
    if letter in ("k", "m", "n"):
        if letter == "n" and grade > 8:
            if nominal_mm <= 1:
                raise FormulaError("N above grade 8 is not used up to 1 mm.")
            upper = 0.0 if nominal_mm > 3 else -_deviation(nominal_mm, "n")
        elif grade > 8:
            raise FormulaError(f"{letter.upper()} above grade 8 is not tabled here.")
        elif letter == "m" and grade == 6 and 250 < nominal_mm <= 315:
            # the standard's one exception: the rule would give −11
            upper = -9.0
        else:
            upper = -_deviation(nominal_mm, letter) + _DELTA_UM[grade][band]
        return upper - it, upper
    upper = -_deviation(nominal_mm, letter) + (_DELTA_UM[grade][band] if grade <= 7 else 0.0)
    return upper - it, upper


def fit_of(nominal_mm: float, fit: str) -> Fit:
    """The fit of a hole and a shaft, such as ``H7/g6``. A least clearance of zero still counts as clearance.

    Raises
    ------
    FormulaError : it is not a hole and a shaft, or one of them is not tabled.
    """
    first, sign, second = fit.partition("/")
    if not sign or not first.strip()[:1].isupper() or not second.strip()[:1].islower():
        raise FormulaError(f"“{fit}” is not a fit; write the hole first, as in H7/g6.")
    hole, shaft = limits_of(nominal_mm, first), limits_of(nominal_mm, second)
    if hole.lower_um - shaft.upper_um >= 0:
        return Fit(hole, shaft, "clearance")
    return Fit(hole, shaft, "interference" if hole.upper_um - shaft.lower_um <= 0 else "transition")
