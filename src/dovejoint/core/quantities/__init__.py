"""Units, formulas and the value table."""

from .formula import Formula, evaluate, names_in, parse, rename, with_unit
from .table import ValueResult, evaluate_table
from .tolerance import STATES, Limited, State, limited, said_tolerance
from .units import ANGLE, LENGTH, NUMBER, Dimension, Quantity, plain, show

__all__ = [
    "ANGLE",
    "LENGTH",
    "NUMBER",
    "STATES",
    "Dimension",
    "Formula",
    "Limited",
    "Quantity",
    "State",
    "ValueResult",
    "evaluate",
    "evaluate_table",
    "limited",
    "names_in",
    "parse",
    "plain",
    "rename",
    "said_tolerance",
    "show",
    "with_unit",
]
