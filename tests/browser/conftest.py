"""A real server in a thread, Debian's Chromium, and a lab that works on the same data."""

from __future__ import annotations

import os
import shutil
import time

import pytest
from playwright.sync_api import Browser, Error, Page, expect

from setback.demo import DEMO_NOW
from setback.store.maintenance import copy_to
from tests.api.test_blends import KELP, SLATE
from tests.conftest import MovedClock
from tests.server import Live, Server

# A slow machine is slow, not red.
expect.set_options(timeout=30_000)


QUIET = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]
# Counts what the page asks the server for, so that a test can tell when it has its answers.
COUNTING = """
window.asked = 0;
window.answeredAt = 0;
window.asking = [];
const plain = window.fetch;
window.fetch = (...given) => {
  window.asked += 1;
  const [what, how] = given;
  const method = what.method ?? how?.method ?? "GET";
  if (method !== "GET") window.asking.push(new URL(what.url ?? what, location.href).pathname);
  return plain(...given).finally(() => {
    window.asked -= 1;
    window.answeredAt = performance.now();
  });
};
"""
WORKING_AS_IM = "localStorage.setItem('setback.technician', 'IM');" + COUNTING
QUIET_MS = 150


def chromium() -> str:
    """Debian's Chromium without a screen, which starts and draws faster; else the whole one."""
    names = ("chromium-headless-shell", "chromium", "chromium-browser")
    found = next((path for name in names if (path := shutil.which(name))), None)
    assert found, "Chromium is missing: run make test, or apt-get install chromium"
    return found


def until(page: Page, expression: str, timeout_ms: float = 30_000) -> None:
    """Wait until an expression holds on the page. Playwright's own way runs it as text in the page, which no page of ours allows."""
    deadline = time.monotonic() + timeout_ms / 1000
    while not page.evaluate(expression):
        if time.monotonic() > deadline:
            raise TimeoutError(f"It never came true: {expression}")
        page.wait_for_timeout(40)


def settle(page: Page) -> None:
    """Wait until the page has a heading and all its answers, and has asked for nothing more for a while."""
    expect(page.get_by_role("heading").first).to_be_visible()
    until(page, f"window.asked === 0 && performance.now() - window.answeredAt > {QUIET_MS}")


PHONE = os.environ.get("SETBACK_PHONE") == "1"
"""All of it at the width of a phone, where somebody wants to look; the walks are written for both."""
VIEWPORT = {"width": 390, "height": 844} if PHONE else {"width": 1280, "height": 800}


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {**browser_type_launch_args, "executable_path": chromium(), "args": QUIET}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {
        **browser_context_args,
        "viewport": VIEWPORT,
        "reduced_motion": "reduce",
        "locale": "en-GB",
        # A worker outlives its test; those that need one have a browser of their own.
        "service_workers": "block",
    }


@pytest.fixture
def empty(tmp_path, empty_lab, prepared):
    copy_to(empty_lab, tmp_path / "lab.db")
    server = Server(tmp_path / "lab.db", MovedClock(), prepared)
    live = server.live()
    live.lab.post("/api/technicians", {"initials": "IM"}, 201)
    yield live
    server.leave()


@pytest.fixture(scope="module")
def demo(built_demo, tmp_path_factory):
    """Skerry Point, shared by the tests of a module that only look."""
    path = tmp_path_factory.mktemp("live") / "demo.db"
    copy_to(built_demo, path)
    clock = MovedClock()
    clock.now = DEMO_NOW
    server = Server(path, clock)
    yield server.live()
    server.leave()


@pytest.fixture
def morning(built_demo, tmp_path):
    """Skerry Point on its cold morning, with the clock at hand."""
    copy_to(built_demo, tmp_path / "demo.db")
    clock = MovedClock()
    clock.now = DEMO_NOW
    server = Server(tmp_path / "demo.db", clock)
    yield server.live(), clock
    server.stop()


@pytest.fixture(scope="session")
def kept_page(browser: Browser, browser_context_args) -> Page:
    """One page for all tests of a worker, which keeps the compiled scripts; a context for each test costs twice as much."""
    page = browser.new_context(**browser_context_args).new_page()
    page.add_init_script(WORKING_AS_IM)
    return page


@pytest.fixture
def as_im(kept_page: Page, browser_context_args) -> Page:
    """A page at which IM works, with nothing of earlier tests; anything the page logs as an error fails the test."""
    page = kept_page
    page.set_viewport_size(browser_context_args["viewport"])
    errors: list[str] = []

    def keep(error: Error) -> None:
        errors.append(str(error))

    page.on("pageerror", keep)
    yield page
    page.remove_listener("pageerror", keep)
    page.unroute_all(behavior="ignoreErrors")
    for other in page.context.pages:
        if other is not page:
            other.close()
    if page.url.startswith("http"):
        page.evaluate("() => { localStorage.clear(); sessionStorage.clear(); }")
    page.goto("about:blank")
    assert not errors, errors


def calibration_id(live: Live, code: str) -> str:
    return next(c["id"] for c in live.lab.get("/api/calibrations")["items"] if c["code"] == code)


@pytest.fixture
def issued_lab(empty):
    """A lab with a card, which tests and blends begin from, and a second resin with its bottle."""
    lab = empty.lab
    lab.issue(lab.decided())
    slate = lab.get("/api/resins")["items"][0]
    lab.put(f"/api/resins/{slate['id']}", SLATE | {"version": slate["version"]})
    kelp = lab.post("/api/resins", KELP, 201)["id"]
    lab.post("/api/bottles", {"material_id": kelp, "lot": "KE-7", "volume_ml": 500}, 201)
    lab.post("/api/reference-materials", {"name": "Sawn sheet", "what": "4 mm sheet, sawn"}, 201)
    return empty
