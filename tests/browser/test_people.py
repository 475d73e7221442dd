"""A workshop in the browser: signing in, changing places, signing, people and devices, and being let in no more."""

from __future__ import annotations

import re
import sqlite3
from contextlib import closing

import pytest
from playwright.sync_api import Page, expect

from setback.api.access import Workshop
from setback.store.maintenance import copy_to
from tests.browser.conftest import settle
from tests.browser.test_every_page import AXE, serious
from tests.conftest import MovedClock
from tests.server import Server
from tests.workshop import PASSWORDS, Browser, add_people

pytestmark = pytest.mark.long


@pytest.fixture
def shop(small_lab, tmp_path):
    """A lab with a card and a brief, taken over from one that used initials alone: RB leads, IM works, LO looks."""
    path = tmp_path / "lab.db"
    copy_to(small_lab, path)
    clock = MovedClock()
    add_people(path, clock)
    server = Server(path, clock, workshop=Workshop(frozenset({"127.0.0.2"})))
    yield server
    server.leave()


def url(shop):
    return f"http://{shop.host}:{shop.port}"


def lead(shop) -> Browser:
    """RB at another device."""
    other = Browser(shop.app.test_client(), url=url(shop))
    other.sign_in("RB")
    return other


def enter(page: Page, initials: str) -> None:
    page.get_by_label("Initials", exact=True).fill(initials)
    page.get_by_label("Password", exact=True).fill(PASSWORDS[initials])
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("button", name=f"Working as {initials}")).to_be_visible()


def in_menu(page: Page, item: str) -> None:
    page.get_by_role("button", name=re.compile("^Working as")).click()
    page.get_by_role("button", name=item).click()


def test_a_code_leads_through_the_sign_in_to_its_page(shop, as_im: Page):
    """What a phone does with a label: it is asked who it is, and then shown what the label is for."""
    page = as_im
    page.goto(f"{url(shop)}/sets/S-001")
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    expect(page.get_by_role("navigation", name="Sections")).to_have_count(0)
    page.get_by_label("Initials", exact=True).fill("IM")
    page.get_by_label("Password", exact=True).fill("not this one")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_text("do not belong together")).to_be_visible()
    page.get_by_label("Password", exact=True).fill(PASSWORDS["IM"])
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", name=re.compile("S-001"))).to_be_visible()
    expect(page.get_by_role("button", name="Working as IM")).to_be_visible()
    in_menu(page, "Sign out")
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()


def test_two_people_change_places_at_one_bench_by_pin(shop, as_im: Page):
    page = as_im
    page.goto(f"{url(shop)}/lab/people")
    for initials, pin in (("IM", "4826"), ("RB", "7193")):
        if initials == "RB":
            in_menu(page, "Somebody else…")
        enter(page, initials)
        page.get_by_role("button", name="Choose a PIN here…").click()
        page.get_by_label("Your password").fill(PASSWORDS[initials])
        page.get_by_label(re.compile("^PIN, four")).fill(pin)
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("At this device you come back by PIN.")).to_be_visible()
    in_menu(page, "Change to IM…")
    page.get_by_label("PIN of IM").fill("0001")
    page.get_by_role("button", name="Work as IM").click()
    expect(page.get_by_text("This PIN is wrong. 4 tries are left.")).to_be_visible()
    page.get_by_label("PIN of IM").fill("4826")
    page.get_by_role("button", name="Work as IM").click()
    expect(page.get_by_role("button", name="Working as IM")).to_be_visible()
    # What IM does now is IM's.
    page.goto(f"{url(shop)}/shelf/finish-routes")
    page.get_by_role("button", name="Add a finish route").first.click()
    expect(page.get_by_role("dialog")).to_be_visible()


def test_a_signature_is_a_leads_and_asks_for_the_password_again(shop, as_im: Page):
    page = as_im
    place = f"{url(shop)}/qualify/A-001/S-001"
    page.goto(place)
    enter(page, "IM")
    sign = page.get_by_role("form", name="Sign")
    sign.get_by_label("Your initials").fill("IM")
    sign.get_by_role("button", name=re.compile("^Sign as")).click()
    expect(sign.get_by_text("This is for a lead, and IM is a technician.", exact=False)).to_be_visible()
    in_menu(page, "Somebody else…")
    enter(page, "RB")
    # IM's initials still stand there: RB cannot sign as IM.
    sign.get_by_role("button", name=re.compile("^Sign as")).click()
    expect(sign.get_by_text("Type your own initials, RB", exact=False)).to_be_visible()
    sign.get_by_label("Your initials").fill("RB")
    sign.get_by_role("button", name=re.compile("^Sign as")).click()
    again = page.get_by_role("dialog", name="Sign with your password")
    again.get_by_label("Password of RB").fill("not this one")
    again.get_by_role("button", name="Sign").click()
    expect(again.get_by_text("This is not your password.")).to_be_visible()
    again.get_by_label("Password of RB").fill(PASSWORDS["RB"])
    again.get_by_role("button", name="Sign").click()
    expect(page.get_by_text("N-002 is signed.")).to_be_visible()


def test_a_lead_adds_somebody_who_chooses_a_password_and_is_revoked_with_work_open(shop, as_im: Page):
    page = as_im
    page.goto(f"{url(shop)}/lab/people")
    enter(page, "RB")
    page.get_by_role("button", name="Add somebody").click()
    page.get_by_label(re.compile("^Initials, one")).fill("tw")
    page.get_by_label("Password for the first time").fill("short")
    page.get_by_role("button", name="Add it").click()
    expect(page.get_by_text("at least 10 characters")).to_be_visible()
    page.get_by_label("Password for the first time").fill("handed over on paper")
    page.get_by_role("button", name="Add it").click()
    row = page.get_by_role("row", name=re.compile("^TW"))
    expect(row).to_contain_text("has not chosen a password yet")
    in_menu(page, "Somebody else…")
    page.get_by_label("Initials", exact=True).fill("TW")
    page.get_by_label("Password", exact=True).fill("handed over on paper")
    page.get_by_role("button", name="Sign in").click()
    change = page.get_by_role("dialog", name="Change your password")
    change.get_by_label("Password until now").fill("handed over on paper")
    change.get_by_label("New password").fill("a hut behind the dunes")
    change.get_by_label("The new one again").fill("a hut behind the dunes")
    change.get_by_role("button", name="Change it").click()
    expect(change).to_have_count(0)
    # With work open, RB revokes the account from another device.
    page.goto(f"{url(shop)}/shelf/printers?new=1")
    printer = {"Name": "Petrel", "Pixel": "35", "Exposure step": "0.1", "Plate along X": "153", "Plate along Y": "87"}
    for label, text in {**printer, "Vat holds": "260"}.items():
        page.get_by_label(f"{label} *").fill(text)
    other = lead(shop)
    of_tw = next(one["id"] for one in other.get("/api/people")["items"] if one["initials"] == "TW")
    other.post(f"/api/people/{of_tw}/revoke")
    page.get_by_role("button", name="Save").click()
    out = page.get_by_role("dialog", name="Sign in again")
    expect(out).to_contain_text("What you typed is still on the page")
    out.get_by_label("Initials", exact=True).fill("TW")
    out.get_by_label("Password", exact=True).fill("a hut behind the dunes")
    out.get_by_role("button", name="Sign in").click()
    expect(out.get_by_text("do not belong together")).to_be_visible()
    out.get_by_label("Initials", exact=True).fill("IM")
    out.get_by_label("Password", exact=True).fill(PASSWORDS["IM"])
    out.get_by_role("button", name="Sign in").click()
    # It goes on by itself, as IM's.
    expect(page.get_by_text("Petrel is on the shelf.")).to_be_visible()
    expect(out).to_have_count(0)
    with closing(sqlite3.connect(shop.path)) as db:
        assert {row[0] for row in db.execute("SELECT by FROM journal WHERE kind = 'printer'")} >= {"IM"}
        assert db.execute("SELECT count(*) FROM journal WHERE by = 'TW'").fetchone() == (1,)


def test_a_device_that_is_lost_is_revoked(shop, as_im: Page):
    page = as_im
    page.goto(f"{url(shop)}/board")
    enter(page, "IM")
    other = lead(shop)
    lost = next(one["id"] for one in other.get("/api/devices")["items"] if one["initials"] == ["IM"])
    other.post(f"/api/devices/{lost}/revoke")
    page.reload()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    # A lead sees all devices, and calls them something.
    page.goto(f"{url(shop)}/lab/people")
    enter(page, "RB")
    devices = page.get_by_role("region", name="Devices")
    expect(devices.get_by_role("row")).to_have_count(3)
    devices.get_by_role("button", name=re.compile("^Name")).first.click()
    page.get_by_label("What people here call it").fill("Bench at the window")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(devices.get_by_text("Bench at the window")).to_be_visible()


def test_a_phone_is_paired_by_a_code_and_reads_a_label(shop, as_im: Page, browser):
    page = as_im
    page.goto(f"{url(shop)}/lab/people")
    enter(page, "IM")
    page.get_by_role("button", name="Pair a phone…").click()
    dialog = page.get_by_role("dialog", name="Pair a phone as IM")
    with page.expect_response(re.compile("/code.svg$")):
        expect(dialog.get_by_role("img", name="QR code to pair a phone")).to_be_visible()
    # What the phone's camera reads off the drawing.
    code = list(shop.app.extensions["pairings"]._codes.values())[-1]
    context = browser.new_context(viewport={"width": 390, "height": 844}, is_mobile=True, has_touch=True)
    phone = context.new_page()
    phone.goto(f"{url(shop)}/pair#{code.token}")
    phone.get_by_role("button", name="Pair it").tap()
    expect(phone.get_by_role("button", name="Working as IM")).to_be_visible()
    expect(dialog.get_by_text("The phone is paired.", exact=False)).to_be_visible()
    phone.goto(f"{url(shop)}/sets/S-001")
    expect(phone.get_by_role("heading", name=re.compile("S-001"))).to_be_visible()
    # The code is used up.
    phone.goto(f"{url(shop)}/pair#{code.token}")
    phone.reload()
    phone.get_by_role("button", name="Pair it").tap()
    expect(phone.get_by_text("This code was used already", exact=False)).to_be_visible()
    context.close()


def test_the_address_of_codes_is_tried_by_scanning(shop, as_im: Page, browser):
    page = as_im
    page.goto(f"{url(shop)}/lab")
    enter(page, "RB")
    paper = page.get_by_role("region", name="Paper")
    expect(paper.get_by_text("this machine alone", exact=False)).to_be_visible()
    paper.get_by_role("button", name=re.compile("where this page is open")).click()
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("The lab's settings are saved.")).to_be_visible()
    paper.get_by_role("button", name="Try the address with a phone…").click()
    dialog = page.get_by_role("dialog", name="Scan this with a phone")
    link = dialog.locator(".num").inner_text()
    assert link.startswith(f"{url(shop)}/reached/")
    expect(dialog.get_by_role("img", name=f"QR code of {link}")).to_be_visible()
    # The phone: a browser that was never here, and need not sign in for this.
    phone = browser.new_context().new_page()
    phone.goto(link)
    expect(phone.get_by_text("The address works")).to_be_visible()
    phone.goto(f"{url(shop)}/reached/made-up")
    expect(phone.get_by_text("This check is over")).to_be_visible()
    phone.context.close()
    dialog.get_by_role("button", name="Note that it works").click()
    expect(paper.get_by_text(re.compile("Scanned with success by RB"))).to_be_visible()


def test_nothing_serious_for_axe(shop, as_im: Page):
    page = as_im
    page.goto(f"{url(shop)}/lab/people")
    settle(page)
    with_axe = AXE.read_text(encoding="utf-8")
    page.evaluate(with_axe)
    assert not serious(page)
    enter(page, "RB")
    settle(page)
    assert not serious(page)
    for button in ("Add somebody", "Choose a PIN here…"):
        page.get_by_role("button", name=button).click()
        expect(page.get_by_role("dialog")).to_be_visible()
        assert not serious(page)
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
    page.get_by_role("button", name="Working as RB").click()
    assert not serious(page)
