"""A real server and a real browser for the tests of the interface."""

from __future__ import annotations

from collections.abc import Generator, Iterator
from pathlib import Path

import pytest
from hands import Hands, browser_program
from playwright.sync_api import Browser, BrowserContext, Page, ViewportSize, expect, sync_playwright
from served import Server

# a busy machine may take its time; what is waited for is a state
expect.set_options(timeout=20_000)
ROOT = Path(__file__).parents[2]
WINDOW: ViewportSize = {"width": 1280, "height": 800}
FAILED = pytest.StashKey[bool]()
SAID = """() => ['[role=status]', '[role=alert]', '[role=dialog]', '[aria-pressed=true]', ':focus']
  .flatMap((s) => [...document.querySelectorAll(s)].map((e) => s + ' ' + e.innerText.slice(0, 200))).join('\\n')"""


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        made = playwright.chromium.launch(executable_path=browser_program())
        yield made
        made.close()


@pytest.fixture(scope="session")
def standing(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """One server for all files of a worker: its kernels are warm, and keep the shapes of the samples."""
    made = Server(tmp_path_factory.mktemp("data"), ROOT / "frontend" / "dist")
    yield made
    made.stop()


@pytest.fixture(scope="module")
def server(standing: Server) -> Iterator[Server]:
    yield standing
    for project in standing.call("/projects"):  # each file begins with an empty list
        standing.fetch(f"/projects/{project['id']}", method="DELETE")


def _context(browser: Browser) -> BrowserContext:
    made = browser.new_context(viewport=WINDOW, reduced_motion="reduce", accept_downloads=True)
    made.set_default_timeout(20_000)
    return made


@pytest.fixture
def context(browser: Browser) -> Iterator[BrowserContext]:
    """One of its own, for tests that change what a page hears of the world."""
    made = _context(browser)
    yield made
    made.close()


@pytest.fixture(scope="module")
def opened(browser: Browser) -> Iterator[list[Page]]:
    """The page that the tests of a file share, as a person has one open all day; loading it is what takes longest. None where one left it in trouble."""
    made: list[Page] = []
    yield made
    for page in made:
        page.context.close()


@pytest.fixture
def page(request: pytest.FixtureRequest, browser: Browser, opened: list[Page]) -> Iterator[Page]:
    if "context" in request.fixturenames:
        yield request.getfixturevalue("context").new_page()
        return
    if not opened:
        opened.append(_context(browser).new_page())
    (page,) = opened
    yield page
    if request.node.stash.get(FAILED, False) or page.is_closed() or len(page.context.pages) > 1:
        opened.clear()
        page.context.close()
        return
    page.evaluate("() => (localStorage.clear(), sessionStorage.clear())")
    page.set_viewport_size(WINDOW)


@pytest.fixture
def hands(page: Page, server: Server) -> Iterator[Hands]:
    made = Hands(page, server.address)
    yield made
    assert not made.complaints, made.complaints


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item) -> Generator[None, pytest.TestReport, pytest.TestReport]:
    """What a page said when its test failed: states, refusals and where the keyboard was."""
    report = yield
    page = getattr(item, "funcargs", {}).get("page")
    item.stash[FAILED] = item.stash.get(FAILED, False) or report.failed
    if report.failed and page is not None and not page.is_closed():
        report.sections.append(("what the page said", page.evaluate(SAID)))
    return report
