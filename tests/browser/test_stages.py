"""Depth, first layer, arms side by side, timers and the plate, as a person does them."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import calibration_id

pytestmark = pytest.mark.long


def test_depth_from_squares_to_a_first_exposure(empty, as_im: Page):
    page, lab = as_im, empty.lab
    calibration = lab.calibration()
    page.goto(f"{empty.url}/calibrate/{calibration['id']}?step=depth")
    expect(page.get_by_role("heading", name="How deep does light cure?")).to_be_visible()
    times = page.get_by_label("Times")
    times.fill("3 6.03 12")
    page.get_by_role("button", name="Plan 3 squares").click()
    expect(page.get_by_text("6 s is the nearest")).to_be_visible()
    times.fill("3 6 12")
    page.get_by_role("button", name="Plan 3 squares").click()
    cards = page.get_by_role("list", name="Depth squares").get_by_role("article")
    expect(cards).to_have_count(3)
    first = cards.nth(0)
    first.get_by_label(re.compile("^Thickness of")).fill("0,15 160")
    first.get_by_role("button", name="Save").click()
    expect(first.get_by_text("Was 160 µm (0.16 mm) meant?")).to_be_visible()
    first.get_by_role("button", name="Take 0.16 mm").click()
    first.get_by_role("button", name="Save").click()
    expect(first.get_by_text("0.155 mm")).to_be_visible()
    expect(page.get_by_text("Two different times are needed")).to_be_visible()
    for card, text in ((cards.nth(1), "0.24 0.25"), (cards.nth(2), "0.33")):
        card.get_by_label(re.compile("^Thickness of")).fill(text)
        card.get_by_role("button", name="Save").click()
        expect(card.get_by_role("button", name=re.compile("^Correct"))).to_be_visible()
    # What the chart and the panel say is what the calculator said.
    curve = lab.get(f"/api/calibrations/{calibration['id']}/depth")["curve"]
    dp = f"{1000 * curve['penetration_depth_mm']:.0f}"
    expect(page.get_by_role("complementary", name="Depth")).to_contain_text(dp)
    expect(page.get_by_role("img", name=re.compile(f"penetration depth {dp}"))).to_be_visible()
    own = curve["layer_exposures"][0]
    expect(page.get_by_role("row", name=re.compile("^50"))).to_contain_text(f"~{own['exposure_s']:.1f}")
    page.reload()
    expect(cards.nth(2).get_by_text("0.330 mm")).to_be_visible()
    cards.nth(2).get_by_role("button", name=re.compile("^Remove ")).click()
    expect(cards).to_have_count(2)
    page.get_by_role("button", name="Undo").click()
    expect(cards).to_have_count(3)


def test_the_first_layer_is_found_by_its_grip(empty, as_im: Page):
    page, lab = as_im, empty.lab
    calibration = lab.calibration()
    page.goto(f"{empty.url}/calibrate/{calibration['id']}?step=first-layer")
    panel = page.get_by_role("complementary", name="First layer")
    expect(panel.get_by_role("heading", name="First try")).to_be_visible()
    panel.get_by_role("button", name="1 lifted at an edge").click()
    panel.get_by_role("button", name="Record the try").click()
    expect(panel.get_by_text("a rating without its thickness does not tell the Z offset")).to_be_visible()
    panel.get_by_label("Thickness of the square").fill("60 µm")
    panel.get_by_role("button", name="Record the try").click()
    expect(panel.get_by_role("heading", name="Check before more light")).to_be_visible()
    for check in ("level", "zero", "resin", "bubbles"):
        panel.get_by_label(check, exact=True).check()
    panel.get_by_role("button", name="2 slides off under a glove").click()
    panel.get_by_label("Thickness of the square").fill("0.06")
    panel.get_by_role("button", name="Record the try").click()
    expect(panel.get_by_role("heading", name="More base exposure")).to_be_visible()
    panel.get_by_role("button", name="3 scraper and steady pressure").click()
    panel.get_by_label("Thickness of the square").fill("0.06")
    panel.get_by_role("button", name="Record the try").click()
    expect(panel.get_by_role("heading", name="The first layer is found")).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("Grip of 3 tries"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^Withdraw")).last.click()
    expect(panel.get_by_role("heading", name="More base exposure")).to_be_visible()
    page.get_by_role("button", name="Undo").last.click()
    expect(panel.get_by_role("heading", name="The first layer is found")).to_be_visible()


def test_arms_stand_side_by_side(empty, as_im: Page):
    page, lab = as_im, empty.lab
    calibration = lab.decided()
    settings = {"rest_before_s": 4}
    lab.post(f"/api/calibrations/{calibration['id']}/arms", {"name": "rest 4 s", "settings": settings}, 201)
    page.goto(f"{empty.url}/calibrate/{calibration['id']}")
    region = page.get_by_role("region", name="Compare arms")
    expect(region).to_contain_text("Two arms with readings can be compared.")
    lab.series(lab.again(calibration), [1.8, 2.4, 3.2], arm=1)
    page.reload()
    expect(region.get_by_role("row", name=re.compile("rest 4 s"))).to_contain_text("rest before exposure")
    shift = lab.get(f"/api/calibrations/{calibration['id']}/arms")["result"]["shifts"][0]
    expect(region).to_contain_text(shift["message"])
    expect(region.get_by_role("img", name=re.compile("Arm 1: window"))).to_be_visible()


def test_timers_run_in_the_top_bar_of_every_screen(empty, as_im: Page):
    page, lab = as_im, empty.lab
    calibration = lab.calibration()
    (code,) = lab.plan(calibration, [2.4])
    lab.print(code)
    page.goto(f"{empty.url}/coupons/{code}")
    page.get_by_role("button", name="Start a timer: Dirty bath").click()
    page.get_by_role("button", name="Start a timer: Cure").click()
    toggle = page.get_by_role("button", name=re.compile("^Timers"))
    expect(toggle).to_have_accessible_name(re.compile(f"Dirty bath {code} in .*, 2 run"))
    page.goto(f"{empty.url}/board")
    expect(toggle).to_have_accessible_name(re.compile("2 run"))
    toggle.click()
    page.get_by_role("button", name=f"Take Dirty bath {code} off").click()
    expect(page.get_by_role("group", name=f"Dirty bath {code}")).to_have_count(0)
    expect(page.get_by_role("group", name=f"Cure {code}")).to_be_visible()
    page.get_by_role("button", name="New timer…").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Start").click()
    expect(dialog.get_by_text("Give it a name")).to_be_visible()
    dialog.get_by_label("What for").fill("Stir the vat")
    dialog.get_by_label("How long").fill("1 s")
    dialog.get_by_role("button", name="Start").click()
    expect(dialog).to_have_count(0)
    expect(page).to_have_title("Due: Stir the vat", timeout=8000)
    toggle.click()
    page.get_by_role("button", name="Take Stir the vat off").click()
    expect(page).to_have_title(re.compile("Setback"))


def test_a_plate_is_measured_and_judged(demo, as_im: Page):
    page = as_im
    page.goto(f"{demo.url}/shelf/printers")
    page.get_by_role("link", name="Plate of Gannet").click()
    expect(page.get_by_text("Scratch in the film")).to_be_visible()
    page.get_by_label("Readings, a row of the plate per line").fill("1 1 1\n1 1.1")
    page.get_by_role("button", name="Save the map").click()
    expect(page.get_by_text("Every row of the grid needs as many readings")).to_be_visible()
    page.get_by_label("Readings, a row of the plate per line").fill("0,9 1 0.95\n1 1.1 1\n0.85 1 0.9")
    page.get_by_label("Coupons’ row").fill("2")
    page.get_by_label("Coupons’ column").fill("2")
    page.get_by_role("button", name="Save the map").click()
    expect(page.get_by_text("Darkest to brightest")).to_be_visible()
    page.get_by_label("Exposure", exact=True).fill("2.4")
    page.get_by_label("Window from").fill("2.2")
    page.get_by_label("to", exact=True).fill("2.7")
    expect(page.get_by_text("of the plate at 2.4 s")).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("3 by 3 readings"))).to_contain_text("too little")
    form = page.get_by_role("form", name="Add a mark")
    form.get_by_label("X from the corner").fill("500")
    form.get_by_label("Y from the corner").fill("10")
    form.get_by_label("What it is").fill("dead pixel")
    form.get_by_role("button", name="Add the mark").click()
    expect(form.get_by_text("outside the plate")).to_be_visible()
    form.get_by_label("X from the corner").fill("50")
    form.get_by_role("button", name="Add the mark").click()
    expect(page.get_by_text("dead pixel")).to_be_visible()


def test_stages_of_the_demo_show_their_evidence(demo, as_im: Page):
    page = as_im
    clear = calibration_id(demo, "C-006")
    page.goto(f"{demo.url}/calibrate/{clear}?step=depth")
    expect(page.get_by_text("undersides and holes bloom in Z")).to_be_visible()
    page.get_by_role("link", name="First layer").click()
    expect(page.get_by_role("heading", name="The first layer is found")).to_be_visible()
    page.go_back()
    expect(page.get_by_text("undersides and holes bloom in Z")).to_be_visible()
