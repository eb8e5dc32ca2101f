"""The board's further tools, drawn with real clicks: free curves, text, cutting, gaps, boxes, readings, what comes from parts, files."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import pytest
from hands import Hands
from playwright.sync_api import Page, expect


def begin(hands: Hands, name: str) -> None:
    hands.begin(name)
    hands.step("Sketch")
    hands.keep()
    hands.idle()


def block(hands: Hands, name: str) -> None:
    """A part of 60 × 40 × 10."""
    hands.begin(name)
    hands.block()


def solved(hands: Hands) -> Any:
    return hands.state()["report"]["sketches"][hands.state()["board"]]


def kinds(hands: Hands) -> list[str]:
    return sorted(c["kind"] for c in hands.drawing()["curves"])


def screen(page: Page, x: float, y: float) -> tuple[float, float]:
    place = page.evaluate("([x, y]) => window.__test.project(x, y, 0)", [x, y])
    return place["x"], place["y"]


def pull(page: Page, start: tuple[float, float], end: tuple[float, float]) -> None:
    """Press at a place of the board, move, let go at another."""
    page.mouse.move(*screen(page, *start))
    page.mouse.down()
    page.mouse.move(*screen(page, *end), steps=5)
    page.mouse.up()


def test_an_ellipse_a_spline_and_a_word(hands: Hands, page: Page) -> None:
    begin(hands, "Hatch")
    hands.tool("ellipse")
    for place in ((-30, 20), (-10, 20), (-30, 30)):
        hands.on_board(*place)
    hands.idle()
    assert solved(hands)["regions"][0]["area_mm2"] == pytest.approx(math.pi * 20 * 10)
    # a spline ends where Enter says, and Backspace takes its last node back
    hands.press("s")
    for place in ((-40, -20), (-20, -10), (0, -25), (30, -20)):
        hands.on_board(*place)
    hands.press("Backspace")
    hands.on_board(20, -10)
    hands.press("Enter")
    hands.idle()
    assert kinds(hands) == ["ellipse", "spline"]
    spline = next(c for c in hands.drawing()["curves"] if c["kind"] == "spline")
    node = spline["points"][-1]
    at = next(p for p in hands.drawing()["points"] if p["id"] == node)
    assert (at["x"], at["y"]) == (20, -10)
    # its handles show when it is selected; the node is dragged and takes them along
    expect(page.locator(f"[data-point={spline['points'][1]}]")).to_have_count(0)
    hands.select(spline["id"], share=0.3)
    expect(page.locator(f"[data-point={spline['points'][1]}]")).to_have_count(1)
    before = next(p for p in hands.drawing()["points"] if p["id"] == spline["points"][-2])
    pull(page, (20, -10), (30, -14))
    hands.idle()
    after = next(p for p in hands.drawing()["points"] if p["id"] == spline["points"][-2])
    assert (after["x"] - before["x"], after["y"] - before["y"]) == pytest.approx((10, -4), abs=0.7)
    hands.press("Escape")
    # words need to be written first; what the letters lack is said
    hands.press("w")
    expect(page.get_by_label("words")).to_be_focused()
    hands.on_board(-30, -50)
    expect(page.get_by_role("alert")).to_contain_text("Write the words")
    page.get_by_role("button", name="understood").click()
    page.get_by_label("words").fill("MAST")
    page.get_by_label("height of capitals").fill("8 mm")
    hands.on_board(-30, -50)
    hands.idle()
    assert kinds(hands) == ["ellipse", "spline", "text"]
    expect(page.locator("[data-size]").filter(has_text="8 mm")).to_be_visible()
    letters = [r for r in solved(hands)["regions"] if r["name"].startswith("t1.")]
    assert len(letters) >= 4


def test_curves_by_their_places_from_the_keyboard(hands: Hands, page: Page) -> None:
    begin(hands, "Keys")
    tray = page.get_by_role("toolbar", name="board tools")
    hands.press("Escape")
    page.locator("[data-board]").focus()
    # the same key again takes the next way of a tool, Enter goes into its figures
    hands.press("o", "o", "o", "Enter")
    expect(tray.get_by_label("first x")).to_be_focused()
    for text in ("10", "0", "0", "10", "-10", "0"):
        page.keyboard.press("Control+a")
        hands.type(text)
        hands.press("Tab")
    hands.press("Enter")
    hands.idle()
    assert solved(hands)["regions"][0]["area_mm2"] == pytest.approx(math.pi * 100)
    tray.get_by_role("button", name="spline").click()
    places = tray.get_by_label("places")
    places.fill("0 0, 10")
    places.press("Enter")
    expect(tray.get_by_role("alert")).to_contain_text("as pairs")
    places.fill("20 0, 30 8, 40 0")
    places.press("Enter")
    hands.idle()
    assert kinds(hands) == ["circle", "spline"]
    tray.get_by_role("button", name="arc").click()
    tray.get_by_role("radio", name="by centre").click()
    for label, text in (
        ("centre x", "60"),
        ("centre y", "0"),
        ("from x", "60"),
        ("from y", "10"),
        ("towards x", "60"),
        ("towards y", "10"),
    ):
        tray.get_by_label(label).fill(text)
    tray.get_by_role("button", name="draw", exact=True).click()
    expect(tray.get_by_role("alert")).to_contain_text("another direction")


def test_what_is_pointed_at_on_a_curve_stays_on_it(hands: Hands, page: Page) -> None:
    begin(hands, "On")
    hands.draw("rectangle", width="60 mm", height="40 mm")
    hands.tool("line")
    # from the middle of the lower side to somewhere on the upper one
    hands.on_board(0, -20)
    page.mouse.move(*screen(page, 11, 20))
    expect(page.get_by_text("on the curve")).to_be_visible()
    hands.on_board(11, 20)
    hands.idle()
    ties = hands.drawing()["constraints"]
    line = hands.drawing()["curves"][-1]
    assert {"kind": "midpoint", "of": [line["points"][0], "l1"]}.items() <= ties[-2].items()
    assert {"kind": "point_on", "of": [line["points"][1], "l3"]}.items() <= ties[-1].items()
    assert sorted(r["area_mm2"] for r in solved(hands)["regions"])[0] == pytest.approx((30 + 19) / 2 * 40, abs=5)
    hands.press("Escape", "Escape")
    # with Alt it is as it is pointed
    hands.tool("line")
    page.keyboard.down("Alt")
    hands.on_board(-20, -20)
    hands.on_board(-12, 5)
    page.keyboard.up("Alt")
    hands.idle()
    assert len(hands.drawing()["constraints"]) == len(ties)


def test_a_length_and_a_way_are_typed_and_what_goes_is_told(hands: Hands, page: Page) -> None:
    begin(hands, "Typed")
    hands.tool("line")
    hands.on_board(0, 0)
    page.mouse.move(*screen(page, 20, 3))
    hands.press("5")
    hands.type("0 mm")
    hands.press("Tab")
    hands.type("30")
    hands.press("Enter")
    hands.idle()
    points = {p["id"]: (p["x"], p["y"]) for p in hands.drawing()["points"]}
    end = points[hands.drawing()["curves"][0]["points"][1]]
    assert end == pytest.approx((50 * math.cos(math.pi / 6), 25))
    hands.press("Escape", "Escape")
    # a point on the line goes when the line goes, and so does its size: that is said
    hands.tool("line", "point")
    hands.on_board(*(c / 4 for c in end))
    hands.idle()
    assert hands.drawing()["constraints"][-1]["kind"] == "point_on"
    hands.select("l1", share=0.6)
    hands.press("Delete")
    hands.idle()
    expect(page.get_by_text("with 1 tie and 1 size that hung on it")).to_be_visible()
    assert hands.drawing()["curves"] == []


def test_cutting_splitting_running_on_and_closing(hands: Hands, page: Page) -> None:
    begin(hands, "Cut")
    hands.draw("rectangle", width="60 mm", height="40 mm")
    hands.tool("line")
    page.keyboard.down("Alt")
    hands.on_board(-20, 0)
    hands.on_board(10, 5)
    page.keyboard.up("Alt")
    hands.idle()
    hands.press("Escape", "Escape")
    expect(page.get_by_text("2 open ends")).to_be_visible()
    hands.tool("trim", "run on")
    hands.on_board(8, 4.7)
    hands.idle()
    expect(page.get_by_text("1 open end")).to_be_visible()
    hands.on_board(-18, 0.3)
    hands.idle()
    expect(page.get_by_text("open end")).to_have_count(0)
    assert len(solved(hands)["regions"]) == 2
    hands.tool("trim", "split")
    hands.on_board(0, 20)
    hands.idle()
    assert kinds(hands) == ["line"] * 6
    hands.tool("trim", "trim")
    hands.on_board(15, 20)
    hands.idle()
    assert kinds(hands) == ["line"] * 5
    expect(page.get_by_text("2 open ends")).to_be_visible()
    # a gap of a hair is offered to be closed
    hands.tool("line")
    tray = page.get_by_role("toolbar", name="board tools")
    for label, text in (("from x", "0.3"), ("from y", "20"), ("to x", "29.8"), ("to y", "20.2")):
        tray.get_by_label(label, exact=True).fill(text)
    # held where it was written it could not be brought to what it nearly meets
    tray.get_by_label("hold it there").uncheck()
    tray.get_by_role("button", name="draw", exact=True).click()
    hands.idle()
    hands.press("Escape")
    page.get_by_role("button", name="close 2 gaps").click()
    hands.idle()
    expect(page.get_by_text("open end")).to_have_count(0)
    assert len(solved(hands)["regions"]) == 2


def test_corners_are_taken_by_a_box_and_cut_and_copies_made(hands: Hands, page: Page) -> None:
    begin(hands, "Box")
    hands.draw("rectangle", width="60 mm", height="40 mm")
    pull(page, (24, -26), (36, 26))
    panel = page.get_by_role("group", name="what is selected")
    expect(panel).to_contain_text("a line")
    hands.press("Escape")
    # around two corners only
    pull(page, (26, -26), (36, -16))
    expect(panel).to_contain_text("a point")
    page.keyboard.down("Shift")
    pull(page, (26, 16), (36, 26))
    page.keyboard.up("Shift")
    expect(panel).to_contain_text("2 points")
    panel.get_by_role("button", name="cut 2 corners").click()
    panel.get_by_label("back by").fill("70 mm")
    panel.get_by_role("button", name="take", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("does not fit on that corner")
    page.get_by_role("button", name="understood").click()
    panel.get_by_label("back by").fill("5 mm")
    panel.get_by_role("button", name="take", exact=True).click()
    hands.idle()
    assert solved(hands)["regions"][0]["area_mm2"] == pytest.approx(2400 - 25)
    hands.press("Escape")
    pull(page, (-36, -26), (36, 26))
    expect(panel).to_contain_text("6 lines")
    panel.get_by_role("button", name="move or copy").click()
    panel.get_by_label("right").fill("0 mm")
    panel.get_by_label("up").fill("50 mm")
    panel.get_by_role("button", name="copy", exact=True).click()
    hands.idle()
    assert [r["area_mm2"] for r in solved(hands)["regions"]] == pytest.approx([2375, 2375])


def test_a_size_too_many_is_kept_as_a_reading(hands: Hands, page: Page) -> None:
    begin(hands, "Reads")
    hands.draw("rectangle", width="60 mm", height="80 mm")
    for k, corner in enumerate(("p2", "p4")):
        page.locator(f"[data-point={corner}]").click(modifiers=["Shift"] if k else [])
    hands.press("d")
    expect(page.get_by_role("alert")).to_contain_text("settled already by")
    page.get_by_role("button", name="keep it as a reading").click()
    hands.idle()
    reading = page.locator("[data-reading]")
    expect(reading).to_contain_text("100.00 mm")
    hands.press("Escape")
    page.locator("[data-size=d1]").click()
    box = page.locator("input.text-center")
    box.fill("150 mm")
    box.press("Enter")
    hands.idle()
    expect(reading).to_contain_text("170.00 mm")
    # the height is only read now, and the diagonal drives
    page.locator("[data-size=d2]").click()
    page.get_by_role("button", name="only read it").click()
    hands.idle()
    expect(page.get_by_label("freedom meter")).to_contain_text("1 way still free")
    page.locator("[data-size=d3]").click()
    page.get_by_role("button", name="let it drive").click()
    hands.idle()
    expect(page.get_by_label("freedom meter")).to_contain_text("All settled")
    page.locator("[data-size=d3]").click()
    box.fill("250 mm")
    box.press("Enter")
    hands.idle()
    expect(page.locator("[data-size=d2]")).to_contain_text("200.00 mm")


def test_what_comes_from_a_part_follows_it(hands: Hands, page: Page) -> None:
    hands.begin("Follow")
    hands.value("wide", "60 mm")
    hands.step("Sketch")
    hands.keep()
    hands.draw("rectangle", width="wide", height="40 mm")
    hands.leave_board()
    hands.step("Extrude")
    hands.keep()
    hands.step("Sketch")
    hands.keep()
    hands.idle()
    hands.tool("bring in")
    page.mouse.move(*screen(page, 5, 5))
    expect(page.get_by_text("top of Part 1")).to_be_visible()
    hands.on_board(5, 5)
    hands.idle()
    assert kinds(hands) == ["line"] * 4
    expect(page.get_by_label("freedom meter")).to_contain_text("All settled")
    hands.press("Escape")
    # set off by a gap, it is an outline of its own that follows the part
    for k in range(1, 5):
        hands.select(f"l{k}", more=k > 1, share=0.3)
    page.get_by_role("button", name="set off beside").click()
    page.get_by_label("by", exact=True).fill("2 mm")
    page.get_by_role("button", name="outside", exact=True).click()
    hands.idle()
    first = solved(hands)["regions"][0]["area_mm2"]
    assert first == pytest.approx(64 * 44)
    hands.leave_board()
    hands.set("wide", "80 mm")
    hands.idle()
    sketches = hands.state()["report"]["sketches"]
    area = list(sketches.values())[-1]["regions"][0]["area_mm2"]
    assert area in (pytest.approx(84 * 44), pytest.approx(76 * 36))
    # opened again the board stands where the part is now, and what is frozen stays there
    hands.sentence(3).locator("[data-chip=sketch]").click()
    page.locator("[data-board]").wait_for()
    hands.idle()
    assert max(p["x"] for p in hands.drawing()["points"]) >= 38
    hands.select("l1", share=0.3)
    page.get_by_role("button", name="freeze where it is").click()
    hands.idle()
    expect(page.get_by_role("button", name="freeze where it is")).to_have_count(0)


def test_an_outline_file_is_looked_at_placed_and_saved(hands: Hands, page: Page, tmp_path: Path) -> None:
    begin(hands, "Files")
    hands.press("Escape")
    picture = '<svg xmlns="http://www.w3.org/2000/svg" width="50mm" height="30mm" viewBox="0 0 50 30"><rect width="50" height="30"/><circle cx="25" cy="15" r="5"/></svg>'
    (tmp_path / "plate.svg").write_text(picture)
    (tmp_path / "broken.dxf").write_text("nothing")
    page.get_by_role("button", name="outline file").click()
    page.get_by_role("button", name="bring one in").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("outline file", exact=True).set_input_files(tmp_path / "broken.dxf")
    expect(dialog.get_by_role("alert")).to_be_visible()
    expect(dialog.get_by_role("button", name="put it on the board")).to_be_disabled()
    dialog.get_by_label("outline file", exact=True).set_input_files(tmp_path / "plate.svg")
    expect(dialog).to_contain_text("50 × 30 mm")
    dialog.get_by_label("times").fill("2")
    expect(dialog).to_contain_text("100 × 60 mm")
    dialog.get_by_role("button", name="put it on the board").click()
    expect(dialog).to_have_count(0)
    hands.idle()
    assert [r["area_mm2"] for r in solved(hands)["regions"]] == pytest.approx([6000 - 100 * math.pi, 100 * math.pi])
    page.get_by_role("button", name="outline file").click()
    with page.expect_download() as saved:
        page.get_by_role("button", name="save as SVG").click()
    text = Path(saved.value.path()).read_text()
    assert saved.value.suggested_filename.endswith(".svg")
    assert 'width="102mm"' in text


def test_a_plane_about_an_edge_carries_a_sketch(hands: Hands, page: Page) -> None:
    block(hands, "Lean")
    edges = hands.edges("Part 1")
    top = next(
        k
        for k, e in enumerate(edges)
        if abs(e["seen"]["direction"][0]) > 0.9 and e["seen"]["at"][2] > 5 and e["seen"]["at"][1] < 0
    )
    hands.step("Plane")
    hands.choose("how", "turned from")
    hands.open("edges", hands.draft)
    hands.idle()
    hands.edge("Part 1", top)
    hands.draft.get_by_role("button", name="take").click()
    hands.figure("angle", "30 deg")
    hands.keep()
    hands.idle()
    (plane,) = hands.state()["report"]["planes"].values()
    assert abs(plane["z"][2]) == pytest.approx(math.cos(math.radians(30)))
    # nonsense in its angle leaves what stood, and says so
    row = hands.sentence(3)
    hands.open("angle", row)
    row.locator("[data-sheet] input:not([data-tolerance])").fill("30 mm")
    row.locator("[data-sheet] input:not([data-tolerance])").press("Enter")
    expect(row).to_contain_text("angle")
    page.get_by_role("button", name="take back").click()
    hands.idle()
    assert list(hands.state()["report"]["planes"].values()) == [plane]


def test_things_are_selected_from_the_keyboard_and_words_changed(hands: Hands, page: Page) -> None:
    begin(hands, "Keyboard")
    hands.draw("rectangle", width="60 mm", height="40 mm")
    page.locator("[data-board]").focus()
    panel = page.get_by_role("group", name="what is selected")
    hands.press(".")
    expect(panel).to_contain_text("a line")
    hands.press("Space", "Space", "Space")
    expect(panel).to_contain_text("4 lines")
    panel.get_by_role("button", name="set off beside").press("Enter")
    panel.get_by_role("radio", name="round").click()
    panel.get_by_label("by", exact=True).fill("4 mm")
    panel.get_by_label("by", exact=True).press("Enter")
    hands.idle()
    whole = sum(r["area_mm2"] for r in solved(hands)["regions"])
    assert whole in (pytest.approx(2400), pytest.approx(2400 + 800 + 16 * math.pi))
    hands.press("Escape")
    hands.tool("text")
    page.get_by_label("words").fill("HI")
    page.get_by_label("height of capitals").fill("6 mm")
    hands.on_board(-12, -4)
    hands.idle()
    hands.select("t1", share=0.9)
    words = panel.get_by_label("words of the text")
    words.fill("")
    words.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Write the text first")
    page.get_by_role("button", name="understood").click()
    words.fill("LI")
    words.press("Enter")
    hands.idle()
    assert hands.drawing()["curves"][-1]["text"] == "LI"


def test_a_plane_over_corners_from_a_list(hands: Hands, page: Page) -> None:
    block(hands, "Corners")
    hands.step("Plane")
    hands.choose("how", "over")
    hands.open("corners", hands.draft)
    hands.idle()
    for place in ("-30, -20, 10", "30, 20, 10", "30, -20, 0"):
        hands.draft.get_by_role("button", name=f"corner of Part 1 at {place}", exact=True).click()
    expect(hands.draft).to_contain_text("3 corners")
    hands.draft.get_by_role("button", name="take").click()
    hands.keep()
    hands.idle()
    (plane,) = hands.state()["report"]["planes"].values()
    for corner in ((-30, -20, 10), (30, 20, 10), (30, -20, 0)):
        away = sum((c - o) * z for c, o, z in zip(corner, plane["origin"], plane["z"], strict=True))
        assert away == pytest.approx(0, abs=1e-9)
