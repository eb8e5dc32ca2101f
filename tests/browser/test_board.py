"""The sketch board: the real sketch model under the pointer."""

from __future__ import annotations

import math
import re

import pytest
from hands import Hands, focus
from playwright.sync_api import Page, expect


def corners(hands: Hands, page: Page) -> list[tuple[float, float]]:
    """Places of the corners, as the document has them."""
    return [(p["x"], p["y"]) for p in hands.drawing()["points"]]


def drag(hands: Hands, page: Page, start: tuple[float, float], end: tuple[float, float]) -> None:
    hands.idle()
    a, b = (page.evaluate("([x, y]) => window.__test.project(x, y, 0)", [*p]) for p in (start, end))
    page.mouse.move(a["x"], a["y"])
    page.mouse.down()
    for k in range(1, 6):
        page.mouse.move(a["x"] + (b["x"] - a["x"]) * k / 5, a["y"] + (b["y"] - a["y"]) * k / 5)
    page.mouse.up()
    hands.idle()


def sketched(hands: Hands, name: str) -> None:
    hands.begin(name)
    hands.step("Sketch")
    hands.keep()
    hands.on_board(0, 0)
    hands.on_board(30, 20)
    hands.idle()


def test_a_rectangle_whose_right_angle_is_taken_away_can_shear(hands: Hands, page: Page) -> None:
    sketched(hands, "Shear")
    hands.size("l1", "60 mm")
    hands.size("l2", "40 mm")
    meter = page.get_by_label("freedom meter")
    expect(meter).to_contain_text("All settled")
    before = corners(hands, page)
    drag(hands, page, before[3], (before[3][0] + 15, before[3][1]))
    assert corners(hands, page)[3] == pytest.approx(before[3]), "what is settled does not move"
    page.locator("[data-tie-kind=perpendicular]").click()
    hands.press("Delete")
    hands.idle()
    expect(meter).to_contain_text("1 way still free")
    at = corners(hands, page)
    drag(hands, page, at[3], (at[3][0] + 15, at[3][1]))
    sheared = corners(hands, page)
    lengths = [math.dist(sheared[k], sheared[(k + 1) % 4]) for k in range(4)]
    assert lengths == pytest.approx([60, 40, 60, 40], abs=1e-6), "the sizes hold"
    assert abs(sheared[3][0] - sheared[0][0]) > 5, "and the sides lean"


def test_what_is_settled_is_refused_with_what_it_fights(hands: Hands, page: Page) -> None:
    sketched(hands, "Refuse")
    hands.size("l1", "60 mm")
    hands.select("l3")
    hands.press("d")
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("settled already by")
    expect(alert).to_contain_text("length 60 mm")
    page.get_by_role("button", name="understood").click()
    expect(alert).to_have_count(0)
    # nonsense in a dimension that stands: one sentence beside it, and the old figure stays
    page.locator("[data-size=d1]").click()
    box = page.locator("input.text-center")
    for text, word in (
        ("0", "above zero"),
        ("-4 mm", "above zero"),
        ("3 deg", "an angle"),
        ("hight", "no value called"),
    ):
        box.fill(text)
        box.press("Enter")
        expect(alert).to_contain_text(word)
    box.press("Escape")
    expect(page.locator("[data-size=d1]")).to_contain_text("60 mm")
    expect(page.get_by_label("freedom meter")).to_contain_text("1 way still free")


def test_holes_and_islands_are_regions_one_can_point_at(hands: Hands, page: Page) -> None:
    sketched(hands, "Rings")
    hands.size("l1", "60 mm")
    hands.size("l2", "40 mm")
    hands.draw("circle", diameter="24 mm")
    hands.tool("circle")
    hands.on_board(0, 0)
    hands.on_board(5, 0)
    hands.idle()
    hands.leave_board()
    hands.step("Extrude")
    hands.figure("distance", "2 mm")
    hands.keep()
    area = lambda: hands.state()["report"]["parts"][0]["volume_mm3"] / 2  # noqa: E731
    ring = math.pi * 12**2
    assert area() == pytest.approx(2400 - ring + math.pi * 25, rel=1e-6), "the plate with its hole and the island in it"
    # only the ring: point at it and take it
    row = hands.sentence(2)
    hands.open("profile", row)
    hands.idle()
    place = page.evaluate("() => window.__test.project(8.5, 0, 0)")
    page.mouse.move(place["x"], place["y"])
    expect(page.get_by_text("region of 373.8")).to_be_visible()
    page.mouse.click(place["x"], place["y"])
    row.get_by_role("button", name="take").click()
    hands.idle()
    assert area() == pytest.approx(ring - math.pi * 25, rel=1e-6)


def test_points_are_joined_and_tied_by_pointing(hands: Hands, page: Page) -> None:
    sketched(hands, "Ties")
    hands.draw("circle", diameter="6 mm", centre_x="20", centre_y="5")
    hands.select("l2")
    page.locator("[data-point=p5]").click(modifiers=["Shift"])
    page.get_by_role("button", name="tie: on the curve").click()
    hands.idle()
    points = dict(zip(("p1", "p2", "p3", "p4", "p5"), corners(hands, page), strict=True))
    assert points["p5"][0] == pytest.approx(points["p2"][0], abs=1e-6)
    hands.press("Control+z")
    hands.idle()
    assert corners(hands, page)[4] == pytest.approx((20, 5))


def ties(hands: Hands) -> list[str]:
    return [k["kind"] for k in hands.drawing()["constraints"]]


def test_a_bracket_is_drawn_tied_overtied_and_extruded(hands: Hands, page: Page) -> None:
    hands.begin("Wall bracket")
    hands.step("Sketch")
    hands.keep()
    # roughly, as a hand does: what is all but level or upright is meant so
    hands.path((0, 0), (60, 0.6), (60.3, 16), (16, 15.7), (16.2, 40), (0, 40.3))
    assert ties(hands) == ["horizontal", "vertical"] * 3
    meter = page.get_by_label("freedom meter")
    expect(meter).to_contain_text("4 ways still free")
    page.mouse.move(990, 320)
    page.mouse.wheel(0, -500)
    hands.idle()
    hands.size("l1", "60 mm")
    hands.size("l6", "40 mm")
    hands.size("l2", "16 mm", share=0.7)
    hands.select("l2", share=0.7)
    hands.select("l5", more=True, share=0.7)
    page.get_by_role("button", name="tie: equal").click()
    expect(meter).to_contain_text("All settled")
    # one size too many is refused with those that settle it, and nothing is lost
    hands.select("l3", share=0.7)
    hands.press("d")
    expect(page.get_by_role("alert")).to_contain_text("settled already by")
    page.get_by_role("button", name="understood").click()
    expect(meter).to_contain_text("All settled")
    hands.press("Escape")
    # the inner corner is rounded; two holes, one of them long
    hands.on_board(16, 16)
    page.get_by_role("button", name="round the corner").click()
    page.get_by_label("radius", exact=True).fill("60 mm")
    page.get_by_label("radius", exact=True).press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("is the most")
    page.get_by_role("button", name="understood").click()
    page.get_by_label("radius", exact=True).fill("6 mm")
    page.get_by_label("radius", exact=True).press("Enter")
    hands.idle()
    expect(meter).to_contain_text("All settled")
    hands.tool("circle")
    hands.on_board(45, 8)
    hands.on_board(48, 8)
    hands.tool("slot")
    for x, y in ((8, 20), (8, 30), (11, 25)):
        hands.on_board(x, y)
    hands.idle()
    hands.leave_board()
    hands.step("Extrude")
    hands.keep()
    part = hands.state()["report"]["parts"][0]
    plate = 60 * 16 + 16 * 24 + 36 * (1 - math.pi / 4)
    holes = math.pi * 9 + 10 * 6 + math.pi * 9
    assert part["volume_mm3"] == pytest.approx((plate - holes) * 10, rel=1e-6)


def test_lines_are_typed_arcs_run_on_and_overlaps_are_trimmed(hands: Hands, page: Page) -> None:
    hands.begin("Hook")
    hands.step("Sketch")
    hands.keep()
    hands.tool("line")
    hands.on_board(0, 0)
    place = page.evaluate("() => window.__test.project(30, 0, 0)")
    page.mouse.move(place["x"], place["y"])
    hands.press("4")
    expect(page.get_by_label("length of the line")).to_be_focused()
    hands.type("0 mm")
    hands.press("Enter")
    hands.idle()
    hands.press("Escape")
    hands.press("Escape")
    assert corners(hands, page)[0] == pytest.approx((40, 0))
    hands.tool("arc")
    for x, y in ((40, 0), (40, 20), (50, 10)):
        hands.on_board(x, y)
    hands.idle()
    assert "tangent" in ties(hands), "it runs on from the line's end"
    hands.tool("circle")
    hands.on_board(20, 0)
    hands.on_board(28, 0)
    hands.idle()
    hands.tool("trim")
    hands.on_board(20, 8)
    hands.idle()
    assert sorted(c["kind"] for c in hands.drawing()["curves"]) == ["arc", "arc", "line"]
    hands.press("Control+z")
    hands.idle()
    assert sorted(c["kind"] for c in hands.drawing()["curves"]) == ["arc", "circle", "line"]


def test_a_half_is_mirrored_and_made_construction(hands: Hands, page: Page) -> None:
    hands.begin("Mirror")
    hands.step("Sketch")
    hands.keep()
    hands.path((10, 0), (40, 0), (40, 20))
    hands.tool("line")
    hands.on_board(0, -20)
    hands.on_board(0, 30)
    hands.idle()
    hands.press("Escape")
    hands.press("Escape")
    hands.idle()
    for k, curve in enumerate(("l1", "l2", "l3", "l4")):
        hands.select(curve, more=k > 0, share=0.3)
    page.get_by_role("button", name="mirror in the last one").click()
    hands.idle()
    assert ties(hands).count("symmetric") == 3
    hands.press("Escape")
    hands.select("l4", share=0.3)
    hands.press("c")
    hands.idle()
    out = hands.state()["report"]["sketches"][hands.state()["board"]]
    assert sorted(r["area_mm2"] for r in out["regions"]) == pytest.approx([300, 300])


def test_a_ring_of_scallops_and_a_grid_of_holes(hands: Hands, page: Page) -> None:
    hands.begin("Jar cap")
    hands.step("Sketch")
    hands.keep()
    hands.tool("circle")
    hands.on_board(0, 0)
    hands.on_board(40, 0)
    hands.idle()
    hands.tool("circle")
    hands.on_board(30, 0)
    hands.on_board(34, 0)
    hands.idle()
    hands.select("c2", share=0.3)
    page.keyboard.down("Shift")
    hands.on_board(0, 0)
    page.keyboard.up("Shift")
    page.get_by_role("button", name="repeat round the origin").click()
    page.get_by_label("times").fill("one")
    page.get_by_role("group", name="what is selected").get_by_role("button", name="take", exact=True).click()
    expect(page.get_by_role("alert")).to_be_visible()
    page.get_by_role("button", name="understood").click()
    page.get_by_label("times").fill("8")
    page.get_by_role("group", name="what is selected").get_by_role("button", name="take", exact=True).click()
    hands.idle()
    out = hands.state()["report"]["sketches"][hands.state()["board"]]
    assert max(len(r["loops"]) for r in out["regions"]) == 9
    hands.leave_board()
    hands.step("Extrude")
    hands.keep()
    part = hands.state()["report"]["parts"][0]
    assert part["volume_mm3"] == pytest.approx(10 * math.pi * (40**2 - 8 * 4**2), rel=1e-6)


def test_an_outline_is_set_off_by_one_figure(hands: Hands, page: Page) -> None:
    sketched(hands, "Gasket")
    hands.size("l1", "60 mm")
    hands.size("l2", "40 mm")
    for k, curve in enumerate(("l1", "l2", "l3", "l4")):
        hands.select(curve, more=k > 0)
    page.get_by_role("button", name="set off beside").click()
    page.get_by_label("by", exact=True).fill("4 mm")
    page.get_by_role("group", name="what is selected").get_by_role("button", name="inside", exact=True).click()
    hands.idle()
    out = hands.state()["report"]["sketches"][hands.state()["board"]]
    areas = sorted(r["area_mm2"] for r in out["regions"])
    assert areas == pytest.approx([60 * 40 - 52 * 32, 52 * 32])
    page.get_by_role("button", name=re.compile("^distance 4 mm")).click()
    page.locator("input.field.fig.text-center").fill("6 mm")
    page.locator("input.field.fig.text-center").press("Enter")
    hands.idle()
    out = hands.state()["report"]["sketches"][hands.state()["board"]]
    assert sorted(r["area_mm2"] for r in out["regions"]) == pytest.approx(sorted([60 * 40 - 48 * 28, 48 * 28]))


def test_what_is_typed_after_d_is_the_size_and_the_mouse_takes_it_away(hands: Hands, page: Page) -> None:
    sketched(hands, "Typed")
    hands.select("l1")
    # as fast as fingers go, without waiting for the label
    hands.press("d", "6", "0", "Enter")
    hands.idle()
    expect(page.locator("[data-size=d1]")).to_contain_text("60 mm")
    hands.select("l2")
    hands.press("d", "4", "2")
    box = page.locator("[data-edit-size] input").first
    expect(box).to_have_value("42")
    box.press("Enter")
    hands.idle()
    assert [d["formula"] for d in hands.drawing()["dimensions"]] == ["60 mm", "42 mm"]
    # asked again it is the same size, not a second one
    hands.select("l1")
    hands.press("d")
    expect(page.locator("[data-edit-size=d1]")).to_be_visible()
    page.get_by_role("button", name="take it away").click()
    hands.idle()
    assert [d["id"] for d in hands.drawing()["dimensions"]] == ["d2"]
    # the keyboard is on the board, and Esc alone does not leave it
    focus(hands, "[data-board]")
    hands.press("Escape", "Escape", "Escape", "Escape")
    expect(page.locator("[data-board]")).to_be_visible()
    focus(hands, "[data-leave-board]")
    hands.press("Enter")
    expect(page.locator("[data-board]")).to_have_count(0)


def test_refusals_on_the_board_light_up_what_they_speak_of(hands: Hands, page: Page) -> None:
    sketched(hands, "Told")
    hands.size("l1", "60 mm")
    hands.select("l3")
    hands.press("d")
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("the length 60 mm of the lower line")
    lit = page.locator('[data-curve=l1] path[stroke="var(--accent)"]')
    expect(lit).to_have_count(1)
    alert.get_by_role("button", name="understood").click()
    expect(lit).to_have_count(0)
    expect(page.get_by_label("freedom meter")).to_contain_text("lower left corner")


def test_a_repeat_is_changed_where_it_stands(hands: Hands, page: Page) -> None:
    sketched(hands, "Holes")
    page.keyboard.press("Escape")
    hands.draw("circle", diameter="4 mm", centre_x="-20 mm", centre_y="5 mm")
    hands.select("c1")
    work = page.get_by_role("group", name="what is selected")
    work.get_by_role("button", name="repeat in rows").click()
    work.get_by_label("across").fill("4")
    work.get_by_label("apart", exact=True).fill("12 mm")
    work.get_by_role("button", name="take", exact=True).click()
    hands.idle()
    assert sum(c["kind"] == "circle" for c in hands.drawing()["curves"]) == 4
    # from one of the copies
    hands.select("c3")
    work.get_by_role("button", name="stands 4 times").click()
    expect(work.get_by_label("apart", exact=True)).to_have_value("12 mm")
    work.get_by_label("across").fill("3")
    work.get_by_label("apart", exact=True).fill("9 mm")
    work.get_by_label("apart", exact=True).press("Enter")
    hands.idle()
    points = hands.state()["report"]["sketches"][hands.state()["board"]]["points"]
    middles = [points[c["points"][0]] for c in hands.drawing()["curves"] if c["kind"] == "circle"]
    assert sorted(middles) == [pytest.approx([x, 5]) for x in (-20, -11, -2)]


def test_a_disc_is_bitten_as_often_as_a_value_says(hands: Hands, page: Page) -> None:
    hands.begin("Comb")
    hands.value("count", "4")
    hands.step("Sketch")
    hands.keep()
    hands.draw("circle", diameter="14 mm")
    hands.draw("circle", diameter="4 mm", centre_x="7 mm")
    bite = hands.drawing()["curves"][-1]["id"]
    hands.press("Escape")
    hands.select(bite, share=0.5)
    page.get_by_role("button", name="repeat round the origin").click()
    field = page.get_by_label("times", exact=True)
    for said, word in (("soup", "no value called"), ("2.5", "whole number")):
        field.fill(said)
        field.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text(word)
    field.fill("count")
    field.press("Enter")
    expect(page.get_by_role("button", name="stands 4 times")).to_be_visible()
    hands.leave_board()
    # of the areas that the same circles bound, the one that is meant stays the one, however many there are
    hands.step("Extrude")
    hands.open("profile")
    hands.offer("area 1 of outline")
    hands.draft.get_by_role("button", name="take", exact=True).click()
    hands.figure("distance", "5 mm")
    hands.keep()
    # the lens of two circles of 7 and 2 whose middles are 7 apart
    near, far = 2 * 2 * math.acos(2 / 14), 7 * 7 * math.acos(1 - 4 / 98)
    lens = near + far - math.sqrt(2 * 2 * 12 * 16) / 2
    for count in (4, 6, 3):
        hands.set("count", str(count))
        volume = hands.state()["report"]["parts"][0]["volume_mm3"]
        assert volume == pytest.approx(5 * (49 * math.pi - count * lens), rel=1e-5)
