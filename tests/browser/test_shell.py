"""The shell: keys, finder, initials, themes."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import settle

pytestmark = pytest.mark.long


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
    page.get_by_role("button", name="Check all records…").click()
    expect(
        page.get_by_text(re.compile("7 issued sets, 3 qualifications and .* entries of the journal, none altered."))
    ).to_be_visible()


def test_an_empty_lab_says_what_to_do_on_every_page(empty, as_im: Page):
    page = as_im
    for place, action in (
        ("/board", "Set up my bench"),
        ("/start/records", "Choose a bundle"),
        ("/shelf/resins", "Add a resin"),
        ("/shelf/bottles", "Add a resin"),
        ("/shelf/printers", "Add a printer"),
        ("/shelf/finish-routes", "Add a finish route"),
        ("/calibrate", "Start a calibration"),
        ("/calibrate/new", "Add a resin"),
        ("/nowhere", "To the Board"),
    ):
        page.goto(empty.url + place)
        expect(page.get_by_role("main").get_by_text(action, exact=True).first).to_be_visible()
