"""A day of a workshop: three people, two desks and two phones in one planned campaign that is read by picture."""

from __future__ import annotations

import random
import re
import shutil
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from setback.api.access import Workshop
from tests.browser.conftest import VIEWPORT
from tests.browser.test_phone import PHONE, enter
from tests.browser.test_walks import Hands, begin
from tests.conftest import MovedClock
from tests.lab import noted
from tests.pictures import picture, printed
from tests.plans import solved_here
from tests.server import Server
from tests.workshop import Browser, add_people

BENCH = {
    "What you call it": "Cormorant",
    "Pixel": "35",
    "Plate along X": "153",
    "Plate along Y": "87",
    "Name and colour on the bottle": "Slate 2 grey",
}


class Yard:
    """A workshop that begins, with devices that people sign in at."""

    def __init__(self, server: Server, browser) -> None:
        self.server, self.browser = server, browser
        self.url = f"http://{server.host}:{server.port}"
        self.contexts: list = []

    def device(self, initials: str, place: str, **options) -> Page:
        """Somebody's own screen, at which they sign in."""
        context = self.browser.new_context(**options, reduced_motion="reduce", service_workers="block")
        self.contexts.append(context)
        context.clock.install(time=self.server.clock.now)
        page = context.new_page()
        page.goto(self.url + place)
        enter(page, initials)
        return page

    def ask(self, url: str) -> dict:
        other = Browser(self.server.app.test_client(), url=self.url)
        other.sign_in("LO")
        return other.get(url)


@pytest.fixture
def yard(empty_lab, tmp_path, browser, monkeypatch):
    solved_here(monkeypatch)
    path, clock = tmp_path / "yard.db", MovedClock()
    shutil.copyfile(empty_lab, path)
    add_people(path, clock)
    server = Server(path, clock, workshop=Workshop(frozenset({"127.0.0.2"})))
    made = Yard(server, browser)
    yield made
    for context in made.contexts:
        context.close()
    server.leave()


def test_three_people_two_phones_and_one_planned_campaign_by_picture(yard, tmp_path):
    desk = yard.device("IM", "/board", viewport=VIEWPORT, locale="en-GB")
    hands = Hands(desk)
    hands.link("Set up my bench")
    for label, value in BENCH.items():
        hands.fill(label, value)
    hands.button("Save and plan the first coupons")
    expect(desk.get_by_role("heading", name="Start a calibration")).to_be_visible()
    begin(hands)
    calibration = yard.ask("/api/calibrations")["items"][0]["id"]

    # The day is planned round it, and begins.
    hands.section("Plan")
    hands.button("Plan the day")
    now = desk.get_by_role("complementary", name="Now")
    expect(now.get_by_text("change its vat to Slate 2")).to_be_visible()
    hands.click(now.get_by_role("button", name="Begun"))
    expect(desk.get_by_role("group", name="Cormorant").get_by_role("button", name=re.compile("running"))).to_have_count(
        1
    )
    hands.click(now.get_by_role("link", name="Open C-001"))

    # A colleague looks on at another desk and touches nothing from here on; two read at the bench.
    onlooker = yard.device("LO", f"/calibrate/{calibration}", viewport=VIEWPORT, locale="en-GB")
    phones = [(yard.device(initials, "/at-hand", **PHONE), initials) for initials in ("RB", "IM")]
    suggestion = desk.get_by_role("region", name=re.compile("^(Next coupon|Print again|Stop)"))
    turns = 0
    for _ in range(12):
        came_out(hands)
        arm = yard.ask(f"/api/calibrations/{calibration}")["arms"][0]
        expect(onlooker.get_by_role("link", name="Read", exact=True)).to_have_count(len(arm["to_read"]))
        for code in arm["to_read"]:
            phone, initials = phones[turns % 2]
            coupon = yard.ask(f"/api/coupons/{code}")
            read = read_by_picture if coupon["picture_by"] == "photo or scan" else read_by_hand
            read(phone, yard.url, coupon, tmp_path)
            assert yard.ask(f"/api/coupons/{code}")["history"][-1]["initials"] == initials
            turns += 1
        expect(onlooker.get_by_role("link", name="Read", exact=True)).to_have_count(0)
        expect(onlooker.get_by_role("article", name=f"Coupon {arm['to_read'][-1]}")).to_contain_text(
            re.compile("walls|tips")
        )
        action = yard.ask(f"/api/calibrations/{calibration}")["arms"][0]["next"]["advice"]["action"]
        expect(suggestion).to_have_attribute("data-action", action)
        if action == "stop":
            break
        hands.click(suggestion.get_by_role("button", name=re.compile("^Plan")))
    expect(suggestion).to_contain_text("Stop: decided")
    print(f"a workshop: {hands.clicks} clicks, {hands.fields} fields at the desk, {turns} readings")


def came_out(hands: Hands) -> None:
    """All that was planned came out alike."""
    page = hands.page
    hands.click(page.get_by_role("button", name=re.compile(r"^(All \d+ printed|Mark .* as printed)")).first)
    hands.fill("Temperature at start", "24")
    hands.button("Mark as printed")
    expect(page.get_by_role("dialog")).to_have_count(0)


def read_by_picture(phone: Page, url: str, coupon: dict, folder: Path) -> None:
    """The label leads to the coupon, the camera to its marks; what a photo cannot measure is typed off the calipers."""
    code = coupon["code"]
    file = folder / f"{code}.jpg"
    file.write_bytes(picture(printed(coupon["exposure_s"]), code))
    phone.goto(f"{url}/at/{code}")
    with phone.expect_file_chooser() as chosen:
        phone.get_by_role("button", name="Read from a picture").tap()
    chosen.value.set_files(file)
    expect(phone.get_by_text(re.compile("marks filled in from the picture"))).to_be_visible()
    measured = [feature["measured_mm"] for feature in seen_of(coupon) if feature["measured_mm"] is not None]
    fill_all(phone, r"^(Bar|Notch) .* along [XY]$", [f"{length_mm:.2f}" for length_mm in measured])
    save(phone, code)


def read_by_hand(phone: Page, url: str, coupon: dict, folder: Path) -> None:
    """A photo of a support coupon tells nothing: its tips are counted."""
    phone.goto(f"{url}/at/{coupon['code']}")
    sides = {feature["key"]: feature["side"] for feature in coupon["plan"]["features"] if feature["kind"] == "tip"}
    counts = dict.fromkeys(sides.values(), 0)
    for feature in seen_of(coupon):
        if feature["key"] in sides:
            counts[sides[feature["key"]]] += feature["state"] == "formed"
    fill_all(phone, "^Tips held", [str(count) for count in counts.values()])
    save(phone, coupon["code"])


def seen_of(coupon: dict) -> list[dict]:
    return noted(coupon["plan"]["kind"], coupon["exposure_s"], random.Random(coupon["code"]))


def fill_all(phone: Page, labels: str, values: list[str]) -> None:
    fields = phone.get_by_label(re.compile(labels)).and_(phone.get_by_role("textbox"))
    expect(fields).to_have_count(len(values))
    for field, value in zip(fields.all(), values, strict=True):
        field.fill(value)


def save(phone: Page, code: str) -> None:
    phone.get_by_role("button", name="Save the reading").tap()
    expect(phone.get_by_text(f"The reading of {code} is saved")).to_be_visible()
