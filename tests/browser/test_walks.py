"""Whole jobs from an empty lab, with the clicks and fields they take counted: each at least a third below what it took before.

Measured values are not counted: they are the work itself. A field is something typed or chosen; a click is anything else that is pressed.
"""

import re
from dataclasses import dataclass

from playwright.sync_api import Locator, Page, expect

from tests.browser.test_whole_job import enter_reading

BEFORE = {"a real printer": (48, 43), "a simulated printer": (72, 30), "qualify": (14, 17)}


@dataclass
class Hands:
    """A person at a page: what they press and what they type, counted."""

    page: Page
    clicks: int = 0
    fields: int = 0

    def click(self, what: Locator) -> None:
        self.clicks += 1
        what.click()

    def press(self, key: str) -> None:
        self.clicks += 1
        self.page.keyboard.press(key)

    def fill(self, label: str, value: str, within: Locator | None = None) -> None:
        self.fields += 1
        (within or self.page).get_by_label(label, exact=True).fill(value)

    def choose(self, label: str, value: str, within: Locator | None = None) -> None:
        self.fields += 1
        (within or self.page).get_by_label(label, exact=True).select_option(label=value)

    def button(self, name: str | re.Pattern[str]) -> None:
        self.click(self.page.get_by_role("button", name=name, exact=isinstance(name, str)))

    def link(self, name: str | re.Pattern[str]) -> None:
        self.click(self.page.get_by_role("link", name=name, exact=isinstance(name, str)).first)

    def is_a_third_less(self, walk: str) -> None:
        clicks, fields = BEFORE[walk]
        print(f"{walk}: {self.clicks} clicks, {self.fields} fields; before {clicks} / {fields}")
        assert self.clicks <= 2 * clicks / 3 and self.fields <= 2 * fields / 3, f"{self.clicks} / {self.fields}"


def bench(hands: Hands, light: str = "Mono screen") -> None:
    """The bench in ten fields; what stands there already is not typed again."""
    hands.link("Set up my bench")
    for label, value in (
        ("What you call it", "Cormorant"),
        ("Pixel", "35"),
        ("Plate along X", "153"),
        ("Plate along Y", "87"),
        ("Name and colour on the bottle", "Slate 2 grey"),
        ("Your initials", "IM"),
    ):
        hands.fill(label, value)
    if light != "Mono screen":
        hands.click(hands.page.get_by_text(light))
    hands.button("Save and plan the first coupons")
    expect(hands.page.get_by_role("heading", name="Start a calibration")).to_be_visible()


def begin(hands: Hands) -> None:
    """What the maker says is typed; everything else is suggested."""
    hands.fill("From", "1.5")
    hands.fill("To", "4")
    hands.button("Start")
    expect(hands.page.get_by_role("heading", name=re.compile("Slate 2 .*on Cormorant"))).to_be_visible()
    hands.button(re.compile(r"^Plan \d coupons"))
    expect(hands.page.get_by_role("list", name="Coupons").get_by_role("article").first).to_be_visible()


def printed_and_read(hands: Hands, live) -> None:
    """All that is planned came out alike and is read, one after the other: a save leads to the next."""
    page = hands.page
    waiting = page.get_by_role("button", name=re.compile("^(All \\d+ printed|Mark .* as printed)"))
    hands.click(waiting.first)
    hands.fill("Temperature at start", "24")
    hands.button("Mark as printed")
    expect(page.get_by_role("dialog")).to_have_count(0)
    calibration = live.lab.get("/api/calibrations")["items"][0]["id"]
    codes = live.lab.get(f"/api/calibrations/{calibration}")["arms"][0]["to_read"]
    hands.press("r")
    for code in codes:
        expect(page.get_by_role("heading", name=re.compile(f"Coupon {code}"))).to_be_visible()
        enter_reading(page, live, code)
        hands.press("Enter")
        expect(page.get_by_role("heading", name=re.compile(f"Coupon {code}"))).to_have_count(0)


def led_to_an_offer(hands: Hands, live) -> None:
    """What is suggested is printed and read, until it says to stop."""
    page = hands.page
    suggestion = page.get_by_role("region", name=re.compile("^(Next coupon|Print again|Stop)"))
    expect(suggestion).to_be_visible()
    for _ in range(12):
        if suggestion.get_attribute("data-action") != "print":
            break
        hands.click(suggestion.get_by_role("button", name=re.compile("^Plan")))
        expect(page.get_by_role("button", name=re.compile("as printed$")).first).to_be_visible()
        printed_and_read(hands, live)
        expect(suggestion).to_be_visible()
    expect(suggestion).to_contain_text("Stop: decided")


def issued(hands: Hands) -> None:
    """The centre, confirmed later, issued with a reason."""
    page = hands.page
    hands.click(page.get_by_role("radio", name=re.compile("Centre")))
    hands.button(re.compile("and confirm$"))
    hands.button("Skip confirmation")
    hands.fill("Why this exposure", "Baffles need walls and slots alike.")
    hands.button(re.compile(r"Issue \d"))
    expect(page.get_by_role("article", name="Card of S-001")).to_be_visible()


def test_from_an_empty_lab_to_a_card_on_a_real_printer_and_a_signed_qualification(empty, as_im: Page):
    page = as_im
    page.goto(empty.url)
    hands = Hands(page)
    bench(hands)
    begin(hands)
    printed_and_read(hands, empty)
    led_to_an_offer(hands, empty)
    issued(hands)
    hands.is_a_third_less("a real printer")

    qualifying = Hands(page)
    qualifying.link("Qualify")
    qualifying.link("Write a brief")
    form = page.get_by_role("form", name="Write a brief")
    qualifying.fill("Application", "Filter baffle", form)
    line = form.get_by_role("group", name="Requirement 1")
    qualifying.choose("Property", "Finest slot that stays open", line)
    qualifying.fill("Limit", "0.4", line)
    qualifying.click(form.get_by_role("button", name="Save the brief"))
    qualifying.click(page.get_by_role("region", name="Filter baffle").get_by_role("link", name="Candidates"))
    qualifying.click(page.get_by_role("columnheader").get_by_role("link", name=re.compile("Slate 2")))
    expect(page.get_by_role("region", name="Verdict")).to_be_visible()
    qualifying.fill("Your initials, as a signature", "IM")
    qualifying.click(page.get_by_role("button", name=re.compile("^Sign as")))
    expect(page.get_by_role("region", name="Signature")).to_contain_text("Signed as")
    qualifying.is_a_third_less("qualify")


def printed_by_itself(hands: Hands, live) -> None:
    """The simulated printer prints what is planned, its reader fills in what the picture shows, a person saves it."""
    page = hands.page
    hands.click(page.get_by_role("button", name=re.compile("^Print all|on the simulated printer$")).first)
    hands.click(page.get_by_role("dialog").get_by_role("button", name="Print", exact=True))
    tray = page.get_by_role("list", name="Coupons")
    expect(tray.get_by_role("link", name="Read", exact=True).first).to_be_visible(timeout=60_000)
    expect(page.get_by_role("button", name=re.compile("^Mark .* as printed"))).to_have_count(0, timeout=60_000)
    calibration = live.lab.get("/api/calibrations")["items"][0]["id"]
    codes = live.lab.get(f"/api/calibrations/{calibration}")["arms"][0]["to_read"]
    hands.press("r")
    for code in codes:
        heading = page.get_by_role("heading", name=re.compile(f"Coupon {code}"))
        expect(heading).to_be_visible()
        hands.button("Let the simulated reader fill it in")
        expect(page.get_by_label(re.compile("Slots open|Tips held")).first).not_to_have_value("")
        hands.button("Save the reading")
        expect(heading).to_have_count(0)


def test_from_an_empty_lab_to_a_card_on_the_simulated_printer(empty, as_im: Page):
    page = as_im
    page.goto(empty.url)
    page.evaluate("localStorage.setItem('setback.virtual-speed', '1000000')")
    hands = Hands(page)
    bench(hands, light="Simulated, to try")
    begin(hands)
    printed_by_itself(hands, empty)
    suggestion = page.get_by_role("region", name=re.compile("^(Next coupon|Print again|Stop)"))
    for _ in range(12):
        if suggestion.get_attribute("data-action") != "print":
            break
        hands.click(suggestion.get_by_role("button", name=re.compile("^Plan")))
        printed_by_itself(hands, empty)
        expect(suggestion).to_be_visible()
    expect(suggestion).to_contain_text("Stop: decided")
    issued(hands)
    hands.is_a_third_less("a simulated printer")
