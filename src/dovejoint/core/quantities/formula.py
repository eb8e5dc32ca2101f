"""Our formula grammar: numbers with units, names, + − × ÷ ^, brackets, comparison, functions.

::

    formula    := sum (("<" | "<=" | ">" | ">=" | "==" | "!=") sum)?
    sum        := product (("+" | "-") product)*
    product    := signed (("*" | "/") signed)*
    signed     := ("-" | "+") signed | power
    power      := atom ("^" signed)?
    atom       := number unit? | fraction unit | mixed | name | function "(" formula, … ")" | "(" formula ")" unit?
    fraction   := (integer " ")? integer "/" integer        as in "5/16 in" or "1 1/4 in"
    mixed      := integer " " integer "/" integer           as in "1 1/4", which nothing else could mean

``−``, ``×``, ``·`` and ``÷`` are read as ``-``, ``*``, ``*`` and ``/``. Dimensions are checked at every
operation; nothing is ever handed to the Python interpreter.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import lru_cache

from ..errors import FormulaError
from .units import ANGLE, NUMBER, UNITS, Dimension, Quantity

__all__ = ["FUNCTIONS", "Formula", "check_name", "evaluate", "names_in", "parse", "rename", "with_unit"]

MAX_CHARACTERS = 400
MAX_DEPTH = 40
LARGEST = 1e12
_UNIT = r"(?:mm|cm|m|in|deg|rad)(?![A-Za-z0-9_])|[°\"″]"
_TOKEN = re.compile(
    rf"""\s*(?:
      (?P<fraction>(?:\d+[ ]+)?\d+/\d+(?=\s*(?:{_UNIT}))|\d+[ ]+\d+/\d+(?!\.?\d))
    | (?P<number>(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)
    | (?P<unit>{_UNIT})
    | (?P<name>[A-Za-z_][A-Za-z0-9_]*)
    | (?P<op><=|>=|==|!=|[-+*/^(),<>])
    )""",
    re.VERBOSE,
)
_SWAPS = str.maketrans({"−": "-", "–": "-", "×": "*", "·": "*", "÷": "/"})


@dataclass(frozen=True)
class _Token:
    kind: str
    text: str
    at: int


@dataclass(frozen=True)
class Formula:
    """A node of the parsed tree: ``op`` with its ``args``, or a literal or a name.

    ``op`` is one of ``number``, ``name``, ``call``, ``neg``, ``unit`` or an operator sign.
    """

    op: str
    args: tuple[Formula, ...] = ()
    text: str = ""
    quantity: Quantity | None = None
    at: int = 0


def _tokens(source: str) -> list[_Token]:
    text = source.translate(_SWAPS)
    out: list[_Token] = []
    at = 0
    while at < len(text):
        if text[at:].strip() == "":
            break
        match = _TOKEN.match(text, at)
        if match is None:
            bad = text[at:].strip()[0]
            raise FormulaError(f"“{source.strip()}” has a sign that formulas don't know: “{bad}”.")
        kind = match.lastgroup or ""
        if kind == "fraction" and out and out[-1].text in ("/", "^"):
            # "10/5/16 in" would be read two ways: say so rather than guess
            raise FormulaError(f"“{source.strip()}” can be read two ways; put brackets round the fraction.")
        out.append(_Token(kind, match.group(kind), match.start(kind)))
        at = match.end()
    return out


class _Parser:
    def __init__(self, source: str) -> None:
        self.source = source.strip()
        self.tokens = _tokens(source)
        self.pos = 0
        self.depth = 0

    def fail(self, what: str) -> FormulaError:
        return FormulaError(f"“{self.source}” cannot be read: {what}.")

    def peek(self) -> str:
        return self.tokens[self.pos].text if self.pos < len(self.tokens) else ""

    def kind(self) -> str:
        return self.tokens[self.pos].kind if self.pos < len(self.tokens) else "end"

    def take(self) -> _Token:
        token = self.tokens[self.pos]
        self.pos += 1
        return token

    def expect(self, sign: str) -> None:
        if self.peek() != sign:
            found = f"“{self.peek()}”" if self.peek() else "nothing"
            raise self.fail(f"expected “{sign}” and found {found}")
        self.pos += 1

    def formula(self) -> Formula:
        self.depth += 1
        if self.depth > MAX_DEPTH:
            raise self.fail("it is nested too deeply")
        left = self.sum()
        if self.peek() in ("<", "<=", ">", ">=", "==", "!="):
            sign = self.take()
            left = Formula(sign.text, (left, self.sum()), at=sign.at)
        self.depth -= 1
        return left

    def sum(self) -> Formula:
        left = self.product()
        while self.kind() == "op" and self.peek() in "+-":
            sign = self.take()
            left = Formula(sign.text, (left, self.product()), at=sign.at)
        return left

    def product(self) -> Formula:
        left = self.signed()
        while self.kind() == "op" and self.peek() in "*/":
            sign = self.take()
            left = Formula(sign.text, (left, self.signed()), at=sign.at)
        return left

    def signed(self) -> Formula:
        if self.kind() == "op" and self.peek() in "+-":
            sign = self.take()
            self.depth += 1
            if self.depth > MAX_DEPTH:
                raise self.fail("it is nested too deeply")
            inner = self.signed()
            self.depth -= 1
            return Formula("neg", (inner,), at=sign.at) if sign.text == "-" else inner
        return self.power()

    def power(self) -> Formula:
        base = self.atom()
        if self.peek() == "^":
            sign = self.take()
            return Formula("^", (base, self.signed()), at=sign.at)
        return base

    def atom(self) -> Formula:
        kind = self.kind()
        if kind == "number":
            token = self.take()
            number = float(token.text)
            node = Formula("number", quantity=Quantity(number, NUMBER), text=token.text, at=token.at)
            return self.unit_after(node)
        if kind == "fraction":
            token = self.take()
            whole, _, ratio = token.text.rpartition(" ")
            top, bottom = ratio.split("/")
            if int(bottom) == 0:
                raise self.fail("it divides by zero")
            number = float(whole.strip() or 0) + int(top) / int(bottom)
            node = Formula("number", quantity=Quantity(number, NUMBER), text=token.text, at=token.at)
            return self.unit_after(node)
        if kind == "name":
            token = self.take()
            if self.peek() == "(":
                return self.call(token)
            if token.text == "pi":
                return Formula("number", quantity=Quantity(math.pi, NUMBER), text="pi", at=token.at)
            if token.text in FUNCTIONS:
                raise self.fail(f"the function {token.text} needs its brackets")
            return Formula("name", text=token.text, at=token.at)
        if self.peek() == "(":
            self.take()
            inner = self.formula()
            self.expect(")")
            return self.unit_after(inner)
        if kind == "unit":
            raise self.fail(f"the unit “{self.peek()}” has no number before it")
        raise self.fail("something is missing at the end" if kind == "end" else f"“{self.peek()}” cannot stand there")

    def unit_after(self, node: Formula) -> Formula:
        if self.kind() == "unit":
            token = self.take()
            return Formula("unit", (node,), text=token.text, at=token.at)
        return node

    def call(self, name: _Token) -> Formula:
        if name.text not in FUNCTIONS:
            raise FormulaError(f"There is no function “{name.text}”; there are {', '.join(sorted(FUNCTIONS))}.")
        self.expect("(")
        args: list[Formula] = []
        if self.peek() != ")":
            args.append(self.formula())
            while self.peek() == ",":
                self.take()
                args.append(self.formula())
        self.expect(")")
        low, high = FUNCTIONS[name.text].arity
        if not low <= len(args) <= high:
            wanted = str(low) if low == high else f"{low} to {high}" if high < 99 else f"at least {low}"
            raise FormulaError(f"{name.text}(…) takes {wanted} figures, and {len(args)} are given.")
        return Formula("call", tuple(args), text=name.text, at=name.at)


@lru_cache(4096)
def parse(source: str) -> Formula:
    """Read a formula into its tree.

    Raises
    ------
    FormulaError : with a sentence that names the place.
    """
    if not source or not source.strip():
        raise FormulaError("A formula is missing.")
    if len(source) > MAX_CHARACTERS:
        raise FormulaError(f"A formula may have {MAX_CHARACTERS} signs; this one has {len(source)}.")
    parser = _Parser(source)
    tree = parser.formula()
    if parser.pos < len(parser.tokens):
        raise parser.fail(f"“{parser.peek()}” is left over")
    return tree


def names_in(tree: Formula) -> set[str]:
    """All value names that a formula uses."""
    found: set[str] = {tree.text} if tree.op == "name" else set()
    for arg in tree.args:
        found |= names_in(arg)
    return found


def rename(source: str, old: str, new: str) -> str:
    """The same formula with the value *old* called *new*, everything else as it was typed."""
    try:
        tokens = _tokens(source)
    except FormulaError:
        return source
    out, at = "", 0
    for i, token in enumerate(tokens):
        is_call = i + 1 < len(tokens) and tokens[i + 1].text == "("
        if token.kind == "name" and token.text == old and not is_call:
            out += source[at : token.at] + new
            at = token.at + len(old)
    return out + source[at:]


def check_name(name: str) -> str:
    """A name that formulas can use, or an error that says what is wrong with it."""
    name = name.strip()
    if not re.fullmatch(r"[A-Za-z_][A-Za-z0-9_]{0,39}", name):
        raise FormulaError(
            f"“{name[:40]}” cannot be a value's name: use letters, digits and _, starting with a letter."
        )
    if name in UNITS or name in FUNCTIONS or name == "pi":
        raise FormulaError(f"“{name}” means something in formulas already; choose another name.")
    return name


def with_unit(source: str, dimension: Dimension, unit: str = "mm") -> str:
    """Give a bare number the unit of its field: ``12`` typed where a length goes is ``12 mm``."""
    if dimension == NUMBER:
        return source.strip()
    try:
        tree = parse(source)
    except FormulaError:
        return source.strip()
    bare = tree.args[0] if tree.op == "neg" else tree
    if bare.op == "number" and bare.text != "pi":
        return f"{source.strip()} {unit if dimension.length else 'deg'}"
    return source.strip()


def evaluate(source: str | Formula, values: Mapping[str, Quantity], expect: Dimension | None = None) -> Quantity:
    """Compute a formula.

    Parameters
    ----------
    source : formula as text or as tree.
    values : the named values it may use.
    expect : the dimension that the field needs; ``None`` takes any.

    Returns
    -------
    Quantity in mm, rad and their products.

    Raises
    ------
    FormulaError : unreadable, unknown name, units that do not go together, division by zero, overflow.
    """
    text = source if isinstance(source, str) else ""
    try:
        tree = parse(source) if isinstance(source, str) else source
        result = _value(tree, values)
        if expect is not None and result.dimension != expect:
            shown = f"“{text.strip()}” is" if text else "That is"
            raise FormulaError(f"{shown} {result.dimension}, where {expect} is needed.")
    except FormulaError as error:
        better = _better(text, values, expect)
        if not better:
            raise
        raise FormulaError(f"{error.message.removesuffix('.')}; “{better}” would do.", where=error.where) from None
    return result


def _better(text: str, values: Mapping[str, Quantity], expect: Dimension | None) -> str:
    """The formula that was probably meant: with a point for a comma, or with the unit that a bare figure lacks; else nothing."""
    pointed = re.sub(r"(?<=\d),(?=\d)", ".", text) if "(" not in text else text
    units = ("deg",) if expect == ANGLE else ("mm",)
    bare = list(re.finditer(r"(?<![\w.^])\d+(?:\.\d+)?(?![\w.]|\s*[A-Za-z_°])", pointed))[:12]
    spans = [[m] for m in bare] + ([bare] if len(bare) > 1 else [])
    tries = [pointed] if pointed != text else []
    for unit in units:
        for some in spans:
            changed = pointed
            for found in reversed(some):
                changed = f"{changed[: found.end()]} {unit}{changed[found.end() :]}"
            tries.append(changed)
    for candidate in tries:
        try:
            result = _value(parse(candidate), values)
        except FormulaError:
            continue
        if expect is None or result.dimension == expect:
            return _spaced(candidate.strip())
    return ""


def _spaced(text: str) -> str:
    """With room round plus and minus, as it is read best."""
    return re.sub(r"(?<=[\w)])\s*([+-])\s*(?=[\w(.])", r" \1 ", text)


def _value(node: Formula, values: Mapping[str, Quantity]) -> Quantity:
    result = _node(node, values)
    if not math.isfinite(result.value) or abs(result.value) > LARGEST:
        raise FormulaError("The formula gives a figure that is too large or no number at all.")
    return result


def _node(node: Formula, values: Mapping[str, Quantity]) -> Quantity:
    if node.op == "number":
        assert node.quantity is not None
        return node.quantity
    if node.op == "name":
        if node.text not in values:
            raise FormulaError(f"There is no value called “{node.text}”.", where=node.text)
        return values[node.text]
    if node.op == "unit":
        inner = _value(node.args[0], values)
        factor, dimension = UNITS[node.text]
        if inner.dimension != NUMBER:
            raise FormulaError(f"The unit “{node.text}” stands after {inner.dimension}, which has a unit already.")
        return Quantity(inner.value * factor, dimension)
    if node.op == "call":
        return FUNCTIONS[node.text].compute(node.text, [_value(arg, values) for arg in node.args])
    if node.op == "neg":
        inner = _value(node.args[0], values)
        return Quantity(-inner.value, inner.dimension)
    left, right = (_value(arg, values) for arg in node.args)
    return _operate(node.op, left, right)


def _operate(op: str, left: Quantity, right: Quantity) -> Quantity:
    if op == "*":
        return Quantity(left.value * right.value, left.dimension * right.dimension)
    if op == "/":
        if right.value == 0:
            raise FormulaError("The formula divides by zero.")
        return Quantity(left.value / right.value, left.dimension / right.dimension)
    if op == "^":
        if right.dimension != NUMBER:
            raise FormulaError(f"An exponent must be a plain number; this one is {right.dimension}.")
        try:
            power = left.value**right.value
        except (OverflowError, ZeroDivisionError):
            power = math.inf
        if isinstance(power, complex):
            raise FormulaError("A negative figure cannot be raised to a broken power.")
        return Quantity(power, left.dimension**right.value)
    if left.dimension != right.dimension:
        verb = {"+": "added to", "-": "taken from"}.get(op, "compared with")
        first, second = (right, left) if op in "+-" else (left, right)
        raise FormulaError(f"Units do not go together: {first.dimension} cannot be {verb} {second.dimension}.")
    if op == "+":
        return Quantity(left.value + right.value, left.dimension)
    if op == "-":
        return Quantity(left.value - right.value, left.dimension)
    truth = {
        "<": left.value < right.value,
        "<=": left.value <= right.value,
        ">": left.value > right.value,
        ">=": left.value >= right.value,
        "==": left.value == right.value,
        "!=": left.value != right.value,
    }[op]
    return Quantity(1.0 if truth else 0.0, NUMBER)


@dataclass(frozen=True)
class _Function:
    arity: tuple[int, int]
    compute: Callable[[str, list[Quantity]], Quantity]


def _same(name: str, args: list[Quantity]) -> Dimension:
    for arg in args[1:]:
        if arg.dimension != args[0].dimension:
            raise FormulaError(f"{name}(…) needs figures of one kind, not {args[0].dimension} and {arg.dimension}.")
    return args[0].dimension


def _alike(pick: Callable[[list[float]], float]) -> Callable[[str, list[Quantity]], Quantity]:
    return lambda name, args: Quantity(pick([a.value for a in args]), _same(name, args))


def _trig(func: Callable[[float], float]) -> Callable[[str, list[Quantity]], Quantity]:
    def compute(name: str, args: list[Quantity]) -> Quantity:
        if args[0].dimension != ANGLE:
            raise FormulaError(f"{name}(…) needs an angle such as 30 deg, not {args[0].dimension}.")
        return Quantity(func(args[0].value), NUMBER)

    return compute


def _arc(func: Callable[[float], float]) -> Callable[[str, list[Quantity]], Quantity]:
    def compute(name: str, args: list[Quantity]) -> Quantity:
        if args[0].dimension != NUMBER:
            raise FormulaError(f"{name}(…) needs a plain number, not {args[0].dimension}.")
        try:
            return Quantity(func(args[0].value), ANGLE)
        except ValueError:
            raise FormulaError(
                f"{name}({args[0].value:g}) has no angle: the figure must lie between -1 and 1."
            ) from None

    return compute


def _root(name: str, args: list[Quantity]) -> Quantity:
    if args[0].value < 0:
        raise FormulaError("A negative figure has no square root.")
    return Quantity(math.sqrt(args[0].value), args[0].dimension ** 0.5)


def _stepped(func: Callable[[float], float]) -> Callable[[str, list[Quantity]], Quantity]:
    def whole(ratio: float) -> float:
        # a tiny relative allowance keeps 2.1/0.15 = 14.000000000000002 from being counted as 15
        nearest = round(ratio)
        return float(nearest if abs(ratio - nearest) < 1e-9 * max(1.0, abs(ratio)) else func(ratio))

    def compute(name: str, args: list[Quantity]) -> Quantity:
        if len(args) == 1:
            if args[0].dimension != NUMBER:
                raise FormulaError(f"{name}(…) of {args[0].dimension} needs a step, as in {name}(x, 0.1 mm).")
            return Quantity(whole(args[0].value), NUMBER)
        dimension = _same(name, args)
        if args[1].value == 0:
            raise FormulaError(f"{name}(…) cannot go in steps of zero.")
        return Quantity(whole(args[0].value / args[1].value) * args[1].value, dimension)

    return compute


def _choose(name: str, args: list[Quantity]) -> Quantity:
    if args[0].dimension != NUMBER:
        raise FormulaError("if(…) needs a comparison first, as in if(wall > 2 mm, 1, 2).")
    _same(name, args[1:])
    return args[1] if args[0].value else args[2]


def _angle_of(name: str, args: list[Quantity]) -> Quantity:
    _same(name, args)
    return Quantity(math.atan2(args[0].value, args[1].value), ANGLE)


FUNCTIONS: dict[str, _Function] = {
    "sqrt": _Function((1, 1), _root),
    "abs": _Function((1, 1), _alike(lambda v: abs(v[0]))),
    "min": _Function((1, 99), _alike(min)),
    "max": _Function((1, 99), _alike(max)),
    "hypot": _Function((2, 99), _alike(lambda v: math.hypot(*v))),
    "round": _Function((1, 2), _stepped(lambda x: math.floor(x + 0.5))),
    "floor": _Function((1, 2), _stepped(math.floor)),
    "ceil": _Function((1, 2), _stepped(math.ceil)),
    "sin": _Function((1, 1), _trig(math.sin)),
    "cos": _Function((1, 1), _trig(math.cos)),
    "tan": _Function((1, 1), _trig(math.tan)),
    "asin": _Function((1, 1), _arc(math.asin)),
    "acos": _Function((1, 1), _arc(math.acos)),
    "atan": _Function((1, 1), _arc(math.atan)),
    "atan2": _Function((2, 2), _angle_of),
    "if": _Function((3, 3), _choose),
}
