"""Around the work: two windows, files in and out, a worker that dies, sizes of the window, keys, colours."""

from __future__ import annotations

import contextlib
import os
import re
import signal
from pathlib import Path

import pytest
from hands import Hands
from playwright.sync_api import BrowserContext, Page, Route, expect
from served import Server

CSS = Path(__file__).parents[2] / "frontend" / "src" / "theme" / "tokens.css"


def test_two_windows_stay_in_step(hands: Hands, page: Page, context: BrowserContext) -> None:
    hands.sample()
    other = Hands(context.new_page(), hands.base)
    other.page.goto(page.url)
    other.page.locator("#stage").wait_for()
    other.idle()
    hands.set("wall", "2.2 mm")
    expect(other.page.locator("[data-value=wall]")).to_contain_text("2.2 mm")
    other.idle()
    assert other.state()["report"]["values"][0]["figure"] == pytest.approx(2.2)
    # while the server is asked by both at once, the later one on the same object is told what changed
    page.add_init_script("delete window.SharedWorker")
    page.route("**/api/events/**", lambda route: route.abort())
    page.reload()
    page.locator("#stage").wait_for()
    page.locator("[data-value=wall] .chip").wait_for()
    # what this window asked for at its beginning has come; from here on it hears of nothing
    page.wait_for_function("() => window.__test && window.__test.state().report")
    other.set("wall", "2.5 mm")
    page.locator("[data-value=wall] .chip").click()
    # what was tried while typing is answered after the refusal: it does not take its sentence away
    late: list[Route] = []
    page.route("**/gauge", lambda route: late.append(route))
    with page.expect_request("**/gauge"):
        page.locator("[data-value=wall] input:not([data-tolerance])").fill("3 mm")
    page.locator("[data-value=wall] input:not([data-tolerance])").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("changed elsewhere meanwhile: set wall = 2.5 mm")
    with page.expect_response("**/preview"):
        late[0].continue_()
    expect(page.get_by_role("alert")).to_contain_text("changed elsewhere meanwhile: set wall = 2.5 mm")
    expect(page.locator("[data-value=wall] input:not([data-tolerance])")).to_have_value("3 mm")
    hands.complaints.clear()


def test_project_files_go_out_and_in(hands: Hands, page: Page, tmp_path: Path) -> None:
    hands.sample()
    with page.expect_download() as waiting:
        page.get_by_role("link", name="project file").click()
    saved = tmp_path / waiting.value.suggested_filename
    waiting.value.save_as(saved)
    document = hands.state()["project"]["document"]
    hands.start()
    page.get_by_label("project file").set_input_files(saved)
    page.locator("#stage").wait_for()
    hands.idle()
    assert hands.state()["project"]["document"] == document
    hands.start()
    text = saved.read_text()
    for number, (bad, word) in enumerate((
        ("nonsense", "damaged at line 1"), (text[:300], "damaged at line 17"), ('{"a": 1}', "not a Dove Joint project file"),
        (text.replace('"format": 1', '"format": 99'), "reads up to 1"), (text.replace("83 mm", "8" * 500), "damaged at “values"),
        (re.sub(r'"x": [-\d.]+', '"x": NaN', text, count=1), "NaN"), ("[" * 100000, "nested too deeply"),
    )):  # fmt: skip
        # a name for each, since the browser reads the file when it likes
        file = tmp_path / f"bad {number}.json"
        file.write_text(bad)
        page.get_by_label("project file").set_input_files(file)
        expect(page.get_by_role("alert")).to_contain_text(word)
    file = tmp_path / "large.json"
    file.write_bytes(b" " * (9 * 1024 * 1024))
    page.get_by_label("project file").set_input_files(file)
    expect(page.get_by_role("alert")).to_contain_text("larger than 8 MB")


def test_a_dead_worker_costs_a_moment(hands: Hands, page: Page, server: Server) -> None:
    hands.sample()
    hands.set("wall", "2 mm")
    # with what they are copied from; what dies with it is gone already
    for worker in server.workers():
        with contextlib.suppress(ProcessLookupError):
            os.kill(worker, signal.SIGKILL)
    hands.set("inside", "90 mm")
    assert hands.state()["report"]["ok"]
    low, high = (hands.state()["report"]["parts"][0]["bounding_box_mm"][k][0] for k in ("low", "high"))
    assert high - low == pytest.approx(94)


def test_work_can_be_stopped_and_taken_up(hands: Hands, page: Page) -> None:
    hands.sample()
    stop = page.evaluate_handle("() => window.__test.state().project.id").json_value()
    page.evaluate("id => fetch(`/api/projects/${id}/halt`, {method: 'POST', body: '{}'})", stop)
    hands.set("wall", "2.8 mm")
    assert hands.state()["report"]["values"][0]["figure"] == pytest.approx(2.8), "what comes after a stop is made"


@pytest.mark.parametrize(("wide", "high"), [(1024, 700), (2560, 1440)])
def test_every_desk_fits_the_window(hands: Hands, page: Page, wide: int, high: int) -> None:
    page.set_viewport_size({"width": wide, "height": high})
    hands.sample()
    for desk in ("Shape", "Join", "Check", "Print", "Learn"):
        hands.desk(desk)
        hands.idle()
        over = page.evaluate("""() => [...document.querySelectorAll('header *, aside *, footer *')].filter(e => {
            const r = e.getBoundingClientRect()
            return r.width > 0 && (r.right > innerWidth + 1 || r.left < -1)
        }).map(e => e.outerHTML.slice(0, 90))""")
        assert not over, f"{desk} at {wide}: {over[:3]}"
    assert page.evaluate("() => document.documentElement.scrollWidth") == wide


def test_the_list_of_keys_and_the_desks(hands: Hands, page: Page) -> None:
    hands.sample()
    hands.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("from sentence to sentence")
    hands.press("Escape")
    for key, word in (
        ("2", "all gaps are per side"),
        ("3", "At their limits"),
        ("4", "On the plate"),
        ("5", "Print diary"),
    ):
        hands.press(key)
        expect(page.locator("aside")).to_contain_text(word)
    hands.press("/")
    page.get_by_role("combobox").fill("seed")
    expect(page.get_by_role("option").first).to_contain_text("seed mouth")
    hands.press("Escape")
    expect(page.get_by_role("combobox")).to_have_count(0)


def _luminance(colour: str) -> float:
    """Relative luminance of an sRGB colour (WCAG 2.2)."""
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    red, green, blue = (c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


@pytest.mark.parametrize("theme", [":root {", ":root[data-theme='dark'] {"])
def test_text_stands_out_in_both_themes(theme: str) -> None:
    block = CSS.read_text().split(theme, 1)[1].split("}", 1)[0]
    colour = dict(re.findall(r"--([\w-]+): (#[0-9a-f]{6});", block))
    pairs = [
        (text, ground)
        for text in ("ink", "ink2", "accent", "warn", "wrong")
        for ground in ("paper", "sheet", "card", "row")
    ]
    pairs += [("accent-ink", "accent"), ("card", "ink"), ("free", "card")]
    for text, ground in pairs:
        light, dark = sorted((_luminance(colour[text]), _luminance(colour[ground])), reverse=True)
        assert (light + 0.05) / (dark + 0.05) >= 4.5, f"{text} on {ground}"


def test_the_check_desk_finds_and_goes_there(hands: Hands, page: Page) -> None:
    hands.sample()
    hands.desk("Check")
    # its rim lies on the bed, and its printer was never measured: it goes together in less than 60 of 100
    expect(page.get_by_role("status").filter(has_text="1 wrong, 1 doubtful")).to_be_visible()
    expect(page.get_by_label("what is well").get_by_role("listitem")).to_have_count(11)
    hands.desk("Shape")
    hands.figure("distance", "260 mm", hands.sentence(2))
    hands.idle()
    expect(page.get_by_role("navigation", name="desks")).to_contain_text("▲")
    hands.desk("Check")
    finding = page.locator("[data-finding=wrong]").filter(has_text="printer's room")
    expect(finding).to_contain_text("Hopper is larger than the printer's room, as it lies.")
    expect(finding).to_contain_text("limit 220 × 220 × 250 mm")
    finding.get_by_role("button").first.click()
    hands.idle()
    middle = page.evaluate("() => window.__test.project(0, 0, 130)")
    stage = page.locator("#stage").bounding_box()
    assert stage
    assert middle["x"] == pytest.approx(stage["x"] + stage["width"] / 2, abs=2), "its place is in the middle now"
    hands.desk("Shape")
    hands.figure("radius", "99 mm", hands.sentence(3))
    hands.idle()
    hands.desk("Check")
    page.get_by_role("button", name="to step 3").click()
    expect(hands.sentence(3)).to_contain_text("is the most")


def test_taking_back_in_a_sentence_leaves_what_was_kept(hands: Hands, page: Page) -> None:
    hands.sample()
    before = hands.state()["project"]["version"]
    hands.step("Extrude")
    hands.idle()
    first = hands.draft.inner_text()
    hands.open("distance")
    box = hands.draft.locator("[data-sheet] input:not([data-tolerance])")
    box.fill("12 mm")
    # taken only when it has been tried already, as by a hand that is in no hurry
    expect(hands.chip("distance")).to_contain_text("12 mm")
    box.press("Enter")
    hands.choose("operation", "and add it to")
    expect(hands.draft).to_contain_text("12 mm")
    hands.press("Control+z")
    expect(hands.draft).to_contain_text("as new part")
    expect(hands.draft).to_contain_text("12 mm")
    page.get_by_role("button", name="take back: the last answer").click()
    hands.idle()
    assert hands.draft.inner_text() == first
    hands.press("Control+z")
    expect(hands.draft).to_have_count(0)
    assert hands.state()["project"]["version"] == before, "nothing that was kept was touched"


def test_reload_and_back_come_to_the_same_place(hands: Hands, page: Page) -> None:
    hands.sample()
    desk = page.get_by_role("navigation", name="desks").locator("[aria-current]")
    hands.desk("Check")
    hands.desk("Print")
    page.reload()
    hands.idle()
    expect(desk).to_contain_text("Print")
    page.go_back()
    expect(desk).to_contain_text("Check")
    hands.desk("Shape")
    hands.sentence(1).locator("[data-chip=sketch]").click()
    page.locator("[data-board]").wait_for()
    page.reload()
    page.locator("[data-board]").wait_for()
    hands.idle()
    page.go_back()
    page.locator("[data-board]").wait_for(state="detached")
    expect(desk).to_contain_text("Shape")


def test_find_or_do_finds_what_people_call_things(hands: Hands, page: Page) -> None:
    hands.sample()
    for word, entry in (
        ("stl", "Save files"), ("measure", "Read a distance"), ("dark", "Light or dark colours"), ("hole", "Extrude"), ("mirror", "Work on the board"),
        ("undo", "Take back"), ("inch", "Lengths in inches"), ("help", "All keys"), ("lathe", "Revolve"),
    ):  # fmt: skip
        hands.press("/")
        hands.type(word)
        expect(page.get_by_role("option", name=entry).first).to_be_visible()
        hands.press("Escape")
        page.get_by_role("combobox").wait_for(state="detached")
    hands.press("/")
    hands.type("inch")
    hands.press("Enter")
    expect(page.get_by_role("button", name="unit of lengths: in")).to_be_visible()


def test_the_start_page_shows_projects_and_finds_and_copies_them(hands: Hands, page: Page) -> None:
    hands.sample()
    for name in ("Łódź tray", "Seed scoop", "Anchor", "Perch", "Roof"):
        hands.begin(name)
    hands.start()
    cards = page.get_by_role("list", name="projects").get_by_role("listitem")
    feeder = cards.filter(has_text="Window bird feeder").first
    picture = feeder.locator("img")
    expect(picture).to_have_js_property("complete", True)
    page.wait_for_function(
        "() => [...document.querySelectorAll('[aria-label=projects] img')].some((i) => i.naturalWidth === 320)"
    )
    # one without parts has no picture, and says nothing of it
    expect(cards.filter(has_text="Perch").locator("img")).to_have_count(0)
    feeder.hover()
    feeder.get_by_role("button", name="copy Window bird feeder").click()
    expect(cards.filter(has_text="Window bird feeder copy")).to_have_count(1)
    page.get_by_label("search projects").fill("łódź")
    expect(cards).to_have_count(1)
    page.get_by_label("search projects").fill("nowhere")
    expect(page.get_by_text("No project is called so.")).to_be_visible()
    page.get_by_label("search projects").fill("")
    page.get_by_role("radio", name="by name").click()
    expect(cards.first).to_contain_text("Anchor")
    # the copy is a project of its own
    cards.filter(has_text="Window bird feeder copy").get_by_role("link").click()
    page.locator("#stage").wait_for()
    hands.idle()
    assert [p["name"] for p in hands.state()["report"]["parts"]] == ["Hopper", "Floor"]


def test_a_sentence_outlives_a_reload_and_a_look_back_has_an_address(hands: Hands, page: Page) -> None:
    hands.sample()
    hands.step("Fillet")
    hands.figure("radius", "1.2 mm")
    page.reload()
    expect(hands.chip("radius")).to_contain_text("1.2 mm")
    hands.draft.get_by_role("button", name="drop").click()
    page.reload()
    page.locator("#stage").wait_for()
    expect(hands.draft).to_have_count(0)
    hands.idle()
    row = hands.sentence(2)
    row.focus()
    hands.press("l")
    expect(page.get_by_text("as it stood after step 2")).to_be_visible()
    page.reload()
    expect(page.get_by_text("as it stood after step 2")).to_be_visible()
    page.go_back()
    expect(page.get_by_text("as it stood after step 2")).to_have_count(0)


def test_refused_formulas_offer_what_would_do(hands: Hands, page: Page) -> None:
    hands.sample()
    hands.open("radius", hands.sentence(3))
    sheet = hands.sentence(3).locator("[data-sheet]")
    box = sheet.locator("input:not([data-tolerance])")
    box.fill("wall+10")
    # tried, it says so; kept, it still does
    expect(sheet.get_by_role("button", name="write wall + 10 mm")).to_be_visible()
    box.press("Enter")
    expect(sheet).to_have_count(0)
    expect(hands.sentence(3)).to_contain_text("“wall + 10 mm” would do")
    hands.open("radius", hands.sentence(3))
    sheet.get_by_role("button", name="write wall + 10 mm").click()
    expect(box).to_have_value("wall + 10 mm")
    # a value's own editor does not offer itself
    hands.press("Escape")
    page.locator("[data-value=wall] .chip").click()
    offered = page.locator("[data-value=wall] [tabindex='-1']").all_inner_texts()
    assert "wall" not in offered and "inside" in offered


def test_what_is_cut_open_is_pointed_at_on_its_hatched_faces(hands: Hands, page: Page) -> None:
    """A block cut through its middle: pointing near one side of the cut face means that side, not what lies behind."""
    hands.begin("Cut")
    hands.block(tall="20 mm")
    hands.view("front")
    hands.press("x")
    hands.idle()
    for place, name in (
        ((28.0, 0.0, 10.0), "right"),
        ((-28.0, 0.0, 10.0), "left"),
        ((5.0, 0.0, 19.0), "top"),
        ((5.0, 0.0, 1.0), "under"),
    ):
        hit = page.evaluate(
            """([x, y, z]) => {
                const viewer = window.__test.viewer()
                const at = window.__test.project(x, y, z)
                const box = viewer.canvas.getBoundingClientRect()
                const hit = viewer.hitAt(at.x - box.left, at.y - box.top)
                return hit && { label: hit.label, deep: hit.point.y }
            }""",
            [*place],
        )
        assert hit and name in hit["label"], (place, hit)
        assert abs(hit["deep"]) < 0.01
