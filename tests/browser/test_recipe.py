"""The recipe: editing, renaming, switching off, inserting, deleting, looking back, and refusals that help."""

from __future__ import annotations

import pytest
from hands import Hands
from playwright.sync_api import Page, Route, expect


def part(hands: Hands, name: str) -> dict[str, float]:
    found: dict[str, float] = next(p for p in hands.state()["report"]["parts"] if p["name"] == name)
    return found


def test_refusals_say_what_would_work_and_lose_nothing(hands: Hands, page: Page) -> None:
    hands.sample()
    before = hands.state()["project"]["version"]
    page.locator("[data-value=wall] .chip").click()
    box = page.locator("[data-value=wall] input:not([data-tolerance])")
    for text, word in (
        ("", "needs a formula"), ("deep / 2 + wall", "round in a circle: wall → wall"), ("3 +", "missing at the end"),
        ("walls", "no value called “walls”"), ("3 mm + 4", "Units do not go together"), ("30 deg", "rest on that"),
        ("1 mm / 0", "divides by zero"), ("9^9^9 * 1 mm", "too large"), ("NaN", "no value called"), ("🙂", "don't know"),
    ):  # fmt: skip
        box.fill(text)
        box.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text(word)
        expect(box).to_have_value(text)
    box.press("Escape")
    assert hands.state()["project"]["version"] == before

    for number, field, text, word in (
        (2, "distance", "-3 mm", "above zero"), (3, "radius", "45 mm", "is the most"), (4, "wall", "40 mm", "is the most"),
        (7, "thickness", "40 mm", "does not fit into the opening"), (7, "height", "200 mm", "runs into the part"),
        (2, "distance", "1e9 mm", "10 m is the most"),
    ):  # fmt: skip
        row = hands.sentence(number)
        hands.figure(field, text, row)
        expect(row).to_contain_text(word)
        hands.press("Control+z")
        hands.idle()
        assert hands.state()["report"]["ok"], "taken back, all is well again"


def test_what_would_work_does_work(hands: Hands, page: Page) -> None:
    hands.sample()
    row = hands.sentence(3)
    hands.figure("radius", "45 mm", row)
    message = row.get_by_role("status").inner_text()
    most = message.split("edges: ")[1].split(" mm")[0]
    hands.figure("radius", f"{most} mm", row)
    hands.idle()
    assert next(s for s in hands.state()["report"]["steps"] if s["number"] == 3)["state"] == "ok"
    assert part(hands, "Hopper")["closed"]


def test_steps_are_edited_inserted_named_switched_and_deleted(hands: Hands, page: Page) -> None:
    hands.sample()
    whole = part(hands, "Hopper")["volume_mm3"]
    row = hands.sentence(6)
    row.focus()
    hands.press("o")
    hands.idle()
    expect(row).to_contain_text("off: the rest is made without it")
    assert part(hands, "Hopper")["volume_mm3"] == pytest.approx(whole + 34 * 11 * 1.7, rel=1e-6), "no seed mouth"
    hands.press("o")
    hands.press("c")
    page.get_by_placeholder("name of this step").fill("seed slot")
    hands.press("Enter")
    expect(row).to_contain_text("seed slot")

    # a bevel between two steps, by pointing at the top edge; its chain comes along
    hands.step("Chamfer", after=3)
    hands.idle()
    edges = hands.edges("Hopper")
    top = next(
        i
        for i, e in enumerate(edges)
        if e["kind"] == "line" and abs(e["seen"]["at"][2] - 74) < 1e-6 and e["seen"]["at"][1] < 0
    )
    hands.edge("Hopper", top)
    hands.draft.get_by_role("button", name="take").click()
    hands.figure("distance", "2 mm")
    hands.keep()
    assert hands.state()["project"]["document"]["recipe"][3]["kind"] == "chamfer"
    assert hands.state()["report"]["ok"]
    faces = page.evaluate("() => window.__test.faces('Hopper')")
    assert sum("/chamfer(" in f for f in faces) >= 8, "four straight and four round stretches"

    # as it stood after the second step, then back
    hands.sentence(2).focus()
    hands.press("l")
    expect(page.get_by_text("as it stood after step 2")).to_be_visible()
    hands.idle()
    assert page.evaluate("() => window.__test.faces('Hopper').length") == 6
    page.get_by_role("button", name="see all").click()
    hands.idle()

    # deleting a step that others build on leaves the rest standing, and says what is lacking
    hands.sentence(1).focus()
    hands.press("Delete")
    hands.idle()
    expect(hands.sentence(1)).to_contain_text("not there any more")
    hands.press("Control+z")
    hands.idle()
    assert hands.state()["report"]["ok"]


def test_a_split_face_asks_and_takes_a_new_pick(hands: Hands, page: Page) -> None:
    hands.begin("Split")
    hands.block("40 mm", "30 mm", "20 mm")
    hands.step("Chamfer")
    hands.face("Part 1", "top")
    hands.draft.get_by_role("button", name="take").click()
    hands.figure("distance", "0.4 mm")
    hands.keep()
    # an earlier groove splits the top in two equal halves
    hands.step("Sketch", after=2)
    hands.open("plane")
    hands.offer("the front plane")
    hands.keep()
    hands.draw("rectangle", width="4 mm", height="6 mm", centre_x="0", centre_y="20")
    hands.leave_board()
    hands.step("Extrude", after=3)
    hands.choose("operation", "and cut it from")
    hands.choose("extent", "through all")
    hands.choose("direction", "both ways, in all")
    hands.keep()
    asking = hands.sentence(5)
    expect(asking).to_contain_text("stands for 2 faces now; point at the one that is meant")
    # the chip opens on the model as it is just before the step; pointing at one half settles it
    hands.open("edges", asking)
    hands.face("Part 1", "top")
    asking.get_by_role("button", name="take").click()
    hands.idle()
    assert hands.state()["report"]["ok"]


def test_figures_are_scrubbed_and_seen_before_they_are_kept(hands: Hands, page: Page) -> None:
    hands.sample()
    version = hands.state()["project"]["version"]
    row = hands.sentence(3)
    hands.open("radius", row)
    hands.press("ArrowUp", "ArrowUp", "Shift+ArrowUp")
    expect(row.locator("[data-sheet] input:not([data-tolerance])")).to_have_value("10.2 mm")
    expect(page.get_by_text("tried, not kept yet")).to_be_visible()
    hands.idle()
    assert page.evaluate("() => window.__test.labels('Hopper').some(l => l.includes('r 10.2'))"), "the model shows it"
    hands.press("Escape")
    hands.idle()
    assert hands.state()["project"]["version"] == version
    assert page.evaluate("() => window.__test.labels('Hopper').some(l => l.includes('r 9'))")


def test_selecting_offers_what_suits(hands: Hands, page: Page) -> None:
    hands.sample()
    hands.face("Hopper", "top")
    for verb in ("Sketch …", "Shell …"):
        expect(page.get_by_role("button", name=verb)).to_be_visible()
    # a lip goes round an opening, a shaft into a bore: the top has neither
    for verb in ("Plug-in lip …", "Shaft in bore …"):
        expect(page.get_by_role("button", name=verb)).not_to_be_visible()
    page.get_by_role("button", name="more …").click()
    expect(page.get_by_text("(suits what is selected)").first).to_be_visible()
    page.get_by_role("option", name="Fillet").click()
    expect(hands.draft).to_contain_text("the edges round the top of Hopper")
    hands.draft.get_by_role("button", name="drop").click()
    page.get_by_role("button", name="point at anything").click()
    page.get_by_role("option", name="edges").click()
    hands.idle()
    place = page.evaluate("() => { const v = window.__test; return v.project(0, 0, 74) }")
    page.mouse.click(place["x"], place["y"])
    assert hands.state()["selected"] == [], "only edges can be pointed at now"


def test_chapters_fold_and_are_found_again(hands: Hands, page: Page) -> None:
    hands.sample()
    hands.sentence(5).focus()
    hands.press("h")
    head = page.locator("[data-chapter]")
    expect(page.get_by_label("title of the chapter")).to_be_focused()
    hands.press("Escape")
    expect(head).to_have_count(0)
    expect(hands.sentence(5)).to_be_focused()
    hands.press("h")
    expect(page.get_by_label("title of the chapter")).to_be_focused()
    hands.type("Mouth")
    hands.press("Enter")
    expect(head).to_have_attribute("data-chapter", "Mouth")
    expect(hands.sentence(5)).to_be_focused()
    head.get_by_role("button", name="Mouth", exact=True).click()
    page.get_by_label("title of the chapter").fill("Mouth and floor")
    page.get_by_label("note on the chapter").fill("what the seeds fall through")
    page.keyboard.press("Tab")
    head.get_by_role("button", name="keep").click()
    hands.idle()
    expect(head).to_contain_text("what the seeds fall through")
    head.get_by_role("button", name="fold the chapter Mouth and floor").click()
    expect(head).to_contain_text("3 steps")
    expect(page.get_by_role("list", name="recipe").locator("[data-step]")).to_have_count(4)
    # folded after a reload too; who goes to a step in it finds it
    page.reload()
    page.locator("#stage").wait_for()
    hands.idle()
    expect(page.get_by_role("list", name="recipe").locator("[data-step]")).to_have_count(4)
    hands.press("Control+z")
    hands.idle()
    expect(page.locator("[data-chapter]")).to_have_attribute("data-chapter", "Mouth")
    page.get_by_role("button", name="unfold the chapter Mouth").click()
    expect(page.get_by_role("list", name="recipe").locator("[data-step]")).to_have_count(7)


def test_an_answer_that_comes_late_does_not_close_another_chip(hands: Hands, page: Page) -> None:
    """On a slow line: a choice is made, the next chip opened before its answer is there; that one stays open, and keeps the keyboard."""
    hands.sample()
    row = hands.sentence(7)
    late: list[Route] = []
    page.route("**/commands", lambda route: late.append(route))
    hands.open("fit", row)
    with page.expect_request("**/commands"):
        row.get_by_role("radio", name="snug", exact=True).click()
    row.locator('[data-chip="takes"]').click()
    expect(row.get_by_role("radio", name="both halves", exact=True)).to_be_visible()
    for route in late:
        route.continue_()
    page.unroute("**/commands")
    hands.idle()
    expect(row).to_contain_text("snug")
    expect(row.get_by_role("radio", name="both halves", exact=True)).to_be_visible()


def test_who_has_pointed_elsewhere_keeps_the_focus(hands: Hands, page: Page) -> None:
    """On a slow machine an answered chip asks for the focus for a while; not from one who went on to another."""
    hands.begin("Focus")
    hands.block("60 mm", "40 mm", "10 mm")
    row = hands.sentence(2)
    page.evaluate("() => { window.requestAnimationFrame = (f) => setTimeout(() => f(performance.now()), 120) }")
    hands.choose("direction", "down", row)
    # the answer is there, and its chip still asks
    expect(row.locator("[data-sheet]")).to_have_count(0)
    hands.chip("distance", row).click()
    box = row.locator("[data-sheet] input:not([data-tolerance])")
    expect(box).to_be_focused()
    page.evaluate("() => new Promise((done) => { let n = 0; const on = () => (++n > 12 ? done() : requestAnimationFrame(on)); on() })")  # fmt: skip
    expect(box).to_be_focused()


def test_faces_of_an_earlier_step_are_asked_for_anew(hands: Hands, page: Page) -> None:
    """Opening such a pick shows what was there before the step; the page stands while that is fetched. And a page that cannot be drawn says so."""
    hands.begin("Shelled")
    hands.block(tall="20 mm")
    hands.step("Shell")
    hands.face("Part 1", "top")
    hands.draft.get_by_role("button", name="take").click()
    hands.keep()
    hands.step("Fillet")
    hands.offer("the upright edges of Part 1")
    hands.figure("radius", "1 mm")
    hands.keep()
    shelled = part(hands, "Part 1")["volume_mm3"]
    # a rectangle has no point that somebody drew: there is nothing of it to drill at
    hands.step("Drill")
    hands.idle()
    expect(hands.draft.locator("[data-sheet]")).not_to_contain_text("points and circles")
    hands.draft.get_by_role("button", name="drop").click()
    row = hands.sentence(3)
    hands.open("open", row)
    hands.idle()
    expect(row.locator("[data-sheet]")).to_contain_text("faces that the work of step 2 made on Part 1")
    hands.offer("underside of Part 1", row)
    row.get_by_role("button", name="take").click()
    hands.idle()
    expect(row).to_contain_text("open at 2 faces of Part 1")
    assert part(hands, "Part 1")["volume_mm3"] < shelled

    page.route("**/api/projects", lambda route: route.fulfill(json=[None]))
    page.goto(f"{hands.base}/")
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("met a fault of ours")
    assert hands.complaints
    hands.complaints.clear()
    page.unroute("**/api/projects")
    alert.get_by_role("button", name="load the page again").click()
    expect(page.get_by_role("heading", name="Projects")).to_be_visible()
    expect(page.get_by_text("Shelled").first).to_be_visible()
