"""Whatever is done on the board, in whatever order: it is done or refused with a sentence, and the sketch still works out."""

from __future__ import annotations

import random
from typing import Any

import pytest
from building import Bench, Board

from dovejoint.core.errors import DoveError
from dovejoint.core.sketch.model import CONSTRAINT_KINDS, DIMENSION_KINDS

SIZES = ("", "5 mm", "12 mm", "0 mm", "-3 mm", "1e9 mm", "20 deg", "x")


class Dice:
    """A hand that draws at random, now and then on what is there."""

    def __init__(self, seed: int, board: Board) -> None:
        self.roll, self.board = random.Random(seed), board

    def place(self) -> list[float]:
        return [self.roll.choice([0.0, self.roll.uniform(-40, 40), 5.0 * self.roll.randint(-8, 8)]) for _ in range(2)]

    def spot(self) -> dict[str, Any]:
        points, curves = [p.id for p in self.board.sketch.points], [c.id for c in self.board.sketch.curves]
        spot: dict[str, Any] = {"at": self.place()}
        if points and self.roll.random() < 0.3:
            spot["on"] = self.roll.choice(points)
        if curves and self.roll.random() < 0.15:
            spot |= {"lies": self.roll.choice(["point_on", "midpoint"]), "curve": self.roll.choice(curves)}
        return spot

    def drawing(self) -> tuple[str, dict[str, Any]]:
        spot, place, roll = self.spot, self.place, self.roll
        return roll.choice([
            ("DrawPoint", {"at": spot()}),
            ("DrawLine", {"start": spot(), "end": spot(), "tie": roll.choice(["", "horizontal", "vertical"]), "length": roll.choice(SIZES)}),
            ("DrawArc", {"start": spot(), "end": spot(), "through": place()}),
            ("DrawArcAbout", {"centre": spot(), "start": spot(), "towards": place()}),
            ("DrawCircle", {"centre": place(), "radius": roll.choice([1, 5, 20, 1e-6])}),
            ("DrawCircleOver", {"spots": [spot() for _ in range(roll.choice([2, 3]))]}),
            ("DrawRectangle", {"first": place(), "corner": place(), "by_centre": roll.random() < 0.5}),
            ("DrawLeaning", {"start": spot(), "end": spot(), "beside": place()}),
            ("DrawSlot", {"start": spot(), "end": spot(), "radius": 3}),
            ("DrawArcSlot", {"start": spot(), "end": spot(), "through": place(), "radius": roll.choice([1, 3, 30])}),
            ("DrawPolygon", {"centre": spot(), "corner": place(), "sides": roll.randint(3, 9)}),
            ("DrawEllipse", {"centre": spot(), "first": spot(), "beside": place()}),
            ("DrawSpline", {"spots": [spot() for _ in range(roll.randint(2, 6))], "closed": roll.random() < 0.3}),
            ("DrawText", {"foot": spot(), "text": roll.choice(["AB", "o", "", "é Ω"]), "size": 5}),
        ])  # fmt: skip

    def work(self) -> tuple[str, dict[str, Any]]:
        sketch, roll = self.board.sketch, self.roll
        curves, points = [c.id for c in sketch.curves], [p.id for p in sketch.points]
        if not curves:
            return self.drawing()
        one, things = roll.choice(curves), [*curves, *points, "origin"]
        some = roll.sample(things, min(len(things), roll.randint(1, 4)))
        sizes = [d.id for d in sketch.dimensions] or ["d0"]
        yes = roll.random() < 0.5
        return roll.choice([
            ("TieSketch", {"kind": roll.choice(CONSTRAINT_KINDS), "of": some}),
            ("TieSketch", {"kind": roll.choice(["tangent", "smooth", "point_on", "equal"]), "of": [some[0], one]}),
            ("SizeSketch", {"kind": roll.choice(DIMENSION_KINDS), "of": some[:2], "formula": roll.choice(SIZES), "reading": roll.random() < 0.3}),
            ("ResizeSketch", {"dimension": roll.choice(sizes), "formula": roll.choice(SIZES)}),
            ("ReadingSketch", {"dimension": roll.choice(sizes), "on": yes}),
            ("TrimSketch", {"id": one, "near": self.place()}), ("SplitSketch", {"id": one, "near": self.place()}),
            ("ExtendSketch", {"id": one, "near": self.place()}), ("MirrorSketch", {"ids": some, "axis": one}),
            ("RoundSketch", {"corners": some[:2], "radius": roll.choice(["1 mm", "30 mm"])}),
            ("CutCornersSketch", {"corners": some[:2], "distance": roll.choice(["1 mm", "30 mm"])}),
            ("OffsetSketch", {"ids": some, "distance": roll.choice(["2 mm", "20 mm"]), "other_side": yes, "rounded": roll.random() < 0.5}),
            ("RepeatSketch", {"ids": some, "across": roll.randint(1, 3), "deep": roll.randint(1, 3), "pitch_x": "7 mm", "pitch_y": "9 mm"}),
            ("RingSketch", {"ids": some, "centre": roll.choice([*points, "origin"]), "count": roll.randint(2, 5)}),
            ("ShiftSketch", {"ids": some, "right": "3 mm", "up": roll.choice(["", "4 mm"]), "copied": yes}),
            ("RemoveFromSketch", {"ids": some[:2]}), ("DragSketch", {"id": some[0], "to": self.place()}),
            ("ConstructSketch", {"ids": some, "on": yes}), ("RewordSketch", {"id": one, "text": "XY"}),
            ("JoinEnds", {"pairs": [[roll.choice(points), roll.choice(points)]]}),
        ])  # fmt: skip


@pytest.mark.parametrize("seed", range(24))
def test_nothing_breaks_the_board(bench: Bench, seed: int) -> None:
    board = Board(bench)
    dice = Dice(seed, board)
    done = 0
    for _ in range(14):
        command, fields = dice.drawing() if dice.roll.random() < 0.4 else dice.work()
        before = board.project
        try:
            board.draw(command, **fields)
            done += 1
        except DoveError as refused:
            assert refused.message.endswith((".", "?")) and len(refused.message) > 12
            assert board.project is before, "what is refused loses nothing"
        report = next(r for r in board.evaluate().steps if r.id == board.step)
        assert report.state == "ok", f"{command} {fields}: {report.message}"
    assert done
