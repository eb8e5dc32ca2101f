"""Tabs, pins, gaps that are driven and hinges that stop, by hand: from nothing, from the keyboard, with nonsense, made of wood, printed, tried, and after a reload."""

from __future__ import annotations

import re

import pytest
from hands import Hands, focus, kept, write
from playwright.sync_api import Page, expect


def put_on(hands: Hands, *sizes: str) -> None:
    """Write a new part on the top of the first one, a block of these sizes; it is not kept yet."""
    hands.step("Body")
    hands.open("on")
    hands.offer("top of Part 1")
    hands.choose("operation", "as new part")
    for field, formula in zip(("wide", "deep", "high"), sizes, strict=True):
        hands.figure(field, formula)


def boards(hands: Hands) -> None:
    """A floor 100 × 60 × 5, and a board that stands on it."""
    hands.begin("Tray")
    hands.value("plate", "5 mm")
    hands.block("100 mm", "60 mm", "plate")
    put_on(hands, "80 mm", "4 mm", "30 mm")
    hands.keep()


def test_tabs_from_the_keyboard_and_of_wood(hands: Hands, page: Page) -> None:
    boards(hands)
    write(hands, "tabs")
    focus(hands, "[data-sheet] button")
    hands.idle()
    hands.down_to("underside of Part 2")
    hands.press("Enter")
    # the part that it stands on is the other one
    expect(hands.draft).to_contain_text("into Part 1")
    kept(hands)
    (joint,) = hands.state()["report"]["joints"]
    assert joint["measured_mm"]["least"] == pytest.approx(joint["drawn_mm"], abs=3e-3)
    row = hands.sentence(4)
    hands.figure("tabs", "40", row)
    expect(row).to_contain_text("mm wide at most")
    hands.press("Escape")
    hands.figure("tabs", "3", row)
    hands.idle()
    assert hands.state()["report"]["ok"]

    # a value says where it goes, and a click leads there
    page.locator("[data-value=plate] .chip").click()
    uses = page.locator("[data-uses]")
    expect(uses).to_contain_text("step 2")
    uses.get_by_role("button").first.click()
    expect(hands.sentence(2)).to_be_focused()

    # what it is made of is said on the part's card, and by the joint
    for part in ("Part 1", "Part 2"):
        page.get_by_label("parts", exact=True).get_by_text(part, exact=True).click()
        page.get_by_role("group", name="role").get_by_role("button", name="made").click()
        made_of = page.locator("[data-material]")
        made_of.get_by_role("button").click()
        page.get_by_role("option", name="plywood").click()
        expect(made_of).to_contain_text("plywood")
        hands.press("Escape")
        hands.idle()
    hands.gauge("Tabs and slots").click()
    card = page.locator("[data-joint]")
    expect(card).to_contain_text("of plywood")
    # both halves are drawn, cut where the gap is least
    expect(card.get_by_role("img", name="Part 2 in Part 1, cut through the joint")).to_be_visible()
    expect(card.get_by_role("img", name=re.compile("the gap near by"))).to_be_visible()
    page.reload()
    hands.idle()
    parts = hands.state()["project"]["document"]["parts"]
    assert [p["material"] for p in parts] == ["plywood", "plywood"]


def test_pins_are_printed_read_tried_and_learnt_from(hands: Hands, page: Page) -> None:
    hands.begin("Halves")
    hands.block("60 mm", "40 mm", "14 mm")
    put_on(hands, "60 mm", "40 mm", "14 mm")
    hands.keep()
    write(hands, "locating pins")
    focus(hands, "[data-sheet] button")
    hands.idle()
    hands.down_to("top of Part 1")
    hands.press("Enter")
    expect(hands.draft).to_contain_text("sockets in Part 2")
    kept(hands)
    row = hands.sentence(4)
    (before,) = hands.state()["report"]["joints"]
    hands.choose("second", "the second one a diamond", row)
    hands.idle()
    (after,) = hands.state()["report"]["joints"]
    # it holds less than a round one, so it goes in more often
    assert after["drawn_mm"] == before["drawn_mm"] and after["chance"]["goes_in"] > before["chance"]["goes_in"]
    hands.figure("pegs", "3", row)
    expect(row).to_contain_text("second of two pegs")
    hands.press("Control+z", "Control+z")
    hands.idle()
    hands.figure("pegs", "99", row)
    expect(row).to_contain_text("1 to 24 pegs")
    hands.press("Escape")
    hands.figure("pegs", "4", row)
    hands.idle()
    assert hands.state()["report"]["ok"]
    trial = hands.printed()
    trial.locator("[data-try]").click()
    expect(trial.locator("[data-verdict]")).to_contain_text(re.compile(r"went in|does not go in|play"))
    # places that are alike are one row until they are asked for, and all are read at once
    expect(trial.locator("[data-feature]", has_text="place 1, across")).to_have_count(2)
    expect(trial.locator("[data-feature]", has_text="place 2, across")).to_have_count(0)
    trial.locator("[data-alike]").first.click()
    expect(trial.locator("[data-feature]", has_text="place 2, across")).to_have_count(1)
    trial.locator("[data-read-all]").click()
    expect(trial.locator("[data-feature]", has_text="place 4, deep").first.locator("[data-reading]")).to_have_count(1)
    expect(page.get_by_text("proposes a correction").first).to_be_visible()


def test_a_gap_is_driven_to_what_is_wanted(hands: Hands, page: Page) -> None:
    boards(hands)
    put_on(hands, "80 mm", "4 mm", "30 mm")
    page.get_by_role("button", name="add to this sentence").last.click()
    page.get_by_text("beside that place").first.click()
    hands.figure("right", "0 mm")
    hands.figure("up", "9 mm")
    hands.keep()
    hands.step("Watch a gap")
    hands.offer("back of Part 2")
    hands.offer("front of Part 3")
    hands.keep()
    (joint,) = hands.state()["report"]["joints"]
    assert joint["measured_mm"]["least"] == pytest.approx(5.0, abs=1e-3)
    row = hands.sentence(5)
    hands.choose("how", "which moves until it is right", row)
    hands.choose("fit", "loose", row)
    hands.idle()
    (joint,) = hands.state()["report"]["joints"]
    assert joint["measured_mm"]["least"] == pytest.approx(joint["drawn_mm"], abs=1e-3)
    assert joint["drawn_mm"] < 1


def test_a_flap_stops_where_it_is_told(hands: Hands, page: Page) -> None:
    hands.start()
    page.get_by_role("button", name="open the example: Cable flap").click()
    page.locator("#stage").wait_for()
    hands.idle()
    row = hands.sentence(len(hands.state()["report"]["steps"]))
    hands.figure("up", "300 deg", row)
    hands.figure("down", "40 deg", row)
    expect(row).to_contain_text("deg at most between stops")
    hands.press("Escape")
    hands.figure("up", "75 deg", row)
    hands.idle()
    hands.gauge("hinge").click()
    work = page.locator("[data-working]")
    expect(work).to_contain_text(re.compile(r"turns upwards by\s*75"))
    hands.desk("Shape")
    hands.choose("stops", "as far as it goes", row)
    hands.idle()
    hands.gauge("hinge").click()
    expect(work).to_contain_text(re.compile(r"turns upwards by\s*180"))

    # the flap grows round its pin: it stays where it is to the frame, and one without the other is told
    hands.desk("Print")
    plate = page.locator("[data-plate=Flap]")
    expect(plate).to_contain_text("lies as Frame does")
    expect(plate).to_contain_text("printed in one with Frame")
    page.get_by_label("print Frame").uncheck()
    expect(plate).to_contain_text("left off the plate")
    page.get_by_label("print Frame").check()
    # with a pin of its own each is printed by itself, unless one says otherwise
    hands.desk("Shape")
    hands.choose("pin", "a pin of its own:", row)
    hands.idle()
    hands.desk("Print")
    expect(plate).to_contain_text("lies as modelled")
    page.locator("[data-part=Flap]").get_by_role("button", name="Flap", exact=True).click()
    page.get_by_role("button", name="with what it is printed: by itself").click()
    page.get_by_role("option", name="in one with Frame").click()
    expect(plate).to_contain_text("lies as Frame does")
    page.reload()
    expect(page.locator("[data-plate=Frame]")).to_contain_text("printed in one with Flap")
