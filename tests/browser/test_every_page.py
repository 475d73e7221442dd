"""Every page, and what opens over it: nothing serious for axe in either theme, and nothing that scrolls sideways."""

import re
from collections.abc import Callable, Iterator
from pathlib import Path

import axe_playwright_python
import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import WORKING_AS_IM, settle, until
from tests.plans import solved_here

AXE = Path(axe_playwright_python.__file__).parent / "axe.min.js"
# Rows and cards beyond the eighth of a kind are made by the same lines as those before them.
ALIKE = ["tbody tr:nth-child(n+9)", ".tray > li:nth-child(n+9)"]
# Text that stands in the same tags with the same classes and states looks the same: contrast, the dearest of all rules, is asked of the first.
FIRST_ALIKE = """() => {
  const told = ['class', 'style', 'type', 'role', 'disabled', 'fill', 'stroke'];
  const paths = new WeakMap();
  const path = (one) => {
    if (!paths.has(one)) {
      const states = [...one.attributes].filter((a) => told.includes(a.name) || /^(data-|aria-(current|selected|pressed|expanded|invalid|disabled))/.test(a.name));
      const own = one.localName + states.map((a) => `[${a.name}=${a.value}]`).sort().join('');
      paths.set(one, (one.parentElement ? path(one.parentElement) + '>' : '') + own);
    }
    return paths.get(one);
  };
  const seen = new Set();
  for (const one of document.body.querySelectorAll('*')) {
    const says = [...one.childNodes].some((n) => n.nodeType === 3 && n.data.trim()) || ['INPUT', 'SELECT', 'TEXTAREA'].includes(one.tagName);
    one.toggleAttribute('data-first-alike', says && !seen.has(path(one)));
    if (says) seen.add(path(one));
  }
}"""
ASK_THE_FIRST = "axe.configure({rules: [{id: 'color-contrast', selector: '[data-first-alike]'}]})"
RUN_AXE = f"async (options) => (await axe.run({{exclude: {[[one] for one in ALIKE]}}}, options)).violations"
GO = "(place) => { history.pushState({}, '', place); dispatchEvent(new PopStateEvent('popstate')) }"
# Everything near the field that a person would take for saving; what only opens or leads elsewhere is let be.
TRY_TO_SAVE = """async (field) => {
  const near = field.form ?? field.closest('.modal, .offcanvas') ?? document.querySelector('main');
  for (const one of near.querySelectorAll('button[type=submit], button.btn-primary')) if (!one.disabled) one.click();
  await new Promise((done) => setTimeout(done, 20)); // What is sent is sent a moment later.
  return [field.classList.contains('is-invalid'), window.asking.splice(0)];
}"""
LABEL_AND_VALUE = "(one) => [one.labels?.[0]?.textContent ?? one.getAttribute('aria-label') ?? one.id, one.value]"

PAGES = {
    "board": "/board",
    "resins": "/shelf/resins",
    "bottles": "/shelf/bottles",
    "printers": "/shelf/printers",
    "finish routes": "/shelf/finish-routes",
    "wash baths": "/shelf/wash-baths",
    "settings in use": "/shelf/in-use",
    "one set of settings in use": "/shelf/in-use/U-001",
    "entering settings in use": "/shelf/in-use/new",
    "another workshop's sets": "/shelf/in-use/borrow",
    "second opinion": "/calibrate/opinion",
    "practice": "/practice",
    "gauge studies": "/practice/studies",
    "planning a gauge study": "/practice/studies/new",
    "own coupons": "/shelf/coupons/own",
    "describing an own coupon": "/shelf/coupons/own/new",
    "a table from before": "/shelf/in-use/table",
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
    "a guide": "/printers/{Gannet}/guides/leak",
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
    "at the bench": "/at-hand",
    "instruments": "/lab/instruments",
    "waiting entries": "/waiting",
    "open formats": "/qualify/open-formats",
    "a trace": "/climate?span=week",
    "an import": "/climate/import",
    "a warm start": "/climate/warm-start",
    "flow": "/climate/flow",
    "exposure against temperature": "/climate/exposure",
    "success against temperature": "/climate/success",
    "log": "/log",
    "a print to start": "/log/new",
    "a print to log": "/log/new?done",
    "a print": "/log/J-005",
    "what prints tell": "/log/evidence",
    "all traces": "/log/why",
    "why it failed": "/log/why/Y-005",
    "a planned day": "/plan",
    "a planned week": "/plan?show=week",
    "a plan as a list": "/plan?show=list",
    "this lab": "/lab",
    "people": "/lab/people",
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


# What is asked by POST because it is long, and keeps nothing.
ONLY_ASKED = re.compile(r"/(preview|quote|index|reach)$|^/api/calculators/|^/api/poured-about$")


@pytest.fixture(scope="module")
def ids(demo) -> dict[str, str]:
    """What addresses are made of: ids by name or code. A plan is made on the way, for its page."""
    with pytest.MonkeyPatch.context() as patch:
        solved_here(patch)
        demo.lab.ended(demo.lab.post("/api/plan/make", {}, 201))
    named = {row["name"]: row["id"] for kind in ("printers", "resins") for row in demo.lab.get(f"/api/{kind}")["items"]}
    return named | {row["code"]: row["id"] for row in demo.lab.get("/api/calibrations")["items"]}


@pytest.fixture(scope="module")
def visitor(demo, browser, browser_context_args) -> Iterator[Page]:
    """One page that walks through the whole app, so that it and axe are loaded once."""
    context = browser.new_context(**browser_context_args)
    page = context.new_page()
    page.add_init_script(WORKING_AS_IM)
    page.goto(demo.url)
    yield page
    context.close()


@pytest.fixture
def visit(visitor: Page, ids: dict[str, str]) -> Iterator[Callable[[str], Page]]:
    """Go to a page of the app as a link in it would; an error of the page fails the test."""
    errors: list[str] = []

    def failed(error: object) -> None:
        errors.append(str(error))

    def go(place: str) -> Page:
        visitor.set_viewport_size({"width": 1280, "height": 800})
        visitor.keyboard.press("Escape")
        visitor.evaluate(GO, "/nowhere")
        expect(visitor.get_by_text("There is no page at ")).to_be_visible()
        visitor.evaluate(GO, place.format_map(ids))
        settle(visitor)
        return visitor

    visitor.on("pageerror", failed)
    yield go
    visitor.remove_listener("pageerror", failed)
    assert not errors, errors


def serious(page: Page) -> dict[str, list]:
    """What axe finds serious, by theme. The other theme is the same page in other colours: only those are asked about."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text(encoding="utf-8"))
        page.evaluate(ASK_THE_FIRST)
    page.evaluate(FIRST_ALIKE)
    found = {}
    for theme, rules in (("safelight", {"runOnly": {"type": "rule", "values": COLOURS}}), ("light", {})):
        page.evaluate("(theme) => { document.documentElement.dataset.bsTheme = theme }", theme)
        until(page, "document.getAnimations().every((one) => one.playState !== 'running')")
        found[theme] = axe(page, rules)
    return {name: faults for name, faults in found.items() if faults}


def axe(page: Page, options: dict) -> list:
    """Serious violations: the rule, and the first elements with what is wrong."""
    violations = page.evaluate(RUN_AXE, {"resultTypes": ["violations"], "preload": False, **options})
    return [
        (v["id"], [n["html"][:120] + " | " + (n["failureSummary"] or "")[:160] for n in v["nodes"][:3]])
        for v in violations
        if v["impact"] in ("serious", "critical")
    ]


def too_wide(page: Page) -> dict[int, int]:
    """By how much the page is wider than the screen, where it is."""
    wide = {}
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 844})
        try:  # Drawings follow their width a frame or two later.
            until(page, f"{OVER} <= 0", 10_000)
        except TimeoutError:
            wide[width] = page.evaluate(OVER)
    return wide


def saved_as_nothing(page: Page) -> list[str]:
    """Fields of this page whose number cannot be read, and yet something was sent when a person tried to save.

    Every field is tried: by Enter in it, and by every button that saves from where it stands.
    """
    kept = []
    page.evaluate("window.asking = []")
    for field in page.locator("input[inputmode=decimal]:enabled:visible").all():
        label, before = field.evaluate(LABEL_AND_VALUE)
        field.fill("2l.5 °C")
        field.press("Enter")
        says, asked = field.evaluate(TRY_TO_SAVE)
        assert says, f"{label} does not say that it cannot be read"
        sent = [one for one in asked if not ONLY_ASKED.search(one)]
        kept += [f"{label}: {one}" for one in sent]
        field.fill(before)
    return kept


@pytest.mark.parametrize("name", PAGES)
def test_a_page_opens_without_an_error_and_fits_every_width(visit, name):
    assert not too_wide(visit(PAGES[name]))


@pytest.mark.long
@pytest.mark.parametrize("name", PAGES)
def test_a_page_is_sound_in_both_themes_and_saves_no_unreadable_number(visit, name):
    page = visit(PAGES[name])
    assert not serious(page)
    assert not saved_as_nothing(page)


@pytest.mark.long
@pytest.mark.parametrize("name", OPENED)
def test_what_opens_is_sound_in_both_themes_and_saves_no_unreadable_number(visit, name):
    place, button = OPENED[name]
    page = visit(place)
    page.get_by_role("button", name=button).first.click()
    expect(page.locator(".modal.show, .offcanvas.show, .dropdown-menu.show")).to_be_visible()
    assert not serious(page)
    assert not saved_as_nothing(page)


@pytest.mark.parametrize("place", ["/log", "/qualify", "/test/properties", "/board", "/lab/activity"])
def test_a_page_on_paper_loses_no_column(demo, as_im: Page, place: str):
    """A4 within its margins: everything a table holds lies inside the sheet, and no bar of the app is on it."""
    page = as_im
    page.goto(demo.url + place)
    settle(page)
    page.emulate_media(media="print")
    # A page with a table is printed lengthwise by itself.
    is_lengthwise = page.locator("table.data-table, .data-table table").count() > 0
    page.set_viewport_size({"width": 1020 if is_lengthwise else 700, "height": 1400})
    cut = page.evaluate(
        """() => [...document.querySelectorAll('main table')].filter((table) =>
            table.getBoundingClientRect().right > innerWidth + 1).map((table) => table.getAttribute('aria-label'))"""
    )
    bars = page.evaluate(
        "['.topbar', '.keybar'].filter((one) => getComputedStyle(document.querySelector(one)).display !== 'none')"
    )
    page.emulate_media(media="screen")
    assert cut == [] and bars == []


def test_a_drawing_is_drawn_for_the_sheet_and_for_the_screen_again(demo, as_im: Page):
    """Scaled down with its page its words could not be read."""
    page = as_im
    page.goto(demo.url + "/climate?span=week")
    settle(page)
    width = "document.querySelector('.trace-plot svg').clientWidth"
    on_screen = page.evaluate(width)
    page.evaluate("dispatchEvent(new Event('beforeprint'))")
    on_paper = page.evaluate(width)
    page.evaluate("dispatchEvent(new Event('afterprint'))")
    until(page, f"{width} === {on_screen}")
    assert 500 < on_paper <= 690 < on_screen
