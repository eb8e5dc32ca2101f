"""A text laid round a knob, edges taken by a box, views kept by name, a group moved as one, a part divided along lines: with real clicks, nonsense, and a reload."""

from __future__ import annotations

import math
import re
from pathlib import Path

import pytest
from hands import Hands, near, pixel
from playwright.sync_api import Page, expect


def volume(hands: Hands, name: str) -> float:
    return float(next(p for p in hands.state()["report"]["parts"] if p["name"] == name)["volume_mm3"])


def drag(page: Page, start: tuple[float, float], end: tuple[float, float], *held: str) -> None:
    """Draw a box over the stage, from and to places as shares of it."""
    box = page.locator("#stage").bounding_box()
    assert box is not None
    (x, y), (u, v) = [(box["x"] + s * box["width"], box["y"] + t * box["height"]) for s, t in (start, end)]
    for key in held:
        page.keyboard.down(key)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move((x + u) / 2, (y + v) / 2)
    page.mouse.move(u, v)
    expect(page.locator("[data-box]")).to_contain_text("what it touches" if "Alt" in held else "what lies in it")
    page.mouse.up()
    for key in held:
        page.keyboard.up(key)


def test_a_text_is_laid_round_a_knob_and_its_rims_are_boxed(hands: Hands, page: Page) -> None:
    hands.begin("Knob")
    hands.step("Body")
    hands.choose("shape", "Cylinder")
    hands.figure("across", "30 mm")
    hands.figure("high", "20 mm")
    hands.keep()
    whole = math.pi * 225 * 20
    hands.step("Sketch")
    hands.open("plane")
    hands.offer("the front plane")
    hands.draft.get_by_role("button", name=re.compile("keep")).click()
    hands.tool("text")
    page.get_by_label("words").fill("RAIN")
    page.get_by_label("height of capitals").fill("6 mm")
    hands.on_board(-9, 0, 7)
    hands.leave_board()
    hands.step("Lay round")
    hands.face("Part 1", "round")
    hands.keep()
    row = hands.sentence(3)
    expect(row).to_have_attribute(
        "aria-label", re.compile(r"Lay outline of step 2 round the round side of Part 1, Ø 30, raised by 0\.6 mm")
    )
    raised = volume(hands, "Part 1") - whole
    assert raised > 20
    # nonsense loses nothing; sunk it takes as much away as the ring between its radii holds
    hands.figure("by", "0 mm", row)
    expect(row).to_contain_text("above zero")
    hands.figure("by", "0.6 mm", row)
    hands.choose("way", "sunk", row)
    hands.idle()
    assert whole - volume(hands, "Part 1") == pytest.approx(raised * (15**2 - 14.4**2) / (15.6**2 - 15**2), rel=1e-3)

    # a box round the upper rim takes it, with what lies behind; once more gives it back; Alt takes what it touches
    hands.step("Fillet")
    hands.view("front")
    drag(page, (0.04, 0.2), (0.96, 0.34), "Control")
    expect(hands.draft).to_contain_text("1 edge")
    drag(page, (0.04, 0.2), (0.96, 0.34), "Control")
    expect(hands.draft).not_to_contain_text("1 edge")
    drag(page, (0.04, 0.2), (0.96, 0.34), "Control", "Alt")
    hands.draft.get_by_role("button", name="take").click()
    hands.figure("radius", "1 mm")
    hands.keep()
    # a rim of radius R rounded by r loses 2π (R − c) times (1 − π/4) r², c its middle's distance from the edge (Pappus)
    lost = (1 - math.pi / 4) * (15 - (10 - 3 * math.pi) / (12 - 3 * math.pi)) * 2 * math.pi
    before = volume(hands, "Part 1")
    hands.press("Control+z")
    hands.idle()
    assert volume(hands, "Part 1") - before == pytest.approx(lost, rel=0.01)

    # a view is kept with what is hidden, and is there after a reload
    hands.press("m", "w")
    page.get_by_label("name of the view").fill("front, alone")
    hands.press("Enter")
    expect(page.get_by_role("list", name="kept views")).to_contain_text("front, alone")
    hands.press("Escape")
    seen = page.evaluate("() => window.__test.project(15, 0, 20)")
    hands.view("corner")
    page.reload()
    hands.idle()
    page.get_by_role("button", name="kept 1").click()
    page.get_by_role("button", name="front, alone", exact=True).click()
    hands.idle()
    assert page.evaluate("() => window.__test.project(15, 0, 20)") == pytest.approx(seen, abs=0.5)
    page.get_by_role("button", name="kept 1").click()
    page.get_by_label("forget the view front, alone").click()
    expect(page.get_by_role("list", name="kept views")).to_have_count(0)


def test_a_group_is_moved_as_one_and_a_part_divided_along_lines(hands: Hands, page: Page) -> None:
    hands.begin("Group")
    hands.block("40 mm", "20 mm", "10 mm")
    hands.step("Sketch")
    hands.draft.get_by_role("button", name=re.compile("keep")).click()
    hands.tool("line")
    hands.on_board(-8, 0)
    hands.on_board(8, 4)
    hands.press("Escape")
    hands.leave_board()
    hands.step("Divide")
    hands.choose("by", "along")
    hands.open("lines")
    hands.offer("the lines of outline of step 3")
    hands.choose("keep", "both, the other side as new part")
    hands.keep()
    # a line through (0, 2) leaves half of the block and 40 × 2 beside it
    one, two = volume(hands, "Part 1"), volume(hands, "Part 2")
    assert (one + two, abs(one - two)) == (pytest.approx(8000), pytest.approx(2 * 40 * 2 * 10))

    for part in ("Part 1", "Part 2"):
        page.locator(f'[data-part="{part}"]').get_by_role("button", name=part, exact=True).click()
        page.get_by_label("group of the part").fill("halves")
        hands.press("Enter")
        hands.press("Escape")
        hands.idle()
    page.get_by_role("button", name="move the group halves as one").click()
    expect(hands.draft).to_contain_text(re.compile(r"Move\s*Part 1\s*and\s*Part 2"))
    hands.figure("across", "25 mm")
    hands.keep()
    boxes = [p["bounding_box_mm"] for p in hands.state()["report"]["parts"]]
    assert min(b["low"][0] for b in boxes) == pytest.approx(5) and max(b["high"][0] for b in boxes) == pytest.approx(45)


def test_a_picture_lies_on_a_face(hands: Hands, page: Page, tmp_path: Path) -> None:
    """Left half red, right half white: the one is seen on the part, the other is not once its colour is clear."""
    (tmp_path / "two.svg").write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="80" height="40"><rect width="80" height="40" fill="#fff"/><rect width="40" height="40" fill="#c01020"/></svg>'
    )
    (tmp_path / "no.png").write_text("nothing")
    hands.begin("Sign")
    hands.block("60 mm", "40 mm", "5 mm")
    hands.step("Picture")
    chooser = page.get_by_label("picture to lay on a face")
    chooser.set_input_files(tmp_path / "no.png")
    expect(page.get_by_role("alert")).to_contain_text("no PNG, JPEG or SVG")
    chooser.set_input_files(tmp_path / "two.svg")
    expect(hands.chip("file")).to_contain_text("two.svg")
    hands.open("face")
    hands.face("Part 1", "top")
    hands.figure("wide", "40 mm")
    hands.keep()
    hands.view("top")
    page.wait_for_function("() => window.__test.viewer().pictured === 1")
    clay = pixel(page, 0, 17, 5)
    assert near(pixel(page, -10, 0, 5), (0xC0, 0x10, 0x20)) and near(pixel(page, 10, 0, 5), (255, 255, 255))
    row = hands.sentence(3)
    row.get_by_role("button", name="add to this sentence").click()
    page.get_by_role("menuitem", name=re.compile("make a colour clear")).click()
    row.locator("[data-sheet] input").fill("white")
    hands.press("Enter")
    hands.idle()
    page.wait_for_function("() => window.__test.viewer().pictured === 1")
    assert near(pixel(page, 10, 0, 5), clay) and near(pixel(page, -10, 0, 5), (0xC0, 0x10, 0x20))
    # it comes again with the page, and stands lower where its face does
    page.reload()
    hands.idle()
    page.wait_for_function("() => window.__test.viewer().pictured === 1")
    hands.view("top")
    assert near(pixel(page, -10, 0, 5), (0xC0, 0x10, 0x20))
