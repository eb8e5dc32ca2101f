"""Units, formulas and the value table."""

from .formula import Formula, evaluate, names_in, parse, rename, with_unit
from .table import ValueResult, evaluate_table
from .units import ANGLE, LENGTH, NUMBER, Dimension, Quantity, show

__all__ = [
    "ANGLE",
    "LENGTH",
    "NUMBER",
    "Dimension",
    "Formula",
    "Quantity",
    "ValueResult",
    "evaluate",
    "evaluate_table",
    "names_in",
    "parse",
    "rename",
    "show",
    "with_unit",
]
