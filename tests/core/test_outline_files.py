"""DXF and SVG outlines in and out: files as others write them, cleaned and measured by hand, and round trips."""

from __future__ import annotations

import math
import re
from typing import Any

import pytest
from building import Board

from dovejoint.core.errors import CommandError, FileError
from dovejoint.core.formats import outline_file, read_outline
from dovejoint.core.solid.outline import Arc, Bezier, Circle, Ellipse, Line


@pytest.fixture
def board(bench) -> Board:  # type: ignore[no-untyped-def]
    return Board(bench)


def svg(body: str, head: str = 'width="80mm" height="60mm" viewBox="0 0 80 60"') -> str:
    return f'<svg xmlns="http://www.w3.org/2000/svg" {head}>{body}</svg>'


def dxf(*entities: str, unit: int = 4) -> str:
    head = f"0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1009\n9\n$INSUNITS\n70\n{unit}\n0\nENDSEC\n"
    return head + "0\nSECTION\n2\nENTITIES\n" + "".join(entities) + "0\nENDSEC\n0\nEOF\n"


def line(a: float, b: float, c: float, d: float) -> str:
    return f"0\nLINE\n8\n0\n10\n{a}\n20\n{b}\n30\n0\n11\n{c}\n21\n{d}\n31\n0\n"


def test_a_shape_in_millimetres_becomes_a_region(board: Board) -> None:
    """A plate of 60 × 40 with rounded corners of 5 and a hole of 10, through the board's own regions."""
    body = '<rect x="10" y="10" width="60" height="40" rx="5"/><circle cx="40" cy="30" r="5"/>'
    found = read_outline("plate.svg", svg(body))
    assert (found.unit, found.closed, found.open) == ("pixel", 2, 0)
    assert (found.width_mm, found.height_mm) == pytest.approx((60, 40))
    assert sorted(c["kind"] for c in found.curves) == ["arc"] * 4 + ["circle"] + ["line"] * 4
    board.draw("PlaceOutline", curves=found.curves)
    plate = board.shape.regions[0]
    assert plate.area_mm2 == pytest.approx(60 * 40 - (4 - math.pi) * 25 - math.pi * 25)
    assert (board.shape.solution.freedom, board.shape.open_ends) == (0, [])
    # let go, it can be dragged and tied
    board.draw("PlaceOutline", curves=read_outline("hole.svg", svg('<circle cx="5" cy="5" r="4"/>')).curves, kept=False)
    assert board.shape.solution.freedom == 3


@pytest.mark.parametrize(
    ("head", "unit", "scale", "wide"),
    [
        ('width="80mm" height="60mm" viewBox="0 0 80 60"', "file", 1.0, 60.0),
        ('width="8cm" height="6cm" viewBox="0 0 800 600"', "file", 1.0, 6.0),
        ('viewBox="0 0 96 96" width="1in" height="1in"', "file", 1.0, 60 * 25.4 / 96),
        ("", "file", 2.0, 2 * 60 * 25.4 / 96),
        ("", "mm", 1.0, 60.0),
        ("", "inch", 0.5, 60 * 12.7),
    ],
)
def test_units_and_scale(head: str, unit: str, scale: float, wide: float) -> None:
    found = read_outline("a.svg", svg('<path d="M0 0H60V30H0Z"/>', head), unit, scale)
    assert found.width_mm == pytest.approx(wide, rel=1e-9)


def test_a_picture_stands_the_right_way_up() -> None:
    """y points down in the file and up on the board; an arc bulges to the same side."""
    found = read_outline("a.svg", svg('<path d="M0 0 L20 0 A10 10 0 0 1 0 0"/>'))
    arc = next(c for c in found.curves if c["kind"] == "arc")
    (cx, cy), start, end = arc["places"]
    # in the file the half circle hangs below the line, and so it does here
    assert start[0] < end[0]
    assert cy == pytest.approx(5) and found.height_mm == pytest.approx(10)
    assert cx == pytest.approx(0)


def test_groups_turns_and_free_curves() -> None:
    body = '<g transform="rotate(90) translate(10 0)"><path d="M0 0 C0 10 20 10 20 0 S40 -10 40 0"/></g><text>no</text><image href="x.png"/>'
    found = read_outline("a.svg", svg(body))
    (curve,) = found.curves
    # both stretches run on smoothly, so they are one spline with a node between
    assert (curve["kind"], len(curve["places"])) == ("spline", 7)
    assert found.left_out == ["1 × picture", "1 × text (make it outlines first)"]
    assert (found.height_mm, found.open) == (pytest.approx(40), 2)


def test_a_dxf_is_cleaned() -> None:
    """A box drawn as three lines and a polyline, one line twice, a hair's gap, a point, in inches."""
    poly = "0\nPOLYLINE\n8\n0\n66\n1\n70\n0\n" + "".join(
        f"0\nVERTEX\n8\n0\n10\n{x}\n20\n{y}\n30\n0\n42\n{b}\n" for x, y, b in ((2, 0, 0), (2, 1, 0.41421356237))
    ) + "0\nVERTEX\n8\n0\n10\n1\n20\n2\n30\n0\n0\nSEQEND\n"  # fmt: skip
    text = dxf(
        line(0, 0, 2.0002, 0), line(0, 0, 2.0002, 0), poly, line(1, 2, 0, 2), line(0, 2, 0, 0), line(5e-5, 0, 0, 0),
        "0\nTEXT\n8\n0\n10\n0\n20\n0\n40\n1\n1\nhello\n", unit=1,
    )  # fmt: skip
    found = read_outline("box.dxf", text)
    assert (found.unit, found.closed, found.open) == ("inch", 1, 0)
    assert (found.width_mm, found.height_mm) == pytest.approx((50.8, 50.8), abs=0.01)
    assert sorted(c["kind"] for c in found.curves) == ["arc"] + ["line"] * 4
    assert found.mended == [
        "1 piece of no length dropped",
        "1 end brought to another",
        "1 piece that lay twice dropped",
    ]
    assert found.left_out == ["1 × text"]


@pytest.mark.parametrize(
    ("name", "text", "word"),
    [
        ("a.png", "x", "ends in .dxf or .svg"),
        ("a.svg", "no picture", "not an SVG"),
        ("a.svg", svg("<text>words</text>"), "no outline"),
        ("a.svg", svg('<path d="M0 0H9000000V5"/>'), "choose another unit"),
        ("a.svg", '<!DOCTYPE svg [<!ENTITY a "b">]>' + svg('<path d="M0 0H9"/>'), "declares entities"),
        ("a.dxf", "nothing of the kind", "not a DXF|no outline"),
        ("a.dxf", dxf(), "no outline"),
        (
            "a.svg",
            svg("".join(f'<circle cx="{k % 40}" cy="{k / 40}" r="{1 + k / 999}"/>' for k in range(900))),
            "Simplify",
        ),
    ],
)
def test_what_cannot_be_read_is_refused(name: str, text: str, word: str) -> None:
    with pytest.raises(FileError, match=word):
        read_outline(name, text)


CURVES: list[Any] = [
    Line("a", (0, 0), (30, 0)),
    Arc("b", (30, 10), 10, (30, 0), (30, 20)),
    Bezier("c", ((30, 20), (20, 26), (6, 24), (0, 20))),
    Line("d", (0, 20), (0, 0)),
    Circle("e", (30, 10), 4),
    Ellipse("f", (10, 10), (10, 15), 3),
    Ellipse("g", (20, 10), (22, 10), 4),
]


@pytest.mark.parametrize("format", ["dxf", "svg"])
@pytest.mark.parametrize("unit", ["mm", "inch"])
def test_what_is_written_is_read_again(board: Board, format: str, unit: str) -> None:
    data = outline_file(CURVES, format, unit).decode()
    found = read_outline(f"x.{format}", data)
    assert (found.closed, found.open, found.left_out, found.mended) == (4, 0, [], [])
    board.draw("PlaceOutline", curves=found.curves)
    areas = sorted(r.area_mm2 for r in board.shape.regions)
    # 30 × 20, half a circle of 10, and the bow: 3/20 of the cubic's cross products (Green), less three holes
    bow = 0.0
    p = CURVES[2].poles
    for i, j, w in ((0, 1, 6), (0, 2, 3), (0, 3, 1), (1, 2, 3), (1, 3, 3), (2, 3, 6)):
        bow += w / 20 * (p[i][0] * p[j][1] - p[i][1] * p[j][0])
    # the chord from (30, 20) to (0, 20) and both radii to the origin are part of the box
    bow -= 0.5 * (30 * 20)
    holes = [math.pi * 16, math.pi * 15, math.pi * 8]
    assert areas[-1] == pytest.approx(600 + 50 * math.pi + bow - sum(holes), rel=2e-4)
    assert areas[:3] == pytest.approx(sorted(holes), rel=2e-4)


def test_a_closed_run_is_one_path() -> None:
    text = outline_file(CURVES, "svg").decode()
    (d,) = re.findall(r' d="([^"]*)"', text)
    assert d.count("M") == d.count("Z") == 4
    with pytest.raises(CommandError, match="no outline to save"):
        outline_file([], "svg")
