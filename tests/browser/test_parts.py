"""Whole parts worked with one another: by mouse and by keyboard, with nonsense, and after a reload."""

from __future__ import annotations

import pytest
from hands import Hands
from playwright.sync_api import Page, expect


def volume(hands: Hands, name: str) -> float:
    return float(next(p for p in hands.state()["report"]["parts"] if p["name"] == name)["volume_mm3"])


def block_and_peg(hands: Hands) -> None:
    """A block of 40 × 30 × 20, and a peg of 10 × 8 × 28 that stands in it."""
    hands.begin("Pocket")
    hands.block("40 mm", "30 mm", "20 mm")
    hands.step("Sketch")
    hands.keep()
    hands.draw("rectangle", width="10 mm", height="8 mm")
    hands.leave_board()
    hands.step("Extrude")
    hands.figure("distance", "28 mm")
    hands.call("Peg")
    hands.keep()


def test_a_part_is_cut_with_another_and_a_gap(hands: Hands, page: Page) -> None:
    block_and_peg(hands)
    hands.step("Part with part")
    expect(hands.draft).to_contain_text("Cut Part 1 with Peg, leaving 0 mm free all round")
    hands.figure("gap", "0.3 mm")
    hands.keep()
    assert volume(hands, "Part 1") == pytest.approx(40 * 30 * 20 - 10.6 * 8.6 * 20, rel=1e-6)
    assert volume(hands, "Peg") == pytest.approx(10 * 8 * 28, rel=1e-6)
    # what cannot be done says so, and nothing is lost
    row = hands.sentence(5)
    for text, words in (("-1 mm", "zero or more"), ("90 mm", "takes the whole part away")):
        hands.figure("gap", text, row)
        expect(row).to_contain_text(words)
        hands.press("Control+z")
        hands.idle()
    # the other way round: what lies in both
    hands.choose("work", "Keep of", row)
    hands.idle()
    expect(row).to_contain_text("Keep of Part 1 what lies in Peg")
    assert volume(hands, "Part 1") == pytest.approx(10 * 8 * 20, rel=1e-6)
    page.reload()
    hands.idle()
    assert volume(hands, "Part 1") == pytest.approx(10 * 8 * 20, rel=1e-6)
    # added and used up: one part is left, and the other says so
    hands.choose("work", "Add to", row)
    hands.idle()
    row.get_by_role("button", name="add to this sentence").click()
    page.get_by_text("say what becomes of the other").click()
    hands.choose("after", "which is used up", row)
    hands.idle()
    assert [p["name"] for p in hands.state()["report"]["parts"]] == ["Part 1"]
    expect(page.locator("[data-part=Peg]")).to_contain_text("used up")
    assert volume(hands, "Part 1") == pytest.approx(40 * 30 * 20 + 10 * 8 * 8, rel=1e-6)
    hands.press("Control+z")
    hands.idle()
    assert volume(hands, "Peg") == pytest.approx(10 * 8 * 28, rel=1e-6)


def test_a_part_is_mirrored_from_the_keyboard(hands: Hands, page: Page) -> None:
    block_and_peg(hands)
    hands.press("n")
    hands.type("mirror")
    hands.press("Enter")
    hands.draft.wait_for()
    expect(hands.draft).to_contain_text("Mirror Peg across")
    hands.down_to("the ground")
    hands.press("Enter")
    expect(hands.draft).to_contain_text("across the ground as new part")
    hands.idle()
    hands.draft.get_by_role("button", name="keep").focus()
    hands.press("Enter")
    hands.draft.wait_for(state="detached")
    hands.idle()
    made = hands.state()["report"]["parts"][-1]
    assert made["volume_mm3"] == pytest.approx(10 * 8 * 28, rel=1e-6)
    assert made["bounding_box_mm"]["low"][2] == pytest.approx(-28) and made["bounding_box_mm"]["high"][
        2
    ] == pytest.approx(0)


def test_copies_in_a_row_and_round(hands: Hands, page: Page) -> None:
    block_and_peg(hands)
    hands.step("Repeat")
    expect(hands.draft).to_contain_text("Repeat Peg, 3 in all, in a row along")
    hands.open("axis")
    hands.offer("the left-to-right axis")
    hands.figure("pitch", "12 mm")
    hands.figure("count", "2")
    hands.keep()
    assert volume(hands, "Peg") == pytest.approx(2 * 10 * 8 * 28, rel=1e-6)
    row = hands.sentence(5)
    expect(row).to_contain_text("2 in all, in a row along the left-to-right axis every 12 mm and add them to Peg")
    # the copies are apart, which is said; nearer they run into each other
    expect(row).to_contain_text("falls into 2 lumps")
    hands.figure("pitch", "6 mm", row)
    hands.idle()
    assert volume(hands, "Peg") == pytest.approx(16 * 8 * 28, rel=1e-6)
    hands.figure("count", "two", row)
    expect(row).to_contain_text("There is no value called “two”")
    hands.press("Control+z")
    hands.idle()
    assert volume(hands, "Peg") == pytest.approx(16 * 8 * 28, rel=1e-6)
    hands.choose("how", "evenly round", row)
    hands.idle()
    expect(row).to_contain_text("evenly round the left-to-right axis")


def test_a_part_is_divided_into_two(hands: Hands, page: Page) -> None:
    hands.begin("Post")
    hands.block("40 mm", "30 mm", "20 mm")
    hands.step("Plane")
    hands.keep()
    hands.step("Divide")
    hands.offer("plane of step 3")
    hands.choose("keep", "both, the other side as new part")
    hands.keep()
    parts = {p["name"]: p for p in hands.state()["report"]["parts"]}
    assert {n: p["volume_mm3"] for n, p in parts.items()} == {
        n: pytest.approx(12_000, rel=1e-6) for n in ("Part 1", "Part 2")
    }
    # the plane moves beside the part: it says so, and both come back when it is taken back
    hands.figure("distance", "25 mm", hands.sentence(3))
    expect(hands.sentence(4)).to_contain_text("does not go through the part")
    hands.press("Control+z")
    hands.idle()
    # one side only: the other part is not made any more
    hands.choose("keep", "one side", hands.sentence(4))
    hands.idle()
    assert [p["name"] for p in hands.state()["report"]["parts"]] == ["Part 1"]


def test_parts_of_another_project_come_with_what_they_need(hands: Hands, page: Page) -> None:
    """From the list of what can be done, by mouse and keyboard; a joint brings its other half; taken back at once."""
    hands.begin("Mine")
    hands.value("wall", "9 mm")
    hands.block("60 mm", "40 mm", "wall")
    hands.press("/")
    hands.type("parts of another")
    hands.press("Enter")
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_role("button", name="Bring in", exact=True)).to_be_disabled()
    sheet.get_by_role("button", name="Desiccant jar").click()
    sheet.get_by_label("Cap").focus()
    hands.press("Space")
    expect(sheet.locator("[data-comes]")).to_contain_text("2 parts, 9 steps, 5 values. Jar comes along")
    expect(sheet.get_by_label("Jar")).to_be_disabled()
    hands.press("Escape")
    sheet.wait_for(state="detached")
    assert len(hands.state()["report"]["parts"]) == 1

    hands.press("/")
    hands.type("parts of another")
    hands.press("Enter")
    sheet.get_by_role("button", name="Desiccant jar").click()
    sheet.get_by_label("Jar").check()
    sheet.get_by_role("button", name="Bring in", exact=True).click()
    sheet.wait_for(state="detached")
    hands.idle()
    report = hands.state()["report"]
    assert report["ok"] and [p["name"] for p in report["parts"]] == ["Part 1", "Jar", "Cap"]
    (joint,) = report["joints"]
    assert joint["measured_mm"]["least"] == pytest.approx(joint["drawn_mm"], abs=1e-3)
    # the value that was called so here stays what it is; the other is numbered
    names = {v["name"]: v["formula"] for v in hands.state()["project"]["document"]["values"]}
    assert (names["wall"], names["wall_2"]) == ("9 mm", "3 mm")
    before = volume(hands, "Part 1")
    hands.set("wall_2", "2 mm")
    assert volume(hands, "Part 1") == before
    hands.press("Control+z", "Control+z")
    hands.idle()
    assert [p["name"] for p in hands.state()["report"]["parts"]] == ["Part 1"]
    page.reload()
    hands.idle()
    assert [p["name"] for p in hands.state()["report"]["parts"]] == ["Part 1"]
