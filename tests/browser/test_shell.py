"""The shell: keys, finder, initials, themes, phone width, accessibility."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, TimeoutError, expect

from tests.browser.conftest import calibration_id


def printer_id(live, name: str) -> str:
    return next(p["id"] for p in live.lab.get("/api/printers")["items"] if p["name"] == name)


def material_id(live, name: str) -> str:
    return next(m["id"] for m in live.lab.get("/api/resins")["items"] if m["name"] == name)


def pages(live) -> dict[str, str]:
    return {
        "board": "/board",
        "resins": "/shelf/resins",
        "bottles": "/shelf/bottles",
        "printers": "/shelf/printers",
        "finish routes": "/shelf/finish-routes",
        "coupons": "/shelf/coupons",
        "a coupon": "/shelf/coupons/flat",
        "a printer": f"/printers/{printer_id(live, 'Gannet')}",
        "a plate": f"/shelf/printers/{printer_id(live, 'Gannet')}/plate",
        "a material": f"/materials/{material_id(live, 'Hullform')}",
        "two versions": "/sets/S-006?with=S-005",
        "poured by eye": "/blend/after",
        "a form": "/shelf/printers?new=1",
        "calibrations": "/calibrate",
        "a new calibration": "/calibrate/new",
        "refine": f"/calibrate/{calibration_id(live, 'C-006')}?step=refine",
        "decide": f"/calibrate/{calibration_id(live, 'C-003')}?step=decide",
        "conflict": f"/calibrate/{calibration_id(live, 'C-004')}?arm=1&step=decide",
        "issue": f"/calibrate/{calibration_id(live, 'C-003')}?step=issue",
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
        "a vat": f"/blend/vat/{printer_id(live, 'Gannet')}",
        "recipes": "/blend/recipes",
        "a recipe": "/blend/new",
        "a batch": "/blend/batches/M-002",
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
    }


def settle(page: Page) -> None:
    expect(page.get_by_role("heading").first).to_be_visible()
    page.wait_for_load_state("networkidle")


def serious(page: Page) -> list:
    return [
        (v["id"], [n["html"][:120] + " | " + (n["failureSummary"] or "")[:160] for n in v["nodes"][:3]])
        for v in Axe().run(page, options={"resultTypes": ["violations"]}).response["violations"]
        if v["impact"] in ("serious", "critical")
    ]


@pytest.mark.parametrize("theme", ["light", "safelight"])
def test_axe_finds_nothing_serious(demo, as_im: Page, theme):
    page = as_im
    page.add_init_script(f"localStorage.setItem('setback.theme', '{theme}')")
    found = {}
    for name, place in pages(demo).items():
        page.goto(demo.url + place)
        settle(page)
        found[name] = serious(page)
    assert not {name: held for name, held in found.items() if held}


@pytest.mark.parametrize("theme", ["light", "safelight"])
def test_axe_finds_nothing_serious_in_what_opens(demo, as_im: Page, theme):
    """Menus and dialogs: not on the page until somebody asks."""
    page = as_im
    page.add_init_script(f"localStorage.setItem('setback.theme', '{theme}')")
    calibration = f"/calibrate/{calibration_id(demo, 'C-003')}"
    opened = {
        "who works": ("/board", "Working as IM"),
        "timers": ("/board", re.compile("^Timers")),
        "the finder": ("/board", "Find anything"),
        "a new resin": ("/shelf/resins", "Add a resin"),
        "a new printer": ("/shelf/printers", "Add a printer"),
        "files of a card": ("/sets/S-001", "Copy or save"),
        "an event": (f"/printers/{printer_id(demo, 'Gannet')}", "Record an event"),
        "more of a calibration": (calibration, "More"),
    }
    found = {}
    for name, (place, button) in opened.items():
        page.goto(demo.url + place)
        settle(page)
        page.get_by_role("button", name=button).first.click()
        expect(page.locator(".modal.show, .offcanvas.show, .dropdown-menu.show")).to_be_visible()
        page.wait_for_function("document.getAnimations().every((one) => one.playState !== 'running')")
        found[name] = serious(page)
    assert not {name: held for name, held in found.items() if held}


OVER = "document.documentElement.scrollWidth - document.documentElement.clientWidth"


def test_nothing_scrolls_sideways(demo, as_im: Page):
    page = as_im
    wide = {}
    for name, place in pages(demo).items():
        page.goto(demo.url + place)
        settle(page)
        for width in (390, 768, 1280, 1920):
            page.set_viewport_size({"width": width, "height": 844})
            try:  # Drawings follow their width a frame or two later.
                page.wait_for_function(f"{OVER} <= 0", timeout=2000)
            except TimeoutError:
                wide[name, width] = page.evaluate(OVER)
    assert not wide


def test_keys_go_to_sections_find_and_help(demo, as_im: Page):
    page = as_im
    page.goto(f"{demo.url}/shelf/resins")
    settle(page)
    page.keyboard.press("g")
    page.keyboard.press("b")
    expect(page).to_have_url(re.compile("/board"))
    page.keyboard.press("?")
    help_ = page.get_by_role("dialog")
    expect(help_).to_contain_text("go to Calibrate")
    expect(help_).to_contain_text("calibrate this pair")
    page.keyboard.press("Escape")
    expect(help_).to_have_count(0)
    page.keyboard.press("/")
    box = page.get_by_role("searchbox", name="Find by code or name")
    expect(box).to_be_focused()
    page.keyboard.type("tideg")
    expect(page.get_by_role("list", name="Found")).to_contain_text("Tideglass on Cormorant")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name=re.compile("Tideglass"))).to_be_visible()


def test_a_coupon_code_typed_anywhere_opens_its_reading(demo, as_im: Page):
    page = as_im
    page.goto(f"{demo.url}/board")
    settle(page)
    page.keyboard.type("103n")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name=re.compile("Coupon 103N"))).to_be_visible()


def test_the_board_is_walked_by_keys(demo, as_im: Page):
    page = as_im
    page.goto(f"{demo.url}/board")
    page.get_by_role("link", name=re.compile("^Slate 2 on Cormorant")).focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("link", name=re.compile("^Slate 2 on Gannet"))).to_be_focused()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("c")
    expect(page.get_by_label("Printer", exact=True).locator("option:checked")).to_have_text("Gannet")
    expect(page.get_by_label("Material", exact=True).locator("option:checked")).to_have_text("Rinsewell")
    page.go_back()
    expect(page.get_by_role("heading", name="What can I print with?")).to_be_visible()


def test_initials_are_added_chosen_and_kept(demo, page: Page):
    page.goto(f"{demo.url}/board")
    page.get_by_role("button", name="Choose your initials").click()
    page.get_by_role("button", name="Add initials…").click()
    page.get_by_label("Initials, one to four letters").fill("x9")
    page.get_by_role("button", name="Add and work as these").click()
    expect(page.get_by_text("Give one to four letters.")).to_be_visible()
    page.get_by_label("Initials, one to four letters").fill("kv")
    page.get_by_role("button", name="Add and work as these").click()
    expect(page.get_by_role("button", name="Working as KV")).to_be_visible()
    page.reload()
    expect(page.get_by_role("button", name="Working as KV")).to_be_visible()


def test_safelight_has_no_blue_light(demo, as_im: Page):
    page = as_im
    page.goto(f"{demo.url}/board")
    page.get_by_role("button", name="Working as IM").click()
    page.get_by_role("button", name="Safelight").click()
    expect(page.locator("html")).to_have_attribute("data-bs-theme", "safelight")
    page.keyboard.press("Escape")
    blue = page.evaluate(
        """() => [...document.querySelectorAll('body, body *')].flatMap((element) => {
          const style = getComputedStyle(element);
          return ['color', 'backgroundColor', 'borderTopColor', 'fill', 'stroke'].map((name) => {
            const parts = style[name].match(/[\\d.]+/g)?.map(Number);
            if (!parts || style[name].startsWith('color(') || (parts.length > 3 && parts[3] === 0)) return null;
            const [red, , blueness] = parts;
            return blueness > red + 2 ? `${element.tagName}.${element.getAttribute('class')} ${name} ${style[name]}` : null;
          }).filter(Boolean);
        })"""
    )
    assert not blue, blue


def test_issued_records_are_checked_with_progress(demo, as_im: Page):
    page = as_im
    page.goto(f"{demo.url}/board")
    page.get_by_role("button", name="Working as IM").click()
    page.get_by_role("button", name="Check signed records…").click()
    expect(page.get_by_text("6 issued sets and 3 qualifications, none altered.")).to_be_visible()


def test_retire_is_undone_and_tables_export_what_they_show(empty, as_im: Page):
    page = as_im
    empty.lab.shelf()
    page.goto(f"{empty.url}/shelf/finish-routes")
    page.get_by_role("button", name="Retire Two-bath solvent").click()
    expect(page.get_by_role("button", name=re.compile("^Two-bath solvent"))).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name=re.compile("^Two-bath solvent"))).to_be_visible()
    page.get_by_role("link", name="Resins").click()
    page.get_by_role("searchbox", name="Filter Resins").fill("slate")
    with page.expect_download() as saved:
        page.get_by_role("button", name="Export CSV").click()
    assert "Slate 2,Tidewrack Works" in saved.value.path().read_text()


def test_an_empty_lab_says_what_to_do_on_every_page(empty, as_im: Page):
    page = as_im
    for place, action in (
        ("/board", "Add a printer"), ("/shelf/resins", "Add a resin"), ("/shelf/bottles", "Add a resin"),
        ("/shelf/printers", "Add a printer"), ("/shelf/finish-routes", "Add a finish route"), ("/calibrate", "Start a calibration"),
        ("/calibrate/new", "Add a resin"), ("/nowhere", "To the Board"),
    ):  # fmt: skip
        page.goto(empty.url + place)
        expect(page.get_by_role("main").get_by_text(action, exact=True).first).to_be_visible()
