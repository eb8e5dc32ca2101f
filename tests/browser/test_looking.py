"""Looking inside: a cut that is typed, dragged, turned and laid through a joint."""

from __future__ import annotations

import re

import pytest
from hands import Hands, near, pixel, width
from playwright.sync_api import Page, expect

CLAY, CELADON = (0xD9, 0xAE, 0x8F), (0xA9, 0xC2, 0xB6)


def test_a_cut_is_filled_part_by_part(hands: Hands, page: Page) -> None:
    hands.sample()
    hands.press("x")
    hands.view("front")
    bar = page.get_by_role("group", name="cut", exact=True)
    expect(bar).to_be_visible()
    # in the middle plane: the hopper's roof and the floor's plate are cut, between them is room (here: its back wall)
    roof = [pixel(page, x, 0, 74 - 0.85) for x in (-20.0, -19.3, -18.6)]
    assert any(near(c, CLAY) for c in roof), roof
    plate = [pixel(page, x, 0, -1.2) for x in (-20.0, -19.3, -18.6)]
    assert any(near(c, CELADON) for c in plate), plate
    # pointing goes through what is cut away: behind it lies the inner side of the back wall
    place = page.evaluate("() => window.__test.project(0, 0, 60)")
    page.mouse.move(place["x"], place["y"])
    expect(page.get_by_text("inner", exact=False).first).to_be_visible()
    bar.get_by_role("button", name="close the cut").click()
    hands.idle()
    page.mouse.move(place["x"] + 1, place["y"])
    expect(page.get_by_text("front of Hopper")).to_be_visible()


def test_a_cut_is_dragged_turned_and_typed(hands: Hands, page: Page) -> None:
    hands.sample()
    page.get_by_role("button", name="cut open").click()
    handle = page.get_by_role("slider", name="drag the cut")
    hands.view("right")
    box = handle.bounding_box()
    assert box
    start = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    a, b = (page.evaluate("([y]) => window.__test.project(0, y, 37)", [y]) for y in (0, 10))
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(start[0] + b["x"] - a["x"], start[1], steps=4)
    page.mouse.up()
    hands.idle()
    at = page.get_by_label("place of the cut, mm")
    assert float(at.input_value()) == pytest.approx(10, abs=0.4), "ten millimetres of the world"
    handle.press("ArrowUp")
    hands.idle()
    assert float(at.input_value()) == pytest.approx(10.5, abs=0.4)
    turn = page.get_by_label("turn of the cut, degrees")
    for text, kept in (("30", "30"), ("nonsense", "nonsense"), ("400", "180")):
        turn.fill(text)
        turn.press("Enter")
        expect(turn).to_have_value(kept)
    hands.idle()


def test_two_cuts_take_a_corner_out_or_both_sides(hands: Hands, page: Page) -> None:
    """Right in front of the hopper's middle is its front: gone with a corner out only on the side of the second cut, and on both sides else."""
    hands.sample()
    hands.press("x")
    page.get_by_role("button", name="a second", exact=True).click()
    hands.idle()

    def there(x: float, y: float, z: float) -> str:
        place = page.evaluate("p => window.__test.project(...p)", [x, y, z])
        found = page.evaluate(
            "([x, y]) => window.__test.viewer().hitAt(x, y)?.label ?? ''", [place["x"] - 334, place["y"] - 46]
        )
        return str(found)

    box = page.evaluate(
        "() => { const b = window.__test.viewer().canvas.getBoundingClientRect(); return [b.left, b.top] }"
    )
    assert box == [334, 46]
    hands.view("front")
    # the second keeps what lies to the left of it
    left, right = there(-20, -28, 50), there(20, -28, 50)
    assert left == "front of Hopper" and right != "front", (left, right)
    page.get_by_role("button", name="both sides go").click()
    hands.idle()
    assert there(-20, -28, 50) != "front of Hopper" and there(20, -28, 50) == ""
    slide = page.get_by_role("slider", name="drag the second cut")
    hands.view("corner")
    slide.press("ArrowRight")
    expect(page.get_by_label("place of the second cut, mm")).to_have_value("0.5")
    page.get_by_role("button", name="close the second cut").click()
    expect(page.get_by_role("slider", name="drag the second cut")).to_have_count(0)
    hands.view("front")
    assert there(20, -28, 50) not in ("front of Hopper", "")
    hands.press("x")
    hands.idle()
    assert there(20, -28, 50) == "front of Hopper"
    # a cut that is left open is the project's: another one knows nothing of it
    hands.press("x")
    expect(page.get_by_role("group", name="cut", exact=True)).to_be_visible()
    hands.begin("Uncut")
    expect(page.get_by_role("group", name="cut", exact=True)).to_have_count(0)
    assert not hands.complaints


def test_a_cut_through_the_joint_shows_its_gap(hands: Hands, page: Page) -> None:
    hands.sample()
    hands.press("x")
    page.get_by_role("button", name="through the joint").click()
    hands.idle()
    p, q = hands.state()["report"]["joints"][0]["measured_mm"]["least_at"]
    a, b = (page.evaluate("p => window.__test.project(...p)", point) for point in (p, q))
    away = ((a["x"] - b["x"]) ** 2 + (a["y"] - b["y"]) ** 2) ** 0.5
    per = page.evaluate("() => window.__test.viewer().eye.millimetresPerPixel")
    assert away * per == pytest.approx(0.35, abs=0.02), "the whole gap lies in the plane that one looks at"
    hands.press("x")
    expect(page.get_by_role("group", name="cut", exact=True)).to_have_count(0)


def test_pointing_reads_and_pinned_readings_follow(hands: Hands, page: Page) -> None:
    hands.sample()
    hands.face("Hopper", "top")
    card = page.get_by_role("region", name="reading")
    expect(card).to_contain_text("through the part here1.700 mm")
    # with Shift a second thing, away from the verbs beside the pointer
    page.keyboard.down("Shift")
    hands.face("Hopper", "right")
    page.keyboard.up("Shift")
    expect(card).to_contain_text("angle")
    hands.press("Escape")
    expect(card).to_have_count(0)
    hands.face("Hopper", "top")
    expect(card).to_contain_text("1.700 mm")
    card.get_by_role("button", name="pin").click()
    note = page.get_by_role("button", name="through the part here 1.700 mm")
    expect(note).to_be_visible()
    hands.set("wall", "2.2 mm")
    expect(page.get_by_role("button", name="through the part here 2.200 mm")).to_be_visible()
    page.reload()
    page.locator("#stage").wait_for()
    hands.idle()
    expect(page.get_by_role("button", name="through the part here 2.200 mm")).to_be_visible()
    page.get_by_role("button", name="take away:").click()
    expect(page.get_by_role("button", name="through the part here")).to_have_count(0)


def test_a_reading_is_given_another_figure_by_one_value(hands: Hands, page: Page) -> None:
    """The feeder's outside is inside + 2 wall: 90 across needs a wall of 3.5, or an inside of 86.6."""
    hands.sample()
    hands.face("Hopper", "right side")
    hands.view("left")
    page.keyboard.down("Shift")
    hands.face("Hopper", "left side")
    page.keyboard.up("Shift")
    card = page.get_by_role("region", name="reading")
    card.get_by_role("button", name=re.compile("^apart 86.4")).click()
    form = card.get_by_role("form", name="make apart another")
    form.get_by_label("what apart should be").fill("90 mm")
    form.get_by_label("what apart should be").press("Enter")
    expect(form).to_contain_text("wall = 3.5 mm")
    # another value may change instead
    form.get_by_role("button", name="the value that may change").click()
    page.get_by_role("option", name="tall").click()
    form.get_by_role("button", name="find").click()
    expect(form.get_by_role("alert")).to_contain_text("does not change with tall")
    form.get_by_role("button", name="the value that may change").click()
    page.get_by_role("option", name="inside").click()
    form.get_by_label("what apart should be").fill("ninety")
    form.get_by_role("button", name="find").click()
    expect(form.get_by_role("alert")).to_contain_text("There is no value called “ninety”")
    form.get_by_label("what apart should be").fill("90")
    form.get_by_role("button", name="find").click()
    expect(form).to_contain_text("inside = 86.6 mm")
    form.get_by_role("button", name="take it").click()
    hands.idle()
    assert width(hands, "Hopper") == pytest.approx(90, abs=1e-3)
    assert not hands.complaints


def test_the_model_is_pulled_apart_and_put_together(hands: Hands, page: Page) -> None:
    """The floor comes down out of the hopper; what is pointed at is where it is seen; and at another desk all is together again."""
    hands.sample()
    hands.view("front")

    def foot() -> float:
        """How low the floor's underside stands on the screen."""
        place = page.evaluate(
            "() => window.__test.viewer().pointsOf([{ type: 'face', part: window.__test.state().report.parts[1].id, index: 0 }])[0]"
        )
        return float(place["z"])

    whole = foot()
    page.get_by_role("button", name="pull apart").click()
    bar = page.get_by_role("group", name="apart", exact=True)
    page.locator("[data-apart=shown]").wait_for()
    hands.idle()
    wide = whole - foot()
    assert wide > 8, "the lip is 7 high"
    hands.face("Floor", "front of the lip")
    (chosen,) = hands.state()["selected"]
    floor = hands.state()["report"]["parts"][1]
    assert (chosen["type"], chosen["part"]) == ("face", floor["id"])
    hands.press("Escape")
    bar.get_by_label("how far apart").fill("50")
    hands.idle()
    assert whole - foot() == pytest.approx(wide / 2, abs=0.02)
    # a cut closes it, and it closes the cut
    hands.press("x")
    hands.idle()
    assert foot() == pytest.approx(whole)
    expect(page.get_by_role("group", name="cut", exact=True)).to_be_visible()
    hands.press("d")
    expect(page.get_by_role("group", name="cut", exact=True)).to_have_count(0)
    page.locator("[data-apart=shown]").wait_for()
    # it follows a value, and a part that stands alone has nothing to come apart
    hands.set("tall", "60 mm")
    hands.idle()
    assert whole - foot() == pytest.approx(wide, abs=1.0)
    page.get_by_role("button", name="put it together").click()
    hands.idle()
    assert foot() == pytest.approx(whole)
