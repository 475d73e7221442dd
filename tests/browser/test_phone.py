"""A phone at the bench: a label, a picture, a reading; what is entered without a connection; and a phone that was stolen."""

from __future__ import annotations

import json
import re
import sqlite3
from contextlib import closing, contextmanager
from datetime import UTC, datetime, timedelta

import pytest
from playwright.sync_api import Page, Route, expect

from setback.api.access import Workshop
from setback.services.unit_of_work import iso
from setback.store.maintenance import copy_to
from tests.browser.conftest import until
from tests.browser.test_every_page import ASK_THE_FIRST, AXE, serious
from tests.conftest import MovedClock
from tests.pictures import picture, printed
from tests.server import Server
from tests.workshop import PASSWORDS, Browser, add_people

PHONE = {"viewport": {"width": 390, "height": 844}, "is_mobile": True, "has_touch": True, "locale": "en-GB"}
MOST_TAPS = 6
NOW = datetime(2026, 1, 21, 9, tzinfo=UTC)
"""About when the shed's coupons were printed."""


class Shed:
    """A workshop with three coupons that wait to be read and a print that runs, and phones in it."""

    def __init__(self, server: Server, codes: list[str], print_code: str, browser) -> None:
        self.server, self.codes, self.print_code, self.browser = server, codes, print_code, browser
        self.url = f"http://{server.host}:{server.port}"
        self.contexts: list = []

    def person(self, initials: str) -> Browser:
        """Somebody at another device."""
        other = Browser(self.server.app.test_client(), url=self.url)
        other.sign_in(initials)
        return other

    def phone(self, initials: str = "IM") -> Page:
        """A phone at which somebody is signed in and which holds the app and what is at hand."""
        context = self.browser.new_context(**PHONE, service_workers="allow")
        self.contexts.append(context)
        context.clock.install(time=self.server.clock.now)
        page = context.new_page()
        page.goto(f"{self.url}/at-hand")
        enter(page, initials)
        expect(page.get_by_text("kept here for when there is no connection", exact=False)).to_be_visible()
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        until(page, "navigator.serviceWorker.controller !== null")
        return page

    def coupon(self, code: str) -> dict:
        return self.person("RB").get(f"/api/coupons/{code}")


@pytest.fixture
def shed(lab, tmp_path, browser):
    calibration = lab.decided()
    issued = lab.issue(calibration)
    codes = lab.plan(calibration, [2.4, 2.6, 2.8])
    for code in codes:
        lab.print(code)
    parts = {"parts": [{"name": "funnel", "printed": 16}], "minutes": 30, "temp_c": 24, "temp_place": "room"}
    started = lab.post(
        "/api/prints/start", {"set_code": issued["code"], "printer_id": calibration["printer_id"]} | parts, 201
    )
    path = tmp_path / "shed.db"
    copy_to(lab.path, path)
    clock = MovedClock()
    clock.now = lab.clock.now
    add_people(path, clock)
    server = Server(path, clock, workshop=Workshop(frozenset({"127.0.0.2"})))
    made = Shed(server, codes, started["code"], browser)
    yield made
    for context in made.contexts:
        context.close()
    server.leave()


def enter(page: Page, initials: str) -> None:
    page.get_by_label("Initials", exact=True).fill(initials)
    page.get_by_label("Password", exact=True).fill(PASSWORDS[initials])
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("button", name=f"Working as {initials}")).to_be_visible()


@contextmanager
def no_connection(page: Page):
    page.context.set_offline(True)
    try:
        yield
    finally:
        page.context.set_offline(False)


def waiting(page: Page, how_many: int) -> None:
    expect(page.locator(f"[data-waiting='{how_many}']")).to_be_visible()


def all_sent(page: Page) -> None:
    expect(page.locator("[data-waiting]")).to_have_count(0)


@pytest.mark.long
def test_from_a_label_by_picture_to_a_confirmed_reading_in_six_taps(shed, tmp_path):
    phone, code = shed.phone(), shed.codes[1]
    file = tmp_path / "coupon.jpg"
    file.write_bytes(picture(printed(2.6), code))
    # The phone's own camera opened the label's address.
    phone.goto(f"{shed.url}/at/{code}")
    taps = 0
    with phone.expect_file_chooser() as chosen:
        phone.get_by_role("button", name="Read from a picture").tap()
    chosen.value.set_files(file)
    # The button, then in the camera: take it, use it.
    taps += 3
    expect(phone.get_by_text(re.compile("marks filled in from the picture"))).to_be_visible()
    phone.get_by_role("button", name="Save the reading").tap()
    taps += 1
    expect(phone.get_by_text(f"The reading of {code} is saved")).to_be_visible()
    assert taps <= MOST_TAPS
    kept = shed.coupon(code)
    assert kept["confirmed"]["marks"] > 30 and kept["history"][-1]["initials"] == "IM"


@pytest.mark.long
def test_a_label_of_anything_opens_its_page_and_what_nobody_knows_is_said(shed):
    phone = shed.phone()
    phone.goto(f"{shed.url}/at/s-001")
    expect(phone.get_by_role("heading", name=re.compile("S-001"))).to_be_visible()
    phone.goto(f"{shed.url}/at/{shed.print_code}")
    expect(phone).to_have_url(f"{shed.url}/log/{shed.print_code}")
    phone.goto(f"{shed.url}/at/999Z")
    expect(phone.get_by_text("Nothing here has the code 999Z", exact=False)).to_be_visible()
    phone.goto(f"{shed.url}/at-hand")
    phone.get_by_label("Code in your hand").fill(shed.codes[0].lower())
    phone.get_by_role("button", name="Open").tap()
    expect(phone).to_have_url(f"{shed.url}/coupons/{shed.codes[0]}")


def test_without_a_connection_the_app_opens_shows_what_is_at_hand_and_takes_entries(shed, tmp_path):
    phone, (code, other, _) = shed.phone(), shed.codes
    file = tmp_path / "coupon.jpg"
    file.write_bytes(picture(printed(2.4), code))
    with no_connection(phone):
        phone.goto(f"{shed.url}/at-hand")
        expect(phone.get_by_text("No connection.")).to_be_visible()
        expect(phone.get_by_text("What is shown is of", exact=False)).to_be_visible()
        expect(phone.get_by_role("region", name="Cards").get_by_text("S-001", exact=False)).to_be_visible()
        phone.goto(f"{shed.url}/sets/S-001")
        expect(phone.get_by_text(re.compile("^Window 1.91"))).to_be_visible()
        phone.goto(f"{shed.url}/at/{code}")
        expect(phone.get_by_role("heading", name=re.compile(code))).to_be_visible()
        phone.get_by_label("damaged").check()
        phone.get_by_label("Photo file").set_input_files(file)
        waiting(phone, 1)
        phone.get_by_role("button", name="Save the reading").tap()
        waiting(phone, 2)
        # A print comes out; the phone is put down, and taken up again.
        phone.goto(f"{shed.url}/at/{shed.print_code}")
        expect(phone.get_by_role("heading", name=re.compile("come out"))).to_be_visible()
        phone.get_by_role("button", name="Save", exact=False).last.tap()
        waiting(phone, 3)
        phone.get_by_role("link", name="Show what waits").tap()
        expect(phone.get_by_role("region", name=f"Reading of {code}")).to_be_visible()
        shed.server.clock.now += timedelta(minutes=1)
    all_sent(phone)
    kept = shed.coupon(code)
    assert kept["reading"]["damaged"] and len(kept["photos"]) == 1 and len(kept["history"]) == 1
    assert shed.person("RB").get(f"/api/prints/{shed.print_code}")["outcome"] == "whole"
    phone.goto(f"{shed.url}/waiting")
    expect(phone.get_by_text("Nothing waits.", exact=False)).to_be_visible()
    assert shed.coupon(other)["reading"] is None


@pytest.mark.long
def test_a_conflict_stands_side_by_side_and_nothing_is_lost(shed):
    phone, code = shed.phone(), shed.codes[0]
    with no_connection(phone):
        phone.goto(f"{shed.url}/at/{code}")
        phone.get_by_label("damaged").check()
        phone.get_by_role("button", name="Save the reading").tap()
        waiting(phone, 1)
        body = {"features": [], "unwashed": True}
        shed.person("RB").post(f"/api/coupons/{code}/readings", body, 201)
    expect(phone.get_by_text("1 entry wants a decision", exact=False)).to_be_visible()
    phone.get_by_role("link", name="Show what waits").tap()
    entry = phone.get_by_role("region", name=f"Reading of {code}")
    expect(entry.get_by_text(f"RB read coupon {code} meanwhile", exact=False)).to_be_visible()
    assert shed.coupon(code)["reading"]["unwashed"]
    entry.get_by_label("Why the earlier one is corrected").fill("It broke in my hand")
    entry.get_by_role("button", name="Save mine over it").tap()
    expect(phone.get_by_text("Nothing waits.", exact=False)).to_be_visible()
    kept = shed.coupon(code)
    assert kept["reading"]["damaged"] and {row["initials"] for row in kept["history"]} == {"RB", "IM"}


UNHEARD, UNANSWERED = {1, 30, 31, 90}, {3, 60, 75}
"""Which requests never reach the server, and of which the answer is lost on the way."""
PUT_ENTRIES = """
async (entries) => {
  const db = await new Promise((done) => { const ask = indexedDB.open("setback"); ask.onsuccess = () => done(ask.result); });
  const change = db.transaction("entries", "readwrite");
  for (const one of entries)
    change.objectStore("entries").add({ ...one, body: new TextEncoder().encode(one.body).buffer });
  await new Promise((done) => { change.oncomplete = done; });
  db.close();
}
"""
IN_QUEUE = """
(async () => {
  const db = await new Promise((done) => { const ask = indexedDB.open("setback"); ask.onsuccess = () => done(ask.result); });
  const found = await new Promise((done) => { const ask = db.transaction("entries").objectStore("entries").getAll(); ask.onsuccess = () => done(ask.result); });
  db.close();
  return found.map((one) => one.key);
})()
"""


def entries_of(probe_id: str, how_many: int, by: str = "IM") -> list[dict]:
    """Temperatures, each another, as the form of a probe would have kept them."""
    begun = NOW - timedelta(hours=how_many)
    return [
        {
            "key": f"00000000-0000-4000-8000-{number:012d}",
            "by": by,
            "words": f"Temperature {number}",
            "page": f"/climate?{number}",
            "method": "POST",
            "path": f"/api/probes/{probe_id}/samples",
            "type": "application/json",
            "body": json.dumps({"temp_c": 10 + number / 10, "humidity_pct": None, "sure": True}),
            "at": iso(begun + timedelta(minutes=30 * number)),
            "refused": None,
        }
        for number in range(how_many)
    ]


def samples(shed) -> list[float]:
    with closing(sqlite3.connect(shed.server.path)) as db:
        return [row[0] for row in db.execute("SELECT temp_c FROM probe_sample ORDER BY at_s, number")]


@pytest.mark.long
def test_a_connection_cut_amid_a_hundred_entries_and_a_photo_loses_and_doubles_nothing(shed, tmp_path):
    """Cut before the server hears of an entry, and after it took one and before the phone heard so."""
    phone, code = shed.phone(), shed.codes[0]
    lead = shed.person("RB")
    probe = lead.post("/api/probes", {"name": "By the door", "place": "room"}, 201)
    file = tmp_path / "coupon.jpg"
    file.write_bytes(picture(printed(2.4), code))
    with no_connection(phone):
        phone.goto(f"{shed.url}/at/{code}")
        phone.get_by_label("Photo file").set_input_files(file)
        waiting(phone, 1)
        phone.evaluate(PUT_ENTRIES, entries_of(probe["id"], 100))
    seen = {"requests": 0}

    def cutting(route: Route) -> None:
        seen["requests"] += 1
        if seen["requests"] in UNHEARD:
            route.abort()
        elif seen["requests"] in UNANSWERED:
            # The server takes it; its answer is lost on the way.
            route.fetch()
            route.abort()
        else:
            route.continue_()

    phone.route("**/api/probes/*/samples", cutting)
    phone.route("**/api/coupons/*/photos", cutting)
    # As long as something is on its way a slow machine is given time; forty turns in which nothing was sent fail.
    waiting_before, turns_in_vain = 101, 0
    while (queue := phone.evaluate(IN_QUEUE)) and turns_in_vain < 40:
        turns_in_vain = 0 if len(queue) < waiting_before else turns_in_vain + 1
        waiting_before = len(queue)
        phone.goto(f"{shed.url}/waiting")
        button = phone.get_by_role("button", name="Send now")
        if button.count():
            button.tap()
        phone.wait_for_timeout(1500)
    assert phone.evaluate(IN_QUEUE) == []
    assert seen["requests"] > 101
    assert samples(shed) == [10 + number / 10 for number in range(100)]
    assert len(shed.coupon(code)["photos"]) == 1


@pytest.mark.long
def test_two_phones_with_one_queue_send_it_once(shed):
    probe = shed.person("RB").post("/api/probes", {"name": "By the door", "place": "room"}, 201)
    first, second = shed.phone(), shed.phone()
    for phone in (first, second):
        phone.context.set_offline(True)
        phone.evaluate(PUT_ENTRIES, entries_of(probe["id"], 5))
    for phone in (first, second):
        phone.context.set_offline(False)
        phone.goto(f"{shed.url}/waiting")
    for phone in (first, second):
        expect(phone.get_by_text("Nothing waits.", exact=False)).to_be_visible()
    assert len(samples(shed)) == 5


@pytest.mark.long
def test_a_stolen_phone_is_out_at_once_and_what_its_person_entered_waits_for_a_lead(shed):
    phone, code = shed.phone(), shed.codes[0]
    lead = shed.person("RB")
    with no_connection(phone):
        phone.goto(f"{shed.url}/at/{code}")
        phone.get_by_label("damaged").check()
        phone.get_by_role("button", name="Save the reading").tap()
        waiting(phone, 1)
        [account] = [one["id"] for one in lead.get("/api/people")["items"] if one["initials"] == "IM"]
        lead.post(f"/api/people/{account}/revoke", {})
    expect(phone.get_by_role("heading", name=re.compile("Sign in|signed out"))).to_be_visible()
    until(phone, "indexedDB.databases().then((all) => all.length > 0)")
    phone.reload()
    expect(phone.get_by_role("heading", name="Sign in")).to_be_visible()
    with no_connection(phone):
        # Nothing that was kept can be read any more.
        phone.goto(f"{shed.url}/sets/S-001")
        expect(phone.get_by_text("S-001 ", exact=False)).to_have_count(0)
    phone.goto(f"{shed.url}/waiting")
    enter(phone, "RB")
    entry = phone.get_by_role("region", name=f"Reading of {code}")
    expect(entry.get_by_text("IM entered this", exact=False)).to_be_visible()
    entry.get_by_role("button", name="Accept as RB").tap()
    expect(phone.get_by_text("Nothing waits.", exact=False)).to_be_visible()
    assert shed.coupon(code)["history"][0]["initials"] == "RB"


@pytest.mark.long
def test_pages_of_the_phone_fit_it_and_can_be_used_by_everybody(shed):
    phone = shed.phone()
    probe = shed.person("RB").post("/api/probes", {"name": "By the door", "place": "room"}, 201)
    phone.context.set_offline(True)
    phone.evaluate(PUT_ENTRIES, entries_of(probe["id"], 3, by="LO"))
    phone.context.set_offline(False)
    at_the_bench = (f"coupons/{shed.codes[0]}", f"log/{shed.print_code}/finish", "log/new", "sets/S-001")
    for page_name in ("at-hand", "waiting", "at/999Z", *at_the_bench):
        phone.goto(f"{shed.url}/{page_name}")
        expect(phone.get_by_role("heading", level=1)).to_be_visible()
        assert phone.evaluate("document.documentElement.scrollWidth") <= PHONE["viewport"]["width"]
        assert phone.evaluate(SMALL_TARGETS) == []
        if page_name not in at_the_bench:
            phone.evaluate(AXE.read_text(encoding="utf-8"))
            phone.evaluate(ASK_THE_FIRST)
            assert serious(phone) == {}


SMALL_TARGETS = """[...document.querySelectorAll("main button, main a.btn, main a.line, main select, main input:not(.form-check-input), main .form-check")]
  .filter((one) => one.offsetParent && one.getBoundingClientRect().height < 43).map((one) => one.textContent)"""
