"""Formulas and the value table."""

from __future__ import annotations

import math
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dovejoint.core.errors import FormulaError
from dovejoint.core.quantities import (
    ANGLE,
    LENGTH,
    NUMBER,
    Dimension,
    Quantity,
    evaluate,
    evaluate_table,
    rename,
    show,
    with_unit,
)
from dovejoint.core.quantities.formula import check_name

KNOWN = {"wall": Quantity(1.7, LENGTH), "n": Quantity(4, NUMBER), "tilt": Quantity(math.radians(30), ANGLE)}


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("12 mm", 12),
        ("5/16 in", 7.9375),
        ("1 1/4 in", 31.75),
        ('1 1/4"', 31.75),
        ("3/8″ + 1 mm", 10.525),
        ("1 1/4 * 2 mm", 2.5),
        ("3 mm + 0.7 in", 20.78),
        ("-2.5mm", -2.5),
        ("wall * n - 0.8 mm", 6.0),
        ("(1 + 2) mm", 3),
        ("2 cm ÷ 4", 5),
        ("3 × wall", 5.1),
        ("wall^2 / wall", 1.7),
        ("sqrt(9 mm * 4 mm)", 6),
        ("hypot(3 mm, 4 mm)", 5),
        ("round(7.3 mm, 0.5 mm)", 7.5),
        ("min(4 mm, wall)", 1.7),
        ("if(wall > 1.5 mm, 2 mm, 3 mm)", 2),
        ("10 mm * sin(tilt)", 5),
        ("10 mm * cos(60 deg)", 5),
        (".5 mm", 0.5),
        ("1e1 mm", 10),
        ("10 mm - -2 mm", 12),
        ("2 mm * 2^3", 16),
        ("0.02 m", 20),
    ],
)
def test_lengths(text: str, mm: float) -> None:
    assert evaluate(text, KNOWN, LENGTH).value == pytest.approx(mm, abs=1e-12)


def test_precedence_and_angles() -> None:
    assert evaluate("-2^2", {}).value == -4
    assert evaluate("2^3^2", {}).value == 512
    assert evaluate("atan2(1 mm, 1 mm)", {}, ANGLE).value == pytest.approx(math.pi / 4)
    assert evaluate("ceil(2.1/0.15)", {}).value == 14, "floating point must not count one too many"
    assert evaluate("wall * wall", KNOWN).dimension == Dimension(2, 0)


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ("", "missing"),
        ("3 +", "missing at the end"),
        ("wall + 2", "cannot be added"),
        ("wal", "“wal”"),
        ("2 mm 3", "left over"),
        ("1 2 3/4", "left over"),
        ("1 1/0", "divides by zero"),
        ("sin(3)", "needs an angle"),
        ("foo(2)", "no function"),
        ("1/0", "divides by zero"),
        ("sqrt(-1)", "no square root"),
        ("(2", "expected “)”"),
        ("mm", "no number before"),
        ("10/5/16 in", "two ways"),
        ("1e400", "too large"),
        ("9^9^9^9", "too large"),
        ("2 $ 3", "“$”"),
        ("wall mm", "left over"),
        ("asin(2)", "between -1 and 1"),
        ("min()", "at least 1"),
        ("2^wall", "exponent"),
        ("(" * 60 + "1" + ")" * 60, "nested"),
        ("-" * 90 + "1", "nested"),
        ("1+" * 250 + "1", "400 signs"),
        ("__import__('os')", "“'”"),
        ("(-8)^(1/3)", "broken power"),
        ("1/0 mm", "divides by zero"),
    ],
)
def test_refusals_say_why(text: str, word: str) -> None:
    with pytest.raises(FormulaError) as caught:
        evaluate(text, KNOWN)
    assert word in caught.value.message


def test_dimension_is_asked_for() -> None:
    with pytest.raises(FormulaError, match="is an angle, where a length is needed"):
        evaluate("30 deg", {}, LENGTH)


def test_bare_numbers_take_the_unit_of_their_field() -> None:
    assert with_unit("12", LENGTH) == "12 mm"
    assert with_unit("-12", LENGTH, "in") == "-12 in"
    assert with_unit("1 1/16", LENGTH, "in") == "1 1/16 in"
    assert with_unit("30", ANGLE) == "30 deg"
    assert with_unit("n * 3", LENGTH) == "n * 3"
    assert with_unit("12", NUMBER) == "12"


def test_show() -> None:
    assert show(Quantity(25.4, LENGTH), "in") == "1 in"
    assert show(Quantity(-0.0, LENGTH)) == "0 mm"
    assert show(Quantity(math.pi / 6, ANGLE)) == "30 deg"
    assert show(Quantity(12.5, Dimension(2, 0))) == "12.5 mm²"


def test_table_goes_in_order_of_use_and_names_cycles() -> None:
    table = evaluate_table(
        [("b", "a * 2"), ("a", "3 mm"), ("x", "y"), ("y", "z"), ("z", "x"), ("w", "x + 1"), ("q", "a + 1")]
    )
    assert table["b"].quantity == Quantity(6, LENGTH)
    assert table["x"].error == "These values go round in a circle: x → y → z → x."
    assert table["w"].error == "It uses “x”, which has no figure."
    assert "cannot be added" in (table["q"].error or "")


def test_names() -> None:
    for bad in ("", "2a", "mm", "sin", "pi", "a b", "x" * 41, "é"):
        with pytest.raises(FormulaError):
            check_name(bad)
    assert rename("wall + sin(wall_2) * min(wall, 2)", "wall", "side") == "side + sin(wall_2) * min(side, 2)"


trees = st.recursive(
    st.integers(1, 50).map(lambda n: (str(n), Fraction(n))),
    lambda inner: st.tuples(st.sampled_from("+-*/"), inner, inner).map(
        lambda t: (f"({t[1][0]} {t[0]} {t[2][0]})", _combine(t[0], t[1][1], t[2][1]))
    ),
    max_leaves=12,
)


def _combine(sign: str, a: Fraction | None, b: Fraction | None) -> Fraction | None:
    if a is None or b is None or (sign == "/" and b == 0):
        return None
    return {"+": a + b, "-": a - b, "*": a * b, "/": a / b if b else a}[sign]


@given(trees)
def test_arithmetic_agrees_with_exact_fractions(tree: tuple[str, Fraction | None]) -> None:
    text, exact = tree
    if exact is None:
        with pytest.raises(FormulaError):
            evaluate(text, {})
    elif abs(exact) < 10**11 and exact != 0:
        assert evaluate(text, {}).value == pytest.approx(float(exact), rel=1e-9, abs=1e-9)


@given(st.text(max_size=60))
def test_any_text_is_read_or_refused_with_a_sentence(text: str) -> None:
    try:
        assert math.isfinite(evaluate(text, KNOWN).value)
    except FormulaError as error:
        assert error.message.endswith((".", "?"))
