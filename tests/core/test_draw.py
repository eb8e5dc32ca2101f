"""Drawing by hand and working on what is drawn, with figures that a hand computes; areas are those of the regions found."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench, Board

from dovejoint.core.errors import CommandError


@pytest.fixture
def board(bench: Bench) -> Board:
    return Board(bench)


def test_a_rough_outline_is_tied_and_sized(board: Board) -> None:
    """A bracket drawn by a loose hand, tied down until nothing can move: the area of an L by hand."""
    p = board.path((0.4, -0.3), (60.2, 0.5), (59.7, 8.3), (8.1, 7.6), (7.9, 40.4), (-0.3, 39.8))
    assert board.shape.solution.freedom == 12
    lines = [c.id for c in board.sketch.curves]
    for line, kind in zip(lines, ["horizontal", "vertical"] * 3, strict=True):
        board.draw("TieSketch", kind=kind, of=[line])
    board.draw("TieSketch", kind="coincident", of=[p[0], "origin"])
    board.draw("SizeSketch", kind="length", of=[lines[0]], formula="60 mm")
    board.draw("SizeSketch", kind="length", of=[lines[5]], formula="40 mm")
    board.draw("SizeSketch", kind="length", of=[lines[1]], formula="8 mm")
    board.draw("TieSketch", kind="equal", of=[lines[1], lines[4]])
    assert (board.shape.solution.freedom, board.shape.solution.free) == (0, [])
    (region,) = board.shape.regions
    assert region.area_mm2 == pytest.approx(60 * 8 + 32 * 8)
    with pytest.raises(CommandError, match="settled already by"):
        board.draw("SizeSketch", kind="distance_x", of=[p[1], p[5]], formula="5 mm")


def test_ties_meant_while_drawing(board: Board) -> None:
    p = board.path((0, 0), (40, 3), closed=False, ties={0: "horizontal"})
    assert board.at(p[1])[1] == pytest.approx(board.at(p[0])[1])
    board.draw("DrawLine", start={"at": [40, 0], "on": p[1]}, end={"at": [43, 30]}, tie="perpendicular", to="l1")
    (ax, ay), (bx, by) = (board.at(q) for q in board.sketch.curve("l2").points)  # type: ignore[union-attr]
    assert bx == pytest.approx(ax) and abs(by - ay) > 20
    # an arc that runs on smoothly from the upright line ends over a half circle
    board.draw(
        "DrawArc",
        start={"at": [bx, by], "on": board.sketch.curve("l2").points[1]},
        end={"at": [0, 31]},
        through=[20, 51],
        tangent="l2",
    )  # type: ignore[union-attr]
    arc = board.sketch.curve("a1")
    assert arc is not None
    centre, start, end = (board.at(q) for q in arc.points)
    end_of_line = board.at(board.sketch.curve("l2").points[1])  # type: ignore[union-attr]
    assert centre[1] == pytest.approx(end_of_line[1]), "its centre lies square beside the line's end"
    assert math.dist(centre, start) == pytest.approx(math.dist(centre, end))


def test_arcs_go_over_the_place_between(board: Board) -> None:
    for through in ((0.0, 10.0), (0.0, -10.0)):
        board.draw("DrawArc", start={"at": [-10, 0]}, end={"at": [10, 0]}, through=through)
        ids = board.sketch.curves[-1].points
        centre, start, end = (board.at(q) for q in ids)
        assert centre == pytest.approx((0, 0), abs=1e-9)
        middle = (
            math.atan2(start[1], start[0])
            + (math.atan2(end[1], end[0]) - math.atan2(start[1], start[0])) % (2 * math.pi) / 2
        )
        assert (10 * math.cos(middle), 10 * math.sin(middle)) == pytest.approx(through, abs=1e-9)
    for bad in ([0, 0], [0, 1e-7]):
        with pytest.raises(CommandError, match="in one line"):
            board.draw("DrawArc", start={"at": [-10, 0]}, end={"at": [10, 0]}, through=bad)


def test_slots_and_polygons_are_sized_by_two_figures(board: Board) -> None:
    board.draw(
        "DrawSlot", start={"at": [0, 0], "on": "origin"}, end={"at": [28, 2]}, radius=4, width="10 mm", length="30 mm"
    )
    (region,) = board.shape.regions
    assert region.area_mm2 == pytest.approx(30 * 10 + math.pi * 25)
    assert board.shape.solution.freedom == 1, "it can turn about its first centre"


def test_a_nut_across_its_flats(board: Board) -> None:
    board.draw("DrawPolygon", centre={"at": [0, 0], "on": "origin"}, corner=[9, 1], sides=6, flats="13 mm")
    (region,) = board.shape.regions
    # a hexagon across flats s has the area s² √3/2
    assert region.area_mm2 == pytest.approx(13**2 * math.sqrt(3) / 2)
    assert board.shape.solution.freedom == 1
    with pytest.raises(CommandError, match="not right"):
        board.draw("DrawPolygon", centre={"at": [0, 0]}, corner=[9, 1], sides=2)


def test_construction_bounds_nothing(board: Board) -> None:
    board.path((0, 0), (40, 0), (40, 30), (0, 30))
    board.draw("DrawLine", start={"at": [0, 0], "on": "p1"}, end={"at": [40, 30], "on": "p3"})
    assert len(board.shape.regions) == 2
    board.draw("ConstructSketch", ids=["l5"], on=True)
    assert len(board.shape.regions) == 1
    board.draw("ConstructSketch", ids=["l5"], on=False)
    assert len(board.shape.regions) == 2


def test_a_half_is_mirrored_and_stays_so(board: Board) -> None:
    """Half an arrow, its axis on the upright line: the whole has twice the area, and follows the half."""
    board.draw("DrawLine", start={"at": [0, -5]}, end={"at": [0, 45]}, tie="vertical", construction=True)
    axis = "l1"
    p = board.path((0, 0), (12, 0), (12, 20), (20, 20), (0, 40), closed=False)
    half = [c.id for c in board.sketch.curves if c.id != axis]
    board.draw("MirrorSketch", ids=half, axis=axis)
    (region,) = board.shape.regions
    assert region.area_mm2 == pytest.approx(2 * (12 * 20 + 20 * 20 / 2))
    board.draw("DragSketch", id=p[1], to=[15, 0])
    (region,) = board.shape.regions
    xs = [x for loop in region.loops for x, _ in loop]
    axis_x = board.at(board.sketch.curve(axis).points[0])[0]  # type: ignore[union-attr]
    assert max(xs) - axis_x == pytest.approx(axis_x - min(xs)), "both halves are alike wherever the half goes"
    with pytest.raises(CommandError, match="line to mirror in"):
        board.draw("MirrorSketch", ids=half, axis="nothing")


def test_corners_rounded_by_one_radius(board: Board) -> None:
    board.draw(
        "DrawRectangle", first=[0, 0], corner=[30, 20], by_centre=True, on="origin", width="60 mm", height="40 mm"
    )
    corners = [p.id for p in board.sketch.points]
    board.draw("RoundSketch", corners=corners, radius="6 mm")
    (region,) = board.shape.regions
    assert region.area_mm2 == pytest.approx(60 * 40 - (4 - math.pi) * 36)
    assert board.shape.solution.freedom == 0
    size = next(d for d in board.sketch.dimensions if d.kind == "radius")
    board.draw("ResizeSketch", dimension=size.id, formula="9 mm")
    assert board.shape.regions[0].area_mm2 == pytest.approx(60 * 40 - (4 - math.pi) * 81), "one radius for all"
    width = next(d for d in board.sketch.dimensions if "60" in d.formula)
    board.draw("ResizeSketch", dimension=width.id, formula="80 mm")
    assert board.shape.regions[0].area_mm2 == pytest.approx(80 * 40 - (4 - math.pi) * 81), (
        "its width means the whole side still"
    )


def test_a_radius_that_does_not_fit_says_what_does(board: Board) -> None:
    p = board.path((0, 0), (20, 0), (20, 10), (0, 10))
    with pytest.raises(CommandError, match="9.99 mm is the most|10 mm is the most"):
        board.draw("RoundSketch", corners=[p[1]], radius="11 mm")
    with pytest.raises(CommandError, match="above zero"):
        board.draw("RoundSketch", corners=[p[1]], radius="0")
    with pytest.raises(CommandError, match="two lines or arcs that meet"):
        board.draw("RoundSketch", corners=["origin"], radius="1 mm")


def test_trimming_what_overlaps(board: Board) -> None:
    """A bar across a circle: trimmed inside, and the circle above, an open cup is left; then trimmed to nothing."""
    board.draw("DrawCircle", centre=[0, 0], radius=10, on="origin", diameter="20 mm")
    board.draw("DrawLine", start={"at": [-15, 0]}, end={"at": [15, 0]}, tie="horizontal")
    assert len(board.shape.regions) == 2
    board.draw("TrimSketch", id="c1", near=[0, 10])
    (region,) = board.shape.regions
    assert region.area_mm2 == pytest.approx(math.pi * 50)
    assert board.sketch.curve("c1").kind == "arc"  # type: ignore[union-attr]
    assert board.sketch.dimensions[0].kind == "diameter", "its size stays"
    for end in (-13, 13):
        line = next(
            c.id
            for c in board.sketch.curves
            if c.kind == "line" and any(abs(board.at(p)[0] - end) < 3.1 for p in c.points)
        )
        board.draw("TrimSketch", id=line, near=[end, 0])
    assert board.shape.regions[0].area_mm2 == pytest.approx(math.pi * 50)
    (left,) = [c for c in board.sketch.curves if c.kind == "line"]
    assert sorted(round(board.at(p)[0], 6) for p in left.points) == [-10, 10]
    board.draw("TrimSketch", id=left.id, near=[0, 0])
    assert board.shape.regions == []


def test_a_line_cut_in_the_middle_stays_in_line(board: Board) -> None:
    board.draw("DrawLine", start={"at": [0, 0]}, end={"at": [60, 0]}, tie="horizontal")
    for x in (20, 40):
        board.draw("DrawLine", start={"at": [x, -10]}, end={"at": [x, 10]}, tie="vertical")
    board.draw("TrimSketch", id="l1", near=[30, 0])
    pieces = [c for c in board.sketch.curves if c.kind == "line" and all(abs(board.at(p)[1]) < 1e-6 for p in c.points)]
    assert len(pieces) == 2
    assert "collinear" in {k.kind for k in board.sketch.constraints}
    board.draw("DragSketch", id=pieces[0].points[0], to=[0, 6])
    heights = {
        round(board.at(p)[1], 6) for c in board.sketch.curves if c.id in {x.id for x in pieces} for p in c.points
    }
    assert len(heights) == 1, "both pieces move as one line"


@pytest.mark.parametrize(
    ("command", "fields", "word"),
    [
        ("DrawLine", {"start": {"at": [1, 1]}, "end": {"at": [1, 1]}}, "two ends apart"),
        ("DrawLine", {"start": {"at": [1, 1], "on": "p9"}, "end": {"at": [5, 1]}}, "not there any more"),
        ("DrawLine", {"start": {"at": [1, 1]}, "end": {"at": [5, 1]}, "tie": "parallel", "to": "l9"}, "cannot be drawn"),
        ("DrawLine", {"start": {"at": [1, 1]}, "end": {"at": [5, 1]}, "length": "3 deg"}, "angle"),
        ("DrawSlot", {"start": {"at": [1, 1]}, "end": {"at": [1, 1]}, "radius": 3}, "two centres apart"),
        ("ConstructSketch", {"ids": ["l9"], "on": True}, "Select curves"),
        ("TrimSketch", {"id": "l9", "near": [0, 0]}, "Point at a curve"),
    ],
)  # fmt: skip
def test_nonsense_on_the_board(board: Board, command: str, fields: dict[str, Any], word: str) -> None:
    before = board.project
    with pytest.raises(CommandError, match=word):
        board.draw(command, **fields)
    assert board.project == before


def test_a_vent_of_forty_holes_follows_its_formulas(board: Board) -> None:
    pitch = board.do("AddValue", name="pitch", formula="6 mm")[0]
    board.draw("DrawRectangle", first=[30, 15], corner=[65, 35], by_centre=True, width="70 mm", height="40 mm")
    board.draw("DrawCircle", centre=[6, 4], radius=2, diameter="4 mm")
    hole = next(c.id for c in board.sketch.curves if c.kind == "circle")
    board.draw("RepeatSketch", ids=[hole], across=8, deep=5, pitch_x="pitch", pitch_y="pitch + 1 mm")
    plate = max(board.shape.regions, key=lambda r: r.area_mm2)
    assert len(plate.loops) == 41
    assert plate.area_mm2 == pytest.approx(70 * 40 - 40 * math.pi * 4)
    pitches = [d for d in board.sketch.dimensions if d.kind.startswith("distance") and not d.follows]
    assert [d.kind for d in pitches] == ["distance_x", "distance_y"], "two pitches are shown; the others follow them"
    board.do("SetValue", value=pitch, formula="5.5 mm")
    centres = {
        p: at
        for p, at in board.shape.solution.points.items()
        if any(c.kind == "circle" and c.points[0] == p for c in board.sketch.curves)
    }
    xs = sorted({round(x, 6) for x, _ in centres.values()})
    assert [b - a for a, b in zip(xs, xs[1:], strict=False)] == pytest.approx([5.5] * 7), "all rows follow the value"
    board.draw("ResizeSketch", dimension=pitches[1].id, formula="5 mm")
    ys = sorted({round(y, 6) for p, (_, y) in board.shape.solution.points.items() if p in centres})
    assert [b - a for a, b in zip(ys, ys[1:], strict=False)] == pytest.approx([5] * 4), (
        "and its own formula moves all rows"
    )
    size = next(d for d in board.sketch.dimensions if d.kind == "diameter")
    board.draw("ResizeSketch", dimension=size.id, formula="3 mm")
    assert max(r.area_mm2 for r in board.shape.regions) == pytest.approx(70 * 40 - 40 * math.pi * 2.25)


def test_one_scallop_closes_to_a_grip(board: Board) -> None:
    """An arc over a twelfth of a turn, repeated: the polygon of its ends, and twelve bulges."""
    r, n = 20.0, 12
    ends = [(r * math.cos(2 * math.pi * k / n), r * math.sin(2 * math.pi * k / n)) for k in (0, 1)]
    out = [(r + 1.5) * f for f in (math.cos(math.pi / n), math.sin(math.pi / n))]
    board.draw("DrawArc", start={"at": ends[0]}, end={"at": ends[1]}, through=out)
    board.draw("RingSketch", ids=["a1"], centre="origin", count=n)
    (region,) = board.shape.regions
    chord = math.dist(*ends)
    rise = (r + 1.5) - r * math.cos(math.pi / n)
    bulge = chord**2 / (8 * rise) + rise / 2
    half = math.asin(chord / (2 * bulge))
    assert region.area_mm2 == pytest.approx(
        n * r**2 * math.sin(2 * math.pi / n) / 2 + n * bulge**2 * (half - math.sin(half) * math.cos(half))
    )
    assert len(region.loops) == 1 and len(board.sketch.curves) == n
    start = board.sketch.curve("a1").points[1]  # type: ignore[union-attr]
    freedom = board.shape.solution.freedom
    board.draw("DragSketch", id=start, to=[25, 0])
    assert len(board.shape.regions) == 1, "it stays closed wherever it is dragged"
    assert board.shape.solution.freedom == freedom == 3, "its size, how it is turned, and how far it bulges"
    assert board.shape.regions[0].area_mm2 > region.area_mm2


def test_what_cannot_be_repeated(board: Board) -> None:
    board.draw("DrawCircle", centre=[6, 4], radius=2)
    for command, fields, word in (
        ("RepeatSketch", {"ids": ["c1"], "across": 1, "deep": 1}, "at least twice"),
        ("RepeatSketch", {"ids": ["c1"], "across": 200, "deep": 200, "pitch_x": "5 mm", "pitch_y": "5 mm"}, "more than 400"),
        ("RepeatSketch", {"ids": ["c1"], "across": 3, "pitch_x": "0 mm"}, "distance from each other"),
        ("RepeatSketch", {"ids": [], "across": 3, "pitch_x": "5 mm"}, "Select the curves"),
        ("RingSketch", {"ids": ["c1"], "centre": "p99", "count": 3}, "not on the board"),
    ):  # fmt: skip
        with pytest.raises(CommandError, match=word):
            board.draw(command, **fields)


def test_a_chain_set_off_keeps_its_distance(board: Board) -> None:
    """Round a rounded plate: inside and outside areas by hand, sharp and smooth joints, and one figure for all of it."""
    board.draw(
        "DrawRectangle", first=[0, 0], corner=[30, 20], by_centre=True, on="origin", width="60 mm", height="40 mm"
    )
    corners = [p.id for p in board.sketch.points]
    board.draw("RoundSketch", corners=corners[:2], radius="8 mm")
    ring = [c.id for c in board.sketch.curves]
    whole = 60 * 40 - 2 * (1 - math.pi / 4) * 64
    inside, outside = 54 * 34 - 2 * (1 - math.pi / 4) * 25, 66 * 46 - 2 * (1 - math.pi / 4) * 121
    board.draw("OffsetSketch", ids=ring, distance="3 mm")
    assert {round(r.area_mm2, 6) for r in board.shape.regions} == {round(whole, 6), round(outside - whole, 6)}
    board.draw("RemoveFromSketch", ids=[c.id for c in board.sketch.curves if c.id not in ring])
    board.draw("OffsetSketch", ids=ring, distance="3 mm", other_side=True)
    assert {round(r.area_mm2, 6) for r in board.shape.regions} == {round(inside, 6), round(whole - inside, 6)}
    assert board.shape.solution.freedom == 0, "nothing of it can move by itself"
    lead = next(d for d in board.sketch.dimensions if d.kind == "distance" and d.formula == "3 mm" and not d.follows)
    board.draw("ResizeSketch", dimension=lead.id, formula="5 mm")
    narrow = 50 * 30 - 2 * (1 - math.pi / 4) * 9
    assert min(r.area_mm2 for r in board.shape.regions if abs(r.area_mm2 - narrow) < 1e-3) == pytest.approx(narrow)
    width = next(d for d in board.sketch.dimensions if d.formula == "60 mm")
    board.draw("ResizeSketch", dimension=width.id, formula="80 mm")
    assert any(r.area_mm2 == pytest.approx(70 * 30 - 2 * (1 - math.pi / 4) * 9) for r in board.shape.regions)


def test_outer_corners_are_gone_round(board: Board) -> None:
    """Set off outwards by 4, a rectangle grows by a band and four quarters of a circle; inwards its corners stay sharp."""
    board.draw("DrawRectangle", first=[0, 0], corner=[30, 20], on="origin", width="60 mm", height="40 mm")
    lines = [c.id for c in board.sketch.curves]
    board.draw("OffsetSketch", ids=lines, distance="4 mm", other_side=True, rounded=True)
    assert {round(r.area_mm2, 6) for r in board.shape.regions} == {52.0 * 32, 2400 - 52.0 * 32}, "nothing to go round"
    board.draw("RemoveFromSketch", ids=[c.id for c in board.sketch.curves if c.id not in lines])
    board.draw("OffsetSketch", ids=lines, distance="4 mm", rounded=True)
    assert sum(r.area_mm2 for r in board.shape.regions) == pytest.approx(60 * 40 + 2 * (60 + 40) * 4 + math.pi * 16)
    assert board.shape.solution.freedom == 0
    lead = next(d for d in reversed(board.sketch.dimensions) if d.kind == "distance" and not d.follows)
    board.draw("ResizeSketch", dimension=lead.id, formula="6 mm")
    assert sum(r.area_mm2 for r in board.shape.regions) == pytest.approx(2400 + 200 * 6 + math.pi * 36)


def test_an_open_chain_ends_squarely(board: Board) -> None:
    p = board.path((0, 0), (30, 0), (30, 20), closed=False)
    board.draw("OffsetSketch", ids=["l1", "l2"], distance="4 mm")
    lines = [c for c in board.sketch.curves if c.kind == "line" and not c.construction][2:]
    ends = [board.at(q) for q in (lines[0].points[0], lines[0].points[1], lines[1].points[1])]
    assert ends[0] == pytest.approx((0, 4)) and ends[1] == pytest.approx((26, 4)) and ends[2] == pytest.approx((26, 20))
    board.draw("DragSketch", id=p[2], to=[40, 25])
    corner, far = board.at(p[1]), board.at(p[2])
    moved = [board.at(q) for q in lines[1].points]
    size = math.dist(corner, far)
    for q in moved:
        away = abs((far[0] - corner[0]) * (q[1] - corner[1]) - (far[1] - corner[1]) * (q[0] - corner[0])) / size
        assert away == pytest.approx(4), "it keeps its distance wherever the first goes"
    for fields, word in (
        ({"ids": ["l1"], "distance": "0"}, "above zero"), ({"ids": [], "distance": "3 mm"}, "hang together"),
        ({"ids": ["l1", lines[1].id], "distance": "3 mm"}, "one chain"),
    ):  # fmt: skip
        with pytest.raises(CommandError, match=word):
            board.draw("OffsetSketch", **fields)


def _three_in_a_row(board: Board) -> None:
    """A circle of 8 about the origin and two of 6 at its sides, each with a ring of 2.5 round it; the rings' inner arcs taken out."""
    board.draw("DrawCircle", centre=[0, 0], on="origin", radius=8, diameter="16 mm")
    for x in (17, -17):
        board.draw("DrawCircle", centre=[x, 0], radius=6, diameter="12 mm", x=f"{x} mm", y="0 mm")
    made = board.draw("OffsetSketch", ids=[c.id for c in board.sketch.curves], distance="2.5 mm")
    rings = [m for m in made if m.startswith("c")]
    assert [board.sketch.curve(r).radius for r in rings] == pytest.approx([10.5, 8.5, 8.5])  # type: ignore[union-attr]
    for ring, x in ((rings[0], 10.5), (rings[0], -10.5), (rings[1], 8.5), (rings[2], -8.5)):
        board.draw("TrimSketch", id=ring, near=[x, 0])


def test_rings_round_circles_keep_their_width(board: Board) -> None:
    _three_in_a_row(board)
    # the union of the three discs, less the three holes: lenses of two circles by hand
    lens = _lens(10.5, 8.5, 17)
    (region,) = [r for r in board.shape.regions if len(r.loops) == 4]
    assert region.area_mm2 == pytest.approx(math.pi * (10.5**2 + 2 * 8.5**2 - 64 - 2 * 36) - 2 * lens)
    bearing = next(d for d in board.sketch.dimensions if d.formula == "16 mm")
    board.draw("ResizeSketch", dimension=bearing.id, formula="18 mm")
    width = next(d for d in board.sketch.dimensions if d.kind == "ring" and not d.follows)
    board.draw("ResizeSketch", dimension=width.id, formula="2 mm")
    (region,) = [r for r in board.shape.regions if len(r.loops) == 4]
    assert region.area_mm2 == pytest.approx(math.pi * (121 + 2 * 64 - 81 - 2 * 36) - 2 * _lens(11, 8, 17))
    board.draw("OffsetSketch", ids=["c1"], distance="3 mm", other_side=True)
    assert min(c.radius for c in board.sketch.curves if c.kind == "circle") == pytest.approx(6)
    for fields, word in (
        ({"ids": ["c1"], "distance": "9 mm", "other_side": True}, "leaves nothing of a circle"),
        ({"ids": ["c1"], "distance": "0"}, "above zero"),
    ):
        with pytest.raises(CommandError, match=word):
            board.draw("OffsetSketch", **fields)


def _lens(first: float, second: float, apart: float) -> float:
    """What two circles share, mm²: two segments of a circle."""
    a = (apart**2 + first**2 - second**2) / (2 * apart)
    b = apart - a
    return sum(r * r * math.acos(k / r) - k * math.sqrt(r * r - k * k) for r, k in ((first, a), (second, b)))


def test_corners_of_arcs_are_rounded(board: Board) -> None:
    """A radius r between circles of R and S touches both where its centre is R + r and S + r from theirs."""
    _three_in_a_row(board)
    corners = [p.id for p in board.sketch.points if abs(abs(p.x) - 9.617647) < 1e-3]
    assert len(corners) == 4
    board.draw("RoundSketch", corners=corners, radius="4 mm")

    def centres() -> list[tuple[float, float]]:
        arcs = [c for c in board.sketch.curves if c.kind == "arc"]
        found = [(board.at(c.points[0]), math.dist(board.at(c.points[0]), board.at(c.points[1]))) for c in arcs]
        return [at for at, radius in found if abs(at[1]) > 1e-6]

    assert [math.hypot(*c) for c in centres()] == pytest.approx([14.5] * 4)
    assert [math.dist(c, (math.copysign(17, c[0]), 0)) for c in centres()] == pytest.approx([12.5] * 4)
    size = next(d for d in board.sketch.dimensions if d.kind == "radius")
    board.draw("ResizeSketch", dimension=size.id, formula="5 mm")
    assert [math.hypot(*c) for c in centres()] == pytest.approx([15.5] * 4), "one size for all"
    assert sum(len(r.loops) == 4 for r in board.shape.regions) == 1


def test_a_corner_of_a_line_and_an_arc(board: Board) -> None:
    """A half disc of 10 on a line: r touches the line at height r and the arc from inside, its centre 10 − r from the middle."""
    board.draw("DrawLine", start={"at": [-10, 0]}, end={"at": [10, 0]}, tie="horizontal")
    ends = board.sketch.curve("l1").points  # type: ignore[union-attr]
    board.draw("DrawArc", start={"at": [10, 0], "on": ends[1]}, end={"at": [-10, 0], "on": ends[0]}, through=[0, 10])
    with pytest.raises(CommandError, match="does not fit into that corner; (4.99|5) mm is the most"):
        board.draw("RoundSketch", corners=[ends[1]], radius="6 mm")
    board.draw("RoundSketch", corners=[ends[1]], radius="2 mm")
    small = next(c for c in board.sketch.curves if c.id == "a2")
    x, y = board.at(small.points[0])
    mid = board.at(board.sketch.curve("a1").points[0])  # type: ignore[union-attr]
    big = math.dist(mid, board.at(board.sketch.curve("a1").points[1]))  # type: ignore[union-attr]
    assert math.dist((x, y), mid) == pytest.approx(big - 2) and y - board.at(ends[0])[1] == pytest.approx(2)


def test_a_written_place_is_where_its_formulas_say_on_whichever_side(bench: Bench) -> None:
    """Below zero, above it, and across it when a value changes: a place is no distance to the side where something happens to stand."""
    bench.do("AddValue", name="out", formula="5 mm")
    (sketch,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawCircle", step=sketch, centre=[-10, -4], radius=3, x="out - 15 mm", y="-4 mm")
    bench.do("DrawSlot", step=sketch, start={"at": [0, 2.5], "x": "0", "y": "2.5 mm"}, end={"at": [0, -10], "x": "0", "y": "-2*out"}, radius=0.6)  # fmt: skip

    def places() -> list[tuple[float, float]]:
        made = bench.evaluate().made[sketch].sketch
        return [made.solution.points[p] for p in ("p1", "p2", "p3")]

    for out in (5, 25, 14, 16, 5):
        bench.set("out", f"{out} mm")
        assert places() == [pytest.approx(p, abs=1e-6) for p in ((out - 15, -4), (0, 2.5), (0, -2 * out))]
    # the solver starts from where the last edit left it: one more edit elsewhere must not turn anything round
    bench.do("DrawCircle", step=sketch, centre=[30, -30], radius=2, x="30 mm", y="-30 mm")
    assert places()[0] == pytest.approx((-10, -4), abs=1e-6)


def test_a_width_below_zero_stays_on_its_side(bench: Bench) -> None:
    (sketch,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawCircle", step=sketch, centre=[-12, 0], radius=3)
    bench.do("SizeSketch", step=sketch, kind="distance_x", of=["origin", "p1"], formula="-10 mm")
    for _ in range(3):
        assert bench.evaluate().made[sketch].sketch.solution.points["p1"][0] == pytest.approx(-10, abs=1e-6)
        bench.do("DrawCircle", step=sketch, centre=[40, 40], radius=1)


def test_a_flat_on_a_circle_is_set_off(board: Board) -> None:
    """A D of radius 5 cut off 3.5 from its middle, set off by 0.4: a D of 5.4 cut off at 3.9, or of 4.6 at 3.1."""
    board.draw("DrawLine", start={"at": [-3.5707, 3.5]}, end={"at": [3.5707, 3.5]}, tie="horizontal")
    one, two = board.sketch.curve("l1").points  # type: ignore[union-attr]
    board.draw("DrawArc", start={"at": [3.57, 3.5], "on": two}, end={"at": [-3.57, 3.5], "on": one}, through=[0, -5])
    centre = board.sketch.curve("a1").points[0]  # type: ignore[union-attr]
    board.draw("TieSketch", kind="coincident", of=[centre, "origin"])
    board.draw("SizeSketch", kind="radius", of=["a1"], formula="5 mm")
    board.draw("SizeSketch", kind="distance", of=["origin", "l1"], formula="3.5 mm")

    def d_shape(radius: float, flat: float) -> float:
        half = math.acos(flat / radius)
        return radius**2 * (math.pi - half) + flat * math.sqrt(radius**2 - flat**2)

    assert board.shape.regions[0].area_mm2 == pytest.approx(d_shape(5, 3.5))
    for side in (False, True):
        board.draw("OffsetSketch", ids=["l1", "a1"], distance="0.4 mm", other_side=side)
    board.draw("ResizeSketch", dimension=board.sketch.dimensions[0].id, formula="6 mm")
    rings = [d_shape(6.4, 3.9) - d_shape(6, 3.5), d_shape(6, 3.5) - d_shape(5.6, 3.1), d_shape(5.6, 3.1)]
    assert sorted(r.area_mm2 for r in board.shape.regions) == pytest.approx(sorted(rings))
    assert board.shape.solution.freedom == 0


def test_a_chain_of_arcs_alone_is_set_off(board: Board) -> None:
    """The rounded outline of three discs by 2: every arc that bulges 2 longer in radius, every hollow one 2 shorter."""
    _three_in_a_row(board)
    corners = [p.id for p in board.sketch.points if abs(abs(p.x) - 9.617647) < 1e-3]
    board.draw("RoundSketch", corners=corners, radius="4 mm")
    arcs = [c.id for c in board.sketch.curves if c.kind == "arc"]

    def radii(ids: list[str]) -> list[float]:
        found = [board.sketch.curve(i) for i in ids]
        return sorted(math.dist(board.at(c.points[0]), board.at(c.points[1])) for c in found if c is not None)

    assert radii(arcs) == pytest.approx([4, 4, 4, 4, 8.5, 8.5, 10.5, 10.5])
    freedom = board.shape.solution.freedom
    made = board.draw("OffsetSketch", ids=arcs, distance="2 mm")
    new = [m for m in made if m.startswith("a")]
    assert radii(new) == pytest.approx([2.0] * 4 + [10.5] * 2 + [12.5] * 2)
    assert board.shape.solution.freedom == freedom
