"""Small pictures of models, read back by a decoder of our own and held against what is known of simple bodies."""

from __future__ import annotations

import math

import numpy as np
import pytest
from building import decoded

from dovejoint.core.formats.picture import MARGIN, RISE_DEG, TURN_DEG, picture

W, H = 320, 220


def box(low: tuple[float, ...], high: tuple[float, ...]) -> tuple[np.ndarray, np.ndarray]:
    corners = np.array(
        [[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])], np.float32
    )
    quads = [(0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3)]
    return corners, np.array([t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))], np.uint32)


def test_a_box_covers_what_its_shadow_does() -> None:
    a, b, c = 40.0, 30.0, 20.0
    image = decoded(picture([("#c08040", *box((0, 0, 0), (a, b, c)))], W, H))
    turn, rise = math.radians(TURN_DEG), math.radians(RISE_DEG)
    eye = (math.cos(rise) * math.cos(turn), math.cos(rise) * math.sin(turn), math.sin(rise))
    shadow = abs(eye[0]) * b * c + abs(eye[1]) * a * c + abs(eye[2]) * a * b
    wide = abs(math.sin(turn)) * a + abs(math.cos(turn)) * b
    tall = math.cos(rise) * c + math.sin(rise) * (abs(math.cos(turn)) * a + abs(math.sin(turn)) * b)
    scale = (1 - 2 * MARGIN) * min(W / wide, H / tall)
    solid = image[..., 3] > 0
    assert solid.sum() == pytest.approx(shadow * scale**2, rel=0.02)
    # no holes: each row of a convex body is one run
    for row in solid:
        assert np.count_nonzero(np.diff(row.astype(int)) == 1) <= 1
    # three faces of three shades, each a good part of it, and their edges in ink
    shades, counts = np.unique(image[solid][:, :3], axis=0, return_counts=True)
    assert (counts > 0.05 * solid.sum()).sum() == 3
    assert 0.01 < (image[solid][:, 0] == 38).mean() < 0.2


def test_what_is_nearer_hides_what_is_farther_and_inside_is_not_seen() -> None:
    far, near = box((0, 0, 0), (40, 40, 10)), box((10, 10, 2), (30, 30, 8))
    whole = decoded(picture([("#c08040", *far)], W, H))
    both = decoded(picture([("#40c080", *near), ("#c08040", *far)], W, H))
    assert (whole == both).all()
    on_top = decoded(picture([("#40c080", *box((10, 10, 10), (30, 30, 14))), ("#c08040", *far)], W, H))
    green = (on_top[..., 1] > on_top[..., 0]) & (on_top[..., 3] > 0)
    assert green.sum() > 2000


def test_nothing_is_a_clear_picture() -> None:
    assert decoded(picture([], W, H)).sum() == 0
    assert decoded(picture([("#c08040", np.zeros((0, 3), np.float32), np.zeros((0, 3), np.uint32))], 40, 30)).shape == (
        30,
        40,
        4,
    )
