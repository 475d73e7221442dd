"""A new resin, from the shelf to an issued set and a qualified brief, as a person does it."""

import re

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.long


def fill(page: Page, values: dict[str, str]) -> None:
    for label, value in values.items():
        page.get_by_label(label, exact=True).fill(value)


def choose(page: Page, values: dict[str, str]) -> None:
    for label, value in values.items():
        page.get_by_label(label, exact=True).select_option(value)


def enter_reading(page: Page, live, code: str) -> None:
    """Type what the coupon shows: counts per row, then calipers, each ended by Enter."""
    lab = live.lab
    plan = lab.get(f"/api/coupons/{code}")["plan"]
    seen = {s["key"]: s for s in lab.seen(code)}
    rows: dict[tuple[str, str], int] = {}
    for feature in plan["features"]:
        if feature["kind"] in ("wall", "slot", "tip"):
            key = (feature["kind"], feature["side"])
            rows[key] = rows.get(key, 0) + (seen[feature["key"]]["state"] == "formed")
    typed = [str(count) for count in rows.values()]
    typed += [f"{seen[f['key']]['measured_mm']:.2f}" for f in plan["features"] if f["kind"] in ("outer", "inner")]
    first = (
        page.get_by_label("Walls standing, left")
        if ("wall", "left") in rows
        else page.get_by_label("Tips held, upper row")
    )
    first.focus()
    for value in typed:
        page.keyboard.type(value)
        page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Save the reading")).to_be_focused()


def print_all(page: Page, tray) -> None:
    """Mark every planned coupon as printed, with its temperature."""
    waiting = tray.get_by_role("button", name=re.compile("as printed"))
    for _ in range(waiting.count()):
        waiting.first.click()
        page.get_by_label("Temperature at start").fill("75 F")
        page.get_by_role("button", name="Mark as printed").click()
        expect(page.get_by_role("dialog")).to_have_count(0)


def read_all(page: Page, live, count: int) -> None:
    """Read one coupon after the other, from the key that opens the first to the last Enter."""
    page.keyboard.press("r")
    for _ in range(count):
        heading = page.get_by_role("heading", name=re.compile(r"Coupon \d+\w"))
        code = heading.inner_text().split()[1].strip(",")
        enter_reading(page, live, code)
        page.keyboard.press("Enter")
        expect(heading.filter(has_text=code)).to_have_count(0)


def test_from_the_shelf_to_an_issued_set(empty, page: Page):
    page.goto(empty.url)
    # An empty lab says where to start; this walk takes every form of the Shelf.
    expect(page.get_by_role("link", name="Set up my bench")).to_be_visible()
    page.goto(f"{empty.url}/shelf/printers?new=1")
    fill(
        page,
        {
            "Name *": "Cormorant",
            "Pixel *": "35",
            "Exposure step *": "0,1 s",
            "Plate along X *": "153",
            "Plate along Y *": "8.7 cm",
            "Vat holds *": "0.26 l",
            "Fill line at": "220",
        },
    )
    expect(page.get_by_text("= 87")).to_be_visible()
    page.get_by_role("button", name="Save").click()
    # The first change asks who is working, once, and goes on by itself.
    page.get_by_role("dialog", name="Who is working?").get_by_role("button", name="IM").click()
    expect(page.get_by_text("Cormorant is on the shelf.")).to_be_visible()
    # The resin by keyboard alone.
    page.keyboard.press("g")
    page.keyboard.press("s")
    expect(page.get_by_role("link", name="Resins")).to_have_attribute("aria-current", "page")
    page.keyboard.press("n")
    expect(page.get_by_label("Name *")).to_be_focused()
    page.keyboard.type("Slate 2")
    for text in ("Tidewrack Works", "Slate", "slate grey"):
        page.keyboard.press("Tab")
        page.keyboard.type(text)
    fill(page, {"Exposure from": "1.5", "Exposure to": "4"})
    page.keyboard.press("Enter")
    expect(page.get_by_text("Slate 2 is on the shelf.")).to_be_visible()
    page.get_by_role("link", name="Bottles").click()
    page.get_by_role("button", name="Add a bottle").first.click()
    choose(page, {"Resin *": "Slate 2"})
    fill(page, {"Lot *": "SL-2537"})
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("B-001 is on the shelf.")).to_be_visible()
    page.get_by_role("link", name="Finish routes").click()
    page.get_by_role("button", name="Add a finish route").first.click()
    fill(
        page,
        {"Name *": "Two-bath solvent", "Wash fluid *": "solvent", "Wash method *": "basket", "Lamp *": "turntable"},
    )
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("Two-bath solvent is on the shelf.")).to_be_visible()

    # From the Board into the calibration; what the shelf knows is filled in.
    page.get_by_role("link", name="Board", exact=True).click()
    page.get_by_role("link", name=re.compile("Slate 2 on Cormorant: not calibrated")).click()
    expect(page.get_by_label("From", exact=True)).to_have_value("1.5")
    expect(page.get_by_label("To", exact=True)).to_have_value("4")
    expect(page.get_by_label("Thinnest wall")).to_have_value("0.21")
    page.get_by_role("button", name="Start", exact=True).click()
    expect(page.get_by_role("heading", name="Slate 2 on Cormorant")).to_be_visible()

    # A ladder from the maker's range, with its cost said first.
    page.get_by_label("Coupons", exact=True).fill("5")
    plan = page.get_by_role("button", name=re.compile(r"Plan 5 coupons · \d+\smin · [\d.]+\sml"))
    plan.click()
    tray = page.get_by_role("list", name="Coupons")
    expect(tray.get_by_role("article")).to_have_count(5)
    campaign = empty.lab.get("/api/calibrations")["items"][0]
    print_all(page, tray)
    # The first is read by its keys, the others by a colleague at another screen: the walks read them all.
    read_all(page, empty, 1)
    for code in empty.lab.again(campaign)["arms"][0]["to_read"]:
        empty.lab.read(code)
    page.goto(f"{empty.url}/calibrate/{campaign['id']}")
    expect(page.get_by_text("of what was read")).to_be_visible()

    # One suggestion after the other, until it says to stop; the first is a support coupon, which was not read yet.
    suggestion = page.get_by_role("region", name=re.compile("^(Next coupon|Stop)"))
    expect(suggestion).to_contain_text("support coupon")
    empty.lab.led(empty.lab.again(campaign))
    page.reload()
    page.get_by_role("region", name=re.compile("^Stop")).wait_for()
    # The last reading leads to where the work now stands.
    expect(suggestion).to_contain_text("Stop: decided")
    for policy in ("Nominal size", "Centre", "Support-safe", "Hardest in tolerance"):
        expect(page.get_by_role("radio", name=re.compile(policy))).to_be_visible()
    centre = page.get_by_role("radio", name=re.compile("Centre"))
    centre.click()
    expect(centre).to_be_checked()
    slider = page.get_by_role("slider", name="Chosen exposure")
    chosen = float(slider.get_attribute("aria-valuenow"))
    margins = page.get_by_role("row", name=re.compile("Margin to under")).inner_text()
    # The keys work whether the line or the page has the focus.
    page.get_by_role("heading", level=1).click()
    page.keyboard.press("ArrowRight")
    expect(slider).to_have_attribute("aria-valuenow", f"{chosen + 0.1:g}")
    assert page.get_by_role("row", name=re.compile("Margin to under")).inner_text() != margins
    slider.focus()
    page.keyboard.press("ArrowLeft")
    expect(slider).to_have_attribute("aria-valuenow", f"{chosen:g}")

    page.get_by_role("button", name=re.compile("and confirm$")).click()
    page.get_by_role("button", name="Skip confirmation").click()
    expect(page.get_by_label("Valid from")).to_have_value("21")
    page.get_by_role("button", name=re.compile(r"Issue \d")).click()
    expect(page.get_by_text("Give the reason in a sentence")).to_be_visible()
    page.get_by_label("Why this exposure").fill("Baffles need walls and slots alike.")
    page.get_by_role("button", name=re.compile(r"Issue \d")).click()
    card = page.get_by_role("article", name="Card of S-001")
    expect(card).to_contain_text("Slate 2 on Cormorant")
    expect(card).to_contain_text("Baffles need walls and slots alike.")
    expect(card.get_by_role("row", name=re.compile("^Exposure"))).to_contain_text(f"{chosen:.1f}")
    page.get_by_role("link", name="Board", exact=True).click()
    expect(page.get_by_role("link", name=re.compile("Slate 2 on Cormorant: issued"))).to_be_visible()

    # What the workshop asked for, held against the set, and signed.
    page.get_by_role("link", name="Qualify", exact=True).click()
    page.get_by_role("link", name="Write a brief").first.click()
    form = page.get_by_role("form", name="Write a brief")
    form.get_by_label("Application").fill("Filter baffle")
    line = form.get_by_role("group", name="Requirement 1")
    line.get_by_label("Property").select_option(label="Finest slot that stays open")
    expect(line.get_by_label("At", exact=True)).to_have_value("most")
    line.get_by_label("Limit").fill("0,4")
    form.get_by_role("button", name="One more requirement").click()
    line = form.get_by_role("group", name="Requirement 2")
    line.get_by_label("Property").select_option(label="Finest wall that stands")
    line.get_by_label("Limit").fill("0.4")
    form.get_by_role("button", name="Save the brief").click()
    page.get_by_role("region", name="Filter baffle").get_by_role("link", name="Candidates").click()
    page.get_by_role("columnheader").get_by_role("link", name="Slate 2").click()
    expect(page.get_by_role("region", name="Verdict")).to_contain_text("qualified")
    page.get_by_label("Your initials").fill("IM")
    page.get_by_role("button", name="Sign as qualified").click()
    expect(page.get_by_role("region", name="Signature")).to_contain_text("Signed as qualified")
