"""The whole way, from nothing to two files: with the mouse, then from the keyboard, then after a kill -9."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import pytest
from hands import Hands, focus, kept, width, write
from playwright.sync_api import Page, expect

from dovejoint.core.formats.stl import read_stl
from dovejoint.core.solid import read_step


def hopper(hands: Hands) -> None:
    """Values, outline, block, rounded edges and shell, with the mouse alone."""
    hands.begin("Bird feeder")
    hands.value("wall", "1.7 mm")
    hands.value("inside", "83 mm")
    hands.press("Escape")
    hands.step("Sketch")
    hands.keep()
    hands.on_board(0, 0)
    hands.on_board(40, 25)
    hands.size("l1", "inside + 2*wall")
    hands.size("l2", "60 mm")
    expect(hands.page.get_by_label("freedom meter")).to_contain_text("All settled")
    hands.leave_board()
    hands.step("Extrude")
    hands.figure("distance", "70 mm")
    hands.call("Hopper")
    hands.keep()
    hands.step("Fillet")
    hands.offer("the upright edges of Hopper")
    hands.figure("radius", "9 mm")
    hands.keep()
    hands.view("below")
    hands.step("Shell")
    hands.face("Hopper", "underside")
    hands.draft.get_by_role("button", name="take").click()
    hands.figure("wall", "wall")
    hands.keep()


def floor(hands: Hands) -> None:
    hands.step("Plug-in lip")
    hands.face("Hopper", "lower rim")
    hands.call("Floor")
    hands.keep()


def figures(hands: Hands) -> dict[str, float]:
    joint = hands.state()["report"]["joints"][0]
    return {
        "drawn": joint["drawn_mm"],
        "least": joint["measured_mm"]["least"],
        "most": joint["measured_mm"]["most"],
        "fits": joint["chance"]["fits"],
    }


def test_with_the_mouse(hands: Hands, page: Page, tmp_path: Path) -> None:
    hopper(hands)
    floor(hands)
    gauge = hands.gauge("Plug-in lip")
    expect(gauge).to_contain_text("too tight in 43 of 100")
    assert figures(hands)["least"] == pytest.approx(0.35, abs=1e-3)

    hands.set("wall", "2.6 mm")
    assert width(hands, "Hopper") == pytest.approx(83 + 5.2)
    assert width(hands, "Floor") == pytest.approx(83 + 5.2), "the floor follows"
    assert figures(hands)["most"] == pytest.approx(0.35, abs=1e-3), "and the joint keeps its gap"

    # a later step shaves the lip: nobody touched the fit, yet the measured gap changes and the gauge says so; what is left of that side
    # holds as before, so that the chance stays
    hands.hide("Hopper")
    hands.view("left")
    hands.shave("Floor", "left side of the lip", "12 mm", "20 mm", "0.15 mm")
    hands.show("Hopper")
    after = figures(hands)
    assert after["drawn"] == pytest.approx(0.35)
    assert after["most"] == pytest.approx(0.50, abs=1e-3)
    expect(gauge).to_contain_text("too tight in 43 of 100")
    expect(gauge).to_contain_text("changed since")
    gauge.click()
    expect(page.locator("[data-joint]")).to_contain_text("Step 7 changed the gap: drawn 0.35 a side")
    card = page.locator("[data-joint]")
    expect(card).to_contain_text("most 0.50 mm, made by step 7")
    expect(card.locator("dl")).to_contain_text(re.compile(r"play.*0\.35 mm"))

    hands.desk("Print")
    saved: dict[str, bytes] = {}

    def save(last: str) -> None:
        """Save both parts, and wait until both files have come."""
        come: list[Any] = []

        def both(download: Any) -> bool:
            come.append(download)
            return len(come) == 2

        with page.expect_event("download", both):
            page.get_by_role("button", name="Save 2 files").click()
        for download in come:
            path = tmp_path / download.suggested_filename
            download.save_as(path)
            saved[path.name] = path.read_bytes()
        expect(page.get_by_role("status").filter(has_text="Saved:")).to_contain_text(last)

    page.get_by_role("radio", name="STL").click()
    save("Bird feeder Floor.stl")
    page.get_by_role("radio", name="STEP").click()
    save("Bird feeder Floor.step")
    assert set(saved) == {f"Bird feeder {p}.{f}" for p in ("Hopper", "Floor") for f in ("stl", "step")}
    corners = read_stl(saved["Bird feeder Hopper.stl"])
    assert corners[..., 0].max() - corners[..., 0].min() == pytest.approx(88.2, abs=1e-4)
    ((name, volume),) = read_step(saved["Bird feeder Floor.step"])
    made = next(p for p in hands.state()["report"]["parts"] if p["name"] == "Floor")
    assert (name, volume) == ("Floor", pytest.approx(made["volume_mm3"], rel=1e-6))


def chip(hands: Hands, back: int, text: str) -> None:
    """From “keep”, go back some chips, open that one and type an answer."""
    focus(hands, "[data-keep]")
    # what is still being said or tried may bring another thing to go past
    hands.idle()
    hands.press(*["Shift+Tab"] * back)
    hands.press("Enter")
    focus(hands, "[data-sheet] input:not([data-tolerance])")
    hands.press("Control+a")
    hands.type(text)
    hands.press("Enter")
    focus(hands, "[data-keep]")


def test_from_the_keyboard(hands: Hands, page: Page) -> None:
    hands.start()
    focus(hands, "input")
    hands.type("Keyboard feeder")
    hands.press("Enter")
    page.locator("#stage").wait_for()
    hands.idle()
    hands.press("v")
    for name, formula in (("wall", "1.7 mm"), ("inside", "83 mm")):
        focus(hands, "[data-value-name]")
        hands.type(name)
        hands.press("Tab")
        hands.type(formula)
        hands.press("Enter")
        page.locator(f"[data-value={name}]").wait_for()
    hands.press("Escape")
    write(hands, "sketch")
    focus(hands, "[data-keep]")
    hands.press("Enter")
    focus(hands, "form input")
    hands.type("inside + 2*wall")
    hands.press("Tab")
    hands.type("60 mm")
    hands.press("Enter")
    focus(hands, "[data-board]")
    hands.idle()
    # nothing is left to drop: the way out has the keyboard, and one more key takes it
    hands.press("Escape")
    focus(hands, "[data-leave-board]")
    hands.press("Enter")
    page.locator("[data-board]").wait_for(state="detached")
    focus(hands, "[data-step]")

    write(hands, "extrude")
    # before “keep” stands what adds to the sentence
    chip(hands, 2, "Hopper")
    chip(hands, 4, "70 mm")
    kept(hands)

    write(hands, "fillet")
    focus(hands, "[data-sheet] button")
    hands.press("Enter")
    chip(hands, 2, "9 mm")
    kept(hands)

    write(hands, "shell")
    focus(hands, "[data-sheet] button")
    hands.down_to("underside of Hopper")
    hands.press("Enter")
    expect(page.locator("[data-sheet]")).to_contain_text("1 face")
    take = page.locator("[data-sheet]").get_by_role("button", name="take")
    hands.down_to("take")
    expect(take).to_be_focused()
    hands.press("Enter")
    # a shell may have walls of their own, so what adds to the sentence stands there too
    chip(hands, 3, "wall")
    kept(hands)

    write(hands, "lip")
    focus(hands, "[data-sheet] button")
    hands.down_to("lower rim of Hopper")
    hands.press("Enter")
    focus(hands, "[data-keep]")
    # the whole sentence is there before its chips are counted
    hands.idle()
    hands.press(*["Shift+Tab"] * 9, "Enter")
    focus(hands, "[data-sheet] input:not([data-tolerance])")
    hands.press("Control+a")
    hands.type("Floor")
    hands.press("Enter")
    kept(hands)
    expect(hands.gauge("Plug-in lip")).to_contain_text("too tight in 43 of 100")
    assert [p["name"] for p in hands.state()["report"]["parts"]] == ["Hopper", "Floor"]

    # change the wall in the table, see the gauges, save the files
    hands.press("g")
    focus(hands, "[data-gauge]")
    hands.press("4")
    expect(page.get_by_role("button", name="Save 1 file")).to_be_enabled()
    page.get_by_role("button", name="Save 1 file").focus()
    with page.expect_download():
        hands.press("Enter")
    hands.press("Control+z")
    hands.idle()
    assert [p["name"] for p in hands.state()["report"]["parts"]] == ["Hopper"]
    hands.press("Control+Shift+Z")
    hands.idle()
    assert len(hands.state()["report"]["parts"]) == 2


def test_nothing_is_lost_when_the_server_is_killed(hands: Hands, page: Page, server: object) -> None:
    hopper(hands)
    floor(hands)
    address = page.url
    before = hands.state()["project"]["document"]
    server.kill()  # type: ignore[attr-defined]
    expect(page.locator("[data-saved]")).to_have_attribute("data-saved", "cut", timeout=30_000)
    # what is typed while it is away is refused with a sentence, and stays where it was typed
    page.locator("[data-value=wall] .chip").click()
    page.locator("[data-value=wall] input:not([data-tolerance])").fill("3 mm")
    page.locator("[data-value=wall] input:not([data-tolerance])").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("cannot be reached")
    expect(page.locator("[data-value=wall] input:not([data-tolerance])")).to_have_value("3 mm")
    page.close()
    server.start()  # type: ignore[attr-defined]

    again = hands.page.context.new_page()
    other = Hands(again, hands.base)
    again.goto(address)
    again.locator("#stage").wait_for()
    other.idle()
    assert other.state()["project"]["document"] == before
    expect(other.gauge("Plug-in lip")).to_contain_text("too tight in 43 of 100")
    back = again.get_by_role("button", name=re.compile("^take back"))
    steps = 0
    while back.is_enabled():
        version = other.state()["project"]["version"]
        back.click()
        again.wait_for_function("v => window.__test.state().project.version > v", arg=version)
        steps += 1
    assert steps >= 10
    assert other.state()["project"]["document"]["recipe"] == []
    assert other.state()["project"]["values"] == []
    hands.complaints.clear()  # the page said, rightly, that its server was gone
    assert not [c for c in other.complaints if "ERR_CONNECTION" not in c]
