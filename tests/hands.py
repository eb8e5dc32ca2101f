"""What a person does with mouse and keyboard, for the browser tests and for the pictures in docs/."""

from __future__ import annotations

import os
import re
import shutil
from typing import Any

from playwright.sync_api import Locator, Page, TimeoutError, expect

__all__ = ["Hands", "browser_program", "focus", "kept", "width", "write"]

#: goes home within a page, and says whether it could
HOME = """() => {
  if (!window.__test || document.documentElement.dataset.theme === 'dark') return false
  history.pushState(null, '', '/')
  window.dispatchEvent(new PopStateEvent('popstate'))
  return true
}"""
#: noise of the software renderer that says nothing about the application
_NOISE = ("GL Driver", "GPU stall", "WebGL: INVALID", "Failed to load resource")


def browser_program() -> str:
    """Debian's Chromium: the one without a window where it is there, which is quicker."""
    found = [shutil.which(name) for name in ("chromium-headless-shell", "chromium")]
    program = os.environ.get("DOVE_CHROMIUM") or next(filter(None, found), None)
    assert program, "install Debian's package chromium-headless-shell"
    return program


class Hands:
    """Drives one page. Waits for states, never for times."""

    def __init__(self, page: Page, base: str) -> None:
        self.page = page
        self.base = base
        self.complaints: list[str] = []
        page.on("console", self._heard)
        page.on("pageerror", lambda error: self.complaints.append(str(error)))

    def _heard(self, message: Any) -> None:
        if message.type == "error" and not any(n in message.text for n in _NOISE):
            self.complaints.append(message.text)

    # ---- waiting -----------------------------------------------------------------------------------------------

    def idle(self) -> None:
        """Wait until nothing is asked for, worked out or drawn any more."""
        self._settled()

    def made(self) -> None:
        """Wait until the model is there whole and drawn; gaps and checks may still be measured on it, as a person goes on meanwhile."""
        self._settled("made")

    def _settled(self, until: str = "") -> None:
        self.page.wait_for_function("() => !!window.__test")
        # a machine that does much else may take a while; what is waited for is the state
        calm = self.page.evaluate("made => window.__test.idle(90_000, made)", bool(until))
        assert calm, self.page.evaluate("() => window.__test.unsettled()")

    def state(self) -> Any:
        """What the page knows, once nothing is worked out any more."""
        self.idle()
        return self.page.evaluate("() => window.__test.state()")

    # ---- going about -------------------------------------------------------------------------------------------

    def start(self) -> None:
        """The list of projects: by going home where the page is there already, in the light it began in."""
        if self.page.url.startswith(self.base) and self.page.evaluate(HOME):
            self.page.wait_for_function("() => !window.__test.state().project")
        else:
            self.page.goto(f"{self.base}/")
        self.page.get_by_role("heading", name="Projects").wait_for()

    def begin(self, name: str) -> None:
        """A new, empty project."""
        self.start()
        self.page.get_by_label("New project").fill(name)
        self.page.get_by_role("button", name="Begin", exact=True).click()
        self.page.locator("#stage").wait_for()
        self.made()

    def sample(self) -> None:
        """A new project from the sample."""
        self.start()
        self.page.get_by_role("button", name="begin from the sample: Window bird feeder").click()
        self.page.locator("#stage").wait_for()
        self.idle()

    def desk(self, name: str) -> None:
        self.page.get_by_role("navigation", name="desks").get_by_role("button", name=name).click()

    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)

    def type(self, text: str) -> None:
        self.page.keyboard.type(text)

    # ---- values ------------------------------------------------------------------------------------------------

    def value(self, name: str, formula: str) -> None:
        """Add a value with the mouse."""
        if not self.page.get_by_label("name of the new value").is_visible():
            self.page.get_by_role("button", name="+ value").click()
        self.page.get_by_label("name of the new value").fill(name)
        self.page.get_by_label("formula of the new value").fill(formula)
        self.page.get_by_label("formula of the new value").press("Enter")
        self.page.locator(f"[data-value={name}]").wait_for()

    def set(self, name: str, formula: str) -> None:
        """Change a value."""
        self.page.locator(f"[data-value={name}] .chip").click()
        field = self.page.locator(f"[data-value={name}] input:not([data-tolerance])")
        field.fill(formula)
        field.press("Enter")
        field.wait_for(state="detached")
        self.made()

    # ---- the recipe --------------------------------------------------------------------------------------------

    def step(self, title: str, after: int | None = None) -> None:
        """Begin the sentence of a new step from the palette."""
        if after is None:
            self.page.get_by_role("button", name="Next step").click()
        else:
            row = self.sentence(after)
            row.hover()
            row.get_by_role("button", name=re.compile("^what to do")).click()
            self.page.get_by_role("menuitem", name="Insert a step after this").click()
        self.page.get_by_role("option", name=re.compile(f"^{title}")).first.click()
        self.page.locator("[data-step=draft]").wait_for()

    def sentence(self, number: int) -> Locator:
        """A step of the recipe by its number."""
        return self.page.get_by_role("list", name="recipe").locator("[data-step]").nth(number - 1)

    @property
    def draft(self) -> Locator:
        return self.page.locator("[data-step=draft]")

    def keep(self) -> None:
        self.draft.get_by_role("button", name="keep").click()
        self.draft.wait_for(state="detached")
        self.made()

    def chip(self, field: str, row: Locator | None = None) -> Locator:
        return (row or self.draft).locator(f'[data-chip="{field}"]')

    def figure(self, field: str, formula: str, row: Locator | None = None) -> None:
        """Type a formula into a chip and take it; come back when it was taken or refused."""
        self.open(field, row)
        step = row or self.draft
        box = step.locator("[data-sheet] input:not([data-tolerance])")
        box.fill(formula)
        box.press("Enter")
        # the trial of a figure is said before its Enter is answered: what comes next must not meet the old sheet
        closed = step.locator(f'[data-chip="{field}"]:not([aria-expanded="true"])')
        expect(closed.or_(step.get_by_role("alert")).first).to_be_visible()

    def open(self, field: str, row: Locator | None = None) -> None:
        chip = self.chip(field, row)
        if chip.get_attribute("aria-expanded") != "true":
            chip.click()

    def choose(self, field: str, word: str, row: Locator | None = None) -> None:
        """Answer a choice chip."""
        self.open(field, row)
        self.made()
        (row or self.draft).get_by_role("radio", name=word, exact=True).click()

    def offer(self, words: str, row: Locator | None = None) -> None:
        """Take one of the ready answers of an open pick chip, once the list holds still."""
        self.made()
        (row or self.draft).locator("[data-sheet]").get_by_role("button", name=words).first.click()

    def down_to(self, text: str) -> None:
        """With the arrow keys, go down a list of buttons (or back up) to the one with a text."""
        for key in ["ArrowDown"] * 40 + ["ArrowUp"] * 40:
            if self.page.evaluate("() => document.activeElement.textContent") == text:
                return
            self.press(key)
        raise AssertionError(f"the keyboard does not come to “{text}”")

    def block(self, width: str = "60 mm", height: str = "40 mm", tall: str = "10 mm") -> None:
        """Two steps: a rectangle round the middle of the ground, and a part of it."""
        self.step("Sketch")
        self.keep()
        self.draw("rectangle", width=width, height=height)
        self.leave_board()
        self.step("Extrude")
        self.figure("distance", tall)
        self.keep()

    def shave(self, part: str, face: str, width: str, height: str, depth: str) -> None:
        """Two steps: a rectangle on a face that is in sight, cut so deep into its part."""
        self.step("Sketch")
        self.open("plane")
        self.face(part, face)
        self.keep()
        self.draw("rectangle", width=width, height=height)
        self.leave_board()
        self.step("Extrude")
        self.choose("operation", "and cut it from")
        self.choose("direction", "down")
        self.figure("distance", depth)
        self.keep()

    def call(self, name: str) -> None:
        """Name the part that the draft makes."""
        self.open("part")
        self.draft.get_by_label("name of the part").fill(name)
        self.draft.get_by_label("name of the part").press("Enter")

    # ---- the stage ---------------------------------------------------------------------------------------------

    def view(self, name: str) -> None:
        self.page.get_by_role("toolbar", name="views").get_by_role("button", name=name, exact=True).click()
        self.made()

    def face(self, part: str, name: str) -> None:
        """Click on a face, found by its name or by how its label begins, where it can really be hit."""
        self._click("facePoint", part, name)

    def edge(self, part: str, index: int) -> None:
        self._click("edgePoint", part, index)

    def edges(self, part: str) -> list[Any]:
        found: list[Any] = self.page.evaluate("p => window.__test.edges(p)", part)
        return found

    def _click(self, hook: str, part: str, what: str | int) -> None:
        self.made()
        place = self.page.evaluate("([h, p, w]) => window.__test[h](p, w)", [hook, part, what])
        assert place, f"nothing of {what} on {part} can be pointed at from here"
        self.page.mouse.move(place["x"], place["y"])
        self.page.mouse.click(place["x"], place["y"])

    def hide(self, part: str) -> None:
        self.page.get_by_role("button", name=f"hide {part}").click()
        self.made()

    def show(self, part: str) -> None:
        self.page.get_by_role("button", name=f"show {part}").click()
        self.made()

    # ---- the board ---------------------------------------------------------------------------------------------

    def tool(self, name: str, way: str = "") -> None:
        """Take a tool of the board's tray, and the way of it that is meant."""
        tray = self.page.get_by_role("toolbar", name="board tools")
        tray.get_by_role("button", name=name).first.click()
        if way:
            tray.get_by_role("radio", name=way).click()

    def on_board(self, x: float, y: float, z: float = 0.0) -> None:
        """Click on the board at a place of the world."""
        self.made()
        place = self.page.evaluate("([x, y, z]) => window.__test.project(x, y, z)", [x, y, z])
        self.page.mouse.move(place["x"], place["y"])
        self.page.mouse.click(place["x"], place["y"])

    def path(self, *places: tuple[float, float]) -> None:
        """Draw lines from place to place, closing on the first."""
        self.tool("line")
        for x, y in (*places, places[0]):
            self.on_board(x, y)
            self.made()
        self.press("Escape")

    def drawing(self) -> Any:
        """The sketch on the board, as the document has it."""
        state = self.state()
        return next(s for s in state["project"]["document"]["recipe"] if s["id"] == state["board"])["fields"]["sketch"]

    def draw(self, tool: str, **figures: str) -> None:
        """Draw by figures, written into the tray: ``width``, ``height``, ``diameter``, ``centre x`` …"""
        self.tool(tool)
        tray = self.page.get_by_role("toolbar", name="board tools")
        for label, formula in figures.items():
            tray.get_by_label(label.replace("_", " "), exact=True).fill(formula)
        tray.get_by_role("button", name="draw", exact=True).click()
        self.made()

    def size(self, curve: str, formula: str, share: float = 0.15) -> None:
        """Select a curve of the sketch and give it a dimension."""
        self.select(curve, share=share)
        self.press("d")
        box = self.page.locator("input.field.fig.text-center")
        box.fill(formula)
        box.press("Enter")
        box.wait_for(state="detached")
        self.idle()

    def select(self, curve: str, more: bool = False, share: float = 0.15) -> None:
        """Click on a curve of the board: at a share of its length, or where else no label or mark lies over it."""
        self.page.locator(f'[data-curve="{curve}"]').wait_for(state="attached")
        self.idle()
        place = self.page.evaluate(
            """([id, share]) => {
                const path = document.querySelector(`[data-curve="${id}"] :last-child`)
                const box = path.ownerSVGElement.getBoundingClientRect()
                const places = [share, 0.3, 0.7, 0.2, 0.8, 0.4, 0.6, 0.1, 0.9].map((s) => path.getPointAtLength(path.getTotalLength() * s))
                const screen = places.map((at) => ({x: at.x + box.left, y: at.y + box.top}))
                const free = ({x, y}) => document.elementFromPoint(x, y)?.closest('[data-curve]')?.dataset.curve === id
                return screen.find(free) ?? screen[0]
            }""",
            [curve, share],
        )
        if more:
            self.page.keyboard.down("Shift")
        self.page.mouse.click(place["x"], place["y"])
        if more:
            self.page.keyboard.up("Shift")

    def leave_board(self) -> None:
        self.page.locator("button.strong", has_text="done").click()
        self.page.locator("[data-board]").wait_for(state="detached")
        self.made()

    # ---- prints ------------------------------------------------------------------------------------------------

    def printed(self) -> Locator:
        """Print what lies on the plate, for the first time, and look at it on the Learn desk."""
        self.desk("Print")
        self.page.locator("[data-print]").click()
        self.page.locator("[data-underway]").wait_for(state="detached", timeout=60_000)
        self.desk("Learn")
        self.page.locator('[data-item="print 1"]').click()
        return self.page.locator("[data-page=trial]")

    # ---- gauges ------------------------------------------------------------------------------------------------

    def gauge(self, name: str) -> Locator:
        return self.page.locator(f'[data-gauge="{name}"]')


def width(hands: Hands, part: str) -> float:
    """How wide a part is across, as the report has it, mm."""
    box = next(p for p in hands.state()["report"]["parts"] if p["name"] == part)["bounding_box_mm"]
    return float(box["high"][0] - box["low"][0])


def focus(hands: Hands, selector: str) -> None:
    """Wait until the keyboard is where a person would expect it next."""
    try:
        hands.page.wait_for_function("s => document.activeElement?.matches(s)", arg=selector)
    except TimeoutError as error:
        there = hands.page.evaluate("() => document.activeElement?.outerHTML.slice(0, 400)")
        raise AssertionError(f"the keyboard is not at {selector} but at {there}") from error


def write(hands: Hands, words: str) -> None:
    """The next step, by its key and the first letters of its name."""
    hands.press("n")
    focus(hands, "[role=combobox]")
    hands.type(words)
    hands.press("Enter")
    hands.draft.wait_for()


def kept(hands: Hands) -> None:
    focus(hands, "[data-keep]")
    hands.press("Enter")
    hands.draft.wait_for(state="detached")
    hands.made()


def pixel(page: Page, x: float, y: float, z: float) -> tuple[int, int, int]:
    """The colour on the screen where a place of the world is."""
    found: list[int] = page.evaluate(
        """async ([x, y, z]) => {
            const v = window.__test.viewer()
            v.invalidate()
            await window.__test.idle()
            const at = window.__test.project(x, y, z), box = v.canvas.getBoundingClientRect()
            const k = v.canvas.width / box.width, gl = v.canvas.getContext('webgl2')
            v.drawNow()
            const out = new Uint8Array(4)
            gl.readPixels((at.x - box.left) * k, v.canvas.height - (at.y - box.top) * k, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, out)
            return [...out.slice(0, 3)]
        }""",
        [x, y, z],
    )
    return found[0], found[1], found[2]


def near(colour: tuple[int, int, int], wanted: tuple[int, int, int]) -> bool:
    return all(abs(a - b) < 26 for a, b in zip(colour, wanted, strict=True))
