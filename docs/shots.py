"""Takes the pictures in docs/screenshots/ anew, from the sample project, and those of the steps in docs/shaping/: ``./dove shots``."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import sync_playwright

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "tests")]

sys.path[:0] = [str(ROOT / "docs")]

from building import pictured  # noqa: E402
from gallery import GROUPS  # noqa: E402
from hands import Hands, browser_program  # noqa: E402

from dovejoint.core.document import dump  # noqa: E402
from dovejoint.sample import SAMPLES  # noqa: E402


def shape(hands: Hands) -> None:
    """The sample as it opens."""


def scrub(hands: Hands) -> None:
    """A figure being tried: the model and the gauge follow, nothing is kept yet."""
    hands.open("radius", hands.sentence(3))
    hands.page.locator("[data-sheet] input:not([data-tolerance])").fill("18 mm")
    hands.page.get_by_text("tried, not kept yet").wait_for()


def palette(hands: Hands) -> None:
    hands.page.keyboard.press("n")
    hands.page.get_by_role("combobox").wait_for()


def outlines(hands: Hands, sketch: int) -> None:
    """One of the mast's outlines on its board."""
    hands.start()
    hands.page.get_by_role("button", name="open the example: Outlines of the mast").click()
    hands.page.locator("#stage").wait_for()
    hands.idle()
    hands.sentence(sketch).locator("[data-chip=sketch]").click()
    hands.page.locator("[data-board]").wait_for()


def board(hands: Hands) -> None:
    """The wall bracket's outline, settled."""
    outlines(hands, 1)


def shaping(hands: Hands) -> None:
    """A worked example: a chapter, a grip, and the links between its two parts."""
    hands.start()
    hands.page.get_by_role("button", name="open the example: Box and cover").click()
    hands.page.locator("#stage").wait_for()
    hands.idle()
    hands.sentence(5).focus()
    hands.press("h")
    hands.page.get_by_label("title of the chapter").fill("The cover")
    hands.page.get_by_label("note on the chapter").fill("rests on the box, and follows it")
    hands.page.locator("[data-chapter]").get_by_role("button", name="keep").click()
    hands.idle()
    hands.page.get_by_role("button", name="Links between parts").click()
    hands.sentence(8).focus()
    hands.page.get_by_role("list", name="recipe").evaluate("l => (l.parentElement.scrollTop = 1e6)")


def drawing(hands: Hands) -> None:
    """A bracket drawn by hand, tied and sized; one size too many is refused with those that settle it."""
    hands.begin("Wall bracket")
    hands.step("Sketch")
    hands.keep()
    hands.path((0, 0), (60, 0.6), (60.3, 16), (16, 15.7), (16.2, 40), (0, 40.3))
    hands.page.mouse.move(990, 320)
    hands.page.mouse.wheel(0, -500)
    hands.idle()
    hands.size("l1", "60 mm")
    hands.size("l6", "40 mm")
    hands.size("l2", "16 mm", share=0.7)
    hands.select("l2", share=0.7)
    hands.select("l5", more=True, share=0.7)
    hands.page.get_by_role("button", name="tie: equal").click()
    hands.idle()
    hands.press("Escape")
    hands.tool("slot")
    for x, y in ((8, 22), (8, 31), (11, 25)):
        hands.on_board(x, y)
    hands.idle()
    hands.select("l3", share=0.7)
    hands.press("d")
    hands.page.get_by_role("alert").wait_for()


def picking(hands: Hands) -> None:
    """An edge chip open: point at the model, or take a rule."""
    hands.step("Fillet")
    hands.draft.get_by_role("button", name="the left-to-right edges of Hopper").hover()


def refusal(hands: Hands) -> None:
    hands.figure("radius", "45 mm", hands.sentence(3))


def join(hands: Hands) -> None:
    """A joint after a later step shaved its lip: the gap as colours on both halves."""
    hands.hide("Hopper")
    hands.view("left")
    hands.shave("Floor", "left side of the lip", "12 mm", "30 mm", "0.1 mm")
    hands.view("corner")
    hands.gauge("Floor in hopper").click()
    hands.page.get_by_role("button", name="Show the gap on both halves").click()
    hands.page.locator("[data-gapmap] figure").wait_for()


def cut(hands: Hands) -> None:
    """A snap hook cut open, and what the hand-book works out for it."""
    hands.start()
    hands.page.get_by_role("button", name="open the example: Snapped hatch").click()
    hands.page.locator("#stage").wait_for()
    hands.idle()
    hands.desk("Shape")
    hands.set("undercut", "0.8 mm")
    hands.gauge("latch").click()
    hands.page.keyboard.press("x")
    hands.idle()
    hands.view("front")
    hands.page.locator("[data-working]").scroll_into_view_if_needed()


def check(hands: Hands) -> None:
    """A wall too thin, a part too tall: findings with their flags."""
    hands.set("wall", "0.8 mm")
    hands.figure("distance", "255 mm", hands.sentence(2))
    hands.idle()
    hands.desk("Check")


def reading(hands: Hands) -> None:
    hands.face("Hopper", "top")
    hands.page.get_by_text("through the part here").wait_for()


def lay_hopper(hands: Hands) -> None:
    """Its closed side down, so that the open rim does not flare."""
    hands.desk("Print")
    hands.page.locator("[data-totals]").wait_for()
    hands.idle()
    hands.page.get_by_label("how Hopper lies").click()
    hands.face("Hopper", "top of Hopper")
    hands.idle()


def printing(hands: Hands) -> None:
    lay_hopper(hands)
    hands.page.locator("[data-totals]").wait_for()


def layers(hands: Hands) -> None:
    """Parts half printed: the nozzle's paths of one layer."""
    hands.desk("Print")
    hands.page.locator("[data-totals]").wait_for()
    hands.page.get_by_label("layer to look at").fill("10")
    hands.page.get_by_text("10 of 370").wait_for()
    hands.idle()
    hands.page.evaluate("() => window.__test.viewer().eye.fit()")


def limits(hands: Hands) -> None:
    """The hopper's inside at its lower limit, cut open through the joint."""
    hands.page.locator("[data-value=inside] .chip").click()
    hands.page.get_by_label("tolerance").fill("±0.3")
    hands.press("Enter")
    hands.idle()
    hands.press("Escape")
    hands.desk("Check")
    hands.page.get_by_role("radiogroup", name="all dimensions").get_by_text("lower").click()
    hands.idle()
    hands.press("x")
    hands.page.get_by_role("button", name="through the joint").click()


def first_print(hands: Hands) -> None:
    lay_hopper(hands)
    hands.page.locator("[data-print]").click()
    hands.page.locator("[data-underway]").wait_for()
    hands.page.locator("[data-underway]").wait_for(state="detached", timeout=60_000)
    hands.desk("Learn")
    hands.page.locator('[data-item="print 1"]').click()
    hands.page.locator("[data-try]").click()
    hands.page.locator("[data-verdict] ul").wait_for()


def trial(hands: Hands) -> None:
    """A print that is too tight, and its readings."""
    first_print(hands)
    hands.page.locator("[data-read-all]").click()
    hands.page.locator("[data-reading]").first.wait_for()


def learn(hands: Hands) -> None:
    """What a print and a coupon teach, and the correction that follows."""
    trial(hands)
    hands.page.locator('[data-item="Size coupon"]').click()
    hands.page.locator("[data-print-coupon]").click()
    hands.page.locator("[data-underway]").wait_for()
    hands.page.locator("[data-underway]").wait_for(state="detached", timeout=60_000)
    hands.page.locator("[data-read-all]").click()
    hands.page.locator("[data-reading]").first.wait_for()
    hands.page.locator('[data-item="printer"]').click()


def dark(hands: Hands) -> None:
    hands.page.get_by_role("button", name="dark colours").click()
    hands.desk("Join")


VIEWS: dict[str, Callable[[Hands], None]] = {
    "shape": shape, "trying-a-figure": scrub, "next-step": palette, "board": board, "shaping": shaping, "drawing": drawing,
    "picking": picking, "refusal": refusal, "join": join, "cut": cut, "reading": reading, "check": check, "limits": limits, "print": printing,
    "layers": layers, "trial": trial, "learn": learn, "dark": dark,
}  # fmt: skip


def group(hands: Hands, name: str) -> None:
    """A part for each step of a group."""
    made = hands.page.request.post(f"{hands.base}/api/projects/import", data=dump(GROUPS[name]()).encode())
    id = made.json()["id"]
    hands.page.goto(f"{hands.base}/p/{id}")
    hands.page.locator("#stage").wait_for()
    hands.idle()


def samples() -> None:
    """The small pictures of the samples on the start page."""
    for name, sample in SAMPLES.items():
        (ROOT / "src" / "dovejoint" / "sample" / "pictures" / f"{name}.png").write_bytes(pictured(sample.make()))
        print(f"src/dovejoint/sample/pictures/{name}.png")


def main() -> None:
    samples()
    # the list of projects first, while it holds only the sample
    wanted = sys.argv[1:] or ["start", *VIEWS, *GROUPS]
    with tempfile.TemporaryDirectory() as data, sync_playwright() as playwright:
        words = [sys.executable, "-m", "dovejoint.cli", "serve", "--port", "0", "--data", data]
        words += ["--dist", str(ROOT / "frontend" / "dist"), "--with-sample"]
        server = subprocess.Popen(words, stdout=subprocess.PIPE, text=True, cwd=ROOT)
        assert server.stdout is not None
        address = server.stdout.readline().split()[-1].rstrip("/")
        browser = playwright.chromium.launch(executable_path=browser_program())
        try:
            for name in wanted:
                context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
                page = context.new_page()
                hands = Hands(page, address)
                page.goto(address)
                if name == "start":
                    page.get_by_role("heading", name="Projects").wait_for()
                    page.wait_for_function(
                        "() => document.querySelectorAll('li img').length > 2 && [...document.querySelectorAll('li img')].every((i) => i.naturalWidth)"
                    )
                else:
                    page.get_by_role("button", name="begin from the sample: Window bird feeder").click()
                    page.locator("#stage").wait_for()
                    hands.idle()
                    VIEWS[name](hands) if name in VIEWS else group(hands, name)
                    hands.idle()
                folder = "shaping" if name in GROUPS else "screenshots"
                page.screenshot(path=ROOT / "docs" / folder / f"{name}.png")
                print(f"docs/{folder}/{name}.png")
                context.close()
        finally:
            browser.close()
            server.terminate()
            server.wait()


if __name__ == "__main__":
    main()
