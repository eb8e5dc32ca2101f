"""Threads and snap hooks by hand: made, broken, worked out, cut open, printed and tried, and still there after a reload."""

from __future__ import annotations

import pytest
from hands import Hands
from playwright.sync_api import Page, expect


def test_a_screw_and_its_hole_from_nothing(hands: Hands, page: Page) -> None:
    hands.begin("Clamp")
    hands.block("40 mm", "40 mm", "16 mm")
    hands.step("Screw thread")
    hands.offer("the upright axis")
    hands.call("Screw")
    hands.keep()
    assert [p["name"] for p in hands.state()["report"]["parts"]] == ["Part 1", "Screw"]
    (joint,) = hands.state()["report"]["joints"]
    measured = joint["measured_mm"]
    assert measured["least"] == pytest.approx(joint["drawn_mm"], abs=1e-4)
    assert measured["most"] == pytest.approx(joint["drawn_mm"], abs=1e-4)
    expect(hands.gauge("Screw thread")).to_contain_text("Ø")

    # nonsense is answered with what would work, and nothing is lost
    row = hands.sentence(3)
    hands.figure("pitch", "30 mm", row)
    expect(row).to_contain_text("too coarse for Ø 20 mm")
    hands.figure("pitch", "3 mm", row)
    expect(row).not_to_contain_text("too coarse")
    expect(row).to_contain_text("M20 has 2.5 mm as its coarse pitch")
    # called by its size: what is none is told, and screw and hole change together
    hands.choose("sized", "the size", row)
    expect(row).to_contain_text("M20")
    (joint,) = hands.state()["report"]["joints"]
    assert joint["opening_mm"][0] == pytest.approx(20.0, abs=0.5)
    tried = (("M0.2", "M0.2"), ("Tr20", "called with its pitch"), ("cake", "is no name of a thread's size"))
    for name, word in tried:
        hands.figure("size", name, row)
        expect(row).to_contain_text(word)
    hands.figure("size", "Tr20 x 4", row)
    hands.idle()
    (joint,) = hands.state()["report"]["joints"]
    assert hands.state()["report"]["ok"]
    assert joint["measured_mm"]["least"] == pytest.approx(joint["drawn_mm"], abs=1e-4)
    hands.press(*["Control+z"] * (len(tried) + 2))
    hands.idle()
    hands.choose("hand", "left-hand", row)
    hands.choose("profile", "gentle, 90°", row)
    hands.idle()
    assert hands.state()["report"]["ok"]

    hands.gauge("Screw thread").click()
    work = page.locator("[data-working]")
    expect(work).to_contain_text("Thread, worked out")
    expect(work).to_contain_text("half of the gentle, 90° profile: kept in")
    expect(work).to_contain_text("lower flanks hang over by")
    work.get_by_text("from these figures").click()
    expect(work).to_contain_text("our own, made to print upright")
    page.reload()
    hands.idle()
    assert hands.state()["report"]["ok"] and len(hands.state()["report"]["joints"]) == 1


def test_a_cup_hangs_by_a_hook_that_drops_in(hands: Hands, page: Page) -> None:
    hands.start()
    page.get_by_role("button", name="open the example: Water cup").click()
    page.locator("#stage").wait_for()
    hands.idle()
    hands.step("Drop-in hook")
    hands.offer("back-facing face of Cup")
    hands.open("wall")
    hands.offer("front of Feeder's wall")
    hands.open("way")
    hands.offer("the upright axis")
    hands.figure("up", "9 mm")
    hands.keep()
    hands.idle()
    report = hands.state()["report"]
    assert report["ok"] and len(report["joints"]) == 3
    assert all(j["measured_mm"]["least"] == pytest.approx(j["drawn_mm"], abs=1e-3) for j in report["joints"])
    # what cannot be is told with what would do, and nothing is lost
    row = hands.sentence(9)
    hands.figure("up", "16 mm", row)
    expect(row).to_contain_text("must reach over the hook")
    hands.press("Control+z")
    hands.figure("lead", "9 mm", row)
    expect(row).to_contain_text("2.6 mm at most")
    hands.press("Control+z")
    hands.idle()
    hands.gauge("left hook").click()
    work = page.locator("[data-working]")
    expect(work).to_contain_text("weight until the neck breaks")
    page.reload()
    hands.idle()
    assert len(hands.state()["report"]["joints"]) == 3


def test_a_catch_that_is_squeezed_is_made_and_broken(hands: Hands, page: Page) -> None:
    hands.start()
    page.get_by_role("button", name="open the example: Battery box").click()
    page.locator("#stage").wait_for()
    hands.idle()
    hands.step("Torsion lever")
    hands.offer("underside of Lid")
    hands.open("wall")
    hands.offer("back of Box")
    hands.figure("along", "0 mm")
    expect(hands.draft).to_contain_text("posts stand beside that face")
    hands.press("Escape")
    hands.idle()
    hands.gauge("left catch").click()
    work = page.locator("[data-working]")
    expect(work).to_contain_text("Lever on twisted bars, worked out")
    expect(work).to_contain_text("it lets go only when its end is pressed")
    hands.desk("Shape")
    hands.set("bar", "3 mm")
    hands.set("undercut", "0.9 mm")
    expect(hands.gauge("left catch")).to_contain_text("the bars crack in")
    hands.press("Control+z")
    hands.press("Control+z")
    hands.idle()
    page.reload()
    hands.idle()
    assert hands.state()["report"]["ok"] and len(hands.state()["report"]["joints"]) == 2
