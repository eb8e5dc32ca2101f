"""Ellipses, splines, text, lengths along curves and readings: areas and places that a hand computes, and properties."""

from __future__ import annotations

import math
import sys
from concurrent.futures import ThreadPoolExecutor
from itertools import pairwise

import numpy as np
import pytest
from building import Board

from dovejoint.core.errors import CommandError
from dovejoint.core.sketch.drawing import drawing_of
from dovejoint.core.sketch.model import Constraint, Dimension, Point, Sketch, SketchCurve
from dovejoint.core.sketch.outlines import crossings
from dovejoint.core.sketch.system import System
from dovejoint.core.solid import find_regions, lettering
from dovejoint.core.solid.ends import open_ends, unlooped
from dovejoint.core.solid.lettering import letters
from dovejoint.core.solid.outline import Arc, Bezier, Circle, Ellipse, Line, place_at


@pytest.fixture
def board(bench) -> Board:  # type: ignore[no-untyped-def]
    return Board(bench)


def spot(x: float, y: float, on: str | None = None) -> dict[str, object]:
    return {"at": [x, y], "on": on}


def only(made: list[str], letter: str) -> str:
    return next(m for m in made if m.startswith(letter))


# ---- the equations -----------------------------------------------------------------------------------------------

_POINTS = {
    "a": (0, 0), "b": (31, 4), "c": (12, 14), "d": (40, 22), "s": (26, 3), "h1": (8, 6), "h2": (15, 12), "n": (20, 15),
    "h3": (26, 18.5), "h4": (31, 9), "e": (37, 12), "q": (18, 12.4), "r": (15, 25),
}  # fmt: skip
_CURVES = [
    SketchCurve(id="l", kind="line", points=["e", "b"]),
    SketchCurve(id="t", kind="line", points=["c", "r"]),
    SketchCurve(id="o", kind="ellipse", points=["a", "s"], radius=11),
    SketchCurve(id="sp", kind="spline", points=["a", "h1", "h2", "n", "h3", "h4", "e"]),
    SketchCurve(id="k", kind="arc", points=["d", "e", "r"]),
    SketchCurve(id="w", kind="circle", points=["c"], radius=5),
]


@pytest.mark.parametrize(
    "item",
    [
        Constraint(id="x", kind="point_on", of=["q", "sp"]),
        Constraint(id="x", kind="point_on", of=["q", "o"]),
        Constraint(id="x", kind="tangent", of=["l", "sp"]),
        Constraint(id="x", kind="tangent", of=["t", "o"]),
        Constraint(id="x", kind="tangent", of=["k", "sp"]),
        Constraint(id="x", kind="tangent", of=["t", "sp"]),
        Constraint(id="x", kind="tangent", of=["sp", "w"]),
        Constraint(id="x", kind="smooth", of=["l", "sp"]),
        Constraint(id="x", kind="smooth", of=["k", "sp"]),
        Dimension(id="x", kind="perimeter", of=["l", "k", "sp", "w"], formula="1"),
        Dimension(id="x", kind="radius", of=["o"], formula="1"),
    ],
    ids=lambda i: f"{i.kind}-{'-'.join(i.of)}",
)
def test_derivatives_agree_with_finite_differences(item: Constraint | Dimension) -> None:
    points = [Point(id=id, x=x, y=y) for id, (x, y) in _POINTS.items()]
    tie = isinstance(item, Constraint)
    sketch = Sketch(points=points, curves=_CURVES, constraints=[item] if tie else [], dimensions=[] if tie else [item])
    system = System(drawing_of(sketch, {} if tie else {"x": 77.0}), reduce=False)
    _, slopes = system.evaluate(system.y0)
    assert len(slopes) > 3 and np.any(slopes[np.array([o == "x" for o in system.owners])])
    for k in range(system.n):
        h = np.zeros(system.n)
        h[k] = 1e-6
        ahead, behind = (system.evaluate(system.y0 + s * h, False)[0] for s in (1, -1))
        assert slopes[:, k] == pytest.approx((ahead - behind) / 2e-6, abs=2e-6)


# ---- on the board ------------------------------------------------------------------------------------------------


def test_an_ellipse_is_sized_by_its_half_axes(board: Board) -> None:
    oval = only(board.draw("DrawEllipse", centre=spot(0, 0, "origin"), first=spot(19, 1), beside=[3, 11]), "e")
    centre, end = board.sketch.curve(oval).points  # type: ignore[union-attr]
    board.draw("SizeSketch", kind="distance", of=[centre, end], formula="20 mm")
    board.draw("SizeSketch", kind="radius", of=[oval], formula="12 mm")
    board.draw("TieSketch", kind="horizontal", of=[centre, end])
    assert board.shape.solution.freedom == 0
    (region,) = board.shape.regions
    assert region.area_mm2 == pytest.approx(math.pi * 20 * 12)
    # a point on it, pulled out of reach, stays on it: x²/400 + y²/144 = 1
    line = only(board.draw("DrawLine", start=spot(0, 0, "origin"), end=spot(15, 10)), "l")
    rim = board.sketch.curve(line).points[1]  # type: ignore[union-attr]
    board.draw("TieSketch", kind="point_on", of=[rim, oval])
    board.draw("DragSketch", id=rim, to=[-30, 18])
    x, y = board.at(rim)
    assert x**2 / 400 + y**2 / 144 == pytest.approx(1)
    assert x < 0 < y
    # a level line that touches it from above lies as high as its half axis
    roof = only(board.draw("DrawLine", start=spot(-9, 15), end=spot(9, 15), tie="horizontal"), "l")
    board.draw("TieSketch", kind="tangent", of=[oval, roof])
    assert board.at(board.sketch.curve(roof).points[0])[1] == pytest.approx(12)  # type: ignore[union-attr]


def test_a_spline_runs_smoothly_and_holds_its_ties(board: Board) -> None:
    curve = only(board.draw("DrawSpline", spots=[spot(0, 0, "origin"), spot(20, 10), spot(40, 0)]), "s")
    poles = board.sketch.curve(curve).points  # type: ignore[union-attr]
    assert len(poles) == 7
    line = only(board.draw("DrawLine", start=spot(40, 0, poles[-1]), end=spot(60, -4), tie="horizontal"), "l")
    board.draw("TieSketch", kind="smooth", of=[curve, line])
    board.draw("DragSketch", id=poles[3], to=[22, 15])
    at = [np.array(board.at(p)) for p in poles]
    assert at[3] == pytest.approx((22, 15), abs=1e-6)
    # over its node it has one direction, and into the level line it runs level and without a bend
    one, two = at[3] - at[2], at[4] - at[3]
    assert one[0] * two[1] - one[1] * two[0] == pytest.approx(0, abs=1e-6)
    assert at[5][1] == pytest.approx(at[6][1], abs=1e-7)
    assert at[4][1] == pytest.approx(at[6][1], abs=1e-6)
    with pytest.raises(CommandError, match="settled already"):
        board.draw("TieSketch", kind="point_on", of=[poles[3], curve])
    # a point laid on it stays on it
    tail = only(board.draw("DrawLine", start=spot(10, -9), end=spot(12, 6)), "l")
    end = board.sketch.curve(tail).points[1]  # type: ignore[union-attr]
    board.draw("TieSketch", kind="point_on", of=[end, curve])
    stretches = [Bezier("", tuple(board.at(p) for p in poles[k : k + 4])) for k in (0, 3)]
    away = min(math.dist(place_at(s, t / 2000), board.at(end)) for s in stretches for t in range(2001))
    assert away < 0.02


def test_lines_and_circles_touch_a_spline_along_its_run(board: Board) -> None:
    """A level line over a bow touches it at its top; a circle under it from within; both stay so when the bow is pulled."""
    curve = only(board.draw("DrawSpline", spots=[spot(-20, 0), spot(0, 12), spot(20, 0)]), "s")
    poles = board.sketch.curve(curve).points  # type: ignore[union-attr]
    for k in (0, -1):
        board.draw("TieSketch", kind="fixed", of=[poles[k]])
    roof = only(board.draw("DrawLine", start=spot(-15, 15), end=spot(9, 15), tie="horizontal"), "l")
    board.draw("TieSketch", kind="tangent", of=[curve, roof])
    ball = only(board.draw("DrawCircle", centre=[3, 4], radius=3), "c")
    board.draw("TieSketch", kind="tangent", of=[ball, curve])
    board.draw("DragSketch", id=poles[3], to=[4, 17])

    def run() -> list[tuple[float, float]]:
        stretches = [Bezier("", tuple(board.at(p) for p in poles[k : k + 4])) for k in (0, 3)]
        return [place_at(s, t / 4000) for s in stretches for t in range(4001)]

    assert board.at(poles[3])[1] > 14
    high = board.at(board.sketch.curve(roof).points[0])[1]  # type: ignore[union-attr]
    assert max(y for _, y in run()) == pytest.approx(high, abs=1e-4)
    circle = board.sketch.curve(ball)
    assert circle is not None
    centre = board.at(circle.points[0])
    assert min(math.dist(p, centre) for p in run()) == pytest.approx(circle.radius, abs=1e-4)
    with pytest.raises(CommandError, match="along its run"):
        other = only(board.draw("DrawSpline", spots=[spot(0, 40), spot(9, 30)]), "s")
        board.draw("TieSketch", kind="tangent", of=[curve, other])


def test_a_closed_spline_bounds_a_region(board: Board) -> None:
    """Through eight places on a circle it stays near it: within a hundredth of its area."""
    places = [spot(25 * math.cos(k * math.pi / 4), 25 * math.sin(k * math.pi / 4)) for k in range(8)]
    board.draw("DrawSpline", spots=places, closed=True)
    (region,) = board.shape.regions
    assert region.area_mm2 == pytest.approx(math.pi * 625, rel=0.01)
    assert not board.shape.open_ends


def test_text_is_as_high_as_it_says(board: Board) -> None:
    word = only(board.draw("DrawText", foot=spot(3, 4), text="H", size=10, height="8 mm"), "t")
    box = np.array([p for r in board.shape.regions for loop in r.loops for p in loop])
    assert box[:, 1].max() - box[:, 1].min() == pytest.approx(8)
    assert (len(board.shape.regions), board.shape.regions[0].name) == (1, f"{word}.1")
    size = board.sketch.dimensions[0].id
    board.draw("ResizeSketch", dimension=size, formula="16 mm")
    again = np.array([p for r in board.shape.regions for loop in r.loops for p in loop])
    assert np.ptp(again, axis=0) == pytest.approx(2 * np.ptp(box, axis=0))
    # a hole in a letter is a hole
    board.draw("DrawText", foot=spot(40, 4), text="O", size=10)
    assert sorted(r.depth for r in board.shape.regions) == [0, 0, 1]
    board.draw("RewordSketch", id=word, text="HI")
    assert sum(1 for r in board.shape.regions if r.name.startswith(f"{word}.")) == 2
    with pytest.raises(CommandError, match="Write the text first"):
        board.draw("RewordSketch", id=word, text="  ")
    with pytest.raises(CommandError, match="no “漢”"):
        board.draw("DrawText", foot=spot(0, 0), text="漢", size=10)


def test_lengths_along_curves(board: Board) -> None:
    arc = only(board.draw("DrawArcAbout", centre=spot(0, 0, "origin"), start=spot(20, 0), towards=[0, 20]), "a")
    size = board.draw("SizeSketch", kind="perimeter", of=[arc])
    assert board.sketch.dimensions[0].formula == f"{10 * math.pi:.4f} mm"
    start, end = board.sketch.curve(arc).points[1:]  # type: ignore[union-attr]
    board.draw("TieSketch", kind="fixed", of=[start])
    board.draw("ResizeSketch", dimension=only(size, "d"), formula="20 mm")
    # a bow of 20 mm on a radius of 20 mm turns by one radian
    assert board.at(end) == pytest.approx((20 * math.cos(1), 20 * math.sin(1)), rel=1e-5)


def test_a_reading_drives_nothing(board: Board) -> None:
    board.draw("DrawRectangle", first=[0, 0], corner=[30, 20], on="origin", width="60 mm", height="40 mm")
    across = [p.id for p in board.sketch.points][:3:2]
    with pytest.raises(CommandError, match="settled already"):
        board.draw("SizeSketch", kind="distance", of=across)
    read = only(board.draw("SizeSketch", kind="distance", of=across, reading=True), "d")
    assert board.shape.sizes[read] == pytest.approx(math.hypot(60, 40))
    with pytest.raises(CommandError, match="settled already"):
        board.draw("ReadingSketch", dimension=read, on=False)
    width = board.sketch.dimensions[0].id
    board.draw("ReadingSketch", dimension=width, on=True)
    assert board.shape.solution.freedom == 1
    board.draw("ReadingSketch", dimension=read, on=False)
    board.draw("ResizeSketch", dimension=read, formula="50 mm")
    assert board.shape.sizes[width] == pytest.approx(30)


def test_other_ways_to_draw_round_and_square(board: Board) -> None:
    board.draw("DrawCircleOver", spots=[spot(5, 0), spot(0, 5), spot(-5, 0)])
    assert board.shape.regions[0].area_mm2 == pytest.approx(25 * math.pi)
    board.draw("DrawLeaning", start=spot(20, 0), end=spot(23, 4), beside=[16, 3], width="5 mm", height="5 mm")
    assert board.shape.regions[1].area_mm2 == pytest.approx(25)
    # a round slot: a band of 60 degrees and two half circles
    a = math.radians(60)
    ends = [spot(40, -60), spot(40 * math.cos(a), 40 * math.sin(a) - 60)]
    through = [40 * math.cos(a / 2), 40 * math.sin(a / 2) - 60]
    board.draw("DrawArcSlot", start=ends[0], end=ends[1], through=through, radius=4, width="8 mm")
    assert max(r.area_mm2 for r in board.shape.regions) == pytest.approx(8 * 40 * a + math.pi * 16)
    with pytest.raises(CommandError, match="as wide as its bend"):
        board.draw("DrawArcSlot", start=spot(0, 0), end=spot(10, 0), through=[5, 5], radius=6)


# ---- working on them -----------------------------------------------------------------------------------------------


def test_splines_are_trimmed_and_split_without_changing_their_run(board: Board) -> None:
    curve = only(board.draw("DrawSpline", spots=[spot(0, 0), spot(20, 12), spot(40, 0)]), "s")
    before = [
        place_at(Bezier("", tuple(board.at(p) for p in board.sketch.curve(curve).points[0:4])), t) for t in (0.1, 0.4)
    ]  # type: ignore[union-attr]
    board.draw("DrawLine", start=spot(28, -5), end=spot(28, 20), tie="vertical")
    board.draw("TrimSketch", id=curve, near=[37, 3])
    end = board.sketch.curve(curve).points[-1]  # type: ignore[union-attr]
    assert board.at(end)[0] == pytest.approx(28)
    board.draw("SplitSketch", id=curve, near=[10, 8])
    splines = [c for c in board.sketch.curves if c.kind == "spline"]
    assert len(splines) == 2
    pieces = [
        Bezier("", tuple(board.at(p) for p in c.points[k : k + 4]))
        for c in splines
        for k in range(0, len(c.points) - 1, 3)
    ]
    for place in before:
        assert min(math.dist(place_at(p, t / 1000), place) for p in pieces for t in range(1001)) < 0.05
    with pytest.raises(CommandError, match="between the curve's ends"):
        board.draw("SplitSketch", id=splines[0].id, near=list(board.at(splines[0].points[0])))


def test_lines_and_arcs_run_on_to_what_they_meet(board: Board) -> None:
    wall = only(board.draw("DrawLine", start=spot(50, -30), end=spot(50, 30), tie="vertical"), "l")
    board.draw("DrawLine", start=spot(90, -30), end=spot(90, 30), tie="vertical")
    short = only(board.draw("DrawLine", start=spot(0, 0), end=spot(30, 6), length="30.594 mm"), "l")
    board.draw("ExtendSketch", id=short, near=[29, 5])
    end = board.sketch.curve(short).points[1]  # type: ignore[union-attr]
    assert board.at(end) == pytest.approx((50, 10))
    assert any(t.kind == "point_on" and t.of == [end, wall] for t in board.sketch.constraints)
    assert not board.sketch.dimensions
    arc = only(board.draw("DrawArcAbout", centre=spot(50, -60), start=spot(20, -60), towards=[30, -40]), "a")
    first = board.sketch.curve(arc).points[1]  # type: ignore[union-attr]
    board.draw("ExtendSketch", id=arc, near=list(board.at(first)))
    # about (50, -60) it runs on with its radius of 30 up to the wall, straight over its centre
    assert board.at(first) == pytest.approx((50, -30))
    with pytest.raises(CommandError, match="Nothing lies in its way"):
        board.draw("ExtendSketch", id=short, near=[1, 0])


def test_corners_are_cut_by_one_figure(board: Board) -> None:
    board.draw("DrawRectangle", first=[0, 0], corner=[30, 20], on="origin", width="60 mm", height="40 mm")
    corners = [p.id for p in board.sketch.points if abs(p.x) > 1]
    board.draw("CutCornersSketch", corners=corners, distance="5 mm")
    assert board.shape.regions[0].area_mm2 == pytest.approx(60 * 40 - 4 * 12.5)
    assert board.shape.solution.freedom == 0
    lead = next(d for d in board.sketch.dimensions if d.formula == "5 mm" and not d.follows)
    board.draw("ResizeSketch", dimension=lead.id, formula="8 mm")
    assert board.shape.regions[0].area_mm2 == pytest.approx(60 * 40 - 4 * 32)
    with pytest.raises(CommandError, match="shorter side is"):
        board.draw("CutCornersSketch", corners=[board.path((0, 60), (10, 60), (10, 65))[0]], distance="10 mm")


def test_copies_keep_their_own_ties_and_sizes(board: Board) -> None:
    board.draw("DrawRectangle", first=[20, 0], corner=[30, 5], width="20 mm", height="10 mm")
    curves = [c.id for c in board.sketch.curves]
    board.draw("ShiftSketch", ids=curves, right="0 mm", up="40 mm", copied=True)
    assert [r.area_mm2 for r in board.shape.regions] == pytest.approx([200, 200])
    assert [r.centre[1] for r in board.shape.regions] == pytest.approx([0, 40])
    assert board.shape.solution.freedom == 4
    board.draw("ShiftSketch", ids=curves, right="-5 mm")
    assert sorted(r.centre[0] for r in board.shape.regions) == pytest.approx([15, 20])
    with pytest.raises(CommandError, match="needs a distance"):
        board.draw("ShiftSketch", ids=curves, copied=True)


def test_open_ends_are_found_and_closed(board: Board) -> None:
    path = board.path((0, 0), (40, 0), (40, 30), (0, 30), (0.3, 0.4), closed=False)
    ends = board.shape.open_ends
    assert len(ends) == 2 and not board.shape.regions
    assert ends[0].gap_mm == pytest.approx(0.5)
    board.draw("JoinEnds", pairs=[[path[0], path[-1]]])
    assert not board.shape.open_ends
    assert len(board.shape.regions) == 1


def test_an_end_on_the_run_of_another_curve_is_not_open() -> None:
    box = [
        Line("a", (0, 0), (10, 0)),
        Line("b", (10, 0), (10, 9)),
        Line("c", (10, 9), (0, 0)),
        Line("d", (4, 0), (10, 5)),
    ]
    assert open_ends(box) == []
    round_one = Arc("e", (0, 0), 10, (10, 0), (0, 10))
    on_it = Line("f", (10 * math.cos(0.7), 10 * math.sin(0.7)), (20, 30))
    assert [(e.curve, e.near) for e in open_ends([round_one, on_it])] == [("e", None), ("e", None), ("f", None)]


def test_a_loop_in_one_stretch_is_cut_where_it_does_not_cross_itself() -> None:
    poles = ((0.0, 0.0), (30.0, 20.0), (-10.0, 20.0), (20.0, 0.0))
    one, two = unlooped(Bezier("s", poles))
    assert len(crossings(one, two)) == 1
    assert unlooped(Bezier("s", ((0, 0), (10, 20), (20, 20), (30, 0)))) == [
        Bezier("s", ((0, 0), (10, 20), (20, 20), (30, 0)))
    ]


def test_crossings_of_all_kinds_lie_on_both() -> None:
    """Places by hand: a parabola as a cubic, an ellipse, a circle, a line."""
    # x = 30t − 15, y = 18 t (1 − t)·… as a raised parabola y = 0.04 x² − 9
    bow = Bezier("", ((-15, 0), (-5, -12), (5, -12), (15, 0)))
    level = Line("", (-20, -5), (20, -5))
    assert sorted(round(p[0], 6) for _, _, p in crossings(bow, level)) == pytest.approx([-10, 10])
    oval = Ellipse("", (0, 0), (20, 0), 10)
    assert sorted(round(p[0], 6) for _, _, p in crossings(oval, Line("", (-30, 6), (30, 6)))) == pytest.approx(
        [-16, 16]
    )
    found = crossings(oval, Circle("", (0, 0), 15))
    assert len(found) == 4
    assert all(
        x * x + y * y == pytest.approx(225) and x * x / 400 + y * y / 100 == pytest.approx(1) for _, _, (x, y) in found
    )


def test_a_half_with_a_spline_is_mirrored_to_a_whole(board: Board) -> None:
    axis = only(board.draw("DrawLine", start=spot(0, -5), end=spot(0, 40), tie="vertical", construction=True), "l")
    board.draw("TieSketch", kind="point_on", of=["origin", axis])
    curve = only(board.draw("DrawSpline", spots=[spot(0, 0), spot(14, 8), spot(0, 30)]), "s")
    board.draw("MirrorSketch", ids=[curve], axis=axis)
    (region,) = board.shape.regions
    assert region.centre[0] == pytest.approx(0, abs=1e-6)
    node = board.sketch.curve(curve).points[3]  # type: ignore[union-attr]
    board.draw("DragSketch", id=node, to=[18, 10])
    (wider,) = board.shape.regions
    assert wider.area_mm2 > region.area_mm2
    assert wider.centre[0] == pytest.approx(0, abs=1e-6)
    with pytest.raises(CommandError, match="read backwards"):
        word = only(board.draw("DrawText", foot=spot(30, 0), text="HATCH", size=6), "t")
        board.draw("MirrorSketch", ids=[word], axis=axis)


def test_texts_may_be_drawn_by_many_at_once() -> None:
    """A server draws for several people; the first texts of all of them read the same font."""
    words = ["Handle", "Quagga 42", "jar & lid", "VENT", "sxoz"]
    alone = [letters("t", w, (0, 0), (0, 10)) for w in words]
    often = sys.getswitchinterval()
    sys.setswitchinterval(1e-6)
    try:
        for _ in range(6):
            lettering._font.cache_clear()
            lettering._font()
            with ThreadPoolExecutor(8) as pool:
                together = list(pool.map(lambda w: letters("t", w, (0, 0), (0, 10)), words * 4))
            assert together == alone * 4
    finally:
        sys.setswitchinterval(often)


def test_letters_have_as_many_holes_as_the_alphabet_says() -> None:
    """Whether their contours run over each other (A; the 4 of this font is open at its top) or not; also within a frame, where the holes are material again."""
    for letter, holes in {
        "A": 1,
        "B": 2,
        "D": 1,
        "H": 0,
        "N": 0,
        "O": 1,
        "P": 1,
        "R": 1,
        "V": 0,
        "4": 0,
        "6": 1,
        "8": 2,
        "e": 1,
        "t": 0,
    }.items():
        found = find_regions(letters("t1", letter, (0, 0), (0, 10)))
        assert sum(r.depth % 2 for r in found) == holes, letter
        frame = [
            Line(f"l{k}", a, b) for k, (a, b) in enumerate(pairwise([(-5, -5), (20, -5), (20, 20), (-5, 20), (-5, -5)]))
        ]
        held = find_regions([*frame, *letters("t1", letter, (0, 0), (0, 10))])
        assert sum(r.depth == 2 for r in held) == holes, letter
        assert [r.depth for r in held].count(0) == 1
