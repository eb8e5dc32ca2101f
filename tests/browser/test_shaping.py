"""Bodies, holes, faces that move, steps done again, links and groups: by mouse and by keyboard, with nonsense, and after a reload."""

from __future__ import annotations

import math
import re

import pytest
from hands import Hands, focus
from playwright.sync_api import Page, expect


def volume(hands: Hands, name: str = "Part 1") -> float:
    return float(next(p for p in hands.state()["report"]["parts"] if p["name"] == name)["volume_mm3"])


def body(hands: Hands, shape: str = "Block", **figures: str) -> None:
    hands.step("Body")
    if shape != "Block":
        hands.choose("shape", shape)
    for field, formula in figures.items():
        hands.figure(field, formula)


def test_a_boss_is_drilled_for_a_screw_and_done_again(hands: Hands, page: Page) -> None:
    hands.begin("Bracket")
    body(hands, wide="60 mm", deep="30 mm", high="8 mm")
    hands.keep()
    hands.step("Body")
    # on a face it is added to that part, without being told
    hands.open("on")
    hands.face("Part 1", "top")
    expect(hands.draft).to_contain_text("and add it to")
    hands.choose("shape", "Cylinder")
    hands.figure("across", "12 mm")
    page.get_by_role("button", name="add to this sentence").last.click()
    page.get_by_role("menuitem", name="beside that place").click()
    hands.figure("right", "-20 mm")
    hands.keep()
    # what was added to that sentence is not in the next; and what was said stays said when a face is pointed at or the work changed
    hands.step("Body")
    expect(hands.draft).not_to_contain_text("to the right")
    hands.choose("way", "sunk into")
    hands.open("on")
    hands.face("Part 1", "s2/end")
    expect(hands.draft).to_contain_text("and cut it from")
    hands.choose("operation", "and add it to")
    hands.idle()
    expect(hands.draft).to_contain_text("sunk into")
    hands.draft.get_by_role("button", name="drop").click()
    one = math.pi * 36 * 10
    assert volume(hands) == pytest.approx(14400 + one, rel=1e-6)

    hands.step("Drill")
    hands.idle()
    rim = next(i for i, e in enumerate(hands.edges("Part 1")) if e["kind"] == "circle" and e["seen"]["at"][2] > 17)
    hands.edge("Part 1", rim)
    hands.draft.get_by_role("button", name="take").click()
    expect(hands.draft).to_contain_text("the middle of")
    hands.choose("shape", "counterbored")
    hands.choose("size", "for")
    hands.keep()
    # ISO 273 medium for M4: 4.5; the head of ISO 4762 with 0.4 all round: 8.02, 4.4 deep
    hole = math.pi * (4.01**2 * 4.4 + 2.25**2 * (18 - 4.4))
    assert volume(hands) == pytest.approx(14400 + one - hole, rel=1e-6)

    # the whole of it again, in a row of three, the second step as a clause
    hands.step("Repeat steps")
    hands.offer("the work of step 2")
    page.get_by_role("button", name="add to this sentence").last.click()
    page.get_by_role("menuitem", name="and another step").click()
    hands.idle()
    hands.open("also.0.of")
    hands.offer("the work of step 3")
    hands.figure("pitch", "20 mm")
    hands.keep()
    row = hands.sentence(4)
    expect(row).to_have_attribute("aria-label", re.compile("Do the work of step 2 and the work of step 3 again"))
    assert volume(hands) == pytest.approx(14400 + 3 * (one - hole), rel=1e-6)
    hands.figure("count", "two", row)
    expect(row).to_contain_text("There is no value called “two”")
    hands.press("Escape")
    hands.figure("count", "1.5", row)
    expect(row).to_contain_text("whole number")
    # what was refused stands in the sentence until it is taken back
    for _ in range(2):
        hands.press("Control+z")
        hands.idle()
    page.reload()
    page.locator("#stage").wait_for()
    hands.idle()
    assert volume(hands) == pytest.approx(14400 + 3 * (one - hole), rel=1e-6)
    assert not hands.complaints


def test_parts_are_pointed_at_and_faces_follow(hands: Hands, page: Page) -> None:
    hands.begin("Two")
    body(hands, wide="20 mm", deep="20 mm", high="20 mm")
    hands.keep()
    body(hands, wide="20 mm", deep="20 mm", high="8 mm")
    page.get_by_role("button", name="add to this sentence").last.click()
    page.get_by_text("beside that place").first.click()
    hands.figure("right", "30 mm")
    hands.keep()
    hands.step("Move faces")
    hands.face("Part 2", "top")
    hands.draft.get_by_role("button", name="take").click()
    hands.choose("way", "until level with")
    hands.open("to")
    hands.face("Part 1", "top")
    hands.keep()
    assert volume(hands, "Part 2") == pytest.approx(8000, rel=1e-6)
    hands.figure("high", "14 mm", hands.sentence(1))
    hands.idle()
    assert volume(hands, "Part 2") == pytest.approx(5600, rel=1e-6)

    # the link is listed; cut, what it gave stays and follows no more
    links = page.get_by_role("region", name="links between parts")
    links.get_by_role("button", name="Links between parts").click()
    expect(links).to_contain_text("the top of Part 1 (step 3)")
    # as a strand down the recipe, and one on the model
    links.get_by_role("button", name="show them as strands").click()
    expect(page.locator("[data-strands='1'] path")).to_have_count(2)
    expect(page.locator("[data-stage-strands] path")).to_have_count(1)
    links.get_by_role("button", name="cut").click()
    hands.idle()
    expect(links).to_have_count(0)
    expect(page.locator("[data-stage-strands]")).to_have_count(0)
    expect(hands.sentence(3)).to_contain_text("a plane that stays where it is")
    hands.figure("high", "25 mm", hands.sentence(1))
    hands.idle()
    assert volume(hands, "Part 2") == pytest.approx(5600, rel=1e-6)

    # a part is pointed at on the stage
    hands.step("Scale")
    hands.open("part")
    hands.face("Part 2", "top")
    expect(hands.draft).to_contain_text("Part 2")
    hands.figure("factor", "2")
    hands.keep()
    assert volume(hands, "Part 2") == pytest.approx(8 * 5600, rel=1e-6)

    # a mirror image takes a part whole: cut off, it stays as it is
    hands.step("Mirror")
    hands.open("of")
    hands.face("Part 2", "top")
    hands.open("plane")
    hands.offer("the side plane")
    hands.keep()
    links.get_by_role("button", name="cut").click()
    expect(links).to_contain_text("it comes from a file")
    hands.idle()
    expect(hands.sentence(5)).to_contain_text("Part 2, kept")
    hands.figure("factor", "1", hands.sentence(4))
    hands.idle()
    assert volume(hands, "Part 2") == pytest.approx(5600, rel=1e-6)
    assert volume(hands, "Part 3") == pytest.approx(8 * 5600, rel=1e-6)


def test_parts_are_grouped_ordered_and_noted(hands: Hands, page: Page) -> None:
    hands.begin("Groups")
    for _ in range(3):
        body(hands)
        hands.keep()
    row = page.get_by_role("list", name="parts")
    for name in ("Part 1", "Part 3"):
        row.get_by_role("button", name=name, exact=True).click()
        field = page.get_by_label("group of the part")
        field.fill("Head")
        field.press("Enter")
        page.get_by_label("note on the part").fill("goes on last")
        page.keyboard.press("Escape")
        hands.idle()
    expect(row.locator("[data-group=Head] [data-part]")).to_have_count(2)
    page.get_by_role("button", name="hide the group Head").click()
    hands.idle()
    expect(page.get_by_role("button", name="show Part 3")).to_be_visible()
    expect(page.get_by_role("button", name="hide Part 2")).to_be_visible()
    # the row's order is the project's, and survives a reload
    row.get_by_role("button", name="Part 2", exact=True).click()
    page.get_by_role("button", name="‹ further left").click()
    hands.idle()
    page.reload()
    page.locator("#stage").wait_for()
    hands.idle()
    document = hands.state()["project"]["document"]
    assert [p["name"] for p in document["parts"]] == ["Part 2", "Part 1", "Part 3"]
    assert {p["name"]: (p["group"], p["note"]) for p in document["parts"]} == {
        "Part 1": ("Head", "goes on last"),
        "Part 2": ("", ""),
        "Part 3": ("Head", "goes on last"),
    }


def test_a_body_from_the_keyboard(hands: Hands, page: Page) -> None:
    hands.begin("Keys")
    hands.press("n")
    page.get_by_role("option").first.wait_for()
    hands.type("cylinder")
    expect(page.get_by_role("option").first).to_contain_text("Body")
    hands.press("Enter")
    hands.draft.wait_for()
    hands.idle()
    focus(hands, "[data-step=draft] *")
    hands.keep()
    assert volume(hands) == pytest.approx(4000)


def test_a_worked_example_opens_as_ones_own(hands: Hands, page: Page) -> None:
    hands.start()
    page.get_by_role("button", name="open the example: Cable comb").click()
    page.locator("#stage").wait_for()
    hands.idle()
    assert hands.state()["report"]["ok"]
    # a week later: the wall is thicker, the holes follow
    before = volume(hands, "Cable comb")
    hands.set("wall", "1.1 mm")
    hands.idle()
    assert hands.state()["report"]["ok"] and volume(hands, "Cable comb") > before


def test_a_cover_is_cut_off_from_its_face_and_that_is_taken_back(hands: Hands, page: Page) -> None:
    hands.start()
    page.get_by_role("button", name="open the example: Box and cover").click()
    page.locator("#stage").wait_for()
    hands.idle()
    before = volume(hands, "Cover")
    links = page.get_by_role("region", name="links between parts")
    links.get_by_role("button", name="Links between parts").click()
    links.get_by_role("listitem").filter(has_text="the front of Box").get_by_role("button", name="cut").click()
    hands.idle()
    expect(hands.sentence(5)).to_contain_text("kept outline")
    hands.set("wide", "70 mm")
    assert hands.state()["report"]["ok"] and volume(hands, "Cover") == pytest.approx(before, rel=1e-9)
    for _ in range(2):
        hands.press("Control+z")
        hands.idle()
    hands.set("wide", "70 mm")
    assert volume(hands, "Cover") > before * 1.1, "it follows again"
    assert not hands.complaints


def test_a_grip_is_pulled_on_the_model(hands: Hands, page: Page) -> None:
    hands.begin("Grip")
    hands.value("tall", "12 mm")
    body(hands, wide="40 mm")
    hands.idle()
    grip = page.locator("[data-pull]")

    def pull(by: int) -> None:
        box = grip.bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        for k in range(1, 6):
            page.mouse.move(x, y - by * k / 5)
        hands.idle()
        page.mouse.up()
        hands.idle()

    pull(60)
    hands.keep()
    taller = volume(hands)
    assert taller > 8000 + 800, "pulled up it is at least a millimetre higher"
    # a formula that stands there still follows
    hands.figure("high", "tall", hands.sentence(1))
    hands.idle()
    pull(40)
    text = hands.state()["project"]["document"]["recipe"][0]["fields"]["high"]
    assert text.startswith("tall + ") and volume(hands) > 40 * 20 * 12
    hands.set("tall", "20 mm")
    assert volume(hands) > 40 * 20 * 20
    # by keys, and by typing over it; the first key ends the page's own care for the focus, as anybody's would
    hands.press("Shift")
    grip.focus()
    before = volume(hands)
    hands.press("ArrowDown")
    hands.idle()
    assert volume(hands) == pytest.approx(before - 800, rel=1e-6)
    grip.focus()
    hands.press("Enter")
    hands.idle()
    expect(hands.sentence(1).locator("[data-sheet]")).to_be_visible()
    page.keyboard.press("Escape")
    hands.press("Control+z")
    hands.idle()
    assert volume(hands) == pytest.approx(before, rel=1e-6)
    assert not hands.complaints


def test_an_extrusion_ends_where_a_part_begins(hands: Hands, page: Page) -> None:
    hands.begin("Until")
    hands.block("40 mm", "30 mm", "10 mm")
    hands.step("Plane")
    hands.figure("distance", "30 mm")
    hands.keep()
    hands.step("Body")
    for field, formula in (("wide", "60 mm"), ("deep", "50 mm"), ("high", "8 mm")):
        hands.figure(field, formula)
    hands.open("on")
    hands.offer("plane of step 3")
    hands.call("Lid")
    hands.keep()
    hands.step("Extrude")
    hands.choose("operation", "as new part")
    hands.choose("extent", "until it meets")
    hands.open("until")
    hands.idle()
    hands.down_to("Lid, wherever it begins")
    hands.press("Enter")
    hands.call("Post")
    hands.keep()
    assert volume(hands, "Post") == pytest.approx(40 * 30 * 30)
    expect(hands.sentence(5)).to_contain_text("until it meets")
    hands.figure("distance", "36 mm", hands.sentence(3))
    hands.idle()
    assert volume(hands, "Post") == pytest.approx(40 * 30 * 36)
    # under the ground there is no lid to end at
    hands.choose("direction", "down", hands.sentence(5))
    hands.idle()
    expect(hands.sentence(5)).to_contain_text("does not stand over the whole outline")
    hands.press("Control+z")
    hands.idle()
    assert hands.state()["report"]["ok"]
