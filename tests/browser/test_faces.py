"""Steps on faces of any shape, from an empty project with the mouse, with nonsense, taken back, and after a reload."""

from __future__ import annotations

import math

import pytest
from hands import Hands
from playwright.sync_api import Page, expect


def volume(hands: Hands, name: str) -> float:
    return float(next(p for p in hands.state()["report"]["parts"] if p["name"] == name)["volume_mm3"])


def test_faces_are_repeated_rounded_thickened_and_divided_along(hands: Hands, page: Page) -> None:
    hands.begin("Faces")
    hands.step("Body")
    for field, formula in (("wide", "60 mm"), ("deep", "30 mm"), ("high", "10 mm")):
        hands.figure(field, formula)
    hands.keep()
    hands.step("Body")
    hands.open("on")
    hands.face("Part 1", "top")
    hands.choose("shape", "Cylinder")
    hands.figure("across", "12 mm")
    hands.figure("high", "6 mm")
    page.get_by_role("button", name="add to this sentence").last.click()
    page.get_by_text("beside that place").first.click()
    hands.figure("right", "-20 mm")
    hands.keep()
    peg, plate = math.pi * 36 * 6, 18000.0

    # the peg by its two faces, in a row of three
    hands.step("Repeat faces")
    for name in ("end", "side"):
        hands.face("Part 1", f"s3/{name}(round)" if name == "side" else "s3/end")
    hands.draft.get_by_role("button", name="take").click()
    hands.figure("pitch", "20 mm")
    hands.keep()
    expect(hands.sentence(3)).to_contain_text("in a row along")
    assert volume(hands, "Part 1") == pytest.approx(plate + 3 * peg, rel=1e-6)

    # from the peg to the plate
    hands.step("Round between faces")
    hands.open("first")
    hands.face("Part 1", "s3/side(round)")
    hands.open("second")
    hands.face("Part 1", "s2/end")
    hands.figure("radius", "none")
    expect(hands.draft).to_contain_text("There is no value called “none”")
    hands.figure("radius", "2 mm")
    hands.keep()
    area, away = (1 - math.pi / 4) * 4, (10 - 3 * math.pi) / (12 - 3 * math.pi) * 2
    ring = 2 * math.pi * (6 + away) * area
    assert volume(hands, "Part 1") == pytest.approx(plate + 3 * peg + ring, rel=1e-5)

    # a sleeve on the middle peg, as a part of its own
    hands.step("Thicken faces")
    hands.open("faces")
    hands.face("Part 1", "s4/copy2(s3/side(round))")
    hands.draft.get_by_role("button", name="take").click()
    hands.figure("wall", "1.5 mm")
    hands.keep()
    assert volume(hands, "Part 2") == pytest.approx(math.pi * (7.5**2 - 36) * 6, rel=1e-6)

    # a block over it, divided along the sleeve's outer side; both stay
    hands.step("Body")
    for field, formula in (("wide", "24 mm"), ("deep", "24 mm"), ("high", "30 mm")):
        hands.figure(field, formula)
    hands.keep()
    hands.hide("Part 3")
    hands.step("Divide")
    hands.open("part")
    hands.offer("Part 3")
    hands.choose("by", "along the face")
    hands.open("face")
    hands.face("Part 2", "s7/over(s4/copy2(s3/side(round)))")
    hands.choose("keep", "both, the other side as new part")
    hands.keep()
    inside = math.pi * 7.5**2 * 30
    assert volume(hands, "Part 3") == pytest.approx(24 * 24 * 30 - inside, rel=1e-5)
    assert volume(hands, "Part 4") == pytest.approx(inside, rel=1e-5)
    # one side only, and it can still be changed after that
    hands.choose("keep", "the other side", hands.sentence(7))
    hands.idle()
    hands.choose("keep", "one side", hands.sentence(7))
    hands.idle()
    assert volume(hands, "Part 3") == pytest.approx(24 * 24 * 30 - inside, rel=1e-5)
    page.reload()
    page.locator("#stage").wait_for()
    hands.idle()
    assert volume(hands, "Part 3") == pytest.approx(24 * 24 * 30 - inside, rel=1e-5)
    assert not hands.complaints
