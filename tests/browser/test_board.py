"""The sketch board: the real sketch model under the pointer."""

from __future__ import annotations

import math

import pytest
from hands import Hands
from playwright.sync_api import Page, expect


def corners(hands: Hands, page: Page) -> list[tuple[float, float]]:
    """Places of the corners, as the document has them."""
    step = hands.state()["board"]
    recipe = hands.state()["project"]["document"]["recipe"]
    points = next(s for s in recipe if s["id"] == step)["fields"]["sketch"]["points"]
    return [(p["x"], p["y"]) for p in points]


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
