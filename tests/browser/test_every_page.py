"""Every page, and what opens over it: nothing serious for axe in either theme, and nothing that scrolls sideways."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, TimeoutError, expect

from tests.browser.conftest import settle

PAGES = {
    "board": "/board",
    "resins": "/shelf/resins",
    "bottles": "/shelf/bottles",
    "printers": "/shelf/printers",
    "finish routes": "/shelf/finish-routes",
    "coupons": "/shelf/coupons",
    "a coupon": "/shelf/coupons/flat",
    "a printer": "/printers/{Gannet}",
    "a plate": "/shelf/printers/{Gannet}/plate",
    "a material": "/materials/{Hullform}",
    "two versions": "/sets/S-006?with=S-005",
    "poured by eye": "/blend/after",
    "a form": "/shelf/printers?new=1",
    "calibrations": "/calibrate",
    "a new calibration": "/calibrate/new",
    "depth": "/calibrate/{C-006}?step=depth",
    "first layer": "/calibrate/{C-003}?step=first-layer",
    "refine": "/calibrate/{C-006}?step=refine",
    "decide": "/calibrate/{C-003}?step=decide",
    "conflict": "/calibrate/{C-004}?arm=1&step=decide",
    "confirm": "/calibrate/{C-003}?step=confirm",
    "issue": "/calibrate/{C-003}?step=issue",
    "a reading": "/coupons/104R",
    "a planned coupon": "/coupons/148T",
    "a card": "/sets/S-001",
    "tests": "/test",
    "a test": "/test/T-001",
    "a test at the bench": "/test/T-005",
    "a specimen": "/test/T-005/T-005-201",
    "a plan of a test": "/test/new",
    "briefs": "/test/briefs",
    "side by side": "/test/properties",
    "vats": "/blend",
    "a vat": "/blend/vat/{Gannet}",
    "recipes": "/blend/recipes",
    "a recipe": "/blend/new",
    "a batch": "/blend/batches/M-002",
    "all series": "/blend/series",
    "a series": "/blend/series/G-001",
    "qualify": "/qualify",
    "candidates": "/qualify/A-006",
    "a verdict": "/qualify/A-002/S-001",
    "signed": "/qualify/records",
    "a signed record": "/qualify/records/N-001",
    "open formats": "/qualify/open-formats",
    "a trace": "/climate?span=week",
    "an import": "/climate/import",
    "a warm start": "/climate/warm-start",
    "flow": "/climate/flow",
    "exposure against temperature": "/climate/exposure",
    "success against temperature": "/climate/success",
    "log": "/log",
    "a print to log": "/log/new",
}
# Menus and dialogs are not on the page until somebody asks: where, and by which button.
OPENED = {
    "who works": ("/board", "Working as IM"),
    "timers": ("/board", re.compile("^Timers")),
    "the finder": ("/board", "Find anything"),
    "a new resin": ("/shelf/resins", "Add a resin"),
    "a new printer": ("/shelf/printers", "Add a printer"),
    "files of a card": ("/sets/S-001", "Copy or save"),
    "an event": ("/printers/{Gannet}", "Record an event"),
    "more of a calibration": ("/calibrate/{C-003}", "More"),
    "another arm": ("/calibrate/{C-004}?arm=1&step=decide", "Another arm…"),
}
# Axe's rules that a theme can break: all that are about colours and in force by themselves.
COLOURS = ["color-contrast", "link-in-text-block"]
WIDTHS = (390, 768, 1280, 1920)
OVER = "document.documentElement.scrollWidth - document.documentElement.clientWidth"


@pytest.fixture(scope="module")
def ids(demo) -> dict[str, str]:
    """What addresses are made of: ids by name or code."""
    held = {row["name"]: row["id"] for kind in ("printers", "resins") for row in demo.lab.get(f"/api/{kind}")["items"]}
    return held | {row["code"]: row["id"] for row in demo.lab.get("/api/calibrations")["items"]}


def serious(page: Page) -> dict[str, list]:
    """What axe finds serious, by theme. The other theme is the same page in other colours: only those are asked about."""
    found = {}
    for theme, rules in (("light", {}), ("safelight", {"runOnly": {"type": "rule", "values": COLOURS}})):
        page.evaluate("(theme) => { document.documentElement.dataset.bsTheme = theme }", theme)
        page.wait_for_function("document.getAnimations().every((one) => one.playState !== 'running')")
        found[theme] = [
            (v["id"], [n["html"][:120] + " | " + (n["failureSummary"] or "")[:160] for n in v["nodes"][:3]])
            for v in Axe().run(page, options={"resultTypes": ["violations"], **rules}).response["violations"]
            if v["impact"] in ("serious", "critical")
        ]
    return {theme: held for theme, held in found.items() if held}


def too_wide(page: Page) -> dict[int, int]:
    """By how much the page is wider than the screen, where it is."""
    wide = {}
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 844})
        try:  # Drawings follow their width a frame or two later.
            page.wait_for_function(f"{OVER} <= 0", timeout=2000)
        except TimeoutError:
            wide[width] = page.evaluate(OVER)
    return wide


@pytest.mark.parametrize("name", PAGES)
def test_a_page_is_sound_in_both_themes_and_fits_every_width(demo, ids, as_im: Page, name):
    as_im.goto(demo.url + PAGES[name].format_map(ids))
    settle(as_im)
    assert not serious(as_im)
    assert not too_wide(as_im)


@pytest.mark.parametrize("name", OPENED)
def test_what_opens_is_sound_in_both_themes(demo, ids, as_im: Page, name):
    place, button = OPENED[name]
    as_im.goto(demo.url + place.format_map(ids))
    settle(as_im)
    as_im.get_by_role("button", name=button).first.click()
    expect(as_im.locator(".modal.show, .offcanvas.show, .dropdown-menu.show")).to_be_visible()
    assert not serious(as_im)
