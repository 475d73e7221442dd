"""A campaign through all seven stages, in each of the three ways of printing a ladder; and by keyboard alone."""

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.lab import LIMITS

pytestmark = pytest.mark.long

LIGHT = [[0.93, 0.97, 0.93], [0.97, 1.0, 0.97], [0.93, 0.97, 0.93]]
ROOMY = {"plate_x_mm": 230, "plate_y_mm": 130, "several_exposures": True, "suppresses_lift": True, "simulated": True}


def step(page: Page, name: str) -> None:
    page.get_by_role("list", name="Steps").get_by_role("link", name=name, exact=True).click()


def depth(page: Page) -> None:
    step(page, "Depth")
    page.get_by_role("button", name=re.compile("^Plan 4 squares")).click()
    cards = page.get_by_role("list", name="Depth squares").get_by_role("article")
    expect(cards).to_have_count(4)
    for i in range(4):
        cards.nth(i).get_by_role("button", name="Let the simulated reader measure").click()
        cards.nth(i).get_by_role("button", name="Save").click()
        expect(cards.nth(i).get_by_role("button", name=re.compile("^Correct"))).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("penetration depth"))).to_be_visible()


def first_layer(page: Page) -> None:
    step(page, "First layer")
    panel = page.get_by_role("complementary", name="First layer")
    panel.get_by_label("Base exposure").fill("28")
    panel.get_by_role("button", name="3 scraper and steady pressure").click()
    panel.get_by_label("Thickness of the square").fill("0.06")
    # Nothing is lost on a reload.
    page.reload()
    expect(panel.get_by_label("Base exposure")).to_have_value("28")
    panel.get_by_role("button", name="Record the try").click()
    panel.get_by_role("button", name=re.compile("Use 28")).click()
    expect(panel.get_by_text("“Arm 1” uses it.")).to_be_visible()


def depth_and_first_layer(lab, calibration) -> None:
    """The same as :func:`depth` and :func:`first_layer`, without the screen."""
    url = f"/api/calibrations/{calibration['id']}"
    for square in lab.post(f"{url}/depth-squares", {"exposures_s": [3.7, 7.3, 14.7, 29.4]}, 201)["squares"]:
        measured = lab.post(f"/api/depth-squares/{square['id']}/virtual-reading", {})["thicknesses_mm"]
        lab.post(f"/api/depth-squares/{square['id']}/readings", {"thicknesses_mm": measured}, 201)
    lab.post(f"{url}/base-tries", {"base_exposure_s": 28, "rating": 3, "thickness_mm": 0.06}, 201)
    arm = calibration["arms"][0]
    settings = arm["settings"] | {"base_exposure_s": 28}
    lab.put(f"/api/arms/{arm['id']}/settings", {"name": arm["name"], "settings": settings, "version": arm["version"]})


def print_and_read(page: Page, lab, calibration_id: str, count: int) -> None:
    """Everything planned: printed by the simulated printer, read by the simulated reader."""
    tray = page.get_by_role("list", name="Coupons")
    expect(page.get_by_text(f"{count} coupon{'s' if count > 1 else ''} to print")).to_be_visible()
    if page.get_by_role("button", name=re.compile("^Print all")).count():
        page.get_by_role("button", name=re.compile("^Print all")).click()
    else:
        tray.get_by_role("button", name=re.compile("on the simulated printer")).first.click()
    page.get_by_role("dialog").get_by_role("button", name="Print", exact=True).click()
    reads = tray.get_by_role("link", name="Read", exact=True)
    expect(reads).to_have_count(count, timeout=60_000)
    reads.first.click()
    heading = page.get_by_role("heading", name=re.compile(r"Coupon \d+\w"))
    code = heading.inner_text().split()[1].strip(",")
    page.get_by_role("button", name="Let the simulated reader fill it in").click()
    expect(page.get_by_label(re.compile("Slots open|Tips held")).first).not_to_have_value("")
    page.get_by_role("button", name="Save the reading").click()
    expect(heading.filter(has_text=code)).to_have_count(0)
    # The first is read on its drawing; the rest by the same reader, so that the test does not take minutes.
    for waiting in lab.get(f"/api/calibrations/{calibration_id}")["arms"][0]["to_read"]:
        lab.read(waiting, lab.post(f"/api/coupons/{waiting}/virtual-reading")["features"])
    page.goto(page.url.split("/coupons")[0].split("/calibrate")[0] + f"/calibrate/{calibration_id}")


def led_to_an_offer(page: Page, lab, calibration_id: str) -> None:
    """Plan what is suggested until it says to stop: the first one here, the others as a colleague at another screen."""
    step(page, "Refine")
    said = page.get_by_role("region", name=re.compile("^(Next coupon|Print again|Stop)"))
    said.get_by_role("button", name=re.compile("^Plan")).click()
    expect(page.get_by_text(re.compile(r"^\d coupons? to print"))).to_be_visible()
    for _ in range(14):
        arm = lab.get(f"/api/calibrations/{calibration_id}")["arms"][0]
        suggested = arm["next"]
        if not arm["to_print"]:
            if not suggested["exposures_s"]:
                break
            plan = {"kind": suggested["advice"]["kind"], "exposures_s": suggested["exposures_s"]}
            lab.post(f"/api/arms/{arm['id']}/plan", plan | {"is_repeat": suggested["is_repeat"]}, 201)
            arm = lab.get(f"/api/calibrations/{calibration_id}")["arms"][0]
        for code in arm["to_print"]:
            print_id = lab.get(f"/api/coupons/{code}")["print_id"]
            lab.ended(lab.post("/api/virtual-prints", {"print_id": print_id, "temp_c": 23, "speed": 1_000_000}, 201))
            lab.read(code, lab.post(f"/api/coupons/{code}/virtual-reading")["features"])
    page.reload()
    expect(page.get_by_role("region", name="Stop: decided")).to_be_visible()
    page.get_by_role("button", name="Choose an exposure").click()


def decide_confirm_issue(page: Page) -> None:
    centre = page.get_by_role("radio", name=re.compile("Centre"))
    centre.click()
    expect(centre).to_be_checked()
    chosen = page.get_by_role("slider", name="Chosen exposure").get_attribute("aria-valuenow")
    step(page, "Confirm")
    for place in ("centre", "worst place"):
        form = page.get_by_role("form", name="Confirm an exposure")
        expect(form.get_by_label("Where on the plate")).to_have_value(place)
        form.get_by_label("Note").fill("held")
        page.reload()
        expect(form.get_by_label("Note")).to_have_value("held")
        form.get_by_label("nothing: it passed").check()
        form.get_by_role("button", name="Record that it passed").click()
    expect(page.get_by_text("at the centre and at the worst place")).to_be_visible()
    step(page, "Issue")
    page.get_by_label("Why this exposure").fill("Funnels need walls and slots alike.")
    page.get_by_role("button", name=re.compile(r"Issue \d")).click()
    card = page.get_by_role("article", name="Card of S-001")
    expect(card.get_by_role("row", name=re.compile("^Exposure"))).to_contain_text(f"{float(chosen):.1f}")
    expect(card.get_by_role("row", name=re.compile("^Confirmed"))).to_contain_text("centre and worst place")
    expect(card.get_by_role("row", name=re.compile("^Base exposure"))).to_contain_text("28")
    expect(card.get_by_role("link", name="depth squares")).to_be_visible()


def print_in_no_time(page: Page, url: str) -> None:
    """The virtual printer's speed is kept by the browser."""
    page.goto(url)
    page.evaluate("localStorage.setItem('setback.virtual-speed', '1000000')")


@pytest.mark.parametrize("way", ["separate", "plate", "strip"])
def test_a_campaign_through_all_seven_stages(empty, as_im: Page, way: str):
    page, lab = as_im, empty.lab
    print_in_no_time(page, empty.url)
    calibration = lab.calibration(lab.shelf(**ROOMY))
    lab.post(
        f"/api/printers/{calibration['printer_id']}/plate-maps", {"readings": LIGHT, "reference_cell": [1, 1]}, 201
    )
    page.goto(f"{empty.url}/calibrate/{calibration['id']}")
    # The first two stages and the last three are the same in every way of printing: they are walked once.
    if way == "separate":
        depth(page)
        first_layer(page)
    else:
        depth_and_first_layer(lab, calibration)
        page.reload()
    step(page, "Range")
    if way == "strip":
        page.get_by_label("Dose strip, lift suppressed").check()
        page.get_by_role("button", name=re.compile(r"Plan 7 areas")).click()
        print_and_read(page, lab, calibration["id"], 7)
        warned = page.get_by_role("alert").filter(has_text="lift suppressed")
        expect(warned).to_be_visible()
        page.get_by_role("button", name="The lift is back on").click()
        expect(warned).to_have_count(0)
        source = page.get_by_role("radio", name=re.compile(r"Dose strip \d"))
    else:
        source = page.get_by_role("radio", name=re.compile("Working curve"))
    source.click()
    expect(source).to_be_checked()
    if way == "plate":
        page.get_by_label("Several exposures on one plate").check()
        expect(page.get_by_role("img", name=re.compile("Plate with"))).to_be_visible()
    # The range of the source is taken over before the ladder is planned from it.
    low = re.search(
        r"([\d.]+)–",
        page.locator("label")
        .filter(has_text=re.compile("Dose strip|Working curve"))
        .filter(has_text="–")
        .first.inner_text(),
    )
    expect(page.get_by_label("Lowest")).to_have_value(re.compile(f"^{float(low.group(1)):g}$"))
    page.get_by_role("textbox", name="Coupons", exact=True).fill("5")
    planned = 10 if way == "plate" else 5
    page.get_by_role("button", name=re.compile(rf"Plan {planned} coupons")).click()
    print_and_read(page, lab, calibration["id"], planned)
    led_to_an_offer(page, lab, calibration["id"])
    if way == "separate":
        decide_confirm_issue(page)


def tab_to(page: Page, wanted: Locator, most: int = 120) -> None:
    """Press Tab until the control has the focus: a person without a pointer does nothing else."""
    for _ in range(most):
        if wanted.evaluate("element => element === document.activeElement"):
            return
        page.keyboard.press("Tab")
    raise AssertionError("not reached by keyboard")


def press(page: Page, wanted: Locator) -> None:
    expect(wanted).to_be_visible()
    tab_to(page, wanted)
    page.keyboard.press("Enter")


def test_by_keyboard_alone(empty, as_im: Page):
    page, lab = as_im, empty.lab
    print_in_no_time(page, empty.url)
    lab.calibration(lab.shelf(simulated=True), limits={**LIMITS, "tips_size_mm": None})
    page.goto(empty.url)
    expect(page.get_by_role("heading", name="What can I print with?")).to_be_visible()
    press(page, page.get_by_role("link", name=re.compile("Slate 2 on Cormorant")))
    expect(page.get_by_role("heading", name="Slate 2 on Cormorant")).to_be_visible()
    plan = page.get_by_role("button", name=re.compile(r"Plan 5 coupons ·"))
    press(page, plan)
    tray = page.get_by_role("list", name="Coupons")
    expect(tray.get_by_role("article")).to_have_count(5)
    press(page, page.get_by_role("button", name="Print all 5"))
    expect(page.get_by_role("dialog").get_by_label("Resin temperature")).to_be_focused()
    page.keyboard.press("Enter")
    expect(tray.get_by_role("link", name="Read", exact=True)).to_have_count(5, timeout=60_000)
    page.keyboard.press("r")
    for _ in range(5):
        heading = page.get_by_role("heading", name=re.compile(r"Coupon \d+\w"))
        code = heading.inner_text().split()[1].strip(",")
        press(page, page.get_by_role("button", name="Let the simulated reader fill it in"))
        expect(page.get_by_label("Walls standing, left")).not_to_have_value("")
        page.keyboard.press("Control+Enter")
        expect(heading.filter(has_text=code)).to_have_count(0)
    press(page, page.get_by_role("list", name="Steps").get_by_role("link", name="Decide"))
    slider = page.get_by_role("slider", name="Chosen exposure")
    before = float(slider.get_attribute("aria-valuenow"))
    page.keyboard.press("ArrowRight")
    expect(slider).to_have_attribute("aria-valuenow", f"{before + 0.1:g}")
    press(page, page.get_by_role("button", name=re.compile("and confirm$")))
    press(page, page.get_by_role("button", name="Skip confirmation"))
    tab_to(page, page.get_by_label("Why this exposure"))
    page.keyboard.type("Baffles need walls and slots alike.")
    press(page, page.get_by_role("button", name=re.compile(r"^Issue \d")))
    expect(page.get_by_role("article", name="Card of S-001")).to_contain_text(f"{before + 0.1:.1f}")
