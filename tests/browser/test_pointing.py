"""Pointing without being asked: what one points at counts, and what lies close together is told apart."""

from __future__ import annotations

import pytest
from hands import Hands
from playwright.sync_api import Page, expect


def test_what_is_pointed_at_counts_without_a_word(hands: Hands, page: Page) -> None:
    hands.begin("Pointing")
    hands.block("30 mm", "20 mm", "12 mm")
    hands.step("Sketch")
    # it asks for nothing: the plane is answered already, and a face that is pointed at is meant instead
    hands.face("Part 1", "top")
    expect(hands.draft).to_contain_text("the top of Part 1")
    hands.keep()
    hands.draw("circle", diameter="8 mm")
    hands.leave_board()
    hands.step("Extrude")
    hands.choose("operation", "and cut it from")
    hands.choose("direction", "down")
    hands.figure("distance", "5 mm")
    hands.keep()

    hands.step("Shell")
    hands.face("Part 1", "top")
    # on to the next chip, and to keep, without "take"
    hands.figure("wall", "1.5 mm")
    expect(hands.draft).to_contain_text("open at the top of Part 1")
    hands.draft.get_by_role("button", name="drop").click()

    # all that a step made like a face is one answer, and stays so when there is more of it
    hands.step("Move faces")
    hands.face("Part 1", "front")
    hands.offer("all 4 like it")
    hands.figure("distance", "1 mm")
    expect(hands.draft).to_contain_text("all sides that")
    hands.keep()
    (part,) = hands.state()["report"]["parts"]
    assert part["volume_mm3"] == pytest.approx(32 * 22 * 12 - 3.14159265 * 16 * 5, rel=1e-6)


def test_rings_from_the_keyboard_and_the_nearest_curve(hands: Hands, page: Page) -> None:
    hands.begin("Rings")
    hands.step("Sketch")
    hands.keep()
    hands.press("Escape", "o", "Enter")
    hands.type("20 mm")
    hands.press("Enter")
    hands.idle()
    hands.press(".", "Enter")
    hands.down_to("set off beside …")
    hands.press("Enter", "Control+a")
    hands.type("0.4 mm")
    hands.press("Enter")
    hands.idle()
    assert [round(c["radius"], 6) for c in hands.drawing()["curves"]] == [10, 10.4]
    # the two rims are some pixels apart: the one under the pointer is meant, not the one drawn last
    page.get_by_role("button", name="show all").click()
    hands.on_board(0, 10)
    panel = page.get_by_role("group", name="what is selected")
    expect(panel).to_contain_text("a circle")
    page.keyboard.down("Shift")
    hands.on_board(0, 10.4)
    page.keyboard.up("Shift")
    expect(panel).to_contain_text("2 circles")
    # their distance is a size, and one that is nonsense is told and loses nothing
    hands.press("d")
    box = page.locator("input.field.fig.text-center")
    expect(box).to_have_value("0.4 mm")
    box.fill("-3 mm")
    box.press("Enter")
    expect(page.get_by_text("must be above zero")).to_be_visible()
    box.fill("3 mm")
    box.press("Enter")
    hands.idle()
    assert [round(c["radius"], 6) for c in hands.drawing()["curves"]] == [10, 13]
    hands.leave_board()
