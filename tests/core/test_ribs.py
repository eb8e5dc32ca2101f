"""Walls along lines that end where something is met: volumes by hand."""

from __future__ import annotations

import math
from typing import Any

import pytest
from building import Bench, Board

GROUND = {"rule": "base", "plane": "ground"}


class Ribbed(Bench):
    """A wall 2 thick along an L of 20 and 10 on the ground, under a block that begins 7 over it."""

    def __init__(self, bench: Bench) -> None:
        self.__dict__ = bench.__dict__
        _, self.roof = self.do(
            "AddStep", kind="body", new_part={"name": "Roof"},
            fields={"wide": "60 mm", "deep": "40 mm", "high": "5 mm", "on": {"rule": "fixed", "origin": [0, 0, 7], "x": [1, 0, 0], "y": [0, 1, 0]}},
        )  # fmt: skip
        self.board = Board(self)
        self.board.path((-10, 0), (10, 0), closed=False)

    def wall(self, **fields: Any) -> str:
        lines = {"rule": "path_sketch", "step": self.board.step}
        self.step, part = self.do("AddStep", kind="wall", new_part={"name": "Rib"}, fields={"lines": lines, "thick": "2 mm", **fields})  # fmt: skip
        return str(part)


def test_a_rib_ends_at_a_leaning_plane(bench: Bench) -> None:
    """Under z = 10 + x / 2 a rib from -10 to 10 is 10 high in the middle, and as much over as under that at its ends."""
    ribbed = Ribbed(bench)
    leaning = {"rule": "fixed", "origin": [0, 0, 10], "x": [2 / math.sqrt(5), 0, 1 / math.sqrt(5)], "y": [0, 1, 0]}
    rib = ribbed.wall(extent="to", until=leaning)
    assert ribbed.volume(rib) == pytest.approx(20 * 2 * 10)


def test_a_rib_with_a_corner_ends_at_a_part_wherever_that_is(bench: Bench) -> None:
    ribbed = Ribbed(bench)
    ribbed.board.draw(
        "DrawLine",
        start={"at": [10, 0], "on": ribbed.board.sketch.curve("l1").points[1]},
        end={"at": [10, 10]},
        tie="vertical",
    )  # type: ignore[union-attr]
    rib = ribbed.wall(extent="to", until={"rule": "part_end", "part": ribbed.roof})
    # two strips that share a quarter-disc's square at the corner, and the half of the post that stands out
    area = 20 * 2 + 10 * 2 - 1 + math.pi / 4
    assert ribbed.volume(rib) == pytest.approx(area * 7)
    roof = ribbed.project.recipe[0].id
    ribbed.do(
        "EditStep", step=roof, fields={"on": {"rule": "fixed", "origin": [0, 0, 9], "x": [1, 0, 0], "y": [0, 1, 0]}}
    )
    assert ribbed.volume(rib) == pytest.approx(area * 9), "it follows"


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"direction": "both"}, "one way until something is met"),
        ({"direction": "down"}, "does not stand over the whole outline"),
        ({"until": None}, "where it ends"),
    ],
)
def test_what_is_refused(bench: Bench, fields: dict[str, Any], words: str) -> None:
    ribbed = Ribbed(bench)
    given = {"extent": "to", "until": {"rule": "part_end", "part": ribbed.roof}, **fields}
    ribbed.wall(**given)
    assert words in ribbed.message(ribbed.step)
