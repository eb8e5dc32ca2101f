"""Detents, shaped shafts, crossed plates and copies by hand: from nothing, from the keyboard, broken, printed, tried, grown, and still there after a reload."""

from __future__ import annotations

import re

import pytest
from hands import Hands, focus, kept, write
from playwright.sync_api import Page, expect


def test_plates_cross_from_nothing(hands: Hands, page: Page) -> None:
    hands.begin("Shield")
    hands.block("100 mm", "3 mm", "62 mm")
    hands.step("Body")
    for field, formula in (("wide", "4 mm"), ("deep", "60 mm"), ("high", "50 mm")):
        hands.figure(field, formula)
    hands.keep()
    hands.step("Halving of plates")
    hands.offer("front of Part 1")
    hands.offer("left side of Part 2")
    hands.keep()
    (joint,) = hands.state()["report"]["joints"]
    assert joint["measured_mm"]["least"] == pytest.approx(joint["drawn_mm"], abs=2e-3)
    assert joint["measured_mm"]["most"] == pytest.approx(joint["drawn_mm"], abs=2e-3)

    # nonsense is answered with what would work, and nothing is lost
    row = hands.sentence(4)
    hands.choose("share", "by", row)
    hands.figure("depth", "49.9 mm", row)
    expect(row).to_contain_text("takes 0.5 to 49.5 mm")
    hands.figure("depth", "20 mm", row)
    hands.idle()
    assert hands.state()["report"]["ok"]

    page.reload()
    hands.idle()
    assert hands.state()["report"]["ok"] and len(hands.state()["report"]["joints"]) == 1


def test_a_hole_goes_round_a_bought_shaft_from_the_keyboard(hands: Hands, page: Page) -> None:
    hands.start()
    page.get_by_role("button", name="open the example: Dial on a switch").click()
    page.locator("#stage").wait_for()
    hands.idle()
    count = len(hands.state()["report"]["steps"])
    hands.sentence(count).get_by_role("button", name=re.compile("^what to do")).click()
    page.get_by_role("menuitem", name="Delete").click()
    expect(hands.gauge("dial on shaft")).to_have_count(0)
    hands.idle()

    write(hands, "shaped shaft")
    focus(hands, "[data-sheet] button")
    for _ in range(20):
        if page.evaluate("() => document.activeElement?.dataset.chip === 'halves'"):
            break
        hands.press("Shift+Tab")
    hands.press("Enter")
    focus(hands, "[role=radio]")
    hands.press("ArrowDown", "Enter")
    # the key that took one answer did not give the next as well
    expect(hands.draft).to_contain_text("the one that ends with a flat face")
    focus(hands, "[data-sheet] button")
    hands.idle()
    hands.down_to("top of Switch")
    hands.press("Enter")
    expect(hands.draft).to_contain_text("ends with the top of Switch; hole in Dial")
    kept(hands)
    (joint,) = hands.state()["report"]["joints"]
    assert joint["measured_mm"]["least"] == pytest.approx(joint["drawn_mm"], abs=2e-3)

    # another switch: dial and hole go with it
    hands.set("shaft", "18 mm")
    hands.set("flat", "5 mm")
    (after,) = hands.state()["report"]["joints"]
    assert hands.state()["report"]["ok"] and after["measured_mm"]["least"] == pytest.approx(after["drawn_mm"], abs=2e-3)
    hands.gauge("Shaped shaft").click()
    expect(page.locator("[data-working]")).to_contain_text("it turns to each side by")


def test_perches_are_copied_as_parts_and_follow_their_number(hands: Hands, page: Page) -> None:
    hands.start()
    page.get_by_role("button", name="open the example: Perch rail").click()
    page.locator("#stage").wait_for()
    hands.idle()

    def rods() -> list[str]:
        return [p["name"] for p in hands.state()["report"]["parts"] if p["name"].startswith("Rod")]

    assert rods() == ["Rod", "Rod 2", "Rod 3", "Rod 4", "Rod 5"]
    hands.set("many", "6")
    assert rods()[-1] == "Rod 6"
    assert page.get_by_text("Sleeve 6").first.is_visible()
    hands.set("many", "3")
    assert rods() == ["Rod", "Rod 2", "Rod 3"]
    hands.press("Control+z", "Control+z")
    expect(page.get_by_text("Rod 5").first).to_be_visible()
    hands.idle()
    assert len(rods()) == 5
    # one more row of copies, by hand
    hands.step("Copies")
    hands.open("of")
    hands.offer("Wall")
    hands.figure("count", "2")
    hands.figure("pitch", "9 in")
    hands.keep()
    assert "Wall 2" in [p["name"] for p in hands.state()["report"]["parts"]]
    page.reload()
    hands.idle()
    assert hands.state()["report"]["ok"] and "Wall 2" in [p["name"] for p in hands.state()["report"]["parts"]]
